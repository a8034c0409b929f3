// SPDX-License-Identifier: Apache-2.0
/// What takes expect, rule by rule (E1 to E6), and running them in folders.
#include "builder.h"

#include "check/after_take.h"
#include "check/coverage.h"
#include "check/takes.h"
#include "check/vary.h"
#include "check/versions.h"
#include "words/expectations.h"

#include <QTemporaryDir>
#include <QTest>
#include <atomic>
#include <pugixml.hpp>

using namespace snare;
using namespace snare::tests;

namespace {

/// A cart that crosses a zone from 1.5 s to 3.5 s, in which it stays long enough for the snare; a
/// button, a lamp.
const char* const crossing = R"('name': 'Crossing', 'phases': ['calm', 'storm'], 'variables': {'n': 0, 'word': 'none'},
    'pieces': [
    {'id': 'cart', 'at': [-2.99, 0], 'tags': ['wheels'], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'id': 'hull', 'role': 'zone', 'circle': 0.5}]},
    {'id': 'mule', 'at': [-3, 5], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.5}]},
    {'id': 'bay', 'at': [0, 0], 'shapes': [{'id': 'mouth', 'role': 'zone', 'box': [2, 2]}]},
    {'id': 'lamp', 'at': [0, 4], 'phases': ['dark', 'lit'], 'properties': {'oil': 3}}],
    'snares': [
    {'id': 'count', 'catch': {'event': 'enter', 'at': 'bay'}, 'gate': {'limit': 1},
     'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}, {'do': 'signal', 'name': 'in', 'with': {'who': {'get': 'visitor.id'}, 'level': 2}}]},
    {'id': 'light', 'catch': {'event': 'heard', 'signal': 'in'}, 'responses': [{'do': 'phase', 'on': 'lamp', 'to': 'lit'}]},
    {'id': 'staff', 'catch': {'event': 'enter', 'at': 'bay'}, 'filter': {'tags': {'any': ['staff']}}},
    {'id': 'key', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'storm'}, {'do': 'remove', 'on': 'cart'}]}])";

/// The verdicts on expectations, given as JSON with ' for ", in a run of 5 s with the key at 4.5 s.
check::Judgement judged(const std::string& expect, const std::string& more = "", const std::string& scene = crossing)
{
    std::string text = R"({"format": "fresh-snare-take", "version": 1, "length": 5, "inputs": [{"t": 4.5, "key": "a", "down": true}], )" +
                       more + "'expect': [" + expect + "]}";
    std::ranges::replace(text, '\'', '"');
    const auto take = io::readTake(text, "test");
    if (!take)
        qFatal("%s", take.error().front().message().c_str());
    return check::judge(play(sceneFrom(scene), *take));
}

/// "held", or what came nearest.
QString verdictOn(const std::string& expect)
{
    const check::Judgement judgement = judged(expect);
    return judgement.verdicts.front().held ? QStringLiteral("held")
                                           : QString::fromStdString(judgement.verdicts.front().why);
}

/// What a take with this expectation is told when it is read; empty if it is fine.
QString faultOf(const std::string& expect)
{
    std::string text = R"({"format": "fresh-snare-take", "version": 1, "inputs": [],
 "expect": [)" + expect + "]}";
    std::ranges::replace(text, '\'', '"');
    const auto take = io::readTake(text, "t");
    return take ? QString() : QString::fromStdString(take.error().front().message());
}

} // namespace

class TestExpectations : public QObject {
    Q_OBJECT

  private slots:
    void verdicts_data();
    void verdicts();
    void staysAndCountingAreExpectedThoughTheyAreNotLogged_E1();
    void eventsOfAllFieldsAreCounted_E1();
    void aRunThatStopsFails_E5();
    void whatIsRemovedHasItsLastValues_E3();
    void betweenTicksTheLaterOneCounts_E3();
    void aVerdictLeadsThere_E6();
    void mistakesAreToldWithTheirPlace_data();
    void mistakesAreToldWithTheirPlace();
    void takesAreReadAsTheyAreWritten();
    void expectationsAreSentences_data();
    void expectationsAreSentences();
    void foldersOfTakesAreRun();
    void resultsAreToldAsJUnit();
    void aRunOfManyIsCancelled();
    void whatATakeUsedIsCounted();
    void aZoneThatNobodyEnteredIsTold();
    void aStepThatWasNeverDoneIsTold();
    void whatAnEditChangesIsTold();
    void aTakeIsVariedTheSameEachTime();
};

