// SPDX-License-Identifier: Apache-2.0
#include "app/take_edit.h"

#include "rules/clock.h"

#include <algorithm>

namespace snare::app {

namespace {

double secondsOf(std::int64_t tick, int rate)
{
    return static_cast<double>(tick) / rate;
}

std::int64_t lastTickOf(const scene::Take& take, int rate)
{
    return rules::lastTick(take.length.value_or(10.0), rate);
}

} // namespace

std::vector<Press> pressesOf(const scene::Take& take, int rate)
{
    std::vector<std::pair<std::int64_t, const scene::Input*>> inputs;
    for (const scene::Input& input : take.inputs)
        inputs.emplace_back(rules::tickOfInput(input.t, rate), &input);
    std::ranges::stable_sort(inputs, {}, [](const auto& entry) { return entry.first; });
    std::vector<Press> presses;
    std::vector<std::size_t> open;
    for (const auto& [tick, input] : inputs) {
        const auto held = std::ranges::find_if(open, [&](std::size_t i) { return presses[i].key == input->key; });
        if (input->down && held == open.end()) {
            open.push_back(presses.size());
            presses.push_back({input->key, tick, std::max(tick, lastTickOf(take, rate))});
        } else if (!input->down && held != open.end()) {
            presses[*held].to = tick;
            open.erase(held);
        }
    }
    return presses;
}

scene::Take withPress(const scene::Take& take, int rate, const Press* out, const Press* in)
{
    scene::Take result = take;
    if (out) {
        const auto isEnd = [&](const scene::Input& input, std::int64_t tick, bool down) {
            return input.key == out->key && input.down == down && rules::tickOfInput(input.t, rate) == tick;
        };
        const auto down = std::ranges::find_if(
            result.inputs, [&](const scene::Input& input) { return isEnd(input, out->from, true); });
        if (down != result.inputs.end())
            result.inputs.erase(down);
        const auto up = std::ranges::find_if(result.inputs,
                                             [&](const scene::Input& input) { return isEnd(input, out->to, false); });
        if (up != result.inputs.end())
            result.inputs.erase(up);
    }
    if (in) {
        const std::int64_t from = std::max<std::int64_t>(1, in->from);
        const std::int64_t to = std::max(from + 1, in->to);
        result.inputs.push_back({secondsOf(from, rate), in->key, true});
        result.inputs.push_back({secondsOf(to, rate), in->key, false});
        if (result.length.value_or(10.0) < secondsOf(to, rate))
            result.length = secondsOf(to, rate);
        std::ranges::stable_sort(result.inputs, {}, &scene::Input::t);
    }
    return result;
}

} // namespace snare::app
