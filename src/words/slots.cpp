// SPDX-License-Identifier: Apache-2.0
#include "words/slots.h"

#include "io/writer.h"
#include "words/formulas.h"
#include "words/text.h"
#include "words/values.h"

#include <fmt/format.h>

#include <cctype>

namespace snare::words {

using io::Json;
using io::SlotKind;

namespace {

/// A literal as it is typed where values are expected: a text that would be taken for something
/// else stands in quotes.
std::string quotedIfNeeded(const std::string& text)
{
    return looksLikePath(text) || !formulaFrom(text).is_null()
               ? Json(text).dump(-1, ' ', false, Json::error_handler_t::replace)
               : literalText(text);
}

std::string valueText(const Json& value, scene::Unit unit)
{
    if (value.is_object())
        return value.contains("get") ? value["get"].get<std::string>() : formulaText(value);
    if (value.is_number())
        return numberText(value.get<double>(), unit);
    if (value.is_boolean())
        return value.get<bool>() ? "true" : "false";
    return value.is_string() ? quotedIfNeeded(value.get<std::string>()) : std::string();
}

/// A text or a formula for one, where texts are expected.
std::string textText(const Json& value)
{
    return value.is_string() ? typedInText(value.get<std::string>()) : formulaText(value);
}

std::string pointText(const Json& value)
{
    if (value.is_object())
        return formulaText(value);
    std::vector<std::string> numbers;
    for (const Json& number : value)
        numbers.push_back(number.is_number() ? figure(number.get<double>()) : formulaText(number));
    return "(" + joinedBy(numbers, ", ") + ")";
}

std::string namesText(const Json& value)
{
    if (value.is_string())
        return targetText(value.get<std::string>());
    std::vector<std::string> list;
    for (const Json& name : value)
        list.push_back(targetText(name.get<std::string>()));
    return joinedBy(list, ", ");
}

/// What a word of the table means, or the word itself.
std::string wordText(const io::FieldView& field, const std::string& held)
{
    for (const io::WordChoice& word : field.words)
        if (word.word == held)
            return std::string(word.about);
    return held;
}

std::string namedText(const Json& value)
{
    std::vector<std::string> list;
    for (const auto& [name, entry] : value.items()) {
        const std::string text = valueText(entry, scene::Unit::none);
        const bool isLoose = entry.is_object() && text.find(',') != std::string::npos;
        list.push_back(name + " = " + (isLoose ? "(" + text + ")" : text));
    }
    return joinedBy(list, ", ");
}

/// The beginning of a script, on one line.
std::string scriptText(const std::string& script)
{
    std::string line;
    for (const char letter : script)
        if (std::isspace(static_cast<unsigned char>(letter)) == 0)
            line += letter;
        else if (!line.empty() && line.back() != ' ')
            line += ' ';
    line = trimmed(line);
    constexpr std::size_t most = 60;
    if (line.size() <= most)
        return line;
    std::size_t end = most - 2;
    while (end > 0 && (static_cast<unsigned char>(line[end]) & 0xC0u) == 0x80u)
        --end; // not within a letter
    return line.substr(0, end) + " …";
}

std::string lookText(const Json& value)
{
    if (!value.is_object())
        return value.is_string() ? value.get<std::string>() : std::string();
    if (std::string formula = formulaText(value); !formula.empty())
        return formula;
    std::vector<std::string> parts; // of one written out
    for (const auto& [key, one] : value.items()) {
        const std::string text = one.is_string()   ? one.get<std::string>()
                                 : one.is_number() ? figure(one.get<double>())
                                                   : one.dump();
        parts.push_back(key == "colour" ? text : fmt::format("{} {}", key, text));
    }
    return joinedBy(parts, ", ");
}

} // namespace

std::string slotText(const io::FieldView& field)
{
    const Json value = Json::parse(field.json);
    if (value.is_null())
        return {};
    switch (field.kind) {
    case SlotKind::number:
    case SlotKind::value:
        return valueText(value, field.unit);
    case SlotKind::target:
    case SlotKind::names:
        return namesText(value);
    case SlotKind::place:
        return value.is_string() ? targetText(value.get<std::string>()) : pointText(value);
    case SlotKind::word:
        return value.is_string() ? wordText(field, value.get<std::string>()) : std::string();
    case SlotKind::words: {
        std::vector<std::string> list;
        for (const Json& one : value)
            list.push_back(wordText(field, one.get<std::string>()));
        return joinedBy(list, " or ");
    }
    case SlotKind::lines: {
        if (!value.is_array())
            break;
        std::vector<std::string> list;
        for (const Json& line : value)
            list.push_back(textText(line));
        return "“" + joinedBy(list, " / ") + "”";
    }
    case SlotKind::point:
    case SlotKind::numbers:
        return pointText(value);
    case SlotKind::flag:
        return value.get<bool>() ? std::string(field.key) : std::string();
    case SlotKind::look:
        return lookText(value);
    case SlotKind::colour:
        return value.get<std::string>();
    case SlotKind::frames:
        return value.is_number() ? figure(value.get<double>()) : namesText(value);
    case SlotKind::named:
        return namedText(value);
    case SlotKind::text:
    case SlotKind::other:
        break;
    }
    if (field.refers == scene::Refers::script)
        return scriptText(value.get<std::string>());
    const std::string text = textText(value);
    return field.key == "text" && !text.empty() && value.is_string() ? "“" + text + "”" : text;
}

std::string conditionText(const scene::Condition& condition)
{
    const scene::Formula* formula = condition.right.formula();
    const std::string* path = formula ? scene::pathOf(*formula) : nullptr;
    std::string right = path ? *path : formula ? formulaText(io::toJson(*formula)) : std::string();
    if (!formula) {
        right = literalText(*condition.right.literal());
        if (looksLikePath(right) || !formulaFrom(right).is_null()) // a text that only looks like one
            right = Json(std::get<std::string>(*condition.right.literal())).dump();
    }
    return condition.left + " " + std::string(scene::wordOf(condition.is)) + " " + right;
}

} // namespace snare::words
