// SPDX-License-Identifier: Apache-2.0
#include "sim/recorder.h"

#include "rules/clock.h"

namespace snare::sim {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

PieceState stateOf(const world::World& world, std::size_t index)
{
    const world::LivePiece& piece = world.pieces[index];
    std::uint64_t hidden = 0;
    std::uint64_t disabled = 0;
    const std::size_t shapes = std::min<std::size_t>(piece.shapeCount, 64);
    for (std::size_t i = 0; i < shapes; ++i) {
        const world::LiveShape& shape = world.shapes[piece.firstShape + i];
        hidden |= shape.shown ? 0 : std::uint64_t{1} << i;
        disabled |= shape.enabled ? 0 : std::uint64_t{1} << i;
    }
    return {world.pose[index],
            piece.look,
            piece.layer,
            piece.present,
            piece.shown,
            piece.enabled,
            piece.here,
            piece.phase,
            static_cast<std::int32_t>(piece.dressed),
            piece.asleep,
            piece.carrier != world::nobody ? piece.carrier : piece.standsOn,
            piece.scale,
            hidden,
            disabled};
}

} // namespace

void Frames::append(const world::World& world)
{
    const bool key = count_ % keyEvery == 0;
    last_.resize(world.pieces.size());
    changesFrom_.push_back(changes_.size());
    for (std::size_t i = 0; i < world.pieces.size(); ++i) {
        const PieceState state = stateOf(world, i);
        if (state == last_[i])
            continue;
        last_[i] = state;
        if (!key)
            changes_.push_back({static_cast<std::int32_t>(i), state});
    }
    if (key)
        keys_.push_back(last_);
    ++count_;
}

std::vector<PieceState> Frames::at(std::int64_t tick) const
{
    if (count_ == 0)
        return {};
    tick = std::clamp<std::int64_t>(tick, 0, count_ - 1);
    const auto wanted = static_cast<std::size_t>(tick);
    const std::size_t key = wanted / keyEvery;
    std::vector<PieceState> states = keys_[key];
    const std::size_t first = changesFrom_[key * keyEvery];
    const std::size_t last = wanted + 1 < changesFrom_.size() ? changesFrom_[wanted + 1] : changes_.size();
    for (std::size_t i = first; i < last; ++i) {
        const auto piece = static_cast<std::size_t>(changes_[i].piece);
        if (piece >= states.size())
            states.resize(piece + 1); // spawned since
        states[piece] = changes_[i].state;
    }
    return states;
}

std::vector<geometry::Vec> Frames::pathOf(std::size_t piece, std::int64_t from, std::int64_t to) const
{
    std::vector<geometry::Vec> path;
    const auto add = [&](const geometry::Vec& at) {
        if (path.empty() || path.back() != at)
            path.push_back(at);
    };
    from = std::max<std::int64_t>(from, 0);
    to = std::min(to, count_ - 1);
    if (from > to)
        return path;
    if (const auto start = at(from); piece < start.size())
        add(start[piece].pose.at);
    for (std::int64_t tick = from + 1; tick <= to; ++tick) {
        const auto index = static_cast<std::size_t>(tick);
        if (index % keyEvery == 0 && piece < keys_[index / keyEvery].size())
            add(keys_[index / keyEvery][piece].pose.at);
        const std::size_t last = index + 1 < changesFrom_.size() ? changesFrom_[index + 1] : changes_.size();
        for (std::size_t i = changesFrom_[index]; i < last; ++i)
            if (static_cast<std::size_t>(changes_[i].piece) == piece)
                add(changes_[i].state.pose.at);
    }
    return path;
}

std::span<const Line> Record::linesOf(std::int64_t tick) const
{
    if (tick < 0 || tick >= static_cast<std::int64_t>(linesFrom.size()))
        return {};
    const auto at = static_cast<std::size_t>(tick);
    const std::size_t from = linesFrom[at];
    const std::size_t to = at + 1 < linesFrom.size() ? linesFrom[at + 1] : journal.lines.size();
    return std::span(journal.lines).subspan(from, to - from);
}

