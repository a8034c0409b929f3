// SPDX-License-Identifier: Apache-2.0
/// Traced shapes, heights and contacts in the real window: the pipette, the tolerance, the ground,
/// the lanes, the moment.
#include "window_fixture.h"

#include "app/ground/ground_contacts.h"
#include "app/ground/picture_view.h"
#include "app/timeline/lanes.h"
#include "app/ui/theme.h"

#include <QLabel>
#include <QPushButton>
#include <QSlider>

#include <set>

using namespace snare;
using namespace snare::tests;

class TestPictures : public QObject {
    Q_OBJECT

  private slots:
    void thePipettePicksAColourAndTheToleranceFollowsLive();
    void aSecondColourIsAddedAndLeftOut();
    void aPictureIsChosenAndAMissingOneIsSaid();
    void aTracedShapeIsAddedFromThePictureAtHand();
    void aHoleIsNotPickedOnTheGround();
    void sizingByHandStretchesThePicture();
    void heightsAreTypedOnTheCard();
    void stopsHaveAFirmEdgeInTheLanes();
    void contactsAndHitsAreShownAtTheCursor();
    void aLookThatChangesIsShownAsItIsTraced();
    void anEditElsewhereMayGiveATracedPieceAnotherOutline();

  private:
    /// A red ring with a blue middle, 40 by 40 pixels on 8 by 8 m, and a second picture that is all
    /// red.
    static void openRing(Bench& bench)
    {
        QImage image{40, 40, QImage::Format_RGB32};
        image.fill(Qt::white);
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 40; ++x)
                if (const double r = std::hypot(x - 19.5, y - 19.5); r < 18)
                    image.setPixelColor(x, y, r < 8 ? QColor(40, 60, 200) : QColor(200 + (x < 20 ? 0 : 20), 30, 30));
        image.save(bench.folder.filePath(QStringLiteral("ring.png")));
        image.fill(QColor(200, 30, 30));
        image.save(bench.folder.filePath(QStringLiteral("full.png")));
        scene::Scene scene;
        scene::Piece ring =
            piece("ring", {0, 0}, scene::Traced{"ring.png", {{{"#c81e1e"}}}, 30, {8, 8}, {}}, scene::Role::zone);
        scene.pieces = {ring, mover("gull", {-6, 0}, {2, 0}, 0.3)};
        const QString path = bench.folder.filePath(QStringLiteral("ring.snare.json"));
        QVERIFY(io::saveText(path.toStdString(), io::sceneText(scene)));
        QVERIFY(bench.window.openFile(path));
        bench.settle();
        bench.selectAndWait("ring");
    }

    static void openShoals(Bench& bench)
    {
        for (const char* file : {"shoals-high.png", "shoals-low.png"})
            QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/") + QLatin1String(file),
                        bench.folder.filePath(QLatin1String(file)));
        bench.openDemo(QStringLiteral("shoals"));
    }

    static app::SlotButton* slot(Bench& bench, const char* name)
    {
        return bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"))
            ->findChild<app::SlotButton*>(QLatin1String(name));
    }

    static app::TracePicker* picker()
    {
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (auto* one = qobject_cast<app::TracePicker*>(widget); one && one->isVisible())
                return one;
        return nullptr;
    }

    static const scene::Traced& traced(Bench& bench, std::size_t shape = 0)
    {
        return std::get<scene::Traced>(bench.window.document().scene().pieces[0].shapes[shape].geometry);
    }

    static double area(Bench& bench)
    {
        const scene::TracedArea* found = world::shownArea(traced(bench));
        return found ? geometry::areaOf(found->rings) : 0;
    }

    /// Where a pixel of the 40 by 40 picture is in the panel.
    static QPoint pixel(app::PictureView* view, double x, double y)
    {
        const double side = std::min(view->width(), view->height()) - 2;
        return QPointF{view->width() / 2.0 + (x - 20) * side / 40, view->height() / 2.0 + (y - 20) * side / 40}
            .toPoint();
    }
};

