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
        const int snare = static_cast<int>(i);
        if (scene.snares[i].gate.reset == scene::GateReset::vacated)
            forgetful_.push_back(snare);
        for (std::size_t kind = 0; kind < byKind_.size(); ++kind) {
            const auto event = static_cast<EventKind>(kind);
            if (std::ranges::find(catches.event.items, event) == catches.event.items.end())
                continue;
            byKind_[kind].push_back(snare);
            Index& index = index_[kind];
            const Where& where = where_.back();
            switch (scene::familyOf(event)) {
            case scene::EventFamily::key:
                for (const std::string& key : keys_.back())
                    (key == "any" ? index.others : index.byWord[key]).push_back(snare);
                break;
            case scene::EventFamily::timer:
                index.byWord[catches.source].push_back(snare);
                break;
            case scene::EventFamily::call:
                index.byWord[catches.name].push_back(snare);
                break;
            case scene::EventFamily::signal:
                index.byWord[catches.signal].push_back(snare);
                break;
            case scene::EventFamily::watch:
            case scene::EventFamily::scene:
                index.others.push_back(snare);
                break;
            default:
                addByPlace(index, where, snare);
                break;
            }
        }
        const scene::Filter& filter = scene.snares[i].filter;
        namesPointer_.push_back(std::ranges::find(filter.groups, "pointer") != filter.groups.end() ||
                                std::ranges::find(filter.pieces, "pointer") != filter.pieces.end());
        const bool catchesPointer = std::ranges::any_of(catches.event.items, [&](EventKind event) {
            const scene::EventFamily family = scene::familyOf(event);
            return family == scene::EventFamily::pointer ||
                   (family == scene::EventFamily::contact && namesPointer_.back() != 0);
        });
        if (catchesPointer)
            addByPlace(pointer_, where_.back(), snare);
    }
}

void Book::addByPlace(Index& index, const Where& where, int snare)
{
    if (where.kind == Where::Kind::piece)
        index.byPiece[where.piece].push_back(snare);
    else if (where.kind == Where::Kind::selector)
        index.bySelector[where.selector].push_back(snare);
    else
        index.others.push_back(snare);
}

const std::vector<int>& Book::hearersOf(EventKind kind, PieceIndex self, std::string_view word,
                                        const world::World& world) const
{
    return find(index_[static_cast<std::size_t>(kind)], self, word, world);
}

const std::vector<int>& Book::find(const Index& index, PieceIndex self, std::string_view word,
                                   const world::World& world) const
{
    int parts = 0;
    found_.clear();
    const auto add = [&](const std::vector<int>& snares) {
        parts += snares.empty() ? 0 : 1;
        found_.insert(found_.end(), snares.begin(), snares.end());
    };
    const auto addFrom = [&](const auto& map, const auto& key) {
        if (!map.empty())
            if (const auto found = map.find(key); found != map.end())
                add(found->second);
    };
    add(index.others);
    if (!index.byWord.empty())
        addFrom(index.byWord, std::string(word));
    if (self >= 0) {
        addFrom(index.byPiece, self);
        if (!index.bySelector.empty()) {
            const world::LivePiece& piece = world.piece(self);
            for (const std::string& tag : piece.tags)
                addFrom(index.bySelector, "tag:" + tag);
            addFrom(index.bySelector, "group:" + world.groups.nameOf(piece.group));
            if (!piece.templateName.empty())
                addFrom(index.bySelector, "template:" + piece.templateName);
        }
    }
    if (parts > 1) { // each part is in book order already
        std::ranges::sort(found_);
        found_.erase(std::unique(found_.begin(), found_.end()), found_.end());
    }
    return found_;
}

} // namespace snare::rules
