// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/flow_map.h"

#include "app/timeline/flow_layers.h"

#include <QProcess>

#include <fmt/format.h>
#include <map>
#include <sstream>

namespace snare::app {

namespace {

constexpr double perInch = 72;
constexpr std::size_t manyEdges = 400;

/// Boxes of the given sizes and lines between them; the words of a line are its number, as wide as
/// they are.
std::string graphOf(const check::Flow& flow, const std::vector<QSizeF>& sizes, const std::vector<double>& words)
{
    std::string text =
        "digraph g {\n rankdir=LR; nodesep=0.12; ranksep=0.45; node [shape=box, fixedsize=true, label=\"\"];\n"
        " edge [fontname=Courier, fontsize=8];\n";
    for (std::size_t i = 0; i < flow.nodes.size(); ++i)
        text += fmt::format(" n{} [width={:.4f}, height={:.4f}];\n", i, sizes[i].width() / perInch,
                            sizes[i].height() / perInch);
    // Many lines are laid out straight, without room for their words and with less care: else it
    // takes minutes.
    const bool isLarge = flow.edges.size() > manyEdges;
    if (isLarge)
        text += " splines=line; nslimit=1; nslimit1=1; mclimit=0.1;\n";
    constexpr double letter = 5; // of the font above, pixels
    for (std::size_t i = 0; i < flow.edges.size(); ++i) {
        std::string number = std::to_string(i);
        const auto wide = static_cast<std::size_t>(words[i] / letter);
        number.append(wide > number.size() ? wide - number.size() : 0, '_');
        text += isLarge ? fmt::format(" n{} -> n{};\n", flow.edges[i].from, flow.edges[i].to)
                        : fmt::format(" n{} -> n{} [label=\"{}\"];\n", flow.edges[i].from, flow.edges[i].to, number);
    }
    return text + "}\n";
}

/// What Graphviz says of a laid out graph in its plain form; empty if it is not there or takes too
/// long. It is a program of its own: its licence does not go together with that of what the
/// application is linked with (docs/decisions/22).
std::string laidOut(const std::string& graph)
{
    constexpr int longestMs = 700;
    QProcess dot;
    dot.start(QStringLiteral("dot"), {QStringLiteral("-Tplain")});
    if (!dot.waitForStarted())
        return {};
    dot.write(graph.c_str(), static_cast<qint64>(graph.size()));
    dot.closeWriteChannel();
    if (!dot.waitForFinished(longestMs)) {
        dot.kill();
        dot.waitForFinished();
        return {};
    }
    if (dot.exitCode() != 0)
        return {};
    return dot.readAllStandardOutput().toStdString();
}

/// More than about so many lines to a box: Graphviz would not be done in time.
constexpr double mostLinesABox = 4;

FlowMap laidOutPlainly(check::Flow flow, const std::vector<QSizeF>& sizes)
{
    std::vector<std::pair<std::size_t, std::size_t>> edges;
    for (const check::FlowEdge& edge : flow.edges)
        edges.emplace_back(edge.from, edge.to);
    LayeredGraph graph = layered(sizes, edges);
    FlowMap map;
    map.boxes = std::move(graph.boxes);
    map.lines = std::move(graph.lines);
    map.size = graph.size;
    for (const QPainterPath& line : map.lines)
        map.labels.push_back(line.pointAtPercent(0.5));
    map.flow = std::move(flow);
    return map;
}

} // namespace

std::optional<std::size_t> FlowMap::nodeAt(const QPointF& point) const
{
    for (std::size_t i = 0; i < boxes.size(); ++i)
        if (boxes[i].contains(point))
            return i;
    return std::nullopt;
}

FlowMap layOut(check::Flow flow, const std::vector<QSizeF>& sizes, const std::vector<double>& words)
{
    const bool isDense = flow.edges.size() > manyEdges && static_cast<double>(flow.edges.size()) >
                                                              mostLinesABox * static_cast<double>(flow.nodes.size());
    const std::string said = isDense ? std::string() : laidOut(graphOf(flow, sizes, words));
    if (said.empty())
        return laidOutPlainly(std::move(flow), sizes);
    FlowMap map;
    map.boxes.resize(flow.nodes.size());
    map.lines.resize(flow.edges.size());
    map.labels.resize(flow.edges.size());
    // https://graphviz.org/docs/outputs/plain: lines of words; lengths in inches, upwards.
    std::istringstream lines{said};
    std::string line;
    double height = 0;
    std::map<std::pair<std::size_t, std::size_t>, std::vector<std::size_t>> between; // edges that are not met yet
    for (std::size_t i = flow.edges.size(); i > 0; --i)
        between[{flow.edges[i - 1].from, flow.edges[i - 1].to}].push_back(i - 1);
    while (std::getline(lines, line)) {
        std::istringstream in{line};
        std::string word;
        in >> word;
        const auto point = [&] {
            double x = 0;
            double y = 0;
            in >> x >> y;
            return QPointF{x * perInch, (height - y) * perInch};
        };
        if (word == "graph") {
            double scale = 1;
            double width = 0;
            in >> scale >> width >> height;
            map.size = QSizeF{width, height} * perInch;
        } else if (word == "node") {
            in >> word;
            const std::size_t node = std::stoul(word.substr(1));
            const QPointF middle = point();
            map.boxes.at(node) =
                QRectF{middle - QPointF{sizes[node].width() / 2, sizes[node].height() / 2}, sizes[node]};
        } else if (word == "edge") {
            std::string tail;
            std::size_t count = 0;
            in >> tail >> word >> count;
            std::vector<std::size_t>& open = between[{std::stoul(tail.substr(1)), std::stoul(word.substr(1))}];
            if (open.empty())
                continue;
            QPainterPath path;
            for (std::size_t i = 0; i < count; ++i) {
                if (i == 0) {
                    path.moveTo(point());
                } else if (i + 2 < count) {
                    const QPointF first = point();
                    const QPointF second = point();
                    path.cubicTo(first, second, point());
                    i += 2;
                }
            }
            in >> word; // its number, if it has room for words
            if (word.starts_with('"'))
                word.erase(0, 1);
            const bool hasWords = !word.empty() && std::isdigit(static_cast<unsigned char>(word.front())) != 0;
            const std::size_t edge = hasWords ? std::stoul(word) : open.back();
            std::erase(open, edge);
            map.lines.at(edge) = path;
            map.labels.at(edge) = hasWords ? point() : path.pointAtPercent(0.5);
        }
    }
    map.flow = std::move(flow);
    return map;
}

} // namespace snare::app
