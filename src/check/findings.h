// SPDX-License-Identifier: Apache-2.0
/// Findings: what cannot work, or not as it seems to be meant, known before anything runs.
///
/// Each kind is one row of a table (`findingRows`): its name, how bad it is, what it means and why
/// it matters, and the function that looks for it. Panel, cards, command line and reference page
/// read the same table. A scene in order has none: where something can only be known while it runs,
/// nothing is said.
#pragma once

#include "check/finding.h"

#include <span>
#include <vector>

namespace snare::check {

/// The kinds of findings, in the order in which they are looked for.
std::span<const FindingRow> findingRows();
const FindingRow& rowOf(std::string_view id);

/// All findings of a scene with its kits, errors first, then in the order of the table. Those that
/// the scene accepts come last, with the reason.
std::vector<Finding> findingsOf(const scene::Scene& scene);

/// Whether a finding is the one that was accepted.
bool isAccepted(const scene::Accepted& accepted, const Finding& finding);
/// What the scene keeps of a finding that is accepted.
scene::Accepted acceptance(const Finding& finding, std::string reason);

} // namespace snare::check
