// SPDX-License-Identifier: Apache-2.0
/// The menus of `Stock`: of what is there, and of a kit.
#include "app/cards/stock_panel.h"

#include "app/slots/naming.h"
#include "app/slots/sharing_menu.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <QListWidget>
#include <QMenu>

namespace snare::app {

using scene::Thing;

void StockPanel::fillMenu(QMenu& menu, const Entry& entry)
{
    const bool isLaid = entry.kind == Thing::form || entry.kind == Thing::assembly;
    if (entry.isThere) {
        if (isLaid)
            menu.addAction(tr("Lay it (stamp)"), this, [this, entry] { emit layWanted(toText(entry.name)); });
        if (const scene::Assembly* found = entry.kind == Thing::assembly
                                               ? scene::assemblyIn(document_.scene(), entry.home, entry.name)
                                               : nullptr) {
            QMenu* parts = menu.addMenu(tr("Card of a part"));
            for (const scene::Piece& part : found->pieces)
                parts->addAction(toText(part.id), this, [this, name = "part:" + entry.name + "." + part.id] {
                    selection_.chooseModel(name);
                    emit hereWanted();
                });
        } else {
            menu.addAction(tr("Open its card\tReturn"), this, [this, entry] { open(entry); });
        }
    }
    if (isLaid)
        menu.addAction(entry.kind == Thing::form ? tr("Choose all that follow it") : tr("Choose all that are laid"),
                       this, [this, entry] { chooseFollowers(entry); });
    menu.addAction(tr("Where it is used…"), this,
                   [this, entry] { showUses(list_, document_, entry.kind, entry.name); });
    const std::string piece = selection_.piece();
    if (const scene::Piece* one = scene::findPiece(document_.scene(), piece);
        one && entry.kind == Thing::form && entry.isThere && !one->partOf && one->templateName != entry.name)
        menu.addAction(tr("Let %1 follow it").arg(toText(piece)), this, [this, entry, piece] {
            document_.edit(tr("Let %1 follow %2").arg(toText(piece), toText(entry.name)),
                           [&](scene::Scene& scene) { scene::join(scene, piece, entry.name); });
        });
    menu.addSeparator();
    if (!entry.isThere) {
        if (entry.kind == Thing::form)
            menu.addAction(tr("Let its pieces stand alone"), this, [this, entry] {
                document_.edit(tr("Let the pieces of %1 stand alone").arg(toText(entry.name)),
                               [&](scene::Scene& scene) {
                                   for (const std::string& id : scene::followersOf(scene, entry.name)) {
                                       scene::findPiece(scene, id)->templateName.clear();
                                       scene::findPiece(scene, id)->lost.clear();
                                   }
                               });
            });
        if (entry.kind == Thing::assembly)
            menu.addAction(tr("Take those away that are laid"), this, [this, entry] {
                document_.edit(tr("Take away all of %1").arg(toText(entry.name)), [&](scene::Scene& scene) {
                    std::erase_if(scene.laid, [&](const scene::Laid& one) { return one.assembly == entry.name; });
                });
            });
        return;
    }
    menu.addAction(tr("Rename…\tF2"), this, [this, entry] { rename(entry); });
    offerMoves(menu, this, document_, entry.kind, entry.home, entry.name);
    menu.addSeparator();
    menu.addAction(tr("Remove…\tDel"), this, [this, entry] { remove(entry); });
}

void StockPanel::fillKitMenu(QMenu& menu, const std::string& kit)
{
    const scene::LoadedKit* loaded = scene::findKit(document_.scene(), kit);
    if (loaded && loaded->problem.empty())
        menu.addAction(tr("What checks its file…"), this, [this, kit, schema = loaded->kit.schema] {
            Question question;
            question.title = tr("Where text editors find the schema of %1; empty: nowhere").arg(toText(kit));
            question.placeholder = tr("path or address; snare schema kit writes one");
            question.freeText = true;
            question.typed = toText(schema);
            SlotPopup::ask(list_, question, [this, kit](const QStringList& answer) {
                document_.edit(tr("Change the schema of %1").arg(toText(kit)), [&](scene::Scene& scene) {
                    if (scene::Kit* changed = scene::kitToChange(scene, kit))
                        changed->schema = answer.front().trimmed().toStdString();
                });
            });
        });
    menu.addAction(tr("Take %1 off the scene").arg(toText(kit)), this, [this, kit] {
        document_.edit(tr("Take kit %1 off the scene").arg(toText(kit)),
                       [&](scene::Scene& scene) { std::erase(scene.kits, kit); });
    });
}

} // namespace snare::app
