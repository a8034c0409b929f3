// SPDX-License-Identifier: Apache-2.0
/// Lua 5.4 in a box: expressions and short scripts that see the named values of a run and nothing
/// else (S14).
///
/// A script has no files, processes, clock or loading. Its chance is that of the run, it remembers
/// nothing from one call to the next, and each call has a budget of instructions and memory, so
/// that the same call gives the same answer wherever it runs.
#pragma once

#include "script/host.h"

#include <memory>

namespace snare::script {

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
