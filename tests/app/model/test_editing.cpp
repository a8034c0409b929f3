// SPDX-License-Identifier: Apache-2.0
/// What edits do to a scene, without a window: clips, arranging, threads, takes of a document,
/// presses.
#include "app/ground/ground_scene.h"
#include "app/model/arrange.h"
#include "app/model/document.h"
#include "app/model/take_edit.h"
#include "app/ui/words.h"
#include "builder.h"
#include "check/findings.h"
#include "scene/clip.h"
#include "scene/templates.h"
#include "world/outline.h"

#include <QTemporaryDir>
#include <QTest>

#include <random>
#include <set>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

class TestEditing : public QObject {
    Q_OBJECT

  private slots:
    void aClipHoldsPiecesTemplatesAndTheirSnares();
    void pastingKeepsWhatMentionsWhatTogether();
    void pastingATemplateOfTheSameNameThatIsAnother();
    void pastedScenesHaveNoNewProblems();
    void aCopiedSnareCatchesAtItsNewPiece();
    void everySideAligns();
    void alignedPiecesStayAligned();
    void threadsGoFromEveryCatcherToEveryTarget();
    void manyPiecesAndThreadsAreFoundInGoodTime();
    void randomPressesAreTakenOutAndPutBack();
    void aTakeThatCannotBeReadIsSaid();
    void undoingBringsBackTakesToo();
    void choosingATakeIsNoUndoStep();
    void aTakeIsThereWhenItIsTold();
    void typedNumbersAndConditionsAreRead();
};

namespace {

scene::Scene quay()
{
    scene::Scene scene;
    scene.pieces = {zone("gate", {0, 0}, {2, 2}), wall("bell", {4, 0}, {1, 1}), wall("lamp", {8, 0}, {1, 1})};
    scene.snares = {onEvent("ring", EventKind::enter, "gate", {scene::Hide{{{"bell", "lamp"}}}, scene::Arm{{"shut"}}}),
                    onEvent("shut", EventKind::exit, "gate", {scene::Show{{{"bell"}}}}),
                    onKey("any", "a", {scene::Hide{{{"gate"}}}})};
    return scene;
}

} // namespace

void TestEditing::aClipHoldsPiecesTemplatesAndTheirSnares()
{
    scene::Scene scene = quay();
    scene::makeTemplate(scene, "lamp");
    const scene::Scene clip = scene::clipOf(scene, {"gate", "lamp"});
    QCOMPARE(clip.pieces.size(), 2U);
    QVERIFY(clip.templates.find("lamp"));
    QCOMPARE(clip.snares.size(), 2U); // not the one of a key
    const auto again = io::readScene(io::sceneText(clip), "clip");
    QVERIFY(again && *again == clip);
}

void TestEditing::pastingKeepsWhatMentionsWhatTogether()
{
    scene::Scene scene = quay();
    const auto made = scene::paste(scene, scene::clipOf(scene, {"gate", "bell"}), {0, 5}, true);
    QCOMPARE(made, (std::vector<std::string>{"gate-2", "bell-2"}));
    QCOMPARE(scene::findPiece(scene, "gate-2")->at, (Vec{0, 5}));
    const scene::Snare* copy = scene::findSnare(scene, "ring-2");
    QVERIFY(copy);
    QCOMPARE(copy->catches.at, std::string("gate-2"));
    // The bell came along, the lamp did not: the copy acts on its own bell and the old lamp.
    QCOMPARE(std::get<scene::Hide>(copy->responses[0].kind).on.names, (std::vector<std::string>{"bell-2", "lamp"}));
    QCOMPARE(std::get<scene::Arm>(copy->responses[1].kind).snares, std::vector<std::string>{"shut-2"});
    const scene::Scene before = scene;
    scene::paste(scene, scene::clipOf(scene, {"lamp"}), {0, 0}, false);
    QCOMPARE(scene.snares.size(), before.snares.size());
}

