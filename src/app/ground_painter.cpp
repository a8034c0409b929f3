// SPDX-License-Identifier: Apache-2.0
#include "app/ground_painter.h"

#include "app/ground_motion.h"

#include "app/ground_contacts.h"
#include "app/ground_play.h"
#include "app/ground_threads.h"
#include "app/picture_view.h"
#include "app/words.h"

#include <QPainterPath>
#include <QRegularExpression>

#include <cmath>
#include <map>

namespace snare::app {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

/// The loops by which a zone is held down: at the corners of a box, at the quarters of a circle.
std::vector<QPointF> loopsOf(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform)
{
    std::vector<QPointF> loops;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        const Vec centre = geometry::toScene(pose, shape.at);
        for (const Vec& way : {Vec{1, 0}, Vec{0, 1}, Vec{-1, 0}, Vec{0, -1}})
            loops.push_back(transform.toView(centre + way * circle->radius));
        return loops;
    }
    if (std::holds_alternative<scene::Traced>(shape.geometry))
        return loops; // its outline says enough
    for (const Vec& corner : world::cornersOf(shape))
        loops.push_back(transform.toView(geometry::toScene(pose, corner)));
    return loops;
}

QColor colourOf(const scene::Look& look, const QColor& fallback)
{
    return look.colour.code.empty() ? fallback : QColor(toText(look.colour.code));
}

double brightness(const QColor& colour)
{
    return 0.3 * colour.redF() + 0.6 * colour.greenF() + 0.1 * colour.blueF();
}

QColor withAlpha(QColor colour, int alpha)
{
    colour.setAlpha(alpha);
    return colour;
}

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

constexpr double farScale = 14;   ///< pixels a metre: below it labels stand only where they fit
constexpr double loopPixels = 44; ///< smaller zones have no loops and no counts
constexpr double speckPixels = 9; ///< smaller pieces are drawn as specks

} // namespace

namespace {

void addShapeHandles(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform,
                     std::vector<Handle>& handles)
{
    const scene::Shape& held = piece.piece->shapes[shape];
    const geometry::Rotation turn = geometry::rotationOf(held.turn);
    const auto inView = [&](const Vec& local) {
        return transform.toView(geometry::toScene(piece.pose, held.at + turn.apply(local)));
    };
    if (const auto* capsule = std::get_if<scene::Capsule>(&held.geometry)) {
        handles.push_back({Handle::Kind::point, 0, inView(capsule->from)});
        handles.push_back({Handle::Kind::point, 1, inView(capsule->to)});
        return;
    }
    if (const auto* points = scene::pointsOf(held.geometry)) {
        const auto* line = std::get_if<scene::Line>(&held.geometry);
        const std::size_t edges = points->size() - (line && !line->closed ? 1 : 0);
        for (std::size_t i = 0; i < edges; ++i)
            handles.push_back(
                {Handle::Kind::edge, i, inView(((*points)[i] + (*points)[(i + 1) % points->size()]) * 0.5)});
        for (std::size_t i = 0; i < points->size(); ++i)
            handles.push_back({Handle::Kind::point, i, inView((*points)[i])});
        return;
    }
    Vec half{0, 0};
    if (const auto* circle = std::get_if<scene::Circle>(&held.geometry))
        half = {circle->radius, circle->radius};
    else if (const auto* rectangle = std::get_if<scene::Box>(&held.geometry))
        half = rectangle->size * 0.5;
    else if (const auto* traced = std::get_if<scene::Traced>(&held.geometry))
        half = traced->size * 0.5;
    std::size_t number = 0;
    for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x)
            if (x != 0 || y != 0)
                handles.push_back({Handle::Kind::size, number++, inView({x * half.x, y * half.y})});
}

} // namespace

std::vector<Handle> handlesOf(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform)
{
    std::vector<Handle> handles;
    const geometry::Bounds box = boundsOf(piece);
    handles.push_back({Handle::Kind::turn, 0, transform.toView(Vec{box.centre().x, box.high.y}) - QPointF{0, 26}});
    if (shape < piece.piece->shapes.size())
        addShapeHandles(piece, shape, transform, handles);
    if (const scene::Route* route = routeOf(*piece.piece)) {
        Vec from = piece.start.at;
        for (std::size_t i = 0; i < route->points.size(); ++i) {
            const Vec& to = route->points[i];
            handles.push_back({Handle::Kind::leg, i, transform.toView((from + to) * 0.5)});
            handles.push_back({Handle::Kind::stop, i, transform.toView(to)});
            from = to;
        }
    }
    return handles;
}

