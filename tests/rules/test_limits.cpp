// SPDX-License-Identifier: Apache-2.0
/// Every tick ends, whatever a scene or script holds; what a run writes of itself; rules that
/// nothing else names.
#include "builder.h"
#include "sim/recorder.h"

#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <clocale>
#include <sys/stat.h>
#include <thread>

using namespace snare;
using namespace snare::tests;

namespace {

/// The log as JSON Lines, of which those with all of the words.
QStringList logLines(const sim::Record& record, const QStringList& words)
{
    QStringList result;
    for (const QString& line : QString::fromStdString(io::logText(record)).split('\n', Qt::SkipEmptyParts))
        if (std::ranges::all_of(words, [&](const QString& word) { return line.contains(word); }))
            result << line;
    return result;
}

const char* const visitorAndZone =
    R"('pieces': [{'id': 'z', 'shapes': [{'id': 'a', 'role': 'zone', 'box': [2, 2]}]},
                  {'id': 'm', 'at': [0, 0], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]}])";

} // namespace

class TestLimits : public QObject {
    Q_OBJECT

  private slots:
    // a tick ends
    void aTimerElapsesOnceATickHoweverOften_T6();
    void aStayIsHeardOnceATickHoweverOften_T6();
    void tooManySpawnedAtOnceStopTheRun_K8();
    void whatIsSpawnedAndGoneDoesNotCount_K8();
    void signalsAndPhasesStopTheRunAtTenThousand_K8();
    void changesThatGoRoundInARingStopTheRun();
    void manyChangesAreNoStorm();
    void aCrowdThatCannotBeToldStopsTheRun();
    void aRunIsLeftWithinATick();
    void aTakeHasAnEnd();
    // numbers
    void whatIsNoNumberMovesNothing();
    void scriptsCountWithTheWholeRangeOfIntegers();
    void scriptsGoThroughTablesInTheSameOrder_T3();
    void goingThroughATableCostsTheSameInEachRun_T3();
    void scriptsDoNotKnowTheLanguageOfTheDesktop_T3();
    void scriptsDoNotSeeWhereMemoryLies_T3();
    void numbersThatJsonDoesNotKnowAreNull();
    void aShapeWithoutPartsIsNoHarm();
    // said clearly
    void noValueMayHideABuiltInOne();
    void aDwellThatIsIgnoredIsNoted();
    void notesSayWhichStepTheyBelongTo();
    void responsesTellTheirFieldsWorkedOut();
    void aSignalIsHeardWithItsValues();
    // files
    void aKitThatIsADeviceIsRefused();
    void aDeviceIsReadNoFurtherThanAFileMayBe();
    void aPipeIsWrittenIntoAndADeviceStaysOne();
    // rules that nothing else names
    void theTickGoesFromInputsOverMotionToMeetings_K1();
    void whatARestartLetsEnterStaysFromTheNextTickOn_M5();
    void enterExitAndHitHaveTheirMoment_M7();
    void theTopmostIsMetAndTheRestBelowIt_P2();
    void aClickCarriesItsModifiersAsTheyWereThen_P3();
    void aDragFollowsAndDrops_P4();
    void aBoxSweepsWhatItOverlaps_P5();
    void whatIsPinnedCoversTheWorldAndMeetsOnlyThePointer_P6();
    void theSideIsWhereTheVisitorCameFrom_S3();
    void inputsAfterARestartAreDealtWith_T5();
    void aRestartWithinTheStartKeepsTheInputs_T5();
    void gatesThatNeverForgetForgetWhatWasSpawned_T5();
};

void TestLimits::aTimerElapsesOnceATickHoweverOften_T6()
{
    const auto scene = sceneFrom(
        R"('rate': 10, 'sources': [{'id': 'fast', 'timer': {'every': 1e-12}}, {'id': 'least', 'timer': {'every': 5e-324}}],
        'snares': [{'id': 'a', 'catch': {'event': 'elapsed', 'source': 'fast'}},
                   {'id': 'b', 'catch': {'event': 'elapsed', 'source': 'least'}}])");
    const sim::Record record = play(scene, {}, 1.0);
    QCOMPARE(outcomesOf(record, "a").size(), 10);
    QCOMPARE(outcomesOf(record, "b").size(), 10);
}

void TestLimits::aStayIsHeardOnceATickHoweverOften_T6()
{
    const auto scene = sceneFrom(std::string("'rate': 10, ") + visitorAndZone +
                                 R"(, 'snares': [{'id': 'a', 'catch': {'event': 'stay', 'at': 'z', 'every': 1e-12}}])");
    QCOMPARE(outcomesOf(play(scene, {}, 1.0), "a").size(), 10);
}

