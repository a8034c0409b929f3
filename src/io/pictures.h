// SPDX-License-Identifier: Apache-2.0
/// Pictures: PNG files read as pixels, and the outlines of colours in them for traced shapes.
#pragma once

#include "io/json_node.h"
#include "scene/scene.h"

#include <filesystem>
#include <map>
#include <memory>

namespace snare::io {

/// A picture with 8 bits for red, green, blue and opacity of each pixel; the first row is the upper
/// one.
struct Picture {
    int width = 0;
    int height = 0;
    std::vector<std::uint8_t> pixels; ///< four a pixel
};

/// More pixels than this are not traced.
inline constexpr std::int64_t mostPixels = 4096LL * 4096;

/// Reads a PNG of any kind. Errors: no file, no PNG, damaged, more than `mostPixels`.
tl::expected<Picture, std::string> readPicture(const std::filesystem::path& path);

/// The pixels that are nearly opaque and near one of the colours: none of red, green and blue is
/// off by more than `tolerance`, 0 to 255. Colours that are no colours find nothing.
geometry::Mask maskOf(const Picture& picture, std::span<const scene::Colour> colours, double tolerance);

/// The pictures beside a scene, read once, and what was traced in them, kept while it is asked for.
class Pictures {
  public:
    explicit Pictures(std::filesystem::path folder) : folder_(std::move(folder)) {}

    /// Works out the outlines of all traced shapes of a scene, of templates too. A picture that
    /// cannot be read gives an empty shape. Cheap when nothing changed: only pieces whose outlines
    /// are others than before are touched.
    void trace(scene::Scene& scene);

    /// The picture of this name, or null; read again when the file changed.
    std::shared_ptr<const Picture> picture(const std::string& name);

    const std::filesystem::path& folder() const { return folder_; }

    /// How many outlines were worked out so far; those that were kept are not counted again.
    std::size_t tracedCount() const { return traced_; }

  private:
    struct Held {
        std::filesystem::file_time_type time;
        std::shared_ptr<const Picture> picture;
    };
    struct Done {
        std::vector<std::string> images;
        scene::Traced recipe;
        std::vector<std::shared_ptr<const Picture>> pictures;
        std::shared_ptr<const std::vector<scene::TracedArea>> areas;
        std::uint64_t usedIn = 0; ///< the last round that asked for it
    };

    /// The outlines of a traced shape: one for each picture that the piece may look like.
    std::shared_ptr<const std::vector<scene::TracedArea>> areasOf(const scene::Scene& scene, const scene::Piece& piece,
                                                                  const scene::Traced& traced);

    std::filesystem::path folder_;
    std::map<std::string, Held> held_;
    std::vector<Done> done_; ///< newest last
    std::uint64_t round_ = 0;
    std::size_t traced_ = 0;
};

} // namespace snare::io
