// SPDX-License-Identifier: Apache-2.0
/// Select: chooses, moves, sizes, turns and bends, and takes threads by their labels and ends.
#include "app/ground/figures.h"
#include "app/ground/ground_motion.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_tool.h"
#include "app/ui/words.h"

#include <cmath>

namespace snare::app {

namespace {

constexpr double smallest = 0.05; ///< m, what a handle can shrink a shape to
constexpr double turnStep = 15;   ///< degrees

class SelectTool : public GroundTool {
  public:
    using GroundTool::GroundTool;

    void press(const Touch& touch) override
    {
        start_ = touch;
        moved_ = false;
        numbers_.clear();
        chosenPoint_.reset();
        handle_ = handleAt(touch.view);
        if (handle_) {
            original_ = *scene::findPiece(ground_.document().scene(), ground_.selection().piece());
            shownTurn_ = shownPose(original_.id).turn;
            if (handle_->kind == Handle::Kind::point || handle_->kind == Handle::Kind::stop) {
                chosenPoint_ = handle_->index;
                chosenKind_ = handle_->kind;
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
        // What is chosen already is taken, also below others; clicking again goes on to what is below it.
        if (!(touch.modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) && !selection.piece().empty()) {
            under_ = ground_.pickAllAt(touch.scene, 3);
            if (isChosenUnder())
                return startMoving(false);
            under_.clear();
        }
        const std::string& id = ground_.document().scene().pieces[picked->piece].id;
        const bool shapeOnly = touch.modifiers & Qt::ControlModifier;
        if (touch.modifiers & Qt::ShiftModifier)
            selection.toggle(id);
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
        return moved_ &&
               (action_ == Action::moving || (action_ == Action::handling && handle_->kind != Handle::Kind::edge &&
                                              handle_->kind != Handle::Kind::leg));
    }
    void useNumbers(const std::vector<double>& numbers) override
    {
        numbers_ = numbers;
        work();
    }
    QString numbersMean() const override
    {
        if (action_ == Action::moving)
            return QObject::tr("by x, y, m");
        switch (handle_->kind) {
        case Handle::Kind::turn:
            return QObject::tr("turned, degrees");
        case Handle::Kind::point:
            return QObject::tr("by x, y, m");
        case Handle::Kind::stop:
            return QObject::tr("by x, y, m");
        default:
            return isCircle() ? QObject::tr("radius, m") : QObject::tr("width, height, m");
        }
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
                return shapes[handle->index];
            case Handle::Kind::turn:
                return Qt::CrossCursor;
            case Handle::Kind::point:
            case Handle::Kind::stop:
                return Qt::SizeAllCursor;
            case Handle::Kind::edge:
            case Handle::Kind::leg:
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
        guides_.clear();
        numbers_.clear();
        said_.clear();
        ground_.forgetTyped();
        ground_.redraw();
    }

    void work()
    {
        if (action_ == Action::moving)
            move();
        else if (action_ == Action::handling)
            handle();
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

    geometry::Pose shownPose(const std::string& id) const
    {
        for (const ShownPiece& piece : ground_.pieces())
            if (piece.piece->id == id)
                return piece.pose;
        return {};
    }

    bool isCircle() const
    {
        const std::size_t shape = ground_.selection().shape();
        return shape < original_.shapes.size() &&
               std::holds_alternative<scene::Circle>(original_.shapes[shape].geometry);
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
        if (shapeOnly_)
            original_ = *scene::findPiece(ground_.document().scene(), selection.piece());
        lines_ = SnapLines{ground_.pieces(), ground_.transform(),
                           [&](const ShownPiece& piece) { return selection.has(piece.piece->id); }};
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
                for (const auto& [id, from] : places_)
                    if (scene::Piece* piece = scene::findPiece(scene, id))
                        piece->at = rounded(from + by);
            },
            gesture_);
    }

    // --- handles ---------------------------------------------------------------------------------------------------

    void handle()
    {
        switch (handle_->kind) {
        case Handle::Kind::size:
            size();
            break;
        case Handle::Kind::turn:
            turn();
            break;
        case Handle::Kind::point:
        case Handle::Kind::edge:
            bend();
            break;
        case Handle::Kind::stop:
        case Handle::Kind::leg:
            reroute();
            break;
        }
    }

    void replaceWith(const QString& name, const scene::Piece& piece)
    {
        ground_.document().edit(
            name.arg(toText(piece.id)),
            [&](scene::Scene& scene) {
                if (scene::Piece* target = scene::findPiece(scene, piece.id))
                    *target = piece;
            },
            gesture_);
    }

    /// Width and height of a box or of a traced picture.
    static Vec* sidesOf(scene::Geometry& geometry)
    {
        if (auto* box = std::get_if<scene::Box>(&geometry))
            return &box->size;
        auto* traced = std::get_if<scene::Traced>(&geometry);
        return traced ? &traced->size : nullptr;
    }

    /// The handle follows the pointer, the opposite side stays where it is.
    void size()
    {
        const std::size_t shapeIndex = ground_.selection().shape();
        const std::size_t number = handle_->index + (handle_->index >= 4 ? 1 : 0); // of nine places, without the middle
        const double x = static_cast<double>(number % 3) - 1;
        const double y = static_cast<double>(number / 3) - 1;
        const scene::Shape& was = original_.shapes[shapeIndex];
        // The drag in the axes of the shape.
        const Vec by = geometry::rotationOf(shownTurn_ + was.turn).undo(last_.scene - start_.scene);
        scene::Shape next = was;
        const auto typed = [&](std::size_t index, double otherwise) {
            return index < numbers_.size() ? std::max(smallest, std::abs(numbers_[index])) : otherwise;
        };
        if (auto* circle = std::get_if<scene::Circle>(&next.geometry)) {
            const Vec out = geometry::unitOr({x, y}, {1, 0});
            const double corner = x != 0 && y != 0 ? 1 / std::sqrt(2.0) : 1;
            circle->radius = typed(0, std::max(smallest, onStep(circle->radius + glm::dot(by, out) * corner)));
            said_ = QObject::tr("r %1 m").arg(circle->radius, 0, 'f', 2);
        } else if (Vec* sides = sidesOf(next.geometry)) {
            const Vec old = *sides;
            sides->x = typed(0, x == 0 ? old.x : std::max(smallest, onStep(old.x + x * by.x)));
            sides->y = typed(1, y == 0 ? old.y : std::max(smallest, onStep(old.y + y * by.y)));
            const Vec grown = *sides - old;
            next.at = rounded(was.at + geometry::rotationOf(was.turn).apply({x * grown.x / 2, y * grown.y / 2}));
            said_ = QObject::tr("%1 × %2 m").arg(sides->x, 0, 'f', 2).arg(sides->y, 0, 'f', 2);
        }
        scene::Piece piece = original_;
        piece.shapes[shapeIndex] = next;
        if (piece.shapes.size() == 1) { // a single shape stays in the middle of its piece
            piece.at = rounded(geometry::toScene({original_.at, original_.turn}, next.at - was.at));
            piece.shapes[shapeIndex].at = was.at;
        }
        replaceWith(QObject::tr("Size %1"), piece);
    }

    void turn()
    {
        const Vec centre = shownPose(original_.id).at;
        const auto angle = [&](const Vec& point) {
            return std::atan2(point.y - centre.y, point.x - centre.x) * 57.29577951308232;
        };
        double turned = original_.turn + angle(last_.scene) - angle(start_.scene);
        const double step = last_.modifiers & Qt::AltModifier ? 0.1 : turnStep;
        turned = std::round(std::remainder(std::round(turned / step) * step, 360) * 1000) / 1000;
        if (!numbers_.empty())
            turned = numbers_.front();
        said_ = QObject::tr("%1°").arg(turned);
        scene::Piece piece = original_;
        piece.turn = turned == 0 ? 0 : turned;
        replaceWith(QObject::tr("Turn %1"), piece);
    }

    /// A point of the route follows the pointer; from the middle of a leg comes a new one.
    void reroute()
    {
        scene::Piece piece = original_;
        auto* body = std::get_if<scene::KinematicBody>(&piece.body);
        if (!body || !body->route || handle_->index >= body->route->points.size())
            return;
        std::vector<Vec>& points = body->route->points;
        Vec by = last_.scene - start_.scene;
        if (numbers_.size() == 2)
            by = {numbers_[0], numbers_[1]};
        const std::size_t i = handle_->index;
        if (handle_->kind == Handle::Kind::leg) {
            const Vec from = i == 0 ? piece.at : points[i - 1];
            points.insert(points.begin() + static_cast<std::ptrdiff_t>(i),
                          onGrid((from + points[i]) * 0.5 + by, last_.modifiers));
        } else {
            points[i] = numbers_.size() == 2 ? points[i] + by : onGrid(points[i] + by, last_.modifiers);
        }
        said_ = QObject::tr("%1, %2 m").arg(points[i].x, 0, 'f', 2).arg(points[i].y, 0, 'f', 2);
        replaceWith(handle_->kind == Handle::Kind::leg ? QObject::tr("Add a point to the route of %1")
                                                       : QObject::tr("Change the route of %1"),
                    piece);
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

    /// A corner follows the pointer; from the middle of an edge comes a new one.
    void bend()
    {
        const std::size_t shapeIndex = ground_.selection().shape();
        scene::Piece piece = original_;
        scene::Shape& shape = piece.shapes[shapeIndex];
        Vec by = last_.scene - start_.scene;
        if (numbers_.size() == 2)
            by = {numbers_[0], numbers_[1]};
        by = geometry::rotationOf(shownTurn_ + shape.turn).undo(by);
        const auto moved = [&](const Vec& from) { return onGrid(from + by, last_.modifiers); };
        if (auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
            (handle_->index == 0 ? capsule->from : capsule->to) =
                moved(handle_->index == 0 ? capsule->from : capsule->to);
        } else if (auto* points = scene::pointsOf(shape.geometry)) {
            if (handle_->kind == Handle::Kind::edge) {
                const Vec& a = (*points)[handle_->index];
                const Vec& b = (*points)[(handle_->index + 1) % points->size()];
                points->insert(points->begin() + static_cast<std::ptrdiff_t>(handle_->index) + 1, moved((a + b) * 0.5));
            } else {
                (*points)[handle_->index] = moved((*points)[handle_->index]);
            }
        }
        if (const auto fault = scene::faultOf(shape.geometry)) { // stays at the last good place
            ground_.say(QObject::tr("Not there: %1").arg(toText(*fault)));
            return;
        }
        said_ = QObject::tr("%1, %2 m").arg(by.x, 0, 'f', 2).arg(by.y, 0, 'f', 2);
        replaceWith(handle_->kind == Handle::Kind::edge ? QObject::tr("Add a corner to %1") : QObject::tr("Bend %1"),
                    piece);
    }

    double onStep(double value) const { return onGrid({value, 0}, last_.modifiers).x; }

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

    /// A click on what was chosen: at the same place as the last one it goes on to the next below, round and round,
    /// else to the topmost.
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
    std::optional<Handle> handle_;
    std::optional<std::size_t> chosenPoint_;
    Handle::Kind chosenKind_ = Handle::Kind::point;
    DrawnThread thread_;
    scene::Piece original_;
    double shownTurn_ = 0;
    std::vector<std::pair<std::string, Vec>> places_;
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
