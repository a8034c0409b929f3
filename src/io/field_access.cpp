// SPDX-License-Identifier: Apache-2.0
#include "io/field_access.h"

#include "io/reader.h"
#include "io/writer.h"

namespace snare::io {

namespace {

/// What is in an optional or a list, else the type itself.
template <class T> struct Inner {
    using Type = T;
};
template <class T> struct Inner<std::optional<T>> {
    using Type = T;
};
template <class T> struct Inner<std::vector<T>> {
    using Type = T;
};
template <class T> struct Inner<scene::SharedList<T>> {
    using Type = T;
};
template <class T> struct Inner<scene::OneOrMore<T>> {
    using Type = T;
};
template <class T> using InnerOf = typename Inner<T>::Type;

template <class T> struct IsOptional : std::false_type {
};
template <class T> struct IsOptional<std::optional<T>> : std::true_type {
};

template <class Member> constexpr SlotKind kindOf()
{
    using namespace scene;
    using T = InnerOf<Member>;
    constexpr bool single = std::is_same_v<T, Member> || IsOptional<Member>::value;
    if constexpr (hasWords<T>)
        return single ? SlotKind::word : SlotKind::words;
    else if constexpr (std::is_same_v<T, std::string> && !single)
        return SlotKind::names;
    else if constexpr (std::is_same_v<T, Value<std::string>> && !single)
        return SlotKind::lines;
    else if constexpr (std::is_same_v<T, bool>)
        return SlotKind::flag;
    else if constexpr (std::is_arithmetic_v<T> || std::is_same_v<T, Value<double>>)
        return SlotKind::number;
    else if constexpr (std::is_same_v<T, Value<Scalar>>)
        return SlotKind::value;
    else if constexpr (std::is_same_v<T, Target>)
        return SlotKind::target;
    else if constexpr (std::is_same_v<T, Destination>)
        return SlotKind::place;
    else if constexpr (std::is_same_v<T, Offset> || std::is_same_v<T, Vec>)
        return SlotKind::point;
    else if constexpr (std::is_same_v<T, std::array<double, 2>> || std::is_same_v<T, std::array<double, 4>>)
        return SlotKind::numbers;
    else if constexpr (std::is_same_v<T, LookChoice>)
        return SlotKind::look;
    else if constexpr (std::is_same_v<Member, Colour>)
        return SlotKind::colour;
    else if constexpr (std::is_same_v<T, Frames>)
        return SlotKind::frames;
    else if constexpr (std::is_same_v<T, Named<Value<Scalar>>>)
        return SlotKind::named;
    else if constexpr (std::is_same_v<T, std::string> || std::is_same_v<T, Value<std::string>> ||
                       std::is_same_v<T, PlaceOrTime>)
        return SlotKind::text;
    else if constexpr (std::is_same_v<T, Inside>)
        return SlotKind::word;
    else
        return SlotKind::other;
}

template <class Member> constexpr bool mayBeWorkedOut()
{
    using namespace scene;
    using T = InnerOf<Member>;
    return std::is_same_v<T, Value<double>> || std::is_same_v<T, Value<Scalar>> ||
           std::is_same_v<T, Value<std::string>> || std::is_same_v<T, Destination> || std::is_same_v<T, Offset>;
}

/// A field of the scene that is not a list of what is in it.
template <class Member> constexpr bool isSetting()
{
    const SlotKind kind = kindOf<Member>();
    return kind == SlotKind::text || kind == SlotKind::word || kind == SlotKind::number || kind == SlotKind::point ||
           kind == SlotKind::numbers;
}

/// The part of a view that its type does not matter for.
FieldView viewOf(const scene::FieldInfo& field, SlotKind kind, const Json& value, bool isSet)
{
    FieldView view{field.key, field.about, field.unit, field.range, field.refers, kind, field.isRequired, isSet, {}};
    view.wanted = field.isWanted;
    view.json = compact(value);
    return view;
}

template <class T> std::vector<FieldView> viewsOf(const T& value)
{
    [[maybe_unused]] static const T standard{};
    std::vector<FieldView> views;
    scene::forEachField<T>([&]<class Member>(const scene::Field<T, Member>& field) {
        if constexpr (std::is_same_v<T, scene::Scene>)
            if (!isSetting<Member>())
                return;
        FieldView view = viewOf(field, kindOf<Member>(), fieldToJson(value, field), !isAsIn(value, standard, field));
        view.workedOut = mayBeWorkedOut<Member>();
        if constexpr (scene::hasWords<InnerOf<Member>>)
            for (const auto& entry : scene::wordsOf<InnerOf<Member>>)
                view.words.push_back({entry.word, entry.about});
        if constexpr (std::is_same_v<Member, scene::Inside>)
            view.words = {{"true", "once for each visitor inside"},
                          {"nearest", "at the place nearest to each visitor"}};
        views.push_back(std::move(view));
    });
    return views;
}

/// Sets one field of a copy, so that nothing is left half done.
template <class T> std::optional<std::string> setIn(T& value, std::string_view key, std::string_view json)
{
    const auto node = parseJson(json, "value");
    if (!node)
        return node.error().text;
    T copy = value;
    Reader reader{json, "value"};
    if (!reader.readFieldOf(*node, key, copy))
        return "there is no such field";
    if (!reader.problems().empty())
        return reader.problems().front().text;
    value = std::move(copy);
    return std::nullopt;
}

} // namespace

std::vector<FieldView> fieldsOf(const scene::Response& response)
{
    return std::visit([](const auto& kind) { return viewsOf(kind); }, response.kind);
}

std::vector<FieldView> fieldsOf(const scene::Catch& catches)
{
    return viewsOf(catches);
}

std::vector<FieldView> fieldsOf(const scene::Filter& filter)
{
    return viewsOf(filter);
}

std::vector<FieldView> fieldsOf(const scene::Gate& gate)
{
    return viewsOf(gate);
}

std::vector<FieldView> fieldsOf(const scene::Snare& snare)
{
    return viewsOf(snare);
}

std::vector<FieldView> fieldsOf(const scene::TagFilter& tags)
{
    return viewsOf(tags);
}

std::vector<FieldView> fieldsOf(const scene::SpeedFilter& speed)
{
    return viewsOf(speed);
}

std::vector<FieldView> fieldsOf(const scene::Body& body)
{
    return std::visit([](const auto& kind) { return viewsOf(kind); }, body);
}

std::vector<FieldView> fieldsOf(const scene::Route& route)
{
    return viewsOf(route);
}

std::vector<FieldView> fieldsOf(const scene::Look& look)
{
    return viewsOf(look);
}

std::vector<FieldView> fieldsOf(const scene::LineMatch& lines)
{
    return viewsOf(lines);
}

std::vector<FieldView> fieldsOf(const scene::Expectation& expectation)
{
    return viewsOf(expectation);
}

std::vector<FieldView> fieldsOf(const scene::TimerSource& timer)
{
    return viewsOf(timer);
}

std::vector<FieldView> fieldsOf(const scene::DialSource& dial)
{
    return viewsOf(dial);
}

std::vector<FieldView> fieldsOf(const scene::Scene& scene)
{
    return viewsOf(scene);
}

std::optional<std::string> setField(scene::Scene& scene, std::string_view key, std::string_view json)
{
    return setIn(scene, key, json);
}

std::optional<std::string> setField(scene::Body& body, std::string_view key, std::string_view json)
{
    return setIn(body, key, json);
}

std::optional<std::string> setField(scene::Route& route, std::string_view key, std::string_view json)
{
    return setIn(route, key, json);
}

std::optional<std::string> setField(scene::Look& look, std::string_view key, std::string_view json)
{
    return setIn(look, key, json);
}

std::optional<std::string> setField(scene::LineMatch& lines, std::string_view key, std::string_view json)
{
    return setIn(lines, key, json);
}

std::optional<std::string> setField(scene::Expectation& expectation, std::string_view key, std::string_view json)
{
    return setIn(expectation, key, json);
}

std::optional<std::string> setField(scene::TimerSource& timer, std::string_view key, std::string_view json)
{
    return setIn(timer, key, json);
}

std::optional<std::string> setField(scene::DialSource& dial, std::string_view key, std::string_view json)
{
    return setIn(dial, key, json);
}

std::optional<std::string> setField(scene::TagFilter& tags, std::string_view key, std::string_view json)
{
    return setIn(tags, key, json);
}

std::optional<std::string> setField(scene::SpeedFilter& speed, std::string_view key, std::string_view json)
{
    return setIn(speed, key, json);
}

std::optional<std::string> setField(scene::Response& response, std::string_view key, std::string_view json)
{
    return setIn(response, key, json);
}

std::optional<std::string> setField(scene::Catch& catches, std::string_view key, std::string_view json)
{
    return setIn(catches, key, json);
}

std::optional<std::string> setField(scene::Filter& filter, std::string_view key, std::string_view json)
{
    return setIn(filter, key, json);
}

std::optional<std::string> setField(scene::Gate& gate, std::string_view key, std::string_view json)
{
    return setIn(gate, key, json);
}

std::optional<std::string> setField(scene::Snare& snare, std::string_view key, std::string_view json)
{
    return setIn(snare, key, json);
}

namespace {

template <std::size_t... I> std::vector<const scene::Word*> wordsAt(std::index_sequence<I...>)
{
    return {&scene::fieldsOf<std::variant_alternative_t<I, scene::AnyResponse>>.word...};
}

template <std::size_t... I> std::optional<scene::Response> responseAt(std::string_view word, std::index_sequence<I...>)
{
    std::optional<scene::Response> result;
    const auto tryOne = [&]<class R>() {
        if (scene::fieldsOf<R>.word.key == word)
            result = scene::Response{R{}, {}};
    };
    (tryOne.template operator()<std::variant_alternative_t<I, scene::AnyResponse>>(), ...);
    return result;
}

constexpr auto allResponses = std::make_index_sequence<std::variant_size_v<scene::AnyResponse>>{};

} // namespace

std::vector<const scene::Word*> responseWords()
{
    return wordsAt(allResponses);
}

std::optional<scene::Response> responseOf(std::string_view word)
{
    return responseAt(word, allResponses);
}

} // namespace snare::io
