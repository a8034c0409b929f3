// SPDX-License-Identifier: Apache-2.0
#include "app/ui/flow_layout.h"

#include <QWidget>

namespace snare::app {

FlowLayout::FlowLayout(QWidget* parent, int gap, int lineGap) : QLayout(parent), gap_(gap), lineGap_(lineGap)
{
    setContentsMargins(0, 0, 0, 0);
}

FlowLayout::~FlowLayout()
{
    for (QLayoutItem* item : items_)
        delete item;
}

void FlowLayout::giveHelp(const QString& topic)
{
    for (QLayoutItem* item : items_)
        if (QWidget* widget = item->widget())
            widget->setProperty("help", topic);
}

void FlowLayout::addItem(QLayoutItem* item)
{
    items_.push_back(item);
}

int FlowLayout::count() const
{
    return static_cast<int>(items_.size());
}

QLayoutItem* FlowLayout::itemAt(int index) const
{
    return index >= 0 && index < count() ? items_[static_cast<std::size_t>(index)] : nullptr;
}

QLayoutItem* FlowLayout::takeAt(int index)
{
    if (index < 0 || index >= count())
        return nullptr;
    QLayoutItem* item = items_[static_cast<std::size_t>(index)];
    items_.erase(items_.begin() + index);
    return item;
}

int FlowLayout::heightForWidth(int width) const
{
    return place({0, 0, width, 0}, false);
}

QSize FlowLayout::minimumSize() const
{
    QSize size;
    for (const QLayoutItem* item : items_)
        size = size.expandedTo(item->minimumSize());
    return size;
}

void FlowLayout::setGeometry(const QRect& rect)
{
    QLayout::setGeometry(rect);
    place(rect, true);
}

int FlowLayout::place(const QRect& rect, bool reallyMove) const
{
    int x = rect.x();
    int y = rect.y();
    int lineHeight = 0;
    for (std::size_t i = 0; i < items_.size(); ++i) {
        QLayoutItem* item = items_[i];
        const QSize hint = item->sizeHint();
        const QSize size{std::min(hint.width(), std::max(1, rect.width())), hint.height()};
        // A label does not stay behind when what it is about goes to the next line.
        int needed = size.width();
        if (i + 1 < items_.size() && item->widget() && item->widget()->property(keepsNext).toBool())
            needed += gap_ + items_[i + 1]->sizeHint().width();
        const bool fits = x + std::min(needed, rect.width()) <= rect.right() + 1;
        if (!fits && lineHeight > 0) {
            x = rect.x();
            y += lineHeight + lineGap_;
            lineHeight = 0;
        }
        if (reallyMove)
            item->setGeometry({QPoint{x, y}, size});
        x += size.width() + gap_;
        lineHeight = std::max(lineHeight, size.height());
    }
    return y + lineHeight - rect.y();
}

} // namespace snare::app
