// SPDX-License-Identifier: Apache-2.0
/// From an empty scene, by mouse and keys alone.
#include "app/ground/ground_labels.h"
#include "hands.h"

#include <QAbstractButton>
#include <QScrollBar>
#include <QTabWidget>

#include <map>
#include <random>
#include <set>

using namespace snare;
using namespace snare::tests;
using app::Stage;

namespace {

struct Fixture : Hands {
    QAbstractButton* button(const QString& name)
    {
        auto* found = window.findChild<QAbstractButton*>(name);
        return found && found->isVisible() ? found : nullptr;
    }
};

} // namespace

class TestByHand : public QObject {
    Q_OBJECT

  private slots:
    void aNewSceneAsksHowItIsSeen();
    void theSceneIsSetOnItsCard();
    void valuesAreGivenChangedAndTakenAway();
    void aBodyHasVelocityAndSpinAndAShapeFrictionAndBounce();
    void aWalkerJumpsOntoACrateThatFell();
    void escTakesBackOnlyWhatTheDragDid();
    void theCardStaysWhereTheHandIs();
    void aNewThreadOpensWhatIsToBeFilled();
    void theThreadPopupCutsNothingAndLeavesTheCards();
    void namesOnTheGroundMakeWay();
};

void TestByHand::aNewSceneAsksHowItIsSeen()
{
    Fixture bench;
    bench.openDemo();
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QTRY_VERIFY(bench.button(QStringLiteral("fromTheSide")));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Right);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QCOMPARE(bench.scene().view, scene::View::side);
    QVERIFY(!bench.button(QStringLiteral("fromTheSide")));
    bench.window.document().undoStack()->undo();
    QCOMPARE(bench.scene().view, scene::View::plan);
    // Put off with Esc; the file stays clean.
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QTRY_VERIFY(bench.button(QStringLiteral("fromAbove")));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
    QVERIFY(!bench.button(QStringLiteral("fromAbove")));
    QVERIFY(!bench.window.document().isDirty());
    // The underlined letter answers; S would be the tool for solids otherwise.
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QTRY_VERIFY(bench.button(QStringLiteral("fromTheSide")));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_S);
    QCOMPARE(bench.scene().view, scene::View::side);
    QVERIFY(!bench.button(QStringLiteral("fromTheSide")));
}

void TestByHand::theSceneIsSetOnItsCard()
{
    Fixture bench;
    const std::string before = bench.text();
    bench.fill(QStringLiteral("scene schema"), QStringLiteral("scene.schema.json"));
    QCOMPARE(bench.scene().schema, std::string("scene.schema.json"));
    bench.fill(QStringLiteral("scene schema"), QString());
    QCOMPARE(bench.text(), before);
    bench.fill(QStringLiteral("scene name"), QStringLiteral("Samphire quay"));
    bench.press(QStringLiteral("scene view"));
    bench.answer(QStringLiteral("side"));
    bench.fill(QStringLiteral("scene rate"), QStringLiteral("120"));
    bench.fill(QStringLiteral("scene seed"), QStringLiteral("7"));
    bench.fill(QStringLiteral("scene gravity"), QStringLiteral("0, -3.5"));
    bench.fill(QStringLiteral("scene bounds"), QStringLiteral("-20, -10, 20, 10"));
    const scene::Scene scene = bench.scene();
    QCOMPARE(scene.name, std::string("Samphire quay"));
    QCOMPARE(scene.view, scene::View::side);
    QCOMPARE(scene.rate, 120);
    QCOMPARE(scene.seed, 7u);
    QVERIFY(scene.gravity == scene::Vec(0, -3.5));
    QVERIFY(scene.bounds == (std::array<double, 4>{-20, -10, 20, 10}));
    // What is no frame is said, and stays open.
    bench.press(QStringLiteral("scene bounds"));
    bench.answer(QStringLiteral("20, -10, -20, 10"));
    QVERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    // Emptied, they are by the view again.
    bench.fill(QStringLiteral("scene gravity"), QString());
    bench.fill(QStringLiteral("scene bounds"), QString());
    QVERIFY(!bench.scene().gravity && !bench.scene().bounds);
    while (bench.window.document().undoStack()->canUndo())
        bench.window.document().undoStack()->undo();
    QCOMPARE(bench.text(), before);
}

