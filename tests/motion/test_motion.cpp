// SPDX-License-Identifier: Apache-2.0
#include "builder.h"
#include "geometry/gap.h"
#include "sim/recorder.h"
#include "world/outline.h"

#include <QTest>

#include <random>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;
using scene::Scalar;

class TestMotion : public QObject {
    Q_OBJECT

  private slots:
    void velocityMovesAPieceEveryTick_V1();
    void spinTurnsAPieceEveryTick();
    void walkersGoAtTheirSpeedAlsoDiagonally();
    void oppositeKeysCancel();
    void walkersStopInACorner();
    void walkersSqueezeThroughAGapTheyFit();
    void walkersPassZonesAndOtherGroups_M2();
    void disabledSolidsStopNobody();
    void aMoverPushesAWalkerOut_V1();
    void walkersAreNeverInsideASolid_data();
    void walkersAreNeverInsideASolid();
    void keysOfOnesOwnSteer();
    void twoWalkersAreSteeredApart();
    void moveByIsFromWhereItIs();
    void moveToAPieceGoesWhereItIs();
    void aMoveWithinReachArrivesAtOnce_V3();
    void stopEndsMoveAndVelocity_V3();
    void staticPiecesAreNotMovedAndThatIsNoted();
    void valuesReadPlaceAndSpeed();
    void aRouteOnceCycleAndBack_data();
    void aRouteOnceCycleAndBack();
    void aMoveTakesAPieceOffItsRouteUntilItHasArrived();
    void stopEndsARoute_V3();
    void accelerationGetsAWalkerUpToSpeed();
    void anHourOfFiringLeavesNothingBehind();

  private:
    static Vec endOf(const sim::Record& record, std::size_t index)
    {
        return record.snapshots.at(record.lastTick())[index].pose.at;
    }
};

namespace {

scene::Take holding(std::initializer_list<const char*> keys, double seconds)
{
    scene::Take take;
    take.length = seconds;
    for (const char* key : keys)
        take.inputs.push_back(keyAt(0, key, true));
    return take;
}

scene::Move moveOf(const char* piece, scene::Destination to, double speed)
{
    scene::Move move;
    move.on = {{piece}};
    move.to = std::move(to);
    move.speed = speed;
    return move;
}

} // namespace

void TestMotion::velocityMovesAPieceEveryTick_V1()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {1, 2}, {0.6, -1.2})};
    const Vec end = endOf(play(scene, {}, 2), 0);
    QVERIFY(glm::length(end - Vec{2.2, -0.4}) < 1e-9);
}

void TestMotion::spinTurnsAPieceEveryTick()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0})};
    std::get<scene::KinematicBody>(scene.pieces[0].body).spin = 45;
    const sim::Record record = play(scene, {}, 4);
    QVERIFY(std::abs(record.snapshots.at(record.lastTick())[0].pose.turn - 180) < 1e-9);
}

void TestMotion::walkersGoAtTheirSpeedAlsoDiagonally()
{
    scene::Scene scene;
    scene.pieces = {walker("c", {0, 0}, 3)};
    QVERIFY(glm::length(endOf(play(scene, holding({"Right"}, 1)), 0) - Vec{3, 0}) < 1e-9);
    QVERIFY(std::abs(glm::length(endOf(play(scene, holding({"Right", "Up"}, 1)), 0)) - 3) < 1e-9);
}

void TestMotion::oppositeKeysCancel()
{
    scene::Scene scene;
    scene.pieces = {walker("c", {0, 0}, 3)};
    QVERIFY(glm::length(endOf(play(scene, holding({"Right", "Left", "Down"}, 1)), 0) - Vec{0, -3}) < 1e-9);
}

void TestMotion::walkersStopInACorner()
{
    scene::Scene scene;
    scene.pieces = {wall("right", {3, 0}, {1, 10}), wall("top", {0, 3}, {10, 1}), walker("c", {0, 0}, 4)};
    const sim::Record record = play(scene, holding({"Right", "Up"}, 2));
    const Vec end = endOf(record, 2);
    QVERIFY(end.x > 2.08 && end.x < 2.1 && end.y > 2.08 && end.y < 2.1);
    QCOMPARE(eventsAt(record, "right").size(), 2); // enter and hit, and no flicker after
    QCOMPARE(eventsAt(record, "top").size(), 2);
}

void TestMotion::walkersSqueezeThroughAGapTheyFit()
{
    scene::Scene scene;
    scene.pieces = {wall("above", {3, 1.45}, {1, 2}), wall("below", {3, -1.45}, {1, 2}), walker("c", {0, 0}, 3)};
    QVERIFY(endOf(play(scene, holding({"Right"}, 2)), 2).x > 5.9); // 0.9 m wide, the walker is 0.8 m
    scene.pieces[0].at.y = 1.35;
    QVERIFY(endOf(play(scene, holding({"Right"}, 2)), 2).x < 2.6); // 0.8 m: no room for the gap it keeps
}

