// SPDX-License-Identifier: Apache-2.0
/// How the timeline is drawn: ruler, lanes, cursor.
#include "app/timeline/timeline_view.h"

#include "app/model/scene_keys.h"
#include "app/timeline/timeline_metrics.h"
#include "app/ui/theme.h"

#include <QPainter>
#include <QScrollBar>

#include <cmath>

namespace snare::app {

namespace {

bool isDark(const QColor& colour)
{
    return 0.3 * colour.redF() + 0.6 * colour.greenF() + 0.1 * colour.blueF() < 0.56;
}

} // namespace

/// Everything but the cursor changed.
void TimelineView::redraw()
{
    cache_ = {};
    viewport()->update();
}

void TimelineView::scrollContentsBy(int, int)
{
    redraw();
}

/// The lanes are kept as a picture: while one goes through time, only the cursor is drawn anew.
void TimelineView::paintEvent(QPaintEvent*)
{
    const double ratio = devicePixelRatioF();
    const QSize size = viewport()->size() * ratio;
    if (cache_.size() != size) {
        cache_ = QPixmap{size};
        cache_.setDevicePixelRatio(ratio);
        QPainter painter{&cache_};
        paintLanes(painter);
    }
    QPainter painter{viewport()};
    painter.drawPixmap(0, 0, cache_);
    painter.setRenderHint(QPainter::Antialiasing);
    if (stage_.chosenLine() >= 0)
        paintBecause(painter);
    if (stage_.record().lastTick() > 0)
        paintCursor(painter);
}

void TimelineView::paintLanes(QPainter& painter)
{
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(viewport()->rect(), t.panel);
    painter.fillRect(QRectF{0, 0, labelWidth, static_cast<double>(viewport()->height())}, t.panelDeep);
    painter.save();
    painter.setClipRect(
        QRectF{0, rulerHeight, static_cast<double>(viewport()->width()), viewport()->height() - rulerHeight});
    painter.translate(0, rulerHeight - verticalScrollBar()->value());
    for (const Row& row : rows_)
        paintRow(painter, row);
    painter.restore();
    painter.save();
    painter.setClipRect(
        QRectF{labelWidth, rulerHeight, viewport()->width() - labelWidth, viewport()->height() - rulerHeight});
    paintBands(painter);
    paintFlags(painter);
    painter.restore();
    paintRuler(painter);
    if (stage_.record().lastTick() <= 0) {
        painter.setFont(textFont(0.5));
        painter.setPen(t.inkSoft);
        painter.drawText(viewport()->rect().adjusted(static_cast<int>(labelWidth), 0, 0, 0), Qt::AlignCenter,
                         tr("No take yet. Press R to record one: play with keys and pointer, %1 stops.\n"
                            "Or let the bench play by itself: Run › Scout…")
                             .arg(stopKeyLabel(document_.scene())));
    }
}

void TimelineView::paintRuler(QPainter& painter)
{
    const Theme& t = theme();
    const double width = viewport()->width();
    painter.fillRect(QRectF{0, 0, width, rulerHeight}, t.panelDeep);
    if (const auto& loop = stage_.loop()) {
        const double from = std::max(labelWidth, xOf(static_cast<double>(loop->first)));
        const double to = xOf(static_cast<double>(loop->second));
        QColor band = t.ochre;
        painter.fillRect(QRectF{from, 0, to - from, rulerHeight}, QColor(band.red(), band.green(), band.blue(), 70));
        painter.fillRect(QRectF{from, rulerHeight - 3, to - from, 3}, band);
    }
    painter.setPen(t.hairline);
    painter.drawLine(QPointF{0, rulerHeight}, QPointF{width, rulerHeight});
    if (stage_.record().lastTick() <= 0)
        return;
    const int rate = stage_.record().scene->rate;
    const double pixelsPerSecond = xOf(rate) - xOf(0);
    double step = 0.1;
    for (const double wanted : {0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 300.0})
        if (step * pixelsPerSecond < 60)
            step = wanted;
    painter.setFont(figureFont(-1));
    for (double s = std::ceil(offset_ / step) * step; xOf(s * rate) < width; s += step) {
        const double x = xOf(s * rate);
        painter.setPen(t.hairline);
        painter.drawLine(QPointF{x, rulerHeight - 5}, QPointF{x, rulerHeight});
        painter.setPen(t.inkSoft);
        const QString label = tr("%1 s").arg(std::round(s * 10) / 10);
        if (s <= secondsShown() + 1e-9 && x + 4 + painter.fontMetrics().horizontalAdvance(label) < width)
            painter.drawText(QPointF{x + 4, rulerHeight - 8}, label);
    }
}

void TimelineView::paintRow(QPainter& painter, const Row& row)
{
    const Theme& t = theme();
    const Lane& lane = *row.lane;
    const bool isChosen = (!lane.piece.empty() && selection_.has(lane.piece)) ||
                          (!lane.snare.empty() && lane.snare == selection_.snare());
    if (isChosen)
        painter.fillRect(QRectF{0, row.top, static_cast<double>(viewport()->width()), row.height},
                         QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 26));
    painter.setPen(QPen{t.hairline, 0.6});
    painter.drawLine(QPointF{0, row.top + row.height},
                     QPointF{static_cast<double>(viewport()->width()), row.top + row.height});
    paintLabel(painter, row, isChosen || lane.key == chosenLane_);

