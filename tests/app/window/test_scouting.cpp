// SPDX-License-Identifier: Apache-2.0
/// The bench plays by itself, asked for by hand (N38): started, stopped, looked at, kept as takes.
#include "app/window/scout_window.h"
#include "hands.h"

#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QUndoStack>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

namespace {

struct Fixture : Hands {
    /// A courier, a plate that it can walk to, and a tag that nobody has.
    void layQuay()
    {
        window.document().edit(QStringLiteral("Lay"), [](scene::Scene& scene) {
            scene.bounds = {{-4, -3, 6, 3}};
            scene.pieces = {walker("courier", {-2, 0}), zone("plate", {3, 0}, {1, 1})};
            scene.snares = {onEvent("weigh", EventKind::enter, "plate"), onEvent("count", EventKind::exit, "plate"),
                            onEvent("staff", EventKind::enter, "plate")};
            scene.snares[2].filter.tags.any = {"staff"};
        });
        settle();
    }
    app::ScoutWindow* scout() { return window.findChild<app::ScoutWindow*>(); }
    QListWidget* list() { return scout()->findChild<QListWidget*>(QStringLiteral("scoutList")); }
    QString told() { return scout()->findChild<QLabel*>(QStringLiteral("scoutSaid"))->text(); }
    QPushButton* button(const char* name) { return scout()->findChild<QPushButton*>(QLatin1String(name)); }
    void clickOn(const char* name)
    {
        QVERIFY2(button(name)->isEnabled(), name);
        QTest::mouseClick(button(name), Qt::LeftButton);
    }
    void open(const QString& amount)
    {
        order(QStringLiteral("Scout…"));
        QTRY_VERIFY(scout());
        QTest::mouseClick(scout()->findChild<app::SlotButton*>(QStringLiteral("scoutAmount")), Qt::LeftButton);
        answer(amount);
    }
    bool isThrough() { return button("scoutStart")->text() == QStringLiteral("Scout"); }
    /// The texts of the list; heads stand as they are.
    QStringList rows()
    {
        QStringList all;
        for (int row = 0; row < list()->count(); ++row)
            all << list()->item(row)->text();
        return all;
    }
    void clickRow(const QString& beginning)
    {
        for (int row = 0; row < list()->count(); ++row)
            if (list()->item(row)->text().startsWith(beginning)) {
                list()->scrollToItem(list()->item(row));
                return QTest::mouseClick(list()->viewport(), Qt::LeftButton, {},
                                         list()->visualItemRect(list()->item(row)).center());
            }
        QFAIL(qPrintable(beginning + QStringLiteral(" is not among ") + rows().join(QStringLiteral("; "))));
    }
    QUndoStack* undo() { return window.document().undoStack(); }
};

} // namespace

class TestScouting : public QObject {
    Q_OBJECT

  private slots:
    void whatWasFoundIsListedAndKept();
    void allOfItIsKeptInOneStep();
    void afterAnEditItIsOld();
    void itIsStopped();
    void theWindowMayBeClosedMeanwhile();
    void anotherSceneForgetsIt();
    void figuresAreChecked();
    void itIsOfferedForWhatTakesNeverUse();
};

void TestScouting::whatWasFoundIsListedAndKept()
{
    Fixture bench;
    bench.layQuay();
    bench.open(QStringLiteral("150, 12"));
    QVERIFY(bench.rows().isEmpty() && !bench.button("scoutKeep")->isEnabled());
    bench.clickOn("scoutStart");
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough() && !bench.rows().isEmpty(), 60000);
    QVERIFY2(bench.told().startsWith(QStringLiteral("150 plays, ")), qPrintable(bench.told()));
    QVERIFY(bench.told().endsWith(QStringLiteral("2 of 3 snares sprang.")));
    const QStringList rows = bench.rows();
    QVERIFY(rows.indexOf(QStringLiteral("never sprang")) < rows.indexOf(QStringLiteral("sprang")));
    QVERIFY(!rows.filter(QStringLiteral("slipped most often at filter, tag staff is missing")).isEmpty());
    // A row leads to its snare; without a take there is nothing to keep.
    bench.clickRow(QStringLiteral("staff: "));
    QCOMPARE(bench.window.selection().snare(), std::string("staff"));
    QVERIFY(!bench.button("scoutKeep")->isEnabled());
    bench.clickRow(QStringLiteral("count: "));
    QCOMPARE(bench.window.selection().snare(), std::string("count"));
    const int steps = bench.undo()->index();
    bench.clickOn("scoutKeep");
    const app::Document& document = bench.window.document();
    QCOMPARE(document.takes().size(), std::size_t{2});
    QCOMPARE(document.currentTake(), std::size_t{1});
    QCOMPARE(document.takes()[1].name, std::string("springs-count"));
    QVERIFY(document.take().note.find("count springs") != std::string::npos);
    bench.settle();
    QVERIFY(bench.window.stage().judgement().passed());
    QCOMPARE(bench.window.stage().judgement().verdicts.size(), std::size_t{1}); // that it springs
    QCOMPARE(bench.undo()->index(), steps + 1);
    bench.undo()->undo();
    QCOMPARE(document.takes().size(), std::size_t{1});
}

