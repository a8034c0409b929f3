// SPDX-License-Identifier: Apache-2.0
/// Findings about names: what they point to is not there.
#include "check/facts.h"

#include "scene/assemblies.h"
#include "script/sandbox.h"

#include <fmt/format.h>

namespace snare::check {

using namespace scene;

namespace {

std::vector<std::string> asList(const Names& names)
{
    return {names.begin(), names.end()};
}

std::vector<std::string> pieceNames(const Facts& facts)
{
    std::vector<std::string> names;
    for (const Piece& piece : facts.scene.pieces)
        names.push_back(piece.id);
    for (const Source& source : facts.scene.sources)
        names.push_back(source.id);
    return names;
}

/// All names, with where they stand.
template <class Visit> void forAll(const Facts& facts, Visit&& visit)
{
    for (const NameAt& one : facts.names)
        visit(one.place, one.refers, one.name);
}

std::string missing(const Place& place, std::string_view what, std::string_view name, const std::string& near)
{
    return fmt::format("{} names the {} {}, which is not there{}", textOf(place), what, name,
                       near.empty() ? std::string() : fmt::format("; {} is", near));
}

bool isPlace(Refers refers)
{
    return refers == Refers::target || refers == Refers::place || refers == Refers::piece;
}

/// The owner in a place or target that should be a piece; empty if it is something else, or known
/// only when it runs.
std::string_view ownerOf(const Facts& facts, std::string_view name)
{
    if (name.starts_with("inside:"))
        return ownerOf(facts, name.substr(7));
    if (name.empty() || name.find(':') != std::string_view::npos || name.find('.') != std::string_view::npos)
        return {};
    const std::string_view owner = splitShape(name).first;
    const bool isOther = isReserved(owner) || owner == "home" || owner == "assembly" || owner == "pointer" ||
                         findSource(facts.scene, owner) || findLaid(facts.scene, owner) || facts.timers.contains(owner);
    return isOther ? std::string_view() : owner;
}

void lookForPieces(const Facts& facts, Report& report)
{
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (!isPlace(refers))
            return;
        const std::string owner{ownerOf(facts, name)};
        if (owner.empty() || facts.piece(owner) || facts.values.contains(owner))
            return;
        const std::string near = nearest(owner, pieceNames(facts));
        report.add(place, owner, missing(place, "piece", owner, near), replacing(place, owner, near));
    });
}

void lookForParts(const Facts& facts, Report& report)
{
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (!isPlace(refers) || !name.starts_with("part:"))
            return;
        const std::string part{splitShape(std::string_view(name).substr(5)).first};
        std::vector<std::string> known;
        for (const std::string& assembly : allShared(facts.scene, Thing::assembly)) {
            const bool isOwn = place.assembly.empty() || place.assembly == assembly;
            for (const Piece& one : findAssembly(facts.scene, assembly)->pieces) {
                if (isOwn)
                    known.push_back(one.id);
                known.push_back(assembly + "." + one.id);
            }
        }
        if (std::ranges::find(known, part) != known.end())
            return;
        const std::string near = nearest(part, known);
        report.add(place, part, missing(place, "part", part, near), replacing(place, part, near));
    });
}

void lookForShapes(const Facts& facts, Report& report)
{
    const auto check = [&](const Place& place, const Piece& piece, const std::string& shape) {
        if (shape.empty() || findShape(piece, shape))
            return;
        std::vector<std::string> known;
        for (std::size_t i = 0; i < piece.shapes.size(); ++i)
            known.push_back(shapeName(piece, i));
        const std::string near = nearest(shape, known);
        report.add(place, shape,
                   fmt::format("{} names the shape {}, which {} has not{}", textOf(place), shape, piece.id,
                               near.empty() ? std::string() : fmt::format("; it has {}", near)),
                   replacing(place, shape, near));
    };
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (!isPlace(refers))
            return;
        const std::string_view bare =
            std::string_view(name).starts_with("inside:") ? std::string_view(name).substr(7) : std::string_view(name);
        const auto [owner, shape] = splitShape(bare);
        if (const Piece* piece = facts.piece(owner))
            check(place, *piece, std::string(shape));
    });
    for (const Rule& rule : facts.rules)
        if (const Piece* piece = facts.piece(rule.snare->catches.at)) {
            Place place = rule.place;
            place.field = "shape";
            check(place, *piece, rule.snare->catches.shape);
        }
}

