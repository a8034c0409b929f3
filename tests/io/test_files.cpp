// SPDX-License-Identifier: Apache-2.0
#include "builder.h"
#include "io/document.h"
#include "io/field_access.h"
#include "io/schema.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <random>

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace snare;

class TestFiles : public QObject {
    Q_OBJECT

  private slots:
    void polygonsThatMakeNoSenseAreToldWithTheirPlace();
    void allShapesSurviveSavingAndLoading();
    void aPieceTakesFromItsTemplateWhatItDoesNotSay();
    void aTemplatedPieceIsSavedAsWhatIsItsOwn();
    void aTemplateThatIsNotThereIsNoError();
    void theDemoComesBackTheSame();
    void savingLeavesOutDefaults();
    void onePieceALine();
    void badFilesSayWhereAndWhat_data();
    void badFilesSayWhereAndWhat();
    void damagedFilesNeverCrash();
    void theSchemaAcceptsTheDemoAndNotItsDamage();
    void thePublishedSchemaIsTheOneOfTheTables();
    void aFullDiskKeepsTheOldFile();
    void everyResponseCanBeReadAndWritten();
    void aSlotTakesOnlyWhatTheFileWould();
};

namespace {

std::string demo(const char* name)
{
    const auto text = io::loadText(std::string(SNARE_DEMO_FOLDER "/") + name);
    return text ? *text : std::string();
}

std::string sceneWith(const std::string& inside)
{
    return "{\n \"format\": \"fresh-snare-scene\",\n \"version\": 1,\n " + inside + "\n}";
}

bool valid(const std::string& schemaText, const std::string& documentText)
{
    const auto schemaJson = nlohmann::json::parse(schemaText);
    const auto documentJson = nlohmann::json::parse(documentText);
    valijson::Schema schema;
    valijson::SchemaParser parser;
    const valijson::adapters::NlohmannJsonAdapter schemaAdapter{schemaJson};
    parser.populateSchema(schemaAdapter, schema);
    valijson::Validator validator;
    const valijson::adapters::NlohmannJsonAdapter documentAdapter{documentJson};
    return validator.validate(schema, documentAdapter, nullptr);
}

} // namespace

void TestFiles::theDemoComesBackTheSame()
{
    const auto scene = io::readScene(demo("weigh-in.snare.json"), "demo");
    QVERIFY2(scene, scene ? "" : scene.error().front().message().c_str());
    const std::string text = io::sceneText(*scene);
    const auto again = io::readScene(text, "again");
    QVERIFY2(again, again ? "" : again.error().front().message().c_str());
    QVERIFY(*again == *scene);
    QCOMPARE(io::sceneText(*again), text);
    QCOMPARE(text, demo("weigh-in.snare.json")); // the demo is as the program saves it
    const auto take = io::readTake(demo("weigh-in.take.json"), "demo");
    QVERIFY(take);
    QCOMPARE(io::takeText(*take), demo("weigh-in.take.json"));
}

void TestFiles::savingLeavesOutDefaults()
{
    scene::Scene scene;
    scene.pieces = {tests::wall("w", {0, 0}, {3, 2})};
    const std::string text = io::sceneText(scene);
    QVERIFY(text.find("{\"id\": \"w\", \"shapes\": [{\"box\": [3, 2]}]}") != std::string::npos);
    QVERIFY(text.find("rate") == std::string::npos);
}

void TestFiles::onePieceALine()
{
    scene::Scene scene;
    for (int i = 0; i < 5; ++i)
        scene.pieces.push_back(tests::wall("w" + std::to_string(i), {i * 1.1, 0}, {1, 1}));
    const QString text = QString::fromStdString(io::sceneText(scene));
    for (int i = 0; i < 5; ++i)
        QCOMPARE(text.split(QLatin1Char('\n')).filter(QStringLiteral("\"w%1\"").arg(i)).size(), 1);
    QVERIFY(text.contains(QStringLiteral("[3.3000000000000003, 0]"))); // numbers come back exactly
}

