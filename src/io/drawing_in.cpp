// SPDX-License-Identifier: Apache-2.0
#include "io/drawing.h"

#include "scene/kits.h"
#include "scene/templates.h"
#include "world/outline.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <charconv>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

namespace snare::io {

namespace {

using geometry::Vec;

constexpr int deepest = 200;

/// x' = a·x + c·y + e, y' = b·x + d·y + f; y goes down.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;

    Vec apply(const Vec& p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    /// First `inner`, then this.
    Affine after(const Affine& inner) const
    {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b, a * inner.c + c * inner.d, b * inner.c + d * inner.d,
                a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
    }
    /// How much lengths grow if that is the same in all directions, else 0.
    double evenScale() const
    {
        const double x = std::hypot(a, b);
        const double y = std::hypot(c, d);
        const bool isRight = std::abs(a * c + b * d) <= 1e-9 * x * y;
        return isRight && std::abs(x - y) <= 1e-9 * x ? x : 0;
    }
    /// Degrees counter-clockwise in the scene.
    double turn() const { return -std::atan2(b, a) * 180 / std::numbers::pi; }
    bool isFinite() const { return std::isfinite(a + b + c + d + e + f); }
};

Affine rotation(double degrees)
{
    const geometry::Rotation r = geometry::rotationOf(degrees);
    return {r.cos, r.sin, -r.sin, r.cos, 0, 0};
}

/// Reads numbers and letters, as paths, transforms and lists of points hold them.
class Reading {
  public:
    explicit Reading(std::string_view text) : text_(text) {}

    void skip()
    {
        while (at_ < text_.size() && std::string_view(" \t\r\n,").find(text_[at_]) != std::string_view::npos)
            ++at_;
    }
    bool atEnd()
    {
        skip();
        return at_ >= text_.size();
    }
    char peek() const { return at_ < text_.size() ? text_[at_] : '\0'; }
    char take() { return at_ < text_.size() ? text_[at_++] : '\0'; }
    std::string_view word()
    {
        skip();
        const std::size_t from = at_;
        while (at_ < text_.size() && std::isalpha(static_cast<unsigned char>(text_[at_])))
            ++at_;
        return text_.substr(from, at_ - from);
    }
    std::optional<double> number()
    {
        skip();
        std::size_t from = at_;
        if (peek() == '+')
            ++from;
        double value = 0;
        const auto [end, error] = std::from_chars(text_.data() + from, text_.data() + text_.size(), value);
        if (error != std::errc() || !std::isfinite(value))
            return std::nullopt;
        at_ = static_cast<std::size_t>(end - text_.data());
        return value;
    }
    /// 0 or 1, which may stand without anything between: "a1 1 0 01 5 5".
    std::optional<bool> flag()
    {
        skip();
        const char c = take();
        return c == '0' ? std::optional(false) : c == '1' ? std::optional(true) : std::nullopt;
    }
    std::optional<Vec> point()
    {
        const auto x = number();
        const auto y = x ? number() : std::nullopt;
        return y ? std::optional(Vec{*x, *y}) : std::nullopt;
    }

