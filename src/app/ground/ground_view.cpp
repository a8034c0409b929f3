// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_view.h"
#include "app/ui/accessible.h"
#include "app/ground/because_line.h"
#include "app/ground/figures.h"

#include "app/ground/ground_motion.h"
#include "app/ground/ground_play.h"
#include "app/ground/ground_snap.h"
#include "app/ground/ground_threads.h"
#include "app/ground/ground_tool.h"
#include "app/ground/overlays.h"
#include "app/model/scene_keys.h"
#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include "scene/assemblies.h"

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QRegularExpression>
#include <QWheelEvent>

#include <cmath>

namespace snare::app {

namespace {

constexpr double shortTake = 60; ///< s: the trail of a longer one is shown for the time around the cursor

} // namespace

GroundView::GroundView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage), selection_(selection),
      keys_([this](const QString& name, bool down) { stage_.key(name, down); })
{
    connect(&stage_, &Stage::modeChanged, this, [this] { keys_.letGo(); });
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, [this] { sprites_.clear(); });
    setObjectName(QStringLiteral("ground"));
    giveRole(this, QAccessible::Canvas, tr("Ground"));
    setFocusPolicy(Qt::StrongFocus);
    connect(&selection_, &Selection::pickWanted, this, &GroundView::beginPick);
    setMouseTracking(true);
    setMinimumSize(320, 200);
    tool_ = makeTool(toolKind_, *this);
    connect(&document_, &Document::changed, this, [this] {
        bounds_.reset();
        forgetPieces();
    });
    connect(&document_, &Document::replaced, this, [this] { fitted_ = false; });
    connect(&stage_, &Stage::recordChanged, this, &GroundView::forgetTrail);
    connect(&stage_, &Stage::chosenLineChanged, this, [this] {
        because_ = placesOf(stage_.record(), stage_.chain());
        update();
    });
    connect(&stage_, &Stage::cursorChanged, this, [this] {
        if (stage_.record().seconds() > shortTake) // a window of it is shown, and goes along
            trail_.reset();
        forgetPieces();
    });
    connect(&selection_, &Selection::changed, this, &GroundView::forgetTrail);
}

GroundView::~GroundView() = default;

void GroundView::forgetPieces()
{
    pieces_.reset();
    update();
}

void GroundView::forgetTrail()
{
    trail_.reset();
    forgetPieces();
}

const std::vector<ShownPiece>& GroundView::pieces()
{
    if (!pieces_)
        pieces_ = shownPieces(document_.scene(), stage_.record(), stage_.cursor());
    return *pieces_;
}

/// Where the selected piece goes in the seconds around the cursor; all of it if the take is short.
const std::vector<Vec>& GroundView::trail()
{
    if (trail_)
        return *trail_;
    trail_.emplace();
    constexpr std::int64_t secondsAround = 20;
    const sim::Record& record = stage_.record();
    const auto found = std::ranges::find(record.pieces, selection_.piece(), &sim::RunPiece::id);
    if (found == record.pieces.end())
        return *trail_;
    const std::int64_t around = record.seconds() > shortTake ? secondsAround * record.scene->rate : record.lastTick();
    trail_ = record.snapshots.pathOf(static_cast<std::size_t>(found - record.pieces.begin()), stage_.cursor() - around,
                                     stage_.cursor() + around);
    if (trail_->size() < 2)
        trail_->clear();
    return *trail_;
}

void GroundView::drewThread(std::size_t from, std::size_t shape, std::size_t to, const QPointF& at)
{
    emit threadDrawn(from, shape, to, mapToGlobal(at.toPoint()));
}

void GroundView::clickedThread(const std::vector<std::string>& snares, const QPointF& at)
{
    emit threadClicked(snares, mapToGlobal(at.toPoint()));
}

void GroundView::movedThread(const std::vector<std::string>& snares, const QString& from, const QString& to)
{
    emit threadRetargeted(snares, from, to);
}

void GroundView::setTool(ToolKind kind)
{
    if (inTool_) {
        wantedTool_ = kind;
        return;
    }
    tool_->cancel();
    forgetTyped();
    ready_.reset();
    toolKind_ = kind;
    const std::vector<ShapeKind> kinds = kindsOf(kind);
    if (!kinds.empty()) { // each tool goes on with the kind that it laid last
        const auto last = lastKinds_.find(kind);
        shapeKind_ = last == lastKinds_.end() ? kinds.front() : last->second;
    }
    tool_ = makeTool(kind, *this);
    setCursor(tool_->cursorAt({{-1000, -1000}, {1e9, 1e9}, {}}));
    emit toolChanged();
    emit hint(tool_->hint());
    update();
}

