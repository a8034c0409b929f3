// SPDX-License-Identifier: Apache-2.0
#include "builder.h"
#include "geometry/gap.h"
#include "io/document.h"
#include "sim/recorder.h"

#include <QTest>

#include <random>
#include <set>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

namespace {

QString toQString(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

} // namespace

class TestMeetings : public QObject {
    Q_OBJECT

  private slots:
    void aConcaveZoneIsOneShapeAndItsNotchIsOutside_M13();
    void whatCrossesALineWithinATickEntersAndLeaves_M6();
    void aWalkerIsStoppedByALineAndACapsule();
    void bothSidesAreTold_M8();
    void enterAndExitInOneTickWhenNothingOverlapsAtItsEnds_M6();
    void restingPiecesNeverMeet_M1();
    void aMarginKeepsTheVisitorIn_M3();
    void twoShapesOfAVisitorCountOnce_M9();
    void aPieceOfTwoZonesIsHeardAsAWhole_M9();
    void eventsOfATickComeInOrder_M12();
    void anEndExactlyAtATicksEndBelongsToIt_M3();
    void stopMeetingsBeginNearAndEndFurtherAway_M4();
    void hitsTellPointNormalAndSpeed_M10();
    void walkersSlideAlongSolids_V1();
    void walkersNeverPassAThinWall_M6();
    void puttingDoesNotSweep_K7();
    void regroupingWithoutANewMannerEndsNothing_K5();
    void aShapeCanBeDisabledOnItsOwn_K5();
    void insidersAlwaysAgreeWithGeometry();
    void occupiedAndVacatedCountOnlyWhoPassed_M11();
    void occupiedComesBehindAllEntersOfItsMoment_M12();
    void whatIsRemovedVacates_M11();
    void whatIsCarriedDoesNotMeetItsCarrier_M14();
    void ridersGoWithTheirCarrierAndMeetOthers_V4();
    void resizingGivesEnterAndExit_K7();
    void aLiftCarriesTheMeetingUp_M15();
    void aWalkerGoesUnderABeamAndStopsAtAPost_M15();
    void theTipOfATurningArmHitsWithItsOwnSpeed_M10();
    void heightsAreReadWrittenAndSet_M15();
};

void TestMeetings::bothSidesAreTold_M8()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-2.05, 0}, {2.9, 0})};
    const sim::Record record = play(scene, {}, 2);
    QCOMPARE(eventsAt(record, "z"), QStringList({"12 enter z m", "74 exit z m"}));
    QCOMPARE(eventsAt(record, "m"), QStringList({"12 enter m z", "74 exit m z"}));
}

void TestMeetings::enterAndExitInOneTickWhenNothingOverlapsAtItsEnds_M6()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0.8, 0}, {0.05, 2}), mover("m", {0, 0}, {96, 0}, 0.1)};
    const sim::Record record = play(scene, {}, 0.1);
    QCOMPARE(eventsAt(record, "z"), QStringList({"1 enter z m", "1 exit z m"}));
}

void TestMeetings::restingPiecesNeverMeet_M1()
{
    scene::Scene scene;
    scene.pieces = {zone("a", {0, 0}, {2, 2}), zone("b", {0.5, 0}, {2, 2})};
    QVERIFY(eventsAt(play(scene, {}, 0.2), "a").isEmpty());
}

void TestMeetings::aMarginKeepsTheVisitorIn_M3()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {1, 0})};
    scene.pieces[0].shapes[0].margin = 0.25;
    // Out at 1.5 m without, at 1.75 m with the margin.
    QCOMPARE(eventsAt(play(scene, {}, 3), "z"), QStringList({"0 enter z m", "105 exit z m"}));
}

void TestMeetings::twoShapesOfAVisitorCountOnce_M9()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-4, 0}, {3.1, 0}, 0.3)};
    scene::Shape back = scene.pieces[1].shapes[0];
    scene.pieces[1].shapes[0].at = {0.5, 0};
    back.at = {-0.5, 0};
    scene.pieces[1].shapes.push_back(back);
    QCOMPARE(eventsAt(play(scene, {}, 3), "z"), QStringList({"43 enter z m", "113 exit z m"}));
}

