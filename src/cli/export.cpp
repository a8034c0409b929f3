// SPDX-License-Identifier: Apache-2.0
/// `snare export`: a scene in formats of other programs.
#include "check/flow.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <iostream>

namespace snare::cli {

int exportScene(const ExportWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene) {
        for (const io::Problem& problem : scene.error())
            std::cerr << problem.message() << '\n';
        return badInput;
    }
    const std::string text =
        check::dotOf(check::flowOf(*scene), scene->name.empty() ? std::string("flow") : scene->name);
    if (words.out.empty() || words.out == "-") {
        std::cout << text;
        return std::cout.flush() ? fine : badInput;
    }
    if (const auto saved = io::saveText(words.out, text); !saved) {
        std::cerr << saved.error().message() << '\n';
        return badInput;
    }
    return fine;
}

} // namespace snare::cli
