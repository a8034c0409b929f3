// SPDX-License-Identifier: Apache-2.0
/// `snare export`: a scene in formats of other programs.
#include "check/flow.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"

namespace snare::cli {

int exportScene(const ExportWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tellProblems(scene.error()), badInput;
    const std::string text =
        check::dotOf(check::flowOf(*scene), scene->name.empty() ? std::string("flow") : scene->name);
    return writeOut(words.out, text) ? fine : badInput;
}

} // namespace snare::cli
