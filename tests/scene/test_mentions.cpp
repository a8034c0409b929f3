// SPDX-License-Identifier: Apache-2.0
#include "builder.h"
#include "scene/mentions.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;
using scene::Thing;

class TestMentions : public QObject {
    Q_OBJECT

  private slots:
    void aPieceIsRenamedWhereverItIsNamed();
    void shapesAndPathsOfAPieceFollow();
    void likeNamesAreLeftAlone();
    void tagsFollowInFiltersAndSelectors();
    void groupsFollowInTableFiltersAndSelectors();
    void snaresFollowInArmAndDisarm();
    void signalsFollowOnBothEnds();
    void sourcesFollowInCatches();
    void valuesFollowInPathsCaptionsAndScripts();
    void looksPhasesAndShapesFollowAtAllPieces();
    void callsAndDialsFollowInTakes();
    void namesThatCannotBeAreRefused();
    void listenersAndActorsAreTold();
    void aRenamedSceneRunsTheSame();
};

void TestMentions::aPieceIsRenamedWhereverItIsNamed()
{
    scene::Scene scene;
    scene.pieces = {zone("scale", {0, 0}, {1, 1}), mover("barrow", {4, 0}, {0, 0})};
    scene.camera.follow = "barrow";
    scene::Move move;
    move.on = {{"barrow", "scale"}};
    move.to = scene::Destination{std::string("barrow")};
    scene.snares = {
        onEvent("a", EventKind::enter, "barrow", {move, scene::Signal{"s", {}, scene::Target{{"barrow"}}, false}})};
    scene.snares[0].filter.pieces = {"barrow"};
    QCOMPARE(scene::countMentions(scene, Thing::piece, "barrow"), std::size_t{6});
    QCOMPARE(scene::rename(scene, Thing::piece, "barrow", "cart"), std::size_t{6});
    QCOMPARE(scene::countMentions(scene, Thing::piece, "barrow"), std::size_t{0});
    QCOMPARE(scene.camera.follow, std::string("cart"));
    QCOMPARE(scene.snares[0].catches.at, std::string("cart"));
    QCOMPARE(scene.pieces[1].id, std::string("cart"));
}

void TestMentions::shapesAndPathsOfAPieceFollow()
{
    scene::Scene scene;
    scene.pieces = {zone("scale", {0, 0}, {1, 1})};
    scene.snares = {onKey("k", "k",
                          {scene::Disable{{{"scale/plate"}}}, scene::Note{{scene::Get{"scale.load"}}},
                           scene::Set{{{"scene"}}, "load", {scene::Get{"scale.load"}}}})};
    scene.snares[0].filter.when = {{"scale.load", scene::Comparison::greater, {scene::Get{"scale.limit"}}}};
    QCOMPARE(scene::rename(scene, Thing::piece, "scale", "balance"), std::size_t{5});
    QCOMPARE(std::get<scene::Disable>(scene.snares[0].responses[0].kind).on.names[0], std::string("balance/plate"));
    QCOMPARE(scene.snares[0].filter.when[0].left, std::string("balance.load"));
    QCOMPARE(std::get<scene::Set>(scene.snares[0].responses[2].kind).name, std::string("load")); // a property, no path
}

void TestMentions::likeNamesAreLeftAlone()
{
    scene::Scene scene;
    scene.pieces = {zone("ring", {0, 0}, {1, 1}), zone("ring-2", {0, 0}, {1, 1})};
    scene.pieces[1].tags = {"ring"};
    scene.snares = {onEvent("ring", EventKind::enter, "tag:ring",
                            {scene::Hide{{{"ring-2"}}}, scene::Note{{"ring"}}, scene::Tag{{{"self"}}, "ring"}})};
    QCOMPARE(scene::rename(scene, Thing::piece, "ring", "hoop"), std::size_t{0});
    QCOMPARE(scene.pieces[0].id, std::string("hoop"));
    QCOMPARE(scene.snares[0].catches.at, std::string("tag:ring"));
    QCOMPARE(scene.snares[0].id, std::string("ring"));
}

