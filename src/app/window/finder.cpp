// SPDX-License-Identifier: Apache-2.0
#include "app/window/finder.h"

#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "scene/kits.h"

#include <QMenu>

namespace snare::app {

namespace {

QString plain(const QString& text)
{
    return QString(text).section(QLatin1Char('\t'), 0, 0).remove(QLatin1Char('&'));
}

} // namespace

QList<QAction*> commandsOf(const QList<QAction*>& menus)
{
    QList<QAction*> result;
    for (QAction* action : menus) {
        if (action->isSeparator() || action->property("noCommand").toBool())
            continue;
        if (action->menu())
            result += commandsOf(action->menu()->actions());
        else
            result << action;
    }
    return result;
}

void openFinder(QWidget* anchor, const QList<QAction*>& commands, const Document& document,
                const std::vector<CardField>& fields, const std::function<void(const Found&)>& go)
{
    using Kind = Found::Kind;
    const scene::Scene& scene = document.scene();
    Question question;
    question.title = QObject::tr("Find anything");
    question.placeholder = QObject::tr("a command, a field such as gravity, or any name of the scene");
    std::vector<Found> found;
    const auto add = [&](Found entry, const QString& text, const QString& detail, const QString& words) {
        question.choices.push_back({QString::number(found.size()), text, detail, words});
        found.push_back(std::move(entry));
    };
    const auto addNamed = [&](Kind kind, std::string_view name, const QString& what, const QString& words = {}) {
        add({kind, nullptr, toText(name), 0}, toText(name), what, words);
    };
    for (const scene::Piece& piece : scene.pieces)
        addNamed(Kind::piece, piece.id, QObject::tr("piece"), toText(piece.group));
    for (const scene::Snare& snare : scene.snares)
        addNamed(Kind::snare, snare.id, QObject::tr("snare %1").arg(toText(snare.note)).trimmed());
    for (const CardField& field : fields)
        add({Kind::field, nullptr, field.slot, 0}, field.text, field.about, field.about);
    for (QAction* command : commands)
        if (command->isEnabled())
            add({Kind::command, command, {}, 0}, plain(command->text()),
                command->shortcut().toString(QKeySequence::NativeText), command->data().toString());
    for (const std::string& signal : scene::allSignals(scene))
        addNamed(Kind::signal, signal, QObject::tr("signal"));
    for (const scene::Source& source : scene.sources)
        addNamed(Kind::source, source.id, QObject::tr("source"));
    const auto addShared = [&](scene::Thing thing, Kind kind) {
        for (const std::string& name : scene::allShared(scene, thing)) {
            const std::string home = scene::homeOf(scene, thing, name).value_or(std::string());
            const QString what = toText(scene::wordOf(thing));
            addNamed(kind, name, home.empty() ? what : QObject::tr("%1 of %2").arg(what, toText(home)));
        }
    };
    addShared(scene::Thing::form, Kind::form);
    addShared(scene::Thing::assembly, Kind::assembly);
    addShared(scene::Thing::routine, Kind::routine);
    for (const std::string& kit : scene.kits)
        for (const std::string& name : scene::keptIn(scene, scene::Thing::snare, kit))
            addNamed(Kind::snare, name, QObject::tr("snare of %1").arg(toText(kit)));
    for (const std::string& group : scene::allGroups(scene))
        addNamed(Kind::group, group, QObject::tr("group"));
    for (const std::string& tag : scene::allTags(scene))
        addNamed(Kind::tag, tag, QObject::tr("tag"));
    for (const auto& entry : scene.variables.entries)
        addNamed(Kind::value, entry.first, QObject::tr("value of the scene"), QObject::tr("variable"));
    for (const std::string& phase : scene.phases)
        addNamed(Kind::phase, phase, QObject::tr("phase of the scene"));
    for (std::size_t i = 0; i < document.takes().size(); ++i) {
        const QString name = toText(document.takes()[i].name);
        add({Kind::take, nullptr, name, i}, name.isEmpty() ? QObject::tr("the take") : name, QObject::tr("take"), {});
    }
    SlotPopup::ask(anchor, std::move(question), [found = std::move(found), go](const QStringList& answer) {
        go(found[static_cast<std::size_t>(answer.front().toInt())]);
    });
}

} // namespace snare::app
