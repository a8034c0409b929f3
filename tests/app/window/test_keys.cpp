// SPDX-License-Identifier: Apache-2.0
/// Keys in the real window: held ones that the server repeats, names of all keys, and Esc that
/// belongs to the scene.
#include "app/ui/key_names.h"
#include "window_fixture.h"

#include <QKeyEvent>
#include <QListWidget>
#include <QProcess>
#include <QPushButton>

using namespace snare;
using namespace snare::tests;
using app::Stage;

namespace {

struct Fixture : Bench {
    void openScene(const char* snares)
    {
        const QString path = folder.filePath(QStringLiteral("keys.snare.json"));
        QFile file{path};
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(QByteArray(R"({"format": "fresh-snare-scene", "version": 1, "snares": [)") + snares + "]}");
        file.close();
        QVERIFY(window.openFile(path));
        settle();
    }

    void record()
    {
        window.ground()->setFocus();
        window.stage().startRecording();
        pass(2);
    }

    /// As a server sends it: with a key code and a time stamp.
    void send(bool down, int key, quint32 code, quint32 symbol, quint64 at, Qt::KeyboardModifiers modifiers = {})
    {
        QKeyEvent event{down ? QEvent::KeyPress : QEvent::KeyRelease, key, modifiers, code, symbol, 0};
        event.setTimestamp(at);
        QApplication::sendEvent(window.ground(), &event);
    }

    /// "d+ d- e+": the keys of the take, in order.
    QString keys()
    {
        QStringList list;
        for (const scene::Input& input : window.document().take().inputs)
            if (const auto* key = input.as<scene::KeyInput>())
                list << QString::fromStdString(key->key) + QLatin1Char(key->down ? '+' : '-');
        return list.join(QLatin1Char(' '));
    }
};

} // namespace

class TestKeys : public QObject {
    Q_OBJECT

  private slots:
    void aHeldKeyIsOnePressHoweverTheServerRepeatsIt();
    void aKeyHeldByAnotherProgramIsOnePress();
    void twoQuickPressesStayTwo();
    void aKeyGoesUpAsItWentDown();
    void allKeysHaveNames_data();
    void allKeysHaveNames();
    void escapeBelongsToASceneThatListensToIt();
    void aKeyIsPressedToBeTakenIntoACatch();
};

void TestKeys::aHeldKeyIsOnePressHoweverTheServerRepeatsIt()
{
    Fixture bench;
    bench.openScene("");
    bench.record();
    bench.send(true, Qt::Key_D, 40, 'd', 1000);
    for (quint64 at = 1660; at < 3000; at += 40) { // not marked as repeats
        bench.send(false, Qt::Key_D, 40, 'd', at);
        bench.send(true, Qt::Key_D, 40, 'd', at + (at / 40) % 2); // the server's clock may go on between the two
        bench.pass(1);
    }
    bench.send(false, Qt::Key_D, 40, 'd', 3010);
    bench.pass(6);
    bench.window.stage().stop();
    QCOMPARE(bench.keys(), QStringLiteral("d+ d-"));
}

/// xdotool holds it; the server of the test repeats it by itself.
void TestKeys::aKeyHeldByAnotherProgramIsOnePress()
{
    if (QGuiApplication::platformName() != QLatin1String("xcb"))
        QSKIP("needs an X server");
    struct Counter : QObject {
        int presses = 0;
        bool eventFilter(QObject*, QEvent* event) override
        {
            presses += event->type() == QEvent::KeyPress ? 1 : 0;
            return false;
        }
    };
    Fixture bench;
    bench.openScene("");
    Counter counter;
    bench.window.ground()->installEventFilter(&counter);
    bench.record();
    QCOMPARE(QProcess::execute(QStringLiteral("xdotool"), {QStringLiteral("keydown"), QStringLiteral("d")}), 0);
    // The interface is busy now and then, so that the pairs come apart.
    QVERIFY(QTest::qWaitFor(
        [&] {
            QElapsedTimer busy;
            busy.start();
            while (busy.elapsed() < 15) {
            }
            return counter.presses >= 25;
        },
        30000));
    QCOMPARE(QProcess::execute(QStringLiteral("xdotool"), {QStringLiteral("keyup"), QStringLiteral("d")}), 0);
    QVERIFY(QTest::qWaitFor(
        [&] { return sim::standingAt(bench.window.stage().record(), bench.window.stage().cursor()).keysDown.empty(); },
        10000));
    bench.window.stage().stop();
    QCOMPARE(bench.keys(), QStringLiteral("d+ d-"));
}

