// SPDX-License-Identifier: Apache-2.0
/// The timeline: what happened, in lanes. Click or drag puts the ground to that moment.
///
/// Lanes can be folded, pinned to the top, hidden and put in another order; key presses can be
/// moved, stretched, added and deleted.
///
/// In three files: lanes and their order, painting, mouse and keys.
#pragma once

#include "app/model/selection.h"
#include "app/model/stage.h"
#include "app/model/take_edit.h"
#include "app/timeline/lanes.h"

#include <QAbstractScrollArea>
#include <QPixmap>
#include <QToolButton>

#include <map>
#include <set>

namespace snare::app {

class TimelineView : public QAbstractScrollArea {
    Q_OBJECT

  public:
    TimelineView(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Where a moment of a lane is drawn, in the viewport; nothing if the lane is not shown.
    std::optional<QPointF> pointOf(const std::string& laneKey, double tick) const;
    const std::vector<Lane>& lanes() const { return lanes_.lanes(); }
    void zoom(double factor, double aroundX);
    void showAll();
    /// Goes to the next (1) or previous (-1) event of the chosen lane; of all shown lanes if none
    /// is chosen.
    void jump(int by);
    /// Shows the events of a snare from a stage on, one after the other: "caught", "filter",
    /// "gate", "sprang".
    void showEventsOf(const std::string& snare, int part);
    /// How a lane is shown; by its key.
    struct LaneState {
        bool folded = false;
        bool pinned = false;
        bool hidden = false;
    };
    const std::map<std::string, LaneState>& states() const { return states_; }
    /// The keys of the lanes as they are shown, top to bottom.
    std::vector<std::string> shownLanes() const;
    void setSelectionOnly(bool only);
    void setFilter(const QString& text);

    /// Adds what can be expected of a line of the record to a menu; nothing if it is one that
    /// nobody expects.
    void addExpectEntries(QMenu& menu, std::int32_t line);

  signals:
    /// The takes and what they expect are to be shown.
    void takesWanted();
    void snareChosen(const QString& snare);
    void pieceChosen(const QString& piece);
    void hint(const QString& text);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

  private:
    struct Row {
        const Lane* lane = nullptr;
        const Lane* before = nullptr; ///< the same lane of the earlier record
        double top = 0;
        double height = 0;
        bool folded = false;
        bool heads = false; ///< it stands for all lanes of a laid assembly
    };

    /// Something that can be clicked.
    struct Hit {
        std::int32_t line = -1;
        double at = 0;
        QString text;
        QString snare;
        QString piece;
    };

    /// What the mouse is doing.
    enum class Action {
        nothing,
        scrubbing,
        looping,
        reordering,
        moving,
        stretchingStart,
        stretchingEnd,
        movingShot,
        spanStart,
        spanEnd,
        spanMoving
    };

    /// A flag in the lane of what is expected.
    struct Flag {
        std::size_t index = 0; ///< of the take's expectations
        double tick = 0;
        std::int32_t line = -1; ///< that it is about; -1: none
        bool held = true;
    };

    /// An input of a moment: a dial that is set, a call, or a place of a driven piece.
    struct Shot {
        std::size_t input = 0; ///< of the take
        std::string name;      ///< of the dial, the call or the piece
    };

    void buildOptions();
    void bringIntoView(const std::string& key);
    void redraw();
    void rebuild();
    void layOut();
    void gatherLaid();
    bool isShown(const Lane& lane, const Lane* before) const;
    const Row* rowAt(double y) const;
    void moveLane(const std::string& key, int by);
    void dropLane(double y);
    void chooseLane(int by);
    void toggle(const std::string& key, bool LaneState::*what);
    /// The key press under the point and what taking it there means.
    std::optional<std::pair<Press, Action>> pressAt(const QPointF& point) const;
    void dragPress(double x);
    void askForPress(double x);
    std::optional<Shot> shotAt(const QPointF& point) const;
    void dragShot(double x);
    void askForShot(const Row& row, double x);
    void askForPlace(const Row& row, const QPointF& point);
    void showLaneMenu(const QPoint& at, const std::optional<QPointF>& point = {});
    QString valueAt(const Lane& lane, double tick) const;
    QString markText(const Lane& lane, const LaneMark& mark) const;
    /// The event of a lane that is next to `now` in time and line, or nothing.
    using Event = std::pair<double, std::int32_t>;
    static std::optional<double> momentOf(const Lane& lane, std::int32_t line);
    static std::optional<Event> nextTo(const Lane& lane, const Event& now, int by);
    double xOf(double tick) const;
    double tickAt(double x) const;
    double secondsShown() const;
    Hit hitAt(const QPointF& point) const;
    void dragTo(double x);

    void paintLanes(QPainter& painter);
    void paintRuler(QPainter& painter);
    void paintRow(QPainter& painter, const Row& row);
    void paintBar(QPainter& painter, const Row& row, const LaneBar& bar, bool ghost);
    void paintMark(QPainter& painter, const Row& row, const LaneMark& mark, bool ghost);
    void paintSteps(QPainter& painter, const Row& row);
    void paintCursor(QPainter& painter);
    void paintBecause(QPainter& painter);
    /// The middle of what tells a line of the journal, in the viewport; nothing if no lane shown
    /// has it.
    std::optional<QPointF> placeOfLine(std::int32_t line) const;
    /// The line that tells how the value of a lane, or the phase of a bar, came about.
    std::int32_t lineOfStep(const Lane& lane, double tick) const;
    void paintLabel(QPainter& painter, const Row& row, bool chosen);
    QColor colourOf(const LaneBar& bar) const;

    void gatherExpected();
    void paintExpected(QPainter& painter, const Row& row);
    void paintFlags(QPainter& painter);
    /// From when to when events come if the take's inputs are a little off.
    void paintBands(QPainter& painter);
    /// The expectation whose flag or span lies there.
    std::optional<std::size_t> expectationAt(const QPointF& point) const;
    std::optional<Action> spanActionAt(const QPointF& point) const;
    void dragSpan(double x);
    void expect(scene::Expectation expectation);
    bool addExpectEntries(QMenu& menu, const QPointF& point);

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    QToolButton* options_;
    std::map<std::string, LaneState> states_;
    std::vector<std::string> order_; ///< keys of lanes that were moved by hand, as they are wanted
    bool selectionOnly_ = false;
    QString filter_;
    std::string chosenLane_;
    std::optional<Press> chosenPress_;
    std::optional<Shot> chosenShot_;
    scene::Take pressTake_; ///< before the press was taken
    Action action_ = Action::nothing;
    QPointF pressedAt_;
    bool movedFar_ = false;
    int gesture_ = 0;
    double loopFrom_ = 0;
    LaneBook lanes_;
    LaneBook lanesBefore_; ///< of the record before the last edit, if that is compared
    std::set<std::int32_t> fresh_;
    std::set<std::int32_t> gone_;
    std::vector<Row> rows_;
    Lane expected_;           ///< what the take expects
    std::vector<Flag> flags_; ///< in it, by time
    std::optional<std::size_t> chosenExpectation_;
    std::map<std::string, Lane> heads_; ///< lanes of laid assemblies, by their names
    QPixmap cache_;     ///< the lanes without the cursor; null: to be drawn
    double zoom_ = 1;   ///< 1: the whole record fits
    double offset_ = 0; ///< seconds at the left edge
};

} // namespace snare::app
