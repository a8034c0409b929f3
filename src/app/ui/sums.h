// SPDX-License-Identifier: Apache-2.0
/// Numbers as they are typed: "3.6", "3.6/2", "(2 + 0.5) * 4 m".
#pragma once

#include <QString>

#include <optional>

namespace snare::app {

/// What a sum of plain numbers comes to: + - * / and parentheses, a unit behind it; nothing if it
/// is none, or is divided by zero.
std::optional<double> sumOf(const QString& typed);

} // namespace snare::app
