// SPDX-License-Identifier: Apache-2.0
#include "app/ground/editing.h"

#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/clip.h"
#include "scene/sharing.h"
#include "scene/templates.h"

#include <QApplication>
#include <QClipboard>

#include <cmath>

namespace snare::app {

Editing::Editing(Document& document, Selection& selection, QObject* parent)
    : QObject(parent), document_(document), selection_(selection)
{
}

void Editing::deletePieces(const std::vector<std::string>& pieces)
{
    const QString name = pieces.size() == 1 ? tr("Delete %1").arg(toText(pieces.front()))
                                            : tr("Delete %1").arg(countedPieces(pieces.size()));
    const auto remove = [this, pieces, name] {
        document_.edit(name, [&](scene::Scene& scene) {
            // A part goes with the whole that it is of.
            for (const std::string& id : pieces)
                if (const scene::Piece* piece = scene::findPiece(scene, id); piece && piece->partOf)
                    scene::removeLaid(scene, std::string(piece->partOf->laid));
            erase_if(scene.pieces,
                     [&](const scene::Piece& piece) { return std::ranges::find(pieces, piece.id) != pieces.end(); });
        });
    };
    const QString left = whatMentions(document_.scene(), pieces);
    if (left.isEmpty())
        return remove();
    Question question;
    question.title = tr("%1? %2.").arg(name, left);
    question.choices = {{QStringLiteral("delete"), tr("Delete"), tr("the snares stay and say what they lack"), {}},
                        {QStringLiteral("keep"), tr("Keep"), {}, {}}};
    SlotPopup::ask(ground_, question, [remove](const QStringList& answer) {
        if (answer.front() == QLatin1String("delete"))
            remove();
    });
}

void Editing::deleteSelection()
{
    const std::vector<std::string> chosen = selection_.pieces();
    if (!selection_.snare().empty() && chosen.size() <= 1) {
        const std::string snare = selection_.snare();
        document_.edit(tr("Delete snare %1").arg(toText(snare)), [&](scene::Scene& scene) {
            if (const auto home = scene::homeOf(scene, scene::Thing::snare, snare)) // a kit's, too
                scene::removeShared(scene, scene::Thing::snare, *home, snare);
        });
        if (!chosen.empty())
            selection_.choosePiece(chosen.front());
        return;
    }
    if (!chosen.empty())
        deletePieces(chosen);
}

void Editing::duplicateSelection()
{
    if (selection_.pieces().empty())
        return;
    std::vector<std::string> made;
    document_.edit(tr("Duplicate"), [&](scene::Scene& scene) {
        const std::vector<std::string> wholes = scene::wholesAmong(scene, selection_.pieces());
        for (const std::string& laid : wholes) {
            const std::string copy = scene::copyLaid(scene, laid, {0.5, -0.5});
            for (const std::size_t part : scene::partsOf(scene, copy))
                made.push_back(std::as_const(scene.pieces)[part].id);
        }
        for (const std::string& id : selection_.pieces()) {
            const scene::Piece* piece = scene::findPiece(scene, id);
            if (!piece || (piece->partOf && std::ranges::find(wholes, piece->partOf->laid) != wholes.end()))
                continue;
            scene::Piece copy = *piece;
            copy.partOf.reset();
            copy.id =
                scene::freeCopyId(scene, piece->partOf ? piece->partOf->laid + "-" + piece->partOf->part : id);
            copy.at += scene::Vec{0.5, -0.5};
            made.push_back(copy.id);
            scene.pieces.push_back(std::move(copy));
        }
    });
    selection_.choosePieces(std::move(made));
}

void Editing::selectAll()
{
    std::vector<std::string> all;
    for (const ShownPiece& piece : ground_->pieces())
        if (ground_->canPick(piece))
            all.push_back(piece.piece->id);
    selection_.choosePieces(std::move(all));
}

void Editing::selectNext(int by)
{
    const auto& pieces = document_.scene().pieces;
    if (pieces.empty())
        return;
    const auto found = std::ranges::find(pieces, selection_.piece(), &scene::Piece::id);
    const auto count = static_cast<std::ptrdiff_t>(pieces.size());
    const std::ptrdiff_t now = found == pieces.end() ? (by > 0 ? -1 : 0) : found - pieces.begin();
    selection_.choosePiece(pieces[static_cast<std::size_t>((now + by + count) % count)].id);
}

// --- clipboard -----------------------------------------------------------------------------------------------------

void Editing::copy()
{
    if (selection_.pieces().empty())
        return;
    const scene::Scene clip = scene::clipOf(document_.scene(), selection_.pieces());
    QApplication::clipboard()->setText(QString::fromStdString(io::sceneText(clip)));
    emit said(clip.snares.empty() ? tr("Copied %1").arg(countedPieces(clip.pieces.size()))
                                  : tr("Copied %1 with %2")
                                        .arg(countedPieces(clip.pieces.size()),
                                             counted(clip.snares.size(), tr("snare"), tr("snares"))));
}

void Editing::cut()
{
    copy();
    if (!selection_.pieces().empty())
        deletePieces(selection_.pieces());
}

void Editing::paste(bool withSnares)
{
    const std::string text = QApplication::clipboard()->text().toStdString();
    auto clip = io::readScene(text, "clipboard");
    if (!clip) {
        emit said(text.empty() ? tr("The clipboard is empty")
                               : tr("The clipboard holds no pieces: %1").arg(toText(clip.error().front().message())));
        return;
    }
    if (clip->pieces.empty()) {
        emit said(tr("The clipboard holds no pieces"));
        return;
    }
    geometry::Bounds box;
    for (const scene::Piece& piece : clip->pieces)
        box.include(piece.pinned ? piece.at + ground_->frame().low : piece.at); // where it is seen
    const Vec centre = box.centre();
    const Vec wanted = ground_->pointerOrMiddle();
    const Vec by{std::round((wanted.x - centre.x) * 10) / 10, std::round((wanted.y - centre.y) * 10) / 10};
    std::vector<std::string> made;
    document_.edit(tr("Paste %1").arg(countedPieces(clip->pieces.size())),
                   [&](scene::Scene& scene) { made = scene::paste(scene, std::move(*clip), by, withSnares); });
    selection_.choosePieces(std::move(made));
}

// --- arranging -----------------------------------------------------------------------------------------------------

void Editing::alignSelection(Side side)
{
    if (selection_.pieces().size() < 2) {
        emit said(tr("Select two pieces or more to line them up"));
        return;
    }
    document_.edit(tr("Align %1").arg(countedPieces(selection_.pieces().size())),
                   [&](scene::Scene& scene) { align(scene, selection_.pieces(), side); });
}

void Editing::distributeSelection(bool across)
{
    if (selection_.pieces().size() < 3) {
        emit said(tr("Select three pieces or more to spread them evenly"));
        return;
    }
    document_.edit(tr("Distribute %1").arg(countedPieces(selection_.pieces().size())),
                   [&](scene::Scene& scene) { distribute(scene, selection_.pieces(), across); });
}

void Editing::restackSelection(int by, bool outmost)
{
    if (selection_.pieces().empty())
        return;
    document_.edit(by > 0 ? tr("Raise") : tr("Lower"),
                   [&](scene::Scene& scene) { restack(scene, selection_.pieces(), by, outmost); });
    if (const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.pieces().front()))
        emit said(tr("%1 is on layer %2").arg(toText(piece->id)).arg(piece->layer));
}

