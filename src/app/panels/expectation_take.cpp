// SPDX-License-Identifier: Apache-2.0
/// What the list of expectations says of the take itself: what it is for, whether its run stops,
/// its schema.
#include "app/panels/expectation_list.h"
#include "app/slots/choices.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

/// What the take is for, and whether its run is meant to stop.
void ExpectationList::buildTake(QVBoxLayout* column)
{
    auto* line = new FlowLayout{nullptr};
    auto* note =
        slot(line, QStringLiteral("take note"), shown_.note.empty() ? tr("+ what it is for") : toText(shown_.note),
             shown_.note.empty() ? SlotButton::Kind::offer : SlotButton::Kind::action);
    mark(note, "take", "note");
    connect(note, &SlotButton::clicked, this, [this, note] {
        Question question;
        question.title = tr("What the take is for");
        question.freeText = true;
        question.typed = toText(document_.take().note);
        SlotPopup::ask(note, question, [this](const QStringList& answer) {
            scene::Take take = document_.take();
            take.note = answer.front().trimmed().toStdString();
            document_.setTake(tr("Say what the take is for"), std::move(take));
        });
    });
    column->addLayout(line);
    auto* ends = new FlowLayout{nullptr};
    word(ends, tr("its run"), true);
    auto* stops = slot(ends, QStringLiteral("take stops"), shown_.stops ? tr("is meant to stop") : tr("does not stop"),
                             shown_.stops ? SlotButton::Kind::filled : SlotButton::Kind::offer);
    stops->setToolTip(tr("A run stops when rules set each other off without end, or a script takes too much"));
    mark(stops, "take", "stops");
    connect(stops, &SlotButton::clicked, this, [this] {
        scene::Take take = document_.take();
        take.stops = !take.stops;
        document_.setTake(tr("Change whether the run may stop"), std::move(take));
    });
    column->addLayout(ends);
    if (judged_ && !judgement_.stop.empty()) {
        auto* wrong = new QLabel{toText(judgement_.stop), body()};
        colourText(wrong, &Theme::coralText);
        wrong->setWordWrap(true);
        column->addWidget(wrong);
    }
}

/// What only other programs ask of the file; below all that is expected.
void ExpectationList::buildFile(QVBoxLayout* column)
{
    auto* line = new FlowLayout{nullptr};
    word(line, tr("its file is checked by the schema"), true);
    auto* schema =
        slot(line, QStringLiteral("take schema"), shown_.schema.empty() ? QStringLiteral("+") : toText(shown_.schema),
             shown_.schema.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    schema->setToolTip(tr("For text editors: path or address of the JSON Schema; snare schema take writes it"));
    mark(schema, "take", "$schema");
    connect(schema, &SlotButton::clicked, this, [this, schema] {
        Question question;
        question.title = tr("Where text editors find the schema; empty: nowhere");
        question.freeText = true;
        question.typed = toText(document_.take().schema);
        SlotPopup::ask(schema, question, [this](const QStringList& answer) {
            scene::Take take = document_.take();
            take.schema = answer.front().trimmed().toStdString();
            document_.setTake(tr("Change the schema of the take"), std::move(take));
        });
    });
    column->addLayout(line);
}

} // namespace snare::app