void TestEditing::pastingATemplateOfTheSameNameThatIsAnother()
{
    scene::Scene from = quay();
    scene::makeTemplate(from, "lamp");
    scene::Scene into = quay();
    into.pieces[2].layer = 9;
    scene::makeTemplate(into, "lamp");
    scene::paste(into, scene::clipOf(from, {"lamp"}), {0, 0}, true);
    QCOMPARE(into.templates.entries.size(), 2U);
    QCOMPARE(into.pieces.back().templateName, std::string("lamp-2"));
    QCOMPARE(into.pieces.back().layer, 0);
    QCOMPARE(into.templates.find("lamp")->model.layer, 9);
    scene::paste(into, scene::clipOf(from, {"lamp"}), {0, 0}, true); // the same one again needs no third
    QCOMPARE(into.templates.entries.size(), 2U);
    const auto again = io::readScene(io::sceneText(into), "again");
    QVERIFY(again && *again == into);
}

void TestEditing::pastedScenesHaveNoNewProblems()
{
    const scene::Scene demo = *io::loadScene(SNARE_DEMO_FOLDER "/weigh-in.snare.json");
    std::vector<std::string> all;
    for (const scene::Piece& piece : demo.pieces)
        all.push_back(piece.id);
    scene::Scene twice = demo;
    scene::paste(twice, scene::clipOf(demo, all), {0, 30}, true);
    QCOMPARE(twice.pieces.size(), 2 * demo.pieces.size());
    for (const check::Finding& finding :
         check::findingsOf(twice)) // but that two share their keys now, and what the scene arms
        QVERIFY2(finding.id == "same-keys" || finding.id == "never-armed", finding.text.c_str());
    const auto again = io::readScene(io::sceneText(twice), "again"); // no name is there twice
    QVERIFY2(again, again ? "" : again.error().front().message().c_str());
}

void TestEditing::aCopiedSnareCatchesAtItsNewPiece()
{
    scene::Scene scene = quay();
    scene.snares.push_back(onEvent("wet", EventKind::enter, "tag:wet", {scene::Hide{{{"self"}}}}));
    QCOMPARE(scene::copiedTo(scene, scene.snares.back(), "lamp").catches.at, std::string("lamp"));
    const scene::Snare copy = scene::copiedTo(scene, scene.snares[0], "lamp");
    QCOMPARE(copy.catches.at, std::string("lamp"));
    QCOMPARE(copy.id, std::string("ring-2"));
    QCOMPARE(scene::copiedTo(scene, *scene::findSnare(scene, "any"), "lamp").catches.key, std::string("a"));
    scene.snares[0].catches.shape = "plate"; // which the lamp has not
    QVERIFY(scene::copiedTo(scene, scene.snares[0], "lamp").catches.shape.empty());
}

void TestEditing::everySideAligns()
{
    using app::Side;
    const auto boxOf = [](const scene::Piece& piece) {
        return world::boundsOf(piece.shapes[0], {piece.at, piece.turn});
    };
    for (const Side side : {Side::left, Side::centre, Side::right, Side::top, Side::middle, Side::bottom}) {
        scene::Scene scene;
        scene.pieces = {wall("a", {0, 0}, {1, 2}), wall("b", {3, 5}, {2, 1}), wall("c", {7, -2}, {4, 4})};
        scene.pieces[1].turn = 90;
        app::align(scene, {"a", "b", "c"}, side);
        const geometry::Bounds first = boxOf(scene.pieces[0]);
        for (const scene::Piece& piece : scene.pieces) {
            const geometry::Bounds box = boxOf(piece);
            const double off = side == Side::left     ? box.low.x - first.low.x
                               : side == Side::centre ? box.centre().x - first.centre().x
                               : side == Side::right  ? box.high.x - first.high.x
                               : side == Side::top    ? box.high.y - first.high.y
                               : side == Side::middle ? box.centre().y - first.centre().y
                                                      : box.low.y - first.low.y;
            QVERIFY(std::abs(off) < 2e-3);
        }
    }
}

void TestEditing::alignedPiecesStayAligned()
{
    scene::Scene scene = quay();
    app::align(scene, {"gate", "bell", "lamp"}, app::Side::bottom);
    const scene::Scene once = scene;
    app::align(scene, {"gate", "bell", "lamp"}, app::Side::bottom);
    QVERIFY(scene == once);
    app::distribute(scene, {"gate", "bell"}, true); // two have nothing between them
    QVERIFY(scene == once);
    app::restack(scene, {"nobody"}, 1, true);
    QVERIFY(scene == once);
}

