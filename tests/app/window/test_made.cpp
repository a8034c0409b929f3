// SPDX-License-Identifier: Apache-2.0
/// Made, seen, changed and taken away by hand: looks, sources, targets, snares without a piece; and
/// the ways there.
#include "app/cards/look_editor.h"
#include "app/panels/source_panel.h"
#include "app/panels/source_shelf.h"
#include "hands.h"
#include "scene/assemblies.h"

#include <QAction>
#include <QFileDialog>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QTabWidget>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    QUndoStack& steps() { return *window.document().undoStack(); }

    /// Adds a snare as a file would have it.
    void addSnare(scene::Snare snare)
    {
        window.document().edit(QStringLiteral("Add"),
                               [&](scene::Scene& scene) { scene.snares.push_back(std::move(snare)); });
        layOut();
    }
    app::SourcePanel* openSource(const QString& name)
    {
        auto* pill = window.findChild<QWidget*>(QStringLiteral("source ") + name);
        if (pill)
            QTest::mouseClick(pill, Qt::LeftButton);
        layOut();
        return window.findChild<app::SourcePanel*>();
    }
    /// An entry of the menu of takes, and what its questions are answered.
    void changeTake(const QString& entry, const QStringList& answers)
    {
        layOut();
        QTest::mouseClick(window.findChild<QToolButton*>(QStringLiteral("takes")), Qt::LeftButton);
        chooseInMenu(entry);
        for (const QString& text : answers)
            answer(text);
        settle();
    }
    void fillIn(QWidget* panel, const QString& name, const QString& text)
    {
        auto* button = panel->findChild<app::SlotButton*>(name);
        QVERIFY2(button, qPrintable(name));
        QTest::mouseClick(button, Qt::LeftButton);
        answer(text);
        layOut();
    }
};

} // namespace

class TestMade : public QObject {
    Q_OBJECT

  private slots:
    void looksAreMadeChangedAndTakenAway();
    void aLookWrittenInAResponseHasSlotsToo();
    void aPhaseBringsALook();
    void sourcesAreNamedChangedAndTakenAway();
    void keysOfASetArePressed();
    void takesAreChangedByMenuAndNumbers();
    void timersOfAPieceHaveSlots();
    void targetsAreSeveralAndTypedFreely();
    void tagsThatNobodyHasYetAreTyped();
    void aSnareNeedsNoPiece();
    void namesFollowFromTheSlotThatMentionsThem();
    void clickingAgainReachesWhatLiesBelow();
    void whatIsReadyIsLaidWithOneClick();
    void spaceTapsAndHolds();
    void theFinderOpensFieldsAndOffersTheNearest();
    void roomIsMadeForTheGround();
    void anExampleOpens();
    void lampsAreLitAndPutOut();
    void assembliesAreMadeLaidAndDissolved();
    void aSoundFromElsewhereIsCopiedBesideTheScene();
    void snaresOfAnAssemblyAreEditedOnTheirCards();
    void aFourthLockJustWorks();
};

void TestMade::looksAreMadeChangedAndTakenAway()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    const auto add = [&](const QString& field, const QString& value) {
        bench.press(QStringLiteral("add look"));
        bench.answer(field);
        bench.answer(value);
    };
    add(QStringLiteral("colour"), QStringLiteral("mint"));
    add(QStringLiteral("glow"), QStringLiteral("0.5"));
    add(QStringLiteral("words"), QStringLiteral("lamp"));
    QCOMPARE(bench.last().look.colour.code, std::string("#1f8a7a"));
    QCOMPARE(bench.last().look.glow, 0.5);
    QCOMPARE(bench.last().look.label, std::string("lamp"));
    // What is no colour is said, and stays open.
    bench.press(QStringLiteral("look colour"));
    bench.answer(QStringLiteral("greenish"));
    QVERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    // A named look begins as the one that is open, and is then the one whose slots are shown.
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("another look"));
    bench.answer(QStringLiteral("lit"));
    QVERIFY(bench.last().looks.find("lit"));
    QCOMPARE(*bench.last().looks.find("lit"), bench.last().look);
    bench.fill(QStringLiteral("look glow"), QStringLiteral("1"));
    QCOMPARE(bench.last().looks.find("lit")->glow, 1.0);
    QCOMPARE(bench.last().look.glow, 0.5);
    // Emptied, a field is as usual again.
    bench.fill(QStringLiteral("look label"), QString());
    QCOMPARE(bench.last().looks.find("lit")->label, std::string());
    // Back to its own look by a click on its picture.
    auto* card = bench.window.findChild<app::PieceCard*>();
    auto* own = card->findChild<app::LookChip*>(QStringLiteral("chip "));
    QVERIFY(own);
    QTest::mouseClick(own, Qt::LeftButton);
    bench.fill(QStringLiteral("look glow"), QStringLiteral("0.25"));
    QCOMPARE(bench.last().look.glow, 0.25);
    // Renamed, whoever puts it on follows; removed, it is gone.
    bench.addSnare(onKey("light", "e", {scene::ChangeLook{{{bench.last().id}}, {std::string("lit")}, {}}}));
    QTest::mouseClick(card->findChild<app::LookChip*>(QStringLiteral("chip look lit")), Qt::LeftButton);
    bench.press(QStringLiteral("look menu"));
    bench.chooseInMenu(QStringLiteral("Rename…"));
    bench.answer(QStringLiteral("bright"));
    QVERIFY(bench.last().looks.find("bright") && !bench.last().looks.find("lit"));
    const auto& put = std::get<scene::ChangeLook>(bench.scene().snares.front().responses.front().kind);
    QCOMPARE(std::get<std::string>(put.to.held), std::string("bright"));
    bench.press(QStringLiteral("look menu"));
    bench.chooseInMenu(QStringLiteral("Remove"));
    QVERIFY(bench.last().looks.entries.empty());
    while (bench.steps().canUndo())
        bench.steps().undo();
    QVERIFY(bench.scene().pieces.empty());
}

