// SPDX-License-Identifier: Apache-2.0
#include "scene/scene.h"

#include "geometry/outline.h"

#include <fmt/format.h>

#include <charconv>
#include <set>

namespace snare::scene {

KeyLists keysOf(const Steer& steer)
{
    if (const auto* lists = std::get_if<KeyLists>(&steer.held))
        return *lists;
    switch (std::get<SteerSet>(steer.held)) {
    case SteerSet::arrows:
        return {{"Left"}, {"Right"}, {"Up"}, {"Down"}, {"space"}};
    case SteerSet::wasd:
        return {{"a"}, {"d"}, {"w"}, {"s"}, {"space"}};
    case SteerSet::none:
        break;
    }
    return {};
}

std::string shapeName(const Piece& piece, std::size_t index)
{
    const std::string& id = piece.shapes[index].id;
    return id.empty() ? std::to_string(index) : id;
}

const std::string& groupOf(const Piece& piece, const Shape& shape)
{
    return shape.group.empty() ? piece.group : shape.group;
}

const TracedArea* Tracing::of(std::string_view image) const
{
    if (!areas)
        return nullptr;
    const auto found = std::ranges::find(*areas, image, &TracedArea::image);
    return found == areas->end() ? nullptr : &*found;
}

std::string_view kindOf(const Geometry& geometry)
{
    return std::visit([]<class G>(const G&) { return fieldsOf<G>.word.key; }, geometry);
}

std::vector<Vec>* pointsOf(Geometry& geometry)
{
    if (auto* polygon = std::get_if<Polygon>(&geometry))
        return &polygon->points;
    auto* line = std::get_if<Line>(&geometry);
    return line ? &line->points : nullptr;
}

const std::vector<Vec>* pointsOf(const Geometry& geometry)
{
    return pointsOf(const_cast<Geometry&>(geometry)); // NOLINT: not changed here
}

std::optional<std::string> faultOf(const Geometry& geometry)
{
    if (const auto* polygon = std::get_if<Polygon>(&geometry))
        return geometry::faultOfPolygon(polygon->points);
    if (const auto* line = std::get_if<Line>(&geometry))
        return geometry::faultOfLine(line->points, line->closed);
    return std::nullopt;
}

std::string_view kindOf(const Body& body)
{
    return std::visit([]<class B>(const B&) { return fieldsOf<B>.word.key; }, body);
}

std::optional<std::size_t> findPhase(const Piece& piece, std::string_view name)
{
    const auto found = std::ranges::find(piece.phases, name, &PiecePhase::id);
    return found == piece.phases.end() ? std::nullopt
                                       : std::optional(static_cast<std::size_t>(found - piece.phases.begin()));
}

bool lastsUntilExit(const Response& response)
{
    return std::visit(
        [](const auto& kind) {
            if constexpr (requires { kind.until; })
                return kind.until.has_value();
            return std::is_same_v<std::decay_t<decltype(kind)>, Prompt>;
        },
        response.kind);
}

const Word& wordOfResponse(const ResponseKind& kind)
{
    return wordOfResponse(kind.index());
}

const Word& wordOfResponse(std::size_t number)
{
    static constexpr auto words = []<std::size_t... I>(std::index_sequence<I...>)
    {
        return std::array{&fieldsOf<std::variant_alternative_t<I, AnyResponse>>.word...};
    }
    (std::make_index_sequence<std::variant_size_v<AnyResponse>>{});
    return *words[number];
}

namespace {

template <class List> auto findById(const List& list, std::string_view id) -> const typename List::value_type*
{
    for (const auto& entry : list)
        if (entry.id == id)
            return &entry;
    return nullptr;
}

/// To be changed: only the entry that is found is made the list's own.
template <class T> T* findById(SharedList<T>& list, std::string_view id)
{
    for (std::size_t i = 0; i < list.size(); ++i)
        if (std::as_const(list)[i].id == id)
            return &list[i];
    return nullptr;
}

/// All responses of the scene's snares and routines.
template <class Visit> void forEachResponse(const Scene& scene, Visit&& visit)
{
    for (const Snare& snare : scene.snares)
        for (const Response& response : snare.responses)
            visit(response);
    for (const auto& entry : scene.routines.entries)
        for (const Response& response : entry.second.responses)
            visit(response);
}

/// Keeps the order in which things are first named.
class OnceEach {
  public:
    void add(const std::string& text)
    {
        if (!text.empty() && seen_.insert(text).second)
            list_.push_back(text);
    }
    std::vector<std::string> take() { return std::move(list_); }

