// SPDX-License-Identifier: Apache-2.0
/// Pieces, contacts, finding and renaming, by mouse and keys in the real window.
#include "window_fixture.h"

#include "app/model/findings_watch.h"
#include "app/panels/contacts_panel.h"
#include "app/panels/findings_panel.h"
#include "app/panels/pieces_panel.h"
#include "app/panels/source_panel.h"
#include "app/panels/source_shelf.h"
#include "app/ui/funnel.h"
#include "app/ui/theme.h"
#include "scene/mentions.h"

#include <QLabel>
#include <QTabWidget>

using namespace snare;
using namespace snare::tests;

class TestPanels : public QObject {
    Q_OBJECT

  private slots:
    void findsPiecesAsOneTypes();
    void selectingInTheListSelectsOnTheGround();
    void renamingAPieceChangesEveryMentionInOneStep();
    void aTakenNameIsRefusedInPlace();
    void renamingASnareKeepsWhoArmsIt();
    void regroupsSeveralAtOnce();
    void movesAGroupBetweenTraysByKey();
    void mergingAGroupTakesItsPiecesAlong();
    void ctrlKFindsPiecesSnaresAndCommands();
    void deletingSaysFirstWhatListens();
    void theShelfGlowsWhileAKeyIsDown();
    void aTimerIsChangedOnTheShelf();
    void aNewTimerCanBeCaught();
    void theFunnelCountsTheTake();
    void threadsAreDrawnForTheSelection();
    void aCaptionIsDrawnAtItsMoment();
    void clickingALaneSelectsItsPiece();
    void theBookShowsEverySnare();
    void findingsLeadToTheirPlaceAndAreMended();
    void whatNeverSprangInTheTakeIsTold();
    void aFindingIsAcceptedWithAReason();

  private:
    static void showTab(Bench& bench, const QString& name)
    {
        auto* tabs = bench.window.findChild<QTabWidget*>();
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i).startsWith(name))
                tabs->setCurrentIndex(i);
        QTest::qWait(1);
    }

    static QListWidget* list(Bench& bench)
    {
        return bench.window.findChild<app::PiecesPanel*>()->findChild<QListWidget*>();
    }

    /// Findings of the scene; those of the take stand after them.
    static int foundRows(QListWidget* rows)
    {
        int found = 0;
        for (int i = 0; i < rows->count(); ++i)
            found += rows->item(i)->data(Qt::UserRole + 5).toInt() < 0 ? 1 : 0;
        return found;
    }

    static int shownRows(QListWidget* rows)
    {
        int shown = 0;
        for (int i = 0; i < rows->count(); ++i)
            shown += rows->item(i)->isHidden() ? 0 : 1;
        return shown;
    }

    static QImage picture(Bench& bench) { return bench.window.ground()->grab().toImage(); }

    /// How many pixels of the picture have about this colour, in a square around a point.
    static int pixelsOf(const QImage& image, const QPoint& around, int reach, const QColor& colour)
    {
        int count = 0;
        for (int y = around.y() - reach; y <= around.y() + reach; ++y)
            for (int x = around.x() - reach; x <= around.x() + reach; ++x) {
                if (!image.rect().contains(x, y))
                    continue;
                const QColor have = image.pixelColor(x, y);
                count += std::abs(have.red() - colour.red()) + std::abs(have.green() - colour.green()) +
                                     std::abs(have.blue() - colour.blue()) <
                                 24
                             ? 1
                             : 0;
            }
        return count;
    }
};

void TestPanels::findsPiecesAsOneTypes()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, QStringLiteral("Pieces"));
    const int all = static_cast<int>(bench.window.document().scene().pieces.size());
    QCOMPARE(shownRows(list(bench)), all);
    auto* search = bench.window.findChild<app::PiecesPanel*>()->findChild<QLineEdit*>();
    QTest::keyClicks(search, QStringLiteral("cask"));
    QCOMPARE(shownRows(list(bench)), 2);
    search->clear();
    QTest::keyClicks(search, QStringLiteral("courier walker"));
    QCOMPARE(shownRows(list(bench)), 2); // the group and the body
}

