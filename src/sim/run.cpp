// SPDX-License-Identifier: Apache-2.0
#include "sim/run.h"

#include <fmt/format.h>

namespace snare::sim {

Run::Run(std::shared_ptr<const scene::Scene> scene, std::optional<std::uint32_t> seed)
    : scene_(std::move(scene)), world_(*scene_), engine_(scene_, seed.value_or(scene_->seed))
{
}

void Run::goOnWith(std::shared_ptr<const scene::Scene> scene)
{
    if (scene == scene_)
        return;
    before_.push_back(std::exchange(scene_, std::move(scene)));
    engine_.rebind(scene_);
    world_.rebind(*scene_);
}

void Run::start(rules::Journal& journal)
{
    tick_ = 0;
    journal.tick = 0;
    engine_.beginTick(0);
    engine_.noteIgnored(journal);
    begin(journal);
}

void Run::tick(std::span<const scene::Input> inputs, rules::Journal& journal)
{
    if (!stopReason().empty())
        return;
    ++tick_;
    journal.tick = static_cast<std::int32_t>(tick_);
    engine_.beginTick(tick_);
    world_.beginPointer();
    places_.clear();
    if (tracks_)
        tracks_->placesAt(tick_, scene_->rate, places_);
    for (const scene::Input& input : inputs) { // K1 (1)
        engine_.queueInput(input);
        if (const auto* place = input.as<scene::TrackPlace>();
            place && !(tracks_ && tracks_->leads(place->piece, tick_, scene_->rate)))
            places_.push_back({place->piece, place->at, place->turn, {}, 0, false});
    }
    leadDriven(journal);
    engine_.queueInputsEnd();
    engine_.queueHeldKeys(journal.withStays);
    engine_.queueClocks(world_);
    deliver(journal);
    movement_.advance(world_, engine_.keysDown(), 1.0 / scene_->rate, arrivals_); // (2)
    world_.keepPointer();
    engine_.findStrays(world_);
    deliverMeetings(journal); // (3), (4)
}

/// K9; again after a restart (T5), which may come from the start itself.
void Run::begin(rules::Journal& journal)
{
    for (int restarts = 0; restarts <= rules::mostRestartsInATick; ++restarts) {
        world::World before;
        if (std::exchange(hasBegun_, true)) {
            before = std::move(world_);
            world_ = world::World::restarted(*scene_, before);
        }
        world_.dateAll(tick_);
        leadDriven(journal);
        detection_.forget();
        movement_.forget();
        arrivals_.clear();
        noteReturned(before, journal);
        if (isCancelled())
            return;
        engine_.reset(tick_, world_);
        engine_.queueStart(world_);
        engine_.deliverAll(parts(journal));
        if (engine_.restartAsked())
            continue;
        queueMeetings(true, false);
        engine_.deliverAll(parts(journal));
        if (engine_.restartAsked())
            continue;
        engine_.queueLaterInputs();
        engine_.deliverAll(parts(journal));
        if (!engine_.restartAsked())
            return;
    }
    engine_.stop(fmt::format("the snare {} restarts the scene whenever it starts", engine_.restartedBy()));
}

/// Tells the world where driven pieces go in this tick (V10).
void Run::leadDriven(rules::Journal& journal)
{
    world_.endLeads();
    for (const Tracks::Place& place : places_) {
        const world::PieceIndex piece = world_.find(place.piece);
        if (piece == world::nobody)
            continue;
        if (!world_.piece(piece).driven) {
            if (place.isFirst)
                journal.add(rules::LineKind::note).text =
                    journal.texts.keep(fmt::format("{} is not driven and cannot be led", place.piece));
            continue;
        }
        std::optional<double> turn = place.turn;
        if (place.turnTo)
            turn = std::lerp(turn.value_or(world_.piece(piece).home.turn), *place.turnTo, place.part);
        world_.lead(piece, place.at, turn);
    }
}

/// Values and phases that a restart puts back are changes like any other.
void Run::noteReturned(const world::World& before, rules::Journal& journal) const
{
    const auto note = [&](world::PieceIndex owner, const auto& was, const auto& is) {
        for (const auto& [name, value] : was.entries())
            if (!is.find(name))
                journal.addValue(owner, name, nullptr);
        for (const auto& [name, value] : is.entries())
            if (const scene::Scalar* old = was.find(name); !old || *old != value)
                journal.addValue(owner, name, &value);
    };
    if (before.pieces().empty())
        return;
    note(world::theScene, before.variables(), world_.variables());
    for (std::size_t i = 0; i < before.dials().size(); ++i)
        if (const scene::Scalar now{world_.dials()[i]}; before.dials()[i] != world_.dials()[i])
            journal.addValue(world::sourceIndex(i), "value", &now);
    if (before.phase() != world_.phase())
        journal.phases.push_back(
            {journal.tick, world::theScene, world_.phases()[static_cast<std::size_t>(world_.phase())]});
    for (std::size_t i = 0; i < before.pieces().size(); ++i) {
        const auto index = static_cast<world::PieceIndex>(i);
        note(index, before.pieces()[i].properties, world_.pieces()[i].properties);
        const world::LivePiece& now = world_.pieces()[i];
        if (now.phase >= 0 && before.pieces()[i].phase != now.phase)
            journal.phases.push_back({journal.tick, index, now.model->phases[static_cast<std::size_t>(now.phase)].id});
    }
}

void Run::deliver(rules::Journal& journal)
{
    engine_.deliverAll(parts(journal));
    if (engine_.restartAsked())
        begin(journal);
}

/// What pieces meet, and what the pointer meets, in the order of M12.
void Run::queueMeetings(bool atStart, bool withStays)
{
    std::vector<detect::Change> ofPointer = engine_.meetPointer(world_, atStart, withStays);
    const std::vector<detect::Change>& found = detection_.detect(world_, atStart, withStays);
    if (detection_.gaveUp())
        return engine_.stopForCrowd();
    if (!ofPointer.empty()) {
        ofPointer.insert(ofPointer.end(), found.begin(), found.end());
        detect::sortChanges(ofPointer);
    }
    for (const detect::Change& change : ofPointer.empty() ? found : ofPointer) {
        if (isCancelled())
            return;
        engine_.queue(change, world_);
    }
}

void Run::deliverMeetings(rules::Journal& journal)
{
    const bool withStays = journal.withStays || engine_.hearsStays();
    queueMeetings(false, withStays);
    engine_.queueArrivals(arrivals_, world_);
    engine_.queueStrays(world_);
    deliver(journal);
}

} // namespace snare::sim