void TestByHand::valuesAreGivenChangedAndTakenAway()
{
    Fixture bench;
    bench.fill(QStringLiteral("properties"),
               QStringLiteral("load = 3, berth = \"007\", note = \"west, pier\", open = true"));
    const auto& values = [&]() -> const scene::Named<scene::Scalar>& { return bench.scene().variables; };
    QCOMPARE(values().entries.size(), std::size_t{4});
    QVERIFY(*values().find("berth") == scene::Scalar{std::string("007")});
    QVERIFY(*values().find("note") == scene::Scalar{std::string("west, pier")});
    QVERIFY(*values().find("open") == scene::Scalar{true});
    bench.fill(QStringLiteral("value load"), QStringLiteral("load = 4.5"));
    QVERIFY(*values().find("load") == scene::Scalar{4.5});
    bench.fill(QStringLiteral("value berth"), QString());
    QVERIFY(!values().find("berth"));
    // A built-in name is turned away.
    bench.fill(QStringLiteral("properties"), QStringLiteral("age = 3"));
    QVERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    QVERIFY(!values().find("age"));
}

void TestByHand::aBodyHasVelocityAndSpinAndAShapeFrictionAndBounce()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.fill(QStringLiteral("body"), QStringLiteral("kinematic"));
    bench.press(QStringLiteral("add body"));
    bench.answer(QStringLiteral("velocity"));
    bench.answer(QStringLiteral("2, -1, 0.5"));
    bench.press(QStringLiteral("add body"));
    bench.answer(QStringLiteral("spin"));
    bench.answer(QStringLiteral("90"));
    const auto body = [&] { return std::get<scene::KinematicBody>(bench.last().body); };
    QVERIFY(body().velocity == scene::Vec(2, -1));
    QCOMPARE(body().rise, 0.5);
    QCOMPARE(body().spin, 90.0);
    bench.fill(QStringLiteral("body velocity"), QString());
    QVERIFY(body().velocity == scene::Vec(0, 0) && body().rise == 0);
}

/// The whole of it: a floor, a crate that falls onto it with a zone on top, and a walker who jumps
/// up.
void TestByHand::aWalkerJumpsOntoACrateThatFell()
{
    Fixture bench;
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QTRY_VERIFY(bench.button(QStringLiteral("fromTheSide")));
    QTest::mouseClick(bench.button(QStringLiteral("fromTheSide")), Qt::LeftButton);
    QCOMPARE(bench.scene().view, scene::View::side);
    bench.draw(Qt::Key_S, {-8, -3}, {8, -2});
    bench.draw(Qt::Key_S, {1, 0}, {2, 1});
    bench.fill(QStringLiteral("body"), QStringLiteral("dynamic"));
    const std::string crate = bench.last().id;
    // A zone on its top, laid onto the piece that is selected.
    bench.draw(Qt::Key_Z, {1, 1}, {2, 1.5}, Qt::ShiftModifier);
    QCOMPARE(bench.last().id, crate);
    QCOMPARE(bench.last().shapes.size(), std::size_t{2});
    QCOMPARE(bench.last().shapes[1].role, scene::Role::zone);
    bench.draw(Qt::Key_S, {-1, -1.5}, {-0.5, -0.7});
    bench.fill(QStringLiteral("body"), QStringLiteral("walker, arrow"));
    const std::string walker = bench.last().id;
    QVERIFY(std::get<scene::WalkerBody>(bench.last().body).jump > 0);
    // A thread from the zone on the crate to the walker: who enters says so.
    bench.key(Qt::Key_T);
    bench.drag({1.5, 1.25}, {-0.75, -1.1});
    QWidget* popup = nullptr;
    QTRY_VERIFY((popup = bench.window.findChild<QWidget*>(QStringLiteral("threadPopup"))) && popup->isVisible());
    const auto choose = [&](const QString& word) {
        for (QListWidget* list : popup->findChildren<QListWidget*>())
            for (int i = 0; i < list->count(); ++i)
                if (list->item(i)->text().contains(word)) {
                    QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                                      list->visualItemRect(list->item(i)).center());
                    return true;
                }
        for (QAbstractButton* one : popup->findChildren<QAbstractButton*>())
            if (one->text().contains(word)) {
                QTest::mouseClick(one, Qt::LeftButton);
                return true;
            }
        return false;
    };
    QVERIFY(choose(QStringLiteral("enter")));
    QVERIFY(choose(QStringLiteral("say")));
    QCOMPARE(bench.scene().snares.size(), std::size_t{1});
    // The crate comes down in the meantime; then a run and a jump to its top.
    bench.key(Qt::Key_V);
    bench.key(Qt::Key_R);
    QCOMPARE(bench.window.stage().mode(), Stage::Mode::recording);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(crate).y < -1.4, 20000);
    QTest::keyPress(bench.window.ground(), Qt::Key_Right);
    QTest::keyPress(bench.window.ground(), Qt::Key_Space);
    const auto entered = [&] {
        const sim::Record& record = bench.window.stage().record();
        return std::ranges::any_of(record.journal.lines, [&](const rules::Line& line) {
            return line.kind == rules::LineKind::response && line.tick > 0 && record.nameOf(line.self) == walker;
        });
    };
    QTRY_VERIFY_WITH_TIMEOUT(entered(), 20000);
    QTest::keyRelease(bench.window.ground(), Qt::Key_Space);
    QTest::keyRelease(bench.window.ground(), Qt::Key_Right);
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    bench.settle();
    QVERIFY(entered()); // in the re-run too
}

