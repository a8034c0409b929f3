// SPDX-License-Identifier: Apache-2.0
/// `snare bench detect`: finding and diffing all meetings of a tick, against two yardsticks in the
/// same run.
///
/// A program of its own, since it counts allocations by replacing the global operator and needs
/// Boost's R-tree. All figures are ratios: means of ours, medians of the yardsticks; the pairs that
/// the three ways find are compared before anything is measured.
#include "detect/detection.h"
#include "geometry/gap.h"
#include "geometry/impact.h"

#include <boost/geometry.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <functional>
#include <new>
#include <random>
#include <utility>

namespace {

std::size_t allocations = 0;

} // namespace

// None is inlined: GCC 12 would take the pair for a mismatch.
[[gnu::noinline]] void* operator new(std::size_t size)
{
    ++allocations;
    if (void* memory = std::malloc(size == 0 ? 1 : size))
        return memory;
    throw std::bad_alloc();
}

[[gnu::noinline]] void* operator new(std::size_t size, std::align_val_t alignment)
{
    ++allocations;
    const auto step = static_cast<std::size_t>(alignment);
    if (void* memory = std::aligned_alloc(step, (size + step - 1) / step * step))
        return memory;
    throw std::bad_alloc();
}

[[gnu::noinline]] void operator delete(void* memory) noexcept
{
    std::free(memory);
}

[[gnu::noinline]] void operator delete(void* memory, std::size_t) noexcept
{
    std::free(memory);
}

[[gnu::noinline]] void operator delete(void* memory, std::align_val_t) noexcept
{
    std::free(memory);
}

[[gnu::noinline]] void operator delete(void* memory, std::size_t, std::align_val_t) noexcept
{
    std::free(memory);
}

namespace {

using namespace snare;
using geometry::Bounds;
using geometry::Vec;
using world::PieceIndex;

/// Movers on a square ground, half of them discs and half boxes, that turn back at its edges.
class Crowd {
  public:
    /// Sizes from `smallest` to `largest` (m), as many of each order of size; `share` of them move.
    /// The ground is as large as it takes for each to meet a third of another on average.
    Crowd(std::size_t count, double smallest, double largest, double share, unsigned seed) : random_(seed)
    {
        scene::Scene scene;
        scene.contacts = {{"default", "default", scene::Contact::sense}};
        double squares = 0;
        double sizes = 0;
        std::vector<double> radii;
        for (std::size_t i = 0; i < count; ++i) {
            radii.push_back(smallest * std::pow(largest / smallest, between(0, 1)) * 0.5);
            sizes += radii.back();
            squares += radii.back() * radii.back();
        }
        const auto n = static_cast<double>(count);
        constexpr double metByEach = 1.0 / 3;
        const double meetingArea = 3.14159 * (2 * squares / n + 2 * (sizes / n) * (sizes / n));
        side_ = std::sqrt(meetingArea * n / metByEach);
        for (std::size_t i = 0; i < count; ++i) {
            scene::Piece piece;
            piece.id = std::to_string(i);
            piece.at = {between(0, side_), between(0, side_)};
            piece.body = scene::KinematicBody{};
            scene::Shape shape;
            shape.role = scene::Role::zone;
            shape.geometry = scene::Circle{radii[i]};
            if (i % 2 == 0)
                shape.geometry = scene::Box{{radii[i] * 1.9, radii[i] * 1.6}};
            piece.shapes.push_back(shape);
            scene.pieces.push_back(std::move(piece));
            const double way = between(0, 6.2831853);
            velocity_.push_back(Vec{std::cos(way), std::sin(way)} * 0.05); // 3 m/s
        }
        world_ = world::World(scene);
        moving_ = std::max<std::size_t>(1, static_cast<std::size_t>(share * n));
        stride_ = count / moving_;
    }

