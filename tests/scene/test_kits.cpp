// SPDX-License-Identifier: Apache-2.0
/// What scenes share: where it is kept, moved, renamed and changed, in the scene and in its kits.
#include "io/document.h"
#include "scene/assemblies.h"
#include "scene/clip.h"
#include "scene/mentions.h"
#include "scene/models.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <QTest>

using namespace snare;
using scene::Thing;

namespace {

constexpr const char* kitFile = "quay.kit.json";

/// A scene with a kit that has a template, an assembly, a routine and a snare.
scene::Scene withKit()
{
    const auto kits = [](const std::string& name) {
        auto kit = io::readKit(R"({"format": "fresh-snare-kit", "version": 1,
            "routines": {"ring-bell": {"with": {"times": 2}, "responses": [
                {"do": "say", "text": "{with.times} bells"}, {"do": "run", "routine": "count"}]},
                "count": [{"do": "add", "name": "bells", "value": 1}]},
            "templates": {"buoy": {"shapes": [{"id": "hull", "circle": 0.5}]}},
            "assemblies": {"lock": {"pieces": [{"id": "plate", "shapes": [{"role": "zone", "box": [2, 2]}],
                                                "properties": {"opens": "gate"}},
                                               {"id": "gate", "at": [3, 0], "shapes": [{"box": [1, 1]}]}],
                "snares": [{"id": "open", "catch": {"event": "enter", "at": "part:plate"},
                            "responses": [{"do": "hide", "on": "part:gate"}]}]}},
            "snares": [{"id": "knock", "catch": {"event": "enter", "at": "template:buoy"},
                        "responses": [{"do": "run", "routine": "ring-bell", "with": {"times": 3}}]}]})",
                               name);
        if (!kit)
            qFatal("%s", kit.error().front().message().c_str());
        return scene::LoadedKit{name, {}, std::move(*kit), 0};
    };
    auto read = io::readScene(R"({"format": "fresh-snare-scene", "version": 1, "kits": ["quay.kit.json"], "pieces": [
        {"id": "buoy-1", "template": "buoy", "at": [1, 2]}, {"id": "buoy-2", "template": "buoy", "group": "own"},
        {"id": "post", "shapes": [{"circle": 0.2}], "tags": ["wood"]},
        {"id": "lock-1", "assembly": "lock", "at": [4, 2], "turn": 90},
        {"id": "lock-2", "assembly": "lock", "at": [-4, 2]}],
        "snares": [{"id": "hear", "catch": {"event": "enter", "at": "part:lock.plate"},
                    "responses": [{"do": "hide", "on": "lock-1.gate"}, {"do": "run", "routine": "ring-bell"}]}]})",
                              "scene", kits);
    if (!read)
        qFatal("%s", read.error().front().message().c_str());
    return *read;
}

const scene::Piece& piece(const scene::Scene& scene, const char* id)
{
    const scene::Piece* found = scene::findPiece(scene, id);
    if (!found)
        qFatal("there is no %s", id);
    return *found;
}

} // namespace

class TestKits : public QObject {
    Q_OBJECT

  private slots:
    void whatIsMeantIsFoundAtHome();
    void aKitIsChangedForThisSceneAlone();
    void thingsMoveBetweenSceneAndKit();
    void whatIsRenamedInAKitIsFollowed();
    void aParameterIsRenamedWhereItIsGiven();
    void aTemplateOfAKitChangesWhatFollowsIt();
    void aPieceJoinsATemplate();
    void anAssemblyTakesAndGivesUpParts_A1();
    void aPartIsRenamedEverywhere_A5();
    void whatIsOfAPartsOwnIsGivenBack_A1();
    void aLaidOneIsRenamedWithItsParts_A5();
    void whatIsTakenAwayLeavesItsPieces();
    void aWholeIsCopiedAsOne();
};

void TestKits::whatIsMeantIsFoundAtHome()
{
    scene::Scene scene = withKit();
    QCOMPARE(scene::homeOf(scene, Thing::form, "buoy"), std::optional<std::string>(kitFile));
    QCOMPARE(scene::homeOf(scene, Thing::snare, "hear"), std::optional<std::string>(""));
    QCOMPARE(scene::homeOf(scene, Thing::snare, "knock"), std::optional<std::string>(kitFile));
    QVERIFY(!scene::homeOf(scene, Thing::routine, "nobody"));
    // The scene's own stands before that of a kit.
    scene.routines.set("ring-bell", {});
    QCOMPARE(scene::homeOf(scene, Thing::routine, "ring-bell"), std::optional<std::string>(""));
    QVERIFY(scene::findRoutine(scene, "ring-bell")->responses.empty());
    QCOMPARE(scene::keptIn(scene, Thing::routine, kitFile), (std::vector<std::string>{"ring-bell", "count"}));
    QCOMPARE(scene::allShared(scene, Thing::routine), (std::vector<std::string>{"ring-bell", "count"}));
}

