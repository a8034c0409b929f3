// SPDX-License-Identifier: Apache-2.0
/// Every tool of the ground by mouse and keys in the real window, and the scene that results.
#include "window_fixture.h"

#include "app/ground/editing.h"
#include "app/model/arrange.h"
#include "app/panels/first_hint.h"
#include "app/panels/source_shelf.h"
#include "scene/templates.h"

#include <QClipboard>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

class TestLaying : public QObject {
    Q_OBJECT

  private slots:
    void drawsACapsuleFromEndToEnd();
    void drawsAConcavePolygonCornerByCorner();
    void crossingEdgesAreNotTaken();
    void drawsAnOpenAndAClosedLine();
    void backspaceTakesBackACorner();
    void numbersTypedWhileDrawingAreTheSize();
    void numbersTypedWhileMovingAreTheWay();
    void shiftLaysASecondShapeOntoTheSelectedPiece();
    void draggingACornerBendsAndUndoGivesTheBytesBack();
    void theMiddleOfAnEdgeGivesANewCorner();
    void deleteTakesTheChosenCornerOnly();
    void theTurnHandleTurnsInSteps();
    void ctrlDragMovesOneShapeOfSeveral();
    void movingSnapsToTheEdgesOfOthersAndAltSuspendsIt();
    void alignsByKeyInOneStep();
    void spreadsEvenly();
    void raisesAndLowersLayers();
    void lockedPiecesAreNotPicked();
    void hiddenPiecesComeBack();
    void copiesAndPastesWithTheirSnaresAsText();
    void pastingSomethingElseIsSaid();
    void measuresADistance();
    void theOverviewMovesTheView();
    void makesATemplateStampsAndChangesAll();
    void ownValuesStayWhenTheTemplateChanges();
    void aThreadFromTheShelfBindsAKey();
    void aThreadIsClickedAndRetargeted();
    void severalThreadsBetweenTwoPiecesAreBundled();
    void aSnareIsCopiedAndMadeGeneral();
    void theFirstHintTicksOffItsSteps();
    void theFirstHintOfAnEmptySceneLeadsToATake();
    void laysChoosesAndBindsWithKeysAlone();
    void everyToolIsUndoneToTheByte();

  private:
    static const scene::Scene& sceneOf(Bench& bench) { return bench.window.document().scene(); }

    /// An empty scene with two boxes and a zone.
    static void lay(Bench& bench)
    {
        scene::Scene scene;
        scene.name = "Samphire slip";
        scene.pieces = {wall("shed", {-4, 2}, {2, 2}), wall("crane", {4, 2.5}, {1, 3}), zone("slip", {0, -3}, {4, 2})};
        scene.pieces[1].body = scene::KinematicBody{};
        bench.window.document().edit(QStringLiteral("lay"), [&](scene::Scene& now) { now = scene; });
        bench.settle();
        bench.window.ground()->showWholeScene();
    }

    static void type(Bench& bench, const QString& text)
    {
        bench.window.ground()->setFocus();
        QTest::keyClicks(bench.window.ground(), text);
    }

    /// Presses and drags without letting go.
    static void hold(Bench& bench, const Vec& from, const Vec& to, Qt::KeyboardModifiers modifiers = {})
    {
        QWidget* ground = bench.window.ground();
        QTest::mousePress(ground, Qt::LeftButton, modifiers, bench.at(from));
        const QPointF point = bench.at(to);
        QMouseEvent move{QEvent::MouseMove, point, ground->mapToGlobal(point), Qt::NoButton, Qt::LeftButton, modifiers};
        QApplication::sendEvent(ground, &move);
    }

    static QPoint handle(Bench& bench, app::Handle::Kind kind, std::size_t index)
    {
        for (const app::Handle& one : bench.window.ground()->handles())
            if (one.kind == kind && one.index == index)
                return one.at.toPoint();
        qFatal("there is no such handle");
    }

