// SPDX-License-Identifier: Apache-2.0
#include "rules/evaluator.h"

#include <array>

namespace snare::rules {

using scene::Answer;
using scene::Formula;
using scene::Scalar;
using world::LivePiece;
using world::World;

namespace {

std::optional<Scalar> scalarOf(const std::optional<Answer>& answer)
{
    if (!answer)
        return std::nullopt;
    return std::visit(
        []<class T>(const T& held) -> std::optional<Scalar> {
            if constexpr (std::is_same_v<T, Vec>)
                return std::nullopt;
            else
                return Scalar{held};
        },
        *answer);
}

std::optional<Answer> answerFrom(std::optional<Scalar> value)
{
    return value ? std::optional(scene::answerOf(*value)) : std::nullopt;
}

/// `event.side`: where the visitor came from (S3).
std::optional<Answer> eventValue(const Surroundings& around, std::string_view name)
{
    const Event& event = around.event;
    const bool contact = isContact(event.kind);
    const scene::EventFamily family = scene::familyOf(event.kind);
    if (event.with) // a call's own values stand before the others
        if (const Scalar* value = event.with->find(name))
            return scene::answerOf(*value);
    if (name == "name")
        return Answer{event.kind == EventKind::called ? event.word : std::string(scene::wordOf(event.kind))};
    if (name == "key" && family == scene::EventFamily::key)
        return Answer{event.word};
    if (name == "value" && event.value)
        return scene::answerOf(*event.value);
    if (name == "cause" && contact)
        return Answer{std::string(wordOf(event.cause))};
    if (name == "manner" && contact)
        return Answer{std::string(event.manner == Manner::stop ? "stop" : "sense")};
    if (name == "shape" && event.shape >= 0)
        return Answer{std::string(around.world.shapeName(event.shape))};
    if (name == "part" && event.part >= 0)
        return Answer{std::string(around.world.shapeName(event.part))};
    if (isPointer(event.visitor) && contact && name == "point")
        return Answer{around.world.pointer().at};
    if (event.act) {
        if (name == "button")
            return Answer{std::string(scene::wordOf(event.act->button))};
        if (name == "hold")
            return Answer{event.act->hold};
        if (name == "count")
            return Answer{static_cast<double>(event.act->count)};
        if (name == "point")
            return Answer{event.point};
        if (name == "normal" && event.normal != Vec{0, 0})
            return Answer{event.normal};
        if (name == "modifiers") {
            std::string all;
            for (const scene::Modifier modifier : event.act->modifiers)
                all += (all.empty() ? "" : " ") + std::string(scene::wordOf(modifier));
            return Answer{all};
        }
    }
    if (name == "side" && contact)
        if (const auto side = sideOf(event, around.world))
            return Answer{std::string(scene::wordOf(*side))};
    if (event.kind == EventKind::hit) {
        if (name == "speed")
            return Answer{event.speed};
        if (name == "point")
            return Answer{event.point};
        if (name == "normal")
            return Answer{event.normal};
    }
    return std::nullopt;
}

/// A piece, the scene or a source named by the first part of a path or by a target.
PieceIndex ownerNamed(std::string_view name, const Surroundings& around)
{
    if (name == "scene")
        return theScene;
    if (name == "self")
        return around.self;
    if (name == "visitor")
        return around.visitor;
    if (name == "sender") // who raised the signal, whoever is inside (P11)
        return around.event.kind == EventKind::heard ? around.event.sender : around.visitor;
    if (name == "pointer")
        return around.world.pointer().there ? thePointer : nobody;
    const PieceIndex piece = around.world.find(name);
    return piece == nobody ? around.world.findSource(name) : piece;
}

std::optional<Scalar> sceneValue(std::string_view name, const Surroundings& around)
{
    const World& world = around.world;
    if (const Scalar* value = world.variables().find(name))
        return *value;
    if (name == "age")
        return static_cast<double>(around.tick) / around.rate();
    if (name == "phase" && world.phase() >= 0)
        return world.phases()[static_cast<std::size_t>(world.phase())];
    constexpr std::array<std::string_view, 4> edges{"left", "bottom", "right", "top"};
    const auto edge = std::ranges::find(edges, name);
    if (edge != edges.end() && around.scene.bounds)
        return (*around.scene.bounds)[static_cast<std::size_t>(edge - edges.begin())];
    return std::nullopt;
}

} // namespace

bool canBeSet(PieceIndex owner, std::string_view name, const World& world)
{
    if (isPointer(owner))
        return false;
    if (world::isSource(owner))
        return name == "value";
    if (owner == theScene)
        return !scene::isBuiltInOfScene(name);
    if (!scene::isBuiltInOfPiece(name))
        return true;
    constexpr std::array<std::string_view, 4> speeds{"vx", "vy", "vz", "spin"};
    constexpr std::array<std::string_view, 4> places{"x", "y", "z", "turn"};
    const world::LivePiece& piece = world.piece(owner);
    return scene::canBuiltInBeSet(name) && !(piece.driven && std::ranges::find(speeds, name) != speeds.end()) &&
           !(piece.led && std::ranges::find(places, name) != places.end());
}

std::optional<Scalar> valueOf(PieceIndex owner, std::string_view name, const Surroundings& around)
{
    const World& world = around.world;
    if (owner == nobody)
        return std::nullopt;
    if (owner == theScene)
        return sceneValue(name, around);
    if (isPointer(owner)) {
        const Vec velocity = (world.pointer().at - world.pointer().before) * static_cast<double>(around.rate());
        return name == "x"                       ? std::optional<Scalar>{world.pointer().at.x}
               : name == "y"                     ? std::optional<Scalar>{world.pointer().at.y}
               : name == "vx"                    ? std::optional<Scalar>{velocity.x}
               : name == "vy"                    ? std::optional<Scalar>{velocity.y}
               : name == "speed"                 ? std::optional<Scalar>{glm::length(velocity)}
               : name == "id" || name == "group" ? std::optional<Scalar>{std::string("pointer")}
                                                 : std::nullopt;
    }
    if (world::isSource(owner)) {
        const bool dial =
            std::holds_alternative<scene::DialSource>(around.scene.sources[world::sourceNumber(owner)].kind);
        return dial && name == "value" ? std::optional<Scalar>{world.dials()[world::sourceNumber(owner)]}
                                       : std::nullopt;
    }
    const LivePiece& piece = world.piece(owner);
    if (const Scalar* value = piece.properties.find(name))
        return *value;
    const auto& pose = world.pose()[static_cast<std::size_t>(owner)];
    const Vec velocity = world.velocityOf(owner);
    if (name == "x")
        return pose.at.x;
    if (name == "y")
        return pose.at.y;
    if (name == "z")
        return pose.z;
    if (name == "vz")
        return piece.rise;
    if (name == "turn")
        return pose.turn;
    if (name == "vx")
        return velocity.x;
    if (name == "vy")
        return velocity.y;
    if (name == "speed")
        return glm::length(velocity);
    if (name == "spin")
        return piece.spin;
    if (name == "gravity")
        return piece.gravity;
    if (name == "walkSpeed" && piece.walks)
        return piece.speed;
    if (name == "facing")
        return piece.walks ? piece.facing : pose.turn;
    if (name == "shown")
        return piece.shown;
    if (name == "enabled")
        return piece.enabled;
    if (name == "phase" && piece.phase >= 0)
        return piece.model->phases[static_cast<std::size_t>(piece.phase)].id;
    if (name == "group")
        return world.groups().nameOf(piece.group);
    if (name == "layer")
        return static_cast<double>(piece.layer);
    if (name == "id")
        return piece.id;
    if (name == "template" && !piece.templateName.empty())
        return piece.templateName;
    if (name == "age")
        return static_cast<double>(around.tick - piece.born) / around.rate();
    if (name == "count")
        return static_cast<double>(around.presence.piecesIn(owner));
    if (name == "tags") {
        std::string all;
        for (const std::string& tag : piece.tags)
            all += (all.empty() ? "" : " ") + tag;
        return all;
    }
    return std::nullopt;
}

std::optional<Answer> answerAt(std::string_view path, const Surroundings& around)
{
    const auto dot = path.find('.');
    if (dot == std::string_view::npos)
        return std::nullopt;
    const std::string_view owner = path.substr(0, dot);
    const std::string_view name = path.substr(dot + 1);
    if (owner == "signal") {
        const Scalar* value = around.event.signal ? around.event.signal->with.find(name) : nullptr;
        return value ? std::optional(scene::answerOf(*value)) : std::nullopt;
    }
    if (owner == "with") {
        const Scalar* value = around.with ? around.with->find(name) : nullptr;
        return value ? std::optional(scene::answerOf(*value)) : std::nullopt;
    }
    if (owner == "event")
        return eventValue(around, name);
    // PIECE.PROPERTY.NAME: a value of the piece that the property names.
    if (const auto second = name.find('.'); second != std::string_view::npos) {
        const auto held = targetsOf(path.substr(0, dot + 1 + second), around);
        return held.empty() ? std::nullopt : answerFrom(valueOf(held.front().piece, name.substr(second + 1), around));
    }
    return answerFrom(valueOf(ownerNamed(owner, around), name, around));
}

std::optional<Scalar> valueAt(std::string_view path, const Surroundings& around)
{
    return scalarOf(answerAt(path, around));
}

namespace {

/// Numbers add up; texts are put one after the other as soon as there is one.
std::optional<Answer> sumOf(const Formula& formula, const Surroundings& around, std::string* why)
{
    double sum = 0;
    std::string text;
    bool isText = false;
    for (const Formula& part : formula.parts) {
        const auto value = scalarOf(answerOf(part, around, nullptr, why));
        if (!value)
            return std::nullopt;
        const auto* number = std::get_if<double>(&*value);
        isText = isText || !number;
        sum += number ? *number : 0;
        text += scene::textOf(*value);
    }
    return isText ? Answer{text} : Answer{sum};
}

std::optional<Answer> betweenOf(const Formula& formula, const Surroundings& around, std::string* why)
{
    const auto low = scalarOf(answerOf(formula.parts[0], around, nullptr, why));
    const auto high = scalarOf(answerOf(formula.parts[1], around, nullptr, why));
    const auto* from = low ? std::get_if<double>(&*low) : nullptr;
    const auto* to = high ? std::get_if<double>(&*high) : nullptr;
    if (!from || !to || !(*from <= *to))
        return std::nullopt;
    return Answer{around.evaluator.random.between(*from, *to)};
}

} // namespace

std::optional<Answer> answerOf(const Formula& formula, const Surroundings& around, const Figure* figure,
                               std::string* why)
{
    switch (formula.kind) {
    case Formula::Kind::literal:
        return formula.literal;
    case Formula::Kind::get:
        return answerAt(formula.text, around);
    case Formula::Kind::between:
        return betweenOf(formula, around, why);
    case Formula::Kind::oneOf:
        return answerOf(formula.parts[around.evaluator.random.choose(formula.parts.size())], around, figure, why);
    case Formula::Kind::sum:
        return sumOf(formula, around, why);
    case Formula::Kind::count:
        return Answer{countOf(formula.names, around)};
    case Formula::Kind::somewhere: {
        const auto point = somewhereIn(formula, around, figure);
        return point ? std::optional<Answer>{*point} : std::nullopt;
    }
    case Formula::Kind::script:
        return runScript(formula.text, around, why);
    }
    return std::nullopt;
}

std::optional<Scalar> resolve(const scene::Value<Scalar>& value, const Surroundings& around)
{
    if (const Scalar* literal = value.literal())
        return *literal;
    return scalarOf(answerOf(*value.formula(), around));
}

std::optional<double> resolve(const scene::Value<double>& value, const Surroundings& around)
{
    if (const double* literal = value.literal())
        return *literal;
    const auto found = answerOf(*value.formula(), around);
    const double* number = found ? std::get_if<double>(&*found) : nullptr;
    return number ? std::optional(*number) : std::nullopt;
}

std::optional<std::string> resolve(const scene::Value<std::string>& value, const Surroundings& around)
{
    if (const std::string* literal = value.literal())
        return *literal;
    const auto found = scalarOf(answerOf(*value.formula(), around));
    return found ? std::optional(scene::textOf(*found)) : std::nullopt;
}

std::optional<Vec> resolve(const scene::Coordinates& value, const Surroundings& around)
{
    const auto x = resolve(value.x, around);
    const auto y = resolve(value.y, around);
    return x && y ? std::optional(Vec{*x, *y}) : std::nullopt;
}

std::optional<Vec> resolve(const scene::Offset& value, const Surroundings& around)
{
    if (const Vec* literal = value.literal())
        return *literal;
    if (const auto* coordinates = std::get_if<scene::Coordinates>(&value.held))
        return resolve(*coordinates, around);
    const auto found = answerOf(std::get<Formula>(value.held), around);
    const Vec* point = found ? std::get_if<Vec>(&*found) : nullptr;
    return point ? std::optional(*point) : std::nullopt;
}

std::string filledIn(std::string_view text, const Surroundings& around)
{
    std::string result;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t open = text.find('{', at);
        const std::size_t close = open == std::string_view::npos ? open : text.find('}', open);
        if (close == std::string_view::npos)
            return result.append(text.substr(at));
        result.append(text.substr(at, open - at));
        const auto value = valueAt(text.substr(open + 1, close - open - 1), around);
        result.append(value ? scene::textOf(*value) : std::string(text.substr(open, close + 1 - open)));
        at = close + 1;
    }
    return result;
}

