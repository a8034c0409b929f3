// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/lanes.h"

#include "app/ui/key_names.h"
#include "app/ui/text.h"
#include "app/ui/words.h"

#include <QObject>

#include <map>

namespace snare::app {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

/// The moment of a line in ticks: a frac counts back from the end of its tick.
double momentOf(const Line& line)
{
    return line.frac >= 0 ? line.tick - 1 + line.frac : line.tick;
}

constexpr std::size_t mostSpawned = 50; ///< phase lanes of spawned pieces: a swarm would leave no room for the rest

} // namespace

class LaneBook::Builder {
  public:
    explicit Builder(const sim::Record& record) : record_(record)
    {
        setUp();
        follow();
    }

    /// Whether lanes would have to be put in between: something was spawned that has phases.
    bool lacksLanes() const
    {
        const std::size_t last = std::min(record_.pieces.size(), record_.scene->pieces.size() + mostSpawned);
        for (std::size_t i = pieces_; i < last; ++i)
            if (!record_.pieces[i].model->phases.empty())
                return true;
        return false;
    }

    void follow()
    {
        for (; lines_ < record_.journal.lines.size(); ++lines_)
            take(record_.journal.lines[lines_], static_cast<std::int32_t>(lines_));
        for (; values_ < record_.journal.values.size(); ++values_)
            takeValue(record_.journal.values[values_]);
        for (; phaseChanges_ < record_.journal.phases.size(); ++phaseChanges_)
            takePhase(record_.journal.phases[phaseChanges_]);
        for (; inputs_ < record_.take.inputs.size(); ++inputs_)
            takePlace(record_.take.inputs[inputs_]);
        // What goes on goes on to the end.
        const auto end = static_cast<double>(record_.lastTick());
        for (const auto& [lane, bars] : open_)
            for (const std::int32_t bar : bars)
                lanes_[lane].bars[static_cast<std::size_t>(bar)].to = end;
        for (const auto& [owner, lane] : phaseLanes_)
            lanes_[lane].bars.back().to = end;
    }

    std::vector<Lane>& lanes() { return lanes_; }

  private:
    void setUp()
    {
        lanes_.push_back({LaneKind::keys, "keys", QObject::tr("keys"), {}, {}, {}, {}, {}, {}});
        buttons_ = lanes_.size();
        lanes_.push_back({LaneKind::keys, "buttons", QObject::tr("buttons"), {}, {}, {}, {}, {}, {}});
        pointer_ = lanes_.size();
        lanes_.push_back({LaneKind::pointer, "pointer", QObject::tr("pointer"), {}, {}, {}, {}, {}, {}});
        calls_ = lanes_.size();
        lanes_.push_back({LaneKind::raised, "calls", QObject::tr("calls"), {}, {}, {}, {}, {}, {}});
        const scene::Scene& scene = *record_.scene;
        for (const scene::Piece& piece : scene.pieces)
            if (std::holds_alternative<scene::DrivenBody>(piece.body))
                ledLane(piece.id);
        for (const scene::Input& input : record_.take.inputs)
            if (const auto* place = input.as<scene::TrackPlace>())
                ledLane(place->piece);
        addPhaseLanes();
        addMeetingLanes(scene::Role::zone);
        addMeetingLanes(scene::Role::solid);
        hits_ = lanes_.size();
        lanes_.push_back({LaneKind::hits, "hits", QObject::tr("hits"), {}, {}, {}, {}, {}, {}});
        firstSnare_ = lanes_.size();
        for (const scene::Snare& snare : scene.snares)
            lanes_.push_back({LaneKind::snare, "snare " + snare.id, toText(snare.id), {}, snare.id, {}, {}, {}, {}});
        signals_ = lanes_.size();
        lanes_.push_back({LaneKind::raised, "signals", QObject::tr("signals"), {}, {}, {}, {}, {}, {}});
        for (std::size_t i = 0; i < scene.sources.size(); ++i)
            if (const auto* dial = std::get_if<scene::DialSource>(&scene.sources[i].kind))
                valueLane(world::sourceIndex(i), "value", dial->value);
        for (const auto& [name, value] : scene.variables.entries)
            valueLane(world::theScene, name, value);
    }

