// SPDX-License-Identifier: Apache-2.0
/// What is selected: pieces, a shape of a single piece, a snare, or the model of a template or of a
/// part. Views share it and never talk to each other.
#pragma once

#include <QObject>
#include <QStringList>

#include <functional>

#include <algorithm>
#include <string>
#include <vector>

namespace snare::app {

/// What is to be pointed at on the ground.
enum class GroundPick {
    piece,
    pieces, ///< several, one after another with Shift
    place   ///< a piece or a place
};

/// Gets what was pointed at on the ground: names of pieces, or "x, y" in m.
using PickDone = std::function<void(const QStringList&)>;

class Selection : public QObject {
    Q_OBJECT

  public:
    using QObject::QObject;

    const std::vector<std::string>& pieces() const { return pieces_; }
    /// The only selected piece, or empty.
    std::string piece() const { return pieces_.size() == 1 ? pieces_.front() : std::string(); }
    /// The selected shape of the only piece, by index.
    std::size_t shape() const { return shape_; }
    const std::string& snare() const { return snare_; }
    bool has(const std::string& piece) const { return std::ranges::find(pieces_, piece) != pieces_.end(); }

    void choosePiece(const std::string& piece, std::size_t shape = 0) { set({piece}, shape, {}); }
    void choosePieces(std::vector<std::string> pieces) { set(std::move(pieces), 0, {}); }
    /// Chooses a snare and the piece that it catches at, if there is one.
    void chooseSnare(const std::string& snare, const std::string& piece)
    {
        set(piece.empty() ? pieces_ : std::vector<std::string>{piece},
            piece.empty() || this->piece() == piece ? shape_ : 0, snare);
    }
    /// Chooses what pieces are made from: `template:NAME`, or `part:ASSEMBLY.PART`. Nothing else is
    /// chosen then.
    void chooseModel(const std::string& model)
    {
        if (model == model_ && pieces_.empty() && snare_.empty())
            return;
        set({}, 0, {}, model);
    }
    const std::string& model() const { return model_; }
    void clear() { set({}, 0, {}); }

    void toggle(const std::string& piece)
    {
        std::vector<std::string> next = pieces_;
        if (std::erase(next, piece) == 0)
            next.push_back(piece);
        set(std::move(next), 0, {});
    }

    /// Something is to be pointed at on the ground; `done` gets it, and is not called if that is
    /// given up.
    void askOnGround(GroundPick what, PickDone done) { emit pickWanted(what, std::move(done)); }

  signals:
    void changed();
    void pickWanted(snare::app::GroundPick what, snare::app::PickDone done);

  private:
    void set(std::vector<std::string> pieces, std::size_t shape, const std::string& snare,
             const std::string& model = {})
    {
        if (pieces == pieces_ && shape == shape_ && snare == snare_ && model == model_)
            return;
        pieces_ = std::move(pieces);
        shape_ = shape;
        snare_ = snare;
        model_ = model;
        emit changed();
    }

    std::vector<std::string> pieces_;
    std::size_t shape_ = 0;
    std::string snare_;
    std::string model_;
};

} // namespace snare::app