void TestMeetings::aPieceOfTwoZonesIsHeardAsAWhole_M9()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3, 0})};
    scene::Shape second = scene.pieces[0].shapes[0];
    second.at = {1.5, 0};
    second.id = "second";
    scene.pieces[0].shapes.push_back(second);
    scene.snares = {onEvent("whole", EventKind::enter, "z"), onEvent("part", EventKind::enter, "z"),
                    onEvent("left", EventKind::exit, "z")};
    scene.snares[1].catches.shape = "second";
    const sim::Record record = play(scene, {}, 4);
    QCOMPARE(outcomesOf(record, "whole").size(), 1);
    QCOMPARE(outcomesOf(record, "part").size(), 1);
    QCOMPARE(outcomesOf(record, "left").size(), 1);
    QCOMPARE(eventsAt(record, "z").size(), 4);
}

void TestMeetings::eventsOfATickComeInOrder_M12()
{
    // Within one tick the mover reaches `near` before the two others, which it reaches together.
    scene::Scene scene;
    scene.pieces = {zone("far", {2.08, 0}, {2, 2}), zone("near", {2.05, 0}, {2, 2}),
                    zone("also-far", {2.08, 0}, {2, 2}), mover("m", {0, 0}, {6, 0}, 0.5)};
    const sim::Record record = play(scene, {}, 0.2);
    const QStringList all = lines(record, [](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == EventKind::enter;
    });
    QCOMPARE(all, QStringList({"6 enter near m", "6 enter m near", "6 enter far m", "6 enter also-far m",
                               "6 enter m far", "6 enter m also-far"}));
}

void TestMeetings::anEndExactlyAtATicksEndBelongsToIt_M3()
{
    // At the end of tick 5 the mover touches both: it has left the one and comes into the other
    // with the next tick.
    scene::Scene scene;
    scene.pieces = {zone("left", {-1, 0}, {2, 2}), zone("right", {2, 0}, {2, 2}), mover("m", {0, 0}, {6, 0}, 0.5)};
    const sim::Record record = play(scene, {}, 0.2);
    QCOMPARE(eventsAt(record, "left"), QStringList({"0 enter left m", "5 exit left m"}));
    QCOMPARE(eventsAt(record, "right"), QStringList({"6 enter right m"}));
}

void TestMeetings::stopMeetingsBeginNearAndEndFurtherAway_M4()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {2, 0}, {1, 2}), wall("m", {0, 0}, {1, 1})};
    scene.pieces[1].body = scene::KinematicBody{{0.3, 0}, 0};
    scene.snares = {onKey("back", "b", {scene::Set{{{"m"}}, "vx", {scene::Scalar{-0.3}}}})};
    // The gap is 1 m, shrinks by 5 mm a tick: at most 0.01 m from tick 198 on, more than 0.02 m
    // again after turning back.
    scene::Take take = takeOf({{"b", 3.4}}, 5);
    const QStringList events = eventsAt(play(scene, take), "w");
    QCOMPARE(events.size(), 3);
    QCOMPARE(events[0], QStringLiteral("198 enter w m"));
    QCOMPARE(events[1], QStringLiteral("198 hit w m"));
    QVERIFY(events[2].endsWith(QStringLiteral("exit w m")));
}

void TestMeetings::hitsTellPointNormalAndSpeed_M10()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {3, 0}, {1, 4}), walker("c", {0, 0})};
    scene::Take take;
    press(take, "Right", 0, 2);
    const sim::Record record = play(scene, take, 2);
    int hits = 0;
    for (const rules::Line& line : record.journal.lines) {
        if (line.kind != rules::LineKind::event || line.event != EventKind::hit || record.nameOf(line.self) != "w")
            continue;
        ++hits;
        const rules::Spot spot = record.journal.spotOf(line);
        QVERIFY(std::abs(spot.normal.x + 1) < 1e-9 && std::abs(spot.normal.y) < 1e-9);
        QVERIFY(std::abs(line.number - 3) < 1e-9);
        QVERIFY(std::abs(spot.point.x - 2.5) < 0.02);
    }
    QCOMPARE(hits, 1);
}

