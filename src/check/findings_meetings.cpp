// SPDX-License-Identifier: Apache-2.0
/// Findings about meetings and the pointer: what can never come where it is caught.
#include "check/facts.h"

#include "geometry/hull.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

bool catches(const Snare& snare, EventKind kind)
{
    return std::ranges::find(snare.catches.event.items, kind) != snare.catches.event.items.end();
}

bool catchesFamily(const Snare& snare, EventFamily family)
{
    return std::ranges::any_of(snare.catches.event.items, [&](EventKind kind) { return familyOf(kind) == family; });
}

/// The names of several pieces, a few of them.
std::string listOf(const std::vector<const Body*>& bodies)
{
    constexpr std::size_t most = 3;
    std::string text;
    for (std::size_t i = 0; i < std::min(bodies.size(), most); ++i)
        text += (i == 0 ? "" : ", ") + (bodies[i]->spawned ? bodies[i]->form : bodies[i]->piece->id);
    return bodies.size() > most ? fmt::format("{} and {} more", text, bodies.size() - most) : text;
}

/// Why two pieces never meet (M1, M2, M15), as far as that is known; nothing if they may.
enum class Obstacle { none, bothStatic, passes, senses, heights, phases };

class Meetings {
  public:
    explicit Meetings(const Facts& facts) : facts_(facts)
    {
        for (const std::string& group : facts.groups)
            if (facts.isGiven(group))
                given_.push_back(group);
        for (const ContactRule& rule : facts.scene.contacts) {
            table_.emplace(rule.first + '>' + rule.second, rule.contact); // the first of a pair counts
            table_.emplace(rule.second + '>' + rule.first, rule.contact);
        }
    }

    /// With `hit`: whether one can hit the other. `shape`: one shape of the first, or empty.
    Obstacle between(const Body& at, std::string_view shape, const Body& visitor, bool hit) const
    {
        const Piece& a = *at.piece;
        const Piece& b = *visitor.piece;
        if (std::holds_alternative<StaticBody>(a.body) && std::holds_alternative<StaticBody>(b.body))
            return Obstacle::bothStatic;
        if (!a.during.items.empty() && !b.during.items.empty() &&
            std::ranges::none_of(a.during.items, [&](const std::string& phase) {
                return std::ranges::find(b.during.items, phase) != b.during.items.end();
            }))
            return Obstacle::phases;
        Obstacle best = Obstacle::passes;
        for (std::size_t i = 0; i < a.shapes.size(); ++i) {
            if (!shape.empty() && shapeName(a, i) != shape)
                continue;
            for (const Shape& other : b.shapes) {
                const Obstacle one = between(at, a.shapes[i], visitor, other, hit);
                if (one == Obstacle::none)
                    return one;
                best = std::max(best, one);
            }
        }
        return best;
    }

  private:
    Obstacle between(const Body& at, const Shape& mine, const Body& visitor, const Shape& theirs, bool hit) const
    {
        if (hit && (mine.role == Role::zone || theirs.role == Role::zone))
            return Obstacle::senses;
        Obstacle best = Obstacle::passes;
        for (const std::string& a : groupsOf(at, mine))
            for (const std::string& b : groupsOf(visitor, theirs)) {
                const auto entry = table_.find(fmt::format("{}>{}", a, b));
                const Contact contact = entry == table_.end() ? Contact::stop : entry->second;
                if (contact == Contact::stop || (contact != Contact::pass && !hit))
                    best = Obstacle::none;
                else if (contact == Contact::sense && best != Obstacle::none)
                    best = Obstacle::senses;
            }
        if (best == Obstacle::none && areApart(at, mine, visitor, theirs))
            return Obstacle::heights;
        return best;
    }

    /// The groups that a shape can be in at some time.
    std::vector<std::string> groupsOf(const Body& body, const Shape& shape) const
    {
        std::vector<std::string> groups{shape.group.empty() ? body.piece->group : shape.group};
        groups.insert(groups.end(), given_.begin(), given_.end());
        return groups;
    }

