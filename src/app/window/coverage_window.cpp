// SPDX-License-Identifier: Apache-2.0
#include "app/window/coverage_window.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace snare::app {

namespace {

using Of = check::Covered::Of;

struct Kind {
    Of of;
    QString title;  ///< of those that were never used
    QString counted; ///< "7 of 9 snares sprang": %1 of %2
};

/// In the order of the list: the worst first.
std::vector<Kind> kinds()
{
    const auto tr = [](const char* text) { return QObject::tr(text); };
    return {{Of::snare, tr("never sprang"), tr("%1 of %2 snares sprang")},
            {Of::response, tr("never done"), tr("%1 of %2 responses were done")},
            {Of::zone, tr("nobody came in"), tr("%1 of %2 zones were visited")},
            {Of::phase, tr("never begun"), tr("%1 of %2 phases began")},
            {Of::signal, tr("never raised"), tr("%1 of %2 signals were raised")},
            {Of::source, tr("never used"), tr("%1 of %2 sources were used")},
            {Of::filter, tr("a filter that turned nobody away"), tr("%1 of %2 filters turned somebody away")},
            {Of::gate, tr("a gate that turned nothing away"), tr("%1 of %2 gates turned something away")}};
}

} // namespace

CoverageWindow::CoverageWindow(CoverageWatch& coverage, QWidget* parent) : QDialog(parent), coverage_(&coverage)
{
    setObjectName(QStringLiteral("coverage"));
    setWindowTitle(tr("What takes never use"));
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    setProperty("help", QStringLiteral("guide#keep-it-right"));
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(14, 12, 14, 10);
    said_ = new QLabel;
    said_->setObjectName(QStringLiteral("coverageSaid"));
    said_->setWordWrap(true);
    column->addWidget(said_);
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("coverageList"));
    list_->setAccessibleName(windowTitle());
    list_->setFrameShape(QFrame::NoFrame);
    list_->setWordWrap(true);
    connect(list_, &QListWidget::itemActivated, this, &CoverageWindow::go);
    connect(list_, &QListWidget::itemClicked, this, &CoverageWindow::go);
    column->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    auto* scout = new QPushButton{tr("Scout…")};
    scout->setObjectName(QStringLiteral("coverageScout"));
    scout->setToolTip(tr("Let the bench play the scene by itself: does it spring what no take does?"));
    scout->setAutoDefault(false);
    connect(scout, &QPushButton::clicked, this, &CoverageWindow::scoutWanted);
    foot->addWidget(scout);
    foot->addStretch(1);
    auto* done = new QPushButton{tr("Close")};
    done->setAutoDefault(false);
    connect(done, &QPushButton::clicked, this, &QDialog::close);
    foot->addWidget(done);
    column->addLayout(foot);
    resize(420, 560);
    connect(coverage_, &CoverageWatch::changed, this, &CoverageWindow::refresh);
    coverage_->setOn(true);
    refresh();
}

CoverageWindow::~CoverageWindow()
{
    if (!coverage_)
        return;
    disconnect(coverage_, nullptr, this, nullptr);
    coverage_->setOn(false);
}

void CoverageWindow::refresh()
{
    const int row = list_->currentRow();
    list_->clear();
    if (coverage_->all().empty()) {
        said_->setText(coverage_->isFresh() ? tr("There is nothing in the scene that a take could use.")
                                            : tr("Running the takes …"));
        return;
    }
    QStringList counts;
    for (const Kind& kind : kinds()) {
        std::size_t all = 0;
        std::size_t used = 0;
        bool isFirst = true;
        for (std::size_t i = 0; i < coverage_->all().size(); ++i) {
            const check::Covered& one = coverage_->all()[i];
            if (one.of != kind.of)
                continue;
            ++all;
            used += one.times > 0 ? 1 : 0;
            if (one.times > 0)
                continue;
            if (std::exchange(isFirst, false)) {
                auto* head = new QListWidgetItem{kind.title, list_};
                head->setFlags(Qt::NoItemFlags);
                head->setFont(textFont(-0.5, true));
                head->setForeground(theme().inkSoft);
            }
            auto* item = new QListWidgetItem{QStringLiteral("   ") + toText(one.name), list_};
            item->setData(Qt::UserRole, static_cast<int>(i));
            item->setData(Qt::AccessibleTextRole, tr("%1: %2").arg(kind.title, toText(one.name)));
        }
        if (all > 0 && kind.of != Of::filter && kind.of != Of::gate)
            counts << kind.counted.arg(used).arg(all);
    }
    said_->setText(tr("In %1: %2.").arg(counted(coverage_->takes(), tr("take"), tr("takes")), counts.join(tr(", "))));
    if (row >= 0)
        list_->setCurrentRow(std::min(row, list_->count() - 1));
}

void CoverageWindow::go()
{
    const QListWidgetItem* item = list_->currentItem();
    const QVariant which = item ? item->data(Qt::UserRole) : QVariant();
    if (!which.isValid() || which.toUInt() >= coverage_->all().size())
        return;
    const check::Covered& one = coverage_->all()[which.toUInt()];
    check::Place place = one.place;
    if (one.of == Of::response)
        place.response = one.step;
    if (!place.id.empty())
        emit placeWanted(place);
}

} // namespace snare::app
