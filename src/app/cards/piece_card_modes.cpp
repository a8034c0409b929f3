// SPDX-License-Identifier: Apache-2.0
/// What a piece card says of time: phases, timers, lifetime, when it is present.
#include "app/cards/piece_card.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

void PieceCard::buildModes(QVBoxLayout* column)
{
    auto* line = new FlowLayout{nullptr, 6};
    if (!shown_.phases.empty()) {
        word(line, tr("phases"), true);
        for (std::size_t i = 0; i < shown_.phases.size(); ++i) {
            const scene::PiecePhase& phase = shown_.phases[i];
            SlotButton* button = slot(line, QStringLiteral("phase ") + toText(phase.id), toText(phase.id));
            button->setToolTip(phase.look ? tr("Phase %1, which brings a look").arg(toText(phase.id))
                                          : tr("Phase %1: choose its look").arg(toText(phase.id)));
            phaseSlots_.push_back({phase.id, button});
            connect(button, &SlotButton::clicked, this, [this, i, button] { editPhaseLook(i, button); });
        }
        SlotButton* edit = slot(line, QStringLiteral("phases"), QStringLiteral("…"), SlotButton::Kind::offer);
        edit->setToolTip(tr("Change the list of phases"));
        connect(edit, &SlotButton::clicked, this, [this, edit] { editPhases(edit); });
    }
    for (std::size_t i = 0; i < shown_.timers.size(); ++i) {
        const scene::PieceTimer& timer = shown_.timers[i];
        word(line, tr("timer"), true);
        SlotButton* button =
            slot(line, QStringLiteral("timer ") + toText(timer.id),
                 tr("%1 every %2").arg(toText(timer.id), numberText(timer.timer.every, scene::Unit::seconds)));
        connect(button, &SlotButton::clicked, this, [this, i, button] { editTimer(i, button); });
    }
    if (shown_.lifetime) {
        word(line, tr("removed after"), true);
        SlotButton* life = slot(line, QStringLiteral("lifetime"), numberText(*shown_.lifetime, scene::Unit::seconds));
        connect(life, &SlotButton::clicked, this, [this, life] { editMode(QStringLiteral("lifetime"), life); });
    }
    if (!shown_.during.items.empty()) {
        word(line, tr("present during"), true);
        SlotButton* during = slot(line, QStringLiteral("during"), joined(shown_.during.items, tr("or")));
        connect(during, &SlotButton::clicked, this, [this, during] { editMode(QStringLiteral("during"), during); });
    }
    if (shown_.outside != scene::Outside::keep) {
        word(line, tr("outside the bounds it"), true);
        QString about;
        for (const auto& entry : scene::wordsOf<scene::Outside>)
            if (entry.value == shown_.outside)
                about = toText(entry.about);
        SlotButton* outside = slot(line, QStringLiteral("outside"), about);
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
                editTimer(shown_.timers.size(), more);
            else
                editMode(answer.front(), more);
        });
    });
    column->addLayout(line);
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

/// "blink every 2 s, once": empty takes it away.
void PieceCard::editTimer(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("A timer: its name and how often, s; empty: none");
    question.placeholder = tr("blink 2, blink 2 once, blink 2 stopped");
    question.freeText = true;
    if (index < shown_.timers.size()) {
        const scene::PieceTimer& timer = shown_.timers[index];
        question.typed =
            QStringLiteral("%1 %2%3%4")
                .arg(toText(timer.id), literalText(timer.timer.every), timer.timer.repeat ? QString() : tr(" once"),
                     timer.timer.runs ? QString() : tr(" stopped"));
    }
    const auto read = [](const QString& typed) -> std::optional<scene::PieceTimer> {
        const QStringList parts = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        bool isNumber = false;
        const double every = parts.size() >= 2 ? parts[1].toDouble(&isNumber) : 0;
        const QStringList flags = parts.mid(2);
        const auto known = [](const QString& flag) { return flag == tr("once") || flag == tr("stopped"); };
        if (!isNumber || every <= 0 || !scene::isId(parts[0].toStdString()) || !std::ranges::all_of(flags, known))
            return std::nullopt;
        return scene::PieceTimer{parts[0].toStdString(),
                                 {every, !flags.contains(tr("once")), !flags.contains(tr("stopped"))}};
    };
    question.check = [read](const QStringList& answer) {
        return answer.front().trimmed().isEmpty() || read(answer.front())
                   ? QString()
                   : tr("A name, a number above 0, then once or stopped: blink 2 once");
    };
    SlotPopup::ask(anchor, question, [this, index, read](const QStringList& answer) {
        edit(tr("Change a timer of %1"), [&](scene::Piece& piece) {
            const auto timer = read(answer.front());
            if (timer && index < piece.timers.size())
                piece.timers[index] = *timer;
            else if (timer)
                piece.timers.push_back(*timer);
            else if (index < piece.timers.size())
                piece.timers.erase(piece.timers.begin() + static_cast<std::ptrdiff_t>(index));
        });
    });
}

void PieceCard::editMode(const QString& key, QWidget* anchor)
{
    if (key == QLatin1String("lifetime")) {
        Question question;
        question.title = tr("Removed after, s; empty: never");
        question.freeText = true;
        question.typed = shown_.lifetime ? QString::number(*shown_.lifetime) : QString();
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
