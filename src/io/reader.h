// SPDX-License-Identifier: Apache-2.0
/// Reads document structs from JSON by their field tables, collecting every problem with its place.
#pragma once

#include "geometry/outline.h"
#include "io/json_node.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/scene.h"
#include "scene/take.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::io {

class Reader {
  public:
    Reader(std::string_view text, std::string file) : text_(text), file_(std::move(file)) {}

    const std::vector<Problem>& problems() const { return problems_; }
    std::vector<Problem> takeProblems() { return std::move(problems_); }

    /// Notes a problem at `offset` of the text, under the current pointer.
    void fail(std::size_t offset, std::string text)
    {
        if (problems_.size() >= mostProblems)
            return;
        const Place place = placeOf(text_, offset);
        problems_.push_back({file_, place.line, place.column, pointer_, std::move(text)});
    }

    void fail(const Node& node, std::string text) { fail(node.offset, std::move(text)); }

    /// Says that something else was wanted. Returns false, for `return wanted(…)`.
    bool wanted(const Node& node, std::string_view what)
    {
        fail(node, fmt::format("wants {}, not {}", what, describe(node)));
        return false;
    }

    /// Goes one step down in the pointer while it lives.
    class Step {
      public:
        Step(Reader& reader, std::string_view key) : reader_(reader), length_(reader.pointer_.size())
        {
            reader.pointer_ += '/';
            for (const char c : key)
                reader.pointer_ += c == '~' ? std::string("~0") : c == '/' ? std::string("~1") : std::string(1, c);
        }
        ~Step() { reader_.pointer_.resize(length_); }
        Step(const Step&) = delete;
        Step& operator=(const Step&) = delete;

      private:
        Reader& reader_;
        std::size_t length_;
    };

    // --- plain values ------------------------------------------------------------------------------------------

    bool read(const Node& node, bool& out)
    {
        if (!node.flag())
            return wanted(node, "true or false");
        out = *node.flag();
        return true;
    }

    bool read(const Node& node, double& out)
    {
        if (!node.number())
            return wanted(node, "a number");
        out = *node.number();
        return true;
    }

    template <std::integral Integer> bool read(const Node& node, Integer& out)
    {
        const double* number = node.number();
        if (!number || *number != std::floor(*number))
            return wanted(node, "a whole number");
        if (*number < static_cast<double>(std::numeric_limits<Integer>::min()) ||
            *number > static_cast<double>(std::numeric_limits<Integer>::max())) {
            fail(node, "is out of range");
            return false;
        }
        out = static_cast<Integer>(*number);
        return true;
    }

    bool read(const Node& node, std::string& out)
    {
        if (!node.text())
            return wanted(node, "a text");
        out = *node.text();
        return true;
    }

    bool read(const Node& node, scene::Vec& out)
    {
        const Elements* list = node.elements();
        if (!list || list->size() != 2 || !(*list)[0].number() || !(*list)[1].number())
            return wanted(node, "two numbers [x, y]");
        out = {*(*list)[0].number(), *(*list)[1].number()};
        return true;
    }

    /// A point that may have a height.
    bool readPoint(const Node& node, scene::Vec& out, std::optional<double>& height)
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

    bool read(const Node& node, std::array<double, 2>& out)
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

    bool read(const Node& node, scene::Scalar& out)
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

    bool read(const Node& node, std::array<double, 4>& out)
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

    // --- containers --------------------------------------------------------------------------------------------

    template <class T> bool read(const Node& node, std::vector<T>& out)
    {
        return readList(node, out, [&](const Node& one) { return read(one, out.emplace_back()); });
    }
    template <class T> bool read(const Node& node, scene::SharedList<T>& out)
    {
        return readList(node, out, [&](const Node& one) { return read(one, out.emplace_back()); });
    }

    /// Pieces; where an assembly is laid, its parts.
    bool read(const Node& node, scene::SharedList<scene::Piece>& out)
    {
        return readList(node, out, [&](const Node& one) {
            return scene_ && one.find("assembly") ? readLaid(one, out) : read(one, out.emplace_back());
        });
    }

