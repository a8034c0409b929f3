// SPDX-License-Identifier: Apache-2.0
#include "app/timeline_view.h"

#include "app/key_names.h"
#include "app/slot_fill.h"
#include "app/slot_popup.h"
#include "app/theme.h"
#include "app/words.h"

#include <QMenu>
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
constexpr double foldedHeight = 9;
constexpr double grabPixels = 5; ///< how near the end of a press must be to stretch it

bool isDark(const QColor& colour)
{
    return 0.3 * colour.redF() + 0.6 * colour.greenF() + 0.1 * colour.blueF() < 0.56;
}

} // namespace

TimelineView::TimelineView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QAbstractScrollArea(parent), document_(document), stage_(stage), selection_(selection),
      options_(new QToolButton{this})
{
    setObjectName(QStringLiteral("timeline"));
    setAccessibleName(tr("Timeline"));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    connect(&stage_, &Stage::recordChanged, this, &TimelineView::rebuild);
    connect(&stage_, &Stage::cursorChanged, viewport(), qOverload<>(&QWidget::update));
    connect(&stage_, &Stage::chosenLineChanged, this, &TimelineView::redraw);
    connect(&selection_, &Selection::changed, this, &TimelineView::layOut);
    connect(&stage_, &Stage::loopChanged, this, &TimelineView::redraw);
    options_->setObjectName(QStringLiteral("laneOptions"));
    options_->setText(tr("Lanes ▾"));
    options_->setToolTip(tr("Which lanes are shown"));
    options_->setAutoRaise(true);
    options_->setFont(textFont(-1));
    options_->setPopupMode(QToolButton::InstantPopup);
    options_->setStyleSheet(QStringLiteral("QToolButton::menu-indicator { image: none; }"));
    auto* menu = new QMenu{options_};
    QAction* only = menu->addAction(tr("Only lanes of the selection"));
    only->setCheckable(true);
    connect(only, &QAction::toggled, this, &TimelineView::setSelectionOnly);
    menu->addAction(tr("Filter by name…"), this, [this] {
        Question question;
        question.title = tr("Show lanes whose name has; empty: all");
        question.freeText = true;
        question.typed = filter_;
        SlotPopup::ask(options_, question, [this](const QStringList& answer) { setFilter(answer.front()); });
    });
    menu->addAction(tr("Show hidden lanes"), this, [this] {
        for (auto& entry : states_)
            entry.second.hidden = false;
        layOut();
    });
    menu->addAction(tr("Usual order"), this, [this] {
        order_.clear();
        layOut();
    });
    menu->addAction(tr("Fold all"), this, [this] {
        for (const Lane& lane : lanes_)
            states_[lane.key].folded = true;
        layOut();
    });
    menu->addAction(tr("Unfold all"), this, [this] {
        for (auto& entry : states_)
            entry.second.folded = false;
        layOut();
    });
    options_->setMenu(menu);
    options_->move(6, 0);
    options_->setFixedHeight(static_cast<int>(rulerHeight));
    rebuild();
}

void TimelineView::setSelectionOnly(bool only)
{
    selectionOnly_ = only;
    layOut();
}

