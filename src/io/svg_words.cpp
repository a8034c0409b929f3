// SPDX-License-Identifier: Apache-2.0
#include "io/svg_words.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <string>

namespace snare::io::svg {

void Reading::skip()
{
    while (at_ < text_.size() && std::string_view(" \t\r\n,").find(text_[at_]) != std::string_view::npos)
        ++at_;
}

std::string_view Reading::word()
{
    skip();
    const std::size_t from = at_;
    while (at_ < text_.size() && std::isalpha(static_cast<unsigned char>(text_[at_])))
        ++at_;
    return text_.substr(from, at_ - from);
}

std::optional<double> Reading::number()
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

std::optional<bool> Reading::flag()
{
    skip();
    const char c = take();
    return c == '0' ? std::optional(false) : c == '1' ? std::optional(true) : std::nullopt;
}

namespace {

Affine rotation(double degrees)
{
    const geometry::Rotation r = geometry::rotationOf(degrees);
    return {r.cos, r.sin, -r.sin, r.cos, 0, 0};
}

} // namespace

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
            all = all.after({1, 0, 0, 1, at(1, 0), at(2, 0)})
                      .after(rotation(n[0]))
                      .after({1, 0, 0, 1, -at(1, 0), -at(2, 0)});
        else if (what == "skewX" && n.size() == 1)
            all = all.after({1, 0, tilt(n[0]), 1, 0, 0});
        else if (what == "skewY" && n.size() == 1)
            all = all.after({1, tilt(n[0]), 0, 1, 0, 0});
        else
            return std::nullopt;
    }
    return all.isFinite() ? std::optional(all) : std::nullopt;
}

namespace {

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
            points.push_back(middle + Vec{on.x * std::cos(tilt) - on.y * std::sin(tilt),
                                          on.x * std::sin(tilt) + on.y * std::cos(tilt)});
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
        const Vec p{std::cos(tilt) * half.x + std::sin(tilt) * half.y,
                    -std::sin(tilt) * half.x + std::cos(tilt) * half.y};
        const double over = p.x * p.x / (r.x * r.x) + p.y * p.y / (r.y * r.y);
        if (over > 1)
            r *= std::sqrt(over);
        const double below = r.x * r.x * p.y * p.y + r.y * r.y * p.x * p.x;
        const double root = std::sqrt(std::max(0.0, r.x * r.x * r.y * r.y / below - 1)) * (*large == *sweep ? -1 : 1);
        const Vec c{root * r.x * p.y / r.y, -root * r.y * p.x / r.x};
        const Vec middle =
            Vec{std::cos(tilt) * c.x - std::sin(tilt) * c.y, std::sin(tilt) * c.x + std::cos(tilt) * c.y} +
            (now_ + to) * 0.5;
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

} // namespace

std::optional<std::vector<Way>> waysOf(std::string_view path, double tolerance)
{
    return PathReading{path, tolerance}.ways();
}

Way ellipse(const Vec& middle, const Vec& radii, double tolerance)
{
    Way way{{}, true};
    Flattening{tolerance}.arc(way.points, middle, radii, 0, 0, 2 * std::numbers::pi);
    return way;
}

} // namespace snare::io::svg
