// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_painter.h"

#include "app/ground/figures.h"
#include "app/ground/ground_contacts.h"
#include "app/ground/ground_motion.h"
#include "app/ground/ground_play.h"
#include "app/ground/ground_threads.h"
#include "app/ground/picture_view.h"
#include "app/ui/words.h"
#include "scene/kits.h"

#include <QPainterPath>

#include <cmath>
#include <map>

namespace snare::app {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

/// How long a hit stays to be seen, s.
constexpr double hitSeconds = 0.25;

/// A look that is a picture, or several.
bool hasPicture(const scene::Look& look)
{
    return !look.image.empty() || std::holds_alternative<std::vector<std::string>>(look.frames.held);
}

/// A traced shape without an outline.
bool isLost(const scene::Shape& shape)
{
    const auto* traced = std::get_if<scene::Traced>(&shape.geometry);
    if (!traced)
        return false;
    const scene::TracedArea* area = world::shownArea(*traced);
    return !area || area->rings.empty();
}

constexpr double speckPixels = 9; ///< smaller pieces are drawn as specks

} // namespace

GroundPainter::GroundPainter(QPainter& painter, const GroundTransform& transform, const scene::Scene& scene,
                             const sim::Record& record, std::int64_t tick, const Selection& selection,
                             const GroundOptions& options, io::Pictures* pictures, Sprites* sprites)
    : painter_(painter), transform_(transform), scene_(scene), record_(record), tick_(tick), selection_(selection),
      options_(options), pictures_(pictures), sprites_(sprites)
{
    std::size_t zones = 0;
    for (const scene::Piece& piece : scene.pieces)
        zoneOrder_.push_back(hasZoneOnly(piece) && piece.enabled ? zones++ : zones);
    for (const sim::Insider& inside : sim::insidersAt(record, tick))
        if (!world::isPointer(inside.visitor)) // it is over a piece, not inside it
            ++insideOf_[record.nameOf(record.shapeNames[static_cast<std::size_t>(inside.shape)].piece)];
}

bool GroundPainter::hasZoneOnly(const scene::Piece& piece) const
{
    return !piece.shapes.empty() &&
           std::ranges::all_of(piece.shapes, [](const scene::Shape& shape) { return shape.role == scene::Role::zone; });
}

QColor GroundPainter::zoneColour(std::size_t piece) const
{
    return theme().accent(piece < zoneOrder_.size() ? zoneOrder_[piece] : 0);
}