void TestExpectations::verdicts_data()
{
    QTest::addColumn<QString>("expect");
    QTest::addColumn<QString>("verdict");
    const auto row = [](const char* expect, const char* verdict) { QTest::newRow(expect) << expect << verdict; };
    // E1: lines are counted.
    row(R"({'event': 'enter', 'at': 'bay'})", "held");
    row(R"({'event': 'enter', 'at': 'bay', 'by': 'cart', 'shape': 'mouth', 'part': 'hull', 'cause': 'moved', 'manner': 'sense', 'times': 1})", "held");
    row(R"({'event': 'enter', 'at': 'bay', 'times': 2})", "it came once, 2 at least, nor anything like it");
    row(R"({'event': 'enter', 'at': 'bay', 'times': 0})", "it came once, 0 at most: one too many at 1.5 s");
    row(R"({'event': 'enter', 'at': 'bay', 'times': {'min': 1, 'max': 3}})", "held");
    row(R"({'event': 'enter', 'at': 'bay', 'between': [1, 2]})", "held");
    row(R"({'event': 'enter', 'at': 'bay', 'between': [1.5, 1.5]})", "held"); // both ends counted in
    row(R"({'event': 'enter', 'at': 'bay', 'between': [0.5, 1.25]})",
        "it did not come; nearest: cart entered mouth of bay at 1.5 s, 0.25 s after the span");
    row(R"({'event': 'enter', 'at': 'bay', 'between': [2, 3]})",
        "it did not come; nearest: cart entered mouth of bay at 1.5 s, 0.5 s before the span");
    row(R"({'event': 'enter', 'at': 'bay', 'by': 'mule'})",
        "it did not come; nearest: cart entered mouth of bay at 1.5 s, by cart, not by mule");
    row(R"({'event': 'enter', 'at': 'bay', 'cause': 'put'})",
        "it did not come; nearest: cart entered mouth of bay at 1.5 s, because moved, not because put");
    row(R"({'event': 'hit', 'at': 'bay'})", "it did not come, nor anything like it");
    row(R"({'snare': 'count'})", "held");
    row(R"({'snare': 'count', 'self': 'bay', 'visitor': 'cart', 'outcome': 'sprung', 'times': 1})", "held");
    row(R"({'snare': 'staff', 'stage': 'filter'})", "held"); // with a stage it slipped
    row(R"({'snare': 'staff', 'outcome': 'slipped'})", "held");
    row(R"({'snare': 'staff'})",
        "it did not come; nearest: staff slipped at 1.5 s, it slipped at filter: tag staff is missing");
    row(R"({'signal': 'in'})", "held");
    row(R"({'signal': 'in', 'with': {'who': 'cart', 'level': 2}})", "held");
    row(R"({'signal': 'in', 'with': {'who': 'mule'}})",
        "it did not come; nearest: signal in was raised at 1.5 s, who = cart, not who = mule");
    row(R"({'response': 'add', 'snare': 'count', 'on': 'scene'})", "held");
    row(R"({'response': 'add', 'snare': 'light'})",
        "it did not come; nearest: add scene n = 1 at 1.5 s, of count, not of light");
    row(R"({'phase': 'lit', 'on': 'lamp', 'between': [1, 2]})", "held");
    row(R"({'phase': 'storm'})", "held"); // of the scene
    row(R"({'phase': 'lit'})",
        "it did not come; nearest: phase calm of scene began at 0 s, phase calm, not phase lit");
    // E2: never, and in order.
    row(R"({'never': {'event': 'hit'}})", "held");
    row(R"({'never': {'event': 'enter', 'at': 'bay', 'between': [2, 5]}})", "held");
    row(R"({'never': {'event': 'enter', 'at': 'bay'}, 'between': [2, 5]})", "held");
    row(R"({'never': {'event': 'enter', 'at': 'bay'}})", "it came at 1.5 s: cart entered mouth of bay");
    row(R"({'order': [{'event': 'enter', 'at': 'bay'}, {'signal': 'in'}, {'event': 'exit', 'at': 'bay'}]})", "held");
    row(R"({'order': [{'event': 'exit', 'at': 'bay'}, {'event': 'enter', 'at': 'bay'}]})",
        "anyone enters bay came at 1.5 s, before anyone leaves bay");
    row(R"({'order': [{'event': 'enter', 'at': 'bay'}, {'event': 'enter', 'at': 'bay'}]})",
        "anyone enters bay came at 1.5 s, before anyone enters bay"); // one line each
    row(R"({'order': [{'event': 'enter', 'at': 'bay'}, {'signal': 'out'}]})", "signal out is raised did not come");
    // E3: values now, always, ever.
    row(R"({'at': 1, 'value': 'scene.n', 'is': '=', 'to': 0})", "held");
    row(R"({'at': 2, 'value': 'scene.n', 'is': '=', 'to': 1})", "held");
    row(R"({'at': 2, 'value': 'scene.n', 'to': 1})", "held");
    row(R"({'at': 2, 'value': 'scene.n', 'is': '>', 'to': 1})", "it was 1 at 2 s");
    row(R"({'at': 2, 'value': 'scene.m', 'is': '!=', 'to': 1})", "scene.m was missing at 2 s");
    row(R"({'at': 2, 'value': 'scene.n', 'is': '!=', 'to': 'x'})", "it was 1 at 2 s"); // unlike values do not compare
    row(R"({'at': 2, 'value': 'lamp.oil', 'is': '=', 'to': 3.2, 'within': 0.25})", "held");
    row(R"({'at': 2, 'value': 'lamp.oil', 'is': '=', 'to': 3.3, 'within': 0.25})", "it was 3 at 2 s");
    row(R"({'at': 2, 'value': 'lamp.oil', 'is': '<', 'to': 2.9, 'within': 0.25})", "held");
    row(R"({'at': 2, 'value': 'lamp.oil', 'is': '!=', 'to': 3.2, 'within': 0.25})", "it was 3 at 2 s"); // narrower
    row(R"({'at': 2, 'value': 'lamp.phase', 'is': '=', 'to': 'lit'})", "held");
    row(R"({'at': 2, 'value': 'cart.tags', 'is': 'has', 'to': 'wheels'})", "held");
    row(R"({'at': 2, 'value': 'cart.tags', 'is': 'has', 'to': 'wheel'})", "it was wheels at 2 s"); // whole words
    row(R"({'at': 2, 'value': 'bay.count', 'is': '=', 'to': 1})", "held");
    row(R"({'at': 7, 'value': 'scene.n', 'is': '=', 'to': 1})", "the run ended before, at 5 s");
    row(R"({'always': true, 'value': 'scene.n', 'is': '<=', 'to': 1})", "held");
    row(R"({'always': true, 'value': 'scene.n', 'is': '<', 'to': 1})", "it was 1 at 1.5 s");
    row(R"({'ever': true, 'value': 'scene.n', 'is': '=', 'to': 1})", "held");
    row(R"({'ever': true, 'value': 'cart.x', 'is': '>', 'to': 3})", "the nearest was 1.49333333 at 4.483 s");
    // E4: who is inside.
    row(R"({'at': 2, 'inside': ['cart', 'bay']})", "held");
    row(R"({'at': 2, 'inside': ['cart', 'bay/mouth']})", "held");
    row(R"({'at': 1, 'inside': ['cart', 'bay']})", "cart was not inside bay; it came in at 1.5 s");
    row(R"({'at': 4.6, 'inside': ['cart', 'bay']})", "cart was not inside bay; it left at 4.5 s");
    row(R"({'at': 2, 'inside': ['mule', 'bay']})", "mule was not inside bay, nor at any other time");
    row(R"({'at': 9, 'inside': ['cart', 'bay']})", "the run ended before, at 5 s");
}

