// SPDX-License-Identifier: Apache-2.0
#include "check/scout_hand.h"

#include "geometry/hull.h"

#include <algorithm>
#include <cmath>

namespace snare::check {

using scene::EventFamily;
using world::PieceIndex;

namespace {

/// Adds a word that is not there yet.
void addOnce(std::vector<std::string>& words, const std::string& word)
{
    if (!word.empty() && std::ranges::find(words, word) == words.end())
        words.push_back(word);
}

/// The key that stands for a modifier.
std::string keyFor(scene::Modifier modifier)
{
    switch (modifier) {
    case scene::Modifier::shift:
        return "Shift_L";
    case scene::Modifier::ctrl:
        return "Control_L";
    case scene::Modifier::alt:
        return "Alt_L";
    case scene::Modifier::super:
        return "Super_L";
    }
    return {};
}

bool isSteered(const scene::KeyLists& keys)
{
    return !(keys == scene::KeyLists{});
}

bool isSteered(const scene::Piece& piece)
{
    const auto* walker = std::get_if<scene::WalkerBody>(&piece.body);
    return walker && isSteered(scene::keysOf(walker->steer));
}

/// What a snare listens to that a hand can do.
void addCaught(Handles& handles, const scene::Snare& snare)
{
    const scene::Catch& catches = snare.catches;
    for (const scene::EventKind event : catches.event.items)
        switch (scene::familyOf(event)) {
        case EventFamily::key:
            addOnce(handles.keys, catches.key == "any" || (catches.key.empty() && catches.source.empty())
                                      ? std::string("space")
                                      : catches.key);
            break;
        case EventFamily::pointer:
            handles.pointer = true;
            if (catches.button && std::ranges::find(handles.buttons, *catches.button) == handles.buttons.end())
                handles.buttons.push_back(*catches.button);
            for (const scene::Modifier modifier : catches.modifiers.items)
                addOnce(handles.modifiers, keyFor(modifier));
            break;
        case EventFamily::call:
            if (!catches.name.empty() &&
                std::ranges::find(handles.calls, catches.name, &scene::CallInput::call) == handles.calls.end())
                handles.calls.push_back({catches.name, {}});
            break;
        default:
            break;
        }
    const auto& filter = snare.filter;
    handles.pointer = handles.pointer || std::ranges::find(filter.pieces, "pointer") != filter.pieces.end() ||
                      std::ranges::find(filter.groups, "pointer") != filter.groups.end();
}

} // namespace

Handles handlesOf(const scene::Scene& whole)
{
    Handles handles;
    handles.buttons.push_back(scene::Button::left);
    for (const scene::Source& source : whole.sources) {
        if (const auto* set = std::get_if<scene::KeySource>(&source.kind))
            for (const std::string& key : set->keys)
                addOnce(handles.keys, key == "any" ? std::string("space") : key);
        else if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
            handles.dials.push_back({source.id, dial->low, dial->high});
        else if (const auto* call = std::get_if<scene::CallSource>(&source.kind))
            handles.calls.push_back({call->name, call->values});
    }
    for (const scene::Snare& snare : whole.snares)
        addCaught(handles, snare);
    const auto addPiece = [&](const scene::Piece& piece) {
        handles.walks = handles.walks || isSteered(piece);
        handles.leads = handles.leads || std::holds_alternative<scene::DrivenBody>(piece.body);
        handles.pointer = handles.pointer || piece.draggable;
    };
    std::ranges::for_each(whole.pieces, addPiece);
    for (const auto& [name, form] : whole.templates.entries)
        addPiece(form.model);
    return handles;
}

geometry::Bounds areaOf(const scene::Scene& whole)
{
    if (whole.bounds) {
        const auto& [left, bottom, right, top] = *whole.bounds;
        return {{left, bottom}, {right, top}};
    }
    geometry::Bounds area;
    area.include(geometry::Vec{0, 0});
    for (const scene::Piece& piece : whole.pieces)
        if (!piece.pinned)
            area.include(piece.at);
    area.grow(2);
    return area;
}

ScoutHand::ScoutHand(const scene::Scene& whole, const Handles& handles, const rules::Book& book,
                     const std::vector<bool>& sprung, rules::CounterGenerator random, std::vector<scene::Input> held)
    : scene_(whole), handles_(handles), book_(book), sprung_(sprung), random_(random), area_(areaOf(whole)),
      held_(std::move(held))
{
}

std::int64_t ScoutHand::ticks(double low, double high)
{
    const double seconds = low * std::pow(high / low, chance());
    return std::max<std::int64_t>(1, std::llround(seconds * scene_.rate));
}

double ScoutHand::timeOf(std::int64_t tick) const
{
    constexpr double figures = 1e4;
    return std::floor(static_cast<double>(tick) / scene_.rate * figures) / figures;
}

void ScoutHand::give(Deed what, std::int64_t tick)
{
    inputs_.emplace_back(timeOf(tick), std::move(what));
}

void ScoutHand::setKey(const std::string& key, bool down, std::int64_t tick)
{
    const auto found = std::ranges::find(down_, key);
    if ((found != down_.end()) == down)
        return;
    if (down)
        down_.push_back(key);
    else
        down_.erase(found);
    give(scene::KeyInput{key, down}, tick);
}

std::vector<scene::Input> ScoutHand::act(const world::World& world, std::int64_t tick)
{
    inputs_.clear();
    for (scene::Input& input : held_) {
        if (const auto* key = input.as<scene::KeyInput>())
            give(scene::KeyInput{key->key, false}, tick);
        else if (const auto* button = input.as<scene::ButtonInput>())
            give(scene::ButtonInput{button->button, false}, tick);
    }
    held_.clear();
    if (handles_.walks) {
        if (walker_ == world::nobody && tick >= walkFrom_)
            beginWalk(world, tick);
        if (walker_ != world::nobody)
            walk(world, tick);
    }
    if (planned_.empty() && tick >= deedFrom_)
        beginDeed(world, tick);
    while (!planned_.empty() && planned_.front().tick <= tick) {
        Deed what = std::move(planned_.front().what);
        planned_.pop_front();
        if (const auto* key = std::get_if<scene::KeyInput>(&what))
            setKey(key->key, key->down, tick);
        else
            give(std::move(what), tick);
        if (planned_.empty())
            deedFrom_ = tick + ticks(0.1, 2.5);
    }
    return std::move(inputs_);
}

std::vector<scene::Input> ScoutHand::lead(const world::World& world, std::int64_t tick, std::int64_t end,
                                          const std::function<bool(const std::string& piece)>& isLed)
{
    std::vector<scene::Input> places;
    for (std::size_t i = 0; i < world.pieces().size() && handles_.leads; ++i) {
        const world::LivePiece& piece = world.pieces()[i];
        if (!piece.driven || !piece.present || isLed(piece.id) || chance() < 0.2)
            continue;
        geometry::Vec at = world.pose()[i].at;
        std::int64_t now = tick + ticks(0.1, 1);
        const auto goOn = [&](std::int64_t then) {
            places.emplace_back(timeOf(then), scene::TrackPlace{piece.id, at, {}});
        };
        goOn(std::max<std::int64_t>(1, tick));
        while (now < end) {
            goOn(now); // it sets out
            geometry::Vec goal = someTarget(world).at;
            goal = {std::round(goal.x * 1e3) / 1e3, std::round(goal.y * 1e3) / 1e3};
            const double speed = random_.between(0.5, 4); // m/s
            now += std::max<std::int64_t>(1, std::llround(glm::length(goal - at) / speed * scene_.rate));
            at = goal;
            goOn(now);
            now += ticks(0.1, 2.5);
        }
    }
    return places;
}

/// One of the pieces by their weights; nobody if none has any.
template <class Weight> PieceIndex ScoutHand::somePiece(const world::World& world, const Weight& weightAt)
{
    double all = 0;
    PieceIndex chosen = world::nobody;
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const double weight = weightAt(static_cast<PieceIndex>(i));
        if (weight <= 0)
            continue;
        all += weight; // one pass, as of a reservoir that holds one
        if (chance() * all < weight)
            chosen = static_cast<PieceIndex>(i);
    }
    return chosen;
}

