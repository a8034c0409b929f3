// SPDX-License-Identifier: Apache-2.0
#include "app/cards/card_list.h"

#include "app/cards/new_snare.h"

#include "app/cards/piece_card.h"
#include "app/slots/conditions.h"
#include "app/slots/slot_fill.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "check/problems.h"
#include "scene/assemblies.h"
#include "scene/mentions.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>

namespace snare::app {

namespace {

constexpr std::size_t builtAtOnce = 6; ///< cards; the others come when there is time

} // namespace

class CardList::Still {
  public:
    explicit Still(CardList& list) : list_(list)
    {
        for (SnareCard* card : list.cards_) {
            const bool focused = card->isAncestorOf(list.window()->focusWidget());
            if (focused || (!card_ && !card->visibleRegion().isEmpty()))
                card_ = card;
            if (focused)
                break;
        }
        if (card_)
            y_ = yOf(*card_);
    }
    ~Still()
    {
        if (!card_ || card_->isHidden())
            return;
        list_.layout_->activate();
        QEvent laidOut{QEvent::LayoutRequest};
        QCoreApplication::sendEvent(list_.column_, &laidOut); // the column takes its new height
        QScrollBar* bar = list_.verticalScrollBar();
        bar->setValue(bar->value() + yOf(*card_) - y_);
    }
    Still(const Still&) = delete;
    Still& operator=(const Still&) = delete;

  private:
    int yOf(const SnareCard& card) const { return card.mapTo(list_.viewport(), QPoint{0, 0}).y(); }

    CardList& list_;
    SnareCard* card_ = nullptr;
    int y_ = 0;
};

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
    dropLine_ = new QFrame{column_};
    dress(dropLine_, [] { return QStringLiteral("background: %1").arg(theme().coral.name()); });
    dropLine_->hide();
    building_.setInterval(12); // the layout settles between two slices
    connect(&building_, &QTimer::timeout, this, &CardList::buildSome);
    connect(&stage_, &Stage::recordChanged, this, &CardList::count);
    connect(&selection_, &Selection::changed, this, [this] {
        // Whatever else is selected meanwhile leaves the column where it is.
        if (std::exchange(chosen_, selection_.snare()) == selection_.snare())
            return;
        if (SnareCard* chosen = card(selection_.snare())) {
            chosen->ensureBuilt();
            QMetaObject::invokeMethod(
                this, [this, chosen] { ensureWidgetVisible(chosen, 0, 20); }, Qt::QueuedConnection);
        }
    });
    count();
}

SnareCard* CardList::makeCard(const std::string& snare)
{
    auto* card = new SnareCard{document_, stage_, selection_, snare, column_};
    card->setCollapsed(collapsed_);
    card->setPinned(std::ranges::find(pinned_, snare) != pinned_.end());
    card->setCounts(countsOf(snare));
    connect(card, &SnareCard::eventsWanted, this, [this](const QString& name, int part) {
        emit eventsWanted(QString::fromStdString(nameInRun(name.toStdString())), part);
    });
    connect(card, &SnareCard::copyWanted, this, &CardList::copyWanted);
    connect(card, &SnareCard::generaliseWanted, this, &CardList::generaliseWanted);
    connect(card, &SnareCard::pinWanted, this, &CardList::pinWanted);
    connect(card, &SnareCard::headDragged, this, &CardList::showDropLine);
    connect(card, &SnareCard::headDropped, this, [this, card](const QPoint& at) { drop(card->snare(), at); });
    return card;
}

/// Builds cards for a part of a frame, those that are seen first.
void CardList::buildSome()
{
    constexpr qint64 longestMs = 8;
    const Still still{*this};
    QElapsedTimer timer;
    timer.start();
    for (const bool seenOnly : {true, false})
        for (SnareCard* card : cards_) {
            if (seenOnly && card->visibleRegion().isEmpty())
                continue;
            card->ensureBuilt();
            if (timer.elapsed() >= longestMs)
                return;
        }
    building_.stop();
}

void CardList::count()
{
    if (stage_.mode() == Stage::Mode::recording && !isVisible())
        return;
    for (SnareCard* card : cards_)
        card->setCounts(countsOf(card->snare()));
    emit counted();
}

