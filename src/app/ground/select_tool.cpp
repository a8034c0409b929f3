// SPDX-License-Identifier: Apache-2.0
/// Select: chooses, moves, sizes, turns and bends, and takes threads by their labels and ends.
#include "app/ground/figures.h"
#include "app/ground/ground_motion.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_tool.h"
#include "app/ground/handle_drag.h"
#include "app/model/take_edit.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"

#include <cmath>

namespace snare::app {

namespace {

class SelectTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        start_ = touch;
        moved_ = false;
        numbers_.clear();
        chosenPoint_.reset();
        if (const auto handle = handleAt(touch.view)) {
            handle_.emplace(ground_, *handle, touch);
            if (handle->kind == Handle::Kind::point || handle->kind == Handle::Kind::stop ||
                handle->kind == Handle::Kind::path) {
                chosenPoint_ = handle->index;
                chosenKind_ = handle->kind;
            }
            begin(Action::handling);
            return;
        }
        if (const auto thread = threadAt(ground_.threads(), touch.view)) {
            thread_ = thread->thread;
            begin(thread->part == ThreadPart::end ? Action::retargeting : Action::threading);
            return;
        }
        const std::optional<Picked> picked = ground_.pickAt(touch.scene, 3);
        Selection& selection = ground_.selection();
        under_.clear();
        if (!picked) {
            if (!(touch.modifiers & Qt::ShiftModifier))
                selection.clear();
            begin(Action::boxing);
            return;
        }
        // What is chosen already is taken, also below others; clicking again goes on to what is
        // below it.
        if (!(touch.modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) && !selection.piece().empty()) {
            under_ = ground_.pickAllAt(touch.scene, 3);
            if (isChosenUnder())
                return startMoving(false);
            under_.clear();
        }
        const std::string& id = ground_.document().scene().pieces[picked->piece].id;
        const bool shapeOnly = touch.modifiers & Qt::ControlModifier;
        // A laid assembly is chosen as one; a second click reaches the part.
        const std::vector<std::string> whole = scene::wholeOf(ground_.document().scene(), id);
        const bool isPart = whole.size() > 1 && std::ranges::find(whole, id) != whole.end();
        reachesPart_.reset();
        if (touch.modifiers & Qt::ShiftModifier)
            selection.toggle(id);
        else if (isPart && !selection.has(id))
            selection.choosePieces(whole);
        else if (isPart && selection.pieces() == whole)
            reachesPart_ = *picked;
        else if (!selection.has(id) || selection.pieces().size() == 1)
            selection.choosePiece(id, picked->shape);
        startMoving(shapeOnly && selection.piece() == id);
    }

    void drag(const Touch& touch) override
    {
        last_ = touch;
        if (!moved_ && pixelsBetween(touch.view, start_.view) < dragPixels)
            return;
        moved_ = true;
        work();
    }

    void release(const Touch& touch) override
    {
        last_ = touch;
        if (action_ == Action::boxing && moved_)
            chooseInBox(touch);
        if (!moved_ && !under_.empty())
            chooseBelow(touch);
        if (!moved_ && reachesPart_)
            ground_.selection().choosePiece(ground_.document().scene().pieces[reachesPart_->piece].id,
                                            reachesPart_->shape);
        reachesPart_.reset();
        lastClick_ = touch.view;
        if (action_ == Action::threading && !moved_)
            ground_.clickedThread(thread_.snares, touch.view);
        if (action_ == Action::retargeting)
            retarget(touch);
        end();
    }

    bool finish() override
    {
        if (action_ == Action::nothing)
            return false;
        end();
        return true;
    }

    bool cancel() override
    {
        if (action_ == Action::nothing)
            return std::exchange(chosenPoint_, std::nullopt).has_value();
        ground_.document().takeBack(gesture_);
        end();
        return true;
    }

