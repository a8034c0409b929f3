// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/flow_view.h"

#include "app/ui/accessible.h"
#include "app/model/findings_watch.h"
#include "app/ui/menus.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "check/flow_counts.h"

#include <QBuffer>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QSvgGenerator>
#include <QToolTip>
#include <QWheelEvent>
#include <QtConcurrentRun>

#include <cmath>

namespace snare::app {

namespace {

using Kind = check::FlowNode::Kind;

constexpr double margin = 16;      ///< around the map, pixels
constexpr double litSeconds = 0.4; ///< how long who sprang stays lit

QString nameOf(const check::FlowNode& node)
{
    if (node.name == "visitor")
        return QObject::tr("whoever comes");
    return node.kind == Kind::piece && node.isSeveral ? targetText(node.name) : toText(node.name);
}

QSizeF sizeOf(const check::FlowNode& node)
{
    const QFontMetricsF metrics{textFont(-0.5, node.kind == Kind::snare)};
    return {std::ceil(metrics.horizontalAdvance(nameOf(node))) + (node.kind == Kind::snare ? 34 : 24), 24};
}

} // namespace

FlowView::FlowView(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QAbstractScrollArea(parent), document_(document), stage_(stage), selection_(selection),
      map_(std::make_shared<FlowMap>())
{
    setObjectName(QStringLiteral("flow"));
    giveRole(this, QAccessible::Chart, tr("Flow: what listens to what"));
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    connect(&document_, &Document::changed, this, &FlowView::follow);
    connect(&selection_, &Selection::changed, viewport(), qOverload<>(&QWidget::update));
    connect(&stage_, &Stage::cursorChanged, viewport(), qOverload<>(&QWidget::update));
    connect(&stage_, &Stage::recordChanged, this, &FlowView::count);
    connect(&document_.findings(), &FindingsWatch::changed, this, &FlowView::findFindings);
    connect(&stage_.coverage(), &CoverageWatch::changed, viewport(), qOverload<>(&QWidget::update));
    connect(&counting_, &QFutureWatcherBase::finished, this, [this] {
        times_ = counting_.result();
        viewport()->update();
        count(); // the record may have changed meanwhile
    });
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        map_ = watcher_.result();
        shown_ = asked_;
        picked_.reset();
        setBars();
        counted_.reset();
        times_.clear();
        count();
        findFindings();
        viewport()->update();
        follow(); // the scene may have changed meanwhile
    });
}

FlowView::~FlowView()
{
    watcher_.waitForFinished();
    counting_.waitForFinished();
}

/// Lays out what is new, beside everything else; nothing while it is not seen.
void FlowView::follow()
{
    if (!isVisible() || watcher_.isRunning() || shown_ == document_.sharedScene())
        return;
    asked_ = document_.sharedScene();
    watcher_.setFuture(QtConcurrent::run([scene = asked_] {
        check::Flow flow = check::flowOf(*scene);
        std::vector<QSizeF> sizes;
        for (const check::FlowNode& node : flow.nodes)
            sizes.push_back(sizeOf(node));
        const QFontMetricsF metrics{textFont(-1.5)};
        std::vector<double> words;
        for (const check::FlowEdge& edge : flow.edges)
            words.push_back(metrics.horizontalAdvance(toText(edge.label) + QStringLiteral(" × 88")));
        return std::shared_ptr<const FlowMap>{std::make_shared<FlowMap>(layOut(std::move(flow), sizes, words))};
    }));
}

void FlowView::showEvent(QShowEvent* event)
{
    QAbstractScrollArea::showEvent(event);
    follow();
    count();
    findFindings();
}

void FlowView::resizeEvent(QResizeEvent* event)
{
    QAbstractScrollArea::resizeEvent(event);
    setBars();
}

void FlowView::setBars()
{
    const QSizeF all = map_->size * scale_ + QSizeF{2 * margin, 2 * margin};
    const auto bar = [](QScrollBar* one, double length, int page) {
        one->setRange(0, std::max(0, static_cast<int>(length) - page));
        one->setPageStep(page);
        one->setSingleStep(24);
    };
    bar(horizontalScrollBar(), all.width(), viewport()->width());
    bar(verticalScrollBar(), all.height(), viewport()->height());
}

