// SPDX-License-Identifier: Apache-2.0
#include "world/world.h"

#include "world/outline.h"

#include <tuple>

namespace snare::world {

std::string_view wordOf(Cause cause)
{
    constexpr std::string_view words[] = {"moved",    "start",    "removed", "disabled", "hidden",  "regrouped",
                                          "enabled",  "shown",    "put",     "armed",    "spawned", "resized",
                                          "attached", "detached", "phase",   "swept"};
    return words[static_cast<std::size_t>(cause)];
}

Groups::Groups(const scene::Scene& scene)
{
    names_ = scene::allGroups(scene);
    names_.resize(std::min(names_.size(), mostGroups));
    table_.assign(names_.size() * names_.size(), scene::Contact::stop);
    for (const scene::ContactRule& rule : scene.contacts) {
        const auto first = static_cast<std::size_t>(indexOf(rule.first));
        const auto second = static_cast<std::size_t>(indexOf(rule.second));
        table_[first * names_.size() + second] = rule.contact;
        table_[second * names_.size() + first] = rule.contact;
    }
}

int Groups::indexOf(std::string_view name)
{
    const auto found = std::ranges::find(names_, name);
    if (found != names_.end())
        return static_cast<int>(found - names_.begin());
    const std::size_t before = names_.size();
    if (before >= mostGroups)
        return 0;
    names_.emplace_back(name);
    std::vector<scene::Contact> table(names_.size() * names_.size(), scene::Contact::stop);
    for (std::size_t i = 0; i < table_.size(); ++i)
        table[i / before * names_.size() + i % before] = table_[i];
    table_ = std::move(table);
    return static_cast<int>(names_.size()) - 1;
}

std::span<LiveShape> World::shapesOf(PieceIndex index)
{
    const LivePiece& owner = piece(index);
    return {shapes.data() + owner.firstShape, owner.shapeCount};
}

std::span<const LiveShape> World::shapesOf(PieceIndex index) const
{
    const LivePiece& owner = piece(index);
    return {shapes.data() + owner.firstShape, owner.shapeCount};
}

PieceIndex World::find(std::string_view id) const
{
    const auto found = ids.find(std::string(id));
    return found == ids.end() ? nobody : found->second;
}

PieceIndex World::findSource(std::string_view id) const
{
    const auto found = std::ranges::find(sources, id);
    return found == sources.end() ? nobody : sourceIndex(static_cast<std::size_t>(found - sources.begin()));
}

std::string_view World::nameOf(PieceIndex index) const
{
    if (index == theScene)
        return "scene";
    if (isSource(index))
        return sources[sourceNumber(index)];
    if (isPointer(index))
        return "pointer";
    return index == nobody ? std::string_view() : std::string_view(piece(index).id);
}

int World::indexOf(const scene::Look& look)
{
    const auto found = std::ranges::find(looks, look);
    if (found != looks.end())
        return static_cast<int>(found - looks.begin());
    looks.push_back(look);
    return static_cast<int>(looks.size()) - 1;
}

void World::beginMotion()
{
    for (const PieceIndex index : moved) {
        before[static_cast<std::size_t>(index)] = pose[static_cast<std::size_t>(index)];
        isMoved[static_cast<std::size_t>(index)] = Moved::no;
    }
    moved.clear();
    bumps.clear();
}

void World::moveTo(PieceIndex index, const Pose& to)
{
    const auto i = static_cast<std::size_t>(index);
    if (pose[i] == to)
        return;
    if (isMoved[i] == Moved::no)
        moved.push_back(index);
    const bool isLevel = pose[i].turn == to.turn && pose[i].z == to.z;
    isMoved[i] = std::max(isMoved[i], isLevel ? Moved::along : Moved::turnedOrRose);
    pose[i] = to;
}

Vec World::viewCorner() const
{
    const bool follows = view.follow != nobody && piece(view.follow).present;
    const Vec middle = follows ? pose[static_cast<std::size_t>(view.follow)].at : view.at;
    return middle - Vec{viewAspect, 1} * (view.height / 2);
}

Vec World::pointerFor(PieceIndex index) const
{
    return index >= 0 && piece(index).pinned ? pointer.glass : pointer.at;
}

void World::movePointer(const Vec& to, bool onGlass)
{
    if (!pointer.there)
        pointer.before = onGlass ? to + viewCorner() : to;
    pointer.there = true;
    pointer.onGlass = onGlass;
    pointer.at = pointer.glass = to;
    keepPointer();
}

void World::keepPointer()
{
    if (pointer.onGlass)
        pointer.at = pointer.glass + viewCorner();
    else
        pointer.glass = pointer.at - viewCorner();
}

namespace {

Pose carriedBy(const Pose& carrier, const Pose& grip)
{
    return {geometry::toScene(carrier, grip.at), carrier.turn + grip.turn, carrier.z + grip.z};
}

Pose gripOf(const Pose& carrier, const Pose& rider)
{
    return {geometry::toLocal(carrier, rider.at), rider.turn - carrier.turn, rider.z - carrier.z};
}

/// Where the carrier of a piece is: the pointer carries too.
Pose poseOfCarrier(const World& world, PieceIndex rider)
{
    const PieceIndex carrier = world.piece(rider).carrier;
    return isPointer(carrier) ? Pose{world.pointerFor(rider), 0} : world.pose[static_cast<std::size_t>(carrier)];
}

void putWithRiders(World& world, PieceIndex index, const Pose& to, Cause cause)
{
    const auto i = static_cast<std::size_t>(index);
    world.pose[i] = to;
    world.before[i] = to;
    world.markAll(index, cause);
    for (const PieceIndex rider : world.carried)
        if (world.piece(rider).carrier == index)
            putWithRiders(world, rider, carriedBy(to, world.piece(rider).grip), cause);
}

} // namespace

void World::put(PieceIndex index, const Pose& to, Cause cause)
{
    LivePiece& one = piece(index);
    one.standsOn = nobody;
    if (one.carrier != nobody)
        one.grip = gripOf(poseOfCarrier(*this, index), to);
    putWithRiders(*this, index, to, cause);
}

void World::mark(LiveShape& shape, Cause cause)
{
    if (shape.changed == Cause::moved)
        changed.push_back(static_cast<int>(&shape - shapes.data()));
    shape.changed = cause;
}

void World::markAll(PieceIndex index, Cause cause)
{
    for (LiveShape& shape : shapesOf(index))
        mark(shape, cause);
}

void World::clearMarks()
{
    for (const int shape : changed)
        shapes[static_cast<std::size_t>(shape)].changed = Cause::moved;
    changed.clear();
}

bool World::setTag(PieceIndex index, const std::string& tag, bool given)
{
    std::vector<std::string>& tags = piece(index).tags;
    const auto found = std::ranges::find(tags, tag);
    if ((found != tags.end()) == given)
        return false;
    if (given)
        tags.push_back(tag);
    else
        tags.erase(found);
    ++tagChanges;
    return true;
}

void World::resize(PieceIndex index, double scale)
{
    LivePiece& owner = piece(index);
    if (owner.scale == scale)
        return;
    if (drawn.size() != parts.size()) {
        // What was spawned since the first resizing is still as drawn.
        drawn.insert(drawn.end(), parts.begin() + static_cast<std::ptrdiff_t>(drawn.size()), parts.end());
    }
    owner.scale = scale;
    const auto scaleParts = [&](std::uint32_t first, std::uint32_t count) {
        for (std::size_t i = first; i < first + count; ++i) {
            parts[i].radius = drawn[i].radius * scale;
            for (std::size_t corner = 0; corner < static_cast<std::size_t>(parts[i].count); ++corner)
                parts[i].points[corner] = drawn[i].points[corner] * scale;
        }
    };
    for (LiveShape& shape : shapesOf(index)) {
        const int number = static_cast<int>(&shape - shapes.data());
        const bool follows = std::ranges::find(traced, number, &TracedParts::shape) != traced.end();
        if (!follows)
            scaleParts(shape.firstPart, shape.partCount);
        for (const TracedParts& one : traced)
            if (one.shape == number)
                scaleParts(one.firstPart, one.partCount);
        mark(shape, Cause::resized);
    }
}

bool World::retrace(PieceIndex index)
{
    bool any = false;
    const std::string& image = looks[static_cast<std::size_t>(piece(index).look)].image;
    for (LiveShape& shape : shapesOf(index)) {
        const int number = static_cast<int>(&shape - shapes.data());
        const auto follows = [&](const TracedParts& one) { return one.shape == number; };
        if (std::ranges::none_of(traced, follows))
            continue;
        const auto found = std::ranges::find_if(
            traced, [&](const TracedParts& one) { return one.shape == number && one.image == image; });
        const std::uint32_t first = found == traced.end() ? 0 : found->firstPart;
        const std::uint32_t count = found == traced.end() ? 0 : found->partCount;
        if (shape.firstPart == first && shape.partCount == count)
            continue;
        shape.firstPart = first;
        shape.partCount = count;
        mark(shape, Cause::resized);
        any = true;
    }
    return any;
}

PieceIndex World::carrierOfAll(PieceIndex index) const
{
    while (index >= 0 && piece(index).carrier != nobody)
        index = piece(index).carrier;
    return index;
}

bool World::carries(PieceIndex carrier, PieceIndex rider) const
{
    for (PieceIndex up = rider >= 0 ? piece(rider).carrier : nobody; up != nobody;
         up = up >= 0 ? piece(up).carrier : nobody)
        if (up == carrier)
            return true;
    return false;
}

void World::attach(PieceIndex index, PieceIndex carrier)
{
    LivePiece& rider = piece(index);
    if (carrier == index || (carrier != nobody && carries(index, carrier)))
        return;
    if (rider.carrier != nobody) {
        markAll(index, Cause::detached);
        for (const PieceIndex other : carried)
            if (carries(index, other))
                markAll(other, Cause::detached);
    }
    std::erase(carried, index);
    rider.carrier = carrier;
    woken.push_back(index);
    if (carrier == nobody) {
        if (rider.loose || rider.walks) { // V8
            rider.velocity = rider.walk.drift = rider.approach;
            rider.spin = rider.turning;
        }
        rider.approach = {0, 0}; // it was the carrier's
        rider.turning = 0;
        return;
    }
    rider.grip = gripOf(poseOfCarrier(*this, index), pose[static_cast<std::size_t>(index)]);
    carried.push_back(index);
    // Carriers before what they carry: those that ride on this one go behind it.
    std::ranges::stable_sort(carried, {}, [&](PieceIndex one) {
        int depth = 0;
        for (PieceIndex up = piece(one).carrier; up != nobody; up = up >= 0 ? piece(up).carrier : nobody)
            ++depth;
        return depth;
    });
}

void World::carry()
{
    for (const PieceIndex index : carried) {
        const LivePiece& rider = piece(index);
        moveTo(index, carriedBy(poseOfCarrier(*this, index), rider.grip));
    }
}

bool World::isDuring(const scene::Piece& piece) const
{
    const auto& wanted = piece.during.items;
    return wanted.empty() ||
           (phase >= 0 && std::ranges::find(wanted, phases[static_cast<std::size_t>(phase)]) != wanted.end());
}

namespace {

LivePiece livePieceOf(const scene::Piece& piece, World& world)
{
    LivePiece live;
    live.id = piece.id;
    live.templateName = piece.templateName;
    live.model = &piece;
    live.facing = piece.turn;
    live.phase = piece.phases.empty() ? -1 : 0;
    live.here = world.isDuring(piece);
    live.body = piece.body;
    live.shown = piece.shown;
    live.enabled = piece.enabled;
    live.layer = piece.layer;
    live.group = world.groups.indexOf(piece.group);
    live.home = {piece.at, piece.turn, piece.z};
    live.tags = piece.tags;
    live.properties = piece.properties;
    const bool dressed = !piece.phases.empty() && piece.phases.front().look;
    live.look = world.indexOf(dressed ? *piece.phases.front().look : piece.look);
    live.pinned = piece.pinned;
    live.resting = std::holds_alternative<scene::StaticBody>(piece.body);
    if (const auto* kinematic = std::get_if<scene::KinematicBody>(&piece.body)) {
        live.velocity = kinematic->velocity;
        live.rise = kinematic->rise;
        live.spin = kinematic->spin;
        live.approach = live.velocity;
    }
    if (const auto* loose = std::get_if<scene::DynamicBody>(&piece.body)) {
        live.loose = true;
        live.velocity = loose->velocity;
        live.rise = loose->rise;
        live.spin = loose->spin;
        live.gravity = loose->gravity;
        live.approach = live.velocity;
    }
    if (const auto* kinematic = std::get_if<scene::KinematicBody>(&piece.body))
        live.route.under = kinematic->route && !kinematic->route->points.empty();
    if (const auto* walker = std::get_if<scene::WalkerBody>(&piece.body)) {
        live.walks = true;
        live.climbs = walker->climbs.empty() ? -1 : world.groups.indexOf(walker->climbs);
        live.keys = scene::keysOf(walker->steer);
        live.speed = walker->speed;
    }
    return live;
}

/// Adds the parts of a shape, in all looks that it may have.
void addParts(World& world, LiveShape& live, const scene::Shape& shape, int number)
{
    const auto add = [&](const std::vector<geometry::Hull>& parts) {
        const auto first = static_cast<std::uint32_t>(world.parts.size());
        world.parts.insert(world.parts.end(), parts.begin(), parts.end());
        return std::pair(first, static_cast<std::uint32_t>(parts.size()));
    };
    std::tie(live.firstPart, live.partCount) = add(partsOf(shape));
    const auto* traced = std::get_if<scene::Traced>(&shape.geometry);
    if (!traced || !traced->image.empty() || !traced->tracing.areas)
        return;
    for (const scene::TracedArea& area : *traced->tracing.areas) {
        std::vector<geometry::Hull> parts;
        for (const geometry::Hull& part : area.parts)
            parts.push_back(geometry::placed(part, {shape.at, shape.turn}));
        const auto [first, count] = add(parts);
        world.traced.push_back({number, area.image, first, count});
    }
}

PieceIndex addPiece(World& world, const scene::Piece& model, std::string id, const std::optional<Pose>& at = {})
{
    const bool fills = model.pinned && model.fill;
    const scene::Piece filled = fills ? filling(model, Vec{viewAspect, 1} * world.view.height) : scene::Piece{};
    const scene::Piece& piece = fills ? filled : model;
    LivePiece live = livePieceOf(piece, world);
    live.model = &model;
    live.id = std::move(id);
    if (at) {
        live.home = *at;
        live.facing = at->turn;
    }
    live.strayed = world.bounds && !world.bounds->contains(live.home.at);
    world.ids[live.id] = static_cast<PieceIndex>(world.pieces.size());
    live.firstShape = world.shapes.size();
    live.shapeCount = piece.shapes.size();
    const auto index = static_cast<PieceIndex>(world.pieces.size());
    for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
        const scene::Shape& shape = piece.shapes[i];
        LiveShape liveShape;
        liveShape.piece = index;
        liveShape.number = static_cast<int>(i);
        addParts(world, liveShape, shape, static_cast<int>(world.shapes.size()));
        liveShape.group = static_cast<std::int16_t>(world.groups.indexOf(scene::groupOf(piece, shape)));
        liveShape.role = shape.role;
        liveShape.enabled = shape.enabled;
        liveShape.margin = shape.margin;
        if (shape.band)
            liveShape.band = {(*shape.band)[0], (*shape.band)[1]};
        world.shapes.push_back(liveShape);
        world.surfaces.push_back({shape.friction, shape.bounce});
        live.shapeNames.push_back(scene::shapeName(piece, i));
    }
    world.pose.push_back(live.home);
    world.before.push_back(live.home);
    world.isMoved.push_back(World::Moved::no);
    world.shapeStarts.push_back(static_cast<std::uint32_t>(world.shapes.size()));
    world.pieces.push_back(std::move(live));
    world.retrace(index);
    return index;
}

} // namespace

