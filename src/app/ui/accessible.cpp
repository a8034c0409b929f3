// SPDX-License-Identifier: Apache-2.0
#include "app/ui/accessible.h"

#include <QAccessibleWidget>
#include <QVariant>
#include <QWidget>

namespace snare::app {

namespace {

constexpr const char* property = "accessibleRole";

QAccessibleInterface* interfaceOf(const QString& /*className*/, QObject* object)
{
    auto* widget = qobject_cast<QWidget*>(object);
    const QVariant role = widget ? widget->property(property) : QVariant();
    return role.isValid() ? new QAccessibleWidget{widget, static_cast<QAccessible::Role>(role.toInt())} : nullptr;
}

} // namespace

void giveRole(QWidget* widget, QAccessible::Role role, const QString& name)
{
    static const bool isInstalled = [] {
        QAccessible::installFactory(interfaceOf);
        return true;
    }();
    static_cast<void>(isInstalled);
    widget->setProperty(property, static_cast<int>(role));
    if (!name.isEmpty())
        widget->setAccessibleName(name);
}

} // namespace snare::app
