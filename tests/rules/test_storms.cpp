// SPDX-License-Identifier: Apache-2.0
/// Random scenes with random snares of every kind: the same log from every run, from a copy that
/// was saved and loaded, and no crash. With SNARE_STORM_FOLDER set, scenes and logs are kept there,
/// to compare builds.
#include "builder.h"
#include "effort.h"

#include "io/field_access.h"

#include <QTest>
#include <cstdlib>
#include <random>

using namespace snare;
using namespace snare::tests;

namespace {

/// Makes scenes as JSON text, so that reading is part of what is tried.
class Storm {
  public:
    explicit Storm(unsigned seed) : random_(seed) {}

    std::string scene()
    {
        std::string text =
            R"({"format": "fresh-snare-scene", "version": 1, "bounds": [-6, -6, 6, 6], "groups": ["red", "blue"],
 "contacts": [["red", "blue", "sense"], ["red", "red", "pass"]], "variables": {"n": 0, "m": 2}, "phases": ["day", "night"],
 "routines": {"r": [)" +
            responses(2, false) + R"(]},
 "templates": {"gull": {"group": "red", "tags": ["t"], "body": "kinematic", "lifetime": 1.5, "phases": ["a", "b"],
   "properties": {"n": 1}, "timers": [{"id": "tick", "timer": {"every": 0.4}}], "shapes": [{"id": "s", "role": "zone", "circle": 0.4}]}},
 "sources": [{"id": "clock", "timer": {"every": 0.3}}, {"id": "dial", "dial": {"low": 0, "high": 5, "value": 1}}],
 "pieces": [)";
        for (int i = 0; i < 6; ++i) {
            text += fmt::format(
                R"({}{{"id": "p{}", "group": "{}", "tags": ["{}"], "at": [{}, {}], "body": {}, "outside": "{}", {}"phases": ["a", "b", "c"], "properties": {{"n": {}, "who": "p{}"}}, "looks": {{"lit": {{"colour": "#ff0000"}}}}, "shapes": [{{"id": "s", "role": "{}", {}}}, {{"id": "z", "role": "zone", "circle": 1.2}}]}})",
                i ? "," : "", i, one({"red", "blue", "default"}), one({"t", "u"}), number(-5, 5), number(-5, 5),
                one({R"("kinematic")", R"({"kind": "kinematic", "velocity": [2, 1]})",
                     R"({"kind": "walker", "steer": "arrows"})", R"("static")"}),
                one({"keep", "remove", "wrap", "stop"}), chance(0.2) ? R"("during": "day", )" : "", pick(5), pick(6),
                one({"solid", "zone"}),
                one({R"("box": [1, 1])", R"("circle": 0.5)",
                     R"("capsule": {"from": [-0.5, 0], "to": [0.5, 0], "radius": 0.3})"}));
        }
        text += R"(], "snares": [)";
        const int count = 4 + pick(12);
        for (int i = 0; i < count; ++i)
            text += (i ? ",\n" : "\n") + snare(i);
        return text + "]}";
    }

    scene::Take take()
    {
        scene::Take take;
        take.length = 3;
        take.seed = static_cast<std::uint32_t>(pick(1000));
        for (int i = 0; i < 12; ++i) {
            scene::Input input;
            input.t = real(0, 3);
            if (chance(0.2)) {
                input.what = scene::DialInput{"dial", real(-1, 6)};
            } else if (chance(0.2)) {
                scene::CallInput hail{"hail"};
                hail.with.set("n", static_cast<double>(pick(4)));
                input.what = std::move(hail);
            } else {
                scene::KeyInput key{one({"Left", "Right", "Up", "e", "k"})};
                key.down = chance(0.6);
                input.what = std::move(key);
            }
            take.inputs.push_back(std::move(input));
        }
        return take;
    }

  private:
    int pick(int count) { return static_cast<int>(random_() % static_cast<unsigned>(count)); }
    bool chance(double part) { return real(0, 1) < part; }
    double real(double low, double high)
    {
        return low + (high - low) * static_cast<double>(random_() % 10000) / 10000.0;
    }
    std::string number(double low, double high) { return fmt::format("{:.2f}", real(low, high)); }
    std::string one(std::initializer_list<const char*> list)
    {
        return *(list.begin() + pick(static_cast<int>(list.size())));
    }
    std::string place() { return one({"p0", "p1", "p2", "p3", "tag:t", "group:red", "template:gull"}); }
    std::string target()
    {
        return one({"self", "visitor", "p0", "p4", "tag:u", "template:gull", "self.who", "inside:p1", "scene", "p2/s"});
    }

    std::string value()
    {
        return one({"1", "2.5", R"({"get": "self.n"})", R"({"between": [0, 3]})", R"({"sum": [1, {"get": "scene.n"}]})",
                    R"({"count": "tag:t"})", R"({"oneOf": [1, 2, {"get": "visitor.x"}]})",
                    R"({"script": "(self.n or 0) % 3 + 1"})"});
    }

    std::string until() { return chance(0.3) ? R"(, "until": "exit")" : ""; }

    std::string response(bool mayRun)
    {
        const std::string on = R"(, "on": ")" + target() + "\"";
        std::vector<std::string> all{
            R"({"do": "say", "text": "{self.n}")" + on + until(),
            R"({"do": "prompt", "text": "E")" + on,
            R"({"do": "log", "text": "{event.name} {visitor.id}")",
            R"({"do": "show")" + on + until(),
            R"({"do": "hide")" + on + until(),
            R"({"do": "enable")" + on + until(),
            R"({"do": "disable")" + on + until(),
            R"({"do": "arm", "snares": ["s1", "s2"])",
            R"({"do": "disarm", "snares": ["s1"])",
            R"({"do": "rearm", "snares": ["s0", "s3"])",
            R"({"do": "set", "name": "n", "value": )" + value() + on + until(),
            R"({"do": "add", "on": "scene", "name": "n", "value": )" + value() + until(),
            R"({"do": "set", "name": "value", "on": "dial", "value": )" + value(),
            R"({"do": "tag", "tag": "u")" + on + until(),
            R"({"do": "untag", "tag": "t")" + on + until(),
            R"({"do": "regroup", "group": "blue")" + on + until(),
            R"({"do": "look", "to": "next")" + on + until(),
            R"({"do": "size", "by": 1.2)" + on + until(),
            R"({"do": "size", "to": 0.8)" + on + until(),
            R"({"do": "move", "to": [1, -1], "speed": 3, "wait": true, "ease": "both")" + on,
            R"({"do": "move", "by": [{"between": [-2, 2]}, 1], "speed": 4)" + on,
            R"({"do": "chase", "after": "p0", "speed": 2)" + on,
            R"({"do": "turn", "by": 90, "speed": 200, "wait": true)" + on,
            R"({"do": "stop")" + on,
            R"({"do": "push", "velocity": [1, 0])" + on,
            R"({"do": "put", "at": {"somewhere": "scene", "clear": true})" + on,
            R"({"do": "put", "at": "home", "ifClear": true)" + on,
            R"({"do": "attach", "to": "p0")" + on,
            R"({"do": "detach")" + on,
            R"({"do": "remove")" + on,
            R"({"do": "spawn", "template": "gull", "frame": "self", "at": [0.5, 0], "velocity": [2, 0], "as": "who", "set": {"n": )" +
                value() + "}",
            R"({"do": "phase", "to": "next")" + on,
            R"({"do": "phase", "on": "scene", "to": "next")",
            R"({"do": "signal", "name": "go", "with": {"n": )" + value() + "}, \"wait\": " + one({"true", "false"}),
            R"({"do": "signal", "name": "go", "to": "self.who")",
            R"({"do": "wait", "for": 0.2)",
            R"({"do": "timer", "source": "clock", "to": ")" + one({"start", "stop"}) + "\"",
            R"({"do": "sound", "name": "bell")",
            R"({"do": "shake", "strength": 0.1, "for": 0.2)",
            R"({"do": "script", "lua": "scene.m = (scene.m or 0) + math.random(3) if visitor.n then visitor.n = visitor.n + 1 end")",
            chance(0.1) ? R"({"do": "restart")" : R"({"do": "log", "text": "on")"};
        if (mayRun)
            all.push_back(R"({"do": "run", "routine": "r", "with": {"n": )" + value() + "}, \"wait\": true");
        std::string text = all[static_cast<std::size_t>(pick(static_cast<int>(all.size())))];
        if (chance(0.15))
            text += R"(, "if": [{"left": "scene.n", "is": "<", "right": 5}])";
        return text + "}";
    }

