// SPDX-License-Identifier: Apache-2.0
/// The desk: stand-ins for what a level may be connected to — a loudness meter, a tide gauge, a gesture pad, a pad with
/// two sticks — the names of all calls, and the door to programs outside.
///
/// What a device does while a take is recorded becomes an input of the take, so that the take needs no device.
#pragma once

#include "app/osc_port.h"
#include "desk/curves.h"
#include "desk/strokes.h"

#include <QScrollArea>

class QLabel;
class QVBoxLayout;

namespace snare::app {

class FlowLayout;
class SlotButton;

/// A line of the last seconds of what a device measures, with the number itself.
class Meter : public QWidget {
    Q_OBJECT

  public:
    explicit Meter(const QString& name, QWidget* parent = nullptr);
    void setRange(double low, double high);
    void add(double value);
    /// A curve instead of what was measured: what the device would do.
    void preview(std::vector<double> values);
    QSize sizeHint() const override { return {240, 44}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::vector<double> values_;
    bool live_ = false; ///< measured, not a preview
    double low_ = 0;
    double high_ = 1;
};

/// Where strokes are drawn, with what became of the last one.
class GesturePad : public QWidget {
    Q_OBJECT

  public:
    explicit GesturePad(QWidget* parent = nullptr);
    const desk::Judgement& judgement() const { return judgement_; }
    QSize sizeHint() const override { return {150, 132}; }

  signals:
    void judged();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    std::vector<geometry::Vec> drawn_;
    desk::Judgement judgement_;
};

/// How near the last stroke came to each known one.
class NearnessList : public QWidget {
    Q_OBJECT

  public:
    explicit NearnessList(QWidget* parent = nullptr);
    void show(const desk::Judgement& judgement);
    QSize sizeHint() const override { return {170, 132}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    desk::Judgement judgement_;
};

/// A stick that springs back: from -1 to 1 both ways.
class Stick : public QWidget {
    Q_OBJECT

  public:
    explicit Stick(const QString& name, QWidget* parent = nullptr);
    geometry::Vec value() const { return value_; }
    QSize sizeHint() const override { return {104, 104}; }

  signals:
    void moved();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

  private:
    void set(const geometry::Vec& value);
    geometry::Vec value_{0, 0};
};

class DeskPanel : public QScrollArea {
    Q_OBJECT

  public:
    DeskPanel(Document& document, Stage& stage, QWidget* parent = nullptr);

    OscPort& osc() { return osc_; }
    void refresh();

  private:
    /// A device that feeds a dial with a curve over time.
    struct Feeder {
        QString key;                                                                  ///< of its settings
        std::function<double(const scene::DialSource& dial, double seconds)> measure; ///< in the dial's numbers
        QString like; ///< a dial of such a name is taken first
        Meter* meter = nullptr;
        SlotButton* dial = nullptr;
        SlotButton* feeds = nullptr;
        bool on = false;
        std::optional<double> last = {};
    };

    QVBoxLayout* card(const QString& title, const QString& about);
    void buildFeeder(QVBoxLayout* column, FlowLayout* line, Feeder feeder);
    void buildLoudness();
    void buildTide();
    void buildGestures();
    void buildSticks();
    void buildCalls();
    void buildOsc();
    void refreshCalls();
    void refreshOsc();
    void onTick();
    void layOver(std::size_t feeder);
    QString dialOf(const QString& key, const QString& like) const;
    const scene::DialSource* findDial(const QString& id) const;
    void askForDial(SlotButton* button, const QString& key);
    void strokeJudged();
    void stickMoved(const Stick& stick, const QString& key);
    SlotButton* slot(FlowLayout* line, const QString& name, const QString& text, bool filled);

    Document& document_;
    Stage& stage_;
    OscPort osc_;
    QWidget* page_;
    QVBoxLayout* column_;
    std::vector<Feeder> feeders_;
    desk::Voice voice_ = desk::Voice::talk;
    double tidePeriod_ = 30;
    bool tideFalls_ = true;
    GesturePad* pad_ = nullptr;
    NearnessList* nearness_ = nullptr;
    QLabel* verdict_ = nullptr;
    std::vector<std::pair<QString, SlotButton*>> stickDials_;
    QVBoxLayout* calls_ = nullptr;
    QWidget* callList_ = nullptr;
    std::vector<std::string> shownCalls_;
    SlotButton* oscSwitch_ = nullptr;
    QLabel* oscState_ = nullptr;
};

} // namespace snare::app
