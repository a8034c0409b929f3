// SPDX-License-Identifier: Apache-2.0
/// What goes out to other programs and comes in from them: drawings, tables, traces, statecharts.
#include "check/findings.h"
#include "check/reference.h"
#include "io/document.h"
#include "io/drawing.h"
#include "io/exports.h"
#include "io/tracks_in.h"
#include "sim/recorder.h"
#include "world/outline.h"

#include <QTest>
#ifdef SNARE_SCXML
#include <QBuffer>
#include <QScxmlStateMachine>
#endif
#include <nlohmann/json.hpp>

using namespace snare;
using geometry::Vec;

namespace {

std::string withQuotes(std::string text)
{
    std::ranges::replace(text, '\'', '"');
    return text;
}

io::Drawing drawn(const std::string& inner, const io::DrawingOptions& options = {})
{
    auto drawing =
        io::piecesFrom(withQuotes("<svg xmlns='http://www.w3.org/2000/svg'>" + inner + "</svg>"), "test.svg", options);
    if (!drawing)
        qFatal("%s", drawing.error().message().c_str());
    return std::move(*drawing);
}

/// What was refused, or empty.
std::string refused(const std::string& svg)
{
    const auto drawing = io::piecesFrom(withQuotes(svg), "test.svg");
    return drawing ? std::string() : drawing.error().message();
}

template <class Kind> const Kind& only(const io::Drawing& drawing)
{
    if (drawing.clip.pieces.size() != 1 || drawing.clip.pieces[0].shapes.size() != 1)
        qFatal("there are %zu pieces", drawing.clip.pieces.size());
    const auto* kind = std::get_if<Kind>(&drawing.clip.pieces[0].shapes[0].geometry);
    if (!kind)
        qFatal("it is a %s", std::string(scene::kindOf(drawing.clip.pieces[0].shapes[0].geometry)).c_str());
    return *kind;
}

bool isNear(const Vec& a, const Vec& b, double slack = 1e-6)
{
    return glm::length(a - b) <= slack;
}

/// The corners of a shape in the scene.
std::vector<Vec> cornersIn(const scene::Piece& piece, const scene::Shape& shape)
{
    std::vector<Vec> corners = world::cornersOf(shape);
    for (Vec& corner : corners)
        corner = geometry::toScene({piece.at, piece.turn}, corner);
    return corners;
}

scene::Scene sceneFrom(const std::string& text)
{
    const auto scene = io::readScene(withQuotes("{'format': 'fresh-snare-scene', 'version': 1, " + text + "}"), "test");
    if (!scene)
        qFatal("%s", scene.error().front().message().c_str());
    return *scene;
}

sim::Record play(const scene::Scene& scene, double seconds)
{
    scene::Take take;
    take.length = seconds;
    return sim::rerun(std::make_shared<const scene::Scene>(scene), take);
}

} // namespace

class TestExchange : public QObject {
    Q_OBJECT

  private slots:
    void elementsBecomeShapes();
    void pathsBecomeAreasAndLines();
    void curvesKeepWithinTheTolerance();
    void arcsEndWhereTheySay();
    void transformsAreFollowed();
    void whatElementsSayCountsForWhatIsInThem();
    void whatIsNotBroughtInIsTold();
    void whatIsTooFarOrTooThinIsPassedOver();
    void hostileDrawingsAreRefused();
    void aDrawingComesInAsItWentOut_data();
    void aDrawingComesInAsItWentOut();
    void namesAreFreeAndTemplatesStamped();
    void aTableHasARowALine();
    void aTableOfPlacesLeadsPieces_V10();
    void tablesArePartedInSeveralWays();
    void mistakesInTablesSayWhere_data();
    void mistakesInTablesSayWhere();
    void aTraceHasTheSpansOfMeetings();
    void phasesBecomeAStatechart();
    void aSchemaMayBeNamedInEveryFile();
    void theReferenceTellsEveryFinding();
};