bool isSelected(std::string_view selector, const World& world, PieceIndex piece)
{
    if (piece < 0)
        return selector == "scene" && piece == theScene;
    const LivePiece& live = world.piece(piece);
    if (selector.starts_with("tag:"))
        return live.hasTag(selector.substr(4));
    if (selector.starts_with("group:"))
        return world.groups().nameOf(live.group) == selector.substr(6);
    if (selector.starts_with("template:"))
        return live.templateName == selector.substr(9);
    if (selector.starts_with("part:"))
        return !live.part.empty() && selector.substr(5) == live.part;
    return live.id == selector;
}

std::vector<PieceIndex> piecesOf(std::string_view selector, const World& world)
{
    std::vector<PieceIndex> result;
    for (std::size_t i = 0; i < world.pieces().size(); ++i)
        if (world.pieces()[i].present && isSelected(selector, world, static_cast<PieceIndex>(i)))
            result.push_back(static_cast<PieceIndex>(i));
    return result;
}

void dropRepeated(Targets& targets, bool tellShapes)
{
    Lookup<std::uint64_t, bool> seen;
    const auto isRepeated = [&](const Acted& one) {
        const int shape = tellShapes ? one.shape : -1;
        bool& before = seen[static_cast<std::uint64_t>(static_cast<std::uint32_t>(one.piece)) << 32 |
                            static_cast<std::uint32_t>(shape)];
        return std::exchange(before, true);
    };
    targets.erase(std::remove_if(targets.begin(), targets.end(), isRepeated), targets.end());
}

