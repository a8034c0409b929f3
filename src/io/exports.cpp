// SPDX-License-Identifier: Apache-2.0
#include "io/exports.h"

#include "io/log.h"
#include "scene/scene.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>

#include <cctype>
#include <map>
#include <optional>
#include <set>
#include <sstream>

namespace snare::io {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

double secondsOf(const Line& line, int rate)
{
    const bool hasPart = line.kind == LineKind::event && line.frac >= 0;
    return std::max(0.0, (hasPart ? line.tick - 1 + line.frac : line.tick) / rate);
}

std::string csvRow(std::span<const std::string> cells)
{
    std::string row;
    for (const std::string& cell : cells) {
        if (&cell != cells.data())
            row += ',';
        if (cell.find_first_of(",\"\r\n") == std::string::npos) {
            row += cell;
            continue;
        }
        row += '"';
        for (const char c : cell) {
            if (c == '"')
                row += '"';
            row += c;
        }
        row += '"';
    }
    return row + "\r\n";
}

std::string csvOf(const sim::Record& record)
{
    std::string text = "tick,time,kind,event,at,shape,by,part,snare,outcome,stage,step,do,text\r\n";
    for (const Line& line : record.journal.lines) {
        const bool isEvent = line.kind == LineKind::event;
        const bool isSnare = line.kind == LineKind::snare;
        const bool isResponse = line.kind == LineKind::response;
        const bool hasShapes = isEvent || isSnare;
        const bool hasSnare = line.snare >= 0;
        const bool slipped = isSnare && line.outcome == rules::Outcome::slipped;
        const std::string cells[] = {
            std::to_string(line.tick),
            fmt::format("{:.6f}", secondsOf(line, record.scene->rate)),
            std::string(rules::wordOf(line.kind)),
            isEvent || isSnare ? std::string(scene::wordFor(line.event).word) : std::string(),
            line.self == world::nobody ? std::string() : std::string(record.nameOf(line.self)),
            hasShapes && line.shape >= 0 ? std::string(record.shapeNameOf(line.shape)) : std::string(),
            std::string(record.nameOf(line.visitor)),
            hasShapes && line.part >= 0 ? std::string(record.shapeNameOf(line.part)) : std::string(),
            hasSnare ? record.snareNameOf(line.snare) : std::string(),
            isSnare ? std::string(rules::wordOf(line.outcome)) : std::string(),
            slipped ? std::string(rules::wordOf(line.stage)) : std::string(),
            isResponse ? std::to_string(line.step) : std::string(),
            isResponse ? std::string(rules::responseOf(line)) : std::string(),
            record.journal.textOf(line)};
        text += csvRow(cells);
    }
    return text;
}

namespace {

using Json = nlohmann::ordered_json;

/// Collects the entries of a trace; tracks get their numbers and names as they are met.
class Trace {
  public:
    explicit Trace(const sim::Record& record) : record_(record) { track("scene"); }

    std::int64_t microseconds(double seconds) const { return std::llround(seconds * 1e6); }
    double endOf(std::int64_t tick) const { return static_cast<double>(tick) / record_.scene->rate; }

    int track(const std::string& name)
    {
        const auto [found, isNew] = tracks_.try_emplace(name, static_cast<int>(tracks_.size()) + 1);
        if (isNew)
            events_.push_back(Json{
                {"name", "thread_name"}, {"ph", "M"}, {"pid", 1}, {"tid", found->second}, {"args", {{"name", name}}}});
        return found->second;
    }
    void moment(const std::string& on, std::string name, std::string_view category, double at,
                Json arguments = Json::object())
    {
        events_.push_back(Json{{"name", std::move(name)},
                               {"cat", category},
                               {"ph", "i"},
                               {"s", "t"},
                               {"ts", microseconds(at)},
                               {"pid", 1},
                               {"tid", track(on)},
                               {"args", std::move(arguments)}});
    }
    void span(const std::string& on, std::string name, std::string_view category, double from, double to)
    {
        events_.push_back(Json{{"name", std::move(name)},
                               {"cat", category},
                               {"ph", "X"},
                               {"ts", microseconds(from)},
                               {"dur", std::max<std::int64_t>(0, microseconds(to) - microseconds(from))},
                               {"pid", 1},
                               {"tid", track(on)}});
    }
    void number(const std::string& name, double at, double value)
    {
        events_.push_back(
            Json{{"name", name}, {"ph", "C"}, {"ts", microseconds(at)}, {"pid", 1}, {"args", {{"value", value}}}});
    }
    std::string text()
    {
        Json whole{{"displayTimeUnit", "ms"}, {"traceEvents", std::move(events_)}};
        return whole.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
    }

