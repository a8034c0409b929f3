// SPDX-License-Identifier: Apache-2.0
/// Everything that snares catch, ask and do, by rule. The order of a tick and the first rules are
/// in test_rules.
#include "builder.h"

#include "rules/counter_generator.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

/// A zone of 2 x 2 m at the origin, a visitor far away, and keys that put it in and out.
const std::string inAndOut = R"(
    'pieces': [{'id': 'z', 'shapes': [{'id': 'area', 'role': 'zone', 'box': [2, 2]}]},
               {'id': 'm', 'at': [10, 0], 'tags': ['staff'], 'properties': {'load': 1}, 'body': 'kinematic',
                'shapes': [{'role': 'zone', 'circle': 0.5}]},
               {'id': 'n', 'at': [10, 5], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.5}]}],
    'variables': {'n': 0},
    'snares': [{'id': 'i', 'catch': {'event': 'key-down', 'key': 'i'}, 'responses': [{'do': 'put', 'on': 'm', 'at': [0, 0]}]},
               {'id': 'o', 'catch': {'event': 'key-down', 'key': 'o'}, 'responses': [{'do': 'put', 'on': 'm', 'at': [10, 0]}]},
               {'id': 'j', 'catch': {'event': 'key-down', 'key': 'j'}, 'responses': [{'do': 'put', 'on': 'n', 'at': [0.1, 0]}]},
               {'id': 'p', 'catch': {'event': 'key-down', 'key': 'p'}, 'responses': [{'do': 'put', 'on': 'n', 'at': [10, 5]}]})";

scene::Scene withSnares(const std::string& snares)
{
    return sceneFrom(inAndOut + "," + snares + "]");
}

/// Whether a look, caption or the like of a piece stands at a time.
bool captionStands(const sim::Record& record, std::int64_t tick)
{
    const sim::Standing standing = sim::standingAt(record, tick);
    return std::ranges::any_of(standing.captions, [&](std::int32_t line) {
        return record.journal.lines[static_cast<std::size_t>(line)].until > tick;
    });
}

} // namespace

class TestSnares : public QObject {
    Q_OBJECT

  private slots:
    // events
    void phasesBeginBeforeTheStart_K9();
    void dialsRiseAndFallAcrossALevel_P9();
    void aBandKeepsACrossingSteady_P9();
    void variablesCountsAndTheAgeAreWatched_P9();
    void selvesWatchTheirOwnValue_P9();
    void callsCarryTheirValues_P10();
    void insideOffersAKeyOncePerVisitor_P11();
    void nearestOffersItAtOnePlaceOnly_P11();
    void timersOfPiecesBelongToEach_P8();
    void timersAreStartedAndStopped_P8();
    void stayIsHeardOnlyEverySoOften_T6();
    void changedTellsOnlyOfRealChanges();
    void aLookThatPlaysOnceEnds();
    void leavingTheBoundsIsToldOnce_V9();
    void whatIsOutsideIsRemovedWrappedOrStopped_V9();
    void oneSnareCatchesSeveralEvents();
    // phases
    void phaseChangesSettleAndAreTold_K4();
    void aSnareListensOnlyDuringItsPhase_S1();
    void piecesComeAndGoWithThePhaseOfTheScene_K5_K7();
    void anAbsentPieceKeepsItsState();
    void changingPhaseCatchesUp_S7();
    void phasesBringTheirLook();
    void phasesThatGoRoundInARingStopTheRun_K8();
    // filters and gates
    void filtersAskForSpeedMannerAndTemplate_S2();
    void hasFindsTagsAndTexts_S2();
    void chanceIsSeeded_T3_S4();
    void gatesForgetWhenThePlaceIsEmpty_S5();
    void gatesThatNeverForgetOutliveARestart_S5();
    void rearmMakesAGateForget_S5();
    void claimsKeepsTheEventFromTheSnaresAfter_S12();
    void claimsDoesNotKeepItFromItself_S12();
    void whatIsOnlyReadCannotBeSet();
    // responses
    void untilExitPutsBackWhatWasBefore_S13();
    void untilExitOfTwoVisitorsLastsForBoth_S13();
    void untilExitIsSkippedWhenTheMeetingIsOver_S13();
    void promptsStandWhileTheMeetingLasts();
    void spawnedPiecesAreLikeTheirTemplate();
    void spawnedPiecesFlyTheWaySelfFaces();
    void spawnedPiecesAreGoneAfterARestart_T5();
    void spawningWithoutEndStopsTheRun();
    void valuesAreWorkedOutWhenTheyAreNeeded();
    void aPropertyCanHoldAPiece();
    void somewhereFitsInsideAndClear();
    void putIfClearLooksFirst();
    void chaseFollowsUntilItsPieceIsGone_V3();
    void easingTakesAsLongAsGoingEvenly_V3();
    void routinesRunWithTheirOwnValues();
    void aRunWaitsForItsRoutine_S8();
    void routinesThatRunEachOtherStopTheRun();
    void aMissingRoutineIsNoted_S9();
    void kitsBringRoutinesTemplatesAndSnares();
    void diceFollowTheirTestVector_T3();
};

void TestSnares::phasesBeginBeforeTheStart_K9()
{
    const auto scene = sceneFrom(R"('phases': ['open', 'closed'],
        'pieces': [{'id': 'gate', 'phases': ['shut', {'id': 'up', 'look': {'colour': '#ff0000'}}]}],
        'snares': [{'id': 'a', 'catch': {'event': 'phase-begin', 'phase': 'open'}, 'responses': [{'do': 'log', 'text': 'scene'}]},
                   {'id': 'b', 'catch': {'event': 'phase-begin', 'at': 'gate'}, 'responses': [{'do': 'log', 'text': 'gate {self.phase}'}]},
                   {'id': 'c', 'catch': {'event': 'start'}, 'responses': [{'do': 'log', 'text': 'start in {scene.phase}'}]}])");
    QCOMPARE(notes(play(scene, {}, 0.1)), QStringList({"0 scene", "0 gate shut", "0 start in open"}));
}

void TestSnares::dialsRiseAndFallAcrossALevel_P9()
{
    const auto scene = sceneFrom(R"('sources': [{'id': 'tide', 'dial': {'low': 0, 'high': 4, 'value': 1}}],
        'snares': [{'id': 'up', 'catch': {'event': 'rises', 'source': 'tide', 'level': 2}, 'responses': [{'do': 'log', 'text': 'up to {event.value}'}]},
                   {'id': 'down', 'catch': {'event': 'falls', 'source': 'tide', 'level': 2}, 'responses': [{'do': 'log', 'text': 'down to {tide.value}'}]},
                   {'id': 'also', 'catch': {'event': ['rises', 'falls'], 'source': 'tide', 'level': 2}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]}])");
    // From at most the level to above it; beyond the end of the dial it stays at the end.
    const auto record =
        play(scene, takeFrom(R"({'t': 0.1, 'dial': 'tide', 'value': 2}, {'t': 0.2, 'dial': 'tide', 'value': 9},
        {'t': 0.3, 'dial': 'tide', 'value': 2}, {'t': 0.4, 'dial': 'tide', 'value': 0.5})"));
    QCOMPARE(notes(record), QStringList({"12 up to 4", "24 down to 0.5"}));
    QCOMPARE(lastValue(record, "scene", "n"), QStringLiteral("2"));
    // Snares that watch the same thing share one event.
    QCOMPARE(lines(record,
                   [](const rules::Line& l) {
                       return l.kind == rules::LineKind::event && l.event == scene::EventKind::rises;
                   })
                 .size(),
             1);
}

