// SPDX-License-Identifier: Apache-2.0
#include "check/scout.h"

#include "check/expectations.h"
#include "check/scout_map.h"
#include "check/scout_play.h"
#include "check/shorten.h"
#include "check/threads.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace snare::check {

namespace {

constexpr int playsARound = 32;            // what is known changes between rounds only
constexpr std::size_t mostStates = 20'000; // that are kept to return to
constexpr std::size_t mostBreaks = 20;
constexpr std::size_t mostDeadEnds = 8;

/// A state that was seen, and the earliest way there.
struct State {
    std::shared_ptr<const ScoutWay> way;
    std::int64_t tick = 0;
};

class Scout {
  public:
    Scout(std::shared_ptr<const scene::Scene> scene, const ScoutOptions& options)
        : options_(options), player_(std::move(scene), options), map_(player_.whole().snares.size()),
          best_(player_.whole().snares.size())
    {
        known_.sprung.resize(best_.size());
    }

    Scouted run()
    {
        result_.noHandles = player_.handles().none();
        for (const scene::Snare& snare : player_.whole().snares)
            result_.snares.emplace_back().snare = snare.id;
        begin();
        while (result_.plays < options_.plays && !player_.isEnough()) {
            round(std::min(playsARound, options_.plays - result_.plays));
            tell();
        }
        finish();
        return std::move(result_);
    }

  private:
    /// What is known of the best play of a snare.
    struct Best {
        std::shared_ptr<const ScoutWay> way;
        std::int64_t tick = 0;
        std::shared_ptr<const ScoutWay> detour;
        std::vector<world::PieceIndex> avoided; ///< in `detour`
        world::PieceIndex visitor = world::nobody;
        std::map<std::string, int> slipped;
    };

    bool isCancelled() const { return player_.isCancelled(); }
    double secondsOf(std::int64_t ticks) const { return static_cast<double>(ticks) / player_.whole().rate; }
    void begin();
    void round(int plays);
    void tell() const;
    std::size_t choose(rules::CounterGenerator& random) const;
    void merge(ScoutPlay&& play);
    void chart(const ScoutPlay& play);
    void mergeSnares(const ScoutPlay& play);
    void mergeBreaks(const ScoutPlay& play);
    void finish();
    int runsFor(const scene::Take& take) const;
    void finishSnare(std::size_t snare);
    void findDeadEnds();
    void finishBreak(ScoutedBreak& one);
    ScoutedDetour detourOf(std::size_t snare) const;