void TestPictures::thePipettePicksAColourAndTheToleranceFollowsLive()
{
    Bench bench;
    openRing(bench);
    const double ring = area(bench);
    QVERIFY(std::abs(ring - 3.14159 * (18 * 18 - 8 * 8) * 0.04) < 0.8);
    const int steps = bench.window.document().undoStack()->count();
    QTest::mouseClick(slot(bench, "shape 0 colour"), Qt::LeftButton);
    QVERIFY(picker());
    auto* view = picker()->findChild<app::PictureView*>();
    QTest::mouseMove(view, pixel(view, 20, 20));
    QTest::mouseClick(view, Qt::LeftButton, {}, pixel(view, 20, 20));
    QCOMPARE(traced(bench).colour.items.front().code, std::string("#283cc8"));
    QVERIFY(std::abs(area(bench) - 3.14159 * 64 * 0.04) < 0.5);      // the middle, at once
    QTest::mouseClick(view, Qt::LeftButton, {}, pixel(view, 6, 20)); // the left, darker half of the ring
    QCOMPARE(traced(bench).colour.items.front().code, std::string("#c81e1e"));
    auto* tolerance = picker()->findChild<QSlider*>(QStringLiteral("tolerance"));
    tolerance->setFocus();
    QTest::keyClick(tolerance, Qt::Key_Home);
    QCOMPARE(traced(bench).tolerance, 0.0);
    QVERIFY(area(bench) < ring * 0.6); // only the darker half
    for (int i = 0; i < 20; ++i)
        QTest::keyClick(tolerance, Qt::Key_Right);
    QCOMPARE(traced(bench).tolerance, 20.0);
    QCOMPARE(area(bench), ring);
    QVERIFY(picker()->findChild<QLabel*>(QStringLiteral("traceSaid"))->text().startsWith(QStringLiteral("20 of 255")));
    picker()->close();
    // All of it is one step.
    QCOMPARE(bench.window.document().undoStack()->count(), steps + 1);
    bench.window.document().undoStack()->undo();
    QCOMPARE(traced(bench).tolerance, 30.0);
    QCOMPARE(area(bench), ring);
}

void TestPictures::aSecondColourIsAddedAndLeftOut()
{
    Bench bench;
    openRing(bench);
    const double ring = area(bench);
    QTest::mouseClick(slot(bench, "shape 0 colour"), Qt::LeftButton);
    auto* view = picker()->findChild<app::PictureView*>();
    QTest::mouseClick(view, Qt::LeftButton, Qt::ShiftModifier, pixel(view, 20, 20));
    QCOMPARE(traced(bench).colour.items.size(), std::size_t{2});
    QVERIFY(area(bench) > ring + 6); // the hole is filled
    QTest::qWait(1);
    QPushButton* chip = nullptr;
    for (QPushButton* one : picker()->findChildren<QPushButton*>())
        if (!one->isHidden() && one->text() == QStringLiteral("#283cc8"))
            chip = one;
    QVERIFY(chip);
    QTest::mouseClick(chip, Qt::LeftButton);
    QCOMPARE(traced(bench).colour.items.size(), std::size_t{1});
    QCOMPARE(area(bench), ring);
    picker()->close();
}

void TestPictures::aPictureIsChosenAndAMissingOneIsSaid()
{
    Bench bench;
    openRing(bench);
    auto* card = bench.window.findChild<QWidget*>(QStringLiteral("pieceCard"));
    QVERIFY(!card->findChild<QLabel*>(QStringLiteral("problem")));
    QTest::mouseClick(slot(bench, "shape 0 image"), Qt::LeftButton);
    bench.answer(QStringLiteral("full"));
    QCOMPARE(traced(bench).image, std::string("full.png"));
    QVERIFY(std::abs(area(bench) - 64) < 1e-9);
    // The picture goes away while the scene is closed.
    QVERIFY(bench.window.document().save(bench.window.document().filePath()));
    QVERIFY(QFile::remove(bench.folder.filePath(QStringLiteral("full.png"))));
    QVERIFY(bench.window.openFile(bench.folder.filePath(QStringLiteral("ring.snare.json"))));
    bench.settle();
    bench.selectAndWait("ring");
    QCOMPARE(area(bench), 0.0);
    auto* problem = card->findChild<QLabel*>(QStringLiteral("problem"));
    QVERIFY(problem && problem->text().contains(QStringLiteral("full.png")));
    QVERIFY(bench.window.ground()->pickAt({3, 3}, 3)); // its frame can still be taken
    QCOMPARE(insidersAt(bench.window.stage().record(), 100).size(), std::size_t{0});
}

void TestPictures::aTracedShapeIsAddedFromThePictureAtHand()
{
    Bench bench;
    openRing(bench);
    QTest::mouseClick(slot(bench, "add shape"), Qt::LeftButton);
    bench.answer(QStringLiteral("traced"));
    QCOMPARE(bench.window.document().scene().pieces[0].shapes.size(), std::size_t{2});
    // The first of the pictures beside the scene, in the colour that most of it has.
    QCOMPARE(traced(bench, 1).image, std::string("full.png"));
    QCOMPARE(traced(bench, 1).colour.items.front().code, std::string("#c81e1e"));
    QCOMPARE(traced(bench, 1).size, Vec(2, 2));
}

