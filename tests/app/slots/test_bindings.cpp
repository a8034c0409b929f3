// SPDX-License-Identifier: Apache-2.0
/// Binding, narrowing and reusing in the real window: what a scripter does in the cards, without
/// typing JSON.
#include "window_fixture.h"

#include "app/panels/source_shelf.h"
#include "app/slots/script_editor.h"
#include "app/timeline/timeline_view.h"
#include "scene/templates.h"

#include <QDialogButtonBox>
#include <QFile>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpression>
#include <QTimer>
#include <Qsci/qsciscintilla.h>

using namespace snare;
using namespace snare::tests;

namespace {

const scene::Snare& snareOf(Bench& bench, const char* id)
{
    return *scene::findSnare(bench.window.document().scene(), id);
}

/// Opens a slot by mouse.
void press(Bench& bench, const char* snare, const char* slot)
{
    QTRY_VERIFY(bench.slot(QLatin1String(snare), QLatin1String(slot)));
    QTest::mouseClick(bench.slot(QLatin1String(snare), QLatin1String(slot)), Qt::LeftButton);
}

void addResponse(Bench& bench, const char* snare, const char* word)
{
    press(bench, snare, "add response");
    bench.answer(QLatin1String(word));
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

app::SlotButton* onPieceCard(Bench& bench, const char* slot)
{
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    return card ? card->findChild<app::SlotButton*>(QLatin1String(slot)) : nullptr;
}

} // namespace

class TestBindings : public QObject {
    Q_OBJECT

  private slots:
    void addsAPhaseChangeAndSeesTheLaneChange();
    void spawnsFromATemplateAtARandomPlaceAndSeesIt();
    void pointsAtATargetOnTheGround();
    void narrowsBySideSpeedAndPhase();
    void writesAScriptThatIsCheckedWhileTyping();
    void makesARoutineAndKeepsItInAKit();
    void aKitThatChangesIsReadAgain();
    void workThatFollowsAKitIsNotLost();
    void aMissingKitIsSaidInPlace();
    void catchesADialThatIsTurnedWhileRecording();
    void theMomentSaysWhereASignalWasHeard();
    void theMomentSaysWhatAChosenSnareMissed();
    void whatWasSpawnedCannotBeEdited();
};

void TestBindings::addsAPhaseChangeAndSeesTheLaneChange()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("barrow");
    QTRY_VERIFY(onPieceCard(bench, "more"));
    QTest::mouseClick(onPieceCard(bench, "more"), Qt::LeftButton); // phases are seldom: they are not shown at once
    QTRY_VERIFY(onPieceCard(bench, "add mode"));
    QTest::mouseClick(onPieceCard(bench, "add mode"), Qt::LeftButton);
    bench.answer(QStringLiteral("phases"));
    bench.answer(QStringLiteral("empty, loaded"));
    QCOMPARE(scene::findPiece(bench.window.document().scene(), "barrow")->phases.size(), std::size_t{2});
    QTest::mouseClick(onPieceCard(bench, "more"), Qt::LeftButton); // less again, as it was
    bench.selectAndWait("scale");
    const std::size_t before = snareOf(bench, "greet").responses.size();
    addResponse(bench, "greet", "mode"); // an everyday word for a phase
    QCOMPARE(snareOf(bench, "greet").responses.size(), before + 1);
    const std::string on = std::to_string(before + 1) + " on";
    const std::string to = std::to_string(before + 1) + " to";
    press(bench, "greet", on.c_str());
    bench.answer(QStringLiteral("barrow"));
    press(bench, "greet", to.c_str());
    bench.answer(QStringLiteral("loaded"));
    const auto& phase = std::get<scene::ChangePhase>(snareOf(bench, "greet").responses.back().kind);
    QCOMPARE(phase.to.literalOr({}), std::string("loaded"));
    QCOMPARE(phase.on.names, std::vector<std::string>{"barrow"});
    bench.settle();
    const auto lanes = app::lanesOf(bench.window.stage().record());
    const auto lane = std::ranges::find(lanes, "phase barrow", &app::Lane::key);
    QVERIFY(lane != lanes.end());
    QVERIFY(lane->bars.size() >= 2);
    QCOMPARE(lane->bars[1].text, QStringLiteral("loaded"));
    const auto begun = static_cast<std::int64_t>(lane->bars[1].from);
    // The card shows the phase at the cursor.
    bench.selectAndWait("barrow");
    bench.window.stage().setCursor(begun + 1);
    QTRY_VERIFY(onPieceCard(bench, "phase loaded") &&
                onPieceCard(bench, "phase loaded")->text().startsWith(QStringLiteral("●")));
}