void FlowView::zoom(double factor)
{
    const QPointF middle = toMap(viewport()->rect().center());
    scale_ = std::clamp(scale_ * factor, 0.15, 3.0);
    setBars();
    const QPointF now = middle * scale_ + QPointF{margin, margin};
    horizontalScrollBar()->setValue(static_cast<int>(now.x() - viewport()->width() / 2.0));
    verticalScrollBar()->setValue(static_cast<int>(now.y() - viewport()->height() / 2.0));
    viewport()->update();
}

QPointF FlowView::toMap(const QPointF& point) const
{
    const QPointF corner{static_cast<double>(horizontalScrollBar()->value()),
                         static_cast<double>(verticalScrollBar()->value())};
    return (point + corner - QPointF{margin, margin}) / scale_;
}

QPointF FlowView::placeOf(std::size_t node) const
{
    const QPointF corner{static_cast<double>(horizontalScrollBar()->value()),
                         static_cast<double>(verticalScrollBar()->value())};
    return map_->boxes.at(node).center() * scale_ + QPointF{margin, margin} - corner;
}

/// The node of what is selected.
std::optional<std::size_t> FlowView::chosen() const
{
    if (picked_ && selection_.snare().empty() && selection_.pieces().empty())
        return picked_;
    const auto& nodes = map_->flow.nodes;
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        const bool isSnare = nodes[i].kind == Kind::snare && !selection_.snare().empty() &&
                             (nodes[i].name == selection_.snare() || nodes[i].place.id == selection_.snare());
        const bool isPiece = nodes[i].kind == Kind::piece && selection_.snare().empty() &&
                             !selection_.piece().empty() && nodes[i].name == selection_.piece();
        if (isSnare || isPiece)
            return i;
    }
    return std::nullopt;
}

std::set<std::size_t> FlowView::clearNodes() const
{
    std::set<std::size_t> clear;
    if (const auto node = chosen()) {
        for (const std::size_t one : check::upstream(map_->flow, *node))
            clear.insert(one);
        for (const std::size_t one : check::downstream(map_->flow, *node))
            clear.insert(one);
    }
    return clear;
}

/// The snares that sprang, and the signals that were raised, just before the cursor.
std::set<std::string, std::less<>> FlowView::lit() const
{
    std::set<std::string, std::less<>> names;
    const sim::Record& record = stage_.record();
    const std::int64_t now = stage_.cursor();
    const auto since = now - static_cast<std::int64_t>(litSeconds * record.scene->rate);
    for (std::int64_t tick = std::max<std::int64_t>(0, since); tick <= now; ++tick)
        for (const rules::Line& line : record.linesOf(tick))
            if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung)
                names.emplace(record.snareNameOf(line.snare));
    return names;
}

/// Whether no take used it, while that is asked for.
bool FlowView::isUnused(const check::FlowNode& node) const
{
    using Of = check::Covered::Of;
    const CoverageWatch& coverage = stage_.coverage();
    switch (node.kind) {
    case Kind::snare:
        return coverage.isUnused(Of::snare, node.name);
    case Kind::signal:
        return coverage.isUnused(Of::signal, node.name);
    case Kind::source:
        return coverage.isUnused(Of::source, node.name);
    case Kind::phase: { // "lamp: on"
        const std::size_t colon = node.name.find(": ");
        return coverage.isUnused(Of::phase, colon == std::string::npos || node.name.starts_with("scene: ")
                                                ? node.name.substr(colon == std::string::npos ? 0 : colon + 2)
                                                : node.name.substr(colon + 2) + " of " + node.name.substr(0, colon));
    }
    case Kind::piece:
        return coverage.isUnvisited(node.name);
    case Kind::routine:
    case Kind::value:
        break;
    }
    return false;
}

