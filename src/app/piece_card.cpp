// SPDX-License-Identifier: Apache-2.0
#include "app/piece_card.h"

#include "app/flow_layout.h"
#include "app/pieces_panel.h"
#include "app/slot_fill.h"
#include "app/slot_popup.h"
#include "app/theme.h"
#include "app/words.h"

#include <QLabel>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace snare::app {

namespace {

QString pair(const scene::Vec& v)
{
    return QStringLiteral("%1, %2").arg(v.x).arg(v.y);
}

/// The numbers in "3, 2" or "3 × 2 m"; nothing if there are not so many.
std::optional<std::vector<double>> numbersIn(const QString& typed, int count)
{
    static const QRegularExpression number{QStringLiteral(R"(-?[0-9]*\.?[0-9]+)")};
    std::vector<double> found;
    for (auto match = number.globalMatch(typed); match.hasNext();)
        found.push_back(match.next().captured().toDouble());
    return static_cast<int>(found.size()) == count ? std::optional(found) : std::nullopt;
}

QString bodyText(const scene::Body& body)
{
    if (const auto* kinematic = std::get_if<scene::KinematicBody>(&body);
        kinematic && kinematic->velocity != scene::Vec{0, 0})
        return QObject::tr("kinematic, %1 m/s").arg(pair(kinematic->velocity));
    if (const auto* walker = std::get_if<scene::WalkerBody>(&body)) {
        const auto* set = std::get_if<scene::SteerSet>(&walker->steer.held);
        return QObject::tr("walker, %1, %2 m/s")
            .arg(set ? toText(scene::wordOf(*set)) : QObject::tr("own keys"))
            .arg(walker->speed);
    }
    return toText(scene::kindOf(body));
}

} // namespace

PieceCard::PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage), selection_(selection)
{
    setObjectName(QStringLiteral("pieceCard"));
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(14, 10, 12, 8);
    connect(&stage_, &Stage::cursorChanged, this, &PieceCard::refreshInside);
    connect(&stage_, &Stage::recordChanged, this, &PieceCard::refreshInside);
    refresh();
}

void PieceCard::refresh()
{
    const scene::Piece* piece = scene::findPiece(document_.scene(), selection_.piece());
    const scene::Piece next = piece ? *piece : scene::Piece{};
    if (built_ && shownIds_ == selection_.pieces() && next == shown_ && shownTitle_ == document_.title())
        return;
    const QWidget* focused = window()->focusWidget();
    const QString focusedName = built_ && focused && isAncestorOf(focused) ? focused->objectName() : QString();
    shownIds_ = selection_.pieces();
    shown_ = next;
    shownTitle_ = document_.title();
    built_ = true;
    build();
    refreshInside();
    if (!focusedName.isEmpty())
        if (auto* again = findChild<QWidget*>(focusedName))
            again->setFocus();
}

void PieceCard::edit(const QString& name, const Change& change)
{
    document_.edit(name.arg(toText(shown_.id)), [&](scene::Scene& scene) {
        if (scene::Piece* piece = scene::findPiece(scene, shown_.id))
            change(*piece);
    });
}

void PieceCard::word(FlowLayout* line, const QString& text)
{
    auto* label = new QLabel{text, body_};
    label->setStyleSheet(QStringLiteral("color: %1").arg(theme().inkSoft.name()));
    label->setFixedHeight(QFontMetrics{textFont()}.height() + 6);
    line->addWidget(label);
}

SlotButton* PieceCard::slot(FlowLayout* line, const QString& name, const QString& text, SlotButton::Kind kind)
{
    auto* button = new SlotButton{text, kind, body_};
    button->setObjectName(name);
    button->setAccessibleName(tr("%1: %2").arg(name, text));
    line->addWidget(button);
    return button;
}