void TestSnares::aBandKeepsACrossingSteady_P9()
{
    const auto scene = sceneFrom(R"('sources': [{'id': 'd', 'dial': {'low': 0, 'high': 10, 'value': 0}}],
        'snares': [{'id': 'up', 'catch': {'event': 'rises', 'source': 'd', 'level': 5, 'band': 1}}])");
    std::string inputs;
    double t = 0.1;
    for (const double value : {6.0, 4.5, 6.0, 4.0, 6.0, 3.9, 6.0}) {
        inputs += (inputs.empty() ? "" : ",") + fmt::format("{{'t': {}, 'dial': 'd', 'value': {}}}", t, value);
        t += 0.1;
    }
    // 4.5 and 4 are not below 5 - 1; only after 3.9 it rises again.
    QCOMPARE(outcomesOf(play(scene, takeFrom(inputs)), "up"), QStringList({"6 up sprung", "42 up sprung"}));
}

void TestSnares::variablesCountsAndTheAgeAreWatched_P9()
{
    const auto record = play(withSnares(R"(
        {'id': 'more', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 2}]},
        {'id': 'two', 'catch': {'event': 'rises', 'watch': 'scene.n', 'level': 3}, 'responses': [{'do': 'log', 'text': 'n'}]},
        {'id': 'full', 'catch': {'event': 'rises', 'watch': 'z.count', 'level': 1}, 'responses': [{'do': 'log', 'text': 'full'}]},
        {'id': 'alone', 'catch': {'event': 'falls', 'watch': 'z.count', 'level': 2}, 'responses': [{'do': 'log', 'text': 'alone'}]},
        {'id': 'late', 'catch': {'event': 'rises', 'watch': 'scene.age', 'level': 0.7}, 'responses': [{'do': 'log', 'text': 'late'}]})"),
                             takeOf({{"i", 0.1}, {"j", 0.2}, {"o", 0.4}}));
    QCOMPARE(notes(record), QStringList({"12 full", "12 n", "24 alone", "43 late"}));
}

void TestSnares::selvesWatchTheirOwnValue_P9()
{
    const auto scene = sceneFrom(R"('pieces': [{'id': 'a', 'tags': ['cask'], 'properties': {'load': 0}},
                                               {'id': 'b', 'tags': ['cask'], 'properties': {'load': 0}}, {'id': 'c', 'properties': {'load': 0}}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'set', 'on': ['b', 'c'], 'name': 'load', 'value': 5}]},
                   {'id': 'heavy', 'catch': {'event': 'rises', 'at': 'tag:cask', 'watch': 'self.load', 'level': 3}, 'responses': [{'do': 'log', 'text': '{self.id}'}]}])");
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))), QStringList({"6 b"}));
}

void TestSnares::callsCarryTheirValues_P10()
{
    const auto scene =
        sceneFrom(R"('sources': [{'id': 'hailing', 'call': {'name': 'hail', 'values': {'vessel': 'ketch'}}}],
        'snares': [{'id': 'h', 'catch': {'event': 'called', 'name': 'hail'}, 'filter': {'when': [{'left': 'event.crew', 'is': '>=', 'right': 3}]},
                    'responses': [{'do': 'log', 'text': '{event.name} {event.vessel}'}]}])");
    const auto record = play(scene, takeFrom(R"({'t': 0.1, 'call': 'hail', 'with': {'vessel': 'brig', 'crew': 2}},
        {'t': 0.2, 'call': 'hail', 'with': {'vessel': 'ketch', 'crew': 3}}, {'t': 0.3, 'call': 'hail'}, {'t': 0.4, 'call': 'other'})"));
    QCOMPARE(notes(record), QStringList({"12 hail ketch"}));
    QCOMPARE(reasonsOf(record, "h"),
             QStringList({"filter: needs event.crew >= 3; it is 2", "filter: needs event.crew >= 3; it is missing"}));
}

void TestSnares::insideOffersAKeyOncePerVisitor_P11()
{
    const auto record =
        play(withSnares(R"(
        {'id': 'e', 'catch': {'event': 'key-down', 'key': 'e', 'at': 'z', 'inside': true}, 'responses': [{'do': 'log', 'text': '{visitor.id}'}]})"),
             takeOf({{"e", 0.05}, {"j", 0.1}, {"e", 0.2}, {"i", 0.3}, {"e", 0.4}, {"p", 0.5}, {"e", 0.6}}));
    QCOMPARE(notes(record), QStringList({"12 n", "24 n", "24 m", "36 m"})); // in order of arrival
}

void TestSnares::nearestOffersItAtOnePlaceOnly_P11()
{
    const auto scene = sceneFrom(R"('pieces': [
        {'id': 'west', 'at': [-0.5, 0], 'tags': ['ring'], 'shapes': [{'role': 'zone', 'circle': 2}]},
        {'id': 'east', 'at': [1, 0], 'tags': ['ring'], 'shapes': [{'role': 'zone', 'circle': 2}]},
        {'id': 'm', 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.2}]}],
        'snares': [{'id': 'e', 'catch': {'event': 'key-down', 'key': 'e', 'at': 'tag:ring', 'inside': 'nearest'}, 'responses': [{'do': 'log', 'text': '{self.id}'}]}])");
    QCOMPARE(notes(play(scene, takeOf({{"e", 0.1}, {"e", 0.6}}))), QStringList({"6 west", "36 east"}));
}

void TestSnares::timersOfPiecesBelongToEach_P8()
{
    const auto scene = sceneFrom(R"('templates': {'lamp': {'timers': [{'id': 'blink', 'timer': {'every': 0.2}}]}},
        'pieces': [{'id': 'a', 'template': 'lamp'}, {'id': 'b', 'timers': [{'id': 'blink', 'timer': {'every': 0.5, 'repeat': false}}]}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'spawn', 'template': 'lamp'}, {'do': 'remove', 'on': 'a'}]},
                   {'id': 'blinks', 'catch': {'event': 'elapsed', 'source': 'blink', 'at': 'template:lamp'}, 'responses': [{'do': 'log', 'text': '{self.id}'}]},
                   {'id': 'any', 'catch': {'event': 'elapsed', 'source': 'blink'}, 'filter': {'when': [{'left': 'self.id', 'is': '=', 'right': 'b'}]}, 'responses': [{'do': 'log', 'text': 'b'}]}])");
    // The timer of what is spawned begins when it is; that of what is removed ends with it.
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.3}}, 0.8))), QStringList({"12 a", "30 b", "30 lamp-1", "42 lamp-1"}));
}

void TestSnares::timersAreStartedAndStopped_P8()
{
    const auto scene = sceneFrom(R"('sources': [{'id': 't', 'timer': {'every': 0.2, 'runs': false}}],
        'snares': [{'id': 'go', 'catch': {'event': 'key-down', 'key': 'g'}, 'responses': [{'do': 'timer', 'source': 't', 'to': 'start'}]},
                   {'id': 'stop', 'catch': {'event': 'key-down', 'key': 's'}, 'responses': [{'do': 'timer', 'source': 't', 'to': 'stop'}]},
                   {'id': 'e', 'catch': {'event': 'elapsed', 'source': 't'}}])");
    QCOMPARE(outcomesOf(play(scene, takeOf({{"g", 0.1}, {"s", 0.55}, {"g", 1.0}}, 1.5)), "e"),
             QStringList({"18 e sprung", "30 e sprung", "72 e sprung", "84 e sprung"}));
}

