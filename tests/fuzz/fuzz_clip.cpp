// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a clip: it is read or refused; what is read is pasted twice into a scene, under
/// names that are free, and the scene is written, read the same and runs.
#include "io/document.h"
#include "scene/clip.h"
#include "sim/recorder.h"

#include <cstdlib>
#include <set>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const auto clip = io::readScene({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!clip)
        return 0;
    static const scene::Scene into = *io::readScene(
        R"({"format": "fresh-snare-scene", "version": 1, "groups": ["boat"],
            "templates": {"gull": {"body": "kinematic", "shapes": [{"circle": 0.3}]}},
            "pieces": [{"id": "gate", "shapes": [{"id": "leaf", "role": "zone", "box": [2, 2]}]},
                       {"id": "lamp", "template": "gull", "at": [1, 0], "properties": {"gate": "gate"}}],
            "snares": [{"id": "open", "catch": {"event": "enter", "at": "gate", "shape": "leaf"},
                        "responses": [{"do": "say", "on": "lamp", "text": {"get": "gate.count"}}]}]})",
        "scene");
    scene::Scene scene = into;
    for (const bool withSnares : {true, false})
        scene::paste(scene, *clip, {1, 1}, withSnares);
    std::set<std::string> names;
    for (const scene::Piece& piece : into.pieces)
        names.insert(piece.id);
    std::set<std::string> inClip;
    bool twice = false; // in the clip itself
    for (const scene::Piece& piece : clip->pieces)
        twice = twice || !inClip.insert(piece.id).second;
    for (std::size_t i = into.pieces.size(); i < scene.pieces.size(); ++i)
        if (!names.insert(scene.pieces[i].id).second && !twice)
            std::abort();
    const auto again = io::readScene(io::sceneText(scene), "again");
    if (!again || *again != scene)
        std::abort();
    sim::rerun(std::make_shared<const scene::Scene>(scene), {}, {.seconds = std::min(0.3, 20.0 / scene.rate)});
    return 0;
}