    static void chooseThread(Bench& bench, int event, const QString& response)
    {
        QWidget* popup = nullptr;
        QTRY_VERIFY((popup = bench.window.findChild<QWidget*>(QStringLiteral("threadPopup"))));
        auto* events = popup->findChild<QListWidget*>(QStringLiteral("threadEvents"));
        auto* responses = popup->findChild<QListWidget*>(QStringLiteral("threadResponses"));
        events->setCurrentRow(event);
        for (int i = 0; i < responses->count(); ++i)
            if (responses->item(i)->data(Qt::UserRole).toString() == response)
                QTest::mouseClick(responses->viewport(), Qt::LeftButton, {},
                                  responses->visualItemRect(responses->item(i)).center());
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
};

void TestLaying::drawsACapsuleFromEndToEnd()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_S);
    bench.key(Qt::Key_S);
    bench.key(Qt::Key_S);
    QVERIFY(bench.window.ground()->shapeKind() == app::ShapeKind::capsule);
    bench.drag({-2, 0}, {2, 0}, Qt::AltModifier);
    const scene::Piece& made = sceneOf(bench).pieces.back();
    const auto& capsule = std::get<scene::Capsule>(made.shapes[0].geometry);
    QVERIFY(std::abs(glm::length(capsule.to - capsule.from) - 4) < 0.1);
    QVERIFY(glm::length(made.at) < 0.1);
}

void TestLaying::drawsAConcavePolygonCornerByCorner()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_Z);
    for (int i = 0; i < 3; ++i)
        bench.key(Qt::Key_Z);
    for (const Vec& corner : {Vec{-2, -1}, Vec{2, -1}, Vec{2, 1}, Vec{0, 0}, Vec{-2, 1}})
        bench.click(corner, Qt::AltModifier);
    bench.key(Qt::Key_Return);
    const scene::Piece& made = sceneOf(bench).pieces.back();
    const auto& polygon = std::get<scene::Polygon>(made.shapes[0].geometry);
    QCOMPARE(polygon.points.size(), 5U);
    QVERIFY(made.shapes[0].role == scene::Role::zone);
    // Its notch is no part of it (M13).
    QVERIFY(world::reaches(made.shapes[0], {made.at, 0}, {0, -0.5}, 0));
    QVERIFY(!world::reaches(made.shapes[0], {made.at, 0}, {0, 0.6}, 0));
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::select);
}

void TestLaying::crossingEdgesAreNotTaken()
{
    Bench bench;
    lay(bench);
    const std::string before = bench.text();
    bench.window.ground()->setTool(app::ToolKind::solid);
    bench.window.ground()->setShapeKind(app::ShapeKind::polygon);
    for (const Vec& corner : {Vec{-2, -1}, Vec{2, 1}, Vec{2, -1}, Vec{-2, 1}})
        bench.click(corner, Qt::AltModifier);
    bench.key(Qt::Key_Return);
    QCOMPARE(bench.text(), before);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::solid); // it is still being drawn
    bench.key(Qt::Key_Escape);
    bench.key(Qt::Key_Escape);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::select);
}

void TestLaying::drawsAnOpenAndAClosedLine()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_L);
    for (const Vec& corner : {Vec{-2, 0}, Vec{0, 0.5}, Vec{2, 0}})
        bench.click(corner, Qt::AltModifier);
    bench.key(Qt::Key_Return);
    const auto open = std::get<scene::Line>(sceneOf(bench).pieces.back().shapes[0].geometry);
    QCOMPARE(open.points.size(), 3U);
    QVERIFY(!open.closed);
    bench.key(Qt::Key_L);
    bench.key(Qt::Key_L);
    for (const Vec& corner : {Vec{-2, 4}, Vec{0, 5}, Vec{2, 4}})
        bench.click(corner, Qt::AltModifier);
    bench.key(Qt::Key_Return);
    QVERIFY(std::get<scene::Line>(sceneOf(bench).pieces.back().shapes[0].geometry).closed);
}

void TestLaying::backspaceTakesBackACorner()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_L);
    for (const Vec& corner : {Vec{-2, 0}, Vec{0, 0.5}, Vec{2, 0}})
        bench.click(corner, Qt::AltModifier);
    bench.key(Qt::Key_Backspace);
    bench.key(Qt::Key_Return);
    QCOMPARE(std::get<scene::Line>(sceneOf(bench).pieces.back().shapes[0].geometry).points.size(), 2U);
}

void TestLaying::numbersTypedWhileDrawingAreTheSize()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_Z);
    hold(bench, {-1, 0}, {1, 1}, Qt::AltModifier);
    type(bench, QStringLiteral("3.5 1.25"));
    bench.key(Qt::Key_Return);
    const scene::Piece& made = sceneOf(bench).pieces.back();
    QCOMPARE(std::get<scene::Box>(made.shapes[0].geometry).size, (Vec{3.5, 1.25}));
    QTest::mouseRelease(bench.window.ground(), Qt::LeftButton, {}, bench.at({1, 1}));
    QCOMPARE(sceneOf(bench).pieces.size(), 4U); // letting go makes no second one
}

