// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_threads.h"

#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QFontMetricsF>
#include <QPainter>

#include <cmath>
#include <set>

namespace snare::app {

namespace {

constexpr std::size_t mostNames = 2; ///< more snares between two pieces are counted, not named

QString labelOf(const std::vector<std::string>& snares)
{
    if (snares.size() > mostNames)
        return counted(snares.size(), QObject::tr("snare"), QObject::tr("snares"));
    QStringList names;
    for (const std::string& snare : snares)
        names << toText(snare);
    return names.join(QStringLiteral(" · "));
}

/// The snares that sprang just now.
std::set<std::string, std::less<>> litSnares(const sim::Record& record, std::int64_t tick)
{
    std::set<std::string, std::less<>> lit;
    const auto since = tick - static_cast<std::int64_t>(longAgoSeconds * record.scene->rate);
    for (std::int64_t now = std::max<std::int64_t>(0, since); now <= tick; ++now)
        for (const rules::Line& line : record.linesOf(now))
            if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung)
                lit.emplace(record.snareNameOf(line.snare));
    return lit;
}

} // namespace

std::vector<DrawnThread> drawnThreads(const scene::Scene& scene, const std::vector<ShownPiece>& pieces,
                                      const sim::Record& record, std::int64_t tick, const Selection& selection,
                                      const GroundOptions& options, const GroundTransform& transform)
{
    std::vector<const ShownPiece*> byIndex(scene.pieces.size(), nullptr);
    for (const ShownPiece& piece : pieces)
        if (piece.index != spawnedPiece)
            byIndex[piece.index] = &piece;
    const std::set<std::string, std::less<>> lit = litSnares(record, tick);
    std::vector<DrawnThread> threads;
    std::map<std::pair<std::size_t, std::size_t>, std::size_t> between;
    std::set<std::string, std::less<>> chosenLaid;
    for (const std::string& id : selection.pieces())
        if (const scene::Piece* piece = scene::findPiece(scene, id); piece && piece->partOf)
            chosenLaid.insert(piece->partOf->laid);
    const auto within = [&](const scene::Laid& laid) { return options.allThreads || chosenLaid.contains(laid.id); };
    for (const Thread& thread : threadsOf(scene, within)) {
        const bool chosen = selection.snare() == thread.snare;
        const bool isLit = lit.contains(thread.snare);
        const bool mine =
            chosen || selection.has(scene.pieces[thread.from].id) || selection.has(scene.pieces[thread.to].id);
        if (!byIndex[thread.from] || !byIndex[thread.to] || (!mine && !options.allThreads && !isLit))
            continue;
        const auto [found, isNew] = between.try_emplace({thread.from, thread.to}, threads.size());
        if (isNew)
            threads.push_back({{}, thread.from, thread.to, {}, {}, {}, false, false});
        DrawnThread& drawn = threads[found->second];
        drawn.snares.push_back(thread.snare);
        drawn.lit |= isLit;
        drawn.chosen |= chosen;
    }
    const QFontMetricsF metrics{textFont(-1)};
    std::vector<QRectF> taken;
    for (DrawnThread& thread : threads) {
        const QPointF start = transform.toView(boundsOf(*byIndex[thread.from]).centre());
        const QPointF end = transform.toView(boundsOf(*byIndex[thread.to]).centre());
        thread.path = threadPath(start, end);
        thread.label = labelOf(thread.snares);
        thread.pill = {0, 0, metrics.horizontalAdvance(thread.label) + 18, metrics.height() + 5};
        for (const double part : {0.5, 0.36, 0.64, 0.25, 0.75}) {
            thread.pill.moveCenter(thread.path.pointAtPercent(part));
            if (std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(thread.pill); }))
                break;
        }
        taken.push_back(thread.pill);
    }
    return threads;
}

QPainterPath threadPath(const QPointF& from, const QPointF& to)
{
    const QPointF way = to - from;
    QPainterPath path{from};
    path.quadTo((from + to) / 2 + QPointF{-way.y() * 0.16, way.x() * 0.16}, to);
    return path;
}

void paintThread(QPainter& painter, const DrawnThread& thread)
{
    const Theme& t = theme();
    const QColor colour = thread.lit ? t.coral : thread.chosen ? t.ink : t.slate;
    const double width = (thread.lit || thread.chosen ? 2.2 : 1.3) + (thread.snares.size() > 1 ? 0.9 : 0);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{colour, width});
    painter.drawPath(thread.path);
    const QPointF end = thread.path.currentPosition();
    const QPointF before = thread.path.pointAtPercent(0.93);
    const double angle = std::atan2(end.y() - before.y(), end.x() - before.x());
    QPolygonF head;
    for (const double turn : {0.0, 2.6, -2.6})
        head << end + QPointF{std::cos(angle + turn), std::sin(angle + turn)} * 7;
    painter.setBrush(colour);
    painter.drawPolygon(head);
    painter.setBrush(t.panel);
    painter.setPen(QPen{colour, 1.2});
    painter.drawRoundedRect(thread.pill, thread.pill.height() / 2, thread.pill.height() / 2);
    painter.setFont(textFont(-1));
    painter.setPen(thread.lit ? t.coralText : t.ink);
    painter.drawText(thread.pill, Qt::AlignCenter, thread.label);
}

std::optional<ThreadHit> threadAt(const std::vector<DrawnThread>& threads, const QPointF& point)
{
    constexpr double nearEnd = 9;
    for (auto thread = threads.rbegin(); thread != threads.rend(); ++thread) {
        if (thread->pill.contains(point))
            return ThreadHit{*thread, ThreadPart::label};
        const QPointF way = thread->path.currentPosition() - point;
        if (thread->chosen && std::hypot(way.x(), way.y()) <= nearEnd)
            return ThreadHit{*thread, ThreadPart::end};
    }
    return std::nullopt;
}

} // namespace snare::app
