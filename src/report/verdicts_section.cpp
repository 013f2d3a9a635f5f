#include "report/verdicts_section.hpp"

#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "report/html_table.hpp"
#include "report/replay.hpp"
#include "report/walk_words.hpp"
#include "source/xml.hpp"
#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/summary.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::report {

using source::xml_text;
using tables::short_time;

namespace {

/// "over budget, not as expected and late", or "fine".
std::string faults_text(const std::vector<walk::Record>& records, plan::DeviceId device) {
    std::vector<std::string> faults;
    for (const walk::Verdict fault : walk::faults_on(records, device))
        faults.push_back(tables::verdict_name(fault));
    if (faults.empty()) return tables::verdict_name(walk::Verdict::fine);
    const std::string last = faults.back();
    faults.pop_back();
    return faults.empty() ? last : plan::joined(faults) + " and " + last;
}

/// The level, or the cells, that a row is about.
std::string level_names(const plan::Plan& plan, const walk::LoadSummary& summary) {
    if (summary.cells.empty()) return plan.levels[summary.level].name;
    std::vector<std::string> names;
    for (const plan::LevelId cell : summary.cells) names.push_back(plan.levels[cell].name);
    return plan::joined(names);
}

} // namespace

/// "2 of 3 devices pass; handheld is over budget and late."
std::string headline_of(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const std::vector<plan::DeviceId> devices = walk::devices_of(records);
    std::string bad;
    std::size_t passes = 0;
    for (const plan::DeviceId device : devices) {
        if (walk::faults_on(records, device).empty()) {
            ++passes;
            continue;
        }
        bad += fmt::format("; {} is {}", plan.devices[device].name, faults_text(records, device));
    }
    return fmt::format("{} of {} device{} pass{}{}.", passes, devices.size(),
                       devices.size() == 1 ? "" : "s", devices.size() == 1 ? "es" : "", bad);
}

std::string verdicts_section(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::string cards;
    for (const plan::DeviceId device : walk::devices_of(records)) {
        std::vector<const walk::Record*> walked;
        for (const walk::Record* record : walk::worst_first(records)) {
            if (record->device == device) walked.push_back(record);
        }
        const walk::Record& worst = *walked.front();
        const auto fine =
            std::count_if(walked.begin(), walked.end(), [](const walk::Record* record) {
                return record->verdict == walk::Verdict::fine;
            });
        const walk::Record& fullest =
            **std::max_element(walked.begin(), walked.end(), [](const auto* one, const auto* two) {
                return one->peak < two->peak;
            });
        std::optional<plan::Micros> slack;
        for (const walk::Record* record : walked) {
            const auto least = walk::worst_slack(*record);
            if (least && (!slack || *least < *slack)) slack = least;
        }
        const std::string summary = fmt::format(
            "{} of {} fine. Peak {} of {} ({}, {}). Least slack {}.", fine,
            walked.size() == 1 ? "1 route is" : fmt::format("{} routes are", walked.size()),
            tables::short_mebibytes(fullest.peak),
            tables::short_memory(plan.devices[device].memory.total), share_of_budget(plan, fullest),
            plan.routes[fullest.route].name, slack_text(slack));
        cards +=
            fmt::format("<article class=\"card {}\">\n<h3>{}</h3>\n<p class=\"verdict\">{}</p>\n"
                        "<p>{}</p>\n</article>\n",
                        grade_of(worst.verdict), xml_text(plan.devices[device].name),
                        xml_text(faults_text(records, device)), xml_text(summary));
    }
    return "<div class=\"cards\">\n" + cards + "</div>\n";
}

