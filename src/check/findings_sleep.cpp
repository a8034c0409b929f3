// SPDX-License-Identifier: Apache-2.0
/// Findings about what sleeps: snares, pieces, phases and routines that nothing wakes.
#include "check/facts.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

/// Calls `visit(response, steps, index)` for all responses of one kind.
template <class Kind, class Visit> void forResponses(const Facts& facts, Visit&& visit)
{
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i)
            if (const auto* kind = std::get_if<Kind>(&(*steps.responses)[i].kind))
                visit(*kind, steps, i);
}

/// Whether a target can mean a body, for all that is known before running.
bool mayMean(const Facts& facts, const Target& on, const Body& body, const Steps& steps)
{
    return std::ranges::any_of(on.names, [&](const std::string& name) {
        if (name == "scene")
            return false;
        if (!facts.isPlain(name, steps.rule))
            return true;
        return facts.means(name == "self" && steps.rule ? std::string_view(steps.rule->snare->catches.at)
                                                        : std::string_view(name),
                           body, steps.rule);
    });
}

/// Whether something sets this built-in value of a piece.
bool isSet(const Facts& facts, std::string_view name, const Body& body)
{
    bool found = facts.isInScripts(name);
    forResponses<Set>(facts, [&](const Set& set, const Steps& steps, std::size_t) {
        found = found || (set.name == name && mayMean(facts, set.on, body, steps));
    });
    return found;
}

void lookForDisarmed(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const std::string& id = rule.snare->id;
        if (rule.snare->armed || facts.armed.contains(id) || facts.armed.contains(rule.place.assembly + "." + id) ||
            facts.isInScripts(id))
            continue;
        bool rearmed = false;
        forResponses<Rearm>(facts, [&](const Rearm& arm, const Steps&, std::size_t) {
            rearmed = rearmed || std::ranges::find(arm.snares, id) != arm.snares.end();
        });
        if (rearmed)
            continue;
        Place place = rule.place;
        place.field = "armed";
        report.add(place, id, fmt::format("{} is disarmed at the start, and nothing arms it", textOf(rule.place)),
                   changing(rule.place, fmt::format("Arm {}", id), [](Snare& snare) { snare.armed = true; }));
    }
}

/// Whether a snare waits for a meeting or the pointer at a body: else it may be there to be looked
/// at, or as a mark.
bool isWaitedAt(const Facts& facts, const Body& body)
{
    return std::ranges::any_of(facts.rules, [&](const Rule& rule) {
        const Snare& snare = *rule.snare;
        const bool meets = std::ranges::any_of(snare.catches.event.items, [](EventKind kind) {
            return familyOf(kind) == EventFamily::contact || familyOf(kind) == EventFamily::pointer;
        });
        const bool isNamed = std::ranges::find(snare.filter.pieces, body.piece->id) != snare.filter.pieces.end();
        return meets &&
               (isNamed || (facts.isPlain(snare.catches.at, &rule) && facts.means(snare.catches.at, body, &rule)));
    });
}

void lookForGone(const Facts& facts, Report& report)
{
    for (const Body& body : facts.bodies) {
        const Piece& piece = *body.piece;
        if (body.spawned || (piece.enabled && piece.shown) || !isWaitedAt(facts, body))
            continue;
        bool back = isSet(facts, piece.enabled ? "shown" : "enabled", body);
        forResponses<Enable>(facts, [&](const Enable& kind, const Steps& steps, std::size_t) {
            back = back || (!piece.enabled && mayMean(facts, kind.on, body, steps));
        });
        forResponses<Show>(facts, [&](const Show& kind, const Steps& steps, std::size_t) {
            back = back || (!piece.shown && mayMean(facts, kind.on, body, steps));
        });
        if (back)
            continue;
        const bool isOff = !piece.enabled;
        std::optional<Fix> fix;
        if (!piece.partOf)
            fix = Fix{fmt::format("{} {}", isOff ? "Enable" : "Show", piece.id),
                      [id = piece.id, isOff](scene::Scene& scene) {
                          if (Piece* found = findPiece(scene, id))
                              (isOff ? found->enabled : found->shown) = true;
                      }};
        report.add({Place::Of::piece, piece.id}, piece.id,
                   fmt::format("{} is {} at the start, and nothing {} it", piece.id, isOff ? "disabled" : "hidden",
                               isOff ? "enables" : "shows"),
                   std::move(fix));
    }
}

/// The phases that responses begin at a body, or at the scene (null); nothing if it may be any.
std::optional<Names> begunPhases(const Facts& facts, const Body* body)
{
    Names begun;
    bool any = false;
    forResponses<ChangePhase>(facts, [&](const ChangePhase& change, const Steps& steps, std::size_t) {
        const bool isMeant =
            body ? mayMean(facts, change.on, *body, steps)
                 : std::ranges::any_of(change.on.names, [&](const std::string& name) {
                       return name == "scene" ||
                              (name == "self" && (!steps.rule || steps.rule->snare->catches.at.empty() ||
                                                  steps.rule->snare->catches.at == "scene"));
                   });
        if (!isMeant)
            return;
        const std::string* to = change.to.literal();
        any = any || !to || *to == "next";
        if (to)
            begun.insert(*to);
    });
    return any ? std::nullopt : std::optional(begun);
}

