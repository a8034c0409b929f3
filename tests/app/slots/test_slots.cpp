// SPDX-License-Identifier: Apache-2.0
/// What slots say and take, what sentences read like, what the ground finds; without a window.
#include "words/text.h"
#include "app/ground/ground_scene.h"
#include "app/slots/conditions.h"
#include "app/slots/slot_fill.h"
#include "app/ui/formula_text.h"
#include "app/ui/key_names.h"
#include "app/ui/words.h"
#include "builder.h"

#include <QKeyEvent>
#include <QTest>
#include <nlohmann/json.hpp>

using namespace snare;
using namespace snare::tests;
using scene::EventKind;

class TestSlots : public QObject {
    Q_OBJECT

  private slots:
    void slotsReadAsPeopleSay_data();
    void slotsReadAsPeopleSay();
    void whatIsTypedBecomesAValue_data();
    void whatIsTypedBecomesAValue();
    void aSlotRoundTripsThroughWhatItShows();
    void everyResponseHasASentenceWithItsRequiredFields();
    void everyResponseIsFoundByAnEverydayWord();
    void conditionsReadAsPhrases();
    void valuesThatAreWorkedOutReadAsTheyAreTyped();
    void everyConditionCanBeSetAndIsSaid();
    void offersAreWhatIsNotThereYet();
    void placesToCatchAreShapesPiecesTagsAndGroups();
    void theTopmostShapeIsPicked();
    void hiddenPiecesAreNotPicked();
    void threadsLeadFromCatchToTarget();
    void keysHaveTheirKeysymNames();
    void renamedIdsStayFree();
    void nearWordsAreSuggestedAndFarOnesNot();

  private:
    static scene::Scene harbour()
    {
        scene::Scene scene;
        scene.pieces = {zone("scale", {0, 0}, {3, 2}), mover("barrow", {4, 0}, {0, 0}), walker("courier", {-5, 0})};
        scene.pieces[0].shapes[0].id = "plate";
        scene.pieces[1].tags = {"wheeled"};
        scene.pieces[1].looks.set("lit", {});
        return scene;
    }

    static io::FieldView fieldOf(const scene::Response& response, std::string_view key)
    {
        for (const io::FieldView& field : io::fieldsOf(response))
            if (field.key == key)
                return field;
        return {};
    }
};

void TestSlots::slotsReadAsPeopleSay_data()
{
    QTest::addColumn<QString>("word");
    QTest::addColumn<QString>("key");
    QTest::addColumn<QString>("json");
    QTest::addColumn<QString>("shown");
    QTest::newRow("speed") << "move"
                           << "speed"
                           << "2.5"
                           << "2.5 m/s";
    QTest::newRow("degrees") << "turn"
                             << "by"
                             << "-90"
                             << "-90°";
    QTest::newRow("path") << "move"
                          << "speed"
                          << R"({"get": "self.pace"})"
                          << "self.pace";
    QTest::newRow("point") << "move"
                           << "to"
                           << "[9.2, -1]"
                           << "(9.2, -1)";
    QTest::newRow("home") << "move"
                          << "to"
                          << "\"home\""
                          << "home";
    QTest::newRow("itself") << "move"
                            << "on"
                            << "\"self\""
                            << "itself";
    QTest::newRow("tagged") << "hide"
                            << "on"
                            << "\"tag:ring\""
                            << "all tagged ring";
    QTest::newRow("two") << "hide"
                         << "on"
                         << R"(["visitor", "lamp"])"
                         << "the visitor, lamp";
    QTest::newRow("words") << "say"
                           << "text"
                           << "\"Weighed\""
                           << "“Weighed”";
    QTest::newRow("flag") << "move"
                          << "wait"
                          << "true"
                          << "wait";
    QTest::newRow("no flag") << "move"
                             << "wait"
                             << "false"
                             << "";
    QTest::newRow("values") << "signal"
                            << "with"
                            << R"({"who": {"get": "visitor.name"}, "n": 3})"
                            << "who = visitor.name, n = 3";
    QTest::newRow("snares") << "arm"
                            << "snares"
                            << R"(["a", "b"])"
                            << "a, b";
    QTest::newRow("yes") << "set"
                         << "value"
                         << "true"
                         << "true";
    QTest::newRow("nothing") << "move"
                             << "to"
                             << "null"
                             << "";
}

