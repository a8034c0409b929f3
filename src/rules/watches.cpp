// SPDX-License-Identifier: Apache-2.0
#include "rules/watches.h"

#include "rules/evaluator.h"

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
            return other.word == watch.word && other.level == watch.level && other.band == watch.band;
        });
        const auto index = static_cast<std::size_t>(same - list_.begin());
        bySnare_[i] = static_cast<int>(index);
        if (same == list_.end()) {
            byName_[watch.name].push_back(bySnare_[i]);
            list_.push_back(std::move(watch));
        }
        list_[index].where.push_back(book.where(static_cast<int>(i)));
    }
}

std::vector<PieceIndex> Watches::selvesOf(const Watch& watch, PieceIndex owner, const world::World& world)
{
    std::vector<PieceIndex> selves;
    const auto add = [&](PieceIndex self) {
        if (std::ranges::find(selves, self) == selves.end())
            selves.push_back(self);
    };
    for (const Where& where : watch.where) {
        if (watch.owner == "self") {
            const bool mine = where.kind == Where::Kind::scene      ? owner == theScene
                              : where.kind == Where::Kind::piece    ? owner == where.piece
                              : where.kind == Where::Kind::selector ? isSelected(where.selector, world, owner)
                                                                    : false;
            if (mine)
                return {owner};
        } else if (where.kind == Where::Kind::scene) {
            add(theScene);
        } else if (where.kind == Where::Kind::piece && world.piece(where.piece).present) {
            add(where.piece);
        } else if (where.kind == Where::Kind::selector) {
            const std::vector<PieceIndex> selected = piecesOf(where.selector, world);
            if (selves.empty())
                selves = selected;
            else
                for (const PieceIndex self : selected)
                    add(self);
        }
    }
    return selves;
}

void Watches::judge(PieceIndex owner, std::string_view name, double old, double now, const world::World& world,
                    const std::function<void(int watch, PieceIndex self, EventKind kind)>& crossed)
{
    const auto found = byName_.find(name);
    if (found == byName_.end())
        return;
    for (const int index : found->second) {
        const Watch& watch = list_[static_cast<std::size_t>(index)];
        const bool rises = old <= watch.level && now > watch.level;
        const bool falls = old >= watch.level && now < watch.level;
        if ((!rises && !falls && watch.band <= 0) || (watch.owner != "self" && world.nameOf(owner) != watch.owner))
            continue;
        for (const PieceIndex self : selvesOf(watch, owner, world)) {
            bool toRise = rises;
            bool toFall = falls;
            if (watch.band > 0) {
                State& state = states_[static_cast<std::uint64_t>(index) << 32 | static_cast<std::uint32_t>(self)];
                state.mustDip = state.mustDip && !(now < watch.level - watch.band);
                state.mustPeak = state.mustPeak && !(now > watch.level + watch.band);
                toRise = toRise && !state.mustDip;
                toFall = toFall && !state.mustPeak;
                state.mustDip = state.mustDip || toRise;
                state.mustPeak = state.mustPeak || toFall;
            }
            if (toRise)
                crossed(index, self, EventKind::rises);
            if (toFall)
                crossed(index, self, EventKind::falls);
        }
    }
}

} // namespace snare::rules
