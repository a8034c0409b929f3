// SPDX-License-Identifier: Apache-2.0
#include "app/window/main_window.h"

#include "app/cards/book_panel.h"
#include "app/cards/here_panel.h"
#include "app/cards/stock_panel.h"
#include "app/ground/ground_play.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_view.h"
#include "app/model/scene_keys.h"
#include "app/panels/contacts_panel.h"
#include "app/panels/desk_panel.h"
#include "app/panels/findings_panel.h"
#include "app/panels/first_hint.h"
#include "app/panels/pieces_panel.h"
#include "app/panels/source_shelf.h"
#include "app/panels/view_question.h"
#include "app/slots/slot_fill.h"
#include "app/timeline/flow_view.h"
#include "app/timeline/ledger_view.h"
#include "app/timeline/moment_panel.h"
#include "app/timeline/timeline_view.h"
#include "app/panels/takes_panel.h"
#include "app/timeline/transport_bar.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QScreen>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QStatusBar>
#include <QTabWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include <utility>

namespace snare::app {

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), stage_(document_), rescue_(document_), editing_(document_, selection_), scouting_(document_),
      sounds_(document_, stage_)
{
    setObjectName(QStringLiteral("mainWindow"));
    resize(1280, 800);
    buildCentre();
    buildMenus();
    tellKeysOfTools();
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
        ground_->unlockAndShowAll();
        timeline_->showAll();
    });
    connect(&document_, &Document::pathChanged, this, &MainWindow::refreshTitle);
    connect(&document_, &Document::dirtyChanged, this, &MainWindow::refreshTitle);
    connect(&document_, &Document::showWanted, this, &MainWindow::showUse);
    connect(&document_, &Document::problem, this, [this](const QString& text) { tellProblem(text); });
    connect(&document_, &Document::changedOutside, this, &MainWindow::tellChangedOutside);
    connect(&editing_, &Editing::said, this, &MainWindow::say);
    restoreLayout();
    refreshTitle();
    refreshRecent();
    ground_->setTool(ToolKind::select);
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, [this] {
        refreshTitle();
        refreshTools();
    });
}

MainWindow::~MainWindow()
{
    // The views use the document, the stage and the selection, which are members and go before the
    // base class's children. What they say while they go has no listener any more.
    document_.disconnect(this);
    stage_.disconnect(this);
    selection_.disconnect(this);
    delete takeCentralWidget();
}

// --- layout --------------------------------------------------------------------------------------------------------

QWidget* MainWindow::buildUpper()
{
    upper_ = new QWidget;
    auto* layout = new QVBoxLayout{upper_};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(shelf_);
    if (FirstHint::isWanted())
        showFirstSteps();
    problemBar_ = new QWidget;
    problemBar_->setObjectName(QStringLiteral("problemBar"));
    dress(problemBar_, [] { return QStringLiteral("#problemBar { background: %1; }").arg(theme().warning.name()); });
    auto* bar = new QHBoxLayout{problemBar_};
    problem_ = new QLabel;
    problem_->setWordWrap(true);
    problem_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    bar->addWidget(problem_, 1);
    problemOffer_ = new QToolButton;
    problemOffer_->setObjectName(QStringLiteral("problemOffer"));
    connect(problemOffer_, &QToolButton::clicked, this, [this] {
        problemBar_->hide();
        if (const auto accept = std::exchange(problemAccept_, nullptr))
            accept();
    });
    bar->addWidget(problemOffer_, 0, Qt::AlignTop);
    auto* dismiss = new QToolButton;
    dismiss->setText(tr("Close"));
    dismiss->setAutoRaise(true);
    connect(dismiss, &QToolButton::clicked, problemBar_, &QWidget::hide);
    bar->addWidget(dismiss, 0, Qt::AlignTop);
    problemBar_->hide();
    layout->addWidget(problemBar_);
    layout->addWidget(ground_, 1);
    return upper_;
}

QWidget* MainWindow::buildLower()
{
    auto* lower = new QWidget;
    auto* layout = new QVBoxLayout{lower};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(transport_);
    below_ = new QStackedWidget;
    below_->addWidget(timeline_);
    below_->addWidget(ledger_);
    below_->addWidget(flow_);
    below_->addWidget(takes_);
    layout->addWidget(below_, 1);
    return lower;
}