void TestByHand::escTakesBackOnlyWhatTheDragDid()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.selectAndWait(bench.last().id);
    bench.key(Qt::Key_Right);
    const std::string before = bench.text();
    const int steps = bench.window.document().undoStack()->count();
    QWidget* ground = bench.window.ground();
    const auto moveTo = [&](const QPoint& at) {
        QMouseEvent move{QEvent::MouseMove, QPointF{at},    ground->mapToGlobal(QPointF{at}),
                         Qt::NoButton,      Qt::LeftButton, {}};
        QApplication::sendEvent(ground, &move);
    };
    const QPoint middle = bench.at(bench.placeNow(bench.last().id));
    // A drag that came back to where it began leaves the scene as it was.
    QTest::mousePress(ground, Qt::LeftButton, {}, middle);
    moveTo(middle + QPoint{60, 0});
    QVERIFY(bench.text() != before);
    QTest::keyClick(ground, Qt::Key_Escape);
    QCOMPARE(bench.text(), before);
    QCOMPARE(bench.window.document().undoStack()->count(), steps); // nothing is left to redo
    QTest::mouseRelease(ground, Qt::LeftButton, {}, middle);
    // One that snaps to where the piece is makes no step: Esc must not take the nudge.
    QTest::mousePress(ground, Qt::LeftButton, {}, middle);
    moveTo(middle + QPoint{4, 0});
    const bool moved = bench.text() != before;
    QTest::keyClick(ground, Qt::Key_Escape);
    QTest::mouseRelease(ground, Qt::LeftButton, {}, middle);
    QCOMPARE(bench.text(), before);
    Q_UNUSED(moved)
}

