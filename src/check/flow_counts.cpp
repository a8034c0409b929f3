// SPDX-License-Identifier: Apache-2.0
#include "check/flow_counts.h"

#include <map>
#include <tuple>

namespace snare::check {

using Kind = FlowNode::Kind;
using rules::Line;
using rules::LineKind;

std::vector<int> timesOf(const Flow& flow, const sim::Record& record)
{
    using Caught = std::pair<std::string, std::string_view>;                          // snare, event
    using Done = std::tuple<std::string, std::string_view, std::string>;              // snare, what, to what
    std::map<Caught, int> caught;
    std::map<Done, int> done;
    for (const Line& line : record.journal.lines) {
        if (line.snare < 0 || (line.kind != LineKind::snare && line.kind != LineKind::response))
            continue;
        const std::string& snare = record.snareNameOf(line.snare);
        if (line.kind == LineKind::snare) {
            ++caught[{snare, scene::wordOf(line.event)}];
            continue;
        }
        // A step of a routine is done by the routine.
        const std::string_view routine = record.journal.texts.at(line.routine);
        const std::string by = routine.empty() ? snare : std::string(routine);
        const std::string_view does = rules::responseOf(line);
        ++done[{by, does, {}}];
        if (line.self >= 0)
            ++done[{by, does, std::string(record.nameOf(line.self))}];
        if (line.text != 0)
            ++done[{by, does, std::string(record.journal.texts.at(line.text))}];
    }
    const auto get = [](const auto& map, const auto& key) {
        const auto found = map.find(key);
        return found == map.end() ? 0 : found->second;
    };
    // In the run a snare of an assembly is called as in the scene, or with its assembly before it.
    const auto nameOf = [&](const FlowNode& node) {
        for (const std::string& name : {node.name, node.place.id})
            for (const scene::Snare& snare : record.scene->snares)
                if (snare.id == name)
                    return name;
        return node.name;
    };
    std::vector<int> times;
    for (const FlowEdge& edge : flow.edges) {
        const FlowNode& from = flow.nodes[edge.from];
        const FlowNode& to = flow.nodes[edge.to];
        if (edge.label.starts_with("only ")) {
            times.push_back(-1);
        } else if (to.kind == Kind::snare && from.kind != Kind::snare && from.kind != Kind::routine) {
            times.push_back(get(caught, Caught{nameOf(to), from.kind == Kind::signal ? "heard" : edge.label}));
        } else {
            const std::string by = from.kind == Kind::routine ? from.name : nameOf(from);
            const std::string_view does = to.kind == Kind::signal ? std::string_view("signal") : edge.label;
            const bool several = to.isSeveral || to.kind == Kind::source || to.kind == Kind::snare;
            times.push_back(get(done, Done{by, does, several ? std::string() : to.name}));
        }
    }
    return times;
}

} // namespace snare::check
