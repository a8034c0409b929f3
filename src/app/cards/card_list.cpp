// SPDX-License-Identifier: Apache-2.0
#include "app/cards/card_list.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QScrollBar>
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
    connect(&document_.findings(), &FindingsWatch::changed, this, [this] {
        for (SnareCard* card : cards_)
            card->refresh();
    });
    connect(&selection_, &Selection::changed, this, [this] {
        // Whatever else is selected meanwhile leaves the column where it is.
        if (std::exchange(chosen_, selection_.snare()) == selection_.snare())
            return;
        if (SnareCard* chosen = card(cardOf(document_.scene(), selection_.snare()))) {
            bringUp(chosen->snare());
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
        emit eventsWanted(QString::fromStdString(nameInRun(document_.scene(), keyOf(name.toStdString()))), part);
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

std::array<int, 4> CardList::countsOf(const std::string& snare)
{
    const sim::Record& record = stage_.record();
    if (std::exchange(numbersOf_, record.scene) != record.scene) {
        numbers_.clear();
        for (std::size_t i = 0; i < record.scene->snares.size(); ++i)
            numbers_.emplace(record.scene->snares[i].id, static_cast<std::int32_t>(i));
    }
    const auto found = numbers_.find(nameInRun(document_.scene(), keyOf(snare)));
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

void CardList::bringUp(const std::string& snare)
{
    if (SnareCard* one = card(snare))
        one->ensureBuilt();
    QMetaObject::invokeMethod(
        this,
        [this, snare] {
            if (SnareCard* one = card(snare))
                ensureWidgetVisible(one, 0, 20);
        },
        Qt::QueuedConnection);
}

void CardList::openUnfilledSoon(const std::string& snare)
{
    const auto open = [this, snare] {
        if (SnareCard* one = card(snare))
            one->openUnfilled();
    };
    QMetaObject::invokeMethod(this, open, Qt::QueuedConnection);
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

} // namespace snare::app
