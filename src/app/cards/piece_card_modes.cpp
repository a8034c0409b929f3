// SPDX-License-Identifier: Apache-2.0
/// What a piece card says of time: phases, timers, lifetime, when it is present.
#include "app/cards/piece_card.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"
#include "scene/models.h"

#include <QLabel>
#include <QMenu>
#include <QVBoxLayout>

namespace snare::app {

void PieceCard::buildModes(QVBoxLayout* column)
{
    const bool isPlain = shown_.phases.empty() && shown_.timers.empty() && !shown_.lifetime &&
                         shown_.during.items.empty() && shown_.outside == scene::Outside::keep;
    if (isPlain && !showsAll())
        return;
    auto* line = row(column, tr("lives"));
    if (!shown_.phases.empty()) {
        word(line, tr("in phases"), true);
        for (std::size_t i = 0; i < shown_.phases.size(); ++i) {
            const scene::PiecePhase& phase = shown_.phases[i];
            SlotButton* button = slot(line, QStringLiteral("phase ") + toText(phase.id), toText(phase.id));
            button->setToolTip(phase.look ? tr("Phase %1, which brings a look").arg(toText(phase.id))
                                          : tr("Phase %1: choose its look").arg(toText(phase.id)));
            mark(button, "phase", "id");
            mark(button, "phase", "look");
            phaseSlots_.push_back({phase.id, button});
            connect(button, &SlotButton::clicked, this, [this, i, button] { editPhaseLook(i, button); });
        }
        SlotButton* edit = slot(line, QStringLiteral("phases"), QStringLiteral("…"), SlotButton::Kind::offer);
        edit->setToolTip(tr("Change the list of phases"));
        mark(edit, "piece", "phases");
        connect(edit, &SlotButton::clicked, this, [this, edit] { editPhases(edit); });
    }
    for (std::size_t i = 0; i < shown_.timers.size(); ++i)
        buildTimer(column, i);
    if (shown_.lifetime) {
        word(line, tr("removed after"), true);
        SlotButton* life = slot(line, QStringLiteral("lifetime"), numberText(*shown_.lifetime, scene::Unit::seconds));
        mark(life, "piece", "lifetime");
        connect(life, &SlotButton::clicked, this, [this, life] { editMode(QStringLiteral("lifetime"), life); });
    }
    if (!shown_.during.items.empty()) {
        word(line, tr("present during"), true);
        SlotButton* during = slot(line, QStringLiteral("during"), joined(shown_.during.items, tr("or")));
        mark(during, "piece", "during");
        connect(during, &SlotButton::clicked, this, [this, during] { editMode(QStringLiteral("during"), during); });
    }
    if (shown_.outside != scene::Outside::keep) {
        word(line, tr("outside the bounds it"), true);
        QString about;
        for (const auto& entry : scene::wordsOf<scene::Outside>)
            if (entry.value == shown_.outside)
                about = toText(entry.about);
        SlotButton* outside = slot(line, QStringLiteral("outside"), about);
        mark(outside, "piece", "outside");
        connect(outside, &SlotButton::clicked, this, [this, outside] { editMode(QStringLiteral("outside"), outside); });
    }
    SlotButton* more = slot(line, QStringLiteral("add mode"), tr("+ phase, timer, lifetime…"), SlotButton::Kind::offer);
    connect(more, &SlotButton::clicked, this, [this, more] {
        Question question;
        question.title = tr("What else of it");
        question.choices = {
            {QStringLiteral("phases"), tr("phases"), tr("modes that snares change and listen in"),
             tr("state open closed")},
            {QStringLiteral("timer"), tr("a timer of its own"), tr("elapses for this piece"), tr("clock every")},
            {QStringLiteral("lifetime"), tr("a lifetime"), tr("it is removed after it"), tr("expire seconds")},
            {QStringLiteral("during"), tr("present only in phases of the scene"), tr("it comes and goes with them"),
             tr("screen menu")},
            {QStringLiteral("outside"), tr("what happens outside the bounds"),
             tr("goes on, removed, wrapped or stopped"), tr("edge leave wrap")}};
        SlotPopup::ask(more, question, [this, more](const QStringList& answer) {
            if (answer.front() == QLatin1String("phases"))
                editPhases(more);
            else if (answer.front() == QLatin1String("timer"))
                askTimerName(shown_.timers.size(), more);
            else
                editMode(answer.front(), more);
        });
    });
}

void PieceCard::editPhases(QWidget* anchor)
{
    std::vector<std::string> names;
    for (const scene::PiecePhase& phase : shown_.phases)
        names.push_back(phase.id);
    const Question question =
        wordsQuestion(tr("Phases, with commas between; the first is where it starts"), listed(names));
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change the phases of %1"), [&](scene::Piece& piece) {
            std::vector<scene::PiecePhase> phases;
            for (const std::string& name : wordsIn(answer.front())) {
                const auto old = scene::findPhase(piece, name);
                phases.push_back(old ? piece.phases[*old] : scene::PiecePhase{name, {}});
            }
            piece.phases = std::move(phases);
        });
    });
}

