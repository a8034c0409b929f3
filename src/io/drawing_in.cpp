// SPDX-License-Identifier: Apache-2.0
#include "io/drawing.h"

#include "io/svg_words.h"
#include "scene/kits.h"
#include "scene/templates.h"
#include "world/outline.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <cctype>
#include <cmath>
#include <map>
#include <set>

namespace snare::io {

namespace {

using geometry::Vec;
using svg::Affine;
using svg::Reading;
using svg::Way;

constexpr int deepest = 200;

/// What elements say of themselves, handed on to what is in them.
struct Said {
    std::string role, group, tags, form, body, piece;
    int layer = 0;
    double stroke = 0; ///< units
    std::optional<Affine> frame; ///< of the group that says the piece: its axes are the piece's
    bool isLine = false;
    bool isCapsule = false;
};

class DrawingReader {
  public:
    explicit DrawingReader(const DrawingOptions& options) : options_(options) {}

    void read(const pugi::xml_node& svg) { readChildren(svg, {options_.metres, 0, 0, options_.metres, 0, 0}, {}, 0); }
    std::optional<std::string> fault;

    Drawing finish()
    {
        Drawing result;
        for (scene::Piece& piece : pieces_)
            for (const scene::Shape& shape : piece.shapes)
                result.bounds.include(world::boundsOf(shape, {piece.at, piece.turn}));
        const Vec middle = options_.centred && !result.bounds.empty() ? result.bounds.centre() : Vec{0, 0};
        for (scene::Piece& piece : pieces_) {
            piece.at -= middle;
            result.clip.pieces.push_back(std::move(piece));
        }
        if (!result.bounds.empty()) {
            result.bounds.low -= middle;
            result.bounds.high -= middle;
        }
        for (const auto& [what, times] : passed_)
            result.notes.push_back(times == 1 ? what : fmt::format("{} ({} times)", what, times));
        return result;
    }

  private:
    static std::string_view valueOf(const pugi::xml_node& node, const char* name)
    {
        return node.attribute(name).value();
    }

