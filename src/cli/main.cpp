// SPDX-License-Identifier: Apache-2.0
/// `snare`: scenes on the command line, without a display.
#include "cli/verbs.h"

#include <CLI/CLI.hpp>

#include <iostream>

int main(int argc, char** argv)
{
    using namespace snare::cli;
    CLI::App app{"Fresh Snare: resolves what happens when things meet. Runs scenes and takes without a display."};
    app.require_subcommand(1);
    app.set_version_flag("--version", "snare " SNARE_VERSION);

    RunWords run;
    CLI::App* runVerb = app.add_subcommand("run", "Runs a scene and writes its log as JSON Lines");
    runVerb->add_option("scene", run.scene, "the scene, NAME.snare.json")->required();
    runVerb->add_option("--take", run.take, "the inputs, NAME.take.json");
    runVerb->add_option("--seconds", run.seconds, "how long; else the take's length, else 10")
        ->check(CLI::Range(0.0, 1e6));
    runVerb->add_option("--seed", run.seed, "of the random values; else the take's, else the scene's");
    runVerb->add_option("--log", run.log, "file for the log; else standard output");
    runVerb->add_option("--final", run.final, "file for the final state");
    runVerb->add_flag("--stays", run.stays, "log stay and key-held too");
    runVerb->add_flag("--because", run.because, "number the lines, and say which led to which");

    CheckWords check;
    CLI::App* checkVerb = app.add_subcommand("check", "Tells what cannot work in scenes, before anything runs");
    checkVerb->add_option("scenes", check.scenes, "the scenes, NAME.snare.json")->required();
    checkVerb->add_flag("--json", check.json, "as JSON");
    checkVerb->add_flag("--strict", check.strict, "warnings fail too");

    ExportWords out;
    CLI::App* exportVerb = app.add_subcommand("export", "Writes a scene in a format of other programs");
    exportVerb->add_option("format", out.format, "dot: what listens to what, as a graph")
        ->required()
        ->check(CLI::IsMember({"dot"}));
    exportVerb->add_option("scene", out.scene, "the scene, NAME.snare.json")->required();
    exportVerb->add_option("--out", out.out, "file; else standard output");
    exportVerb->add_flag("--svg", out.svg, "laid out as a drawing, SVG; with Graphviz' dot");

    TestWords test;
    CLI::App* testVerb = app.add_subcommand("test", "Runs takes and judges what they expect");
    testVerb->add_option("paths", test.paths, "takes, NAME.take.json, and folders that hold some")->required();
    testVerb->add_option("--junit", test.junit, "file for the results as JUnit XML");
    testVerb->add_option("--jobs", test.jobs, "how many at once; else one a core")->check(CLI::Range(1, 256));

    CoverWords cover;
    CLI::App* coverVerb = app.add_subcommand("cover", "Tells what takes never used of a scene");
    coverVerb->add_option("scene", cover.scene, "the scene, NAME.snare.json")->required();
    coverVerb->add_option("--take", cover.takes, "the takes, NAME.take.json; else 10 s without inputs");
    coverVerb->add_flag("--json", cover.json, "everything, with how often it was used, as JSON");
    coverVerb->add_option("--under", cover.under, "fail if less than this many percent of the snares sprang")
        ->check(CLI::Range(0.0, 100.0));

    DiffWords diff;
    CLI::App* diffVerb = app.add_subcommand("diff", "Tells what differs between two scenes, in words and in events");
    diffVerb->add_option("scene", diff.scene, "the scene as it was, NAME.snare.json")->required();
    diffVerb->add_option("other", diff.other, "the scene as it is")->required();
    diffVerb->add_option("--take", diff.takes, "takes, NAME.take.json; else 10 s without inputs");

    VaryWords varied;
    CLI::App* varyVerb = app.add_subcommand("vary", "Runs a take many times, its inputs a little off");
    varyVerb->add_option("scene", varied.scene, "the scene, NAME.snare.json")->required();
    varyVerb->add_option("--take", varied.take, "the take, NAME.take.json")->required();
    varyVerb->add_option("--runs", varied.runs, "how many times")->check(CLI::Range(1, 1'000'000))->default_str("500");
    varyVerb->add_option("--within", varied.within, "how far inputs are off at most, s")
        ->check(CLI::Range(0.0, 10.0))
        ->default_str("0.05");
    varyVerb->add_flag("--same-seed", varied.sameSeed, "chance stays as it is");
    varyVerb->add_option("--jobs", varied.jobs, "how many at once; else one a core")->check(CLI::Range(1, 256));
    varyVerb->add_option("--keep", varied.keep, "folder for takes in which an expectation did not hold");

    MergeWords merged;
    CLI::App* mergeVerb = app.add_subcommand("merge", "Makes three versions of a scene, take or kit into one, for git");
    mergeVerb->add_option("base", merged.base, "the version that both began with")->required();
    mergeVerb->add_option("ours", merged.ours, "our version; it gets the result")->required();
    mergeVerb->add_option("theirs", merged.theirs, "their version")->required();
    mergeVerb->add_option("--out", merged.out, "file for the result instead; - is standard output");
    mergeVerb->add_option("--name", merged.name, "what messages call the file");

    DescribeWords described;
    CLI::App* describeVerb = app.add_subcommand("describe", "Tells a scene in sentences, for people and version control");
    describeVerb->add_option("scene", described.scene, "the scene, NAME.snare.json")->required();
    describeVerb->add_option("--out", described.out, "file; else standard output");

    BenchWords bench;
    CLI::App* benchVerb = app.add_subcommand("bench", "Measures speed, as ratios of two things measured in one run");
    benchVerb
        ->add_option("name", bench.name,
                     "which benchmark: rerun, motion, storms, findings, detect, rules, paint, edit, scrub, block")
        ->default_str("rerun");
    benchVerb->add_option("--scene", bench.scene, "the scene to re-run; else the demo");
    benchVerb->add_option("--take", bench.take, "its take");

    std::string document = "scene";
    CLI::App* schemaVerb = app.add_subcommand("schema", "Writes the JSON Schema of a kind of file");
    schemaVerb->add_option("document", document, "scene, take or kit")->check(CLI::IsMember({"scene", "take", "kit"}));

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? fine : badInput;
    }
    try {
        if (runVerb->parsed())
            return runScene(run);
        if (checkVerb->parsed())
            return checkScenes(check);
        if (exportVerb->parsed())
            return exportScene(out);
        if (testVerb->parsed())
            return testTakes(test);
        if (coverVerb->parsed())
            return coverScene(cover);
        if (diffVerb->parsed())
            return diffScenes(diff);
        if (varyVerb->parsed())
            return varyTake(varied);
        if (mergeVerb->parsed())
            return mergeFiles(merged);
        if (describeVerb->parsed())
            return describeScene(described);
        if (benchVerb->parsed())
            return measure(bench);
        if (schemaVerb->parsed())
            return writeSchema(document);
    } catch (const std::exception& error) { // such as no memory left
        std::cerr << "snare: " << error.what() << '\n';
        return stopped;
    }
    return badInput;
}
