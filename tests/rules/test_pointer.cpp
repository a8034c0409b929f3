// SPDX-License-Identifier: Apache-2.0
/// The pointer as a visitor, its buttons, drags and boxes, and the glass (P1 to P7, P11).
#include "builder.h"
#include "sim/recorder.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;

namespace {

const std::string ofPointer = "'filter': {'groups': ['pointer']}";

/// A snare that notes its name and what is asked of the event.
std::string noting(const std::string& id, const std::string& catches, const std::string& filter = ofPointer,
                   const std::string& text = {})
{
    return fmt::format("{{'id': '{}', 'catch': {{{}}}, {}, 'responses': [{{'do': 'log', 'text': '{}'}}]}}", id, catches,
                       filter, text.empty() ? id : text);
}

std::string box(const std::string& id, double x, double y, const std::string& more = {},
                const std::string& role = "solid")
{
    return fmt::format("{{'id': '{}', 'at': [{}, {}], {} 'shapes': [{{'id': 'face', 'role': '{}', 'box': [2, 2]}}]}}",
                       id, x, y, more, role);
}

std::string sceneOf(const std::string& pieces, const std::string& snares, const std::string& more = {})
{
    return fmt::format("{} 'pieces': [{}], 'snares': [{}]", more, pieces, snares);
}

std::string moved(double t, double x, double y)
{
    return fmt::format("{{'t': {}, 'pointer': [{}, {}]}}", t, x, y);
}

std::string onGlass(double t, double x, double y)
{
    return fmt::format("{{'t': {}, 'glass': [{}, {}]}}", t, x, y);
}

std::string button(double t, bool down, const std::string& name = "left")
{
    return fmt::format("{{'t': {}, 'button': '{}', 'down': {}}}", t, name, down);
}

/// Pressed and let go a tick later.
std::string clicked(double t, const std::string& name = "left")
{
    return button(t, true, name) + ", " + button(t + 0.02, false, name);
}

std::string all(std::initializer_list<std::string> inputs)
{
    return fmt::format("{}", fmt::join(inputs, ", "));
}

/// "6 enter under", … : what the pointer meets and does, with the cause if it is not `moved`.
QStringList ofThePointer(const sim::Record& record)
{
    QStringList result;
    for (const rules::Line& line : record.journal.lines) {
        if (line.kind != rules::LineKind::event ||
            (!world::isPointer(line.visitor) && line.event != scene::EventKind::drop))
            continue;
        std::string text = fmt::format("{} {} {}", line.tick, scene::wordOf(line.event), record.nameOf(line.self));
        if (line.visitor == world::pointerThrough)
            text += " through";
        if (line.event == scene::EventKind::drop)
            text += fmt::format(" {}", record.nameOf(line.visitor));
        if (rules::isContact(line.event) && line.cause != world::Cause::moved)
            text += fmt::format(" {}", world::wordOf(line.cause));
        result << QString::fromStdString(text);
    }
    return result;
}

sim::Record played(const std::string& members, const std::string& inputs, double length = 2, bool stays = false)
{
    return play(sceneFrom(members), takeFrom(inputs, length), {}, stays);
}

} // namespace

class TestPointer : public QObject {
    Q_OBJECT

  private slots:
    void isNowhereBeforeItsFirstInput();
    void meetsTheTopmostByLayerThenByOrder();
    void passesThroughWhatNobodyCatchesAndWhatIsThrough();
    void hoverFollowsPiecesThatMoveUnderIt();
    void foundWhenItMovesHasFracNothingAfterMotionOne();
    void whatIsHiddenUnderItEndsAtOnce();
    void reachAllIsAMeetingOfItsOwn();
    void contactSnaresHearItOnlyByName();
    void itsMeetingsAreNotCounted();
    void filtersSeeItsGroupNameAndSpeed();
    void clicksNeedDownAndUpOnTheSamePiece();
    void clicksOnEmptyGroundAreTheScenes();
    void doublesCountPairsWithinTheirTime();
    void carriesButtonModifiersHoldPointAndNormal();
    void catchesAreNarrowedByButtonModifiersAndShape();
    void aDisabledPieceCoversAndItsSnaresSlip();
    void dragsWhatIsDraggable();
    void dragsAtWhatListensWithoutMovingIt();
    void dropsOnWhatLiesBelow();
    void aDragOfWhatIsRemovedEndsQuietly();
    void sweepsABoxAndHandsOverWhatIsInIt();
    void doesNotSweepWhereClicksAreCaught();
    void pinnedPiecesCoverTheWorldAndMeetNothingElse();
    void theGlassGoesWithTheView();
    void fillsTheView();
    void carriesAndIsChased();
    void spawnsAtItFromTheGlass();
    void promptsAndKeysInsideLeaveItOut();
    void aRestartKeepsItsPlaceAndItsButtons();
    void aCopiedRunGoesOnAlike();
    void inputsAreReadWrittenAndRefused();
};

