// SPDX-License-Identifier: Apache-2.0
/// Every slot of every card: opened and confirmed, or given up, it changes nothing, to the byte.
#include "app/cards/piece_card.h"
#include "window_fixture.h"

#include <QDir>
#include <QMenu>
#include <QTabWidget>
#include <QTimer>

#include <set>

using namespace snare;
using namespace snare::tests;

namespace {

/// Menus that a slot opens would wait for an answer: they are closed.
class MenuCloser : public QObject {
  public:
    MenuCloser()
    {
        timer_.setInterval(1);
        connect(&timer_, &QTimer::timeout, this, [] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget()))
                menu->close();
        });
        timer_.start();
    }

  private:
    QTimer timer_;
};

struct Fixture : Bench {
    int opened = 0;

    /// Names of the slots of a card, in their order.
    static QStringList slotsOf(const QWidget* card)
    {
        QStringList names;
        for (const auto* slot : card->findChildren<app::SlotButton*>())
            if (!slot->objectName().isEmpty() && !names.contains(slot->objectName()))
                names << slot->objectName();
        return names;
    }

    /// Opens a slot and leaves it in one of three ways; what then differs from before is said.
    void leave(const std::function<QWidget*()>& card, const QString& name, int way)
    {
        auto* slot = card() ? card()->findChild<app::SlotButton*>(name) : nullptr;
        if (!slot)
            return;
        const QString shown = slot->text();
        const std::string before = text();
        const int steps = window.document().undoStack()->index();
        slot->click();
        QCoreApplication::processEvents();
        app::SlotPopup* open = popup();
        if (!open) { // a switch, or a menu
            while (window.document().undoStack()->index() > steps)
                window.document().undoStack()->undo();
            layOut();
            return;
        }
        ++opened;
        auto* edit = open->findChild<QLineEdit*>();
        if (way == 1) {
            edit->selectAll();
            QTest::keyClick(edit, Qt::Key_Delete);
            QInputMethodEvent typed; // not all of it is ASCII
            typed.setCommitString(shown);
            QApplication::sendEvent(edit, &typed);
        }
        // A "+", and the list of own fields that are given back, act on what is chosen.
        const bool offers = slot->kind() == app::SlotButton::Kind::offer || name == QLatin1String("own");
        QTest::keyClick(edit, way == 2 || (way == 1 && offers) ? Qt::Key_Escape : Qt::Key_Return);
        while (app::SlotPopup* still = popup()) // an answer that is not taken, or a second question
            QTest::keyClick(still->findChild<QLineEdit*>(), Qt::Key_Escape);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        const bool acts = way == 0 && offers; // "+" with a list: Return takes what is marked
        if (acts) {
            while (window.document().undoStack()->index() > steps)
                window.document().undoStack()->undo();
            layOut();
        }
        QVERIFY2(text() == before, qPrintable(QStringLiteral("%1, left in way %2").arg(name).arg(way)));
        QCOMPARE(window.document().undoStack()->index(), steps);
    }

    void tryAll(const std::function<QWidget*()>& card, const QString& what)
    {
        if (!card())
            return;
        for (const QString& name : slotsOf(card()))
            for (int way = 0; way < 3; ++way) {
                leave(card, name, way);
                if (QTest::currentTestFailed()) {
                    qWarning("on %s", qPrintable(what));
                    return;
                }
            }
    }
};

} // namespace

class TestUnchanged : public QObject {
    Q_OBJECT

  private slots:
    void nothingChanges_data();
    void nothingChanges();
};

void TestUnchanged::nothingChanges_data()
{
    QTest::addColumn<QString>("scene");
    for (const QString& file : QDir{QStringLiteral(SNARE_DEMO_FOLDER)}.entryList({QStringLiteral("*.snare.json")}))
        QTest::newRow(qPrintable(file)) << QString(file).remove(QStringLiteral(".snare.json"));
    QTest::newRow("what is hard to say in a slot") << QString();
}

