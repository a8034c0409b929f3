// SPDX-License-Identifier: Apache-2.0
#include "app/cards/stock_panel.h"

#include "app/cards/card_key.h"
#include "app/cards/stock_line.h"
#include "app/ground/scene_picture.h"
#include "app/slots/naming.h"
#include "app/slots/sharing_menu.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <QDir>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

using scene::Thing;

namespace {

constexpr QSize pictureSize{54, 40};

QString wordFor(Thing kind)
{
    return toText(scene::wordOf(kind));
}

QToolButton* footButton(QWidget* parent, const QString& name, const QString& text, const QString& tip)
{
    auto* button = new QToolButton{parent};
    button->setObjectName(name);
    button->setText(text);
    button->setToolTip(tip);
    button->setAutoRaise(true);
    return button;
}

} // namespace

/// How often each thing is used, counted in one walk.
struct StockPanel::Counts {
    std::map<std::string, std::size_t> followers;
    std::map<std::string, std::size_t> laid;
    std::map<std::string, std::size_t> runs;

    explicit Counts(const scene::Scene& scene)
    {
        for (const scene::Piece& piece : scene.pieces)
            if (!piece.templateName.empty())
                ++followers[piece.templateName];
        for (const scene::Laid& one : scene.laid)
            ++laid[one.assembly];
        const auto ofResponses = [&](const std::vector<scene::Response>& responses) {
            for (const scene::Response& response : responses)
                if (const auto* run = std::get_if<scene::RunRoutine>(&response.kind))
                    ++runs[run->routine];
        };
        const auto ofHome = [&](const auto& home) {
            for (const scene::Snare& snare : home.snares)
                ofResponses(snare.responses);
            for (const auto& entry : home.routines.entries)
                ofResponses(entry.second.responses);
            for (const auto& entry : home.assemblies.entries)
                for (const scene::Snare& snare : entry.second.snares)
                    ofResponses(snare.responses);
        };
        ofHome(scene);
        if (scene.loaded.list)
            for (const scene::LoadedKit& kit : *scene.loaded.list)
                ofHome(kit.kit);
    }

    static std::size_t of(const std::map<std::string, std::size_t>& counts, const std::string& name)
    {
        const auto found = counts.find(name);
        return found == counts.end() ? 0 : found->second;
    }
};

StockPanel::StockPanel(Document& document, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("stock"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 10, 0, 0);
    layout->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 0, 12, 0);
    search_ = new QLineEdit{this};
    search_->setPlaceholderText(tr("Find templates, assemblies, routines"));
    search_->setAccessibleName(tr("Find in the stock"));
    search_->setClearButtonEnabled(true);
    search_->installEventFilter(this);
    top->addWidget(search_);
    layout->addLayout(top);
    list_ = new QListWidget{this};
    list_->setObjectName(QStringLiteral("stockList"));
    list_->setAccessibleName(tr("Stock"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setItemDelegate(new StockLine{list_});
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->installEventFilter(this);
    layout->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(10, 0, 10, 6);
    auto* lay = footButton(this, QStringLiteral("stockLay"), tr("Lay"), tr("Stamp it onto the ground (B)"));
    auto* card = footButton(this, QStringLiteral("stockOpen"), tr("Open"), tr("Its card (Return)"));
    auto* more = footButton(this, QStringLiteral("stockMore"), tr("More ▾"), tr("Rename, move to a kit, remove…"));
    auto* kit = footButton(this, QStringLiteral("stockKit"), tr("+ kit…"), tr("A file of things that scenes share"));
    for (QToolButton* button : {lay, card, more})
        foot->addWidget(button);
    foot->addStretch(1);
    foot->addWidget(kit);
    layout->addLayout(foot);
    connect(lay, &QToolButton::clicked, this, [this] {
        if (const auto entry = chosen(); entry && (entry->kind == Thing::form || entry->kind == Thing::assembly))
            emit layWanted(toText(entry->name));
    });
    connect(card, &QToolButton::clicked, this, [this] {
        if (const auto entry = chosen())
            open(*entry);
    });
    connect(more, &QToolButton::clicked, this, [this, more] {
        showMenu(more->mapToGlobal(QPoint{0, more->height()}));
    });
    connect(kit, &QToolButton::clicked, this, [this, kit] { addKit(kit); });
    connect(search_, &QLineEdit::textChanged, this, &StockPanel::refresh);
    connect(list_, &QListWidget::itemDoubleClicked, this, [this] {
        if (const auto entry = chosen())
            open(*entry);
    });
    connect(list_, &QListWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (QListWidgetItem* item = list_->itemAt(at))
            list_->setCurrentItem(item);
        showMenu(list_->viewport()->mapToGlobal(at));
    });
    const auto follow = [lay, card, this] {
        const auto entry = chosen();
        lay->setEnabled(entry && entry->isThere && (entry->kind == Thing::form || entry->kind == Thing::assembly));
        card->setEnabled(entry && entry->isThere);
    };
    connect(list_, &QListWidget::currentRowChanged, this, follow);
    follow();
    connect(&document_, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    const auto look = [this] {
        if (isVisible())
            lookForUsers();
    };
    connect(&document_, &Document::replaced, this, look);
    connect(&document_, &Document::pathChanged, this, look);
}

void StockPanel::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
    lookForUsers();
}

