// SPDX-License-Identifier: Apache-2.0
/// The one window: ground, timeline and right column around one document.
#pragma once

#include "app/document.h"
#include "app/selection.h"
#include "app/stage.h"

#include <QMainWindow>

class QLabel;
class QSplitter;
class QTabWidget;
class QToolButton;

namespace snare::app {

class BookPanel;
class ContactsPanel;
class GroundView;
class HerePanel;
class MomentPanel;
class PiecesPanel;
class SourceShelf;
class TimelineView;
class TransportBar;

class MainWindow : public QMainWindow {
    Q_OBJECT

  public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Document& document() { return document_; }
    Stage& stage() { return stage_; }
    Selection& selection() { return selection_; }
    GroundView* ground() { return ground_; }
    TimelineView* timeline() { return timeline_; }
    MomentPanel* moment() { return moment_; }
    TransportBar* transport() { return transport_; }

    bool openFile(const QString& path);
    /// Opens the file last worked on, else the demo (`fallback`).
    void openLastOr(const QString& fallback);
    /// What was said last in the bar above the ground, or empty.
    QString shownProblem() const;

  protected:
    void closeEvent(QCloseEvent* event) override;
    void changeEvent(QEvent* event) override;

  private:
    void buildCentre();
    void buildTools(QWidget* column);
    void buildMenus();
    void buildRunMenu();
    QAction* action(QMenu* menu, const QString& text, const QKeySequence& keys, const std::function<void()>& act);

    void newScene();
    void open();
    bool save();
    bool saveAs();
    bool mayDiscard();
    void refreshTitle();
    void refreshRecent();
    void rememberFile(const QString& path);
    void tellProblem(const QString& text);
    void toggleRecording();
    void offerThread(std::size_t from, std::size_t shape, std::size_t to, const QPoint& at);
    void showGroundMenu(const QPoint& at);
    void chooseSnare(const QString& id);
    void openFinder();
    void showShortcuts();
    void deleteSelection();
    void deletePieces(const std::vector<std::string>& pieces);
    void duplicateSelection();
    void restoreLayout();

    Document document_;
    Stage stage_;
    Selection selection_;
    GroundView* ground_ = nullptr;
    SourceShelf* shelf_ = nullptr;
    TransportBar* transport_ = nullptr;
    TimelineView* timeline_ = nullptr;
    HerePanel* here_ = nullptr;
    BookPanel* book_ = nullptr;
    PiecesPanel* pieces_ = nullptr;
    ContactsPanel* contacts_ = nullptr;
    MomentPanel* moment_ = nullptr;
    QTabWidget* tabs_ = nullptr;
    QSplitter* across_ = nullptr;
    QSplitter* left_ = nullptr;
    QSplitter* right_ = nullptr;
    QLabel* name_ = nullptr;
    QLabel* problem_ = nullptr;
    QWidget* problemBar_ = nullptr;
    QMenu* recent_ = nullptr;
    std::vector<QToolButton*> tools_;
};

} // namespace snare::app