void GroundView::takeReady(scene::Piece piece)
{
    setTool(ToolKind::stamp);
    ready_ = std::move(piece);
    emit hint(tool_->hint());
}

void GroundView::setShapeKind(ShapeKind kind)
{
    tool_->cancel();
    shapeKind_ = kind;
    lastKinds_[toolKind_] = kind;
    emit toolChanged();
    emit hint(tool_->hint());
}

void GroundView::cycleKind()
{
    const auto next = [](const auto& list, const auto& now) {
        const auto found = std::ranges::find(list, now);
        return found == list.end() || std::next(found) == list.end() ? list.front() : *std::next(found);
    };
    if (const std::vector<ShapeKind> kinds = kindsOf(toolKind_); !kinds.empty()) {
        setShapeKind(next(kinds, shapeKind_));
        return;
    }
    const std::vector<std::string> names = scene::allStamps(document_.scene());
    if (toolKind_ == ToolKind::stamp && !names.empty())
        setStamp(next(names, stampName()));
}

std::string GroundView::stampName() const
{
    const std::vector<std::string> names = scene::allStamps(document_.scene());
    return names.empty() || std::ranges::find(names, stamp_) != names.end() ? stamp_ : names.front();
}

void GroundView::setStamp(const std::string& name)
{
    stamp_ = name;
    emit toolChanged();
    emit hint(tool_->hint());
    update();
}

bool GroundView::canPick(const ShownPiece& piece) const
{
    return piece.pinned >= options_.glass && !options_.locked.contains(piece.piece->id) &&
           !options_.veiled.contains(piece.piece->id);
}

std::optional<Picked> GroundView::pickAt(const Vec& point, double pixels)
{
    return pick(pieces(), point, pixels / transform_.scale, [this](const ShownPiece& piece) { return canPick(piece); });
}

std::vector<Picked> GroundView::pickAllAt(const Vec& point, double pixels)
{
    return pickAll(pieces(), point, pixels / transform_.scale,
                   [this](const ShownPiece& piece) { return canPick(piece); });
}

std::optional<Picked> GroundView::pickNear(const Vec& point)
{
    constexpr double nearPixels = 14;
    if (const auto exact = pickAt(point, 0))
        return exact;
    return pickAt(point, nearPixels);
}

std::vector<Handle> GroundView::handles()
{
    const std::string id = selection_.piece();
    std::vector<Handle> handles;
    if (selection_.pieces().empty() && selection_.snare().empty() && !options_.clean)
        handles = boundsHandles(document_.scene(), transform_);
    if (!id.empty() && !options_.locked.contains(id))
        for (const ShownPiece& piece : pieces())
            if (piece.piece->id == id)
                handles = handlesOf(piece, selection_.shape(), transform_);
    for (const auto& path : paths()) {
        const std::vector<Handle> places = pathHandles(path, transform_);
        handles.insert(handles.end(), places.begin(), places.end());
    }
    return handles;
}

std::vector<std::vector<PathPoint>> GroundView::paths()
{
    std::vector<std::vector<PathPoint>> paths;
    if (options_.pointerPath)
        paths.push_back(pointerPath(document_.take(), frame()));
    const scene::Piece* chosen = scene::findPiece(document_.scene(), selection_.piece());
    if (chosen && !options_.clean && stage_.mode() != Stage::Mode::recording)
        if (std::vector<PathPoint> led = ledPath(document_.take(), *chosen, frame()); !led.empty())
            paths.push_back(std::move(led));
    return paths;
}

std::vector<DrawnThread> GroundView::threads()
{
    if (options_.clean)
        return {};
    return drawnThreads(document_.scene(), pieces(), stage_.record(), stage_.cursor(), selection_, options_,
                        transform_);
}

void GroundView::paintLooseThread(QPainter& painter, const QPointF& from, const QPointF& to)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{theme().coral, 2.2});
    painter.drawPath(threadPath(from, to));
    painter.setBrush(theme().coral);
    painter.drawEllipse(to, 4, 4);
    const auto target = pickNear(transform_.toScene(to));
    for (const ShownPiece& piece : pieces()) {
        if (!target || piece.index != target->piece)
            continue;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen{theme().coral, 1.6, Qt::DashLine});
        painter.drawRoundedRect(transform_.toView(piece.box).adjusted(-7, -7, 7, 7), 5, 5);
    }
}

void GroundView::showLooseThread(const std::optional<QPoint>& fromScreen, const QPoint& toScreen)
{
    loose_.reset();
    if (fromScreen)
        loose_ = {QPointF{mapFromGlobal(*fromScreen)}, QPointF{mapFromGlobal(toScreen)}};
    update();
}

