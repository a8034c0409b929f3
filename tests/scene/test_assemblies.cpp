// SPDX-License-Identifier: Apache-2.0
/// Assemblies by rule (A1–A6): laid and written out by hand they do the same; files keep what is
/// their own.
#include "builder.h"

#include "io/document.h"
#include "io/log.h"
#include "scene/assemblies.h"
#include "scene/mentions.h"
#include "scene/templates.h"
#include "sim/recorder.h"

#include <QRegularExpression>
#include <QStringList>
#include <QTest>

#include <random>

using namespace snare;
using namespace snare::tests;

namespace {

constexpr const char* lockScene = R"({
  "format": "fresh-snare-scene",
  "version": 1,
  "variables": {"opened": 0},
  "assemblies": {
    "lock": {
      "pieces": [
        {"id": "sill", "at": [0, -2], "shapes": [{"role": "zone", "box": [2, 1]}]},
        {"id": "gate", "shapes": [{"box": [2, 0.4]}], "body": "kinematic", "properties": {"number": 0, "plate": "sill"}},
        {"id": "lamp", "at": [1.5, 0], "shapes": [{"role": "zone", "circle": 0.2}]}
      ],
      "snares": [
        {"id": "open", "catch": {"event": "enter", "at": "part:sill"}, "filter": {"tags": {"any": ["boat"]}},
         "gate": {"limit": 1},
         "responses": [{"do": "move", "on": "part:gate", "by": [2.2, 0], "speed": 4},
                       {"do": "signal", "name": "opened", "to": "assembly"},
                       {"do": "add", "on": "scene", "name": "opened", "value": 1}]},
        {"id": "light", "catch": {"event": "heard", "signal": "opened", "at": "part:lamp"},
         "responses": [{"do": "say", "text": "lit"}]}
      ]
    }
  },
  "pieces": [
    {"id": "lock-1", "assembly": "lock"},
    {"id": "lock-2", "assembly": "lock", "at": [0, 6], "parts": {"gate": {"properties": {"number": 2}}}},
    {"id": "lock-3", "assembly": "lock", "at": [10, 0], "turn": 90, "parts": {"lamp": {"at": [2, 0]}}},
    {"id": "boat", "tags": ["boat"], "at": [0, -5], "body": {"kind": "kinematic", "velocity": [0, 2]}, "shapes": [{"circle": 0.5}]}
  ]
})";

scene::Scene read(const std::string& text)
{
    auto scene = io::readScene(text, "lock");
    if (!scene)
        qFatal("%s", scene.error().front().message().c_str());
    return *scene;
}

/// The log of a scene that runs for some seconds, line by line.
QStringList logOf(const scene::Scene& scene, double seconds)
{
    sim::Recorder recorder{std::make_shared<const scene::Scene>(scene)};
    for (int tick = 0; tick < static_cast<int>(seconds * scene.rate); ++tick)
        recorder.tick({});
    return QString::fromStdString(io::logText(recorder.record())).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
}

int springs(const QStringList& log, const QString& snare, const QString& self)
{
    return static_cast<int>(std::ranges::count_if(log, [&](const QString& line) {
        return line.contains(QStringLiteral("\"snare\":\"%1\",\"self\":\"%2\"").arg(snare, self)) &&
               line.contains(QStringLiteral("\"outcome\":\"sprung\""));
    }));
}

const scene::Piece& pieceOf(const scene::Scene& scene, const char* id)
{
    const scene::Piece* piece = scene::findPiece(scene, id);
    if (!piece)
        qFatal("%s is not there", id);
    return *piece;
}

} // namespace

class TestAssemblies : public QObject {
    Q_OBJECT

  private slots:
    void partsArePlacedAndTurnedWithTheWhole();
    void filesKeepWhatIsTheirOwn();
    void snaresActWithinTheSameLaidOne();
    void signalsStayWithin();
    void wholeIsATarget();
    void aSpawnedOneIsWhole();
    void whatNeedsAPlaceIsALoadError();
    void laidAndWrittenOutDoTheSame();
    void madeOfPiecesAndDissolvedAgain();
    void allAreMadeLikeOne();
    void movedAsAWhole();
};

