// SPDX-License-Identifier: Apache-2.0
/// Keeping a play-through right, in the window: expecting what is seen, what came nearest,
/// accepting what is now; and asking why.
#include "app/panels/takes_panel.h"
#include "app/timeline/lanes.h"
#include "app/timeline/flow_view.h"
#include "app/timeline/ledger_view.h"
#include "app/window/reading.h"
#include "hands.h"
#include "words/expectations.h"

#include <QClipboard>
#include <QDialog>
#include <QGuiApplication>
#include <QLabel>
#include <QProcess>
#include <QPushButton>
#include <QStatusBar>
#include <QTableView>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

namespace {

/// A cart that drives into a bay; the key a puts it back; a snare that counts.
const char* const quay = R"('name': 'Quay', 'variables': {'n': 0}, 'pieces': [
    {'id': 'cart', 'at': [-3, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.5}], 'properties': {'load': 2}},
    {'id': 'bay', 'at': [0, 0], 'shapes': [{'role': 'zone', 'box': [2, 2]}]}],
    'snares': [
    {'id': 'count', 'catch': {'event': 'enter', 'at': 'bay'}, 'responses': [{'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1}]},
    {'id': 'back', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [{'do': 'put', 'on': 'cart', 'at': [-3, 0]}]}])";

struct Fixture : Hands {
    app::Document& document() { return window.document(); }
    app::TimelineView* timeline() { return window.findChild<app::TimelineView*>(); }
    QWidget* lanes() { return timeline()->viewport(); }
    const scene::Take& take() { return window.document().take(); }

    /// Opens a scene of its own with a take of 6 s that presses a at 4 s.
    void openQuay(const std::string& scene = quay)
    {
        const std::string path = folder.filePath(QStringLiteral("quay")).toStdString();
        QVERIFY(io::saveText(path + ".snare.json", io::sceneText(sceneFrom(scene))));
        scene::Take one = takeFrom(R"({'t': 4, 'key': 'a', 'down': true}, {'t': 4.1, 'key': 'a', 'down': false})", 6);
        one.scene = "quay.snare.json";
        QVERIFY(io::saveText(path + ".take.json", io::takeText(one)));
        QVERIFY(window.openFile(QString::fromStdString(path + ".snare.json")));
        settle();
        layOut();
    }
    /// Opens the menu of the lanes at a moment of a lane.
    void menuAt(const std::string& lane, double seconds)
    {
        const auto place = timeline()->pointOf(lane, seconds * 60);
        QVERIFY2(place, lane.c_str());
        const QPoint at = place->toPoint();
        QContextMenuEvent event{QContextMenuEvent::Mouse, at, lanes()->mapToGlobal(at)};
        QApplication::sendEvent(lanes(), &event);
    }
    void expectAt(const std::string& lane, double seconds, const QString& entry)
    {
        menuAt(lane, seconds);
        chooseInMenu(entry);
        settle();
    }
    QString said(std::size_t index)
    {
        return index < take().expect.size() ? QString::fromStdString(words::expectationText(take().expect[index]))
                                            : QStringLiteral("nothing");
    }
    bool held(std::size_t index) { return window.stage().judgement().verdicts.at(index).held; }
    void openTakes()
    {
        order(QStringLiteral("Show Takes"));
        settle();
        layOut();
    }
    app::SlotButton* expectSlot(const QString& name)
    {
        auto* list = window.findChild<QWidget*>(QStringLiteral("expectations"));
        return list ? list->findChild<app::SlotButton*>(name) : nullptr;
    }
    void fill(const QString& name, const QString& text)
    {
        QTRY_VERIFY2(expectSlot(name), qPrintable(name));
        QTest::mouseClick(expectSlot(name), Qt::LeftButton);
        answer(text);
        settle();
        layOut();
    }
    QListWidget* list() { return window.findChild<QListWidget*>(QStringLiteral("takesList")); }
    QString moment() { return window.moment()->plainText(); }
};

} // namespace

class TestTakes : public QObject {
    Q_OBJECT

  private slots:
    void whatIsSeenIsExpectedWithTwoClicks();
    void aWindowIsDraggedInItsLane();
    void expectationsAreMadeFromNothing();
    void whatFailsSaysWhatCameNearestAndLeadsThere();
    void whatIsNowIsAccepted();
    void allTakesOfTheFolderAreRun();
    void whatLedToIsWalkedBackAndForth();
    void whyAPieceIsHere();
    void namesFollowInExpectations();
    void theSceneIsReadInSentences();
    void anotherVersionIsCompared();
    void aRevisionIsCompared();
    void whatIsConfirmedUnchangedStays();
    void whatTakesNeverUseIsShown();
    void howSureATakeIsIsShown();
    void theFlowIsCountedAndDrawn();
};

void TestTakes::whatIsSeenIsExpectedWithTwoClicks()
{
    Fixture bench;
    bench.openQuay();
    // The cart comes into the bay at 1.517 s: its diamond, its bar, the value, the visit.
    const double enters = 91.0 / 60;
    bench.expectAt("snare count", enters, QStringLiteral("Expect: must come"));
    QCOMPARE(bench.said(0), QStringLiteral("count springs"));
    QVERIFY(bench.held(0));
    bench.expectAt("snare count", enters, QStringLiteral("Expect: about then"));
    QCOMPARE(bench.said(1), QStringLiteral("count springs between 1.27 and 1.77 s"));
    bench.expectAt("value scene.n", 2, QStringLiteral("Expect: this value at 2.00 s"));
    QCOMPARE(bench.said(2), QStringLiteral("at 2 s scene.n is 1"));
    bench.expectAt("value scene.n", 2, QStringLiteral("Expect: never above 2"));
    QCOMPARE(bench.said(3), QStringLiteral("always scene.n is at most 2"));
    QVERIFY(bench.window.stage().judgement().passed());
    // One step each, and undone.
    bench.document().undoStack()->undo();
    QCOMPARE(bench.take().expect.size(), 3u);
    // From the ledger, too.
    bench.order(QStringLiteral("Show Ledger"));
    bench.layOut();
    auto* table = bench.window.findChild<QTableView*>(QStringLiteral("ledgerTable"));
    emit table->customContextMenuRequested(table->visualRect(table->model()->index(0, 0)).center());
    bench.chooseInMenu(QStringLiteral("Expect: must come"));
    bench.settle();
    QCOMPARE(bench.take().expect.size(), 4u);
    // What is expected stands in the file.
    bench.order(QStringLiteral("Save"));
    const auto saved = io::loadTake(bench.folder.filePath(QStringLiteral("quay.take.json")).toStdString());
    QVERIFY(saved && saved->expect == bench.take().expect);
}

void TestTakes::aWindowIsDraggedInItsLane()
{
    Fixture bench;
    bench.openQuay();
    bench.expectAt("snare count", 91.0 / 60, QStringLiteral("Expect: about then"));
    bench.layOut();
    QVERIFY(bench.held(0));
    const auto end = bench.timeline()->pointOf("expected", 1.77 * 60);
    const auto to = bench.timeline()->pointOf("expected", 3 * 60);
    QVERIFY(end && to);
    QTest::mousePress(bench.lanes(), Qt::LeftButton, {}, end->toPoint());
    for (const QPointF& point : {(*end + *to) / 2, *to}) {
        QMouseEvent move{QEvent::MouseMove, point, bench.lanes()->mapToGlobal(point), Qt::NoButton, Qt::LeftButton, {}};
        QApplication::sendEvent(bench.lanes(), &move);
    }
    QTest::mouseRelease(bench.lanes(), Qt::LeftButton, {}, to->toPoint());
    bench.settle();
    QVERIFY(bench.take().expect[0].line.between->to > 2.5);
    QCOMPARE(bench.take().expect[0].line.between->from, 1.27);
    bench.document().undoStack()->undo(); // the drag was one step
    QCOMPARE(bench.take().expect[0].line.between->to, 1.77);
    // Brought back, or let go of with Esc, it is as it was.
    for (const bool escaped : {false, true}) {
        bench.settle();
        bench.layOut();
        const std::string before = io::takeText(bench.take());
        QTest::mousePress(bench.lanes(), Qt::LeftButton, {}, end->toPoint());
        for (const QPointF& point : {*to, escaped ? *to : QPointF{end->toPoint()}}) {
            QMouseEvent move{QEvent::MouseMove, point,          bench.lanes()->mapToGlobal(point),
                             Qt::NoButton,      Qt::LeftButton, {}};
            QApplication::sendEvent(bench.lanes(), &move);
        }
        QVERIFY((io::takeText(bench.take()) != before) == escaped);
        if (escaped)
            QTest::keyClick(bench.timeline(), Qt::Key_Escape);
        QTest::mouseRelease(bench.lanes(), Qt::LeftButton, {}, to->toPoint());
        QVERIFY(io::takeText(bench.take()) == before);
    }
    // Its menu takes it away.
    bench.settle();
    bench.layOut();
    bench.expectAt("expected", 1.4, QStringLiteral("Remove this expectation"));
    QVERIFY(bench.take().expect.empty());
}

/// Each kind is added by hand and changed in its slots, without a file.
void TestTakes::expectationsAreMadeFromNothing()
{
    Fixture bench;
    bench.openQuay();
    bench.openTakes();
    const std::pair<const char*, const char*> kinds[] = {
        {"event", "anyone enters cart"},      {"snare", "count springs"},
        {"never", "never: anyone enters cart"}, {"order", "first anyone enters cart, then anyone leaves cart"},
        {"value", "at 0 s scene.n is 0"},     {"inside", "at 0 s cart is inside cart"},
        {"response", "count does say"},       {"phase", "phase phase of the scene begins"},
        {"signal", "signal signal is raised"}};
    for (std::size_t i = 0; i < std::size(kinds); ++i) {
        QTRY_VERIFY(bench.expectSlot(QStringLiteral("add expectation")));
        QTest::mouseClick(bench.expectSlot(QStringLiteral("add expectation")), Qt::LeftButton);
        QTRY_VERIFY(bench.popup());
        auto* choices = bench.popup()->findChild<QListWidget*>();
        bool found = false;
        for (int row = 0; row < choices->count() && !found; ++row)
            if (choices->item(row)->data(Qt::UserRole).toString() == QLatin1String(kinds[i].first)) {
                found = true;
                QTest::mouseClick(choices->viewport(), Qt::LeftButton, {},
                                  choices->visualItemRect(choices->item(row)).center());
            }
        QVERIFY2(found, kinds[i].first);
        bench.settle();
        bench.layOut();
        QCOMPARE(bench.said(i), QString::fromUtf8(kinds[i].second));
    }
    bench.fill(QStringLiteral("expect 1 at"), QStringLiteral("bay"));
    bench.fill(QStringLiteral("expect 1 by"), QStringLiteral("cart"));
    QCOMPARE(bench.said(0), QStringLiteral("cart enters bay"));
    QVERIFY(bench.held(0));
    QTest::mouseClick(bench.expectSlot(QStringLiteral("expect 2 outcome")), Qt::LeftButton);
    bench.settle();
    QCOMPARE(bench.said(1), QStringLiteral("count slips"));
    bench.fill(QStringLiteral("expect 3 never at"), QStringLiteral("bay"));
    QCOMPARE(bench.said(2), QStringLiteral("never: anyone enters bay"));
    bench.fill(QStringLiteral("expect 4 step 1 at"), QStringLiteral("bay"));
    bench.fill(QStringLiteral("expect 4 step 2 at"), QStringLiteral("bay"));
    QVERIFY(bench.held(3));
    bench.fill(QStringLiteral("expect 5 when"), QStringLiteral("always"));
    bench.fill(QStringLiteral("expect 5 to"), QStringLiteral("2"));
    QCOMPARE(bench.said(4), QStringLiteral("always scene.n is 2"));
    bench.fill(QStringLiteral("expect 6 when"), QStringLiteral("2"));
    bench.fill(QStringLiteral("expect 6 place"), QStringLiteral("bay"));
    QCOMPARE(bench.said(5), QStringLiteral("at 2 s cart is inside bay"));
    QVERIFY(bench.held(5));
    bench.fill(QStringLiteral("expect 7 response"), QStringLiteral("add"));
    QVERIFY(bench.held(6));
    bench.fill(QStringLiteral("take note"), QStringLiteral("the cart comes twice"));
    QCOMPARE(bench.take().note, "the cart comes twice");
    QTest::mouseClick(bench.expectSlot(QStringLiteral("take stops")), Qt::LeftButton);
    QVERIFY(bench.take().stops);
}

void TestTakes::whatFailsSaysWhatCameNearestAndLeadsThere()
{
    Fixture bench;
    bench.openQuay();
    bench.expectAt("snare count", 91.0 / 60, QStringLiteral("Expect: about then"));
    QVERIFY(bench.held(0));
    // The bay is moved away: the cart comes later.
    bench.document().edit(QStringLiteral("Move bay"), [](scene::Scene& scene) {
        scene::findPiece(scene, "bay")->at = {0.75, 0};
    });
    bench.settle();
    QVERIFY(!bench.held(0));
    bench.openTakes();
    auto* why = bench.window.findChild<QLabel*>(QStringLiteral("expect 1 why"));
    QVERIFY(why);
    QCOMPARE(why->text(), QStringLiteral("it did not come; nearest: count at 2.267 s, 0.497 s after the span"));
    QVERIFY(bench.window.findChild<QLabel*>(QStringLiteral("takesCount"))->text().contains(QStringLiteral("1 failed")));
    QTest::mouseClick(bench.window.findChild<app::SlotButton*>(QStringLiteral("expect 1 go")), Qt::LeftButton);
    QCOMPARE(bench.window.stage().cursor(), 136);
    QVERIFY2(bench.moment().contains(QStringLiteral("cart entered bay")), qPrintable(bench.moment()));
}

void TestTakes::whatIsNowIsAccepted()
{
    Fixture bench;
    bench.openQuay();
    bench.expectAt("snare count", 91.0 / 60, QStringLiteral("Expect: about then"));
    bench.expectAt("value scene.n", 2, QStringLiteral("Expect: this value at 2.00 s"));
    bench.document().edit(QStringLiteral("Move bay"), [](scene::Scene& scene) {
        scene::findPiece(scene, "bay")->at = {0.75, 0};
    });
    bench.settle();
    QCOMPARE(bench.window.stage().judgement().failures(), 2u);
    bench.openTakes();
    const scene::Take before = bench.take();
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("takeAccept")), Qt::LeftButton);
    QTRY_VERIFY(bench.window.findChild<QDialog*>(QStringLiteral("acceptNow")));
    QVERIFY(bench.take() == before); // it is shown first
    QTest::mouseClick(bench.window.findChild<QPushButton*>(QStringLiteral("acceptNowYes")), Qt::LeftButton);
    bench.settle();
    QVERIFY(bench.window.stage().judgement().passed());
    QCOMPARE(bench.said(1), QStringLiteral("at 2 s scene.n is 0"));
    bench.document().undoStack()->undo(); // one step
    QVERIFY(bench.take() == before);
}

