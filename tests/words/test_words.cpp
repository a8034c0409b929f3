// SPDX-License-Identifier: Apache-2.0
/// What is said: sentences of snares, formulas read and written, scenes told as a whole.
#include "builder.h"

#include "io/writer.h"
#include "words/describe.h"
#include "words/formulas.h"
#include "words/sentences.h"
#include "words/text.h"
#include "words/values.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;
using io::Json;
using namespace std::string_literals;

namespace {

const std::vector<std::string> demos{"barrel-ramp", "berths",     "chart-table", "duty-slips",   "eel-watch",
                                     "chain-ferry", "flood-tide", "lamp-round",  "line-thrower", "locks",
                                     "pile-driver", "shoals",     "stairs",      "weigh-in",     "wet-mud"};

std::string demoText(const std::string& name)
{
    return *io::loadText(std::string(SNARE_DEMO_FOLDER "/") + name + ".snare.json");
}

std::optional<scene::Scene> read(const std::string& text)
{
    auto scene = io::readScene(text, "demo", io::kitsIn(SNARE_DEMO_FOLDER));
    return scene ? std::optional(std::move(*scene)) : std::nullopt;
}

/// Calls `visit(value)` for each number, flag and text in a file, however deep, one after another.
template <class Visit> void forEachLeaf(Json& value, Visit&& visit)
{
    if (value.is_structured())
        for (Json& inner : value)
            forEachLeaf(inner, visit);
    else
        visit(value);
}

} // namespace

class TestWords : public QObject {
    Q_OBJECT

  private slots:
    void aSnareIsTold();
    void responsesAreTold_data();
    void responsesAreTold();
    void formulasAreReadAsTheyAreWritten_data();
    void formulasAreReadAsTheyAreWritten();
    void whatIsNoFormulaIsAText();
    void valuesAreReadAsTheyAreWritten();
    void keysHaveLabels();
    void aSceneIsTold();
    void whateverAFileSaysIsTold();
    void theSameSceneIsToldAlike();
};

void TestWords::aSnareIsTold()
{
    const scene::Scene scene =
        sceneFrom(R"('pieces': [{'id': 'scale', 'shapes': [{'id': 'plate', 'role': 'zone', 'circle': 1}]}],
        'snares': [{'id': 'weigh', 'catch': {'event': ['enter', 'exit'], 'at': 'scale', 'shape': 'plate'},
                    'filter': {'groups': ['courier', 'oak'], 'tags': {'any': ['staff', 'crew']}, 'when': [{'left': 'self.load', 'is': '>=', 'right': 3}]},
                    'gate': {'limit': 1, 'each': 'visitor', 'cooldown': 2}},
                   {'id': 'key', 'catch': {'event': 'key-down', 'key': 'Right'}},
                   {'id': 'high', 'catch': {'event': 'rises', 'watch': 'scene.n', 'level': 4}, 'gate': {'limit': 3}}])");
    QCOMPARE(words::catchText(scene.snares[0]), "When a courier or oak enters or leaves plate of scale");
    QCOMPARE(words::narrowingText(scene.snares[0]),
             "only has tag staff or crew, self.load >= 3, once, per visitor, not again for 2 s");
    QCOMPARE(words::catchText(scene.snares[1]), "When → is pressed at the scene");
    QCOMPARE(words::narrowingText(scene.snares[1]), "");
    QCOMPARE(words::catchText(scene.snares[2]), "When scene.n rises past 4 at the scene");
    QCOMPARE(words::narrowingText(scene.snares[2]), "only 3 times");
    // Of several families of events the sentence is that of the first; the rest is told too.
    const scene::Scene both = sceneFrom(R"('sources': [{'id': 'tide', 'timer': {'every': 1}}],
        'snares': [{'id': 'b', 'catch': {'event': ['start', 'elapsed'], 'source': 'tide'}}])");
    QCOMPARE(words::catchText(both.snares[0]), "When the scene starts or elapses, source tide");
}

