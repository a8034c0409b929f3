// SPDX-License-Identifier: Apache-2.0
/// The bench plays by itself (N38): what can be reached, what breaks, and takes that show it.
#include "builder.h"
#include "check/expectations.h"
#include "check/scout.h"
#include "check/shorten.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

namespace {

check::Scouted scouted(const scene::Scene& scene, int plays, std::vector<scene::Take> takes = {}, unsigned jobs = 0)
{
    check::ScoutOptions options;
    options.plays = plays;
    options.seconds = 20;
    options.jobs = jobs;
    options.takes = std::move(takes);
    return check::scout(std::make_shared<const scene::Scene>(scene), options);
}

const check::ScoutedSnare& of(const check::Scouted& found, const std::string& snare)
{
    const auto one = std::ranges::find(found.snares, snare, &check::ScoutedSnare::snare);
    if (one == found.snares.end())
        qFatal("no snare %s", snare.c_str());
    return *one;
}

int springs(const scene::Scene& scene, const scene::Take& take, const std::string& snare)
{
    return static_cast<int>(outcomesOf(play(scene, take), snare).filter(QStringLiteral("sprung")).size());
}

/// All that was found, as text, to be compared.
std::string textOf(const check::Scouted& found)
{
    std::string text = fmt::format("{} {} {}\n", found.plays, found.played, found.states);
    for (const check::ScoutedSnare& one : found.snares)
        text += fmt::format("{} {} {} {} {}\n{}", one.snare, one.plays, one.first, one.caught, one.nearest,
                            one.take ? io::takeText(*one.take) : "");
    for (const check::ScoutedDeadEnd& one : found.deadEnds)
        text += fmt::format("end {} {} {}\n{}", one.t, one.tries, fmt::join(one.lost, " "), io::takeText(one.how));
    for (const check::ScoutedDetour& one : found.detours)
        text +=
            fmt::format("round {} {} {}\n{}", one.snare, one.visitor, fmt::join(one.zones, " "), io::takeText(one.how));
    return text;
}

/// A courier, a plate six metres off behind a wall, and a gate beside it.
scene::Scene quay()
{
    scene::Scene scene;
    scene.bounds = {{-4, -4, 10, 4}};
    scene.pieces = {walker("courier", {-2, 0}), wall("house", {2, 0}, {1, 3}), zone("gate", {2, 2.5}, {1, 2}),
                    zone("plate", {6, 0}, {1, 1})};
    scene.snares = {onEvent("through", EventKind::enter, "gate"), onEvent("weigh", EventKind::enter, "plate")};
    return scene;
}

} // namespace

class TestScout : public QObject {
    Q_OBJECT

  private slots:
    void walkersFindPlaces();
    void theSameHoweverManyThreads();
    void everyHandleIsTried_data();
    void everyHandleIsTried();
    void whatNeverSprangSaysWhereItSlipped();
    void stagesThatComeOneAfterTheOther();
    void runsThatStopAreKept_K8();
    void whatMustNeverBeIsWatched_E2();
    void whatMustAlwaysBeIsWatched_E3();
    void waysRoundAreTold();
    void deadEndsAreTold();
    void itEndsWhenItIsAskedTo();
    void whatListensToNothingIsSaid();
    void takesAreShortened();
    void whatIsOnItsWayGoesOn_V10();
    void whatDoesNotShowItStaysWhole();
};

void TestScout::walkersFindPlaces()
{
    const scene::Scene scene = quay();
    const check::Scouted found = scouted(scene, 150);
    QCOMPARE(found.plays, 150);
    QVERIFY(found.played > 300 && found.states > 20);
    for (const char* snare : {"through", "weigh"}) {
        const check::ScoutedSnare& one = of(found, snare);
        QVERIFY2(one.take, snare);
        QVERIFY(one.plays > 0);
        const sim::Record record = play(scene, *one.take);
        const QString first = outcomesOf(record, snare).value(0);
        QCOMPARE(first, QStringLiteral("%1 %2 sprung").arg(std::llround(one.first * 60)).arg(QLatin1String(snare)));
        QVERIFY2(one.take->inputs.size() <= 16, qPrintable(QString::number(one.take->inputs.size())));
        QVERIFY(scene::lengthOf(*one.take) >= one.first);
    }
}

