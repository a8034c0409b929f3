// SPDX-License-Identifier: Apache-2.0
#include "io/reader.h"

namespace snare::io {

bool Reader::read(const Node& node, scene::Times& out)
{
    if (node.number()) {
        int count = 0;
        if (!read(node, count))
            return false;
        if (count < 0)
            fail(node, "is below 0");
        out = {count, count};
        return count >= 0;
    }
    if (!readStruct(node, out, {}))
        return false;
    const bool fits = !out.min || !out.max || *out.min <= *out.max;
    if (!fits)
        fail(node, "min is above max");
    return fits;
}

bool Reader::read(const Node& node, scene::LineMatch& out)
{
    const std::size_t before = problems_.size();
    readStruct(node, out, {});
    if (problems_.size() == before)
        checkLines(node, out, {});
    return problems_.size() == before;
}

bool Reader::read(const Node& node, scene::Expectation& out)
{
    const std::size_t before = problems_.size();
    std::vector<std::string_view> own;
    scene::forEachField<scene::Expectation>([&](const auto& field) { own.push_back(field.key); });
    if (!readStruct(node, out.line, own))
        return false;
    std::vector<std::string_view> all; // what is unknown has been told
    for (const auto& [key, value] : *node.members())
        all.push_back(key);
    if (!readStruct(node, out, all))
        return false;
    checkExpectation(node, out);
    if (out.never && out.line.between && !out.never->between)
        out.never->between = std::exchange(out.line.between, std::nullopt);
    return problems_.size() == before;
}

void Reader::checkLines(const Node& node, const scene::LineMatch& line, std::vector<std::string_view> besides)
{
    struct Kind {
        std::string_view key;
        std::vector<std::string_view> fields;
    };
    static const std::vector<Kind> kinds{
        {"response", {"snare", "on"}},
        {"event", {"at", "by", "shape", "part", "cause", "manner", "speed"}},
        {"signal", {"with"}},
        {"phase", {"on"}},
        {"snare", {"outcome", "stage", "self", "visitor"}},
    };
    const auto has = [&](std::string_view key) { return node.find(key) != nullptr; };
    std::vector<std::string_view> told;
    for (const Kind& kind : kinds)
        if (has(kind.key) && !(kind.key == "snare" && has("response")))
            told.push_back(kind.key);
    if (told.size() != 1)
        return fail(node, "wants exactly one of event, snare, signal, response, phase");
    const Kind& kind = *std::ranges::find(kinds, told.front(), &Kind::key);
    besides.insert(besides.end(), {kind.key, "between"});
    besides.insert(besides.end(), kind.fields.begin(), kind.fields.end());
    onlyThese(node, besides, fmt::format("does not belong to a {}", kind.key));
    const Node& name = *node.find(kind.key);
    if (name.text() && name.text()->empty())
        fail(name, "wants a name, not an empty text");
    if (line.at.time)
        fail(*node.find("at"), "wants the name of a piece");
    if (line.stage && line.outcome == scene::Outcome::sprung)
        fail(*node.find("stage"), "what springs slips at no stage");
}

void Reader::checkExpectation(const Node& node, const scene::Expectation& expect)
{
    const auto has = [&](std::string_view key) { return node.find(key) != nullptr; };
    const int others = has("never") + has("order") + has("value") + has("inside");
    if (others == 0 && (has("event") || has("snare") || has("signal") || has("response") || has("phase")))
        return checkLines(node, expect.line, {"times", "note"});
    if (others != 1)
        return fail(node, "wants exactly one of event, snare, signal, response, phase, never, order, value, inside");
    if (has("never"))
        return onlyThese(node, {"never", "between", "note"}, "belongs to no expectation of what never comes");
    if (has("order")) {
        if (expect.order.size() < 2)
            fail(*node.find("order"), "an order is one of two at least");
        return onlyThese(node, {"order", "note"}, "belongs to no order");
    }
    if (has("at") && !expect.line.at.time)
        fail(*node.find("at"), "wants a moment in seconds");
    if (has("inside")) {
        if (expect.inside.size() != 2)
            fail(*node.find("inside"), "wants the visitor and where it is inside");
        if (!has("at"))
            fail(node, "\"at\" is missing: when");
        return onlyThese(node, {"inside", "at", "note"}, "belongs to no visit");
    }
    if (has("at") + expect.always + expect.ever != 1)
        fail(node, "wants exactly one of at, always, ever");
    if (expect.value.find('.') == std::string::npos)
        fail(*node.find("value"), "wants a path such as scene.parcels");
    if (!has("to"))
        fail(node, "\"to\" is missing: what the value is compared with");
    if (expect.within && expect.to && !std::holds_alternative<double>(*expect.to))
        fail(*node.find("within"), "only numbers can be off by something");
    onlyThese(node, {"value", "at", "always", "ever", "is", "to", "within", "note"}, "belongs to no value");
}

void Reader::onlyThese(const Node& node, const std::vector<std::string_view>& keys, std::string_view why)
{
    for (const auto& [key, value] : *node.members())
        if (std::ranges::find(keys, key) == keys.end()) {
            const Step step{*this, key};
            fail(value.keyOffset, fmt::format("\"{}\" {}", key, why));
        }
}

} // namespace snare::io