void TestTakes::allTakesOfTheFolderAreRun()
{
    Fixture bench;
    bench.openQuay();
    const std::string other = bench.folder.filePath(QStringLiteral("other")).toStdString();
    QVERIFY(io::saveText(other + ".snare.json", io::sceneText(sceneFrom(quay))));
    scene::Take take = takeFrom("", 3);
    take.scene = "other.snare.json";
    take.note = "nobody hits anything";
    scene::Expectation hit;
    hit.line.event = scene::EventKind::hit;
    take.expect.push_back(hit);
    QVERIFY(io::saveText(other + ".take.json", io::takeText(take)));
    bench.openTakes();
    QTRY_COMPARE(bench.list()->count(), 2);
    QCOMPARE(bench.list()->item(1)->data(Qt::UserRole).toString(), QStringLiteral("other"));
    QCOMPARE(bench.list()->item(1)->data(Qt::UserRole + 2).toString(), QStringLiteral("not run yet"));
    auto* panel = bench.window.findChild<app::TakesPanel*>(QStringLiteral("takes"));
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("takesRun")), Qt::LeftButton);
    QTRY_VERIFY(!panel->isRunning());
    QTRY_COMPARE(bench.list()->item(1)->data(Qt::UserRole + 2).toString(), QStringLiteral("1 of 1 failed"));
    QVERIFY(
        bench.window.findChild<QToolButton*>(QStringLiteral("view 3"))->text().contains(QStringLiteral("1 failed")));
    // New, copied, renamed, removed.
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("takeNew")), Qt::LeftButton);
    bench.settle();
    QCOMPARE(bench.document().takes().size(), 2u);
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("takeRename")), Qt::LeftButton);
    bench.answer(QStringLiteral("night"));
    QCOMPARE(bench.document().takes()[1].name, "night");
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("takeRemove")), Qt::LeftButton);
    QCOMPARE(bench.document().takes().size(), 1u);
}

