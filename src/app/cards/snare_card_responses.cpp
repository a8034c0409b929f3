// SPDX-License-Identifier: Apache-2.0
/// The responses of a snare card: numbered lines of slots, dragged to reorder.
#include "app/cards/look_editor.h"
#include "app/cards/snare_card.h"
#include "app/slots/choices.h"
#include "app/slots/files_beside.h"
#include "app/slots/naming.h"
#include "app/slots/script_editor.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"
#include "io/field_access.h"
#include "io/json.h"
#include "scene/kits.h"

#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPointer>
#include <QVBoxLayout>
#include <nlohmann/json.hpp>

namespace snare::app {

namespace {

/// The conditions of one response.
auto conditionsOf(std::size_t index)
{
    return [index](scene::Snare& snare) -> std::vector<scene::Condition>* {
        return index < snare.responses.size() ? &snare.responses[index].onlyIf : nullptr;
    };
}

} // namespace

void SnareCard::buildResponse(QVBoxLayout* layout, std::size_t index)
{
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    auto* number = new SlotButton{QString::number(index + 1), SlotButton::Kind::action, body()};
    number->setObjectName(QStringLiteral("response %1").arg(index + 1));
    number->setAccessibleName(tr("response %1: move or remove").arg(index + 1));
    number->setFixedWidth(22);
    number->setToolTip(tr("Drag to reorder; click to move or remove"));
    number->installEventFilter(this);
    number->setCursor(Qt::OpenHandCursor);
    numbers_.push_back(number);
    connect(number, &SlotButton::clicked, this, [this, index, number] {
        if (!std::exchange(dragging_, false))
            responseMenu(index, number);
    });
    row->addWidget(number, 0, Qt::AlignTop);
    auto* line = new FlowLayout{nullptr};
    buildResponseSlots(line, index);
    line->giveHelp(QStringLiteral("responses#") + toText(scene::wordOfResponse(shown_.responses[index].kind).key));
    row->addLayout(line, 1);
    const bool isUnused = std::ranges::find(unusedSteps_, static_cast<int>(index)) != unusedSteps_.end();
    if (isUnused && !isUnused_) {
        auto* never = new QLabel{tr("never done"), body()};
        never->setObjectName(QStringLiteral("unused %1").arg(index + 1));
        never->setToolTip(tr("No take has come to this step, or its conditions did not hold"));
        never->setFont(textFont(-1));
        colourText(never, &Theme::inkSoft);
        row->addWidget(never, 0, Qt::AlignTop);
    }
    layout->addLayout(row);
}

namespace {

/// Whether one of some fields is needed and none is set: nothing would happen.
bool lacksWanted(const std::vector<io::FieldView>& fields)
{
    const auto isWanted = [](const io::FieldView& field) { return field.wanted; };
    return std::ranges::any_of(fields, isWanted) &&
           std::ranges::none_of(fields, [](const io::FieldView& field) { return field.wanted && field.set; });
}

} // namespace

/// The routine that a response runs, if it does and there is one.
const scene::Routine* SnareCard::routineRunBy(const scene::Response& response) const
{
    const auto* run = std::get_if<scene::RunRoutine>(&response.kind);
    return run ? scene::findRoutine(document_.scene(), run->routine) : nullptr;
}

void SnareCard::buildResponseSlots(FlowLayout* line, std::size_t index)
{
    const scene::Response& response = shown_.responses[index];
    const std::vector<io::FieldView> fields = io::fieldsOf(response);
    const auto find = [&](const QString& key) {
        return std::ranges::find_if(fields, [&](const io::FieldView& field) { return toText(field.key) == key; });
    };
    bool more = false;
    bool first = true;
    bool lacks = lacksWanted(fields);
    for (const QString& part : toText(scene::wordOfResponse(response.kind).sentence).split(QLatin1Char('|'))) {
        // "at {speed}": words and slots in turn. A part that is not first shows only if its fields
        // are set.
        const QStringList pieces = part.split(QLatin1Char('{'));
        bool shows = first;
        for (qsizetype i = 1; i < pieces.size(); ++i) {
            const auto field = find(pieces[i].section(QLatin1Char('}'), 0, 0));
            if (field == fields.end())
                continue;
            const bool asked = lacks && field->wanted; // the first of those of which one is needed
            const bool takes = field->key == "with" && routineRunBy(response) && !routineRunBy(response)->with.empty();
            shows |= field->set || field->required || asked || takes;
            more |= !first && !field->set && !field->required && !asked && !takes;
            lacks = lacks && !asked;
        }
        first = false;
        if (!shows)
            continue;
        // Slots stand apart: no comma is needed before a part.
        if (QString text = pieces.front().trimmed(); !text.isEmpty() && text != QLatin1String(","))
            word(line, text.startsWith(QLatin1Char(',')) ? text.mid(1).trimmed() : text);
        for (qsizetype i = 1; i < pieces.size(); ++i) {
            const QString key = pieces[i].section(QLatin1Char('}'), 0, 0);
            const QString after = pieces[i].section(QLatin1Char('}'), 1).trimmed();
            if (const auto field = find(key); field != fields.end()) {
                QString text = slotText(*field);
                SlotButton::Kind kind = text.isEmpty() ? SlotButton::Kind::empty : SlotButton::Kind::filled;
                const scene::Routine* routine = key == QLatin1String("with") ? routineRunBy(response) : nullptr;
                if (routine && !field->set) {
                    text = valuesText(routine->with); // as it is where nothing is given
                    kind = SlotButton::Kind::offer;
                }
                SlotButton* button = slot(line, QStringLiteral("%1 %2").arg(index + 1).arg(key),
                                          text.isEmpty() ? tr("choose…") : text, kind);
                button->setToolTip(routine && !field->set ? tr("As the routine has it; click to give it something else")
                                                          : toText(field->about));
                mark(button, scene::wordOfResponse(response.kind).key, field->key);
                connect(button, &SlotButton::clicked, this,
                        [this, index, name = std::string(field->key), button] { openField(index, name, button); });
            }
            if (!after.isEmpty())
                word(line, after);
        }
    }
    for (std::size_t i = 0; i < response.onlyIf.size(); ++i) {
        word(line, i == 0 ? tr("if") : tr("and"));
        SlotButton* condition =
            slot(line, QStringLiteral("%1 if %2").arg(index + 1).arg(i), conditionText(response.onlyIf[i]));
        for (const char* key : {"left", "is", "right"})
            mark(condition, "condition", key);
        connect(condition, &SlotButton::clicked, this,
                [this, index, i, condition] { editComparison(conditionsOf(index), i, condition); });
    }
    if (more) {
        SlotButton* offer = slot(line, QStringLiteral("%1 more").arg(index + 1), tr("+"), SlotButton::Kind::offer);
        offer->setToolTip(tr("More about this response"));
        connect(offer, &SlotButton::clicked, this, [this, index, offer] { offerFields(index, offer); });
    }
}

namespace {

constexpr QLatin1String addResponse{"add response"}; ///< the slot that offers responses

/// The slot of a catch that must be filled and is not, or empty.
QString wantedOf(const scene::Catch& catches)
{
    if (catches.event.items.empty())
        return {};
    switch (scene::familyOf(catches.event.items.front())) {
    case scene::EventFamily::contact:
        return catches.at.empty() ? QStringLiteral("where") : QString();
    case scene::EventFamily::timer:
        return catches.source.empty() ? QStringLiteral("source") : QString();
    case scene::EventFamily::watch:
        return catches.source.empty() && catches.watch.empty() ? QStringLiteral("number") : QString();
    case scene::EventFamily::call:
        return catches.name.empty() ? QStringLiteral("name") : QString();
    case scene::EventFamily::value:
        return catches.value.empty() ? QStringLiteral("value") : QString();
    default:
        return {};
    }
}

} // namespace

/// The name of the first slot that a new snare leaves to be filled, or empty.
QString SnareCard::unfilled() const
{
    const scene::Catch& catches = shown_.catches;
    if (!catches.event.items.empty()) {
        const scene::EventFamily family = scene::familyOf(catches.event.items.front());
        if (family == scene::EventFamily::signal && catches.signal.empty())
            return QStringLiteral("signal");
        if (family == scene::EventFamily::key && catches.source.empty() && !catches.at.empty())
            return QStringLiteral("key"); // one was put in so that the snare holds
    }
    if (QString wanted = wantedOf(catches); !wanted.isEmpty())
        return wanted;
    return shown_.responses.empty() ? QString{addResponse} : unfilledIn(0);
}

/// The name of the first slot of a response that is empty and must not be; else of the first that
/// says what it does. An empty text if it has none.
QString SnareCard::unfilledIn(std::size_t index) const
{
    const scene::Response& response = shown_.responses[index];
    const std::vector<io::FieldView> fields = io::fieldsOf(response);
    const bool lacks = lacksWanted(fields);
    const QString sentence = toText(scene::wordOfResponse(response.kind).sentence);
    QString first;
    for (const QString& part : sentence.split(QLatin1Char('{')).mid(1)) {
        const std::string key = part.section(QLatin1Char('}'), 0, 0).toStdString();
        const auto field = std::ranges::find(fields, key, &io::FieldView::key);
        if (key == "on" || field == fields.end() || !(field->set || field->required || (lacks && field->wanted)))
            continue;
        if (field->kind == io::SlotKind::flag || field->kind == io::SlotKind::word)
            continue;
        QString name = QStringLiteral("%1 %2").arg(index + 1).arg(toText(key));
        if (field->json == "\"\"" || field->json == "[]" || field->json == "null")
            return name;
        if (first.isEmpty())
            first = name;
    }
    return first;
}

void SnareCard::openUnfilled()
{
    ensureBuilt();
    const QString name = unfilled();
    asksOn_ = shown_.responses.empty() && name != addResponse;
    askFor(name);
}

void SnareCard::askFor(const QString& slot)
{
    if (auto* button = slot.isEmpty() ? nullptr : findChild<SlotButton*>(slot))
        button->click();
}

/// What is still missing after a slot of the catch was filled.
void SnareCard::askOn()
{
    ensureBuilt();
    const QString wanted = wantedOf(shown_.catches);
    asksOn_ = !wanted.isEmpty();
    if (shown_.responses.empty())
        askFor(asksOn_ ? wanted : QString{addResponse});
}

void SnareCard::openField(std::size_t index, const std::string& key, QWidget* anchor)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(shown_.responses[index]);
    const auto field = std::ranges::find(fields, key, &io::FieldView::key);
    if (field == fields.end())
        return;
    const auto set = [this, index, key](const std::string& json) {
        edit(tr("Change a response of %1"), [&](scene::Snare& snare) {
            if (index < snare.responses.size())
                io::setField(snare.responses[index], key, json);
        });
    };
    if (field->kind == io::SlotKind::flag) {
        set(field->json == "true" ? "false" : "true");
        return;
    }
    if (field->refers == scene::Refers::script) {
        const auto now = io::Json::parse(field->json);
        ScriptEditor::ask(anchor, document_.scene(), now.get<std::string>(), false,
                          [set](const QString& text) { set(io::Json(text.toStdString()).dump()); });
        return;
    }
    const auto check = [response = shown_.responses[index], name = field->key](const std::string& json) {
        scene::Response trial = response;
        return io::setField(trial, name, json);
    };
    Question question = questionFor(*field, document_.scene(), check);
    if (field->kind == io::SlotKind::target || field->kind == io::SlotKind::place)
        question.point = [this, isPlace = field->kind == io::SlotKind::place](auto done) {
            selection_.askOnGround(isPlace ? GroundPick::place : GroundPick::pieces, std::move(done));
        };
    offerRename(question, anchor, document_, *field);
    if (const scene::Routine* routine = key == "with" ? routineRunBy(shown_.responses[index]) : nullptr;
        routine && !routine->with.empty()) {
        question.title = tr("What %1 is given; where nothing is said: %2")
                             .arg(toText(std::get<scene::RunRoutine>(shown_.responses[index].kind).routine),
                                  valuesText(routine->with));
        if (!field->set)
            question.typed = valuesText(routine->with);
    }
    if (std::holds_alternative<scene::Sound>(shown_.responses[index].kind) && key == "file") {
        question.choices.push_back({QStringLiteral("?"), tr("From elsewhere…"), tr("it is copied beside the scene"),
                                    tr("file browse open import")});
        for (Choice& choice : soundChoices(document_))
            question.choices.push_back(std::move(choice));
        question.check = [check = question.check](const QStringList& answer) {
            return answer.front() == QLatin1String("?") || !check ? QString() : check(answer);
        };
        SlotPopup::ask(anchor, std::move(question),
                       [this, set, view = *field, window = anchor->window()](const QStringList& answer) {
                           if (answer.front() != QLatin1String("?"))
                               return set(jsonFrom(view, answer));
                           takeFileBeside(window, document_, tr("A sound for the scene"),
                                          tr("Sounds (*.wav *.ogg *.flac *.mp3)"),
                                          [set](const QString& name) { set(io::Json(name.toStdString()).dump()); });
                       });
        return;
    }
    if (field->kind == io::SlotKind::look) {
        const bool isWritten = lookWrittenIn(shown_.responses[index]) != nullptr;
        question.check = [check = question.check](const QStringList& answer) {
            return answer.front() == QLatin1String("*") ? QString() : check(answer);
        };
        question.choices.insert(question.choices.begin(),
                                {QStringLiteral("*"),
                                 isWritten ? tr("Change the look that is written here…") : tr("A look written here…"),
                                 tr("colour, picture, words, glow, frames"),
                                 {}});
        SlotPopup::ask(anchor, std::move(question),
                       [this, set, index, anchor, view = *field](const QStringList& answer) {
                           if (answer.front() == QLatin1String("*"))
                               openWrittenLook(index, anchor);
                           else
                               set(jsonFrom(view, answer));
                       });
        return;
    }
    SlotPopup::ask(anchor, std::move(question),
                   [set, view = *field](const QStringList& answer) { set(jsonFrom(view, answer)); });
}

