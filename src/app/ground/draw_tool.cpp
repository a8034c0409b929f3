// SPDX-License-Identifier: Apache-2.0
/// Solid, zone and line: draws a new piece, or with Shift another shape on the selected one.
#include "app/ground/figures.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_tool.h"
#include "app/ui/words.h"

#include <QPainterPath>

#include <cmath>

namespace snare::app {

namespace {

constexpr double smallest = 0.1;      ///< m, a drawn shape is at least this large
constexpr double capsuleRadius = 0.3; ///< m, of a capsule drawn by hand

class DrawTool : public GroundTool {
  public:
    DrawTool(ToolContext& ground, scene::Role role) : GroundTool(ground), role_(role) {}

    void press(const Touch& touch) override
    {
        if (!isUnderWay()) {
            onto_ = touch.modifiers & Qt::ShiftModifier ? ground_.selection().piece() : std::string();
            lines_ = SnapLines{ground_.pieces(), ground_.transform(), [](const ShownPiece&) { return false; }};
            numbers_.clear();
        }
        pressed_ = true;
        pressedAt_ = touch.view;
        if (byPoints()) {
            const Vec point = snap(touch);
            const bool first = points_.size() > 2 && pixelsBetween(view(points_.front()), touch.view) <= handlePixels;
            if (first) {
                complete(true);
                return;
            }
            if (points_.empty() || point != points_.back())
                points_.push_back(point);
            to_ = point;
            numbers_.clear();
            tell();
            return;
        }
        from_ = snap(touch);
        to_ = from_;
        drawing_ = true;
    }

    void drag(const Touch& touch) override { hover(touch); }

    void hover(const Touch& touch) override
    {
        if (!isUnderWay())
            return;
        to_ = snap(touch);
        if (byPoints() && numbers_.size() == 2)
            to_ = points_.back() + Vec{numbers_[0], numbers_[1]};
        tell();
        ground_.redraw();
    }

    void release(const Touch& touch) override
    {
        pressed_ = false;
        if (byPoints()) // a point that is dragged ends where it is let go
        {
            if (!points_.empty() && pixelsBetween(touch.view, pressedAt_) > dragPixels && points_.back() != snap(touch))
                points_.push_back(snap(touch));
            ground_.redraw();
            return;
        }
        if (!drawing_)
            return;
        if (numbers_.empty())
            to_ = snap(touch);
        finish();
    }

    void doubleClick(const Touch&) override
    {
        if (byPoints())
            finish();
    }

    bool finish() override
    {
        if (byPoints()) {
            if (points_.empty())
                return false;
            if (numbers_.size() == 2)
                points_.push_back(points_.back() + Vec{numbers_[0], numbers_[1]});
            if (points_.size() < 2)
                return cancel();
            if (!numbers_.empty()) { // the typed point is one more, not the last
                numbers_.clear();
                ground_.forgetTyped();
                ground_.redraw();
                return true;
            }
            complete(ground_.shapeKind() != ShapeKind::line);
            return true;
        }
        if (!drawing_) { // Return alone: a shape of common size where the pointer is, or in the middle
            from_ = onGrid(ground_.pointerOrMiddle(), {});
            to_ = from_;
            numbers_.clear();
        }
        drawing_ = false;
        if (numbers_.empty() && std::abs(to_.x - from_.x) < smallest && std::abs(to_.y - from_.y) < smallest) {
            from_ -= Vec{1, 0.75}; // a click: a shape of common size
            to_ = from_ + Vec{2, 1.5};
        }
        lay(shape(), middle());
        return true;
    }

    bool takeBack() override
    {
        if (!byPoints() || points_.empty())
            return false;
        points_.pop_back();
        ground_.redraw();
        return true;
    }

    bool cancel() override
    {
        const bool was = isUnderWay();
        drawing_ = false;
        points_.clear();
        numbers_.clear();
        guides_.clear();
        ground_.redraw();
        return was;
    }

    bool takesNumbers() const override { return isUnderWay(); }
    void useNumbers(const std::vector<double>& numbers) override
    {
        numbers_ = numbers;
        if (byPoints() && numbers.size() == 2)
            to_ = points_.back() + Vec{numbers[0], numbers[1]};
        ground_.redraw();
    }
    QString numbersMean() const override
    {
        switch (ground_.shapeKind()) {
        case ShapeKind::circle:
            return QObject::tr("radius, m");
        case ShapeKind::capsule:
            return QObject::tr("length, radius, m");
        case ShapeKind::box:
            return QObject::tr("width, height, m");
        default:
            return QObject::tr("next corner: x, y from the last, m");
        }
    }

