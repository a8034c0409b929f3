// SPDX-License-Identifier: Apache-2.0
/// Reuse by hand: templates and assemblies with their models, kits, routines with parameters, what
/// is laid as one.
#include "app/cards/stock_panel.h"
#include "app/timeline/lanes.h"
#include "app/timeline/ledger_view.h"
#include "app/ui/text.h"
#include "hands.h"
#include "io/document.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/templates.h"

#include <QTableView>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    QListWidget* list() { return window.findChild<QListWidget*>(QStringLiteral("stockList")); }
    app::Document& document() { return window.document(); }

    void openStock()
    {
        order(QStringLiteral("Show Stock"));
        QTRY_VERIFY(list()->isVisible());
        layOut();
    }
    /// The row that reads so: "ring: template · 4 pieces follow it".
    int rowOf(const QString& name)
    {
        for (int row = 0; row < list()->count(); ++row)
            if (list()->item(row)->data(Qt::UserRole).toString() == name)
                return row;
        return -1;
    }
    QString detailOf(const QString& name)
    {
        const int row = rowOf(name);
        return row < 0 ? QString() : list()->item(row)->data(Qt::UserRole + 1).toString();
    }
    void choose(const QString& name)
    {
        QTRY_VERIFY2(rowOf(name) >= 0, qPrintable(name));
        const QRect row = list()->visualItemRect(list()->item(rowOf(name)));
        QTest::mouseClick(list()->viewport(), Qt::LeftButton, {}, row.center());
    }
    /// Takes an entry of the menu of a row.
    void more(const QString& name, const QString& entry)
    {
        choose(name);
        QTest::mouseClick(window.findChild<QToolButton*>(QStringLiteral("stockMore")), Qt::LeftButton);
        chooseInMenu(entry);
    }
    void undo() { document().undoStack()->undo(); }
};

} // namespace

class TestStock : public QObject {
    Q_OBJECT

  private slots:
    void templatesAreSeenChangedAndTakenAway();
    void aPieceJoinsATemplateAndLeavesIt();
    void aKitIsMadeFilledAndSaved();
    void whatAnotherSceneUsesIsSaid();
    void aRoutineTakesValues();
    void snaresOfAKitHaveCards();
    void anAssemblyIsChangedWithoutALaidOne();
    void whatIsLaidIsRenamedAndGivenBack();
    void lanesFoldByWhatIsLaid();
};

/// From an empty scene: a template of a piece, its card, a change that its pieces follow, another
/// name, and away.
void TestStock::templatesAreSeenChangedAndTakenAway()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-2, -1}, {0, 1});
    const std::string id = bench.last().id;
    bench.order(QStringLiteral("Make a template"));
    QVERIFY(!bench.scene().templates.empty());
    const QString name = app::toText(bench.scene().templates.entries[0].first);
    bench.key(Qt::Key_V);
    bench.openStock();
    QVERIFY(bench.detailOf(name).contains(QStringLiteral("1 piece")));
    QVERIFY(!bench.list()->item(bench.rowOf(name))->data(Qt::UserRole + 2).value<QPixmap>().isNull());
    // Return opens its card: what is changed there, all that follow it take over.
    bench.choose(name);
    QTest::keyClick(bench.list(), Qt::Key_Return);
    QTRY_COMPARE(bench.window.selection().model(), "template:" + name.toStdString());
    bench.fill(QStringLiteral("group"), QStringLiteral("quay"));
    QCOMPARE(scene::findPiece(bench.scene(), id)->group, std::string("quay"));
    QCOMPARE(bench.scene().templates.entries[0].second.model.group, std::string("quay"));
    bench.fill(QStringLiteral("name"), QStringLiteral("bollard"));
    QCOMPARE(bench.window.selection().model(), std::string("template:bollard"));
    QCOMPARE(scene::findPiece(bench.scene(), id)->templateName, std::string("bollard"));
    // By F2 in the list, too.
    bench.openStock();
    bench.choose(QStringLiteral("bollard"));
    QTest::keyClick(bench.list(), Qt::Key_F2);
    bench.answer(QStringLiteral("post"));
    QTRY_VERIFY(bench.rowOf(QStringLiteral("post")) >= 0);
    // Before it goes, it is said who follows it; they keep what they have.
    bench.choose(QStringLiteral("post"));
    QTest::keyClick(bench.list(), Qt::Key_Delete);
    QTRY_VERIFY(bench.popup());
    QVERIFY(bench.popup()->findChild<QLabel*>()->text().contains(QStringLiteral("1 piece")));
    bench.answer(QStringLiteral("Remove"));
    QTRY_VERIFY(bench.scene().templates.empty());
    QVERIFY(scene::findPiece(bench.scene(), id)->templateName.empty());
    QCOMPARE(scene::findPiece(bench.scene(), id)->group, std::string("quay"));
    bench.undo();
    QVERIFY(bench.scene().templates.find("post"));
}