void Editing::turnSelection(double degrees)
{
    document_.edit(tr("Turn"), [&](scene::Scene& scene) {
        const std::vector<std::string> wholes = scene::wholesAmong(scene, selection_.pieces());
        for (const std::string& name : wholes) {
            const scene::Laid laid = *scene::findLaid(scene, name);
            const double turn = std::remainder(laid.turn + degrees, 360);
            scene::moveLaid(scene, name, laid.at, turn == 0 ? 0 : turn);
        }
        const auto isInWhole = [&](const std::string& id) {
            const scene::Piece* piece = scene::findPiece(std::as_const(scene), id);
            return piece && piece->partOf && std::ranges::find(wholes, piece->partOf->laid) != wholes.end();
        };
        for (const std::string& id : selection_.pieces())
            if (scene::Piece* piece = isInWhole(id) ? nullptr : scene::findPiece(scene, id)) {
                const double turn = std::remainder(piece->turn + degrees, 360);
                piece->turn = turn == 0 ? 0 : turn;
            }
    });
}

// --- templates -----------------------------------------------------------------------------------------------------

void Editing::makeTemplate()
{
    const std::string id = selection_.piece();
    const scene::Piece* piece = scene::findPiece(document_.scene(), id);
    if (!piece) {
        emit said(tr("Select the one piece that is to be the model"));
        return;
    }
    if (piece->partOf) {
        emit said(tr("%1 is a part of an assembly: its model is there").arg(toText(id)));
        return;
    }
    std::string name = piece->templateName;
    if (!scene::templateOf(document_.scene(), *piece))
        document_.edit(tr("Make a template of %1").arg(toText(id)),
                       [&](scene::Scene& scene) { name = scene::makeTemplate(scene, id); });
    ground_->setStamp(name);
    ground_->setTool(ToolKind::stamp);
}

