// SPDX-License-Identifier: Apache-2.0
/// What led to what (C1, C2): the chain of a line back to what began it.
#include "builder.h"

#include "sim/because.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

/// "key-down Right", "start", "snare weigh", "slip weigh", "move barrow", "enter plate courier".
std::string stepOf(const sim::Record& record, const rules::Line& line)
{
    switch (line.kind) {
    case rules::LineKind::event: {
        const std::string_view self = line.self == world::theScene ? std::string_view() : record.nameOf(line.self);
        const std::string word = scene::familyOf(line.event) == scene::EventFamily::contact ||
                                         scene::familyOf(line.event) == scene::EventFamily::piece
                                     ? std::string(record.nameOf(line.visitor))
                                     : record.journal.textOf(line);
        std::string text{scene::wordOf(line.event)};
        for (const std::string_view part : {self, std::string_view(word)})
            text += part.empty() ? "" : " " + std::string(part);
        return text;
    }
    case rules::LineKind::snare:
        return (line.outcome == rules::Outcome::sprung ? "snare " : "slip ") + record.snareNameOf(line.snare);
    case rules::LineKind::response:
        return std::string(rules::responseOf(line)) +
               (line.self < 0 ? "" : " " + std::string(record.nameOf(line.self)));
    case rules::LineKind::note:
        return "note";
    }
    return {};
}

QString chainText(const sim::Record& record, std::int32_t line)
{
    QStringList steps;
    for (const std::int32_t one : sim::chainTo(record, line))
        steps << QString::fromStdString(stepOf(record, record.journal.lines[static_cast<std::size_t>(one)]));
    return steps.join(QStringLiteral(" > "));
}

/// The chain of the first line, or with `last` the last one, that reads like `step`.
QString chainOf(const sim::Record& record, const std::string& step, bool last = false)
{
    QString found = QStringLiteral("no line ") + QString::fromStdString(step);
    for (std::size_t i = 0; i < record.journal.lines.size(); ++i)
        if (stepOf(record, record.journal.lines[i]) == step) {
            found = chainText(record, static_cast<std::int32_t>(i));
            if (!last)
                break;
        }
    return found;
}

/// What must hold of every record; nothing, or what does not.
QString faultIn(const sim::Record& record)
{
    const auto& lines = record.journal.lines;
    if (record.journal.because.size() != lines.size())
        return QStringLiteral("not every line has a cause");
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const rules::Line& line = lines[i];
        const std::int32_t because = record.journal.because[i];
        const QString where = QStringLiteral("line %1, %2: ").arg(i).arg(QString::fromStdString(stepOf(record, line)));
        if (because >= static_cast<std::int32_t>(i))
            return where + QStringLiteral("its cause is not before it");
        if (because < 0) {
            const scene::EventFamily family = scene::familyOf(line.event);
            const bool isInput = family == scene::EventFamily::key || family == scene::EventFamily::pointer ||
                                 family == scene::EventFamily::call || family == scene::EventFamily::watch;
            const bool isStart =
                line.event == scene::EventKind::start || (line.event == scene::EventKind::phaseBegin && line.tick == 0);
            const auto isDriven = [&](world::PieceIndex piece) {
                return piece >= 0 && std::holds_alternative<scene::DrivenBody>(
                                         record.pieces[static_cast<std::size_t>(piece)].model->body);
            };
            const bool ofPointer = world::isPointer(line.visitor) || world::isPointer(line.self) ||
                                   isDriven(line.visitor) || isDriven(line.self);
            if (line.kind != rules::LineKind::note &&
                (line.kind != rules::LineKind::event || !(isInput || isStart || ofPointer)))
                return where + QStringLiteral("nothing led to it");
            continue;
        }
        const rules::Line& cause = lines[static_cast<std::size_t>(because)];
        if (cause.tick > line.tick)
            return where + QStringLiteral("its cause comes later");
        if (line.kind == rules::LineKind::response &&
            (cause.kind != rules::LineKind::snare || cause.snare != line.snare ||
             cause.outcome != rules::Outcome::sprung))
            return where + QStringLiteral("a response comes of the snare that sprang");
        if (line.kind == rules::LineKind::snare && cause.kind == rules::LineKind::snare)
            return where + QStringLiteral("a snare comes of an event");
    }
    return {};
}

} // namespace

class TestBecause : public QObject {
    Q_OBJECT

