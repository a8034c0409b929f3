// SPDX-License-Identifier: Apache-2.0
#include "reference/reference.h"

#include "reference/world.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <deque>
#include <functional>
#include <memory>

namespace snare::reference {

namespace {

constexpr double slack = 1e-9;

struct Signal {
    std::string name;
    Json with = Json::object();
    std::optional<std::vector<int>> to;
    int waited = 0; ///< the number under which a run waits for it
};

struct Event {
    std::string kind;
    int self = theScene;
    int visitor = nobody;
    int sender = nobody;
    int shape = -1;
    int part = -1;
    double frac = -1;
    std::string cause;
    std::string word; ///< key, source, watched path, call, phase, value
    double level = 0, band = 0;
    Json value;
    Json with = Json::object(); ///< of a call
    std::shared_ptr<Signal> signal;
    int only = -1;        ///< the snare that it is offered to alone
    int keptBy = -1;      ///< the snare that claims it
    bool settled = false; ///< an exit of K5, what follows from it, or `removed`
    long tick = 0;        ///< of its delivery
};

struct Inside {
    int self, shape, visitor, part;
    long since;
    int number; ///< of this meeting
};
struct Stay {
    int self, visitor;
    long since;
    int number;
};

struct Run {
    int id = 0;
    int snare = -1;
    int self = theScene;
    int visitor = nobody;
    Event event;
    Json steps;
    std::size_t next = 0;
    Json with = Json::object();
    int meeting = 0; ///< 0: it has none; -1: it began with its end
    int startedBy = 0;
    int sequence = 0;
    long until = -1;
    int forSignal = 0;
    int forRun = 0;
    std::string routine;
};

struct Dwell {
    int sequence, snare, self, meeting;
    Event event;
    long until;
};

struct Hold {
    int id;
    int self;
    int meeting;
    std::string what; ///< shown, enabled, value, added, tag, group
    int piece, shape;
    std::string name;
    Json before; ///< null: there was none
};

struct Noted {
    std::string what;
    int piece = nobody;
    int shape = -1;
    int snare = -1;
    Json value = {};
    int hold = 0;
};

struct Timer {
    std::string id;
    int piece;
    double every;
    bool repeat, runs;
    long from;
    long elapsed;
};

struct Watch {
    std::string word, owner, name;
    double level, band;
    std::vector<std::string> places;
};

class Reference {
  public:
    Reference(const Json& scene, const Json& take, double seconds)
        : scene_(scene), rate_(scene.value("rate", 60)), take_(take), seconds_(seconds)
    {
        for (const Json& snare : scene.value("snares", Json::array()))
            snares_.push_back(snare);
        gates_.resize(snares_.size());
        findWatches();
    }

    Result run()
    {
        for (std::size_t i = 0; i < snares_.size(); ++i)
            if (const Json gate = gateOf(i);
                gate.contains("dwell") && !catchesKind(i, "enter") && !catchesKind(i, "stay"))
                line({{"kind", "note"}, {"snare", snares_[i]["id"]}});
        begin();
        const long last = after(0, seconds_);
        for (tick_ = 1; tick_ <= last && stopped_.empty(); ++tick_)
            oneTick();
        return {lines_, stopped_};
    }

  private:
    // --- what is asked of the scene --------------------------------------------------------------------------------

    Json gateOf(std::size_t snare) const { return snares_[snare].value("gate", Json::object()); }
    const Json& catchOf(std::size_t snare) const { return snares_[snare]["catch"]; }
    bool catchesKind(std::size_t snare, const std::string& kind) const
    {
        const Json& event = catchOf(snare)["event"];
        return event.is_string() ? event == kind : std::ranges::find(event, Json(kind)) != event.end();
    }
    std::string nameOf(int index) const
    {
        return index == theScene ? "scene" : index >= 0 ? world_.pieces[static_cast<std::size_t>(index)].id : "";
    }
    Piece& piece(int index) { return world_.pieces[static_cast<std::size_t>(index)]; }
    const Piece& piece(int index) const { return world_.pieces[static_cast<std::size_t>(index)]; }
    const std::string& shapeName(int shape) const { return world_.shapes[static_cast<std::size_t>(shape)].id; }

    long after(long from, double seconds) const // T6
    {
        return from + static_cast<long>(std::ceil(seconds * rate_ - slack));
    }

    bool isSelected(const std::string& place, int index) const
    {
        if (index < 0)
            return index == theScene && place == "scene";
        const Piece& one = piece(index);
        if (place.starts_with("tag:"))
            return std::ranges::find(one.tags, place.substr(4)) != one.tags.end();
        if (place.starts_with("group:"))
            return one.group == place.substr(6);
        if (place.starts_with("template:"))
            return one.form == place.substr(9);
        return one.id == place && index < static_cast<int>(scene_.value("pieces", Json::array()).size());
    }
    std::vector<int> selected(const std::string& place) const
    {
        std::vector<int> result;
        for (int i = 0; i < static_cast<int>(world_.pieces.size()); ++i)
            if (piece(i).present && isSelected(place, i))
                result.push_back(i);
        return result;
    }
    std::string placeOf(std::size_t snare) const { return catchOf(snare).value("at", ""); }

    void findWatches()
    {
        for (std::size_t i = 0; i < snares_.size(); ++i) {
            if (!catchesKind(i, "rises") && !catchesKind(i, "falls"))
                continue;
            const Json& what = catchOf(i);
            Watch watch{
                what.value("source", what.value("watch", "")), "", "", what["level"], what.value("band", 0.0), {}};
            const auto dot = watch.word.find('.');
            watch.owner = watch.word.substr(0, dot);
            watch.name = dot == std::string::npos ? "value" : watch.word.substr(dot + 1);
            const auto same = std::ranges::find_if(watches_, [&](const Watch& other) {
                return other.word == watch.word && other.level == watch.level && other.band == watch.band;
            });
            Watch& kept = same == watches_.end() ? watches_.emplace_back(watch) : *same;
            kept.places.push_back(placeOf(i).empty() ? "scene" : placeOf(i));
        }
    }

    // --- starting (K9, T5) -----------------------------------------------------------------------------------------

    void begin()
    {
        for (int restarts = 0;; ++restarts) {
            if (restarts > 100) {
                stopped_ = "restarts";
                return;
            }
            restart_ = false;
            const std::size_t gone = world_.pieces.size();
            const World old = std::exchange(world_, World{});
            for (const Json& entry : scene_.value("contacts", Json::array()))
                world_.contacts.push_back(entry);
            for (const Json& model : scene_.value("pieces", Json::array()))
                world_.add(model, model["id"], "", tick_);
            const std::size_t own = world_.pieces.size();
            for (std::size_t i = own; i < gone; ++i) { // spawned pieces are gone; their numbers are not used again
                world_.add(old.pieces[i].model, old.pieces[i].id, old.pieces[i].form, tick_);
                world_.pieces.back().present = false;
            }
            phases_ = scene_.value("phases", std::vector<std::string>{});
            phase_ = phases_.empty() ? -1 : 0;
            for (Piece& one : world_.pieces)
                one.here = isDuring(one);
            variables_.clear();
            const Json variables = scene_.value("variables", Json::object());
            for (const auto& [name, value] : variables.items())
                variables_.emplace_back(name, value);
            dials_.clear();
            timers_.clear();
            const Json sources = scene_.value("sources", Json::array());
            for (const Json& source : sources) {
                if (source.contains("dial"))
                    dials_.emplace_back(source["id"], source["dial"]["value"]);
                if (source.contains("timer"))
                    addTimer(source["id"], source["timer"], theScene);
            }
            for (std::size_t i = 0; i < own; ++i)
                addClocks(static_cast<int>(i));
            armed_.clear();
            for (std::size_t i = 0; i < snares_.size(); ++i) {
                armed_.push_back(snares_[i].value("armed", true));
                if (gateOf(i).value("reset", "restart") != "never")
                    gates_[i].clear();
                std::erase_if(gates_[i], [&](const Sprung& one) {
                    return one.self >= static_cast<int>(own) || one.visitor >= static_cast<int>(own);
                });
            }
            queue_.clear();
            noted_.clear();
            inside_.clear();
            stays_.clear();
            counted_.clear();
            runs_.clear();
            dwells_.clear();
            holds_.clear();
            waited_.clear();
            spawned_.clear();
            bandStates_.clear();
            if (phase_ >= 0)
                queuePhase("phase-begin", theScene, phases_[0]);
            for (std::size_t i = 0; i < own; ++i)
                if (world_.pieces[i].phase >= 0)
                    queuePhase("phase-begin", static_cast<int>(i), world_.pieces[i].phases[0]);
            Event start;
            start.kind = "start";
            queue(start);
            deliverAll();
            if (restart_)
                continue;
            for (const Change& change : world_.detect(true))
                queueChange(change);
            deliverAll();
            if (restart_)
                continue;
            queue_.insert(queue_.end(), laterInputs_.begin(), laterInputs_.end());
            laterInputs_.clear();
            deliverAll();
            if (!restart_)
                return;
        }
    }

