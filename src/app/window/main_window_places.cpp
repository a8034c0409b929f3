// SPDX-License-Identifier: Apache-2.0
/// Where the main window leads: to what was found, to what mentions a name, to the place of a
/// finding, to a card.
#include "app/window/main_window.h"

#include "app/cards/book_panel.h"
#include "app/cards/here_panel.h"
#include "app/cards/stock_panel.h"
#include "app/model/revisions.h"
#include "app/ground/ground_view.h"
#include "app/panels/findings_panel.h"
#include "app/panels/source_shelf.h"
#include "app/timeline/flow_view.h"
#include "app/timeline/timeline_view.h"
#include "app/ui/menus.h"
#include "app/ui/text.h"
#include "app/ui/slot_popup.h"
#include "app/window/bring_in.h"
#include "app/window/comparing.h"
#include "app/window/coverage_window.h"
#include "app/window/scout_window.h"
#include "app/window/finder.h"
#include "app/window/reading.h"
#include "io/drawing.h"
#include "io/exports.h"
#include "scene/kits.h"

#include <QAction>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QTabWidget>
#include <QtConcurrentRun>

namespace snare::app {

void MainWindow::goTo(const Found& found)
{
    const std::string name = found.name.toStdString();
    const auto inBook = [this](const QString& words) {
        tabs_->setCurrentWidget(book_);
        book_->find(words);
    };
    switch (found.kind) {
    case Found::Kind::command:
        found.command->trigger();
        break;
    case Found::Kind::piece:
        selection_.choosePiece(name);
        ground_->showSelection();
        break;
    case Found::Kind::snare:
        chooseSnare(found.name);
        tabs_->setCurrentWidget(here_);
        break;
    case Found::Kind::signal: // the first snare that hears it
        for (const scene::Snare& snare : document_.scene().snares)
            if (snare.catches.signal == name) {
                chooseSnare(toText(snare.id));
                tabs_->setCurrentWidget(book_);
                return;
            }
        inBook(found.name);
        break;
    case Found::Kind::source:
        shelf_->openSource(name);
        break;
    case Found::Kind::form: {
        selection_.chooseModel("template:" + name);
        tabs_->setCurrentWidget(here_);
        break;
    }
    case Found::Kind::assembly: {
        const scene::Assembly* assembly = scene::findAssembly(document_.scene(), name);
        if (!assembly || assembly->pieces.empty())
            break;
        selection_.chooseModel("part:" + name + "." + assembly->pieces.front().id);
        tabs_->setCurrentWidget(here_);
        break;
    }
    case Found::Kind::group:
    case Found::Kind::tag: {
        std::vector<std::string> pieces;
        for (const scene::Piece& piece : document_.scene().pieces)
            if (found.kind == Found::Kind::group ? piece.group == name
                                                 : std::ranges::find(piece.tags, name) != piece.tags.end())
                pieces.push_back(piece.id);
        selection_.choosePieces(std::move(pieces));
        break;
    }
    case Found::Kind::routine:
        showCard(toText(cardOfRoutine(document_.scene(), name)));
        break;
    case Found::Kind::phase:
        inBook(found.name);
        break;
    case Found::Kind::value:
        selection_.clear();
        tabs_->setCurrentWidget(here_);
        here_->openField(QStringLiteral("value ") + found.name);
        break;
    case Found::Kind::take:
        document_.chooseTake(found.index);
        break;
    case Found::Kind::field:
        tabs_->setCurrentWidget(here_);
        here_->openField(found.name);
        break;
    }
}

/// The scene in sentences; once only.
void MainWindow::readScene()
{
    auto* reading = findChild<Reading*>();
    if (!reading)
        reading = new Reading{document_, this};
    reading->show();
    reading->raise();
    reading->activateWindow();
}

/// The saved state is the file as it is.
void MainWindow::compare(const QString& file, const QString& revision, const QString& name)
{
    say(tr("Reading %1…").arg(name));
    QtConcurrent::run([file, revision] {
        QString problem;
        auto other = sceneIn(file, revision, &problem);
        return std::pair(std::move(other), problem);
    })
        .then(this, [this, file = document_.filePath(),
                     name](const std::pair<std::shared_ptr<const scene::Scene>, QString>& read) {
            if (!read.first)
                return say(read.second);
            if (file != document_.filePath())
                return; // another scene was opened meanwhile
            for (Comparing* open : findChildren<Comparing*>())
                open->close();
            (new Comparing{document_, stage_, read.first, name, this})->show();
            say({});
        });
}

void MainWindow::compareWithFile()
{
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Compare with another scene"),
                                     QFileInfo{document_.filePath()}.absolutePath(), tr("Scenes (*.snare.json)"));
    if (!file.isEmpty())
        compare(file, {}, QFileInfo{file}.fileName());
}

