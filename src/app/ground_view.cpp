// SPDX-License-Identifier: Apache-2.0
#include "app/ground_view.h"

#include "app/ground_tool.h"
#include "app/key_names.h"

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <cmath>

namespace snare::app {

GroundView::GroundView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("ground"));
    setAccessibleName(tr("Ground"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(320, 200);
    tool_ = makeTool(toolKind_, *this);
    connect(&document_, &Document::changed, this, &GroundView::forgetPieces);
    connect(&document_, &Document::replaced, this, [this] { fitted_ = false; });
    connect(&stage_, &Stage::recordChanged, this, &GroundView::forgetPieces);
    connect(&stage_, &Stage::cursorChanged, this, &GroundView::forgetPieces);
    connect(&selection_, &Selection::changed, this, &GroundView::forgetPieces);
}

GroundView::~GroundView() = default;

void GroundView::forgetPieces()
{
    pieces_.reset();
    trail_.reset();
    update();
}

const std::vector<ShownPiece>& GroundView::pieces()
{
    if (!pieces_)
        pieces_ = shownPieces(document_.scene(), stage_.record(), stage_.cursor());
    return *pieces_;
}

const std::vector<Vec>& GroundView::trail()
{
    if (!trail_) {
        trail_.emplace();
        const auto& names = stage_.record().pieceNames;
        const auto found = std::ranges::find(names, selection_.piece());
        if (found != names.end())
            trail_ = stage_.record().frames.pathOf(static_cast<std::size_t>(found - names.begin()));
        if (trail_->size() < 2)
            trail_->clear();
    }
    return *trail_;
}

Vec GroundView::snapped(const Vec& point, Qt::KeyboardModifiers modifiers)
{
    const double step = modifiers & Qt::AltModifier ? 0.001 : 0.1;
    const auto snap = [&](double value) { return std::round(std::round(value / step) * step * 1000) / 1000; };
    return {snap(point.x), snap(point.y)};
}

void GroundView::setTool(ToolKind kind)
{
    tool_->cancel();
    toolKind_ = kind;
    circles_ = false;
    tool_ = makeTool(kind, *this);
    setCursor(tool_->cursorAt({{-1000, -1000}, {1e9, 1e9}, {}}));
    emit toolChanged();
    emit hint(tool_->hint());
    update();
}

void GroundView::cycleShapeKind()
{
    circles_ = !circles_;
    emit toolChanged();
    emit hint(tool_->hint());
}

void GroundView::showWholeScene()
{
    geometry::Bounds bounds = boundsOf(document_.scene());
    bounds.grow(0.8);
    const Vec size = glm::max(bounds.size(), Vec(1, 1));
    transform_.centre = bounds.centre();
    transform_.scale = std::clamp(std::min(width() / size.x, height() / size.y), 0.01, 2000.0);
    update();
}

void GroundView::showSelection()
{
    geometry::Bounds bounds;
    for (const ShownPiece& piece : pieces())
        if (selection_.has(piece.piece->id))
            bounds.include(boundsOf(piece));
    if (bounds.empty())
        return;
    transform_.centre = bounds.centre();
    const Vec size = glm::max(bounds.size(), Vec(0.5, 0.5));
    constexpr double mostOfTheView = 0.5;
    const double largest = std::min(width() / size.x, height() / size.y) * mostOfTheView;
    transform_.scale = std::clamp(transform_.scale, std::min(largest, 40.0), largest);
    update();
}

void GroundView::zoom(double factor, const QPointF& around)
{
    const Vec fixed = transform_.toScene(around);
    transform_.scale = std::clamp(transform_.scale * factor, 0.01, 5000.0);
    transform_.centre += fixed - transform_.toScene(around);
    update();
}

void GroundView::paintEvent(QPaintEvent*)
{
    if (!fitted_ && width() > 0) {
        fitted_ = true;
        showWholeScene();
    }
    QPainter painter{this};
    GroundPainter{painter, transform_, document_.scene(), stage_.record(), stage_.cursor(), selection_, options_}.paint(
        pieces(), trail());
    tool_->paint(painter);
    paintHints(painter);
}

void GroundView::paintHints(QPainter& painter)
{
    painter.setFont(figureFont(-1));
    painter.setPen(theme().inkSoft);
    QString corner = document_.scene().view == scene::View::plan ? tr("plan view") : tr("side view");
    if (pointer_) {
        const Vec at = transform_.toScene(*pointer_);
        corner = tr("x %1  y %2 m   %3").arg(at.x, 0, 'f', 2).arg(at.y, 0, 'f', 2).arg(corner);
    }
    painter.drawText(QPointF{12, height() - 12.0}, corner);

    if (stage_.mode() == Stage::Mode::recording) {
        painter.setPen(QPen{theme().coral, 3});
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
        painter.setFont(textFont(0, true));
        painter.setPen(theme().coralText);
        painter.drawText(rect().adjusted(0, 0, -14, -34), Qt::AlignRight | Qt::AlignBottom,
                         tr("recording – Esc stops"));
    }
    if (document_.scene().pieces.empty()) {
        const QRectF box{width() / 2.0 - 220, height() / 2.0 - 62, 440, 124};
        painter.setPen(QPen{theme().hairline, 1.4, Qt::DashLine});
        painter.setBrush(theme().panel);
        painter.drawRoundedRect(box, 10, 10);
        painter.setPen(theme().ink);
        painter.setFont(textFont(3, true));
        painter.drawText(box.adjusted(0, 18, 0, 0), Qt::AlignHCenter | Qt::AlignTop, tr("An empty scene"));
        painter.setFont(textFont(0.5));
        painter.setPen(theme().inkSoft);
        painter.drawText(box.adjusted(20, 48, -20, 0), Qt::AlignHCenter | Qt::AlignTop,
                         tr("S  lays a solid to stand on and bump into\nZ  lays a zone that senses who comes in\nT  "
                            "draws a thread: this happens there, so that acts"));
    }
}

void GroundView::resizeEvent(QResizeEvent*)
{
    transform_.size = size();
}

void GroundView::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    if (event->button() == Qt::MiddleButton) {
        panning_ = true;
        panFrom_ = event->position();
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (stage_.mode() == Stage::Mode::recording || event->button() != Qt::LeftButton)
        return;
    tool_->press({event->position(), transform_.toScene(event->position()), event->modifiers()});
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
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (event->buttons() & Qt::LeftButton && stage_.mode() != Stage::Mode::recording)
        tool_->drag(touch);
    else
        setCursor(stage_.mode() == Stage::Mode::recording ? Qt::ArrowCursor : tool_->cursorAt(touch));
    update(0, height() - 30, 320, 30);
}

void GroundView::mouseReleaseEvent(QMouseEvent* event)
{
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (event->button() == Qt::MiddleButton) {
        panning_ = false;
        setCursor(tool_->cursorAt(touch));
        return;
    }
    if (event->button() == Qt::RightButton && stage_.mode() != Stage::Mode::recording) {
        if (const auto picked = pick(pieces(), touch.scene, 3 / transform_.scale)) {
            const std::string& id = document_.scene().pieces[picked->piece].id;
            if (!selection_.has(id))
                selection_.choosePiece(id, picked->shape);
        }
        emit contextMenuWanted(event->globalPosition().toPoint());
        return;
    }
    if (event->button() == Qt::LeftButton && stage_.mode() != Stage::Mode::recording)
        tool_->release(touch);
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
    if (event->type() == QEvent::KeyPress && stage_.mode() == Stage::Mode::recording) { // Tab too
        keyPressEvent(static_cast<QKeyEvent*>(event));
        return true;
    }
    return QWidget::event(event);
}

void GroundView::keyPressEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        if (event->key() == Qt::Key_Escape)
            stage_.stop();
        else if (!event->isAutoRepeat())
            stage_.key(keyName(*event), true);
        return;
    }
    const double step = event->modifiers() & Qt::ShiftModifier ? 1 : 0.1;
    switch (event->key()) {
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
        if (tool_->cancel())
            return;
        if (toolKind_ != ToolKind::select)
            setTool(ToolKind::select);
        else
            selection_.clear();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void GroundView::keyReleaseEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        if (!event->isAutoRepeat())
            stage_.key(keyName(*event), false);
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void GroundView::focusOutEvent(QFocusEvent* event)
{
    stage_.letGoOfAllKeys(); // P7
    QWidget::focusOutEvent(event);
}

void GroundView::nudge(const Vec& by)
{
    if (selection_.pieces().empty())
        return;
    document_.edit(tr("Nudge"), [&](scene::Scene& scene) {
        for (const std::string& id : selection_.pieces())
            if (scene::Piece* piece = scene::findPiece(scene, id))
                piece->at = snapped(piece->at + by, Qt::AltModifier);
    });
}

} // namespace snare::app