void TestTakes::whatLedToIsWalkedBackAndForth()
{
    Fixture bench;
    bench.openQuay();
    // The second time the cart comes in because the key put it back.
    const auto& lines = bench.window.stage().record().journal.lines;
    std::int32_t second = -1;
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines[i].kind == rules::LineKind::event && lines[i].event == scene::EventKind::enter &&
            bench.window.stage().record().nameOf(lines[i].self) == "bay")
            second = static_cast<std::int32_t>(i);
    bench.window.stage().chooseLine(second);
    QVERIFY2(
        bench.moment().contains(QStringLiteral("because: A was pressed › back › put cart › 1.5 s › cart entered bay")),
        qPrintable(bench.moment()));
    bench.order(QStringLiteral("What led to it"));
    QVERIFY(lines[static_cast<std::size_t>(bench.window.stage().chosenLine())].kind == rules::LineKind::response);
    bench.order(QStringLiteral("What led to it"));
    bench.order(QStringLiteral("What led to it"));
    QCOMPARE(lines[static_cast<std::size_t>(bench.window.stage().chosenLine())].event, scene::EventKind::keyDown);
    bench.order(QStringLiteral("What came of it"));
    QVERIFY(lines[static_cast<std::size_t>(bench.window.stage().chosenLine())].kind == rules::LineKind::snare);
    // A value leads to what set it: its step in the lane is clicked.
    const auto step = bench.timeline()->pointOf("value scene.n", 91);
    QVERIFY(step);
    QTest::mouseClick(bench.lanes(), Qt::LeftButton, {}, step->toPoint());
    QVERIFY2(bench.moment().contains(QStringLiteral("count › add scene n = 1 › n of scene changed")),
             qPrintable(bench.moment()));
}

