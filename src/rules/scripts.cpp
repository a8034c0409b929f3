// SPDX-License-Identifier: Apache-2.0
/// The host of scripts: their tables are the paths of the rules.
#include "rules/evaluator.h"

#include <fmt/format.h>

namespace snare::rules {

namespace {

script::Host hostFor(const Surroundings& around)
{
    script::Host host;
    host.get = [&around](std::string_view table, std::string_view name) {
        return answerAt(fmt::format("{}.{}", table, name), around);
    };
    host.set = [](std::string_view, std::string_view, const scene::Scalar&) -> std::optional<std::string> {
        return "an expression cannot assign";
    };
    host.random = [&around] { return around.evaluator.random.next(); };
    host.note = [](const std::string&) {};
    return host;
}

/// Tells what went wrong; a budget that was used up stops the run.
void tellFault(const script::Result& result, const Surroundings& around, std::string* fault)
{
    if (!result.fault)
        return;
    const std::string text = fmt::format("script, line {}: {}", result.fault->line, result.fault->text);
    if (result.fault->overran && around.evaluator.overrun.line == 0)
        around.evaluator.overrun = {result.fault->line, result.fault->text};
    if (fault)
        *fault = text;
}

} // namespace

std::optional<scene::Answer> runScript(const std::string& code, const Surroundings& around, std::string* fault)
{
    const script::Host host = hostFor(around);
    script::Result result = around.evaluator.scripts.evaluate(code, host);
    tellFault(result, around, fault);
    return std::move(result.value);
}

void runScript(const std::string& code, const Surroundings& around, const Assign& set,
               const std::function<void(std::string_view name, scene::Scalar value)>& setWith,
               const std::function<void(std::string)>& note, std::string* fault)
{
    script::Host host = hostFor(around);
    host.note = note;
    host.set = [&](std::string_view table, std::string_view name, scene::Scalar value) -> std::optional<std::string> {
        if (table == "with") {
            setWith(name, std::move(value));
            return std::nullopt;
        }
        if (table == "scene")
            return set(theScene, name, std::move(value));
        const PieceIndex owner = table == "self" ? around.self : table == "visitor" ? around.visitor : nobody;
        if (owner == nobody)
            return fmt::format("{} cannot be assigned to", table);
        return set(owner, name, std::move(value));
    };
    tellFault(around.evaluator.scripts.run(code, host), around, fault);
}

} // namespace snare::rules
