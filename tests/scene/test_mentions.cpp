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
