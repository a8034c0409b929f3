// SPDX-License-Identifier: Apache-2.0
/// Help, settings, and what comes in from outside: drawings and files.
#include "app/ui/settings.h"
#include "app/window/bring_in.h"
#include "app/window/help_window.h"
#include "app/window/key_sheet.h"
#include "app/window/settings_page.h"
#include "app/window/single_instance.h"
#include "hands.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLocalSocket>
#include <QMenuBar>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>

#include <fstream>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    app::HelpWindow* help()
    {
        app::HelpWindow* found = nullptr;
        if (!QTest::qWaitFor([&] { return (found = window.findChild<app::HelpWindow*>()) && found->isVisible(); }))
            qFatal("the help does not open");
        return found;
    }
    QString shown() { return help()->findChild<app::HelpText*>()->toPlainText(); }
    template <class Widget> Widget* part(QWidget* of, const char* name)
    {
        auto* found = of->findChild<Widget*>(QLatin1String(name));
        if (!found)
            qFatal("%s is missing", name);
        return found;
    }
    QString write(const char* name, const std::string& text)
    {
        const QString path = folder.filePath(QLatin1String(name));
        std::ofstream{path.toStdString()} << text;
        return path;
    }
    app::SettingsPage* settings()
    {
        order(QStringLiteral("Settings…"));
        auto* page = window.findChild<app::SettingsPage*>();
        if (!page || !QTest::qWaitForWindowExposed(page))
            qFatal("the settings do not open");
        return page;
    }
    QAction* command(const QString& text)
    {
        for (QAction* action : window.findChildren<QAction*>())
            if (app::commandName(*action) == text)
                return action;
        qFatal("%s", qPrintable(text));
    }
};

const std::string drawing = "<svg xmlns=\"http://www.w3.org/2000/svg\"><rect id=\"quay\" width=\"40\" height=\"10\"/>"
                            "<circle class=\"zone\" cx=\"60\" cy=\"5\" r=\"5\"/><image href=\"a.png\"/></svg>";

} // namespace

class TestHelp : public QObject {
    Q_OBJECT

  private slots:
    void theGuideIsReadAndSearched();
    void whatHasTheFocusIsExplained();
    void theKeysOfTheReferenceAreThoseOfTheMenus();
    void everyLinkOfTheGuideLeadsSomewhere();
    void settingsHoldAtOnceAndStay();
    void aCommandGetsAnotherKey();
    void aDrawingIsSizedAndBroughtIn();
    void aMomentIsGivenOut();
    void aFileFromOutsideIsOpenedAfterAsking();
    void aTakeOpensItsScene();
};

void TestHelp::theGuideIsReadAndSearched()
{
    Fixture bench;
    bench.order(QStringLiteral("Guide…"));
    auto* list = bench.part<QTreeWidget>(bench.help(), "helpList");
    QVERIFY(list->topLevelItemCount() >= 10);
    auto* search = bench.part<QLineEdit>(bench.help(), "helpSearch");
    QTest::keyClicks(search, QStringLiteral("cooldown"));
    QVERIFY(bench.shown().contains(QStringLiteral("cooldown")));
    QVERIFY(!bench.help()->findChild<app::HelpText*>()->extraSelections().isEmpty()); // the word is marked
    int visible = 0;
    for (QTreeWidgetItemIterator it{list, QTreeWidgetItemIterator::NotHidden}; *it; ++it)
        ++visible;
    QTest::keyClicks(search, QStringLiteral(" zzz"));
    QVERIFY(visible > 0);
    for (int i = 0; i < list->topLevelItemCount(); ++i)
        QVERIFY(list->topLevelItem(i)->isHidden());
    search->clear();
    // Pages that were seen are gone back to.
    bench.help()->showTopic(QStringLiteral("events#enter"));
    bench.help()->showTopic(QStringLiteral("responses#say"));
    QCOMPARE(bench.help()->topic(), QStringLiteral("responses#say"));
    QVERIFY(bench.shown().contains(QStringLiteral("shows a caption")));
    QTest::mouseClick(bench.part<QToolButton>(bench.help(), "helpBack"), Qt::LeftButton);
    QCOMPARE(bench.help()->topic(), QStringLiteral("events#enter"));
    QTest::mouseClick(bench.part<QToolButton>(bench.help(), "helpForth"), Qt::LeftButton);
    QCOMPARE(bench.help()->topic(), QStringLiteral("responses#say"));
}

