// SPDX-License-Identifier: Apache-2.0
#include "app/panels/expectation_list.h"

#include "app/model/expecting.h"
#include "app/panels/expectation_asks.h"
#include "app/slots/choices.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flag.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "words/expectations.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace snare::app {

using scene::Expectation;
using scene::LineMatch;

namespace {

/// Which fields belong to lines of this kind, beside those that their sentence has.
std::set<std::string, std::less<>> furtherFields(const LineMatch& lines)
{
    if (!lines.response.empty() || !lines.phase.empty())
        return {"between"};
    if (lines.event)
        return {"shape", "part", "cause", "manner", "speed", "between"};
    if (!lines.signal.empty())
        return {"with", "between"};
    return {"stage", "self", "visitor", "between"};
}

} // namespace

ExpectationList::ExpectationList(Document& document, Stage& stage, QWidget* parent)
    : FieldCard(document, parent), stage_(stage)
{
    setObjectName(QStringLiteral("expectations"));
    setAccessibleName(tr("What the take expects"));
    layout()->setContentsMargins(12, 8, 12, 12);
    rebuild();
}

void ExpectationList::refresh()
{
    const scene::Take& take = document_.take();
    const bool judged = stage_.record().take.expect == take.expect && stage_.record().take.stops == take.stops &&
                        stage_.judgement().verdicts.size() == take.expect.size();
    shown_ = take;
    shown_.inputs.clear();
    judgement_ = stage_.judgement();
    judged_ = judged;
    rebuild();
}

const Expectation* ExpectationList::at(std::size_t index) const
{
    const auto& expect = document_.take().expect;
    return index < expect.size() ? &expect[index] : nullptr;
}

void ExpectationList::edit(std::size_t index, const QString& step, const Change& change)
{
    if (!at(index))
        return;
    scene::Take take = document_.take();
    change(take.expect[index]);
    if (take.expect[index] == document_.take().expect[index])
        return;
    document_.setTake(step, std::move(take));
}

void ExpectationList::build(QVBoxLayout* column)
{
    buildTake(column);
    for (std::size_t i = 0; i < shown_.expect.size(); ++i)
        buildOne(column, i);
    auto* foot = new FlowLayout{nullptr};
    auto* more = slot(foot, QStringLiteral("add expectation"), tr("+ expectation"), SlotButton::Kind::offer);
    more->setToolTip(tr("Or from an event: its menu in the timeline, the ledger and the moment"));
    connect(more, &SlotButton::clicked, this, [this, more] { offer(more); });
    column->addLayout(foot);
    buildFile(column);
}

void ExpectationList::buildOne(QVBoxLayout* column, std::size_t index)
{
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const bool held = !judged_ || judgement_.verdicts[index].held;
    row->addWidget(new FlagSign{held, body()}, 0, Qt::AlignTop);
    auto* line = new FlowLayout{nullptr};
    buildSentence(line, index);
    row->addLayout(line, 1);
    buildSureness(row, index);
    auto* more = new SlotButton{QStringLiteral("⋯"), SlotButton::Kind::action, body()};
    more->setObjectName(QStringLiteral("expect %1 more").arg(index + 1));
    more->setAccessibleName(tr("More about expectation %1").arg(index + 1));
    connect(more, &SlotButton::clicked, this, [this, index, more] { showMenu(index, more); });
    row->addWidget(more, 0, Qt::AlignTop);
    column->addLayout(row);
    if (judged_)
        buildVerdict(column, index);
}

/// How often it held in runs that were a little off; a click keeps a take with which it did not.
void ExpectationList::buildSureness(QHBoxLayout* row, std::size_t index)
{
    const check::Varied* varied = stage_.variation().result();
    if (!varied || index >= varied->expectations.size() || varied->runs == 0)
        return;
    const check::HowSure& sure = varied->expectations[index];
    // 100 % is said only if it always held.
    const double percent = 100.0 * sure.held / varied->runs;
    const QString text =
        sure.held == varied->runs ? tr("always") : tr("%1 %").arg(std::min(99, static_cast<int>(percent)));
    auto* button = new SlotButton{text, sure.against ? SlotButton::Kind::offer : SlotButton::Kind::action, body()};
    button->setObjectName(QStringLiteral("expect %1 sure").arg(index + 1));
    button->setAccessibleName(
        tr("Expectation %1 held in %2 of %3 runs").arg(index + 1).arg(sure.held).arg(varied->runs));
    button->setToolTip(button->accessibleName() +
                       (sure.against ? tr("; click for a take in which it did not") : QString()));
    button->setEnabled(sure.against.has_value());
    if (sure.against)
        connect(button, &SlotButton::clicked, this,
                [this, take = *sure.against] { document_.addTake("varied", take); });
    row->addWidget(button, 0, Qt::AlignTop);
}