const scene::Look* SnareCard::lookWrittenIn(const scene::Response& response)
{
    const auto* change = std::get_if<scene::ChangeLook>(&response.kind);
    return change ? std::get_if<scene::Look>(&change->to.held) : nullptr;
}

/// The slots of a look that a response has written out; one is begun if there is none.
void SnareCard::openWrittenLook(std::size_t index, QWidget* anchor)
{
    const auto editLook = [this, index](const std::function<void(scene::Look&)>& change) {
        edit(tr("Change a look of %1"), [&](scene::Snare& snare) {
            auto* one =
                index < snare.responses.size() ? std::get_if<scene::ChangeLook>(&snare.responses[index].kind) : nullptr;
            if (!one)
                return;
            if (!std::holds_alternative<scene::Look>(one->to.held))
                one->to.held = scene::Look{};
            change(std::get<scene::Look>(one->to.held));
        });
    };
    if (!lookWrittenIn(shown_.responses[index])) {
        editLook([](scene::Look& look) { look.colour.code = "#1f8a7a"; });
        auto* again = findChild<QWidget*>(QStringLiteral("%1 to").arg(index + 1)); // the card was built anew
        anchor = again ? again : this;
    }
    const auto get = [this, guard = QPointer<SnareCard>{this}, index]() -> const scene::Look* {
        if (!guard)
            return nullptr;
        const scene::Snare* snare = inScene();
        const scene::Routine* routine =
            isRoutine() ? scene::routineIn(document_.scene(), key_.home, bareName()) : nullptr;
        const auto* list = snare ? &snare->responses : routine ? &routine->responses : nullptr;
        return list && index < list->size() ? lookWrittenIn((*list)[index]) : nullptr;
    };
    LookPanel::open(anchor, document_, tr("A look that %1 puts on").arg(toText(bareName())), {get, editLook});
}

