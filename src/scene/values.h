// SPDX-License-Identifier: Apache-2.0
/// The small values that documents are made of: scalars, named lists in file order, paths and
/// values to be worked out.
#pragma once

#include "geometry/vec.h"
#include "scene/one_of.h"
#include "scene/shared_list.h"

#include <algorithm>
#include <array>
#include <cstdint>
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

/// Whether copies of a `Named<T>` share their entries (`SharedList`): for what is large.
/// Specialised beside `T`.
template <class T> inline constexpr bool sharesEntries = false;

/// A list of named things that keeps the order of the file. Names are unique.
template <class T> struct Named {
    using Entry = std::pair<std::string, T>;
    std::conditional_t<sharesEntries<T>, SharedList<Entry>, std::vector<Entry>> entries;

    const T* find(std::string_view name) const
    {
        const auto it = std::ranges::find(entries, name, &Entry::first);
        return it == entries.end() ? nullptr : &it->second;
    }
    T* find(std::string_view name)
    {
        const auto all = std::as_const(entries).begin();
        const auto it = std::find_if(all, std::as_const(entries).end(), [&](const Entry& e) { return e.first == name; });
        return it == std::as_const(entries).end() ? nullptr : &entries[static_cast<std::size_t>(it - all)].second;
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

/// What a formula can give: a scalar, or a point in metres.
using Answer = std::variant<double, bool, std::string, Vec>;

/// The same value as an answer.
Answer answerOf(const Scalar& value);

/// How a value is worked out at the moment at which it is needed.
struct Formula {
    enum class Kind : std::uint8_t {
        literal,   ///< `literal`, as a part of another formula
        get,       ///< the value at the path `text`
        between,   ///< a random number from the first of `parts` up to, but not at, the second
        oneOf,     ///< one of `parts`, each as likely
        sum,       ///< all of `parts` together
        count,     ///< how many pieces the targets `names` are
        somewhere, ///< a random point in `text` (a piece, PIECE/SHAPE or `scene`) where the whole piece fits
        script     ///< the Lua expression `text`
    };
    Kind kind = Kind::get;
    Answer literal = 0.0;
    std::string text = {};
    std::vector<std::string> names = {};
    std::vector<Formula> parts = {};
    bool clear = false; ///< somewhere: only where no solid is

    // Formulas of the simpler kinds; see `Kind`.
    static Formula get(std::string path) { return {.kind = Kind::get, .text = std::move(path)}; }
    static Formula of(Answer literal) { return {.kind = Kind::literal, .literal = std::move(literal)}; }
    static Formula between(double low, double high) { return {.kind = Kind::between, .parts = {of(low), of(high)}}; }
    static Formula count(std::string target) { return {.kind = Kind::count, .names = {std::move(target)}}; }

    friend bool operator==(const Formula&, const Formula&) = default;
};

/// The words of the formulas in files: `{"between": [1, 3]}`.
struct FormulaWord {
    Formula::Kind kind;
    std::string_view word;
    std::string_view about;
};

inline constexpr std::array formulaWords{
    FormulaWord{Formula::Kind::get, "get", "the same as another value"},
    FormulaWord{Formula::Kind::between, "between", "a random number between two"},
    FormulaWord{Formula::Kind::oneOf, "oneOf", "one of several, each as likely"},
    FormulaWord{Formula::Kind::sum, "sum", "several added up"},
    FormulaWord{Formula::Kind::count, "count", "how many pieces there are"},
    FormulaWord{Formula::Kind::somewhere, "somewhere", "a random place inside a piece or the scene"},
    FormulaWord{Formula::Kind::script, "script", "a Lua expression"},
};

/// The word of a formula; empty for a literal.
std::string_view wordOf(Formula::Kind kind);

/// The path of a formula that only gets one, else null.
const std::string* pathOf(const Formula& formula);

/// A value in a response: given as it is, or worked out when the response is carried out.
template <class T> struct Value {
    OneOf<std::variant<T, Formula>> held;

    Value() = default;
    Value(T literal) : held(std::move(literal)) {}                  // NOLINT: a literal is a value
    Value(Get get) : held(Formula::get(std::move(get.path))) {}     // NOLINT
    Value(Formula formula) : held(std::move(formula)) {}            // NOLINT
    Value(const char* text) requires std::is_same_v<T, std::string> // NOLINT
        : held(std::string(text))
    {
    }

    /// The value as it was given, or how it is worked out; the other one is null.
    const T* literal() const { return std::get_if<T>(&held); }
    const Formula* formula() const { return std::get_if<Formula>(&held); }
    /// The literal, or something else if the value is worked out.
    T literalOr(T other) const { return literal() ? *literal() : std::move(other); }

    friend bool operator==(const Value&, const Value&) = default;
};

/// A point whose numbers are worked out one by one, m.
struct Coordinates {
    Value<double> x{0.0};
    Value<double> y{0.0};

    friend bool operator==(const Coordinates&, const Coordinates&) = default;
};

/// How far, or how fast, in x and y; m or m/s.
struct Offset {
    OneOf<std::variant<Vec, Coordinates, Formula>> held = Vec{0, 0};

    Offset() = default;
    Offset(Vec literal) : held(literal) {} // NOLINT: a literal is an offset

    const Vec* literal() const { return std::get_if<Vec>(&held); }

    friend bool operator==(const Offset&, const Offset&) = default;
};

/// Who a response acts on: ids, `self`, `visitor`, `sender`, `scene`, `tag:…`, `group:…`,
/// `template:…`, `PIECE/SHAPE`, `PIECE.PROPERTY` (the piece that it names) or `inside:PIECE/SHAPE`.
struct Target {
    std::vector<std::string> names;

    // Targets of one word.
    static Target self() { return {{"self"}}; }
    static Target scene() { return {{"scene"}}; }

    friend bool operator==(const Target&, const Target&) = default;
};

/// Where to: a point (m), the place of a piece, or `home`, where the piece was at the start.
struct Destination {
    /// The text is a piece's id, `self`, `visitor`, `home` or a property that holds a piece.
    OneOf<std::variant<Vec, std::string, Coordinates, Formula>> held = Vec{0, 0};
    std::optional<double> z = {}; ///< m, of a point; as high as before if left out (M15)

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

/// True for `tag:…`, `group:…`, `template:…` and `part:…`.
bool isSelector(std::string_view name);

/// True for a text that may be an id: letters, digits, `-`, `_`, at least one.
bool isId(std::string_view text);

/// A value that every piece has, or the scene, without being given.
struct BuiltIn {
    std::string_view name;
    std::string_view about; ///< with its unit
    bool canBeSet = false;
};

inline constexpr std::array builtInsOfPiece{
    BuiltIn{"x", "its place from left to right, m", true},
    BuiltIn{"y", "its place from bottom to top, m", true},
    BuiltIn{"z", "its height, m", true},
    BuiltIn{"turn", "how far it is turned, ° against the clock", true},
    BuiltIn{"vx", "its speed to the right, m/s", true},
    BuiltIn{"vy", "its speed upwards in the picture, m/s", true},
    BuiltIn{"vz", "how fast it rises, m/s", true},
    BuiltIn{"speed", "how fast it moves, m/s"},
    BuiltIn{"spin", "how fast it turns, °/s", true},
    BuiltIn{"gravity", "how many times the gravity of the scene it feels", true},
    BuiltIn{"walkSpeed", "of a walker: how fast it walks, m/s", true},
    BuiltIn{"facing", "where it looks, °: where a walker went last, else its turn"},
    BuiltIn{"shown", "whether it is there to see"},
    BuiltIn{"enabled", "whether it takes part in meetings"},
    BuiltIn{"phase", "its phase"},
    BuiltIn{"group", "its group"},
    BuiltIn{"layer", "its layer; higher ones are drawn over lower ones", true},
    BuiltIn{"template", "the template that it was made from"},
    BuiltIn{"id", "its name"},
    BuiltIn{"age", "how long it has been there, s"},
    BuiltIn{"count", "how many pieces are inside it"},
    BuiltIn{"tags", "its tags, one after the other"},
};

inline constexpr std::array builtInsOfScene{
    BuiltIn{"age", "how long the scene has run since it began, s"},
    BuiltIn{"phase", "the phase of the scene"},
    BuiltIn{"left", "the left end of the bounds, m"},
    BuiltIn{"right", "their right end, m"},
    BuiltIn{"bottom", "their lower end, m"},
    BuiltIn{"top", "their upper end, m"},
};

/// Whether pieces, or the scene, have a built-in value of this name: no property or variable can be
/// called so.
bool isBuiltInOfPiece(std::string_view name);
bool isBuiltInOfScene(std::string_view name);
/// Whether a piece has a built-in value of this name that can be set.
bool canBuiltInBeSet(std::string_view name);

/// True for the words that stand for something in targets and paths and cannot be ids.
bool isReserved(std::string_view text);

/// The known word nearest to `text`, or an empty one if none is near enough to suggest.
std::string_view nearestWord(std::string_view text, const std::vector<std::string_view>& known);

} // namespace snare::scene