void TestByHand::theCardStaysWhereTheHandIs()
{
    Fixture bench;
    bench.openDemo();
    auto* tabs = bench.window.findChild<QTabWidget*>();
    for (int i = 0; i < tabs->count(); ++i)
        if (tabs->tabText(i).startsWith(QStringLiteral("Book")))
            tabs->setCurrentIndex(i);
    auto* book = bench.window.findChild<app::BookPanel*>();
    app::CardList* cards = book->cards();
    QScrollBar* bar = cards->verticalScrollBar();
    const scene::SharedList<scene::Snare> snares = bench.scene().snares;
    QVERIFY(snares.size() > 8);
    const auto card = [&](std::size_t snare) { return cards->card(snares[snare].id); };
    // All are built, however long that takes, and the column stands still meanwhile.
    QTRY_VERIFY(std::ranges::all_of(snares, [&](const scene::Snare& snare) {
        return cards->card(snare.id)->findChild<app::SlotButton*>(QStringLiteral("name"));
    }));
    bench.layOut();
    QVERIFY(bar->maximum() > 400);
    bench.window.selection().chooseSnare(snares.front().id, {}); // far above what is edited
    bench.layOut();
    for (const std::size_t snare : {std::size_t{3}, snares.size() / 2, snares.size() - 2}) {
        // The card reaches out of view above; its slot is in view.
        bar->setValue(card(snare)->y() + 24);
        bench.layOut();
        auto* slot = card(snare)->findChild<app::SlotButton*>(QStringLiteral("note"));
        const int y = slot->mapToGlobal(QPoint{0, 0}).y();
        slot->setFocus();
        QTest::keyClick(slot, Qt::Key_Return);
        const QString note = QStringLiteral("so that the berth is free again before the next boat comes in");
        bench.answer(snares[snare].note.empty() ? note : note + note);
        bench.layOut();
        bench.settle();
        bench.layOut();
        QVERIFY(bench.scene().snares[snare].note != snares[snare].note);
        auto* focus = bench.window.focusWidget();
        QVERIFY(focus && card(snare)->isAncestorOf(focus));
        QCOMPARE(focus->objectName(), QStringLiteral("note"));
        if (!snares[snare].note.empty()) // else it has moved to the top of its card
            QCOMPARE(focus->mapToGlobal(QPoint{0, 0}).y(), y);
        // A new name keeps the card and the focus, too.
        auto* name = card(snare)->findChild<app::SlotButton*>(QStringLiteral("name"));
        cards->ensureWidgetVisible(name);
        bench.layOut();
        const int top = name->mapToGlobal(QPoint{0, 0}).y();
        name->setFocus();
        QTest::keyClick(name, Qt::Key_Return);
        bench.answer(QStringLiteral("renamed-%1").arg(snare));
        bench.layOut();
        focus = bench.window.focusWidget();
        QVERIFY(focus && focus->objectName() == QLatin1String("name"));
        QVERIFY(cards->card("renamed-" + std::to_string(snare))->isAncestorOf(focus));
        QCOMPARE(focus->mapToGlobal(QPoint{0, 0}).y(), top);
        // Another selection elsewhere leaves the column where it is.
        const int value = bar->value();
        bench.window.selection().choosePiece("vane");
        bench.layOut();
        QCOMPARE(bar->value(), value);
    }
}

void TestByHand::aNewThreadOpensWhatIsToBeFilled()
{
    Fixture bench;
    bench.openDemo();
    const auto draw = [&](const QString& event, const QString& response) {
        bench.key(Qt::Key_T);
        bench.drag(bench.placeNow("scale"), bench.placeNow("vane"));
        QWidget* popup = nullptr;
        QTRY_VERIFY((popup = bench.window.findChild<QWidget*>(QStringLiteral("threadPopup"))));
        const auto choose = [&](const char* list, const QString& word) {
            auto* choices = popup->findChild<QListWidget*>(QLatin1String(list));
            for (int i = 0; i < choices->count(); ++i)
                if (choices->item(i)->data(Qt::UserRole).toString() == word) {
                    choices->scrollToItem(choices->item(i));
                    QTest::mouseClick(choices->viewport(), Qt::LeftButton, {},
                                      choices->visualItemRect(choices->item(i)).center());
                    return;
                }
            QFAIL(qPrintable(word));
        };
        choose("threadEvents", event);
        choose("threadResponses", response);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QTRY_VERIFY(bench.popup());
    };
    draw(QStringLiteral("enter"), QStringLiteral("say"));
    bench.answer(QStringLiteral("mind the crane"));
    const auto made = [&] { return bench.scene().snares.back(); };
    QCOMPARE(std::get<scene::Say>(made().responses.front().kind).text.items.front(), std::string("mind the crane"));
    draw(QStringLiteral("enter"), QStringLiteral("turn"));
    bench.answer(QStringLiteral("45"));
    QCOMPARE(std::get<scene::Turn>(made().responses.front().kind).by, std::optional<double>(45));
    // A signal comes first: without it nothing is ever heard.
    draw(QStringLiteral("heard"), QStringLiteral("say"));
    bench.answer(QStringLiteral("all-clear"));
    QCOMPARE(made().catches.signal, std::string("all-clear"));
    // Leaving the slot leaves what was put in.
    draw(QStringLiteral("key-down"), QStringLiteral("show"));
    QTest::keyClick(bench.popup(), Qt::Key_Escape);
    QCOMPARE(made().catches.key, std::string("e"));
}