    bool takeBack() override
    {
        if (!chosenPoint_ || action_ != Action::nothing)
            return false;
        const std::string id = ground_.selection().piece();
        const std::size_t shape = ground_.selection().shape();
        const scene::Piece* piece = scene::findPiece(ground_.document().scene(), id);
        const std::size_t point = *std::exchange(chosenPoint_, std::nullopt);
        if (chosenKind_ == Handle::Kind::stop)
            return takeStop(id, point);
        if (chosenKind_ == Handle::Kind::path)
            return takePlace(point);
        if (!piece || shape >= piece->shapes.size())
            return false;
        scene::Geometry next = piece->shapes[shape].geometry;
        std::vector<Vec>* points = scene::pointsOf(next);
        if (!points || point >= points->size())
            return false;
        points->erase(points->begin() + static_cast<std::ptrdiff_t>(point));
        if (const auto fault = scene::faultOf(next)) {
            ground_.say(QObject::tr("The corner stays: %1").arg(toText(*fault)));
            return true;
        }
        ground_.document().edit(QObject::tr("Delete a corner of %1").arg(toText(id)), [&](scene::Scene& scene) {
            scene::findPiece(scene, id)->shapes[shape].geometry = next;
        });
        return true;
    }

    bool takesNumbers() const override
    {
        return moved_ && (action_ == Action::moving || (action_ == Action::handling && handle_->takesNumbers()));
    }
    void useNumbers(const std::vector<double>& numbers) override
    {
        numbers_ = numbers;
        work();
    }
    QString numbersMean() const override
    {
        return action_ == Action::moving ? QObject::tr("by x, y, m") : handle_->numbersMean();
    }

    void paint(QPainter& painter) override
    {
        paintGuides(painter, guides_, ground_.transform());
        if (chosenPoint_)
            for (const Handle& handle : ground_.handles())
                if (handle.kind == chosenKind_ && handle.index == *chosenPoint_) {
                    painter.setPen(QPen{theme().coral, 2});
                    painter.setBrush(theme().paper);
                    painter.drawEllipse(handle.at, 5, 5);
                }
        if (action_ == Action::retargeting && moved_)
            ground_.paintLooseThread(painter, thread_.path.pointAtPercent(0), last_.view);
        if (action_ == Action::boxing && moved_) {
            painter.setPen(QPen{theme().ink, 1, Qt::DashLine});
            QColor wash = theme().ink;
            wash.setAlpha(20);
            painter.setBrush(wash);
            painter.drawRect(QRectF{start_.view, last_.view}.normalized());
        }
        if (moved_ && !said_.isEmpty())
            paintFigure(painter, last_.view + QPointF{16, -12}, said_);
    }

    Qt::CursorShape cursorAt(const Touch& touch) override
    {
        constexpr Qt::CursorShape shapes[] = {Qt::SizeBDiagCursor, Qt::SizeVerCursor,  Qt::SizeFDiagCursor,
                                              Qt::SizeHorCursor,   Qt::SizeHorCursor,  Qt::SizeFDiagCursor,
                                              Qt::SizeVerCursor,   Qt::SizeBDiagCursor};
        if (const auto handle = handleAt(touch.view)) {
            switch (handle->kind) {
            case Handle::Kind::size:
            case Handle::Kind::bounds:
                return shapes[handle->index];
            case Handle::Kind::turn:
                return Qt::CrossCursor;
            case Handle::Kind::point:
            case Handle::Kind::stop:
            case Handle::Kind::velocity:
            case Handle::Kind::path:
                return Qt::SizeAllCursor;
            case Handle::Kind::edge:
            case Handle::Kind::leg:
            case Handle::Kind::pathLeg:
                return Qt::DragCopyCursor;
            }
        }
        if (threadAt(ground_.threads(), touch.view))
            return Qt::PointingHandCursor;
        return ground_.pickAt(touch.scene, 3) ? Qt::PointingHandCursor : Qt::ArrowCursor;
    }

    QString hint() const override
    {
        return QObject::tr("Click a piece to see what listens there; drag to move it, Ctrl moves one shape, Alt "
                           "suspends snapping");
    }

  private:
    enum class Action { nothing, moving, handling, boxing, threading, retargeting };

    void begin(Action doing)
    {
        action_ = doing;
        last_ = start_;
        said_.clear();
        gesture_ = ground_.document().newGesture();
    }

    void end()
    {
        action_ = Action::nothing;
        handle_.reset();
        guides_.clear();
        numbers_.clear();
        said_.clear();
        ground_.forgetTyped();
        ground_.redraw();
    }