void TestExpectations::verdicts()
{
    QFETCH(QString, expect);
    QFETCH(QString, verdict);
    QCOMPARE(verdictOn(expect.toStdString()), verdict);
}

void TestExpectations::staysAndCountingAreExpectedThoughTheyAreNotLogged_E1()
{
    // The cart is in from 1.5 s; it is taken out at 4.5 s.
    QCOMPARE(verdictOn(R"({'event': 'stay', 'at': 'bay', 'times': {'min': 100, 'max': 200}})"), "held");
    QCOMPARE(verdictOn(R"({'event': 'occupied', 'at': 'bay', 'by': 'cart', 'times': 1})"), "held");
    QCOMPARE(verdictOn(R"({'event': 'vacated', 'at': 'bay', 'between': [4.4, 5], 'times': 1})"), "held");
    QCOMPARE(verdictOn(R"({'event': 'occupied', 'at': 'bay', 'by': 'mule'})").left(17), "it did not come; ");
    // With a snare that listens its filter says who counts.
    const std::string filtered = std::string(crossing).substr(0, std::string(crossing).size() - 1) +
                                 R"(, {'id': 'first', 'catch': {'event': 'occupied', 'at': 'bay'}, 'filter': {'groups': ['crew']}}])";
    QVERIFY(!judged(R"({'event': 'occupied', 'at': 'bay'})", "", filtered).passed());
}

