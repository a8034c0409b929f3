// SPDX-License-Identifier: Apache-2.0
#include "check/findings.h"

#include "check/facts.h"

#include <fmt/format.h>

namespace snare::check {

std::string_view wordOf(Severity severity)
{
    return severity == Severity::error ? "error" : "warning";
}

std::string textOf(const Place& place)
{
    switch (place.of) {
    case Place::Of::scene:
        return "the scene";
    case Place::Of::piece:
        return fmt::format("piece {}", place.id);
    case Place::Of::snare:
        return place.assembly.empty() ? fmt::format("snare {}", place.id)
                                      : fmt::format("snare {} of {}", place.id, place.assembly);
    case Place::Of::routine:
        return fmt::format("routine {}", place.id);
    case Place::Of::form:
        return fmt::format("template {}", place.id);
    case Place::Of::assembly:
        return fmt::format("assembly {}", place.id);
    case Place::Of::source:
        return fmt::format("source {}", place.id);
    case Place::Of::kit:
        return fmt::format("kit {}", place.id);
    }
    return {};
}

std::span<const FindingRow> findingRows()
{
    static const std::vector<FindingRow> rows = [] {
        std::vector<FindingRow> all;
        for (const auto part :
             {rowsOfNames(), rowsOfSignals(), rowsOfMeetings(), rowsOfSleep(), rowsOfDoubles(), rowsOfMishaps()})
            all.insert(all.end(), part.begin(), part.end());
        return all;
    }();
    return rows;
}

const FindingRow& rowOf(std::string_view id)
{
    const auto rows = findingRows();
    return *std::ranges::find(rows, id, &FindingRow::id);
}

bool isAccepted(const scene::Accepted& accepted, const Finding& finding)
{
    return accepted.finding == finding.id && accepted.at == textOf(finding.place) && accepted.about == finding.about;
}

scene::Accepted acceptance(const Finding& finding, std::string reason)
{
    return {std::string(finding.id), textOf(finding.place), finding.about, std::move(reason)};
}

std::vector<Finding> findingsOf(const scene::Scene& scene)
{
    const Facts facts{scene};
    std::vector<Finding> findings;
    for (const FindingRow& row : findingRows()) {
        std::vector<Finding> found;
        Report report{found, row};
        row.look(facts, report);
        findings.insert(findings.end(), std::make_move_iterator(found.begin()), std::make_move_iterator(found.end()));
    }
    for (Finding& finding : findings)
        for (const scene::Accepted& accepted : scene.accepted)
            if (isAccepted(accepted, finding))
                finding.accepted = accepted.reason.empty() ? "accepted" : accepted.reason;
    std::ranges::stable_sort(
        findings, {}, [](const Finding& finding) { return std::pair(!finding.accepted.empty(), finding.severity); });
    return findings;
}

} // namespace snare::check
