// SPDX-License-Identifier: Apache-2.0
/// `snare test`: runs takes and judges what they expect (E1 to E6).
#include "check/takes.h"
#include "cli/output.h"
#include "cli/verbs.h"

#include <fmt/format.h>

#include <iostream>

namespace snare::cli {

int testTakes(const TestWords& words)
{
    std::vector<std::filesystem::path> paths{words.paths.begin(), words.paths.end()};
    const std::vector<std::filesystem::path> files = check::takesIn(paths);
    if (files.empty()) {
        std::cerr << "there are no takes (NAME.take.json) in " << fmt::format("{}", fmt::join(words.paths, ", "))
                  << '\n';
        return badInput;
    }
    const std::vector<check::TakeResult> results = check::runTakes(files, words.jobs);
    bool unread = false;
    std::size_t failed = 0;
    std::size_t expectations = 0;
    for (const check::TakeResult& result : results) {
        for (const std::string& failure : check::failuresOf(result))
            std::cerr << failure << '\n';
        unread = unread || !result.problem.empty();
        failed += result.passed() ? 0 : 1;
        expectations += result.take.expect.size();
    }
    if (!words.junit.empty() && !writeOut(words.junit, check::junitOf(results)))
        return badInput;
    if (words.junit != "-")
        std::cout << fmt::format("{} takes with {} expectations: {} passed, {} failed\n", results.size(), expectations,
                                 results.size() - failed, failed)
                  << std::flush;
    return unread ? badInput : failed > 0 ? checkFailed : fine;
}

} // namespace snare::cli
