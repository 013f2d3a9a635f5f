#include "figure/flow_figure.hpp"

#include "figure/palette.hpp"
#include "figure/plain_names.hpp"
#include "figure/sheet.hpp"
#include "plan/level_tree.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/dot.hpp"
#include "source/xml.hpp"
#include "study/level_ways.hpp"
#include "study/study.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/least_slacks.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace hestrel::figure {

using plan::LevelId;
using plan::Micros;

namespace {

constexpr double box_text = 10; ///< points

/// Which box each level is in.
struct Boxes {
    FlowChart chart;
    plan::Table<LevelId, std::size_t> of;
};

std::string about(const plan::Level& level) {
    std::string text = level.title == level.name ? std::string() : level.title;
    if (level.near) {
        text += fmt::format("{}streams within {:g} m", text.empty() ? "" : "\n", level.near->load);
    }
    return text;
}

bool is_listed(const plan::Plan& plan, LevelId level) {
    return plan::listed_as(plan, level) == level;
}

/// By outermost level: whether a way leads from or to it, or anything below it.
plan::Table<LevelId, bool> families_with_ways(const plan::Plan& plan,
                                              const std::vector<study::LevelWay>& ways) {
    plan::Table<LevelId, bool> with_ways(plan.levels.size());
    for (const study::LevelWay& way : ways) {
        for (const LevelId level : {way.from, way.to}) {
            if (level && way.from != way.to) with_ways[plan::root_of(plan.levels, level)] = true;
        }
    }
    return with_ways;
}

Boxes boxes_of(const plan::Plan& plan, const std::vector<study::LevelWay>& ways) {
    Boxes boxes;
    boxes.of.resize(plan.levels.size());
    const plan::Table<LevelId, bool> with_ways = families_with_ways(plan, ways);
    plan::Table<LevelId, std::size_t> loose(plan.levels.size()); // + 1; 0: it has ways
    for (const LevelId level : plan.levels.ids()) {
        const LevelId root = plan::root_of(plan.levels, level);
        if (with_ways[root]) continue;
        if (root == level) {
            boxes.chart.loose.push_back({level});
            loose[level] = boxes.chart.loose.size();
        } else if (!plan.levels[level].grid) {
            ++boxes.chart.loose[loose[root] - 1].sublevels;
        }
    }
    const auto drawn = [&](LevelId level) { return with_ways[plan::root_of(plan.levels, level)]; };
    // Cells of a grid are one box.
    std::size_t listed = 0;
    for (const LevelId level : plan.levels.ids())
        listed += drawn(level) && is_listed(plan, level) ? 1U : 0U;
    const bool all_fit = listed <= most_flow_boxes;
    plan::Table<LevelId, std::size_t> ways_of(plan.levels.size());
    for (const study::LevelWay& way : ways) {
        for (const LevelId level : {way.from, way.to}) {
            if (level)
                ++ways_of[all_fit ? plan::listed_as(plan, level)
                                  : plan::root_of(plan.levels, level)];
        }
    }
    std::vector<LevelId> own;
    for (const LevelId level : plan.levels.ids()) {
        if (!drawn(level)) continue;
        if (all_fit ? is_listed(plan, level) : !plan.levels[level].parent) own.push_back(level);
    }
    std::vector<LevelId> merged;
    if (own.size() > most_flow_boxes) {
        std::stable_sort(own.begin(), own.end(),
                         [&](LevelId one, LevelId other) { return ways_of[one] > ways_of[other]; });
        merged.assign(own.begin() + most_flow_boxes - 1, own.end());
        own.resize(most_flow_boxes - 1);
        std::sort(own.begin(), own.end());
    }
    std::size_t others = 0;
    if (!merged.empty()) {
        boxes.chart.boxes.push_back(
            {fmt::format("{} other levels", merged.size()), {}, merged, {}});
        boxes.chart.merged = merged.size();
    }
    for (const LevelId level : own) {
        boxes.of[level] = boxes.chart.boxes.size();
        const plan::Level& of = plan.levels[level];
        const std::string name = of.grid ? plan::cells_text(plan, of.grid) : of.name;
        boxes.chart.boxes.push_back({name, about(of), {level}, {}, !of.parent});
        if (of.parent) boxes.chart.boxes[boxes.of[of.parent]].inside.push_back(boxes.of[level]);
    }
    for (const LevelId level : merged) boxes.of[level] = others;
    for (const LevelId level : plan.levels.ids()) {
        if (drawn(level) && all_fit && !is_listed(plan, level))
            boxes.of[level] = boxes.of[plan::listed_as(plan, level)];
    }
    if (!all_fit) {
        for (const LevelId level : plan.levels.ids()) {
            const LevelId root = plan::root_of(plan.levels, level);
            if (root == level || !drawn(level)) continue;
            boxes.of[level] = boxes.of[root];
            FlowChart::Box& box = boxes.chart.boxes[boxes.of[root]];
            box.levels.push_back(level);
            ++boxes.chart.merged;
        }
    }
    return boxes;
}

/// Makes an arrow also stand for another one between the same boxes.
void join(FlowArrow& arrow, const FlowArrow& other) {
    arrow.switches = arrow.switches || other.switches;
    if (arrow.list != other.list) ++arrow.lists;
    const bool worse = other.slack && (!arrow.slack || *other.slack < *arrow.slack);
    if (!worse) return;
    arrow.list = other.list;
    arrow.slack = other.slack;
    arrow.record = other.record;
}

std::string_view slack_colour(const plan::Plan& plan, const std::optional<Micros>& slack) {
    if (!slack) return palette::muted;
    if (*slack < Micros{}) return palette::gap;
    return *slack < plan::wanted_slack(plan) ? palette::little_slack : palette::enough_slack;
}

/// What lists are called on arrows: "quay-approach", without its kind, which the arrow's look does
/// not need.
class ListNames {
public:
    explicit ListNames(const plan::Plan& plan)
        : plan_(plan), triggers_(plan.triggers), menus_(plan.menus) {}

