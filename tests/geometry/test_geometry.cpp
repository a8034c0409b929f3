// SPDX-License-Identifier: Apache-2.0
#include "geometry/gap.h"
#include "geometry/grid.h"
#include "geometry/impact.h"
#include "geometry/outline.h"

#include <QTest>

#include <random>
#include <set>

using namespace snare;
using namespace snare::geometry;

class TestGeometry : public QObject {
    Q_OBJECT

  private slots:
    void partsOfAConcavePolygonCoverItExactly();
    void faultsOfPolygonsAndLinesAreNamed();
    void aLineHasNoInside();
    void turnsOfQuartersAreExact();
    void gapIsTheDistanceOrTheDepth_data();
    void gapIsTheDistanceOrTheDepth();
    void gapIsSymmetric();
    void straightSpanAgreesWithSampling_M6();
    void turningSpanAgreesWithSampling_M6();
    void touchingEdgesAreNotNear_M3();
    void anEndAtTheTicksEndBelongsToIt_M3();
    void theGridTellsThoseThatOverlapAndNoneThatWereTakenOut();
};

namespace {

class CounterGenerator {
  public:
    explicit CounterGenerator(unsigned seed) : engine_(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution{low, high}(engine_); }
    Hull hull()
    {
        if (between(0, 1) < 0.5)
            return discHull({between(-0.5, 0.5), between(-0.5, 0.5)}, between(0.1, 1));
        return boxHull({between(0.1, 2), between(0.1, 2)},
                       {{between(-0.5, 0.5), between(-0.5, 0.5)}, between(-180, 180)});
    }
    Motion motion(bool turns)
    {
        const Pose from{{between(-3, 3), between(-3, 3)}, between(-180, 180)};
        return {from, {from.at + Vec{between(-4, 4), between(-4, 4)}, from.turn + (turns ? between(-120, 120) : 0)}};
    }

  private:
    std::mt19937 engine_;
};

/// First and last sample at which the hulls overlap by more than `depth`; slow and independent of
/// the code under test.
std::pair<double, double> sampled(const Hull& a, const Motion& ma, const Hull& b, const Motion& mb, double depth)
{
    constexpr int samples = 4000;
    double first = 2;
    double last = -1;
    for (int i = 0; i <= samples; ++i) {
        const double t = static_cast<double>(i) / samples;
        if (gapBetween(placed(a, ma.at(t)), placed(b, mb.at(t))).distance < -depth) {
            first = std::min(first, t);
            last = t;
        }
    }
    return {first, last};
}

void compareWithSampling(bool turns, int pairs, unsigned seed)
{
    CounterGenerator dice{seed};
    int met = 0;
    for (int i = 0; i < pairs; ++i) {
        const Hull a = dice.hull();
        const Hull b = dice.hull();
        const Motion ma = dice.motion(turns);
        const Motion mb = dice.motion(turns);
        const auto span = nearSpan(a, ma, b, mb);
        const auto [first, last] = sampled(a, ma, b, mb, 0.01);
        if (last < 0)
            continue; // no clear overlap: a graze may go either way
        ++met;
        QVERIFY2(span, qPrintable(QStringLiteral("pair %1 is missed").arg(i)));
        QVERIFY2(span->enter <= first + 1e-9 && span->exit >= last - 1e-9,
                 qPrintable(QStringLiteral("pair %1 is cut short").arg(i)));
        // What is reported beyond the clear overlap is at most a touch.
        if (!span->atStart)
            QVERIFY(gapBetween(placed(a, ma.at(span->enter)), placed(b, mb.at(span->enter))).distance > -1e-6);
        if (!span->atEnd)
            QVERIFY(gapBetween(placed(a, ma.at(span->exit)), placed(b, mb.at(span->exit))).distance > -1e-6);
    }
    QVERIFY(met > pairs / 10);
}

} // namespace

void TestGeometry::turnsOfQuartersAreExact()
{
    for (const double degrees : {0.0, 90.0, 180.0, 270.0, 360.0, -90.0, 450.0}) {
        const Vec turned = rotationOf(degrees).apply({1, 0});
        QCOMPARE(std::abs(turned.x) + std::abs(turned.y), 1.0);
        QVERIFY(turned.x == 0 || turned.y == 0);
    }
}

