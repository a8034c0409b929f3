// SPDX-License-Identifier: Apache-2.0
#include "app/cards/level_curve.h"

#include "app/ui/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace snare::app {

namespace {

constexpr double grabPixels = 6;

/// Three digits that matter.
double rounded(double value)
{
    if (value == 0 || !std::isfinite(value))
        return 0;
    const double unit = std::pow(10, std::floor(std::log10(std::abs(value))) - 2);
    return std::round(value / unit) * unit;
}

} // namespace

std::vector<std::pair<std::int64_t, double>> watchedSteps(const sim::Record& record, const scene::Catch& catches)
{
    std::vector<std::pair<std::int64_t, double>> steps;
    const std::string path = catches.source.empty() ? catches.watch : catches.source + ".value";
    const auto dot = path.find('.');
    if (dot == std::string::npos)
        return steps;
    std::string owner = path.substr(0, dot);
    const std::string name = path.substr(dot + 1);
    if (owner == "self")
        owner = catches.at.empty() ? "scene" : catches.at;
    world::PieceIndex index = world::nobody;
    if (owner == "scene")
        index = world::theScene;
    for (std::size_t i = 0; i < record.pieces.size(); ++i)
        if (record.pieces[i].id == owner)
            index = static_cast<world::PieceIndex>(i);
    for (std::size_t i = 0; i < record.scene->sources.size(); ++i)
        if (record.scene->sources[i].id == owner)
            index = world::sourceIndex(i);
    if (index == world::nobody)
        return steps;
    if (index == world::theScene && name == "age") {
        for (std::int64_t tick = 0; tick <= record.lastTick(); tick += std::max(1, record.scene->rate / 4))
            steps.emplace_back(tick, static_cast<double>(tick) / record.scene->rate);
        return steps;
    }
    const auto add = [&](std::int64_t tick, const std::optional<scene::Scalar>& value) {
        if (const double* number = value ? std::get_if<double>(&*value) : nullptr)
            steps.emplace_back(tick, *number);
    };
    add(0, sim::valueAt(record, index, name, -1));
    if (const auto word = record.journal.texts.known(name))
        for (const std::int32_t at : record.index.changesOf(index, *word)) {
            const rules::ValueChange& change = record.journal.values[static_cast<std::size_t>(at)];
            add(change.tick, record.journal.valueOf(change));
        }
    return steps;
}

