// SPDX-License-Identifier: Apache-2.0
/// The shapes of a piece card: a line for each, with its role, geometry and place.
#include "app/cards/piece_card.h"
#include "app/ground/picture_view.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/words.h"
#include "geometry/vec.h"
#include "scene/templates.h"
#include "world/outline.h"

#include <QMenu>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

namespace {

/// A traced shape to begin with: from the piece's look or the first picture there is, in its
/// commonest colour.
scene::Traced tracedFrom(Document& document, const scene::Piece& piece)
{
    scene::Traced traced;
    std::string image = piece.look.image;
    if (image.empty())
        if (const auto pictures = pictureChoices(document, true); !pictures.empty())
            traced.image = image = pictures.front().value.toStdString();
    if (const auto picture = document.pictures().picture(image)) {
        traced.colour.items = {commonColour(*picture)};
        const double height = 2.0 * picture->height / picture->width;
        traced.size = {2, std::max(0.01, std::round(height * 100) / 100)};
    }
    return traced;
}

} // namespace

void PieceCard::buildShape(QVBoxLayout* column, std::size_t index)
{
    const scene::Shape& shape = shown_.shapes[index];
    auto* line = row(column, tr("shape"));
    const QString name = QStringLiteral("shape %1 ").arg(index);
    SlotButton* role = slot(line, name + QStringLiteral("role"), toText(scene::wordOf(shape.role)));
    mark(role, "shape", "role");
    connect(role, &SlotButton::clicked, this, [this, index] {
        edit(tr("Change the role of a shape of %1"), [&](scene::Piece& piece) {
            scene::Shape& target = piece.shapes[index];
            target.role = target.role == scene::Role::solid ? scene::Role::zone : scene::Role::solid;
        });
    });
    buildShapeName(line, index, name);
    buildGeometry(line, index, name);
    buildShapePlace(line, index, name);
    buildShapeMeeting(line, index, name);
    SlotButton* more = slot(line, name + QStringLiteral("more"), QStringLiteral("⋯"), SlotButton::Kind::action);
    more->setAccessibleName(tr("More about shape %1").arg(toText(scene::shapeName(shown_, index))));
    connect(more, &SlotButton::clicked, this, [this, index, more] { shapeMenu(index, more); });
}

