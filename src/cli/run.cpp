// SPDX-License-Identifier: Apache-2.0
#include "cli/verbs.h"

#include "io/document.h"
#include "io/log.h"
#include "rules/clock.h"
#include "sim/recorder.h"

#include <cstdio>
#include <iostream>

namespace snare::cli {

namespace {

int tell(const io::Problems& problems)
{
    for (const io::Problem& problem : problems)
        std::cerr << problem.message() << '\n';
    return badInput;
}

/// Writes to the file, or to standard output without a name and for `-`.
bool write(const std::string& file, const std::string& text)
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

} // namespace

int runScene(const RunWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tell(scene.error());
    scene::Take take;
    if (!words.take.empty()) {
        auto loaded = io::loadTake(words.take);
        if (!loaded)
            return tell(loaded.error());
        take = std::move(*loaded);
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);

    const double seconds = words.seconds.value_or(scene::lengthOf(take));
    sim::Recorder recorder{shared, words.stays, words.seed ? words.seed : take.seed};
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
    if (!write(words.log, io::logText(recorder.record(), words.because)))
        return badInput;
    if (!words.final.empty() && !write(words.final, io::finalText(recorder.run())))
        return badInput;
    if (recorder.stopped()) {
        std::cerr << words.scene << ": " << recorder.run().stopReason() << '\n';
        return stopped;
    }
    return fine;
}

} // namespace snare::cli
