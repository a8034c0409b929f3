// SPDX-License-Identifier: Apache-2.0
/// The demos do what they are there to show.
#include "builder.h"
#include "io/log.h"
#include "sim/resume.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

struct Demo {
    scene::Scene scene;
    scene::Take take;
    sim::Record record;
};

Demo demo(const std::string& name)
{
    const std::string base = std::string(SNARE_DEMO_FOLDER "/") + name;
    const auto scene = io::loadScene(base + ".snare.json");
    const auto take = io::loadTake(base + ".take.json");
    if (!scene || !take)
        qFatal("%s cannot be loaded", name.c_str());
    return {*scene, *take, play(*scene, *take)};
}

qsizetype sprungIn(const sim::Record& record, const std::string& snare)
{
    return outcomesOf(record, snare).filter("sprung").size();
}

qsizetype exitsOf(const sim::Record& record, const std::string& self, const std::string& shape, const std::string& by)
{
    return std::ranges::count_if(record.journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::event && line.event == scene::EventKind::exit &&
               record.nameOf(line.self) == self && record.nameOf(line.visitor) == by &&
               record.shapeNameOf(line.shape) == shape;
    });
}

} // namespace

class TestDemos : public QObject {
    Q_OBJECT

  private slots:
    void dutySlipsAreHandedOutStampedAndAskedFor();
    void theTideTurnsForEveryListenerByItsOwnValues();
    void boatsMoorAtFreeRingsAndAreMadeFast();
    void pegsNetsTideAndHitchAtTheChartTable();
    void tagsTrapsAndTheCapstanOfTheEelWatch();
    void casksTipTheFlapSinkTheBasketAndTheCourierRidesUp();
    void mudSlowsBootsAreScrapedAndTheLastCaskEndsTheShift();
    void everyBlowDrivesThePileAndFlushesHerons();
    void aCrateTumblesDownTheStairsAndChangesItsLookWithEachBump();
    void lampsArePutOutOnlyByWhoLitThem();
    void ringsCatchDriftwoodAndARammedLaunchBeginsAgain();
    void aBoatGoesThroughTheLocks();
    void everyDemoIsRunOnAsFromItsStart_data();
    void everyDemoIsRunOnAsFromItsStart();
    void demosAreAsTheProgramSavesThem_data();
    void demosAreAsTheProgramSavesThem();
};

void TestDemos::dutySlipsAreHandedOutStampedAndAskedFor()
{
    const Demo d = demo("duty-slips");
    QCOMPARE(sprungIn(d.record, "hand-out-slip"),
             3); // the courier and Ottilie, once each; the courier in the next shift
    QVERIFY(reasonsOf(d.record, "hand-out-slip").contains("filter: has tag slip"));
    QCOMPARE(sprungIn(d.record, "open-ledger"), 1);
    QCOMPARE(sprungIn(d.record, "stamp-slip"), 1);
    QCOMPARE(sprungIn(d.record, "send-warden"), 2); // each left once without a stamp
    QCOMPARE(sprungIn(d.record, "good-day"), 1);
    QVERIFY(reasonsOf(d.record, "ring-bell").front().startsWith("gate: not again for 3 s"));
    // The ledger must be open before the stamp listens.
    QVERIFY(outcomesOf(d.record, "open-ledger").front().section(' ', 0, 0).toInt() <
            outcomesOf(d.record, "stamp-slip").front().section(' ', 0, 0).toInt());
    QVERIFY(d.record.stopReason.empty());
    // The shift opens, ends, and is played again from a clean state.
    QCOMPARE(sprungIn(d.record, "open-shift"), 2);
    QCOMPARE(sprungIn(d.record, "play-again"), 1);
    QStringList phases;
    for (const rules::PhaseChange& change : d.record.journal.phases)
        if (change.owner == world::theScene)
            phases << QString::fromStdString(change.phase);
    QCOMPARE(phases, QStringList({"shift", "after", "before", "shift"}));
    QCOMPARE(lastValue(d.record, "scene", "stamped"), QStringLiteral("0"));
    const auto board =
        std::ranges::find(d.record.pieces, "closing-board", &sim::RunPiece::id) - d.record.pieces.begin();
    QVERIFY(d.record.snapshots.at(1080)[static_cast<std::size_t>(board)].here);
    QVERIFY(!d.record.snapshots.at(600)[static_cast<std::size_t>(board)].here);
}

