// SPDX-License-Identifier: Apache-2.0
/// What all takes of the scene have used of it, kept up to date beside everything else while it is
/// asked for.
#pragma once

#include "app/model/document.h"
#include "check/coverage.h"

#include <QFutureWatcher>
#include <QObject>

#include <atomic>
#include <set>

namespace snare::app {

class CoverageWatch : public QObject {
    Q_OBJECT

  public:
    explicit CoverageWatch(Document& document, QObject* parent = nullptr);
    ~CoverageWatch() override;

    /// While it is on, all takes are run again after each edit.
    void setOn(bool on);
    bool isOn() const { return on_; }
    /// Whether it is told of the scene and its takes as they are now.
    bool isFresh() const { return !watcher_.isRunning() && !stale_; }

    /// Everything that can be used, in scene order; nothing while it is off.
    const std::vector<check::Covered>& all() const { return all_; }
    /// How many takes were run.
    std::size_t takes() const { return takes_; }
    /// Whether no take used it; false while it is off. Names as runs call them.
    bool isUnused(check::Covered::Of of, const std::string& name) const { return unused_.contains({of, name}); }
    /// The steps of a snare or routine that no take has done, from 0.
    std::vector<int> unusedSteps(const check::Place& place) const;
    /// Whether a piece has zones, and nobody came into any of them.
    bool isUnvisited(const std::string& piece) const { return unvisited_.contains(piece); }

  signals:
    void changed();

  private:
    struct Found {
        std::vector<check::Covered> all;
        std::size_t takes = 0;
    };

    void follow();
    void take(Found found);

    Document& document_;
    bool on_ = false;
    bool stale_ = false; ///< something changed while it was worked out
    std::vector<check::Covered> all_;
    std::size_t takes_ = 0;
    std::set<std::pair<check::Covered::Of, std::string>> unused_;
    std::set<std::string> unvisited_;
    std::shared_ptr<const scene::Scene> scene_;               ///< that was looked at last
    std::vector<std::shared_ptr<const scene::Take>> lookedAt_; ///< and its takes
    std::shared_ptr<std::atomic<bool>> cancelled_;
    QFutureWatcher<Found> watcher_;
};

} // namespace snare::app
