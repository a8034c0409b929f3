// SPDX-License-Identifier: Apache-2.0
/// Detection over many ticks while everything happens to the pieces, and picking; against looking
/// at every pair.
#include "builder.h"
#include "detect/pick.h"
#include "effort.h"
#include "geometry/gap.h"
#include "slow_region.h"

#include <QTest>

#include <map>
#include <random>
#include <set>

using namespace snare;
using namespace snare::tests;
using detect::Detection;
using detect::Meeting;
using scene::EventKind;
using world::Cause;
using world::PieceIndex;
using world::World;

class TestDetect : public QObject {
    Q_OBJECT

  private slots:
    void aStormOfChangesLosesAndDoublesNothing();
    void whatLiesStillIsFoundByWhatPasses();
    void aBigShapeMeetsManySmallOnes();
    void largeAndSmallMeetAsLookingAtEveryPairSays();
    void whatTurnsEverSoSlowlyIsSeen();
    void picksTheTopmost();
    void picksAllInABox();
    void seesTheNearestAlongALine();
};

namespace {

/// Enters and exits as they were told: they must always pair up (M9).
class Told {
  public:
    void take(const std::vector<detect::Change>& changes, const char* where)
    {
        for (const detect::Change& change : changes) {
            const std::pair key{change.shape, change.visitor};
            if (change.kind == EventKind::enter)
                QVERIFY2(inside_.insert(key).second, where);
            else if (change.kind == EventKind::exit)
                QVERIFY2(inside_.erase(key) == 1, where);
            QVERIFY2(change.frac >= 0 && change.frac <= 1, where);
        }
    }
    const std::set<std::pair<int, PieceIndex>>& inside() const { return inside_; }

  private:
    std::set<std::pair<int, PieceIndex>> inside_;
};

std::set<std::pair<int, PieceIndex>> groupsOf(const World& world, const std::vector<Meeting>& meetings)
{
    std::set<std::pair<int, PieceIndex>> groups;
    for (const Meeting& meeting : meetings) {
        groups.emplace(meeting.a, world.shapes()[static_cast<std::size_t>(meeting.b)].piece);
        groups.emplace(meeting.b, world.shapes()[static_cast<std::size_t>(meeting.a)].piece);
    }
    return groups;
}

} // namespace

