// SPDX-License-Identifier: Apache-2.0
#include "io/drawing.h"

#include "world/outline.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <pugixml.hpp>

#include <algorithm>
#include <sstream>

namespace snare::io {

namespace {

using geometry::Vec;

/// Metres with nine digits, without "-0".
std::string number(double value)
{
    return fmt::format("{:.9g}", value == 0 ? 0.0 : value);
}

/// y of the drawing goes down.
std::string pair(const Vec& point)
{
    return number(point.x) + "," + number(-point.y);
}

std::string listOf(const std::vector<Vec>& points)
{
    std::string text;
    for (const Vec& point : points)
        text += (text.empty() ? "" : " ") + pair(point);
    return text;
}

void set(pugi::xml_node node, const char* name, const std::string& value)
{
    node.append_attribute(name) = value.c_str();
}

/// One shape in the axes of its piece.
pugi::xml_node addShape(pugi::xml_node group, const scene::Shape& shape)
{
    pugi::xml_node node;
    std::string extra; // classes
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        node = group.append_child("circle");
        set(node, "cx", number(shape.at.x));
        set(node, "cy", number(-shape.at.y));
        set(node, "r", number(circle->radius));
    } else if (const auto* box = std::get_if<scene::Box>(&shape.geometry)) {
        node = group.append_child("rect");
        set(node, "x", number(shape.at.x - box->size.x / 2));
        set(node, "y", number(-shape.at.y - box->size.y / 2));
        set(node, "width", number(box->size.x));
        set(node, "height", number(box->size.y));
        if (shape.turn != 0)
            set(node, "transform",
                fmt::format("rotate({} {} {})", number(-shape.turn), number(shape.at.x), number(-shape.at.y)));
    } else if (const auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        const geometry::Pose pose{shape.at, shape.turn};
        const Vec from = geometry::toScene(pose, capsule->from);
        const Vec to = geometry::toScene(pose, capsule->to);
        node = group.append_child("line");
        set(node, "x1", number(from.x));
        set(node, "y1", number(-from.y));
        set(node, "x2", number(to.x));
        set(node, "y2", number(-to.y));
        set(node, "style", fmt::format("stroke-width: {}; stroke-linecap: round", number(capsule->radius * 2)));
        extra = " capsule";
    } else if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry)) {
        node = group.append_child("path");
        std::string path;
        if (const scene::TracedArea* area = world::shownArea(*traced))
            for (const geometry::Ring& ring : area->rings) {
                std::vector<Vec> points;
                for (const Vec& point : ring)
                    points.push_back(geometry::toScene({shape.at, shape.turn}, point));
                path += "M" + listOf(points) + "Z";
            }
        set(node, "d", path);
        set(node, "fill-rule", "evenodd");
    } else {
        const auto* line = std::get_if<scene::Line>(&shape.geometry);
        std::vector<Vec> points = *scene::pointsOf(shape.geometry);
        for (Vec& point : points)
            point = geometry::toScene({shape.at, shape.turn}, point);
        node = group.append_child(line && !line->closed ? "polyline" : "polygon");
        set(node, "points", listOf(points));
        extra = line ? " line" : "";
    }
    set(node, "class", std::string(scene::wordOf(shape.role)) + extra);
    return node;
}

