// SPDX-License-Identifier: Apache-2.0
/// Looks for the scenes of tests.
#pragma once

#include "scene/response.h"

namespace snare::tests {

/// The choice of a look by its name, or of one that is written out.
inline scene::LookChoice choose(std::variant<std::string, scene::Look> look)
{
    scene::LookChoice choice;
    std::visit([&](auto& held) { choice.held = std::move(held); }, look);
    return choice;
}

} // namespace snare::tests
