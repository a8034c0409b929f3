// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a table of tracks: it is read or refused; what it leads is written, read and run.
#include "io/document.h"
#include "io/tracks_in.h"
#include "sim/recorder.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    const auto table = io::tracksFrom({reinterpret_cast<const char*>(data), size}, "fuzz", {"cart", 0.5, 0.5});
    if (!table)
        return 0;
    scene::Scene scene;
    io::makeDriven(scene, *table);
    const scene::Take take = io::withTracks({}, *table);
    const auto again = io::readTake(io::takeText(take), "again");
    if (!again || !(*again == take))
        std::abort();
    sim::rerun(std::make_shared<const scene::Scene>(scene), take, {.seconds = 0.2});
    return 0;
}
