// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/moment_panel.h"

#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QLabel>
#include <QTextDocumentFragment>

namespace snare::app {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

QString bold(const QString& text)
{
    return QStringLiteral("<b>%1</b>").arg(text.toHtmlEscaped());
}

QString coloured(const QString& text, const QColor& colour)
{
    return QStringLiteral("<span style='color:%1'>%2</span>").arg(colour.name(), text);
}

QString figure(const QString& text)
{
    return QStringLiteral("<span style=\"font-family:'%1'\">%2</span>").arg(figureFont().family(), text);
}

} // namespace

MomentPanel::MomentPanel(Stage& stage, Selection& selection, QWidget* parent)
    : QScrollArea(parent), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("moment"));
    setAccessibleName(tr("Moment"));
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    dress(this,
          [] { return QStringLiteral("#moment, #momentText { background: %1; }").arg(theme().panelDeep.name()); });
    text_ = new QLabel;
    text_->setObjectName(QStringLiteral("momentText"));
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::RichText);
    text_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    text_->setMargin(12);
    text_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard |
                                   Qt::TextSelectableByMouse);
    setWidget(text_);
    connect(text_, &QLabel::linkActivated, this, &MomentPanel::follow);
    connect(&stage_, &Stage::recordChanged, this, &MomentPanel::refresh);
    connect(&stage_, &Stage::cursorChanged, this, &MomentPanel::refresh);
    connect(&stage_, &Stage::chosenLineChanged, this, &MomentPanel::refresh);
    connect(&selection_, &Selection::changed, this, &MomentPanel::refresh);
    onTheme(this, [this] { refresh(); });
}

QString MomentPanel::plainText() const
{
    return QTextDocumentFragment::fromHtml(text_->text()).toPlainText();
}

std::int32_t MomentPanel::eventToExplain() const
{
    const auto& lines = stage_.record().journal.lines;
    const std::int32_t chosen = stage_.chosenLine();
    if (chosen >= 0 && chosen < static_cast<std::int32_t>(lines.size())) {
        const Line& line = lines[static_cast<std::size_t>(chosen)];
        return line.kind == LineKind::event || line.about < 0 ? chosen : line.about;
    }
    const sim::Record& record = stage_.record();
    const auto next = static_cast<std::size_t>(std::max<std::int64_t>(0, stage_.cursor() + 1));
    const std::size_t end = next < record.linesFrom.size() ? record.linesFrom[next] : lines.size();
    const std::int32_t outcome = record.index.lastOutcomeBefore(static_cast<std::int32_t>(end));
    return outcome < 0 ? -1 : lines[static_cast<std::size_t>(outcome)].about;
}