/// Which other scenes beside this one name its kits; found beside everything else.
void StockPanel::lookForUsers()
{
    using Users = std::map<std::string, QStringList>;
    if (document_.filePath().isEmpty() || document_.scene().kits.empty())
        return;
    auto* watcher = new QFutureWatcher<Users>{this};
    connect(watcher, &QFutureWatcher<Users>::finished, this, [this, watcher] {
        users_ = watcher->result();
        watcher->deleteLater();
        refresh();
    });
    watcher->setFuture(QtConcurrent::run([kits = document_.scene().kits, path = document_.filePath()] {
        Users users;
        const QFileInfo own{path};
        for (const std::string& kit : kits)
            for (const std::string& name : io::scenesNaming(own.absolutePath().toStdString(), kit))
                if (toText(name) != own.fileName())
                    users[kit] << toText(name).section(QLatin1Char('.'), 0, 0);
        return users;
    }));
}

QString StockPanel::usersText(const std::string& kit) const
{
    const auto found = users_.find(kit);
    if (found == users_.end() || found->second.isEmpty())
        return {};
    const qsizetype count = found->second.size();
    constexpr qsizetype most = 3;
    const QString names = found->second.mid(0, most).join(tr(", "));
    return count > most ? tr("%1 and %2 more use it too").arg(names).arg(count - most)
           : count == 1 ? tr("%1 uses it too").arg(names)
                        : tr("%1 use it too").arg(names);
}

void StockPanel::addHeading(const std::string& home)
{
    auto* item = new QListWidgetItem;
    const scene::LoadedKit* kit = home.empty() ? nullptr : scene::findKit(document_.scene(), home);
    QStringList said;
    const scene::Scene& scene = document_.scene();
    const bool hasOwn =
        !scene.templates.empty() || !scene.assemblies.empty() || !scene.routines.empty() || !scene.laid.empty();
    if (home.empty())
        said << (hasOwn ? tr("templates, assemblies and routines of its own")
                        : tr("none yet: Ctrl+T makes one of a piece"));
    else if (!kit)
        said << tr("is not read yet");
    else if (!kit->problem.empty())
        said << toText(kit->problem);
    const std::vector<scene::LoadedKit> edited = document_.editedKits();
    if (std::ranges::find(edited, home, &scene::LoadedKit::file) != edited.end())
        said << tr("changed, not saved yet");
    if (const QString users = usersText(home); !users.isEmpty())
        said << users;
    item->setData(StockLine::nameRole, home.empty() ? tr("This scene") : toText(home));
    item->setData(StockLine::detailRole, said.isEmpty() ? tr("only this scene uses it") : said.join(tr(" · ")));
    item->setData(StockLine::isHeadingRole, true);
    item->setData(StockLine::isWrongRole, kit && !kit->problem.empty());
    item->setToolTip(said.join(QLatin1Char('\n')));
    if (home.empty())
        item->setFlags(Qt::ItemIsEnabled);
    list_->addItem(item);
    rows_.emplace_back();
    homes_.push_back(home);
}

