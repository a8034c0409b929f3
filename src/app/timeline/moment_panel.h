// SPDX-License-Identifier: Apache-2.0
/// The moment: why what happened, happened. Names every snare that listened and where the others
/// slipped.
#pragma once

#include "app/model/selection.h"
#include "app/model/stage.h"

#include <QScrollArea>

class QLabel;

namespace snare::app {

class MomentPanel : public QScrollArea {
    Q_OBJECT

  public:
    MomentPanel(Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// What it says, without markup.
    QString plainText() const;
    /// Tells the moment shown anew. Costs what happened in it, however long the record is.
    void refresh();

    /// Goes to what led to the event that is shown, or to the first thing that came of it.
    void goBack();
    void goOn();

  signals:
    /// What can be expected of a line of the record is to be offered.
    void menuWanted(int line, const QPoint& at);
    void snareChosen(const QString& snare);

  private:
    /// The event that is explained: the chosen one, else the last at or before the cursor that a
    /// snare listened to.
    std::int32_t eventToExplain() const;
    QString explain(std::int32_t event) const;
    QString outcomeLine(const rules::Line& line, const rules::Line& event) const;
    QString headline(const rules::Line& event) const;
    /// What the chosen snare missed over the whole take, by stage and reason.
    QString missed(const std::string& snare) const;
    /// The line whose causes are told: the chosen one, else the event that is explained.
    std::int32_t lineShown() const;
    /// The steps from what began it to the event, and what came of it.
    QString because(std::int32_t line) const;
    /// Why the chosen piece is as it is now: its place, its phase, its values, what it says.
    QString whySo() const;
    QString linkTo(std::int32_t line, const QString& text) const;
    void follow(const QString& link);

    Stage& stage_;
    Selection& selection_;
    QLabel* text_;
};

} // namespace snare::app
