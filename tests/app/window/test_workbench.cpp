// SPDX-License-Identifier: Apache-2.0
/// Tools, cards, timeline and files, by mouse and keys in the real window.
#include "window_fixture.h"

#include <QAbstractItemModel>
#include <QLabel>
#include <QUndoStack>

using namespace snare;
using namespace snare::tests;

class TestWorkbench : public QObject {
    Q_OBJECT

  private slots:
    void movesAPieceAndUndoesItToTheByte();
    void sizesAZoneByItsHandle();
    void nudgesWithArrowKeys();
    void laysACircleWithTheToolKeyTwice();
    void selectsSeveralWithABoxAndDeletesThem();
    void duplicatesAndEscapes();
    void picksAFilterWithTheKeyboardAlone();
    void aSlotRefusesWhatCannotBe();
    void addsAResponseByAnEverydayWord();
    void reordersAndRemovesNothingByAccident();
    void editsThePieceByNumber();
    void anEditShowsWhatIsNewAndGone();
    void draggingThroughTimeMovesTheGround();
    void steppingAndPlayingMoveTheCursor();
    void recordingKeepsTheKeysForTheScene();
    void leavingTheWindowLetsGoOfTheKeys_P7();
    void savesAndOpensAgain();
    void aBadFileIsSaidAndChangesNothing();
    void aBadTakeIsSaidAndTheSceneOpens();
    void anEmptySceneStartsClean();
};

void TestWorkbench::movesAPieceAndUndoesItToTheByte()
{
    Bench bench;
    bench.openDemo();
    const std::string before = bench.text();
    bench.drag({-4.2, 1.2}, {-5.2, 2.2});
    const Vec moved = scene::findPiece(bench.window.document().scene(), "cask-1")->at;
    QVERIFY(glm::length(moved - Vec(-5.2, 2.2)) < 0.3);        // it may snap to what is near
    QCOMPARE(bench.window.document().undoStack()->count(), 1); // one gesture, one step
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), before);
    bench.key(Qt::Key_Y, Qt::ControlModifier);
    QCOMPARE(scene::findPiece(bench.window.document().scene(), "cask-1")->at, moved);
}

void TestWorkbench::sizesAZoneByItsHandle()
{
    Bench bench;
    bench.openDemo();
    bench.click({-5.6, -2.4});
    QCOMPARE(bench.window.selection().piece(), std::string("loading"));
    // The right edge: the left one stays.
    bench.drag({-3, -2.4}, {-2, -2.4});
    const scene::Piece* loading = scene::findPiece(bench.window.document().scene(), "loading");
    QCOMPARE(std::get<scene::Box>(loading->shapes[0].geometry).size, (Vec{4.2, 2.2}));
    QVERIFY(std::abs(loading->at.x - -4.1) < 1e-9);
    QCOMPARE(loading->shapes[0].margin, 0.1);
}

void TestWorkbench::nudgesWithArrowKeys()
{
    Bench bench;
    bench.openDemo();
    bench.click({-9.4, -3.6});
    bench.key(Qt::Key_Right);
    bench.key(Qt::Key_Up, Qt::ShiftModifier);
    const Vec at = scene::findPiece(bench.window.document().scene(), "bollard")->at;
    QVERIFY(std::abs(at.x - -9.3) < 1e-9 && std::abs(at.y - -2.6) < 1e-9);
}

void TestWorkbench::laysACircleWithTheToolKeyTwice()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_S);
    bench.key(Qt::Key_S);
    QVERIFY(bench.window.ground()->shapeKind() == app::ShapeKind::circle);
    bench.drag({-12.5, 3}, {-10.5, 5});
    const scene::Piece& made = bench.window.document().scene().pieces.back();
    QCOMPARE(std::get<scene::Circle>(made.shapes[0].geometry).radius, 1.0);
    QVERIFY(made.shapes[0].role == scene::Role::solid);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::select);
}

void TestWorkbench::selectsSeveralWithABoxAndDeletesThem()
{
    Bench bench;
    bench.openDemo();
    bench.drag({-5, 0.4}, {-2.4, 2.3});
    QCOMPARE(bench.window.selection().pieces(), (std::vector<std::string>{"cask-1", "cask-2"}));
    bench.key(Qt::Key_Delete);
    QVERIFY(!scene::findPiece(bench.window.document().scene(), "cask-1"));
    QVERIFY(bench.window.selection().pieces().empty());
    QCOMPARE(bench.window.document().undoStack()->undoText(), QStringLiteral("Delete 2 pieces"));
}

void TestWorkbench::duplicatesAndEscapes()
{
    Bench bench;
    bench.openDemo();
    bench.click({-4.2, 1.2});
    bench.key(Qt::Key_D, Qt::ControlModifier);
    QCOMPARE(bench.window.selection().piece(), std::string("cask-3"));
    bench.key(Qt::Key_Escape);
    QVERIFY(bench.window.selection().pieces().empty());
}

