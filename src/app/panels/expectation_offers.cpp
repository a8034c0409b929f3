// SPDX-License-Identifier: Apache-2.0
/// What the list of expectations offers: new ones, the menu of each, and accepting what is now.
#include "app/panels/expectation_list.h"

#include "app/model/expecting.h"
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
#include <cmath>

namespace snare::app {

void ExpectationList::offer(QWidget* anchor)
{
    Question question;
    question.title = tr("What must show in the run");
    question.choices = {
        {QStringLiteral("event"), tr("an event comes"), tr("enters, leaves, hits, arrives…"), {}},
        {QStringLiteral("snare"), tr("a snare springs"), tr("or slips, and where"), {}},
        {QStringLiteral("signal"), tr("a signal is raised"), tr("with its values"), {}},
        {QStringLiteral("phase"), tr("a phase begins"), tr("of the scene or a piece"), {}},
        {QStringLiteral("response"), tr("something is done"), tr("a response is carried out"), {}},
        {QStringLiteral("never"), tr("something never comes"), tr("none of these"), {}},
        {QStringLiteral("order"), tr("things come in this order"), tr("one after the other"), {}},
        {QStringLiteral("value"), tr("a value is so"), tr("then, always, at some time"), {}},
        {QStringLiteral("inside"), tr("somebody is inside"), tr("at a moment"), {}}};
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) { add(answer.front().toStdString()); });
}

void ExpectationList::add(const std::string& kind)
{
    addExpectation(document_,
                   plainExpectation(kind, document_.scene(), std::round(stage_.cursorSeconds() * 1000) / 1000));
}

void ExpectationList::showMenu(std::size_t index, QWidget* anchor)
{
    QMenu& menu = *makeMenu(this);
    if (judged_ && (judgement_.verdicts[index].line >= 0 || judgement_.verdicts[index].tick >= 0))
        menu.addAction(tr("Go there"), this, [this, index] { go(index); });
    if (judged_ && !judgement_.verdicts[index].held)
        menu.addAction(tr("This is right now…"), this, [this, index, anchor] { askToAccept(index, anchor); });
    const auto move = [this, index](int by) {
        scene::Take take = document_.take();
        const auto to = static_cast<std::size_t>(static_cast<std::ptrdiff_t>(index) + by);
        if (to >= take.expect.size())
            return;
        std::swap(take.expect[index], take.expect[to]);
        document_.setTake(tr("Move an expectation"), std::move(take));
    };
    menu.addAction(tr("Move up"), this, [move] { move(-1); });
    menu.addAction(tr("Move down"), this, [move] { move(1); });
    menu.addSeparator();
    menu.addAction(tr("Remove"), this, [this, index] { removeExpectation(document_, index); });
    menu.popup(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

void ExpectationList::go(std::size_t index)
{
    if (!judged_ || index >= judgement_.verdicts.size())
        return;
    const check::Verdict& verdict = judgement_.verdicts[index];
    if (verdict.line >= 0)
        stage_.chooseLine(verdict.line);
    else
        stage_.setCursor(verdict.tick);
}

void ExpectationList::askToAccept(std::optional<std::size_t> only, QWidget* anchor)
{
    if (!judged_)
        return;
    const Acceptance acceptance = accepted(stage_.record(), judgement_, only);
    if (acceptance.changes.empty())
        return;
    auto* dialog = new QDialog{anchor->window()};
    dialog->setObjectName(QStringLiteral("acceptNow"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("This is right now"));
    dialog->setMinimumWidth(520);
    auto* column = new QVBoxLayout{dialog};
    column->setContentsMargins(16, 14, 16, 12);
    column->setSpacing(8);
    column->addWidget(new QLabel{tr("The take will expect what its run shows:"), dialog});
    for (const auto& [before, after] : acceptance.changes) {
        auto* was = new QLabel{QStringLiteral("− ") + toText(before), dialog};
        was->setWordWrap(true);
        colourText(was, &Theme::coralText);
        column->addWidget(was);
        auto* is =
            new QLabel{QStringLiteral("+ ") + (after.empty() ? tr("it is no longer expected") : toText(after)), dialog};
        is->setWordWrap(true);
        colourText(is, &Theme::mintText);
        column->addWidget(is);
    }
    auto* buttons = new QDialogButtonBox{dialog};
    QPushButton* accept = buttons->addButton(tr("Expect this"), QDialogButtonBox::AcceptRole);
    accept->setObjectName(QStringLiteral("acceptNowYes"));
    buttons->addButton(QDialogButtonBox::Cancel);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, dialog,
            [this, dialog, now = document_.take(), expect = acceptance.take] {
                if (document_.take() == now) { // else it was changed meanwhile
                    scene::Take take = now;
                    take.expect = expect.expect;
                    take.stops = expect.stops;
                    document_.setTake(tr("This is right now"), std::move(take));
                }
                dialog->accept();
            });
    dialog->open();
}

} // namespace snare::app
