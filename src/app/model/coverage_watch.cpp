// SPDX-License-Identifier: Apache-2.0
#include "app/model/coverage_watch.h"

#include "sim/recorder.h"

#include <QtConcurrentRun>

namespace snare::app {

using Of = check::Covered::Of;

CoverageWatch::CoverageWatch(Document& document, QObject* parent) : QObject(parent), document_(document)
{
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        const bool again = std::exchange(stale_, false);
        if (on_ && !again)
            take(watcher_.result());
        else if (on_)
            follow();
    });
    connect(&document_, &Document::changed, this, &CoverageWatch::follow);
    connect(&document_, &Document::replaced, this, &CoverageWatch::follow);
}

CoverageWatch::~CoverageWatch()
{
    if (cancelled_)
        *cancelled_ = true;
    watcher_.waitForFinished();
}

void CoverageWatch::setOn(bool on)
{
    if (std::exchange(on_, on) == on)
        return;
    scene_.reset();
    if (on)
        return follow();
    if (cancelled_)
        *cancelled_ = true;
    take({});
}

void CoverageWatch::follow()
{
    if (!on_)
        return;
    std::vector<std::shared_ptr<const scene::Take>> takes;
    for (const NamedTake& one : document_.takes())
        takes.push_back(one.take);
    if (scene_ == document_.sharedScene() && takes == lookedAt_ && !watcher_.isRunning())
        return;
    if (watcher_.isRunning()) {
        stale_ = true;
        *cancelled_ = true;
        return;
    }
    scene_ = document_.sharedScene();
    lookedAt_ = takes;
    cancelled_ = std::make_shared<std::atomic<bool>>(false);
    watcher_.setFuture(QtConcurrent::run([scene = scene_, takes = std::move(takes), cancelled = cancelled_] {
        std::optional<check::Coverage> coverage;
        for (const auto& one : takes) {
            const sim::Record record =
                sim::rerun(scene, *one, {.seconds = {}, .lean = true, .cancelled = cancelled.get()});
            if (!coverage)
                coverage.emplace(record.scene); // with what its kits and assemblies bring
            coverage->add(record);
        }
        return coverage ? Found{coverage->all(), takes.size()} : Found{};
    }));
}

void CoverageWatch::take(Found found)
{
    all_ = std::move(found.all);
    takes_ = found.takes;
    unused_.clear();
    unvisited_.clear();
    std::set<std::string> visited;
    for (const check::Covered& one : all_) {
        if (one.times == 0)
            unused_.emplace(one.of, one.name);
        if (one.of == Of::zone)
            (one.times == 0 ? unvisited_ : visited).insert(one.place.id);
    }
    for (const std::string& piece : visited)
        unvisited_.erase(piece);
    emit changed();
}

std::vector<int> CoverageWatch::unusedSteps(const check::Place& place) const
{
    std::vector<int> steps;
    for (const check::Covered& one : all_)
        if (one.of == Of::response && one.times == 0 && one.place.of == place.of && one.place.id == place.id)
            steps.push_back(one.step);
    return steps;
}

} // namespace snare::app