void TestMeetings::walkersSlideAlongSolids_V1()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {0, 2}, {20, 1}), walker("c", {0, 0})};
    scene::Take take;
    press(take, "Up", 0, 2);
    press(take, "Right", 0, 2);
    const sim::Record record = play(scene, take, 2);
    const geometry::Vec end = record.snapshots.at(record.lastTick())[1].pose.at;
    QVERIFY(end.x > 3.5);                                                    // goes on along the wall
    QVERIFY(end.y < 1.5 - 0.4 && end.y > 1.08);                              // and stays just off it
    QCOMPARE(eventsAt(record, "w").filter(QStringLiteral("hit")).size(), 1); // without flicker
}

void TestMeetings::walkersNeverPassAThinWall_M6()
{
    scene::Scene scene;
    scene.pieces = {wall("w", {2, 0}, {0.02, 4}), walker("c", {0, 0}, 250)};
    scene::Take take;
    press(take, "Right", 0, 1);
    const sim::Record record = play(scene, take, 1);
    QVERIFY(record.snapshots.at(record.lastTick())[1].pose.at.x < 1.6);
}

void TestMeetings::puttingDoesNotSweep_K7()
{
    scene::Scene scene;
    scene.pieces = {zone("between", {5, 0}, {1, 1}), zone("there", {10, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.snares = {onKey("jump", "j", {scene::Put{{{"m"}}, scene::Destination{Vec{10, 0}}, {}}})};
    const sim::Record record = play(scene, takeOf({{"j", 0.5}}), 1);
    QVERIFY(eventsAt(record, "between").isEmpty());
    QCOMPARE(eventsAt(record, "there"), QStringList({"30 enter there m"}));
    for (const rules::Line& line : record.linesOf(30))
        if (line.event == EventKind::enter && line.kind == rules::LineKind::event)
            QVERIFY(line.cause == world::Cause::put && line.frac == 0);
}

void TestMeetings::regroupingWithoutANewMannerEndsNothing_K5()
{
    scene::Scene scene;
    scene.groups = {"one", "two"};
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.pieces[1].group = "one";
    scene.snares = {onKey("swap", "s", {scene::Regroup{{{"m"}}, "two"}})};
    QCOMPARE(eventsAt(play(scene, takeOf({{"s", 0.5}}), 1), "z"), QStringList({"0 enter z m"}));
}

void TestMeetings::aShapeCanBeDisabledOnItsOwn_K5()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.pieces[0].shapes[0].id = "area";
    scene.snares = {onKey("off", "o", {scene::Disable{{{"z/area"}}}}), onKey("on", "i", {scene::Enable{{{"z/area"}}}})};
    const sim::Record record = play(scene, takeOf({{"o", 0.5}, {"i", 1}}), 1.5);
    QCOMPARE(eventsAt(record, "z"), QStringList({"0 enter z m", "30 exit z m", "60 enter z m"}));
}

/// Random puts, hides, shows, disables and regroups: who is told to be inside is always who
/// overlaps.
void TestMeetings::insidersAlwaysAgreeWithGeometry()
{
    std::mt19937 dice{17};
    const auto pick = [&](int n) { return static_cast<int>(dice() % static_cast<unsigned>(n)); };
    scene::Scene scene;
    scene.groups = {"red", "blue"};
    scene.contacts = {{"red", "blue", scene::Contact::pass}, {"red", "red", scene::Contact::sense}};
    for (int i = 0; i < 8; ++i)
        scene.pieces.push_back(
            zone(fmt::format("z{}", i), {pick(8) - 4.0, pick(8) - 4.0}, {1.0 + pick(3), 1.0 + pick(3)}));
    for (int i = 0; i < 8; ++i) {
        scene.pieces.push_back(mover(fmt::format("m{}", i), {pick(8) - 4.0, pick(8) - 4.0},
                                     {pick(5) - 2.0, pick(5) - 2.0}, 0.3 + 0.1 * pick(5)));
        scene.pieces.back().group = i % 2 ? "red" : "blue";
    }
    scene::Take take;
    for (int i = 0; i < 60; ++i) {
        const std::string who = scene.pieces[static_cast<std::size_t>(pick(16))].id;
        const std::string key = fmt::format("k{}", i);
        scene::ResponseKind what = scene::Put{{{who}}, scene::Destination{Vec{pick(9) - 4.0, pick(9) - 4.0}}, {}};
        switch (pick(6)) {
        case 0:
            what = scene::Hide{{{who}}};
            break;
        case 1:
            what = scene::Show{{{who}}};
            break;
        case 2:
            what = scene::Disable{{{who}}};
            break;
        case 3:
            what = scene::Enable{{{who}}};
            break;
        case 4:
            what = scene::Regroup{{{who}}, pick(2) ? "red" : "blue"};
            break;
        default:
            break;
        }
        scene.snares.push_back(onKey(key, key, {what}));
        press(take, key, 0.05 * (i + 1), 0.05 * (i + 1) + 0.01);
    }
    sim::Recorder recorder{std::make_shared<const scene::Scene>(scene)};
    const auto inputs = sim::inputsByTick(take, scene.rate);
    for (std::int64_t tick = 1; tick <= 240; ++tick) {
        std::vector<scene::Input> now;
        for (const auto& [at, input] : inputs)
            if (at == tick)
                now.push_back(input);
        recorder.tick(now);
        const world::World& world = recorder.run().world();
        std::set<std::pair<std::int32_t, world::PieceIndex>> told;
        for (const sim::Insider& inside : sim::insidersAt(recorder.record(), tick))
            QVERIFY2(told.emplace(inside.shape, inside.visitor).second, "entered twice");
        std::set<std::pair<std::int32_t, world::PieceIndex>> real;
        for (std::size_t a = 0; a < world.shapes().size(); ++a)
            for (std::size_t b = 0; b < world.shapes().size(); ++b) {
                const auto& first = world.shapes()[a];
                const auto& second = world.shapes()[b];
                if (detect::mannerBetween(world, static_cast<int>(a), static_cast<int>(b)) == scene::Contact::pass)
                    continue;
                const double distance =
                    geometry::gapBetween(world.partsOf(first), world.pose()[static_cast<std::size_t>(first.piece)],
                                         world.partsOf(second), world.pose()[static_cast<std::size_t>(second.piece)])
                        .distance;
                if (distance < -1e-9)
                    real.emplace(static_cast<std::int32_t>(a), second.piece);
            }
        QVERIFY2(told == real,
                 qPrintable(QStringLiteral("tick %1: %2 told, %3 real").arg(tick).arg(told.size()).arg(real.size())));
    }
}

void TestMeetings::aConcaveZoneIsOneShapeAndItsNotchIsOutside_M13()
{
    scene::Scene scene;
    // A U: the mover goes through the left arm, the notch and the right arm.
    const scene::Polygon u{{{-3, -1}, {3, -1}, {3, 2}, {1, 2}, {1, 0}, {-1, 0}, {-1, 2}, {-3, 2}}};
    scene.pieces = {piece("dock", {0, 0}, u, scene::Role::zone), mover("gull", {-4, 1}, {1, 0}, 0.1)};
    const QStringList events = eventsAt(play(scene, {}, 8.5), "dock");
    QCOMPARE(events,
             QStringList({"55 enter dock gull", "186 exit dock gull", "295 enter dock gull", "426 exit dock gull"}));
    // Along the bottom it stays in, however the U is cut up.
    scene.pieces[1] = mover("gull", {-4, -0.5}, {1, 0}, 0.1);
    QCOMPARE(eventsAt(play(scene, {}, 8.5), "dock"), QStringList({"55 enter dock gull", "426 exit dock gull"}));
}

void TestMeetings::whatCrossesALineWithinATickEntersAndLeaves_M6()
{
    scene::Scene scene;
    scene.pieces = {piece("chain", {0, 0}, scene::Line{{{0, -2}, {0, 0}, {0.5, 2}}, false}, scene::Role::zone),
                    mover("gull", {-10.05, -1}, {300, 0}, 0.1)};
    QCOMPARE(eventsAt(play(scene, {}, 0.2), "chain"), QStringList({"2 enter chain gull", "3 exit chain gull"}));
    scene.pieces[1].at = {-12.5, -1}; // over and past between two ticks
    QCOMPARE(eventsAt(play(scene, {}, 0.2), "chain"), QStringList({"3 enter chain gull", "3 exit chain gull"}));
}

void TestMeetings::aWalkerIsStoppedByALineAndACapsule()
{
    for (const scene::Geometry& geometry : {scene::Geometry{scene::Line{{{2, -3}, {2, 3}}, false}},
                                            scene::Geometry{scene::Capsule{{2, -3}, {2, 3}, 1e-6}}}) {
        scene::Scene scene;
        scene.pieces = {piece("rail", {0, 0}, geometry, scene::Role::solid), walker("salter", {0, 0})};
        scene::Take take;
        press(take, "Right", 0.1, 1.9);
        take.length = 2;
        const sim::Record record = play(scene, take);
        QVERIFY(std::abs(record.snapshots.at(record.lastTick())[1].pose.at.x - 1.6) < 0.02);
        QVERIFY(eventsAt(record, "rail").join(QLatin1Char(' ')).contains(QStringLiteral("hit rail salter")));
    }
}

void TestMeetings::occupiedAndVacatedCountOnlyWhoPassed_M11()
{
    scene::Scene scene;
    scene.pieces = {zone("scale", {0, 0}, {2, 2}), mover("heavy", {-3, 0}, {3, 0}), mover("light", {-2, 0.4}, {3, 0}),
                    mover("heavy-2", {-3.5, -0.4}, {3, 0})};
    for (const std::size_t i : {std::size_t{1}, std::size_t{3}})
        scene.pieces[i].tags = {"heavy"};
    scene::Snare occupied = onEvent("occ", EventKind::occupied, "scale", {scene::Note{std::string("on")}});
    scene::Snare vacated = onEvent("vac", EventKind::vacated, "scale", {scene::Note{std::string("off")}});
    scene::Snare both = onEvent("both", EventKind::occupied, "scale", {scene::Note{std::string("both")}});
    both.catches.event.items = {EventKind::occupied, EventKind::vacated};
    occupied.filter.tags.any = vacated.filter.tags.any = both.filter.tags.any = {"heavy"};
    scene.snares = {occupied, vacated, both};
    const sim::Record record = play(scene, {}, 4);
    // `light` comes first and goes first and is not counted; `heavy-2` leaves last.
    QCOMPARE(outcomesOf(record, "occ"), QStringList({"31 occ sprung"}));
    QCOMPARE(outcomesOf(record, "vac"), QStringList({"100 vac sprung"}));
    QCOMPARE(outcomesOf(record, "both"), QStringList({"31 both sprung", "100 both sprung"}));
    QVERIFY(lines(record, [](const rules::Line& line) {
                return line.kind == rules::LineKind::event &&
                       (line.event == EventKind::occupied || line.event == EventKind::vacated);
            }).isEmpty()); // no event lines
}

void TestMeetings::occupiedComesBehindAllEntersOfItsMoment_M12()
{
    // Two come in and one goes out at the same moment.
    scene::Scene scene;
    scene.pieces = {zone("gate", {0, 0}, {2, 2}), mover("a", {-3.02, 0.5}, {3, 0}), mover("b", {-3.02, -0.5}, {3, 0}),
                    zone("other", {-4, 3}, {2, 2}), mover("c", {-4.02, 3}, {3, 0})};
    scene.snares = {
        onEvent("occ", EventKind::occupied, "group:default", {}), onEvent("in", EventKind::enter, "group:default", {}),
        onEvent("out", EventKind::exit, "group:default", {}), onEvent("vac", EventKind::vacated, "group:default", {})};
    const sim::Record record = play(scene, {}, 1);
    QStringList order;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::snare && line.tick == 31)
            order << QStringLiteral("%1 %2").arg(toQString(record.snareNameOf(line.snare)),
                                                 toQString(record.nameOf(line.self)));
    // `c` leaves `other` at the moment at which `a` and `b` come into `gate`: exits, vacated,
    // enters, occupied.
    QCOMPARE(order, QStringList({"out other", "out c", "vac other", "vac c", "in gate", "in gate", "in a", "in b",
                                 "occ gate", "occ a", "occ b"}));
}

void TestMeetings::whatIsRemovedVacates_M11()
{
    scene::Scene scene;
    scene.pieces = {zone("scale", {0, 0}, {2, 2}), mover("crate", {0, 0}, {0, 0})};
    scene.snares = {onKey("takes", "t", {scene::Remove{{{"crate"}}}}),
                    onEvent("vac", EventKind::vacated, "scale", {scene::Note{std::string("empty")}})};
    const sim::Record record = play(scene, takeOf({{"t", 0.5}}), 1);
    QCOMPARE(eventsAt(record, "scale"), QStringList({"0 enter scale crate", "30 exit scale crate"}));
    QCOMPARE(outcomesOf(record, "vac"), QStringList({"30 vac sprung"}));
}

void TestMeetings::whatIsCarriedDoesNotMeetItsCarrier_M14()
{
    scene::Scene scene;
    scene.pieces = {mover("cart", {0, 0}, {0, 0}, 1), mover("crate", {0.5, 0}, {0, 0}, 0.3),
                    mover("lid", {0.6, 0}, {0, 0}, 0.2)};
    scene.snares = {onKey("loads", "l", {scene::Attach{{{"crate"}}, {{"cart"}}}}),
                    onKey("covers", "c", {scene::Attach{{{"lid"}}, {{"crate"}}}}),
                    onKey("rings", "r", {scene::Attach{{{"cart"}}, {{"lid"}}}}),
                    onKey("drops", "d", {scene::Detach{{{"crate"}}}})};
    const sim::Record record = play(scene, takeOf({{"l", 0.1}, {"c", 0.2}, {"r", 0.3}, {"d", 0.4}}), 1);
    // The crate, then the lid that rides on it, leave the cart; a ring is refused; both come back
    // together.
    QCOMPARE(eventsAt(record, "cart"), QStringList({"0 enter cart crate", "0 enter cart lid", "6 exit cart crate",
                                                    "12 exit cart lid", "24 enter cart crate", "24 enter cart lid"}));
    QVERIFY(notes(record).join(QLatin1Char(' ')).contains(QStringLiteral("cannot carry what it rides on")));
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && line.tick > 0 && line.self >= 0)
            QCOMPARE(line.cause, line.event == EventKind::exit ? world::Cause::attached : world::Cause::detached);
}

