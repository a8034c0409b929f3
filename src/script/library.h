// SPDX-License-Identifier: Apache-2.0
/// What a script can call, and what that costs it: Lua's own functions without those that reach
/// outside, take longer than their arguments tell, or give another answer elsewhere (S14).
///
/// All functions here are called by Lua or with its stack; what fails in them is an error of Lua's.
#pragma once

#include "script/host.h"

// Lua built as C++, so that its errors unwind what they leave.
#include <lua.h>

namespace snare::script {

/// How many instructions pass between two looks at the budget.
inline constexpr int stride = 1000;

/// What a call has used up, and what it may use. The allocator and the hooks work on it.
struct Budget {
    std::size_t memory = 0;
    std::size_t made = 0; ///< in all, freed or not
    int instructions = 0;
    bool overran = false;
    const Host* host = nullptr;
    bool mayAssign = false;
};

/// Lua's allocator; `data` is the budget, which it keeps to: null beyond it.
void* allocate(void* data, void* block, std::size_t oldSize, std::size_t newSize);

/// The hook of every `stride` instructions: an error once the budget is used up.
void count(lua_State* lua, lua_Debug*);

/// The value at a place of the stack, if it is one that the rules know; a table with numbers x and
/// y is a place, m.
std::optional<scene::Answer> answerAt(lua_State* lua, int index);

/// The libraries as scripts are to have them, kept in the registry; done once a state.
int prepare(lua_State* lua);

/// Pushes what a script starts with, new for each call: nothing is left over from the one before.
void pushSurroundings(lua_State* lua);

} // namespace snare::script
