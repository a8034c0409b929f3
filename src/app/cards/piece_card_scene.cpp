// SPDX-License-Identifier: Apache-2.0
/// The card of the scene, which stands where the card of a piece does while nothing is selected:
/// its settings, start values, phases, kits and view; and values, which pieces have too.
#include "app/cards/piece_card.h"
#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"
#include "scene/mentions.h"

#include <QLabel>
#include <QVBoxLayout>

namespace snare::app {

namespace {

/// The row that begins with a setting; empty if it stands in the row before it.
QString rowOf(std::string_view key)
{
    return key == "view"      ? QObject::tr("seen")
           : key == "rate"    ? QObject::tr("runs")
           : key == "gravity" ? QObject::tr("world")
                              : QString();
}

/// How a setting is called on the card; empty if its value says it.
QString labelOf(std::string_view key)
{
    if (key == "view")
        return {};
    return key == "rate" ? QObject::tr("ticks") : toText(key);
}

/// What stands in the slot of a setting that is left out.
QString unsetText(std::string_view key)
{
    return key == "gravity" ? QObject::tr("by the view") : QStringLiteral("+");
}

bool isOnCard(const io::FieldView& field)
{
    return field.key != "name" && field.key != "dragStart" && field.key != "$schema"; // they have places of their own
}

} // namespace

/// All that this card says of the scene, to tell whether it must be built anew.
std::vector<std::string> PieceCard::sceneAsShown() const
{
    const scene::Scene& scene = document_.scene();
    std::vector<std::string> shown;
    for (const io::FieldView& field : io::fieldsOf(scene))
        shown.push_back(field.json);
    shown.push_back(valuesText(scene.variables).toStdString());
    shown.push_back(pair(scene.camera.at).toStdString() + ' ' + std::to_string(scene.camera.height) + ' ' +
                    scene.camera.follow);
    for (const auto* list : {&scene.phases, &scene.kits, &scene.outgoing}) {
        shown.insert(shown.end(), list->begin(), list->end());
        shown.emplace_back();
    }
    if (scene.loaded.list)
        for (const scene::LoadedKit& kit : *scene.loaded.list)
            shown.push_back(kit.problem + std::to_string(kit.kit.routines.entries.size()));
    return shown;
}

void PieceCard::buildSceneName(QVBoxLayout* column)
{
    auto* name = new SlotButton{document_.title(), SlotButton::Kind::offer, body()};
    name->setObjectName(QStringLiteral("scene name"));
    name->setFont(textFont(1, true));
    name->setToolTip(tr("Name the scene"));
    mark(name, "scene", "name");
    connect(name, &SlotButton::clicked, this, [this, name] { editSetting("name", name); });
    column->addWidget(name);
}

/// How it is seen, gravity, bounds, ticks a second and seed.
void PieceCard::buildSettings(QVBoxLayout* column)
{
    FlowLayout* line = nullptr;
    for (const io::FieldView& field : io::fieldsOf(document_.scene())) {
        if (!isOnCard(field))
            continue;
        const std::string key{field.key};
        if (const QString label = rowOf(key); !label.isEmpty())
            line = row(column, label);
        if (const QString label = labelOf(key); !label.isEmpty())
            word(line, label, true);
        const bool given = field.json != "null";
        SlotButton* button =
            slot(line, QStringLiteral("scene ") + toText(key), given ? slotText(field) : unsetText(key),
                 field.set ? SlotButton::Kind::filled : SlotButton::Kind::offer);
        button->setToolTip(toText(field.about));
        mark(button, "scene", key);
        connect(button, &SlotButton::clicked, this, [this, key, button] { editSetting(key, button); });
    }
}

void PieceCard::editSetting(const std::string& key, QWidget* anchor)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(document_.scene());
    const auto field = std::ranges::find(fields, key, &io::FieldView::key);
    if (field == fields.end())
        return;
    Question question = questionFor(*field, document_.scene(), nullptr);
    question.check = [view = *field](const QStringList& answer) {
        scene::Scene trial;
        const auto wrong = io::setField(trial, view.key, jsonFrom(view, answer));
        if (wrong)
            return toText(*wrong);
        if (trial.bounds && ((*trial.bounds)[0] >= (*trial.bounds)[2] || (*trial.bounds)[1] >= (*trial.bounds)[3]))
            return tr("Left, bottom, right, top: the right above the left, the top above the bottom");
        return QString();
    };
    SlotPopup::ask(anchor, question, [this, view = *field](const QStringList& answer) {
        const std::string json = jsonFrom(view, answer);
        document_.edit(tr("Change the %1 of the scene").arg(toText(view.key)),
                       [&](scene::Scene& scene) { io::setField(scene, view.key, json); });
    });
}