void TestTakes::whyAPieceIsHere()
{
    Fixture bench;
    bench.openQuay();
    bench.selectAndWait("cart");
    bench.window.stage().setCursor(300);
    QVERIFY2(bench.moment().contains(QStringLiteral("is here because: put cart")), qPrintable(bench.moment()));
    bench.order(QStringLiteral("Why is the piece here?"));
    const auto& line =
        bench.window.stage().record().journal.lines[static_cast<std::size_t>(bench.window.stage().chosenLine())];
    QVERIFY(line.kind == rules::LineKind::response);
    QCOMPARE(bench.window.stage().cursor(), 240);
}

void TestTakes::namesFollowInExpectations()
{
    Fixture bench;
    bench.openQuay();
    bench.expectAt("snare count", 91.0 / 60, QStringLiteral("Expect: must come"));
    bench.expectAt("value scene.n", 2, QStringLiteral("Expect: this value at 2.00 s"));
    bench.document().rename(scene::Thing::snare, "count", "tally");
    bench.document().rename(scene::Thing::value, "n", "carts");
    bench.settle();
    QCOMPARE(bench.said(0), QStringLiteral("tally springs"));
    QCOMPARE(bench.said(1), QStringLiteral("at 2 s scene.carts is 1"));
    QVERIFY(bench.window.stage().judgement().passed());
}