    /// The lane of the places over which a piece is led.
    std::size_t ledLane(const std::string& piece)
    {
        const auto [found, isNew] = ledLanes_.try_emplace(piece, lanes_.size());
        if (isNew) {
            Lane lane;
            lane.kind = LaneKind::raised;
            lane.key = "led " + piece;
            lane.title = QObject::tr("%1 · led").arg(toText(piece));
            lane.piece = lane.led = piece;
            lanes_.push_back(std::move(lane));
        }
        return found->second;
    }

    void takePlace(const scene::Input& input)
    {
        const auto* place = input.as<scene::TrackPlace>();
        if (!place)
            return;
        std::vector<LaneMark>& marks = lanes_[ledLane(place->piece)].marks;
        LaneMark mark;
        mark.at = input.t * record_.scene->rate;
        mark.kind = MarkKind::signal;
        mark.text = QStringLiteral("%1, %2").arg(figure(place->at.x), figure(place->at.y));
        if (place->turn)
            mark.text += QStringLiteral(" · %1°").arg(figure(*place->turn));
        marks.insert(std::ranges::upper_bound(marks, mark.at, {}, &LaneMark::at), std::move(mark));
    }

    /// A segment for each phase of the scene and of the pieces that have any.
    void addPhaseLanes()
    {
        const auto add = [&](world::PieceIndex owner, const std::string& first, double from) {
            Lane lane;
            lane.kind = LaneKind::phases;
            const bool ofScene = owner == world::theScene;
            lane.key = "phase " + std::string(record_.nameOf(owner));
            lane.title =
                ofScene ? QObject::tr("scene · phase") : QObject::tr("%1 · phase").arg(toText(record_.nameOf(owner)));
            if (!ofScene)
                lane.piece = record_.nameOf(owner);
            lane.bars.push_back(segment(first, from));
            lane.byRow = {{0}};
            phaseLanes_[owner] = lanes_.size();
            lanes_.push_back(std::move(lane));
        };
        if (!record_.scene->phases.empty())
            add(world::theScene, record_.scene->phases.front(), 0);
        pieces_ = std::min(record_.pieces.size(), record_.scene->pieces.size() + mostSpawned);
        for (std::size_t i = 0; i < pieces_; ++i)
            if (const auto& phases = record_.pieces[i].model->phases; !phases.empty())
                add(static_cast<world::PieceIndex>(i), phases.front().id, static_cast<double>(record_.pieces[i].born));
    }

    void takePhase(const rules::PhaseChange& change)
    {
        const auto found = phaseLanes_.find(change.owner);
        if (found == phaseLanes_.end())
            return;
        Lane& lane = lanes_[found->second];
        if (change.phase == lane.bars.back().text.toStdString())
            return;
        lane.bars.back().to = change.tick;
        lane.byRow.front().push_back(static_cast<std::int32_t>(lane.bars.size()));
        lane.bars.push_back(segment(change.phase, change.tick));
    }

    LaneBar segment(const std::string& phase, double from) const
    {
        LaneBar bar;
        bar.from = from;
        bar.to = static_cast<double>(record_.lastTick());
        bar.text = toText(phase);
        bar.phase = static_cast<int>(std::ranges::find(phases_, phase) - phases_.begin());
        return bar;
    }

    void addMeetingLanes(scene::Role role)
    {
        for (std::size_t shape = 0; shape < record_.shapeNames.size(); ++shape) {
            const sim::ShapeName& name = record_.shapeNames[shape];
            if (static_cast<std::size_t>(name.piece) >= record_.scene->pieces.size())
                break; // what is spawned has its meetings at the others
            const scene::Piece& piece = record_.scene->pieces[static_cast<std::size_t>(name.piece)];
            const scene::Shape& drawn = piece.shapes[static_cast<std::size_t>(name.number)];
            if (drawn.role != role)
                continue;
            meetingLanes_[static_cast<std::int32_t>(shape)] = lanes_.size();
            Lane lane;
            lane.kind = LaneKind::meetings;
            lane.key = std::string(scene::wordOf(role)) + " " + piece.id + "/" + name.name;
            lane.piece = piece.id;
            lane.title =
                drawn.id.empty() ? toText(piece.id) : toText(piece.id) + QStringLiteral(" · ") + toText(name.name);
            lanes_.push_back(std::move(lane));
        }
    }

