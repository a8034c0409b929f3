// SPDX-License-Identifier: Apache-2.0
#include "rules/pointer_input.h"

#include "detect/pick.h"
#include "rules/clock.h"

#include <cmath>

namespace snare::rules {

using world::LivePiece;
using world::LiveShape;

namespace {

const LiveShape& shapeAt(const world::World& world, int shape)
{
    return world.shapes()[static_cast<std::size_t>(shape)];
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
template <class Presses> auto dragOf(Presses& presses) -> decltype(presses.data())
{
    const auto found = std::ranges::find_if(presses, [](const Press& press) { return press.drags || press.sweeps; });
    return found == presses.end() ? nullptr : &*found;
}

/// P1: whether some snare catches the pointer at this shape.
bool catchesPointerAt(int shape, const PointerContext& context)
{
    const world::World& world = context.world;
    const LiveShape& live = shapeAt(world, shape);
    std::vector<int> room;
    return std::ranges::any_of(context.book.pointerHearersAt(live.piece, world, room), [&](int snare) {
        const std::string& wanted = context.snareAt(snare).catches.shape;
        return context.hears(snare, live.piece) && (wanted.empty() || world.shapeName(shape) == wanted);
    });
}

bool catchesAny(std::initializer_list<EventKind> kinds, PieceIndex piece, scene::Button button,
                const PointerContext& context)
{
    const world::World& world = context.world;
    const auto hears = [&](int snare) {
        const auto& wanted = context.snareAt(snare).catches.button;
        return context.hears(snare, piece) && (!wanted || *wanted == button);
    };
    std::vector<int> room;
    return std::ranges::any_of(kinds, [&](EventKind kind) {
        return std::ranges::any_of(context.book.hearersOf(kind, piece, {}, world, room), hears);
    });
}

bool covers(int shape, const PointerContext& context)
{
    const world::World& world = context.world;
    const LiveShape& live = shapeAt(world, shape);
    const LivePiece& piece = world.piece(live.piece);
    return piece.isSeen() && live.isOn() && !piece.model->through &&
           (live.role == scene::Role::solid || catchesPointerAt(shape, context));
}

std::shared_ptr<const PointerAct> actOf(const Press& press, int count, const std::vector<std::string>& keysDown,
                                        const PointerContext& context)
{
    PointerAct act;
    act.button = press.button;
    act.modifiers = modifiersOf(keysDown);
    act.hold = static_cast<double>(context.tick - press.tick) / context.scene.rate;
    act.count = count;
    return std::make_shared<const PointerAct>(std::move(act));
}

} // namespace

void PointerInput::forget()
{
    under_.clear();
    met_.clear();
    everLooked_ = dragMoved_ = closing_ = false;
    dragTold_ = -1;
    lastClick_ = {};
    for (Press& press : presses_) {
        press.piece = nobody;
        press.below.clear();
        press.drags = press.sweeps = press.follows = false;
    }
}

bool PointerInput::moveKey(const std::string& key, bool down)
{
    const auto held = std::ranges::find(keysDown_, key);
    if (down == (held != keysDown_.end()))
        return false;
    if (down)
        keysDown_.push_back(key);
    else
        keysDown_.erase(held);
    return true;
}

std::vector<scene::Button> PointerInput::buttonsDown() const
{
    std::vector<scene::Button> result;
    for (const Press& press : presses_)
        result.push_back(press.button);
    return result;
}

// --- what is under it ----------------------------------------------------------------------------------------------

PieceIndex PointerInput::topmostUnder(const PointerContext& context, PieceIndex except) const
{
    const world::World& world = context.world;
    PieceIndex top = nobody;
    for (const int shape : under_) {
        const PieceIndex piece = shapeAt(world, shape).piece;
        if (piece == except || piece == top || (top != nobody && !detect::isOver(world, piece, top)))
            continue;
        if ((!world.pointer().sweptFrom || detect::isAtPointer(world, shape)) && covers(shape, context))
            top = piece;
    }
    return top;
}

/// The shape of a piece that the pointer is at, the last one drawn; -1: none.
int PointerInput::shapeUnder(PieceIndex piece, const PointerContext& context) const
{
    const world::World& world = context.world;
    int found = -1;
    for (const int shape : under_)
        if (shapeAt(world, shape).piece == piece && detect::isAtPointer(world, shape) && covers(shape, context))
            found = shape; // while a box is open more than what is at the pointer lies under it
    return found;
}

/// The pieces below the topmost one, from top to bottom: for those who reach through (P2).
std::vector<PieceIndex> PointerInput::belowTop(const world::World& world, PieceIndex top) const
{
    std::vector<PieceIndex> result;
    for (const int shape : under_) {
        const LiveShape& live = shapeAt(world, shape);
        const bool counts = live.piece != top && live.isOn() && world.piece(live.piece).isSeen() &&
                            std::ranges::find(result, live.piece) == result.end() && detect::isAtPointer(world, shape);
        if (counts)
            result.push_back(live.piece);
    }
    std::ranges::sort(result, [&](PieceIndex a, PieceIndex b) { return detect::isOver(world, a, b); });
    return result;
}

void PointerInput::lookUnder(const world::World& world, bool anew)
{
    const world::Pointer& pointer = world.pointer();
    if (!pointer.there)
        return under_.clear();
    const world::Pointer& looked = looked_;
    anew = anew || !everLooked_ || looked.at != pointer.at || looked.glass != pointer.glass ||
           looked.sweptFrom != pointer.sweptFrom;
    looked_ = pointer;
    everLooked_ = true;
    const auto look = [&](PieceIndex piece) {
        if (!world.piece(piece).present)
            return;
        for (std::size_t shape = world.shapeStarts()[static_cast<std::size_t>(piece)];
             shape < world.shapeStarts()[static_cast<std::size_t>(piece) + 1]; ++shape)
            if (detect::isUnderPointer(world, static_cast<int>(shape)))
                under_.push_back(static_cast<int>(shape));
    };
    if (anew) {
        under_.clear();
        for (std::size_t i = 0; i < world.pieces().size(); ++i)
            look(static_cast<PieceIndex>(i));
        return;
    }
    std::vector<PieceIndex> others = world.moved();
    for (const int shape : world.changed())
        others.push_back(shapeAt(world, shape).piece);
    std::ranges::sort(others);
    others.erase(std::unique(others.begin(), others.end()), others.end());
    std::erase_if(under_, [&](int shape) { return std::ranges::binary_search(others, shapeAt(world, shape).piece); });
    for (const PieceIndex piece : others)
        look(piece);
    std::ranges::sort(under_);
}

/// The meetings that the pointer has with what is under it now.
std::vector<PointerInput::Met> PointerInput::metNow(const PointerContext& context) const
{
    const world::World& world = context.world;
    std::vector<Met> now;
    if (!world.pointer().there)
        return now;
    const bool box = world.pointer().sweptFrom.has_value();
    const PieceIndex top = box ? nobody : topmostUnder(context);
    std::vector<int> room;
    const auto reaches = [&](int shape) {
        const PieceIndex piece = shapeAt(world, shape).piece;
        return std::ranges::any_of(context.book.pointerHearersAt(piece, world, room), [&](int snare) {
            const scene::Catch& catches = context.snareAt(snare).catches;
            return catches.reach == scene::Reach::all && context.book.namesPointer(snare) &&
                   context.hears(snare, piece) && (catches.shape.empty() || world.shapeName(shape) == catches.shape);
        });
    };
    for (const int shape : under_) {
        const LiveShape& live = shapeAt(world, shape);
        if (!world.piece(live.piece).meets() || !live.isOn())
            continue;
        if (reaches(shape))
            now.push_back({shape, pointerThrough, context.tick});
        if (box || (live.piece == top && covers(shape, context)))
            now.push_back({shape, thePointer, context.tick});
    }
    return now;
}

std::vector<detect::Change> PointerInput::compareMet(const PointerContext& context, bool atStart, bool afterMotion,
                                                     bool withStays)
{
    const world::World& world = context.world;
    std::vector<detect::Change> changes;
    std::vector<Met> now = metNow(context);
    const auto tell = [&](EventKind kind, const Met& met) {
        const LiveShape& shape = shapeAt(world, met.shape);
        detect::Change change;
        change.kind = kind;
        change.self = shape.piece;
        change.shape = met.shape;
        change.visitor = met.visitor;
        change.part = -1;
        change.cause = atStart ? Cause::start : afterMotion ? shape.changed : Cause::moved; // K7
        change.frac = afterMotion && change.cause == Cause::moved ? 1 : 0;                  // P2
        if (closing_ && kind == EventKind::exit)
            change.cause = Cause::swept;
        if (kind == EventKind::stay) {
            change.cause = Cause::moved;
            change.frac = 1;
        }
        changes.push_back(change);
    };
    for (const Met& was : met_)
        if (std::ranges::find(now, was.key(), &Met::key) == now.end())
            tell(EventKind::exit, was);
    for (Met& is : now) {
        const auto was = std::ranges::find(met_, is.key(), &Met::key);
        if (was == met_.end()) {
            tell(EventKind::enter, is);
            continue;
        }
        is.since = was->since;
        if (withStays && is.since < context.tick)
            tell(EventKind::stay, is);
    }
    met_ = std::move(now);
    closing_ = false;
    detect::sortChanges(changes);
    return changes;
}

std::vector<detect::Change> PointerInput::meetAfterMotion(const PointerContext& context, bool atStart, bool withStays)
{
    const world::World& world = context.world;
    if (!world.pointer().there)
        return {};
    if (const Press* drag = dragOf(presses_))
        if (drag->drags && drag->piece >= 0 && looked_.at != world.pointer().at)
            dragMoved_ = true; // the view has moved under it
    lookUnder(world, atStart);
    return compareMet(context, atStart, true, withStays);
}

std::vector<detect::Change> PointerInput::meetAnew(const PointerContext& context)
{
    lookUnder(context.world, true);
    return compareMet(context, false, false, false);
}

/// K5: what is gone, hidden or disabled is no longer met.
void PointerInput::addEnds(const world::World& world, double frac, const EndMarks& marks,
                           std::vector<detect::Change>& ended)
{
    const std::size_t before = ended.size();
    std::erase_if(met_, [&](const Met& met) {
        const LiveShape& shape = shapeAt(world, met.shape);
        if (shape.isOn() && world.piece(shape.piece).meets())
            return false;
        detect::Change change;
        change.kind = EventKind::exit;
        change.self = shape.piece;
        change.shape = met.shape;
        change.visitor = met.visitor;
        change.part = -1;
        change.cause = marks.of(met.shape, false);
        change.frac = frac;
        ended.push_back(change);
        return true;
    });
    if (ended.size() != before)
        detect::sortChanges(ended);
}

// --- what it does --------------------------------------------------------------------------------------------------

Event PointerInput::eventAt(EventKind kind, PieceIndex self, std::shared_ptr<const PointerAct> act,
                            const PointerContext& context) const
{
    const world::World& world = context.world;
    Event event;
    event.kind = kind;
    event.self = self;
    event.visitor = thePointer;
    event.word = std::string(scene::wordOf(act->button));
    event.act = std::move(act);
    event.point = world.pointer().at;
    if (self >= 0) {
        event.shape = shapeUnder(self, context);
        if (event.shape >= 0)
            event.normal =
                detect::edgeNormalAt(world, event.shape, world.pointerFor(self), nearEdge).value_or(Vec{0, 0});
    }
    return event;
}

/// The same event at `self` and, for those who reach through, at what lies below.
void PointerInput::addActs(std::vector<Item>& items, EventKind kind, PieceIndex self,
                           const std::vector<PieceIndex>& below, const std::shared_ptr<const PointerAct>& act,
                           const PointerContext& context) const
{
    const world::World& world = context.world;
    if (self != nobody)
        items.push_back({Item::Kind::event, 0, eventAt(kind, self, act, context)});
    std::vector<int> room;
    for (const PieceIndex piece : below) {
        const auto reaches = [&](int snare) {
            return context.snareAt(snare).catches.reach == scene::Reach::all && context.hears(snare, piece);
        };
        if (std::ranges::none_of(context.book.hearersOf(kind, piece, {}, world, room), reaches))
            continue;
        Event event = eventAt(kind, piece, act, context);
        event.visitor = pointerThrough;
        event.through = true;
        items.push_back({Item::Kind::event, 0, std::move(event)});
    }
}

std::vector<Item> PointerInput::press(scene::Button button, const PointerContext& context)
{
    const world::World& world = context.world;
    if (std::ranges::find(presses_, button, &Press::button) != presses_.end())
        return {};
    Press press;
    press.button = button;
    press.tick = context.tick;
    press.piece = nobody;
    std::vector<Item> items;
    if (world.pointer().there) {
        const PieceIndex top = topmostUnder(context);
        press.piece = top == nobody ? theScene : top;
        press.shape = top == nobody ? -1 : shapeUnder(top, context);
        press.below = belowTop(world, top);
        press.at = world.pointer().at;
        press.glass = world.pointer().glass;
        if (top != nobody)
            press.offset = world.pose()[static_cast<std::size_t>(top)].at - world.pointerFor(top);
        const Click& last = lastClick_;
        const double quick = doubleClickSeconds * context.scene.rate + tickSlack;
        if (last.piece == press.piece && last.button == button &&
            static_cast<double>(context.tick - last.tick) <= quick)
            press.count = last.count + 1;
        addActs(items, EventKind::down, press.piece, press.below, actOf(press, press.count, keysDown_, context),
                context);
    }
    presses_.push_back(std::move(press));
    return items;
}

std::vector<Item> PointerInput::release(scene::Button button, const PointerContext& context)
{
    const world::World& world = context.world;
    const auto found = std::ranges::find(presses_, button, &Press::button);
    if (found == presses_.end())
        return {};
    const Press press = std::move(*found);
    presses_.erase(found);
    if (!world.pointer().there)
        return {};
    const PieceIndex top = topmostUnder(context);
    const PieceIndex at = top == nobody ? theScene : top;
    const std::vector<PieceIndex> below = belowTop(world, top);
    std::vector<Item> items;
    addActs(items, EventKind::up, at, below, actOf(press, press.count, keysDown_, context), context);
    const bool lost = press.drags && (press.piece < 0 || !world.piece(press.piece).present); // the drag is over already
    if (press.drags && !lost) {
        Event end = eventAt(EventKind::dragEnd, press.piece, actOf(press, press.count, keysDown_, context), context);
        end.shape = press.shape;
        items.push_back({Item::Kind::event, 0, std::move(end)});
        const PieceIndex onto = topmostUnder(context, press.piece);
        std::vector<PieceIndex> others = belowTop(world, onto);
        std::erase(others, press.piece);
        const std::size_t first = items.size();
        addActs(items, EventKind::drop, onto, others, actOf(press, press.count, keysDown_, context), context);
        for (std::size_t i = first; i < items.size(); ++i)
            items[i].event.visitor = press.piece;
    } else if (press.sweeps) {
        PointerAct act = *actOf(press, press.count, keysDown_, context);
        for (const Met& met : metNow(context))
            if (const PieceIndex piece = shapeAt(world, met.shape).piece;
                std::ranges::find(act.swept, piece) == act.swept.end())
                act.swept.push_back(piece);
        items.push_back(
            {Item::Kind::event, 0,
             eventAt(EventKind::sweepEnd, theScene, std::make_shared<const PointerAct>(std::move(act)), context)});
        items.push_back({Item::Kind::sweepClosed, 0, {}});
    } else if (!press.drags && press.piece != nobody) {
        // P3: clicked is what got down and gets up, and below it what did both.
        std::vector<PieceIndex> both = below;
        std::erase_if(both,
                      [&](PieceIndex piece) { return std::ranges::find(press.below, piece) == press.below.end(); });
        const bool clicked = at == press.piece;
        Click& last = lastClick_;
        const bool quick =
            static_cast<double>(context.tick - last.tick) <= doubleClickSeconds * context.scene.rate + tickSlack;
        const int count = quick && last.piece == at && last.button == button ? last.count + 1 : 1;
        if (clicked)
            last = {at, button, context.tick, count};
        const auto act = actOf(press, count, keysDown_, context);
        addActs(items, EventKind::click, clicked ? at : nobody, both, act, context);
        if (clicked && count % 2 == 0)
            addActs(items, EventKind::doubled, at, both, act, context);
    }
    return items;
}

std::vector<Item> PointerInput::move(const Vec& to, bool onGlass, world::World& world, const PointerContext& context)
{
    world.movePointer(to, onGlass);
    std::vector<Item> items;
    Press* drag = dragOf(presses_);
    for (Press& press : presses_) {
        if (drag)
            break;
        if (press.piece == nobody)
            continue;
        const Vec way = world.pointer().onGlass ? world.pointer().glass - press.glass : world.pointer().at - press.at;
        if (glm::length(way) <= context.scene.dragStart)
            continue;
        const bool onPiece = press.piece >= 0;
        if (onPiece && (!world.piece(press.piece).present || !world.piece(press.piece).enabled))
            continue;
        // P4: what can be dragged, or listens to it. P5: otherwise a box, unless it listens to
        // clicks.
        press.follows = onPiece && world.piece(press.piece).model->draggable;
        press.drags =
            press.follows || (onPiece && catchesAny({EventKind::dragBegin, EventKind::drag, EventKind::dragEnd},
                                                    press.piece, press.button, context));
        press.sweeps = !press.drags && (!onPiece || !catchesAny({EventKind::down, EventKind::click, EventKind::doubled},
                                                                press.piece, press.button, context));
        if (!press.drags && !press.sweeps)
            continue;
        drag = &press;
        Event begin =
            eventAt(press.drags ? EventKind::dragBegin : EventKind::sweepBegin, press.drags ? press.piece : theScene,
                    actOf(press, press.count, keysDown_, context), context);
        begin.shape = press.shape;
        items.push_back({Item::Kind::event, 0, std::move(begin)});
        if (press.sweeps)
            world.openBox(press.at);
    }
    if (drag && drag->drags) {
        dragMoved_ = true;
        items.push_back({Item::Kind::dragPut, 0, {}});
    }
    items.push_back({Item::Kind::findUnder, 0, {}});
    return items;
}

/// What is dragged follows, as a put (P4).
std::optional<PendingChange> PointerInput::putOfDragged(const world::World& world) const
{
    const Press* drag = dragOf(presses_);
    if (!drag || !drag->follows || drag->piece < 0 || !world.piece(drag->piece).present)
        return std::nullopt;
    const Vec to = world.pointerFor(drag->piece) + drag->offset;
    if (world.pose()[static_cast<std::size_t>(drag->piece)].at != to)
        return PendingChange{.kind = PendingChange::Kind::put, .piece = drag->piece, .at = to};
    return std::nullopt;
}

/// `drag`, once in each tick in which it moved.
std::optional<Event> PointerInput::tellDrag(const PointerContext& context)
{
    const world::World& world = context.world;
    Press* drag = dragOf(presses_);
    if (!std::exchange(dragMoved_, false) || !drag || !drag->drags || dragTold_ == context.tick)
        return std::nullopt;
    if (drag->piece < 0 || !world.piece(drag->piece).present) {
        drag->drags = drag->follows = false; // it is gone, and the drag with it
        drag->piece = nobody;
        return std::nullopt;
    }
    dragTold_ = context.tick;
    Event event = eventAt(EventKind::drag, drag->piece, actOf(*drag, drag->count, keysDown_, context), context);
    event.shape = drag->shape;
    return event;
}

} // namespace snare::rules
