// SPDX-License-Identifier: Apache-2.0
#include "cli/verbs.h"

#include "io/schema.h"

#include <iostream>

namespace snare::cli {

int writeSchema(const std::string& document)
{
    std::cout << (document == "take" ? io::takeSchema() : document == "kit" ? io::kitSchema() : io::sceneSchema());
    return std::cout.flush() ? fine : badInput;
}

} // namespace snare::cli
