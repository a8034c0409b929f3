// SPDX-License-Identifier: Apache-2.0
/// The library for games (N36, N40): the same log as the bench, and takes of what was handed in.
#include "builder.h"
#include "embed/fresh_snare.h"

#include <QFile>
#include <QTest>

#include <cmath>
#include <memory>

using namespace snare;
using namespace snare::tests;

namespace {

struct Close {
    void operator()(fs_run* run) const { fs_close(run); }
};
using Run = std::unique_ptr<fs_run, Close>;

Run opened(const scene::Scene& scene)
{
    Run run{fs_open_text(io::sceneText(scene).c_str(), nullptr)};
    if (!run)
        qFatal("%s", fs_error());
    return run;
}

/// The lines that were not read yet, each with a line end.
std::string linesOf(fs_run* run)
{
    std::string all;
    while (const char* line = fs_next_line(run))
        all += std::string(line) + "\n";
    return all;
}

/// Hands in what a take says of the next tick.
void hand(fs_run* run, const scene::Take& take)
{
    for (const scene::Input& input : take.inputs) {
        if (rules::tickOfInput(input.t, fs_rate(run)) != fs_tick(run) + 1)
            continue;
        if (const auto* key = input.as<scene::KeyInput>())
            fs_key(run, key->key.c_str(), key->down);
        else if (const auto* move = input.as<scene::PointerMove>())
            fs_pointer(run, move->at.x, move->at.y);
        else if (const auto* glass = input.as<scene::GlassMove>())
            fs_glass(run, glass->at.x, glass->at.y);
        else if (const auto* button = input.as<scene::ButtonInput>())
            QVERIFY(fs_button(run, std::string(scene::wordOf(button->button)).c_str(), button->down));
        else if (const auto* dial = input.as<scene::DialInput>())
            fs_dial(run, dial->dial.c_str(), dial->value);
        else if (const auto* call = input.as<scene::CallInput>()) {
            std::string values;
            for (const auto& [name, value] : call->with.entries) {
                const auto* text = std::get_if<std::string>(&value);
                values += fmt::format("{}\"{}\":{}", values.empty() ? "" : ",", name,
                                      text ? "\"" + *text + "\"" : scene::textOf(value));
            }
            QVERIFY(fs_call(run, call->call.c_str(), ("{" + values + "}").c_str()));
        }
    }
}

std::string demo(const QString& name)
{
    return (QStringLiteral(SNARE_DEMO_FOLDER "/") + name).toStdString();
}

} // namespace

class TestEmbed : public QObject {
    Q_OBJECT

  private slots:
    void theLogIsThatOfTheBench_T3_data();
    void theLogIsThatOfTheBench_T3();
    void whatWasHandedInIsATake_N40();
    void drivenPiecesGoWhereTheyAreLed_V10();
    void piecesAndValuesAreRead();
    void runsDoNotKnowOfEachOther();
    void mistakesAreTold();
    void aStormStopsIt_K8();
};

void TestEmbed::theLogIsThatOfTheBench_T3_data()
{
    QTest::addColumn<QString>("name");
    for (const char* name : {"weigh-in", "berths", "chart-table", "duty-slips", "locks", "eel-watch", "line-thrower"})
        QTest::newRow(name) << QString::fromLatin1(name);
}

void TestEmbed::theLogIsThatOfTheBench_T3()
{
    QFETCH(QString, name);
    const auto take = io::loadTake(demo(name + QStringLiteral(".take.json")));
    const auto scene = io::loadScene(demo(name + QStringLiteral(".snare.json")));
    QVERIFY(take && scene);
    const std::uint32_t seed = take->seed.value_or(scene->seed);
    const Run run{fs_open(demo(name + QStringLiteral(".snare.json")).c_str(), &seed)};
    QVERIFY2(run, fs_error());
    std::string log = linesOf(run.get()); // tick 0
    QVERIFY(fs_tick(run.get()) == 0);
    const std::int64_t last = rules::lastTick(scene::lengthOf(*take), scene->rate);
    while (fs_tick(run.get()) < last) {
        hand(run.get(), *take);
        QVERIFY2(fs_step(run.get()), fs_error());
        log += linesOf(run.get());
    }
    QCOMPARE(log, io::logText(play(*scene, *take)));
}