    const ScoutOptions& options_;
    ScoutPlayer player_;
    ScoutKnown known_;
    std::vector<State> states_;
    std::unordered_map<std::uint64_t, std::size_t> places_; ///< in `states_`, by key; to look up
    ScoutMap map_;                                          ///< of the same states
    Scouted result_;
    std::vector<Best> best_;
};

/// The given takes, and the start, are where plays begin.
void Scout::begin()
{
    auto start = std::make_shared<ScoutWay>();
    start->take.seed = player_.whole().seed;
    states_.emplace_back().way = std::move(start);
    map_.addState(0, 0);
    for (const scene::Take& take : options_.takes)
        merge(player_.repeat(take, known_));
    result_.plays = 0;
    result_.played = 0;
}

/// Of some states by chance the one that was tried the least; rather one of a stage that was tried
/// little.
std::size_t Scout::choose(rules::CounterGenerator& random) const
{
    constexpr int looked = 6;
    const bool byStage = random.next() < 0.7;
    const auto costOf = [&](std::size_t state) {
        return (1.0 + map_.tries(state)) * (byStage ? std::sqrt(1.0 + map_.triesOfStage(state)) : 1.0);
    };
    std::size_t chosen = random.choose(states_.size());
    double cost = costOf(chosen);
    for (int i = 1; i < looked; ++i) {
        const std::size_t other = random.choose(states_.size());
        if (const double others = costOf(other); others < cost) {
            chosen = other;
            cost = others;
        }
    }
    return chosen;
}

void Scout::round(int plays)
{
    std::vector<ScoutPlay> played(static_cast<std::size_t>(plays));
    const auto first = static_cast<std::uint64_t>(result_.plays);
    onThreads(played.size(), options_.jobs, [&](std::size_t i) {
        if (player_.isEnough())
            return;
        const std::uint64_t number = first + i;
        rules::CounterGenerator random{rules::counterNumber(options_.seed, number)};
        // A part of them begins anew, with a chance of its own.
        const bool anew = random.next() < 0.15;
        const std::size_t from = anew ? 0 : choose(random);
        played[i] = player_.playOn(*states_[from].way, states_[from].tick, number, known_);
        played[i].from = from;
    });
    for (ScoutPlay& play : played)
        if (play.done)
            merge(std::move(play));
}

void Scout::tell() const
{
    if (!options_.progress)
        return;
    const auto sprung =
        static_cast<std::size_t>(std::ranges::count_if(best_, [](const Best& one) { return one.way != nullptr; }));
    options_.progress({result_.plays, sprung, best_.size()});
}

void Scout::merge(ScoutPlay&& play)
{
    ++result_.plays;
    result_.played += secondsOf(play.ticks);
    const auto lastStart = player_.longest() - player_.whole().rate; // no sense in going there with no time left
    for (const auto& [key, stage, tick] : play.states) {
        const auto [found, isNew] = places_.try_emplace(key, states_.size());
        if (isNew && states_.size() < mostStates && tick <= lastStart && play.stop.empty()) {
            states_.push_back({play.way, tick});
            map_.addState(stage, tick);
        } else if (isNew)
            found->second = mostStates + 1; // told apart, not kept
        else if (found->second < states_.size() && tick + player_.whole().rate < states_[found->second].tick) {
            states_[found->second].way = play.way;
            states_[found->second].tick = tick;
            map_.setTick(found->second, tick);
        }
    }
    chart(play);
    mergeSnares(play);
    mergeBreaks(play);
}

/// The way of a play from state to state, and what sprang on it.
void Scout::chart(const ScoutPlay& play)
{
    const std::int64_t began = play.from == 0 ? -1 : play.began; // what springs at the start is of the play, too
    std::vector<std::size_t> sprang;
    for (std::size_t i = 0; i < play.snares.size(); ++i)
        if (play.snares[i].sprang > began) {
            sprang.push_back(i);
            map_.addSpring(play.from, i);
        }
    if (play.isLong)
        map_.addTry(play.from, sprang);
    std::size_t last = play.from;
    for (const auto& [key, stage, tick] : play.states) {
        const auto known = places_.find(key);
        if (known == places_.end() || known->second >= states_.size())
            continue;
        map_.addWay(std::exchange(last, known->second), known->second);
        for (const std::size_t snare : sprang)
            if (play.snares[snare].sprang > tick)
                map_.addSpring(known->second, snare);
    }
}

void Scout::mergeSnares(const ScoutPlay& play)
{
    for (std::size_t i = 0; i < play.snares.size(); ++i) {
        const ScoutOutcome& one = play.snares[i];
        Best& best = best_[i];
        ScoutedSnare& told = result_.snares[i];
        if (one.sprang < 0) {
            told.caught += one.caught;
            for (const auto& [why, times] : one.slipped)
                best.slipped[why] += times;
            continue;
        }
        told.plays += play.isGiven ? 0 : 1;
        known_.sprung[i] = true;
        if (!best.way || one.sprang < best.tick) {
            best.way = play.way;
            best.tick = one.sprang;
        }
        if (play.isGiven) {
            const auto [zones, isNew] = known_.zones.try_emplace(i, one.zones);
            if (!isNew && one.zones.size() < zones->second.size())
                zones->second = one.zones;
        } else if (one.zones.size() > best.avoided.size()) {
            best.avoided = one.zones;
            best.visitor = one.visitor;
            best.detour = play.way;
        }
    }
}

void Scout::mergeBreaks(const ScoutPlay& play)
{
    if (!play.stop.empty()) {
        const auto same = std::ranges::find(result_.broken, play.stop, &ScoutedBreak::stop);
        if (same != result_.broken.end())
            ++same->plays;
        else if (result_.broken.size() < mostBreaks)
            result_.broken.push_back({.stop = play.stop, .plays = 1, .how = play.way->take});
    }
    for (std::size_t i = 0; i < play.broken.size(); ++i) {
        if (!play.broken[i])
            continue;
        const ScoutWatched& watched = player_.watched()[i];
        const auto same = std::ranges::find_if(result_.broken, [&](const ScoutedBreak& one) {
            return one.stop.empty() && one.take == watched.take && one.expectation == watched.expectation;
        });
        if (same != result_.broken.end())
            ++same->plays;
        else
            result_.broken.push_back({.stop = {},
                                      .take = watched.take,
                                      .expectation = watched.expectation,
                                      .plays = 1,
                                      .how = play.way->take});
    }
}

/// How often a take may be run to make it short: all that is made short together does not take
/// longer than the plays did.
int Scout::runsFor(const scene::Take& take) const
{
    constexpr double least = 4;
    constexpr double most = 80;
    const double things = static_cast<double>(result_.snares.size() + result_.broken.size()) * 2;
    return static_cast<int>(std::clamp(result_.played / (things * std::max(0.1, scene::lengthOf(take))), least, most));
}

void Scout::finishSnare(std::size_t snare)
{
    const Best& best = best_[snare];
    ScoutedSnare& told = result_.snares[snare];
    if (best.way) {
        const auto shows = [&](const scene::Take& take) { return player_.firstSpring(take, snare); };
        scene::Take take = best.way->take;
        endAt(take, secondsOf(best.tick) + 0.1);
        told.first = secondsOf(best.tick);
        told.take = take;
        if (!isCancelled()) {
            Shortened shorter = shortened(take, shows, runsFor(take));
            told.take = std::move(shorter.take);
            told.first = shorter.shown.value_or(told.first);
        }
        told.take->stops = !isCancelled() && !player_.recordOf(*told.take).stopReason.empty();
        told.caught = 0;
        return;
    }
    const auto most = std::ranges::max_element(best.slipped, {}, [](const auto& one) { return one.second; });
    if (most != best.slipped.end())
        told.nearest = most->first;
}

/// Where something can no longer be had.
void Scout::findDeadEnds()
{
    for (const Lost& lost : map_.lost(mostDeadEnds)) {
        const State* end = &states_[lost.state];
        ScoutedDeadEnd told;
        told.t = secondsOf(end->tick);
        told.tries = lost.tries;
        for (const std::size_t snare : lost.snares)
            told.lost.push_back(player_.whole().snares[snare].id);
        told.how = end->way->take;
        endAt(told.how, told.t);
        told.how.length = told.t + 1;
        const sim::Record record =
            sim::rerun(player_.scene(), told.how, {.seconds = {}, .cancelled = options_.cancelled});
        if (isCancelled())
            return;
        told.phase = sim::phaseAt(record, world::theScene, end->tick);
        const std::vector<sim::PieceState> states = record.snapshots.at(std::min(end->tick, record.lastTick()));
        for (std::size_t i = 0; i < states.size() && i < record.pieces.size(); ++i)
            if (std::holds_alternative<scene::WalkerBody>(record.pieces[i].model->body) && states[i].present)
                told.walkers.emplace_back(record.pieces[i].id, states[i].pose.at);
        result_.deadEnds.push_back(std::move(told));
    }
}

void Scout::finishBreak(ScoutedBreak& one)
{
    one.how.stops = !one.stop.empty();
    if (one.stop.empty())
        one.how.expect = {options_.takes[one.take].expect[one.expectation]};
    if (isCancelled())
        return;
    one.how = shortened(
                  one.how,
                  [&](const scene::Take& take) -> std::optional<double> {
                      const sim::Record record = player_.recordOf(take);
                      if (isCancelled())
                          return std::nullopt;
                      if (take.stops)
                          return record.stopReason.empty() ? std::nullopt : std::optional(record.seconds());
                      const Verdict verdict = judge(record).verdicts.front();
                      if (verdict.held)
                          return std::nullopt;
                      return verdict.tick >= 0 ? secondsOf(verdict.tick) : record.seconds();
                  },
                  runsFor(one.how))
                  .take;
}

ScoutedDetour Scout::detourOf(std::size_t snare) const
{
    const Best& best = best_[snare];
    const auto visitor = static_cast<std::size_t>(best.visitor);
    const auto& pieces = player_.whole().pieces;
    ScoutedDetour detour{player_.whole().snares[snare].id,
                         visitor < pieces.size() ? pieces[visitor].id : std::string("a spawned piece"),
                         {},
                         best.detour->take};
    for (const world::PieceIndex piece : best.avoided)
        detour.zones.push_back(pieces[static_cast<std::size_t>(piece)].id);
    if (!isCancelled())
        detour.how = shortened(
                         std::move(detour.how),
                         [&](const scene::Take& take) { return player_.firstSpring(take, snare, best.avoided); },
                         runsFor(best.detour->take))
                         .take;
    return detour;
}

void Scout::finish()
{
    result_.states = places_.size();
    onThreads(result_.snares.size(), options_.jobs, [&](std::size_t i) { finishSnare(i); });
    onThreads(result_.broken.size(), options_.jobs, [&](std::size_t i) { finishBreak(result_.broken[i]); });
    for (std::size_t i = 0; i < best_.size(); ++i)
        if (best_[i].detour)
            result_.detours.push_back(detourOf(i));
    findDeadEnds();
}

} // namespace

Scouted scout(std::shared_ptr<const scene::Scene> scene, const ScoutOptions& options)
{
    return Scout{std::move(scene), options}.run();
}

} // namespace snare::check
