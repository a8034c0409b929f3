// SPDX-License-Identifier: Apache-2.0
#include "io/tracks_in.h"

#include <csv.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <memory>
#include <optional>
#include <unordered_map>

namespace snare::io {

namespace {

/// A cell and where it begins.
struct Cell {
    std::string text;
    std::size_t column = 1;
};

std::string lower(std::string_view text)
{
    std::string result{text};
    std::ranges::transform(result, result.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    return result;
}

std::string_view trimmed(std::string_view text)
{
    const auto first = text.find_first_not_of(" \t");
    return first == std::string_view::npos ? std::string_view()
                                           : text.substr(first, text.find_last_not_of(" \t") - first + 1);
}

/// What parts the cells: what the first row has most of.
char separatorOf(std::string_view csv)
{
    const std::string_view first = csv.substr(0, csv.find_first_of("\r\n"));
    char best = ',';
    for (const char c : {';', '\t'})
        if (std::ranges::count(first, c) > std::ranges::count(first, best))
            best = c;
    return best;
}

enum class Column { time, piece, x, y, turn };

constexpr std::array<std::pair<std::string_view, Column>, 8> columnNames{{{"time", Column::time},
                                                                          {"t", Column::time},
                                                                          {"piece", Column::piece},
                                                                          {"name", Column::piece},
                                                                          {"id", Column::piece},
                                                                          {"x", Column::x},
                                                                          {"y", Column::y},
                                                                          {"turn", Column::turn}}};

class Table {
  public:
    Table(std::string file, const TrackOptions& options) : file_(std::move(file)), options_(options) {}

    tl::expected<TrackTable, Problem> read(std::string_view csv)
    {
        if (csv.substr(0, 3) == "\xEF\xBB\xBF")
            csv.remove_prefix(3);
        csv_parser parser;
        if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI) != 0)
            return tl::unexpected(problem(0, 0, "there is no memory to read it"));
        const std::unique_ptr<csv_parser, void (*)(csv_parser*)> freed{&parser, csv_free};
        csv_set_delim(&parser, static_cast<unsigned char>(separatorOf(csv)));
        // Line by line, so that where a mistake stands is known: a quoted cell may go over several.
        while (!csv.empty() && !problem_) {
            const std::string_view line = csv.substr(
                0, std::min(csv.size(), csv.find('\n') == std::string_view::npos ? csv.size() : csv.find('\n') + 1));
            csv.remove_prefix(line.size());
            ++line_;
            for (std::size_t i = 0; i < line.size() && !problem_; ++i) {
                column_ = i + 1;
                if (csv_parse(&parser, line.data() + i, 1, onCell, onRow, this) != 1)
                    problem_ = problem(line_, column_, "a quote stands where none may be");
            }
        }
        if (!problem_ && csv_fini(&parser, onCell, onRow, this) != 0)
            problem_ = problem(rowLine_, 1, "a quoted cell does not end");
        if (!problem_ && !hasHeading_)
            problem_ = problem(1, 1, "the first row wants to name the columns: time, piece, x, y, turn");
        if (problem_)
            return tl::unexpected(*problem_);
        for (Track& track : given_.tracks)
            std::ranges::stable_sort(track.places, {}, &scene::Input::t);
        return std::move(given_);
    }

  private:
    static void onCell(void* text, std::size_t size, void* self)
    {
        auto& table = *static_cast<Table*>(self);
        if (table.row_.empty())
            table.rowLine_ = table.line_;
        table.row_.push_back({std::string(static_cast<const char*>(text), size), table.cellFrom_});
        table.cellFrom_ = table.column_ + 1;
    }

    static void onRow(int, void* self)
    {
        auto& table = *static_cast<Table*>(self);
        if (!table.problem_)
            table.takeRow();
        table.row_.clear();
        table.cellFrom_ = 1;
    }

    Problem problem(std::size_t line, std::size_t column, std::string text) const
    {
        return {file_, line, column, {}, std::move(text)};
    }

    void takeRow()
    {
        if (std::ranges::all_of(row_, [](const Cell& cell) { return trimmed(cell.text).empty(); }))
            return;
        if (!std::exchange(hasHeading_, true))
            return takeHeading();
        const auto time = numberOf(Column::time);
        if (problem_ || !time)
            return;
        const double t = *time * options_.seconds;
        if (t < 0 || t > scene::longestTake)
            return fail(Column::time, fmt::format("a time lies between 0 and {:g} s", scene::longestTake));
        scene::TrackPlace place;
        place.piece = has(Column::piece) ? std::string(textOf(Column::piece)) : options_.piece;
        if (!scene::isId(place.piece))
            return fail(Column::piece, "wants the name of a piece: letters, digits, - and _");
        const auto x = numberOf(Column::x);
        const auto y = numberOf(Column::y);
        if (!problem_ && !x)
            fail(Column::x, "a place wants a number here");
        if (!problem_ && !y)
            fail(Column::y, "a place wants a number here");
        place.turn = numberOf(Column::turn);
        if (problem_)
            return;
        place.at = geometry::Vec{*x, *y} * options_.metres;
        const auto [slot, isNew] = slots_.try_emplace(place.piece, given_.tracks.size());
        if (isNew)
            given_.tracks.push_back({place.piece, {}});
        scene::Input& added = given_.tracks[slot->second].places.emplace_back();
        added.t = t;
        added.what = std::move(place);
    }

