// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/take_menu.h"

#include "app/model/expecting.h"
#include "app/model/take_edit.h"
#include "app/slots/choices.h"
#include "app/ui/slot_popup.h"
#include "app/ui/sums.h"
#include "app/ui/text.h"
#include "app/ui/value_text.h"
#include "rules/clock.h"

#include <QMenu>
#include <QPointer>

#include <algorithm>
#include <cmath>

namespace snare::app {

namespace {

/// The cursor, as seconds with three digits; never before the first tick.
double nowOf(const Stage& stage)
{
    const double rate = std::max(1, stage.record().scene->rate);
    return std::round(std::max(1.0, static_cast<double>(stage.cursor())) / rate * 1000) / 1000;
}

/// Asks for so many numbers; `allowed` says what is wrong with them, or nothing.
void askNumbers(QWidget* anchor, const QString& title, const QString& typed, int count,
                const std::function<QString(const std::vector<double>&)>& allowed,
                const std::function<void(const std::vector<double>&)>& answer)
{
    Question question;
    question.title = title;
    question.freeText = true;
    question.proposes = true;
    question.typed = typed;
    question.check = [count, allowed](const QStringList& given) {
        const auto numbers = numbersIn(given.front(), count);
        return numbers
                   ? allowed(*numbers)
                   : QObject::tr("%1, please")
                         .arg(counted(static_cast<std::size_t>(count), QObject::tr("number"), QObject::tr("numbers")));
    };
    SlotPopup::ask(anchor, question,
                   [count, answer](const QStringList& given) { answer(*numbersIn(given.front(), count)); });
}

/// What is wrong with a time in a take, or nothing.
QString notInATake(double seconds)
{
    return seconds >= 0 && seconds <= scene::longestTake
               ? QString()
               : QObject::tr("A time from 0 to %1 s").arg(scene::longestTake, 0, 'f', 0);
}

void askLength(QWidget* anchor, Document& document)
{
    Question question;
    question.title = QObject::tr("How long the take is, s; what comes later is left out");
    question.placeholder = QObject::tr("empty: %1").arg(scene::usualTake);
    question.freeText = true;
    if (document.take().length)
        question.typed = literalText(*document.take().length);
    question.check = [](const QStringList& given) {
        const QString typed = given.front().trimmed();
        const auto seconds = sumOf(typed);
        return typed.isEmpty() || seconds ? notInATake(seconds.value_or(0)) : QObject::tr("A number, please");
    };
    SlotPopup::ask(anchor, question, [&document](const QStringList& given) {
        document.setTake(QObject::tr("Change the length of the take"),
                         withLength(document.take(), sumOf(given.front())));
    });
}

void askSeed(QWidget* anchor, Document& document)
{
    Question question;
    question.title = QObject::tr("Seed of its chance, a whole number; empty: the scene's");
    question.freeText = true;
    if (document.take().seed)
        question.typed = QString::number(*document.take().seed);
    question.check = [](const QStringList& given) {
        bool fine = given.front().trimmed().isEmpty();
        if (!fine)
            given.front().toUInt(&fine);
        return fine ? QString() : QObject::tr("A whole number from 0 on");
    };
    SlotPopup::ask(anchor, question, [&document](const QStringList& given) {
        scene::Take take = document.take();
        take.seed = given.front().trimmed().isEmpty() ? std::nullopt : std::optional(given.front().toUInt());
        document.setTake(QObject::tr("Change the seed of the take"), std::move(take));
    });
}

/// A key or button, then from when to when.
void askPress(QWidget* anchor, Document& document, double now)
{
    Question question;
    question.title = QObject::tr("Which key or button is pressed");
    question.takesKey = true;
    for (Choice& choice : keyChoices(document.scene()))
        if (choice.value != QLatin1String("any") && !choice.value.startsWith(QLatin1String("source:")))
            question.choices.push_back(std::move(choice));
    for (const auto& entry : scene::wordsOf<scene::Button>)
        question.choices.push_back(
            {toText(pressName(entry.value)), toText(entry.about), QObject::tr("of the pointer"), {}});
    SlotPopup::ask(anchor, question, [anchor, &document, now](const QStringList& key) {
        askNumbers(
            anchor, QObject::tr("From when to when it is down, s"), QStringLiteral("%1, %2").arg(now).arg(now + 0.2), 2,
            [](const std::vector<double>& n) {
                return n[1] > n[0] ? notInATake(n[0]) : QObject::tr("It goes up after it went down");
            },
            [&document, name = key.front().toStdString()](const std::vector<double>& n) {
                const int rate = document.scene().rate;
                const Press press{name, rules::tickOfInput(n[0], rate), rules::tickOfInput(n[1], rate)};
                document.setTake(QObject::tr("Add a press"), withPress(document.take(), rate, nullptr, &press));
            });
    });
}

void askCall(QWidget* anchor, Document& document, double now)
{
    Question question;
    question.title = QObject::tr("Which call comes in");
    question.freeText = true;
    for (const std::string& name : scene::allCalls(document.scene()))
        question.choices.push_back({toText(name), {}, {}, {}});
    question.check = [](const QStringList& given) {
        return given.front().trimmed().isEmpty() ? QObject::tr("A name, please") : QString();
    };
    SlotPopup::ask(anchor, question, [anchor, &document, now](const QStringList& name) {
        askNumbers(
            anchor, QObject::tr("When, s"), QString::number(now), 1,
            [](const std::vector<double>& n) { return notInATake(n[0]); },
            [&document, name = name.front().toStdString()](const std::vector<double>& n) {
                scene::CallInput made{name};
                for (const scene::Source& source : document.scene().sources)
                    if (const auto* call = std::get_if<scene::CallSource>(&source.kind); call && call->name == name)
                        made.with = call->values;
                document.setTake(QObject::tr("Add a call"), withShot(document.take(), {n[0], made}));
            });
    });
}

void askDial(QWidget* anchor, Document& document, double now)
{
    Question question;
    question.title = QObject::tr("Which dial is set");
    for (const scene::Source& source : document.scene().sources)
        if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
            question.choices.push_back(
                {toText(source.id), {}, QObject::tr("%1 to %2").arg(dial->low).arg(dial->high), {}});
    if (question.choices.empty())
        question.placeholder = QObject::tr("the scene has no dial yet: K adds one");
    SlotPopup::ask(anchor, question, [anchor, &document, now](const QStringList& name) {
        askNumbers(
            anchor, QObject::tr("To what, and when: value, s"), QStringLiteral("1, %1").arg(now), 2,
            [](const std::vector<double>& n) { return notInATake(n[1]); },
            [&document, name = name.front().toStdString()](const std::vector<double>& n) {
                document.setTake(QObject::tr("Set a dial in the take"),
                                 withShot(document.take(), {n[1], scene::DialInput{name, n[0]}}));
            });
    });
}

void askPointer(QWidget* anchor, Document& document, double now)
{
    askNumbers(
        anchor, QObject::tr("Where the pointer goes, and when: x, y in m, s"), QStringLiteral("0, 0, %1").arg(now), 3,
        [](const std::vector<double>& n) { return notInATake(n[2]); },
        [&document](const std::vector<double>& n) {
            document.setTake(QObject::tr("Move the pointer in the take"),
                             withShot(document.take(), {n[2], scene::PointerMove{{n[0], n[1]}}}));
        });
}

void askLead(QWidget* anchor, Document& document, double now)
{
    Question question;
    question.title = QObject::tr("Which driven piece is led");
    for (const scene::Piece& piece : document.scene().pieces)
        if (std::holds_alternative<scene::DrivenBody>(piece.body))
            question.choices.push_back({toText(piece.id), {}, {}, {}});
    if (question.choices.empty())
        question.placeholder = QObject::tr("the scene has none yet: \"moves\" on the card of a piece makes it driven");
    SlotPopup::ask(anchor, question, [anchor, &document, now](const QStringList& name) {
        askNumbers(
            anchor, QObject::tr("Where to, and when: x, y in m, s"), QStringLiteral("0, 0, %1").arg(now), 3,
            [](const std::vector<double>& n) { return notInATake(n[2]); },
            [&document, name = name.front().toStdString()](const std::vector<double>& n) {
                document.setTake(QObject::tr("Lead %1 there").arg(toText(name)),
                                 withShot(document.take(), {n[2], scene::TrackPlace{name, {n[0], n[1]}}}));
            });
    });
}

} // namespace

void addWishEntries(QMenu& menu, QObject* owner, Stage& stage, std::int32_t line,
                    const std::function<void(scene::Expectation)>& expect)
{
    if (!linesLike(stage.record(), line))
        return;
    for (const auto& [text, wish] : {std::pair{QObject::tr("Expect: must come"), Wish::comes},
                                     {QObject::tr("Expect: about then"), Wish::aboutThen},
                                     {QObject::tr("Expect: must never come"), Wish::never}})
        menu.addAction(text, owner, [&stage, line, wish = wish, expect] {
            if (auto expectation = expectationOf(stage.record(), line, wish))
                expect(std::move(*expectation));
        });
}

scene::Take withLength(scene::Take take, std::optional<double> seconds)
{
    take.length = seconds;
    // Where a driven piece is led later says how it goes before (V10).
    std::erase_if(take.inputs, [&](const scene::Input& input) {
        return input.t > scene::lengthOf(take) && !input.as<scene::TrackPlace>();
    });
    return take;
}

void addTakeEntries(QMenu& menu, QWidget* anchor, Document& document, Stage& stage)
{
    const double now = nowOf(stage);
    menu.addAction(QObject::tr("Length…"), anchor, [anchor, &document] { askLength(anchor, document); });
    menu.addAction(QObject::tr("Seed…"), anchor, [anchor, &document] { askSeed(anchor, document); });
    menu.addSeparator();
    menu.addAction(QObject::tr("Add a press…"), anchor, [anchor, &document, now] { askPress(anchor, document, now); });
    menu.addAction(QObject::tr("Add a call…"), anchor, [anchor, &document, now] { askCall(anchor, document, now); });
    menu.addAction(QObject::tr("Set a dial…"), anchor, [anchor, &document, now] { askDial(anchor, document, now); });
    menu.addAction(QObject::tr("Move the pointer…"), anchor,
                   [anchor, &document, now] { askPointer(anchor, document, now); });
    menu.addAction(QObject::tr("Lead a driven piece…"), anchor,
                   [anchor, &document, now] { askLead(anchor, document, now); });
}

} // namespace snare::app
