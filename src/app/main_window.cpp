// SPDX-License-Identifier: Apache-2.0
#include "app/main_window.h"

#include "app/card_list.h"
#include "app/contacts_panel.h"
#include "app/finder.h"
#include "app/ground_view.h"
#include "app/moment_panel.h"
#include "app/pieces_panel.h"
#include "app/slot_popup.h"
#include "app/source_shelf.h"
#include "app/theme.h"
#include "app/thread_popup.h"
#include "app/timeline_view.h"
#include "app/transport_bar.h"
#include "app/words.h"

#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QPainter>
#include <QScreen>
#include <QSettings>
#include <QSplitter>
#include <QStatusBar>
#include <QTabWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace snare::app {

namespace {

constexpr int mostRecent = 8;

QString fileFilter()
{
    return MainWindow::tr("Scenes (*.snare.json);;All files (*)");
}

} // namespace

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), stage_(document_)
{
    setObjectName(QStringLiteral("mainWindow"));
    resize(1280, 800);
    buildCentre();
    buildMenus();
    buildRunMenu();
    statusBar()->setSizeGripEnabled(false);
    connect(&document_, &Document::changed, this, [this] {
        std::vector<std::string> kept = selection_.pieces();
        std::erase_if(kept, [&](const std::string& id) { return !scene::findPiece(document_.scene(), id); });
        if (kept.size() != selection_.pieces().size())
            selection_.choosePieces(std::move(kept));
        refreshTitle();
    });
    connect(&document_, &Document::replaced, this, [this] {
        selection_.clear();
        timeline_->showAll();
    });
    connect(&document_, &Document::pathChanged, this, &MainWindow::refreshTitle);
    connect(&document_, &Document::dirtyChanged, this, &MainWindow::refreshTitle);
    connect(&document_, &Document::problem, this, &MainWindow::tellProblem);
    connect(ground_, &GroundView::hint, this, [this](const QString& text) { statusBar()->showMessage(text); });
    connect(timeline_, &TimelineView::hint, this, [this](const QString& text) { statusBar()->showMessage(text); });
    connect(ground_, &GroundView::threadDrawn, this, &MainWindow::offerThread);
    connect(ground_, &GroundView::contextMenuWanted, this, &MainWindow::showGroundMenu);
    connect(moment_, &MomentPanel::snareChosen, this, &MainWindow::chooseSnare);
    connect(timeline_, &TimelineView::snareChosen, this, &MainWindow::chooseSnare);
    connect(pieces_, &PiecesPanel::showWanted, ground_, &GroundView::showSelection);
    connect(timeline_, &TimelineView::pieceChosen, this,
            [this](const QString& id) { selection_.choosePiece(id.toStdString()); });
    connect(transport_, &TransportBar::recordPressed, this, &MainWindow::toggleRecording);
    restoreLayout();
    refreshTitle();
    refreshRecent();
    ground_->setTool(ToolKind::select);
}

MainWindow::~MainWindow()
{
    // The views use the document, the stage and the selection, which are members and go before the base class's
    // children. What they say while they go has no listener any more.
    document_.disconnect(this);
    stage_.disconnect(this);
    selection_.disconnect(this);
    delete takeCentralWidget();
}

// --- layout --------------------------------------------------------------------------------------------------------