void FlowView::paintNode(QPainter& painter, std::size_t index, bool pale, bool isLit)
{
    const Theme& t = theme();
    const check::FlowNode& node = map_->flow.nodes[index];
    const QRectF box = map_->boxes[index];
    const bool isChosen = chosen() == index;
    painter.setOpacity(pale ? 0.25 : 1);
    painter.setPen(QPen{isLit      ? t.coral
                        : isChosen ? t.ink
                                   : t.slate,
                        isChosen || isLit ? 2.2 : 1.2, node.isSeveral ? Qt::DashLine : Qt::SolidLine});
    painter.setBrush(t.panel);
    QRectF words = box.adjusted(8, 0, -8, 0);
    switch (node.kind) {
    case Kind::source: // a pill of the shelf
        painter.drawRoundedRect(box, box.height() / 2, box.height() / 2);
        break;
    case Kind::snare: { // the diamond of the lanes with its name
        const QPointF at{box.left() + 12, box.center().y()};
        const QPolygonF diamond{{at + QPointF{0, -7}, at + QPointF{6, 0}, at + QPointF{0, 7}, at + QPointF{-6, 0}}};
        if (isChosen)
            painter.drawRoundedRect(box, 4, 4);
        painter.setPen(Qt::NoPen);
        painter.setBrush(isLit ? t.coral : t.mint);
        painter.drawPolygon(diamond);
        words = box.adjusted(24, 0, -4, 0);
        break;
    }
    case Kind::signal: // a flag
        painter.drawPolygon(QPolygonF{{box.topLeft(), box.topRight(), QPointF{box.right() - 7, box.center().y()},
                                       box.bottomRight(), box.bottomLeft()}});
        break;
    case Kind::value:
        painter.setBrush(t.panelDeep);
        painter.drawRect(box);
        break;
    case Kind::phase: {
        QPolygonF six{{box.topLeft() + QPointF{8, 0}, box.topRight() - QPointF{8, 0},
                       QPointF{box.right(), box.center().y()}, box.bottomRight() - QPointF{8, 0},
                       box.bottomLeft() + QPointF{8, 0}, QPointF{box.left(), box.center().y()}}};
        painter.drawPolygon(six);
        break;
    }
    case Kind::routine:
        painter.drawRoundedRect(box, 4, 4);
        painter.setPen(QPen{t.blue, 3});
        painter.drawLine(box.topLeft() + QPointF{2, 4}, box.bottomLeft() + QPointF{2, -4});
        break;
    case Kind::piece:
        painter.setBrush(t.solid);
        painter.drawRoundedRect(box, 3, 3);
        break;
    }
    if (isUnused(node)) { // as zones are on the ground
        QColor hatch = t.slate;
        hatch.setAlpha(150);
        painter.fillRect(box.adjusted(1, 1, -1, -1), QBrush{hatch, Qt::BDiagPattern});
    }
    painter.setFont(textFont(-0.5, node.kind == Kind::snare));
    painter.setPen(t.ink);
    painter.drawText(words, Qt::AlignCenter, nameOf(node));
    if (findings_.contains(index)) { // the sign of a finding, at its corner
        const QPointF at = box.topRight() - QPointF{2, 0};
        painter.setPen(QPen{t.ochre, 1.5});
        painter.setBrush(t.paper);
        painter.drawPolygon(QPolygonF{{at + QPointF{0, -6}, at + QPointF{6.5, 5}, at + QPointF{-6.5, 5}}});
    }
    painter.setOpacity(1);
}

void FlowView::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{viewport()};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(viewport()->rect(), t.paper);
    if (map_->flow.nodes.empty() || map_->size.isEmpty()) {
        painter.setFont(textFont(0.5));
        painter.setPen(t.inkSoft);
        painter.drawText(viewport()->rect(), Qt::AlignCenter,
                         document_.scene().snares.empty() ? tr("No snare listens yet.") : tr("Laying out…"));
        return;
    }
    const QRectF view{toMap({0, 0}), toMap(QPointF{static_cast<double>(viewport()->width()),
                                                   static_cast<double>(viewport()->height())})};
    painter.translate(margin - horizontalScrollBar()->value(), margin - verticalScrollBar()->value());
    painter.scale(scale_, scale_);
    paintMap(painter, view);
}

