// SPDX-License-Identifier: Apache-2.0
#include "app/card_list.h"

#include "app/piece_card.h"
#include "app/theme.h"
#include "app/words.h"
#include "scene/mentions.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

CardList::CardList(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QScrollArea(parent), document_(document), stage_(stage), selection_(selection)
{
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    column_ = new QWidget;
    layout_ = new QVBoxLayout{column_};
    layout_->setContentsMargins(10, 8, 10, 12);
    layout_->setSpacing(9);
    layout_->addStretch(1);
    setWidget(column_);
    connect(&stage_, &Stage::recordChanged, this, [this] {
        for (SnareCard* card : cards_)
            card->refreshCounts();
    });
    connect(&selection_, &Selection::changed, this, [this] {
        if (SnareCard* chosen = card(selection_.snare()))
            QMetaObject::invokeMethod(
                this, [this, chosen] { ensureWidgetVisible(chosen, 0, 20); }, Qt::QueuedConnection);
    });
}

SnareCard* CardList::card(const std::string& snare) const
{
    for (SnareCard* card : cards_)
        if (card->snare() == snare)
            return card;
    return nullptr;
}

void CardList::show(const std::vector<Part>& parts, const QString& whenEmpty)
{
    std::vector<std::pair<QString, std::vector<std::string>>> wanted;
    for (const Part& part : parts)
        if (!part.snares.empty())
            wanted.emplace_back(part.heading, part.snares);
    if (wanted.empty())
        wanted.emplace_back(whenEmpty, std::vector<std::string>{});
    if (wanted != shown_) {
        std::vector<SnareCard*> kept;
        const std::vector<SnareCard*> old = std::exchange(cards_, {});
        for (QLabel* heading : std::exchange(headings_, {}))
            heading->deleteLater();
        while (layout_->count() > 0)
            delete layout_->takeAt(0);
        for (const auto& [heading, snares] : wanted) {
            if (!heading.isEmpty()) {
                auto* label = new QLabel{heading, column_};
                label->setFont(textFont(-0.5, true));
                label->setWordWrap(true);
                label->setStyleSheet(QStringLiteral("color: %1").arg(theme().inkSoft.name()));
                layout_->addWidget(label);
                headings_.push_back(label);
            }
            for (const std::string& id : snares) {
                const auto found = std::ranges::find_if(old, [&](SnareCard* card) { return card->snare() == id; });
                SnareCard* card =
                    found != old.end() ? *found : new SnareCard{document_, stage_, selection_, id, column_};
                layout_->addWidget(card);
                card->setVisible(true);
                cards_.push_back(card);
            }
        }
        layout_->addStretch(1);
        for (SnareCard* card : old)
            if (std::ranges::find(cards_, card) == cards_.end()) {
                card->hide();
                card->deleteLater();
            }
        shown_ = std::move(wanted);
    }
    for (SnareCard* card : cards_)
        card->refresh();
}

HerePanel::HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("here"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    piece_ = new PieceCard{document, stage, selection, this};
    layout->addWidget(piece_);
    auto* line = new QFrame{this};
    line->setFixedHeight(1);
    line->setStyleSheet(QStringLiteral("background: %1").arg(theme().hairline.name()));
    layout->addWidget(line);
    cards_ = new CardList{document, stage, selection, this};
    layout->addWidget(cards_, 1);
    connect(&document, &Document::changed, this, &HerePanel::refresh);
    connect(&selection, &Selection::changed, this, &HerePanel::refresh);
    refresh();
}

void HerePanel::refresh()
{
    piece_->refresh();
    const scene::Scene& scene = document_.scene();
    CardList::Part listening;
    CardList::Part acting;
    const std::string piece = selection_.piece();
    if (const scene::Piece* chosen = scene::findPiece(scene, piece)) {
        listening.snares = scene::snaresListeningAt(scene, *chosen);
        acting.snares = scene::snaresActingOn(scene, *chosen);
    } else {
        for (const scene::Snare& snare : scene.snares)
            if (snare.catches.at.empty() || snare.catches.at == "scene")
                listening.snares.push_back(snare.id);
    }
    if (piece.empty())
        listening.heading = tr("At the scene itself");
    acting.heading = tr("Acts on %1 from elsewhere").arg(toText(piece));
    cards_->show(
        {listening, acting},
        piece.empty()
            ? tr("No snare listens at the scene itself.")
            : tr("Nothing listens here yet. Draw a thread (T) from %1 to what it should set off.").arg(toText(piece)));
}

BookPanel::BookPanel(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document)
{
    setObjectName(QStringLiteral("book"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    cards_ = new CardList{document, stage, selection, this};
    layout->addWidget(cards_);
    connect(&document, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void BookPanel::refresh()
{
    CardList::Part all;
    for (const scene::Snare& snare : document_.scene().snares)
        all.snares.push_back(snare.id);
    cards_->show({all},
                 tr("There are no snares yet. Draw a thread (T) from where something happens to what should act."));
}

} // namespace snare::app
