// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ready_pieces.h"

#include <QObject>

namespace snare::app {

QString titleOf(Ready kind)
{
    switch (kind) {
    case Ready::walker:
        return QObject::tr("Walker");
    case Ready::fallingBox:
        return QObject::tr("Falling box");
    case Ready::button:
        return QObject::tr("Button on the glass");
    case Ready::words:
        return QObject::tr("Words");
    }
    return {};
}

QString synonymsOf(Ready kind)
{
    switch (kind) {
    case Ready::walker:
        return QObject::tr("player character hero courier steer arrows keys");
    case Ready::fallingBox:
        return QObject::tr("crate dynamic physics loose barrel tumble");
    case Ready::button:
        return QObject::tr("click switch panel interface");
    case Ready::words:
        return QObject::tr("text label sign caption");
    }
    return {};
}

bool isOnGlass(Ready kind)
{
    return kind == Ready::button;
}

scene::Piece readyPiece(Ready kind, const scene::Scene& scene)
{
    const bool fromTheSide = scene.view == scene::View::side;
    scene::Piece piece;
    scene::Shape shape;
    switch (kind) {
    case Ready::walker: {
        piece.id = "walker";
        scene::WalkerBody body;
        body.steer.held = scene::SteerSet::arrows;
        if (fromTheSide) {
            body.jump = 5;
            shape.geometry = scene::Capsule{{0, -0.5}, {0, 0.5}, 0.35};
        } else {
            shape.geometry = scene::Circle{0.4};
        }
        piece.body = body;
        piece.look.colour.code = "#3d5a98";
        break;
    }
    case Ready::fallingBox: {
        piece.id = "box";
        scene::DynamicBody body;
        body.damping = fromTheSide ? 0 : 2; // seen from above, what is pushed slides to a stop
        piece.body = body;
        shape.geometry = scene::Box{{1, 1}};
        piece.look.colour.code = "#b98a1e";
        break;
    }
    case Ready::button:
        piece.id = "button";
        piece.pinned = true;
        shape.geometry = scene::Box{{3, 1}};
        piece.look.label = "Press";
        break;
    case Ready::words:
        piece.id = "words";
        shape.role = scene::Role::zone;
        shape.geometry = scene::Box{{4, 1}};
        piece.look.label = "Words";
        piece.through = true;
        break;
    }
    piece.shapes.push_back(shape);
    piece.id = scene::freeId(scene, piece.id);
    return piece;
}

} // namespace snare::app
