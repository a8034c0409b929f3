// SPDX-License-Identifier: Apache-2.0
/// The small instruments of the desk: a meter, a pad for strokes and what became of one, a stick.
#pragma once

#include "desk/strokes.h"
#include "geometry/vec.h"

#include <QWidget>

#include <vector>

namespace snare::app {

/// A line of the last seconds of what a device measures, with the number itself.
class Meter : public QWidget {
    Q_OBJECT

  public:
    static constexpr std::size_t length = 180; ///< values that have room

    explicit Meter(const QString& name, QWidget* parent = nullptr);
    void setRange(double low, double high);
    void add(double value);
    /// A curve instead of what was measured: what the device would do.
    void preview(std::vector<double> values);
    QSize sizeHint() const override { return {240, 44}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::vector<double> values_;
    bool live_ = false; ///< measured, not a preview
    double low_ = 0;
    double high_ = 1;
};

/// Where strokes are drawn, with what became of the last one.
class GesturePad : public QWidget {
    Q_OBJECT

  public:
    explicit GesturePad(QWidget* parent = nullptr);
    const desk::Judgement& judgement() const { return judgement_; }
    QSize sizeHint() const override { return {150, 132}; }

  signals:
    void judged();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    std::vector<geometry::Vec> drawn_;
    desk::Judgement judgement_;
};

/// How near the last stroke came to each known one.
class NearnessList : public QWidget {
    Q_OBJECT

  public:
    explicit NearnessList(QWidget* parent = nullptr);
    void show(const desk::Judgement& judgement);
    QSize sizeHint() const override { return {170, 132}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    desk::Judgement judgement_;
};

/// A stick that springs back: from -1 to 1 both ways.
class Stick : public QWidget {
    Q_OBJECT

  public:
    explicit Stick(const QString& name, QWidget* parent = nullptr);
    geometry::Vec value() const { return value_; }
    QSize sizeHint() const override { return {104, 104}; }

  signals:
    void moved();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

  private:
    void set(const geometry::Vec& value);
    geometry::Vec value_{0, 0};
};

} // namespace snare::app
