// SPDX-License-Identifier: Apache-2.0
/// The first hint: three steps that a newcomer can take at once; each is ticked off when it was
/// done. Can be closed. Where there is a take, they look into it; where there is none, they lead to
/// the first.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"
#include "app/model/stage.h"

#include <QFrame>

class QLabel;

namespace snare::app {

class FirstHint : public QFrame {
    Q_OBJECT

  public:
    FirstHint(Document& document, Stage& stage, Selection& selection, QWidget* parent);

    /// Whether it was never closed.
    static bool isWanted();
    int stepsDone() const;

  signals:
    void closed();

  private:
    /// Begins anew with the steps for the document that is there.
    void begin();
    void take(int step);
    /// Ticks off what the document shows to be done.
    void look();
    void refresh();

    Document& document_;
    bool withoutTake_ = false; ///< the steps that lead to a take
    QLabel* steps_[3];
    bool done_[3] = {};
};

} // namespace snare::app
