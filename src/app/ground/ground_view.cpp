// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_view.h"
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

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QRegularExpression>
#include <QWheelEvent>

#include <cmath>

namespace snare::app {

namespace {

/// A digit, or what stands in and between numbers.
bool isFigure(const QKeyEvent& event)
{
    return event.text().size() == 1 && QStringLiteral("0123456789.,;-x ").contains(event.text()) &&
           !(event.modifiers() & (Qt::ControlModifier | Qt::AltModifier));
}

constexpr double shortTake = 60; ///< s: the trail of a longer one is shown for the time around the cursor

} // namespace

GroundView::GroundView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage), selection_(selection),
      keys_([this](const QString& name, bool down) { stage_.key(name, down); })
{
    connect(&stage_, &Stage::modeChanged, this, [this] { keys_.letGo(); });
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, [this] { sprites_.clear(); });
    setObjectName(QStringLiteral("ground"));
    setAccessibleName(tr("Ground"));
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

void GroundView::drewThread(std::size_t from, std::size_t shape, std::size_t to, const QPointF& at)
{
    emit threadDrawn(from, shape, to, mapToGlobal(at.toPoint()));
}

void GroundView::clickedThread(const std::vector<std::size_t>& snares, const QPointF& at)
{
    emit threadClicked(snares, mapToGlobal(at.toPoint()));
}

void GroundView::movedThread(const std::vector<std::size_t>& snares, const QString& from, const QString& to)
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
    const std::vector<std::string> names = scene::allTemplates(document_.scene());
    if (toolKind_ == ToolKind::stamp && !names.empty())
        setStamp(next(names, stampName()));
}

