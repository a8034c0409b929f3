// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/moment_panel.h"

#include "app/ui/accessible.h"
#include "app/model/expecting.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "rules/clock.h"
#include "sim/because.h"
#include "words/moment.h"

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
    giveRole(this, QAccessible::Document, tr("Moment"));
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
    const words::EventSaid said = words::eventSaid(stage_.record(), event);
    return bold(toText(said.what)) + toText(said.how).toHtmlEscaped();
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
    if (linesLike(record, lineShown()))
        html += QStringLiteral("&nbsp;&nbsp; <a href='expect' style='color:%1'>%2</a>")
                    .arg(t.inkSoft.name(), tr("expect…"));
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
    html += QStringLiteral("<br>") + coloured(detail, t.inkSoft) + because(lineShown());
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
            if (rules::responseOf(line) == "run") // a routine has a card
                did << QStringLiteral("run <a href='routine:%1' style='color:%2'>%1</a>")
                           .arg(toText(record.journal.textOf(line)).toHtmlEscaped(), t.ink.name());
            else
                did << toText(words::doneText(record, line)).toHtmlEscaped();
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

std::int32_t MomentPanel::lineShown() const
{
    return stage_.chosenLine() >= 0 ? stage_.chosenLine() : eventToExplain();
}

QString MomentPanel::linkTo(std::int32_t line, const QString& text) const
{
    return QStringLiteral("<a href='line:%1' style='color:%2; text-decoration:none'>%3</a>")
        .arg(line)
        .arg(theme().ink.name(), text.toHtmlEscaped());
}

namespace {

/// What came of a line: the events next to it, over snares and what they did.
std::vector<std::int32_t> eventsAfter(const sim::Record& record, std::int32_t line, std::size_t most)
{
    std::vector<std::int32_t> found;
    std::vector<std::int32_t> open{line};
    for (std::size_t i = 0; i < open.size() && i < 4 * most && found.size() < most; ++i)
        for (const std::int32_t next : sim::resultsOf(record, open[i], 2 * most)) {
            const bool isEvent = record.journal.lines[static_cast<std::size_t>(next)].kind == LineKind::event;
            (isEvent ? found : open).push_back(next);
        }
    std::ranges::sort(found);
    found.resize(std::min(found.size(), most));
    return found;
}

} // namespace

QString MomentPanel::because(std::int32_t line) const
{
    const Theme& t = theme();
    const sim::Record& record = stage_.record();
    const std::vector<std::int32_t> chain = sim::chainTo(record, line);
    const auto at = [&](std::size_t i) -> const Line& {
        return record.journal.lines[static_cast<std::size_t>(chain[i])];
    };
    const QString arrow = coloured(QStringLiteral(" › "), t.inkSoft);
    QString html;
    if (chain.size() > 1) {
        constexpr std::size_t mostSteps = 9;
        const std::size_t left =
            chain.size() > mostSteps ? chain.size() - mostSteps : 0; // what is left out, behind the first
        QString steps;
        for (std::size_t i = 0; i < chain.size(); ++i) {
            if (left > 0 && i == 1) {
                steps += arrow + linkTo(chain[left], tr("… %1 more").arg(left));
                i = left;
                continue;
            }
            const double waited =
                i == 0 ? 0 : static_cast<double>(at(i).tick - at(i - 1).tick) / record.scene->rate;
            if (waited > 1.5 / record.scene->rate)
                steps += arrow + coloured(figure(tr("%1 s").arg(waited, 0, 'g', 3)), t.inkSoft);
            const QString text = toText(words::stepText(record, at(i)));
            steps += (i == 0 ? QString() : arrow) +
                     (i + 1 == chain.size() ? bold(text) : linkTo(chain[i], text));
        }
        html += QStringLiteral("<br>") + coloured(tr("because: "), t.inkSoft) + steps;
    }
    // What came more than once is said once, with how often; its link leads to the first.
    struct Result {
        std::int32_t first;
        QString text;
        int times = 1;
    };
    constexpr std::size_t mostLines = 40;
    constexpr std::size_t mostTexts = 5;
    std::vector<Result> results;
    for (const std::int32_t next : eventsAfter(record, line, mostLines)) {
        const QString text = toText(words::stepText(record, record.journal.lines[static_cast<std::size_t>(next)]));
        if (const auto same = std::ranges::find(results, text, &Result::text); same != results.end())
            ++same->times;
        else if (results.size() < mostTexts)
            results.push_back({next, text});
    }
    QStringList after;
    for (const Result& result : results)
        after << linkTo(result.first, result.text) +
                     (result.times > 1 ? coloured(tr(" × %1").arg(result.times), t.inkSoft) : QString());
    if (!after.isEmpty())
        html += QStringLiteral("<br>") + coloured(tr("led to: "), t.inkSoft) +
                after.join(coloured(QStringLiteral(" · "), t.inkSoft));
    return html;
}