void TestKits::aKitIsChangedForThisSceneAlone()
{
    const scene::Scene before = withKit();
    scene::Scene after = before;
    scene::kitToChange(after, kitFile)->snares.clear();
    QCOMPARE(scene::findKit(before, kitFile)->kit.snares.size(), std::size_t{1});
    QVERIFY(scene::findKit(after, kitFile)->kit.snares.empty());
    QVERIFY(!(before == after)); // a step of undo
    QVERIFY(!scene::kitToChange(after, "other.kit.json"));
}

void TestKits::thingsMoveBetweenSceneAndKit()
{
    scene::Scene scene = withKit();
    for (const Thing kind : scene::shareable) {
        const std::string name = kind == Thing::form       ? "buoy"
                                 : kind == Thing::assembly ? "lock"
                                 : kind == Thing::routine  ? "count"
                                                           : "knock";
        const std::string before = io::kitText(scene::findKit(scene, kitFile)->kit);
        QVERIFY(!scene::moveShared(scene, kind, name, kitFile, {}));
        QVERIFY(scene::isKeptIn(scene, kind, {}, name) && !scene::isKeptIn(scene, kind, kitFile, name));
        QCOMPARE(scene::followersOf(scene, "buoy").size(), std::size_t{2});
        // A name that is taken stays whose it is.
        QVERIFY(!scene::moveShared(scene, kind, name, {}, "new.kit.json", true));
        QCOMPARE(scene.kits.back(), std::string("new.kit.json"));
        QVERIFY(scene::moveShared(scene, kind, name, {}, "new.kit.json"));
        QVERIFY(!scene::moveShared(scene, kind, name, {}, kitFile));
        if (kind != Thing::routine) // it comes back as the last
            QCOMPARE(io::kitText(scene::findKit(scene, kitFile)->kit), before);
    }
    QVERIFY(scene::moveShared(scene, Thing::form, "nobody", {}, kitFile));
}

void TestKits::whatIsRenamedInAKitIsFollowed()
{
    scene::Scene scene = withKit();
    QCOMPARE(scene::rename(scene, Thing::form, "buoy", "float"), std::size_t{3}); // two pieces, a snare of the kit
    QCOMPARE(piece(scene, "buoy-1").templateName, std::string("float"));
    QCOMPARE(scene::findKit(scene, kitFile)->kit.snares[0].catches.at, std::string("template:float"));
    QVERIFY(scene::templateIn(scene, kitFile, "float"));
    QCOMPARE(scene::rename(scene, Thing::routine, "count", "tally"), std::size_t{1});
    QVERIFY(scene::routineIn(scene, kitFile, "tally"));
    scene::rename(scene, Thing::assembly, "lock", "sluice");
    QCOMPARE(scene.laid[0].assembly, std::string("sluice"));
    QCOMPARE(piece(scene, "lock-1.gate").partOf->assembly, std::string("sluice"));
    QCOMPARE(std::as_const(scene.snares)[0].catches.at, std::string("part:sluice.plate"));
    QVERIFY(scene::refuseName(scene, Thing::assembly, "sluice", "float")); // a template is called so
}

void TestKits::aParameterIsRenamedWhereItIsGiven()
{
    scene::Scene scene = withKit();
    QCOMPARE(scene::renameParameter(scene, kitFile, "ring-bell", "times", "strokes"), std::size_t{2});
    const scene::Kit& kit = scene::findKit(scene, kitFile)->kit;
    const scene::Routine& routine = *kit.routines.find("ring-bell");
    QVERIFY(routine.with.find("strokes") && !routine.with.find("times"));
    QVERIFY(io::kitText(kit).find("{with.strokes} bells") != std::string::npos);
    QVERIFY(std::get<scene::RunRoutine>(kit.snares[0].responses[0].kind).with.find("strokes"));
}

