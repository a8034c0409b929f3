// SPDX-License-Identifier: Apache-2.0
#include "app/ground_tool.h"

#include "app/words.h"

#include <QPainterPath>

#include <cmath>

namespace snare::app {

namespace {

constexpr double dragPixels = 4;   ///< less is a click
constexpr double handlePixels = 7; ///< how near a handle must be
constexpr double smallest = 0.1;   ///< m, a drawn shape is at least this large

double distance(const QPointF& a, const QPointF& b)
{
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

Vec rounded(const Vec& v)
{
    return {std::round(v.x * 1000) / 1000, std::round(v.y * 1000) / 1000};
}

// --- select --------------------------------------------------------------------------------------------------------

/// Selects, moves and sizes.
class SelectTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        start_ = touch;
        handle_ = handleAt(touch.view);
        moved_ = false;
        if (handle_) {
            const std::string id = ground_.selection().piece();
            begin(Doing::sizing);
            original_ = *scene::findPiece(ground_.document().scene(), id);
            return;
        }
        const auto picked = pick(ground_.pieces(), touch.scene, 3 / ground_.transform().scale);
        Selection& selection = ground_.selection();
        if (!picked) {
            if (!(touch.modifiers & Qt::ShiftModifier))
                selection.clear();
            begin(Doing::boxing);
            return;
        }
        const std::string& id = ground_.document().scene().pieces[picked->piece].id;
        if (touch.modifiers & Qt::ShiftModifier)
            selection.toggle(id);
        else if (!selection.has(id) || selection.pieces().size() == 1)
            selection.choosePiece(id, picked->shape);
        begin(Doing::moving);
        places_.clear();
        for (const std::string& chosen : selection.pieces())
            if (const scene::Piece* piece = scene::findPiece(ground_.document().scene(), chosen))
                places_.emplace_back(chosen, piece->at);
    }

    void drag(const Touch& touch) override
    {
        last_ = touch;
        if (!moved_ && distance(touch.view, start_.view) < dragPixels)
            return;
        moved_ = true;
        if (doing_ == Doing::moving)
            move(touch);
        else if (doing_ == Doing::sizing)
            size(touch);
        ground_.update();
    }

    void release(const Touch& touch) override
    {
        if (doing_ == Doing::boxing && moved_)
            chooseInBox(touch);
        doing_ = Doing::nothing;
        ground_.update();
    }

    bool cancel() override
    {
        if (doing_ == Doing::nothing)
            return false;
        if (moved_ && doing_ != Doing::boxing)
            ground_.document().undoStack()->undo();
        doing_ = Doing::nothing;
        ground_.update();
        return true;
    }

    void paint(QPainter& painter) override
    {
        if (doing_ != Doing::boxing || !moved_)
            return;
        painter.setPen(QPen{theme().ink, 1, Qt::DashLine});
        painter.setBrush(QColor{20, 50, 59, 20});
        painter.drawRect(QRectF{start_.view, last_.view}.normalized());
    }

    Qt::CursorShape cursorAt(const Touch& touch) override
    {
        constexpr Qt::CursorShape shapes[] = {Qt::SizeBDiagCursor, Qt::SizeVerCursor,  Qt::SizeFDiagCursor,
                                              Qt::SizeHorCursor,   Qt::SizeHorCursor,  Qt::SizeFDiagCursor,
                                              Qt::SizeVerCursor,   Qt::SizeBDiagCursor};
        if (const auto handle = handleAt(touch.view))
            return shapes[*handle];
        return pick(ground_.pieces(), touch.scene, 3 / ground_.transform().scale) ? Qt::PointingHandCursor
                                                                                  : Qt::ArrowCursor;
    }

    QString hint() const override
    {
        return QObject::tr("Click a piece to see what listens there; drag to move it, Alt for free placing");
    }

  private:
    enum class Doing { nothing, moving, sizing, boxing };

    void begin(Doing doing)
    {
        doing_ = doing;
        last_ = start_;
        gesture_ = ground_.document().newGesture();
    }