    bool isDuring(const Piece& one) const
    {
        const Json during = one.model.value("during", Json::array());
        if (during.empty())
            return true;
        const std::string now = phase_ < 0 ? "" : phases_[static_cast<std::size_t>(phase_)];
        return std::ranges::find(during, Json(now)) != during.end();
    }

    void addTimer(const std::string& id, const Json& timer, int owner)
    {
        timers_.push_back(
            {id, owner, timer["every"], timer.value("repeat", true), timer.value("runs", true), tick_, 0});
    }
    void addClocks(int index)
    {
        const Json model = piece(index).model;
        for (const Json& timer : model.value("timers", Json::array()))
            addTimer(timer["id"], timer["timer"], index);
    }

    // --- one tick (K1, K2) -----------------------------------------------------------------------------------------

    struct Item {
        std::string what = "event"; ///< event, key, held, dial, call, resume, dwell, lifetime
        Event event;
        Json input;
        int number = 0;
        bool isInput = false;
    };

    void oneTick()
    {
        signals_ = deliveries_ = 0;
        for (const Json& input : take_.value("inputs", Json::array())) {
            const double t = input["t"];
            if (std::max(1L, after(0, t)) != tick_)
                continue;
            Item item;
            item.what = input.contains("key") ? "key" : input.contains("dial") ? "dial" : "call";
            item.input = input;
            item.isInput = true;
            queue_.push_back(item);
        }
        Item held;
        held.what = "held";
        queue_.push_back(held);
        queueClocks();
        deliverAll();
        if (restart_)
            begin();
        move();
        std::vector<Change> changes = world_.detect(false);
        for (const Change& change : changes)
            queueChange(change);
        deliverAll();
        if (restart_)
            begin();
    }

    void queueClocks()
    {
        const auto elapse = [&](Timer& timer) {
            const auto next = [&] {
                return timer.from + static_cast<long>(std::ceil(
                                        static_cast<double>(timer.elapsed + 1) * timer.every * rate_ - slack));
            };
            if (!timer.runs || tick_ < next())
                return;
            while (tick_ >= next())
                ++timer.elapsed;
            timer.runs = timer.repeat;
            Event event;
            event.kind = "elapsed";
            event.self = timer.piece;
            event.word = timer.id;
            queue(event);
        };
        for (Timer& timer : timers_)
            if (timer.piece == theScene)
                elapse(timer);
        for (int i = 0; i < static_cast<int>(world_.pieces.size()); ++i) {
            if (!piece(i).present)
                continue;
            for (Timer& timer : timers_)
                if (timer.piece == i)
                    elapse(timer);
            if (piece(i).model.contains("lifetime") && tick_ == after(piece(i).born, piece(i).model["lifetime"])) {
                Item item;
                item.what = "lifetime";
                item.number = i;
                queue_.push_back(item);
            }
        }
        std::vector<std::pair<int, Item>> due;
        for (const Run& run : runs_)
            if (run.until >= 0 && run.until <= tick_) {
                Item item;
                item.what = "resume";
                item.number = run.id;
                due.emplace_back(run.sequence, item);
            }
        for (const Dwell& dwell : dwells_)
            if (dwell.until <= tick_) {
                Item item;
                item.what = "dwell";
                item.number = dwell.sequence;
                due.emplace_back(dwell.sequence, item);
            }
        std::ranges::stable_sort(due, {}, [](const auto& one) { return one.first; });
        for (const auto& [sequence, item] : due)
            queue_.push_back(item);
    }

    void move()
    {
        for (Piece& one : world_.pieces) {
            one.fromX = one.x;
            one.fromY = one.y;
            if (one.present && one.here && !one.isStatic) {
                one.x += one.vx * (1.0 / rate_);
                one.y += one.vy * (1.0 / rate_);
            }
        }
    }

    // --- delivery (K3, K6) -----------------------------------------------------------------------------------------

    void queue(const Event& event)
    {
        Item item;
        item.event = event;
        queue_.push_back(item);
    }
    void queuePhase(const std::string& kind, int self, const std::string& phase)
    {
        Event event;
        event.kind = kind;
        event.self = self;
        event.word = phase;
        queue(event);
    }
    void queueChange(const Change& change, bool settled = false)
    {
        Event event;
        event.kind = change.kind;
        event.self = change.self;
        event.visitor = change.visitor;
        event.shape = change.shape;
        event.part = change.part;
        event.frac = change.frac;
        event.cause = change.cause;
        event.settled = settled;
        queue(event);
    }

    void deliverAll()
    {
        while (!queue_.empty() && stopped_.empty() && !restart_) {
            const Item item = queue_.front();
            queue_.pop_front();
            double frac = 0;
            if (item.what == "event") {
                frac = std::max(0.0, item.event.frac);
                deliver(item.event);
            } else if (item.what == "key") {
                deliverKey(item.input);
            } else if (item.what == "held") {
                for (auto key = keysDown_.rbegin(); key != keysDown_.rend(); ++key)
                    queueNext("key-held", *key);
            } else if (item.what == "dial") {
                for (auto& [id, value] : dials_)
                    if (id == item.input["dial"].get<std::string>()) {
                        const double old = value;
                        for (const Json& source : scene_["sources"])
                            if (source["id"] == id)
                                value =
                                    std::clamp(item.input["value"].get<double>(), source["dial"]["low"].get<double>(),
                                               source["dial"]["high"].get<double>());
                        judge(id, nobody, "value", old, value);
                    }
            } else if (item.what == "call") {
                Event event;
                event.kind = "called";
                event.word = item.input["call"];
                event.with = item.input.value("with", Json::object());
                deliver(event);
            } else if (item.what == "resume") {
                resume(item.number);
            } else if (item.what == "dwell") {
                finishDwell(item.number);
            } else {
                noted_.push_back({"remove", item.number});
            }
            settle(frac);
        }
        if (restart_)
            for (const Item& item : queue_)
                if (item.isInput)
                    laterInputs_.push_back(item);
        queue_.clear();
    }

    void queueNext(const std::string& kind, const std::string& key)
    {
        Item item;
        item.event.kind = kind;
        item.event.word = key;
        queue_.push_front(item);
    }

    void deliverKey(const Json& input)
    {
        const std::string key = input["key"];
        const bool down = input["down"];
        const auto held = std::ranges::find(keysDown_, key);
        if (down == (held != keysDown_.end()))
            return;
        if (down)
            keysDown_.push_back(key);
        else
            keysDown_.erase(held);
        queueNext(down ? "key-down" : "key-up", key);
    }

    bool isGone(int index) const { return index >= 0 && !piece(index).present; }
    bool isContact(const std::string& kind) const { return kind == "enter" || kind == "exit" || kind == "stay"; }

    bool whole(int self, int visitor) const // whether the visitor is in the piece
    {
        return std::ranges::any_of(stays_, [&](const Stay& s) { return s.self == self && s.visitor == visitor; });
    }
    int piecesIn(int self) const { return static_cast<int>(std::ranges::count(stays_, self, &Stay::self)); }

