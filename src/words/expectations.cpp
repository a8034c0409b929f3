// SPDX-License-Identifier: Apache-2.0
#include "words/expectations.h"

#include "words/text.h"
#include "words/values.h"

#include <fmt/format.h>

namespace snare::words {

using scene::Expectation;
using scene::LineMatch;

namespace {

std::string eventLineText(const LineMatch& lines)
{
    const scene::EventWord& word = scene::wordFor(*lines.event);
    const std::string where = lines.at.place.empty() ? "any piece" : lines.at.place;
    const std::string at = lines.shape.empty() ? where : fmt::format("{} of {}", lines.shape, where);
    std::string text;
    switch (word.family) {
    case scene::EventFamily::contact:
        text = fmt::format("{} {} {}", lines.by.empty() ? "anyone" : lines.by, word.verb, at);
        break;
    case scene::EventFamily::pointer:
        text = fmt::format("{} {} {}", lines.by.empty() ? "the pointer" : lines.by, word.verb, at);
        break;
    case scene::EventFamily::piece:
    case scene::EventFamily::scene:
        text = fmt::format(
            "{} {}", lines.at.place.empty() && *lines.event == scene::EventKind::start ? "the scene" : at, word.verb);
        break;
    default:
        text = fmt::format("{}{}", word.about, lines.at.place.empty() ? "" : " at " + at);
    }
    if (!lines.part.empty())
        text += fmt::format(" with its {}", lines.part);
    if (lines.cause)
        text += fmt::format(" because {}", scene::wordsOf<scene::Cause>[static_cast<std::size_t>(*lines.cause)].about);
    if (lines.manner)
        text += *lines.manner == scene::MannerWord::stop ? " and is stopped" : " without being stopped";
    if (lines.speed.min)
        text += " faster than " + numberText(*lines.speed.min, scene::Unit::metresPerSecond);
    if (lines.speed.max)
        text += " slower than " + numberText(*lines.speed.max, scene::Unit::metresPerSecond);
    return text;
}

} // namespace

std::string linesText(const LineMatch& lines)
{
    if (!lines.response.empty())
        return fmt::format("{} does {}{}", lines.snare.empty() ? "a snare" : lines.snare, lines.response,
                           lines.on.empty() ? "" : " on " + lines.on);
    if (lines.event)
        return eventLineText(lines);
    if (!lines.signal.empty())
        return fmt::format("signal {} is raised{}", lines.signal,
                           lines.with.empty() ? "" : " with " + valuesText(lines.with));
    if (!lines.phase.empty())
        return fmt::format("phase {} of {} begins", lines.phase, lines.on.empty() ? "the scene" : lines.on);
    const bool slips = lines.stage || lines.outcome == scene::Outcome::slipped;
    std::string text = lines.snare + (slips ? " slips" : " springs");
    if (lines.stage)
        text += fmt::format(" at {}", scene::wordOf(*lines.stage));
    if (!lines.self.empty())
        text += " at " + lines.self;
    if (!lines.visitor.empty())
        text += " with " + lines.visitor;
    return text;
}

std::string spanText(const LineMatch& lines)
{
    return lines.between ? fmt::format("between {} and {} s", figure(lines.between->from), figure(lines.between->to))
                         : std::string();
}

std::string timesText(const std::optional<scene::Times>& times)
{
    if (!times || (!times->min && !times->max))
        return {};
    const auto often = [](int count) { return count == 1 ? std::string("once") : fmt::format("{} times", count); };
    if (times->min == times->max)
        return *times->min == 0 ? "not at all" : often(*times->min);
    if (!times->max)
        return often(*times->min) + " at least";
    if (!times->min)
        return often(*times->max) + " at most";
    return fmt::format("{} to {} times", *times->min, *times->max);
}

namespace {

std::string withSpan(const LineMatch& lines)
{
    const std::string span = spanText(lines);
    return linesText(lines) + (span.empty() ? "" : " " + span);
}

std::string valueExpected(const Expectation& expectation)
{
    std::string text = expectation.always ? "always "
                       : expectation.ever ? "at some time "
                                          : fmt::format("at {} s ", figure(expectation.line.at.time.value_or(0)));
    text += fmt::format("{} {} {}", expectation.value,
                        scene::wordsOf<scene::Comparison>[static_cast<std::size_t>(expectation.is)].about,
                        expectation.to ? literalText(*expectation.to) : std::string("nothing"));
    if (expectation.within)
        text += fmt::format(", within {}", figure(*expectation.within));
    return text;
}

} // namespace

std::string expectationText(const Expectation& expectation)
{
    switch (expectation.kind()) {
    case Expectation::Kind::never:
        return "never: " + withSpan(*expectation.never);
    case Expectation::Kind::order: {
        std::vector<std::string> steps;
        for (const LineMatch& one : expectation.order)
            steps.push_back(withSpan(one));
        return "first " + joinedBy(steps, ", then ");
    }
    case Expectation::Kind::value:
        return valueExpected(expectation);
    case Expectation::Kind::inside:
        return fmt::format("at {} s {} is inside {}", figure(expectation.line.at.time.value_or(0)),
                           expectation.inside.front(), expectation.inside.back());
    case Expectation::Kind::comes:
        break;
    }
    const std::string times = timesText(expectation.times);
    return withSpan(expectation.line) + (times.empty() ? "" : ", " + times);
}

} // namespace snare::words
