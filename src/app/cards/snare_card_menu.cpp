// SPDX-License-Identifier: Apache-2.0
/// What a snare card offers beyond its sentence: its menu, names within kits and assemblies,
/// parameters of routines.
#include "app/cards/snare_card.h"
#include "app/slots/naming.h"
#include "app/slots/sharing_menu.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/text.h"
#include "app/ui/value_text.h"
#include "scene/assemblies.h"
#include "scene/mentions.h"
#include "scene/sharing.h"

#include <QMenu>
#include <QVBoxLayout>

namespace snare::app {

void SnareCard::showMenu(const QPoint& at)
{
    QMenu& menu = *makeMenu(this);
    const auto remove = [this](const QString& step, const std::function<void(scene::Scene&)>& change) {
        document_.edit(homeText() + step.arg(toText(bareName())), change);
    };
    if (isRoutine()) {
        menu.addAction(tr("Where it is run…"), this,
                       [this] { showUses(this, document_, scene::Thing::routine, bareName()); });
        menu.addSeparator();
        offerMoves(menu, this, document_, scene::Thing::routine, key_.home, bareName());
        menu.addSeparator();
        menu.addAction(tr("Delete"), this, [this, remove] {
            remove(tr("Delete routine %1"), [&](scene::Scene& scene) {
                scene::removeShared(scene, scene::Thing::routine, key_.home, bareName());
            });
        });
        menu.popup(at);
        return;
    }
    if (isOfAssembly()) {
        menu.addAction(tr("Delete"), this, [this, remove] {
            remove(
                tr("Delete snare %1 of %2").arg(QStringLiteral("%1"), toText(key_.assembly)), [&](scene::Scene& scene) {
                    if (scene::Assembly* assembly = scene::assemblyToChange(scene, key_.home, key_.assembly))
                        std::erase_if(assembly->snares, [&](const scene::Snare& one) { return one.id == bareName(); });
                });
        });
        menu.popup(at);
        return;
    }
    if (key_.home.empty()) {
        menu.addAction(tr("Copy to other pieces…"), this, [this] { emit copyWanted(toText(id_), this); });
        if (scene::findPiece(document_.scene(), shown_.catches.at))
            menu.addAction(tr("One for a tag, group or template…"), this,
                           [this] { emit generaliseWanted(toText(id_), this); });
    }
    menu.addAction(pinned_ ? tr("Unpin") : tr("Pin: stay while other things are selected"), this,
                   [this] { emit pinWanted(toText(id_)); });
    menu.addSeparator();
    const auto move = [&](const QString& text, int by) {
        menu.addAction(text, this, [this, by] {
            document_.edit(tr("Reorder snare %1").arg(toText(id_)), [&](scene::Scene& scene) {
                const auto& snares = std::as_const(scene.snares);
                const auto from = std::ranges::find(snares, id_, &scene::Snare::id) - snares.begin();
                const auto count = static_cast<std::ptrdiff_t>(snares.size());
                if (from < count && from + by >= 0 && from + by < count)
                    scene.snares.move(static_cast<std::size_t>(from), static_cast<std::size_t>(from + by));
            });
        });
    };
    if (key_.home.empty()) {
        move(tr("Earlier in the book"), -1);
        move(tr("Later in the book"), 1);
        menu.addSeparator();
    }
    offerMoves(menu, this, document_, scene::Thing::snare, key_.home, bareName());
    menu.addSeparator();
    menu.addAction(tr("Delete"), this, [this, remove] {
        remove(tr("Delete snare %1"),
               [&](scene::Scene& scene) { scene::removeShared(scene, scene::Thing::snare, key_.home, bareName()); });
    });
    menu.popup(at);
}

/// Another name for a snare of an assembly or a kit; those there that arm it follow. The same for a
/// routine that another one of its name stands before.
void SnareCard::renameWithin(QWidget* anchor)
{
    Question question;
    question.title = tr("New name of %1 in %2")
                         .arg(toText(bareName()), toText(isOfAssembly()      ? key_.assembly
                                                         : key_.home.empty() ? std::string("the scene")
                                                                             : key_.home));
    question.freeText = true;
    question.typed = toText(bareName());
    question.check = [this](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!scene::isId(name))
            return tr("letters, digits, - and _ only");
        CardKey other = key_;
        other.name = name;
        const bool isThere = isRoutine() ? scene::routineIn(document_.scene(), key_.home, name) != nullptr
                                         : snareOf(document_.scene(), other) != nullptr;
        return name != bareName() && isThere ? tr("%1 is there already").arg(toText(name)) : QString();
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        CardKey next = key_;
        next.name = name;
        const bool wasChosen = isChosen();
        document_.edit(homeText() + tr("Rename snare %1").arg(toText(bareName())), [&](scene::Scene& scene) {
            if (isRoutine()) {
                scene::Kit* kit = key_.home.empty() ? nullptr : scene::kitToChange(scene, key_.home);
                for (auto& entry : (kit ? kit->routines : scene.routines).entries)
                    if (entry.first == bareName())
                        entry.first = name;
            } else if (isOfAssembly()) {
                if (scene::Assembly* assembly = scene::assemblyToChange(scene, key_.home, key_.assembly))
                    scene::renameSnare(*assembly, bareName(), name);
            } else if (scene::Kit* kit = scene::kitToChange(scene, key_.home)) {
                scene::Assembly within; // its snares mention each other like those of an assembly
                within.snares = std::move(kit->snares);
                scene::renameSnare(within, bareName(), name);
                kit->snares = std::move(within.snares);
            }
        });
        if (wasChosen)
            selection_.chooseSnare(nameInRun(document_.scene(), next), {});
    });
}