void ExpectationList::buildVerdict(QVBoxLayout* column, std::size_t index)
{
    const check::Verdict& verdict = judgement_.verdicts[index];
    if (verdict.held)
        return;
    auto* row = new QHBoxLayout;
    row->setContentsMargins(22, 0, 0, 4);
    auto* why = new QLabel{toText(verdict.why), body()};
    why->setObjectName(QStringLiteral("expect %1 why").arg(index + 1));
    why->setTextFormat(Qt::PlainText);
    why->setWordWrap(true);
    colourText(why, &Theme::coralText);
    row->addWidget(why, 1);
    if (verdict.line >= 0 || verdict.tick >= 0) {
        auto* there = new SlotButton{tr("go there"), SlotButton::Kind::offer, body()};
        there->setObjectName(QStringLiteral("expect %1 go").arg(index + 1));
        connect(there, &SlotButton::clicked, this, [this, index] { go(index); });
        row->addWidget(there, 0, Qt::AlignTop);
    }
    column->addLayout(row);
}

namespace {

/// Where lines stand in an expectation, or nullptr: they are gone.
template <class E> auto linesIn(E& expect, ExpectationList::Where where, std::size_t step) -> decltype(&expect.line)
{
    switch (where) {
    case ExpectationList::Where::never:
        return expect.never ? &*expect.never : nullptr;
    case ExpectationList::Where::order:
        return step < expect.order.size() ? &expect.order[step] : nullptr;
    case ExpectationList::Where::itself:
        break;
    }
    return &expect.line;
}

} // namespace

ExpectationList::Lines ExpectationList::linesOf(std::size_t index, Where where, std::size_t step)
{
    QString prefix = QStringLiteral("expect %1 ").arg(index + 1);
    if (where != Where::itself)
        prefix += where == Where::never ? QStringLiteral("never ") : QStringLiteral("step %1 ").arg(step + 1);
    return {prefix,
            [this, index, where, step] {
                const Expectation* expect = at(index);
                return expect ? linesIn(*expect, where, step) : nullptr;
            },
            [this, index, where, step](const std::function<void(LineMatch&)>& change) {
                edit(index, tr("Change an expectation"), [&](Expectation& expect) {
                    if (LineMatch* lines = linesIn(expect, where, step))
                        change(*lines);
                });
            }};
}

FieldSource ExpectationList::sourceOf(const Lines& lines) const
{
    FieldSource source = fieldsFrom<LineMatch>(lines.prefix, lines.get, lines.edit);
    source.kind = "lines";
    source.offerTitle = tr("What else is asked of it");
    const auto get = lines.get;
    const auto change = lines.edit;
    source.byHand["between"] = [get, change](QWidget* anchor) {
        askSpan(anchor, get() ? get()->between : std::nullopt, [change](std::optional<scene::Span> span) {
            change([span](LineMatch& one) { one.between = span; });
        });
    };
    source.shownByHand["between"] = [get] { return get() ? spanText(get()->between) : QString(); };
    source.byHand["speed"] = [get, change](QWidget* anchor) {
        const scene::SpeedFilter speed = get() ? get()->speed : scene::SpeedFilter{};
        Question question;
        question.title = tr("How fast, m/s; empty: any");
        question.placeholder = tr("at least 2, at most 8, 2 to 8");
        question.freeText = true;
        question.typed = limitsText(speed.min, speed.max);
        question.check = [](const QStringList& given) {
            return given.front().trimmed().isEmpty() || limitsIn(given.front())
                       ? QString()
                       : tr("At least 2, at most 8, or 2 to 8");
        };
        SlotPopup::ask(anchor, question, [change](const QStringList& given) {
            const Limits limits = limitsIn(given.front()).value_or(Limits{});
            change([limits](LineMatch& one) { one.speed = {limits.min, limits.max}; });
        });
    };
    source.shownByHand["speed"] = [get] {
        const scene::SpeedFilter speed = get() ? get()->speed : scene::SpeedFilter{};
        const QString text = limitsText(speed.min, speed.max);
        return text.isEmpty() ? text : tr("%1 m/s").arg(text);
    };
    source.byHand["with"] = [get, change](QWidget* anchor) {
        Question question;
        question.title = tr("Values that it must carry");
        question.placeholder = QStringLiteral("who = Anka, level = 2");
        question.freeText = true;
        question.typed = get() ? valuesText(get()->with) : QString();
        question.wrongAt = valuesFaultAt;
        question.check = [](const QStringList& answer) {
            return valuesFrom(answer.front()) ? QString() : tr("Name = value, with commas between");
        };
        SlotPopup::ask(anchor, question, [change](const QStringList& answer) {
            change([with = *valuesFrom(answer.front())](LineMatch& one) { one.with = with; });
        });
    };
    source.shownByHand["with"] = [get] { return get() ? valuesText(get()->with) : QString(); };
    source.byHand["response"] = [change](QWidget* anchor) {
        Question question;
        question.title = tr("What is done");
        for (const scene::Word* one : io::responseWords())
            question.choices.push_back({toText(one->key), toText(one->key), toText(one->about), toText(one->synonyms)});
        SlotPopup::ask(anchor, question, [change](const QStringList& answer) {
            change([word = answer.front().toStdString()](LineMatch& one) { one.response = word; });
        });
    };
    if (const LineMatch* now = get()) {
        const auto further = furtherFields(*now);
        scene::forEachField<LineMatch>([&](const auto& field) {
            if (!further.contains(std::string(field.key)))
                source.elsewhere.emplace(field.key);
        });
    }
    return source;
}