void TestPanels::selectingInTheListSelectsOnTheGround()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, QStringLiteral("Pieces"));
    QListWidget* rows = list(bench);
    for (int i = 0; i < rows->count(); ++i)
        if (rows->item(i)->data(Qt::UserRole).toString() == QLatin1String("barrow"))
            QTest::mouseClick(rows->viewport(), Qt::LeftButton, {}, rows->visualItemRect(rows->item(i)).center());
    QCOMPARE(bench.window.selection().piece(), std::string("barrow"));
    bench.click({-4.2, 1.2});
    QCOMPARE(rows->selectedItems().size(), 1);
    QCOMPARE(rows->selectedItems().front()->data(Qt::UserRole).toString(), QStringLiteral("cask-1"));
}

void TestPanels::renamingAPieceChangesEveryMentionInOneStep()
{
    Bench bench;
    bench.openDemo();
    const std::string before = bench.text();
    bench.click({-5.6, -2.4});
    bench.selectAndWait("barrow");
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    QTest::mouseClick(card->findChild<app::SlotButton*>(QStringLiteral("name")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    const auto labels = bench.popup()->findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(
        labels, [](const QLabel* label) { return label->text().contains(QStringLiteral("4 mention")); }));
    bench.answer(QStringLiteral("handcart"));
    const scene::Scene& scene = bench.window.document().scene();
    QVERIFY(scene::findPiece(scene, "handcart") && !scene::findPiece(scene, "barrow"));
    QCOMPARE(std::get<scene::Move>(scene::findSnare(scene, "weigh")->responses[2].kind).on.names.front(),
             std::string("handcart"));
    QCOMPARE(scene::findSnare(scene, "load")->filter.pieces.front(), std::string("handcart"));
    QCOMPARE(bench.window.selection().piece(), std::string("handcart"));
    QCOMPARE(bench.window.document().undoStack()->count(), 1);
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(bench.text(), before);
}

void TestPanels::aTakenNameIsRefusedInPlace()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("barrow");
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    QTest::mouseClick(card->findChild<app::SlotButton*>(QStringLiteral("name")), Qt::LeftButton);
    bench.answer(QStringLiteral("scale"));
    QVERIFY(bench.popup());
    const auto labels = bench.popup()->findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(
        labels, [](const QLabel* label) { return label->text().contains(QStringLiteral("there already")); }));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    QVERIFY(scene::findPiece(bench.window.document().scene(), "barrow"));
}

void TestPanels::renamingASnareKeepsWhoArmsIt()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("loading");
    QTRY_VERIFY(bench.slot(QStringLiteral("last-call"), QStringLiteral("name")));
    QTest::mouseClick(bench.slot(QStringLiteral("last-call"), QStringLiteral("name")), Qt::LeftButton);
    bench.answer(QStringLiteral("closing"));
    const scene::Scene& scene = bench.window.document().scene();
    QVERIFY(scene::findSnare(scene, "closing"));
    QCOMPARE(std::get<scene::Arm>(scene::findSnare(scene, "tally")->responses[2].kind).snares.front(),
             std::string("closing"));
    QTRY_VERIFY(bench.slot(QStringLiteral("closing"), QStringLiteral("name")));
}

void TestPanels::regroupsSeveralAtOnce()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, QStringLiteral("Pieces"));
    bench.window.selection().choosePieces({"cask-1", "cask-2"});
    auto* panel = bench.window.findChild<app::PiecesPanel*>();
    QMetaObject::invokeMethod(panel, [panel] { panel->regroupChosen(); });
    bench.answer(QStringLiteral("stores"));
    QCOMPARE(scene::findPiece(bench.window.document().scene(), "cask-1")->group, std::string("stores"));
    QCOMPARE(scene::findPiece(bench.window.document().scene(), "cask-2")->group, std::string("stores"));
    QCOMPARE(bench.window.document().undoStack()->count(), 1);
}

void TestPanels::movesAGroupBetweenTraysByKey()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, QStringLiteral("Contacts"));
    auto* panel = bench.window.findChild<app::ContactsPanel*>();
    panel->choose("courier");
    auto* stops = panel->findChild<app::ContactTray*>(QStringLiteral("tray stop"));
    QVERIFY(stops->count() > 0);
    for (int i = 0; i < stops->count(); ++i)
        if (stops->item(i)->data(Qt::UserRole).toString() == QLatin1String("quay"))
            stops->setCurrentRow(i);
    stops->setFocus();
    QTest::keyClick(stops, Qt::Key_P);
    QTRY_VERIFY(scene::contactBetween(bench.window.document().scene(), "quay", "courier") == scene::Contact::pass);
    QCOMPARE(bench.window.ground()->tool(), app::ToolKind::select); // the key was no tool
    auto* passes = panel->findChild<app::ContactTray*>(QStringLiteral("tray pass"));
    QTRY_VERIFY(passes->currentItem());
    QTest::keyClick(passes, Qt::Key_T);
    QTRY_VERIFY(scene::contactBetween(bench.window.document().scene(), "quay", "courier") == scene::Contact::stop);
}