void TestPointer::isNowhereBeforeItsFirstInput()
{
    const auto record = played(sceneOf(box("a", 0, 0), noting("in", "'event': 'enter', 'at': 'a'")),
                               all({clicked(0.1), moved(0.5, 0, 0)}));
    QCOMPARE(ofThePointer(record), QStringList{"30 enter a"});
    QVERIFY(!sim::pointerAt(record, 29).pointer.there);
    QCOMPARE(sim::pointerAt(record, 30).pointer.at, geometry::Vec(0, 0));
}

void TestPointer::meetsTheTopmostByLayerThenByOrder()
{
    const std::string pieces = all({box("high", 0, 0, "'layer': 3,"), box("low", 1, 0), box("later", 1.5, 0)});
    const auto record = played(sceneOf(pieces, ""), all({moved(0.1, 0.9, 0), moved(0.2, 1.2, 0), moved(0.3, 9, 0)}));
    QCOMPARE(ofThePointer(record), (QStringList{"6 enter high", "12 exit high", "12 enter later", "18 exit later"}));
}

void TestPointer::passesThroughWhatNobodyCatchesAndWhatIsThrough()
{
    // A zone that nobody asks about the pointer, and a solid that lets it through, cover nothing
    // (P1).
    const std::string pieces = all({box("ground", 0, 0), box("mist", 0, 0, "'layer': 1,", "zone"),
                                    box("pane", 0, 0, "'layer': 2, 'through': true,")});
    const std::string inputs = moved(0.1, 0, 0);
    const std::string others =
        noting("walk-in", "'event': 'enter', 'at': 'mist'", "'filter': {'tags': {'any': ['x']}}");
    QCOMPARE(ofThePointer(played(sceneOf(pieces, others), inputs)), QStringList{"6 enter ground"});
    const std::string asked = noting("ask", "'event': 'click', 'at': 'mist'");
    QCOMPARE(ofThePointer(played(sceneOf(pieces, asked), inputs)), QStringList{"6 enter mist"});
    const std::string byTag = noting("ask", "'event': 'enter', 'at': 'group:fog'");
    const std::string fog = all({box("ground", 0, 0), box("mist", 0, 0, "'layer': 1, 'group': 'fog',", "zone")});
    QCOMPARE(ofThePointer(played(sceneOf(fog, byTag), inputs)), QStringList{"6 enter mist"});
}

void TestPointer::hoverFollowsPiecesThatMoveUnderIt()
{
    const std::string cart =
        "{'id': 'cart', 'at': [-3.05, 0], 'layer': 1, 'body': {'kind': 'kinematic', 'velocity': [6, 0]}, "
        "'shapes': [{'box': [2, 2]}]}";
    const auto record = played(sceneOf(all({box("quay", 0, 0), cart}), ""), moved(0.1, 0, 0), 1.2);
    QCOMPARE(ofThePointer(record),
             (QStringList{"6 enter quay", "21 exit quay", "21 enter cart", "41 exit cart", "41 enter quay"}));
}

void TestPointer::foundWhenItMovesHasFracNothingAfterMotionOne()
{
    const std::string cart = "{'id': 'cart', 'at': [-3.05, 0], 'body': {'kind': 'kinematic', 'velocity': [6, 0]}, "
                             "'shapes': [{'box': [2, 2]}]}";
    const auto record =
        played(sceneOf(all({cart, box("post", 5, 0)}), ""), all({moved(0.1, 0, 0), moved(1, 5, 0)}), 1.2, true);
    std::map<int, double> fracs;
    int stays = 0;
    for (const rules::Line& line : record.journal.lines)
        if (line.visitor == world::thePointer && line.event == scene::EventKind::enter)
            fracs[line.tick] = line.frac;
        else if (line.visitor == world::thePointer && line.event == scene::EventKind::stay)
            ++stays;
    QCOMPARE(fracs, (std::map<int, double>{{21, 1.0}, {60, 0.0}}));
    QCOMPARE(stays, 19 + 12); // each tick after the first while it is inside: 22 to 40 and 61 to 72
}

void TestPointer::whatIsHiddenUnderItEndsAtOnce()
{
    const std::string snares =
        all({noting("gone", "'event': 'exit', 'at': 'lid'"),
             "{'id': 'open', 'catch': {'event': 'key-down', 'key': 'o'}, 'responses': [{'do': 'hide', 'on': 'lid'}]}",
             "{'id': 'shut', 'catch': {'event': 'key-down', 'key': 's'}, 'responses': [{'do': 'show', 'on': 'lid'}]}"});
    const auto record =
        played(sceneOf(all({box("chest", 0, 0), box("lid", 0, 0, "'layer': 1,")}), snares),
               all({moved(0.1, 0, 0), "{'t': 0.5, 'key': 'o', 'down': true}", "{'t': 1, 'key': 's', 'down': true}"}));
    QCOMPARE(ofThePointer(record), (QStringList{"6 enter lid", "30 exit lid hidden", "30 enter chest",
                                                "60 enter lid shown", "60 exit chest"}));
    QCOMPARE(outcomesOf(record, "gone"), QStringList{"30 gone sprung"});
}

