// SPDX-License-Identifier: Apache-2.0
/// Where an edit is first felt. (That the record is the same is tested on random scenes:
/// rules/test_reference.)
#include "builder.h"
#include "sim/resume.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

constexpr std::int64_t never = std::numeric_limits<std::int64_t>::max();

/// A cart crosses a plate at 0.75 s (tick 46: until then they only touch) and hears `a`; a take of
/// 2 s.
struct Played {
    scene::Scene scene = sceneFrom(R"('pieces': [
        {'id': 'cart', 'at': [-2, 0], 'body': {'kind': 'kinematic', 'velocity': [2, 0]}, 'shapes': [{'role': 'zone', 'box': [1, 1]}],
         'looks': {'worn': {'colour': '#112233'}}},
        {'id': 'plate', 'at': [0.5, 0], 'shapes': [{'role': 'zone', 'box': [1, 1]}]},
        {'id': 'barge', 'at': [9, 9], 'body': 'driven', 'shapes': [{'role': 'zone', 'box': [1, 1]}]}],
        'snares': [{'id': 'come', 'catch': {'event': 'enter', 'at': 'plate'}, 'responses': [{'do': 'look', 'on': 'visitor', 'to': 'worn'}]},
                   {'id': 'never', 'catch': {'event': 'key-down', 'key': 'q'}, 'responses': [{'do': 'hide', 'on': 'plate'}]},
                   {'id': 'wait', 'catch': {'event': 'enter', 'at': 'plate'}, 'gate': {'dwell': 0.2}, 'responses': [{'do': 'log', 'text': 'x'}]}])");
    scene::Take take = takeFrom(R"({'t': 0.5, 'key': 'a', 'down': true}, {'t': 0.2, 'piece': 'barge', 'at': [9, 8]},
                                   {'t': 1, 'piece': 'barge', 'at': [9, 7]})", 2);
    sim::Resumable run =
        sim::rerunFrom(nullptr, std::make_shared<const scene::Scene>(scene), take, {}, {.leastBetween = 10});

    std::int64_t felt() const { return sim::firstDifference(run, scene, take, {}); }
};

} // namespace

class TestResume : public QObject {
    Q_OBJECT

  private slots:
    void inputsAreFeltInTheirTick();
    void aPlaceIsFeltFromTheOneBefore_V10();
    void whatASnareDoesIsFeltWhenItWasFirstOfferedSomething();
    void whereASnareListensIsFeltFromTheStart();
    void aLookIsFeltWhenItWasFirstWorn();
    void looksStayKnownOverARestart_T5();
    void wordsAreNeverFelt();
    void whatIsLookedAtWhileItRunsIsRunFromTheStart_E3();
    void picturesThatWereTracedAnewAreRunFromTheStart();
    void aRecordNeedsNoSceneButItsOwn();
    void aCancelledRunHasNoCheckpoints();
    void checkpointsKeepToTheirBudget();
};

void TestResume::inputsAreFeltInTheirTick()
{
    Played played;
    QCOMPARE(played.felt(), never);
    played.take.inputs.push_back(keyAt(1.5, "a", false));
    QCOMPARE(played.felt(), std::int64_t{90});
    played.take.inputs[0].t = 0.25;
    QCOMPARE(played.felt(), std::int64_t{15});
    played.take.inputs.erase(played.take.inputs.begin());
    QCOMPARE(played.felt(), std::int64_t{30});
    played.take.seed = 5;
    QCOMPARE(played.felt(), std::int64_t{0});
}

void TestResume::aPlaceIsFeltFromTheOneBefore_V10()
{
    Played played;
    played.take.inputs.back().as<scene::TrackPlace>()->at = {9, 0};
    QCOMPARE(played.felt(), std::int64_t{12}); // on the way there since 0.2 s
    played.take.inputs[1].as<scene::TrackPlace>()->at = {0, 0};
    QCOMPARE(played.felt(), std::int64_t{12});
    played.take.inputs[1].t = 0.1;
    QCOMPARE(played.felt(), std::int64_t{6});
}

