// SPDX-License-Identifier: Apache-2.0
#include "builder.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;
using scene::Scalar;

class TestRules : public QObject {
    Q_OBJECT

  private slots:
    void inputsBelongToTheTickOfTheirTime_T2();
    void timesLastUntilTheFirstTickAfterThem_T6();
    void timersElapseAtTheirTimes_T6();
    void restartPutsEverythingBack_T5();
    void aSceneThatRestartsItselfIsStopped();
    void valuesChangeAtOnceForTheNextSnare_K3();
    void changesSettleAfterTheLastSnare_K4();
    void whoRemovesWhomFirstDoesNotMatter_K4();
    void laterEventsOfSomethingGoneSlip_K6();
    void signalsGoToTheEndOfTheQueue_K8();
    void heldKeysComeInTheOrderTheyWentDown_K2();
    void stagesAreAskedInOrder_S1();
    void emptyListsAreNoCondition_S2();
    void conditionsOnMissingOrUnlikeValuesFail_S2();
    void onlySpringingUsesUpALimit_S4();
    void cooldownEndsOnTime_S4();
    void dwellAsksAgainAtItsEnd_S4();
    void dwellIsBrokenByLeaving_S4();
    void gatesOfASelectorAreKeptPerPiece_S6();
    void armingGivesNoEventForThoseInside_S7();
    void againDecidesWhatAWaitingRunDoes_S8_data();
    void againDecidesWhatAWaitingRunDoes_S8();
    void aStepWithoutItsTargetIsSkippedAndNoted_S9();
    void aSignalWithWaitGoesOnWhenAllAreDone_S10();
    void aMoveArrivesExactly_V3();
    void aNewMoveOvertakesTheOldOne_V3();
    void homeIsWhereItStarted();
    void turnGoesTheShorterWayRound();
    void signalsCanBeSentToOne();
    void responsesRunOnlyIfTheirConditionHolds();
};

void TestRules::inputsBelongToTheTickOfTheirTime_T2()
{
    QCOMPARE(rules::tickOfInput(0, 60), 1);
    QCOMPARE(rules::tickOfInput(0.1, 60), 6);
    QCOMPARE(rules::tickOfInput(0.1001, 60), 7);
    QCOMPARE(rules::tickOfInput(1.0 / 3, 60), 20);
    QCOMPARE(rules::lastTick(0.5, 60), 30);
    QCOMPARE(rules::lastTick(0, 60), 0);
}

void TestRules::timesLastUntilTheFirstTickAfterThem_T6()
{
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {scene::Wait{{0.25}}, scene::Note{{"a"}}, scene::Wait{{0.0}}, scene::Note{{"b"}}})};
    // 6 + 15 ticks; a wait of nothing goes on at once.
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))), QStringList({"21 a", "21 b"}));
}

void TestRules::timersElapseAtTheirTimes_T6()
{
    scene::Scene scene;
    scene.rate = 10;
    scene.sources = {{"fast", scene::TimerSource{0.04, true, true}},
                     {"once", scene::TimerSource{0.35, false, true}},
                     {"idle", scene::TimerSource{0.1, true, false}}};
    for (const char* id : {"fast", "once", "idle"}) {
        scene.snares.push_back(onEvent(id, EventKind::elapsed, {}));
        scene.snares.back().catches.source = id;
    }
    const sim::Record record = play(scene, {}, 1);
    QCOMPARE(outcomesOf(record, "fast").size(), 10); // at most once a tick
    QCOMPARE(outcomesOf(record, "once"), QStringList({"4 once sprung"}));
    QVERIFY(outcomesOf(record, "idle").isEmpty());
}

void TestRules::restartPutsEverythingBack_T5()
{
    scene::Scene scene;
    scene.variables.set("n", Scalar{0.0});
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3, 0})};
    scene.snares = {
        onEvent("in", EventKind::enter, "z",
                {scene::Add{scene::Target::scene(), "n", {1.0}}, scene::Wait{{0.3}}, scene::Note{{"late"}}}),
        onKey("again", "r", {scene::Restart{}}), onEvent("begin", EventKind::start, {}, {scene::Note{{"start"}}})};
    scene.snares[0].gate.limit = 1;
    const sim::Record record = play(scene, takeOf({{"r", 0.7}}), 1.5);
    // Enters at 31, is forgotten without an exit at 42, and enters again 31 ticks later; the first
    // run never ends.
    QCOMPARE(eventsAt(record, "z"), QStringList({"31 enter z m", "72 enter z m"}));
    QCOMPARE(notes(record), QStringList({"0 start", "42 start", "90 late"}));
    QCOMPARE(number(record, "n"), 1.0);
    QCOMPARE(std::get<double>(*sim::valueAt(record, world::theScene, "n", 50)), 0.0);
}

