// SPDX-License-Identifier: Apache-2.0
#include "app/window/comparing.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "words/moment.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

namespace {

enum ItemRole { lineRole = Qt::UserRole, tickRole };

} // namespace

Comparing::Comparing(Document& document, Stage& stage, std::shared_ptr<const scene::Scene> other, const QString& name,
                     QWidget* parent)
    : QDialog(parent), document_(document), stage_(stage), other_(std::move(other)), name_(name)
{
    setObjectName(QStringLiteral("comparing"));
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("%1 compared with %2").arg(document_.title(), name_));
    resize(560, 520);
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(12, 12, 12, 10);
    said_ = new QLabel{this};
    said_->setObjectName(QStringLiteral("comparingSaid"));
    said_->setWordWrap(true);
    column->addWidget(said_);
    list_ = new QListWidget{this};
    list_->setObjectName(QStringLiteral("comparingList"));
    list_->setAccessibleName(tr("What differs"));
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    auto* hint = new QLabel{tr("Alt+← and Alt+→ walk through what happens otherwise."), this};
    colourText(hint, &Theme::inkSoft);
    foot->addWidget(hint, 1);
    auto* close = new QPushButton{tr("Close"), this};
    close->setAutoDefault(false);
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    foot->addWidget(close);
    column->addLayout(foot);
    connect(list_, &QListWidget::itemClicked, this, &Comparing::go);
    connect(list_, &QListWidget::itemActivated, this, &Comparing::go);
    connect(&stage_, &Stage::recordChanged, this, [this] {
        if (stage_.isRerunning() || stage_.mode() == Stage::Mode::recording)
            return;
        if (stage_.compared() == other_)
            tell();
        else
            stage_.compareWith(other_); // an edit ended it
    });
    connect(&telling_, &QFutureWatcherBase::finished, this, [this] {
        words_ = telling_.result();
        if (stage_.compared() == other_)
            tell(); // the scene may have changed meanwhile
    });
    connect(&document_, &Document::replaced, this, &QWidget::close);
    said_->setText(tr("Running the take with %1…").arg(name_));
    stage_.compareWith(other_);
}

Comparing::~Comparing()
{
    telling_.waitForFinished();
}

/// Compares the words beside everything else; what is known is shown.
void Comparing::tell()
{
    if (telling_.isRunning())
        return;
    if (told_ == document_.sharedScene())
        return refresh();
    told_ = document_.sharedScene();
    telling_.setFuture(QtConcurrent::run([was = other_, is = told_] { return check::wordsThatDiffer(*was, *is); }));
}

namespace {

constexpr std::size_t mostRows = 2000; // rows of either part

/// What happens otherwise in the take: a row of the list.
struct OtherLine {
    std::int32_t tick;
    QString sign;
    QString words;
    QString more;
    std::int32_t line; ///< of this record; -1: gone
    QColor colour;
    std::int32_t last = 0; ///< tick of the last of several alike, one after the other
    int times = 1;
};

/// By tick; what came tick after tick is one.
std::vector<OtherLine> otherLinesOf(const sim::Record& before, const sim::Record& record,
                             const check::Differences& differences)
{
    std::vector<OtherLine> entries;
    const auto add = [&](const sim::Record& of, std::size_t number, const QString& sign, bool here,
                         const QColor& colour, const QString& more) {
        const rules::Line& line = of.journal.lines[number];
        entries.push_back({line.tick, sign, toText(words::stepText(of, line)), more,
                           here ? static_cast<std::int32_t>(number) : -1, colour, line.tick});
    };
    for (const std::size_t number : differences.gone)
        add(before, number, QStringLiteral("−"), false, theme().coralText, {});
    for (const std::size_t number : differences.fresh)
        add(record, number, QStringLiteral("+"), true, theme().mintText, {});
    for (const check::Moved& moved : differences.moved)
        add(record, moved.after, QStringLiteral("~"), true, theme().ink,
            QObject::tr(", before at %1 s")
                .arg(static_cast<double>(before.journal.lines[moved.before].tick) / before.scene->rate, 0, 'f', 3));
    std::ranges::stable_sort(entries, {}, &OtherLine::tick);
    std::vector<OtherLine> rows;
    for (OtherLine& entry : entries)
        if (!rows.empty() && entry.more.isEmpty() && rows.back().sign == entry.sign &&
            rows.back().words == entry.words) {
            rows.back().last = entry.tick;
            ++rows.back().times;
        } else {
            rows.push_back(std::move(entry));
        }
    return rows;
}

} // namespace