void TestLaying::numbersTypedWhileMovingAreTheWay()
{
    Bench bench;
    lay(bench);
    hold(bench, {-4, 2}, {-3, 2});
    type(bench, QStringLiteral("0.75,-2"));
    QTest::mouseRelease(bench.window.ground(), Qt::LeftButton, {}, bench.at({-3, 2}));
    QCOMPARE(scene::findPiece(sceneOf(bench), "shed")->at, (Vec{-3.25, 0}));
}

void TestLaying::shiftLaysASecondShapeOntoTheSelectedPiece()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("crane");
    bench.key(Qt::Key_Z);
    bench.drag({3, -1}, {5, 0}, Qt::ShiftModifier | Qt::AltModifier);
    QCOMPARE(sceneOf(bench).pieces.size(), 3U);
    const scene::Piece& crane = *scene::findPiece(sceneOf(bench), "crane");
    QCOMPARE(crane.shapes.size(), 2U);
    QVERIFY(crane.shapes[1].role == scene::Role::zone);
    QVERIFY(glm::length(crane.shapes[1].at - Vec(0, -3)) < 0.1);
    QCOMPARE(bench.window.selection().shape(), 1U);
}

void TestLaying::draggingACornerBendsAndUndoGivesTheBytesBack()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene.pieces.push_back(piece("quay", {0, 0}, scene::Polygon{{{-1, -1}, {1, -1}, {0, 1}}}, scene::Role::solid));
    });
    bench.selectAndWait("quay");
    const std::string before = bench.text();
    const QPoint top = handle(bench, app::Handle::Kind::point, 2);
    bench.dragPixels(top, bench.at({1, 2}));
    const auto& points = std::get<scene::Polygon>(scene::findPiece(sceneOf(bench), "quay")->shapes[0].geometry).points;
    QVERIFY(glm::length(points[2] - Vec(1, 2)) < 0.11);
    QCOMPARE(points[0], (Vec{-1, -1}));
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), before);
}

void TestLaying::theMiddleOfAnEdgeGivesANewCorner()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene.pieces.push_back(piece("rope", {0, 0}, scene::Line{{{-2, 0}, {2, 0}}, false}, scene::Role::solid));
    });
    bench.selectAndWait("rope");
    bench.dragPixels(handle(bench, app::Handle::Kind::edge, 0), bench.at({0, 1}));
    const auto& points = std::get<scene::Line>(scene::findPiece(sceneOf(bench), "rope")->shapes[0].geometry).points;
    QCOMPARE(points.size(), 3U);
    QVERIFY(glm::length(points[1] - Vec(0, 1)) < 0.11);
}

void TestLaying::deleteTakesTheChosenCornerOnly()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene.pieces.push_back(
            piece("quay", {0, 0}, scene::Polygon{{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}}, scene::Role::solid));
    });
    bench.selectAndWait("quay");
    QTest::mouseClick(bench.window.ground(), Qt::LeftButton, {}, handle(bench, app::Handle::Kind::point, 2));
    bench.key(Qt::Key_Delete);
    const scene::Piece* quay = scene::findPiece(sceneOf(bench), "quay");
    QVERIFY(quay); // the corner went, not the piece
    QCOMPARE(std::get<scene::Polygon>(quay->shapes[0].geometry).points.size(), 3U);
    // A triangle keeps its corners.
    QTest::mouseClick(bench.window.ground(), Qt::LeftButton, {}, handle(bench, app::Handle::Kind::point, 0));
    bench.key(Qt::Key_Delete);
    QCOMPARE(std::get<scene::Polygon>(scene::findPiece(sceneOf(bench), "quay")->shapes[0].geometry).points.size(), 3U);
}

void TestLaying::theTurnHandleTurnsInSteps()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("shed");
    const QPoint grip = handle(bench, app::Handle::Kind::turn, 0);
    const QPoint centre = bench.at({-4, 2});
    const int reach = centre.y() - grip.y();
    bench.dragPixels(grip, centre - QPoint{reach, 0}); // from above to the left
    QCOMPARE(scene::findPiece(sceneOf(bench), "shed")->turn, 90.0);
}

