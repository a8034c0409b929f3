// SPDX-License-Identifier: Apache-2.0
/// Findings about what goes wrong when it runs.
#include "check/facts.h"

#include "geometry/hull.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

/// Whether all bodies that a target means are known, and there are some; they go into `bodies`.
bool meansKnown(const Facts& facts, const Target& on, const Steps& steps, std::vector<const Body*>& bodies)
{
    for (const std::string& name : on.names) {
        if (!facts.isPlain(name, steps.rule))
            return false;
        for (const Body* body : facts.bodiesOf(name, steps.rule))
            bodies.push_back(body);
    }
    return !bodies.empty();
}

void lookForStatic(const Facts& facts, Report& report)
{
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i)
            std::visit(
                [&](const auto& kind) {
                    using Kind = std::decay_t<decltype(kind)>;
                    if constexpr (std::is_same_v<Kind, Move> || std::is_same_v<Kind, Turn> ||
                                  std::is_same_v<Kind, Chase> || std::is_same_v<Kind, Push>) {
                        std::vector<const Body*> bodies;
                        if (!meansKnown(facts, kind.on, steps, bodies))
                            return;
                        const bool all = std::ranges::all_of(bodies, [](const Body* body) {
                            return std::holds_alternative<StaticBody>(body->piece->body) ||
                                   std::holds_alternative<DrivenBody>(body->piece->body);
                        });
                        if (!all)
                            return;
                        Place place = steps.place;
                        place.response = static_cast<int>(i);
                        place.field = "on";
                        const Body& one = *bodies.front();
                        const std::string& who = one.spawned ? one.form : one.piece->id;
                        std::optional<Fix> fix;
                        constexpr bool isPush = std::is_same_v<Kind, Push>;
                        if (bodies.size() == 1 && !one.spawned && !one.piece->partOf)
                            fix = Fix{fmt::format("Make {} {}", who, isPush ? "dynamic" : "kinematic"),
                                      [id = who](scene::Scene& scene) {
                                          if (Piece* piece = findPiece(scene, id)) {
                                              if (isPush)
                                                  piece->body = DynamicBody{};
                                              else
                                                  piece->body = KinematicBody{};
                                          }
                                      }};
                        report.add(place, who,
                                   fmt::format("{} is to {} {}, which is {}", textOf(steps.place),
                                               wordOfResponse((*steps.responses)[i].kind).key, who,
                                               std::holds_alternative<StaticBody>(one.piece->body)
                                                   ? "static and stays"
                                                   : "driven and goes only where a take leads it"),
                                   std::move(fix));
                    }
                },
                (*steps.responses)[i].kind);
}

void lookForArrive(const Facts& facts, Report& report)
{
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i) {
            const auto* move = std::get_if<Move>(&(*steps.responses)[i].kind);
            const Vec* by = move && move->by ? move->by->literal() : nullptr;
            const double* arrive = move ? move->arrive.literal() : nullptr;
            if (!by || !arrive || glm::length(*by) == 0 || *arrive < glm::length(*by))
                continue;
            Place place = steps.place;
            place.response = static_cast<int>(i);
            place.field = "arrive";
            report.add(place, fmt::format("{:.9g}", *arrive),
                       fmt::format("{} moves by {:.9g} m and has arrived within {:.9g} m: it does not move",
                                   textOf(steps.place), glm::length(*by), *arrive));
        }
}

/// The box around a piece as it stands.
geometry::Bounds around(const Piece& piece)
{
    geometry::Bounds bounds;
    for (const Shape& shape : piece.shapes) {
        double reach = 0;
        if (const auto* circle = std::get_if<Circle>(&shape.geometry))
            reach = circle->radius;
        else if (const auto* box = std::get_if<Box>(&shape.geometry))
            reach = glm::length(box->size) / 2;
        else if (const std::vector<Vec>* points = pointsOf(shape.geometry))
            for (const Vec& point : *points)
                reach = std::max(reach, glm::length(point));
        else
            reach = 1e6; // known only when it is traced
        const Vec middle = piece.at + shape.at;
        bounds.include(middle - Vec{reach, reach});
        bounds.include(middle + Vec{reach, reach});
    }
    return bounds;
}

/// Whether a piece of the scene stands wholly outside its bounds.
bool isOutside(const Facts& facts, const Piece& piece)
{
    if (!facts.scene.bounds || piece.pinned || piece.shapes.empty())
        return false;
    const auto& [left, bottom, right, top] = *facts.scene.bounds;
    const geometry::Bounds box = around(piece);
    return box.high.x < left || box.low.x > right || box.high.y < bottom || box.low.y > top;
}

