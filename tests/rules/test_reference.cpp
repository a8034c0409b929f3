// SPDX-License-Identifier: Apache-2.0
/// The engine against the reference on random scenes that shrink (tests/reference), and what holds
/// of every scene.
///
/// SNARE_CASES says how many of each; SNARE_SEED where to begin.
#include "builder.h"

#include "reference/cases.h"
#include "reference/reference.h"
#include "sim/resume.h"

#include <QTest>
#include <rapidcheck.h>

#include <cstdlib>

using namespace snare;
using namespace snare::tests;
using reference::Case;
using reference::Json;

namespace {

template <class T> rc::Gen<std::vector<T>> listOf(std::size_t most, rc::Gen<T> part)
{
    // The size of rapidcheck grows with the cases; here all are of one kind.
    return rc::gen::resize(static_cast<int>(most), rc::gen::container<std::vector<T>>(std::move(part)));
}

rc::Gen<Case> cases()
{
    const auto seed = rc::gen::noShrink(rc::gen::resize(1000, rc::gen::inRange<std::uint32_t>(0, 1u << 30)));
    return rc::gen::map(
        rc::gen::tuple(listOf(4, seed), listOf(9, rc::gen::pair(seed, listOf(4, seed))), listOf(9, seed)),
        [](std::tuple<std::vector<std::uint32_t>, std::vector<std::pair<std::uint32_t, std::vector<std::uint32_t>>>,
                      std::vector<std::uint32_t>>
               parts) {
            Case one{std::get<0>(parts), std::get<1>(parts), std::get<2>(parts)};
            if (one.pieces.size() > 4)
                one.pieces.resize(4);
            return one;
        });
}

/// A case that does not go on for too long.
std::pair<Case, reference::Result> shortCase()
{
    const Case one = *cases();
    reference::Result result = reference::run(reference::sceneOf(one), reference::takeOf(one), reference::caseSeconds);
    if (result.stopped == "too much")
        return {Case{}, reference::run(reference::sceneOf({}), reference::takeOf({}), reference::caseSeconds)};
    return {one, std::move(result)};
}

struct Played {
    std::vector<std::string> lines;
    std::string stopped;
};

Played playJson(const Json& scene, const Json& take)
{
    const auto read = io::readScene(scene.dump(), "case");
    RC_ASSERT(read.has_value());
    const auto inputs = io::readTake(take.dump(), "case");
    RC_ASSERT(inputs.has_value());
    const sim::Record record = play(*read, *inputs, reference::caseSeconds, true);
    Played played;
    for (const rules::Line& line : record.journal.lines)
        played.lines.push_back(reference::lineOf(Json::parse(io::logLine(record, line))));
    played.stopped = record.stopReason;
    return played;
}

/// Fails with the first difference and what it takes to see it again.
void compare(const std::vector<std::string>& got, const std::vector<std::string>& wanted, const Json& scene,
             const Json& take)
{
    for (std::size_t i = 0; i < std::max(got.size(), wanted.size()); ++i) {
        const std::string one = i < got.size() ? got[i] : "nothing";
        const std::string other = i < wanted.size() ? wanted[i] : "nothing";
        if (one == other)
            continue;
        std::string before;
        for (std::size_t j = i < 12 ? 0 : i - 12; j < i; ++j)
            before += "\n   " + got[j];
        RC_FAIL(fmt::format("line {}\n  the engine: {}\n  expected:   {}\n  after:{}\n{}\n{}", i, one, other, before,
                            scene.dump(), take.dump()));
    }
}

bool holds(const char* what, const std::function<void()>& property)
{
    return rc::check(what, property);
}

} // namespace

class TestReference : public QObject {
    Q_OBJECT

  private slots:
    void initTestCase();
    void theEngineDoesAsTheRulesSay();
    void theOrderOfWhatSettlesTogetherDoesNotMatter_K4();
    void aRunCopiedInTheMiddleGoesOnTheSame();
    void aRerunThatBeginsLaterIsTheSame();
    void aSceneWithKitsDoesAsOneWithout();
    void otherNamesGiveTheSameLog();
    void twoScenesInOneFileDoAsEachAlone();
};

void TestReference::initTestCase()
{
    if (qEnvironmentVariableIsSet("RC_PARAMS"))
        return;
    const QByteArray count = qEnvironmentVariableIsSet("SNARE_CASES") ? qgetenv("SNARE_CASES") : "1500";
    const QByteArray seed = qEnvironmentVariableIsSet("SNARE_SEED") ? qgetenv("SNARE_SEED") : "17";
    qputenv("RC_PARAMS", "max_success=" + count + " max_size=100 seed=" + seed);
}

