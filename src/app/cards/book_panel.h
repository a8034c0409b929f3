// SPDX-License-Identifier: Apache-2.0
/// `Book`: all snares.
#pragma once

#include "app/cards/card_list.h"

class QLineEdit;
class QToolButton;

namespace snare::app {

/// `Book`: all snares in the order in which they are asked, with search and filters.
class BookPanel : public QWidget {
    Q_OBJECT

  public:
    BookPanel(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    void refresh();
    /// Narrows the book to what has these words.
    void find(const QString& words);
    CardList* cards() { return cards_; }

  private:
    /// A filter that is chosen from a list.
    struct Chip {
        QToolButton* button;
        QString word; ///< "event"
        QString chosen;
    };

    void chooseEvent();
    void choosePiece();
    void chooseState();
    void choose(Chip& chip, std::vector<struct Choice> choices);
    bool passes(const scene::Snare& snare) const;

    Document& document_;
    Selection& selection_;
    CardList* cards_;
    QLineEdit* search_;
    QLabel* count_;
    Chip event_;
    Chip piece_;
    Chip state_;
};

} // namespace snare::app
