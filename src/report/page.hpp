#pragma once
// The report: everything about a plan on one self-contained HTML page, for a review meeting.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "report/advice_section.hpp"
#include "report/explore_section.hpp"
#include "report/order_section.hpp"
#include "report/stills_section.hpp"
#include "tables/compare_tables.hpp"
#include "walk/record.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::report {

/// The plan as it was, for a page about a change.
struct Before {
    const plan::Plan& plan;
    const std::vector<walk::Record>& records;
    std::vector<std::string> walks{}; ///< as those of `Contents`
    tables::Compared compared{};
};

/// What a page is made of.
struct Contents {
    const plan::Plan& plan;
    const std::vector<walk::Record>& records;
    std::vector<plan::Finding> checked{}; ///< what `check` found
    /// Of each walk the page shows, as `packed` makes it; as many as `walk::walks_in(records)`.
    std::vector<std::string> walks{};
    std::optional<Before> before{};       ///< unset: the page is about one plan alone
    std::vector<WalkPictures> pictures{}; ///< as many as `drawn_walks(records)`
    Orders orders{};
    std::vector<ExploredEdition> explored{};
    Advice advice{};
    std::vector<std::string> sessions{}; ///< SVG: of each session among the records
    /// SVG: what players see on all routes of a device, or of a machine.
    std::vector<std::string> storyboards{};
    std::string budget{};  ///< SVG
    std::string flow{};    ///< SVG
    std::string undrawn{}; ///< why there are no figures; empty where there are
    std::vector<std::pair<std::string, std::string>> ran{}; ///< what was run, on what: label, value
};

/// A text as the page carries data: compressed (RFC 1950) and in Base64.
std::string packed(const std::string& text);

/// The page, byte for byte the same for the same contents. Every text from the plan stands in it as
/// written, none as markup.
std::string page(const Contents& contents);

/// The parts of the page that are not computed (the files in `page/`).
std::string_view page_part(std::string_view name);

} // namespace hestrel::report
