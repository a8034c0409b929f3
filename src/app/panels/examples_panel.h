// SPDX-License-Identifier: Apache-2.0
/// The scenes that ship, as pictures with a title, a sentence and a first thing to try. Each opens
/// with a click.
#pragma once

#include <QAbstractButton>
#include <QDialog>
#include <QImage>

#include <functional>
#include <vector>

class QLabel;

namespace snare::app {

/// A scene that ships.
struct Example {
    QString file; ///< of the scene, whole path
    QString title;
    QString about; ///< one sentence
    QString tryIt; ///< a first thing to do in it
};

/// The examples of the first of the folders that has an index (`examples.json`), in its order;
/// those whose scene cannot be read are left out.
std::vector<Example> examplesIn(const QStringList& folders);

/// One of them: the picture, and below it the words.
class ExampleButton : public QAbstractButton {
    Q_OBJECT

  public:
    ExampleButton(const Example& example, QWidget* parent);

    void setPicture(const QImage& picture);
    QSize sizeHint() const override { return {296, 268}; }
    /// Of the picture, pixels.
    static QSize pictureSize() { return {280, 158}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    Example example_;
    QImage picture_;
};

class ExamplesPanel : public QDialog {
    Q_OBJECT

  public:
    /// `pictureOf` draws a scene; it is asked for one after the other while nothing else is to be
    /// done.
    ExamplesPanel(std::vector<Example> examples, std::function<QImage(const QString& file)> pictureOf, QWidget* parent);

  signals:
    void chosen(const QString& file);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void drawNext();

    std::vector<Example> examples_;
    std::vector<ExampleButton*> buttons_;
    std::function<QImage(const QString& file)> pictureOf_;
    std::size_t drawn_ = 0;
};

} // namespace snare::app
