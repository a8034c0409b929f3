// SPDX-License-Identifier: Apache-2.0
/// Driven pieces by hand (V10): made, led on the ground, in the lane, by numbers and from a table.
#include "app/model/take_edit.h"
#include "app/window/bring_in.h"
#include "hands.h"
#include "rules/clock.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QUndoStack>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    /// A driven cart of 1 m at the origin of a new scene, and a mat on its way.
    void layCart()
    {
        window.document().edit(QStringLiteral("Lay"), [](scene::Scene& scene) {
            scene::Piece cart = wall("cart", {0, 0}, {1, 1});
            cart.body = scene::DrivenBody{};
            scene.pieces.push_back(cart);
        });
        settle();
        selectAndWait("cart");
    }
    /// Recording begins, while the take leads the cart 8 m in 8 s.
    void recordOnTrack()
    {
        layCart();
        press(QStringLiteral("led places"));
        answer(QStringLiteral("0: 0, 0; 8: 8, 0"));
        settle();
        window.stage().startRecording();
    }
    const scene::Take& take() { return window.document().take(); }
    /// "0 cart 0,0; 1 cart 2,0": where the take leads what.
    QString led()
    {
        QStringList places;
        for (const scene::Input& input : take().inputs)
            if (const auto* place = input.as<scene::TrackPlace>())
                places << QStringLiteral("%1 %2 %3,%4")
                              .arg(input.t)
                              .arg(QString::fromStdString(place->piece))
                              .arg(place->at.x)
                              .arg(place->at.y);
        return places.join(QStringLiteral("; "));
    }
    void goTo(double seconds)
    {
        settle();
        window.stage().setCursor(std::llround(seconds * window.document().scene().rate));
    }
    QString write(const QString& name, const QByteArray& text)
    {
        QFile file{folder.filePath(name)};
        if (!file.open(QIODevice::WriteOnly) || file.write(text) != text.size())
            qFatal("no file");
        return file.fileName();
    }
    QUndoStack* undo() { return window.document().undoStack(); }
};

} // namespace

class TestLed : public QObject {
    Q_OBJECT

  private slots:
    void aPieceIsMadeDrivenAndLedOn_V10();
    void placesAreTypedOnTheCard();
    void theWayIsBentOnTheGround();
    void placesAreChangedInTheLane();
    void confirmingAndEscChangeNothing();
    void theMenuLeadsItHere();
    void playingLeadsItAsBefore_V10();
    void theHandLeadsItWhilePlaying_V10();
    void theHandTakesItOverFromTheTake_V10();
    void theHandIsHeldToWhatLiesOnTop();
    void aTableIsLookedAtAndBroughtIn();
    void aMistakeInATableIsSaid();
};

void TestLed::aPieceIsMadeDrivenAndLedOn_V10()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-0.5, -0.5}, {0.5, 0.5});
    const std::string id = bench.last().id;
    bench.press(QStringLiteral("body"));
    bench.answer(QStringLiteral("driven"));
    QCOMPARE(scene::kindOf(bench.last().body), std::string_view("driven"));
    QTRY_VERIFY(bench.cardSlot(QStringLiteral("led places")));
    QCOMPARE(bench.cardSlot(QStringLiteral("led places"))->text(), QStringLiteral("nowhere in this take"));
    bench.press(QStringLiteral("led more"));
    bench.settle();
    QTRY_COMPARE(bench.cardSlot(QStringLiteral("led places"))->text(), QStringLiteral("over 2 places, 0 to 1 s"));
    bench.press(QStringLiteral("led more"));
    bench.settle();
    QTRY_COMPARE(bench.cardSlot(QStringLiteral("led places"))->text(), QStringLiteral("over 3 places, 0 to 2 s"));
    bench.goTo(1.5);
    QVERIFY(glm::length(bench.placeNow(id) - Vec{3, 0}) < 1e-9);
    bench.press(QStringLiteral("led nowhere"));
    QCOMPARE(bench.led(), QString());
    bench.undo()->undo();
    QVERIFY(!bench.led().isEmpty());
}

void TestLed::placesAreTypedOnTheCard()
{
    Fixture bench;
    bench.layCart();
    bench.press(QStringLiteral("led places"));
    bench.answer(QStringLiteral("1: 3"));
    QVERIFY(bench.popup()); // no place: it stays, and says why
    bench.answer(QStringLiteral("2: 3, 4, 90; 0.5: 1, 0"));
    QCOMPARE(bench.led(), QStringLiteral("0.5 cart 1,0; 2 cart 3,4"));
    QCOMPARE(bench.take().inputs.back().as<scene::TrackPlace>()->turn, std::optional(90.0));
    QCOMPARE(scene::lengthOf(bench.take()), 10.0);
}