void TestExchange::elementsBecomeShapes()
{
    const io::Drawing box = drawn("<rect id='plate' x='1' y='2' width='4' height='2'/>");
    QCOMPARE(only<scene::Box>(box).size, (Vec{4, 2}));
    QCOMPARE(box.clip.pieces[0].id, "plate");
    QVERIFY(isNear(box.clip.pieces[0].at, {3, -3})); // y goes down in a drawing
    QCOMPARE(only<scene::Circle>(drawn("<circle cx='1' cy='1' r='0.5'/>")).radius, 0.5);
    QCOMPARE(only<scene::Circle>(drawn("<ellipse rx='2' ry='2'/>")).radius, 2.0);
    QVERIFY(only<scene::Polygon>(drawn("<ellipse rx='2' ry='1'/>")).points.size() > 20);
    QCOMPARE(only<scene::Polygon>(drawn("<polygon points='0,0 2,0 2,1'/>")).points.size(), 3u);
    QVERIFY(!only<scene::Line>(drawn("<polyline points='0 0 2 0 2 1'/>")).closed);
    QVERIFY(only<scene::Line>(drawn("<polygon class='line' points='0,0 2,0 2,1'/>")).closed);
    QCOMPARE(only<scene::Line>(drawn("<line x1='1' x2='3'/>")).points.size(), 2u);
    QCOMPARE(only<scene::Capsule>(drawn("<line class='capsule' x2='3' style='stroke-width: 0.8'/>")).radius, 0.4);
}

void TestExchange::pathsBecomeAreasAndLines()
{
    const auto points = only<scene::Polygon>(drawn("<path d='M0 0h2v1h-2z'/>")).points;
    QCOMPARE(points.size(), 4u);
    QVERIFY(isNear(points[0] - points[1], {-2, 0}));
    QVERIFY(isNear(points[1] - points[2], {0, 1}));
    QVERIFY(!only<scene::Line>(drawn("<path d='M0,0 L1,0 1,1'/>")).closed);
    QCOMPARE(drawn("<path d='M0 0h1v1zM5 5h1v1z'/>").clip.pieces[0].shapes.size(), 2u);
    QCOMPARE(drawn("<path d='M0 0h1v1z l3 3 3-3z'/>").clip.pieces[0].shapes.size(), 2u); // goes on from the beginning
    QCOMPARE(only<scene::Polygon>(drawn("<path d='M.5.5 1.5.5 1.5-.5Z'/>")).points.size(), 3u);
}

/// No point of the curve is farther from the edges than that.
void TestExchange::curvesKeepWithinTheTolerance()
{
    for (const double tolerance : {0.1, 0.01, 0.001}) {
        const io::Drawing drawing = drawn("<path d='M0 0C0 2 4 2 4 0'/>", {1, tolerance, false});
        const auto& line = only<scene::Line>(drawing);
        const Vec at = drawing.clip.pieces[0].at;
        double farthest = 0;
        for (int i = 0; i <= 1000; ++i) {
            const double t = i / 1000.0;
            const Vec on{4 * (3 * t * t * (1 - t) + t * t * t), -6 * t * (1 - t)};
            double nearest = 1e9;
            for (std::size_t k = 1; k < line.points.size(); ++k) {
                const Vec a = line.points[k - 1] + at;
                const Vec b = line.points[k] + at;
                const double along = std::clamp(glm::dot(on - a, b - a) / glm::dot(b - a, b - a), 0.0, 1.0);
                nearest = std::min(nearest, glm::length(on - (a + (b - a) * along)));
            }
            farthest = std::max(farthest, nearest);
        }
        QVERIFY2(farthest <= tolerance, qPrintable(QString::number(farthest)));
        QVERIFY(static_cast<double>(line.points.size()) <
                3 + 4 / std::sqrt(tolerance)); // and no more edges than it needs
    }
}

void TestExchange::arcsEndWhereTheySay()
{
    const io::Drawing drawing = drawn("<path d='M2 0A2 2 0 0 1 0 2'/>");
    const auto& quarter = only<scene::Line>(drawing);
    const Vec at = drawing.clip.pieces[0].at;
    QVERIFY(isNear(quarter.points.front() + at, {2, 0}));
    QVERIFY(isNear(quarter.points.back() + at, {0, -2}));
    for (const Vec& point : quarter.points)
        QVERIFY(std::abs(glm::length(point + at) - 2) < 1e-6);
    // Radii that are too small grow until they reach.
    QVERIFY(only<scene::Line>(drawn("<path d='M0 0a1 1 0 0 0 4 0'/>")).points.size() > 5);
    QCOMPARE(only<scene::Line>(drawn("<path d='M0 0a0 1 0 0 0 4 0'/>")).points.size(), 2u);
    QVERIFY(only<scene::Line>(drawn("<path d='M0 0a2 2 0 1014 0'/>")).points.size() >
            5); // flags without anything between
}

