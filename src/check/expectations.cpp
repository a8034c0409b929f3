// SPDX-License-Identifier: Apache-2.0
#include "check/expectations.h"

#include "words/expectations.h"
#include "words/moment.h"
#include "words/text.h"
#include "words/values.h"

#include <fmt/format.h>

#include <cmath>
#include <functional>
#include <set>

namespace snare::check {

using rules::Line;
using rules::LineKind;
using scene::EventKind;
using scene::Expectation;
using scene::LineMatch;

namespace {

/// When a line came, s, rounded as in the log (E1).
double timeOf(const sim::Record& record, const Line& line)
{
    return std::round(line.tick * 1e6 / record.scene->rate) / 1e6;
}

std::string momentText(double seconds)
{
    return words::figure(std::round(seconds * 1000) / 1000) + " s";
}

/// One thing that is asked of a line.
struct Ask {
    std::string wanted;                             ///< "by courier"
    std::function<bool(const Line&)> fits;          ///< whether it is so
    std::function<std::string(const Line&)> actual; ///< "by mule"
};

/// What a match asks of lines: first which lines are meant at all, then one thing after the other.
class Question {
  public:
    Question(const sim::Record& record, const LineMatch& match) : record_(record), match_(match)
    {
        if (!match.response.empty())
            askOfResponse();
        else if (match.event)
            askOfEvent();
        else if (!match.signal.empty())
            askOfSignal();
        else if (!match.phase.empty())
            askOfPhase();
        else
            askOfSnare();
    }

    /// The lines that are meant, whether or not they are as asked and in time; in order.
    std::vector<std::int32_t> candidates() const
    {
        if (match_.response.empty() && (match_.event == EventKind::occupied || match_.event == EventKind::vacated))
            return counted();
        std::vector<std::int32_t> found;
        const auto& lines = record_.journal.lines;
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (isMeant_(lines[i]) && !isTheOtherSide(lines[i]))
                found.push_back(static_cast<std::int32_t>(i));
        return found;
    }

    /// A meeting is told at both pieces: that at the visitor is nothing near to the one that is
    /// meant.
    bool isTheOtherSide(const Line& line) const
    {
        return !match_.at.place.empty() && rules::isContact(line.event) &&
               record_.nameOf(line.visitor) == match_.at.place;
    }

    const Line& line(std::int32_t number) const { return record_.journal.lines[static_cast<std::size_t>(number)]; }

    bool fits(std::int32_t number) const
    {
        const Line& one = line(number);
        return std::ranges::all_of(asks_, [&](const Ask& ask) { return ask.fits(one); });
    }
    std::vector<const Ask*> differences(std::int32_t number) const
    {
        std::vector<const Ask*> found;
        for (const Ask& ask : asks_)
            if (!ask.fits(line(number)))
                found.push_back(&ask);
        return found;
    }
    /// How far it is from the span, s: below 0 before it, above 0 behind it.
    double offTime(std::int32_t number) const
    {
        if (!match_.between)
            return 0;
        const double time = timeOf(record_, line(number));
        return time < match_.between->from ? time - match_.between->from
               : time > match_.between->to ? time - match_.between->to
                                           : 0;
    }

  private:
    void ask(std::string_view name, const std::string& wanted, const std::function<std::string(const Line&)>& actual)
    {
        if (!wanted.empty())
            asks_.push_back({fmt::format("{} {}", name, wanted),
                             [wanted, actual](const Line& line) { return actual(line) == wanted; },
                             [name = std::string(name), actual](const Line& line) {
                                 const std::string is = actual(line);
                                 return fmt::format("{} {}", name, is.empty() ? "nobody" : is);
                             }});
    }
    std::function<std::string(const Line&)> nameOf(world::PieceIndex Line::*piece) const
    {
        return [this, piece](const Line& line) { return std::string(record_.nameOf(line.*piece)); };
    }
    std::string snareOf(const Line& line) const
    {
        return line.snare < 0 ? std::string() : record_.snareNameOf(line.snare);
    }
    static auto isEvent(EventKind kind)
    {
        return [kind](const Line& line) { return line.kind == LineKind::event && line.event == kind; };
    }

