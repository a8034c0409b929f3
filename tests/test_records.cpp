// SPDX-License-Identifier: Apache-2.0
#include "app/lanes.h"
#include "builder.h"
#include "check/compare.h"
#include "io/document.h"

#include <QTest>

#include <map>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

class TestRecords : public QObject {
    Q_OBJECT

  private slots:
    void textsAreKeptOnceEach();
    void theSameTakeGivesTheSameLog_T3();
    void aCopiedRunGoesOnTheSame_T3();
    void everyTickCanBeShown();
    void comparingTellsNewGoneAndMoved();
    void lanesShowMeetingsKeysAndSnares();
    void overlappingBarsStandInRowsOfTheirOwn();
    void aRestartClosesTheBars();
};

namespace {

scene::Scene demoScene()
{
    return *io::loadScene(SNARE_DEMO_FOLDER "/weigh-in.snare.json");
}

scene::Take demoTake()
{
    return *io::loadTake(SNARE_DEMO_FOLDER "/weigh-in.take.json");
}

const app::Lane& laneOf(const std::vector<app::Lane>& lanes, const std::string& key)
{
    return *std::ranges::find(lanes, key, &app::Lane::key);
}

} // namespace

void TestRecords::textsAreKeptOnceEach()
{
    rules::Texts texts;
    QCOMPARE(texts.keep(""), rules::Texts::Id{0});
    QVERIFY(!texts.known("gate"));
    std::map<std::string, rules::Texts::Id> kept;
    rules::Texts before;
    for (int i = 0; i < 20'000; ++i) {
        if (i == 5'000)
            before = texts;
        const std::string text = std::to_string(i * 7919 % 9'000) + (i % 3 == 0 ? std::string(40, 'q') : "");
        const auto id = texts.keep(text);
        const auto [known, fresh] = kept.emplace(text, id);
        QCOMPARE(id, known->second);
    }
    for (const auto& [text, id] : kept) {
        QCOMPARE(QString::fromStdString(std::string(texts.at(id))), QString::fromStdString(text));
        QVERIFY(texts.known(text) == id);
    }
    QVERIFY(!texts.known("never said"));
    // A copy goes on by itself.
    QVERIFY(!before.known("later"));
    texts.keep("later");
    QVERIFY(!before.known("later"));
    QCOMPARE(before.keep("sooner"), before.keep("sooner"));
}

void TestRecords::theSameTakeGivesTheSameLog_T3()
{
    const std::string first = io::logText(play(demoScene(), demoTake()));
    QVERIFY(first.size() > 10000);
    QVERIFY(first == io::logText(play(demoScene(), demoTake())));
}

void TestRecords::aCopiedRunGoesOnTheSame_T3()
{
    const auto scene = std::make_shared<const scene::Scene>(demoScene());
    const auto inputs = sim::inputsByTick(demoTake(), scene->rate);
    rules::Journal journal;
    sim::Run run{scene};
    run.start(journal);
    const auto advance = [&](sim::Run& one, rules::Journal& into, std::int64_t to) {
        while (one.tickNumber() < to) {
            std::vector<scene::Input> now;
            for (const auto& [tick, input] : inputs)
                if (tick == one.tickNumber() + 1)
                    now.push_back(input);
            one.tick(now, into);
        }
    };
    advance(run, journal, 250); // in the middle of a move that is waited for
    sim::Run copy = run;
    rules::Journal copied = journal;
    advance(run, journal, 900);
    advance(copy, copied, 900);
    QCOMPARE(copied.lines.size(), journal.lines.size());
    QCOMPARE(io::finalText(copy), io::finalText(run));
}

void TestRecords::everyTickCanBeShown()
{
    const auto scene = std::make_shared<const scene::Scene>(demoScene());
    sim::Recorder recorder{scene};
    const auto inputs = sim::inputsByTick(demoTake(), scene->rate);
    std::vector<geometry::Table<geometry::Pose>> seen{recorder.run().world().pose};
    for (std::int64_t tick = 1; tick <= 700; ++tick) {
        std::vector<scene::Input> now;
        for (const auto& [at, input] : inputs)
            if (at == tick)
                now.push_back(input);
        recorder.tick(now);
        seen.push_back(recorder.run().world().pose);
    }
    for (const std::int64_t tick : {0, 1, 63, 64, 65, 300, 699, 700}) {
        const auto states = recorder.record().frames.at(tick);
        for (std::size_t i = 0; i < states.size(); ++i)
            QVERIFY(states[i].pose == seen[static_cast<std::size_t>(tick)][i]);
    }
}

void TestRecords::comparingTellsNewGoneAndMoved()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-4, 0}, {3.1, 0})};
    const sim::Record before = play(scene, {}, 2);
    QVERIFY(check::compare(before, play(scene, {}, 2)).none());

    scene.pieces[0].at.x = 0.3; // a little later
    const auto moved = check::compare(before, play(scene, {}, 2));
    QVERIFY(moved.fresh.empty() && moved.gone.empty());
    QCOMPARE(moved.moved.size(), std::size_t{4}); // in and out, both sides

    scene.pieces[0].at.y = 10; // never met
    const auto gone = check::compare(before, play(scene, {}, 2));
    QCOMPARE(gone.gone.size(), std::size_t{4});
    QVERIFY(gone.fresh.empty() && gone.moved.empty());
    const auto back = check::compare(play(scene, {}, 2), before);
    QCOMPARE(back.fresh.size(), std::size_t{4});
}

void TestRecords::lanesShowMeetingsKeysAndSnares()
{
    const sim::Record record = play(demoScene(), demoTake());
    const auto lanes = app::lanesOf(record);
    const app::Lane& plate = laneOf(lanes, "zone scale/plate");
    QCOMPARE(plate.bars.front().text, QStringLiteral("courier"));
    QVERIFY(plate.bars.front().from < plate.bars.front().to);
    const app::Lane& weigh = laneOf(lanes, "snare weigh");
    QVERIFY(
        std::ranges::any_of(weigh.marks, [](const app::LaneMark& mark) { return mark.kind == app::MarkKind::sprung; }));
    QVERIFY(std::ranges::any_of(weigh.marks,
                                [](const app::LaneMark& mark) { return mark.kind == app::MarkKind::slipped; }));
    QVERIFY(laneOf(lanes, "signals").marks.size() >= 2);
    QVERIFY(laneOf(lanes, "keys").bars.size() >= 5);
    QVERIFY(laneOf(lanes, "value scene.weighed").steps.size() >= 3);
}

void TestRecords::overlappingBarsStandInRowsOfTheirOwn()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("a", {-3, 0}, {2, 0}), mover("b", {-3.3, 0}, {2, 0})};
    const auto lanes = app::lanesOf(play(scene, {}, 4));
    const app::Lane& lane = laneOf(lanes, "zone z/0");
    QCOMPARE(lane.rows, 2);
    QVERIFY(lane.bars[0].row != lane.bars[1].row);
}

void TestRecords::aRestartClosesTheBars()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-2, 0}, {3, 0})};
    scene.snares = {onKey("r", "r", {scene::Restart{}})};
    const auto lanes = app::lanesOf(play(scene, takeOf({{"r", 0.5}}), 1));
    const app::Lane& lane = laneOf(lanes, "zone z/0");
    QCOMPARE(lane.bars.size(), std::size_t{2});
    QCOMPARE(lane.bars[0].to, 30.0);
}

QTEST_APPLESS_MAIN(TestRecords)
#include "test_records.moc"
