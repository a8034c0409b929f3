// SPDX-License-Identifier: Apache-2.0
/// `snare reference`: the pages made from the tables; and whether those in a folder still are as
/// they would be written.
#include "check/reference.h"
#include "cli/output.h"
#include "cli/verbs.h"
#include "io/document.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>

namespace snare::cli {

int writeReference(const ReferenceWords& words)
{
    const auto pages = check::referencePages();
    const auto fileIn = [](const std::string& folder, const check::ReferencePage& page) {
        return std::filesystem::path{folder} / (std::string(page.id) + ".md");
    };
    if (!words.check.empty()) {
        int stale = 0;
        for (const check::ReferencePage& page : pages)
            if (io::loadText(fileIn(words.check, page)).value_or(std::string()) != page.text) {
                std::cerr << fileIn(words.check, page).string() << ": not as the tables are; snare reference --out "
                          << words.check << " writes it\n";
                ++stale;
            }
        fmt::print("Totals: {} passed, {} failed, 0 skipped, pages of the reference\n",
                   pages.size() - static_cast<std::size_t>(stale), stale);
        return stale == 0 ? fine : checkFailed;
    }
    if (!words.out.empty()) {
        std::error_code error;
        std::filesystem::create_directories(words.out, error); // if it fails, so does writing
        for (const check::ReferencePage& page : pages)
            if (!writeOut(fileIn(words.out, page).string(), page.text))
                return badInput;
        return fine;
    }
    for (const check::ReferencePage& page : pages) {
        if (words.page.empty())
            fmt::print("{:<12}{}\n", page.id, page.title);
        else if (page.id == words.page)
            return writeOut("-", page.text) ? fine : badInput;
    }
    if (words.page.empty())
        return fine;
    std::cerr << "snare: there is no page " << words.page << "; snare reference lists them\n";
    return badInput;
}

} // namespace snare::cli
