// SPDX-License-Identifier: Apache-2.0
#include "app/timeline_view.h"

#include "app/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>

#include <cmath>
#include <unordered_map>

namespace snare::app {

namespace {

constexpr double labelWidth = 132;
constexpr double rulerHeight = 24;
constexpr double rowHeight = 20;
constexpr double laneGap = 3;
constexpr double rightMargin = 16;
constexpr double hitRadius = 7;

bool isDark(const QColor& colour)
{
    return 0.3 * colour.redF() + 0.6 * colour.greenF() + 0.1 * colour.blueF() < 0.62;
}

} // namespace

TimelineView::TimelineView(Stage& stage, Selection& selection, QWidget* parent)
    : QAbstractScrollArea(parent), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("timeline"));
    setAccessibleName(tr("Timeline"));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    connect(&stage_, &Stage::recordChanged, this, &TimelineView::rebuild);
    connect(&stage_, &Stage::cursorChanged, viewport(), qOverload<>(&QWidget::update));
    connect(&stage_, &Stage::chosenLineChanged, viewport(), qOverload<>(&QWidget::update));
    connect(&selection_, &Selection::changed, this, &TimelineView::layOut);
    rebuild();
}

void TimelineView::rebuild()
{
    lanes_ = lanesOf(stage_.record());
    lanesBefore_.clear();
    fresh_.clear();
    gone_.clear();
    if (stage_.earlier()) {
        lanesBefore_ = lanesOf(*stage_.earlier());
        for (const std::size_t line : stage_.differences().fresh)
            fresh_.insert(static_cast<std::int32_t>(line));
        for (const std::size_t line : stage_.differences().gone)
            gone_.insert(static_cast<std::int32_t>(line));
    }
    layOut();
}

/// By default only lanes that have something or belong to the selection.
void TimelineView::layOut()
{
    rows_.clear();
    double top = 0;
    std::unordered_map<std::string_view, const Lane*> earlier;
    for (const Lane& lane : lanesBefore_)
        earlier.emplace(lane.key, &lane);
    for (const Lane& lane : lanes_) {
        const auto found = earlier.find(lane.key);
        const Lane* before = found == earlier.end() ? nullptr : found->second;
        const auto gone = [&](const auto& entry) { return gone_.contains(entry.line); };
        const bool hasGhosts =
            before && (std::ranges::any_of(before->bars, gone) || std::ranges::any_of(before->marks, gone));
        const bool constant = lane.kind == LaneKind::value && lane.steps.size() < 2;
        const bool selected = (!lane.piece.empty() && selection_.has(lane.piece)) ||
                              (!lane.snare.empty() && lane.snare == selection_.snare());
        if ((lane.isEmpty() || constant) && !hasGhosts && !selected)
            continue;
        const double height = lane.rows * rowHeight + laneGap;
        rows_.push_back({&lane, before, top, height});
        top += height;
    }
    const int excess = static_cast<int>(top + rulerHeight + 8) - viewport()->height();
    verticalScrollBar()->setRange(0, std::max(0, excess));
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(static_cast<int>(rowHeight));
    viewport()->update();
}

double TimelineView::secondsShown() const
{
    return std::max(1.0, stage_.record().seconds());
}

double TimelineView::xOf(double tick) const
{
    const double width = viewport()->width() - labelWidth - rightMargin;
    return labelWidth + (tick / stage_.record().scene->rate - offset_) * width * zoom_ / secondsShown();
}

double TimelineView::tickAt(double x) const
{
    const double width = viewport()->width() - labelWidth - rightMargin;
    return ((x - labelWidth) * secondsShown() / (width * zoom_) + offset_) * stage_.record().scene->rate;
}

void TimelineView::zoom(double factor, double aroundX)
{
    const double fixed = tickAt(aroundX);
    zoom_ = std::clamp(zoom_ * factor, 1.0, 200.0);
    offset_ += (fixed - tickAt(aroundX)) / stage_.record().scene->rate;
    offset_ = std::clamp(offset_, 0.0, secondsShown() * (1 - 1 / zoom_));
    viewport()->update();
}

void TimelineView::showAll()
{
    zoom_ = 1;
    offset_ = 0;
    viewport()->update();
}

std::optional<QPointF> TimelineView::pointOf(const std::string& laneKey, double tick) const
{
    for (const Row& row : rows_)
        if (row.lane->key == laneKey)
            return QPointF{xOf(tick),
                           rulerHeight + row.top - verticalScrollBar()->value() + rowHeight / 2 + laneGap / 2};
    return std::nullopt;
}

// --- painting ------------------------------------------------------------------------------------------------------

void TimelineView::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{viewport()};
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
    paintRuler(painter);
    if (stage_.record().lastTick() <= 0) {
        painter.setFont(textFont(0.5));
        painter.setPen(t.inkSoft);
        painter.drawText(viewport()->rect().adjusted(static_cast<int>(labelWidth), 0, 0, 0), Qt::AlignCenter,
                         tr("No take yet. Press R to record one: walk with the keys, Esc stops."));
        return;
    }
    paintCursor(painter);
}

