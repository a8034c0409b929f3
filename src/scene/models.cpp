// SPDX-License-Identifier: Apache-2.0
#include "scene/models.h"

#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/templates.h"

namespace snare::scene {

ModelName modelNamed(const std::string& name)
{
    constexpr std::string_view form = "template:";
    constexpr std::string_view part = "part:";
    if (name.starts_with(form))
        return {ModelName::Kind::form, name.substr(form.size()), {}};
    const auto dot = name.find('.');
    if (name.starts_with(part) && dot != std::string::npos)
        return {ModelName::Kind::part, name.substr(part.size(), dot - part.size()), name.substr(dot + 1)};
    return {ModelName::Kind::piece, {}, name};
}

const Piece* modelOrPiece(const Scene& scene, const std::string& name)
{
    const ModelName of = modelNamed(name);
    if (of.kind == ModelName::Kind::piece)
        return findPiece(scene, name);
    if (of.kind == ModelName::Kind::form) {
        const Template* form = findTemplate(scene, of.owner);
        return form ? &form->model : nullptr;
    }
    const Assembly* assembly = findAssembly(scene, of.owner);
    if (!assembly)
        return nullptr;
    const auto found = std::ranges::find(assembly->pieces, of.part, &Piece::id);
    return found == assembly->pieces.end() ? nullptr : &*found;
}

void changeModelOrPiece(Scene& scene, const std::string& name, const std::function<void(Piece&)>& change)
{
    const ModelName of = modelNamed(name);
    if (of.kind == ModelName::Kind::piece) {
        if (Piece* piece = findPiece(scene, name))
            change(*piece);
        return;
    }
    const Piece* found = modelOrPiece(scene, name);
    if (!found)
        return;
    Piece model = *found;
    change(model);
    if (of.kind == ModelName::Kind::form)
        return changeTemplate(scene, of.owner, model);
    Assembly next = *findAssembly(scene, of.owner);
    model.id = of.part;
    *std::ranges::find(next.pieces, of.part, &Piece::id) = std::move(model);
    changeAssembly(scene, of.owner, std::move(next));
}

} // namespace snare::scene
