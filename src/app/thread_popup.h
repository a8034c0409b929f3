// SPDX-License-Identifier: Apache-2.0
/// What a drawn thread is to mean: the events that can be caught at one end and the responses that fit the other.
#pragma once

#include "scene/scene.h"

#include <QFrame>

#include <functional>

class QListWidget;

namespace snare::app {

class ThreadPopup : public QFrame {
    Q_OBJECT

  public:
    /// `made` gets the finished snare once an event and a response were clicked.
    ThreadPopup(const scene::Scene& scene, std::size_t from, std::size_t shape, std::size_t to,
                std::function<void(scene::Snare)> made, QWidget* parent);

  private:
    void fillEvents(const scene::Piece& from, std::size_t shape);
    void fillResponses(const scene::Piece& to);
    void make();

    const scene::Scene scene_;
    std::size_t from_;
    std::size_t shape_;
    std::size_t to_;
    std::function<void(scene::Snare)> made_;
    QListWidget* events_;
    QListWidget* responses_;
};

} // namespace snare::app
