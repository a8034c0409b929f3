// SPDX-License-Identifier: Apache-2.0
#include "scene/take.h"

namespace snare::scene {

Input::Input(const Input& other) = default;
Input::Input(Input&& other) noexcept = default;
Input& Input::operator=(const Input& other) = default;
Input& Input::operator=(Input&& other) noexcept = default;
Input::~Input() = default;

} // namespace snare::scene
