// SPDX-License-Identifier: Apache-2.0
/// V10: driven pieces go where a take leads them.
#include "builder.h"
#include "io/document.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

/// A driven cart of 1 m, group `default`, at the origin of an empty plan, and what else is given.
scene::Scene yard(const std::string& pieces = {}, const std::string& more = {})
{
    return sceneFrom("'pieces': [{'id': 'cart', 'body': 'driven', 'shapes': [{'box': [1, 1]}]}" + pieces + "]" + more);
}

geometry::Pose poseAt(const sim::Record& record, double t, std::size_t piece = 0)
{
    return record.snapshots.at(std::llround(t * record.scene->rate))[piece].pose;
}

/// "60 0.4 enter cart": the enters and exits at a piece with the part of the tick.
QStringList meetingsAt(const sim::Record& record, const std::string& self)
{
    QStringList result;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && record.nameOf(line.self) == self &&
            (line.event == scene::EventKind::enter || line.event == scene::EventKind::exit))
            result << QString::fromStdString(fmt::format("{} {:.6g} {} {}", line.tick, line.frac,
                                                         scene::wordOf(line.event), record.nameOf(line.visitor)));
    return result;
}

} // namespace

class TestDriven : public QObject {
    Q_OBJECT

  private slots:
    void betweenTwoPlacesItGoesStraightAndEvenly_V10();
    void beforeTheFirstAndAfterTheLastItRests_V10();
    void itComesToTheFirstInOneSweptTick_V10();
    void ofTwoPlacesForOneTimeTheLaterIsGoneOnFrom_V10();
    void aPlaceWithoutTurnKeepsTheTurn_V10();
    void itMeetsAtTheExactMoment_V10();
    void nothingStopsIt_V10();
    void itPushesCarriesAndHits_V10();
    void movesPushesAndSpeedsDoNotAct_V10();
    void scriptsCannotGiveItASpeed_V10();
    void putsActOnlyWhileItIsNotLed_V10();
    void aRestartLeadsItOnFromItsStart_V10_T5();
    void inAGameItGoesToThePlaceHandedIn_V10();
    void besideTracksTheOthersGoToThePlaceHandedIn_V10();
    void onlyDrivenPiecesAreLed_V10();
    void theChainEndsWhereATrackLeads_C1();
    void itIsReadWrittenAndChecked();
};

void TestDriven::betweenTwoPlacesItGoesStraightAndEvenly_V10()
{
    // The places do not lie on ticks, and stand in any order of time.
    const sim::Record record = play(yard(), takeFrom(R"({'t': 1.005, 'piece': 'cart', 'at': [4, 2], 'turn': 90},
        {'t': 0.005, 'piece': 'cart', 'at': [0, 0], 'turn': 0}, {'t': 1.505, 'piece': 'cart', 'at': [4, 0], 'turn': 0})",
                                                     3));
    for (const auto& [t, wanted] : {std::pair{0.5, geometry::Pose{{1.98, 0.99}, 44.55}},
                                    std::pair{1.0, geometry::Pose{{3.98, 1.99}, 89.55}},
                                    std::pair{1.25, geometry::Pose{{4, 1.02}, 45.9}}}) {
        const geometry::Pose is = poseAt(record, t);
        QVERIFY2(glm::length(is.at - wanted.at) < 1e-9 && std::abs(is.turn - wanted.turn) < 1e-9,
                 qPrintable(QStringLiteral("%1 %2 %3").arg(is.at.x).arg(is.at.y).arg(is.turn)));
    }
}

