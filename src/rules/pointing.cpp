// SPDX-License-Identifier: Apache-2.0
/// The pointer as a visitor: what it meets, and what its buttons do (P1 to P6).
#include "rules/engine.h"

#include "detect/pick.h"
#include "rules/clock.h"

#include <cmath>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

namespace {

const LiveShape& shapeAt(const world::World& world, int shape)
{
    return world.shapes[static_cast<std::size_t>(shape)];
}

std::vector<scene::Modifier> modifiersOf(const std::vector<std::string>& keysDown)
{
    using scene::Modifier;
    constexpr std::array<std::pair<std::string_view, Modifier>, 10> keys{{{"Shift_L", Modifier::shift},
                                                                          {"Shift_R", Modifier::shift},
                                                                          {"Control_L", Modifier::ctrl},
                                                                          {"Control_R", Modifier::ctrl},
                                                                          {"Alt_L", Modifier::alt},
                                                                          {"Alt_R", Modifier::alt},
                                                                          {"Meta_L", Modifier::super},
                                                                          {"Meta_R", Modifier::super},
                                                                          {"Super_L", Modifier::super},
                                                                          {"Super_R", Modifier::super}}};
    std::vector<Modifier> result;
    for (const auto& [key, modifier] : keys) {
        const bool held = std::ranges::find(keysDown, key) != keysDown.end();
        if (held && std::ranges::find(result, modifier) == result.end())
            result.push_back(modifier);
    }
    return result;
}

/// The drag or the box that is under way: one at a time.
Press* dragOf(std::vector<Press>& presses)
{
    const auto found = std::ranges::find_if(presses, [](const Press& press) { return press.drags || press.sweeps; });
    return found == presses.end() ? nullptr : &*found;
}

} // namespace

std::vector<scene::Button> Engine::buttonsDown() const
{
    std::vector<scene::Button> result;
    for (const Press& press : pointing_.presses)
        result.push_back(press.button);
    return result;
}

// --- who listens ---------------------------------------------------------------------------------------------------

bool Engine::catchesAct(int snare, const Event& event, const world::World& world) const
{
    const scene::Catch& catches = snareAt(snare).catches;
    const Where& where = book_.where(snare);
    if (!hearsAt(where, event.self, world) || (event.through && catches.reach != scene::Reach::all))
        return false;
    if (catches.button && *catches.button != event.act->button)
        return false;
    const auto isHeld = [&](scene::Modifier modifier) {
        return std::ranges::find(event.act->modifiers, modifier) != event.act->modifiers.end();
    };
    if (!std::ranges::all_of(catches.modifiers.items, isHeld))
        return false;
    if (catches.shape.empty() || event.self < 0)
        return true;
    // What is dragged is told by where it was pressed, the rest by what the pointer is over.
    const bool dragged =
        event.kind == EventKind::dragBegin || event.kind == EventKind::drag || event.kind == EventKind::dragEnd;
    if (dragged)
        return event.shape >= 0 && world.shapeName(event.shape) == catches.shape;
    for (const LiveShape& shape : world.shapesOf(event.self)) {
        const int index = static_cast<int>(&shape - world.shapes.data());
        if (world.shapeName(index) == catches.shape)
            return shape.isOn() && detect::isAtPointer(world, index);
    }
    return false;
}

/// P1: whether some snare catches the pointer at this shape.
bool Engine::catchesPointerAt(int shape, const world::World& world) const
{
    const LiveShape& live = shapeAt(world, shape);
    std::vector<int> room;
    return std::ranges::any_of(book_.pointerHearersAt(live.piece, world, room), [&](int snare) {
        const std::string& wanted = snareAt(snare).catches.shape;
        return hearsAt(book_.where(snare), live.piece, world) && (wanted.empty() || world.shapeName(shape) == wanted);
    });
}

bool Engine::catchesAny(std::initializer_list<EventKind> kinds, PieceIndex piece, scene::Button button,
                        const world::World& world) const
{
    const auto hears = [&](int snare) {
        const auto& wanted = snareAt(snare).catches.button;
        return hearsAt(book_.where(snare), piece, world) && (!wanted || *wanted == button);
    };
    std::vector<int> room;
    return std::ranges::any_of(kinds, [&](EventKind kind) {
        return std::ranges::any_of(book_.hearersOf(kind, piece, {}, world, room), hears);
    });
}