void TestDemos::theTideTurnsForEveryListenerByItsOwnValues()
{
    const Demo d = demo("flood-tide");
    QCOMPARE(sprungIn(d.record, "tide-turns"), 1); // steady by its band, though the dial goes back and forth
    QCOMPARE(sprungIn(d.record, "barges-ride"), 3);
    QCOMPARE(sprungIn(d.record, "buoys-swing"), 3);
    QCOMPARE(outcomesOf(d.record, "lamps-warn").size(), 2);
    QCOMPARE(sprungIn(d.record, "lamps-warn"), 1);
    // The keeper goes on only when the last of them is done.
    std::int32_t said = -1;
    std::int32_t lastDone = -1;
    for (const rules::Line& line : d.record.journal.lines) {
        if (line.kind == rules::LineKind::response && rules::responseOf(line) == "say" &&
            d.record.nameOf(line.self) == "keeper")
            said = line.tick;
        if (line.kind == rules::LineKind::event && line.event == scene::EventKind::arrived && said < 0)
            lastDone = line.tick;
    }
    QVERIFY(said >= lastDone && lastDone > 0);
    const auto lock =
        d.record.scene ? std::ranges::find(d.record.pieces, "lock", &sim::RunPiece::id) - d.record.pieces.begin() : 0;
    QCOMPARE(QString::fromStdString(sim::phaseAt(d.record, static_cast<world::PieceIndex>(lock), 600)),
             QStringLiteral("open"));
    QCOMPARE(QString::fromStdString(sim::phaseAt(d.record, static_cast<world::PieceIndex>(lock), d.record.lastTick())),
             QStringLiteral("shut"));
}

void TestDemos::boatsMoorAtFreeRingsAndAreMadeFast()
{
    const Demo d = demo("berths");
    QVERIFY(sprungIn(d.record, "boat-moors") >= 4);
    QVERIFY(sprungIn(d.record, "refuse-berth") >= 1); // a ring that was taken, and another was tried
    QVERIFY(sprungIn(d.record, "ring-line") >= 3);
    QVERIFY(sprungIn(d.record, "draught-reports") >= 4);
    QVERIFY(sprungIn(d.record, "boat-gone") >= 1);
    // No ring was ever given to two boats at once.
    std::map<std::string, int> held;
    for (const rules::ValueChange& change : d.record.journal.values)
        if (const auto value = d.record.journal.valueOf(change);
            value && d.record.journal.texts.at(change.name) == "taken") {
            const bool taken = std::get<bool>(*value);
            QVERIFY(!taken || held[std::string(d.record.nameOf(change.owner))] == 0);
            held[std::string(d.record.nameOf(change.owner))] = taken ? 1 : 0;
        }
    // With another seed they choose otherwise.
    scene::Take other = d.take;
    other.seed = 4;
    QVERIFY(io::logText(play(d.scene, other)) != io::logText(d.record));
}

void TestDemos::pegsNetsTideAndHitchAtTheChartTable()
{
    const Demo d = demo("chart-table");
    const auto placeOf = [&](const std::string& id) {
        const auto found = std::ranges::find(d.record.pieces, id, &sim::RunPiece::id);
        return d.record.snapshots.at(d.record.lastTick())[static_cast<std::size_t>(found - d.record.pieces.begin())]
            .pose.at;
    };
    // By two clicks, and by one drag from the glass.
    QCOMPARE(number(d.record, "pegs"), 2.0);
    QCOMPARE(placeOf("peg-1"), Vec(-10, -2));
    QCOMPARE(placeOf("peg-2"), Vec(-3, -4));
    // Four of the five nets were in the box.
    QCOMPARE(number(d.record, "hauled"), 4.0);
    QCOMPARE(sprungIn(d.record, "sill-shuts"), 1);
    QCOMPARE(sprungIn(d.record, "sill-opens"), 1);
    // The first hitch was not near enough.
    QCOMPARE(outcomesOf(d.record, "moor"), (QStringList{"576 moor slipped filter", "612 moor sprung"}));
    QVERIFY(glm::length(placeOf("ketch") - Vec(4.5, -5.5)) < 0.01);
    QCOMPARE(sprungIn(d.record, "log-opens"), 1);
    QCOMPARE(sprungIn(d.record, "log-closes"), 1);
}