void TestSnares::stayIsHeardOnlyEverySoOften_T6()
{
    const auto record = play(withSnares(R"({'id': 's', 'catch': {'event': 'stay', 'at': 'z', 'every': 0.25}})"),
                             takeOf({{"i", 0.1}, {"o", 0.9}}));
    QCOMPARE(outcomesOf(record, "s"), QStringList({"21 s sprung", "36 s sprung", "51 s sprung"}));
}

void TestSnares::changedTellsOnlyOfRealChanges()
{
    const auto record = play(withSnares(R"(
        {'id': 'a', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'set', 'on': 'scene', 'name': 'n', 'value': 0},
            {'do': 'set', 'on': 'scene', 'name': 'n', 'value': 4}, {'do': 'set', 'on': 'visitor', 'name': 'load', 'value': 2}]},
        {'id': 'n', 'catch': {'event': 'changed', 'value': 'n'}, 'responses': [{'do': 'log', 'text': 'n {event.value}'}]},
        {'id': 'l', 'catch': {'event': 'changed', 'at': 'm', 'value': 'load'}, 'responses': [{'do': 'log', 'text': 'load {self.load}'}]})"),
                             takeOf({{"i", 0.1}}));
    QCOMPARE(notes(record), QStringList({"6 n 4", "6 load 2"}));
}

void TestSnares::aLookThatPlaysOnceEnds()
{
    const auto scene = sceneFrom(
        R"('pieces': [{'id': 'gull', 'looks': {'land': {'image': 'g.png', 'frames': 6, 'frameRate': 12, 'once': true}}}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'look', 'on': 'gull', 'to': 'land'}]},
                   {'id': 'p', 'catch': {'event': 'key-down', 'key': 'p'}, 'responses': [{'do': 'look', 'on': 'gull', 'to': 'plain'}]},
                   {'id': 'e', 'catch': {'event': 'look-ended', 'at': 'gull'}}])");
    QCOMPARE(outcomesOf(play(scene, takeOf({{"k", 0.1}, {"k", 1.0}, {"p", 1.2}})), "e"), QStringList({"36 e sprung"}));
}

void TestSnares::leavingTheBoundsIsToldOnce_V9()
{
    const auto scene = sceneFrom(R"('bounds': [-2, -2, 2, 2], 'pieces': [
        {'id': 'm', 'body': {'kind': 'kinematic', 'velocity': [4, 0]}}, {'id': 'far', 'at': [9, 9], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'put', 'on': 'm', 'at': [0, 0]}]},
                   {'id': 's', 'catch': {'event': 'strays', 'at': 'm'}}, {'id': 'f', 'catch': {'event': 'strays', 'at': 'far'}}])");
    const auto record = play(scene, takeOf({{"k", 1}}));
    QCOMPARE(outcomesOf(record, "s"), QStringList({"31 s sprung", "90 s sprung"}));
    QCOMPARE(outcomesOf(record, "f"), QStringList()); // it was never inside
}

void TestSnares::whatIsOutsideIsRemovedWrappedOrStopped_V9()
{
    const auto scene = sceneFrom(R"('bounds': [-2, -2, 2, 2], 'pieces': [
        {'id': 'a', 'outside': 'remove', 'body': {'kind': 'kinematic', 'velocity': [6, 0]}},
        {'id': 'b', 'outside': 'wrap', 'body': {'kind': 'kinematic', 'velocity': [6, 0]}},
        {'id': 'c', 'outside': 'stop', 'body': {'kind': 'kinematic', 'velocity': [6, 1]}},
        {'id': 'd', 'body': {'kind': 'kinematic', 'velocity': [6, 0]}}])");
    const auto record = play(scene, {}, 0.5);
    const auto states = record.snapshots.at(30);
    QVERIFY(!states[0].present);
    QVERIFY(std::abs(states[1].pose.at.x + 1) < 0.2); // 3 m on, 4 m back
    QCOMPARE(states[2].pose.at.x, 2.0);
    QVERIFY(std::abs(states[3].pose.at.x - 3) < 1e-9);
}

void TestSnares::oneSnareCatchesSeveralEvents()
{
    const auto record = play(
        withSnares(
            R"({'id': 'both', 'catch': {'event': ['enter', 'exit'], 'at': 'z'}, 'responses': [{'do': 'log', 'text': '{event.name}'}]})"),
        takeOf({{"i", 0.1}, {"o", 0.3}}));
    QCOMPARE(notes(record), QStringList({"6 enter", "18 exit"}));
}

// --- phases --------------------------------------------------------------------------------------------------------

void TestSnares::phaseChangesSettleAndAreTold_K4()
{
    const auto scene = sceneFrom(R"('pieces': [{'id': 'gate', 'phases': ['shut', 'up', 'stuck']}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'phase', 'on': 'gate', 'to': 'next'}, {'do': 'log', 'text': 'still {gate.phase}'}]},
                   {'id': 'same', 'catch': {'event': 'key-down', 'key': 's'}, 'responses': [{'do': 'phase', 'on': 'gate', 'to': 'shut'}, {'do': 'phase', 'on': 'gate', 'to': 'none'}]},
                   {'id': 'e', 'catch': {'event': ['phase-end', 'phase-begin'], 'at': 'gate'}, 'responses': [{'do': 'log', 'text': '{event.name} {self.phase}'}]}])");
    const auto record = play(scene, takeOf({{"s", 0.05}, {"k", 0.1}, {"k", 0.2}, {"k", 0.3}}));
    QCOMPARE(notes(record),
             QStringList({"0 phase-begin shut", "3 gate has no phase none", "6 still shut", "6 phase-end up",
                          "6 phase-begin up", "12 still up", "12 phase-end stuck", "12 phase-begin stuck",
                          "18 still stuck", "18 phase-end shut", "18 phase-begin shut"}));
    QCOMPARE(QString::fromStdString(sim::phaseAt(record, 0, 15)), QStringLiteral("stuck"));
}

void TestSnares::aSnareListensOnlyDuringItsPhase_S1()
{
    const auto scene =
        sceneFrom(R"('phases': ['day', 'night'], 'pieces': [{'id': 'desk', 'phases': ['open', 'closed']}],
        'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'phase', 'on': 'desk', 'to': 'next'}]},
                   {'id': 'b', 'catch': {'event': 'key-down', 'key': 'b'}, 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'next'}]},
                   {'id': 'stamp', 'during': 'open', 'catch': {'event': 'key-down', 'key': 's', 'at': 'desk'}},
                   {'id': 'watch', 'during': ['scene:night'], 'catch': {'event': 'key-down', 'key': 's'}}])");
    const auto record = play(scene, takeOf({{"s", 0.1}, {"a", 0.2}, {"b", 0.2}, {"s", 0.3}}));
    QCOMPARE(outcomesOf(record, "stamp"), QStringList({"6 stamp sprung", "18 stamp slipped phase"}));
    QCOMPARE(outcomesOf(record, "watch"), QStringList({"6 watch slipped phase", "18 watch sprung"}));
    QCOMPARE(reasonsOf(record, "stamp"), QStringList({"phase: phase is closed, needs open"}));
}

