// SPDX-License-Identifier: Apache-2.0
#include "check/flow.h"

#include "check/facts.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;
using Kind = FlowNode::Kind;

std::string_view wordOf(Kind kind)
{
    constexpr std::array<std::string_view, 7> words{"source", "piece", "snare", "routine", "signal", "value", "phase"};
    return words.at(static_cast<std::size_t>(kind));
}

namespace {

class FlowBuilder {
  public:
    explicit FlowBuilder(const Facts& facts) : facts_(facts)
    {
        for (const Rule& rule : facts.rules)
            addCatch(rule, nodeOf(rule.place));
        for (const Steps& steps : facts.steps)
            for (const Response& response : *steps.responses)
                addResponse(steps, response, nodeOf(steps.place));
    }

    Flow take() { return std::move(flow_); }

  private:
    std::size_t node(Kind kind, const std::string& name, Place place = {}, bool isSeveral = false)
    {
        const auto [found, isNew] = nodes_.try_emplace(fmt::format("{} {}", wordOf(kind), name), flow_.nodes.size());
        if (isNew)
            flow_.nodes.push_back({kind, name, std::move(place), isSeveral});
        return found->second;
    }

    std::size_t nodeOf(const Place& place)
    {
        if (place.of == Place::Of::routine)
            return node(Kind::routine, place.id, place);
        return node(Kind::snare, place.assembly.empty() ? place.id : place.assembly + "." + place.id, place);
    }

    void edge(std::size_t from, std::size_t to, std::string_view label, bool late)
    {
        for (const FlowEdge& other : flow_.edges)
            if (other.from == from && other.to == to && other.label == label)
                return;
        flow_.edges.push_back({from, to, std::string(label), late});
    }

    /// The node of a target or place, and whether it is known only when it runs. Nothing for the
    /// scene itself.
    std::optional<std::pair<std::size_t, bool>> target(std::string_view name, const Rule* rule)
    {
        if (name == "scene" || name.empty())
            return std::nullopt;
        if (name == "self") {
            const std::string_view at = rule ? std::string_view(rule->snare->catches.at) : std::string_view();
            if (at.empty() || at == "self")
                return std::nullopt;
            return target(at, rule);
        }
        if (name.starts_with("inside:"))
            return std::pair(node(Kind::piece, std::string(name), {}, true), true);
        const std::string owner{splitShape(name).first};
        if (const Piece* piece = facts_.piece(owner))
            return std::pair(node(Kind::piece, piece->id, {Place::Of::piece, piece->id}), false);
        if (facts_.sources.contains(owner))
            return std::pair(node(Kind::source, owner, {Place::Of::source, owner}), false);
        // A laid assembly is several pieces, but it is known which.
        return std::pair(node(Kind::piece, owner, {}, true), !facts_.laid.contains(owner));
    }

    void addCatch(const Rule& rule, std::size_t snare)
    {
        const Catch& catches = rule.snare->catches;
        for (const EventKind kind : catches.event.items) {
            const std::string_view event = wordFor(kind).word;
            switch (familyOf(kind)) {
            case EventFamily::key:
                edge(node(Kind::source, catches.source.empty() ? "key " + catches.key : catches.source), snare, event,
                     false);
                break;
            case EventFamily::timer:
            case EventFamily::watch:
                if (!catches.source.empty())
                    edge(node(Kind::source, catches.source, {Place::Of::source, catches.source}), snare, event, false);
                else if (!catches.watch.empty())
                    edge(node(Kind::value, nameOf(catches.watch)), snare, event, false);
                break;
            case EventFamily::call:
                edge(node(Kind::source, "call " + catches.name), snare, event, false);
                continue;
            case EventFamily::signal:
                if (!catches.signal.empty())
                    edge(node(Kind::signal, catches.signal), snare, "", false);
                continue; // where it is heard is no cause
            case EventFamily::value:
                edge(node(Kind::value, catches.value), snare, event, false);
                continue;
            case EventFamily::phase:
                edge(node(Kind::phase, catches.phase.empty() ? "any" : catches.phase), snare, event, false);
                continue;
            case EventFamily::scene:
                edge(node(Kind::source, "the start"), snare, event, false);
                continue;
            default:
                break;
            }
            if (const auto at = target(catches.at, &rule))
                edge(at->first, snare, event, at->second);
        }
        for (const Condition& condition : rule.snare->filter.when)
            if (const std::string name = nameOf(condition.left); !name.empty())
                edge(node(Kind::value, name), snare, "only if", false);
        for (const std::string& phase : rule.snare->during.items)
            edge(node(Kind::phase, phase.starts_with("scene:") ? phase.substr(6) : phase), snare, "only during", false);
    }

    /// The value that a path ends in; empty for built-in ones and for those of events and signals.
    static std::string nameOf(const std::string& path)
    {
        const auto dot = path.rfind('.');
        const std::string owner = path.substr(0, path.find('.'));
        const std::string name = dot == std::string::npos ? path : path.substr(dot + 1);
        const bool isFleeting = owner == "event" || owner == "signal" || owner == "with";
        return isFleeting || isBuiltInOfPiece(name) || isBuiltInOfScene(name) ? std::string() : name;
    }