void TestExchange::transformsAreFollowed()
{
    const io::Drawing turned = drawn("<rect transform='translate(5 1) rotate(30)' width='2' height='1'/>");
    QCOMPARE(only<scene::Box>(turned).size, (Vec{2, 1}));
    QCOMPARE(turned.clip.pieces[0].shapes[0].turn, -30.0);
    QVERIFY(only<scene::Circle>(drawn("<g transform='scale(2)'><circle r='1' transform='scale(1.5)'/></g>")).radius ==
            3);
    QVERIFY(only<scene::Polygon>(drawn("<circle r='1' transform='scale(2 1)'/>")).points.size() > 10);
    QCOMPARE(only<scene::Polygon>(drawn("<rect width='1' height='1' transform='skewX(20)'/>")).points.size(), 4u);
    const io::Drawing about = drawn("<rect x='1' y='1' width='1' height='1' transform='rotate(90 1 1)'/>");
    QVERIFY(isNear(about.clip.pieces[0].at, {0.5, -1.5}));
    QVERIFY(isNear(drawn("<circle cx='100' r='10'/>", {0.01, 0.005, false}).clip.pieces[0].at, {1, 0}));
    QVERIFY(isNear(drawn("<circle cx='7' r='1'/>", {1, 0.005, true}).clip.pieces[0].at, {0, 0}));
}

void TestExchange::whatElementsSayCountsForWhatIsInThem()
{
    const io::Drawing drawing = drawn(R"(<g data-group='hulls' data-role='zone' data-layer='3'>
        <rect id='a' width='1' height='1' class='wet'/><rect id='b' width='1' height='1' class='solid' data-body='dynamic' data-tags='old heavy'/></g>
        <circle id='c' r='1'/>)");
    const auto& pieces = drawing.clip.pieces;
    QCOMPARE(pieces.size(), 3u);
    QCOMPARE(pieces[0].group, "hulls");
    QVERIFY(pieces[0].shapes[0].role == scene::Role::zone);
    QCOMPARE(pieces[0].layer, 3);
    QCOMPARE(pieces[0].tags, std::vector<std::string>{"wet"});
    QVERIFY(pieces[1].shapes[0].role == scene::Role::solid);
    QVERIFY(std::holds_alternative<scene::DynamicBody>(pieces[1].body));
    QCOMPARE(pieces[1].tags, (std::vector<std::string>{"old", "heavy"}));
    QCOMPARE(pieces[2].group, "default");
    // What says one piece is on one.
    const io::Drawing one = drawn(
        "<g data-piece='scale'><rect width='2' height='1'/></g><circle data-piece='scale' r='1' data-shape='dial'/>");
    QCOMPARE(one.clip.pieces.size(), 1u);
    QCOMPARE(one.clip.pieces[0].shapes[1].id, "dial");
    // The group that says it gives the axes, not one within; an element that says it by itself is
    // in its own middle.
    const io::Drawing axes =
        drawn("<g data-piece='a' transform='translate(3 1)'><g transform='translate(1 1)'><circle r='1'/></g></g>"
              "<circle data-piece='b' cx='7' r='1'/>");
    QVERIFY(isNear(axes.clip.pieces[0].at, {3, -1}));
    QVERIFY(isNear(axes.clip.pieces[0].shapes[0].at, {1, -1}));
    QVERIFY(isNear(axes.clip.pieces[1].at, {7, 0}));
}

