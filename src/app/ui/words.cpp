// SPDX-License-Identifier: Apache-2.0
#include "app/ui/words.h"

#include "app/ui/formula_text.h"
#include "app/ui/value_text.h"
#include "io/field_access.h"

#include <QObject>
#include <QRegularExpression>

namespace snare::app {

QString conditionText(const scene::Condition& condition)
{
    const scene::Formula* formula = condition.right.formula();
    const std::string* path = formula ? scene::pathOf(*formula) : nullptr;
    QString right = path ? toText(*path) : formula ? formulaText(io::toJson(*formula)) : QString();
    if (!formula) {
        right = literalText(*condition.right.literal());
        if (looksLikePath(right) || !formulaFrom(right).is_null()) // a text that only looks like one
            right = toText(io::Json(std::get<std::string>(*condition.right.literal())).dump());
    }
    return QStringLiteral("%1 %2 %3").arg(toText(condition.left), toText(scene::wordOf(condition.is)), right);
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
    if (snare.filter.groups.empty())
        return QObject::tr("anyone");
    return withArticle(joined(snare.filter.groups, QObject::tr("or")));
}

QString whereText(const scene::Catch& catches)
{
    if (catches.at.empty() || catches.at == "scene")
        return scene::familyOf(catches.event.items.front()) == scene::EventFamily::pointer
                   ? QObject::tr("the empty ground")
                   : QObject::tr("the scene");
    if (catches.at.starts_with("tag:"))
        return QObject::tr("any tagged %1").arg(toText(std::string_view(catches.at).substr(4)));
    if (catches.at.starts_with("group:"))
        return QObject::tr("any of group %1").arg(toText(std::string_view(catches.at).substr(6)));
    if (catches.at.starts_with("template:"))
        return QObject::tr("any of template %1").arg(toText(std::string_view(catches.at).substr(9)));
    if (catches.at.starts_with("part:"))
        return QObject::tr("the %1 of any").arg(toText(std::string_view(catches.at).substr(5)));
    return catches.shape.empty() ? toText(catches.at)
                                 : QObject::tr("%1 of %2").arg(toText(catches.shape), toText(catches.at));
}

QString eventText(const scene::Catch& catches)
{
    QStringList verbs;
    for (const scene::EventKind kind : catches.event.items)
        verbs << toText(scene::wordFor(kind).verb);
    return verbs.join(QObject::tr(" or "));
}

} // namespace snare::app
