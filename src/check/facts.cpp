// SPDX-License-Identifier: Apache-2.0
#include "check/facts.h"

#include "scene/assemblies.h"
#include "scene/sharing.h"
#include "scene/templates.h"
#include "scene/walk.h"

#include <fmt/format.h>

#include <cctype>

namespace snare::check {

using namespace scene;

namespace {

/// The literal names in a value of a response, and whether it may be others.
template <class Take> bool takeNames(const Value<std::string>& value, Take&& take)
{
    if (const std::string* literal = value.literal()) {
        take(*literal);
        return true;
    }
    const Formula& formula = *value.formula();
    if (formula.kind != Formula::Kind::oneOf)
        return false;
    bool all = true;
    for (const Formula& part : formula.parts) {
        const auto* text = part.kind == Formula::Kind::literal ? std::get_if<std::string>(&part.literal) : nullptr;
        if (text)
            take(*text);
        all = all && text;
    }
    return all;
}

bool isSelector(std::string_view name)
{
    for (const std::string_view prefix : {"tag:", "group:", "template:", "part:"})
        if (name.starts_with(prefix))
            return true;
    return false;
}

/// The height that a destination or offset gives.
template <class Move> bool hasHeight(const Move& move)
{
    bool has = false;
    if constexpr (requires { move.to->z; })
        has = has || (move.to && move.to->z);
    if constexpr (requires { move.at->z; })
        has = has || (move.at && move.at->z);
    forEachField<Move>([&](const auto& field) {
        if constexpr (requires { field.height; })
            if (field.height)
                if constexpr (std::is_arithmetic_v<std::decay_t<decltype(move.*field.height)>>)
                    has = has || move.*field.height != 0;
    });
    return has;
}

/// What decides whom a piece meets and which filters it passes, as one text.
std::string kindText(const Body& body)
{
    const Piece& piece = *body.piece;
    std::string text =
        fmt::format("{} {} {} {} {} ", body.spawned, body.form, piece.group, piece.z, piece.body.index());
    for (const std::string& tag : piece.tags)
        text += '#' + tag;
    for (const std::string& phase : piece.during.items)
        text += '@' + phase;
    const auto* kinematic = std::get_if<KinematicBody>(&piece.body);
    const auto* dynamic = std::get_if<DynamicBody>(&piece.body);
    text += fmt::format(" {}", kinematic ? kinematic->rise : dynamic ? dynamic->rise : 0);
    for (const Shape& shape : piece.shapes) {
        text += fmt::format("|{} {} {}", shape.id, shape.group, shape.role == Role::zone);
        if (shape.band)
            text += fmt::format(" {} {}", (*shape.band)[0], (*shape.band)[1]);
    }
    return text;
}

} // namespace

Facts::Facts(const scene::Scene& of) : scene(of)
{
    addRules();
    addSteps();
    addBodies();
    for (const Body& body : bodies)
        if (!body.spawned)
            byId_.emplace(body.piece->id, &body);
    for (const Source& source : scene.sources)
        sources.insert(source.id);
    for (const Laid& one : scene.laid)
        laid.insert(one.id);
    addKinds();
    addNames();
    for (const std::string& group : scene.groups)
        groups.insert(group);
    groups.insert({"default", "pointer"});
    for (const auto& entry : scene.variables.entries)
        values.insert(entry.first);
    for (const Source& source : scene.sources)
        if (const auto* call = std::get_if<CallSource>(&source.kind))
            calls.insert(call->name);
    for (const Body& body : bodies)
        addPiece(*body.piece);
    for (const Piece* model : models)
        addPiece(*model);
    for (const Steps& list : steps)
        for (const Response& response : *list.responses)
            addGiven(response);
    for (const Rule& rule : rules) {
        if (!rule.snare->catches.signal.empty())
            heard.insert(rule.snare->catches.signal);
        scripts += rule.snare->filter.script + '\n';
    }
    // A formula in Lua may name anything.
    const auto look = [&](Refers refers, std::string& text) {
        if (refers == Refers::script)
            scripts += text + '\n';
    };
    for (const Steps& list : steps) {
        auto copy = *list.responses;
        walkNames(copy, look);
    }
}

void Facts::addRules()
{
    for (const Snare& snare : scene.snares)
        rules.push_back({&snare, {Place::Of::snare, snare.id}});
    for (const std::string& kit : scene.kits)
        for (const std::string& name : keptIn(scene, Thing::snare, kit))
            if (homeOf(scene, Thing::snare, name) == kit)
                rules.push_back({snareIn(scene, kit, name), {Place::Of::snare, name, kit}});
    for (const std::string& name : allShared(scene, Thing::assembly)) {
        const std::string home = *homeOf(scene, Thing::assembly, name);
        const Assembly* assembly = assemblyIn(scene, home, name);
        for (const Snare& snare : assembly->snares)
            rules.push_back({&snare, {Place::Of::snare, snare.id, home, name}, assembly});
    }
}

void Facts::addSteps()
{
    for (const Rule& rule : rules)
        steps.push_back({&rule.snare->responses, rule.place, &rule});
    for (const std::string& name : allShared(scene, Thing::routine)) {
        const std::string home = *homeOf(scene, Thing::routine, name);
        steps.push_back({&routineIn(scene, home, name)->responses, {Place::Of::routine, name, home}});
    }
}

void Facts::addBodies()
{
    for (const Piece& piece : scene.pieces)
        bodies.push_back({&piece, false, piece.templateName});
    Names spawned;
    for (const Steps& list : steps)
        for (const Response& response : *list.responses)
            if (const auto* spawn = std::get_if<Spawn>(&response.kind))
                spawnsWorkedOut =
                    !takeNames(spawn->form, [&](const std::string& name) { spawned.insert(name); }) || spawnsWorkedOut;
    for (const std::string& name : allShared(scene, Thing::form)) {
        const Template* form = findTemplate(scene, name);
        models.push_back(&form->model);
        if (spawnsWorkedOut || spawned.contains(name))
            bodies.push_back({&form->model, true, name});
    }
    for (const std::string& name : allShared(scene, Thing::assembly))
        for (const Piece& part : findAssembly(scene, name)->pieces) {
            models.push_back(&part);
            if (spawnsWorkedOut || spawned.contains(name))
                bodies.push_back({&part, true, part.templateName});
        }
}

void Facts::addPiece(const Piece& piece)
{
    tags.insert(piece.tags.begin(), piece.tags.end());
    groups.insert(piece.group);
    for (const Shape& shape : piece.shapes)
        if (!shape.group.empty())
            groups.insert(shape.group);
    for (const auto& entry : piece.properties.entries)
        values.insert(entry.first);
    for (const PiecePhase& phase : piece.phases)
        phases.insert(phase.id);
    for (const auto& entry : piece.looks.entries)
        looks.insert(entry.first);
    for (const PieceTimer& timer : piece.timers)
        timers.insert(timer.id);
}

void Facts::addGiven(const Response& response)
{
    const auto into = [](Names& to) { return [&to](const std::string& name) { to.insert(name); }; };
    std::visit(
        [&](const auto& kind) {
            using Kind = std::decay_t<decltype(kind)>;
            if constexpr (std::is_same_v<Kind, Tag>) {
                tagsWorkedOut = !takeNames(kind.tag, into(retagged_)) || tagsWorkedOut;
                tags.insert(retagged_.begin(), retagged_.end());
            } else if constexpr (std::is_same_v<Kind, Regroup>) {
                groupsWorkedOut = !takeNames(kind.group, into(regrouped_)) || groupsWorkedOut;
                groups.insert(regrouped_.begin(), regrouped_.end());
            } else if constexpr (std::is_same_v<Kind, Signal>) {
                signalsWorkedOut = !takeNames(kind.name, into(signals)) || signalsWorkedOut;
            } else if constexpr (std::is_same_v<Kind, Set> || std::is_same_v<Kind, Add>) {
                values.insert(kind.name);
                heightsChange = heightsChange || kind.name == "z";
            } else if constexpr (std::is_same_v<Kind, Spawn>) {
                for (const auto& entry : kind.set.entries) {
                    const auto dot = entry.first.find('.'); // PART.NAME
                    values.insert(dot == std::string::npos ? entry.first : entry.first.substr(dot + 1));
                }
                if (!kind.as.empty())
                    values.insert(kind.as);
            } else if constexpr (std::is_same_v<Kind, Arm>) {
                armed.insert(kind.snares.begin(), kind.snares.end());
            } else if constexpr (std::is_same_v<Kind, RunRoutine>) {
                run.insert(kind.routine);
            } else if constexpr (std::is_same_v<Kind, Restart>) {
                restarts = true;
            } else if constexpr (std::is_same_v<Kind, Move> || std::is_same_v<Kind, Put>) {
                heightsChange = heightsChange || hasHeight(kind);
            } else if constexpr (std::is_same_v<Kind, Attach>) {
                heightsChange = true;
            }
        },
        response.kind);
}

bool Facts::isInScripts(std::string_view name) const
{
    return !name.empty() && scripts.find(name) != std::string::npos;
}

const Body* Facts::body(std::string_view id) const
{
    const auto found = byId_.find(id);
    return found == byId_.end() ? nullptr : found->second;
}

const Piece* Facts::piece(std::string_view id) const
{
    const Body* found = body(id);
    return found ? found->piece : nullptr;
}

void Facts::addKinds()
{
    std::unordered_map<std::string, std::size_t> kinds;
    for (Body& body : bodies) {
        const auto [found, isNew] = kinds.try_emplace(kindText(body), kinds_.size());
        if (isNew) {
            kinds_.push_back(&body);
            counts_.push_back(0);
        }
        body.kind = found->second;
        ++counts_[body.kind];
    }
}

std::vector<const Body*> Facts::oneOfEach(const std::vector<const Body*>& some) const
{
    std::vector<bool> has(kinds_.size());
    std::vector<const Body*> result;
    for (const Body* body : some)
        if (!has[body->kind]) {
            has[body->kind] = true;
            result.push_back(body);
        }
    return result;
}

void Facts::addNames()
{
    const auto keep = [&](const Place& place, Refers refers, const std::string& name) {
        if (!name.empty() && refers != Refers::nothing && refers != Refers::words && refers != Refers::script &&
            refers != Refers::key)
            names.push_back({place, refers, name});
    };
    for (const Rule& rule : rules)
        forEachName(rule, keep);
    for (const Steps& list : steps)
        forEachName(list, keep);
}

bool Facts::mayBeIn(const Body& body, std::string_view group) const
{
    const Piece& piece = *body.piece;
    if (groupsWorkedOut || piece.group == group || regrouped_.contains(group))
        return true;
    return std::ranges::any_of(piece.shapes, [&](const Shape& shape) { return shape.group == group; });
}

bool Facts::means(std::string_view name, const Body& body, const Rule* from) const
{
    const Piece& piece = *body.piece;
    const auto rest = [&](std::string_view prefix) { return name.substr(prefix.size()); };
    if (name.starts_with("tag:"))
        return tagsWorkedOut || retagged_.contains(rest("tag:")) ||
               std::ranges::find(piece.tags, rest("tag:")) != piece.tags.end();
    if (name.starts_with("group:"))
        return mayBeIn(body, rest("group:"));
    if (name.starts_with("template:"))
        return body.form == rest("template:");
    if (name.starts_with("part:")) {
        const std::string_view part = splitShape(rest("part:")).first;
        if (body.spawned)
            return piece.id == (part.find('.') == std::string_view::npos ? part : part.substr(part.find('.') + 1));
        if (!piece.partOf)
            return false;
        const std::string whole = fmt::format("{}.{}", piece.partOf->assembly, piece.partOf->part);
        return part == whole || (part == piece.partOf->part && (!from || from->place.assembly.empty() ||
                                                                from->place.assembly == piece.partOf->assembly));
    }
    const std::string_view owner = splitShape(name).first;
    return !body.spawned && (piece.id == owner || (piece.partOf && piece.partOf->laid == owner));
}

const std::vector<const Body*>& Facts::bodiesOf(std::string_view name, const Rule* from) const
{
    static const std::vector<const Body*> none;
    if (name == "self" || name.empty())
        return from && !from->snare->catches.at.empty() && from->snare->catches.at != "self"
                   ? bodiesOf(from->snare->catches.at, from)
                   : none;
    const std::string key = fmt::format("{}>{}", from && name.starts_with("part:") ? from->place.assembly : "", name);
    const auto found = meant_.find(key);
    if (found != meant_.end())
        return found->second;
    std::vector<const Body*>& meant = meant_[key];
    if (const Body* one = isSelector(name) ? nullptr : body(splitShape(name).first)) {
        meant.push_back(one);
    } else if (isSelector(name) || laid.contains(splitShape(name).first)) {
        for (const Body& body : bodies)
            if (means(name, body, from))
                meant.push_back(&body);
    }
    return meant;
}

bool Facts::isPlain(std::string_view name, const Rule* from) const
{
    if (name == "self")
        return from && !from->snare->catches.at.empty() && from->snare->catches.at != "scene" &&
               from->snare->catches.at != "self";
    if (isSelector(name))
        return true;
    const std::string_view owner = splitShape(name).first;
    return byId_.contains(owner) || laid.contains(owner);
}

bool Facts::mayPass(const Body& body, const Filter& filter) const
{
    const Piece& piece = *body.piece;
    const auto hasTag = [&](const std::string& tag) {
        return tagsWorkedOut || retagged_.contains(tag) || isInScripts(tag) ||
               std::ranges::find(piece.tags, tag) != piece.tags.end();
    };
    if (!filter.groups.empty() &&
        std::ranges::none_of(filter.groups, [&](const std::string& group) { return mayBeIn(body, group); }))
        return false;
    if (!filter.tags.any.empty() && std::ranges::none_of(filter.tags.any, hasTag))
        return false;
    if (!std::ranges::all_of(filter.tags.all, hasTag))
        return false;
    if (!filter.pieces.empty() && (body.spawned || std::ranges::find(filter.pieces, piece.id) == filter.pieces.end()))
        return false;
    return filter.templates.empty() || std::ranges::find(filter.templates, body.form) != filter.templates.end();
}

// --- report --------------------------------------------------------------------------------------------------------

void Report::add(Place place, std::string about, std::string text, std::optional<Fix> fix)
{
    for (const Finding& other : list_) // a word that is wrong twice in one place is said once
        if (other.id == row_.id && other.place == place && other.about == about)
            return;
    list_.push_back({row_.id, row_.severity, std::move(place), std::move(text), std::move(about), std::move(fix), {}});
}

namespace {

/// Gives each name in a struct with its field.
template <class T> void namesIn(T value, Place place, const VisitName& visit)
{
    walkNamesByField(value, [&](std::string_view field, Refers refers, const std::string& name) {
        place.field = field;
        visit(place, refers, name);
    });
}

} // namespace

void forEachName(const Steps& steps, const VisitName& visit)
{
    for (std::size_t i = 0; i < steps.responses->size(); ++i) {
        Place place = steps.place;
        place.response = static_cast<int>(i);
        namesIn((*steps.responses)[i], place, visit);
    }
}

void forEachName(const Rule& rule, const VisitName& visit)
{
    namesIn(rule.snare->catches, rule.place, visit);
    namesIn(rule.snare->filter, rule.place, visit);
    Place place = rule.place;
    place.field = "during";
    for (const std::string& phase : rule.snare->during.items)
        visit(place, Refers::during, phase);
}

std::string nearest(std::string_view name, const std::vector<std::string>& known)
{
    const auto lower = [](std::string_view text) {
        std::string result{text};
        std::ranges::transform(result, result.begin(),
                               [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        return result;
    };
    for (const std::string& one : known)
        if (lower(one) == lower(name))
            return one;
    const std::vector<std::string_view> views(known.begin(), known.end());
    return std::string(nearestWord(name, views));
}

// --- fixes ---------------------------------------------------------------------------------------------------------

namespace {

/// The snare at a place, to be changed.
Snare* snareAt(scene::Scene& scene, const Place& place)
{
    if (place.assembly.empty())
        return snareToChange(scene, place.home, place.id);
    Assembly* assembly = assemblyToChange(scene, place.home, place.assembly);
    if (!assembly)
        return nullptr;
    const auto found = std::ranges::find(assembly->snares, place.id, &Snare::id);
    return found == assembly->snares.end() ? nullptr : &*found;
}

} // namespace

Fix changing(const Place& place, std::string text, std::function<void(Snare&)> change)
{
    return {std::move(text), [place, change = std::move(change)](scene::Scene& scene) {
                if (Snare* snare = snareAt(scene, place))
                    change(*snare);
            }};
}

std::optional<Fix> replacing(const Place& place, const std::string& word, const std::string& by)
{
    if (by.empty() || (place.of != Place::Of::snare && place.of != Place::Of::routine))
        return std::nullopt;
    return Fix{fmt::format("Use {}", by), [place, word, by](scene::Scene& scene) {
                   const auto change = [&](Refers, std::string& text) {
                       // As a whole, or as what follows a selector or stands before a shape or a
                       // property.
                       for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at)) {
                           const auto end = at + word.size();
                           const auto isWord = [&](std::size_t i) {
                               return i < text.size() && (std::isalnum(static_cast<unsigned char>(text[i])) ||
                                                          text[i] == '_' || text[i] == '-');
                           };
                           if ((at > 0 && isWord(at - 1)) || isWord(end)) {
                               at = end;
                               continue;
                           }
                           text.replace(at, word.size(), by);
                           at += by.size();
                       }
                   };
                   const auto inResponses = [&](std::vector<Response>& responses) {
                       if (place.response >= 0 && static_cast<std::size_t>(place.response) < responses.size())
                           walkNames(responses[static_cast<std::size_t>(place.response)], change);
                   };
                   if (place.of == Place::Of::routine) {
                       if (Routine* routine = routineToChange(scene, place.home, place.id))
                           inResponses(routine->responses);
                   } else if (Snare* snare = snareAt(scene, place)) {
                       if (place.response >= 0)
                           return inResponses(snare->responses);
                       walkNames(snare->catches, change);
                       walkNames(snare->filter, change);
                       for (std::string& phase : snare->during.items)
                           change(Refers::during, phase);
                   }
               }};
}

Fix removing(const Place& place)
{
    const bool isRoutine = place.of == Place::Of::routine;
    return {fmt::format("Remove {}", textOf(place)), [place, isRoutine](scene::Scene& scene) {
                if (place.assembly.empty())
                    return removeShared(scene, isRoutine ? Thing::routine : Thing::snare, place.home, place.id);
                if (Assembly* assembly = assemblyToChange(scene, place.home, place.assembly))
                    std::erase_if(assembly->snares, [&](const Snare& one) { return one.id == place.id; });
            }};
}

} // namespace snare::check