    /// `readOne` puts what an entry says into the list.
    template <class List, class ReadOne> bool readList(const Node& node, List& out, ReadOne&& readOne)
    {
        const Elements* list = node.elements();
        if (!list)
            return wanted(node, "a list");
        bool fine = true;
        out.clear();
        out.reserve(list->size());
        for (std::size_t i = 0; i < list->size(); ++i) {
            const Step step{*this, std::to_string(i)};
            fine = readOne((*list)[i]) && fine;
        }
        return fine;
    }

    template <class T> bool read(const Node& node, std::optional<T>& out) { return read(node, out.emplace()); }

    template <class T> bool read(const Node& node, scene::Named<T>& out)
    {
        const Members* members = node.members();
        if (!members)
            return wanted(node, "an object");
        bool fine = true;
        out.entries.clear();
        for (const auto& [name, value] : *members) {
            const Step step{*this, name};
            fine = read(value, out.entries.emplace_back(name, T{}).second) && fine;
        }
        return fine;
    }

    template <class T> bool read(const Node& node, scene::OneOrMore<T>& out)
    {
        if (node.elements()) {
            if (node.elements()->empty()) {
                fail(node, "wants at least one");
                return false;
            }
            return read(node, out.items);
        }
        out.items.assign(1, T{});
        return read(node, out.items.front());
    }

    // --- words -------------------------------------------------------------------------------------------------

    template <class E>
    requires scene::hasWords<E>
    bool read(const Node& node, E& out)
    {
        if (!node.text())
            return wanted(node, "a word");
        for (const auto& entry : scene::wordsOf<E>)
            if (entry.word == *node.text()) {
                out = entry.value;
                return true;
            }
        std::vector<std::string_view> known;
        for (const auto& entry : scene::wordsOf<E>)
            known.push_back(entry.word);
        unknown(node.offset, "word", *node.text(), known);
        return false;
    }

    // --- values and targets ------------------------------------------------------------------------------------

    template <class T> bool read(const Node& node, scene::Value<T>& out)
    {
        if (node.members())
            return read(node, out.held.template emplace<scene::Formula>());
        T literal{};
        if (!read(node, literal))
            return false;
        out.held = std::move(literal);
        return true;
    }

    /// A formula: one word says which, `clear` belongs to `somewhere`.
    bool read(const Node& node, scene::Formula& out)
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

