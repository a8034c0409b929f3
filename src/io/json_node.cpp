// SPDX-License-Identifier: Apache-2.0
#include "io/json_node.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>

namespace snare::io {

const Node* Node::find(std::string_view key) const
{
    if (const Members* list = members())
        for (const auto& [name, node] : *list)
            if (name == key)
                return &node;
    return nullptr;
}

std::string_view describe(const Node& node)
{
    constexpr std::string_view words[] = {"nothing", "yes or no", "a number", "a text", "a list", "an object"};
    return words[node.value.index()];
}

namespace {

nlohmann::ordered_json jsonOf(const Node& node)
{
    if (const Elements* list = node.elements()) {
        auto array = nlohmann::ordered_json::array();
        for (const Node& one : *list)
            array.push_back(jsonOf(one));
        return array;
    }
    if (const Members* list = node.members()) {
        auto object = nlohmann::ordered_json::object();
        for (const auto& [name, value] : *list)
            object[name] = jsonOf(value);
        return object;
    }
    if (node.text())
        return *node.text();
    if (node.number())
        return *node.number();
    return node.flag() ? nlohmann::ordered_json(*node.flag()) : nlohmann::ordered_json();
}

} // namespace

std::string jsonText(const Node& node)
{
    return jsonOf(node).dump();
}

std::string Problem::message() const
{
    std::string result = file;
    if (line > 0)
        result += fmt::format(": line {}, column {}", line, column);
    if (!pointer.empty())
        result += ": " + pointer;
    return result + ": " + text;
}

Place placeOf(std::string_view text, std::size_t offset)
{
    Place place;
    for (std::size_t i = 0; i < std::min(offset, text.size()); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]);
        if (byte == '\n') {
            ++place.line;
            place.column = 1;
        } else if ((byte & 0xC0) != 0x80) { // bytes that continue a character do not count
            ++place.column;
        }
    }
    return place;
}

namespace {

constexpr std::size_t deepest = 200;

/// Builds the tree from the parser's calls. The parser does not tell places, but the text does: a
/// token begins after what parts it from the one before.
class TreeBuilder {
  public:
    explicit TreeBuilder(std::string_view text) : text_(text) {}

    using number_integer_t = nlohmann::json::number_integer_t;
    using number_unsigned_t = nlohmann::json::number_unsigned_t;
    using number_float_t = nlohmann::json::number_float_t;
    using string_t = nlohmann::json::string_t;
    using binary_t = nlohmann::json::binary_t;

    bool null() { return leaf(nullptr); }
    bool boolean(bool value) { return leaf(value); }
    bool number_integer(number_integer_t value) { return leaf(static_cast<double>(value)); }
    bool number_unsigned(number_unsigned_t value) { return leaf(static_cast<double>(value)); }
    bool number_float(number_float_t value, const string_t&) { return leaf(value); }
    bool string(string_t& value) { return leaf(std::move(value)); }
    bool binary(binary_t&) { return false; }

    bool start_object(std::size_t) { return open(Members{}); }
    bool start_array(std::size_t) { return open(Elements{}); }
    bool end_object() { return close(); }
    bool end_array() { return close(); }

    bool key(string_t& value)
    {
        keyOffset_ = nextToken();
        const Node& owner = *open_.back();
        if (owner.find(value)) {
            error_ = fmt::format("the key \"{}\" stands twice", value);
            errorOffset_ = keyOffset_;
            return false;
        }
        key_ = std::move(value);
        return true;
    }

    bool parse_error(std::size_t position, const std::string&, const nlohmann::json::exception& failure)
    {
        // The text behind the last "; " or ": " of the library's message says what it met.
        std::string what = failure.what();
        if (const auto at = what.find(" - "); at != std::string::npos)
            what = what.substr(at + 3);
        else if (const auto colon = what.rfind(": "); colon != std::string::npos)
            what = what.substr(colon + 2);
        std::erase_if(what, [](char c) { return static_cast<unsigned char>(c) < 0x20; });
        error_ = "this is not JSON: " + what;
        errorOffset_ = position > 0 ? position - 1 : 0;
        return false;
    }

    Node root;

    const std::string& error() const { return error_; }
    std::size_t errorOffset() const { return errorOffset_; }

  private:
    std::size_t nextToken()
    {
        std::size_t i = cursor_;
        while (i < text_.size() && (text_[i] == ' ' || text_[i] == '\n' || text_[i] == '\r' || text_[i] == '\t' ||
                                    text_[i] == ',' || text_[i] == ':'))
            ++i;
        const std::size_t start = i;
        if (i < text_.size() && text_[i] == '"') {
            for (++i; i < text_.size() && text_[i] != '"'; ++i)
                if (text_[i] == '\\')
                    ++i;
            ++i;
        } else if (i < text_.size() && std::string_view("{}[]").find(text_[i]) != std::string_view::npos) {
            ++i;
        } else {
            while (i < text_.size() && std::string_view(" \n\r\t,:{}[]\"").find(text_[i]) == std::string_view::npos)
                ++i;
        }
        cursor_ = i;
        return start;
    }

    Node* place(Node node)
    {
        if (open_.empty()) {
            root = std::move(node);
            return &root;
        }
        Node& owner = *open_.back();
        if (auto* elements = std::get_if<Elements>(&owner.value))
            return &elements->emplace_back(std::move(node));
        node.keyOffset = keyOffset_;
        return &std::get<Members>(owner.value).emplace_back(Member{std::move(key_), std::move(node)}).second;
    }

    template <class T> bool leaf(T value)
    {
        const std::size_t offset = nextToken();
        place(Node{std::move(value), offset, offset});
        return true;
    }

    template <class T> bool open(T empty)
    {
        const std::size_t offset = nextToken();
        if (open_.size() >= deepest) {
            error_ = fmt::format("nested deeper than {} levels", deepest);
            errorOffset_ = offset;
            return false;
        }
        open_.push_back(place(Node{std::move(empty), offset, offset}));
        return true;
    }

    bool close()
    {
        nextToken();
        open_.pop_back();
        return true;
    }

    std::string_view text_;
    std::size_t cursor_ = 0;
    std::vector<Node*> open_; // stays valid: only the innermost list grows
    std::string key_;
    std::size_t keyOffset_ = 0;
    std::string error_;
    std::size_t errorOffset_ = 0;
};

} // namespace

tl::expected<Node, Problem> parseJson(std::string_view text, const std::string& file)
{
    if (text.starts_with("\xEF\xBB\xBF"))
        text.remove_prefix(3);
    TreeBuilder builder{text};
    if (nlohmann::json::sax_parse(text.begin(), text.end(), &builder))
        return std::move(builder.root);
    const Place place = placeOf(text, builder.errorOffset());
    return tl::unexpected(Problem{file, place.line, place.column, {}, builder.error()});
}

} // namespace snare::io
