// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a script, and as an expression: it ends, and does the same in every run.
#include "io/log.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const std::string code(reinterpret_cast<const char*>(data), size);
    scene::Scene scene;
    scene.variables.set("v", 3.0);
    scene::Piece piece;
    piece.id = "m";
    piece.body = scene::KinematicBody{};
    piece.properties.set("n", 2.0);
    scene.pieces.push_back(piece);
    scene::Snare snare;
    snare.id = "s";
    snare.catches.event.items = {scene::EventKind::keyHeld};
    snare.catches.key = "e";
    snare.catches.at = "m";
    scene::Formula formula;
    formula.kind = scene::Formula::Kind::script;
    formula.text = code;
    snare.responses.push_back({scene::Script{code}, {}});
    snare.responses.push_back({scene::Set{scene::Target::self(), "made", {formula}}, {}});
    scene.snares.push_back(snare);
    const auto shared = std::make_shared<const scene::Scene>(scene);
    scene::Take take;
    take.inputs.push_back({0.01, scene::KeyInput{"e", true}});
    if (io::logText(sim::rerun(shared, take, {.seconds = 0.05})) !=
        io::logText(sim::rerun(shared, take, {.seconds = 0.05})))
        std::abort();
    return 0;
}