std::string routes_section(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const bool frames = plan::has_frame_costs(plan);
    std::vector<HtmlTable::Column> columns{{"route"},
                                           {"device"},
                                           {"verdict"},
                                           {"boot", true},
                                           {"under veils", true},
                                           {"stalled", true},
                                           {"gaps", true},
                                           {"least slack", true},
                                           {"worst hitch", true}};
    if (frames) columns.push_back({"longest frame", true});
    columns.push_back({"peak (MiB)", true});
    columns.push_back({"of budget", true});
    HtmlTable table(std::move(columns));
    for (const walk::Record* record : walk::worst_first(records)) {
        const auto time = [&](plan::Micros at) {
            return HtmlTable::Cell{at.count == 0 ? "none" : short_time(at), sort_key(at)};
        };
        const std::optional<plan::Micros> slack = walk::worst_slack(*record);
        const std::string& route = plan.routes[record->route].name;
        std::vector<HtmlTable::Cell> row{
            {route, route, {}, replay_address(plan, *record)},
            {walk::device_text(plan, *record), walk::device_text(plan, *record)},
            {tables::verdict_name(record->verdict),
             std::to_string(static_cast<int>(record->verdict)), grade_of(record->verdict)},
            {record->boot ? short_time(*record->boot) : "never", sort_key(record->boot)},
            time(record->shares.veiled),
            time(record->shares.stalled),
            time(walk::gap_time(*record)),
            {slack_text(slack), sort_key(slack), slack && slack->count < 0 ? "bad" : ""},
            time(walk::worst_hitch(*record))};
        if (frames)
            row.emplace_back(plan::frame_time(record->longest_frame),
                             sort_key(record->longest_frame),
                             record->slow_frames.empty() ? "" : "bad");
        row.emplace_back(record->peak);
        row.emplace_back(share_of_budget(plan, *record),
                         std::to_string(static_cast<double>(record->peak.count) /
                                        static_cast<double>(std::max<std::int64_t>(
                                            1, plan.devices[record->device].memory.total.count))),
                         record->overruns.empty() ? "" : "bad");
        table.row(std::move(row));
    }
    return table.html("Routes on devices, worst first");
}

std::string loads_section(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const std::vector<plan::DeviceId> devices = walk::devices_of(records);
    std::vector<HtmlTable::Column> columns{{"transition"}, {"level"}};
    for (const plan::DeviceId device : devices) {
        const std::string& name = plan.devices[device].name;
        columns.push_back({"time", true, name});
        columns.push_back({"slack", true, name});
        columns.push_back({"peak (MiB)", true, name});
    }
    HtmlTable table(std::move(columns));
    const std::vector<walk::LoadSummary> summaries = walk::load_summaries(plan, records);
    for (const walk::LoadSummary& summary : summaries) {
        const std::string cause = tables::cause_text(plan, summary);
        const std::string level = tables::level_text(plan, summary);
        std::vector<HtmlTable::Cell> cells{cause, level};
        for (const plan::DeviceId device : devices) {
            const auto found = summary.by_device.find(device);
            if (found == summary.by_device.end()) {
                for (int i = 0; i < 3; ++i) cells.emplace_back("-", "");
                continue;
            }
            const walk::Worst& worst = found->second;
            const bool over = worst.peak > plan.devices[device].memory.total;
            cells.emplace_back(worst.longest ? short_time(*worst.longest) : "-",
                               sort_key(worst.longest));
            cells.emplace_back(slack_text(worst.slack), sort_key(worst.slack),
                               worst.slack && worst.slack->count < 0 ? "bad" : "");
            cells.push_back(HtmlTable::graded(worst.peak, over ? "bad" : ""));
        }
        table.row(std::move(cells), level_names(plan, summary));
    }
    if (summaries.empty()) return "<p>No transition loads anything.</p>\n";
    return "<p class=\"note\">The worst over all routes walked. Time is from the firing until the "
           "level is "
           "shown; slack is how long before it was needed that was, negative for a gap; a level "
           "that "
           "players wait for has none. Peak is the most memory in use until all had "
           "settled.</p>\n" +
           table.html("Loads by transition and device, least slack first");
}

} // namespace hestrel::report