    std::string responses(int most, bool mayRun)
    {
        std::string text;
        for (int i = 0, count = 1 + pick(most); i < count; ++i)
            text += (i ? ", " : "") + response(mayRun);
        return text;
    }

    std::string snare(int number)
    {
        const std::string at = R"(, "at": ")" + place() + "\"";
        const std::string catches = [&] {
            switch (pick(14)) {
            case 0:
                return R"("event": ["enter", "exit"])" + at;
            case 1:
                return R"("event": "stay", "every": 0.3)" + at;
            case 2:
                return R"("event": "hit")" + at;
            case 3:
                return R"("event": ")" + one({"occupied", "vacated"}) + "\"" + at;
            case 4:
                return R"("event": "key-down", "key": "any")" +
                       (chance(0.5) ? at + R"(, "inside": )" + one({"true", "\"nearest\""}) : std::string());
            case 5:
                return std::string(R"("event": "elapsed", "source": ")") + one({"clock", "tick"}) + "\"";
            case 6:
                return R"("event": "heard", "signal": "go")" + (chance(0.5) ? at : std::string());
            case 7:
                return std::string(R"("event": ["rises", "falls"], "source": "dial", "level": 2)");
            case 8:
                return R"("event": "rises", "watch": "self.n", "level": 2, "band": 0.5)" + at;
            case 9:
                return std::string(R"("event": "called", "name": "hail")");
            case 10:
                return R"("event": ["phase-begin", "phase-end"])" + at;
            case 11:
                return R"("event": ")" + one({"spawned", "removed", "strays", "arrived"}) + "\"" + at;
            case 12:
                return R"("event": "changed", "value": "n")" + at;
            default:
                return R"("event": "enter", "shape": "z")" + at;
            }
        }();
        std::string filter;
        if (chance(0.3))
            filter = R"(, "filter": )" + one({R"({"groups": ["red"]})", R"({"tags": {"any": ["t", "u"]}})",
                                              R"({"side": ["left", "above"]})", R"({"speed": {"min": 0.5}})",
                                              R"({"when": [{"left": "self.n", "is": "<", "right": 4}]})",
                                              R"({"script": "visitor.n ~= 3"})", R"({"templates": ["gull"]})"});
        std::string gate;
        if (chance(0.4))
            gate = R"(, "gate": )" + one({R"({"limit": 2, "reset": "vacated"})",
                                          R"({"cooldown": 0.3, "each": "visitor"})", R"({"dwell": 0.2})",
                                          R"({"chance": 0.6})", R"({"limit": 1, "reset": "never", "catchUp": true})"});
        return fmt::format(
            R"({{"id": "s{}", "armed": {}, {}"catch": {{{}}}{}{}, "again": "{}", "claims": {}, "responses": [{}]}})",
            number, chance(0.9) ? "true" : "false", chance(0.15) ? R"("during": "scene:day", )" : "", catches, filter,
            gate, one({"restart", "stack", "ignore"}), chance(0.1) ? "true" : "false", responses(3, true));
    }

    std::mt19937 random_;
};