void TestScout::theSameHoweverManyThreads()
{
    scene::Scene scene = quay();
    scene.snares[0].gate.chance = 0.5;
    const std::vector<scene::Take> takes{
        takeFrom("{'t': 0.1, 'key': 'Up', 'down': true}, {'t': 1, 'key': 'Up', 'down': false}, "
                 "{'t': 1, 'key': 'Right', 'down': true}, {'t': 3.6, 'key': 'Right', 'down': false}",
                 4)};
    const std::string one = textOf(scouted(scene, 80, takes, 1));
    QCOMPARE(textOf(scouted(scene, 80, takes, 3)), one);
}

void TestScout::everyHandleIsTried_data()
{
    QTest::addColumn<QString>("pieces");
    QTest::addColumn<QString>("caught");
    const QString hut = QStringLiteral("{'id': 'hut', 'at': [1, 1], 'shapes': [{'box': [1, 1]}]}");
    const auto row = [&](const char* name, const QString& caught, const QString& pieces) {
        QTest::newRow(name) << pieces << caught;
    };
    row("click", "'event': 'click', 'at': 'hut'", hut);
    row("double", "'event': 'double', 'at': 'hut'", hut);
    row("right button", "'event': 'down', 'at': 'hut', 'button': 'right'", hut);
    row("with Shift", "'event': 'click', 'at': 'hut', 'modifiers': 'shift'", hut);
    row("on the ground", "'event': 'click', 'at': 'scene'", hut);
    row("on the glass", "'event': 'click', 'at': 'bell'",
        "{'id': 'bell', 'at': [2, 2], 'pinned': true, 'shapes': [{'box': [1, 1]}]}");
    row("drop", "'event': 'drop', 'at': 'hut'",
        hut + ", {'id': 'cask', 'at': [-2, 0], 'draggable': true, 'shapes': [{'circle': 0.4}]}");
    row("sweep", "'event': 'sweep-end', 'at': 'scene'", hut);
    row("over", "'event': 'enter', 'at': 'hut'}, 'filter': {'pieces': ['pointer']", hut);
    row("key", "'event': 'key-down', 'key': 'e'", hut);
    row("held long", "'event': 'up', 'at': 'hut'}, 'filter': {'when': [{'left': 'event.hold', 'is': '>=', 'right': 1}]",
        hut);
    row("key inside", "'event': 'key-down', 'key': 'e', 'at': 'yard', 'inside': true",
        "{'id': 'yard', 'at': [3, 1], 'shapes': [{'box': [1, 1], 'role': 'zone'}]}, "
        "{'id': 'courier', 'at': [-1, 0], 'body': {'kind': 'walker', 'steer': 'arrows'}, 'shapes': [{'circle': 0.3}]}");
    row("dial", "'event': 'rises', 'source': 'tide', 'level': 3.9", hut);
    row("call", "'event': 'called', 'name': 'hail'", hut);
    row("call with another value",
        "'event': 'called', 'name': 'hail'}, 'filter': {'when': [{'left': 'event.boats', 'is': '=', 'right': 3}]", hut);
    row("a driven piece", "'event': 'enter', 'at': 'yard'",
        "{'id': 'yard', 'at': [3, 1], 'shapes': [{'box': [1, 1], 'role': 'zone'}]}, "
        "{'id': 'ferry', 'at': [-1, 0], 'body': 'driven', 'shapes': [{'circle': 0.3}]}");
    row("a stay", "'event': 'enter', 'at': 'yard'}, 'gate': {'dwell': 1}, 'filter': {'groups': ['default']",
        "{'id': 'yard', 'at': [3, 1], 'shapes': [{'box': [1, 1], 'role': 'zone'}]}, "
        "{'id': 'courier', 'at': [-1, 0], 'body': {'kind': 'walker', 'steer': 'arrows'}, 'shapes': [{'circle': 0.3}]}");
}

void TestScout::everyHandleIsTried()
{
    QFETCH(QString, pieces);
    QFETCH(QString, caught);
    const scene::Scene scene =
        sceneFrom(("'bounds': [-6, -6, 6, 6], 'sources': [{'id': 'tide', 'dial': {'low': 0, 'high': 4}}, "
                   "{'id': 'hailing', 'call': {'name': 'hail', 'values': {'boats': 2}}}], 'pieces': [" +
                   pieces + "], 'snares': [{'id': 'it', 'catch': {" + caught + "}}]")
                      .toStdString());
    const check::Scouted found = scouted(scene, 120);
    QVERIFY(of(found, "it").take);
    QVERIFY(springs(scene, *of(found, "it").take, "it") > 0);
}

