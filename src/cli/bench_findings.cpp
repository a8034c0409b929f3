// SPDX-License-Identifier: Apache-2.0
/// `snare bench findings`: how long a scene of 1,000 snares and 10,000 pieces is looked at.
#include "check/findings.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <functional>

namespace snare::cli {

namespace {

/// Carts in twenty groups and with fifty tags, plates in twenty groups, snares at both.
scene::Scene quay()
{
    scene::Scene scene;
    for (int i = 0; i < 10'000; ++i) {
        scene::Piece piece;
        const bool isPlate = i >= 5'000;
        piece.id = fmt::format("{}{}", isPlate ? "plate-" : "cart-", i % 5'000);
        piece.group = fmt::format("{}{}", isPlate ? "plates-" : "carts-", i % 20);
        piece.at = {i % 100 * 2.0, i / 100 * 2.0};
        scene::Shape shape;
        shape.geometry = scene::Box{{1, 1}};
        if (isPlate) {
            shape.role = scene::Role::zone;
        } else {
            piece.tags = {fmt::format("load-{}", i % 50)};
            piece.body = scene::KinematicBody{};
        }
        piece.shapes.push_back(std::move(shape));
        scene.pieces.push_back(std::move(piece));
    }
    for (int i = 0; i < 1'000; ++i) {
        scene::Snare snare;
        snare.id = fmt::format("snare-{}", i);
        if (i < 900) {
            snare.catches.at = i % 2 == 0 ? fmt::format("plate-{}", i) : fmt::format("group:plates-{}", i % 20);
            snare.filter.tags.any = {fmt::format("load-{}", i % 50)};
            snare.responses = {{scene::Signal{{fmt::format("full-{}", i % 30)}, {}, {}, false}, {}},
                               {scene::Hide{{{fmt::format("cart-{}", i)}}}, {}}};
        } else {
            snare.catches.event = {{scene::EventKind::heard}};
            snare.catches.signal = fmt::format("full-{}", i % 30);
            snare.catches.at = fmt::format("cart-{}", i);
            snare.responses = {{scene::Hide{}, {}}};
        }
        scene.snares.push_back(std::move(snare));
    }
    return scene;
}

double milliseconds(const std::function<void()>& work)
{
    const auto begin = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
}

/// The shortest of a few times.
double best(const std::function<void()>& work)
{
    double shortest = milliseconds(work);
    for (int i = 0; i < 4; ++i)
        shortest = std::min(shortest, milliseconds(work));
    return shortest;
}

} // namespace

int measureFindings()
{
    const scene::Scene scene = quay();
    scene::Scene wrong = scene; // no pair of groups meets: every snare is told
    for (int cart = 0; cart < 20; ++cart)
        for (int plate = 0; plate < 20; ++plate)
            wrong.contacts.push_back(
                {fmt::format("carts-{}", cart), fmt::format("plates-{}", plate), scene::Contact::pass});
    const std::string text = io::sceneText(scene);
    std::size_t found = 0;
    const double reading = best([&] { found += io::readScene(text, "bench").has_value() ? 0 : 1; });
    const double inTime = best([&] { found += check::findingsOf(scene).size(); });
    const std::size_t inOrder = found;
    const double all = best([&] { found = check::findingsOf(wrong).size(); });
    fmt::print("1,000 snares and 10,000 pieces; reading the file takes {:.0f} ms\n", reading);
    fmt::print("  in order, {} findings: {:.0f} ms, {:.2f} times reading it\n", inOrder, inTime, inTime / reading);
    fmt::print("  wrong, {} findings: {:.0f} ms, {:.2f} times reading it\n", found, all, all / reading);
    return fine;
}

} // namespace snare::cli