void TestMotion::walkersPassZonesAndOtherGroups_M2()
{
    scene::Scene scene;
    scene.groups = {"ghost"};
    scene.contacts = {{"ghost", "default", scene::Contact::sense}};
    scene.pieces = {zone("z", {2, 0}, {1, 3}), wall("w", {4, 0}, {1, 3}), walker("c", {0, 0}, 3)};
    scene.pieces[1].group = "ghost";
    const sim::Record record = play(scene, holding({"Right"}, 2));
    QVERIFY(endOf(record, 2).x > 5.9);
    QCOMPARE(eventsAt(record, "w").filter(QStringLiteral("hit")).size(), 0);
    QCOMPARE(eventsAt(record, "w").filter(QStringLiteral("enter")).size(), 1);
}

void TestMotion::disabledSolidsStopNobody()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {2, 0}, {1, 3}), walker("c", {0, 0}, 3)};
    scene.snares = {onKey("open", "o", {scene::Disable{{{"w"}}}})};
    scene::Take take = holding({"Right"}, 3);
    QVERIFY(endOf(play(scene, take), 1).x < 1.2);
    press(take, "o", 1, 1.1);
    QVERIFY(endOf(play(scene, take), 1).x > 5);
}

void TestMotion::aMoverPushesAWalkerOut_V1()
{
    scene::Scene scene;
    scene.pieces = {wall("plough", {-3, 0}, {1, 3}), walker("c", {0, 0.2}, 3)};
    scene.pieces[0].body = scene::KinematicBody{{2, 0}, 0};
    const sim::Record record = play(scene, {}, 2);
    QVERIFY(endOf(record, 1).x > endOf(record, 0).x + 0.89);
    QCOMPARE(eventsAt(record, "c").filter(QStringLiteral("hit")).size(), 1);
}

void TestMotion::walkersAreNeverInsideASolid_data()
{
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 12; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

/// Random boxes, turned, and random keys: however a walker is steered, it stays outside and never
/// jumps.
void TestMotion::walkersAreNeverInsideASolid()
{
    QFETCH(unsigned, seed);
    std::mt19937 dice{seed};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    scene::Scene scene;
    for (int i = 0; i < 14; ++i) {
        Vec at{between(-6, 6), between(-6, 6)};
        if (glm::length(at) < 2)
            at += Vec{3, 0};
        scene.pieces.push_back(wall(fmt::format("w{}", i), at, {between(0.2, 2), between(0.2, 2)}));
        scene.pieces.back().turn = between(0, 90);
    }
    scene.pieces.push_back(walker("c", {0, 0}, 6));
    erase_if(scene.pieces, [](const scene::Piece& piece) { return piece.id != "c" && glm::length(piece.at) < 2.2; });
    scene::Take take;
    take.length = 8;
    for (double t = 0; t < 8; t += 0.2) {
        const char* keys[] = {"Left", "Right", "Up", "Down"};
        press(take, keys[dice() % 4], t, t + between(0.1, 0.8));
    }
    std::ranges::stable_sort(take.inputs, {}, &scene::Input::t);
    const sim::Record record = play(scene, take);
    const std::size_t self = scene.pieces.size() - 1;
    Vec before{0, 0};
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick) {
        const Vec now = record.snapshots.at(tick)[self].pose.at;
        QVERIFY(glm::length(now - before) <= 6.0 / 60 + 0.011);
        before = now;
        for (std::size_t i = 0; i < self; ++i) {
            const auto hull = geometry::placed(world::partsOf(scene.pieces[i].shapes[0]).front(),
                                               {scene.pieces[i].at, scene.pieces[i].turn});
            QVERIFY2(geometry::gapBetween(geometry::discHull(now, 0.4), hull).distance > -1e-6,
                     qPrintable(QStringLiteral("tick %1").arg(tick)));
        }
    }
}

void TestMotion::keysOfOnesOwnSteer()
{
    scene::Scene scene;
    scene.pieces = {walker("c", {0, 0}, 2)};
    scene::KeyLists keys;
    keys.left = {"j"};
    keys.right = {"l", "KP_6"};
    std::get<scene::WalkerBody>(scene.pieces[0].body).steer.held = keys;
    QVERIFY(glm::length(endOf(play(scene, holding({"KP_6"}, 1)), 0) - Vec{2, 0}) < 1e-9);
    QVERIFY(glm::length(endOf(play(scene, holding({"Right"}, 1)), 0)) < 1e-9);
}

