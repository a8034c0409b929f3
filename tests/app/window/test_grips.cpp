// SPDX-License-Identifier: Apache-2.0
/// What can be taken hold of: the frame of the bounds, the arrow of a velocity, the path of the
/// pointer, numbers in slots; and what slots say of names and of what they do not understand.
#include "hands.h"

#include <QAction>
#include <QPushButton>
#include <QTabWidget>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    QPointF handle(app::Handle::Kind kind, std::size_t index = 0)
    {
        for (const app::Handle& one : window.ground()->handles())
            if (one.kind == kind && one.index == index)
                return one.at;
        return {-1, -1};
    }
    /// Drags a handle by so many metres.
    void pull(app::Handle::Kind kind, std::size_t index, const Vec& by)
    {
        const QPointF from = handle(kind, index);
        QVERIFY(from.x() > 0);
        const double scale = window.ground()->transform().scale;
        dragPixels(from.toPoint(), (from + QPointF{by.x * scale, -by.y * scale}).toPoint(), Qt::AltModifier);
    }
    QUndoStack& steps() { return *window.document().undoStack(); }
    /// Presses a slot, moves sideways and lets go.
    void slide(QWidget* slot, int pixels, Qt::KeyboardModifiers modifiers = {}, bool letGo = true)
    {
        const QPoint from{8, slot->height() / 2};
        QTest::mousePress(slot, Qt::LeftButton, modifiers, from);
        for (int i = 1; i <= 4; ++i) {
            const QPointF at = QPointF{from} + QPointF{pixels * i / 4.0, 0};
            QMouseEvent move{QEvent::MouseMove, at, slot->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, modifiers};
            QApplication::sendEvent(slot, &move);
        }
        if (letGo)
            QTest::mouseRelease(slot, Qt::LeftButton, modifiers, from + QPoint{pixels, 0});
    }
    QString wrong()
    {
        for (const QLabel* label : popup()->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains(QStringLiteral("not understood")))
                return label->text();
        return {};
    }
};

} // namespace

class TestGrips : public QObject {
    Q_OBJECT

  private slots:
    void theBoundsAreAFrameWithHandles();
    void theVelocityIsAnArrow();
    void thePathOfThePointerIsBent();
    void aNumberIsDraggedSideways();
    void whatIsNotUnderstoodIsMarkedWhereItStands();
    void targetsArePointedAtOneAfterAnother();
    void usesAreListedAndShown();
};

void TestGrips::theBoundsAreAFrameWithHandles()
{
    Fixture bench;
    bench.fill(QStringLiteral("scene bounds"), QStringLiteral("-6, -4, 6, 4"));
    bench.key(Qt::Key_0, Qt::ControlModifier);
    bench.layOut();
    const auto bounds = [&] { return *bench.scene().bounds; };
    const int steps = bench.steps().count();
    bench.pull(app::Handle::Kind::bounds, 4, {2, 1}); // the right edge: only x counts
    QVERIFY(std::abs(bounds()[2] - 8) < 0.05);
    QCOMPARE(bounds()[3], 4.0);
    bench.pull(app::Handle::Kind::bounds, 0, {1, 0.5}); // the lower left corner
    QVERIFY(std::abs(bounds()[0] + 5) < 0.05 && std::abs(bounds()[1] + 3.5) < 0.05);
    QCOMPARE(bench.steps().count(), steps + 2);
    // It is not turned inside out.
    bench.pull(app::Handle::Kind::bounds, 3, {30, 0});
    QCOMPARE(bounds()[0], bounds()[2] - 1);
    bench.steps().undo();
    // With a piece chosen the frame cannot be taken by mistake.
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    QVERIFY(bench.handle(app::Handle::Kind::bounds, 4).x() < 0);
}

void TestGrips::theVelocityIsAnArrow()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    QVERIFY(bench.handle(app::Handle::Kind::velocity).x() < 0); // what is static has none
    bench.fill(QStringLiteral("body"), QStringLiteral("kinematic"));
    const auto velocity = [&] { return std::get<scene::KinematicBody>(bench.last().body).velocity; };
    bench.pull(app::Handle::Kind::velocity, 0, {2, -1});
    QVERIFY(glm::length(velocity() - Vec(2, -1)) < 0.1);
    // The arrow is as long as the way of a second, and is taken by its tip again.
    const QPointF tip = bench.handle(app::Handle::Kind::velocity);
    const Vec at = bench.window.ground()->transform().toScene(tip);
    QVERIFY(glm::length(at - bench.placeNow(bench.last().id) - velocity()) < 0.05);
    bench.pull(app::Handle::Kind::velocity, 0, -velocity());
    QVERIFY(glm::length(velocity()) < 0.1);
    bench.steps().undo();
    bench.steps().undo();
    QVERIFY(velocity() == Vec(0, 0));
}