void TestLimits::tooManySpawnedAtOnceStopTheRun_K8()
{
    const auto scene = sceneFrom(R"('rate': 10, 'groups': ['g'], 'contacts': [['g', 'g', 'pass']],
        'templates': {'gull': {'group': 'g', 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]}},
        'pieces': [{'id': 'z', 'shapes': [{'role': 'zone', 'box': [9, 9]}]}],
        'snares': [{'id': 'first', 'catch': {'event': 'start'}, 'responses': [{'do': 'spawn', 'template': 'gull', 'at': [0, 0]}]},
                   {'id': 'breeds', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'dwell': 0.1},
                    'responses': [{'do': 'spawn', 'template': 'gull', 'at': [0, 0]}, {'do': 'spawn', 'template': 'gull', 'at': [0, 0]}]}])");
    const sim::Record record = play(scene, {}, 20.0);
    QVERIFY(record.stopReason.find("10000 spawned pieces at once") != std::string::npos);
    QVERIFY(record.stopReason.find("breeds") != std::string::npos);
    QVERIFY(record.stopReason.find("first") == std::string::npos);
}

void TestLimits::whatIsSpawnedAndGoneDoesNotCount_K8()
{
    const auto scene =
        sceneFrom(R"('rate': 10, 'variables': {'n': 0}, 'templates': {'gull': {'body': 'kinematic', 'lifetime': 0.2}},
        'pieces': [)" +
                  [] {
                      std::string posts;
                      for (int i = 0; i < 3000; ++i)
                          posts += fmt::format("{}{{'id': 'p{}', 'tags': ['t']}}", i ? "," : "", i);
                      return posts;
                  }() +
                  R"(], 'sources': [{'id': 'clock', 'timer': {'every': 0.1}}],
        'snares': [{'id': 'a', 'catch': {'event': 'elapsed', 'source': 'clock', 'at': 'tag:t'}, 'responses': [{'do': 'spawn', 'template': 'gull'}]}])");
    QCOMPARE(play(scene, {}, 1.0).stopReason, std::string());
}

