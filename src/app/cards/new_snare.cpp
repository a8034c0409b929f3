// SPDX-License-Identifier: Apache-2.0
#include "app/cards/new_snare.h"

#include "app/ui/slot_popup.h"
#include "app/ui/text.h"

#include <fmt/format.h>

namespace snare::app {

namespace {

using scene::EventFamily;
using scene::EventKind;

/// What events are about, for the headings of the list.
QString headingOf(EventFamily family)
{
    switch (family) {
    case EventFamily::scene:
        return QObject::tr("The run");
    case EventFamily::contact:
        return QObject::tr("Visitors of a piece");
    case EventFamily::pointer:
        return QObject::tr("The pointer");
    case EventFamily::key:
        return QObject::tr("Keys");
    case EventFamily::timer:
        return QObject::tr("Timers");
    case EventFamily::watch:
        return QObject::tr("Numbers");
    case EventFamily::call:
        return QObject::tr("Calls from outside");
    case EventFamily::signal:
        return QObject::tr("Signals");
    case EventFamily::piece:
        return QObject::tr("A piece itself");
    case EventFamily::phase:
        return QObject::tr("Phases");
    case EventFamily::value:
        return QObject::tr("Values");
    }
    return {};
}

/// Whether it can happen at a piece.
bool hasPlace(EventFamily family)
{
    return family == EventFamily::contact || family == EventFamily::pointer || family == EventFamily::piece ||
           family == EventFamily::phase || family == EventFamily::value;
}

} // namespace

scene::Snare snareFor(const scene::Scene& scene, EventKind kind, const std::string& piece)
{
    const EventFamily family = scene::familyOf(kind);
    scene::Snare snare;
    snare.catches.event.items = {kind};
    if (hasPlace(family))
        snare.catches.at = piece;
    if (family == EventFamily::key)
        snare.catches.key = "space";
    // Where there is only one that can be meant, it is.
    const auto onlySource = [&]<class Kind>(const Kind*) -> const scene::Source* {
        const scene::Source* found = nullptr;
        for (const scene::Source& source : scene.sources)
            if (std::holds_alternative<Kind>(source.kind)) {
                if (found)
                    return nullptr;
                found = &source;
            }
        return found;
    };
    if (family == EventFamily::timer)
        if (const scene::Source* timer = onlySource(static_cast<const scene::TimerSource*>(nullptr)))
            snare.catches.source = timer->id;
    if (family == EventFamily::watch) {
        snare.catches.level = 0;
        if (const scene::Source* dial = onlySource(static_cast<const scene::DialSource*>(nullptr))) {
            const auto& range = std::get<scene::DialSource>(dial->kind);
            snare.catches.source = dial->id;
            snare.catches.level = (range.low + range.high) / 2;
        }
    }
    if (family == EventFamily::call)
        if (const scene::Source* call = onlySource(static_cast<const scene::CallSource*>(nullptr)))
            snare.catches.name = std::get<scene::CallSource>(call->kind).name;
    const std::string word{scene::wordFor(kind).word};
    snare.id = scene::freeId(scene, snare.catches.at.empty() ? "on-" + word : fmt::format("{}-{}", word, piece));
    return snare;
}

void askNewSnare(QWidget* anchor, Document& document, Selection& selection,
                 const std::function<void(const std::string& snare)>& made)
{
    Question question;
    const std::string piece = selection.piece();
    question.title = piece.empty() ? QObject::tr("A snare: what is to happen first?")
                                   : QObject::tr("A snare at %1: what is to happen first?").arg(toText(piece));
    question.placeholder = QObject::tr("type a word: enters, key, timer, signal, start…");
    // What can happen at the chosen piece stands first.
    for (const bool withPlace : {!piece.empty(), piece.empty()}) {
        std::optional<EventFamily> family;
        for (const auto& entry : scene::wordsOf<EventKind>) {
            if (hasPlace(entry.family) != withPlace)
                continue;
            if (family != entry.family)
                question.choices.push_back({{}, headingOf(entry.family), {}, {}, true});
            family = entry.family;
            question.choices.push_back({toText(entry.word), toText(entry.verb), toText(entry.about),
                                        toText(entry.word) + QLatin1Char(' ') + headingOf(entry.family)});
        }
    }
    SlotPopup::ask(
        anchor, question, [&document, &selection, piece, shape = selection.shape(), made](const QStringList& answer) {
            for (const auto& entry : scene::wordsOf<EventKind>) {
                if (toText(entry.word) != answer.front())
                    continue;
                scene::Snare snare = snareFor(document.scene(), entry.value, piece);
                // At the zone that is chosen, if the piece has solids that touch others too.
                const scene::Piece* model = scene::findPiece(document.scene(), snare.catches.at);
                if (model && entry.family == EventFamily::contact && shape < model->shapes.size() &&
                    model->shapes[shape].role == scene::Role::zone &&
                    std::ranges::any_of(model->shapes,
                                        [](const scene::Shape& one) { return one.role == scene::Role::solid; }))
                    snare.catches.shape = scene::shapeName(*model, shape);
                document.edit(QObject::tr("Add snare %1").arg(toText(snare.id)),
                              [&](scene::Scene& scene) { scene.snares.push_back(snare); });
                if (snare.catches.at.empty())
                    selection.clear();
                selection.chooseSnare(snare.id, snare.catches.at);
                made(snare.id);
                return;
            }
        });
}

} // namespace snare::app