void MainWindow::buildCentre()
{
    ground_ = new GroundView{document_, stage_, selection_};
    editing_.setGround(ground_);
    viewQuestion_ = new ViewQuestion{document_, ground_};
    connect(viewQuestion_, &ViewQuestion::examplesWanted, this, &MainWindow::showExamples);
    shelf_ = new SourceShelf{document_, stage_};
    transport_ = new TransportBar{document_, stage_};
    timeline_ = new TimelineView{document_, stage_, selection_};
    ledger_ = new LedgerView{stage_};
    flow_ = new FlowView{document_, stage_, selection_};
    takes_ = new TakesPanel{document_, stage_};
    here_ = new HerePanel{document_, stage_, selection_};
    book_ = new BookPanel{document_, stage_, selection_};
    pieces_ = new PiecesPanel{document_, selection_};
    stock_ = new StockPanel{document_, selection_};
    contacts_ = new ContactsPanel{document_};
    moment_ = new MomentPanel{stage_, selection_};

    auto* tools = new QWidget;
    tools->setFixedWidth(46);
    tools->setAutoFillBackground(true);
    onTheme(tools, [tools] { fillWith(tools, theme().panelDeep); });
    buildTools(tools);

    const auto splitter = [](Qt::Orientation way, QWidget* first, QWidget* second, int width) {
        auto* result = new QSplitter{way};
        result->addWidget(first);
        result->addWidget(second);
        result->setChildrenCollapsible(false);
        result->setHandleWidth(width);
        return result;
    };
    left_ = splitter(Qt::Vertical, buildUpper(), buildLower(), 2);
    left_->setStretchFactor(0, 3);
    left_->setStretchFactor(1, 2);

    buildTabs();
    right_ = splitter(Qt::Vertical, tabs_, moment_, 2);
    right_->setStretchFactor(0, 4);
    right_->setStretchFactor(1, 1);
    right_->setMinimumWidth(300);

    auto* main = new QWidget;
    auto* layout = new QHBoxLayout{main};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    across_ = splitter(Qt::Horizontal, left_, right_, 1);
    across_->setStretchFactor(0, 1);
    across_->setStretchFactor(1, 0);
    layout->addWidget(tools);
    layout->addWidget(across_, 1);
    setCentralWidget(main);
    across_->setSizes({1234 - 380, 380});
    left_->setSizes({440, 330});
    right_->setSizes({560, 190});
    connectViews();
}

void MainWindow::buildTabs()
{
    tabs_ = new QTabWidget;
    tabs_->setDocumentMode(true);
    tabs_->setElideMode(Qt::ElideNone);
    dress(tabs_, [] { // the strip behind the tabs, to its end
        return QStringLiteral("QTabWidget { background: %1; }").arg(theme().panelDeep.name());
    });
    tabs_->setAttribute(Qt::WA_StyledBackground);
    tabs_->addTab(here_, tr("Here"));
    tabs_->addTab(book_, tr("Book"));
    tabs_->addTab(pieces_, tr("Pieces"));
    tabs_->addTab(stock_, tr("Stock"));
    tabs_->addTab(contacts_, tr("Contacts"));
    foundPanel_ = new FindingsPanel{document_, stage_};
    tabs_->addTab(foundPanel_, tr("Findings"));
    desk_ = new DeskPanel{document_, stage_};
    tabs_->addTab(desk_, tr("Desk"));
    connect(tabs_, &QTabWidget::currentChanged, this, [this] {
        if (tabs_->currentWidget() == book_)
            book_->refresh();
        if (tabs_->currentWidget() == pieces_)
            pieces_->refresh();
        if (tabs_->currentWidget() == contacts_)
            contacts_->refresh();
        if (tabs_->currentWidget() == foundPanel_)
            foundPanel_->refresh();
        if (tabs_->currentWidget() == desk_)
            desk_->refresh();
    });
}

