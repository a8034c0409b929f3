// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_scene.h"

#include "scene/assemblies.h"
#include "scene/kits.h"
#include "world/outline.h"

#include <unordered_map>

namespace snare::app {

namespace {

geometry::Bounds boxAround(const scene::Piece& piece, const geometry::Pose& pose)
{
    geometry::Bounds bounds;
    bounds.include(pose.at);
    for (const scene::Shape& shape : piece.shapes)
        bounds.include(world::boundsOf(shape, pose));
    return bounds;
}

/// Whether a shape of the piece is traced from its look.
bool followsLook(const scene::Piece& piece)
{
    return std::ranges::any_of(piece.shapes, [](const scene::Shape& shape) {
        const auto* traced = std::get_if<scene::Traced>(&shape.geometry);
        return traced && traced->image.empty();
    });
}

} // namespace

namespace {

geometry::Bounds viewFrame(const scene::Scene& scene, const sim::Record& record,
                           const std::vector<sim::PieceState>& states)
{
    Vec middle = scene.camera.at;
    if (const scene::Piece* followed =
            scene.camera.follow.empty() ? nullptr : scene::findPiece(scene, scene.camera.follow)) {
        middle = followed->at;
        const auto found = std::ranges::find(record.pieces, followed->id, &sim::RunPiece::id);
        const auto index = static_cast<std::size_t>(found - record.pieces.begin());
        if (index < states.size() && states[index].present)
            middle = states[index].pose.at;
    }
    geometry::Bounds frame;
    frame.include(middle);
    const Vec half = Vec{world::viewAspect, 1} * (scene.camera.height / 2);
    frame.include(middle - half);
    frame.include(middle + half);
    return frame;
}

/// What is on the glass, moved to where the glass lies.
void lieUnder(ShownPiece& shown, const Vec& corner)
{
    shown.pinned = true;
    shown.pose.at += corner;
    shown.start.at += corner;
}

/// What was spawned by then.
void addSpawned(std::vector<ShownPiece>& pieces, const sim::Record& record, const std::vector<sim::PieceState>& states,
                std::int64_t tick, const Vec& corner)
{
    if (!record.scene)
        return;
    for (std::size_t i = record.scene->pieces.size(); i < std::min(states.size(), record.pieces.size()); ++i) {
        const sim::PieceState& state = states[i];
        if (!state.present || !state.here)
            continue;
        const scene::Look& look = record.looks[static_cast<std::size_t>(state.look)];
        auto model = world::asShown(*record.pieces[i].model, state.scale, look.image);
        model.id = record.pieces[i].id;
        ShownPiece shown;
        shown.changed = std::make_shared<const scene::Piece>(model);
        shown.piece = shown.changed.get();
        shown.index = spawnedPiece;
        shown.pose = shown.start = state.pose;
        if (model.pinned)
            lieUnder(shown, corner);
        shown.look = &look;
        shown.layer = state.layer;
        shown.shown = state.shown;
        shown.enabled = state.enabled;
        shown.hiddenShapes = state.hiddenShapes;
        shown.disabledShapes = state.disabledShapes;
        shown.dressed = static_cast<double>(tick - state.dressed) / record.scene->rate;
        shown.box = boxAround(*shown.piece, shown.pose);
        pieces.push_back(std::move(shown));
    }
}

} // namespace

geometry::Bounds viewFrame(const scene::Scene& scene, const sim::Record& record, std::int64_t tick)
{
    const bool follows = !scene.camera.follow.empty() && tick > 0;
    return viewFrame(scene, record, follows ? record.snapshots.at(tick) : std::vector<sim::PieceState>{});
}

std::vector<ShownPiece> shownPieces(const scene::Scene& scene, const sim::Record& record, std::int64_t tick)
{
    std::vector<sim::PieceState> states;
    // Usually the record has the pieces of the scene in the same places; after an edit, until the
    // re-run, it may not.
    std::unordered_map<std::string_view, std::size_t> recorded;
    if (tick > 0)
        states = record.snapshots.at(tick);
    const auto recordedAs = [&](std::size_t i, const std::string& id) -> std::optional<std::size_t> {
        if (states.empty())
            return std::nullopt;
        const std::size_t own = std::min(record.pieces.size(), record.scene->pieces.size());
        if (i < own && record.pieces[i].id == id)
            return i;
        if (recorded.empty())
            for (std::size_t k = 0; k < own; ++k)
                recorded.emplace(record.pieces[k].id, k);
        const auto found = recorded.find(id);
        return found == recorded.end() ? std::nullopt : std::optional(found->second);
    };
    const geometry::Bounds frame = viewFrame(scene, record, states);
    std::vector<ShownPiece> pieces;
    pieces.reserve(scene.pieces.size());
    for (std::size_t i = 0; i < scene.pieces.size(); ++i) {
        const scene::Piece& piece = scene.pieces[i];
        ShownPiece shown;
        shown.piece = &piece;
        shown.index = i;
        shown.pose = {piece.at, piece.turn, piece.z};
        if (piece.pinned && piece.fill) {
            shown.changed = std::make_shared<const scene::Piece>(world::filling(piece, frame.size()));
            shown.piece = shown.changed.get();
            shown.pose = {shown.piece->at, 0, 0};
        }
        shown.start = shown.pose;
        shown.look = &piece.look;
        shown.layer = piece.layer;
        shown.shown = piece.shown;
        shown.enabled = piece.enabled;
        if (const auto found = recordedAs(i, piece.id); found && *found < states.size()) {
            const sim::PieceState& state = states[*found];
            shown.pose = state.pose;
            shown.layer = state.layer;
            shown.present = state.present && state.here;
            shown.shown = state.shown;
            shown.enabled = state.enabled;
            shown.hiddenShapes = state.hiddenShapes;
            shown.disabledShapes = state.disabledShapes;
            shown.dressed = static_cast<double>(tick - state.dressed) / record.scene->rate;
            if (state.phase >= 0 && static_cast<std::size_t>(state.phase) < piece.phases.size())
                shown.phase = piece.phases[static_cast<std::size_t>(state.phase)].id;
            // A look that was changed on the way; an edit of the piece's own look shows at once.
            if (record.looks[static_cast<std::size_t>(state.look)] != record.scene->pieces[*found].look)
                shown.look = &record.looks[static_cast<std::size_t>(state.look)];
            const bool retraced = shown.look->image != piece.look.image && followsLook(piece);
            if (state.scale != 1 || retraced) {
                shown.changed =
                    std::make_shared<const scene::Piece>(world::asShown(*shown.piece, state.scale, shown.look->image));
                shown.piece = shown.changed.get();
            }
        } else if (!piece.during.items.empty() && !scene.phases.empty()) {
            // Laid out, but kept away by its phase at the start.
            const auto& during = piece.during.items;
            shown.shown = shown.shown && std::ranges::find(during, scene.phases.front()) != during.end();
        }
        if (!piece.phases.empty() && tick == 0) {
            shown.phase = piece.phases.front().id;
            if (piece.phases.front().look)
                shown.look = &*piece.phases.front().look;
        }
        if (piece.pinned)
            lieUnder(shown, frame.low);
        shown.box = boxAround(*shown.piece, shown.pose);
        pieces.push_back(std::move(shown));
    }
    addSpawned(pieces, record, states, tick, frame.low);
    const auto height = [](const ShownPiece& piece) { return std::pair(piece.pinned, piece.layer); };
    if (!std::ranges::is_sorted(pieces, {}, height))
        std::ranges::stable_sort(pieces, {}, height);
    return pieces;
}

namespace {

/// Calls `visit(piece, shape)` for the shapes at a point, the topmost first, until it says that it
/// has enough.
template <class Visit>
void visitAt(const std::vector<ShownPiece>& pieces, const Vec& point, double slack,
             const std::function<bool(const ShownPiece&)>& may, Visit&& visit)
{
    for (auto piece = pieces.rbegin(); piece != pieces.rend(); ++piece) {
        if (!piece->present || !piece->shown || (may && !may(*piece)))
            continue;
        geometry::Bounds near = piece->box;
        near.grow(slack);
        if (!near.contains(point))
            continue;
        for (std::size_t i = piece->piece->shapes.size(); i-- > 0;)
            if (world::reaches(piece->piece->shapes[i], piece->pose, point, slack) && !visit(*piece, i))
                return;
    }
}

} // namespace

std::optional<Picked> pick(const std::vector<ShownPiece>& pieces, const Vec& point, double slack,
                           const std::function<bool(const ShownPiece&)>& may)
{
    std::optional<Picked> found;
    visitAt(pieces, point, slack, may, [&](const ShownPiece& piece, std::size_t shape) {
        if (piece.index != spawnedPiece) // what was spawned covers what is below, and is no piece of the scene
            found = Picked{piece.index, shape};
        return false;
    });
    return found;
}

std::vector<Picked> pickAll(const std::vector<ShownPiece>& pieces, const Vec& point, double slack,
                            const std::function<bool(const ShownPiece&)>& may)
{
    std::vector<Picked> found;
    visitAt(pieces, point, slack, may, [&](const ShownPiece& piece, std::size_t shape) {
        if (piece.index != spawnedPiece)
            found.push_back({piece.index, shape});
        return true;
    });
    return found;
}

geometry::Bounds boundsOf(const scene::Scene& scene)
{
    geometry::Bounds bounds;
    bool glass = false;
    for (const scene::Piece& piece : scene.pieces) {
        glass = glass || piece.pinned;
        if (!piece.pinned)
            bounds.include(boxAround(piece, {piece.at, piece.turn}));
    }
    if (glass)
        bounds.include(viewFrame(scene, {}, std::vector<sim::PieceState>{}));
    if (bounds.empty()) {
        bounds.include(scene.camera.at);
        bounds.grow(scene.camera.height / 2);
    }
    return bounds;
}

std::vector<std::size_t> piecesNamed(const scene::Scene& scene, std::string_view name, std::optional<std::size_t> self)
{
    std::vector<std::size_t> result;
    if (name == "self") {
        if (self)
            result.push_back(*self);
        return result;
    }
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        if (scene::isNamedBy(scene.pieces[i], name))
            result.push_back(i);
    return result;
}

namespace {

/// The names of other pieces that a snare acts on. Whom it acts on does not depend on where it was
/// caught: acting on oneself draws no thread.
std::vector<std::string> actedOn(const scene::Snare& snare)
{
    std::vector<std::string> names;
    for (const scene::Response& response : snare.responses)
        std::visit(
            [&](const auto& kind) {
                if constexpr (requires { kind.on; })
                    for (const std::string& name : kind.on.names)
                        if (!scene::isReserved(name))
                            names.push_back(name);
            },
            response.kind);
    return names;
}

/// Adds the threads of a snare; `named` gives the pieces of a name.
template <class Named>
void addThreads(std::vector<Thread>& threads, const std::string& name, const scene::Snare& snare, Named&& named)
{
    const std::vector<std::size_t> from = named(snare.catches.at);
    if (from.empty())
        return;
    std::vector<std::size_t> to;
    for (const std::string& target : actedOn(snare))
        for (const std::size_t piece : named(target))
            to.push_back(piece);
    std::ranges::sort(to);
    to.erase(std::unique(to.begin(), to.end()), to.end());
    for (const std::size_t start : from)
        for (const std::size_t end : to)
            if (end != start)
                threads.push_back({name, start, end});
}

} // namespace

std::vector<Thread> threadsOf(const scene::Scene& scene, const std::function<bool(const scene::Laid&)>& within)
{
    std::vector<Thread> threads;
    const auto anywhere = [&](const std::string& name) { return piecesNamed(scene, name, std::nullopt); };
    for (const scene::Snare& snare : scene.snares)
        addThreads(threads, snare.id, snare, anywhere);
    for (const std::string& kit : scene.kits)
        for (const std::string& name : scene::keptIn(scene, scene::Thing::snare, kit))
            if (scene::homeOf(scene, scene::Thing::snare, name) == kit)
                addThreads(threads, name, *scene::snareIn(scene, kit, name), anywhere);
    for (const scene::Laid& laid : scene.laid) {
        const scene::Assembly* assembly = within && within(laid) ? scene::findAssembly(scene, laid.assembly) : nullptr;
        if (!assembly)
            continue;
        const std::vector<std::size_t> parts = scene::partsOf(scene, laid.id);
        // `part:NAME` is the part of this one; other names are as anywhere.
        const auto named = [&](const std::string& name) {
            constexpr std::string_view prefix = "part:";
            if (!name.starts_with(prefix))
                return anywhere(name);
            const std::string_view part = scene::splitShape(std::string_view(name).substr(prefix.size())).first;
            std::vector<std::size_t> found;
            for (const std::size_t i : parts)
                if (scene.pieces[i].partOf->part == part)
                    found.push_back(i);
            return found;
        };
        for (const scene::Snare& snare : assembly->snares)
            addThreads(threads, scene::nameInRun(scene, laid.assembly, snare.id), snare, named);
    }
    return threads;
}

} // namespace snare::app
