// SPDX-License-Identifier: Apache-2.0
#include "words/formulas.h"

#include "words/text.h"
#include "words/values.h"

#include <nlohmann/json.hpp>

#include <cctype>

namespace snare::words {

using io::Json;

namespace {

bool isDigit(char letter)
{
    return letter >= '0' && letter <= '9';
}

bool isLetter(char letter)
{
    return (letter >= 'a' && letter <= 'z') || (letter >= 'A' && letter <= 'Z');
}

bool isSpace(char letter)
{
    return std::isspace(static_cast<unsigned char>(letter)) != 0;
}

/// Of a name: what it may begin with, and what may follow.
bool beginsName(char letter)
{
    return isLetter(letter) || letter == '_';
}
bool isInWord(char letter)
{
    return beginsName(letter) || isDigit(letter);
}
bool isInName(char letter)
{
    return isInWord(letter) || letter == '-';
}

/// The text in JSON's quotes, whatever bytes it has.
std::string inQuotes(const std::string& text)
{
    return Json(text).dump(-1, ' ', false, Json::error_handler_t::replace);
}

/// A literal as it stands alone.
std::string literalOf(const Json& value)
{
    if (value.is_number())
        return literalText(value.get<double>());
    if (value.is_boolean())
        return literalText(value.get<bool>());
    return value.is_string() ? value.get<std::string>() : std::string();
}

bool isSum(const Json& value)
{
    return value.is_object() && value.contains("sum");
}

/// A part of a formula; what would be read otherwise stands in parentheses or quotes.
std::string partText(const Json& value, bool inList)
{
    if (value.is_string()) {
        const std::string text = value.get<std::string>();
        return inList && formulaFrom(text).is_null() && !looksLikePath(text) ? literalText(text) : inQuotes(text);
    }
    if (!value.is_object())
        return literalOf(value);
    if (value.contains("get"))
        return literalOf(value["get"]);
    const std::string text = formulaText(value);
    const bool isTight = value.contains("count") && value["count"].is_string();
    return isTight ? text : "(" + text + ")";
}

std::string listText(const Json& list)
{
    std::vector<std::string> parts;
    for (const Json& part : list)
        parts.push_back(isSum(part) ? formulaText(part) : partText(part, true));
    return joinedBy(parts, ", ");
}

std::string sumText(const Json& list)
{
    std::string text;
    for (const Json& part : list) {
        const bool less = !text.empty() && part.is_number() && part.get<double>() < 0;
        if (!text.empty())
            text += less ? " - " : " + ";
        text += less ? literalText(-part.get<double>()) : partText(part, false);
    }
    return text;
}

/// Reads a formula from left to right. A step that fails leaves the place where it was.
class FormulaReader {
  public:
    FormulaReader(std::string text, bool strict) : text_(std::move(text)), strict_(strict) {}

    /// The whole text as a formula, or null.
    Json read()
    {
        const std::optional<Json> value = sum();
        skip();
        return value && at_ == text_.size() && value->is_object() ? *value : Json{};
    }

    /// Whether the whole text is a number, a path or a formula. Else `failsAt` tells where it is no
    /// longer.
    bool readsAll()
    {
        isPlain_ = !sum().has_value();
        skip();
        return at_ == text_.size() && !isPlain_;
    }
    /// The first byte that leads nowhere; what follows an operator, if something is missing at the
    /// end.
    std::size_t failsAt() const
    {
        std::size_t at = farthest_ < text_.size() ? farthest_ : at_;
        while (at < text_.size() && (isSpace(text_[at]) || (at == at_ && stopsAtOperator() && at + 1 < text_.size())))
            ++at;
        return std::min(at, text_.size() - 1);
    }
    /// Nothing was a number, a path or a formula: it is a text.
    bool isPlain() const { return isPlain_; }
    /// What was understood at first ends before an operator.
    bool stopsAtOperator() const
    {
        return at_ < text_.size() && std::string_view("+-*/(").find(text_[at_]) != std::string_view::npos;
    }

