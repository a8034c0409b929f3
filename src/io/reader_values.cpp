// SPDX-License-Identifier: Apache-2.0
#include "io/reader.h"

namespace snare::io {

void Reader::fail(std::size_t offset, std::string text)
{
    if (problems_.size() >= mostProblems)
        return;
    const Place place = placeOf(text_, offset);
    problems_.push_back({file_, place.line, place.column, pointer_, std::move(text)});
}

bool Reader::wanted(const Node& node, std::string_view what)
{
    fail(node, fmt::format("wants {}, not {}", what, describe(node)));
    return false;
}

void Reader::unknown(std::size_t offset, std::string_view what, std::string_view word,
                     const std::vector<std::string_view>& known)
{
    const std::string_view nearest = scene::nearestWord(word, known);
    std::string text = fmt::format("unknown {} \"{}\"", what, word);
    if (!nearest.empty())
        text += fmt::format("; did you mean \"{}\"?", nearest);
    else if (known.size() <= 12)
        text += fmt::format("; known: {}", fmt::join(known, ", "));
    fail(offset, std::move(text));
}

bool Reader::read(const Node& node, bool& out)
{
    if (!node.flag())
        return wanted(node, "true or false");
    out = *node.flag();
    return true;
}

bool Reader::read(const Node& node, double& out)
{
    if (!node.number())
        return wanted(node, "a number");
    out = *node.number();
    return true;
}

bool Reader::read(const Node& node, std::string& out)
{
    if (!node.text())
        return wanted(node, "a text");
    out = *node.text();
    return true;
}

bool Reader::read(const Node& node, scene::Vec& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 2 || !(*list)[0].number() || !(*list)[1].number())
        return wanted(node, "two numbers [x, y]");
    out = {*(*list)[0].number(), *(*list)[1].number()};
    return true;
}

bool Reader::readPoint(const Node& node, scene::Vec& out, std::optional<double>& height)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 3)
        return read(node, out);
    double z = 0;
    for (const Node& one : *list)
        if (!one.number())
            return wanted(node, "two or three numbers [x, y, z]");
    z = *(*list)[2].number();
    out = {*(*list)[0].number(), *(*list)[1].number()};
    height = z;
    return true;
}

bool Reader::read(const Node& node, std::array<double, 2>& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 2 || !(*list)[0].number() || !(*list)[1].number())
        return wanted(node, "two numbers [low, high]");
    out = {*(*list)[0].number(), *(*list)[1].number()};
    if (!(out[0] < out[1])) {
        fail(node, "low must be below high");
        return false;
    }
    return true;
}

bool Reader::read(const Node& node, scene::Scalar& out)
{
    if (const double* number = node.number())
        out = *number;
    else if (const bool* flag = node.flag())
        out = *flag;
    else if (const std::string* text = node.text())
        out = *text;
    else
        return wanted(node, "a number, a text, true or false");
    return true;
}

bool Reader::read(const Node& node, std::array<double, 4>& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 4)
        return wanted(node, "four numbers [left, bottom, right, top]");
    for (std::size_t i = 0; i < 4; ++i)
        if (!read((*list)[i], out[i]))
            return false;
    if (out[0] >= out[2] || out[1] >= out[3]) {
        fail(node, "left must be below right, and bottom below top");
        return false;
    }
    return true;
}

bool Reader::read(const Node& node, scene::Formula& out)
{
    std::vector<std::string_view> known;
    const Node* given = nullptr;
    for (const scene::FormulaWord& word : scene::formulaWords) {
        known.push_back(word.word);
        if (const Node* value = node.find(word.word)) {
            given = value;
            out.kind = word.kind;
        }
    }
    const bool somewhere = given && out.kind == scene::Formula::Kind::somewhere;
    for (const auto& [key, value] : *node.members())
        if (std::ranges::find(known, key) == known.end() && !(somewhere && key == "clear")) {
            unknown(value.keyOffset, "key", key, known);
            return false;
        }
    if (!given || node.members()->size() != (somewhere && node.find("clear") ? 2U : 1U)) {
        fail(node, fmt::format("wants a value, or one of {}", fmt::join(known, ", ")));
        return false;
    }
    const Step step{*this, scene::wordOf(out.kind)};
    switch (out.kind) {
    case scene::Formula::Kind::between:
    case scene::Formula::Kind::oneOf:
    case scene::Formula::Kind::sum:
        return readParts(*given, out);
    case scene::Formula::Kind::count: {
        scene::Target target;
        const bool fine = read(*given, target);
        out.names = std::move(target.names);
        return fine;
    }
    case scene::Formula::Kind::somewhere:
        if (const Node* clear = node.find("clear"); clear && !read(*clear, out.clear))
            return false;
        break;
    default:
        break;
    }
    return read(*given, out.text);
}

bool Reader::readParts(const Node& node, scene::Formula& out)
{
    if (!node.elements() || node.elements()->empty())
        return wanted(node, "a list of values");
    if (out.kind == scene::Formula::Kind::between && node.elements()->size() != 2)
        return wanted(node, "two numbers [low, high]");
    if (depth_ >= mostDepth) {
        fail(node, "is nested too deeply");
        return false;
    }
    ++depth_;
    bool fine = true;
    for (std::size_t i = 0; i < node.elements()->size(); ++i) {
        const Step step{*this, std::to_string(i)};
        fine = readPart((*node.elements())[i], out.parts.emplace_back()) && fine;
    }
    --depth_;
    if (fine && out.kind == scene::Formula::Kind::between) {
        const auto* low = std::get_if<double>(&out.parts[0].literal);
        const auto* high = std::get_if<double>(&out.parts[1].literal);
        const bool literal =
            out.parts[0].kind == scene::Formula::Kind::literal && out.parts[1].kind == scene::Formula::Kind::literal;
        if (literal && (!low || !high || *low > *high)) {
            fail(node, "wants two numbers, the lower one first");
            return false;
        }
    }
    return fine;
}

