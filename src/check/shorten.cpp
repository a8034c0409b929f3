// SPDX-License-Identifier: Apache-2.0
#include "check/shorten.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <string>
#include <vector>

namespace snare::check {

namespace {

/// Inputs that stand or fall together, as numbers in the take.
using Group = std::vector<std::size_t>;

/// What an input presses or lets go, or empty.
std::string pressed(const scene::Input& input, bool& down)
{
    if (const auto* key = input.as<scene::KeyInput>()) {
        down = key->down;
        return key->key;
    }
    if (const auto* button = input.as<scene::ButtonInput>()) {
        down = button->down;
        return "button " + std::string(scene::wordOf(button->button));
    }
    return {};
}

std::vector<Group> groupsOf(const scene::Take& take)
{
    std::vector<Group> groups;
    std::vector<std::pair<std::string, std::size_t>> open; // what is down, and its group
    for (std::size_t i = 0; i < take.inputs.size(); ++i) {
        const scene::Input& input = take.inputs[i];
        bool down = false;
        const std::string name = pressed(input, down);
        const auto isOpen = [&](const auto& one) { return one.first == name; };
        const auto button =
            std::ranges::find_if(open, [](const auto& one) { return one.first.starts_with("button "); });
        if (name.empty()) {
            const bool isWay = button != open.end() && (input.as<scene::PointerMove>() || input.as<scene::GlassMove>());
            if (isWay)
                groups[button->second].push_back(i);
            else
                groups.push_back({i});
        } else if (down) {
            open.emplace_back(name, groups.size());
            groups.push_back({i});
        } else if (const auto began = std::ranges::find_if(open, isOpen); began != open.end()) {
            groups[began->second].push_back(i);
            open.erase(began);
        } else {
            groups.push_back({i});
        }
    }
    return groups;
}

/// The take with some of its groups, from `from` up to before `to`, left out.
scene::Take without(const scene::Take& take, const std::vector<Group>& groups, std::size_t from, std::size_t to)
{
    std::vector<bool> gone(take.inputs.size());
    for (std::size_t i = from; i < to; ++i)
        for (const std::size_t input : groups[i])
            gone[input] = true;
    scene::Take rest = take;
    rest.inputs.clear();
    for (std::size_t i = 0; i < take.inputs.size(); ++i)
        if (!gone[i])
            rest.inputs.push_back(take.inputs[i]);
    return rest;
}

/// Ends it soon after `shown`, s; what would come later is left out.
void endAfter(scene::Take& take, double shown)
{
    constexpr double rest = 0.5; // s, to see what comes of it
    endAt(take, std::ceil((shown + rest) * 10) / 10);
}

} // namespace

void endAt(scene::Take& take, double seconds)
{
    take.length = seconds;
    std::set<std::string> led; // that have a place after the end already
    std::ranges::stable_sort(take.inputs, {}, &scene::Input::t);
    std::erase_if(take.inputs, [&](const scene::Input& input) {
        const auto* place = input.as<scene::TrackPlace>();
        return input.t > seconds && !(place && led.insert(place->piece).second);
    });
}

Shortened shortened(scene::Take take, const Shows& shows, int mostRuns)
{
    int runs = 0;
    std::optional<double> when;
    const auto accept = [&](scene::Take&& shorter) {
        if (runs >= mostRuns)
            return false;
        ++runs;
        const auto shown = shows(shorter);
        if (!shown)
            return false;
        take = std::move(shorter);
        when = shown;
        endAfter(take, *shown);
        return true;
    };
    if (!accept(scene::Take(take)))
        return {std::move(take), when};
    for (std::size_t parts = 2; runs < mostRuns;) {
        const std::vector<Group> groups = groupsOf(take);
        const std::size_t size = std::max<std::size_t>(1, groups.size() / parts);
        bool shorter = false;
        for (std::size_t from = 0; from < groups.size() && !shorter; from += size)
            shorter = accept(without(take, groups, from, std::min(groups.size(), from + size)));
        if (shorter)
            parts = std::max<std::size_t>(2, parts - 1);
        else if (size == 1)
            break;
        else
            parts *= 2;
    }
    constexpr double lead = 0.2; // s, before the first input
    if (!take.inputs.empty() && take.inputs.front().t > lead) {
        scene::Take earlier = take;
        const double by = take.inputs.front().t - lead;
        for (scene::Input& input : earlier.inputs)
            input.t = std::floor((input.t - by) * 1e4 + 1e-6) / 1e4;
        accept(std::move(earlier));
    }
    return {std::move(take), when};
}

} // namespace snare::check
