// SPDX-License-Identifier: Apache-2.0
#include "sim/run.h"

#include <fmt/format.h>

namespace snare::sim {

Run::Run(std::shared_ptr<const scene::Scene> scene)
    : scene_(std::move(scene)), world_(world::worldOf(*scene_)), engine_(scene_)
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
    deliverMeetings(journal);                                                   // (3), (4)
}

/// K9; again after a restart (T5), which may come from the start itself.
void Run::begin(rules::Journal& journal)
{
    const world::World before = tick_ > 0 ? std::move(world_) : world::World{};
    for (int restarts = 0; restarts <= rules::mostRestartsInATick; ++restarts) {
        world_ = world::worldOf(*scene_);
        detection_.forget();
        arrivals_.clear();
        noteReturned(before, journal);
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
    engine_.stop(
        fmt::format("tick {}: the snare {} restarts the scene whenever it starts", tick_, engine_.restartedBy()));
}

/// Values that a restart puts back are value changes like any other.
void Run::noteReturned(const world::World& before, rules::Journal& journal) const
{
    const auto note = [&](world::PieceIndex owner, const auto& was, const auto& is) {
        for (const auto& [name, value] : is.entries)
            if (const scene::Scalar* old = was.find(name); old && *old != value)
                journal.values.push_back({journal.tick, owner, name, value});
    };
    note(world::theScene, before.variables, world_.variables);
    for (std::size_t i = 0; i < before.pieces.size(); ++i)
        note(static_cast<world::PieceIndex>(i), before.pieces[i].properties, world_.pieces[i].properties);
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
