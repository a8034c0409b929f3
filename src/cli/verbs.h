// SPDX-License-Identifier: Apache-2.0
/// The verbs of `snare`. Each returns the exit code and writes messages to standard error.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace snare::cli {

enum ExitCode { fine = 0, checkFailed = 1, badInput = 2, stopped = 3 };

struct RunWords {
    std::string scene;
    std::string take;
    std::optional<double> seconds;
    std::optional<std::uint32_t> seed;
    std::string log;
    std::string final;
    bool stays = false;
    bool because = false;
};

/// Runs a scene and writes log and final state.
int runScene(const RunWords& words);

struct CheckWords {
    std::vector<std::string> scenes;
    bool json = false;
    bool strict = false; ///< warnings fail too
};

/// Writes the findings of scenes, a line each or as JSON. Accepted ones are told in JSON only.
int checkScenes(const CheckWords& words);

struct ExportWords {
    std::string format = "dot";
    std::string scene;
    std::string out; ///< a file; else standard output
};

/// Writes what listens to what as a graph in the DOT language.
int exportScene(const ExportWords& words);

struct TestWords {
    std::vector<std::string> paths; ///< takes, and folders that hold some
    std::string junit;              ///< a file; empty: none
    unsigned jobs = 0;              ///< threads; 0: one a core
};

/// Runs takes and judges them; tells what failed on standard error. 1 if a take failed, 2 if one cannot be read.
int testTakes(const TestWords& words);

struct DescribeWords {
    std::string scene;
    std::string out; ///< a file; else standard output
};

/// Tells a scene in sentences.
int describeScene(const DescribeWords& words);

struct BenchWords {
    std::string name = "rerun";
    std::string scene = SNARE_DEMO_FOLDER "/weigh-in.snare.json";
    std::string take = SNARE_DEMO_FOLDER "/weigh-in.take.json";
};

/// How many times faster than real time a take re-runs.
int measure(const BenchWords& words);

/// Measures movement; prints the figures.
int measureMotion();

/// Measures how many things at once a tick bears; prints the figures. 1 if the cost of each grows with their number.
int measureStorms();

/// Measures how long a large scene is looked at for findings; prints the figures.
int measureFindings();

/// Writes the JSON Schema of `scene` or `take` files to standard output.
int writeSchema(const std::string& document);

} // namespace snare::cli
