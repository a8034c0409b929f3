// SPDX-License-Identifier: Apache-2.0
#include "app/model/stage.h"

#include "geometry/gap.h"
#include "sim/recorder.h"

#include <QtConcurrentRun>

#include <cmath>

namespace snare::app {

namespace {

constexpr int frameMs = 16;

/// A machine that cannot keep up plays slower; it never catches up in a jump.
constexpr std::int64_t mostTicksAFrame = 30;

} // namespace

Stage::Stage(Document& document, QObject* parent)
    : QObject(parent), document_(document), coverage_(document), variation_(document)
{
    record_ = std::make_shared<const sim::Record>(sim::rerun(document.sharedScene(), document.take(), {.seconds = 0}));
    frame_.setInterval(frameMs);
    connect(&frame_, &QTimer::timeout, this, &Stage::onFrame);
    connect(&document_, &Document::replaced, this, [this] {
        forgetEarlier_ = true;
        cursor_ = 0;
        chosenLine_ = -1;
        setLoop(std::nullopt);
        emit cursorChanged();
    });
    connect(&document_, &Document::takeLeaving, this, &Stage::stop);
    connect(&document_, &Document::takeChosen, this, [this] {
        forgetEarlier_ = true; // another take is not an edit of the scene
        setLoop(std::nullopt);
    });
    connect(&document_, &Document::changed, this, &Stage::documentChanged);
    connect(&watcher_, &QFutureWatcher<Rerun>::finished, this, &Stage::rerunFinished);
    connect(&comparing_, &QFutureWatcher<Rerun>::finished, this, &Stage::compareFinished);
}

Stage::~Stage()
{
    if (cancel_)
        cancel_->store(true);
    watcher_.waitForFinished();
    comparing_.waitForFinished();
}

double Stage::cursorSeconds() const
{
    return static_cast<double>(cursor_) / record_->scene->rate;
}

void Stage::documentChanged(bool newStep)
{
    if (mode_ == Mode::recording) {
        if (document_.sharedScene() != recordedScene_) {
            scene::Take soFar;
            soFar.inputs = recorder_->record().take.inputs;
            for (std::size_t i = keptNext_; i < kept_.size(); ++i)
                soFar.inputs.push_back(kept_[i].second);
            beginRecorder(soFar, std::max(recorder_->run().tickNumber(), catchUpTo_));
        }
        return;
    }
    if (newStep && !watcher_.isRunning())
        earlier_ = record_;
    compared_.reset();
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
                           cancel = cancel_, before = run_, earlier = forgetEarlier_ ? nullptr : earlier_]() -> Rerun {
            QElapsedTimer timer;
            timer.start();
            sim::RerunOptions options;
            options.cancelled = cancel.get();
            if (!hasTake)
                options.seconds = 0;
            sim::Resumable run = sim::rerunFrom(before.record ? &before : nullptr, scene, take, options);
            const std::shared_ptr<const sim::Record> record = run.record;
            const double milliseconds = static_cast<double>(timer.nsecsElapsed()) * 1e-6;
            check::Differences differences;
            if (earlier && !cancel->load())
                differences = check::compare(*earlier, *record);
            check::Judgement judgement;
            if (hasTake && !cancel->load())
                judgement = check::judge(*record);
            return {std::move(run), milliseconds, std::move(differences), std::move(judgement)};
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
    run_ = result.run;
    record_ = run_.record;
    rerunMs_ = result.milliseconds;
    judgement_ = result.judgement;
    if (std::exchange(forgetEarlier_, false))
        earlier_ = nullptr;
    differences_ = earlier_ ? result.differences : check::Differences{};
    listChanges();
    cursor_ = std::clamp<std::int64_t>(cursor_, 0, record_->lastTick());
    chosenLine_ = -1;
    emit recordChanged();
    emit cursorChanged();
}

void Stage::compareWith(std::shared_ptr<const scene::Scene> other)
{
    if (mode_ == Mode::recording || comparing_.isRunning())
        return;
    comparedNext_ = std::move(other);
    comparedTo_ = record_;
    comparing_.setFuture(QtConcurrent::run(
        [other = comparedNext_, take = document_.take(), hasTake = document_.hasTake(), record = record_]() -> Rerun {
            sim::RerunOptions options;
            if (!hasTake)
                options.seconds = 0;
            auto before = std::make_shared<const sim::Record>(sim::rerun(other, take, options));
            check::Differences differences = check::compare(*before, *record);
            return {{std::move(before), {}, 0}, 0, std::move(differences), {}};
        }));
}

void Stage::compareFinished()
{
    if (mode_ == Mode::recording || isRerunning() || !comparedNext_)
        return;
    const Rerun result = comparing_.result();
    if (comparedTo_ != record_) // it was run anew meanwhile
        return compareWith(std::exchange(comparedNext_, nullptr));
    earlier_ = result.run.record;
    differences_ = result.differences;
    compared_ = std::exchange(comparedNext_, nullptr);
    listChanges();
    emit recordChanged();
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
    if (loop_ && (cursor_ < loop_->first || cursor_ >= loop_->second))
        setCursor(loop_->first);
    else if (cursor_ >= record_->lastTick())
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

void Stage::setLoop(std::optional<std::pair<std::int64_t, std::int64_t>> span)
{
    if (span) {
        span->first = std::clamp<std::int64_t>(span->first, 0, record_->lastTick());
        span->second = std::clamp<std::int64_t>(span->second, 0, record_->lastTick());
        if (span->second <= span->first)
            span.reset();
    }
    if (span == loop_)
        return;
    loop_ = span;
    emit loopChanged();
}

void Stage::listChanges()
{
    changes_.clear();
    changeAt_ = 0;
    for (const std::size_t line : differences_.fresh)
        changes_.push_back({record_->journal.lines[line].tick, static_cast<std::int32_t>(line)});
    for (const check::Moved& moved : differences_.moved)
        changes_.push_back({record_->journal.lines[moved.after].tick, static_cast<std::int32_t>(moved.after)});
    for (const std::size_t line : differences_.gone)
        changes_.push_back({std::min<std::int64_t>(earlier_->journal.lines[line].tick, record_->lastTick()), -1});
    std::ranges::stable_sort(changes_, {}, &Changed::tick);
}

std::size_t Stage::stepChange(int by)
{
    if (changes_.empty() || mode_ == Mode::recording)
        return 0;
    const std::size_t count = changes_.size();
    if (changeAt_ == 0)
        changeAt_ = by > 0 ? 1 : count;
    else
        changeAt_ = (changeAt_ - 1 + (by > 0 ? 1 : count - 1)) % count + 1;
    const Changed& change = changes_[changeAt_ - 1];
    pause();
    if (change.line >= 0)
        chooseLine(change.line);
    else
        setCursor(change.tick);
    return changeAt_;
}

void Stage::beginRecorder(const scene::Take& inputs, std::int64_t upTo)
{
    recordedScene_ = document_.sharedScene();
    kept_ = sim::inputsByTick(inputs, recordedScene_->rate);
    keptNext_ = 0;
    catchUpTo_ = upTo;
    recorder_ = std::make_unique<sim::Recorder>(recordedScene_);
    recorder_->run().lead(sim::Tracks::of(inputs));
}

void Stage::tickRecorder(std::vector<scene::Input> inputs)
{
    const std::int64_t tick = recorder_->run().tickNumber() + 1;
    for (; keptNext_ < kept_.size() && kept_[keptNext_].first <= tick; ++keptNext_)
        inputs.push_back(kept_[keptNext_].second);
    if (tick > catchUpTo_) {
        const std::vector<scene::Input> led = hand_.placesAt(tick, recordedScene_->rate, recorder_->run().world());
        inputs.insert(inputs.begin(), led.begin(), led.end());
    }
    recorder_->tick(inputs);
}

/// Runs what is kept for a part of a frame. True when it has caught up.
bool Stage::catchUp()
{
    constexpr qint64 longestMs = 20;
    QElapsedTimer timer;
    timer.start();
    while (recorder_->run().tickNumber() < catchUpTo_ && !recorder_->stopped()) {
        tickRecorder({});
        if (timer.elapsed() > longestMs)
            return false;
    }
    return true;
}

void Stage::startRecording(bool fromCursor)
{
    pause();
    if (mode_ == Mode::recording)
        return;
    const std::int64_t from = fromCursor ? cursor_ : 0;
    scene::Take kept;
    for (const auto& [tick, input] : sim::inputsByTick(document_.take(), document_.scene().rate))
        if (tick <= from || input.as<scene::TrackPlace>())
            kept.inputs.push_back(input);
    beginRecorder(kept, from);
    hand_.forget();
    pending_.clear();
    held_.clear();
    // Nobody holds the keys that were down in the kept part any more.
    heldButtons_.clear();
    for (const scene::Input& input : kept.inputs) {
        if (const auto* button = input.as<scene::ButtonInput>()) {
            std::erase(heldButtons_, button->button);
            if (button->down)
                heldButtons_.push_back(button->button);
        } else if (const auto* key = input.as<scene::KeyInput>()) {
            std::erase(held_, key->key);
            if (key->down)
                held_.push_back(key->key);
        }
    }
    earlier_ = nullptr;
    differences_ = {};
    judgement_ = {};
    listChanges();
    if (from == 0) {
        record_ = recorder_->share();
        cursor_ = 0;
    }
    chosenLine_ = -1;
    clock_.start();
    playedFrom_ = from;
    setMode(Mode::recording);
    letGoOfAll();
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
    letGoOfAll();
    if (recorder_->run().tickNumber() < catchUpTo_ && !recorder_->stopped()) {
        // Nothing was played since: the take is what was to be caught up with, and is run again
        // like any other.
        scene::Take take;
        for (const auto& [tick, input] : kept_)
            take.inputs.push_back(input);
        const double end = static_cast<double>(catchUpTo_) / recordedScene_->rate;
        for (scene::Input& input : std::exchange(pending_, {})) {
            input.t = end;
            take.inputs.push_back(std::move(input));
        }
        take.length = end;
        frame_.stop();
        recorder_.reset();
        setMode(Mode::still);
        forgetEarlier_ = true; // another play-through is not an edit of the scene
        document_.setTake(tr("Record a take"), hand_.withoutRests(take));
        return;
    }
    if (!pending_.empty()) {
        for (scene::Input& input : pending_)
            input.t = static_cast<double>(recorder_->run().tickNumber() + 1) / recordedScene_->rate;
        tickRecorder(std::exchange(pending_, {}));
    }
    frame_.stop();
    const std::shared_ptr<sim::Record> finished = recorder_->finish();
    recorder_.reset();
    scene::Take take = finished->take;
    for (; keptNext_ < kept_.size(); ++keptNext_) // where driven pieces would have been led next
        take.inputs.push_back(kept_[keptNext_].second);
    take.length = finished->seconds();
    take = hand_.withoutRests(take);
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
    pending_.push_back({0, scene::KeyInput{key, down}});
}

void Stage::dial(const std::string& source, double value)
{
    input({0, scene::DialInput{source, value}});
}

void Stage::call(const std::string& name, const scene::Named<scene::Scalar>& values)
{
    input({0, scene::CallInput{name, values}});
}

void Stage::input(scene::Input input)
{
    if (mode_ != Mode::recording)
        return;
    // Of many places in one tick the last one counts, of many values of a dial too.
    const auto isSame = [&](const scene::Input& last) {
        const bool isPlace = input.as<scene::PointerMove>() || input.as<scene::GlassMove>();
        return last.what.index() == input.what.index() &&
               (isPlace || (input.as<scene::DialInput>() &&
                            scene::nameOf<scene::DialInput>(last) == scene::nameOf<scene::DialInput>(input)));
    };
    if (!pending_.empty() && isSame(pending_.back()))
        pending_.back() = std::move(input);
    else
        pending_.push_back(std::move(input));
}

void Stage::pointer(const geometry::Vec& at)
{
    if (mode_ != Mode::recording)
        return;
    const world::World& world = recorder_->run().world();
    pointerAt_ = at;
    if (const auto led = hand_.move(world, *recorder_->record().scene, at))
        takeOver(*led);
    const geometry::Vec onGlass = at - world.viewCorner();
    const auto isPinnedHere = [&](const world::LivePiece& piece) {
        if (!piece.pinned || !piece.isSeen())
            return false;
        const auto index = static_cast<std::size_t>(&piece - world.pieces().data());
        const geometry::Vec local = geometry::toLocal(world.pose()[index], onGlass);
        return std::ranges::any_of(world.shapesOf(static_cast<world::PieceIndex>(index)), [&](const auto& shape) {
            return std::ranges::any_of(world.partsOf(shape),
                                       [&](const geometry::Hull& part) { return geometry::contains(part, local); });
        });
    };
    const auto rounded = [](const geometry::Vec& v) { // what is saved is what was played
        return geometry::Vec{std::round(v.x * 1e4) / 1e4, std::round(v.y * 1e4) / 1e4};
    };
    if (world.view().follow != world::nobody || std::ranges::any_of(world.pieces(), isPinnedHere))
        input({0, scene::GlassMove{rounded(onGlass)}});
    else
        input({0, scene::PointerMove{rounded(at)}});
}

void Stage::button(scene::Button which, bool down)
{
    if (mode_ != Mode::recording)
        return;
    const auto held = std::ranges::find(heldButtons_, which);
    if (down == (held != heldButtons_.end()))
        return;
    if (down)
        heldButtons_.push_back(which);
    else
        heldButtons_.erase(held);
    if (which == scene::Button::left) {
        if (!down)
            hand_.release();
        else if (recorder_->run().tickNumber() >= catchUpTo_)
            hand_.press(recorder_->run().world(), *recorder_->record().scene, pointerAt_);
    }
    input({0, scene::ButtonInput{which, down}});
}

void Stage::takeOver(const std::string& piece)
{
    kept_.erase(kept_.begin(), kept_.begin() + static_cast<std::ptrdiff_t>(keptNext_));
    keptNext_ = 0;
    // While it catches up, what comes before is still to be played.
    std::erase_if(kept_, [&](const auto& later) {
        return later.first > catchUpTo_ && scene::nameOf<scene::TrackPlace>(later.second) == piece;
    });
    scene::Take leads;
    leads.inputs = recorder_->record().take.inputs;
    for (const auto& [tick, input] : kept_)
        leads.inputs.push_back(input);
    recorder_->run().lead(sim::Tracks::of(leads));
}

void Stage::letGoOfAll()
{
    for (const std::string& name : std::vector(held_))
        key(QString::fromStdString(name), false);
    for (const scene::Button held : std::vector(heldButtons_))
        button(held, false);
}

void Stage::onFrame()
{
    if (mode_ == Mode::playing)
        playFrame();
    else if (mode_ == Mode::recording)
        recordFrame();
}

void Stage::playFrame()
{
    const int rate = record_->scene->rate;
    const auto due = playedFrom_ + static_cast<std::int64_t>(static_cast<double>(clock_.nsecsElapsed()) * 1e-9 * rate);
    cursor_ = std::min(due, record_->lastTick());
    if (loop_ && cursor_ >= loop_->second) {
        cursor_ = loop_->first;
        playedFrom_ = cursor_;
        clock_.restart();
    }
    if (chosenLine_ >= 0) {
        chosenLine_ = -1;
        emit chosenLineChanged();
    }
    emit cursorChanged();
    if (cursor_ >= record_->lastTick())
        pause();
}

void Stage::recordFrame()
{
    const int rate = recordedScene_->rate;
    if (recorder_->run().tickNumber() < catchUpTo_) {
        if (!catchUp())
            return;
        playedFrom_ = recorder_->run().tickNumber();
        clock_.restart();
    }
    const auto due = playedFrom_ + static_cast<std::int64_t>(static_cast<double>(clock_.nsecsElapsed()) * 1e-9 * rate);
    const bool fresh = record_ != recorder_->share();
    record_ = recorder_->share();
    cursor_ = recorder_->run().tickNumber();
    std::int64_t done = 0;
    while (cursor_ < due && done < mostTicksAFrame && !recorder_->stopped()) {
        for (scene::Input& input : pending_)
            input.t = static_cast<double>(cursor_ + 1) / rate;
        tickRecorder(std::exchange(pending_, {}));
        ++cursor_;
        ++done;
    }
    if (cursor_ < due) { // slower than real time: from here on as if it were now
        playedFrom_ = cursor_;
        clock_.restart();
    }
    if (done > 0 || fresh) {
        emit recordChanged();
        emit cursorChanged();
    }
    if (recorder_->stopped())
        stop();
}

} // namespace snare::app
