// SPDX-License-Identifier: Apache-2.0
#include "script/library.h"

#include <lauxlib.h>
#include <lualib.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <vector>

namespace snare::script {

using scene::Answer;
using scene::Scalar;
using scene::Vec;

namespace {

/// What C functions may copy costs an instruction for so many bytes or elements.
constexpr lua_Integer perInstruction = 8;

constexpr std::array tables{"scene", "self", "visitor", "event", "signal", "with"};

} // namespace

void* allocate(void* data, void* block, std::size_t oldSize, std::size_t newSize)
{
    auto& budget = *static_cast<Budget*>(data);
    const bool isText = !block && oldSize == LUA_TSTRING;
    if (!block)
        oldSize = 0;
    if (newSize == 0) {
        std::free(block); // NOLINT: Lua's allocator
        budget.memory -= oldSize;
        return nullptr;
    }
    if (newSize > oldSize) {
        const std::size_t more = newSize - oldSize;
        budget.made += more;
        // Making much and throwing it away is work too.
        constexpr std::size_t mostMade = 16 * mostMemory;
        if (budget.memory + more > mostMemory || budget.made > mostMade || (isText && newSize > longestText))
            return nullptr; // Lua collects what it can and asks again before it gives up
    }
    void* result = std::realloc(block, newSize); // NOLINT
    if (result)
        budget.memory = budget.memory - oldSize + newSize;
    return result;
}

namespace {

Budget& budgetOf(lua_State* lua)
{
    void* data = nullptr;
    lua_getallocf(lua, &data);
    return *static_cast<Budget*>(data);
}

void charge(lua_State* lua, lua_Integer instructions, int level = 1)
{
    Budget& budget = budgetOf(lua);
    budget.instructions += static_cast<int>(std::min<lua_Integer>(instructions, mostInstructions + 1));
    if (budget.instructions > mostInstructions) {
        budget.overran = true;
        luaL_where(lua, level);
        lua_pushfstring(lua, "more than %d instructions", mostInstructions);
        lua_concat(lua, 2);
        lua_error(lua);
    }
}

} // namespace

void count(lua_State* lua, lua_Debug*)
{
    charge(lua, stride, 0);
}

namespace {

/// A function of Lua's own library that may walk over all of its first argument: that is charged
/// for.
int charged(lua_State* lua)
{
    lua_Integer cost = 1;
    for (int i = 1; i <= lua_gettop(lua); ++i) {
        if (lua_type(lua, i) == LUA_TSTRING || lua_type(lua, i) == LUA_TTABLE)
            cost += static_cast<lua_Integer>(lua_rawlen(lua, i)) / perInstruction;
        else if (lua_isinteger(lua, i)) // string.rep, table.unpack
            cost += static_cast<lua_Integer>(std::min(std::abs(static_cast<double>(lua_tointeger(lua, i))),
                                                      static_cast<double>(mostInstructions))) /
                    perInstruction;
    }
    charge(lua, cost);
    const int arguments = lua_gettop(lua);
    lua_pushvalue(lua, lua_upvalueindex(1));
    lua_insert(lua, 1);
    lua_call(lua, arguments, LUA_MULTRET);
    return lua_gettop(lua);
}

/// Plain search: patterns can take longer than any budget.
int find(lua_State* lua)
{
    std::size_t length = 0;
    std::size_t wantedLength = 0;
    const char* text = luaL_checklstring(lua, 1, &length);
    const char* wanted = luaL_checklstring(lua, 2, &wantedLength);
    charge(lua, static_cast<lua_Integer>(length) / perInstruction + 1);
    const lua_Integer from = std::max<lua_Integer>(1, luaL_optinteger(lua, 3, 1));
    const std::string_view whole{text, length};
    const auto at = static_cast<std::size_t>(from) > length + 1
                        ? std::string_view::npos
                        : whole.find(std::string_view{wanted, wantedLength}, static_cast<std::size_t>(from - 1));
    if (at == std::string_view::npos) {
        lua_pushnil(lua);
        return 1;
    }
    lua_pushinteger(lua, static_cast<lua_Integer>(at + 1));
    lua_pushinteger(lua, static_cast<lua_Integer>(at + wantedLength));
    return 2;
}

/// Sorts by insertion into halves, in Lua's own terms, so that each comparison is paid for.
constexpr const char* sortInLua = R"(
local function less(a, b) return a < b end
return function(list, before)
  before = before or less
  local n, other = #list, {}
  local width = 1
  while width < n do
    for low = 1, n, 2 * width do
      local middle, high = low + width, low + 2 * width
      if middle > n + 1 then middle = n + 1 end
      if high > n + 1 then high = n + 1 end
      local i, j = low, middle
      for k = low, high - 1 do
        if i < middle and (j >= high or not before(list[j], list[i])) then
          other[k] = list[i]; i = i + 1
        else
          other[k] = list[j]; j = j + 1
        end
      end
    end
    for k = 1, n do list[k] = other[k] end
    width = 2 * width
  end
end
)";

/// The keys of a table in an order that is the same in every run: numbers, then texts by their
/// bytes, then false and true. Lua's own order depends on where the memory lies, so what it costs
/// must not depend on that order either.
int sortedKeys(lua_State* lua)
{
    luaL_checktype(lua, 1, LUA_TTABLE);
    std::vector<std::pair<long double, int>> numbers; // exact for integers too; with their place in the list of keys
    std::vector<std::pair<std::string_view, int>> texts;
    std::array<int, 2> flags{}; // place; 0: it is no key
    lua_settop(lua, 1);
    lua_newtable(lua); // of keys in Lua's order
    int count = 0;
    for (lua_pushnil(lua); lua_next(lua, 1) != 0;) {
        lua_pop(lua, 1);
        ++count;
        switch (lua_type(lua, -1)) {
        case LUA_TNUMBER:
            numbers.emplace_back(lua_isinteger(lua, -1) ? static_cast<long double>(lua_tointeger(lua, -1))
                                                        : static_cast<long double>(lua_tonumber(lua, -1)),
                                 count);
            break;
        case LUA_TSTRING: {
            std::size_t length = 0;
            const char* text = lua_tolstring(lua, -1, &length);
            texts.emplace_back(std::string_view{text, length}, count);
            break;
        }
        case LUA_TBOOLEAN:
            flags[static_cast<std::size_t>(lua_toboolean(lua, -1))] = count;
            break;
        default:
            return luaL_error(lua, "only numbers, texts, true and false can be keys of a table that is gone through");
        }
        lua_pushvalue(lua, -1);
        lua_rawseti(lua, 2, count);
    }
    charge(lua, 10 + 4 * static_cast<lua_Integer>(count) * std::bit_width(static_cast<unsigned>(count)));
    std::ranges::sort(numbers);
    std::ranges::sort(texts);
    lua_createtable(lua, count, 0);
    lua_Integer at = 0;
    const auto add = [&](int place) {
        lua_rawgeti(lua, 2, place);
        lua_rawseti(lua, -2, ++at);
    };
    for (const auto& [number, place] : numbers)
        add(place);
    for (const auto& [text, place] : texts)
        add(place);
    for (const int place : flags)
        if (place != 0)
            add(place);
    return 1;
}

/// `pairs` and `next` go through keys in the order of `sortedKeys`.
constexpr const char* walkInLua = R"(
local keysOf, error = ...
local function walk(t)
  local keys, at = keysOf(t), 0
  return function()
    at = at + 1
    local k = keys[at]
    if k ~= nil then return k, t[k] end
  end
end
local function after(t, key)
  local keys = keysOf(t)
  if key == nil then return keys[1], t[keys[1]] end
  for i = 1, #keys do
    if keys[i] == key then
      local k = keys[i + 1]
      if k == nil then return nil end
      return k, t[k]
    end
  end
  error("there is no such key", 2)
end
return walk, after
)";