void TestStock::aPieceJoinsATemplateAndLeavesIt()
{
    Fixture bench;
    bench.draw(Qt::Key_S, {-3, -1}, {-1, 1});
    const std::string first = bench.last().id;
    bench.order(QStringLiteral("Make a template"));
    bench.key(Qt::Key_V);
    bench.draw(Qt::Key_S, {1, -2}, {5, 2});
    const std::string second = bench.last().id;
    const std::string form = bench.scene().templates.entries[0].first;
    QVERIFY(bench.last().templateName.empty());
    bench.layOut();
    bench.fill(QStringLiteral("follow"), app::toText(form));
    const scene::Piece* joined = scene::findPiece(bench.scene(), second);
    QCOMPARE(joined->templateName, form);
    QVERIFY(std::get<scene::Box>(joined->shapes[0].geometry).size == (scene::Vec{4, 4})); // its own
    bench.undo();
    QVERIFY(scene::findPiece(bench.scene(), second)->templateName.empty());
    // From the stock, for what is chosen.
    bench.openStock();
    bench.more(app::toText(form), QStringLiteral("Let %1 follow it").arg(app::toText(second)));
    QTRY_COMPARE(scene::followersOf(bench.scene(), form).size(), std::size_t{2});
    QTRY_VERIFY(bench.detailOf(app::toText(form)).contains(QStringLiteral("2 pieces")));
    bench.more(app::toText(form), QStringLiteral("Choose all that follow it"));
    QTRY_COMPARE(bench.window.selection().pieces(), (std::vector<std::string>{first, second}));
}

/// A kit from nothing: named, a template moved there, changed there, saved, and back.
void TestStock::aKitIsMadeFilledAndSaved()
{
    Fixture bench;
    bench.openDemo();
    bench.selectAndWait("barrow");
    bench.order(QStringLiteral("Make a template"));
    bench.key(Qt::Key_V);
    bench.openStock();
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("stockKit")), Qt::LeftButton);
    bench.answer(QStringLiteral("quay.kit.json"));
    QTRY_COMPARE(bench.scene().kits, std::vector<std::string>{"quay.kit.json"});
    QVERIFY(bench.detailOf(QStringLiteral("quay.kit.json")).contains(QStringLiteral("not saved")));
    bench.more(QStringLiteral("barrow"), QStringLiteral("Move to a kit file…"));
    bench.answer(QStringLiteral("quay.kit.json"));
    QTRY_VERIFY(scene::templateIn(bench.scene(), "quay.kit.json", "barrow"));
    QVERIFY(bench.scene().templates.empty());
    // Its card says where it stands; a change there reaches the piece.
    bench.choose(QStringLiteral("barrow"));
    QTest::mouseClick(bench.window.findChild<QToolButton*>(QStringLiteral("stockOpen")), Qt::LeftButton);
    QTRY_COMPARE(bench.window.selection().model(), std::string("template:barrow"));
    bench.fill(QStringLiteral("tags"), QStringLiteral("cart"));
    QCOMPARE(scene::findPiece(bench.scene(), "barrow")->tags, std::vector<std::string>{"cart"});
    const QString file = bench.folder.filePath(QStringLiteral("quay.kit.json"));
    QVERIFY(!QFile::exists(file));
    QVERIFY(bench.document().save(bench.document().filePath()));
    QVERIFY(QFile::exists(file));
    QVERIFY(!bench.document().isDirty());
    // Opened again it is the same.
    const std::string text = io::sceneText(bench.scene());
    QVERIFY(bench.window.openFile(bench.document().filePath()));
    QCOMPARE(io::sceneText(bench.scene()), text);
    QCOMPARE(scene::findPiece(bench.scene(), "barrow")->tags, std::vector<std::string>{"cart"});
    bench.openStock();
    bench.more(QStringLiteral("barrow"), QStringLiteral("Copy into the scene"));
    QTRY_VERIFY(bench.scene().templates.find("barrow"));
    QVERIFY(scene::templateIn(bench.scene(), "quay.kit.json", "barrow"));
    bench.undo();
    bench.more(QStringLiteral("quay.kit.json"), QStringLiteral("What checks its file…"));
    bench.answer(QStringLiteral("../kit.schema.json"));
    QTRY_COMPARE(scene::findKit(bench.scene(), "quay.kit.json")->kit.schema, std::string("../kit.schema.json"));
    bench.more(QStringLiteral("quay.kit.json"), QStringLiteral("Take quay.kit.json off the scene"));
    QTRY_VERIFY(bench.scene().kits.empty());
    QVERIFY(!scene::findPiece(bench.scene(), "barrow")->shapes.empty());
}

