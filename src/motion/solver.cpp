// SPDX-License-Identifier: Apache-2.0
#include "motion/solver.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace snare::motion {

namespace {

/// The longest sub-step, s.
constexpr double longestStep = 1.0 / 240;
/// The fastest at which what is too deep is pushed out, m/s.
constexpr double fastestPush = 3;

/// How often contacts are solved in a sub-step at most, and what a pass may still change to be the
/// last one, m.
constexpr int mostPasses = 40;
constexpr double settled = 0.0005;

/// How hard a contact that is too deep is pushed apart: a damped spring, told so that it is stable
/// for any step.
struct Softness {
    double bias = 0; ///< m/s for each m
    double give = 0; ///< how much it gives way to an impulse, times what the bodies do

    Softness(double hertz, double damping, double step)
    {
        const double omega = 2 * std::numbers::pi * hertz;
        const double a = 2 * damping + step * omega;
        bias = omega / a;
        give = 1 / (step * omega * a);
    }
};

/// What a point of contact asks for: to part at least this fast, m/s, giving way a little.
struct Demand {
    double speed = 0;
    double give = 0;
};

class Solver {
  public:
    Solver(std::span<Body> bodies, std::span<Contact> contacts, double dt)
        : bodies_(bodies), contacts_(contacts), dt_(dt),
          steps_(std::max(1, static_cast<int>(std::ceil(dt / longestStep - 1e-9)))), step_(dt / steps_),
          loose_(std::min(30.0, 0.25 / step_), 10, step_), fixed_(std::min(60.0, 0.5 / step_), 10, step_)
    {
    }

    void run()
    {
        prepare();
        for (int i = 0; i < steps_; ++i) {
            accelerate(i);
            warmUp();
            // Once does for what rests; an impact goes through all that it pushes together.
            for (int again = 0; again < mostPasses; ++again)
                if (pass(true, again > 0) * step_ < settled)
                    break;
            move();
            pass(false, false);
        }
        bounce();
    }

  private:
    Body& body(int index) { return bodies_[static_cast<std::size_t>(index)]; }

