// SPDX-License-Identifier: Apache-2.0
/// `snare bench resume`: what an edit late in a long take costs, and what judging a take costs.
#include "check/expectations.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/shipped.h"
#include "sim/resume.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <functional>

namespace snare::cli {

namespace {

constexpr double minutes = 10;

/// The shortest times of each, in turn, so that both have the machine as it is.
template <std::size_t count>
std::array<double, count> milliseconds(const std::array<std::function<void()>, count>& works)
{
    std::array<double, count> shortest;
    shortest.fill(1e300);
    for (int i = 0; i < 12; ++i)
        for (std::size_t work = 0; work < count; ++work) {
            const auto begin = std::chrono::steady_clock::now();
            works[work]();
            const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begin;
            shortest[work] = std::min(shortest[work], took.count());
        }
    return shortest;
}

/// Somebody walks, climbs and jumps about all the time.
scene::Take longTake()
{
    scene::Take take;
    take.length = minutes * 60;
    constexpr std::array keys{"Right", "Left", "Up", "space", "Right", "Down", "Left"};
    double t = 0.5;
    for (std::size_t i = 0; t < *take.length - 1; ++i) {
        const double held = 0.2 + static_cast<double>(i * 7 % 10) * 0.1;
        take.inputs.push_back({t, scene::KeyInput{keys[i * 5 % keys.size()], true}});
        take.inputs.push_back({t + held, scene::KeyInput{keys[i * 5 % keys.size()], false}});
        t += held + 0.1;
    }
    return take;
}

/// Ten thousand carts that go to and fro over as many plates.
scene::Scene crowd()
{
    scene::Scene scene;
    for (int i = 0; i < 10'000; ++i) {
        scene::Piece piece;
        const bool isCart = i % 2 == 0;
        piece.id = fmt::format("{}{}", isCart ? "cart-" : "plate-", i);
        piece.at = {2.0 * (i % 100), 2.0 * static_cast<double>(i / 100)};
        scene::Shape shape;
        shape.geometry = scene::Box{{1, 1}};
        shape.role = scene::Role::zone;
        piece.shapes.push_back(std::move(shape));
        if (isCart)
            piece.body = scene::KinematicBody{
                {1, 0}, 0, 0, scene::Route{{piece.at + scene::Vec{2, 0}, piece.at}, 1, scene::Loop::cycle}};
        scene.pieces.push_back(std::move(piece));
    }
    return scene;
}

} // namespace

int measureResume()
{
    const auto read = io::loadScene(io::shippedFile("demo/barrel-ramp.snare.json"));
    const auto kept = io::loadTake(io::shippedFile("demo/barrel-ramp.take.json"));
    if (!read || !kept)
        return tellProblems(read ? kept.error() : read.error()), badInput;
    const auto scene = std::make_shared<const scene::Scene>(*read);
    const scene::Take take = longTake();
    sim::Resumable before = sim::rerunFrom(nullptr, scene, take);
    scene::Take edited = take;
    edited.inputs.push_back({*take.length - 5, scene::KeyInput{"space", true}});
    sim::Resumable after;
    const auto [whole, keeping, late] = milliseconds<3>({[&] { sim::rerun(scene, take); },
                                                         [&] { sim::rerunFrom(nullptr, scene, take); },
                                                         [&] { after = sim::rerunFrom(&before, scene, edited); }});
    fmt::print("resume: {:.0f} minutes of the barrel ramp, {} lines, {} checkpoints\n", minutes,
               before.record->journal.lines.size(), before.checkpoints.size());
    fmt::print("  from the start {:.1f} ms; keeping checkpoints {:.2f} times that\n", whole, keeping / whole);
    fmt::print("  an edit 5 s before the end: from {:.1f} s on, {:.1f} ms, {:.3f} of it\n",
               static_cast<double>(after.from) / scene->rate, late, late / whole);
    const auto many = std::make_shared<const scene::Scene>(crowd());
    scene::Take brief;
    brief.length = 3;
    const auto [manyWhole, manyKeeping] = milliseconds<2>(
        {[&] { sim::rerun(many, brief); }, [&] { before = sim::rerunFrom(nullptr, many, brief); }});
    fmt::print("  3 s of 10,000 pieces {:.0f} ms; keeping {} checkpoints {:.2f} times that\n", manyWhole,
               before.checkpoints.size(), manyKeeping / manyWhole);
    scene::Take silent = *kept;
    silent.expect.clear();
    const auto [unjudged, judged] = milliseconds<2>(
        {[&] { sim::rerun(scene, silent); }, [&] { check::judge(sim::rerun(scene, *kept)); }});
    fmt::print("  its own take, {} expectations: judged {:.3f} times the re-run without ({:.1f} ms)\n",
               kept->expect.size(), judged / unjudged, unjudged);
    return fine;
}

} // namespace snare::cli
