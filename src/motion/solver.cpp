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

/// How hard a contact that is too deep is pushed apart: a damped spring, told so that it is stable for any step.
struct Softness {
    double bias = 0; ///< m/s for each m
    double mass = 1; ///< part of the impulse that is given
    double rest = 0; ///< part of the impulse so far that is taken back

    Softness(double hertz, double damping, double step)
    {
        const double omega = 2 * std::numbers::pi * hertz;
        const double a = 2 * damping + step * omega;
        const double b = step * omega * a;
        const double c = 1 / (1 + b);
        bias = omega / a;
        mass = b * c;
        rest = c;
    }
};

class Solver {
  public:
    Solver(std::span<Body> bodies, std::span<Contact> contacts, double dt)
        : bodies_(bodies), contacts_(contacts), dt_(dt), steps_(std::max(1, static_cast<int>(std::ceil(dt / longestStep - 1e-9)))),
          step_(dt / steps_), loose_(std::min(30.0, 0.25 / step_), 10, step_),
          fixed_(std::min(60.0, 0.5 / step_), 10, step_)
    {
    }

    void run()
    {
        prepare();
        for (int i = 0; i < steps_; ++i) {
            accelerate(i);
            warmUp();
            pass(true);
            move();
            pass(false);
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
                    const double k = a.inverseMass + b.inverseMass + a.inverseInertia * armA * armA +
                                     b.inverseInertia * armB * armB;
                    return k > 0 ? 1 / k : 0;
                };
                point.normalMass = massAlong(contact.normal);
                point.tangentMass = massAlong(tangent);
                point.before = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), contact.normal);
                point.most = 0;
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
                push(contact, point, contact.normal * point.pressed + tangent * point.rubbed);
            }
        }
    }

    void pass(bool withBias)
    {
        for (Contact& contact : contacts_) {
            const Body& a = body(contact.a);
            const Body& b = body(contact.b);
            const bool isFixed = a.inverseMass == 0 || b.inverseMass == 0;
            const Softness& soft = isFixed ? fixed_ : loose_;
            const Vec tangent = geometry::perpendicular(contact.normal);
            for (int i = 0; i < contact.count; ++i) {
                ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                const Vec way = b.shift + turned(point.onB, b.arm) - point.onB - a.shift - turned(point.onA, a.arm) +
                                point.onA;
                const double separation = point.separation + glm::dot(way, contact.normal);
                double bias = 0;
                double mass = 1;
                double rest = 0;
                if (separation > 0) {
                    bias = separation / step_;
                } else if (withBias) {
                    bias = std::max(soft.bias * separation, -fastestPush);
                    mass = soft.mass;
                    rest = soft.rest;
                }
                const double speed = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), contact.normal);
                const double wanted = -point.normalMass * mass * (speed + bias) - rest * point.pressed;
                const double next = std::max(0.0, point.pressed + wanted);
                push(contact, point, contact.normal * (next - point.pressed));
                point.pressed = next;
                point.most = std::max(point.most, next);
            }
            for (int i = 0; i < contact.count; ++i) {
                ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                const double speed = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), tangent);
                const double most = contact.friction * point.pressed;
                const double next = std::clamp(point.rubbed - point.tangentMass * speed, -most, most);
                push(contact, point, tangent * (next - point.rubbed));
                point.rubbed = next;
            }
        }
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

    /// Velocities are those of the middle of a tick (V2): the speed of the impact is that at its own moment, and what
    /// is left for the next tick is as if it had begun there. So a bounce neither gains nor loses height by the ticks.
    void bounce()
    {
        for (Contact& contact : contacts_) {
            if (contact.bounce == 0)
                continue;
            const Body& a = body(contact.a);
            const Body& b = body(contact.b);
            const double pull = glm::dot(accelerationOf(b) - accelerationOf(a), contact.normal);
            for (int i = 0; i < contact.count; ++i) {
                ContactPoint& point = contact.points[static_cast<std::size_t>(i)];
                if (point.before > -bounceFrom || point.most == 0)
                    continue;
                const double moment = std::clamp(point.separation / (-point.before * dt_), 0.0, 1.0);
                const double impact = point.before + pull * dt_ * (0.5 + moment);
                const double wanted = -contact.bounce * impact - pull * dt_ / 2;
                const double speed = glm::dot(b.velocityAt(point.onB) - a.velocityAt(point.onA), contact.normal);
                const double next = std::max(0.0, point.pressed + point.normalMass * (wanted - speed));
                push(contact, point, contact.normal * (next - point.pressed));
                point.most = std::max(point.most, next);
                point.pressed = 0; // it will be gone: no start for the next tick
                point.rubbed = 0;
            }
        }
    }

    static Vec accelerationOf(const Body& one) { return one.inverseMass == 0 ? Vec{0, 0} : one.acceleration; }

    std::span<Body> bodies_;
    std::span<Contact> contacts_;
    double dt_;
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
