// SPDX-License-Identifier: Apache-2.0
/// The menus of the window: every command with its key and the everyday words that find it.
#include "app/window/main_window.h"

#include "app/cards/book_panel.h"
#include "app/cards/here_panel.h"
#include "app/ground/ground_view.h"
#include "app/model/expecting.h"
#include "app/model/leading.h"
#include "app/panels/source_shelf.h"
#include "app/slots/naming.h"
#include "app/panels/takes_panel.h"
#include "app/timeline/moment_panel.h"
#include "app/timeline/take_menu.h"
#include "app/timeline/timeline_view.h"
#include "app/ui/menus.h"
#include "app/ui/settings.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "app/window/finder.h"
#include "app/window/help_window.h"
#include "app/window/key_sheet.h"
#include "app/window/settings_page.h"
#include "scene/kits.h"
#include "scene/templates.h"
#include "words/expectations.h"

#include <QActionGroup>
#include <QApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QTabWidget>

namespace snare::app {

QAction* MainWindow::action(QMenu* menu, const QString& text, const QKeySequence& keys,
                            const std::function<void()>& act, const QString& synonyms)
{
    QAction* result = menu->addAction(text);
    result->setShortcut(keys);
    result->setData(synonyms);
    if (act)
        connect(result, &QAction::triggered, this, act);
    return result;
}

void MainWindow::buildMenus()
{
    buildSceneMenu();
    buildEditMenu();
    buildLayMenu();
    buildRunMenu();
    buildViewMenu();
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    action(help, tr("&Find anything…"), QKeySequence{Qt::CTRL | Qt::Key_K}, [this] { openFinder(); });
    action(
        help, tr("&Guide…"), {}, [this] { showHelp({}); }, tr("help manual documentation learn handbook"));
    action(
        help, tr("&What is this?"), QKeySequence{Qt::SHIFT | Qt::Key_F1}, [this] { helpHere(); },
        tr("help about selected explain reference"));
    action(
        help, tr("&Reference…"), {}, [this] { showHelp(QStringLiteral("events")); },
        tr("help events filters gates responses values findings"));
    action(
        help, tr("&Keys and gestures…"), QKeySequence{Qt::Key_F1}, [this] { showShortcuts(); },
        tr("shortcuts help mouse sheet"));
    action(help, tr("First &steps"), {}, [this] { showFirstSteps(); });
    action(
        help, tr("&About Fresh Snare…"), {}, [this] { showAbout(); }, tr("version licence"));
    applyChosenKeys(commandsOf(menuBar()->actions()));

    auto* corner = new QWidget;
    auto* cornerLayout = new QHBoxLayout{corner};
    cornerLayout->setContentsMargins(0, 0, 14, 0);
    name_ = new QLabel;
    name_->setObjectName(QStringLiteral("documentName"));
    cornerLayout->addWidget(name_);
    menuBar()->setCornerWidget(corner);
}

void MainWindow::buildSceneMenu()
{
    QMenu* file = menuBar()->addMenu(tr("&Scene"));
    action(file, tr("&New"), QKeySequence::New, [this] { newScene(); });
    action(
        file, tr("&Open…"), QKeySequence::Open, [this] { open(); }, tr("load"));
    action(
        file, tr("E&xamples…"), {}, [this] { showExamples(); }, tr("demo samples learn scenes"));
    recent_ = file->addMenu(tr("Open &recent"));
    recent_->menuAction()->setProperty("noCommand", true);
    file->addSeparator();
    action(file, tr("&Save"), QKeySequence::Save, [this] { save(); });
    action(file, tr("Save &as…"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_S}, [this] { saveAs(); });
    file->addSeparator();
    QMenu* versions = file->addMenu(tr("Co&mpare with"));
    action(
        versions, tr("The &saved state"), {},
        [this] {
            if (document_.filePath().isEmpty())
                return say(tr("The scene was never saved"));
            compare(document_.filePath(), {}, tr("the saved state"));
        },
        tr("diff version changes before"));
    action(
        versions, tr("Another &file…"), {}, [this] { compareWithFile(); }, tr("diff version scene"));
    action(
        versions, tr("A &revision in git…"), {}, [this] { compareWithRevision(); }, tr("diff version history commit"));
    action(
        file, tr("&Read in sentences…"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_D}, [this] { readScene(); },
        tr("describe text print words tell"));
    action(
        file, tr("&Bring in a drawing…"), {}, [this] { bringIn(); }, tr("import svg shapes picture outlines load"));
    action(
        file, tr("Bring in &tracks…"), {}, [this] { bringInTracks(); },
        tr("import csv table recorded places driven led load"));
    QMenu* out = file->addMenu(tr("&Give out"));
    action(
        out, tr("This &moment as a drawing…"), {}, [this] { exportAs(QStringLiteral("svg")); },
        tr("export svg picture shapes save"));
    action(
        out, tr("The &flow as a drawing…"), {}, [this] { saveFlow(); }, tr("svg export map graph save"));
    action(
        out, tr("The take's &lines as a table…"), {}, [this] { exportAs(QStringLiteral("csv")); },
        tr("export csv log ledger save"));
    action(
        out, tr("The take as a &trace…"), {}, [this] { exportAs(QStringLiteral("trace")); },
        tr("export json trace events timeline save"));
    action(
        out, tr("The &phases as a statechart…"), {}, [this] { exportAs(QStringLiteral("scxml")); },
        tr("export scxml states machine save"));
    file->addSeparator();
    action(
        file, tr("Se&ttings…"), QKeySequence{Qt::CTRL | Qt::Key_Comma}, [this] { showSettings(); },
        tr("preferences options configure colours size text grid autosave sounds default view keys shortcuts"));
    file->addSeparator();
    action(
        file, tr("&Quit"), QKeySequence{Qt::CTRL | Qt::Key_Q}, [this] { close(); }, tr("exit close"));
}

void MainWindow::buildEditMenu()
{
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = document_.undoStack()->createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    edit->addAction(undo);
    QAction* redo = document_.undoStack()->createRedoAction(this, tr("&Redo"));
    redo->setShortcuts({QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_Z}, QKeySequence{Qt::CTRL | Qt::Key_Y}});
    edit->addAction(redo);
    edit->addSeparator();
    action(edit, tr("Cu&t"), QKeySequence::Cut, [this] { editing_.cut(); });
    action(
        edit, tr("&Copy"), QKeySequence::Copy, [this] { editing_.copy(); }, tr("clipboard text"));
    action(
        edit, tr("&Paste"), QKeySequence::Paste, [this] { editing_.paste(true); }, tr("insert clipboard"));
    action(edit, tr("Paste without snares"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_V},
           [this] { editing_.paste(false); });
    action(
        edit, tr("&Duplicate"), QKeySequence{Qt::CTRL | Qt::Key_D}, [this] { editing_.duplicateSelection(); },
        tr("copy clone"));
    action(
        edit, tr("De&lete"), QKeySequence::Delete, [this] { editing_.deleteSelection(); }, tr("remove"));
    action(
        edit, tr("&Rename…"), QKeySequence{Qt::Key_F2},
        [this] {
            tabs_->setCurrentWidget(here_);
            if (selection_.piece().empty())
                say(tr("Select the piece to rename"));
            else
                askForName(shelf_, document_, scene::Thing::piece, selection_.piece(),
                           [this](const std::string& to) { selection_.choosePiece(to, selection_.shape()); });
        },
        tr("name call"));
    action(
        edit, tr("Find &uses…"), QKeySequence{Qt::SHIFT | Qt::Key_F2},
        [this] {
            const bool isSnare = !selection_.snare().empty();
            if (!isSnare && selection_.piece().empty())
                return say(tr("Choose a piece or a snare first"));
            showUses(shelf_, document_, isSnare ? scene::Thing::snare : scene::Thing::piece,
                     isSnare ? selection_.snare() : selection_.piece());
        },
        tr("where used references mentions"));
    action(edit, tr("Select &all"), QKeySequence::SelectAll, [this] { editing_.selectAll(); });
    action(edit, tr("Next piece"), QKeySequence{Qt::Key_N}, [this] { editing_.selectNext(1); });
    action(edit, tr("Previous piece"), QKeySequence{Qt::SHIFT | Qt::Key_N}, [this] { editing_.selectNext(-1); });
    edit->addSeparator();
    action(edit, tr("Copy snare to…"), {}, [this] {
        if (selection_.snare().empty())
            say(tr("Choose a snare first"));
        else
            editing_.copySnareTo(selection_.snare(), shelf_);
    });
    action(
        edit, tr("One snare for a tag, group or template…"), {},
        [this] {
            if (selection_.snare().empty())
                say(tr("Choose a snare first"));
            else
                editing_.generaliseSnare(selection_.snare(), shelf_);
        },
        tr("generalise all"));
    edit->addSeparator();
    action(
        edit, tr("Loc&k"), QKeySequence{Qt::CTRL | Qt::Key_L}, [this] { ground_->lock(selection_.pieces()); },
        tr("freeze protect"));
    action(
        edit, tr("&Hide while editing"), QKeySequence{Qt::CTRL | Qt::Key_H},
        [this] { ground_->veil(selection_.pieces()); }, tr("veil invisible"));
    action(edit, tr("Unlock and show all"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_H},
           [this] { ground_->unlockAndShowAll(); });
}

