// SPDX-License-Identifier: Apache-2.0
/// Whole scenes, each made by mouse and keys alone from an empty one, then played. It tells how
/// many clicks and keys each took.
#include "hands.h"

#include "app/ground/picture_view.h"

#include <QAbstractButton>
#include <QAction>
#include <QImage>
#include <QMenu>
#include <QTabWidget>

using namespace snare;
using namespace snare::tests;
using app::Stage;

namespace {

struct Scripter : Hands {
    int keys = 0;
    QString snare; ///< the one that is worked on

    explicit Scripter(bool fromTheSide = false)
    {
        if (!fromTheSide)
            return;
        key(Qt::Key_N, Qt::ControlModifier);
        layOut();
        auto* button = window.findChild<QAbstractButton*>(QStringLiteral("fromTheSide"));
        QVERIFY(button);
        QTest::mouseClick(button, Qt::LeftButton);
        keys += 1;
        clicks += 1;
    }

    /// Draws, and names what was drawn.
    void lay(Qt::Key tool, const Vec& from, const Vec& to, const QString& name)
    {
        draw(tool, from, to);
        clicks += 1;
        keys += 2;
        settle();
        if (!name.isEmpty())
            put(QStringLiteral("name"), {name});
    }
    /// Opens a slot of the piece's or the scene's card and answers what it asks.
    void put(const QString& name, const QStringList& answers)
    {
        layOut();
        if (!cardSlot(name) && cardSlot(QStringLiteral("more"))) {
            press(QStringLiteral("more"));
            ++clicks;
            layOut();
        }
        press(name);
        ++clicks;
        give(answers);
    }
    void give(const QStringList& answers)
    {
        for (const QString& text : answers) {
            QTRY_VERIFY2(popup(), qPrintable(text));
            if (qEnvironmentVariableIsSet("SHOW")) {
                qInfo("%s -> %s", qPrintable(popup()->findChild<QLabel*>()->text()), qPrintable(text));
                for (int i = 0; i < popup()->findChild<QListWidget*>()->count(); ++i)
                    qInfo("  %s", qPrintable(popup()->findChild<QListWidget*>()->item(i)->text()));
            }
            answer(text);
            keys += static_cast<int>(text.size()) + 1;
        }
        layOut();
    }
    void order(const QString& text)
    {
        Hands::order(text);
        layOut();
    }
    void pick(const Vec& at, Qt::KeyboardModifiers modifiers = {})
    {
        click(at, modifiers);
        ++clicks;
        layOut();
    }
    /// Away from everything, so that the scene is chosen.
    void pickNothing()
    {
        key(Qt::Key_Escape);
        key(Qt::Key_Escape);
        ++keys;
        layOut();
        QVERIFY(window.selection().pieces().empty());
    }
    void here()
    {
        auto* tabs = window.findChild<QTabWidget*>();
        tabs->setCurrentIndex(0);
        layOut();
    }
    /// A new snare at what is chosen.
    void listen(const QString& event, const QStringList& more = {})
    {
        here();
        auto* add = window.findChild<app::SlotButton*>(QStringLiteral("add snare"));
        QVERIFY(add);
        const std::size_t before = scene().snares.size();
        QTest::mouseClick(add, Qt::LeftButton);
        ++clicks;
        give(QStringList{event} + more);
        QCOMPARE(scene().snares.size(), before + 1);
        snare = QString::fromStdString(scene().snares[before].id);
    }
    QString slotsOf(const QString& card)
    {
        QStringList names;
        if (auto* widget = window.findChild<QWidget*>(QStringLiteral("card ") + card))
            for (const auto* one : widget->findChildren<app::SlotButton*>())
                names << one->objectName();
        return names.join(QStringLiteral(", "));
    }
    /// Opens a slot of the snare's card and answers what it asks.
    void set(const QString& name, const QStringList& answers)
    {
        layOut();
        QTRY_VERIFY2(slot(snare, name),
                     qPrintable(snare + QStringLiteral(": ") + name + QStringLiteral(" of ") + slotsOf(snare)));
        QTest::mouseClick(slot(snare, name), Qt::LeftButton);
        ++clicks;
        give(answers);
    }
    /// One more response; what it asks is answered at once.
    void respond(const QString& word, const QStringList& answers = {})
    {
        QStringList all{word};
        set(QStringLiteral("add response"), all + answers);
        if (answers.isEmpty() && popup()) { // left as it is
            QTest::keyClick(popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
            ++keys;
            layOut();
        }
    }
    void only(const QString& word, const QStringList& answers)
    {
        QStringList all{word};
        set(QStringLiteral("add condition"), all + answers);
    }

    void record()
    {
        key(Qt::Key_R);
        QCOMPARE(window.stage().mode(), Stage::Mode::recording);
    }
    void stop()
    {
        window.stage().stop();
        settle();
    }
    void hold(Qt::Key key) { QTest::keyPress(window.ground(), key); }
    void letGo(Qt::Key key) { QTest::keyRelease(window.ground(), key); }

    /// How often a snare sprang in the run.
    int sprang(const QString& id)
    {
        const sim::Record& record = window.stage().record();
        return static_cast<int>(std::ranges::count_if(record.journal.lines, [&](const rules::Line& line) {
            return line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung &&
                   record.scene->snares[static_cast<std::size_t>(line.snare)].id == id.toStdString();
        }));
    }
    void tell(const char* what) { qInfo("%s: %d clicks, %d keys", what, clicks, keys); }
};

} // namespace

class TestScenes : public QObject {
    Q_OBJECT

