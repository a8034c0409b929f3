// SPDX-License-Identifier: Apache-2.0
#include "check/versions.h"

#include "words/describe.h"
#include "words/moment.h"
#include "words/text.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::check {

namespace {

/// The lines of a scene in sentences, each with what it belongs to.
struct Told {
    std::vector<std::string> lines; ///< with their indent
    std::vector<std::string> places;
};

std::size_t indentOf(const std::string& line)
{
    return std::min(line.find_first_not_of(' '), line.size());
}

Told toldOf(const scene::Scene& scene)
{
    Told told;
    const std::string text = words::describe(scene);
    std::vector<std::pair<std::size_t, std::string>> above; // headings by indent
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::string line = text.substr(at, end - at);
        at = end + 1;
        if (line.empty())
            continue;
        const std::size_t indent = indentOf(line);
        while (!above.empty() && above.back().first >= indent)
            above.pop_back();
        std::vector<std::string> names;
        for (const auto& [depth, name] : above)
            names.push_back(name);
        told.lines.push_back(line);
        told.places.push_back(words::joinedBy(names, " › "));
        // A scene of another name is the same scene.
        above.emplace_back(indent, line.starts_with("Scene ") ? std::string("Scene") : line.substr(indent));
    }
    return told;
}

/// Which lines of the one pair up with lines of the other, in order: the greedy method of Myers, "An O(ND) Difference
/// Algorithm and Its Variations" (1986). True where a line has a partner.
std::pair<std::vector<bool>, std::vector<bool>> paired(const Told& a, const Told& b)
{
    const auto n = static_cast<std::ptrdiff_t>(a.lines.size());
    const auto m = static_cast<std::ptrdiff_t>(b.lines.size());
    const auto same = [&](std::ptrdiff_t x, std::ptrdiff_t y) {
        const auto i = static_cast<std::size_t>(x);
        const auto j = static_cast<std::size_t>(y);
        return a.lines[i] == b.lines[j] && a.places[i] == b.places[j];
    };
    const std::ptrdiff_t most = n + m;
    std::vector<std::ptrdiff_t> farthest(static_cast<std::size_t>(2 * most + 2), 0);
    const auto at = [&](std::ptrdiff_t k) -> std::ptrdiff_t& { return farthest[static_cast<std::size_t>(k + most)]; };
    std::vector<std::vector<std::ptrdiff_t>> steps; // of each number of differences: the farthest on its diagonals
    bool found = false;
    for (std::ptrdiff_t d = 0; d <= most && !found; ++d) {
        std::vector<std::ptrdiff_t> row;
        for (std::ptrdiff_t k = -d; k <= d; k += 2) {
            std::ptrdiff_t x = k == -d || (k != d && at(k - 1) < at(k + 1)) ? at(k + 1) : at(k - 1) + 1;
            while (x < n && x - k < m && same(x, x - k))
                ++x;
            at(k) = x;
            row.push_back(x);
            found = found || (x >= n && x - k >= m);
        }
        steps.push_back(std::move(row));
    }
    std::vector<bool> inA(a.lines.size());
    std::vector<bool> inB(b.lines.size());
    std::ptrdiff_t x = n;
    std::ptrdiff_t y = m;
    for (auto d = static_cast<std::ptrdiff_t>(steps.size()) - 1; d >= 0 && x >= 0 && y >= 0; --d) {
        const std::ptrdiff_t k = x - y;
        const auto before = [&](std::ptrdiff_t diagonal) {
            const std::ptrdiff_t index = (diagonal + (d - 1)) / 2;
            const auto& row = steps[static_cast<std::size_t>(d - 1)];
            return index >= 0 && index < static_cast<std::ptrdiff_t>(row.size()) ? row[static_cast<std::size_t>(index)] : -1;
        };
        std::ptrdiff_t fromX = 0;
        std::ptrdiff_t fromY = 0;
        if (d > 0) {
            const bool down = k == -d || (k != d && before(k - 1) < before(k + 1));
            const std::ptrdiff_t diagonal = down ? k + 1 : k - 1;
            fromX = before(diagonal);
            fromY = fromX - diagonal;
        }
        while (x > fromX && y > fromY && x > 0 && y > 0 && same(x - 1, y - 1)) {
            --x;
            --y;
            inA[static_cast<std::size_t>(x)] = inB[static_cast<std::size_t>(y)] = true;
        }
        x = fromX;
        y = fromY;
    }
    return {inA, inB};
}

} // namespace

std::vector<WordChange> wordsThatDiffer(const scene::Scene& before, const scene::Scene& after)
{
    const Told was = toldOf(before);
    const Told is = toldOf(after);
    const auto [inWas, inIs] = paired(was, is);
    std::vector<WordChange> changes;
    std::size_t i = 0;
    std::size_t j = 0;
    const auto add = [&](bool added, const Told& told, std::size_t index) {
        changes.push_back({added, told.places[index], told.lines[index].substr(indentOf(told.lines[index]))});
    };
    while (i < was.lines.size() || j < is.lines.size()) {
        if (i < was.lines.size() && !inWas[i])
            add(false, was, i++);
        else if (j < is.lines.size() && !inIs[j])
            add(true, is, j++);
        else
            ++i, ++j;
    }
    return changes;
}

std::vector<std::string> eventsThatDiffer(const sim::Record& before, const sim::Record& after,
                                          const Differences& differences)
{
    std::vector<std::pair<std::int32_t, std::string>> lines;
    const auto timeOf = [](const sim::Record& record, const rules::Line& line) {
        return words::figure(std::round(line.tick * 1000.0 / record.scene->rate) / 1000) + " s";
    };
    const auto lineOf = [](const sim::Record& record, std::size_t line) -> const rules::Line& {
        return record.journal.lines[line];
    };
    const auto add = [&](const char* sign, const sim::Record& record, std::size_t number, const std::string& more) {
        const rules::Line& line = lineOf(record, number);
        lines.emplace_back(line.tick, fmt::format("{} {} {}{}", sign, timeOf(record, line), words::stepText(record, line), more));
    };
    for (const std::size_t number : differences.gone)
        add("-", before, number, "");
    for (const std::size_t number : differences.fresh)
        add("+", after, number, "");
    for (const Moved& moved : differences.moved)
        add("~", after, moved.after, ", before at " + timeOf(before, lineOf(before, moved.before)));
    std::ranges::stable_sort(lines, {}, &std::pair<std::int32_t, std::string>::first);
    std::vector<std::string> told;
    for (auto& [tick, text] : lines)
        told.push_back(std::move(text));
    return told;
}

} // namespace snare::check
