// SPDX-License-Identifier: Apache-2.0
#include "app/cards/piece_card.h"

#include "app/model/take_edit.h"

#include "app/ground/ground_scene.h"
#include "app/model/findings_watch.h"
#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "app/ui/settings.h"
#include "geometry/vec.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/models.h"
#include "scene/templates.h"

#include <QLabel>
#include <QMenu>
#include <QRegularExpression>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

PieceCard::PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : FieldCard(document, parent), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("pieceCard"));
    layout()->setContentsMargins(14, 10, 12, 8);
    connect(&stage_, &Stage::cursorChanged, this, &PieceCard::refreshInside);
    connect(&stage_, &Stage::recordChanged, this, &PieceCard::refreshInside);
    connect(&ThemeWatch::instance(), &ThemeWatch::changed, this, &PieceCard::refreshInside);
    connect(&document_.findings(), &FindingsWatch::changed, this, &PieceCard::refresh);
    refresh();
}

void PieceCard::refresh()
{
    const bool isModel = !selection_.model().empty();
    const scene::Piece* piece =
        scene::modelOrPiece(document_.scene(), isModel ? selection_.model() : selection_.piece());
    scene::Piece next = piece ? *piece : scene::Piece{};
    if (piece && isModel)
        next.id = selection_.model();
    const scene::Template* form = piece ? scene::templateOf(document_.scene(), *piece) : nullptr;
    std::vector<std::string> own = form                     ? scene::ownFields(*piece, form->model)
                                   : piece && piece->partOf ? scene::ownOfPart(document_.scene(), *piece)
                                                            : std::vector<std::string>{};
    std::vector<std::string> ofScene = sceneAsShown();
    std::vector<check::Finding> problems;
    if (piece)
        problems = document_.findings().at(
            isModel ? check::Place{check::Place::Of::form, scene::modelNamed(selection_.model()).owner}
                    : check::Place{check::Place::Of::piece, piece->id});
    const QString places = piece && !isModel ? placesText(document_.take(), piece->id) : QString();
    const bool sameProblems = std::ranges::equal(problems, problems_, {}, &check::Finding::text, &check::Finding::text);
    if (built_ && sameProblems && shownIds_ == selection_.pieces() && next == shown_ &&
        shownTitle_ == document_.title() && own == own_ && ofScene == shownScene_ && places == shownPlaces_)
        return;
    if (next.id != shown_.id) {
        openLook_.clear();
        revealed_ = false;
    }
    shownScene_ = std::move(ofScene);
    shownIds_ = selection_.pieces();
    shownPlaces_ = places;
    shown_ = next;
    own_ = std::move(own);
    problems_ = std::move(problems);
    shownTitle_ = document_.title();
    built_ = true;
    rebuild();
    refreshInside();
}

void PieceCard::edit(const QString& name, const Change& change, int gesture)
{
    document_.edit(
        name.arg(shownName()), [&](scene::Scene& scene) { scene::changeModelOrPiece(scene, shown_.id, change); },
        gesture);
}

/// How what it shows is called: "gate", "template ring", "gate of every lock".
QString PieceCard::shownName() const
{
    const scene::ModelName of = scene::modelNamed(shown_.id);
    switch (of.kind) {
    case scene::ModelName::Kind::form:
        return tr("template %1").arg(toText(of.owner));
    case scene::ModelName::Kind::part:
        return tr("%1 of every %2").arg(toText(of.part), toText(of.owner));
    case scene::ModelName::Kind::piece:
        break;
    }
    return toText(shown_.id);
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
        column->addSpacing(4);
        if (shownIds_.empty())
            buildScene(column);
        return;
    }
    buildName(column);
    buildModel(column);
    buildPart(column);
    buildTemplate(column);
    buildWho(column);
    if (scene::modelNamed(shown_.id).kind != scene::ModelName::Kind::form) // that stands nowhere
        buildPlace(column);
    buildBody(column);
    for (std::size_t i = 0; i < shown_.shapes.size(); ++i)
        buildShape(column, i);
    for (const check::Finding& problem : problems_) {
        auto* wrong = new QLabel{QStringLiteral("△ ") + saidInPlace(problem), body()};
        wrong->setObjectName(QStringLiteral("problem"));
        wrong->setTextFormat(Qt::PlainText);
        wrong->setWordWrap(true);
        wrong->setToolTip(toText(check::rowOf(problem.id).why));
        colourText(wrong, &Theme::coralText);
        column->addWidget(wrong);
        if (!problem.fix)
            continue;
        auto* fix = new SlotButton{toText(problem.fix->text), SlotButton::Kind::offer, body()};
        fix->setObjectName(QStringLiteral("fix ") + toText(problem.id));
        connect(fix, &SlotButton::clicked, this, [this, problem] { document_.findings().fix(problem); });
        column->addWidget(fix, 0, Qt::AlignLeft);
    }
    buildLooks(column);
    buildPointer(column);
    buildHolds(column);
    buildModes(column);
    buildFoot(column);
}

