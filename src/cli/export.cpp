// SPDX-License-Identifier: Apache-2.0
/// `snare export`: a scene in formats of other programs.
#include "check/flow.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"
#include "io/drawing.h"
#include "io/exports.h"
#include "sim/recorder.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <iostream>
#include <optional>
#include <unistd.h>

namespace snare::cli {

namespace {

/// The graph as SVG; nothing if the program is not there. It is a program of its own
/// (docs/decisions/22).
std::optional<std::string> drawnByDot(const std::string& graph)
{
    std::string file = (std::filesystem::temp_directory_path() / "fresh-snare-flow-XXXXXX").string();
    const int handle = mkstemp(file.data());
    if (handle < 0)
        return std::nullopt;
    close(handle);
    const std::string command = "dot -Tsvg -o '" + file + "' 2>/dev/null"; // the name is our own
    FILE* dot = popen(command.c_str(), "w"); // NOLINT(cert-env33-c): a fixed command
    const bool written = dot && std::fwrite(graph.data(), 1, graph.size(), dot) == graph.size();
    const bool fine = dot && pclose(dot) == 0 && written;
    auto text = io::loadText(file);
    std::error_code ignored;
    std::filesystem::remove(file, ignored);
    return fine && text ? std::optional(std::move(*text)) : std::nullopt;
}

} // namespace

namespace {

/// The flow as a graph, or laid out.
int exportFlow(const scene::Scene& scene, const ExportWords& words)
{
    const std::string text = check::dotOf(check::flowOf(scene), scene.name.empty() ? std::string("flow") : scene.name);
    if (!words.svg)
        return writeOut(words.out, text) ? fine : badInput;
    const auto drawn = drawnByDot(text);
    if (!drawn) {
        std::cerr << "the program dot of Graphviz cannot be run: install the package graphviz\n";
        return badInput;
    }
    return writeOut(words.out, *drawn) ? fine : badInput;
}

} // namespace

int exportScene(const ExportWords& words)
{
    const auto scene = io::loadScene(words.scene);
    if (!scene)
        return tellProblems(scene.error()), badInput;
    if (words.format == "dot")
        return exportFlow(*scene, words);
    if (words.format == "scxml")
        return writeOut(words.out, io::scxmlOf(scene::withKits(*scene))) ? fine : badInput;
    const auto takes = takesOf(words.take.empty() ? std::vector<std::string>{} : std::vector{words.take});
    if (!takes)
        return badInput;
    const sim::Record record = sim::rerun(std::make_shared<const scene::Scene>(*scene), takes->front());
    if (!record.stopReason.empty())
        std::cerr << record.stopReason << '\n';
    const auto tick = static_cast<std::int64_t>(std::llround(words.at.value_or(0) * record.scene->rate));
    const std::string text = words.format == "csv"     ? io::csvOf(record)
                             : words.format == "trace" ? io::traceOf(record)
                                                       : io::svgOf(record, tick);
    if (!writeOut(words.out, text))
        return badInput;
    return record.stopReason.empty() ? fine : stopped;
}

} // namespace snare::cli