void TestRules::aSceneThatRestartsItselfIsStopped()
{
    scene::Scene scene;
    scene.snares = {onEvent("loop", EventKind::start, {}, {scene::Restart{}})};
    const sim::Record record = play(scene, {}, 1);
    QVERIFY(QString::fromStdString(record.stopReason).contains(QStringLiteral("loop")));
}

void TestRules::valuesChangeAtOnceForTheNextSnare_K3()
{
    scene::Scene scene;
    scene.variables.set("n", Scalar{0.0});
    scene.snares = {onKey("first", "k", {scene::Add{scene::Target::scene(), "n", {1.0}}}),
                    onKey("second", "k", {scene::Note{{"one"}}})};
    scene.snares[1].filter.when = {{"scene.n", scene::Comparison::equal, {Scalar{1.0}}}};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))), QStringList({"6 one"}));
}

void TestRules::changesSettleAfterTheLastSnare_K4()
{
    scene::Scene scene;
    scene.pieces = {zone("p", {0, 0}, {1, 1})};
    scene.snares = {onKey("off", "k", {scene::Disarm{{"later"}}}), onKey("later", "k", {scene::Note{{"heard"}}})};
    // The second snare still hears the event during which it was disarmed, and no more after it.
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}, {"k", 0.5}}))), QStringList({"6 heard"}));
}

void TestRules::whoRemovesWhomFirstDoesNotMatter_K4()
{
    scene::Scene scene;
    scene.variables.set("n", Scalar{0.0});
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3.1, 0})};
    scene.snares = {
        onEvent("both", EventKind::enter, "z",
                {scene::Remove{}, scene::Remove{{{"visitor"}}}, scene::Add{scene::Target::scene(), "n", {1.0}}}),
        onEvent("gone", EventKind::removed, "z", {scene::Note{{"z is gone"}}})};
    const sim::Record record = play(scene, {}, 1);
    QCOMPARE(number(record, "n"), 1.0);
    QCOMPARE(notes(record), QStringList({"30 z is gone"}));
    QCOMPARE(eventsAt(record, "z"), QStringList({"30 enter z m", "30 exit z m", "30 removed z"}));
}

void TestRules::laterEventsOfSomethingGoneSlip_K6()
{
    scene::Scene scene;
    // Both zones are entered in the same tick; the first removes the visitor.
    scene.pieces = {zone("a", {0, 0}, {2, 2}), zone("b", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3.1, 0})};
    scene.snares = {onEvent("take", EventKind::enter, "a", {scene::Remove{{{"visitor"}}}}),
                    onEvent("miss", EventKind::enter, "b"), onEvent("left", EventKind::exit, "b")};
    const sim::Record record = play(scene, {}, 1);
    QCOMPARE(outcomesOf(record, "miss"), QStringList({"30 miss slipped gone"}));
    QVERIFY(outcomesOf(record, "left").isEmpty()); // its enter was never offered (K5)
    QCOMPARE(eventsAt(record, "b"), QStringList({"30 enter b m"}));
}

void TestRules::signalsGoToTheEndOfTheQueue_K8()
{
    scene::Scene scene;
    scene.snares = {onKey("raise", "a", {scene::Signal{"s", {}, {}, false}, scene::Note{{"raised"}}}),
                    onSignal("hear", "s", {scene::Note{{"heard"}}}), onKey("other", "b", {scene::Note{{"key b"}}})};
    scene::Take take;
    take.inputs = {keyAt(0.1, "a", true), keyAt(0.1, "b", true)};
    QCOMPARE(notes(play(scene, take, 0.2)), QStringList({"6 raised", "6 key b", "6 heard"}));
}