/// A1, A5.
void TestAssemblies::partsArePlacedAndTurnedWithTheWhole()
{
    const scene::Scene scene = read(lockScene);
    QCOMPARE(scene.pieces.size(), std::size_t{10});
    QVERIFY(pieceOf(scene, "lock-2.sill").at == Vec(0, 4));
    QVERIFY(pieceOf(scene, "lock-3.sill").at == Vec(12, 0)); // turned by a quarter, exactly
    QCOMPARE(pieceOf(scene, "lock-3.gate").turn, 90.0);
    QVERIFY(pieceOf(scene, "lock-3.lamp").at == Vec(10, 2)); // its own place is about the origin too
    QVERIFY(*pieceOf(scene, "lock-2.gate").properties.find("number") == scene::Scalar{2.0});
    QVERIFY(*pieceOf(scene, "lock-2.gate").properties.find("plate") == scene::Scalar{std::string("lock-2.sill")});
}

void TestAssemblies::filesKeepWhatIsTheirOwn()
{
    const scene::Scene scene = read(lockScene);
    const std::string text = io::sceneText(scene);
    QVERIFY(read(text) == scene);
    QCOMPARE(io::sceneText(read(text)), text);
    QVERIFY(text.find("lock-2.gate") == std::string::npos);
    QVERIFY(text.find("\"number\": 2") != std::string::npos);
    // At any angle what is not their own stays out of the file.
    for (const double turn : {17.0, 33.3, 123.456, -271.0}) {
        scene::Scene turned = scene;
        scene::moveLaid(turned, "lock-1", {0.1, 0.7}, turn);
        scene::moveLaid(turned, "lock-1", {1.3, -2.9}, turn / 3);
        const std::string one = io::sceneText(turned);
        const auto from = one.find("\"lock-1\"");
        QVERIFY(one.substr(from, one.find('\n', from) - from).find("parts") == std::string::npos);
    }
}

/// A2: the gate of the same lock; gates are kept for each.
void TestAssemblies::snaresActWithinTheSameLaidOne()
{
    const QStringList log = logOf(read(lockScene), 5);
    QCOMPARE(springs(log, QStringLiteral("open"), QStringLiteral("lock-1.sill")), 1);
    QCOMPARE(springs(log, QStringLiteral("open"), QStringLiteral("lock-2.sill")), 1);
    QCOMPARE(springs(log, QStringLiteral("open"), QStringLiteral("lock-3.sill")), 0);
    const QStringList moved = log.filter(QStringLiteral("\"do\":\"move\""));
    QCOMPARE(moved.size(), 2);
    QVERIFY(moved[0].contains(QStringLiteral("lock-1.gate")) && moved[1].contains(QStringLiteral("lock-2.gate")));
    // A snare of the scene of that name has it; theirs is told by the assembly's name.
    scene::Scene scene = read(lockScene);
    scene.snares.push_back(onKey("open", "e", {}));
    QCOMPARE(springs(logOf(scene, 2), QStringLiteral("lock.open"), QStringLiteral("lock-1.sill")), 1);
}

/// A3.
void TestAssemblies::signalsStayWithin()
{
    const QStringList log = logOf(read(lockScene), 2);
    QCOMPARE(springs(log, QStringLiteral("light"), QStringLiteral("lock-1.lamp")), 1);
    QCOMPARE(springs(log, QStringLiteral("light"), QStringLiteral("lock-2.lamp")), 0);
}