void TestPictures::aHoleIsNotPickedOnTheGround()
{
    Bench bench;
    openRing(bench);
    bench.window.selection().choosePiece({});
    bench.click({0, 2.6});
    QCOMPARE(bench.window.selection().piece(), std::string("ring"));
    bench.click({0, 0}); // through the hole
    QVERIFY(bench.window.selection().piece().empty());
}

void TestPictures::sizingByHandStretchesThePicture()
{
    Bench bench;
    openRing(bench);
    bench.drag({4, 4}, {6, 6});
    QCOMPARE(traced(bench).size, Vec(10, 10));
    QVERIFY(area(bench) > 3.14159 * 260 * 0.0625 - 1);
    bench.window.document().undoStack()->undo();
    QCOMPARE(traced(bench).size, Vec(8, 8));
}

void TestPictures::heightsAreTypedOnTheCard()
{
    Bench bench;
    openRing(bench);
    QTest::mouseClick(slot(bench, "more"), Qt::LeftButton);
    QVERIFY(slot(bench, "height"));
    QTest::mouseClick(slot(bench, "more"), Qt::LeftButton); // less again
    QVERIFY(!slot(bench, "height"));
    QTest::mouseClick(slot(bench, "more"), Qt::LeftButton);
    QTest::mouseClick(slot(bench, "height"), Qt::LeftButton);
    bench.answer(QStringLiteral("2.5"));
    QCOMPARE(bench.window.document().scene().pieces[0].z, 2.5);
    QVERIFY(!slot(bench, "shape 0 band"));
    bench.window.document().edit(QStringLiteral("a band"), [](scene::Scene& scene) {
        scene.pieces[0].shapes[0].band = {0, 1};
    });
    QTest::qWait(1);
    QTest::mouseClick(slot(bench, "shape 0 band"), Qt::LeftButton);
    bench.answer(QStringLiteral("-0.5, 1.25"));
    QCOMPARE((*bench.window.document().scene().pieces[0].shapes[0].band)[0], -0.5);
    QTest::mouseClick(slot(bench, "shape 0 band"), Qt::LeftButton);
    bench.answer(QString());
    QVERIFY(!bench.window.document().scene().pieces[0].shapes[0].band);
}

void TestPictures::stopsHaveAFirmEdgeInTheLanes()
{
    Bench bench;
    openShoals(bench);
    std::size_t stops = 0;
    std::size_t senses = 0;
    const sim::Record& record = bench.window.stage().record();
    for (const app::Lane& lane : app::lanesOf(record))
        for (const app::LaneBar& bar : lane.bars)
            if (lane.kind == app::LaneKind::meetings && bar.line >= 0) {
                const bool stop =
                    record.journal.lines[static_cast<std::size_t>(bar.line)].manner == world::Manner::stop;
                QCOMPARE(bar.stops, stop);
                ++(stop ? stops : senses);
            }
    QVERIFY(senses > 0);
    QVERIFY(stops > 0);
}

