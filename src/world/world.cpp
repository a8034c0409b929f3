// SPDX-License-Identifier: Apache-2.0
#include "world/world.h"

#include "world/outline.h"

#include <tuple>

namespace snare::world {

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

PieceIndex World::find(std::string_view id) const
{
    const auto found = ids_.find(std::string(id));
    return found == ids_.end() ? nobody : found->second;
}

PieceIndex World::findSource(std::string_view id) const
{
    const auto found = std::ranges::find(sources_, id);
    return found == sources_.end() ? nobody : sourceIndex(static_cast<std::size_t>(found - sources_.begin()));
}

std::string_view World::nameOf(PieceIndex index) const
{
    if (index == theScene)
        return "scene";
    if (isSource(index))
        return sources_[sourceNumber(index)];
    if (isPointer(index))
        return "pointer";
    return index == nobody ? std::string_view() : std::string_view(piece(index).id);
}

int World::indexOf(const scene::Look& look)
{
    const auto found = std::ranges::find(looks_, look);
    if (found != looks_.end())
        return static_cast<int>(found - looks_.begin());
    looks_.push_back(look);
    return static_cast<int>(looks_.size()) - 1;
}

void World::beginMotion()
{
    for (const PieceIndex index : moved_) {
        before_[static_cast<std::size_t>(index)] = pose_[static_cast<std::size_t>(index)];
        howMoved_[static_cast<std::size_t>(index)] = Moved::no;
    }
    moved_.clear();
    bumps_.clear();
}

void World::moveTo(PieceIndex index, const Pose& to)
{
    const auto i = static_cast<std::size_t>(index);
    if (pose_[i] == to)
        return;
    if (howMoved_[i] == Moved::no)
        moved_.push_back(index);
    const bool isLevel = pose_[i].turn == to.turn && pose_[i].z == to.z;
    howMoved_[i] = std::max(howMoved_[i], isLevel ? Moved::along : Moved::turnedOrRose);
    pose_[i] = to;
}

Vec World::viewCorner() const
{
    const bool follows = view_.follow != nobody && piece(view_.follow).present;
    const Vec middle = follows ? pose_[static_cast<std::size_t>(view_.follow)].at : view_.at;
    return middle - Vec{viewAspect, 1} * (view_.height / 2);
}

Vec World::pointerFor(PieceIndex index) const
{
    return index >= 0 && piece(index).pinned ? pointer_.glass : pointer_.at;
}

void World::movePointer(const Vec& to, bool onGlass)
{
    if (!pointer_.there)
        pointer_.before = onGlass ? to + viewCorner() : to;
    pointer_.there = true;
    pointer_.onGlass = onGlass;
    pointer_.at = pointer_.glass = to;
    keepPointer();
}

void World::keepPointer()
{
    if (pointer_.onGlass)
        pointer_.at = pointer_.glass + viewCorner();
    else
        pointer_.glass = pointer_.at - viewCorner();
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

} // namespace

/// Where the carrier of a piece is: the pointer carries too.
Pose World::poseOfCarrier(PieceIndex rider) const
{
    const PieceIndex carrier = piece(rider).carrier;
    return isPointer(carrier) ? Pose{pointerFor(rider), 0} : pose_[static_cast<std::size_t>(carrier)];
}

void World::putWithRiders(PieceIndex index, const Pose& to, Cause cause)
{
    const auto i = static_cast<std::size_t>(index);
    pose_[i] = to;
    before_[i] = to;
    markAll(index, cause);
    for (const PieceIndex rider : carried_)
        if (piece(rider).carrier == index)
            putWithRiders(rider, carriedBy(to, piece(rider).grip), cause);
}

void World::put(PieceIndex index, const Pose& to, Cause cause)
{
    LivePiece& one = at(index);
    one.standsOn = nobody;
    origin(index).moved = because_;
    if (one.carrier != nobody)
        one.grip = gripOf(poseOfCarrier(index), to);
    putWithRiders(index, to, cause);
}

void World::mark(int shape, Cause cause)
{
    LiveShape& live = shapes_[static_cast<std::size_t>(shape)];
    if (live.changed == Cause::moved)
        changed_.push_back(shape);
    live.changed = cause;
}

void World::markAll(PieceIndex index, Cause cause)
{
    const LivePiece& one = piece(index);
    for (std::size_t i = 0; i < one.shapeCount; ++i)
        mark(static_cast<int>(one.firstShape + i), cause);
}

void World::clearMarks()
{
    for (const int shape : changed_)
        shapes_[static_cast<std::size_t>(shape)].changed = Cause::moved;
    changed_.clear();
}

bool World::setTag(PieceIndex index, const std::string& tag, bool given)
{
    std::vector<std::string>& tags = at(index).tags;
    const auto found = std::ranges::find(tags, tag);
    if ((found != tags.end()) == given)
        return false;
    if (given)
        tags.push_back(tag);
    else
        tags.erase(found);
    ++tagChanges_;
    return true;
}

void World::resize(PieceIndex index, double scale)
{
    LivePiece& owner = at(index);
    if (owner.scale == scale)
        return;
    origin(index).changed = because_;
    if (drawn_.size() != parts_.size()) {
        // What was spawned since the first resizing is still as drawn.
        drawn_.insert(drawn_.end(), parts_.begin() + static_cast<std::ptrdiff_t>(drawn_.size()), parts_.end());
    }
    owner.scale = scale;
    const auto scaleParts = [&](std::uint32_t first, std::uint32_t count) {
        for (std::size_t i = first; i < first + count; ++i) {
            parts_[i].radius = drawn_[i].radius * scale;
            for (std::size_t corner = 0; corner < static_cast<std::size_t>(parts_[i].count); ++corner)
                parts_[i].points[corner] = drawn_[i].points[corner] * scale;
        }
    };
    for (const LiveShape& shape : shapesOf(index)) {
        const int number = static_cast<int>(&shape - shapes_.data());
        const bool follows = std::ranges::find(traced_, number, &TracedParts::shape) != traced_.end();
        if (!follows)
            scaleParts(shape.firstPart, shape.partCount);
        for (const TracedParts& one : traced_)
            if (one.shape == number)
                scaleParts(one.firstPart, one.partCount);
        mark(number, Cause::resized);
    }
}

bool World::retrace(PieceIndex index)
{
    bool any = false;
    const std::string& image = looks_[static_cast<std::size_t>(piece(index).look)].image;
    const LivePiece& owner = piece(index);
    for (std::size_t i = owner.firstShape; i < owner.firstShape + owner.shapeCount; ++i) {
        LiveShape& shape = shapes_[i];
        const int number = static_cast<int>(i);
        const auto follows = [&](const TracedParts& one) { return one.shape == number; };
        if (std::ranges::none_of(traced_, follows))
            continue;
        const auto found = std::ranges::find_if(
            traced_, [&](const TracedParts& one) { return one.shape == number && one.image == image; });
        const std::uint32_t first = found == traced_.end() ? 0 : found->firstPart;
        const std::uint32_t count = found == traced_.end() ? 0 : found->partCount;
        if (shape.firstPart == first && shape.partCount == count)
            continue;
        shape.firstPart = first;
        shape.partCount = count;
        mark(number, Cause::resized);
        origin(index).changed = because_;
        any = true;
    }
    return any;
}

std::int32_t World::lastMoved(PieceIndex index) const
{
    std::int32_t last = -1;
    for (int depth = 0; index >= 0 && depth < 32; ++depth) {
        last = std::max(last, originOf(index).moved);
        index = piece(index).carrier != nobody ? piece(index).carrier : piece(index).standsOn;
    }
    return last;
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
    LivePiece& rider = at(index);
    if (carrier == index || (carrier != nobody && carries(index, carrier)))
        return;
    if (rider.carrier != nobody) {
        markAll(index, Cause::detached);
        for (const PieceIndex other : carried_)
            if (carries(index, other))
                markAll(other, Cause::detached);
    }
    std::erase(carried_, index);
    if (carrier != rider.carrier)
        origin(index).moved = origin(index).changed = because_;
    rider.carrier = carrier;
    woken_.push_back(index);
    if (carrier == nobody) {
        if (rider.loose || rider.walks) { // V8
            rider.velocity = rider.walk.drift = rider.approach;
            rider.spin = rider.turning;
        }
        rider.approach = {0, 0}; // it was the carrier's
        rider.turning = 0;
        return;
    }
    rider.grip = gripOf(poseOfCarrier(index), pose_[static_cast<std::size_t>(index)]);
    carried_.push_back(index);
    // Carriers before what they carry: those that ride on this one go behind it.
    std::ranges::stable_sort(carried_, {}, [&](PieceIndex one) {
        int depth = 0;
        for (PieceIndex up = piece(one).carrier; up != nobody; up = up >= 0 ? piece(up).carrier : nobody)
            ++depth;
        return depth;
    });
}

void World::carry()
{
    for (const PieceIndex index : carried_) {
        const LivePiece& rider = piece(index);
        moveTo(index, carriedBy(poseOfCarrier(index), rider.grip));
    }
}

bool World::isDuring(const scene::Piece& piece) const
{
    const auto& wanted = piece.during.items;
    return wanted.empty() ||
           (phase_ >= 0 && std::ranges::find(wanted, phases_[static_cast<std::size_t>(phase_)]) != wanted.end());
}

LivePiece World::livePieceOf(const scene::Piece& piece)
{
    LivePiece live;
    live.id = piece.id;
    live.templateName = piece.templateName;
    if (piece.partOf) {
        live.laid = piece.partOf->laid;
        live.part = piece.partOf->assembly + "." + piece.partOf->part;
        hasParts_ = true;
    }
    live.model = &piece;
    live.facing = piece.turn;
    live.phase = piece.phases.empty() ? -1 : 0;
    live.here = isDuring(piece);
    live.body = piece.body;
    live.shown = piece.shown;
    live.enabled = piece.enabled;
    live.layer = piece.layer;
    live.group = groups_.indexOf(piece.group);
    live.home = {piece.at, piece.turn, piece.z};
    live.tags = piece.tags;
    live.properties = piece.properties;
    const bool dressed = !piece.phases.empty() && piece.phases.front().look;
    live.look = indexOf(dressed ? *piece.phases.front().look : piece.look);
    live.pinned = piece.pinned;
    live.resting = std::holds_alternative<scene::StaticBody>(piece.body);
    live.driven = std::holds_alternative<scene::DrivenBody>(piece.body);
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
        live.climbs = walker->climbs.empty() ? -1 : groups_.indexOf(walker->climbs);
        live.keys = scene::keysOf(walker->steer);
        live.speed = walker->speed;
    }
    return live;
}