// --- what is under it ----------------------------------------------------------------------------------------------

bool Engine::covers(int shape, const world::World& world) const
{
    const LiveShape& live = shapeAt(world, shape);
    const LivePiece& piece = world.piece(live.piece);
    return piece.isSeen() && live.isOn() && !piece.model->through &&
           (live.role == scene::Role::solid || catchesPointerAt(shape, world));
}

PieceIndex Engine::topmostUnder(const world::World& world, PieceIndex except) const
{
    PieceIndex top = nobody;
    for (const int shape : pointing_.under) {
        const PieceIndex piece = shapeAt(world, shape).piece;
        if (piece == except || piece == top || (top != nobody && !detect::isOver(world, piece, top)))
            continue;
        if ((!world.pointer.sweptFrom || detect::isAtPointer(world, shape)) && covers(shape, world))
            top = piece;
    }
    return top;
}

/// The shape of a piece that the pointer is at, the last one drawn; -1: none.
int Engine::shapeUnder(PieceIndex piece, const world::World& world) const
{
    int found = -1;
    for (const int shape : pointing_.under)
        if (shapeAt(world, shape).piece == piece && detect::isAtPointer(world, shape) && covers(shape, world))
            found = shape; // while a box is open more than what is at the pointer lies under it
    return found;
}

/// The pieces below the topmost one, from top to bottom: for those who reach through (P2).
std::vector<PieceIndex> Engine::belowTop(const world::World& world, PieceIndex top) const
{
    std::vector<PieceIndex> result;
    for (const int shape : pointing_.under) {
        const LiveShape& live = shapeAt(world, shape);
        const bool counts = live.piece != top && live.isOn() && world.piece(live.piece).isSeen() &&
                            std::ranges::find(result, live.piece) == result.end() && detect::isAtPointer(world, shape);
        if (counts)
            result.push_back(live.piece);
    }
    std::ranges::sort(result, [&](PieceIndex a, PieceIndex b) { return detect::isOver(world, a, b); });
    return result;
}

void Engine::lookUnder(const world::World& world, bool anew)
{
    auto& under = pointing_.under;
    const world::Pointer& pointer = world.pointer;
    if (!pointer.there)
        return under.clear();
    const world::Pointer& looked = pointing_.looked;
    anew = anew || !pointing_.everLooked || looked.at != pointer.at || looked.glass != pointer.glass ||
           looked.sweptFrom != pointer.sweptFrom;
    pointing_.looked = pointer;
    pointing_.everLooked = true;
    const auto look = [&](PieceIndex piece) {
        if (!world.piece(piece).present)
            return;
        for (std::size_t shape = world.shapeStarts[static_cast<std::size_t>(piece)];
             shape < world.shapeStarts[static_cast<std::size_t>(piece) + 1]; ++shape)
            if (detect::isUnderPointer(world, static_cast<int>(shape)))
                under.push_back(static_cast<int>(shape));
    };
    if (anew) {
        under.clear();
        for (std::size_t i = 0; i < world.pieces.size(); ++i)
            look(static_cast<PieceIndex>(i));
        return;
    }
    std::vector<PieceIndex> others = world.moved;
    for (const int shape : world.changed)
        others.push_back(shapeAt(world, shape).piece);
    std::ranges::sort(others);
    others.erase(std::unique(others.begin(), others.end()), others.end());
    std::erase_if(under, [&](int shape) { return std::ranges::binary_search(others, shapeAt(world, shape).piece); });
    for (const PieceIndex piece : others)
        look(piece);
    std::ranges::sort(under);
}

/// The meetings that the pointer has with what is under it now.
std::vector<Pointing::Met> Engine::metNow(const world::World& world) const
{
    std::vector<Pointing::Met> now;
    if (!world.pointer.there)
        return now;
    const bool box = world.pointer.sweptFrom.has_value();
    const PieceIndex top = box ? nobody : topmostUnder(world);
    std::vector<int> room;
    const auto reaches = [&](int shape) {
        const PieceIndex piece = shapeAt(world, shape).piece;
        return std::ranges::any_of(book_.pointerHearersAt(piece, world, room), [&](int snare) {
            const scene::Catch& catches = snareAt(snare).catches;
            return catches.reach == scene::Reach::all && book_.namesPointer(snare) &&
                   hearsAt(book_.where(snare), piece, world) &&
                   (catches.shape.empty() || world.shapeName(shape) == catches.shape);
        });
    };
    for (const int shape : pointing_.under) {
        const LiveShape& live = shapeAt(world, shape);
        if (!world.piece(live.piece).meets() || !live.isOn())
            continue;
        if (reaches(shape))
            now.push_back({shape, pointerThrough, tick_});
        if (box || (live.piece == top && covers(shape, world)))
            now.push_back({shape, thePointer, tick_});
    }
    return now;
}

