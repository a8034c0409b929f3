// SPDX-License-Identifier: Apache-2.0
#include "app/snare_card.h"

#include "app/flow_layout.h"
#include "app/key_names.h"
#include "app/pieces_panel.h"
#include "app/slot_fill.h"
#include "app/theme.h"
#include "app/words.h"
#include "io/field_access.h"

#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

using scene::EventFamily;
using scene::EventKind;

// --- funnel --------------------------------------------------------------------------------------------------------

void Funnel::setCounts(int caught, int filter, int gate, int sprung)
{
    const int next[4] = {caught, filter, gate, sprung};
    std::copy(std::begin(next), std::end(next), counts_);
    setAccessibleName(tr("caught %1, passed the filter %2, passed the gate %3, sprang %4")
                          .arg(caught)
                          .arg(filter)
                          .arg(gate)
                          .arg(sprung));
    update();
}

void Funnel::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(textFont(-1));
    const QString words[4] = {tr("caught %1").arg(counts_[0]), tr("filter %1").arg(counts_[1]),
                              tr("gate %1").arg(counts_[2]), tr("sprang %1").arg(counts_[3])};
    constexpr int strength[4] = {26, 52, 104, 255};
    double x = 0;
    const double height = 20;
    const double tip = 7;
    for (int i = 0; i < 4; ++i) {
        const double width = painter.fontMetrics().horizontalAdvance(words[i]) + 22;
        QPolygonF part;
        part << QPointF{x, 1} << QPointF{x + width, 1} << QPointF{x + width + tip, 1 + height / 2}
             << QPointF{x + width, 1 + height} << QPointF{x, 1 + height};
        if (i > 0)
            part << QPointF{x + tip, 1 + height / 2};
        painter.setPen(Qt::NoPen);
        const bool none = counts_[i] == 0;
        painter.setBrush(none ? QColor(t.panelDeep) : QColor(t.mint.red(), t.mint.green(), t.mint.blue(), strength[i]));
        painter.drawPolygon(part);
        painter.setPen(none ? t.inkSoft : i == 3 ? t.paper : t.ink);
        painter.drawText(QRectF{x + (i > 0 ? tip + 2 : 4), 1, width, height}, Qt::AlignVCenter | Qt::AlignLeft,
                         QStringLiteral(" ") + words[i]);
        x += width + 2;
    }
}

// --- card ----------------------------------------------------------------------------------------------------------

SnareCard::SnareCard(Document& document, Stage& stage, Selection& selection, std::string snare, QWidget* parent)
    : QFrame(parent), document_(document), stage_(stage), selection_(selection), id_(std::move(snare))
{
    setObjectName(QStringLiteral("card ") + toText(id_));
    setAccessibleName(tr("Snare %1").arg(toText(id_)));
    setFrameShape(QFrame::NoFrame);
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(14, 10, 12, 10);
    connect(&selection_, &Selection::changed, this, qOverload<>(&QWidget::update));
    refresh();
}

void SnareCard::refresh()
{
    const scene::Snare* snare = scene::findSnare(document_.scene(), id_);
    if (!snare || (built_ && *snare == shown_))
        return;
    shown_ = *snare;
    // The slot that has the focus keeps it.
    const QWidget* focused = window()->focusWidget();
    const QString focusedName = focused && isAncestorOf(focused) ? focused->objectName() : QString();
    build();
    built_ = true;
    refreshCounts();
    if (!focusedName.isEmpty())
        if (auto* again = findChild<QWidget*>(focusedName))
            again->setFocus();
}

void SnareCard::refreshCounts()
{
    const sim::Record& record = stage_.record();
    int caught = 0;
    int filter = 0;
    int gate = 0;
    for (const rules::Line& line : record.journal.lines) {
        if (line.kind != rules::LineKind::snare || record.snareNameOf(line.snare) != id_)
            continue;
        ++caught;
        const bool sprung = line.outcome == rules::Outcome::sprung;
        filter += sprung || line.stage == rules::Stage::gate ? 1 : 0;
        gate += sprung ? 1 : 0;
    }
    funnel_->setCounts(caught, filter, gate, gate);
    funnel_->setVisible(record.lastTick() > 0);
}

void SnareCard::edit(const QString& name, const Change& change)
{
    document_.edit(name.arg(toText(id_)), [&](scene::Scene& scene) {
        if (scene::Snare* snare = scene::findSnare(scene, id_))
            change(*snare);
    });
}

void SnareCard::word(FlowLayout* line, const QString& text)
{
    auto* label = new QLabel{text, body_};
    label->setFont(textFont());
    label->setFixedHeight(QFontMetrics{textFont()}.height() + 6);
    line->addWidget(label);
}

