// SPDX-License-Identifier: Apache-2.0
#include "check/takes.h"

#include "check/threads.h"
#include "io/document.h"
#include "io/json_node.h"
#include "sim/recorder.h"
#include "words/expectations.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <chrono>
#include <map>
#include <mutex>
#include <set>
#include <sstream>

namespace snare::check {

namespace fs = std::filesystem;

namespace {

constexpr std::string_view ending = ".take.json";

/// Scenes that takes name, each read once, by whoever comes first.
class Scenes {
  public:
    using Loaded = tl::expected<std::shared_ptr<const scene::Scene>, std::string>;

    Loaded of(const fs::path& file)
    {
        std::unique_lock lock{mutex_};
        std::shared_ptr<Entry>& entry = entries_[file.lexically_normal().string()];
        if (!entry)
            entry = std::make_shared<Entry>();
        const std::shared_ptr<Entry> one = entry;
        lock.unlock();
        std::call_once(one->once, [&] {
            auto scene = io::loadScene(file);
            if (scene)
                one->loaded = std::make_shared<const scene::Scene>(std::move(*scene));
            else
                one->loaded = tl::unexpected(scene.error().front().message());
        });
        return one->loaded;
    }

  private:
    struct Entry {
        std::once_flag once;
        Loaded loaded;
    };

