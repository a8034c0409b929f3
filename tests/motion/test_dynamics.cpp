// SPDX-License-Identifier: Apache-2.0
/// Dynamic pieces against closed forms, and what they must never do.
#include "builder.h"
#include "geometry/gap.h"
#include "sim/recorder.h"
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

scene::DynamicBody flying(Vec velocity)
{
    scene::DynamicBody body;
    body.velocity = velocity;
    return body;
}

scene::Piece box(std::string id, Vec at, Vec size, scene::DynamicBody body = {})
{
    return piece(std::move(id), at, scene::Box{size}, scene::Role::solid, body);
}

scene::Piece disc(std::string id, Vec at, double radius, scene::DynamicBody body = {})
{
    return piece(std::move(id), at, scene::Circle{radius}, scene::Role::solid, body);
}

geometry::Pose poseAt(const sim::Record& record, std::size_t piece, std::int64_t tick)
{
    return record.snapshots.at(tick)[piece].pose;
}

geometry::Pose lastPose(const sim::Record& record, std::size_t piece)
{
    return poseAt(record, piece, record.lastTick());
}

std::int64_t countOf(const sim::Record& record, EventKind kind, const std::string& self, const std::string& by)
{
    return std::ranges::count_if(record.journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == kind && record.nameOf(line.self) == self &&
               record.nameOf(line.visitor) == by;
    });
}

/// How deep the deepest two solids of different pieces overlap at a tick, m; 0 if none do.
double deepest(const sim::Record& record, std::int64_t tick)
{
    const auto states = record.snapshots.at(tick);
    double depth = 0;
    struct Placed {
        std::size_t piece;
        bool rests;
        geometry::Hull hull;
    };
    std::vector<Placed> hulls;
    for (std::size_t i = 0; i < states.size(); ++i)
        for (const scene::Shape& shape : record.pieces[i].model->shapes)
            if (shape.role == scene::Role::solid && states[i].present)
                for (const geometry::Hull& part : world::partsOf(shape))
                    hulls.push_back({i, std::holds_alternative<scene::StaticBody>(record.pieces[i].model->body),
                                     geometry::placed(part, states[i].pose)});
    for (std::size_t i = 0; i < hulls.size(); ++i)
        for (std::size_t j = i + 1; j < hulls.size(); ++j)
            if (hulls[i].piece != hulls[j].piece && !(hulls[i].rests && hulls[j].rests))
                depth = std::max(depth, -geometry::gapBetween(hulls[i].hull, hulls[j].hull).distance);
    return depth;
}

} // namespace

class TestDynamics : public QObject {
    Q_OBJECT

  private slots:
    void freeFallFollowsTheTicks_V2();
    void aThrowKeepsItsSpeedSideways_V2();
    void gravityAndDampingOfAPiece_V1();
    void aBounceGoesAsHighAsItsBounceSays_V7_data();
    void aBounceGoesAsHighAsItsBounceSays_V7();
    void everyHitOfABouncingPieceIsTold_M10();
    void aBoxHoldsOnASlopeUpToTheAngleOfFriction_V7();
    void aDiscRollsDownASlope();
    void aWeightOnADiscSwingsLikeAPendulum();
    void momentumIsKept_data();
    void momentumIsKept();
    void nothingPassesAThinWall_M6_data();
    void nothingPassesAThinWall_M6();
    void aSpinningBarDoesNotPassALine_M6();
    void aStackOfTenComesToRest_V7();
    void whatRestsGivesNoEvents_V7();
    void rollingOverTheJointsOfALineGivesNoEvents_M13_data();
    void rollingOverTheJointsOfALineGivesNoEvents_M13();
    void sleepersWakeWhenTheirSupportGoes_V7();
    void sleepersWakeWhenHitOrPushed_V7();
    void sleepersWakeWhenAMoverTakesThem_V7();
    void aMoverCarriesWhatStandsOnIt_V4();
    void aMoverCarriesAStack_V4();
    void uprightPiecesDoNotTurn();
    void theMassOfAPieceDecidesWhatAPushDoes();
    void groupsThatOnlySenseDoNotStop_M2();
    void tumblingDownStepsEndsAtRest();
    void aPileNeverOverlapsDeeply_data();
    void aPileNeverOverlapsDeeply();
    void aRunIsTheSameAgainAndFromACopy_T3();
};