void TestExchange::whatIsNotBroughtInIsTold()
{
    const io::Drawing drawing =
        drawn(R"(<image href='http://elsewhere/a.png'/><use href='#a'/><use href='#b'/><text>words</text>
        <defs><rect width='1' height='1'/></defs><rect width='1' height='1' style='display:none'/><polygon points='0 0 2 2 2 0 0 2'/>
        <path d='M0 0 L1 what'/><circle r='2mm' display='none'/><g transform='wobble(3)'><rect width='1' height='1'/></g><rect width='0' height='3'/><circle r='-1'/>)");
    QVERIFY(drawing.clip.pieces.empty());
    QCOMPARE(drawing.notes.size(), 5u);
    const auto told = [&](std::string_view words) {
        return std::ranges::any_of(drawing.notes,
                                   [&](const std::string& note) { return note.find(words) != std::string::npos; });
    };
    QVERIFY(told("<use> is not brought in (2 times)"));
    QVERIFY(told("<image>"));
    QVERIFY(told("a shape that cannot be one"));
    QVERIFY(told("a path that cannot be read to its end"));
    QVERIFY(told("wobble(3)"));
    QCOMPARE(drawn("<circle r='2mm'/>").notes,
             std::vector<std::string>{"lengths with a unit are taken as units of the drawing"});
    QCOMPARE(drawn("<rect width='2px' height='1' rx='0.1'/>").notes,
             std::vector<std::string>{"rounded corners are brought in sharp"});
}

void TestExchange::whatIsTooFarOrTooThinIsPassedOver()
{
    const io::Drawing drawing =
        drawn("<polygon points='0 0 1 1 2 2222222222222222222220 2 0'/><circle cx='1e9' r='1'/><circle cx='0' r='1'/>");
    QCOMPARE(drawing.clip.pieces.size(), std::size_t(1));
    QCOMPARE(drawing.notes, std::vector<std::string>{"a shape that is farther away than 10,000 km (2 times)"});
    const auto again = io::readScene(io::sceneText(drawing.clip), "again");
    QVERIFY(again.has_value());
}

void TestExchange::hostileDrawingsAreRefused()
{
    QCOMPARE(refused("<?xml version='1.0'?>\n<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;&a;'>]><svg>&b;</svg>"),
             "test.svg: line 2, column 16: it declares entities, which are not read");
    QVERIFY(QString::fromStdString(refused("<html/>")).contains(QStringLiteral("it is no SVG")));
    QVERIFY(QString::fromStdString(refused("<svg><rect></svg>")).startsWith(QStringLiteral("test.svg: line 1")));
    QVERIFY(!refused("").empty());
    std::string deep = "<svg>";
    for (int i = 0; i < 5000; ++i)
        deep += "<g>";
    for (int i = 0; i < 5000; ++i)
        deep += "</g>";
    QVERIFY(QString::fromStdString(refused(deep + "</svg>")).contains(QStringLiteral("nested deeper than 200 levels")));
    QVERIFY(
        drawn("<rect width='1e999' height='nan'/><circle r='1e308' transform='scale(1e308)'/>").clip.pieces.empty());
}

void TestExchange::aDrawingComesInAsItWentOut_data()
{
    QTest::addColumn<QString>("file");
    for (const auto& entry : std::filesystem::directory_iterator{SNARE_DEMO_FOLDER})
        if (const std::string name = entry.path().filename().string(); name.ends_with(".snare.json"))
            QTest::newRow(name.c_str()) << QString::fromStdString(entry.path().string());
}

/// Every shape of every demo, within 0.1 mm. (What is traced from a picture comes in as the areas
/// that were traced.)
void TestExchange::aDrawingComesInAsItWentOut()
{
    QFETCH(QString, file);
    const auto scene = io::loadScene(file.toStdString());
    QVERIFY(scene);
    const sim::Record record = play(*scene, 0.1);
    const std::string svg = io::svgOf(record, 0);
    const auto drawing = io::piecesFrom(svg, "out.svg");
    QVERIFY2(drawing, drawing ? "" : drawing.error().message().c_str());
    QVERIFY2(drawing->notes.empty(), drawing->notes.empty() ? "" : drawing->notes.front().c_str());
    std::size_t compared = 0;
    for (const scene::Piece& piece : scene->pieces) {
        if (piece.partOf) // its name is of two parts, which no other piece can have
            continue;
        const auto found = std::ranges::find(drawing->clip.pieces, piece.id, &scene::Piece::id);
        const bool isTraced = std::ranges::any_of(
            piece.shapes, [](const scene::Shape& one) { return std::holds_alternative<scene::Traced>(one.geometry); });
        const bool isThere = !piece.pinned && piece.shown && !piece.shapes.empty() &&
                             (piece.during.items.empty() ||
                              std::ranges::find(piece.during.items, scene->phases.front()) != piece.during.items.end());
        QCOMPARE(found != drawing->clip.pieces.end(), isThere);
        if (!isThere || isTraced)
            continue;
        QCOMPARE(found->shapes.size(), piece.shapes.size());
        QCOMPARE(found->group, piece.group);
        QCOMPARE(found->tags, piece.tags);
        // Zones come before solids.
        std::vector<scene::Shape> shapes = piece.shapes;
        std::ranges::stable_sort(shapes, {},
                                 [](const scene::Shape& one) { return one.role == scene::Role::zone ? 0 : 1; });
        for (std::size_t i = 0; i < shapes.size(); ++i) {
            QCOMPARE(scene::kindOf(found->shapes[i].geometry), scene::kindOf(shapes[i].geometry));
            QVERIFY(found->shapes[i].role == shapes[i].role);
            const auto was = cornersIn(piece, shapes[i]);
            const auto is = cornersIn(*found, found->shapes[i]);
            QCOMPARE(is.size(), was.size());
            for (std::size_t k = 0; k < was.size(); ++k)
                QVERIFY2(isNear(was[k], is[k], 1e-4), piece.id.c_str());
            ++compared;
        }
    }
    QVERIFY(compared > 0 || !scene->laid.empty());
}