void TestPointer::reachAllIsAMeetingOfItsOwn()
{
    const std::string pieces = all({box("under", 0, 0), box("over", 1, 0, "'layer': 1,")});
    const std::string snares =
        all({noting("top", "'event': ['enter', 'exit', 'click'], 'at': 'under'"),
             noting("deep", "'event': ['enter', 'exit', 'click'], 'at': 'under', 'reach': 'all'")});
    const auto record = played(sceneOf(pieces, snares),
                               all({moved(0.1, -0.5, 0), moved(0.2, 0.5, 0), clicked(0.3), moved(0.5, 1.5, 0)}));
    QCOMPARE(notes(record), (QStringList{"6 deep", "6 top", "12 top", "20 deep", "30 deep"}));
    QVERIFY(ofThePointer(record).contains(QStringLiteral("20 click under through")));
    QVERIFY(ofThePointer(record).contains(QStringLiteral("20 click over")));
}

void TestPointer::contactSnaresHearItOnlyByName()
{
    const auto outcomes = [](const std::string& filter) {
        const std::string snares =
            all({noting("in", "'event': 'enter', 'at': 'a'", filter), noting("ask", "'event': 'click', 'at': 'a'")});
        return outcomesOf(played(sceneOf(box("a", 0, 0, "", "zone"), snares), moved(0.1, 0, 0)), "in");
    };
    QCOMPARE(outcomes("'filter': {}"), QStringList{});
    QCOMPARE(outcomes("'filter': {'groups': ['default']}"), QStringList{});
    QCOMPARE(outcomes(ofPointer), QStringList{"6 in sprung"});
    QCOMPARE(outcomes("'filter': {'pieces': ['pointer']}"), QStringList{"6 in sprung"});
    QCOMPARE(outcomes("'filter': {'groups': ['pointer'], 'tags': {'any': ['wet']}}"),
             QStringList{"6 in slipped filter"});
}

void TestPointer::itsMeetingsAreNotCounted()
{
    const std::string snares = all({noting("in", "'event': 'enter', 'at': 'a'", ofPointer, "count {self.count}"),
                                    "{'id': 'first', 'catch': {'event': 'occupied', 'at': 'a'}, 'responses': []}",
                                    "{'id': 'over', 'catch': {'event': 'occupied', 'at': 'a'}, 'filter': {'groups': "
                                    "['pointer']}, 'responses': []}"});
    const auto record = played(sceneOf(box("a", 0, 0, "", "zone"), snares), moved(0.1, 0, 0));
    QCOMPARE(notes(record), QStringList{"6 count 0"});
    QCOMPARE(outcomesOf(record, "first"), QStringList{});
    QCOMPARE(outcomesOf(record, "over"), QStringList{"6 over sprung"});
}

void TestPointer::filtersSeeItsGroupNameAndSpeed()
{
    const std::string snares =
        all({noting("fast", "'event': 'enter', 'at': 'a'", "'filter': {'groups': ['pointer'], 'speed': {'min': 100}}"),
             noting("left", "'event': 'enter', 'at': 'a'", "'filter': {'groups': ['pointer'], 'side': ['left']}"),
             noting("where", "'event': 'enter', 'at': 'a'", ofPointer, "{pointer.x} {visitor.y} {visitor.group}")});
    const auto record = played(sceneOf(box("a", 0, 0), snares),
                               all({moved(0.1, -4, 0), moved(0.2, 0.5, 0.25), moved(0.4, 1.2, 0), moved(0.5, 0.5, 0)}));
    QCOMPARE(outcomesOf(record, "fast"), (QStringList{"12 fast sprung", "30 fast slipped filter"}));
    QCOMPARE(outcomesOf(record, "left"), (QStringList{"12 left sprung", "30 left slipped filter"}));
    QCOMPARE(notes(record).filter(QStringLiteral("pointer")), (QStringList{"12 0.5 0.25 pointer", "30 0.5 0 pointer"}));
}

void TestPointer::clicksNeedDownAndUpOnTheSamePiece()
{
    const std::string snares =
        all({noting("a-click", "'event': 'click', 'at': 'a'"), noting("b-click", "'event': 'click', 'at': 'b'")});
    const auto record =
        played(sceneOf(all({box("a", 0, 0), box("b", 3, 0)}), snares),
               all({moved(0.1, 0, 0), clicked(0.2), button(0.5, true), moved(0.6, 3, 0), button(0.7, false),
                    moved(0.8, 0, 0), button(0.9, true), moved(1, 3, 0), moved(1.1, 0, 0), button(1.2, false)}));
    QCOMPARE(notes(record), (QStringList{"14 a-click", "72 a-click"}));
}

void TestPointer::clicksOnEmptyGroundAreTheScenes()
{
    const std::string snares =
        all({noting("ground", "'event': 'click'"), noting("named", "'event': 'click', 'at': 'scene'")});
    const auto record =
        played(sceneOf(box("a", 0, 0), snares), all({moved(0.1, 8, 8), clicked(0.2), moved(0.5, 0, 0), clicked(0.6)}));
    QCOMPARE(notes(record), (QStringList{"14 ground", "14 named"}));
    QVERIFY(eventsAt(record, "scene").contains(QStringLiteral("12 down scene pointer")));
}

