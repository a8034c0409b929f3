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
    std::string out;          ///< a file; else standard output
    bool svg = false;         ///< the flow laid out by Graphviz, as a drawing
    std::string take;         ///< of what shows a run; empty: 10 s without inputs
    std::optional<double> at; ///< s: the moment of a drawing; else the start
};

/// Writes what listens to what as a graph in the DOT language, or drawn.
int exportScene(const ExportWords& words);

struct TestWords {
    std::vector<std::string> paths; ///< takes, and folders that hold some
    std::string junit;              ///< a file; empty: none
    unsigned jobs = 0;              ///< threads; 0: one a core
};

/// Runs takes and judges them; tells what failed on standard error. 1 if a take failed, 2 if one
/// cannot be read.
int testTakes(const TestWords& words);

struct CoverWords {
    std::string scene;
    std::vector<std::string> takes;
    bool json = false;
    std::optional<double> under; ///< percent of the snares that must have sprung
};

/// Tells what the takes never used of the scene. 1 if less of the snares sprang than asked for.
int coverScene(const CoverWords& words);

struct DiffWords {
    std::string scene;
    std::string other;
    std::vector<std::string> takes;
};

/// Tells what differs between two scenes, in words and in what happens. 1 if events or outcomes of
/// snares do.
int diffScenes(const DiffWords& words);

struct VaryWords {
    std::string scene;
    std::string take;
    int runs = 500;
    double within = 0.05; ///< s
    bool sameSeed = false;
    unsigned jobs = 0;
    std::string keep; ///< a folder for takes in which an expectation did not hold; empty: none
};

/// Tells how often expectations hold with inputs that are a little off. 1 if one did not hold
/// always.
int varyTake(const VaryWords& words);

struct ScoutWords {
    std::string scene;
    std::vector<std::string> takes;
    int plays = 2000;
    double seconds = 60; ///< no play is longer
    std::uint32_t seed = 1;
    unsigned jobs = 0;
    std::string keep; ///< a folder for takes that show what was found; empty: none
    bool json = false;
};

/// Plays a scene by chance and tells what could be reached. 1 if a run stopped, or what takes say
/// must never or always be was broken.
int scoutScene(const ScoutWords& words);

struct MergeWords {
    std::string base;
    std::string ours; ///< gets the result
    std::string theirs;
    std::string out;  ///< gets it instead
    std::string name; ///< of the file in the repository, for messages
};

/// Makes three versions of a file into one. 1 if both sides changed the same thing, or the result
/// cannot be read.
int mergeFiles(const MergeWords& words);

struct DescribeWords {
    std::string scene;
    std::string out; ///< a file; else standard output
};

/// Tells a scene in sentences.
int describeScene(const DescribeWords& words);

struct BenchWords {
    std::string name = "rerun";
    std::string scene; ///< of the re-run; else the demo
    std::string take;
};

/// The names that `measure` knows.
std::vector<std::string> benchNames();

/// Carries out one benchmark and prints its figures: ratios of what was measured in one run. Some
/// are programs of their own, which take the place of this one.
int measure(const BenchWords& words);

/// Measures movement; prints the figures.
int measureMotion();

/// Measures how many things at once a tick bears; prints the figures. 1 if the cost of each grows
/// with their number.
int measureStorms();

/// Measures how long a large scene is looked at for findings; prints the figures.
int measureFindings();

/// Measures what going on from a checkpoint saves; prints the figures.
int measureResume();

/// Measures how fast scouting plays; prints the figures.
int measureScout();

struct ImportWords {
    std::string format = "svg";
    std::vector<std::string> files;
    std::string into; ///< a scene or take to which it is added; empty: a new one
    std::string out;  ///< a file; else standard output
    double metres = 1;
    double tolerance = 0.005; ///< m
    bool centred = false;
    std::string scene;  ///< of csv: the scene that the take is for; empty: as the take says
    std::string piece;  ///< of csv: whose places they are if no column says; empty: the name of the file
    double seconds = 1; ///< of csv: of a unit of time
};
/// Brings drawings into a scene, or tracks into a take.
int importFiles(const ImportWords& words);

struct ReferenceWords {
    std::string page;
    std::string out;
    std::string check;
};
int writeReference(const ReferenceWords& words);

/// Writes the JSON Schema of `scene` or `take` files to standard output.
int writeSchema(const std::string& document);

} // namespace snare::cli
