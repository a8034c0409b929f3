// SPDX-License-Identifier: Apache-2.0
/// The curve of a number over the take, with the level that a snare waits for and the band around
/// it as lines that can be dragged (P9).
#pragma once

#include "app/model/stage.h"

#include <QWidget>

namespace snare::app {

class LevelCurve : public QWidget {
    Q_OBJECT

  public:
    /// `falls`: the band lies above the level, where the number must go before it counts again.
    LevelCurve(Stage& stage, const scene::Catch& catches, QWidget* parent = nullptr);

    QSize sizeHint() const override { return {260, 92}; }
    QSize minimumSizeHint() const override { return {120, 92}; }

  signals:
    void levelWanted(double level);
    void bandWanted(double band);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    enum class Line { none, level, band };

    void read();
    double yOf(double value) const;
    double valueAt(double y) const;
    double bandValue() const { return falls_ ? level_ + band_ : level_ - band_; }
    Line lineAt(const QPointF& point) const;

    Stage& stage_;
    scene::Catch catches_;
    bool falls_;
    double level_;
    double band_;
    std::vector<std::pair<std::int64_t, double>> steps_; ///< the number from a tick on
    double low_ = 0;
    double high_ = 1;
    Line held_ = Line::none;
    bool moved_ = false;
};

/// The number that a snare watches, over a record: its value from each tick on at which it changed.
/// Empty if that is not kept.
std::vector<std::pair<std::int64_t, double>> watchedSteps(const sim::Record& record, const scene::Catch& catches);

} // namespace snare::app
