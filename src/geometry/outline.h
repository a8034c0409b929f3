// SPDX-License-Identifier: Apache-2.0
/// Outlines made of straight edges: what is wrong with one, and how it is cut into convex parts.
///
/// Detection knows convex hulls only. A concave polygon or a line is cut up once, when a run is set
/// up, and its parts count as one shape (M13).
#pragma once

#include "geometry/hull.h"

#include <optional>
#include <string>
#include <vector>

namespace snare::geometry {

/// More corners than this are refused: what is done with them takes the square of their number.
inline constexpr std::size_t mostCorners = 5000;

/// What is wrong with the corners of a polygon, or nothing: fewer than three, too many, one
/// doubled, edges that cross or touch, no area. Takes the square of the number of corners.
std::optional<std::string> faultOfPolygon(std::span<const Vec> points);

/// What is wrong with the corners of a line, or nothing: fewer than two (three if closed), one
/// doubled.
std::optional<std::string> faultOfLine(std::span<const Vec> points, bool closed);

/// Whether a point lies inside a polygon without fault; on its edges either answer may come. Takes
/// the number of corners.
bool encloses(std::span<const Vec> points, const Vec& point);

/// Twice the signed area: positive when the corners go counter-clockwise.
double doubledArea(std::span<const Vec> points);

/// Convex parts that together cover a polygon without fault, each with at most `maxHullPoints`
/// corners, by cutting off ears and joining them again where they stay convex. Takes the square of
/// the number of corners.
std::vector<Hull> partsOfPolygon(std::span<const Vec> points);

/// The edges of a line, each a hull of two corners without thickness.
std::vector<Hull> partsOfLine(std::span<const Vec> points, bool closed);

/// A bar of `radius` around the segment.
Hull capsuleHull(const Vec& from, const Vec& to, double radius);

} // namespace snare::geometry
