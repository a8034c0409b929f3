// SPDX-License-Identifier: Apache-2.0
/// *Compare with…*: what differs between this scene and another version of it, in words and in what
/// happens; the lanes show the other one as ghosts.
#pragma once

#include "app/model/stage.h"
#include "check/versions.h"

#include <QDialog>
#include <QFutureWatcher>

class QLabel;
class QListWidget;

namespace snare::app {

class Comparing : public QDialog {
    Q_OBJECT

  public:
    /// `name`: what the other version is called.
    Comparing(Document& document, Stage& stage, std::shared_ptr<const scene::Scene> other, const QString& name,
              QWidget* parent);
    ~Comparing() override;

  private:
    void tell();
    void refresh();
    void heading(const QString& text);
    void listWords();
    void listEvents(const sim::Record& before);
    void go();

    Document& document_;
    Stage& stage_;
    std::shared_ptr<const scene::Scene> other_;
    QString name_;
    QLabel* said_;
    QListWidget* list_;
    QFutureWatcher<std::vector<check::WordChange>> telling_;
    std::shared_ptr<const scene::Scene> told_; ///< what `words_` are of, or will be
    std::vector<check::WordChange> words_;
};

} // namespace snare::app
