// SPDX-License-Identifier: Apache-2.0
#include "sim/probes.h"

#include "rules/clock.h"
#include "rules/filter.h"
#include "scene/values.h"
#include "sim/run.h"

#include <cmath>

namespace snare::sim {

using scene::Expectation;

namespace {

bool isOften(const scene::LineMatch& line)
{
    return line.event == scene::EventKind::stay || line.event == scene::EventKind::keyHeld;
}

/// The tick of a moment: between two ticks the later one (E3).
std::int64_t tickAt(double seconds, int rate)
{
    return static_cast<std::int64_t>(std::ceil(std::max(0.0, seconds) * rate - rules::tickSlack));
}

bool holdsNow(const Expectation& expect, const std::optional<scene::Scalar>& value)
{
    if (!value || !expect.to)
        return false;
    if (expect.is == scene::Comparison::has && expect.value.ends_with(".tags")) // tags are whole words
        if (const auto* tags = std::get_if<std::string>(&*value))
            return (" " + *tags + " ").find(" " + scene::textOf(*expect.to) + " ") != std::string::npos;
    return rules::compares(*value, expect.is, *expect.to, expect.within.value_or(0));
}

/// How far a value is from what is expected, to tell what came nearest.
double distance(const Expectation& expect, const std::optional<scene::Scalar>& value)
{
    const double* wanted = expect.to ? std::get_if<double>(&*expect.to) : nullptr;
    const double* held = value ? std::get_if<double>(&*value) : nullptr;
    return wanted && held ? std::abs(*wanted - *held) : 1e300;
}

} // namespace

bool asksForStays(std::span<const Expectation> expect)
{
    return std::ranges::any_of(expect, [](const Expectation& one) {
        return isOften(one.line) || (one.never && isOften(*one.never)) || std::ranges::any_of(one.order, isOften);
    });
}

Probes::Probes(std::span<const Expectation> expect, int rate) : probes_(expect.size())
{
    for (std::size_t i = 0; i < expect.size(); ++i) {
        const Expectation& one = expect[i];
        if (one.kind() != Expectation::Kind::value && one.kind() != Expectation::Kind::inside)
            continue;
        const bool isMoment = one.line.at.time && !one.always && !one.ever;
        watched_.push_back({i, &one, isMoment ? tickAt(*one.line.at.time, rate) : -1, false});
        probes_[i].past = isMoment;
        probes_[i].held = one.always;
    }
}

void Probes::rebind(std::span<const scene::Expectation> expect)
{
    for (Watched& watched : watched_)
        watched.expect = &expect[watched.index];
}

void Probes::follow(Run& run)
{
    for (Watched& watched : watched_)
        if (watched.expect->kind() == Expectation::Kind::value)
            lookAtValue(watched, run);
        else
            lookAtVisit(watched, run);
}

void Probes::lookAtValue(Watched& watched, Run& run)
{
    const Expectation& expect = *watched.expect;
    const std::int64_t now = run.tickNumber();
    if (watched.decided || (watched.tick >= 0 && watched.tick != now))
        return;
    Probe& probe = probes_[watched.index];
    const std::optional<scene::Scalar> value = run.valueAt(expect.value);
    const bool holds = holdsNow(expect, value);
    if (watched.tick >= 0 || (expect.always && !holds) || (expect.ever && holds)) {
        probe = {.held = holds, .past = false, .tick = now, .value = value, .otherTick = -1};
        watched.decided = true;
    } else if (expect.ever && (probe.tick < 0 || distance(expect, value) < distance(expect, probe.value))) {
        probe.tick = now; // the nearest so far
        probe.value = value;
    }
}

void Probes::lookAtVisit(Watched& watched, const Run& run)
{
    const std::int64_t now = run.tickNumber();
    Probe& probe = probes_[watched.index];
    if (watched.decided)
        return;
    const auto [place, shape] = scene::splitShape(watched.expect->inside[1]);
    const world::World& world = run.world();
    const auto named = [&](std::string_view name) {
        return name == "pointer" ? world::thePointer : world.find(name);
    };
    const world::PieceIndex self = named(place);
    const world::PieceIndex visitor = named(watched.expect->inside[0]);
    const rules::Presence::Stay* stay =
        self < 0 || visitor == world::nobody ? nullptr : run.engine().presence().find(self, visitor);
    const bool isIn = stay && rules::meetingMeant(*stay, shape, world).has_value();
    if (now == watched.tick) {
        probe.held = isIn;
        probe.past = false;
        probe.tick = now;
        watched.decided = isIn || probe.otherTick >= 0;
    } else if (isIn) { // before it the last one counts, behind it the first
        probe.otherTick = now;
        watched.decided = now > watched.tick;
    }
}

std::vector<Probe> Probes::take()
{
    return std::move(probes_);
}

} // namespace snare::sim
