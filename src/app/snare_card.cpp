// SPDX-License-Identifier: Apache-2.0
#include "app/snare_card.h"

#include "app/flow_layout.h"
#include "app/funnel.h"
#include "app/key_names.h"
#include "app/pieces_panel.h"
#include "app/slot_fill.h"
#include "app/theme.h"
#include "app/words.h"
#include "check/problems.h"
#include "scene/mentions.h"

#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

using scene::EventFamily;
using scene::EventKind;

namespace {

std::vector<scene::Condition>* filterConditions(scene::Snare& snare)
{
    return &snare.filter.when;
}

} // namespace

// --- card ----------------------------------------------------------------------------------------------------------

SnareCard::SnareCard(Document& document, Stage& stage, Selection& selection, std::string snare, QWidget* parent)
    : SentenceCard(parent), document_(document), stage_(stage), selection_(selection), id_(std::move(snare))
{
    setObjectName(QStringLiteral("card ") + toText(id_));
    setAccessibleName(tr("Snare %1").arg(toText(id_)));
    layout()->setContentsMargins(14, 10, 12, 10);
    setMinimumHeight(40);
    connect(&selection_, &Selection::changed, this, qOverload<>(&QWidget::update));
    if (const scene::Snare* found = scene::findSnare(document_.scene(), id_))
        shown_ = *found;
}

bool SnareCard::ensureBuilt()
{
    if (built_)
        return false;
    built_ = true;
    shown_.id.clear(); // so that it counts as changed
    refresh();
    return true;
}

void SnareCard::refresh()
{
    const scene::Snare* snare = scene::findSnare(document_.scene(), id_);
    if (!snare || !built_)
        return;
    std::vector<std::string> problems = check::problemsOf(document_.scene(), *snare);
    QString state = tr("listening");
    if (!snare->armed) {
        const std::vector<std::string> armers = scene::armersOf(document_.scene(), id_);
        state = armers.empty() ? tr("disarmed, nothing arms it")
                               : tr("disarmed, armed by %1").arg(joined(armers, tr("or")));
    }
    if (*snare == shown_ && problems == problems_ && state == stateText_)
        return;
    shown_ = *snare;
    problems_ = std::move(problems);
    stateText_ = state;
    rebuild();
    update();
}

void SnareCard::setCounts(const std::array<int, 4>& counts)
{
    counts_ = counts;
    if (!funnel_)
        return;
    funnel_->setCounts(counts[0], counts[1], counts[2], counts[3]);
    funnel_->setVisible(stage_.record().lastTick() > 0);
}

void SnareCard::setCollapsed(bool collapsed)
{
    if (std::exchange(collapsed_, collapsed) != collapsed && built_)
        rebuild();
}

void SnareCard::setPinned(bool pinned)
{
    if (std::exchange(pinned_, pinned) != pinned && built_)
        rebuild();
}

void SnareCard::edit(const QString& name, const Change& change)
{
    document_.edit(name.arg(toText(id_)), [&](scene::Scene& scene) {
        if (scene::Snare* snare = scene::findSnare(scene, id_))
            change(*snare);
    });
}

void SnareCard::build(QVBoxLayout* column)
{
    funnel_ = nullptr;
    numbers_.clear();
    buildHead(column);
    if (collapsed_) {
        const QString sentence = tr("%1 %2 %3 · %4")
                                     .arg(visitorText(shown_), eventText(shown_.catches), whereText(shown_.catches),
                                          counted(shown_.responses.size(), tr("response"), tr("responses")));
        auto* line = new QLabel{sentence, body()};
        line->setStyleSheet(QStringLiteral("color: %1").arg(theme().inkSoft.name()));
        line->setTextFormat(Qt::PlainText);
        line->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        column->addWidget(line);
        return;
    }
    buildNote(column);
    buildProblems(column);
    auto* sentence = new FlowLayout{nullptr};
    buildCatch(sentence);
    column->addLayout(sentence);
    auto* conditions = new FlowLayout{nullptr};
    buildConditions(conditions);
    column->addLayout(conditions);
    for (std::size_t i = 0; i < shown_.responses.size(); ++i)
        buildResponse(column, i);
    auto* add = new FlowLayout{nullptr};
    SlotButton* offer = slot(add, QStringLiteral("add response"), tr("+ response"), SlotButton::Kind::offer);
    connect(offer, &SlotButton::clicked, this, [this, offer] { offerResponses(offer); });
    if (shown_.note.empty()) {
        SlotButton* note = slot(add, QStringLiteral("note"), tr("+ note"), SlotButton::Kind::offer);
        connect(note, &SlotButton::clicked, this, [this, note] { editNote(note); });
    }
    column->addLayout(add);
    funnel_ = new Funnel{body()};
    connect(funnel_, &Funnel::partClicked, this, [this](int part) { emit eventsWanted(toText(id_), part); });
    column->addWidget(funnel_);
    setCounts(counts_);
}