    void deliver(Event event)
    {
        event.tick = tick_;
        if (++deliveries_ > 10500 || world_.pieces.size() > 60) {
            stopped_ = "too much"; // a ring that K8 does not count; no use to go on with it here
            return;
        }
        if (event.kind == "heard" || event.kind == "phase-begin" || event.kind == "phase-end")
            if (++signals_ > 10000) {
                stopped_ = "K8";
                return;
            }
        const bool gone = !event.settled && (isGone(event.self) || (event.kind != "heard" && isGone(event.visitor)));
        bool asWhole = true;
        std::vector<int> ended;
        const int before = event.self >= 0 ? piecesIn(event.self) : 0;
        if (event.only < 0 && isContact(event.kind)) {
            const auto in = std::ranges::find_if(inside_, [&](const Inside& one) {
                return one.self == event.self && one.shape == event.shape && one.visitor == event.visitor;
            });
            if (event.kind == "enter") {
                asWhole = !whole(event.self, event.visitor);
                if (!gone) {
                    if (asWhole)
                        stays_.push_back({event.self, event.visitor, tick_, ++lastMeeting_});
                    inside_.push_back({event.self, event.shape, event.visitor, event.part, tick_, ++lastMeeting_});
                }
            } else if (event.kind == "stay") {
                if (in == inside_.end() || in->since == tick_)
                    return; // M5
                asWhole = std::ranges::none_of(inside_, [&](const Inside& one) {
                    return one.self == event.self && one.visitor == event.visitor && one.shape < event.shape &&
                           one.since < tick_;
                });
            } else {
                if (in == inside_.end() && event.settled)
                    return; // its enter was not offered (K5)
                if (in != inside_.end()) {
                    ended.push_back(in->number);
                    inside_.erase(in);
                    const bool left = std::ranges::none_of(inside_, [&](const Inside& one) {
                        return one.self == event.self && one.visitor == event.visitor;
                    });
                    if (left)
                        std::erase_if(stays_, [&](const Stay& stay) {
                            const bool it = stay.self == event.self && stay.visitor == event.visitor;
                            if (it)
                                ended.push_back(stay.number);
                            return it;
                        });
                }
                asWhole = !whole(event.self, event.visitor);
            }
        }
        if (event.only < 0)
            tellEvent(event);
        if (event.self >= 0 && piecesIn(event.self) != before)
            judge(nameOf(event.self), event.self, "count", before, piecesIn(event.self));
        if (event.kind == "exit")
            cancelDwells(ended);
        offer(event, gone, asWhole);
        if (event.kind == "enter" && event.only < 0 && !gone)
            countIn(event, asWhole);
        if (event.kind == "exit") {
            countOut(event, ended);
            forgetGates(event.self);
            giveBack([&](const Hold& hold) { return std::ranges::find(ended, hold.meeting) != ended.end(); });
        }
        if (event.signal && event.signal->waited != 0) {
            Waited& waited = waited_[event.signal->waited];
            waited.delivered = true;
            if (waited.open == 0)
                signalDone(event.signal->waited);
        }
    }

    void tellEvent(const Event& event)
    {
        Json out{{"kind", "event"}, {"event", event.kind}, {"at", nameOf(event.self)}};
        if (isContact(event.kind)) {
            out["shape"] = shapeName(event.shape);
            out["by"] = nameOf(event.visitor);
            out["part"] = shapeName(event.part);
            out["cause"] = event.cause;
            out["frac"] = event.frac;
        } else if (event.kind == "heard") {
            if (event.visitor >= 0)
                out["by"] = nameOf(event.visitor);
            out["signal"] = event.signal->name;
            if (!event.signal->with.empty())
                out["with"] = event.signal->with;
        } else if (event.kind.starts_with("key")) {
            out["key"] = event.word;
        } else if (event.kind == "elapsed") {
            out["source"] = event.word;
        } else if (event.kind == "rises" || event.kind == "falls") {
            out[event.word.find('.') == std::string::npos ? "source" : "watch"] = event.word;
        } else if (event.kind == "called") {
            out["name"] = event.word;
        } else if (event.kind.starts_with("phase")) {
            out["phase"] = event.word;
        } else if (event.kind == "changed") {
            out["value"] = event.word;
        }
        line(out);
    }

    // --- what matches (S1, M9) -------------------------------------------------------------------------------------

    bool hearsAt(std::size_t snare, int self) const
    {
        const std::string place = placeOf(snare);
        return place.empty() || place == "scene" ? self == theScene : isSelected(place, self);
    }

    bool catches(std::size_t snare, const Event& event, bool asWhole) const
    {
        const Json& what = catchOf(snare);
        const std::string kind = event.kind;
        if (isContact(kind)) {
            if (placeOf(snare).empty() || placeOf(snare) == "scene" || !hearsAt(snare, event.self))
                return false;
            if (kind == "stay" && what.contains("every") && !isTimeToStay(snare, event))
                return false;
            return what.contains("shape") ? shapeName(event.shape) == what["shape"].get<std::string>() : asWhole;
        }
        if (kind.starts_with("key"))
            return !what.contains("key") || what["key"] == "any" || what["key"] == event.word;
        if (kind == "elapsed")
            return what.value("source", "") == event.word &&
                   (event.self < 0 || placeOf(snare).empty() || hearsAt(snare, event.self));
        if (kind == "rises" || kind == "falls")
            return what.value("source", what.value("watch", "")) == event.word && what["level"] == event.level &&
                   what.value("band", 0.0) == event.band && hearsAt(snare, event.self);
        if (kind == "called")
            return what.value("name", "") == event.word;
        if (kind == "heard")
            return what.contains("signal") && what["signal"] == event.signal->name;
        if (kind == "start")
            return true;
        if (kind.starts_with("phase"))
            return (!what.contains("phase") || what["phase"] == event.word) && hearsAt(snare, event.self);
        if (kind == "changed")
            return what.value("value", "") == event.word && hearsAt(snare, event.self);
        return hearsAt(snare, event.self); // occupied, vacated, spawned, removed
    }

    bool isTimeToStay(std::size_t snare, const Event& event) const
    {
        long since = tick_;
        if (catchOf(snare).contains("shape")) {
            for (const Inside& one : inside_)
                if (one.self == event.self && one.shape == event.shape && one.visitor == event.visitor)
                    since = one.since;
        } else {
            for (const Stay& one : stays_)
                if (one.self == event.self && one.visitor == event.visitor)
                    since = one.since;
        }
        const double every = catchOf(snare)["every"];
        for (long n = 1;; ++n) {
            const long at = since + static_cast<long>(std::ceil(static_cast<double>(n) * every * rate_ - slack));
            if (at >= tick_)
                return at == tick_;
        }
    }

    /// The meeting that a catch means: with its shape, or with the piece; 0: the visitor is in no
    /// such.
    int meetingOf(std::size_t snare, int self, int visitor) const
    {
        if (catchOf(snare).contains("shape")) {
            for (const Inside& one : inside_)
                if (one.self == self && one.visitor == visitor &&
                    shapeName(one.shape) == catchOf(snare)["shape"].get<std::string>())
                    return one.number;
            return 0;
        }
        for (const Stay& one : stays_)
            if (one.self == self && one.visitor == visitor)
                return one.number;
        return 0;
    }

    static bool happensEverywhere(const Event& event)
    {
        return event.kind.starts_with("key") || event.kind == "called" || event.kind == "heard" ||
               event.kind == "start" || (event.kind == "elapsed" && event.self == theScene);
    }

    void offer(Event& event, bool gone, bool asWhole)
    {
        for (std::size_t snare = 0; snare < snares_.size(); ++snare) {
            if ((event.only >= 0 && event.only != static_cast<int>(snare)) || !catchesKind(snare, event.kind) ||
                !catches(snare, event, asWhole))
                continue;
            std::vector<int> selves{event.self};
            if (happensEverywhere(event)) {
                const std::string place = placeOf(snare);
                selves = place.empty() || place == "scene" ? std::vector{theScene} : selected(place);
                if (event.signal && event.signal->to)
                    std::erase_if(selves, [&](int self) {
                        return std::ranges::find(*event.signal->to, self) == event.signal->to->end();
                    });
            }
            for (const int self : selves)
                offerAt(snare, self, event, gone);
        }
    }

    void offerAt(std::size_t snare, int self, Event& event, bool gone)
    {
        const Json inside = catchOf(snare).value("inside", Json(false));
        if (inside == false || self < 0 || isContact(event.kind))
            return consider(snare, self, event, gone, false);
        for (const int visitor : visitorsAt(snare, self)) {
            if (inside == "nearest" && !isNearest(snare, self, visitor))
                continue;
            Event offered = event;
            offered.visitor = visitor;
            consider(snare, self, offered, gone, false);
            event.keptBy = offered.keptBy;
        }
    }

    std::vector<int> visitorsAt(std::size_t snare, int self) const
    {
        std::vector<int> result;
        if (catchOf(snare).contains("shape")) {
            for (const Inside& one : inside_)
                if (one.self == self && shapeName(one.shape) == catchOf(snare)["shape"].get<std::string>())
                    result.push_back(one.visitor);
        } else {
            for (const Stay& one : stays_)
                if (one.self == self)
                    result.push_back(one.visitor);
        }
        return result;
    }

    bool isNearest(std::size_t snare, int self, int visitor) const
    {
        const auto distance = [&](int other) {
            return std::hypot(piece(other).x - piece(visitor).x, piece(other).y - piece(visitor).y);
        };
        return std::ranges::none_of(selected(placeOf(snare)), [&](int other) {
            return other != self && meetingOf(snare, other, visitor) != 0 &&
                   (distance(other) < distance(self) || (distance(other) == distance(self) && other < self));
        });
    }