void TestLimits::signalsAndPhasesStopTheRunAtTenThousand_K8()
{
    const auto stopOf = [](int many) {
        std::string pieces;
        for (int i = 0; i < many; ++i)
            pieces += fmt::format("{}{{'id': 'p{}', 'tags': ['t']}}", i ? "," : "", i);
        const auto scene =
            sceneFrom("'pieces': [" + pieces +
                      R"(], 'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a', 'at': 'tag:t'},
                'responses': [{'do': 'signal', 'name': 'go'}]}])");
        return play(scene, takeOf({{"a", 0.1}}), 0.2).stopReason;
    };
    QCOMPARE(stopOf(10'000), std::string());
    QVERIFY(stopOf(10'001).find("the snares a set each other off") != std::string::npos);
}

void TestLimits::changesThatGoRoundInARingStopTheRun()
{
    const auto scene = sceneFrom(R"('variables': {'n': 0},
        'snares': [{'id': 'ring', 'catch': {'event': 'changed', 'at': 'scene', 'value': 'n'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]},
                   {'id': 'begin', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.2);
    QVERIFY(record.stopReason.find("ring") != std::string::npos);
}

void TestLimits::manyChangesAreNoStorm()
{
    const auto scene = sceneFrom(R"('variables': {'n': 0},
        'snares': [{'id': 'sets', 'catch': {'event': 'key-down', 'key': 'a'},
                    'responses': [{'do': 'script', 'lua': 'for i = 1, 50000 do scene[ [[v]] .. i ] = i end'},
                                  {'do': 'script', 'lua': 'for i = 50001, 100000 do scene[ [[v]] .. i ] = i end'}]},
                   {'id': 'hears', 'catch': {'event': 'changed', 'at': 'scene', 'value': 'v99999'}}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.2);
    QCOMPARE(record.stopReason, std::string());
    QCOMPARE(lastValue(record, "scene", "v100000"), QStringLiteral("100000"));
    QCOMPARE(outcomesOf(record, "hears").size(), 1);
}

void TestLimits::aCrowdThatCannotBeToldStopsTheRun()
{
    scene::Scene scene;
    for (int i = 0; i < 1500; ++i)
        scene.pieces.push_back(mover(fmt::format("m{}", i), {0, 0}, {0, 0}));
    const sim::Record record = play(scene, {}, 0.1);
    QVERIFY(record.stopReason.find("meetings begin or end in one tick") != std::string::npos);
}

void TestLimits::aRunIsLeftWithinATick()
{
    std::string pieces;
    for (int i = 0; i < 9000; ++i)
        pieces += fmt::format("{}{{'id': 'p{}', 'tags': ['t']}}", i ? "," : "", i);
    // A million scripts in one tick: minutes, if nothing ends it.
    const auto scene = sceneFrom("'pieces': [" + pieces +
                                 R"(], 'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a', 'at': 'tag:t'},
        'responses': [{'do': 'signal', 'name': 'go', 'to': 'tag:t'}]},
        {'id': 'b', 'catch': {'event': 'heard', 'signal': 'go', 'at': 'tag:t'}, 'responses': [{'do': 'script', 'lua': 'for i = 1, 90000 do end'}]}])");
    std::atomic<bool> cancelled = false;
    std::atomic<bool> begun = false;
    sim::Record record;
    std::thread runs([&] {
        begun = true;
        record = sim::rerun(std::make_shared<const scene::Scene>(scene), takeOf({{"a", 0.02}}),
                            {.seconds = 1, .cancelled = &cancelled});
    });
    while (!begun)
        std::this_thread::yield();
    cancelled = true;
    runs.join(); // the test does not end if it is not heeded
    QVERIFY(record.lastTick() <= 60);
}

void TestLimits::aTakeHasAnEnd()
{
    const auto take =
        io::readTake(R"({"format": "fresh-snare-take", "version": 1, "length": 1e300, "inputs": []})", "t");
    QVERIFY(!take.has_value());
    QVERIFY(take.error().front().message().find("/length") != std::string::npos);
}

void TestLimits::whatIsNoNumberMovesNothing()
{
    const auto scene = sceneFrom(std::string(visitorAndZone) +
                                 R"(, 'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a', 'at': 'm'},
        'responses': [{'do': 'script', 'lua': 'self.layer = 0/0 self.layer = 1e300 self.x = 0/0 self.vx = 1/0 self.turn = -1/0 self.own = 0/0'}]}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.5);
    const auto states = record.snapshots.at(record.lastTick());
    QCOMPARE(states[1].pose.at.x, 0.0);
    QCOMPARE(states[1].pose.turn, 0.0);
    QCOMPARE(states[1].layer, 1000000);
}

void TestLimits::scriptsCountWithTheWholeRangeOfIntegers()
{
    const auto scene = sceneFrom(R"('variables': {'low': 1, 'n': 0}, 'snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'local r = math.random(math.mininteger, math.maxinteger) scene.low = math.random(5, 5) scene.n = string.rep([[x]], 3):len()'}]}])");
    const sim::Record record = play(scene, {}, 0.1);
    QCOMPARE(notes(record), QStringList());
    QCOMPARE(number(record, "low"), 5.0);
}

void TestLimits::scriptsGoThroughTablesInTheSameOrder_T3()
{
    const auto scene =
        sceneFrom(R"('variables': {'all': '', 'first': ''}, 'snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'local t = {pear = 1, fig = 2, 30, 40, apple = 3, [true] = 4, [0.5] = 5} local s = [[]] for k, v in pairs(t) do s = s .. tostring(k) .. [[ ]] end scene.all = s scene.first = tostring(next({z = 1, b = 1}))'}]}])");
    const sim::Record record = play(scene, {}, 0.1);
    QCOMPARE(lastValue(record, "scene", "all"), QStringLiteral("0.5 1 2 apple fig pear true "));
    QCOMPARE(lastValue(record, "scene", "first"), QStringLiteral("b"));
}

/// What it costs to put keys in order does not depend on where they lay either (S14).
void TestLimits::goingThroughATableCostsTheSameInEachRun_T3()
{
    const auto scene = sceneFrom(R"('snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'local t = {} for i = 1, 40 do t[ [[k]] .. i ] = i end while true do for k in pairs(t) do end note(1) end'}]}])");
    const auto told = [&] { return notes(play(scene, {}, 0.1)).size(); };
    const auto first = told();
    QVERIFY(first > 10);
    for (int i = 0; i < 20; ++i)
        QCOMPARE(told(), first);
}

void TestLimits::scriptsDoNotKnowTheLanguageOfTheDesktop_T3()
{
    const std::string before = std::setlocale(LC_ALL, nullptr);
    const bool isThere = std::setlocale(LC_ALL, "de_DE.UTF-8") || std::setlocale(LC_ALL, "fr_FR.UTF-8");
    const auto scene =
        sceneFrom(R"('variables': {'s': '', 'b': true}, 'snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'scene.s = tostring(1.5) .. string.format([[ %.2f]], 2.25) scene.b = [[a]] < [[B]]'}]}])");
    const sim::Record record = play(scene, {}, 0.1);
    std::setlocale(LC_ALL, before.c_str());
    QCOMPARE(lastValue(record, "scene", "s"), QStringLiteral("1.5 2.25"));
    QCOMPARE(lastValue(record, "scene", "b"), QStringLiteral("false"));
    if (!isThere)
        QSKIP("no other locale is installed: tried with this one only");
}

void TestLimits::scriptsDoNotSeeWhereMemoryLies_T3()
{
    const auto scene = sceneFrom(R"('variables': {'s': ''}, 'snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'note({}) scene.s = tostring({}) .. string.format([[ %s %5.1f %s]], pairs, 2, [[x]])'},
                      {'do': 'script', 'lua': 'scene.s = string.format([[%p]], {})'}]}])");
    const sim::Record record = play(scene, {}, 0.1);
    QCOMPARE(lastValue(record, "scene", "s"), QStringLiteral("table function   2.0 x"));
    QCOMPARE(notes(record).size(), 2);
    QCOMPARE(notes(record).front(), QStringLiteral("0 table"));
    QVERIFY(notes(record).back().contains("%p"));
}

