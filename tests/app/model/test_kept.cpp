// SPDX-License-Identifier: Apache-2.0
/// Nothing is replaced or deleted unasked: takes, kits, demos, and work that a crash left.
#include "answering.h"
#include "app/model/rescue.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/models.h"
#include "window_fixture.h"

#include <QAbstractButton>
#include <QDir>
#include <QPointer>

using namespace snare;
using namespace snare::tests;

namespace {

QStringList trashed()
{
    return QDir{QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/Trash/files")}
        .entryList(QDir::Files);
}

} // namespace

class TestKept : public QObject {
    Q_OBJECT

  private slots:
    void aDeletedTakeGoesToTheTrash();
    void aRoutineInAKitIsTakenOutAgainByUndo();
    void aKitIsEditedUndoneAndSaved();
    void aMissingKitLosesNothing();
    void aChangedKitIsRescued();
    void aKitThatHasTheNameStaysAsItIs();
    void bringingWorkBackAsksForWhatIsOpen();
    void savingADemoOffersACopy();
    void stoppingARecordingThatCatchesUpDoesNotWait();
    void whoSharesARecordKeepsItWhole();
    void anAnswerForACardThatIsGoneGoesNowhere();
};

void TestKept::aDeletedTakeGoesToTheTrash()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    document.addTake("second", document.take());
    QVERIFY(document.save(document.filePath()));
    const QString file = app::takePathFor(document.filePath(), "second");
    const QByteArray before = contentOf(file);
    QVERIFY(!before.isEmpty());
    document.removeTake(1);
    QVERIFY(QFile::exists(file)); // not before it is saved
    QVERIFY(document.save(document.filePath()));
    QVERIFY(!QFile::exists(file));
    QCOMPARE(trashed(), QStringList{QFileInfo(file).fileName()});
    // Undone and saved, it is there again.
    document.undoStack()->undo();
    QVERIFY(document.save(document.filePath()));
    QCOMPARE(contentOf(file), before);
}

void TestKept::aRoutineInAKitIsTakenOutAgainByUndo()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    document.edit(QStringLiteral("routine"), [](scene::Scene& scene) {
        scene.routines.set("ring-bell", scene::Routine{{}, {{scene::Wait{}, {}}}});
    });
    const std::string before = bench.text();
    const QString kit = bench.folder.filePath(QStringLiteral("own.kit.json"));
    QVERIFY(document.moveShared(scene::Thing::routine, "ring-bell", {}, "own.kit.json"));
    QVERIFY(!document.scene().routines.find("ring-bell"));
    QVERIFY(scene::findRoutine(document.scene(), "ring-bell")); // it comes with the kit
    QVERIFY(!QFile::exists(kit));                               // which is made when the scene is saved
    QVERIFY(document.save(document.filePath()));
    QVERIFY(contentOf(kit).contains("ring-bell"));
    QVERIFY(!document.isDirty() && document.editedKits().empty());
    // Undone after that, the scene has it again; saved, the kit is empty and no longer named.
    document.undoStack()->undo();
    QCOMPARE(bench.text(), before);
    QVERIFY(document.isDirty());
    document.undoStack()->redo();
    QVERIFY(scene::findRoutine(document.scene(), "ring-bell") && !document.isDirty());
}

/// What is changed in a kit is a step of undo like any other, is saved with the scene, and told
/// apart from what another program wrote.
void TestKept::aKitIsEditedUndoneAndSaved()
{
    Bench bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    bench.openDemo(QStringLiteral("berths"));
    app::Document& document = bench.window.document();
    const QString kit = bench.folder.filePath(QStringLiteral("harbour.kit.json"));
    const QByteArray before = contentOf(kit);
    const auto radius = [&] {
        return std::get<scene::Circle>(scene::findPiece(document.scene(), "ring-1")->shapes[1].geometry).radius;
    };
    const auto widen = [&](double to) {
        document.edit(QStringLiteral("Widen the ring"), [&](scene::Scene& scene) {
            scene::changeModelOrPiece(scene, "template:ring", [&](scene::Piece& model) {
                std::get<scene::Circle>(model.shapes[1].geometry).radius = to;
            });
        });
    };
    widen(1.7);
    QCOMPARE(radius(), 1.7); // the pieces of the kit's template follow
    QVERIFY(document.isDirty() && document.editedKits().size() == 1);
    QCOMPARE(contentOf(kit), before);
    document.undoStack()->undo();
    QCOMPARE(radius(), 1.3);
    QVERIFY(document.editedKits().empty());
    document.undoStack()->redo();
    QVERIFY(document.save(document.filePath()));
    QVERIFY(contentOf(kit).contains("1.7"));
    // The step can be undone after saving too.
    document.undoStack()->undo();
    QCOMPARE(radius(), 1.3);
    QVERIFY(document.isDirty() && document.editedKits().size() == 1);
    // Another program changes the file meanwhile: what was changed here stays, and saving would
    // ask.
    QFile file{kit};
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray(before).replace("\"circle\": 1.3", "\"circle\": 2.1"));
    file.close();
    document.reloadKits();
    QCOMPARE(radius(), 1.3);
    QCOMPARE(document.wouldReplace(document.filePath()), QStringList{kit});
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("harbour.kit.json")));
}

