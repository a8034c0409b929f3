// SPDX-License-Identifier: Apache-2.0
/// `snare bench storms`: what a hundred to a hundred thousand of the same thing in one tick cost
/// each, and how that grows.
#include "cli/verbs.h"
#include "io/document.h"
#include "sim/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <iostream>
#include <limits>
#include <optional>
#include <thread>
#include <vector>

#include <malloc.h>

namespace snare::cli {

namespace {

struct Storm {
    const char* name;
    int most;                         ///< as many as rules allow (K8)
    std::string (*pieces)(int count); ///< JSON, parted by commas
    const char* snares; ///< JSON; # stands for the number of things. They count in `n` what was dealt with.
};

/// Discs side by side in a wide zone, none of which meets another.
std::string visitors(int count)
{
    const int side = static_cast<int>(std::ceil(std::sqrt(count)));
    std::string text = fmt::format(
        R"({{"id": "yard", "group": "yard", "body": "kinematic", "shapes": [{{"id": "a", "role": "zone", "box": [{0}, {0}]}}]}})",
        4 * side);
    for (int i = 0; i < count; ++i)
        text += fmt::format(
            R"(,{{"id": "m{}", "group": "cask", "tags": ["t"], "at": [{}, {}], "body": "kinematic", "shapes": [{{"role": "zone", "circle": 0.4}}]}})",
            i, i % side - side / 2, i / side - side / 2);
    return text;
}

/// The same without the zone.
std::string pieces(int count)
{
    const std::string all = visitors(count);
    return all.substr(all.find("},{") + 2);
}

std::string withTimers(int count)
{
    std::string text;
    for (int i = 0; i < count; ++i)
        text += fmt::format(R"({}{{"id": "m{}", "timers": [{{"id": "tick", "timer": {{"every": 0.1}}}}]}})",
                            i ? "," : "", i);
    return text;
}

std::string nothing(int)
{
    return R"({"id": "post"})";
}

constexpr std::array storms{
    Storm{"visitors that enter and leave", 100'000, visitors,
          R"({"id": "in", "catch": {"event": "enter", "at": "yard"}, "gate": {"limit": 1, "each": "visitor"},
              "responses": [{"do": "set", "on": "scene", "name": "inside", "value": {"get": "yard.count"}}]},
             {"id": "counts", "catch": {"event": ["occupied", "vacated"], "at": "yard"}},
             {"id": "go", "catch": {"event": "key-down", "key": "a"}, "responses": [{"do": "put", "on": "yard", "at": [1e6, 0]}]},
             {"id": "out", "catch": {"event": "exit", "at": "yard"}, "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"visitors that dwell", 100'000, visitors,
          R"({"id": "in", "catch": {"event": "enter", "at": "yard"}, "gate": {"dwell": 0.1},
              "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"things held until they leave", 100'000, visitors,
          R"({"id": "in", "catch": {"event": "enter", "at": "yard"},
              "responses": [{"do": "set", "on": "visitor", "name": "lit", "value": true, "until": "exit"}]},
             {"id": "go", "catch": {"event": "key-down", "key": "a"}, "responses": [{"do": "put", "on": "yard", "at": [1e6, 0]}]},
             {"id": "out", "catch": {"event": "exit", "at": "yard"}, "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"keys with someone inside", 100'000, visitors,
          R"({"id": "in", "catch": {"event": "key-down", "key": "a", "at": "tag:t", "inside": true},
              "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"runs that wait", 100'000, pieces,
          R"({"id": "waits", "catch": {"event": "key-down", "key": "a", "at": "tag:t"}, "again": "stack",
              "responses": [{"do": "wait", "for": 0.1}, {"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"signals that are waited for", 9'000, pieces,
          R"({"id": "raises", "catch": {"event": "key-down", "key": "a", "at": "tag:t"},
              "responses": [{"do": "signal", "name": "go", "to": "self", "wait": true}, {"do": "add", "on": "scene", "name": "n", "value": 1}]},
             {"id": "hears", "catch": {"event": "heard", "signal": "go", "at": "post"}})"},
    Storm{
        "pieces spawned and gone", 10'000, pieces,
        R"({"id": "makes", "catch": {"event": "key-down", "key": "a", "at": "tag:t"}, "responses": [{"do": "spawn", "template": "gull"}]},
             {"id": "gone", "catch": {"event": "removed", "at": "template:gull"}, "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"values set by a script", 50'000, nothing,
          R"({"id": "sets", "catch": {"event": "key-down", "key": "a"},
              "responses": [{"do": "script", "lua": "for i = 1, # do scene['v' .. i] = i end scene.n = #"}]})"},
    Storm{"timers", 100'000, withTimers,
          R"({"id": "ticks", "catch": {"event": "elapsed", "source": "tick"}, "gate": {"limit": 1},
              "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
    Storm{"random places clear of solids", 10'000, pieces,
          R"({"id": "puts", "catch": {"event": "key-down", "key": "a", "at": "tag:t"},
              "responses": [{"do": "put", "at": {"somewhere": "scene", "clear": true}}, {"do": "add", "on": "scene", "name": "n", "value": 1}]})"},
};

constexpr int keyTick = 2;
constexpr int lastTick = 8;

/// A storm of so many, ready to be run again and again.
class Rehearsal {
  public:
    /// Not valid if the scene cannot be read.
    Rehearsal(const Storm& storm, int count) : storm_(storm), count_(count)
    {
        std::string snares = storm.snares;
        for (auto at = snares.find('#'); at != std::string::npos; at = snares.find('#'))
            snares.replace(at, 1, std::to_string(count));
        const std::string text =
            R"({"format": "fresh-snare-scene", "version": 1, "rate": 20, "bounds": [-400, -400, 400, 400], "groups": ["yard", "cask"],
 "contacts": [["cask", "cask", "pass"]], "variables": {"n": 0, "inside": 0},
 "templates": {"gull": {"group": "cask", "lifetime": 0.1, "body": "kinematic", "shapes": [{"role": "zone", "circle": 0.4}]}},
 "pieces": [)" +
            storm.pieces(count) + R"(], "snares": [)" + snares + "]}";
        const auto scene = io::readScene(text, storm.name);
        if (scene)
            scene_ = std::make_shared<const scene::Scene>(*scene);
        else
            std::cerr << scene.error().front().message() << '\n';
    }

    /// Seconds for the start and all ticks, without setting the scene up; negative if it did not do
    /// what it should.
    double timed() const
    {
        if (!scene_)
            return -1;
        const scene::Input key{0.1, scene::KeyInput{"a", true}};
        sim::Run run{scene_};
        rules::Journal journal;
        const auto start = std::chrono::steady_clock::now();
        run.start(journal);
        for (int tick = 1; tick <= lastTick; ++tick)
            run.tick(tick == keyTick ? std::span{&key, 1} : std::span<const scene::Input>{}, journal);
        const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        const scene::Scalar* n = run.world().variables().find("n");
        const double* number = n ? std::get_if<double>(n) : nullptr;
        if (run.stopReason().empty() && number && *number == count_)
            return seconds;
        std::cerr << storm_.name << ": " << count_ << ": " << run.stopReason() << " dealt with "
                  << (number ? *number : 0) << '\n';
        return -1;
    }

    /// Seconds from the wish to cancel, `after` seconds from the beginning, until the run is left;
    /// 0 if it was over.
    double leftAfter(double after) const
    {
        using Clock = std::chrono::steady_clock;
        if (!scene_)
            return 0;
        const scene::Input key{0.1, scene::KeyInput{"a", true}};
        sim::Run run{scene_};
        rules::Journal journal;
        std::atomic<bool> cancelled = false;
        run.heed(&cancelled);
        Clock::time_point wished;
        std::thread wishes([&] {
            std::this_thread::sleep_for(std::chrono::duration<double>(after));
            wished = Clock::now();
            cancelled = true;
        });
        run.start(journal);
        for (int tick = 1; tick <= lastTick && !cancelled; ++tick)
            run.tick(tick == keyTick ? std::span{&key, 1} : std::span<const scene::Input>{}, journal);
        const bool left = cancelled;
        const auto end = Clock::now();
        wishes.join();
        return left ? std::chrono::duration<double>(end - wished).count() : 0;
    }

    /// The same, the middle of `times` runs.
    double timed(int times) const
    {
        std::vector<double> all;
        for (int i = 0; i < times; ++i)
            all.push_back(timed());
        std::ranges::sort(all);
        return all.front() < 0 ? -1 : all[all.size() / 2];
    }

  private:
    const Storm& storm_;
    int count_;
    std::shared_ptr<const scene::Scene> scene_;
};

/// How the cost grows from a hundred to `count`: the exponent. Both are measured in turn, since the
/// machine's speed changes from moment to moment; the middle of the ratios counts.
struct Growth {
    double seconds = 0;
    double exponent = 0;
};

constexpr int fewest = 100;

std::optional<Growth> growthOf(const Storm& storm, int count)
{
    const Rehearsal few{storm, fewest};
    const Rehearsal many{storm, count};
    std::vector<std::pair<double, double>> ratios; // and the seconds of many
    for (int i = 0; i < (count <= 10'000 ? 9 : 5); ++i) {
        const double ofFew = few.timed(9);
        const double ofMany = many.timed();
        if (ofFew < 0 || ofMany < 0)
            return std::nullopt;
        ratios.emplace_back(ofMany / ofFew, ofMany);
    }
    std::ranges::sort(ratios);
    const auto [ratio, seconds] = ratios[ratios.size() / 2];
    return Growth{seconds, std::log(ratio) / std::log(static_cast<double>(count) / fewest)};
}

} // namespace

int measureStorms()
{
    // What one run gave back, the next uses: getting memory from the system for the first time is
    // not measured.
    mallopt(M_MMAP_MAX, 0);
    mallopt(M_TRIM_THRESHOLD, std::numeric_limits<int>::max());
    mallopt(M_TOP_PAD, 256 << 20);
    bool fine = true;
    bool leaves = true;
    fmt::print("{:<32}{:>10}{:>12}{:>10}{:>12}   (from {} on; the middle of several, measured in turn)\n", "", "number",
               "us each", "growth", "left after", fewest);
    for (const Storm& storm : storms) {
        const double first = Rehearsal{storm, fewest}.timed(9);
        if (first < 0)
            return checkFailed;
        fmt::print("{:<32}{:>10}{:>12.2f}\n", storm.name, fewest, first * 1e6 / fewest);
        for (int wanted = 1000; wanted <= 100'000 && wanted / 10 < storm.most; wanted *= 10) {
            const int count = std::min(wanted, storm.most);
            const auto growth = growthOf(storm, count);
            if (!growth)
                return checkFailed;
            fine = fine && growth->exponent <= 1.1;
            // Cancelled at twelve moments of the run, the slowest counts.
            double left = 0;
            for (int moment = 0; moment < 12; ++moment)
                left = std::max(left, Rehearsal{storm, count}.leftAfter(growth->seconds * (moment + 0.5) / 12));
            leaves = leaves && left <= 0.1;
            fmt::print("{:<32}{:>10}{:>12.2f}{:>10}{:>12}\n", storm.name, count, growth->seconds * 1e6 / count,
                       fmt::format("n^{:.2f}", growth->exponent), fmt::format("{:.1f} ms", left * 1e3));
        }
    }
    fmt::print("growth is at most n^1.1: {}\n", fine ? "yes" : "NO");
    fmt::print("a run that is cancelled is left within 100 ms: {}\n", leaves ? "yes" : "NO");
    return fine && leaves ? ExitCode::fine : checkFailed;
}

} // namespace snare::cli