void TestMade::aLookWrittenInAResponseHasSlotsToo()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.addSnare(onEvent("dress", scene::EventKind::hit, bench.last().id,
                           {scene::ChangeLook{scene::Target::self(), {std::string("next")}, {}}}));
    const auto written = [&]() -> const scene::Look* {
        const auto& response = std::get<scene::ChangeLook>(bench.scene().snares.front().responses.front().kind);
        return std::get_if<scene::Look>(&response.to.held);
    };
    QTRY_VERIFY(bench.slot(QStringLiteral("dress"), QStringLiteral("1 to")));
    QTest::mouseClick(bench.slot(QStringLiteral("dress"), QStringLiteral("1 to")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    auto* list = bench.popup()->findChild<QListWidget*>();
    QVERIFY(list->item(0)->text().contains(QStringLiteral("written here")));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
    auto* panel = bench.window.findChild<app::LookPanel*>();
    QVERIFY(panel);
    QVERIFY(written());
    bench.fillIn(panel, QStringLiteral("look colour"), QStringLiteral("#c4572e"));
    QCOMPARE(written()->colour.code, std::string("#c4572e"));
    auto* add = panel->findChild<app::SlotButton*>(QStringLiteral("add look"));
    QVERIFY(add);
    QTest::mouseClick(add, Qt::LeftButton);
    bench.answer(QStringLiteral("words"));
    bench.answer(QStringLiteral("ahoy"));
    QCOMPARE(written()->label, std::string("ahoy"));
    // The panel goes when what it is about goes.
    QPointer<app::LookPanel> there{panel};
    bench.window.document().edit(QStringLiteral("Clear"), [](scene::Scene& scene) { scene.snares = {}; });
    QTRY_VERIFY(!there || !there->isVisible());
}

void TestMade::aPhaseBringsALook()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.press(QStringLiteral("more"));
    bench.press(QStringLiteral("add mode"));
    bench.answer(QStringLiteral("phases"));
    bench.answer(QStringLiteral("dry, wet"));
    bench.press(QStringLiteral("phase wet"));
    bench.answer(QStringLiteral("#3d5a98"));
    QCOMPARE(bench.last().phases.size(), std::size_t{2});
    QCOMPARE(bench.last().phases[1].look->colour.code, std::string("#3d5a98"));
    // Its other fields are reached by its picture.
    auto* card = bench.window.findChild<app::PieceCard*>();
    auto* chip = card->findChild<app::LookChip*>(QStringLiteral("chip phase wet"));
    QVERIFY(chip);
    QTest::mouseClick(chip, Qt::LeftButton);
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("glow"));
    bench.answer(QStringLiteral("1"));
    QCOMPARE(bench.last().phases[1].look->glow, 1.0);
    bench.press(QStringLiteral("more")); // less again, as it was
}

void TestMade::sourcesAreNamedChangedAndTakenAway()
{
    Fixture bench;
    bench.key(Qt::Key_K);
    bench.answer(QStringLiteral("timer"));
    QCOMPARE(bench.scene().sources.size(), std::size_t{1});
    auto* panel = bench.window.findChild<app::SourcePanel*>(); // a new one is open at once
    QVERIFY(panel);
    scene::Snare tick = onEvent("tick", scene::EventKind::elapsed, {});
    tick.catches.source = "timer";
    bench.addSnare(tick);
    bench.fillIn(panel, QStringLiteral("name"), QStringLiteral("tide"));
    QCOMPARE(bench.scene().sources.front().id, std::string("tide"));
    QCOMPARE(bench.scene().snares.front().catches.source, std::string("tide"));
    QVERIFY(panel->isVisible()); // it stays with the source
    bench.fillIn(panel, QStringLiteral("source every"), QStringLiteral("2.5"));
    const auto timer = [&] { return std::get<scene::TimerSource>(bench.scene().sources.front().kind); };
    QCOMPARE(timer().every, 2.5);
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("source repeat")), Qt::LeftButton);
    bench.layOut();
    QVERIFY(!timer().repeat && timer().runs);
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("source runs")), Qt::LeftButton);
    bench.layOut();
    QVERIFY(!timer().runs);
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("remove source")), Qt::LeftButton);
    QVERIFY(bench.scene().sources.empty());
    bench.steps().undo();
    QCOMPARE(bench.scene().sources.size(), std::size_t{1});
    // A call: its name is followed by those who hear it and by the takes.
    bench.key(Qt::Key_K);
    bench.answer(QStringLiteral("call"));
    scene::Snare hears = onEvent("hears", scene::EventKind::called, {});
    hears.catches.name = "hail";
    bench.addSnare(hears);
    scene::Take take;
    take.length = 1;
    take.inputs.push_back({0.5, scene::CallInput{"hail"}});
    bench.window.document().setTake(QStringLiteral("Take"), take);
    panel = bench.openSource(QStringLiteral("call"));
    QVERIFY(panel);
    bench.fillIn(panel, QStringLiteral("call name"), QStringLiteral("ahoy"));
    QCOMPARE(bench.scene().snares.back().catches.name, std::string("ahoy"));
    QCOMPARE(bench.window.document().take().inputs.front().as<scene::CallInput>()->call, std::string("ahoy"));
    bench.fillIn(panel, QStringLiteral("call values"), QStringLiteral("vessel = \"ketch, old\""));
    const auto& values = std::get<scene::CallSource>(bench.scene().sources.back().kind).values;
    QVERIFY(*values.find("vessel") == scene::Scalar{std::string("ketch, old")});
}

