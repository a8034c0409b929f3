// SPDX-License-Identifier: Apache-2.0
/// Walkers where there is gravity: on the ground, over steps, jumping, climbing, carried and
/// squeezed.
#include "builder.h"
#include "geometry/gap.h"
#include "world/outline.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

namespace {

constexpr double g = 9.81;

scene::Scene sideView()
{
    scene::Scene scene;
    scene.view = scene::View::side;
    return scene;
}

/// A walker 1.2 m high and 0.6 m wide whose feet are at `foot`.
scene::Piece courier(Vec foot, double jump = 0)
{
    scene::Piece piece = walker("courier", foot + Vec{0, 0.605});
    piece.shapes[0].geometry = scene::Capsule{{0, -0.3}, {0, 0.3}, 0.3};
    std::get<scene::WalkerBody>(piece.body).jump = jump;
    return piece;
}

scene::WalkerBody& bodyOf(scene::Piece& piece)
{
    return std::get<scene::WalkerBody>(piece.body);
}

struct Held {
    const char* key;
    double from;
    double to;
};

scene::Take takeOf(std::initializer_list<Held> keys, double length)
{
    scene::Take take;
    for (const Held& held : keys)
        press(take, held.key, held.from, held.to);
    take.length = length;
    return take;
}

std::size_t indexOf(const sim::Record& record, const std::string& id)
{
    return static_cast<std::size_t>(std::ranges::find(record.pieces, id, &sim::RunPiece::id) - record.pieces.begin());
}

Vec placeOf(const sim::Record& record, const std::string& id, double seconds)
{
    return record.snapshots.at(static_cast<std::int64_t>(seconds * 60 + 0.5))[indexOf(record, id)].pose.at;
}

/// The height that the feet reach, over where they started.
double highest(const sim::Record& record)
{
    const std::size_t index = indexOf(record, "courier");
    double top = -1e9;
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick)
        top = std::max(top, record.snapshots.at(tick)[index].pose.at.y);
    return top - record.snapshots.at(0)[index].pose.at.y;
}

qsizetype countOf(const sim::Record& record, EventKind kind, const std::string& self)
{
    return std::ranges::count_if(record.journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == kind && record.nameOf(line.self) == self &&
               record.nameOf(line.visitor) == "courier";
    });
}

} // namespace

class TestWalkers : public QObject {
    Q_OBJECT

  private slots:
    void walksAtItsSpeedAndIsStoppedByAWall_V1();
    void fallsAsTheTicksSay_V2();
    void aLongPressJumpsHigherThanAShortOne();
    void canJumpOnlyFromTheGround_V5();
    void coyoteTimeLetsAJumpComeLate();
    void aBufferedPressJumpsOnLanding();
    void walksOverStepsAndStopsAtHighOnes();
    void walksUpFlatSlopesAndSlidesDownSteepOnes();
    void noEventsWhileWalkingOverTheJointsOfALine();
    void isCarriedSidewaysAndUp_V4();
    void keepsTheSpeedOfACarrierThatItLeaves_V8();
    void isPushedByAMover();
    void isSqueezedWithoutGettingIntoAnything();
    void climbsHoldsAndStepsOff_V6();
    void gripsAgainAfterAJumpOnlyOutsideOrAnew_V6();
    void climbsBuiltFromPlainSnares();
    void pushesWhatIsLoose();
    void walksOverRandomGroundNeitherStuckNorInside_data();
    void walksOverRandomGroundNeitherStuckNorInside();
    void walkSpeedCanBeSetUntilTheVisitorLeaves();
};

void TestWalkers::walksAtItsSpeedAndIsStoppedByAWall_V1()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), wall("wall", {4, 2}, {1, 4}), courier({0, 0})};
    const sim::Record record = play(scene, takeOf({{"Right", 0, 3}}, 3));
    QVERIFY(std::abs(placeOf(record, "courier", 1).x - 3) < 0.06);
    QVERIFY(std::abs(placeOf(record, "courier", 3).x - 3.2) < 0.011); // its side at the wall's
    QVERIFY(std::abs(placeOf(record, "courier", 3).y - 0.605) < 0.006);
    QCOMPARE(countOf(record, EventKind::hit, "wall"), 1);
}