void GroundPainter::paint(const std::vector<ShownPiece>& pieces, const std::vector<Vec>& trail)
{
    painter_.setRenderHint(QPainter::Antialiasing);
    if (!options_.bare) {
        paintGrid();
        paintBounds();
    }
    const QRectF view{QPointF{0, 0}, transform_.size};
    std::vector<const ShownPiece*> near; // in view and large enough to be looked at
    std::map<QRgb, std::vector<QRect>> specks;
    for (const ShownPiece& piece : pieces) {
        const QRectF box = transform_.toView(piece.box);
        if (!piece.present || !box.intersects(view) || options_.veiled.contains(piece.piece->id))
            continue;
        if (std::max(box.width(), box.height()) < speckPixels && !selection_.has(piece.piece->id))
            noteSpeck(piece, box, specks);
        else
            near.push_back(&piece);
        overPictures_ = overPictures_ || hasPicture(*piece.look);
    }
    painter_.setRenderHint(QPainter::Antialiasing, false);
    painter_.setPen(Qt::NoPen);
    for (const auto& [colour, rectangles] : specks)
        for (const QRect& rectangle : rectangles)
            painter_.fillRect(rectangle, QColor::fromRgba(colour));
    painter_.setRenderHint(QPainter::Antialiasing);
    const auto firstPinned = std::ranges::find_if(near, [](const ShownPiece* piece) { return piece->pinned; });
    for (auto piece = near.begin(); piece != firstPinned; ++piece)
        paintPiece(**piece);
    if (options_.glass) {
        painter_.fillRect(view, withAlpha(theme().ground, 185));
        paintLabels({near.begin(), firstPinned});
        painter_.fillRect(view, withAlpha(theme().ground, 120));
    }
    if (options_.glass || std::ranges::any_of(pieces, &ShownPiece::pinned))
        paintViewFrame(painter_, transform_, viewFrame(scene_, record_, tick_), options_.glass);
    for (auto piece = firstPinned; piece != near.end(); ++piece)
        paintPiece(**piece);
    if (!options_.clean)
        for (const ShownPiece* piece : near)
            if (options_.motion || selection_.has(piece->piece->id))
                paintRoute(painter_, transform_, *piece);
    if (options_.motion)
        paintMotion(painter_, transform_, record_, tick_, pieces);
    if (!options_.clean)
        for (const DrawnThread& thread :
             drawnThreads(scene_, pieces, record_, tick_, selection_, options_, transform_)) {
            paintThread(painter_, thread);
            if (!thread.chosen)
                continue;
            painter_.setPen(QPen{theme().ink, 1.6}); // its end can be taken elsewhere
            painter_.setBrush(theme().paper);
            painter_.drawEllipse(thread.path.currentPosition(), 5, 5);
        }
    if (!options_.clean)
        paintContacts(pieces);
    paintMissing();
    paintTrail(trail);
    if (options_.bare)
        return;
    paintLabels({options_.glass ? firstPinned : near.begin(), near.end()});
    if (!selection_.pieces().empty())
        for (const ShownPiece& piece : pieces)
            if (selection_.has(piece.piece->id))
                paintSelection(piece);
    if (!insideOf_.empty())
        paintInside(pieces);
    paintPennants(pieces);
    paintCaptions(pieces);
    paintScaleBar();
}

/// Where an assembly is laid that is not there: its kit is missing.
void GroundPainter::paintMissing()
{
    for (const scene::Laid& laid : scene_.laid) {
        if (scene::findAssembly(scene_, laid.assembly))
            continue;
        const QPointF at = transform_.toView(laid.at);
        painter_.setPen(QPen{theme().coral, 1.4, Qt::DashLine});
        painter_.setBrush(Qt::NoBrush);
        painter_.drawRect(QRectF{at.x() - 14, at.y() - 14, 28, 28});
        painter_.drawLine(at - QPointF{5, 5}, at + QPointF{5, 5});
        painter_.drawLine(at - QPointF{5, -5}, at + QPointF{5, -5});
        painter_.setFont(textFont(-1));
        painter_.setPen(theme().coralText);
        painter_.drawText(QRectF{at.x() - 120, at.y() + 16, 240, 18}, Qt::AlignCenter,
                          QObject::tr("%1: no assembly %2").arg(toText(laid.id), toText(laid.assembly)));
    }
}

void GroundPainter::paintGrid()
{
    const QRectF view{QPointF{0, 0}, transform_.size};
    painter_.fillRect(view, theme().ground);
    double fine = 1;
    while (fine * transform_.scale < 9)
        fine *= 5;
    const Vec low = transform_.toScene(view.bottomLeft());
    const Vec high = transform_.toScene(view.topRight());
    painter_.setRenderHint(QPainter::Antialiasing, false);
    const auto lines = [&](double step, const QColor& colour) {
        painter_.setPen(QPen{colour, 1});
        for (double x = std::floor(low.x / step) * step; x <= high.x; x += step)
            painter_.drawLine(QPointF{transform_.toView(Vec{x, 0}).x(), 0},
                              QPointF{transform_.toView(Vec{x, 0}).x(), view.height()});
        for (double y = std::floor(low.y / step) * step; y <= high.y; y += step)
            painter_.drawLine(QPointF{0, transform_.toView(Vec{0, y}).y()},
                              QPointF{view.width(), transform_.toView(Vec{0, y}).y()});
    };
    lines(fine, theme().gridFine);
    lines(fine * 5, theme().gridBold);
    painter_.setRenderHint(QPainter::Antialiasing);
}

