// SPDX-License-Identifier: Apache-2.0
/// `snare scout`: the bench plays a scene by itself.
#include "check/scout_report.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <filesystem>
#include <iostream>

#include <unistd.h>

namespace snare::cli {

namespace {

std::string textOf(const check::Scouted& found, const std::vector<check::ScoutLine>& lines)
{
    std::string text = check::summaryOf(found) + "\n";
    if (found.noHandles)
        text += "nothing in the scene listens to keys, pointer, dials or calls\n";
    std::optional<check::ScoutLine::Of> head;
    for (const check::ScoutLine& line : lines) {
        if (head != line.of)
            text += fmt::format("{}\n", check::headOf(line.of));
        head = line.of;
        text += fmt::format("  {}\n", line.text);
    }
    return text;
}

std::string jsonOf(const check::Scouted& found, const std::vector<check::ScoutLine>& lines)
{
    using Json = nlohmann::ordered_json;
    Json all{{"plays", found.plays}, {"seconds", found.played}, {"states", found.states}};
    Json& snares = all["snares"] = Json::array();
    for (const check::ScoutedSnare& one : found.snares) {
        Json& entry = snares.emplace_back(Json{{"snare", one.snare}, {"plays", one.plays}});
        if (one.take)
            entry["first"] = one.first;
        else
            entry.update({{"caught", one.caught}, {"nearest", one.nearest}});
    }
    Json& rest = all["found"] = Json::array();
    for (const check::ScoutLine& line : lines)
        if (line.of < check::ScoutLine::Of::sprung && line.of != check::ScoutLine::Of::never)
            rest.push_back({{"kind", std::string(check::headOf(line.of))}, {"text", line.text}});
    return all.dump(2) + "\n";
}

/// Writes the takes into a folder. Says on standard error why it cannot; false then.
bool keep(const ScoutWords& words, std::vector<check::ScoutLine> lines)
{
    const std::filesystem::path folder{words.keep};
    std::error_code problem;
    std::filesystem::create_directories(folder, problem); // if it cannot, writing says so
    const std::string scene = std::filesystem::proximate(words.scene, folder, problem).generic_string();
    for (check::ScoutLine& line : lines) {
        if (!line.take)
            continue;
        line.take->take.scene = scene;
        const auto saved = io::saveText(folder / (line.take->name + ".take.json"), io::takeText(line.take->take));
        if (!saved) {
            std::cerr << saved.error().message() << '\n';
            return false;
        }
    }
    return true;
}

} // namespace

int scoutScene(const ScoutWords& words)
{
    const auto loaded = io::loadScene(words.scene);
    if (!loaded)
        return tellProblems(loaded.error()), badInput;
    check::ScoutOptions options;
    options.plays = words.plays;
    options.seconds = words.seconds;
    options.seed = words.seed;
    options.jobs = words.jobs;
    if (!words.takes.empty()) {
        auto takes = takesOf(words.takes);
        if (!takes)
            return badInput;
        options.takes = std::move(*takes);
    }
    const bool isSeen = isatty(STDERR_FILENO) != 0;
    if (isSeen)
        options.progress = [&](const check::ScoutProgress& now) {
            std::cerr << fmt::format("\r{} of {} plays, {} of {} snares sprang", now.plays, words.plays, now.sprung,
                                     now.snares)
                      << std::flush;
        };
    const check::Scouted found = check::scout(std::make_shared<const scene::Scene>(*loaded), options);
    if (isSeen)
        std::cerr << "\r\033[K";
    const std::vector<check::ScoutLine> lines = check::linesOf(found, options.takes);
    if (!writeOut({}, words.json ? jsonOf(found, lines) : textOf(found, lines)))
        return badInput;
    if (!words.keep.empty() && !keep(words, lines))
        return badInput;
    return found.broken.empty() ? fine : checkFailed;
}

} // namespace snare::cli