void MainWindow::buildRunMenu()
{
    QMenu* run = menuBar()->addMenu(tr("&Run"));
    action(
        run, tr("&Record by hand"), QKeySequence{Qt::Key_R}, [this] { toggleRecording(false); }, tr("play live"));
    action(
        run, tr("Record &on from the cursor"), QKeySequence{Qt::SHIFT | Qt::Key_R}, [this] { toggleRecording(true); },
        tr("continue"));
    QAction* play = action(run, tr("&Play or pause"), QKeySequence{Qt::Key_Space}, [this] {
        if (stage_.mode() == Stage::Mode::playing)
            stage_.pause();
        else
            stage_.play();
    });
    connect(ground_, &GroundView::playWanted, play, &QAction::trigger);
    action(
        run, tr("&Loop a span"), QKeySequence{Qt::SHIFT | Qt::Key_Space}, [this] { toggleLoop(); }, tr("repeat"));
    run->addSeparator();
    action(run, tr("One tick &back"), QKeySequence{Qt::Key_Comma}, [this] { stage_.stepBy(-1); });
    action(run, tr("One tick &on"), QKeySequence{Qt::Key_Period}, [this] { stage_.stepBy(1); });
    action(run, tr("Next event"), QKeySequence{Qt::Key_BracketRight}, [this] { timeline_->jump(1); });
    action(run, tr("Previous event"), QKeySequence{Qt::Key_BracketLeft}, [this] { timeline_->jump(-1); });
    action(
        run, tr("What &led to it"), QKeySequence{Qt::ALT | Qt::Key_Up}, [this] { moment_->goBack(); },
        tr("because cause why reason back"));
    action(
        run, tr("What &came of it"), QKeySequence{Qt::ALT | Qt::Key_Down}, [this] { moment_->goOn(); },
        tr("because effect result then forward"));
    action(
        run, tr("&Why is the piece here?"), QKeySequence{Qt::SHIFT | Qt::Key_Y}, [this] { explainPlace(); },
        tr("because cause moved position"));
    const auto step = [this](int by) {
        const std::size_t which = stage_.stepChange(by);
        say(which == 0 ? tr("The last edit changed nothing")
                       : tr("Change %1 of %2").arg(which).arg(stage_.changeCount()));
    };
    action(
        run, tr("Next change"), QKeySequence{Qt::ALT | Qt::Key_Right}, [step] { step(1); }, tr("difference"));
    action(
        run, tr("Previous change"), QKeySequence{Qt::ALT | Qt::Key_Left}, [step] { step(-1); }, tr("difference"));
    run->addSeparator();
    action(
        run, tr("R&un all takes"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_R},
        [this] {
            showView(3);
            takes_->runAll();
        },
        tr("test expectations check folder"));
    action(
        run, tr("What takes &never use…"), {}, [this] { showCoverage(); }, tr("coverage unused untested never sprang"));
    action(
        run, tr("How s&ure is the take…"), {},
        [this] {
            showView(3);
            takes_->askHowSure();
        },
        tr("vary flaky robust jitter timing random"));
    action(
        run, tr("Scou&t…"), {}, [this] { showScout(); },
        tr("explore fuzz reach bot play by itself monkey unreachable dead end"));
    action(
        run, tr("Expect &what is chosen…"), QKeySequence{Qt::SHIFT | Qt::Key_E},
        [this] { showExpectMenu(stage_.chosenLine(), moment_->mapToGlobal(QPoint{12, 12})); },
        tr("must come never about then test assert"));
    run->addSeparator();
    action(run, tr("To the &start"), QKeySequence{Qt::Key_Home}, [this] { stage_.setCursor(0); });
    action(run, tr("To the &end"), QKeySequence{Qt::Key_End}, [this] { stage_.setCursor(stage_.record().lastTick()); });
    run->addSeparator();
    QAction* heard = action(run, tr("So&unds"), {}, {}, tr("audio mute quiet volume"));
    heard->setCheckable(true);
    heard->setChecked(Settings::instance().sounds());
    sounds_.setOn(heard->isChecked());
    connect(heard, &QAction::toggled, this, [this](bool on) {
        sounds_.setOn(on);
        Settings::instance().setSounds(on);
    });
    connect(&Settings::instance(), &Settings::changed, heard,
            [heard] { heard->setChecked(Settings::instance().sounds()); });
    connect(&sounds_, &Sounds::failed, this, &MainWindow::say);
}

