// SPDX-License-Identifier: Apache-2.0
/// A column of snare cards that keeps the cards it has already.
#pragma once

#include "app/cards/snare_card.h"

#include <QScrollArea>
#include <QTimer>

#include <array>
#include <memory>
#include <unordered_map>

class QLabel;

namespace snare::app {

class CardList : public QScrollArea {
    Q_OBJECT

  public:
    CardList(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Shows the cards of these snares, in this order, under headings. An empty heading has no
    /// line. The first few cards are built at once, the others when there is time.
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
    /// Opens the first slot of a new card that a person must fill, when the card has come into
    /// view.
    void openUnfilledSoon(const std::string& snare);
    /// Scrolls to a card.
    void bringUp(const std::string& snare);
    void setPinned(const std::vector<std::string>& pinned);

  signals:
    void eventsWanted(const QString& snare, int part);
    void copyWanted(const QString& snare, QWidget* anchor);
    void generaliseWanted(const QString& snare, QWidget* anchor);
    void pinWanted(const QString& snare);
    void counted();

  private:
    /// Keeps the card that has the focus, else the topmost in view, where it is while cards are
    /// built or change.
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

} // namespace snare::app
