// SPDX-License-Identifier: Apache-2.0
/// Timeline, ledger, takes, book and rescue, by mouse and keys in the real window.
#include "app/panels/desk_panel.h"
#include "window_fixture.h"

#include "app/cards/book_panel.h"
#include "app/model/rescue.h"
#include "app/model/take_edit.h"
#include "app/timeline/flow_view.h"
#include "app/timeline/ledger_view.h"
#include "app/ui/funnel.h"
#include "scene/mentions.h"

#include <QClipboard>
#include <QLabel>
#include <QScrollBar>
#include <QTableView>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

class TestLanes : public QObject {
    Q_OBJECT

  private slots:
    void lanesAreFoldedPinnedHiddenAndMoved();
    void lanesOfTheSelectionOnly();
    void jumpsToTheNextEventOfALane();
    void stepsThroughWhatAnEditChanged();
    void loopsASpan();
    void movesAKeyPressByItsBar();
    void stretchesAndDeletesAKeyPress();
    void addsAKeyPressByADoubleClick();
    void pressesKeepTheirOrderAndLength();
    void recordsOnFromAMoment();
    void anEditWhileRecordingRunsThePartSoFarAgain();
    void aScenesTakesAreSavedBesideIt();
    void theFlowShowsWhatListensToWhat();
    void theLedgerFiltersSortsAndCopies();
    void aRowOfTheLedgerIsTheMoment();
    void clickingTheFunnelGoesThroughItsEvents();
    void theBookFiltersByWordEventAndState();
    void snaresAreReorderedByDraggingTheirHeads();
    void responsesAreReorderedByDraggingTheirNumbers();
    void aCardThatCannotWorkSaysSo();
    void aDisarmedSnareSaysWhoArmsIt();
    void aPinnedCardStays();
    void everyFieldOfASnareIsEditedInPlace();
    void theSchemeChangesAndNothingElse();
    void theSchemeReachesEveryView();
    void unsavedWorkIsOfferedBackAfterACrash();
    void savedWorkLeavesNothingBehind();
    void aMomentIsFoundWithoutReadingAll();

  private:
    static const scene::Scene& sceneOf(Bench& bench) { return bench.window.document().scene(); }
    static const scene::Take& takeOfBench(Bench& bench) { return bench.window.document().take(); }

    static QPoint in(Bench& bench, const std::string& lane, double tick)
    {
        const auto point = bench.window.timeline()->pointOf(lane, tick);
        if (!point)
            qFatal("the lane is not shown");
        return point->toPoint();
    }

    static void dragIn(Bench& bench, const QPoint& from, const QPoint& to, Qt::KeyboardModifiers modifiers = {})
    {
        QWidget* viewport = bench.window.timeline()->viewport();
        QTest::mousePress(viewport, Qt::LeftButton, modifiers, from);
        for (int i = 1; i <= 3; ++i) {
            const QPointF at = QPointF{from} + QPointF{to - from} * i / 3.0;
            QMouseEvent move{QEvent::MouseMove, at, viewport->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, modifiers};
            QApplication::sendEvent(viewport, &move);
        }
        QTest::mouseRelease(viewport, Qt::LeftButton, modifiers, to);
    }

    static std::size_t placeOf(const std::vector<std::string>& list, const std::string& entry)
    {
        return static_cast<std::size_t>(std::ranges::find(list, entry) - list.begin());
    }

    static void showTab(Bench& bench, int index)
    {
        bench.window.findChild<QTabWidget*>()->setCurrentIndex(index);
        bench.layOut();
    }
};

void TestLanes::lanesAreFoldedPinnedHiddenAndMoved()
{
    Bench bench;
    bench.openDemo();
    app::TimelineView* timeline = bench.window.timeline();
    const auto before = timeline->shownLanes();
    // The mark at the left folds; the lane takes less room, the next one moves up.
    const std::size_t keys = placeOf(before, "keys");
    const QPoint next = in(bench, before[keys + 1], 0);
    QTest::mouseClick(timeline->viewport(), Qt::LeftButton, {}, QPoint{10, in(bench, "keys", 0).y()});
    QVERIFY(timeline->states().at("keys").folded);
    QVERIFY(in(bench, before[keys + 1], 0).y() < next.y());
    QTest::mouseClick(timeline->viewport(), Qt::LeftButton, {}, QPoint{10, in(bench, "keys", 0).y()});
    QVERIFY(!timeline->states().at("keys").folded);
    // A label dragged down moves its lane.
    const int from = in(bench, before[1], 0).y();
    dragIn(bench, {80, from}, {80, in(bench, before[3], 0).y()});
    QCOMPARE(placeOf(timeline->shownLanes(), before[1]), 3U);
}

