// SPDX-License-Identifier: Apache-2.0
#include "app/slots/choices.h"

#include "app/ui/formula_text.h"
#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/templates.h"

#include <QDir>
#include <QObject>

#include <algorithm>

namespace snare::app {

using io::FieldView;
using io::SlotKind;
using scene::Refers;

namespace {

/// What can be said instead of a value, to begin typing with.
void addFormulas(std::vector<Choice>& choices, const FieldView& field, const scene::Scene& scene)
{
    if (!field.workedOut)
        return;
    const bool place = field.kind == SlotKind::place || field.kind == SlotKind::point;
    if (place) {
        choices.push_back({QObject::tr("anywhere in scene"),
                           {},
                           QObject::tr("a random place in the scene"),
                           QObject::tr("random somewhere")});
        for (const scene::Piece& piece : scene.pieces)
            if (!piece.shapes.empty())
                choices.push_back({QObject::tr("anywhere in %1, clear of solids").arg(toText(piece.id)),
                                   {},
                                   QObject::tr("a random place where it fits"),
                                   QObject::tr("random somewhere")});
        return;
    }
    if (field.kind == SlotKind::number || field.kind == SlotKind::value)
        choices.push_back({QObject::tr("1 to 3 at random"),
                           {},
                           QObject::tr("a random number; type your own"),
                           QObject::tr("between dice")});
    for (const PathChoice& path : pathChoices(scene))
        choices.push_back(
            {QObject::tr("same as %1").arg(path.path), {}, path.about, QObject::tr("get value property")});
    if (field.kind == SlotKind::number || field.kind == SlotKind::value)
        for (const Choice& tag : tagChoices(scene))
            choices.push_back(
                {QObject::tr("how many tag:%1").arg(tag.value), {}, tag.detail, QObject::tr("count number")});
}

void addTargets(std::vector<Choice>& choices, const scene::Scene& scene, bool withSpecial)
{
    if (withSpecial) {
        choices.push_back({QStringLiteral("self"), QObject::tr("itself"), QObject::tr("where it is caught"), {}});
        choices.push_back({QStringLiteral("visitor"), QObject::tr("the visitor"), QObject::tr("who came"), {}});
        choices.push_back({QStringLiteral("scene"), QObject::tr("the scene"), {}, {}});
        choices.push_back({QStringLiteral("pointer"), QObject::tr("the pointer"), {}, QObject::tr("mouse cursor")});
        choices.push_back(
            {QStringLiteral("sender"), QObject::tr("the sender"), QObject::tr("who raised the signal"), {}});
        choices.push_back(
            {QStringLiteral("swept"), QObject::tr("all swept"), QObject::tr("in the box of the pointer"), {}});
    }
    for (Choice& choice : pieceChoices(scene))
        choices.push_back(std::move(choice));
    for (const Choice& tag : tagChoices(scene))
        choices.push_back(
            {QStringLiteral("tag:") + tag.value, QObject::tr("all tagged %1").arg(tag.value), tag.detail, {}});
    if (withSpecial) {
        for (const scene::Piece& piece : scene.pieces)
            if (!piece.shapes.empty() && piece.shapes.back().role == scene::Role::zone)
                choices.push_back({QStringLiteral("inside:") + toText(piece.id),
                                   QObject::tr("all inside %1").arg(toText(piece.id)),
                                   {},
                                   {}});
        for (const std::string& name : scene::allValueNames(scene))
            choices.push_back({QStringLiteral("self.") + toText(name),
                               QObject::tr("the piece that its %1 names").arg(toText(name)),
                               {},
                               QObject::tr("property holds")});
    }
    for (const auto& [name, assembly] : scene.assemblies.entries)
        for (const scene::Piece& part : assembly.pieces)
            choices.push_back({QStringLiteral("part:") + toText(part.id),
                               QObject::tr("the %1 of the same one").arg(toText(part.id)),
                               QObject::tr("in assembly %1").arg(toText(name)), QObject::tr("part of")});
    for (const Choice& group : groupChoices(scene))
        choices.push_back({QStringLiteral("group:") + group.value,
                           QObject::tr("all of group %1").arg(group.value),
                           group.detail,
                           {}});
    for (const Choice& form : templateChoices(scene))
        choices.push_back({QStringLiteral("template:") + form.value,
                           QObject::tr("all of template %1").arg(form.value),
                           form.detail,
                           {}});
}

/// The properties of the pieces and the variables, each once.
std::vector<Choice> propertyChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const std::string& name : scene::allValueNames(scene))
        choices.push_back({toText(name),
                           {},
                           scene.variables.find(name) ? QObject::tr("of the scene") : QObject::tr("of pieces"),
                           {}});
    return choices;
}

