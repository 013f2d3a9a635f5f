#pragma once
// What differs between two plans, as tables, JSON and Markdown.

#include "compare/difference.hpp"
#include "source/plan_content.hpp"
#include "tables/table.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// Two plans and what differs.
struct Compared {
    std::string before; ///< what they are called
    std::string after;
    std::vector<source::PlanChange> plan;
    compare::Differences differences;
};

/// A figure that differs, in words.
struct ChangeWords {
    std::string measure;
    std::string of;    ///< the load, pool or transition; empty: the whole walk
    std::string route; ///< or edition; "first-round, +2" where three routes differ alike
    std::string device;
    std::string before, after;
    std::string by; ///< with its sign; empty where one of them has none
};
/// What differs in one way, the same of several routes in one row, which has the most changed.
std::vector<ChangeWords> change_words(const compare::Differences& differences,
                                      compare::Change change);
/// Their columns, the first called `title`.
Columns<ChangeWords> change_columns(std::string title);
/// Columns of facts that carry otherwise, the first called `title`.
Columns<compare::CarryChange> carry_change_columns(std::string title);
/// Columns of what leads elsewhere now, the first called `title`.
Columns<compare::LeadChange> lead_columns(std::string title);

/// What a walk came to; "not walked" where that plan has no such walk.
std::string verdict_said(const std::string& verdict);

/// "stood-in-gap of level lamp-room (hurried-round, handheld)".
std::string noticed_text(const compare::Noticed& noticed);

/// `change,kind,measure,of,route,device,before,after`, times in seconds and memory in MiB:
/// verdicts, findings, figures; and the plan's own changes.
std::string differences_csv(const Compared& compared);
std::string differences_json(const Compared& compared);
/// For a pull request: no more than `most` rows in each table.
std::string differences_markdown(const Compared& compared, std::size_t most);

} // namespace hestrel::tables