void TestDynamics::freeFallFollowsTheTicks_V2()
{
    scene::Scene scene = sideView();
    scene.pieces = {box("crate", {1, 2}, {1, 1})};
    const sim::Record record = play(scene, {}, 3);
    for (const std::int64_t tick : {1, 17, 180}) {
        const double k = static_cast<double>(tick);
        const double y = 2 - g * k * (k + 1) / 2 / 3600; // v <- v + g dt; x <- x + v dt
        QVERIFY(std::abs(poseAt(record, 0, tick).at.y - y) < 1e-9);
        QCOMPARE(poseAt(record, 0, tick).at.x, 1.0);
    }
}

void TestDynamics::aThrowKeepsItsSpeedSideways_V2()
{
    scene::Scene scene = sideView();
    scene.pieces = {disc("ball", {0, 0}, 0.2, flying({4, 7}))};
    scene.pieces[0].shapes[0].at = {0.3, 0}; // it turns around its centre of mass, not around its place
    std::get<scene::DynamicBody>(scene.pieces[0].body).spin = 90;
    const sim::Record record = play(scene, {}, 1);
    const geometry::Pose end = lastPose(record, 0);
    const Vec centre = geometry::toScene(end, {0.3, 0});
    QVERIFY(glm::length(centre - Vec{4.3, 7 - g * 60 * 61 / 2 / 3600}) < 1e-9);
    QVERIFY(std::abs(end.turn - 90) < 1e-9);
}

void TestDynamics::gravityAndDampingOfAPiece_V1()
{
    const scene::Scene scene =
        sceneFrom("'view': 'side', 'pieces': ["
                  "{'id': 'bladder', 'body': {'kind': 'dynamic', 'gravity': -0.5}, 'shapes': [{'circle': 1}]},"
                  "{'id': 'keg', 'at': [9, 0], 'body': {'kind': 'dynamic', 'gravity': 0,"
                  " 'damping': 1, 'velocity': [2, 0]}, 'shapes': [{'circle': 1}]}]");
    const sim::Record record = play(scene, {}, 1);
    QVERIFY(std::abs(lastPose(record, 0).at.y - 0.5 * g * 60 * 61 / 2 / 3600) < 1e-9);
    QVERIFY(std::abs(lastPose(record, 1).at.x - 9 - 2 * (1 - std::exp(-1))) < 0.02); // the integral of 2 exp(-t)
    const scene::Scene sideways = sceneFrom("'gravity': [3, 0], 'pieces': [{'id': 'p', 'body': 'dynamic',"
                                            " 'shapes': [{'circle': 1}]}]");
    QVERIFY(std::abs(lastPose(play(sideways, {}, 1), 0).at.x - 3.0 * 60 * 61 / 2 / 3600) < 1e-9);
}

void TestDynamics::aBounceGoesAsHighAsItsBounceSays_V7_data()
{
    QTest::addColumn<double>("bounce");
    QTest::addColumn<double>("height");
    for (const double bounce : {0.0, 0.3, 0.5, 0.8, 1.0})
        for (const double height : {1.0, 3.7, 20.0})
            QTest::addRow("%g from %g m", bounce, height) << bounce << height;
}

/// Tolerance: 1 cm and 0.5 % of the height.
void TestDynamics::aBounceGoesAsHighAsItsBounceSays_V7()
{
    QFETCH(double, bounce);
    QFETCH(double, height);
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {9, 1}), disc("ball", {0, height + 0.3}, 0.3)};
    scene.pieces[1].shapes[0].bounce = bounce; // the larger of the two counts
    const sim::Record record = play(scene, {}, 12);
    double wanted = height;
    int tops = 0;
    bool falling = true;
    for (std::int64_t tick = 1; tick < record.lastTick() && tops < 3; ++tick) {
        const double y = poseAt(record, 1, tick).at.y;
        const double next = poseAt(record, 1, tick + 1).at.y;
        if (!falling && next < y) {
            ++tops;
            wanted *= bounce * bounce;
            if (wanted < 0.05)
                break; // too slow to bounce
            QVERIFY2(std::abs(y - 0.3 - wanted) < 0.01 * tops + 0.005 * wanted,
                     qPrintable(QStringLiteral("%1 m instead of %2").arg(y - 0.3).arg(wanted)));
        }
        falling = next < y || (falling && next == y);
    }
    QVERIFY(bounce == 0 || tops > 0);
}