    painter.save();
    painter.setClipRect(QRectF{labelWidth, row.top, viewport()->width() - labelWidth, row.height}, Qt::IntersectClip);
    if (lane.kind == LaneKind::value)
        paintSteps(painter, row);
    if (lane.kind == LaneKind::expected) {
        paintExpected(painter, row);
        painter.restore();
        return;
    }
    if (row.before) {
        for (const LaneBar& bar : row.before->bars)
            if (gone_.contains(bar.line))
                paintBar(painter, row, bar, true);
        for (const LaneMark& mark : row.before->marks)
            if (gone_.contains(mark.line))
                paintMark(painter, row, mark, true);
    }
    const double from = tickAt(labelWidth - 12);
    const double to = tickAt(viewport()->width() + 12.0);
    // What would stand on the same pixel is drawn once, unless it is new or chosen: then all is
    // gone through.
    const bool all = !fresh_.empty();
    for (std::size_t i = 0; i < lane.byRow.size(); ++i) {
        const auto bars = barsBetween(lane, i, from, to);
        for (std::size_t k = 0; k < bars.size();) {
            const LaneBar& bar = lane.bars[static_cast<std::size_t>(bars[k])];
            paintBar(painter, row, bar, false);
            ++k;
            const double drawn = tickAt(std::max(xOf(bar.to), xOf(bar.from) + 3) + 0.5);
            if (!all)
                k = static_cast<std::size_t>(
                    std::ranges::lower_bound(
                        bars.subspan(k), drawn, {},
                        [&](std::int32_t one) { return lane.bars[static_cast<std::size_t>(one)].to; }) -
                    bars.begin());
        }
    }
    const auto marks = marksBetween(lane, from, to);
    double last = -1e9;
    for (auto mark = marks.begin(); mark != marks.end();) {
        const double x = xOf(mark->at);
        if (x - last >= 0.8 || fresh_.contains(mark->line)) {
            paintMark(painter, row, *mark, false);
            last = x;
        }
        ++mark;
        if (!all)
            mark = std::ranges::lower_bound(mark, marks.end(), tickAt(last + 0.8), {}, &LaneMark::at);
    }
    const auto chosen = std::ranges::lower_bound(marks, stage_.chosenLine(), {}, &LaneMark::line);
    if (chosen != marks.end() && chosen->line == stage_.chosenLine())
        paintMark(painter, row, *chosen, false);
    painter.restore();
}

void TimelineView::paintLabel(QPainter& painter, const Row& row, bool chosen)
{
    const Theme& t = theme();
    const auto state = states_.find(row.lane->key);
    const bool pinned = state != states_.end() && state->second.pinned;
    painter.setPen(t.ink);
    const double height = row.folded ? row.height : rowHeight + laneGap;
    if (!row.folded) {
        painter.setFont(textFont(-0.5, chosen || row.heads));
        const QString title =
            painter.fontMetrics().elidedText(row.lane->title, Qt::ElideMiddle, static_cast<int>(labelWidth) - 34);
        painter.drawText(QRectF{24, row.top, labelWidth - 34, height}, Qt::AlignRight | Qt::AlignVCenter, title);
    }
    // A small mark tells that it is folded, or can be.
    const QPointF at{10, row.top + height / 2};
    painter.setPen(Qt::NoPen);
    const bool isClosed = row.heads ? state != states_.end() && state->second.folded : row.folded;
    painter.setBrush(chosen || isClosed || row.heads || row.lane->rows > 1 ? t.inkSoft : t.hairline);
    QPolygonF mark;
    if (isClosed)
        mark << at + QPointF{-2, -3.5} << at + QPointF{3, 0} << at + QPointF{-2, 3.5};
    else
        mark << at + QPointF{-3.5, -2} << at + QPointF{3.5, -2} << at + QPointF{0, 3};
    painter.drawPolygon(mark);
    if (pinned) {
        painter.setBrush(t.coral);
        painter.drawEllipse(at + QPointF{11, 0}, 2.6, 2.6);
    }
}