const char* const sheet = R"(
    .solid { fill: #dde3df; stroke: #14323b; stroke-width: 0.03; }
    .zone { fill: #1f8a7a; fill-opacity: 0.12; stroke: #1f8a7a; stroke-width: 0.03; stroke-dasharray: 0.15 0.08; }
    .line { fill: none; }
    .capsule.solid { stroke: #dde3df; }
    .capsule.zone { stroke-opacity: 0.2; stroke-dasharray: none; }
    text { font: 0.3px sans-serif; fill: #14323b; text-anchor: middle; }
)";

/// What a piece's shapes of one role stand in.
pugi::xml_node addGroup(pugi::xml_node layer, const char* role, const std::string& id, const scene::Piece& piece,
                        const sim::PieceState& state)
{
    pugi::xml_node group = layer.append_child("g");
    set(group, "id", fmt::format("{}.{}", role, id));
    set(group, "data-piece", id);
    if (!piece.group.empty())
        set(group, "data-group", piece.group);
    if (!piece.tags.empty())
        set(group, "data-tags", fmt::format("{}", fmt::join(piece.tags, " ")));
    if (state.layer != 0)
        set(group, "data-layer", std::to_string(state.layer));
    if (!std::holds_alternative<scene::StaticBody>(piece.body))
        set(group, "data-body", std::string(scene::kindOf(piece.body)));
    std::string transform = fmt::format("translate({} {})", number(state.pose.at.x), number(-state.pose.at.y));
    if (state.pose.turn != 0)
        transform += fmt::format(" rotate({})", number(-state.pose.turn));
    set(group, "transform", transform);
    return group;
}

} // namespace

std::string svgOf(const sim::Record& record, std::int64_t tick)
{
    pugi::xml_document document;
    pugi::xml_node svg = document.append_child("svg");
    set(svg, "xmlns", "http://www.w3.org/2000/svg");
    set(svg, "data-format", "fresh-snare-drawing");
    const std::string& name = record.scene->name;
    svg.append_child("title").text() = fmt::format("{} at {:.3f} s", name.empty() ? std::string("Scene") : name,
                                            static_cast<double>(tick) / record.scene->rate)
                                    .c_str();
    svg.append_child("style").text() = sheet;
    pugi::xml_node zones = svg.append_child("g");
    set(zones, "id", "zones");
    pugi::xml_node solids = svg.append_child("g");
    set(solids, "id", "solids");
    pugi::xml_node labels = svg.append_child("g");
    set(labels, "id", "labels");

    const std::vector<sim::PieceState> states = record.snapshots.at(tick);
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < states.size(); ++i)
        if (states[i].present && states[i].here && states[i].shown && !record.pieces[i].model->pinned)
            order.push_back(i);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return states[i].layer; });
    geometry::Bounds bounds;
    for (const std::size_t i : order) {
        const sim::PieceState& state = states[i];
        const scene::Look& look = record.looks[static_cast<std::size_t>(state.look)];
        const scene::Piece piece = world::asShown(*record.pieces[i].model, state.scale, look.image);
        pugi::xml_node ofZones;
        pugi::xml_node ofSolids;
        for (std::size_t s = 0; s < piece.shapes.size(); ++s) {
            const scene::Shape& shape = piece.shapes[s];
            if (s < 64 && (state.hiddenShapes >> s & 1) != 0)
                continue;
            const bool isZone = shape.role == scene::Role::zone;
            pugi::xml_node& group = isZone ? ofZones : ofSolids;
            if (!group)
                group = addGroup(isZone ? zones : solids, isZone ? "zone" : "solid", record.pieces[i].id, piece, state);
            pugi::xml_node node = addShape(group, shape);
            set(node, "data-shape", scene::shapeName(piece, s));
            const geometry::Bounds box = world::boundsOf(shape, state.pose);
            bounds.include(box.low);
            bounds.include(box.high);
        }
        pugi::xml_node label = labels.append_child("text");
        set(label, "data-piece", record.pieces[i].id);
        set(label, "x", number(state.pose.at.x));
        set(label, "y", number(-state.pose.at.y));
        label.text() = record.pieces[i].id.c_str();
    }
    if (bounds.empty())
        bounds.include(Vec{0, 0});
    constexpr double margin = 0.5; // m
    constexpr double pixels = 48;  // a metre
    bounds.grow(margin);
    const Vec size = bounds.high - bounds.low;
    set(svg, "viewBox",
        fmt::format("{} {} {} {}", number(bounds.low.x), number(-bounds.high.y), number(size.x), number(size.y)));
    set(svg, "width", number(size.x * pixels));
    set(svg, "height", number(size.y * pixels));
    std::ostringstream text;
    document.save(text, "  ", pugi::format_default, pugi::encoding_utf8);
    return text.str();
}

} // namespace snare::io