void TestMotion::twoWalkersAreSteeredApart()
{
    scene::Scene scene;
    scene.pieces = {walker("a", {0, 0}, 2), walker("b", {0, 3}, 2)};
    std::get<scene::WalkerBody>(scene.pieces[1].body).steer.held = scene::SteerSet::wasd;
    const sim::Record record = play(scene, holding({"Right", "a"}, 1));
    QVERIFY(glm::length(endOf(record, 0) - Vec{2, 0}) < 1e-9);
    QVERIFY(glm::length(endOf(record, 1) - Vec{-2, 3}) < 1e-9);
}

void TestMotion::moveByIsFromWhereItIs()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {1, 1}, {0, 0})};
    scene::Move by;
    by.on = {{"m"}};
    by.by = Vec{2, -1};
    by.speed = 100.0;
    by.wait = true;
    scene.snares = {onKey("k", "k", {by, by})};
    QCOMPARE(endOf(play(scene, takeOf({{"k", 0.1}}), 1), 0), (Vec{5, -1}));
}

void TestMotion::moveToAPieceGoesWhereItIs()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0}), mover("target", {4, 4}, {0, 0})};
    scene.snares = {onKey("k", "k", {moveOf("m", scene::Destination{std::string("target")}, 50)})};
    QCOMPARE(endOf(play(scene, takeOf({{"k", 0.1}}), 1), 0), (Vec{4, 4}));
}

void TestMotion::aMoveWithinReachArrivesAtOnce_V3()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0})};
    scene::Move move = moveOf("m", scene::Destination{Vec{0.4, 0}}, 0.1);
    move.arrive = 0.5;
    scene.snares = {onKey("k", "k", {move}), onEvent("came", EventKind::arrived, "m")};
    const sim::Record record = play(scene, takeOf({{"k", 0.1}}), 1);
    QCOMPARE(outcomesOf(record, "came"), QStringList({"6 came sprung"}));
    QCOMPARE(endOf(record, 0), (Vec{0.4, 0}));
}

void TestMotion::stopEndsMoveAndVelocity_V3()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {1, 0})};
    scene::Move move = moveOf("m", scene::Destination{Vec{0, 50}}, 1);
    move.wait = true;
    scene.snares = {onKey("go", "g", {move, scene::Note{{"went on"}}}), onKey("halt", "h", {scene::Stop{{{"m"}}}})};
    const sim::Record record = play(scene, takeOf({{"g", 0.5}, {"h", 1}}), 2);
    QCOMPARE(record.snapshots.at(60)[0].pose.at, record.snapshots.at(120)[0].pose.at);
    QVERIFY(notes(record).contains(QStringLiteral("60 went on")));
}

void TestMotion::staticPiecesAreNotMovedAndThatIsNoted()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {0, 0}, {1, 1})};
    scene.snares = {onKey("k", "k", {moveOf("w", scene::Destination{Vec{5, 0}}, 1)})};
    const sim::Record record = play(scene, takeOf({{"k", 0.1}}), 1);
    QCOMPARE(endOf(record, 0), (Vec{0, 0}));
    QVERIFY(notes(record).front().contains(QStringLiteral("w is static")));
}

void TestMotion::valuesReadPlaceAndSpeed()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {1, 2}, {3, 4})};
    scene.snares = {onKey("k", "k",
                          {scene::Note{{scene::Get{"m.speed"}}}, scene::Note{{scene::Get{"m.y"}}},
                           scene::Note{{scene::Get{"m.group"}}}, scene::Note{{scene::Get{"scene.age"}}},
                           scene::Note{{scene::Get{"m.nothing"}}}})};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.5}}), 0.6)),
             QStringList({"30 5", "30 3.93333333", "30 default", "30 0.5", "30"}));
}

namespace {

/// A ferry at the origin that goes 1 m/s to (2, 0), (2, 1) and (1, 1).
scene::Scene ferryScene(const QString& loop, const QString& snares = {})
{
    return sceneFrom(
        QStringLiteral("'pieces': [{'id': 'ferry', 'body': {'kind': 'kinematic', 'route': {'points': [[2, 0], "
                       "[2, 1], [1, 1]], 'loop': '%1'}}, 'shapes': [{'circle': 0.2}]}]%2")
            .arg(loop, snares)
            .toStdString());
}

Vec ferryAt(const sim::Record& record, double seconds)
{
    return record.snapshots.at(static_cast<std::int64_t>(seconds * 60 + 0.5))[0].pose.at;
}

} // namespace

void TestMotion::aRouteOnceCycleAndBack_data()
{
    QTest::addColumn<QString>("loop");
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::newRow("once: it stays at the last point") << "once" << 1.0 << 1.0;
    QTest::newRow("cycle: straight to the first point") << "cycle" << 1.354 << 0.646;
    QTest::newRow("back: the same way back") << "back" << 1.5 << 1.0;
}