void TestLimits::numbersThatJsonDoesNotKnowAreNull()
{
    const auto scene =
        std::make_shared<const scene::Scene>(sceneFrom(R"('snares': [{'id': 'a', 'catch': {'event': 'start'},
        'responses': [{'do': 'script', 'lua': 'scene.n = 0/0 scene.m = 1/0'}]}])"));
    sim::Recorder recorder{scene};
    const QString text = QString::fromStdString(io::finalText(recorder.run()));
    QVERIFY2(text.contains("\"n\":null") && text.contains("\"m\":null"), qPrintable(text));
}

void TestLimits::aShapeWithoutPartsIsNoHarm()
{
    std::string pieces;
    for (int i = 0; i < 40; ++i) // enough that memory is fetched ahead
        pieces += fmt::format("{{'id': 'm{}', 'at': [{}, 0], 'body': {{'kind': 'kinematic', 'velocity': [3, 0]}}, "
                              "'shapes': [{{'role': 'zone', 'circle': 0.4}}]}},",
                              i, i * 0.3);
    const auto scene = sceneFrom("'pieces': [" + pieces + R"({'id': 'lost', 'at': [3, 0], 'body': 'kinematic',
        'shapes': [{'role': 'zone', 'traced': {'image': 'nowhere.png', 'colour': '#ffffff', 'size': [2, 2]}}]}])");
    const sim::Record record = play(scene, {}, 0.5);
    QVERIFY(eventsAt(record, "lost").empty());
    QVERIFY(!eventsAt(record, "m39").empty());
}

void TestLimits::noValueMayHideABuiltInOne()
{
    const auto messageOf = [](std::string members) {
        std::ranges::replace(members, '\'', '"');
        const auto scene = io::readScene(R"({"format": "fresh-snare-scene", "version": 1, )" + members + "}", "test");
        return scene ? std::string() : scene.error().front().message();
    };
    const std::string variable = messageOf("'variables': {'left': 1}");
    QVERIFY2(variable.find("/variables/left") != std::string::npos && variable.find("built-in") != std::string::npos,
             variable.c_str());
    QVERIFY(messageOf("'pieces': [{'id': 'p', 'properties': {'turn': 1}}]").find("/pieces/0/properties/turn") !=
            std::string::npos);
    QVERIFY(messageOf("'templates': {'t': {'properties': {'count': 1}}}").find("/templates/t/properties/count") !=
            std::string::npos);
    QCOMPARE(messageOf("'variables': {'count': 1}, 'pieces': [{'id': 'p', 'properties': {'left': 1}}]"), std::string());
}

void TestLimits::aDwellThatIsIgnoredIsNoted()
{
    const auto scene = sceneFrom(std::string(visitorAndZone) + R"(, 'snares': [
        {'id': 'waits', 'catch': {'event': ['enter', 'exit'], 'at': 'z'}, 'gate': {'dwell': 1}},
        {'id': 'cannot', 'catch': {'event': 'key-down'}, 'gate': {'dwell': 1}}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.3);
    QCOMPARE(
        logLines(record, {"\"note\""}),
        QStringList{
            R"({"tick":0,"t":0,"kind":"note","snare":"cannot","text":"the dwell of cannot is ignored: only enter and stay can be waited for"})"});
    QCOMPARE(outcomesOf(record, "cannot"), QStringList{"6 cannot sprung"});
}