    void takeHeading()
    {
        std::string passed;
        for (std::size_t i = 0; i < row_.size(); ++i) {
            const std::string name = lower(trimmed(row_[i].text));
            const auto known =
                std::ranges::find(columnNames, std::string_view(name), &std::pair<std::string_view, Column>::first);
            if (known == columnNames.end())
                passed += (passed.empty() ? "" : ", ") + std::string(trimmed(row_[i].text));
            else if (has(known->second)) {
                problem_ = problem(rowLine_, row_[i].column, fmt::format("there are two columns for {}", name));
                return;
            } else
                columns_[static_cast<std::size_t>(known->second)] = i;
        }
        if (!passed.empty())
            given_.notes.push_back(fmt::format("columns that say nothing here: {}", passed));
        for (const auto& [column, name] : {std::pair{Column::time, "time"}, {Column::x, "x"}, {Column::y, "y"}})
            if (!has(column)) {
                problem_ = problem(
                    rowLine_, 1, fmt::format("there is no column {}: the first row wants to name time, x and y", name));
                return;
            }
        if (!has(Column::piece) && options_.piece.empty())
            problem_ = problem(rowLine_, 1, "there is no column piece: say whose places they are");
    }

    bool has(Column column) const { return columns_[static_cast<std::size_t>(column)].has_value(); }

    std::string_view textOf(Column column) const
    {
        const auto& at = columns_[static_cast<std::size_t>(column)];
        return at && *at < row_.size() ? trimmed(row_[*at].text) : std::string_view();
    }

    /// Nothing if the cell is empty or not there.
    std::optional<double> numberOf(Column column)
    {
        std::string_view text = textOf(column);
        if (text.empty() || problem_)
            return std::nullopt;
        if (text.front() == '+')
            text.remove_prefix(1);
        double number = 0;
        const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), number);
        if (fault != std::errc() || end != text.data() + text.size() || !std::isfinite(number) ||
            std::abs(number) > 1e9) {
            fail(column, fmt::format("\"{}\" is no number (as 3 or -0.25, with a point)", text.substr(0, 40)));
            return std::nullopt;
        }
        return number;
    }

    void fail(Column column, std::string text)
    {
        const auto& at = columns_[static_cast<std::size_t>(column)];
        problem_ = problem(rowLine_, at && *at < row_.size() ? row_[*at].column : 1, std::move(text));
    }

    std::string file_;
    const TrackOptions& options_;
    TrackTable given_;
    std::unordered_map<std::string, std::size_t> slots_; ///< to look up, never to walk over
    std::array<std::optional<std::size_t>, 5> columns_;
    std::vector<Cell> row_;
    std::optional<Problem> problem_;
    std::size_t line_ = 0;
    std::size_t column_ = 0;
    std::size_t rowLine_ = 1;
    std::size_t cellFrom_ = 1;
    bool hasHeading_ = false;
};

} // namespace

double TrackTable::end() const
{
    double end = 0;
    for (const Track& track : tracks)
        if (!track.places.empty())
            end = std::max(end, track.places.back().t);
    return end;
}

tl::expected<TrackTable, Problem> tracksFrom(std::string_view csv, const std::string& file, const TrackOptions& options)
{
    return Table{file, options}.read(csv);
}

scene::Take withTracks(scene::Take take, const TrackTable& table)
{
    std::erase_if(take.inputs, [&](const scene::Input& input) {
        const auto* place = input.as<scene::TrackPlace>();
        return place && std::ranges::find(table.tracks, place->piece, &Track::piece) != table.tracks.end();
    });
    for (const Track& track : table.tracks)
        take.inputs.insert(take.inputs.end(), track.places.begin(), track.places.end());
    std::ranges::stable_sort(take.inputs, {}, &scene::Input::t);
    if (const double end = table.end(); end > scene::lengthOf(take))
        take.length = end;
    return take;
}

std::vector<std::string> makeDriven(scene::Scene& scene, const TrackTable& table)
{
    std::vector<std::string> changed;
    for (const Track& track : table.tracks) {
        scene::Piece* piece = scene::findPiece(scene, track.piece);
        if (piece && std::holds_alternative<scene::DrivenBody>(piece->body))
            continue;
        changed.push_back(track.piece);
        if (piece) {
            piece->body = scene::DrivenBody{};
            continue;
        }
        scene::Piece added;
        added.id = track.piece;
        const auto& first = *track.places.front().as<scene::TrackPlace>();
        added.at = first.at;
        added.turn = first.turn.value_or(0);
        added.body = scene::DrivenBody{};
        added.shapes.emplace_back();
        scene.pieces.push_back(std::move(added));
    }
    return changed;
}

} // namespace snare::io