/// A1: hiding, moving, removing the whole acts on all parts.
void TestAssemblies::wholeIsATarget()
{
    scene::Scene scene = read(lockScene);
    scene.snares.push_back(onEvent("away", scene::EventKind::start, "", {scene::Remove{{{"lock-2"}}}}));
    const QStringList log = logOf(scene, 0.1);
    QCOMPARE(log.filter(QStringLiteral("\"event\":\"removed\"")).size(), 3);
    for (const char* part : {"lock-2.sill", "lock-2.gate", "lock-2.lamp"})
        QVERIFY(!log.filter(QLatin1String(part)).isEmpty());
    // Put somewhere, it keeps together: its origin is there.
    scene.snares.clear();
    scene::Put put;
    put.on = scene::Target{{"lock-3"}};
    put.at = scene::Destination{Vec{30, 3}};
    scene.snares.push_back(onEvent("aside", scene::EventKind::start, "", {put}));
    const QStringList told = logOf(scene, 0.1).filter(QStringLiteral("\"do\":\"put\""));
    QCOMPARE(told.size(), 3);
    QVERIFY(told[0].contains(QStringLiteral("[32,3]")) && told[1].contains(QStringLiteral("[30,3]")) &&
            told[2].contains(QStringLiteral("[30,5]")));
}

/// A4.
void TestAssemblies::aSpawnedOneIsWhole()
{
    scene::Scene scene = read(lockScene);
    scene::Spawn spawn;
    spawn.form = std::string("lock");
    spawn.at = scene::Destination{Vec{0, 20}};
    spawn.set.set("gate.number", scene::Scalar{7.0});
    scene.snares.push_back(onEvent("more", scene::EventKind::start, "", {spawn}));
    const QStringList log = logOf(scene, 14);
    QCOMPARE(log.filter(QStringLiteral("\"event\":\"spawned\"")).size(), 3);
    QVERIFY(!log.filter(QStringLiteral("lock-4.gate")).isEmpty());                    // the next free name
    QCOMPARE(springs(log, QStringLiteral("open"), QStringLiteral("lock-4.sill")), 1); // wired to itself
    QVERIFY(log.filter(QStringLiteral("\"do\":\"move\"")).back().contains(QStringLiteral("lock-4.gate")));
}

void TestAssemblies::whatNeedsAPlaceIsALoadError()
{
    std::string text = lockScene;
    const std::string at = R"("catch": {"event": "enter", "at": "part:sill"})";
    text.replace(text.find(at), at.size(), R"("catch": {"event": "enter"})");
    const auto scene = io::readScene(text, "lock");
    QVERIFY(!scene);
    QVERIFY(scene.error().front().message().find("/assemblies/lock/snares/0") != std::string::npos);
    std::string unknown = lockScene;
    unknown.replace(unknown.find("\"parts\": {\"lamp\""), 16, "\"parts\": {\"lump\"");
    QVERIFY(!io::readScene(unknown, "lock"));
}

