// SPDX-License-Identifier: Apache-2.0
#include "io/log.h"

#include "sim/run.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <iterator>

namespace snare::io {

using rules::EventKind;
using rules::Line;
using rules::LineKind;

namespace {

/// JSON knows no numbers that are not finite.
std::string number(double value)
{
    if (!std::isfinite(value))
        return "null";
    return fmt::format("{:.9g}", value == 0 ? 0.0 : value);
}

std::string time(std::int64_t tick, int rate)
{
    std::string text = fmt::format("{:.6f}", static_cast<double>(tick) / rate);
    text.erase(text.find_last_not_of('0') + 1);
    if (text.ends_with('.'))
        text.pop_back();
    return text;
}

std::string jsonText(std::string_view text)
{
    return nlohmann::json(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

std::string scalarText(const scene::Scalar& value)
{
    if (const double* real = std::get_if<double>(&value))
        return number(*real);
    if (const bool* flag = std::get_if<bool>(&value))
        return *flag ? "true" : "false";
    return jsonText(std::get<std::string>(value));
}

/// Members in the order in which they are added.
class LineText {
  public:
    void add(std::string_view key, std::string_view text) { raw(key, jsonText(text)); }
    void addIf(std::string_view key, std::string_view text)
    {
        if (!text.empty())
            add(key, text);
    }
    void raw(std::string_view key, std::string_view text)
    {
        fmt::format_to(std::back_inserter(out_), "{}\"{}\":{}", out_.empty() ? "{" : ",", key, text);
    }
    bool empty() const { return out_.empty(); }
    std::string finish() { return out_.empty() ? "{}" : out_ + "}"; }

  private:
    std::string out_;
};

std::string valuesText(const scene::Named<scene::Scalar>& named)
{
    LineText text;
    for (const auto& [name, value] : named.entries) {
        std::string key = jsonText(name);
        text.raw(std::string_view(key).substr(1, key.size() - 2), scalarText(value));
    }
    return text.finish();
}

std::string fieldText(const rules::Journal& journal, const rules::ResponseField& field)
{
    using Kind = rules::ResponseField::Kind;
    switch (field.kind) {
    case Kind::number:
        return number(field.x);
    case Kind::flag:
        return field.x != 0 ? "true" : "false";
    case Kind::text:
        return jsonText(journal.texts.at(field.text));
    case Kind::point:
        return fmt::format("[{},{}]", number(field.x), number(field.y));
    case Kind::place:
        return fmt::format("[{},{},{}]", number(field.x), number(field.y), number(field.z));
    }
    return "null";
}

/// The fields of a response, worked out: a host needs no more to carry it out.
void addFields(LineText& text, const rules::Journal& journal, const Line& line)
{
    const auto index = static_cast<std::int32_t>(&line - journal.lines.data());
    LineText with;
    if (line.showsNumber) // a value that is set: its name, and what it is now if the response says no more
        with.add("name", journal.texts.at(line.text));
    const std::span<const rules::ResponseField> fields = journal.fieldsOf(index);
    for (std::size_t i = 0; i < fields.size();) {
        const rules::ResponseField& field = fields[i];
        std::size_t last = i + 1;
        if (field.key == 0 && !field.ofList) {
            with.raw(field.name, fieldText(journal, field));
            i = last;
            continue;
        }
        const auto goesOn = [&](const rules::ResponseField& other) {
            return std::string_view(other.name) == field.name && (other.key != 0) == (field.key != 0);
        };
        while (last < fields.size() && goesOn(fields[last]))
            ++last;
        LineText object;
        std::string list;
        for (const rules::ResponseField& one : fields.subspan(i, last - i)) {
            if (one.ofList) {
                list += (list.empty() ? "" : ",") + fieldText(journal, one);
                continue;
            }
            const std::string key = jsonText(journal.texts.at(one.key));
            object.raw(std::string_view(key).substr(1, key.size() - 2), fieldText(journal, one));
        }
        with.raw(field.name, field.ofList ? "[" + list + "]" : object.finish());
        i = last;
    }
    if (line.showsNumber &&
        std::ranges::none_of(fields, [](const auto& field) { return std::string_view(field.name) == "value"; }))
        with.raw("value", number(line.number));
    if (!with.empty())
        text.raw("with", with.finish());
}

/// Which step of which snare a line belongs to.
void addStep(LineText& text, const sim::Record& record, const Line& line)
{
    if (line.snare >= 0)
        text.add("snare", record.snareNameOf(line.snare));
    text.addIf("routine", record.journal.texts.at(line.routine));
    if (line.step > 0)
        text.raw("step", std::to_string(line.step));
}

void addEvent(LineText& text, const sim::Record& record, const Line& line)
{
    const std::string word = record.journal.textOf(line);
    const auto spot = [&] {
        const geometry::Vec at = record.journal.spotOf(line).point;
        text.raw("point", fmt::format("[{},{}]", number(at.x), number(at.y)));
    };
    if (line.frac >= 0)
        text.raw("frac", number(line.frac));
    text.add("kind", rules::wordOf(line.kind));
    text.add("event", scene::wordOf(line.event));
    text.add("at", record.nameOf(line.self));
    text.addIf("shape", record.shapeNameOf(line.shape));
    text.addIf("by", record.nameOf(line.visitor));
    text.addIf("part", record.shapeNameOf(line.part));
    if (line.visitor == world::pointerThrough)
        text.add("reach", "all");
    if (rules::isContact(line.event)) {
        text.add("manner", line.manner == rules::Manner::stop ? "stop" : "sense");
        text.add("cause", world::wordOf(line.cause));
    }
    if (line.event == EventKind::hit) {
        const geometry::Vec normal = record.journal.spotOf(line).normal;
        spot();
        text.raw("normal", fmt::format("[{},{}]", number(normal.x), number(normal.y)));
        text.raw("speed", number(line.number));
    }
    switch (scene::familyOf(line.event)) {
    case scene::EventFamily::key:
        text.add("key", word);
        break;
    case scene::EventFamily::pointer:
        text.addIf("button", word);
        spot();
        break;
    case scene::EventFamily::timer:
        text.add("source", word);
        break;
    case scene::EventFamily::signal:
        text.add("signal", word);
        if (const auto values = record.valuesOf(static_cast<std::int32_t>(&line - record.journal.lines.data()));
            !values.empty())
            text.raw("with", valuesText(values));
        break;
    case scene::EventFamily::watch:
        text.add(word.find('.') == std::string::npos ? "source" : "watch", word);
        text.raw("to", number(line.number));
        break;
    case scene::EventFamily::call:
        text.add("name", word);
        break;
    case scene::EventFamily::phase:
        text.add("phase", word);
        break;
    case scene::EventFamily::value:
        text.add("value", word);
        break;
    default:
        break;
    }
}

} // namespace

std::string logLine(const sim::Record& record, const Line& line, bool withCauses)
{
    LineText text;
    text.raw("tick", std::to_string(line.tick));
    text.raw("t", time(line.tick, record.scene->rate));
    switch (line.kind) {
    case LineKind::event:
        addEvent(text, record, line);
        break;
    case LineKind::snare:
        text.add("kind", "snare");
        text.add("snare", record.snareNameOf(line.snare));
        text.add("self", record.nameOf(line.self));
        text.addIf("visitor", record.nameOf(line.visitor));
        text.add("event", scene::wordOf(line.event));
        text.add("outcome", rules::wordOf(line.outcome));
        if (line.outcome == rules::Outcome::slipped) {
            text.add("stage", rules::wordOf(line.stage));
            text.add("reason", record.journal.textOf(line));
        }
        break;
    case LineKind::response:
        text.add("kind", "response");
        addStep(text, record, line);
        text.add("do", rules::responseOf(line));
        text.addIf("on", record.nameOf(line.self));
        addFields(text, record.journal, line);
        break;
    case LineKind::note:
        text.add("kind", "note");
        addStep(text, record, line);
        text.add("text", record.journal.textOf(line));
        break;
    }
    if (withCauses) {
        const auto number = &line - record.journal.lines.data();
        text.raw("n", std::to_string(number + 1));
        if (const std::int32_t cause = record.journal.because[static_cast<std::size_t>(number)]; cause >= 0)
            text.raw("because", std::to_string(cause + 1));
    }
    return text.finish();
}

std::string logText(const sim::Record& record, bool withCauses)
{
    std::string all;
    for (const Line& line : record.journal.lines) {
        all += logLine(record, line, withCauses);
        all += '\n';
    }
    return all;
}

std::string finalText(const sim::Run& run)
{
    const world::World& world = run.world();
    LineText pieces;
    for (std::size_t i = 0; i < world.pieces().size(); ++i) {
        const world::LivePiece& piece = world.pieces()[i];
        if (!piece.present)
            continue;
        const auto& pose = world.pose()[i];
        const geometry::Vec velocity = world.velocityOf(static_cast<world::PieceIndex>(i));
        LineText text;
        const std::string height = pose.z == 0 ? std::string() : "," + number(pose.z); // only where there is one (M15)
        text.raw("at", fmt::format("[{},{}{}]", number(pose.at.x), number(pose.at.y), height));
        text.raw("turn", number(pose.turn));
        text.raw("vx", number(velocity.x));
        text.raw("vy", number(velocity.y));
        text.add("group", world.groups().nameOf(piece.group));
        text.raw("tags", nlohmann::json(piece.tags).dump());
        if (piece.phase >= 0)
            text.add("phase", piece.model->phases[static_cast<std::size_t>(piece.phase)].id);
        text.raw("shown", piece.shown ? "true" : "false");
        text.raw("enabled", piece.enabled ? "true" : "false");
        if (!piece.templateName.empty())
            text.add("template", piece.templateName);
        text.raw("properties", valuesText(piece.properties.named()));
        pieces.raw(piece.id, "\n  " + text.finish());
    }
    const int rate = run.engine().scene().rate;
    LineText all;
    all.raw("tick", std::to_string(run.tickNumber()));
    all.raw("t", time(run.tickNumber(), rate));
    if (world.phase() >= 0)
        all.add("phase", world.phases()[static_cast<std::size_t>(world.phase())]);
    all.raw("variables", valuesText(world.variables().named()));
    all.raw("pieces",
            std::ranges::none_of(world.pieces(), &world::LivePiece::present) ? std::string("{}") : pieces.finish());
    return all.finish() + "\n";
}

} // namespace snare::io
