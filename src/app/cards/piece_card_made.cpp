// SPDX-License-Identifier: Apache-2.0
/// What a piece is made from: the assembly that it is a part of, the template that it follows, and
/// what is its own.
#include "app/cards/piece_card.h"
#include "app/slots/naming.h"
#include "app/ui/flow_layout.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/models.h"
#include "scene/templates.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

/// Of a model: what it is a model of, where that is kept, and how many follow it.
void PieceCard::buildModel(QVBoxLayout* column)
{
    const scene::ModelName of = scene::modelNamed(shown_.id);
    if (of.kind == scene::ModelName::Kind::piece)
        return;
    const scene::Scene& scene = document_.scene();
    const bool isForm = of.kind == scene::ModelName::Kind::form;
    const auto home = scene::homeOf(scene, isForm ? scene::Thing::form : scene::Thing::assembly, of.owner);
    auto* line = row(column, tr("model"));
    const auto laid = std::ranges::count(scene.laid, of.owner, &scene::Laid::assembly);
    const std::size_t followers = scene::followersOf(scene, of.owner).size();
    word(line,
         !isForm          ? laid == 1 ? tr("1 laid follows it") : tr("%1 laid follow it").arg(laid)
                  : followers == 0 ? tr("no piece follows it yet")
         : followers == 1 ? tr("1 piece follows it")
                          : tr("%1 follow it").arg(countedPieces(followers)),
         true);
    if (home && !home->empty())
        word(line, tr("from %1").arg(toText(*home)), true);
    if (isForm)
        return;
    for (const scene::Piece& part : scene::findAssembly(scene, of.owner)->pieces) {
        if (part.id == of.part)
            continue;
        SlotButton* other = slot(line, QStringLiteral("part ") + toText(part.id), toText(part.id));
        other->setToolTip(tr("The card of this part"));
        connect(other, &SlotButton::clicked, this,
                [this, name = "part:" + of.owner + "." + part.id] { selection_.chooseModel(name); });
    }
}

