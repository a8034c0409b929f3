// SPDX-License-Identifier: Apache-2.0
#include "scene/templates.h"

#include "scene/kits.h"

#include <fmt/format.h>

namespace snare::scene {

namespace {

/// Fields that are never inherited.
constexpr bool isPlain(std::string_view key)
{
    return key != "id" && key != "template" && key != "at" && key != "shapes" && key != "properties" && key != "looks";
}

/// Calls `visit(member pointer, key)` for the fields that follow the template as a whole.
template <class Visit> void forEachPlain(Visit&& visit)
{
    forEachField<Piece>([&](const auto& field) {
        if (isPlain(field.key))
            visit(field.member, field.key);
    });
}

/// Takes over what is as in `old` from `next`.
template <class T> void follow(T& value, const T& old, const T& next)
{
    if (value == old)
        value = next;
}

void followShape(Shape& shape, const Shape& old, const Shape& next)
{
    forEachField<Shape>([&](const auto& field) { follow(shape.*field.member, old.*field.member, next.*field.member); });
}

template <class T> void followNamed(Named<T>& value, const Named<T>& old, const Named<T>& next)
{
    for (const auto& was : old.entries)
        if (const T* mine = value.find(was.first); mine && *mine == was.second && !next.find(was.first))
            std::erase_if(value.entries, [&](const auto& entry) { return entry.first == was.first; });
    for (const auto& [name, is] : next.entries) {
        const T* mine = value.find(name);
        const T* was = old.find(name);
        if (!mine || (was && *mine == *was))
            value.set(name, is);
    }
}

void followModel(Piece& piece, const Piece& old, const Piece& next)
{
    forEachPlain([&](auto member, std::string_view) { follow(piece.*member, old.*member, next.*member); });
    followNamed(piece.properties, old.properties, next.properties);
    followNamed(piece.looks, old.looks, next.looks);
    // Shapes are told apart by name. Those of the new model come first, with what the piece has of
    // its own in them. A shape of the piece's own that the new model names too stays as it is, in
    // the model's place.
    std::vector<Shape> shapes;
    for (std::size_t i = 0; i < next.shapes.size(); ++i) {
        const std::string name = shapeName(next, i);
        const auto was = findShape(old, name);
        const auto mine = findShape(piece, name);
        if (!was || !mine) {
            const bool own = mine && *mine >= old.shapes.size() && !next.shapes[i].id.empty();
            shapes.push_back(own ? piece.shapes[*mine] : next.shapes[i]);
            continue;
        }
        Shape shape = piece.shapes[*mine];
        followShape(shape, old.shapes[*was], next.shapes[i]);
        shapes.push_back(std::move(shape));
    }
    for (std::size_t i = 0; i < piece.shapes.size(); ++i)
        if (i >= old.shapes.size() && (piece.shapes[i].id.empty() || !findShape(next, piece.shapes[i].id)))
            shapes.push_back(piece.shapes[i]);
    piece.shapes = std::move(shapes);
}

} // namespace

const Template* templateOf(const Scene& scene, const Piece& piece)
{
    return piece.templateName.empty() ? nullptr : findTemplate(scene, piece.templateName);
}

bool follows(const Piece& piece, const Piece& model)
{
    if (piece.shapes.size() < model.shapes.size())
        return false;
    for (std::size_t i = 0; i < model.shapes.size(); ++i)
        if (piece.shapes[i].id != model.shapes[i].id)
            return false;
    const auto has = [](const auto& mine, const auto& theirs) {
        return std::ranges::all_of(theirs.entries, [&](const auto& entry) { return mine.find(entry.first); });
    };
    return has(piece.properties, model.properties) && has(piece.looks, model.looks);
}

std::vector<std::string> ownFields(const Piece& piece, const Piece& model)
{
    std::vector<std::string> own;
    forEachField<Piece>([&](const auto& field) {
        if (isPlain(field.key) && !(piece.*field.member == model.*field.member))
            own.emplace_back(field.key);
    });
    for (std::size_t i = 0; i < piece.shapes.size(); ++i)
        if (i >= model.shapes.size() || !(piece.shapes[i] == model.shapes[i]))
            own.push_back(fmt::format("shape {}", shapeName(piece, i)));
    const auto named = [&](std::string_view word, const auto& mine, const auto& theirs) {
        for (const auto& [name, value] : mine.entries)
            if (const auto* was = theirs.find(name); !was || !(*was == value))
                own.push_back(fmt::format("{} {}", word, name));
    };
    named("look", piece.looks, model.looks);
    named("value", piece.properties, model.properties);
    return own;
}

void resetOwn(Piece& piece, const Piece& model, std::string_view own)
{
    forEachPlain([&](auto member, std::string_view key) {
        if (key == own)
            piece.*member = model.*member;
    });
    const auto rest = [&](std::string_view word) {
        return own.starts_with(word) ? own.substr(word.size()) : std::string_view();
    };
    if (const auto name = rest("shape "); !name.empty())
        if (const auto index = findShape(piece, name)) {
            if (*index < model.shapes.size())
                piece.shapes[*index] = model.shapes[*index];
            else
                piece.shapes.erase(piece.shapes.begin() + static_cast<std::ptrdiff_t>(*index));
        }
    const auto named = [&](auto& mine, const auto& theirs, std::string_view name) {
        if (const auto* was = theirs.find(name))
            mine.set(name, *was);
        else
            std::erase_if(mine.entries, [&](const auto& entry) { return entry.first == name; });
    };
    if (const auto name = rest("look "); !name.empty())
        named(piece.looks, model.looks, name);
    if (const auto name = rest("value "); !name.empty())
        named(piece.properties, model.properties, name);
}

Piece stamped(const Scene& scene, std::string_view templateName)
{
    Piece piece;
    if (const Template* found = findTemplate(scene, templateName))
        piece = found->model;
    piece.templateName = templateName;
    return piece;
}

Piece modelFrom(const Piece& piece)
{
    Piece model = piece;
    model.id.clear();
    model.templateName.clear();
    model.partOf.reset();
    model.at = {0, 0};
    model.z = 0;
    return model;
}

std::string makeTemplate(Scene& scene, std::string_view id)
{
    Piece* piece = findPiece(scene, id);
    if (!piece || piece->partOf) // a part has its model in its assembly
        return {};
    std::string name{id};
    while (!name.empty() && (std::isdigit(static_cast<unsigned char>(name.back())) || name.back() == '-'))
        name.pop_back(); // ring-1 gives ring
    if (name.empty())
        name = "form";
    const std::string stem = name;
    for (int n = 2; findTemplate(scene, name) || findAssembly(scene, name); ++n)
        name = fmt::format("{}-{}", stem, n);
    scene.templates.set(name, Template{modelFrom(*piece)});
    piece->templateName = name;
    return name;
}

void changeTemplate(Scene& scene, std::string_view templateName, const Piece& model)
{
    const auto home = homeOf(scene, Thing::form, templateName);
    Template* found = home ? templateToChange(scene, *home, templateName) : nullptr;
    if (!found)
        return;
    const Piece next = modelFrom(model);
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (const Piece& piece = std::as_const(scene.pieces)[i];
            piece.templateName == templateName && follows(piece, found->model))
            followModel(scene.pieces[i], found->model, next);
    found->model = next;
}

void join(Scene& scene, std::string_view id, std::string_view templateName)
{
    Piece* piece = findPiece(scene, id);
    const Template* form = findTemplate(scene, templateName);
    if (!piece || !form || piece->partOf)
        return;
    // Shapes of a name, or else of a place, that the template has are its own version of those; the
    // others stay behind.
    const Piece& model = form->model;
    std::vector<Shape> shapes;
    std::vector<bool> used(piece->shapes.size());
    for (std::size_t i = 0; i < model.shapes.size(); ++i) {
        const auto mine =
            model.shapes[i].id.empty() ? std::optional<std::size_t>() : findShape(*piece, model.shapes[i].id);
        const std::size_t from = mine.value_or(i);
        const bool fits = from < piece->shapes.size() && !used[from] && (mine || piece->shapes[from].id.empty());
        shapes.push_back(fits ? piece->shapes[from] : model.shapes[i]);
        shapes.back().id = model.shapes[i].id;
        if (fits)
            used[from] = true;
    }
    for (std::size_t i = 0; i < piece->shapes.size(); ++i)
        if (!used[i])
            shapes.push_back(piece->shapes[i]);
    piece->shapes = std::move(shapes);
    const auto inherit = [](auto& mine, const auto& theirs) {
        for (const auto& [name, value] : theirs.entries)
            if (!mine.find(name))
                mine.set(name, value);
    };
    inherit(piece->properties, model.properties);
    inherit(piece->looks, model.looks);
    piece->templateName = templateName;
}

std::vector<std::string> followersOf(const Scene& scene, std::string_view templateName)
{
    std::vector<std::string> result;
    for (const Piece& piece : scene.pieces)
        if (piece.templateName == templateName)
            result.push_back(piece.id);
    return result;
}

} // namespace snare::scene