  private:
    const sim::Record& record_;
    std::map<std::string, int> tracks_;
    Json events_ = Json::array();
};

/// " plate"; nothing for a shape that has only a number.
std::string nameIn(const sim::Record& record, std::int32_t shape)
{
    const std::string_view name = shape < 0 ? std::string_view() : record.shapeNameOf(shape);
    const bool isNumber = std::ranges::all_of(name, [](char c) { return c >= '0' && c <= '9'; });
    return isNumber ? std::string() : " " + std::string(name);
}

} // namespace

std::string traceOf(const sim::Record& record)
{
    Trace trace{record};
    const double end = record.seconds();
    struct Open {
        double since;
        std::string name;
    };
    std::map<std::tuple<world::PieceIndex, std::int32_t, world::PieceIndex, std::int32_t>, Open> inside;
    const auto trackOf = [&](world::PieceIndex piece) {
        return piece == world::nobody ? std::string("scene") : std::string(record.nameOf(piece));
    };
    for (const Line& line : record.journal.lines) {
        const double at = secondsOf(line, record.scene->rate);
        if (line.kind == LineKind::event) {
            const auto key = std::tuple(line.self, line.shape, line.visitor, line.part);
            const std::string visitor{record.nameOf(line.visitor)};
            if (line.event == EventKind::enter)
                inside[key] = {at, visitor + " inside" + nameIn(record, line.shape)};
            if (const auto open = inside.find(key); line.event == EventKind::exit && open != inside.end()) {
                trace.span(trackOf(line.self), open->second.name, "meeting", open->second.since, at);
                inside.erase(open);
            }
            Json arguments = Json::object();
            if (!visitor.empty())
                arguments["by"] = visitor;
            if (const std::string text = record.journal.textOf(line); !text.empty())
                arguments["what"] = text;
            trace.moment(trackOf(line.self), std::string(scene::wordFor(line.event).word), "event", at,
                         std::move(arguments));
        } else if (line.kind == LineKind::snare) {
            Json arguments{{"at", trackOf(line.self)}};
            if (line.outcome == rules::Outcome::slipped)
                arguments["stage"] = rules::wordOf(line.stage);
            if (const std::string text = record.journal.textOf(line); !text.empty())
                arguments["why"] = text;
            trace.moment("snare " + record.snareNameOf(line.snare), std::string(rules::wordOf(line.outcome)), "snare",
                         at, std::move(arguments));
        } else if (line.kind == LineKind::response && line.until >= 0) {
            trace.span(trackOf(line.self), record.journal.textOf(line), "caption", at, trace.endOf(line.until));
        } else if (line.kind == LineKind::response) {
            trace.moment(trackOf(line.self), std::string(rules::responseOf(line)), "response", at);
        } else {
            trace.moment("scene", record.journal.textOf(line), "note", at);
        }
    }
    for (const auto& [key, open] : inside)
        trace.span(trackOf(std::get<0>(key)), open.name, "meeting", open.since, end);
    std::map<world::PieceIndex, std::pair<double, std::string>> phases;
    const auto begin = [&](world::PieceIndex owner, double at, const std::string& phase) {
        if (const auto before = phases.find(owner); before != phases.end() && !before->second.second.empty())
            trace.span(trackOf(owner), "phase " + before->second.second, "phase", before->second.first, at);
        phases[owner] = {at, phase};
    };
    if (const std::string phase = sim::phaseAt(record, world::theScene, 0); !phase.empty())
        begin(world::theScene, 0, phase);
    for (std::size_t i = 0; i < record.pieces.size(); ++i)
        if (const std::string phase = sim::phaseAt(record, static_cast<world::PieceIndex>(i), 0); !phase.empty())
            begin(static_cast<world::PieceIndex>(i), 0, phase);
    for (const rules::PhaseChange& change : record.journal.phases)
        begin(change.owner, trace.endOf(change.tick), change.phase);
    for (const auto& [owner, phase] : std::map(phases))
        begin(owner, end, {});
    for (const rules::ValueChange& change : record.journal.values)
        if (change.kind == rules::ValueChange::Kind::number)
            trace.number(fmt::format("{}.{}",
                                     change.owner == world::theScene ? std::string("scene")
                                                                     : std::string(record.nameOf(change.owner)),
                                     record.journal.texts.at(change.name)),
                         trace.endOf(change.tick), change.number);
    return trace.text();
}

namespace {

/// The transitions of a statechart: what each phase of an owner leads to.
class Statechart {
  public:
    explicit Statechart(const scene::Scene& scene) : scene_(scene) {}