void TestSnares::piecesComeAndGoWithThePhaseOfTheScene_K5_K7()
{
    const auto scene = sceneFrom(R"('phases': ['day', 'night'], 'pieces': [
        {'id': 'stall', 'during': 'day', 'shapes': [{'role': 'zone', 'box': [2, 2]}]},
        {'id': 'm', 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.5}]}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'next'}]},
                   {'id': 'left', 'catch': {'event': 'exit', 'at': 'stall'}},
                   {'id': 'asked', 'catch': {'event': 'key-down', 'key': 'q', 'at': 'stall'}}])");
    const auto record = play(scene, takeOf({{"k", 0.1}, {"q", 0.2}, {"k", 0.3}, {"q", 0.4}}));
    QStringList causes;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && record.nameOf(line.self) == "stall")
            causes << QString::fromStdString(
                fmt::format("{} {} {}", line.tick, scene::wordOf(line.event), world::wordOf(line.cause)));
    QCOMPARE(causes, QStringList({"0 enter start", "6 exit phase", "18 enter phase"}));
    QCOMPARE(outcomesOf(record, "left"), QStringList({"6 left sprung"})); // for its own K5 exit, absent or not
    QCOMPARE(reasonsOf(record, "asked"), QStringList({"armed: absent"}));
}

void TestSnares::anAbsentPieceKeepsItsState()
{
    const auto scene = sceneFrom(
        R"('phases': ['day', 'night'], 'pieces': [{'id': 'm', 'during': 'day', 'body': {'kind': 'kinematic', 'velocity': [6, 0]}}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'next'}]}])");
    const auto record = play(scene, takeOf({{"k", 0.5}, {"k", 1.0}}, 1.5));
    QVERIFY(std::abs(record.snapshots.at(59)[0].pose.at.x - record.snapshots.at(31)[0].pose.at.x) < 1e-12);
    QVERIFY(!record.snapshots.at(40)[0].here);
    QVERIFY(std::abs(record.snapshots.at(90)[0].pose.at.x - 6) < 0.11);
}

void TestSnares::changingPhaseCatchesUp_S7()
{
    const auto record = play(withSnares(R"(
        {'id': 'turn', 'catch': {'event': 'key-down', 'key': 't'}, 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'late'}]},
        {'id': 'quiet', 'during': 'scene:late', 'catch': {'event': 'enter', 'at': 'z'}},
        {'id': 'eager', 'during': 'scene:late', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'catchUp': true}}], 'phases': ['early', 'late')"),
                             takeOf({{"i", 0.1}, {"t", 0.3}}));
    QCOMPARE(outcomesOf(record, "quiet"), QStringList({"6 quiet slipped phase"}));
    QCOMPARE(outcomesOf(record, "eager"), QStringList({"6 eager slipped phase", "18 eager sprung"}));
}

void TestSnares::phasesBringTheirLook()
{
    const auto scene = sceneFrom(
        R"('pieces': [{'id': 'lamp', 'look': {'colour': '#111111'}, 'phases': [{'id': 'on', 'look': {'colour': '#ffff00'}}, 'off']}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'phase', 'on': 'lamp', 'to': 'next'}]}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    const auto colourAt = [&](std::int64_t tick) {
        return QString::fromStdString(
            record.looks[static_cast<std::size_t>(record.snapshots.at(tick)[0].look)].colour.code);
    };
    QCOMPARE(colourAt(2), QStringLiteral("#ffff00"));
    QCOMPARE(colourAt(8), QStringLiteral("#111111"));
}

void TestSnares::phasesThatGoRoundInARingStopTheRun_K8()
{
    const auto scene = sceneFrom(R"('pieces': [{'id': 'gate', 'phases': ['a', 'b']}],
        'snares': [{'id': 'swing', 'catch': {'event': 'phase-begin', 'at': 'gate'}, 'responses': [{'do': 'phase', 'to': 'next'}]}])");
    const auto record = play(scene);
    QVERIFY2(record.stopReason.find("swing") != std::string::npos, record.stopReason.c_str());
}

// --- filters and gates ---------------------------------------------------------------------------------------------

void TestSnares::filtersAskForSpeedMannerAndTemplate_S2()
{
    const auto scene = sceneFrom(
        R"('templates': {'gull': {'body': {'kind': 'kinematic', 'velocity': [2, 0]}, 'shapes': [{'circle': 0.2}]}},
        'pieces': [{'id': 'wall', 'shapes': [{'id': 'body', 'box': [1, 1]}, {'id': 'near', 'role': 'zone', 'box': [3, 3]}]},
                   {'id': 'slow', 'template': 'gull', 'at': [-2, 0]}],
        'snares': [{'id': 'fast', 'catch': {'event': 'enter', 'at': 'wall', 'shape': 'near'}, 'filter': {'speed': {'min': 2.5}}},
                   {'id': 'right', 'catch': {'event': 'enter', 'at': 'wall', 'shape': 'near'}, 'filter': {'speed': {'min': 1.5, 'max': 2.5}, 'templates': ['gull'], 'manner': 'sense'}},
                   {'id': 'hard', 'catch': {'event': 'enter', 'at': 'wall', 'shape': 'body'}, 'filter': {'manner': 'stop'}},
                   {'id': 'soft', 'catch': {'event': 'hit', 'at': 'wall', 'shape': 'body'}, 'filter': {'speed': {'max': 1}}},
                   {'id': 'heron', 'catch': {'event': 'enter', 'at': 'wall', 'shape': 'near'}, 'filter': {'templates': ['heron']}},
                   {'id': 'key', 'catch': {'event': 'key-down', 'key': 'k'}, 'filter': {'side': ['left']}}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    QCOMPARE(reasonsOf(record, "fast"), QStringList({"filter: speed 2 m/s is below 2.5"}));
    QCOMPARE(outcomesOf(record, "right").size(), 1);
    QVERIFY(outcomesOf(record, "right").front().endsWith("sprung"));
    QVERIFY(outcomesOf(record, "hard").front().endsWith("sprung"));
    QCOMPARE(reasonsOf(record, "soft"),
             QStringList({"filter: speed 2 m/s is above 1"})); // of a hit: how fast they close in
    QCOMPARE(reasonsOf(record, "heron"), QStringList({"filter: template gull is not heron"}));
    QCOMPARE(reasonsOf(record, "key"), QStringList({"filter: there is no meeting"}));
}

void TestSnares::hasFindsTagsAndTexts_S2()
{
    const auto sprang = [](const std::string& left, const std::string& right) {
        const auto scene = sceneFrom(
            "'variables': {'list': 'rope, tar'}, 'pieces': [{'id': 'm', 'tags': ['staffed']}], 'snares': [{'id': 'k', "
            "'catch': {'event': 'key-down', 'key': 'k'}, 'filter': {'when': [{'left': '" +
            left + "', 'is': 'has', 'right': '" + right + "'}]}}]");
        return outcomesOf(play(scene, takeOf({{"k", 0.1}})), "k").front().endsWith("sprung");
    };
    QVERIFY(sprang("scene.list", "tar"));
    QVERIFY(!sprang("scene.list", "oar"));
    QVERIFY(sprang("m.tags", "staffed"));
    QVERIFY(!sprang("m.tags", "staff")); // a part of a tag is no tag
    QVERIFY(!sprang("m.none", ""));
}

void TestSnares::chanceIsSeeded_T3_S4()
{
    auto scene = sceneFrom(R"('sources': [{'id': 't', 'timer': {'every': 0.02}}], 'snares': [
        {'id': 'c', 'catch': {'event': 'elapsed', 'source': 't'}, 'gate': {'chance': 0.3}},
        {'id': 'never', 'catch': {'event': 'elapsed', 'source': 't'}, 'gate': {'chance': 0}},
        {'id': 'always', 'catch': {'event': 'elapsed', 'source': 't'}, 'gate': {'chance': 1}}])");
    const auto springs = [&](const scene::Take& take, const std::string& snare) {
        return outcomesOf(play(scene, take, 20), snare).filter("sprung");
    };
    scene::Take take;
    take.seed = 7;
    const QStringList first = springs(take, "c");
    QVERIFY2(first.size() > 200 && first.size() < 400, qPrintable(QString::number(first.size())));
    QCOMPARE(springs(take, "c"), first);
    take.seed = 8;
    QVERIFY(springs(take, "c") != first);
    QCOMPARE(springs(take, "never").size(), 0);
    QCOMPARE(springs(take, "always").size(), 1000);
}

void TestSnares::gatesForgetWhenThePlaceIsEmpty_S5()
{
    const auto record =
        play(withSnares(R"(
        {'id': 'g', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'limit': 1, 'reset': 'vacated'}})"),
             takeOf({{"i", 0.1}, {"j", 0.2}, {"o", 0.3}, {"i", 0.4}, {"p", 0.5}, {"o", 0.6}, {"j", 0.7}}));
    QCOMPARE(outcomesOf(record, "g"),
             QStringList({"6 g sprung", "12 g slipped gate", "24 g slipped gate", "42 g sprung"}));
}