void TestPointer::doublesCountPairsWithinTheirTime()
{
    const std::string snares =
        noting("d", "'event': ['click', 'double'], 'at': 'a'", ofPointer, "{event.name} {event.count}");
    const auto record =
        played(sceneOf(box("a", 0, 0), snares),
               all({moved(0.1, 0, 0), clicked(0.2), clicked(0.4), clicked(0.6), clicked(1.5), clicked(2.1)}), 3);
    QCOMPARE(notes(record),
             (QStringList{"14 click 1", "26 click 2", "26 double 2", "38 click 3", "92 click 1", "128 click 1"}));
    // At the edge: 24 ticks apart is within 0.4 s, 25 is not.
    const auto apart = [&](double t) {
        return notes(played(sceneOf(box("a", 0, 0), snares), all({moved(0.1, 0, 0), clicked(0.2), clicked(t)}))).size();
    };
    QCOMPARE(apart(0.2 + 24.0 / 60), 3);
    QCOMPARE(apart(0.2 + 25.0 / 60), 2);
}

void TestPointer::carriesButtonModifiersHoldPointAndNormal()
{
    const std::string snares = noting("c", "'event': 'click', 'at': 'a'", ofPointer,
                                      "{event.button} [{event.modifiers}] {event.hold} {pointer.x}");
    const std::string normal =
        "{'id': 'n', 'catch': {'event': 'down', 'at': 'a'}, 'responses': [{'do': 'script', 'lua': "
        "'if event.normal then scene.nx = event.normal.x scene.ny = event.normal.y end'}]}";
    const auto record = played(sceneOf(box("a", 0, 0), all({snares, normal})),
                               all({moved(0.1, 0.95, 0.2), "{'t': 0.15, 'key': 'Shift_R', 'down': true}",
                                    "{'t': 0.15, 'key': 'Control_L', 'down': true}", button(0.2, true, "right"),
                                    button(0.45, false, "right")}));
    QCOMPARE(notes(record), QStringList{"27 right [shift ctrl] 0.25 0.95"});
    QCOMPARE(number(record, "nx"), 1.0);
    QCOMPARE(number(record, "ny"), 0.0);
    const auto inner = played(sceneOf(box("a", 0, 0), normal), all({moved(0.1, 0.5, 0.2), clicked(0.2)}));
    QCOMPARE(lastValue(inner, "scene", "nx"), QStringLiteral("none")); // no edge is near
}

void TestPointer::catchesAreNarrowedByButtonModifiersAndShape()
{
    const std::string piece = "{'id': 'a', 'at': [0, 0], 'shapes': [{'id': 'left', 'at': [-1, 0], 'box': [2, 2]}, "
                              "{'id': 'right', 'at': [1, 0], 'box': [2, 2]}]}";
    const std::string snares = all({noting("r", "'event': 'click', 'at': 'a', 'button': 'right'"),
                                    noting("s", "'event': 'click', 'at': 'a', 'modifiers': 'shift'"),
                                    noting("l", "'event': 'click', 'at': 'a', 'shape': 'left'"),
                                    noting("any", "'event': 'click', 'at': 'a'")});
    const auto record = played(sceneOf(piece, snares),
                               all({moved(0.1, -0.5, 0), clicked(0.2), moved(0.4, 0.5, 0), clicked(0.5, "right"),
                                    "{'t': 0.8, 'key': 'Shift_L', 'down': true}", clicked(0.9)}));
    QCOMPARE(notes(record), (QStringList{"14 l", "14 any", "32 r", "32 any", "56 s", "56 any"}));
    // Entered per shape, left per shape (M9).
    QCOMPARE(lines(record,
                   [&](const rules::Line& line) {
                       return line.event == scene::EventKind::enter && line.kind == rules::LineKind::event;
                   })
                 .size(),
             2);
}

void TestPointer::aDisabledPieceCoversAndItsSnaresSlip()
{
    const std::string pieces = all({box("under", 0, 0), box("lid", 0, 0, "'layer': 1, 'enabled': false,")});
    const std::string snares = all({noting("lid-click", "'event': 'click', 'at': 'lid'"),
                                    noting("under-click", "'event': 'click', 'at': 'under'")});
    const auto record = played(sceneOf(pieces, snares), all({moved(0.1, 0, 0), clicked(0.2)}));
    QCOMPARE(reasonsOf(record, "lid-click"), QStringList{"armed: disabled"});
    QCOMPARE(outcomesOf(record, "under-click"), QStringList{});
    QVERIFY(!ofThePointer(record).contains(QStringLiteral("6 enter lid")));
}