void TestLanes::lanesOfTheSelectionOnly()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.window.timeline()->setSelectionOnly(true);
    const auto shown = bench.window.timeline()->shownLanes();
    QVERIFY(placeOf(shown, "zone scale/plate") < shown.size());
    QVERIFY(placeOf(shown, "snare weigh") < shown.size()); // it catches there
    QVERIFY(placeOf(shown, "zone bay/mouth") == shown.size());
    bench.window.timeline()->setSelectionOnly(false);
    bench.window.timeline()->setFilter(QStringLiteral("bay"));
    for (const std::string& lane : bench.window.timeline()->shownLanes())
        QVERIFY(lane.find("bay") != std::string::npos);
}

void TestLanes::jumpsToTheNextEventOfALane()
{
    Bench bench;
    bench.openDemo();
    app::TimelineView* timeline = bench.window.timeline();
    QTest::mouseClick(timeline->viewport(), Qt::LeftButton, {}, QPoint{90, in(bench, "zone scale/plate", 0).y()});
    const app::Lane* lane = nullptr;
    for (const app::Lane& one : timeline->lanes())
        if (one.key == "zone scale/plate")
            lane = &one;
    QVERIFY(lane && lane->bars.size() >= 2);
    bench.window.stage().setCursor(0);
    bench.key(Qt::Key_BracketRight);
    QCOMPARE(bench.window.stage().chosenLine(), lane->bars[0].line);
    bench.key(Qt::Key_BracketRight);
    QCOMPARE(bench.window.stage().chosenLine(), lane->bars[0].endLine);
    bench.key(Qt::Key_BracketLeft);
    QCOMPARE(bench.window.stage().chosenLine(), lane->bars[0].line);
}

void TestLanes::stepsThroughWhatAnEditChanged()
{
    Bench bench;
    bench.openDemo();
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::findPiece(scene, "scale")->at += Vec{1.5, 0}; // entered later
    });
    bench.settle();
    const auto& differences = bench.window.stage().differences();
    const std::size_t all = differences.fresh.size() + differences.gone.size() + differences.moved.size();
    QVERIFY(all > 0);
    QCOMPARE(bench.window.stage().changeCount(), all);
    std::int64_t last = -1;
    for (std::size_t i = 1; i <= all; ++i) {
        QCOMPARE(bench.window.stage().stepChange(1), i);
        QVERIFY(bench.window.stage().cursor() >= last);
        last = bench.window.stage().cursor();
    }
    QCOMPARE(bench.window.stage().stepChange(1), 1U); // round
    QCOMPARE(bench.window.stage().stepChange(-1), all);
}

void TestLanes::loopsASpan()
{
    Bench bench;
    bench.openDemo();
    app::Stage& stage = bench.window.stage();
    QWidget* viewport = bench.window.timeline()->viewport();
    const int x = in(bench, "keys", 120).x();
    dragIn(bench, {x, 8}, {in(bench, "keys", 150).x(), 8}, Qt::ShiftModifier);
    QVERIFY(stage.loop());
    QVERIFY(std::abs(stage.loop()->first - 120) <= 3 && std::abs(stage.loop()->second - 150) <= 3);
    stage.play();
    bool wrapped = false;
    std::int64_t last = stage.cursor();
    connect(&stage, &app::Stage::cursorChanged, viewport, [&] {
        wrapped |= stage.cursor() < last;
        last = stage.cursor();
    });
    QTRY_VERIFY(wrapped);
    QVERIFY(stage.cursor() >= stage.loop()->first && stage.cursor() < stage.loop()->second);
    stage.pause();
    bench.key(Qt::Key_Space, Qt::ShiftModifier);
    QVERIFY(!stage.loop());
}

void TestLanes::movesAKeyPressByItsBar()
{
    Bench bench;
    bench.openDemo();
    const int rate = sceneOf(bench).rate;
    const app::Press first = app::pressesOf(takeOfBench(bench), rate).front();
    const auto middle = static_cast<double>(first.from + first.to) / 2;
    const int y = in(bench, "keys", 0).y();
    const QPoint from{in(bench, "keys", middle).x(), y};
    dragIn(bench, from, {in(bench, "keys", middle + 30).x(), y});
    bench.settle();
    const auto moved = app::pressesOf(takeOfBench(bench), rate);
    const auto found = std::ranges::find_if(moved, [&](const app::Press& press) {
        return press.key == first.key && press.to - press.from == first.to - first.from && press.from > first.from;
    });
    QVERIFY(found != moved.end());
    QVERIFY(std::abs(found->from - first.from - 30) <= 3);
    QCOMPARE(bench.window.document().undoStack()->count(), 1);
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(app::pressesOf(takeOfBench(bench), rate).front(), first);
}