void MainWindow::compareWithRevision()
{
    QtConcurrent::run([file = document_.filePath()] {
        return file.isEmpty() ? std::vector<Revision>{} : revisionsOf(file);
    }).then(this, [this](const std::vector<Revision>& revisions) {
        if (revisions.empty())
            return say(tr("The scene lies in no git repository, or was never committed"));
        Question question;
        question.title = tr("Compare with which revision");
        for (const Revision& one : revisions)
            question.choices.push_back({one.id, one.title, one.date, one.id});
        SlotPopup::ask(shelf_, question, [this](const QStringList& answer) {
            compare(document_.filePath(), answer.front(), tr("revision %1").arg(answer.front()));
        });
    });
}

void MainWindow::saveFlow()
{
    showView(2);
    if (!flow_->isFresh() || flow_->map().flow.nodes.empty())
        return say(tr("The flow is still being laid out"));
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save the flow"), document_.title() + QStringLiteral("-flow.svg"), tr("Drawing (*.svg)"));
    if (path.isEmpty())
        return;
    const QString problem = flow_->saveSvg(path);
    say(problem.isEmpty() ? tr("Saved %1").arg(QFileInfo{path}.fileName()) : problem);
}

/// What can be expected of a line of the record.
void MainWindow::showExpectMenu(int line, const QPoint& at)
{
    QMenu& menu = *makeMenu(this);
    timeline_->addExpectEntries(menu, line);
    if (!menu.isEmpty())
        menu.addSeparator();
    menu.addAction(tr("Show what the take expects"), this, [this] { showView(3); });
    menu.popup(at);
}

/// Another scene of the folder, with one of its takes.
void MainWindow::openTake(const QString& scene, const QString& take)
{
    if (scene.isEmpty())
        return say(tr("%1 names no scene that can be opened").arg(QFileInfo{take}.fileName()));
    if (!mayDiscard() || !openFile(scene))
        return;
    for (std::size_t i = 0; i < document_.takes().size(); ++i)
        if (QFileInfo{takePathFor(document_.filePath(), document_.takes()[i].name)} == QFileInfo{take})
            document_.chooseTake(i);
}

void MainWindow::showCoverage()
{
    if (auto* shown = findChild<CoverageWindow*>())
        return shown->raise();
    auto* list = new CoverageWindow{stage_.coverage(), this};
    connect(list, &CoverageWindow::scoutWanted, this, &MainWindow::showScout);
    connect(list, &CoverageWindow::placeWanted, this, [this](const check::Place& place) {
        if (place.of == check::Place::Of::snare)
            chooseSnare(toText(place.id)); // as the run calls it
        else
            showPlace(place);
    });
    list->show();
}

void MainWindow::showScout()
{
    if (auto* shown = findChild<ScoutWindow*>())
        return shown->raise();
    auto* found = new ScoutWindow{scouting_, document_, this};
    connect(found, &ScoutWindow::snareWanted, this, &MainWindow::chooseSnare);
    connect(found, &ScoutWindow::said, this, [this](const QString& text) { say(text); });
    found->show();
}

void MainWindow::bringIn()
{
    const QString folder = QFileInfo(document_.filePath()).absolutePath();
    auto* dialog = new QFileDialog{this, tr("Bring in a drawing"), folder, tr("Drawings (*.svg);;All files (*)")};
    dialog->setObjectName(QStringLiteral("bringInFile"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& file) {
        const geometry::Vec middle = ground_->transform().toScene(QRectF{ground_->rect()}.center());
        auto* panel = new BringIn{document_, selection_, file, middle, this};
        connect(panel, &BringIn::taken, this, [this](const QString& said) {
            say(said);
            ground_->showSelection();
        });
        panel->open();
    });
    dialog->open();
}