/// Names of one kind, all of which are known.
void lookForKnown(const Facts& facts, Report& report, Refers wanted, std::string_view what,
                  const std::vector<std::string>& known, const std::function<bool(const std::string&)>& isFine)
{
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (refers != wanted || name.empty() || isFine(name) || std::ranges::find(known, name) != known.end())
            return;
        const std::string near = nearest(name, known);
        report.add(place, name, missing(place, what, name, near), replacing(place, name, near));
    });
}

void lookForSnares(const Facts& facts, Report& report)
{
    std::vector<std::string> known;
    std::map<std::string, std::vector<std::string>> within; // by assembly
    for (const Rule& rule : facts.rules) {
        if (!rule.place.assembly.empty())
            within[rule.place.assembly].push_back(rule.place.id);
        known.push_back(rule.place.assembly.empty() ? rule.place.id
                                                    : nameInRun(facts.scene, rule.place.assembly, rule.place.id));
    }
    const Names all(known.begin(), known.end());
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (refers != Refers::snare || all.contains(name))
            return;
        const std::vector<std::string>& own = within[place.assembly];
        if (std::ranges::find(own, name) != own.end())
            return;
        const std::string near = nearest(name, known);
        report.add(place, name, missing(place, "snare", name, near), replacing(place, name, near));
    });
}

void lookForForms(const Facts& facts, Report& report)
{
    std::vector<std::string> known = allShared(facts.scene, Thing::form);
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        const bool isSelector = isPlace(refers) && name.starts_with("template:");
        if (!isSelector && refers != Refers::form)
            return;
        const std::string form = isSelector ? name.substr(9) : name;
        if (form.empty() || findTemplate(facts.scene, form) || findAssembly(facts.scene, form))
            return;
        const std::string near = nearest(form, known);
        report.add(place, form, missing(place, "template", form, near), replacing(place, form, near));
    });
    for (const Piece& piece : facts.scene.pieces)
        if (!piece.templateName.empty() && !findTemplate(facts.scene, piece.templateName))
            report.add(
                {Place::Of::piece, piece.id}, piece.templateName,
                fmt::format("piece {} follows the template {}, which is not there", piece.id, piece.templateName));
    for (const Laid& laid : facts.scene.laid)
        if (!findAssembly(facts.scene, laid.assembly))
            report.add({Place::Of::assembly, laid.assembly}, laid.id,
                       fmt::format("{} is laid of the assembly {}, which is not there", laid.id, laid.assembly));
}

void lookForRoutines(const Facts& facts, Report& report)
{
    lookForKnown(facts, report, Refers::routine, "routine", allShared(facts.scene, Thing::routine),
                 [](const std::string&) { return false; });
}

void lookForSources(const Facts& facts, Report& report)
{
    std::vector<std::string> known = asList(facts.timers);
    for (const Source& source : facts.scene.sources)
        known.push_back(source.id);
    lookForKnown(facts, report, Refers::source, "source", known, [](const std::string&) { return false; });
}

void lookForPhases(const Facts& facts, Report& report)
{
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if ((refers != Refers::phase && refers != Refers::during) || name.empty() || name == "next")
            return;
        const bool ofScene = name.starts_with("scene:");
        const std::string bare = ofScene ? name.substr(6) : name;
        std::vector<std::string> known = facts.scene.phases;
        if (!ofScene)
            known.insert(known.end(), facts.phases.begin(), facts.phases.end());
        if (std::ranges::find(known, bare) != known.end())
            return;
        const std::string near = nearest(bare, known);
        report.add(place, bare, missing(place, "phase", bare, near), replacing(place, bare, near));
    });
    for (const Piece& piece : facts.scene.pieces)
        for (const std::string& name : piece.during.items) {
            const std::string bare = name.starts_with("scene:") ? name.substr(6) : name;
            if (std::ranges::find(facts.scene.phases, bare) == facts.scene.phases.end())
                report.add(
                    {Place::Of::piece, piece.id}, bare,
                    fmt::format("piece {} is there during the phase {}, which the scene has not", piece.id, bare));
        }
}

void lookForLooks(const Facts& facts, Report& report)
{
    Names known = facts.looks;
    known.insert(facts.phases.begin(), facts.phases.end()); // the look that a phase brings
    lookForKnown(facts, report, Refers::look, "look", asList(known),
                 [](const std::string& name) { return name == "next" || name == "plain" || name.starts_with('#'); });
}

