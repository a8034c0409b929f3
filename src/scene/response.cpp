// SPDX-License-Identifier: Apache-2.0
#include "scene/response.h"

namespace snare::scene {

LookChoice::LookChoice(const LookChoice& other) = default;
LookChoice::LookChoice(LookChoice&& other) noexcept = default;
LookChoice& LookChoice::operator=(const LookChoice& other) = default;
LookChoice& LookChoice::operator=(LookChoice&& other) noexcept = default;
LookChoice::~LookChoice() = default;
bool LookChoice::operator==(const LookChoice& other) const = default;

ResponseKind::ResponseKind(const ResponseKind& other) = default;
ResponseKind::ResponseKind(ResponseKind&& other) noexcept = default;
ResponseKind& ResponseKind::operator=(const ResponseKind& other) = default;
ResponseKind& ResponseKind::operator=(ResponseKind&& other) noexcept = default;
ResponseKind::~ResponseKind() = default;
bool ResponseKind::operator==(const ResponseKind& other) const
{
    return static_cast<const AnyResponse&>(*this) == static_cast<const AnyResponse&>(other);
}

} // namespace snare::scene
