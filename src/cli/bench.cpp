// SPDX-License-Identifier: Apache-2.0
#include "cli/verbs.h"

#include "io/document.h"
#include "io/log.h"
#include "io/shipped.h"
#include "sim/recorder.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <filesystem>
#include <iostream>
#include <unistd.h>

namespace snare::cli {

namespace {

/// Figures that need more than this program: a display library, or Boost and a counting allocator.
int measureElsewhere(const std::string& name)
{
    std::error_code error;
    const std::filesystem::path here = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    const std::string wanted = name == "detect" || name == "rules" ? "snare-bench" : "fresh-snare-bench";
    for (const std::filesystem::path& program : {here / wanted, here / "app" / wanted})
        if (std::filesystem::exists(program, error)) {
            const std::string path = program.string();
            ::execl(path.c_str(), path.c_str(), name.c_str(), static_cast<char*>(nullptr));
        }
    std::cerr << wanted << " is not built\n";
    return badInput;
}

} // namespace

int measure(const BenchWords& words)
{
    constexpr std::array elsewhere{"detect", "rules", "paint", "edit", "scrub", "block", "flow"};
    if (std::ranges::find(elsewhere, words.name) != elsewhere.end())
        return measureElsewhere(words.name);
    if (words.name == "motion")
        return measureMotion();
    if (words.name == "storms")
        return measureStorms();
    if (words.name == "findings")
        return measureFindings();
    if (words.name == "resume")
        return measureResume();
    const auto given = [](const std::string& file, std::string_view shipped) {
        return file.empty() ? io::shippedFile(shipped) : std::filesystem::path{file};
    };
    const auto scene = io::loadScene(given(words.scene, "demo/weigh-in.snare.json"));
    const auto take = io::loadTake(given(words.take, "demo/weigh-in.take.json"));
    if (!scene || !take) {
        const io::Problem& problem = scene ? take.error().front() : scene.error().front();
        std::cerr << problem.message() << '\n';
        return badInput;
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    using Clock = std::chrono::steady_clock;
    double best = 1e300;
    double simulated = 0;
    std::string log;
    bool same = true;
    for (int i = 0; i < 9; ++i) {
        const auto start = Clock::now();
        const sim::Record record = sim::rerun(shared, *take);
        best = std::min(best, std::chrono::duration<double>(Clock::now() - start).count());
        simulated = record.seconds();
        const std::string text = io::logText(record);
        same = same && (log.empty() || log == text);
        log = text;
    }
    fmt::print(
        "rerun: {:.1f} s of play in {:.3f} ms: {:.0f} times faster than real time; {} log bytes, {} between 9 runs\n",
        simulated, best * 1e3, simulated / best, log.size(), same ? "identical" : "DIFFERENT");
    return same ? fine : checkFailed;
}

} // namespace snare::cli