void MainWindow::buildCentre()
{
    ground_ = new GroundView{document_, stage_, selection_};
    shelf_ = new SourceShelf{document_, stage_};
    transport_ = new TransportBar{document_, stage_};
    timeline_ = new TimelineView{stage_, selection_};
    here_ = new HerePanel{document_, stage_, selection_};
    book_ = new BookPanel{document_, stage_, selection_};
    pieces_ = new PiecesPanel{document_, selection_};
    contacts_ = new ContactsPanel{document_};
    moment_ = new MomentPanel{stage_, selection_};

    auto* tools = new QWidget;
    tools->setFixedWidth(46);
    tools->setAutoFillBackground(true);
    QPalette colours = tools->palette();
    colours.setColor(QPalette::Window, theme().panelDeep);
    tools->setPalette(colours);
    buildTools(tools);

    auto* upper = new QWidget;
    auto* upperLayout = new QVBoxLayout{upper};
    upperLayout->setContentsMargins(0, 0, 0, 0);
    upperLayout->setSpacing(0);
    upperLayout->addWidget(shelf_);
    problemBar_ = new QWidget;
    problemBar_->setObjectName(QStringLiteral("problemBar"));
    problemBar_->setStyleSheet(QStringLiteral("#problemBar { background: %1; }").arg(QColor(0xF7, 0xE3, 0xD9).name()));
    auto* problemLayout = new QHBoxLayout{problemBar_};
    problem_ = new QLabel;
    problem_->setWordWrap(true);
    problem_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    problemLayout->addWidget(problem_, 1);
    auto* dismiss = new QToolButton;
    dismiss->setText(tr("Close"));
    dismiss->setAutoRaise(true);
    connect(dismiss, &QToolButton::clicked, problemBar_, &QWidget::hide);
    problemLayout->addWidget(dismiss, 0, Qt::AlignTop);
    problemBar_->hide();
    upperLayout->addWidget(problemBar_);
    upperLayout->addWidget(ground_, 1);

    auto* lower = new QWidget;
    auto* lowerLayout = new QVBoxLayout{lower};
    lowerLayout->setContentsMargins(0, 0, 0, 0);
    lowerLayout->setSpacing(0);
    lowerLayout->addWidget(transport_);
    lowerLayout->addWidget(timeline_, 1);

    left_ = new QSplitter{Qt::Vertical};
    left_->addWidget(upper);
    left_->addWidget(lower);
    left_->setStretchFactor(0, 3);
    left_->setStretchFactor(1, 2);
    left_->setChildrenCollapsible(false);
    left_->setHandleWidth(2);

    tabs_ = new QTabWidget;
    tabs_->setDocumentMode(true);
    tabs_->addTab(here_, tr("Here"));
    tabs_->addTab(book_, tr("Book"));
    tabs_->addTab(pieces_, tr("Pieces"));
    tabs_->addTab(contacts_, tr("Contacts"));
    connect(tabs_, &QTabWidget::currentChanged, this, [this] {
        if (tabs_->currentWidget() == book_)
            book_->refresh();
        if (tabs_->currentWidget() == pieces_)
            pieces_->refresh();
        if (tabs_->currentWidget() == contacts_)
            contacts_->refresh();
    });
    right_ = new QSplitter{Qt::Vertical};
    right_->addWidget(tabs_);
    right_->addWidget(moment_);
    right_->setStretchFactor(0, 4);
    right_->setStretchFactor(1, 1);
    right_->setChildrenCollapsible(false);
    right_->setHandleWidth(2);

    auto* main = new QWidget;
    auto* mainLayout = new QHBoxLayout{main};
    mainLayout->setContentsMargins(0, 0, 0, 0);
    mainLayout->setSpacing(0);
    across_ = new QSplitter{Qt::Horizontal};
    across_->addWidget(left_);
    across_->addWidget(right_);
    across_->setStretchFactor(0, 1);
    across_->setStretchFactor(1, 0);
    across_->setChildrenCollapsible(false);
    across_->setHandleWidth(1);
    right_->setMinimumWidth(300);
    mainLayout->addWidget(tools);
    mainLayout->addWidget(across_, 1);
    setCentralWidget(main);
    across_->setSizes({1234 - 380, 380});
    left_->setSizes({440, 330});
    right_->setSizes({560, 190});
}

