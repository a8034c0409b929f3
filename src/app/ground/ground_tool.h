// SPDX-License-Identifier: Apache-2.0
/// The tools of the ground: what presses and drags mean.
#pragma once

#include "app/ground/tool_context.h"

#include <memory>

namespace snare::app {

/// Where the pointer is, in both worlds.
struct Touch {
    QPointF view;
    Vec scene{0, 0};
    Qt::KeyboardModifiers modifiers;
};

class GroundTool {
  public:
    explicit GroundTool(ToolContext& ground) : ground_(ground) {}
    virtual ~GroundTool() = default;
    GroundTool(const GroundTool&) = delete;
    GroundTool& operator=(const GroundTool&) = delete;

    virtual void press(const Touch& touch) = 0;
    virtual void drag(const Touch& touch) = 0;
    virtual void release(const Touch& touch) = 0;
    /// The pointer moves without a button.
    virtual void hover(const Touch&) {}
    virtual void doubleClick(const Touch&) {}
    /// Gives up what is under way. False if nothing was.
    virtual bool cancel() = 0;
    /// Return: what is under way is done. False if nothing was.
    virtual bool finish() { return false; }
    /// Backspace or Delete: takes back the last step, or deletes what is chosen within a piece.
    /// False if there is nothing.
    virtual bool takeBack() { return false; }
    /// True while numbers that are typed are about what is under way.
    virtual bool takesNumbers() const { return false; }
    /// The numbers typed so far, instead of where the pointer is. Empty: the pointer again.
    virtual void useNumbers(const std::vector<double>&) {}
    /// What the numbers mean: "width × height, m".
    virtual QString numbersMean() const { return {}; }
    virtual void paint(QPainter&) {}
    virtual Qt::CursorShape cursorAt(const Touch&) { return Qt::ArrowCursor; }
    /// What the tool expects next.
    virtual QString hint() const = 0;

  protected:
    ToolContext& ground_;
};

std::unique_ptr<GroundTool> makeTool(ToolKind kind, ToolContext& ground);
std::unique_ptr<GroundTool> makeSelectTool(ToolContext& ground);
std::unique_ptr<GroundTool> makeDrawTool(ToolContext& ground, scene::Role role);
std::unique_ptr<GroundTool> makeThreadTool(ToolContext& ground);
std::unique_ptr<GroundTool> makeStampTool(ToolContext& ground);
std::unique_ptr<GroundTool> makeMeasureTool(ToolContext& ground);

/// Distances in pixels.
inline constexpr double dragPixels = 4; ///< less is a click
inline constexpr double handlePixels = 7;
double pixelsBetween(const QPointF& a, const QPointF& b);

/// To a whole millimetre.
Vec rounded(const Vec& v);

} // namespace snare::app