void TestLimits::notesSayWhichStepTheyBelongTo()
{
    const auto scene = sceneFrom(
        std::string(visitorAndZone) +
        R"(, 'phases': ['p'], 'routines': {'r': [{'do': 'wait', 'for': 0.1}, {'do': 'remove', 'on': 'nobody'}]},
        'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'shake', 'strength': 1, 'for': 0.1},
            {'do': 'move', 'on': 'z', 'to': [1, 1], 'speed': 1}, {'do': 'run', 'routine': 'makefast'}, {'do': 'run', 'routine': 'r'}, {'do': 'phase', 'on': 'scene', 'to': 'q'}]}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.5);
    const QStringList told = logLines(record, {"\"note\""});
    QCOMPARE(told.size(), 4);
    QVERIFY(told[0].contains(R"("snare":"a","step":2,"text":"z is static)"));
    QVERIFY(told[1].contains(R"("snare":"a","step":3,"text":"there is no routine makefast")"));
    QVERIFY(told[2].contains(R"("snare":"a","step":5,"text":"scene has no phase q")"));
    QVERIFY(
        told[3].contains(R"("snare":"a","routine":"r","step":2,"text":"remove of a is skipped: nobody is not there")"));
}

void TestLimits::responsesTellTheirFieldsWorkedOut()
{
    const auto scene = sceneFrom(
        std::string(visitorAndZone) +
        R"(, 'variables': {'v': 2}, 'snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [
        {'do': 'move', 'on': 'm', 'by': [{'get': 'scene.v'}, -1], 'speed': {'sum': [1, 1]}},
        {'do': 'say', 'on': 'm', 'text': 'at {m.x}', 'for': 0.5},
        {'do': 'add', 'on': 'scene', 'name': 'v', 'value': 3},
        {'do': 'set', 'on': 'm', 'name': 'who', 'value': 'Anka'},
        {'do': 'signal', 'name': 'go', 'with': {'n': {'get': 'scene.v'}, 'who': 'x'}},
        {'do': 'disarm', 'snares': ['a']}, {'do': 'hide', 'on': 'z/a'}]}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}}), 0.2);
    const QStringList told = logLines(record, {"\"response\""});
    const QStringList wanted{R"("step":1,"do":"move","on":"m","with":{"to":[2,-1],"speed":2,"arrive":0.001}})",
                             R"("step":2,"do":"say","on":"m","with":{"text":"at 0","for":0.5}})",
                             R"("step":3,"do":"add","on":"scene","with":{"name":"v","value":3}})",
                             R"("step":4,"do":"set","on":"m","with":{"name":"who","value":"Anka"}})",
                             R"("step":5,"do":"signal","with":{"name":"go","with":{"n":5,"who":"x"}}})",
                             R"("step":6,"do":"disarm","with":{"snares":["a"]}})",
                             R"("step":7,"do":"hide","on":"z","with":{"shape":"a"}})"};
    QCOMPARE(told.size(), wanted.size());
    for (qsizetype i = 0; i < told.size(); ++i)
        QVERIFY2(told[i].endsWith(wanted[i]), qPrintable(told[i]));
}

void TestLimits::aSignalIsHeardWithItsValues()
{
    const auto scene = sceneFrom(
        R"('snares': [{'id': 'a', 'catch': {'event': 'start'}, 'responses': [{'do': 'signal', 'name': 'go', 'with': {'n': 4}}]}])");
    QCOMPARE(
        logLines(play(scene, {}, 0.1), {"heard"}),
        QStringList{R"({"tick":0,"t":0,"kind":"event","event":"heard","at":"scene","signal":"go","with":{"n":4}})"});
}

void TestLimits::aKitThatIsADeviceIsRefused()
{
    const auto kit = io::kitsIn("/dev")("zero");
    QVERIFY2(kit.problem.find("is no file") != std::string::npos, kit.problem.c_str());
}

void TestLimits::aDeviceIsReadNoFurtherThanAFileMayBe()
{
    const auto text = io::loadText("/dev/zero");
    QVERIFY(!text.has_value());
    QVERIFY(text.error().message().find("larger than") != std::string::npos);
}

void TestLimits::aPipeIsWrittenIntoAndADeviceStaysOne()
{
    QVERIFY(io::saveText("/dev/null", "x").has_value());
    QVERIFY(std::filesystem::is_character_file("/dev/null"));
    QVERIFY(!io::saveText("/dev/full", "x").has_value());
    QVERIFY(std::filesystem::is_character_file("/dev/full"));
    QTemporaryDir folder;
    const std::string pipe = folder.filePath("pipe").toStdString();
    QCOMPARE(::mkfifo(pipe.c_str(), 0600), 0);
    std::string read;
    std::thread reader([&] { read = io::loadText(pipe).value_or(std::string()); });
    const bool written = io::saveText(pipe, "through").has_value();
    reader.join();
    QVERIFY(written && std::filesystem::is_fifo(pipe));
    QCOMPARE(read, std::string("through"));
}

