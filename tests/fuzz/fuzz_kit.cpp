// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a kit: it is read or refused; what is read is written and read the same, and a
/// scene runs with it.
#include "io/document.h"
#include "io/log.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const auto kit = io::readKit({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!kit)
        return 0;
    const auto again = io::readKit(io::kitText(*kit), "again");
    if (!again || *again != *kit)
        std::abort();
    const auto scene = io::readScene(
        R"({"format": "fresh-snare-scene", "version": 1, "kits": ["kit"], "pieces": [
            {"id": "z", "tags": ["t"], "shapes": [{"role": "zone", "box": [2, 2]}]},
            {"id": "m", "template": "gull", "at": [0, 0]}, {"id": "n", "tags": ["t"], "body": "kinematic", "shapes": [{"circle": 0.4}]}],
            "snares": [{"id": "start", "catch": {"event": "start"}, "responses": [{"do": "run", "routine": "r"}, {"do": "spawn", "template": "gull"}]}]})",
        "fuzz", [&](const std::string& name) {
            scene::LoadedKit loaded{name, {}, {}, 0};
            loaded.kit = *kit;
            return loaded;
        });
    if (scene)
        sim::rerun(std::make_shared<const scene::Scene>(*scene), {}, {.seconds = 0.3});
    return 0;
}