QColor TimelineView::colourOf(const LaneBar& bar) const
{
    if (bar.phase >= 0) {
        // The same phase has the same colour wherever it is seen.
        QColor colour = theme().accent(static_cast<std::size_t>(bar.phase));
        colour.setAlpha(150);
        return colour;
    }
    if (bar.visitor < 0)
        return theme().slate;
    const auto index = static_cast<std::size_t>(bar.visitor);
    const auto& pieces = stage_.record().pieces;
    if (index < pieces.size()) {
        const QColor own{QString::fromStdString(pieces[index].model->look.colour.code)};
        if (own.isValid() && own.lightnessF() < 0.9F)
            return own;
    }
    return theme().accent(index);
}

void TimelineView::paintBar(QPainter& painter, const Row& row, const LaneBar& bar, bool ghost)
{
    const Theme& t = theme();
    const double top = row.folded ? row.top + 2 : row.top + laneGap / 2 + bar.row * rowHeight + 1.5;
    const QRectF box{xOf(bar.from), top, std::max(3.0, xOf(bar.to) - xOf(bar.from)),
                     row.folded ? row.height - 4 : rowHeight - 3};
    if (box.right() < labelWidth || box.left() > viewport()->width())
        return;
    QColor colour = colourOf(bar);
    if (ghost) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen{t.coral, 1.3, Qt::DashLine});
        painter.drawRoundedRect(box, 2.5, 2.5);
    } else {
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawRoundedRect(box, 2.5, 2.5);
        if (fresh_.contains(bar.line)) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen{t.mint, 2});
            painter.drawRoundedRect(box.adjusted(-1.5, -1.5, 1.5, 1.5), 4, 4);
        }
    }
    // A stop is told from a sense by a firm edge where it began, whatever the colours.
    if (bar.stops && box.height() > 4) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.ink);
        painter.drawRect(QRectF{box.left(), box.top() - 1.5, 3.5, box.height() + 3});
    }
    if (!bar.key.empty() && chosenPress_ && chosenPress_->key == bar.key &&
        static_cast<double>(chosenPress_->from) == bar.from) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen{t.ink, 2});
        painter.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 3, 3);
    }
    painter.setFont(textFont(-1));
    if (row.folded || painter.fontMetrics().horizontalAdvance(bar.text) + 10 > box.width())
        return;
    painter.setPen(ghost ? t.coralText : isDark(colour) ? t.bright : t.deep);
    painter.drawText(box.adjusted(bar.stops ? 8 : 6, 0, -2, 0), Qt::AlignVCenter | Qt::AlignLeft, bar.text);
}

