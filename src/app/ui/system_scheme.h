// SPDX-License-Identifier: Apache-2.0
/// Whether the desktop wants dark colours, as it says itself over the open settings interface for
/// desktops (D-Bus), now and whenever that changes. Without such a desktop nothing is ever said.
#pragma once

#include <QDBusVariant>
#include <QObject>

namespace snare::app {

class SystemScheme : public QObject {
    Q_OBJECT

  public:
    explicit SystemScheme(QObject* parent = nullptr);

  signals:
    void told(bool dark);

  private slots:
    void settingChanged(const QString& space, const QString& key, const QDBusVariant& value);
    void ask();
};

} // namespace snare::app
