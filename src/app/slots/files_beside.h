// SPDX-License-Identifier: Apache-2.0
/// Pictures and sounds from anywhere, copied beside the scene so that both go together.
#pragma once

#include "app/model/document.h"

#include <functional>

namespace snare::app {

/// Where a file from anywhere ends up beside the scene: its name there if it lies there already,
/// else under a name that is free. Nothing, and a `problem` of the document, if it cannot be copied
/// or the scene has no folder yet.
std::optional<QString> copyBeside(Document& document, const QString& file);

/// Asks for a file (`filter` as for a file dialog), copies it beside the scene, and gives its name
/// there.
void takeFileBeside(QWidget* window, Document& document, const QString& title, const QString& filter,
                    const std::function<void(const QString& name)>& taken);

} // namespace snare::app