std::string_view Record::nameOf(world::PieceIndex piece) const
{
    if (piece == world::theScene)
        return "scene";
    if (world::isPointer(piece))
        return "pointer";
    if (world::isSource(piece))
        return scene->sources[world::sourceNumber(piece)].id;
    return piece < 0 ? std::string_view() : std::string_view(pieces[static_cast<std::size_t>(piece)].id);
}

scene::Named<scene::Scalar> Record::valuesOf(std::int32_t line) const
{
    const auto found = std::ranges::lower_bound(journal.signalValues, line, {}, &rules::SignalValues::line);
    return found == journal.signalValues.end() || found->line != line ? scene::Named<scene::Scalar>{} : found->with;
}

std::string_view Record::shapeNameOf(std::int32_t shape) const
{
    return shape < 0 ? std::string_view() : std::string_view(shapeNames[static_cast<std::size_t>(shape)].name);
}

std::optional<scene::Scalar> valueAt(const Record& record, world::PieceIndex owner, std::string_view name,
                                     std::int64_t tick)
{
    std::optional<scene::Scalar> value;
    if (world::isSource(owner)) {
        if (const auto* dial = std::get_if<scene::DialSource>(&record.scene->sources[world::sourceNumber(owner)].kind))
            value = dial->value;
    } else {
        const auto& start =
            owner < 0 ? record.scene->variables : record.pieces[static_cast<std::size_t>(owner)].model->properties;
        if (const scene::Scalar* given = start.find(name))
            value = *given;
    }
    const auto word = record.journal.texts.known(name);
    if (!word)
        return value; // it never changed
    const auto& values = record.journal.values;
    const auto changes = record.index.changesOf(owner, *word);
    const auto after = std::ranges::upper_bound(changes, tick, {}, [&](std::int32_t change) -> std::int64_t {
        return values[static_cast<std::size_t>(change)].tick;
    });
    return after == changes.begin() ? value : record.journal.valueOf(values[static_cast<std::size_t>(*(after - 1))]);
}

PointerMoment pointerAt(const Record& record, std::int64_t tick)
{
    const auto after = std::ranges::upper_bound(record.pointer, tick, {}, &PointerMoment::tick);
    return after == record.pointer.begin() ? PointerMoment{} : *(after - 1);
}

std::string phaseAt(const Record& record, world::PieceIndex owner, std::int64_t tick)
{
    std::string phase;
    if (owner == world::theScene) {
        if (!record.scene->phases.empty())
            phase = record.scene->phases.front();
    } else if (const auto& phases = record.pieces[static_cast<std::size_t>(owner)].model->phases; !phases.empty()) {
        phase = phases.front().id;
    }
    const auto& all = record.journal.phases;
    const auto changes = record.index.phasesOf(owner);
    const auto after = std::ranges::upper_bound(changes, tick, {}, [&](std::int32_t change) -> std::int64_t {
        return all[static_cast<std::size_t>(change)].tick;
    });
    return after == changes.begin() ? phase : all[static_cast<std::size_t>(*(after - 1))].phase;
}

namespace {

std::uint64_t keyOf(std::int32_t one, std::int32_t other)
{
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(one)) << 32 | static_cast<std::uint32_t>(other);
}

} // namespace

void StandingSoFar::follow(const Line& line, std::int32_t index, const rules::Journal& journal)
{
    if (line.kind == LineKind::response &&
        (line.response == scene::numberOf<scene::Say> || line.response == scene::numberOf<scene::Prompt>)) {
        captions_.add(keyOf(line.self, line.response), index);
        return;
    }
    if (line.kind == LineKind::response && line.response == scene::numberOf<scene::Shake>)
        shake_ = index;
    if (line.kind != LineKind::event)
        return;
    switch (line.event) {
    case EventKind::start:
        inside_.clear();
        captions_.clear();
        shake_ = -1;
        break;
    case EventKind::enter: // whoever is gone by then has not come in, and has no exit (K5, K6)
        if (line.stage != rules::Stage::gone)
            inside_.add(keyOf(line.shape, line.visitor), {line.shape, line.visitor, line.tick, line.part, line.manner});
        break;
    case EventKind::exit:
        inside_.erase(keyOf(line.shape, line.visitor));
        break;
    case EventKind::keyDown:
        keysDown_.push_back(journal.textOf(line));
        break;
    case EventKind::keyUp:
        std::erase(keysDown_, journal.textOf(line));
        break;
    default:
        break;
    }
}