  private slots:
    void aBoxTumblesDownStairs();
    void aWalkerClimbsShrouds();
    void aLiftCarriesTheCourier();
    void aLineIsThrown();
    void aButtonOpensAPanelAndPegsAreSet();
    void netsAreSweptUp();
    void boatsComeToLieApart();
    void aDialAndACallOpenADoor();
    void aColourOfAPictureStopsTheRun();
};

/// a: from the side, a box that tumbles down stairs and changes its colour with each hit.
void TestScenes::aBoxTumblesDownStairs()
{
    Scripter bench{true};
    bench.lay(Qt::Key_S, {-8, -4}, {8, -3}, QStringLiteral("quay"));
    bench.lay(Qt::Key_S, {-8, -3}, {-2, -2}, {});
    bench.lay(Qt::Key_S, {-8, -2}, {-4, -1}, {});
    bench.order(QStringLiteral("Falling box"));
    bench.pick({-4.4, 1});
    const std::string box = bench.last().id;
    QVERIFY(std::holds_alternative<scene::DynamicBody>(bench.last().body));
    bench.settle();
    bench.put(QStringLiteral("add body"), {QStringLiteral("velocity"), QStringLiteral("4, 0")});
    bench.put(QStringLiteral("add look"), {QStringLiteral("another look"), QStringLiteral("scuffed")});
    bench.put(QStringLiteral("look colour"), {QStringLiteral("coral")});
    bench.listen(QStringLiteral("hits"));
    bench.respond(QStringLiteral("look"), {QStringLiteral("next")});
    bench.tell("stairs");
    bench.settle();
    bench.record();
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(box).y < -2, 20000); // down at the quay
    bench.pass(30);
    bench.stop();
    QVERIFY(bench.sprang(bench.snare) >= 2);
    QVERIFY(bench.placeNow(box).x > -2);
}