    std::optional<std::size_t> handleAt(const QPointF& at) const
    {
        const std::string id = ground_.selection().piece();
        if (id.empty())
            return std::nullopt;
        for (const ShownPiece& piece : ground_.pieces()) {
            if (piece.piece->id != id)
                continue;
            const auto handles = sizeHandles(piece, ground_.selection().shape(), ground_.transform());
            for (std::size_t i = 0; i < handles.size(); ++i)
                if (distance(handles[i], at) <= handlePixels)
                    return i;
        }
        return std::nullopt;
    }

    void move(const Touch& touch)
    {
        const Vec by = touch.scene - start_.scene;
        const QString name = places_.size() == 1
                                 ? QObject::tr("Move %1").arg(QString::fromStdString(places_.front().first))
                                 : QObject::tr("Move %1").arg(countedPieces(places_.size()));
        ground_.document().edit(
            name,
            [&](scene::Scene& scene) {
                for (const auto& [id, from] : places_)
                    if (scene::Piece* piece = scene::findPiece(scene, id))
                        piece->at = GroundView::snapped(from + by, touch.modifiers);
            },
            gesture_);
    }

    /// The handle follows the pointer, the opposite side stays where it is.
    void size(const Touch& touch)
    {
        const std::size_t shapeIndex = ground_.selection().shape();
        const std::size_t number = *handle_ + (*handle_ >= 4 ? 1 : 0); // of nine places, the middle left out
        const double x = static_cast<double>(number % 3) - 1;
        const double y = static_cast<double>(number / 3) - 1;
        const geometry::Pose pose{original_.at, original_.turn};
        const scene::Shape& was = original_.shapes[shapeIndex];
        // The pointer in the axes of the shape, from its middle; the drag counts, so that a moved piece can be sized
        // too.
        const geometry::Rotation turn = geometry::rotationOf(original_.turn + was.turn);
        const Vec by = turn.undo(touch.scene - start_.scene);
        scene::Shape next = was;
        if (auto* circle = std::get_if<scene::Circle>(&next.geometry)) {
            const Vec out = geometry::unitOr({x, y}, {1, 0});
            const double corner = x != 0 && y != 0 ? 1 / std::sqrt(2.0) : 1;
            circle->radius = std::max(smallest, snap(circle->radius + glm::dot(by, out) * corner, touch.modifiers));
        } else {
            auto& box = std::get<scene::Box>(next.geometry);
            const Vec old = box.size;
            box.size.x = x == 0 ? old.x : std::max(smallest, snap(old.x + x * by.x, touch.modifiers));
            box.size.y = y == 0 ? old.y : std::max(smallest, snap(old.y + y * by.y, touch.modifiers));
            const Vec grown = box.size - old;
            next.at = rounded(was.at + geometry::rotationOf(was.turn).apply({x * grown.x / 2, y * grown.y / 2}));
        }
        scene::Piece piece = original_;
        piece.shapes[shapeIndex] = next;
        if (piece.shapes.size() == 1) { // a single shape stays in the middle of its piece
            piece.at = rounded(geometry::toScene(pose, next.at - was.at));
            piece.shapes[shapeIndex].at = was.at;
        }
        ground_.document().edit(
            QObject::tr("Size %1").arg(QString::fromStdString(piece.id)),
            [&](scene::Scene& scene) {
                if (scene::Piece* target = scene::findPiece(scene, piece.id))
                    *target = piece;
            },
            gesture_);
    }

    static double snap(double value, Qt::KeyboardModifiers modifiers)
    {
        return GroundView::snapped({value, 0}, modifiers).x;
    }