  private:
    char at(std::size_t index) const { return index < text_.size() ? text_[index] : '\0'; }

    void skip()
    {
        while (at_ < text_.size() && isSpace(text_[at_]))
            ++at_;
    }

    bool word(std::string_view expected)
    {
        const std::size_t before = at_;
        skip();
        const std::size_t end = at_ + expected.size();
        bool isThere = end <= text_.size();
        for (std::size_t i = 0; isThere && i < expected.size(); ++i)
            isThere = std::tolower(static_cast<unsigned char>(text_[at_ + i])) ==
                      std::tolower(static_cast<unsigned char>(expected[i]));
        const char next = at(end);
        if (isLetter(expected.back()) && (isLetter(next) || isDigit(next) || static_cast<unsigned char>(next) >= 0x80))
            isThere = false; // a longer word
        at_ = isThere ? end : before;
        farthest_ = std::max(farthest_, at_);
        return isThere;
    }

    /// What lies from here to `end`; nothing, and back to `before`, if that is nothing.
    std::optional<std::string> taken(std::size_t end, std::size_t before)
    {
        if (end <= at_) {
            at_ = before;
            return std::nullopt;
        }
        const std::size_t from = std::exchange(at_, end);
        farthest_ = std::max(farthest_, at_);
        return text_.substr(from, end - from);
    }

    std::optional<std::string> name()
    {
        const std::size_t before = at_;
        skip();
        std::size_t end = at_;
        if (beginsName(at(end)))
            while (isInName(at(end)) ||
                   (at(end) != '\0' && std::string_view(".:/").find(at(end)) != std::string_view::npos))
                ++end;
        return taken(end, before);
    }

    std::optional<Json> number()
    {
        const std::size_t before = at_;
        skip();
        std::size_t end = at_ + (at(at_) == '-' ? 1 : 0);
        const auto digits = [&] {
            const std::size_t from = end;
            while (isDigit(at(end)))
                ++end;
            return end > from;
        };
        bool fine = digits();
        if (at(end) == '.' && isDigit(at(end + 1))) {
            ++end;
            fine = digits();
        }
        if (fine && (at(end) == 'e' || at(end) == 'E')) {
            const std::size_t signs = at(end + 1) == '-' || at(end + 1) == '+' ? 1 : 0;
            if (isDigit(at(end + 1 + signs))) {
                end += 1 + signs;
                digits();
            }
        }
        const auto found = taken(fine && !isInWord(at(end)) ? end : at_, before);
        const auto value = found ? numberIn(*found) : std::nullopt;
        if (found && !value)
            at_ = before;
        return value ? std::optional<Json>(*value) : std::nullopt;
    }

    /// Where a path that begins at `from` ends; `from` if none does.
    std::size_t endOfPath(std::size_t from) const
    {
        std::size_t end = from;
        int names = 0;
        for (;;) {
            if (!beginsName(at(end)))
                break;
            while (isInName(at(end)))
                ++end;
            ++names;
            if (at(end) != '.' || !beginsName(at(end + 1)))
                break;
            ++end;
        }
        return names > 1 ? end : from;
    }

    std::optional<Json> path()
    {
        const std::size_t before = at_;
        skip();
        const auto found = taken(endOfPath(at_), before);
        return found ? std::optional<Json>(Json{{"get", *found}}) : std::nullopt;
    }

    std::optional<Json> quoted()
    {
        const std::size_t before = at_;
        skip();
        std::size_t end = at_;
        if (at(end) == '"') {
            ++end;
            while (end < text_.size() && text_[end] != '"')
                end += text_[end] == '\\' ? 2u : 1u;
            end = at(end) == '"' ? end + 1 : at_;
        }
        const auto found = taken(std::min(end, text_.size()), before);
        if (!found)
            return std::nullopt;
        const Json text = Json::parse(*found, nullptr, false);
        if (text.is_string())
            return text;
        at_ = before;
        return std::nullopt;
    }

