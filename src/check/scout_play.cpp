// SPDX-License-Identifier: Apache-2.0
#include "check/scout_play.h"

#include "check/expectations.h"
#include "rules/clock.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace snare::check {

namespace {

using rules::Line;
using rules::LineKind;

constexpr double lookEvery = 0.2; // s, between two looks at the state

/// Whether an expectation can be asked of any play: it must never come, or always be so.
bool isOfEveryPlay(const scene::Expectation& one)
{
    return (one.kind() == scene::Expectation::Kind::never && !one.never->between) ||
           (one.kind() == scene::Expectation::Kind::value && one.always);
}

class Hash {
  public:
    void add(std::uint64_t value) { hash_ = rules::counterNumber(hash_, value); }
    void add(std::string_view text)
    {
        for (const char letter : text)
            add(static_cast<std::uint64_t>(static_cast<unsigned char>(letter)));
    }
    std::uint64_t value() const { return hash_; }

  private:
    std::uint64_t hash_ = 0;
};

/// A value, a number by its whole part.
void add(Hash& hash, const scene::Scalar& value)
{
    if (const auto* number = std::get_if<double>(&value))
        hash.add(static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(std::clamp(*number, -1e9, 1e9)))));
    else if (const auto* text = std::get_if<std::string>(&value))
        hash.add(*text);
    else
        hash.add(std::get<bool>(value) ? 1U : 0U);
}

/// The variables of the scene that conditions compare: what they are now makes a difference.
std::vector<std::string> comparedIn(const scene::Scene& scene)
{
    constexpr std::string_view ofScene = "scene.";
    std::vector<std::string> names;
    const auto note = [&](const std::vector<scene::Condition>& conditions) {
        for (const scene::Condition& condition : conditions)
            if (condition.left.starts_with(ofScene) &&
                std::ranges::find(names, condition.left.substr(ofScene.size())) == names.end())
                names.push_back(condition.left.substr(ofScene.size()));
    };
    for (const scene::Snare& snare : scene.snares) {
        note(snare.filter.when);
        for (const scene::Response& response : snare.responses)
            note(response.onlyIf);
    }
    return names;
}

/// What is down after some inputs: keys and buttons.
std::vector<scene::Input> heldAfter(std::span<const scene::Input> inputs)
{
    std::vector<scene::Input> held;
    const auto note = [&](const scene::Input& input, bool down, const auto& isSame) {
        std::erase_if(held, isSame);
        if (down)
            held.push_back(input);
    };
    for (const scene::Input& input : inputs) {
        if (const auto* key = input.as<scene::KeyInput>())
            note(input, key->down,
                 [&](const scene::Input& other) { return scene::nameOf<scene::KeyInput>(other) == key->key; });
        else if (const auto* button = input.as<scene::ButtonInput>())
            note(input, button->down, [&](const scene::Input& other) {
                const auto* one = other.as<scene::ButtonInput>();
                return one && one->button == button->button;
            });
    }
    return held;
}

/// Why a run stopped, without when: "tick 12: the snares …".
std::string withoutTick(const std::string& reason)
{
    const std::size_t colon = reason.find(": ");
    return reason.starts_with("tick ") && colon != std::string::npos ? reason.substr(colon + 2) : reason;
}

/// Where a take leads driven pieces.
std::vector<scene::Input> placesOf(const scene::Take& take)
{
    std::vector<scene::Input> places;
    for (const scene::Input& input : take.inputs)
        if (input.as<scene::TrackPlace>())
            places.push_back(input);
    return places;
}

} // namespace

/// Who has been where so far.
class ScoutVisits {
  public:
    void follow(const Line& line)
    {
        if (line.kind == LineKind::event && line.event == scene::EventKind::enter)
            all_.emplace(line.self, line.visitor);
    }
    bool has(world::PieceIndex zone, world::PieceIndex visitor) const { return all_.contains({zone, visitor}); }

  private:
    std::set<std::pair<world::PieceIndex, world::PieceIndex>> all_;
};

ScoutPlayer::ScoutPlayer(std::shared_ptr<const scene::Scene> scene, const ScoutOptions& options)
    : scene_(std::move(scene)), whole_(sim::wholeOf(scene_)), options_(options), handles_(handlesOf(*whole_)),
      book_(*whole_), area_(areaOf(*whole_)), compared_(comparedIn(*whole_))
{
    area_.grow(2);
    longest_ = std::max<std::int64_t>(1, rules::lastTick(options.seconds, whole_->rate));
    for (std::size_t i = 0; i < options.takes.size(); ++i)
        for (std::size_t j = 0; j < options.takes[i].expect.size(); ++j)
            if (isOfEveryPlay(options.takes[i].expect[j]))
                watched_.push_back({i, j});
}

sim::Record ScoutPlayer::recordOf(const scene::Take& take) const
{
    return sim::rerun(scene_, take, {.seconds = {}, .lean = true, .cancelled = options_.cancelled});
}

