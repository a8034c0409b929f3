// SPDX-License-Identifier: Apache-2.0
#include "app/window/reading.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "words/describe.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

Reading::Reading(Document& document, QWidget* parent) : QDialog(parent), document_(document)
{
    setObjectName(QStringLiteral("reading"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(620, 640);
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(12, 12, 12, 10);
    text_ = new QPlainTextEdit{this};
    text_->setObjectName(QStringLiteral("readingText"));
    text_->setAccessibleName(tr("The scene in sentences"));
    text_->setReadOnly(true);
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    onTheme(text_, [this] { text_->setFont(figureFont()); });
    column->addWidget(text_, 1);
    auto* foot = new QHBoxLayout;
    const auto button = [&](const QString& name, const QString& label, const QString& tip, auto&& done) {
        auto* one = new QPushButton{label, this};
        one->setObjectName(name);
        one->setToolTip(tip);
        one->setAutoDefault(false);
        foot->addWidget(one);
        connect(one, &QPushButton::clicked, this, done);
    };
    button(QStringLiteral("readingCopy"), tr("Copy"), tr("All of it, as text"),
           [this] { QGuiApplication::clipboard()->setText(text()); });
    button(QStringLiteral("readingSave"), tr("Save…"), tr("As a text file; snare describe writes the same"),
           [this] { save(); });
    button(QStringLiteral("readingPrint"), tr("Print…"), {}, [this] { print(); });
    foot->addStretch(1);
    button(QStringLiteral("readingClose"), tr("Close"), {}, [this] { close(); });
    column->addLayout(foot);
    connect(&telling_, &QFutureWatcherBase::finished, this, [this] {
        showText(telling_.result());
        refresh(); // the scene may have changed meanwhile
    });
    connect(&document_, &Document::changed, this, &Reading::refresh);
    connect(&document_, &Document::replaced, this, &Reading::refresh);
    refresh();
}

Reading::~Reading()
{
    telling_.waitForFinished();
}

QString Reading::text() const
{
    return text_->toPlainText();
}

/// As the scene is now, told beside everything else.
void Reading::refresh()
{
    setWindowTitle(tr("%1 in sentences").arg(document_.title()));
    if (telling_.isRunning() || told_ == document_.sharedScene())
        return;
    told_ = document_.sharedScene();
    telling_.setFuture(QtConcurrent::run([scene = told_] { return toText(words::describe(*scene)); }));
}

/// One stays where one reads.
void Reading::showText(const QString& now)
{
    if (now == text())
        return;
    const int at = text_->verticalScrollBar()->value();
    text_->setPlainText(now);
    text_->verticalScrollBar()->setValue(at);
}

void Reading::save()
{
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the sentences"),
                                                      document_.title() + QStringLiteral(".txt"), tr("Text (*.txt)"));
    if (path.isEmpty())
        return;
    if (const auto saved = io::saveText(path.toStdString(), text().toStdString()); !saved)
        QMessageBox::warning(this, windowTitle(), toText(saved.error().message()));
}

void Reading::print()
{
    QPrinter printer;
    QPrintDialog dialog{&printer, this};
    if (dialog.exec() == QDialog::Accepted)
        text_->print(&printer);
}

} // namespace snare::app