void TestBindings::spawnsFromATemplateAtARandomPlaceAndSeesIt()
{
    Bench bench;
    bench.openDemo();
    bench.window.document().edit(QStringLiteral("Make a template"),
                                 [](scene::Scene& scene) { scene::makeTemplate(scene, "cask-1"); });
    bench.selectAndWait("scale");
    const std::size_t before = snareOf(bench, "greet").responses.size();
    addResponse(bench, "greet", "generate");
    const std::string index = std::to_string(before + 1);
    press(bench, "greet", (index + " template").c_str());
    bench.answer(QStringLiteral("cask"));
    press(bench, "greet", (index + " more").c_str());
    bench.answer(QStringLiteral("where; where self"));
    bench.answer(QStringLiteral("anywhere in loading, clear of solids"));
    const auto& spawn = std::get<scene::Spawn>(snareOf(bench, "greet").responses.back().kind);
    QVERIFY(spawn.at && std::get<scene::Formula>(spawn.at->held).clear);
    bench.settle();
    for (const rules::Line& line : bench.window.stage().record().journal.lines)
        if (line.kind == rules::LineKind::event && line.event == scene::EventKind::spawned) {
            bench.window.stage().setCursor(line.tick + 1);
            break;
        }
    QTRY_VERIFY(std::ranges::any_of(bench.window.ground()->pieces(),
                                    [](const app::ShownPiece& piece) { return piece.index == app::spawnedPiece; }));
}

void TestBindings::pointsAtATargetOnTheGround()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    press(bench, "weigh", "3 on");
    QTRY_VERIFY(bench.popup());
    QTest::mouseClick(bench.popup()->findChild<QPushButton*>(QStringLiteral("pointAtIt")), Qt::LeftButton);
    QTRY_VERIFY(!bench.popup());
    bench.click({10.4, 5}); // the weathervane
    QCOMPARE(std::get<scene::Move>(snareOf(bench, "weigh").responses[2].kind).on.names,
             std::vector<std::string>{"vane"});
    // Escape gives up and changes nothing.
    press(bench, "weigh", "3 on");
    QTRY_VERIFY(bench.popup());
    QTest::mouseClick(bench.popup()->findChild<QPushButton*>(QStringLiteral("pointAtIt")), Qt::LeftButton);
    bench.key(Qt::Key_Escape);
    bench.click({-4.2, 1.2});
    QCOMPARE(std::get<scene::Move>(snareOf(bench, "weigh").responses[2].kind).on.names,
             std::vector<std::string>{"vane"});
    QCOMPARE(bench.window.selection().piece(), std::string("cask-1"));
}