void TestDynamics::everyHitOfABouncingPieceIsTold_M10()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {9, 1}), disc("ball", {0, 5.3}, 0.3)};
    scene.pieces[0].shapes[0].bounce = 0.5;
    const sim::Record record = play(scene, {}, 8);
    std::vector<double> speeds;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && line.event == EventKind::hit && record.nameOf(line.self) == "quay")
            speeds.push_back(line.number);
    // Each with half the speed of the last, until the hops are too low to leave the quay (M4: 2
    // cm).
    QVERIFY(speeds.size() >= 4 && speeds.size() <= 6);
    QVERIFY(std::abs(speeds[0] - std::sqrt(2 * g * 5)) < 0.25);
    for (std::size_t i = 1; i < 4; ++i)
        QVERIFY2(std::abs(speeds[i] - speeds[i - 1] / 2) < 0.2,
                 qPrintable(QStringLiteral("%1 after %2").arg(speeds[i]).arg(speeds[i - 1])));
}

/// Friction 0.5 holds up to 26.57 degrees; a box that slides gets faster by g (sin - 0.5 cos).
/// Tolerance: half a degree, and 2 % of the way.
void TestDynamics::aBoxHoldsOnASlopeUpToTheAngleOfFriction_V7()
{
    for (const double angle : {15.0, 26.0, 27.2, 35.0, 50.0}) {
        scene::Scene scene = sideView();
        const double radians = angle * std::numbers::pi / 180;
        const Vec along{std::cos(radians), std::sin(radians)};
        scene.pieces = {wall("ramp", {0, 0}, {60, 1}),
                        box("crate", along * 20.0 + geometry::perpendicular(along) * 1.005, {1, 1})};
        scene.pieces[0].turn = scene.pieces[1].turn = angle;
        const sim::Record record = play(scene, {}, 2);
        const double slid = glm::length(lastPose(record, 1).at - poseAt(record, 1, 0).at);
        const double wanted = std::max(0.0, g * (std::sin(radians) - 0.5 * std::cos(radians))) * 2 * 2 / 2;
        QVERIFY2(std::abs(slid - wanted) < 0.04 + 0.02 * wanted,
                 qPrintable(QStringLiteral("%1 degrees: %2 m instead of %3").arg(angle).arg(slid).arg(wanted)));
        QVERIFY(std::abs(lastPose(record, 1).turn - angle) < 0.2);
    }
}

/// A full disc that rolls gets faster by two thirds of g sin. Tolerance 2 %.
void TestDynamics::aDiscRollsDownASlope()
{
    scene::Scene scene = sideView();
    const Vec along{std::cos(std::numbers::pi / 9), std::sin(std::numbers::pi / 9)};
    scene.pieces = {wall("ramp", {0, 0}, {60, 1}),
                    disc("cask", along * 20.0 + geometry::perpendicular(along) * 0.905, 0.4)};
    scene.pieces[0].turn = 20;
    const sim::Record record = play(scene, {}, 2);
    const double rolled = glm::length(lastPose(record, 1).at - poseAt(record, 1, 0).at);
    const double wanted = 2.0 / 3 * g * std::sin(std::numbers::pi / 9) * 2 * 2 / 2;
    QVERIFY2(std::abs(rolled - wanted) < 0.02 * wanted, qPrintable(QString::number(rolled / wanted)));
    QVERIFY(std::abs(lastPose(record, 1).turn * std::numbers::pi / 180 - rolled / 0.4) < 0.02 * rolled / 0.4);
}

