// SPDX-License-Identifier: Apache-2.0
/// The event queue: what is still to be done in a tick, in order (K2).
#pragma once

#include "rules/event.h"

#include <memory>

namespace snare::rules {

/// One thing to be done.
struct Item {
    enum class Kind : std::uint8_t {
        event,
        unheard,    ///< a value of `owner` changed that nobody asks for: `id` is its name in the log, `number` it
        resume,     ///< the run `id` goes on
        dwellDone,  ///< the dwell with the sequence `id` is over
        key,        ///< `event.word` goes down, or with `id` 0 up
        heldKeys,   ///< `key-held` for each key that is down
        dial,       ///< of the source `id` stands at `event.value`
        age,        ///< of the scene
        lifetime,   ///< of `event.self` is over
        pointer,    ///< moves; `event.point` is where to, `id` is 1 on the glass
        button,     ///< goes down, or with `id` 0 up; `event.act` says which
        dragTold,   ///< `drag` for what moved since
        dragPut,    ///< what is dragged follows
        findUnder,  ///< what the pointer meets is found anew
        sweepClosed ///< its box is gone
    };
    Kind kind = Kind::event;
    std::uint32_t id = 0;
    Event event;
    PieceIndex owner = theScene;
    double number = 0;
    std::int32_t because = -1; ///< the line of the log that led to it (C1)
    bool isInput = false; ///< it came from outside: a restart does not drop it (T5)
};

/// An item stays where it is until the queue is cleared, whatever is added meanwhile, and its
/// memory is used again.
class EventQueue {
  public:
    /// What is added from now on is because of this line of the log.
    void because(std::int32_t line) { because_ = line; }

    bool empty() const { return next_ == order_.size(); }

    /// The next item, which is done with this.
    Item& take() { return *order_[next_++]; }

    /// A new item behind all others.
    Item& add(Item::Kind kind, std::uint32_t id = 0)
    {
        order_.push_back(&fresh(kind, id));
        return *order_.back();
    }

    /// An event behind all others.
    void add(Event&& event) { add(Item::Kind::event).event = std::move(event); }

    /// A new event behind all others, to be filled in.
    Event& addEvent(EventKind kind, PieceIndex self)
    {
        Event& event = add(Item::Kind::event).event;
        event.kind = kind;
        event.self = self;
        return event;
    }

    /// The same as `add` of something that comes from outside.
    Item& addInput(Item::Kind kind, std::uint32_t id = 0)
    {
        Item& item = add(kind, id);
        item.isInput = true;
        return item;
    }

    /// Adds what came from outside and is not done yet.
    void moveInputsTo(std::vector<Item>& inputs)
    {
        for (std::size_t i = next_; i < order_.size(); ++i)
            if (order_[i]->isInput)
                inputs.push_back(std::move(*order_[i]));
    }

    void addUnheard(PieceIndex owner, std::uint32_t name, double number)
    {
        Item& item = add(Item::Kind::unheard, name);
        item.owner = owner;
        item.number = number;
    }

    /// An event behind those of the items to come, in their order, that are `ahead` of it.
    template <class IsAhead> void insertBehind(Event event, IsAhead&& isAhead)
    {
        auto at = order_.begin() + static_cast<std::ptrdiff_t>(next_);
        while (at != order_.end() && isAhead(std::as_const(**at)))
            ++at;
        Item& item = fresh(Item::Kind::event, 0);
        item.event = std::move(event);
        order_.insert(at, &item);
    }

    /// Items before all that are still to come, in their order.
    void insertNext(std::vector<Item> items)
    {
        std::vector<Item*> added;
        for (Item& item : items) {
            added.push_back(&fresh(item.kind, item.id));
            added.back()->event = std::move(item.event);
            added.back()->isInput = item.isInput;
        }
        order_.insert(order_.begin() + static_cast<std::ptrdiff_t>(next_), added.begin(), added.end());
    }

    /// What is left is not done.
    void clear()
    {
        order_.clear();
        next_ = 0;
        used_ = 0;
    }

    EventQueue() = default;
    /// Only an empty one can be copied: between two ticks.
    EventQueue(const EventQueue& /*other*/) {}
    EventQueue& operator=(const EventQueue& /*other*/)
    {
        clear();
        return *this;
    }
    EventQueue(EventQueue&&) = default;
    EventQueue& operator=(EventQueue&&) = default;
    ~EventQueue() = default;

  private:
    Item& fresh(Item::Kind kind, std::uint32_t id)
    {
        if (used_ == items_.size()) {
            items_.push_back(std::make_unique<Item>());
        } else { // its event as new, without the way through a temporary one
            Event& event = items_[used_]->event;
            if (items_[used_]->kind != Item::Kind::unheard) {
                std::destroy_at(&event);
                ::new (static_cast<void*>(&event)) Event;
            }
        }
        Item& item = *items_[used_++];
        item.kind = kind;
        item.id = id;
        item.isInput = false;
        item.because = because_;
        return item;
    }

    std::vector<std::unique_ptr<Item>> items_; ///< those in use first
    std::size_t used_ = 0;
    std::vector<Item*> order_;
    std::size_t next_ = 0;
    std::int32_t because_ = -1;
};

} // namespace snare::rules