/// What a value is as text: of tables and functions only the kind, not where they lie.
void pushText(lua_State* lua, int index)
{
    const int type = lua_type(lua, index);
    if (type == LUA_TTABLE || type == LUA_TFUNCTION || type == LUA_TUSERDATA || type == LUA_TTHREAD)
        lua_pushstring(lua, lua_typename(lua, type));
    else
        luaL_tolstring(lua, index, nullptr);
}

int toText(lua_State* lua)
{
    luaL_checkany(lua, 1);
    pushText(lua, 1);
    return 1;
}

/// string.format without `%p`; the upvalue is Lua's own.
int format(lua_State* lua)
{
    const std::string_view form = [&] {
        std::size_t length = 0;
        const char* text = luaL_checklstring(lua, 1, &length);
        return std::string_view{text, length};
    }();
    for (std::size_t i = 0; i + 1 < form.size(); ++i) {
        if (form[i] != '%')
            continue;
        i = std::min(form.find_first_not_of("0123456789-+ #.", i + 1), form.size());
        if (i < form.size() && form[i] == 'p')
            return luaL_error(lua, "%%p is not known here");
    }
    for (int i = 2; i <= lua_gettop(lua); ++i) {
        pushText(lua, i);
        if (lua_type(lua, i) == LUA_TNUMBER || lua_type(lua, i) == LUA_TSTRING)
            lua_pop(lua, 1);
        else
            lua_replace(lua, i);
    }
    return charged(lua);
}