    [[nodiscard]] std::string operator()(plan::ListId list) const {
        const plan::StepList& steps = plan_.lists[list];
        switch (steps.owner) {
        case plan::OwnerKind::trigger:
            return triggers_(plan_.triggers[plan::TriggerId{steps.index}].name);
        case plan::OwnerKind::item: {
            const plan::Item& item = plan_.items[plan::ItemId{steps.index}];
            return menus_(plan_.menus[item.menu].name) + "." + item.name;
        }
        case plan::OwnerKind::after:
            return "after " + menus_(plan_.menus[plan::MenuId{steps.index}].name);
        default: return plan::list_name(plan_, list);
        }
    }

private:
    const plan::Plan& plan_;
    PlainNames triggers_;
    PlainNames menus_;
};

std::string arrow_label(const ListNames& names, const FlowArrow& arrow) {
    std::string label = " " + names(arrow.list); // spaces keep it off other lines
    if (arrow.lists > 1) label += fmt::format(" and {} more", arrow.lists - 1);
    label += ' ';
    if (arrow.slack)
        label += fmt::format("\n{}{}", arrow.slack->count > 0 ? "+" : "",
                             tables::short_time(*arrow.slack));
    return label;
}

/// A text in lines of a box's width.
std::string in_lines(const std::string& text) {
    constexpr double box_width = 120;
    std::string lines;
    for (std::size_t from = 0; from <= text.size();) {
        const std::size_t end = std::min(text.find('\n', from), text.size());
        for (const std::string& line : wrapped(text.substr(from, end - from), box_text, box_width))
            lines += (lines.empty() ? "" : "\n") + line;
        from = end + 1;
    }
    return lines;
}

std::string node(const FlowChart::Box& box, std::size_t number) {
    const bool anywhere = box.levels.empty();
    const std::string text = box.about.empty() ? box.name : box.name + "\n" + in_lines(box.about);
    return fmt::format("b{0} [id=\"b{0}\", label={1}, style=\"{2}filled\", fillcolor=\"{3}\"];\n",
                       number, source::dot_string(text),
                       anywhere || box.levels.size() > 1 ? "dashed," : "",
                       anywhere ? palette::paper : palette::area);
}

/// A box, with a frame around it and its sublevels where it has any.
std::string nodes(const FlowChart& chart, std::size_t number) {
    const FlowChart::Box& box = chart.boxes[number];
    std::string text = node(box, number);
    if (box.inside.empty()) return text;
    for (const std::size_t inside : box.inside) text += nodes(chart, inside);
    return fmt::format("subgraph cluster_{0} {{\nid=\"c{0}\"; label=\"\"; peripheries=1; "
                       "style=rounded; color=\"{1}\";\n{2}}}\n",
                       number, palette::area_edge, text);
}

/// A part of a label in Graphviz's own HTML.
std::string coloured(std::string_view colour, const std::string& text) {
    return fmt::format("<FONT COLOR=\"{}\">{}</FONT>", colour, text);
}

/// Title, and what colours and widths mean, in one line.
std::string head_of(const plan::Plan& plan, const std::string& title, const FlowChart& chart) {
    const auto line = [](std::string_view colour, std::string_view said) {
        return coloured(colour, "━━ ") + std::string(said) + "&#160;&#160; ";
    };
    std::string legend;
    const auto add_if = [&](auto such, std::string_view colour, std::string_view said) {
        if (std::any_of(chart.arrows.begin(), chart.arrows.end(), such))
            legend += line(colour, said);
    };
    const auto is = [&](std::string_view colour) {
        return [&plan, colour](const FlowArrow& arrow) {
            return slack_colour(plan, arrow.slack) == colour;
        };
    };
    add_if(is(palette::enough_slack), palette::enough_slack, "in time");
    add_if(is(palette::little_slack), palette::little_slack, "less slack than the plan's limit");
    add_if(is(palette::gap), palette::gap, "late");
    add_if(is(palette::muted), palette::muted, "players wait for it, or none came near");
    if (std::any_of(chart.arrows.begin(), chart.arrows.end(),
                    [](const FlowArrow& arrow) { return arrow.switches; }))
        legend += "thick: switches to the level";
    std::string head = fmt::format("<TABLE BORDER=\"0\" CELLPADDING=\"1\"><TR><TD ALIGN=\"LEFT\">"
                                   "<FONT POINT-SIZE=\"13\">{}</FONT></TD></TR>",
                                   source::xml_text(title));
    if (!legend.empty()) head += "<TR><TD ALIGN=\"LEFT\">" + legend + "</TD></TR>";
    if (chart.merged > 0)
        head += fmt::format("<TR><TD ALIGN=\"LEFT\">{} levels have no box of their own: they are "
                            "counted to others</TD></TR>",
                            chart.merged);
    return head + "</TABLE>";
}

/// The levels without arrows, beside each other in rows; empty where there are none.
std::string rows_of(const plan::Plan& plan, const std::vector<FlowChart::Loose>& loose) {
    if (loose.empty()) return {};
    constexpr std::size_t in_row = 7;
    std::string rows;
    const std::size_t named = std::min(loose.size(), most_loose_levels);
    for (std::size_t i = 0; i < named; ++i) {
        const plan::Level& level = plan.levels[loose[i].level];
        std::string text = source::xml_text(level.name);
        if (level.near) text += fmt::format("<BR/>streams within {:g} m", level.near->load);
        for (const plan::GridId grid : plan.grids.ids()) {
            if (plan.grids[grid].level == loose[i].level)
                text += "<BR/>" + source::xml_text(plan::cells_text(plan, grid));
        }
        if (loose[i].sublevels > 0)
            text += "<BR/>+ " + tables::counted(loose[i].sublevels, "sublevel");
        if (i % in_row == 0) rows += i == 0 ? "<TR>" : "</TR><TR>";
        rows += fmt::format("<TD BORDER=\"1\" COLOR=\"{}\" BGCOLOR=\"{}\">{}</TD>",
                            palette::area_edge, palette::area, text);
    }
    std::string more;
    if (named < loose.size()) more = fmt::format(", and {} more", loose.size() - named);
    return fmt::format("<TABLE BORDER=\"0\" CELLSPACING=\"4\" CELLPADDING=\"4\"><TR><TD "
                       "ALIGN=\"LEFT\" COLSPAN=\"{}\">No list leads from or to{}:</TD></TR>{}</TR>"
                       "</TABLE>",
                       std::min(named, in_row), more, rows);
}

/// By arrow: how many ranks it spans. Boxes that only one arrow leads to, and none from, stand in
/// rows of a few where there are many.
std::vector<std::size_t> spans_of(const FlowChart& chart) {
    constexpr std::size_t in_row = 3;
    std::vector<std::size_t> from(chart.boxes.size());
    std::vector<std::size_t> to(chart.boxes.size());
    for (const FlowArrow& arrow : chart.arrows) {
        ++from[arrow.from];
        ++to[arrow.to];
    }
    std::vector<std::size_t> leaves(chart.boxes.size()); // so far, by where they are led to from
    std::vector<std::size_t> spans;
    for (const FlowArrow& arrow : chart.arrows) {
        const bool leaf = from[arrow.to] == 0 && to[arrow.to] == 1;
        spans.push_back(leaf ? 1 + leaves[arrow.from]++ / in_row : 1);
    }
    return spans;
}

} // namespace