void MainWindow::buildViewMenu()
{
    QMenu* view = menuBar()->addMenu(tr("&View"));
    const auto option = [&](const QString& text, const QKeySequence& keys, bool GroundOptions::*flag, bool on) {
        QAction* one = action(view, text, keys, {});
        one->setCheckable(true);
        one->setChecked(on);
        connect(one, &QAction::toggled, this, [this, flag](bool value) {
            ground_->options().*flag = value;
            ground_->update();
        });
    };
    option(tr("All &threads"), QKeySequence{Qt::SHIFT | Qt::Key_T}, &GroundOptions::allThreads, false);
    option(tr("&Clean view"), QKeySequence{Qt::SHIFT | Qt::Key_C}, &GroundOptions::clean, false);
    option(tr("&Motion"), QKeySequence{Qt::SHIFT | Qt::Key_W}, &GroundOptions::motion, false);
    option(tr("&Pointer's path in the take"), {}, &GroundOptions::pointerPath, false);
    option(tr("&Rulers"), QKeySequence{Qt::SHIFT | Qt::Key_M}, &GroundOptions::rulers, false);
    option(tr("O&verview in the corner"), QKeySequence{Qt::SHIFT | Qt::Key_V}, &GroundOptions::overview, true);
    glass_ = action(view, tr("&Glass"), QKeySequence{Qt::Key_G}, {}, tr("pinned overlay buttons panels gauge screen"));
    glass_->setCheckable(true);
    connect(glass_, &QAction::toggled, this, [this](bool on) { ground_->showGlass(on); });
    view->addSeparator();
    action(
        view, tr("&Whole scene"), QKeySequence{Qt::CTRL | Qt::Key_0}, [this] { ground_->showWholeScene(); },
        tr("fit zoom all"));
    action(
        view, tr("&Selection"), QKeySequence{Qt::CTRL | Qt::Key_8}, [this] { ground_->showSelection(); },
        tr("zoom focus"));
    action(view, tr("Zoom &in"), QKeySequence::ZoomIn, [this] { ground_->zoom(1.25, ground_->rect().center()); });
    action(view, tr("Zoom &out"), QKeySequence::ZoomOut, [this] { ground_->zoom(0.8, ground_->rect().center()); });
    action(view, tr("Whole ta&ke"), QKeySequence{Qt::CTRL | Qt::Key_9}, [this] { timeline_->showAll(); });
    view->addSeparator();
    for (int tab = 0; tab < tabs_->count(); ++tab)
        action(view, tr("Show %1").arg(tabs_->tabText(tab).section(QLatin1Char(' '), 0, 0)),
               QKeySequence{Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + tab)},
               [this, tab] { tabs_->setCurrentIndex(tab); });
    action(view, tr("Show Timeline"), QKeySequence{Qt::ALT | Qt::SHIFT | Qt::Key_1}, [this] { showView(0); });
    action(
        view, tr("Show Ledger"), QKeySequence{Qt::ALT | Qt::SHIFT | Qt::Key_2}, [this] { showView(1); },
        tr("table log csv"));
    action(
        view, tr("Show Flow"), QKeySequence{Qt::ALT | Qt::SHIFT | Qt::Key_3}, [this] { showView(2); },
        tr("map graph what listens to what"));
    action(
        view, tr("Show Takes"), QKeySequence{Qt::ALT | Qt::SHIFT | Qt::Key_4}, [this] { showView(3); },
        tr("expectations tests passed failed"));
    view->addSeparator();
    const auto fold = [&](const QString& text, Qt::Key key, void (MainWindow::*apply)(bool), const QString& words) {
        QAction* one = action(view, text, QKeySequence{key}, {}, words);
        one->setCheckable(true);
        connect(one, &QAction::toggled, this, apply);
        return one;
    };
    fold(tr("Fold the timeline away"), Qt::Key_F8, &MainWindow::foldTimeline, tr("hide lower panel more room"));
    fold(tr("Fold the cards away"), Qt::Key_F9, &MainWindow::foldCards, tr("hide right column panel more room"));
    fold(tr("Nothing but the ground"), Qt::Key_F11, &MainWindow::showGroundAlone, tr("full whole window zen maximise"));
    view->addSeparator();
    QMenu* colours = view->addMenu(tr("C&olours"));
    auto* group = new QActionGroup{this};
    const std::pair<QString, SchemeWish> wishes[] = {
        {tr("As the system"), SchemeWish::system}, {tr("Light"), SchemeWish::light}, {tr("Dark"), SchemeWish::dark}};
    for (const auto& [text, wish] : wishes) {
        QAction* one = action(
            colours, text, {}, [this, wish = wish] { setScheme(wish); }, tr("theme colours night"));
        one->setCheckable(true);
        one->setChecked(schemeWish() == wish);
        group->addAction(one);
    }
}

