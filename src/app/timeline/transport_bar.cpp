// SPDX-License-Identifier: Apache-2.0
#include "app/timeline/transport_bar.h"

#include "app/model/scene_keys.h"
#include "app/timeline/take_menu.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QTextDocument>
#include <QTextDocumentFragment>
#include <QToolButton>

namespace snare::app {

void FittingLabel::setForms(const QStringList& forms)
{
    forms_ = forms;
    fit();
}

QString FittingLabel::wholeText() const
{
    return forms_.empty() ? QString() : QTextDocumentFragment::fromHtml(forms_.front()).toPlainText();
}

void FittingLabel::resizeEvent(QResizeEvent* event)
{
    QLabel::resizeEvent(event);
    fit();
}

void FittingLabel::fit()
{
    const auto fits = [this](const QString& form) {
        QTextDocument text;
        text.setDefaultFont(font());
        text.setDocumentMargin(0);
        text.setHtml(form);
        return text.idealWidth() <= width();
    };
    const auto found = std::ranges::find_if(forms_, fits);
    const QString form = found != forms_.end() ? *found : forms_.value(forms_.size() - 1);
    if (form == text())
        return;
    setText(form);
    setToolTip(found == forms_.begin() ? QString() : wholeText());
}

void FittingButton::setForms(const QStringList& forms)
{
    forms_ = forms;
    fit();
    updateGeometry();
}

QSize FittingButton::sizeOf(const QString& form) const
{
    constexpr int aside = 12; // pixels, both sides together
    return {fontMetrics().horizontalAdvance(form) + aside, QToolButton::sizeHint().height()};
}

void FittingButton::resizeEvent(QResizeEvent* event)
{
    QToolButton::resizeEvent(event);
    fit();
}

void FittingButton::fit()
{
    const auto found =
        std::ranges::find_if(forms_, [this](const QString& form) { return sizeOf(form).width() <= width(); });
    const QString form = found != forms_.end() ? *found : forms_.value(forms_.size() - 1);
    if (form != text())
        setText(form);
    setAccessibleName(forms_.value(0));
}

TransportBar::TransportBar(Document& document, Stage& stage, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage)
{
    setObjectName(QStringLiteral("transport"));
    setFixedHeight(38);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panelDeep); });
    auto* layout = new QHBoxLayout{this};
    layout->setContentsMargins(8, 0, 8, 0);
    layout->setSpacing(2);
    record_ = button(QStringLiteral("record"), tr("Record: play by hand from the start (R)"),
                     [this] { emit recordPressed(); });
    record_->setObjectName(QStringLiteral("record"));
    button(QStringLiteral("recordon"), tr("Record on from the cursor: keeps the inputs before it (Shift+R)"), [this] {
        emit recordOnPressed();
    })->setObjectName(QStringLiteral("recordOn"));
    play_ = button(QStringLiteral("play"), tr("Play or pause (Space)"), [this] {
        if (stage_.mode() == Stage::Mode::playing)
            stage_.pause();
        else
            stage_.play();
    });
    play_->setObjectName(QStringLiteral("play"));
    button(QStringLiteral("back"), tr("One tick back (,)"), [this] { stage_.stepBy(-1); });
    button(QStringLiteral("forth"), tr("One tick on (.)"), [this] { stage_.stepBy(1); });
    button(QStringLiteral("previous"), tr("Previous event of the chosen lane ([)"), [this] { emit jumpWanted(-1); });
    button(QStringLiteral("next"), tr("Next event of the chosen lane (])"), [this] { emit jumpWanted(1); });
    loop_ = button(QStringLiteral("loop"), tr("Play a span again and again; Shift+drag on the ruler chooses it"),
                   [this] { emit loopPressed(); });
    loop_->setObjectName(QStringLiteral("loop"));
    loop_->setCheckable(true);
    dress(loop_, [] {
        return QStringLiteral("QToolButton:checked { background: %1; border-radius: 4px; }").arg(theme().ink.name());
    });
    layout->addSpacing(8);
    take_ = new FittingButton{this};
    take_->setObjectName(QStringLiteral("takes"));
    take_->setAutoRaise(true);
    take_->setToolTip(tr("Takes of this scene"));
    take_->setToolButtonStyle(Qt::ToolButtonTextOnly);
    take_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    take_->setForms({tr("no take yet")});
    connect(take_, &QToolButton::clicked, this, &TransportBar::showTakes);
    layout->addWidget(take_);
    layout->addSpacing(4);
    changes_ = new FittingLabel{this};
    changes_->setObjectName(QStringLiteral("changes"));
    changes_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(changes_, &QLabel::linkActivated, this, [this] { stage_.stepChange(1); });
    changes_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    layout->addWidget(changes_, 1);
    const QString names[] = {tr("Timeline"), tr("Ledger"), tr("Flow"), tr("Takes")};
    for (int i = 0; i < static_cast<int>(std::size(names)); ++i) {
        auto* view = new QToolButton{this};
        view->setText(names[i]);
        view->setObjectName(QStringLiteral("view ") + QString::number(i));
        view->setCheckable(true);
        view->setAutoRaise(true);
        view->setFocusPolicy(Qt::TabFocus);
        dress(view, [] {
            return QStringLiteral("QToolButton { border: none; padding: 3px 6px; color: %1; }"
                                  "QToolButton:checked { color: %2; font-weight: 600; border-bottom: 2px solid %3; }")
                .arg(theme().inkSoft.name(), theme().ink.name(), theme().mint.name());
        });
        connect(view, &QToolButton::clicked, this, [this, i] { emit viewChosen(i); });
        layout->addWidget(view);
        views_.push_back(view);
    }
    setView(0);
    connect(&stage_, &Stage::loopChanged, this, [this] { loop_->setChecked(stage_.loop().has_value()); });
    connect(&stage_, &Stage::recordChanged, this, &TransportBar::refresh);
    connect(&stage_, &Stage::modeChanged, this, &TransportBar::refresh);
    connect(&document_, &Document::pathChanged, this, &TransportBar::refresh);
    onTheme(this, [this] { refresh(); });
}