/// A zone that stays outside the bounds, where pieces that are held by them never come.
void lookForOutside(const Facts& facts, Report& report)
{
    const bool allHeld = std::ranges::all_of(facts.bodies, [](const Body& body) {
        return std::holds_alternative<StaticBody>(body.piece->body) || body.piece->outside != Outside::keep;
    });
    for (const Piece& piece : facts.scene.pieces) {
        const bool isZone =
            std::ranges::all_of(piece.shapes, [](const Shape& shape) { return shape.role == Role::zone; });
        if (allHeld && isZone && std::holds_alternative<StaticBody>(piece.body) && isOutside(facts, piece))
            report.add({Place::Of::piece, piece.id}, piece.id,
                       fmt::format("the zone {} lies outside the bounds of the scene, where nothing stays", piece.id));
    }
}

/// A random place in what lies outside the bounds.
void lookForRandom(const Facts& facts, Report& report)
{
    const auto check = [&](Place place, std::string_view field, const std::optional<Destination>& goal) {
        const auto* formula = goal ? std::get_if<Formula>(&goal->held) : nullptr;
        if (!formula || formula->kind != Formula::Kind::somewhere)
            return;
        const Piece* piece = facts.piece(splitShape(formula->text).first);
        if (!piece || !std::holds_alternative<StaticBody>(piece->body) || !isOutside(facts, *piece))
            return;
        place.field = field;
        report.add(place, piece->id,
                   fmt::format("{} asks for a random place in {}, which lies outside the bounds of the scene",
                               textOf(place), piece->id));
    };
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i) {
            Place place = steps.place;
            place.response = static_cast<int>(i);
            const ResponseKind& kind = (*steps.responses)[i].kind;
            if (const auto* move = std::get_if<Move>(&kind))
                check(place, "to", move->to);
            if (const auto* put = std::get_if<Put>(&kind))
                check(place, "at", put->at);
            if (const auto* spawn = std::get_if<Spawn>(&kind))
                check(place, "at", spawn->at);
        }
}

/// A timer that goes on and on spawns what nothing ever takes away.
void lookForEndless(const Facts& facts, Report& report)
{
    bool removesSomething = false;
    for (const Steps& steps : facts.steps)
        for (const Response& response : *steps.responses)
            removesSomething = removesSomething || std::holds_alternative<Remove>(response.kind);
    if (removesSomething)
        return;
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        const Source* source = findSource(facts.scene, snare.catches.source);
        const auto* timer = source ? std::get_if<TimerSource>(&source->kind) : nullptr;
        const bool isClock =
            timer && timer->repeat &&
            std::ranges::find(snare.catches.event.items, EventKind::elapsed) != snare.catches.event.items.end();
        if (!isClock || snare.gate.limit)
            continue;
        for (std::size_t i = 0; i < snare.responses.size(); ++i) {
            const auto* spawn = std::get_if<Spawn>(&snare.responses[i].kind);
            const std::string* form = spawn ? spawn->form.literal() : nullptr;
            const Template* model = form ? findTemplate(facts.scene, *form) : nullptr;
            if (!model || model->model.lifetime || (facts.scene.bounds && model->model.outside == Outside::remove))
                continue;
            Place place = rule.place;
            place.response = static_cast<int>(i);
            place.field = "template";
            report.add(
                place, *form,
                fmt::format("{} spawns {} again and again, and nothing takes them away", textOf(rule.place), *form),
                Fix{fmt::format("Let {} live 10 s", *form), [form = *form](scene::Scene& scene) {
                        const auto home = homeOf(scene, Thing::form, form);
                        if (Template* found = home ? templateToChange(scene, *home, form) : nullptr)
                            found->model.lifetime = 10;
                    }});
        }
    }
}