void TestSlots::slotsReadAsPeopleSay()
{
    QFETCH(QString, word);
    QFETCH(QString, key);
    QFETCH(QString, json);
    QFETCH(QString, shown);
    auto response = io::responseOf(word.toStdString());
    QVERIFY(response);
    const auto wrong = io::setField(*response, key.toStdString(), json.toStdString());
    QVERIFY2(!wrong, wrong ? wrong->c_str() : "");
    QCOMPARE(app::slotText(fieldOf(*response, key.toStdString())), shown);
}

void TestSlots::whatIsTypedBecomesAValue_data()
{
    QTest::addColumn<QString>("word");
    QTest::addColumn<QString>("key");
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("json");
    QTest::newRow("number") << "move"
                            << "speed"
                            << "3"
                            << "3.0";
    QTest::newRow("with its unit") << "move"
                                   << "speed"
                                   << "3 m/s"
                                   << "3.0";
    QTest::newRow("comma") << "wait"
                           << "for"
                           << "0,5"
                           << "0.5";
    QTest::newRow("degrees") << "turn"
                             << "by"
                             << "-90°"
                             << "-90.0";
    QTest::newRow("path") << "add"
                          << "value"
                          << "visitor.load"
                          << R"({"get":"visitor.load"})";
    QTest::newRow("point") << "move"
                           << "to"
                           << "(3, -2.5)"
                           << "[3, -2.5]";
    QTest::newRow("piece") << "move"
                           << "to"
                           << "barrow"
                           << "\"barrow\"";
    QTest::newRow("text") << "set"
                          << "value"
                          << "west quay"
                          << "\"west quay\"";
    QTest::newRow("yes") << "set"
                         << "value"
                         << "true"
                         << "true";
    QTest::newRow("figure") << "set"
                            << "value"
                            << "4.5"
                            << "4.5";
    QTest::newRow("values") << "signal"
                            << "with"
                            << "a = 1, b = self.x"
                            << R"({"a":1.0,"b":{"get":"self.x"}})";
}

void TestSlots::whatIsTypedBecomesAValue()
{
    QFETCH(QString, word);
    QFETCH(QString, key);
    QFETCH(QString, typed);
    QFETCH(QString, json);
    auto response = io::responseOf(word.toStdString());
    const std::string made = app::jsonFrom(fieldOf(*response, key.toStdString()), {typed});
    QCOMPARE(QString::fromStdString(made), json);
    QVERIFY(!io::setField(*response, key.toStdString(), made));
}

/// Opening a slot and confirming it unchanged changes nothing.
void TestSlots::aSlotRoundTripsThroughWhatItShows()
{
    const scene::Scene scene = harbour();
    scene::Response response{scene::Move{}, {}};
    QVERIFY(!io::setField(response, "to", "[1.5, -2]"));
    QVERIFY(!io::setField(response, "speed", "0.25"));
    for (const char* key : {"to", "speed", "arrive"}) {
        const io::FieldView field = fieldOf(response, key);
        const app::Question question = app::questionFor(field, scene, [&](const std::string& json) {
            scene::Response trial = response;
            return io::setField(trial, key, json);
        });
        scene::Response again = response;
        QVERIFY(question.check({question.typed}).isEmpty());
        QVERIFY(!io::setField(again, key, app::jsonFrom(field, {question.typed})));
        QVERIFY(again == response);
    }
}

void TestSlots::everyResponseHasASentenceWithItsRequiredFields()
{
    for (const scene::Word* word : io::responseWords()) {
        QVERIFY(!word->about.empty() && !word->sentence.empty());
        const QString sentence = app::toText(word->sentence);
        const auto response = io::responseOf(word->key);
        for (const io::FieldView& field : io::fieldsOf(*response)) {
            const QString slot = QStringLiteral("{%1}").arg(app::toText(field.key));
            QVERIFY2(sentence.contains(slot), qPrintable(sentence + QStringLiteral(" lacks ") + slot));
            QVERIFY(!field.about.empty());
        }
    }
}

void TestSlots::everyResponseIsFoundByAnEverydayWord()
{
    const std::pair<const char*, const char*> meant[] = {
        {"rotate", "turn"}, {"teleport", "put"},     {"delay", "wait"},    {"delete", "remove"},
        {"go", "move"},     {"broadcast", "signal"}, {"reset", "restart"}, {"count", "add"}};
    for (const auto& [everyday, ours] : meant)
        for (const scene::Word* word : io::responseWords())
            if (word->key == ours)
                QVERIFY2(app::toText(word->synonyms).contains(QLatin1String(everyday)), everyday);
    for (const scene::Word* word : io::responseWords()) {
        QVERIFY(!word->synonyms.empty());
        const auto under = std::ranges::count_if(scene::purposes, [&](const scene::Purpose& purpose) {
            return app::toText(purpose.words).split(QLatin1Char(' ')).contains(app::toText(word->key));
        });
        QVERIFY2(under == 1, std::string(word->key).c_str());
    }
}