/// b: a walker who climbs shrouds by himself, and another who is lifted by snares alone.
void TestScenes::aWalkerClimbsShrouds()
{
    Scripter bench{true};
    bench.lay(Qt::Key_S, {-8, -4}, {8, -3}, QStringLiteral("deck"));
    bench.lay(Qt::Key_Z, {1, -3}, {3, 3}, QStringLiteral("shrouds"));
    bench.put(QStringLiteral("group"), {QStringLiteral("rigging")});
    bench.order(QStringLiteral("Walker"));
    bench.pick({2, -2.1});
    bench.put(QStringLiteral("add body"), {QStringLiteral("climb"), QStringLiteral("rigging")});
    const std::string walker = bench.last().id;
    bench.settle();
    bench.record();
    bench.pass(20);
    bench.hold(Qt::Key_Up);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(walker).y > 0, 20000);
    bench.letGo(Qt::Key_Up);
    bench.stop();
    // By snares alone: what is inside is lifted while the key is held.
    bench.lay(Qt::Key_Z, {-4, -3}, {-2, 3}, QStringLiteral("ropes"));
    bench.listen(QStringLiteral("is held"));
    bench.set(QStringLiteral("key"), {QStringLiteral("u")});
    bench.set(QStringLiteral("where"), {QStringLiteral("ropes")});
    bench.only(QStringLiteral("once for each visitor inside"), {QStringLiteral("any")});
    bench.respond(QStringLiteral("set"), {QStringLiteral("vy")});
    bench.set(QStringLiteral("1 value"), {QStringLiteral("2")});
    bench.set(QStringLiteral("1 on"), {QStringLiteral("visitor")});
    bench.tell("shrouds");
    bench.pick(bench.placeNow(walker));
    bench.window.stage().setCursor(0);
    bench.layOut();
    bench.put(QStringLiteral("at"), {QStringLiteral("-3, -2.1")});
    bench.settle();
    bench.record();
    bench.pass(20);
    bench.hold(Qt::Key_U);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(walker).y > 0, 20000);
    bench.letGo(Qt::Key_U);
    bench.stop();
    QVERIFY(bench.sprang(bench.snare) > 5);
}

/// c: a lift that goes up while the courier stands on it, carries him, and comes back when he
/// leaves.
void TestScenes::aLiftCarriesTheCourier()
{
    Scripter bench{true};
    bench.lay(Qt::Key_S, {-8, -4}, {-1, -3}, QStringLiteral("quay"));
    bench.lay(Qt::Key_S, {-1, -3.4}, {2, -3}, QStringLiteral("lift"));
    bench.put(QStringLiteral("body"), {QStringLiteral("kinematic")});
    bench.draw(Qt::Key_Z, {-0.6, -3}, {1.6, -2.4}, Qt::ShiftModifier);
    bench.clicks += 1;
    bench.keys += 2;
    QCOMPARE(bench.last().shapes.size(), std::size_t{2});
    bench.listen(QStringLiteral("enters"));
    const QString up = bench.snare;
    bench.respond(QStringLiteral("move"), {QStringLiteral("0.5, 0")});
    bench.listen(QStringLiteral("leaves"));
    const QString down = bench.snare;
    bench.respond(QStringLiteral("move"), {QStringLiteral("home")});
    bench.order(QStringLiteral("Walker"));
    bench.pick({-3, -2.1});
    const std::string courier = bench.last().id;
    bench.tell("lift");
    bench.settle();
    bench.record();
    bench.pass(10);
    bench.hold(Qt::Key_Right);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(courier).x > 0.2, 20000);
    bench.letGo(Qt::Key_Right);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(courier).y > 0.2, 20000); // carried
    QVERIFY(bench.placeNow("lift").y > -1);
    bench.hold(Qt::Key_Left);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow(courier).y < -1.8, 20000);
    bench.letGo(Qt::Key_Left);
    QTRY_VERIFY_WITH_TIMEOUT(bench.placeNow("lift").y < -3.1, 20000);
    bench.stop();
    QVERIFY(bench.sprang(up) >= 1 && bench.sprang(down) >= 1);
}

