// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/timeline_view.h"

#include "app/ui/accessible.h"
#include "app/timeline/timeline_metrics.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QMenu>
#include <QScrollBar>

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>

namespace snare::app {

TimelineView::TimelineView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QAbstractScrollArea(parent), document_(document), stage_(stage), selection_(selection),
      options_(new QToolButton{this})
{
    setObjectName(QStringLiteral("timeline"));
    giveRole(this, QAccessible::Chart, tr("Timeline"));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    connect(&stage_, &Stage::recordChanged, this, &TimelineView::rebuild);
    connect(&stage_, &Stage::cursorChanged, viewport(), qOverload<>(&QWidget::update));
    connect(&stage_, &Stage::chosenLineChanged, this, &TimelineView::redraw);
    connect(&selection_, &Selection::changed, this, &TimelineView::layOut);
    connect(&stage_, &Stage::loopChanged, this, &TimelineView::redraw);
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, &TimelineView::redraw);
    buildOptions();
    rebuild();
}

/// The button in the corner: which lanes are shown, and how.
void TimelineView::buildOptions()
{
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
        for (const Lane& lane : lanes())
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
    lanes_.follow(stage_.sharedRecord());
    fresh_.clear();
    gone_.clear();
    if (stage_.earlier()) {
        lanesBefore_.follow(stage_.sharedEarlier());
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
    const bool constant = (lane.kind == LaneKind::value && lane.steps.size() < 2) ||
                          (lane.kind == LaneKind::phases && lane.bars.size() < 2);
    return (!lane.isEmpty() && !constant) || hasGhosts || selected;
}

/// The lanes of one laid assembly stand together under one of its own, and are seen while that is
/// open, or while a part is chosen.
void TimelineView::gatherLaid()
{
    const scene::Scene& scene = *stage_.record().scene;
    if (scene.laid.empty())
        return;
    std::unordered_map<std::string_view, std::string_view> laidOf; // of parts
    for (const scene::Piece& piece : scene.pieces)
        if (piece.partOf)
            laidOf.emplace(piece.id, piece.partOf->laid);
    std::map<std::string_view, std::vector<Row>> groups;
    const auto groupOf = [&](const Row& row) {
        const auto found = laidOf.find(row.lane->piece);
        return found == laidOf.end() ? std::string_view() : found->second;
    };
    for (const Row& row : rows_)
        if (const auto laid = groupOf(row); !laid.empty())
            groups[laid].push_back(row);
    const std::vector<Row> before = std::exchange(rows_, {});
    for (const Row& row : before) {
        const auto group = groups.find(groupOf(row));
        if (group == groups.end()) {
            rows_.push_back(row);
            continue;
        }
        if (group->second.empty()) // it came with the first of its group
            continue;
        const std::vector<Row> members = std::exchange(group->second, {});
        std::vector<const Lane*> parts;
        bool isChosen = false;
        for (const Row& member : members) {
            parts.push_back(member.lane);
            isChosen = isChosen || selection_.has(member.lane->piece);
        }
        const std::string laid{group->first};
        Lane& head = heads_[laid] = laneOfLaid(laid, parts);
        const auto [state, isNew] = states_.try_emplace(head.key);
        if (isNew)
            state->second.folded = true;
        rows_.push_back({&head, nullptr, 0, 0, false, true});
        if (isChosen || !state->second.folded)
            rows_.insert(rows_.end(), members.begin(), members.end());
    }
}

void TimelineView::layOut()
{
    rows_.clear();
    std::unordered_map<std::string_view, const Lane*> earlier;
    if (stage_.earlier())
        for (const Lane& lane : lanesBefore_.lanes())
            earlier.emplace(lane.key, &lane);
    for (const Lane& lane : lanes()) {
        const auto found = earlier.find(lane.key);
        const Lane* before = found == earlier.end() ? nullptr : found->second;
        if (isShown(lane, before))
            rows_.push_back({&lane, before, 0, 0, false, false});
    }
    // Pinned lanes first, then those moved by hand where they were put, new ones last.
    const auto pinned = [&](const Row& row) {
        const auto state = states_.find(row.lane->key);
        return state != states_.end() && state->second.pinned;
    };
    if (!order_.empty())
        std::ranges::stable_sort(rows_, {}, [&](const Row& row) {
            const auto found = std::ranges::find(order_, row.lane->key);
            return found - order_.begin();
        });
    std::stable_partition(rows_.begin(), rows_.end(), pinned);
    if (stage_.mode() != Stage::Mode::recording)
        gatherLaid();
    gatherExpected();
    const auto hidden = states_.find(expected_.key);
    if ((!expected_.bars.empty() || !flags_.empty()) && (hidden == states_.end() || !hidden->second.hidden) &&
        (filter_.isEmpty() || expected_.title.contains(filter_, Qt::CaseInsensitive)))
        rows_.insert(rows_.begin(), {&expected_, nullptr, 0, 0, false, false});
    double top = 0;
    for (Row& row : rows_) {
        const auto state = states_.find(row.lane->key);
        const bool folded = !row.heads && state != states_.end() && state->second.folded;
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
                           rulerHeight + row.top - verticalScrollBar()->value() +
                               (row.folded ? row.height : rowHeight + laneGap) / 2};
    return std::nullopt;
}

// --- events --------------------------------------------------------------------------------------------------------

QString TimelineView::valueAt(const Lane& lane, double tick) const
{
    const auto after = std::ranges::upper_bound(lane.steps, tick, {}, &LaneStep::at);
    return after == lane.steps.begin() ? QString() : (after - 1)->text;
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
            .arg(lane.title, toText(rules::wordOf(line.stage)), when, toText(stage_.record().journal.textOf(line)));
    case MarkKind::hit:
        return tr("%1 at %2, %3 m/s").arg(mark.text, when).arg(mark.size, 0, 'f', 2);
    case MarkKind::act:
        return tr("%1, %2").arg(mark.text, when);
    case MarkKind::signal:
        return tr("signal %1 at %2").arg(mark.text, when);
    }
    return {};
}

