// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a scene: it is read or refused; what is read is written and read the same, and runs
/// alike twice.
#include "io/document.h"
#include "io/log.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const auto scene = io::readScene({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!scene)
        return 0;
    const auto again = io::readScene(io::sceneText(*scene), "again");
    if (!again || *again != *scene)
        std::abort();
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    scene::Take take;
    take.inputs.push_back({0.01, scene::KeyInput{"e", true}});
    take.inputs.push_back({0.02, scene::KeyInput{"Right", true}});
    const double seconds = std::min(0.5, 60.0 / shared->rate);
    if (io::logText(sim::rerun(shared, take, {.seconds = seconds})) !=
        io::logText(sim::rerun(shared, take, {.seconds = seconds})))
        std::abort();
    return 0;
}
