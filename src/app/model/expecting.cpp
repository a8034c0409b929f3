// SPDX-License-Identifier: Apache-2.0
#include "app/model/expecting.h"

#include "words/expectations.h"

#include <algorithm>
#include <cmath>

namespace snare::app {

using rules::Line;
using rules::LineKind;
using scene::EventKind;
using scene::Expectation;

namespace {

constexpr double aboutThen = 0.25; ///< s, before and behind

double secondsOf(const sim::Record& record, std::int64_t tick)
{
    return std::round(static_cast<double>(tick) * 1000 / record.scene->rate) / 1000;
}

std::string nameOf(const sim::Record& record, world::PieceIndex piece)
{
    return std::string(record.nameOf(piece));
}

/// A shape is told only where there are several, by its name.
std::string shapeOf(const sim::Record& record, const Line& line)
{
    if (line.shape < 0 || line.self < 0)
        return {};
    const bool several = record.pieces[static_cast<std::size_t>(line.self)].model->shapes.size() > 1;
    return several ? std::string(record.shapeNameOf(line.shape)) : std::string();
}

std::optional<scene::LineMatch> eventLike(const sim::Record& record, const Line& line)
{
    scene::LineMatch match;
    switch (scene::familyOf(line.event)) {
    case scene::EventFamily::key:
    case scene::EventFamily::pointer:
    case scene::EventFamily::call:
        return std::nullopt; // somebody did it
    case scene::EventFamily::signal:
        match.signal = record.journal.textOf(line);
        return match;
    case scene::EventFamily::phase:
        if (line.event == EventKind::phaseBegin) {
            match.phase = record.journal.textOf(line);
            match.on = line.self == world::theScene ? std::string() : nameOf(record, line.self);
            return match;
        }
        break;
    default:
        break;
    }
    match.event = line.event;
    match.at.place = line.self == world::theScene ? std::string() : nameOf(record, line.self);
    match.by = nameOf(record, line.visitor);
    match.shape = shapeOf(record, line);
    return match;
}

} // namespace

std::optional<scene::LineMatch> linesLike(const sim::Record& record, std::int32_t number)
{
    if (number < 0 || static_cast<std::size_t>(number) >= record.journal.lines.size())
        return std::nullopt;
    const Line& line = record.journal.lines[static_cast<std::size_t>(number)];
    scene::LineMatch match;
    switch (line.kind) {
    case LineKind::event:
        return eventLike(record, line);
    case LineKind::snare:
        match.snare = record.snareNameOf(line.snare);
        if (line.outcome == rules::Outcome::slipped)
            match.stage = line.stage;
        return match;
    case LineKind::response:
        match.response = rules::responseOf(line);
        match.snare = line.snare < 0 ? std::string() : record.snareNameOf(line.snare);
        match.on = nameOf(record, line.self);
        return match;
    case LineKind::note:
        break;
    }
    return std::nullopt;
}

std::optional<Expectation> expectationOf(const sim::Record& record, std::int32_t number, Wish wish)
{
    auto match = linesLike(record, number);
    if (!match)
        return std::nullopt;
    Expectation expect;
    if (wish == Wish::never) {
        expect.never = std::move(*match);
        return expect;
    }
    if (wish == Wish::aboutThen) {
        const double then = secondsOf(record, record.journal.lines[static_cast<std::size_t>(number)].tick);
        const auto rounded = [](double seconds) { return std::round(seconds * 100) / 100; };
        match->between = scene::Span{rounded(std::max(0.0, then - aboutThen)), rounded(then + aboutThen)};
    }
    expect.line = std::move(*match);
    return expect;
}

Expectation valueAsNow(const sim::Record& record, world::PieceIndex owner, const std::string& name, std::int64_t tick)
{
    Expectation expect;
    expect.line.at.time = secondsOf(record, tick);
    expect.value = (owner == world::theScene ? std::string("scene") : nameOf(record, owner)) + "." + name;
    expect.to = sim::valueAt(record, owner, name, tick).value_or(scene::Scalar{0.0});
    if (const double* number = std::get_if<double>(&*expect.to); number && *number != std::round(*number))
        expect.within = 0.01;
    return expect;
}

Expectation visitThen(const sim::Record& record, const std::string& visitor, const std::string& place,
                      std::int64_t tick)
{
    Expectation expect;
    expect.line.at.time = secondsOf(record, tick);
    expect.inside = {visitor, place};
    return expect;
}

Expectation plainExpectation(const std::string& kind, const scene::Scene& scene, double seconds)
{
    const auto pieceWith = [&](scene::Role role) -> std::string {
        for (const scene::Piece& piece : scene.pieces)
            for (const scene::Shape& shape : piece.shapes)
                if (shape.role == role)
                    return piece.id;
        return scene.pieces.empty() ? std::string("piece") : scene.pieces.front().id;
    };
    const auto moving = [&]() -> std::string {
        for (const scene::Piece& piece : scene.pieces)
            if (!std::holds_alternative<scene::StaticBody>(piece.body))
                return piece.id;
        return "visitor";
    };
    const std::string snare = scene.snares.empty() ? std::string("snare") : scene.snares.front().id;
    Expectation expect;
    scene::LineMatch event;
    event.event = EventKind::enter;
    event.at.place = pieceWith(scene::Role::zone);
    if (kind == "snare") {
        expect.line.snare = snare;
    } else if (kind == "signal") {
        const std::vector<std::string> signals_ = scene::allSignals(scene);
        expect.line.signal = signals_.empty() ? "signal" : signals_.front();
    } else if (kind == "response") {
        expect.line.response = "say";
        expect.line.snare = snare;
    } else if (kind == "phase") {
        expect.line.phase = scene.phases.empty() ? "phase" : scene.phases.back();
    } else if (kind == "never") {
        expect.never = event;
    } else if (kind == "order") {
        scene::LineMatch then = event;
        then.event = EventKind::exit;
        expect.order = {event, then};
    } else if (kind == "value") {
        expect.line.at.time = seconds;
        const bool has = !scene.variables.empty();
        expect.value = "scene." + (has ? scene.variables.entries.front().first : std::string("age"));
        expect.to = has ? scene.variables.entries.front().second : scene::Scalar{0.0};
    } else if (kind == "inside") {
        expect.line.at.time = seconds;
        expect.inside = {moving(), pieceWith(scene::Role::zone)};
    } else {
        expect.line = event;
    }
    return expect;
}

namespace {

/// As often as it came, and when it came.
void acceptLines(const sim::Record& record, Expectation& expect, const check::Verdict& verdict)
{
    if (expect.line.between) { // the span reaches as far as what came nearest
        const std::int64_t tick = verdict.line >= 0
                                      ? record.journal.lines[static_cast<std::size_t>(verdict.line)].tick
                                      : verdict.tick;
        const double then = secondsOf(record, tick);
        scene::LineMatch whole = expect.line;
        whole.between.reset();
        if (verdict.line >= 0 && verdict.found.empty() &&
            std::ranges::binary_search(check::linesThatMatch(record, whole), verdict.line)) {
            const double half = (expect.line.between->to - expect.line.between->from) / 2;
            expect.line.between = scene::Span{std::max(0.0, then - half), then + half};
        }
    }
    const int count = static_cast<int>(check::linesThatMatch(record, expect.line).size());
    if (!expect.times.value_or(scene::Times{1, {}}).allows(count))
        expect.times = scene::Times{count, count};
}

} // namespace

Acceptance accepted(const sim::Record& record, const check::Judgement& judgement, std::optional<std::size_t> only)
{
    Acceptance acceptance{record.take, {}};
    std::vector<Expectation> expectations;
    for (std::size_t i = 0; i < record.take.expect.size(); ++i) {
        Expectation expect = record.take.expect[i];
        const check::Verdict& verdict = judgement.verdicts[i];
        if (verdict.held || (only && *only != i)) {
            expectations.push_back(std::move(expect));
            continue;
        }
        const std::string before = words::expectationText(expect);
        bool stays = true;
        switch (expect.kind()) {
        case Expectation::Kind::comes:
            acceptLines(record, expect, verdict);
            break;
        case Expectation::Kind::value: {
            const sim::Probe& probe = record.probes[i];
            stays = probe.value.has_value() && !probe.past && !expect.always && !expect.ever;
            if (stays) {
                expect.to = probe.value;
                expect.is = scene::Comparison::equal;
            }
            break;
        }
        default:
            stays = false; // it is not so, and nothing like it can be said
        }
        acceptance.changes.emplace_back(before, stays ? words::expectationText(expect) : std::string());
        if (stays)
            expectations.push_back(std::move(expect));
    }
    acceptance.take.expect = std::move(expectations);
    if (!judgement.stop.empty() && !only) {
        acceptance.take.stops = !record.stopReason.empty();
        acceptance.changes.emplace_back(acceptance.take.stops ? "the run does not stop" : "the run stops",
                                        acceptance.take.stops ? "the run stops" : "the run does not stop");
    }
    return acceptance;
}

void addExpectation(Document& document, Expectation expectation)
{
    scene::Take take = document.take();
    take.expect.push_back(std::move(expectation));
    document.setTake(QObject::tr("Add an expectation"), std::move(take));
}

void removeExpectation(Document& document, std::size_t index)
{
    scene::Take take = document.take();
    if (index >= take.expect.size())
        return;
    take.expect.erase(take.expect.begin() + static_cast<std::ptrdiff_t>(index));
    document.setTake(QObject::tr("Remove an expectation"), std::move(take));
}

} // namespace snare::app