/// When a line of the journal happens in a lane, if it is shown there.
std::optional<double> TimelineView::momentOf(const Lane& lane, std::int32_t line)
{
    if (const auto mark = std::ranges::lower_bound(lane.marks, line, {}, &LaneMark::line);
        mark != lane.marks.end() && mark->line == line)
        return mark->at;
    if (const auto bar = std::ranges::lower_bound(lane.bars, line, {}, &LaneBar::line);
        bar != lane.bars.end() && bar->line == line)
        return bar->from;
    const auto ended = std::ranges::find(lane.bars, line, &LaneBar::endLine);
    return ended == lane.bars.end() ? std::nullopt : std::optional(ended->to);
}

std::optional<TimelineView::Event> TimelineView::nextTo(const Lane& lane, const Event& now, int by)
{
    std::optional<Event> best;
    // Each list goes on in time, but what happens within a tick may stand in another order: two
    // ticks around.
    const auto ask = [&](std::size_t count, auto&& eventAt) {
        const auto firstAfter = [&](const auto& isBefore) { // of times that go on: by halves
            std::size_t low = 0;
            for (std::size_t high = count; low < high;)
                if (const std::size_t middle = low + (high - low) / 2; isBefore(eventAt(middle).first))
                    low = middle + 1;
                else
                    high = middle;
            return low;
        };
        const auto take = [&](const Event& event) {
            if ((by > 0 ? event > now : event < now) && (!best || (by > 0 ? event < *best : event > *best)))
                best = event;
            return !best || (by > 0 ? event.first <= best->first + 2 : event.first >= best->first - 2);
        };
        if (by > 0) {
            for (std::size_t i = firstAfter([&](auto time) { return time < now.first - 2; }); i < count; ++i)
                if (!take(eventAt(i)))
                    break;
        } else {
            for (std::size_t i = firstAfter([&](auto time) { return time <= now.first + 2; }); i > 0;)
                if (!take(eventAt(--i)))
                    break;
        }
    };
    ask(lane.marks.size(), [&](std::size_t i) { return Event{lane.marks[i].at, lane.marks[i].line}; });
    ask(lane.steps.size(), [&](std::size_t i) { return Event{lane.steps[i].at, -1}; });
    ask(lane.bars.size(), [&](std::size_t i) { return Event{lane.bars[i].from, lane.bars[i].line}; });
    for (const std::vector<std::int32_t>& row : lane.byRow) {
        const auto barAt = [&](std::size_t i) -> const LaneBar& { return lane.bars[static_cast<std::size_t>(row[i])]; };
        // Only the last of a row can go on.
        const std::size_t ended = row.empty() || barAt(row.size() - 1).endLine >= 0 ? row.size() : row.size() - 1;
        ask(ended, [&](std::size_t i) { return Event{barAt(i).to, barAt(i).endLine}; });
    }
    return best;
}