    // --- the stages (S1 to S7, S12) --------------------------------------------------------------------------------

    void tellSnare(std::size_t snare, int self, const Event& event, const std::string& stage = {})
    {
        Json out{{"kind", "snare"}, {"snare", snares_[snare]["id"]}, {"self", nameOf(self)}, {"event", event.kind}};
        if (event.visitor >= 0)
            out["visitor"] = nameOf(event.visitor);
        out["outcome"] = stage.empty() ? "sprung" : "slipped";
        if (!stage.empty())
            out["stage"] = stage;
        line(out);
    }

    void consider(std::size_t snare, int self, Event& event, bool gone, bool afterDwell)
    {
        const Json& rule = snares_[snare];
        if (gone)
            return tellSnare(snare, self, event, "gone");
        if (event.keptBy >= 0 && event.keptBy < static_cast<int>(snare))
            return tellSnare(snare, self, event, "armed");
        if (!armed_[snare])
            return tellSnare(snare, self, event, "armed");
        if (self >= 0 && !event.settled && (!piece(self).enabled || !piece(self).here))
            return tellSnare(snare, self, event, "armed");
        if (!isInPhase(rule, self))
            return tellSnare(snare, self, event, "phase");
        const bool counted = event.kind == "occupied" || event.kind == "vacated";
        if (!counted && !passes(rule.value("filter", Json::object()), self, event))
            return tellSnare(snare, self, event, "filter");
        const Json gate = gateOf(snare);
        if (isShut(snare, gate, self, event.visitor))
            return tellSnare(snare, self, event, "gate");
        if (gate.contains("dwell") && !afterDwell && (event.kind == "enter" || event.kind == "stay")) {
            const int meeting = meetingOf(snare, self, event.visitor);
            if (meeting == 0)
                return tellSnare(snare, self, event, "gate");
            const bool waits = std::ranges::any_of(dwells_, [&](const Dwell& dwell) {
                return dwell.snare == static_cast<int>(snare) && dwell.meeting == meeting;
            });
            if (!waits)
                dwells_.push_back(
                    {++sequence_, static_cast<int>(snare), self, meeting, event, after(tick_, gate["dwell"])});
            return;
        }
        const std::string again = rule.value("again", "restart");
        const auto mine = [&](const Run& run) { return run.snare == static_cast<int>(snare) && run.self == self; };
        if (again == "ignore" && std::ranges::any_of(runs_, mine))
            return tellSnare(snare, self, event, "gate");
        if (rule.value("claims", false))
            event.keptBy = static_cast<int>(snare);
        tellSnare(snare, self, event);
        sprang(snare, gate, self, event.visitor);
        if (again == "restart")
            endRuns(mine);
        Run run;
        run.id = ++lastRun_;
        run.snare = static_cast<int>(snare);
        run.self = self;
        run.visitor = event.visitor;
        run.event = event;
        run.steps = rule.value("responses", Json::array());
        if (event.kind == "exit" || event.kind == "vacated")
            run.meeting = -1;
        else if (self >= 0)
            run.meeting = meetingOf(snare, self, event.visitor);
        if (run.meeting == 0 && (isContact(event.kind) || event.kind == "occupied"))
            run.meeting = -1;
        if (event.signal && event.signal->waited != 0) {
            run.startedBy = event.signal->waited;
            ++waited_[run.startedBy].open;
        }
        carryOn(run);
    }

    bool isInPhase(const Json& rule, int self) const
    {
        if (!rule.contains("during"))
            return true;
        const std::string during = rule["during"];
        if (during.starts_with("scene:"))
            return phase_ >= 0 && phases_[static_cast<std::size_t>(phase_)] == during.substr(6);
        return self >= 0 && piece(self).phase >= 0 &&
               piece(self).phases[static_cast<std::size_t>(piece(self).phase)] == during;
    }

    bool passes(const Json& filter, int self, const Event& event) const
    {
        const auto has = [](const Json& list, const std::string& word) {
            return std::ranges::find(list, Json(word)) != list.end();
        };
        const Json tags = filter.value("tags", Json::object());
        const auto list = [](const Json& from, const char* name) { return from.value(name, Json::array()); };
        const bool asks = !list(filter, "groups").empty() || !list(filter, "pieces").empty() ||
                          !list(filter, "templates").empty() || !list(tags, "any").empty() ||
                          !list(tags, "all").empty() || !list(tags, "none").empty();
        if (asks) {
            if (event.visitor < 0)
                return false;
            const Piece& visitor = piece(event.visitor);
            const std::string group =
                event.part >= 0 ? world_.shapes[static_cast<std::size_t>(event.part)].group : visitor.group;
            const auto tagged = [&](const Json& tag) {
                return std::ranges::find(visitor.tags, tag.get<std::string>()) != visitor.tags.end();
            };
            if (!list(filter, "groups").empty() && !has(filter["groups"], group))
                return false;
            if (!list(filter, "pieces").empty() && !has(filter["pieces"], visitor.id))
                return false;
            if (!list(filter, "templates").empty() && !has(filter["templates"], visitor.form))
                return false;
            const Json any = list(tags, "any");
            const Json all = list(tags, "all");
            const Json none = list(tags, "none");
            if ((!any.empty() && std::ranges::none_of(any, tagged)) || !std::ranges::all_of(all, tagged) ||
                std::ranges::any_of(none, tagged))
                return false;
        }
        for (const Json& condition : filter.value("when", Json::array()))
            if (!holds(condition, self, event.visitor, event, Json::object()))
                return false;
        return true;
    }

    struct Sprung {
        int self, visitor, times;
        long last;
    };

    bool isShut(std::size_t snare, const Json& gate, int self, int visitor) const
    {
        const int who = gate.value("each", "snare") == "visitor" ? visitor : nobody;
        for (const Sprung& one : gates_[snare])
            if (one.self == self && one.visitor == who)
                return (gate.contains("limit") && one.times >= gate["limit"].get<int>()) ||
                       (gate.contains("cooldown") && tick_ < after(one.last, gate["cooldown"]));
        return false;
    }
    void sprang(std::size_t snare, const Json& gate, int self, int visitor)
    {
        const int who = gate.value("each", "snare") == "visitor" ? visitor : nobody;
        for (Sprung& one : gates_[snare])
            if (one.self == self && one.visitor == who) {
                ++one.times;
                one.last = tick_;
                return;
            }
        gates_[snare].push_back({self, who, 1, tick_});
    }
    void forgetGates(int self) // S5: when the place is empty
    {
        for (std::size_t snare = 0; snare < snares_.size(); ++snare)
            if (gateOf(snare).value("reset", "restart") == "vacated" && visitorsAt(snare, self).empty())
                std::erase_if(gates_[snare], [&](const Sprung& one) { return one.self == self; });
    }

    // --- counting and dwelling (M11, S4) ---------------------------------------------------------------------------

    struct Counted {
        int snare, self, meeting;
    };
    int countOf(int snare, int self) const
    {
        return static_cast<int>(std::ranges::count_if(
            counted_, [&](const Counted& one) { return one.snare == snare && one.self == self; }));
    }

    void countIn(const Event& event, bool asWhole)
    {
        for (std::size_t snare = 0; snare < snares_.size(); ++snare) {
            const bool hears = catchesKind(snare, "occupied");
            if ((!hears && !catchesKind(snare, "vacated")) || !catches(snare, event, asWhole) ||
                !passes(snares_[snare].value("filter", Json::object()), event.self, event))
                continue;
            const int meeting = meetingOf(snare, event.self, event.visitor);
            counted_.push_back({static_cast<int>(snare), event.self, meeting});
            if (hears && countOf(static_cast<int>(snare), event.self) == 1)
                queueCounted(event, "occupied", "enter", static_cast<int>(snare));
        }
    }
    void countOut(const Event& event, const std::vector<int>& ended)
    {
        for (std::size_t snare = 0; snare < snares_.size(); ++snare) {
            const bool out = std::erase_if(counted_, [&](const Counted& one) {
                                 return one.snare == static_cast<int>(snare) && one.self == event.self &&
                                        std::ranges::find(ended, one.meeting) != ended.end();
                             }) > 0;
            if (out && catchesKind(snare, "vacated") && countOf(static_cast<int>(snare), event.self) == 0)
                queueCounted(event, "vacated", "exit", static_cast<int>(snare));
        }
    }
    /// Behind the events of its kind and moment, among its like in the order of M12.
    void queueCounted(const Event& event, const std::string& kind, const std::string& behind, int snare)
    {
        Item item;
        item.event = event;
        item.event.kind = kind;
        item.event.only = snare;
        const auto moment = [](const Event& one) { return std::llround(one.frac * 1e6); };
        const auto key = [](const Event& one) { return std::tuple(one.self, one.shape, one.visitor, one.only); };
        auto at = queue_.begin();
        while (at != queue_.end() && at->what == "event" && moment(at->event) == moment(event) &&
               (at->event.kind == behind || (at->event.kind == kind && key(at->event) < key(item.event))))
            ++at;
        queue_.insert(at, item);
    }

