// SPDX-License-Identifier: Apache-2.0
/// The sounds of a scene while it is played or recorded: a file beside the scene, or for a name a
/// short tone of its own, so that it is heard before it has a file.
///
/// Whatever opens devices and files is done in a thread of its own; where there is no audio,
/// nothing is heard.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

#include <QSet>
#include <QThread>

namespace snare::app {

class SoundPlayer;

/// The pitch of the tone that stands for a name, Hz: a step of a five-note row between 196 and 880.
double pitchOf(std::string_view name);

class Sounds : public QObject {
    Q_OBJECT

  public:
    Sounds(Document& document, Stage& stage, QObject* parent = nullptr);
    ~Sounds() override;

    bool areOn() const { return on_; }
    void setOn(bool on) { on_ = on; }

  signals:
    /// The take has come to a sound, whether or not it can be heard; `gain` is 0 or more, 1 as it
    /// was recorded.
    void sounded(const QString& what, double gain);
    /// A file that cannot be played, and why; once for each.
    void failed(const QString& message);

  private:
    void follow();
    void sound(const QString& what, double gain);
    void sayOnce(const QString& what, const QString& message);

    Document& document_;
    Stage& stage_;
    bool on_ = true;
    std::int64_t told_ = 0; ///< the tick up to which sounds were told
    QSet<QString> said_;    ///< of what a fault was said
    QThread thread_;
    SoundPlayer* player_; ///< lives in the thread
};

} // namespace snare::app