void TestScout::whatNeverSprangSaysWhereItSlipped()
{
    scene::Scene scene = quay();
    scene.snares[1].filter.tags.any = {"porter"};
    scene.snares.push_back(onSignal("hear", "nobody-says-it", {}));
    const check::Scouted found = scouted(scene, 150);
    QVERIFY(!of(found, "weigh").take);
    QVERIFY(of(found, "weigh").caught > 0);
    QCOMPARE(of(found, "weigh").nearest, std::string("filter, tag porter is missing"));
    QCOMPARE(of(found, "hear").caught, 0);
    QCOMPARE(of(found, "hear").nearest, std::string());
}

/// What comes last needs five keys in the right order: seldom by chance alone, soon by going on
/// from each that was right.
void TestScout::stagesThatComeOneAfterTheOther()
{
    scene::Scene scene;
    scene.phases = {"one", "two", "three", "four", "five", "open"};
    const std::vector<std::string> keys{"e", "q", "r", "e", "q"};
    for (std::size_t i = 0; i < keys.size(); ++i) {
        scene::Snare turn = onKey("turn-" + std::to_string(i), keys[i],
                                  {scene::ChangePhase{scene::Target::scene(), {scene.phases[i + 1]}}});
        turn.during = {{"scene:" + scene.phases[i]}};
        scene.snares.push_back(turn);
        scene::Snare back = onKey("back-" + std::to_string(i), keys[i] == "r" ? "e" : "r",
                                  {scene::ChangePhase{scene::Target::scene(), {scene.phases[0]}}});
        back.during = {{"scene:" + scene.phases[i]}};
        scene.snares.push_back(back);
    }
    const check::Scouted found = scouted(scene, 400);
    QVERIFY(of(found, "turn-4").take);
    QVERIFY(of(found, "turn-4").take->inputs.size() <= 14);
}

void TestScout::runsThatStopAreKept_K8()
{
    scene::Scene scene;
    scene.snares = {onKey("ask", "e", {scene::Signal{"go", {}, {}, false}}),
                    onSignal("round", "go", {scene::Signal{"go", {}, {}, false}})};
    const check::Scouted found = scouted(scene, 40);
    QCOMPARE(found.broken.size(), std::size_t{1});
    const check::ScoutedBreak& storm = found.broken.front();
    QVERIFY2(storm.stop.find("round") != std::string::npos, storm.stop.c_str());
    QVERIFY(storm.plays > 1);
    QVERIFY(storm.how.stops && storm.how.inputs.size() <= 2);
    QVERIFY(check::judge(play(scene, storm.how)).passed());
}

void TestScout::whatMustNeverBeIsWatched_E2()
{
    const scene::Scene scene = quay();
    scene::Take take;
    take.length = 1;
    scene::Expectation& never = take.expect.emplace_back();
    never.never.emplace().event = EventKind::hit;
    never.never->at.place = "house";
    scene::Expectation& then = take.expect.emplace_back(); // of this take alone: not held against others
    then.never.emplace().event = EventKind::enter;
    then.never->between = scene::Span{0, 1};
    const check::Scouted found = scouted(scene, 100, {take});
    QCOMPARE(found.broken.size(), std::size_t{1});
    const check::ScoutedBreak& one = found.broken.front();
    QCOMPARE(one.expectation, std::size_t{0});
    QVERIFY(one.plays > 0 && one.how.expect == std::vector{take.expect[0]});
    QVERIFY(!check::judge(play(scene, one.how)).passed());
    QVERIFY2(one.how.inputs.size() <= 6, qPrintable(QString::number(one.how.inputs.size())));
}

void TestScout::whatMustAlwaysBeIsWatched_E3()
{
    scene::Scene scene;
    scene.variables.set("load", scene::Scalar{0.0});
    scene.snares = {onKey("more", "e", {scene::Add{scene::Target::scene(), "load", {1.0}}})};
    scene::Take take;
    scene::Expectation& always = take.expect.emplace_back();
    always.value = "scene.load";
    always.always = true;
    always.is = scene::Comparison::less;
    always.to = scene::Scalar{3.0};
    const check::Scouted found = scouted(scene, 60, {take});
    QCOMPARE(found.broken.size(), std::size_t{1});
    QCOMPARE(found.broken.front().how.inputs.size(), std::size_t{6}); // three presses
    QVERIFY(!check::judge(play(scene, found.broken.front().how)).passed());
}

