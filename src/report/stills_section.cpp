#include "report/stills_section.hpp"

#include "figure/svg.hpp"
#include "report/html_table.hpp"
#include "report/transition_rows.hpp"
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
    const plan::Bytes budget = plan.devices[record.device].memory.total;
    std::size_t quiet = 0;
    for (const TransitionRow& each : transition_rows(plan, record)) {
        if (each.is_quiet()) {
            ++quiet;
            continue;
        }
        const walk::TransitionOutcome& whole = *each.outcome;
        const std::string number = std::to_string(each.transition->number);
        table.row(
            {{number, number},
             each.transition->fired,
             each.cause,
             {each.levels, each.levels},
             each.took(),
             {slack_text(each.slack), sort_key(each.slack),
              each.slack && each.slack->count < 0 ? "bad" : ""},
             {whole.stall.count == 0 ? "none" : short_time(whole.stall), sort_key(whole.stall)},
             HtmlTable::graded(whole.peak, whole.peak > budget ? "bad" : ""),
             whole.overlap},
            each.levels);
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

std::string figures_of(const WalkPictures& pictures, const std::string& prefix) {
    return figure::figure_html(pictures.loads, prefix + "l") +
           figure::figure_html(pictures.memory, prefix + "m") +
           figure::figure_html(pictures.frames, prefix + "f") +
           figure::figure_html(pictures.map, prefix + "p") +
           figure::figure_html(pictures.residency, prefix + "r");
}

} // namespace

std::vector<std::size_t> drawn_walks(const std::vector<walk::Record>& records) {
    const std::vector<const walk::Record*> sorted = walk::worst_first(records);
    std::vector<std::size_t> drawn;
    for (const plan::DeviceId device : walk::devices_of(records)) {
        const auto worst = std::find_if(sorted.begin(), sorted.end(), [&](const auto* record) {
            return record->device == device;
        });
        drawn.push_back(static_cast<std::size_t>(*worst - records.data()));
    }
    return drawn;
}

std::string stills_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                           const std::vector<WalkPictures>& pictures) {
    std::string text;
    const std::vector<std::size_t> drawn = drawn_walks(records);
    for (std::size_t i = 0; i < drawn.size(); ++i) {
        const walk::Record& record = records[drawn[i]];
        text += fmt::format(
            "<article class=\"walk\">\n<h3>{} on {}: <span class=\"{}\">{}</span></h3>\n"
            "<p>{}</p>\n",
            xml_text(plan.routes[record.route].name), xml_text(walk::device_text(plan, record)),
            grade_of(record.verdict), xml_text(tables::verdict_name(record.verdict)),
            xml_text(summary_of(plan, record)));
        text += figures_of(pictures[i], fmt::format("w{}", i));
        text += "<h4>Transitions</h4>\n" + transitions_table(plan, record);
        text +=
            "<h4>What holds most at the peak</h4>\n" + peak_table(plan, record) + "</article>\n";
    }
    return text;
}

} // namespace hestrel::report
