// SPDX-License-Identifier: Apache-2.0
/// The desk: stand-ins for what a level may be connected to — a loudness meter, a tide gauge, a
/// gesture pad, a pad with two sticks — the names of all calls, and the door to programs outside.
///
/// What a device does while a take is recorded becomes an input of the take, so that the take needs
/// no device.
#pragma once

#include "app/model/osc_port.h"
#include "app/panels/desk_widgets.h"
#include "desk/curves.h"

#include <QScrollArea>

class QLabel;
class QVBoxLayout;

namespace snare::app {

class FlowLayout;
class SlotButton;

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