void TestExchange::namesAreFreeAndTemplatesStamped()
{
    scene::Scene scene =
        sceneFrom("'templates': {'gull': {'group': 'birds', 'shapes': [{'circle': 0.3}]}}, 'pieces': [{'id': 'a'}]");
    std::vector<std::string> notes;
    const auto made = io::bringIn(scene, drawn(R"(<rect id='a' width='1' height='1'/><rect id='a' width='1' height='1'/>
        <circle data-template='gull' r='2' cx='4'/><circle data-template='tern' r='2'/><rect id='self' width='1' height='1'/>)"),
                                  {10, 0}, notes);
    QCOMPARE(made, (std::vector<std::string>{"a-2", "a-2-2", "piece", "piece-2", "piece-3"}));
    const scene::Piece* gull = scene::findPiece(scene, "piece");
    QCOMPARE(gull->group, "birds");
    QCOMPARE(std::get<scene::Circle>(gull->shapes[0].geometry).radius, 0.3);
    QVERIFY(isNear(gull->at, {14, 0}));
    QVERIFY(scene::findPiece(scene, "piece-2")->templateName.empty());
    QCOMPARE(notes, std::vector<std::string>{"there is no template tern: its pieces are plain ones"});
    const auto again = io::readScene(io::sceneText(scene), "again");
    QVERIFY2(again, again ? "" : again.error().front().message().c_str());
    QVERIFY(*again == scene);
}

const char* const bay = R"('variables': {'n': 0}, 'phases': ['calm', 'storm'], 'pieces': [
    {'id': 'cart', 'at': [-3, 0], 'body': {'kind': 'kinematic', 'velocity': [1, 0]}, 'shapes': [{'role': 'zone', 'circle': 0.2}]},
    {'id': 'bay', 'shapes': [{'role': 'zone', 'box': [2, 2]}]}, {'id': 'lamp', 'phases': ['off', 'on', 'red']}],
    'snares': [{'id': 'in', 'catch': {'event': 'enter', 'at': 'bay'}, 'responses': [{'do': 'say', 'text': 'a, "b"'}, {'do': 'add', 'on': 'scene', 'name': 'n', 'value': 1},
        {'do': 'phase', 'on': 'lamp', 'to': 'next'}, {'do': 'signal', 'name': 'bell'}]},
      {'id': 'blow', 'catch': {'event': 'exit', 'at': 'bay'}, 'during': 'scene:calm', 'responses': [{'do': 'phase', 'on': 'scene', 'to': 'storm'}]},
      {'id': 'off', 'catch': {'event': 'exit', 'at': 'bay'}, 'responses': [{'do': 'phase', 'on': 'lamp', 'to': 'off'}]}])";

