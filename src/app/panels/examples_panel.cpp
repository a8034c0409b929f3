// SPDX-License-Identifier: Apache-2.0
#include "app/panels/examples_panel.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "io/document.h"
#include "io/json.h"

#include <QDir>
#include <QFile>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>
#include <nlohmann/json.hpp>

#include <algorithm>

namespace snare::app {

std::vector<Example> examplesIn(const QStringList& folders)
{
    std::vector<Example> examples;
    for (const QString& folder : folders) {
        QFile index{QDir{folder}.filePath(QStringLiteral("examples.json"))};
        if (!index.open(QIODevice::ReadOnly))
            continue;
        const io::Json list = io::Json::parse(index.readAll().toStdString(), nullptr, false);
        if (!list.is_array())
            continue;
        for (const io::Json& entry : list) {
            const auto text = [&](const char* key) {
                return entry.is_object() && entry.contains(key) && entry[key].is_string()
                           ? toText(entry[key].get<std::string>())
                           : QString();
            };
            const QString file = QDir{folder}.filePath(text("scene") + QStringLiteral(".snare.json"));
            if (const auto scene = io::loadScene(file.toStdString()))
                examples.push_back({file, toText(scene->name), text("about"), text("try")});
        }
        break;
    }
    return examples;
}

ExampleButton::ExampleButton(const Example& example, QWidget* parent) : QAbstractButton(parent), example_(example)
{
    setText(example.title);
    setAccessibleName(example.title + QStringLiteral(". ") + example.about);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedSize(sizeHint());
}

void ExampleButton::setPicture(const QImage& picture)
{
    picture_ = picture;
    update();
}

void ExampleButton::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    const bool lit = hasFocus() || underMouse();
    painter.setPen(QPen{lit ? t.mint : t.hairline, lit ? 1.8 : 1});
    painter.setBrush(t.paper);
    painter.drawRoundedRect(box, 6, 6);
    const QRectF picture{QPointF{(width() - pictureSize().width()) / 2.0, 8}, QSizeF{pictureSize()}};
    painter.fillRect(picture, t.ground);
    if (!picture_.isNull())
        painter.drawImage(picture.topLeft(), picture_);
    const double left = picture.left() + 2;
    const double wide = picture.width() - 4;
    double top = picture.bottom() + 8;
    const auto write = [&](const QString& words, const QFont& font, const QColor& colour, double height) {
        painter.setFont(font);
        painter.setPen(colour);
        painter.drawText(QRectF{left, top, wide, height}, Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop, words);
        top += height;
    };
    write(example_.title, textFont(0.5, true), t.ink, 22);
    write(example_.about, textFont(-1), t.ink, 34);
    write(example_.tryIt, textFont(-1), t.mintText, 34);
}

void ExampleButton::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        click();
    else
        QAbstractButton::keyPressEvent(event);
}

ExamplesPanel::ExamplesPanel(std::vector<Example> examples, std::function<QImage(const QString& file)> pictureOf,
                             QWidget* parent)
    : QDialog(parent), examples_(std::move(examples)), pictureOf_(std::move(pictureOf))
{
    setObjectName(QStringLiteral("examples"));
    setWindowTitle(tr("Examples"));
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(18, 14, 6, 10);
    auto* title = new QLabel{examples_.empty()
                                 ? tr("No examples were found: they come with the package fresh-snare-doc.")
                                 : tr("All in Samphire Harbour. Each opens as yours to change: saving offers a copy."),
                             this};
    title->setFont(textFont());
    colourText(title, &Theme::inkSoft);
    column->addWidget(title);
    auto* area = new QScrollArea{this};
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    auto* inner = new QWidget;
    auto* grid = new QGridLayout{inner};
    grid->setContentsMargins(0, 6, 12, 6);
    grid->setSpacing(12);
    constexpr int columns = 3;
    for (std::size_t i = 0; i < examples_.size(); ++i) {
        auto* button = new ExampleButton{examples_[i], inner};
        button->setObjectName(QStringLiteral("example ") + QFileInfo{examples_[i].file}.baseName());
        connect(button, &QAbstractButton::clicked, this, [this, file = examples_[i].file] {
            close();
            emit chosen(file);
        });
        grid->addWidget(button, static_cast<int>(i) / columns, static_cast<int>(i) % columns);
        buttons_.push_back(button);
    }
    area->setWidget(inner);
    column->addWidget(area, 1);
    resize(3 * 308 + 60, 620);
    if (!buttons_.empty())
        buttons_.front()->setFocus(Qt::OtherFocusReason);
    QTimer::singleShot(0, this, &ExamplesPanel::drawNext);
}

void ExamplesPanel::drawNext()
{
    if (drawn_ >= buttons_.size())
        return;
    buttons_[drawn_]->setPicture(pictureOf_(examples_[drawn_].file));
    ++drawn_;
    QTimer::singleShot(0, this, &ExamplesPanel::drawNext);
}

/// The arrow keys go through the pictures.
void ExamplesPanel::keyPressEvent(QKeyEvent* event)
{
    const auto at = std::ranges::find(buttons_, focusWidget());
    const auto now = at - buttons_.begin();
    const int by = event->key() == Qt::Key_Right  ? 1
                   : event->key() == Qt::Key_Left ? -1
                   : event->key() == Qt::Key_Down ? 3
                   : event->key() == Qt::Key_Up   ? -3
                                                  : 0;
    if (by == 0 || at == buttons_.end())
        return QDialog::keyPressEvent(event);
    const auto to = now + by;
    if (to >= 0 && to < static_cast<std::ptrdiff_t>(buttons_.size()))
        buttons_[static_cast<std::size_t>(to)]->setFocus(Qt::TabFocusReason);
}

} // namespace snare::app