void TestKits::aTemplateOfAKitChangesWhatFollowsIt()
{
    scene::Scene scene = withKit();
    scene::changeModelOrPiece(scene, "template:buoy", [](scene::Piece& model) {
        model.group = "afloat";
        std::get<scene::Circle>(model.shapes[0].geometry).radius = 0.7;
    });
    QCOMPARE(piece(scene, "buoy-1").group, std::string("afloat"));
    QCOMPARE(piece(scene, "buoy-2").group, std::string("own")); // its own
    QCOMPARE(std::get<scene::Circle>(piece(scene, "buoy-2").shapes[0].geometry).radius, 0.7);
    QCOMPARE(scene::templateIn(scene, kitFile, "buoy")->model.group, std::string("afloat"));
    // A part of an assembly of a kit, too.
    scene::changeModelOrPiece(scene, "part:lock.gate", [](scene::Piece& model) { model.at = {5, 0}; });
    QVERIFY(glm::length(piece(scene, "lock-1.gate").at - scene::Vec{4, 7}) < 1e-9); // laid turned by 90 degrees
    QVERIFY(glm::length(piece(scene, "lock-2.gate").at - scene::Vec{1, 2}) < 1e-9);
}

void TestKits::aPieceJoinsATemplate()
{
    scene::Scene scene = withKit();
    scene::join(scene, "post", "buoy");
    const scene::Piece& post = piece(scene, "post");
    QCOMPARE(post.templateName, std::string("buoy"));
    // Its shape is its version of that of the template; what it has besides stays its own.
    QCOMPARE(post.shapes.size(), std::size_t{1});
    QCOMPARE(post.shapes[0].id, std::string("hull"));
    QCOMPARE(std::get<scene::Circle>(post.shapes[0].geometry).radius, 0.2);
    QCOMPARE(scene::ownFields(post, scene::templateOf(scene, post)->model),
             (std::vector<std::string>{"tags", "shape hull"}));
    scene::changeModelOrPiece(scene, "template:buoy", [](scene::Piece& model) { model.layer = 4; });
    QCOMPARE(piece(scene, "post").layer, 4);
    const std::string text = io::sceneText(scene);
    scene::join(scene, "post", "nobody");
    scene::join(scene, "lock-1.gate", "buoy"); // a part has its model in its assembly
    QCOMPARE(io::sceneText(scene), text);
}

void TestKits::anAssemblyTakesAndGivesUpParts_A1()
{
    scene::Scene scene = withKit();
    scene::findPiece(scene, "post")->at = {4, 5}; // 3 m along the turned lock
    QVERIFY(scene::addToAssembly(scene, "lock-1", "post"));
    QVERIFY(!scene::findPiece(std::as_const(scene), "post"));
    QVERIFY(glm::length(piece(scene, "lock-1.post").at - scene::Vec{4, 5}) < 1e-9);
    QVERIFY(glm::length(piece(scene, "lock-2.post").at - scene::Vec{-1, 2}) < 1e-9);
    QCOMPARE(scene::assemblyIn(scene, kitFile, "lock")->pieces.size(), std::size_t{3});
    QVERIFY(!scene::addToAssembly(scene, "lock-1", "lock-2.post")); // it is a part already
    scene::takeOutOfAssembly(scene, "lock", "gate");
    QVERIFY(!scene::findPiece(std::as_const(scene), "lock-1.gate") &&
            !scene::findPiece(std::as_const(scene), "lock-2.gate"));
    scene::takeOutOfAssembly(scene, "lock", "post");
    scene::takeOutOfAssembly(scene, "lock", "plate"); // the last one stays
    QVERIFY(scene::findPiece(std::as_const(scene), "lock-1.plate"));
}

void TestKits::aPartIsRenamedEverywhere_A5()
{
    scene::Scene scene = withKit();
    QCOMPARE(*piece(scene, "lock-1.plate").properties.find("opens"), scene::Scalar{std::string("lock-1.gate")});
    scene::renamePart(scene, "lock", "gate", "leaf");
    QVERIFY(scene::findPiece(std::as_const(scene), "lock-2.leaf"));
    QCOMPARE(*piece(scene, "lock-1.plate").properties.find("opens"), scene::Scalar{std::string("lock-1.leaf")});
    const std::string kit = io::kitText(scene::findKit(scene, kitFile)->kit);
    QVERIFY(kit.find("part:leaf") != std::string::npos && kit.find("gate") == std::string::npos);
    QVERIFY(io::sceneText(scene).find("lock-1.leaf") != std::string::npos); // what the snare hides
    QVERIFY(io::sceneText(scene).find("parts") == std::string::npos);       // nothing became a part's own
}