    /// "(", a sum or Lua, ")".
    std::optional<Json> inParentheses()
    {
        const std::size_t before = at_;
        if (!word("("))
            return std::nullopt;
        if (word("=")) {
            int depth = 1;
            const std::size_t from = at_;
            while (at_ < text_.size() && depth > 0) {
                depth += text_[at_] == '(' ? 1 : text_[at_] == ')' ? -1 : 0;
                ++at_;
            }
            if (depth == 0)
                return Json{{"script", trimmed(std::string_view(text_).substr(from, at_ - 1 - from))}};
        } else if (std::optional<Json> inner = deeper(); inner && word(")")) {
            return inner;
        }
        at_ = before;
        return std::nullopt;
    }

    /// A sum within parentheses; nobody types them as deep as this allows.
    std::optional<Json> deeper()
    {
        constexpr int deepest = 40;
        if (depth_ >= deepest)
            return std::nullopt;
        ++depth_;
        std::optional<Json> inner = sum();
        --depth_;
        return inner;
    }

    std::optional<Json> bound()
    {
        if (auto found = number())
            return found;
        if (auto found = path())
            return found;
        return inParentheses();
    }

    std::optional<Json> item()
    {
        const std::size_t before = at_;
        if (std::optional<Json> value = sum()) {
            skip();
            if (at_ == text_.size() || text_[at_] == ',' || text_[at_] == ')')
                return value;
        }
        at_ = before;
        if (strict_)
            return std::nullopt;
        skip();
        std::size_t end = at_;
        while (end < text_.size() && std::string_view(",()\"").find(text_[end]) == std::string_view::npos)
            ++end;
        const auto found = taken(end, before);
        if (!found || trimmed(*found).empty())
            return std::nullopt;
        const scene::Scalar value = literalFrom(*found);
        if (const auto* flag = std::get_if<bool>(&value))
            return Json(*flag);
        return Json(trimmed(*found));
    }

    std::optional<Json> oneOf()
    {
        Json list = Json::array();
        do {
            auto one = item();
            if (!one)
                return std::nullopt;
            list.push_back(std::move(*one));
        } while (word(","));
        return Json{{"oneOf", list}};
    }

    std::optional<Json> howMany()
    {
        Json list = Json::array();
        do {
            const auto one = name();
            if (!one || (strict_ && one->find(':') == std::string::npos))
                return std::nullopt;
            list.push_back(*one);
        } while (word(","));
        return Json{{"count", list.size() == 1 ? list.front() : list}};
    }

    std::optional<Json> anywhere()
    {
        const auto where = name();
        if (!where)
            return std::nullopt;
        Json formula{{"somewhere", *where}};
        if (const std::size_t before = at_; !word(",") || !word("clear of solids"))
            at_ = before;
        else
            formula["clear"] = true;
        return formula;
    }

    std::optional<Json> part()
    {
        const std::size_t before = at_;
        std::optional<Json> value;
        if (word("one of"))
            value = oneOf();
        else if (word("how many"))
            value = howMany();
        else if (word("anywhere in"))
            value = anywhere();
        else if (word("same as"))
            value = path();
        else if (!(value = quoted()))
            value = bound();
        if (!value) {
            at_ = before;
            return std::nullopt;
        }
        const std::size_t end = at_;
        if (word("to") || word("..")) {
            if (const std::optional<Json> high = bound()) {
                word("at random");
                return Json{{"between", Json::array({*value, *high})}};
            }
            at_ = end;
        }
        return value;
    }

    /// The sign between two parts, which stands between spaces; '\0': none.
    char sign()
    {
        const char found = at(at_ + 1);
        if (!isSpace(at(at_)) || (found != '+' && found != '-') || !isSpace(at(at_ + 2)))
            return '\0';
        at_ += 3;
        farthest_ = std::max(farthest_, at_);
        return found;
    }