void MainWindow::bringInTracks()
{
    const QString folder = QFileInfo(document_.filePath()).absolutePath();
    auto* dialog = new QFileDialog{this, tr("Bring in tracks"), folder, tr("Tables (*.csv);;All files (*)")};
    dialog->setObjectName(QStringLiteral("bringInFile"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFiles);
    connect(dialog, &QFileDialog::filesSelected, this, [this](const QStringList& files) {
        auto* panel = new BringInTracks{document_, selection_, files, this};
        connect(panel, &BringIn::taken, this, [this](const QString& said) {
            say(said);
            ground_->showSelection();
        });
        panel->open();
    });
    dialog->open();
}

void MainWindow::exportAs(const QString& format)
{
    struct Kind {
        QString ending;
        QString filter;
    };
    const Kind kind = format == QLatin1String("svg")     ? Kind{QStringLiteral(".svg"), tr("Drawings (*.svg)")}
                      : format == QLatin1String("csv")   ? Kind{QStringLiteral(".csv"), tr("Tables (*.csv)")}
                      : format == QLatin1String("trace") ? Kind{QStringLiteral(".trace.json"), tr("Traces (*.json)")}
                                                         : Kind{QStringLiteral(".scxml"), tr("Statecharts (*.scxml)")};
    const QFileInfo own{document_.filePath()};
    auto* dialog = new QFileDialog{this, tr("Save as"), own.absolutePath(), kind.filter};
    dialog->setObjectName(QStringLiteral("giveOutFile"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->selectFile(document_.title() + kind.ending);
    connect(dialog, &QFileDialog::fileSelected, this, [this, format](const QString& path) { writeAs(format, path); });
    dialog->open();
}

/// Written beside everything else: a long take has many lines.
void MainWindow::writeAs(const QString& format, const QString& path)
{
    QtConcurrent::run([record = stage_.sharedRecord(), scene = document_.sharedScene(), tick = stage_.cursor(), format,
                       file = path.toStdString()] {
        const std::string text = format == QLatin1String("svg")     ? io::svgOf(*record, tick)
                                 : format == QLatin1String("csv")   ? io::csvOf(*record)
                                 : format == QLatin1String("trace") ? io::traceOf(*record)
                                                                    : io::scxmlOf(scene::withKits(*scene));
        const auto saved = io::saveText(file, text);
        return saved ? QString() : toText(saved.error().message());
    }).then(this, [this, path](const QString& problem) {
        if (problem.isEmpty())
            say(tr("Saved %1").arg(QFileInfo{path}.fileName()));
        else
            tellProblem(problem);
    });
}

/// To what moved the selected piece last.
void MainWindow::explainPlace()
{
    const sim::Record& record = stage_.record();
    const auto found = std::ranges::find(record.pieces, selection_.piece(), &sim::RunPiece::id);
    if (selection_.piece().empty() || found == record.pieces.end())
        return say(tr("Select a piece first"));
    const auto piece = static_cast<world::PieceIndex>(found - record.pieces.begin());
    const std::int32_t line = sim::lineBehindPlace(record, piece, stage_.cursor());
    if (line < 0)
        return say(tr("Nothing has happened yet: record a take first"));
    stage_.chooseLine(line);
    say(tr("What moved %1 last").arg(toText(selection_.piece())));
}

/// What was chosen of the places that mention something.
void MainWindow::showUse(const scene::Use& use)
{
    Found found;
    found.name = toText(use.id);
    switch (use.where) {
    case scene::Use::Where::snare:
        found.kind = Found::Kind::snare;
        break;
    case scene::Use::Where::piece:
        found.kind = Found::Kind::piece;
        break;
    case scene::Use::Where::form:
        found.kind = Found::Kind::form;
        break;
    case scene::Use::Where::assembly:
        found.kind = Found::Kind::assembly;
        break;
    case scene::Use::Where::routine:
        found.kind = Found::Kind::routine;
        break;
    case scene::Use::Where::source:
        found.kind = Found::Kind::source;
        break;
    case scene::Use::Where::scene:
        selection_.clear();
        tabs_->setCurrentWidget(here_);
        return;
    }
    goTo(found);
}

void MainWindow::chooseSnare(const QString& id)
{
    if (const QLatin1String routine{"routine:"}; id.startsWith(routine)) {
        const std::string card = cardOfRoutine(document_.scene(), id.mid(routine.size()).toStdString());
        return card.empty() ? void() : showCard(toText(card));
    }
    const std::string card = cardOf(document_.scene(), id.toStdString());
    const scene::Snare* snare = snareOf(document_.scene(), keyOf(card));
    if (!snare)
        return;
    const bool atPiece = scene::findPiece(document_.scene(), snare->catches.at) != nullptr;
    if (!atPiece)
        selection_.clear();
    selection_.chooseSnare(id.toStdString(), atPiece ? snare->catches.at : std::string());
}

void MainWindow::showCard(const QString& card)
{
    const CardKey key = keyOf(card.toStdString());
    if (key.kind == CardKey::Kind::routine) {
        tabs_->setCurrentWidget(book_);
        book_->find({});
        book_->cards()->bringUp(card.toStdString());
        return;
    }
    chooseSnare(toText(nameInRun(document_.scene(), key)));
    tabs_->setCurrentWidget(here_);
}

void MainWindow::countFindings()
{
    const std::size_t open = document_.findings().open();
    tabs_->setTabText(tabs_->indexOf(foundPanel_), open == 0 ? tr("Findings") : tr("Findings %1").arg(open));
}

void MainWindow::showPlace(const check::Place& place)
{
    using Of = check::Place::Of;
    switch (place.of) {
    case Of::snare:
    case Of::routine: {
        CardKey key{place.home, CardKey::Kind::snare, place.assembly, place.id};
        if (place.of == Of::routine)
            key.kind = CardKey::Kind::routine;
        else if (!place.assembly.empty())
            key.kind = CardKey::Kind::ofAssembly;
        showCard(toText(key.text()));
        CardList* cards = place.of == Of::routine ? book_->cards() : here_->cards();
        const auto focus = [cards, card = key.text(), place] {
            if (SnareCard* found = cards->card(card))
                found->focusField(place.response, place.field);
            cards->bringUp(card);
        };
        QMetaObject::invokeMethod(cards, focus, Qt::QueuedConnection);
        return;
    }
    case Of::piece:
        selection_.choosePiece(place.id);
        ground_->showSelection();
        break;
    case Of::form:
        selection_.chooseModel("template:" + place.id);
        break;
    case Of::assembly:
    case Of::kit:
        tabs_->setCurrentWidget(stock_);
        return;
    case Of::source:
        shelf_->openSource(place.id);
        return;
    case Of::scene:
        selection_.clear();
        break;
    }
    tabs_->setCurrentWidget(here_);
}

} // namespace snare::app
