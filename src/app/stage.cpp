// SPDX-License-Identifier: Apache-2.0
#include "app/stage.h"

#include <QtConcurrentRun>

namespace snare::app {

namespace {

constexpr int frameMs = 16;

/// A machine that cannot keep up plays slower; it never catches up in a jump.
constexpr std::int64_t mostTicksAFrame = 30;

} // namespace

Stage::Stage(Document& document, QObject* parent) : QObject(parent), document_(document)
{
    record_ = std::make_shared<const sim::Record>(sim::rerun(document.sharedScene(), document.take(), {.seconds = 0}));
    frame_.setInterval(frameMs);
    connect(&frame_, &QTimer::timeout, this, &Stage::onFrame);
    connect(&document_, &Document::replaced, this, [this] {
        forgetEarlier_ = true;
        cursor_ = 0;
        chosenLine_ = -1;
        emit cursorChanged();
    });
    connect(&document_, &Document::changed, this, &Stage::documentChanged);
    connect(&watcher_, &QFutureWatcher<Rerun>::finished, this, &Stage::rerunFinished);
}

Stage::~Stage()
{
    if (cancel_)
        cancel_->store(true);
    watcher_.waitForFinished();
}

double Stage::cursorSeconds() const
{
    return static_cast<double>(cursor_) / record_->scene->rate;
}

void Stage::documentChanged(bool newStep)
{
    if (mode_ == Mode::recording)
        stop();
    if (newStep && !watcher_.isRunning())
        earlier_ = record_;
    startRerun();
}

void Stage::startRerun()
{
    if (watcher_.isRunning()) { // the newest wins
        cancel_->store(true);
        again_ = true;
        return;
    }
    again_ = false;
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    watcher_.setFuture(
        QtConcurrent::run([scene = document_.sharedScene(), take = document_.take(), hasTake = document_.hasTake(),
                           cancel = cancel_, earlier = forgetEarlier_ ? nullptr : earlier_]() -> Rerun {
            QElapsedTimer timer;
            timer.start();
            sim::RerunOptions options;
            options.cancelled = cancel.get();
            if (!hasTake)
                options.seconds = 0;
            auto record = std::make_shared<const sim::Record>(sim::rerun(scene, take, options));
            const double milliseconds = static_cast<double>(timer.nsecsElapsed()) * 1e-6;
            check::Differences differences;
            if (earlier && !cancel->load())
                differences = check::compare(*earlier, *record);
            return {std::move(record), milliseconds, std::move(differences)};
        }));
}

void Stage::rerunFinished()
{
    if (again_) {
        startRerun();
        return;
    }
    if (mode_ == Mode::recording)
        return;
    const Rerun result = watcher_.result();
    record_ = result.record;
    rerunMs_ = result.milliseconds;
    if (std::exchange(forgetEarlier_, false))
        earlier_ = nullptr;
    differences_ = earlier_ ? result.differences : check::Differences{};
    cursor_ = std::clamp<std::int64_t>(cursor_, 0, record_->lastTick());
    chosenLine_ = -1;
    emit recordChanged();
    emit cursorChanged();
}

void Stage::setCursor(std::int64_t tick)
{
    if (mode_ == Mode::recording)
        return;
    tick = std::clamp<std::int64_t>(tick, 0, record_->lastTick());
    if (mode_ == Mode::playing) {
        playedFrom_ = tick;
        clock_.restart();
    }
    if (chosenLine_ >= 0) {
        chosenLine_ = -1;
        emit chosenLineChanged();
    }
    if (tick == cursor_)
        return;
    cursor_ = tick;
    emit cursorChanged();
}

void Stage::chooseLine(std::int32_t line)
{
    if (line < 0 || line >= static_cast<std::int32_t>(record_->journal.lines.size()))
        return;
    pause();
    setCursor(record_->journal.lines[static_cast<std::size_t>(line)].tick);
    chosenLine_ = line;
    emit chosenLineChanged();
}

void Stage::stepBy(std::int64_t ticks)
{
    pause();
    setCursor(cursor_ + ticks);
}

void Stage::setMode(Mode mode)
{
    if (mode_ == mode)
        return;
    mode_ = mode;
    emit modeChanged();
}

void Stage::play()
{
    if (mode_ != Mode::still || record_->lastTick() <= 0)
        return;
    if (cursor_ >= record_->lastTick())
        setCursor(0);
    playedFrom_ = cursor_;
    clock_.start();
    frame_.start();
    setMode(Mode::playing);
}

void Stage::pause()
{
    if (mode_ != Mode::playing)
        return;
    frame_.stop();
    setMode(Mode::still);
}

void Stage::startRecording()
{
    pause();
    if (mode_ == Mode::recording)
        return;
    recorder_ = std::make_unique<sim::Recorder>(document_.sharedScene());
    pending_.clear();
    held_.clear();
    record_ = recorder_->share();
    earlier_ = nullptr;
    differences_ = {};
    cursor_ = 0;
    chosenLine_ = -1;
    clock_.start();
    playedFrom_ = 0;
    setMode(Mode::recording);
    frame_.start();
    emit recordChanged();
    emit cursorChanged();
}

void Stage::stop()
{
    if (mode_ == Mode::playing) {
        pause();
        return;
    }
    if (mode_ != Mode::recording)
        return;
    letGoOfAllKeys();
    if (!pending_.empty()) {
        for (scene::Input& input : pending_)
            input.t = static_cast<double>(recorder_->run().tickNumber() + 1) / record_->scene->rate;
        recorder_->tick(std::exchange(pending_, {}));
    }
    frame_.stop();
    auto finished = std::make_shared<sim::Record>(recorder_->take());
    recorder_.reset();
    scene::Take take = finished->take;
    take.length = finished->seconds();
    finished->take = take;
    record_ = finished;
    setMode(Mode::still);
    document_.setTake(tr("Record a take"), std::move(take));
    earlier_ = nullptr; // another play-through is not an edit of the scene
    forgetEarlier_ = true;
}

void Stage::key(const QString& name, bool down)
{
    if (mode_ != Mode::recording || name.isEmpty())
        return;
    const std::string key = name.toStdString();
    const auto held = std::ranges::find(held_, key);
    if (down == (held != held_.end()))
        return;
    if (down)
        held_.push_back(key);
    else
        held_.erase(held);
    pending_.push_back({0, key, down});
}

void Stage::letGoOfAllKeys()
{
    for (const std::string& name : std::vector(held_))
        key(QString::fromStdString(name), false);
}

void Stage::onFrame()
{
    const int rate = record_->scene->rate;
    const auto due = playedFrom_ + static_cast<std::int64_t>(static_cast<double>(clock_.nsecsElapsed()) * 1e-9 * rate);
    if (mode_ == Mode::playing) {
        cursor_ = std::min(due, record_->lastTick());
        if (chosenLine_ >= 0) {
            chosenLine_ = -1;
            emit chosenLineChanged();
        }
        emit cursorChanged();
        if (cursor_ >= record_->lastTick())
            pause();
        return;
    }
    if (mode_ != Mode::recording)
        return;
    std::int64_t done = 0;
    while (cursor_ < due && done < mostTicksAFrame && !recorder_->stopped()) {
        for (scene::Input& input : pending_)
            input.t = static_cast<double>(cursor_ + 1) / rate;
        recorder_->tick(std::exchange(pending_, {}));
        ++cursor_;
        ++done;
    }
    if (cursor_ < due) { // slower than real time: from here on as if it were now
        playedFrom_ = cursor_;
        clock_.restart();
    }
    if (done > 0) {
        emit recordChanged();
        emit cursorChanged();
    }
    if (recorder_->stopped())
        stop();
}

} // namespace snare::app