void TestPanels::mergingAGroupTakesItsPiecesAlong()
{
    scene::Scene scene;
    scene.groups = {"a", "b"};
    scene.contacts = {{"a", "b", scene::Contact::pass}, {"b", "default", scene::Contact::sense}};
    scene.pieces.emplace_back().group = "a";
    scene.pieces.emplace_back().group = "b";
    scene.snares.emplace_back().id = "s";
    scene.snares[0].filter.groups = {"a"};
    app::mergeGroups(scene, "a", "b");
    QCOMPARE(scene.groups, (std::vector<std::string>{"b"}));
    QCOMPARE(scene.pieces[0].group, std::string("b"));
    QCOMPARE(scene.snares[0].filter.groups, (std::vector<std::string>{"b"}));
    QCOMPARE(scene.contacts.size(), std::size_t{1});
}

void TestPanels::ctrlKFindsPiecesSnaresAndCommands()
{
    Bench bench;
    bench.openDemo();
    bench.key(Qt::Key_K, Qt::ControlModifier);
    // The label is no name: nothing is called so.
    QTRY_VERIFY(bench.popup());
    QTest::keyClicks(bench.popup()->findChild<QLineEdit*>(), QStringLiteral("weather"));
    const auto said = bench.popup()->findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(said, [](const QLabel* label) {
        return label->isVisible() && label->text().startsWith(QStringLiteral("Nothing is called"));
    }));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    bench.key(Qt::Key_K, Qt::ControlModifier);
    bench.answer(QStringLiteral("bollard"));
    QCOMPARE(bench.window.selection().piece(), std::string("bollard"));
    bench.key(Qt::Key_K, Qt::ControlModifier);
    bench.answer(QStringLiteral("send-home"));
    QCOMPARE(bench.window.selection().snare(), std::string("send-home"));
    bench.key(Qt::Key_K, Qt::ControlModifier);
    bench.answer(QStringLiteral("clean view"));
    QVERIFY(bench.window.ground()->options().clean);
}

void TestPanels::deletingSaysFirstWhatListens()
{
    Bench bench;
    bench.openDemo();
    bench.click({-5.6, -2.4});
    bench.key(Qt::Key_Delete);
    QTRY_VERIFY(bench.popup());
    const auto labels = bench.popup()->findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(labels,
                                [](const QLabel* label) { return label->text().contains(QStringLiteral("listen")); }));
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    QVERIFY(scene::findPiece(bench.window.document().scene(), "loading"));
    bench.key(Qt::Key_Delete);
    bench.answer(QStringLiteral("Delete"));
    QVERIFY(!scene::findPiece(bench.window.document().scene(), "loading"));
}

void TestPanels::theShelfGlowsWhileAKeyIsDown()
{
    Bench bench;
    bench.openDemo();
    auto* shelf = bench.window.findChild<app::SourceShelf*>();
    const auto glowing = [&] {
        const QImage image = shelf->grab().toImage();
        return pixelsOf(image, image.rect().center(), image.width() / 2, app::theme().coral);
    };
    QCOMPARE(glowing(), 0);
    bench.window.stage().setCursor(60); // an arrow key is down
    QVERIFY(glowing() > 30);
}

void TestPanels::aTimerIsChangedOnTheShelf()
{
    Bench bench;
    bench.openDemo();
    for (auto* pill : bench.window.findChildren<app::SourcePill*>())
        if (pill->accessibleName().startsWith(QStringLiteral("tide"))) {
            QTest::mouseClick(pill, Qt::LeftButton);
            break;
        }
    auto* panel = bench.window.findChild<app::SourcePanel*>();
    QVERIFY(panel);
    QTest::mouseClick(panel->findChild<app::SlotButton*>(QStringLiteral("source every")), Qt::LeftButton);
    bench.answer(QStringLiteral("0"));
    QVERIFY(bench.popup()); // not above 0
    bench.answer(QStringLiteral("2.5"));
    QCOMPARE(std::get<scene::TimerSource>(scene::findSource(bench.window.document().scene(), "tide")->kind).every, 2.5);
}