void GroundPainter::paintBounds()
{
    if (!scene_.bounds)
        return;
    const auto& [left, bottom, right, top] = *scene_.bounds;
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(QPen{theme().hairline, 1.5, Qt::DashLine});
    painter_.drawRect(QRectF{transform_.toView(Vec{left, top}), transform_.toView(Vec{right, bottom})});
}

void GroundPainter::noteSpeck(const ShownPiece& piece, const QRectF& box,
                              std::map<QRgb, std::vector<QRect>>& specks) const
{
    const bool zone = hasZoneOnly(*piece.piece);
    if (zone && options_.clean)
        return;
    QColor colour = zone ? withAlpha(zoneColour(piece.index), 110) : colourOf(*piece.look, theme().slate);
    if (!piece.shown)
        colour.setAlpha(50);
    specks[colour.rgba()].push_back(box.toRect().united({box.topLeft().toPoint(), QSize{1, 1}}));
}

void GroundPainter::paintPiece(const ShownPiece& piece)
{
    painter_.setOpacity(!piece.shown ? 0.25 : piece.pinned && !piece.enabled ? 0.5 : 1);
    if (hasPicture(*piece.look))
        paintPicture(piece);
    const double whole = painter_.opacity();
    for (std::size_t i = 0; i < piece.piece->shapes.size(); ++i) {
        const scene::Shape& shape = piece.piece->shapes[i];
        const bool hidden = i < 64 && (piece.hiddenShapes >> i & 1) != 0;
        const bool disabled = i < 64 && (piece.disabledShapes >> i & 1) != 0;
        painter_.setOpacity(hidden ? 0.25 * whole : whole);
        if (hasPicture(*piece.look) || isLost(shape)) {
            paintOverPicture(piece, shape);
            continue;
        }
        if (shape.role == scene::Role::solid) {
            paintSolid(piece, shape);
            continue;
        }
        const QPainterPath path = shapePath(shape, piece.pose, transform_);
        if (!piece.piece->enabled || (!piece.look->colour.code.empty() &&
                                      hasZoneOnly(*piece.piece))) { // a zone with a look of its own is a picture too
            const QColor fill = colourOf(*piece.look, theme().solid);
            painter_.setBrush(fill);
            painter_.setPen(QPen{fill.darker(140), 1});
            painter_.drawPath(path);
            if (!piece.piece->enabled || options_.clean)
                continue;
            QPen stitch{theme().slate, 1.2};
            stitch.setDashPattern({4, 2, 1, 2});
            painter_.setBrush(Qt::NoBrush);
            painter_.setPen(stitch);
            painter_.drawPath(path);
            continue;
        }
        if (options_.clean)
            continue;
        const bool takesPart = piece.enabled && !disabled;
        const bool occupied = takesPart && !hidden && insideOf_.contains(piece.piece->id);
        paintZone(painter_, path,
                  path.boundingRect().width() < loopPixels ? std::vector<QPointF>{}
                                                           : loopsOf(shape, piece.pose, transform_),
                  takesPart ? zoneColour(piece.index) : theme().slate, occupied);
        if (options_.unvisited.contains(piece.piece->id))
            painter_.fillPath(path, QBrush{withAlpha(theme().slate, 150), Qt::BDiagPattern});
    }
    painter_.setOpacity(1);
}

