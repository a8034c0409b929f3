// SPDX-License-Identifier: Apache-2.0
#include "check/coverage.h"

#include "scene/kits.h"
#include "words/sentences.h"
#include "words/text.h"

#include <fmt/format.h>

#include <map>
#include <set>

namespace snare::check {

using Of = Covered::Of;
using rules::EventKind;
using rules::Line;
using rules::LineKind;

std::string_view wordOf(Of of)
{
    constexpr std::array<std::string_view, 8> words{"snare", "filter", "gate",   "response",
                                                    "phase", "signal", "zone", "source"};
    return words.at(static_cast<std::size_t>(of));
}

namespace {

bool hasFilter(const scene::Snare& snare)
{
    return !(snare.filter == scene::Filter{});
}

bool hasGate(const scene::Snare& snare)
{
    return !(snare.gate == scene::Gate{});
}

std::string stepName(const std::string& owner, std::size_t step, const scene::Response& response)
{
    return fmt::format("{}, step {}: {}", owner, step + 1, words::responseText(response));
}

} // namespace

Coverage::Coverage(std::shared_ptr<const scene::Scene> scene) : scene_(std::move(scene))
{
    const auto add = [&](Of of, std::string name, Place place, int step = -1) {
        all_.push_back({of, std::move(name), std::move(place), step, 0});
    };
    const auto addSteps = [&](const std::string& owner, const Place& place,
                              const std::vector<scene::Response>& responses) {
        for (std::size_t i = 0; i < responses.size(); ++i)
            add(Of::response, stepName(owner, i, responses[i]), place, static_cast<int>(i));
    };
    for (const scene::Snare& snare : scene_->snares) {
        const Place place{Place::Of::snare, snare.id};
        add(Of::snare, snare.id, place);
        if (hasFilter(snare))
            add(Of::filter, snare.id, place);
        if (hasGate(snare))
            add(Of::gate, snare.id, place);
        addSteps(snare.id, place, snare.responses);
    }
    for (const auto& [name, routine] : scene_->routines.entries)
        addSteps(name, {Place::Of::routine, name}, routine.responses);
    for (const std::string& phase : scene_->phases)
        add(Of::phase, phase, {});
    for (const scene::Piece& piece : scene_->pieces)
        for (const scene::PiecePhase& phase : piece.phases)
            add(Of::phase, fmt::format("{} of {}", phase.id, piece.id), {Place::Of::piece, piece.id});
    for (const std::string& signal : scene::allSignals(*scene_))
        add(Of::signal, signal, {});
    for (const scene::Piece& piece : scene_->pieces)
        for (std::size_t i = 0; i < piece.shapes.size(); ++i)
            if (piece.shapes[i].role == scene::Role::zone && !piece.pinned && piece.enabled)
                add(Of::zone,
                    piece.shapes.size() == 1 ? piece.id : fmt::format("{} of {}", scene::shapeName(piece, i), piece.id),
                    {Place::Of::piece, piece.id}, static_cast<int>(i));
    for (const scene::Source& source : scene_->sources)
        add(Of::source, source.id, {Place::Of::source, source.id});
}

namespace {

template <class Map, class Key> typename Map::mapped_type get(const Map& map, const Key& key)
{
    const auto found = map.find(key);
    return found == map.end() ? typename Map::mapped_type{} : found->second;
}

/// What came how often in a run.
class Counts {
  public:
    explicit Counts(const sim::Record& record) : record_(record)
    {
        for (const Line& line : record.journal.lines)
            count(line);
    }
    std::size_t of(const Covered& one, const scene::Scene& scene) const;

  private:
    void count(const Line& line);
    void countEvent(const Line& line);
    std::size_t ofSource(const Covered& one, const scene::Scene& scene) const;

