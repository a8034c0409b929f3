// SPDX-License-Identifier: Apache-2.0
#include "app/model/variation.h"

#include <QtConcurrentRun>

namespace snare::app {

Variation::Variation(Document& document, QObject* parent) : QObject(parent), document_(document)
{
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        if (std::exchange(again_, false))
            return start(options_);
        if (!*cancelled_)
            result_ = watcher_.result();
        emit changed();
    });
    // It is about the take and the scene as they were.
    const auto follow = [this] {
        if (isRunning() &&
            (scene_ != document_.sharedScene() || take_ != document_.takes()[document_.currentTake()].take))
            stop();
        else if (result_ && !result()) { // said once
            result_.reset();
            emit changed();
        }
    };
    connect(&document_, &Document::changed, this, follow);
    connect(&document_, &Document::takeChosen, this, follow, Qt::QueuedConnection);
}

Variation::~Variation()
{
    stop();
    watcher_.waitForFinished();
}

void Variation::start(const check::VaryOptions& options)
{
    options_ = options;
    if (isRunning()) {
        again_ = true;
        return stop();
    }
    done_ = 0;
    result_.reset();
    scene_ = document_.sharedScene();
    take_ = document_.takes()[document_.currentTake()].take;
    cancelled_ = std::make_shared<std::atomic<bool>>(false);
    check::VaryOptions with = options;
    with.cancelled = cancelled_.get();
    constexpr int shown = 100; // of the progress: steps
    with.progress = [this, cancelled = cancelled_, every = std::max(1, options.runs / shown)](int runs) {
        if (runs % every != 0)
            return;
        QMetaObject::invokeMethod(
            this,
            [this, cancelled, runs] {
                if (cancelled == cancelled_) {
                    done_ = runs;
                    emit progressed();
                }
            },
            Qt::QueuedConnection);
    };
    watcher_.setFuture(QtConcurrent::run(
        [scene = scene_, take = take_, with, cancelled = cancelled_] { return check::vary(scene, *take, with); }));
    emit changed();
}

void Variation::stop()
{
    if (cancelled_)
        *cancelled_ = true;
}

const check::Varied* Variation::result() const
{
    const bool isAboutNow =
        scene_ == document_.sharedScene() && take_ == document_.takes()[document_.currentTake()].take;
    return result_ && isAboutNow ? &*result_ : nullptr;
}

} // namespace snare::app