/// The outline alone: what is under it is a picture, or a picture that is missing.
void GroundPainter::paintOverPicture(const ShownPiece& piece, const scene::Shape& shape)
{
    if (options_.clean)
        return;
    const QPainterPath path = shapePath(shape, piece.pose, transform_);
    painter_.setBrush(Qt::NoBrush);
    if (isLost(shape)) {
        painter_.setPen(QPen{theme().coral, 1.4, Qt::DotLine});
        painter_.drawPath(path);
        const QRectF box = path.boundingRect();
        const auto& traced = std::get<scene::Traced>(shape.geometry);
        const QString what = traced.image.empty() ? toText(piece.look->image) : toText(traced.image);
        painter_.setFont(textFont(-1));
        painter_.setPen(theme().coralText);
        painter_.drawText(box, Qt::AlignCenter | Qt::TextWordWrap,
                          what.isEmpty() ? QObject::tr("its look has no picture")
                                         : QObject::tr("%1: nothing to trace").arg(what));
        return;
    }
    const bool zone = shape.role == scene::Role::zone;
    const QColor colour = zone ? (piece.enabled ? zoneColour(piece.index) : theme().slate) : theme().ink;
    if (zone && piece.enabled && insideOf_.contains(piece.piece->id))
        painter_.setBrush(withAlpha(colour, 70));
    QPen pen{colour, zone ? 1.7 : 1.4};
    if (zone)
        pen.setDashPattern({5, 2.2, 1.2, 2.2});
    pen.setJoinStyle(Qt::RoundJoin);
    painter_.setPen(pen);
    painter_.drawPath(path);
}

/// The picture of a look: where its shape is traced from it, else fitted around its shapes.
/// The picture of the look, or of the frame that is shown since it was put on.
QImage GroundPainter::frameOf(const ShownPiece& piece) const
{
    const scene::Look& look = *piece.look;
    const auto* files = std::get_if<std::vector<std::string>>(&look.frames.held);
    const std::size_t count = look.frames.count();
    const auto passed = static_cast<std::size_t>(std::max(0.0, piece.dressed * look.frameRate + 1e-6));
    const std::size_t now = look.once ? std::min(passed, count - 1) : passed % std::max<std::size_t>(1, count);
    const std::string& name = files && !files->empty() ? (*files)[now] : look.image;
    QImage image = pictures_ && !name.empty() ? pictureOf(*pictures_, name) : QImage{};
    if (files || count < 2 || image.isNull())
        return image;
    const int width = image.width() / static_cast<int>(count);
    return image.copy(static_cast<int>(now) * width, 0, std::max(1, width), image.height());
}

void GroundPainter::paintPicture(const ShownPiece& piece)
{
    const QImage image = frameOf(piece);
    if (image.isNull())
        return;
    geometry::Pose placing{{0, 0}, 0};
    Vec size{1, static_cast<double>(image.height()) / std::max(1, image.width())};
    geometry::Bounds around;
    const scene::Shape* frame = nullptr;
    for (const scene::Shape& shape : piece.piece->shapes) {
        around.include(world::boundsOf(shape, {}));
        const auto* traced = std::get_if<scene::Traced>(&shape.geometry);
        if (traced && (traced->image.empty() || traced->image == piece.look->image))
            frame = &shape;
    }
    if (frame) {
        placing = {frame->at, frame->turn};
        size = std::get<scene::Traced>(frame->geometry).size;
    } else if (!around.empty()) {
        placing.at = around.centre();
        const double fit = std::min(around.size().x / size.x, around.size().y / size.y);
        size *= fit;
    }
    painter_.save();
    painter_.translate(transform_.toView(geometry::toScene(piece.pose, placing.at)));
    painter_.rotate(-(piece.pose.turn + placing.turn));
    painter_.setRenderHint(QPainter::SmoothPixmapTransform, image.width() > size.x * transform_.scale);
    const QSizeF pixels{size.x * transform_.scale, size.y * transform_.scale};
    painter_.drawImage(QRectF{QPointF{-pixels.width() / 2, -pixels.height() / 2}, pixels}, image);
    painter_.restore();
}