    void cancelDwells(const std::vector<int>& ended)
    {
        for (std::size_t i = 0; i < dwells_.size();) {
            if (std::ranges::find(ended, dwells_[i].meeting) == ended.end()) {
                ++i;
                continue;
            }
            const Dwell dwell = dwells_[i];
            dwells_.erase(dwells_.begin() + static_cast<std::ptrdiff_t>(i));
            tellSnare(static_cast<std::size_t>(dwell.snare), dwell.self, dwell.event, "gate");
        }
    }
    void finishDwell(int sequence)
    {
        const auto found = std::ranges::find(dwells_, sequence, &Dwell::sequence);
        if (found == dwells_.end())
            return;
        Dwell dwell = *found;
        dwells_.erase(found);
        dwell.event.keptBy = -1;
        consider(static_cast<std::size_t>(dwell.snare), dwell.self, dwell.event, false, true);
    }

    // --- runs (S8 to S10) ------------------------------------------------------------------------------------------

    struct Waited {
        int open = 0;
        bool delivered = false;
    };

    int carryOn(Run run)
    {
        while (run.next < run.steps.size() && stopped_.empty()) {
            const Json step = run.steps[run.next++];
            run.until = -1;
            run.forSignal = run.forRun = 0;
            carryOut(step, run);
            if (run.until < 0 && run.forSignal == 0 && run.forRun == 0)
                continue;
            if (isGone(run.self))
                break;
            run.sequence = ++sequence_;
            runs_.push_back(run);
            return run.id;
        }
        ended(run);
        return 0;
    }
    void ended(const Run& run)
    {
        for (const Run& other : runs_)
            if (other.forRun == run.id)
                queueResume(other.id);
        if (run.startedBy != 0 && waited_.contains(run.startedBy))
            if (Waited& waited = waited_[run.startedBy]; --waited.open == 0 && waited.delivered)
                signalDone(run.startedBy);
    }
    void signalDone(int number)
    {
        waited_.erase(number);
        for (const Run& run : runs_)
            if (run.forSignal == number)
                queueResume(run.id);
    }
    void queueResume(int id)
    {
        Item item;
        item.what = "resume";
        item.number = id;
        queue_.push_back(item);
    }
    void resume(int id)
    {
        const auto found = std::ranges::find(runs_, id, &Run::id);
        if (found == runs_.end())
            return;
        const Run run = *found;
        runs_.erase(found);
        carryOn(run);
    }
    void endRuns(const std::function<bool(const Run&)>& which)
    {
        std::vector<Run> over;
        for (std::size_t i = 0; i < runs_.size();)
            if (which(runs_[i])) {
                over.push_back(runs_[i]);
                runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(i));
            } else {
                ++i;
            }
        for (const Run& run : over)
            ended(run);
    }

    // --- values and targets ----------------------------------------------------------------------------------------

    struct Target {
        int piece, shape;
    };

    const Json* propertyOf(int owner, const std::string& name) const
    {
        const auto& list = owner == theScene ? variables_ : piece(owner).properties;
        for (const auto& [key, value] : list)
            if (key == name)
                return &value;
        return nullptr;
    }

    /// Null: there is none.
    Json valueAt(const std::string& path, int self, int visitor, const Event& event, const Json& with) const
    {
        const auto dot = path.find('.');
        const std::string owner = path.substr(0, dot);
        const std::string name = path.substr(dot + 1);
        if (owner == "signal")
            return event.signal ? event.signal->with.value(name, Json()) : Json();
        if (owner == "with")
            return with.value(name, Json());
        if (owner == "event") {
            if (event.with.contains(name))
                return event.with[name];
            return name == "name" ? Json(event.kind == "called" ? event.word : event.kind) : Json();
        }
        for (const auto& [id, value] : dials_)
            if (id == owner)
                return name == "value" ? Json(value) : Json();
        const int index = owner == "scene"     ? theScene
                          : owner == "self"    ? self
                          : owner == "visitor" ? visitor
                          : owner == "sender"  ? (event.kind == "heard" ? event.sender : visitor)
                                               : found(owner);
        if (index == nobody)
            return {};
        if (const Json* value = propertyOf(index, name))
            return *value;
        if (index == theScene)
            return name == "phase" && phase_ >= 0 ? Json(phases_[static_cast<std::size_t>(phase_)]) : Json();
        const Piece& one = piece(index);
        return name == "x"                         ? Json(one.x)
               : name == "y"                       ? Json(one.y)
               : name == "id"                      ? Json(one.id)
               : name == "group"                   ? Json(one.group)
               : name == "shown"                   ? Json(one.shown)
               : name == "enabled"                 ? Json(one.enabled)
               : name == "count"                   ? Json(static_cast<double>(piecesIn(index)))
               : name == "phase" && one.phase >= 0 ? Json(one.phases[static_cast<std::size_t>(one.phase)])
                                                   : Json();
    }
    int found(const std::string& id) const
    {
        const int index = world_.find(id);
        return index < 0 ? nobody : index;
    }

    Json worked(const Json& value, const Run& run) const
    {
        if (!value.is_object())
            return value;
        if (value.contains("get"))
            return valueAt(value["get"], run.self, run.visitor, run.event, run.with);
        if (value.contains("count"))
            return Json(static_cast<double>(targets(value["count"], run).size()));
        double sum = 0;
        for (const Json& part : value["sum"]) {
            const Json one = worked(part, run);
            if (!one.is_number())
                return {};
            sum += one.get<double>();
        }
        return sum;
    }

    bool holds(const Json& condition, int self, int visitor, const Event& event, const Json& with) const
    {
        const Json left = valueAt(condition["left"], self, visitor, event, with);
        Json right = condition["right"];
        if (right.is_object())
            right = valueAt(right["get"], self, visitor, event, with);
        if (left.is_null() || right.is_null() || left.is_number() != right.is_number() ||
            left.is_string() != right.is_string())
            return false;
        const std::string is = condition["is"];
        return is == "=" ? left == right : is == "!=" ? left != right : is == "<" ? left < right : left > right;
    }

    /// What a name means now; nothing if it is not there.
    std::vector<Target> targetsOf(const std::string& name, const Run& run) const
    {
        std::vector<Target> result;
        if (name.starts_with("tag:") || name.starts_with("group:") || name.starts_with("template:")) {
            for (const int index : selected(name))
                result.push_back({index, -1});
            return result;
        }
        if (name.starts_with("inside:")) {
            const std::string place = name.substr(7);
            const auto slash = place.find('/');
            const int self = found(place.substr(0, slash));
            if (self < 0 || isGone(self))
                return result;
            for (const Stay& one : stays_)
                if (slash == std::string::npos && one.self == self && !isGone(one.visitor))
                    result.push_back({one.visitor, -1});
            for (const Inside& one : inside_)
                if (slash != std::string::npos && one.self == self && shapeName(one.shape) == place.substr(slash + 1) &&
                    !isGone(one.visitor))
                    result.push_back({one.visitor, -1});
            return result;
        }
        const auto slash = name.find('/');
        const std::string owner = name.substr(0, slash);
        int index = nobody;
        if (owner.find('.') != std::string::npos) {
            const Json held = valueAt(owner, run.self, run.visitor, run.event, run.with);
            index = held.is_string() ? found(held) : nobody;
        } else {
            index = owner == "scene"     ? theScene
                    : owner == "self"    ? run.self
                    : owner == "visitor" ? run.visitor
                    : owner == "sender"  ? (run.event.kind == "heard" ? run.event.sender : run.visitor)
                                         : found(owner);
        }
        if (index == nobody || isGone(index))
            return result;
        if (slash == std::string::npos)
            return {{index, -1}};
        if (index >= 0)
            for (const int shape : piece(index).shapes)
                if (shapeName(shape) == name.substr(slash + 1))
                    result.push_back({index, shape});
        return result;
    }

    std::vector<Target> targets(const Json& on, const Run& run) const
    {
        std::vector<Target> result;
        for (const Json& name : on.is_array() ? on : Json::array({on}))
            for (const Target& one : targetsOf(name, run))
                if (std::ranges::none_of(result, [&](const Target& other) {
                        return other.piece == one.piece && other.shape == one.shape;
                    }))
                    result.push_back(one);
        return result;
    }