void TestExpectations::eventsOfAllFieldsAreCounted_E1()
{
    const std::string hits = R"('pieces': [
        {'id': 'ram', 'at': [-2, 0], 'body': {'kind': 'dynamic', 'velocity': [4, 0]}, 'shapes': [{'circle': 0.5}]},
        {'id': 'wall', 'at': [1, 0], 'shapes': [{'box': [1, 4]}]}])";
    QVERIFY(judged(R"({'event': 'hit', 'at': 'wall', 'by': 'ram', 'manner': 'stop', 'speed': {'min': 3, 'max': 5}, 'times': 1})", "", hits).passed());
    const check::Judgement slow = judged(R"({'event': 'hit', 'at': 'wall', 'speed': {'min': 9}})", "", hits);
    QVERIFY(!slow.passed());
    QVERIFY(QString::fromStdString(slow.verdicts.front().why).contains("at 4 m/s, not as fast"));
}

void TestExpectations::aRunThatStopsFails_E5()
{
    const std::string storm = R"('snares': [{'id': 'a', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'signal', 'name': 's'}]},
        {'id': 'b', 'catch': {'event': 'heard', 'signal': 's'}, 'responses': [{'do': 'signal', 'name': 's'}]}])";
    QVERIFY(!judged("", "", storm).passed());
    QVERIFY(QString::fromStdString(judged("", "", storm).stop).startsWith("the run stopped: "));
    QVERIFY(judged("", "'stops': true, ", storm).passed());
    QCOMPARE(judged("", "'stops': true, ").stop, "the run was meant to stop, and did not");
    QVERIFY(judged("").passed()); // without expectations it passes when it does not stop
}

void TestExpectations::whatIsRemovedHasItsLastValues_E3()
{
    QCOMPARE(verdictOn(R"({'at': 4.9, 'value': 'cart.x', 'is': '=', 'to': 1.5, 'within': 0.05})"), "held");
    QCOMPARE(verdictOn(R"({'at': 4.9, 'value': 'cart.tags', 'is': 'has', 'to': 'wheels'})"), "held");
}

void TestExpectations::betweenTicksTheLaterOneCounts_E3()
{
    // The scene counts the cart in tick 90, at 1.5 s.
    QCOMPARE(verdictOn(R"({'at': 1.49, 'value': 'scene.n', 'is': '=', 'to': 1})"), "held");
    QCOMPARE(verdictOn(R"({'at': 1.48, 'value': 'scene.n', 'is': '=', 'to': 0})"), "held");
}

void TestExpectations::aVerdictLeadsThere_E6()
{
    const check::Judgement judgement = judged(R"({'event': 'enter', 'at': 'bay', 'by': 'mule'}, {'snare': 'count'})");
    QCOMPARE(judgement.failures(), 1u);
    QCOMPARE(judgement.verdicts[0].tick, 90);
    QVERIFY(judgement.verdicts[0].line >= 0);
    QCOMPARE(judgement.verdicts[1].found, std::vector{judgement.verdicts[1].line});
}