QString StockPanel::detailOf(const Entry& entry, const Counts& counts) const
{
    const scene::Scene& scene = document_.scene();
    QStringList parts{wordFor(entry.kind)};
    const bool isHidden = entry.isThere && scene::homeOf(scene, entry.kind, entry.name) != entry.home;
    switch (entry.kind) {
    case Thing::form:
        if (const std::size_t count = Counts::of(counts.followers, entry.name); !isHidden)
            parts << (count == 0   ? tr("no piece follows it")
                      : count == 1 ? tr("1 piece follows it")
                                   : tr("%1 follow it").arg(countedPieces(count)));
        break;
    case Thing::assembly:
        if (const scene::Assembly* found = scene::assemblyIn(scene, entry.home, entry.name))
            parts << counted(found->pieces.size(), tr("part"), tr("parts"))
                  << counted(found->snares.size(), tr("snare"), tr("snares"));
        parts << (Counts::of(counts.laid, entry.name) == 0 ? tr("none laid")
                                                           : tr("%1 laid").arg(Counts::of(counts.laid, entry.name)));
        break;
    case Thing::routine:
        if (const scene::Routine* found = scene::routineIn(scene, entry.home, entry.name)) {
            parts << counted(found->responses.size(), tr("response"), tr("responses"));
            if (!found->with.empty()) {
                QStringList names;
                for (const auto& value : found->with.entries)
                    names << toText(value.first);
                parts << tr("takes %1").arg(names.join(tr(", ")));
            }
        }
        parts << tr("run in %1").arg(counted(Counts::of(counts.runs, entry.name), tr("place"), tr("places")));
        break;
    default:
        if (const scene::Snare* found = scene::snareIn(scene, entry.home, entry.name))
            parts << QStringLiteral("%1 %2 %3")
                         .arg(visitorText(*found), eventText(found->catches), whereText(found->catches));
        break;
    }
    if (!entry.isThere)
        parts << tr("is not there");
    if (isHidden)
        parts << tr("another one stands before it");
    parts.removeAll(QString());
    return parts.join(tr(" · "));
}

/// A template or an assembly as it looks when it is laid; drawn again when it changed.
const QPixmap& StockPanel::pictureOf(const Entry& entry)
{
    scene::Scene of;
    of.view = document_.scene().view;
    const scene::Scene& scene = document_.scene();
    if (const scene::Template* form =
            entry.kind == Thing::form ? scene::templateIn(scene, entry.home, entry.name) : nullptr) {
        of.pieces.push_back(form->model);
        of.pieces[0].id = "one";
    }
    if (const scene::Assembly* found =
            entry.kind == Thing::assembly ? scene::assemblyIn(scene, entry.home, entry.name) : nullptr)
        for (const scene::Piece& piece : found->pieces)
            of.pieces.push_back(piece);
    Picture& picture = pictures_[entry.home + '>' + std::string(scene::wordOf(entry.kind)) + '>' + entry.name];
    const bool isNothing = of.pieces.empty();
    if (!isNothing && (picture.pixmap.isNull() || !(picture.of == of))) {
        picture.of = of;
        picture.pixmap = QPixmap::fromImage(pictureOfScene(std::make_shared<const scene::Scene>(std::move(of)),
                                                           pictureSize * 2, &document_.pictures(), true));
    }
    return picture.pixmap;
}

void StockPanel::addEntry(const Entry& entry, const Counts& counts)
{
    const QString detail = detailOf(entry, counts);
    const QString sought = search_->text().trimmed();
    if (!(toText(entry.name) + QLatin1Char(' ') + detail).contains(sought, Qt::CaseInsensitive))
        return;
    auto* item = new QListWidgetItem;
    item->setData(StockLine::nameRole, toText(entry.name));
    item->setData(StockLine::detailRole, detail);
    item->setData(StockLine::isWrongRole, !entry.isThere);
    item->setData(StockLine::kindRole, entry.isThere ? static_cast<int>(entry.kind) : -1);
    if (entry.kind == Thing::form || entry.kind == Thing::assembly)
        item->setData(StockLine::pictureRole, pictureOf(entry));
    item->setData(Qt::AccessibleTextRole, toText(entry.name) + tr(", ") + detail);
    list_->addItem(item);
    rows_.push_back(entry);
    homes_.push_back(entry.home);
}