void FlowView::paintMap(QPainter& painter, const QRectF& view)
{
    const std::set<std::size_t> clear = clearNodes();
    const auto sprang = lit();
    const auto isPale = [&](std::size_t node) { return !clear.empty() && !clear.contains(node); };
    const auto& flow = map_->flow;
    const auto isLit = [&](std::size_t node) {
        return flow.nodes[node].kind == Kind::snare && sprang.contains(flow.nodes[node].name);
    };
    for (std::size_t i = 0; i < flow.edges.size(); ++i)
        if (map_->lines[i].boundingRect().adjusted(-60, -12, 60, 12).intersects(view))
            paintEdge(painter, i, isPale(flow.edges[i].from) || isPale(flow.edges[i].to), isLit(flow.edges[i].from));
    painter.setOpacity(1);
    for (std::size_t i = 0; i < flow.nodes.size(); ++i)
        if (map_->boxes[i].intersects(view))
            paintNode(painter, i, isPale(i), isLit(i));
}

void FlowView::paintEdge(QPainter& painter, std::size_t index, bool pale, bool isLit)
{
    const Theme& t = theme();
    const check::FlowEdge& edge = map_->flow.edges[index];
    const QPainterPath& line = map_->lines[index];
    painter.setOpacity(pale ? 0.2 : 1);
    const QColor colour = isLit ? t.coral : t.slate;
    painter.setPen(QPen{colour, isLit ? 2 : 1.1, edge.isDecidedLate ? Qt::DashLine : Qt::SolidLine});
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(line);
    const QPointF end = line.currentPosition();
    const QPointF way = end - line.pointAtPercent(0.97);
    const double angle = std::atan2(way.y(), way.x());
    QPolygonF head;
    for (const double turn : {0.0, 2.6, -2.6})
        head << end + QPointF{std::cos(angle + turn), std::sin(angle + turn)} * 6;
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawPolygon(head);
    painter.setFont(textFont(-1.5));
    const int times = timesOf(index);
    const QString count = times < 0 ? QString() : QStringLiteral("× %1").arg(times);
    painter.setPen(times == 0 ? t.coralText : t.inkSoft);
    painter.drawText(QRectF{map_->labels[index] - QPointF{70, 9}, QSizeF{140, 18}}, Qt::AlignCenter,
                     edge.label.empty() || count.isEmpty() ? toText(edge.label) + count
                                                           : toText(edge.label) + QLatin1Char(' ') + count);
}

/// How often the take went along the lines, beside everything else.
void FlowView::count()
{
    viewport()->update();
    if (!isVisible() || counting_.isRunning() || watcher_.isRunning() || stage_.mode() == Stage::Mode::recording ||
        counted_ == stage_.sharedRecord() || shown_ != document_.sharedScene())
        return;
    counted_ = stage_.sharedRecord();
    if (counted_->lastTick() <= 0) {
        times_.clear();
        return;
    }
    counting_.setFuture(
        QtConcurrent::run([map = map_, record = counted_] { return check::timesOf(map->flow, *record); }));
}

/// What is found at the nodes.
void FlowView::findFindings()
{
    findings_.clear();
    if (!isVisible() || map_->flow.nodes.size() > 5000)
        return;
    const auto& nodes = map_->flow.nodes;
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        if (nodes[i].place.of == check::Place::Of::scene)
            continue;
        QStringList texts;
        for (const check::Finding& finding : document_.findings().at(nodes[i].place))
            texts << toText(finding.text);
        if (!texts.isEmpty())
            findings_[i] = texts.join(QLatin1Char('\n'));
    }
    viewport()->update();
}

QString FlowView::saveSvg(const QString& path)
{
    QBuffer drawn;
    QSvgGenerator svg;
    svg.setOutputDevice(&drawn);
    const QSizeF size = map_->size + QSizeF{2 * margin, 2 * margin};
    svg.setSize(size.toSize());
    svg.setViewBox(QRectF{QPointF{0, 0}, size});
    svg.setTitle(tr("Flow of %1").arg(document_.title()));
    QPainter painter;
    if (!painter.begin(&svg))
        return tr("It cannot be drawn");
    painter.fillRect(QRectF{QPointF{0, 0}, size}, theme().paper);
    painter.translate(margin, margin);
    paintMap(painter, QRectF{QPointF{0, 0}, map_->size});
    painter.end();
    const auto saved = io::saveText(path.toStdString(), drawn.data().toStdString());
    return saved ? QString() : toText(saved.error().message());
}

void FlowView::contextMenuEvent(QContextMenuEvent* event)
{
    if (map_->flow.nodes.empty())
        return;
    QMenu& menu = *makeMenu(this);
    menu.addAction(tr("Save as a drawing (SVG)…"), this, [this] { emit saveWanted(); });
    menu.popup(event->globalPos());
}