void GroundPainter::paintFigure(QPainter& painter, const QPointF& at, const QString& text)
{
    painter.setFont(figureFont(-0.5));
    const QFontMetricsF metrics{painter.font()};
    const QRectF box{at.x() - 5, at.y() - metrics.ascent() - 3, metrics.horizontalAdvance(text) + 10,
                     metrics.height() + 5};
    painter.setPen(Qt::NoPen);
    painter.setBrush(withAlpha(theme().panel, 225));
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(theme().ink);
    painter.drawText(at, text);
}

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

QPainterPath GroundPainter::pathOf(const scene::Shape& shape, const geometry::Pose& pose,
                                   const GroundTransform& transform)
{
    QPainterPath path;
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        const double radius = circle->radius * transform.scale;
        path.addEllipse(transform.toView(geometry::toScene(pose, shape.at)), radius, radius);
        return path;
    }
    if (const auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        const geometry::Rotation turn = geometry::rotationOf(shape.turn);
        const QPointF a = transform.toView(geometry::toScene(pose, shape.at + turn.apply(capsule->from)));
        const QPointF b = transform.toView(geometry::toScene(pose, shape.at + turn.apply(capsule->to)));
        const double radius = capsule->radius * transform.scale;
        const double angle = std::atan2(-(b.y() - a.y()), b.x() - a.x()) * 57.29577951308232;
        const auto around = [&](const QPointF& p) {
            return QRectF{p.x() - radius, p.y() - radius, 2 * radius, 2 * radius};
        };
        path.arcMoveTo(around(b), angle - 90);
        path.arcTo(around(b), angle - 90, 180);
        path.arcTo(around(a), angle + 90, 180);
        path.closeSubpath();
        return path;
    }
    if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry))
        if (const scene::TracedArea* area = world::shownArea(*traced); area && !area->rings.empty()) {
            for (const geometry::Ring& ring : area->rings) {
                QPolygonF outline;
                for (const Vec& corner : ring)
                    outline << transform.toView(
                        geometry::toScene(pose, geometry::toScene({shape.at, shape.turn}, corner)));
                path.addPolygon(outline);
                path.closeSubpath();
            }
            return path; // odd and even: holes stay open
        }
    QPolygonF polygon;
    for (const Vec& corner : world::cornersOf(shape))
        polygon << transform.toView(geometry::toScene(pose, corner));
    path.addPolygon(polygon);
    const auto* line = std::get_if<scene::Line>(&shape.geometry);
    if (!line || line->closed)
        path.closeSubpath();
    return path;
}

void GroundPainter::paintZone(QPainter& painter, const QPainterPath& path, const std::vector<QPointF>& loops,
                              const QColor& colour, bool lit)
{
    painter.setBrush(withAlpha(colour, lit ? 70 : 34));
    QPen stitch{colour, 1.7};
    stitch.setDashPattern({5, 2.2, 1.2, 2.2});
    painter.setPen(stitch);
    painter.drawPath(path);
    painter.setPen(QPen{colour, 1.7});
    painter.setBrush(theme().ground);
    for (const QPointF& loop : loops)
        painter.drawEllipse(loop, 3.6, 3.6);
}

void GroundPainter::paint(const std::vector<ShownPiece>& pieces, const std::vector<Vec>& trail)
{
    painter_.setRenderHint(QPainter::Antialiasing);
    paintGrid();
    paintBounds();
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
    paintTrail(trail);
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
        const QPainterPath path = pathOf(shape, piece.pose, transform_);
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
    }
    painter_.setOpacity(1);
}