void TestGrips::thePathOfThePointerIsBent()
{
    Fixture bench;
    scene::Take take;
    take.length = 4;
    for (const auto& [t, at] : {std::pair{1.0, Vec{-3, 0}}, {2.0, Vec{0, 0}}, {3.0, Vec{3, 0}}})
        take.inputs.push_back({t, scene::PointerMove{at}});
    bench.window.document().setTake(QStringLiteral("Take"), take);
    bench.settle();
    const auto inputs = [&] { return bench.window.document().take().inputs; };
    QVERIFY(bench.handle(app::Handle::Kind::path, 1).x() < 0); // not before it is asked for
    for (QAction* action : bench.window.findChildren<QAction*>())
        if (action->text().contains(QStringLiteral("path in the take")))
            action->trigger();
    bench.pull(app::Handle::Kind::path, 1, {0, 2});
    QVERIFY(glm::length(inputs()[1].as<scene::PointerMove>()->at - Vec(0, 2)) < 0.05);
    bench.pull(app::Handle::Kind::pathLeg, 0, {-1, 0});
    QCOMPARE(inputs().size(), std::size_t{4});
    QCOMPARE(inputs()[1].t, 1.5);
    QVERIFY(glm::length(inputs()[1].as<scene::PointerMove>()->at - Vec(-2.5, 1)) < 0.1);
    // A place that was clicked is taken out again.
    const QPoint last = bench.handle(app::Handle::Kind::path, 3).toPoint();
    QTest::mouseClick(bench.window.ground(), Qt::LeftButton, {}, last);
    bench.key(Qt::Key_Backspace);
    QCOMPARE(inputs().size(), std::size_t{3});
    QCOMPARE(inputs().back().t, 2.0);
    bench.settle();
}

void TestGrips::aNumberIsDraggedSideways()
{
    Fixture bench;
    const int steps = bench.steps().count();
    QTRY_VERIFY(bench.cardSlot(QStringLiteral("scene rate")));
    bench.layOut();
    const int rate = bench.scene().rate;
    bench.slide(bench.cardSlot(QStringLiteral("scene rate")), 51);
    QCOMPARE(bench.scene().rate, rate + 10);
    QVERIFY(!bench.popup());
    QCOMPARE(bench.steps().count(), steps + 1);
    // By tens with Shift; what the slot would not take is not reached.
    bench.layOut();
    bench.slide(bench.cardSlot(QStringLiteral("scene rate")), -11, Qt::ShiftModifier);
    QCOMPARE(bench.scene().rate, rate - 10);
    bench.layOut();
    bench.slide(bench.cardSlot(QStringLiteral("scene rate")), -4000);
    QVERIFY(bench.scene().rate >= 1);
    // Esc leaves it; so does a short way, which is a click.
    bench.layOut();
    const int before = bench.scene().rate;
    auto* slot = bench.cardSlot(QStringLiteral("scene rate"));
    bench.slide(slot, 40, {}, false);
    QTest::keyClick(slot, Qt::Key_Escape);
    QTest::mouseRelease(slot, Qt::LeftButton, {}, QPoint{48, 8});
    QCOMPARE(bench.scene().rate, before);
    bench.slide(slot, 3);
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    // One number of several: the one under the pointer.
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.layOut();
    const Vec at = bench.last().at;
    bench.slide(bench.cardSlot(QStringLiteral("at")), 26);
    QVERIFY(bench.last().at.x > at.x && bench.last().at.y == at.y);
}

