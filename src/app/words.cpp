// SPDX-License-Identifier: Apache-2.0
#include "app/words.h"

#include "app/formula_text.h"
#include "app/value_text.h"
#include "io/field_access.h"

#include <QObject>
#include <QRegularExpression>

namespace snare::app {

QString toText(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

QString joined(const std::vector<std::string>& list, const QString& last)
{
    QString result;
    for (std::size_t i = 0; i < list.size(); ++i)
        result += (i == 0                 ? QString()
                   : i + 1 == list.size() ? QStringLiteral(" %1 ").arg(last)
                                          : QStringLiteral(", ")) +
                  toText(list[i]);
    return result;
}

QString targetText(std::string_view name)
{
    if (name == "self")
        return QObject::tr("itself");
    if (name == "visitor")
        return QObject::tr("the visitor");
    if (name == "sender")
        return QObject::tr("the sender");
    if (name == "scene")
        return QObject::tr("the scene");
    if (name.starts_with("tag:"))
        return QObject::tr("all tagged %1").arg(toText(name.substr(4)));
    if (name.starts_with("group:"))
        return QObject::tr("all of group %1").arg(toText(name.substr(6)));
    if (name.starts_with("template:"))
        return QObject::tr("all of template %1").arg(toText(name.substr(9)));
    return toText(name);
}

QString numberText(double number, scene::Unit unit)
{
    const QString figure = QString::number(number, 'g', 9);
    const QString symbol = toText(scene::symbolOf(unit));
    if (symbol.isEmpty())
        return figure;
    return unit == scene::Unit::degrees ? figure + symbol : figure + QLatin1Char(' ') + symbol;
}

QString pair(const scene::Vec& v)
{
    return QStringLiteral("%1, %2").arg(v.x).arg(v.y);
}

std::optional<std::vector<double>> numbersIn(const QString& typed, int count)
{
    static const QRegularExpression number{QStringLiteral(R"(-?[0-9]*\.?[0-9]+)")};
    std::vector<double> found;
    for (auto match = number.globalMatch(typed); match.hasNext();)
        found.push_back(match.next().captured().toDouble());
    return static_cast<int>(found.size()) == count ? std::optional(found) : std::nullopt;
}

std::vector<std::string> wordsIn(const QString& typed)
{
    std::vector<std::string> words;
    for (const QString& part : typed.split(QLatin1Char(','), Qt::SkipEmptyParts))
        if (const std::string word = part.trimmed().toStdString();
            !word.empty() && std::ranges::find(words, word) == words.end())
            words.push_back(word);
    return words;
}

QString listed(const std::vector<std::string>& words)
{
    QStringList list;
    for (const std::string& word : words)
        list << toText(word);
    return list.join(QStringLiteral(", "));
}

QString counted(std::size_t count, const QString& one, const QString& many)
{
    return QStringLiteral("%1 %2").arg(count).arg(count == 1 ? one : many);
}

QString countedPieces(std::size_t count)
{
    return counted(count, QObject::tr("piece"), QObject::tr("pieces"));
}

QString withArticle(const QString& noun)
{
    const bool vowel = !noun.isEmpty() && QStringLiteral("aeiou").contains(noun.front().toLower());
    return (vowel ? QObject::tr("an %1") : QObject::tr("a %1")).arg(noun);
}

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

std::optional<scene::Condition> conditionFrom(const QString& typed)
{
    // The first sign decides: what stands right of it may have others.
    qsizetype at = -1;
    QString sign;
    for (const char* one : {"!=", "<=", ">=", "=", "<", ">", " has "})
        if (const qsizetype found = typed.indexOf(QLatin1String(one)); found > 0 && (at < 0 || found < at)) {
            at = found;
            sign = QLatin1String(one);
        }
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