void TestDriven::beforeTheFirstAndAfterTheLastItRests_V10()
{
    const sim::Record record = play(yard(), takeFrom(R"({'t': 1, 'piece': 'cart', 'at': [1, 0]},
        {'t': 2, 'piece': 'cart', 'at': [3, 0]})", 3));
    QCOMPARE(poseAt(record, 59.0 / 60).at, (Vec{0, 0}));
    QCOMPARE(poseAt(record, 2).at, (Vec{3, 0}));
    QCOMPARE(poseAt(record, 3).at, (Vec{3, 0}));
}

void TestDriven::itComesToTheFirstInOneSweptTick_V10()
{
    // The mat lies between its own place and the first.
    const sim::Record record = play(yard(R"(, {'id': 'mat', 'at': [5, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]})"),
                                    takeFrom(R"({'t': 1, 'piece': 'cart', 'at': [10, 0]})", 2));
    QCOMPARE(meetingsAt(record, "mat"), (QStringList{"60 0.4 enter cart", "60 0.6 exit cart"}));
}

void TestDriven::ofTwoPlacesForOneTimeTheLaterIsGoneOnFrom_V10()
{
    const sim::Record record = play(yard(), takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0]},
        {'t': 1, 'piece': 'cart', 'at': [6, 0]}, {'t': 1, 'piece': 'cart', 'at': [0, 6]},
        {'t': 2, 'piece': 'cart', 'at': [0, 0]})", 3));
    QVERIFY(glm::length(poseAt(record, 59.0 / 60).at - Vec{5.9, 0}) < 1e-9);
    QCOMPARE(poseAt(record, 1).at, (Vec{0, 6}));
    QVERIFY(glm::length(poseAt(record, 1.5).at - Vec{0, 3}) < 1e-9);
}

void TestDriven::aPlaceWithoutTurnKeepsTheTurn_V10()
{
    const sim::Record record = play(yard(), takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0], 'turn': 30},
        {'t': 1, 'piece': 'cart', 'at': [6, 0]}, {'t': 2, 'piece': 'cart', 'at': [6, 0], 'turn': 50})", 3));
    QVERIFY(std::abs(poseAt(record, 0.5).turn - 30) < 1e-9);
    QVERIFY(std::abs(poseAt(record, 1.5).turn - 40) < 1e-9);
    QVERIFY(std::abs(poseAt(record, 3).turn - 50) < 1e-9);
}

void TestDriven::itMeetsAtTheExactMoment_V10()
{
    // From x = 0 at 0 s to x = 7 at 1 s: its edge reaches the mat's, at 4.5, when it is at 4, at
    // 4/7 of a second.
    const sim::Record record =
        play(yard(R"(, {'id': 'mat', 'at': [5, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]})"),
             takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0]}, {'t': 1, 'piece': 'cart', 'at': [7, 0]})", 2));
    QCOMPARE(meetingsAt(record, "mat"), (QStringList{"35 0.285714 enter cart", "52 0.428571 exit cart"}));
}

void TestDriven::nothingStopsIt_V10()
{
    const sim::Record record = play(yard(R"(, {'id': 'wall', 'at': [3, 0], 'shapes': [{'box': [1, 4]}]})"),
                                    takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0]}, {'t': 1, 'piece': 'cart', 'at': [3, 0]})", 2));
    QCOMPARE(poseAt(record, 1).at, (Vec{3, 0}));
    QVERIFY(!eventsAt(record, "wall").filter("hit").isEmpty());
}

void TestDriven::itPushesCarriesAndHits_V10()
{
    const auto take = takeFrom(R"({'t': 1, 'piece': 'cart', 'at': [0, 0]}, {'t': 3, 'piece': 'cart', 'at': [4, 0]})", 4);
    const sim::Record plan = play(yard(R"(, {'id': 'clerk', 'at': [1.5, 0], 'body': 'walker', 'shapes': [{'circle': 0.3}]})"), take);
    QVERIFY(poseAt(plan, 4, 1).at.x > 4.7);
    QVERIFY(!eventsAt(plan, "cart").filter("hit cart clerk").isEmpty());
    const sim::Record side = play(
        yard(R"(, {'id': 'cask', 'at': [0, 1], 'body': 'dynamic', 'shapes': [{'box': [0.6, 0.6]}]})", ", 'view': 'side'"),
        takeFrom(R"({'t': 1, 'piece': 'cart', 'at': [0, 0]}, {'t': 5, 'piece': 'cart', 'at': [4, 0]})", 6));
    QVERIFY(std::abs(poseAt(side, 6, 1).at.x - 4) < 0.2);
    QVERIFY(poseAt(side, 6, 1).at.y > 0.7);
}