void TestSlots::conditionsReadAsPhrases()
{
    scene::Snare one = onEvent("weigh", EventKind::enter, "scale");
    QCOMPARE(app::visitorText(one), QStringLiteral("anyone"));
    one.filter.groups = {"courier", "owl"};
    QCOMPARE(app::visitorText(one), QStringLiteral("a courier or owl"));
    one.filter.tags.any = {"staff"};
    one.filter.when = {{"signal.ring", scene::Comparison::equal, {scene::Get{"self.number"}}}};
    one.gate.limit = 1;
    one.gate.each = scene::Each::visitor;
    one.gate.dwell = 0.5;
    QStringList phrases;
    for (const app::Phrase& phrase : app::filterPhrases(one))
        phrases << phrase.text;
    QCOMPARE(phrases,
             QStringList({QStringLiteral("has tag staff"), QStringLiteral("signal.ring = self.number"),
                          QStringLiteral("once"), QStringLiteral("per visitor"), QStringLiteral("after 0.5 s")}));
    one.catches.shape = "plate";
    QCOMPARE(app::whereText(one.catches), QStringLiteral("plate of scale"));
    one.catches.event.items = {EventKind::enter, EventKind::exit};
    QCOMPARE(app::eventText(one.catches), QStringLiteral("enters or leaves"));
    QCOMPARE(words::withArticle("oak"), "an oak");
}

/// Every formula that can be typed reads back as it was.
void TestSlots::valuesThatAreWorkedOutReadAsTheyAreTyped()
{
    const std::pair<const char*, const char*> meant[] = {
        {"same as self.load", R"({"get":"self.load"})"},
        {"1 to 3 at random", R"({"between":[1.0,3.0]})"},
        {"self.low to 3 at random", R"({"between":[{"get":"self.low"},3.0]})"},
        {"one of red, blue", R"({"oneOf":["red","blue"]})"},
        {"how many tag:cask", R"({"count":"tag:cask"})"},
        {"anywhere in yard, clear of solids", R"({"somewhere":"yard","clear":true})"},
        {"anywhere in scene", R"({"somewhere":"scene"})"},
        {"self.load + 1", R"({"sum":[{"get":"self.load"},1.0]})"},
        {"self.x - 1", R"({"sum":[{"get":"self.x"},-1.0]})"},
        {"how many tag:t + 1", R"({"sum":[{"count":"tag:t"},1.0]})"},
        {"how many tag:t, gull", R"({"count":["tag:t","gull"]})"},
        {"(1 to 3 at random) + self.x", R"({"sum":[{"between":[1.0,3.0]},{"get":"self.x"}]})"},
        {"one of \"1\", 2, \"west, pier\", true, self.n", R"({"oneOf":["1",2.0,"west, pier",true,{"get":"self.n"}]})"},
        {"one of (how many a, b), self.x + 2", R"({"oneOf":[{"count":["a","b"]},{"sum":[{"get":"self.x"},2.0]}]})"},
        {"(= self.load * 2) to 9 at random", R"({"between":[{"script":"self.load * 2"},9.0]})"},
        {"= math.floor(self.load)", R"json({"script":"math.floor(self.load)"})json"}};
    for (const auto& [typed, json] : meant) {
        const io::Json formula = app::formulaFrom(QString::fromUtf8(typed));
        QCOMPARE(QString::fromStdString(formula.dump()), QString::fromUtf8(json));
        QCOMPARE(app::formulaText(formula), QString::fromUtf8(typed));
    }
    for (const char* plain : {"Hello", "to be or not", "3", "west quay", "a + b", "2 - 3", "quay - west", "self.x -1"})
        QVERIFY2(app::formulaFrom(QString::fromUtf8(plain)).is_null(), plain);
    // Captions may begin like a formula; what would be taken for one stands in quotes.
    for (const char* plain :
         {"one of the eels, or two", "how many eels", "same as ever", "anywhere in the yard, perhaps"}) {
        QVERIFY2(app::formulaInText(QString::fromUtf8(plain)).is_null(), plain);
        QCOMPARE(app::typedInText(plain), QString::fromUtf8(plain));
    }
    QCOMPARE(app::typedInText("same as self.x"), QStringLiteral("\"same as self.x\""));
    QVERIFY(!app::formulaInText(QStringLiteral("one of \"an eel\", \"two\"")).is_null());
    scene::Response move{scene::Move{}, {}};
    QVERIFY(!io::setField(move, "by", app::jsonFrom(fieldOf(move, "by"), {QStringLiteral("(same as self.x, 2)")})));
    QCOMPARE(app::slotText(fieldOf(move, "by")), QStringLiteral("(same as self.x, 2)"));
    QVERIFY(!io::setField(move, "to", app::jsonFrom(fieldOf(move, "to"), {QStringLiteral("anywhere in yard")})));
    QCOMPARE(app::slotText(fieldOf(move, "to")), QStringLiteral("anywhere in yard"));
    QVERIFY(!io::setField(move, "speed", app::jsonFrom(fieldOf(move, "speed"), {QStringLiteral("2..4")})));
    QCOMPARE(app::slotText(fieldOf(move, "speed")), QStringLiteral("2 to 4 at random"));
}

