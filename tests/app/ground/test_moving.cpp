// SPDX-License-Identifier: Apache-2.0
/// Movement in the real window: kinds of body, their values, routes drawn on the ground, and what
/// is shown of motion.
#include "app/cards/piece_card.h"
#include "app/ui/theme.h"
#include "window_fixture.h"

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Bench {
    const scene::Piece& piece(const std::string& id) { return *scene::findPiece(window.document().scene(), id); }

    app::SlotButton* slotOf(const QString& name)
    {
        auto* card = window.findChild<app::PieceCard*>();
        return card ? card->findChild<app::SlotButton*>(name) : nullptr;
    }

    void press(const QString& name)
    {
        QTRY_VERIFY(slotOf(name));
        slotOf(name)->click();
    }

    app::Handle handle(app::Handle::Kind kind, std::size_t index)
    {
        for (const app::Handle& one : window.ground()->handles())
            if (one.kind == kind && one.index == index)
                return one;
        qFatal("there is no such handle");
    }
};

} // namespace

class TestMoving : public QObject {
    Q_OBJECT

  private slots:
    void aPieceBecomesDynamicAndGetsItsValuesOnTheCard();
    void aWalkerIsGivenKeysOfItsOwn();
    void aRouteIsGivenBentLengthenedAndShortenedOnTheGround();
    void motionIsShownOnRequest();
};

void TestMoving::aPieceBecomesDynamicAndGetsItsValuesOnTheCard()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("barrel-ramp"));
    const std::string before = bench.text();
    bench.selectAndWait("loft");
    bench.press(QStringLiteral("body"));
    bench.answer(QStringLiteral("dynamic"));
    QVERIFY(std::holds_alternative<scene::DynamicBody>(bench.piece("loft").body));
    bench.press(QStringLiteral("add body"));
    bench.answer(QStringLiteral("mass"));
    bench.answer(QStringLiteral("250"));
    QCOMPARE(std::get<scene::DynamicBody>(bench.piece("loft").body).mass, std::optional(250.0));
    QVERIFY(bench.slotOf(QStringLiteral("body mass"))->text().contains(QStringLiteral("250")));
    // The take is run again: the loft falls.
    bench.settle();
    bench.window.stage().setCursor(5 * 60);
    QTRY_VERIFY(bench.placeNow("loft").y < 1.4);
    bench.window.document().undoStack()->undo();
    bench.window.document().undoStack()->undo();
    QCOMPARE(bench.text(), before);
}

void TestMoving::aWalkerIsGivenKeysOfItsOwn()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("barrel-ramp"));
    bench.selectAndWait("courier");
    bench.press(QStringLiteral("steer"));
    bench.answer(QStringLiteral("j l i k -"));
    const auto& steer = std::get<scene::WalkerBody>(bench.piece("courier").body).steer;
    const auto* keys = std::get_if<scene::KeyLists>(&steer.held);
    QVERIFY(keys);
    QCOMPARE(keys->right, std::vector<std::string>{"l"});
    QVERIFY(keys->jump.empty());
    bench.press(QStringLiteral("body speed"));
    bench.answer(QStringLiteral("4.5"));
    QCOMPARE(std::get<scene::WalkerBody>(bench.piece("courier").body).speed, 4.5);
}

void TestMoving::aRouteIsGivenBentLengthenedAndShortenedOnTheGround()
{
    Fixture bench;
    bench.openDemo();
    bench.selectAndWait("barrow");
    const std::string before = bench.text();
    const scene::Vec home = bench.piece("barrow").at;
    bench.press(QStringLiteral("add body"));
    bench.answer(QStringLiteral("route"));
    const auto route = [&]() -> const scene::Route& {
        return *std::get<scene::KinematicBody>(bench.piece("barrow").body).route;
    };
    QCOMPARE(route().points.size(), std::size_t{2});
    QCOMPARE(route().points[0], home + scene::Vec(3, 0));
    // Its first point is dragged two metres up.
    const QPoint stop = bench.handle(app::Handle::Kind::stop, 0).at.toPoint();
    bench.dragPixels(stop, bench.at(home + scene::Vec{3, 2}), Qt::AltModifier);
    QVERIFY(glm::length(route().points[0] - (home + scene::Vec{3, 2})) < 0.1);
    // The middle of the first leg gives a new point.
    bench.dragPixels(bench.handle(app::Handle::Kind::leg, 0).at.toPoint(), bench.at(home + scene::Vec{0, 2}),
                     Qt::AltModifier);
    QCOMPARE(route().points.size(), std::size_t{3});
    const scene::Vec off = route().points[1] - (home + scene::Vec{0, 2}); // there and back lie over each other
    QVERIFY2(glm::length(off) < 0.1, qPrintable(QStringLiteral("%1, %2 off").arg(off.x).arg(off.y)));
    // The barrow goes there, after the re-run.
    bench.settle();
    bench.window.stage().setCursor(60);
    QTRY_VERIFY(bench.placeNow("barrow").y > home.y + 0.4);
    bench.window.stage().setCursor(0);
    // A chosen point is deleted.
    QTest::mouseClick(bench.window.ground(), Qt::LeftButton, {}, bench.handle(app::Handle::Kind::stop, 0).at.toPoint());
    bench.key(Qt::Key_Delete);
    QCOMPARE(route().points.size(), std::size_t{2});
    bench.press(QStringLiteral("route loop"));
    bench.answer(QStringLiteral("back"));
    QCOMPARE(route().loop, scene::Loop::back);
    while (bench.text() != before && bench.window.document().undoStack()->canUndo())
        bench.window.document().undoStack()->undo();
    QCOMPARE(bench.text(), before);
}

/// Something blue is drawn where a cask rolls, and only when motion is asked for.
void TestMoving::motionIsShownOnRequest()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("barrel-ramp"));
    bench.window.stage().setCursor(4 * 60);
    bench.layOut();
    const QImage plain = bench.window.ground()->grab().toImage();
    bench.window.ground()->options().motion = false;
    bench.key(Qt::Key_W, Qt::ShiftModifier);
    QVERIFY(bench.window.ground()->options().motion);
    const QImage shown = bench.window.ground()->grab().toImage();
    const auto blueIn = [](const QImage& image) {
        int count = 0;
        const QColor blue = app::theme().blue;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x)
                if (image.pixelColor(x, y) == blue)
                    ++count;
        return count;
    };
    QVERIFY2(blueIn(shown) > blueIn(plain) + 10, qPrintable(QString::number(blueIn(shown) - blueIn(plain))));
}

SNARE_WINDOW_TEST_MAIN(TestMoving)
#include "test_moving.moc"