/// How much a place draws that these snares listen at: rather one where something has never sprung.
double ScoutHand::weightOf(std::span<const int> snares) const
{
    double weight = 1;
    for (const int snare : snares)
        weight = std::max(weight, sprung_[static_cast<std::size_t>(snare)] ? 8.0 : 24.0);
    return weight;
}

/// A point within a shape of the piece, in the axes that it lies in.
geometry::Vec ScoutHand::pointOf(const world::World& world, PieceIndex piece)
{
    const geometry::Pose& pose = world.pose()[static_cast<std::size_t>(piece)];
    const auto shapes = world.shapesOf(piece);
    if (shapes.empty())
        return pose.at;
    const auto parts = world.partsOf(shapes[random_.choose(shapes.size())]);
    if (parts.empty())
        return pose.at;
    const geometry::Hull& hull = parts[random_.choose(parts.size())];
    geometry::Vec sum{0, 0};
    double weights = 0;
    for (const geometry::Vec& corner : hull.corners()) {
        const double weight = 0.05 + chance();
        sum += weight * corner;
        weights += weight;
    }
    return geometry::toScene(pose, sum / weights);
}

// --- Walking

void ScoutHand::beginWalk(const world::World& world, std::int64_t tick)
{
    walker_ = somePiece(world, [&](PieceIndex i) {
        const world::LivePiece& piece = world.piece(i);
        return piece.meets() && piece.walks && isSteered(piece.keys) ? 1.0 : 0.0;
    });
    walkFrom_ = tick + scene_.rate; // if there is nobody to steer
    if (walker_ == world::nobody)
        return;
    const geometry::Vec at = world.pose()[static_cast<std::size_t>(walker_)].at;
    const PieceIndex place = somePiece(world, [&](PieceIndex i) {
        if (i == walker_ || !world.piece(i).meetsPieces())
            return 0.0;
        const int climbs = world.piece(walker_).climbs;
        const auto isLadder = [&](const world::LiveShape& shape) { return climbs >= 0 && shape.group == climbs; };
        double weight = std::ranges::any_of(world.shapesOf(i), isLadder) ? 4.0 : 1.0;
        for (const scene::EventKind kind :
             {scene::EventKind::enter, scene::EventKind::stay, scene::EventKind::exit, scene::EventKind::hit})
            weight = std::max(weight, weightOf(book_.hearersOf(kind, i, {}, world, room_)));
        return weight;
    });
    // Most often to a place; else somewhere, or on in one direction.
    const double kind = chance();
    goal_ = kind < 0.65 && place != world::nobody ? pointOf(world, place) : somewhere(world).at;
    if (kind > 0.85)
        goal_ = at + 100.0 * geometry::Vec{std::floor(random_.between(-1, 2)), std::floor(random_.between(-1, 2))};
    const double speed = std::max(0.1, world.piece(walker_).speed);
    const double wanted = std::min(8.0, 1.5 * glm::length(goal_ - at) / speed + 0.5);
    walkUntil_ = tick + std::max<std::int64_t>(1, std::llround(wanted * scene_.rate));
    lastAt_ = at;
    stuck_ = 0;
    sidestepUntil_ = 0;
}

