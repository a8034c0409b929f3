// SPDX-License-Identifier: Apache-2.0
/// The funnel of a snare: caught → filter → gate → sprang, counted over the take. A part that is
/// clicked shows its events.
#pragma once

#include <QWidget>

namespace snare::app {

class Funnel : public QWidget {
    Q_OBJECT

  public:
    explicit Funnel(QWidget* parent = nullptr);
    void setCounts(int caught, int filter, int gate, int sprung);
    QSize sizeHint() const override { return {280, 24}; }

  signals:
    /// A part was clicked: 0 caught, 1 filter, 2 gate, 3 sprang.
    void partClicked(int part);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    int counts_[4] = {};
    double ends_[4] = {}; ///< right edges of the parts, pixels
};

} // namespace snare::app
