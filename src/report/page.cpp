#include "report/page.hpp"

#include "figure/svg.hpp"
#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "report/carries_section.hpp"
#include "report/contents_section.hpp"
#include "report/html_table.hpp"
#include "report/sessions_section.hpp"
#include "source/fingerprint.hpp"
#include "source/own_mark.hpp"
#include "source/plan_reader.hpp"
#include "tables/file_names.hpp"
#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/summary.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <kainjow/mustache.hpp>
#include <map>

namespace hestrel::report {

namespace mustache = kainjow::mustache;
using mustache::data;
using tables::short_time;

namespace {

std::string share_of_budget(const plan::Plan& plan, const walk::Record& record) {
    const plan::Bytes budget = plan.devices[record.device].memory.total;
    if (budget.count == 0) return "-";
    return fmt::format("{:.0f}%", 100.0 * static_cast<double>(record.peak.count) /
                                      static_cast<double>(budget.count));
}

std::string slack_text(const std::optional<plan::Micros>& slack) {
    if (!slack) return "-";
    return (slack->count > 0 ? "+" : "") + short_time(*slack);
}

std::string sort_key(const std::optional<plan::Micros>& time) {
    return time ? std::to_string(time->count) : std::string();
}

/// What went on in one walk, in a sentence or two.
std::string summary_of(const plan::Plan& plan, const walk::Record& record) {
    std::string text = fmt::format(
        "Boot {}. Peak {} of {} ({}), at {}. Least slack {}. {}.",
        record.boot ? short_time(*record.boot) : "never ends", tables::short_mebibytes(record.peak),
        tables::short_memory(plan.devices[record.device].memory.total),
        share_of_budget(plan, record), short_time(record.peak_at),
        slack_text(walk::worst_slack(record)),
        record.gaps.empty() ? "No gaps" : "Gaps of " + short_time(walk::gap_time(record)));
    text += fmt::format(" Under veils {}, stalled {}.", short_time(record.shares.veiled),
                        short_time(record.shares.stalled));
    if (record.stuck)
        text += fmt::format(" Stuck at {}: {}.", short_time(record.stuck->since),
                            tables::stuck_text(plan, record));
    return text;
}

std::string id_of(const plan::Plan& plan, const walk::Record& record) {
    std::string id = "walk-" + tables::record_folder(plan, record);
    std::replace(id.begin(), id.end(), '/', '-');
    return id;
}

// --- tables ------------------------------------------------------------------

std::string routes_table(const plan::Plan& plan, const std::vector<walk::Record>& records) {
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
            {route, route, {}, "#" + id_of(plan, *record)},
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

std::string loads_table(const plan::Plan& plan, const std::vector<walk::Record>& records) {
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
        table.row(std::move(cells));
    }
    if (summaries.empty()) return "<p>No transition loads anything.</p>\n";
    return table.html("Loads by transition and device, least slack first");
}

std::string transitions_table(const plan::Plan& plan, const walk::Record& record) {
    HtmlTable table({{"number", true},
                     {"fired at", true},
                     {"transition"},
                     {"levels"},
                     {"settled after", true},
                     {"least slack", true},
                     {"stall", true},
                     {"peak (MiB)", true},
                     {"old and new (MiB)", true}});
    struct OfTransition {
        std::string levels;
        std::optional<plan::Micros> slack;
    };
    std::vector<OfTransition> of(record.transitions.size());
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        OfTransition& each = of[outcome.transition - 1];
        each.levels += (each.levels.empty() ? "" : ", ") + plan.levels[outcome.level].name;
        if (outcome.slack && !outcome.held && (!each.slack || *outcome.slack < *each.slack))
            each.slack = outcome.slack;
    }
    const plan::Bytes budget = plan.devices[record.device].memory.total;
    std::size_t quiet = 0;
    for (const walk::Transition& transition : record.transitions) {
        if (transition.elsewhere) continue;
        const walk::TransitionOutcome& whole = record.transition_outcomes[transition.number - 1];
        const OfTransition& each = of[transition.number - 1];
        const plan::Micros took = whole.settled - transition.fired;
        if (each.levels.empty() && took.count == 0) {
            ++quiet;
            continue;
        }
        const std::string cause = tables::cause_text(plan, transition);
        table.row(
            {{std::to_string(transition.number), std::to_string(transition.number)},
             transition.fired,
             cause,
             {each.levels, each.levels},
             took,
             {slack_text(each.slack), sort_key(each.slack),
              each.slack && each.slack->count < 0 ? "bad" : ""},
             {whole.stall.count == 0 ? "none" : short_time(whole.stall), sort_key(whole.stall)},
             HtmlTable::graded(whole.peak, whole.peak > budget ? "bad" : ""),
             whole.overlap});
    }
    std::string text = table.html("Transitions of this walk, in order");
    if (quiet > 0)
        text +=
            fmt::format("<p class=\"note\">{} more took no time and loaded nothing.</p>\n", quiet);
    return text;
}

std::string peak_table(const plan::Plan& plan, const walk::Record& record) {
    constexpr std::size_t most_rows = 12;
    HtmlTable table({{"held by"}, {"MiB", true}});
    plan::Bytes rest;
    for (std::size_t i = 0; i < record.at_peak.size(); ++i) {
        const loading::Holding& holding = record.at_peak[i];
        if (i >= most_rows) {
            rest += holding.size;
            continue;
        }
        const std::string name = tables::holder_name(plan, holding);
        table.row({name, holding.size});
    }
    if (rest.count > 0)
        table.row({{fmt::format("{} others", record.at_peak.size() - most_rows), "~"}, rest});
    return table.html(fmt::format("Held at the peak, {}", short_time(record.peak_at)));
}

// --- the parts ---------------------------------------------------------------

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

mustache::data devices_of(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    data list{data::type::list};
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
        data each;
        each.set("name", plan.devices[device].name);
        each.set("grade", std::string(grade_of(worst.verdict)));
        each.set("verdict", faults_text(records, device));
        each.set("summary",
                 fmt::format("{} of {} routes are fine. Peak {} of {} ({}, {}). Least slack {}.",
                             fine, walked.size(), tables::short_mebibytes(fullest.peak),
                             tables::short_memory(plan.devices[device].memory.total),
                             share_of_budget(plan, fullest), plan.routes[fullest.route].name,
                             slack_text(slack)));
        list.push_back(each);
    }
    return list;
}

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