std::vector<Choice> pathsToChoose(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const PathChoice& path : pathChoices(scene))
        choices.push_back({path.path, {}, path.about, {}});
    return choices;
}

std::vector<Choice> lookChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices{{QStringLiteral("next"), QObject::tr("the next one"), {}, {}},
                                {QStringLiteral("plain"), QObject::tr("plain"), QObject::tr("as at the start"), {}}};
    for (Choice& colour : colourChoices())
        choices.push_back(std::move(colour));
    for (const scene::Piece& piece : scene.pieces)
        for (const auto& [name, look] : piece.looks.entries)
            choices.push_back({toText(name), {}, QObject::tr("a look of %1").arg(toText(piece.id)), {}});
    return choices;
}

} // namespace

std::vector<Choice> colourChoices()
{
    const Theme light; // the same in a dark window: it is the scene that gets them
    std::vector<Choice> choices;
    const auto colour = [&](const QColor& code, const QString& name) {
        choices.push_back({code.name(), name, code.name(), QObject::tr("colour"), false, code});
    };
    colour(light.mint, QObject::tr("mint"));
    colour(light.coral, QObject::tr("coral"));
    colour(light.ochre, QObject::tr("ochre"));
    colour(light.blue, QObject::tr("blue"));
    colour(light.plum, QObject::tr("plum"));
    colour(light.slate, QObject::tr("slate"));
    colour(light.paper, QObject::tr("white"));
    colour(light.ink, QObject::tr("ink"));
    return choices;
}

std::vector<Choice> phaseChoices(const scene::Scene& scene, bool withScene)
{
    std::vector<Choice> choices;
    for (const std::string& phase : scene.phases)
        choices.push_back({(withScene ? QStringLiteral("scene:") : QString()) + toText(phase),
                           withScene ? QObject::tr("the scene is in %1").arg(toText(phase)) : QString(),
                           QObject::tr("a phase of the scene"),
                           {}});
    const auto addAll = [&](const std::string& owner, const std::vector<scene::PiecePhase>& phases) {
        for (const scene::PiecePhase& phase : phases)
            if (std::ranges::none_of(choices, [&](const Choice& c) { return c.value == toText(phase.id); }))
                choices.push_back({toText(phase.id), {}, QObject::tr("a phase of %1").arg(toText(owner)), {}});
    };
    for (const auto& entry : scene.templates.entries)
        addAll(entry.first, entry.second.model.phases);
    for (const scene::Piece& piece : scene.pieces)
        addAll(piece.id, piece.phases);
    return choices;
}

std::vector<Choice> timerChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    const auto add = [&](const std::string& id, const scene::TimerSource& timer, const QString& owner) {
        if (std::ranges::none_of(choices, [&](const Choice& c) { return c.value == toText(id); }))
            choices.push_back({toText(id),
                               {},
                               QObject::tr("every %1").arg(numberText(timer.every, scene::Unit::seconds)) + owner,
                               {}});
    };
    for (const scene::Source& source : scene.sources)
        if (const auto* timer = std::get_if<scene::TimerSource>(&source.kind))
            add(source.id, *timer, {});
    for (const auto& entry : scene.templates.entries)
        for (const scene::PieceTimer& timer : entry.second.model.timers)
            add(timer.id, timer.timer, QObject::tr(", of each %1").arg(toText(entry.first)));
    for (const scene::Piece& piece : scene.pieces)
        for (const scene::PieceTimer& timer : piece.timers)
            add(timer.id, timer.timer, QObject::tr(", of %1").arg(toText(piece.id)));
    return choices;
}