void TestLaying::ctrlDragMovesOneShapeOfSeveral()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::Shape bell;
        bell.geometry = scene::Circle{0.4};
        bell.at = {0, -3};
        scene::findPiece(scene, "crane")->shapes.push_back(bell);
    });
    bench.selectAndWait("crane");
    bench.click({4, -0.5});
    bench.drag({4, -0.5}, {5, -0.5}, Qt::ControlModifier | Qt::AltModifier);
    const scene::Piece& crane = *scene::findPiece(sceneOf(bench), "crane");
    QCOMPARE(crane.at, (Vec{4, 2.5}));
    QVERIFY(glm::length(crane.shapes[1].at - Vec(1, -3)) < 0.1);
    QCOMPARE(crane.shapes[0].at, (Vec{0, 0}));
}

void TestLaying::movingSnapsToTheEdgesOfOthersAndAltSuspendsIt()
{
    Bench bench;
    lay(bench);
    const double nearly = 2.0 / bench.window.ground()->transform().scale; // two pixels off
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::findPiece(scene, "crane")->at = {4.037, 2.5}; // its left edge is on no grid line
    });
    bench.drag({-4, 2}, {-4 + 6.537 + nearly, 2});
    QCOMPARE(scene::findPiece(sceneOf(bench), "shed")->at.x, 2.537); // right edge on left edge
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    bench.drag({-4, 2}, {-4 + 6.537 + nearly, 2}, Qt::AltModifier);
    QVERIFY(scene::findPiece(sceneOf(bench), "shed")->at.x != 2.537);
}

void TestLaying::alignsByKeyInOneStep()
{
    Bench bench;
    lay(bench);
    const std::string before = bench.text();
    bench.key(Qt::Key_A, Qt::ControlModifier);
    bench.key(Qt::Key_Up, Qt::ControlModifier | Qt::AltModifier);
    for (const scene::Piece& one : sceneOf(bench).pieces)
        QCOMPARE(world::boundsOf(one.shapes[0], {one.at, one.turn}).high.y, 4.0);
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), before);
}

void TestLaying::spreadsEvenly()
{
    scene::Scene scene;
    scene.pieces = {wall("a", {0, 0}, {1, 1}), wall("c", {10, 0}, {3, 1}), wall("b", {2, 0}, {2, 1})};
    app::distribute(scene, {"a", "b", "c"}, true);
    // From 0.5 to 8.5 there are 8 m for b's 2: gaps of 3.
    QCOMPARE(scene.pieces[2].at.x, 4.5);
    QCOMPARE(scene.pieces[0].at.x, 0.0);
    QCOMPARE(scene.pieces[1].at.x, 10.0);
}

void TestLaying::raisesAndLowersLayers()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("shed");
    bench.key(Qt::Key_PageUp);
    QCOMPARE(scene::findPiece(sceneOf(bench), "shed")->layer, 1);
    bench.selectAndWait("crane");
    bench.key(Qt::Key_PageUp, Qt::ControlModifier);
    QCOMPARE(scene::findPiece(sceneOf(bench), "crane")->layer, 2);
    bench.key(Qt::Key_PageDown, Qt::ControlModifier);
    QCOMPARE(scene::findPiece(sceneOf(bench), "crane")->layer, -1);
}

void TestLaying::lockedPiecesAreNotPicked()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("shed");
    bench.key(Qt::Key_L, Qt::ControlModifier);
    bench.click({0, 5});
    bench.click({-4, 2});
    QCOMPARE(bench.window.selection().piece(), std::string());
    bench.key(Qt::Key_H, Qt::ControlModifier | Qt::ShiftModifier);
    bench.click({-4, 2});
    QCOMPARE(bench.window.selection().piece(), std::string("shed"));
}