void TestWalkers::fallsAsTheTicksSay_V2()
{
    scene::Scene scene = sideView();
    scene.pieces = {courier({0, 9})};
    const sim::Record record = play(scene, {}, 1);
    QVERIFY(std::abs(placeOf(record, "courier", 1).y - (9.605 - g * 60 * 61 / 2 / 3600)) < 1e-9);
}

void TestWalkers::aLongPressJumpsHigherThanAShortOne()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), courier({0, 0}, 6)};
    const double high = highest(play(scene, takeOf({{"space", 0.5, 2}}, 3)));
    const double low = highest(play(scene, takeOf({{"space", 0.5, 0.6}}, 3)));
    QVERIFY2(std::abs(high - 36 / (2 * g)) < 0.06, qPrintable(QString::number(high)));
    QVERIFY2(low < high * 0.75 && low > high * 0.2, qPrintable(QString::number(low)));
}

void TestWalkers::canJumpOnlyFromTheGround_V5()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), courier({0, 0}, 6)};
    const double once = highest(play(scene, takeOf({{"space", 0.5, 0.9}}, 3)));
    const double twice = highest(play(scene, takeOf({{"space", 0.5, 0.9}, {"space", 1.1, 1.3}}, 3)));
    QCOMPARE(twice, once);
}

void TestWalkers::coyoteTimeLetsAJumpComeLate()
{
    const auto heightWith = [](double coyote) {
        scene::Scene scene = sideView();
        scene.pieces = {wall("ledge", {0, -0.5}, {2, 1}), courier({0, 0}, 6)};
        bodyOf(scene.pieces[1]).coyote = coyote;
        // It leaves the ledge when its middle has passed the edge, after about 0.4 s.
        return highest(play(scene, takeOf({{"Right", 0, 2}, {"space", 0.52, 1}}, 2)));
    };
    QVERIFY(heightWith(0) < 0.1);
    QVERIFY(heightWith(0.2) > 1);
}

void TestWalkers::aBufferedPressJumpsOnLanding()
{
    const auto jumpsWith = [](double buffer) {
        scene::Scene scene = sideView();
        scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), courier({0, 0.5}, 6)};
        bodyOf(scene.pieces[1]).jumpBuffer = buffer;
        return highest(play(scene, takeOf({{"space", 0.25, 1}}, 2))); // it lands after about 0.32 s
    };
    QVERIFY(jumpsWith(0) < 0.01);
    QVERIFY(jumpsWith(0.15) > 1);
}

void TestWalkers::walksOverStepsAndStopsAtHighOnes()
{
    for (const double height : {0.1, 0.24, 0.3}) {
        scene::Scene scene = sideView();
        scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), wall("step", {6, height / 2}, {4, height}), courier({0, 0})};
        const sim::Record record = play(scene, takeOf({{"Right", 0, 3}}, 3));
        const Vec end = placeOf(record, "courier", 3);
        if (height < 0.25) {
            QVERIFY2(std::abs(end.x - 9) < 0.3 && std::abs(end.y - 0.605) < 0.01, // over it and down again
                     qPrintable(QStringLiteral("%1 m: %2, %3").arg(height).arg(end.x).arg(end.y)));
        } else {
            QVERIFY2(end.x < 4, qPrintable(QString::number(end.x)));
        }
    }
}

void TestWalkers::walksUpFlatSlopesAndSlidesDownSteepOnes()
{
    for (const double angle : {20.0, 45.0, 60.0}) {
        scene::Scene scene = sideView();
        const double rise = std::tan(angle * std::numbers::pi / 180) * 4;
        scene::Piece slope = wall("slope", {2, 0}, {1, 1});
        slope.shapes[0].geometry = scene::Polygon{{{0, 0}, {4, 0}, {4, rise}}};
        scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), slope, courier({0, 0})};
        const sim::Record record = play(scene, takeOf({{"Right", 0, 2}}, 3));
        const Vec end = placeOf(record, "courier", 3);
        if (angle < 50)
            QVERIFY2(end.y > 1.5, qPrintable(QStringLiteral("%1 degrees: %2").arg(angle).arg(end.y)));
        else
            QVERIFY2(end.y < 0.7, qPrintable(QStringLiteral("%1 degrees: %2").arg(angle).arg(end.y)));
    }
}

