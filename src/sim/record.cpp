// SPDX-License-Identifier: Apache-2.0
#include "sim/record.h"

#include "rules/clock.h"

namespace snare::sim {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

PieceState stateOf(const world::World& world, std::size_t index)
{
    const world::LivePiece& piece = world.pieces()[index];
    std::uint64_t hidden = 0;
    std::uint64_t disabled = 0;
    const std::size_t shapes = std::min<std::size_t>(piece.shapeCount, 64);
    for (std::size_t i = 0; i < shapes; ++i) {
        const world::LiveShape& shape = world.shapes()[piece.firstShape + i];
        hidden |= shape.shown ? 0 : std::uint64_t{1} << i;
        disabled |= shape.enabled ? 0 : std::uint64_t{1} << i;
    }
    return {world.pose()[index],
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
            world.lastMoved(static_cast<world::PieceIndex>(index)),
            piece.scale,
            hidden,
            disabled};
}

} // namespace

void Snapshots::append(const world::World& world)
{
    const bool key = count_ % keyEvery == 0;
    last_.resize(world.pieces().size());
    changesFrom_.push_back(changes_.size());
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
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

std::vector<PieceState> Snapshots::at(std::int64_t tick) const
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

Snapshots Snapshots::upTo(std::int64_t tick) const
{
    const auto first = [](const auto& list, std::size_t count) {
        return std::decay_t<decltype(list)>(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(count));
    };
    const auto count = static_cast<std::size_t>(tick + 1);
    Snapshots some;
    some.count_ = tick + 1;
    some.keys_ = first(keys_, static_cast<std::size_t>(tick / keyEvery) + 1);
    some.changesFrom_ = first(changesFrom_, count);
    some.changes_ = first(changes_, count < changesFrom_.size() ? changesFrom_[count] : changes_.size());
    some.last_ = at(tick);
    return some;
}

std::vector<geometry::Vec> Snapshots::pathOf(std::size_t piece, std::int64_t from, std::int64_t to) const
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
        if (line.stage != rules::SlipStage::gone)
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
    const std::int64_t key = tick / Snapshots::keyEvery;
    StandingSoFar standing = record.standing[static_cast<std::size_t>(key)];
    const std::size_t from = static_cast<std::size_t>(key * Snapshots::keyEvery + 1);
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

} // namespace snare::sim
