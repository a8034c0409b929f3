// SPDX-License-Identifier: Apache-2.0
#include "words/describe.h"

#include "io/document.h"
#include "io/writer.h"
#include "words/formulas.h"
#include "words/sentences.h"
#include "words/slots.h"
#include "words/text.h"
#include "words/values.h"

#include <fmt/format.h>

#include <set>

namespace snare::words {

using io::Json;

namespace {

/// Any value of a file in plain words: numbers with commas between, members as "key value".
std::string told(const Json& value)
{
    if (value.is_number())
        return figure(value.get<double>());
    if (value.is_boolean())
        return value.get<bool>() ? "yes" : "no";
    if (value.is_string())
        return value.get<std::string>();
    std::vector<std::string> parts;
    if (value.is_array()) {
        const bool nested = std::ranges::any_of(value, [](const Json& one) { return one.is_structured(); });
        for (const Json& one : value)
            parts.push_back(one.is_array() ? "(" + told(one) + ")" : told(one));
        return joinedBy(parts, nested ? " " : ", ");
    }
    if (std::string formula = value.is_object() ? formulaText(value) : std::string(); !formula.empty())
        return formula;
    for (const auto& [key, one] : value.items())
        parts.push_back(key + " " + told(one));
    return joinedBy(parts, ", ");
}

/// Writes lines, each deeper than what it belongs to.
class Text {
  public:
    void line(int depth, std::string_view text) { out_ += fmt::format("{:{}}{}\n", "", 2 * depth, text); }
    void gap() { out_ += "\n"; }
    std::string take() { return std::move(out_); }

  private:
    std::string out_;
};

class Describer {
  public:
    explicit Describer(const scene::Scene& scene) : scene_(scene) {}

    std::string all()
    {
        describeScene();
        for (const auto& [name, one] : scene_.templates.entries) {
            out_.gap();
            out_.line(0, "Template " + name);
            describePiece(io::toJson(one), one.model, 1);
            describeSnaresAt(scene_.snares, "template:" + name, 1);
        }
        for (const auto& [name, assembly] : scene_.assemblies.entries)
            describeAssembly(name, assembly);
        // As the file has them: what differs from a template, the laid ones among the pieces.
        const Json file = Json::parse(io::sceneText(scene_));
        if (const auto pieces = file.find("pieces"); pieces != file.end())
            for (const Json& entry : *pieces)
                describePlaced(entry);
        std::vector<const scene::Snare*> rest;
        for (const scene::Snare& snare : scene_.snares)
            if (!told_.contains(&snare))
                rest.push_back(&snare);
        if (!rest.empty()) {
            out_.gap();
            out_.line(0, "Elsewhere");
            for (const scene::Snare* snare : rest)
                describeSnare(*snare, 1);
        }
        for (const auto& [name, routine] : scene_.routines.entries) {
            out_.gap();
            out_.line(0, "Routine " + name +
                             (routine.with.empty() ? std::string() : ", with " + valuesText(routine.with)));
            describeResponses(routine.responses, 1);
        }
        for (const scene::Accepted& one : scene_.accepted) {
            out_.gap();
            out_.line(0, fmt::format("Accepted: {} at {}{}{}", one.finding, one.at,
                                     one.about.empty() ? "" : ", about " + one.about,
                                     one.reason.empty() ? "" : ", because " + one.reason));
        }
        return out_.take();
    }

  private:
    void describeScene()
    {
        out_.line(0, "Scene " + (scene_.name.empty() ? std::string("without a name") : scene_.name));
        for (const io::FieldView& field : io::fieldsOf(scene_))
            if (field.key != "name" && (field.set || field.key == "view"))
                out_.line(1, fmt::format("{}: {}", field.key, slotText(field)));
        static const scene::Scene plain;
        if (!(scene_.camera == plain.camera))
            out_.line(1, "camera: " + told(io::toJson(scene_.camera)));
        if (!scene_.groups.empty())
            out_.line(1, "groups: " + joinedBy(scene_.groups, ", "));
        for (const scene::ContactRule& rule : scene_.contacts)
            out_.line(1, fmt::format("{} and {}: {}", rule.first, rule.second, scene::wordOf(rule.contact)));
        for (const auto& [name, value] : scene_.variables.entries)
            out_.line(1, "holds " + name + " = " + literalText(value));
        if (!scene_.phases.empty())
            out_.line(1, "phases: " + joinedBy(scene_.phases, ", "));
        for (const std::string& kit : scene_.kits)
            out_.line(1, "kit " + kit);
        for (const scene::Source& source : scene_.sources)
            out_.line(1, fmt::format("source {}: {}", source.id, toldWithout(io::toJson(source), {"id"})));
        if (!scene_.outgoing.empty())
            out_.line(1, "told outside: " + joinedBy(scene_.outgoing, ", "));
    }

    static std::string toldWithout(Json value, const std::set<std::string>& keys)
    {
        for (const std::string& key : keys)
            value.erase(key);
        return told(value);
    }

    void describeAssembly(const std::string& name, const scene::Assembly& assembly)
    {
        out_.gap();
        out_.line(0, "Assembly " + name);
        for (const scene::Piece& part : assembly.pieces) {
            out_.line(1, "Part " + part.id);
            describePiece(io::toJson(part), part, 2);
            describeSnaresAt(assembly.snares, "part:" + part.id, 2);
        }
        for (const scene::Snare& snare : assembly.snares)
            if (!told_.contains(&snare))
                describeSnare(snare, 1);
    }

