// SPDX-License-Identifier: Apache-2.0
/// The one window: ground, timeline and right column around one document.
///
/// In three files: the window and its views, the menus, and what is done with files.
#pragma once

#include "app/cards/thread_popup.h"
#include "app/ground/editing.h"
#include "app/model/document.h"
#include "check/findings.h"
#include "app/model/rescue.h"
#include "app/model/scouting.h"
#include "app/model/selection.h"
#include "app/model/sounds.h"
#include "app/model/stage.h"

#include <QMainWindow>
#include <QPointer>

class QLabel;
class QSplitter;
class QStackedWidget;
class QTabWidget;
class QToolButton;

namespace snare::app {

class BookPanel;
class ContactsPanel;
class DeskPanel;
class FirstHint;
class GroundView;
class HerePanel;
class LedgerView;
class FlowView;
class HelpWindow;
class TakesPanel;
class MomentPanel;
class PiecesPanel;
class StockPanel;
class FindingsPanel;
class SourceShelf;
class TimelineView;
class TransportBar;
class ViewQuestion;

class MainWindow : public QMainWindow {
    Q_OBJECT

  public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Document& document() { return document_; }
    Stage& stage() { return stage_; }
    Sounds& sounds() { return sounds_; }
    Selection& selection() { return selection_; }
    Rescue& rescue() { return rescue_; }
    GroundView* ground() { return ground_; }
    TimelineView* timeline() { return timeline_; }
    LedgerView* ledger() { return ledger_; }
    MomentPanel* moment() { return moment_; }
    TransportBar* transport() { return transport_; }
    DeskPanel* desk() { return desk_; }

    bool openFile(const QString& path);
    /// A scene, a take with the scene that it names, or a kit with a scene beside it that names it.
    bool openAny(const QString& path);
    /// Opens a file that was given from outside, after asking.
    void offerFile(const QString& path);
    /// Opens the file last worked on, else the demo (`fallback`).
    void openLastOr(const QString& fallback);
    /// Offers what a crash left behind, if anything.
    void offerRescue();
    /// Folders of demos: saving one of them offers a copy.
    static QStringList& demoFolders();
    static bool isDemo(const QString& path);
    /// What was said last in the bar above the ground, or empty.
    QString shownProblem() const;
    /// Changes to another scheme of colours. Nothing else changes: a recording goes on.
    void setScheme(SchemeWish wish);
    /// Shows the row of first steps, with none of them done.
    void showFirstSteps();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void changeEvent(QEvent* event) override;

  private:
    // main_window.cpp: the window and its views
    void buildCentre();
    void buildTabs();
    QWidget* buildUpper();
    QWidget* buildLower();
    void buildTools(QWidget* column);
    void tellKeysOfTools();
    void connectViews();
    void restoreLayout();
    void showView(int index);
    void refreshTools();
    void refreshTitle();
    void say(const QString& text);
    void tellProblem(const QString& text, const QString& offer = {}, const std::function<void()>& accept = {});
    void toggleRecording(bool fromCursor);
    void toggleLoop();
    // More room for the ground; each gives back what it took.
    void foldTimeline(bool away);
    void foldCards(bool away);
    void showGroundAlone(bool alone);
    void offerThread(const ThreadPopup::Start& start, std::size_t to, const QPoint& at);
    void bindFromSelection();
    void dropSourceThread(const QString& source, const QString& key, const QPoint& at);
    void clickThread(const std::vector<std::string>& snares, const QPoint& at);
    void retargetThread(const std::vector<std::string>& snares, const QString& from, const QString& to);
    /// By its name in a run: of the scene, of a kit, or of an assembly.
    void chooseSnare(const QString& id);
    /// Shows the card of a routine or a snare, by its text (card_key.h).
    void showCard(const QString& card);
    /// Shows where a finding is: the card and its slot, and the piece.
    void showPlace(const check::Place& place);
    void countFindings();
    void takeTool(ToolKind kind);

    // main_window_menus.cpp
    QAction* action(QMenu* menu, const QString& text, const QKeySequence& keys, const std::function<void()>& act,
                    const QString& synonyms = {});
    void buildMenus();
    void buildSceneMenu();
    void buildEditMenu();
    void buildLayMenu();
    void addArranging(QMenu* lay);
    void buildRunMenu();
    void buildViewMenu();
    void showGroundMenu(const QPoint& at);
    /// The scenes that ship, as pictures.
    void showExamples();
    void openFinder();
    void goTo(const struct Found& found);
    void showUse(const scene::Use& use);
    void explainPlace();
    void readScene();
    void compareWithFile();
    void compareWithRevision();
    void compare(const QString& file, const QString& revision, const QString& name);
    void saveFlow();
    void bringIn();
    void bringInTracks();
    /// Writes the scene or the take in a format of other programs: "svg", "csv", "trace", "scxml".
    void exportAs(const QString& format);
    void writeAs(const QString& format, const QString& path);
    void showExpectMenu(int line, const QPoint& at);
    void openTake(const QString& scene, const QString& take);
    void showShortcuts();
    /// What no take of the scene uses: listed, and tinted in the views.
    void showCoverage();
    /// What the bench finds by playing by itself.
    void showScout();
    void showSettings();
    /// Shows a topic of the help; an empty one leaves the page that is open.
    void showHelp(const QString& topic);
    void helpHere();
    void showAbout();

    // main_window_files.cpp
    void newScene();
    void open();
    bool save();
    bool saveAs();
    bool saveTo(const QString& path, const QStringList& replaced);
    void tellChangedOutside(const QStringList& files);
    bool mayDiscard();
    void refreshRecent();
    void rememberFile(const QString& path);

    Document document_;
    Stage stage_;
    Selection selection_;
    Rescue rescue_;
    Editing editing_;
    Scouting scouting_;
    Sounds sounds_;
    GroundView* ground_ = nullptr;
    ViewQuestion* viewQuestion_ = nullptr;
    SourceShelf* shelf_ = nullptr;
    TransportBar* transport_ = nullptr;
    TimelineView* timeline_ = nullptr;
    LedgerView* ledger_ = nullptr;
    FlowView* flow_ = nullptr;
    TakesPanel* takes_ = nullptr;
    QStackedWidget* below_ = nullptr;
    HerePanel* here_ = nullptr;
    BookPanel* book_ = nullptr;
    PiecesPanel* pieces_ = nullptr;
    StockPanel* stock_ = nullptr;
    FindingsPanel* foundPanel_ = nullptr;
    ContactsPanel* contacts_ = nullptr;
    DeskPanel* desk_ = nullptr;
    MomentPanel* moment_ = nullptr;
    QTabWidget* tabs_ = nullptr;
    QSplitter* across_ = nullptr;
    QSplitter* left_ = nullptr;
    QSplitter* right_ = nullptr;
    QLabel* name_ = nullptr;
    QLabel* problem_ = nullptr;
    QToolButton* problemOffer_ = nullptr;
    std::function<void()> problemAccept_;
    QWidget* upper_ = nullptr; ///< shelf, first steps, problems and ground, from above
    QWidget* problemBar_ = nullptr;
    QMenu* recent_ = nullptr;
    QPointer<HelpWindow> help_;
    QAction* glass_ = nullptr;
    std::vector<std::pair<ToolKind, QToolButton*>> tools_;
};

} // namespace snare::app