QString MomentPanel::headline(const Line& event) const
{
    const sim::Record& record = stage_.record();
    const QString self = toText(record.nameOf(event.self));
    const QString visitor = toText(record.nameOf(event.visitor));
    const QString shape = toText(record.shapeNameOf(event.shape));
    const bool named = event.shape >= 0 && !shape.isEmpty() && !shape.front().isDigit();
    const QString where = named ? tr("%1 of %2").arg(shape, self) : self;
    const QString word = toText(record.journal.textOf(event));
    switch (event.event) {
    case EventKind::enter:
        return bold(tr("%1 entered %2").arg(visitor, where));
    case EventKind::exit:
        return bold(tr("%1 left %2").arg(visitor, where));
    case EventKind::stay:
        return bold(tr("%1 stayed in %2").arg(visitor, where));
    case EventKind::hit:
        return bold(tr("%1 hit %2").arg(visitor, where)) + tr(" at %1 m/s").arg(event.number, 0, 'f', 2);
    case EventKind::occupied:
        return bold(tr("%1 is occupied").arg(where));
    case EventKind::vacated:
        return bold(tr("%1 is vacated").arg(where));
    case EventKind::down:
    case EventKind::up:
    case EventKind::click:
    case EventKind::doubled:
    case EventKind::dragBegin:
    case EventKind::drag:
    case EventKind::dragEnd:
    case EventKind::drop:
    case EventKind::sweepBegin:
    case EventKind::sweepEnd: {
        const QString who = event.event == EventKind::drop ? visitor : tr("the pointer");
        const QString place = event.self == world::theScene ? tr("the ground") : where;
        const bool sweeps = event.event == EventKind::sweepBegin || event.event == EventKind::sweepEnd;
        return bold(QStringLiteral("%1 %2%3").arg(who, toText(scene::wordFor(event.event).verb),
                                                  sweeps ? QString() : QLatin1Char(' ') + place)) +
               tr(" with the %1 button").arg(word);
    }
    case EventKind::keyDown:
        return bold(tr("%1 was pressed").arg(keyLabel(word)));
    case EventKind::keyHeld:
        return bold(tr("%1 was held").arg(keyLabel(word)));
    case EventKind::keyUp:
        return bold(tr("%1 was let go").arg(keyLabel(word)));
    case EventKind::elapsed:
        return bold(tr("timer %1 elapsed").arg(word));
    case EventKind::rises:
        return bold(tr("%1 rose to %2").arg(word).arg(event.number, 0, 'g', 6));
    case EventKind::falls:
        return bold(tr("%1 fell to %2").arg(word).arg(event.number, 0, 'g', 6));
    case EventKind::called:
        return bold(tr("call %1 came").arg(word));
    case EventKind::spawned:
        return bold(tr("%1 was spawned").arg(self));
    case EventKind::strays:
        return bold(tr("%1 left the bounds").arg(self));
    case EventKind::phaseBegin:
        return bold(tr("phase %1 of %2 began").arg(word, self));
    case EventKind::phaseEnd:
        return bold(tr("phase %1 of %2 ended").arg(word, self));
    case EventKind::changed:
        return bold(tr("%1 of %2 changed").arg(word, self));
    case EventKind::lookEnded:
        return bold(tr("%1 has played its look").arg(self));
    case EventKind::heard:
        return bold(tr("signal %1 was raised").arg(word)) + (visitor.isEmpty() ? QString() : tr(" by %1").arg(visitor));
    case EventKind::arrived:
        return bold(tr("%1 arrived").arg(self));
    case EventKind::removed:
        return bold(tr("%1 was removed").arg(self));
    case EventKind::start:
        return bold(tr("the scene started"));
    }
    return {};
}

QString MomentPanel::outcomeLine(const Line& line, const Line& event) const
{
    const Theme& t = theme();
    const sim::Record& record = stage_.record();
    const QString name = toText(record.snareNameOf(line.snare));
    const QString link = QStringLiteral("<a href='%1' style='color:%2; text-decoration:none'><b>%1</b></a>")
                             .arg(name.toHtmlEscaped(), t.ink.name());
    const bool sprung = line.outcome == rules::Outcome::sprung;
    // A signal or key is heard at many places: say at which.
    const QString where =
        line.self != event.self && line.self >= 0 ? tr(" at %1").arg(toText(record.nameOf(line.self))) : QString();
    const QString mark =
        coloured(sprung ? QStringLiteral("◆") : QStringLiteral("◇"), sprung ? t.mintText : t.coralText);
    const bool later = line.tick > event.tick;
    const QString at = figure(tr("%1 s").arg(static_cast<double>(line.tick) / record.scene->rate, 0, 'f', 3));
    // What is counted comes of an enter or exit and has no line of its own (M11).
    const QString counted = line.event == EventKind::occupied  ? tr(" (now occupied)")
                            : line.event == EventKind::vacated ? tr(" (now vacated)")
                                                               : QString();
    if (sprung) {
        const double waited = static_cast<double>(line.tick - event.tick) / record.scene->rate;
        return mark + QStringLiteral("&nbsp; ") + link + where +
               (later ? tr(" waited %1 s, sprang at %2").arg(waited, 0, 'g', 4).arg(at) : tr(" sprang")) + counted;
    }
    return mark + QStringLiteral("&nbsp; ") + link + where + counted +
           tr(" slipped at %1: %2")
               .arg(toText(rules::wordOf(line.stage)), toText(record.journal.textOf(line)).toHtmlEscaped()) +
           (later ? tr(", at %1").arg(at) : QString());
}

