// SPDX-License-Identifier: Apache-2.0
/// Lua 5.4 in a box: expressions and short scripts that see the named values of a run and nothing else (S14).
///
/// A script has no files, processes, clock or loading. Its chance is that of the run, it remembers nothing from one
/// call to the next, and each call has a budget of instructions and memory, so that the same call gives the same answer
/// wherever it runs.
#pragma once

#include "scene/values.h"

#include <functional>
#include <memory>

namespace snare::script {

/// What a call may use up (S14).
inline constexpr int mostInstructions = 1'000'000;
inline constexpr std::size_t mostMemory = 16u << 20; ///< bytes
/// The longest text that a script can make, bytes.
inline constexpr std::size_t longestText = 64u << 10;

/// The tables that a script sees: `scene`, `self`, `visitor`, `event`, `signal`, `with`.
struct Host {
    /// The value called `name` in a table; nothing becomes nil.
    std::function<std::optional<scene::Answer>(std::string_view table, std::string_view name)> get;
    /// Assigns to it. Returns why that cannot be, or nothing.
    std::function<std::optional<std::string>(std::string_view table, std::string_view name, scene::Scalar value)> set;
    /// The next number of the run's chance, 0 <= x < 1.
    std::function<double()> random;
    /// Writes a note.
    std::function<void(std::string text)> note;
};

/// What is wrong with a script, or went wrong in it.
struct Fault {
    int line = 1;
    std::string text;
    bool overran = false; ///< it used up its budget: the run stops
};

struct Result {
    std::optional<scene::Answer> value; ///< of an expression; nothing for nil
    std::optional<Fault> fault;
};

class Sandbox {
  public:
    Sandbox();
    ~Sandbox();
    /// A copy starts afresh: nothing is remembered that could tell them apart.
    Sandbox(const Sandbox&);
    Sandbox& operator=(const Sandbox&);
    Sandbox(Sandbox&&) noexcept;
    Sandbox& operator=(Sandbox&&) noexcept;

    /// The value of an expression. Assigning is refused.
    Result evaluate(const std::string& expression, const Host& host);
    /// Runs a script.
    Result run(const std::string& script, const Host& host);

    /// What is wrong with the text before it is ever run, or nothing.
    static std::optional<Fault> check(const std::string& text, bool isExpression);

  private:
    struct State;
    State& state();
    std::unique_ptr<State> state_;
};

} // namespace snare::script
