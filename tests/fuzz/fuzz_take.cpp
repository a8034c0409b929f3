// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a take: it is read or refused; what is read is written and read the same, and runs.
#include "io/document.h"
#include "io/log.h"
#include "sim/recorder.h"

#include <cstdio>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    static const auto scene = [] {
        auto read = io::readScene(
            R"({"format": "fresh-snare-scene", "version": 1, "pieces": [
                {"id": "peg", "draggable": true, "shapes": [{"circle": 0.6}]},
                {"id": "basket", "at": [4, 0], "shapes": [{"role": "zone", "box": [3, 3]}]},
                {"id": "bell", "at": [2, 1], "pinned": true, "shapes": [{"box": [2, 1]}]},
                {"id": "courier", "at": [0, 4], "body": {"kind": "walker", "steer": "arrows"}, "shapes": [{"circle": 0.3}]}],
                "sources": [{"id": "tide", "dial": {"low": 0, "high": 3}}],
                "snares": [
                {"id": "in", "catch": {"event": ["enter", "exit"], "at": "basket"}, "filter": {"groups": ["pointer"]}, "responses": []},
                {"id": "drop", "catch": {"event": "drop", "at": "basket"}, "responses": [{"do": "put", "on": "visitor", "at": "home"}]},
                {"id": "haul", "catch": {"event": "sweep-end"}, "responses": [{"do": "hide", "on": "swept", "until": "exit"}]},
                {"id": "rung", "catch": {"event": "double", "at": "bell"}, "responses": [{"do": "restart"}]},
                {"id": "hail", "catch": {"event": "called", "name": "hail"}, "responses": [{"do": "attach", "on": "peg", "to": "pointer"}]},
                {"id": "low", "catch": {"event": "falls", "source": "tide", "level": 1}, "responses": [{"do": "remove", "on": "peg"}]}]})",
            "fuzz");
        if (!read) {
            std::fputs(read.error().front().message().c_str(), stderr);
            std::abort();
        }
        return std::make_shared<const scene::Scene>(*read);
    }();
    const auto take = io::readTake({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!take)
        return 0;
    const auto again = io::readTake(io::takeText(*take), "again");
    if (!again || again->inputs != take->inputs)
        std::abort();
    sim::rerun(scene, *take, {.seconds = 0.5});
    return 0;
}
