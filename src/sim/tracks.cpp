// SPDX-License-Identifier: Apache-2.0
#include "sim/tracks.h"

#include "rules/clock.h"

#include <algorithm>

namespace snare::sim {

std::shared_ptr<const Tracks> Tracks::of(const scene::Take& take)
{
    auto tracks = std::make_shared<Tracks>();
    for (const scene::Input& input : take.inputs) {
        const auto* place = input.as<scene::TrackPlace>();
        if (!place)
            continue;
        const auto [slot, isNew] = tracks->slots_.try_emplace(place->piece, tracks->tracks_.size());
        if (isNew)
            tracks->tracks_.push_back({place->piece, {}});
        tracks->tracks_[slot->second].places.push_back({input.t, place->at, place->turn});
    }
    if (tracks->tracks_.empty())
        return nullptr;
    for (Track& track : tracks->tracks_) {
        std::ranges::stable_sort(track.places, {}, &Given::t);
        for (std::size_t i = 1; i < track.places.size(); ++i)
            if (!track.places[i].turn)
                track.places[i].turn = track.places[i - 1].turn;
    }
    return tracks;
}

bool Tracks::isOn(const Track& track, std::int64_t tick, int rate)
{
    return tick >= rules::tickOfInput(track.places.front().t, rate) &&
           tick <= rules::tickOfInput(track.places.back().t, rate);
}

bool Tracks::leads(const std::string& piece, std::int64_t tick, int rate) const
{
    const auto found = slots_.find(piece);
    return found != slots_.end() && isOn(tracks_[found->second], tick, rate);
}

void Tracks::placesAt(std::int64_t tick, int rate, std::vector<Place>& places) const
{
    for (const Track& track : tracks_) {
        if (!isOn(track, tick, rate))
            continue;
        // The last place that it has come to by then.
        auto next = std::ranges::upper_bound(track.places, tick, {}, [&](const Given& given) {
            return rules::tickOfInput(given.t, rate);
        });
        const Given& from = *(next - 1);
        Place place{track.piece, from.at, from.turn, {}, 0, tick == rules::tickOfInput(track.places.front().t, rate)};
        if (next != track.places.end()) {
            const double now = static_cast<double>(tick) / rate;
            place.part = std::clamp((now - from.t) / (next->t - from.t), 0.0, 1.0);
            place.at = from.at + (next->at - from.at) * place.part;
            if (next->turn != from.turn)
                place.turnTo = next->turn;
        }
        places.push_back(place);
    }
}

} // namespace snare::sim
