// SPDX-License-Identifier: Apache-2.0
/// `fresh-snare [SCENE]`: the application.
#include "app/ui/system_scheme.h"
#include "app/ui/theme.h"
#include "app/window/main_window.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QFileInfo>
#include <QScreen>

namespace {

/// What a window manager puts above a window, pixels.
constexpr int titleBar = 40;

/// The demo that is opened the first time: installed, or beside the build.
QString demoScene()
{
    const QString name = QStringLiteral("/weigh-in.snare.json");
    for (const QString& folder : snare::app::MainWindow::demoFolders())
        if (QFileInfo::exists(folder + name))
            return QDir::cleanPath(folder + name);
    return {};
}

} // namespace

int main(int argc, char** argv)
{
    QApplication application{argc, argv};
    QCoreApplication::setOrganizationName(QStringLiteral("fresh-snare"));
    QCoreApplication::setApplicationName(QStringLiteral("fresh-snare"));
    QCoreApplication::setApplicationVersion(QStringLiteral(SNARE_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QObject::tr("Lay shapes and zones, bind events to responses, and see why they come."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("scene"),
                                 QObject::tr("the scene to open; else the last one, else the demo"));
    parser.process(application);

    snare::app::MainWindow::demoFolders() = {QCoreApplication::applicationDirPath() +
                                                 QStringLiteral("/../share/fresh-snare/demo"),
                                             QStringLiteral(SNARE_DEMO_FOLDER)};
    snare::app::applyTheme(application);
    snare::app::MainWindow window;
    const QRect room = window.screen()->availableGeometry();
    if (room.width() <= window.width() || room.height() <= window.height() + titleBar)
        window.showMaximized();
    else
        window.show();
    if (!parser.positionalArguments().isEmpty())
        window.openFile(parser.positionalArguments().front());
    else
        window.openLastOr(demoScene());
    window.offerRescue();
    snare::app::SystemScheme system;
    QObject::connect(&system, &snare::app::SystemScheme::told, &window, [&](bool dark) {
        const auto wish = snare::app::schemeWish();
        if (snare::app::setSystemDark(dark) && wish == snare::app::SchemeWish::system)
            window.setScheme(wish);
    });
    return QApplication::exec();
}
