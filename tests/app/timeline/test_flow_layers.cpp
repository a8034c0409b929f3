// SPDX-License-Identifier: Apache-2.0
/// The plain layout of large flows.
#include "app/timeline/flow_layers.h"

#include <QTest>

#include <random>

using namespace snare::app;

namespace {

using Edges = std::vector<std::pair<std::size_t, std::size_t>>;

std::vector<QSizeF> boxes(std::size_t count)
{
    std::vector<QSizeF> sizes;
    for (std::size_t i = 0; i < count; ++i)
        sizes.emplace_back(40.0 + static_cast<double>(i % 7) * 11, 18.0 + static_cast<double>(i % 3) * 4);
    return sizes;
}

} // namespace

class TestFlowLayers : public QObject {
    Q_OBJECT

  private slots:
    void whatFollowsStandsFurtherRight();
    void aSourceStandsBesideWhatItLeadsTo();
    void circlesAreDrawnAsWell();
    void neighboursStandAtTheSameHeight();
    void boxesNeverOverlap();
    void theSameGraphIsDrawnAlike();
};

void TestFlowLayers::whatFollowsStandsFurtherRight()
{
    const Edges edges{{0, 1}, {1, 2}, {0, 2}, {2, 3}};
    const LayeredGraph graph = layered(boxes(4), edges);
    for (const auto& [from, to] : edges)
        QVERIFY(graph.boxes[from].right() < graph.boxes[to].left());
    for (std::size_t i = 0; i < edges.size(); ++i) {
        QCOMPARE(graph.lines[i].elementAt(0).x, graph.boxes[edges[i].first].right());
        QCOMPARE(graph.lines[i].currentPosition().x(), graph.boxes[edges[i].second].left());
    }
}

void TestFlowLayers::aSourceStandsBesideWhatItLeadsTo()
{
    const LayeredGraph graph = layered(boxes(5), {{0, 1}, {1, 2}, {2, 3}, {4, 3}});
    QCOMPARE(graph.boxes[4].center().x(), graph.boxes[2].center().x());
}

void TestFlowLayers::circlesAreDrawnAsWell()
{
    const LayeredGraph graph = layered(boxes(3), {{0, 1}, {1, 2}, {2, 0}, {1, 1}});
    QVERIFY(graph.boxes[0].right() < graph.boxes[1].left());
    QVERIFY(graph.boxes[1].right() < graph.boxes[2].left());
    for (const QPainterPath& line : graph.lines)
        QVERIFY(line.length() > 20);
    QVERIFY(layered({}, {}).boxes.empty());
}

void TestFlowLayers::neighboursStandAtTheSameHeight()
{
    // Two rows that do not touch, named crosswise.
    const LayeredGraph graph = layered(std::vector<QSizeF>(6, {40, 20}), {{0, 3}, {1, 2}, {3, 5}, {2, 4}});
    QVERIFY(std::abs(graph.boxes[0].center().y() - graph.boxes[5].center().y()) < 1);
    QVERIFY(std::abs(graph.boxes[1].center().y() - graph.boxes[4].center().y()) < 1);
}

void TestFlowLayers::boxesNeverOverlap()
{
    std::mt19937 random{7};
    for (const std::size_t nodes : {2u, 30u, 700u}) {
        Edges edges;
        for (std::size_t i = 0; i < 4 * nodes; ++i)
            edges.emplace_back(random() % nodes, random() % nodes);
        const LayeredGraph graph = layered(boxes(nodes), edges);
        const QRectF all{QPointF{-0.5, -0.5}, graph.size + QSizeF{1, 1}};
        for (std::size_t i = 0; i < nodes; ++i) {
            QVERIFY(all.contains(graph.boxes[i]));
            for (std::size_t j = 0; j < i; ++j)
                QVERIFY(!graph.boxes[i].intersects(graph.boxes[j].adjusted(1, 1, -1, -1)));
        }
    }
}

void TestFlowLayers::theSameGraphIsDrawnAlike()
{
    const Edges edges{{0, 5}, {1, 5}, {2, 4}, {4, 0}, {3, 1}, {5, 2}};
    QCOMPARE(layered(boxes(6), edges).boxes, layered(boxes(6), edges).boxes);
}

QTEST_APPLESS_MAIN(TestFlowLayers)
#include "test_flow_layers.moc"