    const sim::Record& record_;
    std::map<std::pair<std::string, int>, std::size_t> steps_; // by snare or `routine NAME`
    std::map<std::string, std::array<std::size_t, 3>> snares_; // sprang, slipped at the filter, at the gate
    std::map<std::string, std::size_t> phases_;
    std::map<std::string, std::size_t> signals_;
    std::map<std::pair<std::string, int>, std::size_t> zones_;
    std::map<std::string, std::size_t> timers_;
    std::map<std::string, std::size_t> keys_;
    std::map<std::string, std::size_t> calls_;
};

void Counts::count(const Line& line)
{
    const std::string snare = line.snare < 0 ? std::string() : record_.snareNameOf(line.snare);
    if (line.kind == LineKind::snare) {
        auto& counts = snares_[snare];
        counts[0] += line.outcome == rules::Outcome::sprung ? 1 : 0;
        counts[1] += line.outcome == rules::Outcome::slipped && line.stage == rules::SlipStage::filter ? 1 : 0;
        counts[2] += line.outcome == rules::Outcome::slipped && line.stage == rules::SlipStage::gate ? 1 : 0;
    } else if (line.kind == LineKind::response) {
        const std::string_view routine = record_.journal.texts.at(line.routine);
        ++steps_[{routine.empty() ? snare : "routine " + std::string(routine), line.step - 1}];
    } else if (line.kind == LineKind::event) {
        countEvent(line);
    }
}

void Counts::countEvent(const Line& line)
{
    const std::string self{record_.nameOf(line.self)};
    switch (line.event) {
    case EventKind::phaseBegin:
        ++phases_[line.self == world::theScene ? record_.journal.textOf(line)
                                               : record_.journal.textOf(line) + " of " + self];
        break;
    case EventKind::heard:
        ++signals_[record_.journal.textOf(line)];
        break;
    case EventKind::enter:
        if (line.shape >= 0)
            ++zones_[{self, record_.shapeNames[static_cast<std::size_t>(line.shape)].number}];
        break;
    case EventKind::elapsed:
        ++timers_[record_.journal.textOf(line)];
        break;
    case EventKind::keyDown:
        ++keys_[record_.journal.textOf(line)];
        break;
    case EventKind::called:
        ++calls_[record_.journal.textOf(line)];
        break;
    default:
        break;
    }
}

std::size_t Counts::of(const Covered& one, const scene::Scene& scene) const
{
    switch (one.of) {
    case Of::snare:
        return get(snares_, one.name)[0];
    case Of::filter:
        return get(snares_, one.name)[1];
    case Of::gate:
        return get(snares_, one.name)[2];
    case Of::response:
        return get(steps_, std::pair(one.place.of == Place::Of::routine ? "routine " + one.place.id : one.place.id,
                                     one.step));
    case Of::phase:
        return get(phases_, one.name);
    case Of::signal:
        return get(signals_, one.name);
    case Of::zone:
        return get(zones_, std::pair(one.place.id, one.step));
    case Of::source:
        return ofSource(one, scene);
    }
    return 0;
}

std::size_t Counts::ofSource(const Covered& one, const scene::Scene& scene) const
{
    const scene::Source* source = scene::findSource(scene, one.place.id);
    if (const auto* set = source ? std::get_if<scene::KeySource>(&source->kind) : nullptr) {
        std::size_t times = 0;
        for (const std::string& key : set->keys)
            times += get(keys_, key);
        return times;
    }
    if (const auto* call = source ? std::get_if<scene::CallSource>(&source->kind) : nullptr)
        return get(calls_, call->name);
    if (source && std::holds_alternative<scene::DialSource>(source->kind))
        return static_cast<std::size_t>(
            std::ranges::count(record_.take.inputs, one.name, scene::nameOf<scene::DialInput>));
    return get(timers_, one.name);
}

} // namespace

void Coverage::add(const sim::Record& record)
{
    const Counts counts{record};
    for (Covered& one : all_)
        one.times += counts.of(one, *scene_);
}

std::pair<std::size_t, std::size_t> Coverage::countOf(Of of) const
{
    std::size_t all = 0;
    std::size_t used = 0;
    for (const Covered& one : all_)
        if (one.of == of) {
            ++all;
            used += one.times > 0 ? 1 : 0;
        }
    return {all, used};
}

std::vector<std::string> neverUsed(const Coverage& coverage)
{
    constexpr std::array<std::string_view, 8> never{"never sprang",  "filters that never turned anything away",
                                                    "gates that never turned anything away",
                                                    "never done",    "phases never begun",
                                                    "signals never raised", "zones nobody entered",
                                                    "sources never used"};
    std::vector<std::string> told;
    for (std::size_t of = 0; of < never.size(); ++of) {
        std::vector<std::string> names;
        for (const Covered& one : coverage.all())
            if (static_cast<std::size_t>(one.of) == of && one.times == 0)
                names.push_back(one.name);
        const bool isLong = static_cast<Of>(of) == Of::response;
        if (!names.empty())
            told.push_back(fmt::format("{}: {}", never.at(of), words::joinedBy(names, isLong ? "; " : ", ")));
    }
    return told;
}

} // namespace snare::check
