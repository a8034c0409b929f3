// SPDX-License-Identifier: Apache-2.0
/// `snare cover`: what no take ever used of a scene.
#include "check/coverage.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "sim/recorder.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <iostream>

namespace snare::cli {

namespace {

std::string jsonOf(const check::Coverage& coverage)
{
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (const check::Covered& one : coverage.all())
        list.push_back({{"kind", std::string(check::wordOf(one.of))}, {"name", one.name}, {"times", one.times}});
    return list.dump(2) + "\n";
}

} // namespace

int coverScene(const CoverWords& words)
{
    const auto loaded = io::loadScene(words.scene);
    if (!loaded)
        return tellProblems(loaded.error()), badInput;
    const auto scene = std::make_shared<const scene::Scene>(*loaded);
    const auto takes = takesOf(words.takes);
    if (!takes)
        return badInput;
    std::optional<check::Coverage> coverage;
    for (const scene::Take& take : *takes) {
        const sim::Record record = sim::rerun(scene, take);
        if (!coverage)
            coverage.emplace(record.scene); // with what its kits and assemblies bring
        coverage->add(record);
    }
    const auto [all, sprang] = coverage->countOf(check::Covered::Of::snare);
    const double percent = all == 0 ? 100 : 100.0 * static_cast<double>(sprang) / static_cast<double>(all);
    std::string text;
    if (words.json) {
        text = jsonOf(*coverage);
    } else {
        text = fmt::format("{} of {} snares sprang ({:.0f} %)\n", sprang, all, percent);
        for (const std::string& line : check::neverUsed(*coverage))
            text += line + "\n";
    }
    if (!writeOut({}, text))
        return badInput;
    return words.under && percent < *words.under ? checkFailed : fine;
}

} // namespace snare::cli