void MainWindow::connectViews()
{
    // What Shift+F1 tells about each, unless what has the focus knows better.
    const std::pair<QWidget*, const char*> topics[] = {
        {ground_, "guide#lay"},       {here_, "guide#a-new-scene"},     {book_, "guide#bind"},
        {timeline_, "guide#play"},    {ledger_, "guide#find-out-why"},  {flow_, "guide#flow"},
        {takes_, "guide#keep-it-right"}, {moment_, "guide#find-out-why"}, {stock_, "guide#stock"},
        {contacts_, "guide#pieces-contacts-names"}, {pieces_, "guide#pieces-contacts-names"},
        {desk_, "guide#the-desk"},    {shelf_, "guide#the-desk"},       {transport_, "guide#play"}};
    for (const auto& [widget, topic] : topics)
        widget->setProperty("help", QLatin1String(topic));
    connect(&stage_, &Stage::modeChanged, this, [this, wasRecording = false]() mutable {
        if (std::exchange(wasRecording, stage_.mode() == Stage::Mode::recording) && stage_.mode() == Stage::Mode::still)
            say(tr("What you did is the take now. Space plays it, undo brings the one before back."));
    });
    connect(ground_, &GroundView::hint, this, &MainWindow::say);
    connect(timeline_, &TimelineView::hint, this, &MainWindow::say);
    connect(ledger_, &LedgerView::said, this, &MainWindow::say);
    connect(ground_, &GroundView::threadDrawn, this,
            [this](std::size_t from, std::size_t shape, std::size_t to, const QPoint& at) {
                offerThread({from, shape, {}, {}}, to, at);
            });
    connect(ground_, &GroundView::threadClicked, this, &MainWindow::clickThread);
    connect(ground_, &GroundView::threadRetargeted, this, &MainWindow::retargetThread);
    connect(ground_, &GroundView::contextMenuWanted, this, &MainWindow::showGroundMenu);
    connect(ground_, &GroundView::toolChanged, this, &MainWindow::refreshTools);
    connect(shelf_, &SourceShelf::threadDragged, ground_,
            [this](const QPoint& from, const QPoint& to) { ground_->showLooseThread(from, to); });
    connect(shelf_, &SourceShelf::threadDropped, this, &MainWindow::dropSourceThread);
    connect(moment_, &MomentPanel::snareChosen, this, &MainWindow::chooseSnare);
    connect(timeline_, &TimelineView::snareChosen, this, &MainWindow::chooseSnare);
    connect(timeline_, &TimelineView::pieceChosen, this,
            [this](const QString& id) { selection_.choosePiece(id.toStdString()); });
    connect(pieces_, &PiecesPanel::showWanted, ground_, &GroundView::showSelection);
    connect(stock_, &StockPanel::layWanted, this, [this](const QString& name) {
        ground_->setTool(ToolKind::stamp);
        ground_->setStamp(name.toStdString());
        ground_->setFocus();
    });
    connect(foundPanel_, &FindingsPanel::placeWanted, this, &MainWindow::showPlace);
    connect(flow_, &FlowView::placeWanted, this, &MainWindow::showPlace);
    connect(flow_, &FlowView::saveWanted, this, &MainWindow::saveFlow);
    connect(takes_, &TakesPanel::failuresChanged, transport_, &TransportBar::setFailures);
    connect(takes_, &TakesPanel::openWanted, this, &MainWindow::openTake);
    connect(timeline_, &TimelineView::takesWanted, this, [this] { showView(3); });
    connect(ledger_, &LedgerView::menuWanted, this, &MainWindow::showExpectMenu);
    connect(moment_, &MomentPanel::menuWanted, this, &MainWindow::showExpectMenu);
    connect(foundPanel_, &FindingsPanel::snareWanted, this, [this](const QString& snare) {
        chooseSnare(snare);
        tabs_->setCurrentWidget(here_);
    });
    connect(&document_.findings(), &FindingsWatch::changed, this, &MainWindow::countFindings);
    connect(&stage_.coverage(), &CoverageWatch::changed, this, [this] {
        ground_->options().unvisited.clear();
        for (const scene::Piece& piece : document_.scene().pieces)
            if (stage_.coverage().isUnvisited(piece.id))
                ground_->options().unvisited.insert(piece.id);
        ground_->update();
    });
    connect(&stage_.variation(), &Variation::changed, timeline_->viewport(), qOverload<>(&QWidget::update));
    connect(stock_, &StockPanel::cardWanted, this, &MainWindow::showCard);
    connect(stock_, &StockPanel::hereWanted, this, [this] { tabs_->setCurrentWidget(here_); });
    connect(transport_, &TransportBar::recordPressed, this, [this] { toggleRecording(false); });
    connect(transport_, &TransportBar::recordOnPressed, this, [this] { toggleRecording(true); });
    connect(transport_, &TransportBar::jumpWanted, timeline_, &TimelineView::jump);
    connect(transport_, &TransportBar::loopPressed, this, &MainWindow::toggleLoop);
    connect(transport_, &TransportBar::viewChosen, this, &MainWindow::showView);
    for (CardList* cards : {here_->cards(), book_->cards()}) {
        connect(cards, &CardList::eventsWanted, this, [this](const QString& snare, int part) {
            showView(0);
            timeline_->showEventsOf(snare.toStdString(), part);
        });
        connect(cards, &CardList::copyWanted, this,
                [this](const QString& snare, QWidget* anchor) { editing_.copySnareTo(snare.toStdString(), anchor); });
        connect(cards, &CardList::generaliseWanted, this, [this](const QString& snare, QWidget* anchor) {
            editing_.generaliseSnare(snare.toStdString(), anchor);
        });
    }
}