void TestStock::whatAnotherSceneUsesIsSaid()
{
    Fixture bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    for (const char* name : {"night", "winter"})
        QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/berths.snare.json"),
                    bench.folder.filePath(QLatin1String(name) + QStringLiteral(".snare.json")));
    bench.openDemo(QStringLiteral("berths"));
    bench.openStock();
    QTRY_VERIFY(
        bench.detailOf(QStringLiteral("harbour.kit.json")).contains(QStringLiteral("night, winter use it too")));
    bench.choose(QStringLiteral("ring"));
    QTest::keyClick(bench.list(), Qt::Key_Delete);
    QTRY_VERIFY(bench.popup());
    QVERIFY(bench.popup()->findChild<QLabel*>()->text().contains(QStringLiteral("night, winter will lack it")));
    bench.answer(QStringLiteral("Keep"));
    QVERIFY(scene::findTemplate(bench.scene(), "ring"));
}

/// A routine says what it takes; where it is run, that is shown and can be given.
void TestStock::aRoutineTakesValues()
{
    Fixture bench;
    bench.openDemo();
    bench.document().edit(QStringLiteral("routine"), [](scene::Scene& scene) {
        scene.routines.set("tell", scene::Routine{{}, {{scene::Note{{"{with.who} has come"}}, {}}}});
        scene::findSnare(scene, "greet")->responses = {{scene::RunRoutine{"tell", {}, false}, {}}};
    });
    bench.order(QStringLiteral("Show Book"));
    auto* book = bench.window.findChild<app::BookPanel*>()->cards();
    QTRY_VERIFY(book->card("routine:tell"));
    book->bringUp("routine:tell");
    bench.layOut();
    const auto press = [&](const QString& name) {
        auto* button = book->card("routine:tell")->findChild<app::SlotButton*>(name);
        QVERIFY2(button, qPrintable(name));
        QTest::mouseClick(button, Qt::LeftButton);
    };
    press(QStringLiteral("add parameter"));
    bench.answer(QStringLiteral("who = somebody"));
    QCOMPARE(*bench.scene().routines.find("tell")->with.find("who"), scene::Scalar{std::string("somebody")});
    bench.settle();
    const auto notes = [&] {
        std::set<std::string> texts;
        const rules::Journal& journal = bench.window.stage().record().journal;
        for (const rules::Line& line : journal.lines)
            if (line.kind == rules::LineKind::note)
                texts.emplace(journal.textOf(line));
        return texts;
    };
    QVERIFY(notes().contains("somebody has come"));
    // Where it is run, it stands ready to be changed.
    bench.selectAndWait("scale");
    QTRY_VERIFY(bench.slot(QStringLiteral("greet"), QStringLiteral("1 with")));
    QCOMPARE(bench.slot(QStringLiteral("greet"), QStringLiteral("1 with"))->text(), QStringLiteral("who = somebody"));
    const std::string before = bench.text();
    QTest::mouseClick(bench.slot(QStringLiteral("greet"), QStringLiteral("1 with")), Qt::LeftButton);
    QTRY_VERIFY(bench.popup());
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Return); // opened and confirmed: nothing changes
    QTRY_VERIFY(!bench.popup());
    QCOMPARE(bench.text(), before);
    QTest::mouseClick(bench.slot(QStringLiteral("greet"), QStringLiteral("1 with")), Qt::LeftButton);
    bench.answer(QStringLiteral("who = visitor.id"));
    bench.settle();
    QVERIFY(notes().contains("courier has come"));
    // Another name is followed in the routine and where it is given.
    bench.order(QStringLiteral("Show Book"));
    bench.layOut();
    press(QStringLiteral("parameter who"));
    bench.answer(QStringLiteral("name = somebody"));
    bench.settle();
    QVERIFY(notes().contains("courier has come"));
    QVERIFY(std::get<scene::RunRoutine>(scene::findSnare(bench.scene(), "greet")->responses[0].kind).with.find("name"));
    bench.layOut();
    press(QStringLiteral("parameter name"));
    bench.answer(QString());
    QVERIFY(bench.scene().routines.find("tell")->with.empty());
}

