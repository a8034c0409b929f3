// SPDX-License-Identifier: Apache-2.0
/// JSON with its places: every value knows where it stands in the text, so that a message can point
/// at it.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <utility>
#include <variant>
#include <vector>

namespace snare::io {

struct Node;
struct Member;
using Members = std::vector<Member>;
using Elements = std::vector<Node>;

/// A JSON value. Numbers are doubles; members keep the order of the text.
struct Node {
    std::variant<std::nullptr_t, bool, double, std::string, Elements, Members> value;
    std::size_t offset = 0;    ///< of the value's first byte in the text
    std::size_t keyOffset = 0; ///< of its key, for a member of an object

    const Members* members() const { return std::get_if<Members>(&value); }
    const Elements* elements() const { return std::get_if<Elements>(&value); }
    const std::string* text() const { return std::get_if<std::string>(&value); }
    const double* number() const { return std::get_if<double>(&value); }
    const bool* flag() const { return std::get_if<bool>(&value); }
    /// The member called `key`, or null.
    const Node* find(std::string_view key) const;
};

/// A member of an object.
struct Member {
    std::string first; ///< its key
    Node second;
};

/// What a value is, in words: "a number", "a list", …
std::string_view describe(const Node& node);

/// The value as JSON text, without line breaks.
std::string jsonText(const Node& node);

/// Something wrong in a file, with its place.
struct Problem {
    std::string file;
    std::size_t line = 0; ///< from 1; 0 if it is about the whole file
    std::size_t column = 0;
    std::string pointer; ///< JSON pointer (RFC 6901)
    std::string text;

    /// `FILE: line L, column C: POINTER: text`
    std::string message() const;
};

struct Place {
    std::size_t line = 1;
    std::size_t column = 1;
};

/// Line and column (in characters) of a byte of UTF-8 text, both from 1.
Place placeOf(std::string_view text, std::size_t offset);

/// Reads JSON (RFC 8259, UTF-8). Errors: what is no JSON, keys given twice, nesting deeper
/// than 200.
tl::expected<Node, Problem> parseJson(std::string_view text, const std::string& file);

} // namespace snare::io