std::vector<detect::Change> Engine::compareMet(const world::World& world, bool atStart, bool afterMotion,
                                               bool withStays)
{
    std::vector<detect::Change> changes;
    std::vector<Pointing::Met> now = metNow(world);
    const auto tell = [&](EventKind kind, const Pointing::Met& met) {
        const LiveShape& shape = shapeAt(world, met.shape);
        detect::Change change;
        change.kind = kind;
        change.self = shape.piece;
        change.shape = met.shape;
        change.visitor = met.visitor;
        change.part = -1;
        change.cause = atStart ? Cause::start : afterMotion ? shape.changed : Cause::moved; // K7
        change.frac = afterMotion && change.cause == Cause::moved ? 1 : 0;                  // P2
        if (pointing_.closing && kind == EventKind::exit)
            change.cause = Cause::swept;
        if (kind == EventKind::stay) {
            change.cause = Cause::moved;
            change.frac = 1;
        }
        changes.push_back(change);
    };
    for (const Pointing::Met& was : pointing_.met)
        if (std::ranges::find(now, was.key(), &Pointing::Met::key) == now.end())
            tell(EventKind::exit, was);
    for (Pointing::Met& is : now) {
        const auto was = std::ranges::find(pointing_.met, is.key(), &Pointing::Met::key);
        if (was == pointing_.met.end()) {
            tell(EventKind::enter, is);
            continue;
        }
        is.since = was->since;
        if (withStays && is.since < tick_)
            tell(EventKind::stay, is);
    }
    pointing_.met = std::move(now);
    pointing_.closing = false;
    detect::sortChanges(changes);
    return changes;
}

std::vector<detect::Change> Engine::meetPointer(const world::World& world, bool atStart, bool withStays)
{
    if (!world.pointer.there)
        return {};
    if (const Press* drag = dragOf(pointing_.presses))
        if (drag->drags && drag->piece >= 0 && pointing_.looked.at != world.pointer.at)
            pointing_.dragMoved = true; // the view has moved under it
    lookUnder(world, atStart);
    return compareMet(world, atStart, true, withStays);
}

/// K5: what is gone, hidden or disabled is no longer met.
void Engine::addPointerEnds(const world::World& world, double frac, std::vector<detect::Change>& ended)
{
    const std::size_t before = ended.size();
    std::erase_if(pointing_.met, [&](const Pointing::Met& met) {
        const LiveShape& shape = shapeAt(world, met.shape);
        if (shape.isOn() && world.piece(shape.piece).meets())
            return false;
        detect::Change change;
        change.kind = EventKind::exit;
        change.self = shape.piece;
        change.shape = met.shape;
        change.visitor = met.visitor;
        change.part = -1;
        change.cause = ends_.of(met.shape, false);
        change.frac = frac;
        ended.push_back(change);
        return true;
    });
    if (ended.size() != before)
        detect::sortChanges(ended);
}

// --- what it does --------------------------------------------------------------------------------------------------

std::shared_ptr<const PointerAct> Engine::actOf(const Press& press, int count) const
{
    PointerAct act;
    act.button = press.button;
    act.modifiers = modifiersOf(keysDown_);
    act.hold = static_cast<double>(tick_ - press.tick) / scene_->rate;
    act.count = count;
    return std::make_shared<const PointerAct>(std::move(act));
}

Event Engine::pointerEvent(EventKind kind, PieceIndex self, std::shared_ptr<const PointerAct> act,
                           const world::World& world) const
{
    Event event;
    event.kind = kind;
    event.self = self;
    event.visitor = thePointer;
    event.word = std::string(scene::wordOf(act->button));
    event.act = std::move(act);
    event.point = world.pointer.at;
    if (self >= 0) {
        event.shape = shapeUnder(self, world);
        if (event.shape >= 0)
            event.normal =
                detect::edgeNormalAt(world, event.shape, world.pointerFor(self), nearEdge).value_or(Vec{0, 0});
    }
    return event;
}