    void describePlaced(const Json& entry)
    {
        const std::string id = entry.value("id", std::string());
        out_.gap();
        if (entry.contains("assembly"))
            return describeLaid(id, entry);
        out_.line(0, "Piece " + id);
        if (const scene::Piece* piece = scene::findPiece(scene_, id))
            describePiece(entry, *piece, 1);
        describeSnaresAt(scene_.snares, id, 1);
    }

    /// A laid one, what its parts have of their own, and what catches at one of them alone.
    void describeLaid(const std::string& id, const Json& entry)
    {
        const double turn = entry.value("turn", 0.0);
        out_.line(0, fmt::format("{}: {} at {}{}", id, withArticle(entry["assembly"].get<std::string>()),
                                 told(entry.value("at", Json::array({0, 0}))),
                                 turn == 0 ? "" : ", turned " + numberText(turn, scene::Unit::degrees)));
        const Json parts = entry.value("parts", Json::object());
        for (const scene::Piece& piece : scene_.pieces) {
            if (!piece.partOf || piece.partOf->laid != id)
                continue;
            const auto own = parts.find(piece.partOf->part);
            const bool caught = std::ranges::any_of(
                scene_.snares, [&](const scene::Snare& one) { return one.catches.at == piece.id; });
            if (own == parts.end() && !caught)
                continue;
            out_.line(1, "Part " + piece.id);
            if (own != parts.end())
                describePiece(*own, piece, 2);
            describeSnaresAt(scene_.snares, piece.id, 2);
        }
    }

    /// `own`: the fields to tell.
    void describePiece(const Json& own, const scene::Piece& piece, int depth)
    {
        if (!own.is_object())
            return;
        for (const auto& [key, value] : own.items()) {
            if (key == "id")
                continue;
            if (key == "at")
                out_.line(depth, "at " + told(value));
            else if (key == "shapes" && value.is_array())
                for (const Json& shape : value)
                    describeShape(shape, piece, depth);
            else if (key == "properties" && value.is_object())
                for (const auto& [name, held] : value.items())
                    out_.line(depth, "holds " + name + " = " + told(held));
            else if ((key == "looks" || key == "timers" || key == "phases") && value.is_structured())
                describeList(key.substr(0, key.size() - 1), value, depth);
            else
                out_.line(depth, fmt::format("{}: {}", key, told(value)));
        }
    }

    void describeList(const std::string& one, const Json& list, int depth)
    {
        for (const auto& [name, value] : list.items()) {
            if (list.is_object())
                out_.line(depth, fmt::format("{} {}: {}", one, name, told(value)));
            else
                out_.line(depth, fmt::format("{} {}", one, told(value)));
        }
    }

    void describeShape(const Json& shape, const scene::Piece& piece, int depth)
    {
        if (!shape.is_object())
            return;
        Json rest = shape;
        const bool named = rest.contains("id") && rest["id"].is_string();
        const std::string id = named ? " " + rest["id"].get<std::string>() : "";
        std::string role = "solid";
        if (rest.contains("role") && rest["role"].is_string())
            role = rest["role"].get<std::string>();
        else if (const auto found = named ? scene::findShape(piece, rest["id"].get<std::string>()) : std::nullopt)
            role = scene::wordOf(piece.shapes[*found].role); // as the template has it
        rest.erase("id");
        rest.erase("role");
        out_.line(depth, fmt::format("{}{}: {}", role, id, told(rest)));
    }

    template <class List> void describeSnaresAt(const List& snares, const std::string& place, int depth)
    {
        for (const scene::Snare& snare : snares)
            if (snare.catches.at == place)
                describeSnare(snare, depth);
    }

    void describeSnare(const scene::Snare& snare, int depth)
    {
        told_.insert(&snare);
        out_.line(depth, "Snare " + snare.id + (snare.armed ? "" : ", disarmed at the start"));
        if (!snare.note.empty())
            out_.line(depth + 1, "“" + snare.note + "”");
        out_.line(depth + 1, catchText(snare));
        if (const std::string narrowing = narrowingText(snare); !narrowing.empty())
            out_.line(depth + 1, narrowing);
        describeResponses(snare.responses, depth + 1);
    }

    void describeResponses(const std::vector<scene::Response>& responses, int depth)
    {
        for (std::size_t i = 0; i < responses.size(); ++i) {
            const auto* script = std::get_if<scene::Script>(&responses[i].kind);
            out_.line(depth, fmt::format("{}. {}", i + 1, responseText(responses[i])));
            std::string_view rest = script ? std::string_view(script->lua) : std::string_view();
            if (rest.find('\n') == std::string_view::npos && rest.size() <= 60)
                continue; // it is told whole
            while (!rest.empty()) {
                const std::size_t end = rest.find('\n');
                out_.line(depth + 1, rest.substr(0, end));
                rest = end == std::string_view::npos ? std::string_view() : rest.substr(end + 1);
            }
        }
    }

    const scene::Scene& scene_;
    Text out_;
    std::set<const scene::Snare*> told_;
};

} // namespace

std::string describe(const scene::Scene& scene)
{
    return Describer{scene}.all();
}

} // namespace snare::words
