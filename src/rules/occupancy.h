// SPDX-License-Identifier: Apache-2.0
/// Who is inside what, as one snare counts it: the visitors that passed its filter when they entered (M11).
#pragma once

#include "rules/event.h"

namespace snare::rules {

class Occupancy {
  public:
    void clear() { places_.clear(); }

    /// Counts a visitor in; true if it is the first.
    bool enter(int snare, PieceIndex self, PieceIndex visitor)
    {
        auto place = find(snare, self);
        if (place == places_.end())
            place = places_.insert(place, {snare, self, {}});
        if (std::ranges::find(place->inside, visitor) != place->inside.end())
            return false;
        place->inside.push_back(visitor);
        return place->inside.size() == 1;
    }

    /// Counts a visitor out; true if it was the last. One that was not counted in changes nothing.
    bool leave(int snare, PieceIndex self, PieceIndex visitor)
    {
        const auto place = find(snare, self);
        if (place == places_.end() || std::erase(place->inside, visitor) == 0 || !place->inside.empty())
            return false;
        places_.erase(place);
        return true;
    }

  private:
    struct Place {
        int snare;
        PieceIndex self;
        std::vector<PieceIndex> inside;
    };

    std::vector<Place>::iterator find(int snare, PieceIndex self)
    {
        return std::ranges::find_if(places_, [&](const Place& p) { return p.snare == snare && p.self == self; });
    }

    std::vector<Place> places_; ///< of which somebody is inside
};

} // namespace snare::rules
