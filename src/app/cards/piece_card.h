// SPDX-License-Identifier: Apache-2.0
/// The selected piece in words and numbers: group, tags, place, body, shapes, and who is inside
/// now.
#pragma once

#include "app/cards/card_field.h"
#include "app/cards/look_editor.h"
#include "app/model/document.h"
#include "app/model/selection.h"
#include "app/model/stage.h"
#include "check/findings.h"

class QLabel;

namespace snare::app {

class PieceCard : public FieldCard {
    Q_OBJECT

  public:
    PieceCard(Document& document, Stage& stage, Selection& selection, QWidget* parent = nullptr);

    /// Builds the card anew for the selection, if it shows something else.
    void refresh();
    /// All that can be opened by name: of the selected piece, or with nothing selected of the
    /// scene.
    std::vector<CardField> fields() const;
    /// Opens a slot by its name, also one that is not shown because all is as usual.
    void openField(const QString& slot);
    /// Who is inside at the cursor.
    void refreshInside();

  private:
    using Change = std::function<void(scene::Piece&)>;

    void build(QVBoxLayout* column) override;
    void buildName(QVBoxLayout* column);
    void buildModel(QVBoxLayout* column);
    void buildPart(QVBoxLayout* column);
    /// Chooses a shape of what is shown.
    void chooseShape(std::size_t index);
    void buildTemplate(QVBoxLayout* column);
    void buildWho(QVBoxLayout* column);
    void buildPlace(QVBoxLayout* column);
    void buildBody(QVBoxLayout* column);
    void buildRoute(QVBoxLayout* column, const scene::Route& route);
    void buildLed(QVBoxLayout* column);
    void editPlaces(QWidget* anchor);
    std::vector<CardField> fieldsOfScene() const;
    FieldSource bodyFields();
    void editRouteField(const std::string& key, QWidget* anchor);
    void editSteering(QWidget* anchor);
    void addRoute();
    void editRoutePoints(QWidget* anchor);
    void buildShape(QVBoxLayout* column, std::size_t index);
    void buildShapeName(FlowLayout* line, std::size_t index, const QString& name);
    void buildShapePlace(FlowLayout* line, std::size_t index, const QString& name);
    void buildShapeMeeting(FlowLayout* line, std::size_t index, const QString& name);
    void buildGeometry(FlowLayout* line, std::size_t index, const QString& name);
    void buildCapsule(FlowLayout* line, std::size_t index, const scene::Capsule& capsule, const QString& name);
    void buildCorners(FlowLayout* line, std::size_t index, const std::vector<scene::Vec>& points, const QString& name);
    void buildTraced(FlowLayout* line, std::size_t index, const scene::Traced& traced, const QString& name);
    void editSurface(std::size_t index, bool friction, QWidget* anchor);
    void editBand(std::size_t index, QWidget* anchor);
    void editOffset(std::size_t index, QWidget* anchor);
    void editMargin(std::size_t index, QWidget* anchor);
    void changeKind(std::size_t index, QWidget* anchor);
    void buildPointer(QVBoxLayout* column);
    void buildHolds(QVBoxLayout* column);
    void buildFoot(QVBoxLayout* column);
    /// Whether what is as usual is shown too. Remembered.
    bool showsAll() const;
    void flag(FlowLayout* line, const char* key, const QString& on, const QString& off, bool scene::Piece::*member);
    void buildLooks(QVBoxLayout* column);
    void buildLookChip(FlowLayout* line, const QString& key, const QString& name, const scene::Look& look);
    void addLook(QWidget* anchor);
    void lookMenu(const std::string& name, QWidget* anchor);
    /// Of the look that is called so: "" its own, "look NAME", "phase NAME".
    LookAccess lookCalled(const QString& key);
    void buildModes(QVBoxLayout* column);
    void buildScene(QVBoxLayout* column);
    void buildSceneView(QVBoxLayout* column);
    void buildSceneTells(QVBoxLayout* column);
    void buildSceneFile(QVBoxLayout* column);
    void editPhases(QWidget* anchor);
    void editPhaseLook(std::size_t index, QWidget* anchor);
    void buildTimer(QVBoxLayout* column, std::size_t index);
    void timerMenu(std::size_t index, QWidget* anchor);
    void askTimerName(std::size_t index, QWidget* anchor);
    void editMode(const QString& key, QWidget* anchor);
    void shapeMenu(std::size_t index, QWidget* anchor);
    void offerShape(QWidget* anchor);
    void buildOwn(FlowLayout* line, const QString& tip);
    void resetOwn(QWidget* anchor);
    void renameLaid(const std::string& laid);
    void renamePart(QWidget* anchor);
    QString shownName() const;
    void edit(const QString& name, const Change& change, int gesture = 0);
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

    Stage& stage_;
    Selection& selection_;
    std::vector<std::string> shownIds_;
    QString shownPlaces_; ///< where the take leads it (V10)
    scene::Piece shown_;
    QString shownTitle_;
    bool built_ = false;
    bool revealed_ = false;        ///< all is shown until another piece is chosen
    QString openLook_;             ///< the look whose slots are shown, as in `lookCalled`
    std::vector<std::string> own_; ///< what is not the template's
    std::vector<check::Finding> problems_;
    QLabel* inside_ = nullptr;
    std::vector<std::pair<std::string, SlotButton*>> phaseSlots_;
    std::vector<std::string> shownScene_; ///< what of the scene it shows with nothing selected
};

} // namespace snare::app