    void judge(const std::string& owner, int index, const std::string& name, double old, double now)
    {
        if (old == now)
            return;
        for (std::size_t i = 0; i < watches_.size(); ++i) {
            const Watch& watch = watches_[i];
            if (watch.name != name || (watch.owner != "self" && watch.owner != owner))
                continue;
            std::vector<int> selves;
            const auto add = [&](int self) {
                if (std::ranges::find(selves, self) == selves.end())
                    selves.push_back(self);
            };
            for (const std::string& place : watch.places) {
                if (watch.owner == "self") {
                    if (index != nobody && isSelected(place, index))
                        add(index);
                } else if (place == "scene") {
                    add(theScene);
                } else {
                    for (const int self : selected(place))
                        add(self);
                }
            }
            for (const int self : selves) {
                bool rises = old <= watch.level && now > watch.level;
                bool falls = old >= watch.level && now < watch.level;
                if (watch.band > 0) {
                    BandState& state = bandStates_[{i, self}];
                    state.mustDip = state.mustDip && !(now < watch.level - watch.band);
                    state.mustPeak = state.mustPeak && !(now > watch.level + watch.band);
                    rises = rises && !state.mustDip;
                    falls = falls && !state.mustPeak;
                    state.mustDip = state.mustDip || rises;
                    state.mustPeak = state.mustPeak || falls;
                }
                if (!rises && !falls)
                    continue;
                Event event;
                event.kind = rises ? "rises" : "falls";
                event.self = self;
                event.word = watch.word;
                event.level = watch.level;
                event.band = watch.band;
                queue(event);
            }
        }
    }

    void setValue(int owner, const std::string& name, const Json& value)
    {
        auto& list = owner == theScene ? variables_ : piece(owner).properties;
        const auto held = std::ranges::find(list, name, [](const auto& one) { return one.first; });
        const Json old = held == list.end() ? Json() : held->second;
        if (old == value)
            return;
        if (value.is_null())
            list.erase(held);
        else if (held == list.end())
            list.emplace_back(name, value);
        else
            held->second = value;
        Event event;
        event.kind = "changed";
        event.self = owner;
        event.word = name;
        queue(event);
        if (old.is_number() && value.is_number())
            judge(nameOf(owner), owner, name, old, value);
    }

    // --- responses -------------------------------------------------------------------------------------------------

    void tellResponse(const Run& run, const Json& step, int on, const Json& with = Json::object())
    {
        Json out{{"kind", "response"},
                 {"snare", snares_[static_cast<std::size_t>(run.snare)]["id"]},
                 {"step", run.next},
                 {"do", step["do"]}};
        if (!run.routine.empty())
            out["routine"] = run.routine;
        if (on != nobody)
            out["on"] = nameOf(on);
        if (!with.empty())
            out["with"] = with;
        line(out);
    }
    void tellNote(const Run& run)
    {
        Json out{{"kind", "note"}, {"snare", snares_[static_cast<std::size_t>(run.snare)]["id"]}, {"step", run.next}};
        if (!run.routine.empty())
            out["routine"] = run.routine;
        line(out);
    }

    bool isOn(int meeting) const
    {
        return meeting > 0 && (std::ranges::find(inside_, meeting, &Inside::number) != inside_.end() ||
                               std::ranges::find(stays_, meeting, &Stay::number) != stays_.end());
    }

    int hold(const Json& step, const Run& run, const std::string& what, const Target& target, const std::string& name,
             const Json& before)
    {
        if (!step.contains("until") || !isOn(run.meeting))
            return 0;
        holds_.push_back({++lastHold_, run.self, run.meeting, what, target.piece, target.shape, name, before});
        return lastHold_;
    }

    void carryOut(const Json& step, Run& run)
    {
        for (const Json& condition : step.value("if", Json::array()))
            if (!holds(condition, run.self, run.visitor, run.event, run.with))
                return;
        const std::string what = step["do"];
        std::vector<Target> on;
        const bool acts = what != "signal" && what != "wait" && what != "arm" && what != "disarm" && what != "rearm" &&
                          what != "restart" && what != "spawn" && what != "timer" && what != "run" && what != "log";
        const Json wanted = what == "signal" ? step.value("to", Json()) : step.value("on", Json("self"));
        if (acts || (what == "signal" && !wanted.is_null())) {
            for (const Json& name : wanted.is_array() ? wanted : Json::array({wanted}))
                if (targetsOf(name, run).empty())
                    tellNote(run);
            on = targets(wanted, run);
            const bool ofShapes =
                what == "show" || what == "hide" || what == "enable" || what == "disable" || what == "regroup";
            if (what != "say" && what != "set" && what != "add" && what != "phase" && what != "signal")
                std::erase_if(on, [](const Target& one) { return one.piece < 0; });
            if (!ofShapes) { // each piece once
                std::vector<Target> once;
                for (const Target& one : on)
                    if (std::ranges::find(once, one.piece, &Target::piece) == once.end())
                        once.push_back({one.piece, -1});
                on = once;
            }
            if (on.empty())
                return;
        }
        if ((step.contains("until") || what == "prompt") && run.meeting != 0 && !isOn(run.meeting))
            return tellNote(run); // S13
        if (what == "say") {
            for (const Target& one : on)
                tellResponse(run, step, one.piece);
            if (step.value("wait", false))
                waitUntil(run, after(tick_, step["for"]));
        } else if (what == "log") {
            tellResponse(run, step, nobody);
            tellNote(run);
        } else if (what == "show" || what == "hide" || what == "enable" || what == "disable" || what == "remove") {
            for (const Target& one : on) {
                tellResponse(run, step, one.piece);
                Noted noted{what, one.piece, one.shape, run.snare};
                noted.hold = hold(step, run, what == "show" || what == "hide" ? "shown" : "enabled", one, "", Json());
                noted_.push_back(noted);
            }
        } else if (what == "arm" || what == "disarm" || what == "rearm") {
            tellResponse(run, step, nobody);
            for (const std::string id : step["snares"]) {
                const auto named = std::ranges::find_if(snares_, [&](const Json& snare) { return snare["id"] == id; });
                if (named == snares_.end())
                    tellNote(run);
                else if (what == "rearm")
                    gates_[static_cast<std::size_t>(named - snares_.begin())].clear();
                else
                    noted_.push_back({what, nobody, -1, static_cast<int>(named - snares_.begin())});
            }
        } else if (what == "set" || what == "add") {
            const Json value = worked(step["value"], run);
            if (value.is_null() || (what == "add" && !value.is_number()))
                return tellNote(run);
            for (const Target& one : on) {
                const Json* old = propertyOf(one.piece, step["name"]);
                if (what == "add" && old && !old->is_number()) {
                    tellNote(run);
                    continue;
                }
                tellResponse(run, step, one.piece, {{"name", step["name"]}, {"value", value}});
                if (what == "set") {
                    hold(step, run, "value", {one.piece, -1}, step["name"], old ? *old : Json());
                    setValue(one.piece, step["name"], value);
                } else {
                    hold(step, run, "added", {one.piece, -1}, step["name"], value);
                    setValue(one.piece, step["name"], (old ? old->get<double>() : 0.0) + value.get<double>());
                }
            }
        } else if (what == "tag" || what == "untag") {
            for (const Target& one : on) {
                tellResponse(run, step, one.piece);
                const bool had = std::ranges::find(piece(one.piece).tags, step["tag"].get<std::string>()) !=
                                 piece(one.piece).tags.end();
                setTag(one.piece, step["tag"], what == "tag");
                hold(step, run, "tag", {one.piece, -1}, step["tag"], had);
            }
        } else if (what == "regroup") {
            for (const Target& one : on) {
                tellResponse(run, step, one.piece);
                Noted noted{what, one.piece, one.shape, run.snare, step["group"]};
                noted.hold = hold(step, run, "group", one, "", Json());
                noted_.push_back(noted);
            }
        } else if (what == "put") {
            for (const Target& one : on) {
                Json at = step["at"];
                if (at == "home")
                    at = Json::array({piece(one.piece).homeX, piece(one.piece).homeY});
                else if (at.is_string()) {
                    const auto there = targetsOf(at, run);
                    if (there.empty() || there.front().piece < 0) {
                        tellNote(run);
                        continue;
                    }
                    at = Json::array({piece(there.front().piece).x, piece(there.front().piece).y});
                }
                tellResponse(run, step, one.piece);
                noted_.push_back({what, one.piece, -1, run.snare, at});
            }
        } else if (what == "phase") {
            for (const Target& one : on) {
                tellResponse(run, step, one.piece);
                noted_.push_back({what, one.piece, -1, run.snare, step["to"]});
                noted_.back().hold = -static_cast<int>(run.next);
            }
        } else if (what == "signal") {
            auto signal = std::make_shared<Signal>();
            signal->name = step["name"];
            const Json values = step.value("with", Json::object());
            for (const auto& [name, value] : values.items())
                if (const Json one = worked(value, run); !one.is_null())
                    signal->with[name] = one;
                else
                    tellNote(run);
            if (!wanted.is_null()) {
                signal->to.emplace();
                for (const Target& one : on)
                    signal->to->push_back(one.piece);
            }
            tellResponse(run, step, nobody);
            if (step.value("wait", false)) {
                signal->waited = run.forSignal = ++lastSignal_;
                waited_[signal->waited] = {};
            }
            Event event;
            event.kind = "heard";
            event.visitor = event.sender = run.self >= 0 ? run.self : nobody;
            event.signal = signal;
            queue(event);
        } else if (what == "wait") {
            tellResponse(run, step, nobody);
            waitUntil(run, after(tick_, step["for"]));
        } else if (what == "timer") {
            for (Timer& timer : timers_)
                if (timer.id == step["source"] && timer.piece == theScene) {
                    timer.runs = step["to"] == "start";
                    timer.from = tick_;
                    timer.elapsed = 0;
                }
            tellResponse(run, step, nobody);
        } else if (what == "spawn") {
            spawn(step, run);
        } else if (what == "run") {
            Json with = Json::object();
            const Json values = step.value("with", Json::object());
            for (const auto& [name, value] : values.items())
                if (const Json one = worked(value, run); !one.is_null())
                    with[name] = one;
                else
                    tellNote(run);
            tellResponse(run, step, nobody);
            Run inner = run;
            inner.id = ++lastRun_;
            inner.steps = scene_["routines"][step["routine"].get<std::string>()];
            inner.next = 0;
            inner.with = with;
            inner.routine = step["routine"];
            if (inner.startedBy != 0)
                ++waited_[inner.startedBy].open;
            const int waits = carryOn(inner);
            if (step.value("wait", false) && waits != 0)
                run.forRun = waits;
        } else if (what == "restart") {
            tellResponse(run, step, nobody);
            noted_.push_back({what});
        }
    }