QString MomentPanel::explain(std::int32_t index) const
{
    const Theme& t = theme();
    const sim::Record& record = stage_.record();
    const auto& lines = record.journal.lines;
    const Line& event = lines[static_cast<std::size_t>(index)];
    const world::Vec spot = record.journal.spotOf(event).point;
    const double seconds = event.frac >= 0 ? (event.tick - 1 + event.frac) / record.scene->rate
                                           : static_cast<double>(event.tick) / record.scene->rate;
    QString html =
        figure(tr("%1 s").arg(std::max(0.0, seconds), 0, 'f', 3)) + QStringLiteral("&nbsp;&nbsp; ") + headline(event);
    QString detail = tr("tick %1").arg(event.tick);
    if (event.frac >= 0)
        detail += tr(", frac %1").arg(event.frac, 0, 'g', 6);
    if (rules::isContact(event.event))
        detail += event.manner == world::Manner::stop ? tr(", stop") : tr(", sense");
    if (event.event == EventKind::hit)
        detail += tr(", at (%1, %2) m").arg(spot.x, 0, 'f', 2).arg(spot.y, 0, 'f', 2);
    if (rules::isContact(event.event) && event.cause != world::Cause::moved)
        detail += tr(", because it was %1")
                      .arg(event.cause == world::Cause::start ? tr("there at the start")
                                                              : toText(world::wordOf(event.cause)));
    html += QStringLiteral("<br>") + coloured(detail, t.inkSoft);
    constexpr qsizetype mostOutcomes = 60;
    constexpr qsizetype mostDone = 8;
    qsizetype listened = 0;
    qsizetype done = 0;
    QStringList outcomes;
    QStringList did;
    record.index.forEachAbout(index, [&](std::int32_t about) {
        const Line& line = lines[static_cast<std::size_t>(about)];
        if (line.kind == LineKind::snare) {
            if (++listened <= mostOutcomes)
                outcomes << outcomeLine(line, event);
        } else if (line.kind == LineKind::response) {
            if (++done > mostDone)
                return;
            const QString on =
                line.self == world::nobody ? QString() : QLatin1Char(' ') + toText(record.nameOf(line.self));
            const std::string text = record.journal.textOf(line);
            const QString what = text.empty() ? QString() : QStringLiteral(" ") + toText(text);
            if (rules::responseOf(line) == "run") // a routine has a card
                did << QStringLiteral("run <a href='routine:%1' style='color:%2'>%1</a>")
                           .arg(toText(text).toHtmlEscaped(), t.ink.name());
            else
                did << QStringLiteral("%1%2%3").arg(toText(rules::responseOf(line)), on, what).toHtmlEscaped();
        } else if (line.kind == LineKind::note && line.text != 0) {
            if (++done <= mostDone)
                did << tr("note: %1").arg(toText(record.journal.textOf(line))).toHtmlEscaped();
        }
    });
    for (const QString& outcome : outcomes)
        html += QStringLiteral("<br>") + outcome;
    if (listened > mostOutcomes)
        html += QStringLiteral("<br>") + coloured(tr("and %1 more").arg(listened - mostOutcomes), t.inkSoft);
    if (listened == 0)
        html += QStringLiteral("<br>") + coloured(tr("Nobody listened."), t.inkSoft);
    if (!did.isEmpty()) {
        const QString more = done > mostDone ? tr(" and %1 more").arg(done - mostDone) : QString();
        html += QStringLiteral("<br>") + coloured(tr("did: ") + did.join(QStringLiteral(" · ")) + more, t.inkSoft);
    }
    return html;
}

