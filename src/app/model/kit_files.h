// SPDX-License-Identifier: Apache-2.0
/// The kit files of a document: what they held when they were read or written last, and which kits
/// of a scene are not as their files any more.
///
/// Every kit of a scene says which reading of its file it comes from. When another program changes
/// a file, its reading goes up: states from before show the kit as it is now. What is changed and
/// saved here leaves the reading as it is, so that it can be undone.
#pragma once

#include "app/model/file_states.h"
#include "io/document.h"

#include <map>

namespace snare::app {

class KitFiles {
  public:
    /// The kits of another scene, just read from its folder.
    void begin(const std::filesystem::path& folder, const scene::Scene& scene);
    /// The same kits beside a scene elsewhere.
    void setFolder(const std::filesystem::path& folder) { folder_ = folder; }

    /// The kits of a scene as it has them; those of an older reading, and new ones, from their
    /// files.
    io::KitFinder finderFor(const scene::Scene& scene);
    /// A kit of a scene is of an older reading, or it names others than it has.
    bool isStale(const scene::Scene& scene) const;
    /// The kits that are not as their files, or have none.
    std::vector<std::string> edited(const scene::Scene& scene) const;

    /// What has become of the files.
    struct News {
        bool changed = false;          ///< a kit is to be read anew
        std::vector<std::string> both; ///< changed by another program, and here: the scene's stays
    };
    News lookAgain(const scene::Scene& scene);

    /// Whether writing would replace what another program wrote.
    bool isForeign(const std::filesystem::path& file) const;
    void wasWritten(const std::string& name, const scene::Kit& kit);

  private:
    struct Known {
        int reading = 0;
        bool isThere = false; ///< the file was read or written
        std::string problem;
        scene::Kit kit;
    };

    void know(const std::string& name, const scene::LoadedKit& loaded);
    int readingOf(const std::string& name) const;
    QString pathOf(const std::string& name) const;

    std::filesystem::path folder_;
    std::map<std::string, Known> known_;
    FileStates files_;
};

} // namespace snare::app