void TestDetect::aStormOfChangesLosesAndDoublesNothing()
{
    std::mt19937 dice{20};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    const auto pick = [&](std::size_t below) { return std::uniform_int_distribution<std::size_t>{0, below - 1}(dice); };
    const std::string groups[] = {"red", "blue", "grey"};

    const auto anyPiece = [&] {
        scene::Piece one;
        one.id = "p";
        one.at = {between(-6, 6), between(-6, 6)};
        one.z = between(0, 1) < 0.3 ? between(0, 2) : 0;
        one.turn = between(-180, 180);
        one.group = groups[pick(3)];
        if (between(0, 1) < 0.75)
            one.body = scene::KinematicBody{};
        const std::size_t shapes = 1 + pick(2);
        for (std::size_t i = 0; i < shapes; ++i) {
            scene::Shape shape;
            shape.role = between(0, 1) < 0.5 ? scene::Role::solid : scene::Role::zone;
            shape.at = {between(-0.5, 0.5), between(-0.5, 0.5)};
            if (between(0, 1) < 0.2)
                shape.band = {0, between(0.5, 2)};
            if (shape.role == scene::Role::zone && between(0, 1) < 0.2)
                shape.margin = 0.3;
            switch (pick(4)) {
            case 0:
                shape.geometry = scene::Circle{between(0.1, 0.8)};
                break;
            case 1:
                shape.geometry = scene::Box{{between(0.2, 1.5), between(0.2, 1.5)}};
                break;
            case 2:
                shape.geometry = scene::Capsule{{-0.5, 0}, {0.5, 0.2}, between(0.1, 0.3)};
                break;
            default:
                shape.geometry = scene::Polygon{{{-1, -0.6}, {1, -0.6}, {1, 0.6}, {0, -0.2}, {-1, 0.6}}};
                break;
            }
            one.shapes.push_back(shape);
        }
        return one;
    };

    scene::Scene scene;
    scene.groups = {"red", "blue", "grey"};
    scene.contacts = {{"red", "blue", scene::Contact::pass}, {"red", "grey", scene::Contact::sense}};
    for (int i = 0; i < 26; ++i) {
        scene.pieces.push_back(anyPiece());
        scene.pieces.back().id = "p" + std::to_string(i);
    }
    World world{scene};
    Detection detection;
    Told told;
    told.take(detection.detect(world, true, false), "start");

    std::map<PieceIndex, std::pair<Vec, double>> going; // velocity, spin
    std::set<Meeting> last;
    std::size_t seen = 0;
    std::size_t changes = 0;
    const auto mostly = [&] { return between(0, 1) < 0.8; }; // or it would soon be quiet
    const auto alive = [&] {
        std::vector<PieceIndex> result;
        for (std::size_t i = 0; i < world.pieces().size(); ++i)
            if (world.pieces()[i].present)
                result.push_back(static_cast<PieceIndex>(i));
        return result;
    };
    const int ticks = effort(10'000);
    for (int tick = 1; tick <= ticks; ++tick) {
        // Some pieces suffer something before the tick moves on; the same piece may suffer twice.
        std::vector<PieceIndex> touched;
        std::map<int, Cause> ends;
        const auto end = [&](PieceIndex piece, Cause cause) {
            touched.push_back(piece);
            for (std::uint32_t shape = world.shapeStarts()[static_cast<std::size_t>(piece)];
                 shape < world.shapeStarts()[static_cast<std::size_t>(piece) + 1]; ++shape)
                ends[static_cast<int>(shape)] = cause;
        };
        const std::vector<PieceIndex> all = alive();
        for (std::size_t n = pick(4); n-- > 0;) {
            const PieceIndex piece = all[pick(all.size())];
            const world::LivePiece& live = world.piece(piece);
            if (!live.present)
                continue;
            switch (pick(11)) {
            case 0:
                world.put(piece, {{between(-6, 6), between(-6, 6)}, between(-180, 180), between(0, 2)});
                break;
            case 1:
                if (live.shown == mostly())
                    break;
                world.setShown(piece, -1, !live.shown);
                live.shown ? world.markAll(piece, Cause::shown) : end(piece, Cause::hidden);
                break;
            case 2:
                if (live.enabled == mostly())
                    break;
                world.setEnabled(piece, -1, !live.enabled);
                live.enabled ? world.markAll(piece, Cause::enabled) : end(piece, Cause::disabled);
                break;
            case 3: {
                const world::LiveShape& shape = world.shapesOf(piece)[pick(live.shapeCount)];
                if (shape.enabled == mostly())
                    break;
                const auto number = static_cast<int>(&shape - world.shapes().data());
                world.setEnabled(piece, number, !shape.enabled);
                if (shape.enabled)
                    world.mark(number, Cause::enabled);
                else
                    end(piece, Cause::disabled);
                break;
            }
            case 4:
                for (const world::LiveShape& shape : world.shapesOf(piece)) {
                    const auto number = static_cast<int>(&shape - world.shapes().data());
                    world.setShapeGroup(number, world.groupCalled(groups[pick(3)]));
                    world.mark(number, Cause::regrouped);
                }
                end(piece, Cause::regrouped);
                break;
            case 5:
                world.resize(piece, between(0.4, 1.6));
                break;
            case 6: {
                const PieceIndex carrier = all[pick(all.size())];
                if (world.carried().size() > 6)
                    break;
                if (carrier == piece || !world.piece(carrier).present || world.carries(piece, carrier))
                    break;
                world.attach(piece, carrier);
                for (const PieceIndex rider : world.carried())
                    if (rider == piece || world.carries(piece, rider))
                        end(rider, Cause::attached);
                break;
            }
            case 7:
                world.attach(piece, world::nobody);
                break;
            case 8:
                if (live.here == mostly())
                    break;
                world.setHere(piece, !live.here);
                if (!live.here)
                    end(piece, Cause::phase);
                break;
            case 9:
                if (all.size() < 40)
                    world.spawn(anyPiece(), "s" + std::to_string(world.pieces().size()));
                break;
            default:
                if (all.size() < 22 || tick % 3 != 0)
                    break;
                world.remove(piece);
                end(piece, Cause::removed);
                break;
            }
        }
        const auto& ended = detection.endMeetings(world, touched, 0.5, [&](const detect::Change& change) {
            const auto found = ends.contains(change.part) ? ends.find(change.part) : ends.find(change.shape);
            return found == ends.end() ? Cause::moved : found->second;
        });
        changes += ended.size();
        for (const detect::Change& change : ended)
            QVERIFY2(change.kind == EventKind::exit && change.cause != Cause::moved, "an end has its cause (K5)");
        told.take(ended, "settling");

        // Some go on, some turn, some rest for long: then detection does not look at them.
        world.beginMotion();
        for (const PieceIndex piece : alive()) {
            const world::LivePiece& live = world.piece(piece);
            if (live.resting || live.carrier != world::nobody)
                continue;
            if (pick(40) == 0) {
                const bool rests = pick(3) == 0;
                going[piece] = {rests ? Vec{0, 0} : Vec{between(-0.6, 0.6), between(-0.6, 0.6)},
                                rests || pick(2) == 0 ? 0 : between(-20, 20)};
            }
            const auto found = going.find(piece);
            if (found == going.end())
                continue;
            Pose pose = world.pose()[static_cast<std::size_t>(piece)];
            if (std::abs(pose.at.x) > 7)
                found->second.first.x = -std::copysign(found->second.first.x, pose.at.x);
            if (std::abs(pose.at.y) > 7)
                found->second.first.y = -std::copysign(found->second.first.y, pose.at.y);
            pose.at += found->second.first;
            pose.turn += found->second.second;
            world.moveTo(piece, pose);
        }
        world.carry();
        const auto& found = detection.detect(world, false, false);
        changes += found.size();
        told.take(found, "moving");

        // Who is inside is what was told, and what looking at every pair says.
        const std::vector<Meeting> now = detection.meetings();
        const auto inside = groupsOf(world, now);
        for (const auto& [shape, visitor] : inside)
            QVERIFY2(told.inside().contains({shape, visitor}),
                     qPrintable(QStringLiteral("tick %1: %2 by %3 was not told").arg(tick).arg(shape).arg(visitor)));
        for (const auto& [shape, visitor] : told.inside())
            QVERIFY2(inside.contains({shape, visitor}),
                     qPrintable(QStringLiteral("tick %1: %2 by %3 did not leave").arg(tick).arg(shape).arg(visitor)));
        std::set<Meeting> real;
        std::set<std::pair<int, int>> known;
        for (const Meeting& meeting : now)
            known.emplace(meeting.a, meeting.b);
        for (int a = 0; a < static_cast<int>(world.shapes().size()); ++a) {
            const world::LiveShape& first = world.shapes()[static_cast<std::size_t>(a)];
            if (!world.piece(first.piece).meets())
                continue;
            for (int b = a + 1; b < static_cast<int>(world.shapes().size()); ++b) {
                const scene::Contact contact = detect::mannerBetween(world, a, b);
                const bool met = known.contains({a, b});
                if (contact == scene::Contact::pass) {
                    QVERIFY2(!met, "they can not meet");
                    continue;
                }
                const world::LiveShape& second = world.shapes()[static_cast<std::size_t>(b)];
                const Pose& poseOfA = world.pose()[static_cast<std::size_t>(first.piece)];
                const Pose& poseOfB = world.pose()[static_cast<std::size_t>(second.piece)];
                const bool level = first.band.low + poseOfA.z < second.band.high + poseOfB.z &&
                                   second.band.low + poseOfB.z < first.band.high + poseOfA.z;
                double gap =
                    geometry::gapBetween(world.partsOf(first), poseOfA, world.partsOf(second), poseOfB).distance;
                if (!level)
                    gap = 1e9;
                const bool stop = contact == scene::Contact::stop;
                const double begins = stop ? detect::stopBegins : 0;
                const double stays = stop ? detect::stopEnds : std::max(first.margin, second.margin);
                if (gap < begins - 1e-6)
                    QVERIFY2(
                        met,
                        qPrintable(QStringLiteral("tick %1: %2 and %3 missed, %4").arg(tick).arg(a).arg(b).arg(gap)));
                else if (gap > stays + 1e-6)
                    QVERIFY2(!met, qPrintable(
                                       QStringLiteral("tick %1: %2 and %3 left, %4").arg(tick).arg(a).arg(b).arg(gap)));
                seen += met ? 1 : 0;
            }
        }
    }
    QVERIFY2(seen > std::size_t(5 * ticks) && changes > std::size_t(4 * ticks), // the storm was one
             qPrintable(QStringLiteral("%1 meetings, %2 changes").arg(seen).arg(changes)));
}

void TestDetect::whatLiesStillIsFoundByWhatPasses()
{
    // 400 kinematic pieces that never move, one that goes through their rows, rests, and goes back.
    scene::Scene scene;
    for (int i = 0; i < 400; ++i)
        scene.pieces.push_back(mover("m" + std::to_string(i), {i % 20 * 1.0, i / 20 * 1.0}, {0, 0}, 0.2));
    scene.pieces.push_back(mover("boat", {-2, 3.1}, {0, 0}, 0.3));
    World world{scene};
    Detection detection;
    detection.detect(world, true, false);
    int enters = 0;
    int exits = 0;
    for (int tick = 0; tick < 300; ++tick) {
        world.beginMotion();
        Pose pose = world.pose()[400];
        if (tick < 100 || tick >= 200)
            pose.at.x += tick < 100 ? 0.25 : -0.25;
        world.moveTo(400, pose);
        for (const detect::Change& change : detection.detect(world, false, false)) {
            enters += change.self == 400 && change.kind == EventKind::enter ? 1 : 0;
            exits += change.self == 400 && change.kind == EventKind::exit ? 1 : 0;
        }
    }
    QCOMPARE(enters, 40);
    QCOMPARE(exits, 40);
}

void TestDetect::aBigShapeMeetsManySmallOnes()
{
    scene::Scene scene;
    scene.pieces.push_back(zone("yard", {0, 0}, {100, 100}));
    for (int i = 0; i < 900; ++i)
        scene.pieces.push_back(mover("m" + std::to_string(i), {i % 30 * 2.0 - 30, i / 30 * 2.0 - 30}, {0, 0}, 0.05));
    scene.pieces.push_back(mover("gull", {0, 0}, {1, 0}, 1000));
    World world{scene};
    Detection detection;
    detection.detect(world, true, false);
    QCOMPARE(detection.meetingCount(), std::size_t{900 + 900 + 1});
    // The small ones leave one by one, the big ones stay.
    for (PieceIndex piece = 1; piece <= 900; ++piece) {
        world.put(piece, {{5000, piece * 3.0}, 0});
        detection.detect(world, false, false);
        QCOMPARE(detection.meetingCount(), static_cast<std::size_t>(2 * (900 - piece) + 1));
    }
}

void TestDetect::largeAndSmallMeetAsLookingAtEveryPairSays()
{
    // Sizes of 1,000 : 1, discs and boxes, some turned, some off the middle of their pieces, going
    // straight and back.
    std::mt19937 dice{7};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    scene::Scene scene;
    scene.contacts = {{"default", "default", scene::Contact::sense}};
    std::vector<Vec> way;
    for (int i = 0; i < 200; ++i) {
        scene::Piece one = mover("m" + std::to_string(i), {between(-25, 25), between(-25, 25)}, {0, 0}, 0.5);
        scene::Shape& shape = one.shapes.front();
        const double size = 0.03 * std::pow(1000, between(0, 1));
        shape.role = scene::Role::zone;
        shape.geometry = scene::Circle{size / 2};
        if (i % 2 == 0)
            shape.geometry = scene::Box{{size, size * 0.6}};
        if (i % 5 == 0)
            one.turn = between(0, 360);
        if (i % 7 == 0)
            shape.at = {size, 0};
        scene.pieces.push_back(one);
        way.push_back(Vec{between(-1, 1), between(-1, 1)} * 0.06);
    }
    World world{scene};
    Detection detection;
    detection.detect(world, true, false);
    std::size_t meetings = 0;
    const int ticks = effort(500);
    for (int tick = 0; tick < ticks; ++tick) {
        world.beginMotion();
        for (std::size_t i = 0; i < way.size(); ++i) {
            if (tick % 230 == 229)
                way[i] *= -1;
            Pose pose = world.pose()[i];
            pose.at += way[i];
            world.moveTo(static_cast<PieceIndex>(i), pose);
        }
        detection.detect(world, false, false);
        std::set<std::pair<int, int>> known;
        for (const Meeting& meeting : detection.meetings())
            known.emplace(meeting.a, meeting.b);
        meetings += known.size();
        for (int a = 0; a < 200; ++a)
            for (int b = a + 1; b < 200; ++b) {
                const auto first = static_cast<std::size_t>(a);
                const auto second = static_cast<std::size_t>(b);
                const double gap = geometry::gapBetween(world.partsOf(world.shapes()[first]), world.pose()[first],
                                                        world.partsOf(world.shapes()[second]), world.pose()[second])
                                       .distance;
                if (std::abs(gap) > 1e-6)
                    QVERIFY2((gap < 0) == known.contains({a, b}),
                             qPrintable(QStringLiteral("tick %1: %2 and %3, %4").arg(tick).arg(a).arg(b).arg(gap)));
            }
    }
    QVERIFY2(meetings > std::size_t(ticks * 100), qPrintable(QString::number(meetings)));
}

void TestDetect::whatTurnsEverSoSlowlyIsSeen()
{
    // A bar goes straight beside a disc; after a while it begins to turn, less in a tick than
    // detection could care for.
    scene::Scene scene;
    scene.contacts = {{"default", "default", scene::Contact::sense}};
    scene.pieces = {mover("bar", {0, 0}, {0, 0}, 0.5), mover("disc", {1.9, 0.3}, {0, 0}, 0.1)};
    scene.pieces[0].shapes.front().geometry = scene::Box{{4, 0.1}};
    for (scene::Piece& piece : scene.pieces)
        piece.shapes.front().role = scene::Role::zone;
    World world{scene};
    Detection detection;
    detection.detect(world, true, false);
    int entered = -1;
    for (int tick = 0; tick < 20'000 && entered < 0; ++tick) {
        world.beginMotion();
        for (const PieceIndex piece : {0, 1}) {
            Pose pose = world.pose()[static_cast<std::size_t>(piece)];
            pose.at.x += 0.001;
            pose.turn += piece == 0 && tick > 10 ? 0.0005 : 0;
            world.moveTo(piece, pose);
        }
        for (const detect::Change& change : detection.detect(world, false, false))
            entered = change.kind == EventKind::enter ? tick : entered;
        const double gap = geometry::gapBetween(world.partsOf(world.shapes()[0]), world.pose()[0],
                                                world.partsOf(world.shapes()[1]), world.pose()[1])
                               .distance;
        QVERIFY2(gap > -1e-6 || entered >= 0, qPrintable(QStringLiteral("tick %1: missed").arg(tick)));
    }
    QVERIFY(entered > 1000);
}

void TestDetect::picksTheTopmost()
{
    scene::Scene scene;
    scene.pieces = {zone("low", {0, 0}, {4, 4}), zone("late", {0, 0}, {4, 4}), zone("high", {0, 0}, {1, 1}),
                    zone("hidden", {0, 0}, {9, 9})};
    scene.pieces[2].layer = -1;
    scene.pieces[0].layer = 2;
    scene.pieces[3].shown = false;
    const World world{scene};
    const auto names = [&](const std::vector<detect::Picked>& picked) {
        QStringList list;
        for (const detect::Picked& one : picked)
            list << QString::fromStdString(std::string(world.nameOf(one.piece)));
        return list;
    };
    QCOMPARE(names(detect::allAt(world, {0.2, 0.2})), QStringList({"low", "late", "high"}));
    QCOMPARE(world.nameOf(detect::topmostAt(world, {0.2, 0.2})->piece), std::string_view("low"));
    QVERIFY(!detect::topmostAt(world, {2.1, 0}));
    QVERIFY(detect::topmostAt(world, {2.1, 0}, 0.2)); // with some slack
}

void TestDetect::picksAllInABox()
{
    std::mt19937 dice{9};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    scene::Scene scene;
    for (int i = 0; i < 60; ++i) {
        scene.pieces.push_back(zone("z" + std::to_string(i), {between(-5, 5), between(-5, 5)}, {between(0.1, 2), 0.5}));
        scene.pieces.back().turn = between(-180, 180);
    }
    const World world{scene};
    for (int i = 0; i < 200; ++i) {
        geometry::Bounds area;
        area.include({between(-5, 5), between(-5, 5)});
        area.include({between(-5, 5), between(-5, 5)});
        std::set<PieceIndex> picked;
        for (const detect::Picked& one : detect::allIn(world, area))
            picked.insert(one.piece);
        scene::Shape box;
        box.geometry = scene::Box{area.size()};
        const Region around = regionOf(box, {area.centre(), 0});
        for (PieceIndex piece = 0; piece < 60; ++piece) {
            const auto index = static_cast<std::size_t>(piece);
            const double distance = slowDistance(around, regionOf(scene.pieces[index].shapes[0], world.pose()[index]));
            if (std::abs(distance) > 1e-9 || distance == 0)
                QCOMPARE(picked.contains(piece), distance <= 0);
        }
    }
}

void TestDetect::seesTheNearestAlongALine()
{
    scene::Scene scene;
    scene.pieces = {wall("far", {8, 0}, {1, 4}), wall("near", {4, 0}, {1, 4}), zone("mist", {2, 0}, {1, 4}),
                    piece("wire", {6, 0}, scene::Line{{{0, -2}, {0, 2}}, false}, scene::Role::solid)};
    const World world{scene};
    const auto first = detect::nearestAlong(world, {0, 0}, {10, 0});
    QVERIFY(first);
    QCOMPARE(world.nameOf(first->picked.piece), std::string_view("mist"));
    QVERIFY(std::abs(first->along - 0.15) < 1e-12);
    const auto solids = [&](int shape) {
        return world.shapes()[static_cast<std::size_t>(shape)].role == scene::Role::solid;
    };
    const auto solid = detect::nearestAlong(world, {0, 0.5}, {10, 0.5}, solids);
    QVERIFY(solid && world.nameOf(solid->picked.piece) == "near");
    QVERIFY(glm::length(solid->point - Vec{3.5, 0.5}) < 1e-9);
    QVERIFY(glm::length(solid->normal - Vec{-1, 0}) < 1e-9);
    const auto wire = detect::nearestAlong(world, {5, 1}, {7, 1});
    QVERIFY(wire && world.nameOf(wire->picked.piece) == "wire" && std::abs(wire->along - 0.5) < 1e-6);
    QVERIFY(!detect::nearestAlong(world, {0, 5}, {10, 5}));
}

QTEST_APPLESS_MAIN(TestDetect)
#include "test_detect.moc"
