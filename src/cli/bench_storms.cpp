// SPDX-License-Identifier: Apache-2.0
/// `snare bench storms`: what a hundred to a hundred thousand of the same thing in one tick cost each, and how that
/// grows.
#include "cli/verbs.h"
#include "io/document.h"
#include "sim/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <iostream>
#include <limits>

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

/// Seconds for the start and all ticks, without setting the scene up; negative if it did not do what it should.
double timed(const Storm& storm, int count)
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
    if (!scene) {
        std::cerr << scene.error().front().message() << '\n';
        return -1;
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    const scene::Input key{0.1, "a", true};
    double best = 1e300;
    for (int i = 0; i < (count <= 10'000 ? 7 : 3); ++i) {
        sim::Run run{shared};
        rules::Journal journal;
        const auto start = std::chrono::steady_clock::now();
        run.start(journal);
        for (int tick = 1; tick <= lastTick; ++tick)
            run.tick(tick == keyTick ? std::span{&key, 1} : std::span<const scene::Input>{}, journal);
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
        const scene::Scalar* n = run.world().variables.find("n");
        const double* number = n ? std::get_if<double>(n) : nullptr;
        if (!run.stopReason().empty() || !number || *number != count) {
            std::cerr << storm.name << ": " << count << ": " << run.stopReason() << " dealt with "
                      << (number ? *number : 0) << '\n';
            return -1;
        }
    }
    return best;
}

} // namespace

int measureStorms()
{
    // What one run gave back, the next uses: getting memory from the system for the first time is not measured.
    mallopt(M_MMAP_MAX, 0);
    mallopt(M_TRIM_THRESHOLD, std::numeric_limits<int>::max());
    mallopt(M_TOP_PAD, 256 << 20);
    bool fine = true;
    fmt::print("{:<32}{:>10}{:>12}{:>10}   (growth from 100 on)\n", "", "number", "us each", "growth");
    for (const Storm& storm : storms) {
        double first = 0; // of the smallest number
        int fewest = 0;
        int fewer = 0;
        for (int wanted = 100; wanted <= 100'000; wanted *= 10) {
            const int count = std::min(wanted, storm.most);
            if (count == fewer)
                break;
            const double seconds = timed(storm, count);
            if (seconds < 0)
                return checkFailed;
            std::string growth;
            if (fewest == 0) {
                first = seconds;
                fewest = count;
            } else {
                const double exponent = std::log(seconds / first) / std::log(static_cast<double>(count) / fewest);
                growth = fmt::format("n^{:.2f}", exponent);
                fine = fine && (count < 1000 || exponent <= 1.1);
            }
            fmt::print("{:<32}{:>10}{:>12.2f}{:>10}\n", storm.name, count, seconds * 1e6 / count, growth);
            fewer = count;
        }
    }
    fmt::print("growth is at most n^1.1: {}\n", fine ? "yes" : "NO");
    return fine ? ExitCode::fine : checkFailed;
}

} // namespace snare::cli
