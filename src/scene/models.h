// SPDX-License-Identifier: Apache-2.0
/// Pieces and what pieces are made from, under one kind of name: a piece by its id, the model of a
/// template as `template:NAME`, a part of an assembly as `part:ASSEMBLY.PART`.
#pragma once

#include "scene/scene.h"

#include <functional>

namespace snare::scene {

struct ModelName {
    enum class Kind { piece, form, part } kind = Kind::piece;
    std::string owner; ///< the template or the assembly
    std::string part;  ///< or the piece
};

ModelName modelNamed(const std::string& name);

/// The piece or model of that name, or null.
const Piece* modelOrPiece(const Scene& scene, const std::string& name);

/// Changes it; what follows a model changes with it. Nothing if it is not there.
void changeModelOrPiece(Scene& scene, const std::string& name, const std::function<void(Piece&)>& change);

} // namespace snare::scene