/// Presses the keys for a way, and lets the others go.
void ScoutHand::steer(const world::LivePiece& walker, const geometry::Vec& way, std::int64_t tick)
{
    const auto set = [&](const std::vector<std::string>& keys, bool down) {
        for (const std::string& key : keys)
            if (!down)
                setKey(key, false, tick);
        if (down && !keys.empty())
            setKey(keys.front(), true, tick);
    };
    const scene::KeyLists& keys = walker.keys;
    set(keys.left, way.x < 0);
    set(keys.right, way.x > 0);
    // Where up is the key of the jump, it is pressed as one.
    if (keys.up != keys.jump || keys.jump.empty())
        set(keys.up, way.y > 0);
    set(keys.down, way.y < 0);
}

void ScoutHand::walk(const world::World& world, std::int64_t tick)
{
    const world::LivePiece& walker = world.piece(walker_);
    const geometry::Vec at = world.pose()[static_cast<std::size_t>(walker_)].at;
    const bool falls = glm::length(world.gravity()) > 0;
    const geometry::Vec toGoal = goal_ - at;
    constexpr double close = 0.15;                                                   // m
    const bool isLevel = std::abs(toGoal.y) < close || (falls && walker.climbs < 0); // as far as it can do something
    const bool isThere = std::abs(toGoal.x) < close && isLevel;
    if (isThere || tick >= walkUntil_ || !walker.meets())
        return endWalk(tick);
    const auto often = std::max<std::int64_t>(1, scene_.rate / 10);
    if (tick % often != 0)
        return;
    if (glm::length(at - lastAt_) < 0.02 && tick > often)
        ++stuck_;
    lastAt_ = at;
    if (stuck_ >= 2) { // round what is in the way
        stuck_ = 0;
        const double turn = chance() < 0.5 ? 1 : -1;
        sidestep_ = std::abs(toGoal.x) > std::abs(toGoal.y) ? geometry::Vec{chance() < 0.3 ? -toGoal.x : 0.0, turn}
                                                            : geometry::Vec{turn, chance() < 0.3 ? -toGoal.y : 0.0};
        sidestepUntil_ = tick + ticks(0.2, 1.5);
    }
    const bool jumps = !walker.keys.jump.empty() && chance() < (stuck_ > 0 ? 0.5 : falls ? 0.08 : 0.02);
    if (jumps && planned_.empty()) {
        plan(tick, scene::KeyInput{walker.keys.jump.front(), true});
        plan(tick + ticks(0.05, 0.5), scene::KeyInput{walker.keys.jump.front(), false});
    }
    geometry::Vec way = tick < sidestepUntil_ ? sidestep_ : toGoal;
    for (int axis = 0; axis < 2; ++axis)
        if (std::abs(way[axis]) < close)
            way[axis] = 0;
    steer(walker, way, tick);
}

