// SPDX-License-Identifier: Apache-2.0
#include "sim/resume.h"

#include "rules/book.h"
#include "rules/clock.h"

#include <algorithm>
#include <limits>
#include <map>
#include <unordered_map>

namespace snare::sim {

namespace {

constexpr std::int64_t never = std::numeric_limits<std::int64_t>::max();
constexpr std::size_t mostCheckpoints = 24;
/// A run that went on from so many scenes is run from the start: it keeps them all.
constexpr std::size_t mostChanges = 64;

RecordMark markOf(const Record& record)
{
    const rules::Journal& journal = record.journal;
    RecordMark mark;
    mark.tick = record.lastTick();
    mark.lines = journal.lines.size();
    mark.spots = journal.spots.size();
    mark.values = journal.values.size();
    mark.armings = journal.armings.size();
    mark.phases = journal.phases.size();
    mark.signalValues = journal.signalValues.size();
    mark.fields = journal.fields.size();
    mark.texts = journal.texts.count();
    mark.pointer = record.pointer.size();
    mark.pieces = record.pieces.size();
    mark.shapeNames = record.shapeNames.size();
    mark.looks = record.looks.size();
    mark.cause = journal.cause;
    return mark;
}

template <class T> std::vector<T> first(const std::vector<T>& list, std::size_t count)
{
    return {list.begin(), list.begin() + static_cast<std::ptrdiff_t>(count)};
}

/// The record as it was at a mark. Its take has no inputs; they come with the whole.
std::shared_ptr<Record> upTo(const Record& record, const RecordMark& mark)
{
    auto some = std::make_shared<Record>();
    const auto ticks = static_cast<std::size_t>(mark.tick + 1);
    rules::Journal& journal = some->journal;
    journal.withStays = record.journal.withStays;
    journal.tick = static_cast<std::int32_t>(mark.tick);
    journal.cause = mark.cause;
    journal.texts = record.journal.texts.first(mark.texts);
    journal.lines = first(record.journal.lines, mark.lines);
    journal.because = first(record.journal.because, mark.lines);
    journal.spots = first(record.journal.spots, mark.spots);
    journal.values = first(record.journal.values, mark.values);
    journal.armings = first(record.journal.armings, mark.armings);
    journal.phases = first(record.journal.phases, mark.phases);
    journal.signalValues = first(record.journal.signalValues, mark.signalValues);
    journal.fields = first(record.journal.fields, mark.fields);
    some->index.follow(journal);
    some->linesFrom = first(record.linesFrom, ticks);
    some->snapshots = record.snapshots.upTo(mark.tick);
    some->standing = first(record.standing, static_cast<std::size_t>(mark.tick / Snapshots::keyEvery) + 1);
    some->pointer = first(record.pointer, mark.pointer);
    some->pieces = first(record.pieces, mark.pieces);
    some->shapeNames = first(record.shapeNames, mark.shapeNames);
    some->looks = first(record.looks, mark.looks);
    return some;
}

/// All that pieces of a run are made of: pieces of the scene, templates and parts of assemblies, of
/// its kits too. In an order that is the same for scenes of which one goes on from the other.
std::vector<const scene::Piece*> modelsOf(const scene::Scene& scene)
{
    std::vector<const scene::Piece*> models;
    for (const scene::Piece& piece : scene.pieces)
        models.push_back(&piece);
    const auto addShared = [&](const auto& holder) {
        for (const auto& [name, form] : holder.templates.entries)
            models.push_back(&form.model);
        for (const auto& [name, assembly] : holder.assemblies.entries)
            for (const scene::Piece& part : assembly.pieces)
                models.push_back(&part);
    };
    addShared(scene);
    if (scene.loaded.list)
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            addShared(kit.kit);
    return models;
}

/// What a record says of its pieces lies in the scene that goes on, not in the one before, which
/// may go.
void rebind(Record& record, const scene::Scene& was, const scene::Scene& is)
{
    const std::vector<const scene::Piece*> before = modelsOf(was);
    const std::vector<const scene::Piece*> now = modelsOf(is);
    std::unordered_map<const scene::Piece*, const scene::Piece*> next; // to look up, never to walk over
    for (std::size_t i = 0; i < before.size(); ++i)
        next.emplace(before[i], now[i]);
    for (RunPiece& piece : record.pieces)
        piece.model = next.at(piece.model);
}

// --- where an edit is first felt -------------------------------------------------------------------------------------

/// The last tick after which the places of a piece are the same in both takes.
std::int64_t firstOther(const std::vector<const scene::Input*>& a, const std::vector<const scene::Input*>& b, int rate)
{
    std::size_t same = 0;
    while (same < a.size() && same < b.size() && *a[same] == *b[same])
        ++same;
    if (same == a.size() && same == b.size())
        return never;
    if (same > 0) // on the way from the last common place
        return rules::tickOfInput(a[same - 1]->t, rate);
    std::int64_t tick = never;
    for (const auto* list : {&a, &b})
        if (!list->empty())
            tick = std::min(tick, rules::tickOfInput(list->front()->t, rate));
    return tick;
}

std::int64_t firstOtherInput(const scene::Take& a, const scene::Take& b, int rate)
{
    std::int64_t tick = never;
    std::map<std::string, std::array<std::vector<const scene::Input*>, 2>> places; // of driven pieces
    std::array<std::vector<std::pair<std::int64_t, const scene::Input*>>, 2> inputs;
    for (std::size_t which = 0; which < 2; ++which) {
        for (const scene::Input& input : (which == 0 ? a : b).inputs)
            if (const auto* place = input.as<scene::TrackPlace>())
                places[place->piece][which].push_back(&input);
            else
                inputs[which].emplace_back(rules::tickOfInput(input.t, rate), &input);
        std::ranges::stable_sort(inputs[which], {}, [](const auto& entry) { return entry.first; });
    }
    for (auto& [piece, both] : places) {
        for (auto& list : both)
            std::ranges::stable_sort(list, {}, [](const scene::Input* input) { return input->t; });
        tick = std::min(tick, firstOther(both[0], both[1], rate));
    }
    for (std::size_t i = 0; i < std::max(inputs[0].size(), inputs[1].size()); ++i) {
        const auto at = [&](std::size_t which) { return i < inputs[which].size() ? inputs[which][i].first : never; };
        if (at(0) == at(1)) {
            scene::Input one = *inputs[0][i].second;
            one.t = inputs[1][i].second->t; // the tick counts
            if (one == *inputs[1][i].second)
                continue;
        }
        return std::min({tick, at(0), at(1)});
    }
    return tick;
}

/// The first tick in which a snare was offered anything.
std::int64_t firstOffered(const Record& record, std::int32_t snare)
{
    const auto line = std::ranges::find_if(record.journal.lines, [&](const rules::Line& one) {
        return one.snare == snare && one.kind != rules::LineKind::event;
    });
    return line == record.journal.lines.end() ? never : line->tick;
}

/// Whether anything of a piece follows the pictures of its looks.
bool hasTraced(const scene::Piece& piece)
{
    return std::ranges::any_of(
        piece.shapes, [](const scene::Shape& shape) { return std::holds_alternative<scene::Traced>(shape.geometry); });
}

/// The first tick from which a look may have been worn, told by the checkpoints.
std::int64_t firstWorn(const Resumable& before, const scene::Look& look)
{
    const auto& looks = before.record->looks;
    const auto number = static_cast<std::size_t>(std::ranges::find(looks, look) - looks.begin());
    if (number == looks.size())
        return never;
    std::int64_t tick = 0;
    for (const auto& checkpoint : before.checkpoints)
        if (checkpoint->mark.looks <= number)
            tick = checkpoint->mark.tick + 1;
    return tick;
}

/// The first tick at which an edit of a piece may show: of what it wears later only, else 0.
std::int64_t firstOtherPiece(const Resumable& before, const scene::Piece& was, const scene::Piece& is)
{
    scene::Piece bare = was;
    bare.look = is.look;
    bare.looks = is.looks;
    if (bare.phases.size() == is.phases.size())
        for (std::size_t i = 0; i < is.phases.size(); ++i)
            bare.phases[i].look = is.phases[i].look;
    if (bare != is || hasTraced(was) || was.looks.entries.size() != is.looks.entries.size())
        return 0;
    std::int64_t tick = never;
    const auto compare = [&](const scene::Look& a, const scene::Look& b) {
        if (a != b)
            tick = std::min({tick, firstWorn(before, a), firstWorn(before, b)});
    };
    compare(was.look, is.look);
    for (std::size_t i = 0; i < is.looks.entries.size(); ++i) {
        if (was.looks.entries[i].first != is.looks.entries[i].first)
            return 0;
        compare(was.looks.entries[i].second, is.looks.entries[i].second);
    }
    for (std::size_t i = 0; i < is.phases.size(); ++i) {
        if (was.phases[i].look.has_value() != is.phases[i].look.has_value())
            return 0;
        if (is.phases[i].look)
            compare(*was.phases[i].look, *is.phases[i].look);
    }
    return tick;
}

/// What was traced of pictures, which are files of their own: scenes that say the same may have
/// other outlines.
std::vector<const void*> tracingsOf(const scene::Scene& scene)
{
    std::vector<const void*> tracings;
    for (const scene::Piece* model : modelsOf(scene))
        for (const scene::Shape& shape : model->shapes)
            if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
                tracings.push_back(traced->tracing.areas.get());
    return tracings;
}

std::int64_t firstOtherScene(const Resumable& before, const scene::Scene& is)
{
    const scene::Scene& was = *before.record->scene;
    if (&was == &is)
        return never;
    if (tracingsOf(was) != tracingsOf(is))
        return 0;
    scene::Scene rest = was;
    rest.schema = is.schema;
    rest.name = is.name;
    rest.accepted = is.accepted;
    rest.outgoing = is.outgoing;
    rest.snares = is.snares;
    rest.pieces = is.pieces;
    if (!(rest == is) || was.snares.size() != is.snares.size() || was.pieces.size() != is.pieces.size())
        return 0;
    std::int64_t tick = never;
    for (std::size_t i = 0; i < is.pieces.size() && tick > 0; ++i)
        if (&was.pieces[i] != &is.pieces[i] && was.pieces[i] != is.pieces[i])
            tick = std::min(tick, firstOtherPiece(before, was.pieces[i], is.pieces[i]));
    for (std::size_t i = 0; i < is.snares.size() && tick > 0; ++i) {
        if (&was.snares[i] == &is.snares[i] || was.snares[i] == is.snares[i])
            continue;
        scene::Snare other = was.snares[i];
        other.note = is.snares[i].note;
        const bool isSaid = other == is.snares[i];
        other.filter = is.snares[i].filter;
        other.again = is.snares[i].again;
        other.responses = is.snares[i].responses;
        const auto number = static_cast<int>(i);
        // A filter that names the pointer lets the snare be offered more (P1). One also says whom
        // `occupied` counts (M9) and for whom a dwell begins (S7), which no line tells.
        const bool isSilent =
            is.snares[i].gate.dwell || std::ranges::any_of(is.snares[i].catches.event.items, [](scene::EventKind kind) {
                return kind == scene::EventKind::occupied || kind == scene::EventKind::vacated;
            });
        if (isSilent && was.snares[i].filter != is.snares[i].filter)
            return 0;
        if (other != is.snares[i] || rules::Book(was).namesPointer(number) != rules::Book(is).namesPointer(number))
            return 0;
        if (!isSaid)
            tick = std::min(tick, firstOffered(*before.record, static_cast<std::int32_t>(i)));
    }
    return tick;
}

/// A rough count of what a copy of the run takes, bytes.
std::size_t sizeOf(const Run& run)
{
    const world::World& world = run.world();
    return 20'000 + world.pieces().size() * 2 * sizeof(world::LivePiece) + world.shapes().size() * 300 +
           world.parts().size() * sizeof(geometry::Hull);
}

} // namespace

std::int64_t firstDifference(const Resumable& before, const scene::Scene& whole, const scene::Take& take,
                             const RerunOptions& options)
{
    const Record& record = *before.record;
    const int rate = whole.rate;
    const bool withStays = options.withStays || asksForStays(take.expect);
    if (options.lean || record.scene->rate != rate || record.take.seed != take.seed ||
        record.journal.withStays != withStays)
        return 0;
    if (record.take.expect != take.expect && Probes{take.expect, rate}.any())
        return 0;
    const std::int64_t scene = firstOtherScene(before, whole);
    return scene == 0 ? 0 : std::min(scene, firstOtherInput(record.take, take, rate));
}

namespace {

/// Runs a take; `result` gets its checkpoints.
std::shared_ptr<Record> runFrom(const Resumable* before, std::shared_ptr<const scene::Scene> scene,
                                const scene::Take& take, const RerunOptions& options, const CheckpointPlan& plan,
                                Resumable& result)
{
    const std::shared_ptr<const scene::Scene> whole = wholeOf(std::move(scene));
    const int rate = whole->rate;
    const std::int64_t last = rules::lastTick(options.seconds.value_or(scene::lengthOf(take)), rate);
    const auto isCancelled = [&] { return options.cancelled && options.cancelled->load(std::memory_order_relaxed); };
    std::shared_ptr<const Checkpoint> start;
    if (before && !before->checkpoints.empty()) {
        const std::int64_t differs = firstDifference(*before, *whole, take, options);
        for (const auto& checkpoint : before->checkpoints) {
            if (checkpoint->mark.tick >= differs || checkpoint->mark.tick > last ||
                checkpoint->run.changes() >= mostChanges)
                break;
            start = checkpoint;
            result.checkpoints.push_back(checkpoint);
        }
    }
    std::optional<Recorder> recorder;
    Probes probes{take.expect, rate};
    if (start) {
        auto record = upTo(*before->record, start->mark);
        rebind(*record, *before->record->scene, *whole);
        recorder.emplace(start->run, start->standing, std::move(record), whole, options.cancelled);
        if (probes.any()) {
            probes = start->probes;
            probes.rebind(take.expect);
        }
        result.from = start->mark.tick;
    } else {
        recorder.emplace(
            Recorder::ofWhole(whole, options.withStays || asksForStays(take.expect), take.seed, options.cancelled));
        if (options.lean)
            recorder->keepLittle();
        probes.follow(recorder->run());
    }
    recorder->run().lead(Tracks::of(take));
    std::int64_t between = 0; // ticks; 0: no checkpoints
    if (plan.bytes > 0 && last > plan.leastBetween) {
        const std::size_t count = std::clamp<std::size_t>(plan.bytes / sizeOf(recorder->run()), 1, mostCheckpoints);
        between = std::max(plan.leastBetween, last / static_cast<std::int64_t>(count) + 1);
    }
    const auto inputs = inputsByTick(take, rate);
    auto next = std::ranges::upper_bound(inputs, result.from, {}, [](const auto& entry) { return entry.first; });
    std::vector<scene::Input> now;
    for (std::int64_t tick = result.from + 1; tick <= last && !recorder->stopped() && !isCancelled(); ++tick) {
        now.clear();
        for (; next != inputs.end() && next->first == tick; ++next)
            now.push_back(next->second);
        recorder->tick(now);
        probes.follow(recorder->run());
        if (between > 0 && tick % between == 0 && !recorder->stopped())
            result.checkpoints.push_back(std::make_shared<const Checkpoint>(
                Checkpoint{recorder->run(), recorder->standing(), probes, markOf(recorder->record())}));
    }
    if (isCancelled())
        result.checkpoints.clear();
    std::shared_ptr<Record> record = recorder->finish();
    record->take = take;
    record->probes = probes.take();
    return record;
}

} // namespace

Resumable rerunFrom(const Resumable* before, std::shared_ptr<const scene::Scene> scene, const scene::Take& take,
                    const RerunOptions& options, const CheckpointPlan& plan)
{
    Resumable result;
    result.record = runFrom(before, std::move(scene), take, options, plan, result);
    return result;
}

Record rerun(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const RerunOptions& options)
{
    Resumable without;
    return std::move(
        *runFrom(nullptr, std::move(scene), take, options, {.bytes = 0}, without)); // nobody else shares it
}

} // namespace snare::sim