void GroundView::lock(const std::vector<std::string>& pieces)
{
    options_.locked.insert(pieces.begin(), pieces.end());
    update();
}

void GroundView::veil(const std::vector<std::string>& pieces)
{
    options_.veiled.insert(pieces.begin(), pieces.end());
    selection_.clear();
    update();
}

void GroundView::unlockAndShowAll()
{
    options_.locked.clear();
    options_.veiled.clear();
    update();
}

Vec GroundView::pointerOrMiddle() const
{
    return transform_.toScene(pointer_.value_or(QPointF{width() / 2.0, height() / 2.0}));
}

void GroundView::lookAs(const GroundTransform& transform)
{
    transform_.centre = transform.centre;
    transform_.scale = transform.scale;
    fitted_ = true;
    update();
}

void GroundView::showWholeScene()
{
    geometry::Bounds bounds = sceneBounds();
    bounds.grow(0.8);
    const Vec size = glm::max(bounds.size(), Vec(1, 1));
    transform_.centre = bounds.centre();
    transform_.scale = std::clamp(std::min(width() / size.x, height() / size.y), 0.01, 2000.0);
    update();
}

geometry::Bounds GroundView::frame() const
{
    return viewFrame(document_.scene(), stage_.record(), stage_.cursor());
}

void GroundView::showGlass(bool on)
{
    options_.glass = on;
    if (on) {
        geometry::Bounds bounds = frame();
        bounds.grow(bounds.size().y * 0.06);
        transform_.centre = bounds.centre();
        transform_.scale = std::clamp(std::min(width() / bounds.size().x, height() / bounds.size().y), 0.01, 2000.0);
        emit hint(tr("The glass: what is drawn now is pinned to the view, over the scene"));
    }
    update();
}

void GroundView::placeNew(scene::Piece& piece) const
{
    if (!options_.glass)
        return;
    piece.pinned = true;
    piece.at = rounded(piece.at - frame().low);
}

void GroundView::showSelection()
{
    geometry::Bounds bounds;
    for (const ShownPiece& piece : pieces())
        if (selection_.has(piece.piece->id))
            bounds.include(boundsOf(piece));
    if (bounds.empty())
        return;
    transform_.centre = bounds.centre();
    const Vec size = glm::max(bounds.size(), Vec(0.5, 0.5));
    constexpr double mostOfTheView = 0.5;
    const double largest = std::min(width() / size.x, height() / size.y) * mostOfTheView;
    transform_.scale = std::clamp(transform_.scale, std::min(largest, 40.0), largest);
    update();
}

void GroundView::zoom(double factor, const QPointF& around)
{
    const Vec fixed = transform_.toScene(around);
    transform_.scale = std::clamp(transform_.scale * factor, 0.01, 5000.0);
    transform_.centre += fixed - transform_.toScene(around);
    update();
}

void GroundView::paintEvent(QPaintEvent*)
{
    if (!fitted_ && width() > 0) {
        fitted_ = true;
        showWholeScene();
    }
    QPainter painter{this};
    painter.translate(shaking());
    GroundPainter{painter,    transform_, document_.scene(),     stage_.record(), stage_.cursor(),
                  selection_, options_,   &document_.pictures(), &sprites_}
        .paint(pieces(), trail());
    painter.resetTransform();
    if (stage_.chosenLine() >= 0)
        paintBecause(painter, transform_, because_);
    const bool recording = stage_.mode() == Stage::Mode::recording;
    paintPointer(painter, transform_, stage_.record(), stage_.cursor(), recording);
    tool_->paint(painter);
    if (selection_.pieces().empty() && selection_.snare().empty() && !options_.clean) {
        painter.setPen(QPen{theme().slate, 1.2});
        painter.setBrush(theme().paper);
        for (const Handle& handle : boundsHandles(document_.scene(), transform_))
            painter.drawRect(QRectF{handle.at.x() - 3.5, handle.at.y() - 3.5, 7, 7});
    }
    const auto drawn = paths();
    for (std::size_t i = 0; i < drawn.size(); ++i)
        paintPath(painter, transform_, drawn[i], i == 0 && options_.pointerPath ? theme().plum : theme().blue);
    if (!picked_.isEmpty())
        paintPicked(painter);
    if (loose_)
        paintLooseThread(painter, loose_->first, loose_->second);
    if (options_.rulers)
        paintRulers(painter, transform_, pointer_);
    paintHints(painter);
    if (options_.motion)
        paintMotionLegend(painter, QPointF{width() / 2.0, height() - 8.0});
    paintKeyStrip(painter, size(), stage_.record(), stage_.cursor(), recording);
    overview().paint(painter, pieces(), selection_);
    paintTyped(painter);
}