void TestFiles::badFilesSayWhereAndWhat_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QStringList>("parts");
    const auto row = [](const char* name, const std::string& text, const QStringList& parts) {
        QTest::newRow(name) << QString::fromStdString(text) << parts;
    };
    row("cut off", "{\n \"format\": \"fresh-snare-scene\",\n \"pieces\": [", {"bad: line 3", "not JSON"});
    row("empty", "", {"bad: line 1, column 1"});
    row("no scene", "[]", {"line 1, column 1", "an object"});
    row("another format", R"({"format": "something", "version": 1})", {"fresh-snare-scene"});
    row("a newer version", R"({"format": "fresh-snare-scene", "version": 9})", {"version 9", "version 1"});
    row("unknown key", sceneWith(R"("pieces": [{"id": "a", "tagz": []}])"),
        {"line 4, column 25", "/pieces/0", "tagz", "tags"});
    row("unknown event", sceneWith(R"("snares": [{"id": "a", "catch": {"event": "entre"}}])"),
        {"/snares/0/catch/event", "entre", "enter"});
    row("unknown response",
        sceneWith(R"("snares": [{"id": "a", "catch": {"event": "enter"}, "responses": [{"do": "mvoe"}]}])"),
        {"/snares/0/responses/0/do", "move"});
    row("unknown role", sceneWith(R"("pieces": [{"id": "a", "shapes": [{"role": "zon", "circle": 1}]}])"), {"zone"});
    row("size of nothing", sceneWith(R"("pieces": [{"id": "a", "shapes": [{"circle": 0}]}])"),
        {"/pieces/0/shapes/0/circle", "above 0"});
    row("negative size", sceneWith(R"("pieces": [{"id": "a", "shapes": [{"box": [1, -1]}]}])"), {"above 0", "-1"});
    row("two geometries", sceneWith(R"("pieces": [{"id": "a", "shapes": [{"box": [1, 1], "circle": 1}]}])"),
        {"exactly one"});
    row("wrong type", sceneWith(R"("pieces": [{"id": 5}])"), {"/pieces/0/id", "a text, not a number"});
    row("doubled id", sceneWith("\"pieces\": [{\"id\": \"a\"},\n {\"id\": \"a\"}]"),
        {"line 5", "/pieces/1/id", "there already"});
    row("piece and source share ids",
        sceneWith(R"("pieces": [{"id": "a"}], "sources": [{"id": "a", "timer": {"every": 1}}])"), {"/sources/0/id"});
    row("reserved id", sceneWith(R"("pieces": [{"id": "visitor"}])"), {"visitor"});
    row("id with a blank", sceneWith(R"("pieces": [{"id": "a b"}])"), {"letters"});
    row("missing id", sceneWith(R"("pieces": [{"at": [0, 0]}])"), {"\"id\" is missing"});
    row("rate", sceneWith(R"("rate": 0)"), {"1 to 1000"});
    row("doubled key", sceneWith(R"("name": "a", "name": "b")"), {"stands twice"});
    row("huge number", sceneWith(R"("rate": 1e999)"), {"line 4"});
    row("deep nesting", std::string(100000, '['), {"nested deeper"});
}

void TestFiles::badFilesSayWhereAndWhat()
{
    QFETCH(QString, text);
    QFETCH(QStringList, parts);
    const auto scene = io::readScene(text.toStdString(), "bad");
    QVERIFY(!scene);
    QString all;
    for (const io::Problem& problem : scene.error())
        all += QString::fromStdString(problem.message()) + QLatin1Char('\n');
    for (const QString& part : parts)
        QVERIFY2(all.contains(part), qPrintable(all));
}

/// The demo with bytes changed, cut out and put in: read or refused, never worse.
void TestFiles::damagedFilesNeverCrash()
{
    const std::string whole = demo("weigh-in.snare.json");
    std::mt19937 dice{23};
    const std::string bits = "{}[]\",:0-e\\ \n\x80\xff";
    int refused = 0;
    for (int i = 0; i < 1500; ++i) {
        std::string text = whole;
        for (int n = static_cast<int>(dice() % 4); n >= 0; --n) {
            const std::size_t at = dice() % text.size();
            if (dice() % 3 == 0)
                text.erase(at, dice() % 40);
            else
                text[at] = bits[dice() % bits.size()];
        }
        const auto scene = io::readScene(text, "damaged");
        refused += scene ? 0 : 1;
        if (scene)
            tests::play(*scene, {}, 0.05);
    }
    QVERIFY(refused > 500);
}

void TestFiles::theSchemaAcceptsTheDemoAndNotItsDamage()
{
    QVERIFY(valid(io::sceneSchema(), demo("weigh-in.snare.json")));
    QVERIFY(valid(io::takeSchema(), demo("weigh-in.take.json")));
    QVERIFY(!valid(io::sceneSchema(), sceneWith(R"("pieces": [{"id": "a", "tagz": []}])")));
    QVERIFY(!valid(io::sceneSchema(), sceneWith(R"("pieces": [{"id": "a", "shapes": [{"circle": 0}]}])")));
    QVERIFY(!valid(io::sceneSchema(), sceneWith(R"("snares": [{"id": "a", "catch": {"event": "entre"}}])")));
}