void MainWindow::buildTools(QWidget* column)
{
    auto* layout = new QVBoxLayout{column};
    layout->setContentsMargins(5, 8, 5, 8);
    layout->setSpacing(6);
    struct ToolWord {
        ToolKind kind;
        const char* icon;
        QString tip;
        QString key;
    };
    const ToolWord words[] = {
        {ToolKind::select, "select", tr("Select (V)"), QStringLiteral("V")},
        {ToolKind::solid, "solid", tr("Solid (S): stops other solids; again for a circle"), QStringLiteral("S")},
        {ToolKind::zone, "zone", tr("Zone (Z): senses who comes in; again for a circle"), QStringLiteral("Z")},
        {ToolKind::thread, "thread", tr("Thread (T): this happens there, so that acts"), QStringLiteral("T")}};
    for (const ToolWord& word : words) {
        auto* tool = new QToolButton{column};
        tool->setObjectName(QStringLiteral("tool ") + QLatin1String(word.icon));
        tool->setIcon(icon(QLatin1String(word.icon)));
        tool->setIconSize({22, 22});
        tool->setToolTip(word.tip);
        tool->setAccessibleName(word.tip);
        tool->setCheckable(true);
        tool->setFixedSize(36, 36);
        tool->setFocusPolicy(Qt::TabFocus);
        tool->setStyleSheet(
            QStringLiteral("QToolButton { border: none; border-radius: 6px; } QToolButton:hover { background: %1; }"
                           "QToolButton:checked { background: %2; } QToolButton:focus { border: 1px dotted %3; }")
                .arg(theme().hairline.name(), theme().ink.name(), theme().mint.name()));
        const auto take = [this, kind = word.kind] {
            if (ground_->tool() == kind && (kind == ToolKind::solid || kind == ToolKind::zone))
                ground_->cycleShapeKind();
            else
                ground_->setTool(kind);
        };
        connect(tool, &QToolButton::clicked, this, take);
        auto* key = new QAction{word.tip, this};
        key->setShortcut(QKeySequence{word.key});
        connect(key, &QAction::triggered, this, take);
        addAction(key);
        layout->addWidget(tool);
        tools_.push_back(tool);
    }
    layout->addStretch(1);
    connect(ground_, &GroundView::toolChanged, this, [this] {
        for (std::size_t i = 0; i < tools_.size(); ++i) {
            const auto kind = static_cast<ToolKind>(i);
            tools_[i]->setChecked(ground_->tool() == kind);
            const bool draws = kind == ToolKind::solid || kind == ToolKind::zone;
            const bool circle = draws && ground_->tool() == kind && ground_->drawsCircles();
            constexpr const char* names[] = {"select", "solid", "zone", "thread"};
            tools_[i]->setIcon(icon(QLatin1String(names[i]) + (circle ? QStringLiteral("-circle") : QString())));
        }
    });
}

QAction* MainWindow::action(QMenu* menu, const QString& text, const QKeySequence& keys,
                            const std::function<void()>& act)
{
    QAction* result = menu->addAction(text);
    result->setShortcut(keys);
    if (act)
        connect(result, &QAction::triggered, this, act);
    return result;
}