void TestRules::heldKeysComeInTheOrderTheyWentDown_K2()
{
    scene::Scene scene;
    scene.snares = {onEvent("held", EventKind::keyHeld, {}, {scene::Note{{scene::Get{"event.key"}}}})};
    scene.snares[0].catches.key = "any";
    scene::Take take;
    take.inputs = {keyAt(0.1, "b", true), keyAt(0.1, "a", true), keyAt(0.1, "b", true),
                   keyAt(0.12, "b", false)};
    QCOMPARE(notes(play(scene, take, 0.12)), QStringList({"6 b", "6 a", "7 b", "7 a", "8 a"}));
}

void TestRules::stagesAreAskedInOrder_S1()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3.1, 0})};
    scene.snares = {onEvent("one", EventKind::enter, "z")};
    scene.snares[0].armed = false;
    scene.snares[0].filter.groups = {"nobody"};
    QCOMPARE(outcomesOf(play(scene, {}, 1), "one"), QStringList({"30 one slipped armed"}));
    scene.snares[0].armed = true;
    QCOMPARE(outcomesOf(play(scene, {}, 1), "one"), QStringList({"30 one slipped filter"}));
}

void TestRules::emptyListsAreNoCondition_S2()
{
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {scene::Note{{"yes"}}})};
    scene.snares[0].filter.groups = {};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))).size(), 1);
    scene.snares[0].filter.groups = {"default"}; // there is no visitor
    QVERIFY(notes(play(scene, takeOf({{"k", 0.1}}))).isEmpty());
}

void TestRules::conditionsOnMissingOrUnlikeValuesFail_S2()
{
    scene::Scene scene;
    scene.variables.set("n", Scalar{3.0});
    scene.snares = {onKey("k", "k", {})};
    const auto sprang = [&](std::string left, scene::Comparison is, scene::Value<Scalar> right) {
        scene.snares[0].filter.when = {{std::move(left), is, std::move(right)}};
        return outcomesOf(play(scene, takeOf({{"k", 0.1}}), 0.2), "k").front().endsWith(QStringLiteral("sprung"));
    };
    QVERIFY(sprang("scene.n", scene::Comparison::greaterOrEqual, {Scalar{3.0}}));
    QVERIFY(!sprang("scene.n", scene::Comparison::less, {Scalar{3.0}}));
    QVERIFY(!sprang("scene.n", scene::Comparison::unequal, {Scalar{std::string("3")}}));
    QVERIFY(!sprang("scene.nothing", scene::Comparison::unequal, {Scalar{3.0}}));
    QVERIFY(sprang("scene.n", scene::Comparison::equal, {scene::Get{"scene.n"}}));
}

void TestRules::onlySpringingUsesUpALimit_S4()
{
    scene::Scene scene;
    scene.variables.set("open", Scalar{false});
    scene.snares = {onKey("k", "k", {}), onKey("o", "o", {scene::Set{scene::Target::scene(), "open", {Scalar{true}}}})};
    scene.snares[0].gate.limit = 1;
    scene.snares[0].filter.when = {{"scene.open", scene::Comparison::equal, {Scalar{true}}}};
    QCOMPARE(outcomesOf(play(scene, takeOf({{"k", 0.1}, {"o", 0.2}, {"k", 0.3}, {"k", 0.4}})), "k"),
             QStringList({"6 k slipped filter", "18 k sprung", "24 k slipped gate"}));
}

void TestRules::cooldownEndsOnTime_S4()
{
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {})};
    scene.snares[0].gate.cooldown = 0.5;
    QCOMPARE(outcomesOf(play(scene, takeOf({{"k", 0.1}, {"k", 35.0 / 60}, {"k", 0.65}})), "k"),
             QStringList({"6 k sprung", "35 k slipped gate", "39 k sprung"}));
    QCOMPARE(outcomesOf(play(scene, takeOf({{"k", 0.1}, {"k", 0.6}})), "k"),
             QStringList({"6 k sprung", "36 k sprung"}));
}

void TestRules::dwellAsksAgainAtItsEnd_S4()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.snares = {onEvent("stay", EventKind::enter, "z"), onKey("tag", "t", {scene::Tag{{{"m"}}, "late"}})};
    scene.snares[0].gate.dwell = 0.5;
    scene.snares[0].filter.tags.none = {"late"};
    QCOMPARE(outcomesOf(play(scene, {}, 1), "stay"), QStringList({"30 stay sprung"}));
    QCOMPARE(outcomesOf(play(scene, takeOf({{"t", 0.2}}), 1), "stay"), QStringList({"30 stay slipped filter"}));
}