bool FlowView::viewportEvent(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto node = map_->nodeAt(toMap(help->pos()));
        const auto found = node ? findings_.find(*node) : findings_.end();
        if (found != findings_.end())
            QToolTip::showText(help->globalPos(), found->second, viewport());
        else
            QToolTip::hideText();
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

void FlowView::choose(std::size_t index)
{
    const check::FlowNode& node = map_->flow.nodes[index];
    picked_ = index;
    if (node.kind == Kind::snare || node.kind == Kind::routine || (node.kind == Kind::piece && !node.isSeveral))
        emit placeWanted(node.place);
    else
        selection_.clear();
    viewport()->update();
}

void FlowView::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    grabbed_ = event->position();
    if (event->button() != Qt::LeftButton)
        return;
    if (const auto node = map_->nodeAt(toMap(event->position()))) {
        choose(*node);
    } else {
        picked_.reset();
        selection_.clear();
        viewport()->update();
    }
}

/// The map is dragged by what is empty.
void FlowView::mouseMoveEvent(QMouseEvent* event)
{
    if (!(event->buttons() & (Qt::LeftButton | Qt::MiddleButton)))
        return;
    const QPointF way = event->position() - std::exchange(grabbed_, event->position());
    horizontalScrollBar()->setValue(horizontalScrollBar()->value() - static_cast<int>(way.x()));
    verticalScrollBar()->setValue(verticalScrollBar()->value() - static_cast<int>(way.y()));
}

void FlowView::mouseDoubleClickEvent(QMouseEvent* event)
{
    const auto node = map_->nodeAt(toMap(event->position()));
    if (!node)
        return;
    // What is known by a selector alone has no one place.
    if (const check::FlowNode& one = map_->flow.nodes[*node]; one.place.of != check::Place::Of::scene)
        emit placeWanted(one.place);
}

void FlowView::wheelEvent(QWheelEvent* event)
{
    if (event->modifiers() & Qt::ControlModifier)
        zoom(event->angleDelta().y() > 0 ? 1.2 : 1 / 1.2);
    else
        QAbstractScrollArea::wheelEvent(event);
}

/// Arrows go along the lines: to what follows, back to what leads here, and to the one above or
/// below.
void FlowView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus)
        return zoom(event->key() == Qt::Key_Plus ? 1.2 : 1 / 1.2);
    const bool isArrow = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right || event->key() == Qt::Key_Up ||
                         event->key() == Qt::Key_Down;
    if (!isArrow || map_->flow.nodes.empty())
        return QAbstractScrollArea::keyPressEvent(event);
    const auto now = chosen();
    if (!now)
        return choose(0);
    const QPointF from = map_->boxes[*now].center();
    std::optional<std::size_t> best;
    double nearest = 1e12;
    const auto consider = [&](std::size_t node) {
        const QPointF way = map_->boxes[node].center() - from;
        const bool isUp = event->key() == Qt::Key_Up || event->key() == Qt::Key_Down;
        const bool fits =
            !isUp || (std::abs(way.x()) < 120 && (event->key() == Qt::Key_Down ? way.y() > 4 : way.y() < -4));
        const double far = std::hypot(way.x(), way.y());
        if (fits && node != *now && far < nearest) {
            nearest = far;
            best = node;
        }
    };
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        for (std::size_t i = 0; i < map_->boxes.size(); ++i)
            consider(i);
    } else {
        for (const check::FlowEdge& edge : map_->flow.edges) {
            if (event->key() == Qt::Key_Right && edge.from == *now)
                consider(edge.to);
            if (event->key() == Qt::Key_Left && edge.to == *now)
                consider(edge.from);
        }
    }
    if (!best)
        return;
    choose(*best);
    const QPointF place = placeOf(*best);
    if (!viewport()->rect().adjusted(40, 20, -40, -20).contains(place.toPoint())) {
        horizontalScrollBar()->setValue(horizontalScrollBar()->value() + static_cast<int>(place.x()) -
                                        viewport()->width() / 2);
        verticalScrollBar()->setValue(verticalScrollBar()->value() + static_cast<int>(place.y()) -
                                      viewport()->height() / 2);
    }
}

} // namespace snare::app