void TestHelp::whatHasTheFocusIsExplained()
{
    Fixture bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    const auto ask = [&](QWidget* on) {
        bench.window.activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&bench.window));
        on->setFocus();
        QTest::keyClick(on, Qt::Key_F1, Qt::ShiftModifier);
    };
    QTRY_VERIFY(bench.slot(QStringLiteral("weigh"), QStringLiteral("add response")));
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("card weigh"));
    QVERIFY(card->findChild<app::SlotButton*>(QStringLiteral("event")));
    ask(card->findChild<app::SlotButton*>(QStringLiteral("event")));
    QCOMPARE(bench.help()->topic(), QStringLiteral("events#enter"));
    const scene::Snare& weigh = *scene::findSnare(bench.scene(), "weigh");
    const std::string first{scene::wordOfResponse(weigh.responses.front().kind).key};
    QWidget* step = nullptr;
    for (auto* slot : card->findChildren<app::SlotButton*>())
        if (app::helpTopicOf(slot).startsWith(QStringLiteral("responses#")) && !step)
            step = slot;
    QVERIFY(step);
    ask(step);
    QCOMPARE(bench.help()->topic(), QStringLiteral("responses#") + QString::fromStdString(first));
    bench.window.selection().choosePiece("courier");
    ask(bench.window.ground());
    QCOMPARE(bench.help()->topic(), QStringLiteral("pieces#walker"));
    bench.window.selection().clear();
    ask(bench.window.ground());
    QCOMPARE(bench.help()->topic(), QStringLiteral("guide#Lay"));
}

/// docs/reference/keys.md is written by `fresh-snare --keys`.
void TestHelp::theKeysOfTheReferenceAreThoseOfTheMenus()
{
    Fixture bench;
    const auto kept = io::loadText(SNARE_DOCS_FOLDER "/reference/keys.md");
    QVERIFY2(kept && *kept == app::keysText(*bench.window.menuBar()).toStdString(),
             "stale: fresh-snare --keys > docs/reference/keys.md");
}

void TestHelp::everyLinkOfTheGuideLeadsSomewhere()
{
    Fixture bench;
    bench.order(QStringLiteral("Guide…"));
    static const QRegularExpression link{QStringLiteral("(?<![!`])\\[[^\\]\\n]*\\]\\(([^)#\\s]*)(#[^)\\s]*)?\\)")};
    static const QRegularExpression picture{QStringLiteral("!\\[[^\\]]*\\]\\(([^)]*)\\)")};
    int links = 0;
    for (const app::HelpSection& section : app::helpSections(*bench.window.menuBar())) {
        for (auto match = link.globalMatch(section.text); match.hasNext();) {
            const auto one = match.next();
            if (one.captured(1).contains(QLatin1Char(':')) || one.captured(1).startsWith(QLatin1String("../")) ||
                one.captured(1).startsWith(QLatin1String("decisions")) ||
                one.captured(1) == QLatin1String("architecture.md"))
                continue; // not in the help
            ++links;
            const QString before = bench.help()->topic();
            bench.help()->showTopic(section.page);
            emit bench.help()->findChild<app::HelpText*>()->anchorClicked(QUrl{one.captured(1) + one.captured(2)});
            const QString to = one.captured(1).isEmpty() ? section.page : QFileInfo{one.captured(1)}.completeBaseName();
            QVERIFY2(bench.help()->topic().section(QLatin1Char('#'), 0, 0) == to, qPrintable(one.captured(0)));
            if (!one.captured(2).isEmpty())
                QVERIFY2(bench.help()->topic().contains(QLatin1Char('#')), qPrintable(one.captured(0)));
        }
        for (auto match = picture.globalMatch(section.text); match.hasNext();) {
            const QString file = match.next().captured(1);
            QVERIFY2(QFileInfo::exists(QStringLiteral(SNARE_DOCS_FOLDER "/") + file), qPrintable(file));
        }
    }
    QVERIFY(links > 20);
}

void TestHelp::settingsHoldAtOnceAndStay()
{
    Fixture bench;
    app::SettingsPage* page = bench.settings();
    const auto choose = [&](const char* name, int index) {
        auto* box = bench.part<QComboBox>(page, name);
        box->setCurrentIndex(index);
        emit box->activated(index);
    };
    choose("settingGrid", 3); // 0.5 m
    choose("settingNewScene", 2);
    choose("settingColours", 2);
    QVERIFY(app::theme().scheme == app::Scheme::dark);
    choose("settingColours", 1);
    auto* sounds = bench.part<QCheckBox>(page, "settingSounds");
    QTest::mouseClick(sounds, Qt::LeftButton, {}, QPoint{8, sounds->height() / 2});
    QVERIFY(!bench.command(QStringLiteral("Sounds"))->isChecked());
    QTest::mouseClick(bench.part<QPushButton>(page, "settingsClose"), Qt::LeftButton);
    QTRY_VERIFY(!bench.window.findChild<app::SettingsPage*>());
    bench.order(QStringLiteral("New"));
    QVERIFY(bench.scene().view == scene::View::side);
    bench.draw(Qt::Key_S, {0.1, 0.1}, {2.1, 1.2});
    QCOMPARE(std::get<scene::Box>(bench.last().shapes[0].geometry).size, (Vec{2, 1})); // on the grid of half a metre
    QSettings kept;
    QCOMPARE(kept.value(QStringLiteral("gridStep")).toDouble(), 0.5);
    QCOMPARE(kept.value(QStringLiteral("newScene")).toString(), QStringLiteral("side"));
    QCOMPARE(kept.value(QStringLiteral("sounds")).toBool(), false);
    app::Settings::instance().setGridStep(0.1);
    app::Settings::instance().setNewScene(app::NewSceneWish::ask);
    app::Settings::instance().setSounds(true);
}

