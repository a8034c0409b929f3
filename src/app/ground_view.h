// SPDX-License-Identifier: Apache-2.0
/// The ground: the canvas where the scene is laid out and watched.
#pragma once

#include "app/document.h"
#include "app/ground_painter.h"
#include "app/selection.h"
#include "app/stage.h"

#include <QWidget>

#include <memory>

namespace snare::app {

class GroundTool;

/// What the next press on the ground does.
enum class ToolKind { select, solid, zone, thread };

class GroundView : public QWidget {
    Q_OBJECT

  public:
    GroundView(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    ~GroundView() override;

    ToolKind tool() const { return toolKind_; }
    void setTool(ToolKind kind);
    /// The tool again: solid and zone change between box and circle.
    void cycleShapeKind();
    bool drawsCircles() const { return circles_; }

    GroundOptions& options() { return options_; }
    const GroundTransform& transform() const { return transform_; }
    /// The pieces at the moment shown, lowest first.
    const std::vector<ShownPiece>& pieces();
    Document& document() { return document_; }
    Selection& selection() { return selection_; }
    Stage& stage() { return stage_; }

    void showWholeScene();
    /// Brings the selected pieces into the middle; comes nearer if they are small.
    void showSelection();
    void zoom(double factor, const QPointF& around);

    /// The point itself, or the nearest one on a grid of 0.1 m unless Alt is held.
    static Vec snapped(const Vec& point, Qt::KeyboardModifiers modifiers);

  signals:
    void toolChanged();
    /// What the tool expects next, or what the pointer is over.
    void hint(const QString& text);
    /// A thread was drawn from a shape to a piece; offer events and responses at a point of the screen.
    void threadDrawn(std::size_t from, std::size_t shape, std::size_t to, const QPoint& screenPoint);
    void contextMenuWanted(const QPoint& screenPoint);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void paintHints(QPainter& painter);
    void forgetPieces();
    void nudge(const Vec& by);
    const std::vector<Vec>& trail();

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    GroundTransform transform_;
    GroundOptions options_;
    bool fitted_ = false;
    bool circles_ = false;
    ToolKind toolKind_ = ToolKind::select;
    std::unique_ptr<GroundTool> tool_;
    std::optional<std::vector<ShownPiece>> pieces_;
    std::optional<std::vector<Vec>> trail_;
    std::optional<QPointF> pointer_;
    QPointF panFrom_;
    bool panning_ = false;
};

} // namespace snare::app