void TestReference::theEngineDoesAsTheRulesSay()
{
    QVERIFY(holds("the engine does as the rules say", [] {
        const auto [one, wanted] = shortCase();
        const Json scene = reference::sceneOf(one);
        const Json take = reference::takeOf(one);
        const Played played = playJson(scene, take);
        RC_ASSERT(played.stopped.empty() == wanted.stopped.empty());
        if (played.stopped.empty())
            compare(played.lines, wanted.lines, scene, take);
    }));
}

/// K4: who removes, hides or disables whom first changes no event, only which of several causes is
/// the latest.
void TestReference::theOrderOfWhatSettlesTogetherDoesNotMatter_K4()
{
    QVERIFY(holds("the order of what settles together does not matter", [] {
        Json scene = reference::sceneOf(*cases());
        for (Json& snare : scene["snares"]) {
            for (const char* key : {"gate", "again", "claims", "during"})
                snare.erase(key);
            std::erase_if(snare["responses"].get_ref<Json::array_t&>(), [](const Json& step) {
                const Json what = step["do"];
                return (what != "remove" && what != "hide" && what != "disable") || step.contains("until") ||
                       step.contains("if");
            });
        }
        const Json take = reference::takeOf({{}, {}, {1, 2, 3, 4, 5, 6, 7, 8, 9}});
        const auto told = [&](const Json& one) {
            std::vector<std::string> lines;
            for (const std::string& line : playJson(one, take).lines)
                if (line.find(" response ") == std::string::npos && line.find(" note ") == std::string::npos) {
                    std::string text = line;
                    for (const std::string cause : {" removed ", " hidden ", " disabled "})
                        if (const auto at = text.find(cause); at != std::string::npos && text.find(" exit ") < at)
                            text.replace(at, cause.size(), " ended ");
                    lines.push_back(text);
                }
            std::ranges::sort(lines);
            return lines;
        };
        Json reversed = scene;
        for (Json& snare : reversed["snares"])
            std::ranges::reverse(snare["responses"].get_ref<Json::array_t&>());
        compare(told(reversed), told(scene), scene, take);
    }));
}

void TestReference::aRunCopiedInTheMiddleGoesOnTheSame()
{
    QVERIFY(holds("a run copied in the middle goes on the same", [] {
        const Case one = shortCase().first;
        const int middle = *rc::gen::resize(100, rc::gen::inRange(0, 20));
        const auto scene = std::make_shared<const scene::Scene>(*io::readScene(reference::sceneOf(one).dump(), "case"));
        const auto inputs = sim::inputsByTick(*io::readTake(reference::takeOf(one).dump(), "case"), scene->rate);
        const auto go = [&](sim::Run& run, rules::Journal& journal, int from, int to) {
            for (int tick = from; tick < to; ++tick) {
                std::vector<scene::Input> now;
                for (const auto& [at, input] : inputs)
                    if (at == tick)
                        now.push_back(input);
                run.tick(now, journal);
            }
        };
        const auto logOf = [&](const sim::Run& run, const rules::Journal& journal) {
            sim::Record record;
            record.scene = scene;
            record.journal = journal;
            for (std::size_t i = 0; i < run.world().pieces().size(); ++i)
                record.pieces.push_back({run.world().pieces()[i].id, run.world().pieces()[i].model, 0});
            for (std::size_t i = 0; i < run.world().shapes().size(); ++i)
                record.shapeNames.push_back(
                    {run.world().shapes()[i].piece, std::string(run.world().shapeName(static_cast<int>(i))), 0});
            return io::logText(record);
        };
        sim::Run run{scene};
        rules::Journal journal;
        journal.withStays = true;
        run.start(journal);
        go(run, journal, 1, middle);
        sim::Run copy = run;
        rules::Journal itsJournal = journal;
        go(run, journal, middle, 21);
        go(copy, itsJournal, middle, 21);
        RC_ASSERT(logOf(run, journal) == logOf(copy, itsJournal));
    }));
}

