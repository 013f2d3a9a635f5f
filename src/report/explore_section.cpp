#include "report/explore_section.hpp"

#include "figure/svg.hpp"
#include "plan/names.hpp"
#include "plan/texts.hpp"
#include "report/html_table.hpp"
#include "source/plan_reader.hpp"
#include "source/xml.hpp"
#include "tables/explore_tables.hpp"

#include <fmt/format.h>

namespace hestrel::report {

using explore::Explorer;
using explore::WorstUse;
using source::xml_text;

namespace {

std::string worst_table(const explore::Explored& explored) {
    const Explorer& explorer = *explored.explorer;
    const plan::Plan& plan = explorer.plan();
    HtmlTable table({{"device"},
                     {"budget"},
                     {"MiB", true},
                     {"MiB used", true, "settled"},
                     {"moves there", true, "settled"},
                     {"MiB used", true, "during a move"},
                     {"moves there", true, "during a move"}});
    for (const explore::BudgetUse& use : explore::budget_uses(explored.worst)) {
        const std::string device = plan.devices[explorer.options().devices[use.device]].name;
        const std::string budget = use.pool ? plan.pools[use.pool] : "total";
        std::vector<HtmlTable::Cell> row{device, budget, use.budget};
        for (const WorstUse* worst : {use.settled, use.during}) {
            if (worst == nullptr) {
                row.insert(row.end(), 2, {});
                continue;
            }
            const std::string moves = std::to_string(worst->way.size() - 1);
            row.push_back(
                HtmlTable::graded(worst->used, worst->used > worst->budget ? "bad" : "good"));
            row.emplace_back(moves);
        }
        table.row(std::move(row));
    }
    return table.html("The most memory of edition " + explore::edition_name(explorer) +
                      " in any situation and during any move");
}

/// The longest frames; nothing where nothing costs time.
std::string frames_table(const explore::Explored& explored) {
    if (explored.frames.empty()) return {};
    const Explorer& explorer = *explored.explorer;
    const plan::Plan& plan = explorer.plan();
    HtmlTable table({{"device"},
                     {"when"},
                     {"work of a frame", true},
                     {"may be", true},
                     {"moves there", true},
                     {"what costs most"}});
    const auto of_frame = [](plan::Micros work) {
        return HtmlTable::Cell{plan::frame_time(work), std::to_string(work.count)};
    };
    for (const explore::WorstFrame& each : explored.frames) {
        const plan::DeviceId device = explorer.options().devices[each.device];
        table.row({plan.devices[device].name,
                   std::string(each.during ? "during a move" : "settled"),
                   HtmlTable::graded(of_frame(each.work), each.work > each.most ? "bad" : "good"),
                   of_frame(each.most), each.way.size() - 1,
                   plan::frame_text(plan, device, each.work, each.levels)});
    }
    return "<h4>The longest frames</h4>\n" +
           table.html("The longest frames of edition " + explore::edition_name(explorer));
}

std::string findings_table(const explore::Explored& explored) {
    const Explorer& explorer = *explored.explorer;
    HtmlTable table(
        {{"finding"}, {"severity"}, {"what"}, {"moves", true}, {"the shortest way"}, {"place"}});
    for (const explore::Found& found : explored.found) {
        const bool error = plan::is_error(found.finding);
        const std::string place = plan::place_text(explorer.plan(), found.finding.place);
        const std::string way = found.way ? tables::way_text(explorer, *found.way) : "";
        const std::string moves = found.way ? std::to_string(found.way->size() - 1) : "";
        table.row(
            {{found.finding.name, found.finding.name},
             {error ? "error" : "warning", error ? "error" : "warning", error ? "bad" : "warn"},
             {found.finding.message, found.finding.message},
             moves,
             way,
             place});
    }
    return table.html("What can go wrong in edition " + explore::edition_name(explorer));
}

} // namespace

std::string explore_section(const std::vector<ExploredEdition>& editions) {
    std::string text;
    for (std::size_t i = 0; i < editions.size(); ++i) {
        const explore::Explored& explored = editions[i].explored;
        text += fmt::format("<h3>Edition {}</h3>\n<p class=\"lines\">{}</p>\n",
                            xml_text(explore::edition_name(*explored.explorer)),
                            xml_text(tables::looked_at_text(*explored.explorer)));
        text += "<h4>The most memory</h4>\n" + worst_table(explored) + frames_table(explored);
        text += "<h4>What can go wrong</h4>\n";
        text += explored.found.empty() ? "<p>Nothing found.</p>\n" : findings_table(explored);
        text += figure::figure_html(editions[i].heat, fmt::format("heat{}", i)) +
                figure::figure_html(editions[i].heat_frames, fmt::format("frames{}", i)) +
                figure::figure_html(editions[i].residency, fmt::format("explore{}", i));
    }
    return text;
}

} // namespace hestrel::report
