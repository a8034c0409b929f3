// SPDX-License-Identifier: Apache-2.0
/// What mouse and keys do in the timeline: going through time, ordering lanes, changing key
/// presses.
#include "app/timeline/timeline_view.h"

#include "app/slots/slot_fill.h"
#include "app/timeline/timeline_metrics.h"
#include "app/ui/key_names.h"
#include "app/model/expecting.h"
#include "app/model/leading.h"
#include "app/ui/text.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "words/expectations.h"

#include <QMenu>
#include <QMouseEvent>
#include <QScrollBar>

#include <cmath>

namespace snare::app {

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
        const LaneMark* over = nullptr;
        for (const LaneMark& mark :
             marksBetween(*row.lane, tickAt(point.x() - hitRadius), tickAt(point.x() + hitRadius))) {
            const double distance = std::abs(xOf(mark.at) - point.x());
            if (distance > nearest)
                continue;
            nearest = distance;
            best.line = mark.line;
            best.at = mark.at;
            over = &mark;
        }
        if (over) {
            best.text = markText(*row.lane, *over);
            return best;
        }
        if (row.lane->kind == LaneKind::value) {
            best.text = tr("%1 = %2 at %3 s")
                            .arg(row.lane->title, valueAt(*row.lane, tickAt(point.x())))
                            .arg(tickAt(point.x()) / stage_.record().scene->rate, 0, 'f', 3);
            const auto step = std::ranges::min_element(row.lane->steps, {}, [&](const LaneStep& one) {
                return std::abs(xOf(one.at) - point.x());
            });
            if (step != row.lane->steps.end() && std::abs(xOf(step->at) - point.x()) <= hitRadius) {
                best.line = lineOfStep(*row.lane, step->at);
                best.at = step->at;
            }
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
                best.line = bar.line >= 0 || bar.phase < 0 ? bar.line : lineOfStep(*row.lane, bar.from);
            else if (bar.endLine >= 0 && std::abs(xOf(bar.to) - point.x()) <= hitRadius)
                best.line = bar.endLine;
        }
        return best;
    }
    return best;
}

std::int32_t TimelineView::lineOfStep(const Lane& lane, double tick) const
{
    const sim::Record& record = stage_.record();
    const auto at = static_cast<std::int64_t>(std::llround(tick));
    const auto owner = [&](std::string_view name) {
        const auto found = std::ranges::find(record.pieces, name, &sim::RunPiece::id);
        return found == record.pieces.end() ? world::theScene
                                            : static_cast<world::PieceIndex>(found - record.pieces.begin());
    };
    if (lane.kind == LaneKind::phases)
        return sim::lineOfPhase(record, lane.piece.empty() ? world::theScene : owner(lane.piece), at);
    const std::string_view path = std::string_view(lane.key).substr(std::string_view("value ").size());
    const std::size_t dot = path.rfind('.'); // no value has a dot in its name
    return sim::lineOfValue(record, owner(path.substr(0, dot)), path.substr(dot + 1), at);
}

void TimelineView::dragTo(double x)
{
    stage_.pause();
    stage_.setCursor(static_cast<std::int64_t>(std::lround(tickAt(x))));
}

// --- key presses ---------------------------------------------------------------------------------------------------

std::optional<std::pair<Press, TimelineView::Action>> TimelineView::pressAt(const QPointF& point) const
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
                return std::pair{press, end ? Action::stretchingEnd : start ? Action::stretchingStart : Action::moving};
            }
    }
    return std::nullopt;
}

