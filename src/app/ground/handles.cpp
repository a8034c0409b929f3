// SPDX-License-Identifier: Apache-2.0
#include "app/ground/handles.h"

#include "app/ground/ground_motion.h"
#include "app/model/take_edit.h"
#include "geometry/pose.h"

#include <QLineF>

namespace snare::app {

namespace {

void addShapeHandles(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform,
                     std::vector<Handle>& handles)
{
    const scene::Shape& held = piece.piece->shapes[shape];
    const geometry::Rotation turn = geometry::rotationOf(held.turn);
    const auto inView = [&](const Vec& local) {
        return transform.toView(geometry::toScene(piece.pose, held.at + turn.apply(local)));
    };
    if (const auto* capsule = std::get_if<scene::Capsule>(&held.geometry)) {
        handles.push_back({Handle::Kind::point, 0, inView(capsule->from)});
        handles.push_back({Handle::Kind::point, 1, inView(capsule->to)});
        return;
    }
    if (const auto* points = scene::pointsOf(held.geometry)) {
        const auto* line = std::get_if<scene::Line>(&held.geometry);
        const std::size_t edges = points->size() - (line && !line->closed ? 1 : 0);
        for (std::size_t i = 0; i < edges; ++i)
            handles.push_back(
                {Handle::Kind::edge, i, inView(((*points)[i] + (*points)[(i + 1) % points->size()]) * 0.5)});
        for (std::size_t i = 0; i < points->size(); ++i)
            handles.push_back({Handle::Kind::point, i, inView((*points)[i])});
        return;
    }
    Vec half{0, 0};
    if (const auto* circle = std::get_if<scene::Circle>(&held.geometry))
        half = {circle->radius, circle->radius};
    else if (const auto* rectangle = std::get_if<scene::Box>(&held.geometry))
        half = rectangle->size * 0.5;
    else if (const auto* traced = std::get_if<scene::Traced>(&held.geometry))
        half = traced->size * 0.5;
    std::size_t number = 0;
    for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x)
            if (x != 0 || y != 0)
                handles.push_back({Handle::Kind::size, number++, inView({x * half.x, y * half.y})});
}

} // namespace

std::vector<Handle> handlesOf(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform)
{
    std::vector<Handle> handles;
    const geometry::Bounds box = boundsOf(piece);
    handles.push_back({Handle::Kind::turn, 0, transform.toView(Vec{box.centre().x, box.high.y}) - QPointF{0, 26}});
    if (shape < piece.piece->shapes.size())
        addShapeHandles(piece, shape, transform, handles);
    if (const scene::Route* route = routeOf(*piece.piece)) {
        Vec from = piece.start.at;
        for (std::size_t i = 0; i < route->points.size(); ++i) {
            const Vec& to = route->points[i];
            handles.push_back({Handle::Kind::leg, i, transform.toView((from + to) * 0.5)});
            handles.push_back({Handle::Kind::stop, i, transform.toView(to)});
            from = to;
        }
    }
    if (const Vec* velocity = velocityOf(*piece.piece)) {
        // As far as it goes in a second; at rest beside the piece, so that it can be pulled out.
        const QPointF tip = *velocity == Vec{0, 0} ? transform.toView(Vec{box.high.x, box.centre().y}) + QPointF{22, 0}
                                                   : transform.toView(piece.pose.at + *velocity);
        handles.push_back({Handle::Kind::velocity, 0, tip});
    }
    return handles;
}

std::vector<PathPoint> pointerPath(const scene::Take& take, const geometry::Bounds& glass)
{
    std::vector<PathPoint> path;
    for (std::size_t i = 0; i < take.inputs.size(); ++i)
        if (const auto* inScene = take.inputs[i].as<scene::PointerMove>())
            path.push_back({i, inScene->at});
        else if (const auto* onGlass = take.inputs[i].as<scene::GlassMove>())
            path.push_back({i, onGlass->at + glass.low});
    return path;
}

std::vector<PathPoint> ledPath(const scene::Take& take, const scene::Piece& piece, const geometry::Bounds& glass)
{
    std::vector<PathPoint> path;
    for (const std::size_t input : placesOf(take, piece.id))
        path.push_back(
            {input, take.inputs[input].as<scene::TrackPlace>()->at + (piece.pinned ? glass.low : Vec{0, 0})});
    return path;
}

std::vector<Handle> pathHandles(const std::vector<PathPoint>& path, const GroundTransform& transform)
{
    constexpr double shortestLeg = 30; // pixels; a shorter one has no room for its handle
    constexpr double nearest = 7;      // pixels; between the handles of two places
    std::vector<Handle> handles;
    QPointF last;
    for (std::size_t i = 0; i < path.size(); ++i) {
        const QPointF at = transform.toView(path[i].at);
        if (i > 0 && i + 1 < path.size() && QLineF{last, at}.length() < nearest)
            continue;
        last = at;
        if (i + 1 < path.size()) {
            const QPointF next = transform.toView(path[i + 1].at);
            if (QLineF{at, next}.length() >= shortestLeg)
                handles.push_back({Handle::Kind::pathLeg, path[i].input, (at + next) / 2});
        }
        handles.push_back({Handle::Kind::path, path[i].input, at});
    }
    return handles;
}

std::vector<Handle> boundsHandles(const scene::Scene& scene, const GroundTransform& transform)
{
    std::vector<Handle> handles;
    if (!scene.bounds)
        return handles;
    const auto& [left, bottom, right, top] = *scene.bounds;
    std::size_t number = 0;
    for (const double y : {bottom, (bottom + top) / 2, top})
        for (const double x : {left, (left + right) / 2, right})
            if (x == left || x == right || y == bottom || y == top)
                handles.push_back({Handle::Kind::bounds, number++, transform.toView(Vec{x, y})});
    return handles;
}

Vec* velocityOf(scene::Piece& piece)
{
    if (auto* kinematic = std::get_if<scene::KinematicBody>(&piece.body))
        return kinematic->route ? nullptr : &kinematic->velocity;
    auto* dynamic = std::get_if<scene::DynamicBody>(&piece.body);
    return dynamic ? &dynamic->velocity : nullptr;
}

const Vec* velocityOf(const scene::Piece& piece)
{
    return velocityOf(const_cast<scene::Piece&>(piece)); // only looked at
}

} // namespace snare::app
