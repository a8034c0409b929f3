// SPDX-License-Identifier: Apache-2.0
#include "check/reference.h"

#include "check/findings.h"
#include "scene/scene.h"
#include "scene/take.h"
#include "words/text.h"

#include <fmt/format.h>

#include <cmath>

namespace snare::check {

using namespace scene;

namespace {

/// What a name stands for.
std::string_view textOf(Refers refers)
{
    switch (refers) {
    case Refers::piece:
        return "a piece";
    case Refers::group:
        return "a group";
    case Refers::tag:
        return "a tag";
    case Refers::snare:
        return "a snare";
    case Refers::signal:
        return "a signal";
    case Refers::source:
        return "a source";
    case Refers::key:
        return "a key";
    case Refers::target:
        return "a target";
    case Refers::place:
        return "a place";
    case Refers::property:
        return "a path";
    case Refers::look:
        return "a look";
    case Refers::colour:
        return "a colour";
    case Refers::form:
        return "a template";
    case Refers::phase:
    case Refers::during:
        return "a phase";
    case Refers::routine:
        return "a routine";
    case Refers::call:
        return "a call";
    case Refers::value:
        return "a property or variable";
    case Refers::shape:
        return "a shape";
    case Refers::words:
        return "words; a path in braces puts its value in";
    case Refers::script:
        return "Lua";
    case Refers::nothing:
        break;
    }
    return {};
}

/// What a member holds, by its type. One overload a type; structs and enumerations come from their
/// tables.
template <class T> struct Of {
    static std::string text()
    {
        if constexpr (hasWords<T>) {
            std::vector<std::string> words;
            words.reserve(std::size(wordsOf<T>));
            for (const auto& entry : wordsOf<T>)
                words.push_back(fmt::format("`{}`", entry.word));
            return words::joinedBy(words, ", ");
        } else if constexpr (hasFields<T>) {
            return fmt::format("{} (*{}*)", fieldsOf<T>.word.about, fieldsOf<T>.word.key);
        } else {
            return "see the schema";
        }
    }
};
template <class T> std::string textOf()
{
    return Of<T>::text();
}
template <> struct Of<bool> {
    static std::string text() { return "yes or no"; }
};
template <> struct Of<double> {
    static std::string text() { return "a number"; }
};
template <> struct Of<int> {
    static std::string text() { return "a whole number"; }
};
template <> struct Of<std::uint32_t> {
    static std::string text() { return "a whole number"; }
};
template <> struct Of<std::string> {
    static std::string text() { return "a text"; }
};
template <> struct Of<Vec> {
    static std::string text() { return "two numbers"; }
};
template <> struct Of<std::array<double, 2>> {
    static std::string text() { return "two numbers"; }
};
template <> struct Of<std::array<double, 4>> {
    static std::string text() { return "four numbers"; }
};
template <> struct Of<Scalar> {
    static std::string text() { return "a number, a text, yes or no"; }
};
template <> struct Of<Target> {
    static std::string text() { return "a target, or several"; }
};
template <> struct Of<Destination> {
    static std::string text() { return "a place, or worked out"; }
};
template <> struct Of<Offset> {
    static std::string text() { return "two numbers, or worked out"; }
};
template <> struct Of<Formula> {
    static std::string text() { return "worked out"; }
};
template <> struct Of<Colour> {
    static std::string text() { return "a colour, `#rrggbb`"; }
};
template <> struct Of<LookChoice> {
    static std::string text() { return "a look by its name, or written out"; }
};
template <> struct Of<Inside> {
    static std::string text() { return "yes, no or `nearest`"; }
};
template <> struct Of<Frames> {
    static std::string text() { return "how many, or a list of files"; }
};
template <> struct Of<Span> {
    static std::string text() { return "from and to"; }
};
template <> struct Of<Times> {
    static std::string text() { return "a number, or `min` and `max`"; }
};
template <> struct Of<PlaceOrTime> {
    static std::string text() { return "a name, or a time"; }
};
template <> struct Of<Steer> {
    static std::string text()
    {
        return fmt::format("{}, or the keys of each way", scene::hasWords<SteerSet> ? textOf<SteerSet>() : "");
    }
};
template <> struct Of<ContactRule> {
    static std::string text() { return "two groups and what they do to each other"; }
};
template <> struct Of<Response> {
    static std::string text() { return "a response"; }
};
template <> struct Of<Laid> {
    static std::string text() { return "a laid assembly"; }
};
template <> struct Of<Template> {
    static std::string text() { return "a template"; }
};
template <> struct Of<Body> {
    static std::string text() { return "one of the bodies below"; }
};
template <class T> struct Of<std::optional<T>> : Of<T> {
};
template <class T> struct Of<std::vector<T>> {
    static std::string text() { return "a list: " + textOf<T>(); }
};
template <class T> struct Of<SharedList<T>> {
    static std::string text() { return "a list: " + textOf<T>(); }
};
template <class T> struct Of<Named<T>> {
    static std::string text() { return "by name: " + textOf<T>(); }
};
template <class T> struct Of<OneOrMore<T>> {
    static std::string text() { return textOf<T>() + ", or several"; }
};
template <class T> struct Of<Value<T>> {
    static std::string text() { return textOf<T>() + ", or worked out"; }
};

/// A text that can stand in a cell of a table.
std::string cell(const std::string& text)
{
    std::string safe;
    for (const char c : text) {
        if (c == '|')
            safe += '\\';
        safe += c;
    }
    return safe;
}

std::string rangeText(const Range& range, Unit unit)
{
    const auto number = [&](double value) {
        return unit == Unit::none ? fmt::format("{:.9g}", value) : fmt::format("{:.9g} {}", value, symbolOf(unit));
    };
    const bool low = std::isfinite(range.low);
    const bool high = std::isfinite(range.high);
    if (low && high)
        return fmt::format("{} to {}", number(range.low), number(range.high));
    if (low)
        return fmt::format("{} {}", range.openLow ? "above" : "at least", number(range.low));
    if (high)
        return fmt::format("at most {}", number(range.high));
    return unit == Unit::none ? std::string() : std::string(symbolOf(unit));
}

/// A row of a table; `when` says when the field stands, if not always.
template <class Owner, class Member> std::string rowOf(const Field<Owner, Member>& field, const std::string& when = {})
{
    std::string takes = textOf<Member>();
    if (const std::string_view name = textOf(field.refers); !name.empty() && field.refers != Refers::colour) {
        if (std::is_same_v<Member, std::string> || std::is_same_v<Member, Value<std::string>>)
            takes = std::string(name) + (std::is_same_v<Member, std::string> ? "" : ", or worked out");
        else if (std::is_same_v<Member, std::vector<std::string>>)
            takes = fmt::format("a list: {}", name);
    }
    if (const std::string range = rangeText(field.range, field.unit); !range.empty())
        takes += "; " + range;
    if (!when.empty())
        takes += "; " + when;
    else if (field.isRequired)
        takes += "; must be given";
    return fmt::format("| `{}` | {} | {} |\n", field.key, field.about, cell(takes));
}

template <class... All> std::string alternativesOf(const std::variant<All...>* /*variant*/)
{
    std::string rows;
    ((rows += fmt::format("| `{}` | {} | one of these |\n", fieldsOf<All>.word.key, fieldsOf<All>.word.about)), ...);
    return rows;
}

template <class Owner, class Member> std::string rowOf(const KeyedField<Owner, Member>& /*field*/)
{
    return alternativesOf(static_cast<const Member*>(nullptr));
}

/// The fields of each alternative; one that several have stands once.
template <class Owner, class Member> std::string rowOf(const StructsField<Owner, Member>& /*field*/)
{
    constexpr const Member* type = nullptr;
    const auto ownersOf = [&](std::string_view key) {
        std::vector<std::string> owners;
        forEachOf(type, [&]<class A>() {
            forEachField<A>([&](const auto& field) {
                if (field.key == key)
                    owners.push_back(fmt::format("`{}`", firstKeyOf<A>()));
            });
        });
        return words::joinedBy(owners, " or ");
    };
    std::string rows;
    std::vector<std::string_view> told;
    forEachOf(type, [&]<class A>() {
        forEachField<A>([&](const auto& field) {
            if (std::ranges::find(told, field.key) != told.end())
                return;
            told.push_back(field.key);
            const std::string with =
                fmt::format("{} {}", field.isRequired ? "must be given with" : "with", ownersOf(field.key));
            rows += rowOf(field, field.key == firstKeyOf<A>() ? "one of these" : with);
        });
    });
    return rows;
}

/// The table of a struct's fields; nothing if it has none.
template <class T> std::string fieldTable()
{
    std::string rows;
    forEachField<T>([&](const auto& field) { rows += rowOf(field); });
    return rows.empty() ? rows : "| field | what it is | takes |\n|---|---|---|\n" + rows + "\n";
}

template <class T> std::string sectionOf(std::string_view title = fieldsOf<T>.word.key)
{
    return fmt::format("## {}\n\nWhat it is: {}.\n\n{}", title, fieldsOf<T>.word.about, fieldTable<T>());
}

/// "{on} says {text}|, gone {until}" as it reads: names of fields slanted, what may be left out in
/// brackets.
std::string sentenceOf(std::string_view pattern)
{
    std::string text;
    bool isOptional = false;
    for (const char c : pattern) {
        if (c == '|') {
            text += isOptional ? "]" : "";
            text += "[";
            isOptional = true;
        } else {
            text += c == '{' || c == '}' ? '*' : c;
        }
    }
    return isOptional ? text + "]" : text;
}

template <class Kind> std::string responseSection()
{
    const Word& word = fieldsOf<Kind>.word;
    std::string text = fmt::format("## {}\n\nIt {}.\n\n", word.key, word.about);
    if (!word.sentence.empty())
        text += fmt::format("Reads: {}\n\n", sentenceOf(word.sentence));
    if (!word.synonyms.empty())
        text += fmt::format("Found by: {}.\n\n", word.synonyms);
    return text + fieldTable<Kind>();
}

template <class... All> std::string responseSections(const std::variant<All...>* /*variant*/, std::string_view key)
{
    std::string text;
    ((text += fieldsOf<All>.word.key == key ? responseSection<All>() : std::string()), ...);
    return text;
}

std::string responsesText()
{
    std::string text = "# Responses\n\nWhat a snare does when it springs. Each may have conditions of its own: it is "
                       "then only done if they "
                       "hold. A value may be given as it is, or worked out at that moment ([values](values.md)).\n\n";
    for (const Purpose& purpose : purposes) {
        std::vector<std::string> names;
        std::string sections;
        std::string_view rest = purpose.words;
        while (!rest.empty()) {
            const std::string_view key = rest.substr(0, rest.find(' '));
            rest.remove_prefix(std::min(rest.size(), key.size() + 1));
            names.push_back(fmt::format("[{0}](#{0})", key));
            sections += responseSections(static_cast<const ResponseKind*>(nullptr), key);
        }
        text += fmt::format("**{}**: {}\n\n", purpose.title, words::joinedBy(names, ", ")) + sections;
    }
    return text;
}

std::string_view titleOf(EventFamily family)
{
    switch (family) {
    case EventFamily::scene:
        return "Of the scene";
    case EventFamily::contact:
        return "Meetings";
    case EventFamily::pointer:
        return "The pointer";
    case EventFamily::key:
        return "Keys";
    case EventFamily::timer:
        return "Time";
    case EventFamily::watch:
        return "Numbers";
    case EventFamily::call:
        return "Calls from outside";
    case EventFamily::signal:
        return "Signals";
    case EventFamily::piece:
        return "Pieces";
    case EventFamily::phase:
        return "Phases";
    case EventFamily::value:
        return "Values";
    }
    return {};
}

std::string eventsText()
{
    std::string text =
        "# Events\n\nWhat a snare can wait for. An event has a place, *self*; most have a *visitor* too.\n\n";
    for (const EventWord& word : wordsOf<EventKind>)
        text += fmt::format("## {}\n\n{}: {}. Reads: \"*visitor* {} *self*\".\n\n", word.word, titleOf(word.family),
                            word.about, word.verb);
    return text + sectionOf<Catch>("catch");
}

std::string narrowingText()
{
    return "# Filters and gates\n\nA snare listens while it is armed and its phase is on. Then its filter asks who "
           "comes, and its gate how "
           "often.\n\n" +
           sectionOf<Snare>("snare") + sectionOf<Filter>("filter") + sectionOf<TagFilter>("tags") +
           sectionOf<SpeedFilter>("speed") + sectionOf<Condition>("condition") + sectionOf<Gate>("gate");
}

template <std::size_t N> std::string builtInTable(const std::array<BuiltIn, N>& values)
{
    std::string text = "| name | what it is | can be set |\n|---|---|---|\n";
    for (const BuiltIn& value : values)
        text += fmt::format("| `{}` | {} | {} |\n", value.name, value.about, value.canBeSet ? "yes" : "");
    return text + "\n";
}

std::string valuesText()
{
    std::string text = "# Values\n\nA path names a value of the run: `self.load`, `visitor.x`, `scene.tally`, "
                       "`signal.ring`, `with.times`, `event.speed`, or a "
                       "piece by its name: `barrow.x`. What stands there is a property of the piece, a variable of the "
                       "scene, what a signal or call "
                       "carries, or one of the built-in values below.\n\n## of every piece\n\n" +
                       builtInTable(builtInsOfPiece) + "## of the scene\n\n" + builtInTable(builtInsOfScene) +
                       "## worked out\n\n| word | what it gives |\n|---|---|\n";
    for (const FormulaWord& word : formulaWords)
        text += fmt::format("| `{}` | {} |\n", word.word, word.about);
    text += "\n## comparisons\n\n| sign | reads |\n|---|---|\n";
    for (const auto& entry : wordsOf<Comparison>)
        text += fmt::format("| `{}` | {} |\n", entry.word, entry.about);
    return text + "\n## targets\n\nWho a response acts on: the name of a piece, `self`, `visitor`, `sender`, `scene`, "
                  "`tag:NAME`, `group:NAME`, "
                  "`template:NAME`, `part:NAME`, `PIECE/SHAPE`, `inside:PIECE/SHAPE`, or `PIECE.PROPERTY`, the piece "
                  "that the property "
                  "names.\n";
}

template <class... All> std::string sectionsOf(const std::variant<All...>* /*variant*/)
{
    return (sectionOf<All>() + ...);
}

std::string piecesText()
{
    return "# Pieces, shapes and sources\n\nWhat a scene is made of.\n\n" + sectionOf<Scene>() + sectionOf<Piece>() +
           sectionOf<Shape>() + sectionsOf(static_cast<const Geometry*>(nullptr)) +
           sectionsOf(static_cast<const Body*>(nullptr)) + sectionOf<Route>() + sectionOf<Look>() + sectionOf<Gauge>() +
           sectionOf<PiecePhase>() + sectionOf<Source>() +
           sectionsOf(static_cast<const decltype(Source::kind)*>(nullptr)) + sectionOf<Routine>();
}

std::string takesText()
{
    return "# Takes and expectations\n\nA take is what a player did, with its times, and what must show when it is "
           "run.\n\n" +
           sectionOf<Take>() + sectionOf<Input>() + sectionOf<Expectation>() + sectionOf<LineMatch>();
}

std::string findingsText()
{
    std::string text = "# Findings\n\nWhat is known before anything runs. An error stops something from working; a "
                       "warning is most likely not "
                       "meant. Each can be accepted with a reason.\n\n";
    for (const FindingRow& row : findingRows())
        text += fmt::format("## {}\n\n{}: {}. {}\n\n", row.id, row.severity == Severity::error ? "Error" : "Warning",
                            row.title, row.why);
    return text + "## after a take\n\nWhat a take shows, also listed among the findings: a snare that never sprang "
                  "though its event came, with "
                  "the stage that turned most away; a step that was never done since its condition never held; a zone "
                  "that nobody "
                  "entered, with who came closest.\n";
}

} // namespace

std::vector<ReferencePage> referencePages()
{
    return {{"events", "Events", eventsText()},
            {"narrowing", "Filters and gates", narrowingText()},
            {"responses", "Responses", responsesText()},
            {"values", "Values", valuesText()},
            {"pieces", "Pieces, shapes and sources", piecesText()},
            {"takes", "Takes and expectations", takesText()},
            {"findings", "Findings", findingsText()}};
}

} // namespace snare::check