void TestGeometry::gapIsTheDistanceOrTheDepth_data()
{
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("distance");
    QTest::newRow("beside") << 3.0 << 0.0 << 1.5;
    QTest::newRow("over") << 0.0 << 2.0 << 0.5;
    QTest::newRow("off a corner") << 4.0 << 5.0 << 4.5; // 3-4-5 from the corner (1, 1)
    QTest::newRow("touching") << 1.5 << 0.0 << 0.0;
    QTest::newRow("deep") << 1.25 << 0.0 << -0.25;
    QTest::newRow("concentric") << 0.0 << 0.0 << -1.5;
}

void TestGeometry::gapIsTheDistanceOrTheDepth()
{
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, distance);
    const Gap gap = gapBetween(boxHull({2, 2}, {}), discHull({x, y}, 0.5));
    QVERIFY(std::abs(gap.distance - distance) < 1e-12);
    QVERIFY(std::abs(glm::length(gap.normal) - 1) < 1e-12);
}

void TestGeometry::gapIsSymmetric()
{
    CounterGenerator dice{11};
    for (int i = 0; i < 2000; ++i) {
        const Hull a = placed(dice.hull(), dice.motion(false).from);
        const Hull b = placed(dice.hull(), dice.motion(false).from);
        QVERIFY(std::abs(gapBetween(a, b).distance - gapBetween(b, a).distance) < 1e-12);
    }
}

void TestGeometry::straightSpanAgreesWithSampling_M6()
{
    compareWithSampling(false, 600, 3);
}

void TestGeometry::turningSpanAgreesWithSampling_M6()
{
    compareWithSampling(true, 600, 5);
}

void TestGeometry::touchingEdgesAreNotNear_M3()
{
    const Hull box = boxHull({2, 2}, {});
    QVERIFY(!nearSpan(box, {{{0, 0}, 0}, {{0, 0}, 0}}, box, {{{2, 0}, 0}, {{2, 0}, 0}}));
    // Sliding along the edge is a touch too.
    QVERIFY(!nearSpan(box, {{{0, 0}, 0}, {{0, 0}, 0}}, box, {{{2, -3}, 0}, {{2, 3}, 0}}));
}

void TestGeometry::anEndAtTheTicksEndBelongsToIt_M3()
{
    const Hull box = boxHull({2, 2}, {});
    const auto span = nearSpan(box, {}, box, {{{1, 0}, 0}, {{2, 0}, 0}});
    QVERIFY(span);
    QCOMPARE(span->exit, 1.0);
    QVERIFY(!span->atEnd);
    // And a beginning there belongs to the next.
    QVERIFY(!nearSpan(box, {}, box, {{{3, 0}, 0}, {{2, 0}, 0}}));
}

void TestGeometry::partsOfAConcavePolygonCoverItExactly()
{
    std::mt19937 random{11};
    std::uniform_real_distribution<double> radius{0.5, 4};
    for (int round = 0; round < 300; ++round) {
        // A star around the origin: simple, mostly concave.
        const int corners = 3 + round % 14;
        std::vector<Vec> star;
        for (int i = 0; i < corners; ++i) {
            const double angle = 6.283185307179586 * i / corners;
            star.push_back(Vec{std::cos(angle), std::sin(angle)} * radius(random));
        }
        if (round % 2 == 1) // either direction
            std::ranges::reverse(star);
        QVERIFY(!geometry::faultOfPolygon(star));
        const auto parts = geometry::partsOfPolygon(star);
        double area = 0;
        for (const geometry::Hull& part : parts) {
            const auto edge = part.corners();
            area += geometry::doubledArea(edge);
            for (std::size_t i = 0; i < edge.size(); ++i) // convex, counter-clockwise
                QVERIFY(geometry::cross(edge[(i + 1) % edge.size()] - edge[i],
                                        edge[(i + 2) % edge.size()] - edge[(i + 1) % edge.size()]) >= -1e-12);
        }
        QVERIFY(std::abs(area - std::abs(geometry::doubledArea(star))) < 1e-9);
        // Inside or outside as by counting crossings.
        std::uniform_real_distribution<double> place{-4, 4};
        for (int i = 0; i < 40; ++i) {
            const Vec point{place(random), place(random)};
            bool inside = false;
            for (std::size_t a = 0, b = star.size() - 1; a < star.size(); b = a++)
                if ((star[a].y > point.y) != (star[b].y > point.y) &&
                    point.x < (star[b].x - star[a].x) * (point.y - star[a].y) / (star[b].y - star[a].y) + star[a].x)
                    inside = !inside;
            const bool found =
                std::ranges::any_of(parts, [&](const geometry::Hull& part) { return geometry::contains(part, point); });
            QCOMPARE(found, inside);
        }
    }
}

