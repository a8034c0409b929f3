// SPDX-License-Identifier: Apache-2.0
/// How things read: the words of sentences, shared by cards, moment and lists.
#pragma once

#include "app/ui/text.h"

#include <QString>
#include <QStringList>

namespace snare::app {

/// "self.load >= 3".
QString conditionText(const scene::Condition& condition);
/// The condition that was typed like that, or nothing.
std::optional<scene::Condition> conditionFrom(const QString& typed);
/// What is wrong with a condition that was typed, and where, by character; nothing if it can be
/// read as it was meant.
struct ConditionFault {
    int at = 0;
    QString text;
};
std::optional<ConditionFault> conditionFault(const QString& typed);

/// Who the visitor of a catch is: "a courier", "anyone".
QString visitorText(const scene::Snare& snare);

/// Where it catches: "plate of scale", "the scene".
QString whereText(const scene::Catch& catches);

/// "enters or leaves".
QString eventText(const scene::Catch& catches);

} // namespace snare::app
