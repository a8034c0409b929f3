// SPDX-License-Identifier: Apache-2.0
#include "rules/responses.h"

#include "motion/motion.h"
#include "rules/answers.h"
#include "rules/clock.h"
#include "rules/response_context.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::rules {

using world::LivePiece;

void addForEach(const scene::Target& on, PendingChange::Kind kind, ResponseContext& context,
                std::optional<scene::Until> until, Hold::What what)
{
    const bool ofShapes = kind != PendingChange::Kind::detach && kind != PendingChange::Kind::remove;
    const Targets targets = context.piecesOn(on, ofShapes);
    if (targets.empty() || !context.mayHold(until))
        return;
    for (const Acted& target : targets) {
        context.tell(target.piece);
        context.withShape(target);
        context.withUntil(until);
        Hold hold;
        hold.what = what;
        hold.piece = target.piece;
        hold.held = target.shape;
        context.addPending(
            {.kind = kind, .piece = target.piece, .shape = target.shape, .hold = context.hold(until, std::move(hold))});
    }
}

namespace {

void armAll(const std::vector<std::string>& snares, PendingChange::Kind kind, ResponseContext& context)
{
    context.tell(nobody, fmt::format("{}", fmt::join(snares, ", ")));
    context.withList("snares", snares);
    for (const std::string& id : snares) {
        const int found = context.findSnare(id);
        if (found < 0)
            context.note(fmt::format("there is no snare {}", id));
        else
            context.addPending({.kind = kind, .snare = found});
    }
}

/// A caption or prompt at each target for a time, or until the meeting ends if it is held.
void caption(const Targets& targets, const std::string& text, double seconds, std::optional<scene::Until> held,
             ResponseContext& context)
{
    const std::int64_t until = tickAfter(context.tick(), seconds, context.rate());
    for (const Acted& target : targets) {
        const bool stays = held && context.isMeetingOn();
        const std::int32_t line =
            context.tell(target.piece, text, stays ? std::numeric_limits<std::int32_t>::max() : until);
        context.with("text", text);
        if (!stays)
            context.with("for", seconds);
        context.withUntil(stays ? held : std::nullopt);
        Hold hold;
        hold.what = Hold::What::caption;
        hold.piece = target.piece;
        hold.line = line;
        if (stays)
            context.hold(held, std::move(hold));
    }
}

} // namespace

void carryOut(const scene::Response& response, ResponseContext& context)
{
    if (context.begin(response))
        std::visit([&](const auto& kind) { apply(kind, context); }, response.kind);
}

void apply(const scene::Say& say, ResponseContext& context)
{
    const Targets targets = context.on(say.on);
    if (targets.empty() || !context.mayHold(say.until))
        return;
    std::string text;
    for (const scene::Value<std::string>& line : say.text.items)
        text += (text.empty() ? "" : "\n") +
                filledIn(resolve(line, context.around()).value_or(std::string{}), context.around());
    const double seconds = std::max(0.0, resolve(say.duration, context.around()).value_or(scene::captionSeconds));
    caption(targets, text, seconds, say.until, context);
    if (say.wait)
        context.waitUntil(tickAfter(context.tick(), seconds, context.rate()));
}

void apply(const scene::Prompt& prompt, ResponseContext& context)
{
    const Targets targets = context.on(prompt.on);
    if (targets.empty() || !context.mayHold(scene::Until::exit))
        return;
    const std::string text = filledIn(resolve(prompt.text, context.around()).value_or(std::string{}), context.around());
    caption(targets, text, scene::captionSeconds, scene::Until::exit, context);
}

void apply(const scene::Note& note, ResponseContext& context)
{
    const std::string text = filledIn(resolve(note.text, context.around()).value_or(std::string{}), context.around());
    context.tell(nobody);
    context.with("text", text);
    context.note(text);
}

void apply(const scene::Show& show, ResponseContext& context)
{
    addForEach(show.on, PendingChange::Kind::show, context, show.until);
}

void apply(const scene::Hide& hide, ResponseContext& context)
{
    addForEach(hide.on, PendingChange::Kind::hide, context, hide.until);
}

void apply(const scene::Enable& enable, ResponseContext& context)
{
    addForEach(enable.on, PendingChange::Kind::enable, context, enable.until, Hold::What::enabled);
}

void apply(const scene::Disable& disable, ResponseContext& context)
{
    addForEach(disable.on, PendingChange::Kind::disable, context, disable.until, Hold::What::enabled);
}