Standing standingAt(const Record& record, std::int64_t tick)
{
    if (tick < 0 || record.standing.empty())
        return {};
    tick = std::min(tick, record.lastTick());
    const std::int64_t key = tick / Frames::keyEvery;
    StandingSoFar standing = record.standing[static_cast<std::size_t>(key)];
    const std::size_t from = static_cast<std::size_t>(key * Frames::keyEvery + 1);
    const std::size_t to = static_cast<std::size_t>(tick + 1);
    if (from >= record.linesFrom.size())
        return standing.now();
    const std::size_t last = to < record.linesFrom.size() ? record.linesFrom[to] : record.journal.lines.size();
    for (std::size_t i = record.linesFrom[from]; i < last; ++i)
        standing.follow(record.journal.lines[i], static_cast<std::int32_t>(i), record.journal);
    return standing.now();
}

std::vector<Insider> insidersAt(const Record& record, std::int64_t tick)
{
    return standingAt(record, tick).inside;
}

namespace {

/// The scene as it runs: with what its kits bring.
std::shared_ptr<const scene::Scene> whole(std::shared_ptr<const scene::Scene> scene)
{
    if (!scene->loaded.list || scene->loaded.list->empty())
        return scene;
    return std::make_shared<const scene::Scene>(scene::withKits(*scene));
}

} // namespace

Recorder::Recorder(std::shared_ptr<const scene::Scene> scene, bool withStays, std::optional<std::uint32_t> seed,
                   const std::atomic<bool>* cancelled)
    : Recorder(withStays, whole(std::move(scene)), seed, cancelled)
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
    for (std::size_t i = record_->pieces.size(); i < world.pieces.size(); ++i)
        record_->pieces.push_back({world.pieces[i].id, world.pieces[i].model, world.pieces[i].born});
    for (std::size_t i = record_->shapeNames.size(); i < world.shapes.size(); ++i)
        record_->shapeNames.push_back(
            {world.shapes[i].piece, std::string(world.shapeName(static_cast<int>(i))), world.shapes[i].number});
    record_->frames.append(run_.world());
    std::vector<scene::Button> buttons = run_.engine().buttonsDown();
    const bool same = record_->pointer.empty()
                          ? !world.pointer.there && buttons.empty()
                          : record_->pointer.back().pointer.at == world.pointer.at &&
                                record_->pointer.back().pointer.glass == world.pointer.glass &&
                                record_->pointer.back().pointer.sweptFrom == world.pointer.sweptFrom &&
                                record_->pointer.back().buttons == buttons;
    if (!same)
        record_->pointer.push_back({run_.tickNumber(), world.pointer, std::move(buttons)});
    for (; followed_ < record_->journal.lines.size(); ++followed_)
        standing_.follow(record_->journal.lines[followed_], static_cast<std::int32_t>(followed_), record_->journal);
    record_->index.follow(record_->journal);
    if (record_->lastTick() % Frames::keyEvery == 0)
        record_->standing.push_back(standing_);
    if (record_->looks.size() != run_.world().looks.size())
        record_->looks = run_.world().looks;
    record_->stopReason = run_.stopReason();
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

Record rerun(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const RerunOptions& options)
{
    const int rate = scene->rate;
    const double seconds = options.seconds.value_or(take.length.value_or(10.0));
    const std::int64_t last = rules::lastTick(seconds, rate);
    const auto inputs = inputsByTick(take, rate);
    Recorder recorder{std::move(scene), options.withStays, take.seed, options.cancelled};
    std::vector<scene::Input> now;
    auto next = inputs.begin();
    for (std::int64_t tick = 1; tick <= last && !recorder.stopped(); ++tick) {
        if (options.cancelled && options.cancelled->load(std::memory_order_relaxed))
            break;
        now.clear();
        for (; next != inputs.end() && next->first == tick; ++next)
            now.push_back(next->second);
        recorder.tick(now);
    }
    Record record = std::move(*recorder.finish()); // nobody else shares it
    record.take = take;
    return record;
}

} // namespace snare::sim