    /// Of an attribute, or of `style`, which counts for more.
    static std::string_view styleOf(const pugi::xml_node& node, std::string_view name)
    {
        std::string_view style = valueOf(node, "style");
        while (!style.empty()) {
            std::string_view one = style.substr(0, style.find(';'));
            style.remove_prefix(std::min(style.size(), one.size() + 1));
            const std::size_t colon = one.find(':');
            const auto trimmed = [](std::string_view text) {
                while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front())))
                    text.remove_prefix(1);
                while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back())))
                    text.remove_suffix(1);
                return text;
            };
            if (colon != std::string_view::npos && trimmed(one.substr(0, colon)) == name)
                return trimmed(one.substr(colon + 1));
        }
        return valueOf(node, std::string(name).c_str());
    }

    /// In units of the drawing, whatever unit stands behind it: that is told.
    double lengthOf(const pugi::xml_node& node, const char* name, double usual = 0)
    {
        Reading reading{styleOf(node, name)};
        const auto length = reading.number();
        if (const std::string_view unit = reading.word();
            length && ((!unit.empty() && unit != "px") || reading.peek() == '%'))
            pass("lengths with a unit are taken as units of the drawing");
        return length.value_or(usual);
    }

    /// Calls `visit` for each of the words of a text.
    template <class Visit> static void forWords(std::string_view text, const Visit& visit)
    {
        while (!text.empty()) {
            const std::string_view word = text.substr(0, text.find(' '));
            text.remove_prefix(std::min(text.size(), word.size() + 1));
            if (!word.empty())
                visit(word);
        }
    }

    Said saidBy(const pugi::xml_node& node, Said said)
    {
        const auto take = [&](std::string& to, const char* name) {
            if (const std::string_view value = valueOf(node, name); !value.empty())
                to = value;
        };
        said.isLine = said.isCapsule = false;
        forWords(valueOf(node, "class"), [&](std::string_view word) {
            if (word == "solid" || word == "zone")
                said.role = word;
            else if (word == "line")
                said.isLine = true;
            else if (word == "capsule")
                said.isCapsule = true;
            else
                said.tags += " " + std::string(word);
        });
        take(said.role, "data-role");
        take(said.group, "data-group");
        take(said.tags, "data-tags");
        take(said.form, "data-template");
        take(said.body, "data-body");
        take(said.piece, "data-piece");
        if (const std::string_view layer = valueOf(node, "data-layer"); !layer.empty())
            said.layer = static_cast<int>(std::clamp(Reading{layer}.number().value_or(0), -1e6, 1e6));
        said.stroke = lengthOf(node, "stroke-width", said.stroke);
        return said;
    }

    void pass(const std::string& what) { ++passed_[what]; }

    void readChildren(const pugi::xml_node& parent, const Affine& outer, const Said& said, int depth)
    {
        if (depth > deepest) {
            fault = fmt::format("nested deeper than {} levels", deepest);
            return;
        }
        for (const pugi::xml_node& node : parent.children())
            if (node.type() == pugi::node_element && !fault)
                readElement(node, outer, said, depth);
    }

    void readElement(const pugi::xml_node& node, const Affine& outer, const Said& around, int depth)
    {
        std::string_view name = node.name();
        if (const std::size_t colon = name.find(':'); colon != std::string_view::npos)
            name = name.substr(0, colon) == "svg" ? name.substr(colon + 1) : std::string_view{};
        constexpr std::array<std::string_view, 14> silent{"title",  "desc",     "style",  "metadata", "defs",
                                                          "symbol", "clipPath", "marker", "pattern",  "mask",
                                                          "filter", "script",   "text",   ""};
        if (std::ranges::find(silent, name) != silent.end() || styleOf(node, "display") == "none")
            return;
        const auto own = svg::transformIn(valueOf(node, "transform"));
        if (!own)
            return pass(fmt::format("a transform that cannot be read: {}", valueOf(node, "transform")));
        const Affine all = outer.after(*own);
        Said said = saidBy(node, around);
        const bool isGroup = name == "g" || name == "svg" || name == "a" || name == "switch";
        if (!valueOf(node, "data-piece").empty())
            said.frame = isGroup ? std::optional(all) : std::nullopt;
        if (isGroup)
            return readChildren(node, all, said, depth + 1);
        if (name == "use" || name == "image" || name == "foreignObject")
            return pass(fmt::format("<{}> is not brought in", name));
        std::vector<scene::Shape> shapes = shapesOf(node, name, all, said);
        std::erase_if(shapes, [&](const scene::Shape& shape) {
            const auto wrong = scene::faultOf(shape.geometry);
            if (wrong)
                pass(fmt::format("a shape that cannot be one: {}", *wrong));
            const geometry::Bounds box = world::boundsOf(shape, {});
            const bool isFar = !(std::max({std::abs(box.low.x), std::abs(box.low.y), std::abs(box.high.x),
                                           std::abs(box.high.y)}) < farthest);
            if (!wrong && isFar)
                pass("a shape that is farther away than 10,000 km");
            return wrong.has_value() || isFar;
        });
        if (!shapes.empty())
            addTo(node, said, std::move(shapes));
    }

    /// The shapes of an element, in the scene.
    std::vector<scene::Shape> shapesOf(const pugi::xml_node& node, std::string_view name, const Affine& all,
                                       const Said& said)
    {
        const double even = all.evenScale();
        const auto point = [&](double x, double y) { return inScene(all.apply({x, y})); };
        if (name == "rect") {
            const double x = lengthOf(node, "x");
            const double y = lengthOf(node, "y");
            const double w = lengthOf(node, "width");
            const double h = lengthOf(node, "height");
            if (!(w > 0) || !(h > 0))
                return {};
            if (lengthOf(node, "rx") > 0 || lengthOf(node, "ry") > 0)
                pass("rounded corners are brought in sharp");
            if (even > 0 && !said.isLine)
                return {made(scene::Box{{w * even, h * even}}, point(x + w / 2, y + h / 2), all.turn(), said)};
            return fromWays({{{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true}}, all, said);
        }
        if (name == "circle" || name == "ellipse") {
            const Vec middle{lengthOf(node, "cx"), lengthOf(node, "cy")};
            const double r = lengthOf(node, "r");
            const Vec radii = name == "circle" ? Vec{r, r}
                                               : Vec{lengthOf(node, "rx", lengthOf(node, "ry")),
                                                     lengthOf(node, "ry", lengthOf(node, "rx"))};
            if (!(radii.x > 0) || !(radii.y > 0))
                return {};
            if (even > 0 && radii.x == radii.y && !said.isLine)
                return {made(scene::Circle{radii.x * even}, point(middle.x, middle.y), 0, said)};
            return fromWays({svg::ellipse(middle, radii, toleranceIn(all))}, all, said);
        }
        if (name == "line") {
            const Vec from = point(lengthOf(node, "x1"), lengthOf(node, "y1"));
            const Vec to = point(lengthOf(node, "x2"), lengthOf(node, "y2"));
            if (said.isCapsule && said.stroke > 0 && even > 0) {
                const Vec middle = (from + to) * 0.5;
                return {made(scene::Capsule{from - middle, to - middle, said.stroke * even / 2}, middle, 0, said)};
            }
            return {made(scene::Line{{from, to}, false}, {0, 0}, 0, said)};
        }
        if (name == "polyline" || name == "polygon") {
            Way way{{}, name == "polygon"};
            Reading reading{valueOf(node, "points")};
            while (const auto one = reading.point())
                way.points.push_back(*one);
            if (!reading.atEnd())
                pass("points that cannot be read to their end");
            Said as = said;
            as.isLine = said.isLine || name == "polyline";
            return fromWays({way}, all, as);
        }
        if (name == "path") {
            auto ways = svg::waysOf(valueOf(node, "d"), toleranceIn(all));
            if (!ways) {
                pass("a path that cannot be read to its end");
                return {};
            }
            return fromWays(*ways, all, said);
        }
        pass(fmt::format("<{}> is not known", name));
        return {};
    }

    /// Units of the drawing.
    double toleranceIn(const Affine& all) const
    {
        const double largest = std::max(std::hypot(all.a, all.b), std::hypot(all.c, all.d));
        return options_.tolerance / std::max(largest, 1e-12);
    }

    static constexpr double farthest = 1e7; ///< m: there a micrometre can still be told

    /// To a micrometre: what is finer is dust of the curves.
    static Vec rounded(const Vec& point)
    {
        const auto one = [](double value) { return std::round(value * 1e6) / 1e6 + 0.0; };
        return {one(point.x), one(point.y)};
    }
    static Vec inScene(const Vec& point) { return rounded({point.x, -point.y}); }

    static scene::Shape made(scene::Geometry geometry, const Vec& at, double turn, const Said& said)
    {
        scene::Shape shape;
        shape.geometry = std::move(geometry);
        shape.at = at;
        shape.turn = turn == 0 ? 0 : turn; // no -0
        shape.role = said.role == "zone" ? scene::Role::zone : scene::Role::solid;
        return shape;
    }

    /// Areas where they are closed, else lines.
    std::vector<scene::Shape> fromWays(const std::vector<Way>& ways, const Affine& all, const Said& said)
    {
        std::vector<scene::Shape> shapes;
        for (const Way& way : ways) {
            std::vector<Vec> points;
            for (const Vec& one : way.points)
                if (const Vec to = inScene(all.apply(one)); points.empty() || glm::length(to - points.back()) > 1e-7)
                    points.push_back(to);
            bool closed = way.closed;
            if (points.size() > 3 && glm::length(points.front() - points.back()) <= 1e-7) {
                points.pop_back();
                closed = true;
            }
            if (points.size() < 2)
                continue;
            if (said.isLine || !closed)
                shapes.push_back(
                    made(scene::Line{std::move(points), closed && way.points.size() > 2}, {0, 0}, 0, said));
            else
                shapes.push_back(made(scene::Polygon{std::move(points)}, {0, 0}, 0, said));
        }
        return shapes;
    }

    /// Puts shapes, which are placed in the scene, onto the piece that the element names, or onto
    /// one of their own.
    void addTo(const pugi::xml_node& node, const Said& said, std::vector<scene::Shape> shapes)
    {
        scene::Piece* piece = nullptr;
        if (const auto found = named_.find(said.piece); !said.piece.empty() && found != named_.end())
            piece = &pieces_[found->second];
        if (!piece) {
            if (!said.piece.empty())
                named_[said.piece] = pieces_.size();
            piece = &pieces_.emplace_back();
            piece->id = freeName(!said.piece.empty() ? said.piece : std::string(valueOf(node, "id")));
            if (scene::isId(said.group))
                piece->group = said.group;
            piece->templateName = said.form;
            piece->layer = said.layer;
            if (said.body == "kinematic")
                piece->body = scene::KinematicBody{};
            else if (said.body == "dynamic")
                piece->body = scene::DynamicBody{};
            else if (said.body == "walker")
                piece->body = scene::WalkerBody{};
            else if (said.body == "driven")
                piece->body = scene::DrivenBody{};
            forWords(said.tags, [&](std::string_view tag) {
                if (scene::isId(tag))
                    piece->tags.emplace_back(tag);
            });
            if (said.frame && said.frame->evenScale() > 0) {
                piece->at = inScene({said.frame->e, said.frame->f});
                piece->turn = said.frame->turn() == 0 ? 0 : said.frame->turn(); // no -0
            } else {
                geometry::Bounds box;
                for (const scene::Shape& shape : shapes)
                    box.include(world::boundsOf(shape, {}));
                piece->at = rounded(box.centre());
            }
        }
        const std::string_view shapeId = valueOf(node, "data-shape");
        for (scene::Shape& shape : shapes) {
            place(shape, {piece->at, piece->turn});
            if (scene::faultOf(shape.geometry)) { // it was too thin for micrometres
                pass("a shape that is too thin");
                continue;
            }
            const bool isNumber =
                !shapeId.empty() && std::ranges::all_of(shapeId, [](char c) { return c >= '0' && c <= '9'; });
            if (scene::isId(shapeId) && !isNumber && !scene::findShape(*piece, shapeId))
                shape.id = shapeId;
            piece->shapes.push_back(std::move(shape));
        }
    }

    /// From the axes of the scene into those of a piece.
    static void place(scene::Shape& shape, const geometry::Pose& pose)
    {
        if (std::vector<Vec>* points = scene::pointsOf(shape.geometry)) {
            for (Vec& point : *points)
                point = rounded(geometry::toLocal(pose, point));
            return;
        }
        shape.at = rounded(geometry::toLocal(pose, shape.at));
        if (auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
            const geometry::Pose turned{{0, 0}, pose.turn};
            capsule->from = rounded(geometry::toLocal(turned, capsule->from));
            capsule->to = rounded(geometry::toLocal(turned, capsule->to));
        } else if (std::holds_alternative<scene::Box>(shape.geometry)) {
            shape.turn -= pose.turn;
        }
    }

    std::string freeName(const std::string& wanted)
    {
        std::string stem;
        for (const char c : wanted)
            stem += scene::isId(std::string_view(&c, 1)) ? c : '-';
        if (stem.empty() || scene::isReserved(stem))
            stem = "piece";
        std::string name = stem;
        int& last = numbers_.try_emplace(stem, 1).first->second;
        while (!taken_.insert(name).second)
            name = fmt::format("{}-{}", stem, ++last);
        return name;
    }

    DrawingOptions options_;
    std::vector<scene::Piece> pieces_;
    std::map<std::string, std::size_t, std::less<>> named_; ///< by what `data-piece` says
    std::set<std::string> taken_;
    std::map<std::string, int> numbers_;
    std::map<std::string, int> passed_;
};

} // namespace