double countOf(std::span<const std::string> names, const Surroundings& around)
{
    Targets counted;
    for (const std::string& name : names)
        for (const Acted& target : targetsOf(name, around))
            if (target.piece >= 0)
                counted.push_back(target);
    dropRepeated(counted, false);
    return static_cast<double>(counted.size());
}

namespace {

/// The shapes of a piece by a name; none if there is none of the name.
Targets shapesNamed(PieceIndex piece, std::string_view shape, const World& world)
{
    Targets result;
    const LivePiece& live = world.piece(piece);
    for (std::size_t i = 0; i < live.shapeCount; ++i)
        if (live.shapeNames[i] == shape)
            result.push_back({piece, static_cast<int>(live.firstShape + i)});
    return result;
}

/// `inside:PIECE/SHAPE`: the visitors, in order of arrival.
Targets visitorsNamed(std::string_view place, const Surroundings& around)
{
    Targets result;
    for (const Acted& where : targetsOf(place, around)) {
        if (where.piece < 0)
            continue;
        std::vector<std::pair<MeetingId, PieceIndex>> inside; // in order of arrival there
        around.presence.forEachIn(where.piece, [&](const Presence::Stay& stay) {
            const Presence::InShape* in = where.shape < 0 ? nullptr : stay.in(where.shape);
            if (!isPointer(stay.visitor) && around.world.piece(stay.visitor).present && (where.shape < 0 || in))
                inside.emplace_back(in ? in->meeting : stay.meeting, stay.visitor);
        });
        std::ranges::sort(inside);
        for (const auto& [meeting, visitor] : inside)
            result.push_back({visitor, -1});
    }
    dropRepeated(result, false);
    return result;
}

} // namespace