void SnareCard::buildHead(QVBoxLayout* layout)
{
    auto* head = new QHBoxLayout;
    head->setSpacing(2);
    auto* fold =
        new SlotButton{collapsed_ ? QStringLiteral("▸") : QStringLiteral("▾"), SlotButton::Kind::action, body()};
    fold->setObjectName(QStringLiteral("fold"));
    fold->setAccessibleName(collapsed_ ? tr("Open the card") : tr("Collapse the card"));
    fold->setFixedWidth(16);
    connect(fold, &SlotButton::clicked, this, [this] { setCollapsed(!collapsed_); });
    head->addWidget(fold);
    auto* name = new SlotButton{toText(id_), SlotButton::Kind::action, body()};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(0.5, true));
    name->setToolTip(tr("Rename"));
    connect(name, &SlotButton::clicked, this, [this, name] {
        askForName(name, document_, scene::Thing::snare, id_,
                   [this](const std::string& to) { selection_.chooseSnare(to, shown_.catches.at); });
    });
    head->addWidget(name);
    head->addStretch();
    auto* state = new SlotButton{stateText_, SlotButton::Kind::offer, body()};
    state->setObjectName(QStringLiteral("armed"));
    state->setToolTip(tr("Whether it listens at the start"));
    connect(state, &SlotButton::clicked, this, [this] {
        edit(shown_.armed ? tr("Disarm %1") : tr("Arm %1"), [](scene::Snare& snare) { snare.armed = !snare.armed; });
    });
    head->addWidget(state);
    auto* more =
        new SlotButton{pinned_ ? QStringLiteral("● ⋯") : QStringLiteral("⋯"), SlotButton::Kind::action, body()};
    more->setObjectName(QStringLiteral("more"));
    more->setAccessibleName(tr("More about snare %1").arg(toText(id_)));
    connect(more, &SlotButton::clicked, this, [this, more] { showMenu(more->mapToGlobal(QPoint{0, more->height()})); });
    head->addWidget(more);
    layout->addLayout(head);
}

void SnareCard::buildNote(QVBoxLayout* layout)
{
    if (shown_.note.empty())
        return;
    auto* line = new FlowLayout{nullptr};
    SlotButton* note = slot(line, QStringLiteral("note"), toText(shown_.note), SlotButton::Kind::action);
    note->setToolTip(toText(shown_.note));
    connect(note, &SlotButton::clicked, this, [this, note] { editNote(note); });
    layout->addLayout(line);
}

void SnareCard::editNote(QWidget* anchor)
{
    Question question;
    question.title = tr("A remark for people; empty: none");
    question.freeText = true;
    question.typed = toText(shown_.note);
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change the note of %1"), [&](scene::Snare& snare) { snare.note = answer.front().toStdString(); });
    });
}

/// A card that cannot work says so in place.
void SnareCard::buildProblems(QVBoxLayout* layout)
{
    for (const std::string& problem : problems_) {
        auto* label = new QLabel{QStringLiteral("△ ") + toText(problem), body()};
        label->setObjectName(QStringLiteral("problem"));
        label->setTextFormat(Qt::PlainText);
        label->setWordWrap(true);
        label->setStyleSheet(QStringLiteral("color: %1").arg(theme().coralText.name()));
        layout->addWidget(label);
    }
}