/// d: Space throws a ring that lives a second; driftwood comes on its own; both go when they meet;
/// the launch that is hit begins everything again.
void TestScenes::aLineIsThrown()
{
    Scripter bench;
    bench.lay(Qt::Key_Z, {5, 3}, {5.6, 3.6}, QStringLiteral("ring"));
    bench.put(QStringLiteral("body"), {QStringLiteral("kinematic")});
    bench.put(QStringLiteral("add mode"), {QStringLiteral("lifetime"), QStringLiteral("1")});
    bench.order(QStringLiteral("Make a template"));
    bench.key(Qt::Key_V);
    bench.pick({5.3, 3.3});
    bench.key(Qt::Key_Delete);
    bench.keys += 2;
    QCOMPARE(bench.scene().pieces.size(), std::size_t{0});
    QVERIFY(bench.scene().templates.find("ring"));
    bench.lay(Qt::Key_S, {-0.6, -4}, {0.6, -3}, QStringLiteral("launch"));
    for (const double y : {0.0, 3.0}) {
        bench.lay(Qt::Key_S, {-0.8, y}, {0.8, y + 0.5}, {});
        bench.put(QStringLiteral("tags"), {QStringLiteral("wood")});
        bench.put(QStringLiteral("body"), {QStringLiteral("kinematic")});
        bench.put(QStringLiteral("add body"), {QStringLiteral("velocity"), QStringLiteral("0, -2")});
    }
    bench.pick({0, -3.5});
    bench.listen(QStringLiteral("is pressed"));
    const QString thrown = bench.snare;
    bench.set(QStringLiteral("key"), {QStringLiteral("space")});
    bench.respond(QStringLiteral("spawn"), {QStringLiteral("ring")});
    bench.set(QStringLiteral("1 more"), {QStringLiteral("where"), QStringLiteral("0, -2.4")});
    bench.set(QStringLiteral("1 more"), {QStringLiteral("how it starts"), QStringLiteral("0, 8")});
    bench.pick({0, -3.5});
    bench.listen(QStringLiteral("enters"));
    const QString caught = bench.snare;
    bench.set(QStringLiteral("where"), {QStringLiteral("template:ring")});
    bench.only(QStringLiteral("the visitor has a tag"), {QStringLiteral("wood")});
    bench.respond(QStringLiteral("remove"));
    bench.set(QStringLiteral("1 on"), {QStringLiteral("self, visitor")});
    bench.pick({0, -3.5});
    bench.listen(QStringLiteral("enters"));
    const QString rammed = bench.snare;
    bench.only(QStringLiteral("the visitor has a tag"), {QStringLiteral("wood")});
    bench.respond(QStringLiteral("restart"));
    bench.tell("line thrower");
    bench.settle();
    bench.record();
    bench.pass(5);
    bench.hold(Qt::Key_Space);
    bench.letGo(Qt::Key_Space);
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(caught) == 1, 20000);
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(rammed) >= 1, 20000); // by the other one
    bench.stop();
    QCOMPARE(bench.sprang(thrown), 1);
    QCOMPARE(bench.sprang(caught), 1);
}