    bool readParts(const Node& node, scene::Formula& out)
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
            const bool literal = out.parts[0].kind == scene::Formula::Kind::literal &&
                                 out.parts[1].kind == scene::Formula::Kind::literal;
            if (literal && (!low || !high || *low > *high)) {
                fail(node, "wants two numbers, the lower one first");
                return false;
            }
        }
        return fine;
    }

    bool readPart(const Node& node, scene::Formula& out)
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

    /// Two numbers of which one is worked out.
    bool read(const Node& node, scene::Coordinates& out)
    {
        const Elements* list = node.elements();
        if (!list || list->size() < 2 || list->size() > 3)
            return wanted(node, "two numbers [x, y]");
        return read((*list)[0], out.x) && read((*list)[1], out.y);
    }

    static bool isWorkedOut(const Node& node)
    {
        return node.elements() &&
               std::ranges::any_of(*node.elements(), [](const Node& one) { return one.members() != nullptr; });
    }

    bool read(const Node& node, scene::Offset& out)
    {
        if (node.members())
            return read(node, out.held.emplace<scene::Formula>());
        if (isWorkedOut(node))
            return read(node, out.held.emplace<scene::Coordinates>());
        return read(node, out.held.emplace<scene::Vec>());
    }

    /// How many frames, or their files.
    bool read(const Node& node, scene::Frames& out)
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

    bool read(const Node& node, scene::Inside& out)
    {
        if (node.flag())
            out = *node.flag() ? scene::Inside::any : scene::Inside::no;
        else if (node.text() && *node.text() == "nearest")
            out = scene::Inside::nearest;
        else
            return wanted(node, "true, false or \"nearest\"");
        return true;
    }

    /// A list of responses, or an object if it has parameters.
    bool read(const Node& node, scene::Routine& out)
    {
        if (node.elements())
            return read(node, out.responses);
        return node.members() ? readStruct(node, out, {}) : wanted(node, "a list of responses, or an object");
    }

    bool read(const Node& node, scene::PlaceOrTime& out)
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

    bool read(const Node& node, scene::Span& out)
    {
        const Elements* list = node.elements();
        if (!list || list->size() != 2 || !(*list)[0].number() || !(*list)[1].number())
            return wanted(node, "two moments [from, to] in seconds");
        out = {*(*list)[0].number(), *(*list)[1].number()};
        if (out.from > out.to)
            fail(node, "the span ends before it begins");
        return out.from <= out.to;
    }

    bool read(const Node& node, scene::Times& out)
    {
        if (node.number()) {
            int count = 0;
            if (!read(node, count))
                return false;
            if (count < 0)
                fail(node, "is below 0");
            out = {count, count};
            return count >= 0;
        }
        if (!readStruct(node, out, {}))
            return false;
        const bool fits = !out.min || !out.max || *out.min <= *out.max;
        if (!fits)
            fail(node, "min is above max");
        return fits;
    }

    bool read(const Node& node, scene::LineMatch& out)
    {
        const std::size_t before = problems_.size();
        readStruct(node, out, {});
        if (problems_.size() == before)
            checkLines(node, out, {});
        return problems_.size() == before;
    }

    bool read(const Node& node, scene::Expectation& out)
    {
        const std::size_t before = problems_.size();
        std::vector<std::string_view> own;
        scene::forEachField<scene::Expectation>([&](const auto& field) { own.push_back(field.key); });
        if (!readStruct(node, out.line, own))
            return false;
        std::vector<std::string_view> all; // what is unknown has been told
        for (const auto& [key, value] : *node.members())
            all.push_back(key);
        if (!readStruct(node, out, all))
            return false;
        checkExpectation(node, out);
        if (out.never && out.line.between && !out.never->between)
            out.never->between = std::exchange(out.line.between, std::nullopt);
        return problems_.size() == before;
    }

    bool read(const Node& node, scene::Target& out)
    {
        if (node.elements())
            return read(node, out.names);
        out.names.assign(1, {});
        return read(node, out.names.front());
    }

    bool read(const Node& node, scene::Destination& out)
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

    bool read(const Node& node, scene::Colour& out)
    {
        const std::string* text = node.text();
        const bool fits = text && text->size() == 7 && text->front() == '#' &&
                          std::all_of(text->begin() + 1, text->end(), [](unsigned char c) { return std::isxdigit(c); });
        if (!fits && !(text && text->empty()))
            return wanted(node, "a colour such as \"#1f8a7a\"");
        out.code = *text;
        return true;
    }

    bool read(const Node& node, scene::Steer& out)
    {
        if (node.members())
            return read(node, out.held.emplace<scene::KeyLists>());
        return read(node, out.held.emplace<scene::SteerSet>());
    }

    bool read(const Node& node, scene::LookChoice& out)
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

    bool read(const Node& node, scene::ContactRule& out)
    {
        const Elements* list = node.elements();
        if (!list || list->size() != 3)
            return wanted(node, "[group, group, \"pass\" | \"sense\" | \"stop\"]");
        return read((*list)[0], out.first) && read((*list)[1], out.second) && read((*list)[2], out.contact);
    }

    // --- variants ----------------------------------------------------------------------------------------------

    bool read(const Node& node, scene::Body& out)
    {
        if (node.text())
            return chooseByWord(node, out, "kind of body");
        return readTagged(node, "kind", out, {});
    }

    /// A polygon or line whose corners make no sense does not load.
    bool read(const Node& node, scene::Polygon& out)
    {
        if (!readStruct(node, out, {}))
            return false;
        const auto fault = geometry::faultOfPolygon(out.points);
        if (fault)
            fail(node, *fault);
        return !fault;
    }

    bool read(const Node& node, scene::Line& out)
    {
        if (!readStruct(node, out, {}))
            return false;
        const auto fault = geometry::faultOfLine(out.points, out.closed);
        if (fault)
            fail(node, *fault);
        return !fault;
    }

    bool read(const Node& node, scene::Template& out)
    {
        for (const std::string_view key : {"id", "template"})
            if (const Node* given = node.find(key)) {
                fail(given->keyOffset, fmt::format("a template has no \"{}\"", key));
                return false;
            }
        const Lenient lenient{*this}; // it has no id
        return readStruct(node, out.model, {});
    }

    /// The fields of its template first, if there is one of that name, then its own over them.
    bool read(const Node& node, scene::Piece& out)
    {
        const Node* name = node.find("template");
        const scene::Template* form =
            name && name->text() && scene_ ? scene::findTemplate(*scene_, *name->text()) : nullptr;
        if (form)
            return readOver(node, form->model, out);
        return name && scene_ && hasMissingKit() ? readWithoutTemplate(node, out) : readStruct(node, out, {});
    }

    /// Whether a kit that the scene names could not be read: what is missing may stand in it.
    bool hasMissingKit() const
    {
        return scene_->loaded.list && std::ranges::any_of(*scene_->loaded.list, [](const scene::LoadedKit& kit) {
                   return !kit.problem.empty();
               });
    }

    /// What of a piece can be understood while its template is missing; all of it is kept as it stands.
    bool readWithoutTemplate(const Node& node, scene::Piece& out)
    {
        const std::size_t before = problems_.size();
        if (readStruct(node, out, {})) {
            out.lost = jsonText(node);
            return true;
        }
        // A shape that only says what differs from that of the template has no kind.
        problems_.resize(before);
        Node rest = node;
        std::erase_if(std::get<Members>(rest.value), [](const Member& member) { return member.first == "shapes"; });
        out = {};
        out.lost = jsonText(node);
        return readStruct(rest, out, {});
    }

    /// The fields of a model, and over them those that are given.
    bool readOver(const Node& node, const scene::Piece& model, scene::Piece& out)
    {
        if (!node.members())
            return wanted(node, "an object");
        const std::size_t before = problems_.size();
        const bool lenient = takeLenience();
        out = model;
        // Shapes are merged by name below; everything else is simply read over the template.
        std::vector<std::string_view> known;
        out.shapes.clear();
        out.properties.entries.clear();
        out.looks.entries.clear();
        const Node* shapes = node.find("shapes");
        scene::forEachField<scene::Piece>([&](const auto& field) {
            if (field.key == "shapes")
                known.push_back(field.key);
            else
                readField(node, out, field, known, lenient);
        });
        for (const auto& [key, value] : *node.members())
            if (std::ranges::find(known, key) == known.end())
                unknown(value.keyOffset, "key", key, known);
        const auto inherit = [](auto& mine, const auto& theirs) {
            auto merged = theirs;
            for (auto& [key, value] : mine.entries)
                merged.set(key, value);
            mine = std::move(merged);
        };
        inherit(out.properties, model.properties);
        inherit(out.looks, model.looks);
        out.shapes = model.shapes;
        if (shapes)
            mergeShapes(*shapes, out);
        return problems_.size() == before;
    }

    /// A laid assembly: its parts, with what is their own, placed (A1).
    bool readLaid(const Node& node, scene::SharedList<scene::Piece>& out)
    {
        scene::Laid laid;
        if (!readStruct(node, laid, {"parts"}))
            return false;
        const scene::Assembly* assembly = scene::findAssembly(*scene_, laid.assembly);
        const Node* own = node.find("parts");
        if (!assembly) {
            if (own)
                laid.lost = jsonText(*own);
            scene_->laid.push_back(laid);
            return true;
        }
        const std::size_t before = problems_.size();
        const Step step{*this, "parts"};
        if (own && !own->members())
            return wanted(*own, "an object");
        std::vector<std::string_view> known;
        for (const scene::Piece& part : assembly->pieces) {
            known.push_back(part.id);
            scene::Piece piece = part;
            if (const Node* given = own ? own->find(part.id) : nullptr) {
                const Step at{*this, part.id};
                const Lenient lenient{*this}; // it has its name
                readOver(*given, part, piece);
                if (piece.id != part.id)
                    fail(*given, "a part of a laid assembly keeps its name");
            }
            out.push_back(scene::placed(*assembly, piece, laid));
        }
        if (own)
            setAsideLost(*own, known, laid);
        scene_->laid.push_back(laid);
        return problems_.size() == before;
    }

    /// Parts that the assembly does not have: a mistake if it is the scene's own; a kit may have changed meanwhile.
    void setAsideLost(const Node& own, const std::vector<std::string_view>& known, scene::Laid& laid)
    {
        Members lost;
        for (const Member& member : *own.members())
            if (std::ranges::find(known, member.first) == known.end())
                lost.push_back(member);
        if (lost.empty())
            return;
        if (scene_->assemblies.find(laid.assembly))
            return unknown(lost.front().second.keyOffset, "part", lost.front().first, known);
        Node kept;
        kept.value = std::move(lost);
        laid.lost = jsonText(kept);
    }

    /// A whole file, whose envelope was read before.
    template <class T> bool readDocument(const Node& node, T& out)
    {
        if constexpr (std::is_same_v<T, scene::Scene>)
            scene_ = &out; // templates and assemblies stand before the pieces in the table
        return readStruct(node, out, {"format", "version"});
    }

    bool read(const Node& node, scene::Response& out)
    {
        if (!readTagged(node, "do", out.kind, {"if"}))
            return false;
        if (const Node* onlyIf = node.find("if")) {
            const Step step{*this, "if"};
            return read(*onlyIf, out.onlyIf);
        }
        return true;
    }

    // --- structs -----------------------------------------------------------------------------------------------

    template <class T>
    requires scene::hasFields<T>
    bool read(const Node& node, T& out) { return readStruct(node, out, {}); }

    /// Reads a struct; keys in `besides` belong to somebody else and are passed over.
    template <class T> bool readStruct(const Node& node, T& out, const std::vector<std::string_view>& besides)
    {
        const std::size_t before = problems_.size();
        if (!node.members()) {
            bool taken = false;
            scene::forEachField<T>([&]<class F>(const F& field) {
                if constexpr (requires { field.isShorthand; })
                    if (field.isShorthand) {
                        readMember(node, out, field);
                        taken = true;
                    }
            });
            if (!taken)
                return wanted(node, "an object");
            return problems_.size() == before;
        }
        std::vector<std::string_view> known = besides;
        const bool lenient = takeLenience();
        scene::forEachField<T>([&](const auto& field) { readField(node, out, field, known, lenient); });
        for (const auto& [key, value] : *node.members())
            if (std::ranges::find(known, key) == known.end())
                unknown(value.keyOffset, "key", key, known);
        return problems_.size() == before;
    }

    /// Whether lines are told in one way, with what belongs to it (E1). `besides` may stand beside them.
    void checkLines(const Node& node, const scene::LineMatch& line, std::vector<std::string_view> besides)
    {
        struct Kind {
            std::string_view key;
            std::vector<std::string_view> fields;
        };
        static const std::vector<Kind> kinds{
            {"response", {"snare", "on"}},
            {"event", {"at", "by", "shape", "part", "cause", "manner", "speed"}},
            {"signal", {"with"}},
            {"phase", {"on"}},
            {"snare", {"outcome", "stage", "self", "visitor"}},
        };
        const auto has = [&](std::string_view key) { return node.find(key) != nullptr; };
        std::vector<std::string_view> told;
        for (const Kind& kind : kinds)
            if (has(kind.key) && !(kind.key == "snare" && has("response")))
                told.push_back(kind.key);
        if (told.size() != 1)
            return fail(node, "wants exactly one of event, snare, signal, response, phase");
        const Kind& kind = *std::ranges::find(kinds, told.front(), &Kind::key);
        besides.insert(besides.end(), {kind.key, "between"});
        besides.insert(besides.end(), kind.fields.begin(), kind.fields.end());
        onlyThese(node, besides, fmt::format("does not belong to a {}", kind.key));
        const Node& name = *node.find(kind.key);
        if (name.text() && name.text()->empty())
            fail(name, "wants a name, not an empty text");
        if (line.at.time)
            fail(*node.find("at"), "wants the name of a piece");
        if (line.stage && line.outcome == scene::Outcome::sprung)
            fail(*node.find("stage"), "what springs slips at no stage");
    }

    /// Keys that are none of these are told with `why`.
    void onlyThese(const Node& node, const std::vector<std::string_view>& keys, std::string_view why)
    {
        for (const auto& [key, value] : *node.members())
            if (std::ranges::find(keys, key) == keys.end()) {
                const Step step{*this, key};
                fail(value.keyOffset, fmt::format("\"{}\" {}", key, why));
            }
    }

    void checkExpectation(const Node& node, const scene::Expectation& expect)
    {
        const auto has = [&](std::string_view key) { return node.find(key) != nullptr; };
        const int others = has("never") + has("order") + has("value") + has("inside");
        if (others == 0 && (has("event") || has("snare") || has("signal") || has("response") || has("phase")))
            return checkLines(node, expect.line, {"times", "note"});
        if (others != 1)
            return fail(node, "wants exactly one of event, snare, signal, response, phase, never, order, value, inside");
        if (has("never"))
            return onlyThese(node, {"never", "between", "note"}, "belongs to no expectation of what never comes");
        if (has("order")) {
            if (expect.order.size() < 2)
                fail(*node.find("order"), "an order is one of two at least");
            return onlyThese(node, {"order", "note"}, "belongs to no order");
        }
        if (has("at") && !expect.line.at.time)
            fail(*node.find("at"), "wants a moment in seconds");
        if (has("inside")) {
            if (expect.inside.size() != 2)
                fail(*node.find("inside"), "wants the visitor and where it is inside");
            if (!has("at"))
                fail(node, "\"at\" is missing: when");
            return onlyThese(node, {"inside", "at", "note"}, "belongs to no visit");
        }
        if (has("at") + expect.always + expect.ever != 1)
            fail(node, "wants exactly one of at, always, ever");
        if (expect.value.find('.') == std::string::npos)
            fail(*node.find("value"), "wants a path such as scene.parcels");
        if (!has("to"))
            fail(node, "\"to\" is missing: what the value is compared with");
        if (expect.within && expect.to && !std::holds_alternative<double>(*expect.to))
            fail(*node.find("within"), "only numbers can be off by something");
        onlyThese(node, {"value", "at", "always", "ever", "is", "to", "within", "note"}, "belongs to no value");
    }

    /// Reads one field's value, with its range.
    template <class T, class Member> void readField(const Node& value, T& out, const scene::Field<T, Member>& field)
    {
        readMember(value, out, field);
    }

    /// Says that a word is not known and which one may have been meant.
    void unknown(std::size_t offset, std::string_view what, std::string_view word,
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

  private:
    static constexpr std::size_t mostProblems = 50;

    /// While it lives, nothing is missing: what is not given stays as it is.
    class Lenient {
      public:
        explicit Lenient(Reader& reader) : reader_(reader), before_(std::exchange(reader.lenient_, true)) {}
        ~Lenient() { reader_.lenient_ = before_; }
        Lenient(const Lenient&) = delete;
        Lenient& operator=(const Lenient&) = delete;

      private:
        Reader& reader_;
        bool before_;
    };

    /// The strictness of `Lenient` holds for one struct, not for those in it.
    bool takeLenience() { return std::exchange(lenient_, false); }

    /// Shapes with the name of one that is there are read over it; the others are new.
    void mergeShapes(const Node& node, scene::Piece& out)
    {
        const Step list{*this, "shapes"};
        if (!node.elements()) {
            wanted(node, "a list");
            return;
        }
        const std::size_t inherited = out.shapes.size();
        for (std::size_t i = 0; i < node.elements()->size(); ++i) {
            const Node& one = (*node.elements())[i];
            const Step step{*this, std::to_string(i)};
            const Node* id = one.find("id");
            const auto found = id && id->text() ? scene::findShape(out, *id->text()) : std::nullopt;
            if (!found || *found >= inherited) {
                read(one, out.shapes.emplace_back());
                continue;
            }
            scene::Shape& shape = out.shapes[*found];
            const std::string name = shape.id; // an index is no name
            const Lenient lenient{*this};
            readStruct(one, shape, {});
            shape.id = name;
        }
    }

    template <class T, class Member>
    void readField(const Node& node, T& out, const scene::Field<T, Member>& field, std::vector<std::string_view>& known,
                   bool lenient = false)
    {
        known.push_back(field.key);
        const Node* value = node.find(field.key);
        if (!value) {
            if (field.isRequired && !lenient)
                fail(node, fmt::format("\"{}\" is missing: {}", field.key, field.about));
            return;
        }
        const Step step{*this, field.key};
        readMember(*value, out, field);
    }

    template <class T, class Variant>
    void readField(const Node& node, T& out, const scene::KeyedField<T, Variant>& field,
                   std::vector<std::string_view>& known, bool lenient = false)
    {
        int given = 0;
        std::vector<std::string_view> keys;
        scene::forEachOf(static_cast<const Variant*>(nullptr), [&]<class A>() {
            constexpr std::string_view key = scene::fieldsOf<A>.word.key;
            known.push_back(key);
            keys.push_back(key);
            if (const Node* value = node.find(key)) {
                const Step step{*this, key};
                ++given;
                read(*value, (out.*field.member).template emplace<A>());
            }
        });
        if (given != 1 && !(given == 0 && lenient))
            fail(node, fmt::format("wants exactly one of {}", fmt::join(keys, ", ")));
    }

    /// Exactly one alternative, with what belongs to it and nothing that belongs to another.
    template <class T, class Variant>
    void readField(const Node& node, T& out, const scene::StructsField<T, Variant>& field,
                   std::vector<std::string_view>& known, bool /*lenient*/ = false)
    {
        constexpr const Variant* type = nullptr;
        std::vector<std::string_view> first; // keys that tell the alternatives apart
        std::vector<std::string_view> given;
        scene::forEachOf(type, [&]<class A>() {
            first.push_back(scene::firstKeyOf<A>());
            if (node.find(first.back()))
                given.push_back(first.back());
        });
        std::vector<std::string_view> own = first;
        if (given.size() == 1)
            scene::forEachOf(type, [&]<class A>() {
                if (scene::firstKeyOf<A>() != given.front())
                    return;
                A& held = (out.*field.member).template emplace<A>();
                scene::forEachField<A>([&](const auto& one) { readField(node, held, one, own); });
                failIfNameless(node, held);
            });
        else
            fail(node, fmt::format("wants exactly one of {}", fmt::join(first, ", ")));
        // What belongs to another is told as that, once.
        scene::forEachOf(type, [&]<class A>() {
            scene::forEachField<A>([&](const auto& other) {
                const Node* value = given.size() == 1 ? node.find(other.key) : nullptr;
                if (value && std::ranges::find(own, other.key) == own.end()) {
                    fail(*value, fmt::format("\"{}\" belongs to {}", other.key, ownersOf(type, other.key)));
                    own.push_back(other.key);
                }
                known.push_back(other.key);
            });
        });
    }

    /// "a key or a button": the alternatives that have a field, by their first keys.
    template <class Variant> static std::string ownersOf(const Variant* type, std::string_view key)
    {
        std::vector<std::string> owners;
        scene::forEachOf(type, [&]<class A>() {
            scene::forEachField<A>([&](const auto& field) {
                if (field.key == key)
                    owners.push_back(fmt::format("a {}", scene::firstKeyOf<A>()));
            });
        });
        return fmt::format("{}", fmt::join(owners, " or "));
    }

    /// A name that tells what a struct is about is not empty.
    template <class A> void failIfNameless(const Node& node, const A& held)
    {
        constexpr auto& field = std::get<0>(scene::fieldsOf<A>.fields);
        if constexpr (std::is_same_v<decltype(field.member), std::string A::*>) {
            const Node* value = node.find(field.key);
            if (value && value->text() && (held.*field.member).empty())
                fail(*value, "wants a name, not an empty text");
        }
    }

    template <class T, class Member> void readMember(const Node& value, T& out, const scene::Field<T, Member>& field)
    {
        Member& member = out.*field.member;
        if constexpr (std::is_same_v<Member, scene::Vec> || std::is_same_v<Member, std::optional<scene::Vec>>) {
            if (field.height) {
                scene::Vec point{0, 0};
                std::optional<double> height;
                if (readPoint(value, point, height)) {
                    member = point;
                    out.*field.height = height.value_or(0);
                }
                return;
            }
        }
        if constexpr (std::is_same_v<Member, std::optional<scene::Offset>>) {
            if (field.height && value.elements() && value.elements()->size() == 3 && !isWorkedOut(value)) {
                scene::Vec point{0, 0};
                std::optional<double> height;
                if (readPoint(value, point, height)) {
                    member = scene::Offset{point};
                    out.*field.height = height.value_or(0);
                }
                return;
            }
        }
        if (!read(value, member) || !field.range.bounded())
            return;
        forEachNumber(member, [&](double number) {
            if (!field.range.allows(number))
                fail(value, fmt::format("{} must be {}, not {:.9g}", field.about, rangeText(field.range), number));
        });
    }

    static std::string rangeText(const scene::Range& range)
    {
        if (range.high == std::numeric_limits<double>::infinity())
            return fmt::format("{} {:.9g}", range.openLow ? "above" : "at least", range.low);
        return fmt::format("{:.9g} to {:.9g}", range.low, range.high);
    }

    template <class Member, class Visit> static void forEachNumber(const Member& member, Visit&& visit)
    {
        if constexpr (std::is_arithmetic_v<Member>) {
            visit(static_cast<double>(member));
        } else if constexpr (std::is_same_v<Member, scene::Vec>) {
            visit(member.x);
            visit(member.y);
        } else if constexpr (requires {
                                 member.has_value();
                                 *member;
                             }) {
            if (member)
                forEachNumber(*member, visit);
        } else if constexpr (requires { member.literal(); }) {
            if (member.literal())
                forEachNumber(*member.literal(), visit);
        }
    }

    template <class Variant> bool chooseByWord(const Node& node, Variant& out, std::string_view what)
    {
        bool found = false;
        std::vector<std::string_view> known;
        scene::forEachOf(static_cast<const Variant*>(nullptr), [&]<class A>() {
            constexpr std::string_view key = scene::fieldsOf<A>.word.key;
            known.push_back(key);
            if (key == *node.text()) {
                out.template emplace<A>();
                found = true;
            }
        });
        if (!found)
            unknown(node.offset, what, *node.text(), known);
        return found;
    }

    template <class Variant>
    bool readTagged(const Node& node, std::string_view tag, Variant& out, std::vector<std::string_view> besides)
    {
        if (!node.members())
            return wanted(node, "an object");
        const Node* word = node.find(tag);
        if (!word || !word->text()) {
            fail(word ? *word : node, fmt::format("\"{}\" is missing or no word", tag));
            return false;
        }
        {
            const Step step{*this, tag};
            if (!chooseByWord(*word, out, tag == "do" ? "response" : "kind of body"))
                return false;
        }
        besides.push_back(tag);
        return std::visit([&](auto& alternative) { return readStruct(node, alternative, besides); }, out);
    }

    std::string_view text_;
    std::string file_;
    std::string pointer_;
    std::vector<Problem> problems_;
    scene::Scene* scene_ = nullptr; ///< that is being read, with its kits
    static constexpr int mostDepth = 50;
    int depth_ = 0;
    bool lenient_ = false;
};

} // namespace snare::io
