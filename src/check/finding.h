// SPDX-License-Identifier: Apache-2.0
/// A finding, and the row of the table that it is of: plain values.
#pragma once

#include "scene/scene.h"

#include <functional>
#include <string>

namespace snare::check {

enum class Severity { error, warning };

std::string_view wordOf(Severity severity);

/// Where a finding is. `home` is the file of a kit, or empty for the scene (scene/kits.h).
struct Place {
    enum class Of { scene, piece, snare, routine, form, assembly, source, kit };

    Of of = Of::scene;
    std::string id = {};
    std::string home = {};
    std::string assembly = {}; ///< of a snare, or a piece, within one
    int response = -1;         ///< of a snare or routine, from 0; -1: none
    std::string field = {};    ///< "at", "groups", "on"; empty: all of it

    friend bool operator==(const Place&, const Place&) = default;
};

/// How a place reads: "snare weigh", "snare open of lock", "piece barrow".
std::string textOf(const Place& place);

/// An edit that mends a finding; one step of undo.
struct Fix {
    std::string text; ///< "Use barrow"
    std::function<void(scene::Scene&)> apply;
};

struct Finding {
    std::string_view id; ///< of its row
    Severity severity = Severity::warning;
    Place place;
    std::string text;  ///< what is wrong, naming the word at fault
    std::string about; ///< that word
    std::optional<Fix> fix = {};
    std::string accepted = {}; ///< why it may stay, if somebody said so
};

class Facts;
class Report;

/// One kind of finding.
struct FindingRow {
    std::string_view id;
    Severity severity;
    std::string_view title; ///< "a name that points to no piece"
    std::string_view why;   ///< why it matters, one sentence
    void (*look)(const Facts&, Report&);
};

} // namespace snare::check
