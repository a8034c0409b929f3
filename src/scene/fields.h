// SPDX-License-Identifier: Apache-2.0
/// Field tables: one description per document struct.
///
/// Reading, writing, the schema, range checks, the slots of the cards and the reference page are
/// all made from the same table, so that a field or a response is added in one place. A table is a
/// constant: `fieldsOf<Move>`.
#pragma once

#include <limits>
#include <string_view>
#include <tuple>
#include <utility>
#include <variant>

namespace snare::scene {

/// What a number of a document is measured in.
enum class Unit {
    none,
    metres,
    seconds,
    degrees,
    metresPerSecond,
    degreesPerSecond,
    perSecond,
    metresPerSquareSecond,
    kilograms,
    kilogramsPerSquareMetre
};

/// "m", "s", "°", "m/s", … or nothing.
constexpr std::string_view symbolOf(Unit unit)
{
    switch (unit) {
    case Unit::metres:
        return "m";
    case Unit::seconds:
        return "s";
    case Unit::degrees:
        return "°";
    case Unit::metresPerSecond:
        return "m/s";
    case Unit::degreesPerSecond:
        return "°/s";
    case Unit::perSecond:
        return "/s";
    case Unit::metresPerSquareSecond:
        return "m/s²";
    case Unit::kilograms:
        return "kg";
    case Unit::kilogramsPerSquareMetre:
        return "kg/m²";
    case Unit::none:
        break;
    }
    return {};
}

/// The numbers a field takes.
struct Range {
    double low = -std::numeric_limits<double>::infinity();
    double high = std::numeric_limits<double>::infinity();
    bool openLow = false; ///< `low` itself is not taken

