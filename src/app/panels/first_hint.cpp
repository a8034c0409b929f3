// SPDX-License-Identifier: Apache-2.0
#include "app/panels/first_hint.h"

#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSettings>
#include <QToolButton>

namespace snare::app {

FirstHint::FirstHint(Document& document, Stage& stage, Selection& selection, QWidget* parent)
    : QFrame(parent), document_(document)
{
    setObjectName(QStringLiteral("firstHint"));
    setAccessibleName(tr("First steps"));
    dress(this, [] {
        return QStringLiteral("#firstHint { background: %1; border: none; border-bottom: 1px solid %2; }")
            .arg(theme().panelDeep.name(), theme().hairline.name());
    });
    auto* layout = new QHBoxLayout{this};
    layout->setContentsMargins(12, 4, 6, 4);
    layout->setSpacing(18);
    for (QLabel*& step : steps_) {
        step = new QLabel{this};
        step->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        step->setWordWrap(true); // in a narrow window
        layout->addWidget(step, 1);
    }
    auto* close = new QToolButton{this};
    close->setObjectName(QStringLiteral("closeHint"));
    close->setText(tr("Close"));
    close->setAutoRaise(true);
    connect(close, &QToolButton::clicked, this, [this] {
        QSettings().setValue(QStringLiteral("hintClosed"), true);
        emit closed();
    });
    layout->addWidget(close);
    connect(&stage, &Stage::modeChanged, this, [this, &stage] {
        if (stage.mode() == Stage::Mode::playing && !withoutTake_)
            take(0);
    });
    connect(&selection, &Selection::changed, this, [this, &document, &selection] {
        const scene::Piece* piece = scene::findPiece(document.scene(), selection.piece());
        if (piece && !withoutTake_ && std::ranges::any_of(piece->shapes, [](const scene::Shape& shape) {
                return shape.role == scene::Role::zone;
            }))
            take(1);
    });
    connect(document.undoStack(), &QUndoStack::indexChanged, this, [this, &document, &selection] {
        if (!withoutTake_ && document.undoStack()->undoText() == tr("Move %1").arg(toText(selection.piece())))
            take(2);
    });
    connect(&document, &Document::replaced, this, &FirstHint::begin);
    connect(&document, &Document::changed, this, &FirstHint::look);
    connect(&document, &Document::takeChosen, this, &FirstHint::look);
    begin();
    onTheme(this, [this] { refresh(); });
}

bool FirstHint::isWanted()
{
    return !QSettings().value(QStringLiteral("hintClosed")).toBool();
}

int FirstHint::stepsDone() const
{
    return static_cast<int>(std::count(std::begin(done_), std::end(done_), true));
}

void FirstHint::begin()
{
    withoutTake_ = !document_.hasTake();
    std::ranges::fill(done_, false);
    refresh();
    look();
}

void FirstHint::look()
{
    if (!withoutTake_)
        return;
    if (!document_.scene().pieces.empty())
        take(0);
    if (!document_.scene().snares.empty())
        take(1);
    if (document_.hasTake())
        take(2);
}

void FirstHint::take(int step)
{
    if (std::exchange(done_[step], true))
        return;
    refresh();
    if (stepsDone() == 3)
        QSettings().setValue(QStringLiteral("hintClosed"), true);
}

void FirstHint::refresh()
{
    const Theme& t = theme();
    const QString found[] = {tr("Press Space: the take plays"), tr("Click a zone: its snares come up"),
                             tr("Drag it: see what that changes")};
    const QString made[] = {tr("Lay pieces: S or Z, then drag"), tr("Tell what they do: + snare"),
                            tr("Press R: play, Esc keeps the take")};
    const auto& texts = withoutTake_ ? made : found;
    for (int i = 0; i < 3; ++i)
        steps_[i]->setText(
            QStringLiteral("<span style='color:%1'><b>%2</b></span>&nbsp; <span style='color:%3'>%4</span>")
                .arg(done_[i] ? t.mintText.name() : t.coralText.name(),
                     done_[i] ? QStringLiteral("✓") : QString::number(i + 1),
                     done_[i] ? t.inkSoft.name() : t.ink.name(), texts[i]));
}

} // namespace snare::app