/// A kit's snare listens at a piece: its card is there, its responses can be changed, its lane
/// leads to it.
void TestStock::snaresOfAKitHaveCards()
{
    Fixture bench;
    QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/harbour.kit.json"),
                bench.folder.filePath(QStringLiteral("harbour.kit.json")));
    bench.openDemo(QStringLiteral("berths"));
    bench.selectAndWait("ring-1");
    auto* here = bench.window.findChild<app::HerePanel*>()->cards();
    const std::string id = "harbour.kit.json>ring-prompts";
    QTRY_VERIFY(here->card(id));
    here->card(id)->ensureBuilt();
    bench.layOut();
    QTRY_VERIFY(here->card(id)->findChild<app::SlotButton*>(QStringLiteral("note")));
    QTest::mouseClick(here->card(id)->findChild<app::SlotButton*>(QStringLiteral("note")), Qt::LeftButton);
    bench.answer(QStringLiteral("for every ring"));
    QCOMPARE(scene::snareIn(bench.scene(), "harbour.kit.json", "ring-prompts")->note, std::string("for every ring"));
    QCOMPARE(bench.document().editedKits().size(), std::size_t{1});
    // A lane, the moment or a thread name it as the run does.
    bench.window.selection().clear();
    emit bench.window.findChild<app::TimelineView*>()->snareChosen(QStringLiteral("ring-prompts"));
    QTRY_VERIFY(here->card(id) && here->card(id)->isVisible());
    // Another name; it stays the chosen one.
    QTest::mouseClick(here->card(id)->findChild<app::SlotButton*>(QStringLiteral("name")), Qt::LeftButton);
    bench.answer(QStringLiteral("offer-line"));
    QTRY_VERIFY(scene::snareIn(bench.scene(), "harbour.kit.json", "offer-line"));
    QCOMPARE(bench.window.selection().snare(), std::string("offer-line"));
    // Deleted by the key as the scene's own are.
    bench.window.ground()->setFocus();
    bench.key(Qt::Key_Delete);
    QTRY_VERIFY(!scene::snareIn(bench.scene(), "harbour.kit.json", "offer-line"));
}

/// The card of a part changes it in every laid one; a part has another name; the pieces that are
/// there are taken in.
void TestStock::anAssemblyIsChangedWithoutALaidOne()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("locks"));
    const std::size_t before = bench.scene().assemblies.find("lock")->pieces.size();
    bench.openStock();
    QVERIFY(bench.detailOf(QStringLiteral("lock")).contains(QStringLiteral("3 laid")));
    bench.choose(QStringLiteral("lock"));
    QTest::keyClick(bench.list(), Qt::Key_Return);
    QTRY_VERIFY(bench.window.selection().model().starts_with("part:lock."));
    const std::string part = bench.window.selection().model().substr(10);
    bench.fill(QStringLiteral("tags"), QStringLiteral("lock-part"));
    for (const scene::Laid& laid : bench.scene().laid)
        QCOMPARE(scene::findPiece(bench.scene(), laid.id + "." + part)->tags, std::vector<std::string>{"lock-part"});
    bench.fill(QStringLiteral("name"), QStringLiteral("first-part"));
    QVERIFY(scene::findPiece(bench.scene(), bench.scene().laid[0].id + ".first-part"));
    // A plain piece beside one of them belongs to all of them.
    const std::string laid = bench.scene().laid[0].id;
    std::vector<std::string> chosen{bench.scene().pieces.end()[-1].id};
    for (const scene::Piece& piece : bench.scene().pieces)
        if (!piece.partOf)
            chosen = {piece.id};
    const std::string plain = chosen[0];
    chosen.push_back(laid + ".first-part");
    bench.window.selection().choosePieces(chosen);
    bench.order(QStringLiteral("Take the pieces into the assembly"));
    QCOMPARE(bench.scene().assemblies.find("lock")->pieces.size(), before + 1);
    for (const scene::Laid& one : bench.scene().laid)
        QVERIFY(scene::findPiece(bench.scene(), one.id + "." + plain));
    bench.undo();
    QVERIFY(scene::findPiece(bench.scene(), plain));
}