void TestEditing::threadsGoFromEveryCatcherToEveryTarget()
{
    scene::Scene scene = quay();
    scene.pieces[1].tags = {"loud"};
    scene.pieces[2].tags = {"loud"};
    scene.snares = {onEvent("a", EventKind::enter, "gate", {scene::Hide{{{"tag:loud", "self", "bell"}}}}),
                    onEvent("b", EventKind::hit, "tag:loud", {scene::Hide{{{"self", "visitor"}}}}),
                    onEvent("c", EventKind::hit, "tag:loud", {scene::Show{{{"tag:loud"}}}})};
    const auto threads = app::threadsOf(scene);
    const auto of = [&](const char* snare) {
        return std::ranges::count(threads, std::string(snare), &app::Thread::snare);
    };
    QCOMPARE(of("a"), 2); // bell and lamp, each once
    QCOMPARE(of("b"), 0); // on oneself or whoever came: no line
    QCOMPARE(of("c"), 2); // each on the other
}

void TestEditing::manyPiecesAndThreadsAreFoundInGoodTime()
{
    scene::Scene scene;
    for (int i = 0; i < 10000; ++i) {
        scene.pieces.push_back(zone("z" + std::to_string(i), {i * 1.0, 0}, {1, 1}));
        scene.pieces.back().tags = {"all"};
    }
    for (int i = 0; i < 20; ++i)
        scene.snares.push_back(onEvent("s" + std::to_string(i), EventKind::enter, "tag:all",
                                       {scene::Hide{{{"self", "visitor", "z" + std::to_string(i)}}}}));
    QCOMPARE(app::threadsOf(scene).size(), 20U * 9999U);
}

void TestEditing::randomPressesAreTakenOutAndPutBack()
{
    std::mt19937 random{23};
    const auto dice = [&](int low, int high) { return std::uniform_int_distribution<int>{low, high}(random); };
    for (int round = 0; round < 200; ++round) {
        scene::Take take;
        take.length = 4;
        for (int i = 0; i < 5; ++i) { // presses of one key never overlap
            const double from = i * 0.8 + dice(1, 20) / 60.0;
            press(take, std::string(1, static_cast<char>('a' + dice(0, 2))), from, from + dice(1, 24) / 60.0);
        }
        const auto presses = app::pressesOf(take, 60);
        QCOMPARE(presses.size(), 5U);
        const app::Press& one = presses[static_cast<std::size_t>(dice(0, 4))];
        const scene::Take without = app::withPress(take, 60, &one, nullptr);
        QCOMPARE(app::pressesOf(without, 60).size(), 4U);
        QVERIFY(app::pressesOf(app::withPress(without, 60, nullptr, &one), 60) == presses);
        app::Press moved = one;
        moved.from += 300;
        moved.to += 300;
        const auto after = app::pressesOf(app::withPress(take, 60, &one, &moved), 60);
        QVERIFY(std::ranges::find(after, moved) != after.end() && std::ranges::find(after, one) == after.end());
        // A key never goes down twice without going up.
        const scene::Take changed = app::withPress(take, 60, &one, &moved);
        std::set<std::string> down;
        for (const scene::Input& input : changed.inputs)
            if (const auto* key = input.as<scene::KeyInput>())
                QVERIFY(key->down ? down.insert(key->key).second : down.erase(key->key) == 1);
    }
}

void TestEditing::aTakeThatCannotBeReadIsSaid()
{
    QTemporaryDir folder;
    const QString scene = folder.filePath(QStringLiteral("a.snare.json"));
    QVERIFY(io::saveText(scene.toStdString(), io::sceneText(quay())));
    QVERIFY(io::saveText(app::takePathFor(scene).toStdString(), io::takeText(takeOf({{"a", 1}}))));
    QVERIFY(io::saveText(app::takePathFor(scene, "bad").toStdString(), "{"));
    QVERIFY(io::saveText(app::takePathFor(scene, "good").toStdString(), io::takeText(takeOf({{"b", 1}}))));
    app::Document document;
    QStringList said;
    connect(&document, &app::Document::problem, &document, [&](const QString& text) { said << text; });
    QVERIFY(document.open(scene));
    QCOMPARE(said.size(), 1);
    QVERIFY(said.front().contains(QStringLiteral("a.bad.take.json")));
    QCOMPARE(document.takes().size(), 2U);
    QCOMPARE(document.takes()[1].name, std::string("good"));
    // Saving leaves the file that could not be read as it is.
    QVERIFY(document.save(scene));
    QCOMPARE(io::loadText(app::takePathFor(scene, "bad").toStdString()).value_or(""), std::string("{"));
}

