// SPDX-License-Identifier: Apache-2.0
/// The tools at the left edge of the window.
#include "app/window/main_window.h"

#include "app/ground/ground_view.h"
#include "app/panels/source_shelf.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "scene/assemblies.h"

#include <QMenu>
#include <QMenuBar>
#include <QToolButton>
#include <QVBoxLayout>

namespace snare::app {

void MainWindow::buildTools(QWidget* column)
{
    auto* layout = new QVBoxLayout{column};
    layout->setContentsMargins(5, 8, 5, 8);
    layout->setSpacing(6);
    const auto button = [&](const char* name, const QString& tip) {
        auto* tool = new QToolButton{column};
        tool->setObjectName(QStringLiteral("tool ") + QLatin1String(name));
        onTheme(tool, [tool, name] { tool->setIcon(icon(QLatin1String(name))); });
        tool->setIconSize({22, 22});
        tool->setToolTip(tip);
        tool->setAccessibleName(tip);
        tool->setFixedSize(36, 36);
        tool->setFocusPolicy(Qt::TabFocus);
        tool->setPopupMode(QToolButton::DelayedPopup);
        dress(tool, [] {
            return QStringLiteral(
                       "QToolButton { border: none; border-radius: 6px; } QToolButton:hover { background: %1; }"
                       "QToolButton:checked { background: %2; } QToolButton:focus { border: 1px dotted %3; }"
                       "QToolButton::menu-indicator { image: none; }")
                .arg(theme().hairline.name(), theme().ink.name(), theme().mint.name());
        });
        layout->addWidget(tool);
        return tool;
    };
    struct ToolWord {
        ToolKind kind;
        const char* icon;
        QString name; ///< of its command, whose key is shown
        QString about;
    };
    const ToolWord words[] = {
        {ToolKind::select, "select", tr("Select"), {}},
        {ToolKind::solid, "solid", tr("Solid"), tr("stops other solids; again, or hold, for another shape")},
        {ToolKind::zone, "zone", tr("Zone"), tr("senses who comes in; again, or hold, for another shape")},
        {ToolKind::line, "line", tr("Line"), tr("edges to stand on and bump into; again to close it")},
        {ToolKind::thread, "thread", tr("Thread"), tr("this happens there, so that acts")},
        {ToolKind::stamp, "stamp",
         tr("Stamp"), tr("pieces of a template, or assemblies; again, or hold, for another one")},
        {ToolKind::measure, "measure", tr("Measure"), tr("distance and direction")}};
    for (const ToolWord& word : words) {
        QToolButton* tool = button(word.icon, word.name);
        tool->setProperty("about", word.about);
        tool->setCheckable(true);
        connect(tool, &QToolButton::clicked, this, [this, kind = word.kind] { takeTool(kind); });
        if (const std::vector<ShapeKind> kinds = kindsOf(word.kind); !kinds.empty()) {
            auto* menu = new QMenu{tool};
            for (const ShapeKind kind : kinds)
                menu->addAction(wordOf(kind), this, [this, kind, take = word.kind] {
                    ground_->setTool(take);
                    ground_->setShapeKind(kind);
                });
            tool->setMenu(menu);
        } else if (word.kind == ToolKind::stamp) {
            auto* menu = new QMenu{tool};
            connect(menu, &QMenu::aboutToShow, this, [this, menu] {
                menu->clear();
                for (const std::string& name : scene::allStamps(document_.scene()))
                    menu->addAction(toText(name), this, [this, name] {
                        ground_->setTool(ToolKind::stamp);
                        ground_->setStamp(name);
                    });
                if (menu->isEmpty())
                    menu->addAction(tr("Make a template of the selected piece"), this,
                                    [this] { editing_.makeTemplate(); });
            });
            tool->setMenu(menu);
        }
        tools_.emplace_back(word.kind, tool);
    }
    QToolButton* source = button("source", tr("Source…"));
    source->setProperty("about", tr("a timer or a set of keys for the shelf"));
    connect(source, &QToolButton::clicked, this, [this] { shelf_->offerSource(); });
    layout->addStretch(1);
}

/// Each tool says the key that its command has now: it can be changed.
void MainWindow::tellKeysOfTools()
{
    for (QToolButton* tool : findChildren<QToolButton*>()) {
        const QString name = tool->toolTip();
        if (!tool->property("about").isValid())
            continue;
        for (const QAction* top : menuBar()->actions())
            for (const QAction* command : top->menu() ? top->menu()->actions() : QList<QAction*>{}) {
                if (command->text() != name)
                    continue;
                const auto tell = [tool, command, words = QString{name}.remove(QChar{0x2026})] {
                    const QString about = tool->property("about").toString();
                    const QString key = command->shortcut().toString(QKeySequence::NativeText);
                    const QString tip = key.isEmpty() ? words : QStringLiteral("%1 (%2)").arg(words, key);
                    tool->setToolTip(about.isEmpty() ? tip : QStringLiteral("%1: %2").arg(tip, about));
                    tool->setAccessibleName(tool->toolTip());
                };
                connect(command, &QAction::changed, tool, tell);
                tell();
            }
    }
}

void MainWindow::takeTool(ToolKind kind)
{
    if (ground_->tool() == kind)
        ground_->cycleKind();
    else
        ground_->setTool(kind);
    refreshTools();
}

void MainWindow::refreshTools()
{
    for (const auto& [kind, tool] : tools_) {
        const bool taken = ground_->tool() == kind;
        tool->setChecked(taken);
        if (kindsOf(kind).empty())
            continue;
        constexpr const char* endings[] = {"", "-circle", "-capsule", "-polygon", "", "-ring"};
        const QString base = tool->objectName().mid(5);
        tool->setIcon(icon(base + QLatin1String(taken ? endings[static_cast<int>(ground_->shapeKind())] : "")));
    }
}

} // namespace snare::app