void TestLimits::theTickGoesFromInputsOverMotionToMeetings_K1()
{
    // The key stops the mover before it moves: it does not come in. What it meets is told last.
    const auto scene = sceneFrom(R"('rate': 10, 'pieces': [{'id': 'z', 'shapes': [{'role': 'zone', 'box': [2, 2]}]},
        {'id': 'm', 'at': [-2, 0], 'body': {'kind': 'kinematic', 'velocity': [8, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.3}]}],
        'snares': [{'id': 'stop', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'stop', 'on': 'm'}]}])");
    QCOMPARE(eventsAt(play(scene, {}, 0.2), "z"), QStringList{"1 enter z m"});
    QCOMPARE(eventsAt(play(scene, takeFrom("{'t': 0.1, 'key': 'a', 'down': true}"), 0.2), "z"), QStringList());
    const QStringList order = lines(play(scene, takeFrom("{'t': 0.1, 'key': 'b', 'down': true}"), 0.1),
                                    [](const rules::Line& line) { return line.tick == 1; });
    QCOMPARE(order, (QStringList{"1 key-down scene", "1 enter z m", "1 enter m z"}));
}

void TestLimits::whatARestartLetsEnterStaysFromTheNextTickOn_M5()
{
    const auto scene = sceneFrom(std::string("'rate': 10, ") + visitorAndZone + R"(, 'snares': [
        {'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]},
        {'id': 'stays', 'catch': {'event': 'stay', 'at': 'z'}}])");
    const auto take = takeFrom("{'t': 0.3, 'key': 'r', 'down': true}");
    QCOMPARE(outcomesOf(play(scene, take, 0.5), "stays"),
             (QStringList{"1 stays sprung", "2 stays sprung", "4 stays sprung", "5 stays sprung"}));
}

void TestLimits::enterExitAndHitHaveTheirMoment_M7()
{
    const auto scene = sceneFrom(R"('rate': 10, 'pieces': [
        {'id': 'z', 'shapes': [{'role': 'zone', 'box': [1, 2]}]}, {'id': 'wall', 'at': [4, 0], 'shapes': [{'box': [1, 2]}]},
        {'id': 'm', 'at': [-2, 0], 'body': {'kind': 'kinematic', 'velocity': [40, 0]}, 'shapes': [{'box': [1, 1]}]}])");
    const sim::Record record = play(scene, {}, 0.3, true);
    const auto fracOf = [&](rules::EventKind kind, const std::string& self) {
        for (const rules::Line& line : record.journal.lines)
            if (line.kind == rules::LineKind::event && line.event == kind && record.nameOf(line.self) == self)
                return std::round(line.frac * 1e6) / 1e6;
        return -1.0;
    };
    QCOMPARE(fracOf(rules::EventKind::enter, "z"), 0.25); // the edges touch after 1 m of the 4 m of a tick
    QCOMPARE(fracOf(rules::EventKind::exit, "z"), 0.75);
    QCOMPARE(fracOf(rules::EventKind::hit, "wall"), fracOf(rules::EventKind::enter, "wall"));
    QVERIFY(fracOf(rules::EventKind::hit, "wall") > 0);
    QCOMPARE(fracOf(rules::EventKind::stay, "wall"), -1.0);
}

namespace {

/// Two pads, one over the other, and a take for the pointer.
scene::Scene pads(const std::string& snares)
{
    return sceneFrom(R"('rate': 10, 'pieces': [{'id': 'low', 'shapes': [{'id': 's', 'box': [4, 4]}]},
        {'id': 'high', 'at': [1, 0], 'layer': 1, 'draggable': true, 'body': 'kinematic', 'shapes': [{'box': [2, 2]}]},
        {'id': 'far', 'at': [9, 0], 'shapes': [{'box': [2, 2]}]}], 'snares': [)" +
                     snares + "]");
}

} // namespace

void TestLimits::theTopmostIsMetAndTheRestBelowIt_P2()
{
    const auto scene = pads(
        R"({'id': 'at-high', 'catch': {'event': ['enter', 'exit'], 'at': 'high'}, 'filter': {'groups': ['pointer']}},
        {'id': 'at-low', 'catch': {'event': ['enter', 'exit'], 'at': 'low'}, 'filter': {'groups': ['pointer']}},
        {'id': 'through', 'catch': {'event': 'enter', 'at': 'low', 'reach': 'all'}, 'filter': {'groups': ['pointer']}})");
    const sim::Record record =
        play(scene, takeFrom("{'t': 0.1, 'pointer': [1, 0]}, {'t': 0.2, 'pointer': [-1.5, 0]}"), 0.3);
    const auto sprung = [&](const char* snare) { return outcomesOf(record, snare).filter("sprung"); };
    QCOMPARE(sprung("at-high"), (QStringList{"1 at-high sprung", "2 at-high sprung"}));
    QCOMPARE(sprung("at-low"), QStringList{"2 at-low sprung"});
    QCOMPARE(sprung("through"), QStringList{"1 through sprung"});
}

