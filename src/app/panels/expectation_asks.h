// SPDX-License-Identifier: Apache-2.0
/// Figures of expectations as texts, and how they are asked for: spans, limits, how often.
#pragma once

#include "scene/expectation.h"

#include <QString>

#include <functional>
#include <optional>
#include <vector>

class QWidget;

namespace snare::app {

/// From how much to how much; an end may be open.
struct Limits {
    std::optional<double> min;
    std::optional<double> max;
};

/// "2 to 4 s".
QString spanText(const std::optional<scene::Span>& span);

/// Asks for numbers, "2, 4"; an empty answer takes them away if `mayBeEmpty`.
void askNumbers(QWidget* anchor, const QString& title, const QString& typed, int count, bool mayBeEmpty,
                const std::function<QString(const std::vector<double>&)>& wrong,
                const std::function<void(const std::optional<std::vector<double>>&)>& answer);

void askSpan(QWidget* anchor, const std::optional<scene::Span>& now,
             const std::function<void(std::optional<scene::Span>)>& answer);

/// "1", "2 to 4", "at least 2", "at most 3"; nothing if it is none of these.
std::optional<Limits> limitsIn(const QString& typed);

/// As `limitsIn` reads it.
QString limitsText(const std::optional<double>& min, const std::optional<double>& max);

/// How often; nothing if it is no whole number.
std::optional<scene::Times> timesIn(const QString& typed);

void askTimes(QWidget* anchor, const std::optional<scene::Times>& now,
              const std::function<void(std::optional<scene::Times>)>& answer);

} // namespace snare::app