FlowChart flow_chart(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const std::vector<study::LevelWay> ways = study::level_ways(plan);
    const walk::LeastSlacks slacks = walk::least_slacks(plan, records);
    Boxes boxes = boxes_of(plan, ways);
    std::optional<std::size_t> anywhere;
    std::map<std::pair<std::size_t, std::size_t>, std::size_t> known;
    for (const study::LevelWay& way : ways) {
        if (!way.from && !anywhere) {
            anywhere = boxes.chart.boxes.size();
            boxes.chart.boxes.push_back({"anywhere", {}, {}, {}});
        }
        FlowArrow arrow{way.from ? boxes.of[way.from] : *anywhere,
                        boxes.of[way.to],
                        way.list,
                        1,
                        way.switches,
                        {},
                        0};
        if (arrow.from == arrow.to) continue;
        const auto worst = slacks.find({way.list, way.to});
        if (worst != slacks.end()) {
            arrow.slack = worst->second.slack;
            arrow.record = worst->second.record;
        }
        std::vector<FlowArrow>& arrows = boxes.chart.arrows;
        const auto [at, added] = known.try_emplace({arrow.from, arrow.to}, arrows.size());
        if (added) {
            arrows.push_back(arrow);
        } else {
            join(arrows[at->second], arrow);
        }
    }
    return std::move(boxes.chart);
}

