// SPDX-License-Identifier: Apache-2.0
/// A run that writes its record as it goes, and the record of a whole take.
#pragma once

#include "sim/record.h"
#include "sim/run.h"

namespace snare::sim {

class Recorder {
  public:
    /// Once `cancelled` is set, a tick under way is left and the record is of no use.
    explicit Recorder(std::shared_ptr<const scene::Scene> scene, bool withStays = false,
                      std::optional<std::uint32_t> seed = {}, const std::atomic<bool>* cancelled = nullptr);

    /// The same of a scene that is whole already (see wholeOf).
    static Recorder ofWhole(std::shared_ptr<const scene::Scene> whole, bool withStays,
                            std::optional<std::uint32_t> seed, const std::atomic<bool>* cancelled)
    {
        return {withStays, std::move(whole), seed, cancelled};
    }

    /// Goes on from the end of a tick: with copies of the run and of what stood then, and the
    /// record up to it. `whole` is the scene that goes on.
    Recorder(const Run& run, const StandingSoFar& standing, std::shared_ptr<Record> record,
             std::shared_ptr<const scene::Scene> whole, const std::atomic<bool>* cancelled);

    /// One more tick. The inputs become part of the record's take.
    void tick(std::span<const scene::Input> inputs);
    const Run& run() const { return run_; }
    Run& run() { return run_; }
    const Record& record() const { return *record_; }
    const StandingSoFar& standing() const { return standing_; }
    std::shared_ptr<const Record> share() const { return record_; }
    /// The record, which nothing is added to any more; the recorder must not be used after it.
    /// Those who share it already keep it whole.
    std::shared_ptr<Record> finish() { return std::move(record_); }
    /// From now on only what the log needs is kept.
    void keepLittle() { lean_ = true; }
    bool stopped() const { return !run_.stopReason().empty(); }

  private:
    Recorder(bool withStays, std::shared_ptr<const scene::Scene> scene, std::optional<std::uint32_t> seed,
             const std::atomic<bool>* cancelled);
    void note();

    Run run_;
    StandingSoFar standing_;
    bool lean_ = false;
    std::size_t followed_ = 0; ///< lines of the journal that `standing_` knows
    std::shared_ptr<Record> record_;
};

/// The scene as it runs: with what its assemblies and its kits bring.
std::shared_ptr<const scene::Scene> wholeOf(std::shared_ptr<const scene::Scene> scene);

/// How a take is run again.
struct RerunOptions {
    std::optional<double> seconds; ///< else the take's length, else 10 (T1)
    bool withStays = false;
    bool lean = false; ///< only what the log needs: no moment of the record can be shown
    const std::atomic<bool>* cancelled = nullptr; ///< looked at within ticks too
};

/// Runs a take from its start (see sim/resume.h for re-runs that begin later). With `cancelled` set
/// on the way the record is incomplete.
Record rerun(std::shared_ptr<const scene::Scene> scene, const scene::Take& take, const RerunOptions& options = {});

/// The inputs of a take sorted by tick, those of one tick in the order of the file (T2).
std::vector<std::pair<std::int64_t, scene::Input>> inputsByTick(const scene::Take& take, int rate);

} // namespace snare::sim
