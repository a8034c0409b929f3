// SPDX-License-Identifier: Apache-2.0
/// The open document: a scene with its take, the steps that can be undone, and the files.
///
/// Views read `scene()` and change it through `edit` only, so that every change has a name and an undo step.
#pragma once

#include "io/document.h"

#include <QObject>
#include <QString>
#include <QUndoStack>

#include <functional>
#include <memory>

namespace snare::app {

/// One state of the document; states share what they do not change.
struct DocumentState {
    std::shared_ptr<const scene::Scene> scene;
    std::shared_ptr<const scene::Take> take;
};

class Document : public QObject {
    Q_OBJECT

  public:
    explicit Document(QObject* parent = nullptr);

    const scene::Scene& scene() const { return *state_.scene; }
    std::shared_ptr<const scene::Scene> sharedScene() const { return state_.scene; }
    const scene::Take& take() const { return *state_.take; }
    bool hasTake() const { return state_.take->length.has_value() || !state_.take->inputs.empty(); }

    /// Changes the scene as one undo step. Steps with the same `gesture` (not 0) become one: a drag is one step.
    /// A change that leaves the scene as it was makes no step.
    void edit(const QString& name, const std::function<void(scene::Scene&)>& change, int gesture = 0);

    /// A number for the edits of one gesture.
    int newGesture() { return ++lastGesture_; }

    /// Replaces the take as one undo step.
    void setTake(const QString& name, scene::Take take);

    QUndoStack* undoStack() { return &undo_; }
    bool isDirty() const { return !undo_.isClean(); }

    /// The scene's file; empty if it was never saved.
    const QString& filePath() const { return path_; }
    /// What the window calls the document: the scene's name, else the file's, else "Untitled".
    QString title() const;

    /// An empty scene.
    void startNew();
    /// Opens a scene and, if there is one beside it, its take. What is wrong goes to `problem`; the document stays.
    bool open(const QString& path);
    /// Saves scene and take. Fails with `problem`.
    bool save(const QString& path);

  signals:
    /// The scene or the take changed. `newStep`: not a continuation of the same gesture.
    void changed(bool newStep);
    /// Another document.
    void replaced();
    /// The same document under another name.
    void pathChanged();
    void dirtyChanged();
    void problem(const QString& text);

  private:
    friend class Step;

    void push(const QString& name, DocumentState after, int gesture);
    void show(const DocumentState& state, bool newStep);

    DocumentState state_;
    QUndoStack undo_;
    QString path_;
    int lastGesture_ = 0;
    int runningGesture_ = 0;
};

/// The take that belongs to a scene file: `NAME.take.json` beside `NAME.snare.json`.
QString takePathFor(const QString& scenePath);

} // namespace snare::app
