// SPDX-License-Identifier: Apache-2.0
/// Pictures in the interface: those of looks, and the one in which a colour is picked for a traced
/// shape.
#pragma once

#include "app/model/document.h"

#include <QFrame>
#include <QImage>

class QLabel;
class QSlider;

namespace snare::app {

/// A picture beside the scene, PNG or SVG, or a null image. Kept until its file changes.
QImage pictureOf(const io::Pictures& pictures, const std::string& name);

/// The colour that most opaque pixels have, or black.
scene::Colour commonColour(const io::Picture& picture);

/// The picture with what is traced of it; a pipette while the pointer is over it.
class PictureView : public QWidget {
    Q_OBJECT

  public:
    explicit PictureView(QWidget* parent = nullptr);

    /// `rings` in parts of the picture's size, from its middle, y upwards.
    void show(const QImage& image, std::vector<geometry::Ring> rings);
    QSize sizeHint() const override { return {340, 260}; }

  signals:
    /// A colour was picked; `another`: besides those that there are.
    void picked(const QColor& colour, bool another);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;

  private:
    QRectF frame() const;
    QColor colourAt(const QPointF& at) const;

    QImage image_;
    std::vector<geometry::Ring> rings_;
    std::optional<QPointF> pointer_;
};

/// The panel below a traced shape's colour: the picture, the pipette, how far colours may be off.
/// Every change is shown on the ground at once and is part of one undo step.
class TracePicker : public QFrame {
    Q_OBJECT

  public:
    /// Opens below `anchor` for a shape of a piece.
    static TracePicker* open(QWidget* anchor, Document& document, std::string piece, std::size_t shape);

  private:
    TracePicker(QWidget* parent, Document& document, std::string piece, std::size_t shape);
    const scene::Traced* traced() const;
    std::string imageName() const;
    void refresh();
    void change(const QString& name, const std::function<void(scene::Traced&)>& change);

    Document& document_;
    std::string piece_;
    std::size_t shape_;
    int gesture_;
    PictureView* view_;
    QWidget* colours_;
    QSlider* tolerance_;
    QLabel* said_;
};

} // namespace snare::app