/// Signals that raise each other at once and without a condition stop the run (K8).
void lookForCircles(const Facts& facts, Report& report)
{
    // What a snare raises at once, before any wait.
    std::map<std::string, std::vector<std::pair<std::string, const Rule*>>> raises;
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        const bool isFree =
            snare.armed && snare.filter == Filter{} && snare.gate == Gate{} && snare.during.items.empty();
        if (snare.catches.signal.empty() || !isFree)
            continue;
        for (const Response& response : snare.responses) {
            if (std::holds_alternative<Wait>(response.kind))
                break;
            const auto* signal = std::get_if<Signal>(&response.kind);
            if (signal && signal->name.literal() && response.onlyIf.empty() && !signal->to)
                raises[snare.catches.signal].emplace_back(*signal->name.literal(), &rule);
        }
    }
    for (const auto& [start, first] : raises) {
        // From a signal back to itself.
        std::vector<std::pair<std::string, std::string>> open{{start, start}};
        Names seen;
        while (!open.empty()) {
            const auto [now, way] = open.back();
            open.pop_back();
            const auto next = raises.find(now);
            if (next == raises.end())
                continue;
            for (const auto& [raised, rule] : next->second) {
                if (raised == start && *std::min_element(seen.begin(), seen.end()) >= start) // told once a circle
                    report.add(first.front().second->place, start,
                               fmt::format("the signal {} raises itself without a condition, over {} → {}", start, way,
                                           raised));
                if (seen.insert(raised).second && raised != start)
                    open.emplace_back(raised, fmt::format("{} → {}", way, raised));
            }
        }
    }
}

void lookForLostWalker(const Facts& facts, Report& report)
{
    const Body* only = nullptr;
    for (const Body& body : facts.bodies) {
        const auto* walker = std::get_if<WalkerBody>(&body.piece->body);
        if (!walker || walker->steer == Steer{})
            continue;
        if (only || body.spawned)
            return;
        only = &body;
    }
    if (!only || facts.restarts)
        return;
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i) {
            const auto* remove = std::get_if<Remove>(&(*steps.responses)[i].kind);
            if (!remove || std::ranges::find(remove->on.names, only->piece->id) == remove->on.names.end())
                continue;
            Place place = steps.place;
            place.response = static_cast<int>(i);
            place.field = "on";
            report.add(place, only->piece->id,
                       fmt::format("{} removes {}, the only one that is steered, and nothing begins again",
                                   textOf(steps.place), only->piece->id));
        }
}

void lookForSharedKeys(const Facts& facts, Report& report)
{
    std::map<std::string, const Piece*> steered; // by key
    for (const Piece& piece : facts.scene.pieces) {
        const auto* walker = std::get_if<WalkerBody>(&piece.body);
        if (!walker || walker->steer == Steer{} || !piece.during.items.empty() || !piece.enabled)
            continue;
        const KeyLists keys = keysOf(walker->steer);
        for (const auto* list : {&keys.left, &keys.right, &keys.up, &keys.down}) // a jump is often shared
            for (const std::string& key : *list) {
                const auto [found, isNew] = steered.emplace(key, &piece);
                if (!isNew && found->second != &piece)
                    report.add({Place::Of::piece, piece.id}, found->second->id,
                               fmt::format("{} and {} are steered by the same keys", found->second->id, piece.id),
                               Fix{fmt::format("Steer {} by a d w s", piece.id), [id = piece.id](scene::Scene& scene) {
                                       if (Piece* changed = findPiece(scene, id))
                                           if (auto* body = std::get_if<WalkerBody>(&changed->body))
                                               body->steer = Steer{SteerSet::wasd};
                                   }});
            }
    }
}

void lookForUntil(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const bool meets = std::ranges::any_of(rule.snare->catches.event.items,
                                               [](EventKind kind) { return familyOf(kind) == EventFamily::contact; });
        if (meets || rule.snare->catches.inside != Inside::no)
            continue;
        for (std::size_t i = 0; i < rule.snare->responses.size(); ++i) {
            const Response& response = rule.snare->responses[i];
            const bool hasUntil = std::visit(
                [](const auto& kind) {
                    if constexpr (requires { kind.until; })
                        return kind.until.has_value();
                    return false;
                },
                response.kind);
            if (!hasUntil)
                continue;
            Place place = rule.place;
            place.response = static_cast<int>(i);
            place.field = "until";
            report.add(place, std::string(wordOfResponse(response.kind).key),
                       fmt::format("{} is to last until the meeting ends, but nothing meets when it springs",
                                   textOf(rule.place)),
                       changing(rule.place, "For good", [i](Snare& snare) {
                           if (i < snare.responses.size())
                               std::visit(
                                   [](auto& kind) {
                                       if constexpr (requires { kind.until; })
                                           kind.until.reset();
                                   },
                                   snare.responses[i].kind);
                       }));
        }
    }
}

void lookForEmpty(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules)
        if (rule.snare->responses.empty())
            report.add(rule.place, {}, fmt::format("{} has no response", textOf(rule.place)), removing(rule.place));
}

