// SPDX-License-Identifier: Apache-2.0
/// Draws the ground: grid, pieces, zones, threads, captions and what goes on at the moment shown.
#pragma once

#include "app/ground_labels.h"
#include "app/ground_scene.h"
#include "app/selection.h"
#include "app/theme.h"
#include "io/pictures.h"
#include "world/outline.h"

#include <QImage>
#include <QPainter>
#include <QTransform>

#include <map>
#include <set>
#include <tuple>

namespace snare::app {

/// From metres to pixels: y goes up in the scene and down on the screen.
struct GroundTransform {
    Vec centre{0, 0};  ///< m, in the middle of the view
    double scale = 50; ///< pixels a metre
    QSizeF size;       ///< of the view, pixels

    QPointF toView(const Vec& point) const
    {
        return {size.width() / 2 + (point.x - centre.x) * scale, size.height() / 2 - (point.y - centre.y) * scale};
    }
    QRectF toView(const geometry::Bounds& box) const
    {
        return {toView(Vec{box.low.x, box.high.y}), toView(Vec{box.high.x, box.low.y})};
    }
    Vec toScene(const QPointF& point) const
    {
        return {centre.x + (point.x() - size.width() / 2) / scale, centre.y - (point.y() - size.height() / 2) / scale};
    }
};

struct GroundOptions {
    bool allThreads = false;
    bool clean = false;           ///< no zones and threads
    bool motion = false;          ///< speeds, rest, ground contact and carrying, all routes
    bool rulers = false;          ///< along two edges
    bool overview = true;         ///< in the corner, while not all is in view
    bool glass = false;           ///< the glass alone: the scene under it is pale and cannot be picked
    std::set<std::string> locked; ///< pieces that cannot be picked
    std::set<std::string> veiled; ///< pieces that are not drawn
};

/// A place where the selected shape can be taken.
struct Handle {
    enum class Kind {
        size,  ///< corners and edges of its box, left to right, bottom to top
        turn,  ///< above the piece
        point, ///< a corner, or an end of a capsule
        edge,  ///< the middle of an edge: a new corner
        stop,  ///< a point of its route
        leg    ///< the middle of a way between two: a new point
    };
    Kind kind;
    std::size_t index;
    QPointF at;
};

std::vector<Handle> handlesOf(const ShownPiece& piece, std::size_t shape, const GroundTransform& transform);

/// What makes two small solids look the same.
using SpriteKey = std::tuple<std::size_t, double, double, QRgb, QRgb, bool, int, int, int>;

/// Pictures of small solids, kept from frame to frame.
using Sprites = std::map<SpriteKey, QImage>;

class GroundPainter {
  public:
    GroundPainter(QPainter& painter, const GroundTransform& transform, const scene::Scene& scene,
                  const sim::Record& record, std::int64_t tick, const Selection& selection,
                  const GroundOptions& options, io::Pictures* pictures = nullptr, Sprites* sprites = nullptr);

    void paint(const std::vector<ShownPiece>& pieces, const std::vector<Vec>& trail);

    /// One shape as a path in pixels.
    static QPainterPath pathOf(const scene::Shape& shape, const geometry::Pose& pose, const GroundTransform& transform);

    /// The outline of a zone that is being drawn.
    static void paintZone(QPainter& painter, const QPainterPath& path, const std::vector<QPointF>& loops,
                          const QColor& colour, bool lit);

    /// A figure on a small ground of its own, readable over everything.
    static void paintFigure(QPainter& painter, const QPointF& at, const QString& text);

  private:
    void paintGrid();
    void paintBounds();
    void paintPiece(const ShownPiece& piece);
    /// From far away: no more than its place, size and colour.
    void noteSpeck(const ShownPiece& piece, const QRectF& box, std::map<QRgb, std::vector<QRect>>& specks) const;
    struct SolidStyle {
        QColor fill;
        QColor edge;
        bool hatched;
    };
    static void paintStyled(QPainter& painter, const QPainterPath& path, const SolidStyle& style);
    bool paintSprite(const ShownPiece& piece, const scene::Shape& shape, const SolidStyle& style);
    void paintSolid(const ShownPiece& piece, const scene::Shape& shape);
    void paintLine(const QPainterPath& path, QPen edge);
    std::optional<GroundLabel> labelOf(const ShownPiece& piece) const;
    std::vector<GroundLabel> labelsOf(const std::vector<const ShownPiece*>& pieces) const;
    void paintLabels(const std::vector<const ShownPiece*>& pieces);
    void paintSelection(const ShownPiece& piece);
    void paintTrail(const std::vector<Vec>& trail);
    void paintContacts(const std::vector<ShownPiece>& pieces);
    QImage frameOf(const ShownPiece& piece) const;
    void paintPicture(const ShownPiece& piece);
    void paintOverPicture(const ShownPiece& piece, const scene::Shape& shape);
    void paintInside(const std::vector<ShownPiece>& pieces);
    void paintPennants(const std::vector<ShownPiece>& pieces);
    void paintCaptions(const std::vector<ShownPiece>& pieces);
    void paintFlag(const QPointF& at, const QString& text, const QColor& fill, const QColor& ink, double pole);
    void paintPrompt(const QPointF& foot, const QString& words);
    QString filledIn(const std::string& label, const ShownPiece& piece) const;
    std::optional<scene::Scalar> valueNow(const std::string& path, const ShownPiece& piece) const;
    void paintGauge(const ShownPiece& piece, const scene::Shape& shape);
    void paintScaleBar();

    bool hasZoneOnly(const scene::Piece& piece) const;
    QColor zoneColour(std::size_t piece) const;

    QPainter& painter_;
    const GroundTransform& transform_;
    const scene::Scene& scene_;
    const sim::Record& record_;
    std::int64_t tick_;
    const Selection& selection_;
    const GroundOptions& options_;
    io::Pictures* pictures_;
    Sprites* sprites_;
    bool overPictures_ = false;                ///< names stand on a veil: a picture may have any colours
    std::vector<std::size_t> zoneOrder_;       ///< by piece: its number among pieces with zones
    std::map<std::string_view, int> insideOf_; ///< how many are inside a piece, by its id
};

} // namespace snare::app