void MainWindow::buildMenus()
{
    QMenu* file = menuBar()->addMenu(tr("&Scene"));
    action(file, tr("&New"), QKeySequence::New, [this] { newScene(); });
    action(file, tr("&Open…"), QKeySequence::Open, [this] { open(); });
    recent_ = file->addMenu(tr("Open &recent"));
    recent_->menuAction()->setProperty("noCommand", true);
    file->addSeparator();
    action(file, tr("&Save"), QKeySequence::Save, [this] { save(); });
    action(file, tr("Save &as…"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_S}, [this] { saveAs(); });
    file->addSeparator();
    action(file, tr("&Quit"), QKeySequence{Qt::CTRL | Qt::Key_Q}, [this] { close(); });

    QMenu* editMenu = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = document_.undoStack()->createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    editMenu->addAction(undo);
    QAction* redo = document_.undoStack()->createRedoAction(this, tr("&Redo"));
    redo->setShortcuts({QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_Z}, QKeySequence{Qt::CTRL | Qt::Key_Y}});
    editMenu->addAction(redo);
    editMenu->addSeparator();
    action(editMenu, tr("&Duplicate"), QKeySequence{Qt::CTRL | Qt::Key_D}, [this] { duplicateSelection(); });
    action(editMenu, tr("De&lete"), QKeySequence::Delete, [this] { deleteSelection(); });
    action(editMenu, tr("Select &all"), QKeySequence::SelectAll, [this] {
        std::vector<std::string> all;
        for (const scene::Piece& piece : document_.scene().pieces)
            all.push_back(piece.id);
        selection_.choosePieces(std::move(all));
    });

    QMenu* lay = menuBar()->addMenu(tr("&Lay"));
    const std::pair<QString, ToolKind> kinds[] = {{tr("Select\tV"), ToolKind::select},
                                                  {tr("Solid\tS"), ToolKind::solid},
                                                  {tr("Zone\tZ"), ToolKind::zone},
                                                  {tr("Thread\tT"), ToolKind::thread}};
    for (const auto& [text, kind] : kinds)
        action(lay, text, {}, [this, kind = kind] { ground_->setTool(kind); });

    QMenu* view = menuBar()->addMenu(tr("&View"));
    QAction* threads = action(view, tr("All &threads"), QKeySequence{Qt::SHIFT | Qt::Key_T}, {});
    threads->setCheckable(true);
    connect(threads, &QAction::toggled, this, [this](bool on) {
        ground_->options().allThreads = on;
        ground_->update();
    });
    QAction* clean = action(view, tr("&Clean view"), QKeySequence{Qt::SHIFT | Qt::Key_C}, {});
    clean->setCheckable(true);
    connect(clean, &QAction::toggled, this, [this](bool on) {
        ground_->options().clean = on;
        ground_->update();
    });
    view->addSeparator();
    action(view, tr("&Whole scene"), QKeySequence{Qt::CTRL | Qt::Key_0}, [this] { ground_->showWholeScene(); });
    action(view, tr("&Selection"), QKeySequence{Qt::CTRL | Qt::Key_8}, [this] { ground_->showSelection(); });
    action(view, tr("Zoom &in"), QKeySequence::ZoomIn, [this] { ground_->zoom(1.25, ground_->rect().center()); });
    action(view, tr("Zoom &out"), QKeySequence::ZoomOut, [this] { ground_->zoom(0.8, ground_->rect().center()); });
    action(view, tr("Whole ta&ke"), QKeySequence{Qt::CTRL | Qt::Key_9}, [this] { timeline_->showAll(); });

    view->addSeparator();
    for (int tab = 0; tab < tabs_->count(); ++tab)
        action(view, tr("Show %1").arg(tabs_->tabText(tab).section(QLatin1Char(' '), 0, 0)),
               QKeySequence{Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + tab)},
               [this, tab] { tabs_->setCurrentIndex(tab); });

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    action(help, tr("&Find anything…"), QKeySequence{Qt::CTRL | Qt::Key_K}, [this] { openFinder(); });
    action(help, tr("&Keys…"), QKeySequence{Qt::Key_F1}, [this] { showShortcuts(); });

    auto* corner = new QWidget;
    auto* cornerLayout = new QHBoxLayout{corner};
    cornerLayout->setContentsMargins(0, 0, 14, 0);
    name_ = new QLabel;
    name_->setObjectName(QStringLiteral("documentName"));
    cornerLayout->addWidget(name_);
    menuBar()->setCornerWidget(corner);
}