/// math.random with the chance of the run.
int random(lua_State* lua)
{
    const double part = budgetOf(lua).host->random();
    const int arguments = lua_gettop(lua);
    if (arguments == 0) {
        lua_pushnumber(lua, part);
        return 1;
    }
    const lua_Integer low = arguments == 1 ? 1 : luaL_checkinteger(lua, 1);
    const lua_Integer high = luaL_checkinteger(lua, arguments);
    luaL_argcheck(lua, low <= high, arguments, "interval is empty");
    // Counted from low without a sign: all that an integer can be is a range too.
    const std::uint64_t last = static_cast<std::uint64_t>(high) - static_cast<std::uint64_t>(low);
    const auto step = static_cast<std::uint64_t>(part * (static_cast<double>(last) + 1)); // < 2^64, since part < 1
    lua_pushinteger(lua, static_cast<lua_Integer>(static_cast<std::uint64_t>(low) + std::min(step, last)));
    return 1;
}

void push(lua_State* lua, const Answer& value)
{
    if (const auto* number = std::get_if<double>(&value)) {
        lua_pushnumber(lua, *number);
    } else if (const auto* flag = std::get_if<bool>(&value)) {
        lua_pushboolean(lua, *flag);
    } else if (const auto* text = std::get_if<std::string>(&value)) {
        lua_pushlstring(lua, text->data(), text->size());
    } else {
        const Vec& point = std::get<Vec>(value);
        lua_createtable(lua, 0, 2);
        lua_pushnumber(lua, point.x);
        lua_setfield(lua, -2, "x");
        lua_pushnumber(lua, point.y);
        lua_setfield(lua, -2, "y");
    }
}

} // namespace

std::optional<Answer> answerAt(lua_State* lua, int index)
{
    switch (lua_type(lua, index)) {
    case LUA_TNUMBER:
        return Answer{static_cast<double>(lua_tonumber(lua, index))};
    case LUA_TBOOLEAN:
        return Answer{lua_toboolean(lua, index) != 0};
    case LUA_TSTRING: {
        std::size_t length = 0;
        const char* text = lua_tolstring(lua, index, &length);
        return Answer{std::string(text, length)};
    }
    case LUA_TTABLE: {
        const int table = lua_absindex(lua, index);
        lua_pushliteral(lua, "x");
        lua_rawget(lua, table);
        lua_pushliteral(lua, "y");
        lua_rawget(lua, table);
        std::optional<Answer> point;
        if (lua_isnumber(lua, -1) && lua_isnumber(lua, -2))
            point = Answer{Vec{lua_tonumber(lua, -2), lua_tonumber(lua, -1)}};
        lua_pop(lua, 2);
        return point;
    }
    default:
        return std::nullopt;
    }
}

namespace {

std::string_view textAt(lua_State* lua, int index)
{
    std::size_t length = 0;
    const char* text = luaL_checklstring(lua, index, &length);
    return {text, length};
}

/// Reading `self.load`: the upvalue is the table's name.
int index(lua_State* lua)
{
    const std::string_view table = textAt(lua, lua_upvalueindex(1));
    if (lua_type(lua, 2) != LUA_TSTRING) {
        lua_pushnil(lua);
        return 1;
    }
    if (const auto value = budgetOf(lua).host->get(table, textAt(lua, 2)))
        push(lua, *value);
    else
        lua_pushnil(lua);
    return 1;
}

/// Assigning to `self.load`.
int assign(lua_State* lua)
{
    Budget& budget = budgetOf(lua);
    if (!budget.mayAssign)
        return luaL_error(lua, "an expression cannot assign");
    std::optional<Scalar> value;
    if (const auto answer = answerAt(lua, 3))
        std::visit(
            [&]<class T>(const T& held) {
                if constexpr (!std::is_same_v<T, Vec>)
                    value = Scalar{held};
            },
            *answer);
    bool refused = !value;
    if (value) {
        const auto why = budget.host->set(textAt(lua, lua_upvalueindex(1)), textAt(lua, 2), std::move(*value));
        refused = why.has_value();
        if (why)
            lua_pushlstring(lua, why->data(), why->size());
    } else {
        lua_pushliteral(lua, "only numbers, texts, true and false can be kept");
    }
    if (!refused)
        return 0;
    luaL_where(lua, 1);
    lua_insert(lua, -2);
    lua_concat(lua, 2);
    return lua_error(lua);
}

int note(lua_State* lua)
{
    charge(lua, 100);
    std::size_t length = 0;
    pushText(lua, 1);
    const char* text = lua_tolstring(lua, -1, &length);
    budgetOf(lua).host->note(std::string(text, std::min<std::size_t>(length, 1000)));
    return 0;
}

/// Puts a copy of a library's functions, those of a list, into a new table on the stack.
void pushLibrary(lua_State* lua, const char* library, std::initializer_list<const char*> names)
{
    lua_newtable(lua);
    lua_getfield(lua, LUA_REGISTRYINDEX, library);
    for (const char* name : names) {
        lua_getfield(lua, -1, name);
        lua_setfield(lua, -3, name);
    }
    lua_pop(lua, 1);
}

/// Wraps functions of the table on the stack so that they are charged for.
void chargeFor(lua_State* lua, std::initializer_list<const char*> names)
{
    for (const char* name : names) {
        lua_getfield(lua, -1, name);
        lua_pushcclosure(lua, charged, 1);
        lua_setfield(lua, -2, name);
    }
}

constexpr std::initializer_list<const char*> stringNames = {"byte",  "char", "find",    "format", "len",
                                                            "lower", "rep",  "reverse", "sub",    "upper"};
constexpr std::initializer_list<const char*> tableNames = {"concat", "insert", "remove", "sort", "unpack"};
constexpr std::initializer_list<const char*> mathNames = {
    "abs",  "ceil",       "cos",       "deg",        "exp",  "floor", "fmod", "huge",   "log",
    "max",  "maxinteger", "min",       "mininteger", "modf", "pi",    "rad",  "random", "sin",
    "sqrt", "tan",        "tointeger", "type",       "ult",  "acos",  "asin", "atan"};
constexpr std::initializer_list<const char*> baseNames = {"assert", "error",    "ipairs",   "next", "pairs",
                                                          "select", "tonumber", "tostring", "type"};

} // namespace