/// Which laid assembly it is a part of, where that is, and what can be done with it.
void PieceCard::buildPart(QVBoxLayout* column)
{
    const scene::Laid* laid = shown_.partOf ? scene::findLaid(document_.scene(), shown_.partOf->laid) : nullptr;
    if (!laid)
        return;
    auto* line = row(column, tr("part"));
    word(line, tr("%1 of").arg(toText(shown_.partOf->part)), true);
    SlotButton* whole = slot(line, QStringLiteral("laid"), toText(laid->id));
    whole->setToolTip(tr("A laid %1").arg(toText(laid->assembly)));
    connect(whole, &SlotButton::clicked, this, [this, whole, name = laid->id, assembly = laid->assembly] {
        Question question;
        question.title = tr("%1, a laid %2").arg(toText(name), toText(assembly));
        question.choices = {
            {QStringLiteral("alike"), tr("Make all like this one"), tr("what is their own elsewhere stays"), {}},
            {QStringLiteral("choose"), tr("Choose the whole"), {}, {}},
            {QStringLiteral("rename"), tr("Rename it…"), tr("its parts are called after it"), {}},
            {QStringLiteral("every"), tr("Change this part of every %1").arg(toText(assembly)), tr("its card opens"),
             tr("model")},
            {QStringLiteral("leave"), tr("Take this part out of every %1").arg(toText(assembly)), {}, tr("remove")},
            {QStringLiteral("dissolve"), tr("Dissolve it"), tr("its parts become plain pieces"), {}}};
        SlotPopup::ask(whole, question, [this, name, assembly](const QStringList& answer) {
            if (answer.front() == QLatin1String("alike"))
                document_.edit(tr("Make all of %1 like %2").arg(toText(assembly), toText(name)),
                               [&](scene::Scene& scene) { scene::makeAllLike(scene, name); });
            else if (answer.front() == QLatin1String("choose"))
                selection_.choosePieces(scene::wholeOf(document_.scene(), shown_.id));
            else if (answer.front() == QLatin1String("rename"))
                renameLaid(name);
            else if (answer.front() == QLatin1String("every"))
                selection_.chooseModel("part:" + assembly + "." + shown_.partOf->part);
            else if (answer.front() == QLatin1String("leave"))
                document_.edit(tr("Take %1 out of %2").arg(toText(shown_.partOf->part), toText(assembly)),
                               [&](scene::Scene& scene) {
                                   scene::takeOutOfAssembly(scene, assembly, std::string(shown_.partOf->part));
                               });
            else
                document_.edit(tr("Dissolve %1").arg(toText(name)),
                               [&](scene::Scene& scene) { scene::dissolve(scene, name); });
        });
    });
    const auto numbers = [&](const QString& slotName, const QString& title, const QString& shown, int count,
                             const std::function<void(scene::Laid&, const std::vector<double>&)>& set) {
        SlotButton* button = slot(line, slotName, shown);
        connect(button, &SlotButton::clicked, this, [this, button, title, shown, count, set, name = laid->id] {
            Question question;
            question.title = title;
            question.freeText = true;
            question.typed = shown;
            question.check = [count](const QStringList& answer) {
                return numbersIn(answer.front(), count)
                           ? QString()
                           : tr("%1, please")
                                 .arg(counted(static_cast<std::size_t>(count), tr("number"), tr("numbers")));
            };
            SlotPopup::ask(button, question, [this, count, set, name](const QStringList& answer) {
                document_.edit(tr("Place %1").arg(toText(name)), [&](scene::Scene& scene) {
                    scene::Laid next = *scene::findLaid(scene, name);
                    set(next, *numbersIn(answer.front(), count));
                    scene::moveLaid(scene, name, next.at, next.turn);
                });
            });
        });
    };
    word(line, tr("laid at"), true);
    numbers(QStringLiteral("laid at"), tr("Where the whole is: x, y in m"), pair(laid->at), 2,
            [](scene::Laid& one, const std::vector<double>& given) {
                one.at = {given[0], given[1]};
            });
    word(line, tr("turned"), true);
    numbers(QStringLiteral("laid turn"), tr("How the whole is turned, in degrees"), figure(laid->turn), 1,
            [](scene::Laid& one, const std::vector<double>& given) { one.turn = given[0]; });
    if (!own_.empty() && shown_.templateName.empty())
        buildOwn(line, tr("Give one back to the assembly"));
}

/// Which template it follows, and what of it is its own; each can be given back.
void PieceCard::buildTemplate(QVBoxLayout* column)
{
    if (shown_.templateName.empty())
        return;
    auto* line = row(column, tr("template"));
    SlotButton* form = slot(line, QStringLiteral("template"), toText(shown_.templateName));
    mark(form, "piece", "template");
    connect(form, &SlotButton::clicked, this, [this, form] {
        Question question;
        question.title = tr("Template %1").arg(toText(shown_.templateName));
        question.choices = {
            {QStringLiteral("change"), tr("Make it like this piece"), tr("all that follow it change too"), {}},
            {QStringLiteral("choose"), tr("Choose all that follow it"), {}, {}},
            {QStringLiteral("card"), tr("Open its card"), tr("change it without a piece"), tr("model edit")},
            {QStringLiteral("rename"), tr("Rename it…"), {}, {}},
            {QStringLiteral("leave"), tr("Let this piece stand alone"), tr("it keeps all its fields"), {}}};
        SlotPopup::ask(form, question, [this, form](const QStringList& answer) {
            const std::string name = shown_.templateName;
            if (answer.front() == QLatin1String("change"))
                document_.edit(tr("Change template %1").arg(toText(name)),
                               [&](scene::Scene& scene) { scene::changeTemplate(scene, name, shown_); });
            else if (answer.front() == QLatin1String("choose"))
                selection_.choosePieces(scene::followersOf(document_.scene(), name));
            else if (answer.front() == QLatin1String("card"))
                selection_.chooseModel("template:" + name);
            else if (answer.front() == QLatin1String("rename"))
                askForName(form, document_, scene::Thing::form, name, [](const std::string&) {});
            else
                edit(tr("Let %1 stand alone"), [](scene::Piece& piece) { piece.templateName.clear(); });
        });
    });
    if (!scene::templateOf(document_.scene(), shown_)) {
        word(line, tr("which does not exist"), true);
    } else if (own_.empty()) {
        word(line, tr("nothing of its own"), true);
    } else {
        buildOwn(line, tr("Give one back to the template"));
    }
}

