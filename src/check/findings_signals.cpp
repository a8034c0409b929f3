// SPDX-License-Identifier: Apache-2.0
/// Findings about signals, dials and values that are compared.
#include "check/facts.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

void lookForUnheard(const Facts& facts, Report& report)
{
    const auto isHeard = [&](const std::string& name) {
        return facts.heard.contains(name) ||
               std::ranges::find(facts.scene.outgoing, name) != facts.scene.outgoing.end();
    };
    const bool hearsAny = std::ranges::any_of(facts.rules, [](const Rule& rule) {
        return rule.snare->catches.signal.empty() &&
               std::ranges::find(rule.snare->catches.event.items, EventKind::heard) !=
                   rule.snare->catches.event.items.end();
    });
    if (hearsAny)
        return;
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i) {
            const auto* signal = std::get_if<Signal>(&(*steps.responses)[i].kind);
            const std::string* name = signal ? signal->name.literal() : nullptr;
            if (!name || name->empty() || isHeard(*name))
                continue;
            Place place = steps.place;
            place.response = static_cast<int>(i);
            place.field = "name";
            const std::string near = nearest(*name, {facts.heard.begin(), facts.heard.end()});
            report.add(place, *name,
                       fmt::format("{} raises the signal {}, which no snare hears{}", textOf(place), *name,
                                   near.empty() ? std::string() : fmt::format("; {} is heard", near)),
                       near.empty()
                           ? std::optional(Fix{fmt::format("Tell {} outside", *name),
                                               [name = *name](scene::Scene& scene) { scene.outgoing.push_back(name); }})
                           : replacing(place, *name, near));
        }
}

void lookForUnraised(const Facts& facts, Report& report)
{
    if (facts.signalsWorkedOut)
        return;
    for (const Rule& rule : facts.rules) {
        const std::string& name = rule.snare->catches.signal;
        if (name.empty() || facts.signals.contains(name) || facts.isInScripts(name))
            continue;
        Place place = rule.place;
        place.field = "signal";
        const std::string near = nearest(name, {facts.signals.begin(), facts.signals.end()});
        report.add(place, name,
                   fmt::format("{} hears the signal {}, which nothing raises{}", textOf(place), name,
                               near.empty() ? std::string() : fmt::format("; {} is raised", near)),
                   replacing(place, name, near));
    }
}

/// A signal that carries values, heard at several pieces of which none looks at them: all of them
/// act alike.
void lookForUncompared(const Facts& facts, Report& report)
{
    std::map<std::string, Names> carried; // by signal: the names of its values
    for (const Steps& steps : facts.steps)
        for (const Response& response : *steps.responses)
            if (const auto* signal = std::get_if<Signal>(&response.kind);
                signal && signal->name.literal() && !signal->to)
                for (const auto& entry : signal->with.entries)
                    if (facts.values.contains(entry.first)) // a number that the pieces have, too
                        carried[*signal->name.literal()].insert(entry.first);
    for (const Rule& rule : facts.rules) {
        const auto of = carried.find(rule.snare->catches.signal);
        if (rule.snare->catches.signal.empty() || of == carried.end() || !rule.snare->filter.script.empty())
            continue;
        bool reads = false;
        const auto look = [&](const Place&, Refers, const std::string& text) {
            reads = reads || text.find("signal.") != std::string::npos;
        };
        forEachName(rule, look);
        forEachName(Steps{&rule.snare->responses, rule.place, &rule}, look);
        std::size_t listeners = 0;
        std::size_t numbered = 0;
        for (const Body* body : facts.bodiesOf(rule.snare->catches.at, &rule)) {
            ++listeners;
            numbered +=
                std::ranges::any_of(
                    of->second, [&](const std::string& name) { return body->piece->properties.find(name) != nullptr; })
                    ? 1
                    : 0;
        }
        if (reads || listeners < 2 || numbered < 2)
            continue;
        const std::string& value = *of->second.begin();
        Place place = rule.place;
        place.field = "when";
        report.add(place, value,
                   fmt::format("{} hears {} at {} pieces and does not compare signal.{}: all of them act at once",
                               textOf(place), rule.snare->catches.signal, listeners, value),
                   changing(place, fmt::format("Only if signal.{0} = self.{0}", value), [value](Snare& snare) {
                       snare.filter.when.push_back(
                           {"signal." + value, Comparison::equal, Value<Scalar>{Formula::get("self." + value)}});
                   }));
    }
}

