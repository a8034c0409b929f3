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

std::vector<Vec> hullCorners(const Hull& hull)
{
    return {hull.corners().begin(), hull.corners().end()};
}

double roundingOf(const scene::Geometry& geometry)
{
    if (const auto* circle = std::get_if<scene::Circle>(&geometry))
        return circle->radius;
    const auto* capsule = std::get_if<scene::Capsule>(&geometry);
    return capsule ? capsule->radius : 0;
}

} // namespace

const scene::TracedArea* shownArea(const scene::Traced& traced)
{
    const auto& areas = traced.tracing.areas;
    if (!traced.image.empty() || !areas || areas->empty())
        return traced.tracing.of(traced.image);
    return &areas->front();
}

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
        std::vector<Hull> operator()(const scene::Traced& traced) const
        {
            const scene::TracedArea* area = shownArea(traced);
            return area ? inPiece(area->parts, shape) : std::vector<Hull>{};
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
    if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
        return hullCorners(geometry::boxHull(traced->size, {shape.at, shape.turn}));
    return hullCorners(partsOf(shape).front());
}

namespace {

/// Changes the size of a geometry, across and upwards.
struct Resize {
    Vec scale;

    double least() const { return std::min(scale.x, scale.y); }
    void operator()(scene::Circle& circle) const { circle.radius *= least(); }
    void operator()(scene::Box& box) const { box.size *= scale; }
    void operator()(scene::Capsule& capsule) const
    {
        capsule.from *= scale;
        capsule.to *= scale;
        capsule.radius *= least();
    }
    void operator()(scene::Polygon& polygon) const { all(polygon.points); }
    void operator()(scene::Line& line) const { all(line.points); }
    void operator()(scene::Traced& traced) const
    {
        traced.size *= scale;
        if (!traced.tracing.areas)
            return;
        auto areas = std::make_shared<std::vector<scene::TracedArea>>(*traced.tracing.areas);
        for (scene::TracedArea& area : *areas) {
            for (geometry::Ring& ring : area.rings)
                all(ring);
            for (Hull& part : area.parts)
                for (Vec& point : part.points)
                    point *= scale;
        }
        traced.tracing.areas = std::move(areas);
    }
    void all(std::vector<Vec>& points) const
    {
        for (Vec& point : points)
            point *= scale;
    }
};

} // namespace

scene::Piece filling(const scene::Piece& piece, const Vec& view)
{
    scene::Piece filled = piece;
    Bounds drawn;
    for (const scene::Shape& shape : piece.shapes)
        drawn.include(boundsOf(shape, {}));
    if (!piece.fill || drawn.empty() || !(drawn.size().x > 0) || !(drawn.size().y > 0))
        return filled;
    Vec factor = view / drawn.size();
    if (*piece.fill == scene::Fill::fit)
        factor = Vec{1, 1} * std::min(factor.x, factor.y);
    if (*piece.fill == scene::Fill::cover)
        factor = Vec{1, 1} * std::max(factor.x, factor.y);
    for (scene::Shape& shape : filled.shapes) {
        shape.at *= factor;
        std::visit(Resize{shape.turn == 0 ? factor : Vec{1, 1} * std::min(factor.x, factor.y)}, shape.geometry);
    }
    filled.at = view / 2.0 - drawn.centre() * factor;
    filled.turn = 0;
    return filled;
}

scene::Piece asShown(const scene::Piece& piece, double scale, std::string_view image)
{
    scene::Piece shown = piece;
    for (scene::Shape& shape : shown.shapes) {
        if (auto* traced = std::get_if<scene::Traced>(&shape.geometry); traced && traced->image.empty()) {
            const scene::TracedArea* area = traced->tracing.of(image);
            traced->tracing.areas = std::make_shared<std::vector<scene::TracedArea>>(
                1, area ? *area : scene::TracedArea{std::string(image), false, {}, {}});
        }
        if (scale == 1)
            continue;
        shape.at *= scale;
        std::visit(Resize{{scale, scale}}, shape.geometry);
    }
    return shown;
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
    if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
        if (const scene::TracedArea* area = shownArea(*traced); area && !area->rings.empty()) {
            for (const geometry::Ring& ring : area->rings)
                for (const Vec& corner : ring)
                    bounds.include(geometry::toScene(pose, geometry::toScene({shape.at, shape.turn}, corner)));
            return bounds;
        }
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
    if (outline.empty()) // a picture that is missing is seen as its frame
        return true;
    return geometry::gapBetween(outline, pose, {&spot, 1}, {}).distance <= 0;
}

} // namespace snare::world
