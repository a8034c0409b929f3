// SPDX-License-Identifier: Apache-2.0
#include "app/document.h"

#include <QFileInfo>
#include <QUndoCommand>

namespace snare::app {

/// One undo step: the states before and after.
class Step : public QUndoCommand {
  public:
    Step(Document& document, const QString& name, DocumentState before, DocumentState after, int gesture)
        : QUndoCommand(name), document_(document), before_(std::move(before)), after_(std::move(after)),
          gesture_(gesture)
    {
    }

    void undo() override { document_.show(before_, true); }
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

    /// A continued gesture shows its change as part of the step it will become.
    void setFresh(bool fresh) { fresh_ = fresh; }

  private:
    Document& document_;
    DocumentState before_;
    DocumentState after_;
    int gesture_;
    bool fresh_ = true;
};

Document::Document(QObject* parent) : QObject(parent)
{
    state_ = {std::make_shared<scene::Scene>(), std::make_shared<scene::Take>()};
    undo_.setUndoLimit(500);
    connect(&undo_, &QUndoStack::cleanChanged, this, &Document::dirtyChanged);
}

void Document::edit(const QString& name, const std::function<void(scene::Scene&)>& change, int gesture)
{
    auto next = std::make_shared<scene::Scene>(scene());
    change(*next);
    if (*next == scene())
        return;
    push(name, {std::move(next), state_.take}, gesture);
}

void Document::setTake(const QString& name, scene::Take take)
{
    push(name, {state_.scene, std::make_shared<const scene::Take>(std::move(take))}, 0);
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
    state_ = {std::make_shared<scene::Scene>(), std::make_shared<scene::Take>()};
    emit replaced();
    emit changed(true);
}

bool Document::open(const QString& path)
{
    auto loaded = io::loadScene(path.toStdString());
    if (!loaded) {
        QString text;
        for (const io::Problem& one : loaded.error())
            text += (text.isEmpty() ? QString() : QStringLiteral("\n")) + QString::fromStdString(one.message());
        emit problem(text);
        return false;
    }
    auto take = std::make_shared<scene::Take>();
    const QString takePath = takePathFor(path);
    if (QFileInfo::exists(takePath)) {
        auto loadedTake = io::loadTake(takePath.toStdString());
        if (loadedTake)
            *take = std::move(*loadedTake);
        else
            emit problem(
                tr("The take was not opened. %1").arg(QString::fromStdString(loadedTake.error().front().message())));
    }
    undo_.clear();
    path_ = QFileInfo(path).absoluteFilePath();
    state_ = {std::make_shared<const scene::Scene>(std::move(*loaded)), std::move(take)};
    emit replaced();
    emit changed(true);
    return true;
}

bool Document::save(const QString& path)
{
    auto saved = io::saveText(path.toStdString(), io::sceneText(scene()));
    if (saved && hasTake()) {
        scene::Take take = this->take();
        take.scene = QFileInfo(path).fileName().toStdString();
        saved = io::saveText(takePathFor(path).toStdString(), io::takeText(take));
    }
    if (!saved) {
        emit problem(QString::fromStdString(saved.error().message()));
        return false;
    }
    path_ = QFileInfo(path).absoluteFilePath();
    undo_.setClean();
    emit pathChanged();
    return true;
}

QString takePathFor(const QString& scenePath)
{
    QString base = scenePath;
    for (const QLatin1String ending : {QLatin1String(".snare.json"), QLatin1String(".json")})
        if (base.endsWith(ending)) {
            base.chop(ending.size());
            break;
        }
    return base + QStringLiteral(".take.json");
}

} // namespace snare::app