void TestRules::dwellIsBrokenByLeaving_S4()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.snares = {onEvent("stay", EventKind::enter, "z"),
                    onKey("out", "o", {scene::Put{{{"m"}}, scene::Destination{Vec{9, 0}}, {}}}),
                    onKey("in", "i", {scene::Put{{{"m"}}, scene::Destination{Vec{0, 0}}, {}}})};
    scene.snares[0].gate.dwell = 0.5;
    QCOMPARE(outcomesOf(play(scene, takeOf({{"o", 0.3}, {"i", 0.4}}), 2), "stay"),
             QStringList({"18 stay slipped gate", "54 stay sprung"}));
}

void TestRules::gatesOfASelectorAreKeptPerPiece_S6()
{
    scene::Scene scene;
    scene.pieces = {zone("a", {0, 0}, {1, 1}), zone("b", {4, 0}, {1, 1}), mover("m", {-2, 0}, {4, 0}, 0.2)};
    scene.pieces[0].tags = scene.pieces[1].tags = {"ring"};
    scene.snares = {onEvent("ring", EventKind::enter, "tag:ring")};
    scene.snares[0].gate.limit = 1;
    const QStringList outcomes = outcomesOf(play(scene, {}, 2), "ring");
    QCOMPARE(outcomes.size(), 2);
    QVERIFY(outcomes.filter(QStringLiteral("slipped")).isEmpty());
}

void TestRules::armingGivesNoEventForThoseInside_S7()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {0, 0}, {0, 0})};
    scene.snares = {onEvent("plain", EventKind::enter, "z"), onEvent("catching", EventKind::enter, "z"),
                    onKey("arm", "a", {scene::Arm{{"plain", "catching"}}})};
    scene.snares[0].armed = scene.snares[1].armed = false;
    scene.snares[1].gate.catchUp = true;
    const sim::Record record = play(scene, takeOf({{"a", 0.5}}), 1);
    QCOMPARE(outcomesOf(record, "plain"), QStringList({"0 plain slipped armed"}));
    QCOMPARE(outcomesOf(record, "catching"), QStringList({"0 catching slipped armed", "30 catching sprung"}));
}

void TestRules::againDecidesWhatAWaitingRunDoes_S8_data()
{
    QTest::addColumn<int>("again");
    QTest::addColumn<QStringList>("ends");
    QTest::addColumn<int>("sprang");
    QTest::newRow("restart") << static_cast<int>(scene::Again::restart) << QStringList({"36 end"}) << 2;
    QTest::newRow("stack") << static_cast<int>(scene::Again::stack) << QStringList({"30 end", "36 end"}) << 2;
    QTest::newRow("ignore") << static_cast<int>(scene::Again::ignore) << QStringList({"30 end"}) << 1;
}

void TestRules::againDecidesWhatAWaitingRunDoes_S8()
{
    QFETCH(int, again);
    QFETCH(QStringList, ends);
    QFETCH(int, sprang);
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {scene::Wait{{0.4}}, scene::Note{{"end"}}})};
    scene.snares[0].again = static_cast<scene::Again>(again);
    const sim::Record record = play(scene, takeOf({{"k", 0.1}, {"k", 0.2}}));
    QCOMPARE(notes(record), ends);
    QCOMPARE(outcomesOf(record, "k").filter(QStringLiteral("sprung")).size(), sprang);
}

void TestRules::aStepWithoutItsTargetIsSkippedAndNoted_S9()
{
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {scene::Hide{{{"nobody"}}}, scene::Note{{"after"}}})};
    const QStringList said = notes(play(scene, takeOf({{"k", 0.1}})));
    QCOMPARE(said.size(), 2);
    QVERIFY(said[0].contains(QStringLiteral("nobody")));
    QCOMPARE(said[1], QStringLiteral("6 after"));
}

void TestRules::aSignalWithWaitGoesOnWhenAllAreDone_S10()
{
    scene::Scene scene;
    scene.snares = {onKey("k", "k", {scene::Signal{"go", {}, {}, true}, scene::Note{{"all done"}}}),
                    onSignal("short", "go", {scene::Wait{{0.1}}}), onSignal("long", "go", {scene::Wait{{0.5}}}),
                    onKey("n", "n", {scene::Signal{"unheard", {}, {}, true}, scene::Note{{"at once"}}})};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}, {"n", 0.2}}))), QStringList({"12 at once", "36 all done"}));
}

