// SPDX-License-Identifier: Apache-2.0
#include "sim/run.h"

#include <fmt/format.h>

namespace snare::sim {

Run::Run(std::shared_ptr<const scene::Scene> scene) : scene_(std::move(scene)), world_(world::worldOf(*scene_)), engine_(scene_)
{
}

void Run::start(rules::Journal& journal)
{
    tick_ = 0;
    journal.tick = 0;
    engine_.beginTick(0);
    begin(journal);
}

void Run::tick(std::span<const scene::Input> inputs, rules::Journal& journal)
{
    if (!stopReason().empty())
        return;
    ++tick_;
    journal.tick = static_cast<std::int32_t>(tick_);
    engine_.beginTick(tick_);
    for (const scene::Input& input : inputs) // K1 (1)
        engine_.queueKey(input.key, input.down);
    engine_.queueHeldKeys(journal.withStays);
    engine_.queueClocks();
    deliver(journal);
    motion::advance(world_, engine_.keysDown(), 1.0 / scene_->rate, arrivals_); // (2)
    deliverMeetings(journal);                                                  // (3), (4)
}

/// K9; again after a restart (T5), which may come from the start itself.
void Run::begin(rules::Journal& journal)
{
    for (int restarts = 0; restarts <= rules::mostRestartsInATick; ++restarts) {
        world_ = world::worldOf(*scene_);
        detection_.forget();
        arrivals_.clear();
        engine_.reset(tick_);
        engine_.queue(rules::Event{});
        engine_.deliverAll(hand(journal));
        if (engine_.restartAsked())
            continue;
        for (const detect::Change& change : detection_.detect(world_, true, false))
            engine_.queue(rules::eventOf(change));
        engine_.deliverAll(hand(journal));
        if (!engine_.restartAsked())
            return;
    }
    engine_.stop(fmt::format("tick {}: the snare {} restarts the scene whenever it starts", tick_, engine_.restartedBy()));
}

void Run::deliver(rules::Journal& journal)
{
    engine_.deliverAll(hand(journal));
    if (engine_.restartAsked())
        begin(journal);
}

void Run::deliverMeetings(rules::Journal& journal)
{
    const bool withStays = journal.withStays || engine_.hearsStays();
    for (const detect::Change& change : detection_.detect(world_, false, withStays))
        engine_.queue(rules::eventOf(change));
    engine_.queueArrivals(arrivals_);
    deliver(journal);
}

} // namespace snare::sim