void lookForLevels(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const Catch& catches = rule.snare->catches;
        const Source* source = findSource(facts.scene, catches.source);
        const auto* dial = source ? std::get_if<DialSource>(&source->kind) : nullptr;
        if (!dial || !catches.level)
            continue;
        const auto catchesKind = [&](EventKind kind) {
            return std::ranges::find(catches.event.items, kind) != catches.event.items.end();
        };
        const bool never =
            (catchesKind(EventKind::rises) && (*catches.level >= dial->high || *catches.level < dial->low)) ||
            (catchesKind(EventKind::falls) && (*catches.level <= dial->low || *catches.level > dial->high));
        if (!never)
            continue;
        Place place = rule.place;
        place.field = "level";
        const double middle = (dial->low + dial->high) / 2;
        report.add(place, fmt::format("{:.9g}", *catches.level),
                   fmt::format("{} waits at {:.9g} for {}, which goes from {:.9g} to {:.9g}", textOf(place),
                               *catches.level, source->id, dial->low, dial->high),
                   changing(place, fmt::format("Use {:.9g}", middle),
                            [middle](Snare& snare) { snare.catches.level = middle; }));
    }
}

/// The kinds of values that a name ever has; worked out ones can be anything.
class Kinds {
  public:
    explicit Kinds(const Facts& facts)
    {
        const auto ofPiece = [&](const Piece& piece) {
            for (const auto& [name, value] : piece.properties.entries)
                kinds_[name].insert(value.index());
        };
        for (const Body& body : facts.bodies)
            ofPiece(*body.piece);
        for (const Piece* model : facts.models)
            ofPiece(*model);
        for (const auto& [name, value] : facts.scene.variables.entries)
            kinds_[name].insert(value.index());
        for (const Steps& steps : facts.steps)
            for (const Response& response : *steps.responses) {
                if (const auto* set = std::get_if<Set>(&response.kind))
                    take(set->name, set->value);
                if (const auto* add = std::get_if<Add>(&response.kind))
                    kinds_[add->name].insert(Scalar{0.0}.index());
                if (const auto* spawn = std::get_if<Spawn>(&response.kind)) {
                    for (const auto& [name, value] : spawn->set.entries)
                        take(name.substr(name.find('.') == std::string::npos ? 0 : name.find('.') + 1), value);
                    if (!spawn->as.empty())
                        open_.insert(spawn->as);
                }
            }
    }

    /// The only kind that it ever has, or nothing.
    std::optional<std::size_t> only(const std::string& name) const
    {
        const auto found = kinds_.find(name);
        return found != kinds_.end() && found->second.size() == 1 && !open_.contains(name)
                   ? std::optional(*found->second.begin())
                   : std::nullopt;
    }

  private:
    void take(const std::string& name, const Value<Scalar>& value)
    {
        if (value.literal())
            kinds_[name].insert(value.literal()->index());
        else
            open_.insert(name);
    }

    std::map<std::string, std::set<std::size_t>> kinds_;
    Names open_;
};

void lookForKinds(const Facts& facts, Report& report)
{
    const Kinds kinds{facts};
    constexpr std::array<std::string_view, 3> words{"a number", "yes or no", "a text"};
    const auto check = [&](Place place, const Condition& condition) {
        const auto dot = condition.left.find('.');
        const Scalar* right = condition.right.literal();
        if (dot == std::string::npos || !right || condition.is == Comparison::has)
            return;
        const std::string owner = condition.left.substr(0, dot);
        const std::string name = condition.left.substr(dot + 1);
        if (owner == "signal" || owner == "event" || owner == "with" || name.find('.') != std::string::npos ||
            isBuiltInOfPiece(name) || isBuiltInOfScene(name) || facts.isInScripts(name))
            return;
        const auto kind = kinds.only(name);
        if (!kind || *kind == right->index())
            return;
        place.field = place.response < 0 ? "when" : "if";
        report.add(place, name,
                   fmt::format("{} compares {}, {}, with {}", textOf(place), condition.left, words.at(*kind),
                               words.at(right->index())));
    };
    for (const Rule& rule : facts.rules)
        for (const Condition& condition : rule.snare->filter.when)
            check(rule.place, condition);
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i)
            for (const Condition& condition : (*steps.responses)[i].onlyIf) {
                Place place = steps.place;
                place.response = static_cast<int>(i);
                check(place, condition);
            }
}

constexpr std::array rows{
    FindingRow{"not-heard", Severity::warning, "a signal that is raised and not heard", "Nothing comes of it.",
               lookForUnheard},
    FindingRow{"not-raised", Severity::warning, "a signal that is heard and not raised", "The snare never springs.",
               lookForUnraised},
    FindingRow{"not-compared", Severity::warning, "a signal by number whose listeners do not compare it",
               "All that listen act, and not the one that is meant.", lookForUncompared},
    FindingRow{"level-outside", Severity::warning, "a level that its dial never crosses", "The snare never springs.",
               lookForLevels},
    FindingRow{"other-kind", Severity::warning, "a value compared with another kind of value",
               "They are never the same, so that the condition is never true, or always.", lookForKinds},
};

} // namespace

std::span<const FindingRow> rowsOfSignals()
{
    return rows;
}

} // namespace snare::check