void lookForGroups(const Facts& facts, Report& report)
{
    if (facts.groupsWorkedOut)
        return;
    const std::vector<std::string> known = asList(facts.groups);
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        const bool isSelector = isPlace(refers) && name.starts_with("group:");
        const std::string group = isSelector ? name.substr(6) : name;
        if ((!isSelector && refers != Refers::group) || group.empty() || facts.groups.contains(group) ||
            facts.isInScripts(group))
            return;
        const std::string near = nearest(group, known);
        report.add(place, group,
                   fmt::format("{} names the group {}, in which nothing is{}", textOf(place), group,
                               near.empty() ? std::string() : fmt::format("; there is {}", near)),
                   replacing(place, group, near));
    });
    for (const Body& body : facts.bodies)
        if (const auto* walker = std::get_if<WalkerBody>(&body.piece->body);
            walker && !walker->climbs.empty() && !facts.groups.contains(walker->climbs))
            report.add({body.spawned ? Place::Of::form : Place::Of::piece, body.spawned ? body.form : body.piece->id},
                       walker->climbs,
                       fmt::format("{} climbs the group {}, in which nothing is", body.piece->id, walker->climbs));
}

void lookForTags(const Facts& facts, Report& report)
{
    if (facts.tagsWorkedOut)
        return;
    const std::vector<std::string> known = asList(facts.tags);
    const auto check = [&](const Place& place, const std::string& tag) {
        if (tag.empty() || facts.tags.contains(tag) || facts.isInScripts(tag))
            return;
        const std::string near = nearest(tag, known);
        report.add(place, tag,
                   fmt::format("{} asks for the tag {}, which nothing has and nothing gives{}", textOf(place), tag,
                               near.empty() ? std::string() : fmt::format("; there is {}", near)),
                   replacing(place, tag, near));
    };
    for (const Rule& rule : facts.rules) {
        Place place = rule.place;
        place.field = "tags";
        for (const auto* list : {&rule.snare->filter.tags.any, &rule.snare->filter.tags.all})
            for (const std::string& tag : *list)
                check(place, tag);
    }
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (isPlace(refers) && name.starts_with("tag:"))
            check(place, name.substr(4));
    });
}

void lookForValues(const Facts& facts, Report& report)
{
    forAll(facts, [&](const Place& place, Refers refers, const std::string& name) {
        if (refers != Refers::property)
            return;
        const auto dot = name.find('.');
        const std::string owner = name.substr(0, dot);
        if (dot == std::string::npos || owner == "event" || owner == "signal" || owner == "with")
            return;
        const std::string rest = name.substr(dot + 1);
        const std::string value = rest.substr(0, rest.find('.'));
        const bool isKnown = facts.values.contains(value) || isBuiltInOfPiece(value) || facts.isInScripts(value) ||
                             (owner == "scene" && isBuiltInOfScene(value)) || findSource(facts.scene, owner);
        if (isKnown)
            return;
        const std::string near = nearest(value, asList(facts.values));
        report.add(place, value,
                   fmt::format("{} reads the value {}, which nothing has and nothing sets{}", textOf(place), name,
                               near.empty() ? std::string() : fmt::format("; there is {}", near)),
                   replacing(place, value, near));
    });
}

void lookForCalls(const Facts& facts, Report& report)
{
    if (facts.calls.empty()) // the scene makes none known: they come from whoever plays it
        return;
    for (const Rule& rule : facts.rules) {
        const std::string& call = rule.snare->catches.name;
        if (call.empty() || facts.calls.contains(call))
            continue;
        const std::string near = nearest(call, asList(facts.calls));
        Place place = rule.place;
        place.field = "name";
        report.add(place, call,
                   fmt::format("{} waits for the call {}, which no source knows{}", textOf(place), call,
                               near.empty() ? std::string() : fmt::format("; there is {}", near)),
                   replacing(place, call, near));
    }
}

void lookForKits(const Facts& facts, Report& report)
{
    if (facts.scene.loaded.list)
        for (const LoadedKit& kit : *facts.scene.loaded.list)
            if (!kit.problem.empty() && std::ranges::find(facts.scene.kits, kit.file) != facts.scene.kits.end())
                report.add({Place::Of::kit, kit.file}, kit.file, fmt::format("the kit cannot be read: {}", kit.problem),
                           Fix{fmt::format("Take {} off the scene", kit.file),
                               [file = kit.file](scene::Scene& scene) { std::erase(scene.kits, file); }});
}

