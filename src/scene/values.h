// SPDX-License-Identifier: Apache-2.0
/// The small values that documents are made of: scalars, named lists in file order, paths and values to be worked out.
#pragma once

#include "geometry/vec.h"

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace snare::scene {

using geometry::Vec;

/// A number, a text or a yes/no: the value of a property, a variable or a signal's entry.
using Scalar = std::variant<double, bool, std::string>;

/// "3", "true", "west quay": as it is shown and logged.
std::string textOf(const Scalar& value);

/// A list of named things that keeps the order of the file. Names are unique.
template <class T> struct Named {
    std::vector<std::pair<std::string, T>> entries;

    const T* find(std::string_view name) const
    {
        const auto it = std::ranges::find(entries, name, &std::pair<std::string, T>::first);
        return it == entries.end() ? nullptr : &it->second;
    }
    T* find(std::string_view name)
    {
        return const_cast<T*>(std::as_const(*this).find(name)); // NOLINT: same object, not const here
    }
    /// Sets the entry, adding it at the end if it is missing.
    void set(std::string_view name, T value)
    {
        if (T* found = find(name))
            *found = std::move(value);
        else
            entries.emplace_back(name, std::move(value));
    }
    bool empty() const { return entries.empty(); }

    friend bool operator==(const Named&, const Named&) = default;
};

/// A path to a value of the run: `self.ring`, `scene.parcels`, `signal.ring`, `barrow.x`.
struct Get {
    std::string path;

    friend bool operator==(const Get&, const Get&) = default;
};

/// A value in a response: given as it is, or read when the response is carried out.
template <class T> struct Value {
    std::variant<T, Get> held;

    Value() = default;
    Value(T literal) : held(std::move(literal)) {} // NOLINT: a literal is a value
    Value(Get get) : held(std::move(get)) {}       // NOLINT

    const T* literal() const { return std::get_if<T>(&held); }

    friend bool operator==(const Value&, const Value&) = default;
};

/// Who a response acts on: ids, `self`, `visitor`, `sender`, `scene`, `tag:…`, `group:…` or `PIECE/SHAPE`.
struct Target {
    std::vector<std::string> names;

    static Target self() { return {{"self"}}; }
    static Target scene() { return {{"scene"}}; }

    friend bool operator==(const Target&, const Target&) = default;
};

/// Where to: a point (m), the place of a piece, or `home`, where the piece was at the start.
struct Destination {
    std::variant<Vec, std::string> held = Vec{0, 0}; ///< the text is a piece's id, `self`, `visitor` or `home`
    std::optional<double> z = {};                    ///< m, of a point; as high as before if left out (M15)

    friend bool operator==(const Destination&, const Destination&) = default;
};

/// A colour as `#rrggbb`.
struct Colour {
    std::string code;

    friend bool operator==(const Colour&, const Colour&) = default;
};

/// One or more of something, written as a single value when it is one.
template <class T> struct OneOrMore {
    std::vector<T> items;

    friend bool operator==(const OneOrMore&, const OneOrMore&) = default;
};

/// Splits `PIECE/SHAPE`; the second part is empty without a slash.
std::pair<std::string_view, std::string_view> splitShape(std::string_view name);

/// True for `tag:…`, `group:…` and `template:…`.
bool isSelector(std::string_view name);

/// True for a text that may be an id: letters, digits, `-`, `_`, at least one.
bool isId(std::string_view text);

/// True for the words that stand for something in targets and paths and cannot be ids.
bool isReserved(std::string_view text);

/// The known word nearest to `text`, or an empty one if none is near enough to suggest.
std::string_view nearestWord(std::string_view text, const std::vector<std::string_view>& known);

} // namespace snare::scene
