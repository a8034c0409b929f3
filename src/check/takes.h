// SPDX-License-Identifier: Apache-2.0
/// Takes of a folder and what became of them: run, judged, told.
#pragma once

#include "check/expectations.h"

#include <atomic>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace snare::check {

/// A take that was run and judged.
struct TakeResult {
    std::filesystem::path file;
    std::string problem; ///< why it could not be run, or empty
    scene::Take take;
    std::vector<int> lines; ///< of the expectations, in the file, from 1
    Judgement judgement;
    double seconds = 0; ///< that the run and the judging took

    bool passed() const { return problem.empty() && judgement.passed(); }
};

/// The takes that lie in a folder itself, by name.
std::vector<std::filesystem::path> takesBeside(const std::filesystem::path& folder);

/// The takes that the paths mean: files themselves, of folders all that lie in them, however deep,
/// by name. Each once.
std::vector<std::filesystem::path> takesIn(const std::vector<std::filesystem::path>& paths);

/// Reads, runs and judges takes with `jobs` threads (0: one a core), each scene read once. `done`
/// is called for each as it is ready, one at a time, in any order; the results stand in the order
/// of the files. With `cancelled` set on the way the rest is left out.
std::vector<TakeResult> runTakes(const std::vector<std::filesystem::path>& files, unsigned jobs,
                                 const std::function<void(const TakeResult&)>& done = {},
                                 const std::atomic<bool>* cancelled = nullptr);

/// What a person reads of a take that failed: a line for each expectation that did not hold,
/// `FILE:LINE: …`.
std::vector<std::string> failuresOf(const TakeResult& result);

/// The results as JUnit XML, as continuous integration servers read it: a suite for each take, a
/// case for each expectation.
std::string junitOf(const std::vector<TakeResult>& results);

} // namespace snare::check
