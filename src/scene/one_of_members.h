// SPDX-License-Identifier: Apache-2.0
/// The members of `OneOf`, for the files that instantiate it.
#pragma once

#include "scene/one_of.h"

namespace snare::scene {

template <class Variant> OneOf<Variant>::OneOf(const OneOf& other) = default;
template <class Variant> OneOf<Variant>::OneOf(OneOf&& other) noexcept = default;
template <class Variant> OneOf<Variant>& OneOf<Variant>::operator=(const OneOf& other) = default;
template <class Variant> OneOf<Variant>& OneOf<Variant>::operator=(OneOf&& other) noexcept = default;
template <class Variant> OneOf<Variant>::~OneOf() = default;

template <class Variant> bool OneOf<Variant>::operator==(const OneOf& other) const
{
    return static_cast<const Variant&>(*this) == static_cast<const Variant&>(other);
}

} // namespace snare::scene