/// What a snare is called in a run: that of an assembly, `assembly:lock/open`, as there or `lock.open` (A2).
std::string CardList::nameInRun(const std::string& snare) const
{
    constexpr std::string_view prefix = "assembly:";
    const auto slash = snare.find('/');
    if (!snare.starts_with(prefix) || slash == std::string::npos)
        return snare;
    const std::string bare = snare.substr(slash + 1);
    std::string whole = snare.substr(prefix.size(), slash - prefix.size()) + "." + bare;
    return numbers_.contains(whole) ? whole : bare;
}

std::array<int, 4> CardList::countsOf(const std::string& snare)
{
    const sim::Record& record = stage_.record();
    if (std::exchange(numbersOf_, record.scene) != record.scene) {
        numbers_.clear();
        for (std::size_t i = 0; i < record.scene->snares.size(); ++i)
            numbers_.emplace(record.scene->snares[i].id, static_cast<std::int32_t>(i));
    }
    const auto found = numbers_.find(nameInRun(snare));
    return found == numbers_.end() ? std::array<int, 4>{} : record.index.countsOf(found->second);
}

void CardList::setAllCollapsed(bool collapsed)
{
    collapsed_ = collapsed;
    for (SnareCard* card : cards_)
        card->setCollapsed(collapsed);
}

void CardList::setPinned(const std::vector<std::string>& pinned)
{
    pinned_ = pinned;
    for (SnareCard* card : cards_)
        card->setPinned(std::ranges::find(pinned_, card->snare()) != pinned_.end());
}

/// Before which card a point lies.
int CardList::placeAt(const QPoint& screenPoint) const
{
    const int y = column_->mapFromGlobal(screenPoint).y();
    int place = 0;
    for (const SnareCard* card : cards_)
        place += y > card->geometry().center().y() ? 1 : 0;
    return place;
}

void CardList::showDropLine(const QPoint& screenPoint)
{
    if (!reordering_ || cards_.empty())
        return;
    const auto place = static_cast<std::size_t>(placeAt(screenPoint));
    const int y = place < cards_.size() ? cards_[place]->geometry().top() - 6 : cards_.back()->geometry().bottom() + 4;
    dropLine_->setGeometry(10, y, column_->width() - 20, 3);
    dropLine_->raise();
    dropLine_->QFrame::show();
}

void CardList::drop(const std::string& snare, const QPoint& screenPoint)
{
    dropLine_->hide();
    if (!reordering_)
        return;
    const auto place = static_cast<std::size_t>(placeAt(screenPoint));
    const std::string before = place < cards_.size() ? cards_[place]->snare() : std::string();
    if (before == snare)
        return;
    document_.edit(tr("Reorder snare %1").arg(toText(snare)), [&](scene::Scene& scene) {
        const auto& snares = std::as_const(scene.snares);
        const auto placeOf = [&](const std::string& id) {
            return static_cast<std::size_t>(std::ranges::find(snares, id, &scene::Snare::id) - snares.begin());
        };
        const std::size_t from = placeOf(snare);
        const std::size_t to = placeOf(before); // the end if there is none
        if (from < snares.size())
            scene.snares.move(from, to > from ? to - 1 : to);
    });
}

SnareCard* CardList::card(const std::string& snare) const
{
    for (SnareCard* card : cards_)
        if (card->snare() == snare)
            return card;
    return nullptr;
}

/// A snare that got another name keeps its card, and with it its place and the focus.
void CardList::followRename(const Columns& wanted)
{
    std::vector<std::string> now;
    for (const auto& part : wanted)
        now.insert(now.end(), part.second.begin(), part.second.end());
    if (now.size() != cards_.size())
        return;
    SnareCard* renamed = nullptr;
    std::string name;
    for (std::size_t i = 0; i < now.size(); ++i)
        if (now[i] != cards_[i]->snare()) {
            if (renamed)
                return; // another order, or other snares
            renamed = cards_[i];
            name = now[i];
        }
    if (!renamed || scene::findSnare(document_.scene(), renamed->snare()) || !scene::findSnare(document_.scene(), name))
        return;
    for (auto& part : shown_)
        std::ranges::replace(part.second, renamed->snare(), name);
    renamed->setSnare(name);
}