void apply(const scene::Arm& arm, ResponseContext& context)
{
    armAll(arm.snares, PendingChange::Kind::arm, context);
}

void apply(const scene::Disarm& disarm, ResponseContext& context)
{
    armAll(disarm.snares, PendingChange::Kind::disarm, context);
}

void apply(const scene::Rearm& rearm, ResponseContext& context)
{
    context.tell(nobody, fmt::format("{}", fmt::join(rearm.snares, ", ")));
    context.withList("snares", rearm.snares);
    for (const std::string& id : rearm.snares) {
        const int found = context.findSnare(id);
        if (found < 0)
            context.note(fmt::format("there is no snare {}", id));
        else
            context.rearm(found);
    }
}

namespace {

/// Whether a value of this name can be set there; if not, that is noted.
bool mayBeSet(PieceIndex owner, const std::string& name, ResponseContext& context)
{
    const bool fine = canBeSet(owner, name, context.world());
    if (!fine)
        context.note(fmt::format("{} of {} cannot be set this way", name, context.world().nameOf(owner)));
    return fine;
}

/// What a value was before it was set: nothing if there was none.
Hold valueHold(Hold::What what, PieceIndex owner, const std::string& name, ResponseContext& context)
{
    Hold hold;
    hold.what = what;
    hold.piece = owner;
    hold.name = name;
    hold.before = valueOf(owner, name, context.around());
    return hold;
}

} // namespace

void apply(const scene::Set& set, ResponseContext& context)
{
    const Targets targets = context.on(set.on);
    if (targets.empty() || !context.mayHold(set.until))
        return;
    const auto value = resolve(set.value, context.around());
    if (!value)
        return context.note(fmt::format("the value for {} is missing", set.name));
    for (const Acted& target : targets) {
        if (!mayBeSet(target.piece, set.name, context))
            continue;
        context.tellValue(target.piece, set.name, *value);
        if (!std::holds_alternative<double>(*value)) { // a number is told with the line
            context.with("name", set.name);
            context.withValue("value", *value);
        }
        context.withUntil(set.until);
        if (set.until)
            context.hold(set.until, valueHold(Hold::What::value, target.piece, set.name, context));
        context.setValue(target.piece, set.name, *value);
    }
}

void apply(const scene::Add& add, ResponseContext& context)
{
    Targets targets;
    if (!context.isScene(add.on)) {
        targets = context.on(add.on);
        if (targets.empty())
            return;
    }
    if (add.until && !context.mayHold(add.until))
        return;
    const double* literal = add.value.literal();
    const auto value = literal ? std::optional(*literal) : resolve(add.value, context.around());
    if (!value)
        return context.note(fmt::format("the number to add to {} is missing", add.name));
    const auto keep = [&](PieceIndex piece) {
        if (!add.until)
            return;
        Hold hold = valueHold(Hold::What::added, piece, add.name, context);
        hold.number = *value;
        context.hold(add.until, std::move(hold));
    };
    const auto addTo = [&](const Acted& target) {
        if (double* held = context.numberOf(target.piece, add.name)) { // as most are
            if (!mayBeSet(target.piece, add.name, context))
                return;
            const double sum = *held + *value;
            const Texts::Id word = context.tellNumber(target.piece, add.name, sum);
            context.with("value", *value);
            context.withUntil(add.until);
            keep(target.piece);
            context.setNumber(target.piece, add.name, word, *held, sum);
            return;
        }
        const auto old = valueOf(target.piece, add.name, context.around());
        const double* number = old ? std::get_if<double>(&*old) : nullptr;
        if (old && !number) {
            context.note(fmt::format("{} is no number", add.name));
            return;
        }
        if (!mayBeSet(target.piece, add.name, context))
            return;
        const double sum = (number ? *number : 0.0) + *value;
        context.tellNumber(target.piece, add.name, sum);
        context.with("value", *value);
        context.withUntil(add.until);
        keep(target.piece);
        context.setValue(target.piece, add.name, sum);
    };
    if (targets.empty())
        addTo({theScene, -1});
    for (const Acted& target : targets)
        addTo(target);
}

namespace {

/// Gives or takes a tag, and keeps whether it was there before.
void setTag(const scene::Target& on, const scene::Value<std::string>& value, bool given,
            std::optional<scene::Until> until, ResponseContext& context)
{
    const Targets targets = context.piecesOn(on);
    if (targets.empty() || !context.mayHold(until))
        return;
    const std::string tag = nameOf(value, "tag", context);
    if (tag.empty())
        return;
    for (const Acted& target : targets) {
        context.tell(target.piece, tag);
        context.with("tag", tag);
        context.withUntil(until);
        Hold hold;
        hold.what = Hold::What::tag;
        hold.piece = target.piece;
        hold.name = tag;
        hold.flag = context.world().piece(target.piece).hasTag(tag);
        context.world().setTag(target.piece, tag, given);
        context.hold(until, std::move(hold));
    }
}

} // namespace

