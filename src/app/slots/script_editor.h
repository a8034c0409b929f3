// SPDX-License-Identifier: Apache-2.0
/// The panel in which a Lua expression or script is written: highlighted, completed, and checked
/// while typing.
#pragma once

#include "scene/scene.h"

#include <QDialog>

#include <functional>

class QLabel;
class QsciScintilla;

namespace snare::app {

class ScriptEditor : public QDialog {
    Q_OBJECT

  public:
    /// Opens near `anchor`. `done` gets the text once it is accepted; one that cannot be read is
    /// not.
    static void ask(QWidget* anchor, const scene::Scene& scene, const std::string& text, bool expression,
                    const std::function<void(const QString&)>& done);

  private:
    ScriptEditor(QWidget* parent, const scene::Scene& scene, const std::string& text, bool expression);
    /// Says what is wrong, at its line; true if nothing is.
    bool check();
    void complete();

    QsciScintilla* edit_;
    QLabel* state_;
    bool expression_;
    QStringList words_; ///< that complete what is typed
};

} // namespace snare::app
