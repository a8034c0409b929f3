// SPDX-License-Identifier: Apache-2.0
#include "check/vary.h"

#include "check/threads.h"
#include "sim/recorder.h"

#include <map>
#include <mutex>
#include <random>

namespace snare::check {

scene::Take variedTake(const scene::Take& take, int run, const VaryOptions& options)
{
    scene::Take varied = take;
    if (run == 0)
        return varied;
    std::mt19937_64 random{static_cast<std::uint64_t>(run) * 0x9e3779b97f4a7c15u};
    // Not a distribution of the library, whose numbers differ from one to the next.
    const auto off = [&] {
        const double unit = static_cast<double>(random() >> 11) * 0x1.0p-53;
        return (2 * unit - 1) * options.within;
    };
    const double end = scene::lengthOf(take);
    std::map<std::string, double> down; // when the keys and buttons went down
    constexpr double shortest = 0.001;  // s, of a press
    for (scene::Input& input : varied.inputs) {
        if (input.as<scene::TrackPlace>())
            continue; // where it is led is no play of a hand
        double t = std::clamp(input.t + off(), 0.0, std::max(input.t, end));
        const auto hold = [&](const std::string& name, bool isDown) {
            if (isDown)
                down[name] = t;
            else if (const auto began = down.find(name); began != down.end())
                t = std::max(t, began->second + shortest);
        };
        if (const auto* key = input.as<scene::KeyInput>())
            hold(key->key, key->down);
        else if (const auto* button = input.as<scene::ButtonInput>())
            hold("button " + std::string(scene::wordOf(button->button)), button->down);
        input.t = t;
    }
    std::ranges::stable_sort(varied.inputs, {}, &scene::Input::t);
    if (options.seeds)
        varied.seed = static_cast<std::uint32_t>(random());
    return varied;
}

namespace {

/// The n-th of the events that are alike.
struct EventKey {
    scene::EventKind event;
    std::string self;
    std::string visitor;
    std::string text;
    int number;

    friend auto operator<=>(const EventKey&, const EventKey&) = default; // NOLINT(modernize-use-nullptr)
};

/// The events of a run, in their order, each with its line.
std::vector<std::pair<EventKey, std::int32_t>> eventsOf(const sim::Record& record)
{
    std::vector<std::pair<EventKey, std::int32_t>> events;
    std::map<EventKey, int> counts;
    for (std::size_t i = 0; i < record.journal.lines.size(); ++i) {
        const rules::Line& line = record.journal.lines[i];
        if (line.kind != rules::LineKind::event || line.event == scene::EventKind::stay ||
            line.event == scene::EventKind::keyHeld)
            continue;
        EventKey key{line.event, std::string(record.nameOf(line.self)), std::string(record.nameOf(line.visitor)),
                     record.journal.textOf(line), 0};
        key.number = ++counts[key];
        events.emplace_back(std::move(key), static_cast<std::int32_t>(i));
    }
    return events;
}

/// What all runs have shown so far.
class Tally {
  public:
    Tally(Varied& result, const scene::Take& take) : result_(result), against_(take.expect.size(), -1)
    {
        result_.expectations.resize(take.expect.size());
    }

    void add(int run, const sim::Record& record, const Judgement& judgement,
             const std::vector<std::pair<EventKey, std::int32_t>>& events)
    {
        ++result_.runs;
        for (std::size_t i = 0; i < judgement.verdicts.size(); ++i) {
            result_.expectations[i].held += judgement.verdicts[i].held ? 1 : 0;
            if (!judgement.verdicts[i].held && (against_[i] < 0 || run < against_[i]))
                against_[i] = run;
        }
        addSnares(record);
        for (const auto& [key, line] : events) {
            const std::int32_t tick = record.journal.lines[static_cast<std::size_t>(line)].tick;
            const auto [found, isNew] = events_.try_emplace(key, HowSteady{-1, 0, tick, tick});
            HowSteady& one = found->second;
            ++one.runs;
            one.first = std::min(one.first, tick);
            one.last = std::max(one.last, tick);
            if (run == 0)
                one.line = line;
        }
    }

    void finish(const scene::Take& take, const VaryOptions& options)
    {
        for (std::size_t i = 0; i < against_.size(); ++i)
            if (against_[i] >= 0)
                result_.expectations[i].against = variedTake(take, against_[i], options);
        for (const std::string& snare : order_)
            result_.snares.push_back(often_[snare]);
        for (const auto& [key, one] : events_)
            if (one.line >= 0)
                result_.events.push_back(one);
        std::ranges::sort(result_.events, {}, &HowSteady::line);
    }

  private:
    void addSnares(const sim::Record& record)
    {
        std::vector<int> counts(record.scene->snares.size());
        for (const rules::Line& line : record.journal.lines)
            if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung)
                ++counts[static_cast<std::size_t>(line.snare)];
        if (order_.empty())
            for (const scene::Snare& snare : record.scene->snares)
                order_.push_back(snare.id);
        for (std::size_t i = 0; i < counts.size(); ++i) {
            const auto [found, isNew] = often_.try_emplace(record.scene->snares[i].id);
            HowOften& one = found->second;
            one.snare = record.scene->snares[i].id;
            one.runs += counts[i] > 0 ? 1 : 0;
            one.least = isNew ? counts[i] : std::min(one.least, counts[i]);
            one.most = std::max(one.most, counts[i]);
        }
    }

    Varied& result_;
    std::vector<int> against_; // the first run in which an expectation did not hold
    std::map<std::string, HowOften> often_;
    std::vector<std::string> order_;
    std::map<EventKey, HowSteady> events_;
};

} // namespace

Varied vary(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const VaryOptions& options)
{
    Varied result;
    Tally tally{result, take};
    std::mutex mutex;
    const auto isCancelled = [&] { return options.cancelled && *options.cancelled; };
    onThreads(static_cast<std::size_t>(options.runs), options.jobs, [&](std::size_t number) {
        if (isCancelled())
            return;
        const int run = static_cast<int>(number);
        const scene::Take varied = variedTake(take, run, options);
        const sim::Record record =
            sim::rerun(scene, varied, {.seconds = {}, .lean = true, .cancelled = options.cancelled});
        const Judgement judgement = judge(record);
        const auto events = eventsOf(record);
        const std::lock_guard lock{mutex};
        if (isCancelled())
            return;
        tally.add(run, record, judgement, events);
        if (options.progress)
            options.progress(result.runs);
    });
    tally.finish(take, options);
    return result;
}

} // namespace snare::check
