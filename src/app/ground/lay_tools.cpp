// SPDX-License-Identifier: Apache-2.0
/// Thread, stamp and measure.
#include "app/ground/figures.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_tool.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/templates.h"

#include <QPainterPath>

#include <cmath>

namespace snare::app {

namespace {

// --- thread --------------------------------------------------------------------------------------------------------

/// Draws a thread from where something is to be caught to what it is to act on.
class ThreadTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        from_ = ground_.pickAt(touch.scene, 3);
        end_ = touch;
        if (!from_)
            ground_.say(QObject::tr("Begin at a zone or a piece: that is where the event is caught"));
    }

    void drag(const Touch& touch) override
    {
        end_ = touch;
        ground_.redraw();
    }

    void release(const Touch& touch) override
    {
        const auto from = std::exchange(from_, std::nullopt);
        ground_.redraw();
        if (!from)
            return;
        const auto to = ground_.pickNear(touch.scene);
        if (!to) {
            ground_.say(QObject::tr("Let go over the piece that is to act"));
            return;
        }
        ground_.drewThread(from->piece, from->shape, to->piece, touch.view);
    }

    bool cancel() override
    {
        const bool was = std::exchange(from_, std::nullopt).has_value();
        ground_.redraw();
        return was;
    }

    void paint(QPainter& painter) override
    {
        if (!from_)
            return;
        for (const ShownPiece& piece : ground_.pieces())
            if (piece.index == from_->piece)
                ground_.paintLooseThread(painter, ground_.transform().toView(boundsOf(piece).centre()), end_.view);
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }
    QString hint() const override
    {
        return QObject::tr("Drag from where something happens, here or on the shelf, to the piece that is to act");
    }

  private:
    std::optional<Picked> from_;
    Touch end_;
};

// --- stamp ---------------------------------------------------------------------------------------------------------

/// Sets down pieces: of a template, one after another, or one that is ready.
class StampTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        if (assembly())
            return layAssembly(touch);
        if (!model()) {
            ground_.say(hint());
            return;
        }
        const bool once = ground_.ready().has_value();
        scene::Piece piece = once ? *ground_.ready() : stamped();
        piece.at = onGrid(touch.scene, touch.modifiers);
        const bool pins = piece.pinned;
        piece.pinned = false;
        ground_.placeNew(piece); // pins it if the glass is worked on
        piece.pinned = piece.pinned || pins;
        ground_.document().edit(once ? QObject::tr("Lay %1").arg(toText(piece.id))
                                     : QObject::tr("Stamp %1").arg(toText(piece.id)),
                                [&](scene::Scene& scene) { scene.pieces.push_back(piece); });
        ground_.selection().choosePiece(piece.id);
        if (once)
            ground_.setTool(ToolKind::select);
    }

    void drag(const Touch& touch) override { hover(touch); }
    void release(const Touch&) override {}

    void hover(const Touch& touch) override
    {
        at_ = touch;
        ground_.redraw();
    }

    bool cancel() override
    {
        at_.reset();
        return false;
    }

    void paint(QPainter& painter) override
    {
        if (!at_)
            return;
        painter.setOpacity(0.6);
        const Vec at = onGrid(at_->scene, at_->modifiers);
        if (const scene::Assembly* whole = assembly())
            for (const scene::Piece& part : whole->pieces)
                paintGhost(painter, part, {at + part.at, part.turn});
        else if (const scene::Piece* piece = model())
            paintGhost(painter, *piece, {at, piece->turn});
        painter.setOpacity(1);
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }
    QString hint() const override
    {
        if (ground_.ready())
            return QObject::tr("Click where the %1 is to be").arg(toText(ground_.ready()->id));
        if (!model() && !assembly())
            return QObject::tr("There is no template yet: select a piece and make one of it (Ctrl+T)");
        return QObject::tr("Click to set down a %1; B again takes the next one").arg(toText(ground_.stampName()));
    }

  private:
    /// The assembly that is stamped; null if it is a template.
    const scene::Assembly* assembly() const
    {
        const scene::Scene& scene = ground_.document().scene();
        return ground_.ready() || scene::findTemplate(scene, ground_.stampName())
                   ? nullptr
                   : scene::findAssembly(scene, ground_.stampName());
    }

    void layAssembly(const Touch& touch)
    {
        scene::Laid laid;
        laid.assembly = ground_.stampName();
        laid.at = onGrid(touch.scene, touch.modifiers);
        for (int n = 1; laid.id.empty(); ++n) { // lock-1, lock-2, …
            const std::string next = laid.assembly + "-" + std::to_string(n);
            if (scene::freeId(ground_.document().scene(), next) == next)
                laid.id = next;
        }
        ground_.document().edit(QObject::tr("Lay %1").arg(toText(laid.id)),
                                [&](scene::Scene& scene) { scene::lay(scene, laid); });
        const scene::Scene& scene = ground_.document().scene();
        if (const auto parts = scene::partsOf(scene, laid.id); !parts.empty())
            ground_.selection().choosePieces(scene::wholeOf(scene, scene.pieces[parts.front()].id));
    }

    void paintGhost(QPainter& painter, const scene::Piece& piece, const geometry::Pose& pose) const
    {
        for (const scene::Shape& shape : piece.shapes) {
            painter.setPen(QPen{theme().slate, 1.6, Qt::DashLine});
            painter.setBrush(shape.role == scene::Role::solid ? QBrush{theme().solid} : QBrush{Qt::NoBrush});
            painter.drawPath(shapePath(shape, pose, ground_.transform()));
        }
    }

    const scene::Piece* model() const
    {
        if (ground_.ready())
            return &*ground_.ready();
        const scene::Template* form = scene::findTemplate(ground_.document().scene(), ground_.stampName());
        return form ? &form->model : nullptr;
    }

    scene::Piece stamped() const
    {
        scene::Piece piece = scene::stamped(ground_.document().scene(), ground_.stampName());
        for (int n = 1; piece.id.empty(); ++n) { // ring-1, ring-2, …
            const std::string next = ground_.stampName() + "-" + std::to_string(n);
            if (scene::freeId(ground_.document().scene(), next) == next)
                piece.id = next;
        }
        return piece;
    }

    std::optional<Touch> at_;
};

