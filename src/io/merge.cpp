// SPDX-License-Identifier: Apache-2.0
#include "io/merge.h"

#include "io/writer.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>
#include <unordered_map>

namespace snare::io {

namespace {

using Found = std::optional<Json>; // nothing: it is not there

/// What tells the entries of a list apart: the id of a thing, the two groups of a contact, a word
/// itself. Nothing if the entry has none.
std::optional<std::string> keyOf(const Json& entry)
{
    if (entry.is_string())
        return entry.get<std::string>();
    if (entry.is_object() && entry.contains("id") && entry["id"].is_string())
        return entry["id"].get<std::string>();
    if (entry.is_array() && entry.size() == 3 && entry[0].is_string() && entry[1].is_string()) {
        const auto [first, second] = std::minmax(entry[0].get<std::string>(), entry[1].get<std::string>());
        return first + " and " + second;
    }
    return std::nullopt;
}

/// The entries of a list by their keys; nothing if they cannot all be told apart.
using Keyed = std::unordered_map<std::string, const Json*>;
std::optional<Keyed> keyed(const Json& list)
{
    Keyed entries;
    for (const Json& entry : list) {
        const auto key = keyOf(entry);
        if (!key || !entries.emplace(*key, &entry).second)
            return std::nullopt;
    }
    return entries;
}

Found found(const Json* value)
{
    return value ? Found{*value} : std::nullopt;
}

std::string shown(const Found& value)
{
    if (!value)
        return "not there";
    const std::string text = compact(*value);
    constexpr std::size_t most = 80;
    return text.size() <= most ? text : text.substr(0, most) + "…";
}

class Merger {
  public:
    std::vector<std::string> conflicts;

    /// Nothing: it is gone.
    Found merged(const Found& base, const Found& ours, const Found& theirs, const std::string& path)
    {
        if (ours == theirs || theirs == base)
            return ours;
        if (ours == base)
            return theirs;
        if (ours && theirs && ours->is_object() && theirs->is_object() && (!base || base->is_object()))
            return mergedObjects(base ? *base : Json::object(), *ours, *theirs, path);
        if (ours && theirs && ours->is_array() && theirs->is_array() && (!base || base->is_array())) {
            const Json before = base ? *base : Json::array();
            const auto inBase = keyed(before);
            const auto inOurs = keyed(*ours);
            const auto inTheirs = keyed(*theirs);
            if (inBase && inOurs && inTheirs)
                return mergedLists({*inBase, *inOurs, *inTheirs}, *ours, *theirs, path);
            if (before.size() == ours->size() && ours->size() == theirs->size() && isListOfSteps(*ours))
                return mergedSteps(before, *ours, *theirs, path);
        }
        conflicts.push_back(fmt::format("{}: {} in ours, {} in theirs, it was {}", path.empty() ? "the file" : path,
                                        shown(ours), shown(theirs), shown(base)));
        return ours;
    }

  private:
    /// A list in the three versions.
    struct Versions {
        const Keyed& base;
        const Keyed& ours;
        const Keyed& theirs;
    };

    static std::string deeper(const std::string& path, const std::string& name)
    {
        return path.empty() ? name : path + ", " + name;
    }

    static bool isListOfSteps(const Json& list)
    {
        return std::ranges::all_of(list, [](const Json& entry) { return entry.is_object(); });
    }

    Json mergedObjects(const Json& base, const Json& ours, const Json& theirs, const std::string& path)
    {
        Json result = Json::object();
        const auto take = [&](const std::string& key) {
            if (result.contains(key))
                return;
            const auto in = [&](const Json& object) {
                const auto at = object.find(key);
                return found(at == object.end() ? nullptr : &*at);
            };
            if (Found value = merged(in(base), in(ours), in(theirs), deeper(path, key)))
                result[key] = std::move(*value);
        };
        for (const auto& [key, value] : ours.items())
            take(key);
        for (const auto& [key, value] : theirs.items())
            take(key);
        return result;
    }

    /// In the order of ours; what theirs adds comes behind what it stands behind there.
    Json mergedLists(const Versions& entries, const Json& ours, const Json& theirs, const std::string& path)
    {
        std::map<std::optional<std::string>, std::vector<std::string>> added; // behind which key; none: first of all
        std::optional<std::string> before;
        for (const Json& entry : theirs) {
            const std::string key = *keyOf(entry);
            if (!entries.ours.contains(key))
                added[before].push_back(key);
            else
                before = key;
        }
        std::vector<std::string> order = added[std::nullopt];
        for (const Json& entry : ours) {
            const std::string key = *keyOf(entry);
            order.push_back(key);
            if (const auto behind = added.find(key); behind != added.end())
                order.insert(order.end(), behind->second.begin(), behind->second.end());
        }
        Json result = Json::array();
        for (const std::string& key : order) {
            const auto in = [&](const Keyed& list) {
                const auto at = list.find(key);
                return found(at == list.end() ? nullptr : at->second);
            };
            const std::string name = singular(path) + " " + key;
            if (Found value = merged(in(entries.base), in(entries.ours), in(entries.theirs), name))
                result.push_back(std::move(*value));
        }
        return result;
    }

    Json mergedSteps(const Json& base, const Json& ours, const Json& theirs, const std::string& path)
    {
        Json result = Json::array();
        for (std::size_t i = 0; i < ours.size(); ++i)
            if (Found value = merged(base[i], ours[i], theirs[i], fmt::format("{}, step {}", path, i + 1)))
                result.push_back(std::move(*value));
        return result;
    }

    /// "snares" as "snare".
    static std::string singular(const std::string& path)
    {
        return path.ends_with('s') ? path.substr(0, path.size() - 1) : path;
    }
};

} // namespace

tl::expected<Merged, Problem> merge(const std::string& base, const std::string& ours, const std::string& theirs)
{
    std::vector<Json> documents;
    for (const auto& [text, name] : {std::pair{&base, "base"}, {&ours, "ours"}, {&theirs, "theirs"}}) {
        if (const auto checked = parseJson(*text, name); !checked)
            return tl::unexpected(checked.error());
        documents.push_back(Json::parse(*text));
    }
    Merger merger;
    const Found result = merger.merged(documents[0], documents[1], documents[2], {});
    return Merged{layOut(result.value_or(Json::object())), std::move(merger.conflicts)};
}

} // namespace snare::io