    std::optional<Json> sum()
    {
        std::optional<Json> first = part();
        if (!first)
            return std::nullopt;
        Json parts = Json::array({*first});
        for (;;) {
            const std::size_t before = at_;
            const char found = sign();
            if (found == '\0')
                break;
            std::optional<Json> next = part();
            const bool less = found == '-';
            if (!next || (less && !next->is_number())) {
                at_ = before;
                break;
            }
            parts.push_back(less ? Json(-next->get<double>()) : *next);
        }
        if (parts.size() == 1)
            return first;
        // Of literals alone it is no formula: "2 - 3" may be a text.
        const bool worked = std::ranges::any_of(parts, [](const Json& one) { return one.is_object(); });
        return worked ? std::optional(Json{{"sum", parts}}) : std::nullopt;
    }

    std::string text_;
    bool strict_;
    std::size_t at_ = 0;
    std::size_t farthest_ = 0; ///< where anything was understood up to
    int depth_ = 0;
    bool isPlain_ = false;
};

bool beginsWith(std::string_view text, std::string_view word)
{
    return text.size() >= word.size() && std::ranges::equal(text.substr(0, word.size()), word, [](char a, char b) {
               return std::tolower(static_cast<unsigned char>(a)) == b;
           });
}

Json readFormula(std::string_view typed, bool strict)
{
    const std::string text = trimmed(typed);
    if (text.size() > 1 && text.front() == '=')
        return Json{{"script", trimmed(std::string_view(text).substr(1))}};
    const Json formula = FormulaReader{text, strict}.read();
    // A path alone is one where values are expected; it is said by its slot.
    return formula.is_object() && formula.contains("get") && !beginsWith(text, "same as") ? Json{} : formula;
}

} // namespace

bool looksLikePath(std::string_view typed)
{
    std::size_t at = 0;
    int names = 0;
    for (;;) {
        if (at >= typed.size() || !beginsName(typed[at]))
            return false;
        while (at < typed.size() && isInName(typed[at]))
            ++at;
        ++names;
        if (at == typed.size())
            return names > 1;
        if (typed[at++] != '.')
            return false;
    }
}

std::string formulaText(const Json& value)
{
    if (value.is_array()) {
        std::vector<std::string> parts;
        for (const Json& part : value)
            parts.push_back(formulaText(part));
        return "(" + joinedBy(parts, ", ") + ")";
    }
    if (!value.is_object() || value.empty())
        return literalOf(value);
    if (value.contains("get"))
        return "same as " + literalOf(value["get"]);
    if (const auto between = value.find("between"); between != value.end() && between->size() == 2)
        return partText((*between)[0], false) + " to " + partText((*between)[1], false) + " at random";
    if (value.contains("oneOf"))
        return "one of " + listText(value["oneOf"]);
    if (value.contains("sum"))
        return sumText(value["sum"]);
    if (const auto count = value.find("count"); count != value.end()) {
        std::vector<std::string> names;
        if (count->is_string())
            names.push_back(literalOf(*count));
        else
            for (const Json& name : *count)
                names.push_back(literalOf(name));
        return "how many " + joinedBy(names, ", ");
    }
    if (value.contains("somewhere"))
        return "anywhere in " + literalOf(value["somewhere"]) + (value.contains("clear") ? ", clear of solids" : "");
    if (value.contains("script"))
        return "= " + literalOf(value["script"]);
    return {};
}

Json formulaFrom(std::string_view typed)
{
    return readFormula(typed, false);
}

Json formulaInText(std::string_view typed)
{
    return readFormula(typed, true);
}

std::optional<std::size_t> notUnderstoodAt(std::string_view typed, bool expectsNumber)
{
    const std::string text = trimmed(typed);
    if (text.empty() || text.front() == '=')
        return std::nullopt;
    FormulaReader reader{text, false};
    if (reader.readsAll())
        return std::nullopt;
    if (!expectsNumber && (reader.isPlain() || !reader.stopsAtOperator()))
        return std::nullopt;
    return typed.find(text) + reader.failsAt();
}

std::string typedInText(const std::string& text)
{
    const bool isQuoted = text.size() > 1 && text.front() == '"' && text.back() == '"';
    return isQuoted || text != trimmed(text) || !formulaInText(text).is_null() ? inQuotes(text) : text;
}

} // namespace snare::words
