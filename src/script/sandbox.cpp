// SPDX-License-Identifier: Apache-2.0
#include "script/sandbox.h"

#include "script/library.h"

#include <lauxlib.h>

#include <algorithm>
#include <cstdlib>
#include <map>

#include <locale.h> // uselocale

namespace snare::script {

using scene::Answer;

namespace {

/// The line of a message such as `script:3: …`, and the message without it.
Fault faultOf(std::string_view message, bool overran)
{
    Fault fault{1, std::string(message), overran};
    constexpr std::string_view start = "script:";
    if (!message.starts_with(start))
        return fault;
    const auto colon = message.find(':', start.size());
    if (colon == std::string_view::npos)
        return fault;
    fault.line = std::max(1, std::atoi(std::string(message.substr(start.size(), colon)).c_str())); // NOLINT
    fault.text = message.substr(std::min(message.size(), colon + 2));
    return fault;
}

constexpr const char* chunkName = "=script";

/// While it lives, this thread writes and compares as in the C locale: a script does the same
/// wherever it runs.
class PlainLocale {
  public:
    PlainLocale() : before_(uselocale(plain())) {}
    ~PlainLocale() { uselocale(before_); }
    PlainLocale(const PlainLocale&) = delete;
    PlainLocale& operator=(const PlainLocale&) = delete;

  private:
    static locale_t plain()
    {
        static const locale_t c = newlocale(LC_ALL_MASK, "C", nullptr);
        return c;
    }
    locale_t before_;
};

/// What a call works with, handed through Lua as one pointer.
struct Call {
    const std::string* code = nullptr;
    int function = LUA_NOREF; ///< in the registry
    std::optional<Answer> value;
};

/// Runs under lua_pcall, so that running out of memory anywhere in it is an error like any other.
int perform(lua_State* lua)
{
    auto& call = *static_cast<Call*>(lua_touserdata(lua, 1));
    lua_rawgeti(lua, LUA_REGISTRYINDEX, call.function);
    pushSurroundings(lua);
    lua_setupvalue(lua, -2, 1);
    lua_call(lua, 0, 1);
    call.value = answerAt(lua, -1);
    return 0;
}

int compile(lua_State* lua)
{
    auto& call = *static_cast<Call*>(lua_touserdata(lua, 1));
    if (luaL_loadbufferx(lua, call.code->data(), call.code->size(), chunkName, "t") != LUA_OK)
        return lua_error(lua);
    call.function = luaL_ref(lua, LUA_REGISTRYINDEX);
    return 0;
}

} // namespace

struct Sandbox::State {
    Budget budget;
    lua_State* lua = nullptr;
    std::map<std::string, int, std::less<>> compiled; ///< functions in the registry

    State()
    {
        lua = lua_newstate(allocate, &budget);
        lua_pushcfunction(lua, prepare);
        lua_pcall(lua, 0, 0, 0);
    }
    ~State() { lua_close(lua); }
    State(const State&) = delete;
    State& operator=(const State&) = delete;

    Result call(const std::string& code, const Host& host, bool mayAssign)
    {
        const PlainLocale locale;
        lua_settop(lua, 0);
        budget.made = 0;
        budget.instructions = 0;
        budget.overran = false;
        budget.host = &host;
        budget.mayAssign = mayAssign;
        Call work;
        work.code = &code;
        if (const auto found = compiled.find(code); found != compiled.end()) {
            work.function = found->second;
        } else {
            lua_pushcfunction(lua, compile);
            lua_pushlightuserdata(lua, &work);
            if (lua_pcall(lua, 1, 0, 0) != LUA_OK)
                return fault();
            compiled.emplace(code, work.function);
        }
        lua_pushcfunction(lua, perform);
        lua_pushlightuserdata(lua, &work);
        lua_sethook(lua, count, LUA_MASKCOUNT, stride);
        const int outcome = lua_pcall(lua, 1, 0, 0);
        lua_sethook(lua, nullptr, 0, 0);
        Result result;
        budget.overran = budget.overran || outcome == LUA_ERRMEM;
        if (outcome == LUA_OK)
            result.value = std::move(work.value);
        else
            result = fault();
        // What the call made is thrown away, so that the next has as much to work with.
        lua_settop(lua, 0);
        if (budget.made > mostMemory / 16)
            lua_gc(lua, LUA_GCCOLLECT);
        return result;
    }

    Result fault()
    {
        const char* text = lua_tostring(lua, -1);
        Fault fault = faultOf(text ? text : "it failed", budget.overran);
        if (budget.overran && budget.instructions <= mostInstructions)
            fault.text = "more than 16 MiB, or a text over 64 KiB";
        return {std::nullopt, std::move(fault)};
    }
};

Sandbox::Sandbox() = default;
Sandbox::~Sandbox() = default;
Sandbox::Sandbox(const Sandbox&) {}
Sandbox& Sandbox::operator=(const Sandbox& other)
{
    if (this != &other)
        state_.reset();
    return *this;
}
Sandbox::Sandbox(Sandbox&&) noexcept = default;
Sandbox& Sandbox::operator=(Sandbox&&) noexcept = default;

Sandbox::State& Sandbox::state()
{
    if (!state_)
        state_ = std::make_unique<State>();
    return *state_;
}

Result Sandbox::evaluate(const std::string& expression, const Host& host)
{
    // On a line of its own, so that a remark at its end does no harm.
    return state().call("return " + expression + "\n", host, false);
}

Result Sandbox::run(const std::string& script, const Host& host)
{
    return state().call(script, host, true);
}

std::optional<Fault> Sandbox::check(const std::string& text, bool isExpression)
{
    const PlainLocale locale; // numbers in it have points
    State state;
    const std::string code = isExpression ? "return " + text + "\n" : text;
    if (luaL_loadbufferx(state.lua, code.data(), code.size(), chunkName, "t") == LUA_OK)
        return std::nullopt;
    return faultOf(lua_tostring(state.lua, -1), false);
}

} // namespace snare::script