/// Random assemblies, laid and written out as plain pieces and snares, give the same log but for
/// the names.
void TestAssemblies::laidAndWrittenOutDoTheSame()
{
    std::mt19937 dice{11};
    const auto between = [&](double low, double high) {
        return std::round(std::uniform_real_distribution<double>{low, high}(dice)*10) / 10;
    };
    qsizetype sprung = 0;
    for (int round = 0; round < 60; ++round) {
        scene::Scene laidOut;
        laidOut.variables.set("n", scene::Scalar{0.0});
        scene::Assembly berth;
        const int parts = 2 + static_cast<int>(dice() % 3);
        for (int i = 0; i < parts; ++i) {
            scene::Piece part = zone("p" + std::to_string(i), {between(-2, 2), between(-2, 2)}, {1, 1});
            part.body = scene::KinematicBody{};
            berth.pieces.push_back(part);
        }
        for (int i = 0; i < 3; ++i) {
            const std::string at = "part:p" + std::to_string(dice() % static_cast<unsigned>(parts));
            const std::string on = "part:p" + std::to_string(dice() % static_cast<unsigned>(parts));
            scene::Add add;
            add.on = scene::Target{{"scene"}};
            add.name = "n";
            scene::Hide hide{scene::Target{{on}}};
            scene::Show show{scene::Target{{on}}};
            scene::Snare snare =
                onEvent("s" + std::to_string(i), i == 2 ? scene::EventKind::exit : scene::EventKind::enter, at, {add});
            if (i == 2)
                snare.responses.push_back({show, {}});
            else
                snare.responses.push_back({hide, {}});
            snare.filter.tags.any = {"gull"};
            if (dice() % 2)
                snare.gate.limit = 1;
            berth.snares.push_back(snare);
        }
        laidOut.assemblies.set("berth", berth);
        scene::Scene written;
        written.variables = laidOut.variables;
        const int count = 1 + static_cast<int>(dice() % 3);
        for (int k = 0; k < count; ++k) {
            const scene::Laid laid{"berth-" + std::to_string(k),
                                   "berth",
                                   {between(-6, 6), between(-4, 4)},
                                   90.0 * static_cast<double>(dice() % 4)};
            scene::lay(laidOut, laid);
            for (const scene::Piece& part : berth.pieces) {
                scene::Piece piece = scene::placed(berth, part, laid);
                piece.id = laid.id + "-" + part.id;
                piece.partOf.reset();
                written.pieces.push_back(piece);
            }
        }
        // By snare, then by laid one: each springs for its own piece only.
        for (const scene::Snare& snare : berth.snares)
            for (int k = 0; k < count; ++k) {
                scene::Snare one = snare;
                const std::string prefix = "berth-" + std::to_string(k) + "-";
                one.id = prefix + snare.id;
                one.catches.at = prefix + snare.catches.at.substr(5);
                for (scene::Response& response : one.responses)
                    std::visit(
                        [&](auto& kind) {
                            if constexpr (requires { kind.on; })
                                for (std::string& name : kind.on.names)
                                    if (name.starts_with("part:"))
                                        name = prefix + name.substr(5);
                        },
                        response.kind);
                written.snares.push_back(one);
            }
        for (int i = 0; i < 3; ++i) {
            scene::Piece gull =
                mover("gull" + std::to_string(i), {-10, between(-5, 5)}, {between(2, 6), between(-1, 1)}, 0.3);
            gull.tags = {"gull"};
            laidOut.pieces.push_back(gull);
            written.pieces.push_back(gull);
        }
        QStringList first = logOf(laidOut, 5);
        QStringList second = logOf(written, 5);
        // Names: `berth-1.p0` and `berth-1-p0`; the snare `s0` for its self and `berth-1-s0`.
        static const QRegularExpression part{QStringLiteral(R"(berth-(\d)\.(p\d))")};
        static const QRegularExpression snare{QStringLiteral(R"re("berth-\d-(s\d)")re")};
        for (QString& line : first)
            line.replace(part, QStringLiteral("berth-\\1-\\2"));
        for (QString& line : second)
            line.replace(snare, QStringLiteral("\"\\1\""));
        QCOMPARE(first.size(), second.size());
        for (qsizetype i = 0; i < first.size(); ++i)
            QCOMPARE(first[i], second[i]);
        sprung += first.filter(QStringLiteral("\"outcome\":\"sprung\"")).size();
    }
    QVERIFY(sprung > 30); // they did something
}

