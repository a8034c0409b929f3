// SPDX-License-Identifier: Apache-2.0
#include "app/ground/picture_view.h"

#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QCache>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QImageReader>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScreen>
#include <QSlider>
#include <QVBoxLayout>

#include <cmath>
#include <map>

namespace snare::app {

QImage pictureOf(const io::Pictures& pictures, const std::string& name)
{
    struct Kept {
        QDateTime changed;
        QImage image;
    };
    static QCache<QString, Kept> kept{64};
    const QFileInfo file{QString::fromStdString((pictures.folder() / name).string())};
    if (const Kept* found = kept.object(file.filePath()); found && found->changed == file.lastModified())
        return found->image;
    QImageReader reader{file.filePath()};
    constexpr int sideOfDrawing = 512; // a drawing has no pixels of its own
    if (reader.format() == "svg" && reader.size().isValid())
        reader.setScaledSize(reader.size().scaled(sideOfDrawing, sideOfDrawing, Qt::KeepAspectRatio));
    QImage image = reader.read();
    kept.insert(file.filePath(), new Kept{file.lastModified(), image});
    return image;
}

scene::Colour commonColour(const io::Picture& picture)
{
    std::map<std::uint32_t, int> counts;
    for (std::size_t i = 0; i + 3 < picture.pixels.size(); i += 4)
        if (picture.pixels[i + 3] >= 128)
            ++counts[static_cast<std::uint32_t>(picture.pixels[i] << 16 | picture.pixels[i + 1] << 8 |
                                                picture.pixels[i + 2])];
    std::uint32_t best = 0;
    int most = 0;
    for (const auto& [colour, count] : counts)
        if (count > most) {
            most = count;
            best = colour;
        }
    return {QColor::fromRgb(best).name().toStdString()};
}

// --- the picture ---------------------------------------------------------------------------------------------------

PictureView::PictureView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("picture"));
    setAccessibleName(tr("Picture: click a colour to trace it"));
    setMouseTracking(true);
    setCursor(Qt::CrossCursor);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void PictureView::show(const QImage& image, std::vector<geometry::Ring> rings)
{
    image_ = image.convertToFormat(QImage::Format_RGBA8888);
    rings_ = std::move(rings);
    update();
}

QRectF PictureView::frame() const
{
    const QSizeF size = QSizeF{image_.size()}.scaled(QSizeF{this->size()} - QSizeF{2, 2}, Qt::KeepAspectRatio);
    QRectF frame{QPointF{0, 0}, size};
    frame.moveCenter(QRectF{rect()}.center());
    return frame;
}

QColor PictureView::colourAt(const QPointF& at) const
{
    const QRectF box = frame();
    if (image_.isNull() || !box.contains(at))
        return {};
    const QPointF part{(at.x() - box.x()) / box.width() * image_.width(),
                       (at.y() - box.y()) / box.height() * image_.height()};
    const QPoint pixel{std::min(static_cast<int>(part.x()), image_.width() - 1),
                       std::min(static_cast<int>(part.y()), image_.height() - 1)};
    const QColor colour = image_.pixelColor(pixel);
    return colour.alpha() >= 128 ? colour : QColor{};
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter painter{this};
    painter.fillRect(rect(), theme().ground);
    if (image_.isNull())
        return;
    const QRectF box = frame();
    for (int y = 0; y * 8 < box.height(); ++y) // squares show through where the picture does
        for (int x = y % 2; x * 8 < box.width(); x += 2)
            painter.fillRect(QRectF{box.x() + x * 8, box.y() + y * 8, 8, 8}.intersected(box), theme().gridFine);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, box.width() < image_.width());
    painter.drawImage(box, image_);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath area;
    for (const geometry::Ring& ring : rings_) {
        QPolygonF outline;
        for (const geometry::Vec& point : ring)
            outline << QPointF{box.center().x() + point.x * box.width(), box.center().y() - point.y * box.height()};
        area.addPolygon(outline);
        area.closeSubpath();
    }
    QPainterPath rest;
    rest.addRect(box);
    QColor veil = theme().ground;
    veil.setAlpha(120);
    painter.fillPath(rest.subtracted(area), veil);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{theme().paper, 3.4});
    painter.drawPath(area);
    painter.setPen(QPen{theme().mint, 1.8});
    painter.drawPath(area);
    if (!pointer_)
        return;
    const QColor colour = colourAt(*pointer_);
    if (!colour.isValid())
        return;
    QRectF drop{0, 0, 30, 30};
    drop.moveCenter(*pointer_ + QPointF{26, pointer_->y() < 40 ? 26.0 : -26.0});
    painter.setPen(QPen{theme().ink, 1.6});
    painter.setBrush(colour);
    painter.drawRoundedRect(drop, 6, 6);
}

void PictureView::mouseMoveEvent(QMouseEvent* event)
{
    pointer_ = event->position();
    update();
}

void PictureView::mousePressEvent(QMouseEvent* event)
{
    const QColor colour = colourAt(event->position());
    if (event->button() == Qt::LeftButton && colour.isValid())
        emit picked(colour, event->modifiers().testFlag(Qt::ShiftModifier));
}

void PictureView::leaveEvent(QEvent*)
{
    pointer_.reset();
    update();
}

// --- the panel -----------------------------------------------------------------------------------------------------

TracePicker* TracePicker::open(QWidget* anchor, Document& document, std::string piece, std::size_t shape)
{
    auto* picker = new TracePicker{anchor->window(), document, std::move(piece), shape};
    picker->adjustSize();
    QPoint at = anchor->mapToGlobal(QPoint{0, anchor->height() + 2});
    const QRect screen = anchor->screen()->availableGeometry();
    at.setX(std::clamp(at.x(), screen.left(), std::max(screen.left(), screen.right() - picker->width())));
    at.setY(std::clamp(at.y(), screen.top(), std::max(screen.top(), screen.bottom() - picker->height())));
    picker->move(at);
    picker->QFrame::show();
    picker->tolerance_->setFocus(Qt::PopupFocusReason);
    return picker;
}

