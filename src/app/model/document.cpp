// SPDX-License-Identifier: Apache-2.0
#include "app/model/document.h"

#include "app/model/findings_watch.h"
#include "scene/sharing.h"

#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QTimer>
#include <QUndoCommand>
#include <QtConcurrentRun>

namespace snare::app {

/// One undo step: the states before and after.
class Step : public QUndoCommand {
  public:
    Step(Document& document, const QString& name, DocumentState before, DocumentState after, int gesture)
        : QUndoCommand(name), document_(document), before_(std::move(before)), after_(std::move(after)),
          gesture_(gesture)
    {
    }

    void undo() override
    {
        setObsolete(document_.takingBack_);
        document_.show(before_, true);
    }
    void redo() override { document_.show(after_, fresh_); }
    int id() const override { return gesture_ == 0 ? -1 : 1; }

    bool mergeWith(const QUndoCommand* other) override
    {
        const auto* next = static_cast<const Step*>(other);
        if (next->gesture_ != gesture_)
            return false;
        after_ = next->after_;
        return true;
    }

    int gesture() const { return gesture_; }

    /// A continued gesture shows its change as part of the step it will become.
    void setFresh(bool fresh) { fresh_ = fresh; }

  private:
    Document& document_;
    DocumentState before_;
    DocumentState after_;
    int gesture_;
    bool fresh_ = true;
};

namespace {

DocumentState emptyState(scene::View view = scene::View::plan)
{
    auto scene = std::make_shared<scene::Scene>();
    scene->view = view;
    return {std::move(scene), {{{}, std::make_shared<scene::Take>()}}};
}

/// Files larger than this are read and written beside the interface, bytes.
constexpr qint64 largeFile = 200'000;

/// Does the work in another thread while the window goes on painting; nothing can be clicked
/// meanwhile.
template <class Work> auto beside(bool large, Work work) -> decltype(work())
{
    if (!large)
        return work();
    QEventLoop loop;
    QFutureWatcher<decltype(work())> watcher;
    QObject::connect(&watcher, &QFutureWatcherBase::finished, &loop, &QEventLoop::quit);
    watcher.setFuture(QtConcurrent::run(work));
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    return watcher.future().takeResult();
}

QString baseOf(const QString& scenePath)
{
    for (const QLatin1String ending : {QLatin1String(".snare.json"), QLatin1String(".json")})
        if (scenePath.endsWith(ending))
            return scenePath.chopped(ending.size());
    return scenePath;
}

/// The names of the takes beside a scene, the one without a name first.
std::vector<std::string> takeNamesBeside(const QString& scenePath)
{
    std::vector<std::string> names;
    if (QFileInfo::exists(takePathFor(scenePath)))
        names.emplace_back();
    const QFileInfo base{baseOf(scenePath)};
    const QString start = base.fileName() + QLatin1Char('.');
    const QString ending = QStringLiteral(".take.json");
    for (const QString& file : base.dir().entryList({QStringLiteral("*") + ending}, QDir::Files, QDir::Name)) {
        const QString name = file.mid(start.size()).chopped(std::min(ending.size(), file.size() - start.size()));
        if (file.startsWith(start) && scene::isId(name.toStdString()))
            names.push_back(name.toStdString());
    }
    return names;
}

} // namespace

Document::Document(QObject* parent)
    : QObject(parent),
      findings_(new FindingsWatch{
          [this](const QString& step, const std::function<void(scene::Scene&)>& change) { edit(step, change); }, this})
{
    connect(this, &Document::changed, findings_, [this] { findings_->follow(state_.scene); });
    state_ = emptyState();
    lookBeside();
    undo_.setUndoLimit(500);
    connect(&undo_, &QUndoStack::cleanChanged, this, &Document::dirtyChanged);
    // Editors write a file in several steps: read it when they are done.
    connect(&watch_, &QFileSystemWatcher::fileChanged, this,
            [this] { QTimer::singleShot(150, this, &Document::reloadKits); });
    connect(&ownWatch_, &QFileSystemWatcher::fileChanged, this,
            [this] { QTimer::singleShot(150, this, &Document::lookOutside); });
}

Document::~Document() = default;

void Document::watchOwnFiles()
{
    if (!ownWatch_.files().isEmpty())
        ownWatch_.removePaths(ownWatch_.files());
    for (const QString& file : files_.files())
        if (QFileInfo::exists(file))
            ownWatch_.addPath(file);
}

void Document::lookOutside()
{
    watchOwnFiles(); // a file that was replaced is watched no longer
    QStringList news;
    for (const QString& file : files_.changed())
        if (told_.isForeign(file)) {
            told_.remember(file);
            news << file;
        }
    if (!news.isEmpty())
        emit changedOutside(news);
}

/// The files of the takes that a save writes.
std::vector<std::pair<QString, std::shared_ptr<const scene::Take>>> Document::takeFiles(const QString& path) const
{
    std::vector<std::pair<QString, std::shared_ptr<const scene::Take>>> files;
    for (const NamedTake& one : state_.takes)
        if (isTaken(*one.take) || state_.takes.size() > 1)
            files.emplace_back(takePathFor(path, one.name), one.take);
    return files;
}

QStringList Document::wouldReplace(const QString& path) const
{
    const QString scene = QFileInfo(path).absoluteFilePath();
    QStringList result;
    if (files_.isForeign(scene))
        result << scene;
    for (const auto& [file, take] : takeFiles(scene))
        if (files_.isForeign(file))
            result << file;
    const QDir place = QFileInfo(path).absoluteDir();
    for (const std::string& kit : kits_.edited(this->scene()))
        if (const QString file = place.filePath(QString::fromStdString(kit)); kits_.isForeign(file.toStdString()))
            result << file;
    return result;
}

namespace {

/// What is in both states as it was is kept once.
void shareAgain(scene::Scene& next, const scene::Scene& before)
{
    next.pieces.shareWith(before.pieces);
    next.snares.shareWith(before.snares);
    next.templates.entries.shareWith(before.templates.entries);
    next.assemblies.entries.shareWith(before.assemblies.entries);
    next.routines.entries.shareWith(before.routines.entries);
}

} // namespace

void Document::edit(const QString& name, const std::function<void(scene::Scene&)>& change, int gesture)
{
    auto next = std::make_shared<scene::Scene>(scene());
    change(*next);
    if (*next == scene())
        return;
    // What the change only looked at is not kept twice. (Outlines are no part of a piece, so they
    // come after it.)
    shareAgain(*next, scene());
    pictures_->trace(*next);
    push(name, {std::move(next), state_.takes}, gesture);
}

void Document::rename(scene::Thing kind, const std::string& from, const std::string& to, int gesture)
{
    auto next = std::make_shared<scene::Scene>(scene());
    scene::rename(*next, kind, from, to);
    std::vector<NamedTake> takes = state_.takes;
    for (NamedTake& take : takes) {
        scene::Take copy = *take.take;
        if (scene::rename(copy, kind, from, to) > 0)
            take.take = std::make_shared<const scene::Take>(std::move(copy));
    }
    shareAgain(*next, scene());
    pictures_->trace(*next);
    push(tr("Rename %1 to %2").arg(QString::fromStdString(from), QString::fromStdString(to)),
         {std::move(next), std::move(takes)}, gesture);
}

void Document::takeBack(int gesture)
{
    const auto* last = static_cast<const Step*>(undo_.command(undo_.index() - 1)); // all commands are steps
    if (gesture == 0 || !last || last->gesture() != gesture)
        return;
    takingBack_ = true;
    undo_.undo();
    takingBack_ = false;
}

void Document::setTake(const QString& name, scene::Take take, int gesture)
{
    std::vector<NamedTake> takes = state_.takes;
    takes[current_].take = std::make_shared<const scene::Take>(std::move(take));
    pushTakes(name, std::move(takes), gesture);
}

void Document::pushTakes(const QString& name, std::vector<NamedTake> takes, int gesture)
{
    push(name, {state_.scene, std::move(takes)}, gesture);
}

void Document::chooseTake(std::size_t index)
{
    if (index >= state_.takes.size() || index == current_)
        return;
    emit takeLeaving();
    current_ = index;
    emit takeChosen();
    emit changed(true);
}

void Document::addTake(const std::string& name, scene::Take take)
{
    emit takeLeaving();
    std::vector<NamedTake> takes = state_.takes;
    std::string free = name;
    for (int n = 2; std::ranges::find(takes, free, &NamedTake::name) != takes.end(); ++n)
        free = name + "-" + std::to_string(n);
    takes.push_back({free, std::make_shared<const scene::Take>(std::move(take))});
    chosenNext_ = takes.size() - 1;
    pushTakes(tr("Add take %1").arg(QString::fromStdString(free)), std::move(takes));
}

void Document::renameTake(std::size_t index, const std::string& name)
{
    std::vector<NamedTake> takes = state_.takes;
    takes[index].name = name;
    pushTakes(tr("Rename a take to %1").arg(QString::fromStdString(name)), std::move(takes));
}

void Document::removeTake(std::size_t index)
{
    emit takeLeaving();
    std::vector<NamedTake> takes = state_.takes;
    takes.erase(takes.begin() + static_cast<std::ptrdiff_t>(index));
    if (takes.empty())
        takes.push_back({{}, std::make_shared<scene::Take>()});
    chosenNext_ = std::min(current_, takes.size() - 1);
    pushTakes(tr("Delete a take"), std::move(takes));
}

void Document::push(const QString& name, DocumentState after, int gesture)
{
    auto step = std::make_unique<Step>(*this, name, state_, std::move(after), gesture);
    step->setFresh(gesture == 0 || gesture != runningGesture_);
    runningGesture_ = gesture;
    undo_.push(step.release());
}

void Document::show(const DocumentState& state, bool newStep)
{
    state_ = state;
    const auto chosen = std::exchange(chosenNext_, {});
    const std::size_t before = std::exchange(current_, std::min(chosen.value_or(current_), state_.takes.size() - 1));
    // A step from before a kit changed shows the kit as it is now.
    if (kits_.isStale(scene())) {
        state_.scene = withKitsAsTheyAre(scene());
        watchKits();
    }
    if (chosen || current_ != before)
        emit takeChosen();
    emit changed(newStep);
}

QString Document::title() const
{
    if (!scene().name.empty())
        return QString::fromStdString(scene().name);
    return path_.isEmpty() ? tr("Untitled") : QFileInfo(path_).fileName();
}

void Document::startNew(scene::View view)
{
    undo_.clear();
    path_.clear();
    takesOnDisk_.clear();
    files_.clear();
    told_.clear();
    watchOwnFiles();
    current_ = 0;
    state_ = emptyState(view);
    lookBeside();
    kits_.begin(folder(), scene());
    emit replaced();
    emit changed(true);
}

/// Pictures stand beside the scene, or in the folder where a new one was begun.
void Document::lookBeside()
{
    const QString folder = path_.isEmpty() ? QDir::currentPath() : QFileInfo(path_).absolutePath();
    if (!pictures_ || pictures_->folder() != std::filesystem::path{folder.toStdString()})
        pictures_ = std::make_unique<io::Pictures>(folder.toStdString());
}

bool Document::open(const QString& path)
{
    const QString whole = QFileInfo(path).absoluteFilePath();
    const bool large = QFileInfo(path).size() > largeFile;
    FileStates known; // as they are before they are read: what comes later is a change
    known.remember(whole);
    auto loaded = beside(large, [file = path.toStdString()] { return io::loadScene(file); });
    if (!loaded) {
        QString text;
        for (const io::Problem& one : loaded.error())
            text += (text.isEmpty() ? QString() : QStringLiteral("\n")) + QString::fromStdString(one.message());
        emit problem(text);
        return false;
    }
    std::vector<NamedTake> takes;
    std::vector<std::string> onDisk;
    for (const std::string& name : takeNamesBeside(whole)) {
        const QString file = takePathFor(whole, name);
        known.remember(file);
        auto take = beside(large, [file = file.toStdString()] { return io::loadTake(file); });
        if (!take) {
            known.forget(file); // a take that is saved under this name must not replace it unasked
            emit problem(tr("The take was not opened. %1").arg(QString::fromStdString(take.error().front().message())));
            continue;
        }
        takes.push_back({name, std::make_shared<const scene::Take>(std::move(*take))});
        onDisk.push_back(name);
    }
    if (takes.empty())
        takes.push_back({{}, std::make_shared<scene::Take>()});
    undo_.clear();
    path_ = whole;
    lookBeside();
    files_ = std::move(known);
    told_.clear();
    watchOwnFiles();
    takesOnDisk_ = std::move(onDisk);
    current_ = 0;
    state_ = {std::make_shared<const scene::Scene>(std::move(*loaded)), std::move(takes)};
    kits_.begin(folder(), scene());
    watchKits();
    emit replaced();
    emit changed(true);
    return true;
}

std::filesystem::path Document::folder() const
{
    return pictures_->folder();
}

/// The scene as it would be read with its kits as they are now: pieces of their templates follow
/// them.
std::shared_ptr<const scene::Scene> Document::withKitsAsTheyAre(const scene::Scene& scene)
{
    // What followed a kit that is no longer named keeps all its fields; an assembly of it is laid
    // aside.
    scene::Scene named = scene;
    if (scene.loaded.list) {
        const auto isNamed = [&](const std::string& file) {
            return file.empty() || std::ranges::find(scene.kits, file) != scene.kits.end();
        };
        for (const scene::Laid& laid : scene.laid)
            if (!isNamed(scene::homeOf(scene, scene::Thing::assembly, laid.assembly).value_or(std::string())))
                io::layAside(named, laid.id);
        auto still = std::make_shared<std::vector<scene::LoadedKit>>();
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            if (isNamed(kit.file))
                still->push_back(kit);
        named.loaded.list = std::move(still);
    }
    auto read = io::readScene(io::sceneText(named), "scene", kits_.finderFor(scene));
    auto next = read ? std::make_shared<scene::Scene>(std::move(*read)) : std::make_shared<scene::Scene>(scene);
    pictures_->trace(*next);
    return next;
}

void Document::watchKits()
{
    if (!watch_.files().isEmpty())
        watch_.removePaths(watch_.files());
    for (const std::string& kit : scene().kits)
        if (const QString file = QString::fromStdString((folder() / kit).string()); QFileInfo::exists(file))
            watch_.addPath(file);
}

void Document::reloadKits()
{
    watchKits(); // a file that was replaced is watched no longer
    const KitFiles::News news = kits_.lookAgain(scene());
    for (const std::string& kit : news.both)
        emit problem(tr("%1 was changed by another program too. It stays here as you changed it; saving asks first.")
                         .arg(QString::fromStdString(kit)));
    if (!news.changed)
        return;
    state_.scene = withKitsAsTheyAre(scene());
    emit changed(true);
}

std::vector<scene::LoadedKit> Document::editedKits() const
{
    std::vector<scene::LoadedKit> kits;
    for (const std::string& name : kits_.edited(scene()))
        kits.push_back(*scene::findKit(scene(), name));
    return kits;
}

/// The kits that a save writes, by name: those that were changed. A scene that is saved elsewhere
/// takes the others along as they are, without them its pieces would lack what they follow; a kit
/// that is there already stays as it is.
std::vector<std::pair<std::string, std::string>> Document::kitTexts(const QString& place) const
{
    std::vector<std::pair<std::string, std::string>> texts;
    const std::vector<std::string> edited = kits_.edited(scene());
    const std::filesystem::path target{place.toStdString()};
    for (const std::string& kit : scene().kits) {
        if (std::ranges::find(edited, kit) != edited.end())
            texts.emplace_back(kit, io::kitText(scene::findKit(scene(), kit)->kit));
        else if (target != folder() && !std::filesystem::exists(target / kit))
            if (auto text = io::loadText(folder() / kit))
                texts.emplace_back(kit, std::move(*text));
    }
    return texts;
}

bool Document::moveShared(scene::Thing kind, const std::string& name, const std::string& from, const std::string& to,
                          bool copy)
{
    auto next = std::make_shared<scene::Scene>(scene());
    if (!to.empty() && !scene::findKit(*next, to) && std::filesystem::exists(folder() / to)) {
        next->kits.push_back(to);
        next = std::make_shared<scene::Scene>(*withKitsAsTheyAre(*next));
    }
    if (const auto wrong = scene::moveShared(*next, kind, name, from, to, copy)) {
        emit problem(QString::fromStdString(*wrong));
        return false;
    }
    const QString where = to.empty() ? tr("the scene") : QString::fromStdString(to);
    push((copy ? tr("Copy %1 %2 to %3") : tr("Move %1 %2 to %3"))
             .arg(QString::fromStdString(std::string(scene::wordOf(kind))), QString::fromStdString(name), where),
         {std::move(next), state_.takes}, 0);
    return true;
}

bool Document::save(const QString& path)
{
    const QString whole = QFileInfo(path).absoluteFilePath();
    const bool samePlace = whole == path_;
    const QString place = QFileInfo(path).absolutePath();
    // The other thread has a state of its own: a kit that changes meanwhile may replace that of the
    // document.
    struct Saved {
        QStringList files;
        std::vector<std::string> kits;
        std::optional<io::Problem> problem;
    };
    const auto write = [whole, place, scene = state_.scene, takes = takeFiles(whole), kits = kitTexts(place)] {
        Saved saved;
        for (const auto& [kit, text] : kits) { // before what needs them
            if (auto done = io::saveText(std::filesystem::path{place.toStdString()} / kit, text); !done) {
                saved.problem = done.error();
                return saved;
            }
            saved.kits.push_back(kit);
        }
        const auto writeOne = [&](const QString& file, const std::string& text) {
            if (auto done = io::saveText(file.toStdString(), text); done)
                saved.files << file;
            else
                saved.problem = done.error();
            return !saved.problem;
        };
        if (!writeOne(whole, io::sceneText(*scene)))
            return saved;
        for (const auto& [file, taken] : takes) {
            scene::Take take = *taken;
            take.scene = QFileInfo(whole).fileName().toStdString();
            if (!writeOne(file, io::takeText(take)))
                break;
        }
        return saved;
    };
    const Saved saved = beside(scene().pieces.size() > 500, write);
    if (samePlace || !saved.problem) {
        kits_.setFolder(place.toStdString());
        for (const std::string& kit : saved.kits)
            if (const scene::LoadedKit* written = scene::findKit(scene(), kit))
                kits_.wasWritten(kit, written->kit);
    }
    if (!samePlace && !saved.problem)
        files_.clear();
    if (samePlace || !saved.problem)
        for (const QString& file : saved.files) // also if others could not be written
            files_.remember(file);
    watchOwnFiles();
    if (saved.problem) {
        emit problem(QString::fromStdString(saved.problem->message()));
        return false;
    }
    // Files of takes that were deleted or renamed go to the trash of the desktop; where there is
    // none, they stay.
    for (const std::string& name : std::exchange(takesOnDisk_, {})) {
        const QString file = takePathFor(path, name);
        if (samePlace && std::ranges::find(state_.takes, name, &NamedTake::name) == state_.takes.end() &&
            QFileInfo::exists(file) && !QFile::moveToTrash(file))
            emit problem(tr("%1 is no longer a take of the scene, but could not be moved to the trash. It stays.")
                             .arg(QFileInfo(file).fileName()));
    }
    for (const NamedTake& one : state_.takes)
        takesOnDisk_.push_back(one.name);
    path_ = whole;
    if (!samePlace)
        lookBeside();
    watchKits();
    undo_.setClean();
    emit pathChanged();
    return true;
}

void Document::bringBack(const QString& path, DocumentState state)
{
    if (path.isEmpty() || !QFileInfo::exists(path) || !open(path)) {
        startNew();
        path_ = path;
    }
    push(tr("Bring back unsaved work"), std::move(state), 0);
    emit pathChanged();
}

QString takePathFor(const QString& scenePath, const std::string& take)
{
    const QString name = take.empty() ? QString() : QLatin1Char('.') + QString::fromStdString(take);
    return baseOf(scenePath) + name + QStringLiteral(".take.json");
}

} // namespace snare::app