/// A weight attached under the middle of a disc that rocks on the floor: T = 2 pi sqrt(I / (m g
/// d)), where I is taken around the point of contact and m d is the weight's mass times its
/// distance. Tolerance 3 %.
void TestDynamics::aWeightOnADiscSwingsLikeAPendulum()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {40, 1}), disc("drum", {0, 1.005}, 1), disc("lead", {0.1, 0.405}, 0.2)};
    scene.pieces[0].shapes[0].friction = 4;
    std::get<scene::DynamicBody>(scene.pieces[1].body).mass = 10.0;
    std::get<scene::DynamicBody>(scene.pieces[2].body).mass = 5.0;
    scene.pieces[2].group = "loads";
    scene.groups = {"loads"};
    scene.contacts = {{"loads", "default", scene::Contact::pass}};
    scene.snares = {onEvent("load", EventKind::start, "scene", {scene::Attach{{{"lead"}}, {{"drum"}}}})};
    const sim::Record record = play(scene, {}, 20);
    // Crossings of the middle: the drum's angle against where it hangs straight.
    std::vector<double> crossings;
    const double straight = -std::atan2(0.1, 0.6) * 180 / std::numbers::pi;
    for (std::int64_t tick = 1; tick <= record.lastTick(); ++tick) {
        const double before = poseAt(record, 1, tick - 1).turn - straight;
        const double now = poseAt(record, 1, tick).turn - straight;
        if (before < 0 && now >= 0)
            crossings.push_back((static_cast<double>(tick) - 1 + before / (before - now)) / 60);
    }
    QVERIFY(crossings.size() >= 3);
    const double period = (crossings.back() - crossings.front()) / static_cast<double>(crossings.size() - 1);
    const double d = std::hypot(0.1, 0.6);
    const double aroundContact = 10 * 1.0 / 2 + 10 * 1.0 + 5 * 0.04 / 2 + 5 * (1 - d) * (1 - d);
    const double wanted = 2 * std::numbers::pi * std::sqrt(aroundContact / (5 * g * d));
    QVERIFY2(std::abs(period / wanted - 1) < 0.03, qPrintable(QString::number(period / wanted)));
}

void TestDynamics::momentumIsKept_data()
{
    QTest::addColumn<double>("bounce");
    QTest::newRow("without bounce") << 0.0;
    QTest::newRow("half") << 0.5;
    QTest::newRow("full") << 1.0;
}

/// Two discs meet head on, without gravity: speeds as by the laws of impact. Tolerance 0.1 %.
void TestDynamics::momentumIsKept()
{
    QFETCH(double, bounce);
    scene::Scene scene;
    scene.pieces = {disc("a", {0, 0}, 0.5, flying({6, 0})), disc("b", {4, 0}, 0.5, flying({-1, 0}))};
    std::get<scene::DynamicBody>(scene.pieces[0].body).mass = 2.0;
    std::get<scene::DynamicBody>(scene.pieces[1].body).mass = 3.0;
    scene.pieces[0].shapes[0].bounce = bounce;
    const sim::Record record = play(scene, {}, 2);
    const auto speedOf = [&](std::size_t index) {
        return (poseAt(record, index, 110).at.x - poseAt(record, index, 80).at.x) * 2;
    };
    const double together = (2.0 * 6 - 3.0 * 1) / 5;
    QVERIFY(std::abs(speedOf(0) - (together - bounce * 7 * 3 / 5)) < 0.007);
    QVERIFY(std::abs(speedOf(1) - (together + bounce * 7 * 2 / 5)) < 0.007);
}

void TestDynamics::nothingPassesAThinWall_M6_data()
{
    QTest::addColumn<double>("speed");
    QTest::addColumn<bool>("round");
    QTest::addColumn<double>("turn");
    for (const double speed : {5.0, 40.0, 300.0, 3000.0})
        for (const bool isRound : {false, true})
            for (const double turn : {0.0, 20.0, 45.0})
                QTest::addRow("%s turned %g at %g m/s", isRound ? "disc" : "box", turn, speed)
                    << speed << isRound << turn;
}

void TestDynamics::nothingPassesAThinWall_M6()
{
    QFETCH(double, speed);
    QFETCH(bool, round);
    QFETCH(double, turn);
    for (int start = 0; start < 10; ++start) {
        scene::Scene scene;
        scene.pieces = {wall("wall", {20, 0}, {0.01, 8}),
                        round ? disc("shot", {0.37 * start, 0}, 0.2, flying({speed, 0}))
                              : box("shot", {0.37 * start, 0}, {0.4, 0.4}, flying({speed, 0}))};
        scene.pieces[1].turn = turn;
        std::get<scene::DynamicBody>(scene.pieces[1].body).spin = turn * 20;
        scene.pieces[0].shapes[0].bounce = 0.2;
        const sim::Record record = play(scene, {}, 25 / speed + 0.5);
        for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick)
            QVERIFY2(poseAt(record, 1, tick).at.x < 20 - 0.15, qPrintable(QString::number(tick)));
        const auto hits = countOf(record, EventKind::hit, "wall", "shot"); // a box may come round to a second corner
        QVERIFY2(round ? hits == 1 : hits == 1 || (turn != 0 && hits == 2), qPrintable(QString::number(hits)));
    }
}