    void chooseInBox(const Touch& touch)
    {
        geometry::Bounds box;
        box.include(start_.scene);
        box.include(touch.scene);
        std::vector<std::string> chosen;
        if (touch.modifiers & Qt::ShiftModifier)
            chosen = ground_.selection().pieces();
        for (const ShownPiece& piece : ground_.pieces()) {
            const geometry::Bounds bounds = boundsOf(piece);
            const bool inside = box.contains(bounds.low) && box.contains(bounds.high);
            if (inside && piece.present && std::ranges::find(chosen, piece.piece->id) == chosen.end())
                chosen.push_back(piece.piece->id);
        }
        ground_.selection().choosePieces(std::move(chosen));
    }

    Doing doing_ = Doing::nothing;
    Touch start_;
    Touch last_;
    bool moved_ = false;
    int gesture_ = 0;
    std::optional<std::size_t> handle_;
    scene::Piece original_;
    std::vector<std::pair<std::string, Vec>> places_;
};

// --- solid and zone ------------------------------------------------------------------------------------------------

/// Draws a new piece with one shape.
class DrawTool : public GroundTool {
  public:
    DrawTool(GroundView& ground, scene::Role role) : GroundTool(ground), role_(role) {}

    void press(const Touch& touch) override
    {
        drawing_ = true;
        from_ = GroundView::snapped(touch.scene, touch.modifiers);
        to_ = from_;
    }

    void drag(const Touch& touch) override
    {
        to_ = GroundView::snapped(touch.scene, touch.modifiers);
        if (drawing_)
            emit ground_.hint(sizeText());
        ground_.update();
    }

    void release(const Touch& touch) override
    {
        if (!drawing_)
            return;
        drawing_ = false;
        to_ = GroundView::snapped(touch.scene, touch.modifiers);
        if (std::abs(to_.x - from_.x) < smallest ||
            std::abs(to_.y - from_.y) < smallest) { // a click: a shape of common size
            from_ -= Vec{1, 0.75};
            to_ = from_ + Vec{2, 1.5};
        }
        const bool zone = role_ == scene::Role::zone;
        scene::Piece piece;
        piece.id = scene::freeId(ground_.document().scene(), zone ? "zone" : "solid");
        piece.at = rounded(middle());
        scene::Shape shape = this->shape();
        piece.shapes.push_back(shape);
        ground_.document().edit(zone ? QObject::tr("Lay a zone") : QObject::tr("Lay a solid"),
                                [&](scene::Scene& scene) { scene.pieces.push_back(piece); });
        ground_.selection().choosePiece(piece.id);
        ground_.setTool(ToolKind::select);
    }

    bool cancel() override
    {
        const bool was = std::exchange(drawing_, false);
        ground_.update();
        return was;
    }

    void paint(QPainter& painter) override
    {
        if (!drawing_)
            return;
        const geometry::Pose pose{middle(), 0};
        const QPainterPath path = GroundPainter::pathOf(shape(), pose, ground_.transform());
        if (role_ == scene::Role::zone) {
            GroundPainter::paintZone(painter, path, {}, theme().mint, true);
        } else {
            painter.setPen(QPen{theme().slate, 1.7});
            painter.setBrush(theme().solid);
            painter.drawPath(path);
        }
        painter.setFont(figureFont(-0.5));
        painter.setPen(theme().ink);
        painter.drawText(path.boundingRect().bottomRight() + QPointF{8, 4}, sizeText());
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }

    QString hint() const override
    {
        const QString what = ground_.drawsCircles() ? QObject::tr("circle") : QObject::tr("box");
        return role_ == scene::Role::zone
                   ? QObject::tr("Drag to lay a zone as a %1; Z again changes its kind").arg(what)
                   : QObject::tr("Drag to lay a solid as a %1; S again changes its kind").arg(what);
    }

  private:
    Vec middle() const { return (from_ + to_) * 0.5; }
    Vec size() const { return {std::abs(to_.x - from_.x), std::abs(to_.y - from_.y)}; }

    scene::Shape shape() const
    {
        scene::Shape result;
        result.role = role_;
        const Vec box = glm::max(size(), Vec(smallest, smallest));
        if (ground_.drawsCircles())
            result.geometry = scene::Circle{std::round(std::min(box.x, box.y) * 500) / 1000};
        else
            result.geometry = scene::Box{rounded(box)};
        return result;
    }