void TestExchange::aTableHasARowALine()
{
    const sim::Record record = play(sceneFrom([] {
                                        std::string text = bay;
                                        const auto at = text.find("a, \"b\"");
                                        return text.replace(at, 6, "a, b"); // quotes are keys here
                                    }()), 6);
    const QString text = QString::fromStdString(io::csvOf(record));
    const QStringList rows = text.split(QStringLiteral("\r\n"), Qt::SkipEmptyParts);
    QCOMPARE(static_cast<std::size_t>(rows.size()), record.journal.lines.size() + 1);
    QCOMPARE(rows.filter(QStringLiteral(",event,enter,bay,")).size(), 1);
    QVERIFY(rows.filter(QStringLiteral(",event,enter,bay,")).first().startsWith(QStringLiteral("109,1.800000,")));
    QCOMPARE(rows.filter(QStringLiteral("\"a, b\"")).size(), 1);
    QCOMPARE(rows.filter(QStringLiteral(",snare,enter,bay,"))
                 .filter(QStringLiteral(",cart,"))
                 .filter(QStringLiteral(",in,sprung,"))
                 .size(),
             1);
}

void TestExchange::aTraceHasTheSpansOfMeetings()
{
    std::string text = bay;
    text.replace(text.find("a, \"b\""), 6, "hello");
    const auto trace = nlohmann::json::parse(io::traceOf(play(sceneFrom(text), 6)));
    const auto& events = trace["traceEvents"];
    const auto find = [&](const std::string& name, const std::string& phase) {
        return std::ranges::find_if(events, [&](const auto& one) { return one["name"] == name && one["ph"] == phase; });
    };
    const auto meeting = find("cart inside", "X");
    QVERIFY(meeting != events.end());
    QCOMPARE((*meeting)["ts"].get<std::int64_t>(), 1'800'000);
    QCOMPARE((*meeting)["dur"].get<std::int64_t>(), 2'400'000);
    QVERIFY(find("phase calm", "X") != events.end());
    QVERIFY(find("scene.n", "C") != events.end());
    QVERIFY(find("sprung", "i") != events.end());
    QVERIFY(find("hello", "X") != events.end());
    std::set<std::string> tracks;
    for (const auto& one : events)
        if (one["ph"] == "M")
            tracks.insert(one["args"]["name"].get<std::string>());
    QVERIFY(tracks.contains("bay") && tracks.contains("snare in") && tracks.contains("scene"));
}

