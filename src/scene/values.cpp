// SPDX-License-Identifier: Apache-2.0
#include "scene/values.h"

#include "scene/one_of_members.h"

#include <fmt/format.h>

#include <array>
#include <numeric>

namespace snare::scene {

template struct OneOf<std::variant<double, Formula>>;
template struct OneOf<std::variant<std::string, Formula>>;
template struct OneOf<std::variant<Scalar, Formula>>;
template struct OneOf<std::variant<Colour, Formula>>;
template struct OneOf<std::variant<Vec, Coordinates, Formula>>;
template struct OneOf<std::variant<Vec, std::string, Coordinates, Formula>>;

std::string textOf(const Scalar& value)
{
    if (const auto* number = std::get_if<double>(&value))
        return fmt::format("{:.9g}", *number == 0 ? 0.0 : *number);
    if (const auto* flag = std::get_if<bool>(&value))
        return *flag ? "true" : "false";
    return std::get<std::string>(value);
}

Answer answerOf(const Scalar& value)
{
    return std::visit([](const auto& held) { return Answer{held}; }, value);
}

std::string_view wordOf(Formula::Kind kind)
{
    const auto found = std::ranges::find(formulaWords, kind, &FormulaWord::kind);
    return found == formulaWords.end() ? std::string_view() : found->word;
}

const std::string* pathOf(const Formula& formula)
{
    return formula.kind == Formula::Kind::get ? &formula.text : nullptr;
}

std::pair<std::string_view, std::string_view> splitShape(std::string_view name)
{
    const auto slash = name.find('/');
    if (slash == std::string_view::npos)
        return {name, {}};
    return {name.substr(0, slash), name.substr(slash + 1)};
}

bool isSelector(std::string_view name)
{
    return name.starts_with("tag:") || name.starts_with("group:") || name.starts_with("template:") ||
           name.starts_with("part:");
}

bool isId(std::string_view text)
{
    return !text.empty() && std::ranges::all_of(text, [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
    });
}

namespace {

/// A few names, and at once for most others that they are not among them.
template <std::size_t N> struct NameSet {
    std::array<std::string_view, N> names;
    std::uint32_t firsts; ///< a bit for each letter that one begins with

    consteval explicit NameSet(const std::array<std::string_view, N>& list) : names(list), firsts(0)
    {
        for (const std::string_view name : list)
            firsts |= bitOf(name);
    }
    static constexpr std::uint32_t bitOf(std::string_view name) { return 1u << (name[0] & 31); }
    constexpr bool contains(std::string_view name) const
    {
        return !name.empty() && (firsts & bitOf(name)) != 0 && std::ranges::find(names, name) != names.end();
    }
};
template <std::size_t N> consteval auto namesOf(const std::array<BuiltIn, N>& table)
{
    std::array<std::string_view, N> names;
    std::ranges::transform(table, names.begin(), &BuiltIn::name);
    return NameSet<N>(names);
}

constexpr auto ofPiece = namesOf(builtInsOfPiece);
constexpr auto ofScene = namesOf(builtInsOfScene);

} // namespace

bool isBuiltInOfPiece(std::string_view name)
{
    return ofPiece.contains(name);
}

bool isBuiltInOfScene(std::string_view name)
{
    return ofScene.contains(name);
}

bool canBuiltInBeSet(std::string_view name)
{
    const auto found = std::ranges::find(builtInsOfPiece, name, &BuiltIn::name);
    return found != builtInsOfPiece.end() && found->canBeSet;
}

bool isReserved(std::string_view text)
{
    constexpr std::array<std::string_view, 9> reserved = {"self",   "visitor", "sender", "scene", "pointer",
                                                          "signal", "event",   "with",   "swept"};
    return std::ranges::find(reserved, text) != reserved.end();
}

namespace {

std::size_t editDistance(std::string_view a, std::string_view b)
{
    std::vector<std::size_t> row(b.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 0; i < a.size(); ++i) {
        std::size_t diagonal = row[0];
        row[0] = i + 1;
        for (std::size_t j = 0; j < b.size(); ++j) {
            const std::size_t replaced = diagonal + (a[i] == b[j] ? 0 : 1);
            diagonal = row[j + 1];
            row[j + 1] = std::min({replaced, row[j] + 1, diagonal + 1});
        }
    }
    return row.back();
}

} // namespace

std::string_view nearestWord(std::string_view text, const std::vector<std::string_view>& known)
{
    std::string_view best;
    std::size_t least = std::max<std::size_t>(2, text.size() / 2) + 1;
    if (text.size() > 64)
        return {};
    for (const std::string_view word : known) {
        const std::size_t distance = editDistance(text, word);
        if (distance < least) {
            least = distance;
            best = word;
        }
    }
    return best;
}

} // namespace snare::scene