PieceIndex World::spawn(const scene::Piece& model, std::string id, const std::optional<Pose>& at)
{
    const PieceIndex index = addPiece(*this, model, std::move(id), at);
    markAll(index, Cause::spawned);
    return index;
}

World restarted(const scene::Scene& scene, const World& before)
{
    World world = worldOf(scene);
    if (before.pointer.there) { // it does not jump back; no box is open (T5)
        world.pointer = before.pointer;
        world.pointer.sweptFrom.reset();
        world.keepPointer();
    }
    for (std::size_t i = scene.pieces.size(); i < before.pieces.size(); ++i) {
        const LivePiece& old = before.pieces[i];
        LivePiece& gone = world.piece(addPiece(world, *old.model, old.id));
        gone.templateName = old.templateName;
        gone.present = false;
    }
    return world;
}

World worldOf(const scene::Scene& scene)
{
    World world;
    world.groups = Groups{scene};
    world.variables = scene.variables;
    world.gravity = scene::gravityOf(scene);
    if (scene.bounds)
        world.bounds = {{(*scene.bounds)[0], (*scene.bounds)[1]}, {(*scene.bounds)[2], (*scene.bounds)[3]}};
    world.view.at = scene.camera.at;
    world.view.height = scene.camera.height;
    world.phases = scene.phases;
    world.phase = scene.phases.empty() ? -1 : 0;
    for (const scene::Source& source : scene.sources) {
        world.sources.push_back(source.id);
        const auto* dial = std::get_if<scene::DialSource>(&source.kind);
        world.dials.push_back(dial ? dial->value : 0);
    }
    world.pieces.reserve(scene.pieces.size());
    std::size_t shapes = 0;
    for (const scene::Piece& piece : scene.pieces)
        shapes += piece.shapes.size();
    world.shapes.reserve(shapes);
    world.parts.reserve(shapes);
    world.surfaces.reserve(shapes);
    world.pose.reserve(scene.pieces.size());
    world.before.reserve(scene.pieces.size());
    world.isMoved.reserve(scene.pieces.size());
    world.shapeStarts.reserve(scene.pieces.size() + 1);
    world.ids.reserve(scene.pieces.size());
    for (const scene::Piece& piece : scene.pieces)
        addPiece(world, piece, piece.id);
    world.view.follow = scene.camera.follow.empty() ? nobody : world.find(scene.camera.follow);
    for (LiveShape& shape : world.shapes)
        world.mark(shape, Cause::start);
    return world;
}

} // namespace snare::world