void TestLaying::hiddenPiecesComeBack()
{
    Bench bench;
    lay(bench);
    const std::string before = bench.text();
    const QColor there = bench.window.ground()->grab().toImage().pixelColor(bench.at({-4.5, 2.5}));
    bench.selectAndWait("shed");
    bench.key(Qt::Key_H, Qt::ControlModifier);
    QVERIFY(bench.window.ground()->grab().toImage().pixelColor(bench.at({-4.5, 2.5})) != there);
    bench.key(Qt::Key_H, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(bench.window.ground()->grab().toImage().pixelColor(bench.at({-4.5, 2.5})), there);
    QCOMPARE(bench.text(), before); // it is no part of the scene
}

void TestLaying::copiesAndPastesWithTheirSnaresAsText()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.key(Qt::Key_C, Qt::ControlModifier);
    const std::string text = QApplication::clipboard()->text().toStdString();
    const auto clip = io::readScene(text, "clip");
    QVERIFY(clip);
    QCOMPARE(clip->pieces.size(), 1U);
    const std::size_t snares = clip->snares.size();
    QVERIFY(snares >= 1);
    // Into another scene, where nothing has these names.
    Bench other;
    lay(other);
    other.key(Qt::Key_V, Qt::ControlModifier);
    QVERIFY(scene::findPiece(sceneOf(other), "scale"));
    QCOMPARE(sceneOf(other).snares.size(), snares);
    // And again: the names are taken, the copy's snares catch at the copy.
    other.key(Qt::Key_V, Qt::ControlModifier);
    QVERIFY(scene::findPiece(sceneOf(other), "scale-2"));
    QCOMPARE(sceneOf(other).snares.size(), 2 * snares);
    QCOMPARE(sceneOf(other).snares.back().catches.at, std::string("scale-2"));
    other.key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(sceneOf(other).snares.size(), 2 * snares);
    QCOMPARE(other.window.selection().piece(), std::string("scale-3"));
}

void TestLaying::pastingSomethingElseIsSaid()
{
    Bench bench;
    lay(bench);
    const std::string before = bench.text();
    for (const QString& text : {QString(), QStringLiteral("hello"), QStringLiteral("{\"format\": 7}")}) {
        QApplication::clipboard()->setText(text);
        bench.key(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(bench.text(), before);
    }
}

void TestLaying::measuresADistance()
{
    Bench bench;
    lay(bench);
    QString said;
    connect(bench.window.ground(), &app::GroundView::hint, &bench.window, [&](const QString& text) { said = text; });
    bench.key(Qt::Key_M);
    const std::string before = bench.text();
    bench.drag({0, 0}, {3, 4}, Qt::AltModifier);
    const double metres = said.section(QLatin1Char(' '), 0, 0).toDouble();
    QVERIFY2(std::abs(metres - 5) < 0.1, qPrintable(said));
    QVERIFY(said.contains(QStringLiteral("53.")));
    QCOMPARE(bench.text(), before);
}

void TestLaying::theOverviewMovesTheView()
{
    Bench bench;
    lay(bench);
    app::GroundView* ground = bench.window.ground();
    ground->zoom(8, ground->rect().center());
    const Vec before = ground->transform().centre;
    QTest::mouseClick(ground, Qt::LeftButton, {}, QPoint{ground->width() - 30, 30});
    QVERIFY(glm::length(ground->transform().centre - before) > 1);
    QCOMPARE(bench.window.selection().pieces().size(), 0U); // it was no click on the ground
}

void TestLaying::makesATemplateStampsAndChangesAll()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("shed");
    bench.key(Qt::Key_T, Qt::ControlModifier);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::stamp);
    bench.click({0, 1});
    bench.click({0, 4});
    QCOMPARE(scene::followersOf(sceneOf(bench), "shed").size(), 3U);
    const std::string stamped = bench.window.selection().piece();
    QCOMPARE(stamped, std::string("shed-2"));
    bench.key(Qt::Key_Escape);
    // A file holds of a stamped piece only what is its own.
    QVERIFY(bench.text().find("{\"id\": \"shed-2\", \"template\": \"shed\", \"at\": [0, 4]}") != std::string::npos);
    // The template follows one piece, the others follow the template.
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::findPiece(scene, "shed-2")->shapes[0].geometry = scene::Box{{1, 5}};
    });
    bench.window.document().edit(QStringLiteral("y"), [](scene::Scene& scene) {
        scene::changeTemplate(scene, "shed", *scene::findPiece(scene, "shed-2"));
    });
    for (const std::string& id : scene::followersOf(sceneOf(bench), "shed"))
        QCOMPARE(std::get<scene::Box>(scene::findPiece(sceneOf(bench), id)->shapes[0].geometry).size, (Vec{1, 5}));
    const auto again = io::readScene(bench.text(), "again");
    QVERIFY(again && *again == sceneOf(bench));
}

