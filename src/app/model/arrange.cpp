// SPDX-License-Identifier: Apache-2.0
#include "app/model/arrange.h"

#include "world/outline.h"

#include <cmath>

namespace snare::app {

using geometry::Bounds;

namespace {

struct Boxed {
    scene::Piece* piece;
    Bounds box;
};

std::vector<Boxed> boxesOf(scene::Scene& scene, const std::vector<std::string>& pieces)
{
    std::vector<Boxed> boxes;
    for (const std::string& id : pieces)
        if (scene::Piece* piece = scene::findPiece(scene, id)) {
            Bounds box;
            for (const scene::Shape& shape : piece->shapes)
                box.include(world::boundsOf(shape, {piece->at, piece->turn}));
            if (box.empty())
                box.include(piece->at);
            boxes.push_back({piece, box});
        }
    return boxes;
}

void shift(scene::Piece& piece, double x, double y)
{
    const auto millimetre = [](double value) { return std::round(value * 1000) / 1000; };
    piece.at = {millimetre(piece.at.x + x), millimetre(piece.at.y + y)};
}

} // namespace

void align(scene::Scene& scene, const std::vector<std::string>& pieces, Side side)
{
    const std::vector<Boxed> boxes = boxesOf(scene, pieces);
    Bounds all;
    for (const Boxed& one : boxes)
        all.include(one.box);
    for (const auto& [piece, box] : boxes) {
        switch (side) {
        case Side::left:
            shift(*piece, all.low.x - box.low.x, 0);
            break;
        case Side::centre:
            shift(*piece, all.centre().x - box.centre().x, 0);
            break;
        case Side::right:
            shift(*piece, all.high.x - box.high.x, 0);
            break;
        case Side::top:
            shift(*piece, 0, all.high.y - box.high.y);
            break;
        case Side::middle:
            shift(*piece, 0, all.centre().y - box.centre().y);
            break;
        case Side::bottom:
            shift(*piece, 0, all.low.y - box.low.y);
            break;
        }
    }
}

void distribute(scene::Scene& scene, const std::vector<std::string>& pieces, bool across)
{
    std::vector<Boxed> boxes = boxesOf(scene, pieces);
    if (boxes.size() < 3)
        return;
    const auto low = [&](const Boxed& one) { return across ? one.box.low.x : one.box.low.y; };
    const auto size = [&](const Boxed& one) { return across ? one.box.size().x : one.box.size().y; };
    std::ranges::stable_sort(boxes, {}, low);
    double covered = 0;
    for (const Boxed& one : boxes)
        covered += size(one);
    const double room = low(boxes.back()) + size(boxes.back()) - low(boxes.front());
    const double gap = (room - covered) / static_cast<double>(boxes.size() - 1);
    double next = low(boxes.front());
    for (std::size_t i = 0; i + 1 < boxes.size(); ++i) {
        const double by = next - low(boxes[i]);
        shift(*boxes[i].piece, across ? by : 0, across ? 0 : by);
        next += size(boxes[i]) + gap;
    }
}

void restack(scene::Scene& scene, const std::vector<std::string>& pieces, int by, bool outmost)
{
    const auto chosen = [&](const scene::Piece& piece) { return std::ranges::find(pieces, piece.id) != pieces.end(); };
    int edge = 0;
    bool first = true;
    for (const scene::Piece& piece : std::as_const(scene.pieces))
        if (!chosen(piece)) {
            edge = first ? piece.layer : by > 0 ? std::max(edge, piece.layer) : std::min(edge, piece.layer);
            first = false;
        }
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (chosen(std::as_const(scene.pieces)[i])) {
            int& layer = scene.pieces[i].layer;
            layer = std::clamp(outmost ? edge + by : layer + by, -1000000, 1000000);
        }
}

} // namespace snare::app