/// Without its kit nothing is lost: fields over a template, parts of a laid assembly.
void TestKept::aMissingKitLosesNothing()
{
    QTemporaryDir folder;
    const auto write = [&](const char* name, const QByteArray& text) {
        QFile file{folder.filePath(QString::fromUtf8(name))};
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text);
    };
    const QByteArray kit = R"({"format": "fresh-snare-kit", "version": 1,
        "templates": {"ring": {"shapes": [{"id": "iron", "circle": 0.4}, {"id": "reach", "role": "zone", "circle": 1.3}]}},
        "assemblies": {"lock": {"pieces": [{"id": "gate", "shapes": [{"box": [2, 0.3]}], "properties": {"number": 0}}]}}})";
    const QByteArray scene = R"({"format": "fresh-snare-scene", "version": 1, "kits": ["own.kit.json"], "pieces": [
        {"id": "ring-1", "template": "ring", "at": [1, 2], "shapes": [{"id": "reach", "circle": 2.5}]},
        {"id": "lock-1", "assembly": "lock", "at": [4, 2], "turn": 90, "parts": {"gate": {"properties": {"number": 3}}}}]})";
    write("own.kit.json", kit);
    write("scene.snare.json", scene);
    app::Document document;
    QVERIFY(document.open(folder.filePath(QStringLiteral("scene.snare.json"))));
    const std::string whole = io::sceneText(document.scene());
    QCOMPARE(document.scene().pieces.size(), std::size_t{2});
    // The kit goes away: the scene says so, and saves all that it knew.
    QVERIFY(QFile::remove(folder.filePath(QStringLiteral("own.kit.json"))));
    document.reloadKits();
    QVERIFY(!document.scene().loaded.list->front().problem.empty());
    QVERIFY(scene::findLaid(document.scene(), "lock-1") && !scene::findPiece(document.scene(), "lock-1.gate"));
    document.edit(QStringLiteral("Move"), [](scene::Scene& one) { scene::findPiece(one, "ring-1")->at = {3, 3}; });
    QVERIFY(document.save(document.filePath()));
    // Opened without it, saved, and with it again, everything is there.
    QVERIFY(document.open(document.filePath()));
    QVERIFY(document.save(document.filePath()));
    write("own.kit.json", kit);
    QVERIFY(document.open(document.filePath()));
    const scene::Piece* ring = scene::findPiece(document.scene(), "ring-1");
    QCOMPARE(std::get<scene::Circle>(ring->shapes.at(1).geometry).radius, 2.5);
    QCOMPARE(ring->shapes.at(0).id, std::string("iron"));
    QVERIFY(ring->at == (scene::Vec{3, 3}));
    const scene::Piece* gate = scene::findPiece(document.scene(), "lock-1.gate");
    QVERIFY(gate && *gate->properties.find("number") == scene::Scalar{3.0} && std::abs(gate->turn - 90) < 1e-9);
    std::string expected = whole;
    expected.replace(expected.find("[1, 2]"), 6, "[3, 3]");
    QCOMPARE(io::sceneText(document.scene()), expected);
}

/// What was changed in a kit is brought back after a crash.
void TestKept::aChangedKitIsRescued()
{
    for (const QString& old : QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}))
        QFile::remove(app::Rescue::folder() + QLatin1Char('/') + old); // of the windows of other tests
    Bench bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    bench.openDemo(QStringLiteral("berths"));
    {
        app::Document crashed;
        QVERIFY(crashed.open(bench.folder.filePath(QStringLiteral("berths.snare.json"))));
        crashed.edit(QStringLiteral("x"), [](scene::Scene& scene) {
            scene::changeModelOrPiece(scene, "template:ring", [](scene::Piece& model) { model.group = "iron"; });
        });
        app::Rescue rescue{crashed};
        rescue.writeNow();
    } // it waits for the file
    app::Document next;
    app::Rescue rescue{next};
    const auto found = rescue.found();
    QVERIFY(!found.empty());
    QVERIFY(rescue.bringBack(found.front()));
    QCOMPARE(next.editedKits().size(), std::size_t{1});
    QCOMPARE(scene::findPiece(next.scene(), "ring-1")->group, std::string("iron"));
}

void TestKept::aKitThatHasTheNameStaysAsItIs()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    const auto give = [&] {
        document.edit(QStringLiteral("routine"), [](scene::Scene& scene) {
            scene.routines.set("ring-bell", scene::Routine{{}, {{scene::Wait{}, {}}}});
        });
    };
    give();
    QVERIFY(document.moveShared(scene::Thing::routine, "ring-bell", {}, "own.kit.json"));
    const std::string before = io::kitText(document.editedKits().front().kit);
    give();
    QVERIFY(!document.moveShared(scene::Thing::routine, "ring-bell", {}, "own.kit.json"));
    QCOMPARE(io::kitText(document.editedKits().front().kit), before);
    QVERIFY(document.scene().routines.find("ring-bell"));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("ring-bell")));
}

