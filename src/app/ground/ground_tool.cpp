// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_tool.h"

#include <QObject>

#include <cmath>

namespace snare::app {

QString wordOf(ShapeKind kind)
{
    switch (kind) {
    case ShapeKind::box:
        return QObject::tr("box");
    case ShapeKind::circle:
        return QObject::tr("circle");
    case ShapeKind::capsule:
        return QObject::tr("capsule");
    case ShapeKind::polygon:
        return QObject::tr("polygon");
    case ShapeKind::line:
        return QObject::tr("line");
    case ShapeKind::ring:
        return QObject::tr("closed line");
    }
    return {};
}

std::vector<ShapeKind> kindsOf(ToolKind tool)
{
    switch (tool) {
    case ToolKind::solid:
    case ToolKind::zone:
        return {ShapeKind::box, ShapeKind::circle, ShapeKind::capsule, ShapeKind::polygon};
    case ToolKind::line:
        return {ShapeKind::line, ShapeKind::ring};
    default:
        return {};
    }
}

std::unique_ptr<GroundTool> makeTool(ToolKind kind, ToolContext& ground)
{
    switch (kind) {
    case ToolKind::solid:
    case ToolKind::line:
        return makeDrawTool(ground, scene::Role::solid);
    case ToolKind::zone:
        return makeDrawTool(ground, scene::Role::zone);
    case ToolKind::thread:
        return makeThreadTool(ground);
    case ToolKind::stamp:
        return makeStampTool(ground);
    case ToolKind::measure:
        return makeMeasureTool(ground);
    case ToolKind::select:
        break;
    }
    return makeSelectTool(ground);
}

double pixelsBetween(const QPointF& a, const QPointF& b)
{
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

Vec rounded(const Vec& v)
{
    return {std::round(v.x * 1000) / 1000, std::round(v.y * 1000) / 1000};
}

} // namespace snare::app
