// SPDX-License-Identifier: Apache-2.0
/// Nothing is replaced or deleted unasked: takes, kits, demos, and work that a crash left.
#include "answering.h"
#include "app/model/rescue.h"
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
        scene.routines.set("ring-bell", scene::Routine{{{scene::Wait{}, {}}}});
    });
    const std::string before = bench.text();
    const QString kit = bench.folder.filePath(QStringLiteral("own.kit.json"));
    QVERIFY(document.moveToKit("ring-bell", "own.kit.json"));
    QVERIFY(contentOf(kit).contains("ring-bell"));
    QVERIFY(!document.scene().routines.find("ring-bell"));
    QVERIFY(scene::findRoutine(document.scene(), "ring-bell")); // it comes with the kit
    const QByteArray written = contentOf(kit);
    document.undoStack()->undo();
    QCOMPARE(bench.text(), before);
    QVERIFY(!QFile::exists(kit));
    document.undoStack()->redo();
    QCOMPARE(contentOf(kit), written);
    QVERIFY(scene::findRoutine(document.scene(), "ring-bell"));
    // Changed by another program, the file is not touched by undo.
    QFile file{kit};
    QVERIFY(file.open(QIODevice::Append));
    file.write("\n");
    file.close();
    document.undoStack()->undo();
    QCOMPARE(contentOf(kit), written + "\n");
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("own.kit.json")));
}

void TestKept::aKitThatHasTheNameStaysAsItIs()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    const auto give = [&] {
        document.edit(QStringLiteral("routine"), [](scene::Scene& scene) {
            scene.routines.set("ring-bell", scene::Routine{{{scene::Wait{}, {}}}});
        });
    };
    give();
    QVERIFY(document.moveToKit("ring-bell", "own.kit.json"));
    const QByteArray before = contentOf(bench.folder.filePath(QStringLiteral("own.kit.json")));
    give();
    QVERIFY(!document.moveToKit("ring-bell", "own.kit.json"));
    QCOMPARE(contentOf(bench.folder.filePath(QStringLiteral("own.kit.json"))), before);
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