/// How far a `shake` moves the view at the cursor: less and less until it is over.
QPointF GroundView::shaking() const
{
    const sim::Record& record = stage_.record();
    const std::int64_t now = stage_.cursor();
    const std::int32_t last = sim::standingAt(record, now).shake;
    if (last < 0)
        return {};
    const rules::Line& line = record.journal.lines[static_cast<std::size_t>(last)];
    if (line.until <= now)
        return {};
    const double left = static_cast<double>(line.until - now) / std::max(1, line.until - line.tick);
    const double reach = toText(record.journal.textOf(line)).toDouble() * transform_.scale * left;
    return {reach * std::sin(static_cast<double>(now) * 2.1), reach * std::cos(static_cast<double>(now) * 1.7)};
}

void GroundView::paintHints(QPainter& painter)
{
    QString corner = document_.scene().view == scene::View::plan ? tr("plan view") : tr("side view");
    if (pointer_) {
        const Vec at = transform_.toScene(*pointer_);
        corner = tr("x %1  y %2 m   %3").arg(at.x, 0, 'f', 2).arg(at.y, 0, 'f', 2).arg(corner);
    }
    if (const std::size_t kept = options_.locked.size() + options_.veiled.size())
        corner += tr("   %1 locked or hidden (Ctrl+Shift+H)").arg(countedPieces(kept));
    paintFigure(painter, QPointF{options_.rulers ? 28.0 : 12.0, height() - 12.0}, corner);

    if (stage_.mode() == Stage::Mode::recording) {
        painter.setPen(QPen{theme().coral, 3});
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
        painter.setFont(textFont(0, true));
        painter.setPen(theme().coralText);
        const auto isDriven = [](const ShownPiece& shown) {
            return std::holds_alternative<scene::DrivenBody>(shown.piece->body);
        };
        const QString stops = tr("recording – %1 stops").arg(stopKeyLabel(document_.scene()));
        painter.drawText(rect().adjusted(0, 0, -14, -34), Qt::AlignRight | Qt::AlignBottom,
                         std::ranges::any_of(pieces(), isDriven) ? tr("%1 – driven pieces can be dragged").arg(stops)
                                                                 : stops);
    }
    if (document_.scene().pieces.empty()) {
        const QRectF box{width() / 2.0 - 220, height() / 2.0 - 62, 440, 124};
        painter.setPen(QPen{theme().hairline, 1.4, Qt::DashLine});
        painter.setBrush(theme().panel);
        painter.drawRoundedRect(box, 10, 10);
        painter.setPen(theme().ink);
        painter.setFont(textFont(3, true));
        painter.drawText(box.adjusted(0, 18, 0, 0), Qt::AlignHCenter | Qt::AlignTop, tr("An empty scene"));
        painter.setFont(textFont(0.5));
        painter.setPen(theme().inkSoft);
        painter.drawText(box.adjusted(20, 48, -20, 0), Qt::AlignHCenter | Qt::AlignTop,
                         tr("S  lays a solid to stand on and bump into\nZ  lays a zone that senses who comes in\nT  "
                            "draws a thread: this happens there, so that acts"));
    }
}

void GroundView::paintTyped(QPainter& painter)
{
    if (typed_.isEmpty())
        return;
    const QPointF at = pointer_.value_or(QPointF{width() / 2.0, height() / 2.0}) + QPointF{16, 26};
    const QString text = tr("%1   %2").arg(typed_, tool_->numbersMean());
    painter.setFont(figureFont(0));
    const QFontMetricsF metrics{painter.font()};
    const QRectF box{at.x(), at.y(), metrics.horizontalAdvance(text) + 16, metrics.height() + 8};
    painter.setPen(QPen{theme().mint, 1.6});
    painter.setBrush(theme().paper);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(theme().ink);
    painter.drawText(box.adjusted(8, 0, 0, 0), Qt::AlignVCenter, text);
}

const geometry::Bounds& GroundView::sceneBounds() const
{
    if (!bounds_)
        bounds_ = boundsOf(document_.scene());
    return *bounds_;
}

Overview GroundView::overview() const
{
    const bool wanted =
        options_.overview && !document_.scene().pieces.empty() && stage_.mode() != Stage::Mode::recording;
    return wanted ? Overview{sceneBounds(), transform_} : Overview{};
}

void GroundView::forgetTyped()
{
    typed_.clear();
    update();
}

void GroundView::resizeEvent(QResizeEvent*)
{
    transform_.size = size();
}

} // namespace snare::app