void Comparing::heading(const QString& text)
{
    auto* item = new QListWidgetItem{text};
    item->setFlags(Qt::NoItemFlags);
    item->setFont(textFont(0, true));
    item->setForeground(theme().inkSoft);
    list_->addItem(item);
}

void Comparing::listWords()
{
    QString place;
    for (const check::WordChange& change : std::span(words_).first(std::min(words_.size(), mostRows))) {
        if (const QString now = toText(change.place); now != place) {
            place = now;
            if (!place.isEmpty())
                heading(place);
        }
        auto* item =
            new QListWidgetItem{(change.added ? QStringLiteral("+ ") : QStringLiteral("− ")) + toText(change.text)};
        item->setForeground(change.added ? theme().mintText : theme().coralText);
        list_->addItem(item);
    }
    if (words_.size() > mostRows)
        heading(tr("and %1 more").arg(words_.size() - mostRows));
}

void Comparing::listEvents(const sim::Record& before)
{
    heading(tr("What happens otherwise"));
    const sim::Record& record = stage_.record();
    const std::vector<OtherLine> rows = otherLinesOf(before, record, stage_.differences());
    const auto secondsOf = [&](std::int32_t tick) {
        return QString::number(static_cast<double>(tick) / record.scene->rate, 'f', 3);
    };
    for (const OtherLine& entry : std::span(rows).first(std::min(rows.size(), mostRows))) {
        auto* item = new QListWidgetItem{
            entry.times == 1
                ? QStringLiteral("%1 %2 s  %3%4").arg(entry.sign, secondsOf(entry.tick), entry.words, entry.more)
                : QStringLiteral("%1 %2–%3 s  %4 × %5")
                      .arg(entry.sign, secondsOf(entry.tick), secondsOf(entry.last), entry.words)
                      .arg(entry.times)};
        item->setForeground(entry.colour);
        item->setData(lineRole, entry.line);
        item->setData(tickRole, entry.tick);
        list_->addItem(item);
    }
    if (rows.size() > mostRows)
        heading(tr("and %1 more").arg(rows.size() - mostRows));
}

void Comparing::refresh()
{
    const int row = list_->currentRow();
    list_->clear();
    listWords();
    const check::Differences& differences = stage_.differences();
    const std::size_t events = differences.fresh.size() + differences.gone.size() + differences.moved.size();
    if (const sim::Record* before = stage_.earlier(); before && events > 0)
        listEvents(*before);
    said_->setText(words_.empty() && events == 0
                       ? tr("It is the same as %1.").arg(name_)
                       : tr("%1 since %2; %3.")
                             .arg(counted(words_.size(), tr("sentence differs"), tr("sentences differ")), name_,
                                  events == 0 ? tr("the same happens")
                                              : tr("%1 new, %2 gone, %3 moved in the take")
                                                    .arg(differences.fresh.size())
                                                    .arg(differences.gone.size())
                                                    .arg(differences.moved.size())));
    if (row >= 0)
        list_->setCurrentRow(std::min(row, list_->count() - 1));
}

void Comparing::go()
{
    const QListWidgetItem* item = list_->currentItem();
    if (!item || !item->data(tickRole).isValid())
        return;
    const int line = item->data(lineRole).toInt();
    const int tick = item->data(tickRole).toInt();
    if (line >= 0)
        stage_.chooseLine(line);
    else
        stage_.setCursor(tick);
}

} // namespace snare::app
