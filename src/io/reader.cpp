// SPDX-License-Identifier: Apache-2.0
#include "io/reader.h"

#include "geometry/outline.h"
#include "scene/assemblies.h"
#include "scene/kits.h"

namespace snare::io {

namespace {

/// "above 0", "at least 0.01", "0 to 89".
std::string rangeText(const scene::Range& range)
{
    if (range.high == std::numeric_limits<double>::infinity())
        return fmt::format("{} {:.9g}", range.openLow ? "above" : "at least", range.low);
    return fmt::format("{:.9g} to {:.9g}", range.low, range.high);
}

/// The literal numbers in a field; none if it is worked out or left out.
template <class Member, class Visit> void forEachNumber(const Member& member, Visit&& visit)
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

/// "a key or a button": the alternatives that have a field, by their first keys.
template <class Variant> std::string ownersOf(const Variant* type, std::string_view key)
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

} // namespace

// --- by the tables
// -----------------------------------------------------------------------------------------------------

const Node* Reader::given(const Node& node, const scene::FieldInfo& field, bool lenient,
                          std::vector<std::string_view>& known)
{
    known.push_back(field.key);
    const Node* value = node.find(field.key);
    if (!value && field.isRequired && !lenient)
        fail(node, fmt::format("\"{}\" is missing: {}", field.key, field.about));
    return value;
}

template <class T, class Member>
void Reader::readField(const Node& node, T& out, const scene::Field<T, Member>& field,
                       std::vector<std::string_view>& known, bool lenient)
{
    if (const Node* value = given(node, field, lenient, known)) {
        const Step step{*this, field.key};
        readMemberOf(*value, out, field);
    }
}

template <class T, class Variant>
void Reader::readField(const Node& node, T& out, const scene::KeyedField<T, Variant>& field,
                       std::vector<std::string_view>& known, bool lenient)
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

template <class T, class Variant>
void Reader::readField(const Node& node, T& out, const scene::StructsField<T, Variant>& field,
                       std::vector<std::string_view>& known, bool /*lenient*/)
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

template <class A> void Reader::failIfNameless(const Node& node, const A& held)
{
    constexpr auto& field = std::get<0>(scene::fieldsOf<A>.fields);
    if constexpr (std::is_same_v<decltype(field.member), std::string A::*>) {
        const Node* value = node.find(field.key);
        if (value && value->text() && (held.*field.member).empty())
            fail(*value, "wants a name, not an empty text");
    }
}

template <class Member>
void Reader::readMember(const Node& value, Member& member, double* height, const scene::FieldInfo& field)
{
    if constexpr (std::is_same_v<Member, scene::Vec> || std::is_same_v<Member, std::optional<scene::Vec>>) {
        if (height) {
            scene::Vec point{0, 0};
            std::optional<double> third;
            if (readPoint(value, point, third)) {
                member = point;
                *height = third.value_or(0);
            }
            return;
        }
    }
    if constexpr (std::is_same_v<Member, std::optional<scene::Offset>>) {
        if (height && value.elements() && value.elements()->size() == 3 && !isWorkedOut(value)) {
            scene::Vec point{0, 0};
            std::optional<double> third;
            if (readPoint(value, point, third)) {
                member = scene::Offset{point};
                *height = third.value_or(0);
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

template <class Variant>
bool Reader::readTagged(const Node& node, std::string_view tag, Variant& out, std::vector<std::string_view> besides)
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

template <class Variant> bool Reader::chooseByWord(const Node& node, Variant& out, std::string_view what)
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

template <class T> bool Reader::readStruct(const Node& node, T& out, const std::vector<std::string_view>& besides)
{
    const std::size_t before = problems_.size();
    if (!node.members()) {
        bool taken = false;
        scene::forEachField<T>([&]<class F>(const F& field) {
            if constexpr (requires { field.isShorthand; })
                if (field.isShorthand) {
                    readMemberOf(node, out, field);
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

template <class T> bool Reader::readFieldOf(const Node& value, std::string_view key, T& out)
{
    bool found = false;
    scene::forEachField<T>([&](const auto& field) {
        if (field.key != key)
            return;
        found = true;
        if (!std::holds_alternative<std::nullptr_t>(value.value))
            return readMemberOf(value, out, field);
        static const T standard{};
        out.*field.member = standard.*field.member;
        if (field.height)
            out.*field.height = standard.*field.height;
    });
    return found;
}

// --- structs that are more than their table
// ----------------------------------------------------------------------------

bool Reader::read(const Node& node, scene::Routine& out)
{
    if (node.elements())
        return read(node, out.responses);
    return node.members() ? readStruct(node, out, {}) : wanted(node, "a list of responses, or an object");
}

bool Reader::read(const Node& node, scene::Body& out)
{
    if (node.text())
        return chooseByWord(node, out, "kind of body");
    return readTagged(node, "kind", out, {});
}

bool Reader::read(const Node& node, scene::Polygon& out)
{
    if (!readStruct(node, out, {}))
        return false;
    const auto fault = geometry::faultOfPolygon(out.points);
    if (fault)
        fail(node, *fault);
    return !fault;
}

bool Reader::read(const Node& node, scene::Line& out)
{
    if (!readStruct(node, out, {}))
        return false;
    const auto fault = geometry::faultOfLine(out.points, out.closed);
    if (fault)
        fail(node, *fault);
    return !fault;
}

bool Reader::read(const Node& node, scene::Template& out)
{
    for (const std::string_view key : {"id", "template"})
        if (const Node* given = node.find(key)) {
            fail(given->keyOffset, fmt::format("a template has no \"{}\"", key));
            return false;
        }
    const Lenient lenient{*this}; // it has no id
    return readStruct(node, out.model, {});
}

bool Reader::read(const Node& node, scene::Piece& out)
{
    const Node* name = node.find("template");
    const scene::Template* form =
        name && name->text() && scene_ ? scene::findTemplate(*scene_, *name->text()) : nullptr;
    if (form)
        return readOver(node, form->model, out);
    return name && scene_ && hasMissingKit() ? readWithoutTemplate(node, out) : readStruct(node, out, {});
}

bool Reader::hasMissingKit() const
{
    return scene_->loaded.list &&
           std::ranges::any_of(*scene_->loaded.list, [](const scene::LoadedKit& kit) { return !kit.problem.empty(); });
}

bool Reader::readWithoutTemplate(const Node& node, scene::Piece& out)
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

bool Reader::readOver(const Node& node, const scene::Piece& model, scene::Piece& out)
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

void Reader::mergeShapes(const Node& node, scene::Piece& out)
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

bool Reader::read(const Node& node, scene::SharedList<scene::Piece>& out)
{
    return readList(node, out, [&](const Node& one) {
        return scene_ && one.find("assembly") ? readLaid(one, out) : read(one, out.emplace_back());
    });
}

bool Reader::readLaid(const Node& node, scene::SharedList<scene::Piece>& out)
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

void Reader::setAsideLost(const Node& own, const std::vector<std::string_view>& known, scene::Laid& laid)
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

bool Reader::read(const Node& node, scene::Response& out)
{
    if (!readTagged(node, "do", out.kind, {"if"}))
        return false;
    if (const Node* onlyIf = node.find("if")) {
        const Step step{*this, "if"};
        return read(*onlyIf, out.onlyIf);
    }
    return true;
}

template <class T> bool Reader::readDocument(const Node& node, T& out)
{
    if constexpr (std::is_same_v<T, scene::Scene>)
        scene_ = &out; // templates and assemblies stand before the pieces in the table
    return readStruct(node, out, {"format", "version"});
}

bool Reader::readFieldOf(const Node& value, std::string_view key, scene::Response& out)
{
    return std::visit([&](auto& kind) { return readFieldOf(value, key, kind); }, out.kind);
}

bool Reader::readFieldOf(const Node& value, std::string_view key, scene::Body& out)
{
    return std::visit([&](auto& kind) { return readFieldOf(value, key, kind); }, out);
}

// --- what other files call
// ---------------------------------------------------------------------------------------------

template bool Reader::readDocument(const Node&, scene::Scene&);
template bool Reader::readDocument(const Node&, scene::Kit&);
template bool Reader::readDocument(const Node&, scene::Take&);
template bool Reader::readStruct(const Node&, scene::KeyLists&, const std::vector<std::string_view>&);
template bool Reader::readStruct(const Node&, scene::Look&, const std::vector<std::string_view>&);
template bool Reader::readStruct(const Node&, scene::Times&, const std::vector<std::string_view>&);
template bool Reader::readStruct(const Node&, scene::LineMatch&, const std::vector<std::string_view>&);
template bool Reader::readStruct(const Node&, scene::Expectation&, const std::vector<std::string_view>&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Scene&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Snare&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Catch&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Filter&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::TagFilter&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::SpeedFilter&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Gate&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Route&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Look&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::LineMatch&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::Expectation&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::TimerSource&);
template bool Reader::readFieldOf(const Node&, std::string_view, scene::DialSource&);

} // namespace snare::io
