// SPDX-License-Identifier: Apache-2.0
/// `Findings`: what cannot work, the worst first: what is wrong, why it matters, and the fix as a
/// button.
#pragma once

#include "app/model/document.h"
#include "app/model/findings_watch.h"
#include "app/model/stage.h"
#include "check/after_take.h"

#include <QFutureWatcher>
#include <QWidget>

class QLabel;
class QListWidget;

namespace snare::app {

class FindingsPanel : public QWidget {
    Q_OBJECT

  public:
    FindingsPanel(Document& document, Stage& stage, QWidget* parent = nullptr);
    ~FindingsPanel() override;
    void refresh();

  signals:
    /// The place of a finding is to be shown.
    void placeWanted(const snare::check::Place& place);
    /// A snare that never sprang in the take is to be shown, as the run calls it.
    void snareWanted(const QString& snare);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void lookAtTake();
    const check::Finding* chosen() const;
    const check::TakeFinding* chosenOfTake() const;
    void go();
    void fix();
    void accept();
    void showMenu(const QPoint& screenPoint);

    Stage& stage_;
    FindingsWatch& findings_;
    std::vector<check::TakeFinding> ofTake_; ///< what the take shows
    QFutureWatcher<std::vector<check::TakeFinding>> looking_;
    std::shared_ptr<const sim::Record> looked_; ///< whose findings those are, or will be
    QLabel* count_;
    QListWidget* list_;
    bool showsAccepted_ = false;
};

} // namespace snare::app