void TestKits::whatIsOfAPartsOwnIsGivenBack_A1()
{
    scene::Scene scene = withKit();
    scene::Piece& gate = *scene::findPiece(scene, "lock-1.gate");
    const scene::Piece before = gate;
    gate.at += scene::Vec{0, 1};
    gate.layer = 3;
    gate.shapes[0].friction = 0.1;
    QCOMPARE(scene::ownOfPart(scene, piece(scene, "lock-1.gate")),
             (std::vector<std::string>{"at", "layer", "shape 0"}));
    scene::resetPart(scene, "lock-1.gate", "layer");
    scene::resetPart(scene, "lock-1.gate", "at");
    QCOMPARE(scene::ownOfPart(scene, piece(scene, "lock-1.gate")), (std::vector<std::string>{"shape 0"}));
    scene::resetPart(scene, "lock-1.gate", "shape 0");
    QVERIFY(piece(scene, "lock-1.gate") == before);
}

void TestKits::aLaidOneIsRenamedWithItsParts_A5()
{
    scene::Scene scene = withKit();
    const std::string text = io::sceneText(scene);
    scene::rename(scene, Thing::laid, "lock-1", "west");
    QVERIFY(scene::findLaid(scene, "west") && scene::findPiece(std::as_const(scene), "west.gate"));
    QCOMPARE(*piece(scene, "west.plate").properties.find("opens"), scene::Scalar{std::string("west.gate")});
    QVERIFY(io::sceneText(scene).find("\"on\": \"west.gate\"") != std::string::npos);
    QVERIFY(scene::ownOfPart(scene, piece(scene, "west.plate")).empty());
    QVERIFY(scene::refuseName(scene, Thing::laid, "west", "lock-2"));
    scene::rename(scene, Thing::laid, "west", "lock-1");
    QCOMPARE(io::sceneText(scene), text);
}

void TestKits::whatIsTakenAwayLeavesItsPieces()
{
    scene::Scene scene = withKit();
    scene::removeShared(scene, Thing::form, kitFile, "buoy");
    QVERIFY(piece(scene, "buoy-1").templateName.empty());
    QCOMPARE(piece(scene, "buoy-1").shapes.size(), std::size_t{1});
    scene::removeShared(scene, Thing::assembly, kitFile, "lock");
    QVERIFY(scene.laid.empty());
    QVERIFY(scene::findPiece(std::as_const(scene), "lock-1-gate"));
    QVERIFY(scene::findSnare(std::as_const(scene), "lock-1-open")); // they do together what they did
    // One that another stands before goes without a trace.
    scene.routines.set("count", {});
    scene::removeShared(scene, Thing::routine, {}, "count");
    QCOMPARE(scene::homeOf(scene, Thing::routine, "count"), std::optional<std::string>(kitFile));
}

void TestKits::aWholeIsCopiedAsOne()
{
    scene::Scene scene = withKit();
    std::vector<std::string> chosen = scene::wholeOf(scene, "lock-1.gate");
    chosen.emplace_back("post");
    const scene::Scene clip = scene::clipOf(scene, chosen);
    const auto read = io::readScene(io::sceneText(clip), "clip"); // it goes by the clipboard
    QVERIFY(read);
    const auto made = scene::paste(scene, *read, {0, 10}, true);
    QCOMPARE(made.size(), std::size_t{3});
    const scene::Laid* copy = scene::findLaid(scene, "lock-3");
    QVERIFY(copy);
    QVERIFY(glm::length(copy->at - scene::Vec{4, 12}) < 1e-9);
    QCOMPARE(*piece(scene, "lock-3.plate").properties.find("opens"), scene::Scalar{std::string("lock-3.gate")});
    QVERIFY(!scene.assemblies.find("lock")); // the kit's is the same
    // In another scene it brings what it is of.
    scene::Scene other;
    scene::paste(other, *read, {0, 0}, true);
    QVERIFY(other.assemblies.find("lock") && scene::findLaid(other, "lock-1"));
    QVERIFY(!scene::withAssemblies(other).snares.empty());
}

QTEST_GUILESS_MAIN(TestKits)
#include "test_kits.moc"