void TestScouting::allOfItIsKeptInOneStep()
{
    Fixture bench;
    bench.layQuay();
    bench.open(QStringLiteral("150, 12"));
    bench.clickOn("scoutStart");
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough() && !bench.rows().isEmpty(), 60000);
    bench.clickOn("scoutKeepAll");
    QCOMPARE(bench.window.document().takes().size(), std::size_t{3});
    bench.undo()->undo();
    QCOMPARE(bench.window.document().takes().size(), std::size_t{1});
}

void TestScouting::afterAnEditItIsOld()
{
    Fixture bench;
    bench.layQuay();
    bench.open(QStringLiteral("60, 10"));
    bench.clickOn("scoutStart");
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough() && !bench.rows().isEmpty(), 60000);
    const int rows = static_cast<int>(bench.rows().size());
    bench.window.document().edit(QStringLiteral("Move"), [](scene::Scene& scene) { scene.pieces[1].at.x += 0.5; });
    QTRY_VERIFY(bench.told().endsWith(QStringLiteral("The scene has changed since.")));
    QCOMPARE(bench.rows().size(), rows); // it can still be read
    QVERIFY(!bench.button("scoutKeepAll")->isEnabled());
    bench.undo()->undo();
    QTRY_VERIFY(!bench.told().contains(QStringLiteral("since")));
    QVERIFY(bench.button("scoutKeepAll")->isEnabled());
}

void TestScouting::itIsStopped()
{
    Fixture bench;
    bench.layQuay();
    bench.open(QStringLiteral("10000000, 20"));
    bench.clickOn("scoutStart");
    QCOMPARE(bench.button("scoutStart")->text(), QStringLiteral("Stop"));
    QTRY_VERIFY_WITH_TIMEOUT(bench.told().contains(QStringLiteral(": 2 of 3 snares sprang")), 60000);
    bench.clickOn("scoutStart");
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough(), 60000);
    QVERIFY(!bench.rows().filter(QStringLiteral("weigh: first at ")).isEmpty());
}

void TestScouting::theWindowMayBeClosedMeanwhile()
{
    {
        Fixture bench;
        bench.layQuay();
        bench.open(QStringLiteral("10000000, 20"));
        bench.clickOn("scoutStart");
        bench.scout()->close();
        QTRY_VERIFY(!bench.scout());
        bench.order(QStringLiteral("Scout…")); // it goes on
        QTRY_VERIFY(bench.scout());
        QCOMPARE(bench.button("scoutStart")->text(), QStringLiteral("Stop"));
    } // and ends with the bench
}

void TestScouting::anotherSceneForgetsIt()
{
    Fixture bench;
    bench.layQuay();
    bench.open(QStringLiteral("60, 10"));
    bench.clickOn("scoutStart");
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough() && !bench.rows().isEmpty(), 60000);
    bench.window.document().startNew(scene::View::side);
    QTRY_VERIFY(bench.rows().isEmpty());
    // Also of one that was under way.
    bench.clickOn("scoutStart");
    bench.window.document().startNew(scene::View::plan);
    QTRY_VERIFY_WITH_TIMEOUT(bench.isThrough(), 60000);
    QVERIFY(bench.rows().isEmpty());
}

void TestScouting::figuresAreChecked()
{
    Fixture bench;
    bench.open(QStringLiteral("0, 10"));
    QVERIFY(bench.popup()); // it stays, and says why
    bench.answer(QStringLiteral("many"));
    QVERIFY(bench.popup());
    bench.answer(QStringLiteral("25, 5"));
    QTRY_VERIFY(!bench.popup());
    QCOMPARE(bench.scout()->findChild<app::SlotButton*>(QStringLiteral("scoutAmount"))->text(),
             QStringLiteral("25 plays of 5 s at most"));
}

void TestScouting::itIsOfferedForWhatTakesNeverUse()
{
    Fixture bench;
    bench.layQuay();
    bench.order(QStringLiteral("What takes never use…"));
    auto* offer = bench.window.findChild<QPushButton*>(QStringLiteral("coverageScout"));
    QVERIFY(offer && !bench.scout());
    QTest::mouseClick(offer, Qt::LeftButton);
    QTRY_VERIFY(bench.scout());
    QTest::mouseClick(offer, Qt::LeftButton); // there is one
    QCOMPARE(bench.window.findChildren<app::ScoutWindow*>().size(), 1);
}

SNARE_WINDOW_TEST_MAIN(TestScouting)
#include "test_scouting.moc"