SlotButton* SnareCard::slot(FlowLayout* line, const QString& name, const QString& text, SlotButton::Kind kind)
{
    auto* button = new SlotButton{text, kind, body_};
    button->setObjectName(name);
    button->setAccessibleName(tr("%1: %2").arg(name, text));
    line->addWidget(button);
    return button;
}

void SnareCard::build()
{
    if (body_) { // a slot of it may be the one that was clicked: it must live until its click is over
        body_->hide();
        layout()->removeWidget(body_);
        body_->setParent(nullptr);
        body_->deleteLater();
    }
    body_ = new QWidget{this};
    layout()->addWidget(body_);
    auto* column = new QVBoxLayout{body_};
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    buildHead(column);
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
    column->addLayout(add);
    funnel_ = new Funnel{body_};
    column->addWidget(funnel_);
}

void SnareCard::buildHead(QVBoxLayout* layout)
{
    auto* head = new QHBoxLayout;
    auto* name = new SlotButton{toText(id_), SlotButton::Kind::action, body_};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(0.5, true));
    name->setToolTip(tr("Rename"));
    connect(name, &SlotButton::clicked, this, [this, name] {
        askForName(name, document_, scene::Thing::snare, id_,
                   [this](const std::string& to) { selection_.chooseSnare(to, shown_.catches.at); });
    });
    head->addWidget(name);
    if (!shown_.note.empty()) {
        auto* note = new QLabel{body_};
        note->setFont(textFont(-1));
        note->setText(note->fontMetrics().elidedText(toText(shown_.note), Qt::ElideRight, 200));
        note->setToolTip(toText(shown_.note));
        note->setStyleSheet(QStringLiteral("color: %1").arg(theme().inkSoft.name()));
        head->addWidget(note);
    }
    head->addStretch();
    auto* state = new SlotButton{shown_.armed ? tr("listening") : tr("disarmed"), SlotButton::Kind::offer, body_};
    state->setObjectName(QStringLiteral("armed"));
    state->setToolTip(tr("Whether it listens at the start"));
    connect(state, &SlotButton::clicked, this, [this] {
        edit(shown_.armed ? tr("Disarm %1") : tr("Arm %1"), [](scene::Snare& snare) { snare.armed = !snare.armed; });
    });
    head->addWidget(state);
    layout->addLayout(head);
}

void SnareCard::buildCatch(FlowLayout* line)
{
    const scene::Catch& catches = shown_.catches;
    const EventFamily family = scene::familyOf(catches.event.items.front());
    word(line, tr("When"));
    const auto where = [&] {
        SlotButton* button = slot(line, QStringLiteral("where"), whereText(catches),
                                  catches.at.empty() && family == EventFamily::contact ? SlotButton::Kind::empty
                                                                                       : SlotButton::Kind::filled);
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
    };
    const auto event = [&] {
        SlotButton* button = slot(line, QStringLiteral("event"), eventText(catches));
        connect(button, &SlotButton::clicked, this, [this, button] {
            Question question;
            question.title = tr("What happens");
            for (const auto& entry : scene::wordsOf<EventKind>)
                question.choices.push_back(
                    {toText(entry.word), toText(entry.verb), toText(entry.about), toText(entry.word)});
            question.chosen << toText(scene::wordOf(shown_.catches.event.items.front()));
            SlotPopup::ask(button, question, [this](const QStringList& answer) {
                edit(tr("Change the event of %1"), [&](scene::Snare& snare) {
                    for (const auto& entry : scene::wordsOf<EventKind>)
                        if (toText(entry.word) == answer.front())
                            snare.catches.event.items = {entry.value};
                });
            });
        });
    };
    switch (family) {
    case EventFamily::contact: {
        SlotButton* who = slot(line, QStringLiteral("groups"), visitorText(shown_));
        connect(who, &SlotButton::clicked, this, [this, who] { editCondition(QStringLiteral("groups"), who); });
        event();
        where();
        break;
    }
    case EventFamily::key: {
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
        event();
        if (!catches.at.empty()) {
            word(line, tr("at"));
            where();
        }
        break;
    }
    case EventFamily::timer: {
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
        event();
        break;
    }
    case EventFamily::signal: {
        SlotButton* signal = slot(line, QStringLiteral("signal"),
                                  catches.signal.empty() ? tr("choose a signal") : toText(catches.signal),
                                  catches.signal.empty() ? SlotButton::Kind::empty : SlotButton::Kind::filled);
        connect(signal, &SlotButton::clicked, this, [this, signal] {
            Question question;
            question.title = tr("Which signal");
            question.freeText = true;
            question.typed = toText(shown_.catches.signal);
            for (const std::string& name : scene::allSignals(document_.scene()))
                question.choices.push_back({toText(name), {}, {}, {}});
            SlotPopup::ask(signal, question, [this](const QStringList& answer) {
                edit(tr("Change the signal of %1"),
                     [&](scene::Snare& snare) { snare.catches.signal = answer.front().toStdString(); });
            });
        });
        event();
        word(line, tr("at"));
        where();
        break;
    }
    case EventFamily::scene:
    case EventFamily::piece:
        where();
        event();
        break;
    }
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
            editComparison(shown_.filter.when.size(), anchor);
        else
            editCondition(key, anchor);
    });
}