/// Where solids touch at the moment shown, and which way they push; hits with their speed.
void GroundPainter::paintContacts(const std::vector<ShownPiece>& pieces)
{
    const QRectF view{QPointF{0, 0}, transform_.size};
    for (const ShownContact& contact : contactsAt(record_, tick_, pieces)) {
        const QPointF way{contact.normal.x * 16, -contact.normal.y * 16};
        for (const Vec& point : contact.points) {
            const QPointF at = transform_.toView(point);
            if (!view.contains(at))
                continue;
            painter_.setPen(QPen{theme().paper, 4});
            painter_.drawLine(at, at + way);
            painter_.setPen(QPen{theme().plum, 2});
            painter_.drawLine(at, at + way);
            painter_.setPen(QPen{theme().paper, 1.2});
            painter_.setBrush(theme().plum);
            painter_.drawEllipse(at, 3.6, 3.6);
        }
    }
    const auto since = tick_ - static_cast<std::int64_t>(hitSeconds * record_.scene->rate);
    for (std::int64_t tick = std::max<std::int64_t>(1, since); tick <= tick_; ++tick)
        for (const Line& line : record_.linesOf(tick)) {
            if (line.kind != LineKind::event || line.event != EventKind::hit || line.self > line.visitor)
                continue;
            const QPointF at = transform_.toView(record_.journal.spotOf(line).point);
            if (!view.contains(at))
                continue;
            painter_.setPen(QPen{theme().plum, 1.6});
            painter_.setBrush(Qt::NoBrush);
            painter_.drawEllipse(at, 9, 9);
            paintFigure(painter_, at + QPointF{13, 4}, QObject::tr("%1 m/s").arg(line.number, 0, 'f', 2));
        }
}

void GroundPainter::paintSolid(const ShownPiece& piece, const scene::Shape& shape)
{
    const auto path = [&] { return shapePath(shape, piece.pose, transform_); };
    const QColor fill = colourOf(*piece.look, theme().solid);
    if (piece.look->glow > 0) {
        const QRectF box = path().boundingRect();
        const double radius = std::max(box.width(), box.height()) * 1.6;
        QRadialGradient light{box.center(), radius};
        light.setColorAt(0, withAlpha(fill, static_cast<int>(170 * piece.look->glow)));
        light.setColorAt(1, withAlpha(fill, 0));
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(light);
        painter_.drawEllipse(box.center(), radius, radius);
    }
    const bool strong = !piece.look->colour.code.empty() && brightness(fill) < 0.62;
    const SolidStyle style{fill, strong ? fill.darker(135) : theme().slate,
                           std::holds_alternative<scene::StaticBody>(piece.piece->body) && !strong && !piece.pinned};
    if (std::holds_alternative<scene::Line>(shape.geometry)) {
        QPen edge{style.edge, 1.7};
        edge.setJoinStyle(Qt::MiterJoin);
        paintLine(path(), edge);
        return;
    }
    if (!sprites_ || !paintSprite(piece, shape, style))
        paintStyled(painter_, path(), style);
    if (piece.look->gauge)
        paintGauge(piece, shape);
    if (std::holds_alternative<scene::WalkerBody>(piece.piece->body)) {
        const QPointF centre = transform_.toView(piece.pose.at);
        painter_.setPen(QPen{theme().bright, 1.6});
        painter_.drawLine(centre, centre + QPointF(0.28 * transform_.scale, 0));
    }
}

/// A filled outline; a fixed solid is hatched along its lower edge: it stands.
void GroundPainter::paintStyled(QPainter& painter, const QPainterPath& path, const SolidStyle& style)
{
    QPen edge{style.edge, 1.7};
    edge.setJoinStyle(Qt::MiterJoin);
    painter.setPen(edge);
    painter.setBrush(style.fill);
    painter.drawPath(path);
    const QRectF box = path.boundingRect();
    if (!style.hatched || box.height() <= 14)
        return;
    painter.save();
    painter.setClipPath(path);
    painter.setPen(QPen{withAlpha(theme().slate, 110), 1});
    for (double x = box.left() - 6; x < box.right(); x += 7)
        painter.drawLine(QPointF{x, box.bottom()}, QPointF{x + 6, box.bottom() - 6});
    painter.restore();
}

