// SPDX-License-Identifier: Apache-2.0
/// What the ground does with the mouse and the keys: they go to the tool, move the view, or belong
/// to the scene while it is recorded.
#include "app/ground/figures.h"
#include "app/ground/ground_motion.h"
#include "app/ground/ground_play.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_tool.h"
#include "app/ground/ground_view.h"
#include "app/ground/overlays.h"
#include "app/model/scene_keys.h"
#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "app/ui/settings.h"
#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QRegularExpression>
#include <QWheelEvent>
#include <cmath>

namespace snare::app {

namespace {

/// A digit, or what stands in and between numbers.
bool isFigure(const QKeyEvent& event)
{
    return event.text().size() == 1 && QStringLiteral("0123456789.,;-x ").contains(event.text()) &&
           !(event.modifiers() & (Qt::ControlModifier | Qt::AltModifier));
}

} // namespace

/// Digits and what stands between numbers go to the tool while it can use them.
bool GroundView::type(const QKeyEvent& event)
{
    if (!tool_->takesNumbers())
        return false;
    if (event.key() == Qt::Key_Backspace && !typed_.isEmpty())
        typed_.chop(1);
    else if (isFigure(event))
        typed_ += event.text();
    else
        return false;
    std::vector<double> numbers;
    for (const QString& part : QString(typed_)
                                   .replace(QLatin1Char('x'), QLatin1Char(' '))
                                   .split(QRegularExpression{QStringLiteral("[,; ]+")}, Qt::SkipEmptyParts)) {
        bool fine = false;
        const double number = part.toDouble(&fine);
        if (fine && std::abs(number) < 1e6)
            numbers.push_back(number);
    }
    withTool([&](GroundTool& tool) { return tool.useNumbers(numbers), true; });
    update();
    return true;
}

/// While recording the pointer belongs to the scene. False if it does not.
bool GroundView::playButton(const QMouseEvent& event, bool down)
{
    if (stage_.mode() != Stage::Mode::recording)
        return false;
    constexpr std::pair<Qt::MouseButton, scene::Button> buttons[] = {{Qt::LeftButton, scene::Button::left},
                                                                     {Qt::MiddleButton, scene::Button::middle},
                                                                     {Qt::RightButton, scene::Button::right},
                                                                     {Qt::BackButton, scene::Button::back},
                                                                     {Qt::ForwardButton, scene::Button::forward}};
    for (const auto& [pressed, button] : buttons) {
        if (event.button() != pressed)
            continue;
        stage_.pointer(transform_.toScene(event.position()));
        stage_.button(button, down);
    }
    return true;
}

void GroundView::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    const bool spacePans = spaceHeld_ && event->button() == Qt::LeftButton;
    if ((event->button() == Qt::MiddleButton || spacePans) && stage_.mode() != Stage::Mode::recording) {
        panning_ = true;
        spacePanned_ = true;
        panFrom_ = event->position();
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (playButton(*event, true) || event->button() != Qt::LeftButton)
        return;
    if (pickDone_)
        return pickAtPointer(*event);
    if (overview().box().contains(event->position())) {
        overviewing_ = true;
        transform_.centre = overview().toScene(event->position());
        update();
        return;
    }
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    withTool([&](GroundTool& tool) { return tool.press(touch), true; });
}

void GroundView::mouseMoveEvent(QMouseEvent* event)
{
    pointer_ = event->position();
    if (panning_) {
        const QPointF by = event->position() - panFrom_;
        transform_.centre -= Vec{by.x() / transform_.scale, -by.y() / transform_.scale};
        panFrom_ = event->position();
        update();
        return;
    }
    if (overviewing_) {
        transform_.centre = overview().toScene(event->position());
        update();
        return;
    }
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (stage_.mode() == Stage::Mode::recording) {
        setCursor(Qt::ArrowCursor);
        stage_.pointer(touch.scene);
    } else if (event->buttons() & Qt::LeftButton) {
        withTool([&](GroundTool& tool) { return tool.drag(touch), true; });
    } else {
        withTool([&](GroundTool& tool) { return tool.hover(touch), true; });
        setCursor(overview().box().contains(touch.view) ? Qt::PointingHandCursor : tool_->cursorAt(touch));
    }
    if (options_.rulers)
        update();
    else
        update(0, height() - 30, 420, 30);
}

void GroundView::mouseReleaseEvent(QMouseEvent* event)
{
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (playButton(*event, false))
        return;
    if (event->button() == Qt::MiddleButton || (panning_ && event->button() == Qt::LeftButton)) {
        panning_ = false;
        setCursor(tool_->cursorAt(touch));
        return;
    }
    if (event->button() == Qt::RightButton) {
        if (const auto picked = pickAt(touch.scene, 3)) {
            const std::string& id = document_.scene().pieces[picked->piece].id;
            if (!selection_.has(id))
                selection_.choosePiece(id, picked->shape);
        }
        emit contextMenuWanted(event->globalPosition().toPoint());
        return;
    }
    if (std::exchange(overviewing_, false))
        return;
    if (event->button() == Qt::LeftButton)
        withTool([&](GroundTool& tool) { return tool.release(touch), true; });
}

void GroundView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (playButton(*event, true) || event->button() != Qt::LeftButton)
        return;
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (toolKind_ == ToolKind::select)
        withTool([&](GroundTool& tool) { return tool.press(touch), true; });
    else
        withTool([&](GroundTool& tool) { return tool.doubleClick(touch), true; });
}