    bool areApart(const Body& at, const Shape& mine, const Body& visitor, const Shape& theirs) const
    {
        if (facts_.heightsChange || at.spawned || visitor.spawned || !mine.band || !theirs.band || rises(at) ||
            rises(visitor))
            return false;
        const double a = at.piece->z;
        const double b = visitor.piece->z;
        return a + (*mine.band)[1] <= b + (*theirs.band)[0] || b + (*theirs.band)[1] <= a + (*mine.band)[0];
    }

    static bool rises(const Body& body)
    {
        if (const auto* kinematic = std::get_if<KinematicBody>(&body.piece->body))
            return kinematic->rise != 0;
        const auto* dynamic = std::get_if<DynamicBody>(&body.piece->body);
        return dynamic && dynamic->rise != 0;
    }

    const Facts& facts_;
    std::vector<std::string> given_; ///< groups that any piece may be put into
    std::unordered_map<std::string, Contact> table_;
};

/// Calls `visit` with the rule, those at which it catches, and those that may come, for each that
/// catches contacts and of which both are known.
template <class Visit> void forContacts(const Facts& facts, Visit&& visit)
{
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        const auto& groups = snare.filter.groups;
        if (!catchesFamily(snare, EventFamily::contact) || !facts.isPlain(snare.catches.at, &rule) ||
            std::ranges::find(groups, "pointer") != groups.end())
            continue;
        const std::vector<const Body*> at = facts.oneOfEach(facts.bodiesOf(snare.catches.at, &rule));
        if (at.empty() || std::ranges::any_of(at, [](const Body* body) { return body->piece->shapes.empty(); }))
            continue;
        std::vector<const Body*> visitors;
        if (snare.filter.pieces.empty()) {
            for (const Body* body : facts.kinds())
                if (facts.mayPass(*body, snare.filter))
                    visitors.push_back(body);
        } else {
            for (const std::string& id : snare.filter.pieces)
                if (const Body* body = facts.body(id); body && facts.mayPass(*body, snare.filter))
                    visitors.push_back(body);
        }
        visit(rule, at, visitors);
    }
}

void lookForFilters(const Facts& facts, Report& report)
{
    forContacts(facts, [&](const Rule& rule, const auto&, const std::vector<const Body*>& visitors) {
        const Filter& filter = rule.snare->filter;
        // What each condition alone keeps out is told by the findings about names.
        const bool all =
            std::ranges::all_of(filter.tags.all, [&](const std::string& tag) { return facts.tags.contains(tag); });
        const bool any = filter.tags.any.empty() || std::ranges::any_of(filter.tags.any, [&](const std::string& tag) {
                             return facts.tags.contains(tag);
                         });
        const bool groups = filter.groups.empty() || std::ranges::any_of(filter.groups, [&](const std::string& group) {
                                return facts.groups.contains(group);
                            });
        const bool pieces = filter.pieces.empty() || std::ranges::any_of(filter.pieces, [&](const std::string& piece) {
                                return facts.piece(piece) != nullptr;
                            });
        if (!visitors.empty() || !all || !any || !groups || !pieces || facts.bodies.empty())
            return;
        Place place = rule.place;
        place.field = "filter";
        report.add(place, {}, fmt::format("{} has conditions that no piece meets all together", textOf(rule.place)));
    });
}

/// Why nobody and nothing of these can meet.
std::string reasonOf(Obstacle obstacle, const std::string& who, const std::string& where)
{
    switch (obstacle) {
    case Obstacle::bothStatic:
        return fmt::format("{} and {} are static", who, where);
    case Obstacle::passes:
        return fmt::format("by the table of groups {} and {} pass each other", who, where);
    case Obstacle::senses:
        return fmt::format("{} and {} only sense each other, so that nothing hits", who, where);
    case Obstacle::heights:
        return fmt::format("{} and {} are at other heights", who, where);
    case Obstacle::phases:
        return fmt::format("{} and {} are there in other phases", who, where);
    case Obstacle::none:
        break;
    }
    return {};
}

