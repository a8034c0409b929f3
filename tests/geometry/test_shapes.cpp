// SPDX-License-Identifier: Apache-2.0
/// Capsules, polygons and lines: cutting up, picking, and meeting, against slow references.
#include "builder.h"
#include "geometry/gap.h"
#include "world/outline.h"

#include <QTest>

#include <random>
#include <set>

using namespace snare;
using namespace snare::tests;
using geometry::Pose;

class TestShapes : public QObject {
    Q_OBJECT

  private slots:
    void polygonsOfManyCornersAreCutUpInGoodTime();
    void tooManyCornersAreRefused();
    void pickingAgreesWithTheParts();
    void boundsHoldEveryPart();
    void theCutDoesNotMatterForMeetings_M13();
    void meetingsAgreeWithDenseSampling();
    void symmetryAndMovingTheWholeScene();
    void turnedAndOffsetShapesMeetAsTheyLie();

  private:
    std::mt19937 random_{17};

    double between(double low, double high) { return std::uniform_real_distribution<double>{low, high}(random_); }

    /// A star around the origin, mostly concave.
    std::vector<Vec> star(int corners, double least, double most)
    {
        std::vector<Vec> points;
        for (int i = 0; i < corners; ++i) {
            const double angle = 6.283185307179586 * i / corners;
            points.push_back(Vec{std::cos(angle), std::sin(angle)} * between(least, most));
        }
        return points;
    }

    scene::Geometry anyGeometry()
    {
        switch (std::uniform_int_distribution<int>{0, 4}(random_)) {
        case 0:
            return scene::Circle{between(0.2, 1)};
        case 1:
            return scene::Box{{between(0.3, 2), between(0.3, 2)}};
        case 2:
            return scene::Capsule{
                {between(-1, 0), between(-1, 1)}, {between(0.1, 1), between(-1, 1)}, between(0.1, 0.5)};
        case 3:
            return scene::Polygon{star(std::uniform_int_distribution<int>{3, 9}(random_), 0.4, 1.5)};
        default:
            return scene::Line{star(std::uniform_int_distribution<int>{3, 6}(random_), 0.4, 1.5), between(0, 1) < 0.5};
        }
    }

    scene::Shape anyShape()
    {
        scene::Shape shape;
        shape.geometry = anyGeometry();
        shape.at = {between(-1, 1), between(-1, 1)};
        shape.turn = between(-180, 180);
        return shape;
    }
};

void TestShapes::polygonsOfManyCornersAreCutUpInGoodTime()
{
    // A comb: as concave as it can be.
    std::vector<Vec> comb;
    constexpr int teeth = 1000;
    for (int i = 0; i < teeth; ++i) {
        comb.push_back({i * 1.0, 0});
        comb.push_back({i + 0.5, 5});
    }
    comb.push_back({teeth, 0});
    comb.push_back({teeth / 2.0, -10});
    QVERIFY(!geometry::faultOfPolygon(comb));
    const auto parts = geometry::partsOfPolygon(comb);
    double area = 0;
    for (const geometry::Hull& part : parts)
        area += geometry::doubledArea(part.corners());
    QVERIFY(std::abs(area - std::abs(geometry::doubledArea(comb))) < 1e-6);
    QVERIFY(parts.size() < comb.size());
}

void TestShapes::tooManyCornersAreRefused()
{
    const std::vector<Vec> many = star(static_cast<int>(geometry::mostCorners) + 1, 5, 5.1);
    QCOMPARE(geometry::faultOfPolygon(many).value_or(""), std::string("more than 5000 corners"));
    QCOMPARE(geometry::faultOfLine(many, true).value_or(""), std::string("more than 5000 corners"));
}

void TestShapes::pickingAgreesWithTheParts()
{
    for (int round = 0; round < 400; ++round) {
        const scene::Shape shape = anyShape();
        const Pose pose{{between(-3, 3), between(-3, 3)}, between(-180, 180)};
        const auto parts = world::partsOf(shape);
        for (int i = 0; i < 20; ++i) {
            const Vec point{between(-6, 6), between(-6, 6)};
            const double slack = between(0, 0.3);
            const geometry::Hull spot = geometry::discHull(point, slack);
            const double gap = geometry::gapBetween(parts, pose, {&spot, 1}, {}).distance;
            if (std::abs(gap) > 1e-9)
                QCOMPARE(world::reaches(shape, pose, point, slack), gap < 0);
        }
    }
}

void TestShapes::boundsHoldEveryPart()
{
    for (int round = 0; round < 400; ++round) {
        const scene::Shape shape = anyShape();
        const Pose pose{{between(-3, 3), between(-3, 3)}, between(-180, 180)};
        geometry::Bounds box = world::boundsOf(shape, pose);
        geometry::Bounds tight;
        for (const geometry::Hull& part : world::partsOf(shape))
            tight.include(geometry::boundsOf(geometry::placed(part, pose)));
        QVERIFY(glm::length(box.low - tight.low) < 1e-9 && glm::length(box.high - tight.high) < 1e-9);
    }
}