/// What is its own, to be given back.
void PieceCard::buildOwn(FlowLayout* line, const QString& tip)
{
    word(line, tr("own:"), true);
    QStringList names;
    for (const std::string& field : own_)
        names << toText(field);
    SlotButton* own = slot(line, QStringLiteral("own"), names.join(QStringLiteral(", ")));
    own->setToolTip(tip);
    connect(own, &SlotButton::clicked, this, [this, own] { resetOwn(own); });
}

void PieceCard::renameLaid(const std::string& laid)
{
    askForName(this, document_, scene::Thing::laid, laid, [this](const std::string& to) {
        const auto parts = scene::partsOf(document_.scene(), to);
        std::vector<std::string> ids;
        ids.reserve(parts.size());
        for (const std::size_t i : parts)
            ids.push_back(document_.scene().pieces[i].id);
        selection_.choosePieces(std::move(ids));
    });
}

/// Another name for a part of an assembly; its snares, and what names the parts that are laid,
/// follow.
void PieceCard::renamePart(QWidget* anchor)
{
    const scene::ModelName of = scene::modelNamed(shown_.id);
    Question question;
    question.title = tr("New name of %1").arg(shownName());
    question.freeText = true;
    question.typed = toText(of.part);
    question.check = [this, of](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!scene::isId(name))
            return tr("letters, digits, - and _ only");
        return name != of.part && scene::modelOrPiece(document_.scene(), "part:" + of.owner + "." + name)
                   ? tr("%1 is there already").arg(answer.front())
                   : QString();
    };
    SlotPopup::ask(anchor, question, [this, of](const QStringList& answer) {
        document_.edit(tr("Rename %1").arg(shownName()), [&](scene::Scene& scene) {
            scene::renamePart(scene, of.owner, of.part, answer.front().toStdString());
        });
        selection_.chooseModel("part:" + of.owner + "." + answer.front().toStdString());
    });
}

void PieceCard::resetOwn(QWidget* anchor)
{
    Question question;
    const bool isPart = shown_.templateName.empty();
    question.title = isPart ? tr("Give back to the assembly") : tr("Give back to the template");
    question.proposes = true; // what the slot shows is what is given back
    for (const std::string& field : own_)
        question.choices.push_back({toText(field), {}, {}, {}});
    if (own_.size() > 1)
        question.choices.push_back({QStringLiteral("*"), tr("everything"), {}, tr("all reset")});
    SlotPopup::ask(anchor, question, [this, own = own_, isPart](const QStringList& answer) {
        if (isPart)
            return document_.edit(tr("Reset %1 to its assembly").arg(shownName()), [&](scene::Scene& scene) {
                for (const std::string& field : own)
                    if (answer.front() == QLatin1String("*") || toText(field) == answer.front())
                        scene::resetPart(scene, shown_.id, field);
            });
        const scene::Template* form = scene::templateOf(document_.scene(), shown_);
        if (!form)
            return;
        edit(tr("Reset %1 to its template"), [&, model = form->model](scene::Piece& piece) {
            for (const std::string& field : own)
                if (answer.front() == QLatin1String("*") || toText(field) == answer.front())
                    scene::resetOwn(piece, model, field);
        });
    });
}

} // namespace snare::app
