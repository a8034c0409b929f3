// SPDX-License-Identifier: Apache-2.0
#include "scene/piece.h"

#include "scene/one_of_members.h"

namespace snare::scene {

template struct OneOf<AnyGeometry>;
template struct OneOf<AnyBody>;

} // namespace snare::scene