void StockPanel::refresh()
{
    if (!isVisible())
        return;
    const auto before = chosen();
    const int row = list_->currentRow();
    const scene::Scene& scene = document_.scene();
    const Counts counts{scene};
    const QSignalBlocker quiet{list_};
    list_->clear();
    rows_.clear();
    homes_.clear();
    std::vector<std::string> homes{{}};
    homes.insert(homes.end(), scene.kits.begin(), scene.kits.end());
    for (const std::string& home : homes) {
        addHeading(home);
        for (const Thing kind : {Thing::form, Thing::assembly, Thing::routine, Thing::snare})
            if (kind != Thing::snare || !home.empty()) // the scene's own fill the book
                for (const std::string& name : scene::keptIn(scene, kind, home))
                    addEntry({kind, home, name}, counts);
        if (!home.empty())
            continue;
        // What is used and not there.
        for (const auto& [name, count] : counts.followers)
            if (!scene::findTemplate(scene, name))
                addEntry({Thing::form, {}, name, false}, counts);
        for (const auto& [name, count] : counts.laid)
            if (!scene::findAssembly(scene, name))
                addEntry({Thing::assembly, {}, name, false}, counts);
        for (const auto& [name, count] : counts.runs)
            if (!scene::findRoutine(scene, name))
                addEntry({Thing::routine, {}, name, false}, counts);
    }
    int next = -1;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (before && rows_[i] == before)
            next = static_cast<int>(i);
    list_->setCurrentRow(next >= 0 ? next : before ? std::min(row, list_->count() - 1) : -1);
    emit list_->currentRowChanged(list_->currentRow());
}

std::optional<StockPanel::Entry> StockPanel::chosen() const
{
    const auto row = static_cast<std::size_t>(list_->currentRow());
    return list_->currentRow() >= 0 && row < rows_.size() ? rows_[row] : std::nullopt;
}

void StockPanel::open(const Entry& entry)
{
    if (!entry.isThere)
        return chooseFollowers(entry);
    switch (entry.kind) {
    case Thing::form:
        selection_.chooseModel("template:" + entry.name);
        emit hereWanted();
        break;
    case Thing::assembly: {
        const scene::Assembly* found = scene::assemblyIn(document_.scene(), entry.home, entry.name);
        if (found && !found->pieces.empty()) {
            selection_.chooseModel("part:" + entry.name + "." + found->pieces.front().id);
            emit hereWanted();
        }
        break;
    }
    default: {
        const bool isRoutine = entry.kind == Thing::routine;
        emit cardWanted(toText(
            CardKey{entry.home, isRoutine ? CardKey::Kind::routine : CardKey::Kind::snare, {}, entry.name}.text()));
        break;
    }
    }
}

/// The pieces that follow a template, or all parts of an assembly that are laid.
void StockPanel::chooseFollowers(const Entry& entry)
{
    std::vector<std::string> pieces;
    for (const scene::Piece& piece : document_.scene().pieces)
        if (entry.kind == Thing::form ? piece.templateName == entry.name
                                      : piece.partOf && piece.partOf->assembly == entry.name)
            pieces.push_back(piece.id);
    selection_.choosePieces(std::move(pieces));
}

void StockPanel::rename(const Entry& entry)
{
    // What another one stands before cannot be meant by anybody: it is moved or removed.
    if (entry.kind != Thing::snare && scene::homeOf(document_.scene(), entry.kind, entry.name) == entry.home)
        askForName(list_, document_, entry.kind, entry.name, [](const std::string&) {});
    else
        open(entry);
}