void TestMade::keysOfASetArePressed()
{
    Fixture bench;
    bench.key(Qt::Key_K);
    bench.answer(QStringLiteral("key set"));
    auto* panel = bench.window.findChild<app::SourcePanel*>();
    QVERIFY(panel);
    const auto keys = [&] { return std::get<scene::KeySource>(bench.scene().sources.front().kind).keys; };
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("add key")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    QTest::mouseClick(bench.popup()->findChild<QAbstractButton*>(QStringLiteral("pressKey")), Qt::LeftButton);
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_F5);
    QCOMPARE(keys().back(), std::string("F5"));
    bench.layOut();
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("key e")), Qt::LeftButton);
    QCOMPARE(keys(), (std::vector<std::string>{"Return", "F5"}));
}

void TestMade::takesAreChangedByMenuAndNumbers()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.key(Qt::Key_K);
    bench.answer(QStringLiteral("call"));
    for (auto* panel : bench.window.findChildren<app::SourcePanel*>())
        panel->close();
    const auto take = [&]() -> const scene::Take& { return bench.window.document().take(); };
    bench.changeTake(QStringLiteral("Add a press…"), {QStringLiteral("Up"), QStringLiteral("0.5, 2")});
    QCOMPARE(take().inputs.size(), std::size_t{2});
    QCOMPARE(take().inputs[1].t, 2.0);
    bench.changeTake(QStringLiteral("Move the pointer…"), {QStringLiteral("3, -1, 1")});
    QCOMPARE(take().inputs[1].as<scene::PointerMove>()->at, Vec(3, -1));
    bench.changeTake(QStringLiteral("Seed…"), {QStringLiteral("7")});
    QCOMPARE(take().seed, std::optional(7U));
    // A length that is confirmed as it stands takes nothing away.
    const scene::Take whole = take();
    const int steps = bench.steps().index();
    for (const std::optional<double> length : {std::optional<double>{}, std::optional(3.123456789)}) {
        if (length)
            bench.changeTake(QStringLiteral("Length…"), {QString::number(*length, 'g', 12)});
        const scene::Take before = take();
        bench.changeTake(QStringLiteral("Length…"), {});
        QTRY_VERIFY(bench.popup());
        QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
        QCOMPARE(take(), before);
        QCOMPARE(take().length, length);
        QCOMPARE(take().inputs, whole.inputs);
    }
    QCOMPARE(bench.steps().index(), steps + 1);
    bench.changeTake(QStringLiteral("Length…"), {QStringLiteral("1 + 0.5")});
    QCOMPARE(take().length, std::optional(1.5));
    QCOMPARE(take().inputs.size(), std::size_t{2}); // the key never comes up
    bench.steps().setIndex(steps);
    QCOMPARE(take(), whole);
}

void TestMade::timersOfAPieceHaveSlots()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    bench.press(QStringLiteral("more"));
    bench.press(QStringLiteral("add mode"));
    bench.answer(QStringLiteral("a timer of its own"));
    bench.answer(QStringLiteral("blink"));
    bench.fill(QStringLiteral("timer 0 every"), QStringLiteral("0.5"));
    bench.press(QStringLiteral("timer 0 runs"));
    QCOMPARE(bench.last().timers.size(), std::size_t{1});
    QCOMPARE(bench.last().timers[0].timer.every, 0.5);
    QVERIFY(!bench.last().timers[0].timer.runs && bench.last().timers[0].timer.repeat);
    scene::Snare blinks = onEvent("blinks", scene::EventKind::elapsed, bench.last().id);
    blinks.catches.source = "blink";
    bench.addSnare(blinks);
    bench.press(QStringLiteral("timer blink"));
    bench.chooseInMenu(QStringLiteral("Rename…"));
    bench.answer(QStringLiteral("flash"));
    QCOMPARE(bench.last().timers[0].id, std::string("flash"));
    QCOMPARE(bench.scene().snares.front().catches.source, std::string("flash"));
    bench.press(QStringLiteral("timer flash"));
    bench.chooseInMenu(QStringLiteral("Remove"));
    QVERIFY(bench.last().timers.empty());
    bench.press(QStringLiteral("more"));
}