void TimelineView::paintMark(QPainter& painter, const Row& row, const LaneMark& mark, bool ghost)
{
    const Theme& t = theme();
    const double x = xOf(mark.at);
    if (x < labelWidth - 10 || x > viewport()->width() + 10)
        return;
    if (row.folded) {
        const QColor colour = mark.kind == MarkKind::sprung    ? t.mint
                              : mark.kind == MarkKind::slipped ? t.coral
                              : mark.kind == MarkKind::hit     ? t.plum
                                                               : t.blue;
        painter.setPen(QPen{colour, 2, ghost ? Qt::DotLine : Qt::SolidLine});
        painter.drawLine(QPointF{x, row.top + 2}, QPointF{x, row.top + row.height - 2});
        return;
    }
    const double middle = row.top + laneGap / 2 + rowHeight / 2;
    if (mark.kind == MarkKind::act) { // a notch: what it says stands in the hint and in the moment
        QPolygonF notch;
        notch << QPointF{x - 4, row.top + 1} << QPointF{x + 4, row.top + 1} << QPointF{x, row.top + 8};
        painter.setPen(QPen{t.paper, 1});
        painter.setBrush(ghost ? QBrush{Qt::NoBrush} : QBrush{t.coral});
        painter.drawPolygon(notch);
        return;
    }
    if (mark.kind == MarkKind::signal || mark.kind == MarkKind::hit) {
        const bool hit = mark.kind == MarkKind::hit;
        const double height = hit ? std::clamp(4 + mark.size * 2, 5.0, rowHeight - 2) : rowHeight - 5;
        const QColor colour = hit ? t.plum : t.blue;
        painter.setPen(QPen{colour, hit ? 3.0 : 1.8, ghost ? Qt::DotLine : Qt::SolidLine});
        painter.drawLine(QPointF{x, middle + rowHeight / 2 - 3}, QPointF{x, middle + rowHeight / 2 - 3 - height});
        if (!hit) {
            painter.setFont(textFont(-1));
            // Only where it stands in nobody's way: on the right or, at the edge of the view, on
            // the left.
            const auto& marks = row.lane->marks;
            const auto next = std::ranges::upper_bound(marks, mark.at, {}, &LaneMark::at);
            const auto first = std::ranges::lower_bound(marks, mark.at, {}, &LaneMark::at);
            const double end = viewport()->width();
            const double right = next == marks.end() ? end : std::min(end, xOf(next->at));
            const double left = first == marks.begin() ? labelWidth : xOf((first - 1)->at);
            const double width = painter.fontMetrics().horizontalAdvance(mark.text) + 8.0;
            const QRectF beside{x + 4, middle - rowHeight / 2, width, rowHeight};
            if (width < right - x)
                painter.drawText(beside, Qt::AlignVCenter, mark.text);
            else if (right == end && width < x - left)
                painter.drawText(beside.translated(-width - 8, 0), Qt::AlignVCenter | Qt::AlignRight, mark.text);
        }
        if (!ghost && fresh_.contains(mark.line)) {
            painter.setPen(QPen{t.mint, 1.6});
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(QPointF{x, middle}, 7.5, 7.5);
        }
        return;
    }
    const double r = 6;
    QPolygonF diamond;
    diamond << QPointF{x, middle - r} << QPointF{x + r, middle} << QPointF{x, middle + r} << QPointF{x - r, middle};
    const bool sprung = mark.kind == MarkKind::sprung;
    if (ghost) {
        painter.setPen(QPen{t.inkSoft, 1.2, Qt::DotLine});
        painter.setBrush(Qt::NoBrush);
    } else {
        painter.setPen(QPen{sprung ? t.mint : t.coral, 1.6});
        painter.setBrush(sprung ? QBrush{t.mint} : QBrush{t.panel});
    }
    painter.drawPolygon(diamond);
    if (!ghost && fresh_.contains(mark.line)) {
        painter.setPen(QPen{t.mint, 1.6});
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(QPointF{x, middle}, 9.2, 9.2);
    }
    if (!ghost && mark.line == stage_.chosenLine()) {
        painter.setPen(QPen{t.ink, 2});
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF{x - 9, middle - 9, 18, 18});
    }
}

