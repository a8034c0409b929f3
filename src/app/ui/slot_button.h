// SPDX-License-Identifier: Apache-2.0
/// A slot in a sentence: a word that can be clicked, or reached with Tab, and changed in place.
#pragma once

#include <QAbstractButton>
#include <QPointer>
#include <QStringList>

#include <functional>
#include <optional>

namespace snare::app {

class NumberDrag;
struct Question;

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
    ~SlotButton() override;

    Kind kind() const { return kind_; }
    /// A question that this slot asks because a number in it is dragged: takes it over, and gives
    /// true. Else false.
    bool takeOver(const Question& question, const std::function<void(const QStringList&)>& answer);
    /// Shows a patch of the colour before the text; one that is no colour shows none.
    void setSwatch(const QColor& colour);

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    Kind kind_;
    bool hovered_ = false;
    int numberAt(int x) const;
    void endDrag();

    QColor swatch_;
    std::optional<QPoint> pressedAt_;
    bool asksForDrag_ = false; ///< the question that comes now is for a number that is dragged
    bool dragged_ = false;     ///< since the press; it is no click then
    QPointer<NumberDrag> drag_;
};

} // namespace snare::app
