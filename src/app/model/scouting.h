// SPDX-License-Identifier: Apache-2.0
/// The bench plays the scene by itself, beside everything else, and what it found (N38).
#pragma once

#include "app/model/document.h"
#include "check/scout_report.h"

#include <QFutureWatcher>
#include <QObject>

#include <atomic>

namespace snare::app {

class Scouting : public QObject {
    Q_OBJECT

  public:
    explicit Scouting(Document& document, QObject* parent = nullptr);
    ~Scouting() override;

    /// Begins, unless it runs. Of the options only how much is played counts.
    void start(const check::ScoutOptions& options);
    /// No more is played; what was found is made ready. While that goes on: it is left as it is.
    void stop();
    bool isRunning() const { return watcher_.isRunning(); }
    /// Whether nothing more is played, and what was found is made ready.
    bool isEnding() const { return isRunning() && (*enough_ || progress_.plays >= options_.plays); }

    /// As they were given last.
    const check::ScoutOptions& options() const { return options_; }
    const check::ScoutProgress& progress() const { return progress_; }
    /// What was found last; nullptr if nothing was. A new scene forgets it.
    const check::Scouted* result() const { return result_ ? &*result_ : nullptr; }
    const std::vector<check::ScoutLine>& lines() const { return lines_; }
    /// Whether the scene and its takes are still those that it was found of.
    bool isFresh() const;

  signals:
    void changed();
    void progressed();

  private:
    void finished();

    Document& document_;
    check::ScoutOptions options_;
    check::ScoutProgress progress_;
    std::shared_ptr<const scene::Scene> scene_; ///< that is looked at, or was last
    std::optional<check::Scouted> result_;
    std::vector<check::ScoutLine> lines_;
    bool forgotten_ = false; ///< another scene was opened while it ran
    std::shared_ptr<std::atomic<bool>> enough_;
    std::shared_ptr<std::atomic<bool>> cancelled_;
    QFutureWatcher<check::Scouted> watcher_;
};

} // namespace snare::app