/// One condition in a field: `self.load >= 3`. An empty one takes it away.
void SnareCard::editComparison(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("A value compares; leave empty to take it away");
    question.placeholder = tr("self.load >= 3");
    question.freeText = true;
    const auto phrases = filterPhrases(shown_);
    for (const Phrase& phrase : phrases)
        if (phrase.key == QStringLiteral("when.%1").arg(index))
            question.typed = phrase.text;
    const auto parse = [](const QString& typed) -> std::optional<scene::Condition> {
        for (const char* sign : {"!=", "<=", ">=", "=", "<", ">"}) {
            const auto at = typed.indexOf(QLatin1String(sign));
            if (at <= 0)
                continue;
            scene::Condition condition;
            condition.left = typed.left(at).trimmed().toStdString();
            for (const auto& entry : scene::wordsOf<scene::Comparison>)
                if (entry.word == sign)
                    condition.is = entry.value;
            const QString right = typed.mid(at + static_cast<qsizetype>(qstrlen(sign))).trimmed();
            if (right.isEmpty() || condition.left.find('.') == std::string::npos)
                return std::nullopt;
            bool number = false;
            const double value = right.toDouble(&number);
            if (number)
                condition.right = scene::Scalar{value};
            else if (right == QLatin1String("true") || right == QLatin1String("false"))
                condition.right = scene::Scalar{right == QLatin1String("true")};
            else if (right.contains(QLatin1Char('.')))
                condition.right = scene::Get{right.toStdString()};
            else
                condition.right = scene::Scalar{right.toStdString()};
            return condition;
        }
        return std::nullopt;
    };
    question.check = [parse](const QStringList& answer) {
        return answer.front().isEmpty() || parse(answer.front()) ? QString()
                                                                 : tr("A path, a sign and a value: self.load >= 3");
    };
    SlotPopup::ask(anchor, question, [this, index, parse](const QStringList& answer) {
        edit(tr("Change a condition of %1"), [&](scene::Snare& snare) {
            auto& list = snare.filter.when;
            const auto condition = parse(answer.front());
            if (!condition && index < list.size())
                list.erase(list.begin() + static_cast<std::ptrdiff_t>(index));
            else if (condition && index < list.size())
                list[index] = *condition;
            else if (condition)
                list.push_back(*condition);
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
        editComparison(key.mid(5).toULongLong(), anchor);
}

// --- responses -----------------------------------------------------------------------------------------------------

void SnareCard::buildResponse(QVBoxLayout* layout, std::size_t index)
{
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    auto* number = new SlotButton{QString::number(index + 1), SlotButton::Kind::action, body_};
    number->setObjectName(QStringLiteral("response %1").arg(index + 1));
    number->setAccessibleName(tr("response %1: move or remove").arg(index + 1));
    number->setToolTip(tr("Move up, move down, remove"));
    number->setFixedWidth(22);
    connect(number, &SlotButton::clicked, this, [this, index, number] { responseMenu(index, number); });
    row->addWidget(number, 0, Qt::AlignTop);
    auto* line = new FlowLayout{nullptr};
    buildResponseSlots(line, index);
    row->addLayout(line, 1);
    layout->addLayout(row);
}

void SnareCard::buildResponseSlots(FlowLayout* line, std::size_t index)
{
    const scene::Response& response = shown_.responses[index];
    const std::vector<io::FieldView> fields = io::fieldsOf(response);
    const auto find = [&](const QString& key) {
        return std::ranges::find_if(fields, [&](const io::FieldView& field) { return toText(field.key) == key; });
    };
    bool more = false;
    bool first = true;
    for (const QString& part : toText(scene::wordOfResponse(response.kind).sentence).split(QLatin1Char('|'))) {
        // "at {speed}": words and slots in turn. A part that is not first shows only if its fields are set.
        const QStringList pieces = part.split(QLatin1Char('{'));
        bool shows = first;
        for (qsizetype i = 1; i < pieces.size(); ++i) {
            const auto field = find(pieces[i].section(QLatin1Char('}'), 0, 0));
            shows |= field != fields.end() && (field->set || field->required);
            more |= !first && field != fields.end() && !field->set && !field->required;
        }
        first = false;
        if (!shows)
            continue;
        if (const QString text = pieces.front().trimmed(); !text.isEmpty())
            word(line, text);
        for (qsizetype i = 1; i < pieces.size(); ++i) {
            const QString key = pieces[i].section(QLatin1Char('}'), 0, 0);
            const QString after = pieces[i].section(QLatin1Char('}'), 1).trimmed();
            if (const auto field = find(key); field != fields.end()) {
                const QString text = slotText(*field);
                SlotButton* button =
                    slot(line, QStringLiteral("%1 %2").arg(index + 1).arg(key), text.isEmpty() ? tr("choose…") : text,
                         text.isEmpty() ? SlotButton::Kind::empty : SlotButton::Kind::filled);
                button->setToolTip(toText(field->about));
                connect(button, &SlotButton::clicked, this,
                        [this, index, name = std::string(field->key), button] { openField(index, name, button); });
            }
            if (!after.isEmpty())
                word(line, after);
        }
    }
    for (const scene::Condition& condition : response.onlyIf)
        word(line, tr("if %1 %2 …").arg(toText(condition.left), toText(scene::wordOf(condition.is))));
    if (more) {
        SlotButton* offer = slot(line, QStringLiteral("%1 more").arg(index + 1), tr("+"), SlotButton::Kind::offer);
        offer->setToolTip(tr("More about this response"));
        connect(offer, &SlotButton::clicked, this, [this, index, offer] { offerFields(index, offer); });
    }
}

void SnareCard::openField(std::size_t index, const std::string& key, QWidget* anchor)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(shown_.responses[index]);
    const auto field = std::ranges::find(fields, key, &io::FieldView::key);
    if (field == fields.end())
        return;
    const auto set = [this, index, key](const std::string& json) {
        edit(tr("Change a response of %1"), [&](scene::Snare& snare) {
            if (index < snare.responses.size())
                io::setField(snare.responses[index], key, json);
        });
    };
    if (field->kind == io::SlotKind::flag) {
        set(field->json == "true" ? "false" : "true");
        return;
    }
    SlotPopup::ask(anchor, questionFor(*field, document_.scene(), shown_.responses[index]),
                   [set, view = *field](const QStringList& answer) { set(jsonFrom(view, answer)); });
}

void SnareCard::offerFields(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("More about this response");
    for (const io::FieldView& field : io::fieldsOf(shown_.responses[index]))
        if (!field.set && !field.required)
            question.choices.push_back({toText(field.key), toText(field.about), {}, {}});
    SlotPopup::ask(anchor, question, [this, index, anchor](const QStringList& answer) {
        openField(index, answer.front().toStdString(), anchor);
    });
}

void SnareCard::offerResponses(QWidget* anchor)
{
    Question question;
    question.title = tr("What it does");
    question.placeholder = tr("type a word: go, label, count…");
    for (const scene::Word* one : io::responseWords())
        question.choices.push_back({toText(one->key), {}, toText(one->about), toText(one->synonyms)});
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Add a response to %1"), [&](scene::Snare& snare) {
            if (auto response = io::responseOf(answer.front().toStdString()))
                snare.responses.push_back(std::move(*response));
        });
    });
}

