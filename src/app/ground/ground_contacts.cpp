// SPDX-License-Identifier: Apache-2.0
#include "app/ground/ground_contacts.h"

#include "geometry/gap.h"
#include "world/outline.h"

namespace snare::app {

namespace {

/// The parts of a shape as they lie at the moment shown.
std::vector<geometry::Hull> placedParts(const ShownPiece& piece, std::size_t shape)
{
    if (shape >= piece.piece->shapes.size())
        return {};
    std::vector<geometry::Hull> parts = world::partsOf(piece.piece->shapes[shape]);
    for (geometry::Hull& part : parts)
        part = geometry::placed(part, piece.pose);
    return parts;
}

} // namespace

std::vector<ShownContact> contactsAt(const sim::Record& record, std::int64_t tick,
                                     const std::vector<ShownPiece>& pieces)
{
    constexpr std::size_t most = 300;
    std::vector<ShownContact> contacts;
    const auto shownAs = [&](world::PieceIndex index) {
        const std::string_view id = record.nameOf(index);
        return std::ranges::find_if(pieces, [&](const ShownPiece& piece) { return piece.piece->id == id; });
    };
    for (const sim::Insider& inside : sim::insidersAt(record, tick)) {
        const sim::ShapeName& shape = record.shapeNames[static_cast<std::size_t>(inside.shape)];
        if (inside.manner != world::Manner::stop || inside.part < 0 || shape.piece > inside.visitor)
            continue;
        const auto self = shownAs(shape.piece);
        const auto visitor = shownAs(inside.visitor);
        if (self == pieces.end() || visitor == pieces.end() || contacts.size() >= most)
            continue;
        const int number = record.shapeNames[static_cast<std::size_t>(inside.part)].number;
        const auto partsOfSelf = placedParts(*self, static_cast<std::size_t>(shape.number));
        const auto partsOfVisitor = placedParts(*visitor, static_cast<std::size_t>(number));
        double least = 0.1; // further apart than this they only touched a while ago
        std::optional<geometry::Manifold> nearest;
        for (const geometry::Hull& a : partsOfSelf)
            for (const geometry::Hull& b : partsOfVisitor)
                if (const geometry::Gap gap = geometry::gapBetween(a, b); gap.distance < least) {
                    least = gap.distance;
                    nearest = geometry::manifoldOf(a, b);
                }
        if (!nearest)
            continue;
        ShownContact contact;
        contact.normal = nearest->normal;
        for (int i = 0; i < nearest->count; ++i)
            contact.points.push_back(nearest->points[static_cast<std::size_t>(i)].at);
        contacts.push_back(std::move(contact));
    }
    return contacts;
}

} // namespace snare::app