void TestByHand::theThreadPopupCutsNothingAndLeavesTheCards()
{
    Fixture bench;
    bench.openDemo();
    bench.key(Qt::Key_T);
    bench.drag(bench.placeNow("scale"), bench.placeNow("vane"));
    QWidget* popup = nullptr;
    QTRY_VERIFY((popup = bench.window.findChild<QWidget*>(QStringLiteral("threadPopup"))));
    for (const auto* list : popup->findChildren<QListWidget*>())
        for (int i = 0; i < list->count(); ++i) {
            const int wanted = QFontMetrics{list->font()}.horizontalAdvance(list->item(i)->text());
            QVERIFY2(wanted <= list->viewport()->width(), qPrintable(list->item(i)->text()));
        }
    const QWidget* ground = bench.window.ground();
    const QRect room{ground->mapToGlobal(QPoint{0, 0}), ground->size()};
    QVERIFY(room.contains(popup->frameGeometry()));
    popup->close();
}

void TestByHand::namesOnTheGroundMakeWay()
{
    const auto label = [](const QString& text, std::vector<QRectF> places, bool wanted = false) {
        app::GroundLabel one;
        one.text = text;
        one.wanted = wanted;
        one.places = std::move(places);
        return one;
    };
    const QRectF below{0, 0, 60, 14};
    const QRectF above{0, 40, 60, 14};
    const std::vector<app::GroundLabel> labels{
        label(QStringLiteral("lock keeper"), {below, above}), label(QStringLiteral("lock"), {below, above}),
        label(QStringLiteral("gate"), {below, above}), label(QStringLiteral("chosen"), {below.translated(5, 3)}, true),
        label(QStringLiteral("far"), {below.translated(500, -300)})};
    std::map<QString, QRectF> where;
    for (const app::PlacedLabel& one : app::placed(labels))
        where[one.label->text] = one.box;
    QCOMPARE(where.size(), 3U); // the selected one has its place, one takes the other, two have none
    QCOMPARE(where[QStringLiteral("chosen")], below.translated(5, 3));
    QCOMPARE(where[QStringLiteral("lock keeper")], above);
    QCOMPARE(where[QStringLiteral("far")], below.translated(500, -300));
    // A thousand in disorder: none covers another, and whoever is left out had no room.
    std::mt19937 dice{4};
    std::vector<app::GroundLabel> many;
    for (int i = 0; i < 1000; ++i) {
        const QPointF at{static_cast<double>(dice() % 900), static_cast<double>(dice() % 600)};
        many.push_back(
            label(QString::number(i), {QRectF{at, QSizeF{50, 14}}, QRectF{at + QPointF{0, 20}, QSizeF{50, 14}}}));
    }
    const auto result = app::placed(many);
    QVERIFY(result.size() > 200 && result.size() < 1000);
    std::set<const app::GroundLabel*> stand;
    for (std::size_t i = 0; i < result.size(); ++i) {
        stand.insert(result[i].label);
        for (std::size_t k = 0; k < i; ++k)
            QVERIFY(!result[i].box.intersects(result[k].box));
    }
    for (const app::GroundLabel& one : many)
        if (!stand.contains(&one))
            for (const QRectF& place : one.places)
                QVERIFY(std::ranges::any_of(result, [&](const auto& other) { return other.box.intersects(place); }));
}

SNARE_WINDOW_TEST_MAIN(TestByHand)
#include "test_by_hand.moc"