void TimelineView::setFilter(const QString& text)
{
    filter_ = text.trimmed();
    layOut();
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
bool TimelineView::isShown(const Lane& lane, const Lane* before) const
{
    const auto state = states_.find(lane.key);
    if (state != states_.end() && state->second.hidden)
        return false;
    if (state != states_.end() && state->second.pinned)
        return true;
    const bool selected = (!lane.piece.empty() && selection_.has(lane.piece)) ||
                          (!lane.snare.empty() && lane.snare == selection_.snare());
    if (!filter_.isEmpty() && !lane.title.contains(filter_, Qt::CaseInsensitive))
        return false;
    if (selectionOnly_) {
        const scene::Snare* snare = scene::findSnare(*stage_.record().scene, lane.snare);
        return selected || (snare && selection_.has(std::string(scene::splitShape(snare->catches.at).first)));
    }
    const auto gone = [&](const auto& entry) { return gone_.contains(entry.line); };
    const bool hasGhosts =
        before && (std::ranges::any_of(before->bars, gone) || std::ranges::any_of(before->marks, gone));
    const bool constant = lane.kind == LaneKind::value && lane.steps.size() < 2;
    return (!lane.isEmpty() && !constant) || hasGhosts || selected;
}

void TimelineView::layOut()
{
    rows_.clear();
    std::unordered_map<std::string_view, const Lane*> earlier;
    for (const Lane& lane : lanesBefore_)
        earlier.emplace(lane.key, &lane);
    for (const Lane& lane : lanes_) {
        const auto found = earlier.find(lane.key);
        const Lane* before = found == earlier.end() ? nullptr : found->second;
        if (isShown(lane, before))
            rows_.push_back({&lane, before, 0, 0});
    }
    // Pinned lanes first, then those moved by hand where they were put, the others after the lane they follow.
    const auto pinned = [&](const Row& row) {
        const auto state = states_.find(row.lane->key);
        return state != states_.end() && state->second.pinned;
    };
    if (!order_.empty())
        std::ranges::stable_sort(rows_, {}, [&](const Row& row) {
            const auto found = std::ranges::find(order_, row.lane->key);
            return found - order_.begin();
        });
    std::ranges::stable_partition(rows_, pinned);
    double top = 0;
    for (Row& row : rows_) {
        const auto state = states_.find(row.lane->key);
        const bool folded = state != states_.end() && state->second.folded;
        row.top = top;
        row.height = folded ? foldedHeight : row.lane->rows * rowHeight + laneGap;
        row.folded = folded;
        top += row.height;
    }
    const int excess = static_cast<int>(top + rulerHeight + 8) - viewport()->height();
    verticalScrollBar()->setRange(0, std::max(0, excess));
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(static_cast<int>(rowHeight));
    redraw();
}

std::vector<std::string> TimelineView::shownLanes() const
{
    std::vector<std::string> keys;
    for (const Row& row : rows_)
        keys.push_back(row.lane->key);
    return keys;
}

const TimelineView::Row* TimelineView::rowAt(double y) const
{
    const double inside = y - rulerHeight + verticalScrollBar()->value();
    for (const Row& row : rows_)
        if (y >= rulerHeight && inside >= row.top && inside < row.top + row.height)
            return &row;
    return nullptr;
}

void TimelineView::toggle(const std::string& key, bool LaneState::*what)
{
    LaneState& state = states_[key];
    state.*what = !(state.*what);
    layOut();
}

void TimelineView::moveLane(const std::string& key, int by)
{
    order_ = shownLanes();
    const auto found = std::ranges::find(order_, key);
    if (found == order_.end())
        return;
    const auto from = found - order_.begin();
    const auto to = std::clamp<std::ptrdiff_t>(from + by, 0, static_cast<std::ptrdiff_t>(order_.size()) - 1);
    order_.erase(found);
    order_.insert(order_.begin() + to, key);
    layOut();
}

/// The lane whose label is dragged goes where it is let go.
void TimelineView::dropLane(double y)
{
    const auto lanes = shownLanes();
    const auto from = std::ranges::find(lanes, chosenLane_) - lanes.begin();
    const Row* over = rowAt(y);
    const auto to = over ? over - rows_.data() : y < rulerHeight ? 0 : static_cast<std::ptrdiff_t>(lanes.size()) - 1;
    moveLane(chosenLane_, static_cast<int>(to - from));
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
    redraw();
}

void TimelineView::showAll()
{
    zoom_ = 1;
    offset_ = 0;
    redraw();
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
    paintRuler(painter);
    if (stage_.record().lastTick() <= 0) {
        painter.setFont(textFont(0.5));
        painter.setPen(t.inkSoft);
        painter.drawText(viewport()->rect().adjusted(static_cast<int>(labelWidth), 0, 0, 0), Qt::AlignCenter,
                         tr("No take yet. Press R to record one: walk with the keys, Esc stops."));
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
    const bool chosen = (!lane.piece.empty() && selection_.has(lane.piece)) ||
                        (!lane.snare.empty() && lane.snare == selection_.snare());
    if (chosen)
        painter.fillRect(QRectF{0, row.top, static_cast<double>(viewport()->width()), row.height},
                         QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 26));
    painter.setPen(QPen{t.hairline, 0.6});
    painter.drawLine(QPointF{0, row.top + row.height},
                     QPointF{static_cast<double>(viewport()->width()), row.top + row.height});
    paintLabel(painter, row, chosen || lane.key == chosenLane_);

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
    double last = -1e9; // marks on the same pixel are drawn once, unless they are new
    for (const LaneMark& mark : lane.marks) {
        const double x = xOf(mark.at);
        if (x - last < 0.8 && !fresh_.contains(mark.line) && mark.line != stage_.chosenLine())
            continue;
        paintMark(painter, row, mark, false);
        last = x;
    }
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
        painter.setFont(textFont(-0.5, chosen));
        const QString title =
            painter.fontMetrics().elidedText(row.lane->title, Qt::ElideMiddle, static_cast<int>(labelWidth) - 34);
        painter.drawText(QRectF{24, row.top, labelWidth - 34, height}, Qt::AlignRight | Qt::AlignVCenter, title);
    }
    // A small mark tells that it is folded, or can be.
    const QPointF at{10, row.top + height / 2};
    painter.setPen(Qt::NoPen);
    painter.setBrush(chosen || row.folded || row.lane->rows > 1 ? t.inkSoft : t.hairline);
    QPolygonF mark;
    if (row.folded)
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
    painter.drawText(box.adjusted(6, 0, -2, 0), Qt::AlignVCenter | Qt::AlignLeft, bar.text);
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
    const double tall = row.folded ? row.height + 3 : rowHeight;
    const double bottom = row.top + tall - (row.folded ? 5 : 1);
    const double range = std::max(high - low, 1e-9);
    painter.setFont(textFont(-1.5));
    double textFree = -1e9; // where the next figure may begin
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const double from = xOf(steps[i].at);
        const double to =
            i + 1 < steps.size() ? xOf(steps[i + 1].at) : xOf(static_cast<double>(stage_.record().lastTick()));
        const double y = bottom - (tall - 6) * (steps[i].isNumber ? (steps[i].number - low) / range : 0.0);
        painter.setPen(QPen{t.blue, 1.6});
        painter.drawLine(QPointF{from, y}, QPointF{to, y});
        if (i > 0) {
            const double before =
                bottom - (tall - 6) * (steps[i - 1].isNumber ? (steps[i - 1].number - low) / range : 0.0);
            painter.drawLine(QPointF{from, before}, QPointF{from, y});
        }
        const double width = painter.fontMetrics().horizontalAdvance(steps[i].text);
        if (!row.folded && to - from > width + 8 && from + 4 > textFree) {
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
    painter.setPen(t.onAccent);
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
            best.text = markText(*row.lane, mark);
        }
        if (best.line >= 0)
            return best;
        if (row.lane->kind == LaneKind::value) {
            best.text = tr("%1 = %2 at %3 s")
                            .arg(row.lane->title, valueAt(*row.lane, tickAt(point.x())))
                            .arg(tickAt(point.x()) / stage_.record().scene->rate, 0, 'f', 3);
            return best;
        }
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

QString TimelineView::valueAt(const Lane& lane, double tick) const
{
    QString text;
    for (const LaneStep& step : lane.steps)
        if (step.at <= tick)
            text = step.text;
    return text;
}

QString TimelineView::markText(const Lane& lane, const LaneMark& mark) const
{
    const rules::Line& line = stage_.record().journal.lines[static_cast<std::size_t>(mark.line)];
    const QString when = tr("%1 s").arg(mark.at / stage_.record().scene->rate, 0, 'f', 3);
    switch (mark.kind) {
    case MarkKind::sprung:
        return tr("%1 sprang at %2").arg(lane.title, when);
    case MarkKind::slipped:
        return tr("%1 slipped at %2 at %3: %4")
            .arg(lane.title, toText(rules::wordOf(line.stage)), when, toText(line.text));
    case MarkKind::hit:
        return tr("%1 at %2, %3 m/s").arg(mark.text, when).arg(mark.size, 0, 'f', 2);
    case MarkKind::signal:
        return tr("signal %1 at %2").arg(mark.text, when);
    }
    return {};
}

std::vector<std::pair<double, std::int32_t>> TimelineView::eventsOf(const Lane& lane) const
{
    std::vector<std::pair<double, std::int32_t>> events;
    for (const LaneMark& mark : lane.marks)
        events.emplace_back(mark.at, mark.line);
    for (const LaneBar& bar : lane.bars) {
        events.emplace_back(bar.from, bar.line);
        if (bar.endLine >= 0)
            events.emplace_back(bar.to, bar.endLine);
    }
    for (const LaneStep& step : lane.steps)
        events.emplace_back(step.at, -1);
    return events;
}

void TimelineView::jump(int by)
{
    std::vector<std::pair<double, std::int32_t>> events;
    const bool one = std::ranges::any_of(rows_, [&](const Row& row) { return row.lane->key == chosenLane_; });
    for (const Row& row : rows_)
        if (!one || row.lane->key == chosenLane_)
            for (const auto& event : eventsOf(*row.lane))
                events.push_back(event);
    std::ranges::sort(events);
    // From the line that is explained, else from the cursor.
    const std::int32_t chosen = stage_.chosenLine();
    const auto at =
        std::ranges::find_if(events, [&](const auto& event) { return chosen >= 0 && event.second == chosen; });
    const double now = at != events.end() ? at->first : static_cast<double>(stage_.cursor());
    const std::pair<double, std::int32_t>* best = nullptr;
    for (const auto& event : events) {
        const bool beyond = at != events.end() ? (by > 0 ? event > *at : event < *at)
                                               : (by > 0 ? std::ceil(event.first) > now : std::ceil(event.first) < now);
        if (!beyond)
            continue;
        if (!best || by < 0)
            best = &event;
        if (by > 0)
            break;
    }
    if (!best)
        return;
    if (best->second >= 0)
        stage_.chooseLine(best->second);
    else
        stage_.setCursor(static_cast<std::int64_t>(std::lround(best->first)));
}

void TimelineView::showEventsOf(const std::string& snare, int part)
{
    states_["snare " + snare].hidden = false;
    chosenLane_ = "snare " + snare;
    layOut();
    // The next one after the line that is explained now, round and round.
    std::vector<std::int32_t> wanted;
    const auto& lines = stage_.record().journal.lines;
    for (const Row& row : rows_)
        if (row.lane->key == chosenLane_)
            for (const LaneMark& mark : row.lane->marks) {
                const rules::Line& line = lines[static_cast<std::size_t>(mark.line)];
                const bool sprung = line.outcome == rules::Outcome::sprung;
                const int reached = sprung ? 3 : line.stage == rules::Stage::gate ? 1 : 0;
                if (reached >= std::min(part, 3) || (part == 2 && sprung))
                    wanted.push_back(mark.line);
            }
    if (wanted.empty())
        return;
    const auto next = std::ranges::upper_bound(wanted, stage_.chosenLine());
    stage_.chooseLine(next == wanted.end() ? wanted.front() : *next);
    for (const Row& row : rows_)
        if (row.lane->key == chosenLane_)
            verticalScrollBar()->setValue(
                std::clamp(verticalScrollBar()->value(),
                           static_cast<int>(row.top + row.height + rulerHeight + 8) - viewport()->height(),
                           static_cast<int>(row.top)));
}

// --- key presses ---------------------------------------------------------------------------------------------------

std::optional<std::pair<Press, TimelineView::Doing>> TimelineView::pressAt(const QPointF& point) const
{
    const Row* row = rowAt(point.y());
    if (!row || row->folded || row->lane->kind != LaneKind::keys || stage_.mode() == Stage::Mode::recording)
        return std::nullopt;
    const double y = point.y() - rulerHeight + verticalScrollBar()->value();
    for (const LaneBar& bar : row->lane->bars) {
        const double top = row->top + laneGap / 2 + bar.row * rowHeight;
        const double left = xOf(bar.from);
        const double right = xOf(bar.to);
        if (point.x() < left - 3 || point.x() > right + 3 || y < top || y > top + rowHeight)
            continue;
        for (const Press& press : pressesOf(document_.take(), stage_.record().scene->rate))
            if (press.key == bar.key && static_cast<double>(press.from) == bar.from) {
                const bool start = point.x() - left <= grabPixels;
                const bool end = right - point.x() <= grabPixels;
                return std::pair{press, end ? Doing::stretchingEnd : start ? Doing::stretchingStart : Doing::moving};
            }
    }
    return std::nullopt;
}

void TimelineView::dragPress(double x)
{
    const auto by = static_cast<std::int64_t>(std::lround(tickAt(x) - tickAt(pressedAt_.x())));
    Press next = *chosenPress_;
    if (doing_ == Doing::moving) {
        const std::int64_t way = std::max(by, 1 - next.from);
        next.from += way;
        next.to += way;
    } else if (doing_ == Doing::stretchingStart) {
        next.from = std::clamp<std::int64_t>(next.from + by, 1, next.to - 1);
    } else {
        next.to = std::max(next.to + by, next.from + 1);
    }
    const int rate = stage_.record().scene->rate;
    document_.setTake(tr("Change a press of %1").arg(keyLabel(toText(next.key))),
                      withPress(pressTake_, rate, &*chosenPress_, &next), gesture_);
    emit hint(tr("%1   %2 s to %3 s")
                  .arg(keyLabel(toText(next.key)))
                  .arg(static_cast<double>(next.from) / rate, 0, 'f', 3)
                  .arg(static_cast<double>(next.to) / rate, 0, 'f', 3));
}

void TimelineView::askForPress(double x)
{
    const int rate = stage_.record().scene->rate;
    const auto from = static_cast<std::int64_t>(std::lround(tickAt(x)));
    Question question;
    question.title = tr("Which key is pressed at %1 s?").arg(static_cast<double>(from) / rate, 0, 'f', 2);
    question.choices = keyChoices(document_.scene());
    std::erase_if(question.choices, [](const Choice& choice) {
        return choice.value == QLatin1String("any") || choice.value.startsWith(QLatin1String("source:"));
    });
    SlotPopup::ask(options_, question, [this, from, rate](const QStringList& answer) {
        const Press press{answer.front().toStdString(), from, from + rate / 2};
        document_.setTake(tr("Add a press of %1").arg(keyLabel(answer.front())),
                          withPress(document_.take(), rate, nullptr, &press));
        chosenPress_ = press;
    });
}

// --- mouse ---------------------------------------------------------------------------------------------------------

void TimelineView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || stage_.mode() == Stage::Mode::recording)
        return;
    setFocus(Qt::MouseFocusReason);
    pressedAt_ = event->position();
    movedFar_ = false;
    chosenPress_.reset();
    const QPointF at = event->position();
    if (at.y() < rulerHeight && at.x() >= labelWidth && event->modifiers() & Qt::ShiftModifier) {
        doing_ = Doing::looping;
        loopFrom_ = tickAt(at.x());
        return;
    }
    const Hit hit = hitAt(at);
    const Row* row = rowAt(at.y());
    if (row && at.x() < 20) {
        toggle(std::string(row->lane->key), &LaneState::folded);
        return;
    }
    if (row) {
        chosenLane_ = row->lane->key;
        redraw();
    }
    if (!hit.snare.isEmpty() && (hit.line >= 0 || at.x() < labelWidth))
        emit snareChosen(hit.snare);
    else if (!hit.piece.isEmpty() && (hit.line >= 0 || at.x() < labelWidth))
        emit pieceChosen(hit.piece);
    if (at.x() < labelWidth) {
        doing_ = row ? Doing::reordering : Doing::nothing;
        return;
    }
    if (const auto press = pressAt(at)) {
        chosenPress_ = press->first;
        pressTake_ = document_.take();
        gesture_ = document_.newGesture();
        doing_ = press->second;
        if (hit.line >= 0)
            stage_.chooseLine(hit.line);
        redraw();
        return;
    }
    if (hit.line >= 0) {
        stage_.chooseLine(hit.line);
        return;
    }
    doing_ = Doing::scrubbing;
    dragTo(at.x());
}