void TestLed::theWayIsBentOnTheGround()
{
    Fixture bench;
    bench.layCart();
    bench.press(QStringLiteral("led places"));
    bench.answer(QStringLiteral("0: 0, 2; 2: 4, 2"));
    bench.settle();
    bench.drag({4, 2}, {4, -2}); // a place
    QCOMPARE(bench.led(), QStringLiteral("0 cart 0,2; 2 cart 4,-2"));
    QCOMPARE(bench.undo()->undoText(), QStringLiteral("Bend where cart is led"));
    bench.drag({2, 0}, {1, 1}); // the middle of the way: a new one
    QCOMPARE(bench.led(), QStringLiteral("0 cart 0,2; 1 cart 1,1; 2 cart 4,-2"));
    bench.click({1, 1});
    bench.key(Qt::Key_Delete);
    QCOMPARE(bench.led(), QStringLiteral("0 cart 0,2; 2 cart 4,-2"));
    QVERIFY(scene::findPiece(bench.scene(), "cart")); // it was the place that went
}

void TestLed::placesAreChangedInTheLane()
{
    Fixture bench;
    bench.layCart();
    bench.press(QStringLiteral("led places"));
    bench.answer(QStringLiteral("1: 0, 2; 3: 4, 2"));
    bench.settle();
    auto* timeline = bench.window.timeline();
    const auto in = [&](double seconds) {
        return timeline->pointOf("led cart", seconds * bench.scene().rate).value_or(QPointF{0, -1}).toPoint();
    };
    QWidget* viewport = timeline->viewport();
    QTRY_VERIFY(in(1).y() > 0);
    QTest::mouseDClick(viewport, Qt::LeftButton, {}, in(3)); // that is there: it is changed
    bench.answer(QStringLiteral("6, 2, 45"));
    QCOMPARE(bench.led(), QStringLiteral("1 cart 0,2; 3 cart 6,2"));
    bench.settle();
    QTest::mouseDClick(viewport, Qt::LeftButton, {}, in(2)); // a new one is where it would be
    QTRY_VERIFY(bench.popup());
    QCOMPARE(bench.popup()->findChild<QLineEdit*>()->text(), QStringLiteral("3, 2"));
    bench.answer(QStringLiteral("3, 5"));
    QCOMPARE(bench.led(), QStringLiteral("1 cart 0,2; 2 cart 3,5; 3 cart 6,2"));
    bench.settle();
    QTest::mouseClick(viewport, Qt::LeftButton, {}, in(2));
    QTest::keyClick(timeline, Qt::Key_Delete);
    QCOMPARE(bench.led(), QStringLiteral("1 cart 0,2; 3 cart 6,2"));
}

void TestLed::confirmingAndEscChangeNothing()
{
    Fixture bench;
    bench.layCart();
    bench.press(QStringLiteral("led places"));
    bench.answer(QStringLiteral("1: 0, 2; 3: 4, 2"));
    scene::Take fine = bench.take();
    fine.inputs[1].as<scene::TrackPlace>()->at.x = 4.0 / 3; // more digits than are shown
    bench.window.document().setTake(QStringLiteral("Fine"), fine);
    bench.settle();
    const std::string before = io::takeText(bench.take());
    const int steps = bench.undo()->index();
    auto* timeline = bench.window.timeline();
    const auto point = timeline->pointOf("led cart", 180);
    QVERIFY(point);
    QTest::mouseDClick(timeline->viewport(), Qt::LeftButton, {}, point->toPoint());
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
    QTRY_VERIFY(!bench.popup());
    bench.press(QStringLiteral("led places"));
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
    QTRY_VERIFY(!bench.popup());
    QWidget* ground = bench.window.ground();
    const QPoint from = bench.at({4.0 / 3, 2});
    QTest::mousePress(ground, Qt::LeftButton, {}, from);
    const QPointF to = from + QPointF{60, 40};
    QMouseEvent move{QEvent::MouseMove, to, ground->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {}};
    QApplication::sendEvent(ground, &move);
    QVERIFY(io::takeText(bench.take()) != before);
    QTest::keyClick(ground, Qt::Key_Escape);
    QTest::mouseRelease(ground, Qt::LeftButton, {}, to.toPoint());
    QCOMPARE(io::takeText(bench.take()), before);
    QCOMPARE(bench.undo()->index(), steps);
}

