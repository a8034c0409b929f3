// SPDX-License-Identifier: Apache-2.0
/// The first scene of the guide, step by step, by mouse and keys from nothing. If a step here changes, so does the guide
/// (docs/guide.md, "A first scene, step by step").
#include "app/model/findings_watch.h"
#include "hands.h"

#include <QAbstractButton>

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
                return QTest::mouseClick(choices->viewport(), Qt::LeftButton, {}, choices->visualItemRect(choices->item(i)).center());
            }
        QFAIL(qPrintable(word));
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
        const auto place = window.timeline()->pointOf("snare " + window.stage().record().snareNameOf(one.snare), one.tick);
        if (!place)
            qFatal("no lane shows it");
        return place->toPoint();
    }
    void clickDiamond(std::int32_t line) { QTest::mouseClick(window.timeline()->viewport(), Qt::LeftButton, {}, diamond(line)); }
};

} // namespace

class TestGuide : public QObject {
    Q_OBJECT

  private slots:
    void aFirstScene();
};

void TestGuide::aFirstScene()
{
    Fixture bench;
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
    document.edit(QStringLiteral("Move it away"), [](scene::Scene& scene) { scene::findPiece(scene, "gangway")->at = {0, 20}; });
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

SNARE_WINDOW_TEST_MAIN(TestGuide)
#include "sim/recorder.h"
#include "test_guide.moc"
