// SPDX-License-Identifier: Apache-2.0
/// A handle that is dragged: a side of a shape, a corner, the way a piece is turned, a point of its
/// route, the tip of its velocity, a side of the scene's bounds, or a place of the pointer in the
/// take.
#pragma once

#include "app/ground/ground_tool.h"

#include <array>

namespace snare::app {

class HandleDrag {
  public:
    /// The handle was pressed at `start`. Unless it is one of the bounds, a single piece is
    /// selected.
    HandleDrag(ToolContext& ground, const Handle& handle, const Touch& start);

    /// The pointer is at `touch`, or `numbers` were typed instead: the scene is edited, within the
    /// gesture.
    void follow(const Touch& touch, const std::vector<double>& numbers, int gesture);

    const Handle& handle() const { return handle_; }
    /// What it comes to: "2.00 × 1.50 m".
    const QString& said() const { return said_; }
    bool takesNumbers() const;
    QString numbersMean() const;

  private:
    void work();
    void replaceWith(const QString& name, const scene::Piece& piece);
    void size();
    void turn();
    void reroute();
    void bend();
    void speed();
    void bendPath();
    void enclose();
    double onStep(double value) const;

    ToolContext& ground_;
    Handle handle_;
    Touch start_;
    Touch last_;
    std::size_t shape_; ///< of the piece, by index
    scene::Piece original_;
    geometry::Pose shown_; ///< of the piece, at the moment shown
    scene::Take take_;     ///< with its pointer's path
    std::array<double, 4> bounds_{0, 0, 0, 0};
    std::vector<double> numbers_;
    int gesture_ = 0;
    QString said_;
};

} // namespace snare::app