    std::mutex mutex_;
    std::map<std::string, std::shared_ptr<Entry>> entries_;
};

/// The lines on which the expectations of a take begin.
std::vector<int> linesOf(const std::string& text)
{
    std::vector<int> lines;
    const auto root = io::parseJson(text, {});
    const io::Node* expect = root ? root->find("expect") : nullptr;
    if (!expect || !expect->elements())
        return lines;
    int line = 1;
    std::size_t at = 0;
    for (const io::Node& one : *expect->elements()) {
        line += static_cast<int>(std::count(text.begin() + static_cast<std::ptrdiff_t>(at),
                                            text.begin() + static_cast<std::ptrdiff_t>(one.offset), '\n'));
        at = one.offset;
        lines.push_back(line);
    }
    return lines;
}

TakeResult runTake(const fs::path& file, Scenes& scenes, const std::atomic<bool>* cancelled)
{
    const auto begin = std::chrono::steady_clock::now();
    TakeResult result;
    result.file = file;
    const auto text = io::loadText(file);
    auto take = text ? io::readTake(*text, file.string()) : tl::unexpected(io::Problems{text.error()});
    if (!take) {
        result.problem = take.error().front().message();
        return result;
    }
    result.take = std::move(*take);
    result.lines = linesOf(*text);
    if (result.take.scene.empty()) {
        result.problem = fmt::format("{}: the take names no scene", file.string());
        return result;
    }
    const auto scene = scenes.of(file.parent_path() / result.take.scene);
    if (!scene) {
        result.problem = scene.error();
        return result;
    }
    const sim::Record record = sim::rerun(*scene, result.take, {.seconds = {}, .lean = true, .cancelled = cancelled});
    result.judgement = judge(record);
    result.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    return result;
}

/// The takes that a walk through a folder meets, by name.
template <class Walk> std::vector<fs::path> takesOn(Walk at, std::error_code& error)
{
    std::vector<fs::path> found;
    for (const Walk end; !error && at != end; at.increment(error))
        if (at->path().filename().string().ends_with(ending) && at->is_regular_file(error))
            found.push_back(at->path());
    std::ranges::sort(found);
    return found;
}

constexpr auto readable = fs::directory_options::skip_permission_denied;

} // namespace

std::vector<fs::path> takesBeside(const fs::path& folder)
{
    std::error_code error;
    return takesOn(fs::directory_iterator{folder, readable, error}, error);
}

std::vector<fs::path> takesIn(const std::vector<fs::path>& paths)
{
    std::vector<fs::path> files;
    std::set<std::string> known;
    const auto add = [&](const fs::path& file) {
        if (known.insert(file.lexically_normal().string()).second)
            files.push_back(file);
    };
    for (const fs::path& path : paths) {
        std::error_code error;
        if (!fs::is_directory(path, error)) {
            add(path);
            continue;
        }
        for (const fs::path& file : takesOn(fs::recursive_directory_iterator{path, readable, error}, error))
            add(file);
    }
    return files;
}

std::vector<TakeResult> runTakes(const std::vector<fs::path>& files, unsigned jobs,
                                 const std::function<void(const TakeResult&)>& done,
                                 const std::atomic<bool>* cancelled)
{
    std::vector<std::optional<TakeResult>> results(files.size());
    Scenes scenes;
    std::mutex telling;
    const auto isCancelled = [cancelled] { return cancelled && cancelled->load(); };
    onThreads(files.size(), jobs, [&](std::size_t i) {
        if (isCancelled())
            return;
        TakeResult result;
        try {
            result = runTake(files[i], scenes, cancelled);
        } catch (const std::exception& error) { // such as no memory left
            result.file = files[i];
            result.problem = fmt::format("{}: {}", files[i].string(), error.what());
        }
        if (isCancelled())
            return;
        const std::lock_guard lock{telling};
        if (done)
            done(result);
        results[i] = std::move(result);
    });
    std::vector<TakeResult> ready;
    for (std::optional<TakeResult>& result : results)
        if (result)
            ready.push_back(std::move(*result));
    return ready;
}

namespace {

std::string nameOf(const TakeResult& result, std::size_t expectation)
{
    const scene::Expectation& expect = result.take.expect[expectation];
    return expect.note.empty() ? words::expectationText(expect)
                               : fmt::format("{} ({})", words::expectationText(expect), expect.note);
}

int lineOf(const TakeResult& result, std::size_t expectation)
{
    return expectation < result.lines.size() ? result.lines[expectation] : 1;
}

} // namespace

std::vector<std::string> failuresOf(const TakeResult& result)
{
    if (!result.problem.empty())
        return {result.problem};
    std::vector<std::string> told;
    for (std::size_t i = 0; i < result.judgement.verdicts.size(); ++i)
        if (const Verdict& verdict = result.judgement.verdicts[i]; !verdict.held)
            told.push_back(fmt::format("{}:{}: expected {}: {}", result.file.string(), lineOf(result, i),
                                       nameOf(result, i), verdict.why));
    if (!result.judgement.stop.empty())
        told.push_back(fmt::format("{}: {}", result.file.string(), result.judgement.stop));
    return told;
}

namespace {

/// Without the characters that XML cannot hold.
std::string plain(std::string text)
{
    std::erase_if(text, [](char letter) {
        return static_cast<unsigned char>(letter) < 0x20 && letter != '\t' && letter != '\n' && letter != '\r';
    });
    return text;
}

void addCase(pugi::xml_node suite, const TakeResult& result, const std::string& name, const std::string& why,
             const char* kind, int line)
{
    pugi::xml_node one = suite.append_child("testcase");
    one.append_attribute("classname") = plain(result.file.string()).c_str();
    one.append_attribute("name") = plain(name).c_str();
    one.append_attribute("file") = plain(result.file.string()).c_str();
    one.append_attribute("line") = line;
    one.append_attribute("time") = "0";
    if (why.empty())
        return;
    pugi::xml_node failure = one.append_child(kind);
    failure.append_attribute("message") = plain(why).c_str();
    failure.text() = plain(fmt::format("{}:{}: {}", result.file.string(), line, why)).c_str();
}

} // namespace

std::string junitOf(const std::vector<TakeResult>& results)
{
    pugi::xml_document document;
    pugi::xml_node declaration = document.append_child(pugi::node_declaration);
    declaration.append_attribute("version") = "1.0";
    declaration.append_attribute("encoding") = "UTF-8";
    pugi::xml_node all = document.append_child("testsuites");
    std::size_t tests = 0;
    std::size_t failures = 0;
    std::size_t errors = 0;
    double seconds = 0;
    for (const TakeResult& result : results) {
        pugi::xml_node suite = all.append_child("testsuite");
        const std::size_t cases = result.problem.empty() ? result.judgement.verdicts.size() + 1 : 1;
        const std::size_t failed = result.problem.empty() ? result.judgement.failures() : 0;
        suite.append_attribute("name") = plain(result.file.string()).c_str();
        suite.append_attribute("tests") = static_cast<unsigned>(cases);
        suite.append_attribute("failures") = static_cast<unsigned>(failed);
        suite.append_attribute("errors") = result.problem.empty() ? 0 : 1;
        suite.append_attribute("time") = fmt::format("{:.3f}", result.seconds).c_str();
        tests += cases;
        failures += failed;
        errors += result.problem.empty() ? 0 : 1;
        seconds += result.seconds;
        if (!result.problem.empty()) {
            addCase(suite, result, "can be run", result.problem, "error", 1);
            continue;
        }
        for (std::size_t i = 0; i < result.judgement.verdicts.size(); ++i)
            addCase(suite, result, nameOf(result, i), result.judgement.verdicts[i].why, "failure", lineOf(result, i));
        addCase(suite, result, result.take.stops ? "the run stops" : "the run does not stop", result.judgement.stop,
                "failure", 1);
    }
    all.append_attribute("tests") = static_cast<unsigned>(tests);
    all.append_attribute("failures") = static_cast<unsigned>(failures);
    all.append_attribute("errors") = static_cast<unsigned>(errors);
    all.append_attribute("time") = fmt::format("{:.3f}", seconds).c_str();
    std::ostringstream out;
    document.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
    return out.str();
}

} // namespace snare::check