    void move()
    {
        world_.beginMotion();
        for (std::size_t i = 0; i < moving_; ++i) {
            const std::size_t piece = i * stride_;
            geometry::Pose pose = world_.pose()[piece];
            for (const int axis : {0, 1}) {
                if ((pose.at[axis] < 0 && velocity_[piece][axis] < 0) ||
                    (pose.at[axis] > side_ && velocity_[piece][axis] > 0))
                    velocity_[piece][axis] *= -1;
            }
            pose.at += velocity_[piece];
            world_.moveTo(static_cast<PieceIndex>(piece), pose);
        }
    }

    world::World& world() { return world_; }
    std::size_t moving() const { return moving_; }

    /// The rectangles that the broad phase sees, in single precision as it keeps them.
    const std::vector<geometry::Box>& boxes()
    {
        boxes_.clear();
        for (const world::LiveShape& shape : world_.shapes()) {
            Bounds bounds;
            for (const geometry::Hull& part : world_.partsOf(shape))
                bounds.include(geometry::sweptBounds(part, world_.motionOf(shape.piece)));
            boxes_.emplace_back(bounds);
        }
        return boxes_;
    }

  private:
    double between(double low, double high) { return std::uniform_real_distribution{low, high}(random_); }

    std::mt19937 random_;
    world::World world_;
    std::vector<Vec> velocity_;
    std::vector<geometry::Box> boxes_;
    double side_ = 1;
    std::size_t moving_ = 0;
    std::size_t stride_ = 1;
};

using Pairs = std::vector<std::pair<int, int>>;

namespace bg = boost::geometry;
using TreePoint = bg::model::point<double, 2, bg::cs::cartesian>;
using TreeBox = bg::model::box<TreePoint>;
using TreeEntry = std::pair<TreeBox, int>;

/// The first yardstick: the tree is packed anew and asked for every box.
class TreePass {
  public:
    void find(const std::vector<geometry::Box>& boxes, Pairs& pairs)
    {
        entries_.clear();
        for (std::size_t i = 0; i < boxes.size(); ++i)
            entries_.emplace_back(TreeBox{{boxes[i].lowX, boxes[i].lowY}, {boxes[i].highX, boxes[i].highY}},
                                  static_cast<int>(i));
        const bg::index::rtree<TreeEntry, bg::index::quadratic<16>> tree(entries_);
        pairs.clear();
        for (const TreeEntry& entry : entries_)
            for (auto it = tree.qbegin(bg::index::intersects(entry.first)); it != tree.qend(); ++it)
                if (entry.second < it->second)
                    pairs.emplace_back(entry.second, it->second);
    }

  private:
    std::vector<TreeEntry> entries_;
};

/// The second yardstick: boxes sorted into square cells as large as the largest, and nothing but
/// box tests.
class BarePass {
  public:
    void find(const std::vector<geometry::Box>& boxes, Pairs& pairs)
    {
        float low = 1e30F;
        float high = -1e30F;
        float cell = 0;
        for (const geometry::Box& box : boxes) {
            low = std::min({low, box.lowX, box.lowY});
            high = std::max({high, box.highX, box.highY});
            cell = std::max({cell, box.highX - box.lowX, box.highY - box.lowY});
        }
        const auto side = static_cast<std::size_t>((high - low) / cell) + 1;
        const auto cellOf = [&](float at) { return static_cast<std::size_t>((at - low) / cell); };
        starts_.assign(side * side + 1, 0);
        const auto forCells = [&](const geometry::Box& box, auto&& visit) {
            const std::size_t lastX = cellOf(box.highX);
            const std::size_t lastY = cellOf(box.highY);
            for (std::size_t y = cellOf(box.lowY); y <= lastY; ++y)
                for (std::size_t x = cellOf(box.lowX); x <= lastX; ++x)
                    visit(y * side + x);
        };
        for (const geometry::Box& box : boxes)
            forCells(box, [&](std::size_t at) { ++starts_[at + 1]; });
        for (std::size_t i = 1; i < starts_.size(); ++i)
            starts_[i] += starts_[i - 1];
        places_ = starts_;
        sorted_.resize(starts_.back());
        for (std::size_t i = 0; i < boxes.size(); ++i)
            forCells(boxes[i], [&](std::size_t at) { sorted_[places_[at]++] = static_cast<int>(i); });
        pairs.clear();
        for (std::size_t at = 0; at + 1 < starts_.size(); ++at)
            for (std::size_t i = starts_[at]; i < starts_[at + 1]; ++i) {
                const geometry::Box& one = boxes[static_cast<std::size_t>(sorted_[i])];
                for (std::size_t j = i + 1; j < starts_[at + 1]; ++j) {
                    const geometry::Box& other = boxes[static_cast<std::size_t>(sorted_[j])];
                    if (one.overlaps(other) && cellOf(std::max(one.lowX, other.lowX)) == at % side &&
                        cellOf(std::max(one.lowY, other.lowY)) == at / side)
                        pairs.emplace_back(sorted_[i], sorted_[j]);
                }
            }
    }