void MainWindow::buildRunMenu()
{
    auto* run = new QMenu{tr("&Run"), this};
    menuBar()->insertMenu(menuBar()->actions().at(menuBar()->actions().size() - 2), run);
    action(run, tr("&Record by hand"), QKeySequence{Qt::Key_R}, [this] { toggleRecording(); });
    action(run, tr("&Play or pause"), QKeySequence{Qt::Key_Space}, [this] {
        if (stage_.mode() == Stage::Mode::playing)
            stage_.pause();
        else
            stage_.play();
    });
    run->addSeparator();
    action(run, tr("One tick &back"), QKeySequence{Qt::Key_Comma}, [this] { stage_.stepBy(-1); });
    action(run, tr("One tick &on"), QKeySequence{Qt::Key_Period}, [this] { stage_.stepBy(1); });
    action(run, tr("To the &start"), QKeySequence{Qt::Key_Home}, [this] { stage_.setCursor(0); });
    action(run, tr("To the &end"), QKeySequence{Qt::Key_End}, [this] { stage_.setCursor(stage_.record().lastTick()); });
}

void MainWindow::restoreLayout()
{
    const QSettings settings;
    if (settings.contains(QStringLiteral("geometry")))
        restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
    across_->restoreState(settings.value(QStringLiteral("across")).toByteArray());
    left_->restoreState(settings.value(QStringLiteral("left")).toByteArray());
    right_->restoreState(settings.value(QStringLiteral("right")).toByteArray());
}

// --- files ---------------------------------------------------------------------------------------------------------

void MainWindow::refreshTitle()
{
    const QString state = document_.filePath().isEmpty() && !document_.isDirty() ? tr("new")
                          : document_.isDirty()                                  ? tr("not saved")
                                                                                 : tr("saved");
    name_->setText(QStringLiteral("<b>%1</b> <span style='color:%2'>· %3</span>")
                       .arg(document_.title().toHtmlEscaped(), theme().inkSoft.name(), state));
    name_->parentWidget()->adjustSize();
    menuBar()->setCornerWidget(name_->parentWidget()); // takes its new width
    setWindowTitle(tr("%1[*] – Fresh Snare").arg(document_.title()));
    setWindowModified(document_.isDirty());
    tabs_->setTabText(1, tr("Book %1").arg(document_.scene().snares.size()));
}

void MainWindow::tellProblem(const QString& text)
{
    problem_->setText(text);
    problemBar_->show();
}

QString MainWindow::shownProblem() const
{
    return problemBar_->isHidden() ? QString() : problem_->text();
}

bool MainWindow::mayDiscard()
{
    stage_.stop();
    if (!document_.isDirty())
        return true;
    QMessageBox box{QMessageBox::NoIcon, tr("Fresh Snare"), tr("Save the changes to %1?").arg(document_.title()),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this};
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

void MainWindow::newScene()
{
    if (!mayDiscard())
        return;
    problemBar_->hide();
    document_.startNew();
}

void MainWindow::open()
{
    if (!mayDiscard())
        return;
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a scene"),
                                                      QFileInfo(document_.filePath()).absolutePath(), fileFilter());
    if (!path.isEmpty())
        openFile(path);
}

bool MainWindow::openFile(const QString& path)
{
    problemBar_->hide();
    stage_.stop();
    if (!document_.open(path))
        return false;
    rememberFile(document_.filePath());
    refreshTitle();
    return true;
}

void MainWindow::openLastOr(const QString& fallback)
{
    const QString last = QSettings().value(QStringLiteral("lastFile")).toString();
    if (!last.isEmpty() && QFileInfo::exists(last) && openFile(last))
        return;
    if (!fallback.isEmpty())
        openFile(fallback);
}

bool MainWindow::save()
{
    if (document_.filePath().isEmpty())
        return saveAs();
    problemBar_->hide();
    return document_.save(document_.filePath());
}

bool MainWindow::saveAs()
{
    QString path = QFileDialog::getSaveFileName(this, tr("Save the scene"), document_.filePath(), fileFilter());
    if (path.isEmpty())
        return false;
    if (!path.endsWith(QLatin1String(".json")))
        path += QLatin1String(".snare.json");
    problemBar_->hide();
    if (!document_.save(path))
        return false;
    rememberFile(document_.filePath());
    return true;
}