void TestLanes::stretchesAndDeletesAKeyPress()
{
    Bench bench;
    bench.openDemo();
    const int rate = sceneOf(bench).rate;
    const app::Press first = app::pressesOf(takeOfBench(bench), rate).front();
    const int y = in(bench, "keys", 0).y();
    const QPoint end{in(bench, "keys", static_cast<double>(first.to)).x(), y};
    dragIn(bench, end, {in(bench, "keys", static_cast<double>(first.to) + 40).x(), y});
    bench.settle();
    app::Press now = app::pressesOf(takeOfBench(bench), rate).front();
    QCOMPARE(now.from, first.from);
    QVERIFY(now.to > first.to + 30);
    const std::size_t before = app::pressesOf(takeOfBench(bench), rate).size();
    QWidget* viewport = bench.window.timeline()->viewport();
    QTest::mouseClick(viewport, Qt::LeftButton, {},
                      QPoint{in(bench, "keys", static_cast<double>(now.from + now.to) / 2).x(), y});
    QTest::keyClick(bench.window.timeline(), Qt::Key_Delete);
    QCOMPARE(app::pressesOf(takeOfBench(bench), rate).size(), before - 1);
    QVERIFY(bench.window.document().undoStack()->undoText().contains(QStringLiteral("Delete a press")));
}

void TestLanes::addsAKeyPressByADoubleClick()
{
    Bench bench;
    bench.openDemo();
    const int rate = sceneOf(bench).rate;
    const std::size_t before = app::pressesOf(takeOfBench(bench), rate).size();
    QWidget* viewport = bench.window.timeline()->viewport();
    const QPoint free{in(bench, "keys", 20.5 * rate).x(), in(bench, "keys", 0).y()};
    QTest::mouseDClick(viewport, Qt::LeftButton, {}, free);
    bench.answer(QStringLiteral("q"));
    const auto presses = app::pressesOf(takeOfBench(bench), rate);
    QCOMPARE(presses.size(), before + 1);
    QVERIFY(std::ranges::any_of(presses, [&](const app::Press& press) {
        return press.key == "q" && std::abs(static_cast<double>(press.from) - 20.5 * rate) < 8;
    }));
}

void TestLanes::pressesKeepTheirOrderAndLength()
{
    scene::Take take = takeOf({{"a", 0.5}, {"b", 0.25}}, 1);
    take.inputs.push_back(keyAt(0.9, "c", true)); // never let go
    const auto presses = app::pressesOf(take, 60);
    QCOMPARE(presses.size(), 3U);
    QCOMPARE(presses[0].key, std::string("b"));
    QCOMPARE(presses[2], (app::Press{"c", 54, 60}));
    const app::Press late{"a", 200, 300};
    const scene::Take longer = app::withPress(take, 60, &presses[1], &late);
    QCOMPARE(*longer.length, 5.0); // the take grows with it
    QVERIFY(std::ranges::is_sorted(longer.inputs, {}, &scene::Input::t));
    QCOMPARE(app::pressesOf(longer, 60).back(), late);
    QCOMPARE(app::withPress(take, 60, &presses[0], nullptr).inputs.size(), take.inputs.size() - 2);
}

void TestLanes::recordsOnFromAMoment()
{
    Bench bench;
    bench.openDemo();
    const auto before = takeOfBench(bench).inputs;
    bench.window.stage().setCursor(150);
    bench.key(Qt::Key_R, Qt::ShiftModifier);
    QTRY_VERIFY(bench.window.stage().cursor() > 170);
    bench.window.ground()->setFocus();
    QTest::keyPress(bench.window.ground(), Qt::Key_Q);
    bench.pass(3);
    QTest::keyRelease(bench.window.ground(), Qt::Key_Q);
    bench.pass(3);
    bench.key(Qt::Key_Escape);
    const auto played = bench.window.stage().sharedRecord(); // before it is run again
    bench.settle();
    const scene::Take& now = takeOfBench(bench);
    std::size_t kept = 0;
    while (kept < before.size() && before[kept].t * 60 <= 150)
        ++kept;
    QVERIFY(kept > 0 && now.inputs.size() >= kept + 2);
    for (std::size_t i = 0; i < kept; ++i)
        QCOMPARE(now.inputs[i], before[i]);
    QVERIFY(std::ranges::any_of(
        now.inputs, [](const scene::Input& input) { return scene::nameOf<scene::KeyInput>(input) == "q"; }));
    QVERIFY(*now.length < 26); // what came after is replaced
    // What was played is what the take gives.
    QVERIFY(played->lastTick() > 170 && !played->journal.lines.empty());
    QCOMPARE(io::logText(*played), io::logText(play(sceneOf(bench), now)));
}

