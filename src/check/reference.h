// SPDX-License-Identifier: Apache-2.0
/// The reference: every event, filter, gate, response, value, field and finding, told from the
/// tables that the program itself is made of.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace snare::check {

/// One page, as Markdown. Its headings of the second level are what it tells about: `## enter`.
struct ReferencePage {
    std::string_view id; ///< the file's name without its ending
    std::string_view title;
    std::string text;
};

/// All pages, in the order in which they are listed.
std::vector<ReferencePage> referencePages();

} // namespace snare::check
