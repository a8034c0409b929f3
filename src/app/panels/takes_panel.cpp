// SPDX-License-Identifier: Apache-2.0
#include "app/panels/takes_panel.h"

#include "app/panels/expectation_list.h"
#include "app/ui/accessible.h"
#include "app/ui/flag.h"
#include "app/ui/menus.h"
#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "sim/recorder.h"

#include <QDateTime>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QMenu>
#include <QPainter>
#include <QProgressBar>
#include <QPromise>
#include <QScrollArea>
#include <QSplitter>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

namespace {

enum ItemRole { nameRole = Qt::UserRole, noteRole, verdictRole, stateRole, shownRole };
enum State { unknown, passed, failed };

/// A take: its flag, its name, what it is for, and how many of its expectations held.
class TakeLine : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override
    {
        return {120, QFontMetrics{textFont()}.height() + QFontMetrics{textFont(-0.5)}.height() + 16};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Theme& t = theme();
        const QRectF row = option.rect;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (option.state & QStyle::State_Selected)
            painter->fillRect(row, QColor(t.mint.red(), t.mint.green(), t.mint.blue(), 46));
        const int state = index.data(stateRole).toInt();
        if (state != unknown)
            paintFlag(*painter, QPointF{row.left() + 14, row.top() + 24}, state == passed);
        const QFontMetricsF bold{textFont(0, true)};
        const QFontMetricsF small{textFont(-0.5)};
        const QString verdict = index.data(verdictRole).toString();
        const double wide = small.horizontalAdvance(verdict) + 6;
        const QRectF top{row.left() + 34, row.top() + 7, row.width() - 34 - 12, bold.height()};
        painter->setFont(textFont(0, index.data(shownRole).toBool()));
        painter->setPen(t.ink);
        painter->drawText(top.adjusted(0, 0, -wide, 0), Qt::AlignVCenter,
                          bold.elidedText(index.data(nameRole).toString(), Qt::ElideMiddle, top.width() - wide));
        painter->setFont(textFont(-0.5));
        painter->setPen(state == failed ? t.coralText : t.inkSoft);
        painter->drawText(top, Qt::AlignVCenter | Qt::AlignRight, verdict);
        painter->setPen(t.inkSoft);
        const QRectF below{top.left(), top.bottom() + 1, top.width(), small.height()};
        painter->drawText(below, Qt::AlignVCenter,
                          small.elidedText(index.data(noteRole).toString(), Qt::ElideRight, below.width()));
        painter->setPen(QPen{t.hairline, 0.6});
        painter->drawLine(row.bottomLeft(), row.bottomRight());
        painter->restore();
    }
};

/// Where a take's file was changed last: "today 14:05", "3 Nov".
QString changedText(const QString& file)
{
    const QDateTime at = QFileInfo{file}.lastModified();
    if (!at.isValid())
        return QObject::tr("not saved yet");
    return at.date() == QDate::currentDate()
               ? QObject::tr("changed today %1").arg(QLocale{}.toString(at.time(), QLocale::ShortFormat))
               : QObject::tr("changed %1").arg(QLocale{}.toString(at.date(), QLocale::ShortFormat));
}

QString verdictText(const check::Judgement& judgement)
{
    const std::size_t all = judgement.verdicts.size();
    if (judgement.passed())
        return all == 0 ? QObject::tr("runs") : QObject::tr("%1 hold").arg(all);
    return QObject::tr("%1 of %2 failed").arg(judgement.failures()).arg(std::max<std::size_t>(all, 1));
}

} // namespace

TakesPanel::TakesPanel(Document& document, Stage& stage, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage)
{
    setObjectName(QStringLiteral("takes"));
    auto* layout = new QHBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    auto* parts = new QSplitter{Qt::Horizontal, this};
    layout->addWidget(parts);
    parts->addWidget(buildList());
    parts->addWidget(buildExpectations());
    parts->setStretchFactor(0, 2);
    parts->setStretchFactor(1, 3);
    parts->setChildrenCollapsible(false);
    follow();
}