/// Adds the parts of a shape, in all looks that it may have.
void World::addParts(LiveShape& live, const scene::Shape& shape, int number)
{
    const auto add = [&](const std::vector<geometry::Hull>& parts) {
        const auto first = static_cast<std::uint32_t>(parts_.size());
        parts_.insert(parts_.end(), parts.begin(), parts.end());
        return std::pair(first, static_cast<std::uint32_t>(parts.size()));
    };
    std::tie(live.firstPart, live.partCount) = add(world::partsOf(shape));
    const auto* traced = std::get_if<scene::Traced>(&shape.geometry);
    if (!traced || !traced->image.empty() || !traced->tracing.areas)
        return;
    for (const scene::TracedArea& area : *traced->tracing.areas) {
        std::vector<geometry::Hull> parts;
        for (const geometry::Hull& part : area.parts)
            parts.push_back(geometry::placed(part, {shape.at, shape.turn}));
        const auto [first, count] = add(parts);
        traced_.push_back({number, area.image, first, count});
    }
}

PieceIndex World::addPiece(const scene::Piece& model, std::string id, const std::optional<Pose>& at)
{
    const bool fills = model.pinned && model.fill;
    const scene::Piece filled = fills ? filling(model, Vec{viewAspect, 1} * view_.height) : scene::Piece{};
    const scene::Piece& piece = fills ? filled : model;
    LivePiece live = livePieceOf(piece);
    live.model = &model;
    live.id = std::move(id);
    if (at) {
        live.home = *at;
        live.facing = at->turn;
    }
    live.strayed = bounds_ && !bounds_->contains(live.home.at);
    ids_[live.id] = static_cast<PieceIndex>(pieces_.size());
    live.firstShape = shapes_.size();
    live.shapeCount = piece.shapes.size();
    const auto index = static_cast<PieceIndex>(pieces_.size());
    for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
        const scene::Shape& shape = piece.shapes[i];
        LiveShape liveShape;
        liveShape.piece = index;
        liveShape.number = static_cast<int>(i);
        addParts(liveShape, shape, static_cast<int>(shapes_.size()));
        liveShape.group = static_cast<std::int16_t>(groups_.indexOf(scene::groupOf(piece, shape)));
        liveShape.role = shape.role;
        liveShape.enabled = shape.enabled;
        liveShape.margin = shape.margin;
        if (shape.band)
            liveShape.band = {(*shape.band)[0], (*shape.band)[1]};
        shapes_.push_back(liveShape);
        surfaces_.push_back({shape.friction, shape.bounce});
        live.shapeNames.push_back(scene::shapeName(piece, i));
    }
    pose_.push_back(live.home);
    before_.push_back(live.home);
    origins_.push_back({because_, because_, because_, because_});
    howMoved_.push_back(Moved::no);
    shapeStarts_.push_back(static_cast<std::uint32_t>(shapes_.size()));
    pieces_.push_back(std::move(live));
    retrace(index);
    return index;
}

