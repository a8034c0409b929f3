// SPDX-License-Identifier: Apache-2.0
/// Other versions of a scene: files, and revisions of the git repository that it lies in. Git is
/// called as a program.
#pragma once

#include "scene/scene.h"

#include <QString>

#include <memory>
#include <vector>

namespace snare::app {

/// A revision in which the scene's file was changed.
struct Revision {
    QString id;    ///< as git abbreviates it
    QString date;  ///< "2026-11-29"
    QString title; ///< the first line of its message
};

/// The last revisions of a file, newest first; none if it lies in no repository or git is not
/// there.
std::vector<Revision> revisionsOf(const QString& file);

/// A scene as it is in a file or, with a revision, as it was then; the kits are those beside it
/// now. nullptr, and why, if it cannot be read.
std::shared_ptr<const scene::Scene> sceneIn(const QString& file, const QString& revision, QString* problem);

} // namespace snare::app
