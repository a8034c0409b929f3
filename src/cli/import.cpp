// SPDX-License-Identifier: Apache-2.0
/// `snare import`: what other programs made becomes a scene or a take, or part of one.
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/drawing.h"
#include "io/tracks_in.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>

namespace snare::cli {

namespace {

int importTracks(const ImportWords& words)
{
    scene::Take take;
    if (!words.into.empty()) {
        auto loaded = io::loadTake(words.into);
        if (!loaded)
            return tellProblems(loaded.error()), badInput;
        take = std::move(*loaded);
    }
    if (!words.scene.empty())
        take.scene = words.scene;
    for (const std::string& file : words.files) {
        const auto text = io::loadText(file);
        if (!text)
            return tellProblems({text.error()}), badInput;
        const std::string piece = words.piece.empty() ? std::filesystem::path(file).stem().string() : words.piece;
        const auto table = io::tracksFrom(*text, file, {piece, words.metres, words.seconds});
        if (!table)
            return tellProblems({table.error()}), badInput;
        for (const std::string& note : table->notes)
            std::cerr << file << ": " << note << '\n';
        for (const io::Track& track : table->tracks)
            std::cerr << fmt::format("{}: {}: {} places up to {:.6g} s\n", file, track.piece, track.places.size(),
                                     track.places.back().t);
        take = io::withTracks(std::move(take), *table);
    }
    return writeOut(words.out, io::takeText(take)) ? fine : badInput;
}

} // namespace

int importFiles(const ImportWords& words)
{
    if (words.format == "csv")
        return importTracks(words);
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