FieldSource ExpectationList::sourceOf(std::size_t index)
{
    FieldSource source = fieldsFrom<Expectation>(
        QStringLiteral("expect %1 ").arg(index + 1), [this, index] { return at(index); },
        [this, index](const std::function<void(Expectation&)>& change) {
            edit(index, tr("Change an expectation"), change);
        });
    source.kind = "expectation";
    source.offerTitle = tr("What else is said");
    source.byHand["times"] = [this, index](QWidget* anchor) {
        if (const Expectation* now = at(index))
            askTimes(anchor, now->times, [this, index](std::optional<scene::Times> times) {
                edit(index, tr("Change how often it is expected"), [&](Expectation& one) { one.times = times; });
            });
    };
    source.shownByHand["times"] = [this, index] {
        return at(index) ? toText(words::timesText(at(index)->times)) : QString();
    };
    source.byHand["to"] = [this, index](QWidget* anchor) {
        const Expectation* now = at(index);
        if (!now)
            return;
        Question question;
        question.title = tr("What it is compared with");
        question.freeText = true;
        question.typed = now->to ? literalText(*now->to) : QString();
        SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
            edit(index, tr("Change an expected value"), [&](Expectation& one) {
                one.to = literalFrom(answer.front());
                if (!std::holds_alternative<double>(*one.to))
                    one.within.reset();
            });
        });
    };
    // How often stands in the sentence, as what it is.
    source.elsewhere = {"never", "order", "value", "is", "to", "always", "ever", "inside", "within", "times"};
    source.offerText = QStringLiteral("+");
    if (const Expectation* now = at(index)) {
        if (now->kind() == Expectation::Kind::value && now->to && std::holds_alternative<double>(*now->to))
            source.elsewhere.erase("within");
    }
    return source;
}