void SnareCard::showMenu(const QPoint& at)
{
    QMenu menu{this};
    menu.addAction(tr("Copy to other pieces…"), this, [this] { emit copyWanted(toText(id_), this); });
    if (scene::findPiece(document_.scene(), shown_.catches.at))
        menu.addAction(tr("One for a tag, group or template…"), this,
                       [this] { emit generaliseWanted(toText(id_), this); });
    menu.addAction(pinned_ ? tr("Unpin") : tr("Pin: stay while other things are selected"), this,
                   [this] { emit pinWanted(toText(id_)); });
    menu.addSeparator();
    const auto move = [&](const QString& text, int by) {
        menu.addAction(text, this, [this, by] {
            document_.edit(tr("Reorder snare %1").arg(toText(id_)), [&](scene::Scene& scene) {
                const auto found = std::ranges::find(scene.snares, id_, &scene::Snare::id);
                const auto other = found + by;
                if (found != scene.snares.end() && other >= scene.snares.begin() && other < scene.snares.end())
                    std::iter_swap(found, other);
            });
        });
    };
    move(tr("Earlier in the book"), -1);
    move(tr("Later in the book"), 1);
    menu.addSeparator();
    menu.addAction(tr("Delete"), this, [this] {
        document_.edit(tr("Delete snare %1").arg(toText(id_)), [&](scene::Scene& scene) {
            std::erase_if(scene.snares, [&](const scene::Snare& one) { return one.id == id_; });
        });
    });
    menu.exec(at);
}

void SnareCard::contextMenuEvent(QContextMenuEvent* event)
{
    showMenu(event->globalPos());
}

void SnareCard::mousePressEvent(QMouseEvent* event)
{
    pressedAt_ = event->position().toPoint();
    dragging_ = false;
    if (event->button() == Qt::LeftButton)
        selection_.chooseSnare(id_, scene::findPiece(document_.scene(), shown_.catches.at) ? shown_.catches.at
                                                                                           : std::string());
}

/// By its head it can be put elsewhere in the book.
void SnareCard::mouseMoveEvent(QMouseEvent* event)
{
    constexpr int headHeight = 34;
    if (!(event->buttons() & Qt::LeftButton) || pressedAt_.y() > headHeight)
        return;
    if (!dragging_ && (event->position().toPoint() - pressedAt_).manhattanLength() < 8)
        return;
    dragging_ = true;
    setCursor(Qt::ClosedHandCursor);
    emit headDragged(event->globalPosition().toPoint());
}

void SnareCard::mouseReleaseEvent(QMouseEvent* event)
{
    if (!std::exchange(dragging_, false))
        return;
    unsetCursor();
    emit headDropped(event->globalPosition().toPoint());
}

void SnareCard::buildCatch(FlowLayout* line)
{
    word(line, tr("When"));
    switch (scene::familyOf(shown_.catches.event.items.front())) {
    case EventFamily::contact: {
        SlotButton* who = slot(line, QStringLiteral("groups"), visitorText(shown_));
        connect(who, &SlotButton::clicked, this, [this, who] { editCondition(QStringLiteral("groups"), who); });
        buildEvent(line);
        buildWhere(line);
        break;
    }
    case EventFamily::key:
        buildKey(line);
        buildEvent(line);
        word(line, tr("at"));
        buildWhere(line);
        break;
    case EventFamily::timer:
        buildTimer(line);
        buildEvent(line);
        word(line, tr("at"));
        buildWhere(line);
        break;
    case EventFamily::signal:
        buildSignal(line);
        buildEvent(line);
        word(line, tr("at"));
        buildWhere(line);
        break;
    case EventFamily::scene:
    case EventFamily::piece:
        buildWhere(line);
        buildEvent(line);
        break;
    }
}

