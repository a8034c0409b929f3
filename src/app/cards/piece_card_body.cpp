// SPDX-License-Identifier: Apache-2.0
/// What a piece card says of movement: the kind of body, its values from the field tables, and the route.
#include "app/cards/piece_card.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/words.h"

#include <QRegularExpression>
#include <QVBoxLayout>

namespace snare::app {

namespace {

/// "climbSpeed" as "climb speed".
QString spoken(std::string_view key)
{
    QString text;
    for (const QChar letter : toText(key)) {
        if (letter.isUpper())
            text += QLatin1Char(' ');
        text += letter.toLower();
    }
    return text;
}

/// What has a slot of its own, by hand.
bool isByHand(std::string_view key)
{
    return key == "steer" || key == "route";
}

QString steeringText(const scene::Steer& steer)
{
    if (const auto* set = std::get_if<scene::SteerSet>(&steer.held))
        return *set == scene::SteerSet::none ? QObject::tr("not steered") : toText(scene::wordOf(*set));
    const auto& keys = std::get<scene::KeyLists>(steer.held);
    QStringList words;
    for (const auto* list : {&keys.left, &keys.right, &keys.up, &keys.down, &keys.jump})
        words << (list->empty() ? QStringLiteral("–") : listed(*list).remove(QLatin1Char(' ')));
    return words.join(QLatin1Char(' '));
}

/// "a,Left d,Right w s space": left, right, up, down, jump, several with commas between; – for none.
std::optional<scene::KeyLists> keysIn(const QString& typed)
{
    const QStringList words = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (words.size() != 5)
        return std::nullopt;
    scene::KeyLists keys;
    std::size_t i = 0;
    for (auto* list : {&keys.left, &keys.right, &keys.up, &keys.down, &keys.jump})
        if (const QString& word = words[static_cast<int>(i++)];
            word != QStringLiteral("–") && word != QStringLiteral("-"))
            *list = wordsIn(word);
    return keys;
}

} // namespace

void PieceCard::buildBody(QVBoxLayout* column)
{
    if (std::holds_alternative<scene::StaticBody>(shown_.body))
        return;
    auto* line = new FlowLayout{nullptr, 6};
    if (const auto* walker = std::get_if<scene::WalkerBody>(&shown_.body)) {
        word(line, tr("steered by"), true);
        SlotButton* steer = slot(line, QStringLiteral("steer"), steeringText(walker->steer));
        connect(steer, &SlotButton::clicked, this, [this, steer] { editSteering(steer); });
    }
    QStringList left;
    for (const io::FieldView& field : io::fieldsOf(shown_.body)) {
        if (isByHand(field.key))
            continue;
        const std::string key{field.key};
        const bool isMain = key == "speed"; // what everybody looks for
        if (!field.set && !isMain) {
            left << spoken(key);
            continue;
        }
        word(line, spoken(key), true);
        SlotButton* button = slot(line, QStringLiteral("body ") + toText(key), slotText(field));
        button->setToolTip(toText(field.about));
        connect(button, &SlotButton::clicked, this, [this, key, button] { editBodyField(key, button); });
    }
    const auto* kinematic = std::get_if<scene::KinematicBody>(&shown_.body);
    if (kinematic && !kinematic->route)
        left.prepend(tr("route"));
    const QString offer = left.size() > 2 ? tr("+ %1…").arg(left.mid(0, 2).join(QStringLiteral(", ")))
                                          : QStringLiteral("+ ") + left.join(QStringLiteral(", "));
    if (!left.empty()) {
        SlotButton* more = slot(line, QStringLiteral("add body"), offer, SlotButton::Kind::offer);
        connect(more, &SlotButton::clicked, this, [this, more] {
            Question question;
            question.title = tr("More about how it moves");
            const auto* mover = std::get_if<scene::KinematicBody>(&shown_.body);
            if (mover && !mover->route)
                question.choices.push_back({QStringLiteral("route"), tr("route"),
                                            tr("a way that it goes by itself, drawn on the ground"),
                                            tr("path patrol way points there and back")});
            for (const io::FieldView& field : io::fieldsOf(shown_.body))
                if (!field.set && !isByHand(field.key))
                    question.choices.push_back({toText(field.key), spoken(field.key), toText(field.about), {}});
            SlotPopup::ask(more, question, [this, more](const QStringList& answer) {
                if (answer.front() == QLatin1String("route"))
                    addRoute();
                else
                    editBodyField(answer.front().toStdString(), more);
            });
        });
    }
    column->addLayout(line);
    if (kinematic && kinematic->route)
        buildRoute(column, *kinematic->route);
}

void PieceCard::buildRoute(QVBoxLayout* column, const scene::Route& route)
{
    auto* line = new FlowLayout{nullptr, 6};
    word(line, tr("goes a route of %1 at").arg(counted(route.points.size(), tr("point"), tr("points"))), true);
    SlotButton* speed =
        slot(line, QStringLiteral("route speed"), numberText(route.speed, scene::Unit::metresPerSecond));
    connect(speed, &SlotButton::clicked, this, [this, speed] { editRouteField("speed", speed); });
    QString about;
    for (const auto& entry : scene::wordsOf<scene::Loop>)
        if (entry.value == route.loop)
            about = toText(entry.word);
    SlotButton* loop = slot(line, QStringLiteral("route loop"), about);
    loop->setToolTip(tr("What comes after the last point"));
    connect(loop, &SlotButton::clicked, this, [this, loop] { editRouteField("loop", loop); });
    SlotButton* away = slot(line, QStringLiteral("remove route"), tr("remove"), SlotButton::Kind::offer);
    connect(away, &SlotButton::clicked, this, [this] {
        edit(tr("Remove the route of %1"), [](scene::Piece& piece) {
            if (auto* mover = std::get_if<scene::KinematicBody>(&piece.body))
                mover->route.reset();
        });
    });
    column->addLayout(line);
}

/// From where it is three metres to the right and back: the points are dragged on the ground.
void PieceCard::addRoute()
{
    edit(tr("Give %1 a route"), [](scene::Piece& piece) {
        if (auto* mover = std::get_if<scene::KinematicBody>(&piece.body))
            mover->route = scene::Route{{piece.at + scene::Vec{3, 0}, piece.at}, 1, scene::Loop::cycle};
    });
}

void PieceCard::editBody(QWidget* anchor)
{
    Question question;
    question.title = tr("How it moves");
    const auto about = [](const auto& table) { return toText(table.word.about); };
    question.choices = {
        {QStringLiteral("static"), tr("static"), about(scene::fieldsOf<scene::StaticBody>), tr("fixed wall floor")},
        {QStringLiteral("kinematic"), tr("kinematic"), about(scene::fieldsOf<scene::KinematicBody>),
         tr("mover platform lift door")},
        {QStringLiteral("dynamic"), tr("dynamic"), about(scene::fieldsOf<scene::DynamicBody>),
         tr("loose heavy crate barrel ball physics gravity")},
        {QStringLiteral("arrows"), tr("walker, arrow keys"), about(scene::fieldsOf<scene::WalkerBody>),
         tr("player character hero")},
        {QStringLiteral("wasd"), tr("walker, keys w a s d"), about(scene::fieldsOf<scene::WalkerBody>),
         tr("player character hero")},
        {QStringLiteral("none"), tr("walker, not steered"), tr("stopped by solids"), tr("character")}};
    if (const auto* walker = std::get_if<scene::WalkerBody>(&shown_.body)) {
        if (const auto* set = std::get_if<scene::SteerSet>(&walker->steer.held)) {
            question.chosen << toText(scene::wordOf(*set));
        } else {
            const Choice own{QStringLiteral("walker"), tr("walker"), tr("with keys of its own"), {}};
            question.choices.insert(question.choices.begin() + 3, own);
            question.chosen << own.value;
        }
    } else {
        question.chosen << toText(scene::kindOf(shown_.body));
    }
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        const bool hasGravity = document_.scene().view == scene::View::side;
        edit(tr("Change the body of %1"), [&](scene::Piece& piece) {
            const QString& word = answer.front();
            if (word == QLatin1String("static")) {
                piece.body = scene::StaticBody{};
            } else if (word == QLatin1String("kinematic")) {
                if (!std::holds_alternative<scene::KinematicBody>(piece.body))
                    piece.body = scene::KinematicBody{};
            } else if (word == QLatin1String("dynamic")) {
                if (!std::holds_alternative<scene::DynamicBody>(piece.body)) {
                    scene::DynamicBody loose;
                    loose.damping = hasGravity ? 0 : 2; // seen from above, what is pushed slides to a stop
                    piece.body = loose;
                }
            } else {
                scene::WalkerBody walker;
                if (const auto* old = std::get_if<scene::WalkerBody>(&piece.body))
                    walker = *old;
                else if (hasGravity)
                    walker.jump = 5;
                for (const auto& entry : scene::wordsOf<scene::SteerSet>)
                    if (toText(entry.word) == word)
                        walker.steer.held = entry.value;
                piece.body = walker;
            }
        });
    });
}

