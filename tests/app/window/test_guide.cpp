// SPDX-License-Identifier: Apache-2.0
/// The scene of the guide, step by step, by mouse and keys from nothing. If a step here changes, so
/// does the guide (docs/guide.md, "A first scene, step by step", and "In our scene" at the head of
/// chapters).
#include "app/model/findings_watch.h"
#include "app/window/scout_window.h"
#include "hands.h"

#include <QAbstractButton>
#include <QListWidget>
#include <QPushButton>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    void choose(const char* list, const QString& word)
    {
        QWidget* popup = nullptr;
        QTRY_VERIFY((popup = window.findChild<QWidget*>(QStringLiteral("threadPopup"))));
        auto* choices = popup->findChild<QListWidget*>(QLatin1String(list));
        for (int i = 0; i < choices->count(); ++i)
            if (choices->item(i)->data(Qt::UserRole).toString() == word) {
                choices->scrollToItem(choices->item(i));
                return QTest::mouseClick(choices->viewport(), Qt::LeftButton, {},
                                         choices->visualItemRect(choices->item(i)).center());
            }
        QFAIL(qPrintable(word));
    }
    /// Opens a slot of a snare's card and answers what it asks, one after another.
    void set(const QString& snare, const QString& name, const QStringList& answers)
    {
        layOut();
        QTRY_VERIFY2(slot(snare, name), qPrintable(name));
        QTest::mouseClick(slot(snare, name), Qt::LeftButton);
        for (const QString& one : answers) {
            answer(one);
            layOut();
        }
        settle();
    }
    /// Drags a response by its number to the place of another.
    void dragResponse(const QString& snare, int from, int to)
    {
        layOut();
        QWidget* number = slot(snare, QStringLiteral("response %1").arg(from));
        QWidget* there = slot(snare, QStringLiteral("response %1").arg(to));
        QVERIFY(number && there);
        const QPoint start = number->rect().center();
        QTest::mousePress(number, Qt::LeftButton, {}, start);
        const QPoint end = number->mapFromGlobal(there->mapToGlobal(there->rect().center() - QPoint{0, 6}));
        for (int i = 1; i <= 4; ++i) {
            const QPointF point = QPointF{start} + QPointF{end - start} * i / 4.0;
            QMouseEvent move{QEvent::MouseMove, point, number->mapToGlobal(point), Qt::NoButton, Qt::LeftButton, {}};
            QApplication::sendEvent(number, &move);
        }
        QTest::mouseRelease(number, Qt::LeftButton, {}, end);
        settle();
    }
    /// Whether the run shows these words somewhen.
    bool said(const QString& words)
    {
        return QString::fromStdString(io::logText(window.stage().record())).contains(words);
    }
    template <class There> void holdUntil(Qt::Key key, There&& there)
    {
        QTest::keyPress(window.ground(), key);
        QTRY_VERIFY_WITH_TIMEOUT(there(placeNow("courier").x), 20000);
        QTest::keyRelease(window.ground(), key);
    }
    /// The lines of a snare's outcomes, in order.
    std::vector<std::int32_t> outcomes(rules::Outcome outcome)
    {
        std::vector<std::int32_t> found;
        const auto& lines = window.stage().record().journal.lines;
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (lines[i].kind == rules::LineKind::snare && lines[i].outcome == outcome)
                found.push_back(static_cast<std::int32_t>(i));
        return found;
    }
    QPoint diamond(std::int32_t line)
    {
        const auto& one = window.stage().record().journal.lines[static_cast<std::size_t>(line)];
        const auto place =
            window.timeline()->pointOf("snare " + window.stage().record().snareNameOf(one.snare), one.tick);
        if (!place)
            qFatal("no lane shows it");
        return place->toPoint();
    }
    void clickDiamond(std::int32_t line)
    {
        QTest::mouseClick(window.timeline()->viewport(), Qt::LeftButton, {}, diamond(line));
    }
};

} // namespace

class TestGuide : public QObject {
    Q_OBJECT

  private slots:
    void theSceneGrows();

  private:
    void aFirstScene(Fixture& bench);
    void itGrows(Fixture& bench);
    void itIsLookedOver(Fixture& bench);
};

void TestGuide::theSceneGrows()
{
    Fixture bench;
    aFirstScene(bench);
    if (!QTest::currentTestFailed())
        itGrows(bench);
    if (!QTest::currentTestFailed())
        itIsLookedOver(bench);
}

