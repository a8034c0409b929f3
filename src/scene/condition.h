// SPDX-License-Identifier: Apache-2.0
/// A comparison of two values of the run: `signal.ring = self.number` (S2).
#pragma once

#include "scene/fields.h"
#include "scene/values.h"

#include <array>

namespace snare::scene {

enum class Comparison { equal, unequal, less, lessOrEqual, greater, greaterOrEqual, has };

template <>
inline constexpr auto wordsOf<Comparison> = std::array{
    EnumWord<Comparison>{Comparison::equal, "=", "is"},
    EnumWord<Comparison>{Comparison::unequal, "!=", "is not"},
    EnumWord<Comparison>{Comparison::less, "<", "is below"},
    EnumWord<Comparison>{Comparison::lessOrEqual, "<=", "is at most"},
    EnumWord<Comparison>{Comparison::greater, ">", "is above"},
    EnumWord<Comparison>{Comparison::greaterOrEqual, ">=", "is at least"},
    EnumWord<Comparison>{Comparison::has, "has", "has in it"},
};

/// A comparison of two values, worked out when it is asked.
struct Condition {
    std::string left; ///< a path
    Comparison is = Comparison::equal;
    Value<Scalar> right{Scalar{0.0}};

    friend bool operator==(const Condition&, const Condition&) = default;
};

template <>
inline constexpr auto fieldsOf<Condition> =
    fields(word("condition", "a comparison of two values", "{left} {is} {right}"),
           field("left", &Condition::left, "a path such as self.load").names(Refers::property).required(),
           field("is", &Condition::is, "how they compare").required(),
           field("right", &Condition::right, "a value or a path").required());

} // namespace snare::scene
