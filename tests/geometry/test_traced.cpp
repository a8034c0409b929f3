// SPDX-License-Identifier: Apache-2.0
/// Shapes traced from pictures: outlines, holes, tolerance, looks that change, pictures that are
/// missing.
#include "builder.h"
#include "check/findings.h"
#include "io/document.h"
#include "io/pictures.h"
#include "slow_region.h"

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <png.h>
#include <random>

using namespace snare;
using namespace snare::tests;
using geometry::Mask;
using geometry::Ring;
using scene::EventKind;

class TestTraced : public QObject {
    Q_OBJECT

  private slots:
    void aSquareHasFourCorners();
    void holesStayOpen();
    void pixelsThatTouchAtACornerAreApart();
    void outlinesStayWithinHalfAPixel();
    void partsCoverWhatTheRingsEnclose();
    void coloursWithinTheToleranceCount();
    void damagedAndMissingPicturesGiveAnEmptyShape();
    void noiseIsNotTraced();
    void aVisitorIsInTheAreaAndNotInItsHole();
    void aChangedLookIsTracedAgain_K7();
    void manyShapesAreEachTracedOnce();
};

namespace {

Mask maskOf(const std::vector<std::string>& rows)
{
    Mask mask{static_cast<int>(rows.front().size()), static_cast<int>(rows.size()), {}};
    for (const std::string& row : rows)
        for (const char c : row)
            mask.inside.push_back(c == '#');
    return mask;
}

void writePng(const QString& path, int width, int height, const std::function<std::uint32_t(int, int)>& rgba)
{
    std::vector<std::uint8_t> pixels;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (const int shift : {24, 16, 8, 0})
                pixels.push_back(static_cast<std::uint8_t>(rgba(x, y) >> shift & 255));
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = static_cast<png_uint_32>(width);
    image.height = static_cast<png_uint_32>(height);
    image.format = PNG_FORMAT_RGBA;
    QVERIFY(png_image_write_to_file(&image, qPrintable(path), 0, pixels.data(), 0, nullptr));
}

/// A blob made of a few discs of pixels, some of them holes.
Mask blob(std::mt19937& dice)
{
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    Mask mask{40, 30, std::vector<std::uint8_t>(40 * 30, 0)};
    for (int i = 0; i < 7; ++i) {
        const double x = between(4, 36);
        const double y = between(4, 26);
        const double r = between(1, 8);
        for (int row = 0; row < 30; ++row)
            for (int column = 0; column < 40; ++column)
                if (std::hypot(column + 0.5 - x, row + 0.5 - y) < r)
                    mask.inside[static_cast<std::size_t>(row * 40 + column)] = i < 5;
    }
    return mask;
}

bool encloses(const std::vector<Ring>& rings, const Vec& point)
{
    Region region{{}, true, true, 0};
    region.rings.assign(rings.begin(), rings.end());
    return holds(region, point);
}

} // namespace

void TestTraced::aSquareHasFourCorners()
{
    const auto rings = geometry::ringsOf(maskOf({"......", ".####.", ".####.", ".####.", "......"}));
    QCOMPARE(rings.size(), std::size_t{1});
    QCOMPARE(rings[0].size(), std::size_t{4});
    QCOMPARE(geometry::areaOf(rings), 12.0);
    // Upwards is up: one more pixel on the first row is above.
    const auto taller = geometry::ringsOf(maskOf({".####.", ".####.", ".####.", ".####.", "......"}));
    double top = -9;
    for (const Vec& point : taller[0])
        top = std::max(top, point.y);
    QCOMPARE(top, 2.5);
}

void TestTraced::holesStayOpen()
{
    const auto rings = geometry::ringsOf(maskOf({"#####", "#...#", "#.#.#", "#...#", "#####"}));
    QCOMPARE(rings.size(), std::size_t{3}); // the frame, its hole, what is in the hole
    QCOMPARE(geometry::areaOf(rings), 17.0);
    double cut = 0;
    for (const geometry::Hull& part : geometry::partsOfRings(rings))
        cut += geometry::doubledArea(part.corners()) / 2;
    QCOMPARE(cut, 17.0);
}