void PieceCard::buildShapeName(FlowLayout* line, std::size_t index, const QString& name)
{
    const scene::Shape& shape = shown_.shapes[index];
    SlotButton* id = slot(line, name + QStringLiteral("id"), shape.id.empty() ? tr("name it") : toText(shape.id),
                          shape.id.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(id, "shape", "id");
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
}

/// Where it lies on its piece.
void PieceCard::buildShapePlace(FlowLayout* line, std::size_t index, const QString& name)
{
    const scene::Shape& shape = shown_.shapes[index];
    if (shape.at != scene::Vec{0, 0} || shown_.shapes.size() > 1) {
        word(line, tr("offset"), true);
        SlotButton* offset = slot(line, name + QStringLiteral("offset"), tr("%1 m").arg(pair(shape.at)));
        mark(offset, "shape", "at");
        connect(offset, &SlotButton::clicked, this, [this, index, offset] { editOffset(index, offset); });
    }
    if (shape.turn != 0) {
        word(line, tr("turned"), true);
        SlotButton* turn = slot(line, name + QStringLiteral("turn"), numberText(shape.turn, scene::Unit::degrees));
        mark(turn, "shape", "turn");
        connect(turn, &SlotButton::clicked, this, [this, index, turn, now = shape.turn] {
            editNumbers(
                turn, tr("Turned against the piece, degrees"), figure(now), 1, -1e9, false, tr("Turn a shape of %1"),
                [index](scene::Piece& piece, const std::vector<double>& n) { piece.shapes[index].turn = n[0]; });
        });
    }
}

/// Whom it meets, and how.
void PieceCard::buildShapeMeeting(FlowLayout* line, std::size_t index, const QString& name)
{
    const scene::Shape& shape = shown_.shapes[index];
    if (!shape.group.empty()) {
        word(line, tr("group"), true);
        SlotButton* own = slot(line, name + QStringLiteral("group"), toText(shape.group));
        mark(own, "shape", "group");
        connect(own, &SlotButton::clicked, this, [this, index, own] { shapeMenu(index, own); });
    }
    if (!shape.enabled) {
        SlotButton* off = slot(line, name + QStringLiteral("enabled"), tr("disabled"));
        mark(off, "shape", "enabled");
        connect(off, &SlotButton::clicked, this, [this, index] {
            edit(tr("Enable a shape of %1"), [index](scene::Piece& piece) { piece.shapes[index].enabled = true; });
        });
    }
    if (shape.role == scene::Role::zone && (shape.margin != 0 || showsAll())) {
        word(line, tr("margin"), true);
        SlotButton* margin = slot(line, name + QStringLiteral("margin"), numberText(shape.margin, scene::Unit::metres),
                                  shape.margin == 0 ? SlotButton::Kind::offer : SlotButton::Kind::filled);
        mark(margin, "shape", "margin");
        connect(margin, &SlotButton::clicked, this, [this, index, margin] { editMargin(index, margin); });
    }
    const auto grip = [&](bool friction, const QString& key, const QString& label, double value) {
        word(line, label, true);
        SlotButton* button = slot(line, name + key, figure(value));
        mark(button, "shape", key.toStdString());
        connect(button, &SlotButton::clicked, this,
                [this, index, friction, button] { editSurface(index, friction, button); });
    };
    if (shape.friction != scene::Shape{}.friction)
        grip(true, QStringLiteral("friction"), tr("friction"), shape.friction);
    if (shape.bounce != scene::Shape{}.bounce)
        grip(false, QStringLiteral("bounce"), tr("bounce"), shape.bounce);
    if (shape.band) {
        word(line, tr("heights"), true);
        SlotButton* band =
            slot(line, name + QStringLiteral("band"), tr("%1 to %2 m").arg((*shape.band)[0]).arg((*shape.band)[1]));
        mark(band, "shape", "band");
        connect(band, &SlotButton::clicked, this, [this, index, band] { editBand(index, band); });
    }
}

void PieceCard::buildGeometry(FlowLayout* line, std::size_t index, const QString& name)
{
    const scene::Shape& shape = shown_.shapes[index];
    if (const auto* circle = std::get_if<scene::Circle>(&shape.geometry)) {
        word(line, tr("circle"), true);
        SlotButton* radius = slot(line, name + QStringLiteral("size"), tr("r %1 m").arg(circle->radius));
        mark(radius, "circle", "radius");
        connect(radius, &SlotButton::clicked, this, [this, index, radius, now = circle->radius] {
            editNumbers(radius, tr("Radius, m"), figure(now), 1, 0, true, tr("Size %1"),
                        [index](scene::Piece& piece, const std::vector<double>& n) {
                            piece.shapes[index].geometry = scene::Circle{n[0]};
                        });
        });
    } else if (const auto* rectangle = std::get_if<scene::Box>(&shape.geometry)) {
        const scene::Vec size = rectangle->size;
        word(line, tr("box"), true);
        SlotButton* box =
            slot(line, name + QStringLiteral("size"), tr("%1 × %2 m").arg(figure(size.x), figure(size.y)));
        mark(box, "box", "size");
        connect(box, &SlotButton::clicked, this, [this, index, box, size] {
            editNumbers(box, tr("Width × height, m"), tr("%1 × %2").arg(figure(size.x), figure(size.y)), 2, 0, true,
                        tr("Size %1"), [index](scene::Piece& piece, const std::vector<double>& n) {
                            piece.shapes[index].geometry = scene::Box{{n[0], n[1]}};
                        });
        });
    } else if (const auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
        buildCapsule(line, index, *capsule, name);
    } else if (const auto* traced = std::get_if<scene::Traced>(&shape.geometry)) {
        buildTraced(line, index, *traced, name);
    } else if (const auto* points = scene::pointsOf(shape.geometry)) {
        buildCorners(line, index, *points, name);
    }
}

void PieceCard::buildCapsule(FlowLayout* line, std::size_t index, const scene::Capsule& capsule, const QString& name)
{
    word(line, tr("capsule"), true);
    const double length = glm::length(capsule.to - capsule.from);
    SlotButton* size =
        slot(line, name + QStringLiteral("size"), tr("%1 m, r %2 m").arg(length, 0, 'g', 4).arg(capsule.radius));
    mark(size, "capsule", "radius");
    connect(size, &SlotButton::clicked, this, [this, index, size, now = capsule, length] {
        editNumbers(size, tr("Length, radius in m"),
                    QStringLiteral("%1, %2").arg(length, 0, 'g', 6).arg(now.radius), 2, 0, true, tr("Size %1"),
                    [index, now](scene::Piece& piece, const std::vector<double>& n) {
                        const scene::Vec middle = (now.from + now.to) * 0.5;
                        const scene::Vec half = geometry::unitOr(now.to - now.from, {1, 0}) * (n[0] / 2);
                        piece.shapes[index].geometry = scene::Capsule{middle - half, middle + half, n[1]};
                    });
    });
    word(line, tr("ends"), true);
    SlotButton* ends = slot(line, name + QStringLiteral("ends"),
                            QStringLiteral("%1; %2").arg(pair(capsule.from), pair(capsule.to)));
    mark(ends, "capsule", "from");
    mark(ends, "capsule", "to");
    connect(ends, &SlotButton::clicked, this, [this, index, ends, now = capsule] {
        editNumbers(ends, tr("Its two ends: x, y, x, y in m from the piece"),
                    QStringLiteral("%1, %2").arg(pair(now.from), pair(now.to)), 4, -1e9, false, tr("Bend %1"),
                    [index, now](scene::Piece& piece, const std::vector<double>& n) {
                        piece.shapes[index].geometry = scene::Capsule{{n[0], n[1]}, {n[2], n[3]}, now.radius};
                    });
    });
}

void PieceCard::buildCorners(FlowLayout* line, std::size_t index, const std::vector<scene::Vec>& points,
                             const QString& name)
{
    const scene::Shape& shape = shown_.shapes[index];
    word(line, toText(scene::kindOf(shape.geometry)), true);
    SlotButton* corners =
        slot(line, name + QStringLiteral("points"), counted(points.size(), tr("corner"), tr("corners")));
    mark(corners, scene::kindOf(shape.geometry), "points");
    connect(corners, &SlotButton::clicked, this, [this, index, corners] {
        Question question;
        question.title = tr("Corners: x, y; x, y; … in m from the piece");
        question.freeText = true;
        QStringList list;
        for (const scene::Vec& point : *scene::pointsOf(shown_.shapes[index].geometry))
            list << pair(point);
        question.typed = list.join(QStringLiteral("; "));
        const auto parse = [geometry = shown_.shapes[index].geometry](const QString& typed) {
            scene::Geometry next = geometry;
            scene::pointsOf(next)->clear();
            for (const QString& entry : typed.split(QLatin1Char(';'), Qt::SkipEmptyParts))
                if (const auto numbers = numbersIn(entry, 2))
                    scene::pointsOf(next)->push_back({(*numbers)[0], (*numbers)[1]});
            return next;
        };
        question.check = [parse](const QStringList& answer) {
            const auto fault = scene::faultOf(parse(answer.front()));
            return fault ? toText(*fault) : QString();
        };
        SlotPopup::ask(corners, question, [this, index, parse](const QStringList& answer) {
            edit(tr("Bend %1"), [&](scene::Piece& piece) { piece.shapes[index].geometry = parse(answer.front()); });
        });
    });
    if (const auto* bar = std::get_if<scene::Line>(&shape.geometry); bar && points.size() > 2) {
        SlotButton* closed = slot(line, name + QStringLiteral("closed"), bar->closed ? tr("closed") : tr("open"),
                                  SlotButton::Kind::offer);
        mark(closed, "line", "closed");
        connect(closed, &SlotButton::clicked, this, [this, index] {
            edit(tr("Close or open %1"), [index](scene::Piece& piece) {
                auto& target = std::get<scene::Line>(piece.shapes[index].geometry);
                target.closed = !target.closed;
            });
        });
    }
}

void PieceCard::buildTraced(FlowLayout* line, std::size_t index, const scene::Traced& traced, const QString& name)
{
    word(line, tr("traced from"), true);
    SlotButton* image =
        slot(line, name + QStringLiteral("image"), traced.image.empty() ? tr("its look") : toText(traced.image));
    mark(image, "traced", "image");
    connect(image, &SlotButton::clicked, this, [this, index, image] {
        Question question;
        question.title = tr("Picture to trace, a PNG beside the scene");
        question.choices = pictureChoices(document_, true);
        question.choices.insert(question.choices.begin(), {QStringLiteral("*"), tr("its look"),
                                                           tr("whatever it looks like now"), tr("look current")});
        SlotPopup::ask(image, question, [this, index](const QStringList& answer) {
            const std::string file =
                answer.front() == QLatin1String("*") ? std::string() : answer.front().toStdString();
            edit(tr("Trace %1 from another picture"),
                 [&](scene::Piece& piece) { std::get<scene::Traced>(piece.shapes[index].geometry).image = file; });
        });
    });
    QStringList colours;
    for (const scene::Colour& colour : traced.colour.items)
        colours << toText(colour.code);
    SlotButton* colour = slot(line, name + QStringLiteral("colour"), colours.join(QStringLiteral(", ")));
    colour->setToolTip(tr("Pick the colour in the picture, and how far it may be off"));
    mark(colour, "traced", "colour");
    mark(colour, "traced", "tolerance");
    connect(colour, &SlotButton::clicked, this,
            [this, index, colour] { TracePicker::open(colour, document_, shown_.id, index); });
    word(line, tr("within %1").arg(traced.tolerance), true);
    SlotButton* box =
        slot(line, name + QStringLiteral("size"), tr("%1 × %2 m").arg(figure(traced.size.x), figure(traced.size.y)));
    mark(box, "traced", "size");
    connect(box, &SlotButton::clicked, this, [this, index, box, size = traced.size] {
        editNumbers(box, tr("Width × height of the whole picture, m"),
                    tr("%1 × %2").arg(figure(size.x), figure(size.y)), 2, 0, true, tr("Size %1"),
                    [index](scene::Piece& piece, const std::vector<double>& n) {
                        std::get<scene::Traced>(piece.shapes[index].geometry).size = {n[0], n[1]};
                    });
    });
}

void PieceCard::editOffset(std::size_t index, QWidget* anchor)
{
    editNumbers(anchor, tr("Offset from the piece: x, y in m"), pair(shown_.shapes[index].at), 2, -1e9, false,
                tr("Move a shape of %1"), [index](scene::Piece& piece, const std::vector<double>& n) {
                    piece.shapes[index].at = {n[0], n[1]};
                });
}

void PieceCard::editMargin(std::size_t index, QWidget* anchor)
{
    editNumbers(anchor, tr("A visitor has left only when it is this far away, m"), figure(shown_.shapes[index].margin),
                1, 0, false, tr("Change the margin of %1"),
                [index](scene::Piece& piece, const std::vector<double>& n) { piece.shapes[index].margin = n[0]; });
}

namespace {

/// A shape of another kind that is about as large, in the same place.
scene::Geometry geometryLike(const scene::Geometry& old, const QString& kind)
{
    scene::Shape bare;
    bare.geometry = old;
    const geometry::Bounds bounds = world::boundsOf(bare, {});
    const scene::Vec size = bounds.high - bounds.low;
    const scene::Vec middle = (bounds.low + bounds.high) * 0.5;
    const auto rounded = [](double length) { return std::max(0.01, std::round(length * 100) / 100); };
    if (kind == QLatin1String("circle"))
        return scene::Circle{rounded(std::max(size.x, size.y) / 2)};
    if (kind == QLatin1String("box"))
        return scene::Box{{rounded(size.x), rounded(size.y)}};
    if (kind == QLatin1String("capsule")) {
        const bool lies = size.x >= size.y;
        const double radius = rounded(std::min(size.x, size.y) / 2);
        const double half = std::max(0.01, std::max(size.x, size.y) / 2 - radius);
        const scene::Vec way = lies ? scene::Vec{half, 0} : scene::Vec{0, half};
        return scene::Capsule{middle - way, middle + way, radius};
    }
    std::vector<scene::Vec> points{
        bounds.low, {bounds.high.x, bounds.low.y}, bounds.high, {bounds.low.x, bounds.high.y}};
    if (const auto* corners = scene::pointsOf(old); corners && corners->size() > 2)
        points = *corners;
    if (kind == QLatin1String("polygon"))
        return scene::Polygon{points};
    return scene::Line{points, true};
}

} // namespace

void PieceCard::changeKind(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("Another kind, about as large");
    const QString now = toText(scene::kindOf(shown_.shapes[index].geometry));
    for (const char* kind : {"circle", "box", "capsule", "polygon", "line", "traced"})
        if (const QString word = toText(kind); word != now)
            question.choices.push_back({word, {}, {}, {}});
    SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
        edit(tr("Change the kind of a shape of %1"), [&](scene::Piece& piece) {
            scene::Geometry& geometry = piece.shapes[index].geometry;
            if (answer.front() != QLatin1String("traced")) {
                geometry = geometryLike(geometry, answer.front());
                return;
            }
            scene::Shape bare;
            bare.geometry = geometry;
            scene::Traced traced = tracedFrom(document_, piece);
            traced.size = world::boundsOf(bare, {}).size();
            geometry = traced;
        });
    });
}