void TestLimits::aClickCarriesItsModifiersAsTheyWereThen_P3()
{
    const auto scene = pads(R"({'id': 'plain', 'catch': {'event': 'click', 'at': 'low'}},
        {'id': 'shifted', 'catch': {'event': 'click', 'at': 'low', 'modifiers': ['shift']}},
        {'id': 'twice', 'catch': {'event': 'double', 'at': 'low'}})");
    // All in one tick: Shift goes down only after the first click.
    const auto take = takeFrom(
        R"({'t': 0.1, 'pointer': [-1.5, 0]}, {'t': 0.1, 'button': 'left', 'down': true}, {'t': 0.1, 'button': 'left', 'down': false},
        {'t': 0.1, 'key': 'Shift_L', 'down': true},
        {'t': 0.2, 'button': 'left', 'down': true}, {'t': 0.2, 'button': 'left', 'down': false})");
    const sim::Record record = play(scene, take, 0.3);
    QCOMPARE(outcomesOf(record, "plain"), (QStringList{"1 plain sprung", "2 plain sprung"}));
    QCOMPARE(outcomesOf(record, "shifted"), QStringList{"2 shifted sprung"});
    QCOMPARE(outcomesOf(record, "twice"), QStringList{"2 twice sprung"});
}

void TestLimits::aDragFollowsAndDrops_P4()
{
    const auto scene = pads(R"({'id': 'drops', 'catch': {'event': 'drop', 'at': 'far'}})");
    const auto take = takeFrom(
        R"({'t': 0.1, 'pointer': [1, 0]}, {'t': 0.1, 'button': 'left', 'down': true}, {'t': 0.2, 'pointer': [5, 0]},
        {'t': 0.3, 'pointer': [9, 0]}, {'t': 0.4, 'button': 'left', 'down': false})");
    const sim::Record record = play(scene, take, 0.5);
    const QStringList atHigh = lines(record, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && record.nameOf(line.self) == "high" &&
               (line.event == rules::EventKind::dragBegin || line.event == rules::EventKind::dragEnd);
    });
    QCOMPARE(atHigh, (QStringList{"2 drag-begin high pointer", "4 drag-end high pointer"}));
    QCOMPARE(record.snapshots.at(4)[1].pose.at.x, 9.0);
    QCOMPARE(outcomesOf(record, "drops"), QStringList{"4 drops sprung"});
}

void TestLimits::aBoxSweepsWhatItOverlaps_P5()
{
    const auto scene = pads(
        R"({'id': 'tags', 'catch': {'event': 'sweep-end', 'at': 'scene'}, 'responses': [{'do': 'tag', 'on': 'swept', 'tag': 'seen'}]},
        {'id': 'leaves', 'catch': {'event': 'exit', 'at': 'far'}, 'filter': {'groups': ['pointer']}})");
    const auto take = takeFrom(
        R"({'t': 0.1, 'pointer': [6, -4]}, {'t': 0.1, 'button': 'left', 'down': true}, {'t': 0.2, 'pointer': [12, 4]},
        {'t': 0.3, 'button': 'left', 'down': false})");
    const sim::Record record = play(scene, take, 0.4);
    QCOMPARE(logLines(record, {"\"response\""}).size(), 1);
    QVERIFY(logLines(record, {"\"response\""}).front().contains("\"on\":\"far\""));
    QVERIFY(logLines(record, {"\"exit\"", "\"at\":\"far\""}).front().contains("\"cause\":\"swept\""));
}