void TimelineView::jump(int by)
{
    const bool one = std::ranges::any_of(rows_, [&](const Row& row) { return row.lane->key == chosenLane_; });
    // From the line that is explained, if it is shown, else from the cursor: behind all that
    // happened in its tick.
    const std::int32_t chosen = stage_.chosenLine();
    std::optional<Event> now;
    for (const Row& row : rows_)
        if (chosen >= 0 && (!one || row.lane->key == chosenLane_))
            if (const auto at = momentOf(*row.lane, chosen))
                now = now ? std::min(*now, Event{*at, chosen}) : Event{*at, chosen};
    if (!now) {
        const auto cursor = static_cast<double>(stage_.cursor());
        now = Event{by > 0 ? cursor : cursor - 1, std::numeric_limits<std::int32_t>::max()};
    }
    std::optional<Event> best;
    for (const Row& row : rows_)
        if (!one || row.lane->key == chosenLane_)
            if (const auto next = nextTo(*row.lane, *now, by))
                if (!best || (by > 0 ? *next < *best : *next > *best))
                    best = next;
    if (!best)
        return;
    if (best->second >= 0)
        stage_.chooseLine(best->second);
    else
        stage_.setCursor(static_cast<std::int64_t>(std::lround(best->first)));
}

void TimelineView::bringIntoView(const std::string& key)
{
    for (const Row& row : rows_)
        if (row.lane->key == key) {
            const int top = static_cast<int>(row.top);
            const int bottom = static_cast<int>(row.top + row.height + rulerHeight + 8) - viewport()->height();
            verticalScrollBar()->setValue(std::max(bottom, std::min(verticalScrollBar()->value(), top)));
        }
}

void TimelineView::showEventsOf(const std::string& snare, int part)
{
    states_["snare " + snare].hidden = false;
    chosenLane_ = "snare " + snare;
    layOut();
    // The next one after the line that is explained now, round and round.
    std::vector<std::int32_t> wanted;
    const auto& lines = stage_.record().journal.lines;
    for (const Lane& lane : lanes()) // shown or not
        if (lane.key == chosenLane_)
            for (const LaneMark& mark : lane.marks) {
                const rules::Line& line = lines[static_cast<std::size_t>(mark.line)];
                const bool sprung = line.outcome == rules::Outcome::sprung;
                const int passed = sprung ? 3 : line.stage == rules::SlipStage::gate ? 1 : 0;
                if (passed >= part)
                    wanted.push_back(mark.line);
            }
    if (wanted.empty())
        return;
    const auto next = std::ranges::upper_bound(wanted, stage_.chosenLine());
    stage_.chooseLine(next == wanted.end() ? wanted.front() : *next);
    bringIntoView(chosenLane_);
}

} // namespace snare::app
