// SPDX-License-Identifier: Apache-2.0
/// Presses of keys as a hand makes them, without what the display server adds while a key is held.
///
/// A server repeats a held key as a release and a press at once, with nearly the same time stamp.
/// The toolkit marks such pairs only if it sees both together; under load it does not. So a release
/// waits a moment for the press that would belong to it: if that comes, neither was one.
#pragma once

#include <QObject>
#include <QTimer>

#include <functional>
#include <vector>

class QKeyEvent;

namespace snare::app {

class KeyPresses : public QObject {
    Q_OBJECT

  public:
    /// `tell` hears the X keysym name of a key and whether it went down; each key goes down once
    /// before it goes up.
    explicit KeyPresses(std::function<void(const QString& name, bool down)> tell, QObject* parent = nullptr);

    void press(const QKeyEvent& event);
    void release(const QKeyEvent& event);
    /// Lets go of all keys.
    void letGo();

  private:
    struct Held {
        quint32 code; ///< of the keyboard, or what stands for it
        QString name; ///< with which it went down: with Shift its release may have another one
        bool isLetGo = false;
        quint64 letGoAt = 0; ///< time stamp of the server, ms
    };

    void tellReleases();

    std::function<void(const QString&, bool)> tell_;
    std::vector<Held> held_;
    QTimer wait_;
};

} // namespace snare::app
