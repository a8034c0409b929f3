// SPDX-License-Identifier: Apache-2.0
/// Findings about what happens twice.
#include "check/facts.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

bool catches(const Snare& snare, EventKind kind)
{
    return std::ranges::find(snare.catches.event.items, kind) != snare.catches.event.items.end();
}

void lookForTwins(const Facts& facts, Report& report)
{
    const auto plain = [](Snare snare) {
        snare.id.clear();
        snare.note.clear();
        return snare;
    };
    // Those with the same place and events are compared with each other.
    std::map<std::pair<std::string, std::string>, std::vector<const Rule*>> alike;
    for (const Rule& rule : facts.rules)
        alike[{rule.snare->catches.at, rule.place.assembly}].push_back(&rule);
    for (const auto& entry : alike)
        for (std::size_t i = 0; i < entry.second.size(); ++i)
            for (std::size_t k = i + 1; k < entry.second.size(); ++k) {
                const Rule& first = *entry.second[i];
                const Rule& second = *entry.second[k];
                if (second.snare->responses.empty() || !(plain(*first.snare) == plain(*second.snare)))
                    continue;
                report.add(second.place, first.snare->id,
                           fmt::format("{} is the same as {}: both do it", textOf(second.place), textOf(first.place)),
                           removing(second.place));
            }
}

/// Both sides of one meeting are told (M8): two snares, one at each, do the same twice.
void lookForBothSides(const Facts& facts, Report& report)
{
    for (std::size_t i = 0; i < facts.rules.size(); ++i)
        for (std::size_t k = i + 1; k < facts.rules.size(); ++k) {
            const Snare& first = *facts.rules[i].snare;
            const Snare& second = *facts.rules[k].snare;
            const bool isPair = first.filter.pieces.size() == 1 && second.filter.pieces.size() == 1 &&
                                first.catches.at == second.filter.pieces[0] &&
                                second.catches.at == first.filter.pieces[0];
            if (!isPair || !(first.catches.event.items == second.catches.event.items) || first.responses.empty() ||
                !(first.responses == second.responses))
                continue;
            // What is done to oneself, or to the other, is not the same at both.
            bool isOwn = false;
            forEachName(Steps{&first.responses, facts.rules[i].place, &facts.rules[i]},
                        [&](const Place&, Refers, const std::string& name) {
                            isOwn = isOwn || name.starts_with("self") || name.starts_with("visitor");
                        });
            if (isOwn)
                continue;
            report.add(facts.rules[k].place, first.id,
                       fmt::format("{} and {} do the same at both sides of one meeting", textOf(facts.rules[i].place),
                                   textOf(facts.rules[k].place)),
                       removing(facts.rules[k].place));
        }
}

/// `stay` comes in every tick: what is said, sounds or comes then does so sixty times a second.
void lookForChatter(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        const Gate& gate = snare.gate;
        if (!catches(snare, EventKind::stay) || snare.catches.every || gate.limit || gate.cooldown || gate.dwell)
            continue;
        for (std::size_t i = 0; i < snare.responses.size(); ++i) {
            const ResponseKind& kind = snare.responses[i].kind;
            if (!std::holds_alternative<Say>(kind) && !std::holds_alternative<Sound>(kind) &&
                !std::holds_alternative<Spawn>(kind))
                continue;
            Place place = rule.place;
            place.field = "every";
            report.add(place, std::string(wordOfResponse(kind).key),
                       fmt::format("{} does {} in every tick of a stay", textOf(rule.place), wordOfResponse(kind).key),
                       changing(rule.place, "Every second", [](Snare& changed) { changed.catches.every = 1; }));
            break;
        }
    }
}

constexpr std::array rows{
    FindingRow{"twice", Severity::warning, "two snares that are the same", "What they do happens twice.", lookForTwins},
    FindingRow{"both-sides", Severity::warning, "the same at both sides of one meeting",
               "Both sides are told of a meeting, so that it happens twice.", lookForBothSides},
    FindingRow{"chatter", Severity::warning, "a stay without every that says, sounds or spawns",
               "It happens in every tick.", lookForChatter},
};

} // namespace

std::span<const FindingRow> rowsOfDoubles()
{
    return rows;
}

} // namespace snare::check
