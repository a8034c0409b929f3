// SPDX-License-Identifier: Apache-2.0
/// What the take expects, in the timeline: a lane of flags and spans above the others, and the menu
/// of an event.
#include "app/model/expecting.h"
#include "app/timeline/take_menu.h"
#include "app/timeline/timeline_metrics.h"
#include "app/timeline/timeline_view.h"
#include "app/ui/flag.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "words/expectations.h"

#include <QMenu>
#include <QPainter>
#include <QScrollBar>

#include <cmath>

namespace snare::app {

using scene::Expectation;

namespace {

/// The span of an expectation, or nullptr.
template <class E> auto spanOf(E& expect) -> decltype(&*expect.line.between)
{
    auto& between = expect.never ? expect.never->between : expect.line.between;
    return between ? &*between : nullptr;
}

/// Bars that overlap stand in rows of their own, as the first row that has room.
void putInRows(Lane& lane)
{
    std::vector<double> ends;
    for (std::size_t i = 0; i < lane.bars.size(); ++i) {
        LaneBar& bar = lane.bars[i];
        const auto row = std::ranges::find_if(ends, [&](double end) { return end < bar.from; });
        bar.row = static_cast<int>(row - ends.begin());
        if (row == ends.end())
            ends.push_back(bar.to);
        else
            *row = bar.to;
        if (lane.byRow.size() <= static_cast<std::size_t>(bar.row))
            lane.byRow.resize(static_cast<std::size_t>(bar.row) + 1);
        lane.byRow[static_cast<std::size_t>(bar.row)].push_back(static_cast<std::int32_t>(i));
    }
    lane.rows = std::max<int>(1, static_cast<int>(ends.size()));
}

} // namespace

/// Spans as bars, what was found and what failed as flags.
void TimelineView::gatherExpected()
{
    expected_ = {};
    expected_.kind = LaneKind::expected;
    expected_.key = "expected";
    expected_.title = tr("expected");
    flags_.clear();
    const sim::Record& record = stage_.record();
    const auto& expect = document_.take().expect;
    const auto& verdicts = stage_.judgement().verdicts;
    if (stage_.mode() == Stage::Mode::recording || expect.empty() || expect != record.take.expect ||
        verdicts.size() != expect.size())
        return;
    const double rate = record.scene->rate;
    const auto flag = [&](std::size_t index, double tick, std::int32_t line, bool held) {
        flags_.push_back({index, tick, line, held});
    };
    for (std::size_t i = 0; i < expect.size(); ++i) {
        const check::Verdict& verdict = verdicts[i];
        if (const scene::Span* span = spanOf(expect[i])) {
            LaneBar bar;
            bar.from = span->from * rate;
            bar.to = span->to * rate;
            bar.text = toText(words::expectationText(expect[i]));
            bar.expectation = static_cast<int>(i);
            expected_.bars.push_back(std::move(bar));
        }
        constexpr std::size_t mostFlags = 12;
        for (std::size_t k = 0; k < std::min(verdict.found.size(), mostFlags); ++k)
            flag(i, record.journal.lines[static_cast<std::size_t>(verdict.found[k])].tick, verdict.found[k],
                 verdict.held);
        const bool isMoment =
            expect[i].kind() == Expectation::Kind::value || expect[i].kind() == Expectation::Kind::inside;
        if (verdict.found.empty() && (!verdict.held || isMoment))
            flag(i, static_cast<double>(std::max<std::int64_t>(0, verdict.tick)), verdict.line, verdict.held);
    }
    std::ranges::sort(expected_.bars, {}, &LaneBar::from);
    putInRows(expected_);
    std::ranges::stable_sort(flags_, {}, &Flag::tick);
}

void TimelineView::paintExpected(QPainter& painter, const Row& row)
{
    const Theme& t = theme();
    const auto& verdicts = stage_.judgement().verdicts;
    for (const LaneBar& bar : expected_.bars) {
        const double top = row.top + laneGap / 2 + bar.row * rowHeight;
        const QRectF box{xOf(bar.from), top + 2, std::max(3.0, xOf(bar.to) - xOf(bar.from)), rowHeight - 4};
        const bool held = verdicts[static_cast<std::size_t>(bar.expectation)].held;
        QColor wash = held ? t.mint : t.coral;
        wash.setAlpha(34);
        painter.setPen(QPen{held ? t.mint : t.coral, 1.2, Qt::DotLine});
        painter.setBrush(wash);
        painter.drawRect(box);
        painter.setPen(QPen{held ? t.mint : t.coral, 2.4}); // the ends, to be dragged
        painter.drawLine(box.topLeft(), box.bottomLeft());
        painter.drawLine(box.topRight(), box.bottomRight());
    }
    for (const Flag& flag : flags_)
        paintFlag(painter, QPointF{xOf(flag.tick), row.top + (row.folded ? row.height : laneGap / 2 + rowHeight - 1)},
                  flag.held);
}

void TimelineView::paintBands(QPainter& painter)
{
    const check::Varied* varied = stage_.variation().result();
    if (!varied || stage_.isRerunning())
        return;
    const double from = tickAt(labelWidth);
    const double to = tickAt(viewport()->width());
    for (const check::HowSteady& one : varied->events) {
        if (one.last < from || one.first > to || (one.first == one.last && one.runs == varied->runs))
            continue;
        const auto place = placeOfLine(one.line);
        if (!place)
            continue;
        // Pale where it does not come in every run.
        QColor colour = theme().plum;
        colour.setAlphaF(static_cast<float>(0.25 + 0.75 * one.runs / std::max(1, varied->runs)));
        constexpr double below = 9;
        const double y = place->y() + below;
        painter.setPen(QPen{colour, 2.4, one.runs == varied->runs ? Qt::SolidLine : Qt::DotLine, Qt::FlatCap});
        painter.drawLine(QPointF{xOf(one.first) - 1, y}, QPointF{xOf(one.last) + 1, y});
    }
}

/// The flags of the events themselves, over the lanes that have them.
void TimelineView::paintFlags(QPainter& painter)
{
    for (const Flag& flag : flags_)
        if (flag.line >= 0)
            if (const auto place = placeOfLine(flag.line))
                if (place->x() >= labelWidth && place->y() > rulerHeight + 10)
                    paintFlag(painter, *place - QPointF{0, 3}, flag.held);
}

std::optional<std::size_t> TimelineView::expectationAt(const QPointF& point) const
{
    const Row* row = rowAt(point.y());
    if (!row || row->lane != &expected_ || point.x() < labelWidth)
        return std::nullopt;
    for (auto flag = flags_.rbegin(); flag != flags_.rend(); ++flag)
        if (point.x() >= xOf(flag->tick) - 4 && point.x() <= xOf(flag->tick) + 11)
            return flag->index;
    const double y = point.y() - rulerHeight + verticalScrollBar()->value();
    for (const LaneBar& bar : expected_.bars)
        if (const double top = row->top + laneGap / 2 + bar.row * rowHeight;
            y >= top && y <= top + rowHeight && point.x() >= xOf(bar.from) - 4 && point.x() <= xOf(bar.to) + 4)
            return static_cast<std::size_t>(bar.expectation);
    return std::nullopt;
}

std::optional<TimelineView::Action> TimelineView::spanActionAt(const QPointF& point) const
{
    const auto index = expectationAt(point);
    const Expectation* expect = index ? &document_.take().expect[*index] : nullptr;
    const scene::Span* span = expect ? spanOf(*expect) : nullptr;
    if (!span)
        return std::nullopt;
    const double rate = stage_.record().scene->rate;
    const double left = std::abs(point.x() - xOf(span->from * rate));
    const double right = std::abs(point.x() - xOf(span->to * rate));
    if (std::min(left, right) <= grabPixels + 2)
        return left < right ? Action::spanStart : Action::spanEnd;
    return Action::spanMoving;
}

void TimelineView::dragSpan(double x)
{
    scene::Take take = pressTake_;
    if (!chosenExpectation_ || *chosenExpectation_ >= take.expect.size())
        return;
    scene::Span* span = spanOf(take.expect[*chosenExpectation_]);
    if (!span)
        return;
    const double rate = stage_.record().scene->rate;
    const double by = (tickAt(x) - tickAt(pressedAt_.x())) / rate;
    // Brought back to where it was, it is as it was.
    const auto rounded = [by](double seconds) { return by == 0 ? seconds : std::round(seconds * 100) / 100; };
    if (action_ == Action::spanStart)
        span->from = std::clamp(rounded(span->from + by), 0.0, span->to);
    if (action_ != Action::spanStart)
        span->to = std::max(rounded(span->to + by), action_ == Action::spanEnd ? span->from : 0.0);
    if (action_ == Action::spanMoving)
        span->from = std::clamp(rounded(span->from + by), 0.0, span->to);
    emit hint(toText(words::expectationText(take.expect[*chosenExpectation_])));
    document_.setTake(tr("Change when something is expected"), std::move(take), gesture_);
}

/// Adds an expectation to the take.
void TimelineView::expect(Expectation expectation)
{
    emit hint(tr("Expected: %1").arg(toText(words::expectationText(expectation))));
    addExpectation(document_, std::move(expectation));
}

void TimelineView::addExpectEntries(QMenu& menu, std::int32_t line)
{
    addWishEntries(menu, this, stage_, line, [this](Expectation expectation) { expect(std::move(expectation)); });
}

/// What can be expected of what lies under the pointer: an event, a visit, a value.
bool TimelineView::addExpectEntries(QMenu& menu, const QPointF& point)
{
    const sim::Record& record = stage_.record();
    const Row* row = rowAt(point.y());
    if (!row || point.x() < labelWidth || stage_.mode() == Stage::Mode::recording || record.lastTick() <= 0)
        return false;
    if (const auto index = expectationAt(point)) {
        menu.addAction(tr("Show it in Takes"), this, [this] { emit takesWanted(); });
        menu.addAction(tr("Remove this expectation"), this, [this, at = *index] { removeExpectation(document_, at); });
        return true;
    }
    const qsizetype before = menu.actions().size();
    const auto tick = static_cast<std::int64_t>(std::lround(tickAt(point.x())));
    if (const Hit hit = hitAt(point); hit.line >= 0)
        addExpectEntries(menu, hit.line);
    const Lane& lane = *row->lane;
    if (lane.kind == LaneKind::meetings && !lane.piece.empty()) {
        const double y = point.y() - rulerHeight + verticalScrollBar()->value();
        for (const LaneBar& bar : lane.bars)
            if (const double top = row->top + laneGap / 2 + bar.row * rowHeight;
                static_cast<double>(tick) >= bar.from && static_cast<double>(tick) < bar.to && y >= top &&
                y <= top + rowHeight && bar.visitor != world::nobody) {
                const std::string visitor{record.nameOf(bar.visitor)};
                menu.addAction(tr("Expect: %1 inside %2 at %3 s")
                                   .arg(toText(visitor), toText(lane.piece))
                                   .arg(static_cast<double>(tick) / record.scene->rate, 0, 'f', 2),
                               this, [this, visitor, place = lane.piece, tick] {
                                   expect(visitThen(stage_.record(), visitor, place, tick));
                               });
            }
    }
    if (lane.kind == LaneKind::value) {
        const std::string path = lane.key.substr(std::string_view("value ").size());
        const std::size_t dot = path.rfind('.'); // no value has a dot in its name
        const auto found = std::ranges::find(record.pieces, path.substr(0, dot), &sim::RunPiece::id);
        const auto owner = found == record.pieces.end() ? world::theScene
                                                        : static_cast<world::PieceIndex>(found - record.pieces.begin());
        if (lane.dial.empty()) {
            menu.addAction(
                tr("Expect: this value at %1 s").arg(static_cast<double>(tick) / record.scene->rate, 0, 'f', 2), this,
                [this, owner, name = path.substr(dot + 1), tick] {
                    expect(valueAsNow(stage_.record(), owner, name, tick));
                });
            menu.addAction(tr("Expect: never above %1").arg(lane.high), this,
                           [this, owner, name = path.substr(dot + 1), tick, high = lane.high] {
                               Expectation most = valueAsNow(stage_.record(), owner, name, tick);
                               most.line.at.time.reset();
                               most.always = true;
                               most.is = scene::Comparison::lessOrEqual;
                               most.to = high;
                               expect(std::move(most));
                           });
        }
    }
    return menu.actions().size() > before;
}

} // namespace snare::app