void TestStock::whatIsLaidIsRenamedAndGivenBack()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("locks"));
    const std::string laid = bench.scene().laid[0].id;
    const std::string part = bench.scene().assemblies.find("lock")->pieces[0].id;
    bench.window.selection().choosePiece(laid + "." + part);
    bench.layOut();
    bench.fill(QStringLiteral("tags"), QStringLiteral("painted"));
    bench.layOut();
    QVERIFY(bench.cardSlot(QStringLiteral("own")));
    QVERIFY(bench.cardSlot(QStringLiteral("own"))->text().contains(QStringLiteral("tags")));
    bench.fill(QStringLiteral("own"), QStringLiteral("tags"));
    QCOMPARE(scene::findPiece(bench.scene(), laid + "." + part)->tags,
             bench.scene().assemblies.find("lock")->pieces[0].tags);
    bench.layOut();
    bench.press(QStringLiteral("laid"));
    bench.answer(QStringLiteral("Rename it"));
    bench.answer(QStringLiteral("west-lock"));
    QTRY_VERIFY(scene::findLaid(bench.scene(), "west-lock"));
    QVERIFY(scene::findPiece(bench.scene(), "west-lock." + part));
    QVERIFY(bench.window.selection().has("west-lock." + part));
    // What is wired within is drawn while it is chosen.
    bench.settle();
    const auto threads = bench.window.ground()->threads();
    QVERIFY(std::ranges::any_of(threads, [&](const app::DrawnThread& thread) {
        return bench.scene().pieces[thread.from].id.starts_with("west-lock.") &&
               bench.scene().pieces[thread.to].id.starts_with("west-lock.");
    }));
    // Copied whole, it is laid again.
    const std::size_t count = bench.scene().laid.size();
    bench.order(QStringLiteral("Copy"));
    bench.order(QStringLiteral("Paste"));
    QTRY_COMPARE(bench.scene().laid.size(), count + 1);
}

void TestStock::lanesFoldByWhatIsLaid()
{
    Fixture bench;
    bench.openDemo(QStringLiteral("locks"));
    auto* timeline = bench.window.findChild<app::TimelineView*>();
    const std::string laid = bench.scene().laid[0].id;
    const auto shown = [&](const std::string& key) {
        const auto keys = timeline->shownLanes();
        return std::ranges::find(keys, key) != keys.end();
    };
    const auto ofParts = [&] {
        std::size_t count = 0;
        for (const app::Lane& lane : timeline->lanes())
            count += lane.piece.starts_with(laid + ".") && shown(lane.key) ? 1 : 0;
        return count;
    };
    bench.window.selection().clear();
    QTRY_VERIFY(shown("laid:" + laid));
    QCOMPARE(ofParts(), std::size_t{0});
    // Its one lane tells when anything was met there; a click at its mark opens it.
    const auto point = timeline->pointOf("laid:" + laid, 0);
    QVERIFY(point);
    QTest::mouseClick(timeline->viewport(), Qt::LeftButton, {}, QPoint{10, static_cast<int>(point->y())});
    QTRY_VERIFY(ofParts() > 0);
    QTest::mouseClick(timeline->viewport(), Qt::LeftButton, {}, QPoint{10, static_cast<int>(point->y())});
    QTRY_COMPARE(ofParts(), std::size_t{0});
    // A part that is chosen shows its lanes.
    bench.window.selection().choosePiece(laid + "." + bench.scene().assemblies.find("lock")->pieces[0].id);
    QTRY_VERIFY(ofParts() > 0);
    // So does the ledger: none of their parts, or those of one alone.
    bench.order(QStringLiteral("Show Ledger"));
    auto* ledger = bench.window.findChild<app::LedgerView*>();
    auto* table = ledger->findChild<QTableView*>();
    QTRY_VERIFY(table->isVisible() && table->model()->rowCount() > 0);
    const auto places = [&] {
        std::set<QString> found;
        for (int row = 0; row < table->model()->rowCount(); ++row)
            found.insert(
                table->model()->index(row, app::LedgerModel::at).data().toString().section(QLatin1Char('.'), 0, 0));
        return found;
    };
    const int all = table->model()->rowCount();
    QVERIFY(places().contains(app::toText(laid)));
    auto* chip = ledger->findChild<QToolButton*>(QStringLiteral("ledgerLaid"));
    QTest::mouseClick(chip, Qt::LeftButton);
    bench.chooseInMenu(QStringLiteral("folded: none at their parts"));
    QTRY_VERIFY(table->model()->rowCount() < all && !places().contains(app::toText(laid)));
    QTest::mouseClick(chip, Qt::LeftButton);
    bench.chooseInMenu(app::toText(laid));
    QTRY_COMPARE(chip->text(), QStringLiteral("laid: %1 ▾").arg(app::toText(laid)));
    QVERIFY(table->model()->rowCount() > 0 && table->model()->rowCount() < all);
    QTest::mouseClick(chip, Qt::LeftButton);
    bench.chooseInMenu(QStringLiteral("all"));
    QTRY_COMPARE(table->model()->rowCount(), all);
}

SNARE_WINDOW_TEST_MAIN(TestStock)
#include "test_stock.moc"