void TestSnares::gatesThatNeverForgetOutliveARestart_S5()
{
    const auto record = play(withSnares(R"(
        {'id': 'r', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]},
        {'id': 'ever', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'limit': 1, 'reset': 'never'}},
        {'id': 'anew', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'limit': 1}})"),
                             takeOf({{"i", 0.1}, {"r", 0.2}, {"i", 0.3}}));
    QCOMPARE(outcomesOf(record, "ever"), QStringList({"6 ever sprung", "18 ever slipped gate"}));
    QCOMPARE(outcomesOf(record, "anew"), QStringList({"6 anew sprung", "18 anew sprung"}));
}

void TestSnares::rearmMakesAGateForget_S5()
{
    const auto record = play(withSnares(R"(
        {'id': 'g', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'limit': 1}},
        {'id': 'r', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'rearm', 'snares': ['g']}]})"),
                             takeOf({{"i", 0.1}, {"j", 0.2}, {"r", 0.3}, {"o", 0.4}, {"i", 0.5}}));
    QCOMPARE(outcomesOf(record, "g"), QStringList({"6 g sprung", "12 g slipped gate", "30 g sprung"}));
}

void TestSnares::claimsKeepsTheEventFromTheSnaresAfter_S12()
{
    const auto record = play(withSnares(R"(
        {'id': 'before', 'catch': {'event': 'enter', 'at': 'z'}},
        {'id': 'first', 'claims': true, 'catch': {'event': 'enter', 'at': 'z'}, 'filter': {'tags': {'any': ['staff']}}},
        {'id': 'second', 'catch': {'event': 'enter', 'at': 'z'}})"),
                             takeOf({{"i", 0.1}, {"j", 0.2}}));
    QCOMPARE(outcomesOf(record, "before").size(), 2);
    QCOMPARE(outcomesOf(record, "second"), QStringList({"6 second slipped armed", "12 second sprung"}));
    QCOMPARE(reasonsOf(record, "second"), QStringList({"armed: kept by first"}));
}

void TestSnares::claimsDoesNotKeepItFromItself_S12()
{
    const auto scene = sceneFrom(R"('pieces': [{'id': 'a', 'tags': ['t']}, {'id': 'b', 'tags': ['t']}], 'snares': [
        {'id': 'first', 'claims': true, 'catch': {'event': 'key-down', 'key': 'k', 'at': 'tag:t'}},
        {'id': 'second', 'catch': {'event': 'key-down', 'key': 'k'}}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    QCOMPARE(outcomesOf(record, "first"), QStringList({"6 first sprung", "6 first sprung"}));
    QCOMPARE(reasonsOf(record, "second"), QStringList({"armed: kept by first"}));
}

void TestSnares::whatIsOnlyReadCannotBeSet()
{
    const auto record = play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'set', 'on': 'scene', 'name': 'age', 'value': 9},
            {'do': 'set', 'name': 'count', 'value': 9}, {'do': 'add', 'on': 'visitor', 'name': 'turn', 'value': 90}, {'do': 'log', 'text': '{scene.age} {self.count}'}]})"),
                             takeOf({{"i", 0.1}}));
    QCOMPARE(notes(record),
             QStringList({"6 age of scene cannot be set this way", "6 count of z cannot be set this way", "6 0.1 1"}));
    QCOMPARE(record.snapshots.at(7)[1].pose.turn, 90.0);
}

// --- responses -----------------------------------------------------------------------------------------------------

void TestSnares::untilExitPutsBackWhatWasBefore_S13()
{
    const auto record = play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [
            {'do': 'set', 'on': 'scene', 'name': 'n', 'value': 5, 'until': 'exit'}, {'do': 'set', 'on': 'scene', 'name': 'new', 'value': 1, 'until': 'exit'},
            {'do': 'tag', 'on': 'visitor', 'tag': 'wet', 'until': 'exit'}, {'do': 'untag', 'on': 'visitor', 'tag': 'staff', 'until': 'exit'},
            {'do': 'look', 'to': {'colour': '#ff0000'}, 'until': 'exit'}, {'do': 'hide', 'on': 'n', 'until': 'exit'},
            {'do': 'size', 'on': 'n', 'by': 3, 'until': 'exit'}, {'do': 'say', 'text': 'mind the step', 'until': 'exit'}]},
        {'id': 'look', 'catch': {'event': 'key-down', 'key': 'q'}, 'responses': [{'do': 'log', 'text': '{scene.n} {m.tags} {n.shown}'}]})"),
                             takeOf({{"i", 0.1}, {"q", 0.2}, {"o", 0.5}, {"q", 0.6}}));
    QCOMPARE(notes(record), QStringList({"12 5 wet false", "36 0 staff true"}));
    QCOMPARE(lastValue(record, "scene", "new"), QStringLiteral("none"));
    QCOMPARE(record.snapshots.at(20)[2].scale, 3.0);
    QCOMPARE(record.snapshots.at(40)[2].scale, 1.0);
    QVERIFY(record.snapshots.at(20)[0].look != record.snapshots.at(2)[0].look);
    QCOMPARE(record.snapshots.at(40)[0].look, record.snapshots.at(2)[0].look);
    QVERIFY(captionStands(record, 25));
    QVERIFY(!captionStands(record, 31));
}