void TestWords::responsesAreTold_data()
{
    QTest::addColumn<QString>("json");
    QTest::addColumn<QString>("said");
    QTest::newRow("move") << R"({'do': 'move', 'on': 'barrow', 'to': [9.2, -1], 'speed': 2, 'wait': true})"
                          << "move barrow at 2 m/s to (9.2, -1) and wait";
    QTest::newRow("say") << R"({'do': 'say', 'text': ['One', 'Two'], 'for': 2})" << "itself says “One / Two” for 2 s";
    QTest::newRow("set") << R"({'do': 'set', 'on': 'scene', 'name': 'n', 'value': {'sum': [{'get': 'self.load'}, -2]}})"
                         << "set n of the scene to self.load - 2";
    QTest::newRow("if") << R"({'do': 'hide', 'if': [{'left': 'self.load', 'is': '=', 'right': 'full'}, {'left': 'scene.n', 'is': '<', 'right': 3}]})"
                        << "hide itself if self.load = full and scene.n < 3";
    QTest::newRow("signal") << R"({'do': 'signal', 'name': 'rung', 'with': {'who': {'get': 'visitor.name'}}})"
                            << "signal rung with who = visitor.name";
}

void TestWords::responsesAreTold()
{
    QFETCH(QString, json);
    QFETCH(QString, said);
    const scene::Scene scene = sceneFrom("'snares': [{'id': 's', 'catch': {'event': 'start'}, 'responses': [" +
                                         json.toStdString() + "]}]");
    QCOMPARE(QString::fromStdString(words::responseText(scene.snares[0].responses[0])), said);
}

void TestWords::formulasAreReadAsTheyAreWritten_data()
{
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("json");
    const auto row = [](const char* typed, const char* json) { QTest::newRow(typed) << typed << json; };
    row("1 to 3 at random", R"({"between":[1.0,3.0]})");
    row("self.low to (self.low + 2) at random", R"({"between":[{"get":"self.low"},{"sum":[{"get":"self.low"},2.0]}]})");
    row("one of west, east, 3", R"({"oneOf":["west","east",3.0]})");
    row("how many tag:cask", R"({"count":"tag:cask"})");
    row("anywhere in pool, clear of solids", R"({"somewhere":"pool","clear":true})");
    row("self.load + 2 - 1", R"({"sum":[{"get":"self.load"},2.0,-1.0]})");
    row("same as scene.tide", R"({"get":"scene.tide"})");
    row("= self.load * 2", R"({"script":"self.load * 2"})");
}

void TestWords::formulasAreReadAsTheyAreWritten()
{
    QFETCH(QString, typed);
    QFETCH(QString, json);
    const Json formula = words::formulaFrom(typed.toStdString());
    QCOMPARE(QString::fromStdString(formula.dump()), json);
    QCOMPARE(QString::fromStdString(words::formulaText(formula)), typed);
}

