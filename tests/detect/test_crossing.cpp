// SPDX-License-Identifier: Apache-2.0
/// Time of impact against the slow way, for every pair of kinds, straight and turning; and what
/// must not change it.
#include "geometry/gap.h"
#include "geometry/impact.h"
#include "slow_region.h"

#include <QTest>

#include <random>

using namespace snare;
using namespace snare::tests;
using geometry::Hull;
using geometry::Motion;
using geometry::Span;

class TestCrossing : public QObject {
    Q_OBJECT

  private slots:
    void everyPairOfKindsAgreesWithDenseSampling_M6_data();
    void everyPairOfKindsAgreesWithDenseSampling_M6();
    void neitherOrderNorPlaceMatters();
    void tinyAndHugeShapesAreAsExact();
    void whatOnlyTouchesWhileItTurnsDoesNotMeet_M3();
    void aShortTurningOverlapIsNotMissed_M6();
    void heightsOpenAndCloseTheMeeting_M15();
    void contactsOfEdgesHaveTwoPoints();
};

namespace {

std::mt19937 dice;

double between(double low, double high)
{
    return std::uniform_real_distribution{low, high}(dice);
}

/// A ring with as many corners as wanted, star-shaped, so that it does not cross itself; concave
/// mostly.
std::vector<Vec> starOf(int corners, double least, double most)
{
    std::vector<Vec> points;
    for (int i = 0; i < corners; ++i) {
        const double angle = 2 * 3.14159265358979 * (i + between(-0.3, 0.3)) / corners;
        points.push_back(Vec{std::cos(angle), std::sin(angle)} * between(least, most));
    }
    return points;
}

/// An area with a hole, as tracing gives it.
scene::Traced frameOf()
{
    auto area = scene::TracedArea{"frame.png", true, {starOf(9, 1.2, 1.7), starOf(6, 0.4, 0.8)}, {}};
    std::ranges::reverse(area.rings[1]);
    area.parts = geometry::partsOfRings(area.rings);
    scene::Traced traced;
    traced.image = area.image;
    traced.size = {4, 4};
    traced.tracing.areas = std::make_shared<std::vector<scene::TracedArea>>(1, std::move(area));
    return traced;
}

constexpr const char* kinds[] = {"circle", "box", "capsule", "polygon", "line", "traced"};

scene::Geometry geometryOf(int kind)
{
    switch (kind) {
    case 0:
        return scene::Circle{between(0.05, 1)};
    case 1:
        return scene::Box{{between(0.1, 2), between(0.1, 2)}};
    case 2:
        return scene::Capsule{{between(-1, 0), between(-1, 1)}, {between(0, 1), between(-1, 1)}, between(0.05, 0.5)};
    case 3:
        return scene::Polygon{starOf(3 + static_cast<int>(between(0, 6)), 0.4, 1.5)};
    case 4:
        return scene::Line{starOf(3 + static_cast<int>(between(0, 3)), 0.5, 1.5), between(0, 1) < 0.5};
    default:
        return frameOf();
    }
}

scene::Shape shapeOf(int kind)
{
    scene::Shape shape;
    shape.at = {between(-0.6, 0.6), between(-0.6, 0.6)};
    shape.turn = between(0, 1) < 0.5 ? 0 : between(-180, 180);
    shape.geometry = geometryOf(kind);
    return shape;
}

Motion motionOf(bool turns)
{
    const double turn = between(0, 1) < 0.3 ? 90.0 * std::floor(between(-2, 3)) : between(-180, 180);
    const Pose from{{between(-4, 4), between(-4, 4)}, turn};
    const Vec way = between(0, 1) < 0.15 ? Vec{0, 0} : Vec{between(-7, 7), between(-7, 7)};
    return {from, {from.at + way, turn + (turns ? between(-140, 140) : 0)}};
}

/// What is the same in both: first and last moment, to `close`.
bool sameSpan(const std::optional<Span>& one, const std::optional<Span>& other, double close)
{
    if (one.has_value() != other.has_value())
        return false;
    return !one || (std::abs(one->enter - other->enter) <= close && std::abs(one->exit - other->exit) <= close &&
                    one->atEnd == other->atEnd && one->atStart == other->atStart);
}

/// Too near to a touch for anything to be said of it.
bool isDelicate(const std::optional<Span>& span)
{
    return span && span->exit - span->enter < 1e-4;
}

} // namespace

