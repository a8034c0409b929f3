// SPDX-License-Identifier: Apache-2.0
#include "rules/response_context.h"

#include "rules/filter.h"

#include <fmt/format.h>

namespace snare::rules {

ResponseContext::ResponseContext(const TickContext& tick, RunState& run)
    : tick_(tick), run_(run), around_(tick.around(run.event(), run.self))
{
    around_.visitor = run.visitor;
    around_.with = &run.with;
    tick_.because(run_.sprang);
}

bool ResponseContext::begin(const scene::Response& response)
{
    for (const scene::Condition& condition : response.onlyIf)
        if (!holds(condition, around_))
            return false;
    tick_.because(run_.sprang);
    response_ = static_cast<std::uint8_t>(response.kind.index());
    return true;
}

Targets ResponseContext::on(const scene::Target& target, bool tellShapes)
{
    Targets result;
    for (const std::string& name : target.names) {
        const Targets found = targetsOf(name, around_);
        if (found.empty())
            note(fmt::format("{} of {} is skipped: {} is not there", word(),
                             scene().snares[static_cast<std::size_t>(run_.snare)].id, name));
        result.insert(result.end(), found.begin(), found.end());
    }
    if (!tellShapes)
        for (Acted& one : result)
            one.shape = -1;
    if (result.size() > 1)
        dropRepeated(result, tellShapes);
    return result;
}

Targets ResponseContext::piecesOn(const scene::Target& target, bool tellShapes)
{
    Targets result = on(target, tellShapes);
    const auto last = std::remove_if(result.begin(), result.end(), [](const Acted& one) { return one.piece < 0; });
    result.erase(last, result.end());
    return result;
}

Line& ResponseContext::newLine(LineKind kind, std::string_view text)
{
    if (kind == LineKind::response)
        tick_.journal.cause = run_.sprang; // also of the second target of a step
    Line& line = tick_.journal.add(kind);
    line.snare = run_.snare;
    line.response = response_;
    line.text = tick_.journal.texts.keep(text);
    line.about = run_.event().line;
    line.step = static_cast<std::int32_t>(run_.step);
    line.routine = tick_.journal.texts.keep(run_.routine);
    if (kind == LineKind::response) {
        told_ = static_cast<std::int32_t>(tick_.journal.lines.size()) - 1;
        tick_.because(told_);
    }
    return line;
}

std::int32_t ResponseContext::tell(PieceIndex on, std::string_view text, std::int64_t until)
{
    Line& line = newLine(LineKind::response, text);
    line.self = on;
    line.until = static_cast<std::int32_t>(std::min<std::int64_t>(until, std::numeric_limits<std::int32_t>::max()));
    return static_cast<std::int32_t>(tick_.journal.lines.size()) - 1;
}

void ResponseContext::tellWith(PieceIndex on, std::string_view text, double number)
{
    Line& line = newLine(LineKind::response, text);
    line.self = on;
    line.number = number;
}

void ResponseContext::tellValue(PieceIndex on, std::string_view name, const scene::Scalar& value)
{
    const double* number = std::get_if<double>(&value);
    if (!number) {
        tell(on, fmt::format("{} = {}", name, scene::textOf(value)));
        return;
    }
    tellNumber(on, name, *number);
}

Texts::Id ResponseContext::tellNumber(PieceIndex on, std::string_view name, double value)
{
    Line& line = newLine(LineKind::response, name);
    line.self = on;
    line.showsNumber = true;
    line.number = value;
    return line.text;
}

void ResponseContext::note(std::string_view text)
{
    newLine(LineKind::note, text);
}

ResponseField& ResponseContext::field(const char* name)
{
    ResponseField& field = tick_.journal.fields.emplace_back();
    field.line = told_;
    field.name = name;
    return field;
}

void ResponseContext::withValue(const char* name, const scene::Scalar& value)
{
    if (const double* number = std::get_if<double>(&value))
        return with(name, *number);
    if (const auto* text = std::get_if<std::string>(&value))
        return with(name, std::string_view(*text));
    ResponseField& one = field(name);
    one.kind = ResponseField::Kind::flag;
    one.x = std::get<bool>(value) ? 1 : 0;
}

void ResponseContext::with(const char* name, std::string_view text)
{
    ResponseField& one = field(name);
    one.kind = ResponseField::Kind::text;
    one.text = tick_.journal.texts.keep(text);
}

void ResponseContext::with(const char* name, const Vec& point, double height)
{
    ResponseField& one = field(name);
    one.kind = height == 0 ? ResponseField::Kind::point : ResponseField::Kind::place;
    one.x = point.x;
    one.y = point.y;
    one.z = height;
}

void ResponseContext::with(const char* name, const scene::Named<scene::Scalar>& values)
{
    for (const auto& [key, value] : values.entries) {
        withValue(name, value);
        tick_.journal.fields.back().key = tick_.journal.texts.keep(key);
    }
}

void ResponseContext::withList(const char* name, const std::vector<std::string>& words)
{
    for (const std::string& word : words) {
        with(name, std::string_view(word));
        tick_.journal.fields.back().ofList = true;
    }
}

void ResponseContext::withShape(const Acted& target)
{
    if (target.shape >= 0)
        with("shape", tick_.world.shapeName(target.shape));
}

void ResponseContext::withUntil(std::optional<scene::Until> until)
{
    if (until)
        with("until", scene::wordOf(*until));
}

void ResponseContext::endMove(PieceIndex piece)
{
    if (const std::uint32_t order = tick_.world.endMove(piece))
        tick_.runs.orderEnded(order, word(), tick_);
}

void ResponseContext::endTurn(PieceIndex piece)
{
    if (const std::uint32_t order = tick_.world.endTurn(piece))
        tick_.runs.orderEnded(order, word(), tick_);
}

void ResponseContext::raise(RaisedSignal signal, bool wait)
{
    if (wait) {
        signal.waited = tick_.runs.waitForSignal();
        run_.waiting.signal = signal.waited;
    }
    tick_.storms.remember(run_.snare);
    Event& event = tick_.queue.addEvent(EventKind::heard, theScene);
    event.visitor = event.sender = run_.self >= 0 ? run_.self : nobody;
    signal.raiser = run_.snare;
    event.signal = std::make_shared<const RaisedSignal>(std::move(signal));
}

void ResponseContext::addPending(PendingChange pending)
{
    pending.snare = pending.snare < 0 ? run_.snare : pending.snare;
    pending.by = run_.snare;
    pending.step = static_cast<std::int32_t>(run_.step);
    pending.routine = run_.routine;
    if (pending.kind == PendingChange::Kind::phase || pending.kind == PendingChange::Kind::spawn)
        tick_.storms.remember(run_.snare);
    tick_.pending.add(std::move(pending));
}

double* ResponseContext::numberOf(PieceIndex owner, std::string_view name)
{
    if (owner != theScene && owner < 0)
        return nullptr;
    scene::Scalar* held = tick_.world.valuesOf(owner).find(name);
    return held ? std::get_if<double>(held) : nullptr;
}

void ResponseContext::setValue(PieceIndex owner, const std::string& name, const scene::Scalar& value)
{
    tick_.storms.remember(run_.snare);
    tick_.values.setAny(owner, name, &value, tick_);
}

bool ResponseContext::isMeetingOn() const
{
    return tick_.matcher.isOn(run_.cause, run_.self, run_.visitor);
}

bool ResponseContext::mayHold(std::optional<scene::Until> until)
{
    if (!until || run_.cause.state == CausingMeeting::State::none || isMeetingOn())
        return true;
    note(fmt::format("{} of {} is skipped: the meeting is over", word(), tick_.snareAt(run_.snare).id));
    return false;
}

std::uint32_t ResponseContext::hold(std::optional<scene::Until> until, Hold hold)
{
    if (!until || !isMeetingOn())
        return 0;
    hold.self = run_.self;
    hold.meeting = run_.cause.meeting;
    return tick_.values.hold(std::move(hold));
}

void ResponseContext::runRoutine(const scene::Routine& routine, scene::Named<scene::Scalar> with, bool wait,
                                 std::string_view name)
{
    if (tick_.storms.isRoutineTooMuch(run_.depth))
        return tick_.storms.stop(
            fmt::format("the routine {}, run by the snare {}, runs without end", name, tick_.snareAt(run_.snare).id));
    RunState run;
    run.snare = run_.snare;
    run.sprang = run_.sprang;
    run.self = run_.self;
    run.visitor = run_.visitor;
    run.cause = run_.cause;
    run.lent = &run_.event();
    run.list = &routine.responses;
    run.routine = name;
    run.with = std::move(with);
    run.depth = run_.depth + 1;
    run.startedBy = run_.startedBy;
    if (run.startedBy != 0) // it is part of what the signal started (S10)
        tick_.runs.addToSignal(run.startedBy);
    const std::uint32_t waits = tick_.runs.start(std::move(run), tick_);
    if (wait && waits != 0)
        run_.waiting.run = waits;
}

void ResponseContext::script(const std::string& lua)
{
    std::string fault;
    const Assign set = [&](PieceIndex owner, std::string_view name, scene::Scalar value) -> std::optional<std::string> {
        if (tick_.isCancelled())
            return "the run is cancelled";
        if (owner >= 0 && !tick_.world.piece(owner).present)
            return "the piece is gone";
        if (!canBeSet(owner, name, tick_.world))
            return fmt::format("{} cannot be assigned to", name);
        setValue(owner, std::string(name), value);
        return std::nullopt;
    };
    const auto setWith = [&](std::string_view name, scene::Scalar value) { run_.with.set(name, std::move(value)); };
    runScript(
        lua, around_, set, setWith, [&](const std::string& text) { note(text); }, &fault);
    if (!fault.empty())
        note(fmt::format("{} of {}: {}", word(), tick_.snareAt(run_.snare).id, fault));
}

} // namespace snare::rules