namespace {

/// The laid assembly of self, or empty.
std::string_view laidOfSelf(const Surroundings& around)
{
    return around.self >= 0 ? std::string_view(around.world.piece(around.self).laid) : std::string_view();
}

/// All present parts of a laid assembly; `part`, if not empty, only the one of that name (A1, A2).
Targets partsOf(std::string_view laid, std::string_view part, std::string_view shape, const World& world)
{
    Targets result;
    for (std::size_t i = 0; i < world.pieces().size() && !laid.empty(); ++i) {
        const LivePiece& piece = world.pieces()[i];
        if (!piece.present || piece.laid != laid || (!part.empty() && piece.part != part))
            continue;
        const auto index = static_cast<PieceIndex>(i);
        if (shape.empty())
            result.push_back({index, -1});
        else
            for (const Acted& one : shapesNamed(index, shape, world))
                result.push_back(one);
    }
    return result;
}

} // namespace

Targets targetsOf(std::string_view name, const Surroundings& around)
{
    Targets result;
    if (name.starts_with("part:")) { // of the same laid one as self (A2)
        const auto [part, shape] = scene::splitShape(name.substr(5));
        return partsOf(laidOfSelf(around), part, shape, around.world);
    }
    if (name == "assembly" && !laidOfSelf(around).empty())
        return partsOf(laidOfSelf(around), {}, {}, around.world);
    if (scene::isSelector(name)) {
        for (const PieceIndex piece : piecesOf(name, around.world))
            result.push_back({piece, -1});
        return result;
    }
    if (name == "swept") {
        for (const PieceIndex piece : around.event.act ? around.event.act->swept : std::vector<PieceIndex>{})
            if (around.world.piece(piece).present)
                result.push_back({piece, -1});
        return result;
    }
    if (name.starts_with("inside:"))
        return visitorsNamed(name.substr(7), around);
    const auto [owner, shape] = scene::splitShape(name);
    // A part of a laid assembly by its whole id, `LAID.PART`; the laid one is all its parts (A1).
    if (const PieceIndex part = around.world.find(owner);
        part != nobody && owner.find('.') != std::string_view::npos && around.world.piece(part).present)
        return shape.empty() ? Targets{{part, -1}} : shapesNamed(part, shape, around.world);
    // PIECE.PROPERTY: the piece that the property names.
    if (const auto dot = owner.find('.'); dot != std::string_view::npos) {
        const auto held = valueAt(owner, around);
        const auto* id = held ? std::get_if<std::string>(&*held) : nullptr;
        const PieceIndex piece = id ? around.world.find(*id) : nobody;
        if (piece == nobody || !around.world.piece(piece).present)
            return result;
        return shape.empty() ? Targets{{piece, -1}} : shapesNamed(piece, shape, around.world);
    }
    const PieceIndex piece = ownerNamed(owner, around);
    if (piece == nobody && around.world.hasParts())
        return partsOf(owner, {}, shape, around.world);
    if (piece == nobody || (piece >= 0 && !around.world.piece(piece).present))
        return result;
    if (shape.empty()) {
        result.push_back({piece, -1});
        return result;
    }
    return piece < 0 ? result : shapesNamed(piece, shape, around.world);
}

} // namespace snare::rules