void TimelineView::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF at = event->position();
    if (event->buttons() & Qt::LeftButton && doing_ != Doing::nothing) {
        movedFar_ = movedFar_ || QLineF{at, pressedAt_}.length() > 4;
        switch (doing_) {
        case Doing::scrubbing:
            dragTo(at.x());
            break;
        case Doing::looping:
            stage_.setLoop(std::pair{static_cast<std::int64_t>(std::lround(std::min(loopFrom_, tickAt(at.x())))),
                                     static_cast<std::int64_t>(std::lround(std::max(loopFrom_, tickAt(at.x()))))});
            break;
        case Doing::moving:
        case Doing::stretchingStart:
        case Doing::stretchingEnd:
            if (movedFar_)
                dragPress(at.x());
            break;
        case Doing::reordering:
            viewport()->setCursor(movedFar_ ? Qt::ClosedHandCursor : Qt::ArrowCursor);
            break;
        case Doing::nothing:
            break;
        }
        return;
    }
    doing_ = Doing::nothing;
    const Hit hit = hitAt(at);
    const auto press = pressAt(at);
    viewport()->setCursor(press && press->second != Doing::moving ? Qt::SizeHorCursor
                          : hit.line >= 0 || press                ? Qt::PointingHandCursor
                                                                  : Qt::ArrowCursor);
    if (!hit.text.isEmpty())
        emit hint(press ? tr("%1; drag to move or stretch it, Delete takes it away").arg(hit.text) : hit.text);
}

