// SPDX-License-Identifier: Apache-2.0
/// The ground: the canvas where the scene is laid out and watched.
#pragma once

#include "app/ground/ground_painter.h"
#include "app/ground/ground_tool.h"
#include "app/ground/tool_context.h"
#include "app/model/document.h"
#include "app/model/key_presses.h"
#include "app/model/selection.h"
#include "app/model/stage.h"

#include <QWidget>

#include <functional>

#include <map>
#include <memory>

namespace snare::app {

class GroundTool;
class Overview;

class GroundView : public QWidget, private ToolContext {
    Q_OBJECT

  public:
    GroundView(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    ~GroundView() override;

    ToolKind tool() const override { return toolKind_; }
    void setTool(ToolKind kind) override;
    /// The tool again: the next kind of shape, or the next template.
    void cycleKind();
    void setShapeKind(ShapeKind kind);
    ShapeKind shapeKind() const override { return shapeKind_; }
    /// The template that the stamp sets down.
    std::string stampName() const override;
    const std::optional<scene::Piece>& ready() const override { return ready_; }
    /// The next click lays this piece.
    void takeReady(scene::Piece piece);
    void setStamp(const std::string& name);

    GroundOptions& options() { return options_; }
    const GroundTransform& transform() const override { return transform_; }
    /// The pieces at the moment shown, lowest first.
    const std::vector<ShownPiece>& pieces() override;
    Document& document() override { return document_; }
    Selection& selection() override { return selection_; }
    Stage& stage() { return stage_; }

    /// Shows the part of the scene that another view showed.
    void lookAs(const GroundTransform& transform);
    void showWholeScene();
    /// Brings the selected pieces into the middle; comes nearer if they are small.
    void showSelection();
    /// What the view of the scene shows at the moment: where the glass lies.
    geometry::Bounds frame() const;
    /// The glass alone: what is drawn is pinned to it, and nothing else can be picked.
    void showGlass(bool on);
    /// Pins a new piece if the glass is worked on; its place is in the scene until then.
    void placeNew(scene::Piece& piece) const override;
    void zoom(double factor, const QPointF& around);

    /// The topmost piece at a point that is neither locked nor veiled; `pixels` widens thin ones.
    std::optional<Picked> pickAt(const Vec& point, double pixels) override;
    std::vector<Picked> pickAllAt(const Vec& point, double pixels) override;
    /// The piece at the point, else one near it: for letting go of threads.
    std::optional<Picked> pickNear(const Vec& point) override;
    /// The next click on the ground answers with a piece's name or, with `places`, with "x, y";
    /// Escape gives up.
    void beginPick(GroundPick what, PickDone done);
    bool canPick(const ShownPiece& piece) const override;
    /// What of the selected shape can be taken.
    std::vector<Handle> handles() override;
    /// The ways of the take that are shown: of the pointer, and where the selected piece is led.
    std::vector<std::vector<PathPoint>> paths();
    std::vector<DrawnThread> threads() override;
    /// A thread that hangs on the pointer, and what letting go would take.
    void paintLooseThread(QPainter& painter, const QPointF& from, const QPointF& to) override;
    /// A thread from the shelf: where the pointer is on the screen, or nothing any more.
    void showLooseThread(const std::optional<QPoint>& fromScreen, const QPoint& toScreen);
    /// What was typed is over.
    void forgetTyped() override;
    /// Keeps pieces from being picked, or from being seen, while editing. Not part of the scene.
    void lock(const std::vector<std::string>& pieces);
    void veil(const std::vector<std::string>& pieces);
    void unlockAndShowAll();
    /// Where the pointer is in the scene, or the middle of the view.
    Vec pointerOrMiddle() const override;
    /// Moves the selected pieces.
    void nudge(const Vec& by);

  signals:
    /// Space was tapped; held, it pans.
    void playWanted();
    /// A thread was clicked: one snare, or several in a bundle.
    void threadClicked(const std::vector<std::string>& snares, const QPoint& screenPoint);
    void threadRetargeted(const std::vector<std::string>& snares, const QString& from, const QString& to);
    void toolChanged();
    /// What the tool expects next, or what the pointer is over.
    void hint(const QString& text);
    /// A thread was drawn from a shape to a piece; offer events and responses at a point of the
    /// screen.
    void threadDrawn(std::size_t from, std::size_t shape, std::size_t to, const QPoint& screenPoint);
    void contextMenuWanted(const QPoint& screenPoint);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void say(const QString& text) override { emit hint(text); }
    void redraw() override { update(); }
    void drewThread(std::size_t from, std::size_t shape, std::size_t to, const QPointF& at) override;
    void clickedThread(const std::vector<std::string>& snares, const QPointF& at) override;
    void movedThread(const std::vector<std::string>& snares, const QString& from, const QString& to) override;
    /// Calls the tool. If it asks for another one, that comes when the call is back.
    template <class Call> auto withTool(Call&& call);

    bool playButton(const QMouseEvent& event, bool down);
    void paintHints(QPainter& painter);
    void paintTyped(QPainter& painter);
    Overview overview() const;
    void forgetPieces();
    void forgetTrail();
    const geometry::Bounds& sceneBounds() const;
    bool type(const QKeyEvent& event);
    const std::vector<Vec>& trail();

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    KeyPresses keys_; ///< while recording
    GroundTransform transform_;
    GroundOptions options_;
    bool fitted_ = false;
    ShapeKind shapeKind_ = ShapeKind::box;
    std::map<ToolKind, ShapeKind> lastKinds_;
    Sprites sprites_;
    mutable std::optional<geometry::Bounds> bounds_; ///< of the scene
    std::string stamp_;
    QString typed_;
    std::optional<std::pair<QPointF, QPointF>> loose_;
    bool overviewing_ = false;
    bool swallowDelete_ = false; ///< it was for the tool, not for the selection
    ToolKind toolKind_ = ToolKind::select;
    std::unique_ptr<GroundTool> tool_;
    bool inTool_ = false;                ///< a call of the tool is under way
    std::optional<ToolKind> wantedTool_; ///< when that is back
    std::optional<std::vector<ShownPiece>> pieces_;
    std::optional<std::vector<Vec>> trail_;
    std::vector<Vec> because_; ///< where what led to the chosen event happened
    std::optional<QPointF> pointer_;
    QPointF panFrom_;
    std::optional<scene::Piece> ready_; ///< what the stamp sets down once
    bool spaceHeld_ = false;
    bool spacePanned_ = false; ///< since it went down
    bool panning_ = false;

    QPointF shaking() const;
    void endPick();
    void pickAtPointer(const QMouseEvent& event);
    void finishPick();
    void paintPicked(QPainter& painter);
    PickDone pickDone_; ///< while something is to be pointed at
    GroundPick pickWhat_ = GroundPick::piece;
    QStringList picked_; ///< so far
};

template <class Call> auto GroundView::withTool(Call&& call)
{
    const bool outermost = !std::exchange(inTool_, true);
    const auto answer = call(*tool_);
    if (outermost) {
        inTool_ = false;
        if (const auto wanted = std::exchange(wantedTool_, std::nullopt))
            setTool(*wanted);
    }
    return answer;
}

} // namespace snare::app