void TestWalkers::noEventsWhileWalkingOverTheJointsOfALine()
{
    scene::Scene scene = sideView();
    scene::Line line;
    for (int i = 0; i < 60; ++i)
        line.points.emplace_back(i * 0.31 - 2, 0);
    scene::Piece floor = wall("floor", {0, 0}, {1, 1});
    floor.shapes[0].geometry = line;
    scene.pieces = {floor, courier({0, 0})};
    const sim::Record record = play(scene, takeOf({{"Right", 0.2, 4}}, 4));
    QVERIFY(placeOf(record, "courier", 4).x > 11);
    QCOMPARE(countOf(record, EventKind::exit, "floor"), 0);
    QCOMPARE(countOf(record, EventKind::hit, "floor"), 0);
}

void TestWalkers::isCarriedSidewaysAndUp_V4()
{
    scene::Scene scene = sideView();
    scene::Piece ferry = wall("ferry", {0, -0.5}, {4, 1});
    ferry.body = scene::KinematicBody{{1.5, 0.8}};
    scene.pieces = {ferry, courier({0, 0})};
    const sim::Record record = play(scene, {}, 4);
    const Vec apart = placeOf(record, "courier", 4) - placeOf(record, "ferry", 4);
    QVERIFY2(std::abs(apart.x) < 0.03 && std::abs(apart.y - 1.105) < 0.01,
             qPrintable(QStringLiteral("%1, %2").arg(apart.x).arg(apart.y)));
    QCOMPARE(countOf(record, EventKind::exit, "ferry"), 0);
}

void TestWalkers::keepsTheSpeedOfACarrierThatItLeaves_V8()
{
    scene::Scene scene = sideView();
    scene::Piece ferry = wall("ferry", {0, -0.5}, {4, 1});
    ferry.body = scene::KinematicBody{{3, 0}};
    scene.pieces = {ferry, courier({0, 0}, 6)};
    const sim::Record record = play(scene, takeOf({{"space", 1, 2}}, 2));
    // In the air it goes along over the ferry.
    QVERIFY(std::abs(placeOf(record, "courier", 1.8).x - placeOf(record, "ferry", 1.8).x) < 0.1);
}

void TestWalkers::isPushedByAMover()
{
    scene::Scene scene = sideView();
    scene::Piece plough = wall("plough", {-3, 0.6}, {1, 1});
    plough.body = scene::KinematicBody{{2, 0}};
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), plough, courier({0, 0})};
    const sim::Record record = play(scene, {}, 3);
    QVERIFY(std::abs(placeOf(record, "courier", 3).x - (placeOf(record, "plough", 3).x + 0.8)) < 0.02);
    QCOMPARE(countOf(record, EventKind::hit, "plough"), 1);
}

void TestWalkers::isSqueezedWithoutGettingIntoAnything()
{
    scene::Scene scene = sideView();
    scene::Piece press = wall("press", {-4, 0.6}, {1, 1.1});
    press.body = scene::KinematicBody{{2, 0}};
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), wall("post", {2, 1}, {1, 2}), press, courier({0, 0})};
    const sim::Record record = play(scene, {}, 3);
    // The press wins: the hit that squeezes is told with its speed, and the walker stays a number.
    const auto hit = std::ranges::find_if(record.journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == EventKind::hit &&
               record.nameOf(line.self) == "press";
    });
    QVERIFY(hit != record.journal.lines.end() && std::abs(hit->number - 2) < 0.1);
    const Vec end = placeOf(record, "courier", 3);
    QVERIFY(std::isfinite(end.x) && std::isfinite(end.y) && end.y > 0);
}

