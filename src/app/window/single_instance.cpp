// SPDX-License-Identifier: Apache-2.0
#include "app/window/single_instance.h"

#include <QCryptographicHash>
#include <QLocalSocket>
#include <QStandardPaths>

namespace snare::app {

namespace {

constexpr int patienceMs = 5000; // of a busy program; where there is none, that is known at once
constexpr qsizetype longestPath = qsizetype{64} * 1024;
constexpr const char* taken = "taken\n";

QString serverName()
{
    const QByteArray who = QStandardPaths::writableLocation(QStandardPaths::ConfigLocation).toUtf8() + '\0' +
                           qgetenv("WAYLAND_DISPLAY") + '\0' + qgetenv("DISPLAY");
    return QStringLiteral("fresh-snare-") +
           QString::fromLatin1(QCryptographicHash::hash(who, QCryptographicHash::Sha256).toHex().left(16));
}

} // namespace

bool SingleInstance::handOver(const QString& file)
{
    QLocalSocket socket;
    socket.connectToServer(serverName());
    if (!socket.waitForConnected(patienceMs))
        return false;
    socket.write(file.toUtf8() + '\n');
    return socket.waitForBytesWritten(patienceMs) && socket.waitForReadyRead(patienceMs) && socket.readAll() == taken;
}

void SingleInstance::listen()
{
    QLocalSocket other;
    other.connectToServer(serverName());
    if (other.waitForConnected(patienceMs))
        return;
    QLocalServer::removeServer(serverName()); // what a crash left
    server_.setSocketOptions(QLocalServer::UserAccessOption);
    connect(&server_, &QLocalServer::newConnection, this, &SingleInstance::greet);
    server_.listen(serverName());
}

void SingleInstance::greet()
{
    while (QLocalSocket* visitor = server_.nextPendingConnection()) {
        connect(visitor, &QLocalSocket::disconnected, visitor, &QObject::deleteLater);
        connect(visitor, &QLocalSocket::readyRead, this, [this, visitor] {
            if (!visitor->canReadLine()) {
                if (visitor->bytesAvailable() > longestPath)
                    visitor->abort();
                return;
            }
            const QString file = QString::fromUtf8(visitor->readLine()).chopped(1);
            visitor->write(taken);
            visitor->flush();
            if (!file.isEmpty())
                emit fileGiven(file);
        });
    }
}

} // namespace snare::app