QString MomentPanel::whySo() const
{
    const sim::Record& record = stage_.record();
    const std::int64_t now = stage_.cursor();
    const auto found = std::ranges::find(record.pieces, selection_.piece(), &sim::RunPiece::id);
    if (selection_.piece().empty() || found == record.pieces.end() || found->born > now)
        return {};
    const auto piece = static_cast<world::PieceIndex>(found - record.pieces.begin());
    QStringList facts;
    const auto add = [&](const QString& fact, std::int32_t line) {
        if (line >= 0)
            facts << coloured(fact, theme().inkSoft) + QLatin1Char(' ') +
                         linkTo(line,
                                toText(words::stepText(record, record.journal.lines[static_cast<std::size_t>(line)])));
    };
    const auto becauseOf = [&](std::int32_t line) {
        return line < 0 ? -1 : record.journal.because[static_cast<std::size_t>(line)];
    };
    const bool isLed = std::ranges::any_of(record.take.inputs, [&](const scene::Input& input) {
        return scene::nameOf<scene::TrackPlace>(input) == found->id &&
               rules::tickOfInput(input.t, record.scene->rate) <= now;
    });
    if (isLed && std::holds_alternative<scene::DrivenBody>(found->model->body))
        facts << coloured(tr("is here because the take leads it"), theme().inkSoft);
    else if (!std::holds_alternative<scene::StaticBody>(found->model->body))
        add(tr("is here because:"), sim::lineBehindPlace(record, piece, now));
    if (const std::string phase = sim::phaseAt(record, piece, now); !phase.empty())
        add(tr("%1 because:").arg(toText(phase)), becauseOf(sim::lineOfPhase(record, piece, now)));
    for (const auto& [name, value] : found->model->properties.entries)
        if (const auto held = sim::valueAt(record, piece, name, now))
            add(tr("%1 = %2 because:").arg(toText(name), toText(scene::textOf(*held))),
                becauseOf(sim::lineOfValue(record, piece, name, now)));
    for (const std::int32_t caption : sim::standingAt(record, now).captions)
        if (const Line& line = record.journal.lines[static_cast<std::size_t>(caption)];
            line.self == piece && line.until > now)
            add(tr("says “%1” because:").arg(toText(record.journal.textOf(line))), becauseOf(caption));
    if (facts.isEmpty())
        return {};
    return QStringLiteral("<br><br>") + bold(tr("%1 now").arg(toText(selection_.piece()))) + QStringLiteral("<br>") +
           facts.join(QStringLiteral("<br>"));
}

void MomentPanel::goBack()
{
    const std::int32_t line = lineShown();
    if (line >= 0)
        stage_.chooseLine(stage_.record().journal.because[static_cast<std::size_t>(line)]);
}

void MomentPanel::goOn()
{
    const std::vector<std::int32_t> next = sim::resultsOf(stage_.record(), lineShown(), 1);
    if (!next.empty())
        stage_.chooseLine(next.front());
}

/// A link is a snare's name, `routine:` and the name of a routine, or `line:` and the number of a
/// line of the journal.
void MomentPanel::follow(const QString& link)
{
    if (link == QLatin1String("expect")) {
        emit menuWanted(lineShown(), QCursor::pos());
        return;
    }
    if (!link.startsWith(QLatin1String("line:"))) {
        emit snareChosen(link);
        return;
    }
    const auto index = static_cast<std::int32_t>(link.mid(5).toInt());
    const auto& lines = stage_.record().journal.lines;
    if (index < 0 || index >= static_cast<std::int32_t>(lines.size()))
        return;
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
    html += event >= 0
                ? explain(event)
                : coloured(record.lastTick() <= 0
                               ? tr("Nothing has happened yet. Record a take: here it says who listened and why.")
                               : tr("No snare has heard anything up to here. Click a bar or a mark in the timeline: "
                                    "here it says who listened and why."),
                           t.inkSoft);
    if (stage_.mode() != Stage::Mode::recording)
        html += whySo();
    if (!selection_.snare().empty() && stage_.mode() != Stage::Mode::recording)
        html += missed(selection_.snare());
    text_->setText(QStringLiteral("<div style='line-height:145%'>%1</div>").arg(html));
}

} // namespace snare::app