/// Each row of the table of conditions can be set, reads as a phrase, and is offered when it is not
/// there.
void TestSlots::everyConditionCanBeSetAndIsSaid()
{
    const std::pair<const char*, const char*> values[] = {{"during", R"(["open"])"},
                                                          {"tags.none", R"(["wet"])"},
                                                          {"templates", R"(["gull"])"},
                                                          {"side", R"(["left","above"])"},
                                                          {"manner", "\"stop\""},
                                                          {"speed.min", "2"},
                                                          {"speed.max", "5"},
                                                          {"script", "\"self.load > 2\""},
                                                          {"limit", "3"},
                                                          {"cooldown", "1.5"},
                                                          {"chance", "0.25"},
                                                          {"reset", "\"vacated\""},
                                                          {"catchUp", "true"},
                                                          {"again", "\"stack\""},
                                                          {"claims", "true"}};
    for (const auto& [key, json] : values) {
        scene::Snare one = onEvent("weigh", EventKind::enter, "scale");
        const app::ConditionRow* row = app::conditionRow(QLatin1String(key));
        QVERIFY2(row, key);
        QVERIFY2(!app::setField(one, *row, json), key);
        const auto phrases = app::filterPhrases(one);
        QCOMPARE(phrases.size(), std::size_t{1});
        QCOMPARE(phrases.front().key, QLatin1String(key));
        QVERIFY2(!phrases.front().text.contains(QLatin1Char('%')), qPrintable(phrases.front().text));
        const auto offers = app::filterOffers(one);
        const QLatin1String name{key};
        QVERIFY(std::ranges::none_of(offers, [&](const app::Offer& offer) { return offer.key == name; }));
        QVERIFY2(!app::setField(one, *row, "null") && app::filterPhrases(one).empty(), key);
    }
    QVERIFY(app::setField(*std::make_unique<scene::Snare>(), *app::conditionRow(QStringLiteral("chance")), "3")
                .has_value());
}

void TestSlots::offersAreWhatIsNotThereYet()
{
    scene::Snare one = onEvent("weigh", EventKind::enter, "scale");
    const auto has = [&](const char* key) {
        const auto offers = app::filterOffers(one);
        return std::ranges::any_of(offers, [&](const app::Offer& offer) { return offer.key == QLatin1String(key); });
    };
    QVERIFY(has("limit") && !has("each"));
    one.gate.limit = 2;
    QVERIFY(!has("limit") && has("each"));
}

void TestSlots::placesToCatchAreShapesPiecesTagsAndGroups()
{
    QStringList values;
    for (const app::Choice& choice : app::placeChoices(harbour()))
        values << choice.value;
    for (const char* wanted : {"scene", "scale", "scale/plate", "barrow", "tag:wheeled", "group:default"})
        QVERIFY2(values.contains(QLatin1String(wanted)), wanted);
}

void TestSlots::theTopmostShapeIsPicked()
{
    scene::Scene scene = harbour();
    scene.pieces.push_back(zone("over", {0, 0}, {1, 1}));
    scene.pieces[0].layer = 2;
    const auto now = [&] { return app::shownPieces(scene, play(scene, {}, 0), 0); };
    QCOMPARE(app::pick(now(), {0, 0}, 0)->piece, std::size_t{0}); // the higher layer
    scene.pieces[0].layer = 0;
    QCOMPARE(app::pick(now(), {0, 0}, 0)->piece, std::size_t{3}); // the later one
    QVERIFY(!app::pick(now(), {0, 5}, 0));
    QVERIFY(app::pick(now(), {0, 1.05}, 0.1)); // near an edge
}

