// SPDX-License-Identifier: Apache-2.0
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/log.h"
#include "rules/clock.h"
#include "sim/recorder.h"

#include <iostream>

namespace snare::cli {

int runScene(const RunWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tellProblems(scene.error()), badInput;
    scene::Take take;
    if (!words.take.empty()) {
        auto loaded = io::loadTake(words.take);
        if (!loaded)
            return tellProblems(loaded.error()), badInput;
        take = std::move(*loaded);
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);

    const double seconds = words.seconds.value_or(scene::lengthOf(take));
    sim::Recorder recorder{shared, words.stays, words.seed ? words.seed : take.seed};
    recorder.run().lead(sim::Tracks::of(take));
    const auto inputs = sim::inputsByTick(take, shared->rate);
    const std::int64_t last = rules::lastTick(seconds, shared->rate);
    auto next = inputs.begin();
    std::vector<scene::Input> now;
    for (std::int64_t tick = 1; tick <= last && !recorder.stopped(); ++tick) {
        now.clear();
        for (; next != inputs.end() && next->first == tick; ++next)
            now.push_back(next->second);
        recorder.tick(now);
    }
    if (!writeOut(words.log, io::logText(recorder.record(), words.because)))
        return badInput;
    if (!words.final.empty() && !writeOut(words.final, io::finalText(recorder.run())))
        return badInput;
    if (recorder.stopped()) {
        std::cerr << words.scene << ": " << recorder.run().stopReason() << '\n';
        return stopped;
    }
    return fine;
}

} // namespace snare::cli