void SnareCard::offerFields(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("More about this response");
    for (const io::FieldView& field : io::fieldsOf(shown_.responses[index]))
        if (!field.set && !field.required)
            question.choices.push_back({toText(field.key), toText(field.about), {}, {}});
    question.choices.push_back({QStringLiteral("if"), tr("only if a value compares"), {}, tr("condition")});
    SlotPopup::ask(anchor, question, [this, index, anchor](const QStringList& answer) {
        if (answer.front() == QLatin1String("if"))
            editComparison(conditionsOf(index), shown_.responses[index].onlyIf.size(), anchor);
        else
            openField(index, answer.front().toStdString(), anchor);
    });
}

void SnareCard::offerResponses(QWidget* anchor)
{
    Question question;
    question.title = tr("What it does");
    question.placeholder = tr("type a word: go, label, count…");
    const std::vector<const scene::Word*> all = io::responseWords();
    for (const scene::Purpose& purpose : scene::purposes) {
        question.choices.push_back({{}, toText(purpose.title), {}, {}, true});
        for (const QString& key : toText(purpose.words).split(QLatin1Char(' ')))
            for (const scene::Word* one : all)
                if (toText(one->key) == key)
                    question.choices.push_back({key, {}, toText(one->about), toText(one->synonyms)});
    }
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Add a response to %1"), [&](scene::Snare& snare) {
            if (auto response = io::responseOf(answer.front().toStdString()))
                snare.responses.push_back(std::move(*response));
        });
        // What it is about is asked at once; the card is built first.
        QMetaObject::invokeMethod(
            this,
            [this] {
                ensureBuilt();
                if (shown_.responses.empty())
                    return;
                askFor(unfilledIn(shown_.responses.size() - 1));
            },
            Qt::QueuedConnection);
    });
}

