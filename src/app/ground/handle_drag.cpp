// SPDX-License-Identifier: Apache-2.0
#include "app/ground/handle_drag.h"

#include "app/ground/ground_motion.h"
#include "app/ground/ground_snap.h"
#include "app/model/take_edit.h"
#include "app/ui/words.h"

#include <cmath>

namespace snare::app {

namespace {

constexpr double smallest = 0.05; ///< m, what a handle can shrink a shape to
constexpr double turnStep = 15;   ///< degrees

/// Width and height of a box or of a traced picture.
Vec* sidesOf(scene::Geometry& geometry)
{
    if (auto* box = std::get_if<scene::Box>(&geometry))
        return &box->size;
    auto* traced = std::get_if<scene::Traced>(&geometry);
    return traced ? &traced->size : nullptr;
}

QString metres(const Vec& at)
{
    return QObject::tr("%1, %2 m").arg(at.x, 0, 'f', 2).arg(at.y, 0, 'f', 2);
}

} // namespace

HandleDrag::HandleDrag(ToolContext& ground, const Handle& handle, const Touch& start)
    : ground_(ground), handle_(handle), start_(start), last_(start), shape_(ground.selection().shape())
{
    const scene::Scene& scene = ground.document().scene();
    if (handle.kind == Handle::Kind::bounds) {
        bounds_ = scene.bounds.value_or(bounds_);
        return;
    }
    if (handle.kind == Handle::Kind::path || handle.kind == Handle::Kind::pathLeg) {
        take_ = ground.document().take();
        return;
    }
    original_ = *scene::findPiece(scene, ground.selection().piece());
    for (const ShownPiece& piece : ground.pieces())
        if (piece.piece->id == original_.id)
            shown_ = piece.pose;
}

void HandleDrag::follow(const Touch& touch, const std::vector<double>& numbers, int gesture)
{
    last_ = touch;
    numbers_ = numbers;
    gesture_ = gesture;
    work();
}

bool HandleDrag::takesNumbers() const
{
    return handle_.kind != Handle::Kind::edge && handle_.kind != Handle::Kind::leg &&
           handle_.kind != Handle::Kind::bounds && handle_.kind != Handle::Kind::pathLeg;
}

QString HandleDrag::numbersMean() const
{
    switch (handle_.kind) {
    case Handle::Kind::turn:
        return QObject::tr("turned, degrees");
    case Handle::Kind::point:
    case Handle::Kind::stop:
    case Handle::Kind::path:
        return QObject::tr("by x, y, m");
    case Handle::Kind::velocity:
        return QObject::tr("x, y, m/s");
    default: {
        const bool circle = shape_ < original_.shapes.size() &&
                            std::holds_alternative<scene::Circle>(original_.shapes[shape_].geometry);
        return circle ? QObject::tr("radius, m") : QObject::tr("width, height, m");
    }
    }
}

void HandleDrag::work()
{
    switch (handle_.kind) {
    case Handle::Kind::size:
        size();
        break;
    case Handle::Kind::turn:
        turn();
        break;
    case Handle::Kind::point:
    case Handle::Kind::edge:
        bend();
        break;
    case Handle::Kind::stop:
    case Handle::Kind::leg:
        reroute();
        break;
    case Handle::Kind::velocity:
        speed();
        break;
    case Handle::Kind::path:
    case Handle::Kind::pathLeg:
        bendPath();
        break;
    case Handle::Kind::bounds:
        enclose();
        break;
    }
}

void HandleDrag::replaceWith(const QString& name, const scene::Piece& piece)
{
    ground_.document().edit(
        name.arg(toText(piece.id)),
        [&](scene::Scene& scene) {
            if (scene::Piece* target = scene::findPiece(scene, piece.id))
                *target = piece;
        },
        gesture_);
}

/// The handle follows the pointer, the opposite side stays where it is.
void HandleDrag::size()
{
    const std::size_t number = handle_.index + (handle_.index >= 4 ? 1 : 0); // of nine places, without the middle
    const std::size_t column = number % 3;
    const std::size_t row = number / 3;
    const double x = static_cast<double>(column) - 1;
    const double y = static_cast<double>(row) - 1;
    const scene::Shape& was = original_.shapes[shape_];
    // The drag in the axes of the shape.
    const Vec by = geometry::rotationOf(shown_.turn + was.turn).undo(last_.scene - start_.scene);
    scene::Shape next = was;
    const auto typed = [&](std::size_t index, double otherwise) {
        return index < numbers_.size() ? std::max(smallest, std::abs(numbers_[index])) : otherwise;
    };
    if (auto* circle = std::get_if<scene::Circle>(&next.geometry)) {
        const Vec out = geometry::unitOr({x, y}, {1, 0});
        const double corner = x != 0 && y != 0 ? 1 / std::sqrt(2.0) : 1;
        circle->radius = typed(0, std::max(smallest, onStep(circle->radius + glm::dot(by, out) * corner)));
        said_ = QObject::tr("r %1 m").arg(circle->radius, 0, 'f', 2);
    } else if (Vec* sides = sidesOf(next.geometry)) {
        const Vec old = *sides;
        sides->x = typed(0, x == 0 ? old.x : std::max(smallest, onStep(old.x + x * by.x)));
        sides->y = typed(1, y == 0 ? old.y : std::max(smallest, onStep(old.y + y * by.y)));
        const Vec grown = *sides - old;
        next.at = rounded(was.at + geometry::rotationOf(was.turn).apply({x * grown.x / 2, y * grown.y / 2}));
        said_ = QObject::tr("%1 × %2 m").arg(sides->x, 0, 'f', 2).arg(sides->y, 0, 'f', 2);
    }
    scene::Piece piece = original_;
    piece.shapes[shape_] = next;
    if (piece.shapes.size() == 1) { // a single shape stays in the middle of its piece
        piece.at = rounded(geometry::toScene({original_.at, original_.turn}, next.at - was.at));
        piece.shapes[shape_].at = was.at;
    }
    replaceWith(QObject::tr("Size %1"), piece);
}

void HandleDrag::turn()
{
    const Vec centre = shown_.at;
    const auto angle = [&](const Vec& point) {
        return std::atan2(point.y - centre.y, point.x - centre.x) * 57.29577951308232;
    };
    double turned = original_.turn + angle(last_.scene) - angle(start_.scene);
    const double step = last_.modifiers & Qt::AltModifier ? 0.1 : turnStep;
    turned = std::round(std::remainder(std::round(turned / step) * step, 360) * 1000) / 1000;
    if (!numbers_.empty())
        turned = numbers_.front();
    said_ = QObject::tr("%1°").arg(turned);
    scene::Piece piece = original_;
    piece.turn = turned == 0 ? 0 : turned;
    replaceWith(QObject::tr("Turn %1"), piece);
}

/// A point of the route follows the pointer; from the middle of a leg comes a new one.
void HandleDrag::reroute()
{
    scene::Piece piece = original_;
    auto* body = std::get_if<scene::KinematicBody>(&piece.body);
    if (!body || !body->route || handle_.index >= body->route->points.size())
        return;
    std::vector<Vec>& points = body->route->points;
    Vec by = last_.scene - start_.scene;
    if (numbers_.size() == 2)
        by = {numbers_[0], numbers_[1]};
    const std::size_t i = handle_.index;
    if (handle_.kind == Handle::Kind::leg) {
        const Vec from = i == 0 ? piece.at : points[i - 1];
        points.insert(points.begin() + static_cast<std::ptrdiff_t>(i),
                      onGrid((from + points[i]) * 0.5 + by, last_.modifiers));
    } else {
        points[i] = numbers_.size() == 2 ? points[i] + by : onGrid(points[i] + by, last_.modifiers);
    }
    said_ = metres(points[i]);
    replaceWith(handle_.kind == Handle::Kind::leg ? QObject::tr("Add a point to the route of %1")
                                                  : QObject::tr("Change the route of %1"),
                piece);
}

/// A corner follows the pointer; from the middle of an edge comes a new one.
void HandleDrag::bend()
{
    scene::Piece piece = original_;
    scene::Shape& shape = piece.shapes[shape_];
    Vec by = last_.scene - start_.scene;
    if (numbers_.size() == 2)
        by = {numbers_[0], numbers_[1]};
    by = geometry::rotationOf(shown_.turn + shape.turn).undo(by);
    const auto moved = [&](const Vec& from) { return onGrid(from + by, last_.modifiers); };
    if (auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        (handle_.index == 0 ? capsule->from : capsule->to) = moved(handle_.index == 0 ? capsule->from : capsule->to);
    } else if (auto* points = scene::pointsOf(shape.geometry)) {
        if (handle_.kind == Handle::Kind::edge) {
            const Vec& a = (*points)[handle_.index];
            const Vec& b = (*points)[(handle_.index + 1) % points->size()];
            points->insert(points->begin() + static_cast<std::ptrdiff_t>(handle_.index) + 1, moved((a + b) * 0.5));
        } else {
            (*points)[handle_.index] = moved((*points)[handle_.index]);
        }
    }
    if (const auto fault = scene::faultOf(shape.geometry)) { // stays at the last good place
        ground_.say(QObject::tr("Not there: %1").arg(toText(*fault)));
        return;
    }
    said_ = metres(by);
    replaceWith(handle_.kind == Handle::Kind::edge ? QObject::tr("Add a corner to %1") : QObject::tr("Bend %1"), piece);
}

double HandleDrag::onStep(double value) const
{
    return onGrid({value, 0}, last_.modifiers).x;
}

/// The tip of the arrow follows the pointer: as far as it points, so far the piece goes in a
/// second.
void HandleDrag::speed()
{
    scene::Piece piece = original_;
    Vec* velocity = velocityOf(piece);
    if (!velocity)
        return;
    const double step = last_.modifiers & Qt::AltModifier ? 0.01 : 0.1; // m/s
    const Vec next = *velocity + last_.scene - start_.scene;
    *velocity = numbers_.size() == 2 ? Vec{numbers_[0], numbers_[1]}
                                     : Vec{std::round(next.x / step) * step, std::round(next.y / step) * step};
    *velocity = rounded(*velocity);
    said_ = QObject::tr("%1, %2 m/s").arg(velocity->x, 0, 'f', 2).arg(velocity->y, 0, 'f', 2);
    replaceWith(QObject::tr("Give %1 a velocity"), piece);
}

/// A place of the pointer in the take follows; from the middle of a way comes a new one, half way
/// in time too.
void HandleDrag::bendPath()
{
    scene::Take take = take_;
    std::size_t input = handle_.index;
    if (handle_.kind == Handle::Kind::pathLeg) {
        const std::vector<std::size_t> places = placesOf(take, scene::nameOf<scene::TrackPlace>(take.inputs[input]));
        const auto from = std::ranges::find(places, input);
        if (from == places.end() || from + 1 == places.end())
            return;
        scene::Input between = take.inputs[input];
        scene::Input& next = take.inputs[*(from + 1)];
        between.t = (between.t + next.t) / 2;
        *placeOf(between) = (*placeOf(between) + *placeOf(next)) * 0.5;
        auto* led = between.as<scene::TrackPlace>();
        const auto turnTo = led ? next.as<scene::TrackPlace>()->turn : std::nullopt;
        if (turnTo) { // it turns on the way: from what it was told last, or from how it is laid
            for (auto place = from; !led->turn && place != places.begin();)
                led->turn = take.inputs[*--place].as<scene::TrackPlace>()->turn;
            const scene::Piece* piece = scene::findPiece(ground_.document().scene(), led->piece);
            led->turn = (led->turn.value_or(piece ? piece->turn : *turnTo) + *turnTo) / 2;
        }
        const auto later = [&](const scene::Input& one) { return one.t > between.t; };
        const auto where = std::find_if(take.inputs.begin(), take.inputs.end(), later);
        input = static_cast<std::size_t>(where - take.inputs.begin());
        take.inputs.insert(where, between);
    }
    scene::Input& moved = take.inputs[input];
    Vec& at = *placeOf(moved);
    at = numbers_.size() == 2 ? at + Vec{numbers_[0], numbers_[1]}
                              : onGrid(at + last_.scene - start_.scene, last_.modifiers);
    said_ = QObject::tr("%1 s: %2").arg(moved.t, 0, 'f', 2).arg(metres(at));
    const std::string_view led = scene::nameOf<scene::TrackPlace>(moved);
    const QString name =
        led.empty() ? QObject::tr("Bend the pointer's path") : QObject::tr("Bend where %1 is led").arg(toText(led));
    ground_.document().setTake(name, std::move(take), gesture_);
}

/// A side or corner of the scene's bounds follows the pointer; the opposite one stays.
void HandleDrag::enclose()
{
    constexpr double least = 1;                                              // m
    const std::size_t number = handle_.index + (handle_.index >= 4 ? 1 : 0); // of nine places, without the middle
    const Vec by = last_.scene - start_.scene;
    auto next = bounds_;
    if (number % 3 == 0)
        next[0] = std::min(onStep(bounds_[0] + by.x), bounds_[2] - least);
    if (number % 3 == 2)
        next[2] = std::max(onStep(bounds_[2] + by.x), bounds_[0] + least);
    if (number / 3 == 0)
        next[1] = std::min(onStep(bounds_[1] + by.y), bounds_[3] - least);
    if (number / 3 == 2)
        next[3] = std::max(onStep(bounds_[3] + by.y), bounds_[1] + least);
    said_ = QObject::tr("%1 × %2 m").arg(next[2] - next[0], 0, 'f', 2).arg(next[3] - next[1], 0, 'f', 2);
    ground_.document().edit(
        QObject::tr("Change the bounds of the scene"), [&](scene::Scene& scene) { scene.bounds = next; }, gesture_);
}

} // namespace snare::app
