#include "report/page.hpp"

#include "figure/svg.hpp"
#include "report/carries_section.hpp"
#include "report/change_section.hpp"
#include "report/contents_section.hpp"
#include "report/findings_section.hpp"
#include "report/html_table.hpp"
#include "report/replay.hpp"
#include "report/sessions_section.hpp"
#include "report/verdicts_section.hpp"
#include "source/fingerprint.hpp"
#include "source/own_mark.hpp"
#include "source/xml.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <kainjow/mustache.hpp>
#include <new>
#include <zlib.h>

namespace hestrel::report {

namespace mustache = kainjow::mustache;
using mustache::data;

namespace {

/// A part of the page with a heading, which its index leads to.
struct Part {
    std::string id;
    std::string title;
    std::string html; ///< empty: it is left out
};

std::string storyboards_part(const Contents& contents) {
    std::string html;
    for (std::size_t i = 0; i < contents.storyboards.size(); ++i)
        html += figure::figure_html(contents.storyboards[i], fmt::format("story{}", i));
    return html;
}

std::string ran_part(const Contents& contents) {
    std::string items;
    for (const auto& [label, value] : contents.ran)
        items += fmt::format("<dt>{}</dt><dd>{}</dd>\n", source::xml_text(label),
                             source::xml_text(value));
    return "<dl>\n" + items + "</dl>\n";
}

std::vector<Part> parts_of(const Contents& contents) {
    const plan::Plan& plan = contents.plan;
    const auto& records = contents.records;
    std::vector<Part> parts{
        {"verdicts", "Verdict on each device", verdicts_section(plan, records)},
        {"routes", "Routes on devices, worst first", routes_section(plan, records)},
        {"storyboards", "What players see", storyboards_part(contents)},
        {"findings", "Findings", findings_section(plan, contents.checked, records)},
        {"loads", "What each transition loads", loads_section(plan, records)},
        {"advice", "What would mend it", advice_section(plan, contents.advice)},
        {"whole", "Budget and flow",
         figure::figure_html(contents.budget, "budget") +
             figure::figure_html(contents.flow, "flow")},
        {"order", "Build order", order_section(plan, records, contents.orders)},
        {"explored", "Whatever players do", explore_section(contents.explored)},
        {"carries", "What carries", carries_section(plan, records, contents.explored)},
        {"contents", "What levels contain, and lack", contents_section(plan)},
        {"sessions", "Several machines", sessions_section(plan, records, contents.sessions)},
        {"walks", "The worst walk of each device",
         stills_section(plan, records, contents.pictures)},
        {"todo", "To do, by owner", todos_section(plan)},
        {"ran", "What was run", ran_part(contents)}};
    std::erase_if(parts, [](const Part& part) { return part.html.empty(); });
    return parts;
}

/// The data of the replay of one plan.
void add_replay(const std::string& version, const plan::Plan& plan,
                const std::vector<walk::Record>& records,
                const std::vector<std::string>& packed_walks, data& plans, data& walks) {
    data own;
    own.set("version", version);
    own.set("packed", packed(replay_plan(plan)));
    plans.push_back(own);
    const auto machines = walk::walks_in(records);
    for (std::size_t i = 0; i < packed_walks.size(); ++i) {
        const walk::Record& first = machines[i].front();
        data each;
        each.set("id", walk_id(plan, first));
        each.set("route", plan.routes[first.route].name);
        each.set("on", walk::devices_text(plan, walk::cast_of(first).devices));
        each.set("version", version);
        each.set("packed", packed_walks[i]);
        walks.push_back(each);
    }
}

void add_replays(data& whole, const Contents& contents) {
    data plans{data::type::list};
    data walks{data::type::list};
    add_replay("after", contents.plan, contents.records, contents.walks, plans, walks);
    if (contents.before)
        add_replay("before", contents.before->plan, contents.before->records,
                   contents.before->walks, plans, walks);
    whole.set("plans", plans);
    whole.set("walks", walks);
}

} // namespace

std::string packed(const std::string& text) {
    uLongf size = compressBound(static_cast<uLong>(text.size()));
    std::string bytes(size, '\0');
    const auto* from = reinterpret_cast<const Bytef*>(text.data()); // chars as bytes
    auto* to = reinterpret_cast<Bytef*>(bytes.data());
    // It fails for lack of memory alone: the room is as zlib asks for it.
    if (compress2(to, &size, from, static_cast<uLong>(text.size()), Z_BEST_COMPRESSION) != Z_OK)
        throw std::bad_alloc();
    bytes.resize(size);
    return source::base64(bytes);
}

std::string page(const Contents& contents) {
    walk::Verdict worst = walk::Verdict::fine;
    for (const walk::Record& record : contents.records) worst = std::max(worst, record.verdict);
    data whole;
    whole.set("name", contents.plan.name);
    // A browser runs and applies what has these hashes, and nothing else that a page may hold.
    const std::string style = "\n" + std::string(page_part("page.css"));
    std::string script = "\n";
    for (const std::string_view part :
         {"replay_data.js", "replay_map.js", "replay_strips.js", "page.js", "replay.js"})
        script += page_part(part);
    whole.set("css", style);
    whole.set("css_hash", source::sha256_base64(style));
    whole.set("js", script);
    whole.set("js_hash", source::sha256_base64(script));
    whole.set("own_mark", std::string(source::own_mark));
    whole.set("grade", std::string(grade_of(worst)));
    whole.set("headline", headline_of(contents.plan, contents.records));
    if (!contents.undrawn.empty()) {
        const bool drawn = !contents.budget.empty() || !contents.flow.empty();
        whole.set("undrawn", (drawn ? "Some figures are missing: " : "There are no figures: ") +
                                 contents.undrawn);
    }
    data sections{data::type::list};
    for (const Part& part : parts_of(contents)) {
        data each;
        each.set("id", part.id);
        each.set("title", part.title);
        each.set("html", part.html);
        sections.push_back(each);
    }
    whole.set("sections", sections);
    add_replays(whole, contents);
    if (contents.before) {
        whole.set("compares", true);
        whole.set("change", change_section(contents.before->compared));
    }
    mustache::mustache shape{std::string(page_part("page.mustache"))};
    return shape.render(whole);
}

} // namespace hestrel::report