void TestHelp::aCommandGetsAnotherKey()
{
    Fixture bench;
    app::SettingsPage* page = bench.settings();
    auto* keys = bench.part<QTableWidget>(page, "settingKeys");
    auto* said = bench.part<QLabel>(page, "settingSaid");
    QTest::keyClicks(bench.part<QLineEdit>(page, "settingKeySearch"), QStringLiteral("Clean view"));
    const auto press = [&](Qt::Key key, Qt::KeyboardModifiers modifiers) {
        keys->setFocus();
        QTest::keyClick(keys, Qt::Key_Return);
        QKeySequenceEdit* edit = nullptr;
        QTRY_VERIFY((edit = keys->findChild<QKeySequenceEdit*>(QStringLiteral("settingKeyEdit"))));
        QTest::keyClick(edit, key, modifiers);
    };
    QAction* clean = bench.command(QStringLiteral("Clean view"));
    const QKeySequence usual = clean->shortcut();
    press(Qt::Key_S, Qt::ControlModifier); // that of saving
    QTRY_VERIFY(said->text().contains(QStringLiteral("Ctrl+S is the key of “Save”")));
    QCOMPARE(clean->shortcut(), usual);
    press(Qt::Key_F7, {});
    QTRY_COMPARE(clean->shortcut(), QKeySequence{Qt::Key_F7});
    QVERIFY(app::keysText(*bench.window.menuBar()).contains(QStringLiteral("| F7 | Clean view |")));
    {
        Fixture again; // the next window has it too
        QCOMPARE(again.command(QStringLiteral("Clean view"))->shortcut(), QKeySequence{Qt::Key_F7});
    }
    page->activateWindow();
    QTest::keyClick(keys, Qt::Key_Delete);
    QVERIFY(clean->shortcut().isEmpty());
    QTest::mouseClick(bench.part<QPushButton>(page, "settingKeysUsual"), Qt::LeftButton);
    QCOMPARE(clean->shortcut(), usual);
    QVERIFY(QSettings().allKeys().filter(QStringLiteral("keys/")).isEmpty());
    // A tool names the key that its command has now.
    auto* tool = bench.window.findChild<QToolButton*>(QStringLiteral("tool measure"));
    QCOMPARE(tool->toolTip(), QStringLiteral("Measure (M): distance and direction"));
    bench.command(QStringLiteral("Measure"))->setShortcut(Qt::Key_Q);
    QCOMPARE(tool->toolTip(), QStringLiteral("Measure (Q): distance and direction"));
}

void TestHelp::aDrawingIsSizedAndBroughtIn()
{
    Fixture bench;
    bench.openDemo();
    const std::string before = bench.text();
    const std::size_t pieces = bench.scene().pieces.size();
    bench.order(QStringLiteral("Bring in a drawing…"));
    QFileDialog* dialog = nullptr;
    QTRY_VERIFY((dialog = bench.window.findChild<QFileDialog*>(QStringLiteral("bringInFile"))));
    emit dialog->fileSelected(bench.write("quay.svg", drawing));
    dialog->close();
    app::BringIn* panel = nullptr;
    QTRY_VERIFY((panel = bench.window.findChild<app::BringIn*>()));
    auto* said = bench.part<QLabel>(panel, "bringInSaid");
    QTRY_COMPARE(said->text(), QStringLiteral("2 pieces, together 65 × 10 m"));
    QVERIFY(bench.part<QPlainTextEdit>(panel, "bringInNotes")
                ->toPlainText()
                .contains(QStringLiteral("<image> is not brought in")));
    auto* metres = bench.part<QLineEdit>(panel, "bringInMetres");
    metres->setText(QStringLiteral("no"));
    QVERIFY(!bench.part<QPushButton>(panel, "bringInTake")->isEnabled());
    metres->setText(QStringLiteral("0.1"));
    QTRY_COMPARE(said->text(), QStringLiteral("2 pieces, together 6.5 × 1 m"));
    QTRY_VERIFY(bench.part<QPushButton>(panel, "bringInTake")->isEnabled());
    QTest::mouseClick(bench.part<QPushButton>(panel, "bringInTake"), Qt::LeftButton);
    QCOMPARE(bench.scene().pieces.size(), pieces + 2);
    QCOMPARE(bench.window.selection().pieces(), (std::vector<std::string>{"quay", "piece"}));
    QCOMPARE(std::get<scene::Box>(scene::findPiece(bench.scene(), "quay")->shapes[0].geometry).size, (Vec{4, 1}));
    QVERIFY(scene::findPiece(bench.scene(), "piece")->shapes[0].role == scene::Role::zone);
    bench.window.document().undoStack()->undo();
    QCOMPARE(bench.text(), before);
}

