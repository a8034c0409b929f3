// SPDX-License-Identifier: Apache-2.0
/// The first hour of a new user, by mouse and keys in the real window.
#include "window_fixture.h"

using namespace snare;
using namespace snare::tests;
using app::Stage;

class TestJourney : public QObject {
    Q_OBJECT

  private slots:
    void weighsTheCourierByHandAndTheBarrowRolls();
    void drawsAZoneDragsAThreadAndSeesTheVaneTurn();
};

namespace {

/// Holds a key until the courier is where it should be.
template <class There> void holdUntil(Bench& bench, Qt::Key key, There&& there)
{
    QTest::keyPress(bench.window.ground(), key);
    QTRY_VERIFY_WITH_TIMEOUT(there(bench.placeNow("courier")), 20000);
    QTest::keyRelease(bench.window.ground(), key);
}

int countLines(const sim::Record& record, rules::Outcome outcome, const std::string& snare)
{
    int count = 0;
    for (const rules::Line& line : record.journal.lines)
        count +=
            line.kind == rules::LineKind::snare && line.outcome == outcome && record.snareNameOf(line.snare) == snare
                ? 1
                : 0;
    return count;
}

} // namespace

void TestJourney::weighsTheCourierByHandAndTheBarrowRolls()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_R);
    QCOMPARE(bench.window.stage().mode(), Stage::Mode::recording);
    const Vec before = bench.placeNow("barrow");
    holdUntil(bench, Qt::Key_Right, [](const Vec& at) { return at.x > 0; });
    holdUntil(bench, Qt::Key_Up, [](const Vec& at) { return at.y > 1.6; });
    // Half a second on the plate, then the barrow rolls to the bay and home again.
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow("barrow").x > before.x + 1, 20000);
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    QCOMPARE(bench.window.stage().mode(), Stage::Mode::still);
    const auto played = bench.window.stage().sharedRecord(); // before it is run again
    bench.settle();
    QVERIFY(bench.window.document().hasTake());
    QVERIFY(bench.window.document().isDirty());
    const sim::Record& record = bench.window.stage().record();
    QCOMPARE(countLines(record, rules::Outcome::sprung, "weigh"), 1);
    QCOMPARE(countLines(record, rules::Outcome::sprung, "tally"), 1); // the signal was heard
    // What was played by hand and the re-run of its take tell the same.
    const sim::Record again = sim::rerun(bench.window.document().sharedScene(), bench.window.document().take());
    QCOMPARE(io::logText(again), io::logText(*played));
}

void TestJourney::drawsAZoneDragsAThreadAndSeesTheVaneTurn()
{
    Bench bench;
    bench.openDemo();
    const std::string untouched = bench.text();
    MainWindow& window = bench.window;

    // A zone across the courier's way.
    bench.key(Qt::Key_Z);
    QCOMPARE(window.ground()->tool(), app::ToolKind::zone);
    bench.drag({-7, -1}, {-5.6, 1});
    QCOMPARE(window.document().scene().pieces.back().id, std::string("zone"));
    QCOMPARE(window.selection().piece(), std::string("zone"));

    // A thread from it to the weathervane: one click for the event, one for the response.
    bench.key(Qt::Key_T);
    bench.drag({-6.3, 0}, {10.4, 5});
    auto* events = window.findChild<QListWidget*>(QStringLiteral("threadEvents"));
    auto* responses = window.findChild<QListWidget*>(QStringLiteral("threadResponses"));
    QVERIFY(events && responses);
    QTest::mouseClick(events->viewport(), Qt::LeftButton, {}, events->visualItemRect(events->item(0)).center());
    QTest::mouseClick(responses->viewport(), Qt::LeftButton, {},
                      responses->visualItemRect(responses->item(0)).center());
    QTRY_VERIFY(bench.popup()); // the angle, which stays as it is
    QTest::keyClick(bench.popup(), Qt::Key_Escape);
    const scene::Snare made = window.document().scene().snares.back();
    QCOMPARE(made.id, std::string("turn-vane"));
    QCOMPARE(made.catches.at, std::string("zone"));
    bench.settle();
    QCOMPARE(countLines(window.stage().record(), rules::Outcome::sprung, "turn-vane"),
             2); // the demo's take runs through it, and again after its restart
    QVERIFY(window.transport()->changesText().contains(QStringLiteral("new")));

    // Once only, said in the card.
    QTRY_VERIFY(bench.slot(QStringLiteral("turn-vane"), QStringLiteral("add condition")));
    QTest::mouseClick(bench.slot(QStringLiteral("turn-vane"), QStringLiteral("add condition")), Qt::LeftButton);
    bench.answer(QStringLiteral("once"));
    bench.answer(QStringLiteral("1"));
    QCOMPARE(window.document().scene().snares.back().gate.limit, std::optional(1));

    // Plays again: through the zone, and back into it.
    bench.key(Qt::Key_R);
    const double turnBefore = bench.turnNow("vane");
    holdUntil(bench, Qt::Key_Right, [](const Vec& at) { return at.x > -4.6; });
    QTRY_VERIFY_WITH_TIMEOUT(bench.turnNow("vane") >= turnBefore + 90, 20000);
    holdUntil(bench, Qt::Key_Left, [](const Vec& at) { return at.x < -6; });
    QTest::keyClick(window.ground(), Qt::Key_Escape);
    bench.settle();
    const sim::Record& record = window.stage().record();
    QCOMPARE(countLines(record, rules::Outcome::sprung, "turn-vane"), 1);
    QCOMPARE(countLines(record, rules::Outcome::slipped, "turn-vane"), 1);

    // Sees in the timeline when, and in the moment why not the second time.
    std::int32_t slipped = -1;
    for (std::size_t i = 0; i < record.journal.lines.size(); ++i)
        if (record.journal.lines[i].kind == rules::LineKind::snare &&
            record.journal.lines[i].outcome == rules::Outcome::slipped &&
            record.snareNameOf(record.journal.lines[i].snare) == "turn-vane")
            slipped = static_cast<std::int32_t>(i);
    const std::int32_t tick = record.journal.lines[static_cast<std::size_t>(slipped)].tick;
    const auto diamond = window.timeline()->pointOf("snare turn-vane", tick);
    QVERIFY(diamond);
    QTest::mouseClick(window.timeline()->viewport(), Qt::LeftButton, {}, diamond->toPoint());
    QCOMPARE(window.stage().chosenLine(), slipped);
    QCOMPARE(window.stage().cursor(), tick);
    const QString why = window.moment()->plainText();
    QVERIFY2(why.contains(QStringLiteral("turn-vane slipped at gate: once, already at")), qPrintable(why));

    // Undo leads back, to the byte.
    while (window.document().undoStack()->canUndo())
        bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), untouched);
    QVERIFY(!window.document().isDirty());
}

SNARE_WINDOW_TEST_MAIN(TestJourney)
#include "sim/recorder.h"
#include "test_journey.moc"