void TestLed::theMenuLeadsItHere()
{
    Fixture bench;
    bench.layCart();
    bench.goTo(2);
    bench.window.document().setTake(QStringLiteral("Make it long"), [] {
        scene::Take take;
        take.length = 4;
        return take;
    }());
    bench.goTo(2);
    const QPoint there = bench.at({3, 1});
    QTest::mouseMove(bench.window.ground(), there);
    emit bench.window.ground()->contextMenuWanted(bench.window.ground()->mapToGlobal(there));
    bench.chooseInMenu(QStringLiteral("Lead cart here at 2.00 s"));
    const auto& inputs = bench.take().inputs;
    QCOMPARE(inputs.size(), std::size_t(2));
    QCOMPARE(inputs[0].as<scene::TrackPlace>()->at, (Vec{0, 0})); // from where it stands
    QCOMPARE(inputs[1].t, 2.0);
    QVERIFY(glm::length(inputs[1].as<scene::TrackPlace>()->at - Vec{3, 1}) < 0.05);
}

void TestLed::playingLeadsItAsBefore_V10()
{
    Fixture bench;
    bench.recordOnTrack();
    auto& stage = bench.window.stage();
    bench.pass(20);
    const double x = bench.placeNow("cart").x;
    QVERIFY(x > 0.2);
    stage.stop();
    bench.settle();
    QCOMPARE(bench.led(), QStringLiteral("0 cart 0,0; 8 cart 8,0"));
    QVERIFY(std::abs(stage.record().snapshots.at(20)[0].pose.at.x - 20.0 / 60) < 1e-9);
}

/// Where the cart was at the end of every tick of a record.
static std::vector<Vec> wayOfCart(const sim::Record& record)
{
    std::vector<Vec> way;
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick)
        way.push_back(record.snapshots.at(tick)[0].pose.at);
    return way;
}

void TestLed::theHandLeadsItWhilePlaying_V10()
{
    Fixture bench;
    bench.layCart();
    auto& stage = bench.window.stage();
    QWidget* ground = bench.window.ground();
    stage.startRecording();
    bench.pass(3);
    bench.drag({0.1, 0}, {0.15, 0}); // a click: no drag yet (P4)
    bench.pass(3);
    QCOMPARE(bench.placeNow("cart"), (Vec{0, 0}));
    const QPoint from = bench.at({0.2, 0.1});
    const QPoint to = bench.at({3, 1.1});
    QTest::mousePress(ground, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 5; ++i) {
        const QPointF point = QPointF{from} + QPointF{to - from} * i / 5.0;
        QMouseEvent move{QEvent::MouseMove, point, ground->mapToGlobal(point), Qt::NoButton, Qt::LeftButton, {}};
        QApplication::sendEvent(ground, &move);
        bench.pass(2);
    }
    QVERIFY(glm::length(bench.placeNow("cart") - Vec{2.8, 1}) < 0.1); // it is held where it was taken
    QTest::mouseRelease(ground, Qt::LeftButton, {}, to);
    bench.pass(10);
    stage.stop();
    const auto played = stage.sharedRecord();
    bench.settle();
    QVERIFY(stage.sharedRecord() != played);
    QCOMPARE(wayOfCart(stage.record()), wayOfCart(*played)); // run again from the take it goes the same way
    QVERIFY(glm::length(wayOfCart(*played).back() - Vec{2.8, 1}) < 0.1);
    const auto places = app::placesOf(bench.take(), "cart");
    QCOMPARE(*bench.take().inputs[places.front()].as<scene::TrackPlace>(), (scene::TrackPlace{"cart", {0, 0}}));
    QVERIFY2(places.size() <= 12, qPrintable(bench.led())); // where it rests is not said for each tick
    const auto typed = app::placesIn(app::placesText(bench.take(), "cart"), "cart");
    for (std::size_t i = 0; i < places.size(); ++i) // as numbers they are in the same ticks
        QCOMPARE(rules::tickOfInput((*typed)[i].t, 60), rules::tickOfInput(bench.take().inputs[places[i]].t, 60));
    QCOMPARE(io::takeText(*io::readTake(io::takeText(bench.take()), "again")), io::takeText(bench.take()));
}

void TestLed::theHandTakesItOverFromTheTake_V10()
{
    Fixture bench;
    bench.recordOnTrack();
    auto& stage = bench.window.stage();
    bench.pass(30);
    const Vec taken = bench.placeNow("cart");
    QVERIFY(taken.x > 0.4);
    bench.drag(taken, {1, 3});
    bench.pass(5);
    const Vec left = bench.placeNow("cart");
    QVERIFY(glm::length(left - Vec{1, 3}) < 0.2);
    bench.pass(20);
    QCOMPARE(bench.placeNow("cart"), left); // the take leads it no longer
    stage.stop();
    const auto played = stage.sharedRecord();
    bench.settle();
    const std::vector<Vec> way = wayOfCart(*played);
    const std::vector<Vec> again = wayOfCart(stage.record());
    QCOMPARE(again.size(), way.size());
    for (std::size_t tick = 0; tick < way.size(); ++tick)
        QVERIFY2(glm::length(way[tick] - again[tick]) < 1e-9, qPrintable(QString::number(tick)));
    QVERIFY(bench.take().inputs.back().t < 8);
}