  private slots:
    void aChainLeadsFromTheKeyToWhatArrived_C1();
    void aMeetingComesOfWhatMovedItsPiecesLast_C1();
    void whatWaitsStillComesOfItsSnare_C1();
    void aStayComesOfItsEnterAndADwellOfWhatBrokeIt_C1();
    void anImpactLeadsOn_C1();
    void whatRestedFallsBecauseItsHoldIsGone_C1();
    void whatIsCarriedMovesBecauseOfItsCarrier_C1();
    void aClockComesOfTheStartOrOfWhatStartedIt_C1();
    void aNewStartComesOfTheRestart_C1();
    void whyAPieceIsAsItIs_C1();
    void theChainsOfAllDemosEndWhereTheyMust_C1_C2();
    void causesTakeFewBytes_C2();
};

void TestBecause::aChainLeadsFromTheKeyToWhatArrived_C1()
{
    const sim::Record record = play(sceneFrom(R"('pieces': [
        {'id': 'courier', 'at': [-2, 0], 'body': {'kind': 'walker', 'steer': 'arrows', 'speed': 3}, 'shapes': [{'circle': 0.3}]},
        {'id': 'plate', 'shapes': [{'role': 'zone', 'box': [1, 1]}]},
        {'id': 'barrow', 'at': [4, 3], 'body': 'kinematic', 'shapes': [{'circle': 0.3}]}],
        'snares': [{'id': 'weigh', 'catch': {'event': 'enter', 'at': 'plate'}, 'gate': {'dwell': 0.1},
                    'responses': [{'do': 'move', 'on': 'barrow', 'by': [1, 0], 'speed': 4}]}])"),
                                    takeFrom(R"({'t': 0.5, 'key': 'Right', 'down': true})", 3));
    QCOMPARE(chainOf(record, "arrived barrow"),
             "key-down Right > enter plate courier > snare weigh > move barrow > arrived barrow");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::aMeetingComesOfWhatMovedItsPiecesLast_C1()
{
    const sim::Record record =
        play(sceneFrom(R"('pieces': [
        {'id': 'a', 'at': [-2, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.3}]},
        {'id': 'z', 'shapes': [{'role': 'zone', 'box': [1, 1]}]},
        {'id': 'b', 'at': [10, 0], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]}],
        'snares': [{'id': 'put', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'put', 'on': 'b', 'at': [0, 0]}]},
                   {'id': 'off', 'catch': {'event': 'key-down', 'key': 'b'}, 'responses': [{'do': 'disable', 'on': 'z'}]}])"),
             takeFrom(R"({'t': 2, 'key': 'a', 'down': true}, {'t': 2.5, 'key': 'b', 'down': true})", 4));
    QCOMPARE(chainOf(record, "enter z a"), "start > enter z a"); // by its own velocity from the start
    QCOMPARE(chainOf(record, "enter z b"), "key-down a > snare put > put b > enter z b");
    // What ends it is not what moved it.
    QCOMPARE(chainOf(record, "exit z b"), "key-down b > snare off > disable z > exit z b");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::whatWaitsStillComesOfItsSnare_C1()
{
    const sim::Record record = play(sceneFrom(R"('variables': {'n': 0},
        'snares': [{'id': 'first', 'catch': {'event': 'key-down', 'key': 'a'},
                    'responses': [{'do': 'wait', 'for': 0.5}, {'do': 'set', 'on': 'scene', 'name': 'n', 'value': 1},
                                  {'do': 'signal', 'name': 'rung'}]},
                   {'id': 'second', 'catch': {'event': 'heard', 'signal': 'rung'}, 'responses': [{'do': 'restart', 'if': [{'left': 'scene.n', 'is': '>', 'right': 5}]}, {'do': 'run', 'routine': 'r'}]}],
        'routines': {'r': [{'do': 'set', 'on': 'scene', 'name': 'n', 'value': 2}]})"),
                                    takeFrom(R"({'t': 0.1, 'key': 'a', 'down': true})", 2));
    QCOMPARE(chainOf(record, "changed n"), "key-down a > snare first > set > changed n");
    QCOMPARE(chainOf(record, "changed n", true),
             "key-down a > snare first > signal > heard rung > snare second > set > changed n");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::aStayComesOfItsEnterAndADwellOfWhatBrokeIt_C1()
{
    const sim::Record record = play(sceneFrom(R"('pieces': [
        {'id': 'a', 'at': [-1, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.1}]},
        {'id': 'z', 'shapes': [{'role': 'zone', 'box': [1, 1]}]}],
        'snares': [{'id': 'rests', 'catch': {'event': 'stay', 'at': 'z', 'every': 0.5}, 'responses': [{'do': 'log', 'text': 'x'}]},
                   {'id': 'lingers', 'catch': {'event': 'enter', 'at': 'z'}, 'gate': {'dwell': 30}},
                   {'id': 'first', 'catch': {'event': 'occupied', 'at': 'z'}}])"),
                                    {}, 3);
    QCOMPARE(chainOf(record, "snare rests"), "start > enter z a > snare rests");
    QCOMPARE(chainOf(record, "slip lingers"), "start > exit z a > slip lingers");
    QCOMPARE(chainOf(record, "snare first"), "start > enter z a > snare first");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::anImpactLeadsOn_C1()
{
    const sim::Record record = play(sceneFrom(R"('pieces': [
        {'id': 'ram', 'at': [-3, 0], 'body': {'kind': 'dynamic', 'mass': 20}, 'shapes': [{'circle': 0.3}]},
        {'id': 'cask', 'body': 'dynamic', 'shapes': [{'circle': 0.3}]},
        {'id': 'net', 'at': [3, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]}],
        'snares': [{'id': 'shove', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'push', 'on': 'ram', 'velocity': [6, 0]}]}])"),
                                    takeFrom(R"({'t': 0.1, 'key': 'a', 'down': true})", 4));
    QCOMPARE(chainOf(record, "enter net cask"),
             "key-down a > snare shove > push ram > hit cask ram > enter net cask");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::whatRestedFallsBecauseItsHoldIsGone_C1()
{
    const sim::Record record = play(sceneFrom(R"('view': 'side', 'pieces': [
        {'id': 'shelf', 'shapes': [{'box': [2, 0.2]}]},
        {'id': 'cask', 'at': [0, 0.45], 'body': 'dynamic', 'shapes': [{'circle': 0.3}]},
        {'id': 'net', 'at': [0, -3], 'shapes': [{'role': 'zone', 'box': [2, 1]}]}],
        'snares': [{'id': 'drop', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'remove', 'on': 'shelf'}]}])"),
                                    takeFrom(R"({'t': 1, 'key': 'a', 'down': true})", 4));
    QCOMPARE(chainOf(record, "enter net cask"),
             "key-down a > snare drop > remove shelf > exit cask shelf > enter net cask");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::whatIsCarriedMovesBecauseOfItsCarrier_C1()
{
    const sim::Record record = play(sceneFrom(R"('pieces': [
        {'id': 'cart', 'at': [-3, 0], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]},
        {'id': 'lamp', 'at': [-3, 1], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]},
        {'id': 'bay', 'at': [0, 1], 'shapes': [{'role': 'zone', 'box': [1, 0.5]}]}],
        'snares': [{'id': 'load', 'catch': {'event': 'start'}, 'responses': [{'do': 'attach', 'on': 'lamp', 'to': 'cart'}]},
                   {'id': 'go', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'move', 'on': 'cart', 'by': [3, 0], 'speed': 3}]}])"),
                                    takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true})", 3));
    QCOMPARE(chainOf(record, "enter bay lamp"), "key-down a > snare go > move cart > enter bay lamp");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::aClockComesOfTheStartOrOfWhatStartedIt_C1()
{
    const sim::Record record =
        play(sceneFrom(R"('templates': {'shot': {'lifetime': 0.3, 'shapes': [{'role': 'zone', 'circle': 0.1}]}},
        'sources': [{'id': 'tide', 'timer': {'every': 0.5}}, {'id': 'bell', 'timer': {'every': 0.2, 'repeat': false, 'runs': false}}],
        'snares': [{'id': 'fire', 'catch': {'event': 'key-down', 'key': 'a'},
                    'responses': [{'do': 'spawn', 'template': 'shot', 'at': [5, 5]}, {'do': 'timer', 'source': 'bell', 'to': 'start'}]}])"),
             takeFrom(R"({'t': 0.1, 'key': 'a', 'down': true})", 1));
    QCOMPARE(chainOf(record, "elapsed tide"), "start > elapsed tide");
    QCOMPARE(chainOf(record, "elapsed bell"), "key-down a > snare fire > timer > elapsed bell");
    QCOMPARE(chainOf(record, "removed shot-1"), "key-down a > snare fire > spawn > removed shot-1");
    QCOMPARE(chainOf(record, "spawned shot-1"), "key-down a > snare fire > spawn > spawned shot-1");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::aNewStartComesOfTheRestart_C1()
{
    const sim::Record record = play(sceneFrom(R"('pieces': [
        {'id': 'a', 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]}, {'id': 'z', 'shapes': [{'role': 'zone', 'box': [1, 1]}]}],
        'snares': [{'id': 'anew', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'restart'}]}])"),
                                    takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true})", 1));
    QCOMPARE(chainOf(record, "start", true), "key-down a > snare anew > restart > start");
    QCOMPARE(chainOf(record, "enter z a", true), "key-down a > snare anew > restart > start > enter z a");
    QCOMPARE(faultIn(record), QString());
}