int prepare(lua_State* lua)
{
    const auto keep = [&](const char* name) { lua_setfield(lua, LUA_REGISTRYINDEX, name); };
    luaL_requiref(lua, LUA_GNAME, luaopen_base, 0);
    lua_pushcfunction(lua, toText);
    lua_setfield(lua, -2, "tostring");
    keep("base");
    luaL_requiref(lua, LUA_STRLIBNAME, luaopen_string, 0);
    chargeFor(lua, {"byte", "char", "format", "lower", "rep", "reverse", "sub", "upper"});
    lua_pushcfunction(lua, find);
    lua_setfield(lua, -2, "find");
    lua_getfield(lua, -1, "format");
    lua_getupvalue(lua, -1, 1); // Lua's own, which was wrapped above
    lua_pushcclosure(lua, format, 1);
    lua_setfield(lua, -3, "format");
    lua_pop(lua, 1);
    keep("text");
    luaL_requiref(lua, LUA_TABLIBNAME, luaopen_table, 0);
    chargeFor(lua, {"concat", "insert", "remove", "unpack"});
    if (luaL_loadstring(lua, sortInLua) != LUA_OK)
        return lua_error(lua);
    lua_call(lua, 0, 1);
    lua_setfield(lua, -2, "sort");
    const int list = lua_gettop(lua);
    lua_getfield(lua, LUA_REGISTRYINDEX, "base");
    const int base = lua_gettop(lua);
    if (luaL_loadstring(lua, walkInLua) != LUA_OK)
        return lua_error(lua);
    lua_pushcfunction(lua, sortedKeys);
    lua_getfield(lua, base, "error");
    lua_call(lua, 2, 2);
    lua_setfield(lua, base, "next");
    lua_setfield(lua, base, "pairs");
    lua_settop(lua, list);
    keep("list");
    luaL_requiref(lua, LUA_MATHLIBNAME, luaopen_math, 0);
    lua_pushcfunction(lua, random);
    lua_setfield(lua, -2, "random");
    keep("maths");
    // ("x"):upper() finds its functions in a table that no script can reach to change.
    lua_pushliteral(lua, "");
    lua_getmetatable(lua, -1);
    pushLibrary(lua, "text", stringNames);
    lua_setfield(lua, -2, "__index");
    lua_pop(lua, 2);
    return 0;
}

void pushSurroundings(lua_State* lua)
{
    pushLibrary(lua, "base", baseNames);
    pushLibrary(lua, "text", stringNames);
    lua_setfield(lua, -2, "string");
    pushLibrary(lua, "list", tableNames);
    lua_setfield(lua, -2, "table");
    pushLibrary(lua, "maths", mathNames);
    lua_setfield(lua, -2, "math");
    lua_pushcfunction(lua, note);
    lua_setfield(lua, -2, "note");
    for (const char* name : tables) {
        lua_newtable(lua);
        lua_createtable(lua, 0, 3);
        lua_pushstring(lua, name);
        lua_pushcclosure(lua, index, 1);
        lua_setfield(lua, -2, "__index");
        lua_pushstring(lua, name);
        lua_pushcclosure(lua, assign, 1);
        lua_setfield(lua, -2, "__newindex");
        lua_setmetatable(lua, -2);
        lua_setfield(lua, -2, name);
    }
}

} // namespace snare::script