LevelCurve::LevelCurve(Stage& stage, const scene::Catch& catches, QWidget* parent)
    : QWidget(parent), stage_(stage), catches_(catches), falls_(catches.event.items.front() == scene::EventKind::falls),
      level_(catches.level.value_or(0)), band_(catches.band)
{
    setObjectName(QStringLiteral("levelCurve"));
    setAccessibleName(tr("Curve of what is watched"));
    setToolTip(tr("Drag the level, or the edge of the band; arrow keys move the level"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    const auto refresh = [this] {
        if (!isVisible())
            return;
        read();
        update();
    };
    connect(&stage_, &Stage::recordChanged, this, refresh);
    connect(&stage_, &Stage::cursorChanged, this, [this] {
        if (isVisible())
            update();
    });
    read();
}

void LevelCurve::read()
{
    steps_ = watchedSteps(stage_.record(), catches_);
    low_ = std::min(level_, bandValue());
    high_ = std::max(level_, bandValue());
    for (const auto& step : steps_) {
        low_ = std::min(low_, step.second);
        high_ = std::max(high_, step.second);
    }
    for (const scene::Source& source : stage_.record().scene->sources)
        if (const auto* dial = std::get_if<scene::DialSource>(&source.kind); dial && source.id == catches_.source) {
            low_ = std::min(low_, dial->low);
            high_ = std::max(high_, dial->high);
        }
    if (high_ - low_ < 1e-9) {
        low_ -= 1;
        high_ += 1;
    }
}

double LevelCurve::yOf(double value) const
{
    return 8 + (height() - 16) * (1 - (value - low_) / (high_ - low_));
}

double LevelCurve::valueAt(double y) const
{
    return low_ + (1 - (y - 8) / (height() - 16)) * (high_ - low_);
}

LevelCurve::Line LevelCurve::lineAt(const QPointF& point) const
{
    const double toLevel = std::abs(point.y() - yOf(level_));
    const double toBand = std::abs(point.y() - yOf(bandValue()));
    if (band_ > 0 && toBand <= grabPixels && toBand < toLevel)
        return Line::band;
    return toLevel <= grabPixels ? Line::level : Line::none;
}

void LevelCurve::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen{hasFocus() ? t.mint : t.hairline, 1});
    painter.setBrush(t.paper);
    painter.drawRoundedRect(QRectF{rect()}.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    const double last = std::max<double>(1, static_cast<double>(stage_.record().lastTick()));
    const auto xOf = [&](double tick) { return 6 + (width() - 58) * tick / last; };
    QColor wash = t.ochre;
    wash.setAlpha(40);
    if (band_ > 0)
        painter.fillRect(QRectF{QPointF{6, yOf(level_)}, QPointF{width() - 52.0, yOf(bandValue())}}.normalized(), wash);
    QPolygonF line;
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const double x = xOf(static_cast<double>(steps_[i].first));
        if (i > 0)
            line << QPointF{x, yOf(steps_[i - 1].second)};
        line << QPointF{x, yOf(steps_[i].second)};
    }
    if (!line.isEmpty())
        line << QPointF{xOf(last), line.back().y()};
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen{t.blue, 1.5});
    painter.drawPolyline(line);
    if (band_ > 0) {
        painter.setPen(QPen{t.ochre, 1.2, Qt::DotLine});
        painter.drawLine(QPointF{6, yOf(bandValue())}, QPointF{width() - 52.0, yOf(bandValue())});
    }
    painter.setPen(QPen{t.coral, 1.6, Qt::DashLine});
    painter.drawLine(QPointF{6, yOf(level_)}, QPointF{width() - 52.0, yOf(level_)});
    const double now = xOf(static_cast<double>(stage_.cursor()));
    painter.setPen(QPen{t.ink, 1});
    painter.drawLine(QPointF{now, 4}, QPointF{now, height() - 4.0});
    painter.setFont(figureFont(-1));
    painter.setPen(t.coralText);
    const auto label = [&](double value, double y) {
        painter.drawText(QRectF{width() - 50.0, y - 8, 46, 16}, Qt::AlignLeft | Qt::AlignVCenter,
                         QString::number(value, 'g', 4));
    };
    label(level_, std::clamp(yOf(level_), 9.0, height() - 9.0));
    painter.setPen(t.inkSoft);
    if (band_ > 0 && std::abs(yOf(bandValue()) - yOf(level_)) > 13)
        label(bandValue(), std::clamp(yOf(bandValue()), 9.0, height() - 9.0));
    if (steps_.empty()) {
        painter.setFont(textFont(-1));
        painter.drawText(rect(), Qt::AlignCenter, tr("no curve is kept of this number"));
    }
}

void LevelCurve::mousePressEvent(QMouseEvent* event)
{
    held_ = event->button() == Qt::LeftButton ? lineAt(event->position()) : Line::none;
    moved_ = false;
}

void LevelCurve::mouseMoveEvent(QMouseEvent* event)
{
    if (held_ == Line::none) {
        setCursor(lineAt(event->position()) == Line::none ? Qt::ArrowCursor : Qt::SizeVerCursor);
        return;
    }
    const double value = std::clamp(valueAt(event->position().y()), low_, high_);
    moved_ = true;
    if (held_ == Line::level)
        level_ = rounded(value);
    else
        band_ = rounded(std::max(0.0, falls_ ? value - level_ : level_ - value));
    update();
}

void LevelCurve::mouseReleaseEvent(QMouseEvent*)
{
    const Line was = std::exchange(held_, Line::none);
    if (!moved_ || was == Line::none)
        return;
    was == Line::level ? emit levelWanted(level_) : emit bandWanted(band_);
}

void LevelCurve::keyPressEvent(QKeyEvent* event)
{
    const int way = event->key() == Qt::Key_Up ? 1 : event->key() == Qt::Key_Down ? -1 : 0;
    if (way == 0)
        return QWidget::keyPressEvent(event);
    emit levelWanted(rounded(level_ + way * (high_ - low_) / 50));
}

} // namespace snare::app
