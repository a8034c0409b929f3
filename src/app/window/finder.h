// SPDX-License-Identifier: Apache-2.0
/// Ctrl+K: finds commands and everything of the scene that has a name, by name or everyday synonym.
#pragma once

#include "app/cards/card_field.h"
#include "app/model/document.h"

#include <QAction>
#include <QWidget>

#include <functional>

namespace snare::app {

/// What was found: a command to trigger, a field to open, or a thing to go to.
struct Found {
    enum class Kind {
        command,
        piece,
        snare,
        signal,
        source,
        form,
        routine,
        assembly,
        group,
        tag,
        value,
        phase,
        take,
        field
    } kind = Kind::command;
    QAction* command = nullptr;
    QString name;          ///< of the thing, or of the field's slot
    std::size_t index = 0; ///< of the take
};

/// Opens the panel below `anchor`. `commands` are offered with their shortcuts; a command's `data`
/// holds its synonyms.
void openFinder(QWidget* anchor, const QList<QAction*>& commands, const Document& document,
                const std::vector<CardField>& fields, const std::function<void(const Found&)>& go);

/// All commands of the menus, those in submenus too, except recent files.
QList<QAction*> commandsOf(const QList<QAction*>& menus);

} // namespace snare::app
