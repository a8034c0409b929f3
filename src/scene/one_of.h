// SPDX-License-Identifier: Apache-2.0
/// Variants that are copied all over.
#pragma once

#include <variant>

namespace snare::scene {

/// A `std::variant` whose copying, moving, destroying and comparing are compiled once, not in every
/// file that copies what holds it (docs/decisions/27). `std::visit`, `std::get` and the rest take
/// it as the variant that it is.
///
/// Each type is instantiated in one source file, which includes scene/one_of_members.h:
/// `template struct OneOf<Any…>;`.
template <class Variant> struct OneOf : Variant {
    using Variant::Variant;
    OneOf() = default;
    OneOf(const OneOf& other);
    OneOf(OneOf&& other) noexcept;
    OneOf& operator=(const OneOf& other);
    OneOf& operator=(OneOf&& other) noexcept;
    ~OneOf();
    bool operator==(const OneOf& other) const;
};

} // namespace snare::scene
