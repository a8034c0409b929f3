// SPDX-License-Identifier: Apache-2.0
#include "world/outline.h"

#include "geometry/gap.h"

namespace snare::world {

using geometry::Bounds;
using geometry::Hull;
using geometry::Pose;
using geometry::Vec;

namespace {

Hull inPiece(const Hull& hull, const scene::Shape& shape)
{
    return geometry::placed(hull, {shape.at, shape.turn});
}

std::vector<Hull> inPiece(std::vector<Hull> hulls, const scene::Shape& shape)
{
    for (Hull& hull : hulls)
        hull = inPiece(hull, shape);
    return hulls;
}

double roundingOf(const scene::Geometry& geometry)
{
    if (const auto* circle = std::get_if<scene::Circle>(&geometry))
        return circle->radius;
    const auto* capsule = std::get_if<scene::Capsule>(&geometry);
    return capsule ? capsule->radius : 0;
}

} // namespace

std::vector<Hull> partsOf(const scene::Shape& shape)
{
    struct Make {
        const scene::Shape& shape;
        std::vector<Hull> operator()(const scene::Circle& circle) const
        {
            return {geometry::discHull(shape.at, circle.radius)};
        }
        std::vector<Hull> operator()(const scene::Box& box) const
        {
            return {geometry::boxHull(box.size, {shape.at, shape.turn})};
        }
        std::vector<Hull> operator()(const scene::Capsule& capsule) const
        {
            return {inPiece(geometry::capsuleHull(capsule.from, capsule.to, capsule.radius), shape)};
        }
        std::vector<Hull> operator()(const scene::Polygon& polygon) const
        {
            if (!geometry::faultOfPolygon(polygon.points))
                return inPiece(geometry::partsOfPolygon(polygon.points), shape);
            return edges(polygon.points, true);
        }
        std::vector<Hull> operator()(const scene::Line& line) const { return edges(line.points, line.closed); }

        std::vector<Hull> edges(const std::vector<Vec>& points, bool closed) const
        {
            auto hulls = geometry::partsOfLine(points, closed && points.size() > 1);
            if (hulls.empty())
                hulls.push_back(geometry::discHull(points.empty() ? Vec{0, 0} : points.front(), 0));
            return inPiece(std::move(hulls), shape);
        }
    };
    return std::visit(Make{shape}, shape.geometry);
}

std::vector<Vec> cornersOf(const scene::Shape& shape)
{
    if (const auto* points = scene::pointsOf(shape.geometry)) {
        const geometry::Rotation turn = geometry::rotationOf(shape.turn);
        std::vector<Vec> corners;
        for (const Vec& point : *points)
            corners.push_back(shape.at + turn.apply(point));
        return corners;
    }
    const Hull hull = partsOf(shape).front();
    return {hull.corners().begin(), hull.corners().end()};
}

Bounds boundsOf(const scene::Shape& shape, const Pose& pose)
{
    Bounds bounds;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        bounds.include(geometry::toScene(pose, shape.at));
        bounds.grow(circle->radius);
        return bounds;
    }
    if (const auto* box = std::get_if<scene::Box>(&shape.geometry))
        return geometry::boundsOf(geometry::placed(geometry::boxHull(box->size, {shape.at, shape.turn}), pose));
    for (const Vec& corner : cornersOf(shape))
        bounds.include(geometry::toScene(pose, corner));
    bounds.grow(roundingOf(shape.geometry));
    return bounds;
}

bool reaches(const scene::Shape& shape, const Pose& pose, const Vec& point, double slack)
{
    Bounds near = boundsOf(shape, pose);
    near.grow(slack);
    if (!near.contains(point))
        return false;
    // A polygon is not cut up for this: it is asked for every move of the pointer.
    std::vector<Hull> outline;
    if (const auto* polygon = std::get_if<scene::Polygon>(&shape.geometry)) {
        const Vec local = geometry::toLocal({shape.at, shape.turn}, geometry::toLocal(pose, point));
        if (geometry::encloses(polygon->points, local))
            return true;
        outline = inPiece(geometry::partsOfLine(polygon->points, polygon->points.size() > 1), shape);
    } else {
        outline = partsOf(shape);
    }
    const Hull spot = geometry::discHull(point, slack);
    return !outline.empty() && geometry::gapBetween(outline, pose, {&spot, 1}, {}).distance <= 0;
}

} // namespace snare::world
