// SPDX-License-Identifier: Apache-2.0
#include "check/after_take.h"

#include "geometry/hull.h"
#include "words/slots.h"
#include "words/text.h"
#include "world/outline.h"

#include <fmt/format.h>

#include <set>

namespace snare::check {

std::vector<TakeFinding> neverSprang(const sim::Record& record)
{
    std::vector<TakeFinding> found;
    for (std::size_t i = 0; i < record.scene->snares.size(); ++i) {
        const auto snare = static_cast<std::int32_t>(i);
        const auto [caught, filtered, gated, sprang] = record.index.countsOf(snare);
        const auto missed = record.index.missedBy(snare);
        if (caught == 0 || sprang > 0 || missed.empty())
            continue;
        const auto& most = *std::ranges::max_element(missed, {}, &sim::RecordIndex::Missed::times);
        const std::string& id = record.scene->snares[i].id;
        const std::string_view reason = record.index.textOf(most);
        const std::string how = most.times == caught ? caught == 1 ? "and slipped" : "each time it slipped"
                                                     : fmt::format("{} times it slipped", most.times);
        found.push_back({.text = fmt::format("{} never sprang, though its event came {}: {} at {}{}{}", id,
                                             caught == 1 ? std::string("once") : fmt::format("{} times", caught), how,
                                             rules::wordOf(most.stage), reason.empty() ? "" : ", ", reason),
                         .snare = id,
                         .tick = record.journal.lines[static_cast<std::size_t>(most.lines[0])].tick});
    }
    return found;
}

namespace {

/// Whether what follows a step may come later, or not at all.
bool waits(const scene::Response& response)
{
    return std::visit(
        []<class Kind>(const Kind& kind) {
            if constexpr (requires { kind.wait; })
                return kind.wait;
            return std::is_same_v<Kind, scene::Wait> || std::is_same_v<Kind, scene::Restart>;
        },
        response.kind);
}

} // namespace

std::vector<TakeFinding> neverTrue(const sim::Record& record)
{
    struct Of {
        std::vector<std::size_t> done; // by step; also those that were skipped for another reason, which is noted (S9)
        std::size_t sprang = 0;
        std::int64_t tick = 0; // when it sprang first
    };
    std::vector<Of> snares(record.scene->snares.size());
    for (const rules::Line& line : record.journal.lines) {
        if (line.snare < 0 || static_cast<std::size_t>(line.snare) >= snares.size())
            continue;
        Of& one = snares[static_cast<std::size_t>(line.snare)];
        one.done.resize(record.scene->snares[static_cast<std::size_t>(line.snare)].responses.size());
        if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung) {
            if (one.sprang++ == 0)
                one.tick = line.tick;
        } else if (line.kind != rules::LineKind::event && line.kind != rules::LineKind::snare && line.step > 0 &&
                   record.journal.texts.at(line.routine).empty()) {
            const auto step = static_cast<std::size_t>(line.step - 1);
            if (step < one.done.size())
                ++one.done[step];
        }
    }
    std::vector<TakeFinding> found;
    for (std::size_t i = 0; i < snares.size(); ++i) {
        const scene::Snare& snare = record.scene->snares[i];
        std::size_t passed = snares[i].sprang; // how often the step was come to, at least
        for (std::size_t step = 0; step < snare.responses.size() && passed > 0; ++step) {
            const auto& rest = snares[i].done;
            if (step > 0 && waits(snare.responses[step - 1])) // it may have ended there: what came after tells
                passed = *std::max_element(rest.begin() + static_cast<std::ptrdiff_t>(step), rest.end());
            const auto& conditions = snare.responses[step].onlyIf;
            if (conditions.empty() || rest[step] > 0 || passed == 0)
                continue;
            std::vector<std::string> texts;
            texts.reserve(conditions.size());
            for (const scene::Condition& condition : conditions)
                texts.push_back(words::conditionText(condition));
            found.push_back({.text = fmt::format("step {} of {} was never done in {} springs: {} did not hold",
                                                 step + 1, snare.id, passed, words::joinedBy(texts, " and ")),
                             .snare = snare.id,
                             .tick = snares[i].tick});
        }
    }
    return found;
}