void TestDynamics::aSpinningBarDoesNotPassALine_M6()
{
    std::mt19937 random{5};
    std::uniform_real_distribution<double> any{-1, 1};
    for (int i = 0; i < 30; ++i) {
        scene::Scene scene = sideView();
        scene.pieces = {
            piece("floor", {0, 0}, scene::Line{{{-200, 0}, {-3, 0}, {2, 0}, {5, 0}, {200, 0}}}, scene::Role::solid),
            box("bar", {any(random), 8}, {3, 0.2}, flying({any(random) * 20, -20 + any(random) * 20}))};
        std::get<scene::DynamicBody>(scene.pieces[1].body).spin = any(random) * 1500;
        const sim::Record record = play(scene, {}, 4);
        for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick)
            QVERIFY2(poseAt(record, 1, tick).at.y > 0.05, qPrintable(QStringLiteral("%1 tick %2").arg(i).arg(tick)));
    }
}

void TestDynamics::aStackOfTenComesToRest_V7()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {20, 1})};
    for (int i = 0; i < 10; ++i)
        scene.pieces.push_back(box("box-" + std::to_string(i), {0.02 * (i % 3), 0.5 + 1.02 * i}, {1, 1}));
    const sim::Record record = play(scene, {}, 8);
    const auto end = record.snapshots.at(record.lastTick());
    for (std::size_t i = 1; i < end.size(); ++i) {
        QVERIFY2(end[i].asleep, qPrintable(QString::number(i)));
        QVERIFY(std::abs(end[i].pose.turn) < 1);
        QVERIFY(std::abs(end[i].pose.at.y - (0.5 + 1.0 * static_cast<double>(i - 1))) < 0.06);
    }
    for (const rules::Line& line : record.journal.lines)
        QVERIFY(line.tick <= 5 * 60);
    QVERIFY(deepest(record, record.lastTick()) < 0.01);
}

void TestDynamics::whatRestsGivesNoEvents_V7()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {30, 1}), box("a", {0, 0.5}, {1, 1}), disc("b", {3, 0.4}, 0.4),
                    piece("c", {6, 0.5}, scene::Polygon{{{-0.5, -0.5}, {0.5, -0.5}, {0, 0.6}}}, scene::Role::solid,
                          scene::DynamicBody{})};
    const sim::Record record = play(scene, {}, 20);
    for (const rules::Line& line : record.journal.lines)
        QCOMPARE(line.tick, 0);
    QCOMPARE(record.journal.lines.size(), std::size_t{7}); // the start, and an enter for each side
}

void TestDynamics::rollingOverTheJointsOfALineGivesNoEvents_M13_data()
{
    QTest::addColumn<bool>("round");
    QTest::addColumn<bool>("tiles");
    QTest::addColumn<double>("speed");
    for (const double speed : {1.0, 3.0, 7.3})
        for (const bool isRound : {true, false})
            for (const bool tiles : {true, false})
                QTest::addRow("%s over %s at %g m/s", isRound ? "disc" : "box", tiles ? "tiles" : "a line", speed)
                    << isRound << tiles << speed;
}