void TestScout::waysRoundAreTold()
{
    const scene::Scene scene = quay();
    scene::Take through = takeFrom("{'t': 0.1, 'key': 'Up', 'down': true}, {'t': 0.95, 'key': 'Up', 'down': false}, "
                                   "{'t': 1, 'key': 'Right', 'down': true}, {'t': 3.6, 'key': 'Right', 'down': false}, "
                                   "{'t': 3.6, 'key': 'Down', 'down': true}, {'t': 5, 'key': 'Down', 'down': false}",
                                   6);
    QCOMPARE(springs(scene, through, "through"), 1);
    QCOMPARE(springs(scene, through, "weigh"), 1);
    const check::Scouted found = scouted(scene, 150, {through});
    QCOMPARE(found.detours.size(), std::size_t{1});
    QCOMPARE(found.detours[0].snare, std::string("weigh"));
    QCOMPARE(found.detours[0].visitor, std::string("courier"));
    QCOMPARE(found.detours[0].zones, std::vector<std::string>{"gate"});
    QVERIFY(springs(scene, found.detours[0].how, "weigh") > 0);
    QCOMPARE(springs(scene, found.detours[0].how, "through"), 0);
    scene::Scene closed = scene; // now there is no other way
    closed.pieces.push_back(wall("fence", {2, -51}, {1, 99}));
    closed.pieces.push_back(wall("hedge", {2, 53}, {1, 99}));
    QVERIFY(scouted(closed, 150, {through}).detours.empty());
}

void TestScout::deadEndsAreTold()
{
    // A courier in a side view, and a pit that it cannot jump out of.
    const scene::Scene scene =
        sceneFrom("'view': 'side', 'bounds': [-6, -4, 6, 4], 'pieces': ["
                  "{'id': 'left', 'at': [-4, -1], 'shapes': [{'box': [5, 2]}]}, {'id': 'right', 'at': [4, -1], "
                  "'shapes': [{'box': [5, 2]}]}, "
                  "{'id': 'bottom', 'at': [0, -2.5], 'shapes': [{'box': [13, 1]}]}, "
                  "{'id': 'west', 'at': [-6, 3], 'shapes': [{'box': [1, 6]}]}, {'id': 'east', 'at': [6, 3], 'shapes': "
                  "[{'box': [1, 6]}]}, "
                  "{'id': 'end', 'at': [5, 0.5], 'shapes': [{'box': [0.5, 1], 'role': 'zone'}]}, "
                  "{'id': 'courier', 'at': [-4, 0.5], 'body': {'kind': 'walker', 'steer': 'arrows', 'jump': 3, "
                  "'speed': 6}, 'shapes': [{'circle': 0.4}]}], "
                  "'snares': [{'id': 'home', 'catch': {'event': 'enter', 'at': 'end'}}]");
    const check::Scouted found = scouted(scene, 500);
    QVERIFY(!found.deadEnds.empty());
    for (const check::ScoutedDeadEnd& end : found.deadEnds) {
        QCOMPARE(end.walkers.size(), std::size_t{1});
        QVERIFY2(end.walkers[0].second.y < 0, qPrintable(QString::number(end.walkers[0].second.y)));
        QCOMPARE(end.lost, std::vector<std::string>{"home"});
        QVERIFY(end.tries >= 5);
        QCOMPARE(play(scene, end.how).snapshots.at(std::llround(end.t * 60)).back().pose.at, end.walkers[0].second);
    }
    QVERIFY(of(found, "home").take); // by a jump across
}

void TestScout::itEndsWhenItIsAskedTo()
{
    std::atomic<bool> enough = false;
    check::ScoutOptions options;
    options.plays = 100'000'000;
    options.enough = &enough;
    int told = 0;
    options.progress = [&](const check::ScoutProgress& now) {
        ++told;
        enough = now.sprung == now.snares;
    };
    const check::Scouted found = check::scout(std::make_shared<const scene::Scene>(quay()), options);
    QVERIFY(told > 0 && found.plays < options.plays);
    for (const check::ScoutedSnare& one : found.snares)
        QVERIFY(one.take && one.take->inputs.size() <= 16 && springs(quay(), *one.take, one.snare) > 0);
    // Given up, it does not even make ready what was found.
    std::atomic<bool> cancelled = true;
    options.cancelled = &cancelled;
    QCOMPARE(check::scout(std::make_shared<const scene::Scene>(quay()), options).plays, 0);
}

