// SPDX-License-Identifier: Apache-2.0
/// The stage: the record of the take, the moment that is shown, and playing and recording.
///
/// After every edit the take is run again in the background; `recordChanged` tells when the new
/// record is there, and `differences` what it changed. While recording, the run goes on in real
/// time with the keys that `key` hands in; an edit on the way runs the part so far again, and
/// recording goes on from there.
#pragma once

#include "app/model/coverage_watch.h"
#include "app/model/document.h"
#include "app/model/leading_hand.h"
#include "app/model/variation.h"
#include "check/compare.h"
#include "check/expectations.h"
#include "sim/because.h"
#include "sim/resume.h"

#include <QElapsedTimer>
#include <QFutureWatcher>
#include <QTimer>

#include <optional>

namespace snare::sim {
class Recorder;
} // namespace snare::sim

namespace snare::app {

class Stage : public QObject {
    Q_OBJECT

  public:
    enum class Mode { still, playing, recording };

    explicit Stage(Document& document, QObject* parent = nullptr);
    ~Stage() override;

    /// The latest finished record, or the growing one while recording. Never null.
    const sim::Record& record() const { return *record_; }
    std::shared_ptr<const sim::Record> sharedRecord() const { return record_; }
    /// The record before the last edit; null if there is none.
    const sim::Record* earlier() const { return earlier_.get(); }
    std::shared_ptr<const sim::Record> sharedEarlier() const { return earlier_; }
    /// What the last edit changed, from `earlier` to `record`.
    const check::Differences& differences() const { return differences_; }
    /// What became of what the take expects, in `record`; of a take that is recorded nothing.
    const check::Judgement& judgement() const { return judgement_; }
    /// Runs the take with another version of the scene and shows that as the record before, until
    /// the next edit.
    void compareWith(std::shared_ptr<const scene::Scene> other);
    /// The version that `earlier` is of, or nullptr: it is the scene before the last edit.
    const std::shared_ptr<const scene::Scene>& compared() const { return compared_; }
    /// What the takes of the scene have used of it, while that is asked for.
    CoverageWatch& coverage() { return coverage_; }
    /// How sure the shown take is, once that was asked.
    Variation& variation() { return variation_; }
    /// How long the last re-run took, ms.
    double rerunMilliseconds() const { return rerunMs_; }
    /// True while a re-run is under way.
    bool isRerunning() const { return watcher_.isRunning() || again_; }

    Mode mode() const { return mode_; }
    std::int64_t cursor() const { return cursor_; }
    double cursorSeconds() const;

    /// The line of the record that is explained, or -1: the moment at the cursor.
    std::int32_t chosenLine() const { return chosenLine_; }
    /// The chosen event and what led to it, back to what began it; empty if none is chosen.
    std::vector<std::int32_t> chain() const { return sim::chainTo(*record_, chosenLine_); }

    void setCursor(std::int64_t tick);
    void chooseLine(std::int32_t line);
    void stepBy(std::int64_t ticks);
    void play();
    void pause();
    /// Plays only between two ticks, again and again; nothing: the whole take.
    void setLoop(std::optional<std::pair<std::int64_t, std::int64_t>> span);
    const std::optional<std::pair<std::int64_t, std::int64_t>>& loop() const { return loop_; }
    /// Goes to the next (1) or previous (-1) of what the last edit changed. Returns which of how
    /// many, from 1; 0: none.
    std::size_t stepChange(int by);
    std::size_t changeCount() const { return changes_.size(); }
    /// Plays live with the keys handed in: from the start, or on from the cursor with the inputs
    /// before it kept. Driven pieces are led as in the take before.
    void startRecording(bool fromCursor = false);
    /// Ends playing; ends recording and makes its inputs the take.
    void stop();
    /// A key pressed or let go while recording, by its X keysym name.
    void key(const QString& name, bool down);
    /// A dial set, or a call made, while recording.
    void dial(const std::string& source, double value);
    void call(const std::string& name, const scene::Named<scene::Scalar>& values);
    /// The pointer moved while recording. It is kept where it is on the glass if the view follows a
    /// piece or something pinned is there, else where it is in the scene.
    void pointer(const geometry::Vec& at);
    /// A button of the pointer pressed or let go while recording. With the left one a driven piece
    /// can be dragged: it is led by that from then on, whatever the take said before (V10).
    void button(scene::Button button, bool down);
    /// Any input, as from a device or from outside; its time is now.
    void input(scene::Input input);
    /// Lets go of every key and button that is down, as when the window loses focus (P7).
    void letGoOfAll();

  signals:
    void recordChanged();
    void cursorChanged();
    void modeChanged();
    void chosenLineChanged();
    void loopChanged();

  private:
    struct Rerun {
        sim::Resumable run;
        double milliseconds = 0;
        check::Differences differences;
        check::Judgement judgement;
    };

    void documentChanged(bool newStep);
    void startRerun();
    void rerunFinished();
    void compareFinished();
    void onFrame();
    void playFrame();
    void recordFrame();
    /// A new recorder that first runs the inputs up to a tick.
    void beginRecorder(const scene::Take& inputs, std::int64_t upTo);
    bool catchUp();
    /// The take leads this piece no longer from now on.
    void takeOver(const std::string& piece);
    /// Runs one more tick with these inputs and with what is kept for it.
    void tickRecorder(std::vector<scene::Input> inputs);
    void listChanges();
    void setMode(Mode mode);

    Document& document_;
    CoverageWatch coverage_;
    Variation variation_;
    std::shared_ptr<const sim::Record> record_;
    sim::Resumable run_; ///< the last re-run, from which the next goes on
    std::shared_ptr<const sim::Record> earlier_;
    check::Differences differences_;
    check::Judgement judgement_;
    double rerunMs_ = 0;
    std::shared_ptr<std::atomic<bool>> cancel_;
    QFutureWatcher<Rerun> watcher_;
    QFutureWatcher<Rerun> comparing_;
    std::shared_ptr<const scene::Scene> compared_;
    std::shared_ptr<const scene::Scene> comparedNext_;
    std::shared_ptr<const sim::Record> comparedTo_; ///< the record that is compared
    bool again_ = false;
    bool forgetEarlier_ = true;

    Mode mode_ = Mode::still;
    std::int64_t cursor_ = 0;
    std::int32_t chosenLine_ = -1;
    QTimer frame_;
    QElapsedTimer clock_;
    std::int64_t playedFrom_ = 0;
    std::unique_ptr<sim::Recorder> recorder_;
    std::shared_ptr<const scene::Scene> recordedScene_;
    /// Inputs by tick that are run while catching up; where driven pieces are led goes on after it
    /// (V10).
    std::vector<std::pair<std::int64_t, scene::Input>> kept_;
    std::size_t keptNext_ = 0;
    std::int64_t catchUpTo_ = 0;
    LeadingHand hand_;
    geometry::Vec pointerAt_{0, 0}; ///< where it was last while recording, m
    struct Changed {
        std::int64_t tick;
        std::int32_t line; ///< of the record; -1: it is gone
    };
    std::vector<Changed> changes_;
    std::size_t changeAt_ = 0;
    std::optional<std::pair<std::int64_t, std::int64_t>> loop_;
    std::vector<scene::Input> pending_;
    std::vector<std::string> held_;
    std::vector<scene::Button> heldButtons_;
};

} // namespace snare::app