void TestDynamics::rollingOverTheJointsOfALineGivesNoEvents_M13()
{
    QFETCH(bool, round);
    QFETCH(bool, tiles);
    QFETCH(double, speed);
    scene::Scene scene = sideView();
    scene::Line line;
    scene::Piece floor = wall("floor", {0, 0}, {1, 1});
    floor.shapes.clear();
    for (int i = 0; i < 40; ++i) {
        line.points.emplace_back(i * 0.77, 0);
        scene::Shape tile;
        tile.geometry = scene::Box{{0.77, 1}};
        tile.at = {0.77 * i, -0.5};
        tile.friction = round ? 0.5 : 0;
        floor.shapes.push_back(tile);
    }
    if (!tiles) {
        floor.shapes.resize(1);
        floor.shapes[0].geometry = line;
        floor.shapes[0].at = {0, 0};
    }
    scene.pieces = {floor, round ? disc("cask", {1, 0.405}, 0.4, flying({speed, 0}))
                                 : box("cask", {1, 0.405}, {0.8, 0.8}, flying({speed, 0}))};
    std::get<scene::DynamicBody>(scene.pieces[1].body).spin = round ? -speed / 0.4 * 180 / std::numbers::pi : 0;
    const sim::Record record = play(scene, {}, 3);
    QCOMPARE(countOf(record, EventKind::hit, "floor", "cask"),
             tiles ? countOf(record, EventKind::hit, "floor", "cask") : 0);
    if (!tiles)
        QVERIFY(countOf(record, EventKind::exit, "floor", "cask") == 0);
    const double way = lastPose(record, 1).at.x - 1;
    QVERIFY2(std::abs(way - 3 * speed) < 0.02 * 3 * speed, qPrintable(QStringLiteral("%1 m").arg(way))); // not held up
    QVERIFY(std::abs(lastPose(record, 1).at.y - 0.405) < 0.01);
    if (!round)
        QVERIFY(std::abs(lastPose(record, 1).turn) < 0.5);
}

void TestDynamics::sleepersWakeWhenTheirSupportGoes_V7()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {20, 1}), wall("shelf", {0, 2}, {3, 0.4}), box("a", {0, 2.7}, {1, 1}),
                    box("b", {0, 3.7}, {1, 1})};
    scene.snares = {onKey("drop", "x", {scene::Remove{{{"shelf"}}}})};
    const sim::Record record = play(scene, takeOf({{"x", 3}}), 6);
    QVERIFY(record.snapshots.at(170)[2].asleep && record.snapshots.at(170)[3].asleep);
    QVERIFY(!record.snapshots.at(182)[2].asleep && !record.snapshots.at(182)[3].asleep);
    QVERIFY(std::abs(lastPose(record, 2).at.y - 0.5) < 0.02);
    QVERIFY(lastPose(record, 3).at.y < 2);
}

void TestDynamics::sleepersWakeWhenHitOrPushed_V7()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("quay", {0, -0.5}, {60, 1}), box("a", {0, 0.5}, {1, 1}),
                    disc("shot", {-20, 0.8}, 0.3, flying({0, 0})), box("c", {10, 0.5}, {1, 1})};
    scene::Push shoot;
    shoot.on = {{"shot"}};
    shoot.velocity = scene::Offset{Vec{30, 4}};
    scene::Set nudge{{{"c"}}, "vx", scene::Value<scene::Scalar>{scene::Scalar{3.0}}};
    scene.snares = {onKey("shoot", "x", {shoot}), onKey("nudge", "y", {nudge})};
    const sim::Record record = play(scene, takeOf({{"x", 3}, {"y", 3}}), 6);
    QVERIFY(record.snapshots.at(170)[1].asleep && record.snapshots.at(170)[3].asleep);
    QVERIFY(lastPose(record, 1).at.x > 0.5);
    QVERIFY2(std::abs(lastPose(record, 3).at.x - 10 - 9 / (2 * 0.5 * g)) < 0.1,
             qPrintable(QString::number(lastPose(record, 3).at.x))); // v²/2µg
}

void TestDynamics::sleepersWakeWhenAMoverTakesThem_V7()
{
    scene::Scene scene = sideView();
    scene.pieces = {piece("lift", {0, 0}, scene::Box{{3, 0.4}}, scene::Role::solid, scene::KinematicBody{}),
                    box("a", {0, 0.7}, {1, 1})};
    scene::Move up;
    up.on = {{"lift"}};
    up.to = scene::Destination{Vec{0, 4}};
    up.speed = 2.0;
    scene.snares = {onKey("up", "x", {up})};
    const sim::Record record = play(scene, takeOf({{"x", 3}}), 6);
    QVERIFY(record.snapshots.at(170)[1].asleep);
    QVERIFY(std::abs(lastPose(record, 1).at.y - 4.7) < 0.02);
    QCOMPARE(countOf(record, EventKind::exit, "lift", "a"), 0); // no gap on the way, nor at the end
}

