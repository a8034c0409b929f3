// SPDX-License-Identifier: Apache-2.0
/// What the cards share: a body of words and slots that is built anew when what it shows has
/// changed.
#pragma once

#include "app/ui/slot_button.h"

#include <QFrame>

#include <string_view>

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
    /// A row with a quiet label at its left; all labels of a card stand below each other.
    FlowLayout* row(QVBoxLayout* column, const QString& label);
    /// A plain word of the sentence; `quiet` ones are drawn softer.
    void word(FlowLayout* line, const QString& text, bool quiet = false);
    SlotButton* slot(FlowLayout* line, const QString& name, const QString& text,
                     SlotButton::Kind kind = SlotButton::Kind::filled);

    /// Marks a slot as the place of a field, as "look.colour", for those who look whether each has
    /// one. A slot may be the place of several.
    static void mark(QWidget* slot, std::string_view kind, std::string_view key);

  private:
    QWidget* body_ = nullptr;
};

} // namespace snare::app