namespace {

/// All that a record says, as text.
std::string allOf(const sim::Record& record)
{
    std::string all = io::logText(record, true) + record.stopReason;
    for (std::int64_t tick = 0; tick <= record.lastTick(); ++tick) {
        for (const sim::PieceState& state : record.snapshots.at(tick))
            all += fmt::format("\n{} {} {} {} {} {} {} {} {} {} {} {} {}", state.pose.at.x, state.pose.at.y,
                               state.pose.turn, state.look, state.present, state.shown, state.enabled, state.here,
                               state.phase, state.dressed, state.movedBy, state.hiddenShapes, state.disabledShapes);
        const sim::Standing standing = sim::standingAt(record, tick);
        for (const sim::Insider& one : standing.inside)
            all += fmt::format("\nin {} {} {} {}", one.shape, one.visitor, one.since, one.part);
        all += fmt::format("\n{} {} {}", fmt::join(standing.keysDown, " "), fmt::join(standing.captions, " "),
                           record.linesFrom[static_cast<std::size_t>(tick)]);
    }
    for (const sim::RunPiece& piece : record.pieces)
        all += fmt::format("\n{} {} {}", piece.id, piece.born, piece.model->look.colour.code);
    for (const scene::Look& look : record.looks)
        all += "\n" + look.colour.code + look.label;
    for (const rules::ValueChange& value : record.journal.values)
        all += fmt::format("\n{} {} {}", value.tick, value.owner, record.journal.texts.at(value.name));
    for (const rules::PhaseChange& phase : record.journal.phases)
        all += fmt::format("\n{} {} {}", phase.tick, phase.owner, phase.phase);
    for (const sim::PointerMoment& moment : record.pointer)
        all += fmt::format("\n{} {} {}", moment.tick, moment.pointer.at.x, moment.buttons.size());
    for (const sim::Probe& probe : record.probes)
        all += fmt::format("\n{} {} {}", probe.held, probe.tick, probe.otherTick);
    return all;
}

/// What somebody may do to a scene and its take.
void editAtRandom(scene::Scene& scene, scene::Take& take, std::uint32_t what, std::uint32_t which)
{
    const auto some = [&](std::size_t count) { return which / 8 % count; };
    switch (what % 10) {
    case 0:
        if (!take.inputs.empty())
            take.inputs.erase(take.inputs.begin() + static_cast<std::ptrdiff_t>(some(take.inputs.size())));
        break;
    case 1:
        if (!take.inputs.empty())
            take.inputs[some(take.inputs.size())].t = which % 2500 * 0.001;
        break;
    case 2:
        take.inputs.push_back({which % 2500 * 0.001, scene::KeyInput{"a", true}});
        break;
    case 3:
        if (!scene.snares.empty())
            if (auto& responses = scene.snares[some(scene.snares.size())].responses; !responses.empty())
                responses.pop_back();
        break;
    case 4:
    case 5:
        if (!scene.snares.empty()) {
            scene::Set set;
            set.name = "edited";
            set.value = scene::Scalar{static_cast<double>(which % 9)};
            scene.snares[some(scene.snares.size())].responses.emplace_back().kind = set;
        }
        break;
    case 6:
        if (!scene.snares.empty())
            scene.snares[some(scene.snares.size())].filter.pieces = {"nobody"};
        break;
    case 7:
        scene.name = "renamed";
        if (!scene.snares.empty())
            scene.snares[some(scene.snares.size())].note = "said otherwise";
        break;
    case 8:
        if (!scene.pieces.empty()) {
            scene::Piece& piece = scene.pieces[some(scene.pieces.size())];
            piece.look.colour = {which % 2 ? "#123456" : piece.look.colour.code};
            for (auto& [name, look] : piece.looks.entries)
                look.label = "worn";
        }
        break;
    default:
        take.length = 0.5 + which % 40 * 0.1;
    }
}

} // namespace

