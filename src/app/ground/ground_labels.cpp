// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_labels.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <unordered_map>

namespace snare::app {

namespace {

/// What is taken already, by squares, so that a thousand labels do not ask a thousand others.
class Taken {
  public:
    bool has(const QRectF& box) const
    {
        bool found = false;
        eachCell(box, [&](std::int64_t cell) {
            const auto there = cells_.find(cell);
            found = found || (there != cells_.end() && std::ranges::any_of(there->second, [&](const QRectF& other) {
                                  return other.intersects(box);
                              }));
        });
        return found;
    }

    void add(const QRectF& box)
    {
        eachCell(box, [&](std::int64_t cell) { cells_[cell].push_back(box); });
    }

  private:
    static constexpr double side = 96; // pixels

    template <class Visit> static void eachCell(const QRectF& box, Visit&& visit)
    {
        const auto from = [](double at) { return static_cast<std::int64_t>(std::floor(at / side)); };
        for (std::int64_t y = from(box.top()); y <= from(box.bottom()); ++y)
            for (std::int64_t x = from(box.left()); x <= from(box.right()); ++x)
                visit(y << 32 | (x & 0xFFFFFFFF));
    }

    std::unordered_map<std::int64_t, std::vector<QRectF>> cells_;
};

} // namespace

std::vector<PlacedLabel> placed(const std::vector<GroundLabel>& labels)
{
    std::vector<PlacedLabel> result;
    Taken taken;
    for (const bool wanted : {true, false})
        for (const GroundLabel& label : labels) {
            if (label.wanted != wanted || label.places.empty())
                continue;
            const auto free =
                std::ranges::find_if(label.places, [&](const QRectF& place) { return !taken.has(place); });
            if (free == label.places.end() && !wanted)
                continue;
            const QRectF box = free == label.places.end() ? label.places.front() : *free;
            taken.add(box);
            result.push_back({&label, box});
        }
    return result;
}

} // namespace snare::app
