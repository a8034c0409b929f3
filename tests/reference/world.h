// SPDX-License-Identifier: Apache-2.0
/// The pieces of the reference, and which of their boxes meet in a tick (M1 to M9, M12).
#pragma once

#include <nlohmann/json.hpp>

#include <optional>
#include <set>
#include <string>
#include <vector>

namespace snare::reference {

using Json = nlohmann::json;

inline constexpr int theScene = -1;
inline constexpr int nobody = -2;

struct Shape {
    int piece = 0;
    std::string id;
    double x = 0, y = 0; ///< of its middle, from the piece
    double halfX = 0, halfY = 0;
    std::string group;
    bool enabled = true;
    bool shown = true;
    std::string changed; ///< what happened since the last detection (K7); empty: nothing
};

struct Piece {
    std::string id;
    std::string form; ///< its template
    Json model;
    double x = 0, y = 0, fromX = 0, fromY = 0; ///< now, and when the motion of the tick began
    double homeX = 0, homeY = 0;
    double vx = 0, vy = 0;
    bool isStatic = true;
    bool present = true, here = true, shown = true, enabled = true;
    std::string group;
    std::vector<std::string> tags;
    std::vector<std::pair<std::string, Json>> properties;
    std::vector<std::string> phases;
    int phase = -1;
    long born = 0;
    std::vector<int> shapes;
};

/// One side of something that began, went on or ended between a shape and a visitor.
struct Change {
    std::string kind; ///< enter, stay or exit
    int self = 0, shape = 0, visitor = 0, part = 0;
    double frac = 0;
    std::string cause;
};

struct World {
    std::vector<Piece> pieces;
    std::vector<Shape> shapes;
    std::vector<std::vector<std::string>> contacts; ///< [group, group, what]
    std::set<std::pair<int, int>> touching;         ///< shapes, the smaller number first

    int add(const Json& model, const std::string& id, const std::string& form, long tick);
    int find(const std::string& id) const; ///< removed ones too; of several the last; -1: none

    /// Whether two shapes may meet now (M1).
    bool mayMeet(int a, int b) const;
    /// What the motion of this tick changed, in the order of M12. At the start all has cause
    /// `start`.
    std::vector<Change> detect(bool atStart);
    /// Ends what may no longer be; `cause(change)` says why (K5).
    template <class CauseOf> std::vector<Change> endMeetings(double frac, CauseOf&& causeOf)
    {
        std::vector<Pair> pairs;
        for (const auto& [a, b] : std::set(touching))
            if (!mayMeet(a, b)) {
                touching.erase({a, b});
                pairs.push_back({a, b, true, false, 0, 0, false, false});
            }
        std::vector<Change> ended = tell(pairs, false);
        std::erase_if(ended, [](const Change& change) { return change.kind != "exit"; });
        for (Change& change : ended) {
            change.frac = frac;
            change.cause = causeOf(change);
        }
        return sorted(std::move(ended));
    }

  private:
    /// What a tick did to two shapes.
    struct Pair {
        int a, b;
        bool was, is;
        double begin, end;             ///< frac
        bool begunBefore, endedBefore; ///< not by moving
    };

    std::vector<Change> tell(const std::vector<Pair>& pairs, bool atStart) const;
    static std::vector<Change> sorted(std::vector<Change> changes);
};

} // namespace snare::reference