void TestTakes::theSceneIsReadInSentences()
{
    Fixture bench;
    bench.openQuay();
    bench.order(QStringLiteral("Read in sentences…"));
    auto* reading = bench.window.findChild<app::Reading*>();
    QVERIFY(reading && reading->isVisible());
    QTRY_VERIFY(reading->text().contains(
        QStringLiteral("Snare count\n    When anyone enters bay\n    1. add 1 to n of the scene")));
    // It follows what is changed, and is copied.
    bench.document().edit(QStringLiteral("Move bay"), [](scene::Scene& scene) {
        scene::findPiece(scene, "bay")->at = {0.75, 0};
    });
    QTRY_VERIFY(reading->text().contains(QStringLiteral("at 0.75, 0")));
    QTest::mouseClick(reading->findChild<QPushButton*>(QStringLiteral("readingCopy")), Qt::LeftButton);
    QCOMPARE(QGuiApplication::clipboard()->text(), reading->text());
}

void TestTakes::anotherVersionIsCompared()
{
    Fixture bench;
    bench.openQuay();
    bench.document().edit(QStringLiteral("Move bay"), [](scene::Scene& scene) {
        scene::findPiece(scene, "bay")->at = {0.75, 0};
    });
    bench.settle();
    bench.document().edit(QStringLiteral("Name it"), [](scene::Scene& scene) { scene.name = "New quay"; });
    bench.settle();
    bench.order(QStringLiteral("The saved state"));
    QTRY_VERIFY(bench.window.findChild<QListWidget*>(QStringLiteral("comparingList")));
    auto* list = bench.window.findChild<QListWidget*>(QStringLiteral("comparingList"));
    QTRY_VERIFY(list->count() > 4);
    QStringList texts;
    for (int row = 0; row < list->count(); ++row)
        texts << list->item(row)->text();
    QVERIFY2(texts.contains(QStringLiteral("− Scene Quay")) && texts.contains(QStringLiteral("+ Scene New quay")) &&
                 texts.contains(QStringLiteral("+ at 0.75, 0")) && !texts.contains(QStringLiteral("+ holds n = 0")),
             qPrintable(texts.join(QLatin1Char('|'))));
    const int moved = static_cast<int>(texts.indexOf(QStringLiteral("~ 2.267 s  count, before at 1.517 s")));
    QVERIFY2(moved >= 0, qPrintable(texts.join(QLatin1Char('|'))));
    // The lanes show the other one as ghosts, and what is clicked is gone to.
    QVERIFY(bench.window.stage().earlier() && !bench.window.stage().differences().moved.empty());
    list->setCurrentRow(moved);
    QTest::keyClick(list, Qt::Key_Return);
    QCOMPARE(bench.window.stage().cursor(), 136);
    // An edit is compared with it, too.
    bench.document().undoStack()->undo();
    bench.document().undoStack()->undo();
    bench.settle();
    QTRY_COMPARE(bench.window.findChild<QLabel*>(QStringLiteral("comparingSaid"))->text(),
                 QStringLiteral("It is the same as the saved state."));
}