QToolButton* TransportBar::button(const QString& iconName, const QString& tip, const std::function<void()>& press)
{
    auto* tool = new QToolButton{this};
    onTheme(tool, [tool, iconName] { tool->setIcon(icon(iconName)); });
    tool->setIconSize({20, 20});
    tool->setToolTip(tip);
    tool->setAccessibleName(tip);
    tool->setAutoRaise(true);
    tool->setFocusPolicy(Qt::TabFocus);
    connect(tool, &QToolButton::clicked, this, press);
    layout()->addWidget(tool);
    return tool;
}

void TransportBar::setView(int index)
{
    for (std::size_t i = 0; i < views_.size(); ++i)
        views_[i]->setChecked(static_cast<int>(i) == index);
}

void TransportBar::setFailures(int failed)
{
    views_.back()->setText(failed == 0 ? tr("Takes") : tr("Takes · %1 failed").arg(failed));
}

void TransportBar::showTakes()
{
    if (stage_.mode() == Stage::Mode::recording)
        return;
    QMenu& menu = *makeMenu(this);
    for (std::size_t i = 0; i < document_.takes().size(); ++i) {
        const NamedTake& one = document_.takes()[i];
        const QString name = one.name.empty() ? tr("first take") : toText(one.name);
        QAction* action = menu.addAction(tr("%1   %2 s").arg(name).arg(scene::lengthOf(*one.take), 0, 'f', 1), this,
                                         [this, i] { document_.chooseTake(i); });
        action->setCheckable(true);
        action->setChecked(i == document_.currentTake());
    }
    menu.addSeparator();
    menu.addAction(tr("New take"), this, [this] { document_.addTake("take", {}); });
    menu.addAction(tr("Duplicate this take"), this, [this] { document_.addTake("copy", document_.take()); });
    menu.addAction(tr("Rename…"), this, &TransportBar::renameTake);
    addTakeEntries(menu, take_, document_, stage_);
    menu.addSeparator();
    menu.addAction(tr("Delete this take"), this, [this] { document_.removeTake(document_.currentTake()); });
    menu.popup(take_->mapToGlobal(QPoint{0, take_->height()}));
}

