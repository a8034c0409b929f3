// SPDX-License-Identifier: Apache-2.0
#include "scene/response.h"

#include "scene/one_of_members.h"

namespace snare::scene {

template struct OneOf<std::variant<std::string, Look, Formula>>;
template struct OneOf<AnyResponse>;

} // namespace snare::scene
