// SPDX-License-Identifier: Apache-2.0
/// Templates with own values per piece, and what is wrong with a snare before anything runs.
#include "builder.h"
#include "io/document.h"
#include "scene/clip.h"
#include "scene/mentions.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <QTest>

#include <random>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

class TestTemplates : public QObject {
    Q_OBJECT

  private slots:
    void aStampedPieceHasNothingOfItsOwn();
    void everyFieldThatDiffersIsItsOwn();
    void aChangedTemplateReachesWhatIsNotOwn();
    void shapesThatComeAndGoInTheTemplateFollow();
    void ownShapesStayBehindThoseOfTheTemplate();
    void anOwnShapeThatTheTemplateNamesTooStaysOne();
    void aPastedPieceFollowsTheTemplateThatIsThere();
    void valuesAndLooksFollowByName();
    void givingBackTakesTheTemplatesValue();
    void aPieceThatLostAShapeIsSavedWhole();
    void aTemplateIsRenamedWithItsMentions();
    void aRemovedTemplateLeavesItsPiecesWhole();
    void randomPiecesOfTemplatesComeBackFromFiles();
    void catchesAndTargetsByTemplate();

  private:
    /// A ring to moor at, and two pieces that follow it.
    static scene::Scene rings()
    {
        scene::Scene scene;
        scene.pieces = {zone("ring-1", {0, 0}, {1, 1})};
        scene::Piece& first = scene.pieces.front();
        first.shapes[0].id = "eye";
        first.group = "rings";
        first.tags = {"iron"};
        first.properties.set("free", scene::Scalar{true});
        first.looks.set("wet", scene::Look{{"#3d5a98"}, {}, 0});
        scene::makeTemplate(scene, "ring-1");
        scene::Piece second = scene::stamped(scene, "ring");
        second.id = "ring-2";
        second.at = {4, 0};
        scene.pieces.push_back(second);
        return scene;
    }

    static scene::Piece& second(scene::Scene& scene) { return scene.pieces[1]; }
    static scene::Piece model(const scene::Scene& scene) { return scene.templates.find("ring")->model; }
    static std::vector<std::string> own(const scene::Scene& scene)
    {
        return scene::ownFields(scene.pieces[1], model(scene));
    }
};

void TestTemplates::aStampedPieceHasNothingOfItsOwn()
{
    scene::Scene scene = rings();
    QVERIFY(own(scene).empty());
    QCOMPARE(second(scene).group, std::string("rings"));
    QCOMPARE(scene::followersOf(scene, "ring"), (std::vector<std::string>{"ring-1", "ring-2"}));
    second(scene).at = {9, 9}; // the place is always its own and never counted
    QVERIFY(own(scene).empty());
}

void TestTemplates::everyFieldThatDiffersIsItsOwn()
{
    scene::Scene scene = rings();
    scene::Piece& piece = second(scene);
    piece.group = "buoys";
    piece.turn = 90;
    piece.layer = -2;
    piece.shown = false;
    piece.body = scene::KinematicBody{};
    piece.shapes[0].margin = 0.5;
    piece.looks.set("wet", scene::Look{{"#000000"}, {}, 0});
    piece.properties.set("number", scene::Scalar{7.0});
    QCOMPARE(own(scene), (std::vector<std::string>{"group", "turn", "layer", "shown", "body", "shape eye", "look wet",
                                                   "value number"}));
    for (const std::string& field : own(scene))
        scene::resetOwn(piece, model(scene), field);
    QVERIFY(own(scene).empty());
}

void TestTemplates::aChangedTemplateReachesWhatIsNotOwn()
{
    scene::Scene scene = rings();
    second(scene).tags = {"rope"};
    scene::Piece next = model(scene);
    next.tags = {"brass"};
    next.layer = 5;
    scene::changeTemplate(scene, "ring", next);
    QCOMPARE(scene.pieces[0].tags, std::vector<std::string>{"brass"});
    QCOMPARE(second(scene).tags, std::vector<std::string>{"rope"});
    QCOMPARE(second(scene).layer, 5);
    QCOMPARE(second(scene).at, (Vec{4, 0}));
    QCOMPARE(second(scene).id, std::string("ring-2"));
}

void TestTemplates::shapesThatComeAndGoInTheTemplateFollow()
{
    scene::Scene scene = rings();
    second(scene).shapes[0].margin = 1;
    scene::Piece next = model(scene);
    scene::Shape rope;
    rope.id = "rope";
    rope.geometry = scene::Capsule{};
    next.shapes.insert(next.shapes.begin(), rope);
    scene::changeTemplate(scene, "ring", next);
    for (const scene::Piece& piece : scene.pieces) {
        QCOMPARE(piece.shapes.size(), 2U);
        QCOMPARE(piece.shapes[0].id, std::string("rope"));
        QVERIFY(scene::follows(piece, next));
    }
    QCOMPARE(second(scene).shapes[1].margin, 1.0);
    next.shapes.erase(next.shapes.begin());
    scene::changeTemplate(scene, "ring", next);
    QCOMPARE(second(scene).shapes.size(), 1U);
    QCOMPARE(second(scene).shapes[0].margin, 1.0);
}