void TestExpectations::mistakesAreToldWithTheirPlace_data()
{
    QTest::addColumn<QString>("expect");
    QTest::addColumn<QString>("message");
    const auto row = [](const char* expect, const char* message) { QTest::newRow(expect) << expect << message; };
    row("{}", "t: line 2, column 13: /expect/0: wants exactly one of event, snare, signal, response, phase, never, "
              "order, value, inside");
    row("{'event': 'enter', 'snare': 'a'}",
        "t: line 2, column 13: /expect/0: wants exactly one of event, snare, signal, response, phase");
    row("{'event': 'entr'}", "t: line 2, column 23: /expect/0/event: unknown word \"entr\"; did you mean \"enter\"?");
    row("{'event': 'enter', 'to': 3}", "t: line 2, column 32: /expect/0/to: \"to\" does not belong to a event");
    row("{'event': 'enter', 'at': 3}", "t: line 2, column 38: /expect/0: wants the name of a piece");
    row("{'event': 'enter', 'between': [3, 2]}",
        "t: line 2, column 43: /expect/0/between: the span ends before it begins");
    row("{'event': 'enter', 'times': {'min': 3, 'max': 2}}", "t: line 2, column 41: /expect/0/times: min is above max");
    row("{'event': 'enter', 'times': -1}", "t: line 2, column 41: /expect/0/times: is below 0");
    row("{'snare': 'a', 'outcome': 'sprung', 'stage': 'gate'}",
        "t: line 2, column 58: /expect/0: what springs slips at no stage");
    row("{'signal': ''}", "t: line 2, column 24: /expect/0: wants a name, not an empty text");
    row("{'order': [{'signal': 'a'}]}", "t: line 2, column 23: /expect/0: an order is one of two at least");
    row("{'never': {'to': 1}}", "t: line 2, column 24: /expect/0/never: unknown key \"to\"");
    row("{'value': 'scene.n', 'to': 1}", "t: line 2, column 13: /expect/0: wants exactly one of at, always, ever");
    row("{'value': 'scene.n', 'to': 1, 'at': 1, 'always': true}",
        "t: line 2, column 13: /expect/0: wants exactly one of at, always, ever");
    row("{'value': 'n', 'to': 1, 'at': 1}", "t: line 2, column 23: /expect/0: wants a path such as scene.parcels");
    row("{'value': 'scene.n', 'at': 1}",
        "t: line 2, column 13: /expect/0: \"to\" is missing: what the value is compared with");
    row("{'value': 'scene.n', 'at': 1, 'to': 'x', 'within': 1}",
        "t: line 2, column 64: /expect/0: only numbers can be off by something");
    row("{'value': 'scene.n', 'at': -1, 'to': 1}", "t: line 2, column 40: /expect/0/at: a moment is at least 0");
    row("{'inside': ['a'], 'at': 1}", "t: line 2, column 24: /expect/0: wants the visitor and where it is inside");
    row("{'inside': ['a', 'b']}", "t: line 2, column 13: /expect/0: \"at\" is missing: when");
    row("{'evnt': 'enter'}", "t: line 2, column 14: /expect/0: unknown key \"evnt\"; did you mean \"event\"?");
}

void TestExpectations::mistakesAreToldWithTheirPlace()
{
    QFETCH(QString, expect);
    QFETCH(QString, message);
    const QString fault = faultOf(expect.toStdString());
    QVERIFY2(fault.startsWith(message), qPrintable(fault));
}

void TestExpectations::takesAreReadAsTheyAreWritten()
{
    const char* const all =
        R"({'event': 'hit', 'at': 'a', 'by': 'b', 'shape': 's', 'part': 'p', 'cause': 'moved', 'manner': 'stop', 'speed': {'min': 1, 'max': 2}, 'between': [0, 2], 'times': 3, 'note': 'n'},
        {'response': 'move', 'snare': 'weigh', 'on': 'barrow'}, {'snare': 'weigh', 'outcome': 'slipped', 'stage': 'gate', 'self': 'a', 'visitor': 'b', 'times': {'max': 2}},
        {'signal': 's', 'with': {'n': 1, 't': 'x'}}, {'phase': 'p', 'on': 'lock'}, {'never': {'event': 'exit', 'at': 'z'}},
        {'order': [{'event': 'start'}, {'signal': 's'}]}, {'at': 2.5, 'value': 'scene.n', 'is': '<=', 'to': 3, 'within': 0.1},
        {'value': 'a.b', 'is': '=', 'to': 'x', 'always': true}, {'at': 1, 'inside': ['a', 'b/c']})";
    std::string text = R"({"format": "fresh-snare-take", "version": 1, "note": "what it is for", "stops": true, "inputs": [], "expect": [)" + std::string(all) + "]}";
    std::ranges::replace(text, '\'', '"');
    const auto take = io::readTake(text, "t");
    QVERIFY2(take.has_value(), take ? "" : take.error().front().message().c_str());
    QCOMPARE(take->expect.size(), 10u);
    QCOMPARE(take->note, "what it is for");
    const std::string written = io::takeText(*take);
    const auto again = io::readTake(written, "t");
    QVERIFY2(again.has_value(), again ? "" : again.error().front().message().c_str());
    QVERIFY(*again == *take);
    QCOMPARE(io::takeText(*again), written);
}

