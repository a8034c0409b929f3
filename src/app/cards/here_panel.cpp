// SPDX-License-Identifier: Apache-2.0
#include "app/cards/here_panel.h"

#include "app/cards/new_snare.h"
#include "app/cards/piece_card.h"
#include "app/ui/accessible.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "scene/assemblies.h"
#include "scene/mentions.h"
#include "scene/models.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace snare::app {

HerePanel::HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("here"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    piece_ = new PieceCard{document, stage, selection, this};
    room_ = new QScrollArea{this};
    giveRole(room_, QAccessible::Pane, tr("Card of what is chosen"));
    room_->setFrameShape(QFrame::NoFrame);
    room_->setWidgetResizable(true);
    room_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    room_->setWidget(piece_);
    room_->viewport()->setAutoFillBackground(false);
    piece_->setAutoFillBackground(false);
    piece_->installEventFilter(this);
    layout->addWidget(room_);
    auto* line = new QFrame{this};
    line->setFixedHeight(1);
    dress(line, [] { return QStringLiteral("background: %1").arg(theme().hairline.name()); });
    layout->addWidget(line);
    cards_ = new CardList{document, stage, selection, this};
    layout->addWidget(cards_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(12, 2, 12, 6);
    auto* add = new SlotButton{tr("+ snare…"), SlotButton::Kind::offer, this};
    add->setObjectName(QStringLiteral("add snare"));
    add->setToolTip(tr("A snare for an event here, or for a key, a timer, a signal…"));
    connect(add, &SlotButton::clicked, this, [this, add] { addSnare(add); });
    foot->addWidget(add);
    foot->addStretch(1);
    layout->addLayout(foot);
    connect(cards_, &CardList::pinWanted, this, [this](const QString& snare) { togglePin(snare.toStdString()); });
    connect(&document, &Document::changed, this, &HerePanel::refresh);
    connect(&selection, &Selection::changed, this, &HerePanel::refresh);
    refresh();
}

/// The card of the piece is as high as it is, up to a part of the column: then it scrolls, and the
/// snares keep their room.
void HerePanel::giveRoom()
{
    constexpr double most = 0.6;
    const int width = std::max(1, room_->viewport()->width());
    const QLayout* rows = piece_->layout();
    const int wanted = rows->hasHeightForWidth() ? rows->totalHeightForWidth(width) : rows->totalSizeHint().height();
    piece_->setMinimumHeight(wanted);
    room_->setFixedHeight(std::min(wanted, std::max(120, static_cast<int>(height() * most))));
    if (piece_->size() != QSize{width, wanted}) // at once, so that what is clicked next is where it is shown
        piece_->resize(width, wanted);
    piece_->layout()->activate();
}

void HerePanel::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    giveRoom();
}

bool HerePanel::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == piece_ && event->type() == QEvent::LayoutRequest)
        giveRoom();
    return QWidget::eventFilter(watched, event);
}

void HerePanel::addSnare(QWidget* anchor)
{
    askNewSnare(anchor, document_, selection_, [this](const std::string& snare) { cards_->openUnfilledSoon(snare); });
}

std::vector<CardField> HerePanel::fields() const
{
    return piece_->fields();
}

void HerePanel::openField(const QString& slot)
{
    piece_->openField(slot);
}

void HerePanel::togglePin(const std::string& snare)
{
    if (std::erase(pinned_, snare) == 0)
        pinned_.push_back(snare);
    refresh();
}

/// What listens at the chosen piece, model or the scene.
CardList::Part HerePanel::listeningPart() const
{
    const scene::Scene& scene = document_.scene();
    CardList::Part part;
    if (!selection_.model().empty()) { // what listens at all that follow it
        const scene::ModelName model = scene::modelNamed(selection_.model());
        part.heading = tr("Listens at all of them");
        for (const scene::Snare& snare : scene.snares)
            if (model.kind == scene::ModelName::Kind::form && snare.catches.at == selection_.model())
                part.snares.push_back(snare.id);
        for (const std::string& card : cardsWithin(scene, model.owner)) {
            const std::string& at = snareOf(scene, keyOf(card))->catches.at;
            if (model.kind == scene::ModelName::Kind::part && scene::splitShape(at).first == "part:" + model.part)
                part.snares.push_back(card);
        }
        return part;
    }
    if (selection_.piece().empty())
        part.heading = tr("At the scene itself");
    if (const scene::Piece* chosen = scene::findPiece(scene, selection_.piece()))
        part.snares = scene::snaresListeningAt(scene, *chosen);
    else
        for (const scene::Snare& snare : scene.snares)
            if (snare.catches.at.empty() || snare.catches.at == "scene")
                part.snares.push_back(snare.id);
    return part;
}