void TestDemos::tagsTrapsAndTheCapstanOfTheEelWatch()
{
    const Demo d = demo("eel-watch");
    QVERIFY(sprungIn(d.record, "read-tag") >= 3);
    QCOMPARE(sprungIn(d.record, "stake"), 4);
    QCOMPARE(sprungIn(d.record, "none-left"), 1);
    QCOMPARE(sprungIn(d.record, "lift"), 1);
    // E counts only at the capstan: the first press, far from it, was heard by nobody.
    QCOMPARE(outcomesOf(d.record, "haul-in"), QStringList{"708 haul-in sprung"});
    QCOMPARE(sprungIn(d.record, "trap-in"), 3);
    QCOMPARE(number(d.record, "traps"), 4.0);
}

void TestDemos::casksTipTheFlapSinkTheBasketAndTheCourierRidesUp()
{
    const Demo d = demo("barrel-ramp");
    QCOMPARE(sprungIn(d.record, "count-cask"), 3);
    QVERIFY(
        reasonsOf(d.record, "count-cask").contains("filter: needs visitor.weight >= 20; it is 5")); // kegs roll over
    QCOMPARE(sprungIn(d.record, "sink"), 1);
    QCOMPARE(sprungIn(d.record, "rise"), 1);
    QCOMPARE(sprungIn(d.record, "ring-bell"), 1); // up the shrouds, on to the crow's nest
    QCOMPARE(number(d.record, "loads"), 1.0);
    // It rides up in the basket without a hop: one meeting with its floor from stepping in to
    // jumping out.
    QCOMPARE(exitsOf(d.record, "basket", "floor", "courier"), 1);
}

void TestDemos::mudSlowsBootsAreScrapedAndTheLastCaskEndsTheShift()
{
    const Demo d = demo("wet-mud");
    QCOMPARE(sprungIn(d.record, "wade"), 2); // two pools of one colour
    QCOMPARE(sprungIn(d.record, "scrape"), 1);
    QCOMPARE(sprungIn(d.record, "catch-cask"), 3);
    QCOMPARE(sprungIn(d.record, "last-cask"), 1);
    QCOMPARE(sprungIn(d.record, "play-again"), 1);
    QCOMPARE(number(d.record, "lifted"), 0.0); // all over again
}

void TestDemos::everyBlowDrivesThePileAndFlushesHerons()
{
    const Demo d = demo("pile-driver");
    QCOMPARE(sprungIn(d.record, "blow"), 5);
    QCOMPARE(sprungIn(d.record, "flush"), 3); // each heron once, the boldest at the hardest blow
    QCOMPARE(sprungIn(d.record, "driven"), 1);
    const auto pile = std::ranges::find(d.record.pieces, "pile", &sim::RunPiece::id) - d.record.pieces.begin();
    double before = 1e9;
    for (std::int64_t tick = 0; tick <= d.record.lastTick(); ++tick) {
        const double y = d.record.snapshots.at(tick)[static_cast<std::size_t>(pile)].pose.at.y;
        QVERIFY(y <= before); // never out again
        before = y;
    }
    QVERIFY(before < -1);
}

void TestDemos::aCrateTumblesDownTheStairsAndChangesItsLookWithEachBump()
{
    const Demo d = demo("stairs");
    QCOMPARE(sprungIn(d.record, "shove"), 1);
    QCOMPARE(sprungIn(d.record, "down-at-last"), 1);
    const auto bumps = sprungIn(d.record, "bump");
    QVERIFY(bumps >= 6); // once on each step, and more
    QCOMPARE(number(d.record, "bumps"), static_cast<double>(bumps));
    const auto crate = std::ranges::find(d.record.pieces, "crate", &sim::RunPiece::id) - d.record.pieces.begin();
    const auto poseAt = [&](std::int64_t tick) {
        return d.record.snapshots.at(tick)[static_cast<std::size_t>(crate)].pose;
    };
    QVERIFY(poseAt(0).at.y > 5 && poseAt(d.record.lastTick()).at.y < -1);
    QVERIFY(std::abs(poseAt(d.record.lastTick()).turn) > 45); // it did tumble
}

