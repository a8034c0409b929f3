// SPDX-License-Identifier: Apache-2.0
/// The timeline: what happened, in lanes. Click or drag puts the ground to that moment.
#pragma once

#include "app/lanes.h"
#include "app/selection.h"
#include "app/stage.h"

#include <QAbstractScrollArea>

#include <set>

namespace snare::app {

class TimelineView : public QAbstractScrollArea {
    Q_OBJECT

  public:
    TimelineView(Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Where a moment of a lane is drawn, in the viewport; nothing if the lane is not shown.
    std::optional<QPointF> pointOf(const std::string& laneKey, double tick) const;
    const std::vector<Lane>& lanes() const { return lanes_; }
    void zoom(double factor, double aroundX);
    void showAll();

  signals:
    void snareChosen(const QString& snare);
    void pieceChosen(const QString& piece);
    void hint(const QString& text);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    struct Row {
        const Lane* lane = nullptr;
        const Lane* before = nullptr; ///< the same lane of the earlier record
        double top = 0;
        double height = 0;
    };

    /// Something that can be clicked.
    struct Hit {
        std::int32_t line = -1;
        double at = 0;
        QString text;
        QString snare;
        QString piece;
    };

    void rebuild();
    void layOut();
    double xOf(double tick) const;
    double tickAt(double x) const;
    double secondsShown() const;
    Hit hitAt(const QPointF& point) const;
    void dragTo(double x);

    void paintRuler(QPainter& painter);
    void paintRow(QPainter& painter, const Row& row);
    void paintBar(QPainter& painter, const Row& row, const LaneBar& bar, bool ghost);
    void paintMark(QPainter& painter, const Row& row, const LaneMark& mark, bool ghost);
    void paintSteps(QPainter& painter, const Row& row);
    void paintCursor(QPainter& painter);
    QColor colourOf(const LaneBar& bar) const;

    Stage& stage_;
    Selection& selection_;
    std::vector<Lane> lanes_;
    std::vector<Lane> lanesBefore_;
    std::set<std::int32_t> fresh_;
    std::set<std::int32_t> gone_;
    std::vector<Row> rows_;
    double zoom_ = 1;   ///< 1: the whole record fits
    double offset_ = 0; ///< seconds at the left edge
    bool dragging_ = false;
};

} // namespace snare::app
