// SPDX-License-Identifier: Apache-2.0
/// The flag of an expectation: whole where it held, torn where it did not.
#pragma once

#include <QPainter>
#include <QWidget>

namespace snare::app {

/// Draws it with the foot of its pole at a point, 14 pixels high.
void paintFlag(QPainter& painter, const QPointF& foot, bool held);

/// A flag by itself.
class FlagSign : public QWidget {
    Q_OBJECT

  public:
    FlagSign(bool held, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    bool held_;
};

} // namespace snare::app