/// The same event at `self` and, for those who reach through, at what lies below.
void Engine::addActs(std::vector<Item>& items, EventKind kind, PieceIndex self, const std::vector<PieceIndex>& below,
                     const std::shared_ptr<const PointerAct>& act, const world::World& world) const
{
    if (self != nobody)
        items.push_back({Item::Kind::event, 0, pointerEvent(kind, self, act, world)});
    std::vector<int> room;
    for (const PieceIndex piece : below) {
        const auto reaches = [&](int snare) {
            return snareAt(snare).catches.reach == scene::Reach::all && hearsAt(book_.where(snare), piece, world);
        };
        if (std::ranges::none_of(book_.hearersOf(kind, piece, {}, world, room), reaches))
            continue;
        Event event = pointerEvent(kind, piece, act, world);
        event.visitor = pointerThrough;
        event.through = true;
        items.push_back({Item::Kind::event, 0, std::move(event)});
    }
}

void Engine::buttonDown(scene::Button button, const Stagehand& hand)
{
    if (std::ranges::find(pointing_.presses, button, &Press::button) != pointing_.presses.end())
        return;
    const world::World& world = hand.world;
    Press press;
    press.button = button;
    press.tick = tick_;
    press.piece = nobody;
    std::vector<Item> items;
    if (world.pointer.there) {
        const PieceIndex top = topmostUnder(world);
        press.piece = top == nobody ? theScene : top;
        press.shape = top == nobody ? -1 : shapeUnder(top, world);
        press.below = belowTop(world, top);
        press.at = world.pointer.at;
        press.glass = world.pointer.glass;
        if (top != nobody)
            press.offset = world.pose[static_cast<std::size_t>(top)].at - world.pointerFor(top);
        const Pointing::Click& last = pointing_.lastClick;
        const double quick = doubleClickSeconds * scene_->rate + tickSlack;
        if (last.piece == press.piece && last.button == button && static_cast<double>(tick_ - last.tick) <= quick)
            press.count = last.count + 1;
        addActs(items, EventKind::down, press.piece, press.below, actOf(press, press.count), world);
    }
    pointing_.presses.push_back(std::move(press));
    agenda_.insertNext(std::move(items));
}

void Engine::buttonUp(scene::Button button, const Stagehand& hand)
{
    const auto found = std::ranges::find(pointing_.presses, button, &Press::button);
    if (found == pointing_.presses.end())
        return;
    const Press press = std::move(*found);
    pointing_.presses.erase(found);
    const world::World& world = hand.world;
    if (!world.pointer.there)
        return;
    const PieceIndex top = topmostUnder(world);
    const PieceIndex at = top == nobody ? theScene : top;
    const std::vector<PieceIndex> below = belowTop(world, top);
    std::vector<Item> items;
    addActs(items, EventKind::up, at, below, actOf(press, press.count), world);
    const bool lost = press.drags && (press.piece < 0 || !world.piece(press.piece).present); // the drag is over already
    if (press.drags && !lost) {
        Event end = pointerEvent(EventKind::dragEnd, press.piece, actOf(press, press.count), world);
        end.shape = press.shape;
        items.push_back({Item::Kind::event, 0, std::move(end)});
        const PieceIndex onto = topmostUnder(world, press.piece);
        std::vector<PieceIndex> others = belowTop(world, onto);
        std::erase(others, press.piece);
        const std::size_t first = items.size();
        addActs(items, EventKind::drop, onto, others, actOf(press, press.count), world);
        for (std::size_t i = first; i < items.size(); ++i)
            items[i].event.visitor = press.piece;
    } else if (press.sweeps) {
        PointerAct act = *actOf(press, press.count);
        for (const Pointing::Met& met : metNow(world))
            if (const PieceIndex piece = shapeAt(world, met.shape).piece;
                std::ranges::find(act.swept, piece) == act.swept.end())
                act.swept.push_back(piece);
        items.push_back(
            {Item::Kind::event, 0,
             pointerEvent(EventKind::sweepEnd, theScene, std::make_shared<const PointerAct>(std::move(act)), world)});
        items.push_back({Item::Kind::sweepClosed, 0, {}});
    } else if (!press.drags && press.piece != nobody) {
        // P3: clicked is what got down and gets up, and below it what did both.
        std::vector<PieceIndex> both = below;
        std::erase_if(both,
                      [&](PieceIndex piece) { return std::ranges::find(press.below, piece) == press.below.end(); });
        const bool clicked = at == press.piece;
        Pointing::Click& last = pointing_.lastClick;
        const bool quick = static_cast<double>(tick_ - last.tick) <= doubleClickSeconds * scene_->rate + tickSlack;
        const int count = quick && last.piece == at && last.button == button ? last.count + 1 : 1;
        if (clicked)
            last = {at, button, tick_, count};
        const auto act = actOf(press, count);
        addActs(items, EventKind::click, clicked ? at : nobody, both, act, world);
        if (clicked && count % 2 == 0)
            addActs(items, EventKind::doubled, at, both, act, world);
    }
    agenda_.insertNext(std::move(items));
}