data walks_of(const Contents& contents) {
    data list{data::type::list};
    std::vector<std::size_t> order;
    for (const walk::Record* record : walk::worst_first(contents.records))
        order.push_back(static_cast<std::size_t>(record - contents.records.data()));
    for (const std::size_t i : order) {
        const walk::Record& record = contents.records[i];
        const std::string prefix = fmt::format("w{}", i);
        const WalkPictures& pictures = contents.pictures[i];
        data each;
        each.set("id", id_of(contents.plan, record));
        each.set("device", walk::device_text(contents.plan, record));
        each.set("route", contents.plan.routes[record.route].name);
        each.set("grade", std::string(grade_of(record.verdict)));
        each.set("verdict", tables::verdict_name(record.verdict));
        each.set("summary", summary_of(contents.plan, record));
        each.set("figures", figure::figure_html(pictures.loads, prefix + "l") +
                                figure::figure_html(pictures.memory, prefix + "m") +
                                (pictures.frames.empty()
                                     ? std::string()
                                     : figure::figure_html(pictures.frames, prefix + "f")) +
                                figure::figure_html(pictures.map, prefix + "p") +
                                figure::figure_html(pictures.residency, prefix + "r"));
        each.set("transitions", transitions_table(contents.plan, record));
        each.set("peak", peak_table(contents.plan, record));
        list.push_back(each);
    }
    return list;
}

/// What walks are on, each once, in the order of the records.
data roles_of(const Contents& contents) {
    data list{data::type::list};
    std::vector<std::string> named;
    for (const walk::Record& record : contents.records) {
        std::string role = walk::device_text(contents.plan, record);
        if (plan::contains(named, role)) continue;
        list.push_back(data(role));
        named.push_back(std::move(role));
    }
    return list;
}

data route_names(const Contents& contents) {
    data list{data::type::list};
    std::vector<plan::RouteId> named;
    for (const walk::Record& record : contents.records) {
        if (std::find(named.begin(), named.end(), record.route) != named.end()) continue;
        named.push_back(record.route);
        list.push_back(data(contents.plan.routes[record.route].name));
    }
    return list;
}

/// Things by whose they are, in order of name; nobody's last.
class ByOwner {
public:
    void add(const std::string& owner, const data& thing) {
        lists_.try_emplace(owner, data::type::list).first->second.push_back(thing);
    }
    [[nodiscard]] data all() const {
        data list(data::type::list);
        const auto put = [&](const std::string& name, const data& things) {
            data owner;
            owner.set("owner", name);
            owner.set("things", things);
            list.push_back(owner);
        };
        for (const auto& [owner, things] : lists_) {
            if (!owner.empty()) put(owner, things);
        }
        if (const auto nobody = lists_.find(""); nobody != lists_.end())
            put("nobody named", nobody->second);
        return list;
    }

private:
    std::map<std::string, data> lists_;
};

