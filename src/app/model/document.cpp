// SPDX-License-Identifier: Apache-2.0
#include "app/model/document.h"

#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QTimer>
#include <QUndoCommand>
#include <QtConcurrentRun>

namespace snare::app {

/// A file beside the scene that a step writes; no text: it is not there.
struct FileChange {
    QString path;
    std::optional<std::string> before;
    std::optional<std::string> after;
};

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
        if (file_ && !document_.changeFile(file_->path, file_->after, file_->before)) {
            setObsolete(true); // it can be done no more
            return;
        }
        document_.show(before_, true);
    }
    void redo() override
    {
        if (file_ && !document_.changeFile(file_->path, file_->before, file_->after)) {
            setObsolete(true);
            return;
        }
        document_.show(after_, fresh_);
    }
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

    /// The step changes a file too, at once, and back when it is undone.
    void setFileChange(FileChange change) { file_ = std::move(change); }

    /// A continued gesture shows its change as part of the step it will become.
    void setFresh(bool fresh) { fresh_ = fresh; }

  private:
    Document& document_;
    DocumentState before_;
    DocumentState after_;
    int gesture_;
    bool fresh_ = true;
    std::optional<FileChange> file_;
};

namespace {

DocumentState emptyState()
{
    return {std::make_shared<scene::Scene>(), {{{}, std::make_shared<scene::Take>()}}};
}

/// Files larger than this are read and written beside the interface, bytes.
constexpr qint64 largeFile = 200'000;

/// Does the work in another thread while the window goes on painting; nothing can be clicked meanwhile.
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

Document::Document(QObject* parent) : QObject(parent)
{
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
    return result;
}

void Document::edit(const QString& name, const std::function<void(scene::Scene&)>& change, int gesture)
{
    auto next = std::make_shared<scene::Scene>(scene());
    change(*next);
    if (*next == scene())
        return;
    // What the change only looked at is not kept twice. (Outlines are no part of a piece, so they come after it.)
    next->pieces.shareWith(scene().pieces);
    next->snares.shareWith(scene().snares);
    pictures_->trace(*next);
    push(name, {std::move(next), state_.takes}, gesture);
}

void Document::rename(scene::Thing kind, const std::string& from, const std::string& to)
{
    auto next = std::make_shared<scene::Scene>(scene());
    scene::rename(*next, kind, from, to);
    std::vector<NamedTake> takes = state_.takes;
    for (NamedTake& take : takes) {
        scene::Take copy = *take.take;
        if (scene::rename(copy, kind, from, to) > 0)
            take.take = std::make_shared<const scene::Take>(std::move(copy));
    }
    next->pieces.shareWith(scene().pieces);
    next->snares.shareWith(scene().snares);
    pictures_->trace(*next);
    push(tr("Rename %1 to %2").arg(QString::fromStdString(from), QString::fromStdString(to)),
         {std::move(next), std::move(takes)}, 0);
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
    current_ = index;
    emit takeChosen();
    emit changed(true);
}

void Document::addTake(const std::string& name, scene::Take take)
{
    std::vector<NamedTake> takes = state_.takes;
    std::string free = name;
    for (int n = 2; std::ranges::find(takes, free, &NamedTake::name) != takes.end(); ++n)
        free = name + "-" + std::to_string(n);
    takes.push_back({free, std::make_shared<const scene::Take>(std::move(take))});
    current_ = takes.size() - 1;
    emit takeChosen();
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
    std::vector<NamedTake> takes = state_.takes;
    takes.erase(takes.begin() + static_cast<std::ptrdiff_t>(index));
    if (takes.empty())
        takes.push_back({{}, std::make_shared<scene::Take>()});
    current_ = std::min(current_, takes.size() - 1);
    emit takeChosen();
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
    current_ = std::min(current_, state_.takes.size() - 1);
    // A step from before a kit changed shows the kit as it is now.
    if (areKitsStale()) {
        state_.scene = withKitsAsTheyAre(scene());
        kits_ = scene().loaded;
        watchKits();
    }
    emit changed(newStep);
}

QString Document::title() const
{
    if (!scene().name.empty())
        return QString::fromStdString(scene().name);
    return path_.isEmpty() ? tr("Untitled") : QFileInfo(path_).fileName();
}

void Document::startNew()
{
    undo_.clear();
    path_.clear();
    takesOnDisk_.clear();
    files_.clear();
    told_.clear();
    watchOwnFiles();
    current_ = 0;
    state_ = emptyState();
    lookBeside();
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
    kits_ = scene().loaded;
    watchKits();
    emit replaced();
    emit changed(true);
    return true;
}

std::filesystem::path Document::folder() const
{
    return pictures_->folder();
}

/// The scene as it would be read with the kit files that are there now: pieces of their templates follow them.
std::shared_ptr<const scene::Scene> Document::withKitsAsTheyAre(const scene::Scene& scene) const
{
    // What followed a kit that is no longer named keeps all its fields.
    scene::Scene named = scene;
    if (scene.loaded.list) {
        auto still = std::make_shared<std::vector<scene::LoadedKit>>();
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            if (std::ranges::find(scene.kits, kit.file) != scene.kits.end())
                still->push_back(kit);
        named.loaded.list = std::move(still);
    }
    auto read = io::readScene(io::sceneText(named), "scene", io::kitsIn(folder()));
    auto next = read ? std::make_shared<scene::Scene>(std::move(*read)) : std::make_shared<scene::Scene>(scene);
    pictures_->trace(*next);
    return next;
}

/// The state was made before a kit changed, or its scene names other kits than were read for it.
bool Document::areKitsStale() const
{
    const auto& loaded = scene().loaded.list;
    if (scene().kits.empty() && (!loaded || loaded->empty()))
        return false;
    return !loaded || loaded != kits_.list || !std::ranges::equal(*loaded, scene().kits, {}, &scene::LoadedKit::file);
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
    if (scene().kits.empty())
        return;
    state_.scene = withKitsAsTheyAre(scene());
    kits_ = scene().loaded;
    emit changed(true);
}

/// A scene that is saved elsewhere takes its kits along: without them its pieces would lack what they follow. A kit
/// that is there already stays as it is.
tl::expected<void, io::Problem> Document::copyKitsTo(const QString& place) const
{
    const std::filesystem::path target{place.toStdString()};
    if (target == folder())
        return {};
    for (const std::string& kit : scene().kits) {
        const auto text = io::loadText(folder() / kit);
        if (!text || std::filesystem::exists(target / kit))
            continue;
        if (auto done = io::saveText(target / kit, *text); !done)
            return done;
    }
    return {};
}

/// Writes a file that a step changes, if it is still as the step left it; what goes away goes to the trash.
bool Document::changeFile(const QString& path, const std::optional<std::string>& from,
                          const std::optional<std::string>& to)
{
    const std::string file = path.toStdString();
    std::optional<std::string> now;
    if (QFileInfo::exists(path))
        if (auto text = io::loadText(file))
            now = std::move(*text);
    if (now != from) {
        emit problem(tr("%1 was changed by another program meanwhile: it stays as it is.").arg(path));
        return false;
    }
    if (!to) {
        if (!QFile::moveToTrash(path)) {
            emit problem(tr("%1 could not be moved to the trash. It stays.").arg(path));
            return false;
        }
    } else if (const auto saved = io::saveText(file, *to); !saved) {
        emit problem(QString::fromStdString(saved.error().message()));
        return false;
    }
    kits_ = {}; // read anew
    return true;
}

bool Document::moveToKit(const std::string& routine, const std::string& kit)
{
    const scene::Routine* found = scene().routines.find(routine);
    if (!found)
        return false;
    const std::filesystem::path file = folder() / kit;
    scene::Kit content;
    if (std::filesystem::exists(file)) {
        const scene::LoadedKit loaded = io::kitsIn(folder())(kit);
        if (!loaded.problem.empty()) {
            emit problem(QString::fromStdString(loaded.problem));
            return false;
        }
        content = loaded.kit;
    }
    if (content.routines.find(routine)) {
        emit problem(tr("%1 has a routine %2 already. Rename this one first.")
                         .arg(QString::fromStdString(kit), QString::fromStdString(routine)));
        return false;
    }
    FileChange change{QString::fromStdString(file.string()), {}, {}};
    if (std::filesystem::exists(file))
        change.before = io::loadText(file).value_or(std::string());
    content.routines.set(routine, *found);
    change.after = io::kitText(content);
    auto next = std::make_shared<scene::Scene>(scene());
    std::erase_if(next->routines.entries, [&](const auto& entry) { return entry.first == routine; });
    if (std::ranges::find(next->kits, kit) == next->kits.end())
        next->kits.push_back(kit);
    auto step = std::make_unique<Step>(
        *this, tr("Move routine %1 to %2").arg(QString::fromStdString(routine), QString::fromStdString(kit)), state_,
        DocumentState{std::move(next), state_.takes}, 0);
    step->setFileChange(std::move(change));
    undo_.push(step.release());
    return true;
}

bool Document::save(const QString& path)
{
    const QString whole = QFileInfo(path).absoluteFilePath();
    const bool samePlace = whole == path_;
    if (const auto copied = copyKitsTo(QFileInfo(path).absolutePath()); !copied) {
        emit problem(QString::fromStdString(copied.error().message()));
        return false;
    }
    // The other thread has a state of its own: a kit that changes meanwhile may replace that of the document.
    struct Saved {
        QStringList files;
        std::optional<io::Problem> problem;
    };
    const auto write = [whole, scene = state_.scene, takes = takeFiles(whole)] {
        Saved saved;
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
    // Files of takes that were deleted or renamed go to the trash of the desktop; where there is none, they stay.
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