void TestShapes::theCutDoesNotMatterForMeetings_M13()
{
    // The same star begun at another corner, and in the other direction, is cut up differently.
    for (int round = 0; round < 60; ++round) {
        const std::vector<Vec> points = star(4 + round % 8, 0.5, 2.5);
        const double y = between(-2, 2);
        const double speed = between(1, 200);
        const auto eventsWith = [&](std::vector<Vec> corners) {
            scene::Scene scene;
            scene.pieces = {piece("pier", {0, 0}, scene::Polygon{std::move(corners)}, scene::Role::zone),
                            mover("skiff", {-4, y}, {speed, 0}, 0.05)};
            const sim::Record record = play(scene, {}, 9 / speed);
            QString all;
            for (const rules::Line& line : record.journal.lines)
                if (line.kind == rules::LineKind::event && record.nameOf(line.self) == "pier")
                    all += QStringLiteral("%1 %2 %3;")
                               .arg(line.tick)
                               .arg(static_cast<int>(line.event))
                               .arg(line.frac, 0, 'f', 6);
            return all;
        };
        std::vector<Vec> rolled = points;
        std::rotate(rolled.begin(), rolled.begin() + 1 + round % 3, rolled.end());
        std::vector<Vec> backwards = points;
        std::ranges::reverse(backwards);
        const QString first = eventsWith(points);
        QCOMPARE(eventsWith(rolled), first);
        QCOMPARE(eventsWith(backwards), first);
    }
}

void TestShapes::meetingsAgreeWithDenseSampling()
{
    // Who is inside after each tick, for shapes that go and turn through each other, by looking at
    // their gap.
    int met = 0;
    for (int round = 0; round < 150; ++round) {
        scene::Scene scene;
        for (int i = 0; i < 4; ++i) {
            scene::Piece one;
            one.id = "p" + std::to_string(i);
            one.at = {between(-3, 3), between(-3, 3)};
            one.turn = between(-180, 180);
            one.body = scene::KinematicBody{{between(-3, 3), between(-3, 3)}, between(-90, 90)};
            one.shapes.push_back(anyShape());
            one.shapes.back().role = scene::Role::zone;
            scene.pieces.push_back(std::move(one));
        }
        const sim::Record record = play(scene, {}, 0.5);
        for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick) {
            std::set<std::pair<int, int>> told;
            for (const sim::Insider& inside : sim::insidersAt(record, tick))
                told.emplace(inside.shape, inside.visitor);
            const auto states = record.snapshots.at(tick);
            for (int a = 0; a < 4; ++a)
                for (int b = 0; b < 4; ++b) {
                    const auto i = static_cast<std::size_t>(a);
                    const auto j = static_cast<std::size_t>(b);
                    if (a == b)
                        continue;
                    const double gap = geometry::gapBetween(world::partsOf(scene.pieces[i].shapes[0]), states[i].pose,
                                                            world::partsOf(scene.pieces[j].shapes[0]), states[j].pose)
                                           .distance;
                    if (std::abs(gap) < 1e-6)
                        continue;
                    met += gap < 0 ? 1 : 0;
                    QVERIFY2(told.contains({a, b}) == (gap < 0),
                             qPrintable(QStringLiteral("round %1 tick %2: %3 and %4, gap %5")
                                            .arg(round)
                                            .arg(tick)
                                            .arg(a)
                                            .arg(b)
                                            .arg(gap)));
                }
        }
    }
    QVERIFY(met > 1000); // the test saw something
}

void TestShapes::symmetryAndMovingTheWholeScene()
{
    for (int round = 0; round < 300; ++round) {
        const scene::Shape a = anyShape();
        const scene::Shape b = anyShape();
        const Pose poseOfA{{between(-2, 2), between(-2, 2)}, between(-180, 180)};
        const Pose poseOfB{{between(-2, 2), between(-2, 2)}, between(-180, 180)};
        const auto partsOfA = world::partsOf(a);
        const auto partsOfB = world::partsOf(b);
        const geometry::Gap one = geometry::gapBetween(partsOfA, poseOfA, partsOfB, poseOfB);
        const geometry::Gap other = geometry::gapBetween(partsOfB, poseOfB, partsOfA, poseOfA);
        QVERIFY(std::abs(one.distance - other.distance) < 1e-9);
        // The whole scene turned and shifted: the same gap.
        const double turn = between(-180, 180);
        const Vec shift{between(-50, 50), between(-50, 50)};
        const auto moved = [&](const Pose& pose) {
            return Pose{shift + geometry::rotationOf(turn).apply(pose.at), pose.turn + turn};
        };
        const geometry::Gap elsewhere = geometry::gapBetween(partsOfA, moved(poseOfA), partsOfB, moved(poseOfB));
        QVERIFY(std::abs(one.distance - elsewhere.distance) < 1e-9);
    }
}

void TestShapes::turnedAndOffsetShapesMeetAsTheyLie()
{
    // A second shape, turned by 90 degrees beside the first, is where the piece's turn takes it.
    scene::Scene scene;
    scene::Piece crane = zone("crane", {0, 0}, {1, 1});
    scene::Shape arm;
    arm.id = "arm";
    arm.role = scene::Role::zone;
    arm.geometry = scene::Box{{4, 0.5}};
    arm.at = {3, 0};
    arm.turn = 90; // upright beside it
    crane.shapes.push_back(arm);
    crane.turn = 90; // the whole: the arm lies level above
    scene.pieces = {crane, mover("gull", {-4, 3}, {2, 0}, 0.1)};
    const sim::Record record = play(scene, {}, 4);
    const QStringList events = eventsAt(record, "crane");
    // From x = -2 to 2 at y = 3: enters at 1.9 m of way, leaves after 6.1 m.
    QCOMPARE(events, QStringList({"58 enter crane gull", "183 exit crane gull"}));
}

QTEST_APPLESS_MAIN(TestShapes)
#include "test_shapes.moc"