    void addResponse(const Steps& steps, const Response& response, std::size_t from)
    {
        const std::string_view does = wordOfResponse(response.kind).key;
        std::visit(
            [&](const auto& kind) {
                using Is = std::decay_t<decltype(kind)>;
                if constexpr (std::is_same_v<Is, Signal>) {
                    const std::string* name = kind.name.literal();
                    edge(from, node(Kind::signal, name ? *name : "a signal by value", {}, !name), "", !name);
                } else if constexpr (std::is_same_v<Is, ChangePhase>) {
                    const std::string* to = kind.to.literal();
                    edge(from, node(Kind::phase, to ? *to : "a phase by value", {}, !to), does, !to);
                } else if constexpr (std::is_same_v<Is, Set> || std::is_same_v<Is, Add>) {
                    if (!isBuiltInOfPiece(kind.name))
                        edge(from, node(Kind::value, kind.name), does, false);
                } else if constexpr (std::is_same_v<Is, Arm> || std::is_same_v<Is, Disarm> ||
                                     std::is_same_v<Is, Rearm>) {
                    for (const std::string& snare : kind.snares)
                        edge(from, snareNode(snare, steps.place), does, false);
                } else if constexpr (std::is_same_v<Is, RunRoutine>) {
                    edge(from, routineNode(kind.routine), does, false);
                } else if constexpr (std::is_same_v<Is, Spawn>) {
                    const std::string* form = kind.form.literal();
                    edge(from, node(Kind::piece, form ? "template:" + *form : "a template by value", {}, true), does,
                         !form);
                } else if constexpr (std::is_same_v<Is, ChangeTimer>) {
                    edge(from, node(Kind::source, kind.source, {Place::Of::source, kind.source}), does, false);
                } else if constexpr (requires { kind.on; }) {
                    for (const std::string& name : kind.on.names)
                        if (const auto to = target(name, steps.rule))
                            edge(from, to->first, does, to->second);
                }
            },
            response.kind);
    }

    std::size_t snareNode(const std::string& name, const Place& from)
    {
        for (const Rule& rule : facts_.rules)
            if (rule.place.id == name && (rule.place.assembly.empty() || rule.place.assembly == from.assembly))
                return nodeOf(rule.place);
        return node(Kind::snare, name);
    }

    std::size_t routineNode(const std::string& name)
    {
        for (const Steps& steps : facts_.steps)
            if (steps.place.of == Place::Of::routine && steps.place.id == name)
                return nodeOf(steps.place);
        return node(Kind::routine, name);
    }

    const Facts& facts_;
    Flow flow_;
    std::map<std::string, std::size_t> nodes_;
};

/// All nodes on ways through the edges, from one on.
std::vector<std::size_t> reach(const Flow& flow, std::size_t start, bool forward)
{
    std::vector<std::vector<std::size_t>> next(flow.nodes.size());
    for (const FlowEdge& edge : flow.edges)
        next[forward ? edge.from : edge.to].push_back(forward ? edge.to : edge.from);
    std::vector<bool> has(flow.nodes.size());
    std::vector<std::size_t> found{start};
    has.at(start) = true;
    for (std::size_t i = 0; i < found.size(); ++i)
        for (const std::size_t other : next[found[i]])
            if (!has[other]) {
                has[other] = true;
                found.push_back(other);
            }
    std::ranges::sort(found);
    return found;
}

std::string quoted(std::string_view text)
{
    std::string result = "\"";
    for (const char letter : text) {
        if (letter == '"' || letter == '\\')
            result += '\\';
        if (static_cast<unsigned char>(letter) >= ' ')
            result += letter;
    }
    return result + '"';
}

} // namespace

Flow flowOf(const scene::Scene& scene)
{
    const Facts facts{scene};
    return FlowBuilder{facts}.take();
}

std::vector<std::size_t> upstream(const Flow& flow, std::size_t node)
{
    return reach(flow, node, false);
}

std::vector<std::size_t> downstream(const Flow& flow, std::size_t node)
{
    return reach(flow, node, true);
}

std::string dotOf(const Flow& flow, const std::string& title)
{
    // By kind: sources as the pills of the shelf, snares as the diamonds of the lanes, signals as
    // flags.
    constexpr std::array<std::string_view, 7> shapes{
        "box, style=\"rounded\"", "box", "diamond", "component", "cds", "ellipse", "hexagon"};
    std::string text = fmt::format("digraph {} {{\n  rankdir=LR;\n  node [fontname=\"sans-serif\", fontsize=11];\n"
                                   "  edge [fontname=\"sans-serif\", fontsize=9];\n",
                                   quoted(title));
    for (std::size_t i = 0; i < flow.nodes.size(); ++i) {
        const FlowNode& node = flow.nodes[i];
        text += fmt::format("  n{} [label={}, shape={}{}];\n", i, quoted(node.name),
                            shapes.at(static_cast<std::size_t>(node.kind)), node.isSeveral ? ", peripheries=2" : "");
    }
    for (const FlowEdge& edge : flow.edges)
        text += fmt::format("  n{} -> n{} [label={}{}];\n", edge.from, edge.to, quoted(edge.label),
                            edge.isDecidedLate ? ", style=dashed" : "");
    return text + "}\n";
}

} // namespace snare::check