std::optional<double> ScoutPlayer::firstSpring(const scene::Take& take, std::size_t snare,
                                               std::span<const world::PieceIndex> without) const
{
    const sim::Record record = recordOf(take);
    ScoutVisits visits;
    for (const Line& line : record.journal.lines) {
        visits.follow(line);
        if (line.kind == LineKind::snare && line.outcome == scene::Outcome::sprung &&
            line.snare == static_cast<std::int32_t>(snare)) {
            if (std::ranges::any_of(without, [&](world::PieceIndex zone) { return visits.has(zone, line.visitor); }))
                return std::nullopt;
            return static_cast<double>(line.tick) / whole_->rate;
        }
    }
    return std::nullopt;
}

/// Which of the watched expectations did not hold in a take.
std::vector<bool> ScoutPlayer::brokenIn(const scene::Take& take) const
{
    std::vector<bool> broken(watched_.size());
    if (watched_.empty() || isCancelled())
        return broken;
    scene::Take with = take;
    for (const ScoutWatched& one : watched_)
        with.expect.push_back(options_.takes[one.take].expect[one.expectation]);
    const Judgement judgement = judge(recordOf(with));
    for (std::size_t i = 0; i < broken.size() && i < judgement.verdicts.size(); ++i)
        broken[i] = !judgement.verdicts[i].held;
    return broken;
}

bool ScoutPlayer::isListenedTo(const world::World& world, world::PieceIndex piece) const
{
    std::vector<int> room;
    return std::ranges::any_of(
        std::array{scene::EventKind::enter, scene::EventKind::exit, scene::EventKind::stay, scene::EventKind::occupied,
                   scene::EventKind::vacated},
        [&](scene::EventKind kind) { return !book_.hearersOf(kind, piece, {}, world, room).empty(); });
}

/// A play under way.
class ScoutPlayer::Playing {
  public:
    Playing(const ScoutPlayer& player, const ScoutKnown& known, std::optional<std::uint32_t> seed,
            const std::shared_ptr<const sim::Tracks>& tracks)
        : player_(player), known_(known),
          recorder_(sim::Recorder::ofWhole(player.whole_, false, seed, player.options_.cancelled)),
          every_(std::max<std::int64_t>(1, std::llround(lookEvery * player.whole_->rate)))
    {
        play.snares.resize(player.whole_->snares.size());
        recorder_.keepLittle();
        lead(tracks);
        follow();
    }

    void lead(const std::shared_ptr<const sim::Tracks>& tracks) { recorder_.run().lead(tracks); }
    std::int64_t tick() const { return recorder_.run().tickNumber(); }
    const world::World& world() const { return recorder_.run().world(); }
    std::span<const scene::Input> inputs() const { return recorder_.record().take.inputs; }
    bool ends() const { return recorder_.stopped() || player_.isEnough(); }

    void goOn(std::span<const scene::Input> inputs)
    {
        recorder_.tick(inputs);
        follow();
    }
    /// Goes on up to a tick with the inputs of a take.
    void follow(const scene::Take& take, std::int64_t end, bool looks)
    {
        const auto inputs = sim::inputsByTick(take, player_.whole_->rate);
        std::vector<scene::Input> now;
        for (std::size_t next = 0; tick() < end && !ends();) {
            now.clear();
            for (; next < inputs.size() && inputs[next].first <= tick() + 1; ++next)
                now.push_back(inputs[next].second);
            goOn(now);
            if (looks)
                look();
        }
    }
    void look()
    {
        if (tick() % every_ != 0)
            return;
        const auto [key, stage] = keysOf();
        if (std::ranges::find(play.states, key, &ScoutPlay::Seen::key) == play.states.end())
            play.states.push_back({key, stage, tick()});
    }
    ScoutPlay finish(std::shared_ptr<const ScoutWay> way)
    {
        play.ticks = tick();
        play.stop = withoutTick(recorder_.run().stopReason());
        play.way = std::move(way);
        play.done = !player_.isEnough();
        return std::move(play);
    }

    ScoutPlay play;

  private:
    void follow();
    void noteSpring(const Line& line);
    std::pair<std::uint64_t, std::uint64_t> keysOf() const;

    const ScoutPlayer& player_;
    const ScoutKnown& known_;
    sim::Recorder recorder_;
    std::size_t seen_ = 0; ///< lines of the journal
    ScoutVisits visits_;
    std::int64_t every_; ///< ticks
};

/// Takes in what the journal tells anew.
void ScoutPlayer::Playing::follow()
{
    const rules::Journal& journal = recorder_.record().journal;
    for (; seen_ < journal.lines.size(); ++seen_) {
        const Line& line = journal.lines[seen_];
        visits_.follow(line);
        if (line.kind != LineKind::snare || line.snare < 0)
            continue;
        const auto number = static_cast<std::size_t>(line.snare);
        ScoutOutcome& snare = play.snares[number];
        ++snare.caught;
        if (snare.sprang >= 0)
            continue;
        if (line.outcome == scene::Outcome::sprung) {
            noteSpring(line);
        } else if (!known_.sprung[number]) {
            std::string why{rules::wordOf(line.stage)};
            const std::string reason = journal.textOf(line);
            if (!reason.empty())
                why += ", " + reason.substr(0, reason.find(';'));
            ++snare.slipped[why];
        }
    }
}

