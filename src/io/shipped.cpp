// SPDX-License-Identifier: Apache-2.0
#include "io/shipped.h"

namespace snare::io {

std::filesystem::path shippedFile(std::string_view name)
{
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path program = fs::read_symlink("/proc/self/exe", error);
    if (error)
        return {};
    const fs::path folder = program.parent_path();
    if (fs::path file = folder.parent_path() / "share/fresh-snare" / name; fs::is_regular_file(file, error))
        return file;
    constexpr int floors = 5; // build/release/src/app/fresh-snare lies so deep
    fs::path above = folder;
    for (int i = 0; i < floors && above.has_relative_path(); ++i, above = above.parent_path())
        if (fs::path file = above / name; fs::is_regular_file(file, error))
            return file;
    return {};
}

} // namespace snare::io
