// SPDX-License-Identifier: Apache-2.0
/// What the window does with files: opening, saving, recent ones, and work that a crash left.
#include "app/window/main_window.h"

#include "app/cards/stock_panel.h"
#include "app/ground/ground_view.h"
#include "app/ground/scene_picture.h"
#include "app/panels/examples_panel.h"
#include "app/panels/view_question.h"
#include "app/ui/settings.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <QProcess>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QTabWidget>
#include <QWidget>

namespace snare::app {

namespace {

constexpr int mostRecent = 8;

QString fileFilter()
{
    return MainWindow::tr("Scenes (*.snare.json);;All files (*)");
}

/// What is wished for a file that would be replaced.
enum class Replacing { nothing, elsewhere, replace };

Replacing askBeforeReplacing(QWidget* window, const QString& what, const QString& more, const QString& elsewhere,
                        const QString& replace)
{
    QMessageBox box{QMessageBox::NoIcon, QObject::tr("Fresh Snare"), what, QMessageBox::Cancel, window};
    box.setInformativeText(more);
    QPushButton* other = box.addButton(elsewhere, QMessageBox::AcceptRole);
    const QPushButton* over = box.addButton(replace, QMessageBox::DestructiveRole);
    box.setDefaultButton(other);
    box.exec();
    return box.clickedButton() == other  ? Replacing::elsewhere
           : box.clickedButton() == over ? Replacing::replace
                                         : Replacing::nothing;
}

} // namespace

bool MainWindow::mayDiscard()
{
    stage_.stop();
    if (!document_.isDirty())
        return true;
    QMessageBox box{QMessageBox::NoIcon, tr("Fresh Snare"), tr("Save the changes to %1?").arg(document_.title()),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this};
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

void MainWindow::showExamples()
{
    const auto pictureOf = [](const QString& file) {
        const auto scene = io::loadScene(file.toStdString());
        if (!scene)
            return QImage{};
        auto shown = std::make_shared<scene::Scene>(*scene);
        io::Pictures pictures{std::filesystem::path{QFileInfo{file}.path().toStdString()}};
        pictures.trace(*shown);
        return pictureOfScene(shown, ExampleButton::pictureSize(), &pictures);
    };
    auto* panel = new ExamplesPanel{examplesIn(demoFolders()), pictureOf, this};
    connect(panel, &ExamplesPanel::chosen, this, [this](const QString& file) {
        if (mayDiscard())
            openFile(file);
    });
    panel->open();
}

void MainWindow::newScene()
{
    if (!mayDiscard())
        return;
    problemBar_->hide();
    const NewSceneWish wish = Settings::instance().newScene();
    document_.startNew(wish == NewSceneWish::fromTheSide ? scene::View::side : scene::View::plan);
    if (wish == NewSceneWish::ask)
        viewQuestion_->ask();
}

void MainWindow::open()
{
    if (!mayDiscard())
        return;
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a scene"),
                                                      QFileInfo(document_.filePath()).absolutePath(), fileFilter());
    if (!path.isEmpty())
        openFile(path);
}

bool MainWindow::openFile(const QString& path)
{
    problemBar_->hide();
    stage_.stop();
    if (!document_.open(path))
        return false;
    rememberFile(document_.filePath());
    refreshTitle();
    return true;
}

bool MainWindow::openAny(const QString& path)
{
    const QFileInfo file{path};
    if (path.endsWith(QLatin1String(".take.json"))) {
        const auto take = io::loadTake(path.toStdString());
        if (!take) {
            tellProblem(toText(take.error().front().message()));
            return false;
        }
        const QString scene = take->scene.empty() ? QString() : file.dir().absoluteFilePath(toText(take->scene));
        openTake(scene, file.absoluteFilePath());
        return !scene.isEmpty();
    }
    if (path.endsWith(QLatin1String(".kit.json"))) {
        const auto scenes = io::scenesNaming(file.absolutePath().toStdString(), file.fileName().toStdString());
        if (scenes.empty()) {
            tellProblem(
                tr("No scene beside %1 names it: kits are changed from a scene that does.").arg(file.fileName()));
            return false;
        }
        if (!openFile(file.dir().absoluteFilePath(toText(scenes.front()))))
            return false;
        tabs_->setCurrentWidget(stock_);
        return true;
    }
    return openFile(path);
}

void MainWindow::offerFile(const QString& path)
{
    show();
    raise();
    activateWindow();
    if (QFileInfo{path} == QFileInfo{document_.filePath()})
        return;
    auto* box =
        new QMessageBox{QMessageBox::Question, tr("Open"),
                        tr("%1 was opened from outside.").arg(QFileInfo{path}.fileName()), QMessageBox::NoButton, this};
    box->setObjectName(QStringLiteral("offeredFile"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setInformativeText(tr("Open it here, in place of %1?").arg(document_.title()));
    const QAbstractButton* here = box->addButton(tr("Open here"), QMessageBox::AcceptRole);
    const QAbstractButton* apart = box->addButton(tr("In another window"), QMessageBox::ActionRole);
    box->addButton(tr("Not now"), QMessageBox::RejectRole);
    connect(box, &QMessageBox::buttonClicked, this, [this, path, here, apart](const QAbstractButton* button) {
        if (button == apart)
            QProcess::startDetached(QCoreApplication::applicationFilePath(), {QStringLiteral("--new"), path});
        else if (button == here) // a take asks by itself
            QMetaObject::invokeMethod(
                this,
                [this, path] {
                    if (path.endsWith(QLatin1String(".take.json")) || mayDiscard())
                        openAny(path);
                },
                Qt::QueuedConnection);
    });
    box->open();
}

void MainWindow::openLastOr(const QString& fallback)
{
    const QString last = QSettings().value(QStringLiteral("lastFile")).toString();
    if (!last.isEmpty() && QFileInfo::exists(last) && openFile(last))
        return;
    if (!fallback.isEmpty())
        openFile(fallback);
}

bool MainWindow::save()
{
    if (document_.filePath().isEmpty())
        return saveAs();
    problemBar_->hide();
    if (isDemo(document_.filePath())) {
        const Replacing wish =
            askBeforeReplacing(this, tr("%1 is one of the demos. Save a copy of your own?").arg(document_.title()), {},
                               tr("Save a copy…"), tr("Change the demo"));
        if (wish != Replacing::replace)
            return wish == Replacing::elsewhere && saveAs();
    }
    return saveTo(document_.filePath(), document_.wouldReplace(document_.filePath()));
}

/// Saves, after a question if files would be replaced that hold what was not seen here.
bool MainWindow::saveTo(const QString& path, const QStringList& replaced)
{
    if (!replaced.isEmpty()) {
        QStringList names;
        for (const QString& file : replaced)
            names << QFileInfo(file).fileName();
        const bool own = QFileInfo(path).absoluteFilePath() == document_.filePath();
        const QString which = names.join(QStringLiteral(", "));
        const Replacing wish =
            askBeforeReplacing(this,
                               own ? tr("Another program changed %1 since it was opened here.").arg(which)
                                   : tr("%1 is there already.").arg(which),
                               tr("Saving here would replace what it holds."), tr("Save elsewhere…"), tr("Replace it"));
        if (wish != Replacing::replace)
            return wish == Replacing::elsewhere && saveAs();
    }
    return document_.save(path);
}

void MainWindow::tellChangedOutside(const QStringList& files)
{
    QStringList names;
    for (const QString& file : files)
        names << QFileInfo(file).fileName();
    const QString what = tr("Another program changed %1.").arg(names.join(QStringLiteral(", ")));
    tellProblem(document_.isDirty() ? what + tr(" What you changed here is not saved.") : what, tr("Open it anew"),
                [this, path = document_.filePath()] {
                    if (mayDiscard())
                        openFile(path);
                });
}

QStringList& MainWindow::demoFolders()
{
    static QStringList folders;
    return folders;
}

bool MainWindow::isDemo(const QString& path)
{
    const QString folder = QFileInfo(path).canonicalPath();
    return std::ranges::any_of(demoFolders(),
                               [&](const QString& one) { return QFileInfo(one).canonicalFilePath() == folder; });
}

bool MainWindow::saveAs()
{
    QString proposed = document_.filePath();
    if (!proposed.isEmpty() && isDemo(proposed))
        proposed = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + QLatin1Char('/') +
                   QFileInfo(proposed).fileName();
    QString path = QFileDialog::getSaveFileName(this, tr("Save the scene"), proposed, fileFilter());
    if (path.isEmpty())
        return false;
    if (!path.endsWith(QLatin1String(".json")))
        path += QLatin1String(".snare.json");
    problemBar_->hide();
    QStringList replaced = document_.wouldReplace(path);
    replaced.removeAll(QFileInfo(path).absoluteFilePath()); // the dialog has asked about it
    if (!saveTo(path, replaced))
        return false;
    rememberFile(document_.filePath());
    return true;
}

void MainWindow::rememberFile(const QString& path)
{
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue(QStringLiteral("recent"), recent.mid(0, mostRecent));
    settings.setValue(QStringLiteral("lastFile"), path);
    refreshRecent();
}

void MainWindow::refreshRecent()
{
    recent_->clear();
    for (const QString& path : QSettings().value(QStringLiteral("recent")).toStringList())
        connect(recent_->addAction(path), &QAction::triggered, this, [this, path] {
            if (mayDiscard())
                openFile(path);
        });
    recent_->setEnabled(!recent_->isEmpty());
}

void MainWindow::offerRescue()
{
    const std::vector<Rescue::Found> left = rescue_.found();
    if (left.empty())
        return;
    const Rescue::Found& found = left.front();
    const QString name = found.path.isEmpty() ? tr("a scene without a name") : QFileInfo(found.path).fileName();
    tellProblem(tr("Unsaved work on %1 from %2 was left behind.").arg(name, found.when), tr("Bring it back"),
                [this, found] {
                    if (!mayDiscard()) { // what is open now is not lost either
                        offerRescue();
                        return;
                    }
                    if (!rescue_.bringBack(found)) {
                        tellProblem(tr("It cannot be read any more."));
                        rescue_.discard(found);
                    }
                });
}

} // namespace snare::app
