// SPDX-License-Identifier: Apache-2.0
/// `snare merge`: a driver for three-way merges of version control.
#include "io/merge.h"

#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <filesystem>
#include <iostream>

namespace snare::cli {

namespace {

/// What cannot be read of a merged scene, take or kit.
io::Problems faultsOf(const std::string& text, const std::filesystem::path& file)
{
    if (text.find("\"fresh-snare-take\"") != std::string::npos) {
        const auto take = io::readTake(text, file.string());
        return take ? io::Problems{} : take.error();
    }
    if (text.find("\"fresh-snare-kit\"") != std::string::npos) {
        const auto kit = io::readKit(text, file.string());
        return kit ? io::Problems{} : kit.error();
    }
    const auto scene = io::readScene(text, file.string(), io::kitsIn(file.parent_path()));
    return scene ? io::Problems{} : scene.error();
}

} // namespace

int mergeFiles(const MergeWords& words)
{
    std::vector<std::string> texts;
    for (const std::string& file : {words.base, words.ours, words.theirs}) {
        auto text = io::loadText(file);
        if (!text)
            return tellProblems({text.error()}), badInput;
        texts.push_back(std::move(*text));
    }
    const auto merged = io::merge(texts[0], texts[1], texts[2]);
    if (!merged)
        return tellProblems({merged.error()}), badInput;
    if (!writeOut(words.out.empty() ? words.ours : words.out, merged->text))
        return badInput;
    for (const std::string& conflict : merged->conflicts)
        std::cerr << (words.name.empty() ? words.ours : words.name) << ": both changed " << conflict << '\n';
    const io::Problems faults = faultsOf(merged->text, words.ours);
    tellProblems(faults);
    return merged->conflicts.empty() && faults.empty() ? fine : checkFailed;
}

} // namespace snare::cli
