// SPDX-License-Identifier: Apache-2.0
#include "rules/book.h"

#include "rules/evaluator.h"

namespace snare::rules {

namespace {

using PieceNumbers = std::unordered_map<std::string_view, std::size_t>;

Where whereOf(const scene::Scene& scene, const PieceNumbers& numbers, const scene::Catch& catches)
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
    const auto found = numbers.find(catches.at);
    if (found == numbers.end())
        return where;
    where.kind = Where::Kind::piece;
    where.piece = static_cast<PieceIndex>(found->second);
    if (!catches.shape.empty()) {
        const auto number = scene::findShape(scene.pieces[found->second], catches.shape);
        where.shapeNumber = number ? static_cast<int>(*number) : -1;
        if (!number)
            where.kind = Where::Kind::nowhere;
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

bool mayAskForMeeting(const scene::Response& response)
{
    return std::visit(
        [](const auto& kind) {
            if constexpr (requires { kind.until; })
                return kind.until.has_value();
            else
                return std::is_same_v<std::decay_t<decltype(kind)>, scene::RunRoutine> ||
                       std::is_same_v<std::decay_t<decltype(kind)>, scene::Prompt>;
        },
        response.kind);
}

} // namespace

bool hearsAt(const Where& where, PieceIndex self, const world::World& world)
{
    switch (where.kind) {
    case Where::Kind::scene:
        return self == theScene;
    case Where::Kind::piece:
        return where.piece == self;
    case Where::Kind::selector:
        return isSelected(where.selector, world, self);
    case Where::Kind::nowhere:
        break;
    }
    return false;
}

Book::Book(const scene::Scene& scene)
{
    PieceNumbers numbers;
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        numbers[scene.pieces[i].id] = i; // of two with one name, the last
    for (std::size_t i = 0; i < scene.snares.size(); ++i) {
        const scene::Catch& catches = scene.snares[i].catches;
        where_.push_back(whereOf(scene, numbers, catches));
        keys_.push_back(rules::keysOf(scene, catches));
        const int snare = static_cast<int>(i);
        asksForMeeting_.push_back(std::ranges::any_of(scene.snares[i].responses, mayAskForMeeting));
        byName_.emplace(scene.snares[i].id, snare); // of two with one name, the first
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
    if (where.kind == Where::Kind::piece) {
        if (index.byPiece.size() <= static_cast<std::size_t>(where.piece))
            index.byPiece.resize(static_cast<std::size_t>(where.piece) + 1);
        index.byPiece[static_cast<std::size_t>(where.piece)].push_back(snare);
    } else if (where.kind == Where::Kind::selector) {
        index.bySelector[where.selector].push_back(snare);
    } else {
        index.others.push_back(snare);
    }
}

std::span<const int> Book::hearersOf(EventKind kind, PieceIndex self, std::string_view word, const world::World& world,
                                     std::vector<int>& room) const
{
    return find(index_[static_cast<std::size_t>(kind)], self, word, world, room);
}

std::span<const int> Book::find(const Index& index, PieceIndex self, std::string_view word, const world::World& world,
                                std::vector<int>& room)
{
    const auto place = static_cast<std::size_t>(self);                            // beyond all lists if it is no piece
    if (index.others.empty() && index.byWord.empty() && index.bySelector.empty()) // as most are
        return place < index.byPiece.size() ? std::span<const int>(index.byPiece[place]) : std::span<const int>();
    std::span<const int> found; // in most cases one list is all, or nobody listens at all
    room.clear();
    const auto add = [&](const std::vector<int>& snares) {
        if (snares.empty())
            return;
        if (found.empty()) {
            found = snares;
            return;
        }
        if (room.empty())
            room.assign(found.begin(), found.end());
        room.insert(room.end(), snares.begin(), snares.end());
    };
    const auto addFrom = [&](const auto& map, const auto& key) {
        if (const auto list = map.find(key); list != map.end())
            add(list->second);
    };
    add(index.others);
    if (!index.byWord.empty())
        addFrom(index.byWord, word);
    if (self >= 0) {
        if (place < index.byPiece.size())
            add(index.byPiece[place]);
        if (!index.bySelector.empty()) {
            const world::LivePiece& piece = world.piece(self);
            for (const std::string& tag : piece.tags)
                addFrom(index.bySelector, "tag:" + tag);
            addFrom(index.bySelector, "group:" + world.groups().nameOf(piece.group));
            if (!piece.templateName.empty())
                addFrom(index.bySelector, "template:" + piece.templateName);
            if (!piece.part.empty())
                addFrom(index.bySelector, "part:" + piece.part);
        }
    }
    if (room.empty())
        return found;
    std::ranges::sort(room); // each part is in book order already
    room.erase(std::unique(room.begin(), room.end()), room.end());
    return room;
}

} // namespace snare::rules