  private:
    std::string_view text_;
    std::size_t at_ = 0;
};

/// Nothing if it cannot be read.
std::optional<Affine> transformIn(std::string_view text)
{
    Affine all;
    Reading reading{text};
    while (!reading.atEnd()) {
        const std::string_view what = reading.word();
        reading.skip();
        if (what.empty() || reading.take() != '(')
            return std::nullopt;
        std::vector<double> n;
        while (const auto value = reading.number())
            n.push_back(*value);
        reading.skip();
        if (reading.take() != ')')
            return std::nullopt;
        const auto at = [&](std::size_t i, double usual) { return i < n.size() ? n[i] : usual; };
        const auto tilt = [&](double degrees) { return std::tan(degrees * std::numbers::pi / 180); };
        if (what == "matrix" && n.size() == 6)
            all = all.after({n[0], n[1], n[2], n[3], n[4], n[5]});
        else if (what == "translate" && !n.empty())
            all = all.after({1, 0, 0, 1, n[0], at(1, 0)});
        else if (what == "scale" && !n.empty())
            all = all.after({n[0], 0, 0, at(1, n[0]), 0, 0});
        else if (what == "rotate" && !n.empty())
            all = all.after({1, 0, 0, 1, at(1, 0), at(2, 0)}).after(rotation(n[0])).after({1, 0, 0, 1, -at(1, 0), -at(2, 0)});
        else if (what == "skewX" && n.size() == 1)
            all = all.after({1, 0, tilt(n[0]), 1, 0, 0});
        else if (what == "skewY" && n.size() == 1)
            all = all.after({1, tilt(n[0]), 0, 1, 0, 0});
        else
            return std::nullopt;
    }
    return all.isFinite() ? std::optional(all) : std::nullopt;
}

/// A way of edges.
struct Way {
    std::vector<Vec> points;
    bool closed = false;
};

/// Curves become edges that are at most `tolerance` off; units of the drawing.
class Flattening {
  public:
    explicit Flattening(double tolerance) : tolerance_(tolerance) {}

    /// A cubic from the last point on (de Casteljau, halved until it is flat).
    void cubic(std::vector<Vec>& points, const Vec& b, const Vec& c, const Vec& d) const
    {
        divide(points, points.back(), b, c, d, 0);
        points.push_back(d);
    }
    /// An arc of an ellipse, of an angle in radians.
    void arc(std::vector<Vec>& points, const Vec& middle, const Vec& radii, double tilt, double from, double by) const
    {
        const double largest = std::max(radii.x, radii.y);
        // The sagitta of each edge is below the tolerance.
        const double step = 2 * std::acos(1 - std::min(1.0, tolerance_ / std::max(largest, tolerance_)));
        const int steps = static_cast<int>(std::clamp(std::ceil(std::abs(by) / std::max(step, 1e-3)), 2.0, 10'000.0));
        for (int i = 1; i <= steps; ++i) {
            const double angle = from + by * i / steps;
            const Vec on{radii.x * std::cos(angle), radii.y * std::sin(angle)};
            points.push_back(middle + Vec{on.x * std::cos(tilt) - on.y * std::sin(tilt), on.x * std::sin(tilt) + on.y * std::cos(tilt)});
        }
    }

  private:
    void divide(std::vector<Vec>& points, const Vec& a, const Vec& b, const Vec& c, const Vec& d, int depth) const
    {
        constexpr int halvings = 12;
        const auto offOf = [&](const Vec& p) {
            const Vec along = d - a;
            const double length = glm::length(along);
            return length > 0 ? std::abs(geometry::cross(along, p - a)) / length : glm::length(p - a);
        };
        if (depth >= halvings || (depth > 0 && std::max(offOf(b), offOf(c)) <= tolerance_))
            return;
        const Vec ab = (a + b) * 0.5;
        const Vec bc = (b + c) * 0.5;
        const Vec cd = (c + d) * 0.5;
        const Vec abc = (ab + bc) * 0.5;
        const Vec bcd = (bc + cd) * 0.5;
        const Vec middle = (abc + bcd) * 0.5;
        divide(points, a, ab, abc, middle, depth + 1);
        points.push_back(middle);
        divide(points, middle, bcd, cd, d, depth + 1);
    }

    double tolerance_;
};

/// The ways of a path; nothing if it cannot be read to its end.
class PathReading {
  public:
    PathReading(std::string_view text, double tolerance) : reading_(text), flat_(tolerance) {}

    std::optional<std::vector<Way>> ways()
    {
        char command = '\0';
        while (!reading_.atEnd()) {
            if (std::isalpha(static_cast<unsigned char>(reading_.peek())))
                command = reading_.take();
            else if (command == 'M' || command == 'm')
                command = command == 'M' ? 'L' : 'l'; // what follows a move are lines
            else if (command == 'Z' || command == 'z')
                return std::nullopt;
            if (!step(command))
                return std::nullopt;
        }
        return std::move(ways_);
    }

  private:
    bool step(char command)
    {
        const bool relative = std::islower(static_cast<unsigned char>(command)) != 0;
        const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command)));
        const Vec from = relative ? now_ : Vec{0, 0};
        if (kind == 'M') {
            const auto to = reading_.point();
            if (!to)
                return false;
            now_ = start_ = from + *to;
            ways_.push_back({{now_}, false});
            last_ = {};
            return true;
        }
        if (ways_.empty())
            return false;
        if (kind == 'Z') {
            ways_.back().closed = true;
            now_ = start_;
            last_ = {};
            return true;
        }
        if (ways_.back().closed) // goes on where the last one began
            ways_.push_back({{now_}, false});
        std::vector<Vec>& points = ways_.back().points;
        if (kind == 'L') {
            const auto to = reading_.point();
            return to && lineTo(points, from + *to);
        }
        if (kind == 'H' || kind == 'V') {
            const auto to = reading_.number();
            return to && lineTo(points, kind == 'H' ? Vec{from.x + *to, now_.y} : Vec{now_.x, from.y + *to});
        }
        if (kind == 'C' || kind == 'S')
            return cubicTo(points, from, kind == 'S');
        if (kind == 'Q' || kind == 'T')
            return quadraticTo(points, from, kind == 'T');
        return kind == 'A' && arcTo(points, from);
    }

