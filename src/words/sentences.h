// SPDX-License-Identifier: Apache-2.0
/// The sentences of snares: what is caught, on which condition, and what is done. Cards show the
/// same with slots in place of the words.
#pragma once

#include "scene/scene.h"

#include <string>
#include <string_view>
#include <vector>

namespace snare::words {

/// Who the visitor of a catch is: "a courier", "anyone".
std::string visitorText(const scene::Snare& snare);

/// Where it catches: "plate of scale", "the scene".
std::string whereText(const scene::Catch& catches);

/// "enters or leaves".
std::string eventText(const scene::Catch& catches);

/// "{who} {event} {at}": the sentence of what is caught, by family of events. A slot is a field of
/// the catch, or `who` (the visitor) or `number` (the dial or path that is watched).
std::string_view catchSentence(const scene::Catch& catches);

/// The fields of a catch that are given and that its sentence has no slot for: it listens to events
/// of several families, as "is spawned or is heard", and the sentence is that of the first.
std::vector<std::string_view> besidesSentence(const scene::Catch& catches);

/// "When a courier enters plate of scale".
std::string catchText(const scene::Snare& snare);

/// "only of group tide or has tag boat, after 0.5 s, once"; empty if nothing narrows it.
std::string narrowingText(const scene::Snare& snare);

/// "move barrow to (9.2, -1) at 2 m/s if self.load >= 3".
std::string responseText(const scene::Response& response);

} // namespace snare::words