void TestKept::bringingWorkBackAsksForWhatIsOpen()
{
    for (const QString& old : QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}))
        QFile::remove(app::Rescue::folder() + QLatin1Char('/') + old); // of the windows of other tests
    {
        Bench crashed;
        crashed.openDemo();
        crashed.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) { scene.name = "left behind"; });
        app::Rescue rescue{crashed.window.document()};
        rescue.writeNow();
        QVERIFY(QTest::qWaitFor(
            [] { return QDir{app::Rescue::folder()}.entryList({QStringLiteral("*.rescue")}).size() > 0; }, 10000));
    }
    Bench bench;
    bench.openDemo(QStringLiteral("berths"));
    bench.window.document().edit(QStringLiteral("y"), [](scene::Scene& scene) { scene.name = "still open"; });
    bench.window.offerRescue();
    auto* offer = bench.window.findChild<QAbstractButton*>(QStringLiteral("problemOffer"));
    QVERIFY(offer && offer->isVisible());
    {
        Answering cancel{QStringLiteral("Cancel")};
        QTest::mouseClick(offer, Qt::LeftButton);
        QCOMPARE(cancel.said.size(), 1);
    }
    QCOMPARE(bench.window.document().scene().name, std::string("still open"));
    QVERIFY(offer->isVisible()); // the offer stands
    {
        Answering save{QStringLiteral("Save")};
        QTest::mouseClick(offer, Qt::LeftButton);
    }
    QVERIFY2(bench.window.document().scene().name == "left behind",
             (bench.window.document().scene().name + ": " + bench.window.shownProblem().toStdString()).c_str());
    QVERIFY(contentOf(bench.folder.filePath(QStringLiteral("berths.snare.json"))).contains("still open"));
}

void TestKept::savingADemoOffersACopy()
{
    Bench bench;
    bench.openDemo();
    MainWindow::demoFolders() = {bench.folder.path()};
    const QString path = bench.window.document().filePath();
    const QByteArray before = contentOf(path);
    bench.window.document().edit(QStringLiteral("x"), [](scene::Scene& scene) { scene.name = "mine"; });
    {
        Answering cancel{QStringLiteral("Cancel")};
        bench.key(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(cancel.said.size(), 1);
    }
    QCOMPARE(contentOf(path), before);
    QVERIFY(bench.window.document().isDirty());
    {
        Answering change{QStringLiteral("Change the demo")};
        bench.key(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(change.said.size(), 1);
    }
    MainWindow::demoFolders().clear();
    QVERIFY(contentOf(path).contains("mine"));
}

void TestKept::stoppingARecordingThatCatchesUpDoesNotWait()
{
    Bench bench;
    bench.openDemo();
    app::Stage& stage = bench.window.stage();
    stage.setCursor(stage.record().lastTick());
    const auto inputs = bench.window.document().take().inputs;
    stage.startRecording(true);
    stage.stop(); // before the first frame: nothing was caught up with
    QCOMPARE(stage.mode(), app::Stage::Mode::still);
    bench.settle();
    const scene::Take& take = bench.window.document().take();
    QVERIFY(take.inputs.size() >= inputs.size());
    for (std::size_t i = 0; i < inputs.size(); ++i)
        QVERIFY(take.inputs[i] == inputs[i]);
    QVERIFY(stage.record().lastTick() > 0);
}

void TestKept::whoSharesARecordKeepsItWhole()
{
    Bench bench;
    bench.openDemo();
    app::Stage& stage = bench.window.stage();
    stage.startRecording();
    QVERIFY(QTest::qWaitFor([&] { return stage.cursor() > 5; }, 20000));
    const std::shared_ptr<const sim::Record> shared = stage.sharedRecord();
    stage.stop();
    QVERIFY(shared->scene);
    QVERIFY(shared->lastTick() >= 5);
    QCOMPARE(shared->pieces.size(), shared->scene->pieces.size());
}

/// Pointing at a target, then another piece by key, then the click.
void TestKept::anAnswerForACardThatIsGoneGoesNowhere()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.layOut();
    const std::string before = bench.text();
    QPointer<app::SnareCard> card = bench.window.findChild<app::SnareCard*>(QStringLiteral("card weigh"));
    QVERIFY(card);
    app::SlotButton* target = nullptr; // of the first response that is done to something
    for (auto* slot : card->findChildren<app::SlotButton*>())
        if (!target && slot->objectName().endsWith(QStringLiteral(" on")))
            target = slot;
    QVERIFY(target);
    target->click();
    QTRY_VERIFY(bench.popup());
    bench.popup()->findChild<QAbstractButton*>(QStringLiteral("pointAtIt"))->click();
    bench.window.selection().choosePiece("vane"); // as with the key N
    bench.layOut();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QVERIFY(!card);
    bench.click(bench.placeNow("barrow"));
    QCOMPARE(bench.text(), before);
}

SNARE_WINDOW_TEST_MAIN(TestKept)
#include "test_kept.moc"
