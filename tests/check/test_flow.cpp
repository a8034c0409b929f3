// SPDX-License-Identifier: Apache-2.0
/// What listens to what: from sources over snares, signals and values to pieces.
#include "check/flow.h"
#include "check/flow_counts.h"
#include "io/document.h"
#include "sim/recorder.h"

#include <QTest>

using namespace snare;

namespace {

scene::Scene read(const std::string& text)
{
    auto scene = io::readScene(text, "case");
    if (!scene)
        qFatal("%s", scene.error().front().message().c_str());
    return *scene;
}

/// "snare a -say-> piece b", "…" before the label if it is decided when it runs.
std::vector<std::string> linesOf(const check::Flow& flow)
{
    std::vector<std::string> lines;
    const auto name = [&](std::size_t node) {
        return std::string(check::wordOf(flow.nodes[node].kind)) + " " + flow.nodes[node].name;
    };
    for (const check::FlowEdge& edge : flow.edges)
        lines.push_back(name(edge.from) + (edge.isDecidedLate ? " -…" : " -") + edge.label + "-> " + name(edge.to));
    return lines;
}

const std::string quay = R"({"format": "fresh-snare-scene", "version": 1, "variables": {"weighed": 0},
    "sources": [{"id": "tide", "timer": {"every": 3}}], "routines": {"tell": [{"do": "hide", "on": "lamp"}]}, "pieces": [
    {"id": "plate", "shapes": [{"role": "zone", "box": [2, 2]}], "properties": {"load": 0}},
    {"id": "lamp", "tags": ["light"], "phases": ["off", "on"], "shapes": [{"circle": 1}]}], "snares": [
    {"id": "weigh", "catch": {"event": "enter", "at": "plate"}, "filter": {"when": [{"left": "self.load", "is": ">", "right": 1}]},
     "responses": [{"do": "signal", "name": "ready"}, {"do": "add", "on": "scene", "name": "weighed", "value": 1}, {"do": "say", "text": "there"},
                   {"do": "hide", "on": "visitor"}]},
    {"id": "show", "catch": {"event": "heard", "signal": "ready", "at": "lamp"}, "responses": [{"do": "phase", "to": "on"}, {"do": "arm", "snares": ["late"]}]},
    {"id": "late", "armed": false, "catch": {"event": "elapsed", "source": "tide"}, "responses": [{"do": "run", "routine": "tell"}, {"do": "show", "on": "tag:light"}]}]})";

} // namespace

class TestFlow : public QObject {
    Q_OBJECT

  private slots:
    void leadsFromWhatHappensToWhatIsDone();
    void whatIsBeforeAndBehindIsFound();
    void textsAreQuotedInDot();
    void theDemosHaveAFlow();
    void aTakeIsCountedAlongTheLines();
};

void TestFlow::leadsFromWhatHappensToWhatIsDone()
{
    const std::vector<std::string> expected{"piece plate -enter-> snare weigh", "value load -only if-> snare weigh",
                                            "signal ready --> snare show",      "source tide -elapsed-> snare late",
                                            "snare weigh --> signal ready",     "snare weigh -add-> value weighed",
                                            "snare weigh -say-> piece plate",   "snare weigh -…hide-> piece visitor",
                                            "snare show -phase-> phase on",     "snare show -arm-> snare late",
                                            "snare late -run-> routine tell",   "snare late -…show-> piece tag:light",
                                            "routine tell -hide-> piece lamp"};
    QCOMPARE(linesOf(check::flowOf(read(quay))), expected);
}