void TestPictures::contactsAndHitsAreShownAtTheCursor()
{
    Bench bench;
    scene::Scene scene;
    scene.pieces = {wall("quay", {0, -2}, {10, 1}), walker("porter", {-1, 0}), wall("post", {4, 0}, {1, 1})};
    scene::Take take;
    press(take, "Down", 0.1, 2);
    press(take, "Right", 0.5, 3);
    take.length = 3;
    const QString path = bench.folder.filePath(QStringLiteral("quay.snare.json"));
    QVERIFY(io::saveText(path.toStdString(), io::sceneText(scene)));
    QVERIFY(io::saveText(app::takePathFor(path).toStdString(), io::takeText(take)));
    QVERIFY(bench.window.openFile(path));
    bench.settle();
    bench.window.stage().setCursor(90);
    const auto contacts = app::contactsAt(bench.window.stage().record(), 90, bench.window.ground()->pieces());
    QCOMPARE(contacts.size(), std::size_t{1});
    QCOMPARE(contacts[0].points.size(), std::size_t{1});
    const Vec foot = bench.placeNow("porter") - Vec{0, 0.4};
    QVERIFY(glm::length(contacts[0].points[0] - foot) < 0.02);
    QVERIFY(glm::length(contacts[0].normal - Vec{0, 1}) < 1e-6); // from the quay to who stands on it
    // A dot in the colour of hits where they touch; none before they do.
    const auto dots = [&](std::int64_t tick) {
        bench.window.stage().setCursor(tick);
        const QImage image = bench.window.ground()->grab().toImage();
        const QPoint at = bench.at(foot);
        int count = 0;
        for (int y = at.y() - 3; y <= at.y() + 3; ++y)
            for (int x = at.x() - 3; x <= at.x() + 3; ++x)
                count += image.pixelColor(x, y) == app::theme().plum ? 1 : 0;
        return count;
    };
    QVERIFY(dots(90) > 10);
    QCOMPARE(dots(2), 0);
    // The moment of the hit says how fast, where, and when exactly.
    const auto& lines = bench.window.stage().record().journal.lines;
    std::int32_t hit = -1;
    for (std::size_t i = 0; i < lines.size() && hit < 0; ++i)
        if (lines[i].kind == rules::LineKind::event && lines[i].event == scene::EventKind::hit)
            hit = static_cast<std::int32_t>(i);
    QVERIFY(hit >= 0);
    bench.window.stage().chooseLine(hit);
    const QString moment = bench.window.findChild<app::MomentPanel*>()->plainText();
    QVERIFY2(moment.contains(QStringLiteral("at 3.00 m/s")), qPrintable(moment));
    QVERIFY(moment.contains(QStringLiteral("tick %1, frac ").arg(lines[static_cast<std::size_t>(hit)].tick)));
    QVERIFY(moment.contains(QStringLiteral("stop, at (")));
}

void TestPictures::aLookThatChangesIsShownAsItIsTraced()
{
    Bench bench;
    openShoals(bench);
    const auto bank = [&](std::int64_t tick) {
        bench.window.stage().setCursor(tick);
        for (const app::ShownPiece& piece : bench.window.ground()->pieces())
            if (piece.piece->id == "chart")
                if (const scene::TracedArea* area =
                        world::shownArea(std::get<scene::Traced>(piece.piece->shapes[0].geometry)))
                    return geometry::areaOf(area->rings);
        return 0.0;
    };
    const double high = bank(1);
    const double low = bank(bench.window.stage().record().lastTick());
    QVERIFY(high > 20 && low > high * 1.4); // more of the banks falls dry
    // What the demo is about happens in it.
    const sim::Record& record = bench.window.stage().record();
    std::set<std::string> sprung;
    for (const rules::Line& line : record.journal.lines)
        if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung)
            sprung.insert(record.snareNameOf(line.snare));
    QCOMPARE(sprung.size(), record.scene->snares.size());
}

/// Outlines are no part of a piece: they must not be taken for unchanged because the piece is.
void TestPictures::anEditElsewhereMayGiveATracedPieceAnotherOutline()
{
    Bench bench;
    openRing(bench);
    app::Document& document = bench.window.document();
    document.edit(QStringLiteral("Trace what it looks like"), [](scene::Scene& scene) {
        scene::Piece& ring = *scene::findPiece(scene, "ring");
        ring.look.image = "ring.png";
        std::get<scene::Traced>(ring.shapes[0].geometry).image.clear();
    });
    const auto outlines = [&] {
        std::vector<std::string> images;
        const scene::Shape& shape = scene::findPiece(document.scene(), "ring")->shapes[0];
        for (const scene::TracedArea& area : *std::get<scene::Traced>(shape.geometry).tracing.areas)
            images.push_back(area.image);
        return images;
    };
    QCOMPARE(outlines(), (std::vector<std::string>{"ring.png"}));
    const scene::Scene before = document.scene();
    document.edit(QStringLiteral("Name it"), [](scene::Scene& scene) { scene.name = "Ring"; });
    QCOMPARE(document.scene().pieces.countShared(before.pieces), before.pieces.size());
    document.edit(QStringLiteral("A look for it"), [](scene::Scene& scene) {
        scene::Look look;
        look.image = "full.png";
        scene::ChangeLook change;
        change.to.held = look;
        scene::Snare& snare = scene.snares.emplace_back();
        snare.id = "fills";
        snare.responses.push_back({change, {}});
    });
    QCOMPARE(outlines(), (std::vector<std::string>{"ring.png", "full.png"}));
    document.undoStack()->undo();
    QCOMPARE(outlines(), (std::vector<std::string>{"ring.png"}));
}

SNARE_WINDOW_TEST_MAIN(TestPictures)
#include "test_pictures.moc"
