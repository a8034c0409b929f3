// SPDX-License-Identifier: Apache-2.0
#include "app/slots/sharing_menu.h"

#include "app/ui/slot_popup.h"
#include "app/ui/text.h"

#include <QMenu>
#include <QObject>

namespace snare::app {

void askForKit(QWidget* anchor, const Document& document, const QString& title,
               const std::function<void(const std::string& kit)>& done)
{
    Question question;
    question.title = title;
    question.freeText = true;
    question.proposes = true;
    const std::vector<std::string>& kits = document.scene().kits;
    question.typed = kits.empty() ? QStringLiteral("shared.kit.json") : toText(kits.front());
    for (const std::string& kit : kits)
        question.choices.push_back({toText(kit), {}, {}, {}});
    question.check = [](const QStringList& answer) {
        return answer.front().endsWith(QStringLiteral(".kit.json")) && answer.front().size() > 9
                   ? QString()
                   : QObject::tr("A name such as shared.kit.json");
    };
    SlotPopup::ask(anchor, question, [done](const QStringList& answer) { done(answer.front().toStdString()); });
}

void offerMoves(QMenu& menu, QWidget* anchor, Document& document, scene::Thing kind, const std::string& home,
                const std::string& name)
{
    const auto moveTo = [&document, kind, home, name](const std::string& to, bool copy) {
        document.moveShared(kind, name, home, to, copy);
    };
    if (!home.empty()) {
        menu.addAction(QObject::tr("Move into the scene"), anchor, [moveTo] { moveTo({}, false); })
            ->setToolTip(QObject::tr("Other scenes that name %1 have it no longer").arg(toText(home)));
        menu.addAction(QObject::tr("Copy into the scene"), anchor, [moveTo] { moveTo({}, true); });
        return;
    }
    menu.addAction(QObject::tr("Move to a kit file…"), anchor, [anchor, &document, moveTo] {
        askForKit(anchor, document,
                  QObject::tr("The kit file, beside the scene; it is written when the scene is saved"),
                  [moveTo](const std::string& kit) { moveTo(kit, false); });
    });
    menu.addAction(QObject::tr("Copy to a kit file…"), anchor, [anchor, &document, moveTo] {
        askForKit(anchor, document,
                  QObject::tr("The kit file, beside the scene; it is written when the scene is saved"),
                  [moveTo](const std::string& kit) { moveTo(kit, true); });
    });
}

} // namespace snare::app