void TestMeetings::ridersGoWithTheirCarrierAndMeetOthers_V4()
{
    scene::Scene scene;
    scene.pieces = {mover("cart", {-4, 0}, {2, 0}, 0.2), mover("crate", {-4, 1}, {0, 0}, 0.3),
                    zone("shed", {0, 1}, {1, 1}), zone("yard", {20, 20}, {4, 4})};
    scene.pieces[0].body = scene::KinematicBody{{2, 0}, 90};
    scene.snares = {onEvent("loads", EventKind::start, "scene", {scene::Attach{{{"crate"}}, {{"cart"}}}}),
                    onKey("puts", "p", {scene::Put{{{"cart"}}, scene::Destination{Vec{20, 20}}, {}}})};
    const sim::Record record = play(scene, takeOf({{"p", 3}}), 3.2);
    // It keeps its offset of 1 m and goes round with the cart.
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick) {
        const auto states = record.snapshots.at(tick);
        QVERIFY(std::abs(glm::length(states[1].pose.at - states[0].pose.at) - 1) < 1e-9);
        QVERIFY(std::abs(states[1].pose.turn - states[0].pose.turn) < 1e-9);
    }
    QCOMPARE(record.snapshots.at(60)[1].pose.at.x, -3.0);                               // after a quarter turn
    QVERIFY(eventsAt(record, "yard").contains(QStringLiteral("180 enter yard crate"))); // put along with it
}