void TestResume::whatASnareDoesIsFeltWhenItWasFirstOfferedSomething()
{
    Played played;
    played.scene.snares[0].responses.pop_back();
    QCOMPARE(played.felt(), std::int64_t{46});
    played.scene.snares[1].responses.clear();
    QCOMPARE(played.felt(), std::int64_t{46});
    Played other;
    other.scene.snares[1].responses.clear();
    QCOMPARE(other.felt(), never);
    other.scene.snares[1].filter.tags.any = {"cask"};
    QCOMPARE(other.felt(), never);
}

void TestResume::whereASnareListensIsFeltFromTheStart()
{
    Played played;
    played.scene.snares[1].catches.key = "w";
    QCOMPARE(played.felt(), std::int64_t{0});
    Played waiting; // no line tells for whom a dwell begins
    waiting.scene.snares[2].filter.tags.any = {"cask"};
    QCOMPARE(waiting.felt(), std::int64_t{0});
    Played pointed; // it would be offered the pointer too (P1)
    pointed.scene.snares[0].filter.groups = {"pointer"};
    QCOMPARE(pointed.felt(), std::int64_t{0});
}

void TestResume::aLookIsFeltWhenItWasFirstWorn()
{
    Played played;
    played.scene.pieces[0].looks.entries[0].second.colour = {"#445566"};
    QVERIFY2(played.felt() > 30 && played.felt() <= 46, qPrintable(QString::number(played.felt())));
    played.scene.pieces[0].look.colour = {"#445566"};
    QVERIFY(played.felt() <= 1);
    Played other;
    other.scene.pieces[0].at = {-3, 0};
    QCOMPARE(other.felt(), std::int64_t{0});
}

/// What was worn before a restart is shown as it was, and a run can go on from there.
void TestResume::looksStayKnownOverARestart_T5()
{
    const auto scene = std::make_shared<const scene::Scene>(sceneFrom(
        R"('pieces': [{'id': 'lamp', 'look': {'colour': '#000001'}, 'shapes': [{'box': [1, 1]}],
                       'looks': {'red': {'colour': '#aa0000'}, 'blue': {'colour': '#0000aa'}}}],
           'snares': [{'id': 'r', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'look', 'on': 'lamp', 'to': 'red'}]},
                      {'id': 'b', 'catch': {'event': 'key-down', 'key': 'b'}, 'responses': [{'do': 'look', 'on': 'lamp', 'to': 'blue'}]},
                      {'id': 'again', 'catch': {'event': 'key-down', 'key': 'space'}, 'responses': [{'do': 'restart'}]}])"));
    scene::Take take = takeOf({{"r", 0.2}, {"b", 0.4}, {"space", 0.8}, {"b", 1.2}});
    const auto worn = [](const sim::Record& record, double seconds) {
        const auto state = record.snapshots.at(std::llround(seconds * 60)).front();
        return QString::fromStdString(record.looks.at(static_cast<std::size_t>(state.look)).colour.code);
    };
    const QStringList wanted{QStringLiteral("#000001"), QStringLiteral("#aa0000"), QStringLiteral("#0000aa"),
                             QStringLiteral("#000001"), QStringLiteral("#0000aa")};
    const sim::Resumable before = sim::rerunFrom(nullptr, scene, take, {}, {.leastBetween = 10});
    take.inputs.push_back(keyAt(0.7, "q", true)); // from a checkpoint before the restart
    const sim::Resumable after = sim::rerunFrom(&before, scene, take, {}, {.leastBetween = 10});
    QVERIFY(after.from > 24 && after.from < 48);
    for (const auto& record : {before.record, after.record}) {
        QStringList looks;
        for (const double seconds : {0.1, 0.3, 0.6, 1.0, 1.5})
            looks << worn(*record, seconds);
        QCOMPARE(looks, wanted);
        QCOMPARE(record->looks.size(), std::size_t{3});
    }
}