/// f: a button on the glass that opens a panel; pegs that are set by two clicks, with a preview at
/// the pointer.
void TestScenes::aButtonOpensAPanelAndPegsAreSet()
{
    Scripter bench;
    bench.lay(Qt::Key_S, {3, 3}, {3.4, 3.4}, QStringLiteral("peg"));
    bench.order(QStringLiteral("Make a template"));
    bench.key(Qt::Key_V);
    bench.keys += 1;
    // The one that was drawn is the preview: hidden until it is wanted, and then at the pointer.
    bench.pick({3.2, 3.2});
    bench.put(QStringLiteral("name"), {QStringLiteral("preview")});
    bench.put(QStringLiteral("body"), {QStringLiteral("kinematic")});
    bench.put(QStringLiteral("through"), {});
    bench.order(QStringLiteral("Button on the glass"));
    bench.pick({-5, -4});
    const std::string button = bench.last().id;
    bench.order(QStringLiteral("Words"));
    bench.pick({-4, 3});
    const std::string panel = bench.last().id;
    bench.put(QStringLiteral("shown"), {});
    bench.pick({-5, -4});
    bench.listen(QStringLiteral("clicks"));
    const QString opens = bench.snare;
    bench.respond(QStringLiteral("show"));
    bench.set(QStringLiteral("1 on"), {QString::fromStdString(panel)});
    bench.respond(QStringLiteral("put"), {QStringLiteral("pointer")});
    bench.set(QStringLiteral("2 on"), {QStringLiteral("preview")});
    bench.respond(QStringLiteral("attach"), {QStringLiteral("pointer")});
    bench.set(QStringLiteral("3 on"), {QStringLiteral("preview")});
    bench.respond(QStringLiteral("arm"));
    bench.pickNothing();
    bench.listen(QStringLiteral("clicks"));
    const QString sets = bench.snare;
    bench.respond(QStringLiteral("spawn"), {QStringLiteral("peg")});
    bench.set(QStringLiteral("1 more"), {QStringLiteral("where"), QStringLiteral("pointer")});
    bench.set(QStringLiteral("armed"), {});
    bench.pick({-5, -4});
    bench.snare = opens;
    bench.layOut();
    QTRY_VERIFY(bench.slot(opens, QStringLiteral("4 snares")));
    QTest::mouseClick(bench.slot(opens, QStringLiteral("4 snares")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    QTest::keyClicks(bench.popup()->findChild<QLineEdit*>(), sets);
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Space);
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
    bench.clicks += 1;
    bench.keys += static_cast<int>(sets.size()) + 2;
    bench.tell("button and pegs");
    bench.settle();
    bench.record();
    bench.pass(3);
    bench.click({2, 0}); // not yet
    bench.pass(3);
    bench.click(bench.placeNow(button));
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(opens) == 1, 20000);
    QTest::mouseMove(bench.window.ground(), bench.at({1, 1}));
    bench.pass(3);
    QVERIFY(glm::length(bench.placeNow("preview") - Vec(1, 1)) < 0.8);
    bench.click({2, 0});
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(sets) == 1, 20000);
    bench.stop();
    QCOMPARE(bench.sprang(sets), 1);
}

/// g: nets swept up by a box; all that is in it is marked at its end, by one response.
void TestScenes::netsAreSweptUp()
{
    Scripter bench;
    for (const double x : {-4.0, 0.0, 4.0}) {
        bench.lay(Qt::Key_S, {x - 0.5, -0.5}, {x + 0.5, 0.5}, {});
        bench.put(QStringLiteral("tags"), {QStringLiteral("net")});
    }
    bench.pickNothing();
    bench.listen(QStringLiteral("ends sweeping"));
    bench.respond(QStringLiteral("tag"), {QStringLiteral("marked")});
    bench.set(QStringLiteral("1 on"), {QStringLiteral("swept")});
    bench.tell("swept nets");
    bench.settle();
    bench.record();
    bench.pass(3);
    bench.drag({-6, 2}, {1, -2});
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(bench.snare) == 1, 20000);
    bench.stop();
    const sim::Record& record = bench.window.stage().record();
    QCOMPARE(std::ranges::count_if(record.journal.lines,
                                   [&](const rules::Line& line) { return line.kind == rules::LineKind::response; }),
             2); // one response, at two of the three
}