void CardList::show(const std::vector<Part>& parts, const QString& whenEmpty)
{
    Columns wanted;
    for (const Part& part : parts)
        if (!part.snares.empty())
            wanted.emplace_back(part.heading, part.snares);
    if (wanted.empty())
        wanted.emplace_back(whenEmpty, std::vector<std::string>{});
    followRename(wanted);
    const Still still{*this};
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
                colourText(label, &Theme::inkSoft);
                layout_->addWidget(label);
                headings_.push_back(label);
            }
            for (const std::string& id : snares) {
                const auto found = std::ranges::find_if(old, [&](SnareCard* card) { return card->snare() == id; });
                SnareCard* card = found != old.end() ? *found : makeCard(id);
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
    for (std::size_t i = 0; i < std::min(builtAtOnce, cards_.size()); ++i)
        cards_[i]->ensureBuilt();
    building_.start();
}

HerePanel::HerePanel(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), selection_(selection)
{
    setObjectName(QStringLiteral("here"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    piece_ = new PieceCard{document, stage, selection, this};
    room_ = new QScrollArea{this};
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

namespace {

/// The card comes into view first.
void openUnfilledSoon(CardList* cards, const std::string& snare)
{
    const auto open = [cards, snare] {
        if (SnareCard* card = cards->card(snare))
            card->openUnfilled();
    };
    QMetaObject::invokeMethod(cards, open, Qt::QueuedConnection);
}

} // namespace

/// The card of the piece is as high as it is, up to a part of the column: then it scrolls, and the snares keep their
/// room.
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
    askNewSnare(anchor, document_, selection_, [this](const std::string& snare) { openUnfilledSoon(cards_, snare); });
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

void HerePanel::refresh()
{
    piece_->refresh();
    giveRoom();
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
    // What is wired within the laid assembly that is chosen, or of which a part is.
    CardList::Part within;
    const scene::Piece* one =
        selection_.pieces().empty() ? nullptr : scene::findPiece(scene, selection_.pieces().front());
    if (one && one->partOf && scene::wholeOf(scene, one->id).size() >= selection_.pieces().size()) {
        if (const scene::Assembly* assembly = scene.assemblies.find(one->partOf->assembly))
            for (const scene::Snare& snare : assembly->snares)
                if (piece.empty() || scene::isNamedBy(*one, snare.catches.at))
                    within.snares.push_back("assembly:" + one->partOf->assembly + "/" + snare.id);
        within.heading = piece.empty() ? tr("Within every %1").arg(toText(one->partOf->assembly))
                                       : tr("Listens here in every %1").arg(toText(one->partOf->assembly));
        if (piece.empty())
            listening.snares.clear();
    }
    // The chosen snare stays in view wherever it listens: it may have been given another place just now.
    CardList::Part chosen;
    const std::string& snare = selection_.snare();
    const auto holds = [&](const CardList::Part& part) {
        return std::ranges::find(part.snares, snare) != part.snares.end();
    };
    if (scene::findSnare(scene, snare) && !holds(listening) && !holds(acting) &&
        std::ranges::find(pinned_, snare) == pinned_.end()) {
        chosen.heading = tr("Chosen");
        chosen.snares.push_back(snare);
    }
    if (piece.empty())
        listening.heading = tr("At the scene itself");
    acting.heading = tr("Acts on %1 from elsewhere").arg(toText(piece));
    CardList::Part pinned;
    pinned.heading = tr("Pinned");
    for (const std::string& id : pinned_)
        if (scene::findSnare(scene, id)) {
            pinned.snares.push_back(id);
            std::erase(listening.snares, id);
            std::erase(acting.snares, id);
        }
    cards_->setPinned(pinned_);
    cards_->show(
        {chosen, pinned, listening, within, acting},
        piece.empty()
            ? tr("No snare listens at the scene itself.")
            : tr("Nothing listens here yet. Draw a thread (T) from %1 to what it should set off.").arg(toText(piece)));
}

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
        askNewSnare(add, document_, selection_, [this](const std::string& snare) { openUnfilledSoon(cards_, snare); });
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
        (state == QLatin1String("problems") && check::problemsOf(scene, snare).empty()))
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
    CardList::Part routines{tr("Routines"), {}};
    if (event_.chosen.isEmpty() && piece_.chosen.isEmpty() && state_.chosen.isEmpty())
        for (const auto& entry : document_.scene().routines.entries)
            if (toText(entry.first).contains(search_->text().trimmed(), Qt::CaseInsensitive))
                routines.snares.push_back("routine:" + entry.first);
    cards_->show({all, routines}, total > 0
                                      ? tr("No snare is like that.")
                                      : tr("There are no snares yet. Draw a thread (T) from where something happens to "
                                           "what should act."));
}

} // namespace snare::app