    QString sizeText() const
    {
        if (ground_.drawsCircles())
            return QObject::tr("r %1 m").arg(std::min(size().x, size().y) / 2, 0, 'f', 2);
        return QObject::tr("%1 × %2 m").arg(size().x, 0, 'f', 1).arg(size().y, 0, 'f', 1);
    }

    scene::Role role_;
    bool drawing_ = false;
    Vec from_{0, 0};
    Vec to_{0, 0};
};

// --- thread --------------------------------------------------------------------------------------------------------

/// Draws a thread from where something is to be caught to what it is to act on.
class ThreadTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        from_ = pick(ground_.pieces(), touch.scene, 3 / ground_.transform().scale);
        end_ = touch;
        if (!from_)
            emit ground_.hint(QObject::tr("Begin at a zone or a piece: that is where the event is caught"));
    }

    void drag(const Touch& touch) override
    {
        end_ = touch;
        ground_.update();
    }

    void release(const Touch& touch) override
    {
        const auto from = std::exchange(from_, std::nullopt);
        ground_.update();
        if (!from)
            return;
        const auto to = target(touch);
        if (!to) {
            emit ground_.hint(QObject::tr("Let go over the piece that is to act"));
            return;
        }
        emit ground_.threadDrawn(from->piece, from->shape, to->piece, ground_.mapToGlobal(touch.view.toPoint()));
    }

    bool cancel() override
    {
        const bool was = from_.has_value();
        from_.reset();
        ground_.update();
        return was;
    }

    void paint(QPainter& painter) override
    {
        if (!from_)
            return;
        for (const ShownPiece& piece : ground_.pieces()) {
            if (piece.index != from_->piece)
                continue;
            const QPointF start = ground_.transform().toView(boundsOf(piece).centre());
            const QPointF way = end_.view - start;
            QPainterPath path{start};
            path.quadTo((start + end_.view) / 2 + QPointF{-way.y() * 0.16, way.x() * 0.16}, end_.view);
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen{theme().coral, 2.2});
            painter.drawPath(path);
            painter.setBrush(theme().coral);
            painter.drawEllipse(end_.view, 4, 4);
        }
        const auto to = target(end_);
        for (const ShownPiece& piece : ground_.pieces()) { // what letting go here would take
            if (!to || piece.index != to->piece)
                continue;
            const geometry::Bounds bounds = boundsOf(piece);
            const QRectF box{ground_.transform().toView({bounds.low.x, bounds.high.y}),
                             ground_.transform().toView({bounds.high.x, bounds.low.y})};
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen{theme().coral, 1.6, Qt::DashLine});
            painter.drawRoundedRect(box.adjusted(-7, -7, 7, 7), 5, 5);
        }
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }
    QString hint() const override
    {
        return QObject::tr("Drag from where something happens to the piece that is to act");
    }

  private:
    /// The piece at the point, or a thin one near it.
    std::optional<Picked> target(const Touch& touch)
    {
        constexpr double nearPixels = 14;
        if (const auto exact = pick(ground_.pieces(), touch.scene, 0))
            return exact;
        return pick(ground_.pieces(), touch.scene, nearPixels / ground_.transform().scale);
    }

    std::optional<Picked> from_;
    Touch end_;
};

} // namespace

std::unique_ptr<GroundTool> makeTool(ToolKind kind, GroundView& ground)
{
    switch (kind) {
    case ToolKind::solid:
        return std::make_unique<DrawTool>(ground, scene::Role::solid);
    case ToolKind::zone:
        return std::make_unique<DrawTool>(ground, scene::Role::zone);
    case ToolKind::thread:
        return std::make_unique<ThreadTool>(ground);
    case ToolKind::select:
        break;
    }
    return std::make_unique<SelectTool>(ground);
}

} // namespace snare::app