/// What kits bring that listens here, a part for each.
std::vector<CardList::Part> HerePanel::kitParts() const
{
    const scene::Scene& scene = document_.scene();
    const scene::Piece* only = scene::findPiece(scene, selection_.piece());
    std::vector<CardList::Part> parts;
    for (const std::string& kit : scene.kits) {
        CardList::Part part{
            only ? tr("Listens here, from %1").arg(toText(kit)) : tr("At the scene, from %1").arg(toText(kit)), {}};
        for (const std::string& name : scene::keptIn(scene, scene::Thing::snare, kit)) {
            const scene::Snare& snare = *scene::snareIn(scene, kit, name);
            const std::string& at = snare.catches.at;
            const bool isHere = only ? scene::isNamedBy(*only, at)
                                : !selection_.model().empty()
                                    ? at == selection_.model()
                                    : selection_.pieces().empty() && (at.empty() || at == "scene");
            if (isHere)
                part.snares.push_back(CardKey{kit, CardKey::Kind::snare, {}, name}.text());
        }
        parts.push_back(std::move(part));
    }
    return parts;
}

/// What is wired within the laid assembly that is chosen, or of which a part is; nothing if none
/// is.
std::optional<CardList::Part> HerePanel::withinPart() const
{
    const scene::Scene& scene = document_.scene();
    const scene::Piece* one =
        selection_.pieces().empty() ? nullptr : scene::findPiece(scene, selection_.pieces().front());
    if (!one || !one->partOf || scene::wholeOf(scene, one->id).size() < selection_.pieces().size())
        return {};
    const bool isWhole = selection_.piece().empty();
    CardList::Part part;
    for (const std::string& card : cardsWithin(scene, one->partOf->assembly))
        if (isWhole || scene::isNamedBy(*one, snareOf(scene, keyOf(card))->catches.at))
            part.snares.push_back(card);
    part.heading = isWhole ? tr("Within every %1").arg(toText(one->partOf->assembly))
                           : tr("Listens here in every %1").arg(toText(one->partOf->assembly));
    return part;
}

void HerePanel::refresh()
{
    piece_->refresh();
    giveRoom();
    const scene::Scene& scene = document_.scene();
    const std::string piece = selection_.piece();
    CardList::Part listening = listeningPart();
    std::vector<CardList::Part> ofKits = kitParts();
    CardList::Part acting{tr("Acts on %1 from elsewhere").arg(toText(piece)), {}};
    if (const scene::Piece* chosen = scene::findPiece(scene, piece))
        acting.snares = scene::snaresActingOn(scene, *chosen);
    CardList::Part within;
    if (std::optional<CardList::Part> wired = withinPart()) {
        within = std::move(*wired);
        if (piece.empty())
            listening.snares.clear();
    }
    // The chosen snare stays in view wherever it listens: it may have been given another place just
    // now.
    CardList::Part chosen;
    const std::string snare = cardOf(scene, selection_.snare());
    std::vector<CardList::Part> others{listening, within, acting};
    others.insert(others.begin() + 1, ofKits.begin(), ofKits.end());
    const bool isShown = std::ranges::find(pinned_, snare) != pinned_.end() ||
                         std::ranges::any_of(others, [&](const CardList::Part& part) {
                             return std::ranges::find(part.snares, snare) != part.snares.end();
                         });
    if (!snare.empty() && !isShown) {
        chosen.heading = tr("Chosen");
        chosen.snares.push_back(snare);
    }
    CardList::Part pinned;
    pinned.heading = tr("Pinned");
    for (const std::string& id : pinned_)
        if (snareOf(scene, keyOf(id))) {
            pinned.snares.push_back(id);
            std::erase(listening.snares, id);
            std::erase(acting.snares, id);
        }
    cards_->setPinned(pinned_);
    std::vector<CardList::Part> parts{chosen, pinned, listening};
    for (CardList::Part& part : ofKits) {
        std::erase_if(part.snares,
                      [&](const std::string& id) { return std::ranges::find(pinned_, id) != pinned_.end(); });
        parts.push_back(std::move(part));
    }
    parts.push_back(std::move(within));
    parts.push_back(std::move(acting));
    cards_->show(
        parts,
        !selection_.model().empty() ? tr("No snare listens at all of them.")
        : piece.empty()
            ? tr("No snare listens at the scene itself.")
            : tr("Nothing listens here yet. Draw a thread (T) from %1 to what it should set off.").arg(toText(piece)));
}

} // namespace snare::app