std::vector<Choice> routineChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    const auto add = [&](const scene::Named<scene::Routine>& routines, const QString& of) {
        for (const auto& [id, routine] : routines.entries)
            if (const QString name = toText(id);
                std::ranges::none_of(choices, [&](const Choice& c) { return c.value == name; }))
                choices.push_back(
                    {name,
                     {},
                     counted(routine.responses.size(), QObject::tr("response"), QObject::tr("responses")) + of,
                     {}});
    };
    add(scene.routines, {});
    if (scene.loaded.list)
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            add(kit.kit.routines, QObject::tr(", from %1").arg(toText(kit.file)));
    return choices;
}

std::vector<Choice> pieceChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const scene::Piece& piece : scene.pieces)
        choices.push_back({toText(piece.id), {}, toText(scene::kindOf(piece.body)), {}});
    return choices;
}

namespace {

/// Files in the folder of the scene and in those right below it.
std::vector<Choice> filesBeside(Document& document, const QStringList& wanted)
{
    const QDir folder{QString::fromStdString(document.pictures().folder().string())};
    std::vector<Choice> choices;
    const auto add = [&](const QString& below) {
        const QDir place = below.isEmpty() ? folder : QDir{folder.filePath(below)};
        for (const QString& file : place.entryList(wanted, QDir::Files, QDir::Name))
            choices.push_back({below.isEmpty() ? file : below + QLatin1Char('/') + file, {}, {}, {}});
    };
    add({});
    for (const QString& below : folder.entryList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name))
        add(below);
    return choices;
}

} // namespace

std::vector<Choice> pictureChoices(Document& document, bool onlyPng)
{
    QStringList wanted{QStringLiteral("*.png")};
    if (!onlyPng)
        wanted << QStringLiteral("*.svg");
    return filesBeside(document, wanted);
}

std::vector<Choice> soundChoices(Document& document)
{
    return filesBeside(document, {QStringLiteral("*.wav"), QStringLiteral("*.ogg"), QStringLiteral("*.flac"),
                                  QStringLiteral("*.mp3")});
}

std::vector<Choice> groupChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const std::string& group : scene::allGroups(scene)) {
        const auto count =
            std::ranges::count_if(scene.pieces, [&](const scene::Piece& piece) { return piece.group == group; });
        choices.push_back({toText(group), {}, countedPieces(static_cast<std::size_t>(count)), {}});
    }
    return choices;
}

std::vector<Choice> tagChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const std::string& tag : scene::allTags(scene)) {
        const auto count = std::ranges::count_if(scene.pieces, [&](const scene::Piece& piece) {
            return std::ranges::find(piece.tags, tag) != piece.tags.end();
        });
        choices.push_back({toText(tag), {}, countedPieces(static_cast<std::size_t>(count)), {}});
    }
    return choices;
}

std::vector<Choice> placeChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices{{QStringLiteral("scene"), QObject::tr("the scene"), {}, {}}};
    for (const scene::Piece& piece : scene.pieces) {
        choices.push_back({toText(piece.id), {}, toText(scene::kindOf(piece.body)), {}});
        for (std::size_t i = 0; i < piece.shapes.size(); ++i) {
            if (piece.shapes[i].id.empty())
                continue;
            const QString shape = toText(piece.shapes[i].id);
            choices.push_back({toText(piece.id) + QLatin1Char('/') + shape,
                               QObject::tr("%1 of %2").arg(shape, toText(piece.id)),
                               toText(scene::wordOf(piece.shapes[i].role)),
                               {}});
        }
    }
    for (const Choice& tag : tagChoices(scene))
        choices.push_back(
            {QStringLiteral("tag:") + tag.value, QObject::tr("any tagged %1").arg(tag.value), tag.detail, {}});
    for (const Choice& group : groupChoices(scene))
        choices.push_back({QStringLiteral("group:") + group.value,
                           QObject::tr("any of group %1").arg(group.value),
                           group.detail,
                           {}});
    for (const Choice& form : templateChoices(scene))
        choices.push_back({QStringLiteral("template:") + form.value,
                           QObject::tr("any of template %1").arg(form.value),
                           form.detail,
                           {}});
    return choices;
}