Graph flow_figure(const plan::Plan& plan, const std::vector<walk::Record>& records,
                  const FlowChart& chart) {
    Graph graph;
    const ListNames names(plan);
    graph.title =
        fmt::format("Flow – {}, arrows with the least slack of any walk", on_one_line(plan.name));
    graph.description =
        fmt::format("{} in {} boxes, {} arrows; {} without any arrow.",
                    tables::counted(plan.levels.size(), "level"), chart.boxes.size(),
                    chart.arrows.size(), tables::counted(chart.loose.size(), "outermost level"));
    constexpr double page = 11.4; // inches: 1,094 pixels
    graph.dot = fmt::format(
        "digraph flow {{\ngraph [rankdir=TB, size=\"{},1000\", label=<{}>, labelloc=t, "
        "labeljust=l, "
        "fontname=\"DejaVu Sans\", fontsize=11, fontcolor=\"{}\", ranksep=0.35, nodesep=0.15, "
        "bgcolor=\"{}\"];\nnode [shape=box, margin=\"0.1,0.05\", fontname=\"DejaVu Sans\", "
        "fontsize={}, color=\"{}\", fontcolor=\"{}\"];\nedge [fontname=\"DejaVu Sans\", "
        "fontsize=9, arrowsize=0.7];\n",
        page, head_of(plan, graph.title, chart), palette::ink, palette::paper, box_text,
        palette::area_edge, palette::ink);
    const std::string rows = rows_of(plan, chart.loose);
    if (!rows.empty())
        graph.dot += fmt::format("subgraph cluster_all {{\nlabel=<{}>; labelloc=b; labeljust=l; "
                                 "peripheries=0; fontsize={};\n",
                                 rows, box_text);
    if (chart.boxes.empty()) graph.dot += "nothing [style=invis, label=\"\"];\n";
    for (std::size_t i = 0; i < chart.boxes.size(); ++i) {
        if (chart.boxes[i].outermost) graph.dot += nodes(chart, i);
        std::string said = chart.boxes[i].name;
        if (chart.boxes[i].levels.size() > 1) {
            said += fmt::format("\n{} levels", chart.boxes[i].levels.size());
        }
        graph.hot.emplace(fmt::format("b{}", i), said);
    }
    if (!rows.empty()) graph.dot += "}\n";
    const std::vector<std::size_t> spans = spans_of(chart);
    for (std::size_t i = 0; i < chart.arrows.size(); ++i) {
        const FlowArrow& arrow = chart.arrows[i];
        const std::string_view colour = slack_colour(plan, arrow.slack);
        graph.dot += fmt::format(
            "b{} -> b{} [id=\"a{}\", label={}, color=\"{}\", fontcolor=\"{}\", penwidth={}, "
            "minlen={}];\n",
            arrow.from, arrow.to, i, source::dot_string(arrow_label(names, arrow)), colour, colour,
            arrow.switches ? "2.4" : "1", spans[i]);
        std::string said =
            fmt::format("{} → {}: {}", chart.boxes[arrow.from].name, chart.boxes[arrow.to].name,
                        plan::list_name(plan, arrow.list));
        if (arrow.slack) {
            const walk::Record& record = records[arrow.record];
            said += fmt::format("\nleast slack {} on {}, {}", tables::short_time(*arrow.slack),
                                plan.routes[record.route].name, walk::device_text(plan, record));
        }
        graph.hot.emplace(fmt::format("a{}", i), said);
    }
    graph.dot += "}\n";
    return graph;
}

} // namespace hestrel::figure