std::string logOf(const scene::Scene& scene, const scene::Take& take)
{
    const auto record = play(scene, take, {}, true);
    return io::logText(record) + record.stopReason;
}

} // namespace

class TestStorms : public QObject {
    Q_OBJECT

  private slots:
    void randomScenesGiveTheSameLogEveryTime_T3();
    void whoAsksForChangesChangesNothing();
    void everyResponseStandsInTheStorm();
};

void TestStorms::randomScenesGiveTheSameLogEveryTime_T3()
{
    const char* folder = std::getenv("SNARE_STORM_FOLDER");
    std::size_t sprung = 0;
    const auto storms = static_cast<unsigned>(effort(150));
    for (unsigned seed = 1; seed <= storms; ++seed) {
        Storm storm{seed};
        const auto scene = io::readScene(storm.scene(), "storm");
        QVERIFY2(scene.has_value(), scene ? "" : scene.error().front().message().c_str());
        const scene::Take take = storm.take();
        const std::string log = logOf(*scene, take);
        QVERIFY2(logOf(*scene, take) == log, qPrintable(QStringLiteral("seed %1 differs from run to run").arg(seed)));
        const std::string text = io::sceneText(*scene);
        const auto again = io::readScene(text, "again");
        QVERIFY2(again.has_value(), again ? "" : again.error().front().message().c_str());
        QVERIFY2(*again == *scene, qPrintable(QStringLiteral("seed %1 is not read as it was written").arg(seed)));
        const auto takeAgain = io::readTake(io::takeText(take), "take");
        QVERIFY(takeAgain && *takeAgain == take);
        QVERIFY2(logOf(*again, *takeAgain) == log,
                 qPrintable(QStringLiteral("seed %1 differs when saved and loaded").arg(seed)));
        for (std::size_t at = log.find("\"sprung\""); at != std::string::npos; at = log.find("\"sprung\"", at + 1))
            ++sprung;
        if (folder) {
            const std::string name = std::string(folder) + "/storm-" + std::to_string(seed);
            QVERIFY(io::saveText(name + ".snare.json", text) && io::saveText(name + ".take.json", io::takeText(take)));
        }
    }
    QVERIFY2(sprung > 6 * storms, qPrintable(QString::number(sprung))); // otherwise nothing is tried
}

