// SPDX-License-Identifier: Apache-2.0
#include "app/ground_painter.h"

#include "app/words.h"

#include <QPainterPath>

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
    const geometry::Hull hull = geometry::placed(world::hullOf(shape), pose);
    for (const Vec& corner : hull.corners())
        loops.push_back(transform.toView(corner));
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

constexpr double speckPixels = 9; ///< smaller pieces are drawn as specks

constexpr double longAgoSeconds = 0.35; ///< how long an event's pennant and a thread's light stay

} // namespace

std::vector<QPointF> sizeHandles(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform)
{
    std::vector<QPointF> handles;
    if (shape >= piece.piece->shapes.size())
        return handles;
    const scene::Shape& held = piece.piece->shapes[shape];
    Vec half{0, 0};
    if (const auto* circle = std::get_if<scene::Circle>(&held.geometry))
        half = {circle->radius, circle->radius};
    else
        half = std::get<scene::Box>(held.geometry).size * 0.5;
    const geometry::Rotation turn = geometry::rotationOf(held.turn);
    for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x)
            if (x != 0 || y != 0)
                handles.push_back(
                    transform.toView(geometry::toScene(piece.pose, held.at + turn.apply({x * half.x, y * half.y}))));
    return handles;
}

GroundPainter::GroundPainter(QPainter& painter, const GroundTransform& transform, const scene::Scene& scene,
                             const sim::Record& record, std::int64_t tick, const Selection& selection,
                             const GroundOptions& options)
    : painter_(painter), transform_(transform), scene_(scene), record_(record), tick_(tick), selection_(selection),
      options_(options)
{
    std::size_t zones = 0;
    for (const scene::Piece& piece : scene.pieces)
        zoneOrder_.push_back(hasZoneOnly(piece) && piece.enabled ? zones++ : zones);
    for (const sim::Insider& inside : sim::insidersAt(record, tick))
        ++insideOf_[record.nameOf(record.shapeNames[static_cast<std::size_t>(inside.shape)].piece)];
}

bool GroundPainter::hasZoneOnly(const scene::Piece& piece) const
{
    return !piece.shapes.empty() &&
           std::ranges::all_of(piece.shapes, [](const scene::Shape& shape) { return shape.role == scene::Role::zone; });
}

QColor GroundPainter::zoneColour(std::size_t piece) const
{
    return theme().accent(zoneOrder_[piece]);
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
    const geometry::Hull hull = geometry::placed(world::hullOf(shape), pose);
    QPolygonF polygon;
    for (const Vec& corner : hull.corners())
        polygon << transform.toView(corner);
    path.addPolygon(polygon);
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
    for (const ShownPiece& piece : pieces) {
        const QRectF box = boxOf(piece);
        if (!piece.present || !box.intersects(view))
            continue;
        if (std::max(box.width(), box.height()) < speckPixels && !selection_.has(piece.piece->id)) {
            paintSpeck(piece, box);
            continue;
        }
        paintPiece(piece);
        near.push_back(&piece);
    }
    if (!options_.clean)
        paintThreads(pieces);
    paintTrail(trail);
    for (const ShownPiece* piece : near)
        paintLabel(*piece);
    for (const ShownPiece& piece : pieces)
        if (selection_.has(piece.piece->id))
            paintSelection(piece);
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
            painter_.drawLine(QPointF{transform_.toView({x, 0}).x(), 0},
                              QPointF{transform_.toView({x, 0}).x(), view.height()});
        for (double y = std::floor(low.y / step) * step; y <= high.y; y += step)
            painter_.drawLine(QPointF{0, transform_.toView({0, y}).y()},
                              QPointF{view.width(), transform_.toView({0, y}).y()});
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
    painter_.drawRect(QRectF{transform_.toView({left, top}), transform_.toView({right, bottom})});
}

QRectF GroundPainter::boxOf(const ShownPiece& piece) const
{
    const geometry::Bounds bounds = boundsOf(piece);
    return {transform_.toView({bounds.low.x, bounds.high.y}), transform_.toView({bounds.high.x, bounds.low.y})};
}