void TestLimits::whatIsPinnedCoversTheWorldAndMeetsOnlyThePointer_P6()
{
    // The view is 20 m high and 32 m wide around (0, 0): its lower left corner is at (-16, -10).
    const auto scene = sceneFrom(R"('rate': 10, 'camera': {'at': [0, 0], 'height': 20}, 'pieces': [
        {'id': 'world', 'shapes': [{'box': [30, 18]}]},
        {'id': 'passes', 'at': [-14, -8], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.5}]},
        {'id': 'bell', 'pinned': true, 'at': [2, 2], 'shapes': [{'box': [2, 2]}]}],
        'snares': [{'id': 'rung', 'catch': {'event': 'click', 'at': 'bell'}}, {'id': 'below', 'catch': {'event': 'click', 'at': 'world'}}])");
    const sim::Record record = play(
        scene,
        takeFrom(
            R"({'t': 0.1, 'pointer': [-14, -8]}, {'t': 0.1, 'button': 'left', 'down': true}, {'t': 0.1, 'button': 'left', 'down': false},
        {'t': 0.2, 'glass': [4, 4]}, {'t': 0.2, 'button': 'left', 'down': true}, {'t': 0.2, 'button': 'left', 'down': false})"),
        0.3);
    QCOMPARE(outcomesOf(record, "rung"), QStringList{"1 rung sprung"});
    QCOMPARE(outcomesOf(record, "below"), QStringList{"2 below sprung"}); // (4, 4) on the glass is beside the bell
    const QStringList met = eventsAt(record, "bell").filter("enter");
    QCOMPARE(met, QStringList{"1 enter bell pointer"});
}

void TestLimits::theSideIsWhereTheVisitorCameFrom_S3()
{
    const auto from = [](const char* at, const char* velocity) {
        const auto scene = sceneFrom(fmt::format(
            R"('rate': 10, 'pieces': [{{'id': 'z', 'turn': 90, 'shapes': [{{'role': 'zone', 'box': [2, 2]}}]}},
            {{'id': 'm', 'at': {}, 'body': {{'kind': 'kinematic', 'velocity': {}}}, 'shapes': [{{'role': 'zone', 'circle': 0.2}}]}}],
            'snares': [{{'id': 'left', 'catch': {{'event': 'enter', 'at': 'z'}}, 'filter': {{'side': ['left']}}}}])",
            at, velocity));
        return outcomesOf(play(scene, {}, 1.0), "left").value(0).contains("sprung");
    };
    QVERIFY(from("[0, -3]", "[0, 8]")); // turned by a quarter, its left is below
    QVERIFY(!from("[-3, 0]", "[8, 0]"));
    QVERIFY(!from("[0, 3]", "[0, -8]"));
    QVERIFY(!from("[0, 0]", "[0, 0]")); // beyond none: no side
}

void TestLimits::inputsAfterARestartAreDealtWith_T5()
{
    const auto scene = sceneFrom(R"('rate': 10, 'variables': {'n': 0}, 'snares': [
        {'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]},
        {'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]}])");
    const auto take = takeFrom(
        R"({'t': 0.1, 'key': 'a', 'down': true}, {'t': 0.1, 'key': 'r', 'down': true}, {'t': 0.1, 'key': 'a', 'down': false},
        {'t': 0.1, 'key': 'a', 'down': true})");
    const sim::Record record = play(scene, take, 0.3);
    QCOMPARE(number(record, "n"), 1.0); // the one before is undone, the one after counts
    QCOMPARE(outcomesOf(record, "a"), (QStringList{"1 a sprung", "1 a sprung"}));
}

void TestLimits::aRestartWithinTheStartKeepsTheInputs_T5()
{
    const auto scene = sceneFrom(R"('rate': 10, 'variables': {'n': 0}, 'snares': [
        {'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]},
        {'id': 'twice', 'catch': {'event': 'start'}, 'gate': {'limit': 2, 'reset': 'never'}, 'responses': [{'do': 'restart'}]},
        {'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]}])");
    const sim::Record record =
        play(scene, takeFrom("{'t': 0.1, 'key': 'r', 'down': true}, {'t': 0.1, 'key': 'a', 'down': true}"), 0.3);
    QCOMPARE(number(record, "n"), 1.0);
}

void TestLimits::gatesThatNeverForgetForgetWhatWasSpawned_T5()
{
    const auto scene = sceneFrom(
        R"('rate': 10, 'templates': {'gull': {'tags': ['t'], 'body': 'kinematic'}}, 'pieces': [{'id': 'p', 'tags': ['t']}],
        'snares': [{'id': 'makes', 'catch': {'event': 'start'}, 'responses': [{'do': 'spawn', 'template': 'gull', 'at': [0, 0]}]},
                   {'id': 'once', 'catch': {'event': 'key-down', 'key': 'a', 'at': 'tag:t'}, 'gate': {'limit': 1, 'reset': 'never'}},
                   {'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]}])");
    const sim::Record record = play(scene, takeOf({{"a", 0.1}, {"r", 0.3}, {"a", 0.5}}), 0.8);
    QCOMPARE(outcomesOf(record, "once"),
             (QStringList{"1 once sprung", "1 once sprung", "5 once slipped gate", "5 once sprung"}));
}

QTEST_APPLESS_MAIN(TestLimits)
#include "test_limits.moc"