void TestMotion::aRouteOnceCycleAndBack()
{
    QFETCH(QString, loop);
    QFETCH(double, x);
    QFETCH(double, y);
    const sim::Record record = play(ferryScene(loop), {}, 6);
    QVERIFY(glm::length(ferryAt(record, 1) - Vec(1, 0)) < 0.02);
    QVERIFY(glm::length(ferryAt(record, 2.5) - Vec(2, 0.5)) < 0.03);
    const Vec end = ferryAt(record, 4.5);
    QVERIFY2(glm::length(end - Vec(x, y)) < 0.06, qPrintable(QStringLiteral("%1, %2").arg(end.x).arg(end.y)));
}

void TestMotion::aMoveTakesAPieceOffItsRouteUntilItHasArrived()
{
    const sim::Record record =
        play(ferryScene("once", ", 'snares': [{'id': 'call', 'catch': {'event': 'key-down', 'key': 'x'}, 'responses': "
                                "[{'do': 'move', 'on': 'ferry', 'to': [1, -1], 'speed': 2}]}]"),
             takeOf({{"x", 1}}), 7);
    QVERIFY(glm::length(ferryAt(record, 1.5) - Vec(1, -1)) < 0.05); // a metre in half a second
    QVERIFY(glm::length(ferryAt(record, 7) - Vec(1, 1)) < 0.01);    // then on to the end of its route
}

void TestMotion::stopEndsARoute_V3()
{
    const sim::Record record =
        play(ferryScene("cycle", ", 'snares': [{'id': 'halt', 'catch': {'event': 'key-down', 'key': 'x'}, 'responses': "
                                 "[{'do': 'stop', 'on': 'ferry'}]}]"),
             takeOf({{"x", 1}}), 7);
    QVERIFY(glm::length(ferryAt(record, 6) - Vec(1, 0)) < 0.03);
}

void TestMotion::accelerationGetsAWalkerUpToSpeed()
{
    scene::Scene scene;
    scene.pieces = {walker("w", {0, 0})};
    std::get<scene::WalkerBody>(scene.pieces[0].body).acceleration = 6.0;
    scene::Take take;
    press(take, "Right", 0, 2);
    const sim::Record record = play(scene, take, 2);
    // 0.75 m while it gets up to 3 m/s in half a second, then 4.5 m.
    QVERIFY(std::abs(record.snapshots.at(120)[0].pose.at.x - 5.25) < 0.06);
}

/// Two shots a second, each hits the butt once and is gone after a second: of 7,200 none is left in
/// the world, in detection or in what waits.
void TestMotion::anHourOfFiringLeavesNothingBehind()
{
    const scene::Scene scene =
        sceneFrom("'rate': 20, 'groups': ['shot'], 'contacts': [['shot', 'shot', 'pass']], 'templates': {'bolt': "
                  "{'group': 'shot', 'body': "
                  "{'kind': 'dynamic', 'gravity': 0}, 'lifetime': 1, 'shapes': [{'circle': 0.1}]}}, 'pieces': [{'id': "
                  "'butt', 'at': [12, 0],"
                  " 'shapes': [{'box': [1, 4]}]}, {'id': 'bow', 'shapes': [{'role': 'zone', 'circle': 0.2}]}], "
                  "'sources': [{'id': 'tick',"
                  " 'timer': {'every': 0.5}}], 'variables': {'hits': 0}, 'snares': [{'id': 'fire', 'catch': {'event': "
                  "'elapsed', 'source':"
                  " 'tick'}, 'responses': [{'do': 'spawn', 'template': 'bolt', 'at': 'bow', 'velocity': [40, 0]}]},"
                  " {'id': 'count', 'catch': {'event': 'hit', 'at': 'butt'}, 'responses': [{'do': 'add', 'on': "
                  "'scene', 'name': 'hits',"
                  " 'value': 1}]}]");
    sim::Run run{std::make_shared<const scene::Scene>(scene)};
    rules::Journal journal;
    run.start(journal);
    std::size_t most = 0;
    for (int tick = 1; tick <= 3600 * 20; ++tick) {
        run.tick({}, journal);
        journal.lines.clear();
        journal.values.clear();
        journal.armings.clear();
        if (tick % 100 != 0)
            continue;
        const auto live = std::ranges::count_if(run.world().pieces(), &world::LivePiece::present);
        most = std::max(most, static_cast<std::size_t>(live));
        QVERIFY(run.world().moved().size() < 10 && run.world().changed().size() < 10);
    }
    QVERIFY2(most <= 5, qPrintable(QString::number(most))); // the butt, the bow, three bolts
    const scene::Scalar* hits = run.world().variables().find("hits");
    QVERIFY(hits && std::abs(std::get<double>(*hits) - 7200) <= 2);
}

QTEST_APPLESS_MAIN(TestMotion)
#include "test_motion.moc"