void TestEmbed::whatWasHandedInIsATake_N40()
{
    scene::Scene scene;
    scene.pieces = {walker("courier", {0, 0}), zone("plate", {3, 0}, {1, 1})};
    scene.sources = {{"tide", scene::DialSource{0, 4, 0}}};
    scene.snares = {onEvent("weigh", scene::EventKind::enter, "plate")};
    scene.snares.push_back(onEvent("hail", scene::EventKind::called, {}));
    scene.snares[1].catches.name = "hail";
    const Run run = opened(scene);
    fs_key(run.get(), "Right", 1);
    for (int i = 0; i < 90; ++i) {
        if (i == 40) {
            fs_pointer(run.get(), 3, 0.25);
            QVERIFY(fs_button(run.get(), "left", 1));
            fs_dial(run.get(), "tide", 2.5);
            QVERIFY(fs_call(run.get(), "hail", R"({"boats": 3, "name": "ketch", "soon": true})"));
        }
        QVERIFY(fs_step(run.get()));
    }
    const std::string log = linesOf(run.get());
    const auto take = io::readTake(fs_take(run.get(), "quay.snare.json"), "take");
    QVERIFY(take);
    QCOMPARE(take->scene, std::string("quay.snare.json"));
    QCOMPARE(take->length, std::optional(1.5));
    QCOMPARE(take->inputs.size(), std::size_t{5});
    QCOMPARE(io::logText(play(scene, *take)), log);
    QVERIFY(log.find("weigh") != std::string::npos && log.find("ketch") == std::string::npos);
}

void TestEmbed::drivenPiecesGoWhereTheyAreLed_V10()
{
    scene::Scene scene;
    scene::Piece ferry = wall("ferry", {0, 0}, {1, 1});
    ferry.body = scene::DrivenBody{};
    scene.pieces = {ferry, zone("berth", {4, 0}, {1, 3})};
    scene.snares = {onEvent("moor", scene::EventKind::enter, "berth")};
    const Run run = opened(scene);
    const auto at = [&](int tick) { // it rests between; tells whether it is led in the tick
        return tick < 10 || (tick > 40 && tick < 60) ? std::optional(Vec{0.1 * tick, 0.5}) : std::nullopt;
    };
    for (int tick = 1; tick <= 70; ++tick) {
        if (const auto place = at(tick))
            fs_lead(run.get(), "ferry", place->x, place->y, tick == 50 ? 30 : std::nan(""));
        QVERIFY(fs_step(run.get()));
        fs_piece piece;
        QVERIFY(fs_piece_at(run.get(), 0, &piece));
        QCOMPARE(piece.x, tick < 10 ? 0.1 * tick : tick <= 40 ? 0.9 : 0.1 * std::min(tick, 59));
    }
    const std::string log = linesOf(run.get());
    QVERIFY(log.find("\"moor\"") != std::string::npos);
    const auto take = io::readTake(fs_take(run.get(), nullptr), "take");
    QVERIFY(take);
    const sim::Record again = play(scene, *take);
    QCOMPARE(io::logText(again), log);
    QVERIFY(glm::length(again.snapshots.at(30)[0].pose.at - Vec{0.9, 0.5}) < 1e-9); // it rests in the take, too
    QCOMPARE(again.snapshots.at(70)[0].pose.turn, 30.0);
}

