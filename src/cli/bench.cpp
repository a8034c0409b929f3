// SPDX-License-Identifier: Apache-2.0
#include "cli/verbs.h"

#include "io/document.h"
#include "io/log.h"
#include "io/shipped.h"
#include "sim/recorder.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <filesystem>
#include <iostream>
#include <unistd.h>

namespace snare::cli {

namespace {

/// Starts another program in place of this one.
int measureElsewhere(std::string_view program, std::string_view name)
{
    std::error_code error;
    const std::filesystem::path here = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    for (const std::filesystem::path& path : {here / program, here / "app" / program})
        if (std::filesystem::exists(path, error))
            ::execl(path.c_str(), path.c_str(), std::string(name).c_str(), static_cast<char*>(nullptr));
    std::cerr << program << " is not built\n";
    return badInput;
}

/// How many times faster than real time a take re-runs.
int measureRerun(const BenchWords& words)
{
    const auto given = [](const std::string& file, std::string_view shipped) {
        return file.empty() ? io::shippedFile(shipped) : std::filesystem::path{file};
    };
    const auto scene = io::loadScene(given(words.scene, "demo/weigh-in.snare.json"));
    const auto take = io::loadTake(given(words.take, "demo/weigh-in.take.json"));
    if (!scene || !take) {
        const io::Problem& problem = scene ? take.error().front() : scene.error().front();
        std::cerr << problem.message() << '\n';
        return badInput;
    }
    const auto shared = std::make_shared<const scene::Scene>(*scene);
    using Clock = std::chrono::steady_clock;
    double best = 1e300;
    double simulated = 0;
    std::string log;
    bool same = true;
    for (int i = 0; i < 9; ++i) {
        const auto start = Clock::now();
        const sim::Record record = sim::rerun(shared, *take);
        best = std::min(best, std::chrono::duration<double>(Clock::now() - start).count());
        simulated = record.seconds();
        const std::string text = io::logText(record);
        same = same && (log.empty() || log == text);
        log = text;
    }
    fmt::print(
        "rerun: {:.1f} s of play in {:.3f} ms: {:.0f} times faster than real time; {} log bytes, {} between 9 runs\n",
        simulated, best * 1e3, simulated / best, log.size(), same ? "identical" : "DIFFERENT");
    return same ? fine : checkFailed;
}

struct Benchmark {
    std::string_view name;
    int (*here)(const BenchWords&);
    std::string_view elsewhere = {}; ///< the program that does it, if this one does not
};

constexpr std::string_view withBoost = "snare-bench";        // and an allocator that counts
constexpr std::string_view withWindow = "fresh-snare-bench"; // which needs a display library

constexpr std::array benchmarks{
    Benchmark{"rerun", measureRerun},
    Benchmark{"resume", [](const BenchWords&) { return measureResume(); }},
    Benchmark{"scout", [](const BenchWords&) { return measureScout(); }},
    Benchmark{"motion", [](const BenchWords&) { return measureMotion(); }},
    Benchmark{"storms", [](const BenchWords&) { return measureStorms(); }},
    Benchmark{"findings", [](const BenchWords&) { return measureFindings(); }},
    Benchmark{"detect", nullptr, withBoost},
    Benchmark{"rules", nullptr, withBoost},
    Benchmark{"paint", nullptr, withWindow},
    Benchmark{"edit", nullptr, withWindow},
    Benchmark{"scrub", nullptr, withWindow},
    Benchmark{"block", nullptr, withWindow},
    Benchmark{"flow", nullptr, withWindow},
};

} // namespace

std::vector<std::string> benchNames()
{
    std::vector<std::string> names;
    names.reserve(benchmarks.size());
    for (const Benchmark& one : benchmarks)
        names.emplace_back(one.name);
    return names;
}

int measure(const BenchWords& words)
{
    const auto found = std::ranges::find(benchmarks, std::string_view{words.name}, &Benchmark::name);
    if (found == benchmarks.end()) {
        std::cerr << "there is no benchmark " << words.name << '\n';
        return badInput;
    }
    return found->here ? found->here(words) : measureElsewhere(found->elsewhere, found->name);
}

} // namespace snare::cli
