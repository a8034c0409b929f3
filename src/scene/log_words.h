// SPDX-License-Identifier: Apache-2.0
/// Words of the log that files use too: what became of an event at a snare, and why a meeting began
/// or ended.
#pragma once

#include "scene/fields.h"

#include <array>
#include <cstdint>

namespace snare::scene {

enum class Outcome : std::uint8_t { sprung, slipped };

template <>
inline constexpr auto wordsOf<Outcome> = std::array{
    EnumWord<Outcome>{Outcome::sprung, "sprung", "springs"},
    EnumWord<Outcome>{Outcome::slipped, "slipped", "slips"},
};

/// Where an event slipped (S1, K6).
enum class SlipStage : std::uint8_t { armed, phase, filter, gate, gone };

template <>
inline constexpr auto wordsOf<SlipStage> = std::array{
    EnumWord<SlipStage>{SlipStage::armed, "armed", "it is disarmed, or its piece takes no part"},
    EnumWord<SlipStage>{SlipStage::phase, "phase", "it does not listen in this phase"},
    EnumWord<SlipStage>{SlipStage::filter, "filter", "its filter turns the visitor away"},
    EnumWord<SlipStage>{SlipStage::gate, "gate", "its gate is closed"},
    EnumWord<SlipStage>{SlipStage::gone, "gone", "a piece of the event is gone"},
};

/// Why a meeting began or ended (K5, K7, K9, M14).
enum class Cause : std::uint8_t {
    moved,
    start,
    removed,
    disabled,
    hidden,
    regrouped,
    enabled,
    shown,
    put,
    armed,
    spawned,
    resized,
    attached,
    detached,
    phase,
    swept
};

template <>
inline constexpr auto wordsOf<Cause> = std::array{
    EnumWord<Cause>{Cause::moved, "moved", "it moved"},
    EnumWord<Cause>{Cause::start, "start", "it was there at the start"},
    EnumWord<Cause>{Cause::removed, "removed", "it was removed"},
    EnumWord<Cause>{Cause::disabled, "disabled", "it was disabled"},
    EnumWord<Cause>{Cause::hidden, "hidden", "it was hidden"},
    EnumWord<Cause>{Cause::regrouped, "regrouped", "it was put into another group"},
    EnumWord<Cause>{Cause::enabled, "enabled", "it was enabled"},
    EnumWord<Cause>{Cause::shown, "shown", "it was shown"},
    EnumWord<Cause>{Cause::put, "put", "it was put there"},
    EnumWord<Cause>{Cause::armed, "armed", "the snare was armed"},
    EnumWord<Cause>{Cause::spawned, "spawned", "it was spawned"},
    EnumWord<Cause>{Cause::resized, "resized", "it got another size"},
    EnumWord<Cause>{Cause::attached, "attached", "it was attached"},
    EnumWord<Cause>{Cause::detached, "detached", "it was let go"},
    EnumWord<Cause>{Cause::phase, "phase", "the phase changed"},
    EnumWord<Cause>{Cause::swept, "swept", "the box of the pointer closed"},
};

} // namespace snare::scene
