// SPDX-License-Identifier: Apache-2.0
/// The properties of a piece or the variables of the scene in a run: values by name, in the order
/// in which they came.
///
/// A few are gone through one after the other, as they are in the file; many are found by a hash,
/// so that a script that sets a hundred thousand of them takes no longer for each.
#pragma once

#include "scene/values.h"

#include <unordered_map>

namespace snare::world {

class Values {
  public:
    Values() = default;
    Values(scene::Named<scene::Scalar> named) : named_(std::move(named)) {} // NOLINT: they are the same but faster

    /// All values in the order in which they were set first.
    const scene::Named<scene::Scalar>& named() const { return named_; }
    auto& entries() const { return named_.entries; }

    const scene::Scalar* find(std::string_view name) const
    {
        if (places_.empty())
            return named_.find(name);
        const auto found = places_.find(name);
        return found == places_.end() ? nullptr : &named_.entries[found->second].second;
    }
    scene::Scalar* find(std::string_view name)
    {
        return const_cast<scene::Scalar*>(std::as_const(*this).find(name)); // NOLINT: same object, not const here
    }

    /// Sets a value, which is new if there was none of that name.
    void set(std::string_view name, scene::Scalar value)
    {
        if (scene::Scalar* found = find(name)) {
            *found = std::move(value);
            return;
        }
        named_.entries.emplace_back(name, std::move(value));
        if (!places_.empty())
            places_.emplace(name, named_.entries.size() - 1);
        else if (named_.entries.size() > few)
            findPlaces();
    }

    /// Takes a value away; nothing happens if there is none.
    void erase(std::string_view name)
    {
        std::erase_if(named_.entries, [&](const auto& entry) { return entry.first == name; });
        if (!places_.empty())
            findPlaces();
    }

  private:
    static constexpr std::size_t few = 32;

    struct HashOfText : std::hash<std::string_view> {
        using is_transparent = void;
    };

    void findPlaces()
    {
        places_.clear();
        for (std::size_t i = 0; i < named_.entries.size(); ++i)
            places_.emplace(named_.entries[i].first, i);
    }

    scene::Named<scene::Scalar> named_;
    std::unordered_map<std::string, std::size_t, HashOfText, std::equal_to<>> places_; ///< empty while there are few
};

} // namespace snare::world