void TestExpectations::expectationsAreSentences_data()
{
    QTest::addColumn<QString>("expect");
    QTest::addColumn<QString>("said");
    const auto row = [](const char* expect, const char* said) { QTest::newRow(said) << expect << said; };
    row(R"({'event': 'enter', 'at': 'bay', 'shape': 'mouth', 'by': 'cart', 'between': [2, 4.5], 'times': 1})",
        "cart enters mouth of bay between 2 and 4.5 s, once");
    row(R"({'event': 'arrived', 'at': 'barrow', 'times': {'min': 2}})", "barrow arrives, 2 times at least");
    row(R"({'event': 'hit', 'at': 'wall', 'speed': {'min': 3}, 'cause': 'moved'})",
        "anyone hits wall because it moved faster than 3 m/s");
    row(R"({'snare': 'weigh', 'stage': 'filter', 'visitor': 'mule'})", "weigh slips at filter with mule");
    row(R"({'signal': 'weighed', 'with': {'who': 'Anka'}})", "signal weighed is raised with who = Anka");
    row(R"({'response': 'move', 'snare': 'weigh', 'on': 'barrow'})", "weigh does move on barrow");
    row(R"({'phase': 'open', 'on': 'lock'})", "phase open of lock begins");
    row(R"({'never': {'event': 'hit', 'at': 'barrow'}})", "never: anyone hits barrow");
    row(R"({'order': [{'event': 'start'}, {'event': 'exit', 'at': 'bay'}]})", "first the scene starts, then anyone leaves bay");
    row(R"({'at': 6, 'value': 'scene.n', 'is': '>=', 'to': 3, 'within': 0.1})", "at 6 s scene.n is at least 3, within 0.1");
    row(R"({'always': true, 'value': 'lamp.phase', 'is': '!=', 'to': 'lit'})", "always lamp.phase is not lit");
    row(R"({'at': 4, 'inside': ['cart', 'bay']})", "at 4 s cart is inside bay");
}

void TestExpectations::expectationsAreSentences()
{
    QFETCH(QString, expect);
    QFETCH(QString, said);
    std::string text = R"({"format": "fresh-snare-take", "version": 1, "inputs": [], "expect": [)" + expect.toStdString() + "]}";
    std::ranges::replace(text, '\'', '"');
    const auto take = io::readTake(text, "t");
    QVERIFY(take.has_value());
    QCOMPARE(QString::fromStdString(words::expectationText(take->expect.front())), said);
}

namespace {

/// A folder with the scene, a take that passes, one that fails and, in a folder of its own, one
/// that cannot be read.
void fill(const QTemporaryDir& folder)
{
    const auto save = [&](const char* name, const std::string& text) {
        QVERIFY(io::saveText(folder.filePath(QLatin1String(name)).toStdString(), text));
    };
    save("crossing.snare.json", io::sceneText(sceneFrom(crossing)));
    const auto take = [](const std::string& expect) {
        return "{\"format\": \"fresh-snare-take\", \"version\": 1, \"scene\": \"crossing.snare.json\", \"length\": 3, "
               "\"inputs\": [],\n \"expect\": [\n  " +
               expect + "\n ]}";
    };
    save("a.take.json", take(R"({"event": "enter", "at": "bay"})"));
    save("b.take.json",
         take("{\"event\": \"enter\", \"at\": \"bay\"},\n  {\"event\": \"hit\", \"at\": \"<bay> & \\\"co\\\"\"}"));
    QVERIFY(QDir(folder.path()).mkpath("deeper"));
    save("deeper/c.take.json", "{\"format\": ");
    save("deeper/notes.json", "{}");
}

} // namespace

void TestExpectations::foldersOfTakesAreRun()
{
    const QTemporaryDir folder;
    fill(folder);
    const std::filesystem::path path = folder.path().toStdString();
    const auto files = check::takesIn({path, path / "a.take.json"}); // each once
    QCOMPARE(files.size(), 3u);
    std::atomic<int> told = 0;
    for (const unsigned jobs : {1u, 4u}) {
        const auto results = check::runTakes(files, jobs, [&](const check::TakeResult&) { ++told; });
        QCOMPARE(results.size(), 3u);
        QVERIFY(results[0].passed());
        QVERIFY(!results[1].passed());
        QVERIFY(!results[2].problem.empty());
        const std::vector<std::string> failures = check::failuresOf(results[1]);
        QCOMPARE(failures.size(), 1u);
        QCOMPARE(QString::fromStdString(failures[0]),
                 folder.filePath("b.take.json") +
                     ":4: expected anyone hits <bay> & \"co\": it did not come, nor anything like it");
        QVERIFY(QString::fromStdString(check::failuresOf(results[2])[0]).contains("c.take.json: line 1, column "));
    }
    QCOMPARE(told, 6);
}

void TestExpectations::resultsAreToldAsJUnit()
{
    const QTemporaryDir folder;
    fill(folder);
    const std::string xml = check::junitOf(check::runTakes(check::takesIn({folder.path().toStdString()}), 0));
    pugi::xml_document document;
    QVERIFY(document.load_string(xml.c_str()));
    const pugi::xml_node all = document.child("testsuites");
    QCOMPARE(all.attribute("tests").as_int(), 6); // of the first two also that their run does not stop
    QCOMPARE(all.attribute("failures").as_int(), 1);
    QCOMPARE(all.attribute("errors").as_int(), 1);
    int suites = 0;
    for (const pugi::xml_node suite : all.children("testsuite")) {
        ++suites;
        QCOMPARE(std::distance(suite.begin(), suite.end()), suite.attribute("tests").as_int());
    }
    QCOMPARE(suites, 3);
    const pugi::xml_node failed = all.select_node("//testcase[failure]").node();
    QCOMPARE(failed.attribute("name").as_string(), "anyone hits <bay> & \"co\"");
    QCOMPARE(failed.attribute("line").as_int(), 4);
}