void TestMeetings::resizingGivesEnterAndExit_K7()
{
    scene::Scene scene;
    scene.pieces = {zone("pool", {0, 0}, {2, 2}), mover("duck", {2, 0}, {0, 0}, 0.5)};
    scene.snares = {onKey("grows", "g", {scene::Size{{{"pool"}}, scene::Value<double>{2.0}, {}}}),
                    onKey("shrinks", "s", {scene::Size{{{"pool"}}, {}, scene::Value<double>{0.5}}})};
    const sim::Record record = play(scene, takeOf({{"g", 0.1}, {"s", 0.2}, {"g", 0.3}}), 0.5);
    QCOMPARE(eventsAt(record, "pool"), QStringList({"6 enter pool duck", "12 exit pool duck", "18 enter pool duck"}));
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && line.event != EventKind::start && line.self >= 0)
            QVERIFY(line.cause == world::Cause::resized && line.frac == 0);
    QCOMPARE(record.snapshots.at(13)[0].scale, 1.0); // half of the double: as drawn, exactly
    // It can be told to grow for ever.
    scene.snares = {
        onEvent("swells", EventKind::stay, "pool", {scene::Size{{{"pool"}}, {}, scene::Value<double>{9.0}}})};
    scene.pieces[1].at = {0, 0};
    const sim::Record swollen = play(scene, {}, 10);
    QCOMPARE(swollen.snapshots.at(swollen.lastTick())[0].scale, 1e6);
    QCOMPARE(eventsAt(swollen, "pool"), QStringList({"0 enter pool duck"}));
}

