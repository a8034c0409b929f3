// SPDX-License-Identifier: Apache-2.0
#include "app/transport_bar.h"

#include "app/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QTextDocumentFragment>
#include <QToolButton>

namespace snare::app {

TransportBar::TransportBar(Document& document, Stage& stage, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage)
{
    setObjectName(QStringLiteral("transport"));
    setFixedHeight(38);
    setAutoFillBackground(true);
    QPalette colours = palette();
    colours.setColor(QPalette::Window, theme().panelDeep);
    setPalette(colours);
    auto* layout = new QHBoxLayout{this};
    layout->setContentsMargins(10, 0, 12, 0);
    layout->setSpacing(4);
    record_ = button(QStringLiteral("record"), tr("Record: play by hand from the start (R)"),
                     [this] { emit recordPressed(); });
    record_->setObjectName(QStringLiteral("record"));
    play_ = button(QStringLiteral("play"), tr("Play or pause (Space)"), [this] {
        if (stage_.mode() == Stage::Mode::playing)
            stage_.pause();
        else
            stage_.play();
    });
    play_->setObjectName(QStringLiteral("play"));
    button(QStringLiteral("back"), tr("One tick back (,)"), [this] { stage_.stepBy(-1); });
    button(QStringLiteral("forth"), tr("One tick on (.)"), [this] { stage_.stepBy(1); });
    layout->addSpacing(10);
    take_ = new QLabel{this};
    layout->addWidget(take_);
    layout->addSpacing(16);
    changes_ = new QLabel{this};
    changes_->setObjectName(QStringLiteral("changes"));
    layout->addWidget(changes_);
    layout->addStretch(1);
    connect(&stage_, &Stage::recordChanged, this, &TransportBar::refresh);
    connect(&stage_, &Stage::modeChanged, this, &TransportBar::refresh);
    connect(&document_, &Document::pathChanged, this, &TransportBar::refresh);
    refresh();
}

QToolButton* TransportBar::button(const QString& iconName, const QString& tip, const std::function<void()>& press)
{
    auto* tool = new QToolButton{this};
    tool->setIcon(icon(iconName));
    tool->setIconSize({20, 20});
    tool->setToolTip(tip);
    tool->setAccessibleName(tip);
    tool->setAutoRaise(true);
    tool->setFocusPolicy(Qt::TabFocus);
    connect(tool, &QToolButton::clicked, this, press);
    layout()->addWidget(tool);
    return tool;
}

QString TransportBar::changesText() const
{
    return QTextDocumentFragment::fromHtml(changes_->text()).toPlainText();
}

void TransportBar::refresh()
{
    const Theme& t = theme();
    const bool recording = stage_.mode() == Stage::Mode::recording;
    record_->setIcon(icon(recording ? QStringLiteral("stop") : QStringLiteral("record")));
    play_->setIcon(icon(stage_.mode() == Stage::Mode::playing ? QStringLiteral("pause") : QStringLiteral("play")));
    play_->setEnabled(!recording && stage_.record().lastTick() > 0);
    if (recording) {
        take_->setText(
            QStringLiteral("<b style='color:%1'>%2</b> %3")
                .arg(t.coralText.name(), tr("recording"), tr("%1 s").arg(stage_.record().seconds(), 0, 'f', 1)));
        changes_->setText(QStringLiteral("<span style='color:%1'>%2</span>")
                              .arg(t.inkSoft.name(), tr("play with the keys on the ground; Esc stops")));
        return;
    }
    if (stage_.record().lastTick() <= 0) {
        take_->setText(tr("no take yet"));
        changes_->clear();
        return;
    }
    take_->setText(
        tr("take <b>%1</b> %2 s").arg(document_.title().toHtmlEscaped()).arg(stage_.record().seconds(), 0, 'f', 1));
    const check::Differences& differences = stage_.differences();
    const QString time =
        tr("re-run in %1 ms").arg(stage_.rerunMilliseconds(), 0, 'f', stage_.rerunMilliseconds() < 10 ? 1 : 0);
    QStringList parts;
    if (!differences.fresh.empty())
        parts << QStringLiteral("<b style='color:%1'>%2</b>")
                     .arg(t.mintText.name(), tr("+%1 new").arg(differences.fresh.size()));
    if (!differences.gone.empty())
        parts << QStringLiteral("<b style='color:%1'>%2</b>")
                     .arg(t.coralText.name(), tr("−%1 gone").arg(differences.gone.size()));
    if (!differences.moved.empty())
        parts << QStringLiteral("<b style='color:%1'>%2</b>")
                     .arg(t.blue.name(), tr("%1 moved").arg(differences.moved.size()));
    const QString since = !stage_.earlier() ? time
                          : parts.isEmpty() ? tr("nothing changed since the last edit · %1").arg(time)
                                            : tr("since the last edit · %1").arg(time);
    parts << QStringLiteral("<span style='color:%1'>%2</span>").arg(t.inkSoft.name(), since);
    changes_->setText(parts.join(QStringLiteral("&nbsp;&nbsp; ")));
}

} // namespace snare::app
