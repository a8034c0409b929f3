// SPDX-License-Identifier: Apache-2.0
/// `snare diff` and `snare vary`: what an edit changes, and how sure a take is.
#include "check/vary.h"
#include "check/versions.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "sim/recorder.h"
#include "words/expectations.h"
#include "words/text.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>

namespace snare::cli {

int diffScenes(const DiffWords& words)
{
    std::vector<std::shared_ptr<const scene::Scene>> scenes;
    for (const std::string& file : {words.scene, words.other}) {
        const auto loaded = io::loadScene(file);
        if (!loaded)
            return tellProblems(loaded.error()), badInput;
        scenes.push_back(std::make_shared<const scene::Scene>(*loaded));
    }
    std::string text;
    std::string place;
    for (const check::WordChange& change : check::wordsThatDiffer(*scenes[0], *scenes[1])) {
        if (change.place != place && !change.place.empty())
            text += change.place + "\n";
        place = change.place;
        text += fmt::format("{}{} {}\n", place.empty() ? "" : "  ", change.added ? "+" : "-", change.text);
    }
    const auto takes = takesOf(words.takes);
    if (!takes)
        return badInput;
    bool differs = false;
    for (std::size_t i = 0; i < takes->size(); ++i) {
        const sim::Record before = sim::rerun(scenes[0], (*takes)[i]);
        const sim::Record after = sim::rerun(scenes[1], (*takes)[i]);
        const check::Differences differences = check::compare(before, after);
        differs = differs || !differences.none();
        text += fmt::format("{}: {}\n", words.takes.empty() ? "10 s without inputs" : words.takes[i],
                            differences.none()
                                ? std::string("the same events")
                                : fmt::format("{} new, {} gone, {} moved", differences.fresh.size(),
                                              differences.gone.size(), differences.moved.size()));
        for (const std::string& line : check::eventsThatDiffer(before, after, differences))
            text += "  " + line + "\n";
    }
    if (!writeOut({}, text))
        return badInput;
    return differs ? checkFailed : fine;
}

int varyTake(const VaryWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tellProblems(scene.error()), badInput;
    const auto take = io::loadTake(words.take);
    if (!take)
        return tellProblems(take.error()), badInput;
    check::VaryOptions options;
    options.runs = words.runs;
    options.within = words.within;
    options.jobs = words.jobs;
    options.seeds = !words.sameSeed;
    const check::Varied varied = check::vary(std::make_shared<const scene::Scene>(*scene), *take, options);
    const auto percent = [&](int count) { return 100.0 * count / varied.runs; };
    std::string text = fmt::format("{} runs, inputs off by {} s at most\n", varied.runs, words::figure(options.within));
    bool failed = false;
    for (std::size_t i = 0; i < varied.expectations.size(); ++i) {
        const check::HowSure& sure = varied.expectations[i];
        text += fmt::format("{:6.1f} %  {}\n", percent(sure.held), words::expectationText(take->expect[i]));
        failed = failed || sure.held < varied.runs;
        if (words.keep.empty() || !sure.against)
            continue;
        const std::filesystem::path file =
            std::filesystem::path{words.keep} / fmt::format("against-{}.take.json", i + 1);
        if (const auto saved = io::saveText(file, io::takeText(*sure.against)); !saved) {
            std::cerr << saved.error().message() << '\n';
            return badInput;
        }
        text += fmt::format("          {} is one in which it does not hold\n", file.string());
    }
    for (const check::HowOften& one : varied.snares)
        text +=
            fmt::format("{:6.1f} %  {} springs{}\n", percent(one.runs), one.snare,
                        one.most == 0 ? std::string()
                        : one.least == one.most
                            ? fmt::format(", {}", words::counted(static_cast<std::size_t>(one.most), "time", "times"))
                            : fmt::format(", {} to {} times", one.least, one.most));
    if (!writeOut({}, text))
        return badInput;
    return failed ? checkFailed : fine;
}

} // namespace snare::cli