void TestLaying::ownValuesStayWhenTheTemplateChanges()
{
    Bench bench;
    lay(bench);
    bench.selectAndWait("shed");
    bench.key(Qt::Key_T, Qt::ControlModifier);
    bench.click({0, 1});
    bench.key(Qt::Key_Escape);
    bench.window.document().edit(QStringLiteral("own"), [](scene::Scene& scene) {
        scene::findPiece(scene, "shed-1")->group = "sheds";
        scene::findPiece(scene, "shed-1")->properties.set("doors", scene::Scalar{2.0});
    });
    auto* own = bench.window.findChild<app::SlotButton*>(QStringLiteral("own"));
    QVERIFY(own && own->text() == QStringLiteral("group, value doors"));
    scene::Piece model = scene::templateOf(sceneOf(bench), *scene::findPiece(sceneOf(bench), "shed-1"))->model;
    model.group = "huts";
    model.layer = 3;
    bench.window.document().edit(QStringLiteral("change"),
                                 [&](scene::Scene& scene) { scene::changeTemplate(scene, "shed", model); });
    const scene::Piece* piece = scene::findPiece(sceneOf(bench), "shed-1");
    QCOMPARE(piece->group, std::string("sheds"));
    QCOMPARE(piece->layer, 3);
    // Given back by its slot.
    bench.selectAndWait("shed-1");
    own = bench.window.findChild<app::SlotButton*>(QStringLiteral("own"));
    QTest::mouseClick(own, Qt::LeftButton);
    bench.answer(QStringLiteral("group"));
    QCOMPARE(scene::findPiece(sceneOf(bench), "shed-1")->group, std::string("huts"));
}

void TestLaying::aThreadFromTheShelfBindsAKey()
{
    Bench bench;
    bench.openDemo();
    app::SourcePill* pill = nullptr;
    for (auto* one : bench.window.findChildren<app::SourcePill*>())
        if (one->accessibleName().startsWith(QStringLiteral("tide")))
            pill = one;
    QVERIFY(pill);
    const QPoint target = bench.window.ground()->mapToGlobal(bench.at(bench.placeNow("lamp")));
    QTest::mousePress(pill, Qt::LeftButton);
    for (const QPoint& at : {pill->mapToGlobal(QPoint{5, 60}), target}) {
        const QPointF local = pill->mapFromGlobal(at);
        QMouseEvent move{QEvent::MouseMove, local, QPointF{at}, Qt::NoButton, Qt::LeftButton, {}};
        QApplication::sendEvent(pill, &move);
    }
    const QPointF local = pill->mapFromGlobal(target);
    QMouseEvent up{QEvent::MouseButtonRelease, local, QPointF{target}, Qt::LeftButton, Qt::NoButton, {}};
    QApplication::sendEvent(pill, &up);
    QVERIFY(!bench.popup()); // it was no click
    chooseThread(bench, 0, QStringLiteral("hide"));
    const scene::Snare& made = sceneOf(bench).snares.back();
    QCOMPARE(made.catches.source, std::string("tide"));
    QCOMPARE(made.catches.event.items.front(), scene::EventKind::elapsed);
    QCOMPARE(std::get<scene::Hide>(made.responses[0].kind).on.names.front(), std::string("lamp"));
}

void TestLaying::aThreadIsClickedAndRetargeted()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene.snares.push_back(onEvent("hoist", scene::EventKind::enter, "slip", {scene::Hide{{{"crane"}}}}));
    });
    bench.selectAndWait("slip");
    auto threads = bench.window.ground()->threads();
    QCOMPARE(threads.size(), 1U);
    QTest::mouseClick(bench.window.ground(), Qt::LeftButton, {}, threads[0].pill.center().toPoint());
    QCOMPARE(bench.window.selection().snare(), std::string("hoist"));
    threads = bench.window.ground()->threads();
    QVERIFY(threads[0].chosen);
    const std::string before = bench.text();
    bench.dragPixels(threads[0].path.currentPosition().toPoint(), bench.at({-4, 2}));
    QCOMPARE(std::get<scene::Hide>(scene::findSnare(sceneOf(bench), "hoist")->responses[0].kind).on.names.front(),
             std::string("shed"));
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), before);
}

void TestLaying::severalThreadsBetweenTwoPiecesAreBundled()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        for (const char* id : {"one", "two", "three"})
            scene.snares.push_back(onEvent(id, scene::EventKind::enter, "slip", {scene::Hide{{{"crane"}}}}));
    });
    bench.selectAndWait("slip");
    const auto threads = bench.window.ground()->threads();
    QCOMPARE(threads.size(), 1U);
    QCOMPARE(threads[0].snares.size(), 3U);
    QCOMPARE(threads[0].label, QStringLiteral("3 snares"));
}