void TestCrossing::everyPairOfKindsAgreesWithDenseSampling_M6_data()
{
    QTest::addColumn<int>("first");
    QTest::addColumn<int>("second");
    for (int a = 0; a < 6; ++a)
        for (int b = a; b < 6; ++b)
            QTest::newRow(QByteArray(kinds[a]) + " and " + kinds[b]) << a << b;
}

void TestCrossing::everyPairOfKindsAgreesWithDenseSampling_M6()
{
    QFETCH(int, first);
    QFETCH(int, second);
    dice.seed(static_cast<unsigned>(first * 6 + second + 1));
    // 21 pairs of kinds: 105,000 pairs of shapes in all.
    constexpr int pairs = 5'000;
    constexpr int samples = 24;
    constexpr double slack = 1e-6;
    int met = 0;
    for (int i = 0; i < pairs; ++i) {
        const scene::Shape a = shapeOf(first);
        const scene::Shape b = shapeOf(second);
        const Motion motionOfA = motionOf(i % 2 == 0);
        const Motion motionOfB = motionOf(i % 3 == 0);
        const double reach = i % 5 == 0 ? 0.25 : 0;
        const auto span = geometry::nearSpan(world::partsOf(a), motionOfA, world::partsOf(b), motionOfB, reach);
        const auto distance = [&](double t) {
            return slowDistance(regionOf(a, motionOfA.at(t)), regionOf(b, motionOfB.at(t))) - reach;
        };
        const auto say = [&](const char* what, double t) {
            return qPrintable(
                QStringLiteral("%1: pair %2 at %3, distance %4").arg(what).arg(i).arg(t).arg(distance(t)));
        };
        for (int k = 0; k <= samples; ++k) {
            const double t = static_cast<double>(k) / samples;
            const double d = distance(t);
            if (d < -slack) {
                QVERIFY2(span, say("missed", t));
                QVERIFY2(span->enter <= t + 1e-9, say("entered late", t));
                QVERIFY2(span->exit >= t - 1e-9, say("left early", t));
            } else if (d > slack && span) {
                QVERIFY2((k != 0 || !span->atStart) && (k != samples || !span->atEnd), say("said to be near", t));
            }
        }
        if (!span)
            continue;
        ++met;
        // At its ends the two are just touching, unless the tick cut it off.
        for (const double t : {span->enter, span->exit}) {
            QVERIFY2(t >= 0 && t <= 1, say("out of the tick", t));
            const bool cut = t == span->enter ? span->atStart : span->atEnd;
            if (!cut)
                QVERIFY2(std::abs(distance(t)) < 1e-6 || (distance(t) <= 0 && reach == 0), say("not at the edge", t));
        }
        // Just before it came, and just after it left, they were apart.
        if (span->enter > 1e-6)
            QVERIFY2(distance(span->enter - 1e-6) > -1e-9, say("came earlier", span->enter - 1e-6));
        if (span->exit < 1 - 1e-6)
            QVERIFY2(distance(span->exit + 1e-6) > -1e-9, say("left later", span->exit + 1e-6));
    }
    QVERIFY2(met > pairs / 10, "the test saw too little");
}

void TestCrossing::neitherOrderNorPlaceMatters()
{
    dice.seed(77);
    for (int i = 0; i < 6'000; ++i) {
        const auto a = world::partsOf(shapeOf(i % 6));
        const auto b = world::partsOf(shapeOf(i / 6 % 6));
        const Motion motionOfA = motionOf(i % 2 == 0);
        const Motion motionOfB = motionOf(i % 3 == 0);
        const auto span = geometry::nearSpan(a, motionOfA, b, motionOfB);
        if (isDelicate(span))
            continue;
        QVERIFY2(sameSpan(span, geometry::nearSpan(b, motionOfB, a, motionOfA), 1e-9), "the other order");
        const Vec shift{between(-100, 100), between(-100, 100)};
        const auto shifted = [&](Motion motion) {
            motion.from.at += shift;
            motion.to.at += shift;
            return motion;
        };
        QVERIFY2(sameSpan(span, geometry::nearSpan(a, shifted(motionOfA), b, shifted(motionOfB)), 1e-7), "elsewhere");
        const double angle = between(-180, 180);
        const auto turned = [&](Motion motion) {
            for (Pose* pose : {&motion.from, &motion.to}) {
                pose->at = geometry::rotationOf(angle).apply(pose->at);
                pose->turn += angle;
            }
            return motion;
        };
        QVERIFY2(sameSpan(span, geometry::nearSpan(a, turned(motionOfA), b, turned(motionOfB)), 1e-7), "turned");
        const auto backwards = [](const Motion& motion) { return Motion{motion.to, motion.from}; };
        const auto reversed = geometry::nearSpan(a, backwards(motionOfA), b, backwards(motionOfB));
        QVERIFY2(span.has_value() == reversed.has_value(), "backwards");
        if (span)
            QVERIFY2(std::abs(span->enter - (1 - reversed->exit)) < 1e-7, "backwards, when");
    }
}

