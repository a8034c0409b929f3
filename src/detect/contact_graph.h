// SPDX-License-Identifier: Apache-2.0
/// The contact graph: which shapes touch now, as lists of links by shape. The heads of the lists
/// lie with what else is known of the shapes, which come in with each call.
#pragma once

#include "detect/change.h"
#include "detect/prediction.h"

#include <array>
#include <utility>
#include <vector>

namespace snare::detect {

/// A meeting in the lists of its two shapes.
struct alignas(32) Link {
    int a;
    int b;
    std::array<int, 2> next; ///< in the list of a, of b
    std::array<int, 2> last;
    std::uint32_t seen;       ///< the detection that looked at it last
    std::uint32_t begun : 31; ///< the detection that began it
    std::uint32_t stops : 1;

    Manner manner() const { return stops != 0 ? Manner::stop : Manner::sense; }
    Meeting meeting() const { return {a, b, manner()}; }
};

class ContactGraph {
  public:
    void clear();

    /// The link between two shapes, or -1. Takes as long as the shorter of their lists.
    int between(const KnownShapes& shapes, int a, int b);
    /// Adds a meeting that begins in the detection `round`. Returns its link.
    int join(KnownShapes& shapes, const Meeting& meeting, std::uint32_t round);
    /// Takes a link out.
    void part(KnownShapes& shapes, int link);

    /// A link by its number, which holds until it is taken out.
    Link& at(int link) { return links_[static_cast<std::size_t>(link)]; }
    const Link& at(int link) const { return links_[static_cast<std::size_t>(link)]; }
    /// The next meeting in the list of one of its shapes, or -1.
    static int nextOf(const Link& link, int shape) { return link.next[link.a == shape ? 0 : 1]; }

    /// How many links there are.
    std::size_t size() const { return links_.size() - free_.size(); }
    /// All meetings, sorted.
    std::vector<Meeting> meetings(const KnownShapes& shapes) const;
    /// What is kept for the meetings, and for the shapes, in bytes.
    std::size_t bytes() const { return links_.capacity() * sizeof(Link) + free_.capacity() * sizeof(int); }
    std::size_t shapeBytes() const { return crowd_.links.capacity() * sizeof(crowd_.links.front()); }

  private:
    /// The meetings of one shape that has many, by the other shape.
    struct Crowd {
        int shape = -1;
        std::uint32_t round = 0;                          ///< an entry counts if it is of this one
        std::vector<std::pair<std::uint32_t, int>> links; ///< by shape; -1: none
        std::pair<int, int> last{-1, -1};                 ///< the pair that was asked for last

        void note(int a, int b, int link)
        {
            if (shape < 0 || (shape != a && shape != b))
                return;
            const auto other = static_cast<std::size_t>(shape == a ? b : a);
            if (other >= links.size()) // spawned since
                links.resize(other + 1);
            links[other] = {round, link};
        }
    };

    int inCrowd(const KnownShapes& shapes, int a, int b);

    geometry::Table<Link> links_;
    std::vector<int> free_; ///< links that are not used
    Crowd crowd_;
};

/// Walks both lists side by side. If both are long, those of one shape are spread over a table:
/// pairs are looked at shape by shape.
inline int ContactGraph::between(const KnownShapes& shapes, int a, int b)
{
    constexpr int longList = 32;
    int steps = 0;
    int ofA = shapes[static_cast<std::size_t>(a)].first;
    int ofB = shapes[static_cast<std::size_t>(b)].first;
    while (ofA >= 0 && ofB >= 0) {
        const Link& one = at(ofA);
        if (one.a == b || one.b == b)
            return ofA;
        const Link& other = at(ofB);
        if (other.a == a || other.b == a)
            return ofB;
        ofA = nextOf(one, a);
        ofB = nextOf(other, b);
        if (++steps == longList)
            return inCrowd(shapes, a, b);
    }
    return -1;
}

} // namespace snare::detect
