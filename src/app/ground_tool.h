// SPDX-License-Identifier: Apache-2.0
/// The tools of the ground: what presses and drags mean.
#pragma once

#include "app/ground_view.h"

namespace snare::app {

/// Where the pointer is, in both worlds.
struct Touch {
    QPointF view;
    Vec scene;
    Qt::KeyboardModifiers modifiers;
};

class GroundTool {
  public:
    explicit GroundTool(GroundView& ground) : ground_(ground) {}
    virtual ~GroundTool() = default;
    GroundTool(const GroundTool&) = delete;
    GroundTool& operator=(const GroundTool&) = delete;

    virtual void press(const Touch& touch) = 0;
    virtual void drag(const Touch& touch) = 0;
    virtual void release(const Touch& touch) = 0;
    /// Gives up what is under way. False if nothing was.
    virtual bool cancel() = 0;
    virtual void paint(QPainter&) {}
    virtual Qt::CursorShape cursorAt(const Touch&) { return Qt::ArrowCursor; }
    virtual QString hint() const = 0;

  protected:
    GroundView& ground_;
};

std::unique_ptr<GroundTool> makeTool(ToolKind kind, GroundView& ground);

} // namespace snare::app