void SnareCard::buildWhere(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const EventFamily family = scene::familyOf(catches.event.items.front());
    SlotButton* button =
        slot(line, QStringLiteral("where"), whereText(catches),
             catches.at.empty() && family == EventFamily::contact ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    connect(button, &SlotButton::clicked, this, [this, button] {
        Question question;
        question.title = tr("Where it happens");
        question.choices = placeChoices(document_.scene());
        question.typed.clear();
        question.chosen << toText(shown_.catches.shape.empty() ? shown_.catches.at
                                                               : shown_.catches.at + "/" + shown_.catches.shape);
        SlotPopup::ask(button, question, [this](const QStringList& answer) {
            edit(tr("Change where %1 catches"), [&](scene::Snare& snare) {
                const std::string chosen = answer.front().toStdString();
                const auto [piece, shape] = scene::splitShape(chosen);
                snare.catches.at = chosen == "scene" ? std::string() : std::string(piece);
                snare.catches.shape = std::string(shape);
            });
        });
    });
}

void SnareCard::buildEvent(FlowLayout* line)
{
    SlotButton* button = slot(line, QStringLiteral("event"), eventText(shown_.catches));
    connect(button, &SlotButton::clicked, this, [this, button] { editEvents(button); });
}

void SnareCard::editEvents(QWidget* anchor)
{
    Question question;
    question.title = tr("What happens");
    for (const auto& entry : scene::wordsOf<EventKind>)
        question.choices.push_back({toText(entry.word), toText(entry.verb), toText(entry.about), toText(entry.word)});
    question.choices.push_back({QStringLiteral("several"), tr("any of several…"), {}, tr("or list")});
    question.chosen << toText(scene::wordOf(shown_.catches.event.items.front()));
    SlotPopup::ask(anchor, question, [this, anchor](const QStringList& answer) {
        if (answer.front() == QLatin1String("several"))
            return editSeveralEvents(anchor);
        edit(tr("Change the event of %1"), [&](scene::Snare& snare) {
            for (const auto& entry : scene::wordsOf<EventKind>)
                if (toText(entry.word) == answer.front())
                    snare.catches.event.items = {entry.value};
        });
    });
}

/// Several events of one family: "enters or leaves".
void SnareCard::editSeveralEvents(QWidget* anchor)
{
    const EventFamily family = scene::familyOf(shown_.catches.event.items.front());
    Question question;
    question.title = tr("Any of these");
    question.many = true;
    for (const auto& entry : scene::wordsOf<EventKind>)
        if (entry.family == family)
            question.choices.push_back({toText(entry.word), toText(entry.verb), toText(entry.about), {}});
    for (const EventKind kind : shown_.catches.event.items)
        question.chosen << toText(scene::wordOf(kind));
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        if (answer.isEmpty())
            return;
        edit(tr("Change the events of %1"), [&](scene::Snare& snare) {
            snare.catches.event.items.clear();
            for (const auto& entry : scene::wordsOf<EventKind>)
                if (answer.contains(toText(entry.word)))
                    snare.catches.event.items.push_back(entry.value);
        });
    });
}

void SnareCard::buildKey(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const QString shown = !catches.key.empty()      ? keyLabel(toText(catches.key))
                          : !catches.source.empty() ? toText(catches.source)
                                                    : tr("any key");
    SlotButton* key = slot(line, QStringLiteral("key"), shown);
    connect(key, &SlotButton::clicked, this, [this, key] {
        Question question;
        question.title = tr("Which key");
        question.choices = keyChoices(document_.scene());
        SlotPopup::ask(key, question, [this](const QStringList& answer) {
            edit(tr("Change the key of %1"), [&](scene::Snare& snare) {
                const bool source = answer.front().startsWith(QLatin1String("source:"));
                snare.catches.source = source ? answer.front().mid(7).toStdString() : std::string();
                snare.catches.key = source ? std::string() : answer.front().toStdString();
            });
        });
    });
}