    std::string text()
    {
        pugi::xml_node declaration = document_.append_child(pugi::node_declaration);
        declaration.append_attribute("version") = "1.0";
        declaration.append_attribute("encoding") = "UTF-8";
        pugi::xml_node root = document_.append_child("scxml");
        root.append_attribute("xmlns") = "http://www.w3.org/2005/07/scxml";
        root.append_attribute("version") = "1.0";
        root.append_attribute("datamodel") = "null";
        if (!scene_.name.empty())
            root.append_attribute("name") = tokenOf(scene_.name).c_str();
        pugi::xml_node all = root.append_child("parallel");
        all.append_attribute("id") = "all";
        std::vector<std::string> phases = scene_.phases;
        addOwner(all, "scene", phases);
        for (const scene::Piece& piece : scene_.pieces) {
            phases.clear();
            for (const scene::PiecePhase& phase : piece.phases)
                phases.push_back(phase.id);
            addOwner(all, piece.id, phases);
        }
        addRaising(all);
        for (std::string note : notes_) {
            for (std::size_t at = note.find("--"); at != std::string::npos; at = note.find("--", at))
                note.replace(at, 2, "- -"); // no comment may have it
            root.append_child(pugi::node_comment).set_value((" " + note + " ").c_str());
        }
        std::ostringstream out;
        document_.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
        return out.str();
    }

  private:
    /// Calls `visit(response)` for what is done, with what the routines do that are run.
    template <class Visit>
    void forSteps(const std::vector<scene::Response>& list, const Visit& visit, int depth = 0) const
    {
        constexpr int deepest = 16; // routines may run each other in a circle
        for (const scene::Response& response : list) {
            visit(response);
            const auto* run = std::get_if<scene::RunRoutine>(&response.kind);
            if (const scene::Routine* routine = run && depth < deepest ? scene_.routines.find(run->routine) : nullptr)
                forSteps(routine->responses, visit, depth + 1);
        }
    }

    /// Whether a phase response of a snare means this owner.
    bool means(const scene::Snare& snare, const scene::ChangePhase& change, const std::string& owner) const
    {
        const scene::Piece* piece = owner == "scene" ? nullptr : scene::findPiece(scene_, owner);
        return std::ranges::any_of(change.on.names, [&](const std::string& name) {
            const std::string& plain = name == "self" ? snare.catches.at : name;
            return plain == owner || (name == "self" && plain.empty() && owner == "scene") ||
                   (piece && scene::isNamedBy(*piece, plain));
        });
    }

    void addOwner(pugi::xml_node all, const std::string& owner, const std::vector<std::string>& phases)
    {
        if (phases.empty())
            return;
        pugi::xml_node state = all.append_child("state");
        state.append_attribute("id") = tokenOf(owner).c_str();
        state.append_attribute("initial") = stateOf(owner, phases.front()).c_str();
        for (std::size_t i = 0; i < phases.size(); ++i) {
            pugi::xml_node phase = state.append_child("state");
            phase.append_attribute("id") = stateOf(owner, phases[i]).c_str();
            for (const scene::Snare& snare : scene_.snares)
                if (listensIn(snare, owner, phases[i]))
                    addTransition(phase, snare, owner, phases, i);
        }
    }