void GroundView::wheelEvent(QWheelEvent* event)
{
    zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void GroundView::leaveEvent(QEvent*)
{
    pointer_.reset();
    update();
}

bool GroundView::event(QEvent* event)
{
    // While recording every key belongs to the scene, not to the tools.
    if (event->type() == QEvent::ShortcutOverride && stage_.mode() == Stage::Mode::recording) {
        event->accept();
        return true;
    }
    // Numbers belong to what is being drawn, Delete to a corner that is chosen.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool isSpace = key->key() == Qt::Key_Space && key->modifiers() == Qt::NoModifier; // it taps or pans
        if (isSpace || (tool_->takesNumbers() && isFigure(*key))) {
            event->accept();
            return true;
        }
        if (key->key() == Qt::Key_Delete && key->modifiers() == Qt::NoModifier &&
            withTool([](GroundTool& tool) { return tool.takeBack(); })) {
            event->accept();
            swallowDelete_ = true;
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && stage_.mode() == Stage::Mode::recording) { // Tab too
        keyPressEvent(static_cast<QKeyEvent*>(event));
        return true;
    }
    return QWidget::event(event);
}

void GroundView::keyPressEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        // Esc stops, unless it is a key of the scene: then Shift+Esc does.
        const bool stops = event->key() == Qt::Key_Escape &&
                           (event->modifiers() & Qt::ShiftModifier || !usesEscape(document_.scene()));
        if (stops)
            stage_.stop();
        else
            keys_.press(*event);
        return;
    }
    if (pickDone_ && event->key() == Qt::Key_Escape)
        return endPick();
    if (pickDone_ && !picked_.isEmpty() && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter))
        return finishPick();
    if (type(*event)) // numbers may be parted by spaces
        return;
    if (event->key() == Qt::Key_Space && event->modifiers() == Qt::NoModifier) {
        if (!event->isAutoRepeat()) {
            spaceHeld_ = true;
            spacePanned_ = false;
            setCursor(Qt::OpenHandCursor);
        }
        return;
    }
    const double step = Settings::instance().gridStep() * (event->modifiers() & Qt::ShiftModifier ? 10 : 1);
    switch (event->key()) {
    case Qt::Key_Delete:
        if (std::exchange(swallowDelete_, false))
            return;
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (withTool([](GroundTool& tool) { return tool.finish(); }))
            return;
        break;
    case Qt::Key_Backspace:
        if (withTool([](GroundTool& tool) { return tool.takeBack(); }))
            return;
        break;
    case Qt::Key_Left:
        nudge({-step, 0});
        return;
    case Qt::Key_Right:
        nudge({step, 0});
        return;
    case Qt::Key_Up:
        nudge({0, step});
        return;
    case Qt::Key_Down:
        nudge({0, -step});
        return;
    case Qt::Key_Escape:
        forgetTyped();
        if (withTool([](GroundTool& tool) { return tool.cancel(); }))
            return;
        if (toolKind_ != ToolKind::select)
            setTool(ToolKind::select);
        else
            selection_.clear();
        return;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

void GroundView::beginPick(GroundPick what, PickDone done)
{
    pickDone_ = std::move(done);
    pickWhat_ = what;
    picked_.clear();
    setFocus(Qt::OtherFocusReason);
    setCursor(Qt::CrossCursor);
    switch (what) {
    case GroundPick::piece:
        emit hint(tr("Click a piece. Esc gives up."));
        break;
    case GroundPick::pieces:
        emit hint(tr("Click a piece, or several with Shift. Esc gives up."));
        break;
    case GroundPick::place:
        emit hint(tr("Click a piece or a place. Esc gives up."));
        break;
    }
}

void GroundView::pickAtPointer(const QMouseEvent& event)
{
    const Vec point = transform_.toScene(event.position());
    const auto found = pickNear(point);
    if (!found && pickWhat_ != GroundPick::place)
        return; // there is no piece
    const QString name =
        found ? toText(document_.scene().pieces[found->piece].id)
              : QStringLiteral("%1, %2").arg(std::round(point.x * 10) / 10).arg(std::round(point.y * 10) / 10);
    const bool more = pickWhat_ == GroundPick::pieces && event.modifiers() & Qt::ShiftModifier;
    if (!picked_.contains(name))
        picked_ << name;
    else if (more)
        picked_.removeAll(name); // a second time takes it out again
    if (!more)
        return finishPick();
    emit hint(
        picked_.isEmpty()
            ? tr("Click a piece, or several with Shift. Esc gives up.")
            : tr("%1 – more with Shift; Return, or a last click, is the end").arg(picked_.join(QStringLiteral(", "))));
    update();
}

void GroundView::finishPick()
{
    const PickDone done = pickDone_;
    const QStringList picked = picked_;
    endPick();
    done(picked);
}

void GroundView::endPick()
{
    pickDone_ = nullptr;
    picked_.clear();
    unsetCursor();
    emit hint({});
    update();
}

/// Frames around what was pointed at so far.
void GroundView::paintPicked(QPainter& painter)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{theme().coral, 2, Qt::DashLine});
    for (const ShownPiece& piece : pieces())
        if (picked_.contains(toText(piece.piece->id)))
            painter.drawRect(transform_.toView(piece.box).adjusted(-5, -5, 5, 5));
}

void GroundView::keyReleaseEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        keys_.release(*event);
        return;
    }
    if (event->key() == Qt::Key_Space && spaceHeld_) {
        if (event->isAutoRepeat())
            return;
        spaceHeld_ = false;
        unsetCursor();
        if (!spacePanned_)
            emit playWanted();
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void GroundView::focusOutEvent(QFocusEvent* event)
{
    spaceHeld_ = false;
    keys_.letGo();
    stage_.letGoOfAll(); // P7
    QWidget::focusOutEvent(event);
}

void GroundView::nudge(const Vec& by)
{
    if (selection_.pieces().empty())
        return;
    document_.edit(tr("Nudge"), [&](scene::Scene& scene) {
        for (const std::string& id : selection_.pieces())
            if (scene::Piece* piece = scene::findPiece(scene, id))
                piece->at = onGrid(piece->at + by, Qt::AltModifier);
    });
}

} // namespace snare::app
