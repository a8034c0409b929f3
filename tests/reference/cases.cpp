// SPDX-License-Identifier: Apache-2.0
#include "reference/cases.h"

#include <fmt/format.h>

#include <random>

namespace snare::reference {

namespace {

/// The choices of one part.
class Choices {
  public:
    Choices(std::uint32_t seed, const Names& names) : random_(seed), names_(names) {}

    int pick(int count) { return static_cast<int>(random_() % static_cast<unsigned>(count)); }
    bool chance(int percent) { return pick(100) < percent; }
    std::string one(std::initializer_list<const char*> list)
    {
        return *(list.begin() + pick(static_cast<int>(list.size())));
    }
    /// A multiple of a quarter: exact in every sum.
    double quarter(int low, int high) { return low + 0.25 * pick((high - low) * 4 + 1); }

    std::string name(const std::string& own) const { return names_.prefix + own; }
    std::string pieceName() { return name(one({"p0", "p1", "p2", "p3"})); }
    std::string place()
    {
        switch (pick(8)) {
        case 0:
            return "tag:" + name(one({"t", "u"}));
        case 1:
            return "group:" + name(one({"red", "blue"}));
        case 2:
            return "template:" + name("gull");
        default:
            return pieceName();
        }
    }
    std::string target()
    {
        switch (pick(12)) {
        case 0:
            return "self";
        case 1:
        case 2:
        case 3:
            return "visitor";
        case 4:
            return "sender";
        case 5:
            return "tag:" + name("t");
        case 6:
            return "template:" + name("gull");
        case 7:
            return "inside:" + name(one({"p0", "p1"})) + one({"", "/a"});
        case 8:
            return "self." + name("who");
        case 9:
            return pieceName() + "/" + one({"a", "b"});
        default:
            return pieceName();
        }
    }
    Json targets() { return chance(15) ? Json::array({target(), target()}) : Json(target()); }
    Json value()
    {
        switch (pick(6)) {
        case 0:
            return {{"get", "self." + name("n")}};
        case 1:
            return {{"sum", Json::array({1, {{"get", "scene." + name("v")}}})}};
        case 2:
            return {{"count", "tag:" + name("t")}};
        default:
            return pick(5);
        }
    }
    Json condition()
    {
        const std::string left = one({"self.", "visitor.", "scene."});
        return {{"left", left + name(left == "scene." ? "v" : "n")},
                {"is", one({"=", "!=", "<", ">"})},
                {"right", pick(4)}};
    }
    double x(double own) const { return names_.x + own; }

