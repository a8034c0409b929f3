// SPDX-License-Identifier: Apache-2.0
#include "check/scout_map.h"

#include <algorithm>
#include <map>

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/strong_components.hpp>

namespace snare::check {

void ScoutMap::addState(std::uint64_t stage, std::int64_t tick)
{
    states_.push_back({stage, tick, 0, boost::dynamic_bitset<>(snares_)});
    stages_[stage].sprang.resize(snares_);
}

void ScoutMap::addTry(std::size_t state, const std::vector<std::size_t>& sprang)
{
    ++states_[state].tries;
    Stage& stage = stages_[states_[state].stage];
    ++stage.tries;
    for (const std::size_t snare : sprang)
        ++stage.sprang[snare];
}

void ScoutMap::addWay(std::size_t from, std::size_t to)
{
    if (from != to)
        ways_.emplace_back(static_cast<std::uint32_t>(from), static_cast<std::uint32_t>(to));
}

std::vector<Lost> ScoutMap::lost(std::size_t most) const
{
    // Which states lead to each other.
    using Graph = boost::adjacency_list<boost::vecS, boost::vecS, boost::directedS>;
    const Graph graph{ways_.begin(), ways_.end(), states_.size()};
    std::vector<std::size_t> partOf(states_.size());
    const std::size_t parts = boost::strong_components(
        graph, boost::make_iterator_property_map(partOf.begin(), boost::get(boost::vertex_index, graph)));
    struct Part {
        int tries = 0;
        std::size_t first = 0; ///< state
        boost::dynamic_bitset<> leadsTo;
    };
    std::vector<Part> found(parts);
    for (std::size_t i = states_.size(); i-- > 0;) {
        Part& part = found[partOf[i]];
        if (part.leadsTo.empty() || states_[i].tick <= states_[part.first].tick)
            part.first = i;
        part.leadsTo.resize(snares_);
        part.leadsTo |= states_[i].leadsTo;
        part.tries += states_[i].tries;
    }
    // What a part leads to, those after it lead to: until nothing is new.
    for (bool again = true; again;) {
        again = false;
        for (const auto& [from, to] : ways_) {
            boost::dynamic_bitset<>& mine = found[partOf[from]].leadsTo;
            const boost::dynamic_bitset<>& theirs = found[partOf[to]].leadsTo;
            if (!theirs.is_subset_of(mine)) {
                mine |= theirs;
                again = true;
            }
        }
    }
    constexpr double enough = 5; // times that it should have come: by chance alone it stays away in 1 of 150 cases
    std::map<std::pair<std::uint64_t, std::vector<std::size_t>>, Lost> lost;
    for (const Part& part : found) {
        const State& first = states_[part.first];
        const Stage& stage = stages_.at(first.stage);
        Lost one{part.first, {}, part.tries};
        for (std::size_t snare = 0; snare < snares_ && stage.tries > 0; ++snare)
            if (!part.leadsTo[snare] && part.tries * (static_cast<double>(stage.sprang[snare]) / stage.tries) >= enough)
                one.snares.push_back(snare);
        if (one.snares.empty())
            continue;
        const auto [same, isNew] = lost.try_emplace({first.stage, one.snares}, one);
        if (!isNew && first.tick < states_[same->second.state].tick)
            same->second = one;
    }
    std::vector<Lost> all;
    all.reserve(lost.size());
    for (auto& [key, one] : lost)
        all.push_back(std::move(one));
    std::ranges::sort(all, {}, [&](const Lost& one) { return std::pair(states_[one.state].tick, one.state); });
    if (all.size() > most)
        all.resize(most);
    return all;
}

} // namespace snare::check