void TestMeetings::aLiftCarriesTheMeetingUp_M15()
{
    scene::Scene scene;
    scene.pieces = {mover("lift", {0, 0}, {0, 0}, 1), zone("ground-floor", {0, 0}, {3, 3}),
                    zone("loft", {0, 0}, {3, 3})};
    scene.pieces[0].body = scene::KinematicBody{};
    scene.pieces[0].shapes[0].band = {0, 2};
    scene.pieces[1].shapes[0].band = {0, 3};
    scene.pieces[2].z = 3;
    scene.pieces[2].shapes[0].band = {0, 3};
    scene::Move up{{{"lift"}}, {}, Vec{0, 0}};
    up.rise = 3;
    up.speed = 1.5;
    scene.snares = {onKey("up", "u", {up})};
    const sim::Record record = play(scene, takeOf({{"u", 0.5}}), 4);
    // Its top reaches 3 m when it has risen 1 m, its foot leaves 3 m after 3 m: exactly at the end
    // of the way.
    QCOMPARE(eventsAt(record, "loft"), QStringList({"70 enter loft lift"}));
    QCOMPARE(eventsAt(record, "ground-floor"),
             QStringList({"0 enter ground-floor lift", "149 exit ground-floor lift"}));
    QCOMPARE(record.snapshots.at(record.lastTick())[0].pose.z, 3.0);
}

