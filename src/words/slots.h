// SPDX-License-Identifier: Apache-2.0
/// What stands in a slot: a field of a response, catch, filter, … as it reads in a sentence.
#pragma once

#include "io/field_access.h"

#include <string>

namespace snare::words {

/// "barrow", "(9.2, -1)", "2 m/s", "“Next!”"; empty if the field is not given.
std::string slotText(const io::FieldView& field);

/// "self.load >= 3".
std::string conditionText(const scene::Condition& condition);

} // namespace snare::words