void GroundPainter::paintSpeck(const ShownPiece& piece, const QRectF& box)
{
    const bool zone = hasZoneOnly(*piece.piece);
    if (zone && options_.clean)
        return;
    QColor colour = zone ? withAlpha(zoneColour(piece.index), 110) : colourOf(piece.look, theme().slate);
    if (!piece.shown)
        colour.setAlpha(50);
    painter_.fillRect(box, colour);
}

void GroundPainter::paintPiece(const ShownPiece& piece)
{
    painter_.setOpacity(piece.shown ? 1 : 0.25);
    for (const scene::Shape& shape : piece.piece->shapes) {
        if (shape.role == scene::Role::solid) {
            paintSolid(piece, shape);
            continue;
        }
        const QPainterPath path = pathOf(shape, piece.pose, transform_);
        if (!piece.piece->enabled ||
            !piece.look.colour.code.empty()) { // a zone with a look of its own is a picture too
            const QColor fill = colourOf(piece.look, theme().solid);
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
        const bool occupied = piece.enabled && insideOf_.contains(piece.piece->id);
        paintZone(painter_, path, loopsOf(shape, piece.pose, transform_),
                  piece.enabled ? zoneColour(piece.index) : theme().slate, occupied);
    }
    painter_.setOpacity(1);
}

void GroundPainter::paintSolid(const ShownPiece& piece, const scene::Shape& shape)
{
    const QPainterPath path = pathOf(shape, piece.pose, transform_);
    const QColor fill = colourOf(piece.look, theme().solid);
    if (piece.look.glow > 0) {
        const QRectF box = path.boundingRect();
        const double radius = std::max(box.width(), box.height()) * 1.6;
        QRadialGradient light{box.center(), radius};
        light.setColorAt(0, withAlpha(fill, static_cast<int>(170 * piece.look.glow)));
        light.setColorAt(1, withAlpha(fill, 0));
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(light);
        painter_.drawEllipse(box.center(), radius, radius);
    }
    painter_.setBrush(fill);
    const bool strong = brightness(fill) < 0.62;
    QPen edge{strong ? fill.darker(135) : theme().slate, 1.7};
    edge.setJoinStyle(Qt::MiterJoin);
    painter_.setPen(edge);
    painter_.drawPath(path);
    // A fixed solid is hatched along its lower edge: it stands.
    if (std::holds_alternative<scene::StaticBody>(piece.piece->body) && !strong && path.boundingRect().height() > 14) {
        painter_.save();
        painter_.setClipPath(path);
        painter_.setPen(QPen{withAlpha(theme().slate, 110), 1});
        const QRectF box = path.boundingRect();
        for (double x = box.left() - 6; x < box.right(); x += 7)
            painter_.drawLine(QPointF{x, box.bottom()}, QPointF{x + 6, box.bottom() - 6});
        painter_.restore();
    }
    if (std::holds_alternative<scene::WalkerBody>(piece.piece->body)) {
        const QPointF centre = transform_.toView(piece.pose.at);
        painter_.setPen(QPen{theme().paper, 1.6});
        painter_.drawLine(centre, centre + QPointF(0.28 * transform_.scale, 0));
    }
}

void GroundPainter::paintLabel(const ShownPiece& piece)
{
    if (!piece.present || !piece.shown)
        return;
    const bool zone = hasZoneOnly(*piece.piece) && piece.piece->enabled && piece.look.colour.code.empty();
    const bool walker = std::holds_alternative<scene::WalkerBody>(piece.piece->body);
    QString label = toText(piece.look.label);
    if (label.isEmpty() && (zone || walker))
        label = toText(piece.piece->id);
    if (label.isEmpty() || (zone && options_.clean))
        return;
    const geometry::Bounds bounds = boundsOf(piece);
    const QRectF box{transform_.toView({bounds.low.x, bounds.high.y}),
                     transform_.toView({bounds.high.x, bounds.low.y})};
    painter_.setFont(textFont(-0.5, zone || walker));
    const QFontMetricsF metrics{painter_.font()};
    if (zone) {
        if (box.width() < 24)
            return;
        painter_.setPen(zoneColour(piece.index).darker(115));
        const bool fits = metrics.horizontalAdvance(label) < box.width() - 14;
        painter_.drawText(fits ? box.bottomLeft() + QPointF{8, -8} : box.bottomLeft() + QPointF{0, metrics.height()},
                          label);
        return;
    }
    const bool fits = !walker && metrics.horizontalAdvance(label) < box.width() - 6 && box.height() > metrics.height();
    const QColor fill = colourOf(piece.look, theme().solid);
    painter_.setPen(fits && brightness(fill) < 0.55 ? theme().paper : theme().ink);
    if (fits)
        painter_.drawText(box, Qt::AlignCenter, label);
    else if (transform_.scale > 14)
        painter_.drawText(QRectF{box.center().x() - 80, box.bottom() + 2, 160, metrics.height() + 2},
                          Qt::AlignHCenter | Qt::AlignTop, label);
}

void GroundPainter::paintSelection(const ShownPiece& piece)
{
    geometry::Bounds bounds = boundsOf(piece);
    QRectF box{transform_.toView({bounds.low.x, bounds.high.y}), transform_.toView({bounds.high.x, bounds.low.y})};
    box.adjust(-6, -6, 6, 6);
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(QPen{theme().ink, 1.2});
    painter_.drawRect(box);
    // Where it stands at the start, if it is elsewhere now.
    if (piece.pose.at != piece.piece->at || piece.pose.turn != piece.piece->turn) {
        painter_.setPen(QPen{theme().slate, 1.2, Qt::DashLine});
        for (const scene::Shape& shape : piece.piece->shapes)
            painter_.drawPath(pathOf(shape, {piece.piece->at, piece.piece->turn}, transform_));
    }
    if (selection_.piece() != piece.piece->id)
        return;
    painter_.setPen(QPen{theme().ink, 1.2});
    painter_.setBrush(theme().paper);
    for (const QPointF& handle : sizeHandles(piece, selection_.shape(), transform_))
        painter_.drawRect(QRectF{handle.x() - 3.5, handle.y() - 3.5, 7, 7});
}

void GroundPainter::paintThreads(const std::vector<ShownPiece>& pieces)
{
    std::map<std::size_t, const ShownPiece*> byIndex;
    for (const ShownPiece& piece : pieces)
        byIndex[piece.index] = &piece;
    // Those that sprang just now are lit.
    std::vector<bool> lit(scene_.snares.size(), false);
    const auto since = tick_ - static_cast<std::int64_t>(longAgoSeconds * record_.scene->rate);
    for (std::int64_t tick = std::max<std::int64_t>(0, since); tick <= tick_; ++tick)
        for (const Line& line : record_.linesOf(tick))
            if (line.kind == LineKind::snare && line.outcome == rules::Outcome::sprung)
                for (std::size_t i = 0; i < scene_.snares.size(); ++i)
                    lit[i] = lit[i] || scene_.snares[i].id == record_.snareNameOf(line.snare);
    painter_.setFont(textFont(-1));
    const QFontMetricsF metrics{painter_.font()};
    std::vector<QRectF> taken;
    for (const Thread& thread : threadsOf(scene_)) {
        const scene::Snare& snare = scene_.snares[thread.snare];
        const ShownPiece& from = *byIndex[thread.from];
        const ShownPiece& to = *byIndex[thread.to];
        const bool chosen = selection_.snare() == snare.id;
        const bool mine = chosen || selection_.has(from.piece->id) || selection_.has(to.piece->id);
        if (!mine && !options_.allThreads && !lit[thread.snare])
            continue;
        const QPointF start = transform_.toView(boundsOf(from).centre());
        const QPointF end = transform_.toView(boundsOf(to).centre());
        const QPointF way = end - start;
        const QPointF bend{-way.y() * 0.16, way.x() * 0.16};
        QPainterPath path{start};
        path.quadTo((start + end) / 2 + bend, end);
        const QColor colour = lit[thread.snare] ? theme().coral : chosen ? theme().ink : theme().slate;
        painter_.setBrush(Qt::NoBrush);
        painter_.setPen(QPen{colour, lit[thread.snare] || chosen ? 2.2 : 1.3});
        painter_.drawPath(path);
        // An arrow head at the end, a pill with the snare's name in the middle.
        const double angle =
            std::atan2(end.y() - path.pointAtPercent(0.93).y(), end.x() - path.pointAtPercent(0.93).x());
        QPolygonF head;
        for (const double turn : {0.0, 2.6, -2.6})
            head << end + QPointF{std::cos(angle + turn), std::sin(angle + turn)} * 7;
        painter_.setBrush(colour);
        painter_.drawPolygon(head);
        const QString name = toText(snare.id);
        QRectF pill{0, 0, metrics.horizontalAdvance(name) + 18, metrics.height() + 5};
        for (const double part : {0.5, 0.36, 0.64, 0.25, 0.75}) {
            pill.moveCenter(path.pointAtPercent(part));
            if (std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(pill); }))
                break;
        }
        taken.push_back(pill);
        painter_.setBrush(theme().panel);
        painter_.setPen(QPen{colour, 1.2});
        painter_.drawRoundedRect(pill, pill.height() / 2, pill.height() / 2);
        painter_.setPen(lit[thread.snare] ? theme().coralText : theme().ink);
        painter_.drawText(pill, Qt::AlignCenter, name);
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
        if (!hasZoneOnly(*piece.piece) || !piece.look.colour.code.empty() || !piece.shown || !piece.present)
            continue;
        const auto inside = insideOf_.find(piece.piece->id);
        if (inside == insideOf_.end() || boxOf(piece).width() < 24)
            continue;
        const geometry::Bounds bounds = boundsOf(piece);
        QRectF badge{0, 0, 17, 17};
        badge.moveCenter(transform_.toView(bounds.high) + QPointF{-13, 13});
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(zoneColour(piece.index));
        painter_.drawEllipse(badge);
        painter_.setPen(theme().paper);
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
            if (piece == pieces.end() || !hasZoneOnly(*piece->piece) || !piece->look.colour.code.empty())
                continue;
            const geometry::Bounds bounds = boundsOf(*piece);
            const QPointF foot =
                transform_.toView({bounds.high.x, bounds.low.y}) + QPointF{-52.0 - 48.0 * stacked[id]++, -4};
            paintFlag(foot, toText(scene::wordOf(line.event)), zoneColour(piece->index), theme().paper, 22);
        }
    }
}