/// The look that a phase brings: a colour, one of the named looks, or none.
void PieceCard::editPhaseLook(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("How it looks in phase %1").arg(toText(shown_.phases[index].id));
    question.placeholder = tr("a colour such as #1f8a7a");
    question.freeText = true;
    question.typed = shown_.phases[index].look ? toText(shown_.phases[index].look->colour.code) : QString();
    question.choices.push_back({QStringLiteral("plain"), tr("as without phases"), {}, tr("none")});
    for (const auto& entry : shown_.looks.entries)
        question.choices.push_back(
            {QStringLiteral("look:") + toText(entry.first), toText(entry.first), tr("a look of it"), {}});
    question.check = [](const QStringList& answer) {
        const QString& word = answer.front();
        return word == QLatin1String("plain") || word.startsWith(QLatin1String("look:")) || word.isEmpty() ||
                       (word.startsWith(QLatin1Char('#')) && word.size() == 7 && QColor::isValidColor(word))
                   ? QString()
                   : tr("A colour such as #1f8a7a");
    };
    SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
        edit(tr("Change a phase of %1"), [&](scene::Piece& piece) {
            if (index >= piece.phases.size())
                return;
            const QString& word = answer.front();
            if (word == QLatin1String("plain")) {
                piece.phases[index].look.reset();
                return;
            }
            // A colour changes only the colour of the look that it has.
            scene::Look look = piece.phases[index].look.value_or(piece.look);
            if (word.startsWith(QLatin1String("look:"))) {
                if (const scene::Look* named = piece.looks.find(word.mid(5).toStdString()))
                    look = *named;
            } else {
                look.colour.code = word.toStdString(); // empty: none
            }
            piece.phases[index].look = look;
        });
    });
}

void PieceCard::buildTimer(QVBoxLayout* column, std::size_t index)
{
    const std::string id = shown_.timers[index].id;
    auto* line = row(column, tr("timer"));
    SlotButton* name = slot(line, QStringLiteral("timer ") + toText(id), toText(id), SlotButton::Kind::action);
    mark(name, "piece", "timers");
    mark(name, "timer", "id");
    mark(name, "timer", "timer");
    name->setToolTip(tr("Rename or remove this timer"));
    connect(name, &SlotButton::clicked, this, [this, index, name] { timerMenu(index, name); });
    FieldSource source = fieldsFrom<scene::TimerSource>(
        QStringLiteral("timer %1 ").arg(index),
        [this, index]() -> const scene::TimerSource* {
            const scene::Piece* piece = scene::modelOrPiece(document_.scene(), shown_.id);
            return piece && index < piece->timers.size() ? &piece->timers[index].timer : nullptr;
        },
        [this, index](const std::function<void(scene::TimerSource&)>& change) {
            edit(tr("Change a timer of %1"), [&](scene::Piece& piece) {
                if (index < piece.timers.size())
                    change(piece.timers[index].timer);
            });
        });
    source.kind = "timer";
    source.always = {"every", "repeat", "runs"};
    source.shownByHand = timerWords([this, index]() -> const scene::TimerSource* {
        return index < shown_.timers.size() ? &shown_.timers[index].timer : nullptr;
    });
    fieldSlots(line, source);
}

