// SPDX-License-Identifier: Apache-2.0
#include "words/describe.h"

#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"

namespace snare::cli {

int describeScene(const DescribeWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tellProblems(scene.error()), badInput;
    return writeOut(words.out, words::describe(*scene)) ? fine : badInput;
}

} // namespace snare::cli
