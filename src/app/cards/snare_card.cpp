// SPDX-License-Identifier: Apache-2.0
#include "app/cards/snare_card.h"

#include "app/cards/level_curve.h"
#include "app/slots/conditions.h"
#include "app/slots/naming.h"
#include "app/slots/script_editor.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/formula_text.h"
#include "app/ui/funnel.h"
#include "app/ui/key_names.h"
#include "app/ui/menus.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/mentions.h"

#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <nlohmann/json.hpp>

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
    connect(&stage_.coverage(), &CoverageWatch::changed, this, &SnareCard::refresh);
    setSnare(std::string(id_));
    layout()->setContentsMargins(14, 10, 12, 10);
    setMinimumHeight(40);
    connect(&selection_, &Selection::changed, this, qOverload<>(&QWidget::update));
    if (const auto found = find())
        shown_ = *found;
}

void SnareCard::setSnare(const std::string& name)
{
    id_ = name;
    key_ = keyOf(name);
    setObjectName(QStringLiteral("card ") + toText(id_));
    setAccessibleName(isRoutine() ? tr("Routine %1").arg(toText(bareName())) : tr("Snare %1").arg(toText(bareName())));
}

/// What the card shows; a routine as a snare that has nothing but responses.
std::optional<scene::Snare> SnareCard::find() const
{
    if (!isRoutine()) {
        const scene::Snare* snare = inScene();
        return snare ? std::optional(*snare) : std::nullopt;
    }
    const scene::Routine* routine = scene::routineIn(document_.scene(), key_.home, bareName());
    if (!routine)
        return std::nullopt;
    scene::Snare snare;
    snare.id = bareName();
    snare.responses = routine->responses;
    return snare;
}

bool SnareCard::isChosen() const
{
    if (selection_.snare().empty() || isRoutine())
        return false;
    const bool isPlain = key_.kind == CardKey::Kind::snare && key_.home.empty();
    return isPlain ? selection_.snare() == id_ : cardOf(document_.scene(), selection_.snare()) == id_;
}

QString SnareCard::homeText() const
{
    return key_.home.empty() ? QString() : tr("%1: ").arg(toText(key_.home));
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
    const auto snare = find();
    if (!snare || !built_)
        return;
    std::vector<check::Finding> problems = document_.findings().at(place());
    scene::Named<scene::Scalar> with;
    if (const scene::Routine* routine =
            isRoutine() ? scene::routineIn(document_.scene(), key_.home, bareName()) : nullptr)
        with = routine->with;
    QString state = isRoutine() ? tr("routine") : tr("listening");
    if (!snare->armed) {
        const std::vector<std::string> armers = scene::armersOf(document_.scene(), bareName());
        state = armers.empty() ? tr("disarmed, nothing arms it")
                               : tr("disarmed, armed by %1").arg(joined(armers, tr("or")));
    }
    const bool sameProblems = std::ranges::equal(problems, problems_, {}, &check::Finding::text, &check::Finding::text);
    const std::string inRun = nameInRun(document_.scene(), key_);
    const bool isUnused = !isRoutine() && stage_.coverage().isUnused(check::Covered::Of::snare, inRun);
    std::vector<int> unusedSteps = stage_.coverage().unusedSteps(
        {isRoutine() ? check::Place::Of::routine : check::Place::Of::snare, isRoutine() ? bareName() : inRun});
    if (*snare == shown_ && sameProblems && state == stateText_ && with == with_ && isUnused == isUnused_ &&
        unusedSteps == unusedSteps_)
        return;
    isUnused_ = isUnused;
    unusedSteps_ = std::move(unusedSteps);
    shown_ = *snare;
    with_ = std::move(with);
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
    const scene::Catch caught = shown_.catches;
    document_.edit(homeText() + name.arg(toText(bareName())), [&](scene::Scene& scene) {
        if (isRoutine()) {
            if (scene::Routine* routine = scene::routineToChange(scene, key_.home, bareName())) {
                scene::Snare snare;
                snare.responses = std::move(routine->responses);
                change(snare);
                routine->responses = std::move(snare.responses);
            }
            return;
        }
        if (scene::Snare* snare = snareToChange(scene, key_))
            change(*snare);
    });
    if (!asksOn_)
        return;
    const auto now = find();
    asksOn_ = now && now->catches.event == caught.event && now->catches != caught;
    if (asksOn_) // the card is built first
        QMetaObject::invokeMethod(this, &SnareCard::askOn, Qt::QueuedConnection);
}