    /// The lane of a meeting. One of two solids has none: what is bumped into has, who bumps has
    /// not.
    std::optional<std::size_t> laneOf(const Line& line) const
    {
        const auto lane = meetingLanes_.find(line.shape);
        if (lane == meetingLanes_.end())
            return std::nullopt;
        const auto& pieces = record_.pieces;
        const auto shapeOf = [&](std::int32_t shape) -> const scene::Shape& {
            const sim::ShapeName& name = record_.shapeNames[static_cast<std::size_t>(shape)];
            return pieces[static_cast<std::size_t>(name.piece)].model->shapes[static_cast<std::size_t>(name.number)];
        };
        if (shapeOf(line.shape).role == scene::Role::zone)
            return lane->second;
        if (line.manner != world::Manner::stop)
            return std::nullopt;
        const auto walks = [&](world::PieceIndex piece) {
            return std::holds_alternative<scene::WalkerBody>(pieces[static_cast<std::size_t>(piece)].model->body);
        };
        const bool bumps = walks(line.self) != walks(line.visitor) ? walks(line.self) : line.self > line.visitor;
        return bumps ? std::nullopt : std::optional(lane->second);
    }

    QString wordOf(const Line& line) const { return toText(record_.journal.textOf(line)); }

    void take(const Line& line, std::int32_t index)
    {
        if (line.kind == LineKind::snare) {
            lanes_[firstSnare_ + static_cast<std::size_t>(line.snare)].marks.push_back(
                {static_cast<double>(line.tick),
                 line.outcome == rules::Outcome::sprung ? MarkKind::sprung : MarkKind::slipped,
                 {},
                 index,
                 0});
            return;
        }
        if (line.kind != LineKind::event)
            return;
        if (line.visitor == world::pointerThrough)
            return; // it is told of what lies on top
        switch (line.event) {
        case EventKind::down:
            open(buttons_, line, index, wordOf(line), world::nobody);
            lanes_[buttons_].bars.back().key = "button:" + record_.journal.textOf(line);
            break;
        case EventKind::up:
            close(buttons_, line, index, wordOf(line));
            break;
        case EventKind::click:
        case EventKind::doubled:
        case EventKind::dragBegin:
        case EventKind::dragEnd:
        case EventKind::drop:
        case EventKind::sweepBegin:
        case EventKind::sweepEnd:
            lanes_[pointer_].marks.push_back(
                {static_cast<double>(line.tick), MarkKind::act,
                 QObject::tr("%1 at %2").arg(toText(scene::wordOf(line.event)), toText(record_.nameOf(line.self))),
                 index, 0});
            break;
        case EventKind::start: // what was inside is forgotten without events (T5)
            for (auto& [shape, lane] : meetingLanes_)
                closeAll(lane, line.tick);
            closeAll(pointer_, line.tick);
            break;
        case EventKind::keyDown:
            open(0, line, index, keyLabel(wordOf(line)), world::nobody);
            lanes_[0].bars.back().key = record_.journal.textOf(line);
            break;
        case EventKind::keyUp:
            close(0, line, index, keyLabel(wordOf(line)));
            break;
        case EventKind::enter:
            if (line.visitor == world::thePointer)
                open(pointer_, line, index, toText(record_.nameOf(line.self)), world::nobody);
            if (const auto lane = laneOf(line))
                open(*lane, line, index, toText(record_.nameOf(line.visitor)), line.visitor);
            break;
        case EventKind::exit:
            if (line.visitor == world::thePointer)
                close(pointer_, line, index, toText(record_.nameOf(line.self)));
            if (const auto lane = laneOf(line))
                close(*lane, line, index, toText(record_.nameOf(line.visitor)));
            break;
        case EventKind::hit:
            if (laneOf(line)) // told on both sides; shown once, as what was bumped into hears it
                lanes_[hits_].marks.push_back(
                    {momentOf(line), MarkKind::hit,
                     toText(record_.nameOf(line.visitor)) + QStringLiteral(" – ") + toText(record_.nameOf(line.self)),
                     index, line.number});
            break;
        case EventKind::called:
            lanes_[calls_].marks.push_back({static_cast<double>(line.tick), MarkKind::signal, wordOf(line), index, 0});
            break;
        case EventKind::heard:
            lanes_[signals_].marks.push_back(
                {static_cast<double>(line.tick), MarkKind::signal, wordOf(line), index, 0});
            break;
        default:
            break;
        }
    }