void TestDriven::movesPushesAndSpeedsDoNotAct_V10()
{
    const sim::Record record =
        play(yard({}, R"(, 'snares': [{'id': 's', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [
        {'do': 'move', 'on': 'cart', 'to': [5, 5], 'speed': 9}, {'do': 'push', 'on': 'cart', 'velocity': [3, 0]},
        {'do': 'turn', 'on': 'cart', 'by': 90, 'speed': 90}, {'do': 'set', 'on': 'cart', 'name': 'vx', 'value': 4}]}])"),
             takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true})", 2));
    QCOMPARE(poseAt(record, 2), (geometry::Pose{{0, 0}, 0}));
    QCOMPARE(notes(record).size(), 4);
}

void TestDriven::scriptsCannotGiveItASpeed_V10()
{
    const sim::Record record = play(yard({}, R"(, 'snares': [{'id': 's', 'catch': {'event': 'key-down', 'key': 'a', 'at': 'cart'}, 'responses': [
        {'do': 'script', 'lua': 'self.vx = 3'}]}])"), takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true})", 2));
    QCOMPARE(poseAt(record, 2), (geometry::Pose{{0, 0}, 0}));
    QCOMPARE(notes(record).size(), 1);
}

void TestDriven::putsActOnlyWhileItIsNotLed_V10()
{
    const scene::Scene scene =
        yard({}, R"(, 'snares': [{'id': 's', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [
        {'do': 'put', 'on': 'cart', 'at': [-5, 0]}]}, {'id': 'x', 'catch': {'event': 'key-down', 'key': 'b'}, 'responses': [
        {'do': 'set', 'on': 'cart', 'name': 'x', 'value': -7}]}])");
    const std::string led = R"({'t': 1, 'piece': 'cart', 'at': [1, 0]}, {'t': 2, 'piece': 'cart', 'at': [3, 0]}, )";
    const auto with = [&](const char* key) { return play(scene, takeFrom(led + key, 3)); };
    QCOMPARE(poseAt(with("{'t': 0.5, 'key': 'a', 'down': true}"), 0.9).at, (Vec{-5, 0}));
    const sim::Record during = with("{'t': 1.5, 'key': 'a', 'down': true}, {'t': 1.6, 'key': 'b', 'down': true}");
    QVERIFY(glm::length(poseAt(during, 1.75).at - Vec{2.5, 0}) < 1e-9);
    QCOMPARE(notes(during).size(), 2);
    QCOMPARE(poseAt(with("{'t': 2.5, 'key': 'a', 'down': true}"), 3).at, (Vec{-5, 0}));
}

void TestDriven::aRestartLeadsItOnFromItsStart_V10_T5()
{
    const sim::Record record = play(yard({}, R"(, 'snares': [{'id': 's', 'catch': {'event': 'key-down', 'key': 'a'}, 'responses': [
        {'do': 'restart'}]}])"), takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0]}, {'t': 2, 'piece': 'cart', 'at': [4, 0]},
        {'t': 1, 'key': 'a', 'down': true})", 3));
    QVERIFY(glm::length(poseAt(record, 1).at - Vec{2, 0}) < 1e-9); // the movement of that tick is still to come
    QVERIFY(glm::length(poseAt(record, 1.5).at - Vec{3, 0}) < 1e-9);
}

void TestDriven::inAGameItGoesToThePlaceHandedIn_V10()
{
    sim::Recorder recorder{std::make_shared<const scene::Scene>(
        yard(R"(, {'id': 'mat', 'at': [5, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]})"))};
    const scene::Input place{0, scene::TrackPlace{"cart", {10, 0}}};
    recorder.tick({{place}});
    QCOMPARE(meetingsAt(recorder.record(), "mat"), (QStringList{"1 0.4 enter cart", "1 0.6 exit cart"}));
    recorder.tick({});
    QCOMPARE(recorder.run().world().pose()[0].at, (Vec{10, 0}));
}