/// Played by an interpreter that is not ours.
void TestExchange::phasesBecomeAStatechart()
{
    std::string text = bay;
    text.replace(text.find("a, \"b\""), 6, "hello");
    const std::string scxml = io::scxmlOf(sceneFrom(text));
    QVERIFY(QString::fromStdString(scxml).contains(QStringLiteral("<raise event=\"signal.bell\"")));
    // What a routine does, what restarting does, and names that no id can be there.
    const QString more = QString::fromStdString(io::scxmlOf(
        sceneFrom(R"('routines': {'lit': [{'do': 'phase', 'on': '7', 'to': 'on high'}, {'do': 'signal', 'name': 'up'}]},
        'pieces': [{'id': '7', 'phases': ['off', 'on high']}], 'snares': [{'id': 'switch', 'catch': {'event': 'start'}, 'responses': [{'do': 'run', 'routine': 'lit'}]},
        {'id': 'again', 'catch': {'event': 'key-down', 'key': 'r'}, 'responses': [{'do': 'restart'}]}])")));
    QVERIFY2(more.contains(QStringLiteral("event=\"snare.switch\" target=\"_7.on_high\"")), qPrintable(more));
    QVERIFY2(more.contains(QStringLiteral("event=\"snare.again\" target=\"_7.off\"")), qPrintable(more));
    QVERIFY2(more.contains(QStringLiteral("signal.up")), qPrintable(more));
#ifdef SNARE_SCXML
    QByteArray bytes = QByteArray::fromStdString(scxml);
    QBuffer buffer{&bytes};
    QVERIFY(buffer.open(QIODevice::ReadOnly));
    const std::unique_ptr<QScxmlStateMachine> machine{QScxmlStateMachine::fromData(&buffer)};
    QVERIFY2(machine->parseErrors().isEmpty(),
             machine->parseErrors().isEmpty() ? "" : qPrintable(machine->parseErrors().first().toString()));
    machine->start();
    const auto isIn = [&](const char* state) { return machine->activeStateNames().contains(QLatin1String(state)); };
    QTRY_VERIFY(isIn("lamp.off"));
    QVERIFY(isIn("scene.calm"));
    for (const char* next : {"lamp.on", "lamp.red", "lamp.off"}) {
        machine->submitEvent(QStringLiteral("snare.in"));
        QTRY_VERIFY(isIn(next));
    }
    machine->submitEvent(QStringLiteral("snare.in"));
    QTRY_VERIFY(isIn("lamp.on"));
    machine->submitEvent(QStringLiteral("snare.off"));
    QTRY_VERIFY(isIn("lamp.off"));
    machine->submitEvent(QStringLiteral("snare.blow"));
    QTRY_VERIFY(isIn("scene.storm"));
    for (const auto& entry : std::filesystem::directory_iterator{SNARE_DEMO_FOLDER}) {
        if (!entry.path().string().ends_with(".snare.json"))
            continue;
        QByteArray demo = QByteArray::fromStdString(io::scxmlOf(scene::withKits(*io::loadScene(entry.path()))));
        QBuffer of{&demo};
        QVERIFY(of.open(QIODevice::ReadOnly));
        const std::unique_ptr<QScxmlStateMachine> read{QScxmlStateMachine::fromData(&of)};
        QVERIFY2(read->parseErrors().isEmpty(),
                 qPrintable(read->parseErrors().isEmpty() ? QString() : read->parseErrors().first().toString()));
    }
#endif
}

void TestExchange::aSchemaMayBeNamedInEveryFile()
{
    const auto scene =
        io::readScene(withQuotes("{'$schema': 'scene.schema.json', 'format': 'fresh-snare-scene', 'version': 1}"), "a");
    QVERIFY(scene);
    QVERIFY(
        QString::fromStdString(io::sceneText(*scene)).contains(QStringLiteral("\"$schema\": \"scene.schema.json\"")));
    QVERIFY(
        io::readTake(withQuotes("{'$schema': 'x', 'format': 'fresh-snare-take', 'version': 1, 'inputs': []}"), "a"));
    QVERIFY(io::readKit(withQuotes("{'$schema': 'x', 'format': 'fresh-snare-kit', 'version': 1}"), "a"));
    QVERIFY(!io::readKit(withQuotes("{'schema': 'x', 'format': 'fresh-snare-kit', 'version': 1}"), "a"));
}

void TestExchange::theReferenceTellsEveryFinding()
{
    const auto pages = check::referencePages();
    const auto has = [&](std::string_view page, const std::string& heading) {
        const auto found = std::ranges::find(pages, page, &check::ReferencePage::id);
        return found != pages.end() && found->text.find("\n## " + heading + "\n") != std::string::npos;
    };
    for (const check::FindingRow& row : check::findingRows())
        QVERIFY2(has("findings", std::string(row.id)), row.id.data());
    for (const scene::EventWord& word : scene::wordsOf<scene::EventKind>)
        QVERIFY2(has("events", std::string(word.word)), word.word.data());
    for (std::size_t i = 0; i < std::variant_size_v<scene::AnyResponse>; ++i)
        QVERIFY2(has("responses", std::string(scene::wordOfResponse(i).key)), scene::wordOfResponse(i).key.data());
}

void TestExchange::aTableOfPlacesLeadsPieces_V10()
{
    const auto table = io::tracksFrom("time,piece,x,y,turn,remark\r\n"
                                      "500,cart,1,2,,go\r\n"
                                      "\r\n"
                                      "0,\"cart\",0,0,90,\"a \"\"first\"\" place,\nof two lines\"\r\n"
                                      "250,gull,-3,4.5,,\r\n",
                                      "shift.csv", {{}, 0.5, 0.001});
    if (!table)
        QFAIL(table.error().message().c_str());
    QCOMPARE(table->notes, std::vector<std::string>{"columns that say nothing here: remark"});
    QCOMPARE(table->tracks.size(), std::size_t(2));
    QCOMPARE(table->end(), 0.5);
    scene::Take take;
    take.length = 0.4;
    take.inputs.push_back({0.3, scene::KeyInput{"Right", true}});
    take.inputs.push_back({0.1, scene::TrackPlace{"cart"}});
    take = io::withTracks(take, *table);
    QCOMPARE(take.length, std::optional(0.5));
    QStringList inputs;
    for (const scene::Input& input : take.inputs)
        if (const auto* place = input.as<scene::TrackPlace>())
            inputs << QStringLiteral("%1 %2 %3 %4")
                          .arg(input.t)
                          .arg(QString::fromStdString(place->piece))
                          .arg(place->at.x)
                          .arg(place->turn.value_or(-1));
        else
            inputs << QString::fromStdString(input.as<scene::KeyInput>()->key);
    QCOMPARE(inputs, (QStringList{"0 cart 0 90", "0.25 gull -1.5 -1", "Right", "0.5 cart 0.5 -1"}));
    // What is led is driven; what is not there comes at its first place.
    scene::Scene scene;
    scene::Piece cart;
    cart.id = "cart";
    scene.pieces.push_back(cart);
    QCOMPARE(io::makeDriven(scene, *table), (std::vector<std::string>{"cart", "gull"}));
    QCOMPARE(scene::kindOf(std::as_const(scene).pieces[0].body), std::string_view("driven"));
    QCOMPARE(std::as_const(scene).pieces[1].at, (Vec{-1.5, 2.25}));
    QVERIFY(io::makeDriven(scene, *table).empty());
    // A whole record of a run goes the same way again.
    const auto ran = sim::rerun(std::make_shared<const scene::Scene>(scene), take);
    QVERIFY(glm::length(ran.snapshots.at(30)[0].pose.at - Vec{0.5, 1}) < 1e-12);
}

void TestExchange::tablesArePartedInSeveralWays()
{
    for (const char* text : {"T;Y;X\n1;3;2\n", "t\ty\tx\n1\t3\t2", "\xEF\xBB\xBFtime, x , y\n +1 , 2 ,3\n\n"}) {
        const auto table = io::tracksFrom(text, "cart.csv", {"cart", 1, 1});
        if (!table)
            QFAIL(table.error().message().c_str());
        QCOMPARE(table->tracks.size(), std::size_t(1));
        QCOMPARE(table->tracks[0].places.front().as<scene::TrackPlace>()->at, (Vec{2, 3}));
        QCOMPARE(table->tracks[0].places.front().t, 1.0);
    }
}

void TestExchange::mistakesInTablesSayWhere_data()
{
    QTest::addColumn<QString>("table");
    QTest::addColumn<QString>("said");
    const auto row = [](const char* name, const char* table, const char* said) {
        QTest::newRow(name) << QString::fromUtf8(table) << QString::fromUtf8(said);
    };
    row("nothing", "", "line 1, column 1: the first row wants to name the columns: time, piece, x, y, turn");
    row("no x", "time,y\n", "line 1, column 1: there is no column x: the first row wants to name time, x and y");
    row("twice", "time,x,y,t\n", "line 1, column 10: there are two columns for t");
    row("a word", "time,x,y\n1,2,3\n2,two,3\n", "line 3, column 3: \"two\" is no number (as 3 or -0.25, with a point)");
    row("a comma", "time;x;y\n1,5;2;3\n", "line 2, column 1: \"1,5\" is no number (as 3 or -0.25, with a point)");
    row("no place", "time,x,y\n1,2\n", "line 2, column 1: a place wants a number here");
    row("infinite", "time,x,y\n1,inf,2\n", "line 2, column 3: \"inf\" is no number (as 3 or -0.25, with a point)");
    row("too late", "time,x,y\n1e9,1,2\n", "line 2, column 1: a time lies between 0 and 86400 s");
    row("too early", "time,x,y\n-1,1,2\n", "line 2, column 1: a time lies between 0 and 86400 s");
    row("a name", "time,x,y,piece\n1,1,2,the cart\n",
        "line 2, column 7: wants the name of a piece: letters, digits, - and _");
    row("a quote", "time,x,y\n1,\"2,3\n4,5,6", "line 2, column 1: a quoted cell does not end");
    row("a quote within", "time,x,y\n1,\"2\"2,3\n", "line 2, column 6: a quote stands where none may be");
}

void TestExchange::mistakesInTablesSayWhere()
{
    QFETCH(const QString, table);
    QFETCH(const QString, said);
    const auto read = io::tracksFrom(table.toStdString(), "t.csv", {"cart", 1, 1});
    QVERIFY(!read.has_value());
    QCOMPARE(QString::fromStdString(read.error().message()), QStringLiteral("t.csv: ") + said);
}

QTEST_GUILESS_MAIN(TestExchange)
#include "test_exchange.moc"