bool PieceCard::showsAll() const
{
    return revealed_ || Settings::instance().showsAll();
}

/// Who is inside now, and what hides the facts that are as usual.
void PieceCard::buildFoot(QVBoxLayout* column)
{
    auto* line = new QHBoxLayout;
    inside_ = new QLabel{body()};
    inside_->setObjectName(QStringLiteral("insideNow"));
    inside_->setWordWrap(true);
    line->addWidget(inside_, 1);
    auto* shape = new SlotButton{tr("+ shape"), SlotButton::Kind::offer, body()};
    shape->setObjectName(QStringLiteral("add shape"));
    connect(shape, &SlotButton::clicked, this, [this, shape] { offerShape(shape); });
    line->addWidget(shape);
    auto* more = new SlotButton{showsAll() ? tr("less") : tr("more…"), SlotButton::Kind::offer, body()};
    more->setObjectName(QStringLiteral("more"));
    more->setToolTip(showsAll() ? tr("Only what is not as usual")
                                : tr("Height, turn, layer, hidden, pointer, glass, phases, timers, lifetime"));
    connect(more, &SlotButton::clicked, this, [this] {
        Settings::instance().setShowsAll(!showsAll());
        revealed_ = false;
        built_ = false;
        refresh();
    });
    line->addWidget(more);
    column->addLayout(line);
}

void PieceCard::buildName(QVBoxLayout* column)
{
    auto* name = new SlotButton{shownName(), SlotButton::Kind::offer, body()};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(1, true));
    name->setToolTip(tr("Rename"));
    mark(name, "piece", "id");
    connect(name, &SlotButton::clicked, this, [this, name] {
        const scene::ModelName of = scene::modelNamed(shown_.id);
        if (of.kind == scene::ModelName::Kind::form)
            return askForName(name, document_, scene::Thing::form, of.owner,
                              [this](const std::string& to) { selection_.chooseModel("template:" + to); });
        if (of.kind == scene::ModelName::Kind::part)
            return renamePart(name);
        askForName(name, document_, scene::Thing::piece, shown_.id,
                   [this](const std::string& to) { selection_.choosePiece(to, selection_.shape()); });
    });
    column->addWidget(name);
}

