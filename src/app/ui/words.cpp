// SPDX-License-Identifier: Apache-2.0
#include "app/ui/words.h"

#include "app/ui/formula_text.h"
#include "app/ui/value_text.h"
#include "io/field_access.h"
#include "words/sentences.h"
#include "words/slots.h"

#include <QObject>
#include <nlohmann/json.hpp>

namespace snare::app {

QString conditionText(const scene::Condition& condition)
{
    return toText(words::conditionText(condition));
}

namespace {

/// The sign of a condition, and where it stands; -1: there is none.
std::pair<qsizetype, QString> signOf(const QString& typed)
{
    // The first sign decides: what stands right of it may have others.
    std::pair<qsizetype, QString> first{-1, {}};
    for (const char* one : {"!=", "<=", ">=", "=", "<", ">", " has "})
        if (const qsizetype found = typed.indexOf(QLatin1String(one));
            found > 0 && (first.first < 0 || found < first.first))
            first = {found, QLatin1String(one)};
    return first;
}

} // namespace

std::optional<ConditionFault> conditionFault(const QString& typed)
{
    const auto [at, sign] = signOf(typed);
    if (at < 0)
        return ConditionFault{static_cast<int>(typed.size()),
                              QObject::tr("A sign and a value are missing: self.load >= 3")};
    if (!looksLikePath(typed.left(at).trimmed()))
        return ConditionFault{
            0, QObject::tr("“%1” is no path: self.load, visitor.mass, scene.parcels").arg(typed.left(at).trimmed())};
    const QString right = typed.mid(at + sign.size());
    if (right.trimmed().isEmpty())
        return ConditionFault{static_cast<int>(typed.size()), QObject::tr("A value is missing behind the sign")};
    if (const auto place = notUnderstoodAt(right, false))
        return ConditionFault{static_cast<int>(at + sign.size()) + *place, notUnderstoodText(right, *place, true)};
    return std::nullopt;
}

std::optional<scene::Condition> conditionFrom(const QString& typed)
{
    const auto [at, sign] = signOf(typed);
    if (at < 0)
        return std::nullopt;
    scene::Condition condition;
    condition.left = typed.left(at).trimmed().toStdString();
    for (const auto& entry : scene::wordsOf<scene::Comparison>)
        if (toText(entry.word) == sign.trimmed())
            condition.is = entry.value;
    const QString right = typed.mid(at + sign.size()).trimmed();
    if (right.isEmpty() || condition.left.find('.') == std::string::npos)
        return std::nullopt;
    if (looksLikePath(right)) {
        condition.right = scene::Get{right.toStdString()};
    } else if (const io::Json formula = formulaFrom(right); !formula.is_null()) {
        scene::Response holder{scene::Set{}, {}}; // it has a value of the same kind
        if (io::setField(holder, "value", formula.dump()))
            return std::nullopt;
        condition.right = std::get<scene::Set>(holder.kind).value;
    } else {
        condition.right = literalFrom(right);
    }
    return condition;
}

QString visitorText(const scene::Snare& snare)
{
    return toText(words::visitorText(snare));
}

QString whereText(const scene::Catch& catches)
{
    return toText(words::whereText(catches));
}

QString eventText(const scene::Catch& catches)
{
    return toText(words::eventText(catches));
}

} // namespace snare::app
