// SPDX-License-Identifier: Apache-2.0
#include "app/model/leading.h"

#include "app/model/take_edit.h"
#include "rules/clock.h"

#include <algorithm>
#include <cmath>

namespace snare::app {

std::optional<geometry::Vec> standsAt(const sim::Record& record, const std::string& piece, std::int64_t tick)
{
    const auto found = std::ranges::find(record.pieces, piece, &sim::RunPiece::id);
    const auto index = static_cast<std::size_t>(found - record.pieces.begin());
    const std::vector<sim::PieceState> states = record.snapshots.at(tick);
    return index < states.size() ? std::optional(states[index].pose.at) : std::nullopt;
}

namespace {

scene::Input placeAt(const std::string& piece, double t, const geometry::Vec& at)
{
    return {t, scene::TrackPlace{piece, {std::round(at.x * 1e4) / 1e4, std::round(at.y * 1e4) / 1e4}}};
}

} // namespace

scene::Take ledOn(const scene::Take& take, const Stage& stage, const std::string& piece)
{
    const std::vector<std::size_t> places = placesOf(take, piece);
    const sim::Record& record = stage.record();
    if (places.empty()) {
        const geometry::Vec from = standsAt(record, piece, stage.cursor()).value_or(geometry::Vec{0, 0});
        const double t = stage.cursorSeconds();
        return withShot(withShot(take, placeAt(piece, t, from)), placeAt(piece, t + 1, from + geometry::Vec{2, 0}));
    }
    const scene::Input& last = take.inputs[places.back()];
    return withShot(take, placeAt(piece, std::max(last.t + 1, stage.cursorSeconds()),
                                  last.as<scene::TrackPlace>()->at + geometry::Vec{2, 0}));
}

scene::Take ledTo(const scene::Take& take, const Stage& stage, const std::string& piece, const geometry::Vec& to)
{
    const int rate = stage.record().scene->rate;
    const double t = stage.cursorSeconds();
    const std::vector<std::size_t> places = placesOf(take, piece);
    for (const std::size_t i : places)
        if (rules::tickOfInput(take.inputs[i].t, rate) == rules::tickOfInput(t, rate)) {
            scene::Take moved = take;
            scene::Input there = placeAt(piece, t, to);
            *placeOf(moved.inputs[i]) = *placeOf(there);
            return moved;
        }
    scene::Take led = take;
    if (places.empty() && stage.cursor() > 0)
        led = withShot(led, placeAt(piece, 0, standsAt(stage.record(), piece, 0).value_or(to)));
    return withShot(led, placeAt(piece, t, to));
}

} // namespace snare::app