void TestDriven::besideTracksTheOthersGoToThePlaceHandedIn_V10()
{
    const scene::Scene scene = yard(", {'id': 'tug', 'at': [0, 5], 'body': 'driven', 'shapes': [{'box': [1, 1]}]}");
    sim::Recorder recorder{std::make_shared<const scene::Scene>(scene)};
    const scene::Take take =
        takeFrom("{'t': 0.1, 'piece': 'cart', 'at': [0, 0]}, {'t': 0.2, 'piece': 'cart', 'at': [6, 0]}", 1);
    recorder.run().lead(sim::Tracks::of(take));
    const auto handIn = [&](int tick) { // places that the track knows nothing of
        const double t = static_cast<double>(tick) / scene.rate;
        recorder.tick({{{t, scene::TrackPlace{"cart", {0, -tick}}}, {t, scene::TrackPlace{"tug", {tick, 5}}}}});
        return recorder.run().world().pose()[0].at;
    };
    QCOMPARE(handIn(1), (Vec{0, -1}));
    QCOMPARE(recorder.run().world().pose()[1].at, (Vec{1, 5}));
    for (int tick = 2; tick < 6; ++tick)
        handIn(tick);
    for (int tick = 6; tick <= 12; ++tick) // from its first place to its last it goes as the track says
        QVERIFY(glm::length(handIn(tick) - Vec{tick - 6, 0}) < 1e-9);
    QCOMPARE(handIn(13), (Vec{0, -13}));
    QCOMPARE(recorder.run().world().pose()[1].at, (Vec{13, 5}));
}

void TestDriven::onlyDrivenPiecesAreLed_V10()
{
    const sim::Record record =
        play(sceneFrom("'pieces': [{'id': 'crane', 'body': 'kinematic', 'shapes': [{'box': [1, 1]}]}]"),
             takeFrom(R"({'t': 1, 'piece': 'crane', 'at': [4, 0]}, {'t': 1.5, 'piece': 'crane', 'at': [6, 0]},
                         {'t': 1, 'piece': 'nobody-there', 'at': [4, 0]})", 2));
    QCOMPARE(poseAt(record, 2).at, (Vec{0, 0}));
    QCOMPARE(notes(record), QStringList{"60 crane is not driven and cannot be led"});
}

void TestDriven::theChainEndsWhereATrackLeads_C1()
{
    const sim::Record record = play(yard(R"(, {'id': 'mat', 'at': [5, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]})",
                                         R"(, 'snares': [{'id': 's', 'catch': {'event': 'enter', 'at': 'mat'}, 'responses': []}])"),
                                    takeFrom(R"({'t': 0, 'piece': 'cart', 'at': [0, 0]}, {'t': 1, 'piece': 'cart', 'at': [7, 0]})", 2));
    int told = 0;
    for (std::size_t i = 0; i < record.journal.lines.size(); ++i) {
        const rules::Line& line = record.journal.lines[i];
        if (line.kind == rules::LineKind::event && line.event == scene::EventKind::enter) {
            QCOMPARE(record.journal.because[i], -1);
            ++told;
        } else if (line.kind == rules::LineKind::snare) {
            QVERIFY(record.journal.because[i] >= 0); // the enter
        }
    }
    QCOMPARE(told, 2);
}

void TestDriven::itIsReadWrittenAndChecked()
{
    const auto take = takeFrom(R"({'t': 1, 'piece': 'cart', 'at': [4, 0]}, {'t': 1.5, 'piece': 'cart', 'at': [6, 0], 'turn': 20})", 2);
    const std::string text = io::takeText(take);
    const auto again = io::readTake(text, "take");
    QVERIFY(again.has_value());
    QCOMPARE(again->inputs, take.inputs);
    const auto faultOf = [](const std::string& input) {
        const auto read = io::readTake(R"({"format": "fresh-snare-take", "version": 1, "inputs": [)" + input + "]}", "take");
        return read ? QString() : QString::fromStdString(read.error().front().text);
    };
    QCOMPARE(faultOf(R"({"t": 1, "piece": "cart"})"), QStringLiteral("\"at\" is missing: where it is then"));
    QCOMPARE(faultOf(R"({"t": 1, "piece": "", "at": [0, 0]})"), QStringLiteral("wants a name, not an empty text"));
    QVERIFY(!faultOf(R"({"t": 1, "key": "a", "down": true, "turn": 3})").isEmpty());
    QVERIFY(!faultOf(R"({"t": 1, "key": "a", "down": true, "at": [3, 1]})").isEmpty());
    QCOMPARE(scene::kindOf(yard().pieces[0].body), std::string_view("driven"));
}

QTEST_APPLESS_MAIN(TestDriven)
#include "test_driven.moc"
