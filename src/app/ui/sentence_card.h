// SPDX-License-Identifier: Apache-2.0
/// What the cards share: a body of words and slots that is built anew when what it shows has changed.
#pragma once

#include "app/ui/slot_button.h"

#include <QFrame>

class QVBoxLayout;

namespace snare::app {

class FlowLayout;

class SentenceCard : public QFrame {
    Q_OBJECT

  public:
    explicit SentenceCard(QWidget* parent = nullptr);

  protected:
    /// Throws the body away and fills a new one; the slot that had the focus keeps it.
    void rebuild();
    /// Fills the new body.
    virtual void build(QVBoxLayout* column) = 0;

    QWidget* body() const { return body_; }
    /// A plain word of the sentence; `quiet` ones are drawn softer.
    void word(FlowLayout* line, const QString& text, bool quiet = false);
    SlotButton* slot(FlowLayout* line, const QString& name, const QString& text,
                     SlotButton::Kind kind = SlotButton::Kind::filled);

  private:
    QWidget* body_ = nullptr;
};

} // namespace snare::app
