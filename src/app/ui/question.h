// SPDX-License-Identifier: Apache-2.0
/// What a slot asks for when it is filled in: a title, what fits, and what is wrong with an answer.
#pragma once

#include <QColor>
#include <QString>
#include <QStringList>

#include <functional>
#include <optional>
#include <vector>

namespace snare::app {

/// Something that a slot can be filled with.
struct Choice {
    QString value;
    QString text;         ///< shown; the value if empty
    QString detail;       ///< shown behind it: what it means, how many it fits
    QString words;        ///< found by these too
    bool heading = false; ///< stands over those that follow and cannot be chosen
    QColor swatch = {};   ///< shown before it, if it is a colour
};

/// What the panel asks for.
struct Question {
    QString title;
    QString placeholder;
    QString typed; ///< stands in the field at first
    std::vector<Choice> choices;
    QStringList chosen;    ///< for `many`
    bool many = false;     ///< several can be ticked; the answer has them in the order of the list
    bool takesNew = false; ///< of `many`: a name that is typed and not there is offered as a new one
    bool freeText = false; ///< what is typed is an answer too
    /// The answer is a list, typed with commas between: the last part narrows the choices, choosing
    /// one completes it, with Shift another part follows. Parts may be typed that are no choice.
    bool parts = false;
    /// What stands there at first is an answer. Else it is what the slot holds already, and
    /// confirming it unchanged changes nothing.
    bool proposes = false;
    /// What the slot that asks shows, if it has a value: nothing is marked unless it is `chosen`,
    /// and typing the same again changes nothing.
    QString shown;
    bool takesKey = false; ///< a key can be pressed instead: its X keysym name is the answer
    /// Lets the answer be pointed at on the ground instead; the panel closes, and `done` gets it.
    std::function<void(std::function<void(const QStringList&)> done)> point;
    /// Gives what the slot names another name, everywhere; also on F2. The panel closes.
    std::function<void()> rename;
    QString renameText; ///< "Rename pier everywhere…"
    /// Shows where what the slot names is used; also on Shift+F2. The panel closes.
    std::function<void()> uses;
    QString usesText; ///< "pier is used in 3 places…"
    /// What is wrong with an answer, or nothing; said in place.
    std::function<QString(const QStringList&)> check;
    /// Where in what was typed it goes wrong, by character; the field marks it from there on.
    std::function<std::optional<int>(const QString&)> wrongAt;
};

} // namespace snare::app
