// SPDX-License-Identifier: Apache-2.0
/// What a person can choose once and for all scenes. Kept with the desktop's settings; each has a
/// usual value.
#pragma once

#include <QObject>
#include <QString>

#include <array>

class QAction;

namespace snare::app {

/// What a new scene begins with.
enum class NewSceneWish { ask, fromAbove, fromTheSide };

class Settings : public QObject {
    Q_OBJECT

  public:
    static Settings& instance();

    /// m, > 0: places and sizes drawn with the pointer fall on a grid of this step.
    double gridStep() const { return gridStep_; }
    void setGridStep(double step);
    static constexpr std::array gridSteps{0.05, 0.1, 0.25, 0.5, 1.0};

    /// s, > 0: how long after a change unsaved work is kept aside.
    int keepAside() const { return keepAside_; }
    void setKeepAside(int seconds);
    static constexpr std::array keepAsides{2, 5, 15, 60};

    NewSceneWish newScene() const { return newScene_; }
    void setNewScene(NewSceneWish wish);

    bool sounds() const { return sounds_; }
    void setSounds(bool on);

    /// Cards show every field, not only what is set.
    bool showsAll() const { return showsAll_; }
    void setShowsAll(bool on);

    /// %, 100 to 200: how large text and everything else is. Holds from the next start on.
    int size() const { return size_; }
    void setSize(int percent);
    static constexpr std::array sizes{100, 125, 150, 175, 200};
    /// Makes everything as large as it was chosen; before the application begins. A size that the
    /// environment sets already holds.
    static void applySize();

    /// The key that was chosen for a command, or nothing if it has its usual one. An empty text: it
    /// has none.
    static QString keyOf(const QString& command, const QString& usual);
    static void setKey(const QString& command, const QString& key);
    static void forgetKey(const QString& command);

  signals:
    void changed();

  private:
    Settings();

    double gridStep_ = 0.1;
    int keepAside_ = 2;
    NewSceneWish newScene_ = NewSceneWish::ask;
    bool sounds_ = true;
    bool showsAll_ = false;
    int size_ = 100;
};

/// What a command is called in the settings: its text in English letters, without its mark and key.
QString commandName(const QAction& command);

} // namespace snare::app