PieceIndex World::spawn(const scene::Piece& model, std::string id, const std::optional<Pose>& at,
                        std::string_view templateName, std::int64_t tick)
{
    const PieceIndex index = addPiece(model, std::move(id), at);
    LivePiece& one = this->at(index);
    one.templateName = templateName;
    one.born = one.dressed = tick;
    markAll(index, Cause::spawned);
    return index;
}

void World::setPart(PieceIndex index, std::string_view laid, std::string_view part, const geometry::Pose& about)
{
    if (at(index).route.under)
        at(index).route.about = about;
    at(index).laid = laid;
    at(index).part = part;
    hasParts_ = true;
}

void World::dateAll(std::int64_t tick)
{
    for (LivePiece& one : pieces_)
        one.born = one.dressed = tick;
}

void World::rebind(const scene::Scene& scene)
{
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        pieces_[i].model = &scene.pieces[i];
}

bool World::setShown(PieceIndex index, int shape, bool shown)
{
    origin(index).changed = because_;
    return std::exchange(shape < 0 ? at(index).shown : shapes_[static_cast<std::size_t>(shape)].shown, shown);
}

bool World::setEnabled(PieceIndex index, int shape, bool enabled)
{
    origin(index).changed = because_;
    return std::exchange(shape < 0 ? at(index).enabled : shapes_[static_cast<std::size_t>(shape)].enabled, enabled);
}