void TestLanes::anEditWhileRecordingRunsThePartSoFarAgain()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_R);
    bench.window.ground()->setFocus();
    QTest::keyPress(bench.window.ground(), Qt::Key_Right);
    QTRY_VERIFY(bench.window.stage().cursor() > 40);
    const std::int64_t then = bench.window.stage().cursor();
    bench.window.document().edit(QStringLiteral("Speed the courier up"), [](scene::Scene& scene) {
        std::get<scene::WalkerBody>(scene::findPiece(scene, "courier")->body).speed = 1;
    });
    QTRY_VERIFY(bench.window.stage().cursor() > then + 10);
    QCOMPARE(bench.window.stage().mode(), app::Stage::Mode::recording);
    QTest::keyRelease(bench.window.ground(), Qt::Key_Right);
    bench.pass(3);
    bench.key(Qt::Key_Escape);
    const auto played = bench.window.stage().sharedRecord(); // before it is run again
    bench.settle();
    QVERIFY(played->lastTick() > then);
    QCOMPARE(io::logText(*played), io::logText(play(sceneOf(bench), takeOfBench(bench))));
    QCOMPARE(takeOfBench(bench).inputs.front().as<scene::KeyInput>()->key, std::string("Right"));
}

void TestLanes::aScenesTakesAreSavedBesideIt()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    document.addTake("second", takeOf({{"e", 0.5}}, 3));
    QCOMPARE(document.currentTake(), 1U);
    bench.settle();
    QCOMPARE(bench.window.stage().record().seconds(), 3.0);
    bench.key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(QFile::exists(bench.folder.filePath(QStringLiteral("weigh-in.second.take.json"))));
    QVERIFY(bench.window.openFile(bench.folder.filePath(QStringLiteral("weigh-in.snare.json"))));
    QCOMPARE(document.takes().size(), 2U);
    QCOMPARE(document.takes()[1].name, std::string("second"));
    document.renameTake(1, "night");
    bench.key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(!QFile::exists(bench.folder.filePath(QStringLiteral("weigh-in.second.take.json"))));
    QVERIFY(QFile::exists(bench.folder.filePath(QStringLiteral("weigh-in.night.take.json"))));
    document.removeTake(1);
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(document.takes().size(), 2U); // undone
}

void TestLanes::theLedgerFiltersSortsAndCopies()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_2, Qt::AltModifier | Qt::ShiftModifier);
    auto* table = bench.window.findChild<QTableView*>(QStringLiteral("ledgerTable"));
    QTRY_VERIFY(table->isVisible() && table->model()->rowCount() > 20);
    auto* filter = bench.window.findChild<QLineEdit*>(QStringLiteral("ledgerFilter"));
    filter->setFocus();
    QTest::keyClicks(filter, QStringLiteral("enter plate"));
    QVERIFY(table->model()->rowCount() > 0);
    for (int row = 0; row < table->model()->rowCount(); ++row) {
        QString all;
        for (int column = 0; column < table->model()->columnCount(); ++column)
            all += table->model()->index(row, column).data().toString() + QLatin1Char(' ');
        QVERIFY(all.contains(QStringLiteral("enter")) && all.contains(QStringLiteral("plate")));
    }
    table->sortByColumn(app::LedgerModel::time, Qt::DescendingOrder);
    const double first = table->model()->index(0, 0).data().toDouble();
    const double last = table->model()->index(table->model()->rowCount() - 1, 0).data().toDouble();
    QVERIFY(first > last);
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("copyCsv")), Qt::LeftButton);
    const QStringList lines = QApplication::clipboard()->text().split(QStringLiteral("\r\n"), Qt::SkipEmptyParts);
    QCOMPARE(lines.size(), table->model()->rowCount() + 1);
    QVERIFY(lines.front().startsWith(QStringLiteral("\"time, s\",event,at,by,sprang,slipped")));
    QVERIFY(lines[1].contains(QStringLiteral("enter")));
}

