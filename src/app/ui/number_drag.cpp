// SPDX-License-Identifier: Apache-2.0
#include "app/ui/number_drag.h"

#include "app/ui/theme.h"

#include <QRegularExpression>

#include <cmath>

namespace snare::app {

namespace {

constexpr int pixelsPerStep = 5;

} // namespace

std::vector<std::pair<int, int>> NumberDrag::numbersIn(const QString& text)
{
    static const QRegularExpression pattern{
        QStringLiteral(R"re("(?:[^"\\]|\\.)*"|#[0-9A-Fa-f]+|[A-Za-z_][A-Za-z0-9_.:/-]*|(-?[0-9]+(?:\.[0-9]+)?))re")};
    std::vector<std::pair<int, int>> numbers;
    for (auto it = pattern.globalMatch(text); it.hasNext();)
        if (const auto match = it.next(); !match.captured(1).isEmpty())
            numbers.emplace_back(static_cast<int>(match.capturedStart(1)), static_cast<int>(match.capturedLength(1)));
    return numbers;
}

NumberDrag::NumberDrag(QWidget* slot, Question question, int number, std::function<void(const QStringList&)> answer)
    : QLabel(slot->window(), Qt::ToolTip), question_(std::move(question)), answer_(std::move(answer))
{
    setObjectName(QStringLiteral("numberDrag"));
    setFont(figureFont(0));
    setMargin(5);
    dress(this, [] {
        return QStringLiteral("#numberDrag { background: %1; color: %2; border: 1px solid %3; }")
            .arg(theme().panel.name(), theme().ink.name(), theme().hairline.name());
    });
    const auto numbers = numbersIn(question_.typed);
    if (numbers.empty() || question_.many || question_.parts)
        return;
    std::tie(at_, length_) =
        numbers[static_cast<std::size_t>(std::clamp<int>(number, 0, static_cast<int>(numbers.size()) - 1))];
    const QString text = question_.typed.mid(at_, length_);
    before_ = now_ = text.toDouble();
    const auto point = text.indexOf(QLatin1Char('.'));
    decimals_ = point < 0 ? 0 : static_cast<int>(text.size() - point) - 1;
    step_ = decimals_ > 0 ? 0.1 : 1;
}

void NumberDrag::follow(int by, Qt::KeyboardModifiers modifiers)
{
    const double step = step_ * (modifiers & Qt::AltModifier ? 0.1 : modifiers & Qt::ShiftModifier ? 10 : 1);
    const int finest = std::max({decimals_, step < 0.05 ? 2 : step < 0.5 ? 1 : 0});
    const double scale = std::pow(10.0, finest);
    now_ = std::round((before_ + std::trunc(static_cast<double>(by) / pixelsPerStep) * step) * scale) / scale;
    const QString number = QString::number(now_, 'f', finest);
    QString shown = number;
    while (shown.contains(QLatin1Char('.')) && (shown.endsWith(QLatin1Char('0')) || shown.endsWith(QLatin1Char('.'))))
        shown.chop(1);
    const QString answer = question_.typed.left(at_) + shown + question_.typed.mid(at_ + length_);
    const QString wrong = question_.check ? question_.check({answer}) : QString();
    if (wrong.isEmpty())
        good_ = answer;
    setText(wrong.isEmpty() ? answer : answer + QStringLiteral("  –  ") + wrong);
    adjustSize();
}

void NumberDrag::finish()
{
    const auto tell = std::exchange(answer_, nullptr);
    hide();
    if (tell && !good_.isEmpty() && good_ != question_.typed)
        tell({good_});
}

} // namespace snare::app