void TestMentions::tagsFollowInFiltersAndSelectors()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {1, 1})};
    scene.pieces[0].tags = {"staff", "late"};
    scene.snares = {onEvent("a", EventKind::enter, "tag:staff",
                            {scene::Tag{{{"visitor"}}, "staff"}, scene::Hide{{{"tag:staff"}}}})};
    scene.snares[0].filter.tags.none = {"staff"};
    QCOMPARE(scene::rename(scene, Thing::tag, "staff", "crew"), std::size_t{5});
    QCOMPARE(scene.pieces[0].tags, (std::vector<std::string>{"crew", "late"}));
}

void TestMentions::groupsFollowInTableFiltersAndSelectors()
{
    scene::Scene scene;
    scene.groups = {"cargo", "quay"};
    scene.contacts = {{"cargo", "quay", scene::Contact::pass}};
    scene.pieces = {zone("z", {0, 0}, {1, 1})};
    scene.pieces[0].group = "cargo";
    scene.pieces[0].shapes[0].group = "cargo";
    scene.snares = {onEvent("a", EventKind::enter, "group:cargo", {scene::Regroup{{{"z"}}, "cargo"}})};
    scene.snares[0].filter.groups = {"cargo"};
    QCOMPARE(scene::rename(scene, Thing::group, "cargo", "freight"), std::size_t{7});
    QCOMPARE(scene.snares[0].catches.at, std::string("group:freight"));
    QCOMPARE(scene.contacts[0].first, std::string("freight"));
}

void TestMentions::snaresFollowInArmAndDisarm()
{
    scene::Scene scene;
    scene.snares = {onKey("late", "k", {}), onKey("b", "b", {scene::Arm{{"late", "b"}}, scene::Disarm{{"late"}}})};
    QCOMPARE(scene::rename(scene, Thing::snare, "late", "closing"), std::size_t{2});
    QVERIFY(scene::findSnare(scene, "closing"));
}

void TestMentions::signalsFollowOnBothEnds()
{
    scene::Scene scene;
    scene.snares = {onKey("a", "k", {scene::Signal{"go", {}, {}, false}}), onSignal("b", "go", {})};
    QCOMPARE(scene::rename(scene, Thing::signal, "go", "set-out"), std::size_t{2});
    QCOMPARE(scene::allSignals(scene), (std::vector<std::string>{"set-out"}));
}

void TestMentions::sourcesFollowInCatches()
{
    scene::Scene scene;
    scene.sources = {{"tide", scene::TimerSource{}}};
    scene.snares = {onEvent("a", EventKind::elapsed, {})};
    scene.snares[0].catches.source = "tide";
    QCOMPARE(scene::rename(scene, Thing::source, "tide", "flood"), std::size_t{1});
    QCOMPARE(scene.sources[0].id, std::string("flood"));
}

