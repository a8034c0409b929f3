// SPDX-License-Identifier: Apache-2.0
#include "words/text.h"

#include <fmt/format.h>
#include <xkbcommon/xkbcommon.h>

#include <array>
#include <cctype>

namespace snare::words {

std::string joined(const std::vector<std::string>& list, std::string_view last)
{
    std::string result;
    for (std::size_t i = 0; i < list.size(); ++i) {
        if (i > 0)
            result += i + 1 == list.size() ? fmt::format(" {} ", last) : ", ";
        result += list[i];
    }
    return result;
}

std::string joinedBy(const std::vector<std::string>& list, std::string_view between)
{
    return fmt::format("{}", fmt::join(list, between));
}

std::string targetText(std::string_view name)
{
    if (name == "self")
        return "itself";
    if (name == "visitor")
        return "the visitor";
    if (name == "sender")
        return "the sender";
    if (name == "scene")
        return "the scene";
    if (name.starts_with("tag:"))
        return fmt::format("all tagged {}", name.substr(4));
    if (name.starts_with("group:"))
        return fmt::format("all of group {}", name.substr(6));
    if (name.starts_with("template:"))
        return fmt::format("all of template {}", name.substr(9));
    if (name.starts_with("part:"))
        return fmt::format("the {} of the same one", name.substr(5));
    if (name == "assembly")
        return "all of the same assembly";
    return std::string(name);
}

std::string figure(double number)
{
    return fmt::format("{:.9g}", number);
}

std::string numberText(double number, scene::Unit unit)
{
    const std::string_view symbol = scene::symbolOf(unit);
    if (symbol.empty())
        return figure(number);
    return figure(number) + (unit == scene::Unit::degrees ? "" : " ") + std::string(symbol);
}

std::string pair(const scene::Vec& v)
{
    return figure(v.x) + ", " + figure(v.y);
}

std::string counted(std::size_t count, std::string_view one, std::string_view many)
{
    return fmt::format("{} {}", count, count == 1 ? one : many);
}

std::string withArticle(std::string_view noun)
{
    const bool vowel = !noun.empty() && std::string_view("aeiouAEIOU").find(noun.front()) != std::string_view::npos;
    return fmt::format("{} {}", vowel ? "an" : "a", noun);
}

std::string trimmed(std::string_view text)
{
    const auto isSpace = [](char letter) { return std::isspace(static_cast<unsigned char>(letter)) != 0; };
    while (!text.empty() && isSpace(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && isSpace(text.back()))
        text.remove_suffix(1);
    return std::string(text);
}

namespace {

struct KeyLabel {
    std::string_view name;
    std::string_view label;
};

constexpr std::array keyLabels{
    KeyLabel{"Left", "←"},         KeyLabel{"Right", "→"},
    KeyLabel{"Up", "↑"},           KeyLabel{"Down", "↓"},
    KeyLabel{"space", "Space"},    KeyLabel{"Return", "Return"},
    KeyLabel{"KP_Enter", "Enter"}, KeyLabel{"BackSpace", "Backspace"},
    KeyLabel{"Tab", "Tab"},        KeyLabel{"Escape", "Esc"},
    KeyLabel{"Delete", "Delete"},  KeyLabel{"Insert", "Insert"},
    KeyLabel{"Home", "Home"},      KeyLabel{"End", "End"},
    KeyLabel{"Prior", "Page up"},  KeyLabel{"Next", "Page down"},
    KeyLabel{"Shift_L", "Shift"},  KeyLabel{"Control_L", "Ctrl"},
    KeyLabel{"Alt_L", "Alt"},      KeyLabel{"Shift_R", "right Shift"},
    KeyLabel{"Control_R", "right Ctrl"},
};

} // namespace

std::string keyLabel(std::string_view name)
{
    if (name.starts_with("button:"))
        return fmt::format("{} button", name.substr(7));
    for (const KeyLabel& one : keyLabels)
        if (one.name == name)
            return std::string(one.label);
    const xkb_keysym_t symbol = xkb_keysym_from_name(std::string(name).c_str(), XKB_KEYSYM_NO_FLAGS);
    std::array<char, 8> letters{};
    // Some letters have no capital; a space or a control character is no label.
    if (xkb_keysym_to_utf8(symbol, letters.data(), letters.size()) > 1 && letters.front() != ' ' &&
        (static_cast<unsigned char>(letters.front()) >= 0x80 ||
         std::isprint(static_cast<unsigned char>(letters.front())))) {
        if (name.starts_with("KP_"))
            return fmt::format("Keypad {}", letters.data());
        xkb_keysym_to_utf8(xkb_keysym_to_upper(symbol), letters.data(), letters.size());
        return letters.data();
    }
    std::string label{name};
    std::ranges::replace(label, '_', ' ');
    return label;
}

std::vector<std::string> labelledKeys()
{
    std::vector<std::string> names;
    names.reserve(keyLabels.size());
    for (const KeyLabel& one : keyLabels)
        names.emplace_back(one.name);
    return names;
}

} // namespace snare::words