    void prepare()
    {
        for (Contact& contact : contacts_) {
            const Body& a = body(contact.a);
            const Body& b = body(contact.b);
            const Vec tangent = geometry::perpendicular(contact.normal);
            for (int i = 0; i < contact.count; ++i) {
                ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                const auto massAlong = [&](const Vec& axis) {
                    const double armA = geometry::cross(point.onA, axis);
                    const double armB = geometry::cross(point.onB, axis);
                    const double k =
                        a.inverseMass + b.inverseMass + a.inverseInertia * armA * armA + b.inverseInertia * armB * armB;
                    return k > 0 ? 1 / k : 0;
                };
                point.normalMass = massAlong(contact.normal);
                point.tangentMass = massAlong(tangent);
                point.before = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), contact.normal);
                point.most = 0;
            }
            contact.coupling = 0;
            if (contact.count == 2) {
                const auto arm = [&](int i, bool ofA) {
                    const ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                    return geometry::cross(ofA ? point.onA : point.onB, contact.normal);
                };
                contact.coupling = a.inverseMass + b.inverseMass + a.inverseInertia * arm(0, true) * arm(1, true) +
                                   b.inverseInertia * arm(0, false) * arm(1, false);
            }
        }
    }

    void accelerate(int step)
    {
        for (Body& one : bodies_) {
            if (one.inverseMass == 0)
                continue;
            if (!one.free)
                one.velocity += one.acceleration * step_;
            else if (step == 0)
                one.velocity += one.acceleration * dt_;
        }
    }

    void push(Contact& contact, const ContactPoint& point, const Vec& impulse)
    {
        Body& a = body(contact.a);
        Body& b = body(contact.b);
        a.velocity -= impulse * a.inverseMass;
        a.spin -= a.inverseInertia * geometry::cross(point.onA, impulse);
        b.velocity += impulse * b.inverseMass;
        b.spin += b.inverseInertia * geometry::cross(point.onB, impulse);
    }

    void warmUp()
    {
        for (Contact& contact : contacts_) {
            const Vec tangent = geometry::perpendicular(contact.normal);
            for (int i = 0; i < contact.count; ++i) {
                const ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                push(contact, point, contact.normal * point.normalImpulse + tangent * point.tangentImpulse);
            }
        }
    }

    /// Solves all contacts once. The largest change of a speed, m/s.
    ///
    /// With `onlyStirred` those alone whose bodies the last pass, or this one, has changed.
    double pass(bool withBias, bool onlyStirred)
    {
        double largest = 0;
        ++passes_;
        for (Contact& contact : contacts_) {
            const Body& a = body(contact.a);
            const Body& b = body(contact.b);
            if (onlyStirred && a.stirred < passes_ - 1 && b.stirred < passes_ - 1)
                continue;
            const bool isFixed = a.inverseMass == 0 || b.inverseMass == 0;
            const Softness& soft = isFixed ? fixed_ : loose_;
            const Vec tangent = geometry::perpendicular(contact.normal);
            std::array<Demand, 2> demands;
            for (int i = 0; i < contact.count; ++i) {
                const ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                const Vec coreA = point.onA - contact.normal * contact.roundA;
                const Vec coreB = point.onB + contact.normal * contact.roundB;
                const Vec way = b.shift + turned(coreB, b.arm) - coreB - a.shift - turned(coreA, a.arm) + coreA;
                const double separation = point.separation + glm::dot(way, contact.normal);
                Demand& demand = demands[static_cast<std::size_t>(i)];
                if (separation > 0) {
                    demand.speed = -separation / step_;
                } else if (withBias) {
                    demand.speed = std::min(-soft.bias * separation, fastestPush);
                    demand.give = soft.give;
                }
            }
            const double change = press(contact, demands);
            largest = std::max(largest, change);
            if (change * step_ >= settled)
                for (const int index : {contact.a, contact.b})
                    if (body(index).inverseMass > 0)
                        body(index).stirred = passes_;
            for (int i = 0; i < contact.count; ++i) {
                ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                const double speed = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), tangent);
                const double most = contact.friction * point.normalImpulse;
                const double next = std::clamp(point.tangentImpulse - point.tangentMass * speed, -most, most);
                push(contact, point, tangent * (next - point.tangentImpulse));
                point.tangentImpulse = next;
            }
        }
        return largest;
    }

    double speedAt(const Contact& contact, const ContactPoint& point, const Vec& axis)
    {
        return glm::dot(body(contact.b).velocityAt(point.onB) - body(contact.a).velocityAt(point.onA), axis);
    }

    /// The change of the point's speed, m/s.
    double pressPoint(Contact& contact, ContactPoint& point, const Demand& demand)
    {
        const double lack = demand.speed - speedAt(contact, point, contact.normal);
        const double change = (lack * point.normalMass - demand.give * point.normalImpulse) / (1 + demand.give);
        const double next = std::max(0.0, point.normalImpulse + change);
        const double more = next - point.normalImpulse;
        push(contact, point, contact.normal * more);
        point.normalImpulse = next;
        point.most = std::max(point.most, next);
        return point.normalMass > 0 ? std::abs(more) / point.normalMass : 0;
    }

    /// Finds the impulses x >= 0 that leave both points at least as fast as demanded, and no faster
    /// where they press: A x + b = w >= 0, x w = 0, by trying which of the two press. The largest
    /// change of a point's speed, m/s.
    double press(Contact& contact, const std::array<Demand, 2>& demands)
    {
        ContactPoint& first = contact.points[0];
        ContactPoint& second = contact.points[1];
        if (contact.count < 2 || first.normalMass == 0 || second.normalMass == 0) {
            double largest = 0;
            for (int i = 0; i < contact.count; ++i)
                largest = std::max(largest, pressPoint(contact, contact.points[static_cast<std::size_t>(i)],
                                                       demands[static_cast<std::size_t>(i)]));
            return largest;
        }
        const double k11 = 1 / first.normalMass;
        const double k22 = 1 / second.normalMass;
        const double k12 = contact.coupling;
        const double a11 = k11 * (1 + demands[0].give);
        const double a22 = k22 * (1 + demands[1].give);
        const double b1 = speedAt(contact, first, contact.normal) - demands[0].speed - k11 * first.normalImpulse -
                          k12 * second.normalImpulse;
        const double b2 = speedAt(contact, second, contact.normal) - demands[1].speed - k12 * first.normalImpulse -
                          k22 * second.normalImpulse;
        const double det = a11 * a22 - k12 * k12;
        double x1 = 0;
        double x2 = 0;
        if (b1 < 0 || b2 < 0) {
            const bool both = det > 1e-9 * a11 * a22;
            const double both1 = both ? (-b1 * a22 + b2 * k12) / det : -1;
            const double both2 = both ? (-b2 * a11 + b1 * k12) / det : -1;
            if (both1 >= 0 && both2 >= 0) {
                x1 = both1;
                x2 = both2;
            } else if (-b1 / a11 >= 0 && k12 * -b1 / a11 + b2 >= -1e-12) {
                x1 = -b1 / a11;
            } else if (-b2 / a22 >= 0) {
                x2 = -b2 / a22;
            }
        }
        const double more1 = x1 - first.normalImpulse;
        const double more2 = x2 - second.normalImpulse;
        push(contact, first, contact.normal * more1);
        push(contact, second, contact.normal * more2);
        first.normalImpulse = x1;
        second.normalImpulse = x2;
        first.most = std::max(first.most, x1);
        second.most = std::max(second.most, x2);
        return std::max(std::abs(k11 * more1 + k12 * more2), std::abs(k12 * more1 + k22 * more2));
    }

    static Vec turned(const Vec& v, const Vec& arm) { return {arm.x * v.x - arm.y * v.y, arm.y * v.x + arm.x * v.y}; }

    void move()
    {
        for (Body& one : bodies_) {
            one.shift += one.velocity * step_;
            if (one.spin == 0)
                continue;
            one.turned += one.spin * step_;
            one.arm = {std::cos(one.turned), std::sin(one.turned)};
        }
    }

    /// Velocities are those of the middle of a tick (V2): the speed of the impact is that at its
    /// own moment, and what is left for the next tick is as if it had begun there. So a bounce
    /// neither gains nor loses height by the ticks.
    void bounce()
    {
        for (Contact& contact : contacts_) {
            if (contact.bounce == 0)
                continue;
            const Body& a = body(contact.a);
            const Body& b = body(contact.b);
            const double pull = glm::dot(accelerationOf(b) - accelerationOf(a), contact.normal);
            std::array<Demand, 2> demands;
            bool bounces = false;
            for (int i = 0; i < contact.count; ++i) {
                const ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                if (point.before > -restitutionThreshold || point.most == 0)
                    continue;
                const double moment = std::clamp(point.separation / (-point.before * dt_), 0.0, 1.0);
                const double impact = point.before + pull * dt_ * (0.5 + moment);
                demands[static_cast<std::size_t>(i)].speed = -contact.bounce * impact - pull * dt_ / 2;
                bounces = true;
            }
            if (!bounces)
                continue;
            press(contact, demands);
            for (ContactPoint& point : contact.points)
                point.normalImpulse = point.tangentImpulse = 0; // it will be gone: no start for the next tick
        }
    }

    static Vec accelerationOf(const Body& one) { return one.inverseMass == 0 ? Vec{0, 0} : one.acceleration; }

    std::span<Body> bodies_;
    std::span<Contact> contacts_;
    double dt_;
    int passes_ = 0;
    int steps_;
    double step_;
    Softness loose_;
    Softness fixed_;
};

} // namespace

void solve(std::span<Body> bodies, std::span<Contact> contacts, double dt)
{
    Solver{bodies, contacts, dt}.run();
}

} // namespace snare::motion
