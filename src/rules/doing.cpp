// SPDX-License-Identifier: Apache-2.0
#include "rules/doing.h"

#include "rules/filter.h"
#include "rules/responses.h"

#include <fmt/format.h>

namespace snare::rules {

Doing::Doing(Engine& engine, Stagehand hand, RunState& run)
    : engine_(engine), hand_(hand),
      run_(run), around_{hand.world,         run.event, run.self, run.visitor, static_cast<int>(engine.tick_),
                         engine.scene_->rate}
{
}

void Doing::carryOut(const scene::Response& response)
{
    for (const scene::Condition& condition : response.onlyIf)
        if (!holds(condition, around_))
            return;
    word_ = scene::wordOfResponse(response.kind).key;
    std::visit([&](const auto& kind) { apply(kind, *this); }, response.kind);
}

std::vector<Acted> Doing::on(const scene::Target& target)
{
    std::vector<Acted> result;
    for (const std::string& name : target.names) {
        const std::vector<Acted> found = targetsOf(name, around_);
        if (found.empty())
            note(fmt::format("{} of {} is skipped: {} is not there", word_,
                             scene().snares[static_cast<std::size_t>(run_.snare)].id, name));
        result.insert(result.end(), found.begin(), found.end());
    }
    return result;
}

void Doing::tell(PieceIndex on, std::string text, std::int64_t until)
{
    Line line;
    line.kind = LineKind::response;
    line.snare = run_.snare;
    line.response = word_;
    line.self = on;
    line.text = std::move(text);
    line.until = static_cast<std::int32_t>(std::min<std::int64_t>(until, std::numeric_limits<std::int32_t>::max()));
    line.about = run_.event.line;
    hand_.journal.add(std::move(line));
}

void Doing::note(std::string text)
{
    Line line;
    line.kind = LineKind::note;
    line.snare = run_.snare;
    line.about = run_.event.line;
    line.text = std::move(text);
    hand_.journal.add(std::move(line));
}

void Doing::endMove(PieceIndex piece)
{
    world::MoveOrder& move = hand_.world.piece(piece).move;
    if (move.id != 0)
        engine_.orderEnded(std::exchange(move, {}).id, word_, hand_);
}

void Doing::endTurn(PieceIndex piece)
{
    world::TurnOrder& turn = hand_.world.piece(piece).turn;
    if (turn.id != 0)
        engine_.orderEnded(std::exchange(turn, {}).id, word_, hand_);
}

void Doing::raise(RaisedSignal signal, bool wait)
{
    if (wait) {
        signal.waited = ++engine_.lastSignal_;
        engine_.signalWaits_.push_back({signal.waited, 0, false});
        run_.waiting.signal = signal.waited;
    }
    constexpr std::size_t remembered = 64;
    if (engine_.raisers_.size() >= remembered)
        engine_.raisers_.erase(engine_.raisers_.begin());
    engine_.raisers_.push_back(run_.snare);
    Event event;
    event.kind = EventKind::heard;
    event.visitor = run_.self >= 0 ? run_.self : nobody;
    signal.raiser = run_.snare;
    event.signal = std::make_shared<const RaisedSignal>(std::move(signal));
    engine_.queue(std::move(event));
}

void Doing::setValue(PieceIndex owner, const std::string& name, scene::Scalar value)
{
    ValueChange change;
    change.tick = hand_.journal.tick;
    change.owner = owner;
    change.name = name;
    change.value = value;
    hand_.journal.values.push_back(std::move(change));
    if (owner == theScene) {
        hand_.world.variables.set(name, std::move(value));
        return;
    }
    world::LivePiece& piece = hand_.world.piece(owner);
    const double* number = std::get_if<double>(&value);
    // Built-in numbers that can be set; everything else is a property.
    if (number && !piece.properties.find(name)) {
        if (name == "vx" || name == "vy") {
            (name == "vx" ? piece.velocity.x : piece.velocity.y) = *number;
            return;
        }
        if (name == "vz") {
            piece.rise = *number;
            return;
        }
        if (name == "spin") {
            piece.spin = *number;
            return;
        }
        if (name == "layer") {
            piece.layer = static_cast<int>(std::clamp(*number, -1e6, 1e6));
            return;
        }
    }
    piece.properties.set(name, std::move(value));
}

} // namespace snare::rules
