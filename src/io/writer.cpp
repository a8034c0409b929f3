// SPDX-License-Identifier: Apache-2.0
#include "io/writer.h"

#include <fmt/format.h>

namespace snare::io {

namespace {

template <class T, class Member> void writeField(Json& object, const T& value, const scene::Field<T, Member>& field)
{
    static const T standard{};
    if (field.isRequired || !isAsIn(value, standard, field))
        object[std::string(field.key)] = fieldToJson(value, field);
}

template <class T, class Variant>
void writeField(Json& object, const T& value, const scene::KeyedField<T, Variant>& field)
{
    std::visit([&]<class A>(const A& held) { object[std::string(scene::fieldsOf<A>.word.key)] = toJson(held); },
               value.*field.member);
}

template <class T, class Variant>
void writeField(Json& object, const T& value, const scene::StructsField<T, Variant>& field)
{
    std::visit([&](const auto& held) { writeFields(object, held); }, value.*field.member);
}

} // namespace

template <class T> void writeFields(Json& object, const T& value)
{
    scene::forEachField<T>([&](const auto& field) { writeField(object, value, field); });
}

template <class T>
requires scene::hasFields<T> Json toJson(const T& value)
{
    Json object = Json::object();
    writeFields(object, value);
    // A struct with a shorthand is written as that one value when nothing else is set.
    Json shorthand;
    scene::forEachField<T>([&]<class F>(const F& field) {
        if constexpr (requires { field.isShorthand; })
            if (field.isShorthand && object.size() == 1 && object.contains(std::string(field.key)))
                shorthand = object[std::string(field.key)];
    });
    return shorthand.is_null() ? object : shorthand;
}

Json toJson(bool value)
{
    return value;
}

Json toJson(double value)
{
    return value;
}

Json toJson(const std::string& value)
{
    return value;
}

Json toJson(const scene::Vec& value)
{
    return Json::array({value.x, value.y});
}

Json toJson(const scene::Scalar& value)
{
    return std::visit([](const auto& held) { return Json(held); }, value);
}

Json toJson(const scene::Colour& value)
{
    return value.code;
}

Json toJson(const scene::Body& value)
{
    return std::visit(
        []<class B>(const B& body) {
            const std::string kind{scene::fieldsOf<B>.word.key};
            Json object{{"kind", kind}};
            writeFields(object, body);
            return object.size() == 1 ? Json(kind) : object;
        },
        value);
}

Json toJson(const scene::Response& value)
{
    return std::visit(
        [&]<class R>(const R& response) {
            Json object{{"do", std::string(scene::fieldsOf<R>.word.key)}};
            writeFields(object, response);
            if (!value.onlyIf.empty())
                object["if"] = toJson(value.onlyIf);
            return object;
        },
        value.kind);
}

Json toJson(const scene::Target& value)
{
    return value.names.size() == 1 ? Json(value.names.front()) : Json(value.names);
}

Json toJson(const scene::Formula& value)
{
    using Kind = scene::Formula::Kind;
    const std::string word{scene::wordOf(value.kind)};
    switch (value.kind) {
    case Kind::literal:
        return std::visit([](const auto& held) { return toJson(held); }, value.literal);
    case Kind::between:
    case Kind::oneOf:
    case Kind::sum:
        return Json{{word, toJson(value.parts)}};
    case Kind::count:
        return Json{{word, toJson(scene::Target{value.names})}};
    case Kind::somewhere: {
        Json object{{word, value.text}};
        if (value.clear)
            object["clear"] = true;
        return object;
    }
    default:
        return Json{{word, value.text}};
    }
}

Json toJson(const scene::Coordinates& value)
{
    return Json::array({toJson(value.x), toJson(value.y)});
}

Json toJson(const scene::Offset& value)
{
    return std::visit([](const auto& held) { return toJson(held); }, value.held);
}

Json toJson(const scene::Destination& value)
{
    Json json = std::visit([](const auto& held) { return toJson(held); }, value.held);
    if (value.z && json.is_array())
        json.push_back(*value.z);
    return json;
}

Json toJson(const scene::Frames& value)
{
    return std::visit([](const auto& held) { return toJson(held); }, value.held);
}

Json toJson(scene::Inside value)
{
    return value == scene::Inside::nearest ? Json("nearest") : Json(value == scene::Inside::any);
}

Json toJson(const scene::Routine& value)
{
    if (value.with.empty())
        return toJson(value.responses);
    Json object = Json::object();
    writeFields(object, value);
    return object;
}

Json toJson(const scene::PlaceOrTime& value)
{
    return value.time ? Json(*value.time) : Json(value.place);
}

Json toJson(const scene::Span& value)
{
    return Json::array({value.from, value.to});
}

Json toJson(const scene::Times& value)
{
    if (value.min && value.min == value.max)
        return *value.min;
    Json object = Json::object();
    writeFields(object, value);
    return object;
}

Json toJson(const scene::Expectation& value)
{
    Json object = Json::object();
    writeFields(object, value.line);
    scene::forEachField<scene::Expectation>([&](const auto& field) {
        if (field.key == "is" && value.kind() == scene::Expectation::Kind::value) // said even if it is usual
            object["is"] = toJson(value.is);
        else
            writeField(object, value, field);
    });
    return object;
}

Json toJson(const scene::Steer& value)
{
    return std::visit([](const auto& held) { return toJson(held); }, value.held);
}

Json toJson(const scene::LookChoice& value)
{
    Json json = std::visit([](const auto& held) { return toJson(held); }, value.held);
    if (value.colour && json.is_object())
        json["colour"] = toJson(*value.colour);
    return json;
}

Json toJson(const scene::ContactRule& value)
{
    return Json::array({value.first, value.second, std::string(scene::wordOf(value.contact))});
}

Json toJson(const scene::Template& value)
{
    Json object = Json::object();
    writeFields(object, value.model);
    object.erase("id");
    return object;
}

namespace {

/// The fields of `value` that are not as in `model`, defaults too.
template <class T, class Member>
void writeDifference(Json& object, const T& value, const T& model, const scene::Field<T, Member>& field)
{
    if (!isAsIn(value, model, field))
        object[std::string(field.key)] = fieldToJson(value, field);
}

template <class T, class Variant>
void writeDifference(Json& object, const T& value, const T& model, const scene::KeyedField<T, Variant>& field)
{
    if (!(value.*field.member == model.*field.member))
        writeField(object, value, field);
}

template <class T>
void writeDifference(Json& object, const scene::Named<T>& value, const scene::Named<T>& model, const char* key)
{
    scene::Named<T> own;
    for (const auto& [name, entry] : value.entries)
        if (const T* was = model.find(name); !was || !(*was == entry))
            own.set(name, entry);
    if (!own.empty())
        object[key] = toJson(own);
}

} // namespace

Json toJson(const scene::Piece& value, const scene::Piece& model)
{
    Json object = Json::object();
    scene::forEachField<scene::Piece>([&](const auto& field) {
        if (field.key == "id" || field.key == "template") {
            writeField(object, value, field);
        } else if (field.key == "shapes") {
            Json shapes = Json::array();
            for (std::size_t i = 0; i < value.shapes.size(); ++i) {
                if (i >= model.shapes.size()) {
                    shapes.push_back(toJson(value.shapes[i]));
                } else if (!(value.shapes[i] == model.shapes[i])) {
                    Json shape{{"id", scene::shapeName(value, i)}};
                    scene::forEachField<scene::Shape>(
                        [&](const auto& one) { writeDifference(shape, value.shapes[i], model.shapes[i], one); });
                    shapes.push_back(std::move(shape));
                }
            }
            if (!shapes.empty())
                object["shapes"] = std::move(shapes);
        } else if (field.key == "properties") {
            writeDifference(object, value.properties, model.properties, "properties");
        } else if (field.key == "looks") {
            writeDifference(object, value.looks, model.looks, "looks");
        } else {
            writeDifference(object, value, model, field);
        }
    });
    return object;
}

namespace {

constexpr std::size_t lineLength = 150;

std::string scalarText(const Json& value)
{
    if (value.is_number_float()) {
        const double number = value.get<double>();
        return fmt::format("{}", number == 0 ? 0.0 : number);
    }
    return value.dump(-1, ' ', false, Json::error_handler_t::replace);
}

void writeCompact(const Json& value, std::string& out)
{
    if (!value.is_structured()) {
        out += scalarText(value);
        return;
    }
    const bool object = value.is_object();
    out += object ? "{" : "[";
    bool first = true;
    for (const auto& [key, item] : value.items()) {
        if (!first)
            out += ", ";
        first = false;
        if (object)
            out += Json(key).dump() + ": ";
        writeCompact(item, out);
    }
    out += object ? "}" : "]";
}

bool holdsObjects(const Json& value)
{
    return value.is_array() && !value.empty() && value.front().is_object();
}

/// `depth` is the nesting; the document itself and its lists of things are always broken into
/// lines.
void write(const Json& value, std::size_t depth, std::size_t used, std::string& out)
{
    const bool alwaysBroken = depth == 0 || (depth == 1 && holdsObjects(value));
    std::string line;
    writeCompact(value, line);
    if (!value.is_structured() || value.empty() || (!alwaysBroken && used + line.size() <= lineLength)) {
        out += line;
        return;
    }
    const bool object = value.is_object();
    const std::string indent(2 * (depth + 1), ' ');
    out += object ? "{\n" : "[\n";
    std::size_t left = value.size();
    for (const auto& [key, item] : value.items()) {
        const std::string start = object ? Json(key).dump() + ": " : std::string();
        out += indent + start;
        write(item, depth + 1, indent.size() + start.size() + 1, out);
        out += --left ? ",\n" : "\n";
    }
    out += std::string(2 * depth, ' ') + (object ? "}" : "]");
}

} // namespace

std::string layOut(const Json& document)
{
    std::string out;
    write(document, 0, 0, out);
    return out + "\n";
}

std::string compact(const Json& value)
{
    std::string out;
    writeCompact(value, out);
    return out;
}

// What other files call.
template void writeFields(Json&, const scene::Scene&);
template void writeFields(Json&, const scene::Kit&);
template void writeFields(Json&, const scene::Take&);
template Json toJson(const scene::Piece&);
template Json toJson(const scene::Laid&);
template Json toJson(const scene::Source&);

} // namespace snare::io