std::string GroundView::stampName() const
{
    const std::vector<std::string> names = scene::allTemplates(document_.scene());
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
    if (id.empty() || options_.locked.contains(id))
        return {};
    for (const ShownPiece& piece : pieces())
        if (piece.piece->id == id)
            return handlesOf(piece, selection_.shape(), transform_);
    return {};
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
    const bool recording = stage_.mode() == Stage::Mode::recording;
    paintPointer(painter, transform_, stage_.record(), stage_.cursor(), recording);
    tool_->paint(painter);
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
        painter.drawText(rect().adjusted(0, 0, -14, -34), Qt::AlignRight | Qt::AlignBottom,
                         tr("recording – %1 stops").arg(stopKeyLabel(document_.scene())));
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

/// Digits and what stands between numbers go to the tool while it can use them.
bool GroundView::type(const QKeyEvent& event)
{
    if (!tool_->takesNumbers())
        return false;
    if (event.key() == Qt::Key_Backspace && !typed_.isEmpty())
        typed_.chop(1);
    else if (isFigure(event))
        typed_ += event.text();
    else
        return false;
    std::vector<double> numbers;
    for (const QString& part : QString(typed_)
                                   .replace(QLatin1Char('x'), QLatin1Char(' '))
                                   .split(QRegularExpression{QStringLiteral("[,; ]+")}, Qt::SkipEmptyParts)) {
        bool fine = false;
        const double number = part.toDouble(&fine);
        if (fine && std::abs(number) < 1e6)
            numbers.push_back(number);
    }
    withTool([&](GroundTool& tool) { return tool.useNumbers(numbers), true; });
    update();
    return true;
}

void GroundView::resizeEvent(QResizeEvent*)
{
    transform_.size = size();
}

/// While recording the pointer belongs to the scene. False if it does not.
bool GroundView::playButton(const QMouseEvent& event, bool down)
{
    if (stage_.mode() != Stage::Mode::recording)
        return false;
    constexpr std::pair<Qt::MouseButton, scene::Button> buttons[] = {{Qt::LeftButton, scene::Button::left},
                                                                     {Qt::MiddleButton, scene::Button::middle},
                                                                     {Qt::RightButton, scene::Button::right},
                                                                     {Qt::BackButton, scene::Button::back},
                                                                     {Qt::ForwardButton, scene::Button::forward}};
    for (const auto& [pressed, button] : buttons) {
        if (event.button() != pressed)
            continue;
        stage_.pointer(transform_.toScene(event.position()));
        stage_.button(button, down);
    }
    return true;
}

void GroundView::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    const bool spacePans = spaceHeld_ && event->button() == Qt::LeftButton;
    if ((event->button() == Qt::MiddleButton || spacePans) && stage_.mode() != Stage::Mode::recording) {
        panning_ = true;
        spacePanned_ = true;
        panFrom_ = event->position();
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (playButton(*event, true) || event->button() != Qt::LeftButton)
        return;
    if (pickDone_) {
        const Vec point = transform_.toScene(event->position());
        const auto picked = pickNear(point);
        if (!picked && !pickPlaces_)
            return; // there is no piece
        const auto done = pickDone_;
        endPick();
        done(picked ? toText(document_.scene().pieces[picked->piece].id)
                    : QStringLiteral("%1, %2").arg(std::round(point.x * 10) / 10).arg(std::round(point.y * 10) / 10));
        return;
    }
    if (overview().box().contains(event->position())) {
        overviewing_ = true;
        transform_.centre = overview().toScene(event->position());
        update();
        return;
    }
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    withTool([&](GroundTool& tool) { return tool.press(touch), true; });
}

void GroundView::mouseMoveEvent(QMouseEvent* event)
{
    pointer_ = event->position();
    if (panning_) {
        const QPointF by = event->position() - panFrom_;
        transform_.centre -= Vec{by.x() / transform_.scale, -by.y() / transform_.scale};
        panFrom_ = event->position();
        update();
        return;
    }
    if (overviewing_) {
        transform_.centre = overview().toScene(event->position());
        update();
        return;
    }
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (stage_.mode() == Stage::Mode::recording) {
        setCursor(Qt::ArrowCursor);
        stage_.pointer(touch.scene);
    } else if (event->buttons() & Qt::LeftButton) {
        withTool([&](GroundTool& tool) { return tool.drag(touch), true; });
    } else {
        withTool([&](GroundTool& tool) { return tool.hover(touch), true; });
        setCursor(overview().box().contains(touch.view) ? Qt::PointingHandCursor : tool_->cursorAt(touch));
    }
    if (options_.rulers)
        update();
    else
        update(0, height() - 30, 420, 30);
}

void GroundView::mouseReleaseEvent(QMouseEvent* event)
{
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (playButton(*event, false))
        return;
    if (event->button() == Qt::MiddleButton || (panning_ && event->button() == Qt::LeftButton)) {
        panning_ = false;
        setCursor(tool_->cursorAt(touch));
        return;
    }
    if (event->button() == Qt::RightButton) {
        if (const auto picked = pickAt(touch.scene, 3)) {
            const std::string& id = document_.scene().pieces[picked->piece].id;
            if (!selection_.has(id))
                selection_.choosePiece(id, picked->shape);
        }
        emit contextMenuWanted(event->globalPosition().toPoint());
        return;
    }
    if (std::exchange(overviewing_, false))
        return;
    if (event->button() == Qt::LeftButton)
        withTool([&](GroundTool& tool) { return tool.release(touch), true; });
}

void GroundView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (playButton(*event, true) || event->button() != Qt::LeftButton)
        return;
    const Touch touch{event->position(), transform_.toScene(event->position()), event->modifiers()};
    if (toolKind_ == ToolKind::select)
        withTool([&](GroundTool& tool) { return tool.press(touch), true; });
    else
        withTool([&](GroundTool& tool) { return tool.doubleClick(touch), true; });
}

