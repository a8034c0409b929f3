// SPDX-License-Identifier: Apache-2.0
#include "embed/fresh_snare.h"

#include "io/document.h"
#include "io/log.h"
#include "rules/clock.h"
#include "sim/recorder.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <exception>
#include <map>

using namespace snare;

struct fs_run {
    explicit fs_run(const std::shared_ptr<const scene::Scene>& scene, std::optional<std::uint32_t> theSeed)
        : recorder(scene, false, theSeed), seed(theSeed)
    {
        recorder.keepLittle();
    }

    const sim::Record& record() const { return recorder.record(); }
    const world::World& world() const { return recorder.run().world(); }
    void hand(scene::Input input)
    {
        input.t = static_cast<double>(recorder.run().tickNumber() + 1) / record().scene->rate;
        pending.push_back(std::move(input));
    }

    sim::Recorder recorder;
    std::optional<std::uint32_t> seed;
    std::vector<scene::Input> pending; ///< of the next tick
    std::size_t told = 0;              ///< lines of the log
    std::string text;                  ///< that was given out last
};

namespace {

/// Of each thread: why something failed.
thread_local std::string failure; // NOLINT(cppcoreguidelines-avoid-non-const-global-variables)

/// What `work` gives, or `otherwise` if it throws: no exception leaves the library.
template <class Result, class Work> Result guarded(Result otherwise, const Work& work)
{
    try {
        return work();
    } catch (const std::exception& problem) {
        failure = problem.what();
    }
    return otherwise;
}

fs_run* opened(const tl::expected<scene::Scene, io::Problems>& scene, const std::uint32_t* seed)
{
    if (!scene) {
        failure.clear();
        for (const io::Problem& problem : scene.error())
            failure += (failure.empty() ? "" : "\n") + problem.message();
        return nullptr;
    }
    return std::make_unique<fs_run>(std::make_shared<const scene::Scene>(*scene),
                                    seed ? std::optional(*seed) : std::nullopt)
        .release();
}

/// The inputs as a take has them: a driven piece that was not led in every tick stood still
/// meanwhile, which a take says by another place at the end of its rest (V10).
std::vector<scene::Input> asOfTake(const std::vector<scene::Input>& inputs, int rate)
{
    std::vector<scene::Input> all;
    std::map<std::string, std::pair<std::int64_t, scene::TrackPlace>> last; // by piece, with its tick
    for (const scene::Input& input : inputs) {
        if (const auto* place = input.as<scene::TrackPlace>()) {
            const std::int64_t tick = rules::tickOfInput(input.t, rate);
            const auto before = last.find(place->piece);
            if (before != last.end() && before->second.first < tick - 1)
                all.emplace_back(static_cast<double>(tick - 1) / rate, before->second.second);
            last[place->piece] = {tick, *place};
        }
        all.push_back(input);
    }
    std::ranges::stable_sort(all, {}, &scene::Input::t);
    return all;
}

} // namespace

const char* fs_version(void)
{
    return SNARE_VERSION;
}

const char* fs_error(void)
{
    return failure.c_str();
}

fs_run* fs_open(const char* scene_file, const uint32_t* seed)
{
    return guarded<fs_run*>(nullptr, [&] { return opened(io::loadScene(scene_file), seed); });
}

fs_run* fs_open_text(const char* scene_text, const uint32_t* seed)
{
    return guarded<fs_run*>(nullptr, [&] { return opened(io::readScene(scene_text, "scene"), seed); });
}

void fs_close(fs_run* run)
{
    delete run;
}

int fs_rate(const fs_run* run)
{
    return run->record().scene->rate;
}

int64_t fs_tick(const fs_run* run)
{
    return run->recorder.run().tickNumber();
}

void fs_key(fs_run* run, const char* key, int down)
{
    guarded(0, [&] { return run->hand({0, scene::KeyInput{key, down != 0}}), 0; });
}

void fs_pointer(fs_run* run, double x, double y)
{
    guarded(0, [&] { return run->hand({0, scene::PointerMove{{x, y}}}), 0; });
}

