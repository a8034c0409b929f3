// SPDX-License-Identifier: Apache-2.0
/// How much of the long tests is done: all of it, or less under a sanitizer, which makes everything
/// ten times slower.
#pragma once

#include <QByteArray>
#include <QtGlobal>

namespace snare::tests {

/// `full`, or the part of it that SNARE_EFFORT asks for (1 to 100 percent; 100 where it is not
/// set). At least 1.
inline int effort(int full)
{
    bool isNumber = false;
    const int percent = qEnvironmentVariableIntValue("SNARE_EFFORT", &isNumber);
    const int used = isNumber ? qBound(1, percent, 100) : 100;
    return qMax(1, static_cast<int>(static_cast<qint64>(full) * used / 100));
}

} // namespace snare::tests
