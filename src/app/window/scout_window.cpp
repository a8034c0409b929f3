// SPDX-License-Identifier: Apache-2.0
#include "app/window/scout_window.h"

#include "app/ui/flag.h"
#include "app/ui/slot_button.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QUndoStack>
#include <QVBoxLayout>

namespace snare::app {

namespace {

using Of = check::ScoutLine::Of;

constexpr int mostPlays = 10'000'000;
constexpr double mostSeconds = 3600;

QString headText(Of of)
{
    switch (of) {
    case Of::broken:
        return QObject::tr("broken");
    case Of::never:
        return QObject::tr("never sprang");
    case Of::deadEnd:
        return QObject::tr("dead ends");
    case Of::detour:
        return QObject::tr("ways round");
    case Of::sprung:
        return QObject::tr("sprang");
    }
    return {};
}

/// What stands before a line: filled it sprang, hollow it did not; a torn flag where something
/// broke.
QIcon signOf(Of of)
{
    constexpr int side = 16; // px
    QPixmap picture{QSize{side, side} * 2};
    picture.setDevicePixelRatio(2);
    picture.fill(Qt::transparent);
    QPainter painter{&picture};
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const QPolygonF diamond{{{8, 3}, {13, 8}, {8, 13}, {3, 8}}};
    painter.setPen(QPen{of == Of::sprung ? t.mint : t.coral, 1.5});
    switch (of) {
    case Of::broken:
        paintFlag(painter, QPointF{4, 14}, false);
        break;
    case Of::never:
        painter.drawPolygon(diamond);
        break;
    case Of::deadEnd: // a way, and a bar across it
        painter.drawLine(QPointF{2, 8}, QPointF{11, 8});
        painter.drawLine(QPointF{12, 4}, QPointF{12, 12});
        break;
    case Of::detour: // a way round a spot
        painter.setPen(QPen{t.ochre, 1.5});
        painter.drawArc(QRectF{3, 4, 10, 10}, 0, 180 * 16);
        painter.drawEllipse(QPointF{8, 10}, 1.5, 1.5);
        break;
    case Of::sprung:
        painter.setBrush(t.mint);
        painter.drawPolygon(diamond);
        break;
    }
    return QIcon{picture};
}

/// "40 s", "12 min", "9.8 h".
QString durationText(double seconds)
{
    if (seconds < 90)
        return QObject::tr("%1 s").arg(std::lround(seconds));
    if (seconds < 90 * 60)
        return QObject::tr("%1 min").arg(std::lround(seconds / 60));
    return QObject::tr("%1 h").arg(QLocale{}.toString(seconds / 3600, 'f', 1));
}

} // namespace

ScoutWindow::ScoutWindow(Scouting& scouting, Document& document, QWidget* parent)
    : QDialog(parent), scouting_(scouting), document_(document), next_(scouting.options())
{
    setObjectName(QStringLiteral("scout"));
    setWindowTitle(tr("Scout"));
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    setProperty("help", QStringLiteral("guide#let-the-bench-play"));
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(14, 12, 14, 10);
    column->setSpacing(8);
    buildTop(column);
    buildList(column);
    buildFoot(column);
    resize(500, 560);
    connect(&scouting_, &Scouting::changed, this, &ScoutWindow::refresh);
    connect(&scouting_, &Scouting::progressed, this, &ScoutWindow::tell);
    refresh();
}

void ScoutWindow::buildTop(QVBoxLayout* column)
{
    said_ = new QLabel;
    said_->setObjectName(QStringLiteral("scoutSaid"));
    said_->setWordWrap(true);
    column->addWidget(said_);
    progress_ = new QProgressBar;
    progress_->setObjectName(QStringLiteral("scoutProgress"));
    progress_->setFixedHeight(5);
    progress_->setTextVisible(false);
    column->addWidget(progress_);
    auto* line = new QHBoxLayout;
    start_ = new QPushButton;
    start_->setObjectName(QStringLiteral("scoutStart"));
    start_->setDefault(true);
    connect(start_, &QPushButton::clicked, this, &ScoutWindow::startOrStop);
    line->addWidget(start_);
    amount_ = new SlotButton{QString(), SlotButton::Kind::filled};
    amount_->setObjectName(QStringLiteral("scoutAmount"));
    amount_->setToolTip(tr("How many plays, and how long one is at most"));
    connect(amount_, &SlotButton::clicked, this, &ScoutWindow::askHowMuch);
    line->addWidget(amount_);
    line->addStretch(1);
    column->addLayout(line);
}

void ScoutWindow::buildList(QVBoxLayout* column)
{
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("scoutList"));
    list_->setAccessibleName(tr("What was found"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setWordWrap(true);
    list_->setSpacing(1);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(list_, &QListWidget::itemClicked, this, &ScoutWindow::go);
    connect(list_, &QListWidget::itemActivated, this, [this] { keep(false); });
    connect(list_, &QListWidget::currentRowChanged, this,
            [this] { keep_->setEnabled(chosen() && chosen()->take && scouting_.isFresh()); });
    column->addWidget(list_, 1);
    blank_ = new QWidget; // while there is nothing to list
    column->addWidget(blank_, 1);
}

void ScoutWindow::buildFoot(QVBoxLayout* column)
{
    auto* foot = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& text, const QString& tip) {
        auto* made = new QPushButton{text};
        made->setObjectName(QLatin1String(name));
        made->setToolTip(tip);
        made->setAutoDefault(false);
        foot->addWidget(made);
        return made;
    };
    keep_ = button("scoutKeep", tr("Keep as take"), tr("A take of the scene that shows it, as its play is (Return)"));
    keepAll_ = button("scoutKeepAll", tr("Keep all"), tr("A take for each of them, in one step"));
    connect(keep_, &QPushButton::clicked, this, [this] { keep(false); });
    connect(keepAll_, &QPushButton::clicked, this, [this] { keep(true); });
    foot->addStretch(1);
    connect(button("scoutClose", tr("Close"), {}), &QPushButton::clicked, this, &QDialog::close);
    column->addLayout(foot);
}

void ScoutWindow::askHowMuch()
{
    Question question;
    question.title = tr("How many plays, and how long one is at most, s");
    question.typed = QStringLiteral("%1, %2").arg(next_.plays).arg(next_.seconds);
    question.proposes = true;
    question.freeText = true;
    for (const auto& [plays, seconds] : {std::pair{500, 30}, {2000, 60}, {10'000, 60}, {50'000, 120}})
        question.choices.push_back({QStringLiteral("%1, %2").arg(plays).arg(seconds),
                                    tr("%1 plays of %2 s").arg(QLocale{}.toString(plays)).arg(seconds),
                                    {},
                                    {}});
    const auto read = [](const QString& typed) -> std::optional<std::pair<int, double>> {
        const auto numbers = numbersIn(typed, 2);
        if (!numbers || (*numbers)[0] < 1 || (*numbers)[0] > mostPlays || (*numbers)[1] < 1 ||
            (*numbers)[1] > mostSeconds)
            return std::nullopt;
        return std::pair{static_cast<int>((*numbers)[0]), (*numbers)[1]};
    };
    question.check = [read](const QStringList& given) {
        return read(given.front()) ? QString() : tr("Two numbers, such as 2000, 60");
    };
    SlotPopup::ask(amount_, question, [this, read](const QStringList& given) {
        std::tie(next_.plays, next_.seconds) = *read(given.front());
        tell();
    });
}

void ScoutWindow::startOrStop()
{
    if (scouting_.isRunning())
        return scouting_.stop();
    scouting_.start(next_);
}

void ScoutWindow::refresh()
{
    list();
    tell();
}

/// What is going on, and what it came to.
void ScoutWindow::tell()
{
    const QLocale locale;
    const bool runs = scouting_.isRunning();
    const check::ScoutProgress& now = scouting_.progress();
    start_->setText(scouting_.isEnding() ? tr("Skip") : runs ? tr("Stop") : tr("Scout"));
    start_->setToolTip(scouting_.isEnding() ? tr("Leave the takes as they are") : QString());
    amount_->setText(tr("%1 plays of %2 s at most").arg(locale.toString(next_.plays), locale.toString(next_.seconds)));
    amount_->setEnabled(!runs);
    progress_->setVisible(runs);
    list_->setVisible(!scouting_.lines().empty());
    blank_->setVisible(!list_->isVisibleTo(this));
    progress_->setRange(0, scouting_.options().plays);
    progress_->setValue(runs ? now.plays : 0);
    const check::Scouted* found = scouting_.result();
    if (scouting_.isEnding()) {
        said_->setText(tr("Making the takes as short as they can be …"));
    } else if (runs) {
        said_->setText(tr("%1 of %2 plays: %3 of %4 snares sprang")
                           .arg(locale.toString(now.plays), locale.toString(scouting_.options().plays))
                           .arg(now.sprung)
                           .arg(now.snares));
    } else if (!found) {
        said_->setText(tr("The bench plays the scene by itself, many times over: it walks, presses keys, points, "
                          "clicks, drags, turns dials and raises calls. Then it tells what can be reached, and what "
                          "breaks."));
    } else {
        const auto sprung = std::ranges::count_if(found->snares, [](const auto& one) { return one.take.has_value(); });
        QString text = tr("%1 plays, %2 of play: %3 of %4 snares sprang.")
                           .arg(locale.toString(found->plays), durationText(found->played))
                           .arg(sprung)
                           .arg(found->snares.size());
        if (found->noHandles)
            text += tr(" Nothing in the scene listens to keys, pointer, dials or calls.");
        if (!scouting_.isFresh())
            text += tr(" The scene has changed since.");
        said_->setText(text);
    }
}

void ScoutWindow::list()
{
    const int row = list_->currentRow();
    list_->clear();
    std::optional<Of> head;
    bool anyTake = false;
    for (std::size_t i = 0; i < scouting_.lines().size(); ++i) {
        const check::ScoutLine& line = scouting_.lines()[i];
        if (head != line.of) {
            auto* title = new QListWidgetItem{headText(line.of), list_};
            title->setFlags(Qt::NoItemFlags);
            title->setFont(textFont(-0.5, true));
            title->setForeground(line.of == Of::broken ? theme().coralText : theme().inkSoft);
        }
        head = line.of;
        auto* item = new QListWidgetItem{signOf(line.of), toText(line.text), list_};
        item->setData(Qt::UserRole, static_cast<int>(i));
        item->setData(Qt::AccessibleTextRole, tr("%1: %2").arg(headText(line.of), toText(line.text)));
        anyTake = anyTake || line.take.has_value();
    }
    if (row >= 0)
        list_->setCurrentRow(std::min(row, list_->count() - 1));
    keep_->setEnabled(chosen() && chosen()->take && scouting_.isFresh());
    keepAll_->setEnabled(anyTake && scouting_.isFresh());
}

/// The line that is chosen; nullptr if none is.
const check::ScoutLine* ScoutWindow::chosen() const
{
    const QListWidgetItem* item = list_->currentItem();
    const QVariant which = item ? item->data(Qt::UserRole) : QVariant();
    return which.isValid() && which.toUInt() < scouting_.lines().size() ? &scouting_.lines()[which.toUInt()] : nullptr;
}

void ScoutWindow::go()
{
    if (const check::ScoutLine* line = chosen(); line && !line->snare.empty())
        emit snareWanted(toText(line->snare));
}

/// Takes of the scene from what was found; one step of undo.
void ScoutWindow::keep(bool all)
{
    std::vector<const check::ScoutLine*> lines;
    if (all)
        for (const check::ScoutLine& line : scouting_.lines())
            lines.push_back(&line);
    else if (const check::ScoutLine* line = chosen())
        lines.push_back(line);
    std::erase_if(lines, [](const check::ScoutLine* line) { return !line->take; });
    if (lines.empty() || !scouting_.isFresh())
        return;
    document_.undoStack()->beginMacro(all ? tr("Keep what scouting found") : tr("Keep a take of scouting"));
    for (const check::ScoutLine* line : lines)
        document_.addTake(line->take->name, line->take->take);
    document_.undoStack()->endMacro();
    emit said(lines.size() == 1 ? tr("Kept as the take %1").arg(toText(lines.front()->take->name))
                                : tr("Kept as %1 takes").arg(lines.size()));
}

} // namespace snare::app