/// A link is a snare's name, `routine:` and the name of a routine, or `line:` and the number of a line of the journal.
void MomentPanel::follow(const QString& link)
{
    if (!link.startsWith(QLatin1String("line:"))) {
        emit snareChosen(link);
        return;
    }
    const auto index = static_cast<std::int32_t>(link.mid(5).toInt());
    const auto& lines = stage_.record().journal.lines;
    if (index < 0 || index >= static_cast<std::int32_t>(lines.size()))
        return;
    stage_.setCursor(lines[static_cast<std::size_t>(index)].tick);
    stage_.chooseLine(index);
}

QString MomentPanel::missed(const std::string& snare) const
{
    using Missed = sim::RecordIndex::Missed;
    constexpr std::size_t mostReasons = 12;
    const Theme& t = theme();
    const sim::Record& record = stage_.record();
    const auto& snares = record.scene->snares;
    const auto found = std::ranges::find(snares, snare, &scene::Snare::id);
    const auto all = record.index.missedBy(static_cast<std::int32_t>(found - snares.begin()));
    if (all.empty())
        return {};
    std::vector<const Missed*> reasons;
    int slipped = 0;
    for (const Missed& missed : all) {
        reasons.push_back(&missed);
        slipped += missed.times;
    }
    std::ranges::stable_sort(reasons, std::greater{}, &Missed::times);
    QString html = QStringLiteral("<br><br>") +
                   bold(tr("%1 slipped %2")
                            .arg(toText(snare), counted(static_cast<std::size_t>(slipped), tr("time"), tr("times"))));
    for (const Missed* reason : std::span(reasons).first(std::min(reasons.size(), mostReasons))) {
        QStringList links;
        for (const std::int32_t line : reason->lines)
            if (line >= 0)
                links << QStringLiteral("<a href='line:%1' style='color:%2'>%3 s</a>")
                             .arg(line)
                             .arg(t.ink.name())
                             .arg(static_cast<double>(record.journal.lines[static_cast<std::size_t>(line)].tick) /
                                      record.scene->rate,
                                  0, 'f', 3);
        const QString more = reason->times > static_cast<int>(links.size()) ? QStringLiteral(" …") : QString();
        const QString text =
            QStringLiteral("%1: %2").arg(toText(rules::wordOf(reason->stage)), toText(record.index.textOf(*reason)));
        html += QStringLiteral("<br>") + coloured(QStringLiteral("◇"), t.coralText) +
                QStringLiteral("&nbsp; %1 × %2 ").arg(reason->times).arg(text.toHtmlEscaped()) +
                coloured(tr("at %1").arg(links.join(QStringLiteral(", ")) + more), t.inkSoft);
    }
    if (reasons.size() > mostReasons)
        html +=
            QStringLiteral("<br>") + coloured(tr("and %1 other reasons").arg(reasons.size() - mostReasons), t.inkSoft);
    return html;
}

void MomentPanel::refresh()
{
    const Theme& t = theme();
    const sim::Record& record = stage_.record();
    QString html;
    if (!record.stopReason.empty())
        html = coloured(
            QStringLiteral("<b>%1</b> %2<br>").arg(tr("The run stopped."), toText(record.stopReason).toHtmlEscaped()),
            t.coralText);
    const std::int32_t event = eventToExplain();
    html += event >= 0 ? explain(event)
                       : coloured(tr("Nothing has happened yet. Record a take, or click a diamond in the timeline: "
                                     "here it says who listened and why."),
                                  t.inkSoft);
    if (!selection_.snare().empty() && stage_.mode() != Stage::Mode::recording)
        html += missed(selection_.snare());
    text_->setText(QStringLiteral("<div style='line-height:145%'>%1</div>").arg(html));
}

} // namespace snare::app
