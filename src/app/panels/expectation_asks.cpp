// SPDX-License-Identifier: Apache-2.0
#include "app/panels/expectation_asks.h"

#include "app/slots/slot_fill.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "words/expectations.h"

#include <cmath>

namespace snare::app {

QString spanText(const std::optional<scene::Span>& span)
{
    return span ? QObject::tr("%1 and %2 s").arg(figure(span->from), figure(span->to)) : QString();
}

void askNumbers(QWidget* anchor, const QString& title, const QString& typed, int count, bool mayBeEmpty,
                const std::function<QString(const std::vector<double>&)>& wrong,
                const std::function<void(const std::optional<std::vector<double>>&)>& answer)
{
    Question question;
    question.title = title;
    question.freeText = true;
    question.typed = typed;
    question.check = [count, mayBeEmpty, wrong](const QStringList& given) {
        if (mayBeEmpty && given.front().trimmed().isEmpty())
            return QString();
        const auto numbers = numbersIn(given.front(), count);
        return numbers
                   ? wrong(*numbers)
                   : QObject::tr("%1, please")
                         .arg(counted(static_cast<std::size_t>(count), QObject::tr("number"), QObject::tr("numbers")));
    };
    SlotPopup::ask(anchor, question,
                   [count, answer](const QStringList& given) { answer(numbersIn(given.front(), count)); });
}

void askSpan(QWidget* anchor, const std::optional<scene::Span>& now,
             const std::function<void(std::optional<scene::Span>)>& answer)
{
    askNumbers(
        anchor, QObject::tr("From when to when, s; empty: the whole run"),
        now ? QStringLiteral("%1, %2").arg(figure(now->from), figure(now->to)) : QString(), 2, true,
        [](const std::vector<double>& n) {
            return n[0] > n[1] ? QObject::tr("It ends before it begins")
                   : n[0] < 0  ? QObject::tr("From 0 on")
                               : QString();
        },
        [answer](const std::optional<std::vector<double>>& n) {
            answer(n ? std::optional(scene::Span{(*n)[0], (*n)[1]}) : std::nullopt);
        });
}

std::optional<Limits> limitsIn(const QString& typed)
{
    const QString text = typed.trimmed().toLower();
    const auto number = [](const QString& part) -> std::optional<double> {
        const auto one = numbersIn(part, 1);
        return one && one->front() >= 0 ? std::optional(one->front()) : std::nullopt;
    };
    // The words first: a number is found among whatever stands around it.
    for (const auto& [word, isLeast] : {std::pair{QObject::tr("at least"), true}, {QObject::tr("at most"), false}})
        if (text.startsWith(word))
            if (const auto one = number(text.mid(word.size())))
                return isLeast ? Limits{one, {}} : Limits{{}, one};
    const QStringList parts = text.split(QObject::tr(" to "));
    const auto low = number(parts.front());
    const auto high = number(parts.back());
    return parts.size() <= 2 && low && high && *low <= *high ? std::optional(Limits{low, high}) : std::nullopt;
}

QString limitsText(const std::optional<double>& min, const std::optional<double>& max)
{
    if (min && max)
        return QObject::tr("%1 to %2").arg(figure(*min), figure(*max));
    return min   ? QObject::tr("at least %1").arg(figure(*min))
           : max ? QObject::tr("at most %1").arg(figure(*max))
                 : QString();
}

std::optional<scene::Times> timesIn(const QString& typed)
{
    const auto limits = typed.trimmed().toLower() == QObject::tr("once") ? Limits{1, 1} : limitsIn(typed);
    const auto isWhole = [](const std::optional<double>& one) {
        return !one || (*one == std::floor(*one) && *one <= 1e9);
    };
    if (!limits || !isWhole(limits->min) || !isWhole(limits->max))
        return std::nullopt;
    const auto whole = [](const std::optional<double>& one) {
        return one ? std::optional(static_cast<int>(*one)) : std::nullopt;
    };
    return scene::Times{whole(limits->min), whole(limits->max)};
}

void askTimes(QWidget* anchor, const std::optional<scene::Times>& now,
              const std::function<void(std::optional<scene::Times>)>& answer)
{
    Question question;
    question.title = QObject::tr("How often");
    question.placeholder = QObject::tr("2, 1 to 3, at least 2, at most 4");
    question.freeText = true;
    question.shown = toText(words::timesText(now));
    question.choices = {{QStringLiteral("any"), QObject::tr("at least once"), {}, {}},
                        {QStringLiteral("1"), QObject::tr("once"), {}, {}},
                        {QStringLiteral("2"), QObject::tr("2 times"), {}, {}},
                        {QStringLiteral("at least 2"), QObject::tr("at least 2 times"), {}, {}},
                        {QStringLiteral("at most 1"), QObject::tr("at most once"), {}, {}}};
    question.check = [](const QStringList& given) {
        return given.front() == QLatin1String("any") || timesIn(given.front())
                   ? QString()
                   : QObject::tr("A number, 1 to 3, at least 2 or at most 4");
    };
    SlotPopup::ask(anchor, question, [answer](const QStringList& given) {
        answer(given.front() == QLatin1String("any") ? std::nullopt : timesIn(given.front()));
    });
}

} // namespace snare::app
