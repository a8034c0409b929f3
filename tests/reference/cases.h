// SPDX-License-Identifier: Apache-2.0
/// Random scenes and takes for the reference, made of parts that can be left out one by one, so
/// that what fails shrinks.
#pragma once

#include <nlohmann/json.hpp>

#include <cstdint>
#include <string>
#include <utility>
#include <vector>

namespace snare::reference {

using Json = nlohmann::json;

/// A number for each part: it decides what the part is. Parts do not depend on each other.
struct Case {
    std::vector<std::uint32_t> pieces;
    std::vector<std::pair<std::uint32_t, std::vector<std::uint32_t>>> snares; ///< with their responses
    std::vector<std::uint32_t> inputs;
};

/// How a case is made into JSON. The prefix stands before all names, so that two scenes can lie in
/// one file.
struct Names {
    std::string prefix = "";
    double x = 0; ///< where the scene lies, m
};

Json sceneOf(const Case& one, const Names& names = {});
Json takeOf(const Case& one, const Names& names = {});

/// What a run of a case lasts, s.
inline constexpr double caseSeconds = 2.5;

} // namespace snare::reference
