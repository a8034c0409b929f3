// SPDX-License-Identifier: Apache-2.0
#include "app/model/file_states.h"

#include <QCryptographicHash>
#include <QFile>
#include <QFileInfo>

namespace snare::app {

namespace {

QByteArray hashOf(const QString& path)
{
    QFile file{path};
    QCryptographicHash hash{QCryptographicHash::Sha1};
    return file.open(QIODevice::ReadOnly) && hash.addData(&file) ? hash.result() : QByteArray();
}

} // namespace

void FileStates::remember(const QString& path)
{
    const QFileInfo info{path};
    if (info.isFile())
        states_[path] = {info.size(), info.lastModified(), hashOf(path)};
    else
        states_.erase(path);
}

bool FileStates::isChanged(const QString& path) const
{
    const auto known = states_.find(path);
    const QFileInfo info{path};
    if (known == states_.end() || !info.isFile())
        return false;
    const State& state = known->second;
    if (info.size() == state.size && info.lastModified() == state.written)
        return false;
    return info.size() != state.size || hashOf(path) != state.hash;
}

bool FileStates::isForeign(const QString& path) const
{
    return knows(path) ? isChanged(path) : QFileInfo{path}.isFile();
}

QStringList FileStates::changed() const
{
    QStringList result;
    for (const auto& entry : states_)
        if (isChanged(entry.first))
            result << entry.first;
    return result;
}

QStringList FileStates::files() const
{
    QStringList result;
    for (const auto& entry : states_)
        result << entry.first;
    return result;
}

} // namespace snare::app