/// What an edit cannot reach is not run again, and nobody can tell.
void TestReference::aRerunThatBeginsLaterIsTheSame()
{
    int later = 0;
    int edits = 0;
    QVERIFY(holds("a re-run that begins later is the same", [&] {
        const Case one = shortCase().first;
        auto scene = std::make_shared<const scene::Scene>(*io::readScene(reference::sceneOf(one).dump(), "case"));
        scene::Take take = *io::readTake(reference::takeOf(one).dump(), "case");
        take.length = reference::caseSeconds;
        constexpr sim::CheckpointPlan plan{.leastBetween = 2};
        sim::Resumable shown = sim::rerunFrom(nullptr, scene, take, {}, plan);
        for (int time = 0; time < 4; ++time) { // one after the other, as by hand
            scene::Scene edited = *scene;
            editAtRandom(edited, take,
                         *rc::gen::noShrink(rc::gen::resize(1000, rc::gen::inRange<std::uint32_t>(0, 1000))),
                         *rc::gen::noShrink(rc::gen::resize(1000, rc::gen::inRange<std::uint32_t>(0, 1u << 20))));
            scene = std::make_shared<const scene::Scene>(edited);
            shown = sim::rerunFrom(&shown, scene, take, {}, plan);
            later += shown.from > 0 ? 1 : 0;
            ++edits;
            if (shown.record->journal.lines.size() > 10'000) // the edit has set off a storm (K8)
                return;
            RC_ASSERT(allOf(*shown.record) == allOf(sim::rerun(scene, take)));
        }
    }));
    QVERIFY2(10 * later > edits, qPrintable(QStringLiteral("%1 of %2").arg(later).arg(edits)));
}

/// Routines, templates and the last snares may as well lie in a kit.
void TestReference::aSceneWithKitsDoesAsOneWithout()
{
    QVERIFY(holds("a scene with kits does as one without", [] {
        const Case one = shortCase().first;
        const Json scene = reference::sceneOf(one);
        const Json take = reference::takeOf(one);
        Json split = scene;
        Json kit{{"format", "fresh-snare-kit"},
                 {"version", 1},
                 {"routines", scene["routines"]},
                 {"templates", scene["templates"]},
                 {"snares", Json::array()}};
        auto& snares = split["snares"].get_ref<Json::array_t&>();
        while (!snares.empty() && kit["snares"].size() < 3) {
            kit["snares"].insert(kit["snares"].begin(), snares.back());
            snares.pop_back();
        }
        split.erase("routines");
        split.erase("templates");
        split["kits"] = Json::array({"kit"});
        const auto read = io::readScene(split.dump(), "case", [&](const std::string& name) {
            scene::LoadedKit loaded{name, {}, {}, 0};
            loaded.kit = *io::readKit(kit.dump(), "kit");
            return loaded;
        });
        RC_ASSERT(read.has_value());
        const sim::Record record = play(*read, *io::readTake(take.dump(), "case"), reference::caseSeconds, true);
        std::vector<std::string> lines;
        for (const rules::Line& line : record.journal.lines)
            lines.push_back(reference::lineOf(Json::parse(io::logLine(record, line))));
        compare(lines, playJson(scene, take).lines, split, take);
    }));
}

void TestReference::otherNamesGiveTheSameLog()
{
    QVERIFY(holds("other names give the same log", [] {
        const Case one = shortCase().first;
        const Json scene = reference::sceneOf(one, {"other-", 0});
        const Json take = reference::takeOf(one, {"other-", 0});
        std::vector<std::string> lines = playJson(scene, take).lines;
        for (std::string& line : lines)
            for (auto at = line.find("other-"); at != std::string::npos; at = line.find("other-"))
                line.erase(at, 6);
        compare(lines, playJson(reference::sceneOf(one), reference::takeOf(one)).lines, scene, take);
    }));
}

/// All that they share are the keys and the phases of the scene, which nobody changes here.
void TestReference::twoScenesInOneFileDoAsEachAlone()
{
    QVERIFY(holds("two scenes in one file do as each alone", [] {
        const reference::Names hereNames{"here-", 0};
        const reference::Names thereNames{"there-", 1000};
        const auto calm = [](Json scene) {
            const auto shared = [](const Json& step) {
                // What spawns without a place and without a piece that it is for stands in the
                // middle of the scene.
                return step["do"] == "restart" || step["do"] == "phase" ||
                       (step["do"] == "spawn" && !step.contains("at"));
            };
            for (Json& snare : scene["snares"]) {
                std::erase_if(snare["responses"].get_ref<Json::array_t&>(), shared);
                snare.erase("claims"); // of a start or a key it would claim it from the other scene
            }
            for (Json& routine : scene["routines"])
                std::erase_if(routine.get_ref<Json::array_t&>(), shared);
            return scene;
        };
        const Case first = shortCase().first;
        const Case second = shortCase().first;
        const Json here = calm(reference::sceneOf(first, hereNames));
        const Json there = calm(reference::sceneOf(second, thereNames));
        Json take = reference::takeOf(first, hereNames);
        const Json others = reference::takeOf(second, thereNames);
        for (const Json& input : others["inputs"])
            if (!input.contains("key"))
                take["inputs"].push_back(input);
        Json both = here;
        for (const char* list : {"groups", "contacts", "sources", "pieces", "snares"})
            for (const Json& one : there[list])
                both[list].push_back(one);
        for (const char* list : {"variables", "templates", "routines"})
            both[list].update(there[list]);
        const Played together = playJson(both, take);
        if (!together.stopped.empty())
            return;
        const auto of = [](const std::vector<std::string>& lines, const std::string& prefix) {
            std::vector<std::string> own;
            std::ranges::copy_if(lines, std::back_inserter(own),
                                 [&](const std::string& line) { return line.find(prefix) != std::string::npos; });
            return own;
        };
        compare(of(together.lines, " here-"), of(playJson(here, take).lines, " here-"), both, take);
        compare(of(together.lines, " there-"), of(playJson(there, take).lines, " there-"), both, take);
    }));
}

QTEST_APPLESS_MAIN(TestReference)
#include "test_reference.moc"
