// SPDX-License-Identifier: Apache-2.0
/// What a drawn thread is to mean: the events that can be caught at one end and the responses that
/// fit the other.
#pragma once

#include "scene/scene.h"

#include <QFrame>

#include <functional>
#include <optional>

class QListWidget;

namespace snare::app {

class ThreadPopup : public QFrame {
    Q_OBJECT

  public:
    /// Where a thread begins: at a shape of a piece, or at a source of the shelf.
    struct Start {
        std::optional<std::size_t> piece;
        std::size_t shape = 0;
        std::string source; ///< a source's id
        std::string key;    ///< a single key
    };

    /// `made` gets the finished snare once an event and a response were clicked.
    ThreadPopup(const scene::Scene& scene, Start start, std::size_t to, std::function<void(scene::Snare)> made,
                QWidget* parent);

  private:
    void fillEvents();
    void fillSourceEvents();
    void fillResponses(const scene::Piece& to);
    void make();

    const scene::Scene scene_;
    Start start_;
    std::size_t to_;
    std::function<void(scene::Snare)> made_;
    QListWidget* events_;
    QListWidget* responses_;
};

} // namespace snare::app