void TimelineView::dragPress(double x)
{
    const auto by = static_cast<std::int64_t>(std::lround(tickAt(x) - tickAt(pressedAt_.x())));
    Press next = *chosenPress_;
    if (action_ == Action::moving) {
        const std::int64_t way = std::max(by, 1 - next.from);
        next.from += way;
        next.to += way;
    } else if (action_ == Action::stretchingStart) {
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
    question.takesKey = true;
    for (const auto& entry : scene::wordsOf<scene::Button>)
        question.choices.push_back(
            {toText(pressName(entry.value)), keyLabel(toText(pressName(entry.value))), tr("of the pointer"), {}});
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

// --- dials and calls ------------------------------------------------------------------------------------------------

std::optional<TimelineView::Shot> TimelineView::shotAt(const QPointF& point) const
{
    const Row* row = rowAt(point.y());
    const bool calls = row && row->lane->key == "calls";
    if (!row || row->folded || (!calls && row->lane->dial.empty() && row->lane->led.empty()) ||
        stage_.mode() == Stage::Mode::recording)
        return std::nullopt;
    const int rate = stage_.record().scene->rate;
    double nearest = hitRadius;
    std::optional<Shot> best;
    const auto look = [&](double at, const std::string& dial, const std::string& call) {
        const double distance = std::abs(xOf(at) - point.x());
        if (distance > nearest)
            return;
        const auto input = findShot(document_.take(), rate, dial, call,
                                    static_cast<std::int64_t>(std::lround(at)));
        if (!input)
            return;
        nearest = distance;
        best = Shot{*input, dial.empty() ? call : dial};
    };
    if (!row->lane->led.empty()) {
        for (const std::size_t input : placesOf(document_.take(), row->lane->led))
            if (const double distance = std::abs(xOf(document_.take().inputs[input].t * rate) - point.x());
                distance <= nearest) {
                nearest = distance;
                best = Shot{input, row->lane->led};
            }
        return best;
    }
    for (const LaneMark& mark : marksBetween(*row->lane, tickAt(point.x() - hitRadius), tickAt(point.x() + hitRadius)))
        look(mark.at, {}, mark.text.toStdString());
    for (const LaneStep& step : row->lane->steps)
        look(step.at, row->lane->dial, {});
    return best;
}

void TimelineView::dragShot(double x)
{
    const int rate = stage_.record().scene->rate;
    const auto to = std::max<std::int64_t>(1, static_cast<std::int64_t>(std::lround(tickAt(x))));
    document_.setTake(tr("Move %1").arg(toText(chosenShot_->name)),
                      withShotAt(pressTake_, rate, chosenShot_->input, to), gesture_);
    emit hint(tr("%1 at %2 s").arg(toText(chosenShot_->name)).arg(static_cast<double>(to) / rate, 0, 'f', 3));
}

/// Where a driven piece is at a moment; at a place that it has, that is changed.
void TimelineView::askForPlace(const Row& row, const QPointF& point)
{
    const int rate = stage_.record().scene->rate;
    const std::string piece = row.lane->led;
    const auto shot = shotAt(point);
    double t = std::max<double>(0, std::round(tickAt(point.x()))) / rate;
    scene::TrackPlace place{piece};
    if (shot) {
        const scene::Input& input = document_.take().inputs[shot->input];
        t = input.t;
        place = *input.as<scene::TrackPlace>();
    } else if (const auto at = standsAt(stage_.record(), piece, std::lround(t * rate))) {
        place.at = {std::round(at->x * 100) / 100, std::round(at->y * 100) / 100};
    }
    Question question;
    question.title =
        tr("Where %1 is at %2 s: x, y in m and, if it turns, degrees").arg(toText(piece)).arg(t, 0, 'f', 2);
    question.freeText = true;
    question.proposes = true;
    question.typed = figure(place.at.x) + QStringLiteral(", ") + figure(place.at.y);
    if (place.turn)
        question.typed += QStringLiteral(", ") + figure(*place.turn);
    question.check = [](const QStringList& answer) {
        return numbersIn(answer.front(), 2) || numbersIn(answer.front(), 3) ? QString() : tr("Two numbers, or three");
    };
    SlotPopup::ask(options_, question, [this, piece, t, shot, typed = question.typed](const QStringList& answer) {
        if (shot && answer.front().trimmed() == typed) // confirmed as it is
            return;
        const auto three = numbersIn(answer.front(), 3);
        const std::vector<double> numbers = three ? *three : *numbersIn(answer.front(), 2);
        const scene::Input input{t, scene::TrackPlace{piece,
                                                      {numbers[0], numbers[1]},
                                                      three ? std::optional(numbers[2]) : std::nullopt}};
        const scene::Take& take = document_.take();
        if (shot && shot->input < take.inputs.size()) {
            scene::Take changed = take;
            changed.inputs[shot->input] = input;
            document_.setTake(tr("Change where %1 is led").arg(toText(piece)), std::move(changed));
        } else {
            document_.setTake(tr("Lead %1 there").arg(toText(piece)), withShot(take, input));
        }
    });
}

/// Which call comes at a moment, or what a dial is set to then.
void TimelineView::askForShot(const Row& row, double x)
{
    const int rate = stage_.record().scene->rate;
    const double t = std::max<double>(1, std::round(tickAt(x))) / rate;
    const std::string dial = row.lane->dial;
    Question question;
    question.freeText = true;
    if (dial.empty()) {
        question.title = tr("Which call comes at %1 s?").arg(t, 0, 'f', 2);
        for (const std::string& call : scene::allCalls(document_.scene()))
            question.choices.push_back({toText(call), {}, {}, {}});
        question.check = [](const QStringList& answer) {
            return answer.front().trimmed().isEmpty() ? tr("A name") : QString();
        };
    } else {
        question.title = tr("What is %1 set to at %2 s?").arg(toText(dial)).arg(t, 0, 'f', 2);
        question.typed = valueAt(*row.lane, tickAt(x));
        question.proposes = true;
        question.check = [](const QStringList& answer) {
            return numbersIn(answer.front(), 1) ? QString() : tr("A number");
        };
    }
    SlotPopup::ask(options_, question, [this, t, dial](const QStringList& answer) {
        scene::Input made;
        made.t = t;
        if (dial.empty()) {
            scene::CallInput call{answer.front().trimmed().toStdString()};
            for (const scene::Source& source : document_.scene().sources)
                if (const auto* known = std::get_if<scene::CallSource>(&source.kind); known && known->name == call.call)
                    call.with = known->values;
            made.what = std::move(call);
        } else {
            made.what = scene::DialInput{dial, numbersIn(answer.front(), 1)->front()};
        }
        document_.setTake(tr("Add %1").arg(dial.empty() ? answer.front().trimmed() : toText(dial)),
                          withShot(document_.take(), made));
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
    gesture_ = 0;
    chosenPress_.reset();
    chosenShot_.reset();
    const QPointF at = event->position();
    if (at.y() < rulerHeight && at.x() >= labelWidth && event->modifiers() & Qt::ShiftModifier) {
        action_ = Action::looping;
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
        action_ = row ? Action::reordering : Action::nothing;
        return;
    }
    if (const auto expected = expectationAt(at)) {
        chosenExpectation_ = expected;
        const auto action = spanActionAt(at);
        action_ = action.value_or(Action::nothing);
        pressTake_ = document_.take();
        gesture_ = document_.newGesture();
        const check::Verdict& verdict = stage_.judgement().verdicts[*expected];
        if (!action && verdict.line >= 0)
            stage_.chooseLine(verdict.line);
        else if (!action && verdict.tick >= 0)
            stage_.setCursor(verdict.tick);
        return;
    }
    if (const auto press = pressAt(at)) {
        chosenPress_ = press->first;
        pressTake_ = document_.take();
        gesture_ = document_.newGesture();
        action_ = press->second;
        if (hit.line >= 0)
            stage_.chooseLine(hit.line);
        redraw();
        return;
    }
    if (const auto shot = shotAt(at)) {
        chosenShot_ = shot;
        pressTake_ = document_.take();
        gesture_ = document_.newGesture();
        action_ = Action::movingShot;
        if (hit.line >= 0)
            stage_.chooseLine(hit.line);
        redraw();
        return;
    }
    if (hit.line >= 0) {
        stage_.chooseLine(hit.line);
        return;
    }
    action_ = Action::scrubbing;
    dragTo(at.x());
}

void TimelineView::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF at = event->position();
    if (event->buttons() & Qt::LeftButton && action_ != Action::nothing) {
        movedFar_ = movedFar_ || QLineF{at, pressedAt_}.length() > 4;
        switch (action_) {
        case Action::scrubbing:
            dragTo(at.x());
            break;
        case Action::looping:
            stage_.setLoop(std::pair{static_cast<std::int64_t>(std::lround(std::min(loopFrom_, tickAt(at.x())))),
                                     static_cast<std::int64_t>(std::lround(std::max(loopFrom_, tickAt(at.x()))))});
            break;
        case Action::moving:
        case Action::stretchingStart:
        case Action::stretchingEnd:
            if (movedFar_)
                dragPress(at.x());
            break;
        case Action::movingShot:
            if (movedFar_)
                dragShot(at.x());
            break;
        case Action::spanStart:
        case Action::spanEnd:
        case Action::spanMoving:
            if (movedFar_)
                dragSpan(at.x());
            break;
        case Action::reordering:
            viewport()->setCursor(movedFar_ ? Qt::ClosedHandCursor : Qt::ArrowCursor);
            break;
        case Action::nothing:
            break;
        }
        return;
    }
    action_ = Action::nothing;
    const Hit hit = hitAt(at);
    const auto press = pressAt(at);
    const auto shot = shotAt(at);
    if (const auto expected = expectationAt(at)) {
        const auto span = spanActionAt(at);
        viewport()->setCursor(span && *span != Action::spanMoving ? Qt::SizeHorCursor : Qt::PointingHandCursor);
        const check::Verdict& verdict = stage_.judgement().verdicts[*expected];
        const QString said = toText(words::expectationText(document_.take().expect[*expected]));
        emit hint(verdict.held ? tr("%1: it held").arg(said) : tr("%1: %2").arg(said, toText(verdict.why)));
        return;
    }
    viewport()->setCursor(press && press->second != Action::moving ? Qt::SizeHorCursor
                          : hit.line >= 0 || press || shot         ? Qt::PointingHandCursor
                                                                   : Qt::ArrowCursor);
    if (!hit.text.isEmpty())
        emit hint(press  ? tr("%1; drag to move or stretch it, Delete takes it away").arg(hit.text)
                  : shot ? tr("%1; drag to move it, Delete takes it away").arg(hit.text)
                         : hit.text);
}

void TimelineView::mouseReleaseEvent(QMouseEvent* event)
{
    const Action was = std::exchange(action_, Action::nothing);
    if (was == Action::reordering && movedFar_)
        dropLane(event->position().y());
    if (was == Action::looping && !movedFar_)
        stage_.setLoop(std::nullopt);
    if ((was == Action::moving || was == Action::stretchingStart || was == Action::stretchingEnd)) {
        if (movedFar_)
            chosenPress_.reset();
        else if (was == Action::moving)
            dragTo(event->position().x());
    }
    if (was == Action::movingShot && movedFar_)
        chosenShot_.reset();
    redraw();
}

void TimelineView::mouseDoubleClickEvent(QMouseEvent* event)
{
    const Row* row = rowAt(event->position().y());
    const bool keys = row && row->lane->kind == LaneKind::keys;
    if (keys && event->position().x() >= labelWidth && !pressAt(event->position()) &&
        stage_.mode() != Stage::Mode::recording)
        askForPress(event->position().x());
    else if (row && !row->lane->led.empty() && event->position().x() >= labelWidth &&
             stage_.mode() != Stage::Mode::recording)
        askForPlace(*row, event->position());
    else if (row && (row->lane->key == "calls" || !row->lane->dial.empty()) && event->position().x() >= labelWidth &&
             !shotAt(event->position()) && stage_.mode() != Stage::Mode::recording)
        askForShot(*row, event->position().x());
    else
        mousePressEvent(event);
}

void TimelineView::contextMenuEvent(QContextMenuEvent* event)
{
    if (const Row* row = rowAt(event->pos().y())) {
        chosenLane_ = row->lane->key;
        showLaneMenu(event->globalPos(), event->pos());
    }
}

void TimelineView::showLaneMenu(const QPoint& at, const std::optional<QPointF>& point)
{
    const std::string key = chosenLane_;
    const LaneState state = states_[key];
    QMenu& menu = *makeMenu(this);
    if (point && addExpectEntries(menu, *point))
        menu.addSeparator();
    if (!point && stage_.chosenLine() >= 0 && linesLike(stage_.record(), stage_.chosenLine())) {
        addExpectEntries(menu, stage_.chosenLine());
        menu.addSeparator();
    }
    menu.addAction(state.pinned ? tr("Unpin") : tr("Pin to the top"), this,
                   [this, key] { toggle(key, &LaneState::pinned); });
    menu.addAction(state.folded ? tr("Unfold") : tr("Fold"), this, [this, key] { toggle(key, &LaneState::folded); });
    if (!key.starts_with("laid:"))
        menu.addAction(tr("Hide"), this, [this, key] { toggle(key, &LaneState::hidden); });
    menu.addSeparator();
    menu.addAction(tr("Move up"), this, [this, key] { moveLane(key, -1); });
    menu.addAction(tr("Move down"), this, [this, key] { moveLane(key, 1); });
    menu.addSeparator();
    menu.addAction(tr("Next event of this lane\t]"), this, [this] { jump(1); });
    menu.addAction(tr("Previous event of this lane\t["), this, [this] { jump(-1); });
    menu.popup(at);
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
    bringIntoView(chosenLane_);
    emit hint(tr("%1: ] and [ go through its events, Return folds it").arg(row.lane->title));
    redraw();
}

bool TimelineView::event(QEvent* event)
{
    // Delete is about the chosen key press while there is one.
    if (event->type() == QEvent::ShortcutOverride && (chosenPress_ || chosenShot_) &&
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
        if (const auto shot = std::exchange(chosenShot_, std::nullopt);
            shot && shot->input < document_.take().inputs.size())
            document_.setTake(tr("Delete %1").arg(toText(shot->name)), withoutShot(document_.take(), shot->input));
        if (const auto press = std::exchange(chosenPress_, std::nullopt))
            document_.setTake(tr("Delete a press of %1").arg(keyLabel(toText(press->key))),
                              withPress(document_.take(), stage_.record().scene->rate, &*press, nullptr));
        return;
    case Qt::Key_Escape: // what is being dragged goes back to where it was
        if (std::exchange(action_, Action::nothing) == Action::nothing)
            return QAbstractScrollArea::keyPressEvent(event);
        document_.takeBack(gesture_);
        viewport()->setCursor(Qt::ArrowCursor);
        redraw();
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