void TestFiles::thePublishedSchemaIsTheOneOfTheTables()
{
    QCOMPARE(io::loadText(SNARE_SCHEMA_FOLDER "/scene.schema.json").value_or(std::string()), io::sceneSchema());
    QCOMPARE(io::loadText(SNARE_SCHEMA_FOLDER "/take.schema.json").value_or(std::string()), io::takeSchema());
}

void TestFiles::aFullDiskKeepsTheOldFile()
{
    QTemporaryDir folder;
    const std::string path = folder.filePath(QStringLiteral("scene.snare.json")).toStdString();
    QVERIFY(io::saveText(path, "old"));
    // A process that may write no more than 1 kB stands for a full disk.
    const pid_t child = ::fork();
    if (child == 0) {
        ::signal(SIGXFSZ, SIG_IGN);
        const rlimit limit{1024, 1024};
        ::setrlimit(RLIMIT_FSIZE, &limit);
        ::_exit(io::saveText(path, std::string(100000, 'x')) ? 1 : 0);
    }
    int status = 1;
    ::waitpid(child, &status, 0);
    QCOMPARE(WEXITSTATUS(status), 0);
    QCOMPARE(io::loadText(path).value_or(std::string()), std::string("old"));
    QCOMPARE(QDir{folder.path()}.entryList(QDir::Files).size(), 1); // nothing is left lying about
}

void TestFiles::everyResponseCanBeReadAndWritten()
{
    for (const scene::Word* word : io::responseWords()) {
        auto response = io::responseOf(word->key);
        QVERIFY(response);
        for (const io::FieldView& field : io::fieldsOf(*response))
            if (field.required && field.kind == io::SlotKind::text)
                QVERIFY(!io::setField(*response, field.key, "\"word\""));
        scene::Scene scene;
        scene.snares = {tests::onEvent("s", scene::EventKind::start, {})};
        scene.snares[0].responses = {*response};
        const auto again = io::readScene(io::sceneText(scene), "again");
        QVERIFY2(again, again ? "" : again.error().front().message().c_str());
        QVERIFY(*again == scene);
    }
}

void TestFiles::aSlotTakesOnlyWhatTheFileWould()
{
    scene::Response move{scene::Move{}, {}};
    QVERIFY(!io::setField(move, "speed", "2.5"));
    const auto wrong = io::setField(move, "speed", "-1");
    QVERIFY(wrong && wrong->find("above 0") != std::string::npos);
    QCOMPARE(*std::get<scene::Move>(move.kind).speed.literal(), 2.5); // left as it was
    QVERIFY(!io::setField(move, "to", "\"home\""));
    QVERIFY(!io::setField(move, "to", "null"));
    QVERIFY(!std::get<scene::Move>(move.kind).to);
    QVERIFY(io::setField(move, "nothing", "1"));
}

void TestFiles::polygonsThatMakeNoSenseAreToldWithTheirPlace()
{
    const auto scene = [](const std::string& shape) {
        return "{\"format\": \"fresh-snare-scene\", \"version\": 1, \"pieces\": [\n{\"id\": \"a\", \"shapes\": [" +
               shape + "]}]}";
    };
    const auto crossing = io::readScene(scene("{\"polygon\": [[0,0],[2,2],[2,0],[0,2]]}"), "f");
    QVERIFY(!crossing);
    const std::string message = crossing.error().front().message();
    QVERIFY2(message.starts_with("f: line 2, column ") &&
                 message.ends_with("/pieces/0/shapes/0/polygon: edges 1 and 3 cross"),
             message.c_str());
    QVERIFY(!io::readScene(scene("{\"line\": [[0,0]]}"), "f"));
    QVERIFY(!io::readScene(scene("{\"line\": {\"points\": [[0,0],[1,1]], \"closed\": true}}"), "f"));
    QVERIFY(!io::readScene(scene("{\"capsule\": {\"from\": [0,0], \"to\": [1,0], \"radius\": 0}}"), "f"));
    QVERIFY(!io::readScene(scene("{\"polygon\": [[0,0,0],[2,2],[2,0]]}"), "f"));
    QVERIFY(io::readScene(scene("{\"line\": [[0,0],[1,1]]}"), "f"));
}

