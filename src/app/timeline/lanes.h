// SPDX-License-Identifier: Apache-2.0
/// The lanes of the timeline, worked out from a record: meetings as bars, snares and signals as
/// marks, values as steps.
#pragma once

#include "sim/record.h"

#include <QString>

#include <memory>
#include <span>

namespace snare::app {

enum class LaneKind { keys, pointer, phases, meetings, hits, snare, raised, value, laid, expected };

/// An interval, in ticks with parts.
struct LaneBar {
    double from = 0;
    double to = 0;
    QString text;
    std::string key; ///< of a key press: its keysym name
    int phase = -1;  ///< of a segment in which a phase holds: its number among all phases of the scene
    world::PieceIndex visitor = world::nobody;
    bool stops = false;        ///< a meeting that stops (M2)
    std::int32_t line = -1;    ///< where it began
    std::int32_t endLine = -1; ///< where it ended; -1: it had not
    int expectation = -1;      ///< of a span in which something is expected: which of the take's
    int row = 0;               ///< bars that overlap stand in rows of their own
};

enum class MarkKind { sprung, slipped, hit, signal, act };

/// A moment.
struct LaneMark {
    double at = 0;
    MarkKind kind = MarkKind::sprung;
    QString text;
    std::int32_t line = -1;
    double size = 0; ///< of a hit: its speed
};

/// A value from a moment on.
struct LaneStep {
    double at = 0;
    QString text;
    double number = 0;
    bool isNumber = false;
};

struct Lane {
    LaneKind kind = LaneKind::keys;
    std::string key; ///< tells lanes apart over re-runs
    QString title;
    std::string piece; ///< whose lane it is, if a piece's
    std::string snare;
    std::string dial = {}; ///< whose values it shows
    std::vector<LaneBar> bars;
    std::vector<LaneMark> marks;
    std::vector<LaneStep> steps;
    int rows = 1;
    std::string led = {}; ///< the driven piece whose places it shows (V10)
    std::vector<std::vector<std::int32_t>> byRow = {}; ///< bars of each row, in order; they do not overlap
    double low = 1e300;                                ///< the smallest and largest number of `steps`
    double high = -1e300;

    bool isEmpty() const { return bars.empty() && marks.empty() && steps.empty(); }
};

/// The marks from one moment to another, with those a tick around.
std::span<const LaneMark> marksBetween(const Lane& lane, double from, double to);

/// The bars of a row that reach into a span of time, as indices into `bars`.
std::span<const std::int32_t> barsBetween(const Lane& lane, std::size_t row, double from, double to);

/// The lanes of a record, in the order in which they are shown: keys, buttons, pointer, calls,
/// where driven pieces are led, phases, zones, solids, hits, snares, signals, values. Empty ones
/// included. They grow with the record: only what was added is read.
class LaneBook {
  public:
    LaneBook();
    ~LaneBook();

    /// Takes in what was added to the record since, or all of it if it is another one.
    void follow(std::shared_ptr<const sim::Record> record);
    const std::vector<Lane>& lanes() const;

  private:
    class Builder;

    std::shared_ptr<const sim::Record> record_;
    std::unique_ptr<Builder> builder_;
};

/// One lane for all of a laid assembly: when anything is met, hit or changed at one of its parts.
Lane laneOfLaid(const std::string& laid, const std::vector<const Lane*>& parts);

/// The same for a record that does not grow.
std::vector<Lane> lanesOf(const sim::Record& record);

} // namespace snare::app
