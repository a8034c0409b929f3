// SPDX-License-Identifier: Apache-2.0
/// The selected piece in words and numbers: group, tags, place, body, shapes, and who is inside now.
#pragma once

#include "app/document.h"
#include "app/selection.h"
#include "app/slot_button.h"
#include "app/stage.h"

#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace snare::app {

class FlowLayout;

class PieceCard : public QWidget {
    Q_OBJECT

  public:
    PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Builds the card anew for the selection, if it shows something else.
    void refresh();
    /// Who is inside at the cursor.
    void refreshInside();

  private:
    using Change = std::function<void(scene::Piece&)>;

    void build();
    void buildShape(QVBoxLayout* layout, std::size_t index);
    void word(FlowLayout* line, const QString& text);
    SlotButton* slot(FlowLayout* line, const QString& name, const QString& text,
                     SlotButton::Kind kind = SlotButton::Kind::filled);
    void edit(const QString& name, const Change& change);
    void editNumbers(QWidget* anchor, const QString& title, const QString& typed, int count, double lowest,
                     bool lowestOpen, const QString& step,
                     const std::function<void(scene::Piece&, const std::vector<double>&)>& set);
    void editBody(QWidget* anchor);
    void editProperties(QWidget* anchor);

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    std::vector<std::string> shownIds_;
    scene::Piece shown_;
    QString shownTitle_;
    bool built_ = false;
    QWidget* body_ = nullptr;
    QLabel* inside_ = nullptr;
};

} // namespace snare::app