void lookForPictures(const Facts& facts, Report& report)
{
    for (const Piece& piece : facts.scene.pieces)
        for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
            const auto* traced = std::get_if<Traced>(&piece.shapes[i].geometry);
            if (!traced)
                continue;
            const std::string& image = traced->image.empty() ? piece.look.image : traced->image;
            const TracedArea* area = traced->tracing.of(image);
            const std::string shape = shapeName(piece, i);
            if (image.empty())
                report.add({Place::Of::piece, piece.id}, shape,
                           fmt::format("shape {} of {} is traced from a look without a picture", shape, piece.id));
            else if (!area || !area->found)
                report.add({Place::Of::piece, piece.id}, image, fmt::format("the picture {} cannot be read", image));
            else if (area->rings.empty())
                report.add({Place::Of::piece, piece.id}, image,
                           fmt::format("nothing in {} can be traced for shape {}: no pixel has its colour, or the "
                                       "outline has more than 2,000 corners",
                                       image, shape));
        }
}

void lookForScripts(const Facts& facts, Report& report)
{
    const auto read = [&](const Place& place, const std::string& script, bool isExpression) {
        if (script.empty())
            return;
        if (const auto fault = script::Sandbox::check(script, isExpression))
            report.add(place, std::to_string(fault->line),
                       fmt::format("{} cannot be read, line {}: {}",
                                   place.response < 0 ? "the filter of " + textOf(place)
                                                      : fmt::format("step {} of {}", place.response + 1, textOf(place)),
                                   fault->line, fault->text));
    };
    for (const Rule& rule : facts.rules) {
        Place place = rule.place;
        place.field = "script";
        read(place, rule.snare->filter.script, true);
    }
    for (const Steps& steps : facts.steps)
        for (std::size_t i = 0; i < steps.responses->size(); ++i)
            if (const auto* script = std::get_if<Script>(&(*steps.responses)[i].kind)) {
                Place place = steps.place;
                place.response = static_cast<int>(i);
                place.field = "lua";
                read(place, script->lua, false);
            }
}

constexpr std::array rows{
    FindingRow{"no-piece", Severity::error, "a name that points to no piece",
               "What names it is passed over, and nothing happens there.", lookForPieces},
    FindingRow{"no-part", Severity::error, "a name that points to no part of an assembly",
               "What names it is passed over, and nothing happens there.", lookForParts},
    FindingRow{"no-snare", Severity::error, "a name that points to no snare", "Nothing is armed or disarmed.",
               lookForSnares},
    FindingRow{"no-template", Severity::error, "a name that points to no template or assembly",
               "Nothing is spawned, and nothing follows it.", lookForForms},
    FindingRow{"no-routine", Severity::error, "a name that points to no routine", "The step is passed over.",
               lookForRoutines},
    FindingRow{"no-script", Severity::error, "a script that cannot be read", "The run stops where it comes to it.",
               lookForScripts},
    FindingRow{"no-kit", Severity::warning, "a kit that cannot be read",
               "What the scene has from it is missing until the file is there.", lookForKits},
    FindingRow{"no-shape", Severity::warning, "a name that points to no shape of its piece",
               "A shape that is not there is never met.", lookForShapes},
    FindingRow{"no-source", Severity::warning, "a name that points to no source",
               "A timer, dial or set of keys that is not there never does anything.", lookForSources},
    FindingRow{"no-phase", Severity::warning, "a name that points to no phase", "That phase never begins.",
               lookForPhases},
    FindingRow{"no-look", Severity::warning, "a name that points to no look", "The piece keeps the look that it has.",
               lookForLooks},
    FindingRow{"no-group", Severity::warning, "a group in which nothing is", "Nobody passes or is meant.",
               lookForGroups},
    FindingRow{"no-tag", Severity::warning, "a tag that nothing has and nothing gives", "Nobody passes or is meant.",
               lookForTags},
    FindingRow{"no-value", Severity::warning, "a value that nothing has and nothing sets",
               "It has no answer, so that what reads it is passed over.", lookForValues},
    FindingRow{"no-call", Severity::warning, "a call that no source knows", "Nobody can make it from the window.",
               lookForCalls},
    FindingRow{"no-picture", Severity::warning, "a picture that cannot be traced", "The shape has no outline.",
               lookForPictures},
};

} // namespace

std::span<const FindingRow> rowsOfNames()
{
    return rows;
}

} // namespace snare::check
