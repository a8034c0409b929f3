// SPDX-License-Identifier: Apache-2.0
#include "app/ui/value_text.h"

#include "app/ui/text.h"
#include "words/values.h"

namespace snare::app {

QString literalText(const scene::Scalar& value)
{
    return toText(words::literalText(value));
}

scene::Scalar literalFrom(const QString& typed)
{
    return words::literalFrom(typed.toStdString());
}

int letterAt(const std::string& text, std::size_t byte)
{
    return static_cast<int>(toText(std::string_view(text).substr(0, byte)).size());
}

std::vector<ListPart> placedPartsOf(const QString& typed)
{
    const std::string text = typed.toStdString();
    std::vector<ListPart> parts;
    for (const words::ListPart& part : words::placedPartsOf(text))
        parts.push_back({letterAt(text, part.at), toText(part.text)});
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
    return toText(words::valuesText(values));
}

std::optional<scene::Named<scene::Scalar>> valuesFrom(const QString& typed)
{
    return words::valuesFrom(typed.toStdString());
}

std::optional<int> valuesFaultAt(const QString& typed)
{
    const std::string text = typed.toStdString();
    const auto at = words::valuesFaultAt(text);
    return at ? std::optional(letterAt(text, *at)) : std::nullopt;
}

} // namespace snare::app
