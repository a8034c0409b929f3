// SPDX-License-Identifier: Apache-2.0
/// `fresh-snare [SCENE]`: the application.
#include "app/ui/settings.h"
#include "app/ui/system_scheme.h"
#include "app/ui/theme.h"
#include "app/window/key_sheet.h"
#include "app/window/main_window.h"
#include "app/window/single_instance.h"
#include "io/shipped.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QMenuBar>
#include <QScreen>

#include <iostream>

namespace {

/// What a window manager puts above a window, pixels.
constexpr int titleBar = 40;

/// The demo that is opened the first time; empty if none ships with the program.
QString demoScene()
{
    return QString::fromStdString(snare::io::shippedFile("demo/weigh-in.snare.json").string());
}

} // namespace

int main(int argc, char** argv)
{
    // The settings are known by these names; the size must be known before anything else begins.
    QCoreApplication::setOrganizationName(QStringLiteral("fresh-snare"));
    QCoreApplication::setApplicationName(QStringLiteral("fresh-snare"));
    snare::app::Settings::applySize();
    QApplication application{argc, argv};
    QGuiApplication::setDesktopFileName(QStringLiteral("org.freshsnare.FreshSnare"));
    QGuiApplication::setWindowIcon(QIcon{QStringLiteral(":/icons/fresh-snare.svg")});
    QCoreApplication::setApplicationVersion(QStringLiteral(SNARE_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QObject::tr("Lay shapes and zones, bind events to responses, and see why they come."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("file"),
                                 QObject::tr("the scene, take or kit to open; else the last scene, else the demo"));
    const QCommandLineOption apart{QStringLiteral("new"),
                                   QObject::tr("a window of its own, even if the application runs already")};
    const QCommandLineOption keys{QStringLiteral("keys"),
                                  QObject::tr("write all keys and gestures as Markdown, and end")};
    parser.addOptions({apart, keys});
    parser.process(application);
    QString file;
    if (!parser.positionalArguments().isEmpty())
        file = QFileInfo{parser.positionalArguments().front()}.absoluteFilePath();
    if (!file.isEmpty() && !parser.isSet(apart) && snare::app::SingleInstance::handOver(file))
        return 0;

    if (const QString demo = demoScene(); !demo.isEmpty())
        snare::app::MainWindow::demoFolders() = {QFileInfo{demo}.path()};
    snare::app::applyTheme(application);
    snare::app::MainWindow window;
    if (parser.isSet(keys)) {
        std::cout << snare::app::keysText(*window.menuBar()).toStdString();
        return 0;
    }
    const QRect room = window.screen()->availableGeometry();
    if (room.width() <= window.width() || room.height() <= window.height() + titleBar)
        window.showMaximized();
    else
        window.show();
    if (!file.isEmpty())
        window.openAny(file);
    else
        window.openLastOr(demoScene());
    window.offerRescue();
    snare::app::SingleInstance instance;
    QObject::connect(&instance, &snare::app::SingleInstance::fileGiven, &window, &snare::app::MainWindow::offerFile);
    instance.listen();
    snare::app::SystemScheme system;
    QObject::connect(&system, &snare::app::SystemScheme::told, &window, [&](bool dark) {
        const auto wish = snare::app::schemeWish();
        if (snare::app::setSystemDark(dark) && wish == snare::app::SchemeWish::system)
            window.setScheme(wish);
    });
    return QApplication::exec();
}
