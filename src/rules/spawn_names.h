// SPDX-License-Identifier: Apache-2.0
/// The ids of spawned pieces: TEMPLATE-1, TEMPLATE-2, …, the next that nothing has.
#pragma once

#include "world/world.h"

#include <fmt/format.h>

#include <string>
#include <utility>
#include <vector>

namespace snare::rules {

class SpawnNames {
  public:
    /// Back to the start: counting begins anew.
    void clear() { given_.clear(); }

    /// The id of the next piece of a template. One of a spawned piece that is gone is given again;
    /// those of the scene's own `scenePieces` pieces are not.
    std::string next(const std::string& form, const world::World& world, std::size_t scenePieces)
    {
        auto found = std::ranges::find(given_, form, &std::pair<std::string, int>::first);
        if (found == given_.end())
            found = given_.insert(given_.end(), {form, 0});
        std::string name;
        const auto isLaid = [](const std::string& laid, const world::World& all) {
            return all.hasParts() && std::ranges::any_of(all.pieces(), [&](const world::LivePiece& piece) {
                       return piece.present && piece.laid == laid;
                   });
        };
        const auto isTaken = [&] {
            const world::PieceIndex piece = world.find(name);
            return piece != world::nobody &&
                   (world.piece(piece).present || static_cast<std::size_t>(piece) < scenePieces);
        };
        do
            name = fmt::format("{}-{}", form, ++found->second);
        while (isTaken() || world.findSource(name) != world::nobody || isLaid(name, world));
        return name;
    }

  private:
    std::vector<std::pair<std::string, int>> given_; ///< how many of each template so far
};

} // namespace snare::rules
