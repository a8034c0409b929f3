// SPDX-License-Identifier: Apache-2.0
#include "cli/output.h"

#include "io/document.h"

#include <cstdio>
#include <iostream>

namespace snare::cli {

void tellProblems(const std::vector<io::Problem>& problems)
{
    for (const io::Problem& problem : problems)
        std::cerr << problem.message() << '\n';
}

bool writeOut(const std::string& file, const std::string& text)
{
    if (!file.empty() && !io::isStandardOutput(file)) {
        const auto saved = io::saveText(file, text);
        if (!saved)
            std::cerr << saved.error().message() << '\n';
        return saved.has_value();
    }
    if (std::fwrite(text.data(), 1, text.size(), stdout) == text.size() && std::fflush(stdout) == 0)
        return true;
    std::cerr << "standard output cannot be written\n";
    return false;
}

std::optional<std::vector<scene::Take>> takesOf(const std::vector<std::string>& files)
{
    std::vector<scene::Take> takes;
    for (const std::string& file : files) {
        auto take = io::loadTake(file);
        if (!take) {
            tellProblems(take.error());
            return std::nullopt;
        }
        takes.push_back(std::move(*take));
    }
    if (takes.empty())
        takes.emplace_back();
    return takes;
}

} // namespace snare::cli