void TestBindings::narrowsBySideSpeedAndPhase()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    press(bench, "greet", "add condition");
    bench.answer(QStringLiteral("comes from a side"));
    QTRY_VERIFY(bench.popup());
    auto* edit = bench.popup()->findChild<QLineEdit*>();
    QTest::keyClicks(edit, QStringLiteral("above"));
    QTest::keyClick(edit, Qt::Key_Space);
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(snareOf(bench, "greet").filter.side, std::vector<scene::Side>{scene::Side::above});
    press(bench, "greet", "add condition");
    bench.answer(QStringLiteral("fast enough"));
    bench.answer(QStringLiteral("2.5 m/s"));
    QCOMPARE(snareOf(bench, "greet").filter.speed.min.value_or(0), 2.5);
    QTRY_COMPARE(bench.slot(QStringLiteral("greet"), QStringLiteral("speed.min"))->text(),
                 QStringLiteral("faster than 2.5 m/s"));
    // Leaving it empty takes it away.
    press(bench, "greet", "speed.min");
    bench.answer(QString());
    QVERIFY(!snareOf(bench, "greet").filter.speed.min);
    press(bench, "greet", "add condition");
    bench.answer(QStringLiteral("keeps the event"));
    QVERIFY(snareOf(bench, "greet").claims);
    bench.window.document().undoStack()->undo();
    QVERIFY(!snareOf(bench, "greet").claims);
}

void TestBindings::writesAScriptThatIsCheckedWhileTyping()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    press(bench, "greet", "add condition");
    bench.answer(QStringLiteral("Lua"));
    QTRY_VERIFY(bench.window.findChild<app::ScriptEditor*>());
    auto* editor = bench.window.findChild<app::ScriptEditor*>();
    auto* lua = editor->findChild<QsciScintilla*>();
    auto* state = editor->findChild<QLabel*>(QStringLiteral("luaState"));
    auto* use = editor->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok);
    // The values of the scene complete what is typed.
    lua->setFocus();
    QTest::keyClicks(lua, QStringLiteral("scene.we"));
    QVERIFY(lua->isListActive());
    QTest::keyClick(lua, Qt::Key_Tab);
    QCOMPARE(lua->text(), QStringLiteral("scene.weighed"));
    QTest::keyClicks(lua, QStringLiteral(" + se"));
    QVERIFY(lua->isListActive());
    QTest::keyClick(lua, Qt::Key_Escape);
    lua->setText(QStringLiteral("visitor.load >"));
    QVERIFY2(state->text().startsWith(QStringLiteral("Line 1:")), qPrintable(state->text()));
    QTest::mouseClick(use, Qt::LeftButton); // what cannot be read is not taken
    QVERIFY(editor->isVisible() && snareOf(bench, "greet").filter.script.empty());
    lua->setText(QStringLiteral("scene.weighed >= 0"));
    QCOMPARE(state->text(), QStringLiteral("It can be read."));
    QTest::mouseClick(use, Qt::LeftButton);
    QCOMPARE(snareOf(bench, "greet").filter.script, std::string("scene.weighed >= 0"));
    QTRY_VERIFY(bench.slot(QStringLiteral("greet"), QStringLiteral("script")));
}

void TestBindings::makesARoutineAndKeepsItInAKit()
{
    Bench bench;
    bench.openDemo();
    bench.window.document().edit(QStringLiteral("Two responses"), [](scene::Scene& scene) {
        scene::findSnare(scene, "greet")->responses = {
            {scene::Note{{"a"}}, {}}, {scene::Note{{"b"}}, {}}, {scene::Note{{"c"}}, {}}};
    });
    bench.selectAndWait("scale");
    QTRY_VERIFY(bench.slot(QStringLiteral("greet"), QStringLiteral("response 2")));
    QTest::mouseClick(bench.slot(QStringLiteral("greet"), QStringLiteral("response 2")), Qt::LeftButton);
    QMenu* menu = nullptr; // of the second response
    QTRY_VERIFY((menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())));
    for (QAction* action : menu->actions())
        if (action->text() == QStringLiteral("Make a routine…")) {
            QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
            break;
        }
    QTRY_VERIFY(bench.popup());
    QTest::mouseClick(bench.popup()->findChild<QPushButton*>(QStringLiteral("done")),
                      Qt::LeftButton); // 2 and 3 are ticked
    bench.answer(QStringLiteral("tell"));
    const scene::Scene& scene = bench.window.document().scene();
    QCOMPARE(snareOf(bench, "greet").responses.size(), std::size_t{2});
    QVERIFY(scene.routines.find("tell"));
    QCOMPARE(scene.routines.find("tell")->responses.size(), std::size_t{2});
    // It is a card in the book, and can be kept in a file that other scenes use.
    app::Document& document = bench.window.document();
    QVERIFY(document.moveShared(scene::Thing::routine, "tell", {}, "shared.kit.json"));
    QVERIFY(document.save(document.filePath()));
    QVERIFY(QFile::exists(bench.folder.filePath(QStringLiteral("shared.kit.json"))));
    QVERIFY(!bench.window.document().scene().routines.find("tell"));
    QVERIFY(scene::findRoutine(bench.window.document().scene(), "tell"));
    bench.settle();
    QVERIFY(bench.window.stage().record().stopReason.empty());
    const rules::Journal& journal = bench.window.stage().record().journal;
    QVERIFY(std::ranges::any_of(journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::note && journal.textOf(line) == "c";
    }));
}