void TestPanels::aNewTimerCanBeCaught()
{
    Bench bench;
    bench.openDemo();
    QTest::mouseClick(bench.window.findChild<app::SourcePill*>(QStringLiteral("add source")), Qt::LeftButton);
    bench.answer(QStringLiteral("timer"));
    QVERIFY(scene::findSource(bench.window.document().scene(), "timer"));
}

void TestPanels::theFunnelCountsTheTake()
{
    Bench bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("card weigh"));
    QTRY_VERIFY(card);
    const QString counts = card->findChild<app::Funnel*>()->accessibleName();
    QCOMPARE(counts, QStringLiteral("caught 3, passed the filter 3, passed the gate 2, sprang 2"));
}

void TestPanels::threadsAreDrawnForTheSelection()
{
    Bench bench;
    bench.openDemo();
    const QPoint middle = (bench.at({0.5, 2.4}) + bench.at({4, -1})) / 2;
    const QImage before = picture(bench);
    bench.selectAndWait("scale");
    const QImage after = picture(bench);
    QVERIFY(pixelsOf(after, middle, 60, app::theme().slate) > pixelsOf(before, middle, 60, app::theme().slate) + 30);
}

void TestPanels::aCaptionIsDrawnAtItsMoment()
{
    Bench bench;
    bench.openDemo();
    // "Weighed" stands above the courier for two seconds from tick 215 on.
    bench.window.stage().setCursor(214);
    const QPoint above = bench.at(bench.placeNow("courier")) - QPoint{-30, 45};
    const int before = pixelsOf(picture(bench), above, 22, app::theme().ink);
    bench.window.stage().setCursor(220);
    const int while_ = pixelsOf(picture(bench), above, 22, app::theme().ink);
    bench.window.stage().setCursor(345);
    const int after = pixelsOf(picture(bench), above, 22, app::theme().ink);
    QVERIFY2(while_ > before + 150, qPrintable(QStringLiteral("%1 %2").arg(before).arg(while_)));
    QVERIFY(after < while_ - 100);
}

void TestPanels::clickingALaneSelectsItsPiece()
{
    Bench bench;
    bench.openDemo();
    const auto lane = bench.window.timeline()->pointOf("zone bay/mouth", 0);
    QVERIFY(lane);
    QTest::mouseClick(bench.window.timeline()->viewport(), Qt::LeftButton, {}, QPoint{60, static_cast<int>(lane->y())});
    QCOMPARE(bench.window.selection().piece(), std::string("bay"));
}

void TestPanels::theBookShowsEverySnare()
{
    Bench bench;
    bench.openDemo();
    showTab(bench, QStringLiteral("Book"));
    auto* book = bench.window.findChild<app::BookPanel*>();
    QTRY_COMPARE(book->findChildren<app::SnareCard*>().size(),
                 static_cast<qsizetype>(bench.window.document().scene().snares.size()));
}

