// SPDX-License-Identifier: Apache-2.0
#include "app/model/scouting.h"

#include <QtConcurrentRun>

namespace snare::app {

Scouting::Scouting(Document& document, QObject* parent) : QObject(parent), document_(document)
{
    connect(&watcher_, &QFutureWatcherBase::finished, this, &Scouting::finished);
    connect(&document_, &Document::changed, this, [this] {
        if (result_)
            emit changed(); // it may no longer be fresh
    });
    connect(&document_, &Document::replaced, this, [this] {
        if (cancelled_)
            *cancelled_ = true;
        forgotten_ = true;
        result_.reset();
        lines_.clear();
        emit changed();
    });
}

Scouting::~Scouting()
{
    if (cancelled_)
        *cancelled_ = true;
    watcher_.waitForFinished();
}

void Scouting::start(const check::ScoutOptions& options)
{
    if (isRunning())
        return;
    options_ = options;
    options_.takes.clear();
    for (const NamedTake& take : document_.takes())
        options_.takes.push_back(*take.take);
    progress_ = {};
    forgotten_ = false;
    result_.reset();
    lines_.clear();
    scene_ = document_.sharedScene();
    enough_ = std::make_shared<std::atomic<bool>>(false);
    cancelled_ = std::make_shared<std::atomic<bool>>(false);
    check::ScoutOptions with = options_;
    with.enough = enough_.get();
    with.cancelled = cancelled_.get();
    with.progress = [this, cancelled = cancelled_](const check::ScoutProgress& now) {
        QMetaObject::invokeMethod(
            this,
            [this, cancelled, now] {
                if (cancelled != cancelled_)
                    return;
                progress_ = now;
                emit progressed();
            },
            Qt::QueuedConnection);
    };
    watcher_.setFuture(QtConcurrent::run(
        [scene = scene_, with, enough = enough_, cancelled = cancelled_] { return check::scout(scene, with); }));
    emit changed();
}

void Scouting::stop()
{
    if (!isRunning())
        return;
    (isEnding() ? *cancelled_ : *enough_) = true;
    emit changed();
}

void Scouting::finished()
{
    if (!forgotten_) {
        result_ = watcher_.result();
        lines_ = check::linesOf(*result_, options_.takes);
    }
    emit changed();
}

bool Scouting::isFresh() const
{
    return scene_ == document_.sharedScene();
}

} // namespace snare::app