namespace {

/// Pieces with a zone that a snare of meetings waits at, and that were never entered.
std::vector<std::size_t> waitingZones(const sim::Record& record)
{
    std::set<std::string_view> entered;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && line.event == scene::EventKind::enter)
            entered.insert(record.nameOf(line.self));
    std::vector<std::size_t> waiting;
    for (std::size_t i = 0; i < record.scene->pieces.size(); ++i) {
        const scene::Piece& piece = record.scene->pieces[i];
        const bool hasZone =
            std::ranges::any_of(piece.shapes, [](const scene::Shape& one) { return one.role == scene::Role::zone; });
        const bool isWanted = std::ranges::any_of(record.scene->snares, [&](const scene::Snare& snare) {
            return snare.catches.at == piece.id && rules::isContact(snare.catches.event.items.front());
        });
        const bool isStill = std::holds_alternative<scene::StaticBody>(piece.body);
        if (hasZone && isWanted && isStill && !piece.pinned && !entered.contains(piece.id))
            waiting.push_back(i);
    }
    return waiting;
}

/// What a piece takes up about its place.
geometry::Bounds boxOf(const scene::Piece& piece, const geometry::Vec& at)
{
    geometry::Bounds box;
    for (const scene::Shape& shape : piece.shapes)
        if (shape.role == scene::Role::zone)
            for (const geometry::Hull& hull : world::partsOf(shape)) {
                const geometry::Hull placed = geometry::placed(hull, {at, piece.turn});
                for (std::size_t i = 0; i < static_cast<std::size_t>(placed.count); ++i) {
                    box.include(placed.points[i] - geometry::Vec(placed.radius, placed.radius));
                    box.include(placed.points[i] + geometry::Vec(placed.radius, placed.radius));
                }
            }
    return box;
}

double distanceTo(const geometry::Bounds& box, const geometry::Vec& point)
{
    return glm::length(point - glm::clamp(point, box.low, box.high));
}

} // namespace

std::vector<TakeFinding> neverEntered(const sim::Record& record)
{
    constexpr std::int64_t moments = 600;
    constexpr std::size_t mostPieces = 500;
    constexpr double near = 2; // m: what stays farther away was not on its way there
    std::vector<TakeFinding> found;
    const std::vector<std::size_t> waiting = waitingZones(record);
    if (waiting.empty() || record.pieces.size() > mostPieces || record.lastTick() <= 0)
        return found;
    struct Nearest {
        double distance = 1e300;
        std::size_t piece = 0;
        std::int64_t tick = 0;
    };
    std::vector<Nearest> nearest(waiting.size());
    const std::int64_t step = std::max<std::int64_t>(1, record.lastTick() / moments);
    const std::vector<sim::PieceState> start = record.snapshots.at(0);
    for (std::int64_t tick = 0; tick <= record.lastTick(); tick += step) {
        const std::vector<sim::PieceState> states = record.snapshots.at(tick);
        for (std::size_t k = 0; k < waiting.size(); ++k) {
            const geometry::Bounds box = boxOf(record.scene->pieces[waiting[k]], states[waiting[k]].pose.at);
            if (box.empty())
                continue;
            for (std::size_t i = 0; i < states.size(); ++i) {
                const bool moved = i >= start.size() || states[i].pose.at != start[i].pose.at;
                if (!moved || i == waiting[k] || !states[i].present || !states[i].here)
                    continue;
                if (const double distance = distanceTo(box, states[i].pose.at); distance < nearest[k].distance)
                    nearest[k] = {distance, i, tick};
            }
        }
    }
    for (std::size_t k = 0; k < waiting.size(); ++k) {
        if (nearest[k].distance > near)
            continue;
        const std::string& zone = record.scene->pieces[waiting[k]].id;
        const std::string& visitor = record.pieces[nearest[k].piece].id;
        const double seconds = static_cast<double>(nearest[k].tick) / record.scene->rate;
        found.push_back(
            {.text = nearest[k].distance == 0
                         ? fmt::format("nobody entered {}, though {} was over it at {:.2f} s: their groups, heights or "
                                       "states keep them apart",
                                       zone, visitor, seconds)
                         : fmt::format("nobody entered {}: {} came closest, its middle {:.2f} m away at {:.2f} s", zone,
                                       visitor, nearest[k].distance, seconds),
             .piece = zone,
             .tick = nearest[k].tick});
    }
    return found;
}

std::vector<TakeFinding> findingsOfTake(const sim::Record& record)
{
    std::vector<TakeFinding> all = neverSprang(record);
    for (auto part : {neverTrue(record), neverEntered(record)})
        std::ranges::move(part, std::back_inserter(all));
    return all;
}

} // namespace snare::check