void MainWindow::rememberFile(const QString& path)
{
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue(QStringLiteral("recent"), recent.mid(0, mostRecent));
    settings.setValue(QStringLiteral("lastFile"), path);
    refreshRecent();
}

void MainWindow::refreshRecent()
{
    recent_->clear();
    for (const QString& path : QSettings().value(QStringLiteral("recent")).toStringList())
        connect(recent_->addAction(path), &QAction::triggered, this, [this, path] {
            if (mayDiscard())
                openFile(path);
        });
    recent_->setEnabled(!recent_->isEmpty());
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (!mayDiscard()) {
        event->ignore();
        return;
    }
    QSettings settings;
    settings.setValue(QStringLiteral("geometry"), saveGeometry());
    settings.setValue(QStringLiteral("across"), across_->saveState());
    settings.setValue(QStringLiteral("left"), left_->saveState());
    settings.setValue(QStringLiteral("right"), right_->saveState());
    event->accept();
}

void MainWindow::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::ActivationChange && !isActiveWindow())
        stage_.letGoOfAllKeys(); // P7
    QMainWindow::changeEvent(event);
}

// --- work ----------------------------------------------------------------------------------------------------------

void MainWindow::toggleRecording()
{
    if (stage_.mode() == Stage::Mode::recording) {
        stage_.stop();
        return;
    }
    stage_.startRecording();
    ground_->setFocus();
    statusBar()->showMessage(tr("Play with the keys. Esc stops and keeps what you did as the take."));
}

void MainWindow::offerThread(std::size_t from, std::size_t shape, std::size_t to, const QPoint& at)
{
    auto* popup = new ThreadPopup{document_.scene(),
                                  from,
                                  shape,
                                  to,
                                  [this](scene::Snare snare) {
                                      const std::string id = snare.id;
                                      const std::string piece = snare.catches.at;
                                      document_.edit(tr("Bind %1").arg(toText(id)), [&](scene::Scene& scene) {
                                          scene.snares.push_back(std::move(snare));
                                      });
                                      selection_.chooseSnare(id, piece);
                                      tabs_->setCurrentWidget(here_);
                                      ground_->setTool(ToolKind::select);
                                  },
                                  this};
    popup->adjustSize();
    const QRect room = screen()->availableGeometry();
    popup->move(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - popup->width())),
                std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - popup->height())));
    popup->show();
}

void MainWindow::showGroundMenu(const QPoint& at)
{
    QMenu menu{this};
    const bool any = !selection_.pieces().empty();
    menu.addAction(tr("Draw a thread from here"), this, [this] { ground_->setTool(ToolKind::thread); });
    menu.addSeparator();
    menu.addAction(tr("Duplicate"), this, &MainWindow::duplicateSelection)->setEnabled(any);
    menu.addAction(tr("Delete"), this, &MainWindow::deleteSelection)->setEnabled(any);
    menu.addSeparator();
    menu.addAction(tr("Lay a solid"), this, [this] { ground_->setTool(ToolKind::solid); });
    menu.addAction(tr("Lay a zone"), this, [this] { ground_->setTool(ToolKind::zone); });
    menu.addAction(tr("Whole scene"), ground_, &GroundView::showWholeScene);
    menu.exec(at);
}

void MainWindow::chooseSnare(const QString& id)
{
    const scene::Snare* snare = scene::findSnare(document_.scene(), id.toStdString());
    if (!snare)
        return;
    const bool atPiece = scene::findPiece(document_.scene(), snare->catches.at) != nullptr;
    if (!atPiece)
        selection_.clear();
    selection_.chooseSnare(snare->id, atPiece ? snare->catches.at : std::string());
}

