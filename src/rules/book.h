// SPDX-License-Identifier: Apache-2.0
/// The book: the snares of a scene with their names looked up, listed by the event that they catch.
#pragma once

#include "rules/event.h"

#include <array>
#include <span>
#include <string>
#include <unordered_map>

namespace snare::rules {

/// Where a snare catches.
struct Where {
    enum class Kind : std::uint8_t { scene, piece, selector, nowhere };
    Kind kind = Kind::scene;
    PieceIndex piece = nobody;
    std::string selector; ///< `tag:…`, `group:…` or `template:…`
    int shapeNumber = -1; ///< of the piece; -1: the piece as a whole (M9)
};

/// Whether a snare that catches there hears what happens at `self`.
bool hearsAt(const Where& where, PieceIndex self, const world::World& world);

class Book {
  public:
    Book() = default;
    explicit Book(const scene::Scene& scene);

    /// The snares that may hear this event: those that catch its kind at its place or under its
    /// word, in book order. Whoever listens elsewhere costs nothing. The answer lies in the book or
    /// in `room`, which the caller keeps.
    std::span<const int> hearersOf(EventKind kind, PieceIndex self, std::string_view word, const world::World& world,
                                   std::vector<int>& room) const;
    /// The snares that catch the pointer at a piece in any way: what it does there, or its coming
    /// and going (P1).
    std::span<const int> pointerHearersAt(PieceIndex self, const world::World& world, std::vector<int>& room) const
    {
        return find(pointer_, self, {}, world, room);
    }
    /// Whether a snare's filter names the pointer, which contact events are not caught of otherwise
    /// (P1).
    bool namesPointer(int snare) const { return namesPointer_[static_cast<std::size_t>(snare)] != 0; }
    /// Whether a snare's responses may ask for the meeting that caused them: one has `until`,
    /// stands as long as the meeting, or runs a routine (S13).
    bool asksForMeeting(int snare) const { return asksForMeeting_[static_cast<std::size_t>(snare)] != 0; }
    /// The snares that catch events of this kind, in book order.
    const std::vector<int>& listeningTo(EventKind kind) const { return byKind_[static_cast<std::size_t>(kind)]; }
    /// The snare of that name, or -1.
    int find(std::string_view id) const
    {
        const auto found = byName_.find(id);
        return found == byName_.end() ? -1 : found->second;
    }
    const Where& where(int snare) const { return where_[static_cast<std::size_t>(snare)]; }
    /// The keys of a key source that the snare names, or its own key; `any` for any key.
    const std::vector<std::string>& keysOf(int snare) const { return keys_[static_cast<std::size_t>(snare)]; }

  private:
    /// Texts are looked up without a copy.
    struct HashOfText : std::hash<std::string_view> {
        using is_transparent = void;
    };

    /// The snares that catch one kind of event, by where or what they name.
    struct Index {
        std::vector<std::vector<int>> byPiece; ///< up to the last one that anybody names
        std::unordered_map<std::string, std::vector<int>, HashOfText, std::equal_to<>> bySelector;
        std::unordered_map<std::string, std::vector<int>, HashOfText, std::equal_to<>> byWord;
        std::vector<int> others; ///< at the scene, or with any word
    };

    static std::span<const int> find(const Index& index, PieceIndex self, std::string_view word,
                                     const world::World& world, std::vector<int>& room);
    static void addByPlace(Index& index, const Where& where, int snare);

    std::array<Index, scene::wordsOf<EventKind>.size()> index_;
    Index pointer_;
    std::vector<char> namesPointer_;
    std::vector<char> asksForMeeting_;
    std::array<std::vector<int>, scene::wordsOf<EventKind>.size()> byKind_;
    std::unordered_map<std::string, int, HashOfText, std::equal_to<>> byName_;
    std::vector<Where> where_;
    std::vector<std::vector<std::string>> keys_;
};

} // namespace snare::rules
