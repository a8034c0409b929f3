// SPDX-License-Identifier: Apache-2.0
/// `snare import`: what other programs made becomes a scene, or part of one.
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/drawing.h"

#include <fmt/format.h>

#include <iostream>

namespace snare::cli {

int importFiles(const ImportWords& words)
{
    scene::Scene scene;
    if (!words.into.empty()) {
        auto loaded = io::loadScene(words.into);
        if (!loaded)
            return tellProblems(loaded.error()), badInput;
        scene = std::move(*loaded);
    }
    for (const std::string& file : words.files) {
        const auto text = io::loadText(file);
        if (!text)
            return tellProblems({text.error()}), badInput;
        auto drawing = io::piecesFrom(*text, file, {words.metres, words.tolerance, words.centred});
        if (!drawing)
            return tellProblems({drawing.error()}), badInput;
        std::vector<std::string> notes = drawing->notes;
        const auto made = io::bringIn(scene, std::move(*drawing), {0, 0}, notes);
        for (const std::string& note : notes)
            std::cerr << file << ": " << note << '\n';
        std::cerr << fmt::format("{}: {} pieces\n", file, made.size());
    }
    return writeOut(words.out, io::sceneText(scene)) ? fine : badInput;
}

} // namespace snare::cli
