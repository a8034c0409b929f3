// SPDX-License-Identifier: Apache-2.0
#include "app/window/key_sheet.h"

#include "app/ui/theme.h"
#include "app/window/finder.h"

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QScrollArea>
#include <QVBoxLayout>

#include <array>
#include <vector>

namespace snare::app {

namespace {

/// One line of the sheet.
struct Entry {
    QString keys;
    QString does;
};

struct Subject {
    QString title;
    std::vector<Entry> entries;
};

/// What is done with the pointer, or with keys that are no commands.
std::vector<Subject> gestures()
{
    const auto tr = [](const char* text) { return QObject::tr(text); };
    return {{tr("On the ground"),
             {{tr("click"), tr("choose; again: what lies below it")},
              {tr("Shift+click"), tr("choose one more, or one less")},
              {tr("drag"), tr("move what is chosen; over empty ground: a box")},
              {tr("Ctrl+drag"), tr("move one shape of a piece")},
              {tr("Alt"), tr("no snapping while it is held")},
              {tr("digits"), tr("sizes and ways while you draw or drag; Return takes them")},
              {tr("arrow keys"), tr("nudge by a step of the grid, with Shift by ten")},
              {tr("wheel"), tr("zoom")},
              {tr("Space+drag"), tr("move the view; so does the middle button")},
              {tr("right button"), tr("what can be done here")},
              {tr("Esc"), tr("give up what is under way; else choose nothing")}}},
            {tr("Drawing"),
             {{tr("the tool's key again"), tr("the next kind of shape")},
              {tr("Shift"), tr("lay the shape onto the chosen piece")},
              {tr("Return, double click"), tr("end a polygon or line")},
              {tr("Backspace"), tr("take the last corner back")}}},
            {tr("On cards"),
             {{tr("Tab, Return"), tr("go to the next slot, open it")},
              {tr("type, arrow keys"), tr("find in the list of a slot")},
              {tr("Shift+click"), tr("choose one more target of a list, or on the ground")},
              {tr("F2 in a slot"), tr("rename what it names, everywhere")},
              {tr("Shift+F2 in a slot"), tr("show where that is used")},
              {tr("Drag a number sideways"), tr("count it up and down; Shift by tens, Alt by tenths")},
              {tr("Esc"), tr("leave a slot as it was")},
              {tr("drag a number"), tr("move a response to another place")}}},
            {tr("In the timeline"),
             {{tr("click, drag"), tr("go to a moment")},
              {tr("Ctrl+wheel"), tr("zoom in time; Shift+wheel moves along")},
              {tr("Shift+drag on the ruler"), tr("mark a span that playing repeats")},
              {tr("Up, Down, Return"), tr("choose a lane, fold it")},
              {tr("double click"), tr("add a press, a call or a step; Delete takes it away")},
              {tr("drag a press"), tr("move it, or its ends")}}}};
}

QLabel* labelFor(const QString& text, const QFont& font, QColor Theme::*colour, QWidget* parent)
{
    auto* label = new QLabel{text, parent};
    label->setFont(font);
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    colourText(label, colour);
    return label;
}

QWidget* blockOf(const Subject& subject, QWidget* parent)
{
    auto* block = new QWidget{parent};
    auto* grid = new QGridLayout{block};
    grid->setContentsMargins(0, 0, 0, 10);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(2);
    grid->setColumnMinimumWidth(0, 118);
    grid->setColumnStretch(1, 1);
    grid->addWidget(labelFor(subject.title, textFont(0.5, true), &Theme::ink, block), 0, 0, 1, 2);
    int row = 1;
    for (const Entry& entry : subject.entries) {
        grid->addWidget(labelFor(entry.keys, figureFont(-1), &Theme::mintText, block), row, 0, Qt::AlignTop);
        grid->addWidget(labelFor(entry.does, textFont(-0.5), &Theme::ink, block), row, 1, Qt::AlignTop);
        ++row;
    }
    return block;
}

std::vector<Subject> subjectsOf(const QMenuBar& menus)
{
    std::vector<Subject> subjects = gestures();
    for (const QAction* menu : menus.actions()) {
        if (!menu->menu())
            continue;
        Subject subject{QObject::tr("Menu %1").arg(menu->text().remove(QLatin1Char('&'))), {}};
        for (const QAction* command : commandsOf(menu->menu()->actions()))
            if (!command->shortcut().isEmpty())
                subject.entries.push_back({command->shortcut().toString(QKeySequence::NativeText),
                                           command->text().section(QLatin1Char('\t'), 0, 0).remove(QLatin1Char('&'))});
        if (!subject.entries.empty())
            subjects.push_back(std::move(subject));
    }
    return subjects;
}

} // namespace

KeySheet::KeySheet(const QMenuBar& menus, QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("keySheet"));
    setWindowTitle(tr("Keys and gestures"));
    setAttribute(Qt::WA_DeleteOnClose);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    setAutoFillBackground(true);
    const std::vector<Subject> subjects = subjectsOf(menus);
    // Into the column that is the shortest so far.
    constexpr std::size_t columns = 3;
    auto* sheet = new QWidget;
    auto* across = new QHBoxLayout{sheet};
    across->setContentsMargins(18, 14, 18, 8);
    across->setSpacing(26);
    std::array<QVBoxLayout*, columns> column{};
    std::array<std::size_t, columns> filled{};
    for (QVBoxLayout*& one : column) {
        one = new QVBoxLayout;
        across->addLayout(one, 1);
    }
    for (const Subject& subject : subjects) {
        const auto least = static_cast<std::size_t>(std::ranges::min_element(filled) - filled.begin());
        column[least]->addWidget(blockOf(subject, sheet));
        filled[least] += subject.entries.size() + 2;
    }
    for (QVBoxLayout* one : column)
        one->addStretch(1);
    auto* area = new QScrollArea{this};
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setWidget(sheet);
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(area);
    resize(1080, 680);
}

QString keysText(const QMenuBar& menus)
{
    QString text = QStringLiteral("# %1\n\n%2\n\n")
                       .arg(QObject::tr("Keys and gestures"),
                            QObject::tr("F1 shows them on one sheet. Scene > Settings gives commands other keys."));
    for (const Subject& subject : subjectsOf(menus)) {
        text += QStringLiteral("## %1\n\n| %2 | %3 |\n|---|---|\n")
                    .arg(subject.title, QObject::tr("key"), QObject::tr("what it does"));
        for (const Entry& entry : subject.entries)
            text += QStringLiteral("| %1 | %2 |\n").arg(entry.keys, entry.does);
        text += QLatin1Char('\n');
    }
    return text;
}

} // namespace snare::app
