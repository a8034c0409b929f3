// SPDX-License-Identifier: Apache-2.0
#include "io/pictures.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cstdio>
#include <png.h>

namespace snare::io {

namespace {

struct Rgb {
    int red;
    int green;
    int blue;
};

std::optional<Rgb> rgbOf(const scene::Colour& colour)
{
    unsigned value = 0;
    if (colour.code.size() != 7 || colour.code.front() != '#')
        return std::nullopt;
    const char* end = colour.code.data() + 7;
    const auto [stop, error] = std::from_chars(colour.code.data() + 1, end, value, 16);
    if (error != std::errc{} || stop != end)
        return std::nullopt;
    return Rgb{static_cast<int>(value >> 16), static_cast<int>(value >> 8 & 255), static_cast<int>(value & 255)};
}

/// A traced shape may not have more corners than this: it would take too long to cut up.
constexpr std::size_t mostTracedCorners = 2'000;

/// Whether the outline has so many steps that it is noise: it is not even followed.
bool isNoise(const geometry::Mask& mask)
{
    constexpr int mostSteps = 40'000;
    int steps = 0;
    const auto width = static_cast<std::size_t>(mask.width);
    for (std::size_t i = 1; i < mask.inside.size() && steps <= mostSteps; ++i)
        steps += (mask.inside[i] != mask.inside[i - 1] && i % width != 0 ? 1 : 0) +
                 (i >= width && mask.inside[i] != mask.inside[i - width] ? 1 : 0);
    return steps > mostSteps;
}

/// The area of one picture, in metres, y upwards, the picture's middle at the origin.
scene::TracedArea areaIn(const Picture& picture, const scene::Traced& recipe)
{
    scene::TracedArea area;
    area.found = true;
    const geometry::Mask mask = maskOf(picture, recipe.colour.items, recipe.tolerance);
    if (isNoise(mask))
        return area;
    area.rings = geometry::ringsOf(mask);
    std::size_t corners = 0;
    for (const geometry::Ring& ring : area.rings)
        corners += ring.size();
    if (corners > mostTracedCorners) {
        area.rings.clear();
        return area;
    }
    const geometry::Vec metres{recipe.size.x / picture.width, recipe.size.y / picture.height};
    for (geometry::Ring& ring : area.rings)
        for (geometry::Vec& point : ring)
            point *= metres;
    area.parts = geometry::partsOfRings(area.rings);
    return area;
}

} // namespace

tl::expected<Picture, std::string> readPicture(const std::filesystem::path& path)
{
    std::error_code error;
    if (!std::filesystem::is_regular_file(path, error))
        return tl::unexpected(fmt::format("there is no picture {}", path.string()));
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    if (!png_image_begin_read_from_file(&image, path.c_str()))
        return tl::unexpected(fmt::format("{}: {}", path.string(), static_cast<const char*>(image.message)));
    if (static_cast<std::int64_t>(image.width) * image.height > mostPixels) {
        png_image_free(&image);
        return tl::unexpected(
            fmt::format("{}: {} by {} pixels are too many", path.string(), image.width, image.height));
    }
    image.format = PNG_FORMAT_RGBA;
    Picture picture{static_cast<int>(image.width), static_cast<int>(image.height), {}};
    picture.pixels.resize(static_cast<std::size_t>(image.width) * image.height * 4);
    if (!png_image_finish_read(&image, nullptr, picture.pixels.data(), 0, nullptr))
        return tl::unexpected(fmt::format("{}: {}", path.string(), static_cast<const char*>(image.message)));
    return picture;
}

geometry::Mask maskOf(const Picture& picture, std::span<const scene::Colour> colours, double tolerance)
{
    std::vector<Rgb> wanted;
    for (const scene::Colour& colour : colours)
        if (const auto rgb = rgbOf(colour))
            wanted.push_back(*rgb);
    geometry::Mask mask{picture.width, picture.height, {}};
    mask.inside.resize(picture.pixels.size() / 4);
    for (std::size_t i = 0; i < mask.inside.size(); ++i) {
        const std::uint8_t* pixel = &picture.pixels[i * 4];
        if (pixel[3] < 128)
            continue;
        mask.inside[i] = std::ranges::any_of(wanted, [&](const Rgb& rgb) {
            return std::abs(pixel[0] - rgb.red) <= tolerance && std::abs(pixel[1] - rgb.green) <= tolerance &&
                   std::abs(pixel[2] - rgb.blue) <= tolerance;
        });
    }
    return mask;
}

std::shared_ptr<const Picture> Pictures::picture(const std::string& name)
{
    if (name.empty())
        return nullptr;
    const std::filesystem::path path = folder_ / name;
    std::error_code error;
    const auto time = std::filesystem::last_write_time(path, error);
    if (error) {
        held_.erase(name);
        return nullptr;
    }
    const auto found = held_.find(name);
    if (found != held_.end() && found->second.time == time)
        return found->second.picture;
    auto read = readPicture(path);
    std::shared_ptr<const Picture> picture;
    if (read)
        picture = std::make_shared<const Picture>(std::move(*read));
    held_[name] = {time, picture};
    return picture;
}

void Pictures::trace(scene::Scene& scene)
{
    ++round_;
    const auto all = [&](const scene::Piece& piece, const auto& toChange) {
        for (std::size_t i = 0; i < piece.shapes.size(); ++i)
            if (const auto* traced = std::get_if<scene::Traced>(&piece.shapes[i].geometry))
                if (auto areas = areasOf(scene, piece, *traced); areas != traced->tracing.areas)
                    std::get<scene::Traced>(toChange().shapes[i].geometry).tracing.areas = std::move(areas);
    };
    auto& templates = scene.templates.entries;
    for (std::size_t i = 0; i < templates.size(); ++i)
        all(std::as_const(templates)[i].second.model, [&]() -> scene::Piece& { return templates[i].second.model; });
    for (std::size_t i = 0; i < scene.pieces.size(); ++i)
        all(std::as_const(scene.pieces)[i], [&]() -> scene::Piece& { return scene.pieces[i]; });
}

std::shared_ptr<const std::vector<scene::TracedArea>>
Pictures::areasOf(const scene::Scene& scene, const scene::Piece& piece, const scene::Traced& traced)
{
    std::vector<std::string> images;
    const auto add = [&](const std::string& image) {
        if (!image.empty() && std::ranges::find(images, image) == images.end())
            images.push_back(image);
    };
    if (!traced.image.empty()) {
        add(traced.image);
    } else { // whatever the piece may come to look like
        add(piece.look.image);
        for (const auto& entry : piece.looks.entries)
            add(entry.second.image);
        for (const scene::Snare& snare : scene.snares)
            for (const scene::Response& response : snare.responses)
                if (const auto* change = std::get_if<scene::ChangeLook>(&response.kind))
                    if (const auto* look = std::get_if<scene::Look>(&change->to.held))
                        add(look->image);
    }
    std::vector<std::shared_ptr<const Picture>> pictures;
    pictures.reserve(images.size());
    for (const std::string& image : images)
        pictures.push_back(picture(image));
    for (Done& done : done_)
        if (done.recipe == traced && done.images == images && done.pictures == pictures) {
            done.usedIn = round_;
            return done.areas;
        }
    auto areas = std::make_shared<std::vector<scene::TracedArea>>();
    for (std::size_t i = 0; i < images.size(); ++i) {
        scene::TracedArea area;
        if (pictures[i])
            area = areaIn(*pictures[i], traced);
        area.image = images[i];
        areas->push_back(std::move(area));
    }
    // What the scene still has stays, however much that is; of the rest the newest.
    constexpr std::size_t mostKept = 64;
    const auto old = [&](const Done& done) { return done.usedIn != round_; };
    if (done_.size() >= mostKept)
        if (const auto oldest = std::ranges::find_if(done_, old); oldest != done_.end())
            done_.erase(oldest);
    done_.push_back({std::move(images), traced, std::move(pictures), areas, round_});
    ++traced_;
    return areas;
}

} // namespace snare::io