bool World::setHere(PieceIndex index, bool here)
{
    if (std::exchange(at(index).here, here) == here)
        return false;
    origin(index).changed = because_;
    if (here)
        markAll(index, Cause::phase);
    return true;
}

std::vector<PieceIndex> World::enterPhase(int phase)
{
    phase_ = phase;
    std::vector<PieceIndex> turned;
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
        const LivePiece& one = pieces_[i];
        const auto index = static_cast<PieceIndex>(i);
        if (one.present && !one.model->during.items.empty() && setHere(index, isDuring(*one.model)))
            turned.push_back(index);
    }
    return turned;
}

bool World::setShapeGroup(int shape, int group)
{
    if (std::exchange(shapes_[static_cast<std::size_t>(shape)].group, static_cast<std::int16_t>(group)) == group)
        return false;
    origin(shapes_[static_cast<std::size_t>(shape)].piece).changed = because_;
    mark(shape, Cause::regrouped);
    return true;
}

void World::remove(PieceIndex index)
{
    at(index).present = false;
    origin(index).changed = because_;
    for (const PieceIndex rider : std::vector(carried_))
        if (piece(rider).carrier == index)
            attach(rider, nobody);
    attach(index, nobody);
}

void World::dress(PieceIndex index, int look, std::int64_t tick)
{
    LivePiece& one = at(index);
    one.look = look;
    one.dressed = tick;
    origin(index).dressed = because_;
}

World World::restarted(const scene::Scene& scene, const World& before)
{
    World world{scene};
    if (before.pointer_.there) { // it does not jump back; no box is open (T5)
        world.pointer_ = before.pointer_;
        world.closeBox();
        world.keepPointer();
    }
    for (std::size_t i = scene.pieces.size(); i < before.pieces_.size(); ++i) {
        const LivePiece& old = before.pieces_[i];
        LivePiece& gone = world.at(world.addPiece(*old.model, old.id));
        gone.templateName = old.templateName;
        gone.laid = old.laid;
        gone.part = old.part;
        gone.present = false;
    }
    // Looks keep their numbers: by these a record tells what was worn before.
    const std::vector<scene::Look> own = std::exchange(world.looks_, before.looks_);
    for (LivePiece& piece : world.pieces_)
        piece.look = world.indexOf(own[static_cast<std::size_t>(piece.look)]);
    return world;
}

World::World(const scene::Scene& scene)
    : groups_(scene), variables_(scene.variables), gravity_(scene::gravityOf(scene)), phases_(scene.phases),
      phase_(scene.phases.empty() ? -1 : 0)
{
    if (scene.bounds)
        bounds_ = {{(*scene.bounds)[0], (*scene.bounds)[1]}, {(*scene.bounds)[2], (*scene.bounds)[3]}};
    view_.at = scene.camera.at;
    view_.height = scene.camera.height;
    for (const scene::Source& source : scene.sources) {
        sources_.push_back(source.id);
        const auto* dial = std::get_if<scene::DialSource>(&source.kind);
        dials_.push_back(dial ? dial->value : 0);
    }
    std::size_t shapes = 0;
    for (const scene::Piece& piece : scene.pieces)
        shapes += piece.shapes.size();
    shapes_.reserve(shapes);
    parts_.reserve(shapes);
    surfaces_.reserve(shapes);
    pieces_.reserve(scene.pieces.size());
    pose_.reserve(scene.pieces.size());
    before_.reserve(scene.pieces.size());
    howMoved_.reserve(scene.pieces.size());
    shapeStarts_.reserve(scene.pieces.size() + 1);
    ids_.reserve(scene.pieces.size());
    for (const scene::Piece& piece : scene.pieces)
        addPiece(piece, piece.id);
    view_.follow = scene.camera.follow.empty() ? nobody : find(scene.camera.follow);
    for (std::size_t shape = 0; shape < shapes_.size(); ++shape)
        mark(static_cast<int>(shape), Cause::start);
}

} // namespace snare::world