/// The snare as it stands in the scene; null for a routine and for what is not there.
const scene::Snare* SnareCard::inScene() const
{
    return snareOf(document_.scene(), key_);
}

void SnareCard::build(QVBoxLayout* column)
{
    funnel_ = nullptr;
    numbers_.clear();
    buildHead(column);
    if (collapsed_) {
        const QString sentence =
            isRoutine() ? counted(shown_.responses.size(), tr("response"), tr("responses"))
                        : tr("%1 %2 %3 · %4")
                              .arg(visitorText(shown_), eventText(shown_.catches), whereText(shown_.catches),
                                   counted(shown_.responses.size(), tr("response"), tr("responses")));
        auto* line = new QLabel{sentence, body()};
        colourText(line, &Theme::inkSoft);
        line->setTextFormat(Qt::PlainText);
        line->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        column->addWidget(line);
        return;
    }
    buildNote(column);
    buildProblems(column);
    if (isUnused_) {
        auto* never = new QLabel{tr("No take springs it"), body()};
        never->setObjectName(QStringLiteral("unused"));
        colourText(never, &Theme::inkSoft);
        column->addWidget(never);
    }
    if (!isRoutine()) {
        auto* sentence = new FlowLayout{nullptr};
        buildCatch(sentence);
        sentence->giveHelp(QStringLiteral("events#") + toText(scene::wordFor(shown_.catches.event.items.front()).word));
        column->addLayout(sentence);
        buildCurve(column);
        auto* conditions = new FlowLayout{nullptr};
        buildConditions(conditions);
        conditions->giveHelp(QStringLiteral("narrowing"));
        column->addLayout(conditions);
    }
    if (isRoutine())
        buildParameters(column);
    for (std::size_t i = 0; i < shown_.responses.size(); ++i)
        buildResponse(column, i);
    auto* add = new FlowLayout{nullptr};
    SlotButton* offer = slot(add, QStringLiteral("add response"), tr("+ response"), SlotButton::Kind::offer);
    connect(offer, &SlotButton::clicked, this, [this, offer] { offerResponses(offer); });
    if (shown_.note.empty() && !isRoutine()) {
        SlotButton* note = slot(add, QStringLiteral("note"), tr("+ note"), SlotButton::Kind::offer);
        connect(note, &SlotButton::clicked, this, [this, note] { editNote(note); });
    }
    column->addLayout(add);
    if (isRoutine())
        return;
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
    auto* name = new SlotButton{toText(bareName()), SlotButton::Kind::action, body()};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(0.5, true));
    name->setToolTip(tr("Rename"));
    connect(name, &SlotButton::clicked, this, [this, name] {
        if (isRoutine() && scene::homeOf(document_.scene(), scene::Thing::routine, bareName()) == key_.home)
            return askForName(name, document_, scene::Thing::routine, bareName(), [](const std::string&) {});
        if (isOfAssembly() || !key_.home.empty() || isRoutine())
            return renameWithin(name);
        askForName(name, document_, scene::Thing::snare, id_,
                   [this](const std::string& to) { selection_.chooseSnare(to, shown_.catches.at); });
    });
    head->addWidget(name);
    head->addStretch();
    if (!key_.home.empty()) {
        auto* home = new QLabel{toText(key_.home).section(QLatin1Char('.'), 0, 0), body()};
        home->setToolTip(tr("It stands in %1").arg(toText(key_.home)));
        home->setFont(textFont(-0.5));
        colourText(home, &Theme::inkSoft);
        head->addWidget(home);
    }
    auto* state = new SlotButton{stateText_, SlotButton::Kind::offer, body()};
    state->setObjectName(QStringLiteral("armed"));
    state->setToolTip(tr("Whether it listens at the start"));
    state->setEnabled(!isRoutine());
    connect(state, &SlotButton::clicked, this, [this] {
        edit(shown_.armed ? tr("Disarm %1") : tr("Arm %1"), [](scene::Snare& snare) { snare.armed = !snare.armed; });
    });
    head->addWidget(state);
    auto* more =
        new SlotButton{pinned_ ? QStringLiteral("● ⋯") : QStringLiteral("⋯"), SlotButton::Kind::action, body()};
    more->setObjectName(QStringLiteral("more"));
    more->setAccessibleName(tr("More about snare %1").arg(toText(bareName())));
    mark(name, "snare", "id");
    mark(state, "snare", "armed");
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
    mark(note, "snare", "note");
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