void TestSlots::hiddenPiecesAreNotPicked()
{
    scene::Scene scene = harbour();
    scene.snares = {onKey("k", "k", {scene::Hide{{{"scale"}}}})};
    const sim::Record record = play(scene, takeOf({{"k", 0.5}}), 1);
    QVERIFY(app::pick(app::shownPieces(scene, record, 29), {0, 0}, 0));
    QVERIFY(!app::pick(app::shownPieces(scene, record, 30), {0, 0}, 0));
}

void TestSlots::threadsLeadFromCatchToTarget()
{
    scene::Scene scene = harbour();
    scene.snares = {
        onEvent("a", EventKind::enter, "scale",
                {scene::Hide{{{"barrow"}}}, scene::Show{{{"barrow"}}}, scene::Say{{{"visitor"}}, {{"x"}}, 1.0, false}}),
        onKey("b", "k", {scene::Hide{{{"barrow"}}}}),
        onEvent("c", EventKind::enter, "tag:wheeled", {scene::Hide{{{"group:default"}}}})};
    const auto threads = app::threadsOf(scene);
    QCOMPARE(threads.size(), std::size_t{3}); // a to barrow once; b has no place; c from barrow to the two others
    QVERIFY(threads[0].from == 0 && threads[0].to == 1);
    QVERIFY(threads[1].from == 1 && threads[1].to == 0);
}

void TestSlots::keysHaveTheirKeysymNames()
{
    const auto name = [](Qt::Key key, Qt::KeyboardModifiers modifiers = {}) {
        return app::keyName(QKeyEvent{QEvent::KeyPress, key, modifiers});
    };
    QCOMPARE(name(Qt::Key_Right), QStringLiteral("Right"));
    QCOMPARE(name(Qt::Key_Space), QStringLiteral("space"));
    QCOMPARE(name(Qt::Key_E), QStringLiteral("e"));
    QCOMPARE(name(Qt::Key_E, Qt::ShiftModifier), QStringLiteral("e"));
    QCOMPARE(name(Qt::Key_Backspace), QStringLiteral("BackSpace"));
    QCOMPARE(name(Qt::Key_F5), QStringLiteral("F5"));
    QCOMPARE(app::keyLabel(QStringLiteral("Right")), QStringLiteral("→"));
    QCOMPARE(app::keyLabel(QStringLiteral("e")), QStringLiteral("E"));
}

void TestSlots::renamedIdsStayFree()
{
    scene::Scene scene = harbour();
    QCOMPARE(scene::freeId(scene, "quay"), std::string("quay"));
    QCOMPARE(scene::freeId(scene, "scale"), std::string("scale-2"));
    QCOMPARE(scene::freeId(scene, "self"), std::string("self-2")); // reserved
    for (const std::string id : {"lamp-7", "lamp-8", "lamp-01", "lamp-8-2"}) {
        scene::Piece lamp;
        lamp.id = id;
        scene.pieces.push_back(std::move(lamp));
    }
    QCOMPARE(scene::freeId(scene, "lamp"), std::string("lamp"));
    QCOMPARE(scene::freeId(scene, "lamp-7"), std::string("lamp-7-2"));
    QCOMPARE(scene::freeId(scene, "lamp-8"), std::string("lamp-8-3"));
    QCOMPARE(scene::freeCopyId(scene, "lamp-7"), std::string("lamp-9")); // a copy counts on
    QCOMPARE(scene::freeCopyId(scene, "lamp-8-2"), std::string("lamp-8-3"));
    QCOMPARE(scene::freeCopyId(scene, "lamp-01"), std::string("lamp-01-2"));
    QCOMPARE(scene::freeCopyId(scene, "lamp-3"), std::string("lamp-3"));
    QVERIFY(scene::isId("tide-gauge_2") && !scene::isId("tide gauge") && !scene::isId(""));
}

void TestSlots::nearWordsAreSuggestedAndFarOnesNot()
{
    const std::vector<std::string_view> known{"enter", "exit", "stay", "hit"};
    QCOMPARE(scene::nearestWord("entre", known), std::string_view("enter"));
    QCOMPARE(scene::nearestWord("exits", known), std::string_view("exit"));
    QCOMPARE(scene::nearestWord("barometer", known), std::string_view());
}

QTEST_APPLESS_MAIN(TestSlots)
#include "test_slots.moc"