void TestPointer::dragsWhatIsDraggable()
{
    const std::string snares =
        all({noting("begin", "'event': 'drag-begin', 'at': 'peg'"), noting("on", "'event': 'drag', 'at': 'peg'"),
             noting("end", "'event': 'drag-end', 'at': 'peg'"), noting("click", "'event': 'click', 'at': 'peg'")});
    const auto record = played(sceneOf(box("peg", 0, 0, "'draggable': true,"), snares),
                               all({moved(0.1, 0.5, 0), button(0.2, true), moved(0.3, 0.6, 0), moved(0.4, 2, 1),
                                    moved(0.41, 2.5, 1), moved(0.6, 3.5, 2), button(0.8, false)}));
    // Not farther than 0.1 m: no drag yet. Two moves in one tick are one drag.
    QCOMPARE(notes(record), (QStringList{"24 begin", "24 on", "25 on", "36 on", "48 end"}));
    QCOMPARE(record.snapshots.at(30)[0].pose.at, geometry::Vec(2, 1));
    QCOMPARE(record.snapshots.at(40)[0].pose.at, geometry::Vec(3, 2));
    // It stays under the pointer: no leaving and coming back.
    QCOMPARE(ofThePointer(record).filter(QStringLiteral("exit")), QStringList{});
}

void TestPointer::dragsAtWhatListensWithoutMovingIt()
{
    const std::string snares =
        all({noting("begin", "'event': 'drag-begin', 'at': 'bow'"),
             noting("end", "'event': 'drag-end', 'at': 'bow'", ofPointer, "pulled to {pointer.x}")});
    const auto record =
        played(sceneOf(box("bow", 0, 0), snares, "'dragStart': 1,"),
               all({moved(0.1, 0, 0), button(0.2, true), moved(0.3, 0.9, 0), moved(0.5, 4, 0), button(0.6, false)}));
    QCOMPARE(notes(record), (QStringList{"30 begin", "36 pulled to 4"}));
    QCOMPARE(record.snapshots.at(60)[0].pose.at, geometry::Vec(0, 0));
}

void TestPointer::dropsOnWhatLiesBelow()
{
    const std::string pieces = all({box("basket", 4, 0, "", "zone"), box("shelf", 4, 0, "'layer': -1,"),
                                    box("peg", 0, 0, "'layer': 1, 'draggable': true, 'tags': ['wet'],")});
    const std::string snares =
        all({noting("in", "'event': 'drop', 'at': 'basket'", "'filter': {'tags': {'any': ['wet']}}", "{visitor.id}"),
             noting("below", "'event': 'drop', 'at': 'shelf', 'reach': 'all'", "'filter': {}", "shelf {visitor.id}")});
    const std::string inputs = all({moved(0.1, 0, 0), button(0.2, true), moved(0.4, 4, 0), button(0.6, false)});
    QCOMPARE(notes(played(sceneOf(pieces, snares), inputs)), (QStringList{"36 peg", "36 shelf peg"}));
    const auto elsewhere = played(sceneOf(pieces, snares),
                                  all({moved(0.1, 0, 0), button(0.2, true), moved(0.4, 0, 8), button(0.6, false)}));
    QVERIFY(ofThePointer(elsewhere).filter(QStringLiteral("drop")).isEmpty());
    QVERIFY(ofThePointer(elsewhere).contains(QStringLiteral("36 drag-end peg")));
}

void TestPointer::aDragOfWhatIsRemovedEndsQuietly()
{
    const std::string snares = all({"{'id': 'x', 'catch': {'event': 'drag', 'at': 'peg'}, 'gate': {'limit': 1}, "
                                    "'responses': [{'do': 'remove', 'on': 'self'}]}",
                                    noting("end", "'event': ['drag-end', 'drop', 'sweep-end']")});
    const auto record =
        played(sceneOf(box("peg", 0, 0, "'draggable': true,"), snares),
               all({moved(0.1, 0, 0), button(0.2, true), moved(0.4, 1, 0), moved(0.6, 2, 0), button(0.8, false)}));
    QCOMPARE(notes(record), QStringList{});
    QCOMPARE(ofThePointer(record), (QStringList{"6 enter peg", "12 down peg", "24 drag-begin peg", "24 drag peg",
                                                "24 exit peg removed", "48 up scene"}));
    // The same if it is let go where it was.
    const auto still = played(sceneOf(box("peg", 0, 0, "'draggable': true,"), snares),
                              all({moved(0.1, 0, 0), button(0.2, true), moved(0.4, 1, 0), button(0.6, false)}));
    QCOMPARE(notes(still), QStringList{});
}