void TestTraced::pixelsThatTouchAtACornerAreApart()
{
    QCOMPARE(geometry::ringsOf(maskOf({"#.", ".#"})).size(), std::size_t{2});
    QCOMPARE(geometry::ringsOf(maskOf({".#", "#."})).size(), std::size_t{2});
    QVERIFY(geometry::ringsOf(maskOf({"...", "..."})).empty());
}

void TestTraced::outlinesStayWithinHalfAPixel()
{
    std::mt19937 dice{3};
    std::size_t corners = 0;
    std::size_t pixelCorners = 0;
    for (int round = 0; round < 60; ++round) {
        const Mask mask = blob(dice);
        const auto exact = geometry::ringsOf(mask, 0);
        const auto rings = geometry::ringsOf(mask);
        QCOMPARE(rings.size(), exact.size());
        // The true outline encloses exactly the pixels.
        for (int y = 0; y < mask.height; ++y)
            for (int x = 0; x < mask.width; ++x)
                QCOMPARE(encloses(exact, {x + 0.5 - mask.width / 2.0, mask.height / 2.0 - y - 0.5}), mask.at(x, y));
        for (std::size_t i = 0; i < rings.size(); ++i) {
            corners += rings[i].size();
            pixelCorners += exact[i].size();
            const auto farthest = [](const Ring& from, const Ring& to) {
                double most = 0;
                for (std::size_t k = 0; k < from.size(); ++k)
                    for (const double t : {0.0, 0.25, 0.5, 0.75}) {
                        const Vec point = from[k] + (from[(k + 1) % from.size()] - from[k]) * t;
                        double nearest = 1e9;
                        for (std::size_t n = 0; n < to.size(); ++n)
                            nearest = std::min(nearest, pointToSegment(point, to[n], to[(n + 1) % to.size()]));
                        most = std::max(most, nearest);
                    }
                return most;
            };
            QVERIFY(farthest(exact[i], rings[i]) <= 0.5);
            QVERIFY(farthest(rings[i], exact[i]) <= 0.5 + 1e-9);
        }
    }
    QVERIFY(corners * 3 < pixelCorners * 2); // and it is worth it
}

void TestTraced::partsCoverWhatTheRingsEnclose()
{
    std::mt19937 dice{4};
    const auto between = [&](double low, double high) { return std::uniform_real_distribution{low, high}(dice); };
    for (int round = 0; round < 60; ++round) {
        const auto rings = geometry::ringsOf(blob(dice));
        const auto parts = geometry::partsOfRings(rings);
        for (int i = 0; i < 300; ++i) {
            const Vec point{between(-20, 20), between(-15, 15)};
            int over = 0;
            for (const geometry::Hull& part : parts)
                over += geometry::contains(part, point) ? 1 : 0;
            QCOMPARE(over > 0, encloses(rings, point));
        }
    }
    // Rings that cross each other: what an odd number encloses.
    const std::vector<Ring> crossing = {{{-2, -1}, {2, -1}, {2, 1}, {-2, 1}}, {{-1, -2}, {1, -2}, {1.5, 2}, {-1, 2}}};
    const auto parts = geometry::partsOfRings(crossing);
    for (int i = 0; i < 500; ++i) {
        const Vec point{between(-3, 3), between(-3, 3)};
        QCOMPARE(std::ranges::any_of(parts, [&](const auto& part) { return geometry::contains(part, point); }),
                 encloses(crossing, point));
    }
}