bool Reader::readPart(const Node& node, scene::Formula& out)
{
    if (node.members())
        return read(node, out);
    out.kind = scene::Formula::Kind::literal;
    if (node.elements())
        return read(node, out.literal.emplace<scene::Vec>());
    scene::Scalar scalar;
    if (!read(node, scalar))
        return false;
    out.literal = scene::answerOf(scalar);
    return true;
}

bool Reader::read(const Node& node, scene::Coordinates& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() < 2 || list->size() > 3)
        return wanted(node, "two numbers [x, y]");
    return read((*list)[0], out.x) && read((*list)[1], out.y);
}

bool Reader::isWorkedOut(const Node& node)
{
    return node.elements() &&
           std::ranges::any_of(*node.elements(), [](const Node& one) { return one.members() != nullptr; });
}

bool Reader::read(const Node& node, scene::Offset& out)
{
    if (node.members())
        return read(node, out.held.emplace<scene::Formula>());
    if (isWorkedOut(node))
        return read(node, out.held.emplace<scene::Coordinates>());
    return read(node, out.held.emplace<scene::Vec>());
}

bool Reader::read(const Node& node, scene::Frames& out)
{
    if (node.elements()) {
        if (node.elements()->empty())
            return wanted(node, "at least one file");
        return read(node, out.held.emplace<std::vector<std::string>>());
    }
    int& count = out.held.emplace<int>();
    if (!read(node, count))
        return false;
    if (count < 1 || count > 1000) {
        fail(node, fmt::format("frames must be 1 to 1000, not {}", count));
        count = 1;
        return false;
    }
    return true;
}

bool Reader::read(const Node& node, scene::Inside& out)
{
    if (node.flag())
        out = *node.flag() ? scene::Inside::any : scene::Inside::no;
    else if (node.text() && *node.text() == "nearest")
        out = scene::Inside::nearest;
    else
        return wanted(node, "true, false or \"nearest\"");
    return true;
}

bool Reader::read(const Node& node, scene::PlaceOrTime& out)
{
    if (node.number()) {
        out.time = *node.number();
        if (*out.time < 0) {
            fail(node, "a moment is at least 0");
            return false;
        }
        return true;
    }
    return node.text() ? read(node, out.place) : wanted(node, "the name of a piece or a moment in seconds");
}

bool Reader::read(const Node& node, scene::Span& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 2 || !(*list)[0].number() || !(*list)[1].number())
        return wanted(node, "two moments [from, to] in seconds");
    out = {*(*list)[0].number(), *(*list)[1].number()};
    if (out.from > out.to)
        fail(node, "the span ends before it begins");
    return out.from <= out.to;
}

bool Reader::read(const Node& node, scene::Target& out)
{
    if (node.elements())
        return read(node, out.names);
    out.names.assign(1, {});
    return read(node, out.names.front());
}

bool Reader::read(const Node& node, scene::Destination& out)
{
    if (node.text()) {
        out.held = *node.text();
        return true;
    }
    if (node.members())
        return read(node, out.held.emplace<scene::Formula>());
    if (isWorkedOut(node)) {
        if (node.elements()->size() == 3 && !read((*node.elements())[2], out.z.emplace()))
            return false;
        return read(node, out.held.emplace<scene::Coordinates>());
    }
    scene::Vec point{0, 0};
    if (!readPoint(node, point, out.z))
        return false;
    out.held = point;
    return true;
}

bool Reader::read(const Node& node, scene::Colour& out)
{
    const std::string* text = node.text();
    const bool fits = text && text->size() == 7 && text->front() == '#' &&
                      std::all_of(text->begin() + 1, text->end(), [](unsigned char c) { return std::isxdigit(c); });
    if (!fits && !(text && text->empty()))
        return wanted(node, "a colour such as \"#1f8a7a\"");
    out.code = *text;
    return true;
}

bool Reader::read(const Node& node, scene::Steer& out)
{
    if (node.members())
        return read(node, out.held.emplace<scene::KeyLists>());
    return read(node, out.held.emplace<scene::SteerSet>());
}

bool Reader::read(const Node& node, scene::LookChoice& out)
{
    if (!node.members())
        return read(node, out.held.emplace<std::string>());
    const bool isFormula = std::ranges::any_of(
        scene::formulaWords, [&](const scene::FormulaWord& word) { return node.find(word.word) != nullptr; });
    if (isFormula)
        return read(node, out.held.emplace<scene::Formula>());
    const Node* colour = node.find("colour");
    if (!colour || !colour->members())
        return read(node, out.held.emplace<scene::Look>());
    // Its colour is worked out; the rest is a look like any other.
    {
        const Step step{*this, "colour"};
        if (!read(*colour, out.colour.emplace()))
            return false;
    }
    Members rest;
    for (const auto& member : *node.members())
        if (member.first != "colour")
            rest.push_back(member);
    Node plain = node;
    plain.value = std::move(rest);
    return read(plain, out.held.emplace<scene::Look>());
}

bool Reader::read(const Node& node, scene::ContactRule& out)
{
    const Elements* list = node.elements();
    if (!list || list->size() != 3)
        return wanted(node, "[group, group, \"pass\" | \"sense\" | \"stop\"]");
    return read((*list)[0], out.first) && read((*list)[1], out.second) && read((*list)[2], out.contact);
}

} // namespace snare::io
