// SPDX-License-Identifier: Apache-2.0
#include "check/versions.h"

#include "words/describe.h"
#include "words/moment.h"
#include "words/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>

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
        names.reserve(above.size());
        for (const auto& [depth, name] : above)
            names.push_back(name);
        told.lines.push_back(line);
        told.places.push_back(words::joinedBy(names, " › "));
        // A scene of another name is the same scene.
        above.emplace_back(indent, line.starts_with("Scene ") ? std::string("Scene") : line.substr(indent));
    }
    return told;
}

/// Which lines of two versions are the same, in order. Equal lines at both ends are pairs. So are
/// those that either version has once, as many as stand in the same order (the longest rising row);
/// what lies between two such pairs is looked at in the same way. This is the patience method of
/// Bram Cohen. However much differs, a round takes n log n.
class Pairing {
  public:
    Pairing(const Told& a, const Told& b) : inA(a.lines.size()), inB(b.lines.size())
    {
        std::unordered_map<std::string, int> known;
        a_ = numbersOf(a, known);
        b_ = numbersOf(b, known);
        pair({0, a_.size()}, {0, b_.size()}, 0);
    }

    std::vector<bool> inA; ///< whether a line has a partner
    std::vector<bool> inB;

  private:
    struct Range {
        std::size_t from;
        std::size_t to;
    };
    /// Two lines that are the same.
    struct Pair {
        std::size_t a;
        std::size_t b;
    };

    /// The same number for the same line at the same place.
    static std::vector<int> numbersOf(const Told& told, std::unordered_map<std::string, int>& known)
    {
        std::vector<int> numbers;
        for (std::size_t i = 0; i < told.lines.size(); ++i)
            numbers.push_back(
                known.try_emplace(told.places[i] + '\n' + told.lines[i], static_cast<int>(known.size())).first->second);
        return numbers;
    }

    void add(std::size_t a, std::size_t b) { inA[a] = inB[b] = true; }

    void pair(Range a, Range b, int depth)
    {
        for (; a.from < a.to && b.from < b.to && a_[a.from] == b_[b.from]; ++a.from, ++b.from)
            add(a.from, b.from);
        for (; a.from < a.to && b.from < b.to && a_[a.to - 1] == b_[b.to - 1]; --a.to, --b.to)
            add(a.to - 1, b.to - 1);
        constexpr int deepest = 100; // what differs still deeper is told as it is
        if (a.from == a.to || b.from == b.to || depth == deepest)
            return;
        const std::vector<Pair> anchors = longestRising(onlyOnce(a, b));
        if (anchors.empty())
            return;
        Pair last{a.from, b.from};
        for (const Pair& one : anchors) {
            pair({last.a, one.a}, {last.b, one.b}, depth + 1);
            add(one.a, one.b);
            last = {one.a + 1, one.b + 1};
        }
        pair({last.a, a.to}, {last.b, b.to}, depth + 1);
    }

    /// The lines that each range has once, in the order of the first.
    std::vector<Pair> onlyOnce(Range a, Range b) const
    {
        struct Count {
            int times = 0;
            std::size_t at = 0;
        };
        std::unordered_map<int, std::pair<Count, Count>> counts;
        for (std::size_t i = a.from; i < a.to; ++i)
            if (Count& count = counts[a_[i]].first; ++count.times == 1)
                count.at = i;
        for (std::size_t i = b.from; i < b.to; ++i)
            if (Count& count = counts[b_[i]].second; ++count.times == 1)
                count.at = i;
        std::vector<Pair> found;
        for (std::size_t i = a.from; i < a.to; ++i)
            if (const auto& [inFirst, inSecond] = counts[a_[i]]; inFirst.times == 1 && inSecond.times == 1)
                found.push_back({i, inSecond.at});
        return found;
    }

    /// Of pairs in the order of `a`, as many as possible whose `b` rises too.
    static std::vector<Pair> longestRising(const std::vector<Pair>& pairs)
    {
        constexpr std::size_t none = static_cast<std::size_t>(-1);
        std::vector<std::size_t> ends; // by length less one: the pair with the least `b` that ends a row so long
        std::vector<std::size_t> before(pairs.size(), none);
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            const auto at =
                std::ranges::lower_bound(ends, pairs[i].b, {}, [&](std::size_t end) { return pairs[end].b; });
            before[i] = at == ends.begin() ? none : *(at - 1);
            if (at == ends.end())
                ends.push_back(i);
            else
                *at = i;
        }
        std::vector<Pair> row;
        for (std::size_t i = ends.empty() ? none : ends.back(); i != none; i = before[i])
            row.push_back(pairs[i]);
        std::ranges::reverse(row);
        return row;
    }

    std::vector<int> a_;
    std::vector<int> b_;
};

} // namespace

std::vector<WordChange> wordsThatDiffer(const scene::Scene& before, const scene::Scene& after)
{
    const Told was = toldOf(before);
    const Told is = toldOf(after);
    const Pairing pairs{was, is};
    std::vector<WordChange> changes;
    std::size_t i = 0;
    std::size_t j = 0;
    const auto add = [&](bool added, const Told& told, std::size_t index) {
        changes.push_back({added, told.places[index], told.lines[index].substr(indentOf(told.lines[index]))});
    };
    while (i < was.lines.size() || j < is.lines.size()) {
        if (i < was.lines.size() && !pairs.inA[i])
            add(false, was, i++);
        else if (j < is.lines.size() && !pairs.inB[j])
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
        lines.emplace_back(line.tick,
                           fmt::format("{} {} {}{}", sign, timeOf(record, line), words::stepText(record, line), more));
    };
    for (const std::size_t number : differences.gone)
        add("-", before, number, "");
    for (const std::size_t number : differences.fresh)
        add("+", after, number, "");
    for (const Moved& moved : differences.moved)
        add("~", after, moved.after, ", before at " + timeOf(before, lineOf(before, moved.before)));
    std::ranges::stable_sort(lines, {}, &std::pair<std::int32_t, std::string>::first);
    std::vector<std::string> told;
    told.reserve(lines.size());
    for (auto& [tick, text] : lines)
        told.push_back(std::move(text));
    return told;
}

} // namespace snare::check
