// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/flow_layers.h"

#include <algorithm>
#include <map>
#include <set>

namespace snare::app {

namespace {

constexpr double betweenLayers = 90; ///< pixels
constexpr double betweenNodes = 9;
constexpr int sweeps = 12; ///< to and fro

using Neighbours = std::vector<std::vector<std::size_t>>; ///< by node

/// Each node with its layer and its neighbours in the others: an edge that leads back counts the
/// other way round.
struct Layering {
    std::vector<std::size_t> layer; ///< by node
    Neighbours after;
    Neighbours before;
};

/// Each as far left as what comes before it lets it be. Nodes are taken one by one: where edges run
/// in a circle, the one with the fewest edges still to come, which lead back then.
Layering layersOf(std::size_t nodes, const std::vector<std::pair<std::size_t, std::size_t>>& edges)
{
    Layering layering{std::vector<std::size_t>(nodes, 0), Neighbours(nodes), Neighbours(nodes)};
    Neighbours next(nodes);
    std::vector<std::size_t> open(nodes, 0); // edges from nodes that are not taken yet
    for (const auto& [from, to] : edges)
        if (from != to) {
            next[from].push_back(to);
            ++open[to];
        }
    std::set<std::pair<std::size_t, std::size_t>> waiting; // by that number
    for (std::size_t node = 0; node < nodes; ++node)
        waiting.emplace(open[node], node);
    std::vector<bool> isTaken(nodes, false);
    while (!waiting.empty()) {
        const std::size_t from = waiting.begin()->second;
        waiting.erase(waiting.begin());
        isTaken[from] = true;
        for (const std::size_t to : next[from]) {
            const bool leadsBack = isTaken[to];
            layering.after[leadsBack ? to : from].push_back(leadsBack ? from : to);
            layering.before[leadsBack ? from : to].push_back(leadsBack ? to : from);
            if (leadsBack)
                continue;
            layering.layer[to] = std::max(layering.layer[to], layering.layer[from] + 1);
            waiting.erase({open[to], to});
            waiting.emplace(--open[to], to);
        }
    }
    // What nothing leads to stands just before what it leads to.
    for (std::size_t node = 0; node < nodes; ++node) {
        if (!layering.before[node].empty() || layering.after[node].empty())
            continue;
        std::size_t first = nodes;
        for (const std::size_t to : layering.after[node])
            first = std::min(first, layering.layer[to]);
        if (first > 0) // else one of them leads back to it
            layering.layer[node] = first - 1;
    }
    return layering;
}

/// Puts the nodes of a layer as near to where they want to be as their order and sizes allow: least
/// squares, by pooling neighbours that want into each other (isotonic regression).
void settle(const std::vector<std::size_t>& order, const std::vector<QSizeF>& sizes, const std::vector<double>& wanted,
            std::vector<double>& middle)
{
    struct Pool {
        double sum;
        std::size_t count;
        double mean() const { return sum / static_cast<double>(count); }
    };
    std::vector<Pool> pools;
    std::vector<double> offset(order.size(), 0); // of a node from the first one if all stand close
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (i > 0)
            offset[i] = offset[i - 1] + (sizes[order[i - 1]].height() + sizes[order[i]].height()) / 2 + betweenNodes;
        pools.push_back({wanted[order[i]] - offset[i], 1});
        while (pools.size() > 1 && pools[pools.size() - 2].mean() > pools.back().mean()) {
            const Pool last = pools.back();
            pools.pop_back();
            pools.back().sum += last.sum;
            pools.back().count += last.count;
        }
    }
    std::size_t i = 0;
    for (const Pool& pool : pools)
        for (std::size_t n = 0; n < pool.count; ++n, ++i)
            middle[order[i]] = pool.mean() + offset[i];
}

QPainterPath lineBetween(const QRectF& from, const QRectF& to, double aside)
{
    const QPointF end{to.left(), to.center().y() + aside};
    QPointF start{from.right(), from.center().y() + aside};
    const bool isOn = to.left() > from.right();
    // What goes back leaves and arrives in an arc around the boxes.
    const double bend = isOn ? std::min(60.0, (end.x() - start.x()) / 2) : 50;
    QPainterPath line{start};
    line.cubicTo(start + QPointF{bend, isOn ? 0 : -bend}, end + QPointF{-bend, isOn ? 0 : -bend}, end);
    return line;
}

} // namespace

LayeredGraph layered(const std::vector<QSizeF>& sizes, const std::vector<std::pair<std::size_t, std::size_t>>& edges)
{
    const std::size_t nodes = sizes.size();
    const auto [layer, after, before] = layersOf(nodes, edges);
    std::vector<std::vector<std::size_t>> layers;
    for (std::size_t node = 0; node < nodes; ++node) {
        if (layer[node] >= layers.size())
            layers.resize(layer[node] + 1);
        layers[layer[node]].push_back(node);
    }
    std::vector<double> middle(nodes, 0);
    std::vector<double> wanted(nodes, 0);
    for (const auto& order : layers)
        settle(order, sizes, wanted, middle);
    for (int sweep = 0; sweep < sweeps; ++sweep) {
        const bool isThere = sweep % 2 == 0;
        for (std::size_t i = 0; i < layers.size(); ++i) {
            std::vector<std::size_t>& order = layers[isThere ? i : layers.size() - 1 - i];
            for (const std::size_t node : order) {
                const std::vector<std::size_t>& others = isThere ? before[node] : after[node];
                double sum = 0;
                for (const std::size_t other : others)
                    sum += middle[other];
                wanted[node] = others.empty() ? middle[node] : sum / static_cast<double>(others.size());
            }
            std::ranges::stable_sort(order, {}, [&](std::size_t node) { return wanted[node]; });
            settle(order, sizes, wanted, middle);
        }
    }
    LayeredGraph graph;
    graph.boxes.resize(nodes);
    double left = 0;
    double top = 0;
    double bottom = 0;
    for (const auto& order : layers) {
        double width = 0;
        for (const std::size_t node : order) {
            width = std::max(width, sizes[node].width());
            top = std::min(top, middle[node] - sizes[node].height() / 2);
            bottom = std::max(bottom, middle[node] + sizes[node].height() / 2);
        }
        for (const std::size_t node : order)
            graph.boxes[node] = {
                QPointF{left + (width - sizes[node].width()) / 2, middle[node] - sizes[node].height() / 2},
                sizes[node]};
        left += width + betweenLayers;
    }
    for (QRectF& box : graph.boxes)
        box.translate(0, -top);
    graph.size = {std::max(0.0, left - betweenLayers), bottom - top};
    std::map<std::pair<std::size_t, std::size_t>, int> alike; // edges between the same two lie beside each other
    for (const auto& [from, to] : edges)
        graph.lines.push_back(lineBetween(graph.boxes[from], graph.boxes[to], 4.0 * (alike[{from, to}]++ % 5)));
    return graph;
}

} // namespace snare::app