void TestMade::tagsThatNobodyHasYetAreTyped()
{
    Fixture bench;
    bench.draw(Qt::Key_Z, {-1, -1}, {1, 1});
    bench.window.document().edit(QStringLiteral("Tag"), [](scene::Scene& scene) {
        scene.pieces[0].tags = {"wood", "wet"};
    });
    bench.addSnare(onEvent("in", scene::EventKind::enter, bench.last().id));
    bench.selectAndWait(bench.last().id);
    const auto any = [&] { return bench.scene().snares.front().filter.tags.any; };
    const auto open = [&](const QString& slot) {
        bench.layOut();
        QTRY_VERIFY(bench.slot(QStringLiteral("in"), slot));
        QTest::mouseClick(bench.slot(QStringLiteral("in"), slot), Qt::LeftButton);
        QTRY_VERIFY(bench.popup());
    };
    open(QStringLiteral("add condition"));
    bench.answer(QStringLiteral("the visitor has a tag"));
    bench.answer(QStringLiteral("mate"));
    QCOMPARE(any(), std::vector<std::string>{"mate"});
    // It stays when others are ticked: by Space, by the text of a row, and one more that is new.
    open(QStringLiteral("tags.any"));
    auto* edit = bench.popup()->findChild<QLineEdit*>();
    auto* list = bench.popup()->findChild<QListWidget*>();
    QTest::keyClicks(edit, QStringLiteral("wo"));
    QTest::keyClick(edit, Qt::Key_Space);
    edit->selectAll();
    QTest::keyClicks(edit, QStringLiteral("we"));
    const auto rows = list->findItems(QStringLiteral("wet"), Qt::MatchStartsWith);
    QCOMPARE(rows.size(), 1);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(rows.front()).center());
    edit->selectAll();
    QTest::keyClicks(edit, QStringLiteral("pilot"));
    QTest::keyClick(edit, Qt::Key_Return);
    auto tags = any();
    std::ranges::sort(tags);
    QCOMPARE(tags, (std::vector<std::string>{"mate", "pilot", "wet", "wood"}));
    // What is found by typing and unticked stays unticked.
    open(QStringLiteral("tags.any"));
    edit = bench.popup()->findChild<QLineEdit*>();
    QTest::keyClicks(edit, QStringLiteral("wood"));
    QTest::keyClick(edit, Qt::Key_Space);
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(any().size(), 3u);
    // No name: nothing is taken, and the panel stays.
    open(QStringLiteral("tags.any"));
    edit = bench.popup()->findChild<QLineEdit*>();
    QTest::keyClicks(edit, QStringLiteral("?!"));
    QTest::keyClick(edit, Qt::Key_Return);
    QVERIFY(bench.popup());
    QTest::keyClick(edit, Qt::Key_Escape);
    QCOMPARE(any().size(), 3u);
}

void TestMade::targetsAreSeveralAndTypedFreely()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    const std::string barge = bench.last().id;
    bench.addSnare(onKey("hide", "e", {scene::Hide{scene::Target{{barge}}}}));
    const auto names = [&] {
        return std::get<scene::Hide>(bench.scene().snares.front().responses.front().kind).on.names;
    };
    const auto fill = [&](const QString& text) {
        bench.window.selection().clear();
        bench.layOut();
        QTRY_VERIFY(bench.slot(QStringLiteral("hide"), QStringLiteral("1 on")));
        QTest::mouseClick(bench.slot(QStringLiteral("hide"), QStringLiteral("1 on")), Qt::LeftButton);
        bench.answer(text);
    };
    fill(QStringLiteral("self, tag:boat, self.held, inside:quay/steps"));
    QCOMPARE(names(), (std::vector<std::string>{"self", "tag:boat", "self.held", "inside:quay/steps"}));
    // What is no name yet is completed from the list; what the list shows stands for what it means.
    fill(QStringLiteral("the visitor, soli"));
    QCOMPARE(names(), (std::vector<std::string>{"visitor", barge}));
    fill(QString());
    QCOMPARE(names(), (std::vector<std::string>{"self"}));
    // With Shift the list goes on.
    QTest::mouseClick(bench.slot(QStringLiteral("hide"), QStringLiteral("1 on")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    auto* list = bench.popup()->findChild<QListWidget*>();
    auto* edit = bench.popup()->findChild<QLineEdit*>();
    edit->clear();
    for (int i = 0; i < list->count(); ++i)
        if (list->item(i)->text().startsWith(QString::fromStdString(barge))) {
            list->scrollToItem(list->item(i));
            QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::ShiftModifier,
                              list->visualItemRect(list->item(i)).center());
            break;
        }
    QVERIFY(bench.popup());
    QTest::keyClicks(edit, QStringLiteral("scene"));
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(names(), (std::vector<std::string>{barge, "scene"}));
}