void TestLanes::aRowOfTheLedgerIsTheMoment()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_2, Qt::AltModifier | Qt::ShiftModifier);
    auto* table = bench.window.findChild<QTableView*>(QStringLiteral("ledgerTable"));
    QTRY_VERIFY(table->isVisible());
    bench.window.ledger()->setFilter(QStringLiteral("enter weigh"));
    QVERIFY(table->model()->rowCount() > 0);
    QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualRect(table->model()->index(0, 1)).center());
    QVERIFY(bench.window.stage().chosenLine() >= 0);
    QVERIFY(bench.window.moment()->plainText().contains(QStringLiteral("weigh")));
    // And the other way round: the row of the cursor is the current one.
    bench.window.ledger()->setFilter({});
    bench.window.stage().setCursor(bench.window.stage().record().lastTick());
    QCOMPARE(table->currentIndex().row(), table->model()->rowCount() - 1);
}

void TestLanes::clickingTheFunnelGoesThroughItsEvents()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("card weigh"));
    auto* funnel = card->findChild<app::Funnel*>();
    QVERIFY(funnel);
    emit funnel->partClicked(3);
    const auto& lines = bench.window.stage().record().journal.lines;
    const auto chosen = [&] { return lines[static_cast<std::size_t>(bench.window.stage().chosenLine())]; };
    QVERIFY(chosen().outcome == rules::Outcome::sprung);
    const auto first = bench.window.stage().chosenLine();
    emit funnel->partClicked(3);
    QVERIFY(chosen().outcome == rules::Outcome::sprung && bench.window.stage().chosenLine() != first);
    QTest::mouseClick(funnel, Qt::LeftButton, {}, QPoint{10, 10});
    QCOMPARE(bench.window.stage().record().snareNameOf(chosen().snare), std::string("weigh"));
}

void TestLanes::theBookFiltersByWordEventAndState()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, 1);
    auto* book = bench.window.findChild<app::BookPanel*>();
    const auto shown = [&] {
        int count = 0;
        for (auto* card : book->findChildren<app::SnareCard*>())
            count += card->isVisible() ? 1 : 0;
        return count;
    };
    const int all = shown();
    QCOMPARE(all, static_cast<int>(sceneOf(bench).snares.size()));
    auto* search = book->findChild<QLineEdit*>(QStringLiteral("bookSearch"));
    search->setFocus();
    QTest::keyClicks(search, QStringLiteral("Weighed"));
    QVERIFY(shown() >= 1 && shown() < all); // it stands in a caption, not in a name
    search->clear();
    QTest::mouseClick(book->findChild<QToolButton*>(QStringLiteral("bookEvent")), Qt::LeftButton);
    bench.answer(QStringLiteral("heard"));
    const auto heard = std::ranges::count_if(sceneOf(bench).snares, [](const scene::Snare& snare) {
        return snare.catches.event.items.front() == scene::EventKind::heard;
    });
    QCOMPARE(shown(), static_cast<int>(heard));
    QTest::mouseClick(book->findChild<QToolButton*>(QStringLiteral("bookEvent")), Qt::LeftButton);
    bench.answer(QStringLiteral("any"));
    QTest::mouseClick(book->findChild<QToolButton*>(QStringLiteral("bookState")), Qt::LeftButton);
    bench.answer(QStringLiteral("disarmed"));
    const auto disarmed =
        std::ranges::count_if(sceneOf(bench).snares, [](const scene::Snare& snare) { return !snare.armed; });
    QCOMPARE(shown(), static_cast<int>(disarmed));
}

void TestLanes::snaresAreReorderedByDraggingTheirHeads()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, 1);
    auto* book = bench.window.findChild<app::BookPanel*>();
    book->cards()->setAllCollapsed(true);
    bench.layOut();
    const std::string first = sceneOf(bench).snares[0].id;
    app::SnareCard* card = book->cards()->card(first);
    app::SnareCard* third = book->cards()->card(sceneOf(bench).snares[2].id);
    const QPoint grip{card->width() / 2, 12};
    const QPoint target = third->mapToGlobal(QPoint{50, third->height() - 4});
    QTest::mousePress(card, Qt::LeftButton, {}, grip);
    QMouseEvent move{
        QEvent::MouseMove, QPointF{card->mapFromGlobal(target)}, QPointF{target}, Qt::NoButton, Qt::LeftButton, {}};
    QApplication::sendEvent(card, &move);
    QTest::mouseRelease(card, Qt::LeftButton, {}, card->mapFromGlobal(target));
    QCOMPARE(sceneOf(bench).snares[2].id, first);
}

