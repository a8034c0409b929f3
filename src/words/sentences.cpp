// SPDX-License-Identifier: Apache-2.0
#include "words/sentences.h"

#include "words/conditions.h"
#include "words/slots.h"
#include "words/text.h"

#include <fmt/format.h>

namespace snare::words {

using scene::EventFamily;
using scene::EventKind;

std::string visitorText(const scene::Snare& snare)
{
    return snare.filter.groups.empty() ? "anyone" : withArticle(joined(snare.filter.groups, "or"));
}

std::string whereText(const scene::Catch& catches)
{
    const std::string_view at = catches.at;
    if (at.empty() || at == "scene")
        return scene::familyOf(catches.event.items.front()) == EventFamily::pointer ? "the empty ground" : "the scene";
    std::string where{at};
    if (at.starts_with("tag:"))
        where = fmt::format("any tagged {}", at.substr(4));
    else if (at.starts_with("group:"))
        where = fmt::format("any of group {}", at.substr(6));
    else if (at.starts_with("template:"))
        where = fmt::format("any of template {}", at.substr(9));
    else if (at.starts_with("part:"))
        where = fmt::format("the {} of any", at.substr(5));
    return catches.shape.empty() ? where : fmt::format("{} of {}", catches.shape, where);
}

std::string eventText(const scene::Catch& catches)
{
    std::vector<std::string> verbs;
    for (const EventKind kind : catches.event.items)
        verbs.emplace_back(scene::wordFor(kind).verb);
    return joinedBy(verbs, " or ");
}

std::string_view catchSentence(const scene::Catch& catches)
{
    switch (scene::familyOf(catches.event.items.front())) {
    case EventFamily::contact:
        return "{who} {event} {at}";
    case EventFamily::pointer:
        return catches.event.items.front() == EventKind::drop ? "{who} {event} {at}" : "the pointer {event} {at}";
    case EventFamily::key:
        return "{key} {event} at {at}";
    case EventFamily::timer:
        return "{source} {event} at {at}";
    case EventFamily::watch:
        return "{number} {event} past {level} at {at}";
    case EventFamily::call:
        return "the call {name} comes in at {at}";
    case EventFamily::signal:
        return "{signal} {event} at {at}";
    case EventFamily::phase:
        return "phase {phase} of {at} {event}";
    case EventFamily::value:
        return "{value} of {at} {event}";
    case EventFamily::scene:
    case EventFamily::piece:
        break;
    }
    return "{at} {event}";
}

namespace {

/// The sentence with its slots filled in by `fill(key)`.
template <class Fill> std::string filled(std::string_view sentence, Fill&& fill)
{
    std::string text;
    for (std::size_t at = 0; at < sentence.size();) {
        const std::size_t open = sentence.find('{', at);
        text += sentence.substr(at, open - at);
        if (open == std::string_view::npos)
            break;
        const std::size_t close = sentence.find('}', open);
        text += fill(sentence.substr(open + 1, close - open - 1));
        at = close + 1;
    }
    return text;
}

std::string keyText(const scene::Catch& catches)
{
    if (!catches.key.empty())
        return keyLabel(catches.key);
    return catches.source.empty() ? "any key" : catches.source;
}

} // namespace

std::vector<std::string_view> besidesSentence(const scene::Catch& catches)
{
    std::vector<std::string_view> keys;
    const std::string_view sentence = catchSentence(catches);
    for (const io::FieldView& field : io::fieldsOf(catches)) {
        const bool isOfSlot = field.key == "event" || field.key == "at" || field.key == "shape";
        const std::string_view slot = field.key == "watch" ? "number" : field.key;
        const bool isSaid = sentence.find(fmt::format("{{{}}}", slot)) != std::string_view::npos ||
                            // a set of keys, and a dial, stand in the slot of the key and of the
                            // number
                            (slot == "source" && (sentence.find("{key}") != std::string_view::npos ||
                                                  sentence.find("{number}") != std::string_view::npos));
        if (field.set && !isOfSlot && !isSaid && !conditionRow(field.key))
            keys.push_back(field.key);
    }
    return keys;
}

std::string catchText(const scene::Snare& snare)
{
    const scene::Catch& catches = snare.catches;
    const std::vector<io::FieldView> fields = io::fieldsOf(catches);
    std::string besides;
    for (const std::string_view key : besidesSentence(catches))
        besides += fmt::format(", {} {}", key, slotText(*std::ranges::find(fields, key, &io::FieldView::key)));
    return "When " + filled(catchSentence(catches), [&](std::string_view slot) -> std::string {
               if (slot == "who")
                   return visitorText(snare);
               if (slot == "event")
                   return eventText(catches);
               if (slot == "at")
                   return whereText(catches);
               if (slot == "key")
                   return keyText(catches);
               if (slot == "number")
                   return catches.source.empty() ? catches.watch.empty() ? "a number" : catches.watch : catches.source;
               const auto field = std::ranges::find(fields, slot, &io::FieldView::key);
               const std::string text = field == fields.end() ? std::string() : slotText(*field);
               return !text.empty() ? text : slot == "phase" ? "any" : "(nothing yet)";
           }) +
           besides;
}

std::string narrowingText(const scene::Snare& snare)
{
    std::vector<std::string> phrases;
    for (const Phrase& phrase : filterPhrases(snare))
        phrases.push_back(phrase.text);
    return phrases.empty() ? std::string() : "only " + joinedBy(phrases, ", ");
}

std::string responseText(const scene::Response& response)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(response);
    std::string text;
    std::string_view rest = scene::wordOfResponse(response.kind).sentence;
    for (bool first = true; !rest.empty(); first = false) {
        const std::size_t bar = rest.find('|');
        const std::string_view part = rest.substr(0, bar);
        rest = bar == std::string_view::npos ? std::string_view() : rest.substr(bar + 1);
        // A part that is not first shows only if one of its fields is given.
        bool shows = first;
        const std::string said = filled(part, [&](std::string_view slot) {
            const auto field = std::ranges::find(fields, slot, &io::FieldView::key);
            if (field == fields.end())
                return std::string();
            shows |= field->set || field->required;
            const std::string filling = slotText(*field);
            return filling.empty() && field->kind != io::SlotKind::flag ? std::string("…") : filling;
        });
        if (shows)
            text += said;
    }
    for (std::size_t i = 0; i < response.onlyIf.size(); ++i)
        text += (i == 0 ? " if " : " and ") + conditionText(response.onlyIf[i]);
    return trimmed(text);
}

} // namespace snare::words