void MainWindow::setScheme(SchemeWish wish)
{
    setSchemeWish(*static_cast<QApplication*>(QCoreApplication::instance()), wish);
}

void MainWindow::showFirstSteps()
{
    QSettings().remove(QStringLiteral("hintClosed"));
    delete findChild<FirstHint*>();
    auto* hint = new FirstHint{document_, stage_, selection_, upper_};
    connect(hint, &FirstHint::closed, hint, &QWidget::deleteLater);
    static_cast<QVBoxLayout*>(upper_->layout())->insertWidget(1, hint); // below the shelf
}

void MainWindow::showView(int index)
{
    below_->setCurrentIndex(index);
    transport_->setView(index);
}

void MainWindow::restoreLayout()
{
    const QSettings settings;
    if (settings.contains(QStringLiteral("geometry")))
        restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
    across_->restoreState(settings.value(QStringLiteral("across")).toByteArray());
    left_->restoreState(settings.value(QStringLiteral("left")).toByteArray());
    right_->restoreState(settings.value(QStringLiteral("right")).toByteArray());
    tabs_->setCurrentIndex(settings.value(QStringLiteral("tab")).toInt());
    showView(std::clamp(settings.value(QStringLiteral("below")).toInt(), 0, below_->count() - 1));
}

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

void MainWindow::say(const QString& text)
{
    statusBar()->showMessage(text);
}

void MainWindow::tellProblem(const QString& text, const QString& offer, const std::function<void()>& accept)
{
    problem_->setText(text);
    problemOffer_->setText(offer);
    problemOffer_->setVisible(!offer.isEmpty());
    problemAccept_ = accept;
    problemBar_->show();
}

QString MainWindow::shownProblem() const
{
    return problemBar_->isHidden() ? QString() : problem_->text();
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (!mayDiscard()) {
        event->ignore();
        return;
    }
    rescue_.clear();
    QSettings settings;
    settings.setValue(QStringLiteral("geometry"), saveGeometry());
    settings.setValue(QStringLiteral("across"), across_->saveState());
    settings.setValue(QStringLiteral("left"), left_->saveState());
    settings.setValue(QStringLiteral("right"), right_->saveState());
    settings.setValue(QStringLiteral("tab"), tabs_->currentIndex());
    settings.setValue(QStringLiteral("below"), below_->currentIndex());
    event->accept();
}

void MainWindow::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::ActivationChange && !isActiveWindow())
        stage_.letGoOfAll(); // P7
    QMainWindow::changeEvent(event);
}

// --- work ----------------------------------------------------------------------------------------------------------

void MainWindow::toggleRecording(bool fromCursor)
{
    if (stage_.mode() == Stage::Mode::recording) {
        stage_.stop();
        return;
    }
    stage_.startRecording(fromCursor);
    ground_->setFocus();
    say(tr("Play with keys and pointer. %1 stops and keeps what you did as the take.")
            .arg(stopKeyLabel(document_.scene())));
}

void MainWindow::toggleLoop()
{
    if (stage_.loop()) {
        stage_.setLoop(std::nullopt);
        return;
    }
    constexpr int seconds = 2;
    stage_.setLoop(std::pair{stage_.cursor(), stage_.cursor() + std::int64_t{seconds} * stage_.record().scene->rate});
    say(tr("Playing loops over the marked span; Shift+drag on the ruler chooses another one"));
}

/// The transport stays.
void MainWindow::foldTimeline(bool away)
{
    below_->setVisible(!away);
    QWidget* lower = left_->widget(1);
    lower->setMaximumHeight(away ? transport_->sizeHint().height() : QWIDGETSIZE_MAX);
}

void MainWindow::foldCards(bool away)
{
    right_->setVisible(!away);
}