void TestMeetings::aWalkerGoesUnderABeamAndStopsAtAPost_M15()
{
    scene::Scene scene;
    scene.pieces = {walker("porter", {0, 0}), wall("beam", {2, 0}, {0.5, 4}), wall("post", {5, 0}, {0.5, 4})};
    scene.pieces[0].shapes[0].band = {0, 1.8};
    scene.pieces[1].shapes[0].band = {2, 3};
    scene.pieces[2].shapes[0].band = {0, 3};
    scene::Take take;
    press(take, "Right", 0.1, 3);
    const sim::Record record = play(scene, take, 3);
    QVERIFY(eventsAt(record, "beam").isEmpty());
    QVERIFY(std::abs(record.snapshots.at(record.lastTick())[0].pose.at.x - 4.35) < 0.02);
    // With a load on the head the beam is too low.
    scene.pieces[0].shapes[0].band = {0, 2.1};
    const sim::Record loaded = play(scene, take, 3);
    QVERIFY(std::abs(loaded.snapshots.at(loaded.lastTick())[0].pose.at.x - 1.35) < 0.02);
}

void TestMeetings::theTipOfATurningArmHitsWithItsOwnSpeed_M10()
{
    // An arm of 2 m turns at 90 degrees a second: its tip moves at pi m/s.
    scene::Scene scene;
    scene::Piece arm = wall("arm", {0, 0}, {4, 0.2});
    arm.body = scene::KinematicBody{{0, 0}, 90};
    scene.pieces = {arm, piece("bell", {0, 1.9}, scene::Circle{0.1}, scene::Role::solid)};
    const sim::Record record = play(scene, {}, 2);
    int hits = 0;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && line.event == EventKind::hit && line.self == 0) {
            ++hits;
            const rules::Spot spot = record.journal.spotOf(line);
            QVERIFY(std::abs(line.number - 1.9 * 3.14159265 / 2) < 0.1);
            QVERIFY(std::abs(glm::length(spot.normal) - 1) < 1e-9);
            QVERIFY(glm::length(spot.point - Vec{0, 1.9}) < 0.12);
            QVERIFY(spot.normal.x < -0.9); // it comes from the right, the bell is on its left
        }
    QCOMPARE(hits, 1);
}