void TestBecause::whyAPieceIsAsItIs_C1()
{
    const sim::Record record = play(sceneFrom(R"('phases': ['calm', 'storm'], 'pieces': [
        {'id': 'barrow', 'at': [4, 3], 'body': 'kinematic', 'shapes': [{'circle': 0.3}], 'properties': {'load': 0}}],
        'snares': [{'id': 'go', 'catch': {'event': 'key-down', 'key': 'a'},
                    'responses': [{'do': 'put', 'on': 'barrow', 'at': [1, 0]}, {'do': 'set', 'on': 'barrow', 'name': 'load', 'value': 3},
                                  {'do': 'phase', 'on': 'scene', 'to': 'storm'}]}])"),
                                    takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true})", 1));
    QCOMPARE(chainText(record, sim::lineBehindPlace(record, 0, 10)), "start");
    QCOMPARE(chainText(record, sim::lineBehindPlace(record, 0, 60)), "key-down a > snare go > put barrow");
    QCOMPARE(sim::lineOfValue(record, 0, "load", 10), -1); // as it was given
    QCOMPARE(chainText(record, sim::lineOfValue(record, 0, "load", 60)),
             "key-down a > snare go > set barrow > changed barrow load");
    QCOMPARE(chainText(record, sim::lineOfPhase(record, world::theScene, 10)), "phase-begin calm");
    QCOMPARE(chainText(record, sim::lineOfPhase(record, world::theScene, 60)),
             "key-down a > snare go > phase > phase-begin storm");
    // And forward again.
    const std::int32_t key = sim::chainTo(record, sim::lineBehindPlace(record, 0, 60)).front();
    const std::vector<std::int32_t> results = sim::resultsOf(record, key, 5);
    QCOMPARE(results.size(), 1u);
    QCOMPARE(sim::resultsOf(record, results.front(), 2).size(), 2u);
}