void TestTraced::coloursWithinTheToleranceCount()
{
    QTemporaryDir folder;
    const QString path = folder.filePath("tide.png");
    // Four stripes, each 10 redder; the last one is see-through.
    writePng(path, 4, 1, [](int x, int) {
        return 0x203040FFU + (static_cast<std::uint32_t>(x) * 10U << 24) - (x == 3 ? 0xC0U : 0U);
    });
    const auto picture = io::readPicture(path.toStdString());
    QVERIFY(picture && picture->width == 4 && picture->height == 1);
    const auto count = [&](std::initializer_list<scene::Colour> colours, double tolerance) {
        const std::vector<scene::Colour> list{colours};
        return std::ranges::count(io::maskOf(*picture, list, tolerance).inside, 1);
    };
    QCOMPARE(count({{"#203040"}}, 0), 1);
    QCOMPARE(count({{"#203040"}}, 9), 1);
    QCOMPARE(count({{"#203040"}}, 10), 2);
    QCOMPARE(count({{"#203040"}}, 255), 3);
    QCOMPARE(count({{"#203040"}, {"#343040"}}, 0), 2);
    QCOMPARE(count({{""}}, 255), 0);
}

void TestTraced::damagedAndMissingPicturesGiveAnEmptyShape()
{
    QTemporaryDir folder;
    std::ofstream{folder.filePath("broken.png").toStdString()} << "\x89PNG no picture at all";
    QVERIFY(!io::readPicture(folder.filePath("broken.png").toStdString()));
    QVERIFY(!io::readPicture(folder.filePath("nothing.png").toStdString()));
    QVERIFY(!io::readPicture(folder.path().toStdString()));
    scene::Scene scene;
    for (const char* name : {"broken.png", "nothing.png"}) {
        scene.pieces = {piece("shoal", {0, 0}, scene::Traced{name, {{{"#000000"}}}, 16, {2, 2}, {}}, scene::Role::zone),
                        mover("m", {-3, 0}, {3, 0})};
        io::Pictures{folder.path().toStdString()}.trace(scene);
        QVERIFY(eventsAt(play(scene, {}, 2), "shoal").isEmpty());
        const auto findings = check::findingsOf(scene);
        QCOMPARE(findings.size(), std::size_t{1});
        QVERIFY(findings[0].text.find(name) != std::string::npos);
    }
}

void TestTraced::noiseIsNotTraced()
{
    QTemporaryDir folder;
    std::mt19937 dice{8};
    const auto speckles = [&](int, int) { return dice() % 2 == 0 ? 0xFFU : 0xFFFFFFFFU; };
    writePng(folder.filePath("noise.png"), 800, 600, speckles);
    writePng(folder.filePath("some.png"), 140, 100, speckles);
    // Sixty bars of different lengths are much, but no noise.
    writePng(folder.filePath("bars.png"), 120, 80,
             [](int x, int y) { return x % 2 == 0 && y > x / 2 ? 0xFFU : 0xFFFFFFFFU; });
    scene::Scene scene;
    const auto traced = [&](const char* name) {
        scene.pieces = {piece("sand", {0, 0}, scene::Traced{name, {{{"#000000"}}}, 16, {8, 6}, {}}, scene::Role::zone)};
        io::Pictures{folder.path().toStdString()}.trace(scene);
        return check::findingsOf(scene).empty();
    };
    QVERIFY(!traced("noise.png"));
    QVERIFY(!traced("some.png")); // more than 2,000 corners
    QVERIFY(traced("bars.png"));
    QCOMPARE(world::partsOf(scene.pieces[0].shapes[0]).size(), std::size_t{60});
}

