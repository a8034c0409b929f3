// SPDX-License-Identifier: Apache-2.0
#include "rules/clocks.h"

namespace snare::rules {

Clocks::Timer Clocks::timerOf(std::string name, const scene::TimerSource& source, std::int64_t tick)
{
    return {std::move(name), source, tick, 0, source.runs, -1};
}

bool Clocks::Timer::isDue(std::int64_t tick, int rate)
{
    const auto next = [&] { return tickAfter(from, static_cast<double>(elapsed + 1) * source.every, rate); };
    if (!runs || tick < next())
        return false;
    // At most once a tick (T6): what lies further back is passed over, however many they are.
    constexpr double mostElapsed = 9e15; // up to here every number is exact
    const double passed = (static_cast<double>(tick - from) + tickSlack) / (source.every * rate);
    elapsed = std::max(elapsed, static_cast<std::int64_t>(std::min(passed, mostElapsed)) - 2);
    for (int i = 0; i < 4 && tick >= next(); ++i) // what rounding may have left
        ++elapsed;
    runs = source.repeat;
    return true;
}

void Clocks::reset(const scene::Scene& scene, const world::World& world, std::int64_t tick)
{
    scene_.clear();
    pieces_.clear();
    for (const scene::Source& source : scene.sources)
        if (const auto* timer = std::get_if<scene::TimerSource>(&source.kind))
            scene_.push_back(timerOf(source.id, *timer, tick));
    for (std::size_t i = 0; i < world.pieces().size(); ++i)
        if (world.pieces()[i].present)
            add(world, static_cast<PieceIndex>(i), tick, scene.rate);
}

Clocks::OfPiece& Clocks::of(PieceIndex piece)
{
    const auto at = std::ranges::lower_bound(pieces_, piece, {}, &OfPiece::piece);
    if (at != pieces_.end() && at->piece == piece)
        return *at;
    OfPiece fresh;
    fresh.piece = piece;
    return *pieces_.insert(at, std::move(fresh));
}

Clocks::OfPiece* Clocks::find(PieceIndex piece)
{
    const auto at = std::ranges::lower_bound(pieces_, piece, {}, &OfPiece::piece);
    return at != pieces_.end() && at->piece == piece ? &*at : nullptr;
}

void Clocks::add(const world::World& world, PieceIndex piece, std::int64_t tick, int rate)
{
    const scene::Piece& model = *world.piece(piece).model;
    if (model.lifetime)
        of(piece).end = tickAfter(tick, *model.lifetime, rate);
    for (const scene::PieceTimer& timer : model.timers)
        of(piece).timers.push_back(timerOf(timer.id, timer.timer, tick));
    play(world, piece, tick, rate);
}

void Clocks::play(const world::World& world, PieceIndex piece, std::int64_t tick, int rate)
{
    const scene::Look& look = world.looks()[static_cast<std::size_t>(world.piece(piece).look)];
    if (look.once && look.seconds() > 0) {
        of(piece).lookEnd = tickAfter(tick, look.seconds(), rate);
        return;
    }
    if (OfPiece* playing = find(piece))
        playing->lookEnd = -1; // what was playing never ends
}

Clocks::Timer* Clocks::timerCalled(std::string_view name, PieceIndex self)
{
    std::vector<Timer>* timers = &scene_;
    OfPiece* own = find(self);
    if (own && std::ranges::find(own->timers, name, &Timer::name) != own->timers.end())
        timers = &own->timers;
    const auto timer = std::ranges::find(*timers, name, &Timer::name);
    return timer == timers->end() ? nullptr : &*timer;
}

bool Clocks::change(std::string_view name, PieceIndex self, bool runs, std::int64_t tick, std::int32_t because)
{
    Timer* timer = timerCalled(name, self);
    if (!timer)
        return false;
    timer->runs = runs;
    timer->because = because;
    timer->from = tick;
    timer->elapsed = 0;
    return true;
}

std::vector<Event> Clocks::due(const world::World& world, std::int64_t tick, int rate)
{
    std::vector<Event> events;
    const auto tell = [&](EventKind kind, PieceIndex self, const std::string& word, std::int32_t because) {
        Event event;
        event.kind = kind;
        event.self = self;
        event.word = word;
        event.because = because;
        events.push_back(std::move(event));
    };
    std::erase_if(pieces_, [&](const OfPiece& one) { return !world.piece(one.piece).present; });
    for (Timer& timer : scene_)
        if (timer.isDue(tick, rate))
            tell(EventKind::elapsed, theScene, timer.name, timer.because);
    for (OfPiece& one : pieces_) {
        const world::Origin& origin = world.originOf(one.piece);
        for (Timer& timer : one.timers)
            if (timer.isDue(tick, rate))
                tell(EventKind::elapsed, one.piece, timer.name, std::max(timer.because, origin.born));
        if (one.end >= 0 && tick >= one.end) {
            one.end = -1;
            tell(EventKind::removed, one.piece, {}, origin.born);
        }
        if (one.lookEnd >= 0 && tick >= one.lookEnd) {
            one.lookEnd = -1;
            tell(EventKind::lookEnded, one.piece, {}, origin.dressed);
        }
    }
    return events;
}

} // namespace snare::rules
