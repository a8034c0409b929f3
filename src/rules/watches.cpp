// SPDX-License-Identifier: Apache-2.0
#include "rules/watches.h"

#include "rules/values.h"

namespace snare::rules {

Watches::Watches(const scene::Scene& scene, const Book& book)
{
    bySnare_.assign(scene.snares.size(), -1);
    for (std::size_t i = 0; i < scene.snares.size(); ++i) {
        const scene::Catch& catches = scene.snares[i].catches;
        const bool watching = std::ranges::any_of(
            catches.event.items, [](EventKind kind) { return scene::familyOf(kind) == scene::EventFamily::watch; });
        if (!watching || !catches.level)
            continue;
        Watch watch;
        watch.where = book.where(static_cast<int>(i));
        watch.level = *catches.level;
        watch.band = catches.band;
        if (!catches.source.empty()) {
            watch.owner = watch.word = catches.source;
            watch.name = "value";
        } else {
            watch.word = catches.watch;
            const auto dot = catches.watch.find('.');
            if (dot == std::string::npos)
                continue;
            watch.owner = catches.watch.substr(0, dot);
            watch.name = catches.watch.substr(dot + 1);
        }
        const auto same = std::ranges::find_if(list_, [&](const Watch& other) {
            return other.word == watch.word && other.level == watch.level && other.band == watch.band &&
                   other.where.kind == watch.where.kind && other.where.piece == watch.where.piece &&
                   other.where.selector == watch.where.selector;
        });
        bySnare_[i] = static_cast<int>(same - list_.begin());
        if (same == list_.end())
            list_.push_back(std::move(watch));
    }
}

bool Watches::isWatched(std::string_view name) const
{
    return std::ranges::any_of(list_, [&](const Watch& watch) { return watch.name == name; });
}

Watches::State& Watches::stateOf(int watch, PieceIndex self)
{
    const auto found =
        std::ranges::find_if(states_, [&](const State& s) { return s.watch == watch && s.self == self; });
    return found == states_.end() ? states_.emplace_back(State{watch, self}) : *found;
}

void Watches::judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world,
                    const std::function<void(int watch, PieceIndex self, EventKind kind)>& crossed)
{
    const auto judgeOne = [&](int index, const Watch& watch, PieceIndex self) {
        bool rises = old <= watch.level && now > watch.level;
        bool falls = old >= watch.level && now < watch.level;
        if (watch.band > 0) {
            State& state = stateOf(index, self);
            state.mustDip = state.mustDip && !(now < watch.level - watch.band);
            state.mustPeak = state.mustPeak && !(now > watch.level + watch.band);
            rises = rises && !state.mustDip;
            falls = falls && !state.mustPeak;
            state.mustDip = state.mustDip || rises;
            state.mustPeak = state.mustPeak || falls;
        }
        if (rises)
            crossed(index, self, EventKind::rises);
        if (falls)
            crossed(index, self, EventKind::falls);
    };
    for (std::size_t i = 0; i < list_.size(); ++i) {
        const Watch& watch = list_[i];
        if (watch.name != name)
            continue;
        const int index = static_cast<int>(i);
        const Where& where = watch.where;
        if (watch.owner == "self") {
            const bool mine = where.kind == Where::Kind::scene      ? owner == theScene
                              : where.kind == Where::Kind::piece    ? owner == where.piece
                              : where.kind == Where::Kind::selector ? isSelected(where.selector, world, owner)
                                                                    : false;
            if (mine)
                judgeOne(index, watch, owner);
            continue;
        }
        if (world.nameOf(owner) != watch.owner)
            continue;
        if (where.kind == Where::Kind::scene)
            judgeOne(index, watch, theScene);
        else if (where.kind == Where::Kind::piece && world.piece(where.piece).present)
            judgeOne(index, watch, where.piece);
        else if (where.kind == Where::Kind::selector)
            for (const PieceIndex self : piecesOf(where.selector, world))
                judgeOne(index, watch, self);
    }
}

} // namespace snare::rules