void Engine::pointerMoved(const Item& item, const Stagehand& hand)
{
    world::World& world = hand.world;
    world.movePointer(item.event.point, item.id != 0);
    std::vector<Item> items;
    Press* drag = dragOf(pointing_.presses);
    for (Press& press : pointing_.presses) {
        if (drag)
            break;
        if (press.piece == nobody)
            continue;
        const Vec way = world.pointer.onGlass ? world.pointer.glass - press.glass : world.pointer.at - press.at;
        if (glm::length(way) <= scene_->dragStart)
            continue;
        const bool onPiece = press.piece >= 0;
        if (onPiece && (!world.piece(press.piece).present || !world.piece(press.piece).enabled))
            continue;
        // P4: what can be dragged, or listens to it. P5: otherwise a box, unless it listens to clicks.
        press.follows = onPiece && world.piece(press.piece).model->draggable;
        press.drags =
            press.follows || (onPiece && catchesAny({EventKind::dragBegin, EventKind::drag, EventKind::dragEnd},
                                                    press.piece, press.button, world));
        press.sweeps = !press.drags && (!onPiece || !catchesAny({EventKind::down, EventKind::click, EventKind::doubled},
                                                                press.piece, press.button, world));
        if (!press.drags && !press.sweeps)
            continue;
        drag = &press;
        Event begin = pointerEvent(press.drags ? EventKind::dragBegin : EventKind::sweepBegin,
                                   press.drags ? press.piece : theScene, actOf(press, press.count), world);
        begin.shape = press.shape;
        items.push_back({Item::Kind::event, 0, std::move(begin)});
        if (press.sweeps)
            world.pointer.sweptFrom = press.at;
    }
    if (drag && drag->drags) {
        pointing_.dragMoved = true;
        items.push_back({Item::Kind::dragPut, 0, {}});
    }
    items.push_back({Item::Kind::findUnder, 0, {}});
    agenda_.insertNext(std::move(items));
}

/// What is dragged follows, as a put (P4).
void Engine::putDragged(const Stagehand& hand)
{
    const Press* drag = dragOf(pointing_.presses);
    if (!drag || !drag->follows || drag->piece < 0 || !hand.world.piece(drag->piece).present)
        return;
    const Vec to = hand.world.pointerFor(drag->piece) + drag->offset;
    if (hand.world.pose[static_cast<std::size_t>(drag->piece)].at != to)
        noted_.push_back({.kind = Noted::Kind::put, .piece = drag->piece, .at = to});
}

/// `drag`, once in each tick in which it moved.
void Engine::tellDrag(const Stagehand& hand)
{
    Press* drag = dragOf(pointing_.presses);
    if (!std::exchange(pointing_.dragMoved, false) || !drag || !drag->drags || pointing_.dragTold == tick_)
        return;
    if (drag->piece < 0 || !hand.world.piece(drag->piece).present) {
        drag->drags = drag->follows = false; // it is gone, and the drag with it
        drag->piece = nobody;
        return;
    }
    pointing_.dragTold = tick_;
    putDragged(hand);
    Event event = pointerEvent(EventKind::drag, drag->piece, actOf(*drag, drag->count), hand.world);
    event.shape = drag->shape;
    agenda_.insertNext({{Item::Kind::event, 0, std::move(event)}});
}

void Engine::queueInputsEnd()
{
    if (!pointing_.presses.empty() || !agenda_.empty())
        agenda_.addInput(Item::Kind::dragTold);
}

} // namespace snare::rules
