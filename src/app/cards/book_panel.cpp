// SPDX-License-Identifier: Apache-2.0
#include "app/cards/book_panel.h"

#include "app/cards/new_snare.h"
#include "app/model/findings_watch.h"
#include "app/slots/choices.h"
#include "app/slots/conditions.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/mentions.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>

namespace snare::app {

BookPanel::BookPanel(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("book"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 8, 0, 0);
    layout->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 0, 12, 0);
    search_ = new QLineEdit{this};
    search_->setObjectName(QStringLiteral("bookSearch"));
    search_->setPlaceholderText(tr("find in names, notes and sentences"));
    search_->setAccessibleName(tr("Search the book"));
    search_->setClearButtonEnabled(true);
    top->addWidget(search_, 1);
    auto* fold = new QToolButton{this};
    fold->setObjectName(QStringLiteral("collapseAll"));
    fold->setText(tr("Collapse"));
    fold->setCheckable(true);
    fold->setAutoRaise(true);
    top->addWidget(fold);
    auto* add = new QToolButton{this};
    add->setObjectName(QStringLiteral("bookAdd"));
    add->setText(tr("+ snare"));
    add->setAutoRaise(true);
    add->setToolTip(tr("A snare for any event: at a piece, or for a key, a timer, a signal…"));
    connect(add, &QToolButton::clicked, this, [this, add] {
        askNewSnare(add, document_, selection_, [this](const std::string& snare) { cards_->openUnfilledSoon(snare); });
    });
    top->addWidget(add);
    layout->addLayout(top);
    auto* chips = new QHBoxLayout;
    chips->setContentsMargins(12, 0, 12, 0);
    chips->setSpacing(6);
    const auto chip = [&](const QString& word, const QString& name, void (BookPanel::*ask)()) {
        auto* button = new QToolButton{this};
        button->setObjectName(name);
        button->setAutoRaise(true);
        button->setText(tr("%1: any ▾").arg(word));
        button->setFont(textFont(-0.5));
        connect(button, &QToolButton::clicked, this, ask);
        chips->addWidget(button);
        return Chip{button, word, {}};
    };
    event_ = chip(tr("event"), QStringLiteral("bookEvent"), &BookPanel::chooseEvent);
    piece_ = chip(tr("piece"), QStringLiteral("bookPiece"), &BookPanel::choosePiece);
    state_ = chip(tr("state"), QStringLiteral("bookState"), &BookPanel::chooseState);
    chips->addStretch(1);
    count_ = new QLabel{this};
    count_->setObjectName(QStringLiteral("bookCount"));
    colourText(count_, &Theme::inkSoft);
    chips->addWidget(count_);
    layout->addLayout(chips);
    cards_ = new CardList{document, stage, selection, this};
    cards_->allowReordering();
    layout->addWidget(cards_, 1);
    connect(search_, &QLineEdit::textChanged, this, &BookPanel::refresh);
    connect(fold, &QToolButton::toggled, cards_, &CardList::setAllCollapsed);
    connect(&document, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    connect(cards_, &CardList::counted, this, [this] {
        if (isVisible() && !state_.chosen.isEmpty())
            refresh();
    });
}

void BookPanel::find(const QString& words)
{
    search_->setText(words);
}

void BookPanel::choose(Chip& chip, std::vector<Choice> choices)
{
    Question question;
    question.title = tr("Snares by %1").arg(chip.word);
    question.choices.push_back({QStringLiteral("any"), tr("any"), {}, {}});
    for (Choice& choice : choices)
        question.choices.push_back(std::move(choice));
    SlotPopup::ask(chip.button, question, [this, &chip](const QStringList& answer) {
        chip.chosen = answer.front() == QLatin1String("any") ? QString() : answer.front();
        chip.button->setText(tr("%1: %2 ▾").arg(chip.word, chip.chosen.isEmpty() ? tr("any") : chip.chosen));
        refresh();
    });
}

void BookPanel::chooseEvent()
{
    std::vector<Choice> choices;
    for (const auto& entry : scene::wordsOf<scene::EventKind>) {
        const auto count = std::ranges::count_if(document_.scene().snares, [&](const scene::Snare& snare) {
            return std::ranges::find(snare.catches.event.items, entry.value) != snare.catches.event.items.end();
        });
        if (count > 0)
            choices.push_back(
                {toText(entry.word), {}, app::counted(static_cast<std::size_t>(count), tr("snare"), tr("snares")), {}});
    }
    choose(event_, std::move(choices));
}

void BookPanel::choosePiece()
{
    choose(piece_, pieceChoices(document_.scene()));
}

void BookPanel::chooseState()
{
    choose(state_, {{QStringLiteral("listening"), {}, tr("armed at the start"), {}},
                    {QStringLiteral("disarmed"), {}, tr("waits to be armed"), {}},
                    {QStringLiteral("sprang"), {}, tr("at least once in this take"), {}},
                    {QStringLiteral("never sprang"), {}, tr("in this take"), {}},
                    {QStringLiteral("never caught"), {}, tr("nothing came by in this take"), {}},
                    {QStringLiteral("problems"), {}, tr("cannot work as it is"), tr("errors wrong")}});
}

bool BookPanel::passes(const scene::Snare& snare) const
{
    const scene::Scene& scene = document_.scene();
    if (!event_.chosen.isEmpty() && std::ranges::none_of(snare.catches.event.items, [&](scene::EventKind kind) {
            return toText(scene::wordOf(kind)) == event_.chosen;
        }))
        return false;
    if (const scene::Piece* piece = scene::findPiece(scene, piece_.chosen.toStdString()); !piece_.chosen.isEmpty()) {
        if (!piece)
            return false;
        const auto listens = scene::snaresListeningAt(scene, *piece);
        const auto acts = scene::snaresActingOn(scene, *piece);
        if (std::ranges::find(listens, snare.id) == listens.end() && std::ranges::find(acts, snare.id) == acts.end())
            return false;
    }
    const std::array<int, 4> counts = cards_->countsOf(snare.id);
    const QString& state = state_.chosen;
    if ((state == QLatin1String("listening") && !snare.armed) || (state == QLatin1String("disarmed") && snare.armed) ||
        (state == QLatin1String("sprang") && counts[3] == 0) ||
        (state == QLatin1String("never sprang") && counts[3] > 0) ||
        (state == QLatin1String("never caught") && counts[0] > 0) ||
        (state == QLatin1String("problems") && document_.findings().at({check::Place::Of::snare, snare.id}).empty()))
        return false;
    const QStringList words = search_->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (words.isEmpty())
        return true;
    const QString all = plainSentence(snare);
    return std::ranges::all_of(words, [&](const QString& word) { return all.contains(word, Qt::CaseInsensitive); });
}

void BookPanel::refresh()
{
    CardList::Part all;
    for (const scene::Snare& snare : document_.scene().snares)
        if (passes(snare))
            all.snares.push_back(snare.id);
    const std::size_t total = document_.scene().snares.size();
    count_->setText(all.snares.size() == total ? QString() : tr("%1 of %2").arg(all.snares.size()).arg(total));
    std::vector<CardList::Part> parts{all};
    if (event_.chosen.isEmpty() && piece_.chosen.isEmpty() && state_.chosen.isEmpty()) {
        const QString sought = search_->text().trimmed();
        const auto add = [&](const QString& heading, const std::vector<std::string>& cards) {
            CardList::Part part{heading, {}};
            for (const std::string& card : cards)
                if (toText(card).contains(sought, Qt::CaseInsensitive))
                    part.snares.push_back(card);
            parts.push_back(std::move(part));
        };
        const scene::Scene& scene = document_.scene();
        const auto cardsIn = [&](scene::Thing kind, const std::string& home) {
            std::vector<std::string> cards;
            const bool isRoutine = kind == scene::Thing::routine;
            for (const std::string& name : scene::keptIn(scene, kind, home))
                cards.push_back(
                    CardKey{home, isRoutine ? CardKey::Kind::routine : CardKey::Kind::snare, {}, name}.text());
            return cards;
        };
        for (const std::string& assembly : scene::allShared(scene, scene::Thing::assembly))
            add(tr("Within every %1").arg(toText(assembly)), cardsWithin(scene, assembly));
        add(tr("Routines"), cardsIn(scene::Thing::routine, {}));
        for (const std::string& kit : scene.kits) {
            add(tr("Snares of %1").arg(toText(kit)), cardsIn(scene::Thing::snare, kit));
            add(tr("Routines of %1").arg(toText(kit)), cardsIn(scene::Thing::routine, kit));
        }
    }
    cards_->show(parts, total > 0 ? tr("No snare is like that.")
                                  : tr("There are no snares yet. Draw a thread (T) from where something happens to "
                                       "what should act."));
}

} // namespace snare::app