void TestFlow::whatIsBeforeAndBehindIsFound()
{
    const check::Flow flow = check::flowOf(read(quay));
    const auto at = [&](const std::string& name) {
        return static_cast<std::size_t>(std::ranges::find(flow.nodes, name, &check::FlowNode::name) -
                                        flow.nodes.begin());
    };
    const auto names = [&](const std::vector<std::size_t>& nodes) {
        std::vector<std::string> result;
        for (const std::size_t node : nodes)
            result.push_back(flow.nodes[node].name);
        std::ranges::sort(result);
        return result;
    };
    QCOMPARE(names(check::upstream(flow, at("late"))),
             (std::vector<std::string>{"late", "load", "plate", "ready", "show", "tide", "weigh"}));
    QCOMPARE(names(check::downstream(flow, at("tide"))),
             (std::vector<std::string>{"lamp", "late", "tag:light", "tell", "tide"}));
    QCOMPARE(flow.nodes[at("lamp")].place.id, std::string("lamp"));
}

void TestFlow::textsAreQuotedInDot()
{
    check::Flow flow;
    flow.nodes = {{check::FlowNode::Kind::signal, "say \"a\\b\"\n", {}, false},
                  {check::FlowNode::Kind::snare, "é", {}, true}};
    flow.edges = {{0, 1, "x", true}};
    const std::string text = check::dotOf(flow, "quay \"1\"");
    QVERIFY(text.starts_with("digraph \"quay \\\"1\\\"\" {"));
    QVERIFY(text.find("label=\"say \\\"a\\\\b\\\"\"") != std::string::npos);
    QVERIFY(text.find("n0 -> n1 [label=\"x\", style=dashed]") != std::string::npos);
    QVERIFY(text.ends_with("}\n"));
}

void TestFlow::theDemosHaveAFlow()
{
    for (const auto& entry : std::filesystem::directory_iterator{SNARE_DEMO_FOLDER}) {
        if (!entry.path().string().ends_with(".snare.json"))
            continue;
        const auto scene = io::loadScene(entry.path());
        QVERIFY(scene);
        const check::Flow flow = check::flowOf(*scene);
        // Each snare of the scene is there, and leads somewhere or is led to.
        std::vector<bool> joined(flow.nodes.size());
        for (const check::FlowEdge& edge : flow.edges) {
            QVERIFY(edge.from < flow.nodes.size() && edge.to < flow.nodes.size());
            joined[edge.from] = joined[edge.to] = true;
        }
        for (const scene::Snare& snare : scene->snares) {
            const auto found = std::ranges::find_if(flow.nodes, [&](const check::FlowNode& node) {
                return node.kind == check::FlowNode::Kind::snare && node.name == snare.id;
            });
            QVERIFY2(found != flow.nodes.end() && joined[static_cast<std::size_t>(found - flow.nodes.begin())],
                     snare.id.c_str());
        }
    }
}

void TestFlow::aTakeIsCountedAlongTheLines()
{
    for (const char* name : {"weigh-in", "locks", "berths"}) {
        const std::string path = std::string(SNARE_DEMO_FOLDER "/") + name;
        const auto scene = std::make_shared<const scene::Scene>(*io::loadScene(path + ".snare.json"));
        const sim::Record record = sim::rerun(scene, *io::loadTake(path + ".take.json"));
        const check::Flow flow = check::flowOf(*scene);
        const std::vector<int> times = check::timesOf(flow, record);
        QCOMPARE(times.size(), flow.edges.size());
        // What comes in at a snare is as much as the record says that it considered.
        for (std::size_t i = 0; i < flow.edges.size(); ++i) {
            const check::FlowNode& to = flow.nodes[flow.edges[i].to];
            if (flow.edges[i].label.starts_with("only ")) {
                QCOMPARE(times[i], -1);
                continue;
            }
            QVERIFY(times[i] >= 0);
            if (to.kind != check::FlowNode::Kind::snare || flow.edges[i].label != "enter")
                continue;
            int considered = 0;
            for (const rules::Line& line : record.journal.lines)
                considered += line.kind == rules::LineKind::snare && line.event == scene::EventKind::enter &&
                                      record.snareNameOf(line.snare) == to.place.id
                                  ? 1
                                  : 0;
            QCOMPARE(times[i], considered);
        }
        QVERIFY(std::ranges::count_if(times, [](int one) { return one > 0; }) > 5);
    }
}

QTEST_GUILESS_MAIN(TestFlow)
#include "test_flow.moc"