void TestPointer::sweepsABoxAndHandsOverWhatIsInIt()
{
    const std::string pieces = all({box("net-1", 0, 0, "'tags': ['net'],"), box("net-2", 4, 0, "'tags': ['net'],"),
                                    box("far", 20, 0, "'tags': ['net'],"), box("button", 2, 2, "'pinned': true,")});
    const std::string snares =
        all({noting("in", "'event': 'enter', 'at': 'tag:net'", ofPointer, "in {self.id}"),
             noting("out", "'event': 'exit', 'at': 'tag:net'", ofPointer, "out {self.id}"),
             "{'id': 'haul', 'catch': {'event': 'sweep-end'}, 'responses': [{'do': 'tag', 'on': 'swept', 'tag': "
             "'hauled'}, {'do': 'wait', 'for': 0.5}, {'do': 'put', 'on': 'swept', 'by': [0, 5]}]}"});
    const auto record =
        played(sceneOf(pieces, snares),
               all({moved(0.1, -3, -3), button(0.2, true), moved(0.3, 2, 3), moved(0.5, 6, 3), button(0.8, false)}));
    QCOMPARE(notes(record), (QStringList{"18 in net-1", "30 in net-2", "48 out net-1", "48 out net-2"}));
    const QStringList events = ofThePointer(record);
    QVERIFY(events.contains(QStringLiteral("18 sweep-begin scene")));
    QVERIFY(events.indexOf(QStringLiteral("48 sweep-end scene")) <
            events.indexOf(QStringLiteral("48 exit net-1 swept")));
    QVERIFY(!events.join(QLatin1Char(' ')).contains(QStringLiteral("button")));
    // The run remembers what was in the box (S9).
    QCOMPARE(record.snapshots.at(100)[0].pose.at, geometry::Vec(0, 5));
    QCOMPARE(record.snapshots.at(100)[2].pose.at, geometry::Vec(20, 0));
    QVERIFY(sim::pointerAt(record, 40).pointer.sweptFrom.has_value());
    QVERIFY(!sim::pointerAt(record, 48).pointer.sweptFrom.has_value());
    // What is let go at is what the pointer is at, not all that the box reaches.
    const std::string twin = "{'id': 'twin', 'at': [0, 0], 'shapes': [{'id': 'far', 'at': [-3, 0], 'box': [1, 1]}, "
                             "{'id': 'here', 'at': [3, 0], 'box': [1, 1]}, {'id': 'mid', 'circle': 0.5}]}";
    const auto let =
        played(sceneOf(twin, ""), all({moved(0.1, -5, -2), button(0.2, true), moved(0.4, 3, 0), button(0.6, false)}));
    for (const rules::Line& line : let.journal.lines)
        if (line.kind == rules::LineKind::event && line.event == scene::EventKind::up)
            QCOMPARE(QString::fromStdString(std::string(let.shapeNameOf(line.shape))), QStringLiteral("here"));
    // While the box rests, what comes into it is met too.
    const std::string boat = "{'id': 'boat', 'at': [-12, 0], 'tags': ['net'], 'body': {'kind': 'kinematic', "
                             "'velocity': [12, 0]}, 'shapes': [{'circle': 0.5}]}";
    const auto resting = played(sceneOf(boat, noting("in", "'event': 'enter', 'at': 'tag:net'")),
                                all({moved(0.1, -3, -3), button(0.2, true), moved(0.3, 3, 3)}));
    QCOMPARE(notes(resting), QStringList{"43 in"});
}

void TestPointer::doesNotSweepWhereClicksAreCaught()
{
    const std::string inputs = all({moved(0.1, 0, 0), button(0.2, true), moved(0.4, 3, 3), button(0.6, false)});
    QVERIFY(ofThePointer(played(sceneOf(box("a", 0, 0), ""), inputs)).contains(QStringLiteral("24 sweep-begin scene")));
    for (const char* event : {"down", "click", "double"})
        QVERIFY(
            !ofThePointer(
                 played(sceneOf(box("a", 0, 0), noting("x", fmt::format("'event': '{}', 'at': 'a'", event))), inputs))
                 .contains(QStringLiteral("24 sweep-begin scene")));
    // A catch of another button does not count.
    QVERIFY(ofThePointer(
                played(sceneOf(box("a", 0, 0), noting("x", "'event': 'click', 'at': 'a', 'button': 'right'")), inputs))
                .contains(QStringLiteral("24 sweep-begin scene")));
}

void TestPointer::pinnedPiecesCoverTheWorldAndMeetNothingElse()
{
    // The view is 32 by 20 m around the origin: its lower left corner is at -16, -10.
    const std::string walker = "{'id': 'courier', 'at': [0, 0], 'layer': 9, 'body': {'kind': 'kinematic', 'velocity': "
                               "[1, 0]}, 'shapes': [{'circle': 3}]}";
    const std::string pieces = all({walker, box("sign", 16, 10, "'pinned': true,")});
    const auto record = played(sceneOf(pieces, noting("c", "'event': 'click', 'at': 'sign'")),
                               all({moved(0.1, 0.5, 0.5), clicked(0.2), onGlass(0.5, 16, 10), clicked(0.9)}));
    QCOMPARE(notes(record), (QStringList{"14 c", "56 c"}));
    for (const rules::Line& line : record.journal.lines)
        QVERIFY(line.event != scene::EventKind::enter || world::isPointer(line.visitor));
    QCOMPARE(sim::pointerAt(record, 10).pointer.glass, geometry::Vec(16.5, 10.5));
}