void TestGuide::aFirstScene(Fixture& bench)
{
    app::Document& document = bench.window.document();
    // 1. Begin
    bench.key(Qt::Key_N, Qt::ControlModifier);
    QTRY_VERIFY(bench.window.findChild<QAbstractButton*>(QStringLiteral("fromAbove")));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_A);
    QVERIFY(bench.scene().view == scene::View::plan);
    // 2. Lay
    bench.order(QStringLiteral("Walker"));
    bench.click({-3, 0});
    bench.key(Qt::Key_F2);
    bench.answer(QStringLiteral("courier"));
    // 3. Zone
    bench.draw(Qt::Key_Z, {0, -1}, {2, 1});
    bench.key(Qt::Key_F2);
    bench.answer(QStringLiteral("gangway"));
    QCOMPARE(bench.last().id, "gangway");
    QVERIFY(bench.last().shapes[0].role == scene::Role::zone);
    // 4. Bind
    bench.key(Qt::Key_T);
    bench.drag({1, 0}, bench.placeNow("courier"));
    bench.choose("threadEvents", QStringLiteral("enter"));
    bench.choose("threadResponses", QStringLiteral("say"));
    bench.answer(QStringLiteral("Ahoy"));
    bench.key(Qt::Key_V);
    QCOMPARE(bench.scene().snares.size(), 1u);
    const std::string snare = bench.scene().snares.back().id;
    // 5. Play
    bench.key(Qt::Key_R);
    bench.holdUntil(Qt::Key_Right, [](double x) { return x > 0.5; });
    bench.holdUntil(Qt::Key_Left, [](double x) { return x < -1; });
    bench.holdUntil(Qt::Key_Right, [](double x) { return x > 0.5; });
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    bench.settle();
    QVERIFY(document.hasTake());
    QCOMPARE(bench.outcomes(rules::Outcome::sprung).size(), 2u);
    // 6. Why
    bench.clickDiamond(bench.outcomes(rules::Outcome::sprung).front());
    QVERIFY(bench.window.moment()->plainText().contains(QString::fromStdString(snare) + QStringLiteral(" sprang")));
    // 7. Narrow and gate
    bench.selectAndWait("gangway");
    QTRY_VERIFY(bench.slot(QString::fromStdString(snare), QStringLiteral("add condition")));
    QTest::mouseClick(bench.slot(QString::fromStdString(snare), QStringLiteral("add condition")), Qt::LeftButton);
    bench.answer(QStringLiteral("once"));
    bench.answer(QStringLiteral("1"));
    bench.settle();
    QCOMPARE(bench.outcomes(rules::Outcome::sprung).size(), 1u);
    QCOMPARE(bench.outcomes(rules::Outcome::slipped).size(), 1u);
    bench.clickDiamond(bench.outcomes(rules::Outcome::slipped).front());
    QVERIFY(bench.window.moment()->plainText().contains(QStringLiteral("slipped at gate")));
    // 8. Reuse
    bench.selectAndWait("gangway");
    bench.order(QStringLiteral("Make a template"));
    const std::string form = scene::findPiece(bench.scene(), "gangway")->templateName;
    QVERIFY(!form.empty());
    bench.key(Qt::Key_B);
    bench.click({1, -4});
    bench.key(Qt::Key_V);
    QCOMPARE(bench.scene().pieces.size(), 3u);
    bench.selectAndWait("gangway");
    auto* more = bench.slot(QString::fromStdString(snare), QStringLiteral("more"));
    QVERIFY(more);
    QTest::mouseClick(more, Qt::LeftButton);
    bench.chooseInMenu(QStringLiteral("One for a tag, group or template…"));
    bench.answer(QString::fromStdString("template:" + form));
    QCOMPARE(bench.scene().snares.back().catches.at, "template:" + form);
    bench.settle();
    QCOMPARE(bench.outcomes(rules::Outcome::sprung).size(), 1u);
    // 9. Keep it right
    bench.layOut();
    const QPoint at = bench.diamond(bench.outcomes(rules::Outcome::sprung).front());
    QWidget* lanes = bench.window.timeline()->viewport();
    QContextMenuEvent menu{QContextMenuEvent::Mouse, at, lanes->mapToGlobal(at)};
    QApplication::sendEvent(lanes, &menu);
    bench.chooseInMenu(QStringLiteral("Expect: must come"));
    bench.settle();
    QCOMPARE(document.take().expect.size(), 1u);
    QVERIFY(bench.window.stage().judgement().passed());
    // An edit that breaks it is seen.
    document.edit(QStringLiteral("Move it away"), [](scene::Scene& scene) {
        scene::findPiece(scene, "gangway")->at = {0, 20};
    });
    bench.settle();
    QVERIFY(!bench.window.stage().judgement().passed());
    document.undoStack()->undo();
    bench.settle();
    // 10. Look it over
    QTRY_VERIFY(document.findings().isFresh());
    QCOMPARE(document.findings().open(), 0u);
    QVERIFY(document.save(bench.folder.filePath(QStringLiteral("first.snare.json"))));
    QVERIFY(QFile::exists(bench.folder.filePath(QStringLiteral("first.take.json"))));
}

