// SPDX-License-Identifier: Apache-2.0
#include "app/ui/text.h"

#include "app/ui/sums.h"
#include "words/text.h"

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
    return toText(words::joined(list, last.toStdString()));
}

QString targetText(std::string_view name)
{
    return toText(words::targetText(name));
}

QString figure(double number)
{
    return toText(words::figure(number));
}

QString numberText(double number, scene::Unit unit)
{
    return toText(words::numberText(number, unit));
}

QString pair(const scene::Vec& v)
{
    return toText(words::pair(v));
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

} // namespace snare::app
