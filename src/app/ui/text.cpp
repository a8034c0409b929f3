// SPDX-License-Identifier: Apache-2.0
#include "app/ui/text.h"

#include "app/ui/sums.h"

#include <QCoreApplication>
#include <QObject>
#include <QRegularExpression>

#include <cmath>

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
    if (name.starts_with("part:"))
        return QObject::tr("the %1 of the same one").arg(toText(name.substr(5)));
    if (name == "assembly")
        return QObject::tr("all of the same assembly");
    return toText(name);
}

QString figure(double number)
{
    return QString::number(number, 'g', 9);
}

QString numberText(double number, scene::Unit unit)
{
    const QString symbol = toText(scene::symbolOf(unit));
    if (symbol.isEmpty())
        return figure(number);
    return unit == scene::Unit::degrees ? figure(number) + symbol : figure(number) + QLatin1Char(' ') + symbol;
}

QString pair(const scene::Vec& v)
{
    return QStringLiteral("%1, %2").arg(figure(v.x), figure(v.y));
}

std::optional<std::vector<double>> numbersIn(const QString& typed, int count)
{
    // Sums, if there are as many parts as are wanted; else whatever numbers there are.
    static const QRegularExpression between{QStringLiteral("[,;×]")};
    const QStringList parts = typed.split(between);
    std::vector<double> found;
    for (const QString& part : parts)
        if (const auto sum = sumOf(part))
            found.push_back(*sum);
    if (static_cast<int>(found.size()) == count && parts.size() == count)
        return found;
    found.clear();
    static const QRegularExpression number{QStringLiteral(R"(-?[0-9]*\.?[0-9]+)")};
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

} // namespace snare::app