/// What is wrong with a catch that says too little.
std::pair<std::string_view, std::string_view> lacking(const Catch& catches, EventKind kind)
{
    switch (familyOf(kind)) {
    case EventFamily::contact:
        return catches.at.empty() ? std::pair{"at", "where it catches"} : std::pair{"", ""};
    case EventFamily::timer:
        return catches.source.empty() ? std::pair{"source", "which timer"} : std::pair{"", ""};
    case EventFamily::watch:
        if (catches.source.empty() && catches.watch.empty())
            return {"source", "which number it watches"};
        return !catches.level ? std::pair{"level", "which level the number crosses"} : std::pair{"", ""};
    case EventFamily::call:
        return catches.name.empty() ? std::pair{"name", "which call"} : std::pair{"", ""};
    case EventFamily::value:
        return catches.value.empty() ? std::pair{"value", "which value changes"} : std::pair{"", ""};
    case EventFamily::signal:
        return catches.signal.empty() ? std::pair{"signal", "which signal"} : std::pair{"", ""};
    default:
        return {};
    }
}

template <class Member> bool isEmpty(const Member& value)
{
    if constexpr (requires { value.empty(); })
        return value.empty();
    else if constexpr (requires { value.names.empty(); })
        return value.names.empty();
    else if constexpr (requires { value.items.empty(); })
        return value.items.empty() || (value.items.size() == 1 && isEmpty(value.items.front()));
    else if constexpr (requires { value.has_value(); })
        return !value.has_value();
    else if constexpr (requires { value.literal(); }) {
        if constexpr (requires { value.literal()->empty(); })
            return value.literal() && value.literal()->empty();
        return false;
    }
    return false;
}

void lookForUnfilled(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules)
        for (const EventKind kind : rule.snare->catches.event.items)
            if (const auto [field, what] = lacking(rule.snare->catches, kind); !field.empty()) {
                Place place = rule.place;
                place.field = field;
                report.add(place, std::string(field), fmt::format("{} does not say: {}", textOf(rule.place), what));
            }
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i)
            std::visit(
                [&](const auto& kind) {
                    using Kind = std::decay_t<decltype(kind)>;
                    Place place = steps.place;
                    place.response = static_cast<int>(i);
                    bool wants = false;
                    bool has = false;
                    std::string_view first;
                    std::string_view about;
                    forEachField<Kind>([&](const auto& field) {
                        if constexpr (requires { field.isWanted; }) {
                            const bool empty = isEmpty(kind.*field.member);
                            if (field.isRequired && empty) {
                                place.field = field.key;
                                report.add(place, std::string(field.key),
                                           fmt::format("step {} of {} does not say: {}", i + 1, textOf(steps.place),
                                                       field.about));
                            }
                            if (field.isWanted && first.empty()) {
                                first = field.key;
                                about = field.about;
                            }
                            wants = wants || field.isWanted;
                            has = has || (field.isWanted && !empty);
                        }
                    });
                    if (wants && !has) {
                        place.field = first;
                        report.add(place, std::string(first),
                                   fmt::format("step {} of {} does not say: {}", i + 1, textOf(steps.place), about));
                    }
                },
                (*steps.responses)[i].kind);
}

constexpr std::array rows{
    FindingRow{"not-filled", Severity::warning, "a field that is left empty", "The step, or the snare, does nothing.",
               lookForUnfilled},
    FindingRow{"no-response", Severity::warning, "a snare without a response", "Nothing comes of it.", lookForEmpty},
    FindingRow{"static-moves", Severity::warning, "a move of what is static or driven",
               "Static pieces stay where they are, driven ones go where a take leads them.", lookForStatic},
    FindingRow{"arrives-at-once", Severity::warning, "an arrival wider than the way", "It has arrived before it goes.",
               lookForArrive},
    FindingRow{"zone-outside", Severity::warning, "a zone outside the bounds", "Nothing comes there.", lookForOutside},
    FindingRow{"random-outside", Severity::warning, "a random place outside the bounds",
               "What comes there is out of the scene at once.", lookForRandom},
    FindingRow{"without-end", Severity::warning, "spawned without end", "The scene fills until the run is stopped.",
               lookForEndless},
    FindingRow{"circle", Severity::warning, "signals in a circle without a condition", "The run stops as a storm.",
               lookForCircles},
    FindingRow{"walker-lost", Severity::warning, "the only steered walker is removed and nothing begins again",
               "Nobody can do anything after it.", lookForLostWalker},
    FindingRow{"same-keys", Severity::warning, "two walkers steered by the same keys", "They always move together.",
               lookForSharedKeys},
    FindingRow{"until-nothing", Severity::warning, "until the meeting ends, without a meeting",
               "It is set back at once, or never.", lookForUntil},
};

} // namespace

std::span<const FindingRow> rowsOfMishaps()
{
    return rows;
}

} // namespace snare::check