void TestBindings::aKitThatChangesIsReadAgain()
{
    Bench bench;
    for (const char* file : {"harbour.kit.json"})
        QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/") + QLatin1String(file),
                    bench.folder.filePath(QLatin1String(file)));
    bench.openDemo(QStringLiteral("berths"));
    const std::string ring = "ring-1";
    const auto radius = [&] {
        return std::get<scene::Circle>(scene::findPiece(bench.window.document().scene(), ring)->shapes[1].geometry)
            .radius;
    };
    QCOMPARE(radius(), 1.3);
    QFile kit{bench.folder.filePath(QStringLiteral("harbour.kit.json"))};
    QVERIFY(kit.open(QIODevice::ReadWrite));
    QByteArray text = kit.readAll();
    text.replace("\"circle\": 1.3", "\"circle\": 1.8");
    kit.resize(0);
    kit.seek(0);
    kit.write(text);
    kit.close();
    QTRY_COMPARE(radius(), 1.8); // its rings follow
    QVERIFY(!bench.window.document().isDirty());
}

/// Saved elsewhere, stamped, undone, and without the kit: what follows its templates stays whole.
void TestBindings::workThatFollowsAKitIsNotLost()
{
    Bench bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    bench.openDemo(QStringLiteral("berths"));
    app::Document& document = bench.window.document();
    const auto shapesOf = [&](const char* piece) {
        const scene::Piece* found = scene::findPiece(document.scene(), piece);
        return found ? found->shapes.size() : 99;
    };
    QCOMPARE(shapesOf("ring-1"), std::size_t{2});
    // The stamp sets down what only the kit brings.
    bench.window.ground()->setTool(app::ToolKind::stamp);
    bench.window.ground()->setStamp("ring");
    bench.click({-9, 3});
    QCOMPARE(shapesOf("ring-5"), std::size_t{2});
    QVERIFY(!document.scene().templates.find("ring"));
    // In another folder it finds its kit again.
    QTemporaryDir other;
    const QString path = other.filePath(QStringLiteral("elsewhere.snare.json"));
    QVERIFY(document.save(path));
    QVERIFY(document.open(path));
    QCOMPARE(shapesOf("ring-1"), std::size_t{2});
    // A kit that is no longer named leaves its pieces all they have; undo names it again.
    document.edit(QStringLiteral("No kit"), [](scene::Scene& scene) { scene.kits.clear(); });
    QCOMPARE(shapesOf("ring-1"), std::size_t{2});
    QVERIFY(io::sceneText(document.scene()).find("\"circle\": 1.3") != std::string::npos);
    document.undoStack()->undo();
    QCOMPARE(shapesOf("ring-1"), std::size_t{2});
    QVERIFY(io::sceneText(document.scene()).find("\"circle\": 1.3") == std::string::npos);
}