void TestMade::aSnareNeedsNoPiece()
{
    Fixture bench;
    auto* add = bench.window.findChild<app::SlotButton*>(QStringLiteral("add snare"));
    QVERIFY(add);
    QTest::mouseClick(add, Qt::LeftButton);
    bench.answer(QStringLiteral("is heard"));
    QCOMPARE(bench.scene().snares.size(), std::size_t{1});
    QCOMPARE(bench.scene().snares.front().catches.event.items.front(), scene::EventKind::heard);
    // What it hears is asked for at once.
    bench.answer(QStringLiteral("go"));
    QCOMPARE(bench.scene().snares.front().catches.signal, std::string("go"));
    // Then, what it does.
    bench.answer(QStringLiteral("log"));
    QCOMPARE(scene::wordOfResponse(bench.scene().snares.front().responses.at(0).kind).key, std::string_view("log"));
    // From the book, and with the only timer there is.
    bench.window.document().edit(QStringLiteral("Timer"), [](scene::Scene& scene) {
        scene.sources.push_back({"tide", scene::TimerSource{2, true, true}});
    });
    bench.window.findChild<QTabWidget*>()->setCurrentIndex(1);
    QTest::mouseClick(bench.window.findChild<QAbstractButton*>(QStringLiteral("bookAdd")), Qt::LeftButton);
    bench.answer(QStringLiteral("elapses"));
    QCOMPARE(bench.scene().snares.back().catches.source, std::string("tide"));
    // By command, at what is selected.
    bench.draw(Qt::Key_Z, {-1, -1}, {1, 1});
    bench.order(QStringLiteral("Snare…"));
    bench.answer(QStringLiteral("enters"));
    QCOMPARE(bench.scene().snares.back().catches.at, bench.last().id);
    // Nothing is missing there but what it does: that is asked for.
    bench.answer(QStringLiteral("log"));
    QCOMPARE(bench.scene().snares.back().responses.size(), std::size_t{1});
}

void TestMade::namesFollowFromTheSlotThatMentionsThem()
{
    Fixture bench;
    bench.addSnare(onKey("raise", "e", {scene::Signal{"go", {}, {}, false}}));
    bench.addSnare(onSignal("hear", "go", {}));
    bench.window.selection().clear();
    bench.layOut();
    QTRY_VERIFY(bench.slot(QStringLiteral("hear"), QStringLiteral("signal")));
    QTest::mouseClick(bench.slot(QStringLiteral("hear"), QStringLiteral("signal")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_F2);
    QTRY_VERIFY(bench.popup());
    QVERIFY(bench.popup()->findChild<QLabel*>()->text().contains(QStringLiteral("2 mentions")));
    bench.answer(QStringLiteral("set-out"));
    QCOMPARE(scene::allSignals(bench.scene()), (std::vector<std::string>{"set-out"}));
    bench.steps().undo();
    QCOMPARE(scene::allSignals(bench.scene()), (std::vector<std::string>{"go"}));
}

void TestMade::clickingAgainReachesWhatLiesBelow()
{
    Fixture bench;
    bench.draw(Qt::Key_Z, {-3, -3}, {3, 3});
    const std::string below = bench.last().id;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    const std::string above = bench.last().id;
    bench.window.selection().clear();
    const Vec spot{0.3, 0.4};
    bench.click(spot);
    QCOMPARE(bench.window.selection().piece(), above);
    bench.click(spot);
    QCOMPARE(bench.window.selection().piece(), below);
    // It can be dragged from there, though something lies on it.
    const Vec before = bench.placeNow(below);
    bench.drag(spot, {1.3, 1.4}, Qt::AltModifier);
    QVERIFY(glm::length(bench.placeNow(below) - before - Vec(1, 1)) < 0.05);
    QVERIFY(bench.placeNow(above) == Vec(0, 0));
    // Round and round.
    bench.window.selection().clear();
    for (const std::string& chosen : {above, below, above}) {
        bench.click(spot);
        QCOMPARE(bench.window.selection().piece(), chosen);
    }
}

void TestMade::whatIsReadyIsLaidWithOneClick()
{
    Fixture bench;
    bench.window.document().edit(QStringLiteral("Side"), [](scene::Scene& scene) { scene.view = scene::View::side; });
    bench.order(QStringLiteral("Walker"));
    bench.click({1, 1});
    QCOMPARE(bench.last().id, std::string("walker"));
    QVERIFY(bench.last().at == Vec(1, 1));
    QVERIFY(std::get<scene::WalkerBody>(bench.last().body).jump > 0);
    QVERIFY(std::holds_alternative<scene::Capsule>(bench.last().shapes.front().geometry));
    bench.click({3, 3}); // the tool is put away again
    QCOMPARE(bench.scene().pieces.size(), std::size_t{1});
    // Its name can be typed at once.
    bench.selectAndWait("walker");
    bench.key(Qt::Key_F2);
    bench.answer(QStringLiteral("courier"));
    QCOMPARE(bench.last().id, std::string("courier"));
    bench.order(QStringLiteral("Falling box"));
    bench.click({-2, 1});
    QVERIFY(std::holds_alternative<scene::DynamicBody>(bench.last().body));
    bench.order(QStringLiteral("Button on the glass"));
    bench.click({0, 0});
    QVERIFY(bench.last().pinned);
    QCOMPARE(bench.last().look.label, std::string("Press"));
}

void TestMade::spaceTapsAndHolds()
{
    Fixture bench;
    bench.openDemo();
    const std::string before = bench.text();
    QWidget* ground = bench.window.ground();
    const Vec middle = bench.window.ground()->transform().centre;
    ground->setFocus();
    QTest::keyPress(ground, Qt::Key_Space);
    bench.dragPixels({300, 200}, {360, 200});
    QTest::keyRelease(ground, Qt::Key_Space);
    QVERIFY(bench.window.ground()->transform().centre.x < middle.x);
    QCOMPARE(bench.text(), before); // nothing was moved
    QVERIFY(bench.window.stage().mode() != app::Stage::Mode::playing);
    bench.window.stage().setCursor(0);
    QTest::keyClick(ground, Qt::Key_Space);
    QCOMPARE(bench.window.stage().mode(), app::Stage::Mode::playing);
    QTest::keyClick(ground, Qt::Key_Space);
    QVERIFY(bench.window.stage().mode() != app::Stage::Mode::playing);
}

void TestMade::theFinderOpensFieldsAndOffersTheNearest()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-1, -1}, {1, 1});
    // A field of the selected piece that is as usual, and so is not shown.
    bench.key(Qt::Key_K, Qt::ControlModifier);
    bench.answer(QStringLiteral("friction"));
    bench.answer(QStringLiteral("0.9"));
    QCOMPARE(bench.last().shapes.front().friction, 0.9);
    // One of the scene, though a piece is selected.
    bench.key(Qt::Key_K, Qt::ControlModifier);
    bench.answer(QStringLiteral("gravity of the scene"));
    bench.answer(QStringLiteral("0, -3"));
    QVERIFY(bench.scene().gravity == Vec(0, -3));
    // What is not there is said, with what is spelt most like it.
    bench.key(Qt::Key_K, Qt::ControlModifier);
    QTRY_VERIFY(bench.popup());
    QTest::keyClicks(bench.popup()->findChild<QLineEdit*>(), QStringLiteral("gravaty"));
    const auto says = [&](const QString& text) {
        for (const QLabel* label : bench.popup()->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains(text))
                return true;
        return false;
    };
    QVERIFY(says(QStringLiteral("Nothing is called")));
    const auto* list = bench.popup()->findChild<QListWidget*>();
    QVERIFY(list->currentItem() && list->currentItem()->text().contains(QStringLiteral("gravity")));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
}