void TestPointer::theGlassGoesWithTheView()
{
    // A pointer that rests on the glass goes over the world with the view; one in the world over
    // the glass.
    const std::string cart = "{'id': 'cart', 'at': [0, 0], 'body': {'kind': 'kinematic', 'velocity': [6, 0]}, "
                             "'shapes': [{'role': 'zone', 'circle': 0.3}]}";
    const std::string scene = sceneOf(all({cart, box("post", 9, 2), box("sign", 4, 4, "'pinned': true,")}), "",
                                      "'camera': {'follow': 'cart'},");
    const auto resting = played(scene, onGlass(0.1, 19.05, 12), 2);
    QCOMPARE(ofThePointer(resting), (QStringList{"50 enter post", "70 exit post"})); // at x = 3 + 6 t
    const auto inWorld = played(scene, moved(0.1, -9.05, -6), 2); // the sign comes by: it lies at -12 + 6 t
    QCOMPARE(ofThePointer(inWorld), (QStringList{"20 enter sign", "40 exit sign"}));
}

void TestPointer::fillsTheView()
{
    const std::string veil = "{'id': 'veil', 'pinned': true, 'fill': '%1', 'at': [3, 3], 'shapes': [{'box': [4, 4]}]}";
    const auto covers = [&](const char* fill, double x, double y) {
        std::string piece = veil;
        piece.replace(piece.find("%1"), 2, fill);
        return !ofThePointer(played(sceneOf(piece, ""), onGlass(0.1, x, y))).isEmpty();
    };
    QVERIFY(covers("fit", 7, 1));
    QVERIFY(!covers("fit", 5, 1));
    QVERIFY(covers("cover", 1, 1));
    QVERIFY(covers("stretch", 0.1, 0.1));
    QVERIFY(!covers("stretch", 32.1, 10));
}

void TestPointer::carriesAndIsChased()
{
    const std::string pieces =
        all({box("lamp", 0, 0, "'body': 'kinematic', 'through': true,"),
             "{'id': 'gull', 'at': [0, 5], 'body': 'kinematic', 'shapes': [{'role': 'zone', 'circle': 0.3}]}"});
    const std::string snares =
        "{'id': 'take', 'catch': {'event': 'click'}, 'responses': [{'do': 'attach', 'on': 'lamp', 'to': 'pointer'}, "
        "{'do': 'chase', 'on': 'gull', 'after': 'pointer', 'speed': 60}]}, "
        "{'id': 'leave', 'catch': {'event': 'key-down', 'key': 'x'}, 'responses': [{'do': 'detach', 'on': 'lamp'}]}";
    const auto record = played(
        sceneOf(pieces, snares),
        all({moved(0.1, 1, 1), clicked(0.2), moved(0.5, 4, 3), "{'t': 1, 'key': 'x', 'down': true}", moved(1.2, 9, 9)}),
        2);
    QCOMPARE(record.snapshots.at(50)[0].pose.at, geometry::Vec(3, 2)); // it keeps its offset
    QCOMPARE(record.snapshots.at(100)[0].pose.at, geometry::Vec(3, 2));
    QCOMPARE(record.snapshots.at(59)[1].pose.at, geometry::Vec(4, 3));
}

void TestPointer::spawnsAtItFromTheGlass()
{
    // A drag that starts on a button of the glass goes on in the world and sets down what it
    // spawned.
    const std::string scene =
        "'templates': {'peg': {'through': true, 'body': 'kinematic', 'shapes': [{'circle': 0.2}]}}, 'pieces': [" +
        box("pegs", 2, 2, "'pinned': true,") +
        "], 'snares': [{'id': 'take', 'catch': {'event': 'drag-begin', 'at': 'pegs'}, 'responses': [{'do': 'spawn', "
        "'template': 'peg', 'at': 'pointer', 'as': 'peg'}]}, "
        "{'id': 'hold', 'catch': {'event': 'spawned', 'at': 'template:peg'}, 'responses': [{'do': 'attach', 'on': "
        "'self', 'to': 'pointer'}]}, "
        "{'id': 'set', 'catch': {'event': 'drag-end', 'at': 'pegs'}, 'responses': [{'do': 'detach', 'on': "
        "'self.peg'}]}]";
    const auto record = played(scene, all({onGlass(0.1, 2, 2), button(0.2, true), moved(0.3, -13, -8), moved(0.5, 5, 1),
                                           button(0.7, false), moved(1, 0, 0)}));
    QCOMPARE(record.pieces.size(), std::size_t{2});
    QCOMPARE(record.snapshots.at(100)[1].pose.at, geometry::Vec(5, 1));
}

void TestPointer::promptsAndKeysInsideLeaveItOut()
{
    const std::string snares =
        all({noting("e", "'event': 'key-down', 'key': 'e', 'at': 'a', 'inside': true", "'filter': {}", "{visitor.id}"),
             noting("p", "'event': 'key-down', 'key': 'e', 'at': 'a', 'inside': true", ofPointer, "over"),
             "{'id': 'hint', 'catch': {'event': 'enter', 'at': 'a'}, 'filter': {'groups': ['pointer']}, 'responses': "
             "[{'do': 'prompt', 'on': 'self', 'text': 'Press E'}]}"});
    const auto record = played(sceneOf(box("a", 0, 0), snares),
                               all({moved(0.1, 0, 0), "{'t': 0.5, 'key': 'e', 'down': true}", moved(1, 9, 0)}));
    QCOMPARE(notes(record), QStringList{"30 over"});
    // The prompt is there as long as the pointer is.
    const auto shows = [&](std::int64_t tick) {
        const sim::Standing now = sim::standingAt(record, tick);
        return std::ranges::any_of(now.captions, [&](std::int32_t line) {
            return record.journal.lines[static_cast<std::size_t>(line)].until >= tick;
        });
    };
    QVERIFY(shows(50));
    QVERIFY(!shows(70));
}