void lookForPhases(const Facts& facts, Report& report)
{
    const auto check = [&](const Place& place, const std::vector<std::string>& phases, const Body* body) {
        if (phases.size() < 2)
            return;
        const auto begun = begunPhases(facts, body);
        if (!begun)
            return;
        const auto isBegun = [&](const std::string& phase) {
            return begun->contains(phase) || facts.isInScripts(phase);
        };
        const auto first = std::ranges::find_if(phases.begin() + 1, phases.end(), isBegun);
        if (first == phases.end()) {
            report.add(
                place, phases.front(),
                fmt::format("{} never leaves its phase {}: nothing begins another one", textOf(place), phases.front()));
            return;
        }
        for (std::size_t i = 1; i < phases.size(); ++i)
            if (!isBegun(phases[i]))
                report.add(place, phases[i],
                           fmt::format("{} has a phase {} that nothing begins", textOf(place), phases[i]));
    };
    check({Place::Of::scene}, facts.scene.phases, nullptr);
    Names told;
    for (const Body& body : facts.bodies) {
        std::vector<std::string> phases;
        for (const PiecePhase& phase : body.piece->phases)
            phases.push_back(phase.id);
        const bool isOfForm = !body.form.empty();
        if (isOfForm && !told.insert(body.form).second) // once for all that follow it
            continue;
        check({isOfForm ? Place::Of::form : Place::Of::piece, isOfForm ? body.form : body.piece->id}, phases, &body);
    }
}

void lookForRoutines(const Facts& facts, Report& report)
{
    for (const auto& entry : facts.scene.routines.entries)
        if (!facts.run.contains(entry.first) && !facts.isInScripts(entry.first)) {
            const Place place{Place::Of::routine, entry.first};
            report.add(place, entry.first, fmt::format("nobody runs the routine {}", entry.first), removing(place));
        }
}

void lookForGates(const Facts& facts, Report& report)
{
    if (!facts.restarts)
        return;
    for (const Rule& rule : facts.rules) {
        const Gate& gate = rule.snare->gate;
        if (!gate.limit || gate.reset != GateReset::never)
            continue;
        Place place = rule.place;
        place.field = "reset";
        report.add(
            place, rule.snare->id,
            fmt::format("{} springs {} and its gate stays shut, although the scene restarts", textOf(rule.place),
                        *gate.limit == 1 ? std::string("once") : fmt::format("{} times", *gate.limit)),
            changing(rule.place, "Forget at a restart", [](Snare& snare) { snare.gate.reset = GateReset::restart; }));
    }
}

/// Of two snares that catch the same, whatever the first keeps, the second never has.
void lookForClaimed(const Facts& facts, Report& report)
{
    for (std::size_t i = 0; i < facts.rules.size(); ++i) {
        const Rule& first = facts.rules[i];
        const Snare& claims = *first.snare;
        if (!claims.claims || !claims.armed || !(claims.filter == Filter{}) || !(claims.gate == Gate{}) ||
            !claims.during.items.empty())
            continue;
        for (std::size_t k = i + 1; k < facts.rules.size(); ++k) {
            const Snare& behind = *facts.rules[k].snare;
            Catch wanted = behind.catches;
            wanted.event = claims.catches.event;
            const bool isKept =
                wanted == claims.catches && std::ranges::all_of(behind.catches.event.items, [&](EventKind kind) {
                    return std::ranges::find(claims.catches.event.items, kind) != claims.catches.event.items.end();
                });
            if (!isKept || facts.rules[k].place.assembly != first.place.assembly)
                continue;
            report.add(facts.rules[k].place, claims.id,
                       fmt::format("{} stands behind {}, which claims all that it waits for",
                                   textOf(facts.rules[k].place), textOf(first.place)),
                       changing(first.place, fmt::format("Let {} claim nothing", claims.id),
                                [](Snare& snare) { snare.claims = false; }));
        }
    }
}

constexpr std::array rows{
    FindingRow{"never-armed", Severity::warning, "a snare that nothing arms", "It never springs.", lookForDisarmed},
    FindingRow{"never-back", Severity::warning, "a piece that nothing brings back",
               "What is hidden or disabled is met by nobody.", lookForGone},
    FindingRow{"phase-asleep", Severity::warning, "a phase that never begins, or is never left",
               "What waits for it never comes.", lookForPhases},
    FindingRow{"not-run", Severity::warning, "a routine that nobody runs", "It does nothing.", lookForRoutines},
    FindingRow{"gate-shut", Severity::warning, "a gate that never opens again in a scene that restarts",
               "After a restart the snare does not spring any more.", lookForGates},
    FindingRow{"behind-claim", Severity::warning, "a snare behind one that claims the same", "It never springs.",
               lookForClaimed},
};

} // namespace

std::span<const FindingRow> rowsOfSleep()
{
    return rows;
}

} // namespace snare::check