  private:
    std::mt19937 random_;
    const Names& names_;
};

Json shapesOf(Choices& choose)
{
    Json shapes = Json::array();
    shapes.push_back({{"id", "a"}, {"role", "zone"}, {"box", Json::array({1 + choose.pick(3), 1 + choose.pick(3)})}});
    if (choose.chance(50)) {
        Json second{{"id", "b"}, {"role", "zone"}, {"box", Json::array({2 + choose.pick(5), 1 + choose.pick(4)})}};
        if (choose.chance(40))
            second["at"] = Json::array({choose.quarter(-3, 3), 0});
        if (choose.chance(30))
            second["group"] = choose.name(choose.one({"red", "blue"}));
        shapes.push_back(second);
    }
    return shapes;
}

Json pieceOf(std::size_t number, std::uint32_t seed, const Names& names)
{
    Choices choose{seed, names};
    Json piece{{"id", choose.name("p" + std::to_string(number))},
               {"at", Json::array({choose.x(choose.quarter(-3, 3)), choose.quarter(-1, 1)})},
               {"shapes", shapesOf(choose)}};
    if (choose.chance(70))
        piece["group"] = choose.name(choose.one({"red", "blue"}));
    if (choose.chance(60))
        piece["tags"] = Json::array({choose.name(choose.one({"t", "u"}))});
    switch (choose.pick(4)) {
    case 0:
        piece["body"] = "static";
        break;
    case 1:
        piece["body"] = "kinematic";
        break;
    default:
        piece["body"] = {{"kind", "kinematic"}, {"velocity", Json::array({choose.pick(41) - 20, choose.pick(5) - 2})}};
    }
    if (choose.chance(60))
        piece["properties"] = {{choose.name("n"), choose.pick(4)},
                               {choose.name("who"), choose.name(choose.one({"p0", "p1", "nobody"}))}};
    if (choose.chance(40))
        piece["phases"] = Json::array({"dry", "wet", "gone"});
    if (choose.chance(15))
        piece["during"] = Json::array({"open"});
    if (choose.chance(10))
        piece["shown"] = false;
    return piece;
}

Json responseOf(std::uint32_t seed, const Names& names, bool mayRun)
{
    Choices choose{seed, names};
    Json step;
    const auto until = [&] {
        if (choose.chance(35))
            step["until"] = "exit";
    };
    const auto on = [&](bool shapes = false) {
        Json wanted = choose.targets();
        step["on"] = wanted;
        (void)shapes;
    };
    switch (choose.pick(mayRun ? 24 : 23)) {
    case 0:
        step = {{"do", "say"}, {"text", "x"}, {"for", 0.25 * choose.pick(3)}, {"wait", choose.chance(60)}};
        on();
        break;
    case 1:
        step = {{"do", "log"}, {"text", "x"}};
        break;
    case 2:
    case 3:
        step = {{"do", choose.one({"show", "hide"})}};
        on();
        until();
        break;
    case 4:
    case 5:
        step = {{"do", choose.one({"enable", "disable"})}};
        on();
        until();
        break;
    case 6:
        step = {{"do", choose.one({"arm", "disarm", "rearm"})},
                {"snares", Json::array({choose.name(choose.one({"s0", "s1", "s2", "s3"}))})}};
        break;
    case 7:
    case 8:
        step = {{"do", choose.one({"set", "add"})}, {"name", choose.name("n")}, {"value", choose.value()}};
        on();
        until();
        break;
    case 9:
        step = {
            {"do", choose.one({"set", "add"})}, {"on", "scene"}, {"name", choose.name("v")}, {"value", choose.value()}};
        until();
        break;
    case 10:
    case 11:
        step = {{"do", choose.one({"tag", "untag"})}, {"tag", choose.name(choose.one({"t", "u"}))}};
        on();
        until();
        break;
    case 12:
    case 13:
        step = {{"do", "regroup"}, {"group", choose.name(choose.one({"red", "blue"}))}};
        on();
        until();
        break;
    case 14:
    case 15: {
        step = {{"do", "put"}};
        const int where = choose.pick(4);
        if (where == 0)
            step["at"] = "home";
        else if (where == 1)
            step["at"] = choose.pieceName();
        else
            step["at"] = Json::array({choose.x(choose.quarter(-3, 3)), choose.quarter(-1, 1)});
        on();
        break;
    }
    case 16:
        step = {{"do", "remove"}};
        on();
        break;
    case 17:
        step = {{"do", "spawn"}, {"template", choose.name("gull")}};
        if (choose.chance(60))
            step["at"] = Json::array({choose.x(choose.quarter(-3, 3)), choose.quarter(-1, 1)});
        if (choose.chance(30))
            step["as"] = choose.name("who");
        if (choose.chance(30))
            step["set"] = {{choose.name("n"), choose.value()}};
        break;
    case 18:
        step = {{"do", "phase"}, {"to", choose.one({"next", "wet", "dry"})}};
        on();
        break;
    case 19:
        step = {{"do", "phase"}, {"on", "scene"}, {"to", choose.one({"next", "open", "shut"})}};
        break;
    case 20:
        step = {{"do", "signal"}, {"name", choose.name(choose.one({"go", "halt"}))}, {"wait", choose.chance(40)}};
        if (choose.chance(40))
            step["with"] = {{choose.name("n"), choose.value()}};
        if (choose.chance(25))
            step["to"] = choose.targets();
        break;
    case 21:
        step = {{"do", "wait"}, {"for", 0.125 * choose.pick(6)}};
        break;
    case 22:
        if (choose.chance(25))
            step = {{"do", "restart"}};
        else
            step = {{"do", "timer"}, {"source", choose.name("clock")}, {"to", choose.one({"start", "stop"})}};
        break;
    default:
        step = {{"do", "run"}, {"routine", choose.name("r")}, {"wait", choose.chance(50)}};
    }
    if (choose.chance(10))
        step["if"] = Json::array({choose.condition()});
    return step;
}

Json snareOf(std::size_t number, const std::pair<std::uint32_t, std::vector<std::uint32_t>>& parts, const Names& names)
{
    Choices choose{parts.first, names};
    Json what;
    const auto at = [&](int percent) {
        if (choose.chance(percent))
            what["at"] = choose.place();
    };
    const auto inside = [&] {
        if (what.contains("at") && choose.chance(50))
            what["inside"] = choose.chance(50) ? Json(true) : Json("nearest");
        if (what.contains("inside") && choose.chance(30))
            what["shape"] = "a";
    };
    switch (choose.pick(15)) {
    case 0:
    case 1:
    case 2:
        what = {{"event", "enter"}};
        at(100);
        break;
    case 3:
        what = {{"event", "exit"}};
        at(100);
        break;
    case 4:
        what = {{"event", Json::array({"enter", "exit"})}};
        at(100);
        break;
    case 5:
        what = {{"event", "stay"}};
        at(100);
        if (choose.chance(70))
            what["every"] = 0.25 * (1 + choose.pick(3));
        break;
    case 6:
        what = {{"event",
                 choose.chance(50) ? Json(choose.one({"occupied", "vacated"})) : Json::array({"occupied", "vacated"})}};
        at(100);
        break;
    case 7:
    case 8:
        what = {{"event", choose.one({"key-down", "key-down", "key-up", "key-held"})}, {"key", choose.one({"e", "r"})}};
        at(60);
        inside();
        break;
    case 9:
        what = {{"event", "elapsed"}, {"source", choose.name(choose.one({"clock", "tick"}))}};
        at(30);
        inside();
        break;
    case 10:
        what = {{"event", "heard"}, {"signal", choose.name(choose.one({"go", "halt"}))}};
        at(60);
        inside();
        break;
    case 11:
        what = {{"event", choose.one({"rises", "falls"})}, {"level", choose.pick(3)}};
        if (choose.chance(30))
            what["source"] = choose.name("dial");
        else
            what["watch"] = choose.chance(40)   ? "scene." + choose.name("v")
                            : choose.chance(50) ? "self." + choose.name("n")
                                                : "self.count";
        if (choose.chance(30))
            what["band"] = 0.5;
        at(what.contains("watch") && what["watch"].get<std::string>().starts_with("self") ? 100 : 50);
        break;
    case 12:
        what = {{"event", "called"}, {"name", choose.name("hail")}};
        at(50);
        inside();
        break;
    case 13:
        what = {{"event", choose.one({"phase-begin", "phase-end", "spawned", "removed", "start"})}};
        at(85);
        if (what["event"] == "start")
            what.erase("at");
        break;
    default:
        what = {{"event", "changed"}, {"value", choose.name(choose.one({"n", "who"}))}};
        at(100);
    }
    const std::string kind = what["event"].is_string() ? what["event"].get<std::string>() : "enter";
    const bool contact = kind == "enter" || kind == "exit" || kind == "stay" || kind == "occupied" || kind == "vacated";
    if (contact && choose.chance(30))
        what["shape"] = choose.one({"a", "b"});
    Json snare{{"id", choose.name("s" + std::to_string(number))}, {"catch", what}};
    if (choose.chance(8))
        snare["armed"] = false;
    if (choose.chance(12))
        snare["during"] = choose.one({"scene:open", "scene:shut", "dry", "wet"});
    Json filter = Json::object();
    if (choose.chance(20))
        filter["groups"] = Json::array({choose.name(choose.one({"red", "blue"}))});
    if (choose.chance(12))
        filter["tags"] = {{choose.one({"any", "all", "none"}), Json::array({choose.name(choose.one({"t", "u"}))})}};
    if (choose.chance(8))
        filter["pieces"] = Json::array({choose.pieceName()});
    if (choose.chance(10))
        filter["when"] = Json::array({choose.condition()});
    if (!filter.empty())
        snare["filter"] = filter;
    Json gate = Json::object();
    if (choose.chance(20))
        gate["limit"] = 1 + choose.pick(2);
    if (choose.chance(12))
        gate["cooldown"] = 0.25 * (1 + choose.pick(3));
    if (choose.chance(15))
        gate["dwell"] = 0.125 * choose.pick(5);
    if (!gate.empty()) {
        if (choose.chance(30))
            gate["each"] = "visitor";
        gate["reset"] = choose.one({"restart", "vacated", "never"});
    }
    if (choose.chance(15))
        gate["catchUp"] = true;
    if (!gate.empty())
        snare["gate"] = gate;
    if (choose.chance(35))
        snare["again"] = choose.one({"stack", "ignore"});
    if (choose.chance(10))
        snare["claims"] = true;
    snare["responses"] = Json::array();
    for (const std::uint32_t seed : parts.second)
        snare["responses"].push_back(responseOf(seed, names, true));
    return snare;
}

} // namespace

Json sceneOf(const Case& one, const Names& names)
{
    const auto name = [&](const char* own) { return names.prefix + own; };
    Json scene{{"format", "fresh-snare-scene"},
               {"version", 1},
               {"rate", 8},
               {"groups", Json::array({name("red"), name("blue")})},
               {"contacts", Json::array({Json::array({name("red"), name("blue"), "sense"}),
                                         Json::array({name("blue"), name("blue"), "pass"})})},
               {"variables", {{name("v"), 0}}},
               {"phases", Json::array({"open", "shut"})}};
    scene["sources"] = Json::array({{{"id", name("clock")}, {"timer", {{"every", 0.5}}}},
                                    {{"id", name("dial")}, {"dial", {{"low", 0}, {"high", 5}, {"value", 1}}}}});
    scene["templates"][name("gull")] = {
        {"group", name("red")},
        {"tags", Json::array({name("t")})},
        {"body", {{"kind", "kinematic"}, {"velocity", Json::array({3, 0})}}},
        {"lifetime", 1},
        {"phases", Json::array({"dry", "wet"})},
        {"properties", {{name("n"), 1}}},
        {"timers", Json::array({{{"id", name("tick")}, {"timer", {{"every", 0.375}}}}})},
        {"shapes", Json::array({{{"id", "a"}, {"role", "zone"}, {"box", Json::array({1, 1})}}})}};
    scene["routines"][name("r")] = Json::array({responseOf(77, names, false), responseOf(212, names, false)});
    scene["pieces"] = Json::array();
    for (std::size_t i = 0; i < one.pieces.size(); ++i)
        scene["pieces"].push_back(pieceOf(i, one.pieces[i], names));
    scene["snares"] = Json::array();
    for (std::size_t i = 0; i < one.snares.size(); ++i)
        scene["snares"].push_back(snareOf(i, one.snares[i], names));
    return scene;
}

Json takeOf(const Case& one, const Names& names)
{
    Json inputs = Json::array();
    for (const std::uint32_t seed : one.inputs) {
        Choices choose{seed, names};
        Json input{{"t", 0.25 * (1 + choose.pick(8))}};
        switch (choose.pick(6)) {
        case 0:
            input["dial"] = choose.name("dial");
            input["value"] = choose.pick(6);
            break;
        case 1:
            input["call"] = choose.name("hail");
            input["with"] = {{"n", choose.pick(3)}};
            break;
        default:
            input["key"] = choose.one({"e", "r"});
            input["down"] = choose.chance(65);
        }
        inputs.push_back(input);
    }
    return {{"format", "fresh-snare-take"}, {"version", 1}, {"inputs", inputs}};
}

} // namespace snare::reference