void TimelineView::mouseReleaseEvent(QMouseEvent* event)
{
    const Doing was = std::exchange(doing_, Doing::nothing);
    if (was == Doing::reordering && movedFar_)
        dropLane(event->position().y());
    if (was == Doing::looping && !movedFar_)
        stage_.setLoop(std::nullopt);
    if ((was == Doing::moving || was == Doing::stretchingStart || was == Doing::stretchingEnd)) {
        if (movedFar_)
            chosenPress_.reset();
        else if (was == Doing::moving)
            dragTo(event->position().x());
    }
    redraw();
}

void TimelineView::mouseDoubleClickEvent(QMouseEvent* event)
{
    const Row* row = rowAt(event->position().y());
    const bool keys = row && row->lane->kind == LaneKind::keys;
    if (keys && event->position().x() >= labelWidth && !pressAt(event->position()) &&
        stage_.mode() != Stage::Mode::recording)
        askForPress(event->position().x());
    else
        mousePressEvent(event);
}

void TimelineView::contextMenuEvent(QContextMenuEvent* event)
{
    if (const Row* row = rowAt(event->pos().y())) {
        chosenLane_ = row->lane->key;
        showLaneMenu(event->globalPos());
    }
}

void TimelineView::showLaneMenu(const QPoint& at)
{
    const std::string key = chosenLane_;
    const LaneState state = states_[key];
    QMenu menu{this};
    menu.addAction(state.pinned ? tr("Unpin") : tr("Pin to the top"), this,
                   [this, key] { toggle(key, &LaneState::pinned); });
    menu.addAction(state.folded ? tr("Unfold") : tr("Fold"), this, [this, key] { toggle(key, &LaneState::folded); });
    menu.addAction(tr("Hide"), this, [this, key] { toggle(key, &LaneState::hidden); });
    menu.addSeparator();
    menu.addAction(tr("Move up"), this, [this, key] { moveLane(key, -1); });
    menu.addAction(tr("Move down"), this, [this, key] { moveLane(key, 1); });
    menu.addSeparator();
    menu.addAction(tr("Next event of this lane\t]"), this, [this] { jump(1); });
    menu.addAction(tr("Previous event of this lane\t["), this, [this] { jump(-1); });
    menu.exec(at);
}

