// SPDX-License-Identifier: Apache-2.0
/// The selected piece in words and numbers: group, tags, place, body, shapes, and who is inside now.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"
#include "app/model/stage.h"
#include "app/ui/sentence_card.h"

class QLabel;

namespace snare::app {

class PieceCard : public SentenceCard {
    Q_OBJECT

  public:
    PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Builds the card anew for the selection, if it shows something else.
    void refresh();
    /// Who is inside at the cursor.
    void refreshInside();

  private:
    using Change = std::function<void(scene::Piece&)>;

    void build(QVBoxLayout* column) override;
    void buildName(QVBoxLayout* column);
    void buildTemplate(QVBoxLayout* column);
    void buildWho(QVBoxLayout* column);
    void buildPlace(QVBoxLayout* column);
    void buildBody(QVBoxLayout* column);
    void buildRoute(QVBoxLayout* column, const scene::Route& route);
    void editBodyField(const std::string& key, QWidget* anchor);
    void editRouteField(const std::string& key, QWidget* anchor);
    void editSteering(QWidget* anchor);
    void addRoute();
    void buildShape(QVBoxLayout* column, std::size_t index);
    void buildGeometry(FlowLayout* line, std::size_t index, const QString& name);
    void buildTraced(FlowLayout* line, std::size_t index, const scene::Traced& traced, const QString& name);
    void editSurface(std::size_t index, bool friction, QWidget* anchor);
    void editBand(std::size_t index, QWidget* anchor);
    void buildPointer(QVBoxLayout* column);
    void buildMore(QVBoxLayout* column);
    void editGauge(QWidget* anchor);
    void buildModes(QVBoxLayout* column);
    void buildScene(QVBoxLayout* column);
    void buildSceneView(QVBoxLayout* column);
    void editPhases(QWidget* anchor);
    void editPhaseLook(std::size_t index, QWidget* anchor);
    void editTimer(std::size_t index, QWidget* anchor);
    void editMode(const QString& key, QWidget* anchor);
    void shapeMenu(std::size_t index, QWidget* anchor);
    void offerShape(QWidget* anchor);
    void resetOwn(QWidget* anchor);
    void edit(const QString& name, const Change& change);
    void editNumbers(QWidget* anchor, const QString& title, const QString& typed, int count, double lowest,
                     bool lowestOpen, const QString& step,
                     const std::function<void(scene::Piece&, const std::vector<double>&)>& set);
    void editBody(QWidget* anchor);
    /// The values of the piece, or start values of the scene: whichever is not null.
    struct ValuesOf {
        scene::Named<scene::Scalar> scene::Piece::*piece;
        scene::Named<scene::Scalar> scene::Scene::*scene;
    };
    void buildValues(FlowLayout* line, ValuesOf of);
    void editValues(ValuesOf of, const std::string& name, QWidget* anchor);
    void buildSceneName(QVBoxLayout* column);
    void buildSettings(QVBoxLayout* column);
    void editSetting(const std::string& key, QWidget* anchor);
    std::vector<std::string> sceneAsShown() const;

    Document& document_;
    Stage& stage_;
    Selection& selection_;
    std::vector<std::string> shownIds_;
    scene::Piece shown_;
    QString shownTitle_;
    bool built_ = false;
    std::vector<std::string> own_; ///< what is not the template's
    QLabel* inside_ = nullptr;
    std::vector<std::pair<std::string, SlotButton*>> phaseSlots_;
    std::vector<std::string> shownScene_; ///< what of the scene it shows with nothing selected
};

} // namespace snare::app