void TestWorkbench::picksAFilterWithTheKeyboardAlone()
{
    Bench bench;
    bench.openDemo();
    bench.click({-4.6, -2.4});
    QTRY_VERIFY(bench.slot(QStringLiteral("last-call"), QStringLiteral("groups")));
    app::SlotButton* groups = bench.slot(QStringLiteral("last-call"), QStringLiteral("groups"));
    groups->setFocus();
    QTest::keyClick(groups, Qt::Key_Return);
    QTRY_VERIFY(bench.popup());
    auto* edit = bench.popup()->findChild<QLineEdit*>();
    QTest::keyClicks(edit, QStringLiteral("cargo"));
    QTest::keyClick(edit, Qt::Key_Space);
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(scene::findSnare(bench.window.document().scene(), "last-call")->filter.groups,
             (std::vector<std::string>{"courier", "cargo"}));
}

void TestWorkbench::aSlotRefusesWhatCannotBe()
{
    Bench bench;
    bench.openDemo();
    bench.click({0.5, 2.4});
    QTRY_VERIFY(bench.slot(QStringLiteral("weigh"), QStringLiteral("3 speed")));
    QTest::mouseClick(bench.slot(QStringLiteral("weigh"), QStringLiteral("3 speed")), Qt::LeftButton);
    bench.answer(QStringLiteral("-2"));
    QVERIFY(bench.popup()); // still open, and says why
    const auto labels = bench.popup()->findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(labels,
                                [](const QLabel* label) { return label->text().contains(QStringLiteral("above 0")); }));
    bench.answer(QStringLiteral("3 m/s"));
    QVERIFY(!bench.popup());
    const auto& move =
        std::get<scene::Move>(scene::findSnare(bench.window.document().scene(), "weigh")->responses[2].kind);
    QCOMPARE(*move.speed.literal(), 3.0);
}

void TestWorkbench::addsAResponseByAnEverydayWord()
{
    Bench bench;
    bench.openDemo();
    bench.click({0.5, 2.4});
    QTRY_VERIFY(bench.slot(QStringLiteral("greet"), QStringLiteral("add response")));
    QTest::mouseClick(bench.slot(QStringLiteral("greet"), QStringLiteral("add response")), Qt::LeftButton);
    bench.answer(QStringLiteral("rotate"));
    const auto& responses = scene::findSnare(bench.window.document().scene(), "greet")->responses;
    QVERIFY(std::holds_alternative<scene::Turn>(responses.back().kind));
}

void TestWorkbench::reordersAndRemovesNothingByAccident()
{
    Bench bench;
    bench.openDemo();
    const std::string before = bench.text();
    bench.click({0.5, 2.4});
    QTRY_VERIFY(bench.slot(QStringLiteral("weigh"), QStringLiteral("1 text")));
    QTest::mouseClick(bench.slot(QStringLiteral("weigh"), QStringLiteral("1 text")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    QCOMPARE(bench.text(), before);
    QCOMPARE(bench.window.document().undoStack()->count(), 0);
}

void TestWorkbench::editsThePieceByNumber()
{
    Bench bench;
    bench.openDemo();
    bench.click({-5.6, -2.4});
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    QTest::mouseClick(card->findChild<app::SlotButton*>(QStringLiteral("shape 0 size")), Qt::LeftButton);
    bench.answer(QStringLiteral("5 × 1.5 m"));
    QTest::mouseClick(card->findChild<app::SlotButton*>(QStringLiteral("at")), Qt::LeftButton);
    bench.answer(QStringLiteral("-4, -3"));
    const scene::Piece* loading = scene::findPiece(bench.window.document().scene(), "loading");
    QCOMPARE(std::get<scene::Box>(loading->shapes[0].geometry).size, (Vec{5, 1.5}));
    QCOMPARE(loading->at, (Vec{-4, -3}));
}

void TestWorkbench::anEditShowsWhatIsNewAndGone()
{
    Bench bench;
    bench.openDemo();
    // The scale out of the way: its events go.
    bench.drag({1.8, 2.4}, {7.8, 4.4});
    bench.settle();
    QVERIFY(!bench.window.stage().differences().gone.empty());
    QVERIFY(bench.window.transport()->changesText().contains(QStringLiteral("gone")));
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    bench.settle();
    QVERIFY(!bench.window.stage().differences().fresh.empty());
    QVERIFY(bench.window.transport()->changesText().contains(QStringLiteral("new")));
}

void TestWorkbench::draggingThroughTimeMovesTheGround()
{
    Bench bench;
    bench.openDemo();
    const Vec start = bench.placeNow("courier");
    QWidget* lanes = bench.window.timeline()->viewport();
    const auto from = bench.window.timeline()->pointOf("keys", 0);
    const auto to = bench.window.timeline()->pointOf("keys", 200);
    QVERIFY(from && to);
    const QPoint y{0, 12 - static_cast<int>(to->y())}; // on the ruler
    QTest::mousePress(lanes, Qt::LeftButton, {}, from->toPoint() + y);
    QMouseEvent move{QEvent::MouseMove,
                     QPointF{to->toPoint() + y},
                     lanes->mapToGlobal(QPointF{to->toPoint() + y}),
                     Qt::NoButton,
                     Qt::LeftButton,
                     {}};
    QApplication::sendEvent(lanes, &move);
    QTest::mouseRelease(lanes, Qt::LeftButton, {}, to->toPoint() + y);
    QVERIFY(std::abs(bench.window.stage().cursor() - 200) <= 2);
    QVERIFY(bench.placeNow("courier").x > start.x + 5);
}

void TestWorkbench::steppingAndPlayingMoveTheCursor()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_Period);
    bench.key(Qt::Key_Period);
    bench.key(Qt::Key_Comma);
    QCOMPARE(bench.window.stage().cursor(), 1);
    bench.key(Qt::Key_Space);
    QTRY_VERIFY(bench.window.stage().cursor() > 10);
    bench.key(Qt::Key_Space);
    QCOMPARE(bench.window.stage().mode(), app::Stage::Mode::still);
    bench.key(Qt::Key_End);
    QCOMPARE(bench.window.stage().cursor(), bench.window.stage().record().lastTick());
    bench.key(Qt::Key_Home);
    QCOMPARE(bench.window.stage().cursor(), 0);
}