void TestBecause::theChainsOfAllDemosEndWhereTheyMust_C1_C2()
{
    int lines = 0;
    for (const char* name :
         {"barrel-ramp", "berths", "chart-table", "duty-slips", "eel-watch", "flood-tide", "chain-ferry", "lamp-round",
          "line-thrower", "locks", "pile-driver", "shoals", "stairs", "weigh-in", "wet-mud"}) {
        const std::string path = std::string(SNARE_DEMO_FOLDER "/") + name;
        const auto scene = std::make_shared<const scene::Scene>(*io::loadScene(path + ".snare.json"));
        const scene::Take take = *io::loadTake(path + ".take.json");
        const sim::Record record = sim::rerun(scene, take);
        QVERIFY2(faultIn(record).isEmpty(), qPrintable(QString::fromLatin1(name) + ": " + faultIn(record)));
        QCOMPARE(sim::rerun(scene, take).journal.because, record.journal.because);
        // Whether stays are logged does not change what led to what.
        QVERIFY2(faultIn(play(*scene, take, {}, true)).isEmpty(), name);
        lines += static_cast<int>(record.journal.lines.size());
    }
    QVERIFY(lines > 3000);
}

void TestBecause::causesTakeFewBytes_C2()
{
    const sim::Record record = play(sceneFrom("'pieces': []"), {}, 1);
    static_assert(sizeof(record.journal.because.front()) <= 8);
    QCOMPARE(record.journal.because.size(), record.journal.lines.size());
}

QTEST_GUILESS_MAIN(TestBecause)
#include "test_because.moc"