/// Lowest and highest over the piece's height, or no limits.
void PieceCard::editBand(std::size_t index, QWidget* anchor)
{
    Question question;
    question.title = tr("Heights over the piece: lowest, highest in m; empty: no limits");
    question.freeText = true;
    if (const auto& band = shown_.shapes[index].band)
        question.typed = QStringLiteral("%1, %2").arg((*band)[0]).arg((*band)[1]);
    question.check = [](const QStringList& answer) {
        const auto numbers = numbersIn(answer.front(), 2);
        if (answer.front().trimmed().isEmpty() || (numbers && (*numbers)[0] < (*numbers)[1]))
            return QString();
        return tr("Two numbers, the lower first");
    };
    SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
        edit(tr("Change the heights of %1"), [&](scene::Piece& piece) {
            piece.shapes[index].band.reset();
            if (const auto numbers = numbersIn(answer.front(), 2))
                piece.shapes[index].band = {(*numbers)[0], (*numbers)[1]};
        });
    });
}

/// How a solid's edge takes what touches it (V7).
void PieceCard::editSurface(std::size_t index, bool friction, QWidget* anchor)
{
    const scene::Shape& shape = shown_.shapes[index];
    const auto set = [index, friction](scene::Piece& piece, const std::vector<double>& n) {
        (friction ? piece.shapes[index].friction : piece.shapes[index].bounce) = friction ? n[0] : std::min(n[0], 1.0);
    };
    if (friction)
        editNumbers(anchor, tr("Friction: 0 slides, 0.5 as usual, 1 grips"), figure(shape.friction), 1, 0, false,
                    tr("Change the friction of %1"), set);
    else
        editNumbers(anchor, tr("Bounce: 0 stays down, 1 comes back as fast"), figure(shape.bounce), 1, 0, false,
                    tr("Change the bounce of %1"), set);
}

