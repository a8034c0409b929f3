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
                add(Of::zone, piece.shapes.size() == 1 ? piece.id : fmt::format("{} of {}", scene::shapeName(piece, i), piece.id),
                    {Place::Of::piece, piece.id}, static_cast<int>(i));
    for (const scene::Source& source : scene_->sources)
        add(Of::source, source.id, {Place::Of::source, source.id});
}

void Coverage::add(const sim::Record& record)
{
    std::map<std::pair<std::string, int>, std::size_t> steps; // by snare or `routine NAME`
    std::map<std::string, std::array<std::size_t, 3>> snares; // sprang, slipped at the filter, at the gate
    std::map<std::string, std::size_t> phases;
    std::map<std::string, std::size_t> signals_;
    std::map<std::pair<std::string, int>, std::size_t> zones;
    std::map<std::string, std::size_t> timers;
    std::map<std::string, std::size_t> keys;
    std::map<std::string, std::size_t> calls;
    for (const Line& line : record.journal.lines) {
        const std::string snare = line.snare < 0 ? std::string() : record.snareNameOf(line.snare);
        if (line.kind == LineKind::snare) {
            auto& counts = snares[snare];
            counts[0] += line.outcome == rules::Outcome::sprung ? 1 : 0;
            counts[1] += line.outcome == rules::Outcome::slipped && line.stage == rules::SlipStage::filter ? 1 : 0;
            counts[2] += line.outcome == rules::Outcome::slipped && line.stage == rules::SlipStage::gate ? 1 : 0;
        } else if (line.kind == LineKind::response) {
            const std::string_view routine = record.journal.texts.at(line.routine);
            ++steps[{routine.empty() ? snare : "routine " + std::string(routine), line.step - 1}];
        } else if (line.kind == LineKind::event) {
            const std::string self{record.nameOf(line.self)};
            switch (line.event) {
            case EventKind::phaseBegin:
                ++phases[line.self == world::theScene ? record.journal.textOf(line)
                                                      : record.journal.textOf(line) + " of " + self];
                break;
            case EventKind::heard:
                ++signals_[record.journal.textOf(line)];
                break;
            case EventKind::enter:
                if (line.shape >= 0)
                    ++zones[{self, record.shapeNames[static_cast<std::size_t>(line.shape)].number}];
                break;
            case EventKind::elapsed:
                ++timers[record.journal.textOf(line)];
                break;
            case EventKind::keyDown:
                ++keys[record.journal.textOf(line)];
                break;
            case EventKind::called:
                ++calls[record.journal.textOf(line)];
                break;
            default:
                break;
            }
        }
    }
    const auto get = [](const auto& map, const auto& key) {
        const auto found = map.find(key);
        return found == map.end() ? typename std::decay_t<decltype(map)>::mapped_type{} : found->second;
    };
    for (Covered& one : all_) {
        switch (one.of) {
        case Of::snare:
            one.times += get(snares, one.name)[0];
            break;
        case Of::filter:
            one.times += get(snares, one.name)[1];
            break;
        case Of::gate:
            one.times += get(snares, one.name)[2];
            break;
        case Of::response:
            one.times += get(steps, std::pair(one.place.of == Place::Of::routine ? "routine " + one.place.id : one.place.id, one.step));
            break;
        case Of::phase:
            one.times += get(phases, one.name);
            break;
        case Of::signal:
            one.times += get(signals_, one.name);
            break;
        case Of::zone:
            one.times += get(zones, std::pair(one.place.id, one.step));
            break;
        case Of::source: {
            const scene::Source* source = scene::findSource(*scene_, one.place.id);
            if (const auto* set = source ? std::get_if<scene::KeySource>(&source->kind) : nullptr)
                for (const std::string& key : set->keys)
                    one.times += get(keys, key);
            else if (const auto* call = source ? std::get_if<scene::CallSource>(&source->kind) : nullptr)
                one.times += get(calls, call->name);
            else if (source && std::holds_alternative<scene::DialSource>(source->kind))
                one.times += static_cast<std::size_t>(std::ranges::count(record.take.inputs, one.name, scene::nameOf<scene::DialInput>));
            else
                one.times += get(timers, one.name);
            break;
        }
        }
    }
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
