// SPDX-License-Identifier: Apache-2.0
/// For every kind of finding a scene that has it, and the same without it.
#pragma once

#include <map>
#include <string>

namespace snare::tests {

/// A quay with what most scenes need; `pieces`, `snares` and `more` are added to it.
inline std::string quay(const std::string& pieces, const std::string& snares, const std::string& more = {})
{
    return R"({"format": "fresh-snare-scene", "version": 1, "groups": ["crew"], "phases": [], )" + more +
           R"("pieces": [
        {"id": "mate", "group": "crew", "tags": ["staff"], "body": {"kind": "walker", "steer": "arrows"}, "shapes": [{"circle": 0.4}],
         "properties": {"load": 1}},
        {"id": "plate", "at": [4, 0], "shapes": [{"id": "loop", "role": "zone", "box": [2, 2]}], "properties": {"tally": 0}},
        {"id": "crate", "at": [8, 0], "body": "kinematic", "shapes": [{"box": [1, 1]}]})" +
           (pieces.empty() ? "" : ", " + pieces) + R"(], "snares": [)" + snares + "]}";
}

inline std::string rule(const std::string& id, const std::string& catches, const std::string& responses,
                        const std::string& more = {})
{
    return R"({"id": ")" + id + R"(", "catch": {)" + catches + "}, " + more + R"("responses": [)" + responses + "]}";
}

inline const std::string enter = R"("event": "enter", "at": "plate")";
inline const std::string hide = R"({"do": "hide", "on": "crate"})";

/// A scene with one mistake, and the same without it.
struct Case {
    std::string bad;
    std::string good;
};

