// SPDX-License-Identifier: Apache-2.0
/// The open document: a scene with its take, the steps that can be undone, and the files.
///
/// Views read `scene()` and change it through `edit` only, so that every change has a name and an
/// undo step.
#pragma once

#include "app/model/file_states.h"
#include "app/model/kit_files.h"
#include "io/document.h"
#include "io/pictures.h"
#include "scene/mentions.h"

#include <QFileSystemWatcher>
#include <QObject>
#include <QString>
#include <QUndoStack>

#include <functional>
#include <memory>

namespace snare::app {

class FindingsWatch;

/// A take beside the scene. The one without a name is the first: `NAME.take.json`.
struct NamedTake {
    std::string name;
    std::shared_ptr<const scene::Take> take;
};

/// One state of the document; states share what they do not change. There is always at least one
/// take.
struct DocumentState {
    std::shared_ptr<const scene::Scene> scene;
    std::vector<NamedTake> takes;
};

class Document : public QObject {
    Q_OBJECT

  public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    /// What cannot work in the scene.
    FindingsWatch& findings() { return *findings_; }

    const scene::Scene& scene() const { return *state_.scene; }
    std::shared_ptr<const scene::Scene> sharedScene() const { return state_.scene; }
    /// The take that is shown.
    const scene::Take& take() const { return *state_.takes[current_].take; }
    bool hasTake() const { return isTaken(take()); }
    const std::vector<NamedTake>& takes() const { return state_.takes; }
    std::size_t currentTake() const { return current_; }
    /// Shows another take. No undo step.
    void chooseTake(std::size_t index);
    /// Adds a take and shows it; the name is made free. One undo step.
    void addTake(const std::string& name, scene::Take take);
    void renameTake(std::size_t index, const std::string& name);
    /// Takes one away; the last one is emptied instead.
    void removeTake(std::size_t index);
    DocumentState state() const { return state_; }

    /// Changes the scene as one undo step. Steps with the same `gesture` (not 0) become one: a drag
    /// is one step. A change that leaves the scene as it was makes no step.
    void edit(const QString& name, const std::function<void(scene::Scene&)>& change, int gesture = 0);

    /// Gives something another name; every mention in the scene and in all takes follows. One undo
    /// step, or part of a gesture's.
    void rename(scene::Thing kind, const std::string& from, const std::string& to, int gesture = 0);

    /// A number for the edits of one gesture.
    int newGesture() { return ++lastGesture_; }
    /// Takes the step of a gesture away, as if it had not been begun; nothing if the gesture left
    /// no step, or another one came after it.
    void takeBack(int gesture);

    /// Replaces the shown take as one undo step.
    void setTake(const QString& name, scene::Take take, int gesture = 0);

    QUndoStack* undoStack() { return &undo_; }
    bool isDirty() const { return !undo_.isClean(); }

    /// Moves something shared between the scene (an empty home) and a kit file beside it, or copies
    /// it there; a kit that is not there is made when the scene is saved. One undo step. Why it
    /// cannot be goes to `problem`.
    bool moveShared(scene::Thing kind, const std::string& name, const std::string& from, const std::string& to,
                    bool copy = false);
    /// The kits that are not as their files, as they are written next.
    std::vector<scene::LoadedKit> editedKits() const;
    /// Reads the kits of the scene anew, as their files are now; what follows their templates
    /// changes with them. No undo step. Done by itself when a kit file changes.
    void reloadKits();

    /// The pictures beside the scene.
    io::Pictures& pictures() { return *pictures_; }

    /// The scene's file; empty if it was never saved.
    const QString& filePath() const { return path_; }
    /// What the window calls the document: the scene's name, else the file's, else "Untitled".
    QString title() const;

    /// An empty scene.
    void startNew(scene::View view = scene::View::plan);
    /// Opens a scene and, if there is one beside it, its take. What is wrong goes to `problem`; the
    /// document stays.
    bool open(const QString& path);
    /// The files that saving to `path` would replace although they do not hold what was read or
    /// written here: another program changed them, or they belong to something else. Whoever saves
    /// asks first.
    QStringList wouldReplace(const QString& path) const;
    /// Saves scene and takes. Fails with `problem`.
    bool save(const QString& path);
    /// Work that was not saved: opens the file it belonged to, if it is there, and puts this on top
    /// as an undo step.
    void bringBack(const QString& path, DocumentState state);

  signals:
    /// The scene or the take changed. `newStep`: not a continuation of the same gesture.
    void changed(bool newStep);
    /// Another document.
    void replaced();
    /// The shown take is about to be left for another: what goes on with it ends.
    void takeLeaving();
    /// Another take is shown. It is told before `changed`.
    void takeChosen();
    /// The same document under another name.
    void pathChanged();
    void dirtyChanged();
    /// A place that mentions something is to be shown.
    void showWanted(const snare::scene::Use& use);
    void problem(const QString& text);
    /// Another program changed files of the document. Told once for each change.
    void changedOutside(const QStringList& files);

  private:
    friend class Step;

    void push(const QString& name, DocumentState after, int gesture);
    void show(const DocumentState& state, bool newStep);
    void lookBeside();
    std::filesystem::path folder() const;
    std::shared_ptr<const scene::Scene> withKitsAsTheyAre(const scene::Scene& scene);
    void watchKits();
    void watchOwnFiles();
    void lookOutside();
    std::vector<std::pair<QString, std::shared_ptr<const scene::Take>>> takeFiles(const QString& path) const;
    std::vector<std::pair<std::string, std::string>> kitTexts(const QString& place) const;
    void pushTakes(const QString& name, std::vector<NamedTake> takes, int gesture = 0);
    static bool isTaken(const scene::Take& take)
    {
        return take.length.has_value() || !take.inputs.empty() || !take.expect.empty() || !take.note.empty();
    }

    DocumentState state_;
    QUndoStack undo_;
    QFileSystemWatcher watch_;    ///< of the kit files
    QFileSystemWatcher ownWatch_; ///< of the files of the scene and its takes
    FileStates files_;            ///< those
    FileStates told_;             ///< as they were when a change was told
    KitFiles kits_;
    QString path_;
    std::unique_ptr<io::Pictures> pictures_; ///< of the folder that the scene is in
    std::size_t current_ = 0;
    std::optional<std::size_t> chosenNext_; ///< the take that the next state shows, if not the same
    std::vector<std::string> takesOnDisk_; ///< names of takes whose files belong to the document
    int lastGesture_ = 0;
    int runningGesture_ = 0;
    bool takingBack_ = false; ///< what is undone now cannot be redone
    FindingsWatch* findings_; ///< a child
};

/// The file of a take: `NAME.take.json` or `NAME.TAKE.take.json` beside `NAME.snare.json`.
QString takePathFor(const QString& scenePath, const std::string& take = {});

} // namespace snare::app
