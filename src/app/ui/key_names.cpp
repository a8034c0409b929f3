// SPDX-License-Identifier: Apache-2.0
#include "app/ui/key_names.h"

#include "app/ui/text.h"
#include "words/text.h"

#include <QKeyEvent>

#include <xkbcommon/xkbcommon.h>

#include <array>
#include <utility>

namespace snare::app {

namespace {

struct KeyWord {
    int key;
    const char* name;
};

constexpr std::array keyWords{
    KeyWord{Qt::Key_Left, "Left"},
    KeyWord{Qt::Key_Right, "Right"},
    KeyWord{Qt::Key_Up, "Up"},
    KeyWord{Qt::Key_Down, "Down"},
    KeyWord{Qt::Key_Space, "space"},
    KeyWord{Qt::Key_Return, "Return"},
    KeyWord{Qt::Key_Enter, "KP_Enter"},
    KeyWord{Qt::Key_Backspace, "BackSpace"},
    KeyWord{Qt::Key_Tab, "Tab"},
    KeyWord{Qt::Key_Escape, "Escape"},
    KeyWord{Qt::Key_Delete, "Delete"},
    KeyWord{Qt::Key_Insert, "Insert"},
    KeyWord{Qt::Key_Home, "Home"},
    KeyWord{Qt::Key_End, "End"},
    KeyWord{Qt::Key_PageUp, "Prior"},
    KeyWord{Qt::Key_PageDown, "Next"},
    KeyWord{Qt::Key_Shift, "Shift_L"},
    KeyWord{Qt::Key_Control, "Control_L"},
    KeyWord{Qt::Key_Alt, "Alt_L"},
};

} // namespace

QString keyName(const QKeyEvent& event)
{
    xkb_keysym_t symbol = event.nativeVirtualKey(); // with X11 and Wayland
    if (symbol == XKB_KEY_NoSymbol) {
        for (const KeyWord& word : keyWords)
            if (word.key == event.key())
                return QString::fromLatin1(word.name);
        if (event.key() >= Qt::Key_F1 && event.key() <= Qt::Key_F35)
            symbol = XKB_KEY_F1 + static_cast<xkb_keysym_t>(event.key() - Qt::Key_F1);
        else if (event.key() > 0 && event.key() < Qt::Key_Escape) // a character
            symbol = xkb_utf32_to_keysym(static_cast<std::uint32_t>(event.key()));
    }
    std::array<char, 64> name{};
    const int length = xkb_keysym_get_name(xkb_keysym_to_lower(symbol), name.data(), name.size());
    return symbol == XKB_KEY_NoSymbol || length <= 0 ? QString() : QString::fromLatin1(name.data());
}

QString keyLabel(const QString& name)
{
    return toText(words::keyLabel(name.toStdString()));
}

QStringList commonKeys()
{
    QStringList names;
    for (const std::string& name : words::labelledKeys())
        names << toText(name);
    for (char letter = 'a'; letter <= 'z'; ++letter)
        names << QString(QLatin1Char(letter));
    for (char figure = '0'; figure <= '9'; ++figure)
        names << QString(QLatin1Char(figure));
    for (int i = 1; i <= 12; ++i)
        names << QStringLiteral("F%1").arg(i);
    for (const char* name : {"comma", "period", "semicolon", "apostrophe", "bracketleft", "bracketright", "slash",
                             "backslash", "minus", "equal", "grave"})
        names << QLatin1String(name);
    for (int i = 0; i <= 9; ++i)
        names << QStringLiteral("KP_%1").arg(i);
    return names;
}

} // namespace snare::app