void TestBindings::aMissingKitIsSaidInPlace()
{
    Bench bench;
    bench.openDemo(QStringLiteral("berths")); // without its kit
    bench.window.selection().clear();
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    QTRY_VERIFY(card->findChild<QLabel*>(QStringLiteral("problem")));
    QVERIFY(card->findChild<QLabel*>(QStringLiteral("problem"))->text().contains(QStringLiteral("harbour.kit.json")));
    QVERIFY(bench.window.stage().record().lastTick() > 300); // a finding, not a failure
}

void TestBindings::catchesADialThatIsTurnedWhileRecording()
{
    Bench bench;
    bench.openDemo(QStringLiteral("flood-tide"));
    bench.window.stage().startRecording();
    QTRY_VERIFY(bench.window.stage().mode() == app::Stage::Mode::recording);
    bench.window.stage().dial("gauge-dial", 1.5);
    bench.pass(3);
    bench.window.stage().dial("gauge-dial", 3);
    bench.pass(3);
    bench.window.stage().stop();
    bench.settle();
    const auto& inputs = bench.window.document().take().inputs;
    QCOMPARE(std::ranges::count(inputs, std::string("gauge-dial"), scene::nameOf<scene::DialInput>), 2);
    QCOMPARE(outcomesOf(bench.window.stage().record(), "tide-turns").size(), 1);
}

void TestBindings::theMomentSaysWhereASignalWasHeard()
{
    Bench bench;
    bench.openDemo(QStringLiteral("flood-tide"));
    const auto& lines = bench.window.stage().record().journal.lines;
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines[i].kind == rules::LineKind::event && lines[i].event == scene::EventKind::heard) {
            bench.window.stage().setCursor(lines[i].tick);
            bench.window.stage().chooseLine(static_cast<std::int32_t>(i));
            break;
        }
    const QString text = bench.window.moment()->plainText();
    QVERIFY2(text.contains(QStringLiteral("barges-ride at jutta sprang")), qPrintable(text));
    QVERIFY2(
        text.contains(QStringLiteral(
            "lamps-warn at lamp-high slipped at filter: needs signal.height >= self.mark, which is 2.6; it is 2.1")),
        qPrintable(text));
}

void TestBindings::theMomentSaysWhatAChosenSnareMissed()
{
    Bench bench;
    bench.openDemo(QStringLiteral("duty-slips"));
    bench.window.selection().chooseSnare("ring-bell", "yard");
    const QString text = bench.window.moment()->plainText();
    QVERIFY2(text.contains(QStringLiteral("ring-bell slipped 3 times")), qPrintable(text));
    QVERIFY2(text.contains(QStringLiteral("2 × gate: not again for 3 s")), qPrintable(text));
    QVERIFY2(text.contains(QStringLiteral("1 × filter: came from below")), qPrintable(text));
    // A time in it leads there.
    const QStringList reasons = reasonsOf(bench.window.stage().record(), "ring-bell");
    QCOMPARE(reasons.size(), 3);
    auto* label = bench.window.moment()->findChild<QLabel*>(QStringLiteral("momentText"));
    const auto link = QRegularExpression{QStringLiteral("line:(\\d+)")}.match(label->text());
    QVERIFY(link.hasMatch());
    emit label->linkActivated(link.captured(0));
    QCOMPARE(bench.window.stage().chosenLine(), link.captured(1).toInt());
}

void TestBindings::whatWasSpawnedCannotBeEdited()
{
    Bench bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    bench.openDemo(QStringLiteral("berths"));
    bench.window.stage().setCursor(300);
    const auto& pieces = bench.window.ground()->pieces();
    const auto boat = std::ranges::find(pieces, app::spawnedPiece, &app::ShownPiece::index);
    QVERIFY(boat != pieces.end());
    const Vec at = boat->pose.at;
    const std::string before = bench.text();
    bench.window.selection().clear();
    bench.drag(at, at + Vec{1, 1});
    QCOMPARE(bench.text(), before);
}

SNARE_WINDOW_TEST_MAIN(TestBindings)
#include "test_bindings.moc"