void PieceCard::editSteering(QWidget* anchor)
{
    Question question;
    question.title = tr("Keys that steer it; or type five: left right up down jump; – for none, a,Left for two");
    question.placeholder = QStringLiteral("j l i k space");
    question.freeText = true;
    for (const auto& entry : scene::wordsOf<scene::SteerSet>)
        question.choices.push_back({toText(entry.word), toText(entry.word), toText(entry.about), {}});
    const auto* walker = std::get_if<scene::WalkerBody>(&shown_.body);
    if (walker && std::holds_alternative<scene::KeyLists>(walker->steer.held))
        question.typed = steeringText(walker->steer);
    const auto setOf = [](const QString& word) -> const scene::EnumWord<scene::SteerSet>* {
        for (const auto& entry : scene::wordsOf<scene::SteerSet>)
            if (toText(entry.word) == word)
                return &entry;
        return nullptr;
    };
    question.check = [setOf](const QStringList& answer) {
        return setOf(answer.front()) || keysIn(answer.front()) ? QString() : tr("Five keys, with spaces between");
    };
    SlotPopup::ask(anchor, question, [this, setOf](const QStringList& answer) {
        edit(tr("Change the keys of %1"), [&](scene::Piece& piece) {
            auto* body = std::get_if<scene::WalkerBody>(&piece.body);
            if (!body)
                return;
            if (const auto* set = setOf(answer.front()))
                body->steer.held = set->value;
            else if (const auto keys = keysIn(answer.front()))
                body->steer.held = *keys;
        });
    });
}

