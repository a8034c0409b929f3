// SPDX-License-Identifier: Apache-2.0
/// The buttons of the pointer.
#pragma once

#include "scene/fields.h"

#include <array>

namespace snare::scene {

/// A button of the pointer.
enum class Button { left, middle, right, back, forward };

template <>
inline constexpr auto wordsOf<Button> = std::array{
    EnumWord<Button>{Button::left, "left", "the left button"},
    EnumWord<Button>{Button::middle, "middle", "the middle button"},
    EnumWord<Button>{Button::right, "right", "the right button"},
    EnumWord<Button>{Button::back, "back", "the button for going back"},
    EnumWord<Button>{Button::forward, "forward", "the button for going forward"},
};

} // namespace snare::scene