/// h: four boats at random places wholly inside the bounds; those that lie on each other say so
/// until they are apart, and the other one is pushed away.
void TestScenes::boatsComeToLieApart()
{
    Scripter bench;
    bench.pickNothing();
    bench.put(QStringLiteral("scene bounds"), {QStringLiteral("-4, -3, 4, 3")});
    bench.lay(Qt::Key_Z, {-1, -0.7}, {1, 0.7}, QStringLiteral("boat"));
    bench.put(QStringLiteral("tags"), {QStringLiteral("boat")});
    bench.put(QStringLiteral("body"), {QStringLiteral("dynamic")});
    for (int i = 0; i < 3; ++i)
        bench.key(Qt::Key_D, Qt::ControlModifier);
    bench.keys += 3;
    QCOMPARE(bench.scene().pieces.size(), std::size_t{4});
    bench.pickNothing();
    bench.listen(QStringLiteral("starts"));
    const QString cast = bench.snare;
    bench.respond(QStringLiteral("put"), {QStringLiteral("anywhere in scene")});
    bench.set(QStringLiteral("1 on"), {QStringLiteral("tag:boat")});
    bench.listen(QStringLiteral("enters"), {QStringLiteral("tag:boat")});
    const QString crowd = bench.snare;
    bench.respond(QStringLiteral("say"), {QStringLiteral("mind my paint")});
    bench.set(QStringLiteral("1 more"), {QStringLiteral("until"), QStringLiteral("exit")});
    bench.respond(QStringLiteral("push"), {QStringLiteral("1, 0.5")});
    bench.set(QStringLiteral("2 on"), {QStringLiteral("visitor")});
    bench.tell("boats");
    bench.settle();
    QCOMPARE(bench.sprang(cast), 1);
    bench.window.stage().setCursor(1);
    for (const scene::Piece& boat : bench.scene().pieces) {
        const Vec at = bench.placeNow(boat.id);
        QVERIFY(std::abs(at.x) <= 3.01 && std::abs(at.y) <= 2.31); // wholly inside
    }
    QVERIFY(bench.sprang(crowd) >= 1);
}

/// i: a dial and a call from the shelf that open a door.
void TestScenes::aDialAndACallOpenADoor()
{
    Scripter bench;
    bench.lay(Qt::Key_S, {-1, -2}, {1, 2}, QStringLiteral("door"));
    const auto addSource = [&](const QStringList& answers) {
        auto* add = bench.window.findChild<QWidget*>(QStringLiteral("add source"));
        QVERIFY(add);
        QTest::mouseClick(add, Qt::LeftButton);
        ++bench.clicks;
        bench.give(answers);
    };
    addSource({QStringLiteral("dial")});
    addSource({QStringLiteral("call")});
    QCOMPARE(bench.scene().sources.size(), std::size_t{2});
    bench.pickNothing();
    bench.listen(QStringLiteral("rises"));
    const QString risen = bench.snare;
    bench.respond(QStringLiteral("hide"));
    bench.set(QStringLiteral("1 on"), {QStringLiteral("door")});
    bench.listen(QStringLiteral("is called"));
    const QString called = bench.snare;
    bench.respond(QStringLiteral("hide"));
    bench.set(QStringLiteral("1 on"), {QStringLiteral("door")});
    bench.tell("dial and call");
    // Played from the shelf: the pill of the call is clicked while it records.
    bench.settle();
    bench.record();
    bench.pass(3);
    auto* call = bench.window.findChild<QWidget*>(QStringLiteral("source call"));
    QVERIFY(call);
    QTest::mouseClick(call, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(called) == 1, 20000);
    auto* dial = bench.window.findChild<QWidget*>(QStringLiteral("source dial"));
    for (int i = 0; i < 12; ++i) {
        QWheelEvent turn{dial->rect().center(),
                         dial->mapToGlobal(QPointF{dial->rect().center()}),
                         {},
                         {0, 120},
                         Qt::NoButton,
                         {},
                         Qt::NoScrollPhase,
                         false};
        QApplication::sendEvent(dial, &turn);
        bench.pass(2);
    }
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(risen) == 1, 20000);
    bench.stop();
    QCOMPARE(bench.sprang(risen), 1);
}