void TestGeometry::faultsOfPolygonsAndLinesAreNamed()
{
    using Points = std::vector<Vec>;
    const auto fault = [](const Points& points) { return geometry::faultOfPolygon(points).value_or("none"); };
    QCOMPARE(fault({{0, 0}, {1, 0}}), std::string("a polygon has at least three corners"));
    QCOMPARE(fault({{0, 0}, {1, 0}, {1, 0}, {0, 1}}), std::string("corner 2 and the next one are at the same place"));
    QCOMPARE(fault({{0, 0}, {2, 2}, {2, 0}, {0, 2}}), std::string("edges 1 and 3 cross"));
    QCOMPARE(fault({{0, 0}, {2, 0}, {1, 0}, {1, 1}}), std::string("edge 1 and the next one lie on each other"));
    QCOMPARE(fault({{0, 0}, {2, 0}, {2, 2}, {1, 0}, {0, 2}}), std::string("edges 1 and 3 cross")); // touches is crosses
    QCOMPARE(fault({{0, 0}, {1e9, 0}, {1e9, 1e-9}}), std::string("none"));
    QVERIFY(geometry::faultOfLine(Points{{0, 0}}, false));
    QVERIFY(geometry::faultOfLine(Points{{0, 0}, {1, 1}}, true));
    QVERIFY(!geometry::faultOfLine(Points{{0, 0}, {1, 1}, {0, 1}, {1, 0}}, false)); // a line may cross itself
}

void TestGeometry::aLineHasNoInside()
{
    const std::vector<Vec> square{{-2, -2}, {2, -2}, {2, 2}, {-2, 2}};
    const auto edges = geometry::partsOfLine(square, true);
    QCOMPARE(edges.size(), 4U);
    const geometry::Hull disc = geometry::discHull({0, 0}, 1);
    QCOMPARE(geometry::gapBetween(edges, {}, {&disc, 1}, {}).distance, 1.0);
    const geometry::Hull wide = geometry::discHull({0, 0}, 2.5);
    QVERIFY(geometry::gapBetween(edges, {}, {&wide, 1}, {}).distance < 0);
}

void TestGeometry::theGridTellsThoseThatOverlapAndNoneThatWereTakenOut()
{
    std::mt19937 dice{3};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    constexpr int count = 400;
    geometry::Grid grid;
    grid.resize(count);
    std::vector<geometry::Box> boxes(count);
    for (int round = 0; round < 40; ++round) {
        for (int shape = 0; shape < count; ++shape) {
            if (between(0, 1) < 0.3) {
                grid.remove(shape);
                continue;
            }
            // From a centimetre to the whole ground, so that all ways of looking into smaller
            // orders of size are taken. Each other round they are in a heap, so that cells hold
            // more than their buckets have room for.
            const double ground = round % 2 == 0 ? 20 : 0.5;
            const Vec at{between(-ground, ground), between(-ground, ground)};
            const double half = 0.005 * std::pow(5000, between(0, 1));
            boxes[static_cast<std::size_t>(shape)] =
                geometry::Box{geometry::Bounds{at - Vec(half, half * 0.5), at + Vec(half, half * 0.5)}};
            grid.place(shape, boxes[static_cast<std::size_t>(shape)], between(0, 1) < 0.3 ? 2.0F : 0.0F);
        }
        std::set<std::pair<int, int>> upwards;
        std::set<std::pair<int, int>> wanted;
        for (int shape = 0; shape < count; ++shape) {
            if (!grid.holds(shape))
                continue;
            std::multiset<int> near;
            grid.visitNear(shape, [&](int other) { near.insert(other); });
            std::multiset<int> expected;
            for (int other = 0; other < count; ++other)
                if (other != shape && grid.holds(other) && grid.boxOf(shape).overlaps(grid.boxOf(other)))
                    expected.insert(other);
            QVERIFY2(near == expected, qPrintable(QStringLiteral("round %1, shape %2").arg(round).arg(shape)));
            for (const int other : expected)
                wanted.emplace(std::min(shape, other), std::max(shape, other));
            grid.visitUpwards(shape, [&](int other) {
                QVERIFY2(upwards.emplace(std::min(shape, other), std::max(shape, other)).second, "told twice");
            });
        }
        QVERIFY(upwards == wanted);
    }
}

QTEST_APPLESS_MAIN(TestGeometry)
#include "test_geometry.moc"
