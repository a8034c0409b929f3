// SPDX-License-Identifier: Apache-2.0
/// Tracing: the outline of a set of pixels, with its holes, and its convex parts.
///
/// The outline runs along pixel edges and is then drawn straighter: nowhere does it move by more
/// than half a pixel.
#pragma once

#include "geometry/hull.h"

#include <cstdint>
#include <vector>

namespace snare::geometry {

/// Which pixels of a picture belong to an area; the first row is the upper one.
struct Mask {
    int width = 0;
    int height = 0;
    std::vector<std::uint8_t> inside; ///< width * height, not 0: belongs to it

    bool at(int x, int y) const
    {
        return x >= 0 && y >= 0 && x < width && y < height &&
               inside[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] != 0;
    }
};

/// A closed outline: counter-clockwise around what belongs to the area, clockwise around a hole.
using Ring = std::vector<Vec>;

/// The outlines of all areas of the mask and of their holes, in pixels, y upwards, the picture's
/// middle at the origin. Pixels that touch only at a corner are apart. Each point of the outline
/// lies within `slack` pixels of the true one.
std::vector<Ring> ringsOf(const Mask& mask, double slack = 0.5);

/// Convex parts that together cover what the rings enclose, by cutting it into level strips. Takes
/// n log n for n corners that do not cross, more where they do. Rings may cross: what an odd number
/// of rings encloses counts.
std::vector<Hull> partsOfRings(std::span<const Ring> rings);

/// The area that the rings enclose, holes taken off.
double areaOf(std::span<const Ring> rings);

} // namespace snare::geometry
