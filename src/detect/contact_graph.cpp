// SPDX-License-Identifier: Apache-2.0
#include "detect/contact_graph.h"

#include <algorithm>

namespace snare::detect {

void ContactGraph::clear()
{
    links_.clear();
    free_.clear();
    crowd_ = {};
}

std::vector<Meeting> ContactGraph::meetings(const KnownShapes& shapes) const
{
    std::vector<Meeting> result;
    for (std::size_t shape = 0; shape < shapes.size(); ++shape)
        for (int link = shapes[shape].first; link >= 0; link = nextOf(at(link), static_cast<int>(shape)))
            if (at(link).a == static_cast<int>(shape))
                result.push_back(at(link).meeting());
    std::ranges::sort(result);
    return result;
}

int ContactGraph::inCrowd(const KnownShapes& shapes, int a, int b)
{
    Crowd& crowd = crowd_;
    if (crowd.shape != a && crowd.shape != b) {
        crowd.shape = b == crowd.last.first || b == crowd.last.second ? b : a;
        ++crowd.round;
        crowd.links.resize(std::max(crowd.links.size(), shapes.size()));
        for (int link = shapes[static_cast<std::size_t>(crowd.shape)].first; link >= 0;
             link = nextOf(at(link), crowd.shape))
            crowd.note(at(link).a, at(link).b, link);
    }
    crowd.last = {a, b};
    const auto other = static_cast<std::size_t>(crowd.shape == a ? b : a);
    if (other >= crowd.links.size())
        return -1;
    const auto [round, link] = crowd.links[other];
    return round == crowd.round ? link : -1;
}

int ContactGraph::join(KnownShapes& shapes, const Meeting& meeting, std::uint32_t round)
{
    int index = static_cast<int>(links_.size());
    if (free_.empty()) {
        links_.emplace_back();
    } else {
        index = free_.back();
        free_.pop_back();
    }
    Link& link = at(index);
    link = {meeting.a, meeting.b, {}, {-1, -1}, round, round & mostCount, meeting.manner == Manner::stop ? 1U : 0U};
    crowd_.note(meeting.a, meeting.b, index);
    for (const int side : {0, 1}) {
        const int shape = side == 0 ? meeting.a : meeting.b;
        int& first = shapes[static_cast<std::size_t>(shape)].first;
        link.next[static_cast<std::size_t>(side)] = first;
        if (first >= 0) {
            Link& next = at(first);
            next.last[next.a == shape ? 0 : 1] = index;
        }
        first = index;
    }
    return index;
}

void ContactGraph::part(KnownShapes& shapes, int index)
{
    const Link link = at(index);
    crowd_.note(link.a, link.b, -1);
    for (const std::size_t side : {std::size_t{0}, std::size_t{1}}) {
        const int shape = side == 0 ? link.a : link.b;
        if (link.last[side] < 0) {
            shapes[static_cast<std::size_t>(shape)].first = link.next[side];
        } else {
            Link& last = at(link.last[side]);
            last.next[last.a == shape ? 0 : 1] = link.next[side];
        }
        if (link.next[side] >= 0) {
            Link& next = at(link.next[side]);
            next.last[next.a == shape ? 0 : 1] = link.last[side];
        }
    }
    free_.push_back(index);
}

} // namespace snare::detect