namespace {

/// Shrouds from 0.3 to 6 m at x = 2.
scene::Scene withShrouds()
{
    scene::Scene scene = sideView();
    scene::Piece shrouds = zone("shrouds", {2, 3.15}, {1, 5.7});
    shrouds.group = "rigging";
    scene.groups = {"rigging"};
    scene.contacts = {{"rigging", "default", scene::Contact::sense}};
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), shrouds, courier({2, 0}, 5)};
    bodyOf(scene.pieces[2]).climbs = "rigging";
    bodyOf(scene.pieces[2]).climbSpeed = 2;
    return scene;
}

} // namespace

void TestWalkers::climbsHoldsAndStepsOff_V6()
{
    const sim::Record record = play(withShrouds(), takeOf({{"Up", 0.2, 1.7}, {"Right", 3, 3.5}}, 6));
    QVERIFY(std::abs(placeOf(record, "courier", 1.7).y - 3.6) < 0.1);
    QVERIFY(placeOf(record, "courier", 2.9).y == placeOf(record, "courier", 1.8).y); // it holds still
    QVERIFY(std::abs(placeOf(record, "courier", 6).y - 0.605) < 0.01);               // stepped off, it falls
}

void TestWalkers::gripsAgainAfterAJumpOnlyOutsideOrAnew_V6()
{
    // Up held all along: after the jump it falls through the shrouds until up is pressed anew.
    const sim::Record fell = play(withShrouds(), takeOf({{"Up", 0.2, 6}, {"space", 1.7, 1.9}}, 6));
    QVERIFY2(std::abs(placeOf(fell, "courier", 4).y - 0.605) < 0.3,
             qPrintable(QString::number(placeOf(fell, "courier", 4).y)));
    const sim::Record gripped =
        play(withShrouds(), takeOf({{"Up", 0.2, 1.7}, {"space", 1.7, 1.9}, {"Up", 2.2, 2.6}}, 6));
    QVERIFY(placeOf(gripped, "courier", 6).y > 2.5);
}

/// The same climb with snares: a key that is held while it is inside puts it up, if there is room.
void TestWalkers::climbsBuiltFromPlainSnares()
{
    const scene::Scene scene = sceneFrom(
        "'view': 'side', 'groups': ['mark'], 'contacts': [['mark', 'default', 'sense']], 'pieces': ["
        "{'id': 'floor', 'at': [0, -0.5], 'shapes': [{'box': [60, 1]}]},"
        "{'id': 'ceiling', 'at': [2, 5], 'shapes': [{'box': [3, 1]}]},"
        "{'id': 'ladder', 'group': 'mark', 'at': [2, 2.5], 'shapes': [{'role': 'zone', 'box': [1, 5]}]},"
        "{'id': 'courier', 'at': [2, 0.605], 'body': {'kind': 'walker', 'steer': 'arrows'},"
        " 'shapes': [{'capsule': {'from': [0, -0.3], 'to': [0, 0.3], 'radius': 0.3}}]}],"
        "'snares': ["
        "{'id': 'on', 'catch': {'event': 'enter', 'at': 'ladder'}, 'responses': [{'do': 'set', 'on': 'visitor',"
        " 'name': 'gravity', 'value': 0, 'until': 'exit'}, {'do': 'stop', 'on': 'visitor'}]},"
        "{'id': 'up', 'catch': {'event': 'key-held', 'key': 'Up', 'at': 'ladder', 'inside': true}, 'responses':"
        " [{'do': 'put', 'on': 'visitor', 'by': [0, 0.04], 'ifClear': true}]}]");
    const sim::Record record = play(scene, takeOf({{"Up", 0.5, 4}}, 4));
    const Vec end = placeOf(record, "courier", 4);
    QVERIFY2(end.y > 3.8 && end.y < 3.92, qPrintable(QString::number(end.y))); // under the ceiling at 4.5 m
}

void TestWalkers::pushesWhatIsLoose()
{
    scene::Scene scene = sideView();
    scene::Piece crate = piece("crate", {2, 0.405}, scene::Box{{0.8, 0.8}}, scene::Role::solid, scene::DynamicBody{});
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), crate, courier({0, 0})};
    const sim::Record record = play(scene, takeOf({{"Right", 0, 3}}, 4));
    QVERIFY(placeOf(record, "crate", 4).x > 3);
    QVERIFY(placeOf(record, "courier", 3).x < placeOf(record, "crate", 3).x - 0.65); // beside it, not inside
}