void TestMade::roomIsMadeForTheGround()
{
    Fixture bench;
    const QSize before = bench.window.ground()->size();
    bench.key(Qt::Key_F8);
    bench.layOut();
    QVERIFY(bench.window.ground()->height() > before.height());
    bench.key(Qt::Key_F8);
    bench.key(Qt::Key_F9);
    bench.layOut();
    QVERIFY(bench.window.ground()->width() > before.width());
    bench.key(Qt::Key_F9);
    bench.key(Qt::Key_F11);
    bench.layOut();
    QVERIFY(bench.window.ground()->width() > before.width() && bench.window.ground()->height() > before.height());
    bench.key(Qt::Key_F11);
    bench.layOut();
    QCOMPARE(bench.window.ground()->size(), before);
}

void TestMade::anExampleOpens()
{
    app::MainWindow::demoFolders() = {QStringLiteral(SNARE_DEMO_FOLDER)};
    Fixture bench;
    bench.order(QStringLiteral("Examples…"));
    auto* stairs = bench.window.findChild<QAbstractButton*>(QStringLiteral("example stairs"));
    QVERIFY(stairs);
    QTest::mouseClick(stairs, Qt::LeftButton);
    QCOMPARE(bench.window.document().title(), QStringLiteral("Harbour stairs"));
    QVERIFY(bench.window.document().hasTake());
    bench.settle();
    app::MainWindow::demoFolders().clear();
}

/// Lamps that a second zone puts out only after the first one armed it; a named look is swapped and
/// one more thing hidden.
void TestMade::lampsAreLitAndPutOut()
{
    Fixture bench;
    bench.draw(Qt::Key_Z, {-4, -1}, {-2, 1});
    bench.fill(QStringLiteral("name"), QStringLiteral("store"));
    bench.draw(Qt::Key_Z, {2, -1}, {4, 1});
    bench.fill(QStringLiteral("name"), QStringLiteral("house"));
    bench.draw(Qt::Key_Z, {-1, 2}, {1, 2.6});
    bench.fill(QStringLiteral("name"), QStringLiteral("moths"));
    bench.draw(Qt::Key_S, {-0.4, 3}, {0.4, 3.6});
    bench.fill(QStringLiteral("name"), QStringLiteral("lamp"));
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("colour"));
    bench.answer(QStringLiteral("slate"));
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("another look"));
    bench.answer(QStringLiteral("lit"));
    bench.fill(QStringLiteral("look colour"), QStringLiteral("ochre"));
    bench.order(QStringLiteral("Walker"));
    bench.click({0, -2});
    bench.selectAndWait("walker");
    // The two snares, each from its zone.
    const auto snareAt = [&](const std::string& zone) {
        bench.selectAndWait(zone);
        QTest::mouseClick(bench.window.findChild<app::SlotButton*>(QStringLiteral("add snare")), Qt::LeftButton);
        bench.answer(QStringLiteral("enters"));
        bench.layOut();
        return QString::fromStdString(bench.scene().snares.back().id);
    };
    const auto press = [&](const QString& snare, const QString& slot) {
        QTRY_VERIFY2(bench.slot(snare, slot), qPrintable(slot));
        QTest::mouseClick(bench.slot(snare, slot), Qt::LeftButton);
    };
    const auto respond = [&](const QString& snare, const QString& word) {
        press(snare, QStringLiteral("add response"));
        bench.answer(word);
        bench.layOut();
    };
    const QString light = snareAt("store");
    const QString putOut = snareAt("house");
    press(putOut, QStringLiteral("armed"));
    respond(putOut, QStringLiteral("look"));
    press(putOut, QStringLiteral("1 on"));
    bench.answer(QStringLiteral("lamp"));
    press(putOut, QStringLiteral("1 to"));
    bench.answer(QStringLiteral("plain"));
    respond(putOut, QStringLiteral("hide"));
    press(putOut, QStringLiteral("2 on"));
    bench.answer(QStringLiteral("moths"));
    bench.selectAndWait("store");
    respond(light, QStringLiteral("look"));
    press(light, QStringLiteral("1 on"));
    bench.answer(QStringLiteral("lamp"));
    press(light, QStringLiteral("1 to"));
    bench.answer(QStringLiteral("lit"));
    respond(light, QStringLiteral("arm"));
    press(light, QStringLiteral("2 snares"));
    QTRY_VERIFY(bench.popup());
    QTest::keyClicks(bench.popup()->findChild<QLineEdit*>(), putOut);
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Space);
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return);
    // Played by file: to the house, where nothing happens; to the store; to the house again.
    scene::Scene scene = bench.scene();
    const auto press3 = [](double t, const char* key, double until) {
        return std::vector{keyAt(t, key, true), keyAt(until, key, false)};
    };
    scene::Take take;
    take.length = 9;
    for (const auto& inputs :
         {press3(0.1, "Up", 0.75), press3(1, "Right", 2), press3(2.2, "Left", 4.2), press3(4.5, "Right", 6.5)})
        take.inputs.insert(take.inputs.end(), inputs.begin(), inputs.end());
    bench.window.document().setTake(QStringLiteral("Take"), take);
    bench.settle();
    QStringList sprang;
    const sim::Record& record = bench.window.stage().record();
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::snare)
            sprang << QString::fromStdString(record.scene->snares[static_cast<std::size_t>(line.snare)].id) +
                          (line.outcome == rules::Outcome::sprung ? QString() : QStringLiteral(" slipped"));
    QCOMPARE(sprang, (QStringList{putOut + QStringLiteral(" slipped"), light, putOut}));
}

