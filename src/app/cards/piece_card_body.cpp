// SPDX-License-Identifier: Apache-2.0
/// What a piece card says of movement: the kind of body, its values from the field tables, and the
/// route.
#include "app/cards/piece_card.h"
#include "app/model/leading.h"
#include "app/model/take_edit.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"
#include "scene/models.h"

#include <QRegularExpression>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

namespace {

/// "3, 0; 0, 0": points; empty if something else stands there too.
std::vector<scene::Vec> pointsIn(const QString& typed)
{
    std::vector<scene::Vec> points;
    for (const QString& entry : typed.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        const auto numbers = numbersIn(entry, 2);
        if (!numbers)
            return {};
        points.push_back({(*numbers)[0], (*numbers)[1]});
    }
    return points;
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

/// "a,Left d,Right w s space": left, right, up, down, jump, several with commas between; – for
/// none.
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
    auto* line = row(column, tr("moves"));
    SlotButton* kind = slot(line, QStringLiteral("body"), toText(scene::kindOf(shown_.body)));
    mark(kind, "piece", "body");
    connect(kind, &SlotButton::clicked, this, [this, kind] { editBody(kind); });
    const auto* kinematic = std::get_if<scene::KinematicBody>(&shown_.body);
    if (const auto* walker = std::get_if<scene::WalkerBody>(&shown_.body)) {
        word(line, tr("steered by"), true);
        SlotButton* steer = slot(line, QStringLiteral("steer"), steeringText(walker->steer));
        mark(steer, "walker", "steer");
        for (const char* way : {"left", "right", "up", "down", "jump"})
            mark(steer, "steer", way);
        connect(steer, &SlotButton::clicked, this, [this, steer] { editSteering(steer); });
    }
    if (std::holds_alternative<scene::StaticBody>(shown_.body))
        return;
    const FieldSource source = bodyFields();
    const bool mayRoute = kinematic && !kinematic->route;
    fieldSlots(line, source, mayRoute ? QStringList{tr("route")} : QStringList{},
               [this](const QString&) { addRoute(); });
    if (kinematic && kinematic->route)
        buildRoute(column, *kinematic->route);
    if (std::holds_alternative<scene::DrivenBody>(shown_.body) &&
        scene::modelNamed(shown_.id).kind == scene::ModelName::Kind::piece)
        buildLed(column);
}

/// Where the take leads it: no field of the piece, but what makes it move (V10).
void PieceCard::buildLed(QVBoxLayout* column)
{
    const std::vector<std::size_t> places = placesOf(document_.take(), shown_.id);
    auto* line = row(column, tr("led"));
    QString text = tr("nowhere in this take");
    if (!places.empty())
        text = tr("over %1, %2 to %3 s")
                   .arg(counted(places.size(), tr("place"), tr("places")),
                        figure(std::round(document_.take().inputs[places.front()].t * 1e3) / 1e3),
                        figure(std::round(document_.take().inputs[places.back()].t * 1e3) / 1e3));
    SlotButton* led = slot(line, QStringLiteral("led places"), text);
    led->setToolTip(tr("When it is where. The places can be dragged on the ground and in its lane; "
                       "Scene › Bring in tracks… reads them from tables."));
    connect(led, &SlotButton::clicked, this, [this, led] { editPlaces(led); });
    SlotButton* more = slot(line, QStringLiteral("led more"), tr("lead it on"), SlotButton::Kind::offer);
    connect(more, &SlotButton::clicked, this, [this] {
        document_.setTake(tr("Lead %1 on").arg(toText(shown_.id)), ledOn(document_.take(), stage_, shown_.id));
    });
    if (places.empty())
        return;
    SlotButton* away = slot(line, QStringLiteral("led nowhere"), tr("remove"), SlotButton::Kind::offer);
    connect(away, &SlotButton::clicked, this, [this] {
        document_.setTake(tr("No longer lead %1").arg(toText(shown_.id)), withPlaces(document_.take(), shown_.id, {}));
    });
}

void PieceCard::editPlaces(QWidget* anchor)
{
    Question question;
    question.title = tr("When it is where: s: x, y in m and, if it turns, degrees; …");
    question.freeText = true;
    question.proposes = true;
    question.typed = placesText(document_.take(), shown_.id);
    question.placeholder = QStringLiteral("0.5: 3, 0; 2: 3, 4, 90");
    question.check = [id = shown_.id](const QStringList& answer) {
        return placesIn(answer.front(), id) ? QString() : tr("Places such as 0.5: 3, 0; 2: 3, 4, 90");
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        if (answer.front().trimmed() == placesText(document_.take(), shown_.id))
            return;
        document_.setTake(tr("Change where %1 is led").arg(toText(shown_.id)),
                          withPlaces(document_.take(), shown_.id, *placesIn(answer.front(), shown_.id)));
    });
}

