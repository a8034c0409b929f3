// SPDX-License-Identifier: Apache-2.0
/// Changing the inputs of a take by hand: key presses that are moved, stretched, added and deleted.
#pragma once

#include "scene/take.h"

#include <QString>

#include <cstdint>
#include <optional>

namespace snare::app {

/// A key or button that goes down at a tick and up at a later one.
struct Press {
    std::string key;       ///< its name; of a button `button:left`
    std::int64_t from = 0; ///< tick, at least 1
    std::int64_t to = 0;   ///< tick; the end of the take if it never goes up

    friend bool operator==(const Press&, const Press&) = default;
};

/// All presses of a take, in the order in which they begin.
std::vector<Press> pressesOf(const scene::Take& take, int rate);

/// The take with one press taken out, and another put in (`nullptr`: none). Inputs are sorted by
/// time; the take grows if the press ends after it. A press lasts one tick at least.
scene::Take withPress(const scene::Take& take, int rate, const Press* out, const Press* in);

/// The name of a press of a button.
std::string pressName(scene::Button button);

/// The input that sets a dial or makes a call at a tick; nothing if there is none. Of several the
/// last.
std::optional<std::size_t> findShot(const scene::Take& take, int rate, std::string_view dial, std::string_view call,
                                    std::int64_t tick);

/// The take with an input at another tick, which is at least 1; inputs stay sorted by time.
scene::Take withShotAt(const scene::Take& take, int rate, std::size_t input, std::int64_t tick);
scene::Take withoutShot(const scene::Take& take, std::size_t input);
/// The inputs that lead a driven piece (V10), or with an empty name those that say where the
/// pointer is: their numbers, by time.
std::vector<std::size_t> placesOf(const scene::Take& take, std::string_view piece);
/// The take with these places of a driven piece and none of those before; inputs are sorted by
/// time.
scene::Take withPlaces(const scene::Take& take, const std::string& piece, std::vector<scene::Input> places);
/// "0.5: 3, 1; 2: 4, 1, 90": when, and where; the turn in degrees only where one is given.
QString placesText(const scene::Take& take, std::string_view piece);
/// The same read; nothing if it is no list of places within a take. An empty text is an empty list.
std::optional<std::vector<scene::Input>> placesIn(const QString& typed, const std::string& piece);
/// The take with one more input; it grows if that comes after its end.
scene::Take withShot(const scene::Take& take, scene::Input input);

} // namespace snare::app