void TestPointer::aRestartKeepsItsPlaceAndItsButtons()
{
    const std::string snares = all(
        {"{'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]}",
         noting("in", "'event': 'enter', 'at': 'a'"), noting("click", "'event': ['click', 'drag-end'], 'at': 'a'")});
    const auto record =
        played(sceneOf(box("a", 0, 0, "'draggable': true,"), snares),
               all({moved(0.1, 0, 0), button(0.2, true), moved(0.3, 1, 0), "{'t': 0.5, 'key': 'r', 'down': true}",
                    moved(0.6, 0.5, 0), button(0.7, false), clicked(0.9)}));
    QCOMPARE(notes(record), (QStringList{"6 in", "30 in", "56 click"}));
    QCOMPARE(record.snapshots.at(40)[0].pose.at, geometry::Vec(0, 0));
    QCOMPARE(sim::pointerAt(record, 35).buttons.size(), std::size_t{1});
}

void TestPointer::aCopiedRunGoesOnAlike()
{
    // T3: the same inputs give the same log, run as a whole or gone on with from a copy.
    const std::string members = sceneOf(all({box("peg", 0, 0, "'draggable': true,"), box("basket", 4, 0, "", "zone")}),
                                        noting("d", "'event': ['drop', 'enter', 'exit'], 'at': 'basket'"));
    const auto scene = std::make_shared<const scene::Scene>(sceneFrom(members));
    const auto take = takeFrom(all(
        {moved(0.1, 0, 0), button(0.2, true), moved(0.4, 4, 0), button(0.6, false), moved(0.9, 0, 0), moved(1, 4, 0)}));
    const auto whole = sim::rerun(scene, take);
    sim::Run run{scene};
    rules::Journal journal;
    run.start(journal);
    const auto inputs = sim::inputsByTick(take, 60);
    const auto go = [&](sim::Run& one, rules::Journal& into, std::int64_t to) {
        while (one.tickNumber() < to) {
            std::vector<scene::Input> now;
            for (const auto& [tick, input] : inputs)
                if (tick == one.tickNumber() + 1)
                    now.push_back(input);
            one.tick(now, into);
        }
    };
    go(run, journal, 30); // in the middle of the drag
    sim::Run copy = run;
    go(copy, journal, 120);
    QCOMPARE(journal.lines.size(), whole.journal.lines.size());
    for (std::size_t i = 0; i < journal.lines.size(); ++i) {
        QCOMPARE(journal.lines[i].tick, whole.journal.lines[i].tick);
        QCOMPARE(journal.lines[i].event, whole.journal.lines[i].event);
        QCOMPARE(journal.lines[i].self, whole.journal.lines[i].self);
    }
}

void TestPointer::inputsAreReadWrittenAndRefused()
{
    const auto take = takeFrom(
        all({moved(0.1, 1.5, -2), onGlass(0.2, 3, 4), button(0.3, true, "middle"), button(0.4, false, "middle")}));
    QCOMPARE(take.inputs[1].as<scene::GlassMove>()->at, geometry::Vec(3, 4));
    const auto again = io::readTake(io::takeText(take), "again");
    QVERIFY(again);
    QCOMPARE(again->inputs, take.inputs);
    const auto refused = [](std::string input) {
        std::ranges::replace(input, '\'', '"');
        const auto read =
            io::readTake(R"({"format": "fresh-snare-take", "version": 1, "inputs": [)" + input + "]}", "t");
        return read ? QString() : QString::fromStdString(read.error().front().text);
    };
    QVERIFY(refused("{'t': 1, 'button': 'lefft', 'down': true}").contains(QStringLiteral("left")));
    QVERIFY(refused("{'t': 1, 'button': 'left'}").contains(QStringLiteral("down")));
    QVERIFY(
        refused("{'t': 1, 'pointer': [1, 2], 'down': true}").contains(QStringLiteral("belongs to a key or a button")));
    for (const char* empty :
         {"{'t': 1, 'key': '', 'down': true}", "{'t': 1, 'dial': '', 'value': 1}", "{'t': 1, 'call': ''}"})
        QVERIFY(refused(empty).contains(QStringLiteral("wants a name")));
    QVERIFY(refused("{'t': 1, 'pointer': [1, 2], 'glass': [1, 2]}").contains(QStringLiteral("exactly one")));
    QVERIFY(refused("{'t': 1, 'pointer': [1]}").contains(QStringLiteral("2")) ||
            !refused("{'t': 1, 'pointer': [1]}").isEmpty());
}

QTEST_APPLESS_MAIN(TestPointer)
#include "test_pointer.moc"