void PieceCard::buildWho(QVBoxLayout* column)
{
    auto* who = row(column, tr("is"));
    word(who, tr("in group"), true);
    SlotButton* group = slot(who, QStringLiteral("group"), toText(shown_.group));
    mark(group, "piece", "group");
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
    const bool mayFollow = shown_.templateName.empty() && !shown_.partOf &&
                           scene::modelNamed(shown_.id).kind == scene::ModelName::Kind::piece &&
                           !scene::allShared(document_.scene(), scene::Thing::form).empty();
    word(who, tr("tagged"), true);
    SlotButton* tags =
        slot(who, QStringLiteral("tags"), shown_.tags.empty() ? QStringLiteral("+") : listed(shown_.tags),
             shown_.tags.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(tags, "piece", "tags");
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
    if (!mayFollow)
        return;
    SlotButton* follow = slot(who, QStringLiteral("follow"), tr("+ template"), SlotButton::Kind::offer);
    follow->setToolTip(tr("Let it follow a template; what differs stays its own"));
    connect(follow, &SlotButton::clicked, this, [this, follow] {
        Question question;
        question.title = tr("Which template %1 follows; what differs stays its own").arg(toText(shown_.id));
        for (const std::string& name : scene::allShared(document_.scene(), scene::Thing::form))
            question.choices.push_back({toText(name), {}, {}, {}});
        SlotPopup::ask(follow, question, [this](const QStringList& answer) {
            document_.edit(tr("Let %1 follow %2").arg(toText(shown_.id), answer.front()),
                           [&](scene::Scene& scene) { scene::join(scene, shown_.id, answer.front().toStdString()); });
        });
    });
}

void PieceCard::buildPlace(QVBoxLayout* column)
{
    auto* where = row(column, tr("stands"));
    word(where, tr("at"), true);
    SlotButton* at = slot(where, QStringLiteral("at"), tr("%1 m").arg(pair(shown_.at)));
    mark(at, "piece", "at");
    connect(at, &SlotButton::clicked, this, [this, at] {
        editNumbers(at, tr("Place: x, y in m"), pair(shown_.at), 2, -1e9, false, tr("Move %1"),
                    [](scene::Piece& piece, const std::vector<double>& n) {
                        piece.at = {n[0], n[1]};
                    });
    });
    if (shown_.z != 0 || showsAll()) {
        word(where, tr("height"), true);
        SlotButton* height = slot(where, QStringLiteral("height"), numberText(shown_.z, scene::Unit::metres),
                                  shown_.z == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
        connect(height, &SlotButton::clicked, this, [this, height] {
            editNumbers(height, tr("Height over the plan, m"), figure(shown_.z), 1, -1e9, false, tr("Raise %1"),
                        [](scene::Piece& piece, const std::vector<double>& n) { piece.z = n[0]; });
        });
    }
    if (shown_.turn != 0 || showsAll()) {
        word(where, tr("turned"), true);
        SlotButton* turn = slot(where, QStringLiteral("turn"), numberText(shown_.turn, scene::Unit::degrees),
                                shown_.turn == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
        mark(turn, "piece", "turn");
        connect(turn, &SlotButton::clicked, this, [this, turn] {
            editNumbers(turn, tr("Turned, degrees counter-clockwise"), figure(shown_.turn), 1, -1e9, false,
                        tr("Turn %1"), [](scene::Piece& piece, const std::vector<double>& n) { piece.turn = n[0]; });
        });
    }
    if (shown_.layer != 0 || showsAll()) {
        word(where, tr("layer"), true);
        SlotButton* layer = slot(where, QStringLiteral("layer"), QString::number(shown_.layer),
                                 shown_.layer == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
        mark(layer, "piece", "layer");
        connect(layer, &SlotButton::clicked, this, [this, layer] {
            editNumbers(layer, tr("Layer: drawn over lower ones"), QString::number(shown_.layer), 1, -1e6, false,
                        tr("Change the layer of %1"), [](scene::Piece& piece, const std::vector<double>& n) {
                            piece.layer = static_cast<int>(std::lround(std::min(n[0], 1e6)));
                        });
        });
    }
    flag(where, "shown", tr("shown"), tr("hidden"), &scene::Piece::shown);
    flag(where, "enabled", tr("enabled"), tr("disabled"), &scene::Piece::enabled);
}

/// A fact that is true or false: shown where it is not as usual, or where all is shown.
void PieceCard::flag(FlowLayout* line, const char* key, const QString& on, const QString& off,
                     bool scene::Piece::*member)
{
    static const scene::Piece usual;
    const bool isUsual = shown_.*member == usual.*member;
    if (isUsual && !showsAll())
        return;
    SlotButton* button = slot(line, toText(std::string_view{key}), shown_.*member ? on : off,
                              isUsual ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(button, "piece", key);
    connect(button, &SlotButton::clicked, this, [this, member] {
        edit(tr("Change %1"), [member](scene::Piece& piece) { piece.*member = !(piece.*member); });
    });
}

/// What the pointer does with it, and whether it lies on the glass.
void PieceCard::buildPointer(QVBoxLayout* column)
{
    if (!shown_.pinned && !shown_.through && !shown_.draggable && !showsAll())
        return;
    auto* line = row(column, tr("pointer"));
    SlotButton* pinned =
        slot(line, QStringLiteral("pinned"), shown_.pinned ? tr("meets it on the glass") : tr("meets it in the scene"),
             shown_.pinned ? SlotButton::Kind::filled : SlotButton::Kind::offer);
    mark(pinned, "piece", "pinned");
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
        mark(fill, "piece", "fill");
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
    flag(line, "through", tr("goes through it"), tr("does not go through it"), &scene::Piece::through);
    flag(line, "draggable", tr("drags it along"), tr("leaves it in place"), &scene::Piece::draggable);
}

void PieceCard::buildHolds(QVBoxLayout* column)
{
    if (shown_.properties.entries.empty() && !showsAll())
        return;
    buildValues(row(column, tr("holds")), {&scene::Piece::properties, nullptr});
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

/// Opened with nothing selected.
std::vector<CardField> PieceCard::fieldsOfScene() const
{
    std::vector<CardField> fields;
    for (const io::FieldView& field : io::fieldsOf(document_.scene()))
        fields.push_back({field.key == "dragStart" ? QStringLiteral("drag start")
                          : field.key == "name"    ? QStringLiteral("scene name")
                                                   : QStringLiteral("scene ") + toText(field.key),
                          tr("%1 of the scene").arg(spoken(field.key)), toText(field.about)});
    fields.push_back({QStringLiteral("scene phases"), tr("phases of the scene"), tr("modes of the whole scene")});
    if (shown_.id.empty())
        fields.push_back({QStringLiteral("properties"), tr("values of the scene"), tr("variables at the start")});
    fields.push_back({QStringLiteral("camera height"), tr("view of the scene"), tr("camera zoom")});
    fields.push_back({QStringLiteral("camera follow"), tr("whom the view follows"), tr("camera")});
    return fields;
}

std::vector<CardField> PieceCard::fields() const
{
    std::vector<CardField> fields = fieldsOfScene();
    if (shown_.id.empty())
        return fields;
    const QString of = toText(shown_.id);
    const auto add = [&](const char* slot, const QString& text, const QString& about) {
        fields.push_back({QString::fromLatin1(slot), tr("%1 of %2").arg(text, of), about});
    };
    add("at", tr("place"), tr("position x y"));
    add("height", tr("height"), tr("over the plan"));
    add("turn", tr("turn"), tr("angle rotation"));
    add("layer", tr("layer"), tr("drawn over lower ones"));
    add("shown", tr("shown"), tr("hidden visible"));
    add("enabled", tr("enabled"), tr("disabled takes part in meetings"));
    add("group", tr("group"), tr("what it stops and senses"));
    add("tags", tr("tags"), tr("words for filters"));
    add("body", tr("body"), tr("how it moves: static kinematic dynamic walker"));
    add("pinned", tr("glass"), tr("pinned to the view"));
    add("through", tr("pointer"), tr("the pointer goes through it"));
    add("draggable", tr("dragging"), tr("follows the pointer that drags it"));
    add("properties", tr("values"), tr("properties of its own"));
    add("phases", tr("phases"), tr("modes states"));
    add("timer", tr("timer"), tr("elapses for this piece"));
    add("lifetime", tr("lifetime"), tr("removed after"));
    add("during", tr("presence"), tr("only in phases of the scene"));
    add("outside", tr("outside the bounds"), tr("removed wrapped stopped"));
    add("add shape", tr("another shape"), tr("circle box capsule polygon line traced"));
    for (const io::FieldView& field : io::fieldsOf(shown_.body))
        if (field.key != "steer" && field.key != "route")
            fields.push_back({QStringLiteral("body ") + toText(field.key), tr("%1 of %2").arg(spoken(field.key), of),
                              toText(field.about)});
    for (const io::FieldView& field : io::fieldsOf(shown_.look))
        fields.push_back({QStringLiteral("look ") + toText(field.key), tr("%1 of %2").arg(spoken(field.key), of),
                          toText(field.about)});
    for (std::size_t i = 0; i < shown_.shapes.size(); ++i) {
        const QString shape =
            shown_.shapes.size() == 1 ? of : tr("shape %1 of %2").arg(toText(scene::shapeName(shown_, i)), of);
        const auto ofShape = [&](const char* key, const QString& text, const QString& about) {
            fields.push_back({QStringLiteral("shape %1 %2").arg(i).arg(QString::fromLatin1(key)),
                              tr("%1 of %2").arg(text, shape), about});
        };
        ofShape("size", tr("size"), tr("width height radius"));
        ofShape("role", tr("role"), tr("solid or zone"));
        ofShape("offset", tr("offset"), tr("from the piece"));
        ofShape("band", tr("heights"), tr("lowest and highest"));
        if (shown_.shapes[i].role == scene::Role::zone) {
            ofShape("margin", tr("margin"), tr("left only when this far away"));
        } else {
            ofShape("friction", tr("friction"), tr("grip slide"));
            ofShape("bounce", tr("bounce"), tr("spring rebound"));
        }
    }
    return fields;
}

void PieceCard::openField(const QString& slot)
{
    const auto click = [&] {
        auto* button = findChild<SlotButton*>(slot);
        if (button)
            button->click();
        return button != nullptr;
    };
    const std::vector<CardField> ofScene = fieldsOfScene();
    if (std::ranges::find(ofScene, slot, &CardField::slot) != ofScene.end())
        selection_.clear();
    if (click())
        return;
    if (!std::exchange(revealed_, true)) {
        built_ = false;
        refresh();
    }
    if (click() || shown_.id.empty())
        return;
    QWidget* anchor = findChild<QWidget*>(QStringLiteral("name"));
    if (slot.startsWith(QLatin1String("body ")))
        return askField(bodyFields(), slot.mid(5).toStdString(), anchor);
    if (slot.startsWith(QLatin1String("look ")))
        return askField(lookFields(document_, lookCalled(openLook_)), slot.mid(5).toStdString(), anchor);
    if (slot == QLatin1String("phases"))
        return editPhases(anchor);
    if (slot == QLatin1String("timer"))
        return askTimerName(shown_.timers.size(), anchor);
    const QStringList words = slot.split(QLatin1Char(' '));
    if (words.size() == 3 && words[0] == QLatin1String("shape")) {
        const std::size_t index = words[1].toULong();
        if (words[2] == QLatin1String("friction") || words[2] == QLatin1String("bounce"))
            editSurface(index, words[2] == QLatin1String("friction"), anchor);
        else if (words[2] == QLatin1String("band"))
            editBand(index, anchor);
        else if (words[2] == QLatin1String("margin"))
            editMargin(index, anchor);
        else if (words[2] == QLatin1String("offset"))
            editOffset(index, anchor);
        return;
    }
    editMode(slot, anchor);
}

} // namespace snare::app