void SnareCard::buildTimer(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    SlotButton* source =
        slot(line, QStringLiteral("source"), catches.source.empty() ? tr("choose a timer") : toText(catches.source),
             catches.source.empty() ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    connect(source, &SlotButton::clicked, this, [this, source] {
        Question question;
        question.title = tr("Which timer");
        for (const scene::Source& one : document_.scene().sources)
            if (const auto* timer = std::get_if<scene::TimerSource>(&one.kind))
                question.choices.push_back(
                    {toText(one.id), {}, tr("every %1").arg(numberText(timer->every, scene::Unit::seconds)), {}});
        SlotPopup::ask(source, question, [this](const QStringList& answer) {
            edit(tr("Change the timer of %1"),
                 [&](scene::Snare& snare) { snare.catches.source = answer.front().toStdString(); });
        });
    });
}

void SnareCard::buildSignal(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    SlotButton* signal =
        slot(line, QStringLiteral("signal"), catches.signal.empty() ? tr("choose a signal") : toText(catches.signal),
             catches.signal.empty() ? SlotButton::Kind::empty : SlotButton::Kind::filled);
    connect(signal, &SlotButton::clicked, this, [this, signal] {
        Question question;
        question.title = tr("Which signal");
        question.freeText = true;
        question.typed = toText(shown_.catches.signal);
        question.choices = signalChoices(document_.scene());
        SlotPopup::ask(signal, question, [this](const QStringList& answer) {
            edit(tr("Change the signal of %1"),
                 [&](scene::Snare& snare) { snare.catches.signal = answer.front().toStdString(); });
        });
    });
}

void SnareCard::buildConditions(FlowLayout* line)
{
    const auto phrases = filterPhrases(shown_);
    if (!phrases.empty())
        word(line, tr("only"));
    for (const Phrase& phrase : phrases) {
        SlotButton* button = slot(line, phrase.key, phrase.text);
        connect(button, &SlotButton::clicked, this, [this, key = phrase.key, button] { editCondition(key, button); });
    }
    if (shown_.again != scene::Again::restart) {
        SlotButton* again =
            slot(line, QStringLiteral("again"),
                 shown_.again == scene::Again::stack ? tr("runs beside itself") : tr("not while it still runs"));
        connect(again, &SlotButton::clicked, this, [this, again] { editAgain(again); });
    }
    SlotButton* offer = slot(line, QStringLiteral("add condition"), phrases.empty() ? tr("+ only if…") : tr("+ and…"),
                             SlotButton::Kind::offer);
    connect(offer, &SlotButton::clicked, this, [this, offer] { offerConditions(offer); });
}

void SnareCard::offerConditions(QWidget* anchor)
{
    Question question;
    question.title = tr("Only if…");
    for (const Offer& offer : filterOffers(shown_))
        question.choices.push_back({offer.key, offer.text, {}, offer.words});
    SlotPopup::ask(anchor, question, [this, anchor](const QStringList& answer) {
        const QString key = answer.front();
        if (key == QLatin1String("each"))
            edit(tr("Count per visitor in %1"), [](scene::Snare& snare) { snare.gate.each = scene::Each::visitor; });
        else if (key == QLatin1String("catchUp"))
            edit(tr("Let %1 catch up"), [](scene::Snare& snare) { snare.gate.catchUp = true; });
        else if (key == QLatin1String("when"))
            editComparison(filterConditions, shown_.filter.when.size(), anchor);
        else if (key == QLatin1String("again"))
            editAgain(anchor);
        else
            editCondition(key, anchor);
    });
}

/// What springing again does while the responses of the last time still run (S8).
void SnareCard::editAgain(QWidget* anchor)
{
    Question question;
    question.title = tr("When it springs again while it still runs");
    for (const auto& entry : scene::wordsOf<scene::Again>)
        question.choices.push_back({toText(entry.word), toText(entry.about), {}, toText(entry.word)});
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change what %1 does again"), [&](scene::Snare& snare) {
            for (const auto& entry : scene::wordsOf<scene::Again>)
                if (toText(entry.word) == answer.front())
                    snare.again = entry.value;
        });
    });
}

/// One condition in a field: `self.load >= 3`. An empty one takes it away.
void SnareCard::editComparison(const ConditionList& list, std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("A value compares; leave empty to take it away");
    question.placeholder = tr("self.load >= 3");
    question.freeText = true;
    scene::Snare now = shown_;
    if (const auto* conditions = list(now); conditions && index < conditions->size())
        question.typed = conditionText((*conditions)[index]);
    question.check = [](const QStringList& answer) {
        return answer.front().isEmpty() || conditionFrom(answer.front())
                   ? QString()
                   : tr("A path, a sign and a value: self.load >= 3");
    };
    SlotPopup::ask(anchor, question, [this, index, list](const QStringList& answer) {
        edit(tr("Change a condition of %1"), [&](scene::Snare& snare) {
            auto* conditions = list(snare);
            if (!conditions)
                return;
            const auto condition = conditionFrom(answer.front());
            if (!condition && index < conditions->size())
                conditions->erase(conditions->begin() + static_cast<std::ptrdiff_t>(index));
            else if (condition && index < conditions->size())
                (*conditions)[index] = *condition;
            else if (condition)
                conditions->push_back(*condition);
        });
    });
}

