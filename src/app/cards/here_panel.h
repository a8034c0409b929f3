// SPDX-License-Identifier: Apache-2.0
/// `Here`: what is selected, and what listens there.
#pragma once

#include "app/cards/card_field.h"
#include "app/cards/card_list.h"

#include <optional>

namespace snare::app {

class PieceCard;

/// `Here`: the selected piece and the snares that listen at it or act on it.
class HerePanel : public QWidget {
    Q_OBJECT

  public:
    HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    void refresh();
    CardList* cards() { return cards_; }
    /// Asks for an event, and makes a snare for it at the selected piece or the scene. Its first
    /// empty slot opens.
    void addSnare(QWidget* anchor);
    /// The fields of the piece card, and opening one of them.
    std::vector<CardField> fields() const;
    void openField(const QString& slot);

  protected:
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void giveRoom();
    CardList::Part listeningPart() const;
    std::vector<CardList::Part> kitParts() const;
    std::optional<CardList::Part> withinPart() const;
    void togglePin(const std::string& snare);

    Document& document_;
    Selection& selection_;
    PieceCard* piece_;
    QScrollArea* room_; ///< the card of the piece scrolls in it
    CardList* cards_;
    std::vector<std::string> pinned_;
};

} // namespace snare::app
