// SPDX-License-Identifier: Apache-2.0
/// The real window, worked by hand from an empty scene: slots of the piece card, tools, menus.
#pragma once

#include "app/cards/piece_card.h"
#include "window_fixture.h"

namespace snare::tests {

struct Hands : Bench {
    const scene::Scene& scene() { return window.document().scene(); }
    const scene::Piece& last() { return scene().pieces.back(); }

    app::SlotButton* cardSlot(const QString& name)
    {
        auto* card = window.findChild<app::PieceCard*>();
        return card ? card->findChild<app::SlotButton*>(name) : nullptr;
    }
    void press(const QString& name)
    {
        QTRY_VERIFY2(cardSlot(name), qPrintable(name));
        QTest::mouseClick(cardSlot(name), Qt::LeftButton);
    }
    void fill(const QString& name, const QString& text)
    {
        press(name);
        answer(text);
    }
    /// Draws with the tool of a key; figures are typed meanwhile by nobody.
    void draw(Qt::Key tool, const Vec& from, const Vec& to, Qt::KeyboardModifiers modifiers = {})
    {
        key(tool);
        drag(from, to, modifiers);
        key(Qt::Key_V);
    }
};

} // namespace snare::tests