void TestTemplates::ownShapesStayBehindThoseOfTheTemplate()
{
    scene::Scene scene = rings();
    scene::Shape bell;
    bell.id = "bell";
    second(scene).shapes.push_back(bell);
    scene::Piece next = model(scene);
    scene::Shape rope;
    rope.id = "rope";
    next.shapes.push_back(rope);
    scene::changeTemplate(scene, "ring", next);
    QCOMPARE(second(scene).shapes.size(), 3U);
    QCOMPARE(second(scene).shapes[1].id, std::string("rope"));
    QCOMPARE(second(scene).shapes[2].id, std::string("bell"));
    QCOMPARE(own(scene), std::vector<std::string>{"shape bell"});
    scene::resetOwn(second(scene), model(scene), "shape bell");
    QCOMPARE(second(scene).shapes.size(), 2U);
}

void TestTemplates::anOwnShapeThatTheTemplateNamesTooStaysOne()
{
    scene::Scene scene = rings();
    scene::Shape bell;
    bell.id = "bell";
    bell.margin = 3;
    second(scene).shapes.push_back(bell);
    scene::Piece next = model(scene);
    bell.margin = 1;
    next.shapes.push_back(bell);
    scene::changeTemplate(scene, "ring", next);
    QCOMPARE(second(scene).shapes.size(), 2U);
    QCOMPARE(second(scene).shapes[1].margin, 3.0);
    QCOMPARE(own(scene), std::vector<std::string>{"shape bell"});
    const auto again = io::readScene(io::sceneText(scene), "again");
    QVERIFY(again);
    QCOMPARE(*again, scene);
}

void TestTemplates::aPastedPieceFollowsTheTemplateThatIsThere()
{
    scene::Scene scene = rings();
    scene::Scene clip; // as someone writes it in a mail: without the template
    scene::Piece piece;
    piece.id = "ring-3";
    piece.templateName = "ring";
    piece.tags = {"brass"};
    clip.pieces.push_back(piece);
    QCOMPARE(scene::paste(scene, clip, {1, 0}, true), std::vector<std::string>{"ring-3"});
    const scene::Piece& pasted = std::as_const(scene.pieces)[2];
    QCOMPARE(pasted.shapes.size(), 1U);
    QCOMPARE(pasted.group, std::string("rings"));
    QCOMPARE(scene::ownFields(pasted, model(scene)), std::vector<std::string>{"tags"});
    const auto again = io::readScene(io::sceneText(scene), "again");
    QVERIFY(again);
    QCOMPARE(*again, scene);
}

void TestTemplates::valuesAndLooksFollowByName()
{
    scene::Scene scene = rings();
    second(scene).properties.set("free", scene::Scalar{false});
    scene::Piece next = model(scene);
    next.properties.entries.clear();
    next.properties.set("depth", scene::Scalar{2.5});
    scene::changeTemplate(scene, "ring", next);
    QVERIFY(!scene.pieces[0].properties.find("free"));                      // gone with the template's
    QCOMPARE(*second(scene).properties.find("free"), scene::Scalar{false}); // its own stays
    QCOMPARE(*second(scene).properties.find("depth"), scene::Scalar{2.5});
}

void TestTemplates::givingBackTakesTheTemplatesValue()
{
    scene::Scene scene = rings();
    second(scene).properties.set("free", scene::Scalar{false});
    second(scene).properties.set("number", scene::Scalar{1.0});
    scene::resetOwn(second(scene), model(scene), "value free");
    scene::resetOwn(second(scene), model(scene), "value number");
    scene::resetOwn(second(scene), model(scene), "nothing of that name");
    QVERIFY(own(scene).empty());
    QVERIFY(!second(scene).properties.find("number"));
}

void TestTemplates::aPieceThatLostAShapeIsSavedWhole()
{
    scene::Scene scene = rings();
    second(scene).shapes.clear();
    QVERIFY(!scene::follows(second(scene), model(scene)));
    const auto again = io::readScene(io::sceneText(scene), "again");
    QVERIFY(again);
    QVERIFY(again->pieces[1].shapes.empty()); // nothing is put back behind one's back
    QCOMPARE(again->pieces[1].templateName, std::string());
    QCOMPARE(again->pieces[1].group, std::string("rings"));
    // And a change of the template leaves it alone.
    scene::Piece next = model(scene);
    next.layer = 3;
    scene::changeTemplate(scene, "ring", next);
    QCOMPARE(second(scene).layer, 0);
}