void TestLanes::responsesAreReorderedByDraggingTheirNumbers()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.layOut();
    const scene::Snare before = *scene::findSnare(sceneOf(bench), "weigh");
    QVERIFY(before.responses.size() >= 3);
    app::SlotButton* one = bench.slot(QStringLiteral("weigh"), QStringLiteral("response 1"));
    app::SlotButton* three = bench.slot(QStringLiteral("weigh"), QStringLiteral("response 3"));
    const QPoint target = three->mapToGlobal(QPoint{5, 12});
    QTest::mousePress(one, Qt::LeftButton, {}, QPoint{5, 8});
    QMouseEvent move{
        QEvent::MouseMove, QPointF{one->mapFromGlobal(target)}, QPointF{target}, Qt::NoButton, Qt::LeftButton, {}};
    QApplication::sendEvent(one, &move);
    QMouseEvent up{QEvent::MouseButtonRelease,
                   QPointF{one->mapFromGlobal(target)},
                   QPointF{target},
                   Qt::LeftButton,
                   Qt::NoButton,
                   {}};
    QApplication::sendEvent(one, &up);
    const scene::Snare& after = *scene::findSnare(sceneOf(bench), "weigh");
    QCOMPARE(after.responses[2], before.responses[0]);
    QCOMPARE(after.responses[0], before.responses[1]);
}

void TestLanes::aCardThatCannotWorkSaysSo()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::findSnare(scene, "weigh")->responses.push_back({scene::Hide{{{"mast"}}}, {}});
    });
    QTest::qWait(1);
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("card weigh"));
    auto* problem = card->findChild<QLabel*>(QStringLiteral("problem"));
    QVERIFY(problem && problem->text().contains(QStringLiteral("names the piece mast, which is not there")));
    // Mended elsewhere, it says so no more.
    bench.window.document().edit(QStringLiteral("y"), [](scene::Scene& scene) {
        scene.pieces.push_back(wall("mast", {9, 9}, {1, 1}));
    });
    QTest::qWait(1);
    card = bench.window.findChild<QWidget*>(QStringLiteral("card weigh"));
    QVERIFY(!card->findChild<QLabel*>(QStringLiteral("problem")));
}

void TestLanes::aDisarmedSnareSaysWhoArmsIt()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, 1);
    for (const scene::Snare& snare : sceneOf(bench).snares) {
        if (snare.armed)
            continue;
        bench.window.findChild<app::BookPanel*>()->cards()->card(snare.id)->ensureBuilt();
        app::SlotButton* state = nullptr;
        for (auto* one :
             bench.window.findChild<app::BookPanel*>()->cards()->card(snare.id)->findChildren<app::SlotButton*>(
                 QStringLiteral("armed")))
            state = one;
        QVERIFY(state);
        const auto armers = scene::armersOf(sceneOf(bench), snare.id);
        QVERIFY(!armers.empty());
        QVERIFY(state->text().contains(QString::fromStdString(armers.front())));
        return;
    }
    QFAIL("the demo has a snare that waits to be armed");
}

void TestLanes::aPinnedCardStays()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    auto* here = bench.window.findChild<app::HerePanel*>();
    emit here->cards()->card("weigh")->pinWanted(QStringLiteral("weigh"));
    bench.selectAndWait("lamp");
    QVERIFY(here->cards()->card("weigh") && here->cards()->card("weigh")->isVisible());
    emit here->cards()->card("weigh")->pinWanted(QStringLiteral("weigh"));
    QVERIFY(!here->cards()->card("weigh"));
}

void TestLanes::everyFieldOfASnareIsEditedInPlace()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    const QString weigh = QStringLiteral("weigh");
    const auto snare = [&]() -> const scene::Snare& { return *scene::findSnare(sceneOf(bench), "weigh"); };
    const auto clickAndAnswer = [&](const QString& slot, const QString& text) {
        QTRY_VERIFY(bench.slot(weigh, slot));
        bench.slot(weigh, slot)->setFocus();
        QTest::keyClick(bench.slot(weigh, slot), Qt::Key_Return); // with the keyboard alone
        bench.answer(text);
    };
    clickAndAnswer(QStringLiteral("note"), QStringLiteral("half a second"));
    QCOMPARE(snare().note, std::string("half a second"));
    clickAndAnswer(QStringLiteral("add condition"), QStringLiteral("while it still runs"));
    bench.answer(QStringLiteral("first one finish"));
    QVERIFY(snare().again == scene::Again::ignore);
    clickAndAnswer(QStringLiteral("event"), QStringLiteral("leaves"));
    QVERIFY(snare().catches.event.items.front() == scene::EventKind::exit);
    QTest::mouseClick(bench.slot(weigh, QStringLiteral("each")), Qt::LeftButton);
    QVERIFY(snare().gate.each == scene::Each::snare);
    clickAndAnswer(QStringLiteral("add condition"), QStringLiteral("a value compares"));
    bench.answer(QStringLiteral("self.load < 3"));
    QCOMPARE(snare().filter.when.size(), 1U);
}