/// Lets the first shapes of two pieces meet, by the table of groups.
std::optional<Fix> meetByTable(const scene::Piece& at, const scene::Piece& visitor, bool hitOnly)
{
    if (at.shapes.empty() || visitor.shapes.empty())
        return {};
    const std::string a = at.shapes[0].group.empty() ? at.group : at.shapes[0].group;
    const std::string b = visitor.shapes[0].group.empty() ? visitor.group : visitor.shapes[0].group;
    return Fix{fmt::format("Let {} {} {}", b, hitOnly ? "stop at" : "sense", a), [a, b, hitOnly](scene::Scene& scene) {
                   const Contact wanted = hitOnly ? Contact::stop : Contact::sense;
                   for (ContactRule& one : scene.contacts)
                       if ((one.first == a && one.second == b) || (one.first == b && one.second == a)) {
                           one.contact = wanted;
                           return;
                       }
                   scene.contacts.push_back({a, b, wanted});
               }};
}

void lookForPairs(const Facts& facts, Report& report)
{
    const Meetings meetings{facts};
    forContacts(facts, [&](const Rule& rule, const std::vector<const Body*>& at,
                           const std::vector<const Body*>& visitors) {
        constexpr std::size_t mostPairs = 20'000; // of kinds; beyond that nothing is said
        if (visitors.empty())
            return;
        const bool hitOnly =
            std::ranges::all_of(rule.snare->catches.event.items, [](EventKind kind) { return kind == EventKind::hit; });
        const std::string_view shape = rule.snare->catches.shape.empty() ? splitShape(rule.snare->catches.at).second
                                                                         : std::string_view(rule.snare->catches.shape);
        const bool hasShape = shape.empty() || std::ranges::any_of(at, [&](const Body* body) {
                                  return findShape(*body->piece, shape).has_value();
                              });
        if (!hasShape) // a name that points nowhere
            return;
        Obstacle best = Obstacle::bothStatic;
        std::size_t pairs = 0;
        const Body* near = nullptr;
        for (const Body* one : at)
            for (const Body* visitor : visitors) {
                if (one == visitor && !one->spawned && facts.countOf(*one) == 1)
                    continue;
                if (++pairs > mostPairs)
                    return;
                const Obstacle obstacle = meetings.between(*one, shape, *visitor, hitOnly);
                if (obstacle == Obstacle::none)
                    return;
                if (!near || obstacle > best) {
                    best = obstacle;
                    near = visitor;
                }
            }
        if (!near)
            return;
        // A hit at a zone has a finding of its own.
        if (hitOnly && std::ranges::all_of(at, [](const Body* body) {
                return std::ranges::all_of(body->piece->shapes,
                                           [](const Shape& one) { return one.role == Role::zone; });
            }))
            return;
        const std::string who = visitors.size() == 1 ? listOf({near}) : "whoever it lets through";
        const std::string where = listOf(facts.bodiesOf(rule.snare->catches.at, &rule));
        const std::string why = reasonOf(best, who, where);
        const bool isByTable = best == Obstacle::passes || best == Obstacle::senses;
        Place place = rule.place;
        place.field = "at";
        report.add(place, where, fmt::format("{} waits for what cannot come: {}", textOf(rule.place), why),
                   isByTable && at.size() == 1 ? meetByTable(*at[0]->piece, *near->piece, hitOnly) : std::nullopt);
    });
}

void lookForHits(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        if (!catches(*rule.snare, EventKind::hit) || !facts.isPlain(rule.snare->catches.at, &rule))
            continue;
        const std::vector<const Body*>& at = facts.bodiesOf(rule.snare->catches.at, &rule);
        const std::string& shape = rule.snare->catches.shape;
        const bool zonesOnly = !at.empty() && std::ranges::all_of(at, [&](const Body* body) {
            const Piece& piece = *body->piece;
            bool any = false;
            for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
                if (!shape.empty() && shapeName(piece, i) != shape)
                    continue;
                any = true;
                if (piece.shapes[i].role == Role::solid)
                    return false;
            }
            return any;
        });
        if (!zonesOnly)
            continue;
        Place place = rule.place;
        place.field = "event";
        report.add(place, listOf(at),
                   fmt::format("{} waits for a hit, and nothing can hit a zone: {}", textOf(rule.place), listOf(at)),
                   changing(rule.place, "Wait for enter", [](Snare& snare) {
                       std::ranges::replace(snare.catches.event.items, EventKind::hit, EventKind::enter);
                   }));
    }
}

