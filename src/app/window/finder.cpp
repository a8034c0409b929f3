// SPDX-License-Identifier: Apache-2.0
#include "app/window/finder.h"

#include "app/ui/slot_popup.h"
#include "app/ui/words.h"

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

void openFinder(QWidget* anchor, const QList<QAction*>& commands, const scene::Scene& scene,
                const std::function<void(const Found&)>& go)
{
    Question question;
    question.title = QObject::tr("Find anything");
    question.placeholder = QObject::tr("a command, a piece, a snare, a signal");
    std::vector<Found> found;
    const auto add = [&](Found entry, const QString& text, const QString& detail, const QString& words) {
        question.choices.push_back({QString::number(found.size()), text, detail, words});
        found.push_back(std::move(entry));
    };
    for (const scene::Piece& piece : scene.pieces)
        add({Found::Kind::piece, nullptr, toText(piece.id)}, toText(piece.id), QObject::tr("piece"),
            toText(piece.group));
    for (const scene::Snare& snare : scene.snares)
        add({Found::Kind::snare, nullptr, toText(snare.id)}, toText(snare.id),
            QObject::tr("snare %1").arg(toText(snare.note)).trimmed(), {});
    for (const std::string& signal : scene::allSignals(scene))
        add({Found::Kind::signal, nullptr, toText(signal)}, toText(signal), QObject::tr("signal"), {});
    for (QAction* command : commands)
        if (command->isEnabled())
            add({Found::Kind::command, command, {}}, plain(command->text()),
                command->shortcut().toString(QKeySequence::NativeText), command->data().toString());
    SlotPopup::ask(anchor, std::move(question), [found = std::move(found), go](const QStringList& answer) {
        go(found[static_cast<std::size_t>(answer.front().toInt())]);
    });
}

} // namespace snare::app
