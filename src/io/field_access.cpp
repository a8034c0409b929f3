// SPDX-License-Identifier: Apache-2.0
#include "io/field_access.h"

#include "io/reader.h"
#include "io/writer.h"

namespace snare::io {

namespace {

template <class Member> constexpr SlotKind kindOf()
{
    using namespace scene;
    if constexpr (std::is_same_v<Member, bool>)
        return SlotKind::flag;
    else if constexpr (std::is_same_v<Member, double> || std::is_same_v<Member, std::optional<double>> ||
                       std::is_same_v<Member, Value<double>> || std::is_same_v<Member, std::optional<Value<double>>>)
        return SlotKind::number;
    else if constexpr (std::is_same_v<Member, Value<Scalar>>)
        return SlotKind::value;
    else if constexpr (std::is_same_v<Member, Target> || std::is_same_v<Member, std::optional<Target>>)
        return SlotKind::target;
    else if constexpr (std::is_same_v<Member, std::optional<Destination>>)
        return SlotKind::place;
    else if constexpr (std::is_same_v<Member, std::optional<Vec>>)
        return SlotKind::point;
    else if constexpr (std::is_same_v<Member, std::vector<std::string>>)
        return SlotKind::names;
    else if constexpr (std::is_same_v<Member, LookChoice>)
        return SlotKind::look;
    else if constexpr (std::is_same_v<Member, Named<Value<Scalar>>>)
        return SlotKind::named;
    else
        return SlotKind::text;
}

} // namespace

std::vector<FieldView> fieldsOf(const scene::Response& response)
{
    std::vector<FieldView> views;
    std::visit(
        [&]<class R>(const R& kind) {
            [[maybe_unused]] static const R standard{};
            scene::forEachField<R>([&]<class Member>(const scene::Field<R, Member>& field) {
                FieldView view{field.key,        field.about,      field.unit, field.range, field.refers,
                               kindOf<Member>(), field.isRequired, false,      {}};
                view.set = !isAsIn(kind, standard, field);
                view.json = compact(fieldToJson(kind, field));
                views.push_back(std::move(view));
            });
        },
        response.kind);
    return views;
}

std::optional<std::string> setField(scene::Response& response, std::string_view key, std::string_view json)
{
    const auto node = parseJson(json, "value");
    if (!node)
        return node.error().text;
    scene::Response copy = response;
    std::optional<std::string> wrong = "there is no such field";
    std::visit(
        [&]<class R>(R& kind) {
            [[maybe_unused]] static const R standard{};
            scene::forEachField<R>([&](const auto& field) {
                if (field.key != key)
                    return;
                wrong.reset();
                if (std::holds_alternative<std::nullptr_t>(node->value)) {
                    kind.*field.member = standard.*field.member;
                    if (field.height)
                        kind.*field.height = standard.*field.height;
                    return;
                }
                Reader reader{json, "value"};
                reader.readField(*node, kind, field);
                if (!reader.problems().empty())
                    wrong = reader.problems().front().text;
            });
        },
        copy.kind);
    if (!wrong)
        response = std::move(copy);
    return wrong;
}

namespace {

template <std::size_t... I> std::vector<const scene::Word*> wordsAt(std::index_sequence<I...>)
{
    return {&scene::fieldsOf<std::variant_alternative_t<I, scene::ResponseKind>>.word...};
}

template <std::size_t... I> std::optional<scene::Response> responseAt(std::string_view word, std::index_sequence<I...>)
{
    std::optional<scene::Response> result;
    const auto tryOne = [&]<class R>() {
        if (scene::fieldsOf<R>.word.key == word)
            result = scene::Response{R{}, {}};
    };
    (tryOne.template operator()<std::variant_alternative_t<I, scene::ResponseKind>>(), ...);
    return result;
}

constexpr auto allResponses = std::make_index_sequence<std::variant_size_v<scene::ResponseKind>>{};

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
