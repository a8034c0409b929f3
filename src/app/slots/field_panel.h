// SPDX-License-Identifier: Apache-2.0
/// A card that floats over the window beside what it is about: for a source of the shelf, or a look
/// written out in a response. It follows the document, and is closed by Esc, by *done*, and when
/// what it is about is gone.
#pragma once

#include "app/slots/field_card.h"

namespace snare::app {

class FieldPanel : public FieldCard {
    Q_OBJECT

  protected:
    /// A panel over the window of `anchor`. It shows nothing before `openAt`.
    FieldPanel(QWidget* anchor, Document& document);

    /// Builds it and shows it below `anchor`, within the screen. It lives as long as the anchor's
    /// window at most.
    void openAt(QWidget* anchor);

    /// What it is called; empty once what it is about is gone.
    virtual QString title() const = 0;
    /// Fills the rows below the title.
    virtual void fill(QVBoxLayout* column) = 0;

    void build(QVBoxLayout* column) final;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void follow();
    void fit();
};

} // namespace snare::app