// --- parameters of a routine ---------------------------------------------------------------------------------------

/// What a routine takes, and what that is where a `run` does not say.
void SnareCard::buildParameters(QVBoxLayout* layout)
{
    auto* line = new FlowLayout{nullptr};
    if (!with_.empty())
        word(line, tr("takes"), true);
    for (const auto& [name, value] : with_.entries) {
        SlotButton* button = slot(line, QStringLiteral("parameter ") + toText(name),
                                  tr("%1 = %2").arg(toText(name), literalText(value)));
        button->setToolTip(tr("Read as with.%1; this is what it is where it is not given").arg(toText(name)));
        mark(button, "routine", "with");
        connect(button, &SlotButton::clicked, this, [this, key = name, button] { editParameter(key, button); });
    }
    SlotButton* add = slot(line, QStringLiteral("add parameter"), with_.empty() ? tr("+ takes a value") : tr("+"),
                           SlotButton::Kind::offer);
    add->setToolTip(tr("A value that whoever runs it can give, read as with.NAME"));
    mark(add, "routine", "with");
    connect(add, &SlotButton::clicked, this, [this, add] { editParameter({}, add); });
    layout->addLayout(line);
}

void SnareCard::editParameter(const std::string& name, QWidget* anchor)
{
    Question question;
    question.title =
        name.empty() ? tr("Name = what it is where it is not given; more with commas between")
                     : tr("What %1 is where it is not given; empty takes it away. Another name: who runs it follows")
                           .arg(toText(name));
    question.placeholder = QStringLiteral("height = 2");
    question.freeText = true;
    if (const scene::Scalar* value = with_.find(name))
        question.typed = toText(name) + QStringLiteral(" = ") + literalText(*value);
    question.wrongAt = valuesFaultAt;
    question.check = [this, name](const QStringList& answer) {
        const auto given = valuesFrom(answer.front());
        if (!given)
            return tr("Name = value, with commas between");
        if (!name.empty() && given->entries.size() > 1)
            return tr("One name and its value");
        for (const auto& entry : given->entries)
            if (entry.first != name && with_.find(entry.first))
                return tr("%1 is there already").arg(toText(entry.first));
        return QString();
    };
    SlotPopup::ask(anchor, question, [this, name](const QStringList& answer) {
        const auto given = valuesFrom(answer.front());
        if (!given)
            return;
        document_.edit(homeText() + tr("Change what %1 takes").arg(toText(bareName())), [&](scene::Scene& scene) {
            scene::Routine* routine = scene::routineToChange(scene, key_.home, bareName());
            if (!routine)
                return;
            if (!name.empty() && given->empty()) {
                std::erase_if(routine->with.entries, [&](const auto& entry) { return entry.first == name; });
                return;
            }
            if (!name.empty() && given->entries.front().first != name)
                scene::renameParameter(scene, key_.home, bareName(), name, given->entries.front().first);
            routine = scene::routineToChange(scene, key_.home, bareName());
            for (const auto& [key, value] : given->entries)
                routine->with.set(key, value);
        });
    });
}

} // namespace snare::app
