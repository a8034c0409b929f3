// SPDX-License-Identifier: Apache-2.0
/// A snare as a sentence with slots; every slot is changed in place.
#pragma once

#include "app/document.h"
#include "app/selection.h"
#include "app/slot_button.h"
#include "app/slot_popup.h"
#include "app/stage.h"

#include <QFrame>

class QLabel;
class QVBoxLayout;

namespace snare::app {

class FlowLayout;

/// Caught → filter → gate → sprang, counted over the take.
class Funnel : public QWidget {
    Q_OBJECT

  public:
    using QWidget::QWidget;
    void setCounts(int caught, int filter, int gate, int sprung);
    QSize sizeHint() const override { return {280, 24}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    int counts_[4] = {};
};

class SnareCard : public QFrame {
    Q_OBJECT

  public:
    SnareCard(Document& document, Stage& stage, Selection& selection, std::string snare, QWidget* parent = nullptr);

    const std::string& snare() const { return id_; }
    /// Builds the sentence anew if the snare is not what it shows.
    void refresh();
    /// The counts of the latest record.
    void refreshCounts();

  protected:
    void mousePressEvent(QMouseEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

  private:
    using Change = std::function<void(scene::Snare&)>;

    void build();
    void buildHead(QVBoxLayout* layout);
    void buildCatch(FlowLayout* line);
    void buildConditions(FlowLayout* line);
    void buildResponse(QVBoxLayout* layout, std::size_t index);
    void buildResponseSlots(FlowLayout* line, std::size_t index);

    void word(FlowLayout* line, const QString& text);
    SlotButton* slot(FlowLayout* line, const QString& name, const QString& text,
                     SlotButton::Kind kind = SlotButton::Kind::filled);

    void edit(const QString& name, const Change& change);
    void editCondition(const QString& key, QWidget* anchor);
    void editComparison(std::size_t index, QWidget* anchor);
    void offerConditions(QWidget* anchor);
    void offerResponses(QWidget* anchor);
    void offerFields(std::size_t index, QWidget* anchor);
    void openField(std::size_t index, const std::string& key, QWidget* anchor);
    void responseMenu(std::size_t index, QWidget* anchor);

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    std::string id_;
    scene::Snare shown_;
    bool built_ = false;
    QWidget* body_ = nullptr;
    Funnel* funnel_ = nullptr;
};

} // namespace snare::app