void TestHelp::aMomentIsGivenOut()
{
    Fixture bench;
    bench.openDemo();
    for (const auto& [entry, ending, word] : {std::tuple{"This moment as a drawing…", ".svg", "data-piece=\"scale\""},
                                              {"The take's lines as a table…", ".csv", ",snare,"},
                                              {"The take as a trace…", ".json", "traceEvents"},
                                              {"The phases as a statechart…", ".scxml", "<scxml"}}) {
        bench.order(QString::fromUtf8(entry));
        QFileDialog* dialog = nullptr;
        QTRY_VERIFY((dialog = bench.window.findChild<QFileDialog*>(QStringLiteral("giveOutFile"))));
        const QString path = bench.folder.filePath(QStringLiteral("out")) + QLatin1String(ending);
        emit dialog->fileSelected(path);
        dialog->close();
        QTRY_VERIFY2(QString::fromStdString(io::loadText(path.toStdString()).value_or(std::string()))
                         .contains(QLatin1String(word)),
                     entry);
        QTRY_VERIFY(!bench.window.findChild<QFileDialog*>(QStringLiteral("giveOutFile")));
    }
}

void TestHelp::aFileFromOutsideIsOpenedAfterAsking()
{
    Fixture bench;
    bench.openDemo();
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/stairs.snare.json"),
                bench.folder.filePath(QStringLiteral("stairs.snare.json")));
    const QString other = bench.folder.filePath(QStringLiteral("stairs.snare.json"));
    QVERIFY(!app::SingleInstance::handOver(other)); // nobody is there
    app::SingleInstance instance;
    connect(&instance, &app::SingleInstance::fileGiven, &bench.window, &MainWindow::offerFile);
    instance.listen();
    const auto give = [&] {
        bool taken = false;
        std::unique_ptr<QThread> sender{QThread::create([&] { taken = app::SingleInstance::handOver(other); })};
        sender->start();
        QVERIFY(QTest::qWaitFor([&] { return sender->isFinished(); }));
        QVERIFY(taken);
    };
    const auto press = [&](const QString& words) {
        QMessageBox* box = nullptr;
        QTRY_VERIFY((box = bench.window.findChild<QMessageBox*>(QStringLiteral("offeredFile"))));
        for (QAbstractButton* button : box->buttons())
            if (button->text() == words)
                QTest::mouseClick(button, Qt::LeftButton);
        QTRY_VERIFY(!bench.window.findChild<QMessageBox*>(QStringLiteral("offeredFile")));
    };
    give();
    press(QStringLiteral("Not now"));
    QVERIFY(bench.window.document().filePath().endsWith(QStringLiteral("weigh-in.snare.json")));
    give();
    press(QStringLiteral("Open here"));
    QTRY_COMPARE(bench.window.document().filePath(), other);
    give(); // it is open already
    QVERIFY(!bench.window.findChild<QMessageBox*>(QStringLiteral("offeredFile")));
}

void TestHelp::aTakeOpensItsScene()
{
    Fixture bench;
    bench.openDemo();
    const QString take = bench.folder.filePath(QStringLiteral("weigh-in.take.json"));
    bench.window.document().startNew();
    QVERIFY(bench.window.openAny(take));
    QVERIFY(bench.window.document().filePath().endsWith(QStringLiteral("weigh-in.snare.json")));
    QVERIFY(!bench.window.openAny(bench.write("lost.kit.json", "{\"format\": \"fresh-snare-kit\", \"version\": 1}")));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("lost.kit.json")));
    QVERIFY(!bench.window.openAny(bench.write("bad.take.json", "{")));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("bad.take.json")));
}

SNARE_WINDOW_TEST_MAIN(TestHelp)
#include "test_help.moc"
