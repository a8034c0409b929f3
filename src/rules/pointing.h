// SPDX-License-Identifier: Apache-2.0
/// What the pointer is doing in a run: what it meets, presses, drags and sweeps (P1 to P6).
#pragma once

#include "rules/event.h"

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

struct Pointing {
    /// A meeting with a shape: of the pointer where nothing covers the shape, or of one that reaches through (P2).
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

    std::vector<int> under; ///< the shapes at the pointer or in its box, whatever covers them, sorted
    std::vector<Met> met;   ///< sorted by `key`
    std::vector<Press> presses;
    Click lastClick;
    world::Pointer looked; ///< where it was when `under` was found
    bool everLooked = false;
    bool dragMoved = false;     ///< the pointer moved since the last `drag`
    std::int64_t dragTold = -1; ///< tick of the last `drag`
    bool closing = false;       ///< the box has just been closed: what it leaves it leaves with cause `swept`

    /// After a restart nothing is met, dragged or swept, but buttons stay down (T5).
    void forget()
    {
        under.clear();
        met.clear();
        everLooked = dragMoved = closing = false;
        dragTold = -1;
        lastClick = {};
        for (Press& press : presses) {
            press.piece = nobody;
            press.below.clear();
            press.drags = press.sweeps = press.follows = false;
        }
    }
};

} // namespace snare::rules
