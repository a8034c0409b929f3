// SPDX-License-Identifier: Apache-2.0
#include "app/cards/piece_card.h"

#include "app/ground/ground_scene.h"
#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "check/problems.h"
#include "geometry/vec.h"
#include "scene/templates.h"

#include <QLabel>
#include <QMenu>
#include <QRegularExpression>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

PieceCard::PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : SentenceCard(parent), document_(document), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("pieceCard"));
    layout()->setContentsMargins(14, 10, 12, 8);
    connect(&stage_, &Stage::cursorChanged, this, &PieceCard::refreshInside);
    connect(&stage_, &Stage::recordChanged, this, &PieceCard::refreshInside);
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, &PieceCard::refreshInside);
    refresh();
}

void PieceCard::refresh()
{
    const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.piece());
    const scene::Piece next = piece ? *piece : scene::Piece{};
    const scene::Template* form = piece ? scene::templateOf(document_.scene(), *piece) : nullptr;
    std::vector<std::string> own = form ? scene::ownFields(*piece, form->model) : std::vector<std::string>{};
    std::vector<std::string> ofScene = sceneAsShown();
    if (built_ && shownIds_ == selection_.pieces() && next == shown_ && shownTitle_ == document_.title() &&
        own == own_ && ofScene == shownScene_)
        return;
    shownScene_ = std::move(ofScene);
    shownIds_ = selection_.pieces();
    shown_ = next;
    own_ = std::move(own);
    shownTitle_ = document_.title();
    built_ = true;
    rebuild();
    refreshInside();
}

void PieceCard::edit(const QString& name, const Change& change)
{
    document_.edit(name.arg(toText(shown_.id)), [&](scene::Scene& scene) {
        if (scene::Piece* piece = scene::findPiece(scene, shown_.id))
            change(*piece);
    });
}

void PieceCard::build(QVBoxLayout* column)
{
    inside_ = nullptr;
    phaseSlots_.clear();
    if (shown_.id.empty()) {
        if (shownIds_.empty()) {
            buildSceneName(column);
        } else {
            auto* title = new QLabel{countedPieces(shownIds_.size()), body()};
            title->setFont(textFont(1, true));
            column->addWidget(title);
        }
        auto* line = new QLabel{shownIds_.empty() ? tr("Select a piece on the ground to see what listens there.")
                                                  : tr("Drag to move them together; Lay › Align puts them in order."),
                                body()};
        line->setFont(textFont());
        line->setWordWrap(true);
        colourText(line, &Theme::inkSoft);
        column->addWidget(line);
        if (shownIds_.empty())
            buildScene(column);
        return;
    }
    buildName(column);
    buildTemplate(column);
    buildWho(column);
    buildPlace(column);
    buildBody(column);
    buildPointer(column);
    for (std::size_t i = 0; i < shown_.shapes.size(); ++i)
        buildShape(column, i);
    for (const std::string& problem : check::problemsOf(document_.scene(), shown_)) {
        auto* wrong = new QLabel{toText(problem), body()};
        wrong->setObjectName(QStringLiteral("problem"));
        wrong->setWordWrap(true);
        colourText(wrong, &Theme::coralText);
        column->addWidget(wrong);
    }
    buildMore(column);
    buildModes(column);
    inside_ = new QLabel{body()};
    inside_->setObjectName(QStringLiteral("insideNow"));
    inside_->setWordWrap(true);
    column->addWidget(inside_);
}

void PieceCard::buildName(QVBoxLayout* column)
{
    auto* name = new SlotButton{toText(shown_.id), SlotButton::Kind::offer, body()};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(1, true));
    name->setToolTip(tr("Rename"));
    connect(name, &SlotButton::clicked, this, [this, name] {
        askForName(name, document_, scene::Thing::piece, shown_.id,
                   [this](const std::string& to) { selection_.choosePiece(to, selection_.shape()); });
    });
    column->addWidget(name);
}