void TestLanes::theSchemeChangesAndNothingElse()
{
    // Recording goes on, the port stays open, lanes stay where they were put.
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.window.ground()->zoom(2, QPointF{300, 200});
    const double scale = bench.window.ground()->transform().scale;
    const QColor light = bench.window.ground()->grab().toImage().pixelColor(3, 3);
    app::TimelineView* timeline = bench.window.timeline();
    timeline->setFocus();
    QTest::keyClick(timeline, Qt::Key_Down);
    QTest::keyClick(timeline, Qt::Key_Down, Qt::AltModifier);
    const auto order = timeline->shownLanes();
    QCOMPARE(bench.window.desk()->osc().open(0, 0), QString());
    bench.key(Qt::Key_R);
    QCOMPARE(bench.window.stage().mode(), app::Stage::Mode::recording);
    bench.pass(10);
    const QWidget* ground = bench.window.ground();
    bench.window.setScheme(app::SchemeWish::dark);
    QCOMPARE(bench.window.ground(), ground);
    QCOMPARE(bench.window.stage().mode(), app::Stage::Mode::recording);
    QVERIFY(bench.window.desk()->osc().isOpen());
    bench.pass(10);
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    bench.settle();
    const QColor dark = bench.window.ground()->grab().toImage().pixelColor(3, 3);
    QVERIFY(light.lightness() > 180 && dark.lightness() < 80);
    QCOMPARE(bench.window.ground()->transform().scale, scale);
    QCOMPARE(bench.window.selection().piece(), std::string("scale"));
    for (const std::string& lane : timeline->shownLanes()) // those that are still shown stand in that order
        QVERIFY(std::ranges::find(order, lane) != order.end() || lane.starts_with("keys") || lane == "pointer" ||
                lane == "buttons");
    QVERIFY(bench.slot(QStringLiteral("weigh"), QStringLiteral("name")));
    bench.window.setScheme(app::SchemeWish::light);
    QVERIFY(bench.window.ground()->grab().toImage().pixelColor(3, 3).lightness() > 180);
}

void TestLanes::theSchemeReachesEveryView()
{
    // What was there before looks as what is made in the new colours.
    const auto shots = [](Bench& bench) {
        bench.openDemo();
        bench.selectAndWait("scale");
        bench.window.stage().setCursor(300);
        const auto all = [&] {
            QList<QImage> images;
            for (QWidget* view :
                 {static_cast<QWidget*>(bench.window.ground()), static_cast<QWidget*>(bench.window.transport()),
                  bench.window.timeline()->viewport(), bench.window.findChild<QWidget*>(QStringLiteral("here")),
                  bench.window.findChild<QWidget*>(QStringLiteral("moment")),
                  bench.window.findChild<QWidget*>(QStringLiteral("shelf")),
                  bench.window.findChild<QWidget*>(QStringLiteral("firstHint"))})
                images << (view ? view->grab().toImage() : QImage());
            return images;
        };
        return all;
    };
    QList<QImage> changed;
    {
        Bench bench;
        const auto all = shots(bench);
        bench.layOut();
        all();
        bench.window.setScheme(app::SchemeWish::dark);
        bench.layOut();
        changed = all();
    }
    Bench fresh;
    const auto all = shots(fresh);
    fresh.layOut();
    const QList<QImage> wanted = all();
    fresh.window.setScheme(app::SchemeWish::light);
    QCOMPARE(changed.size(), wanted.size());
    for (qsizetype i = 0; i < wanted.size(); ++i) {
        QCOMPARE(changed[i].size(), wanted[i].size());
        int differ = 0;
        for (int y = 0; y < wanted[i].height(); ++y)
            for (int x = 0; x < wanted[i].width(); ++x)
                differ += changed[i].pixel(x, y) != wanted[i].pixel(x, y) ? 1 : 0;
        // A figure such as the time of the re-run may differ.
        QVERIFY2(differ < 400, qPrintable(QStringLiteral("view %1: %2 pixels").arg(i).arg(differ)));
    }
}