QToolButton* TakesPanel::button(QHBoxLayout* line, const char* name, const QString& text, const QString& tip,
                                const std::function<void()>& done)
{
    auto* made = new QToolButton{this};
    made->setObjectName(QLatin1String(name));
    made->setText(text);
    made->setToolTip(tip);
    made->setAutoRaise(true);
    line->addWidget(made);
    connect(made, &QToolButton::clicked, this, done);
    return made;
}

/// The takes, and what is done with them.
QWidget* TakesPanel::buildList()
{
    auto* left = new QWidget{this};
    auto* column = new QVBoxLayout{left};
    column->setContentsMargins(0, 6, 0, 4);
    column->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 0, 8, 0);
    count_ = new QLabel{left};
    count_->setObjectName(QStringLiteral("takesCount"));
    colourText(count_, &Theme::inkSoft);
    top->addWidget(count_, 1);
    run_ = button(top, "takesRun", tr("Run all"), tr("All takes of this scene and of its folder"), [this] {
        if (isRunning() && cancel_)
            cancel_->store(true);
        else
            runAll();
    });
    column->addLayout(top);
    progress_ = new QProgressBar{left};
    progress_->setObjectName(QStringLiteral("takesProgress"));
    progress_->setFixedHeight(5);
    progress_->setTextVisible(false);
    progress_->hide();
    column->addWidget(progress_);
    list_ = new QListWidget{left};
    list_->setObjectName(QStringLiteral("takesList"));
    list_->setAccessibleName(tr("Takes"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setItemDelegate(new TakeLine{list_});
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->installEventFilter(this);
    connect(list_, &QListWidget::currentRowChanged, this, [this] {
        if (!filling_)
            choose();
    });
    connect(list_, &QListWidget::customContextMenuRequested, this, &TakesPanel::showMenu);
    column->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(8, 0, 8, 0);
    button(foot, "takeNew", tr("New"), tr("An empty take"), [this] { document_.addTake("take", {}); });
    button(foot, "takeCopy", tr("Copy"), tr("The shown take once more"),
           [this] { document_.addTake("copy", document_.take()); });
    button(foot, "takeRename", tr("Rename…"), tr("The shown take (F2)"), [this] { rename(); });
    button(foot, "takeRemove", tr("Remove"), tr("The shown take (Del)"), [this] { remove(); });
    foot->addStretch(1);
    column->addLayout(foot);
    return left;
}

/// What the shown take expects, and how sure that is.
QWidget* TakesPanel::buildExpectations()
{
    auto* right = new QWidget{this};
    auto* side = new QVBoxLayout{right};
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(0);
    area_ = new QScrollArea{right};
    giveRole(area_, QAccessible::Pane, tr("What the take expects"));
    area_->setFrameShape(QFrame::NoFrame);
    area_->setWidgetResizable(true);
    area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    expectations_ = new ExpectationList{document_, stage_};
    area_->setWidget(expectations_);
    side->addWidget(area_, 1);
    auto* below = new QHBoxLayout;
    below->setContentsMargins(8, 0, 8, 4);
    sure_ = button(below, "takeSure", tr("How sure…"),
                   tr("Run the take many times, its inputs a little off: how often does each expectation hold?"),
                   [this] { askHowSure(); });
    sureSaid_ = new QLabel{right};
    sureSaid_->setObjectName(QStringLiteral("takeSureSaid"));
    colourText(sureSaid_, &Theme::inkSoft);
    below->addWidget(sureSaid_);
    below->addStretch(1);
    accept_ = button(below, "takeAccept", tr("This is right now…"),
                     tr("Expect what the run shows: what changes is shown first"),
                     [this] { expectations_->askToAccept(std::nullopt, accept_); });
    side->addLayout(below);
    return right;
}

/// What is run and chosen elsewhere is shown here.
void TakesPanel::follow()
{
    const auto show = [this] {
        if (isVisible() && stage_.mode() != Stage::Mode::recording)
            refresh();
        else
            count();
    };
    connect(&stage_, &Stage::recordChanged, this, show);
    connect(&document_, &Document::takeChosen, this, show, Qt::QueuedConnection); // once all know of it
    connect(&document_, &Document::replaced, this, [this, show] {
        known_.clear();
        others_.clear();
        show();
        listOthers();
    });
    connect(&stage_.variation(), &Variation::changed, this, &TakesPanel::tellHowSure);
    connect(&stage_.variation(), &Variation::progressed, this, &TakesPanel::tellHowSure);
    connect(&running_, &QFutureWatcherBase::progressValueChanged, progress_, &QProgressBar::setValue);
    connect(&running_, &QFutureWatcherBase::progressRangeChanged, progress_, &QProgressBar::setRange);
    connect(&running_, &QFutureWatcherBase::finished, this, &TakesPanel::finished);
    connect(&listing_, &QFutureWatcherBase::finished, this, [this] {
        if (listing_.future().resultCount() > 0)
            takeOthers(listing_.result());
        if (isVisible() && stage_.mode() != Stage::Mode::recording)
            refresh();
    });
}

TakesPanel::~TakesPanel()
{
    if (cancel_)
        cancel_->store(true);
    running_.waitForFinished();
    listing_.waitForFinished();
}

void TakesPanel::askHowSure()
{
    Variation& variation = stage_.variation();
    if (variation.isRunning())
        return variation.stop();
    Question question;
    question.title = tr("How many runs, and how far inputs may be off, ms");
    question.typed = QStringLiteral("%1, %2").arg(variation.options().runs).arg(variation.options().within * 1000);
    question.proposes = true;
    question.freeText = true;
    const auto offer = [&](int runs, double milliseconds) {
        const QString value = QStringLiteral("%1, %2").arg(runs).arg(milliseconds);
        if (std::ranges::find(question.choices, value, &Choice::value) == question.choices.end())
            question.choices.push_back({value, tr("%1 runs, up to %2 ms off").arg(runs).arg(milliseconds), {}, {}});
    };
    offer(variation.options().runs, variation.options().within * 1000); // as the last time
    offer(500, 50);
    offer(100, 50);
    offer(500, 20);
    offer(2000, 50);
    const auto read = [](const QString& typed) -> std::optional<check::VaryOptions> {
        const auto numbers = numbersIn(typed, 2);
        if (!numbers || (*numbers)[0] < 2 || (*numbers)[0] > 100'000 || (*numbers)[1] < 0 || (*numbers)[1] > 10'000)
            return std::nullopt;
        check::VaryOptions options;
        options.runs = static_cast<int>((*numbers)[0]);
        options.within = (*numbers)[1] / 1000;
        return options;
    };
    question.check = [read](const QStringList& given) {
        return read(given.front()) ? QString() : tr("Two numbers, such as 500, 50");
    };
    SlotPopup::ask(sure_, question,
                   [this, read](const QStringList& given) { stage_.variation().start(*read(given.front())); });
}

void TakesPanel::tellHowSure()
{
    const Variation& variation = stage_.variation();
    sure_->setText(variation.isRunning() ? tr("Stop") : tr("How sure…"));
    const check::Varied* result = variation.result();
    if (variation.isRunning())
        sureSaid_->setText(tr("%1 of %2 runs").arg(variation.done()).arg(variation.wanted()));
    else if (result)
        sureSaid_->setText(
            tr("%1 runs, inputs up to %2 ms off").arg(result->runs).arg(variation.options().within * 1000));
    else
        sureSaid_->clear();
    if (!variation.isRunning())
        expectations_->refresh();
}

void TakesPanel::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
    listOthers();
}