void TestFiles::allShapesSurviveSavingAndLoading()
{
    scene::Scene scene;
    using tests::piece;
    scene.pieces = {piece("a", {1, 2}, scene::Capsule{{-1, 0}, {1, 0.5}, 0.25}, scene::Role::solid),
                    piece("b", {0, 0}, scene::Polygon{{{-1, -1}, {1, -1}, {0, 0}, {0, 2}}}, scene::Role::zone),
                    piece("c", {0, 0}, scene::Line{{{-1, -1}, {1, -1}, {0, 0}}, true}, scene::Role::solid),
                    piece("d", {0, 0}, scene::Line{{{-1, -1}, {1, -1}}, false}, scene::Role::solid)};
    const std::string text = io::sceneText(scene);
    const auto again = io::readScene(text, "again");
    QVERIFY(again && *again == scene);
    QVERIFY(text.find("\"line\": [[-1.0, -1.0], [1.0, -1.0]]") != std::string::npos ||
            text.find("\"line\": [[-1, -1], [1, -1]]") != std::string::npos); // the short form
}

void TestFiles::aPieceTakesFromItsTemplateWhatItDoesNotSay()
{
    const auto scene = io::readScene(R"({"format": "fresh-snare-scene", "version": 1,
        "pieces": [{"id": "r1", "template": "ring", "at": [3, 4], "group": "own", "properties": {"number": 7},
                    "shapes": [{"id": "eye", "margin": 0.5}, {"id": "rope", "box": [1, 2]}]}],
        "templates": {"ring": {"group": "rings", "layer": 4, "tags": ["iron"], "properties": {"number": 1, "free": true},
                               "shapes": [{"id": "eye", "role": "zone", "circle": 0.75}]}}})",
                                     "f");
    QVERIFY(scene);
    const scene::Piece& piece = scene->pieces.front();
    QCOMPARE(piece.group, std::string("own"));
    QCOMPARE(piece.layer, 4);
    QCOMPARE(piece.tags, std::vector<std::string>{"iron"});
    QCOMPARE(std::get<double>(*piece.properties.find("number")), 7.0);
    QCOMPARE(std::get<bool>(*piece.properties.find("free")), true);
    QCOMPARE(piece.shapes.size(), 2U);
    QCOMPARE(std::get<scene::Circle>(piece.shapes[0].geometry).radius, 0.75);
    QCOMPARE(piece.shapes[0].margin, 0.5);
    QVERIFY(piece.shapes[0].role == scene::Role::zone && piece.shapes[1].role == scene::Role::solid);
    QVERIFY(
        !io::readScene(R"({"format": "fresh-snare-scene", "version": 1, "templates": {"ring": {"id": "x"}}})", "f"));
    // A shape that is new needs a geometry.
    QVERIFY(!io::readScene(R"({"format": "fresh-snare-scene", "version": 1, "templates": {"ring": {}},
        "pieces": [{"id": "r", "template": "ring", "shapes": [{"id": "new"}]}]})",
                           "f"));
}

void TestFiles::aTemplatedPieceIsSavedAsWhatIsItsOwn()
{
    scene::Scene scene;
    using tests::zone;
    scene.pieces = {zone("ring-1", {0, 0}, {1, 1}), zone("other", {5, 5}, {1, 1})};
    scene.pieces[0].shapes[0].margin = 0.25;
    QCOMPARE(scene::makeTemplate(scene, "ring-1"), std::string("ring"));
    scene::Piece second = scene::stamped(scene, "ring");
    second.id = "ring-2";
    second.at = {3, 0};
    second.shapes[0].margin = 0; // back to the default is a value of its own too
    scene.pieces.push_back(second);
    const std::string text = io::sceneText(scene);
    QVERIFY2(text.find("{\"id\": \"ring-1\", \"template\": \"ring\"}") != std::string::npos, text.c_str());
    QVERIFY2(text.find("\"shapes\": [{\"id\": \"0\", \"margin\": 0") != std::string::npos, text.c_str());
    const auto again = io::readScene(text, "again");
    QVERIFY(again && *again == scene);
    // Without its template it keeps all its fields.
    scene::removeShared(scene, scene::Thing::form, {}, "ring");
    const auto alone = io::readScene(io::sceneText(scene), "alone");
    QVERIFY(alone && *alone == scene);
    QCOMPARE(alone->pieces[0].shapes[0].margin, 0.25);
}

void TestFiles::aTemplateThatIsNotThereIsNoError()
{
    const std::string text = R"({"format": "fresh-snare-scene", "version": 1,
        "pieces": [{"id": "a", "template": "gone", "shapes": [{"circle": 1}]}]})";
    const auto scene = io::readScene(text, "f");
    QVERIFY(scene);
    QCOMPARE(scene->pieces[0].templateName, std::string("gone"));
    QVERIFY(io::sceneText(*scene).find("\"template\": \"gone\"") != std::string::npos);
}

QTEST_APPLESS_MAIN(TestFiles)
#include "test_files.moc"
