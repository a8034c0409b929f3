// SPDX-License-Identifier: Apache-2.0
/// The looks of a piece card: its own, the named ones and those that phases bring, as a strip of
/// small pictures. One of them is open: its slots stand below.
#include "app/cards/piece_card.h"
#include "app/ground/picture_view.h"
#include "app/slots/naming.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "scene/models.h"

#include <QMenu>

namespace snare::app {

namespace {

constexpr QLatin1String lookPrefix{"look "};
constexpr QLatin1String phasePrefix{"phase "};

/// The look that is called so on a piece, or nullptr.
template <class Piece> auto lookOf(Piece& piece, const QString& key) -> decltype(&piece.look)
{
    if (key.isEmpty())
        return &piece.look;
    if (key.startsWith(lookPrefix))
        return piece.looks.find(key.mid(lookPrefix.size()).toStdString());
    const auto index = scene::findPhase(piece, key.mid(phasePrefix.size()).toStdString());
    return index && piece.phases[*index].look ? &*piece.phases[*index].look : nullptr;
}

} // namespace

LookAccess PieceCard::lookCalled(const QString& key)
{
    return {[this, key, id = shown_.id]() -> const scene::Look* {
                const scene::Piece* piece = scene::modelOrPiece(document_.scene(), id);
                return piece ? lookOf(*piece, key) : nullptr;
            },
            [this, key](const std::function<void(scene::Look&)>& change) {
                edit(key.isEmpty() ? tr("Change the look of %1") : tr("Change a look of %1"), [&](scene::Piece& piece) {
                    if (scene::Look* look = lookOf(piece, key))
                        change(*look);
                });
            }};
}

void PieceCard::buildLooks(QVBoxLayout* column)
{
    const bool isPlain = shown_.look == scene::Look{} && shown_.looks.entries.empty();
    const bool hasOthers = !shown_.looks.entries.empty() ||
                           std::ranges::any_of(shown_.phases, [](const auto& phase) { return phase.look.has_value(); });
    if (!lookOf(shown_, openLook_))
        openLook_.clear();
    auto* line = row(column, tr("looks"));
    if (hasOthers) {
        buildLookChip(line, {}, tr("at first"), shown_.look);
        for (const auto& [name, look] : shown_.looks.entries)
            buildLookChip(line, lookPrefix + toText(name), toText(name), look);
        for (const scene::PiecePhase& phase : shown_.phases)
            if (phase.look)
                buildLookChip(line, phasePrefix + toText(phase.id), tr("in %1").arg(toText(phase.id)), *phase.look);
        SlotButton* add = slot(line, QStringLiteral("add look name"), tr("+ look"), SlotButton::Kind::offer);
        mark(add, "piece", "looks");
        connect(add, &SlotButton::clicked, this, [this, add] { addLook(add); });
        line = row(column, {});
        if (openLook_.startsWith(lookPrefix)) {
            const std::string name = openLook_.mid(lookPrefix.size()).toStdString();
            SlotButton* menu = slot(line, QStringLiteral("look menu"), toText(name), SlotButton::Kind::action);
            menu->setToolTip(tr("Rename or remove this look"));
            connect(menu, &SlotButton::clicked, this, [this, name, menu] { lookMenu(name, menu); });
        }
    }
    FieldSource source = lookFields(document_, lookCalled(openLook_));
    const bool offersNamed = !hasOthers;
    fieldSlots(line, source, offersNamed && (showsAll() || !isPlain) ? QStringList{tr("another look")} : QStringList{},
               [this](const QString&) { addLook(findChild<QWidget*>(QStringLiteral("add look"))); });
}

void PieceCard::buildLookChip(FlowLayout* line, const QString& key, const QString& name, const scene::Look& look)
{
    auto* chip =
        new LookChip{name, look, look.image.empty() ? QImage{} : pictureOf(document_.pictures(), look.image), body()};
    chip->setObjectName(QStringLiteral("chip ") + key);
    chip->setAccessibleName(tr("Look: %1").arg(name));
    chip->setChecked(key == openLook_);
    if (key.startsWith(lookPrefix))
        mark(chip, "piece", "looks");
    mark(chip, "piece", "look");
    connect(chip, &QAbstractButton::clicked, this, [this, key] {
        openLook_ = key;
        built_ = false;
        refresh();
    });
    line->addWidget(chip);
}

/// A named look, which begins as the one that is open.
void PieceCard::addLook(QWidget* anchor)
{
    Question question;
    question.title = tr("Name of another look, which a response or a phase can put on");
    question.placeholder = tr("lit");
    question.freeText = true;
    question.check = [piece = shown_](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!scene::isId(name) || name == "next" || name == "plain")
            return tr("Letters, digits, - and _ only");
        return piece.looks.find(name) ? tr("There is a look %1 already").arg(answer.front()) : QString();
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        const QString before = std::exchange(openLook_, lookPrefix + answer.front());
        edit(tr("Add a look to %1"), [&](scene::Piece& piece) {
            const scene::Look* from = lookOf(piece, before);
            piece.looks.set(answer.front().toStdString(), from ? *from : piece.look);
        });
    });
}

void PieceCard::lookMenu(const std::string& name, QWidget* anchor)
{
    QMenu& menu = *makeMenu(anchor);
    menu.addAction(tr("Rename…"), this, [this, name, anchor] {
        askForName(anchor, document_, scene::Thing::look, name, [this](const std::string& to) {
            openLook_ = lookPrefix + toText(to);
            built_ = false;
            refresh();
        });
    });
    menu.addAction(tr("Remove"), this, [this, name] {
        openLook_.clear();
        edit(tr("Remove a look of %1"), [&](scene::Piece& piece) {
            std::erase_if(piece.looks.entries, [&](const auto& entry) { return entry.first == name; });
        });
    });
    menu.popup(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

} // namespace snare::app