/// The other takes of the folder, looked for beside everything else. Nothing while the panel is not
/// seen.
void TakesPanel::listOthers()
{
    if (!isVisible() || document_.filePath().isEmpty())
        return;
    std::set<std::filesystem::path> own;
    for (const NamedTake& take : document_.takes())
        own.insert(
            std::filesystem::path{takePathFor(document_.filePath(), take.name).toStdString()}.lexically_normal());
    const std::filesystem::path folder = std::filesystem::path{document_.filePath().toStdString()}.parent_path();
    listing_.setFuture(QtConcurrent::run([own, folder] {
        std::vector<std::filesystem::path> files = check::takesBeside(folder);
        std::erase_if(files, [&](const std::filesystem::path& file) { return own.contains(file.lexically_normal()); });
        return files;
    }));
}

/// What is known of them stays.
void TakesPanel::takeOthers(const std::vector<std::filesystem::path>& files)
{
    std::vector<Other> others;
    for (const std::filesystem::path& file : files) {
        const auto known = std::ranges::find(others_, file, &Other::file);
        others.push_back(known == others_.end() ? Other{file, {}} : *known);
    }
    others_ = std::move(others);
}

void TakesPanel::note(const NamedTake& take, std::shared_ptr<const scene::Scene> scene, check::Judgement judgement)
{
    known_[take.name] = {take.take, std::move(scene), std::move(judgement)};
}