void TestSnares::untilExitOfTwoVisitorsLastsForBoth_S13()
{
    const auto record =
        play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [
            {'do': 'set', 'on': 'scene', 'name': 'n', 'value': 5, 'until': 'exit'}, {'do': 'add', 'on': 'scene', 'name': 'inside', 'value': 1, 'until': 'exit'},
            {'do': 'disable', 'on': 'scene', 'until': 'exit'}]},
        {'id': 'look', 'catch': {'event': 'key-down', 'key': 'q'}, 'responses': [{'do': 'log', 'text': '{scene.n} {scene.inside}'}]})"),
             takeOf({{"i", 0.1}, {"j", 0.2}, {"q", 0.25}, {"o", 0.3}, {"q", 0.35}, {"p", 0.4}, {"q", 0.45}}));
    QCOMPARE(notes(record), QStringList({"15 5 2", "21 5 1", "27 0 0"}));
}

void TestSnares::untilExitIsSkippedWhenTheMeetingIsOver_S13()
{
    const auto record = play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'wait', 'for': 0.5}, {'do': 'set', 'on': 'scene', 'name': 'n', 'value': 5, 'until': 'exit'}]})"),
                             takeOf({{"i", 0.1}, {"o", 0.2}}));
    QCOMPARE(notes(record), QStringList({"36 set of in is skipped: the meeting is over"}));
    QCOMPARE(lastValue(record, "scene", "n"), QStringLiteral("0"));
}

void TestSnares::promptsStandWhileTheMeetingLasts()
{
    const auto record = play(
        withSnares(
            R"({'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'prompt', 'text': 'E: moor'}]})"),
        takeOf({{"i", 0.1}, {"o", 1.5}}));
    QVERIFY(captionStands(record, 85));
    QVERIFY(!captionStands(record, 91));
}

void TestSnares::spawnedPiecesAreLikeTheirTemplate()
{
    const auto scene = sceneFrom(
        R"('templates': {'gull': {'group': 'bird', 'tags': ['loud'], 'at': [1, 1], 'body': 'kinematic', 'lifetime': 0.5,
            'phases': ['flies'], 'properties': {'fed': 0, 'name': 'gull'}, 'shapes': [{'role': 'zone', 'circle': 0.2}]}},
        'pieces': [{'id': 'nest', 'at': [3, 0]}, {'id': 'gull-2'}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k', 'at': 'nest'}, 'responses': [
                      {'do': 'spawn', 'template': 'gull', 'velocity': [0, 6], 'set': {'name': 'Gerda'}, 'as': 'last'}, {'do': 'log', 'text': 'as {self.last}'}]},
                   {'id': 'born', 'catch': {'event': 'spawned', 'at': 'template:gull'}, 'responses': [{'do': 'log', 'text': 'born {self.id} {self.name} {self.fed} {self.tags}'}]},
                   {'id': 'flies', 'catch': {'event': 'phase-begin', 'at': 'template:gull'}, 'responses': [{'do': 'log', 'text': '{self.phase}'}]},
                   {'id': 'dead', 'catch': {'event': 'removed', 'at': 'template:gull'}, 'responses': [{'do': 'log', 'text': 'dead {self.id} at {self.age}'}]}])");
    const auto record = play(scene, takeOf({{"k", 0.1}, {"k", 0.2}}));
    QCOMPARE(notes(record), QStringList({"6 as gull-1", "6 born gull-1 Gerda 0 loud", "6 flies", "12 as gull-3",
                                         "12 born gull-3 Gerda 0 loud", "12 flies", "36 dead gull-1 at 0.5",
                                         "42 dead gull-3 at 0.5"}));
    QCOMPARE(record.pieces.size(), std::size_t{4});
    const auto state = record.snapshots.at(30)[2];
    QVERIFY(std::abs(state.pose.at.x - 3) < 1e-9 && std::abs(state.pose.at.y - 2.5) < 0.11); // from where self is
    QVERIFY(!record.snapshots.at(40)[2].present);
}

void TestSnares::spawnedPiecesFlyTheWaySelfFaces()
{
    const auto scene = sceneFrom(R"('templates': {'rope': {'body': 'kinematic'}},
        'pieces': [{'id': 'm', 'at': [1, 1], 'body': {'kind': 'walker', 'steer': 'arrows', 'speed': 3}, 'shapes': [{'circle': 0.3}]}],
        'snares': [{'id': 'throw', 'catch': {'event': 'key-down', 'key': 'k', 'at': 'm'}, 'responses': [
            {'do': 'spawn', 'template': 'rope', 'at': [0.5, 0], 'frame': 'self', 'velocity': [4, 0], 'inherit': true}]}])");
    scene::Take take = takeOf({{"k", 0.5}}, 1);
    press(take, "Up", 0.1, 1.0);
    const auto record = play(scene, take);
    const auto rope = [&](std::int64_t tick) { return record.snapshots.at(tick)[1].pose; };
    const auto walker = record.snapshots.at(29)[0].pose.at; // it is thrown before anything moves
    QVERIFY(std::abs(rope(30).at.x - 1) < 1e-9);
    QVERIFY(std::abs(rope(30).at.y - (walker.y + 0.5 + 7.0 / 60)) < 1e-9); // 4 m/s and the 3 m/s of the thrower
    QCOMPARE(rope(30).turn, 90.0);
}

void TestSnares::spawnedPiecesAreGoneAfterARestart_T5()
{
    const auto scene = sceneFrom(
        R"('templates': {'gull': {'shapes': [{'role': 'zone', 'circle': 1}]}, 'heron': {'shapes': [{'role': 'zone', 'circle': 1}]}},
        'snares': [{'id': 'g', 'catch': {'event': 'key-down', 'key': 'g'}, 'responses': [{'do': 'spawn', 'template': 'gull', 'at': [0, 0]}]},
                   {'id': 'h', 'catch': {'event': 'key-down', 'key': 'h'}, 'responses': [{'do': 'spawn', 'template': 'heron', 'at': [5, 0]}]},
                   {'id': 'r', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]},
                   {'id': 'born', 'catch': {'event': 'spawned', 'at': ''}},
                   {'id': 'q', 'catch': {'event': 'key-down', 'key': 'q'}, 'responses': [{'do': 'set', 'on': 'scene', 'name': 'n', 'value': {'count': ['template:gull', 'template:heron']}}]}])");
    const auto record = play(scene, takeOf({{"g", 0.1}, {"g", 0.2}, {"r", 0.3}, {"h", 0.4}, {"g", 0.5}, {"q", 0.6}}));
    QCOMPARE(lastValue(record, "scene", "n"), QStringLiteral("2"));
    // The names begin anew; what was told of the first gull-1 is still told of it.
    QCOMPARE(lines(record,
                   [](const rules::Line& l) {
                       return l.kind == rules::LineKind::event && l.event == scene::EventKind::spawned;
                   }),
             QStringList({"6 spawned gull-1", "12 spawned gull-2", "24 spawned heron-1", "30 spawned gull-1"}));
}

void TestSnares::spawningWithoutEndStopsTheRun()
{
    const auto scene = sceneFrom(R"('templates': {'gull': {}}, 'snares': [
        {'id': 'first', 'catch': {'event': 'start'}, 'responses': [{'do': 'spawn', 'template': 'gull'}]},
        {'id': 'brood', 'catch': {'event': 'spawned', 'at': 'template:gull'}, 'responses': [{'do': 'spawn', 'template': 'gull'}]}])");
    const auto record = play(scene);
    QVERIFY2(record.stopReason.find("brood") != std::string::npos, record.stopReason.c_str());
}