void TestScout::whatListensToNothingIsSaid()
{
    scene::Scene scene;
    scene.pieces = {zone("bay", {3, 0}, {2, 2}), mover("cart", {0, 0}, {2, 0})};
    scene.snares = {onEvent("in", EventKind::enter, "bay")};
    const check::Scouted found = scouted(scene, 5);
    QVERIFY(found.noHandles);
    QVERIFY(of(found, "in").take && of(found, "in").take->inputs.empty());
    QVERIFY(!scouted(quay(), 1).noHandles);
}

void TestScout::takesAreShortened()
{
    // What shows it: a is down at 2 s, and there is a drag to (3, 3).
    const auto shows = [](const scene::Take& take) -> std::optional<double> {
        bool down = false;
        bool dragged = false;
        bool button = false;
        for (const scene::Input& input : take.inputs) {
            if (const auto* key = input.as<scene::KeyInput>(); key && key->key == "a")
                down = key->down;
            if (const auto* one = input.as<scene::ButtonInput>())
                button = one->down;
            if (const auto* move = input.as<scene::PointerMove>())
                dragged = dragged || (button && move->at == Vec{3, 3});
            if (down && dragged)
                return input.t;
        }
        return std::nullopt;
    };
    scene::Take take = takeFrom("{'t': 1, 'key': 'a', 'down': true}, {'t': 1.1, 'key': 'b', 'down': true}, "
                                "{'t': 1.2, 'pointer': [1, 1]}, {'t': 1.3, 'button': 'left', 'down': true}, "
                                "{'t': 1.4, 'pointer': [2, 2]}, {'t': 1.5, 'pointer': [3, 3]}, "
                                "{'t': 1.6, 'button': 'left', 'down': false}, {'t': 1.7, 'key': 'b', 'down': false}, "
                                "{'t': 9, 'key': 'a', 'down': false}",
                                10);
    const auto [less, shown] = check::shortened(take, shows);
    QCOMPARE(less.inputs.size(), std::size_t{5}); // the press of a, and the drag whole
    QCOMPARE(less.inputs.front().t, 0.2);         // it begins soon
    QCOMPARE(less.length, std::optional(1.2));    // half a second after 0.7 s
    QCOMPARE(shown, shows(less));
}

void TestScout::whatIsOnItsWayGoesOn_V10()
{
    scene::Take take = takeFrom("{'t': 0, 'piece': 'ferry', 'at': [0, 0]}, {'t': 4, 'piece': 'ferry', 'at': [4, 0]}, "
                                "{'t': 6, 'piece': 'ferry', 'at': [0, 0]}, {'t': 3, 'key': 'e', 'down': true}",
                                8);
    check::endAt(take, 2);
    QCOMPARE(take.length, std::optional(2.0));
    QCOMPARE(take.inputs.size(), std::size_t{2}); // from the first place to the second
    QCOMPARE(take.inputs[1].t, 4.0);
}

void TestScout::whatDoesNotShowItStaysWhole()
{
    int asked = 0;
    const auto shows = [&](const scene::Take&) -> std::optional<double> {
        ++asked;
        return std::nullopt;
    };
    const scene::Take take = takeOf({{"a", 1}, {"b", 2}});
    const check::Shortened same = check::shortened(take, shows);
    QVERIFY(same.take == take && !same.shown);
    QCOMPARE(asked, 1);
    // However long it is, it is not asked more often than said.
    const auto always = [&](const scene::Take&) { return ++asked, std::optional(1.0); };
    scene::Take longOne;
    for (int i = 0; i < 500; ++i)
        press(longOne, "k" + std::to_string(i), 0.01 * i, 0.01 * i + 0.005);
    asked = 0;
    check::shortened(longOne, always, 7);
    QVERIFY(asked <= 7);
}

QTEST_APPLESS_MAIN(TestScout)
#include "test_scout.moc"
