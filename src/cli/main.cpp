// SPDX-License-Identifier: Apache-2.0
/// `snare`: scenes on the command line, without a display.
#include "cli/verbs.h"
#include "scene/take.h"

#include <CLI/CLI.hpp>

#include <functional>
#include <iostream>
#include <memory>

namespace snare::cli {

namespace {

/// A verb, and what it does with the words it was given.
struct Verb {
    CLI::App* app;
    std::function<int()> act;
};

Verb addRun(CLI::App& app)
{
    const auto words = std::make_shared<RunWords>();
    CLI::App* verb = app.add_subcommand("run", "Runs a scene and writes its log as JSON Lines");
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--take", words->take, "the inputs, NAME.take.json");
    verb->add_option("--seconds", words->seconds, "how long; else the take's length, else 10")
        ->check(CLI::Range(0.0, 1e6));
    verb->add_option("--seed", words->seed, "of the random values; else the take's, else the scene's");
    verb->add_option("--log", words->log, "file for the log; else standard output");
    verb->add_option("--final", words->final, "file for the final state");
    verb->add_flag("--stays", words->stays, "log stay and key-held too");
    verb->add_flag("--because", words->because, "number the lines, and say which led to which");
    return {verb, [words] { return runScene(*words); }};
}

Verb addCheck(CLI::App& app)
{
    const auto words = std::make_shared<CheckWords>();
    CLI::App* verb = app.add_subcommand("check", "Tells what cannot work in scenes, before anything runs");
    verb->add_option("scenes", words->scenes, "the scenes, NAME.snare.json")->required();
    verb->add_flag("--json", words->json, "as JSON");
    verb->add_flag("--strict", words->strict, "warnings fail too");
    return {verb, [words] { return checkScenes(*words); }};
}

Verb addExport(CLI::App& app)
{
    const auto words = std::make_shared<ExportWords>();
    CLI::App* verb = app.add_subcommand("export", "Writes a scene in a format of other programs");
    verb->add_option("format", words->format,
                     "svg: a moment as a drawing; csv: the log as a table; trace: the run in the JSON trace event "
                     "format; scxml: the "
                     "phases as a statechart; dot: what listens to what, as a graph")
        ->required()
        ->check(CLI::IsMember({"svg", "csv", "trace", "scxml", "dot"}));
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--out", words->out, "file; else standard output");
    verb->add_option("--take", words->take,
                     "of svg, csv and trace: the take, NAME.take.json; else 10 s without inputs");
    verb->add_option("--at", words->at, "of svg: the moment, s; else the start")
        ->check(CLI::Range(0.0, scene::longestTake));
    verb->add_flag("--svg", words->svg, "of dot: laid out as a drawing, SVG; with Graphviz' dot");
    return {verb, [words] { return exportScene(*words); }};
}

Verb addImport(CLI::App& app)
{
    const auto words = std::make_shared<ImportWords>();
    CLI::App* verb = app.add_subcommand("import", "Brings what other programs made into a scene or a take");
    verb->add_option("format", words->format,
                     "svg: the shapes of a drawing become pieces; csv: tracks of pieces become a take")
        ->required()
        ->check(CLI::IsMember({"svg", "csv"}));
    verb->add_option("files", words->files, "the drawings or tables")->required();
    verb->add_option("--into", words->into, "the scene or take to which they are added; else a new one");
    verb->add_option("--out", words->out, "file for the scene or take; else standard output");
    verb->add_option("--metres", words->metres, "of a unit of the drawing or table")->check(CLI::Range(1e-6, 1e6));
    verb->add_option("--tolerance", words->tolerance, "how far curves may be off, m")->check(CLI::Range(1e-5, 1e3));
    verb->add_flag("--centred", words->centred, "the middle of each drawing is at 0, 0");
    verb->add_option("--scene", words->scene, "of csv: the scene that the take is for");
    verb->add_option("--piece", words->piece,
                     "of csv: whose places they are if no column says; else the name of the file");
    verb->add_option("--seconds", words->seconds, "of csv: of a unit of time")->check(CLI::Range(1e-9, 1e6));
    return {verb, [words] { return importFiles(*words); }};
}

Verb addTest(CLI::App& app)
{
    const auto words = std::make_shared<TestWords>();
    CLI::App* verb = app.add_subcommand("test", "Runs takes and judges what they expect");
    verb->add_option("paths", words->paths, "takes, NAME.take.json, and folders that hold some")->required();
    verb->add_option("--junit", words->junit, "file for the results as JUnit XML");
    verb->add_option("--jobs", words->jobs, "how many at once; else one a core")->check(CLI::Range(1, 256));
    return {verb, [words] { return testTakes(*words); }};
}

Verb addCover(CLI::App& app)
{
    const auto words = std::make_shared<CoverWords>();
    CLI::App* verb = app.add_subcommand("cover", "Tells what takes never used of a scene");
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--take", words->takes, "the takes, NAME.take.json; else 10 s without inputs");
    verb->add_flag("--json", words->json, "everything, with how often it was used, as JSON");
    verb->add_option("--under", words->under, "fail if less than this many percent of the snares sprang")
        ->check(CLI::Range(0.0, 100.0));
    return {verb, [words] { return coverScene(*words); }};
}

Verb addDiff(CLI::App& app)
{
    const auto words = std::make_shared<DiffWords>();
    CLI::App* verb = app.add_subcommand("diff", "Tells what differs between two scenes, in words and in events");
    verb->add_option("scene", words->scene, "the scene as it was, NAME.snare.json")->required();
    verb->add_option("other", words->other, "the scene as it is")->required();
    verb->add_option("--take", words->takes, "takes, NAME.take.json; else 10 s without inputs");
    return {verb, [words] { return diffScenes(*words); }};
}

Verb addVary(CLI::App& app)
{
    const auto words = std::make_shared<VaryWords>();
    CLI::App* verb = app.add_subcommand("vary", "Runs a take many times, its inputs a little off");
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--take", words->take, "the take, NAME.take.json")->required();
    verb->add_option("--runs", words->runs, "how many times")->check(CLI::Range(1, 1'000'000))->default_str("500");
    verb->add_option("--within", words->within, "how far inputs are off at most, s")
        ->check(CLI::Range(0.0, 10.0))
        ->default_str("0.05");
    verb->add_flag("--same-seed", words->sameSeed, "chance stays as it is");
    verb->add_option("--jobs", words->jobs, "how many at once; else one a core")->check(CLI::Range(1, 256));
    verb->add_option("--keep", words->keep, "folder for takes in which an expectation did not hold");
    return {verb, [words] { return varyTake(*words); }};
}

Verb addScout(CLI::App& app)
{
    const auto words = std::make_shared<ScoutWords>();
    CLI::App* verb = app.add_subcommand("scout", "Plays a scene by chance, many times: what can be reached, what breaks");
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--take", words->takes, "takes to begin within; what they expect never or always must hold");
    verb->add_option("--plays", words->plays, "how many")->check(CLI::Range(1, 10'000'000))->default_str("2000");
    verb->add_option("--seconds", words->seconds, "how long a play is at most")
        ->check(CLI::Range(1.0, 3600.0))
        ->default_str("60");
    verb->add_option("--seed", words->seed, "of what the hand does")->default_str("1");
    verb->add_option("--jobs", words->jobs, "how many at once; else one a core")->check(CLI::Range(1, 256));
    verb->add_option("--keep", words->keep, "folder for takes that show what was found");
    verb->add_flag("--json", words->json, "what was found, as JSON");
    return {verb, [words] { return scoutScene(*words); }};
}

Verb addMerge(CLI::App& app)
{
    const auto words = std::make_shared<MergeWords>();
    CLI::App* verb = app.add_subcommand("merge", "Makes three versions of a scene, take or kit into one, for git");
    verb->add_option("base", words->base, "the version that both began with")->required();
    verb->add_option("ours", words->ours, "our version; it gets the result")->required();
    verb->add_option("theirs", words->theirs, "their version")->required();
    verb->add_option("--out", words->out, "file for the result instead; - is standard output");
    verb->add_option("--name", words->name, "what messages call the file");
    return {verb, [words] { return mergeFiles(*words); }};
}

Verb addDescribe(CLI::App& app)
{
    const auto words = std::make_shared<DescribeWords>();
    CLI::App* verb = app.add_subcommand("describe", "Tells a scene in sentences, for people and version control");
    verb->add_option("scene", words->scene, "the scene, NAME.snare.json")->required();
    verb->add_option("--out", words->out, "file; else standard output");
    return {verb, [words] { return describeScene(*words); }};
}

Verb addBench(CLI::App& app)
{
    const auto words = std::make_shared<BenchWords>();
    CLI::App* verb = app.add_subcommand("bench", "Measures speed, as ratios of two things measured in one run");
    verb->add_option("name", words->name, "which benchmark")
        ->check(CLI::IsMember(benchNames()))
        ->default_str("rerun");
    verb->add_option("--scene", words->scene, "the scene to re-run; else the demo");
    verb->add_option("--take", words->take, "its take");
    return {verb, [words] { return measure(*words); }};
}

Verb addSchema(CLI::App& app)
{
    const auto words = std::make_shared<std::string>("scene");
    CLI::App* verb = app.add_subcommand("schema", "Writes the JSON Schema of a kind of file");
    verb->add_option("document", *words, "scene, take or kit")->check(CLI::IsMember({"scene", "take", "kit"}));
    return {verb, [words] { return writeSchema(*words); }};
}

Verb addReference(CLI::App& app)
{
    const auto words = std::make_shared<ReferenceWords>();
    CLI::App* verb =
        app.add_subcommand("reference", "Writes the reference: events, filters, gates, responses, values, findings");
    verb->add_option("page", words->page, "one page on standard output; else their names");
    verb->add_option("--out", words->out, "folder for all pages, Markdown");
    verb->add_option("--check", words->check, "folder whose pages must be as they would be written");
    return {verb, [words] { return writeReference(*words); }};
}

Verb addHelp(CLI::App& app)
{
    const auto name = std::make_shared<std::string>();
    CLI::App* verb = app.add_subcommand("help", "Tells how a verb is used");
    verb->add_option("verb", *name, "which; else all are listed");
    return {verb, [&app, name] {
                const auto found = app.get_subcommands([&](const CLI::App* one) { return one->get_name() == *name; });
                if (!name->empty() && found.empty()) {
                    std::cerr << "snare: there is no verb " << *name << "; snare help lists them\n";
                    return badInput;
                }
                // Of the program itself it would tell the verb that was given.
                std::cout << (found.empty() ? app.get_formatter()->make_help(&app, "snare", CLI::AppFormatMode::Normal)
                                            : found.front()->help());
                return fine;
            }};
}

} // namespace

} // namespace snare::cli

int main(int argc, char** argv)
{
    using namespace snare::cli;
    CLI::App app{"Fresh Snare: resolves what happens when things meet. Runs scenes and takes without a display."};
    app.require_subcommand(1);
    app.set_version_flag("--version", "snare " SNARE_VERSION);
    std::vector<Verb> verbs;
    for (const auto add : {addRun, addCheck, addExport, addImport, addTest, addCover, addDiff, addVary, addScout,
                           addMerge, addDescribe, addBench, addSchema, addReference, addHelp})
        verbs.push_back(add(app));
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? fine : badInput;
    }
    try {
        for (const Verb& verb : verbs)
            if (verb.app->parsed())
                return verb.act();
    } catch (const std::exception& error) { // such as no memory left
        std::cerr << "snare: " << error.what() << '\n';
        return stopped;
    }
    return badInput;
}