void TestSnares::valuesAreWorkedOutWhenTheyAreNeeded()
{
    const auto record = play(withSnares(R"(
        {'id': 'v', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [
            {'do': 'set', 'name': 'sum', 'value': {'sum': [{'get': 'visitor.load'}, 2, {'count': 'inside:z/area'}]}},
            {'do': 'set', 'name': 'text', 'value': {'sum': ['load ', {'get': 'visitor.load'}]}},
            {'do': 'set', 'name': 'dice', 'value': {'between': [2, 3]}},
            {'do': 'set', 'name': 'one', 'value': {'oneOf': ['red', 'red']}},
            {'do': 'set', 'name': 'script', 'value': {'script': 'math.floor(self.dice) + visitor.load'}},
            {'do': 'put', 'on': 'n', 'at': [{'get': 'visitor.load'}, {'sum': [1, 2]}]}, {'do': 'move', 'on': 'n', 'by': [0, {'get': 'visitor.load'}], 'speed': 100},
            {'do': 'tag', 'on': 'visitor', 'tag': {'oneOf': ['wet']}}, {'do': 'set', 'name': 'missing', 'value': {'get': 'visitor.none'}}]})"),
                             takeOf({{"i", 0.1}}));
    QCOMPARE(lastValue(record, "z", "sum"), QStringLiteral("4"));
    QCOMPARE(lastValue(record, "z", "text"), QStringLiteral("load 1"));
    const double dice = lastValue(record, "z", "dice").toDouble();
    QVERIFY(dice >= 2 && dice < 3);
    QCOMPARE(lastValue(record, "z", "one"), QStringLiteral("red"));
    QCOMPARE(lastValue(record, "z", "script"), QStringLiteral("3"));
    QCOMPARE(lastValue(record, "z", "missing"), QStringLiteral("none"));
    QCOMPARE(record.snapshots.at(6)[2].pose.at.x, 1.0);
    QCOMPARE(notes(record), QStringList({"6 the value for missing is missing"}));
}

void TestSnares::aPropertyCanHoldAPiece()
{
    const auto record = play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'set', 'name': 'guest', 'value': {'get': 'visitor.id'}}]},
        {'id': 'later', 'catch': {'event': 'key-down', 'key': 'k', 'at': 'z'}, 'responses': [
            {'do': 'tag', 'on': 'self.guest', 'tag': 'seen'}, {'do': 'log', 'text': '{self.guest.tags}'}, {'do': 'put', 'on': 'n', 'at': 'self.guest'}]})"),
                             takeOf({{"k", 0.05}, {"i", 0.1}, {"k", 0.2}}));
    QCOMPARE(notes(record), QStringList({"3 tag of later is skipped: self.guest is not there", "3 {self.guest.tags}",
                                         "3 the place self.guest is not there", "12 staff seen"}));
    QCOMPARE(record.snapshots.at(12)[2].pose.at, record.snapshots.at(12)[1].pose.at);
}

void TestSnares::somewhereFitsInsideAndClear()
{
    const auto scene = sceneFrom(R"('bounds': [-10, -10, 10, 10], 'templates': {'cask': {'shapes': [{'circle': 0.4}]}},
        'pieces': [{'id': 'yard', 'turn': 30, 'shapes': [{'role': 'zone', 'polygon': [[-3, -3], [3, -3], [3, 0], [0, 0], [0, 3], [-3, 3]]}]},
                   {'id': 'crate', 'at': [-1.5, -1.5], 'shapes': [{'box': [1, 1]}]}],
        'snares': [{'id': 'k', 'catch': {'event': 'elapsed', 'source': 't'}, 'responses': [{'do': 'spawn', 'template': 'cask', 'at': {'somewhere': 'yard', 'clear': true}}]},
                   {'id': 'full', 'catch': {'event': 'start'}, 'responses': [{'do': 'put', 'on': 'crate', 'at': {'somewhere': 'crate'}, 'ifClear': true}, {'do': 'spawn', 'template': 'cask', 'at': {'somewhere': 'scene'}}]}],
        'sources': [{'id': 't', 'timer': {'every': 0.1}}])");
    const auto record = play(scene, {}, 1);
    for (const QString& note : notes(record))
        qInfo() << note;
    const auto states = record.snapshots.at(record.lastTick());
    QVERIFY(states.size() > 8);
    for (std::size_t i = 3; i < states.size(); ++i) {
        const geometry::Vec at = geometry::toLocal(states[0].pose, states[i].pose.at);
        QVERIFY(at.x >= -2.6 && at.x <= 2.6 && at.y >= -2.6 && at.y <= 2.6);
        QVERIFY2(at.x <= -0.4 + 1e-9 || at.y <= -0.4 + 1e-9, "the corner that is cut out is not inside");
        for (std::size_t j = 3; j < i; ++j)
            QVERIFY(glm::length(states[i].pose.at - states[j].pose.at) >= 0.8 - 1e-9);
    }
}

void TestSnares::putIfClearLooksFirst()
{
    const auto scene = sceneFrom(
        R"('pieces': [{'id': 'wall', 'shapes': [{'box': [2, 2]}]}, {'id': 'm', 'at': [5, 0], 'body': 'kinematic', 'shapes': [{'circle': 0.5}]}],
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'put', 'on': 'm', 'at': [1.2, 0], 'ifClear': true}]},
                   {'id': 'l', 'catch': {'event': 'key-down', 'key': 'l'}, 'responses': [{'do': 'put', 'on': 'm', 'at': [1.6, 0], 'ifClear': true}]}])");
    const auto record = play(scene, takeOf({{"k", 0.1}, {"l", 0.2}}));
    QCOMPARE(notes(record), QStringList({"6 m is not put there: wall is in the way"}));
    QCOMPARE(record.snapshots.at(8)[1].pose.at.x, 5.0);
    QCOMPARE(record.snapshots.at(14)[1].pose.at.x, 1.6);
}

void TestSnares::chaseFollowsUntilItsPieceIsGone_V3()
{
    const auto scene = sceneFrom(
        R"('pieces': [{'id': 'hare', 'at': [4, 0], 'body': {'kind': 'kinematic', 'velocity': [0, 1]}}, {'id': 'hound', 'body': 'kinematic'}],
        'snares': [{'id': 'k', 'catch': {'event': 'start'}, 'responses': [{'do': 'chase', 'on': 'hound', 'after': 'hare', 'speed': 3, 'near': 1}]},
                   {'id': 'r', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'remove', 'on': 'hare'}]},
                   {'id': 'a', 'catch': {'event': 'arrived', 'at': 'hound'}}])");
    const auto record = play(scene, takeOf({{"r", 3}}, 4));
    const auto apart = [&](std::int64_t tick) {
        const auto states = record.snapshots.at(tick);
        return glm::length(states[0].pose.at - states[1].pose.at);
    };
    QVERIFY(apart(30) > 2 && apart(30) < 3.5);
    QVERIFY(std::abs(apart(170) - 1) < 0.05);
    QCOMPARE(record.snapshots.at(240)[1].pose, record.snapshots.at(185)[1].pose); // it stops, without arriving
    QCOMPARE(outcomesOf(record, "a"), QStringList());
}

