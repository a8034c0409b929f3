// SPDX-License-Identifier: Apache-2.0
/// The findings of the document, brought up to date after each edit: at once for small scenes, else
/// beside everything else.
#pragma once

#include "check/findings.h"

#include <QFutureWatcher>
#include <QObject>

#include <memory>

namespace snare::app {

class FindingsWatch : public QObject {
    Q_OBJECT

  public:
    /// Changes a scene as one step of undo.
    using Edit = std::function<void(const QString& step, const std::function<void(scene::Scene&)>& change)>;

    FindingsWatch(Edit edit, QObject* parent);
    ~FindingsWatch() override;

    /// All of them; accepted ones last.
    const std::vector<check::Finding>& all() const { return *findings_; }
    /// Those that are not accepted, at one place; responses and fields do not matter.
    std::vector<check::Finding> at(const check::Place& place) const;
    /// How many are not accepted.
    std::size_t open() const;
    /// Whether they are those of the scene as it is now.
    bool isFresh() const { return !watcher_.isRunning() && !stale_; }

    /// The scene is another one.
    void follow(std::shared_ptr<const scene::Scene> scene);

    /// Carries out the fix of a finding: one step of undo.
    void fix(const check::Finding& finding);
    /// Keeps a finding as it is, for a reason; or takes that back.
    void accept(const check::Finding& finding, const QString& reason);
    void unaccept(const check::Finding& finding);

  signals:
    void changed();

  private:
    using List = std::shared_ptr<const std::vector<check::Finding>>;

    void look();
    void take(List list);

    Edit edit_;
    std::shared_ptr<const scene::Scene> scene_;
    List findings_;
    QFutureWatcher<List> watcher_;
    bool stale_ = false; ///< the scene changed while it was looked at
};

/// What is said at the place itself, where its name need not be said.
QString saidInPlace(const check::Finding& finding);

} // namespace snare::app
