// SPDX-License-Identifier: Apache-2.0
/// Draws the ground: grid, pieces, zones, threads, captions and what goes on at the moment shown.
#pragma once

#include "app/ground/ground_labels.h"
#include "app/ground/ground_scene.h"
#include "app/ground/transform.h"
#include "app/model/selection.h"
#include "app/ui/theme.h"
#include "io/pictures.h"
#include "world/outline.h"

#include <QImage>
#include <QPainter>
#include <QTransform>

#include <map>
#include <set>
#include <tuple>

namespace snare::app {

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

  private:
    void paintGrid();
    void paintMissing();
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