void TestSnares::easingTakesAsLongAsGoingEvenly_V3()
{
    for (const char* ease : {"none", "in", "out", "both"}) {
        const auto scene = sceneFrom(std::string(R"('pieces': [{'id': 'm', 'body': 'kinematic'}], 'snares': [
            {'id': 'k', 'catch': {'event': 'start'}, 'responses': [{'do': 'move', 'on': 'm', 'by': [3, 0], 'speed': 3, 'ease': ')") +
                                     ease + R"('}]},
            {'id': 'a', 'catch': {'event': 'arrived', 'at': 'm'}}])");
        const auto record = play(scene);
        QCOMPARE(record.snapshots.at(62)[0].pose.at.x, 3.0);
        QVERIFY2(abs(outcomesOf(record, "a").front().section(QLatin1Char(' '), 0, 0).toInt() - 60) <= 2, ease);
        const double early = record.snapshots.at(15)[0].pose.at.x;
        QVERIFY(std::string(ease) == "none"  ? std::abs(early - 0.75) < 1e-9
                : std::string(ease) == "out" ? early > 1
                                             : early < 0.5);
    }
}

void TestSnares::routinesRunWithTheirOwnValues()
{
    const auto record = play(withSnares(R"(
        {'id': 'in', 'catch': {'event': 'enter', 'at': 'z'}, 'responses': [{'do': 'run', 'routine': 'greet', 'with': {'word': 'Ahoy', 'n': {'get': 'visitor.load'}}}]}],
        'routines': {'greet': [{'do': 'log', 'text': '{with.word} {visitor.id} {with.n}'}, {'do': 'add', 'on': 'scene', 'name': 'n', 'value': {'get': 'with.n'}},
                               {'do': 'script', 'lua': 'with.n = with.n + 1'}, {'do': 'log', 'text': '{with.n}'}]}, 'groups': [)"),
                             takeOf({{"i", 0.1}}));
    QCOMPARE(notes(record), QStringList({"6 Ahoy m 1", "6 2"}));
    QCOMPARE(number(record, "n"), 1.0);
}

void TestSnares::aRunWaitsForItsRoutine_S8()
{
    const auto record = play(
        sceneFrom(
            R"('routines': {'slow': [{'do': 'wait', 'for': 0.2}, {'do': 'log', 'text': 'slow'}], 'quick': [{'do': 'log', 'text': 'quick'}]},
        'snares': [{'id': 'k', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [{'do': 'run', 'routine': 'slow', 'wait': true}, {'do': 'log', 'text': 'after'}]},
                   {'id': 'b', 'catch': {'event': 'key-down', 'key': 'b'}, 'responses': [{'do': 'run', 'routine': 'slow'}, {'do': 'run', 'routine': 'quick', 'wait': true}, {'do': 'log', 'text': 'beside'}]},
                   {'id': 's', 'catch': {'event': 'key-down', 'key': 's'}, 'responses': [{'do': 'signal', 'name': 'go', 'wait': true}, {'do': 'log', 'text': 'all'}]},
                   {'id': 'h', 'catch': {'event': 'heard', 'signal': 'go'}, 'responses': [{'do': 'run', 'routine': 'slow'}]}])"),
        takeOf({{"k", 0.1}, {"b", 0.5}, {"k", 1.0}, {"k", 1.1}, {"s", 1.5}}, 2.5));
    // Springing again while it runs begins the routine anew with its run; a signal waits for
    // routines too.
    QCOMPARE(notes(record), QStringList({"18 slow", "18 after", "30 quick", "30 beside", "42 slow", "78 slow",
                                         "78 after", "102 slow", "102 all"}));
}

void TestSnares::routinesThatRunEachOtherStopTheRun()
{
    const auto record = play(sceneFrom(
        R"('routines': {'a': [{'do': 'run', 'routine': 'b'}, {'do': 'run', 'routine': 'b'}], 'b': [{'do': 'run', 'routine': 'a'}]},
        'snares': [{'id': 'ring', 'catch': {'event': 'start'}, 'responses': [{'do': 'run', 'routine': 'a'}]}])"));
    QVERIFY2(record.stopReason.find("ring") != std::string::npos, record.stopReason.c_str());
}

void TestSnares::aMissingRoutineIsNoted_S9()
{
    const auto record = play(sceneFrom(
        R"('snares': [{'id': 'k', 'catch': {'event': 'start'}, 'responses': [{'do': 'run', 'routine': 'none', 'wait': true}, {'do': 'log', 'text': 'on'}]}])"));
    QCOMPARE(notes(record), QStringList({"0 there is no routine none", "0 on"}));
}

void TestSnares::kitsBringRoutinesTemplatesAndSnares()
{
    const io::KitFinder kits = [](const std::string& name) {
        std::string text =
            R"({'format': 'fresh-snare-kit', 'version': 1, 'routines': {'greet': [{'do': 'log', 'text': 'from the kit'}]},
            'templates': {'gull': {'body': 'kinematic', 'properties': {'fed': 3}, 'shapes': [{'role': 'zone', 'circle': 0.3}]}},
            'snares': [{'id': 'fed', 'catch': {'event': 'enter', 'at': 'template:gull'}, 'responses': [{'do': 'log', 'text': '{self.id} {self.fed}'}]},
                       {'id': 'own', 'catch': {'event': 'start'}, 'responses': [{'do': 'log', 'text': 'kit'}]}]})";
        std::ranges::replace(text, '\'', '"');
        if (name != "harbour.kit.json")
            return scene::LoadedKit{name, "cannot be opened", {}};
        return scene::LoadedKit{name, {}, io::readKit(text, name).value_or(scene::Kit{}), 0};
    };
    const auto scene = sceneFrom(R"('kits': ['harbour.kit.json', 'missing.kit.json'],
        'pieces': [{'id': 'greta', 'template': 'gull'}, {'id': 'm', 'at': [0.1, 0], 'shapes': [{'role': 'zone', 'circle': 0.3}]}],
        'snares': [{'id': 'own', 'catch': {'event': 'start'}, 'responses': [{'do': 'run', 'routine': 'greet'}]}])",
                                 kits);
    const auto record = play(scene);
    // A snare of the scene stands in for that of the kit of the same name.
    QCOMPARE(notes(record), QStringList({"0 from the kit", "0 greta 3"}));
    // What the kit gives is not written into the scene.
    const std::string text = io::sceneText(scene);
    QVERIFY(text.find("fed") == std::string::npos && text.find("\"template\": \"gull\"") != std::string::npos);
    QCOMPARE(io::readScene(text, "again", kits).value_or(scene::Scene{}), scene);
}

void TestSnares::diceFollowTheirTestVector_T3()
{
    static_assert(rules::counterNumber(0, 0) == 0xa706dd2f4d197e6fULL);
    static_assert(rules::counterNumber(0, 1) == 0xb382a305f4414f5eULL);
    static_assert(rules::counterNumber(7, 5) == 0x2eaa3ed3cd8991c6ULL);
    rules::CounterGenerator dice{7};
    for (int i = 0; i < 1000; ++i) {
        const double x = dice.between(-1, 1);
        QVERIFY(x >= -1 && x < 1);
        QVERIFY(dice.choose(3) < 3);
    }
}

QTEST_APPLESS_MAIN(TestSnares)
#include "test_snares.moc"