void MainWindow::openFinder()
{
    app::openFinder(shelf_, commandsOf(menuBar()->actions()), document_.scene(), [this](const Found& found) {
        switch (found.kind) {
        case Found::Kind::command:
            found.command->trigger();
            break;
        case Found::Kind::piece:
            selection_.choosePiece(found.name.toStdString());
            ground_->showSelection();
            break;
        case Found::Kind::snare:
            chooseSnare(found.name);
            tabs_->setCurrentWidget(selection_.pieces().empty() ? static_cast<QWidget*>(book_) : here_);
            break;
        case Found::Kind::signal: // the first snare that hears it
            for (const scene::Snare& snare : document_.scene().snares)
                if (snare.catches.signal == found.name.toStdString()) {
                    chooseSnare(toText(snare.id));
                    tabs_->setCurrentWidget(book_);
                    break;
                }
            break;
        }
    });
}

/// Every command that has a key, to look up; choosing one does it.
void MainWindow::showShortcuts()
{
    Question question;
    question.title = tr("Keys");
    question.placeholder = tr("type to find");
    std::vector<QAction*> listed;
    for (QAction* command : commandsOf(menuBar()->actions()) + actions()) {
        if (command->shortcut().isEmpty())
            continue;
        question.choices.push_back({QString::number(listed.size()),
                                    command->shortcut().toString(QKeySequence::NativeText),
                                    QString(command->text()).remove(QLatin1Char('&')),
                                    {}});
        listed.push_back(command);
    }
    SlotPopup::ask(shelf_, question, [listed](const QStringList& answer) {
        listed[static_cast<std::size_t>(answer.front().toInt())]->trigger();
    });
}

/// Deletes at once what nothing mentions; else says first what listens and acts there.
void MainWindow::deletePieces(const std::vector<std::string>& pieces)
{
    const QString name = pieces.size() == 1 ? tr("Delete %1").arg(toText(pieces.front()))
                                            : tr("Delete %1").arg(countedPieces(pieces.size()));
    const auto remove = [this, pieces, name] {
        document_.edit(name, [&](scene::Scene& scene) {
            std::erase_if(scene.pieces, [&](const scene::Piece& piece) {
                return std::ranges::find(pieces, piece.id) != pieces.end();
            });
        });
    };
    const QString left = whatMentions(document_.scene(), pieces);
    if (left.isEmpty())
        return remove();
    Question question;
    question.title = tr("%1? %2.").arg(name, left);
    question.choices = {{QStringLiteral("delete"), tr("Delete"), tr("the snares stay and say what they lack"), {}},
                        {QStringLiteral("keep"), tr("Keep"), {}, {}}};
    SlotPopup::ask(shelf_, question, [remove](const QStringList& answer) {
        if (answer.front() == QLatin1String("delete"))
            remove();
    });
}

void MainWindow::deleteSelection()
{
    const std::vector<std::string> chosen = selection_.pieces();
    if (!selection_.snare().empty() && chosen.size() <= 1) {
        const std::string snare = selection_.snare();
        document_.edit(tr("Delete snare %1").arg(toText(snare)), [&](scene::Scene& scene) {
            std::erase_if(scene.snares, [&](const scene::Snare& one) { return one.id == snare; });
        });
        if (!chosen.empty())
            selection_.choosePiece(chosen.front());
        return;
    }
    if (chosen.empty())
        return;
    deletePieces(chosen);
}

void MainWindow::duplicateSelection()
{
    if (selection_.pieces().empty())
        return;
    std::vector<std::string> made;
    document_.edit(tr("Duplicate"), [&](scene::Scene& scene) {
        for (const std::string& id : selection_.pieces()) {
            const scene::Piece* piece = scene::findPiece(scene, id);
            if (!piece)
                continue;
            scene::Piece copy = *piece;
            copy.id = scene::freeId(scene, id);
            copy.at += scene::Vec{0.5, -0.5};
            made.push_back(copy.id);
            scene.pieces.push_back(std::move(copy));
        }
    });
    selection_.choosePieces(std::move(made));
}

} // namespace snare::app