void TestGrips::whatIsNotUnderstoodIsMarkedWhereItStands()
{
    Fixture bench;
    bench.window.document().edit(QStringLiteral("Add"), [](scene::Scene& scene) {
        scene.variables.set("load", scene::Scalar{2.0});
        scene.snares.push_back(onKey("count", "e", {scene::Set{scene::Target{{"scene"}}, "load", {1.0}, {}}}));
    });
    bench.layOut();
    const auto ask = [&](const QString& slot, const QString& typed) {
        QTRY_VERIFY2(bench.slot(QStringLiteral("count"), slot), qPrintable(slot));
        QTest::mouseClick(bench.slot(QStringLiteral("count"), slot), Qt::LeftButton);
        bench.answer(typed);
    };
    ask(QStringLiteral("1 value"), QStringLiteral("scene.load + bar"));
    QVERIFY(bench.popup());
    auto* edit = bench.popup()->findChild<QLineEdit*>();
    QCOMPARE(edit->selectedText(), QStringLiteral("bar"));
    QVERIFY2(bench.wrong().contains(QStringLiteral("“bar”")), qPrintable(bench.wrong()));
    // Mended at its place, it is taken.
    QTest::keyClicks(edit, QStringLiteral("2"));
    QTest::keyClick(edit, Qt::Key_Return);
    const auto value = [&] { return std::get<scene::Set>(bench.scene().snares.front().responses.front().kind).value; };
    QVERIFY(value().formula() && value().formula()->kind == scene::Formula::Kind::sum);
    // A text is one, also if it begins like something else; in quotes it always is.
    ask(QStringLiteral("1 value"), QStringLiteral("twelve casks"));
    QVERIFY(value().literal() && *value().literal() == scene::Scalar{std::string("twelve casks")});
    ask(QStringLiteral("1 value"), QStringLiteral("\"scene.load + bar\""));
    QVERIFY(value().literal() && *value().literal() == scene::Scalar{std::string("scene.load + bar")});
    // In conditions, on either side.
    ask(QStringLiteral("add condition"), QStringLiteral("a value compares"));
    QTRY_VERIFY(bench.popup());
    bench.answer(QStringLiteral("load >= 3"));
    QVERIFY(bench.popup());
    QCOMPARE(bench.popup()->findChild<QLineEdit*>()->selectedText(), QStringLiteral("load >= 3"));
    bench.answer(QStringLiteral("scene.load >= 3 + (2"));
    QVERIFY(bench.popup());
    QCOMPARE(bench.popup()->findChild<QLineEdit*>()->selectedText(), QStringLiteral("(2"));
    bench.answer(QStringLiteral("scene.load >= 3"));
    QCOMPARE(bench.scene().snares.front().filter.when.size(), std::size_t{1});
}

void TestGrips::targetsArePointedAtOneAfterAnother()
{
    Fixture bench;
    std::vector<std::string> nets;
    for (const double x : {-4.0, 0.0, 4.0}) {
        bench.draw(Qt::Key_S, {x - 1, -1}, {x + 1, 1});
        nets.push_back(bench.last().id);
    }
    bench.window.document().edit(QStringLiteral("Add"), [](scene::Scene& scene) {
        scene.snares.push_back(onKey("haul", "e", {scene::Hide{}}));
    });
    bench.window.selection().clear();
    bench.layOut();
    const auto names = [&] {
        return std::get<scene::Hide>(bench.scene().snares.front().responses.front().kind).on.names;
    };
    const auto point = [&] {
        QTRY_VERIFY(bench.slot(QStringLiteral("haul"), QStringLiteral("1 on")));
        QTest::mouseClick(bench.slot(QStringLiteral("haul"), QStringLiteral("1 on")), Qt::LeftButton);
        QTRY_VERIFY(bench.popup());
        QTest::mouseClick(bench.popup()->findChild<QPushButton*>(QStringLiteral("pointAtIt")), Qt::LeftButton);
    };
    point();
    bench.click({-4, 0}, Qt::ShiftModifier);
    bench.click({4, 0}, Qt::ShiftModifier);
    bench.click({0, 0}, Qt::ShiftModifier);
    bench.click({4, 0}, Qt::ShiftModifier); // a second time: out again
    QVERIFY(names() != (std::vector<std::string>{nets[0], nets[1]}));
    bench.key(Qt::Key_Return);
    QCOMPARE(names(), (std::vector<std::string>{nets[0], nets[1]}));
    bench.layOut();
    point();
    bench.click({4, 0});
    QCOMPARE(names(), (std::vector<std::string>{nets[2]}));
}

void TestGrips::usesAreListedAndShown()
{
    Fixture bench;
    bench.openDemo();
    auto* tabs = bench.window.findChild<QTabWidget*>();
    bench.window.selection().clear();
    bench.layOut();
    const scene::Scene scene = bench.scene();
    const std::string name = scene.variables.entries.front().first;
    const auto uses = scene::usesOf(scene, scene::Thing::value, name);
    QVERIFY(!uses.empty());
    std::size_t times = 0;
    for (const scene::Use& use : uses)
        times += use.times;
    QCOMPARE(times, scene::countMentions(scene, scene::Thing::value, name));
    // From the slot of the value, by key, to the first snare that uses it.
    bench.press(QStringLiteral("value ") + QString::fromStdString(name));
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_F2, Qt::ShiftModifier);
    QTRY_VERIFY(bench.popup() && bench.popup()->findChild<QListWidget*>()->count() == static_cast<int>(uses.size()));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
    QCOMPARE(bench.window.selection().snare(), uses.front().id);
    // Of a piece that is chosen, by the command.
    bench.window.selection().choosePiece("scale");
    bench.layOut();
    bench.key(Qt::Key_F2, Qt::ShiftModifier);
    QTRY_VERIFY(bench.popup());
    QCOMPARE(bench.popup()->findChild<QListWidget*>()->count(),
             static_cast<int>(scene::usesOf(scene, scene::Thing::piece, "scale").size()));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    Q_UNUSED(tabs)
}

SNARE_WINDOW_TEST_MAIN(TestGrips)
#include "test_grips.moc"