// --- measure -------------------------------------------------------------------------------------------------------

/// Tells a distance and a direction.
class MeasureTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        lines_ = SnapLines{ground_.pieces(), ground_.transform(), [](const ShownPiece&) { return false; }};
        from_ = lines_.point(touch.scene, touch.modifiers).point;
        to_ = *from_;
    }

    void drag(const Touch& touch) override
    {
        Snap snap = lines_.point(touch.scene, touch.modifiers);
        to_ = snap.point;
        guides_ = std::move(snap.guides);
        ground_.say(text());
        ground_.redraw();
    }

    void release(const Touch&) override { guides_.clear(); }

    bool cancel() override
    {
        guides_.clear();
        const bool was = std::exchange(from_, std::nullopt).has_value();
        ground_.redraw();
        return was;
    }

    void paint(QPainter& painter) override
    {
        if (!from_)
            return;
        paintGuides(painter, guides_, ground_.transform());
        const QPointF a = ground_.transform().toView(*from_);
        const QPointF b = ground_.transform().toView(to_);
        painter.setPen(QPen{theme().plum, 1, Qt::DotLine});
        painter.drawLine(a, QPointF{b.x(), a.y()});
        painter.drawLine(QPointF{b.x(), a.y()}, b);
        painter.setPen(QPen{theme().plum, 2});
        painter.drawLine(a, b);
        painter.setBrush(theme().paper);
        painter.drawEllipse(a, 3.5, 3.5);
        painter.drawEllipse(b, 3.5, 3.5);
        paintFigure(painter, b + QPointF{12, -10}, text());
    }

    Qt::CursorShape cursorAt(const Touch&) override { return Qt::CrossCursor; }
    QString hint() const override { return QObject::tr("Drag between two places to measure; Alt suspends snapping"); }

  private:
    QString text() const
    {
        const Vec way = to_ - *from_;
        double angle = std::atan2(way.y, way.x) * 57.29577951308232;
        if (angle < 0)
            angle += 360;
        return QObject::tr("%1 m   %2 across, %3 up   %4°")
            .arg(glm::length(way), 0, 'f', 2)
            .arg(way.x, 0, 'f', 2)
            .arg(way.y, 0, 'f', 2)
            .arg(angle, 0, 'f', 1);
    }

    std::optional<Vec> from_;
    Vec to_{0, 0};
    SnapLines lines_;
    std::vector<Guide> guides_;
};

} // namespace

std::unique_ptr<GroundTool> makeThreadTool(ToolContext& ground)
{
    return std::make_unique<ThreadTool>(ground);
}

std::unique_ptr<GroundTool> makeStampTool(ToolContext& ground)
{
    return std::make_unique<StampTool>(ground);
}

std::unique_ptr<GroundTool> makeMeasureTool(ToolContext& ground)
{
    return std::make_unique<MeasureTool>(ground);
}

} // namespace snare::app
