// SPDX-License-Identifier: Apache-2.0
/// `snare check`: the findings of scenes, with the line of the file at which they stand.
#include "check/findings.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <iostream>

namespace snare::cli {

namespace {

using check::Finding;
using check::Place;

/// The file of a place, and its text read as JSON once.
struct Source {
    std::filesystem::path path;
    std::string text;
    std::optional<io::Node> root;
    std::vector<std::size_t> lines; ///< where each begins
};

Source sourceAt(const std::filesystem::path& path)
{
    Source source{path, io::loadText(path).value_or(std::string()), {}, {}};
    if (auto root = io::parseJson(source.text, path.string()))
        source.root = std::move(*root);
    source.lines.push_back(0);
    for (std::size_t i = 0; i < source.text.size(); ++i)
        if (source.text[i] == '\n')
            source.lines.push_back(i + 1);
    return source;
}

/// The entry of a list that has this id.
const io::Node* entryOf(const io::Node* list, const std::string& id)
{
    if (list && list->elements())
        for (const io::Node& one : *list->elements())
            if (const io::Node* name = one.find("id"); name && name->text() && *name->text() == id)
                return &one;
    return nullptr;
}

/// The innermost value that a place means.
const io::Node* nodeOf(const io::Node& root, const Place& place)
{
    const auto within = [&](const char* list, const std::string& name) {
        const io::Node* all = root.find(list);
        return all ? all->find(name) : nullptr;
    };
    const io::Node* node = nullptr;
    switch (place.of) {
    case Place::Of::snare:
        node = place.assembly.empty() ? entryOf(root.find("snares"), place.id) : nullptr;
        if (const io::Node* assembly = place.assembly.empty() ? nullptr : within("assemblies", place.assembly))
            node = entryOf(assembly->find("snares"), place.id);
        break;
    case Place::Of::routine:
        node = within("routines", place.id);
        break;
    case Place::Of::form:
        node = within("templates", place.id);
        break;
    case Place::Of::assembly:
        node = within("assemblies", place.id);
        break;
    case Place::Of::piece:
        node = entryOf(root.find("pieces"), place.id.substr(0, place.id.find('.')));
        break;
    case Place::Of::source:
        node = entryOf(root.find("sources"), place.id);
        break;
    case Place::Of::kit:
        return root.find("kits");
    case Place::Of::scene:
        return &root;
    }
    if (!node)
        return nullptr;
    const io::Node* steps = place.of == Place::Of::routine && node->elements() ? node : node->find("responses");
    if (place.response >= 0 && steps && steps->elements() &&
        static_cast<std::size_t>(place.response) < steps->elements()->size()) {
        node = &(*steps->elements())[static_cast<std::size_t>(place.response)];
        const io::Node* field = node->find(place.field);
        return field ? field : node;
    }
    for (const char* part : {"catch", "filter", "gate"})
        if (const io::Node* found = node->find(part))
            if (const io::Node* field = found->find(place.field))
                return field;
    const io::Node* field = node->find(place.field);
    return field ? field : node;
}

io::Place lineOf(const Source& source, const Place& place)
{
    const io::Node* node = source.root ? nodeOf(*source.root, place) : nullptr;
    if (!node)
        return {};
    const auto line = std::ranges::upper_bound(source.lines, node->offset) - source.lines.begin();
    const std::size_t begin = source.lines[static_cast<std::size_t>(line - 1)];
    const io::Place within = io::placeOf(std::string_view(source.text).substr(begin), node->offset - begin);
    return {static_cast<std::size_t>(line), within.column};
}

} // namespace

int checkScenes(const CheckWords& words)
{
    bool hasError = false;
    bool hasWarning = false;
    auto list = nlohmann::ordered_json::array();
    for (const std::string& file : words.scenes) {
        const auto scene = io::loadScene(file);
        if (!scene) {
            for (const io::Problem& problem : scene.error())
                std::cerr << problem.message() << '\n';
            return badInput;
        }
        std::map<std::string, Source> sources;
        for (const Finding& finding : check::findingsOf(*scene)) {
            if (!finding.accepted.empty() && !words.json)
                continue;
            const std::filesystem::path path = finding.place.home.empty()
                                                   ? std::filesystem::path{file}
                                                   : std::filesystem::path{file}.parent_path() / finding.place.home;
            const auto [source, isNew] = sources.try_emplace(path.string());
            if (isNew)
                source->second = sourceAt(path);
            const io::Place place = lineOf(source->second, finding.place);
            if (finding.accepted.empty()) {
                hasError = hasError || finding.severity == check::Severity::error;
                hasWarning = hasWarning || finding.severity == check::Severity::warning;
            }
            if (!words.json) {
                fmt::print("{}: line {}: {}: {} [{}]\n", path.string(), place.line, check::wordOf(finding.severity),
                           finding.text, finding.id);
                continue;
            }
            nlohmann::ordered_json one{{"file", path.string()},
                                       {"line", place.line},
                                       {"column", place.column},
                                       {"severity", check::wordOf(finding.severity)},
                                       {"id", finding.id},
                                       {"at", check::textOf(finding.place)},
                                       {"about", finding.about},
                                       {"text", finding.text},
                                       {"why", check::rowOf(finding.id).why}};
            if (finding.fix)
                one["fix"] = finding.fix->text;
            if (!finding.accepted.empty())
                one["accepted"] = finding.accepted;
            list.push_back(std::move(one));
        }
    }
    if (words.json)
        std::cout << list.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << '\n';
    return hasError || (hasWarning && words.strict) ? checkFailed : fine;
}

} // namespace snare::cli
