// SPDX-License-Identifier: Apache-2.0
/// Above the timeline: record, play, step, and what the last edit changed.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

#include <QLabel>
#include <QToolButton>
#include <QWidget>

class QToolButton;

namespace snare::app {

/// A line of rich text that has shorter forms: it shows the fullest that has room, and tells all of
/// it when pointed at.
class FittingLabel : public QLabel {
    Q_OBJECT

  public:
    using QLabel::QLabel;

    /// From the fullest to the shortest; none clears it.
    void setForms(const QStringList& forms);
    /// The fullest, without markup.
    QString wholeText() const;

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void fit();

    QStringList forms_;
};

/// A button with words that has shorter forms: it asks for the room of the fullest and does with
/// that of the shortest.
class FittingButton : public QToolButton {
    Q_OBJECT

  public:
    using QToolButton::QToolButton;

    /// From the fullest to the shortest; at least one.
    void setForms(const QStringList& forms);
    QSize sizeHint() const override { return sizeOf(forms_.value(0)); }
    QSize minimumSizeHint() const override { return sizeOf(forms_.value(forms_.size() - 1)); }

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    QSize sizeOf(const QString& form) const;
    void fit();

    QStringList forms_;
};

class TransportBar : public QWidget {
    Q_OBJECT

  public:
    TransportBar(Document& document, Stage& stage, QWidget* parent = nullptr);

    /// Shows which view stands below.
    void setView(int index);
    /// Says at its tab how many takes failed.
    void setFailures(int failed);
    /// What it says of the last edit, without markup.
    QString changesText() const;

  signals:
    void recordPressed();
    void recordOnPressed();
    /// The next (1) or previous (-1) event of the chosen lane.
    void jumpWanted(int by);
    void loopPressed();
    /// Which view is to stand below: 0 timeline, 1 ledger.
    void viewChosen(int index);

  private:
    void refresh();
    void showTakes();
    void renameTake();
    QToolButton* button(const QString& iconName, const QString& tip, const std::function<void()>& press);

    Document& document_;
    Stage& stage_;
    QToolButton* record_;
    QToolButton* play_;
    QToolButton* loop_;
    FittingButton* take_;
    FittingLabel* changes_;
    std::vector<QToolButton*> views_;
};

} // namespace snare::app