SlotButton* ExpectationList::fieldSlot(FlowLayout* line, const FieldSource& source, const std::string& key,
                                       const QString& empty)
{
    const std::vector<io::FieldView> fields = source.views();
    const auto field = std::ranges::find(fields, key, &io::FieldView::key);
    const QString text = field == fields.end() ? QString() : slotText(*field);
    auto* button = slot(line, source.prefix + toText(key), text.isEmpty() ? empty : text,
                              text.isEmpty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(button, source.kind, key);
    connect(button, &SlotButton::clicked, this, [this, source, key, button] { askField(source, key, button); });
    return button;
}

void ExpectationList::buildSentence(FlowLayout* line, std::size_t index)
{
    switch (shown_.expect[index].kind()) {
    case Expectation::Kind::comes:
        buildLines(line, linesOf(index, Where::itself), index);
        break;
    case Expectation::Kind::never:
        word(line, tr("never:"));
        buildLines(line, linesOf(index, Where::never), index);
        break;
    case Expectation::Kind::order:
        buildOrder(line, index);
        break;
    case Expectation::Kind::value:
        buildValue(line, index);
        break;
    case Expectation::Kind::inside:
        buildVisit(line, index);
        break;
    }
    FieldSource own = sourceOf(index);
    const Expectation::Kind kind = shown_.expect[index].kind();
    if (kind == Expectation::Kind::comes || kind == Expectation::Kind::never) { // offered with what the lines have
        if (shown_.expect[index].note.empty())
            return;
    }
    fieldSlots(line, own);
}

/// With `own`, what the expectation has beside its lines is offered with them.
void ExpectationList::buildLines(FlowLayout* line, const Lines& lines, std::optional<std::size_t> own)
{
    const LineMatch* now = lines.get();
    if (!now)
        return;
    const FieldSource source = sourceOf(lines);
    if (!now->response.empty()) {
        fieldSlot(line, source, "snare", tr("any snare"));
        word(line, tr("does"));
        fieldSlot(line, source, "response", tr("choose…"));
        word(line, tr("on"));
        fieldSlot(line, source, "on", tr("anything"));
    } else if (now->event) {
        const bool contact = scene::familyOf(*now->event) == scene::EventFamily::contact ||
                             scene::familyOf(*now->event) == scene::EventFamily::pointer;
        if (contact)
            fieldSlot(line, source, "by", tr("anyone"));
        else
            fieldSlot(line, source, "at", tr("any piece"));
        auto* event = slot(line, source.prefix + QStringLiteral("event"), toText(scene::wordFor(*now->event).verb));
        mark(event, "lines", "event");
        connect(event, &SlotButton::clicked, this, [this, source, event] { askField(source, "event", event); });
        if (contact)
            fieldSlot(line, source, "at", tr("any piece"));
    } else if (!now->signal.empty()) {
        word(line, tr("signal"));
        fieldSlot(line, source, "signal", tr("choose…"));
        word(line, tr("is raised"));
    } else if (!now->phase.empty()) {
        word(line, tr("phase"));
        fieldSlot(line, source, "phase", tr("choose…"));
        word(line, tr("of"));
        fieldSlot(line, source, "on", tr("the scene"));
        word(line, tr("begins"));
    } else {
        fieldSlot(line, source, "snare", tr("choose…"));
        const bool slips = now->stage || now->outcome == scene::Outcome::slipped;
        auto* outcome = slot(line, source.prefix + QStringLiteral("outcome"), slips ? tr("slips") : tr("springs"));
        mark(outcome, "lines", "outcome");
        connect(outcome, &SlotButton::clicked, this, [change = lines.edit, slips] {
            change([slips](LineMatch& one) {
                one.outcome = slips ? std::nullopt : std::optional(scene::Outcome::slipped);
                one.stage.reset();
            });
        });
    }
    FieldSource further = source;
    if (!(now->stage || now->outcome == scene::Outcome::slipped))
        further.elsewhere.insert("stage");
    further.offerText = QStringLiteral("+");
    if (!own)
        return fieldSlots(line, further);
    const Expectation& expect = shown_.expect[*own];
    const FieldSource beside = sourceOf(*own);
    QStringList before;
    if (expect.kind() == Expectation::Kind::comes) {
        if (expect.times) {
            auto* times = slot(line, beside.prefix + QStringLiteral("times"), toText(words::timesText(expect.times)));
            mark(times, "expectation", "times");
            connect(times, &SlotButton::clicked, this, [this, beside, times] { askField(beside, "times", times); });
        } else {
            before << tr("how often");
        }
    }
    if (expect.note.empty())
        before << tr("note");
    fieldSlots(line, further, before, [this, beside, line](const QString& chosen) {
        askField(beside, chosen == tr("note") ? "note" : "times", line->parentWidget());
    });
}

void ExpectationList::buildOrder(FlowLayout* line, std::size_t index)
{
    const std::size_t steps = shown_.expect[index].order.size();
    for (std::size_t i = 0; i < steps; ++i) {
        word(line, i == 0 ? tr("first") : tr("then"));
        buildLines(line, linesOf(index, Where::order, i));
        if (steps <= 2)
            continue;
        auto* less = slot(line, QStringLiteral("expect %1 step %2 remove").arg(index + 1).arg(i + 1), tr("×"),
                                SlotButton::Kind::offer);
        less->setToolTip(tr("Take this step away"));
        connect(less, &SlotButton::clicked, this, [this, index, i] {
            edit(index, tr("Take a step out of an order"),
                 [i](Expectation& one) { one.order.erase(one.order.begin() + static_cast<std::ptrdiff_t>(i)); });
        });
    }
    auto* more =
        slot(line, QStringLiteral("expect %1 add step").arg(index + 1), tr("+ then…"), SlotButton::Kind::offer);
    connect(more, &SlotButton::clicked, this, [this, index, more] {
        Question question;
        question.title = tr("What comes then");
        question.choices = {{QStringLiteral("event"), tr("an event"), {}, {}},
                            {QStringLiteral("snare"), tr("a snare springs"), {}, {}},
                            {QStringLiteral("signal"), tr("a signal is raised"), {}, {}},
                            {QStringLiteral("phase"), tr("a phase begins"), {}, {}},
                            {QStringLiteral("response"), tr("something is done"), {}, {}}};
        SlotPopup::ask(more, question, [this, index](const QStringList& answer) {
            edit(index, tr("Add a step to an order"), [&](Expectation& one) {
                one.order.push_back(plainExpectation(answer.front().toStdString(), document_.scene(), 0).line);
            });
        });
    });
}

SlotButton* ExpectationList::momentSlot(FlowLayout* line, std::size_t index)
{
    const Expectation& now = shown_.expect[index];
    const QString text = now.always ? tr("always")
                         : now.ever ? tr("at some time")
                                    : tr("at %1 s").arg(figure(now.line.at.time.value_or(0)));
    auto* when = slot(line, QStringLiteral("expect %1 when").arg(index + 1), text);
    mark(when, "lines", "at");
    mark(when, "expectation", "always");
    mark(when, "expectation", "ever");
    connect(when, &SlotButton::clicked, this, [this, index, when] { askMoment(index, when); });
    return when;
}

void ExpectationList::askMoment(std::size_t index, QWidget* anchor)
{
    const Expectation* now = at(index);
    if (!now)
        return;
    Question question;
    question.title = tr("When, s");
    question.freeText = true;
    question.typed = now->line.at.time ? figure(*now->line.at.time) : QString();
    if (now->kind() == Expectation::Kind::value)
        question.choices = {{QStringLiteral("always"), tr("always"), tr("in every tick"), {}},
                            {QStringLiteral("ever"), tr("at some time"), tr("in one tick at least"), {}}};
    question.choices.push_back({QString::number(stage_.cursorSeconds(), 'f', 3), tr("now"), tr("at the cursor"), {}});
    question.check = [](const QStringList& given) {
        const bool isWord = given.front() == QLatin1String("always") || given.front() == QLatin1String("ever");
        const auto numbers = numbersIn(given.front(), 1);
        return isWord || (numbers && numbers->front() >= 0) ? QString() : tr("A moment in seconds, from 0 on");
    };
    SlotPopup::ask(anchor, question, [this, index](const QStringList& given) {
        edit(index, tr("Change when something is expected"), [&](Expectation& one) {
            one.always = given.front() == QLatin1String("always");
            one.ever = given.front() == QLatin1String("ever");
            one.line.at.time.reset();
            if (!one.always && !one.ever)
                one.line.at.time = numbersIn(given.front(), 1)->front();
        });
    });
}

void ExpectationList::buildValue(FlowLayout* line, std::size_t index)
{
    const FieldSource source = sourceOf(index);
    momentSlot(line, index);
    fieldSlot(line, source, "value", tr("choose…"));
    auto* is = slot(line, source.prefix + QStringLiteral("is"),
                    toText(scene::wordsOf<scene::Comparison>[static_cast<std::size_t>(shown_.expect[index].is)].about));
    mark(is, "expectation", "is");
    connect(is, &SlotButton::clicked, this, [this, source, is] { askField(source, "is", is); });
    const auto& to = shown_.expect[index].to;
    auto* value = slot(line, source.prefix + QStringLiteral("to"), to ? literalText(*to) : tr("choose…"));
    mark(value, "expectation", "to");
    connect(value, &SlotButton::clicked, this, [this, source, value] { askField(source, "to", value); });
}

void ExpectationList::buildVisit(FlowLayout* line, std::size_t index)
{
    momentSlot(line, index);
    for (std::size_t part = 0; part < 2; ++part) {
        const QString name =
            part < shown_.expect[index].inside.size() ? toText(shown_.expect[index].inside[part]) : QString();
        auto* button = slot(
            line, QStringLiteral("expect %1 %2").arg(index + 1).arg(part == 0 ? tr("visitor") : tr("place")), name);
        mark(button, "expectation", "inside");
        connect(button, &SlotButton::clicked, this, [this, index, part, button, name] {
            Question question;
            question.title = part == 0 ? tr("Who") : tr("Inside what");
            question.freeText = true;
            question.typed = name;
            question.choices = placeChoices(document_.scene());
            SlotPopup::ask(button, question, [this, index, part](const QStringList& answer) {
                edit(index, tr("Change an expectation"), [&](Expectation& one) {
                    one.inside.resize(2);
                    one.inside[part] = answer.front().trimmed().toStdString();
                });
            });
        });
        if (part == 0)
            word(line, tr("is inside"));
    }
}

} // namespace snare::app