void TestLed::theHandIsHeldToWhatLiesOnTop()
{
    Fixture bench;
    bench.layCart();
    bench.window.document().edit(QStringLiteral("Lay"), [](scene::Scene& scene) {
        scene.pieces.push_back(wall("crate", {0.25, 0}, {0.4, 0.4}));
        scene::Piece mist = wall("mist", {0, 0}, {4, 4});
        mist.shapes[0].role = scene::Role::zone;
        scene.pieces.push_back(mist);
    });
    bench.settle();
    auto& stage = bench.window.stage();
    stage.startRecording();
    bench.pass(3);
    bench.drag({0.25, 0}, {1.5, 0}); // on the crate
    bench.pass(3);
    QCOMPARE(bench.placeNow("cart"), (Vec{0, 0}));
    bench.drag({-0.25, 0}, {-1.5, 0}); // through the zone
    bench.pass(3);
    QVERIFY(bench.placeNow("cart").x < -1);
    stage.stop();
}

void TestLed::aTableIsLookedAtAndBroughtIn()
{
    Fixture bench;
    bench.layCart();
    const std::string before = bench.text();
    bench.order(QStringLiteral("Bring in tracks…"));
    QFileDialog* dialog = nullptr;
    QTRY_VERIFY((dialog = bench.window.findChild<QFileDialog*>(QStringLiteral("bringInFile"))));
    emit dialog->filesSelected({bench.write(
        QStringLiteral("shift.csv"), "time,piece,x,y,mood\n0,cart,0,0,calm\n1500,cart,300,0,calm\n0,gull,100,100,\n")});
    dialog->close();
    app::BringInTracks* panel = nullptr;
    QTRY_VERIFY((panel = bench.window.findChild<app::BringInTracks*>()));
    auto* said = panel->findChild<QLabel*>(QStringLiteral("bringInSaid"));
    QTRY_COMPARE(said->text(), QStringLiteral("2 pieces, 3 places, up to 1500 s"));
    panel->findChild<QLineEdit*>(QStringLiteral("bringInMetres"))->setText(QStringLiteral("0.01"));
    panel->findChild<QLineEdit*>(QStringLiteral("bringInSeconds"))->setText(QStringLiteral("0.001"));
    QTRY_COMPARE(said->text(), QStringLiteral("2 pieces, 3 places, up to 1.5 s"));
    const QString notes = panel->findChild<QPlainTextEdit*>(QStringLiteral("bringInNotes"))->toPlainText();
    QCOMPARE(notes, QStringLiteral("columns that say nothing here: mood\nnot in the scene yet: gull"));
    auto* take = panel->findChild<QPushButton*>(QStringLiteral("bringInTake"));
    QTRY_VERIFY(take->isEnabled());
    QTest::mouseClick(take, Qt::LeftButton);
    QCOMPARE(bench.led(), QStringLiteral("0 cart 0,0; 0 gull 1,1; 1.5 cart 3,0"));
    QCOMPARE(scene::kindOf(bench.last().body), std::string_view("driven"));
    QCOMPARE(bench.window.selection().pieces(), (std::vector<std::string>{"cart", "gull"}));
    bench.undo()->undo(); // scene and take in one step
    QCOMPARE(bench.text(), before);
    QCOMPARE(bench.led(), QString());
}

void TestLed::aMistakeInATableIsSaid()
{
    Fixture bench;
    bench.order(QStringLiteral("Bring in tracks…"));
    QFileDialog* dialog = nullptr;
    QTRY_VERIFY((dialog = bench.window.findChild<QFileDialog*>(QStringLiteral("bringInFile"))));
    emit dialog->filesSelected({bench.write(QStringLiteral("cart.csv"), "time,x,y\n0,0,0\n1,two,0\n")});
    dialog->close();
    app::BringInTracks* panel = nullptr;
    QTRY_VERIFY((panel = bench.window.findChild<app::BringInTracks*>()));
    QTRY_VERIFY(panel->findChild<QLabel*>(QStringLiteral("bringInSaid"))
                    ->text()
                    .endsWith(QStringLiteral(
                        "cart.csv: line 3, column 3: \"two\" is no number (as 3 or -0.25, with a point)")));
    QVERIFY(!panel->findChild<QPushButton*>(QStringLiteral("bringInTake"))->isEnabled());
}

SNARE_WINDOW_TEST_MAIN(TestLed)
#include "test_led.moc"