void TestMentions::valuesFollowInPathsCaptionsAndScripts()
{
    scene::Scene scene;
    scene.variables.set("load", scene::Scalar{1.0});
    scene.pieces = {zone("scale", {0, 0}, {1, 1})};
    scene.pieces[0].properties.set("load", scene::Scalar{2.0});
    scene.pieces[0].look.label = "{self.load} kg, {self.loads}, load";
    scene::Spawn spawn;
    spawn.set.set("load", {scene::Scalar{3.0}});
    scene.snares = {onKey("k", "k",
                          {scene::Set{{{"scale"}}, "load", {scene::Get{"visitor.held.load"}}},
                           scene::Say{{{"scale"}}, {{{std::string("now {scale.load}")}}}},
                           scene::Script{"scene.load = self.load + 1 -- \"self.load\"\nlocal t = {load = 1}"}, spawn})};
    scene.snares[0].filter.when = {{"event.load", scene::Comparison::greater, {scene::Get{"scene.load"}}}};
    QVERIFY(scene::rename(scene, Thing::value, "load", "freight") > 0);
    QVERIFY(scene.variables.find("freight") && scene.pieces[0].properties.find("freight"));
    QCOMPARE(scene.pieces[0].look.label, std::string("{self.freight} kg, {self.loads}, load"));
    const auto& responses = scene.snares[0].responses;
    QCOMPARE(std::get<scene::Set>(responses[0].kind).name, std::string("freight"));
    QCOMPARE(std::get<scene::Set>(responses[0].kind).value.formula()->text, std::string("visitor.held.freight"));
    QCOMPARE(*std::get<scene::Say>(responses[1].kind).text.items[0].literal(), std::string("now {scale.freight}"));
    // What stands in quotes, and keys of a table of the script's own, stay.
    QCOMPARE(std::get<scene::Script>(responses[2].kind).lua,
             std::string("scene.freight = self.freight + 1 -- \"self.load\"\nlocal t = {load = 1}"));
    QVERIFY(std::get<scene::Spawn>(responses[3].kind).set.find("freight"));
    QCOMPARE(scene.snares[0].filter.when[0].left, std::string("event.load")); // what an event carries is no property
    QCOMPARE(scene.snares[0].filter.when[0].right.formula()->text, std::string("scene.freight"));
    // A piece of that name in captions and scripts.
    QVERIFY(scene::rename(scene, Thing::piece, "scale", "balance") > 0);
    QCOMPARE(*std::get<scene::Say>(scene.snares[0].responses[1].kind).text.items[0].literal(),
             std::string("now {balance.freight}"));
}

void TestMentions::looksPhasesAndShapesFollowAtAllPieces()
{
    scene::Scene scene;
    scene.phases = {"open", "shut"};
    scene.pieces = {zone("a", {0, 0}, {1, 1}), zone("b", {0, 0}, {1, 1})};
    for (std::size_t i = 0; i < 2; ++i) {
        scene.pieces[i].looks.set("lit", {});
        scene.pieces[i].phases = {{"open", {}}, {"wet", {}}};
        scene.pieces[i].shapes[0].id = "plate";
    }
    scene.pieces[0].during.items = {"open"};
    scene.snares = {onEvent("s", EventKind::enter, "a",
                            {scene::ChangeLook{{{"tag:x"}}, {std::string("lit")}, {}},
                             scene::ChangePhase{{{"b"}}, {std::string("open")}}, scene::Disable{{{"b/plate"}}}})};
    scene.snares[0].catches.shape = "plate";
    scene.snares[0].during.items = {"open", "scene:open", "wet"};
    scene::rename(scene, Thing::look, "lit", "bright");
    QVERIFY(scene.pieces[0].looks.find("bright") && scene.pieces[1].looks.find("bright"));
    QCOMPARE(std::get<std::string>(std::get<scene::ChangeLook>(scene.snares[0].responses[0].kind).to.held),
             std::string("bright"));
    scene::rename(scene, Thing::phase, "open", "ebb");
    QCOMPARE(scene.phases, (std::vector<std::string>{"ebb", "shut"}));
    QCOMPARE(scene.pieces[1].phases[0].id, std::string("ebb"));
    QCOMPARE(scene.pieces[0].during.items, (std::vector<std::string>{"ebb"}));
    QCOMPARE(scene.snares[0].during.items, (std::vector<std::string>{"ebb", "scene:ebb", "wet"}));
    QCOMPARE(*std::get<scene::ChangePhase>(scene.snares[0].responses[1].kind).to.literal(), std::string("ebb"));
    scene::rename(scene, Thing::shape, "plate", "pan");
    QCOMPARE(scene.pieces[0].shapes[0].id, std::string("pan"));
    QCOMPARE(scene.snares[0].catches.shape, std::string("pan"));
    QCOMPARE(std::get<scene::Disable>(scene.snares[0].responses[2].kind).on.names[0], std::string("b/pan"));
    // Two that became one could not be told apart again.
    QVERIFY(scene::refuseName(scene, Thing::phase, "wet", "ebb"));
    QVERIFY(scene::refuseName(scene, Thing::look, "bright", "next"));
    QVERIFY(scene::refuseName(scene, Thing::value, "load", "x"));
    QVERIFY(!scene::refuseName(scene, Thing::look, "bright", "dim"));
}

