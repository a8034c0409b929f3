// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/lanes.h"
#include "builder.h"
#include "check/compare.h"
#include "io/document.h"
#include "sim/recorder.h"

#include <QRegularExpression>
#include <QTest>

#include <filesystem>
#include <map>
#include <set>

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
    void theIndexTellsWhatReadingAllTells();
    void lanesThatGrowAreThoseOfTheWhole();
    void whatReachesIntoASpanIsFound();
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

/// All demos with their takes.
std::vector<std::pair<scene::Scene, scene::Take>> demos()
{
    std::vector<std::pair<scene::Scene, scene::Take>> result;
    for (const auto& file : std::filesystem::directory_iterator(SNARE_DEMO_FOLDER)) {
        const std::string path = file.path().string();
        const std::size_t ending = path.rfind(".take.json");
        if (ending == std::string::npos)
            continue;
        const auto take = io::loadTake(path);
        const auto scene = io::loadScene(path.substr(0, ending) + ".snare.json");
        if (scene && take)
            result.emplace_back(*scene, *take);
    }
    return result;
}

/// All that a lane shows, as a text.
QString shown(const app::Lane& lane)
{
    QString text = QString::fromStdString(lane.key) + QStringLiteral(" rows %1:").arg(lane.rows);
    for (const app::LaneBar& bar : lane.bars)
        text += QStringLiteral(" [%1 %2-%3 row %4 lines %5 %6]")
                    .arg(bar.text)
                    .arg(bar.from)
                    .arg(bar.to)
                    .arg(bar.row)
                    .arg(bar.line)
                    .arg(bar.endLine);
    for (const app::LaneMark& mark : lane.marks)
        text += QStringLiteral(" <%1 %2>").arg(mark.at).arg(mark.line);
    for (const app::LaneStep& step : lane.steps)
        text += QStringLiteral(" %1=%2").arg(step.at).arg(step.text);
    return text;
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
    std::vector<geometry::Table<geometry::Pose>> seen{recorder.run().world().pose()};
    for (std::int64_t tick = 1; tick <= 700; ++tick) {
        std::vector<scene::Input> now;
        for (const auto& [at, input] : inputs)
            if (at == tick)
                now.push_back(input);
        recorder.tick(now);
        seen.push_back(recorder.run().world().pose());
    }
    for (const std::int64_t tick : {0, 1, 63, 64, 65, 300, 699, 700}) {
        const auto states = recorder.record().snapshots.at(tick);
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

void TestRecords::theIndexTellsWhatReadingAllTells()
{
    int slips = 0;
    for (const auto& [scene, take] : demos()) {
        const sim::Record record = play(scene, take);
        const auto& lines = record.journal.lines;
        std::vector<std::array<int, 4>> counts(record.scene->snares.size());
        std::map<std::pair<std::size_t, std::string>, std::vector<std::int32_t>> missed;
        std::map<std::int32_t, std::vector<std::int32_t>> about;
        std::int32_t lastOutcome = -1;
        for (std::size_t i = 0; i < lines.size(); ++i) {
            const rules::Line& line = lines[i];
            const auto index = static_cast<std::int32_t>(i);
            QCOMPARE(record.index.lastOutcomeBefore(index), lastOutcome);
            if (line.about >= 0)
                about[line.about].push_back(index);
            if (line.kind != rules::LineKind::snare)
                continue;
            if (line.about >= 0)
                lastOutcome = index;
            const auto snare = static_cast<std::size_t>(line.snare);
            const bool sprang = line.outcome == rules::Outcome::sprung;
            ++counts[snare][0];
            counts[snare][1] += sprang || line.stage == rules::SlipStage::gate ? 1 : 0;
            counts[snare][2] += sprang ? 1 : 0;
            counts[snare][3] += sprang ? 1 : 0;
            static const QRegularExpression tail{QStringLiteral(R"((; it is .*|, (already|last|the last) at .*)$)")};
            const QString text = QString::fromStdString(record.journal.textOf(line)).remove(tail);
            if (!sprang)
                missed[{snare, std::string(rules::wordOf(line.stage)) + ": " + text.toStdString()}].push_back(index);
        }
        for (std::size_t i = 0; i < lines.size(); ++i) {
            std::vector<std::int32_t> told;
            record.index.forEachAbout(static_cast<std::int32_t>(i), [&](std::int32_t line) { told.push_back(line); });
            QVERIFY(told == about[static_cast<std::int32_t>(i)]);
        }
        for (std::size_t snare = 0; snare < counts.size(); ++snare) {
            QVERIFY(record.index.countsOf(static_cast<std::int32_t>(snare)) == counts[snare]);
            for (const auto& one : record.index.missedBy(static_cast<std::int32_t>(snare))) {
                const std::string reason =
                    std::string(rules::wordOf(one.stage)) + ": " + std::string(record.index.textOf(one));
                const auto& wanted = missed[{snare, reason}];
                QCOMPARE(one.times, static_cast<int>(wanted.size()));
                for (std::size_t k = 0; k < one.lines.size(); ++k)
                    QCOMPARE(one.lines[k], k < wanted.size() ? wanted[k] : -1);
                slips += one.times;
                missed.erase({snare, reason});
            }
        }
        QVERIFY(missed.empty());
        // Values and phases, asked at every tick at which any changed and just before.
        for (const rules::ValueChange& change : record.journal.values)
            for (const int earlier : {0, 1}) {
                const std::string name{record.journal.texts.at(change.name)};
                std::optional<scene::Scalar> wanted = sim::valueAt(record, change.owner, name, -1);
                for (const rules::ValueChange& one : record.journal.values)
                    if (one.tick <= change.tick - earlier && one.owner == change.owner && one.name == change.name)
                        wanted = record.journal.valueOf(one);
                QVERIFY(sim::valueAt(record, change.owner, name, change.tick - earlier) == wanted);
            }
        for (const rules::PhaseChange& change : record.journal.phases) {
            std::string last;
            for (const rules::PhaseChange& one : record.journal.phases)
                if (one.owner == change.owner && one.tick <= change.tick)
                    last = one.phase;
            QCOMPARE(sim::phaseAt(record, change.owner, change.tick), last);
        }
    }
    QVERIFY2(slips > 100, qPrintable(QString::number(slips)));
}

void TestRecords::lanesThatGrowAreThoseOfTheWhole()
{
    std::size_t bars = 0;
    for (const auto& [scene, take] : demos()) {
        sim::Recorder recorder{std::make_shared<const scene::Scene>(scene), false, take.seed};
        app::LaneBook book;
        const auto inputs = sim::inputsByTick(take, scene.rate);
        auto next = inputs.begin();
        const std::int64_t last = rules::lastTick(scene::lengthOf(take), scene.rate);
        for (std::int64_t tick = 1; tick <= last && !recorder.stopped(); ++tick) {
            std::vector<scene::Input> now;
            for (; next != inputs.end() && next->first == tick; ++next)
                now.push_back(next->second);
            recorder.tick(now);
            if (tick % 7 == 0)
                book.follow(recorder.share());
        }
        book.follow(recorder.share());
        const std::vector<app::Lane> whole = app::lanesOf(recorder.record());
        QCOMPARE(book.lanes().size(), whole.size());
        for (std::size_t i = 0; i < whole.size(); ++i) {
            QCOMPARE(shown(book.lanes()[i]), shown(whole[i]));
            bars += whole[i].bars.size();
            // Bars of a row follow each other.
            for (const auto& row : whole[i].byRow)
                for (std::size_t k = 1; k < row.size(); ++k)
                    QVERIFY(whole[i].bars[static_cast<std::size_t>(row[k - 1])].to <=
                            whole[i].bars[static_cast<std::size_t>(row[k])].from);
        }
    }
    QVERIFY(bars > 200);
}

void TestRecords::whatReachesIntoASpanIsFound()
{
    const auto lanes = app::lanesOf(play(demoScene(), demoTake()));
    int found = 0;
    for (const app::Lane& lane : lanes)
        for (double from = 0; from < 1500; from += 37)
            for (const double length : {0.0, 5.0, 300.0}) {
                const double to = from + length;
                std::set<std::int32_t> wanted;
                std::set<std::int32_t> got;
                for (std::size_t i = 0; i < lane.bars.size(); ++i)
                    if (lane.bars[i].to >= from && lane.bars[i].from <= to)
                        wanted.insert(static_cast<std::int32_t>(i));
                for (std::size_t row = 0; row < lane.byRow.size(); ++row)
                    for (const std::int32_t bar : app::barsBetween(lane, row, from, to))
                        got.insert(bar);
                QVERIFY(got == wanted);
                found += static_cast<int>(got.size());
                const auto marks = app::marksBetween(lane, from, to);
                for (const app::LaneMark& mark : lane.marks)
                    if (mark.at >= from && mark.at <= to)
                        QVERIFY(&mark >= marks.data() && &mark < marks.data() + marks.size());
            }
    QVERIFY(found > 100);
}

QTEST_APPLESS_MAIN(TestRecords)
#include "test_records.moc"