    bool lineTo(std::vector<Vec>& points, const Vec& to)
    {
        points.push_back(to);
        now_ = to;
        last_ = {};
        return true;
    }

    bool cubicTo(std::vector<Vec>& points, const Vec& from, bool smooth)
    {
        const auto first = smooth ? std::optional(last_.kind == 'C' ? now_ * 2.0 - last_.control : now_)
                                  : reading_.point();
        const auto second = first ? reading_.point() : std::nullopt;
        const auto to = second ? reading_.point() : std::nullopt;
        if (!to)
            return false;
        flat_.cubic(points, smooth ? *first : from + *first, from + *second, from + *to);
        last_ = {'C', from + *second};
        now_ = from + *to;
        return true;
    }

    bool quadraticTo(std::vector<Vec>& points, const Vec& from, bool smooth)
    {
        std::optional<Vec> control;
        if (smooth)
            control = last_.kind == 'Q' ? now_ * 2.0 - last_.control : now_;
        else if (const auto given = reading_.point())
            control = from + *given;
        const auto to = control ? reading_.point() : std::nullopt;
        if (!to)
            return false;
        const Vec end = from + *to;
        flat_.cubic(points, now_ + (*control - now_) * (2.0 / 3), end + (*control - end) * (2.0 / 3), end);
        last_ = {'Q', *control};
        now_ = end;
        return true;
    }

    /// From end points to middle and angles as SVG 1.1 tells it (appendix F.6.5).
    bool arcTo(std::vector<Vec>& points, const Vec& from)
    {
        const auto radii = reading_.point();
        const auto degrees = radii ? reading_.number() : std::nullopt;
        const auto large = degrees ? reading_.flag() : std::nullopt;
        const auto sweep = large ? reading_.flag() : std::nullopt;
        const auto given = sweep ? reading_.point() : std::nullopt;
        if (!given)
            return false;
        const Vec to = from + *given;
        Vec r{std::abs(radii->x), std::abs(radii->y)};
        if (r.x == 0 || r.y == 0 || to == now_)
            return lineTo(points, to);
        const double tilt = *degrees * std::numbers::pi / 180;
        const Vec half = (now_ - to) * 0.5;
        const Vec p{std::cos(tilt) * half.x + std::sin(tilt) * half.y, -std::sin(tilt) * half.x + std::cos(tilt) * half.y};
        const double over = p.x * p.x / (r.x * r.x) + p.y * p.y / (r.y * r.y);
        if (over > 1)
            r *= std::sqrt(over);
        const double below = r.x * r.x * p.y * p.y + r.y * r.y * p.x * p.x;
        const double root = std::sqrt(std::max(0.0, r.x * r.x * r.y * r.y / below - 1)) * (*large == *sweep ? -1 : 1);
        const Vec c{root * r.x * p.y / r.y, -root * r.y * p.x / r.x};
        const Vec middle = Vec{std::cos(tilt) * c.x - std::sin(tilt) * c.y, std::sin(tilt) * c.x + std::cos(tilt) * c.y} + (now_ + to) * 0.5;
        const double begin = std::atan2((p.y - c.y) / r.y, (p.x - c.x) / r.x);
        double by = std::atan2((-p.y - c.y) / r.y, (-p.x - c.x) / r.x) - begin;
        if (*sweep && by < 0)
            by += 2 * std::numbers::pi;
        if (!*sweep && by > 0)
            by -= 2 * std::numbers::pi;
        flat_.arc(points, middle, r, tilt, begin, by);
        points.back() = to;
        now_ = to;
        last_ = {};
        return true;
    }