check::Place SnareCard::place() const
{
    return {isRoutine() ? check::Place::Of::routine : check::Place::Of::snare, bareName(), key_.home, key_.assembly};
}

/// A card that cannot work says so in place, and how it could be mended.
void SnareCard::buildProblems(QVBoxLayout* layout)
{
    for (const check::Finding& problem : problems_) {
        const bool isError = problem.severity == check::Severity::error;
        auto* label =
            new QLabel{(isError ? QStringLiteral("▲ ") : QStringLiteral("△ ")) + saidInPlace(problem), body()};
        label->setObjectName(QStringLiteral("problem"));
        label->setTextFormat(Qt::PlainText);
        label->setWordWrap(true);
        label->setToolTip(toText(check::rowOf(problem.id).why));
        colourText(label, &Theme::coralText);
        layout->addWidget(label);
        if (!problem.fix)
            continue;
        auto* line = new QHBoxLayout;
        line->setContentsMargins(16, 0, 0, 0);
        auto* fix = new SlotButton{toText(problem.fix->text), SlotButton::Kind::offer, body()};
        fix->setObjectName(QStringLiteral("fix ") + toText(problem.id));
        connect(fix, &SlotButton::clicked, this, [this, problem] { document_.findings().fix(problem); });
        line->addWidget(fix);
        line->addStretch(1);
        layout->addLayout(line);
    }
}

void SnareCard::focusField(int response, const std::string& field)
{
    ensureBuilt();
    if (response >= 0) {
        auto* slot = findChild<SlotButton*>(QStringLiteral("%1 %2").arg(response + 1).arg(toText(field)));
        if (!slot)
            slot = findChild<SlotButton*>(QStringLiteral("response %1").arg(response + 1));
        if (slot)
            slot->setFocus(Qt::ShortcutFocusReason);
        return;
    }
    const QString wanted = QLatin1Char('.') + toText(field);
    for (SlotButton* slot : findChildren<SlotButton*>())
        for (const QString& mark : slot->property("field").toString().split(QLatin1Char(' ')))
            if (mark.endsWith(wanted))
                return slot->setFocus(Qt::ShortcutFocusReason);
}

void SnareCard::contextMenuEvent(QContextMenuEvent* event)
{
    showMenu(event->globalPos());
}

