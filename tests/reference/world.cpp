// SPDX-License-Identifier: Apache-2.0
#include "reference/world.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

namespace snare::reference {

int World::add(const Json& model, const std::string& id, const std::string& form, long tick)
{
    Piece piece;
    piece.id = id;
    piece.form = form;
    piece.model = model;
    piece.born = tick;
    if (model.contains("at")) {
        piece.x = piece.fromX = piece.homeX = model["at"][0];
        piece.y = piece.fromY = piece.homeY = model["at"][1];
    }
    const Json body = model.value("body", Json("static"));
    piece.isStatic = (body.is_string() ? body.get<std::string>() : body["kind"].get<std::string>()) == "static";
    if (body.is_object() && body.contains("velocity")) {
        piece.vx = body["velocity"][0];
        piece.vy = body["velocity"][1];
    }
    piece.group = model.value("group", "default");
    piece.tags = model.value("tags", std::vector<std::string>{});
    const Json properties = model.value("properties", Json::object());
    for (const auto& [name, value] : properties.items())
        piece.properties.emplace_back(name, value);
    piece.phases = model.value("phases", std::vector<std::string>{});
    piece.phase = piece.phases.empty() ? -1 : 0;
    piece.shown = model.value("shown", true);
    piece.enabled = model.value("enabled", true);
    const int index = static_cast<int>(pieces.size());
    const Json list = model.value("shapes", Json::array());
    for (std::size_t i = 0; i < list.size(); ++i) {
        Shape shape;
        shape.piece = index;
        shape.id = list[i].value("id", std::to_string(i));
        if (list[i].contains("at")) {
            shape.x = list[i]["at"][0];
            shape.y = list[i]["at"][1];
        }
        shape.halfX = list[i]["box"][0].get<double>() / 2;
        shape.halfY = list[i]["box"][1].get<double>() / 2;
        shape.group = list[i].value("group", piece.group);
        piece.shapes.push_back(static_cast<int>(shapes.size()));
        shapes.push_back(shape);
    }
    pieces.push_back(piece);
    return index;
}

int World::find(const std::string& id) const
{
    for (std::size_t i = pieces.size(); i-- > 0;)
        if (pieces[i].id == id)
            return static_cast<int>(i);
    return -1;
}

bool World::mayMeet(int a, int b) const
{
    const Shape& one = shapes[static_cast<std::size_t>(a)];
    const Shape& two = shapes[static_cast<std::size_t>(b)];
    if (one.piece == two.piece)
        return false;
    const Piece& first = pieces[static_cast<std::size_t>(one.piece)];
    const Piece& second = pieces[static_cast<std::size_t>(two.piece)];
    const auto isOn = [](const Shape& shape, const Piece& piece) {
        return shape.enabled && shape.shown && piece.present && piece.here && piece.shown && piece.enabled;
    };
    if (!isOn(one, first) || !isOn(two, second) || (first.isStatic && second.isStatic))
        return false;
    for (const auto& entry : contacts)
        if ((entry[0] == one.group && entry[1] == two.group) || (entry[1] == one.group && entry[0] == two.group))
            return entry[2] != "pass";
    return true; // all shapes are zones
}

std::vector<Change> World::detect(bool atStart)
{
    std::vector<Pair> pairs;
    for (int a = 0; a < static_cast<int>(shapes.size()); ++a)
        for (int b = a + 1; b < static_cast<int>(shapes.size()); ++b) {
            const bool was = touching.contains({a, b});
            if (!mayMeet(a, b)) {
                touching.erase({a, b});
                continue;
            }
            const Shape& one = shapes[static_cast<std::size_t>(a)];
            const Shape& two = shapes[static_cast<std::size_t>(b)];
            const Piece& first = pieces[static_cast<std::size_t>(one.piece)];
            const Piece& second = pieces[static_cast<std::size_t>(two.piece)];
            // Where the second is, seen from the first, at the start and at the end; they overlap
            // from `in` to `out`.
            const double fromX = second.fromX + two.x - first.fromX - one.x;
            const double fromY = second.fromY + two.y - first.fromY - one.y;
            const double toX = second.x + two.x - first.x - one.x;
            const double toY = second.y + two.y - first.y - one.y;
            double in = -1e9;
            double out = 1e9;
            const auto narrow = [&](double from, double to, double half) {
                const double step = to - from;
                if (step == 0) {
                    if (std::abs(from) >= half)
                        out = in;
                    return;
                }
                const double low = (-half - from) / step;
                const double high = (half - from) / step;
                in = std::max(in, std::min(low, high));
                out = std::min(out, std::max(low, high));
            };
            narrow(fromX, toX, one.halfX + two.halfX);
            narrow(fromY, toY, one.halfY + two.halfY);
            const bool rests = fromX == toX && fromY == toY;
            const bool overlaps = in < out && (rests || (in < 1 && out > 0));
            const bool atBegin = overlaps && (rests || in < 0);
            const bool atEnd = overlaps && (rests || out > 1);
            if (was && atEnd) {
                pairs.push_back({a, b, true, true, 0, 0, false, false});
                continue;
            }
            if (!was && !overlaps)
                continue;
            Pair pair{a, b, was, atEnd, 0, 0, false, false};
            pair.begin = atBegin ? 0 : std::max(0.0, in);
            pair.begunBefore = atBegin;
            pair.end = overlaps ? std::min(1.0, out) : 0;
            pair.endedBefore = !overlaps;
            pairs.push_back(pair);
            if (atEnd)
                touching.insert({a, b});
            else
                touching.erase({a, b});
        }
    std::vector<Change> changes = tell(pairs, atStart);
    for (Shape& shape : shapes)
        shape.changed.clear();
    return sorted(std::move(changes));
}

/// M8, M9: for both sides, once for each shape and visitor, however many shapes the visitor has.
std::vector<Change> World::tell(const std::vector<Pair>& pairs, bool atStart) const
{
    struct Seen {
        int part;
        const Pair* pair;
    };
    std::map<std::pair<int, int>, std::vector<Seen>> groups; // by shape and visitor
    const auto add = [&](int shape, int part, const Pair* pair) {
        groups[{shape, shapes[static_cast<std::size_t>(part)].piece}].push_back({part, pair});
    };
    for (const Pair& pair : pairs) {
        add(pair.a, pair.b, &pair);
        add(pair.b, pair.a, &pair);
    }
    // What goes on beside what is told here.
    std::vector<Pair> others;
    others.reserve(touching.size());
    for (const auto& [a, b] : touching)
        if (std::ranges::none_of(pairs, [&, a = a, b = b](const Pair& pair) { return pair.a == a && pair.b == b; }))
            others.push_back({a, b, true, true, 0, 0, false, false});
    for (const Pair& pair : others) {
        if (groups.contains({pair.a, shapes[static_cast<std::size_t>(pair.b)].piece}))
            add(pair.a, pair.b, &pair);
        if (groups.contains({pair.b, shapes[static_cast<std::size_t>(pair.a)].piece}))
            add(pair.b, pair.a, &pair);
    }
    std::vector<Change> changes;
    for (auto& entry : groups) {
        const auto& key = entry.first;
        auto& seen = entry.second;
        std::ranges::sort(seen, {}, &Seen::part);
        bool was = false;
        bool is = false;
        const Seen* entered = nullptr;
        const Seen* left = nullptr;
        const Seen* inside = nullptr;
        for (const Seen& one : seen) {
            was |= one.pair->was;
            is |= one.pair->is;
            if (one.pair->is && !inside)
                inside = &one;
            if (!one.pair->was && (!entered || one.pair->begin < entered->pair->begin))
                entered = &one;
            if (!one.pair->is && (!left || one.pair->end > left->pair->end))
                left = &one;
        }
        Change change;
        change.shape = key.first;
        change.self = shapes[static_cast<std::size_t>(key.first)].piece;
        change.visitor = key.second;
        const auto causeOf = [&](int part, bool before) -> std::string {
            if (atStart)
                return "start";
            if (!before)
                return "moved";
            const std::string& visitors = shapes[static_cast<std::size_t>(part)].changed;
            const std::string& selfs = shapes[static_cast<std::size_t>(key.first)].changed;
            return !visitors.empty() ? visitors : !selfs.empty() ? selfs : "moved";
        };
        if (!was && entered) {
            change.kind = "enter";
            change.part = entered->part;
            change.frac = entered->pair->begin;
            change.cause = causeOf(entered->part, entered->pair->begunBefore);
            changes.push_back(change);
        }
        if (!is && left) {
            change.kind = "exit";
            change.part = left->part;
            change.frac = left->pair->end;
            change.cause = causeOf(left->part, left->pair->endedBefore);
            changes.push_back(change);
        }
        if (was && is) {
            change.kind = "stay";
            change.part = inside->part;
            change.frac = 1;
            change.cause = "moved";
            changes.push_back(change);
        }
    }
    return changes;
}

std::vector<Change> World::sorted(std::vector<Change> changes)
{
    const auto key = [](const Change& change) {
        const int rank = change.kind == "exit" ? 0 : change.kind == "enter" ? 1 : 2;
        return std::tuple(std::llround(change.frac * 1e6), rank, change.self, change.shape, change.visitor,
                          change.part);
    };
    std::ranges::stable_sort(changes, [&](const Change& a, const Change& b) { return key(a) < key(b); });
    return changes;
}

} // namespace snare::reference
