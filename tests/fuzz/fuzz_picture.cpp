// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a picture: it is read or refused; what is read is traced, and the scene runs.
#include "io/document.h"
#include "io/pictures.h"
#include "sim/recorder.h"

#include <cstdlib>
#include <unistd.h>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    static const std::filesystem::path folder = "/dev/shm";
    static const std::string name = "fresh-snare-fuzz-" + std::to_string(::getpid()) + ".png";
    if (!io::saveText(folder / name, {reinterpret_cast<const char*>(data), size}))
        std::abort();
    auto scene = io::readScene(
        R"({"format": "fresh-snare-scene", "version": 1, "pieces": [
            {"id": "mud", "shapes": [{"role": "zone", "traced": {"image": ")" +
            name + R"(", "colour": ["#804020", "#ffffff"], "tolerance": 60, "size": [4, 3]}}]},
            {"id": "m", "at": [-3, 0], "body": {"kind": "kinematic", "velocity": [9, 1]}, "shapes": [{"circle": 0.4}]}]})",
        "fuzz");
    if (!scene)
        std::abort();
    io::Pictures{folder}.trace(*scene);
    std::filesystem::remove(folder / name);
    sim::rerun(std::make_shared<const scene::Scene>(*scene), {}, {.seconds = 0.5});
    return 0;
}
