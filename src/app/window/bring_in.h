// SPDX-License-Identifier: Apache-2.0
/// *Bring in*: a drawing is looked at, sized and added to the scene; tracks are looked at and lead
/// pieces.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"
#include "io/drawing.h"
#include "io/tracks_in.h"

#include <QDialog>
#include <QFutureWatcher>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;

namespace snare::app {

/// What both have: a picture, what was read, a form, what was passed over, and two buttons.
class BringInDialog : public QDialog {
    Q_OBJECT

  public:
    BringInDialog(const QString& title, QWidget* parent);

  signals:
    /// It is there, and chosen.
    void taken(const QString& said);

  protected:
    virtual void take() = 0;
    /// Something was read, or `problem` says why not; nothing can be taken then.
    void tell(const QString& said, const QImage& picture, const std::vector<std::string>& notes, bool canBeTaken);

    QGridLayout* form_;
    QLabel* picture_;
    QLabel* said_;
    QPlainTextEdit* notes_;
    QPushButton* take_;
};

class BringIn : public BringInDialog {
    Q_OBJECT

  public:
    /// `middle`: of what the ground shows, m.
    BringIn(Document& document, Selection& selection, const QString& file, const geometry::Vec& middle,
            QWidget* parent);
    ~BringIn() override;

  private:
    struct Read {
        std::optional<io::Drawing> drawing;
        QString problem;
        QImage picture;
    };

    void read();
    void show(const Read& read);
    void take() override;
    io::DrawingOptions options() const;

    Document& document_;
    Selection& selection_;
    QString file_;
    geometry::Vec middle_;
    QLineEdit* metres_;
    QLineEdit* tolerance_;
    QComboBox* where_;
    QFutureWatcher<Read> reading_;
    bool again_ = false; ///< something was chosen while it was read
    std::optional<io::Drawing> drawing_;
};

/// Tables of places over time lead pieces in the shown take (V10).
class BringInTracks : public BringInDialog {
    Q_OBJECT

  public:
    BringInTracks(Document& document, Selection& selection, const QStringList& files, QWidget* parent);
    ~BringInTracks() override;

  private:
    struct Read {
        std::vector<io::TrackTable> tables;
        QString problem;
        QImage picture;
    };

    void read();
    void show(const Read& read);
    void take() override;

    Document& document_;
    Selection& selection_;
    QStringList files_;
    QLineEdit* metres_;
    QLineEdit* seconds_;
    QCheckBox* drives_;
    QFutureWatcher<Read> reading_;
    bool again_ = false;
    std::vector<io::TrackTable> tables_;
};

} // namespace snare::app