void TestCrossing::tinyAndHugeShapesAreAsExact()
{
    // Two discs and two boxes that meet in the middle of the tick, from a nanometre to a million
    // kilometres.
    for (const double size : {1e-9, 1e-6, 1e-3, 1.0, 1e3, 1e6, 1e9}) {
        const Motion still{{{0, 0}, 0}, {{0, 0}, 0}};
        for (const bool turning : {false, true}) {
            const Motion comes{{{-4 * size, 0}, 0}, {{4 * size, 0}, turning ? 360.0 : 0.0}};
            const auto discs =
                geometry::nearSpan(geometry::discHull({0, 0}, size), still, geometry::discHull({0, 0}, size), comes);
            QVERIFY(discs && std::abs(discs->enter - 0.25) < 1e-6 && std::abs(discs->exit - 0.75) < 1e-6);
            const Hull box = geometry::boxHull({2 * size, 2 * size}, {});
            const auto boxes = geometry::nearSpan(box, still, geometry::discHull({0, 0}, size), comes);
            QVERIFY(boxes && std::abs(boxes->enter - 0.25) < 1e-6 && std::abs(boxes->exit - 0.75) < 1e-6);
        }
        // Edge to edge is a touch at any size.
        const Hull box = geometry::boxHull({size, size}, {});
        const Motion beside{{{size, 0}, 0}, {{size, size}, 0}};
        QVERIFY(!geometry::nearSpan(box, still, box, beside));
    }
}

void TestCrossing::whatOnlyTouchesWhileItTurnsDoesNotMeet_M3()
{
    // A wheel spins on the ground, a bar swings round until its tip just reaches a post.
    const Hull ground = geometry::boxHull({10, 1}, {{0, -1.5}, 0});
    const Motion still{};
    const Motion spins{{{0, 0}, 0}, {{0, 0}, 720}};
    QVERIFY(!geometry::nearSpan(ground, still, geometry::discHull({0, 0}, 1), spins));
    const Motion rolls{{{-2, 0}, 0}, {{2, 0}, -229}};
    QVERIFY(!geometry::nearSpan(ground, still, geometry::discHull({0, 0}, 1), rolls));
    const Hull bar = geometry::boxHull({4, 0.2}, {});
    const double tip = std::hypot(2, 0.1);
    const auto post = [&](double gap) {
        return geometry::nearSpan(bar, Motion{{{0, 0}, 0}, {{0, 0}, 180}},
                                  geometry::discHull({0, tip + 0.5 + gap}, 0.5), still);
    };
    QVERIFY(!post(1e-12));
    QVERIFY(!post(1e-6));
    QVERIFY(post(-1e-6));
}

void TestCrossing::aShortTurningOverlapIsNotMissed_M6()
{
    // The tip of a long bar dips into a disc for a ten-thousandth of a tick.
    dice.seed(5);
    for (int i = 0; i < 300; ++i) {
        const double depth = std::pow(10.0, between(-8, -3));
        const double angle = between(20, 340);
        const Hull tip = geometry::discHull({5, 0}, 0.01);
        const double way = angle * 3.14159265358979323846 / 180;
        const Vec at = Vec{std::cos(way), std::sin(way)} * (5.02 - depth);
        const auto span = geometry::nearSpan(tip, Motion{{{0, 0}, 0}, {{0, 0}, 360}}, geometry::discHull(at, 0.01), {});
        // The disc lies on the circle of the tip, but for the depth: it is passed at its angle.
        QVERIFY2(span, qPrintable(QString::number(depth)));
        QVERIFY(std::abs((span->enter + span->exit) / 2 - angle / 360) < 1e-6);
    }
}

