// SPDX-License-Identifier: Apache-2.0
#include "app/model/take_edit.h"

#include "app/ui/text.h"
#include "rules/clock.h"

#include <algorithm>
#include <cmath>

namespace snare::app {

namespace {

double secondsOf(std::int64_t tick, int rate)
{
    return static_cast<double>(tick) / rate;
}

std::int64_t lastTickOf(const scene::Take& take, int rate)
{
    return rules::lastTick(scene::lengthOf(take), rate);
}

/// A key or button that goes down or up, as presses call it.
struct End {
    std::string name;
    bool down;
};

std::optional<End> endOf(const scene::Input& input)
{
    if (const auto* key = input.as<scene::KeyInput>())
        return End{key->key, key->down};
    if (const auto* button = input.as<scene::ButtonInput>())
        return End{pressName(button->button), button->down};
    return std::nullopt;
}

scene::Input inputOf(const std::string& name, double t, bool down)
{
    for (const auto& entry : scene::wordsOf<scene::Button>)
        if (name == pressName(entry.value))
            return {t, scene::ButtonInput{entry.value, down}};
    return {t, scene::KeyInput{name, down}};
}

} // namespace

std::string pressName(scene::Button button)
{
    return "button:" + std::string(scene::wordOf(button));
}

std::optional<std::size_t> findShot(const scene::Take& take, int rate, std::string_view dial, std::string_view call,
                                    std::int64_t tick)
{
    for (std::size_t i = take.inputs.size(); i-- > 0;) {
        const scene::Input& input = take.inputs[i];
        const auto* made = input.as<scene::CallInput>();
        const bool same = dial.empty() ? made && made->call == call : scene::nameOf<scene::DialInput>(input) == dial;
        if (same && rules::tickOfInput(input.t, rate) == tick)
            return i;
    }
    return std::nullopt;
}

scene::Take withShotAt(const scene::Take& take, int rate, std::size_t input, std::int64_t tick)
{
    scene::Take result = take;
    result.inputs[input].t = secondsOf(std::max<std::int64_t>(1, tick), rate);
    if (scene::lengthOf(result) < result.inputs[input].t)
        result.length = result.inputs[input].t;
    std::ranges::stable_sort(result.inputs, {}, &scene::Input::t);
    return result;
}

scene::Take withoutShot(const scene::Take& take, std::size_t input)
{
    scene::Take result = take;
    result.inputs.erase(result.inputs.begin() + static_cast<std::ptrdiff_t>(input));
    return result;
}

scene::Take withShot(const scene::Take& take, scene::Input input)
{
    scene::Take result = take;
    if (scene::lengthOf(result) < input.t)
        result.length = input.t;
    result.inputs.push_back(std::move(input));
    std::ranges::stable_sort(result.inputs, {}, &scene::Input::t);
    return result;
}

std::vector<std::size_t> placesOf(const scene::Take& take, std::string_view piece)
{
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < take.inputs.size(); ++i) {
        const scene::Input& input = take.inputs[i];
        const bool ofPointer = input.as<scene::PointerMove>() || input.as<scene::GlassMove>();
        if (piece.empty() ? ofPointer : scene::nameOf<scene::TrackPlace>(input) == piece)
            places.push_back(i);
    }
    std::ranges::stable_sort(places, {}, [&](std::size_t i) { return take.inputs[i].t; });
    return places;
}

scene::Take withPlaces(const scene::Take& take, const std::string& piece, std::vector<scene::Input> places)
{
    scene::Take result = take;
    std::erase_if(result.inputs,
                  [&](const scene::Input& input) { return scene::nameOf<scene::TrackPlace>(input) == piece; });
    for (scene::Input& place : places) {
        if (scene::lengthOf(result) < place.t)
            result.length = place.t;
        result.inputs.push_back(std::move(place));
    }
    std::ranges::stable_sort(result.inputs, {}, &scene::Input::t);
    return result;
}

QString placesText(const scene::Take& take, std::string_view piece)
{
    QStringList list;
    for (const std::size_t i : placesOf(take, piece)) {
        const scene::Input& input = take.inputs[i];
        const auto& place = *input.as<scene::TrackPlace>();
        // Rounded down: read again it is in the same tick.
        const double t = std::floor(input.t * 1e6 + 1e-3) / 1e6;
        QString text = QStringLiteral("%1: %2, %3").arg(figure(t), figure(place.at.x), figure(place.at.y));
        if (place.turn)
            text += QStringLiteral(", ") + figure(*place.turn);
        list << text;
    }
    return list.join(QStringLiteral("; "));
}

std::optional<std::vector<scene::Input>> placesIn(const QString& typed, const std::string& piece)
{
    std::vector<scene::Input> places;
    for (const QString& entry : typed.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        if (entry.trimmed().isEmpty())
            continue;
        const QStringList halves = entry.split(QLatin1Char(':'));
        const auto time = halves.size() == 2 ? numbersIn(halves[0], 1) : std::nullopt;
        if (!time || time->front() < 0 || time->front() > scene::longestTake)
            return std::nullopt;
        auto where = numbersIn(halves[1], 2);
        if (!where)
            where = numbersIn(halves[1], 3);
        if (!where)
            return std::nullopt;
        scene::TrackPlace place{piece, {(*where)[0], (*where)[1]}};
        if (where->size() == 3)
            place.turn = (*where)[2];
        places.push_back({time->front(), std::move(place)});
    }
    return places;
}

std::vector<Press> pressesOf(const scene::Take& take, int rate)
{
    std::vector<std::pair<std::int64_t, const scene::Input*>> inputs;
    for (const scene::Input& input : take.inputs)
        inputs.emplace_back(rules::tickOfInput(input.t, rate), &input);
    std::ranges::stable_sort(inputs, {}, [](const auto& entry) { return entry.first; });
    std::vector<Press> presses;
    std::vector<std::size_t> open;
    for (const auto& [tick, input] : inputs) {
        const auto end = endOf(*input);
        if (!end)
            continue;
        const auto held = std::ranges::find_if(open, [&](std::size_t i) { return presses[i].key == end->name; });
        if (end->down && held == open.end()) {
            open.push_back(presses.size());
            presses.push_back({end->name, tick, std::max(tick, lastTickOf(take, rate))});
        } else if (!end->down && held != open.end()) {
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
            const auto end = endOf(input);
            return end && end->name == out->key && end->down == down && rules::tickOfInput(input.t, rate) == tick;
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
        result.inputs.push_back(inputOf(in->key, secondsOf(from, rate), true));
        result.inputs.push_back(inputOf(in->key, secondsOf(to, rate), false));
        if (scene::lengthOf(result) < secondsOf(to, rate))
            result.length = secondsOf(to, rate);
        std::ranges::stable_sort(result.inputs, {}, &scene::Input::t);
    }
    return result;
}

} // namespace snare::app