void StockPanel::remove(const Entry& entry)
{
    const Counts counts{document_.scene()};
    const bool isMeant = scene::homeOf(document_.scene(), entry.kind, entry.name) == entry.home;
    QStringList said;
    if (isMeant && entry.kind == Thing::form)
        if (const std::size_t count = Counts::of(counts.followers, entry.name))
            said << (count == 1 ? tr("1 piece follows it; it keeps what it has")
                                : tr("%1 follow it; they keep what they have").arg(countedPieces(count)));
    if (isMeant && entry.kind == Thing::assembly)
        if (const std::size_t count = Counts::of(counts.laid, entry.name))
            said << tr("%1 laid; their parts become plain pieces").arg(count);
    if (isMeant && entry.kind == Thing::routine)
        if (const std::size_t count = Counts::of(counts.runs, entry.name))
            said << tr("it is run in %1").arg(counted(count, tr("place"), tr("places")));
    if (const QString users = entry.home.empty() ? QString() : usersText(entry.home); !users.isEmpty())
        said << users.section(tr(" use"), 0, 0) + tr(" will lack it");
    const auto done = [this, entry] {
        document_.edit(tr("Remove %1 %2").arg(wordFor(entry.kind), toText(entry.name)),
                       [&](scene::Scene& scene) { scene::removeShared(scene, entry.kind, entry.home, entry.name); });
    };
    if (said.isEmpty())
        return done();
    Question question;
    question.title = tr("Remove %1 %2? %3.").arg(wordFor(entry.kind), toText(entry.name), said.join(tr(". ")));
    question.choices = {{QStringLiteral("remove"), tr("Remove"), {}, {}}, {QStringLiteral("keep"), tr("Keep"), {}, {}}};
    SlotPopup::ask(list_, question, [done](const QStringList& answer) {
        if (answer.front() == QLatin1String("remove"))
            done();
    });
}

void StockPanel::showMenu(const QPoint& screenPoint)
{
    const int row = list_->currentRow();
    if (row < 0)
        return;
    QMenu& menu = *makeMenu(this);
    if (const auto entry = chosen())
        fillMenu(menu, *entry);
    else if (const std::string& home = homes_[static_cast<std::size_t>(row)]; !home.empty())
        fillKitMenu(menu, home);
    if (!menu.isEmpty())
        menu.popup(screenPoint);
}

void StockPanel::addKit(QWidget* anchor)
{
    Question question;
    question.title = tr("A kit file beside the scene; a new one is made when the scene is saved");
    question.freeText = true;
    const QDir folder =
        document_.filePath().isEmpty() ? QDir::current() : QFileInfo(document_.filePath()).absoluteDir();
    for (const QString& file : folder.entryList({QStringLiteral("*.kit.json")}, QDir::Files, QDir::Name))
        if (std::ranges::find(document_.scene().kits, file.toStdString()) == document_.scene().kits.end())
            question.choices.push_back({file, {}, tr("is there"), {}});
    question.placeholder = QStringLiteral("shared.kit.json");
    question.check = [this](const QStringList& answer) {
        if (!answer.front().endsWith(QStringLiteral(".kit.json")) || answer.front().size() < 10)
            return tr("A name such as shared.kit.json");
        return std::ranges::find(document_.scene().kits, answer.front().toStdString()) != document_.scene().kits.end()
                   ? tr("The scene names it already")
                   : QString();
    };
    SlotPopup::ask(anchor, question, [this, folder](const QStringList& answer) {
        const std::string kit = answer.front().toStdString();
        document_.edit(tr("Name kit %1").arg(answer.front()), [&](scene::Scene& scene) {
            if (QFileInfo::exists(folder.filePath(answer.front())))
                scene.kits.push_back(kit);
            else
                scene::addKit(scene, kit);
        });
        lookForUsers();
    });
}

bool StockPanel::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride)
        return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const auto entry = chosen();
    if (watched == search_ && key->key() == Qt::Key_Down && event->type() == QEvent::KeyPress) {
        list_->setFocus();
        return true;
    }
    const bool isOurs = key->key() == Qt::Key_F2 || key->key() == Qt::Key_Return || key->key() == Qt::Key_Delete;
    if (watched != list_ || !isOurs || !entry)
        return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::KeyPress) {
        if (key->key() == Qt::Key_F2)
            rename(*entry);
        else if (key->key() == Qt::Key_Return)
            open(*entry);
        else
            remove(*entry);
    }
    event->accept();
    return true;
}

} // namespace snare::app