    void askOfEvent()
    {
        isMeant_ = isEvent(*match_.event);
        ask("at", match_.at.place, nameOf(&Line::self));
        ask("by", match_.by, nameOf(&Line::visitor));
        ask("at shape", match_.shape,
            [this](const Line& line) { return std::string(record_.shapeNameOf(line.shape)); });
        ask("with part", match_.part, [this](const Line& line) {
            return line.kind == LineKind::event ? std::string(record_.shapeNameOf(line.part)) : std::string();
        });
        const auto isContact = [](const Line& line) { return rules::isContact(line.event); };
        if (match_.cause)
            ask("because", std::string(scene::wordOf(*match_.cause)), [isContact](const Line& line) {
                return isContact(line) ? std::string(scene::wordOf(line.cause)) : std::string();
            });
        if (match_.manner)
            ask("manner", std::string(scene::wordOf(*match_.manner)), [isContact](const Line& line) {
                return !isContact(line) ? "" : line.manner == rules::Manner::stop ? "stop" : "sense";
            });
        if (match_.speed.min || match_.speed.max)
            asks_.push_back({"as fast",
                             [speed = match_.speed](const Line& line) {
                                 return line.event == EventKind::hit && (!speed.min || line.number >= *speed.min) &&
                                        (!speed.max || line.number <= *speed.max);
                             },
                             [](const Line& line) { return fmt::format("at {:.4g} m/s", line.number); }});
    }

    void askOfSnare()
    {
        const bool slips = match_.stage || match_.outcome == scene::Outcome::slipped;
        isMeant_ = [this](const Line& line) { return line.kind == LineKind::snare && snareOf(line) == match_.snare; };
        asks_.push_back({"",
                         [slips, stage = match_.stage](const Line& line) {
                             return (line.outcome == scene::Outcome::slipped) == slips &&
                                    (!stage || line.stage == *stage);
                         },
                         [this](const Line& line) {
                             return line.outcome == scene::Outcome::sprung
                                        ? std::string("it sprang")
                                        : fmt::format("it slipped at {}: {}", scene::wordOf(line.stage),
                                                      record_.journal.textOf(line));
                         }});
        ask("at", match_.self, nameOf(&Line::self));
        ask("with", match_.visitor, nameOf(&Line::visitor));
    }

    void askOfSignal()
    {
        isMeant_ = [this](const Line& line) {
            return line.kind == LineKind::event && line.event == EventKind::heard &&
                   record_.journal.textOf(line) == match_.signal;
        };
        for (const auto& entry : match_.with.entries) {
            const std::string& name = entry.first;
            const scene::Scalar& wanted = entry.second;
            const auto valueOf = [this, name](const Line& line) -> std::optional<scene::Scalar> {
                const auto with = record_.valuesOf(static_cast<std::int32_t>(&line - record_.journal.lines.data()));
                const scene::Scalar* value = with.find(name);
                return value ? std::optional(*value) : std::nullopt;
            };
            asks_.push_back({fmt::format("{} = {}", name, words::literalText(wanted)),
                             [valueOf, wanted](const Line& line) { return valueOf(line) == wanted; },
                             [valueOf, name](const Line& line) {
                                 const auto value = valueOf(line);
                                 return fmt::format("{} = {}", name, value ? words::literalText(*value) : "nothing");
                             }});
        }
    }

    void askOfResponse()
    {
        isMeant_ = [this](const Line& line) {
            return line.kind == LineKind::response && rules::responseOf(line) == match_.response;
        };
        ask("of", match_.snare, [this](const Line& line) { return snareOf(line); });
        ask("on", match_.on, nameOf(&Line::self));
    }

    void askOfPhase()
    {
        isMeant_ = isEvent(EventKind::phaseBegin);
        ask("phase", match_.phase, [this](const Line& line) { return record_.journal.textOf(line); });
        ask("of", match_.on.empty() ? "scene" : match_.on, nameOf(&Line::self));
    }

    /// `occupied` and `vacated` have no lines of their own: the first to come in and the last to
    /// leave. If a snare listens for them, its filter says who counts.
    std::vector<std::int32_t> counted() const
    {
        std::vector<std::int32_t> found;
        std::set<std::pair<std::int32_t, world::PieceIndex>> known;
        const auto& lines = record_.journal.lines;
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (lines[i].kind == LineKind::snare && lines[i].event == *match_.event &&
                known.emplace(record_.journal.because[i], lines[i].self).second)
                found.push_back(static_cast<std::int32_t>(i));
        const auto listens = [&](const scene::Snare& snare) {
            return std::ranges::find(snare.catches.event.items, *match_.event) != snare.catches.event.items.end();
        };
        if (std::ranges::any_of(record_.scene->snares, listens))
            return found;
        const bool ofShape = !match_.shape.empty();
        std::map<std::int32_t, std::map<world::PieceIndex, int>> inside; // by place: who, in how many shapes of it
        for (std::size_t i = 0; i < lines.size(); ++i) {
            const Line& line = lines[i];
            if (line.kind != LineKind::event || (line.event != EventKind::enter && line.event != EventKind::exit))
                continue;
            auto& here = inside[ofShape ? line.shape : line.self];
            const bool wasEmpty = here.empty();
            if (line.event == EventKind::enter)
                ++here[line.visitor];
            else if (const auto one = here.find(line.visitor); one != here.end() && --one->second == 0)
                here.erase(one);
            const bool isOccupied = wasEmpty && !here.empty();
            const bool isVacated = !wasEmpty && here.empty();
            if (match_.event == EventKind::occupied ? isOccupied : isVacated)
                found.push_back(static_cast<std::int32_t>(i));
        }
        return found;
    }

