// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a drawing: it is read or refused; what is brought in makes a scene that is written,
/// read and run.
#include "io/document.h"
#include "io/drawing.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    auto drawing = io::piecesFrom({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!drawing)
        return 0;
    scene::Scene scene;
    scene.templates.set("gull", {});
    std::vector<std::string> notes;
    io::bringIn(scene, std::move(*drawing), {1, 2}, notes);
    const auto again = io::readScene(io::sceneText(scene), "again");
    if (!again || !(*again == scene))
        std::abort();
    const sim::Record record = sim::rerun(std::make_shared<const scene::Scene>(scene), {}, {.seconds = 0.1});
    if (!io::piecesFrom(io::svgOf(record, 0), "out"))
        std::abort();
    return 0;
}