/// Which template it follows, and what of it is its own; each can be given back.
void PieceCard::buildTemplate(QVBoxLayout* column)
{
    if (shown_.templateName.empty())
        return;
    auto* line = new FlowLayout{nullptr, 6};
    word(line, tr("template"), true);
    SlotButton* form = slot(line, QStringLiteral("template"), toText(shown_.templateName));
    connect(form, &SlotButton::clicked, this, [this, form] {
        Question question;
        question.title = tr("Template %1").arg(toText(shown_.templateName));
        question.choices = {
            {QStringLiteral("change"), tr("Make it like this piece"), tr("all that follow it change too"), {}},
            {QStringLiteral("choose"), tr("Choose all that follow it"), {}, {}},
            {QStringLiteral("rename"), tr("Rename it…"), {}, {}},
            {QStringLiteral("leave"), tr("Let this piece stand alone"), tr("it keeps all its fields"), {}}};
        if (!document_.scene().templates.find(shown_.templateName)) // a kit's own: it is changed in its file
            std::erase_if(question.choices, [](const Choice& choice) {
                return choice.value == QLatin1String("change") || choice.value == QLatin1String("rename");
            });
        SlotPopup::ask(form, question, [this, form](const QStringList& answer) {
            const std::string name = shown_.templateName;
            if (answer.front() == QLatin1String("change"))
                document_.edit(tr("Change template %1").arg(toText(name)),
                               [&](scene::Scene& scene) { scene::changeTemplate(scene, name, shown_); });
            else if (answer.front() == QLatin1String("choose"))
                selection_.choosePieces(scene::followersOf(document_.scene(), name));
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
        word(line, tr("own:"), true);
        QStringList names;
        for (const std::string& field : own_)
            names << toText(field);
        SlotButton* own = slot(line, QStringLiteral("own"), names.join(QStringLiteral(", ")));
        own->setToolTip(tr("Give one back to the template"));
        connect(own, &SlotButton::clicked, this, [this, own] { resetOwn(own); });
    }
    column->addLayout(line);
}

void PieceCard::resetOwn(QWidget* anchor)
{
    Question question;
    question.title = tr("Give back to the template");
    for (const std::string& field : own_)
        question.choices.push_back({toText(field), {}, {}, {}});
    if (own_.size() > 1)
        question.choices.push_back({QStringLiteral("*"), tr("everything"), {}, tr("all reset")});
    SlotPopup::ask(anchor, question, [this, own = own_](const QStringList& answer) {
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

void PieceCard::buildWho(QVBoxLayout* column)
{
    auto* who = new FlowLayout{nullptr, 6};
    word(who, tr("group"), true);
    SlotButton* group = slot(who, QStringLiteral("group"), toText(shown_.group));
    connect(group, &SlotButton::clicked, this, [this, group] {
        Question question;
        question.title = tr("Group of its shapes");
        question.freeText = true;
        question.typed = toText(shown_.group);
        question.choices = groupChoices(document_.scene());
        question.check = [](const QStringList& answer) {
            return scene::isId(answer.front().toStdString()) ? QString() : tr("Letters, digits, - and _ only");
        };
        SlotPopup::ask(group, question, [this](const QStringList& answer) {
            edit(tr("Regroup %1"), [&](scene::Piece& piece) { piece.group = answer.front().toStdString(); });
        });
    });
    word(who, tr("tags"), true);
    SlotButton* tags =
        slot(who, QStringLiteral("tags"), shown_.tags.empty() ? QStringLiteral("+") : listed(shown_.tags),
             shown_.tags.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(tags, &SlotButton::clicked, this, [this, tags] {
        Question question;
        question.title = tr("Tags, with commas between");
        question.freeText = true;
        question.typed = listed(shown_.tags);
        SlotPopup::ask(tags, question, [this](const QStringList& answer) {
            edit(tr("Tag %1"), [&](scene::Piece& piece) {
                piece.tags.clear();
                for (const QString& tag : answer.front().split(QLatin1Char(','), Qt::SkipEmptyParts))
                    if (const std::string word = tag.trimmed().toStdString();
                        !word.empty() && std::ranges::find(piece.tags, word) == piece.tags.end())
                        piece.tags.push_back(word);
            });
        });
    });
    word(who, tr("body"), true);
    SlotButton* kind = slot(who, QStringLiteral("body"), toText(scene::kindOf(shown_.body)));
    connect(kind, &SlotButton::clicked, this, [this, kind] { editBody(kind); });
    column->addLayout(who);
}

void PieceCard::buildPlace(QVBoxLayout* column)
{
    auto* where = new FlowLayout{nullptr, 6};
    word(where, tr("at"), true);
    SlotButton* at = slot(where, QStringLiteral("at"), tr("%1 m").arg(pair(shown_.at)));
    connect(at, &SlotButton::clicked, this, [this, at] {
        editNumbers(at, tr("Place: x, y in m"), pair(shown_.at), 2, -1e9, false, tr("Move %1"),
                    [](scene::Piece& piece, const std::vector<double>& n) {
                        piece.at = {n[0], n[1]};
                    });
    });
    word(where, tr("height"), true);
    SlotButton* height = slot(where, QStringLiteral("height"), numberText(shown_.z, scene::Unit::metres),
                              shown_.z == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(height, &SlotButton::clicked, this, [this, height] {
        editNumbers(height, tr("Height over the plan, m"), QString::number(shown_.z), 1, -1e9, false, tr("Raise %1"),
                    [](scene::Piece& piece, const std::vector<double>& n) { piece.z = n[0]; });
    });
    word(where, tr("turned"), true);
    SlotButton* turn = slot(where, QStringLiteral("turn"), numberText(shown_.turn, scene::Unit::degrees));
    connect(turn, &SlotButton::clicked, this, [this, turn] {
        editNumbers(turn, tr("Turned, degrees counter-clockwise"), QString::number(shown_.turn), 1, -1e9, false,
                    tr("Turn %1"), [](scene::Piece& piece, const std::vector<double>& n) { piece.turn = n[0]; });
    });
    const auto toggle = [&](const QString& label, const QString& on, const QString& off, bool scene::Piece::*flag) {
        SlotButton* button = slot(where, label, shown_.*flag ? on : off, SlotButton::Kind::offer);
        connect(button, &SlotButton::clicked, this,
                [this, flag] { edit(tr("Change %1"), [flag](scene::Piece& piece) { piece.*flag = !(piece.*flag); }); });
    };
    toggle(QStringLiteral("shown"), tr("shown"), tr("hidden"), &scene::Piece::shown);
    toggle(QStringLiteral("enabled"), tr("enabled"), tr("disabled"), &scene::Piece::enabled);
    word(where, tr("layer"), true);
    SlotButton* layer = slot(where, QStringLiteral("layer"), QString::number(shown_.layer),
                             shown_.layer == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(layer, &SlotButton::clicked, this, [this, layer] {
        editNumbers(layer, tr("Layer: drawn over lower ones"), QString::number(shown_.layer), 1, -1e6, false,
                    tr("Change the layer of %1"), [](scene::Piece& piece, const std::vector<double>& n) {
                        piece.layer = static_cast<int>(std::lround(std::min(n[0], 1e6)));
                    });
    });
    column->addLayout(where);
}

/// What the pointer does with it, and whether it lies on the glass.
void PieceCard::buildPointer(QVBoxLayout* column)
{
    auto* line = new FlowLayout{nullptr, 6};
    word(line, tr("lies"), true);
    SlotButton* pinned = slot(line, QStringLiteral("pinned"), shown_.pinned ? tr("on the glass") : tr("in the scene"),
                              shown_.pinned ? SlotButton::Kind::filled : SlotButton::Kind::offer);
    pinned->setToolTip(tr("Pinned to the glass, it stays in its place of the view and meets only the pointer"));
    connect(pinned, &SlotButton::clicked, this, [this] {
        // It stays where it is seen.
        const geometry::Vec corner = viewFrame(document_.scene(), stage_.record(), 0).low;
        edit(tr("Pin or unpin %1"), [corner](scene::Piece& piece) {
            piece.pinned = !piece.pinned;
            piece.at += piece.pinned ? -corner : corner;
            piece.at = {std::round(piece.at.x * 1000) / 1000, std::round(piece.at.y * 1000) / 1000};
            if (!piece.pinned)
                piece.fill.reset();
        });
    });
    if (shown_.pinned) {
        const QString now = shown_.fill ? toText(scene::wordOf(*shown_.fill)) : tr("as drawn");
        SlotButton* fill =
            slot(line, QStringLiteral("fill"), now, shown_.fill ? SlotButton::Kind::filled : SlotButton::Kind::offer);
        fill->setToolTip(tr("How it fills the view"));
        connect(fill, &SlotButton::clicked, this, [this, fill] {
            Question question;
            question.title = tr("How it fills the view");
            question.choices.push_back({QStringLiteral("none"), tr("as drawn"), {}, {}});
            for (const auto& entry : scene::wordsOf<scene::Fill>)
                question.choices.push_back({toText(entry.word), {}, toText(entry.about), {}});
            SlotPopup::ask(fill, question, [this](const QStringList& answer) {
                edit(tr("Change how %1 fills the view"), [&](scene::Piece& piece) {
                    piece.fill.reset();
                    for (const auto& entry : scene::wordsOf<scene::Fill>)
                        if (toText(entry.word) == answer.front())
                            piece.fill = entry.value;
                });
            });
        });
    }
    word(line, tr("the pointer"), true);
    const auto toggle = [&](const QString& label, const QString& on, const QString& off, bool scene::Piece::*flag) {
        SlotButton* button = slot(line, label, shown_.*flag ? on : off,
                                  shown_.*flag ? SlotButton::Kind::filled : SlotButton::Kind::offer);
        connect(button, &SlotButton::clicked, this,
                [this, flag] { edit(tr("Change %1"), [flag](scene::Piece& piece) { piece.*flag = !(piece.*flag); }); });
    };
    toggle(QStringLiteral("through"), tr("goes through it"), tr("meets it"), &scene::Piece::through);
    toggle(QStringLiteral("draggable"), tr("drags it along"), tr("leaves it in place"), &scene::Piece::draggable);
    column->addLayout(line);
}

void PieceCard::buildMore(QVBoxLayout* column)
{
    auto* own = new FlowLayout{nullptr, 6};
    buildValues(own, {&scene::Piece::properties, nullptr});
    word(own, tr("picture"), true);
    SlotButton* picture = slot(own, QStringLiteral("picture"),
                               shown_.look.image.empty() ? QStringLiteral("+") : toText(shown_.look.image),
                               shown_.look.image.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(picture, &SlotButton::clicked, this, [this, picture] {
        Question question;
        question.title = tr("Picture beside the scene, PNG or SVG");
        question.choices = pictureChoices(document_, false);
        question.choices.insert(question.choices.begin(), {QStringLiteral("*"), tr("no picture"), {}, tr("none off")});
        SlotPopup::ask(picture, question, [this](const QStringList& answer) {
            edit(tr("Change the picture of %1"), [&](scene::Piece& piece) {
                piece.look.image = answer.front() == QLatin1String("*") ? std::string() : answer.front().toStdString();
            });
        });
    });
    word(own, tr("words"), true);
    SlotButton* label =
        slot(own, QStringLiteral("label"), shown_.look.label.empty() ? QStringLiteral("+") : toText(shown_.look.label),
             shown_.look.label.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(label, &SlotButton::clicked, this, [this, label] {
        Question question;
        question.title = tr("Words on it; {self.load} or {tide-height.value} show a value");
        question.freeText = true;
        question.typed = toText(shown_.look.label);
        SlotPopup::ask(label, question, [this](const QStringList& answer) {
            edit(tr("Change the words on %1"),
                 [&](scene::Piece& piece) { piece.look.label = answer.front().toStdString(); });
        });
    });
    word(own, tr("gauge"), true);
    const auto& gauge = shown_.look.gauge;
    SlotButton* level = slot(own, QStringLiteral("gauge"),
                             gauge ? tr("%1 from %2 to %3").arg(toText(gauge->of)).arg(gauge->low).arg(gauge->high)
                                   : QStringLiteral("+"),
                             gauge ? SlotButton::Kind::filled : SlotButton::Kind::offer);
    connect(level, &SlotButton::clicked, this, [this, level] { editGauge(level); });
    SlotButton* shape = slot(own, QStringLiteral("add shape"), tr("+ shape"), SlotButton::Kind::offer);
    connect(shape, &SlotButton::clicked, this, [this, shape] { offerShape(shape); });
    column->addLayout(own);
}

/// A number that fills it as a level: "tide-height.value 0 3".
void PieceCard::editGauge(QWidget* anchor)
{
    const auto parts = [](const QString& typed) { return typed.simplified().split(QLatin1Char(' ')); };
    Question question;
    question.title = tr("A number, and where it is empty and full; leave empty for none");
    question.placeholder = QStringLiteral("tide-height.value 0 3");
    question.freeText = true;
    if (const auto& gauge = shown_.look.gauge)
        question.typed = QStringLiteral("%1 %2 %3").arg(toText(gauge->of)).arg(gauge->low).arg(gauge->high);
    for (const scene::Source& source : document_.scene().sources)
        if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
            question.choices.push_back(
                {QStringLiteral("%1.value %2 %3").arg(toText(source.id)).arg(dial->low).arg(dial->high),
                 toText(source.id),
                 tr("a dial"),
                 {}});
    question.check = [parts](const QStringList& answer) {
        if (answer.front().trimmed().isEmpty())
            return QString();
        const QStringList given = parts(answer.front());
        bool low = false;
        bool high = false;
        if (given.size() == 3 && given[0].contains(QLatin1Char('.')))
            return given[1].toDouble(&low) != given[2].toDouble(&high) && low && high
                       ? QString()
                       : tr("Two different numbers: where it is empty and where it is full");
        return tr("A path and two numbers, such as tide-height.value 0 3");
    };
    SlotPopup::ask(anchor, question, [this, parts](const QStringList& answer) {
        edit(tr("Change the gauge of %1"), [&](scene::Piece& piece) {
            piece.look.gauge.reset();
            if (const QStringList given = parts(answer.front()); given.size() == 3)
                piece.look.gauge = scene::Gauge{given[0].toStdString(), given[1].toDouble(), given[2].toDouble()};
        });
    });
}

void PieceCard::editNumbers(QWidget* anchor, const QString& title, const QString& typed, int count, double lowest,
                            bool lowestOpen, const QString& step,
                            const std::function<void(scene::Piece&, const std::vector<double>&)>& set)
{
    Question question;
    question.title = title;
    question.freeText = true;
    question.typed = typed;
    question.check = [count, lowest, lowestOpen](const QStringList& answer) {
        const auto numbers = numbersIn(answer.front(), count);
        if (!numbers)
            return tr("%1, please").arg(counted(static_cast<std::size_t>(count), tr("number"), tr("numbers")));
        for (const double number : *numbers)
            if (number < lowest || (lowestOpen && number <= lowest) || number > 1e9)
                return lowestOpen ? tr("Above %1, please").arg(lowest) : tr("At least %1, please").arg(lowest);
        return QString();
    };
    SlotPopup::ask(anchor, question, [this, count, step, set](const QStringList& answer) {
        edit(step, [&](scene::Piece& piece) { set(piece, *numbersIn(answer.front(), count)); });
    });
}

void PieceCard::refreshInside()
{
    if (!inside_)
        return;
    const sim::Record& record = stage_.record();
    // The phase that it is in at the cursor stands out.
    const auto found = std::ranges::find(record.pieces, shown_.id, &sim::RunPiece::id);
    if (found != record.pieces.end() && !phaseSlots_.empty()) {
        const std::string now =
            sim::phaseAt(record, static_cast<world::PieceIndex>(found - record.pieces.begin()), stage_.cursor());
        for (const auto& [phase, button] : phaseSlots_)
            button->setText((phase == now ? QStringLiteral("● ") : QString()) + toText(phase));
    }
    QStringList names;
    for (const sim::Insider& entry : sim::insidersAt(record, stage_.cursor())) {
        const sim::ShapeName& shape = record.shapeNames[static_cast<std::size_t>(entry.shape)];
        if (record.nameOf(shape.piece) == shown_.id && !names.contains(toText(record.nameOf(entry.visitor))))
            names << toText(record.nameOf(entry.visitor));
    }
    inside_->setText(QStringLiteral("<span style='color:%1'>%2</span>&nbsp; %3")
                         .arg(theme().inkSoft.name(), tr("touching now"),
                              names.isEmpty() ? tr("nobody") : names.join(QStringLiteral(", ")).toHtmlEscaped()));
}

} // namespace snare::app