void PieceCard::timerMenu(std::size_t index, QWidget* anchor)
{
    QMenu& menu = *makeMenu(anchor);
    menu.addAction(tr("Rename…"), this, [this, index, anchor] { askTimerName(index, anchor); });
    menu.addAction(tr("Remove"), this, [this, index] {
        edit(tr("Remove a timer of %1"), [index](scene::Piece& piece) {
            if (index < piece.timers.size())
                piece.timers.erase(piece.timers.begin() + static_cast<std::ptrdiff_t>(index));
        });
    });
    menu.popup(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

/// The name of a timer; one behind the last is made.
void PieceCard::askTimerName(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("Name of the timer");
    question.placeholder = tr("blink");
    question.freeText = true;
    if (index < shown_.timers.size())
        question.typed = toText(shown_.timers[index].id);
    question.check = [piece = shown_, index](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!scene::isId(name))
            return tr("Letters, digits, - and _ only");
        const auto other = std::ranges::find(piece.timers, name, &scene::PieceTimer::id);
        const bool isTaken =
            other != piece.timers.end() && other - piece.timers.begin() != static_cast<std::ptrdiff_t>(index);
        return isTaken ? tr("There is a timer %1 already").arg(answer.front()) : QString();
    };
    SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        document_.edit(tr("Name a timer of %1").arg(toText(shown_.id)), [&](scene::Scene& scene) {
            std::string old;
            scene::changeModelOrPiece(scene, shown_.id, [&](scene::Piece& piece) {
                if (index >= piece.timers.size())
                    return void(piece.timers.push_back({name, {}}));
                old = std::exchange(piece.timers[index].id, name);
            });
            const scene::Piece* piece = scene::findPiece(std::as_const(scene), shown_.id);
            // Who listens to it at this piece goes on to.
            for (std::size_t i = 0; piece && !old.empty() && i < scene.snares.size(); ++i) {
                const scene::Catch& catches = std::as_const(scene.snares)[i].catches;
                if (catches.source == old && scene::isNamedBy(*piece, catches.at))
                    scene.snares[i].catches.source = name;
            }
        });
    });
}

void PieceCard::editMode(const QString& key, QWidget* anchor)
{
    if (key == QLatin1String("lifetime")) {
        Question question;
        question.title = tr("Removed after, s; empty: never");
        question.freeText = true;
        question.typed = shown_.lifetime ? figure(*shown_.lifetime) : QString();
        question.check = [](const QStringList& answer) {
            const auto numbers = numbersIn(answer.front(), 1);
            return answer.front().trimmed().isEmpty() || (numbers && numbers->front() > 0) ? QString()
                                                                                           : tr("A number above 0");
        };
        SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
            edit(tr("Change the lifetime of %1"), [&](scene::Piece& piece) {
                const auto numbers = numbersIn(answer.front(), 1);
                piece.lifetime = numbers ? std::optional(numbers->front()) : std::nullopt;
            });
        });
        return;
    }
    if (key == QLatin1String("during")) {
        Question question;
        question.title = tr("Present only in these phases of the scene; none: always");
        question.many = true;
        for (const std::string& phase : document_.scene().phases)
            question.choices.push_back({toText(phase), {}, {}, {}});
        for (const std::string& phase : shown_.during.items)
            question.chosen << toText(phase);
        if (question.choices.empty())
            question.placeholder = tr("the scene has no phases yet: click beside all pieces to give it some");
        SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
            edit(tr("Change when %1 is present"), [&](scene::Piece& piece) {
                piece.during.items.clear();
                for (const QString& phase : answer)
                    piece.during.items.push_back(phase.toStdString());
            });
        });
        return;
    }
    Question question;
    question.title = tr("When its middle leaves the bounds of the scene");
    for (const auto& entry : scene::wordsOf<scene::Outside>)
        question.choices.push_back({toText(entry.word), tr("it %1").arg(toText(entry.about)), {}, {}});
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change what %1 does outside"), [&](scene::Piece& piece) {
            for (const auto& entry : scene::wordsOf<scene::Outside>)
                if (toText(entry.word) == answer.front())
                    piece.outside = entry.value;
        });
    });
}

} // namespace snare::app
