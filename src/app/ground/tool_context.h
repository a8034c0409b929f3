// SPDX-License-Identifier: Apache-2.0
/// What the tools of the ground work with: the scene and what is chosen of it, how it lies in the
/// view, and who hears what was done. The ground is one; a test may be another.
#pragma once

#include "app/ground/ground_scene.h"
#include "app/ground/ground_threads.h"
#include "app/ground/handles.h"
#include "app/ground/tool_kind.h"
#include "app/ground/transform.h"
#include "app/model/document.h"
#include "app/model/selection.h"

#include <QPainter>

#include <optional>
#include <string>
#include <vector>

namespace snare::app {

class ToolContext {
  public:
    virtual ~ToolContext() = default;

    virtual Document& document() = 0;
    virtual Selection& selection() = 0;
    virtual const GroundTransform& transform() const = 0;
    /// The pieces at the moment shown, lowest first.
    virtual const std::vector<ShownPiece>& pieces() = 0;
    virtual ToolKind tool() const = 0;
    virtual ShapeKind shapeKind() const = 0;
    /// The template that the stamp sets down; empty if there is none.
    virtual std::string stampName() const = 0;

    /// The piece that a click sets down instead of one of the template; nothing if none was taken.
    virtual const std::optional<scene::Piece>& ready() const = 0;

    /// Whether a piece is neither locked nor veiled nor under the glass that is worked on.
    virtual bool canPick(const ShownPiece& piece) const = 0;
    /// The topmost piece at a point in m that can be picked; `pixels` widens thin ones.
    virtual std::optional<Picked> pickAt(const Vec& point, double pixels) = 0;
    /// All shapes at a point that can be picked, the topmost first.
    virtual std::vector<Picked> pickAllAt(const Vec& point, double pixels) = 0;
    /// The piece at the point, else one near it: for letting go of threads.
    virtual std::optional<Picked> pickNear(const Vec& point) = 0;
    /// What of the selected shape can be taken.
    virtual std::vector<Handle> handles() = 0;
    /// The threads as they lie.
    virtual std::vector<DrawnThread> threads() = 0;
    /// Where the pointer is in the scene, m, or the middle of the view.
    virtual Vec pointerOrMiddle() const = 0;
    /// Pins a new piece if the glass is worked on; its place is in the scene until then.
    virtual void placeNew(scene::Piece& piece) const = 0;

    /// Says what is expected next, or what is under way.
    virtual void say(const QString& hint) = 0;
    /// The picture is out of date.
    virtual void redraw() = 0;
    /// A thread that hangs on the pointer, and what letting go would take. Points of the view.
    virtual void paintLooseThread(QPainter& painter, const QPointF& from, const QPointF& to) = 0;
    /// Numbers that were typed are used up.
    virtual void forgetTyped() = 0;
    /// Another tool, once the call that is under way has come back: a tool may ask for it anywhere.
    virtual void setTool(ToolKind kind) = 0;

    /// A thread was drawn from a shape of a piece to a piece; `at` is a point of the view.
    virtual void drewThread(std::size_t from, std::size_t shape, std::size_t to, const QPointF& at) = 0;
    /// The label of a thread was clicked: one snare, or several in a bundle.
    virtual void clickedThread(const std::vector<std::string>& snares, const QPointF& at) = 0;
    /// The end of a thread was laid on another piece.
    virtual void movedThread(const std::vector<std::string>& snares, const QString& from, const QString& to) = 0;
};

} // namespace snare::app
