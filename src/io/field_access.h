// SPDX-License-Identifier: Apache-2.0
/// The fields of a response, catch, filter, gate, snare, body, look, timer or scene by name: what
/// the slots of a card show and change, made from the field tables.
#pragma once

#include "scene/scene.h"
#include "scene/take.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace snare::io {

/// How a slot is filled in.
enum class SlotKind {
    text,
    lines, ///< one or more texts
    number,
    flag,
    word,  ///< one of `words`
    words, ///< some of `words`
    value,
    target,
    place,
    point,   ///< two or three numbers
    numbers, ///< a fixed number of them
    names,
    look, ///< the name of one, a colour, or one written out
    colour,
    frames, ///< how many, or files
    named,
    other ///< shown and changed by hand
};

/// A word that a slot may take, and what it means.
struct WordChoice {
    std::string_view word;
    std::string_view about;
};

/// One field of a response as it stands.
struct FieldView {
    std::string_view key;
    std::string_view about;
    scene::Unit unit = scene::Unit::none;
    scene::Range range;
    scene::Refers refers = scene::Refers::nothing;
    SlotKind kind = SlotKind::text;
    bool required = false;
    bool set = false;       ///< given, or not at its default
    std::string json;       ///< its value as JSON; "null" if it is not given
    bool workedOut = false; ///< it may be a formula instead of a literal
    std::vector<WordChoice> words = {};
    bool wanted = false; ///< of those marked so one must be set, or nothing happens
};

/// The fields of the response in the order of its table.
std::vector<FieldView> fieldsOf(const scene::Response& response);
std::vector<FieldView> fieldsOf(const scene::Catch& catches);
std::vector<FieldView> fieldsOf(const scene::Filter& filter);
std::vector<FieldView> fieldsOf(const scene::Gate& gate);
std::vector<FieldView> fieldsOf(const scene::Snare& snare);
std::vector<FieldView> fieldsOf(const scene::TagFilter& tags);
std::vector<FieldView> fieldsOf(const scene::SpeedFilter& speed);
/// Of the kind that the body is.
std::vector<FieldView> fieldsOf(const scene::Body& body);
std::vector<FieldView> fieldsOf(const scene::Route& route);
std::vector<FieldView> fieldsOf(const scene::Look& look);
std::vector<FieldView> fieldsOf(const scene::LineMatch& lines);
std::vector<FieldView> fieldsOf(const scene::Expectation& expectation);
std::vector<FieldView> fieldsOf(const scene::TimerSource& timer);
std::vector<FieldView> fieldsOf(const scene::DialSource& dial);
/// Of the scene itself: those that are a word, a number, a point or a few numbers, not its lists.
std::vector<FieldView> fieldsOf(const scene::Scene& scene);

/// Sets a field from JSON; "null" puts it back to its default. Returns what is wrong with the
/// value, or nothing. On an error the response is left as it was.
std::optional<std::string> setField(scene::Response& response, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Catch& catches, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Filter& filter, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Gate& gate, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Snare& snare, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::TagFilter& tags, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::SpeedFilter& speed, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Body& body, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Route& route, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Look& look, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::LineMatch& lines, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Expectation& expectation, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::TimerSource& timer, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::DialSource& dial, std::string_view key, std::string_view json);
std::optional<std::string> setField(scene::Scene& scene, std::string_view key, std::string_view json);

/// A response of this word with all fields at their defaults, or nothing if there is no such word.
std::optional<scene::Response> responseOf(std::string_view word);

/// The words of all responses, in the order of the reference page.
std::vector<const scene::Word*> responseWords();

} // namespace snare::io
