// SPDX-License-Identifier: Apache-2.0
/// Reads document structs from JSON by their field tables, collecting every problem with its place.
#pragma once

#include "io/json_node.h"
#include "scene/scene.h"
#include "scene/take.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::io {

/// Reads values out of the nodes of one text.
///
/// Each `read` fills `out` and returns whether all of the node made sense; what did not has been
/// noted with its place. Single values are read in reader_values.cpp, structs and pieces in
/// reader.cpp, what a take expects in reader_take.cpp.
class Reader {
  public:
    Reader(std::string_view text, std::string file) : text_(text), file_(std::move(file)) {}

    /// What was wrong so far, in the order of the file; at most fifty.
    const std::vector<Problem>& problems() const { return problems_; }
    std::vector<Problem> takeProblems() { return std::move(problems_); }

    /// Notes a problem at `offset` of the text, under the current pointer.
    void fail(std::size_t offset, std::string text);
    void fail(const Node& node, std::string text) { fail(node.offset, std::move(text)); }

    /// Says that something else was wanted. Returns false, for `return wanted(…)`.
    bool wanted(const Node& node, std::string_view what);

    /// Says that a word is not known and which one may have been meant.
    void unknown(std::size_t offset, std::string_view what, std::string_view word,
                 const std::vector<std::string_view>& known);

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

    // --- documents ---------------------------------------------------------------------------------------------

    /// A whole file, whose envelope was read before: a scene, a kit, a take.
    template <class T> bool readDocument(const Node& node, T& out);

    /// One field of a struct by its key, with its range; null sets it back to what it is when left
    /// out. Returns false if there is no such field.
    template <class T> bool readFieldOf(const Node& value, std::string_view key, T& out);
    bool readFieldOf(const Node& value, std::string_view key, scene::Response& out);
    bool readFieldOf(const Node& value, std::string_view key, scene::Body& out);

    /// What of a piece can be understood while its template is missing; all of it is kept as it
    /// stands.
    bool readWithoutTemplate(const Node& node, scene::Piece& out);

    // --- plain values ------------------------------------------------------------------------------------------

    bool read(const Node& node, bool& out);
    bool read(const Node& node, double& out);
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
    bool read(const Node& node, std::string& out);
    bool read(const Node& node, scene::Vec& out);
    /// A point that may have a height.
    bool readPoint(const Node& node, scene::Vec& out, std::optional<double>& height);
    /// The lower number first.
    bool read(const Node& node, std::array<double, 2>& out);
    /// Left, bottom, right, top.
    bool read(const Node& node, std::array<double, 4>& out);
    bool read(const Node& node, scene::Scalar& out);

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
        known.reserve(std::size(scene::wordsOf<E>));
        for (const auto& entry : scene::wordsOf<E>)
            known.push_back(entry.word);
        unknown(node.offset, "word", *node.text(), known);
        return false;
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
    bool read(const Node& node, scene::SharedList<scene::Piece>& out);

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
    bool read(const Node& node, scene::Formula& out);
    /// Two numbers of which one is worked out.
    bool read(const Node& node, scene::Coordinates& out);
    bool read(const Node& node, scene::Offset& out);
    /// How many frames, or their files.
    bool read(const Node& node, scene::Frames& out);
    bool read(const Node& node, scene::Inside& out);
    bool read(const Node& node, scene::PlaceOrTime& out);
    bool read(const Node& node, scene::Span& out);
    bool read(const Node& node, scene::Target& out);
    bool read(const Node& node, scene::Destination& out);
    bool read(const Node& node, scene::Colour& out);
    bool read(const Node& node, scene::Steer& out);
    bool read(const Node& node, scene::LookChoice& out);
    bool read(const Node& node, scene::ContactRule& out);

    // --- structs -----------------------------------------------------------------------------------------------

    /// By its field table.
    template <class T>
    requires scene::hasFields<T>
    bool read(const Node& node, T& out) { return readStruct(node, out, {}); }

