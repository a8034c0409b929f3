// SPDX-License-Identifier: Apache-2.0
/// What stands over the pieces on the ground: names, handles, who is inside, pennants, captions,
/// gauges, the scale.
#include "app/ground/figures.h"
#include "app/ground/ground_motion.h"
#include "app/ground/ground_painter.h"
#include "app/ground/ground_threads.h"
#include "app/ground/handles.h"
#include "app/ui/words.h"

#include <QPainterPath>
#include <QRegularExpression>

#include <cmath>
#include <map>

namespace snare::app {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

constexpr double farScale = 14; ///< pixels a metre: below it labels stand only where they fit

/// The frame round a chosen piece whose bounds are `box`, in pixels.
QRectF framed(const QRectF& box)
{
    return box.adjusted(-6, -6, 6, 6);
}

} // namespace

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
    const QRectF frame = label.wanted ? framed(box) : box;
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
            place(box.left(), frame.bottom() + 3);
            place(box.left(), frame.top() - 3 - height);
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
        place(middle, frame.bottom() + 2);
        place(middle, frame.top() - 2 - height);
        place(frame.right() + 5, box.center().y() - height / 2);
        place(frame.left() - 5 - width, box.center().y() - height / 2);
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
    const QRectF box = framed(transform_.toView(piece.box));
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(QPen{theme().ink, 1.2});
    painter_.drawRect(box);
    // Where it stands at the start, if it is elsewhere now.
    if (piece.pose.at != piece.start.at || piece.pose.turn != piece.start.turn) {
        painter_.setPen(QPen{theme().slate, 1.2, Qt::DashLine});
        for (const scene::Shape& shape : piece.piece->shapes)
            painter_.drawPath(shapePath(shape, piece.start, transform_));
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
        case Handle::Kind::velocity:
            if (const Vec* velocity = velocityOf(*piece.piece); *velocity != Vec{0, 0})
                paintArrow(painter_, transform_.toView(piece.pose.at), handle.at);
            painter_.setPen(QPen{theme().blue, 1.6});
            painter_.drawEllipse(handle.at, 3.6, 3.6);
            break;
        case Handle::Kind::bounds:
        case Handle::Kind::path:
        case Handle::Kind::pathLeg:
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
    const QPainterPath path = shapePath(shape, piece.pose, transform_);
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
