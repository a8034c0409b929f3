// SPDX-License-Identifier: Apache-2.0
/// Feeds each file of a folder to a fuzz target, without libFuzzer: what was found once is tried in
/// every build.
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <vector>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size);

int main(int argc, char** argv)
{
    int files = 0;
    for (int i = 1; i < argc; ++i) {
        std::vector<std::filesystem::path> all;
        for (const auto& entry : std::filesystem::directory_iterator(argv[i])) // NOLINT: argv
            all.push_back(entry.path());
        std::ranges::sort(all);
        for (const std::filesystem::path& path : all) {
            std::ifstream file{path, std::ios::binary};
            const std::vector<char> bytes{std::istreambuf_iterator<char>(file), {}};
            std::fprintf(stderr, "%s\n", path.filename().c_str()); // the last one is to blame
            LLVMFuzzerTestOneInput(reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size()); // NOLINT
            ++files;
        }
    }
    std::printf("Totals: %d passed, %d failed\n", files, files == 0 ? 1 : 0);
    return files == 0 ? 1 : 0;
}