void MainWindow::showGroundMenu(const QPoint& at)
{
    QMenu& menu = *makeMenu(this);
    const bool any = !selection_.pieces().empty();
    const bool several = selection_.pieces().size() > 1;
    QMenu* captions = nullptr;
    for (const std::int32_t said : sim::standingAt(stage_.record(), stage_.cursor()).captions) {
        const rules::Line& line = stage_.record().journal.lines[static_cast<std::size_t>(said)];
        if (line.until <= stage_.cursor() && line.tick != stage_.cursor())
            continue;
        if (!captions)
            captions = menu.addMenu(tr("Expect a caption"));
        addWishEntries(
            *captions->addMenu(
                toText(stage_.record().journal.textOf(line)).replace(QLatin1Char('&'), QStringLiteral("&&"))),
            this, stage_, said, [this](scene::Expectation wanted) {
                say(tr("Expected: %1").arg(toText(words::expectationText(wanted))));
                addExpectation(document_, std::move(wanted));
            });
    }
    if (captions)
        menu.addSeparator();
    const std::string led = selection_.piece();
    const scene::Piece* driven = scene::findPiece(document_.scene(), led);
    if (driven && std::holds_alternative<scene::DrivenBody>(driven->body)) {
        geometry::Vec to = ground_->transform().toScene(QPointF{ground_->mapFromGlobal(at)});
        if (driven->pinned)
            to -= viewFrame(document_.scene(), stage_.record(), stage_.cursor()).low;
        menu.addAction(
            tr("Lead %1 here at %2 s").arg(toText(led)).arg(stage_.cursorSeconds(), 0, 'f', 2), this, [this, led, to] {
                document_.setTake(tr("Lead %1 there").arg(toText(led)), ledTo(document_.take(), stage_, led, to));
            });
        menu.addSeparator();
    }
    menu.addAction(tr("Draw a thread from here"), this, [this] { ground_->setTool(ToolKind::thread); })
        ->setEnabled(any);
    menu.addSeparator();
    menu.addAction(tr("Cut"), this, [this] { editing_.cut(); })->setEnabled(any);
    menu.addAction(tr("Copy"), this, [this] { editing_.copy(); })->setEnabled(any);
    menu.addAction(tr("Paste here"), this, [this] { editing_.paste(true); });
    menu.addAction(tr("Duplicate"), this, [this] { editing_.duplicateSelection(); })->setEnabled(any);
    menu.addAction(tr("Delete"), this, [this] { editing_.deleteSelection(); })->setEnabled(any);
    menu.addSeparator();
    menu.addAction(tr("Make a template"), this, [this] { editing_.makeTemplate(); })->setEnabled(any && !several);
    const bool isPart = std::ranges::any_of(selection_.pieces(), [this](const std::string& id) {
        const scene::Piece* piece = scene::findPiece(document_.scene(), id);
        return piece && piece->partOf;
    });
    menu.addAction(tr("Make an assembly"), this, [this] { editing_.makeAssembly(); })->setEnabled(any && !isPart);
    if (isPart) {
        menu.addAction(tr("Make all assemblies like this one"), this, [this] { editing_.makeAssembliesAlike(); });
        menu.addAction(tr("Dissolve the assembly"), this, [this] { editing_.dissolveAssembly(); });
    }
    menu.addAction(tr("Raise"), this, [this] { editing_.restackSelection(1, false); })->setEnabled(any);
    menu.addAction(tr("Lower"), this, [this] { editing_.restackSelection(-1, false); })->setEnabled(any);
    menu.addAction(tr("Lock"), this, [this] { ground_->lock(selection_.pieces()); })->setEnabled(any);
    menu.addAction(tr("Hide while editing"), this, [this] { ground_->veil(selection_.pieces()); })->setEnabled(any);
    if (several) {
        QMenu* align = menu.addMenu(tr("Align"));
        const std::pair<QString, Side> sides[] = {{tr("Left edges"), Side::left},
                                                  {tr("Right edges"), Side::right},
                                                  {tr("Upper edges"), Side::top},
                                                  {tr("Lower edges"), Side::bottom}};
        for (const auto& [text, side] : sides)
            align->addAction(text, this, [this, side = side] { editing_.alignSelection(side); });
    }
    menu.addSeparator();
    menu.addAction(tr("Lay a solid"), this, [this] { ground_->setTool(ToolKind::solid); });
    menu.addAction(tr("Lay a zone"), this, [this] { ground_->setTool(ToolKind::zone); });
    menu.addAction(tr("Lay a line"), this, [this] { ground_->setTool(ToolKind::line); });
    menu.addAction(tr("Whole scene"), ground_, &GroundView::showWholeScene);
    menu.popup(at);
}