namespace {

const io::FieldView* fieldNamed(const std::vector<io::FieldView>& fields, const std::string& key)
{
    const auto found = std::ranges::find(fields, key, &io::FieldView::key);
    return found == fields.end() ? nullptr : &*found;
}

} // namespace

void PieceCard::editBodyField(const std::string& key, QWidget* anchor)
{
    const std::vector<io::FieldView> fields = io::fieldsOf(shown_.body);
    const io::FieldView* field = fieldNamed(fields, key);
    if (!field)
        return;
    const auto set = [this, key](const std::string& json) {
        edit(tr("Change the body of %1"), [&](scene::Piece& piece) { io::setField(piece.body, key, json); });
    };
    if (field->kind == io::SlotKind::flag) { // there is nothing to ask
        set(field->set ? "null" : "true");
        return;
    }
    SlotPopup::ask(anchor,
                   questionFor(*field, document_.scene(),
                               [trial = shown_.body, key](const std::string& json) mutable {
                                   scene::Body copy = trial;
                                   return io::setField(copy, key, json);
                               }),
                   [set, view = *field](const QStringList& answer) { set(jsonFrom(view, answer)); });
}

void PieceCard::editRouteField(const std::string& key, QWidget* anchor)
{
    const auto* mover = std::get_if<scene::KinematicBody>(&shown_.body);
    if (!mover || !mover->route)
        return;
    const std::vector<io::FieldView> fields = io::fieldsOf(*mover->route);
    const io::FieldView* field = fieldNamed(fields, key);
    if (!field)
        return;
    SlotPopup::ask(anchor,
                   questionFor(*field, document_.scene(),
                               [route = *mover->route, key](const std::string& json) mutable {
                                   scene::Route copy = route;
                                   return io::setField(copy, key, json);
                               }),
                   [this, key, view = *field](const QStringList& answer) {
                       const std::string json = jsonFrom(view, answer);
                       edit(tr("Change the route of %1"), [&](scene::Piece& piece) {
                           if (auto* body = std::get_if<scene::KinematicBody>(&piece.body); body && body->route)
                               io::setField(*body->route, key, json);
                       });
                   });
}

} // namespace snare::app