void TestMade::assembliesAreMadeLaidAndDissolved()
{
    Fixture bench;
    bench.draw(Qt::Key_Z, {-4, -1}, {-2, 1});
    bench.fill(QStringLiteral("name"), QStringLiteral("plate"));
    bench.draw(Qt::Key_S, {1, -1}, {2, 1});
    bench.fill(QStringLiteral("name"), QStringLiteral("gate"));
    bench.addSnare(onEvent("opens", scene::EventKind::enter, "plate", {scene::Hide{scene::Target{{"gate"}}}}));
    bench.key(Qt::Key_A, Qt::ControlModifier);
    bench.order(QStringLiteral("Make an assembly"));
    QVERIFY(bench.scene().assemblies.find("plate"));
    QCOMPARE(bench.scene().assemblies.find("plate")->snares.size(), std::size_t{1});
    QVERIFY(bench.scene().snares.empty());
    QCOMPARE(bench.window.selection().pieces().size(), std::size_t{2}); // the whole
    // It is moved as one, and nothing of it becomes its own.
    bench.drag({-3, 0}, {-3, 3}, Qt::AltModifier);
    const auto laid = [&] { return bench.scene().laid; };
    QVERIFY(std::abs(laid()[0].at.y - 3) < 0.1);
    QVERIFY(io::sceneText(bench.scene()).find("parts") == std::string::npos);
    // Another one by the stamp; a second click reaches its part, whose colour is its own.
    bench.key(Qt::Key_B);
    bench.click({0, -4});
    bench.key(Qt::Key_V);
    QCOMPARE(laid().size(), std::size_t{2});
    bench.key(Qt::Key_Escape);
    const Vec gate = bench.placeNow("plate-2.gate");
    bench.click(gate);
    QCOMPARE(bench.window.selection().pieces().size(), std::size_t{2});
    bench.click(gate);
    QCOMPARE(bench.window.selection().piece(), std::string("plate-2.gate"));
    bench.layOut();
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("colour"));
    bench.answer(QStringLiteral("coral"));
    QVERIFY(io::sceneText(bench.scene()).find("\"parts\": {\"gate\"") != std::string::npos);
    // All are made like it; then nothing is its own.
    bench.press(QStringLiteral("laid"));
    bench.answer(QStringLiteral("Make all like this one"));
    QCOMPARE(scene::findPiece(bench.scene(), "plate-1.gate")->look.colour.code, std::string("#c4572e"));
    QVERIFY(io::sceneText(bench.scene()).find("parts") == std::string::npos);
    // Turned by number, copied and deleted as a whole.
    bench.layOut();
    bench.fill(QStringLiteral("laid turn"), QStringLiteral("90"));
    QCOMPARE(laid()[1].turn, 90.0);
    bench.press(QStringLiteral("laid"));
    bench.answer(QStringLiteral("Choose the whole"));
    bench.key(Qt::Key_D, Qt::ControlModifier);
    QCOMPARE(laid().size(), std::size_t{3});
    QCOMPARE(bench.scene().pieces.size(), std::size_t{6});
    bench.key(Qt::Key_Delete);
    if (bench.popup())
        bench.answer(QStringLiteral("Delete"));
    QCOMPARE(laid().size(), std::size_t{2});
    QCOMPARE(bench.scene().pieces.size(), std::size_t{4});
    // Plain pieces with snares of their own.
    bench.click(bench.placeNow("plate-1.plate"));
    bench.order(QStringLiteral("Dissolve the assembly"));
    QCOMPARE(laid().size(), std::size_t{1});
    QVERIFY(scene::findPiece(bench.scene(), "plate-1-gate"));
    QCOMPARE(bench.scene().snares.size(), std::size_t{1});
    QCOMPARE(bench.scene().snares[0].catches.at, std::string("plate-1-plate"));
    while (bench.steps().canUndo())
        bench.steps().undo();
    QVERIFY(bench.scene().pieces.empty() && bench.scene().laid.empty());
}

