// SPDX-License-Identifier: Apache-2.0
#include "sim/recorder.h"

#include "rules/clock.h"
#include "scene/assemblies.h"

#include <algorithm>

namespace snare::sim {

std::shared_ptr<const scene::Scene> wholeOf(std::shared_ptr<const scene::Scene> scene)
{
    const bool hasKits = scene->loaded.list && !scene->loaded.list->empty();
    if (!hasKits && scene->assemblies.entries.empty())
        return scene;
    return std::make_shared<const scene::Scene>(scene::withKits(scene::withAssemblies(*scene)));
}

Recorder::Recorder(const Run& run, const StandingSoFar& standing, std::shared_ptr<Record> record,
                   std::shared_ptr<const scene::Scene> whole, const std::atomic<bool>* cancelled)
    : run_(run), standing_(standing), followed_(record->journal.lines.size()), record_(std::move(record))
{
    run_.heed(cancelled);
    run_.goOnWith(whole);
    record_->scene = std::move(whole);
}

Recorder::Recorder(std::shared_ptr<const scene::Scene> scene, bool withStays, std::optional<std::uint32_t> seed,
                   const std::atomic<bool>* cancelled)
    : Recorder(withStays, wholeOf(std::move(scene)), seed, cancelled)
{
}

Recorder::Recorder(bool withStays, std::shared_ptr<const scene::Scene> scene, std::optional<std::uint32_t> seed,
                   const std::atomic<bool>* cancelled)
    : run_(scene, seed), record_(std::make_shared<Record>())
{
    record_->scene = std::move(scene);
    record_->journal.withStays = withStays;
    record_->linesFrom.push_back(0);
    run_.heed(cancelled);
    run_.start(record_->journal);
    note();
}

void Recorder::tick(std::span<const scene::Input> inputs)
{
    if (stopped())
        return;
    record_->take.inputs.insert(record_->take.inputs.end(), inputs.begin(), inputs.end());
    record_->linesFrom.push_back(record_->journal.lines.size());
    run_.tick(inputs, record_->journal);
    note();
}

void Recorder::note()
{
    // What was spawned since.
    const world::World& world = run_.world();
    for (std::size_t i = record_->pieces.size(); i < world.pieces().size(); ++i)
        record_->pieces.push_back({world.pieces()[i].id, world.pieces()[i].model, world.pieces()[i].born});
    for (std::size_t i = record_->shapeNames.size(); i < world.shapes().size(); ++i)
        record_->shapeNames.push_back(
            {world.shapes()[i].piece, std::string(world.shapeName(static_cast<int>(i))), world.shapes()[i].number});
    record_->stopReason = run_.stopReason();
    if (lean_)
        return record_->snapshots.skip();
    record_->snapshots.append(run_.world());
    std::vector<scene::Button> buttons = run_.engine().buttonsDown();
    const bool same = record_->pointer.empty()
                          ? !world.pointer().there && buttons.empty()
                          : record_->pointer.back().pointer.at == world.pointer().at &&
                                record_->pointer.back().pointer.glass == world.pointer().glass &&
                                record_->pointer.back().pointer.sweptFrom == world.pointer().sweptFrom &&
                                record_->pointer.back().buttons == buttons;
    if (!same)
        record_->pointer.push_back({run_.tickNumber(), world.pointer(), std::move(buttons)});
    for (; followed_ < record_->journal.lines.size(); ++followed_)
        standing_.follow(record_->journal.lines[followed_], static_cast<std::int32_t>(followed_), record_->journal);
    record_->index.follow(record_->journal);
    if (record_->lastTick() % Snapshots::keyEvery == 0)
        record_->standing.push_back(standing_);
    if (record_->looks.size() != run_.world().looks().size())
        record_->looks = run_.world().looks();
}

std::vector<std::pair<std::int64_t, scene::Input>> inputsByTick(const scene::Take& take, int rate)
{
    std::vector<std::pair<std::int64_t, scene::Input>> inputs;
    inputs.reserve(take.inputs.size());
    for (const scene::Input& input : take.inputs)
        inputs.emplace_back(rules::tickOfInput(input.t, rate), input);
    std::ranges::stable_sort(inputs, {}, [](const auto& entry) { return entry.first; });
    return inputs;
}

} // namespace snare::sim
