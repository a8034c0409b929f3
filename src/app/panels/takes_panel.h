// SPDX-License-Identifier: Apache-2.0
/// `Takes`: the takes of the scene and of its folder, what they are for, and whether they show what
/// they must.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"
#include "check/takes.h"

#include <QFutureWatcher>
#include <QWidget>

#include <atomic>
#include <functional>
#include <map>
#include <memory>

class QHBoxLayout;
class QLabel;
class QListWidget;
class QProgressBar;
class QScrollArea;
class QToolButton;

namespace snare::app {

class ExpectationList;

class TakesPanel : public QWidget {
    Q_OBJECT

  public:
    TakesPanel(Document& document, Stage& stage, QWidget* parent = nullptr);
    ~TakesPanel() override;

    void refresh();
    /// Runs all takes of the scene and of its folder, beside everything else.
    void runAll();
    bool isRunning() const { return running_.isRunning(); }
    /// Asks how to run the shown take with its inputs a little off, and does so; stops it if it
    /// runs.
    void askHowSure();
    ExpectationList* expectations() { return expectations_; }

  signals:
    /// Another scene of the folder is to be opened, with this take. `scene` is empty if the take
    /// names none.
    void openWanted(const QString& scene, const QString& take);
    /// How many takes failed, as far as is known.
    void failuresChanged(int failed);

  protected:
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    /// What became of a take when it was run last.
    struct Known {
        std::shared_ptr<const scene::Take> take; ///< as it was then
        std::shared_ptr<const scene::Scene> scene;
        check::Judgement judgement;
    };
    /// A row of the list.
    struct Row {
        int take = -1;        ///< of the document; -1: another file of the folder
        std::size_t file = 0; ///< in `others_`
    };
    /// A take of the folder that is not of this scene.
    struct Other {
        std::filesystem::path file;
        std::optional<check::TakeResult> result; ///< nothing: not run yet
    };
    /// What a run of all found.
    struct Found {
        std::vector<std::pair<NamedTake, check::Judgement>> own;
        std::vector<check::TakeResult> others;
        std::shared_ptr<const scene::Scene> scene;
    };

    QWidget* buildList();
    QWidget* buildExpectations();
    QToolButton* button(QHBoxLayout* line, const char* name, const QString& text, const QString& tip,
                        const std::function<void()>& done);
    void follow();
    void note(const NamedTake& take, std::shared_ptr<const scene::Scene> scene, check::Judgement judgement);
    const check::Judgement* judgementOf(const NamedTake& take) const;
    void choose();
    void rename();
    void remove();
    void finished();
    void listOthers();
    void takeOthers(const std::vector<std::filesystem::path>& files);
    void count();
    void tellHowSure();
    void showMenu(const QPoint& at);

    Document& document_;
    Stage& stage_;
    std::map<std::string, Known> known_; ///< by the name of the take
    std::vector<Other> others_; ///< of the folder, by name
    std::vector<Row> rows_;
    QLabel* count_;
    QListWidget* list_;
    ExpectationList* expectations_;
    QScrollArea* area_;
    QProgressBar* progress_;
    QToolButton* run_;
    QToolButton* accept_;
    QToolButton* sure_;
    QLabel* sureSaid_;
    QFutureWatcher<Found> running_;
    QFutureWatcher<std::vector<std::filesystem::path>> listing_;
    std::shared_ptr<std::atomic<bool>> cancel_;
    bool filling_ = false;
};

} // namespace snare::app