    struct Control {
        char kind = '\0';
        Vec control{0, 0};
    };

    Reading reading_;
    Flattening flat_;
    std::vector<Way> ways_;
    Vec now_{0, 0};
    Vec start_{0, 0};
    Control last_;
};

/// What elements say of themselves, handed on to what is in them.
struct Said {
    std::string role, group, tags, form, body, piece;
    int layer = 0;
    bool filled = true;
    double stroke = 0; ///< units
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

    double lengthOf(const pugi::xml_node& node, const char* name, double usual = 0) const
    {
        Reading reading{styleOf(node, name)};
        return reading.number().value_or(usual);
    }

    Said saidBy(const pugi::xml_node& node, Said said) const
    {
        const auto take = [&](std::string& to, const char* name) {
            if (const std::string_view value = valueOf(node, name); !value.empty())
                to = value;
        };
        said.isLine = said.isCapsule = false;
        std::string_view words = valueOf(node, "class");
        while (!words.empty()) {
            const std::string_view word = words.substr(0, words.find(' '));
            words.remove_prefix(std::min(words.size(), word.size() + 1));
            if (word == "solid" || word == "zone")
                said.role = word;
            else if (word == "line")
                said.isLine = true;
            else if (word == "capsule")
                said.isCapsule = true;
            else if (!word.empty() && scene::isId(word))
                said.tags += (said.tags.empty() ? "" : " ") + std::string(word);
        }
        take(said.role, "data-role");
        take(said.group, "data-group");
        take(said.tags, "data-tags");
        take(said.form, "data-template");
        take(said.body, "data-body");
        take(said.piece, "data-piece");
        if (const std::string_view layer = valueOf(node, "data-layer"); !layer.empty())
            said.layer = static_cast<int>(std::clamp(Reading{layer}.number().value_or(0), -1e6, 1e6));
        if (const std::string_view fill = styleOf(node, "fill"); !fill.empty())
            said.filled = fill != "none";
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
        constexpr std::array<std::string_view, 14> silent{"title",    "desc",    "style",  "metadata", "defs",   "symbol", "clipPath",
                                                          "marker",   "pattern", "mask",   "filter",   "script", "text",   ""};
        if (std::ranges::find(silent, name) != silent.end() || styleOf(node, "display") == "none")
            return;
        const auto own = transformIn(valueOf(node, "transform"));
        if (!own)
            return pass(fmt::format("a transform that cannot be read: {}", valueOf(node, "transform")));
        const Affine all = outer.after(*own);
        const Said said = saidBy(node, around);
        if (name == "g" || name == "svg" || name == "a" || name == "switch")
            return readChildren(node, all, said, depth + 1);
        if (name == "use" || name == "image" || name == "foreignObject")
            return pass(fmt::format("<{}> is not brought in", name));
        std::vector<scene::Shape> shapes = shapesOf(node, name, all, said);
        std::erase_if(shapes, [&](const scene::Shape& shape) {
            const auto wrong = scene::faultOf(shape.geometry);
            if (wrong)
                pass(fmt::format("a shape that cannot be one: {}", *wrong));
            return wrong.has_value();
        });
        if (!shapes.empty())
            addTo(node, outer, said, std::move(shapes));
    }