void PieceCard::shapeMenu(std::size_t index, QWidget* anchor)
{
    const scene::Shape& shape = shown_.shapes[index];
    const scene::Template* form = scene::templateOf(document_.scene(), shown_);
    const bool inherited = form && index < form->model.shapes.size();
    QMenu& menu = *makeMenu(anchor);
    menu.addAction(shape.enabled ? tr("Disable") : tr("Enable"), this, [this, index] {
        edit(tr("Change a shape of %1"),
             [index](scene::Piece& piece) { piece.shapes[index].enabled = !piece.shapes[index].enabled; });
    });
    menu.addAction(tr("Group of its own…"), this, [this, index, anchor] {
        Question question;
        question.title = tr("Group of this shape; empty: the piece's");
        question.freeText = true;
        question.typed = toText(shown_.shapes[index].group);
        question.choices = groupChoices(document_.scene());
        question.check = [](const QStringList& answer) {
            return answer.front().isEmpty() || scene::isId(answer.front().toStdString())
                       ? QString()
                       : tr("Letters, digits, - and _ only");
        };
        SlotPopup::ask(anchor, question, [this, index](const QStringList& answer) {
            edit(tr("Regroup a shape of %1"),
                 [&](scene::Piece& piece) { piece.shapes[index].group = answer.front().toStdString(); });
        });
    });
    if (shape.role == scene::Role::solid) {
        menu.addAction(tr("Friction…"), this, [this, index, anchor] { editSurface(index, true, anchor); });
        menu.addAction(tr("Bounce…"), this, [this, index, anchor] { editSurface(index, false, anchor); });
    }
    if (shape.role == scene::Role::zone)
        menu.addAction(tr("Margin…"), this, [this, index, anchor] { editMargin(index, anchor); });
    menu.addAction(tr("Heights…"), this, [this, index, anchor] { editBand(index, anchor); });
    menu.addAction(tr("Offset…"), this, [this, index, anchor] { editOffset(index, anchor); });
    menu.addAction(tr("Change its kind…"), this, [this, index, anchor] { changeKind(index, anchor); });
    if (!form && shown_.shapes.size() > 1) {
        const auto move = [this, index](int by) {
            const std::size_t other = by < 0 ? index - 1 : index + 1;
            edit(tr("Change the order of the shapes of %1"),
                 [index, other](scene::Piece& piece) { std::swap(piece.shapes[index], piece.shapes[other]); });
            chooseShape(other);
        };
        if (index > 0)
            menu.addAction(tr("Earlier in the list"), this, [move] { move(-1); });
        if (index + 1 < shown_.shapes.size())
            menu.addAction(tr("Later in the list"), this, [move] { move(1); });
    }
    menu.addAction(tr("Turn…"), this, [this, index, anchor] {
        editNumbers(anchor, tr("Turned against the piece, degrees"), figure(shown_.shapes[index].turn), 1, -1e9, false,
                    tr("Turn a shape of %1"),
                    [index](scene::Piece& piece, const std::vector<double>& n) { piece.shapes[index].turn = n[0]; });
    });
    menu.addSeparator();
    QAction* remove =
        menu.addAction(inherited ? tr("Remove (it comes from the template)") : tr("Remove"), this, [this, index] {
            edit(tr("Remove a shape of %1"), [index](scene::Piece& piece) {
                piece.shapes.erase(piece.shapes.begin() + static_cast<std::ptrdiff_t>(index));
            });
            chooseShape(0);
        });
    remove->setEnabled(!inherited);
    menu.popup(anchor->mapToGlobal(QPoint{0, anchor->height()}));
}