    void open(std::size_t place, const Line& line, std::int32_t index, const QString& title, world::PieceIndex visitor)
    {
        Lane& lane = lanes_[place];
        LaneBar bar;
        bar.from = momentOf(line);
        bar.to = static_cast<double>(record_.lastTick());
        bar.text = title;
        bar.visitor = visitor;
        bar.stops = line.event == EventKind::enter && line.manner == world::Manner::stop;
        bar.line = index;
        // The first row in which nothing goes on any more.
        const auto isFree = [&](const std::vector<std::int32_t>& row) {
            const LaneBar& last = lane.bars[static_cast<std::size_t>(row.back())];
            return last.endLine >= 0 && last.to <= bar.from;
        };
        auto row = std::ranges::find_if(lane.byRow, isFree);
        if (row == lane.byRow.end())
            row = lane.byRow.emplace(row);
        bar.row = static_cast<int>(row - lane.byRow.begin());
        lane.rows = std::max(1, static_cast<int>(lane.byRow.size()));
        const auto number = static_cast<std::int32_t>(lane.bars.size());
        row->push_back(number);
        open_[place].push_back(number);
        lane.bars.push_back(std::move(bar));
    }

    void close(std::size_t place, const Line& line, std::int32_t index, const QString& title)
    {
        std::vector<std::int32_t>& open = open_[place];
        for (auto number = open.rbegin(); number != open.rend(); ++number) {
            LaneBar& bar = lanes_[place].bars[static_cast<std::size_t>(*number)];
            if (bar.text != title)
                continue;
            bar.to = momentOf(line);
            bar.endLine = index;
            open.erase(std::next(number).base());
            return;
        }
    }

    void closeAll(std::size_t place, double at)
    {
        for (const std::int32_t number : std::exchange(open_[place], {})) {
            LaneBar& bar = lanes_[place].bars[static_cast<std::size_t>(number)];
            bar.to = at;
            bar.endLine = bar.line;
        }
    }

    std::size_t valueLane(world::PieceIndex owner, const std::string& name, const scene::Scalar& start)
    {
        const auto [found, isNew] = valueLanes_.try_emplace({owner, name}, lanes_.size());
        if (isNew) {
            Lane lane;
            lane.kind = LaneKind::value;
            const std::string of = owner == world::theScene ? "scene" : std::string(record_.nameOf(owner));
            lane.key = "value " + of + "." + name;
            lane.title = owner == world::theScene ? toText(name) : toText(of) + QStringLiteral(" · ") + toText(name);
            if (world::isSource(owner))
                lane.dial = of;
            else if (owner != world::theScene)
                lane.piece = of;
            addStep(lane, stepOf(0, start));
            lanes_.push_back(std::move(lane));
        }
        return found->second;
    }

    static LaneStep stepOf(double at, const scene::Scalar& value)
    {
        const double* number = std::get_if<double>(&value);
        return {at, toText(scene::textOf(value)), number ? *number : 0, number != nullptr};
    }

    static void addStep(Lane& lane, LaneStep step)
    {
        lane.low = std::min(lane.low, step.number);
        lane.high = std::max(lane.high, step.number);
        lane.steps.push_back(std::move(step));
    }

    void takeValue(const rules::ValueChange& change)
    {
        const std::pair key{change.owner, change.name};
        auto found = laneOfValue_.find(key);
        if (found == laneOfValue_.end()) {
            const std::string name{record_.journal.texts.at(change.name)};
            const auto start = sim::valueAt(record_, change.owner, name, -1);
            found = laneOfValue_.emplace(key, valueLane(change.owner, name, start.value_or(scene::Scalar{0.0}))).first;
        }
        const auto value = record_.journal.valueOf(change);
        addStep(lanes_[found->second], value
                                           ? stepOf(change.tick, *value)
                                           : LaneStep{static_cast<double>(change.tick), QObject::tr("none"), 0, false});
    }

