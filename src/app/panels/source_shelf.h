// SPDX-License-Identifier: Apache-2.0
/// The shelf along the upper edge of the ground: what has no place in the scene. Keys can be
/// pressed here, a live source glows.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

#include <QWidget>

#include <set>

namespace snare::app {

/// One source as a pill.
class SourcePill : public QWidget {
    Q_OBJECT

  public:
    SourcePill(QString text, bool offer, QWidget* parent = nullptr);
    void setLive(bool live);
    void setText(const QString& text);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

  signals:
    void pressed();
    void released();
    void clicked();
    /// The wheel was turned over it, in steps upwards.
    void turned(int steps);
    /// Dragged off the shelf: where it is now, and where it was let go, on the screen.
    void dragged(const QPoint& screenPoint);
    void dropped(const QPoint& screenPoint);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

  private:
    QString text_;
    bool offer_;
    bool live_ = false;
    bool dragging_ = false;
};

class SourceShelf : public QWidget {
    Q_OBJECT

  public:
    SourceShelf(Document& document, Stage& stage, QWidget* parent = nullptr);

    /// Asks what to add to the shelf.
    void offerSource();
    /// A narrow window cuts it; the wheel brings the rest into view.
    QSize minimumSizeHint() const override { return {200, 34}; }

    /// The panel of a source, below its pill.
    void openSource(const std::string& source);

  signals:
    /// A thread is drawn from a source of the shelf: its id, or a key's name.
    void threadDragged(const QPoint& fromScreen, const QPoint& toScreen);
    void threadDropped(const QString& source, const QString& key, const QPoint& screenPoint);

  protected:
    void wheelEvent(QWheelEvent* event) override;

  private:
    struct Entry {
        SourcePill* pill;
        std::vector<std::string> keys; ///< glows while one of them is down
        std::string timer;             ///< glows when it has just elapsed
        std::string dial = {};         ///< shows its value
        std::string call = {};         ///< glows when it has just come
    };

    void refresh();
    void refreshLive();
    double dialNow(const std::string& id) const;
    void turnDial(const std::string& id, int steps);
    void letPress(const Entry& entry);
    void addSource(const scene::Source& source);
    void letDrag(SourcePill* pill, const QString& source, const QString& key);
    Entry& add(const QString& text, const QString& tip);

    Document& document_;
    Stage& stage_;
    QWidget* row_ = nullptr;
    std::vector<Entry> entries_;
    std::vector<std::string> shownAs_;
};

} // namespace snare::app