void SnareCard::responseMenu(std::size_t index, QWidget* anchor)
{
    QMenu menu{this};
    const auto swap = [&](const QString& text, std::ptrdiff_t by) {
        QAction* action = menu.addAction(text);
        const std::ptrdiff_t other = static_cast<std::ptrdiff_t>(index) + by;
        action->setEnabled(other >= 0 && other < static_cast<std::ptrdiff_t>(shown_.responses.size()));
        connect(action, &QAction::triggered, this, [this, index, other] {
            edit(tr("Reorder responses of %1"), [&](scene::Snare& snare) {
                std::swap(snare.responses[index], snare.responses[static_cast<std::size_t>(other)]);
            });
        });
    };
    swap(tr("Move up"), -1);
    swap(tr("Move down"), 1);
    menu.addSeparator();
    connect(menu.addAction(tr("Remove")), &QAction::triggered, this, [this, index] {
        edit(tr("Remove a response of %1"), [&](scene::Snare& snare) {
            snare.responses.erase(snare.responses.begin() + static_cast<std::ptrdiff_t>(index));
        });
    });
    menu.exec(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

void SnareCard::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        selection_.chooseSnare(id_, scene::findPiece(document_.scene(), shown_.catches.at) ? shown_.catches.at
                                                                                           : std::string());
    QFrame::mousePressEvent(event);
}

void SnareCard::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const bool chosen = selection_.snare() == id_;
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setPen(QPen{chosen ? t.ink : t.hairline, chosen ? 1.6 : 1});
    painter.setBrush(t.paper);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(shown_.armed ? t.mint : t.hairline);
    painter.drawRoundedRect(QRectF{box.left(), box.top(), 4, box.height()}, 2, 2);
}

} // namespace snare::app
