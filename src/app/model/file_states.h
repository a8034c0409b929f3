// SPDX-License-Identifier: Apache-2.0
/// What files held when they were last read or written here, so that what another program changes
/// is noticed.
#pragma once

#include <QByteArray>
#include <QDateTime>
#include <QString>
#include <QStringList>

#include <map>

namespace snare::app {

class FileStates {
  public:
    void clear() { states_.clear(); }
    /// The file is as this program knows it. A file that is not there is forgotten.
    void remember(const QString& path);
    void forget(const QString& path) { states_.erase(path); }
    bool knows(const QString& path) const { return states_.contains(path); }
    /// Whether a file that is known holds something else now. One that was removed does not.
    bool isChanged(const QString& path) const;
    /// Whether writing would replace what this program has not seen: the file is there, and not
    /// known as it is.
    bool isForeign(const QString& path) const;
    QStringList changed() const;
    QStringList files() const;

  private:
    struct State {
        qint64 size = 0;
        QDateTime written;
        QByteArray hash;
    };

    std::map<QString, State> states_;
};

} // namespace snare::app