// --- values --------------------------------------------------------------------------------------------------------

void PieceCard::buildValues(FlowLayout* line, ValuesOf of)
{
    const scene::Named<scene::Scalar>& values = of.piece ? shown_.*of.piece : document_.scene().*of.scene;
    for (const auto& [name, value] : values.entries) {
        SlotButton* button =
            slot(line, QStringLiteral("value ") + toText(name), tr("%1 = %2").arg(toText(name), literalText(value)));
        of.piece ? mark(button, "piece", "properties") : mark(button, "scene", "variables");
        connect(button, &SlotButton::clicked, this, [this, of, key = name, button] { editValues(of, key, button); });
    }
    SlotButton* add = slot(line, QStringLiteral("properties"),
                           values.entries.empty() ? tr("+ value") : QStringLiteral("+"), SlotButton::Kind::offer);
    add->setToolTip(of.piece ? tr("Give it a value of its own") : tr("Give the scene a variable"));
    connect(add, &SlotButton::clicked, this, [this, of, add] { editValues(of, {}, add); });
}

/// One value, or with no name: more of them.
void PieceCard::editValues(ValuesOf of, const std::string& name, QWidget* anchor)
{
    const scene::Named<scene::Scalar>& values = of.piece ? shown_.*of.piece : document_.scene().*of.scene;
    Question question;
    question.title = name.empty() ? tr("Name = number, true, false or text; more with commas between")
                                  : tr("Value %1 at the start; empty takes it away. Another name: %2 will follow")
                                        .arg(toText(name),
                                             counted(scene::countMentions(document_.scene(), scene::Thing::value, name),
                                                     tr("mention"), tr("mentions")));
    question.placeholder = QStringLiteral("load = 3");
    question.freeText = true;
    if (const scene::Scalar* value = values.find(name))
        question.typed = toText(name) + QStringLiteral(" = ") + literalText(*value);
    question.wrongAt = valuesFaultAt;
    question.check = [this, of, name](const QStringList& answer) {
        const auto given = valuesFrom(answer.front());
        if (!given)
            return tr("Name = value, with commas between");
        for (const auto& entry : given->entries)
            if (of.piece ? scene::isBuiltInOfPiece(entry.first) : scene::isBuiltInOfScene(entry.first))
                return tr("%1 is built in: take another name").arg(toText(entry.first));
        if (!name.empty() && given->entries.size() > 1)
            return tr("One name and its value");
        if (!name.empty() && given->entries.size() == 1)
            if (const auto wrong =
                    scene::refuseName(document_.scene(), scene::Thing::value, name, given->entries.front().first))
                return toText(*wrong);
        return QString();
    };
    if (!name.empty())
        offerUses(question, anchor, document_, scene::Thing::value, name);
    SlotPopup::ask(anchor, question, [this, of, before = name](const QStringList& answer) {
        const auto given = valuesFrom(answer.front());
        if (!given)
            return;
        std::string key = before;
        const int gesture = document_.newGesture(); // another name and another value are one step
        if (!key.empty() && given->entries.size() == 1 && given->entries.front().first != key) {
            document_.rename(scene::Thing::value, key, given->entries.front().first, gesture);
            key = given->entries.front().first;
        }
        const auto change = [&](scene::Named<scene::Scalar>& all) {
            const auto old = std::ranges::find(all.entries, key, &std::pair<std::string, scene::Scalar>::first);
            if (key.empty() || old == all.entries.end()) {
                for (const auto& entry : given->entries)
                    all.set(entry.first, entry.second);
            } else if (given->entries.empty()) {
                all.entries.erase(old);
            } else {
                old->second = given->entries.front().second;
            }
        };
        if (of.piece)
            edit(
                tr("Change values of %1"), [&](scene::Piece& piece) { change(piece.*of.piece); }, gesture);
        else
            document_.edit(
                tr("Change start values of the scene"), [&](scene::Scene& scene) { change(scene.*of.scene); }, gesture);
    });
}