/// Changes that nobody asks for take a shorter way: the log must not show it.
void TestStorms::whoAsksForChangesChangesNothing()
{
    int changes = 0;
    const auto storms = static_cast<unsigned>(effort(150));
    for (unsigned seed = 1; seed <= storms; ++seed) {
        Storm storm{seed};
        auto scene = io::readScene(storm.scene(), "storm");
        QVERIFY(scene.has_value());
        const auto asks = [](const scene::Snare& snare) {
            return std::ranges::find(snare.catches.event.items, scene::EventKind::changed) !=
                   snare.catches.event.items.end();
        };
        erase_if(scene->snares, asks);
        const scene::Take take = storm.take();
        const std::string unasked = logOf(*scene, take);
        scene::Piece bystander;
        bystander.id = "bystander";
        bystander.at = {1e6, 1e6};
        scene->pieces.push_back(bystander);
        scene::Snare asking;
        asking.id = "asking";
        asking.catches.event.items = {scene::EventKind::changed};
        asking.catches.at = "bystander";
        asking.catches.value = "nothing";
        scene->snares.push_back(asking);
        QVERIFY2(logOf(*scene, take) == unasked, qPrintable(QStringLiteral("seed %1").arg(seed)));
        for (std::size_t at = unasked.find("\"changed\""); at != std::string::npos;
             at = unasked.find("\"changed\"", at + 1))
            ++changes;
    }
    QVERIFY2(changes > static_cast<int>(storms), qPrintable(QString::number(changes))); // otherwise nothing is tried
}

void TestStorms::everyResponseStandsInTheStorm()
{
    std::string all;
    for (unsigned seed = 1; seed <= 150; ++seed)
        all += Storm{seed}.scene();
    for (const scene::Word* word : io::responseWords())
        QVERIFY2(all.find("\"do\": \"" + std::string(word->key) + "\"") != std::string::npos,
                 std::string(word->key).c_str());
}

QTEST_APPLESS_MAIN(TestStorms)
#include "test_storms.moc"