/// What is known of a take as it is now; nullptr if it, or the scene, has changed since it was run.
const check::Judgement* TakesPanel::judgementOf(const NamedTake& take) const
{
    const auto found = known_.find(take.name);
    const bool isFresh =
        found != known_.end() && found->second.take == take.take && found->second.scene == document_.sharedScene();
    return isFresh ? &found->second.judgement : nullptr;
}

/// What the stage has just run is known without asking.
void TakesPanel::count()
{
    const NamedTake& shown = document_.takes()[document_.currentTake()];
    const scene::Take& ran = stage_.record().take;
    if (!stage_.isRerunning() && stage_.mode() != Stage::Mode::recording && ran.expect == shown.take->expect &&
        ran.stops == shown.take->stops && stage_.judgement().verdicts.size() == ran.expect.size())
        note(shown, document_.sharedScene(), stage_.judgement());
    int failures = 0;
    for (const NamedTake& take : document_.takes())
        if (const check::Judgement* judgement = judgementOf(take); judgement && !judgement->passed())
            ++failures;
    for (const Other& other : others_)
        failures += !other.result || other.result->passed() ? 0 : 1;
    emit failuresChanged(failures);
}

void TakesPanel::refresh()
{
    count();
    filling_ = true;
    list_->clear();
    rows_.clear();
    int failures = 0;
    const auto add = [&](const QString& name, const QString& about, const QString& verdict, int state, bool shown) {
        auto* item = new QListWidgetItem;
        item->setData(nameRole, name);
        item->setData(noteRole, about);
        item->setData(verdictRole, verdict);
        item->setData(stateRole, state);
        item->setData(shownRole, shown);
        item->setData(Qt::AccessibleTextRole, QStringLiteral("%1: %2").arg(name, verdict));
        item->setToolTip(about);
        list_->addItem(item);
        failures += state == failed ? 1 : 0;
    };
    for (std::size_t i = 0; i < document_.takes().size(); ++i) {
        const NamedTake& take = document_.takes()[i];
        const check::Judgement* judgement = judgementOf(take);
        const QString file = document_.filePath().isEmpty() ? QString() : takePathFor(document_.filePath(), take.name);
        const QString about = take.take->note.empty()
                                  ? tr("%1 s, %2").arg(scene::lengthOf(*take.take), 0, 'f', 1).arg(changedText(file))
                                  : tr("%1 — %2").arg(toText(take.take->note), changedText(file));
        add(take.name.empty() ? tr("first take") : toText(take.name), about,
            judgement ? verdictText(*judgement) : tr("not run yet"),
            !judgement             ? unknown
            : judgement->passed() ? passed
                                  : failed,
            i == document_.currentTake());
        rows_.push_back({static_cast<int>(i), 0});
    }
    for (std::size_t i = 0; i < others_.size(); ++i) {
        const auto& [file, result] = others_[i];
        const QString name =
            QString::fromStdString(file.filename().string()).section(QLatin1String(".take.json"), 0, 0);
        const QString changed = changedText(QString::fromStdString(file.string()));
        if (!result)
            add(name, changed, tr("not run yet"), unknown, false);
        else if (!result->problem.empty())
            add(name, toText(result->problem), tr("cannot be run"), failed, false);
        else
            add(name, result->take.note.empty() ? changed : tr("%1 — %2").arg(toText(result->take.note), changed),
                verdictText(result->judgement), result->passed() ? passed : failed, false);
        rows_.push_back({-1, i});
    }
    list_->setCurrentRow(static_cast<int>(document_.currentTake()));
    filling_ = false;
    count_->setText(counted(rows_.size(), tr("take"), tr("takes")) +
                    (failures > 0 ? tr(" · %1 failed").arg(failures) : QString()));
    expectations_->refresh();
    accept_->setEnabled(!stage_.judgement().passed());
}

