// SPDX-License-Identifier: Apache-2.0
#include "rules/presence.h"

namespace snare::rules {

void Presence::clear()
{
    slots_.clear();
    free_.clear();
    slotOf_.clear();
    places_.clear();
    ofVisitor_.clear();
    inShape_.clear();
}

const Presence::Stay* Presence::find(PieceIndex self, PieceIndex visitor) const
{
    if (placeOf(self).all == 0)
        return nullptr;
    const int* slot = slotOf_.find(keyOf(self, visitor));
    return slot ? &slots_[static_cast<std::size_t>(*slot)].stay : nullptr;
}

bool Presence::enter(PieceIndex self, int shape, PieceIndex visitor, int part, std::int64_t tick,
                     std::int32_t line)
{
    const int* found = slotOf_.find(keyOf(self, visitor));
    const bool isNew = !found;
    int slot = isNew ? -1 : *found;
    if (isNew) {
        if (free_.empty()) {
            free_.push_back(static_cast<int>(slots_.size()));
            slots_.emplace_back();
        }
        slot = slotOf_[keyOf(self, visitor)] = free_.back();
        free_.pop_back();
        if (places_.size() <= static_cast<std::size_t>(self))
            places_.resize(static_cast<std::size_t>(self) + 1);
        Place& place = places_[static_cast<std::size_t>(self)];
        Slot& one = slots_[static_cast<std::size_t>(slot)];
        std::vector<int>& ofVisitor = ofVisitor_[visitor];
        one = {{self, visitor, tick, ++last_, {}}, -1, place.last, ofVisitor.size()};
        ofVisitor.push_back(slot);
        (place.last < 0 ? place.first : slots_[static_cast<std::size_t>(place.last)].next) = slot;
        place.last = slot;
        ++place.all;
        place.pieces += visitor >= 0 ? 1 : 0;
    }
    Stay& stay = slots_[static_cast<std::size_t>(slot)].stay;
    if (stay.in(shape))
        return isNew;
    stay.shapes.push_back({shape, part, tick, ++last_, line});
    if (shape >= 0) {
        if (inShape_.size() <= static_cast<std::size_t>(shape))
            inShape_.resize(static_cast<std::size_t>(shape) + 1);
        ++inShape_[static_cast<std::size_t>(shape)];
    }
    return isNew;
}

Presence::Ended Presence::leave(PieceIndex self, int shape, PieceIndex visitor)
{
    Ended ended;
    const int* slot = slotOf_.find(keyOf(self, visitor));
    if (!slot)
        return ended;
    Slot& one = slots_[static_cast<std::size_t>(*slot)];
    const auto in = std::ranges::find(one.stay.shapes, shape, &InShape::shape);
    if (in == one.stay.shapes.end())
        return ended;
    ended.shape = in->meeting;
    one.stay.shapes.erase(in);
    if (shape >= 0)
        --inShape_[static_cast<std::size_t>(shape)];
    if (!one.stay.shapes.empty())
        return ended;
    ended.whole = one.stay.meeting;
    Place& place = places_[static_cast<std::size_t>(self)];
    (one.last < 0 ? place.first : slots_[static_cast<std::size_t>(one.last)].next) = one.next;
    (one.next < 0 ? place.last : slots_[static_cast<std::size_t>(one.next)].last) = one.last;
    --place.all;
    place.pieces -= visitor >= 0 ? 1 : 0;
    std::vector<int>& ofVisitor = *ofVisitor_.find(visitor);
    ofVisitor[one.atVisitor] = ofVisitor.back();
    slots_[static_cast<std::size_t>(ofVisitor.back())].atVisitor = one.atVisitor;
    ofVisitor.pop_back();
    if (ofVisitor.empty())
        ofVisitor_.erase(visitor);
    free_.push_back(*slot);
    slotOf_.erase(keyOf(self, visitor));
    return ended;
}

std::optional<MeetingId> meetingMeant(const Presence::Stay& stay, std::string_view shape, const world::World& world)
{
    if (shape.empty())
        return stay.meeting;
    for (const Presence::InShape& in : stay.shapes)
        if (in.shape >= 0 && world.shapeName(in.shape) == shape)
            return in.meeting;
    return std::nullopt;
}

} // namespace snare::rules