void PieceCard::build()
{
    if (body_) {
        body_->hide();
        layout()->removeWidget(body_);
        body_->setParent(nullptr);
        body_->deleteLater();
    }
    body_ = new QWidget{this};
    inside_ = nullptr;
    layout()->addWidget(body_);
    auto* column = new QVBoxLayout{body_};
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    auto* title = new QLabel{body_};
    title->setFont(textFont(1, true));
    column->addWidget(title);
    if (shown_.id.empty()) {
        title->setText(shownIds_.empty() ? document_.title() : countedPieces(shownIds_.size()));
        auto* line = new FlowLayout{nullptr};
        word(line, shownIds_.empty() ? tr("Select a piece on the ground to see what listens there.")
                                     : tr("Drag to move them together."));
        column->addLayout(line);
        return;
    }
    title->hide();
    auto* name = new SlotButton{toText(shown_.id), SlotButton::Kind::offer, body_};
    name->setObjectName(QStringLiteral("name"));
    name->setFont(textFont(1, true));
    name->setToolTip(tr("Rename"));
    connect(name, &SlotButton::clicked, this, [this, name] {
        askForName(name, document_, scene::Thing::piece, shown_.id,
                   [this](const std::string& to) { selection_.choosePiece(to, selection_.shape()); });
    });
    column->addWidget(name);

    auto* who = new FlowLayout{nullptr, 6};
    word(who, tr("group"));
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
    word(who, tr("tags"));
    SlotButton* tags =
        slot(who, QStringLiteral("tags"), shown_.tags.empty() ? QStringLiteral("+") : joined(shown_.tags, tr("and")),
             shown_.tags.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(tags, &SlotButton::clicked, this, [this, tags] {
        Question question;
        question.title = tr("Tags, with commas between");
        question.freeText = true;
        question.typed = joined(shown_.tags, QStringLiteral(",")).replace(QStringLiteral(" , "), QStringLiteral(", "));
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
    word(who, tr("body"));
    SlotButton* kind = slot(who, QStringLiteral("body"), bodyText(shown_.body));
    connect(kind, &SlotButton::clicked, this, [this, kind] { editBody(kind); });
    column->addLayout(who);

    auto* where = new FlowLayout{nullptr, 6};
    word(where, tr("at"));
    SlotButton* at = slot(where, QStringLiteral("at"), tr("%1 m").arg(pair(shown_.at)));
    connect(at, &SlotButton::clicked, this, [this, at] {
        editNumbers(at, tr("Place: x, y in m"), pair(shown_.at), 2, -1e9, false, tr("Move %1"),
                    [](scene::Piece& piece, const std::vector<double>& n) {
                        piece.at = {n[0], n[1]};
                    });
    });
    word(where, tr("turned"));
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
    column->addLayout(where);

    for (std::size_t i = 0; i < shown_.shapes.size(); ++i)
        buildShape(column, i);

    auto* own = new FlowLayout{nullptr, 6};
    word(own, tr("values"));
    QStringList values;
    for (const auto& [label, value] : shown_.properties.entries)
        values << toText(label) + QStringLiteral(" = ") + toText(scene::textOf(value));
    SlotButton* properties = slot(own, QStringLiteral("properties"),
                                  values.isEmpty() ? QStringLiteral("+") : values.join(QStringLiteral(", ")),
                                  values.isEmpty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(properties, &SlotButton::clicked, this, [this, properties] { editProperties(properties); });
    column->addLayout(own);

    inside_ = new QLabel{body_};
    inside_->setObjectName(QStringLiteral("insideNow"));
    inside_->setWordWrap(true);
    column->addWidget(inside_);
}

void PieceCard::buildShape(QVBoxLayout* layout, std::size_t index)
{
    const scene::Shape& shape = shown_.shapes[index];
    auto* line = new FlowLayout{nullptr, 6};
    const QString name = QStringLiteral("shape %1 ").arg(index);
    SlotButton* role = slot(line, name + QStringLiteral("role"), toText(scene::wordOf(shape.role)));
    connect(role, &SlotButton::clicked, this, [this, index] {
        edit(tr("Change the role of a shape of %1"), [&](scene::Piece& piece) {
            scene::Shape& target = piece.shapes[index];
            target.role = target.role == scene::Role::solid ? scene::Role::zone : scene::Role::solid;
        });
    });
    SlotButton* id = slot(line, name + QStringLiteral("id"), shape.id.empty() ? tr("name it") : toText(shape.id),
                          shape.id.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    connect(id, &SlotButton::clicked, this, [this, index, id] {
        Question question;
        question.title = tr("Name of the shape");
        question.freeText = true;
        question.typed = toText(shown_.shapes[index].id);
        question.check = [piece = shown_, index](const QStringList& answer) {
            const std::string text = answer.front().toStdString();
            if (text.empty())
                return QString();
            if (!scene::isId(text) || scene::isReserved(text))
                return tr("Letters, digits, - and _ only");
            const auto other = scene::findShape(piece, text);
            return other && *other != index ? tr("There is a shape %1 already").arg(answer.front()) : QString();
        };
        SlotPopup::ask(id, question, [this, index](const QStringList& answer) {
            edit(tr("Name a shape of %1"),
                 [&](scene::Piece& piece) { piece.shapes[index].id = answer.front().toStdString(); });
        });
    });
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        word(line, tr("circle"));
        SlotButton* radius = slot(line, name + QStringLiteral("size"), tr("r %1 m").arg(circle->radius));
        connect(radius, &SlotButton::clicked, this, [this, index, radius, now = circle->radius] {
            editNumbers(radius, tr("Radius, m"), QString::number(now), 1, 0, true, tr("Size %1"),
                        [index](scene::Piece& piece, const std::vector<double>& n) {
                            piece.shapes[index].geometry = scene::Circle{n[0]};
                        });
        });
    } else {
        const scene::Vec size = std::get<scene::Box>(shape.geometry).size;
        word(line, tr("box"));
        SlotButton* box = slot(line, name + QStringLiteral("size"), tr("%1 × %2 m").arg(size.x).arg(size.y));
        connect(box, &SlotButton::clicked, this, [this, index, box, size] {
            editNumbers(box, tr("Width × height, m"), tr("%1 × %2").arg(size.x).arg(size.y), 2, 0, true, tr("Size %1"),
                        [index](scene::Piece& piece, const std::vector<double>& n) {
                            piece.shapes[index].geometry = scene::Box{{n[0], n[1]}};
                        });
        });
    }
    if (shape.at != scene::Vec{0, 0} || shown_.shapes.size() > 1) {
        word(line, tr("offset"));
        SlotButton* offset = slot(line, name + QStringLiteral("offset"), tr("%1 m").arg(pair(shape.at)));
        connect(offset, &SlotButton::clicked, this, [this, index, offset, at = shape.at] {
            editNumbers(offset, tr("Offset from the piece: x, y in m"), pair(at), 2, -1e9, false,
                        tr("Move a shape of %1"), [index](scene::Piece& piece, const std::vector<double>& n) {
                            piece.shapes[index].at = {n[0], n[1]};
                        });
        });
    }
    if (shape.role == scene::Role::zone) {
        word(line, tr("margin"));
        SlotButton* margin = slot(line, name + QStringLiteral("margin"), numberText(shape.margin, scene::Unit::metres),
                                  shape.margin == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
        connect(margin, &SlotButton::clicked, this, [this, index, margin, now = shape.margin] {
            editNumbers(
                margin, tr("A visitor has left only when it is this far away, m"), QString::number(now), 1, 0, false,
                tr("Change the margin of %1"),
                [index](scene::Piece& piece, const std::vector<double>& n) { piece.shapes[index].margin = n[0]; });
        });
    }
    layout->addLayout(line);
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

void PieceCard::editBody(QWidget* anchor)
{
    Question question;
    question.title = tr("How it moves");
    question.choices = {
        {QStringLiteral("static"), tr("static"), tr("stays where it is"), tr("fixed wall")},
        {QStringLiteral("kinematic"), tr("kinematic"), tr("moves as told"), tr("mover platform")},
        {QStringLiteral("arrows"), tr("walker, arrow keys"), tr("steered, stopped by solids"), tr("player character")},
        {QStringLiteral("wasd"), tr("walker, keys w a s d"), tr("steered, stopped by solids"), tr("player character")},
        {QStringLiteral("none"), tr("walker, not steered"), tr("stopped by solids"), tr("character")}};
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change the body of %1"), [&](scene::Piece& piece) {
            const QString& word = answer.front();
            if (word == QLatin1String("static")) {
                piece.body = scene::StaticBody{};
            } else if (word == QLatin1String("kinematic")) {
                if (!std::holds_alternative<scene::KinematicBody>(piece.body))
                    piece.body = scene::KinematicBody{};
            } else {
                auto walker = std::holds_alternative<scene::WalkerBody>(piece.body)
                                  ? std::get<scene::WalkerBody>(piece.body)
                                  : scene::WalkerBody{};
                for (const auto& entry : scene::wordsOf<scene::SteerSet>)
                    if (toText(entry.word) == word)
                        walker.steer.held = entry.value;
                piece.body = walker;
            }
        });
    });
}

void PieceCard::editProperties(QWidget* anchor)
{
    Question question;
    question.title = tr("Values of its own: name = value, …");
    question.freeText = true;
    QStringList values;
    for (const auto& [name, value] : shown_.properties.entries)
        values << toText(name) + QStringLiteral(" = ") + toText(scene::textOf(value));
    question.typed = values.join(QStringLiteral(", "));
    question.check = [](const QStringList& answer) {
        for (const QString& entry : answer.front().split(QLatin1Char(','), Qt::SkipEmptyParts))
            if (entry.count(QLatin1Char('=')) != 1 ||
                !scene::isId(entry.section(QLatin1Char('='), 0, 0).trimmed().toStdString()))
                return tr("Name = value, with commas between");
        return QString();
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        edit(tr("Change values of %1"), [&](scene::Piece& piece) {
            piece.properties.entries.clear();
            for (const QString& entry : answer.front().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
                const QString text = entry.section(QLatin1Char('='), 1).trimmed();
                bool isNumber = false;
                const double number = text.toDouble(&isNumber);
                scene::Scalar value = text.toStdString();
                if (isNumber)
                    value = number;
                else if (text == QLatin1String("true") || text == QLatin1String("false"))
                    value = text == QLatin1String("true");
                piece.properties.set(entry.section(QLatin1Char('='), 0, 0).trimmed().toStdString(), value);
            }
        });
    });
}

void PieceCard::refreshInside()
{
    if (!inside_)
        return;
    const sim::Record& record = stage_.record();
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