/// A sound from anywhere is copied beside the scene, once, and named there.
void TestMade::aSoundFromElsewhereIsCopiedBesideTheScene()
{
    Fixture bench;
    bench.openDemo();
    QTemporaryDir elsewhere;
    const QString sound = elsewhere.filePath(QStringLiteral("gull.wav"));
    QFile file{sound};
    QVERIFY(file.open(QIODevice::WriteOnly) && file.write("RIFF") == 4);
    file.close();
    bench.selectAndWait("scale");
    for (int round = 0; round < 2; ++round) {
        QTRY_VERIFY(bench.slot(QStringLiteral("greet"), QStringLiteral("add response")));
        QTest::mouseClick(bench.slot(QStringLiteral("greet"), QStringLiteral("add response")), Qt::LeftButton);
        bench.answer(QStringLiteral("sound"));
        QTRY_VERIFY(bench.popup()); // which sound is asked at once
        auto* list = bench.popup()->findChild<QListWidget*>();
        const auto found = list->findItems(QStringLiteral("From elsewhere"), Qt::MatchStartsWith);
        QVERIFY(!found.isEmpty());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(found.front()).center());
        QFileDialog* dialog = nullptr;
        QTRY_VERIFY((dialog = bench.window.findChild<QFileDialog*>(QStringLiteral("takeFile"))));
        emit dialog->fileSelected(sound);
        dialog->close();
        const auto& responses = scene::findSnare(bench.scene(), "greet")->responses;
        QTRY_COMPARE(std::get<scene::Sound>(responses.back().kind).file, std::string("gull.wav"));
        QTRY_VERIFY(!bench.window.findChild<QFileDialog*>(QStringLiteral("takeFile")));
    }
    QCOMPARE(QDir{bench.folder.path()}.entryList({QStringLiteral("*.wav")}), QStringList{QStringLiteral("gull.wav")});
}

/// The snares of an assembly have cards: what is changed on one holds for all that are laid.
void TestMade::snaresOfAnAssemblyAreEditedOnTheirCards()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("locks"));
    bench.window.selection().choosePieces(scene::wholeOf(bench.scene(), "lock-2.gate"));
    bench.layOut();
    const QString card = QStringLiteral("assembly:lock/light");
    QTRY_VERIFY(bench.slot(card, QStringLiteral("add response")));
    QVERIFY(!bench.window.findChild<QLabel*>(QStringLiteral("problem"))); // nothing in them points nowhere
    QTest::mouseClick(bench.slot(card, QStringLiteral("add response")), Qt::LeftButton);
    bench.answer(QStringLiteral("say"));
    bench.answer(QStringLiteral("mind the gate"));
    const auto& snares = bench.scene().assemblies.find("lock")->snares;
    QCOMPARE(snares[1].responses.size(), std::size_t{2});
    bench.settle();
    const sim::Record& record = bench.window.stage().record();
    QCOMPARE(std::ranges::count_if(record.journal.lines,
                                   [&](const rules::Line& line) {
                                       return line.kind == rules::LineKind::response &&
                                              record.journal.textOf(line) == "mind the gate";
                                   }),
             3);
    // Of one part only those that listen at it; named anew within.
    bench.window.selection().choosePiece("lock-2.lamp");
    bench.layOut();
    QTRY_VERIFY(bench.slot(card, QStringLiteral("name")));
    QTRY_VERIFY(!bench.slot(QStringLiteral("assembly:lock/open"), QStringLiteral("name")));
    QTest::mouseClick(bench.slot(card, QStringLiteral("name")), Qt::LeftButton);
    bench.answer(QStringLiteral("lamp-on"));
    QCOMPARE(bench.scene().assemblies.find("lock")->snares[1].id, std::string("lamp-on"));
}

/// The demo: a fourth lock laid by hand opens for the boat, and lights its own lamp.
void TestMade::aFourthLockJustWorks()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("locks"));
    bench.window.ground()->showWholeScene();
    bench.layOut();
    bench.key(Qt::Key_B);
    bench.click({14, 12.6});
    bench.key(Qt::Key_V);
    bench.key(Qt::Key_R, Qt::ControlModifier);
    QCOMPARE(bench.scene().laid.size(), std::size_t{4});
    QCOMPARE(bench.scene().laid.back().turn, 90.0);
    bench.settle();
    const sim::Record& record = bench.window.stage().record();
    QStringList sprang;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung &&
            record.nameOf(line.self).starts_with("lock-4"))
            sprang << QString::fromStdString(record.scene->snares[static_cast<std::size_t>(line.snare)].id);
    QCOMPARE(sprang, (QStringList{QStringLiteral("open"), QStringLiteral("light"), QStringLiteral("close")}));
}

SNARE_WINDOW_TEST_MAIN(TestMade)
#include "test_made.moc"