void GroundView::wheelEvent(QWheelEvent* event)
{
    zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void GroundView::leaveEvent(QEvent*)
{
    pointer_.reset();
    update();
}

bool GroundView::event(QEvent* event)
{
    // While recording every key belongs to the scene, not to the tools.
    if (event->type() == QEvent::ShortcutOverride && stage_.mode() == Stage::Mode::recording) {
        event->accept();
        return true;
    }
    // Numbers belong to what is being drawn, Delete to a corner that is chosen.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool isSpace = key->key() == Qt::Key_Space && key->modifiers() == Qt::NoModifier;
        if (isSpace || (tool_->takesNumbers() && isFigure(*key))) {
            event->accept();
            return true;
        }
        if (key->key() == Qt::Key_Delete && key->modifiers() == Qt::NoModifier &&
            withTool([](GroundTool& tool) { return tool.takeBack(); })) {
            event->accept();
            swallowDelete_ = true;
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && stage_.mode() == Stage::Mode::recording) { // Tab too
        keyPressEvent(static_cast<QKeyEvent*>(event));
        return true;
    }
    return QWidget::event(event);
}

void GroundView::keyPressEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        // Esc stops, unless it is a key of the scene: then Shift+Esc does.
        const bool stops = event->key() == Qt::Key_Escape &&
                           (event->modifiers() & Qt::ShiftModifier || !usesEscape(document_.scene()));
        if (stops)
            stage_.stop();
        else
            keys_.press(*event);
        return;
    }
    if (pickDone_ && event->key() == Qt::Key_Escape)
        return endPick();
    if (event->key() == Qt::Key_Space && event->modifiers() == Qt::NoModifier) {
        if (!event->isAutoRepeat()) {
            spaceHeld_ = true;
            spacePanned_ = false;
            setCursor(Qt::OpenHandCursor);
        }
        return;
    }
    if (type(*event))
        return;
    const double step = event->modifiers() & Qt::ShiftModifier ? 1 : 0.1;
    switch (event->key()) {
    case Qt::Key_Delete:
        if (std::exchange(swallowDelete_, false))
            return;
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (withTool([](GroundTool& tool) { return tool.finish(); }))
            return;
        break;
    case Qt::Key_Backspace:
        if (withTool([](GroundTool& tool) { return tool.takeBack(); }))
            return;
        break;
    case Qt::Key_Left:
        nudge({-step, 0});
        return;
    case Qt::Key_Right:
        nudge({step, 0});
        return;
    case Qt::Key_Up:
        nudge({0, step});
        return;
    case Qt::Key_Down:
        nudge({0, -step});
        return;
    case Qt::Key_Escape:
        forgetTyped();
        if (withTool([](GroundTool& tool) { return tool.cancel(); }))
            return;
        if (toolKind_ != ToolKind::select)
            setTool(ToolKind::select);
        else
            selection_.clear();
        return;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

void GroundView::beginPick(bool places, std::function<void(const QString&)> done)
{
    pickDone_ = std::move(done);
    pickPlaces_ = places;
    setFocus(Qt::OtherFocusReason);
    setCursor(Qt::CrossCursor);
    emit hint(places ? tr("Click a piece or a place. Esc gives up.") : tr("Click a piece. Esc gives up."));
}

void GroundView::endPick()
{
    pickDone_ = nullptr;
    unsetCursor();
    emit hint({});
}

void GroundView::keyReleaseEvent(QKeyEvent* event)
{
    if (stage_.mode() == Stage::Mode::recording) {
        keys_.release(*event);
        return;
    }
    if (event->key() == Qt::Key_Space && spaceHeld_) {
        if (event->isAutoRepeat())
            return;
        spaceHeld_ = false;
        unsetCursor();
        if (!spacePanned_)
            emit playWanted();
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void GroundView::focusOutEvent(QFocusEvent* event)
{
    spaceHeld_ = false;
    keys_.letGo();
    stage_.letGoOfAll(); // P7
    QWidget::focusOutEvent(event);
}

void GroundView::nudge(const Vec& by)
{
    if (selection_.pieces().empty())
        return;
    document_.edit(tr("Nudge"), [&](scene::Scene& scene) {
        for (const std::string& id : selection_.pieces())
            if (scene::Piece* piece = scene::findPiece(scene, id))
                piece->at = onGrid(piece->at + by, Qt::AltModifier);
    });
}

} // namespace snare::app