    const sim::Record& record_;
    const LineMatch& match_;
    std::function<bool(const Line&)> isMeant_;
    std::vector<Ask> asks_;
};

constexpr std::size_t mostFound = 100;

void point(Verdict& verdict, const sim::Record& record, std::int32_t line)
{
    verdict.line = line;
    verdict.tick = record.journal.lines[static_cast<std::size_t>(line)].tick;
}

/// E6: the line that is nearest to what was asked, and how it differs. Empty if none is alike.
std::string tellNearest(const sim::Record& record, const Question& question,
                        const std::vector<std::int32_t>& candidates, Verdict& verdict)
{
    std::int32_t best = -1;
    std::pair<std::size_t, double> least{1000, 0};
    for (const std::int32_t number : candidates) {
        const double off = std::abs(question.offTime(number));
        const std::size_t differences = question.differences(number).size();
        if (differences == 0 && off == 0)
            continue; // it is one of those that came
        if (const std::pair now{differences, off}; now < least) {
            least = now;
            best = number;
        }
    }
    if (best < 0)
        return {};
    point(verdict, record, best);
    const double time = timeOf(record, question.line(best));
    std::vector<std::string> how;
    for (const Ask* ask : question.differences(best))
        how.push_back(ask->wanted.empty() ? ask->actual(question.line(best))
                                          : fmt::format("{}, not {}", ask->actual(question.line(best)), ask->wanted));
    const double off = question.offTime(best);
    if (off != 0)
        how.push_back(fmt::format("{} {} the span", momentText(std::abs(off)), off < 0 ? "before" : "after"));
    return fmt::format("nearest: {} at {}, {}", words::stepText(record, question.line(best)), momentText(time),
                       words::joinedBy(how, ", "));
}

std::vector<std::int32_t> fitting(const Question& question, const std::vector<std::int32_t>& candidates)
{
    std::vector<std::int32_t> found;
    for (const std::int32_t number : candidates)
        if (question.offTime(number) == 0 && question.fits(number))
            found.push_back(number);
    return found;
}

Verdict judgeComing(const sim::Record& record, const LineMatch& match, const scene::Times& times)
{
    const Question question{record, match};
    const std::vector<std::int32_t> candidates = question.candidates();
    const std::vector<std::int32_t> found = fitting(question, candidates);
    const int count = static_cast<int>(found.size());
    Verdict verdict;
    verdict.held = times.allows(count);
    verdict.found.assign(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(std::min(found.size(), mostFound)));
    if (!found.empty())
        point(verdict, record, found.front());
    if (verdict.held)
        return verdict;
    const auto came = [&] {
        return count == 0   ? std::string("it did not come")
               : count == 1 ? "it came once"
                            : fmt::format("it came {} times", count);
    };
    if (times.max && count > *times.max) {
        const std::int32_t extra = found[static_cast<std::size_t>(*times.max)];
        point(verdict, record, extra);
        verdict.why = fmt::format("{}, {} at most: one too many at {}", came(), *times.max,
                                  momentText(timeOf(record, question.line(extra))));
        return verdict;
    }
    verdict.why = count == 0 ? came() : fmt::format("{}, {} at least", came(), times.min.value_or(1));
    const std::string nearest = tellNearest(record, question, candidates, verdict);
    verdict.why += nearest.empty() ? ", nor anything like it" : "; " + nearest;
    return verdict;
}

Verdict judgeNever(const sim::Record& record, const LineMatch& match)
{
    const Question question{record, match};
    Verdict verdict;
    const std::vector<std::int32_t> found = fitting(question, question.candidates());
    verdict.held = found.empty();
    if (verdict.held)
        return verdict;
    verdict.found.assign(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(std::min(found.size(), mostFound)));
    point(verdict, record, found.front());
    verdict.why = fmt::format(
        "it came at {}{}: {}", momentText(timeOf(record, question.line(found.front()))),
        found.size() == 1 ? "" : fmt::format(" and {} more", words::counted(found.size() - 1, "time", "times")),
        words::stepText(record, question.line(found.front())));
    return verdict;
}

/// The earliest line for each that is behind the one before: if there is any way, this is one.
Verdict judgeOrder(const sim::Record& record, const std::vector<LineMatch>& order)
{
    Verdict verdict;
    std::int32_t last = -1;
    for (std::size_t i = 0; i < order.size(); ++i) {
        const Question question{record, order[i]};
        const std::vector<std::int32_t> candidates = question.candidates();
        const std::vector<std::int32_t> found = fitting(question, candidates);
        const auto next = std::ranges::upper_bound(found, last);
        if (next != found.end()) {
            last = *next;
            verdict.found.push_back(last);
            continue;
        }
        const std::string wanted = words::linesText(order[i]);
        if (!found.empty()) {
            point(verdict, record, found.back());
            verdict.why = fmt::format("{} came at {}, before {}", wanted,
                                      momentText(timeOf(record, question.line(found.back()))),
                                      words::linesText(order[i - 1]));
            return verdict;
        }
        verdict.why = fmt::format("{} did not come", wanted);
        if (const std::string nearest = tellNearest(record, question, candidates, verdict); !nearest.empty())
            verdict.why += "; " + nearest;
        return verdict;
    }
    verdict.held = true;
    point(verdict, record, verdict.found.front());
    return verdict;
}

std::string momentOfTick(const sim::Record& record, std::int64_t tick)
{
    return momentText(static_cast<double>(tick) / record.scene->rate);
}

Verdict judgeValue(const sim::Record& record, const Expectation& expect, const sim::Probe& probe)
{
    Verdict verdict;
    verdict.held = probe.held && !probe.past;
    verdict.tick = probe.tick;
    if (verdict.held)
        return verdict;
    const double* number = probe.value ? std::get_if<double>(&*probe.value) : nullptr;
    const std::string is = number        ? words::figure(*number)
                           : probe.value ? words::literalText(*probe.value)
                                         : std::string();
    if (probe.past)
        verdict.why = "the run ended before, at " + momentOfTick(record, record.lastTick());
    else if (probe.tick < 0)
        verdict.why = expect.value + " is missing";
    else if (expect.ever)
        verdict.why = probe.value ? fmt::format("the nearest was {} at {}", is, momentOfTick(record, probe.tick))
                                  : expect.value + " is missing";
    else
        verdict.why = probe.value ? fmt::format("it was {} at {}", is, momentOfTick(record, probe.tick))
                                  : fmt::format("{} was missing at {}", expect.value, momentOfTick(record, probe.tick));
    return verdict;
}

Verdict judgeVisit(const sim::Record& record, const Expectation& expect, const sim::Probe& probe)
{
    Verdict verdict;
    verdict.held = probe.held && !probe.past;
    verdict.tick = probe.tick;
    if (verdict.held)
        return verdict;
    if (probe.past) {
        verdict.why = "the run ended before, at " + momentOfTick(record, record.lastTick());
        return verdict;
    }
    verdict.why = fmt::format("{} was not inside {}", expect.inside.front(), expect.inside.back());
    if (probe.otherTick >= 0 && probe.otherTick < probe.tick)
        verdict.why += fmt::format("; it left at {}", momentOfTick(record, probe.otherTick + 1));
    else if (probe.otherTick >= 0)
        verdict.why += fmt::format("; it came in at {}", momentOfTick(record, probe.otherTick));
    else
        verdict.why += ", nor at any other time";
    return verdict;
}

} // namespace

Judgement judge(const sim::Record& record)
{
    Judgement judgement;
    const scene::Take& take = record.take;
    for (std::size_t i = 0; i < take.expect.size(); ++i) {
        const Expectation& expect = take.expect[i];
        const sim::Probe probe = i < record.probes.size() ? record.probes[i] : sim::Probe{};
        switch (expect.kind()) {
        case Expectation::Kind::comes:
            judgement.verdicts.push_back(judgeComing(record, expect.line, expect.times.value_or(scene::Times{1, {}})));
            break;
        case Expectation::Kind::never:
            judgement.verdicts.push_back(judgeNever(record, *expect.never));
            break;
        case Expectation::Kind::order:
            judgement.verdicts.push_back(judgeOrder(record, expect.order));
            break;
        case Expectation::Kind::value:
            judgement.verdicts.push_back(judgeValue(record, expect, probe));
            break;
        case Expectation::Kind::inside:
            judgement.verdicts.push_back(judgeVisit(record, expect, probe));
            break;
        }
    }
    if (!record.stopReason.empty() && !take.stops)
        judgement.stop = "the run stopped: " + record.stopReason;
    else if (record.stopReason.empty() && take.stops)
        judgement.stop = "the run was meant to stop, and did not";
    return judgement;
}

std::vector<std::int32_t> linesThatMatch(const sim::Record& record, const LineMatch& match)
{
    const Question question{record, match};
    return fitting(question, question.candidates());
}

} // namespace snare::check