    void paint(QPainter& painter) override
    {
        if (!isUnderWay())
            return;
        paintGuides(painter, guides_, ground_.transform());
        if (byPoints()) {
            paintPoints(painter);
            return;
        }
        const QPainterPath path = shapePath(shape(), {middle(), 0}, ground_.transform());
        if (role_ == scene::Role::zone) {
            paintZone(painter, path, {}, theme().mint, true);
        } else {
            painter.setPen(QPen{theme().slate, 1.7});
            painter.setBrush(theme().solid);
            painter.drawPath(path);
        }
        paintFigure(painter, path.boundingRect().bottomRight() + QPointF{8, 4}, sizeText());
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }

    QString hint() const override
    {
        const QString key = ground_.tool() == ToolKind::line ? QStringLiteral("L")
                            : role_ == scene::Role::zone     ? QStringLiteral("Z")
                                                             : QStringLiteral("S");
        const QString kind = wordOf(ground_.shapeKind());
        if (byPoints())
            return points_.empty()
                       ? QObject::tr("Click the corners of a %1; %2 again changes its kind").arg(kind, key)
                       : QObject::tr("Click the next corner, or type x, y; Return or a double click ends it, Backspace "
                                     "takes one back");
        return QObject::tr("Drag to lay a %1, numbers can be typed; Shift puts it on the selected piece; %2 again "
                           "changes its kind")
            .arg(kind, key);
    }

  private:
    bool byPoints() const { return ground_.shapeKind() >= ShapeKind::polygon; }
    bool isUnderWay() const { return drawing_ || !points_.empty(); }
    QPointF view(const Vec& point) const { return ground_.transform().toView(point); }
    void tell() { ground_.say(byPoints() ? hint() : sizeText()); }

    Vec snap(const Touch& touch)
    {
        Snap result = lines_.point(touch.scene, touch.modifiers);
        guides_ = std::move(result.guides);
        return result.point;
    }

    double number(std::size_t index, double otherwise) const
    {
        return index < numbers_.size() ? std::max(std::abs(numbers_[index]), 0.001) : otherwise;
    }
    Vec size() const { return {number(0, std::abs(to_.x - from_.x)), number(1, std::abs(to_.y - from_.y))}; }
    /// Typed sizes grow from where the drag began towards the pointer.
    Vec middle() const
    {
        if (ground_.shapeKind() == ShapeKind::capsule)
            return (from_ + capsuleEnd()) * 0.5;
        if (numbers_.empty())
            return (from_ + to_) * 0.5;
        const Vec half = ground_.shapeKind() == ShapeKind::circle ? Vec(radius(), radius()) : size() * 0.5;
        return from_ + Vec{std::copysign(half.x, to_.x - from_.x), std::copysign(half.y, to_.y - from_.y)};
    }
    double radius() const
    {
        const Vec drawn = glm::max(glm::abs(to_ - from_), Vec(smallest, smallest));
        return number(0, std::round(std::min(drawn.x, drawn.y) * 500) / 1000);
    }
    Vec capsuleEnd() const
    {
        if (numbers_.empty())
            return to_;
        return from_ + geometry::unitOr(to_ - from_, {1, 0}) * number(0, 1);
    }

    scene::Shape shape() const
    {
        scene::Shape result;
        result.role = role_;
        switch (ground_.shapeKind()) {
        case ShapeKind::circle:
            result.geometry = scene::Circle{radius()};
            break;
        case ShapeKind::capsule: {
            const Vec half = rounded((capsuleEnd() - from_) * 0.5);
            result.geometry = scene::Capsule{-half, half, number(1, capsuleRadius)};
            break;
        }
        default:
            result.geometry = scene::Box{rounded(glm::max(size(), Vec(0.001, 0.001)))};
        }
        return result;
    }

    /// The points become a shape around their middle.
    void complete(bool closed)
    {
        if (points_.size() > 1 && points_.front() == points_.back())
            points_.pop_back();
        geometry::Bounds box;
        for (const Vec& point : points_)
            box.include(point);
        const Vec middle = rounded(box.centre());
        std::vector<Vec> local;
        for (const Vec& point : points_)
            local.push_back(rounded(point - middle));
        scene::Shape result;
        result.role = role_;
        if (ground_.shapeKind() == ShapeKind::polygon)
            result.geometry = scene::Polygon{local};
        else
            result.geometry = scene::Line{local, closed || ground_.shapeKind() == ShapeKind::ring};
        if (const auto fault = scene::faultOf(result.geometry)) {
            ground_.say(QObject::tr("Not yet: %1. Backspace takes back a corner, Esc gives up").arg(toText(*fault)));
            return;
        }
        points_.clear();
        lay(result, middle);
    }