tl::expected<Drawing, Problem> piecesFrom(std::string_view svg, const std::string& file, const DrawingOptions& options)
{
    const auto problem = [&](std::string text, std::size_t at) {
        const auto [line, column] = placeOf(svg, std::min(at, svg.size()));
        return tl::unexpected(Problem{file, line, column, {}, std::move(text)});
    };
    if (const std::size_t at = svg.find("<!ENTITY"); at != std::string_view::npos)
        return problem("it declares entities, which are not read", at);
    pugi::xml_document document;
    const pugi::xml_parse_result parsed = document.load_buffer(svg.data(), svg.size(), pugi::parse_default);
    if (!parsed)
        return problem(parsed.description(), static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, parsed.offset)));
    pugi::xml_node root = document.document_element();
    const std::string_view name = root.name();
    if (name != "svg" && name != "svg:svg")
        return problem("it is no SVG", 0);
    DrawingReader reader{options};
    reader.read(root);
    if (reader.fault)
        return problem(*reader.fault, 0);
    return reader.finish();
}

std::vector<std::string> bringIn(scene::Scene& scene, Drawing drawing, const Vec& by, std::vector<std::string>& notes)
{
    std::set<std::string> missing;
    for (scene::Piece& piece : drawing.clip.pieces) {
        if (piece.templateName.empty())
            continue;
        if (!scene::findTemplate(scene, piece.templateName)) {
            missing.insert(std::exchange(piece.templateName, {}));
            continue;
        }
        scene::Piece stamped = scene::stamped(scene, piece.templateName);
        stamped.id = piece.id;
        stamped.at = piece.at;
        stamped.turn = piece.turn;
        piece = std::move(stamped);
    }
    for (const std::string& name : missing)
        notes.push_back(fmt::format("there is no template {}: its pieces are plain ones", name));
    // One look at all names: a drawing may have very many pieces.
    std::set<std::string, std::less<>> taken;
    for (const scene::Piece& piece : scene.pieces)
        taken.insert(piece.id);
    for (const scene::Source& source : scene.sources)
        taken.insert(source.id);
    for (const scene::Laid& laid : scene.laid)
        taken.insert(laid.id);
    std::map<std::string, int> numbers;
    std::vector<std::string> made;
    for (scene::Piece& piece : drawing.clip.pieces) {
        const std::string stem = piece.id;
        int& last = numbers.try_emplace(stem, 1).first->second;
        while (!taken.insert(piece.id).second)
            piece.id = fmt::format("{}-{}", stem, ++last);
        piece.at += by;
        made.push_back(piece.id);
        scene.pieces.push_back(std::move(piece));
    }
    return made;
}

} // namespace snare::io