/// j: one colour of a picture stops the courier's run and shows another screen; a clean restart.
void TestScenes::aColourOfAPictureStopsTheRun()
{
    Scripter bench;
    QImage chart{80, 80, QImage::Format_RGB32};
    chart.fill(QColor{QStringLiteral("#3d5a98")});
    for (int y = 20; y < 60; ++y)
        for (int x = 50; x < 70; ++x)
            chart.setPixelColor(x, y, QColor{QStringLiteral("#c4572e")});
    QVERIFY(chart.save(bench.folder.filePath(QStringLiteral("chart.png"))));
    const QString path = bench.folder.filePath(QStringLiteral("shoal.snare.json"));
    QVERIFY(io::saveText(path.toStdString(), io::sceneText(scene::Scene{})));
    QVERIFY(bench.window.openFile(path));
    bench.settle();
    bench.pickNothing();
    bench.put(QStringLiteral("scene phases"), {QStringLiteral("sailing, aground")});
    bench.lay(Qt::Key_Z, {-4, -4}, {4, 4}, QStringLiteral("chart"));
    bench.layOut();
    bench.press(QStringLiteral("shape 0 more"));
    ++bench.clicks;
    bench.chooseInMenu(QStringLiteral("Change its kind…"));
    bench.give({QStringLiteral("traced")});
    bench.put(QStringLiteral("shape 0 image"), {QStringLiteral("chart.png")});
    bench.layOut();
    // Its coral, with the pipette.
    bench.press(QStringLiteral("shape 0 colour"));
    ++bench.clicks;
    app::PictureView* view = nullptr;
    for (QWidget* widget : QApplication::topLevelWidgets())
        if (auto* picker = qobject_cast<app::TracePicker*>(widget); picker && picker->isVisible())
            view = picker->findChild<app::PictureView*>();
    QVERIFY(view);
    const double side = std::min(view->width(), view->height()) - 2;
    const QPoint coral = QPointF{view->width() / 2.0 + 20 * side / 80, view->height() / 2.0}.toPoint();
    QTest::mouseMove(view, coral);
    QTest::mouseClick(view, Qt::LeftButton, {}, coral);
    ++bench.clicks;
    view->window()->close();
    const auto& traced = std::get<scene::Traced>(bench.last().shapes[0].geometry);
    QCOMPARE(traced.colour.items.front().code, std::string("#c4572e"));
    bench.listen(QStringLiteral("enters"));
    const QString grounds = bench.snare;
    bench.respond(QStringLiteral("phase"), {QStringLiteral("aground")});
    bench.set(QStringLiteral("1 on"), {QStringLiteral("scene")});
    bench.order(QStringLiteral("Words"));
    bench.pick({0, 3});
    const std::string screen = bench.last().id;
    bench.put(QStringLiteral("add mode"), {QStringLiteral("present only"), QStringLiteral("aground")});
    bench.pickNothing();
    bench.listen(QStringLiteral("is pressed"), {});
    bench.set(QStringLiteral("key"), {QStringLiteral("r")});
    bench.respond(QStringLiteral("restart"));
    bench.order(QStringLiteral("Walker"));
    bench.pick({-3, 0});
    const std::string courier = bench.last().id;
    bench.put(QStringLiteral("add mode"), {QStringLiteral("present only"), QStringLiteral("sailing")});
    bench.tell("picture");
    const auto isHere = [&](const std::string& id) {
        return std::ranges::any_of(bench.window.ground()->pieces(), [&](const app::ShownPiece& piece) {
            return piece.piece->id == id && piece.present;
        });
    };
    bench.settle();
    bench.record();
    bench.pass(3);
    QVERIFY(isHere(courier) && !isHere(screen));
    bench.hold(Qt::Key_Right);
    QTRY_VERIFY_WITH_TIMEOUT(bench.sprang(grounds) == 1, 20000);
    bench.letGo(Qt::Key_Right);
    bench.pass(3);
    QVERIFY(!isHere(courier) && isHere(screen)); // stopped, and the other screen is there
    bench.hold(Qt::Key_R);
    bench.letGo(Qt::Key_R);
    bench.pass(3);
    QVERIFY(isHere(courier) && !isHere(screen));
    QVERIFY(bench.placeNow(courier).x < -2.5);
    bench.stop();
}

SNARE_WINDOW_TEST_MAIN(TestScenes)
#include "test_scenes.moc"