  private:
    std::set<std::string> seen_;
    std::vector<std::string> list_;
};

} // namespace

Vec gravityOf(const Scene& scene)
{
    return scene.gravity.value_or(scene.view == View::side ? Vec{0, -9.81} : Vec{0, 0});
}

const Piece* findPiece(const Scene& scene, std::string_view id)
{
    return findById(scene.pieces, id);
}

Piece* findPiece(Scene& scene, std::string_view id)
{
    return findById(scene.pieces, id);
}

const Snare* findSnare(const Scene& scene, std::string_view id)
{
    return findById(scene.snares, id);
}

Snare* findSnare(Scene& scene, std::string_view id)
{
    return findById(scene.snares, id);
}

const Source* findSource(const Scene& scene, std::string_view id)
{
    return findById(scene.sources, id);
}

bool isNamedBy(const Piece& piece, std::string_view name)
{
    if (name.starts_with("tag:"))
        return std::ranges::find(piece.tags, name.substr(4)) != piece.tags.end();
    if (name.starts_with("group:"))
        return piece.group == name.substr(6);
    if (name.starts_with("template:"))
        return piece.templateName == name.substr(9);
    if (name.starts_with("part:")) { // `part:PART` of any assembly, or `part:ASSEMBLY.PART`
        const std::string_view part = name.substr(5);
        return piece.partOf &&
               (part == piece.partOf->part || part == piece.partOf->assembly + "." + piece.partOf->part);
    }
    return splitShape(name).first == piece.id;
}

std::optional<std::size_t> findShape(const Piece& piece, std::string_view name)
{
    for (std::size_t i = 0; i < piece.shapes.size(); ++i)
        if (shapeName(piece, i) == name)
            return i;
    return std::nullopt;
}

std::vector<std::string> allGroups(const Scene& scene)
{
    OnceEach groups;
    groups.add("default");
    for (const std::string& group : scene.groups)
        groups.add(group);
    for (const Piece& piece : scene.pieces) {
        groups.add(piece.group);
        for (const Shape& shape : piece.shapes)
            groups.add(shape.group);
    }
    groups.add("pointer");
    return groups.take();
}

std::vector<std::string> allTags(const Scene& scene)
{
    OnceEach tags;
    for (const Piece& piece : scene.pieces)
        for (const std::string& tag : piece.tags)
            tags.add(tag);
    forEachResponse(scene, [&](const Response& response) {
        if (const auto* tag = std::get_if<Tag>(&response.kind))
            tags.add(tag->tag.literalOr({}));
    });
    return tags.take();
}

std::vector<std::string> allSignals(const Scene& scene)
{
    OnceEach names;
    forEachResponse(scene, [&](const Response& response) {
        if (const auto* signal = std::get_if<Signal>(&response.kind))
            names.add(signal->name.literalOr({}));
    });
    for (const Snare& snare : scene.snares)
        names.add(snare.catches.signal);
    return names.take();
}

std::vector<std::string> allValueNames(const Scene& scene)
{
    OnceEach names;
    const auto addAll = [&](const Named<Scalar>& values) {
        for (const auto& entry : values.entries)
            names.add(entry.first);
    };
    addAll(scene.variables);
    for (const auto& entry : scene.templates.entries)
        addAll(entry.second.model.properties);
    for (const Piece& piece : scene.pieces)
        addAll(piece.properties);
    forEachResponse(scene, [&](const Response& response) {
        if (const auto* set = std::get_if<Set>(&response.kind))
            names.add(set->name);
        if (const auto* add = std::get_if<Add>(&response.kind))
            names.add(add->name);
        if (const auto* spawn = std::get_if<Spawn>(&response.kind)) {
            names.add(spawn->as);
            for (const auto& entry : spawn->set.entries)
                names.add(entry.first);
        }
    });
    return names.take();
}

std::vector<std::string> allCalls(const Scene& scene)
{
    OnceEach names;
    for (const Source& source : scene.sources)
        if (const auto* call = std::get_if<CallSource>(&source.kind))
            names.add(call->name);
    for (const Snare& snare : scene.snares)
        names.add(snare.catches.name);
    return names.take();
}

std::vector<std::string> allPhases(const Scene& scene)
{
    OnceEach names;
    for (const std::string& phase : scene.phases)
        names.add(phase);
    for (const auto& entry : scene.templates.entries)
        for (const PiecePhase& phase : entry.second.model.phases)
            names.add(phase.id);
    for (const Piece& piece : scene.pieces)
        for (const PiecePhase& phase : piece.phases)
            names.add(phase.id);
    return names.take();
}

Scene withKits(const Scene& scene)
{
    Scene whole = scene;
    if (!scene.loaded.list)
        return whole;
    const auto inherit = [](auto& mine, const auto& theirs) {
        for (const auto& [name, value] : theirs.entries)
            if (!mine.find(name))
                mine.set(name, value);
    };
    for (const LoadedKit& kit : *scene.loaded.list) {
        inherit(whole.routines, kit.kit.routines);
        inherit(whole.templates, kit.kit.templates);
        inherit(whole.assemblies, kit.kit.assemblies);
        for (const Snare& snare : kit.kit.snares)
            if (!findSnare(whole, snare.id)) // the scene's own of that name stands in for it
                whole.snares.push_back(snare);
    }
    return whole;
}

Contact contactBetween(const Scene& scene, std::string_view first, std::string_view second)
{
    for (const ContactRule& rule : scene.contacts)
        if ((rule.first == first && rule.second == second) || (rule.first == second && rule.second == first))
            return rule.contact;
    return Contact::stop;
}

namespace {

/// The number that a text is; nothing if it is none, or is written with zeros before it.
std::optional<std::size_t> numberIn(std::string_view text)
{
    constexpr std::size_t longest = 9;
    std::size_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (error != std::errc{} || end != text.data() + text.size() || text.size() > longest || text.front() == '0')
        return {};
    return number;
}

/// `id` if it is free, or else `root` with the first free number above `last`.
std::string freeOf(const Scene& scene, std::string_view id, std::string_view root, std::size_t last)
{
    // The number last + 1 + i is taken; one more than there are ids, so that one is free.
    std::vector<bool> taken(scene.pieces.size() + scene.snares.size() + scene.sources.size() + scene.laid.size() + 1);
    bool isTaken = isReserved(id);
    const auto look = [&](std::string_view other) {
        isTaken = isTaken || other == id;
        if (!other.starts_with(root) || other.size() < root.size() + 2 || other[root.size()] != '-')
            return;
        if (const auto number = numberIn(other.substr(root.size() + 1)); number && *number > last)
            if (*number - last <= taken.size())
                taken[*number - last - 1] = true;
    };
    for (const Piece& piece : scene.pieces)
        look(piece.id);
    for (const Snare& snare : scene.snares)
        look(snare.id);
    for (const Source& source : scene.sources)
        look(source.id);
    for (const Laid& laid : scene.laid)
        look(laid.id);
    if (!isTaken)
        return std::string(id);
    const auto free = std::ranges::find(taken, false);
    return fmt::format("{}-{}", root, last + 1 + static_cast<std::size_t>(free - taken.begin()));
}

} // namespace

std::string freeId(const Scene& scene, std::string_view stem)
{
    return freeOf(scene, stem, stem, 1);
}

std::string freeCopyId(const Scene& scene, std::string_view id)
{
    if (const std::size_t dash = id.rfind('-'); dash != std::string_view::npos && dash > 0)
        if (const auto number = numberIn(id.substr(dash + 1)))
            return freeOf(scene, id, id.substr(0, dash), *number);
    return freeId(scene, id);
}

} // namespace snare::scene
