// SPDX-License-Identifier: Apache-2.0
/// A column of snare cards that keeps the cards it has already; and the two panels made of it, `Here` and `Book`.
#pragma once

#include "app/cards/card_field.h"
#include "app/cards/snare_card.h"

#include <QScrollArea>
#include <QTimer>

#include <array>
#include <memory>
#include <unordered_map>

class QLabel;
class QLineEdit;
class QToolButton;

namespace snare::app {

class PieceCard;

class CardList : public QScrollArea {
    Q_OBJECT

  public:
    CardList(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Shows the cards of these snares, in this order, under headings. An empty heading has no line. The first few
    /// cards are built at once, the others when there is time.
    struct Part {
        QString heading;
        std::vector<std::string> snares;
    };
    void show(const std::vector<Part>& parts, const QString& whenEmpty);
    SnareCard* card(const std::string& snare) const;
    /// Cards can be dragged by their heads; the book follows.
    void allowReordering() { reordering_ = true; }
    void setAllCollapsed(bool collapsed);
    /// Caught, passed the filter, passed the gate and sprang, in the record.
    std::array<int, 4> countsOf(const std::string& snare);
    std::string nameInRun(const std::string& snare) const;
    void setPinned(const std::vector<std::string>& pinned);

  signals:
    void eventsWanted(const QString& snare, int part);
    void copyWanted(const QString& snare, QWidget* anchor);
    void generaliseWanted(const QString& snare, QWidget* anchor);
    void pinWanted(const QString& snare);
    void counted();

  private:
    /// Keeps the card that has the focus, else the topmost in view, where it is while cards are built or change.
    class Still;

    using Columns = std::vector<std::pair<QString, std::vector<std::string>>>; ///< headings and snares
    void followRename(const Columns& wanted);

    void buildSome();
    void count();
    SnareCard* makeCard(const std::string& snare);
    int placeAt(const QPoint& screenPoint) const;
    void showDropLine(const QPoint& screenPoint);
    void drop(const std::string& snare, const QPoint& screenPoint);

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    QWidget* column_;
    QVBoxLayout* layout_;
    QFrame* dropLine_;
    std::vector<SnareCard*> cards_;
    std::vector<QLabel*> headings_;
    Columns shown_;
    std::string chosen_; ///< snare
    std::shared_ptr<const scene::Scene> numbersOf_;
    std::unordered_map<std::string, std::int32_t> numbers_; ///< of the snares of that scene, by name
    std::vector<std::string> pinned_;
    QTimer building_;
    bool reordering_ = false;
    bool collapsed_ = false;
};

/// `Here`: the selected piece and the snares that listen at it or act on it.
class HerePanel : public QWidget {
    Q_OBJECT

  public:
    HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    void refresh();
    CardList* cards() { return cards_; }
    /// Asks for an event, and makes a snare for it at the selected piece or the scene. Its first empty slot opens.
    void addSnare(QWidget* anchor);
    /// The fields of the piece card, and opening one of them.
    std::vector<CardField> fields() const;
    void openField(const QString& slot);

  protected:
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void giveRoom();
    void togglePin(const std::string& snare);

    Document& document_;
    Selection& selection_;
    PieceCard* piece_;
    QScrollArea* room_; ///< the card of the piece scrolls in it
    CardList* cards_;
    std::vector<std::string> pinned_;
};

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