// --- view, phases and kits -----------------------------------------------------------------------------------------

/// What the view shows, and when a drag begins.
void PieceCard::buildSceneView(QVBoxLayout* column)
{
    const scene::Scene& scene = document_.scene();
    const auto placeOf = [](SlotButton* button, std::string_view kind, std::string_view key) {
        mark(button, kind, key);
        return button;
    };
    const auto askNumbers = [this](SlotButton* button, const QString& title, const QString& typed, int count,
                                   const QString& step, auto set) {
        connect(button, &SlotButton::clicked, this, [this, button, title, typed, count, step, set] {
            Question question;
            question.title = title;
            question.freeText = true;
            question.typed = typed;
            question.check = [count, set](const QStringList& answer) {
                const auto numbers = numbersIn(answer.front(), count);
                scene::Scene trial;
                return numbers && set(trial, *numbers) ? QString()
                                                       : QObject::tr("%n number(s) in range", nullptr, count);
            };
            SlotPopup::ask(button, question, [this, count, step, set](const QStringList& answer) {
                document_.edit(step, [&](scene::Scene& changed) { set(changed, *numbersIn(answer.front(), count)); });
            });
        });
    };
    using Numbers = std::vector<double>;
    auto* line = row(column, tr("view"));
    word(line, tr("is"), true);
    SlotButton* high =
        slot(line, QStringLiteral("camera height"), numberText(scene.camera.height, scene::Unit::metres));
    mark(high, "scene", "camera");
    askNumbers(placeOf(high, "camera", "height"), tr("Height of the view, m; it is 1.6 times as wide"),
               figure(scene.camera.height), 1, tr("Change the view"), [](scene::Scene& changed, const Numbers& n) {
                   changed.camera.height = n[0];
                   return n[0] > 0;
               });
    word(line, tr("high around"), true);
    const QString middle = pair(scene.camera.at);
    askNumbers(placeOf(slot(line, QStringLiteral("camera at"), middle), "camera", "at"),
               tr("Middle of the view: x, y in m"), middle, 2, tr("Change the view"),
               [](scene::Scene& changed, const Numbers& n) {
                   changed.camera.at = {n[0], n[1]};
                   return true;
               });
    SlotButton* follow = slot(line, QStringLiteral("camera follow"),
                              scene.camera.follow.empty() ? tr("following nothing")
                                                          : tr("following %1").arg(toText(scene.camera.follow)),
                              scene.camera.follow.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(follow, "camera", "follow");
    connect(follow, &SlotButton::clicked, this, [this, follow] {
        Question question;
        question.title = tr("Which piece the view follows");
        question.choices = pieceChoices(document_.scene());
        question.choices.insert(question.choices.begin(), {QStringLiteral("*"), tr("nothing"), {}, {}});
        SlotPopup::ask(follow, question, [this](const QStringList& answer) {
            document_.edit(tr("Change what the view follows"), [&](scene::Scene& changed) {
                changed.camera.follow =
                    answer.front() == QLatin1String("*") ? std::string() : answer.front().toStdString();
            });
        });
    });
    auto* more = row(column, tr("pointer"));
    word(more, tr("begins a drag after"), true);
    askNumbers(placeOf(slot(more, QStringLiteral("drag start"), numberText(scene.dragStart, scene::Unit::metres)),
                       "scene", "dragStart"),
               tr("How far the pointer goes before that is a drag, m"), figure(scene.dragStart), 1,
               tr("Change when a drag begins"), [](scene::Scene& changed, const Numbers& n) {
                   changed.dragStart = n[0];
                   return n[0] >= 0;
               });
}

/// Which signals go out.
void PieceCard::buildSceneTells(QVBoxLayout* column)
{
    const scene::Scene& scene = document_.scene();
    auto* line = row(column, tr("tells"));
    word(line, tr("outside the signals"), true);
    SlotButton* outgoing =
        slot(line, QStringLiteral("outgoing"), scene.outgoing.empty() ? QStringLiteral("+") : listed(scene.outgoing),
             scene.outgoing.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(outgoing, "scene", "outgoing");
    outgoing->setToolTip(tr("Sent as OSC messages while recording, if OSC is on (Desk)"));
    connect(outgoing, &SlotButton::clicked, this, [this, outgoing] {
        Question question;
        question.title = tr("Signals that programs outside hear");
        question.many = true;
        for (const std::string& signal : scene::allSignals(document_.scene()))
            question.choices.push_back({toText(signal), {}, {}, {}});
        for (const std::string& signal : document_.scene().outgoing)
            question.chosen << toText(signal);
        SlotPopup::ask(outgoing, question, [this](const QStringList& answer) {
            document_.edit(tr("Change what is told outside"), [&](scene::Scene& changed) {
                changed.outgoing.clear();
                for (const QString& signal : answer)
                    changed.outgoing.push_back(signal.toStdString());
            });
        });
    });
}

/// What only other programs ask of the file.
void PieceCard::buildSceneFile(QVBoxLayout* column)
{
    const std::string& schema = document_.scene().schema;
    auto* line = row(column, tr("its file"));
    word(line, tr("is checked by the schema"), true);
    SlotButton* button =
        slot(line, QStringLiteral("scene schema"), schema.empty() ? QStringLiteral("+") : toText(schema),
             schema.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    button->setToolTip(tr("For text editors: path or address of the JSON Schema; snare schema scene writes it"));
    mark(button, "scene", "$schema");
    connect(button, &SlotButton::clicked, this, [this, button] { editSetting("$schema", button); });
}

/// With nothing selected: the scene's own phases, kits and routines.
void PieceCard::buildScene(QVBoxLayout* column)
{
    const scene::Scene& scene = document_.scene();
    buildSettings(column);
    buildValues(row(column, tr("holds")), {nullptr, &scene::Scene::variables});
    auto* line = row(column, tr("lives"));
    word(line, tr("in phases"), true);
    SlotButton* phases =
        slot(line, QStringLiteral("scene phases"), scene.phases.empty() ? QStringLiteral("+") : listed(scene.phases),
             scene.phases.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(phases, "scene", "phases");
    connect(phases, &SlotButton::clicked, this, [this, phases] {
        SlotPopup::ask(phases,
                       wordsQuestion(tr("Phases of the scene, with commas between; it starts in the first"),
                                     listed(document_.scene().phases)),
                       [this](const QStringList& answer) {
                           document_.edit(tr("Change the phases of the scene"),
                                          [&](scene::Scene& changed) { changed.phases = wordsIn(answer.front()); });
                       });
    });
    word(line, tr("with kits"), true);
    SlotButton* kits = slot(line, QStringLiteral("kits"), scene.kits.empty() ? QStringLiteral("+") : listed(scene.kits),
                            scene.kits.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(kits, "scene", "kits");
    connect(kits, &SlotButton::clicked, this, [this, kits] {
        Question question;
        question.title = tr("Kit files beside the scene, with commas between");
        question.freeText = true;
        question.placeholder = QStringLiteral("harbour.kit.json");
        question.typed = listed(document_.scene().kits);
        SlotPopup::ask(kits, question, [this](const QStringList& answer) {
            document_.edit(tr("Change the kits of the scene"),
                           [&](scene::Scene& changed) { changed.kits = wordsIn(answer.front()); });
        });
    });
    buildSceneView(column);
    buildSceneTells(column);
    buildSceneFile(column);
    if (!scene.loaded.list)
        return;
    for (const scene::LoadedKit& kit : *scene.loaded.list) {
        const bool missing = !kit.problem.empty();
        QStringList parts;
        for (const auto& entry : kit.kit.routines.entries)
            parts << tr("routine %1").arg(toText(entry.first));
        for (const auto& entry : kit.kit.templates.entries)
            parts << tr("template %1").arg(toText(entry.first));
        for (const scene::Snare& snare : kit.kit.snares)
            parts << tr("snare %1").arg(toText(snare.id));
        auto* text = new QLabel{missing ? QStringLiteral("△ ") + toText(kit.problem)
                                        : tr("%1 brings %2").arg(toText(kit.file), parts.join(QStringLiteral(", "))),
                                body()};
        text->setObjectName(missing ? QStringLiteral("problem") : QStringLiteral("kit"));
        text->setTextFormat(Qt::PlainText);
        text->setWordWrap(true);
        colourText(text, missing ? &Theme::coralText : &Theme::inkSoft);
        column->addWidget(text);
    }
}

} // namespace snare::app