void TestLanes::unsavedWorkIsOfferedBackAfterACrash()
{
    QString file;
    std::string text;
    QTemporaryDir kept;
    {
        Bench bench;
        bench.openDemo();
        bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
            scene.pieces.push_back(wall("mole", {1, 1}, {1, 1}));
        });
        text = bench.text();
        QTRY_COMPARE(QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}).size(), 1);
        // What a crash leaves: the file, without anyone who holds its lock.
        const QString name = QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}).front();
        QTRY_VERIFY(QFileInfo(app::Rescue::folder() + QLatin1Char('/') + name).size() > 1000);
        QVERIFY(QFile::copy(app::Rescue::folder() + QLatin1Char('/') + name,
                            app::Rescue::folder() + QStringLiteral("/left.rescue")));
        bench.window.rescue().clear();
    }
    Bench bench;
    bench.window.offerRescue();
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("weigh-in.snare.json")));
    bench.layOut(); // the bar is there, and large enough to be clicked
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("problemOffer")), Qt::LeftButton);
    QTRY_COMPARE(bench.text(), text);
    QVERIFY(bench.window.document().isDirty());
    QVERIFY(bench.window.document().hasTake());
    QVERIFY(!QFile::exists(app::Rescue::folder() + QStringLiteral("/left.rescue")));
    bench.window.rescue().clear();
}

void TestLanes::savedWorkLeavesNothingBehind()
{
    Bench bench;
    bench.openDemo();
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) { scene.name = "Dusk"; });
    bench.window.rescue().writeNow();
    bench.key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}).isEmpty());
    QVERIFY(bench.window.rescue().found().empty());
}

void TestLanes::aMomentIsFoundWithoutReadingAll()
{
    Bench bench;
    bench.openDemo();
    const sim::Record& record = bench.window.stage().record();
    sim::StandingSoFar soFar;
    std::size_t next = 0;
    const auto& lines = record.journal.lines;
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick) {
        for (; next < lines.size() && lines[next].tick <= tick; ++next)
            soFar.follow(lines[next], static_cast<std::int32_t>(next), record.journal);
        const sim::Standing found = sim::standingAt(record, tick);
        const sim::Standing whole = soFar.now();
        QCOMPARE(found.captions, whole.captions);
        QCOMPARE(found.keysDown, whole.keysDown);
        QCOMPARE(found.inside.size(), whole.inside.size());
        for (std::size_t i = 0; i < found.inside.size(); ++i)
            QVERIFY(found.inside[i].visitor == whole.inside[i].visitor &&
                    found.inside[i].shape == whole.inside[i].shape);
    }
}

/// The flow: sources, snares and what they act on, laid out; what has nothing to do with the
/// selection is pale.
void TestLanes::theFlowShowsWhatListensToWhat()
{
    Bench bench;
    bench.openDemo(QStringLiteral("duty-slips"));
    bench.key(Qt::Key_3, Qt::AltModifier | Qt::ShiftModifier);
    auto* view = bench.window.findChild<app::FlowView*>();
    QTRY_VERIFY(view->isVisible() && view->isFresh() && !view->map().boxes.empty());
    const auto node = [&](const char* name) {
        const auto& nodes = view->map().flow.nodes;
        const auto found = std::ranges::find(nodes, name, &check::FlowNode::name);
        return static_cast<std::size_t>(found - nodes.begin());
    };
    const app::FlowMap& map = view->map();
    QVERIFY(node("hand-out-slip") < map.boxes.size());
    // In layers: what happens stands left of who listens, and that left of what is done. No two lie
    // over each other.
    QVERIFY(map.boxes[node("yard")].right() < map.boxes[node("hand-out-slip")].left());
    QVERIFY(map.boxes[node("hand-out-slip")].right() < map.boxes[node("slips")].left());
    for (std::size_t i = 0; i < map.boxes.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            QVERIFY(!map.boxes[i].intersects(map.boxes[k]));
    for (const QPainterPath& line : map.lines)
        QVERIFY(line.length() > 0);
    // A click chooses; what is before and behind stays clear.
    QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, view->placeOf(node("hand-out-slip")).toPoint());
    QTRY_COMPARE(bench.window.selection().snare(), std::string("hand-out-slip"));
    QVERIFY(view->clearNodes().contains(node("yard")) && view->clearNodes().contains(node("slips")));
    QVERIFY(!view->clearNodes().contains(node("play-again")));
    // By keys along the lines.
    view->setFocus();
    QTest::keyClick(view, Qt::Key_Right);
    QVERIFY(!view->clearNodes().contains(node("open-ledger")));
    // An edit is laid out anew.
    const std::size_t before = map.flow.nodes.size();
    bench.window.document().edit(QStringLiteral("signal"), [](scene::Scene& scene) {
        scene::findSnare(scene, "good-day")->responses.push_back({scene::Signal{{"home-time"}, {}, {}, false}, {}});
    });
    QTRY_VERIFY(view->isFresh() && view->map().flow.nodes.size() == before + 1);
    QVERIFY(node("home-time") < view->map().boxes.size());
}

SNARE_WINDOW_TEST_MAIN(TestLanes)
#include "test_lanes.moc"
