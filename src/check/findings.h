// SPDX-License-Identifier: Apache-2.0
/// Findings: what cannot work, or not as it seems to be meant, known before anything runs.
///
/// Each kind is one row of a table (`findingRows`): its name, how bad it is, what it means and why it matters, and the
/// function that looks for it. Panel, cards, command line and reference page read the same table. A scene in order has
/// none: where something can only be known while it runs, nothing is said.
#pragma once

#include "scene/scene.h"

#include <functional>
#include <span>
#include <string>
#include <vector>

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

struct FindingRow;

/// The kinds of findings, in the order in which they are looked for.
std::span<const FindingRow> findingRows();
const FindingRow& rowOf(std::string_view id);

/// All findings of a scene with its kits, errors first, then in the order of the table. Those that the scene accepts
/// come last, with the reason.
std::vector<Finding> findingsOf(const scene::Scene& scene);

/// Whether a finding is the one that was accepted.
bool isAccepted(const scene::Accepted& accepted, const Finding& finding);
/// What the scene keeps of a finding that is accepted.
scene::Accepted acceptance(const Finding& finding, std::string reason);

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