void TestAssemblies::madeOfPiecesAndDissolvedAgain()
{
    scene::Scene scene;
    scene.pieces = {zone("plate", {4, 4}, {2, 2}), wall("door", {8, 4}, {1, 3}), wall("quay", {0, 0}, {1, 1})};
    scene.pieces[1].properties.set("plate", scene::Scalar{std::string("plate")});
    scene.snares.push_back(onEvent("opens", scene::EventKind::enter, "plate", {scene::Hide{{{"door"}}}}));
    scene.snares.push_back(onEvent("breaks", scene::EventKind::enter, "plate", {scene::Hide{{{"quay"}}}}));
    scene::Set counts;
    counts.on = scene::Target{{"scene"}};
    counts.name = std::string("n");
    counts.value = scene::Get{"plate.count"};
    scene.snares.push_back(onEvent("counts", scene::EventKind::enter, "plate", {counts}));
    const std::string id = scene::makeAssembly(scene, {"plate", "door"});
    QCOMPARE(id, std::string("plate-1"));
    const scene::Assembly& made = *scene.assemblies.find("plate");
    QCOMPARE(made.pieces.size(), std::size_t{2});
    QCOMPARE(made.snares.size(), std::size_t{1}); // one other acts outside, one means this plate alone
    QCOMPARE(made.snares[0].catches.at, std::string("part:plate"));
    QVERIFY(pieceOf(scene, "plate-1.plate").at == Vec(4, 4));
    QVERIFY(*pieceOf(scene, "plate-1.door").properties.find("plate") == scene::Scalar{std::string("plate-1.plate")});
    QCOMPARE(scene.snares.size(), std::size_t{2});
    QCOMPARE(scene::makeTemplate(scene, "plate-1.door"), std::string()); // a part has its model already
    QCOMPARE(scene.snares[0].catches.at, std::string("plate-1.plate")); // it follows the name
    QVERIFY(read(io::sceneText(scene)) == scene);
    // The tenth works as the first.
    for (int i = 2; i <= 10; ++i)
        scene::lay(scene, {"plate-" + std::to_string(i), "plate", {0, 10.0 * i}, 0});
    scene::Piece gull = mover("gull", {4, 98}, {0, 0}, 0.3);
    gull.at = {-2, 100};
    gull.body = scene::KinematicBody{{3, 0}};
    scene.pieces.push_back(gull);
    const QStringList log = logOf(scene, 2);
    QVERIFY(!log.filter(QStringLiteral("\"do\":\"hide\",\"on\":\"plate-10.door\"")).isEmpty());
    // Plain pieces again, which still do it.
    scene::dissolve(scene, "plate-10");
    QVERIFY(!scene::findLaid(scene, "plate-10"));
    QVERIFY(!logOf(scene, 2).filter(QStringLiteral("\"do\":\"hide\",\"on\":\"plate-10-door\"")).isEmpty());
    QVERIFY(read(io::sceneText(scene)) == scene);
    scene::removeLaid(scene, "plate-9");
    QVERIFY(!scene::findPiece(scene, "plate-9.door"));
}

void TestAssemblies::allAreMadeLikeOne()
{
    scene::Scene scene = read(lockScene);
    scene::Piece& lamp = *scene::findPiece(scene, "lock-1.lamp");
    lamp.look.colour.code = "#b98a1e";
    lamp.at = {1.5, 1};
    scene::makeAllLike(scene, "lock-1");
    QCOMPARE(pieceOf(scene, "lock-2.lamp").look.colour.code, std::string("#b98a1e"));
    QVERIFY(pieceOf(scene, "lock-2.lamp").at == Vec(1.5, 7));
    QVERIFY(pieceOf(scene, "lock-3.lamp").at == Vec(10, 2)); // its own place stays
    QVERIFY(*pieceOf(scene, "lock-2.gate").properties.find("number") == scene::Scalar{2.0});
    QVERIFY(io::sceneText(scene).find("\"lamp\": {\"at\": [2, 0]}") != std::string::npos);
}

void TestAssemblies::movedAsAWhole()
{
    scene::Scene scene = read(lockScene);
    scene::moveLaid(scene, "lock-3", {20, 5}, 180);
    QVERIFY(pieceOf(scene, "lock-3.sill").at == Vec(20, 7));
    QVERIFY(pieceOf(scene, "lock-3.lamp").at == Vec(18, 5));
    QVERIFY(*pieceOf(scene, "lock-3.gate").properties.find("plate") == scene::Scalar{std::string("lock-3.sill")});
}

QTEST_GUILESS_MAIN(TestAssemblies)
#include "test_assemblies.moc"