void TestTakes::aRevisionIsCompared()
{
    Fixture bench;
    bench.openQuay();
    const auto git = [&](const QStringList& words) {
        QProcess process;
        process.setWorkingDirectory(bench.folder.path());
        process.start(QStringLiteral("git"),
                      QStringList{QStringLiteral("-c"), QStringLiteral("user.name=Anka"), QStringLiteral("-c"),
                                  QStringLiteral("user.email=anka@samphire.example")} +
                          words);
        return process.waitForFinished() && process.exitCode() == 0;
    };
    if (!git({QStringLiteral("init"), QStringLiteral("-q")}))
        QSKIP("git is missing");
    bench.order(QStringLiteral("A revision in git…"));
    QTRY_VERIFY(bench.window.statusBar()->currentMessage().contains(QStringLiteral("was never committed")));
    QVERIFY(git({QStringLiteral("add"), QStringLiteral("quay.snare.json")}));
    QVERIFY(git({QStringLiteral("commit"), QStringLiteral("-qm"), QStringLiteral("the quay")}));
    bench.document().edit(QStringLiteral("Move bay"), [](scene::Scene& scene) {
        scene::findPiece(scene, "bay")->at = {0.75, 0};
    });
    bench.settle();
    bench.order(QStringLiteral("A revision in git…"));
    bench.answer(QStringLiteral("the quay"));
    QTRY_VERIFY(bench.window.findChild<QListWidget*>(QStringLiteral("comparingList")));
    auto* list = bench.window.findChild<QListWidget*>(QStringLiteral("comparingList"));
    QTRY_VERIFY(!list->findItems(QStringLiteral("+ at 0.75, 0"), Qt::MatchExactly).isEmpty());
    QVERIFY(bench.window.findChild<QLabel*>(QStringLiteral("comparingSaid"))
                ->text()
                .contains(QStringLiteral("since revision ")));
}