    void work()
    {
        if (action_ == Action::moving) {
            move();
        } else if (action_ == Action::handling) {
            handle_->follow(last_, numbers_, gesture_);
            said_ = handle_->said();
        }
        ground_.redraw();
    }

    std::optional<Handle> handleAt(const QPointF& at) const
    {
        std::optional<Handle> best;
        double nearest = handlePixels;
        for (const Handle& handle : ground_.handles())
            if (const double distance = pixelsBetween(handle.at, at); distance <= nearest) {
                nearest = distance;
                best = handle;
            }
        return best;
    }

    // --- moving ----------------------------------------------------------------------------------------------------

    void startMoving(bool shapeOnly)
    {
        begin(Action::moving);
        shapeOnly_ = shapeOnly;
        places_.clear();
        box_ = {};
        const Selection& selection = ground_.selection();
        for (const ShownPiece& piece : ground_.pieces())
            if (selection.has(piece.piece->id)) {
                places_.emplace_back(piece.piece->id, piece.piece->at);
                box_.include(boundsOf(piece));
            }
        // In the order of the selection: the piece that was chosen first leads.
        std::ranges::stable_sort(places_, {}, [&](const auto& place) {
            return std::ranges::find(selection.pieces(), place.first) - selection.pieces().begin();
        });
        wholes_.clear();
        for (const std::string& laid : scene::wholesAmong(ground_.document().scene(), selection.pieces()))
            wholes_.push_back(*scene::findLaid(ground_.document().scene(), laid));
        if (shapeOnly_)
            original_ = *scene::findPiece(ground_.document().scene(), selection.piece());
        lines_ = SnapLines{ground_.pieces(), ground_.transform(),
                           [&](const ShownPiece& piece) { return selection.has(piece.piece->id); }};
    }

    bool isInWhole(const scene::Scene& scene, const std::string& id) const
    {
        const scene::Piece* piece = scene::findPiece(scene, id);
        return piece && piece->partOf &&
               std::ranges::find(wholes_, piece->partOf->laid, &scene::Laid::id) != wholes_.end();
    }

    void move()
    {
        if (places_.empty())
            return;
        Vec by = last_.scene - start_.scene;
        const bool typed = numbers_.size() == 2;
        if (typed) {
            by = {numbers_[0], numbers_[1]};
            guides_.clear();
        } else {
            Snap snap = lines_.way(box_, places_.front().second, by, last_.modifiers);
            by = snap.point;
            guides_ = std::move(snap.guides);
        }
        said_ = QObject::tr("%1, %2 m").arg(by.x, 0, 'f', 2).arg(by.y, 0, 'f', 2);
        if (shapeOnly_) {
            const std::size_t index = ground_.selection().shape();
            ground_.document().edit(
                QObject::tr("Move a shape of %1").arg(toText(original_.id)),
                [&](scene::Scene& scene) {
                    scene::Piece& piece = *scene::findPiece(scene, original_.id);
                    piece.shapes[index].at =
                        rounded(original_.shapes[index].at + geometry::rotationOf(original_.turn).undo(by));
                },
                gesture_);
            return;
        }
        const QString name = places_.size() == 1 ? QObject::tr("Move %1").arg(toText(places_.front().first))
                                                 : QObject::tr("Move %1").arg(countedPieces(places_.size()));
        ground_.document().edit(
            name,
            [&](scene::Scene& scene) {
                for (const scene::Laid& laid : wholes_)
                    scene::moveLaid(scene, laid.id, rounded(laid.at + by), laid.turn);
                for (const auto& [id, from] : places_)
                    if (!isInWhole(scene, id))
                        if (scene::Piece* piece = scene::findPiece(scene, id))
                            piece->at = rounded(from + by);
            },
            gesture_);
    }

    /// The pointer, or the driven piece, is no longer there in the take.
    bool takePlace(std::size_t input)
    {
        if (input >= ground_.document().take().inputs.size())
            return false;
        const std::string piece{scene::nameOf<scene::TrackPlace>(ground_.document().take().inputs[input])};
        ground_.document().setTake(piece.empty()
                                       ? QObject::tr("Take a place out of the pointer's path")
                                       : QObject::tr("Take a place out of where %1 is led").arg(toText(piece)),
                                   withoutShot(ground_.document().take(), input));
        return true;
    }

