// SPDX-License-Identifier: Apache-2.0
/// `snare bench rules`: what an event costs on its way through a snare, against a signal that calls
/// one slot.
#include "rules/engine.h"

#include <boost/signals2.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <vector>

namespace snare::cli {

namespace {

using Clock = std::chrono::steady_clock;

/// A zone, a visitor, and a snare that counts hits of those in a group with a tag.
scene::Scene sceneWith(int others)
{
    scene::Scene scene;
    scene.groups = {"courier"};
    scene.variables.set("n", 0.0);
    const auto add = [&](const std::string& id) {
        scene::Piece piece;
        piece.id = id;
        piece.group = "courier";
        piece.tags = {"staff"};
        scene::Shape shape;
        shape.id = "s";
        piece.shapes.push_back(shape);
        scene.pieces.push_back(std::move(piece));
    };
    add("zone");
    add("visitor");
    scene::Snare snare;
    snare.id = "count";
    snare.catches.event.items = {scene::EventKind::hit};
    snare.catches.at = "zone";
    snare.filter.groups = {"courier"};
    snare.filter.tags.any = {"staff"};
    snare.gate.limit = 1'000'000'000;
    snare.responses.push_back({scene::Add{scene::Target::scene(), "n", 1.0}, {}});
    scene.snares.push_back(snare);
    for (int i = 0; i < others; ++i) { // they catch the same, elsewhere
        add(fmt::format("p{}", i));
        snare.id = fmt::format("other-{}", i);
        snare.catches.at = fmt::format("p{}", i);
        scene.snares.push_back(snare);
    }
    return scene;
}

struct Measured {
    double nanoseconds = 0; ///< an event
    double bytes = 0;       ///< of the journal, an event
};

template <class T> std::size_t bytesOf(const std::vector<T>& list)
{
    return list.size() * sizeof(T);
}

/// What an event costs and leaves behind. With `warm` the journal has the memory for all that is
/// written, as a signal has for its slots.
Measured measureEvents(int others, int events, bool warm)
{
    const auto scene = std::make_shared<const scene::Scene>(sceneWith(others));
    world::World world{*scene};
    detect::Detection detection;
    rules::Journal journal;
    rules::Engine engine{scene, 1};
    engine.reset(0, world);
    detect::Change hit; // as detection hands it over
    hit.kind = scene::EventKind::hit;
    hit.self = 0;
    hit.visitor = 1;
    hit.shape = 0;
    hit.part = 1;
    hit.frac = 0.5;
    hit.point = {1, 2};
    hit.normal = {0, 1};
    hit.speed = 3;
    constexpr int inATick = 50;
    std::int64_t tick = 0;
    double seconds = 0;
    for (int round = warm ? 0 : 1; round < 2; ++round) {
        journal.lines.clear();
        journal.because.clear();
        journal.values.clear();
        journal.spots.clear();
        journal.fields.clear();
        const auto start = Clock::now();
        for (int i = 0; i < events; i += inATick) {
            engine.beginTick(++tick);
            for (int j = 0; j < inATick; ++j)
                engine.queue(hit, world);
            engine.deliverAll({world, detection, journal});
        }
        seconds = std::chrono::duration<double>(Clock::now() - start).count();
    }
    const std::size_t bytes = bytesOf(journal.lines) + bytesOf(journal.because) + bytesOf(journal.values) +
                              bytesOf(journal.spots) + bytesOf(journal.fields);
    const bool counted = std::get<double>(*world.variables().find("n")) == (warm ? 2.0 : 1.0) * events;
    return {counted ? seconds * 1e9 / events : 0, static_cast<double>(bytes) / events};
}

/// The slot adds to the same variable of a scene as the snare.
double measureSignal(int emissions)
{
    boost::signals2::signal<void(double)> emitted;
    const scene::Scene scene = sceneWith(0);
    world::World world{scene};
    emitted.connect([&world](double by) {
        scene::Scalar* n = world.valuesOf(world::theScene).find("n");
        if (double* number = n ? std::get_if<double>(n) : nullptr)
            *number += by;
    });
    const auto start = Clock::now();
    for (int i = 0; i < emissions; ++i)
        emitted(1.0);
    const double seconds = std::chrono::duration<double>(Clock::now() - start).count();
    return std::get<double>(*world.variables().find("n")) == emissions ? seconds * 1e9 / emissions : 0;
}

/// The middle one of the ratios of two things measured in turn: the machine is not as fast at all
/// times.
template <class First, class Second> double ratio(First&& first, Second&& second)
{
    std::vector<double> ratios;
    for (int i = 0; i < 25; ++i) {
        const double of = first();
        ratios.push_back(of / second());
    }
    std::ranges::nth_element(ratios, ratios.begin() + 12);
    return ratios[12];
}

} // namespace

void measureRules()
{
    const auto emission = [] { return measureSignal(50'000); };
    const auto event = [](int others, bool warm) { return measureEvents(others, 2'000, warm).nanoseconds; };
    fmt::print("rules: an event through catch, filter, gate and one add: {:.1f} times an emission to one slot\n",
               ratio([&] { return event(10, true); }, emission));
    fmt::print("rules: with a journal that has yet to get its memory from the system: {:.1f} times\n",
               ratio([&] { return event(10, false); }, emission));
    fmt::print("rules: with 10,000 snares that listen elsewhere instead of 10: {:.2f} times\n",
               ratio([&] { return event(10'000, true); }, [&] { return event(10, true); }));
    fmt::print("rules: 1,000,000 events with their log: {:.0f} bytes each\n",
               measureEvents(10, 1'000'000, false).bytes);
}

} // namespace snare::cli