// --- assemblies ----------------------------------------------------------------------------------------------------

/// The laid ones that the selection is about: whole ones, or that of a selected part.
std::vector<std::string> Editing::chosenWholes() const
{
    std::vector<std::string> wholes = scene::wholesAmong(document_.scene(), selection_.pieces());
    if (wholes.empty())
        if (const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.piece()); piece && piece->partOf)
            wholes.push_back(piece->partOf->laid);
    return wholes;
}

void Editing::joinTemplate(QWidget* anchor)
{
    std::vector<std::string> pieces;
    for (const std::string& id : selection_.pieces())
        if (const scene::Piece* piece = scene::findPiece(document_.scene(), id); piece && !piece->partOf)
            pieces.push_back(id);
    const std::vector<std::string> forms = scene::allShared(document_.scene(), scene::Thing::form);
    if (pieces.empty() || forms.empty()) {
        emit said(forms.empty() ? tr("There is no template yet: make one of a piece (Ctrl+T)")
                                : tr("Select a piece that is to follow a template"));
        return;
    }
    Question question;
    question.title = tr("Which template %1 follows; what differs stays its own")
                         .arg(pieces.size() == 1 ? toText(pieces.front()) : countedPieces(pieces.size()));
    for (const std::string& name : forms)
        question.choices.push_back(
            {toText(name),
             {},
             tr("%1 follow it").arg(countedPieces(scene::followersOf(document_.scene(), name).size())),
             {}});
    SlotPopup::ask(anchor, question, [this, pieces](const QStringList& answer) {
        document_.edit(tr("Follow template %1").arg(answer.front()), [&](scene::Scene& scene) {
            for (const std::string& id : pieces)
                scene::join(scene, id, answer.front().toStdString());
        });
    });
}

void Editing::addToAssembly()
{
    std::vector<std::string> plain;
    std::string laid;
    for (const std::string& id : selection_.pieces())
        if (const scene::Piece* piece = scene::findPiece(document_.scene(), id)) {
            if (piece->partOf)
                laid = piece->partOf->laid;
            else
                plain.push_back(id);
        }
    if (laid.empty() || plain.empty()) {
        emit said(tr("Select a laid assembly, and with Shift the pieces that are to belong to it"));
        return;
    }
    QStringList refused;
    document_.edit(tr("Take %1 into %2")
                       .arg(plain.size() == 1 ? toText(plain.front()) : countedPieces(plain.size()), toText(laid)),
                   [&](scene::Scene& scene) {
                       for (const std::string& id : plain)
                           if (!scene::addToAssembly(scene, laid, id))
                               refused << toText(id);
                   });
    if (!refused.isEmpty())
        emit said(tr("The assembly has a part %1 already").arg(refused.join(tr(", "))));
    std::vector<std::string> whole;
    for (const std::size_t i : scene::partsOf(document_.scene(), laid))
        whole.push_back(document_.scene().pieces[i].id);
    selection_.choosePieces(std::move(whole));
}

void Editing::makeAssembly()
{
    std::string laid;
    document_.edit(tr("Make an assembly"),
                   [&](scene::Scene& scene) { laid = scene::makeAssembly(scene, selection_.pieces()); });
    if (laid.empty()) {
        emit said(tr("Select the pieces that are to be one; parts of an assembly cannot be in another"));
        return;
    }
    const scene::Scene& scene = document_.scene();
    const scene::Laid* one = scene::findLaid(scene, laid);
    const scene::Assembly* assembly = scene::findAssembly(scene, one->assembly);
    const std::vector<std::size_t> parts = scene::partsOf(scene, laid);
    selection_.choosePieces(scene::wholeOf(scene, scene.pieces[parts.front()].id));
    ground_->setStamp(one->assembly);
    emit said(tr("%1 is an assembly of %2 with %3; B lays another one")
                  .arg(toText(one->assembly), countedPieces(parts.size()),
                       counted(assembly->snares.size(), tr("snare"), tr("snares"))));
}

void Editing::dissolveAssembly()
{
    const std::vector<std::string> wholes = chosenWholes();
    if (wholes.empty()) {
        emit said(tr("Select a laid assembly"));
        return;
    }
    document_.edit(tr("Dissolve %1").arg(toText(wholes.front())), [&](scene::Scene& scene) {
        for (const std::string& laid : wholes)
            scene::dissolve(scene, laid);
    });
    selection_.clear();
}