/// Pieces that pass the pointer through never have it (P5).
void lookForThrough(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const bool needsIt = std::ranges::any_of(rule.snare->catches.event.items, [](EventKind kind) {
            return familyOf(kind) == EventFamily::pointer && kind != EventKind::sweepBegin &&
                   kind != EventKind::sweepEnd;
        });
        if (!needsIt || !facts.isPlain(rule.snare->catches.at, &rule))
            continue;
        const std::vector<const Body*>& at = facts.bodiesOf(rule.snare->catches.at, &rule);
        if (at.empty() || !std::ranges::all_of(at, [](const Body* body) { return body->piece->through; }))
            continue;
        Place place = rule.place;
        place.field = "at";
        std::optional<Fix> fix;
        if (at.size() == 1 && !at[0]->spawned && !at[0]->piece->partOf)
            fix = Fix{fmt::format("Let {} take the pointer", at[0]->piece->id),
                      [id = at[0]->piece->id](scene::Scene& scene) {
                          if (Piece* piece = findPiece(scene, id))
                              piece->through = false;
                      }};
        report.add(
            place, listOf(at),
            fmt::format("{} waits for the pointer at {}, which passes it through", textOf(rule.place), listOf(at)),
            std::move(fix));
    }
}

/// The box around an unturned piece without shapes that are turned or no boxes; nothing for others.
std::optional<geometry::Bounds> boxOf(const Piece& piece)
{
    if (piece.turn != 0 || piece.shapes.size() != 1 || piece.shapes[0].turn != 0)
        return std::nullopt;
    const auto* box = std::get_if<Box>(&piece.shapes[0].geometry);
    const auto* circle = std::get_if<Circle>(&piece.shapes[0].geometry);
    if (!box && !circle)
        return std::nullopt;
    const Vec half = box ? box->size * 0.5 : Vec{circle->radius, circle->radius};
    const Vec middle = piece.at + piece.shapes[0].at;
    return geometry::Bounds{middle - half, middle + half};
}

/// What lies wholly under another piece that nothing takes away is never clicked (P2).
void lookForCovered(const Facts& facts, Report& report)
{
    // Pieces that something acts on may go or change; the others stay as they are.
    const auto isActedOn = [&](const Body& body) {
        return std::ranges::any_of(facts.steps, [&](const Steps& steps) {
            return std::ranges::any_of(*steps.responses, [&](const Response& response) {
                return std::visit(
                    [&](const auto& kind) {
                        if constexpr (requires { kind.on; })
                            return std::ranges::any_of(kind.on.names, [&](const std::string& name) {
                                return name == "self" && steps.rule
                                           ? facts.means(steps.rule->snare->catches.at, body, steps.rule)
                                           : !facts.isPlain(name, steps.rule) || facts.means(name, body, steps.rule);
                            });
                        return false;
                    },
                    response.kind);
            });
        });
    };
    std::vector<const Body*> covers;
    for (const Body& body : facts.bodies) {
        const Piece& over = *body.piece;
        if (!body.spawned && !over.through && over.enabled && over.shown && over.during.items.empty() &&
            std::holds_alternative<StaticBody>(over.body) && over.shapes.size() == 1 &&
            std::holds_alternative<Box>(over.shapes[0].geometry))
            covers.push_back(&body);
    }
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        if (snare.catches.reach == Reach::all || !catchesFamily(snare, EventFamily::pointer))
            continue;
        const Piece* under = facts.piece(snare.catches.at);
        const auto box = under ? boxOf(*under) : std::nullopt;
        if (!box || !std::holds_alternative<StaticBody>(under->body) || under->z != 0)
            continue;
        for (const Body* body : covers) {
            const Piece& over = *body->piece;
            const bool isAbove = &over != under && over.pinned == under->pinned &&
                                 (over.layer > under->layer || (over.layer == under->layer && &over > under));
            if (!isAbove)
                continue;
            const auto cover = boxOf(over);
            const bool isWhole = cover && cover->low.x <= box->low.x && cover->low.y <= box->low.y &&
                                 cover->high.x >= box->high.x && cover->high.y >= box->high.y;
            if (!isWhole || isActedOn(*body))
                continue;
            Place place = rule.place;
            place.field = "at";
            report.add(
                place, over.id,
                fmt::format("{} waits for the pointer at {}, which lies wholly under {}", textOf(rule.place), under->id,
                            over.id),
                changing(rule.place, "Also below others", [](Snare& changed) { changed.catches.reach = Reach::all; }));
            break;
        }
    }
}