void TestEditing::undoingBringsBackTakesToo()
{
    app::Document document;
    document.addTake("night", takeOf({{"a", 1}}));
    document.addTake("night", takeOf({{"b", 1}}));
    QCOMPARE(document.takes()[2].name, std::string("night-2"));
    document.removeTake(1);
    QCOMPARE(document.takes().size(), 2U);
    document.undoStack()->undo();
    QCOMPARE(document.takes()[1].name, std::string("night"));
    document.undoStack()->undo();
    document.undoStack()->undo();
    QCOMPARE(document.takes().size(), 1U);
    QCOMPARE(document.currentTake(), 0U); // never beyond what is there
    document.removeTake(0);
    QCOMPARE(document.takes().size(), 1U);
}

void TestEditing::choosingATakeIsNoUndoStep()
{
    app::Document document;
    document.addTake("one", takeOf({{"a", 1}}));
    const int steps = document.undoStack()->count();
    document.chooseTake(0);
    QVERIFY(!document.hasTake());
    document.chooseTake(1);
    QVERIFY(document.hasTake());
    document.chooseTake(7); // which is not there
    QCOMPARE(document.currentTake(), 1U);
    QCOMPARE(document.undoStack()->count(), steps);
}

void TestEditing::aTakeIsThereWhenItIsTold()
{
    app::Document document;
    QStringList told;
    connect(&document, &app::Document::takeLeaving, this, [&] {
        told << QStringLiteral("from %1").arg(QString::fromStdString(document.takes()[document.currentTake()].name));
    });
    connect(&document, &app::Document::takeChosen, this, [&] {
        told << QStringLiteral("to %1").arg(QString::fromStdString(document.takes().at(document.currentTake()).name));
    });
    const auto next = [&] { return std::exchange(told, {}).join(QStringLiteral("; ")); };
    document.addTake("one", takeOf({{"a", 1}}));
    QCOMPARE(next(), QStringLiteral("from ; to one"));
    document.addTake("two", {});
    QCOMPARE(next(), QStringLiteral("from one; to two"));
    document.removeTake(2);
    QCOMPARE(next(), QStringLiteral("from two; to one"));
    document.undoStack()->undo(); // the take that is shown stays
    QCOMPARE(next(), QString());
    document.undoStack()->undo();
    document.undoStack()->undo(); // it is no longer there
    QCOMPARE(next(), QStringLiteral("to "));
}

void TestEditing::typedNumbersAndConditionsAreRead()
{
    using Numbers = std::vector<double>;
    QCOMPARE(app::numbersIn(QStringLiteral("3, -2.5"), 2).value_or(Numbers{}), (Numbers{3, -2.5}));
    QCOMPARE(app::numbersIn(QStringLiteral("1.5 × .5 m"), 2).value_or(Numbers{}), (Numbers{1.5, 0.5}));
    QVERIFY(!app::numbersIn(QStringLiteral("3"), 2));
    for (const char* text :
         {"self.load >= 3", "scene.tide != true", "signal.ring = self.number", "visitor.name = west quay"}) {
        const auto condition = app::conditionFrom(QLatin1String(text));
        QVERIFY2(condition, text);
        QCOMPARE(app::conditionText(*condition), QLatin1String(text)); // reads back as it was typed
    }
    for (const char* text : {"", "load", "load > 3", "self.load >", "> 3"})
        QVERIFY2(!app::conditionFrom(QLatin1String(text)), text);
}

QTEST_GUILESS_MAIN(TestEditing)
#include "test_editing.moc"
