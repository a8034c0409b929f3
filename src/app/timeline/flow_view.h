// SPDX-License-Identifier: Apache-2.0
/// `Flow`: what listens to what, as a map to read. What is before and behind the selection stays,
/// the rest is pale; who sprang at the cursor is lit. Click for the card, double click for the
/// place.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"
#include "app/model/stage.h"
#include "app/timeline/flow_map.h"

#include <QAbstractScrollArea>
#include <QFutureWatcher>

#include <map>
#include <set>

namespace snare::app {

class FlowView : public QAbstractScrollArea {
    Q_OBJECT

  public:
    FlowView(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);
    ~FlowView() override;

    const FlowMap& map() const { return *map_; }
    /// Whether it shows the scene as it is now.
    bool isFresh() const { return shown_ == document_.sharedScene() && !watcher_.isRunning(); }
    /// The middle of a node in the viewport.
    QPointF placeOf(std::size_t node) const;
    /// The nodes that are not pale.
    std::set<std::size_t> clearNodes() const;
    void zoom(double factor);
    /// How often the take went along an edge; -1: nobody knows.
    int timesOf(std::size_t edge) const { return edge < times_.size() ? times_[edge] : -1; }
    /// The map as a drawing, SVG; why it cannot be written, or an empty text.
    QString saveSvg(const QString& path);

  signals:
    /// It is to be written into a file.
    void saveWanted();
    /// A place is to be shown.
    void placeWanted(const snare::check::Place& place);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool viewportEvent(QEvent* event) override;

  private:
    void follow();
    void setBars();
    QPointF toMap(const QPointF& point) const;
    std::optional<std::size_t> chosen() const;
    void choose(std::size_t node);
    std::set<std::string, std::less<>> lit() const;
    bool isUnused(const check::FlowNode& node) const;
    void paintNode(QPainter& painter, std::size_t node, bool pale, bool isLit);
    void paintEdge(QPainter& painter, std::size_t edge, bool pale, bool isLit);
    /// What of the map lies in `view`, in its own pixels.
    void paintMap(QPainter& painter, const QRectF& view);
    void count();
    void findFindings();

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    std::shared_ptr<const FlowMap> map_;
    std::shared_ptr<const scene::Scene> shown_; ///< the scene of the map
    QFutureWatcher<std::shared_ptr<const FlowMap>> watcher_;
    std::shared_ptr<const scene::Scene> asked_;
    std::vector<int> times_; ///< by edge
    QFutureWatcher<std::vector<int>> counting_;
    std::shared_ptr<const sim::Record> counted_;   ///< the record of `times_`
    std::map<std::size_t, QString> findings_; ///< what is found at nodes
    double scale_ = 1;
    QPointF grabbed_;
    std::optional<std::size_t> picked_; ///< a node that is no piece and no snare: signals, values, sources
};

} // namespace snare::app
