// SPDX-License-Identifier: Apache-2.0
/// `snare bench motion`: boxes that tumble in a pit, moving and asleep, and how fast the barrel
/// ramp re-runs.
#include "cli/verbs.h"
#include "io/document.h"
#include "io/shipped.h"
#include "sim/recorder.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <random>

namespace snare::cli {

namespace {

using Clock = std::chrono::steady_clock;

double since(Clock::time_point start)
{
    return std::chrono::duration<double>(Clock::now() - start).count();
}

/// Boxes over a pit with a floor and two walls, in rows of 50 at most twice as far apart as they
/// are large, turned at random; the pit is as wide for each box whatever their number.
scene::Scene pitOf(int boxes)
{
    scene::Scene scene;
    scene.view = scene::View::side;
    const int perRow = std::max(20, static_cast<int>(std::sqrt(boxes * 5.0)));
    const double width = perRow * 0.9 + 1;
    const auto solid = [&](std::string id, scene::Vec at, scene::Vec size) {
        scene::Piece piece;
        piece.id = std::move(id);
        piece.at = at;
        scene::Shape shape;
        shape.geometry = scene::Box{size};
        piece.shapes.push_back(std::move(shape));
        return piece;
    };
    scene.pieces.push_back(solid("floor", {0, -0.5}, {width + 2, 1}));
    scene.pieces.push_back(solid("left", {-width / 2 - 0.5, 500}, {1, 1000}));
    scene.pieces.push_back(solid("right", {width / 2 + 0.5, 500}, {1, 1000}));
    std::mt19937 dice{5};
    std::uniform_real_distribution<double> any{0, 1};
    for (int i = 0; i < boxes; ++i) {
        scene::Piece box =
            solid(fmt::format("box-{}", i), {(i % perRow - perRow / 2 + 0.5) * 0.9, 0.8 + (i / perRow) * 0.9},
                  {0.4 + 0.2 * any(dice), 0.4 + 0.2 * any(dice)});
        box.turn = 360 * any(dice);
        scene::DynamicBody body;
        body.velocity = {any(dice) - 0.5, 0};
        box.body = body;
        scene.pieces.push_back(std::move(box));
    }
    return scene;
}

struct Pit {
    double moving = 0; ///< s a tick, the mean of the first second and a half
    double atRest = 0; ///< s a tick once all sleep, or after a minute
    long awake = 0;    ///< how many did not sleep then
};

Pit measurePit(int boxes, bool untilRest)
{
    sim::Run run{std::make_shared<const scene::Scene>(pitOf(boxes))};
    rules::Journal journal;
    run.start(journal);
    constexpr int ticks = 90;
    Clock::time_point start = Clock::now();
    for (int i = 0; i < ticks; ++i)
        run.tick({}, journal);
    Pit pit;
    pit.moving = since(start) / ticks;
    if (!untilRest)
        return pit;
    const auto isAwake = [](const world::LivePiece& piece) { return piece.loose && !piece.asleep; };
    constexpr int minute = 60 * 60;
    pit.awake = boxes;
    for (int i = 0; i < minute && pit.awake > 0; ++i) {
        run.tick({}, journal);
        if (i % 30 == 0 || i + 1 == minute)
            pit.awake = std::ranges::count_if(run.world().pieces(), isAwake);
    }
    start = Clock::now();
    for (int i = 0; i < ticks; ++i)
        run.tick({}, journal);
    pit.atRest = since(start) / ticks;
    return pit;
}

void report(const std::string& what, double figure, bool fine, const std::string& wanted)
{
    fmt::print("  {:<58} {:>8.2f}   {} {}\n", what, figure, fine ? "fine:" : "MISSED:", wanted);
}

} // namespace

int measureMotion()
{
    const Pit pit = measurePit(2'000, true);
    fmt::print("2,000 boxes tumbling in a pit: {:.2f} ms a tick\n", pit.moving * 1e3);
    fmt::print("  at rest, with {} awake\n", pit.awake);
    report("times cheaper at rest", pit.moving / pit.atRest, pit.moving / pit.atRest >= 20, "at least 20");
    const double few = measurePit(500, false).moving;
    const double many = measurePit(8'000, false).moving;
    const double power = std::log(many / few) / std::log(16.0);
    report("power of growth from 500 to 8,000", power, power <= 1.15, "at most 1.15");

    const auto scene = io::loadScene(io::shippedFile("demo/barrel-ramp.snare.json"));
    const auto take = io::loadTake(io::shippedFile("demo/barrel-ramp.take.json"));
    if (!scene || !take) {
        fmt::print("the barrel ramp cannot be loaded\n");
        return badInput;
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    double best = 1e300;
    double simulated = 0;
    for (int i = 0; i < 5; ++i) {
        const Clock::time_point start = Clock::now();
        const sim::Record record = sim::rerun(shared, *take);
        best = std::min(best, since(start));
        simulated = record.seconds();
    }
    report("times faster than real time: the barrel ramp's take", simulated / best, simulated / best >= 200,
           "at least 200");
    return fine;
}

} // namespace snare::cli
