// SPDX-License-Identifier: Apache-2.0
#include "scene/piece.h"

namespace snare::scene {

Geometry::Geometry(const Geometry& other) = default;
Geometry::Geometry(Geometry&& other) noexcept = default;
Geometry& Geometry::operator=(const Geometry& other) = default;
Geometry& Geometry::operator=(Geometry&& other) noexcept = default;
Geometry::~Geometry() = default;
bool Geometry::operator==(const Geometry& other) const
{
    return static_cast<const AnyGeometry&>(*this) == static_cast<const AnyGeometry&>(other);
}

Body::Body(const Body& other) = default;
Body::Body(Body&& other) noexcept = default;
Body& Body::operator=(const Body& other) = default;
Body& Body::operator=(Body&& other) noexcept = default;
Body::~Body() = default;
bool Body::operator==(const Body& other) const
{
    return static_cast<const AnyBody&>(*this) == static_cast<const AnyBody&>(other);
}

} // namespace snare::scene