/// It stays there for a while, so that what takes time comes, too.
void ScoutHand::endWalk(std::int64_t tick)
{
    const std::vector<std::string> down = down_;
    for (const std::string& key : down)
        if (std::ranges::none_of(planned_, [&](const Planned& one) {
                const auto* input = std::get_if<scene::KeyInput>(&one.what);
                return input && input->key == key;
            }))
            setKey(key, false, tick);
    walker_ = world::nobody;
    walkFrom_ = tick + ticks(0.05, 2.5);
}

// --- Deeds

void ScoutHand::beginDeed(const world::World& world, std::int64_t tick)
{
    std::vector<void (ScoutHand::*)(std::int64_t)> deeds;
    if (!handles_.keys.empty())
        deeds.push_back(&ScoutHand::pressKey);
    if (!handles_.dials.empty())
        deeds.push_back(&ScoutHand::turnDial);
    if (!handles_.calls.empty())
        deeds.push_back(&ScoutHand::raiseCall);
    deedFrom_ = tick + ticks(0.1, 2.5);
    const std::size_t chosen = random_.choose(deeds.size() + (handles_.pointer ? 1 + deeds.size() : 1));
    if (chosen < deeds.size())
        (this->*deeds[chosen])(tick);
    else if (handles_.pointer)
        point(world, tick);
}

void ScoutHand::pressKey(std::int64_t tick)
{
    const std::string& key = handles_.keys[random_.choose(handles_.keys.size())];
    std::int64_t at = tick;
    const std::size_t times = chance() < 0.15 ? 2 : 1;
    for (std::size_t i = 0; i < times; ++i) {
        plan(at, scene::KeyInput{key, true});
        at += ticks(0.03, chance() < 0.3 ? 1.5 : 0.2);
        plan(at, scene::KeyInput{key, false});
        at += ticks(0.03, 0.2);
    }
}

void ScoutHand::turnDial(std::int64_t tick)
{
    const Handles::Dial& dial = handles_.dials[random_.choose(handles_.dials.size())];
    const double part = chance();
    const double value = part < 0.15   ? dial.low
                         : part > 0.85 ? dial.high
                                       : std::lerp(dial.low, dial.high, (part - 0.15) / 0.7);
    plan(tick, scene::DialInput{dial.name, std::round(value * 1e3) / 1e3});
}