void TestTemplates::aTemplateIsRenamedWithItsMentions()
{
    scene::Scene scene = rings();
    scene.snares = {onEvent("moor", EventKind::enter, "template:ring", {scene::Hide{{{"template:ring"}}}})};
    QCOMPARE(scene::rename(scene, scene::Thing::form, "ring", "mooring"), std::size_t{4});
    QVERIFY(scene.templates.find("mooring") && !scene.templates.find("ring"));
    QCOMPARE(second(scene).templateName, std::string("mooring"));
    QCOMPARE(scene.snares[0].catches.at, std::string("template:mooring"));
    QVERIFY(scene::refuseName(scene, scene::Thing::form, "x", "mooring"));
}

void TestTemplates::aRemovedTemplateLeavesItsPiecesWhole()
{
    scene::Scene scene = rings();
    const scene::Piece before = second(scene);
    scene::removeShared(scene, scene::Thing::form, {}, "ring");
    QVERIFY(scene.templates.empty());
    QVERIFY(second(scene).templateName.empty());
    QVERIFY(second(scene).shapes == before.shapes && second(scene).group == before.group);
}

void TestTemplates::randomPiecesOfTemplatesComeBackFromFiles()
{
    std::mt19937 random{5};
    const auto dice = [&](int sides) { return std::uniform_int_distribution<int>{0, sides - 1}(random); };
    const auto change = [&](scene::Piece& piece) {
        switch (dice(9)) {
        case 0:
            piece.group = dice(2) == 0 ? "default" : "quay";
            break;
        case 1:
            piece.tags = dice(2) == 0 ? std::vector<std::string>{} : std::vector<std::string>{"wet", "old"};
            break;
        case 2:
            piece.turn = dice(4) * 45.0;
            break;
        case 3:
            piece.shown = dice(2) == 0;
            break;
        case 4:
            piece.body = dice(2) == 0 ? scene::Body{scene::StaticBody{}} : scene::Body{scene::KinematicBody{{1, 0}, 2}};
            break;
        case 5:
            piece.properties.set("n", scene::Scalar{static_cast<double>(dice(3))});
            break;
        case 6:
            piece.looks.set("lit", scene::Look{{dice(2) == 0 ? "#ffffff" : ""}, "x", 0.5});
            break;
        case 7:
            if (!piece.shapes.empty()) {
                scene::Shape& shape =
                    piece.shapes[static_cast<std::size_t>(dice(static_cast<int>(piece.shapes.size())))];
                shape.margin = dice(3);
                shape.geometry = dice(2) == 0 ? scene::Geometry{scene::Circle{1}}
                                              : scene::Geometry{scene::Polygon{{{0, 0}, {2, 0}, {1, 1}}}};
            }
            break;
        default:
            piece.shapes.push_back({});
            if (dice(2) == 0)
                piece.shapes.back().id = "s" + std::to_string(piece.shapes.size());
        }
    };
    for (int round = 0; round < 300; ++round) {
        scene::Scene scene = rings();
        for (int i = dice(6); i > 0; --i) {
            scene::Piece next = model(scene);
            change(next);
            scene::changeTemplate(scene, "ring", next);
        }
        for (int i = dice(8); i > 0; --i)
            change(scene.pieces[static_cast<std::size_t>(dice(2))]);
        const std::string text = io::sceneText(scene);
        const auto again = io::readScene(text, "again");
        QVERIFY2(again, again ? "" : again.error().front().message().c_str());
        QVERIFY2(*again == scene, text.c_str());
        QCOMPARE(io::sceneText(*again), text);
    }
}

void TestTemplates::catchesAndTargetsByTemplate()
{
    scene::Scene scene = rings();
    scene.pieces.push_back(mover("skiff", {-2, 0}, {2, 0}, 0.2));
    scene.snares = {onEvent("moor", EventKind::enter, "template:ring", {scene::Hide{{{"self"}}}}),
                    onKey("all", "a", {scene::Hide{{{"template:ring"}}}})};
    const sim::Record record = play(scene, {}, 4);
    QCOMPARE(outcomesOf(record, "moor").size(), 2); // at each ring once
    const sim::Record keyed = play(scene, takeOf({{"a", 0.1}}, 0.5));
    const auto states = keyed.snapshots.at(keyed.lastTick());
    QVERIFY(!states[0].shown && !states[1].shown && states[2].shown);
}

QTEST_APPLESS_MAIN(TestTemplates)
#include "test_templates.moc"
