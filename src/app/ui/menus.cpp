// SPDX-License-Identifier: Apache-2.0
#include "app/ui/menus.h"

#include <QMenu>

namespace snare::app {

QMenu* makeMenu(QWidget* owner)
{
    auto* menu = new QMenu{owner};
    menu->setAttribute(Qt::WA_DeleteOnClose);
    return menu;
}

} // namespace snare::app