/// A slot that is opened and confirmed leaves the take as it is, to the byte.
void TestTakes::whatIsConfirmedUnchangedStays()
{
    Fixture bench;
    bench.openQuay();
    scene::Take take = bench.take();
    take.note = "the cart comes twice";
    std::string expect =
        R"({'event': 'enter', 'at': 'bay', 'by': 'cart', 'times': {'min': 1, 'max': 3}, 'between': [1.23456, 5.5], 'note': 'twice'},
        {'event': 'hit', 'at': 'bay', 'speed': {'min': 2.5}},
        {'never': {'snare': 'count', 'outcome': 'slipped', 'stage': 'gate'}},
        {'order': [{'event': 'enter', 'at': 'bay'}, {'signal': 'bell', 'with': {'who': 'Anka'}}]},
        {'at': 1.23456, 'value': 'scene.n', 'is': '<', 'to': 2, 'within': 0.5}, {'value': 'scene.n', 'to': 2, 'ever': true},
        {'at': 2, 'inside': ['cart', 'bay']}, {'response': 'add', 'snare': 'count', 'on': 'scene'}, {'phase': 'night'})";
    std::ranges::replace(expect, '\'', '"');
    const auto read = io::readTake(R"({"format": "fresh-snare-take", "version": 1, "inputs": [], "expect": [)" + expect + "]}", "test");
    QVERIFY2(read, read ? "" : read.error().front().message().c_str());
    take.expect = read->expect;
    bench.document().setTake(QStringLiteral("Expect"), take);
    bench.settle();
    bench.openTakes();
    const std::string before = io::takeText(bench.take());
    auto* panel = bench.window.findChild<QWidget*>(QStringLiteral("expectations"));
    QStringList names;
    for (const auto* one : panel->findChildren<app::SlotButton*>())
        if (one->kind() == app::SlotButton::Kind::filled && one->objectName() != QLatin1String("take stops"))
            names << one->objectName();
    QVERIFY2(names.size() > 15, qPrintable(names.join(QLatin1Char(' '))));
    for (const QString& name : names) {
        if (name.endsWith(QLatin1String("outcome")) || name.endsWith(QLatin1String("remove")))
            continue; // a click changes it
        QTest::mouseClick(bench.expectSlot(name), Qt::LeftButton);
        QTRY_VERIFY2(bench.popup(), qPrintable(name));
        QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
        if (bench.popup())
            QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
        bench.settle();
        QVERIFY2(io::takeText(bench.take()) == before, qPrintable(name));
    }
    bench.fill(QStringLiteral("take schema"), QStringLiteral("take.schema.json"));
    QCOMPARE(bench.take().schema, "take.schema.json");
    bench.fill(QStringLiteral("take schema"), QString());
    QVERIFY(io::takeText(bench.take()) == before);
    // A speed with an open end is changed and keeps it.
    bench.fill(QStringLiteral("expect 2 speed"), QStringLiteral("at least 3"));
    QCOMPARE(bench.take().expect[1].line.speed.min, 3.0);
    QVERIFY(!bench.take().expect[1].line.speed.max);
}

void TestTakes::whatTakesNeverUseIsShown()
{
    Fixture bench;
    std::string scene = quay;
    const std::string more = R"({'id': 'shed', 'at': [0, 8], 'shapes': [{'role': 'zone', 'box': [2, 2]}]}],
    'snares': [{'id': 'store', 'catch': {'event': 'enter', 'at': 'shed'}, 'responses': [{'do': 'signal', 'name': 'stored'}]},
    {'id': 'full', 'catch': {'event': 'enter', 'at': 'bay'}, 'responses': [{'do': 'log', 'text': 'full', 'if': [{'left': 'scene.n', 'is': '>', 'right': 9}]}]},)";
    const auto at = scene.find("}],\n    'snares': [");
    scene.replace(at + 1, std::string("],\n    'snares': [").size(), ", " + more);
    bench.openQuay(scene);
    bench.window.selection().choosePiece("bay");
    bench.order(QStringLiteral("What takes never use…"));
    auto* list = bench.window.findChild<QListWidget*>(QStringLiteral("coverageList"));
    QVERIFY(list);
    const auto has = [&](const QString& text) { return !list->findItems(text, Qt::MatchContains).isEmpty(); };
    QTRY_VERIFY(has(QStringLiteral("store")));
    QVERIFY(has(QStringLiteral("stored")) && has(QStringLiteral("shed")) && has(QStringLiteral("full, step 1")));
    QVERIFY(!has(QStringLiteral("count")));
    const QString said = bench.window.findChild<QLabel*>(QStringLiteral("coverageSaid"))->text();
    QVERIFY2(said.startsWith(QStringLiteral(
                 "In 1 take: 3 of 4 snares sprang, 2 of 4 responses were done, 2 of 3 zones were visited")),
             qPrintable(said));
    QCOMPARE(bench.window.ground()->options().unvisited, std::set<std::string>{"shed"});
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("card full"));
    QTRY_VERIFY(card && card->findChild<QLabel*>(QStringLiteral("unused 1")));
    // It leads there.
    auto* item = list->findItems(QStringLiteral("   store"), Qt::MatchExactly).front();
    list->scrollToItem(item);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(item).center());
    QCOMPARE(bench.window.selection().snare(), "store");
    QTRY_VERIFY(
        bench.window.findChild<QWidget*>(QStringLiteral("card store"))->findChild<QLabel*>(QStringLiteral("unused")));
    // An edit that leads the cart there is seen.
    bench.document().edit(QStringLiteral("move"), [](scene::Scene& one) {
        scene::findPiece(one, "shed")->at = {0, 0};
    });
    QTRY_VERIFY(bench.window.ground()->options().unvisited.empty());
    QVERIFY(bench.window.findChild<QLabel*>(QStringLiteral("coverageSaid"))
                ->text()
                .contains(QStringLiteral("4 of 4 snares")));
    bench.window.findChild<QDialog*>(QStringLiteral("coverage"))->close();
    QTRY_VERIFY(!bench.window.findChild<QLabel*>(QStringLiteral("unused 1")));
}