void MainWindow::openFinder()
{
    app::openFinder(shelf_, commandsOf(menuBar()->actions()), document_, here_->fields(),
                    [this](const Found& found) { goTo(found); });
}

void MainWindow::showShortcuts()
{
    (new KeySheet{*menuBar(), this})->open();
}

void MainWindow::showSettings()
{
    (new SettingsPage{commandsOf(menuBar()->actions()), [this](SchemeWish wish) { setScheme(wish); }, this})->open();
}

void MainWindow::showHelp(const QString& topic)
{
    if (!help_)
        help_ = new HelpWindow{*menuBar(), this};
    help_->show();
    help_->raise();
    help_->activateWindow();
    if (!topic.isEmpty())
        help_->showTopic(topic);
}

/// What the focus is on; on the ground, what is chosen.
void MainWindow::helpHere()
{
    const QWidget* focus = QApplication::focusWidget();
    if (focus == ground_ && !selection_.snare().empty())
        if (const scene::Snare* snare = snareOf(document_.scene(), keyOf(selection_.snare())))
            return showHelp(QStringLiteral("events#") +
                            toText(scene::wordFor(snare->catches.event.items.front()).word));
    if (focus == ground_ && !selection_.piece().empty())
        if (const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.piece()))
            return showHelp(QStringLiteral("pieces#") + toText(scene::kindOf(piece->body)));
    const QString topic = helpTopicOf(focus);
    showHelp(topic.isEmpty() ? QStringLiteral("guide") : topic);
}

void MainWindow::showAbout()
{
    auto* box = new QMessageBox{this};
    box->setObjectName(QStringLiteral("about"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setWindowTitle(tr("About Fresh Snare"));
    box->setIconPixmap(windowIcon().pixmap(64, 64));
    box->setText(tr("<b>Fresh Snare %1</b>").arg(QCoreApplication::applicationVersion()));
    box->setInformativeText(
        tr("Lay shapes and zones, bind events to responses, and see why they come.\n\n"
           "The application is free software under the GNU General Public License, version 3 or later. Its sources "
           "are under the Apache License 2.0, so that the core can be linked into games.\n\nIt runs with Qt %1.")
            .arg(QLatin1String(qVersion())));
    box->setStandardButtons(QMessageBox::Close);
    box->open();
}

} // namespace snare::app