void TestWalkers::walksOverRandomGroundNeitherStuckNorInside_data()
{
    QTest::addColumn<int>("from");
    for (int from = 0; from < 1000; from += 100)
        QTest::addRow("terrains from %d", from) << from;
}

/// Gentle ground of random lines with low steps: it comes across, never falls through, never gets
/// into a solid by more than 1 cm.
void TestWalkers::walksOverRandomGroundNeitherStuckNorInside()
{
    QFETCH(int, from);
    for (int number = from; number < from + 100; ++number) {
        std::mt19937 random{static_cast<unsigned>(number)};
        std::uniform_real_distribution<double> any{0, 1};
        scene::Scene scene = sideView();
        scene::Line line;
        Vec at{-3, 0};
        line.points = {{-3, 4}, at, {1, 0}};
        at = {1, 0};
        while (at.x < 10) {
            const double length = 0.25 + any(random);
            if (const double step = any(random);
                step < 0.2) { // up or down, lower than the walker takes, on level ground
                line.points.push_back(at += Vec{0.8, 0});
                line.points.push_back(at += Vec{0.01, (step < 0.1 ? 0.2 : -0.2) * any(random)});
                line.points.push_back(at += Vec{0.8, 0});
            }
            line.points.push_back(at += Vec{length, length * (any(random) * 1.4 - 0.7)}); // up to 35 degrees
        }
        line.points.emplace_back(at.x + 20, at.y);
        scene::Piece ground = wall("ground", {0, 0}, {1, 1});
        ground.shapes[0].geometry = line;
        scene.pieces = {ground, courier({0, 0}, 5)};
        const sim::Record record = play(scene, takeOf({{"Right", 0.2, 9}}, 7));
        const std::vector<geometry::Hull> solids = world::partsOf(scene.pieces[0].shapes[0]);
        const geometry::Hull own = world::partsOf(scene.pieces[1].shapes[0]).front();
        for (std::int64_t tick = 0; tick <= record.lastTick(); tick += 3) {
            const geometry::Hull placed = geometry::placed(own, record.snapshots.at(tick)[1].pose);
            for (const geometry::Hull& solid : solids)
                if (const double gap = geometry::gapBetween(placed, solid).distance; gap < -0.01)
                    QFAIL(qPrintable(QStringLiteral("terrain %1, tick %2: %3 m deep").arg(number).arg(tick).arg(-gap)));
        }
        const Vec end = placeOf(record, "courier", 7);
        QVERIFY2(end.x > 10,
                 qPrintable(QStringLiteral("terrain %1: stuck at %2, %3").arg(number).arg(end.x).arg(end.y)));
        QVERIFY2(end.y > at.y + 0.6, qPrintable(QStringLiteral("terrain %1: fell to %2").arg(number).arg(end.y)));
    }
}

/// Mud.
void TestWalkers::walkSpeedCanBeSetUntilTheVisitorLeaves()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {60, 1}), zone("mud", {4, 0.5}, {2, 1}), courier({0, 0})};
    scene::Set slow{{{"visitor"}}, "walkSpeed", scene::Scalar{0.5}};
    slow.until = scene::Until::exit;
    scene.snares = {onEvent("wade", EventKind::enter, "mud", {slow})};
    const sim::Record record = play(scene, takeOf({{"Right", 0, 9}}, 9));
    const double inside = placeOf(record, "courier", 4).x - placeOf(record, "courier", 3).x;
    QVERIFY2(std::abs(inside - 0.5) < 0.02, qPrintable(QString::number(inside)));
    const double after = placeOf(record, "courier", 9).x - placeOf(record, "courier", 8).x;
    QVERIFY2(std::abs(after - 3) < 0.1, qPrintable(QString::number(after)));
}

QTEST_APPLESS_MAIN(TestWalkers)
#include "test_walkers.moc"
