// SPDX-License-Identifier: Apache-2.0
/// The menu from which pieces are laid, bound, joined and arranged.
#include "app/cards/here_panel.h"
#include "app/ground/ground_view.h"
#include "app/ground/ready_pieces.h"
#include "app/panels/source_shelf.h"
#include "app/window/main_window.h"

#include <QMenuBar>
#include <QTabWidget>

#include <tuple>

namespace snare::app {

void MainWindow::buildLayMenu()
{
    QMenu* lay = menuBar()->addMenu(tr("&Lay"));
    struct Entry {
        QString text;
        ToolKind kind;
        Qt::Key key;
        QString words;
    };
    const Entry entries[] = {{tr("Select"), ToolKind::select, Qt::Key_V, tr("move arrow pick")},
                             {tr("Solid"), ToolKind::solid, Qt::Key_S, tr("wall collider box circle capsule polygon")},
                             {tr("Zone"), ToolKind::zone, Qt::Key_Z, tr("trigger area sensor overlap")},
                             {tr("Line"), ToolKind::line, Qt::Key_L, tr("edge ground chain")},
                             {tr("Thread"), ToolKind::thread, Qt::Key_T, tr("wire connect bind")},
                             {tr("Stamp"), ToolKind::stamp, Qt::Key_B, tr("template instance place")},
                             {tr("Measure"), ToolKind::measure, Qt::Key_M, tr("distance length angle")}};
    for (const Entry& entry : entries)
        action(
            lay, entry.text, QKeySequence{entry.key}, [this, kind = entry.kind] { takeTool(kind); }, entry.words);
    lay->addSeparator();
    for (const Ready kind : allReady)
        action(
            lay, titleOf(kind), {},
            [this, kind] {
                if (isOnGlass(kind))
                    glass_->setChecked(true);
                ground_->takeReady(readyPiece(kind, document_.scene()));
                ground_->setFocus();
            },
            synonymsOf(kind));
    lay->addSeparator();
    action(
        lay, tr("Source…"), QKeySequence{Qt::Key_K}, [this] { shelf_->offerSource(); }, tr("timer key clock"));
    action(
        lay, tr("Bind from the selection…"), QKeySequence{Qt::CTRL | Qt::Key_B}, [this] { bindFromSelection(); },
        tr("thread wire connect keyboard"));
    action(
        lay, tr("Snare…"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_B},
        [this] {
            tabs_->setCurrentWidget(here_);
            here_->addSnare(shelf_);
        },
        tr("rule event when new add start key timer signal"));
    lay->addSeparator();
    action(
        lay, tr("Make a template"), QKeySequence{Qt::CTRL | Qt::Key_T}, [this] { editing_.makeTemplate(); },
        tr("model stamp"));
    action(
        lay, tr("Change the template to this piece"), {}, [this] { editing_.changeTemplateFromSelection(); },
        tr("apply"));
    action(
        lay, tr("Let it follow a template…"), {}, [this] { editing_.joinTemplate(shelf_); },
        tr("join model like instance"));
    action(
        lay, tr("Make an assembly"), QKeySequence{Qt::CTRL | Qt::SHIFT | Qt::Key_T},
        [this] { editing_.makeAssembly(); }, tr("group together compound whole"));
    action(
        lay, tr("Take the pieces into the assembly"), {}, [this] { editing_.addToAssembly(); },
        tr("join add part to lock"));
    action(
        lay, tr("Make all assemblies like this one"), {}, [this] { editing_.makeAssembliesAlike(); },
        tr("apply change update"));
    action(
        lay, tr("Dissolve the assembly"), {}, [this] { editing_.dissolveAssembly(); },
        tr("ungroup apart plain pieces break"));
    lay->addSeparator();
    addArranging(lay);
}

/// Where what is chosen stands, beside and over each other.
void MainWindow::addArranging(QMenu* lay)
{
    QMenu* align = lay->addMenu(tr("&Align"));
    const std::tuple<QString, Side, Qt::Key> sides[] = {
        {tr("Left edges"), Side::left, Qt::Key_Left},    {tr("Centres, upright"), Side::centre, Qt::Key_C},
        {tr("Right edges"), Side::right, Qt::Key_Right}, {tr("Upper edges"), Side::top, Qt::Key_Up},
        {tr("Middles, level"), Side::middle, Qt::Key_M}, {tr("Lower edges"), Side::bottom, Qt::Key_Down}};
    for (const auto& [text, side, key] : sides)
        action(
            align, text, QKeySequence{Qt::CTRL | Qt::ALT | key}, [this, side = side] { editing_.alignSelection(side); },
            tr("align line up"));
    action(
        align, tr("Spread evenly across"), QKeySequence{Qt::CTRL | Qt::ALT | Qt::Key_H},
        [this] { editing_.distributeSelection(true); }, tr("distribute space"));
    action(
        align, tr("Spread evenly upwards"), QKeySequence{Qt::CTRL | Qt::ALT | Qt::Key_V},
        [this] { editing_.distributeSelection(false); }, tr("distribute space"));
    action(
        lay, tr("Turn by 90°"), QKeySequence{Qt::CTRL | Qt::Key_R}, [this] { editing_.turnSelection(90); },
        tr("rotate"));
    action(
        lay, tr("&Raise"), QKeySequence{Qt::Key_PageUp}, [this] { editing_.restackSelection(1, false); },
        tr("layer forward up"));
    action(
        lay, tr("&Lower"), QKeySequence{Qt::Key_PageDown}, [this] { editing_.restackSelection(-1, false); },
        tr("layer back down"));
    action(
        lay, tr("To the front"), QKeySequence{Qt::CTRL | Qt::Key_PageUp},
        [this] { editing_.restackSelection(1, true); }, tr("layer top"));
    action(
        lay, tr("To the back"), QKeySequence{Qt::CTRL | Qt::Key_PageDown},
        [this] { editing_.restackSelection(-1, true); }, tr("layer bottom"));
}

} // namespace snare::app
