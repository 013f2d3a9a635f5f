#pragma once
// The report: everything about a plan on one self-contained HTML page, for a review meeting.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "report/advice_section.hpp"
#include "report/explore_section.hpp"
#include "report/order_section.hpp"
#include "walk/record.hpp"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::report {

/// The figures of one walk, as SVG; empty where there is none to draw.
struct WalkPictures {
    std::string loads, memory, frames, residency, map;
};

/// What a page is made of. Records and pictures go together by index.
struct Contents {
    const plan::Plan& plan;
    const std::vector<walk::Record>& records;
    std::vector<plan::Finding> checked; ///< what `check` found
    std::vector<WalkPictures> pictures; ///< as many as records
    Orders orders;
    std::vector<ExploredEdition> explored;
    Advice advice;
    std::vector<std::string> sessions; ///< SVG: of each session among the records
    std::string budget;                ///< SVG
    std::string flow;                  ///< SVG
    std::string undrawn;               ///< why there are no figures; empty where there are
    std::vector<std::pair<std::string, std::string>> ran; ///< what was run, on what: label, value
};

/// Whose a finding is: the owner of the level that it is about, or is in, or of that level's
/// parents; empty where nobody is named.
std::string owner_of(const plan::Plan& plan, const plan::Finding& finding);

/// The page, byte for byte the same for the same contents. Every text from the plan stands in it as
/// written, none as markup.
std::string page(const Contents& contents);

/// The parts of the page that are not computed (made from page.mustache, page.css and page.js).
std::string_view page_part(std::string_view name);

} // namespace hestrel::report
