// SPDX-License-Identifier: Apache-2.0
#include "app/slots/naming.h"

#include "app/ui/slot_popup.h"
#include "app/ui/text.h"

#include <QObject>

#include <set>

namespace snare::app {

void askForName(QWidget* anchor, Document& document, scene::Thing kind, const std::string& name,
                const std::function<void(const std::string&)>& renamed)
{
    Question question;
    const std::size_t count = scene::countMentions(document.scene(), kind, name);
    question.title = count == 0
                         ? QObject::tr("New name of %1; nothing else mentions it").arg(toText(name))
                         : QObject::tr("New name of %1; %2 will follow")
                               .arg(toText(name), counted(count, QObject::tr("mention"), QObject::tr("mentions")));
    question.freeText = true;
    question.typed = toText(name);
    question.check = [&document, kind, name](const QStringList& answer) {
        const auto wrong = scene::refuseName(document.scene(), kind, name, answer.front().toStdString());
        return wrong ? toText(*wrong) : QString();
    };
    SlotPopup::ask(anchor, question, [&document, kind, name, renamed](const QStringList& answer) {
        const std::string to = answer.front().toStdString();
        if (to == name)
            return;
        document.edit(QObject::tr("Rename %1 to %2").arg(toText(name), answer.front()),
                      [&](scene::Scene& scene) { scene::rename(scene, kind, name, to); });
        renamed(to);
    });
}

QString whatMentions(const scene::Scene& scene, const std::vector<std::string>& pieces)
{
    std::set<std::string> listening;
    std::set<std::string> acting;
    for (const std::string& id : pieces)
        if (const scene::Piece* piece = scene::findPiece(scene, id)) {
            for (std::string& snare : scene::snaresListeningAt(scene, *piece))
                listening.insert(std::move(snare));
            for (std::string& snare : scene::snaresActingOn(scene, *piece))
                acting.insert(std::move(snare));
        }
    QStringList parts;
    if (!listening.empty())
        parts << counted(listening.size(), QObject::tr("snare listens there"), QObject::tr("snares listen there"));
    if (!acting.empty())
        parts << counted(acting.size(), QObject::tr("acts on it from elsewhere"),
                         QObject::tr("act on it from elsewhere"));
    return parts.join(QObject::tr(", "));
}

} // namespace snare::app