void MainWindow::showGroundAlone(bool alone)
{
    left_->widget(1)->setVisible(!alone);
    right_->setVisible(!alone);
    shelf_->setVisible(!alone);
    if (alone)
        ground_->setFocus();
}

void MainWindow::offerThread(const ThreadPopup::Start& start, std::size_t to, const QPoint& at)
{
    auto* popup = new ThreadPopup{document_.scene(), start, to,
                                  [this](scene::Snare snare) {
                                      const std::string id = snare.id;
                                      const std::string piece = snare.catches.at;
                                      document_.edit(tr("Bind %1").arg(toText(id)), [&](scene::Scene& scene) {
                                          scene.snares.push_back(std::move(snare));
                                      });
                                      if (piece.empty())
                                          selection_.clear();
                                      selection_.chooseSnare(id, piece);
                                      tabs_->setCurrentWidget(here_);
                                      ground_->setTool(ToolKind::select);
                                      // The card comes into view first.
                                      const auto open = [this, id] {
                                          if (SnareCard* card = here_->cards()->card(id))
                                              card->openUnfilled();
                                      };
                                      QMetaObject::invokeMethod(here_, open, Qt::QueuedConnection);
                                  },
                                  this};
    popup->adjustSize();
    // Over the ground, not over the cards that it may be compared with; where that is too narrow,
    // on the screen.
    const QRect ground{ground_->mapToGlobal(QPoint{0, 0}), ground_->size()};
    const bool fits = popup->width() <= ground.width() && popup->height() <= ground.height();
    const QRect room = fits ? ground : screen()->availableGeometry();
    popup->move(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - popup->width())),
                std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - popup->height())));
    popup->show();
}

/// A thread without the mouse: from the selected piece to one that is chosen from a list.
void MainWindow::bindFromSelection()
{
    const std::string from = selection_.piece();
    if (from.empty()) {
        say(tr("Select the piece where it happens"));
        return;
    }
    Question question;
    question.title = tr("Something happens at %1; who is to act?").arg(toText(from));
    question.choices = pieceChoices(document_.scene());
    SlotPopup::ask(shelf_, question, [this, from](const QStringList& answer) {
        const auto& pieces = document_.scene().pieces;
        const auto index = [&](const std::string& id) {
            return static_cast<std::size_t>(std::ranges::find(pieces, id, &scene::Piece::id) - pieces.begin());
        };
        offerThread({index(from), selection_.shape(), {}, {}}, index(answer.front().toStdString()),
                    ground_->mapToGlobal(ground_->rect().center()));
    });
}

void MainWindow::dropSourceThread(const QString& source, const QString& key, const QPoint& at)
{
    ground_->showLooseThread(std::nullopt, {});
    const QPoint local = ground_->mapFromGlobal(at);
    const auto to =
        ground_->rect().contains(local) ? ground_->pickNear(ground_->transform().toScene(local)) : std::nullopt;
    if (to)
        offerThread({std::nullopt, 0, source.toStdString(), key.toStdString()}, to->piece, at);
    else
        say(tr("Let go over the piece that is to act"));
}

/// A single snare's card comes up; of a bundle one is chosen first.
void MainWindow::clickThread(const std::vector<std::string>& snares, const QPoint& at)
{
    const auto show = [this](const QString& id) {
        chooseSnare(id);
        tabs_->setCurrentWidget(here_);
    };
    if (snares.size() == 1) {
        show(toText(snares.front()));
        return;
    }
    QMenu& menu = *makeMenu(this);
    for (const std::string& snare : snares)
        menu.addAction(toText(snare), this, [show, id = toText(snare)] { show(id); });
    menu.popup(at);
}

void MainWindow::retargetThread(const std::vector<std::string>& snares, const QString& from, const QString& to)
{
    document_.edit(tr("Let it act on %1").arg(to), [&](scene::Scene& scene) {
        for (const std::string& id : snares) {
            scene::Snare* found = scene::findSnare(scene, id); // those of kits and assemblies act on no single piece
            if (!found)
                continue;
            scene::Snare& snare = *found;
            for (scene::Response& response : snare.responses)
                std::visit(
                    [&](auto& kind) {
                        if constexpr (requires { kind.on; })
                            for (std::string& name : kind.on.names)
                                if (scene::splitShape(name).first == from.toStdString())
                                    name = snare.catches.at == to.toStdString() ? "self" : to.toStdString();
                    },
                    response.kind);
        }
    });
}

} // namespace snare::app
