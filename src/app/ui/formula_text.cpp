// SPDX-License-Identifier: Apache-2.0
#include "app/ui/formula_text.h"

#include "app/ui/text.h"
#include "app/ui/value_text.h"
#include "words/formulas.h"

#include <QObject>
#include <nlohmann/json.hpp>

namespace snare::app {

bool looksLikePath(const QString& typed)
{
    return words::looksLikePath(typed.toStdString());
}

QString formulaText(const io::Json& value)
{
    return toText(words::formulaText(value));
}

io::Json formulaFrom(const QString& typed)
{
    return words::formulaFrom(typed.toStdString());
}

io::Json formulaInText(const QString& typed)
{
    return words::formulaInText(typed.toStdString());
}

std::optional<int> notUnderstoodAt(const QString& typed, bool expectsNumber)
{
    const std::string text = typed.toStdString();
    const auto at = words::notUnderstoodAt(text, expectsNumber);
    return at ? std::optional(letterAt(text, *at)) : std::nullopt;
}

QString notUnderstoodText(const QString& typed, int at, bool mayBeText)
{
    const QString rest = typed.mid(at).trimmed();
    const QString wanted = QObject::tr("“%1” is not understood here: a number, a path such as self.load, or "
                                       "( … ) can stand in its place.")
                               .arg(rest);
    return mayBeText ? wanted + QObject::tr(" A text that looks so stands in quotes.") : wanted;
}

QString typedInText(const std::string& text)
{
    return toText(words::typedInText(text));
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