/// The next lane down (1) or up (-1) becomes the chosen one and comes into view.
void TimelineView::chooseLane(int by)
{
    if (rows_.empty())
        return;
    const auto found = std::ranges::find_if(rows_, [&](const Row& row) { return row.lane->key == chosenLane_; });
    const auto last = static_cast<std::ptrdiff_t>(rows_.size()) - 1;
    const std::ptrdiff_t now = found == rows_.end() ? (by > 0 ? -1 : last + 1) : found - rows_.begin();
    const Row& row = rows_[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(now + by, 0, last))];
    chosenLane_ = row.lane->key;
    const int top = static_cast<int>(row.top);
    const int bottom = static_cast<int>(row.top + row.height + rulerHeight + 8) - viewport()->height();
    verticalScrollBar()->setValue(std::max(bottom, std::min(verticalScrollBar()->value(), top)));
    emit hint(tr("%1: ] and [ go through its events, Return folds it").arg(row.lane->title));
    redraw();
}

bool TimelineView::event(QEvent* event)
{
    // Delete is about the chosen key press while there is one.
    if (event->type() == QEvent::ShortcutOverride && chosenPress_ &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete) {
        event->accept();
        return true;
    }
    return QAbstractScrollArea::event(event);
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
        redraw();
        return;
    }
    QAbstractScrollArea::wheelEvent(event);
}

void TimelineView::keyPressEvent(QKeyEvent* event)
{
    const std::int64_t step = event->modifiers() & Qt::ShiftModifier ? stage_.record().scene->rate : 1;
    switch (event->key()) {
    case Qt::Key_Delete:
        if (const auto press = std::exchange(chosenPress_, std::nullopt))
            document_.setTake(tr("Delete a press of %1").arg(keyLabel(toText(press->key))),
                              withPress(document_.take(), stage_.record().scene->rate, &*press, nullptr));
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        chooseLane(event->key() == Qt::Key_Down ? 1 : -1);
        return;
    case Qt::Key_Return:
        if (!chosenLane_.empty())
            toggle(chosenLane_, &LaneState::folded);
        return;
    case Qt::Key_Menu:
        showLaneMenu(viewport()->mapToGlobal(QPoint{40, 40}));
        return;
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
