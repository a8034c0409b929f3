// SPDX-License-Identifier: Apache-2.0
/// Files that are opened from outside while the application runs: they are handed to the one that
/// is there.
#pragma once

#include <QLocalServer>
#include <QObject>

namespace snare::app {

/// Known to the programs of one person with the same settings on the same display.
class SingleInstance : public QObject {
    Q_OBJECT

  public:
    using QObject::QObject;

    /// Hands a file to the application that runs already. False if there is none, or if it does not
    /// answer.
    static bool handOver(const QString& file);
    /// From now on files are handed here; not if another one is there already.
    void listen();

  signals:
    void fileGiven(const QString& file);

  private:
    void greet();

    QLocalServer server_;
};

} // namespace snare::app