/// What is wrong is counted on the tab; a click shows the place, its button mends it in one step of
/// undo.
void TestPanels::findingsLeadToTheirPlaceAndAreMended()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    auto* tabs = bench.window.findChild<QTabWidget*>();
    const auto tabText = [&] {
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i).startsWith(QStringLiteral("Findings")))
                return tabs->tabText(i);
        return QString();
    };
    QCOMPARE(tabText(), QStringLiteral("Findings")); // the demo is in order
    document.edit(QStringLiteral("break"), [](scene::Scene& scene) {
        scene::findSnare(scene, "greet")->responses.push_back({scene::Hide{{{"Barow"}}}, {}});
    });
    QTRY_COMPARE(tabText(), QStringLiteral("Findings 1"));
    showTab(bench, QStringLiteral("Findings"));
    auto* rows = bench.window.findChild<QListWidget*>(QStringLiteral("findingsList"));
    QTRY_COMPARE(foundRows(rows), 1);
    QVERIFY(rows->item(0)->data(Qt::UserRole).toString().contains(QStringLiteral("Barow")));
    // A click leads to the card, and to the slot on it.
    const QRect row = rows->visualItemRect(rows->item(0));
    QTest::mouseClick(rows->viewport(), Qt::LeftButton, {}, row.topLeft() + QPoint{60, 20});
    QTRY_VERIFY(tabs->tabText(tabs->currentIndex()) == QStringLiteral("Here"));
    const auto count = scene::findSnare(document.scene(), "greet")->responses.size();
    QTRY_COMPARE(bench.window.focusWidget()->objectName(), QStringLiteral("%1 on").arg(count));
    QCOMPARE(bench.window.selection().snare(), std::string("greet"));
    // The same finding stands on the card, with its fix.
    auto* fix = bench.window.findChild<app::SlotButton*>(QStringLiteral("fix no-piece"));
    QVERIFY(fix && fix->text() == QStringLiteral("Use barrow"));
    QTest::mouseClick(fix, Qt::LeftButton);
    QTRY_COMPARE(tabText(), QStringLiteral("Findings"));
    QCOMPARE(std::get<scene::Hide>(scene::findSnare(document.scene(), "greet")->responses.back().kind).on.names,
             std::vector<std::string>{"barrow"});
    QCOMPARE(document.undoStack()->undoText(), QStringLiteral("Use barrow"));
    document.undoStack()->undo();
    QTRY_COMPARE(tabText(), QStringLiteral("Findings 1"));
    // By keys in the list.
    showTab(bench, QStringLiteral("Findings"));
    QTRY_COMPARE(foundRows(rows), 1);
    rows->setCurrentRow(0);
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Return, Qt::ControlModifier);
    QTRY_COMPARE(tabText(), QStringLiteral("Findings"));
    QVERIFY(
        bench.window.findChild<QLabel*>(QStringLiteral("findingsCount"))->text().startsWith(QStringLiteral("Nothing")));
}

/// After a take: whose event came and who never sprang, with what turned it away.
void TestPanels::whatNeverSprangInTheTakeIsTold()
{
    Bench bench;
    bench.openDemo();
    bench.window.document().edit(QStringLiteral("narrow"), [](scene::Scene& scene) {
        scene::findSnare(scene, "greet")->filter.tags = {{"staff"}, {}, {"staff"}}; // with, and without
    });
    bench.settle();
    showTab(bench, QStringLiteral("Findings"));
    auto* rows = bench.window.findChild<QListWidget*>(QStringLiteral("findingsList"));
    const auto row = [&] {
        for (int i = 0; i < rows->count(); ++i)
            if (rows->item(i)->data(Qt::UserRole).toString().startsWith(QStringLiteral("greet never sprang")))
                return i;
        return -1;
    };
    QTRY_VERIFY(row() >= 0);
    QVERIFY(rows->item(row())->data(Qt::UserRole).toString().contains(QStringLiteral("its event came")));
    rows->setCurrentRow(row());
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Return);
    QTRY_COMPARE(bench.window.selection().snare(), std::string("greet"));
}

void TestPanels::aFindingIsAcceptedWithAReason()
{
    Bench bench;
    bench.openDemo();
    app::Document& document = bench.window.document();
    document.edit(QStringLiteral("break"), [](scene::Scene& scene) {
        scene::findSnare(scene, "greet")->responses.push_back({scene::Signal{{"hoist"}, {}, {}, false}, {}});
    });
    showTab(bench, QStringLiteral("Findings"));
    auto* rows = bench.window.findChild<QListWidget*>(QStringLiteral("findingsList"));
    QTRY_COMPARE(foundRows(rows), 1);
    rows->setCurrentRow(0);
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Delete);
    bench.answer(QStringLiteral("the crane comes later"));
    QTRY_COMPARE(foundRows(rows), 0);
    QCOMPARE(document.findings().open(), std::size_t{0});
    QCOMPARE(document.scene().accepted.front().reason, std::string("the crane comes later"));
    // It can be seen, and taken back; the file keeps it.
    QTest::mouseClick(bench.window.findChild<QAbstractButton*>(QStringLiteral("findingsAccepted")), Qt::LeftButton);
    QTRY_COMPARE(foundRows(rows), 1);
    QVERIFY(rows->item(0)->data(Qt::UserRole + 1).toString().contains(QStringLiteral("the crane comes later")));
    QVERIFY(document.save(document.filePath()) && document.open(document.filePath()));
    QTRY_COMPARE(document.findings().open(), std::size_t{0});
    QTRY_COMPARE(foundRows(rows), 1);
    rows->setCurrentRow(0);
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Delete);
    QTRY_COMPARE(document.findings().open(), std::size_t{1});
    QVERIFY(document.scene().accepted.empty());
}

SNARE_WINDOW_TEST_MAIN(TestPanels)
#include "test_panels.moc"
