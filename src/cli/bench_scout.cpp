// SPDX-License-Identifier: Apache-2.0
/// `snare bench scout`: how much faster than a person the bench plays, and what threads give.
#include "check/scout.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/shipped.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>

namespace snare::cli {

int measureScout()
{
    for (const char* name : {"weigh-in", "wet-mud", "eel-watch"}) {
        const auto read = io::loadScene(io::shippedFile(fmt::format("demo/{}.snare.json", name)));
        if (!read)
            return tellProblems(read.error()), badInput;
        const auto scene = std::make_shared<const scene::Scene>(*read);
        check::ScoutOptions options;
        options.plays = 300;
        check::Scouted found;
        const auto seconds = [&](unsigned jobs) {
            options.jobs = jobs;
            const auto begin = std::chrono::steady_clock::now();
            found = check::scout(scene, options);
            return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
        };
        const double alone = seconds(1);
        const double together = seconds(0);
        const auto sprung = std::ranges::count_if(found.snares, [](const auto& one) { return one.take.has_value(); });
        fmt::print("scout: {}, {} plays, {:.0f} s of play, {} of {} snares sprang\n", name, found.plays, found.played,
                   sprung, found.snares.size());
        fmt::print("  {:.0f} times as fast as a person, takes made short; on all cores {:.2f} times that\n",
                   found.played / alone, alone / together);
    }
    return fine;
}

} // namespace snare::cli
