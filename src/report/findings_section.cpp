#include "report/findings_section.hpp"

#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "report/replay.hpp"
#include "source/xml.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace hestrel::report {

using source::xml_text;

namespace {

/// A finding, and the walks on which it is met.
struct Met {
    const plan::Finding* finding = nullptr; ///< the first of them
    struct Where {
        const walk::Record* record = nullptr;
        std::optional<plan::Micros> from;
    };
    std::vector<Where> where; ///< empty: it is in the plan
};

std::vector<Met> all_met(const std::vector<plan::Finding>& checked,
                         const std::vector<walk::Record>& records) {
    std::vector<Met> all;
    for (const plan::Finding& finding : checked) all.push_back({&finding, {}});
    std::map<std::pair<plan::Place, std::string>, std::size_t> known;
    for (const walk::Record& record : records) {
        for (const plan::Finding& finding : record.findings) {
            const auto [at, fresh] = known.try_emplace({finding.place, finding.name}, all.size());
            if (fresh) all.push_back({&finding, {}});
            std::vector<Met::Where>& where = all[at->second].where; // of several budgets once
            const bool again = !where.empty() && where.back().record == &record &&
                               where.back().from == finding.from;
            if (!again) where.push_back({&record, finding.from});
        }
    }
    return all;
}

/// Those of one name.
struct Kind {
    std::string name;
    plan::Severity worst = plan::Severity::note;
    std::vector<Met> all; ///< the worst first
};

/// The worst kinds first, each in the order in which it was met.
std::vector<Kind> kinds_of(std::vector<Met> met) {
    std::vector<Kind> kinds;
    std::map<std::string, std::size_t> known;
    for (Met& each : met) {
        const auto [at, fresh] = known.try_emplace(each.finding->name, kinds.size());
        if (fresh) kinds.push_back({each.finding->name, plan::Severity::note, {}});
        Kind& kind = kinds[at->second];
        kind.worst = std::min(kind.worst, each.finding->severity);
        kind.all.push_back(std::move(each));
    }
    std::stable_sort(kinds.begin(), kinds.end(),
                     [](const Kind& one, const Kind& other) { return one.worst < other.worst; });
    for (Kind& kind : kinds)
        std::stable_sort(kind.all.begin(), kind.all.end(), [](const Met& one, const Met& other) {
            return one.finding->severity < other.finding->severity;
        });
    return kinds;
}

/// The walks on which it is met, each a way to its moment there.
std::string walks_of(const plan::Plan& plan, const Met& met) {
    std::string text;
    for (const Met::Where& where : met.where) {
        const std::string name =
            plan.routes[where.record->route].name + " on " + walk::device_text(plan, *where.record);
        text +=
            fmt::format("<a href=\"{}\">{}{}</a> ",
                        xml_text(replay_address(plan, *where.record, where.from)), xml_text(name),
                        where.from ? fmt::format(" at {:.2f} s", plan::in_seconds(*where.from))
                                   : std::string());
    }
    return text.empty() ? text : "<span class=\"where\">" + text + "</span>";
}

/// By what the page filters it.
std::string filtered_by(const std::string& owner, plan::LevelId level, const plan::Plan& plan) {
    return fmt::format(" data-owner=\"{}\" data-levels=\"{}\"", xml_text(owner),
                       level ? xml_text(plan.levels[level].name) : std::string());
}

plan::LevelId level_of(const plan::Plan& plan, const plan::Finding& finding) {
    if (finding.level || !finding.about) return finding.level;
    return plan::level_of(plan, *finding.about);
}

std::string item(const plan::Plan& plan, const Met& met) {
    const plan::Finding& finding = *met.finding;
    const std::string owner = owner_of(plan, finding);
    const std::string severity(plan::severity_name(finding.severity));
    return fmt::format(
        "<li{}><span class=\"severity {}\">{}</span> {} <span class=\"place\">{}{}</span>{}</li>\n",
        filtered_by(owner, level_of(plan, finding), plan), severity, severity,
        xml_text(finding.message), xml_text(plan::place_text(plan, finding.place)),
        owner.empty() ? owner : xml_text(", " + owner), walks_of(plan, met));
}

} // namespace

std::string owner_of(const plan::Plan& plan, const plan::Finding& finding) {
    return finding.about ? plan::owner_name(plan, *finding.about) : std::string();
}

std::string findings_section(const plan::Plan& plan, const std::vector<plan::Finding>& checked,
                             const std::vector<walk::Record>& records) {
    std::string text;
    for (const Kind& kind : kinds_of(all_met(checked, records))) {
        text += fmt::format("<div class=\"kind\"><h3>{} <span class=\"number\">{}</span></h3>\n"
                            "<ul class=\"findings\">\n",
                            xml_text(kind.name), kind.all.size());
        for (const Met& met : kind.all) text += item(plan, met);
        text += "</ul></div>\n";
    }
    return text.empty() ? "<p>Nothing found.</p>\n" : text;
}

std::string todos_section(const plan::Plan& plan) {
    std::map<std::string, std::string> by_owner; // nobody's last
    for (const plan::Todo& each : plan.todos) {
        const std::string owner = plan::owner_name(plan, each.thing);
        by_owner[owner] +=
            fmt::format("<li{}>{}: {} <span class=\"place\">{}</span></li>\n",
                        filtered_by(owner, plan::level_of(plan, each.thing), plan),
                        xml_text(plan::thing_name(plan, each.thing)), xml_text(each.text),
                        xml_text(plan::place_text(plan, each.place)));
    }
    std::string text;
    const auto add = [&](const std::string& owner, const std::string& items) {
        text +=
            fmt::format("<div class=\"kind\"><h3>{}</h3>\n<ul class=\"todos\">\n{}</ul></div>\n",
                        xml_text(owner), items);
    };
    for (const auto& [owner, items] : by_owner) {
        if (!owner.empty()) add(owner, items);
    }
    if (const auto nobodys = by_owner.find(""); nobodys != by_owner.end())
        add("nobody named", nobodys->second);
    return text;
}

} // namespace hestrel::report
