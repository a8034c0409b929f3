// SPDX-License-Identifier: Apache-2.0
/// A number in a slot that is dragged sideways: it counts up and down with the pointer, and is the
/// slot's answer when the button is let go.
///
/// The slot asks its question as for a click; instead of its panel a small sign shows the number.
#pragma once

#include "app/ui/question.h"

#include <QLabel>
#include <QPointer>

namespace snare::app {

class NumberDrag : public QLabel {
    Q_OBJECT

  public:
    /// The numbers in a text, by where they begin and how long they are: not those within names or
    /// quotes.
    static std::vector<std::pair<int, int>> numbersIn(const QString& text);

    /// `number`: which of the numbers in what the question begins with. Not to be shown if there is
    /// none.
    NumberDrag(QWidget* slot, Question question, int number, std::function<void(const QStringList&)> answer);

    bool hasNumber() const { return length_ > 0; }
    /// The pointer is `by` pixels right of where it was pressed. Alt: a tenth of a step, Shift:
    /// ten.
    void follow(int by, Qt::KeyboardModifiers modifiers);
    /// The button was let go: the number is the answer, if it is a good one and another.
    void finish();

  private:
    Question question_;
    std::function<void(const QStringList&)> answer_;
    int at_ = 0;
    int length_ = 0;
    double before_ = 0;
    double now_ = 0;
    double step_ = 1;  ///< for so many pixels
    int decimals_ = 0; ///< as it stands
    QString good_;     ///< the last answer that nothing is wrong with
};

} // namespace snare::app
