// SPDX-License-Identifier: Apache-2.0
#include "words/values.h"

#include "words/text.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <charconv>
#include <cmath>

namespace snare::words {

std::optional<double> numberIn(std::string_view typed)
{
    std::string text = trimmed(typed);
    if (text.size() > 1 && text.front() == '+' && text[1] != '-')
        text.erase(0, 1);
    double number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    return error == std::errc{} && end == text.data() + text.size() && std::isfinite(number) ? std::optional(number)
                                                                                             : std::nullopt;
}

std::string literalText(const scene::Scalar& value)
{
    if (const auto* flag = std::get_if<bool>(&value))
        return *flag ? "true" : "false";
    if (const auto* number = std::get_if<double>(&value))
        return fmt::format("{}", *number);
    const auto& text = std::get<std::string>(value);
    const bool plain = text.find_first_of(",=\"()") == std::string::npos && literalFrom(text) == value;
    return plain ? text : nlohmann::json(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

scene::Scalar literalFrom(std::string_view typed)
{
    const std::string text = trimmed(typed);
    if (text.size() > 1 && text.front() == '"' && text.back() == '"')
        if (const auto quoted = nlohmann::json::parse(text, nullptr, false); quoted.is_string())
            return quoted.get<std::string>();
    if (const auto number = numberIn(text))
        return *number;
    if (text == "true" || text == "false")
        return text == "true";
    return text;
}

std::vector<ListPart> placedPartsOf(std::string_view typed)
{
    std::vector<ListPart> parts;
    std::size_t begin = 0;
    int depth = 0;
    bool inQuotes = false;
    bool escaped = false;
    const auto end = [&](std::size_t at) {
        const std::string_view part = typed.substr(begin, at - begin);
        if (const std::string text = trimmed(part); !text.empty())
            parts.push_back({begin + part.find(text), text});
        begin = at + 1;
    };
    for (std::size_t i = 0; i < typed.size(); ++i) {
        const char letter = typed[i];
        if (letter == ',' && !inQuotes && depth == 0) {
            end(i);
            continue;
        }
        if (letter == '"' && !escaped)
            inQuotes = !inQuotes;
        if (!inQuotes)
            depth += letter == '(' ? 1 : letter == ')' ? -1 : 0;
        escaped = inQuotes && letter == '\\' && !escaped;
    }
    end(typed.size());
    return parts;
}

std::string valuesText(const scene::Named<scene::Scalar>& values)
{
    std::vector<std::string> list;
    for (const auto& [name, value] : values.entries)
        list.push_back(name + " = " + literalText(value));
    return joinedBy(list, ", ");
}

namespace {

/// The name before the equals sign; empty if there is none that is a name.
std::string nameIn(std::string_view part)
{
    const std::size_t sign = part.find('=');
    const std::string name = trimmed(part.substr(0, sign));
    return sign != std::string_view::npos && scene::isId(name) ? name : std::string();
}

} // namespace

std::optional<scene::Named<scene::Scalar>> valuesFrom(std::string_view typed)
{
    scene::Named<scene::Scalar> values;
    for (const ListPart& part : placedPartsOf(typed)) {
        const std::string name = nameIn(part.text);
        if (name.empty())
            return std::nullopt;
        values.set(name, literalFrom(std::string_view(part.text).substr(part.text.find('=') + 1)));
    }
    return values;
}

std::optional<std::size_t> valuesFaultAt(std::string_view typed)
{
    for (const ListPart& part : placedPartsOf(typed))
        if (nameIn(part.text).empty())
            return part.at;
    return std::nullopt;
}

} // namespace snare::words