    /// Whether a number lies in it; whether it says anything at all.
    constexpr bool allows(double value) const { return (openLow ? value > low : value >= low) && value <= high; }
    constexpr bool bounded() const
    {
        return low > -std::numeric_limits<double>::infinity() || high < std::numeric_limits<double>::infinity();
    }
};

/// What a name in the document refers to: this decides what a card offers and what a rename
/// changes.
enum class Refers {
    nothing,
    piece,
    group,
    tag,
    snare,
    signal,
    source,
    key,
    target,
    place,
    property,
    look,
    colour,
    form,
    phase,  ///< of a piece or of the scene
    during, ///< a phase of self, or `scene:NAME`
    routine,
    call,  ///< the name of a call from outside
    value, ///< the name of a property or variable, without its owner
    shape, ///< the name of a shape, without its piece
    words, ///< a text for people, with paths in braces
    script ///< Lua
};

/// What the struct is called and how it reads.
struct Word {
    std::string_view key;      ///< in files
    std::string_view about;    ///< one line for the reference page and for lists
    std::string_view sentence; ///< "{on} moves to {to}| at {speed}": a part after `|` shows only if its fields are set
    std::string_view synonyms; ///< everyday words that find it, parted by spaces
};

constexpr Word word(std::string_view key, std::string_view about, std::string_view sentence = {},
                    std::string_view synonyms = {})
{
    return {key, about, sentence, synonyms};
}

/// What a field is, whatever its type: its key, meaning, unit and range.
struct FieldInfo {
    std::string_view key;
    std::string_view about;
    Unit unit = Unit::none;
    Range range{};
    Refers refers = Refers::nothing;
    bool isRequired = false;  ///< must be given in a file
    bool isWanted = false;    ///< of those marked so one must be set, or the struct does nothing
    bool isShorthand = false; ///< the struct may be written as just this value
};

/// One member of a struct.
template <class Owner, class Member> struct Field : FieldInfo {
    Member Owner::*member = nullptr;
    double Owner::*height = nullptr; ///< of a point: where its third number goes, if it has one

    // Each gives a copy that knows more: the unit, what numbers it takes, what it names.
    constexpr Field in(Unit value) const
    {
        Field copy = *this;
        copy.unit = value;
        return copy;
    }
    constexpr Field above(double value) const
    {
        Field copy = *this;
        copy.range.low = value;
        copy.range.openLow = true;
        return copy;
    }
    constexpr Field atLeast(double value) const
    {
        Field copy = *this;
        copy.range.low = value;
        return copy;
    }
    constexpr Field atMost(double value) const
    {
        Field copy = *this;
        copy.range.high = value;
        return copy;
    }
    constexpr Field names(Refers value) const
    {
        Field copy = *this;
        copy.refers = value;
        return copy;
    }
    /// A point that may have a height as its third number (M15).
    constexpr Field rising(double Owner::*value) const
    {
        Field copy = *this;
        copy.height = value;
        return copy;
    }
    /// Must be given in a file.
    constexpr Field required() const
    {
        Field copy = *this;
        copy.isRequired = true;
        return copy;
    }
    /// Of the fields of a struct marked so one must be set, or it does nothing.
    constexpr Field wanted() const
    {
        Field copy = *this;
        copy.isWanted = true;
        return copy;
    }
    /// The struct may be written as just this value when nothing else is set: `"circle": 0.4`.
    constexpr Field shorthand() const
    {
        Field copy = *this;
        copy.isShorthand = true;
        return copy;
    }
};

template <class Owner, class Member>
constexpr Field<Owner, Member> field(std::string_view key, Member Owner::*member, std::string_view about)
{
    return {{key, about}, member};
}

/// A member that is a variant whose alternatives are told apart by their own key, beside the
/// struct's other keys.
template <class Owner, class Member> struct KeyedField {
    Member Owner::*member;
    std::string_view about;
};

template <class Owner, class Member>
constexpr KeyedField<Owner, Member> oneOfKeys(Member Owner::*member, std::string_view about)
{
    return {member, about};
}

/// A member that is a variant whose alternatives' own fields stand beside the struct's:
/// `{"t": 1, "key": "a", "down": true}`. Which one it is is told by the key of its first field; no
/// two alternatives begin with the same.
template <class Owner, class Member> struct StructsField {
    Member Owner::*member;
};

template <class Owner, class Member> constexpr StructsField<Owner, Member> oneOfStructs(Member Owner::*member)
{
    return {member};
}

/// Calls `visit.operator()<A>()` for each alternative of a variant, in order.
template <class... All, class Visit> constexpr void forEachOf(const std::variant<All...>* /*type*/, Visit&& visit)
{
    (visit.template operator()<All>(), ...);
}

/// What describes a struct: its word and its fields, in the order of the file.
template <class... Fields> struct Table {
    Word word;
    std::tuple<Fields...> fields;
};

template <class... Fields> constexpr Table<Fields...> fields(Word word, Fields... list)
{
    return {word, {list...}};
}

/// The table of a document struct; specialised beside each struct.
template <class T> inline constexpr auto fieldsOf = nullptr;

/// The key by which a struct is told among those of `oneOfStructs`.
template <class T> constexpr std::string_view firstKeyOf()
{
    return std::get<0>(fieldsOf<T>.fields).key;
}

template <class T> inline constexpr bool hasFields = !std::is_same_v<decltype(fieldsOf<T>), const std::nullptr_t>;

/// Calls `visit(field)` for each field of `T`, in the order of the file.
template <class T, class Visit> constexpr void forEachField(Visit&& visit)
{
    std::apply([&](const auto&... field) { (visit(field), ...); }, fieldsOf<T>.fields);
}

/// The words of an enumeration in files: specialised beside each enumeration as an array of {value,
/// word, about}.
template <class E> struct EnumWord {
    E value;
    std::string_view word;
    std::string_view about;
};

template <class E> inline constexpr auto wordsOf = nullptr;

template <class E> inline constexpr bool hasWords = !std::is_same_v<decltype(wordsOf<E>), const std::nullptr_t>;

/// The word of an enumeration's value.
template <class E> constexpr std::string_view wordOf(E value)
{
    for (const auto& entry : wordsOf<E>)
        if (entry.value == value)
            return entry.word;
    return {};
}

} // namespace snare::scene