void TestRules::aMoveArrivesExactly_V3()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0})};
    scene::Move move;
    move.on = {{"m"}};
    move.to = scene::Destination{Vec{1, 0}};
    move.speed = 0.7;
    move.wait = true;
    scene.snares = {onKey("k", "k", {move, scene::Note{{"there"}}}), onEvent("came", EventKind::arrived, "m")};
    const sim::Record record = play(scene, takeOf({{"k", 0.1}}), 3);
    QCOMPARE(record.snapshots.at(record.lastTick())[0].pose.at, (Vec{1, 0}));
    QCOMPARE(outcomesOf(record, "came"), QStringList({"91 came sprung"})); // 5 + ceil(60 / 0.7)
    QCOMPARE(notes(record), QStringList({"91 there"}));
}

void TestRules::aNewMoveOvertakesTheOldOne_V3()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0})};
    scene::Move far;
    far.on = {{"m"}};
    far.to = scene::Destination{Vec{100, 0}};
    far.wait = true;
    scene.snares = {onKey("k", "k", {far, scene::Note{{"goes on"}}}),
                    onKey("p", "p", {scene::Put{{{"m"}}, scene::Destination{std::string("home")}, {}}}),
                    onEvent("came", EventKind::arrived, "m")};
    const sim::Record record = play(scene, takeOf({{"k", 0.1}, {"p", 0.5}}));
    QVERIFY(outcomesOf(record, "came").isEmpty());
    const QStringList said = notes(record);
    QVERIFY(said[0].contains(QStringLiteral("overtaken by put")));
    QCOMPARE(said[1], QStringLiteral("30 goes on"));
    QCOMPARE(record.snapshots.at(record.lastTick())[0].pose.at, (Vec{0, 0}));
}

void TestRules::homeIsWhereItStarted()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {2, 3}, {1, 0})};
    scene::Move home;
    home.on = {{"m"}};
    home.to = scene::Destination{std::string("home")};
    home.speed = 10.0;
    scene.snares = {onKey("k", "k", {scene::Stop{{{"m"}}}, home})};
    const sim::Record record = play(scene, takeOf({{"k", 0.5}}));
    QCOMPARE(record.snapshots.at(record.lastTick())[0].pose.at, (Vec{2, 3}));
}

void TestRules::turnGoesTheShorterWayRound()
{
    scene::Scene scene;
    scene.pieces = {mover("m", {0, 0}, {0, 0})};
    scene.pieces[0].turn = 350;
    scene::Turn turn;
    turn.on = {{"m"}};
    turn.to = 10;
    scene.snares = {onKey("k", "k", {turn})};
    const sim::Record record = play(scene, takeOf({{"k", 0.1}}));
    QCOMPARE(record.snapshots.at(record.lastTick())[0].pose.turn, 370.0);
}

void TestRules::signalsCanBeSentToOne()
{
    scene::Scene scene;
    scene.pieces = {zone("a", {0, 0}, {1, 1}), zone("b", {5, 0}, {1, 1})};
    scene.pieces[0].tags = scene.pieces[1].tags = {"ring"};
    scene.pieces[1].properties.set("name", Scalar{std::string("bee")});
    scene.snares = {onKey("k", "k", {scene::Signal{"free", {}, scene::Target{{"b"}}, false}}),
                    onSignal("hear", "free", {scene::Note{{scene::Get{"self.name"}}}}, "tag:ring")};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))), QStringList({"6 bee"}));
}

void TestRules::responsesRunOnlyIfTheirConditionHolds()
{
    scene::Scene scene;
    scene.variables.set("n", Scalar{1.0});
    scene.snares = {onKey("k", "k", {scene::Note{{"one"}}, scene::Note{{"two"}}})};
    scene.snares[0].responses[0].onlyIf = {{"scene.n", scene::Comparison::equal, {Scalar{2.0}}}};
    QCOMPARE(notes(play(scene, takeOf({{"k", 0.1}}))), QStringList({"6 two"}));
}

QTEST_APPLESS_MAIN(TestRules)
#include "test_rules.moc"
