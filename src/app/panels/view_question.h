// SPDX-License-Identifier: Apache-2.0
/// What a new scene asks first, on the ground itself: how it is seen.
#pragma once

#include "app/model/document.h"

#include <QAbstractButton>
#include <QFrame>

namespace snare::app {

/// A large button with a small drawing of a scene that is seen so.
class ViewButton : public QAbstractButton {
    Q_OBJECT

  public:
    ViewButton(scene::View view, const QString& text, const QString& about, QWidget* parent);

    QSize sizeHint() const override { return {208, 148}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    scene::View view_;
    QString about_;
};

/// Stands in the middle of the ground until it is answered, put off with Esc, or something is laid.
class ViewQuestion : public QFrame {
    Q_OBJECT

  public:
    ViewQuestion(Document& document, QWidget* ground);

    /// Asks about the scene that was just begun.
    void ask();

  signals:
    /// Not empty after all: one of the scenes that ship.
    void examplesWanted();

  protected:
    bool event(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void choose(scene::View view);
    void placeInMiddle();
    void leave();

    Document& document_;
    ViewButton* above_;
    ViewButton* side_;
};

} // namespace snare::app