    bool read(const Node& node, scene::Times& out);
    bool read(const Node& node, scene::LineMatch& out);
    bool read(const Node& node, scene::Expectation& out);
    /// A list of responses, or an object if it has parameters.
    bool read(const Node& node, scene::Routine& out);
    bool read(const Node& node, scene::Response& out);
    bool read(const Node& node, scene::Body& out);
    // A polygon or line whose corners make no sense does not load.
    bool read(const Node& node, scene::Polygon& out);
    bool read(const Node& node, scene::Line& out);
    bool read(const Node& node, scene::Template& out);
    /// The fields of its template first, if there is one of that name, then its own over them.
    bool read(const Node& node, scene::Piece& out);

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

    bool readParts(const Node& node, scene::Formula& out);
    bool readPart(const Node& node, scene::Formula& out);
    /// Whether an element of a point is an object: a formula.
    static bool isWorkedOut(const Node& node);

    /// Reads a struct by its table; keys in `besides` belong to somebody else and are passed over.
    /// Compiled in reader.cpp.
    template <class T> bool readStruct(const Node& node, T& out, const std::vector<std::string_view>& besides);
    /// The value of a field, if it is given; tells if it is missing. Its key is added to `known`.
    const Node* given(const Node& node, const scene::FieldInfo& field, bool lenient,
                      std::vector<std::string_view>& known);
    template <class T, class Member>
    void readField(const Node& node, T& out, const scene::Field<T, Member>& field, std::vector<std::string_view>& known,
                   bool lenient = false);
    template <class T, class Variant>
    void readField(const Node& node, T& out, const scene::KeyedField<T, Variant>& field,
                   std::vector<std::string_view>& known, bool lenient = false);
    /// Exactly one alternative, with what belongs to it and nothing that belongs to another.
    template <class T, class Variant>
    void readField(const Node& node, T& out, const scene::StructsField<T, Variant>& field,
                   std::vector<std::string_view>& known, bool lenient = false);
    /// A name that tells what a struct is about is not empty.
    template <class A> void failIfNameless(const Node& node, const A& held);
    /// The value of a field, with its range. A point's third number goes to `height`, if it has
    /// one.
    template <class Member>
    void readMember(const Node& value, Member& member, double* height, const scene::FieldInfo& field);
    template <class T, class Member> void readMemberOf(const Node& value, T& out, const scene::Field<T, Member>& field)
    {
        readMember(value, out.*field.member, field.height ? &(out.*field.height) : nullptr, field);
    }
    template <class Variant> bool chooseByWord(const Node& node, Variant& out, std::string_view what);
    template <class Variant>
    bool readTagged(const Node& node, std::string_view tag, Variant& out, std::vector<std::string_view> besides);

    /// Whether a kit that the scene names could not be read: what is missing may stand in it.
    bool hasMissingKit() const;
    /// The fields of a model, and over them those that are given.
    bool readOver(const Node& node, const scene::Piece& model, scene::Piece& out);
    /// Shapes with the name of one that is there are read over it; the others are new.
    void mergeShapes(const Node& node, scene::Piece& out);
    /// A laid assembly: its parts, with what is their own, placed (A1).
    bool readLaid(const Node& node, scene::SharedList<scene::Piece>& out);
    /// Parts that the assembly does not have: a mistake if it is the scene's own; a kit may have
    /// changed meanwhile.
    void setAsideLost(const Node& own, const std::vector<std::string_view>& known, scene::Laid& laid);

    /// Whether lines are told in one way, with what belongs to it (E1). `besides` may stand beside
    /// them.
    void checkLines(const Node& node, const scene::LineMatch& line, std::vector<std::string_view> besides);
    /// Keys that are none of these are told with `why`.
    void onlyThese(const Node& node, const std::vector<std::string_view>& keys, std::string_view why);
    void checkExpectation(const Node& node, const scene::Expectation& expect);

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