void TakesPanel::choose()
{
    const int row = list_->currentRow();
    if (row < 0 || static_cast<std::size_t>(row) >= rows_.size())
        return;
    if (const int take = rows_[static_cast<std::size_t>(row)].take; take >= 0)
        document_.chooseTake(static_cast<std::size_t>(take));
}

void TakesPanel::rename()
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
    SlotPopup::ask(list_, question, [this, index](const QStringList& answer) {
        document_.renameTake(index, answer.front().toStdString());
    });
}

void TakesPanel::remove()
{
    document_.removeTake(document_.currentTake());
}

void TakesPanel::showMenu(const QPoint& at)
{
    const QListWidgetItem* item = list_->itemAt(at);
    const int row = item ? list_->row(item) : list_->currentRow();
    if (row < 0 || static_cast<std::size_t>(row) >= rows_.size())
        return;
    QMenu& menu = *makeMenu(this);
    const Row one = rows_[static_cast<std::size_t>(row)];
    if (one.take < 0) {
        menu.addAction(tr("Open its scene"), this, [this, file = others_[one.file].file] {
            const auto take = io::loadTake(file);
            const bool hasScene = take && !take->scene.empty();
            emit openWanted(hasScene ? QString::fromStdString((file.parent_path() / take->scene).string()) : QString(),
                            QString::fromStdString(file.string()));
        });
    } else {
        list_->setCurrentRow(row);
        menu.addAction(tr("Rename…\tF2"), this, &TakesPanel::rename);
        menu.addAction(tr("Copy"), this, [this] { document_.addTake("copy", document_.take()); });
        menu.addAction(tr("Remove\tDel"), this, &TakesPanel::remove);
    }
    menu.popup(list_->viewport()->mapToGlobal(at));
}

bool TakesPanel::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == list_ && (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride)) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_F2 || key == Qt::Key_Delete) {
            if (event->type() == QEvent::KeyPress)
                key == Qt::Key_F2 ? rename() : remove();
            event->accept();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void TakesPanel::runAll()
{
    if (isRunning())
        return;
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    std::vector<std::filesystem::path> files;
    for (const Other& other : others_)
        files.push_back(other.file);
    run_->setText(tr("Stop"));
    progress_->setRange(0, 0);
    progress_->show();
    running_.setFuture(QtConcurrent::run([takes = document_.takes(), scene = document_.sharedScene(), files,
                                          cancel = cancel_](QPromise<Found>& promise) {
        promise.setProgressRange(0, static_cast<int>(takes.size() + files.size()));
        int done = 0;
        Found found;
        found.scene = scene;
        for (const NamedTake& take : takes) {
            if (cancel->load())
                break;
            sim::RerunOptions options;
            options.cancelled = cancel.get();
            const sim::Record record = sim::rerun(scene, *take.take, options);
            if (!cancel->load())
                found.own.emplace_back(take, check::judge(record));
            promise.setProgressValue(++done);
        }
        found.others = check::runTakes(
            files, 0, [&](const check::TakeResult&) { promise.setProgressValue(++done); }, cancel.get());
        promise.addResult(std::move(found));
    }));
}

void TakesPanel::finished()
{
    progress_->hide();
    run_->setText(tr("Run all"));
    if (running_.future().resultCount() == 0)
        return;
    const Found found = running_.result();
    if (found.scene == document_.sharedScene())
        for (const auto& [take, judgement] : found.own)
            note(take, found.scene, judgement);
    for (const check::TakeResult& result : found.others)
        if (const auto other = std::ranges::find(others_, result.file, &Other::file); other != others_.end())
            other->result = result;
    refresh();
}

} // namespace snare::app