    /// The first change that a snare makes to an owner in one of its phases. Restarting leads to
    /// the first phase.
    void addTransition(pugi::xml_node phase, const scene::Snare& snare, const std::string& owner,
                       const std::vector<std::string>& phases, std::size_t from)
    {
        std::optional<std::string> target;
        forSteps(snare.responses, [&](const scene::Response& response) {
            const auto* change = std::get_if<scene::ChangePhase>(&response.kind);
            std::string to = phases.front();
            if (change) {
                if (!means(snare, *change, owner))
                    return;
                if (!change->to.literal()) {
                    notes_.insert(fmt::format("snare {} works out the phase of {} while it runs", snare.id, owner));
                    return;
                }
                to = *change->to.literal() == "next" ? phases[(from + 1) % phases.size()] : *change->to.literal();
            } else if (!std::holds_alternative<scene::Restart>(response.kind)) {
                return;
            }
            if (target)
                notes_.insert(
                    fmt::format("snare {} changes {} more than once: the first change is shown", snare.id, owner));
            else if (std::ranges::find(phases, to) != phases.end())
                target = to;
        });
        if (!target || *target == phases[from])
            return;
        pugi::xml_node transition = phase.append_child("transition");
        transition.append_attribute("event") = ("snare." + tokenOf(snare.id)).c_str();
        transition.append_attribute("target") = stateOf(owner, *target).c_str();
    }

    /// A name as ids and events there may be (NCName): letters, digits, `-`, `_` and `.`, none but
    /// a letter first.
    static std::string tokenOf(std::string name)
    {
        std::ranges::replace_if(name, [](char c) { return c != '.' && !scene::isId(std::string_view(&c, 1)); }, '_');
        const bool beginsWell =
            !name.empty() && (std::isalpha(static_cast<unsigned char>(name.front())) || name.front() == '_');
        return beginsWell ? name : "_" + name;
    }

    static std::string stateOf(const std::string& owner, const std::string& phase)
    {
        return tokenOf(owner + "." + phase);
    }

    /// What a snare says it listens in; only what is known of this owner counts.
    static bool listensIn(const scene::Snare& snare, const std::string& owner, const std::string& phase)
    {
        bool isAsked = false;
        for (const std::string& one : snare.during.items) {
            const bool ofScene = one.starts_with("scene:");
            if (ofScene != (owner == "scene") || (!ofScene && snare.catches.at != owner))
                continue;
            isAsked = true;
            if ((ofScene ? one.substr(6) : one) == phase)
                return true;
        }
        return !isAsked;
    }

    /// A state beside the others, whose transitions raise the signals of snares.
    void addRaising(pugi::xml_node all)
    {
        pugi::xml_node state;
        for (const scene::Snare& snare : scene_.snares) {
            pugi::xml_node transition;
            forSteps(snare.responses, [&](const scene::Response& response) {
                const auto* signal = std::get_if<scene::Signal>(&response.kind);
                if (!signal || !signal->name.literal())
                    return;
                if (!state) {
                    state = all.append_child("state");
                    state.append_attribute("id") = "signals";
                }
                if (!transition) {
                    transition = state.append_child("transition");
                    transition.append_attribute("event") = ("snare." + tokenOf(snare.id)).c_str();
                }
                transition.append_child("raise").append_attribute("event") =
                    ("signal." + tokenOf(*signal->name.literal())).c_str();
            });
        }
        if (!all.first_child()) // a scene without phases and signals
            all.append_child("state").append_attribute("id") = "scene";
    }

    const scene::Scene& scene_;
    pugi::xml_document document_;
    std::set<std::string> notes_;
};

} // namespace

std::string scxmlOf(const scene::Scene& scene)
{
    return Statechart{scene}.text();
}

} // namespace snare::io