void Editing::makeAssembliesAlike()
{
    const std::vector<std::string> wholes = chosenWholes();
    if (wholes.size() != 1) {
        emit said(tr("Select one laid assembly, or a part of it"));
        return;
    }
    const scene::Laid* laid = scene::findLaid(document_.scene(), wholes.front());
    if (!laid || !scene::findAssembly(document_.scene(), laid->assembly)) {
        emit said(tr("%1 is changed in its kit").arg(laid ? toText(laid->assembly) : QString()));
        return;
    }
    const std::string name = laid->assembly;
    document_.edit(tr("Make all of %1 like %2").arg(toText(name), toText(wholes.front())),
                   [&](scene::Scene& scene) { scene::makeAllLike(scene, wholes.front()); });
}

void Editing::changeTemplateFromSelection()
{
    const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.piece());
    const scene::Template* form = piece ? scene::templateOf(document_.scene(), *piece) : nullptr;
    if (!form) {
        emit said(tr("Select a piece that follows a template"));
        return;
    }
    const std::string name = piece->templateName;
    const scene::Piece model = *piece;
    document_.edit(tr("Change template %1").arg(toText(name)),
                   [&](scene::Scene& scene) { scene::changeTemplate(scene, name, model); });
    emit said(tr("%1 follow template %2")
                  .arg(countedPieces(scene::followersOf(document_.scene(), name).size()), toText(name)));
}

// --- snares --------------------------------------------------------------------------------------------------------

void Editing::generaliseSnare(const std::string& id, QWidget* anchor)
{
    const scene::Scene& scene = document_.scene();
    const scene::Snare* snare = scene::findSnare(scene, id);
    const scene::Piece* piece = snare ? scene::findPiece(scene, snare->catches.at) : nullptr;
    if (!piece) {
        emit said(tr("It does not catch at a single piece"));
        return;
    }
    Question question;
    question.title = tr("One snare for all of…");
    const auto offer = [&](const std::string& selector, const QString& text) {
        const auto count = std::ranges::count_if(
            scene.pieces, [&](const scene::Piece& one) { return scene::isNamedBy(one, selector); });
        question.choices.push_back({toText(selector), text, countedPieces(static_cast<std::size_t>(count)), {}});
    };
    for (const std::string& tag : piece->tags)
        offer("tag:" + tag, tr("everything tagged %1").arg(toText(tag)));
    offer("group:" + piece->group, tr("everything of group %1").arg(toText(piece->group)));
    if (!piece->templateName.empty())
        offer("template:" + piece->templateName, tr("everything of template %1").arg(toText(piece->templateName)));
    SlotPopup::ask(anchor, question, [this, id, own = piece->id](const QStringList& answer) {
        document_.edit(tr("Make %1 a snare for all").arg(toText(id)), [&](scene::Scene& changed) {
            scene::Snare& one = *scene::findSnare(changed, id);
            one.catches.at = answer.front().toStdString();
            // What acted on the piece by name acts on the one where it was caught.
            for (scene::Response& response : one.responses)
                std::visit(
                    [&](auto& kind) {
                        if constexpr (requires { kind.on; })
                            for (std::string& name : kind.on.names)
                                if (name == own)
                                    name = "self";
                    },
                    response.kind);
        });
    });
}

void Editing::copySnareTo(const std::string& id, QWidget* anchor)
{
    const scene::Snare* snare = scene::findSnare(document_.scene(), id);
    if (!snare)
        return;
    Question question;
    question.title = tr("Copy %1 to…").arg(toText(id));
    question.placeholder = tr("type to find");
    question.many = true;
    question.choices = pieceChoices(document_.scene());
    std::erase_if(question.choices, [&](const Choice& choice) { return choice.value == toText(snare->catches.at); });
    SlotPopup::ask(anchor, question, [this, id](const QStringList& answer) {
        if (answer.isEmpty())
            return;
        document_.edit(tr("Copy snare %1").arg(toText(id)), [&](scene::Scene& scene) {
            for (const QString& piece : answer) {
                const auto& snares = std::as_const(scene.snares);
                const auto at = std::ranges::find(snares, id, &scene::Snare::id);
                scene::Snare copy = scene::copiedTo(scene, *at, piece.toStdString());
                scene.snares.insert(at + 1, std::move(copy));
            }
        });
    });
}

} // namespace snare::app
