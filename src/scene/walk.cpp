// SPDX-License-Identifier: Apache-2.0
#include "scene/walk.h"

#include "scene/scene.h"
#include "scene/take.h"

namespace snare::scene {

namespace {

/// Walks over everything in a value that names something.
class Walk {
  public:
    explicit Walk(const VisitName& visit) : visit_(visit) {}

    /// Visits all names in `value`; `refers` says what a text means that stands alone.
    template <class T> void over(T& value, Refers refers)
    {
        if constexpr (std::is_same_v<T, std::string>) {
            if (refers != Refers::nothing)
                visit_(refers, value);
        } else if constexpr (std::is_same_v<T, Target>) {
            for (std::string& name : value.names)
                visit_(Refers::target, name);
        } else if constexpr (std::is_same_v<T, Formula>) {
            overFormula(value, refers);
        } else if constexpr (std::is_same_v<T, Coordinates>) {
            over(value.x, Refers::nothing);
            over(value.y, Refers::nothing);
        } else if constexpr (std::is_same_v<T, Offset>) {
            over(value.held, Refers::nothing);
        } else if constexpr (std::is_same_v<T, Destination>) {
            over(value.held, Refers::place);
        } else if constexpr (std::is_same_v<T, PlaceOrTime>) {
            over(value.place, refers);
        } else if constexpr (std::is_same_v<T, Expectation>) {
            over(value.line, Refers::nothing);
            forEachField<T>([&](const auto& field) { overField(value, field); });
        } else if constexpr (std::is_same_v<T, LookChoice>) {
            over(value.held, Refers::look);
            over(value.colour, Refers::nothing);
        } else if constexpr (std::is_same_v<T, LoadedKits>) {
            // belongs to files of its own
        } else if constexpr (std::is_same_v<T, ContactRule>) {
            visit_(Refers::group, value.first);
            visit_(Refers::group, value.second);
        } else if constexpr (std::is_same_v<T, Template>) {
            over(value.model, Refers::nothing);
        } else if constexpr (std::is_same_v<T, Response>) {
            std::visit([&](auto& kind) { over(kind, Refers::nothing); }, value.kind);
            over(value.onlyIf, Refers::nothing);
        } else if constexpr (requires { value.literal(); }) {
            over(value.held, refers);
        } else if constexpr (requires { value.entries; }) {
            for (auto& entry : value.entries)
                over(entry.second, refers);
        } else if constexpr (requires { value.items; }) {
            over(value.items, refers);
        } else if constexpr (requires { value.has_value(); }) {
            if (value)
                over(*value, refers);
        } else if constexpr (requires { value.push_back(value.front()); }) {
            for (auto& item : value)
                over(item, refers);
        } else if constexpr (requires { value.valueless_by_exception(); }) {
            std::visit([&](auto& held) { over(held, refers); }, value);
        } else if constexpr (hasFields<T>) {
            forEachField<T>([&](const auto& field) { overField(value, field); });
        }
    }

  private:
    void overFormula(Formula& formula, Refers refers)
    {
        switch (formula.kind) {
        case Formula::Kind::get:
            visit_(Refers::property, formula.text);
            break;
        case Formula::Kind::somewhere:
            visit_(Refers::target, formula.text);
            break;
        case Formula::Kind::script:
            visit_(Refers::script, formula.text);
            break;
        case Formula::Kind::literal:
            if (auto* text = std::get_if<std::string>(&formula.literal); text && refers != Refers::nothing)
                visit_(refers, *text);
            break;
        default:
            for (std::string& name : formula.names)
                visit_(Refers::target, name);
            for (Formula& part : formula.parts)
                overFormula(part, refers);
            break;
        }
    }

    template <class T, class Member> void overField(T& value, const Field<T, Member>& field)
    {
        over(value.*field.member, field.refers);
    }
    template <class T, class Member> void overField(T& value, const KeyedField<T, Member>& field)
    {
        over(value.*field.member, Refers::nothing);
    }
    template <class T, class Member> void overField(T& value, const StructsField<T, Member>& field)
    {
        over(value.*field.member, Refers::nothing);
    }

    const VisitName& visit_;
};

/// Walks over the fields of a struct one by one.
template <class T> void overFields(T& value, const VisitFieldName& visit)
{
    forEachField<T>([&](const auto& field) {
        if constexpr (requires { field.key; }) {
            const VisitName named = [&](Refers refers, std::string& text) { visit(field.key, refers, text); };
            Walk{named}.over(value.*field.member, field.refers);
        }
    });
}

} // namespace

template <class T> void walkNames(T& value, const VisitName& visit)
{
    Walk{visit}.over(value, Refers::nothing);
}

template void walkNames(Scene&, const VisitName&);
template void walkNames(Kit&, const VisitName&);
template void walkNames(Piece&, const VisitName&);
template void walkNames(Template&, const VisitName&);
template void walkNames(Assembly&, const VisitName&);
template void walkNames(Source&, const VisitName&);
template void walkNames(Snare&, const VisitName&);
template void walkNames(Catch&, const VisitName&);
template void walkNames(Filter&, const VisitName&);
template void walkNames(Routine&, const VisitName&);
template void walkNames(Response&, const VisitName&);
template void walkNames(std::vector<Response>&, const VisitName&);
template void walkNames(std::vector<Expectation>&, const VisitName&);

template <class T> void walkNamesByField(T& value, const VisitFieldName& visit)
{
    if constexpr (std::is_same_v<T, Response>) {
        std::visit([&](auto& kind) { overFields(kind, visit); }, value.kind);
        walkNames(value.onlyIf, [&](Refers refers, std::string& text) { visit("if", refers, text); });
    } else {
        overFields(value, visit);
    }
}

template void walkNamesByField(Response&, const VisitFieldName&);
template void walkNamesByField(Catch&, const VisitFieldName&);
template void walkNamesByField(Filter&, const VisitFieldName&);

} // namespace snare::scene
