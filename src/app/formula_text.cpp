// SPDX-License-Identifier: Apache-2.0
#include "app/formula_text.h"

#include "app/words.h"

#include <QObject>
#include <QRegularExpression>

namespace snare::app {

using io::Json;

namespace {

QString partText(const Json& value)
{
    if (value.is_number())
        return QString::number(value.get<double>(), 'g', 9);
    if (value.is_boolean())
        return value.get<bool>() ? QStringLiteral("true") : QStringLiteral("false");
    if (value.is_array()) {
        QStringList parts;
        for (const Json& part : value)
            parts << formulaText(part);
        return QStringLiteral("(%1)").arg(parts.join(QStringLiteral(", ")));
    }
    return value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString();
}

QString listText(const Json& list, const QString& between)
{
    QStringList parts;
    for (const Json& part : list) {
        const bool path = part.is_object() && part.contains("get");
        parts << (path ? QString::fromStdString(part["get"].get<std::string>()) : formulaText(part));
    }
    return parts.join(between);
}

QString namesText(const Json& names)
{
    return names.is_array() ? listText(names, QStringLiteral(", ")) : partText(names);
}

/// A part of a sum or a range: a path, else a literal.
Json partFrom(const QString& typed)
{
    const QString text = typed.trimmed();
    if (looksLikePath(text))
        return Json{{"get", text.toStdString()}};
    if (const Json formula = formulaFrom(text); !formula.is_null())
        return formula;
    bool isNumber = false;
    const double number = text.toDouble(&isNumber);
    if (isNumber)
        return number;
    return text.toStdString();
}

bool isNumberOrPath(const QString& text)
{
    bool isNumber = false;
    text.trimmed().toDouble(&isNumber);
    return isNumber || looksLikePath(text.trimmed());
}

Json listFrom(const QStringList& parts)
{
    Json list = Json::array();
    for (const QString& part : parts)
        list.push_back(partFrom(part));
    return list;
}

} // namespace

bool looksLikePath(const QString& typed)
{
    static const QRegularExpression path{QStringLiteral(R"(^[A-Za-z_][A-Za-z0-9_-]*(\.[A-Za-z_][A-Za-z0-9_-]*)+$)")};
    return path.match(typed).hasMatch();
}

QString formulaText(const Json& value)
{
    if (!value.is_object() || value.empty())
        return partText(value);
    if (value.contains("get"))
        return QObject::tr("same as %1").arg(partText(value["get"]));
    if (value.contains("between"))
        return QObject::tr("%1 at random").arg(listText(value["between"], QObject::tr(" to ")));
    if (value.contains("oneOf"))
        return QObject::tr("one of %1").arg(listText(value["oneOf"], QStringLiteral(", ")));
    if (value.contains("sum"))
        return listText(value["sum"], QStringLiteral(" + "));
    if (value.contains("count"))
        return QObject::tr("how many %1").arg(namesText(value["count"]));
    if (value.contains("somewhere"))
        return (value.contains("clear") ? QObject::tr("anywhere in %1, clear of solids")
                                        : QObject::tr("anywhere in %1"))
            .arg(partText(value["somewhere"]));
    if (value.contains("script"))
        return QStringLiteral("= %1").arg(partText(value["script"]));
    return {};
}

Json formulaFrom(const QString& typed)
{
    const QString text = typed.trimmed();
    const auto after = [&](const QString& start) -> std::optional<QString> {
        return text.startsWith(start, Qt::CaseInsensitive) ? std::optional(text.mid(start.size()).trimmed())
                                                           : std::nullopt;
    };
    if (const auto script = after(QStringLiteral("=")); script && !script->isEmpty())
        return Json{{"script", script->toStdString()}};
    if (const auto path = after(QObject::tr("same as ")))
        return Json{{"get", path->toStdString()}};
    if (const auto list = after(QObject::tr("one of ")); list && !list->isEmpty())
        return Json{{"oneOf", listFrom(list->split(QLatin1Char(','), Qt::SkipEmptyParts))}};
    if (const auto names = after(QObject::tr("how many ")); names && !names->isEmpty()) {
        const QStringList parts = names->split(QLatin1Char(','), Qt::SkipEmptyParts);
        Json list = Json::array();
        for (const QString& part : parts)
            list.push_back(part.trimmed().toStdString());
        return Json{{"count", list.size() == 1 ? list.front() : list}};
    }
    if (const auto place = after(QObject::tr("anywhere in ")); place && !place->isEmpty()) {
        const bool clear = place->contains(QLatin1Char(','));
        Json formula{{"somewhere", place->section(QLatin1Char(','), 0, 0).trimmed().toStdString()}};
        if (clear)
            formula["clear"] = true;
        return formula;
    }
    static const QRegularExpression range{QStringLiteral(R"(^(\S+?)\s*(?:\.\.| to )\s*(\S+?)(?:\s+at random)?$)")};
    if (const auto match = range.match(text);
        match.hasMatch() && isNumberOrPath(match.captured(1)) && isNumberOrPath(match.captured(2)))
        return Json{{"between", Json::array({partFrom(match.captured(1)), partFrom(match.captured(2))})}};
    if (text.contains(QStringLiteral(" + "))) {
        const QStringList parts = text.split(QStringLiteral(" + "), Qt::SkipEmptyParts);
        if (parts.size() > 1 &&
            std::ranges::any_of(parts, [](const QString& part) { return looksLikePath(part.trimmed()); }))
            return Json{{"sum", listFrom(parts)}};
    }
    return {};
}

std::vector<PathChoice> pathChoices(const scene::Scene& scene)
{
    std::vector<PathChoice> choices;
    const auto add = [&](const QString& path, const QString& about) {
        if (std::ranges::none_of(choices, [&](const PathChoice& choice) { return choice.path == path; }))
            choices.push_back({path, about});
    };
    for (const auto& entry : scene.variables.entries)
        add(QStringLiteral("scene.") + toText(entry.first), QObject::tr("a variable"));
    const auto isOfPieces = [&](const std::string& name) {
        return std::ranges::any_of(scene.pieces, [&](const auto& piece) { return piece.properties.find(name); }) ||
               std::ranges::any_of(scene.templates.entries,
                                   [&](const auto& entry) { return entry.second.model.properties.find(name); });
    };
    for (const std::string& name : scene::allValueNames(scene)) {
        if (scene.variables.find(name) && !isOfPieces(name))
            continue;
        add(QStringLiteral("self.") + toText(name), QObject::tr("where it is caught"));
        add(QStringLiteral("visitor.") + toText(name), QObject::tr("who came"));
    }
    for (const scene::Source& source : scene.sources)
        if (std::holds_alternative<scene::DialSource>(source.kind))
            add(toText(source.id) + QStringLiteral(".value"), QObject::tr("a dial"));
    for (const scene::Snare& snare : scene.snares)
        for (const scene::Response& response : snare.responses)
            if (const auto* signal = std::get_if<scene::Signal>(&response.kind))
                for (const auto& entry : signal->with.entries)
                    add(QStringLiteral("signal.") + toText(entry.first), QObject::tr("a value of a signal"));
    for (const char* owner : {"self", "visitor"})
        for (const char* name : {"id", "phase", "group", "x", "y", "turn", "speed", "count", "age"})
            add(QStringLiteral("%1.%2").arg(QLatin1String(owner), QLatin1String(name)), QObject::tr("built in"));
    for (const char* name : {"name", "key", "value", "speed", "side", "shape", "part"})
        add(QStringLiteral("event.%1").arg(QLatin1String(name)), QObject::tr("of the event"));
    add(QStringLiteral("scene.age"), QObject::tr("seconds since the start"));
    add(QStringLiteral("scene.phase"), QObject::tr("of the scene"));
    for (const scene::Piece& piece : scene.pieces)
        for (const auto& entry : piece.properties.entries)
            add(toText(piece.id) + QLatin1Char('.') + toText(entry.first), QObject::tr("of that piece"));
    return choices;
}

} // namespace snare::app