/// By the finding's name. A kind without an entry fails the test.
inline std::map<std::string, Case> cases()
{
    std::map<std::string, Case> all;
    const auto put = [&](const char* id, std::string bad, std::string good) {
        all[id] = {std::move(bad), std::move(good)};
    };
    put("no-piece", quay({}, rule("a", enter, R"({"do": "hide", "on": "Crate"})")), quay({}, rule("a", enter, hide)));
    const std::string lock =
        R"("assemblies": {"lock": {"pieces": [{"id": "sill", "shapes": [{"role": "zone", "box": [2, 2]}]},
        {"id": "gate", "at": [3, 0], "shapes": [{"box": [1, 1]}]}], "snares": [)";
    const std::string laid = R"({"id": "lock-1", "assembly": "lock", "at": [0, 5]})";
    put("no-part",
        quay(laid, {},
             lock + rule("open", R"("event": "enter", "at": "part:sill")", R"({"do": "hide", "on": "part:gat"})") +
                 "]}}, "),
        quay(laid, {},
             lock + rule("open", R"("event": "enter", "at": "part:sill")", R"({"do": "hide", "on": "part:gate"})") +
                 "]}}, "));
    put("no-snare", quay({}, rule("a", enter, R"({"do": "arm", "snares": ["bee"]})")),
        quay({}, rule("a", enter, R"({"do": "arm", "snares": ["bee"]})") + ", " +
                     rule("bee", R"("event": "exit", "at": "plate")", hide, R"("armed": false, )")));
    const std::string form =
        R"("templates": {"gull": {"body": "kinematic", "lifetime": 5, "shapes": [{"circle": 0.3}]}}, )";
    put("no-template", quay({}, rule("a", enter, R"({"do": "spawn", "template": "gul"})"), form),
        quay({}, rule("a", enter, R"({"do": "spawn", "template": "gull"})"), form));
    const std::string routine = R"("routines": {"tell": [)" + hide + "]}, ";
    put("no-routine",
        quay({}, rule("a", enter, R"({"do": "run", "routine": "tel"}, {"do": "run", "routine": "tell"})"), routine),
        quay({}, rule("a", enter, R"({"do": "run", "routine": "tell"})"), routine));
    put("no-script", quay({}, rule("a", enter, R"({"do": "script", "lua": "scene.x = = 3"})")),
        quay({}, rule("a", enter, R"({"do": "script", "lua": "scene.x = 3"})")));
    put("no-kit", quay({}, {}, R"("kits": ["gone.kit.json"], )"), quay({}, {}));
    put("no-shape", quay({}, rule("a", R"("event": "enter", "at": "plate", "shape": "lop")", hide)),
        quay({}, rule("a", R"("event": "enter", "at": "plate", "shape": "loop")", hide)));
    const std::string tide = R"("sources": [{"id": "tide", "timer": {"every": 3}}], )";
    put("no-source", quay({}, rule("a", R"("event": "elapsed", "source": "tyde")", hide), tide),
        quay({}, rule("a", R"("event": "elapsed", "source": "tide")", hide), tide));
    const std::string lamp =
        R"({"id": "lamp", "shapes": [{"circle": 0.1}], "at": [0, 9], "phases": ["off", "on"], "looks": {"lit": {"glow": 1}}})";
    put("no-phase",
        quay(lamp, rule("a", enter,
                        R"({"do": "phase", "on": "lamp", "to": "onn"}, {"do": "phase", "on": "lamp", "to": "next"})")),
        quay(lamp, rule("a", enter, R"({"do": "phase", "on": "lamp", "to": "on"})")));
    put("no-look",
        quay(lamp, rule("a", enter,
                        R"({"do": "look", "on": "lamp", "to": "lid"}, {"do": "phase", "on": "lamp", "to": "next"})")),
        quay(lamp, rule("a", enter,
                        R"({"do": "look", "on": "lamp", "to": "lit"}, {"do": "phase", "on": "lamp", "to": "next"})")));
    put("no-group", quay({}, rule("a", enter, hide, R"("filter": {"groups": ["Crew"]}, )")),
        quay({}, rule("a", enter, hide, R"("filter": {"groups": ["crew"]}, )")));
    put("no-tag", quay({}, rule("a", enter, hide, R"("filter": {"tags": {"any": ["stuff"]}}, )")),
        quay({}, rule("a", enter, hide, R"("filter": {"tags": {"any": ["staff"]}}, )")));
    put("no-value",
        quay({}, rule("a", enter, hide, R"("filter": {"when": [{"left": "visitor.lode", "is": ">", "right": 0}]}, )")),
        quay({}, rule("a", enter, hide, R"("filter": {"when": [{"left": "visitor.load", "is": ">", "right": 0}]}, )")));
    const std::string hail = R"("sources": [{"id": "hail", "call": {"name": "hail"}}], )";
    put("no-call", quay({}, rule("a", R"("event": "called", "name": "hale")", hide), hail),
        quay({}, rule("a", R"("event": "called", "name": "hail")", hide), hail));
    put("no-picture",
        quay(
            R"({"id": "bank", "at": [0, 9], "shapes": [{"traced": {"image": "none.png", "colour": "#ffffff", "size": [1, 1]}}]})",
            {}),
        quay({}, {}));
    const std::string raise = rule("a", enter, R"({"do": "signal", "name": "ready"})");
    put("not-heard", quay({}, raise),
        quay({}, raise + ", " + rule("b", R"("event": "heard", "signal": "ready")", hide)));
    put("not-raised",
        quay({}, raise + ", " + rule("b", R"("event": "heard", "signal": "readi")", hide),
             R"("outgoing": ["ready"], )"),
        quay({}, raise + ", " + rule("b", R"("event": "heard", "signal": "ready")", hide)));
    const std::string lamps =
        R"({"id": "l1", "at": [0, 9], "tags": ["lamp"], "properties": {"number": 1}, "shapes": [{"circle": 0.1}]},
        {"id": "l2", "at": [1, 9], "tags": ["lamp"], "properties": {"number": 2}, "shapes": [{"circle": 0.1}]})";
    const std::string numbered = rule("a", enter, R"({"do": "signal", "name": "on", "with": {"number": 1}})");
    put("not-compared",
        quay(lamps,
             numbered + ", " + rule("b", R"("event": "heard", "signal": "on", "at": "tag:lamp")", R"({"do": "hide"})")),
        quay(
            lamps,
            numbered + ", " +
                rule(
                    "b", R"("event": "heard", "signal": "on", "at": "tag:lamp")", R"({"do": "hide"})",
                    R"("filter": {"when": [{"left": "signal.number", "is": "=", "right": {"get": "self.number"}}]}, )")));
    const std::string dial = R"("sources": [{"id": "gauge", "dial": {"low": 0, "high": 5}}], )";
    put("level-outside", quay({}, rule("a", R"("event": "rises", "source": "gauge", "level": 7)", hide), dial),
        quay({}, rule("a", R"("event": "rises", "source": "gauge", "level": 3)", hide), dial));
    put("other-kind",
        quay({},
             rule("a", enter, hide, R"("filter": {"when": [{"left": "visitor.load", "is": "=", "right": "much"}]}, )")),
        quay({}, rule("a", enter, hide, R"("filter": {"when": [{"left": "visitor.load", "is": "=", "right": 3}]}, )")));
    put("nobody-passes",
        quay({}, rule("a", enter, hide, R"("filter": {"tags": {"all": ["staff"]}, "pieces": ["crate"]}, )")),
        quay({}, rule("a", enter, hide, R"("filter": {"tags": {"all": ["staff"]}, "pieces": ["mate"]}, )")));
    put("cannot-meet",
        quay({}, rule("a", enter, hide, R"("filter": {"groups": ["crew"]}, )"),
             R"("contacts": [["crew", "default", "pass"]], )"),
        quay({}, rule("a", enter, hide, R"("filter": {"groups": ["crew"]}, )")));
    put("hit-at-zone", quay({}, rule("a", R"("event": "hit", "at": "plate")", hide)), quay({}, rule("a", enter, hide)));
    const std::string glass = R"({"id": "glass", "at": [0, 9], "shapes": [{"box": [1, 1]}])";
    put("pointer-through", quay(glass + R"(, "through": true})", rule("a", R"("event": "click", "at": "glass")", hide)),
        quay(glass + "}", rule("a", R"("event": "click", "at": "glass")", hide)));
    put("covered",
        quay(glass + R"(}, {"id": "lid", "at": [0, 9], "layer": 2, "shapes": [{"box": [3, 3]}]})",
             rule("a", R"("event": "click", "at": "glass")", hide)),
        quay(glass + R"(}, {"id": "lid", "at": [0, 9], "layer": 2, "shapes": [{"box": [0.5, 3]}]})",
             rule("a", R"("event": "click", "at": "glass")", hide)));
    put("inside-nothing",
        quay({}, rule("a", R"("event": "key-down", "key": "e", "at": "crate", "inside": true)", hide)),
        quay({}, rule("a", R"("event": "key-down", "key": "e", "at": "plate", "inside": true)", hide)));
    put("idle-dwell",
        quay({}, rule("a", R"("event": "exit", "at": "plate")", hide, R"("gate": {"dwell": 2}, )")),
        quay({}, rule("a", enter, hide, R"("gate": {"dwell": 2}, )")));
    const std::string climber =
        R"({"id": "climber", "at": [0, 9], "body": {"kind": "walker", "steer": "wasd", "climbs": "rope"}, "shapes": [{"circle": 0.4}]})";
    put("climbs-nothing",
        quay(climber + R"(, {"id": "post", "group": "rope", "at": [0, 12], "shapes": [{"box": [1, 4]}]})", {}),
        quay(climber +
                 R"(, {"id": "rope", "group": "rope", "at": [0, 12], "shapes": [{"role": "zone", "box": [1, 4]}]})",
             {}));
    put("never-armed", quay({}, rule("a", enter, hide, R"("armed": false, )")), quay({}, rule("a", enter, hide)));
    const std::string hatch =
        R"({"id": "hatch", "at": [0, 9], "enabled": false, "shapes": [{"role": "zone", "box": [1, 1]}]})";
    const std::string atHatch = rule("a", R"("event": "enter", "at": "hatch")", hide);
    put("never-back", quay(hatch, atHatch),
        quay(hatch, atHatch + ", " + rule("b", enter, R"({"do": "enable", "on": "hatch"})")));
    put("phase-asleep", quay(lamp, {}), quay(lamp, rule("a", enter, R"({"do": "phase", "on": "lamp", "to": "on"})")));
    put("not-run", quay({}, {}, routine), quay({}, rule("a", enter, R"({"do": "run", "routine": "tell"})"), routine));
    const std::string restart = ", " + rule("b", R"("event": "exit", "at": "plate")", R"({"do": "restart"})");
    put("gate-shut", quay({}, rule("a", enter, hide, R"("gate": {"limit": 1, "reset": "never"}, )") + restart),
        quay({}, rule("a", enter, hide, R"("gate": {"limit": 1}, )") + restart));
    put("behind-claim",
        quay({}, rule("a", enter, hide, R"("claims": true, )") + ", " +
                     rule("b", enter, R"({"do": "show", "on": "crate"})")),
        quay({}, rule("b", enter, R"({"do": "show", "on": "crate"})") + ", " +
                     rule("a", enter, hide, R"("claims": true, )")));
    put("twice", quay({}, rule("a", enter, hide) + ", " + rule("b", enter, hide)), quay({}, rule("a", enter, hide)));
    const std::string mateAtPlate = rule("a", enter, hide, R"("filter": {"pieces": ["mate"]}, )");
    put("both-sides",
        quay({}, mateAtPlate + ", " +
                     rule("b", R"("event": "enter", "at": "mate")", hide, R"("filter": {"pieces": ["plate"]}, )")),
        quay({}, mateAtPlate));
    put("chatter", quay({}, rule("a", R"("event": "stay", "at": "plate")", R"({"do": "say", "text": "mind"})")),
        quay({}, rule("a", R"("event": "stay", "at": "plate", "every": 2)", R"({"do": "say", "text": "mind"})")));
    put("not-filled", quay({}, rule("a", R"("event": "enter")", hide)), quay({}, rule("a", enter, hide)));
    put("no-response", quay({}, rule("a", enter, {})), quay({}, rule("a", enter, hide)));
    put("static-moves", quay({}, rule("a", enter, R"({"do": "move", "on": "plate", "to": [0, 0]})")),
        quay({}, rule("a", enter, R"({"do": "move", "on": "crate", "to": [0, 0]})")));
    put("arrives-at-once", quay({}, rule("a", enter, R"({"do": "move", "on": "crate", "by": [1, 0], "arrive": 2})")),
        quay({}, rule("a", enter, R"({"do": "move", "on": "crate", "by": [1, 0], "arrive": 0.1})")));
    const std::string bounded = R"({"format": "fresh-snare-scene", "version": 1, "bounds": [-9, -9, 9, 9], "pieces": [
        {"id": "mate", "outside": "stop", "body": "walker", "shapes": [{"circle": 0.4}]}, {"id": "far", "at": [)";
    put("zone-outside", bounded + R"(30, 0], "shapes": [{"role": "zone", "box": [2, 2]}]}]})",
        bounded + R"(3, 0], "shapes": [{"role": "zone", "box": [2, 2]}]}]})");
    const auto farOff = [&](const char* at) {
        return quay(R"({"id": "far", "at": )" + std::string(at) + R"(, "shapes": [{"role": "zone", "box": [2, 2]}]})",
                    rule("a", enter, R"({"do": "put", "on": "crate", "at": {"somewhere": "far"}})"),
                    R"("bounds": [-9, -9, 19, 9], )");
    };
    put("random-outside", farOff("[40, 0]"), farOff("[3, 5]"));
    const std::string flock =
        rule("a", R"("event": "elapsed", "source": "tide")", R"({"do": "spawn", "template": "gull"})");
    put("without-end", quay({}, flock, tide + R"("templates": {"gull": {"shapes": [{"circle": 0.3}]}}, )"),
        quay({}, flock, tide + form));
    put("circle",
        quay({}, rule("a", enter, R"({"do": "signal", "name": "ping"})") + ", " +
                     rule("b", R"("event": "heard", "signal": "ping")", R"({"do": "signal", "name": "pong"})") + ", " +
                     rule("c", R"("event": "heard", "signal": "pong")", R"({"do": "signal", "name": "ping"})")),
        quay({}, rule("a", enter, R"({"do": "signal", "name": "ping"})") + ", " +
                     rule("b", R"("event": "heard", "signal": "ping")", R"({"do": "signal", "name": "pong"})") + ", " +
                     rule("c", R"("event": "heard", "signal": "pong")",
                          R"({"do": "wait", "for": 1}, {"do": "signal", "name": "ping"})")));
    put("walker-lost", quay({}, rule("a", enter, R"({"do": "remove", "on": "mate"})")),
        quay({}, rule("a", enter, R"({"do": "remove", "on": "crate"})")));
    const std::string second = R"({"id": "porter", "at": [0, 9], "body": {"kind": "walker", "steer": ")";
    put("same-keys", quay(second + R"(arrows"}, "shapes": [{"circle": 0.4}]})", {}),
        quay(second + R"(wasd"}, "shapes": [{"circle": 0.4}]})", {}));
    put("until-nothing",
        quay({}, rule("a", R"("event": "key-down", "key": "e")", R"({"do": "hide", "on": "crate", "until": "exit"})")),
        quay({}, rule("a", enter, R"({"do": "hide", "on": "crate", "until": "exit"})")));
    return all;
}

} // namespace snare::tests