void TestWords::whatIsNoFormulaIsAText()
{
    for (const char* text : {"", "west pier", "2 - 3", "self.load", "one of", "3 to", "((((", "\"open", "+ 3"})
        QVERIFY2(words::formulaFrom(text).is_null(), text);
    QVERIFY(words::formulaFrom(std::string(100'000, '(')).is_null()); // and it ends
    QCOMPARE(words::notUnderstoodAt("self.load + bar", false), std::optional<std::size_t>(12));
    QCOMPARE(words::notUnderstoodAt("west pier", false), std::nullopt);
    QCOMPARE(words::typedInText("one of us"), "one of us"); // texts in formulas stand in quotes there
    QCOMPARE(words::typedInText("1 to 3"), "\"1 to 3\"");
}

void TestWords::valuesAreReadAsTheyAreWritten()
{
    const std::vector<scene::Scalar> values{3.0,          -0.125,        1e300,          true,           false,
                                            "west pier"s, "3"s,          "true"s,        "a, b"s,        "x = 1"s,
                                            "(3)"s,       "say \"hi\""s, " with space "s, "Küste, hier"s, ""s};
    for (const scene::Scalar& value : values)
        QVERIFY2(words::literalFrom(words::literalText(value)) == value, words::literalText(value).c_str());
    const auto named = words::valuesFrom("load = 3, berth = \"west, 2\", on = true");
    QVERIFY(named && named->entries.size() == 3);
    QCOMPARE(words::valuesText(*named), "load = 3, berth = \"west, 2\", on = true");
    QCOMPARE(words::valuesFaultAt("load = 3, berth"), std::optional<std::size_t>(10));
}

void TestWords::keysHaveLabels()
{
    QCOMPARE(words::keyLabel("Right"), "→");
    QCOMPARE(words::keyLabel("e"), "E");
    QCOMPARE(words::keyLabel("adiaeresis"), "Ä");
    QCOMPARE(words::keyLabel("KP_1"), "Keypad 1");
    QCOMPARE(words::keyLabel("button:left"), "left button");
    QCOMPARE(words::keyLabel("no_such_key"), "no such key");
}

void TestWords::aSceneIsTold()
{
    const scene::Scene scene = sceneFrom(
        R"('name': 'Quay', 'groups': ['gate'], 'contacts': [['gate', 'default', 'pass']], 'variables': {'n': 2},
        'templates': {'cask': {'body': 'dynamic', 'shapes': [{'circle': 0.4}]}},
        'pieces': [{'id': 'bay', 'at': [1, 2], 'shapes': [{'id': 'mouth', 'role': 'zone', 'box': [3, 2]}], 'properties': {'load': 0}},
                   {'id': 'cask-1', 'template': 'cask', 'at': [4, 4]}],
        'snares': [{'id': 'in', 'note': 'counts', 'catch': {'event': 'enter', 'at': 'bay'}, 'responses': [{'do': 'add', 'name': 'n', 'value': 1}]},
                   {'id': 'begin', 'armed': false, 'catch': {'event': 'start'}, 'responses': [{'do': 'log', 'text': 'go'}]}])");
    QCOMPARE(QString::fromStdString(words::describe(scene)), QStringLiteral(R"(Scene Quay
  view: seen from above, no gravity
  groups: gate
  gate and default: pass
  holds n = 2

Template cask
  body: dynamic
  solid: circle 0.4

Piece bay
  at 1, 2
  zone mouth: box 3, 2
  holds load = 0
  Snare in
    “counts”
    When anyone enters bay
    1. add 1 to n of itself

Piece cask-1
  template: cask
  at 4, 4

Elsewhere
  Snare begin, disarmed at the start
    When the scene starts
    1. note “go”
)"));
}

/// Another value anywhere in a file gives another text, if it is another scene.
void TestWords::whateverAFileSaysIsTold()
{
    int changes = 0;
    for (const std::string& demo : demos) {
        Json file = Json::parse(demoText(demo));
        const auto before = read(file.dump());
        QVERIFY(before);
        const std::string told = words::describe(*before);
        int number = 0;
        forEachLeaf(file, [&](Json& leaf) {
            if (++number % 7 != 0) // of each file some
                return;
            const Json was = leaf;
            if (leaf.is_number())
                leaf = leaf.get<double>() + 1;
            else if (leaf.is_boolean())
                leaf = !leaf.get<bool>();
            else
                leaf = leaf.get<std::string>() + "x";
            const auto after = read(file.dump());
            if (after && !(*after == *before)) {
                ++changes;
                QVERIFY2(words::describe(*after) != told,
                         qPrintable(QString::fromStdString(demo + ": " + was.dump() + " was " + leaf.dump())));
            }
            leaf = was;
        });
    }
    QVERIFY(changes > 300);
}

void TestWords::theSameSceneIsToldAlike()
{
    for (const std::string& demo : demos) {
        const auto scene = read(demoText(demo));
        QVERIFY(scene);
        const std::string told = words::describe(*scene);
        QCOMPARE(words::describe(*read(io::sceneText(*scene))), told);
        for (const scene::Snare& snare : scene->snares)
            QVERIFY2(told.find("Snare " + snare.id) != std::string::npos, snare.id.c_str());
    }
}

QTEST_GUILESS_MAIN(TestWords)
#include "test_words.moc"