data owners_of(const Contents& contents) {
    std::vector<walk::Told> told;
    for (const plan::Finding& finding : contents.checked) told.push_back({&finding});
    for (const walk::Told& each : walk::told_findings(contents.records)) told.push_back(each);
    std::stable_sort(told.begin(), told.end(), [](const walk::Told& one, const walk::Told& other) {
        return one.finding->severity < other.finding->severity;
    });
    ByOwner by_owner;
    for (const walk::Told& each : told) {
        const plan::Finding& finding = *each.finding;
        data one;
        one.set("severity", std::string(plan::severity_name(finding.severity)));
        one.set("name", finding.name);
        one.set("place", plan::place_text(contents.plan, finding.place));
        one.set("message", finding.message);
        one.set("times", tables::times_more(each.times));
        by_owner.add(owner_of(contents.plan, finding), one);
    }
    return by_owner.all();
}

/// What is still to be done.
data todos_of(const plan::Plan& plan) {
    ByOwner by_owner;
    for (const plan::Todo& each : plan.todos) {
        data thing;
        thing.set("about", plan::thing_name(plan, each.thing));
        thing.set("text", each.text);
        thing.set("place", plan::place_text(plan, each.place));
        by_owner.add(plan::owner_name(plan, each.thing), thing);
    }
    return by_owner.all();
}

} // namespace

std::string owner_of(const plan::Plan& plan, const plan::Finding& finding) {
    return finding.about ? plan::owner_name(plan, *finding.about) : std::string();
}

std::string page(const Contents& contents) {
    walk::Verdict worst = walk::Verdict::fine;
    for (const walk::Record& record : contents.records) worst = std::max(worst, record.verdict);
    data whole;
    whole.set("name", contents.plan.name);
    // A browser runs and applies what has these hashes, and nothing else that a page may hold.
    for (const std::string part : {"css", "js"}) {
        const std::string text = "\n" + std::string(page_part("page." + part));
        whole.set(part, text);
        whole.set(part + "_hash", source::sha256_base64(text));
    }
    whole.set("own_mark", std::string(source::own_mark));
    whole.set("grade", std::string(grade_of(worst)));
    whole.set("headline", headline_of(contents.plan, contents.records));
    whole.set("devices", devices_of(contents.plan, contents.records));
    whole.set("routes", routes_table(contents.plan, contents.records));
    whole.set("loads", loads_table(contents.plan, contents.records));
    const bool drawn = !contents.budget.empty() || !contents.flow.empty();
    if (drawn) {
        whole.set("has_figures", true);
        whole.set("whole", figure::figure_html(contents.budget, "budget") +
                               figure::figure_html(contents.flow, "flow", " class=\"wide\""));
    }
    if (!contents.undrawn.empty())
        whole.set("undrawn", (drawn ? "Some figures are missing: " : "There are no figures: ") +
                                 contents.undrawn);
    whole.set("route_names", route_names(contents));
    whole.set("roles", roles_of(contents));
    whole.set("walks", walks_of(contents));
    const std::string sessions =
        sessions_section(contents.plan, contents.records, contents.sessions);
    whole.set("sessions", sessions);
    whole.set("has_sessions", !sessions.empty());
    whole.set("order", order_section(contents.plan, contents.records, contents.orders));
    const std::string advice = advice_section(contents.plan, contents.advice);
    whole.set("advice", advice);
    whole.set("has_advice", !advice.empty());
    whole.set("explored", explore_section(contents.explored));
    whole.set("has_explored", !contents.explored.empty());
    const std::string carries = carries_section(contents.plan, contents.records, contents.explored);
    whole.set("carries", carries);
    whole.set("has_carries", !carries.empty());
    const std::string levels = contents_section(contents.plan);
    whole.set("contents", levels);
    whole.set("has_contents", !levels.empty());
    whole.set("has_order", !contents.orders.editions.empty());
    whole.set("owners", owners_of(contents));
    whole.set("has_todos", !contents.plan.todos.empty());
    whole.set("todos", todos_of(contents.plan));
    data ran{data::type::list};
    for (const auto& [label, value] : contents.ran) {
        data each;
        each.set("label", label);
        each.set("value", value);
        ran.push_back(each);
    }
    whole.set("ran", ran);
    mustache::mustache shape{std::string(page_part("page.mustache"))};
    return shape.render(whole);
}

} // namespace hestrel::report