void PieceCard::offerShape(QWidget* anchor)
{
    Question question;
    question.title = tr("Another shape");
    question.choices = {
        {QStringLiteral("circle"), tr("circle"), {}, tr("disc round")},
        {QStringLiteral("box"), tr("box"), {}, tr("rectangle")},
        {QStringLiteral("capsule"), tr("capsule"), {}, tr("bar rounded")},
        {QStringLiteral("polygon"), tr("polygon"), {}, tr("corners area")},
        {QStringLiteral("line"), tr("line"), {}, tr("edges")},
        {QStringLiteral("traced"), tr("traced"), tr("an area of a picture"), tr("image png colour pipette outline")}};
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        scene::Shape shape;
        shape.role = scene::Role::zone;
        const QString& kind = answer.front();
        if (kind == QLatin1String("box"))
            shape.geometry = scene::Box{};
        else if (kind == QLatin1String("capsule"))
            shape.geometry = scene::Capsule{};
        else if (kind == QLatin1String("polygon"))
            shape.geometry = scene::Polygon{{{-0.5, -0.5}, {0.5, -0.5}, {0, 0.5}}};
        else if (kind == QLatin1String("line"))
            shape.geometry = scene::Line{{{-1, 0}, {1, 0}}, false};
        else if (kind == QLatin1String("traced"))
            shape.geometry = tracedFrom(document_, shown_);
        const std::size_t index = shown_.shapes.size();
        edit(tr("Lay a shape on %1"), [&](scene::Piece& piece) { piece.shapes.push_back(shape); });
        chooseShape(index);
    });
}

void PieceCard::chooseShape(std::size_t index)
{
    if (selection_.model().empty())
        selection_.choosePiece(shown_.id, index);
}

} // namespace snare::app