void TestLaying::aSnareIsCopiedAndMadeGeneral()
{
    Bench bench;
    lay(bench);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) {
        scene::findPiece(scene, "slip")->tags = {"wet"};
        scene.pieces.push_back(zone("slip-2", {6, -3}, {2, 2}));
        scene.snares.push_back(onEvent("drench", scene::EventKind::enter, "slip", {scene::Hide{{{"slip"}}}}));
    });
    app::Editing editing{bench.window.document(), bench.window.selection()};
    editing.setGround(bench.window.ground());
    editing.copySnareTo("drench", bench.window.ground());
    QTRY_VERIFY(bench.popup());
    auto* list = bench.popup()->findChild<QListWidget*>();
    for (int i = 0; i < list->count(); ++i)
        if (list->item(i)->text().startsWith(QStringLiteral("slip-2")))
            list->item(i)->setCheckState(Qt::Checked);
    QTest::mouseClick(bench.popup()->findChild<QWidget*>(QStringLiteral("done")), Qt::LeftButton);
    const scene::Snare* copy = scene::findSnare(sceneOf(bench), "drench-2");
    QVERIFY(copy);
    QCOMPARE(copy->catches.at, std::string("slip-2"));
    QCOMPARE(std::get<scene::Hide>(copy->responses[0].kind).on.names.front(), std::string("slip-2"));
    editing.generaliseSnare("drench", bench.window.ground());
    bench.answer(QStringLiteral("wet"));
    const scene::Snare* all = scene::findSnare(sceneOf(bench), "drench");
    QCOMPARE(all->catches.at, std::string("tag:wet"));
    QCOMPARE(std::get<scene::Hide>(all->responses[0].kind).on.names.front(), std::string("self"));
}

void TestLaying::theFirstHintTicksOffItsSteps()
{
    QSettings().remove(QStringLiteral("hintClosed"));
    Bench bench;
    bench.openDemo();
    auto* hint = bench.window.findChild<app::FirstHint*>();
    QVERIFY(hint);
    QCOMPARE(hint->stepsDone(), 0);
    // Other ways to the same do not tick what was not done.
    bench.window.stage().setCursor(30);
    bench.window.document().edit(QStringLiteral("Another edit"), [](scene::Scene& scene) { scene.seed = 3; });
    bench.selectAndWait("courier");
    QCOMPARE(hint->stepsDone(), 0);
    bench.key(Qt::Key_Space);
    bench.key(Qt::Key_Space);
    QCOMPARE(hint->stepsDone(), 1);
    bench.window.stage().setCursor(0);
    bench.selectAndWait("scale");
    QCOMPARE(hint->stepsDone(), 2);
    const Vec at = bench.placeNow("scale");
    bench.drag(at, at + Vec{1, 0});
    QCOMPARE(hint->stepsDone(), 3);
    QTest::mouseClick(hint->findChild<QToolButton*>(QStringLiteral("closeHint")), Qt::LeftButton);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QVERIFY(!app::FirstHint::isWanted());
}

void TestLaying::theFirstHintOfAnEmptySceneLeadsToATake()
{
    QSettings().remove(QStringLiteral("hintClosed"));
    Bench bench;
    bench.openDemo();
    auto* hint = bench.window.findChild<app::FirstHint*>();
    QVERIFY(hint);
    const auto says = [&](const QString& words) {
        return std::ranges::any_of(hint->findChildren<QLabel*>(),
                                   [&](const QLabel* step) { return step->text().contains(words); });
    };
    QVERIFY(says(QStringLiteral("the take plays")));
    // A new scene has no take to play: it begins with laying.
    bench.window.document().startNew();
    QVERIFY(!says(QStringLiteral("the take plays")));
    QVERIFY(says(QStringLiteral("Lay pieces")));
    QCOMPARE(hint->stepsDone(), 0);
    bench.key(Qt::Key_Z);
    bench.drag({-1, -1}, {1, 1});
    QCOMPARE(hint->stepsDone(), 1);
    bench.window.document().edit(QStringLiteral("Add wet"), [](scene::Scene& scene) {
        scene.snares = {onEvent("wet", scene::EventKind::enter, scene.pieces[0].id)};
    });
    QCOMPARE(hint->stepsDone(), 2);
    bench.key(Qt::Key_R);
    QTRY_VERIFY_WITH_TIMEOUT(bench.window.stage().cursor() > 0, 20000);
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    QCOMPARE(hint->stepsDone(), 3);
    // Where there are pieces and snares, but no take, only the last step is left.
    bench.window.document().undoStack()->setClean();
    QVERIFY(QFile::remove(bench.folder.filePath(QStringLiteral("weigh-in.take.json"))));
    QVERIFY(bench.window.openFile(bench.folder.filePath(QStringLiteral("weigh-in.snare.json"))));
    QVERIFY(says(QStringLiteral("Press R")));
    QCOMPARE(hint->stepsDone(), 2);
    QSettings().setValue(QStringLiteral("hintClosed"), true);
}