void TransportBar::renameTake()
{
    const std::size_t index = document_.currentTake();
    Question question;
    question.title = tr("Name of the take");
    question.freeText = true;
    question.typed = toText(document_.takes()[index].name);
    question.check = [this, index](const QStringList& answer) {
        const std::string name = answer.front().toStdString();
        if (!name.empty() && !scene::isId(name))
            return tr("Letters, digits, - and _ only");
        for (std::size_t i = 0; i < document_.takes().size(); ++i)
            if (i != index && document_.takes()[i].name == name)
                return tr("There is one of that name already");
        return QString();
    };
    SlotPopup::ask(take_, question, [this, index](const QStringList& answer) {
        document_.renameTake(index, answer.front().toStdString());
    });
}

QString TransportBar::changesText() const
{
    return changes_->wholeText();
}

void TransportBar::refresh()
{
    const Theme& t = theme();
    const bool recording = stage_.mode() == Stage::Mode::recording;
    record_->setIcon(icon(recording ? QStringLiteral("stop") : QStringLiteral("record")));
    play_->setIcon(icon(stage_.mode() == Stage::Mode::playing ? QStringLiteral("pause") : QStringLiteral("play")));
    play_->setEnabled(!recording && stage_.record().lastTick() > 0);
    const auto name = [&] {
        const std::string& take = document_.takes()[document_.currentTake()].name;
        return take.empty() ? document_.title() : toText(take);
    };
    if (recording) {
        take_->setForms({tr("recording %1 s").arg(stage_.record().seconds(), 0, 'f', 1)});
        const auto hint = [&](const QString& text) {
            return QStringLiteral("<span style='color:%1'>%2</span>").arg(t.coralText.name(), text);
        };
        const QString stops = stopKeyLabel(document_.scene());
        changes_->setForms(
            {hint(tr("play with the keys on the ground; %1 stops").arg(stops)), hint(tr("%1 stops").arg(stops))});
        return;
    }
    if (stage_.record().lastTick() <= 0) {
        take_->setForms({tr("no take yet")});
        changes_->setForms({});
        return;
    }
    const QString more = document_.takes().size() > 1 ? tr(" of %1").arg(document_.takes().size()) : QString();
    const QString length = QString::number(stage_.record().seconds(), 'f', 1);
    take_->setForms({tr("take %1%2  %3 s  ▾").arg(name(), more, length), tr("%1%2  %3 s  ▾").arg(name(), more, length),
                     tr("take%1  %2 s  ▾").arg(more, length), tr("%1 s  ▾").arg(length)});
    const check::Differences& differences = stage_.differences();
    const QString took = tr("%1 ms").arg(stage_.rerunMilliseconds(), 0, 'f', stage_.rerunMilliseconds() < 10 ? 1 : 0);
    const QString time = tr("re-run in %1").arg(took);
    QStringList parts;
    const auto count = [&](const QString& text, const QColor& colour) {
        parts << QStringLiteral("<a href='step' style='color:%1; text-decoration:none'><b>%2</b></a>")
                     .arg(colour.name(), text);
    };
    if (!differences.fresh.empty())
        count(tr("+%1 new").arg(differences.fresh.size()), t.mintText);
    if (!differences.gone.empty())
        count(tr("−%1 gone").arg(differences.gone.size()), t.coralText);
    if (!differences.moved.empty())
        count(tr("%1 moved").arg(differences.moved.size()), t.blue);
    const QString since = !stage_.earlier() ? time
                          : parts.isEmpty() ? tr("the edit changed nothing · %1").arg(time)
                                            : tr("by the last edit · %1").arg(took);
    const QString counts = parts.join(QStringLiteral("&nbsp;&nbsp; "));
    QStringList forms;
    for (const QString& end : {since, took}) {
        const QString soft = QStringLiteral("<span style='color:%1'>%2</span>").arg(t.inkSoft.name(), end);
        forms << (counts.isEmpty() ? soft : counts + QStringLiteral("&nbsp;&nbsp; ") + soft);
    }
    if (!counts.isEmpty())
        forms << counts;
    changes_->setForms(forms);
}

} // namespace snare::app