FieldSource PieceCard::bodyFields()
{
    FieldSource source = fieldsFrom<scene::Body>(
        QStringLiteral("body "),
        [this]() -> const scene::Body* {
            const scene::Piece* piece = scene::modelOrPiece(document_.scene(), shown_.id);
            return piece ? &piece->body : nullptr;
        },
        [this](const std::function<void(scene::Body&)>& change) {
            edit(tr("Change the body of %1"), [&](scene::Piece& piece) { change(piece.body); });
        });
    source.kind = scene::kindOf(shown_.body);
    source.offerTitle = tr("More about how it moves");
    source.always = {"speed"}; // what everybody looks for
    source.elsewhere = {"steer", "route"};
    return source;
}

void PieceCard::buildRoute(QVBoxLayout* column, const scene::Route& route)
{
    auto* line = row(column, tr("route"));
    word(line, tr("of"), true);
    SlotButton* points =
        slot(line, QStringLiteral("route points"), counted(route.points.size(), tr("point"), tr("points")));
    mark(points, "kinematic", "route");
    mark(points, "route", "points");
    connect(points, &SlotButton::clicked, this, [this, points] { editRoutePoints(points); });
    word(line, tr("at"), true);
    SlotButton* speed =
        slot(line, QStringLiteral("route speed"), numberText(route.speed, scene::Unit::metresPerSecond));
    mark(speed, "route", "speed");
    connect(speed, &SlotButton::clicked, this, [this, speed] { editRouteField("speed", speed); });
    QString about;
    for (const auto& entry : scene::wordsOf<scene::Loop>)
        if (entry.value == route.loop)
            about = toText(entry.word);
    SlotButton* loop = slot(line, QStringLiteral("route loop"), about);
    mark(loop, "route", "loop");
    loop->setToolTip(tr("What comes after the last point"));
    connect(loop, &SlotButton::clicked, this, [this, loop] { editRouteField("loop", loop); });
    SlotButton* away = slot(line, QStringLiteral("remove route"), tr("remove"), SlotButton::Kind::offer);
    connect(away, &SlotButton::clicked, this, [this] {
        edit(tr("Remove the route of %1"), [](scene::Piece& piece) {
            if (auto* mover = std::get_if<scene::KinematicBody>(&piece.body))
                mover->route.reset();
        });
    });
}

void PieceCard::editRoutePoints(QWidget* anchor)
{
    const auto* mover = std::get_if<scene::KinematicBody>(&shown_.body);
    if (!mover || !mover->route)
        return;
    Question question;
    question.title = tr("Points of the route: x, y; x, y; … in m of the scene");
    question.freeText = true;
    QStringList list;
    for (const scene::Vec& point : mover->route->points)
        list << pair(point);
    question.typed = list.join(QStringLiteral("; "));
    question.check = [](const QStringList& answer) {
        return pointsIn(answer.front()).empty() ? tr("At least one point: 3, 0; 0, 0") : QString();
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change the route of %1"), [&](scene::Piece& piece) {
            if (auto* body = std::get_if<scene::KinematicBody>(&piece.body); body && body->route)
                body->route->points = pointsIn(answer.front());
        });
    });
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
        {QStringLiteral("driven"), tr("driven"), about(scene::fieldsOf<scene::DrivenBody>),
         tr("led track recorded from outside game animation")},
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
            question.choices.insert(question.choices.begin() + 4, own);
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
            } else if (word == QLatin1String("driven")) {
                piece.body = scene::DrivenBody{};
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