void fs_glass(fs_run* run, double x, double y)
{
    guarded(0, [&] { return run->hand({0, scene::GlassMove{{x, y}}}), 0; });
}

int fs_button(fs_run* run, const char* button, int down)
{
    return guarded(0, [&] {
        for (const auto& known : scene::wordsOf<scene::Button>)
            if (known.word == button)
                return run->hand({0, scene::ButtonInput{known.value, down != 0}}), 1;
        failure = std::string("there is no button ") + button;
        return 0;
    });
}

void fs_dial(fs_run* run, const char* dial, double value)
{
    guarded(0, [&] { return run->hand({0, scene::DialInput{dial, value}}), 0; });
}

int fs_call(fs_run* run, const char* name, const char* values)
{
    return guarded(0, [&] {
        scene::CallInput call{name, {}};
        if (values) {
            // As a take would say it.
            const std::string text =
                R"({"format":"fresh-snare-take","version":1,"inputs":[{"t":0,"call":"it","with":)" +
                std::string(values) + "}]}";
            const auto take = io::readTake(text, "values");
            const auto* read = take && take->inputs.size() == 1 ? take->inputs[0].as<scene::CallInput>() : nullptr;
            if (!read) {
                failure = take ? std::string("the values of a call are one object") : take.error().front().text;
                return 0;
            }
            call.with = read->with;
        }
        run->hand({0, std::move(call)});
        return 1;
    });
}

void fs_lead(fs_run* run, const char* piece, double x, double y, double turn)
{
    guarded(0, [&] {
        return run->hand({0, scene::TrackPlace{piece, {x, y}, std::isnan(turn) ? std::nullopt : std::optional(turn)}}),
               0;
    });
}

int fs_step(fs_run* run)
{
    return guarded(0, [&] {
        run->recorder.tick(std::exchange(run->pending, {}));
        if (!run->recorder.stopped())
            return 1;
        failure = run->recorder.run().stopReason();
        return 0;
    });
}

const char* fs_next_line(fs_run* run)
{
    return guarded<const char*>(nullptr, [&]() -> const char* {
        const auto& lines = run->record().journal.lines;
        if (run->told >= lines.size())
            return nullptr;
        run->text = io::logLine(run->record(), lines[run->told++]);
        return run->text.c_str();
    });
}

size_t fs_piece_count(const fs_run* run)
{
    return run->world().pieces().size();
}

int fs_piece_at(const fs_run* run, size_t number, fs_piece* piece)
{
    if (number >= run->world().pieces().size())
        return 0;
    const world::LivePiece& one = run->world().pieces()[number];
    const geometry::Pose& pose = run->world().pose()[number];
    *piece = {
        one.id.c_str(),    pose.at.x,         pose.at.y, pose.z, pose.turn, one.scale, one.present && one.here ? 1 : 0,
        one.shown ? 1 : 0, one.pinned ? 1 : 0};
    return 1;
}

int64_t fs_find(const fs_run* run, const char* id)
{
    return guarded<int64_t>(-1, [&]() -> int64_t {
        const world::PieceIndex found = run->world().find(id);
        return found < 0 ? -1 : found;
    });
}

const char* fs_value(fs_run* run, const char* path)
{
    return guarded<const char*>(nullptr, [&]() -> const char* {
        const auto value = run->recorder.run().valueAt(path);
        if (!value)
            return nullptr;
        run->text = std::visit([](const auto& one) { return nlohmann::json(one).dump(); }, *value);
        return run->text.c_str();
    });
}

const char* fs_take(fs_run* run, const char* scene_file)
{
    return guarded<const char*>(nullptr, [&]() -> const char* {
        scene::Take take;
        take.scene = scene_file ? scene_file : "";
        take.seed = run->seed;
        take.length = static_cast<double>(fs_tick(run)) / fs_rate(run);
        take.inputs = asOfTake(run->record().take.inputs, fs_rate(run));
        take.stops = run->recorder.stopped();
        run->text = io::takeText(take);
        return run->text.c_str();
    });
}
