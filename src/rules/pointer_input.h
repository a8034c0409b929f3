// SPDX-License-Identifier: Apache-2.0
/// The pointer of a run: what it meets, presses, drags and sweeps (P1 to P6); and the keys that are
/// down (P7).
///
/// A value. It says what happens; the engine delivers it. What it looks at comes in with each call.
#pragma once

#include "rules/book.h"
#include "rules/end_marks.h"
#include "rules/event_queue.h"
#include "rules/pending_change.h"

namespace snare::rules {

/// Two clicks at the same piece are a double one when they are no farther apart than this, s (P3).
inline constexpr double doubleClickSeconds = 0.4;

/// The normal of an edge is told when the pointer is no farther from it than this, m.
inline constexpr double nearEdge = 0.1;

/// A button that went down and is not let go yet.
struct Press {
    scene::Button button = scene::Button::left;
    PieceIndex piece = theScene;   ///< what got down; the scene: empty ground; `nobody`: it no longer matters what
    int shape = -1;                ///< of that piece, index in World::shapes
    std::vector<PieceIndex> below; ///< what lay under that
    Vec at{0, 0};                  ///< m, where, in the scene
    Vec glass{0, 0};               ///< m, where, on the glass
    std::int64_t tick = 0;
    int count = 1; ///< which press in a quick row at the same place
    bool drags = false;
    bool sweeps = false;
    bool follows = false; ///< what is dragged goes with the pointer
    Vec offset{0, 0};     ///< m, of what is dragged from the pointer
};

/// What the pointer looks at in one call.
struct PointerContext {
    const scene::Scene& scene;
    const Book& book;
    const world::World& world;
    std::int64_t tick = 0;

    const scene::Snare& snareAt(int snare) const { return scene.snares[static_cast<std::size_t>(snare)]; }
    /// Whether the snare catches at `self`.
    bool hears(int snare, PieceIndex self) const { return hearsAt(book.where(snare), self, world); }
};

class PointerInput {
  public:
    /// After a restart nothing is met, dragged or swept, but buttons and keys stay down (T5).
    void forget();

    /// A key goes down or up. True if that is news: auto-repeat is ignored (P7).
    bool moveKey(const std::string& key, bool down);
    /// The keys that are down, in the order in which they went down.
    const std::vector<std::string>& keysDown() const { return keysDown_; }

    bool isPressing() const { return !presses_.empty(); }
    /// The buttons that are down, in the order in which they went down.
    std::vector<scene::Button> buttonsDown() const;

    /// A button goes down: `down` where the pointer is, and at what lies below for those who reach
    /// through (P3).
    std::vector<Item> press(scene::Button button, const PointerContext& context);
    /// A button is let go: `up`, and what it ends: a drag, a box, a click (P3 to P5).
    std::vector<Item> release(scene::Button button, const PointerContext& context);
    /// The pointer goes to a point in m, of the glass or of the scene: drags and boxes begin, what
    /// is dragged follows. `world` is the one of the context.
    std::vector<Item> move(const Vec& to, bool onGlass, world::World& world, const PointerContext& context);
    /// `drag`, once in each tick in which what is dragged moved (P4).
    std::optional<Event> tellDrag(const PointerContext& context);
    /// Where what is dragged goes, as a put (P4); nothing if it is there.
    std::optional<PendingChange> putOfDragged(const world::World& world) const;
    /// The box is gone: what it leaves next it leaves with cause `swept`.
    void closeBox() { closing_ = true; }

    /// What the pointer meets now that everything has moved, and what it no longer does (P2); the
    /// marks of K7 must still be there.
    std::vector<detect::Change> meetAfterMotion(const PointerContext& context, bool atStart, bool withStays);
    /// The same after it has moved itself.
    std::vector<detect::Change> meetAnew(const PointerContext& context);
    /// Meetings that what was done to shapes has ended (K5), behind those in `ended`, which is then
    /// sorted anew.
    void addEnds(const world::World& world, double frac, const EndMarks& marks, std::vector<detect::Change>& ended);

  private:
    /// A meeting with a shape: of the pointer where nothing covers the shape, or of one that
    /// reaches through (P2).
    struct Met {
        int shape = 0; ///< index in World::shapes
        PieceIndex visitor = thePointer;
        std::int64_t since = 0; ///< tick

        auto key() const { return std::pair(shape, visitor); }
    };

    /// The last click, for the next one to be a double.
    struct Click {
        PieceIndex piece = nobody;
        scene::Button button = scene::Button::left;
        std::int64_t tick = 0;
        int count = 0;
    };

    void lookUnder(const world::World& world, bool anew);
    std::vector<Met> metNow(const PointerContext& context) const;
    std::vector<detect::Change> compareMet(const PointerContext& context, bool atStart, bool afterMotion,
                                           bool withStays);
    PieceIndex topmostUnder(const PointerContext& context, PieceIndex except = nobody) const;
    int shapeUnder(PieceIndex piece, const PointerContext& context) const;
    std::vector<PieceIndex> belowTop(const world::World& world, PieceIndex top) const;
    Event eventAt(EventKind kind, PieceIndex self, std::shared_ptr<const PointerAct> act,
                  const PointerContext& context) const;
    void addActs(std::vector<Item>& items, EventKind kind, PieceIndex self, const std::vector<PieceIndex>& below,
                 const std::shared_ptr<const PointerAct>& act, const PointerContext& context) const;

    std::vector<std::string> keysDown_;
    std::vector<int> under_; ///< the shapes at the pointer or in its box, whatever covers them, sorted
    std::vector<Met> met_;   ///< sorted by `key`
    std::vector<Press> presses_;
    Click lastClick_;
    world::Pointer looked_; ///< where it was when `under_` was found
    bool everLooked_ = false;
    bool dragMoved_ = false;     ///< the pointer moved since the last `drag`
    std::int64_t dragTold_ = -1; ///< tick of the last `drag`
    bool closing_ = false;       ///< the box has just been closed: what it leaves it leaves with cause `swept`
};

} // namespace snare::rules