void TestDynamics::aMoverCarriesWhatStandsOnIt_V4()
{
    const scene::Scene scene = sceneFrom(
        "'view': 'side', 'pieces': [{'id': 'raft', 'body': {'kind': 'kinematic', 'route': {'points': [[0, 0], [6, 0],"
        " [6, 3]], 'speed': 3, 'loop': 'back'}}, 'shapes': [{'box': [3, 0.4], 'friction': 0.05}]},"
        "{'id': 'crate', 'at': [0.5, 0.705], 'body': 'dynamic', 'shapes': [{'box': [1, 1]}]}]");
    const sim::Record record = play(scene, {}, 20);
    for (std::int64_t tick = 30; tick <= record.lastTick(); tick += 7) {
        const Vec off = poseAt(record, 1, tick).at - poseAt(record, 0, tick).at;
        QVERIFY2(glm::length(off - Vec{0.5, 0.705}) < 0.1,
                 qPrintable(QStringLiteral("tick %1: %2 %3").arg(tick).arg(off.x).arg(off.y)));
    }
    QCOMPARE(countOf(record, EventKind::exit, "raft", "crate"), 0);
}

void TestDynamics::aMoverCarriesAStack_V4()
{
    scene::Scene scene = sideView();
    scene.pieces = {piece("raft", {0, 0}, scene::Box{{4, 0.4}}, scene::Role::solid, scene::KinematicBody{{2, 0}, 0})};
    for (int i = 0; i < 4; ++i)
        scene.pieces.push_back(box("box-" + std::to_string(i), {0, 0.705 + 1.0 * i}, {1, 1}));
    const sim::Record record = play(scene, {}, 4);
    for (std::size_t i = 1; i < 5; ++i)
        QVERIFY2(std::abs(lastPose(record, i).at.x - 8) < 0.15, qPrintable(QString::number(lastPose(record, i).at.x)));
}

void TestDynamics::uprightPiecesDoNotTurn()
{
    scene::Scene scene = sideView();
    scene::DynamicBody upright = flying({4, 0});
    upright.upright = true;
    scene.pieces = {wall("quay", {0, -0.5}, {60, 1}), wall("kerb", {4, 0.2}, {0.4, 0.4}),
                    box("post", {0, 1.005}, {0.5, 2}, upright)};
    const sim::Record record = play(scene, {}, 3);
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick)
        QCOMPARE(poseAt(record, 2, tick).turn, 0.0);
    std::get<scene::DynamicBody>(scene.pieces[2].body).upright = false;
    QVERIFY(std::abs(lastPose(play(scene, {}, 3), 2).turn) > 30); // it falls over the kerb
}

void TestDynamics::theMassOfAPieceDecidesWhatAPushDoes()
{
    scene::Scene scene;
    scene.pieces = {box("light", {0, 0}, {1, 2}), box("heavy", {0, 5}, {1, 2})};
    std::get<scene::DynamicBody>(scene.pieces[0].body).density = 3; // 6 kg
    std::get<scene::DynamicBody>(scene.pieces[1].body).mass = 60.0;
    scene::Push push;
    push.on = {{"light", "heavy"}};
    push.impulse = scene::Offset{Vec{30, 0}};
    scene.snares = {onKey("push", "x", {push})};
    const sim::Record record = play(scene, takeOf({{"x", 1.0 / 60}}), 1);
    QVERIFY(std::abs(lastPose(record, 0).at.x - 5) < 1e-9); // 60 ticks of 1/60 s
    QVERIFY(std::abs(lastPose(record, 1).at.x - 0.5) < 1e-9);
}

void TestDynamics::groupsThatOnlySenseDoNotStop_M2()
{
    scene::Scene scene = sideView();
    scene.groups = {"mist"};
    scene.contacts = {{"mist", "default", scene::Contact::sense}};
    scene.pieces = {wall("bank", {0, 0}, {9, 1}), box("a", {0, 3}, {1, 1})};
    scene.pieces[0].group = "mist";
    const sim::Record record = play(scene, {}, 2);
    QVERIFY(lastPose(record, 1).at.y < -9);
    QCOMPARE(countOf(record, EventKind::hit, "bank", "a"), 0);
    QCOMPARE(countOf(record, EventKind::exit, "bank", "a"), 1);
}

