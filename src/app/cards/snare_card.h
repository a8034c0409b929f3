// SPDX-License-Identifier: Apache-2.0
/// A snare as a sentence with slots; every slot is changed in place.
///
/// In two files: the card with its head and its catch and conditions, and the responses.
#pragma once

#include "app/cards/card_key.h"
#include "app/model/document.h"
#include "app/model/findings_watch.h"
#include "app/model/selection.h"
#include "app/model/stage.h"
#include "app/ui/sentence_card.h"
#include "app/ui/slot_popup.h"

namespace snare::app {

class Funnel;

class SnareCard : public SentenceCard {
    Q_OBJECT

  public:
    SnareCard(Document& document, Stage& stage, Selection& selection, std::string snare, QWidget* parent = nullptr);

    /// What it shows, as text (card_key.h).
    const std::string& snare() const { return id_; }
    /// The same snare under another name.
    void setSnare(const std::string& name);
    bool isRoutine() const { return key_.kind == CardKey::Kind::routine; }
    /// A snare within an assembly: it acts for all that are laid.
    bool isOfAssembly() const { return key_.kind == CardKey::Kind::ofAssembly; }
    /// Builds the sentence anew if the snare is not what it shows. Nothing before the first `show`.
    void refresh();
    /// Builds it for the first time. False if it was there.
    bool ensureBuilt();
    /// The counts of the latest record: caught, passed the filter, passed the gate, sprang.
    void setCounts(const std::array<int, 4>& counts);
    bool isCollapsed() const { return collapsed_; }
    void setCollapsed(bool collapsed);
    void setPinned(bool pinned);
    /// Opens the first slot that a person must fill: one of the catch, else a text, a number, a
    /// name or a target of the first response; without a response it asks for one. When a slot of
    /// the catch is filled, and the snare does nothing yet, what it does is asked for next.
    void openUnfilled();
    /// The slot of a field takes the focus: of a response, or with -1 of the rest.
    void focusField(int response, const std::string& field);

  signals:
    void eventsWanted(const QString& snare, int part);
    void copyWanted(const QString& snare, QWidget* anchor);
    void generaliseWanted(const QString& snare, QWidget* anchor);
    void pinWanted(const QString& snare);
    /// The card is dragged by its head: where it is now on the screen, and where it was let go.
    void headDragged(const QPoint& screenPoint);
    void headDropped(const QPoint& screenPoint);

  protected:
    void build(QVBoxLayout* column) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    using Change = std::function<void(scene::Snare&)>;
    using ConditionList = std::function<std::vector<scene::Condition>*(scene::Snare&)>;

    void buildHead(QVBoxLayout* layout);
    void buildNote(QVBoxLayout* layout);
    void buildProblems(QVBoxLayout* layout);
    void buildCatch(FlowLayout* line);
    void buildWhere(FlowLayout* line);
    void buildEvent(FlowLayout* line);
    void buildKey(FlowLayout* line);
    void buildWatch(FlowLayout* line);
    void buildCatchField(FlowLayout* line, const std::string& key);
    void buildCurve(QVBoxLayout* column);
    void buildConditions(FlowLayout* line);
    void buildResponse(QVBoxLayout* layout, std::size_t index);
    void askFor(const QString& slot);
    void askOn();
    QString unfilled() const;
    QString unfilledIn(std::size_t index) const;
    void buildResponseSlots(FlowLayout* line, std::size_t index);
    const scene::Routine* routineRunBy(const scene::Response& response) const;

    std::optional<scene::Snare> find() const;
    const std::string& bareName() const { return key_.name; }
    bool isChosen() const;
    check::Place place() const;
    /// "harbour.kit.json: " before what is said of something of a kit.
    QString homeText() const;
    void buildParameters(QVBoxLayout* layout);
    void editParameter(const std::string& name, QWidget* anchor);
    const scene::Snare* inScene() const;
    void edit(const QString& name, const Change& change);
    void renameWithin(QWidget* anchor);
    void makeRoutine(std::size_t index, QWidget* anchor);
    void editNote(QWidget* anchor);
    void editEvents(QWidget* anchor);
    void editSeveralEvents(QWidget* anchor);
    void editGroups(QWidget* anchor);
    void editCondition(const QString& key, QWidget* anchor);
    void editComparison(const ConditionList& list, std::size_t index, QWidget* anchor);
    void offerConditions(QWidget* anchor);
    void offerResponses(QWidget* anchor);
    void offerFields(std::size_t index, QWidget* anchor);
    /// The look that a `look` has written out, or nullptr.
    static const scene::Look* lookWrittenIn(const scene::Response& response);
    void openWrittenLook(std::size_t index, QWidget* anchor);
    void openField(std::size_t index, const std::string& key, QWidget* anchor);
    void responseMenu(std::size_t index, QWidget* anchor);
    void moveResponse(std::size_t from, std::size_t to);
    void showMenu(const QPoint& at);

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    std::string id_;
    CardKey key_; ///< the same
    scene::Snare shown_;
    scene::Named<scene::Scalar> with_; ///< of a routine
    std::vector<check::Finding> problems_;
    QString stateText_;
    bool isUnused_ = false;        ///< no take springs it
    std::vector<int> unusedSteps_; ///< that no take has done, from 0
    bool built_ = false;
    bool collapsed_ = false;
    bool pinned_ = false;
    std::array<int, 4> counts_{};
    Funnel* funnel_ = nullptr;
    std::vector<QWidget*> numbers_; ///< of the responses, by which they are dragged
    QPoint pressedAt_;
    bool dragging_ = false;
    bool asksOn_ = false; ///< a slot of its catch was opened: when it is filled, the next is
};

} // namespace snare::app