void ScoutPlayer::Playing::noteSpring(const Line& line)
{
    const auto number = static_cast<std::size_t>(line.snare);
    ScoutOutcome& snare = play.snares[number];
    snare.sprang = line.tick;
    snare.visitor = line.visitor;
    if (line.visitor < 0 || !rules::isContact(line.event))
        return;
    if (play.isGiven) {
        for (std::size_t i = 0; i < player_.whole_->pieces.size(); ++i)
            if (const auto zone = static_cast<world::PieceIndex>(i);
                visits_.has(zone, line.visitor) && player_.isListenedTo(world(), zone))
                snare.zones.push_back(zone);
    } else if (const auto zones = known_.zones.find(number); zones != known_.zones.end()) {
        for (const world::PieceIndex zone : zones->second)
            if (!visits_.has(zone, line.visitor))
                snare.zones.push_back(zone);
    }
}

/// What tells the state from others, and its stage: the same without where things are, which is
/// told by the metre.
std::pair<std::uint64_t, std::uint64_t> ScoutPlayer::Playing::keysOf() const
{
    const world::World& world = recorder_.run().world();
    Hash hash;
    hash.add(static_cast<std::uint64_t>(world.phase()) + 1);
    for (const ScoutOutcome& snare : play.snares)
        hash.add(snare.sprang >= 0 ? 1 : 0);
    for (const std::string& name : player_.compared_)
        if (const scene::Scalar* value = world.variables().find(name))
            add(hash, *value);
    for (const world::LivePiece& piece : world.pieces()) {
        hash.add((static_cast<std::uint64_t>(piece.phase) + 1) * 16 + (piece.present ? 8 : 0) + (piece.here ? 4 : 0) +
                 (piece.shown ? 2 : 0) + (piece.enabled ? 1 : 0));
        for (const std::string& tag : piece.tags)
            hash.add(tag);
    }
    const std::uint64_t stage = hash.value();
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const world::LivePiece& piece = world.pieces()[i];
        if (!piece.meets() || !(piece.walks || piece.driven || piece.model->draggable))
            continue;
        const geometry::Pose& pose = world.pose()[i];
        const geometry::Vec at =
            glm::clamp(pose.at, player_.area_.low, player_.area_.high); // what falls for ever stays where it is
        for (const double x : {at.x, at.y, std::clamp(pose.z, -1e3, 1e3)})
            hash.add(static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(x))));
    }
    return {hash.value(), stage};
}

ScoutPlay ScoutPlayer::playOn(const ScoutWay& there, std::int64_t tick, std::uint64_t number,
                              const ScoutKnown& known) const
{
    rules::CounterGenerator random{rules::counterNumber(options_.seed + 1, number)};
    auto way = std::make_shared<ScoutWay>();
    way->tracks = there.tracks;
    way->take.seed =
        tick == 0 ? static_cast<std::uint32_t>(rules::counterNumber(options_.seed + 2, number) >> 33) : there.take.seed;
    Playing playing{*this, known, way->take.seed, way->tracks};
    playing.follow(there.take, tick, false);
    const double wanted = random.between(2, 10); // s
    const std::int64_t end = std::min(longest_, rules::tickAfter(tick, wanted, whole_->rate));
    playing.play.began = tick;
    playing.play.isLong = end - tick >= 2 * static_cast<std::int64_t>(whole_->rate);
    ScoutHand hand{*whole_, handles_, book_, known.sprung, random, heldAfter(playing.inputs())};
    way->take.inputs = placesOf(there.take);
    const auto isLed = [&](const std::string& piece) {
        return there.tracks && there.tracks->leads(piece, tick + 1, whole_->rate);
    };
    std::ranges::move(hand.lead(playing.world(), tick, end, isLed), std::back_inserter(way->take.inputs));
    way->tracks = sim::Tracks::of(way->take);
    playing.lead(way->tracks);
    while (playing.tick() < end && !playing.ends()) {
        playing.goOn(hand.act(playing.world(), playing.tick() + 1));
        playing.look();
    }
    for (const scene::Input& input : playing.inputs())
        if (!input.as<scene::TrackPlace>())
            way->take.inputs.push_back(input);
    std::ranges::stable_sort(way->take.inputs, {}, &scene::Input::t);
    way->take.length = static_cast<double>(playing.tick()) / whole_->rate;
    playing.play.broken = brokenIn(way->take);
    return playing.finish(std::move(way));
}

ScoutPlay ScoutPlayer::repeat(const scene::Take& take, const ScoutKnown& known) const
{
    auto way = std::make_shared<ScoutWay>();
    way->take = take;
    way->take.expect.clear();
    way->take.seed = take.seed.value_or(whole_->seed);
    way->tracks = sim::Tracks::of(take);
    Playing playing{*this, known, way->take.seed, way->tracks};
    playing.play.isGiven = true;
    playing.follow(take, std::min(longest_, rules::lastTick(scene::lengthOf(take), whole_->rate)), true);
    return playing.finish(std::move(way));
}

} // namespace snare::check
