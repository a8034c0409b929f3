// SPDX-License-Identifier: Apache-2.0
/// Slots for the fields of a look: colour, picture and its frames, words, gauge, glow. Cards of
/// pieces have them in a row, responses in a panel of their own.
#pragma once

#include "app/slots/field_panel.h"

#include <QAbstractButton>
#include <QImage>

namespace snare::app {

/// Where a look is read and changed. `get` is nullptr once it is no longer there.
struct LookAccess {
    std::function<const scene::Look*()> get;
    std::function<void(const std::function<void(scene::Look&)>& change)> edit;
};

/// The slots of a look, called "look FIELD", with the questions that the tables cannot ask.
FieldSource lookFields(Document& document, const LookAccess& access);

/// A small picture of a look with its name, in a strip.
class LookChip : public QAbstractButton {
    Q_OBJECT

  public:
    LookChip(const QString& name, const scene::Look& look, const QImage& picture, QWidget* parent);

    QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QString colour_;
    QString words_;
    double glow_;
    QImage picture_;
};

/// A panel over the window with the slots of one look, for responses that have one written out.
class LookPanel : public FieldPanel {
    Q_OBJECT

  public:
    /// Opens below `anchor`.
    static LookPanel* open(QWidget* anchor, Document& document, const QString& title, LookAccess access);

  protected:
    QString title() const override { return access_.get() ? title_ : QString(); }
    void fill(QVBoxLayout* column) override;

  private:
    LookPanel(QWidget* anchor, Document& document, QString title, LookAccess access);

    QString title_;
    LookAccess access_;
};

} // namespace snare::app
