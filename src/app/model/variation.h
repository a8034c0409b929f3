// SPDX-License-Identifier: Apache-2.0
/// How sure the shown take is: run many times with its inputs a little off, beside everything else.
#pragma once

#include "app/model/document.h"
#include "check/vary.h"

#include <QFutureWatcher>
#include <QObject>

#include <atomic>

namespace snare::app {

class Variation : public QObject {
    Q_OBJECT

  public:
    explicit Variation(Document& document, QObject* parent = nullptr);
    ~Variation() override;

    /// Begins; what ran before is given up.
    void start(const check::VaryOptions& options);
    void stop();
    bool isRunning() const { return watcher_.isRunning(); }
    /// How many runs are done, and how many are wanted.
    int done() const { return done_; }
    int wanted() const { return options_.runs; }
    /// What was found of the take and the scene as they are now; nullptr if they have changed
    /// since, or were never asked about.
    const check::Varied* result() const;
    const check::VaryOptions& options() const { return options_; }

  signals:
    void changed();
    void progressed();

  private:
    Document& document_;
    check::VaryOptions options_;
    std::shared_ptr<const scene::Scene> scene_;
    std::shared_ptr<const scene::Take> take_;
    std::optional<check::Varied> result_;
    std::shared_ptr<std::atomic<bool>> cancelled_;
    QFutureWatcher<check::Varied> watcher_;
    int done_ = 0;
    bool again_ = false; ///< once what runs has ended
};

} // namespace snare::app