void TestTakes::howSureATakeIsIsShown()
{
    Fixture bench;
    bench.openQuay();
    scene::Take take = bench.take();
    scene::Expectation twice;
    twice.line.event = scene::EventKind::enter;
    twice.line.at.place = "bay";
    twice.line.between = scene::Span{0, 5.5};
    scene::Expectation tight = twice;
    tight.line.between = scene::Span{5.42, 5.55}; // the second time comes 1.5 s after the key
    take.expect = {twice, tight};
    bench.document().setTake(QStringLiteral("Expect"), take);
    bench.settle();
    bench.openTakes();
    bench.order(QStringLiteral("How sure is the take…"));
    bench.answer(QStringLiteral("no"));
    QVERIFY(bench.popup()); // two numbers, please
    bench.answer(QStringLiteral("40, 60"));
    app::Variation& variation = bench.window.stage().variation();
    QTRY_VERIFY(variation.result());
    QCOMPARE(variation.result()->runs, 40);
    QVERIFY(
        bench.window.findChild<QLabel*>(QStringLiteral("takeSureSaid"))->text().contains(QStringLiteral("40 runs")));
    const auto& sure = variation.result()->expectations;
    QCOMPARE(sure[0].held, 40);
    QVERIFY(sure[1].held > 5 && sure[1].held < 40);
    bench.layOut();
    QTRY_COMPARE(bench.expectSlot(QStringLiteral("expect 1 sure"))->text(), QStringLiteral("always"));
    QVERIFY(bench.expectSlot(QStringLiteral("expect 2 sure"))->text().endsWith(QStringLiteral(" %")));
    // The second enter comes earlier and later, the first one does not depend on a key.
    std::vector<std::int32_t> spans;
    for (const check::HowSteady& one : variation.result()->events) {
        const rules::Line& line = bench.window.stage().record().journal.lines[static_cast<std::size_t>(one.line)];
        if (line.event == scene::EventKind::enter && bench.window.stage().record().nameOf(line.self) == "bay")
            spans.push_back(one.last - one.first);
    }
    QCOMPARE(spans.size(), 2u);
    QCOMPARE(spans[0], 0);
    QVERIFY(spans[1] >= 4 && spans[1] <= 8);
    // A take with which it did not hold is one click away.
    QTest::mouseClick(bench.expectSlot(QStringLiteral("expect 2 sure")), Qt::LeftButton);
    QCOMPARE(bench.document().takes().size(), 2u);
    bench.settle();
    QVERIFY(!bench.held(1));
    // It is about the take as it was.
    QVERIFY(!variation.result());
}

void TestTakes::theFlowIsCountedAndDrawn()
{
    if (QStandardPaths::findExecutable(QStringLiteral("dot")).isEmpty())
        QSKIP("graphviz is missing");
    Fixture bench;
    bench.openQuay();
    bench.order(QStringLiteral("Show Flow"));
    auto* flow = bench.window.findChild<app::FlowView*>();
    QTRY_VERIFY(flow->isFresh());
    const auto edge = [&](const char* from, const char* to) {
        const auto& map = flow->map().flow;
        for (std::size_t i = 0; i < map.edges.size(); ++i)
            if (map.nodes[map.edges[i].from].name == from && map.nodes[map.edges[i].to].name == to)
                return static_cast<int>(i);
        return -1;
    };
    QVERIFY(edge("bay", "count") >= 0 && edge("count", "n") >= 0 && edge("back", "cart") >= 0);
    QTRY_COMPARE(flow->timesOf(static_cast<std::size_t>(edge("bay", "count"))), 2);
    QCOMPARE(flow->timesOf(static_cast<std::size_t>(edge("count", "n"))), 2);
    QCOMPARE(flow->timesOf(static_cast<std::size_t>(edge("back", "cart"))), 1);
    const QString file = bench.folder.filePath(QStringLiteral("flow.svg"));
    QCOMPARE(flow->saveSvg(file), QString());
    QFile drawn{file};
    QVERIFY(drawn.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(drawn.readAll());
    QVERIFY(text.contains(QStringLiteral("<svg")) && text.contains(QStringLiteral("count")) &&
            text.contains(QStringLiteral("× 2")));
}

SNARE_WINDOW_TEST_MAIN(TestTakes)
#include "test_takes.moc"