void TestMeetings::heightsAreReadWrittenAndSet_M15()
{
    const char* text = R"({"format": "fresh-snare-scene", "version": 1, "pieces": [
      {"id": "lift", "at": [1, 2, 3], "body": {"kind": "kinematic", "velocity": [0, 0, 0.5]},
       "shapes": [{"role": "zone", "circle": 1, "band": [0, 2.5]}]}],
      "snares": [{"id": "call", "catch": {"event": "key-down", "key": "c"}, "responses": [
        {"do": "put", "on": "lift", "at": [0, 0, 9]}, {"do": "log", "text": {"get": "lift.z"}}]}]})";
    const auto scene = io::readScene(text, "lift");
    QVERIFY(scene);
    QCOMPARE(scene->pieces[0].z, 3.0);
    QVERIFY(*io::readScene(io::sceneText(*scene), "again") == *scene);
    rules::Journal journal;
    sim::Run run{std::make_shared<const scene::Scene>(*scene)};
    run.start(journal);
    QVERIFY(io::finalText(run).find(R"("at":[1,2,3])") != std::string::npos);
    const sim::Record record = play(*scene, takeOf({{"c", 1}}), 2);
    QCOMPARE(record.snapshots.at(59)[0].pose.z, 3 + 59 * 0.5 / 60);
    QVERIFY(std::abs(record.snapshots.at(record.lastTick())[0].pose.z - 9.5) < 0.02);
    for (const char* wrong : {R"("at": [1, 2, 3, 4])", R"("at": [1])"}) {
        const std::string bad =
            std::string(R"({"format": "fresh-snare-scene", "version": 1, "pieces": [{"id": "a", )") + wrong + "}]}";
        QVERIFY(!io::readScene(bad, "bad"));
    }
    const auto upsideDown = io::readScene(
        R"({"format": "fresh-snare-scene", "version": 1, "pieces": [{"id": "a", "shapes": [{"circle": 1, "band": [2, 1]}]}]})",
        "bad");
    QVERIFY(!upsideDown);
    QCOMPARE(upsideDown.error().front().pointer, std::string("/pieces/0/shapes/0/band"));
}

QTEST_APPLESS_MAIN(TestMeetings)
#include "test_meetings.moc"
