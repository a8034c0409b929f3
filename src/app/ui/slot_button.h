// SPDX-License-Identifier: Apache-2.0
/// A slot in a sentence: a word that can be clicked, or reached with Tab, and changed in place.
#pragma once

#include <QAbstractButton>

namespace snare::app {

class SlotButton : public QAbstractButton {
    Q_OBJECT

  public:
    enum class Kind {
        filled, ///< has a value
        empty,  ///< still needs one
        offer,  ///< "+ only if…": adds something
        action  ///< a number or name with a menu
    };

    SlotButton(const QString& text, Kind kind, QWidget* parent = nullptr);

    Kind kind() const { return kind_; }
    /// Shows a patch of the colour before the text; one that is no colour shows none.
    void setSwatch(const QColor& colour);

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    Kind kind_;
    bool hovered_ = false;
    QColor swatch_;
};

} // namespace snare::app