void TestExpectations::aRunOfManyIsCancelled()
{
    const QTemporaryDir folder;
    fill(folder);
    std::atomic<bool> cancelled = true;
    QVERIFY(check::runTakes(check::takesIn({folder.path().toStdString()}), 2, {}, &cancelled).empty());
}

void TestExpectations::whatATakeUsedIsCounted()
{
    const auto scene = std::make_shared<const scene::Scene>(sceneFrom(crossing));
    check::Coverage coverage{scene};
    coverage.add(play(*scene, {}, 5));
    const auto timesOf = [&](check::Covered::Of of, const std::string& name) -> int {
        for (const check::Covered& one : coverage.all())
            if (one.of == of && one.name.starts_with(name))
                return static_cast<int>(one.times);
        return -1;
    };
    using Of = check::Covered::Of;
    QCOMPARE(timesOf(Of::snare, "count"), 1);
    QCOMPARE(timesOf(Of::snare, "key"), 0);
    QCOMPARE(timesOf(Of::filter, "staff"), 1);
    QCOMPARE(timesOf(Of::filter, "count"), -1); // it has none
    QCOMPARE(timesOf(Of::response, "count, step 2: signal in"), 1);
    QCOMPARE(timesOf(Of::response, "key, step 1"), 0);
    QCOMPARE(timesOf(Of::phase, "lit of lamp"), 1);
    QCOMPARE(timesOf(Of::phase, "storm"), 0);
    QCOMPARE(timesOf(Of::signal, "in"), 1);
    QCOMPARE(timesOf(Of::zone, "bay"), 1);
    QCOMPARE(timesOf(Of::zone, "mule"), 0);
    coverage.add(play(*scene, takeFrom(R"({'t': 1, 'key': 'a', 'down': true})"), 2));
    QCOMPARE(timesOf(Of::snare, "key"), 1);
    QCOMPARE(coverage.countOf(Of::snare), std::pair(std::size_t{4}, std::size_t{3}));
    QVERIFY(check::neverUsed(coverage).front() == "never sprang: staff");
}

void TestExpectations::aZoneThatNobodyEnteredIsTold()
{
    const auto told = [](const std::string& at, const std::string& more) {
        return check::neverEntered(
            play(sceneFrom(R"('groups': ['far'], 'contacts': [['far', 'default', 'pass']], 'pieces': [
            {'id': 'cart', 'at': [-3, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.2}]},
            {'id': 'bay', 'at': )" +
                           at + more + R"(, 'shapes': [{'role': 'zone', 'box': [2, 2]}]}],
            'snares': [{'id': 's', 'catch': {'event': 'enter', 'at': 'bay'}}])"),
                 {}, 6));
    };
    const auto beside = told("[0, 2]", "");
    QCOMPARE(beside.size(), 1u);
    QCOMPARE(beside[0].text, "nobody entered bay: cart came closest, its middle 1.00 m away at 2.00 s");
    const auto over = told("[0, 0]", ", 'group': 'far'");
    QCOMPARE(over.size(), 1u);
    QVERIFY2(QString::fromStdString(over[0].text).startsWith("nobody entered bay, though cart was over it at "),
             over[0].text.c_str());
    QVERIFY(told("[0, 0]", "").empty());  // it is entered
    QVERIFY(told("[0, 20]", "").empty()); // nobody was on the way there
}

