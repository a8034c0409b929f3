// SPDX-License-Identifier: Apache-2.0
/// Random places: where a whole piece fits, and clear of solids.
#include "rules/evaluator.h"

#include "geometry/gap.h"
#include "geometry/grid.h"
#include "world/outline.h"

#include <limits>

namespace snare::rules {

using geometry::Hull;
using world::LivePiece;
using world::LiveShape;
using world::Pose;
using world::World;

namespace {

constexpr int mostTries = 1000;

/// Whether a hull lies inside a convex part; both are placed.
bool fitsIn(const Hull& hull, const Hull& part)
{
    const auto count = static_cast<std::size_t>(part.count);
    for (std::size_t i = 0; i < static_cast<std::size_t>(hull.count); ++i) {
        const Vec& corner = hull.points[i];
        if (count < 3) {
            const Vec along = count == 2 ? part.points[1] - part.points[0] : Vec{0, 0};
            const double length = geometry::squaredLength(along);
            const double at = length > 0 ? std::clamp(glm::dot(corner - part.points[0], along) / length, 0.0, 1.0) : 0;
            if (glm::length(corner - part.points[0] - along * at) > part.radius - hull.radius)
                return false;
            continue;
        }
        double area = 0;
        for (std::size_t j = 0; j < count; ++j)
            area += geometry::cross(part.points[j], part.points[(j + 1) % count]);
        for (std::size_t j = 0; j < count; ++j) {
            const Vec& from = part.points[j];
            const Vec edge = geometry::unitOr(part.points[(j + 1) % count] - from, {1, 0});
            if (std::copysign(1.0, area) * geometry::cross(edge, corner - from) < hull.radius - part.radius)
                return false;
        }
    }
    return true;
}

/// The edges of an area that was cut into several parts, in the axes of its piece.
std::vector<Hull> edgesOf(const scene::Shape& shape, double scale)
{
    std::vector<Hull> edges;
    const auto add = [&](const std::vector<Vec>& ring) {
        const Pose own{shape.at, shape.turn};
        for (std::size_t i = 0; i < ring.size(); ++i) {
            Hull edge;
            edge.count = 2;
            edge.points[0] = geometry::toScene(own, ring[i]) * scale;
            edge.points[1] = geometry::toScene(own, ring[(i + 1) % ring.size()]) * scale;
            edges.push_back(edge);
        }
    };
    if (const auto* polygon = std::get_if<scene::Polygon>(&shape.geometry))
        add(polygon->points);
    if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
        if (const scene::TracedArea* area = world::shownArea(*traced))
            for (const geometry::Ring& ring : area->rings)
                add(ring);
    return edges;
}

/// One place to look for room in.
struct Area {
    geometry::Bounds bounds;
    std::vector<Hull> parts; ///< placed; none: the rectangle itself
    std::vector<Hull> edges; ///< placed; of an area of several parts

    bool holds(const Hull& hull) const
    {
        if (parts.empty()) {
            const geometry::Bounds own = geometry::boundsOf(hull);
            return own.low.x >= bounds.low.x && own.low.y >= bounds.low.y && own.high.x <= bounds.high.x &&
                   own.high.y <= bounds.high.y;
        }
        if (parts.size() == 1)
            return fitsIn(hull, parts.front());
        // Its middle is inside, and no edge runs through it.
        Hull middle;
        middle.count = 1;
        middle.points[0] = hull.points[0];
        return std::ranges::any_of(parts, [&](const Hull& part) { return fitsIn(middle, part); }) &&
               std::ranges::none_of(edges,
                                    [&](const Hull& edge) { return geometry::gapBetween(hull, edge).distance < 0; });
    }
};

std::optional<Area> areaOf(const std::string& name, const Surroundings& around)
{
    Area area;
    if (name == "scene") {
        const scene::Scene& scene = around.scene;
        if (scene.bounds) {
            area.bounds = {{(*scene.bounds)[0], (*scene.bounds)[1]}, {(*scene.bounds)[2], (*scene.bounds)[3]}};
            return area;
        }
        const Vec half = Vec{1.6, 1} * (scene.camera.height / 2); // what the view shows (P6)
        area.bounds = {scene.camera.at - half, scene.camera.at + half};
        return area;
    }
    const auto targets = targetsOf(name, around);
    if (targets.empty() || targets.front().piece < 0)
        return std::nullopt;
    const World& world = around.world;
    const PieceIndex piece = targets.front().piece;
    const auto shapes = world.shapesOf(piece);
    if (shapes.empty())
        return std::nullopt;
    const LiveShape* chosen = &shapes.front(); // the one named, else its first zone
    for (const LiveShape& shape : shapes) {
        const bool named = targets.front().shape == static_cast<int>(&shape - world.shapes().data());
        if (named || (targets.front().shape < 0 && shape.role == scene::Role::zone)) {
            chosen = &shape;
            break;
        }
    }
    const Pose& pose = world.pose()[static_cast<std::size_t>(piece)];
    for (const Hull& part : world.partsOf(*chosen))
        area.parts.push_back(geometry::placed(part, pose));
    if (area.parts.empty())
        return std::nullopt;
    area.bounds = geometry::boundsOf(area.parts.front());
    for (const Hull& part : area.parts)
        area.bounds.include(geometry::boundsOf(part));
    const LivePiece& live = world.piece(piece);
    if (area.parts.size() > 1)
        for (const Hull& edge : edgesOf(live.model->shapes[static_cast<std::size_t>(chosen->number)], live.scale))
            area.edges.push_back(geometry::placed(edge, pose));
    return area;
}

} // namespace

namespace {

/// The solids within an area. Detection knows most of them; those that something happened to since
/// its last look are put into a grid of their own.
class Obstacles {
  public:
    Obstacles(const World& world, const detect::Detection& detection, const geometry::Bounds& area)
        : world_(world), detection_(detection)
    {
        for (const int shape : world.changed()) {
            const LiveShape& live = world.shapes()[static_cast<std::size_t>(shape)];
            geometry::Bounds bounds;
            for (const Hull& part : world.partsOf(live))
                bounds.include(geometry::boundsOf(placedNow(part, live)));
            if (live.role == scene::Role::solid && !bounds.empty() && bounds.overlaps(area))
                changed_.emplace_back(shape, geometry::Box{bounds});
        }
        own_.resize(changed_.size());
        for (std::size_t i = 0; i < changed_.size(); ++i)
            own_.place(static_cast<int>(i), changed_[i].second);
    }