/// Small discs and upright boxes look the same wherever they are: they are drawn once for each
/// quarter of a pixel and then copied. False if this one is not of that kind.
bool GroundPainter::paintSprite(const ShownPiece& piece, const scene::Shape& shape, const SolidStyle& style)
{
    constexpr double largest = 72;
    constexpr int parts = 4; // of a pixel
    QSizeF size;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        size = {2 * circle->radius * transform_.scale, 2 * circle->radius * transform_.scale};
    } else if (const auto* box = std::get_if<scene::Box>(&shape.geometry);
               box && std::remainder(piece.pose.turn + shape.turn, 90) == 0) {
        const bool lying = std::remainder(piece.pose.turn + shape.turn, 180) != 0;
        size = QSizeF{box->size.x, box->size.y} * transform_.scale;
        if (lying)
            size.transpose();
    } else {
        return false;
    }
    if (size.width() > largest || size.height() > largest)
        return false;
    const QPointF middle = transform_.toView(geometry::toScene(piece.pose, shape.at));
    const QPointF corner = middle - QPointF{size.width(), size.height()} / 2 - QPointF{2, 2};
    const QPointF whole{std::floor(corner.x()), std::floor(corner.y())};
    const int partX = static_cast<int>((corner.x() - whole.x()) * parts);
    const int partY = static_cast<int>((corner.y() - whole.y()) * parts);
    const double ratio = painter_.device()->devicePixelRatioF();
    const SpriteKey key{shape.geometry.index(),
                        size.width(),
                        size.height(),
                        style.fill.rgba(),
                        style.edge.rgba(),
                        style.hatched,
                        partX,
                        partY,
                        static_cast<int>(ratio * 100)};
    auto found = sprites_->find(key);
    if (found == sprites_->end()) {
        constexpr std::size_t most = 1024;
        if (sprites_->size() >= most)
            sprites_->clear();
        QImage image{QSize{static_cast<int>(size.width()) + 6, static_cast<int>(size.height()) + 6} * ratio,
                     QImage::Format_ARGB32_Premultiplied};
        image.setDevicePixelRatio(ratio);
        image.fill(Qt::transparent);
        QPainter painter{&image};
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF box{QPointF{2 + static_cast<double>(partX) / parts, 2 + static_cast<double>(partY) / parts}, size};
        QPainterPath path;
        if (std::holds_alternative<scene::Circle>(shape.geometry))
            path.addEllipse(box);
        else
            path.addRect(box);
        paintStyled(painter, path, style);
        painter.end();
        found = sprites_->emplace(key, std::move(image)).first;
    }
    painter_.drawImage(whole, found->second);
    return true;
}

/// Edges without an inside carry fine ticks on their right side, so that they are told from thin
/// boxes.
void GroundPainter::paintLine(const QPainterPath& path, QPen edge)
{
    edge.setWidthF(2.4);
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(edge);
    painter_.drawPath(path);
    painter_.setPen(QPen{withAlpha(theme().slate, 130), 1});
    constexpr double apart = 8;
    constexpr int mostTicks = 4000;
    int ticks = 0;
    for (int i = 1; i < path.elementCount(); ++i) {
        const QPointF a = path.elementAt(i - 1);
        const QLineF part{a, path.elementAt(i)};
        if (part.length() < 1)
            continue;
        const QPointF along = (part.p2() - part.p1()) / part.length();
        const QPointF off{-along.y() * 5 - along.x() * 4, along.x() * 5 - along.y() * 4};
        for (double s = apart; s < part.length() && ++ticks < mostTicks; s += apart)
            painter_.drawLine(a + along * s, a + along * s + off);
    }
}

} // namespace snare::app