    bool takeStop(const std::string& id, std::size_t point)
    {
        const scene::Piece* piece = scene::findPiece(ground_.document().scene(), id);
        const scene::Route* route = piece ? routeOf(*piece) : nullptr;
        if (!route || point >= route->points.size())
            return false;
        ground_.document().edit(
            QObject::tr("Delete a point of the route of %1").arg(toText(id)), [&](scene::Scene& scene) {
                auto& body = std::get<scene::KinematicBody>(scene::findPiece(scene, id)->body);
                body.route->points.erase(body.route->points.begin() + static_cast<std::ptrdiff_t>(point));
                if (body.route->points.empty())
                    body.route.reset();
            });
        return true;
    }

    // --- threads and boxes -----------------------------------------------------------------------------------------

    /// Its end let go over another piece: the snares act there instead.
    void retarget(const Touch& touch)
    {
        const auto to = moved_ ? ground_.pickNear(touch.scene) : std::nullopt;
        if (!to || to->piece == thread_.to)
            return;
        const scene::Scene& scene = ground_.document().scene();
        ground_.movedThread(thread_.snares, toText(scene.pieces[thread_.to].id), toText(scene.pieces[to->piece].id));
    }

    void chooseInBox(const Touch& touch)
    {
        geometry::Bounds box;
        box.include(start_.scene);
        box.include(touch.scene);
        std::vector<std::string> chosen;
        if (touch.modifiers & Qt::ShiftModifier)
            chosen = ground_.selection().pieces();
        for (const ShownPiece& piece : ground_.pieces()) {
            if (!piece.present || piece.index == spawnedPiece || !ground_.canPick(piece))
                continue;
            const geometry::Bounds bounds = boundsOf(piece);
            const bool inside = box.contains(bounds.low) && box.contains(bounds.high);
            if (inside && std::ranges::find(chosen, piece.piece->id) == chosen.end())
                chosen.push_back(piece.piece->id);
        }
        ground_.selection().choosePieces(std::move(chosen));
    }

    bool isChosen(const Picked& one) const
    {
        return ground_.document().scene().pieces[one.piece].id == ground_.selection().piece() &&
               one.shape == ground_.selection().shape();
    }

    bool isChosenUnder() const
    {
        return std::ranges::any_of(under_, [this](const Picked& one) { return isChosen(one); });
    }

    /// A click on what was chosen: at the same place as the last one it goes on to the next below,
    /// round and round, else to the topmost.
    void chooseBelow(const Touch& touch)
    {
        auto at = std::ranges::find_if(under_, [this](const Picked& one) { return isChosen(one); });
        const bool again = lastClick_ && pixelsBetween(*lastClick_, touch.view) < dragPixels;
        if (again && at != under_.end())
            ++at;
        const Picked& next = again && at != under_.end() ? *at : under_.front();
        const std::string id = ground_.document().scene().pieces[next.piece].id;
        ground_.selection().choosePiece(id, next.shape);
    }

    Action action_ = Action::nothing;
    std::vector<Picked> under_;        ///< the shapes at the press, if one of them was chosen already; topmost first
    std::optional<QPointF> lastClick_; ///< in the view
    Touch start_;
    Touch last_;
    bool moved_ = false;
    bool shapeOnly_ = false;
    int gesture_ = 0;
    std::optional<HandleDrag> handle_;
    std::optional<std::size_t> chosenPoint_;
    Handle::Kind chosenKind_ = Handle::Kind::point;
    DrawnThread thread_;
    scene::Piece original_;
    std::vector<std::pair<std::string, Vec>> places_;
    std::vector<scene::Laid> wholes_;   ///< that are moved as one
    std::optional<Picked> reachesPart_; ///< a click on a laid assembly that is chosen already
    geometry::Bounds box_;
    SnapLines lines_;
    std::vector<Guide> guides_;
    std::vector<double> numbers_;
    QString said_;
};

} // namespace

std::unique_ptr<GroundTool> makeSelectTool(ToolContext& ground)
{
    return std::make_unique<SelectTool>(ground);
}

} // namespace snare::app
