// SPDX-License-Identifier: Apache-2.0
/// Writes document structs as JSON by their field tables: keys in the order of the tables, defaults
/// left out.
#pragma once

#include "io/json.h"
#include "scene/scene.h"
#include "scene/take.h"

#include <nlohmann/json.hpp>

namespace snare::io {

Json toJson(bool value);
Json toJson(double value);
Json toJson(const std::string& value);
Json toJson(const scene::Vec& value);
Json toJson(const scene::Scalar& value);
Json toJson(const scene::Colour& value);
template <std::integral Integer> Json toJson(Integer value)
{
    return value;
}
template <std::size_t N> Json toJson(const std::array<double, N>& value)
{
    return value;
}

/// A struct by its table; as its one value if it has a shorthand and nothing else is set. Compiled
/// in writer.cpp for the structs that are named there.
template <class T>
requires scene::hasFields<T> Json toJson(const T& value);

template <class E>
requires scene::hasWords<E> Json toJson(E value)
{
    return std::string(scene::wordOf(value));
}

template <class T> Json toJson(const scene::Named<T>& value);
template <class T> Json toJson(const scene::OneOrMore<T>& value);
template <class T> Json toJson(const scene::Value<T>& value);
Json toJson(const scene::Body& value);
Json toJson(const scene::Response& value);
Json toJson(const scene::Target& value);
Json toJson(const scene::Destination& value);
Json toJson(const scene::Formula& value);
Json toJson(const scene::Coordinates& value);
Json toJson(const scene::Offset& value);
Json toJson(const scene::Frames& value);
Json toJson(scene::Inside value);
Json toJson(const scene::Routine& value);
Json toJson(const scene::PlaceOrTime& value);
Json toJson(const scene::Span& value);
Json toJson(const scene::Times& value);
Json toJson(const scene::Expectation& value);
Json toJson(const scene::Steer& value);
Json toJson(const scene::LookChoice& value);
Json toJson(const scene::ContactRule& value);
Json toJson(const scene::Template& value);

/// A piece as its name, its template and what differs from it.
Json toJson(const scene::Piece& value, const scene::Piece& model);

template <class List> Json listToJson(const List& value)
{
    Json list = Json::array();
    for (const auto& item : value)
        list.push_back(toJson(item));
    return list;
}

template <class T> Json toJson(const std::vector<T>& value)
{
    return listToJson(value);
}

template <class T> Json toJson(const scene::SharedList<T>& value)
{
    return listToJson(value);
}

template <class T> Json toJson(const std::optional<T>& value)
{
    return value ? toJson(*value) : Json();
}

template <class T> Json toJson(const scene::Named<T>& value)
{
    Json object = Json::object();
    for (const auto& [name, entry] : value.entries)
        object[name] = toJson(entry);
    return object;
}

template <class T> Json toJson(const scene::OneOrMore<T>& value)
{
    return value.items.size() == 1 ? toJson(value.items.front()) : toJson(value.items);
}

template <class T> Json toJson(const scene::Value<T>& value)
{
    if (const T* literal = value.literal())
        return toJson(*literal);
    return toJson(*value.formula());
}

/// A field's value; a point's height is its third number.
template <class T, class Member> Json fieldToJson(const T& value, const scene::Field<T, Member>& field)
{
    Json json = toJson(value.*field.member);
    if (field.height && value.*field.height != 0 && json.is_array())
        json.push_back(value.*field.height);
    return json;
}

/// Whether a field, with its height, is as in another value.
template <class T, class Member> bool isAsIn(const T& value, const T& other, const scene::Field<T, Member>& field)
{
    return value.*field.member == other.*field.member && (!field.height || value.*field.height == other.*field.height);
}

/// Appends the fields of `value` to `object`. Compiled in writer.cpp for whole documents.
template <class T> void writeFields(Json& object, const T& value);

} // namespace snare::io