/// Lay, Looks, How pieces move, Bind, Play.
void TestGuide::itGrows(Fixture& bench)
{
    const QString snare = QString::fromStdString(bench.scene().snares.back().id);
    // Lay
    bench.draw(Qt::Key_S, {-5, -4}, {-4, -3});
    bench.key(Qt::Key_F2);
    bench.answer(QStringLiteral("crate"));
    QCOMPARE(bench.last().id, "crate");
    // Looks
    bench.press(QStringLiteral("add look"));
    bench.answer(QStringLiteral("colour"));
    bench.answer(QStringLiteral("ochre"));
    QVERIFY(!bench.last().look.colour.code.empty());
    // How pieces move
    bench.fill(QStringLiteral("body"), QStringLiteral("dynamic"));
    QVERIFY(std::holds_alternative<scene::DynamicBody>(bench.last().body));
    // Bind
    bench.selectAndWait("gangway");
    bench.set(snare, QStringLiteral("add response"), {QStringLiteral("add"), QStringLiteral("greeted")});
    bench.dragResponse(snare, 2, 1);
    QVERIFY(std::holds_alternative<scene::Add>(bench.scene().snares.back().responses.front().kind));
    bench.set(snare, QStringLiteral("2 text"), {QStringLiteral("Ahoy {self.greeted}")});
    bench.settle();
    QVERIFY(bench.said(QStringLiteral("Ahoy 1")));
    // Play
    const double before = scene::lengthOf(bench.window.document().take());
    bench.key(Qt::Key_End);
    bench.key(Qt::Key_R, Qt::ShiftModifier);
    bench.holdUntil(Qt::Key_Left, [](double x) { return x < -1.5; });
    QTest::keyClick(bench.window.ground(), Qt::Key_Escape);
    bench.settle();
    QVERIFY(scene::lengthOf(bench.window.document().take()) > before);
    QVERIFY(bench.said(QStringLiteral("Ahoy 1")));
    QVERIFY(bench.window.stage().judgement().passed());
}

/// Names, Findings, Versions.
void TestGuide::itIsLookedOver(Fixture& bench)
{
    app::Document& document = bench.window.document();
    const QString snare = QString::fromStdString(bench.scene().snares.back().id);
    // Names
    bench.selectAndWait("crate");
    bench.fill(QStringLiteral("name"), QStringLiteral("barrel"));
    QCOMPARE(bench.last().id, "barrel");
    QVERIFY(document.save(document.filePath()));
    // Findings
    QTRY_VERIFY(document.findings().isFresh());
    QCOMPARE(document.findings().open(), 0u);
    bench.selectAndWait("gangway");
    bench.set(snare, QStringLiteral("add condition"),
              {QStringLiteral("the visitor has a tag"), QStringLiteral("mate")});
    QTRY_VERIFY(document.findings().isFresh() && document.findings().open() == 1u);
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QTRY_VERIFY(document.findings().isFresh() && document.findings().open() == 0u);
    QVERIFY(!document.isDirty());
    // Let the bench play
    bench.order(QStringLiteral("Scout…"));
    auto* scout = bench.window.findChild<app::ScoutWindow*>();
    QVERIFY(scout);
    QTest::mouseClick(scout->findChild<QPushButton*>(QStringLiteral("scoutStart")), Qt::LeftButton);
    auto* found = scout->findChild<QListWidget*>(QStringLiteral("scoutList"));
    QTRY_VERIFY_WITH_TIMEOUT(!found->findItems(snare + QStringLiteral(": first at"), Qt::MatchStartsWith).isEmpty(),
                             120000);
    found->setCurrentItem(found->findItems(snare + QStringLiteral(": first at"), Qt::MatchStartsWith).front());
    QTest::mouseClick(scout->findChild<QPushButton*>(QStringLiteral("scoutKeep")), Qt::LeftButton);
    QCOMPARE(document.takes().size(), std::size_t{2});
    bench.settle();
    QVERIFY(bench.said(QStringLiteral("Ahoy 1")));
    scout->close();
    bench.key(Qt::Key_Z, Qt::ControlModifier);
    QTRY_VERIFY(!document.isDirty());
    // Versions
    bench.drag(bench.placeNow("barrel"), {-6, -4});
    bench.settle();
    bench.order(QStringLiteral("The saved state"));
    QTRY_VERIFY(bench.window.findChild<QListWidget*>(QStringLiteral("comparingList")));
    auto* list = bench.window.findChild<QListWidget*>(QStringLiteral("comparingList"));
    const auto texts = [&] {
        QStringList all;
        for (int row = 0; row < list->count(); ++row)
            all << list->item(row)->text();
        return all;
    };
    QTRY_VERIFY(texts().contains(QStringLiteral("Piece barrel")) ||
                !texts().filter(QStringLiteral("barrel")).isEmpty());
    QVERIFY(!texts().filter(QRegularExpression{QStringLiteral("^\\+ .*at -6, -4")}).isEmpty());
}

SNARE_WINDOW_TEST_MAIN(TestGuide)
#include "sim/recorder.h"
#include "test_guide.moc"