void TestResume::wordsAreNeverFelt()
{
    Played played;
    played.scene.name = "Another";
    played.scene.snares[0].note = "said otherwise";
    played.take.note = "what it is for";
    QCOMPARE(played.felt(), never);
}

void TestResume::whatIsLookedAtWhileItRunsIsRunFromTheStart_E3()
{
    Played played;
    played.take.expect.emplace_back();
    played.take.expect.back().line.snare = "come";
    QCOMPARE(played.felt(), never); // told from the log
    played.take.expect.back() = {};
    played.take.expect.back().value = "cart.x";
    played.take.expect.back().always = true;
    played.take.expect.back().to = scene::Scalar{3.0};
    QCOMPARE(played.felt(), std::int64_t{0});
}

void TestResume::picturesThatWereTracedAnewAreRunFromTheStart()
{
    Played played;
    scene::Traced traced;
    traced.image = "chart.png";
    traced.tracing.areas = std::make_shared<const std::vector<scene::TracedArea>>();
    played.scene.pieces[1].shapes[0].geometry = traced;
    played.run = sim::rerunFrom(nullptr, std::make_shared<const scene::Scene>(played.scene), played.take);
    QCOMPARE(played.felt(), never);
    traced.tracing.areas = std::make_shared<const std::vector<scene::TracedArea>>(1);
    played.scene.pieces[1].shapes[0].geometry = traced;
    QCOMPARE(played.felt(), std::int64_t{0});
}

/// What was spawned before the edit is made of the scene that went on.
void TestResume::aRecordNeedsNoSceneButItsOwn()
{
    const auto scene =
        std::make_shared<const scene::Scene>(sceneFrom(R"('templates': {'cask': {'shapes': [{'circle': 0.3}]}},
        'snares': [{'id': 'come', 'catch': {'event': 'start'}, 'responses': [{'do': 'spawn', 'template': 'cask', 'at': [0, 0]}]},
                   {'id': 'late', 'catch': {'event': 'key-down', 'key': 'q'}, 'responses': [{'do': 'log', 'text': 'x'}]}])"));
    const scene::Take take = takeFrom(R"({'t': 1.5, 'key': 'q', 'down': true})", 2);
    sim::Resumable run = sim::rerunFrom(nullptr, scene, take);
    for (int edit = 0; edit < 2; ++edit) {
        scene::Scene edited = *run.record->scene;
        edited.snares[1].responses.emplace_back(edited.snares[1].responses.front());
        run = sim::rerunFrom(&run, std::make_shared<const scene::Scene>(edited), take);
        QVERIFY(run.from > 0);
        QCOMPARE(run.record->pieces.size(), std::size_t(1));
        QCOMPARE(run.record->pieces[0].model, &run.record->scene->templates.entries[0].second.model);
    }
}

void TestResume::aCancelledRunHasNoCheckpoints()
{
    Played played;
    QVERIFY(!played.run.checkpoints.empty());
    const std::atomic<bool> cancelled{true};
    sim::RerunOptions options;
    options.cancelled = &cancelled;
    const auto run =
        sim::rerunFrom(&played.run, std::make_shared<const scene::Scene>(played.scene), played.take, options);
    QVERIFY(run.checkpoints.empty());
}

void TestResume::checkpointsKeepToTheirBudget()
{
    Played played;
    const auto scene = std::make_shared<const scene::Scene>(played.scene);
    played.take.length = 20;
    const auto many = sim::rerunFrom(nullptr, scene, played.take);
    const auto few = sim::rerunFrom(nullptr, scene, played.take, {}, {.bytes = 60'000});
    QVERIFY(few.checkpoints.size() < many.checkpoints.size());
    QVERIFY(sim::rerunFrom(nullptr, scene, played.take, {}, {.bytes = 0}).checkpoints.empty());
}

QTEST_APPLESS_MAIN(TestResume)
#include "test_resume.moc"