void lookForInside(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const Catch& caught = rule.snare->catches;
        if (caught.inside == Inside::no)
            continue;
        const std::vector<const Body*>& at = facts.bodiesOf(caught.at, &rule);
        const bool isKnown = facts.isPlain(caught.at, &rule);
        const bool hasZone = std::ranges::any_of(at, [](const Body* body) {
            return std::ranges::any_of(body->piece->shapes,
                                       [](const Shape& shape) { return shape.role == Role::zone; });
        });
        if (hasZone || (!isKnown && !caught.at.empty() && caught.at != "scene"))
            continue;
        Place place = rule.place;
        place.field = "inside";
        report.add(place, caught.at.empty() ? "scene" : caught.at,
                   fmt::format("{} asks who is inside {}, which has no zone", textOf(rule.place),
                               caught.at.empty() ? "the scene" : caught.at),
                   changing(rule.place, "Ask nobody inside", [](Snare& snare) { snare.catches.inside = Inside::no; }));
    }
}

/// S4: only `enter` and `stay` wait.
void lookForIdleDwells(const Facts& facts, Report& report)
{
    for (const Rule& rule : facts.rules) {
        const Snare& snare = *rule.snare;
        if (!snare.gate.dwell || catches(snare, EventKind::enter) || catches(snare, EventKind::stay))
            continue;
        const std::string_view event = wordFor(snare.catches.event.items.front()).word;
        Place place = rule.place;
        place.field = "dwell";
        report.add(place, std::string(event),
                   fmt::format("{} waits for a stay of {:.9g} s, but {} does not wait", textOf(rule.place),
                               *snare.gate.dwell, event),
                   changing(rule.place, "Do not wait", [](Snare& one) { one.gate.dwell.reset(); }));
    }
}

void lookForClimbing(const Facts& facts, Report& report)
{
    for (const Body& body : facts.bodies) {
        const auto* walker = std::get_if<WalkerBody>(&body.piece->body);
        if (!walker || walker->climbs.empty() || !facts.groups.contains(walker->climbs))
            continue;
        const bool hasZone = std::ranges::any_of(facts.bodies, [&](const Body& other) {
            return std::ranges::any_of(other.piece->shapes, [&](const Shape& shape) {
                return shape.role == Role::zone &&
                       ((shape.group.empty() ? other.piece->group : shape.group) == walker->climbs ||
                        facts.isGiven(walker->climbs));
            });
        });
        if (!hasZone)
            report.add({body.spawned ? Place::Of::form : Place::Of::piece, body.spawned ? body.form : body.piece->id},
                       walker->climbs,
                       fmt::format("{} climbs the group {}, in which there is no zone",
                                   body.spawned ? body.form : body.piece->id, walker->climbs));
    }
}

constexpr std::array rows{
    FindingRow{"nobody-passes", Severity::warning, "conditions that nobody meets all together",
               "The snare never springs.", lookForFilters},
    FindingRow{"cannot-meet", Severity::warning, "a pair that cannot meet",
               "By bodies, groups, heights or phases, what is waited for never comes.", lookForPairs},
    FindingRow{"hit-at-zone", Severity::warning, "a hit at a zone", "Zones stop nobody, so that nothing hits them.",
               lookForHits},
    FindingRow{"pointer-through", Severity::warning, "the pointer at what passes it through",
               "The pointer never meets it.", lookForThrough},
    FindingRow{"covered", Severity::warning, "the pointer at what lies wholly under something else",
               "What is above has the pointer.", lookForCovered},
    FindingRow{"inside-nothing", Severity::warning, "inside, at what has no zone", "Nobody is ever inside.",
               lookForInside},
    FindingRow{"idle-dwell", Severity::warning, "a dwell at an event that does not wait",
               "Only enter and stay wait; the snare springs at once.", lookForIdleDwells},
    FindingRow{"climbs-nothing", Severity::warning, "a walker that climbs a group without a zone", "It never climbs.",
               lookForClimbing},
};

} // namespace

std::span<const FindingRow> rowsOfMeetings()
{
    return rows;
}

} // namespace snare::check
