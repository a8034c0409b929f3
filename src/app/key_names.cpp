// SPDX-License-Identifier: Apache-2.0
#include "app/key_names.h"

#include <QKeyEvent>
#include <QObject>

#include <array>
#include <utility>

namespace snare::app {

namespace {

struct KeyWord {
    int key;
    const char* name;
    const char* label;
};

constexpr std::array keyWords{
    KeyWord{Qt::Key_Left, "Left", "←"},
    KeyWord{Qt::Key_Right, "Right", "→"},
    KeyWord{Qt::Key_Up, "Up", "↑"},
    KeyWord{Qt::Key_Down, "Down", "↓"},
    KeyWord{Qt::Key_Space, "space", "Space"},
    KeyWord{Qt::Key_Return, "Return", "Return"},
    KeyWord{Qt::Key_Enter, "KP_Enter", "Enter"},
    KeyWord{Qt::Key_Backspace, "BackSpace", "Backspace"},
    KeyWord{Qt::Key_Tab, "Tab", "Tab"},
    KeyWord{Qt::Key_Delete, "Delete", "Delete"},
    KeyWord{Qt::Key_Insert, "Insert", "Insert"},
    KeyWord{Qt::Key_Home, "Home", "Home"},
    KeyWord{Qt::Key_End, "End", "End"},
    KeyWord{Qt::Key_PageUp, "Prior", "Page up"},
    KeyWord{Qt::Key_PageDown, "Next", "Page down"},
    KeyWord{Qt::Key_Shift, "Shift_L", "Shift"},
    KeyWord{Qt::Key_Control, "Control_L", "Ctrl"},
    KeyWord{Qt::Key_Alt, "Alt_L", "Alt"},
    KeyWord{Qt::Key_Comma, "comma", ","},
    KeyWord{Qt::Key_Period, "period", "."},
    KeyWord{Qt::Key_Minus, "minus", "-"},
    KeyWord{Qt::Key_Plus, "plus", "+"},
    KeyWord{Qt::Key_Slash, "slash", "/"},
};

} // namespace

QString keyName(const QKeyEvent& event)
{
    const int key = event.key();
    if (key >= Qt::Key_A && key <= Qt::Key_Z)
        return QString(QChar(u'a' + (key - Qt::Key_A)));
    if (key >= Qt::Key_0 && key <= Qt::Key_9)
        return QString(QChar(u'0' + (key - Qt::Key_0)));
    if (key >= Qt::Key_F1 && key <= Qt::Key_F12)
        return QStringLiteral("F%1").arg(key - Qt::Key_F1 + 1);
    for (const KeyWord& word : keyWords)
        if (word.key == key)
            return QString::fromLatin1(word.name);
    return {};
}

QString keyLabel(const QString& name)
{
    if (name.startsWith(QLatin1String("button:")))
        return QObject::tr("%1 button").arg(name.mid(7));
    for (const KeyWord& word : keyWords)
        if (name == QLatin1String(word.name))
            return QString::fromUtf8(word.label);
    return name.size() == 1 ? name.toUpper() : name;
}

} // namespace snare::app