    void waitUntil(Run& run, long tick) const { run.until = tick > tick_ ? tick : -1; }

    void setTag(int index, const std::string& tag, bool given)
    {
        auto& tags = piece(index).tags;
        std::erase(tags, tag);
        if (given)
            tags.push_back(tag);
    }

    void spawn(const Json& step, const Run& run)
    {
        const std::string form = step["template"];
        Json at = step.value("at", Json());
        if (at.is_null() && run.self >= 0)
            at = Json::array({piece(run.self).x, piece(run.self).y});
        if (at.is_null())
            at = Json::array({0, 0});
        Json set = Json::object();
        const Json values = step.value("set", Json::object());
        for (const auto& [name, value] : values.items())
            if (const Json one = worked(value, run); !one.is_null())
                set[name] = one;
            else
                tellNote(run);
        std::string id;
        do
            id = fmt::format("{}-{}", form, ++spawned_[form]);
        while (world_.find(id) >= 0 && piece(world_.find(id)).present);
        tellResponse(run, step, nobody);
        if (step.contains("as"))
            setValue(run.self >= 0 ? run.self : theScene, step["as"], id);
        Noted noted{"spawn"};
        noted.value = {{"template", form}, {"id", id}, {"at", at}, {"set", set}};
        noted.snare = run.snare;
        noted_.push_back(noted);
    }

    // --- settling (K4, K5, K7) -------------------------------------------------------------------------------------

    void settle(double frac)
    {
        if (noted_.empty())
            return;
        if (std::ranges::find(noted_, "restart", &Noted::what) != noted_.end()) {
            restart_ = true;
            noted_.clear();
            return;
        }
        const std::vector<Noted> noted = std::exchange(noted_, {});
        std::vector<int> removed;
        std::vector<Event> spawned;
        std::vector<Event> phases;
        std::vector<std::pair<int, std::string>> began; // phases that snares may catch up with
        std::vector<int> armedNow;
        std::map<int, std::vector<std::string>> ends; // by shape: what may end its meetings, in order
        const auto eachShape = [&](const Noted& one, auto&& act) {
            for (const int shape : piece(one.piece).shapes)
                if (one.shape < 0 || one.shape == shape)
                    act(shape, world_.shapes[static_cast<std::size_t>(shape)]);
        };
        for (const Noted& one : noted) {
            if (one.what == "arm" || one.what == "disarm") {
                const bool arm = one.what == "arm";
                if (arm && !armed_[static_cast<std::size_t>(one.snare)])
                    armedNow.push_back(one.snare);
                armed_[static_cast<std::size_t>(one.snare)] = arm;
                continue;
            }
            if (one.what == "phase") {
                changePhase(one, removed, phases, began, ends);
                continue;
            }
            if (one.what == "spawn") {
                spawned.push_back(addSpawned(one.value, phases));
                continue;
            }
            if (isGone(one.piece))
                continue;
            Piece& piece = this->piece(one.piece);
            const auto held = std::ranges::find(holds_, one.hold, &Hold::id);
            if (one.what == "remove") {
                piece.present = false;
                removed.push_back(one.piece);
                eachShape(one, [&](int shape, Shape&) { ends[shape].push_back("removed"); });
            } else if (one.what == "put") {
                piece.x = piece.fromX = one.value[0];
                piece.y = piece.fromY = one.value[1];
                eachShape(one, [&](int, Shape& shape) { shape.changed = "put"; });
            } else if (one.what == "regroup") {
                if (held != holds_.end())
                    held->before =
                        one.shape < 0 ? piece.group : world_.shapes[static_cast<std::size_t>(one.shape)].group;
                if (one.shape < 0)
                    piece.group = one.value;
                eachShape(one, [&](int index, Shape& shape) {
                    if (shape.group == one.value.get<std::string>())
                        return;
                    shape.group = one.value;
                    shape.changed = "regrouped";
                    ends[index].push_back("regrouped");
                });
            } else {
                const bool shows = one.what == "show" || one.what == "hide";
                const bool on = one.what == "show" || one.what == "enable";
                const std::string off = shows ? "hidden" : "disabled";
                bool& flag = one.shape < 0 ? (shows ? piece.shown : piece.enabled)
                                           : (shows ? world_.shapes[static_cast<std::size_t>(one.shape)].shown
                                                    : world_.shapes[static_cast<std::size_t>(one.shape)].enabled);
                if (held != holds_.end())
                    held->before = flag;
                if (flag == on)
                    continue;
                flag = on;
                eachShape(one, [&](int index, Shape& shape) {
                    if (on) {
                        shape.changed = shows ? "shown" : "enabled";
                        std::erase(ends[index], off);
                    } else {
                        ends[index].push_back(off);
                    }
                });
            }
        }
        int here = 0;
        for (std::size_t i = scene_.value("pieces", Json::array()).size(); i < world_.pieces.size(); ++i)
            here += world_.pieces[i].present ? 1 : 0;
        if (here > 10000) {
            stopped_ = "K8";
            return;
        }
        const auto causeOf = [&](int shape, bool groupsEndIt) -> std::string {
            std::string cause;
            for (const std::string& one : ends[shape]) {
                if (one == "removed")
                    return one;
                if (one != "regrouped" || groupsEndIt)
                    cause = one;
            }
            return cause;
        };
        const auto mayGroupsMeet = [&](int a, int b) {
            for (const auto& entry : world_.contacts) {
                const std::string& one = world_.shapes[static_cast<std::size_t>(a)].group;
                const std::string& two = world_.shapes[static_cast<std::size_t>(b)].group;
                if ((entry[0] == one && entry[1] == two) || (entry[0] == two && entry[1] == one))
                    return entry[2] != "pass";
            }
            return true;
        };
        const std::vector<Change> over = world_.endMeetings(frac, [&](const Change& change) -> std::string {
            const bool groupsEndIt = !mayGroupsMeet(change.shape, change.part);
            const std::string visitors = causeOf(change.part, groupsEndIt);
            return visitors.empty() ? causeOf(change.shape, groupsEndIt) : visitors;
        });
        for (const Change& change : over)
            queueChange(change, true);
        for (const int index : removed) {
            Event event;
            event.kind = "removed";
            event.self = index;
            event.settled = true;
            queue(event);
            endRuns([&](const Run& run) { return run.self == index; });
            giveBack([&](const Hold& hold) { return hold.self == index; });
        }
        for (const Event& event : spawned)
            queue(event);
        for (const Event& event : phases)
            queue(event);
        for (const int snare : armedNow)
            catchUp(static_cast<std::size_t>(snare), nobody);
        for (const auto& [owner, phase] : began) {
            const std::string during = (owner == theScene ? "scene:" : "") + phase;
            for (std::size_t i = 0; i < snares_.size(); ++i)
                if (snares_[i].value("during", "") == during && armed_[i])
                    catchUp(i, owner == theScene ? nobody : owner);
        }
        settle(frac);
    }