void TestCrossing::heightsOpenAndCloseTheMeeting_M15()
{
    const Hull disc = geometry::discHull({0, 0}, 1);
    // In plan they overlap from 0.25 to 0.75 of the tick.
    const auto spanOf = [&](geometry::Band a, geometry::Band b, double from, double to) {
        const Motion still{};
        const Motion comes{{{-4, 0}, 0, from}, {{4, 0}, 0, to}};
        return geometry::nearSpan(disc, still, disc, comes, 0, geometry::heightWindow(a, still, b, comes));
    };
    const geometry::Band unlimited;
    QVERIFY(sameSpan(spanOf(unlimited, unlimited, 0, 0), Span{0.25, 0.75, false, false}, 1e-12));
    QVERIFY(sameSpan(spanOf({0, 2}, unlimited, 50, 50), Span{0.25, 0.75, false, false}, 1e-12));
    QVERIFY(!spanOf({0, 2}, {0, 1}, 2, 2)); // they only touch
    QVERIFY(spanOf({0, 2}, {0, 1}, 1.999, 1.999));
    QVERIFY(!spanOf({0, 2}, {0, 1}, -1, -1));
    // It sinks from 4 to 0 on the way: level with the other from half of the tick on.
    QVERIFY(sameSpan(spanOf({0, 2}, {0, 1}, 4, 0), Span{0.5, 0.75, false, false}, 1e-12));
    // It is through before the two meet in plan, or comes level only after.
    QVERIFY(!spanOf({0, 2}, {0, 1}, 1, 20));
    QVERIFY(!spanOf({0, 2}, {0, 1}, 20, 1));
    // Turning ones too.
    const Motion still{};
    const Motion turns{{{-4, 0}, 0, 4}, {{4, 0}, 90, 0}};
    const auto turning =
        geometry::nearSpan(disc, still, disc, turns, 0, geometry::heightWindow({0, 2}, still, {0, 1}, turns));
    QVERIFY(sameSpan(turning, Span{0.5, 0.75, false, false}, 1e-8));
}

void TestCrossing::contactsOfEdgesHaveTwoPoints()
{
    const Hull floor = geometry::boxHull({10, 1}, {{0, -0.5}, 0});
    const geometry::Manifold stands = geometry::manifoldOf(floor, geometry::boxHull({2, 1}, {{3, 0.499}, 0}));
    QCOMPARE(stands.count, 2);
    QVERIFY(std::abs(stands.normal.y - 1) < 1e-12);
    QVERIFY(std::abs(std::abs(stands.points[0].at.x - stands.points[1].at.x) - 2) < 1e-9);
    for (const auto& point : stands.points)
        QVERIFY(std::abs(point.distance + 0.001) < 1e-9);
    // Half over the edge: only what is above the floor.
    const geometry::Manifold over = geometry::manifoldOf(floor, geometry::boxHull({2, 1}, {{5, 0.5}, 0}));
    QCOMPARE(over.count, 2);
    QVERIFY(std::abs(std::abs(over.points[0].at.x - over.points[1].at.x) - 1) < 1e-9);
    QCOMPARE(geometry::manifoldOf(floor, geometry::boxHull({1, 1}, {{0, 0.7}, 45})).count, 1);
    QCOMPARE(geometry::manifoldOf(floor, geometry::discHull({0, 1}, 1)).count, 1);
    // The nearest points of two that are apart lie on the edge of each.
    dice.seed(31);
    for (int i = 0; i < 500; ++i) {
        const Hull a = geometry::placed(world::partsOf(shapeOf(i % 3)).front(), {{0, 0}, between(-180, 180)});
        const Hull b =
            geometry::placed(world::partsOf(shapeOf(i / 3 % 3)).front(), {{between(4, 6), between(-2, 2)}, 0});
        const geometry::Gap gap = geometry::gapBetween(a, b);
        const auto off = [](const Hull& hull, const Vec& at) {
            return std::abs(geometry::gapBetween(hull, geometry::discHull(at, 0)).distance);
        };
        QVERIFY(gap.distance > 0 && off(b, gap.point) < 1e-9 && off(a, gap.opposite()) < 1e-9);
    }
    // Seen from the other side the normal points the other way.
    const geometry::Manifold other = geometry::manifoldOf(geometry::boxHull({2, 1}, {{3, 0.499}, 0}), floor);
    QVERIFY(std::abs(other.normal.y + 1) < 1e-12);
}

QTEST_APPLESS_MAIN(TestCrossing)
#include "test_crossing.moc"