void TestTraced::aVisitorIsInTheAreaAndNotInItsHole()
{
    QTemporaryDir folder;
    // A ring-shaped quay, black on white: 8 by 8 pixels on 8 by 8 m, two pixels thick.
    writePng(folder.filePath("quay.png"), 8, 8, [](int x, int y) {
        const bool hole = x >= 2 && x < 6 && y >= 2 && y < 6;
        return hole ? 0xFFFFFFFFU : 0x000000FFU;
    });
    const char* text = R"({"format": "fresh-snare-scene", "version": 1, "pieces": [
      {"id": "quay", "shapes": [{"role": "zone", "traced": {"image": "quay.png", "colour": "#000000", "size": [8, 8]}}]},
      {"id": "gull", "at": [-5, 0], "body": {"kind": "kinematic", "velocity": [6, 0]}, "shapes": [{"role": "zone", "circle": 0.5}]}]})";
    std::ofstream{folder.filePath("quay.snare.json").toStdString()} << text;
    const auto scene = io::loadScene(folder.filePath("quay.snare.json").toStdString());
    QVERIFY(scene);
    // In over the left side, out into the hole, in over the right side, out.
    QCOMPARE(eventsAt(play(*scene, {}, 3), "quay"),
             QStringList({"6 enter quay gull", "35 exit quay gull", "66 enter quay gull", "95 exit quay gull"}));
    // Saving it does not write what was traced.
    QVERIFY(io::sceneText(*scene).find("tracing") == std::string::npos);
    QVERIFY(*io::readScene(io::sceneText(*scene), "again") == *scene);
}

void TestTraced::aChangedLookIsTracedAgain_K7()
{
    QTemporaryDir folder;
    writePng(folder.filePath("low.png"), 4, 4, [](int, int y) { return y >= 3 ? 0x1F3A93FFU : 0xE8D8A0FFU; });
    writePng(folder.filePath("high.png"), 4, 4, [](int, int y) { return y >= 1 ? 0x1F3A93FFU : 0xE8D8A0FFU; });
    scene::Scene scene;
    scene.pieces = {piece("water", {0, 0}, scene::Traced{{}, {{{"#1f3a93"}}}, 4, {4, 4}, {}}, scene::Role::zone),
                    mover("buoy", {0, 0.5}, {0, 0}, 0.2)};
    scene.pieces[0].look.image = "low.png";
    scene::Look high;
    high.image = "high.png";
    scene.pieces[0].looks.set("high", high);
    scene::Look dry;
    dry.image = "nothing.png";
    scene.snares = {onKey("rises", "r", {scene::ChangeLook{{{"water"}}, {std::string("high")}}}),
                    onKey("falls", "f", {scene::ChangeLook{{{"water"}}, {std::string("plain")}}}),
                    onKey("dries", "d", {scene::ChangeLook{{{"water"}}, {dry}}})};
    io::Pictures{folder.path().toStdString()}.trace(scene);
    const sim::Record record = play(scene, takeOf({{"r", 0.1}, {"f", 0.3}, {"r", 0.5}, {"d", 0.7}}), 1);
    QCOMPARE(eventsAt(record, "water"),
             QStringList({"6 enter water buoy", "18 exit water buoy", "30 enter water buoy", "42 exit water buoy"}));
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::event && (line.event == EventKind::enter || line.event == EventKind::exit))
            QVERIFY(line.cause == world::Cause::resized && line.frac == 0);
}

/// However many a scene has: an edit elsewhere traces none of them again.
void TestTraced::manyShapesAreEachTracedOnce()
{
    const QTemporaryDir folder;
    writePng(folder.filePath(QStringLiteral("mud.png")), 16, 16,
             [](int x, int) { return x < 8 ? 0x102030ffu : 0xf0f0f0ffu; });
    scene::Scene scene;
    for (int i = 0; i < 100; ++i) {
        scene::Piece piece;
        piece.id = "mud-" + std::to_string(i);
        scene::Traced traced;
        traced.image = "mud.png";
        traced.colour.items = {scene::Colour{"#102030"}};
        traced.tolerance = i;
        scene::Shape shape;
        shape.geometry = traced;
        piece.shapes.push_back(shape);
        scene.pieces.push_back(piece);
    }
    io::Pictures pictures{folder.path().toStdString()};
    pictures.trace(scene);
    QCOMPARE(pictures.tracedCount(), std::size_t{100});
    for (int i = 0; i < 3; ++i)
        pictures.trace(scene);
    QCOMPARE(pictures.tracedCount(), std::size_t{100});
}

QTEST_APPLESS_MAIN(TestTraced)
#include "geometry/gap.h"
#include "test_traced.moc"