void GroundPainter::paintCaptions(const std::vector<ShownPiece>& pieces)
{
    // The last caption of each piece that still stands.
    std::map<world::PieceIndex, const Line*> captions;
    for (const Line& line : record_.journal.lines) {
        if (line.tick > tick_)
            break;
        if (line.kind == LineKind::event && line.event == EventKind::start)
            captions.clear();
        if (line.kind == LineKind::response && line.response == "say")
            captions[line.self] = &line;
    }
    for (const auto& [index, line] : captions) {
        if (line->until < tick_ || (line->until == tick_ && line->tick != tick_))
            continue;
        const QString words = toText(line->text);
        if (index == world::theScene) {
            painter_.setFont(textFont(1.5, true));
            const QFontMetricsF metrics{painter_.font()};
            QRectF box{0, 0, metrics.horizontalAdvance(words) + 36, metrics.height() + 14};
            box.moveCenter({transform_.size.width() / 2, 32});
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(withAlpha(theme().ink, 225));
            painter_.drawRoundedRect(box, 6, 6);
            painter_.setPen(theme().paper);
            painter_.drawText(box, Qt::AlignCenter, words);
            continue;
        }
        const std::string_view id = record_.nameOf(index);
        const auto piece = std::ranges::find_if(pieces, [&](const ShownPiece& p) { return p.piece->id == id; });
        if (piece == pieces.end() || !piece->shown || !piece->present)
            continue;
        painter_.setFont(textFont(0));
        const geometry::Bounds bounds = boundsOf(*piece);
        paintFlag(transform_.toView({bounds.centre().x, bounds.high.y}), words, theme().ink, theme().paper, 30);
    }
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