void ScoutHand::raiseCall(std::int64_t tick)
{
    scene::CallInput call = handles_.calls[random_.choose(handles_.calls.size())];
    if (chance() < 0.5)
        for (auto& [name, value] : call.with.entries)
            if (auto* number = std::get_if<double>(&value)) {
                const std::array others{0.0, 1.0, *number + 1, -*number, *number * 10};
                *number = others.at(random_.choose(others.size()));
            }
    plan(tick, std::move(call));
}

ScoutHand::Target ScoutHand::somewhere(const world::World& world)
{
    geometry::Bounds area = area_;
    if (world.bounds())
        area = *world.bounds();
    return {{random_.between(area.low.x, area.high.x), random_.between(area.low.y, area.high.y)}, false};
}

/// A piece that can be pointed at: rather one at which the pointer is caught.
ScoutHand::Target ScoutHand::someTarget(const world::World& world)
{
    const PieceIndex piece = somePiece(world, [&](PieceIndex i) {
        const world::LivePiece& one = world.piece(i);
        if (!one.isSeen() || one.model->through)
            return 0.0;
        return std::max(one.model->draggable ? 8.0 : 1.0, weightOf(book_.pointerHearersAt(i, world, room_)));
    });
    if (piece == world::nobody || chance() < 0.15)
        return somewhere(world);
    return {pointOf(world, piece), world.piece(piece).pinned};
}

/// Puts the pointer there. What follows a piece goes by the glass, as a person's hand does.
Deed ScoutHand::placeAt(const world::World& world, const Target& target) const
{
    const auto rounded = [](const geometry::Vec& v) {
        return geometry::Vec{std::round(v.x * 1e3) / 1e3, std::round(v.y * 1e3) / 1e3};
    };
    const bool byGlass = target.isPinned || world.view().follow != world::nobody;
    if (!byGlass)
        return scene::PointerMove{rounded(target.at)};
    return scene::GlassMove{rounded(target.isPinned ? target.at : target.at - world.viewCorner())};
}

void ScoutHand::point(const world::World& world, std::int64_t tick)
{
    const Target target = someTarget(world);
    plan(tick, placeAt(world, target));
    const double kind = chance();
    if (kind < 0.15) // only there
        return;
    if (kind > 0.6)
        return drag(world, target, tick + 1);
    const scene::Button button = handles_.buttons[random_.choose(handles_.buttons.size())];
    const bool modified = !handles_.modifiers.empty() && chance() < 0.5;
    const std::string modifier = modified ? handles_.modifiers[random_.choose(handles_.modifiers.size())] : "";
    std::int64_t at = tick + ticks(0.02, 0.4);
    if (modified)
        plan(at, scene::KeyInput{modifier, true});
    const std::size_t times = kind < 0.25 ? 2 : 1;
    for (std::size_t i = 0; i < times; ++i) {
        plan(at, scene::ButtonInput{button, true});
        at += kind > 0.5 ? ticks(0.3, 1.5) : ticks(0.03, 0.12);
        plan(at, scene::ButtonInput{button, false});
        at += ticks(0.03, 0.12);
    }
    if (modified)
        plan(at, scene::KeyInput{modifier, false});
}

/// From where the pointer is to another place, in some steps.
void ScoutHand::drag(const world::World& world, const Target& from, std::int64_t tick)
{
    const auto onGround = [&](const Target& target) {
        return target.isPinned ? target.at + world.viewCorner() : target.at;
    };
    const geometry::Vec begin = onGround(from);
    const geometry::Vec end = onGround(someTarget(world));
    const std::size_t steps = 3 + random_.choose(6);
    std::int64_t at = tick;
    plan(at, scene::ButtonInput{handles_.buttons.front(), true});
    for (std::size_t i = 1; i <= steps; ++i) {
        at += ticks(0.02, 0.15);
        const double part = static_cast<double>(i) / static_cast<double>(steps);
        plan(at, placeAt(world, {begin + part * (end - begin), false}));
    }
    at += ticks(0.02, 0.6);
    plan(at, scene::ButtonInput{handles_.buttons.front(), false});
}

} // namespace snare::check