void TestMentions::callsAndDialsFollowInTakes()
{
    scene::Take take;
    take.inputs = {{0, scene::DialInput{"tide", 1}}, {1, scene::CallInput{"hail"}}, {2, scene::KeyInput{"tide", true}}};
    QCOMPARE(scene::rename(take, Thing::source, "tide", "flood"), std::size_t{1});
    QCOMPARE(take.inputs[0].as<scene::DialInput>()->dial, std::string("flood"));
    QCOMPARE(take.inputs[2].as<scene::KeyInput>()->key, std::string("tide")); // a key of that name is another thing
    QCOMPARE(scene::rename(take, Thing::call, "hail", "ahoy"), std::size_t{1});
    QCOMPARE(take.inputs[1].as<scene::CallInput>()->call, std::string("ahoy"));
}

void TestMentions::namesThatCannotBeAreRefused()
{
    scene::Scene scene;
    scene.pieces = {zone("a", {0, 0}, {1, 1}), zone("b", {0, 0}, {1, 1})};
    scene.sources = {{"tide", scene::TimerSource{}}};
    for (const char* wrong : {"", "b", "tide", "two words", "self"})
        QVERIFY2(scene::refuseName(scene, Thing::piece, "a", wrong), wrong);
    QVERIFY(!scene::refuseName(scene, Thing::piece, "a", "a"));
    QVERIFY(!scene::refuseName(scene, Thing::piece, "a", "quay-3"));
    QVERIFY(!scene::refuseName(scene, Thing::tag, "x", "two words"));
}

void TestMentions::listenersAndActorsAreTold()
{
    scene::Scene scene;
    scene.pieces = {zone("a", {0, 0}, {1, 1}), zone("b", {0, 0}, {1, 1})};
    scene.pieces[1].tags = {"ring"};
    scene.snares = {onEvent("at-a", EventKind::enter, "a", {scene::Hide{{{"b"}}}}),
                    onEvent("at-ring", EventKind::enter, "tag:ring", {scene::Hide{{{"self"}}}}),
                    onKey("key", "k", {scene::Show{{{"group:default"}}}})};
    QCOMPARE(scene::snaresListeningAt(scene, scene.pieces[1]), (std::vector<std::string>{"at-ring"}));
    QCOMPARE(scene::snaresActingOn(scene, scene.pieces[1]), (std::vector<std::string>{"at-a", "key"}));
}

/// Renaming changes names and nothing else: the log is the same but for them.
void TestMentions::aRenamedSceneRunsTheSame()
{
    scene::Scene scene;
    scene.pieces = {zone("z", {0, 0}, {2, 2}), mover("m", {-3, 0}, {3.1, 0})};
    scene.snares = {
        onEvent("in", EventKind::enter, "z",
                {scene::Put{{{"m"}}, scene::Destination{Vec{9, 9}}, {}}, scene::Note{{scene::Get{"z.x"}}}})};
    const std::string before = io::logText(play(scene, {}, 1));
    scene::rename(scene, Thing::piece, "z", "zz");
    QString after = QString::fromStdString(io::logText(play(scene, {}, 1)));
    QCOMPARE(after.replace(QStringLiteral("\"zz\""), QStringLiteral("\"z\"")), QString::fromStdString(before));
}

QTEST_APPLESS_MAIN(TestMentions)
#include "test_mentions.moc"