void TestLaying::laysChoosesAndBindsWithKeysAlone()
{
    Bench bench;
    lay(bench);
    bench.key(Qt::Key_Z);
    bench.key(Qt::Key_Return);
    QCOMPARE(sceneOf(bench).pieces.size(), 4U);
    QCOMPARE(bench.window.selection().piece(), std::string("zone"));
    bench.key(Qt::Key_N); // round to the first
    QCOMPARE(bench.window.selection().piece(), std::string("shed"));
    bench.key(Qt::Key_N, Qt::ShiftModifier);
    QCOMPARE(bench.window.selection().piece(), std::string("zone"));
    bench.key(Qt::Key_B, Qt::ControlModifier);
    bench.answer(QStringLiteral("crane"));
    QWidget* popup = nullptr;
    QTRY_VERIFY((popup = bench.window.findChild<QWidget*>(QStringLiteral("threadPopup"))));
    auto* events = popup->findChild<QListWidget*>(QStringLiteral("threadEvents"));
    auto* responses = popup->findChild<QListWidget*>(QStringLiteral("threadResponses"));
    QTest::keyClick(events, Qt::Key_Return);
    QTest::keyClick(responses, Qt::Key_Down);
    QTest::keyClick(responses, Qt::Key_Return);
    QCOMPARE(sceneOf(bench).snares.size(), 1U);
    QCOMPARE(sceneOf(bench).snares[0].catches.at, std::string("zone"));
    // Lanes are chosen and folded with keys too.
    bench.settle();
    app::TimelineView* timeline = bench.window.timeline();
    timeline->setFocus();
    QTest::keyClick(timeline, Qt::Key_Down);
    const std::string lane = timeline->shownLanes().front();
    QTest::keyClick(timeline, Qt::Key_Return);
    QVERIFY(timeline->states().at(lane).folded);
}

void TestLaying::everyToolIsUndoneToTheByte()
{
    Bench bench;
    lay(bench);
    app::GroundView* ground = bench.window.ground();
    std::vector<std::string> before{bench.text()};
    const auto step = [&](const auto& work) {
        work();
        QVERIFY(bench.text() != before.back()); // it did something, in one step
        before.push_back(bench.text());
    };
    for (const app::ToolKind tool : {app::ToolKind::solid, app::ToolKind::zone, app::ToolKind::line})
        for (const app::ShapeKind kind : app::kindsOf(tool))
            step([&] {
                ground->setTool(tool);
                ground->setShapeKind(kind);
                if (kind < app::ShapeKind::polygon)
                    return bench.drag({-1, 0}, {1, 1}, Qt::AltModifier);
                for (const Vec& corner : {Vec{-2, 0}, Vec{0, 1}, Vec{2, 0}})
                    bench.click(corner, Qt::AltModifier);
                bench.key(Qt::Key_Return);
            });
    step([&] {
        bench.selectAndWait("shed");
        bench.key(Qt::Key_T, Qt::ControlModifier);
    });
    step([&] { bench.click({-6, -4}); }); // a stamp
    bench.key(Qt::Key_Escape);
    step([&] {
        bench.selectAndWait("shed");
        bench.dragPixels(handle(bench, app::Handle::Kind::size, 7), bench.at({-2, 4}));
    });
    step([&] {
        ground->setTool(app::ToolKind::thread);
        bench.drag({0, -3.6}, {4, 3.6});
        chooseThread(bench, 0, QStringLiteral("hide"));
    });
    QCOMPARE(bench.window.document().undoStack()->count(), static_cast<int>(before.size())); // and the one of `lay`
    for (std::size_t i = before.size() - 1; i-- > 0;) {
        bench.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(bench.text(), before[i]);
    }
}

SNARE_WINDOW_TEST_MAIN(TestLaying)
#include "test_laying.moc"
