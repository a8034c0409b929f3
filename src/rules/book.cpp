// SPDX-License-Identifier: Apache-2.0
#include "rules/book.h"

namespace snare::rules {

namespace {

Where whereOf(const scene::Scene& scene, const scene::Catch& catches)
{
    Where where;
    if (catches.at.empty() || catches.at == "scene")
        return where;
    if (scene::isSelector(catches.at)) {
        where.kind = Where::Kind::selector;
        where.selector = catches.at;
        return where;
    }
    where.kind = Where::Kind::nowhere;
    for (std::size_t i = 0; i < scene.pieces.size(); ++i) {
        if (scene.pieces[i].id != catches.at)
            continue;
        where.kind = Where::Kind::piece;
        where.piece = static_cast<PieceIndex>(i);
        if (!catches.shape.empty()) {
            const auto number = scene::findShape(scene.pieces[i], catches.shape);
            where.shapeNumber = number ? static_cast<int>(*number) : -1;
            if (!number)
                where.kind = Where::Kind::nowhere;
        }
    }
    return where;
}

std::vector<std::string> keysOf(const scene::Scene& scene, const scene::Catch& catches)
{
    if (!catches.key.empty())
        return {catches.key};
    if (const scene::Source* source = scene::findSource(scene, catches.source))
        if (const auto* keys = std::get_if<scene::KeySource>(&source->kind))
            return keys->keys;
    return catches.source.empty() ? std::vector<std::string>{"any"} : std::vector<std::string>{};
}

} // namespace

Book::Book(const scene::Scene& scene)
{
    for (std::size_t i = 0; i < scene.snares.size(); ++i) {
        const scene::Catch& catches = scene.snares[i].catches;
        where_.push_back(whereOf(scene, catches));
        keys_.push_back(rules::keysOf(scene, catches));
        for (std::size_t kind = 0; kind < byKind_.size(); ++kind)
            if (std::ranges::find(catches.event.items, static_cast<EventKind>(kind)) != catches.event.items.end())
                byKind_[kind].push_back(static_cast<int>(i));
    }
}

} // namespace snare::rules
