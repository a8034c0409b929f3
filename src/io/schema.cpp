// SPDX-License-Identifier: Apache-2.0
#include "io/schema.h"

#include "io/writer.h"

#include <cmath>

namespace snare::io {

namespace {

using namespace scene;

/// Makes the schema of a member by its type. One overload a type; structs come from their tables.
template <class T> struct Of;

template <class T> Json schemaOf()
{
    return Of<T>::make();
}

Json typed(const char* type)
{
    return Json{{"type", type}};
}

template <> struct Of<bool> {
    static Json make() { return typed("boolean"); }
};
template <> struct Of<double> {
    static Json make() { return typed("number"); }
};
template <> struct Of<int> {
    static Json make() { return typed("integer"); }
};
template <> struct Of<std::uint32_t> {
    static Json make() { return Json{{"type", "integer"}, {"minimum", 0}, {"maximum", 4294967295U}}; }
};
template <> struct Of<std::string> {
    static Json make() { return typed("string"); }
};
template <> struct Of<Vec> {
    static Json make() { return Json{{"type", "array"}, {"items", typed("number")}, {"minItems", 2}, {"maxItems", 2}}; }
};
template <> struct Of<std::array<double, 2>> {
    static Json make() { return schemaOf<Vec>(); }
};
template <> struct Of<std::array<double, 4>> {
    static Json make() { return Json{{"type", "array"}, {"items", typed("number")}, {"minItems", 4}, {"maxItems", 4}}; }
};
template <> struct Of<Scalar> {
    static Json make() { return Json{{"type", {"number", "boolean", "string"}}}; }
};
template <> struct Of<Colour> {
    static Json make() { return Json{{"type", "string"}, {"pattern", "^(#[0-9A-Fa-f]{6})?$"}}; }
};
template <> struct Of<Target> {
    static Json make()
    {
        return Json{{"anyOf", {typed("string"), Json{{"type", "array"}, {"items", typed("string")}}}}};
    }
};
template <class T> struct Of<std::vector<T>> {
    static Json make() { return Json{{"type", "array"}, {"items", schemaOf<T>()}}; }
};
template <class T> struct Of<scene::SharedList<T>> : Of<std::vector<T>> {
};
/// Pieces, and laid assemblies among them.
template <> struct Of<scene::SharedList<scene::Piece>> {
    static Json make();
};
template <class T> struct Of<std::optional<T>> {
    static Json make() { return schemaOf<T>(); }
};
template <class T> struct Of<Named<T>> {
    static Json make() { return Json{{"type", "object"}, {"additionalProperties", schemaOf<T>()}}; }
};
template <class T> struct Of<OneOrMore<T>> {
    static Json make()
    {
        return Json{{"anyOf", {schemaOf<T>(), Json{{"type", "array"}, {"items", schemaOf<T>()}, {"minItems", 1}}}}};
    }
};
Json reference(const char* name)
{
    return Json{{"$ref", std::string("#/definitions/") + name}};
}
template <> struct Of<Formula> {
    static Json make() { return reference("formula"); }
};
template <class T> struct Of<Value<T>> {
    static Json make() { return Json{{"anyOf", Json::array({schemaOf<T>(), schemaOf<Formula>()})}}; }
};
/// Numbers, some of them worked out.
Json coordinates(int most)
{
    return Json{{"type", "array"}, {"items", schemaOf<Value<double>>()}, {"minItems", 2}, {"maxItems", most}};
}
template <> struct Of<Offset> {
    static Json make() { return Json{{"anyOf", Json::array({coordinates(2), schemaOf<Formula>()})}}; }
};
template <> struct Of<Destination> {
    static Json make() { return Json{{"anyOf", Json::array({coordinates(3), typed("string"), schemaOf<Formula>()})}}; }
};
template <> struct Of<Frames> {
    static Json make()
    {
        return Json{{"anyOf",
                     {Json{{"type", "integer"}, {"minimum", 1}, {"maximum", 1000}},
                      Json{{"type", "array"}, {"items", typed("string")}, {"minItems", 1}}}}};
    }
};
template <> struct Of<Inside> {
    static Json make() { return Json{{"enum", Json::array({true, false, "nearest"})}}; }
};
template <> struct Of<scene::PlaceOrTime> {
    static Json make()
    {
        return Json{{"anyOf", {typed("string"), Json{{"type", "number"}, {"minimum", 0}}}}};
    }
};
template <> struct Of<scene::Span> {
    static Json make() { return schemaOf<Vec>(); }
};
template <> struct Of<scene::Times> {
    static Json make();
};
template <> struct Of<scene::Expectation> {
    static Json make();
};
template <> struct Of<Steer> {
    static Json make() { return Json{{"anyOf", {schemaOf<SteerSet>(), schemaOf<KeyLists>()}}}; }
};
template <> struct Of<LookChoice> {
    static Json make()
    {
        Json look = schemaOf<Look>();
        look["properties"]["colour"] = schemaOf<Value<Colour>>();
        return Json{{"anyOf", {schemaOf<std::string>(), look, schemaOf<Formula>()}}};
    }
};
template <> struct Of<ContactRule> {
    static Json make()
    {
        return Json{{"type", "array"},
                    {"items", Json::array({typed("string"), typed("string"), schemaOf<Contact>()})},
                    {"minItems", 3},
                    {"maxItems", 3}};
    }
};

template <class E>
requires hasWords<E>
struct Of<E> {
    static Json make()
    {
        Json words = Json::array();
        for (const auto& entry : wordsOf<E>)
            words.push_back(std::string(entry.word));
        return Json{{"enum", words}};
    }
};

void addRange(Json& schema, const Range& range)
{
    if (!range.bounded())
        return;
    if (schema.contains("anyOf")) {
        addRange(schema["anyOf"].front(), range);
        return;
    }
    if (schema.contains("items") && schema["items"].is_object()) {
        addRange(schema["items"], range);
        return;
    }
    if (std::isfinite(range.low))
        schema[range.openLow ? "exclusiveMinimum" : "minimum"] = range.low;
    if (std::isfinite(range.high))
        schema["maximum"] = range.high;
}

template <class Owner, class Member>
void addField(Json& properties, Json& required, Json&, const Field<Owner, Member>& field)
{
    Json schema = schemaOf<Member>();
    addRange(schema, field.range);
    if (field.height)
        (schema.contains("anyOf") ? schema["anyOf"].front() : schema)["maxItems"] = 3;
    std::string about{field.about};
    if (field.unit != Unit::none)
        about += " (" + std::string(symbolOf(field.unit)) + ")";
    schema["description"] = about;
    properties[std::string(field.key)] = schema;
    if (field.isRequired)
        required.push_back(std::string(field.key));
}

template <class... Alternatives> void addKeys(Json& properties, Json& oneOf, const std::variant<Alternatives...>*)
{
    const auto add = [&]<class A>() {
        const std::string key{fieldsOf<A>.word.key};
        properties[key] = schemaOf<A>();
        oneOf.push_back(Json{{"required", Json::array({key})}});
    };
    (add.template operator()<Alternatives>(), ...);
}

template <class Owner, class Member>
void addField(Json& properties, Json&, Json& oneOf, const KeyedField<Owner, Member>&)
{
    addKeys(properties, oneOf, static_cast<const Member*>(nullptr));
}

/// Its alternatives are written out by `Of<T>`.
template <class Owner, class Member>
void addField(Json& /*properties*/, Json& /*required*/, Json& /*oneOf*/, const StructsField<Owner, Member>&)
{
}

/// The object schema of a struct; `tag` and its word come first for the alternatives of a variant.
template <class T> Json objectOf(std::string_view tag = {})
{
    Json properties = Json::object();
    Json required = Json::array();
    Json oneOf = Json::array();
    if (!tag.empty()) {
        properties[std::string(tag)] = Json{{"const", std::string(fieldsOf<T>.word.key)}};
        required.push_back(std::string(tag));
    }
    forEachField<T>([&](const auto& field) { addField(properties, required, oneOf, field); });
    Json schema{{"type", "object"}, {"description", std::string(fieldsOf<T>.word.about)}, {"properties", properties}};
    if (!required.empty())
        schema["required"] = required;
    if (!oneOf.empty())
        schema["oneOf"] = oneOf;
    schema["additionalProperties"] = false;
    return schema;
}

/// The schemas of a struct that has a `oneOfStructs`, one for each alternative; empty for others.
template <class T> Json alternativesOf()
{
    Json all = Json::array();
    const auto add = [&]<class Variant>(const StructsField<T, Variant>&) {
        forEachOf(static_cast<const Variant*>(nullptr), [&]<class A>() {
            Json one = objectOf<T>();
            const Json own = objectOf<A>();
            one["properties"].update(own["properties"]);
            for (const Json& key : own["required"])
                one["required"].push_back(key);
            one["description"] = own["description"];
            all.push_back(std::move(one));
        });
    };
    forEachField<T>([&](const auto& field) {
        if constexpr (requires { add(field); })
            add(field);
    });
    return all;
}

template <class T>
requires hasFields<T>
struct Of<T> {
    static Json make()
    {
        if (const Json all = alternativesOf<T>(); !all.empty())
            return Json{{"anyOf", all}};
        Json object = objectOf<T>();
        Json shorthand;
        forEachField<T>([&]<class F>(const F& field) {
            if constexpr (requires { field.isShorthand; })
                if (field.isShorthand)
                    shorthand = object["properties"][std::string(field.key)];
        });
        return shorthand.is_null() ? object : Json{{"anyOf", Json::array({shorthand, object})}};
    }
};

Json Of<scene::Times>::make()
{
    return Json{{"anyOf", Json::array({Json{{"type", "integer"}, {"minimum", 0}}, objectOf<scene::Times>()})}};
}

/// What is expected stands beside the fields of the lines that it is about.
Json Of<scene::Expectation>::make()
{
    Json object = objectOf<scene::LineMatch>();
    Json own = objectOf<scene::Expectation>();
    for (auto& [key, schema] : own["properties"].items())
        object["properties"][key] = std::move(schema);
    object["description"] = own["description"];
    return object;
}

Json Of<scene::SharedList<scene::Piece>>::make()
{
    Json laid = schemaOf<scene::Laid>();
    laid["properties"]["parts"] = Json{{"type", "object"},
                                       {"additionalProperties", Json{{"type", "object"}}},
                                       {"description", "what of its parts is their own, by the part's name"}};
    return Json{{"type", "array"}, {"items", Json{{"anyOf", Json::array({schemaOf<Piece>(), laid})}}}};
}

template <> struct Of<Template> {
    static Json make()
    {
        Json object = objectOf<Piece>();
        object.erase("required");
        object["properties"].erase("id");
        object["properties"].erase("template");
        object["description"] = "what pieces are stamped from";
        return object;
    }
};

/// A shape of a template may be given by its name and what is changed.
template <> struct Of<std::vector<Shape>> {
    static Json make()
    {
        Json changed = objectOf<Shape>();
        changed.erase("oneOf");
        changed["required"] = Json::array({"id"});
        changed["description"] = "changes a shape of the piece's template";
        return Json{{"type", "array"}, {"items", {{"anyOf", Json::array({schemaOf<Shape>(), changed})}}}};
    }
};

template <class Variant> struct Tagged;

template <class... Alternatives> struct Tagged<std::variant<Alternatives...>> {
    static Json objects(std::string_view tag) { return Json::array({objectOf<Alternatives>(tag)...}); }
    static Json words() { return Json::array({std::string(fieldsOf<Alternatives>.word.key)...}); }
};

template <> struct Of<Body> {
    static Json make()
    {
        Json any = Json::array({Json{{"enum", Tagged<AnyBody>::words()}}});
        for (const Json& object : Tagged<AnyBody>::objects("kind"))
            any.push_back(object);
        return Json{{"anyOf", any}};
    }
};

template <> struct Of<Response> {
    static Json make() { return reference("response"); }
    static Json whole()
    {
        Json any = Tagged<AnyResponse>::objects("do");
        for (Json& object : any)
            object["properties"]["if"] = Json{{"type", "array"}, {"items", schemaOf<Condition>()}};
        return Json{{"anyOf", any}};
    }
};

template <> struct Of<Routine> {
    static Json make()
    {
        return Json{
            {"anyOf", Json::array({Json{{"type", "array"}, {"items", schemaOf<Response>()}}, objectOf<Routine>()})}};
    }
};

/// How a value is worked out; one word says which.
Json formulaSchema()
{
    Json any = Json::array();
    const Json part{{"anyOf", Json::array({schemaOf<Scalar>(), schemaOf<Vec>(), reference("formula")})}};
    for (const FormulaWord& word : formulaWords) {
        Json value = typed("string");
        if (word.kind == Formula::Kind::between)
            value = Json{{"type", "array"}, {"items", part}, {"minItems", 2}, {"maxItems", 2}};
        else if (word.kind == Formula::Kind::oneOf || word.kind == Formula::Kind::sum)
            value = Json{{"type", "array"}, {"items", part}, {"minItems", 1}};
        else if (word.kind == Formula::Kind::count)
            value = schemaOf<Target>();
        value["description"] = std::string(word.about);
        const std::string key{word.word};
        Json properties{{key, value}};
        if (word.kind == Formula::Kind::somewhere)
            properties["clear"] = schemaOf<bool>();
        any.push_back(Json{{"type", "object"},
                           {"properties", properties},
                           {"required", Json::array({key})},
                           {"additionalProperties", false}});
    }
    return Json{{"anyOf", any}};
}

template <class T> std::string documentSchema(const char* title, const char* format)
{
    const Json object = objectOf<T>();
    Json properties{{"format", {{"const", format}}}, {"version", {{"const", 1}}}};
    for (const auto& [key, value] : object["properties"].items())
        properties[key] = value;
    Json required = Json::array({"format", "version"});
    if (object.contains("required"))
        for (const Json& key : object["required"])
            required.push_back(key);
    Json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
                {"title", title},
                {"type", "object"},
                {"properties", properties},
                {"required", required},
                {"additionalProperties", false}};
    if constexpr (!std::is_same_v<T, Take>)
        schema["definitions"] = Json{{"formula", formulaSchema()}, {"response", Of<Response>::whole()}};
    return schema.dump(1) + "\n";
}

} // namespace

std::string sceneSchema()
{
    return documentSchema<Scene>("Fresh Snare scene", "fresh-snare-scene");
}

std::string kitSchema()
{
    return documentSchema<Kit>("Fresh Snare kit", "fresh-snare-kit");
}

std::string takeSchema()
{
    return documentSchema<Take>("Fresh Snare take", "fresh-snare-take");
}

} // namespace snare::io