void SnareCard::editCondition(const QString& key, QWidget* anchor)
{
    const scene::Scene& scene = document_.scene();
    const auto many = [&](const QString& title, std::vector<Choice> choices, auto list) {
        Question question;
        question.title = title;
        question.placeholder = tr("type to find");
        question.choices = std::move(choices);
        question.many = true;
        for (const std::string& name : list(shown_))
            question.chosen << toText(name);
        SlotPopup::ask(anchor, question, [this, list](const QStringList& answer) {
            edit(tr("Change the filter of %1"), [&](scene::Snare& snare) {
                auto& names = list(snare);
                names.clear();
                for (const QString& name : answer)
                    names.push_back(name.toStdString());
            });
        });
    };
    /// A number that may be taken away by leaving the field empty.
    const auto number = [&](const QString& title, const QString& unit, std::optional<double> now, double low,
                            bool whole, auto set) {
        Question question;
        question.title = title;
        question.placeholder = tr("empty: no such condition");
        question.freeText = true;
        question.typed = now ? QString::number(*now) : QString();
        question.check = [low, whole, unit](const QStringList& answer) {
            if (answer.front().isEmpty())
                return QString();
            bool fine = false;
            const double value = QString(answer.front()).remove(unit).trimmed().toDouble(&fine);
            if (!fine || value < low || (whole && value != std::floor(value)))
                return whole ? tr("A whole number from %1").arg(low) : tr("A number from %1").arg(low);
            return QString();
        };
        SlotPopup::ask(anchor, question, [this, set, unit](const QStringList& answer) {
            edit(tr("Change the gate of %1"), [&](scene::Snare& snare) {
                const QString typed = QString(answer.front()).remove(unit).trimmed();
                set(snare.gate, typed.isEmpty() ? std::nullopt : std::optional(typed.toDouble()));
            });
        });
    };
    if (key == QLatin1String("groups"))
        many(
            tr("Visitors of these groups; none: anyone"), groupChoices(scene),
            [](auto& snare) -> auto& { return snare.filter.groups; });
    else if (key == QLatin1String("tags.any"))
        many(
            tr("The visitor has at least one of"), tagChoices(scene),
            [](auto& snare) -> auto& { return snare.filter.tags.any; });
    else if (key == QLatin1String("tags.all"))
        many(
            tr("The visitor has all of"), tagChoices(scene),
            [](auto& snare) -> auto& { return snare.filter.tags.all; });
    else if (key == QLatin1String("tags.none"))
        many(
            tr("The visitor has none of"), tagChoices(scene),
            [](auto& snare) -> auto& { return snare.filter.tags.none; });
    else if (key == QLatin1String("pieces"))
        many(
            tr("The visitor is one of"), pieceChoices(scene), [](auto& snare) -> auto& { return snare.filter.pieces; });
    else if (key == QLatin1String("limit"))
        number(tr("At most this many times"), {},
               shown_.gate.limit ? std::optional<double>(*shown_.gate.limit) : std::nullopt, 1, true,
               [](scene::Gate& gate, std::optional<double> value) {
                   gate.limit = value ? std::optional(static_cast<int>(std::min(*value, 1e9))) : std::nullopt;
               });
    else if (key == QLatin1String("dwell"))
        number(tr("Only after staying this long, s"), QStringLiteral("s"), shown_.gate.dwell, 0, false,
               [](scene::Gate& gate, std::optional<double> value) { gate.dwell = value; });
    else if (key == QLatin1String("cooldown"))
        number(tr("Not again for this long, s"), QStringLiteral("s"), shown_.gate.cooldown, 0, false,
               [](scene::Gate& gate, std::optional<double> value) { gate.cooldown = value; });
    else if (key == QLatin1String("catchUp"))
        edit(tr("Change the gate of %1"), [](scene::Snare& snare) { snare.gate.catchUp = false; });
    else if (key.startsWith(QLatin1String("when.")))
        editComparison(filterConditions, key.mid(5).toULongLong(), anchor);
    else if (key == QLatin1String("each"))
        edit(tr("Count for all visitors of %1"), [](scene::Snare& snare) { snare.gate.each = scene::Each::snare; });
    else if (key == QLatin1String("again"))
        editAgain(anchor);
}

void SnareCard::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const bool chosen = selection_.snare() == id_;
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setPen(QPen{chosen ? t.ink : t.hairline, chosen ? 1.6 : 1});
    painter.setBrush(shown_.armed ? t.paper : t.panelDeep);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(!problems_.empty() ? t.coral : shown_.armed ? t.mint : t.hairline);
    painter.drawRoundedRect(QRectF{box.left(), box.top(), 4, box.height()}, 2, 2);
}

} // namespace snare::app