    /// The piece in the way of a figure at a pose: of several the first in the scene, or `nobody`.
    PieceIndex inTheWayOf(const Figure& figure, const Pose& pose) const
    {
        int first = std::numeric_limits<int>::max();
        for (const Hull& part : figure.solids.empty() ? figure.parts : figure.solids) {
            const Hull hull = geometry::placed(part, pose);
            const geometry::Bounds bounds = geometry::boundsOf(hull);
            const auto look = [&](int shape) {
                if (shape < first && isInTheWay(shape, hull, bounds, figure.itself))
                    first = shape;
            };
            detection_.visitIn(bounds, look);
            own_.visitOverlapping(geometry::Box{bounds},
                                  [&](int i) { look(changed_[static_cast<std::size_t>(i)].first); });
        }
        return first == std::numeric_limits<int>::max() ? nobody
                                                        : world_.shapes()[static_cast<std::size_t>(first)].piece;
    }

  private:
    Hull placedNow(const Hull& part, const LiveShape& shape) const
    {
        return geometry::placed(part, world_.pose()[static_cast<std::size_t>(shape.piece)]);
    }

    bool isInTheWay(int index, const Hull& hull, const geometry::Bounds& bounds, PieceIndex itself) const
    {
        const LiveShape& shape = world_.shapes()[static_cast<std::size_t>(index)];
        if (shape.role != scene::Role::solid || !shape.isOn() || shape.piece == itself ||
            !world_.piece(shape.piece).meetsPieces())
            return false;
        return std::ranges::any_of(world_.partsOf(shape), [&](const Hull& other) {
            const Hull solid = placedNow(other, shape);
            return bounds.overlaps(geometry::boundsOf(solid)) && geometry::gapBetween(hull, solid).distance < 0;
        });
    }

    const World& world_;
    const detect::Detection& detection_;
    std::vector<std::pair<int, geometry::Box>> changed_; ///< shapes
    geometry::Grid own_;                                 ///< by place in `changed_`
};

} // namespace

PieceIndex inTheWay(const World& world, const detect::Detection& detection, const Figure& figure, const Pose& pose)
{
    geometry::Bounds area;
    for (const Hull& part : figure.parts)
        area.include(geometry::boundsOf(geometry::placed(part, pose)));
    return area.empty() ? nobody : Obstacles{world, detection, area}.inTheWayOf(figure, pose);
}

std::optional<Vec> somewhereIn(const scene::Formula& formula, const Surroundings& around, const Figure* figure)
{
    const auto area = areaOf(formula.text, around);
    if (!area)
        return std::nullopt;
    Figure point;
    point.parts.emplace_back();
    point.parts.front().count = 1;
    const Figure& wanted = figure && !figure->parts.empty() ? *figure : point;
    std::optional<Obstacles> obstacles;
    if (formula.clear)
        obstacles.emplace(around.world, around.detection, area->bounds);
    for (int i = 0; i < mostTries; ++i) {
        const double x = around.evaluator.random.between(area->bounds.low.x, area->bounds.high.x);
        const double y = around.evaluator.random.between(area->bounds.low.y, area->bounds.high.y);
        const Pose pose{{x, y}, wanted.turn, wanted.z};
        const bool fits = std::ranges::all_of(
            wanted.parts, [&](const Hull& part) { return area->holds(geometry::placed(part, pose)); });
        if (fits && (!obstacles || obstacles->inTheWayOf(wanted, pose) == nobody))
            return pose.at;
    }
    return std::nullopt;
}

Figure figureOf(const World& world, PieceIndex piece)
{
    Figure figure;
    figure.turn = world.pose()[static_cast<std::size_t>(piece)].turn;
    figure.z = world.pose()[static_cast<std::size_t>(piece)].z;
    figure.itself = piece;
    for (const LiveShape& shape : world.shapesOf(piece))
        for (const Hull& part : world.partsOf(shape)) {
            figure.parts.push_back(part);
            if (shape.role == scene::Role::solid)
                figure.solids.push_back(part);
        }
    return figure;
}

Figure figureOf(const scene::Piece& model)
{
    Figure figure;
    figure.pinned = model.pinned;
    figure.turn = model.turn;
    figure.z = model.z;
    for (const scene::Shape& shape : model.shapes)
        for (const Hull& part : world::partsOf(shape)) {
            figure.parts.push_back(part);
            if (shape.role == scene::Role::solid)
                figure.solids.push_back(part);
        }
    return figure;
}

} // namespace snare::rules