    const sim::Record& record_;
    std::vector<Lane> lanes_;
    std::map<std::int32_t, std::size_t> meetingLanes_; ///< by shape
    std::map<std::pair<world::PieceIndex, std::string>, std::size_t> valueLanes_;
    std::map<std::pair<world::PieceIndex, rules::Texts::Id>, std::size_t> laneOfValue_;
    std::map<world::PieceIndex, std::size_t> phaseLanes_;
    std::map<std::size_t, std::vector<std::int32_t>> open_; ///< by lane: bars that go on, in order
    std::size_t hits_ = 0;
    std::size_t firstSnare_ = 0;
    std::size_t signals_ = 0;
    std::size_t calls_ = 0;
    std::size_t buttons_ = 0;
    std::size_t pointer_ = 0;
    std::size_t lines_ = 0; ///< of the journal that are known, and so on
    std::size_t values_ = 0;
    std::size_t phaseChanges_ = 0;
    std::size_t inputs_ = 0;
    std::map<std::string, std::size_t> ledLanes_; ///< by piece
    std::size_t pieces_ = 0;
    std::vector<std::string> phases_ = scene::allPhases(*record_.scene);
};

LaneBook::LaneBook() = default;
LaneBook::~LaneBook() = default;

void LaneBook::follow(std::shared_ptr<const sim::Record> record)
{
    if (record_ == record && builder_ && !builder_->lacksLanes()) {
        builder_->follow();
        return;
    }
    record_ = std::move(record);
    builder_ = std::make_unique<Builder>(*record_);
}

const std::vector<Lane>& LaneBook::lanes() const
{
    static const std::vector<Lane> none;
    return builder_ ? builder_->lanes() : none;
}

std::span<const LaneMark> marksBetween(const Lane& lane, double from, double to)
{
    // Within a tick they may stand in another order.
    const auto first = std::ranges::lower_bound(lane.marks, from - 1, {}, &LaneMark::at);
    const auto last = std::ranges::upper_bound(first, lane.marks.end(), to + 1, {}, &LaneMark::at);
    return {first, last};
}

std::span<const std::int32_t> barsBetween(const Lane& lane, std::size_t row, double from, double to)
{
    const std::vector<std::int32_t>& bars = lane.byRow[row];
    const auto barAt = [&](std::int32_t index) -> const LaneBar& { return lane.bars[static_cast<std::size_t>(index)]; };
    const auto first = std::ranges::lower_bound(bars, from, {}, [&](std::int32_t index) { return barAt(index).to; });
    const auto last =
        std::ranges::upper_bound(first, bars.end(), to, {}, [&](std::int32_t index) { return barAt(index).from; });
    return {first, last};
}

std::vector<Lane> lanesOf(const sim::Record& record)
{
    LaneBook book;
    book.follow({std::shared_ptr<const sim::Record>{}, &record}); // lent
    return book.lanes();
}

Lane laneOfLaid(const std::string& laid, const std::vector<const Lane*>& parts)
{
    Lane lane;
    lane.kind = LaneKind::laid;
    lane.key = "laid:" + laid;
    lane.title = QString::fromStdString(laid);
    std::vector<LaneBar> bars;
    for (const Lane* part : parts) {
        if (part->kind != LaneKind::phases) // of those the changes are shown
            bars.insert(bars.end(), part->bars.begin(), part->bars.end());
        lane.marks.insert(lane.marks.end(), part->marks.begin(), part->marks.end());
    }
    std::ranges::sort(bars, {}, &LaneBar::from);
    std::ranges::stable_sort(lane.marks, {}, &LaneMark::at);
    lane.byRow.resize(1);
    for (LaneBar& bar : bars) {
        if (!lane.bars.empty() && bar.from <= lane.bars.back().to) { // what overlaps is one
            lane.bars.back().to = std::max(lane.bars.back().to, bar.to);
            lane.bars.back().endLine = std::max(lane.bars.back().endLine, bar.endLine);
            continue;
        }
        bar.row = 0;
        bar.phase = -1;
        bar.text.clear();
        lane.byRow.front().push_back(static_cast<std::int32_t>(lane.bars.size()));
        lane.bars.push_back(std::move(bar));
    }
    return lane;
}

} // namespace snare::app