void TestDemos::lampsArePutOutOnlyByWhoLitThem()
{
    const Demo d = demo("lamp-round");
    QCOMPARE(sprungIn(d.record, "light-up"), 1);
    QCOMPARE(sprungIn(d.record, "put-out"), 1); // not the first time, when it was not armed
    const auto slipped = std::ranges::count_if(d.record.journal.lines, [&](const rules::Line& line) {
        return line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::slipped &&
               d.record.journal.textOf(line) == "disarmed";
    });
    QCOMPARE(slipped, std::ptrdiff_t{1});
    QCOMPARE(number(d.record, "lit"), 0.0);
}

void TestDemos::ringsCatchDriftwoodAndARammedLaunchBeginsAgain()
{
    const Demo d = demo("line-thrower");
    QCOMPARE(sprungIn(d.record, "caught"), 10);
    QCOMPARE(sprungIn(d.record, "rammed"), 1);
    QCOMPARE(number(d.record, "caught"), 5.0); // those after it all began again
    QVERIFY(sprungIn(d.record, "over-the-weir") > 0);
}

/// A boat goes through three locks of one assembly, one of them turned (A1–A3).
void TestDemos::aBoatGoesThroughTheLocks()
{
    const Demo d = demo("locks");
    QCOMPARE(sprungIn(d.record, "open"), 3);
    QCOMPARE(sprungIn(d.record, "light"), 3); // each lamp hears its own lock only
    QCOMPARE(sprungIn(d.record, "close"), 3);
    QCOMPARE(number(d.record, "passed"), 3.0);
}

void TestDemos::everyDemoIsRunOnAsFromItsStart_data()
{
    demosAreAsTheProgramSavesThem_data();
}

/// A late key is run from a checkpoint on, with kits and assemblies too (sim/resume.h).
void TestDemos::everyDemoIsRunOnAsFromItsStart()
{
    QFETCH(QString, name);
    const Demo d = demo(name.toStdString());
    const auto scene = std::make_shared<const scene::Scene>(d.scene);
    const sim::Resumable before = sim::rerunFrom(nullptr, scene, d.take);
    QCOMPARE(io::logText(*before.record), io::logText(d.record));
    scene::Take edited = d.take;
    edited.inputs.push_back(keyAt(0.9 * scene::lengthOf(d.take), "space", true));
    const sim::Resumable after = sim::rerunFrom(&before, scene, edited);
    QVERIFY(after.from > 0);
    QCOMPARE(io::logText(*after.record, true), io::logText(sim::rerun(scene, edited), true));
    QCOMPARE(after.record->probes.size(), before.record->probes.size());
}

void TestDemos::demosAreAsTheProgramSavesThem_data()
{
    QTest::addColumn<QString>("name");
    for (const char* name :
         {"weigh-in", "shoals", "duty-slips", "flood-tide", "berths", "chart-table", "eel-watch", "barrel-ramp",
          "wet-mud", "pile-driver", "stairs", "lamp-round", "line-thrower", "locks", "chain-ferry"})
        QTest::newRow(name) << QString(name);
}

void TestDemos::demosAreAsTheProgramSavesThem()
{
    QFETCH(QString, name);
    const Demo d = demo(name.toStdString());
    const std::string base = std::string(SNARE_DEMO_FOLDER "/") + name.toStdString();
    QCOMPARE(io::sceneText(d.scene), io::loadText(base + ".snare.json").value_or(std::string()));
    QCOMPARE(io::takeText(d.take), io::loadText(base + ".take.json").value_or(std::string()));
}

QTEST_APPLESS_MAIN(TestDemos)
#include "test_demos.moc"