void TimelineView::paintSteps(QPainter& painter, const Row& row)
{
    const Theme& t = theme();
    const std::vector<LaneStep>& steps = row.lane->steps;
    const double low = row.lane->low;
    const double high = row.lane->high;
    const double tall = row.folded ? row.height + 3 : rowHeight;
    const double bottom = row.top + tall - (row.folded ? 5 : 1);
    const double range = std::max(high - low, 1e-9);
    painter.setFont(textFont(-1.5));
    double textFree = -1e9; // where the next figure may begin
    // From the last one before what is seen to the first behind it.
    const auto seen = std::ranges::upper_bound(steps, tickAt(labelWidth - 2), {}, &LaneStep::at);
    const double right = viewport()->width() + 2.0;
    double drawn = -1e9; // to here; what changes within a pixel is drawn as one upright line
    double least = 1e300;
    double most = -1e300;
    for (auto i = static_cast<std::size_t>(seen - steps.begin()) - (seen == steps.begin() ? 0 : 1); i < steps.size();
         ++i) {
        const double from = xOf(steps[i].at);
        if (from > right)
            break;
        const double to =
            i + 1 < steps.size() ? xOf(steps[i + 1].at) : xOf(static_cast<double>(stage_.record().lastTick()));
        const double y = bottom - (tall - 6) * (steps[i].isNumber ? (steps[i].number - low) / range : 0.0);
        if (to - drawn < 0.8 && i + 1 < steps.size()) {
            least = std::min(least, y);
            most = std::max(most, y);
            continue;
        }
        drawn = to;
        painter.setPen(QPen{t.blue, 1.6});
        if (least <= most) {
            painter.drawLine(QPointF{from, std::min(least, y)}, QPointF{from, std::max(most, y)});
            least = 1e300;
            most = -1e300;
        }
        const double width = painter.fontMetrics().horizontalAdvance(steps[i].text);
        painter.drawLine(QPointF{from, y}, QPointF{to, y});
        if (i > 0) {
            const double before =
                bottom - (tall - 6) * (steps[i - 1].isNumber ? (steps[i - 1].number - low) / range : 0.0);
            painter.drawLine(QPointF{from, before}, QPointF{from, y});
        }
        if (!row.folded && to - from > width + 8 && from + 4 > textFree) {
            painter.setPen(t.inkSoft);
            const double textY = y - 3 < row.top + 9 ? y + 10 : y - 3;
            painter.drawText(QPointF{from + 4, textY}, steps[i].text);
            textFree = from + 4 + width;
        }
    }
}

std::optional<QPointF> TimelineView::placeOfLine(std::int32_t line) const
{
    const double tick = stage_.record().journal.lines[static_cast<std::size_t>(line)].tick;
    const double up = rulerHeight - verticalScrollBar()->value();
    for (const Row& row : rows_) {
        for (const LaneMark& mark : marksBetween(*row.lane, tick - 1, tick + 1))
            if (mark.line == line)
                return QPointF{xOf(mark.at),
                               up + row.top + (row.folded ? row.height / 2 : laneGap / 2 + rowHeight / 2)};
        for (std::size_t i = 0; i < row.lane->byRow.size(); ++i)
            for (const std::int32_t number : barsBetween(*row.lane, i, tick - 1, tick + 1)) {
                const LaneBar& bar = row.lane->bars[static_cast<std::size_t>(number)];
                if (bar.line != line && bar.endLine != line)
                    continue;
                return QPointF{xOf(bar.line == line ? bar.from : bar.to),
                               up + row.top +
                                   (row.folded ? row.height / 2 : laneGap / 2 + rowHeight * (bar.row + 0.5))};
            }
    }
    return std::nullopt;
}

/// What led to the chosen event, as one thin line over the lanes.
void TimelineView::paintBecause(QPainter& painter)
{
    const Theme& t = theme();
    QPolygonF way;
    for (const std::int32_t line : stage_.chain())
        if (const auto place = placeOfLine(line))
            way << *place;
    if (way.size() < 2)
        return;
    painter.save();
    painter.setClipRect(QRectF{labelWidth, rulerHeight, viewport()->width() - labelWidth,
                               viewport()->height() - rulerHeight});
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{t.paper, 3.6});
    painter.drawPolyline(way);
    painter.setPen(QPen{t.plum, 1.6});
    painter.drawPolyline(way);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.plum);
    for (const QPointF& stop : way)
        painter.drawEllipse(stop, 2.6, 2.6);
    painter.restore();
}

void TimelineView::paintCursor(QPainter& painter)
{
    const Theme& t = theme();
    const double x = xOf(static_cast<double>(stage_.cursor()));
    if (x < labelWidth - 1)
        return;
    painter.setPen(QPen{t.coral, 1.6});
    painter.drawLine(QPointF{x, 4}, QPointF{x, static_cast<double>(viewport()->height())});
    painter.setFont(figureFont(-0.5));
    const QString time = tr("%1 s").arg(stage_.cursorSeconds(), 0, 'f', 3);
    const double width = painter.fontMetrics().horizontalAdvance(time) + 14;
    const double left = std::clamp(x - width / 2, labelWidth - 4.0, viewport()->width() - width - 2);
    const QRectF flag{left, 2, width, rulerHeight - 5};
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.coralText);
    painter.drawRoundedRect(flag, 3, 3);
    painter.setPen(t.onAccent);
    painter.drawText(flag, Qt::AlignCenter, time);
}

} // namespace snare::app