    /// The shapes of an element, in the scene.
    std::vector<scene::Shape> shapesOf(const pugi::xml_node& node, std::string_view name, const Affine& all, const Said& said)
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
            if (even > 0 && !said.isLine)
                return {made(scene::Box{{w * even, h * even}}, point(x + w / 2, y + h / 2), all.turn(), said)};
            return fromWays({{{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true}}, all, said);
        }
        if (name == "circle" || name == "ellipse") {
            const Vec middle{lengthOf(node, "cx"), lengthOf(node, "cy")};
            const double r = lengthOf(node, "r");
            const Vec radii = name == "circle" ? Vec{r, r} : Vec{lengthOf(node, "rx", lengthOf(node, "ry")), lengthOf(node, "ry", lengthOf(node, "rx"))};
            if (!(radii.x > 0) || !(radii.y > 0))
                return {};
            if (even > 0 && radii.x == radii.y && !said.isLine)
                return {made(scene::Circle{radii.x * even}, point(middle.x, middle.y), 0, said)};
            Way way{{}, true};
            Flattening{toleranceIn(all)}.arc(way.points, middle, radii, 0, 0, 2 * std::numbers::pi);
            return fromWays({way}, all, said);
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
            auto ways = PathReading{valueOf(node, "d"), toleranceIn(all)}.ways();
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

    /// To a micrometre: what is finer is dust of the curves.
    static Vec inScene(const Vec& point)
    {
        const auto rounded = [](double value) { return std::round(value * 1e6) / 1e6 + 0.0; };
        return {rounded(point.x), rounded(-point.y)};
    }

    static scene::Shape made(scene::Geometry geometry, const Vec& at, double turn, const Said& said)
    {
        scene::Shape shape;
        shape.geometry = std::move(geometry);
        shape.at = at;
        shape.turn = turn == 0 ? 0 : turn; // no -0
        shape.role = said.role == "zone" ? scene::Role::zone : scene::Role::solid;
        return shape;
    }

    /// Areas where they are closed or filled, else lines.
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
                shapes.push_back(made(scene::Line{std::move(points), closed && way.points.size() > 2}, {0, 0}, 0, said));
            else
                shapes.push_back(made(scene::Polygon{std::move(points)}, {0, 0}, 0, said));
        }
        return shapes;
    }

    /// Puts shapes, which are placed in the scene, onto the piece that the element names, or onto one of their own.
    void addTo(const pugi::xml_node& node, const Affine& outer, const Said& said, std::vector<scene::Shape> shapes)
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
            std::string_view tags = said.tags;
            while (!tags.empty()) {
                const std::string_view tag = tags.substr(0, tags.find(' '));
                tags.remove_prefix(std::min(tags.size(), tag.size() + 1));
                if (scene::isId(tag))
                    piece->tags.emplace_back(tag);
            }
            if (!said.piece.empty() && outer.evenScale() > 0) { // its own axes are those of the group around
                piece->at = inScene({outer.e, outer.f});
                piece->turn = outer.turn() == 0 ? 0 : outer.turn();
            } else {
                geometry::Bounds box;
                for (const scene::Shape& shape : shapes)
                    box.include(world::boundsOf(shape, {}));
                piece->at = box.centre();
            }
        }
        const std::string_view shapeId = valueOf(node, "data-shape");
        for (scene::Shape& shape : shapes) {
            place(shape, {piece->at, piece->turn});
            const bool isNumber = !shapeId.empty() && std::ranges::all_of(shapeId, [](char c) { return c >= '0' && c <= '9'; });
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
                point = geometry::toLocal(pose, point);
            return;
        }
        shape.at = geometry::toLocal(pose, shape.at);
        if (auto* capsule = std::get_if<scene::Capsule>(&shape.geometry)) {
            const geometry::Pose turned{{0, 0}, pose.turn};
            capsule->from = geometry::toLocal(turned, capsule->from);
            capsule->to = geometry::toLocal(turned, capsule->to);
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