void SnareCard::responseMenu(std::size_t index, QWidget* anchor)
{
    QMenu& menu = *makeMenu(anchor);
    const auto swap = [&](const QString& text, std::ptrdiff_t by) {
        QAction* action = menu.addAction(text);
        const std::ptrdiff_t other = static_cast<std::ptrdiff_t>(index) + by;
        action->setEnabled(other >= 0 && other < static_cast<std::ptrdiff_t>(shown_.responses.size()));
        connect(action, &QAction::triggered, this, [this, index, other] {
            edit(tr("Reorder responses of %1"), [&](scene::Snare& snare) {
                std::swap(snare.responses[index], snare.responses[static_cast<std::size_t>(other)]);
            });
        });
    };
    connect(menu.addAction(tr("Only if a value compares…")), &QAction::triggered, this, [this, index, anchor] {
        editComparison(conditionsOf(index), shown_.responses[index].onlyIf.size(), anchor);
    });
    menu.addAction(tr("Make a routine…"), this, [this, index, anchor] { makeRoutine(index, anchor); });
    menu.addSeparator();
    swap(tr("Move up"), -1);
    swap(tr("Move down"), 1);
    menu.addSeparator();
    connect(menu.addAction(tr("Remove")), &QAction::triggered, this, [this, index] {
        edit(tr("Remove a response of %1"), [&](scene::Snare& snare) {
            snare.responses.erase(snare.responses.begin() + static_cast<std::ptrdiff_t>(index));
        });
    });
    menu.popup(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

/// Ticked responses become a routine; where the first of them was, it is run.
void SnareCard::makeRoutine(std::size_t index, QWidget* anchor)
{
    Question which;
    which.title = tr("Which responses");
    which.many = true;
    which.proposes = true;
    for (std::size_t i = 0; i < shown_.responses.size(); ++i) {
        QStringList words{toText(scene::wordOfResponse(shown_.responses[i].kind).key)};
        for (const io::FieldView& field : io::fieldsOf(shown_.responses[i]))
            if (field.set || field.required)
                words << slotText(field);
        which.choices.push_back(
            {QString::number(i), QStringLiteral("%1  %2").arg(i + 1).arg(words.join(QLatin1Char(' '))), {}, {}});
        if (i >= index)
            which.chosen << QString::number(i);
    }
    SlotPopup::ask(anchor, which, [this, anchor](const QStringList& chosen) {
        if (chosen.isEmpty())
            return;
        Question name;
        name.title = tr("What the routine is called");
        name.freeText = true;
        name.proposes = true;
        name.typed = toText(bareName()) + QStringLiteral("-routine");
        name.check = [this](const QStringList& answer) {
            const std::string word = answer.front().toStdString();
            if (!scene::isId(word))
                return tr("Letters, digits, - and _ only");
            return scene::findRoutine(document_.scene(), word) ? tr("%1 is there already").arg(answer.front())
                                                               : QString();
        };
        SlotPopup::ask(anchor, name, [this, chosen](const QStringList& answer) {
            const std::string word = answer.front().toStdString();
            document_.edit(tr("Make routine %1").arg(answer.front()), [&](scene::Scene& scene) {
                scene::Routine routine;
                const auto take = [&](std::vector<scene::Response>& responses) {
                    std::vector<scene::Response> kept;
                    for (std::size_t i = 0; i < responses.size(); ++i) {
                        if (!chosen.contains(QString::number(i))) {
                            kept.push_back(std::move(responses[i]));
                            continue;
                        }
                        if (routine.responses.empty())
                            kept.push_back({scene::RunRoutine{word, {}, false}, {}});
                        routine.responses.push_back(std::move(responses[i]));
                    }
                    responses = std::move(kept);
                };
                if (scene::Routine* own = isRoutine() ? scene::routineToChange(scene, key_.home, bareName()) : nullptr)
                    take(own->responses);
                else if (scene::Snare* snare = snareToChange(scene, key_))
                    take(snare->responses);
                // It stands where its first caller does: a kit's must not need the scene.
                scene::Kit* kit = key_.home.empty() ? nullptr : scene::kitToChange(scene, key_.home);
                (kit ? kit->routines : scene.routines).set(word, std::move(routine));
            });
        });
    });
}

void SnareCard::moveResponse(std::size_t from, std::size_t to)
{
    edit(tr("Reorder responses of %1"), [&](scene::Snare& snare) {
        auto& list = snare.responses;
        if (from >= list.size() || to >= list.size())
            return;
        scene::Response moved = std::move(list[from]);
        list.erase(list.begin() + static_cast<std::ptrdiff_t>(from));
        list.insert(list.begin() + static_cast<std::ptrdiff_t>(to), std::move(moved));
    });
}

/// A response is dragged by its number to the place of another one.
bool SnareCard::eventFilter(QObject* watched, QEvent* event)
{
    const auto found = std::ranges::find(numbers_, watched);
    if (found == numbers_.end())
        return SentenceCard::eventFilter(watched, event);
    const auto from = static_cast<std::size_t>(found - numbers_.begin());
    if (event->type() == QEvent::MouseButtonPress) {
        pressedAt_ = static_cast<QMouseEvent*>(event)->position().toPoint();
        dragging_ = false;
    } else if (event->type() == QEvent::MouseMove) {
        const auto* mouse = static_cast<QMouseEvent*>(event);
        if (mouse->buttons() & Qt::LeftButton)
            dragging_ |= (mouse->position().toPoint() - pressedAt_).manhattanLength() > 8;
    } else if (event->type() == QEvent::MouseButtonRelease && dragging_) {
        const auto* mouse = static_cast<QMouseEvent*>(event);
        const int y = mapFromGlobal(mouse->globalPosition().toPoint()).y();
        std::size_t to = 0;
        for (std::size_t i = 0; i < numbers_.size(); ++i)
            if (y > mapFromGlobal(numbers_[i]->mapToGlobal(QPoint{0, 0})).y())
                to = i;
        dragging_ = false;
        static_cast<SlotButton*>(*found)->setDown(false);
        moveResponse(from, to);
        return true;
    }
    return SentenceCard::eventFilter(watched, event);
}

} // namespace snare::app