  private:
    std::vector<std::size_t> starts_;
    std::vector<std::size_t> places_;
    std::vector<int> sorted_;
};

double secondsOf(const std::function<void()>& work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

double median(std::vector<double> values)
{
    std::ranges::sort(values);
    return values[values.size() / 2];
}

/// Those near a mover are looked for every so many ticks: no fewer ticks are measured.
constexpr int roundTrip = 64;

void warmUp(Crowd& crowd, detect::Detection& detection, int ticks)
{
    detection.detect(crowd.world(), true, false);
    for (int i = 0; i < ticks; ++i) {
        crowd.move();
        detection.detect(crowd.world(), false, false);
    }
}

/// A crowd and its detection, warm. What is compared is measured in turn, a few times, since the
/// machine is not equally fast at all times.
struct Measured {
    explicit Measured(Crowd made) : crowd(std::move(made)) { warmUp(crowd, detection, roundTrip); }

    /// The mean time of a tick's detection.
    double time(int ticks)
    {
        double sum = 0;
        for (int i = 0; i < ticks; ++i) {
            crowd.move();
            sum += secondsOf([&] { detection.detect(crowd.world(), false, false); });
        }
        return sum / ticks;
    }

    Crowd crowd;
    detect::Detection detection;
};

constexpr int turns = 7;

bool failed = false;

void report(const std::string& what, double figure, bool fine, const std::string& wanted)
{
    failed = failed || !fine;
    fmt::print("  {:<58} {:>8.2f}   {} {}\n", what, figure, fine ? "fine:" : "MISSED:", wanted);
}

/// All three ways find the same pairs; what detection calls a meeting is what overlaps by the slow
/// way.
bool samePairs(Crowd& crowd, const detect::Detection& detection)
{
    Pairs byTree;
    Pairs byCells;
    TreePass{}.find(crowd.boxes(), byTree);
    BarePass{}.find(crowd.boxes(), byCells);
    for (auto& [a, b] : byCells)
        if (b < a)
            std::swap(a, b);
    std::ranges::sort(byTree);
    std::ranges::sort(byCells);
    const world::World& world = crowd.world();
    Pairs slow;
    for (const auto& [a, b] : byTree) {
        const auto& first = world.shapes()[static_cast<std::size_t>(a)];
        const auto& second = world.shapes()[static_cast<std::size_t>(b)];
        if (geometry::gapBetween(world.partsOf(first), world.pose()[static_cast<std::size_t>(first.piece)],
                                 world.partsOf(second), world.pose()[static_cast<std::size_t>(second.piece)])
                .distance < -1e-12)
            slow.emplace_back(a, b);
    }
    Pairs found;
    for (const detect::Meeting& meeting : detection.meetings())
        found.emplace_back(meeting.a, meeting.b);
    return byTree == byCells && slow == found;
}

void compare(std::size_t count)
{
    Crowd crowd{count, 1, 1, 1, 7};
    detect::Detection detection;
    warmUp(crowd, detection, 2 * roundTrip);
    const bool same = samePairs(crowd, detection);
    TreePass tree;
    BarePass bare;
    Pairs pairs;
    double ours = 0;
    std::vector<double> byTree;
    std::vector<double> byCells;
    std::size_t changes = 0;
    for (int i = 0; i < roundTrip; ++i) {
        crowd.move();
        ours += secondsOf([&] { changes += detection.detect(crowd.world(), false, false).size(); });
        if (i % 4 != 0)
            continue;
        const auto& boxes = crowd.boxes();
        byTree.push_back(secondsOf([&] { tree.find(boxes, pairs); }));
        byCells.push_back(secondsOf([&] { bare.find(boxes, pairs); }));
    }
    const double own = ours / roundTrip;
    fmt::print("{} movers of one size: {:.2f} ms a tick, {} meetings, {} events a tick, same pairs: {}\n", count,
               own * 1e3, detection.meetingCount(), changes / roundTrip, same ? "yes" : "NO");
    failed = failed || !same;
    report("times faster than an R-tree packed and asked", median(byTree) / own, median(byTree) / own >= 10,
           "at least 10");
    report("times a bare pass over square cells", own / median(byCells), own / median(byCells) <= 3, "at most 3");
}

} // namespace

namespace snare::cli {
void measureRules();
}

int main(int wordCount, char** words)
{
    if (wordCount > 1 && std::string_view(words[1]) == "rules") {
        snare::cli::measureRules();
        return 0;
    }
    compare(10'000);
    compare(100'000);

    fmt::print("growth, part of it moving, sizes, allocations\n");
    {
        Measured small{{1'000, 1, 1, 1, 11}};
        Measured large{{100'000, 1, 1, 1, 11}};
        Measured few{{100'000, 1, 1, 0.01, 11}};
        std::vector<double> growth;
        std::vector<double> saved;
        for (int turn = 0; turn < turns; ++turn) {
            const double all = large.time(roundTrip);
            growth.push_back(all / small.time(10 * roundTrip));
            saved.push_back(all / few.time(2 * roundTrip));
        }
        const double power = std::log(median(growth)) / std::log(100.0);
        report("power of growth from 1,000 to 100,000", power, power <= 1.1, "at most 1.1");
        report("times faster when 1 % of 100,000 moves", median(saved), median(saved) >= 20, "at least 20");
    }
    {
        Measured equal{{30'000, 1, 1, 1, 13}};
        Measured mixed{{30'000, 0.05, 50, 1, 13}};
        std::vector<double> times;
        for (int turn = 0; turn < turns; ++turn)
            times.push_back(mixed.time(roundTrip) / equal.time(roundTrip));
        fmt::print("  sizes 1,000 : 1 with {} meetings, one size with {}\n", mixed.detection.meetingCount(),
                   equal.detection.meetingCount());
        report("times the time of one size", median(times), median(times) <= 2, "at most 2");
    }
    {
        Crowd crowd{100'000, 1, 1, 1, 17};
        detect::Detection detection;
        warmUp(crowd, detection, 300);
        std::size_t inTicks = 0;
        for (int i = 0; i < 20; ++i) {
            crowd.move();
            const std::size_t before = allocations;
            detection.detect(crowd.world(), false, false);
            inTicks += allocations - before;
        }
        report("allocations in 20 ticks once warm", static_cast<double>(inTicks), inTicks == 0, "none");
        const world::World& world = crowd.world();
        const double shapes = static_cast<double>(world.shapes().size());
        const double perShape = (static_cast<double>(detection.shapeBytes()) +
                                 static_cast<double>(world.shapes().capacity() * sizeof(world::LiveShape) +
                                                     world.parts().capacity() * sizeof(geometry::Hull))) /
                                shapes;
        const double perMeeting =
            static_cast<double>(detection.meetingBytes()) / static_cast<double>(detection.meetingCount());
        report("bytes a shape, with its geometry", perShape, perShape <= 300, "at most 300");
        report("bytes a meeting", perMeeting, perMeeting <= 100, "at most 100");
    }
    return failed ? 1 : 0;
}
