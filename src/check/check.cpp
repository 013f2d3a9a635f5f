#include "check/check.hpp"

#include "check/report.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/fold_cells.hpp"
#include "plan/owner.hpp"

#include <algorithm>

namespace hestrel::check {

namespace {

/// Leaves out what is allowed; what is allowed for nothing is added.
std::vector<plan::Finding>
without_allowed(const plan::Plan& plan, std::vector<plan::Finding> findings, bool plan_is_whole) {
    std::vector<bool> used(plan.allowed.size());
    std::erase_if(findings, [&](const plan::Finding& finding) {
        bool silenced = false;
        for (std::size_t i = 0; i < plan.allowed.size(); ++i) {
            if (!finding.about ||
                !plan::allows(plan, plan.allowed[i], finding.name, *finding.about))
                continue;
            used[i] = true;
            silenced = true;
        }
        return silenced;
    });
    for (std::size_t i = 0; i < plan.allowed.size(); ++i) {
        const plan::Allowed& allowed = plan.allowed[i];
        const plan::FindingKind* kind = plan::find_kind(allowed.finding);
        const bool known = kind != nullptr;
        const bool found_elsewhere =
            known && includes(kind->by, plan::FoundBy::walk | plan::FoundBy::explore);
        // A walk or exploring may find it; and what a broken plan hides may still be there.
        if (used[i] || found_elsewhere || (known && !plan_is_whole)) continue;
        findings.push_back({plan::Severity::warning, "allowed-for-nothing", allowed.place,
                            known ? "there is no " + allowed.finding + " here to allow"
                                  : "no finding is called " + allowed.finding,
                            allowed.thing});
    }
    return findings;
}

} // namespace

std::vector<plan::Finding> check(const plan::Plan& plan, std::span<const plan::Finding> errors) {
    const Study study(plan, errors);
    Report report;
    for (const Rule& rule : rules()) {
        // What an unread part of the plan might hold can't be missed.
        const bool can_tell = errors.empty() || rule.evidence == Evidence::presence;
        if (!can_tell) continue;
        report.set_rule(rule);
        rule.look(study, report);
    }
    std::vector<plan::Finding>& findings = report.findings();
    std::erase_if(findings, [&](const plan::Finding& finding) {
        return finding.about && !study.sound(*finding.about);
    });
    findings = without_allowed(plan, std::move(findings), errors.empty());
    plan::fold_cells(plan, findings, [](plan::Finding& each) -> plan::Finding& { return each; });
    findings.insert(findings.end(), errors.begin(), errors.end());
    std::stable_sort(findings.begin(), findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return std::move(findings);
}

} // namespace hestrel::check
