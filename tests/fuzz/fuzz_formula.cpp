// SPDX-License-Identifier: Apache-2.0
/// Any bytes as values of responses: they are read or refused; what is read is written and read the
/// same, and is worked out alike twice.
#include "io/document.h"
#include "io/log.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const std::string value(reinterpret_cast<const char*>(data), size);
    const std::string text =
        R"({"format": "fresh-snare-scene", "version": 1, "bounds": [-9, -9, 9, 9], "variables": {"v": 3, "who": "m"},
            "templates": {"gull": {"body": "kinematic", "shapes": [{"circle": 0.2}]}}, "pieces": [
            {"id": "z", "tags": ["t"], "properties": {"n": 2}, "shapes": [{"id": "a", "role": "zone", "box": [4, 4]}]},
            {"id": "m", "tags": ["t"], "properties": {"who": "z"}, "body": "kinematic", "shapes": [{"circle": 0.4}]}],
            "snares": [{"id": "in", "catch": {"event": "enter", "at": "z"}, "responses": [
                {"do": "set", "name": "n", "value": )" +
        value + R"(}, {"do": "add", "on": "scene", "name": "v", "value": )" + value + R"(},
                {"do": "put", "on": "m", "at": )" +
        value + R"(}, {"do": "say", "text": )" + value + R"(},
                {"do": "signal", "name": "go", "with": {"a": )" +
        value + R"(}}, {"do": "spawn", "template": "gull", "at": )" + value + R"(},
                {"do": "size", "on": "m", "by": )" +
        value + "}]}]}";
    const auto scene = io::readScene(text, "fuzz");
    if (!scene)
        return 0;
    const auto again = io::readScene(io::sceneText(*scene), "again");
    if (!again || *again != *scene)
        std::abort();
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    if (io::logText(sim::rerun(shared, {}, {.seconds = 0.2})) != io::logText(sim::rerun(shared, {}, {.seconds = 0.2})))
        std::abort();
    return 0;
}