void SnareCard::mousePressEvent(QMouseEvent* event)
{
    pressedAt_ = event->position().toPoint();
    dragging_ = false;
    if (event->button() != Qt::LeftButton || isRoutine() || isOfAssembly())
        return;
    const bool isAtPiece = key_.home.empty() && scene::findPiece(document_.scene(), shown_.catches.at);
    selection_.chooseSnare(bareName(), isAtPiece ? shown_.catches.at : std::string());
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

void SnareCard::buildConditions(FlowLayout* line)
{
    const auto phrases = filterPhrases(shown_);
    if (!phrases.empty())
        word(line, tr("only"));
    for (const Phrase& phrase : phrases) {
        SlotButton* button = slot(line, phrase.key, phrase.text);
        if (phrase.key.startsWith(QLatin1String("when.")))
            for (const char* part : {"left", "is", "right"})
                mark(button, "condition", part);
        else if (const ConditionRow* of = conditionRow(phrase.key))
            mark(button, wordOf(of->part), of->field);
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
        if (answer.front() == QLatin1String("when"))
            editComparison(filterConditions, shown_.filter.when.size(), anchor);
        else
            editCondition(answer.front(), anchor);
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
        const auto fault = answer.front().isEmpty() ? std::nullopt : conditionFault(answer.front());
        if (fault)
            return fault->text;
        return answer.front().isEmpty() || conditionFrom(answer.front())
                   ? QString()
                   : tr("A path, a sign and a value: self.load >= 3");
    };
    question.wrongAt = [](const QString& typed) {
        const auto fault = conditionFault(typed);
        return fault ? std::optional(fault->at) : std::nullopt;
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

void SnareCard::editGroups(QWidget* anchor)
{
    Question question;
    question.title = tr("Visitors of these groups; none: anyone");
    question.placeholder = tr("type to find");
    question.choices = groupChoices(document_.scene());
    question.many = true;
    question.takesNew = true;
    for (const std::string& name : shown_.filter.groups)
        question.chosen << toText(name);
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change the filter of %1"), [&](scene::Snare& snare) {
            snare.filter.groups.clear();
            for (const QString& name : answer)
                snare.filter.groups.push_back(name.toStdString());
        });
    });
}

void SnareCard::editCondition(const QString& key, QWidget* anchor)
{
    if (key.startsWith(QLatin1String("when.")))
        return editComparison(filterConditions, key.mid(5).toULongLong(), anchor);
    const ConditionRow* row = conditionRow(key);
    if (!row)
        return;
    const io::FieldView field = fieldOf(shown_, *row);
    const auto set = [this, row](const std::string& json) {
        edit(tr("Change a condition of %1"), [&](scene::Snare& snare) { setField(snare, *row, json); });
    };
    if (field.kind == io::SlotKind::flag)
        return set(field.json == "true" ? "false" : "true");
    if (key == QLatin1String("each")) // two words: the other one
        return set(shown_.gate.each == scene::Each::visitor ? "null" : "\"visitor\"");
    const auto check = [snare = shown_, row](const std::string& json) {
        scene::Snare trial = snare;
        return setField(trial, *row, json);
    };
    if (field.refers == scene::Refers::script)
        return ScriptEditor::ask(anchor, document_.scene(), field.set ? shown_.filter.script : std::string(), true,
                                 [set](const QString& text) {
                                     set(text.trimmed().isEmpty() ? "null" : io::Json(text.toStdString()).dump());
                                 });
    Question question = questionFor(field, document_.scene(), check);
    if (field.kind == io::SlotKind::number)
        question.placeholder = tr("empty: no such condition");
    if (field.kind == io::SlotKind::words || field.kind == io::SlotKind::names)
        question.placeholder = tr("type to find; none: no such condition");
    offerRename(question, anchor, document_, field);
    SlotPopup::ask(anchor, question, [set, field](const QStringList& answer) { set(jsonFrom(field, answer)); });
}

void SnareCard::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const bool chosen = isChosen();
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setPen(QPen{chosen ? t.ink : t.hairline, chosen ? 1.6 : 1});
    painter.setBrush(shown_.armed ? t.paper : t.panelDeep);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(!problems_.empty() ? t.coral : isRoutine() ? t.blue : shown_.armed ? t.mint : t.hairline);
    painter.drawRoundedRect(QRectF{box.left(), box.top(), 4, box.height()}, 2, 2);
}

} // namespace snare::app