void TestKeys::twoQuickPressesStayTwo()
{
    Fixture bench;
    bench.openScene("");
    bench.record();
    bench.send(true, Qt::Key_D, 40, 'd', 1000);
    bench.pass(2);
    bench.send(false, Qt::Key_D, 40, 'd', 1030);
    bench.send(true, Qt::Key_D, 40, 'd', 1045);
    bench.pass(2);
    bench.send(false, Qt::Key_D, 40, 'd', 1090);
    bench.pass(6);
    bench.window.stage().stop();
    QCOMPARE(bench.keys(), QStringLiteral("d+ d- d+ d-"));
}

/// With Shift pressed meanwhile the server calls it by another name.
void TestKeys::aKeyGoesUpAsItWentDown()
{
    Fixture bench;
    bench.openScene("");
    bench.record();
    bench.send(true, Qt::Key_Semicolon, 47, ';', 1000);
    bench.pass(1);
    bench.send(true, Qt::Key_Shift, 50, 0xffe1, 1100);
    bench.pass(1);
    bench.send(false, Qt::Key_Colon, 47, ':', 1200, Qt::ShiftModifier);
    bench.pass(6);
    bench.send(false, Qt::Key_Shift, 50, 0xffe1, 1300);
    bench.pass(6);
    bench.window.stage().stop();
    QCOMPARE(bench.keys(), QStringLiteral("semicolon+ Shift_L+ semicolon- Shift_L-"));
}

void TestKeys::allKeysHaveNames_data()
{
    QTest::addColumn<int>("key");
    QTest::addColumn<uint>("symbol");
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("label");
    const auto row = [](int key, uint symbol, const char* name, const char* label) {
        QTest::newRow(name) << key << symbol << QString::fromUtf8(name) << QString::fromUtf8(label);
    };
    row(Qt::Key_BracketLeft, 0x5b, "bracketleft", "[");
    row(Qt::Key_F5, 0xffc2, "F5", "F5");
    row(Qt::Key_Escape, 0xff1b, "Escape", "Esc");
    row(Qt::Key_Apostrophe, 0x27, "apostrophe", "'");
    row(Qt::Key_Adiaeresis, 0xe4, "adiaeresis", "Ä");
    row(Qt::Key_7, 0xffb7, "KP_7", "Keypad 7");
    row(Qt::Key_E, 'E', "e", "E"); // with Shift
}

void TestKeys::allKeysHaveNames()
{
    QFETCH(int, key);
    QFETCH(uint, symbol);
    QFETCH(QString, name);
    QFETCH(QString, label);
    const QKeyEvent event{QEvent::KeyPress, key, {}, 30, symbol, 0};
    QCOMPARE(app::keyName(event), name);
    QCOMPARE(app::keyLabel(name), label);
}

void TestKeys::escapeBelongsToASceneThatListensToIt()
{
    Fixture bench;
    bench.openScene(R"({"id": "menu", "catch": {"event": "key-down", "key": "Escape"}, "responses": []})");
    bench.record();
    bench.send(true, Qt::Key_Escape, 9, 0xff1b, 1000);
    bench.pass(2);
    QCOMPARE(bench.window.stage().mode(), Stage::Mode::recording);
    bench.send(false, Qt::Key_Escape, 9, 0xff1b, 1100);
    bench.pass(6);
    bench.send(true, Qt::Key_Escape, 9, 0xff1b, 2000, Qt::ShiftModifier);
    QCOMPARE(bench.window.stage().mode(), Stage::Mode::still);
    QCOMPARE(bench.keys(), QStringLiteral("Escape+ Escape-"));
}

void TestKeys::aKeyIsPressedToBeTakenIntoACatch()
{
    Fixture bench;
    bench.openScene(R"({"id": "menu", "catch": {"event": "key-down", "key": "e"}, "responses": []})");
    QTRY_VERIFY(bench.slot(QStringLiteral("menu"), QStringLiteral("key")));
    bench.slot(QStringLiteral("menu"), QStringLiteral("key"))->click();
    QTRY_VERIFY(bench.popup());
    bench.popup()->findChild<QPushButton*>(QStringLiteral("pressKey"))->click();
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Semicolon);
    QCOMPARE(bench.window.document().scene().snares.front().catches.key, std::string("semicolon"));
    // Esc can be one too.
    QTRY_VERIFY(bench.slot(QStringLiteral("menu"), QStringLiteral("key")));
    QTRY_COMPARE(bench.slot(QStringLiteral("menu"), QStringLiteral("key"))->text(), QStringLiteral(";"));
    bench.slot(QStringLiteral("menu"), QStringLiteral("key"))->click();
    QTRY_VERIFY(bench.popup());
    bench.popup()->findChild<QPushButton*>(QStringLiteral("pressKey"))->click();
    QTest::keyClick(bench.popup()->findChild<QLineEdit*>(), Qt::Key_Escape);
    QCOMPARE(bench.window.document().scene().snares.front().catches.key, std::string("Escape"));
}

SNARE_WINDOW_TEST_MAIN(TestKeys)
#include "test_keys.moc"