void TestDynamics::tumblingDownStepsEndsAtRest()
{
    scene::Scene scene = sideView();
    for (int i = 0; i < 8; ++i)
        scene.pieces.push_back(wall("step-" + std::to_string(i), {i * 1.0, -0.5 * i - 1}, {1, 2}));
    scene.pieces.push_back(wall("quay", {20, -5.5}, {26, 1}));
    scene.pieces.push_back(wall("end", {32, 0}, {1, 20}));
    scene.pieces.push_back(box("crate", {0, 1}, {0.6, 0.6}, flying({1.5, 0})));
    scene.pieces.push_back(disc("cask", {-0.3, 2}, 0.3, flying({2, 0})));
    const sim::Record record = play(scene, {}, 12);
    const auto end = record.snapshots.at(record.lastTick());
    const std::size_t crate = end.size() - 2;
    QVERIFY(end[crate].asleep);
    QVERIFY(end[crate + 1].pose.at.x > 7); // the cask went all the way
    for (std::int64_t tick = 0; tick <= record.lastTick(); tick += 5)
        QVERIFY2(deepest(record, tick) < 0.02,
                 qPrintable(QStringLiteral("%1 m at tick %2").arg(deepest(record, tick)).arg(tick)));
}

void TestDynamics::aPileNeverOverlapsDeeply_data()
{
    QTest::addColumn<int>("count");
    QTest::addColumn<double>("most");
    QTest::addColumn<double>("atRest");
    QTest::newRow("from 13 m: 15 m/s") << 10 << 0.03 << 0.005;
    QTest::newRow("from 78 m: 38 m/s, each on all that lies there") << 60 << 0.25 << 0.03;
}

void TestDynamics::aPileNeverOverlapsDeeply()
{
    QFETCH(int, count);
    QFETCH(double, most);
    QFETCH(double, atRest);
    std::mt19937 random{11};
    std::uniform_real_distribution<double> any{0, 1};
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {12, 1}), wall("left", {-5, 45}, {1, 92}),
                    wall("right", {5, 45}, {1, 92})};
    for (int i = 0; i < count; ++i) {
        const Vec at{-3.5 + 7 * any(random), 1 + 1.3 * i};
        scene.pieces.push_back(
            i % 3 == 0 ? disc("p" + std::to_string(i), at, 0.2 + 0.2 * any(random))
                       : box("p" + std::to_string(i), at, {0.3 + 0.6 * any(random), 0.3 + 0.6 * any(random)}));
        scene.pieces.back().turn = 360 * any(random);
    }
    const sim::Record record = play(scene, {}, 40);
    double worst = 0;
    for (std::int64_t tick = 0; tick <= record.lastTick(); tick += 10)
        worst = std::max(worst, deepest(record, tick));
    QVERIFY2(worst < most, qPrintable(QString::number(worst)));
    QVERIFY2(deepest(record, record.lastTick()) < atRest,
             qPrintable(QString::number(deepest(record, record.lastTick()))));
    for (std::size_t i = 3; i < scene.pieces.size(); ++i) {
        QVERIFY2(record.snapshots.at(record.lastTick())[i].asleep, qPrintable(QString::number(i)));
        QVERIFY(std::abs(lastPose(record, i).at.x) < 4.5);
    }
}

void TestDynamics::aRunIsTheSameAgainAndFromACopy_T3()
{
    scene::Scene scene = sideView();
    scene.pieces = {wall("floor", {0, -0.5}, {30, 1})};
    for (int i = 0; i < 12; ++i)
        scene.pieces.push_back(i % 2 ? box("p" + std::to_string(i), {0.3 * (i % 5), 1.0 + i}, {0.8, 0.7})
                                     : disc("p" + std::to_string(i), {0.31 * (i % 4), 1.0 + i}, 0.4));
    const auto shared = std::make_shared<const scene::Scene>(scene);
    sim::Run first{shared};
    rules::Journal journal;
    first.start(journal);
    for (int i = 0; i < 100; ++i)
        first.tick({}, journal);
    sim::Run copy = first;
    rules::Journal rest;
    rest.lines.clear();
    const std::size_t before = journal.lines.size();
    for (int i = 0; i < 200; ++i) {
        first.tick({}, journal);
        copy.tick({}, rest);
    }
    QCOMPARE(rest.lines.size(), journal.lines.size() - before);
    QVERIFY(first.world().pose() == copy.world().pose());
    QVERIFY(play(scene, {}, 300.0 / 60).snapshots.at(300)[5].pose == first.world().pose()[5]);
}

QTEST_APPLESS_MAIN(TestDynamics)
#include "test_dynamics.moc"