TracePicker::TracePicker(QWidget* parent, Document& document, std::string piece, std::size_t shape)
    : QFrame(parent, Qt::Popup), document_(document), piece_(std::move(piece)), shape_(shape),
      gesture_(document.newGesture())
{
    setObjectName(QStringLiteral("tracePicker"));
    setAttribute(Qt::WA_DeleteOnClose);
    dress(this, [] {
        return QStringLiteral("#tracePicker { background: %1; border: 1px solid %2; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(12, 10, 12, 12);
    column->setSpacing(8);
    auto* title = new QLabel{tr("Click the colour to trace; Shift adds another"), this};
    title->setFont(textFont(-0.5, true));
    column->addWidget(title);
    view_ = new PictureView{this};
    column->addWidget(view_, 1);
    connect(view_, &PictureView::picked, this, [this](const QColor& colour, bool another) {
        change(tr("Pick a colour for %1"), [&](scene::Traced& traced) {
            const scene::Colour picked{colour.name().toStdString()};
            auto& colours = traced.colour.items;
            if (!another)
                colours = {picked};
            else if (std::ranges::find(colours, picked) == colours.end())
                colours.push_back(picked);
        });
    });
    colours_ = new QWidget{this};
    new QHBoxLayout{colours_};
    colours_->layout()->setContentsMargins(0, 0, 0, 0);
    column->addWidget(colours_);
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel{tr("tolerance"), this});
    tolerance_ = new QSlider{Qt::Horizontal, this};
    tolerance_->setObjectName(QStringLiteral("tolerance"));
    tolerance_->setAccessibleName(tr("How far red, green and blue may be off, 0 to 255"));
    tolerance_->setRange(0, 255);
    row->addWidget(tolerance_, 1);
    said_ = new QLabel{this};
    said_->setObjectName(QStringLiteral("traceSaid"));
    said_->setFont(figureFont(-0.5));
    column->addLayout(row);
    column->addWidget(said_);
    connect(tolerance_, &QSlider::valueChanged, this, [this](int value) {
        change(tr("Change the tolerance of %1"), [&](scene::Traced& traced) { traced.tolerance = value; });
    });
    connect(&document_, &Document::changed, this, &TracePicker::refresh);
    refresh();
}

const scene::Traced* TracePicker::traced() const
{
    const scene::Piece* piece = scene::findPiece(document_.scene(), piece_);
    return piece && shape_ < piece->shapes.size() ? std::get_if<scene::Traced>(&piece->shapes[shape_].geometry)
                                                  : nullptr;
}

std::string TracePicker::imageName() const
{
    const scene::Traced* now = traced();
    if (!now)
        return {};
    return now->image.empty() ? scene::findPiece(document_.scene(), piece_)->look.image : now->image;
}

void TracePicker::refresh()
{
    const scene::Traced* now = traced();
    if (!now) {
        close();
        return;
    }
    std::vector<geometry::Ring> rings;
    if (const scene::TracedArea* area = now->tracing.of(imageName()))
        rings = area->rings;
    const double area = geometry::areaOf(rings);
    std::size_t corners = 0;
    for (geometry::Ring& ring : rings)
        for (geometry::Vec& point : ring) {
            point /= now->size;
            ++corners;
        }
    view_->show(pictureOf(document_.pictures(), imageName()), std::move(rings));
    const QSignalBlocker quiet{tolerance_};
    tolerance_->setValue(static_cast<int>(std::lround(now->tolerance)));
    said_->setText(corners == 0
                       ? tr("%1 of 255: nothing").arg(now->tolerance)
                       : tr("%1 of 255: %2 corners, %3 m²").arg(now->tolerance).arg(corners).arg(area, 0, 'g', 3));
    for (QPushButton* chip : colours_->findChildren<QPushButton*>(QString{}, Qt::FindDirectChildrenOnly)) {
        chip->hide();
        chip->deleteLater(); // it may be the one that was clicked
    }
    auto* row = static_cast<QHBoxLayout*>(colours_->layout());
    while (row->count() > 0)
        delete row->takeAt(0);
    for (const scene::Colour& colour : now->colour.items) {
        const QColor shown{toText(colour.code)};
        auto* chip = new QPushButton{toText(colour.code), colours_};
        chip->setStyleSheet(QStringLiteral("QPushButton { background: %1; color: %2; border: 1px solid %3; "
                                           "border-radius: 4px; padding: 3px 8px; }")
                                .arg(shown.name(),
                                     shown.lightnessF() < 0.5F ? theme().bright.name() : theme().deep.name(),
                                     theme().ink.name()));
        chip->setToolTip(now->colour.items.size() > 1 ? tr("Click to leave it out") : QString());
        connect(chip, &QPushButton::clicked, this, [this, colour] {
            change(tr("Change the colours of %1"), [&](scene::Traced& target) {
                if (target.colour.items.size() > 1)
                    std::erase(target.colour.items, colour);
            });
        });
        row->addWidget(chip);
    }
    row->addStretch(1);
}

void TracePicker::change(const QString& name, const std::function<void(scene::Traced&)>& change)
{
    document_.edit(
        name.arg(toText(piece_)),
        [&](scene::Scene& scene) {
            scene::Piece* piece = scene::findPiece(scene, piece_);
            if (!piece || shape_ >= piece->shapes.size())
                return;
            if (auto* target = std::get_if<scene::Traced>(&piece->shapes[shape_].geometry))
                change(*target);
        },
        gesture_);
}

} // namespace snare::app