/// The outline alone: what is under it is a picture, or a picture that is missing.
void GroundPainter::paintOverPicture(const ShownPiece& piece, const scene::Shape& shape)
{
    if (options_.clean)
        return;
    const QPainterPath path = pathOf(shape, piece.pose, transform_);
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
    const auto path = [&] { return pathOf(shape, piece.pose, transform_); };
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

/// Small discs and upright boxes look the same wherever they are: they are drawn once for each quarter of a pixel and
/// then copied. False if this one is not of that kind.
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

/// Edges without an inside carry fine ticks on their right side, so that they are told from thin boxes.
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

std::optional<GroundLabel> GroundPainter::labelOf(const ShownPiece& piece) const
{
    if (!piece.present || !piece.shown)
        return std::nullopt;
    const bool zone = hasZoneOnly(*piece.piece) && piece.piece->enabled && piece.look->colour.code.empty();
    const bool walker = std::holds_alternative<scene::WalkerBody>(piece.piece->body);
    GroundLabel label;
    label.text = filledIn(piece.look->label, piece);
    if (label.text.isEmpty() && (zone || walker))
        label.text = toText(piece.piece->id);
    if (!piece.phase.empty() && !options_.clean && !(piece.pinned && !label.text.isEmpty()))
        label.text += (label.text.isEmpty() ? QString() : QStringLiteral(" · ")) + toText(piece.phase);
    const QRectF box = transform_.toView(piece.box);
    if (label.text.isEmpty() || (zone && (options_.clean || box.width() < 24)))
        return std::nullopt;
    label.bold = zone || walker;
    label.wanted = selection_.has(piece.piece->id);
    const QFontMetricsF metrics{textFont(-0.5, label.bold)};
    const double width = metrics.horizontalAdvance(label.text);
    const double height = metrics.height();
    const bool near = transform_.scale >= farScale; // from afar only what has room in its piece
    const auto place = [&](double left, double top) { label.places.emplace_back(left, top, width, height); };
    if (zone) {
        label.ink = zoneColour(piece.index).darker(115);
        if (width < box.width() - 14) {
            place(box.left() + 8, box.bottom() - 6 - height);
            if (box.height() > 2 * height + 16) {
                place(box.left() + 8, box.top() + 6);
                place(box.right() - 8 - width, box.bottom() - 6 - height);
                place(box.right() - 8 - width, box.top() + 6);
            }
        }
        if (near) {
            place(box.left(), box.bottom() + 3);
            place(box.left(), box.top() - 3 - height);
        }
        return label;
    }
    const QColor fill = colourOf(*piece.look, theme().solid);
    const double middle = box.center().x() - width / 2;
    // Only a piece that is solid all over has one colour to stand on.
    const bool solid = std::ranges::none_of(piece.piece->shapes,
                                            [](const scene::Shape& shape) { return shape.role == scene::Role::zone; });
    if (!walker && solid && width < box.width() - 6 && box.height() > height) {
        label.ink = brightness(fill) < 0.55 ? theme().bright : theme().deep; // it must stay on its fill
        place(middle, box.center().y() - height / 2);
        if (box.height() > 3 * height) {
            place(middle, box.top() + 2);
            place(middle, box.bottom() - 2 - height);
        }
        return label;
    }
    label.ink = theme().ink;
    label.veiled = overPictures_;
    if (near) {
        place(middle, box.bottom() + 2);
        place(middle, box.top() - 2 - height);
        place(box.right() + 5, box.center().y() - height / 2);
        place(box.left() - 5 - width, box.center().y() - height / 2);
    }
    return label;
}

std::vector<GroundLabel> GroundPainter::labelsOf(const std::vector<const ShownPiece*>& pieces) const
{
    std::vector<GroundLabel> result;
    for (const ShownPiece* piece : pieces)
        if (auto label = labelOf(*piece))
            result.push_back(std::move(*label));
    return result;
}

void GroundPainter::paintLabels(const std::vector<const ShownPiece*>& pieces)
{
    const std::vector<GroundLabel> labels = labelsOf(pieces);
    for (const PlacedLabel& one : placed(labels)) {
        if (one.label->veiled) {
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(withAlpha(theme().ground, 170));
            painter_.drawRoundedRect(one.box.adjusted(-4, 0, 4, 0), 3, 3);
        }
        painter_.setFont(textFont(-0.5, one.label->bold));
        painter_.setPen(one.label->ink);
        painter_.drawText(one.box, Qt::AlignCenter | Qt::TextDontClip, one.label->text);
    }
}

void GroundPainter::paintSelection(const ShownPiece& piece)
{
    const QRectF box = transform_.toView(piece.box).adjusted(-6, -6, 6, 6);
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(QPen{theme().ink, 1.2});
    painter_.drawRect(box);
    // Where it stands at the start, if it is elsewhere now.
    if (piece.pose.at != piece.start.at || piece.pose.turn != piece.start.turn) {
        painter_.setPen(QPen{theme().slate, 1.2, Qt::DashLine});
        for (const scene::Shape& shape : piece.piece->shapes)
            painter_.drawPath(pathOf(shape, piece.start, transform_));
    }
    if (selection_.piece() != piece.piece->id)
        return;
    if (options_.locked.contains(piece.piece->id))
        return;
    for (const Handle& handle : handlesOf(piece, selection_.shape(), transform_)) {
        painter_.setPen(QPen{theme().ink, 1.2});
        painter_.setBrush(theme().paper);
        switch (handle.kind) {
        case Handle::Kind::size:
            painter_.drawRect(QRectF{handle.at.x() - 3.5, handle.at.y() - 3.5, 7, 7});
            break;
        case Handle::Kind::turn:
            painter_.drawLine(QPointF{box.center().x(), box.top()}, handle.at);
            painter_.drawEllipse(handle.at, 4.5, 4.5);
            break;
        case Handle::Kind::point:
            painter_.drawEllipse(handle.at, 4, 4);
            break;
        case Handle::Kind::stop:
            painter_.setPen(QPen{theme().blue, 1.6});
            painter_.drawEllipse(handle.at, 4.5, 4.5);
            break;
        case Handle::Kind::leg:
        case Handle::Kind::edge:
            painter_.setPen(QPen{theme().slate, 1.2});
            painter_.drawEllipse(handle.at, 2.4, 2.4);
            break;
        }
    }
}

void GroundPainter::paintTrail(const std::vector<Vec>& trail)
{
    painter_.setPen(Qt::NoPen);
    painter_.setBrush(theme().coral);
    QPointF last;
    for (std::size_t i = 0; i < trail.size(); ++i) {
        const QPointF point = transform_.toView(trail[i]);
        if (i > 0 && QLineF(last, point).length() < 8)
            continue;
        painter_.drawEllipse(point, 1.3, 1.3);
        last = point;
    }
}

void GroundPainter::paintInside(const std::vector<ShownPiece>& pieces)
{
    if (options_.clean)
        return;
    painter_.setFont(figureFont(-1));
    for (const ShownPiece& piece : pieces) {
        if (!hasZoneOnly(*piece.piece) || !piece.look->colour.code.empty() || !piece.shown || !piece.present)
            continue;
        const auto inside = insideOf_.find(piece.piece->id);
        if (inside == insideOf_.end() || transform_.toView(piece.box).width() < loopPixels)
            continue;
        const geometry::Bounds bounds = boundsOf(piece);
        QRectF badge{0, 0, 17, 17};
        badge.moveCenter(transform_.toView(bounds.high) + QPointF{-13, 13});
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(zoneColour(piece.index));
        painter_.drawEllipse(badge);
        painter_.setPen(theme().onAccent);
        painter_.drawText(badge, Qt::AlignCenter, QString::number(inside->second));
    }
}

void GroundPainter::paintFlag(const QPointF& at, const QString& words, const QColor& fill, const QColor& ink,
                              double pole)
{
    const QFontMetricsF metrics{painter_.font()};
    const double width = metrics.horizontalAdvance(words) + 18;
    const double height = metrics.height() + 6;
    const QPointF top = at - QPointF{0, pole};
    painter_.setPen(QPen{fill, 1.4});
    painter_.drawLine(at, top);
    QPolygonF flag;
    flag << top << top + QPointF{width + 7, 0} << top + QPointF{width, height / 2} << top + QPointF{width + 7, height}
         << top + QPointF{0, height};
    painter_.setPen(Qt::NoPen);
    painter_.setBrush(fill);
    painter_.drawPolygon(flag);
    painter_.setPen(ink);
    painter_.drawText(QRectF{top + QPointF{8, 0}, QSizeF{width, height}}, Qt::AlignVCenter, words);
}

void GroundPainter::paintPennants(const std::vector<ShownPiece>& pieces)
{
    if (options_.clean || tick_ <= 0)
        return;
    painter_.setFont(textFont(-1.5));
    const auto since = tick_ - static_cast<std::int64_t>(longAgoSeconds * record_.scene->rate);
    std::map<std::string_view, int> stacked;
    for (std::int64_t tick = std::max<std::int64_t>(1, since); tick <= tick_; ++tick) {
        for (const Line& line : record_.linesOf(tick)) {
            const bool meeting =
                line.event == EventKind::enter || line.event == EventKind::exit || line.event == EventKind::hit;
            if (line.kind != LineKind::event || !meeting || line.self < 0)
                continue;
            const std::string_view id = record_.nameOf(line.self);
            const auto piece = std::ranges::find_if(pieces, [&](const ShownPiece& p) { return p.piece->id == id; });
            if (piece == pieces.end() || !hasZoneOnly(*piece->piece) || !piece->look->colour.code.empty())
                continue;
            const geometry::Bounds bounds = boundsOf(*piece);
            const QPointF foot =
                transform_.toView(Vec{bounds.high.x, bounds.low.y}) + QPointF{-52.0 - 48.0 * stacked[id]++, -4};
            paintFlag(foot, toText(scene::wordOf(line.event)), zoneColour(piece->index), theme().onAccent, 22);
        }
    }
}

void GroundPainter::paintCaptions(const std::vector<ShownPiece>& pieces)
{
    for (const std::int32_t said : sim::standingAt(record_, tick_).captions) {
        const Line* line = &record_.journal.lines[static_cast<std::size_t>(said)];
        const world::PieceIndex index = line->self;
        if (line->until < tick_ || (line->until == tick_ && line->tick != tick_))
            continue;
        const QString words = toText(record_.journal.textOf(*line));
        const bool prompt = line->response == scene::numberOf<scene::Prompt>;
        if (index == world::theScene) {
            painter_.setFont(textFont(1.5, true));
            const QFontMetricsF metrics{painter_.font()};
            const QSizeF size = metrics.size(0, words);
            QRectF box{0, 0, size.width() + 36, size.height() + 14};
            box.moveCenter({transform_.size.width() / 2, 16 + box.height() / 2});
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(withAlpha(theme().ink, 225));
            painter_.drawRoundedRect(box, 6, 6);
            painter_.setPen(theme().onAccent);
            painter_.drawText(box, Qt::AlignCenter, words);
            continue;
        }
        if (world::isPointer(index)) {
            const sim::PointerMoment pointer = sim::pointerAt(record_, tick_);
            painter_.setFont(textFont(0));
            if (pointer.pointer.there)
                paintFlag(transform_.toView(pointer.pointer.at), words, theme().ink, theme().onAccent, 30);
            continue;
        }
        const std::string_view id = record_.nameOf(index);
        const auto piece = std::ranges::find_if(pieces, [&](const ShownPiece& p) { return p.piece->id == id; });
        if (piece == pieces.end() || !piece->shown || !piece->present)
            continue;
        painter_.setFont(textFont(0));
        const geometry::Bounds bounds = boundsOf(*piece);
        const QPointF foot = transform_.toView(Vec{bounds.centre().x, prompt ? bounds.low.y : bounds.high.y});
        if (prompt)
            paintPrompt(foot, words);
        else
            paintFlag(foot, words, theme().ink, theme().onAccent, 30);
    }
}

/// A hint on paper with a firm edge, below the piece, unlike a caption.
void GroundPainter::paintPrompt(const QPointF& foot, const QString& words)
{
    painter_.setFont(textFont(-0.5, true));
    const QFontMetricsF metrics{painter_.font()};
    QRectF box{0, 0, metrics.horizontalAdvance(words) + 16, metrics.height() + 6};
    box.moveCenter(foot + QPointF{0, 12 + box.height() / 2});
    painter_.setPen(QPen{theme().ochre, 1.6});
    painter_.setBrush(withAlpha(theme().panel, 240));
    painter_.drawRoundedRect(box, 4, 4);
    painter_.setPen(theme().ink);
    painter_.drawText(box, Qt::AlignCenter, words);
}

/// A value by its path as it is at the moment shown; `self` is the piece.
std::optional<scene::Scalar> GroundPainter::valueNow(const std::string& path, const ShownPiece& piece) const
{
    const std::size_t dot = path.find('.');
    if (dot == std::string::npos)
        return std::nullopt;
    const std::string owner = path.substr(0, dot) == "self" ? piece.piece->id : path.substr(0, dot);
    const std::string name = path.substr(dot + 1);
    if (owner == "scene")
        return sim::valueAt(record_, world::theScene, name, tick_);
    if (const auto found = std::ranges::find(record_.pieces, owner, &sim::RunPiece::id); found != record_.pieces.end())
        return name == "id"
                   ? std::optional<scene::Scalar>{owner}
                   : sim::valueAt(record_, static_cast<world::PieceIndex>(found - record_.pieces.begin()), name, tick_);
    const auto& sources = record_.scene->sources;
    const auto source = std::ranges::find(sources, owner, &scene::Source::id);
    if (source == sources.end())
        return std::nullopt;
    return sim::valueAt(record_, world::sourceIndex(static_cast<std::size_t>(source - sources.begin())), name, tick_);
}

/// The words on a piece with the values that it has at this moment: "{self.name}".
QString GroundPainter::filledIn(const std::string& label, const ShownPiece& piece) const
{
    if (label.find('{') == std::string::npos)
        return toText(label);
    QString text = toText(label);
    static const QRegularExpression slot{QStringLiteral(R"(\{([A-Za-z0-9_-]+\.[A-Za-z0-9_-]+)\})")};
    for (auto match = slot.match(text); match.hasMatch(); match = slot.match(text, match.capturedStart() + 1)) {
        const auto value = valueNow(match.captured(1).toStdString(), piece);
        text.replace(match.capturedStart(), match.capturedLength(), value ? toText(scene::textOf(*value)) : QString());
    }
    return text;
}

/// The level of a look's gauge inside a shape: from its lower edge, from its left one if it lies.
void GroundPainter::paintGauge(const ShownPiece& piece, const scene::Shape& shape)
{
    const scene::Gauge& gauge = *piece.look->gauge;
    const auto value = valueNow(gauge.of, piece);
    const double* number = value ? std::get_if<double>(&*value) : nullptr;
    if (!number || gauge.high == gauge.low)
        return;
    const double part = std::clamp((*number - gauge.low) / (gauge.high - gauge.low), 0.0, 1.0);
    const QPainterPath path = pathOf(shape, piece.pose, transform_);
    QRectF level = path.boundingRect();
    const bool lies = level.width() > level.height() * 1.2;
    if (lies)
        level.setRight(level.left() + level.width() * part);
    else
        level.setTop(level.bottom() - level.height() * part);
    painter_.save();
    painter_.setClipPath(path);
    painter_.fillRect(level, withAlpha(theme().blue, 150));
    painter_.setPen(QPen{theme().blue, 1.6});
    painter_.drawLine(lies ? level.bottomRight() : level.topLeft(), level.topRight());
    painter_.restore();
}

void GroundPainter::paintScaleBar()
{
    double metres = 1;
    while (metres * transform_.scale < 50)
        metres *= metres == 1 || metres == 10 || metres == 100 ? 2 : (metres == 2 || metres == 20 ? 2.5 : 2);
    const QSizeF& size = transform_.size;
    const QPointF right{size.width() - 16, size.height() - 14};
    const QPointF left = right - QPointF{metres * transform_.scale, 0};
    painter_.setPen(QPen{theme().inkSoft, 1.4});
    painter_.drawLine(left, right);
    painter_.drawLine(left - QPointF{0, 4}, left + QPointF{0, 4});
    painter_.drawLine(right - QPointF{0, 4}, right + QPointF{0, 4});
    painter_.setFont(figureFont(-1));
    painter_.drawText(QRectF{left - QPointF{60, 22}, QSizeF{metres * transform_.scale + 120, 16}}, Qt::AlignHCenter,
                      QObject::tr("%1 m").arg(metres));
}

} // namespace snare::app
