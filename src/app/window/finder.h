// SPDX-License-Identifier: Apache-2.0
/// Ctrl+K: finds commands, pieces, snares and signals by name or everyday synonym.
#pragma once

#include "scene/scene.h"

#include <QAction>
#include <QWidget>

#include <functional>

namespace snare::app {

/// What was found: a command to trigger, or a thing of the scene to go to.
struct Found {
    enum class Kind { command, piece, snare, signal } kind = Kind::command;
    QAction* command = nullptr;
    QString name;
};

/// Opens the panel below `anchor`. `commands` are offered with their shortcuts; a command's `data` holds its synonyms.
void openFinder(QWidget* anchor, const QList<QAction*>& commands, const scene::Scene& scene,
                const std::function<void(const Found&)>& go);

/// All commands of the menus, those in submenus too, except recent files.
QList<QAction*> commandsOf(const QList<QAction*>& menus);

} // namespace snare::app