void TestExpectations::aStepThatWasNeverDoneIsTold()
{
    const auto told = [](const char* steps) {
        std::vector<std::string> texts;
        for (const auto& one : check::neverTrue(play(sceneFrom(std::string(R"('variables': {'n': 0}, 'pieces': [
            {'id': 'cart', 'at': [-3, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.2}]},
            {'id': 'bay', 'shapes': [{'role': 'zone', 'box': [2, 2]}]}],
            'snares': [{'id': 's', 'catch': {'event': ['enter', 'exit'], 'at': 'bay'}, 'responses': [)") +
                                                               steps + "]}]"),
                                                     {}, 6)))
            texts.push_back(one.text);
        return texts;
    };
    const std::string never = R"({'do': 'log', 'text': 'full', 'if': [{'left': 'scene.n', 'is': '>', 'right': 3}]})";
    const std::string said = "step 1 of s was never done in 2 springs: scene.n > 3 did not hold";
    QCOMPARE(told(never.c_str()), std::vector{said});
    QVERIFY(told(R"({'do': 'log', 'text': 'empty', 'if': [{'left': 'scene.n', 'is': '=', 'right': 0}]})").empty());
    QVERIFY(told(("{'do': 'wait', 'for': 60}, " + never).c_str()).empty()); // it was never come to
    QVERIFY(told(("{'do': 'restart'}, " + never).c_str()).empty());
    QVERIFY(told(R"({'do': 'hide', 'on': 'ghost', 'if': [{'left': 'scene.n', 'is': '=', 'right': 0}]})").empty()); // nobody is there
    QCOMPARE(told(("{'do': 'wait', 'for': 0.1}, " + never + ", {'do': 'log', 'text': 'past it'}").c_str()).size(), 1u);
}

void TestExpectations::whatAnEditChangesIsTold()
{
    const scene::Scene before = sceneFrom(crossing);
    scene::Scene after = before;
    scene::findPiece(after, "bay")->at = {0.5, 0};
    scene::findSnare(after, "count")->gate.limit = 2;
    after.pieces.erase(after.pieces.begin() + 1); // the mule
    std::vector<std::string> told;
    for (const check::WordChange& change : check::wordsThatDiffer(before, after))
        told.push_back(change.place + (change.added ? " + " : " - ") + change.text);
    const auto has = [&](const char* line) { return std::ranges::find(told, line) != told.end(); };
    QVERIFY(has("Piece bay + at 0.5, 0")); // where it was is where a piece is that does not say so
    QVERIFY(has("Piece bay › Snare count - only once") && has("Piece bay › Snare count + only 2 times"));
    QVERIFY(has(" - Piece mule") && has("Piece mule - body: kinematic"));
    QCOMPARE(told.size(), 7u);
    QVERIFY(check::wordsThatDiffer(before, before).empty());
    // As the changes are made to the one, the other comes of it: as many lines go and come as
    // differ.
    QCOMPARE(check::wordsThatDiffer(after, before).size(), told.size());
    // However much differs, it is told: here everything.
    const auto many = [](const std::string& name) {
        scene::Scene scene;
        for (int i = 0; i < 5000; ++i) {
            scene::Piece piece;
            piece.id = name + std::to_string(i);
            piece.group = name;
            scene.pieces.push_back(piece);
        }
        return scene;
    };
    QCOMPARE(check::wordsThatDiffer(many("cask"), many("crate")).size(), 20'000u);
    // What stands elsewhere in the order goes and comes, and nothing else does.
    scene::Scene turned = many("cask");
    std::rotate(turned.pieces.begin(), turned.pieces.begin() + 10, turned.pieces.end());
    QCOMPARE(check::wordsThatDiffer(many("cask"), turned).size(), 40u);
    const sim::Record was = play(before, {}, 3);
    const sim::Record is = play(after, {}, 3);
    const std::vector<std::string> events = check::eventsThatDiffer(was, is, check::compare(was, is));
    QVERIFY(std::ranges::find(events, "~ 2 s count, before at 1.5 s") != events.end());
}

void TestExpectations::aTakeIsVariedTheSameEachTime()
{
    scene::Take take = takeFrom(R"({'t': 1, 'key': 'a', 'down': true}, {'t': 1.01, 'key': 'a', 'down': false}, {'t': 2, 'pointer': [1, 1]})", 3);
    const check::VaryOptions options;
    QVERIFY(check::variedTake(take, 0, options) == take); // the first is as it is
    for (int run = 1; run < 200; ++run) {
        const scene::Take varied = check::variedTake(take, run, options);
        QVERIFY(varied == check::variedTake(take, run, options));
        QCOMPARE(varied.inputs.size(), 3u);
        QVERIFY(varied.inputs[0].what == take.inputs[0].what && varied.inputs[1].what == take.inputs[1].what);
        QVERIFY(varied.inputs[0].t < varied.inputs[1].t);
        for (std::size_t i = 0; i < 3; ++i)
            QVERIFY(std::abs(varied.inputs[i].t - take.inputs[i].t) <= options.within + 0.0011);
    }
    QVERIFY(check::variedTake(take, 1, options).inputs != check::variedTake(take, 2, options).inputs);
}

QTEST_GUILESS_MAIN(TestExpectations)
#include "test_expectations.moc"