void TimelineView::paintRuler(QPainter& painter)
{
    const Theme& t = theme();
    const double width = viewport()->width();
    painter.fillRect(QRectF{0, 0, width, rulerHeight}, t.panelDeep);
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
    const bool chosen = (!lane.piece.empty() && selection_.has(lane.piece)) ||
                        (!lane.snare.empty() && lane.snare == selection_.snare());
    if (chosen)
        painter.fillRect(QRectF{0, row.top, static_cast<double>(viewport()->width()), row.height},
                         QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 26));
    painter.setPen(QPen{t.hairline, 0.6});
    painter.drawLine(QPointF{0, row.top + row.height},
                     QPointF{static_cast<double>(viewport()->width()), row.top + row.height});
    painter.setFont(textFont(-0.5, chosen));
    painter.setPen(t.ink);
    const QString title =
        painter.fontMetrics().elidedText(lane.title, Qt::ElideMiddle, static_cast<int>(labelWidth) - 18);
    painter.drawText(QRectF{8, row.top, labelWidth - 18, rowHeight + laneGap}, Qt::AlignRight | Qt::AlignVCenter,
                     title);

    painter.save();
    painter.setClipRect(QRectF{labelWidth, row.top, viewport()->width() - labelWidth, row.height}, Qt::IntersectClip);
    if (lane.kind == LaneKind::value)
        paintSteps(painter, row);
    if (row.before) {
        for (const LaneBar& bar : row.before->bars)
            if (gone_.contains(bar.line))
                paintBar(painter, row, bar, true);
        for (const LaneMark& mark : row.before->marks)
            if (gone_.contains(mark.line))
                paintMark(painter, row, mark, true);
    }
    for (const LaneBar& bar : lane.bars)
        paintBar(painter, row, bar, false);
    for (const LaneMark& mark : lane.marks)
        paintMark(painter, row, mark, false);
    painter.restore();
}

QColor TimelineView::colourOf(const LaneBar& bar) const
{
    if (bar.visitor < 0)
        return theme().slate;
    const auto index = static_cast<std::size_t>(bar.visitor);
    const auto& pieces = stage_.record().scene->pieces;
    if (index < pieces.size()) {
        const QColor own{QString::fromStdString(pieces[index].look.colour.code)};
        if (own.isValid() && own.lightnessF() < 0.9F)
            return own;
    }
    return theme().accent(index);
}

void TimelineView::paintBar(QPainter& painter, const Row& row, const LaneBar& bar, bool ghost)
{
    const Theme& t = theme();
    const double top = row.top + laneGap / 2 + bar.row * rowHeight + 1.5;
    const QRectF box{xOf(bar.from), top, std::max(3.0, xOf(bar.to) - xOf(bar.from)), rowHeight - 3};
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
    painter.setFont(textFont(-1));
    if (painter.fontMetrics().horizontalAdvance(bar.text) + 10 > box.width())
        return;
    painter.setPen(ghost ? t.coralText : isDark(colour) ? t.paper : t.ink);
    painter.drawText(box.adjusted(6, 0, -2, 0), Qt::AlignVCenter | Qt::AlignLeft, bar.text);
}

