// SPDX-License-Identifier: Apache-2.0
#include "app/slots/script_editor.h"

#include "app/ui/formula_text.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "script/sandbox.h"

#include <Qsci/qscilexerlua.h>
#include <Qsci/qsciscintilla.h>

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>
#include <QScreen>
#include <QVBoxLayout>

namespace snare::app {

namespace {

constexpr int wrongMarker = 1;

/// The colours of the paper, whatever the scheme.
void colour(QsciLexerLua* lexer)
{
    const Theme& t = theme();
    const QFont font = figureFont(0);
    lexer->setDefaultFont(font);
    lexer->setFont(font);
    lexer->setPaper(t.paper);
    lexer->setDefaultPaper(t.paper);
    lexer->setColor(t.ink);
    lexer->setColor(t.mintText, QsciLexerLua::Keyword);
    lexer->setColor(t.inkSoft, QsciLexerLua::Comment);
    lexer->setColor(t.inkSoft, QsciLexerLua::LineComment);
    lexer->setColor(t.coralText, QsciLexerLua::Number);
    for (const int text : {QsciLexerLua::String, QsciLexerLua::Character, QsciLexerLua::LiteralString})
        lexer->setColor(t.plum, text);
}

} // namespace

ScriptEditor::ScriptEditor(QWidget* parent, const scene::Scene& scene, const std::string& text, bool expression)
    : QDialog(parent), expression_(expression)
{
    setObjectName(QStringLiteral("scriptEditor"));
    setWindowTitle(expression ? tr("Lua expression") : tr("Lua script"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(12, 10, 12, 12);
    auto* about =
        new QLabel{expression ? tr("The event passes if this is true: self.load > 3 and visitor.id ~= \"gull\"")
                              : tr("Reads and sets values of scene, self, visitor and with; reads event and "
                                   "signal. note(\"…\") writes into the log."),
                   this};
    about->setWordWrap(true);
    colourText(about, &Theme::inkSoft);
    layout->addWidget(about);

    edit_ = new QsciScintilla{this};
    edit_->setObjectName(QStringLiteral("lua"));
    edit_->setAccessibleName(windowTitle());
    edit_->setUtf8(true);
    auto* lexer = new QsciLexerLua{edit_};
    colour(lexer);
    edit_->setLexer(lexer);
    edit_->setTabWidth(2);
    edit_->setIndentationsUseTabs(false);
    edit_->setAutoIndent(true);
    edit_->setBraceMatching(QsciScintilla::SloppyBraceMatch);
    edit_->setCaretForegroundColor(theme().ink);
    edit_->setSelectionBackgroundColor(theme().mint);
    edit_->setSelectionForegroundColor(theme().onAccent);
    edit_->setMarginType(0, QsciScintilla::NumberMargin);
    edit_->setMarginWidth(0, expression ? 0 : 34);
    edit_->setMarginWidth(1, 6);
    edit_->setMarginsBackgroundColor(theme().panelDeep);
    edit_->setMarginsForegroundColor(theme().inkSoft);
    edit_->setFrameShape(QFrame::StyledPanel);
    edit_->markerDefine(QsciScintilla::Background, wrongMarker);
    QColor wrong = theme().coral;
    wrong.setAlpha(50);
    edit_->setMarkerBackgroundColor(wrong, wrongMarker);
    edit_->setMinimumSize(520, expression ? 90 : 260);
    // The paths of this scene complete what is typed.
    for (const PathChoice& path : pathChoices(scene))
        words_ << path.path;
    for (const char* name : {"math.floor", "math.random", "math.abs", "math.min", "math.max", "string.format",
                             "string.find", "table.sort", "table.concat", "note"})
        words_ << QLatin1String(name);
    words_.removeDuplicates();
    words_.sort();
    edit_->SendScintilla(QsciScintilla::SCI_AUTOCSETSEPARATOR, static_cast<unsigned long>('\n'));
    connect(edit_, &QsciScintilla::SCN_CHARADDED, this, [this] { complete(); });
    edit_->SendScintilla(QsciScintilla::SCI_SETSCROLLWIDTHTRACKING, 1UL); // no bar while all can be seen
    edit_->SendScintilla(QsciScintilla::SCI_SETSCROLLWIDTH, 1UL);
    edit_->setText(toText(text));
    layout->addWidget(edit_, 1);

    state_ = new QLabel{this};
    state_->setObjectName(QStringLiteral("luaState"));
    state_->setWordWrap(true);
    layout->addWidget(state_);
    auto* buttons = new QDialogButtonBox{QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this};
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Use it"));
    for (const auto button : {QDialogButtonBox::Ok, QDialogButtonBox::Cancel})
        buttons->button(button)->setIcon({}); // words are enough
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        if (check())
            accept();
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(edit_, &QsciScintilla::textChanged, this, [this] { check(); });
    check();
    edit_->setFocus();
}

/// Offers what begins like the path before the cursor.
void ScriptEditor::complete()
{
    int line = 0;
    int column = 0;
    edit_->getCursorPosition(&line, &column);
    static const QRegularExpression path{QStringLiteral("[A-Za-z_][A-Za-z0-9_.]*$")};
    const QString begun = path.match(edit_->text(line).left(column)).captured();
    QStringList fitting;
    for (const QString& word : words_)
        if (begun.size() >= 2 && word.startsWith(begun, Qt::CaseInsensitive) && word != begun)
            fitting << word;
    if (fitting.isEmpty())
        return edit_->cancelList();
    edit_->SendScintilla(QsciScintilla::SCI_AUTOCSHOW, static_cast<unsigned long>(begun.toUtf8().size()),
                         fitting.join(QLatin1Char('\n')).toUtf8().constData());
}

bool ScriptEditor::check()
{
    edit_->markerDeleteAll(wrongMarker);
    const QString text = edit_->text();
    if (text.trimmed().isEmpty()) {
        state_->setText(expression_ ? tr("Empty: no such condition.") : tr("Empty: it does nothing."));
        return true;
    }
    const auto fault = script::Sandbox::check(text.toStdString(), expression_);
    if (!fault) {
        colourText(state_, &Theme::mintText);
        state_->setText(tr("It can be read."));
        return true;
    }
    const int line = std::clamp(fault->line, 1, std::max(1, edit_->lines()));
    edit_->markerAdd(line - 1, wrongMarker);
    colourText(state_, &Theme::coralText);
    state_->setText(tr("Line %1: %2").arg(line).arg(toText(fault->text)));
    return false;
}

void ScriptEditor::ask(QWidget* anchor, const scene::Scene& scene, const std::string& text, bool expression,
                       const std::function<void(const QString&)>& done)
{
    auto* editor = new ScriptEditor{anchor->window(), scene, text, expression};
    editor->adjustSize();
    const QRect screen = anchor->screen()->availableGeometry();
    QPoint at = anchor->mapToGlobal(QPoint{0, anchor->height() + 2});
    at.setX(std::clamp(at.x(), screen.left(), std::max(screen.left(), screen.right() - editor->width())));
    at.setY(std::clamp(at.y(), screen.top(), std::max(screen.top(), screen.bottom() - editor->height())));
    editor->move(at);
    connect(editor, &QDialog::accepted, editor, [editor, done] { done(editor->edit_->text()); });
    editor->open();
}

} // namespace snare::app
