// SPDX-License-Identifier: Apache-2.0
#include "check/vary.h"

#include "check/threads.h"
#include "sim/recorder.h"

#include <map>
#include <mutex>
#include <random>

namespace snare::check {

scene::Take variedTake(const scene::Take& take, int run, const VaryOptions& options)
{
    scene::Take varied = take;
    if (run == 0)
        return varied;
    std::mt19937_64 random{static_cast<std::uint64_t>(run) * 0x9e3779b97f4a7c15u};
    // Not a distribution of the library, whose numbers differ from one to the next.
    const auto off = [&] {
        const double unit = static_cast<double>(random() >> 11) * 0x1.0p-53;
        return (2 * unit - 1) * options.within;
    };
    const double end = scene::lengthOf(take);
    std::map<std::string, double> down; // when the keys and buttons went down
    constexpr double shortest = 0.001;  // s, of a press
    for (scene::Input& input : varied.inputs) {
        double t = std::clamp(input.t + off(), 0.0, std::max(input.t, end));
        if (input.kind() == "key" || input.kind() == "button") {
            const std::string name = input.button ? "button " + std::string(scene::wordOf(*input.button)) : input.key;
            if (input.down)
                down[name] = t;
            else if (const auto began = down.find(name); began != down.end())
                t = std::max(t, began->second + shortest);
        }
        input.t = t;
    }
    std::ranges::stable_sort(varied.inputs, {}, &scene::Input::t);
    if (options.seeds)
        varied.seed = static_cast<std::uint32_t>(random());
    return varied;
}

Varied vary(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const VaryOptions& options)
{
    Varied result;
    result.runs = options.runs;
    result.expectations.resize(take.expect.size());
    std::vector<int> against(take.expect.size(), -1); // the first run in which it did not hold
    std::map<std::string, HowOften> often;
    std::vector<std::string> order;
    std::mutex mutex;
    const auto work = [&](std::size_t number) {
        const int run = static_cast<int>(number);
        const scene::Take varied = variedTake(take, run, options);
        const sim::Record record = sim::rerun(scene, varied, {.seconds = {}, .lean = true, .cancelled = nullptr});
        const Judgement judgement = judge(record);
        std::vector<int> counts(record.scene->snares.size());
        for (const rules::Line& line : record.journal.lines)
            if (line.kind == rules::LineKind::snare && line.outcome == rules::Outcome::sprung)
                ++counts[static_cast<std::size_t>(line.snare)];
        const std::lock_guard lock{mutex};
        for (std::size_t i = 0; i < judgement.verdicts.size(); ++i) {
            result.expectations[i].held += judgement.verdicts[i].held ? 1 : 0;
            if (!judgement.verdicts[i].held && (against[i] < 0 || run < against[i]))
                against[i] = run;
        }
        if (order.empty())
            for (const scene::Snare& snare : record.scene->snares)
                order.push_back(snare.id);
        for (std::size_t i = 0; i < counts.size(); ++i) {
            const auto [found, isNew] = often.try_emplace(record.scene->snares[i].id);
            HowOften& one = found->second;
            one.snare = record.scene->snares[i].id;
            one.runs += counts[i] > 0 ? 1 : 0;
            one.least = isNew ? counts[i] : std::min(one.least, counts[i]);
            one.most = std::max(one.most, counts[i]);
        }
    };
    onThreads(static_cast<std::size_t>(options.runs), options.jobs, work);
    for (std::size_t i = 0; i < against.size(); ++i)
        if (against[i] >= 0)
            result.expectations[i].against = variedTake(take, against[i], options);
    for (const std::string& snare : order)
        result.snares.push_back(often[snare]);
    return result;
}

} // namespace snare::check