void TimelineView::paintMark(QPainter& painter, const Row& row, const LaneMark& mark, bool ghost)
{
    const Theme& t = theme();
    const double x = xOf(mark.at);
    const double middle = row.top + laneGap / 2 + rowHeight / 2;
    if (mark.kind == MarkKind::signal || mark.kind == MarkKind::hit) {
        const bool hit = mark.kind == MarkKind::hit;
        const double height = hit ? std::clamp(4 + mark.size * 2, 5.0, rowHeight - 2) : rowHeight - 5;
        const QColor colour = hit ? t.plum : t.blue;
        painter.setPen(QPen{colour, hit ? 3.0 : 1.8, ghost ? Qt::DotLine : Qt::SolidLine});
        painter.drawLine(QPointF{x, middle + rowHeight / 2 - 3}, QPointF{x, middle + rowHeight / 2 - 3 - height});
        if (!hit) {
            painter.setFont(textFont(-1));
            painter.drawText(QRectF{x + 4, middle - rowHeight / 2, 110, rowHeight}, Qt::AlignVCenter, mark.text);
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
    double low = 1e300;
    double high = -1e300;
    for (const LaneStep& step : steps) {
        low = std::min(low, step.number);
        high = std::max(high, step.number);
    }
    const double bottom = row.top + rowHeight - 1;
    const double range = std::max(high - low, 1e-9);
    painter.setFont(textFont(-1.5));
    double textFree = -1e9; // where the next figure may begin
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const double from = xOf(steps[i].at);
        const double to =
            i + 1 < steps.size() ? xOf(steps[i + 1].at) : xOf(static_cast<double>(stage_.record().lastTick()));
        const double y = bottom - (rowHeight - 6) * (steps[i].isNumber ? (steps[i].number - low) / range : 0.0);
        painter.setPen(QPen{t.blue, 1.6});
        painter.drawLine(QPointF{from, y}, QPointF{to, y});
        if (i > 0) {
            const double before =
                bottom - (rowHeight - 6) * (steps[i - 1].isNumber ? (steps[i - 1].number - low) / range : 0.0);
            painter.drawLine(QPointF{from, before}, QPointF{from, y});
        }
        const double width = painter.fontMetrics().horizontalAdvance(steps[i].text);
        if (to - from > width + 8 && from + 4 > textFree) {
            painter.setPen(t.inkSoft);
            const double textY = y - 3 < row.top + 9 ? y + 10 : y - 3;
            painter.drawText(QPointF{from + 4, textY}, steps[i].text);
            textFree = from + 4 + width;
        }
    }
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
    painter.setPen(t.paper);
    painter.drawText(flag, Qt::AlignCenter, time);
}

// --- pointer and keys ----------------------------------------------------------------------------------------------

TimelineView::Hit TimelineView::hitAt(const QPointF& point) const
{
    const double y = point.y() - rulerHeight + verticalScrollBar()->value();
    Hit best;
    for (const Row& row : rows_) {
        if (point.y() < rulerHeight || y < row.top || y >= row.top + row.height)
            continue;
        best.snare = QString::fromStdString(row.lane->snare);
        best.piece = QString::fromStdString(row.lane->piece);
        if (point.x() < labelWidth)
            return best;
        double nearest = hitRadius;
        for (const LaneMark& mark : row.lane->marks) {
            const double distance = std::abs(xOf(mark.at) - point.x());
            if (distance > nearest)
                continue;
            nearest = distance;
            best.line = mark.line;
            best.at = mark.at;
            best.text = mark.text;
        }
        if (best.line >= 0)
            return best;
        for (const LaneBar& bar : row.lane->bars) {
            const double top = row.top + laneGap / 2 + bar.row * rowHeight;
            if (point.x() < xOf(bar.from) - 2 || point.x() > xOf(bar.to) + 2 || y < top || y > top + rowHeight)
                continue;
            best.at = bar.from;
            best.text = tr("%1   %2 s to %3 s")
                            .arg(bar.text)
                            .arg(bar.from / stage_.record().scene->rate, 0, 'f', 3)
                            .arg(bar.to / stage_.record().scene->rate, 0, 'f', 3);
            if (std::abs(xOf(bar.from) - point.x()) <= hitRadius)
                best.line = bar.line;
            else if (bar.endLine >= 0 && std::abs(xOf(bar.to) - point.x()) <= hitRadius)
                best.line = bar.endLine;
        }
        return best;
    }
    return best;
}

void TimelineView::dragTo(double x)
{
    stage_.pause();
    stage_.setCursor(static_cast<std::int64_t>(std::lround(tickAt(x))));
}

void TimelineView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || stage_.mode() == Stage::Mode::recording)
        return;
    const Hit hit = hitAt(event->position());
    if (!hit.snare.isEmpty() && (hit.line >= 0 || event->position().x() < labelWidth))
        emit snareChosen(hit.snare);
    else if (!hit.piece.isEmpty() && (hit.line >= 0 || event->position().x() < labelWidth))
        emit pieceChosen(hit.piece);
    if (event->position().x() < labelWidth)
        return;
    if (hit.line >= 0) {
        stage_.chooseLine(hit.line);
        return;
    }
    dragging_ = true;
    dragTo(event->position().x());
}

void TimelineView::mouseMoveEvent(QMouseEvent* event)
{
    if (dragging_ && event->buttons() & Qt::LeftButton) {
        dragTo(event->position().x());
        return;
    }
    dragging_ = false;
    const Hit hit = hitAt(event->position());
    viewport()->setCursor(hit.line >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (!hit.text.isEmpty())
        emit hint(hit.text);
}

void TimelineView::wheelEvent(QWheelEvent* event)
{
    if (event->modifiers() & Qt::ControlModifier) {
        zoom(std::pow(1.002, event->angleDelta().y()), event->position().x());
        return;
    }
    if (event->modifiers() & Qt::ShiftModifier) {
        const double by = event->angleDelta().y() * secondsShown() / zoom_ / 1500;
        offset_ = std::clamp(offset_ - by, 0.0, secondsShown() * (1 - 1 / zoom_));
        viewport()->update();
        return;
    }
    QAbstractScrollArea::wheelEvent(event);
}

void TimelineView::keyPressEvent(QKeyEvent* event)
{
    const std::int64_t step = event->modifiers() & Qt::ShiftModifier ? stage_.record().scene->rate : 1;
    switch (event->key()) {
    case Qt::Key_Left:
        stage_.stepBy(-step);
        return;
    case Qt::Key_Right:
        stage_.stepBy(step);
        return;
    default:
        QAbstractScrollArea::keyPressEvent(event);
    }
}

void TimelineView::resizeEvent(QResizeEvent*)
{
    layOut();
}

} // namespace snare::app
