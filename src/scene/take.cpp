// SPDX-License-Identifier: Apache-2.0
#include "scene/take.h"

#include "scene/one_of_members.h"

namespace snare::scene {

template struct OneOf<AnyInput>;

} // namespace snare::scene