void TestWorkbench::recordingKeepsTheKeysForTheScene()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_R);
    for (const Qt::Key key : {Qt::Key_Z, Qt::Key_E, Qt::Key_Tab, Qt::Key_Space})
        QTest::keyClick(bench.window.ground(), key);
    QTRY_VERIFY(bench.window.stage().cursor() > 5);
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::select);
    std::vector<std::string> pressed;
    for (const scene::Input& input : bench.window.document().take().inputs)
        if (const auto* key = input.as<scene::KeyInput>(); key && key->down)
            pressed.push_back(key->key);
    QCOMPARE(pressed, (std::vector<std::string>{"z", "e", "Tab", "space"}));
}

void TestWorkbench::leavingTheWindowLetsGoOfTheKeys_P7()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_R);
    QTest::keyPress(bench.window.ground(), Qt::Key_Right);
    QTRY_VERIFY(bench.window.stage().cursor() > 5);
    bench.window.ground()->clearFocus();
    QTRY_VERIFY(std::ranges::any_of(bench.window.stage().record().journal.lines, [](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == rules::EventKind::keyUp;
    }));
    bench.window.stage().stop();
}

void TestWorkbench::savesAndOpensAgain()
{
    Bench bench;
    bench.openDemo();
    bench.drag({-4.2, 1.2}, {-5.2, 2.2});
    QVERIFY(bench.window.document().isDirty());
    QVERIFY(bench.window.isWindowModified());
    bench.key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(!bench.window.document().isDirty());
    const std::string saved = bench.text();
    const scene::Take take = bench.window.document().take();
    Bench other;
    QVERIFY(other.window.openFile(bench.window.document().filePath()));
    QCOMPARE(other.text(), saved);
    QVERIFY(other.window.document().take() == take);
}

void TestWorkbench::aBadFileIsSaidAndChangesNothing()
{
    Bench bench;
    bench.openDemo();
    const std::string before = bench.text();
    QFile file{bench.folder.filePath(QStringLiteral("bad.snare.json"))};
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("{\"format\": \"fresh-snare-scene\", \"version\": 1,\n \"pieces\": [{\"id\": \"a\", \"tagz\": []}]}");
    file.close();
    QVERIFY(!bench.window.openFile(file.fileName()));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("line 2")));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("tags")));
    QCOMPARE(bench.text(), before);
}

void TestWorkbench::aBadTakeIsSaidAndTheSceneOpens()
{
    Bench bench;
    bench.openDemo();
    QFile take{bench.folder.filePath(QStringLiteral("weigh-in.take.json"))};
    QVERIFY(take.open(QIODevice::WriteOnly | QIODevice::Truncate));
    take.write("{\"format\": \"fresh-snare-take\", \"version\": 1, \"inputs\": [{\"t\": \"soon\"}]}");
    take.close();
    QVERIFY(bench.window.openFile(bench.window.document().filePath()));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("/inputs/0/t")));
    QVERIFY(!bench.window.document().hasTake());
    bench.key(Qt::Key_S, Qt::ControlModifier); // does not write over what could not be read
    QVERIFY(take.open(QIODevice::ReadOnly) && take.readAll().contains("soon"));
}

void TestWorkbench::anEmptySceneStartsClean()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QVERIFY(bench.window.document().scene().pieces.empty());
    bench.settle();
    bench.key(Qt::Key_S);
    bench.drag({-2, -1}, {2, 1});
    QCOMPARE(bench.window.document().scene().pieces.size(), std::size_t{1});
    QCOMPARE(bench.window.stage().record().lastTick(), 0);
}

SNARE_WINDOW_TEST_MAIN(TestWorkbench)
#include "test_workbench.moc"
