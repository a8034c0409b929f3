// SPDX-License-Identifier: Apache-2.0
/// Any bytes as a packet: messages or nothing; what is read is written and read the same.
#include "desk/osc.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size)
{
    using namespace snare;
    static const scene::Scene scene = [] {
        scene::Scene made;
        made.sources.push_back({"tide", scene::DialSource{0, 3, 2}});
        scene::CallSource hail;
        hail.name = "hail";
        hail.values.set("vessel", std::string("ketch"));
        made.sources.push_back({"hailing", hail});
        return made;
    }();
    const auto messages = desk::messagesIn({data, size});
    if (!messages)
        return 0;
    for (const desk::OscMessage& message : *messages) {
        const auto again = desk::messagesIn(desk::packetOf(message));
        if (!again || again->size() != 1 || again->front() != message)
            std::abort();
        std::string why;
        if (!desk::inputOf(message, scene, &why) && why.empty())
            std::abort();
    }
    return 0;
}