    void lay(const scene::Shape& shape, const Vec& at)
    {
        guides_.clear();
        numbers_.clear();
        ground_.forgetTyped();
        const scene::Piece* owner = scene::findPiece(ground_.document().scene(), onto_);
        if (owner) {
            const std::size_t index = owner->shapes.size();
            ground_.document().edit(QObject::tr("Lay a shape on %1").arg(toText(onto_)), [&](scene::Scene& scene) {
                scene::Piece& piece = *scene::findPiece(scene, onto_);
                scene::Shape own = shape;
                own.at = rounded(geometry::toLocal({piece.at, piece.turn}, at));
                own.turn = piece.turn == 0 ? 0 : -piece.turn;
                piece.shapes.push_back(std::move(own));
            });
            ground_.selection().choosePiece(onto_, index);
        } else {
            scene::Piece piece;
            const bool zone = role_ == scene::Role::zone;
            const bool line = std::holds_alternative<scene::Line>(shape.geometry);
            piece.id = scene::freeId(ground_.document().scene(), zone ? "zone" : line ? "line" : "solid");
            piece.at = rounded(at);
            piece.shapes.push_back(shape);
            ground_.placeNew(piece);
            ground_.document().edit(zone   ? QObject::tr("Lay a zone")
                                    : line ? QObject::tr("Lay a line")
                                           : QObject::tr("Lay a solid"),
                                    [&](scene::Scene& scene) { scene.pieces.push_back(piece); });
            ground_.selection().choosePiece(piece.id);
        }
        ground_.setTool(ToolKind::select);
    }

    void paintPoints(QPainter& painter)
    {
        QPolygonF drawn;
        for (const Vec& point : points_)
            drawn << view(point);
        drawn << view(to_);
        const bool area = ground_.shapeKind() == ShapeKind::polygon;
        const bool closes = ground_.shapeKind() != ShapeKind::line;
        painter.setPen(Qt::NoPen);
        QColor wash = role_ == scene::Role::zone ? theme().mint : theme().slate;
        wash.setAlpha(36);
        painter.setBrush(area ? QBrush{wash} : QBrush{Qt::NoBrush});
        painter.drawPolygon(drawn);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen{role_ == scene::Role::zone ? theme().mint : theme().slate, 1.8});
        painter.drawPolyline(drawn);
        if (closes && drawn.size() > 2) {
            painter.setPen(QPen{theme().slate, 1, Qt::DashLine});
            painter.drawLine(drawn.back(), drawn.front());
        }
        painter.setPen(QPen{theme().ink, 1.2});
        painter.setBrush(theme().paper);
        for (const Vec& point : points_)
            painter.drawEllipse(view(point), 3.5, 3.5);
        const Vec way = to_ - points_.back();
        paintFigure(
            painter, view(to_) + QPointF{12, -8},
            QObject::tr("%1, %2   %3 m").arg(way.x, 0, 'f', 1).arg(way.y, 0, 'f', 1).arg(glm::length(way), 0, 'f', 2));
    }

    QString sizeText() const
    {
        switch (ground_.shapeKind()) {
        case ShapeKind::circle:
            return QObject::tr("r %1 m").arg(radius(), 0, 'f', 2);
        case ShapeKind::capsule:
            return QObject::tr("%1 m, r %2 m")
                .arg(glm::length(capsuleEnd() - from_), 0, 'f', 2)
                .arg(number(1, capsuleRadius), 0, 'f', 2);
        default:
            return QObject::tr("%1 × %2 m").arg(size().x, 0, 'f', 1).arg(size().y, 0, 'f', 1);
        }
    }

    scene::Role role_;
    bool drawing_ = false;
    bool pressed_ = false;
    QPointF pressedAt_;
    Vec from_{0, 0};
    Vec to_{0, 0};
    std::vector<Vec> points_;
    std::vector<double> numbers_;
    std::string onto_;
    SnapLines lines_;
    std::vector<Guide> guides_;
};

} // namespace

std::unique_ptr<GroundTool> makeDrawTool(ToolContext& ground, scene::Role role)
{
    return std::make_unique<DrawTool>(ground, role);
}

} // namespace snare::app