void TestEmbed::piecesAndValuesAreRead()
{
    scene::Scene scene =
        sceneFrom("'variables': {'parcels': 2, 'quay': 'west'}, 'templates': {'cask': {'shapes': [{'circle': 0.3}]}}, "
                  "'pieces': [{'id': 'bell', 'at': [1, 2], 'turn': 30, 'pinned': true, 'properties': {'rung': false}, "
                  "'shapes': [{'circle': 1}]}, {'id': 'lamp', 'shapes': [{'circle': 1}]}], "
                  "'snares': [{'id': 'more', 'catch': {'event': 'key-down', 'key': 'e'}, 'responses': "
                  "[{'do': 'spawn', 'template': 'cask', 'at': [5, 6]}, {'do': 'remove', 'on': 'lamp'}, {'do': 'hide', "
                  "'on': 'bell'}]}]");
    const Run run = opened(scene);
    QCOMPARE(fs_rate(run.get()), 60);
    QCOMPARE(QByteArray(fs_value(run.get(), "scene.parcels")), QByteArray("2.0"));
    QCOMPARE(QByteArray(fs_value(run.get(), "scene.quay")), QByteArray("\"west\""));
    QCOMPARE(QByteArray(fs_value(run.get(), "bell.rung")), QByteArray("false"));
    QVERIFY(!fs_value(run.get(), "bell.colour"));
    QCOMPARE(fs_piece_count(run.get()), std::size_t{2});
    fs_piece piece;
    QVERIFY(fs_piece_at(run.get(), 0, &piece));
    QCOMPARE(QByteArray(piece.id), QByteArray("bell"));
    QVERIFY(piece.x == 1 && piece.y == 2 && piece.turn == 30 && piece.pinned && piece.present && piece.shown);
    fs_key(run.get(), "e", 1);
    QVERIFY(fs_step(run.get()));
    QCOMPARE(fs_piece_count(run.get()), std::size_t{3});
    QCOMPARE(fs_find(run.get(), "cask-1"), std::int64_t{2});
    QCOMPARE(fs_find(run.get(), "nobody"), std::int64_t{-1});
    QVERIFY(fs_piece_at(run.get(), 2, &piece) && piece.x == 5 && piece.y == 6);
    QVERIFY(fs_piece_at(run.get(), 1, &piece) && !piece.present);
    QVERIFY(fs_piece_at(run.get(), 0, &piece) && !piece.shown);
    QVERIFY(!fs_piece_at(run.get(), 3, &piece));
}

void TestEmbed::runsDoNotKnowOfEachOther()
{
    scene::Scene scene;
    scene.snares = {onKey("roll", "e", {})};
    scene.snares[0].gate.chance = 0.5;
    const auto playing = [&](fs_run* run, int ticks) {
        for (int i = 0; i < ticks; ++i) {
            fs_key(run, "e", i % 2 == 0);
            fs_step(run);
        }
    };
    const Run alone = opened(scene);
    playing(alone.get(), 60);
    const Run one = opened(scene);
    const std::uint32_t seed = 99;
    const Run other{fs_open_text(io::sceneText(scene).c_str(), &seed)};
    for (int i = 0; i < 10; ++i) {
        playing(one.get(), 6);
        playing(other.get(), 6);
    }
    const std::string log = linesOf(alone.get());
    QCOMPARE(linesOf(one.get()), log);
    QVERIFY(linesOf(other.get()) != log); // another chance
}

void TestEmbed::mistakesAreTold()
{
    QVERIFY(!fs_open("/nowhere/quay.snare.json", nullptr));
    QVERIFY2(QByteArray(fs_error()).contains("/nowhere/quay.snare.json"), fs_error());
    QVERIFY(!fs_open_text("{\n \"format\": \"fresh-snare-scene\",\n \"version\": 1,\n \"piecs\": []\n}", nullptr));
    QVERIFY2(QByteArray(fs_error()).contains("line 4"), fs_error());
    const Run run = opened({});
    QVERIFY(!fs_button(run.get(), "third", 1));
    QCOMPARE(QByteArray(fs_error()), QByteArray("there is no button third"));
    for (const char* values :
         {"3", "[1]", "{\"a\": [1]}", "{\"a\": ", "{}}],\"inputs\":[{\"t\":0,\"key\":\"e\",\"down\":true}", ""})
        QVERIFY2(!fs_call(run.get(), "hail", values), values);
    QVERIFY(fs_call(run.get(), "hail", nullptr) && fs_call(run.get(), "hail", "{}"));
    QCOMPARE(QByteArray(fs_version()), QByteArray("0.1.0"));
    fs_close(nullptr);
}

void TestEmbed::aStormStopsIt_K8()
{
    scene::Scene scene;
    scene.snares = {onKey("ask", "e", {scene::Signal{"go", {}, {}, false}}),
                    onSignal("round", "go", {scene::Signal{"go", {}, {}, false}})};
    const Run run = opened(scene);
    QVERIFY(fs_step(run.get()));
    fs_key(run.get(), "e", 1);
    QVERIFY(!fs_step(run.get()));
    QVERIFY2(QByteArray(fs_error()).contains("round"), fs_error());
    QVERIFY(!fs_step(run.get())); // it stays stopped
    QCOMPARE(fs_tick(run.get()), std::int64_t{2});
    const auto take = io::readTake(fs_take(run.get(), nullptr), "take");
    QVERIFY(take && take->stops);
    QVERIFY(!play(scene, *take).stopReason.empty());
}

QTEST_APPLESS_MAIN(TestEmbed)
#include "test_embed.moc"