void TestUnchanged::nothingChanges()
{
    QFETCH(QString, scene);
    Fixture bench;
    const MenuCloser closer;
    if (!scene.isEmpty()) {
        bench.openDemo(scene);
    } else {
        const QString path = bench.folder.filePath(QStringLiteral("hard.snare.json"));
        QFile file{path};
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            R"json({"format": "fresh-snare-scene", "version": 1, "name": "Mooring 007", "rate": 120, "seed": 7, "gravity": [0.1234567, -9.81],
 "bounds": [-20, -10, 20, 10.123456789], "variables": {"berth": "007", "note": "west, pier = \"old\"", "n": 0.30000000000000004, "open": true},
 "sources": [{"id": "clock", "timer": {"every": 0.75, "runs": false}}, {"id": "hail", "call": {"name": "hail", "values": {"vessel": "k, 1"}}}],
 "pieces": [
  {"id": "boat", "at": [1.123456789, 2], "tags": ["a", "b"], "properties": {"load": 3, "who": "true"},
   "body": {"kind": "walker", "steer": {"left": ["a", "Left"], "right": ["d", "Right"], "up": [], "down": ["s"], "jump": ["space", "Return"]}},
   "timers": [{"id": "tick", "timer": {"every": 0.333333333, "repeat": false, "runs": false}}],
   "phases": [{"id": "dry", "look": {"image": "hull.png"}}, "wet"], "lifetime": 3.25,
   "look": {"colour": "#1f8a7a", "label": "one of the boats", "gauge": {"of": "self.load", "low": 0, "high": 9}},
   "looks": {"lit": {"glow": 0.5}},
   "shapes": [{"id": "hull", "box": [1.23456789, 2], "friction": 0.25, "bounce": 0.5, "band": [0, 1.5], "turn": 3},
              {"id": "deck", "role": "zone", "polygon": [[0, 0], [1.00000001, 0], [0, 1]], "margin": 0.05, "group": "crew"}]},
  {"id": "buoy", "body": {"kind": "kinematic", "velocity": [1, 2, 0.5], "spin": 30, "route": {"points": [[3, 0], [0, 0.123456789]], "speed": 1.5}},
   "shapes": [{"circle": 0.512345678}]}],
 "snares": [
  {"id": "s", "note": "a, note", "catch": {"event": ["enter", "exit"], "at": "boat", "shape": "deck"},
   "filter": {"groups": ["crew"], "when": [{"left": "self.x", "is": "<", "right": {"sum": [{"get": "self.x"}, -1]}},
                                           {"left": "scene.n", "is": "=", "right": {"between": [1, {"get": "self.load"}]}},
                                           {"left": "scene.note", "is": "!=", "right": "self.load"}]},
   "gate": {"limit": 2, "each": "visitor", "cooldown": 0.123456789, "reset": "vacated"},
   "responses": [
    {"do": "look", "on": "self", "to": {"colour": "#aa0000", "glow": 0.25, "label": "mine"}},
    {"do": "set", "on": ["self", "visitor"], "name": "k", "value": {"sum": [{"count": "tag:t"}, 1]}},
    {"do": "set", "on": "scene", "name": "berth", "value": "008"},
    {"do": "set", "on": "scene", "name": "note", "value": "self.x"},
    {"do": "say", "on": "self", "text": ["one of the eels", "same as self.x", {"oneOf": ["a, b", "c"]}], "for": {"between": [1, 3]}},
    {"do": "move", "on": "buoy", "by": [{"get": "self.x"}, 2], "speed": {"script": "math.max(1, 2)"
    }
},
    {"do": "put", "on": "buoy", "at": {"somewhere": "scene", "clear": true}},
    {"do": "signal", "name": "go", "with": {"a": {"oneOf": [1, 2]}, "b": "x, y", "c": {"get": "self.load"}, "d": "5"}},
    {"do": "script", "lua": "scene.n = scene.n + 1"}]
}]
})json");
        file.close();
        QVERIFY(bench.window.openFile(path));
        bench.settle();
    }
    const auto pieceCard = [&]() -> QWidget* { return bench.window.findChild<app::PieceCard*>(); };
    bench.window.selection().clear();
    bench.layOut();
    bench.tryAll(pieceCard, QStringLiteral("the scene"));
    std::set<std::string> kinds; // one of each template and kind of body
    const auto pieces = bench.window.document().scene().pieces;
    for (const scene::Piece& piece : pieces) {
        if (QTest::currentTestFailed())
            return;
        if (!kinds
                 .insert(piece.templateName + "/" + std::string(scene::kindOf(piece.body)) + "/" +
                         std::to_string(piece.shapes.size()))
                 .second)
            continue;
        bench.selectAndWait(piece.id);
        bench.tryAll(pieceCard, QString::fromStdString(piece.id));
    }
    bench.window.selection().clear();
    bench.window.findChild<QTabWidget*>()->setCurrentIndex(1);
    bench.layOut();
    auto* book = bench.window.findChild<app::BookPanel*>();
    const auto snares = bench.window.document().scene().snares;
    for (const scene::Snare& snare : snares) {
        if (QTest::currentTestFailed())
            return;
        if (app::SnareCard* card = book->cards()->card(snare.id))
            card->ensureBuilt();
        bench.tryAll([&]() -> QWidget* { return book->cards()->card(snare.id); }, QString::fromStdString(snare.id));
    }
    QVERIFY(bench.opened > 20);
}

SNARE_WINDOW_TEST_MAIN(TestUnchanged)
#include "test_unchanged.moc"
