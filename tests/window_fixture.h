// SPDX-License-Identifier: Apache-2.0
/// The real window with a scene in it, and hands to work it.
#pragma once

#include "app/cards/book_panel.h"
#include "app/cards/here_panel.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_view.h"
#include "app/timeline/moment_panel.h"
#include "app/timeline/timeline_view.h"
#include "app/timeline/transport_bar.h"
#include "app/ui/slot_button.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/window/main_window.h"
#include "builder.h"

#include <QApplication>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

namespace snare::tests {

using app::MainWindow;

class Bench {
  public:
    Bench()
    {
        window.resize(1280, 800);
        window.show();
        if (!QTest::qWaitForWindowExposed(&window))
            qFatal("the window does not appear");
        window.activateWindow();
        if (!QTest::qWaitForWindowActive(&window)) // keys would go nowhere
            qWarning("the window is not active");
    }

    /// A copy of a demo in a folder of its own.
    void openDemo(const QString& name = QStringLiteral("weigh-in"))
    {
        for (const char* ending : {".snare.json", ".take.json"})
            QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/") + name + QLatin1String(ending),
                        folder.filePath(name + QLatin1String(ending)));
        if (!window.openFile(folder.filePath(name + QLatin1String(".snare.json"))))
            qFatal("the demo does not open");
        settle();
    }

    /// Takes an entry of the menu that is open.
    void chooseInMenu(const QString& text)
    {
        QMenu* menu = nullptr;
        QTRY_VERIFY((menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())));
        ++clicks;
        for (QAction* action : menu->actions())
            if (action->text().section(QLatin1Char('\t'), 0, 0) == text)
                return QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
        QFAIL(qPrintable(text));
    }
    /// Gives a command of the menu bar, by its words: the menu, and the entry.
    void order(const QString& text)
    {
        for (QAction* action : window.findChildren<QAction*>())
            if (QString(action->text()).remove(QLatin1Char('&')) == text) {
                clicks += 2;
                return action->trigger();
            }
        QFAIL(qPrintable(text));
    }

    /// Until the background re-run has caught up.
    void settle()
    {
        QVERIFY(QTest::qWaitFor([this] { return !window.stage().isRerunning(); }, 20000));
        QTest::qWait(1);
    }

    /// Until as many ticks more have been played or recorded.
    void pass(int ticks)
    {
        const std::int64_t to = window.stage().cursor() + ticks;
        QVERIFY(QTest::qWaitFor([&] { return window.stage().cursor() >= to; }, 20000));
    }

    /// Until all that was shown or changed is laid out and painted.
    void layOut()
    {
        for (int i = 0; i < 4; ++i) { // a layout may ask for another one
            QCoreApplication::sendPostedEvents();
            QCoreApplication::processEvents();
        }
    }

    QPoint at(const Vec& point) { return window.ground()->transform().toView(point).toPoint(); }

    void click(const Vec& point, Qt::KeyboardModifiers modifiers = {})
    {
        QTest::mouseMove(window.ground(), at(point));
        QTest::mouseClick(window.ground(), Qt::LeftButton, modifiers, at(point));
    }

    void drag(const Vec& from, const Vec& to, Qt::KeyboardModifiers modifiers = {})
    {
        dragPixels(at(from), at(to), modifiers);
    }

    void dragPixels(const QPoint& from, const QPoint& to, Qt::KeyboardModifiers modifiers = {})
    {
        QWidget* ground = window.ground();
        QTest::mousePress(ground, Qt::LeftButton, modifiers, from);
        for (int i = 1; i <= 4; ++i) {
            const QPointF point = QPointF{from} + QPointF{to - from} * i / 4.0;
            QMouseEvent move{QEvent::MouseMove, point,          ground->mapToGlobal(point),
                             Qt::NoButton,      Qt::LeftButton, modifiers};
            QApplication::sendEvent(ground, &move);
        }
        QTest::mouseRelease(ground, Qt::LeftButton, modifiers, to);
    }

    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        if (!window.isActiveWindow()) { // a question has just been closed; commands wait for the window
            window.activateWindow();
            QVERIFY(QTest::qWaitForWindowActive(&window));
        }
        window.ground()->setFocus();
        QTest::keyClick(window.ground(), key, modifiers);
    }

    /// Selects a piece as another view would, and lets the cards follow.
    void selectAndWait(const std::string& piece)
    {
        window.selection().choosePiece(piece);
        QTest::qWait(1);
    }

    /// The slot of that name on the card of a snare.
    app::SlotButton* slot(const QString& snare, const QString& name)
    {
        auto* card = window.findChild<QWidget*>(QStringLiteral("card ") + snare);
        return card ? card->findChild<app::SlotButton*>(name) : nullptr;
    }

    /// The open panel of a slot.
    app::SlotPopup* popup()
    {
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (auto* one = qobject_cast<app::SlotPopup*>(widget); one && one->isVisible())
                return one;
        return nullptr;
    }

    /// Types into the open panel and confirms.
    void answer(const QString& text)
    {
        QTRY_VERIFY(popup());
        auto* edit = popup()->findChild<QLineEdit*>();
        edit->selectAll();
        QTest::keyClick(edit, Qt::Key_Delete);
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }

    std::string text() { return io::sceneText(window.document().scene()); }

    Vec placeNow(const std::string& id)
    {
        for (const app::ShownPiece& piece : window.ground()->pieces())
            if (piece.piece->id == id)
                return piece.pose.at;
        return {1e9, 1e9};
    }

    double turnNow(const std::string& id)
    {
        for (const app::ShownPiece& piece : window.ground()->pieces())
            if (piece.piece->id == id)
                return piece.pose.turn;
        return 1e9;
    }

    QTemporaryDir folder;
    int clicks = 0; ///< with the mouse, counted by hands
    MainWindow window;
};

} // namespace snare::tests

/// Runs the tests with settings of their own.
#define SNARE_WINDOW_TEST_MAIN(Test)                                                                                   \
    int main(int argc, char** argv)                                                                                    \
    {                                                                                                                  \
        QStandardPaths::setTestModeEnabled(true);                                                                      \
        QTemporaryDir settings;                                                                                        \
        qputenv("XDG_CONFIG_HOME", settings.path().toUtf8());                                                          \
        qputenv("HOME", settings.path().toUtf8());                                                                     \
        QApplication application{argc, argv};                                                                          \
        QCoreApplication::setOrganizationName(QStringLiteral("fresh-snare-test"));                                     \
        QCoreApplication::setApplicationName(QStringLiteral("fresh-snare-test"));                                      \
        snare::app::applyTheme(application);                                                                           \
        Test test;                                                                                                     \
        return QTest::qExec(&test, argc, argv);                                                                        \
    }
