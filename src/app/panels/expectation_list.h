// SPDX-License-Identifier: Apache-2.0
/// What the shown take expects: a sentence with slots for each, its flag, and what came nearest
/// where it did not hold.
#pragma once

#include "app/model/stage.h"
#include "app/slots/field_card.h"
#include "check/expectations.h"

#include <optional>

class QHBoxLayout;

namespace snare::app {

class ExpectationList : public FieldCard {
    Q_OBJECT

  public:
    ExpectationList(Document& document, Stage& stage, QWidget* parent = nullptr);

    /// Where lines stand in an expectation.
    enum class Where { itself, never, order };

    /// Shows the take and the verdicts as they are now.
    void refresh();
    /// Makes right all that did not hold, or one: what changes is shown first.
    void askToAccept(std::optional<std::size_t> only, QWidget* anchor);

  protected:
    void build(QVBoxLayout* column) override;

  private:
    /// Lines within an expectation: where they are read and changed.
    struct Lines {
        QString prefix; ///< of the names of slots: "expect 1 "
        std::function<const scene::LineMatch*()> get;
        std::function<void(const std::function<void(scene::LineMatch&)>&)> edit;
    };
    using Change = std::function<void(scene::Expectation&)>;

    const scene::Expectation* at(std::size_t index) const;
    void edit(std::size_t index, const QString& step, const Change& change);
    void buildTake(QVBoxLayout* column);
    void buildFile(QVBoxLayout* column);
    void buildOne(QVBoxLayout* column, std::size_t index);
    void buildSentence(FlowLayout* line, std::size_t index);
    void buildLines(FlowLayout* line, const Lines& lines, std::optional<std::size_t> own = {});
    void buildOrder(FlowLayout* line, std::size_t index);
    void buildValue(FlowLayout* line, std::size_t index);
    void buildVisit(FlowLayout* line, std::size_t index);
    void buildVerdict(QVBoxLayout* column, std::size_t index);
    void buildSureness(QHBoxLayout* row, std::size_t index);
    Lines linesOf(std::size_t index, Where where, std::size_t step = 0);
    FieldSource sourceOf(const Lines& lines) const;
    FieldSource sourceOf(std::size_t index);
    /// A slot for one field, or what stands there while it is not given.
    SlotButton* fieldSlot(FlowLayout* line, const FieldSource& source, const std::string& key, const QString& empty);
    SlotButton* momentSlot(FlowLayout* line, std::size_t index);
    void askMoment(std::size_t index, QWidget* anchor);
    void offer(QWidget* anchor);
    void add(const std::string& kind);
    void showMenu(std::size_t index, QWidget* anchor);
    void go(std::size_t index);

    Stage& stage_;
    scene::Take shown_;
    check::Judgement judgement_;
    bool judged_ = false; ///< the verdicts are about the take as it is shown
};

} // namespace snare::app
