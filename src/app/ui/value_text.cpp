// SPDX-License-Identifier: Apache-2.0
#include "app/ui/value_text.h"

#include "app/ui/text.h"
#include "io/writer.h"

#include <QLocale>
#include <QStringList>

#include <algorithm>
#include <cmath>

namespace snare::app {

QString literalText(const scene::Scalar& value)
{
    if (const auto* flag = std::get_if<bool>(&value))
        return *flag ? QStringLiteral("true") : QStringLiteral("false");
    if (const auto* number = std::get_if<double>(&value))
        return QString::number(*number, 'g', QLocale::FloatingPointShortest);
    const auto& held = std::get<std::string>(value);
    const QString text = toText(held);
    const bool plain = std::ranges::none_of(QStringLiteral(",=\"()"), [&](QChar one) { return text.contains(one); }) &&
                       literalFrom(text) == value;
    return plain ? text : toText(io::Json(held).dump());
}

scene::Scalar literalFrom(const QString& typed)
{
    const QString text = typed.trimmed();
    if (text.size() > 1 && text.startsWith(QLatin1Char('"')) && text.endsWith(QLatin1Char('"')))
        if (const io::Json quoted = io::Json::parse(text.toStdString(), nullptr, false); quoted.is_string())
            return quoted.get<std::string>();
    bool isNumber = false;
    const double number = text.toDouble(&isNumber);
    if (isNumber && std::isfinite(number))
        return number;
    if (text == QLatin1String("true") || text == QLatin1String("false"))
        return text == QLatin1String("true");
    return text.toStdString();
}

std::vector<ListPart> placedPartsOf(const QString& typed)
{
    std::vector<ListPart> parts;
    qsizetype begin = 0;
    int depth = 0;
    bool inQuotes = false;
    bool escaped = false;
    const auto end = [&](qsizetype at) {
        const QString part = typed.mid(begin, at - begin);
        if (const QString trimmed = part.trimmed(); !trimmed.isEmpty())
            parts.push_back({static_cast<int>(begin + part.indexOf(trimmed)), trimmed});
        begin = at + 1;
    };
    for (qsizetype i = 0; i < typed.size(); ++i) {
        const QChar letter = typed[i];
        if (letter == QLatin1Char(',') && !inQuotes && depth == 0) {
            end(i);
            continue;
        }
        if (letter == QLatin1Char('"') && !escaped)
            inQuotes = !inQuotes;
        if (!inQuotes)
            depth += letter == QLatin1Char('(') ? 1 : letter == QLatin1Char(')') ? -1 : 0;
        escaped = inQuotes && letter == QLatin1Char('\\') && !escaped;
    }
    end(typed.size());
    return parts;
}

QStringList partsOf(const QString& typed)
{
    QStringList parts;
    for (const ListPart& part : placedPartsOf(typed))
        parts << part.text;
    return parts;
}

QString valuesText(const scene::Named<scene::Scalar>& values)
{
    QStringList list;
    for (const auto& [name, value] : values.entries)
        list << toText(name) + QStringLiteral(" = ") + literalText(value);
    return list.join(QStringLiteral(", "));
}

namespace {

/// The name before the equals sign; empty if there is none that is a name.
std::string nameIn(const QString& part)
{
    const std::string name = part.section(QLatin1Char('='), 0, 0).trimmed().toStdString();
    return part.contains(QLatin1Char('=')) && scene::isId(name) ? name : std::string();
}

} // namespace

std::optional<scene::Named<scene::Scalar>> valuesFrom(const QString& typed)
{
    scene::Named<scene::Scalar> values;
    for (const QString& part : partsOf(typed)) {
        const std::string name = nameIn(part);
        if (name.empty())
            return std::nullopt;
        values.set(name, literalFrom(part.section(QLatin1Char('='), 1)));
    }
    return values;
}

std::optional<int> valuesFaultAt(const QString& typed)
{
    for (const ListPart& part : placedPartsOf(typed))
        if (nameIn(part.text).empty())
            return part.at;
    return std::nullopt;
}

} // namespace snare::app
