// SPDX-License-Identifier: Apache-2.0
/// A reference of the rules: slow, plain, and written from docs/semantics.md alone. It shares no
/// code with the engine, not even the reader: scenes and takes are JSON.
///
/// It knows what is most easily got wrong together: time (T), the tick and settling (K), who meets
/// whom and who is inside (M), keys, timers, dials and calls (P7 to P11), and snares with gates,
/// waits and what is held (S). Its shapes are boxes that do not turn and only sense. It knows
/// nothing of the pointer, of bodies that push each other, of looks, scripts and chance.
#pragma once

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace snare::reference {

using Json = nlohmann::json;

struct Result {
    std::vector<std::string> lines; ///< one a line of the log, see `lineOf`
    std::string stopped;            ///< "K8", "too much" where this goes on for too long, or empty
};

/// Runs a scene with a take for so many seconds. Stays and held keys are told too.
Result run(const Json& scene, const Json& take, double seconds);

/// What is compared of a line of the log: all but the words of notes and reasons, and of `with`
/// what rules speak of.
std::string lineOf(const Json& line);

} // namespace snare::reference
