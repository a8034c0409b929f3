// SPDX-License-Identifier: Apache-2.0
/// A column of snare cards that keeps the cards it has already.
#pragma once

#include "app/snare_card.h"

#include <QScrollArea>

class QLabel;

namespace snare::app {

class PieceCard;

class CardList : public QScrollArea {
    Q_OBJECT

  public:
    CardList(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Shows the cards of these snares, in this order, under headings. An empty heading has no line.
    struct Part {
        QString heading;
        std::vector<std::string> snares;
    };
    void show(const std::vector<Part>& parts, const QString& whenEmpty);
    SnareCard* card(const std::string& snare) const;

  private:
    Document& document_;
    Stage& stage_;
    Selection& selection_;
    QWidget* column_;
    QVBoxLayout* layout_;
    std::vector<SnareCard*> cards_;
    std::vector<QLabel*> headings_;
    std::vector<std::pair<QString, std::vector<std::string>>> shown_;
};

/// `Here`: the selected piece and the snares that listen at it or act on it.
class HerePanel : public QWidget {
    Q_OBJECT

  public:
    HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    void refresh();

  private:
    Document& document_;
    Selection& selection_;
    PieceCard* piece_;
    CardList* cards_;
};

/// `Book`: all snares in the order in which they are asked.
class BookPanel : public QWidget {
    Q_OBJECT

  public:
    BookPanel(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    void refresh();

  private:
    Document& document_;
    CardList* cards_;
};

} // namespace snare::app