    void changePhase(const Noted& one, const std::vector<int>& removed, std::vector<Event>& phases,
                     std::vector<std::pair<int, std::string>>& began, std::map<int, std::vector<std::string>>& ends)
    {
        if (isGone(one.piece) && std::ranges::find(removed, one.piece) == removed.end())
            return;
        const std::vector<std::string> names = one.piece == theScene ? phases_ : piece(one.piece).phases;
        int& now = one.piece == theScene ? phase_ : piece(one.piece).phase;
        const std::string to = one.value;
        const int next = to == "next" ? (names.empty() ? 0 : (now + 1) % static_cast<int>(names.size()))
                                      : static_cast<int>(std::ranges::find(names, to) - names.begin());
        if (next >= static_cast<int>(names.size())) {
            line(
                {{"kind", "note"}, {"snare", snares_[static_cast<std::size_t>(one.snare)]["id"]}, {"step", -one.hold}});
            return;
        }
        if (next == now)
            return;
        for (const bool ends_ : {true, false}) {
            Event event;
            event.kind = ends_ ? "phase-end" : "phase-begin";
            event.self = one.piece;
            event.word = names[static_cast<std::size_t>(ends_ ? now : next)];
            phases.push_back(event);
        }
        now = next;
        began.emplace_back(one.piece, names[static_cast<std::size_t>(next)]);
        if (one.piece != theScene)
            return;
        for (Piece& piece : world_.pieces) {
            const bool here = isDuring(piece);
            if (!piece.present || piece.here == here)
                continue;
            piece.here = here;
            for (const int shape : piece.shapes)
                if (here) {
                    world_.shapes[static_cast<std::size_t>(shape)].changed = "phase";
                    std::erase(ends[shape], "phase");
                } else {
                    ends[shape].push_back("phase");
                }
        }
    }

    Event addSpawned(const Json& order, std::vector<Event>& phases)
    {
        Json model = scene_["templates"][order["template"].get<std::string>()];
        model["at"] = order["at"];
        const int index = world_.add(model, order["id"], order["template"], tick_);
        Piece& piece = this->piece(index);
        piece.here = isDuring(piece);
        for (const auto& [name, value] : order["set"].items()) {
            std::erase_if(piece.properties, [&, name = name](const auto& one) { return one.first == name; });
            piece.properties.emplace_back(name, value);
        }
        for (const int shape : piece.shapes)
            world_.shapes[static_cast<std::size_t>(shape)].changed = "spawned";
        addClocks(index);
        Event event;
        event.kind = "spawned";
        event.self = index;
        if (piece.phase >= 0) {
            Event begins;
            begins.kind = "phase-begin";
            begins.self = index;
            begins.word = piece.phases[0];
            phases.push_back(begins);
        }
        return event;
    }

    void catchUp(std::size_t snare, int only) // S7
    {
        if (!gateOf(snare).value("catchUp", false) || !catchesKind(snare, "enter"))
            return;
        for (const int self : selected(placeOf(snare))) {
            if (only != nobody && self != only)
                continue;
            for (const int visitor : visitorsAt(snare, self)) {
                const auto in = std::ranges::find_if(inside_, [&](const Inside& one) {
                    return one.self == self && one.visitor == visitor &&
                           (!catchOf(snare).contains("shape") ||
                            shapeName(one.shape) == catchOf(snare)["shape"].get<std::string>());
                });
                Event event;
                event.kind = "enter";
                event.self = self;
                event.visitor = visitor;
                event.shape = in->shape;
                event.part = in->part;
                event.cause = "armed";
                event.frac = 0;
                event.only = static_cast<int>(snare);
                queue(event);
            }
        }
    }

    /// S13: the last one first. What a later hold of the same thing covers goes to that one.
    void giveBack(const std::function<bool(const Hold&)>& which)
    {
        for (std::size_t i = holds_.size(); i-- > 0;) {
            if (!which(holds_[i]))
                continue;
            const Hold hold = holds_[i];
            holds_.erase(holds_.begin() + static_cast<std::ptrdiff_t>(i));
            const auto later =
                std::find_if(holds_.begin() + static_cast<std::ptrdiff_t>(i), holds_.end(), [&](const Hold& other) {
                    return other.what == hold.what && other.piece == hold.piece && other.shape == hold.shape &&
                           other.name == hold.name && hold.what != "added";
                });
            if (later != holds_.end()) {
                later->before = hold.before;
                continue;
            }
            if (isGone(hold.piece))
                continue;
            Noted noted{"", hold.piece, hold.shape};
            if (hold.what == "shown" || hold.what == "enabled") {
                noted.what = hold.what == "shown" ? (hold.before == true ? "show" : "hide")
                                                  : (hold.before == true ? "enable" : "disable");
                noted_.push_back(noted);
            } else if (hold.what == "group") {
                noted.what = "regroup";
                noted.value = hold.before;
                noted_.push_back(noted);
            } else if (hold.what == "value") {
                setValue(hold.piece, hold.name, hold.before);
            } else if (hold.what == "added") {
                if (const Json* now = propertyOf(hold.piece, hold.name); now && now->is_number())
                    setValue(hold.piece, hold.name, now->get<double>() - hold.before.get<double>());
            } else {
                setTag(hold.piece, hold.name, hold.before == true);
            }
        }
    }

    // --- the log ---------------------------------------------------------------------------------------------------

    void line(Json out)
    {
        out["tick"] = tick_;
        lines_.push_back(lineOf(out));
    }

    struct BandState {
        bool mustDip = false, mustPeak = false;
    };

    Json scene_;
    int rate_;
    Json take_;
    double seconds_;
    std::vector<Json> snares_;
    std::vector<Watch> watches_;

    long tick_ = 0;
    World world_;
    std::vector<std::string> phases_;
    int phase_ = -1;
    std::vector<std::pair<std::string, Json>> variables_;
    std::vector<std::pair<std::string, double>> dials_;
    std::vector<Timer> timers_;
    std::vector<std::string> keysDown_;
    std::vector<char> armed_;
    std::vector<std::vector<Sprung>> gates_;
    std::deque<Item> queue_;
    std::vector<Item> laterInputs_;
    std::vector<Noted> noted_;
    std::vector<Inside> inside_;
    std::vector<Stay> stays_;
    std::vector<Counted> counted_;
    std::vector<Run> runs_;
    std::vector<Dwell> dwells_;
    std::vector<Hold> holds_;
    std::map<int, Waited> waited_;
    std::map<std::string, int> spawned_;
    std::map<std::pair<std::size_t, int>, BandState> bandStates_;
    int lastMeeting_ = 0;
    int lastRun_ = 0;
    int lastHold_ = 0;
    int lastSignal_ = 0;
    int sequence_ = 0;
    int signals_ = 0;
    int deliveries_ = 0;
    bool restart_ = false;
    std::string stopped_;
    std::vector<std::string> lines_;
};

} // namespace

Result run(const Json& scene, const Json& take, double seconds)
{
    return Reference{scene, take, seconds}.run();
}

std::string lineOf(const Json& line)
{
    std::string text = fmt::format("{}", line["tick"].get<long>());
    for (const char* key : {"kind", "event",  "snare", "routine", "step",  "do",      "self",  "visitor",
                            "at",   "shape",  "by",    "part",    "cause", "outcome", "stage", "on",
                            "key",  "source", "watch", "name",    "phase", "signal",  "value"})
        if (line.contains(key) && !line[key].is_null())
            text += line[key].is_string() ? " " + line[key].get<std::string>() : " " + line[key].dump();
    if (line.contains("frac"))
        text += fmt::format(" {:.6f}", std::round(line["frac"].get<double>() * 1e6) / 1e6 + 0.0);
    if (line.contains("with") &&
        (line.value("event", "") == "heard" || line.value("do", "") == "set" || line.value("do", "") == "add"))
        for (const auto& [name, value] : line["with"].items())
            if (name != "until")
                text += value.is_number() ? fmt::format(" {}={:.9g}", name, value.get<double>())
                                          : fmt::format(" {}={}", name, value.dump());
    return text;
}

} // namespace snare::reference
