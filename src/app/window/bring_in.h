// SPDX-License-Identifier: Apache-2.0
/// *Bring in*: a drawing is looked at, sized and added to the scene.
#pragma once

#include "app/model/document.h"
#include "app/model/selection.h"
#include "io/drawing.h"

#include <QDialog>
#include <QFutureWatcher>

class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;

namespace snare::app {

class BringIn : public QDialog {
    Q_OBJECT

  public:
    /// `middle`: of what the ground shows, m.
    BringIn(Document& document, Selection& selection, const QString& file, const geometry::Vec& middle, QWidget* parent);
    ~BringIn() override;

  signals:
    /// The pieces are there and chosen.
    void done(const QString& said);

  private:
    struct Read {
        std::optional<io::Drawing> drawing;
        QString problem;
        QImage picture;
    };

    void read();
    void show(const Read& read);
    void take();
    io::DrawingOptions options() const;

    Document& document_;
    Selection& selection_;
    QString file_;
    geometry::Vec middle_;
    QLabel* picture_;
    QLabel* said_;
    QPlainTextEdit* notes_;
    QLineEdit* metres_;
    QLineEdit* tolerance_;
    QComboBox* where_;
    QPushButton* take_;
    QFutureWatcher<Read> reading_;
    bool again_ = false; ///< something was chosen while it was read
    std::optional<io::Drawing> drawing_;
};

} // namespace snare::app