std::vector<Choice> templateChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const auto& entry : scene.templates.entries)
        choices.push_back({toText(entry.first), {}, countedPieces(scene::followersOf(scene, entry.first).size()), {}});
    if (scene.loaded.list)
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            for (const auto& entry : kit.kit.templates.entries)
                if (!scene.templates.find(entry.first))
                    choices.push_back({toText(entry.first), {}, QObject::tr("from %1").arg(toText(kit.file)), {}});
    return choices;
}

std::vector<Choice> signalChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const std::string& name : scene::allSignals(scene)) {
        const auto heard =
            std::ranges::count(scene.snares, name, [](const scene::Snare& snare) { return snare.catches.signal; });
        choices.push_back(
            {toText(name),
             {},
             QObject::tr("heard by %1")
                 .arg(counted(static_cast<std::size_t>(heard), QObject::tr("snare"), QObject::tr("snares"))),
             {}});
    }
    return choices;
}

std::vector<Choice> keyChoices(const scene::Scene& scene)
{
    std::vector<Choice> choices;
    for (const scene::Source& source : scene.sources)
        if (const auto* keys = std::get_if<scene::KeySource>(&source.kind))
            choices.push_back({QStringLiteral("source:") + toText(source.id),
                               toText(source.id),
                               QObject::tr("a set: %1").arg(joined(keys->keys, QObject::tr("or"))),
                               {}});
    choices.push_back({QStringLiteral("any"), QObject::tr("any key"), {}, {}});
    for (const QString& name : commonKeys())
        choices.push_back({name, keyLabel(name), keyLabel(name) == name ? QString() : name, {}});
    return choices;
}

std::vector<Choice> choicesFor(const FieldView& field, const scene::Scene& scene)
{
    std::vector<Choice> choices;
    switch (field.refers) {
    case Refers::target:
        addTargets(choices, scene, true);
        break;
    case Refers::place:
        choices.push_back({QStringLiteral("home"), QObject::tr("home"), QObject::tr("where it was at the start"), {}});
        choices.push_back({QStringLiteral("visitor"), QObject::tr("the visitor"), QObject::tr("who came"), {}});
        choices.push_back({QStringLiteral("self"), QObject::tr("itself"), QObject::tr("where it is caught"), {}});
        for (Choice& choice : pieceChoices(scene))
            choices.push_back(std::move(choice));
        break;
    case Refers::snare:
        for (const scene::Snare& snare : scene.snares)
            choices.push_back({toText(snare.id), {}, toText(snare.note), {}});
        break;
    case Refers::group:
        return groupChoices(scene);
    case Refers::tag:
        return tagChoices(scene);
    case Refers::signal:
        return signalChoices(scene);
    case Refers::value:
        return propertyChoices(scene);
    case Refers::property:
        return pathsToChoose(scene);
    case Refers::colour:
        return colourChoices();
    case Refers::look:
        return lookChoices(scene);
    case Refers::form:
        return templateChoices(scene);
    case Refers::phase:
        choices = phaseChoices(scene, false);
        if (field.key == "to")
            choices.insert(choices.begin(), {QStringLiteral("next"), QObject::tr("the next one"), {}, {}});
        break;
    case Refers::during:
        return phaseChoices(scene, true);
    case Refers::routine:
        return routineChoices(scene);
    case Refers::source:
        return timerChoices(scene);
    case Refers::call:
        for (const std::string& name : scene::allCalls(scene))
            choices.push_back({toText(name), {}, {}, {}});
        break;
    case Refers::key:
        return keyChoices(scene);
    case Refers::piece:
        return pieceChoices(scene);
    default:
        break;
    }
    for (const io::WordChoice& word : field.words)
        choices.push_back({toText(word.word), toText(word.about), {}, toText(word.word)});
    addFormulas(choices, field, scene);
    return choices;
}

} // namespace snare::app