void apply(const scene::Tag& tag, ResponseContext& context)
{
    setTag(tag.on, tag.tag, true, tag.until, context);
}

void apply(const scene::Untag& untag, ResponseContext& context)
{
    setTag(untag.on, untag.tag, false, untag.until, context);
}

void apply(const scene::Regroup& regroup, ResponseContext& context)
{
    const Targets targets = context.piecesOn(regroup.on, true);
    if (targets.empty() || !context.mayHold(regroup.until))
        return;
    const std::string name = nameOf(regroup.group, "group", context);
    if (name.empty())
        return;
    const int group = context.world().groupCalled(name);
    for (const Acted& target : targets) {
        context.tell(target.piece, name);
        context.withShape(target);
        context.with("group", name);
        context.withUntil(regroup.until);
        Hold hold;
        hold.what = Hold::What::group;
        hold.piece = target.piece;
        hold.held = target.shape;
        context.addPending({.kind = PendingChange::Kind::regroup,
                            .piece = target.piece,
                            .shape = target.shape,
                            .group = group,
                            .hold = context.hold(regroup.until, std::move(hold))});
    }
}

namespace {

/// The look that a choice means for one piece, with what it is called; nothing, and a note, if
/// there is none.
std::optional<std::pair<scene::Look, std::string>> lookFor(const scene::LookChoice& choice, const LivePiece& piece,
                                                           ResponseContext& context)
{
    if (const auto* own = std::get_if<scene::Look>(&choice.held)) {
        scene::Look look = *own;
        if (choice.colour) {
            const auto colour = resolve(scene::Value<std::string>{*choice.colour}, context.around());
            if (!colour) {
                context.note("the colour is missing");
                return std::nullopt;
            }
            look.colour.code = *colour;
        }
        return std::pair(look, std::string{});
    }
    std::string name;
    if (const auto* formula = std::get_if<scene::Formula>(&choice.held))
        name = nameOf(scene::Value<std::string>{*formula}, "look", context);
    else
        name = std::get<std::string>(choice.held);
    const scene::Piece& drawn = *piece.model;
    const auto& looks = drawn.looks.entries;
    if (name == "next" && !looks.empty()) { // the base look, then the named ones, round and round
        const scene::Look& now = context.world().looks()[static_cast<std::size_t>(piece.look)];
        const auto at = std::ranges::find_if(looks, [&](const auto& entry) { return entry.second == now; });
        const auto next = at == looks.end() ? looks.begin() : at + 1;
        return next == looks.end() ? std::pair(drawn.look, std::string("plain")) : std::pair(next->second, next->first);
    }
    if (name == "plain")
        return std::pair(drawn.look, name);
    if (const scene::Look* named = drawn.looks.find(name))
        return std::pair(*named, name);
    context.note(fmt::format("{} has no look {}", piece.id, name));
    return std::nullopt;
}

} // namespace

void apply(const scene::ChangeLook& look, ResponseContext& context)
{
    const Targets targets = context.piecesOn(look.on);
    if (targets.empty() || !context.mayHold(look.until))
        return;
    for (const Acted& target : targets) {
        const LivePiece& piece = context.world().piece(target.piece);
        auto chosen = lookFor(look.to, piece, context);
        if (!chosen)
            continue;
        context.tell(target.piece, chosen->second);
        chosen->second.empty() ? context.with("colour", chosen->first.colour.code) : context.with("to", chosen->second);
        context.withUntil(look.until);
        Hold hold;
        hold.what = Hold::What::look;
        hold.piece = target.piece;
        hold.number = piece.look;
        context.hold(look.until, std::move(hold));
        context.putOn(target.piece, context.world().indexOf(chosen->first));
    }
}

void apply(const scene::Remove& remove, ResponseContext& context)
{
    addForEach(remove.on, PendingChange::Kind::remove, context);
}

void carryOutSteps(RunState& run, const TickContext& tick)
{
    ResponseContext context{tick, run};
    while (run.step < run.list->size() && !tick.isOver() && !run.waiting.anything()) {
        carryOut((*run.list)[run.step++], context);
        tick.checkOverrun(run.snare);
    }
}

} // namespace snare::rules
