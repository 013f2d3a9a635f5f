#include "report/order_section.hpp"

#include "figure/svg.hpp"
#include "plan/names.hpp"
#include "report/html_table.hpp"
#include "source/plan_reader.hpp"
#include "source/xml.hpp"
#include "tables/order_tables.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::report {

using source::xml_text;

namespace {

std::string edition_table(const plan::Plan& plan, const std::vector<walk::Record>& records,
                          const order::EditionOrder& order) {
    HtmlTable table({{"position", true},
                     {"level"},
                     {"first asked for", true},
                     {"on route"},
                     {"needs before it"},
                     {"goes to"},
                     {"proposed", true},
                     {"why"}});
    std::vector<std::size_t> proposed(order.levels.size());
    for (std::size_t i = 0; i < order.proposed.size(); ++i) proposed[order.proposed[i]] = i;
    std::vector<std::string> why(order.levels.size());
    for (const order::Relocation& move : order.moves)
        why[move.thing] = tables::move_reason(plan, order, move);
    for (std::size_t i = 0; i < order.levels.size(); ++i) {
        const order::ListedLevel& listed = order.levels[i];
        const std::string& name = plan.levels[listed.level].name;
        const std::string needs = tables::needs_text(plan, listed);
        const std::string goes_to = plan::level_names(plan, listed.goes_to);
        std::string route;
        if (listed.asked) route = plan.routes[records[listed.asked->record].route].name;
        table.row({{std::to_string(i), std::to_string(i)},
                   name,
                   {tables::first_asked_text(listed),
                    listed.asked ? std::to_string(listed.asked->at.count) : ""},
                   route,
                   needs,
                   goes_to,
                   {proposed[i] == i ? "stays" : std::to_string(proposed[i]),
                    std::to_string(proposed[i])},
                   {why[i], why[i]}});
    }
    return table.html("Edition " + plan.editions[order.edition].name + ", in today's order");
}

std::string uses_list(const plan::Plan& plan, const order::EditionOrder& order) {
    std::string items;
    const auto item = [&](plan::Place place, const std::string& text) {
        items += fmt::format("<li>{} <span class=\"place\">{}</span></li>\n", xml_text(text),
                             xml_text(plan::place_text(plan, place)));
    };
    for (const order::PositionUse& use : order.uses) {
        item(use.place, tables::use_text(plan, use) + " leads to " +
                            (use.today ? plan.levels[use.today].name
                                       : std::string("nowhere in this edition")));
    }
    for (const order::NotShipped& each : order.not_shipped) {
        item(each.place, plan::list_name(plan, each.list) + " asks for " +
                             plan.levels[each.level].name + ", which this edition does not ship");
    }
    for (const order::NeedCircle& circle : order.circles)
        item(circle.front().place, "a circle: " + tables::circle_text(plan, circle));
    return items.empty() ? items : "<ul class=\"findings\">\n" + items + "</ul>\n";
}

std::string transitions_table(const plan::Plan& plan,
                              const std::vector<order::TransitionOrder>& transitions) {
    HtmlTable table({{"transition"},
                     {"device"},
                     {"asks for"},
                     {"players wait for"},
                     {"takes", true},
                     {"could take", true},
                     {"asking for"}});
    bool any = false;
    for (const order::TransitionOrder& each : transitions) {
        if (each.best_takes >= each.takes) continue;
        any = true;
        const std::string name = tables::transition_name(plan, each);
        const std::string& device = plan.devices[each.device].name;
        const std::string asked = plan::level_names(plan, each.asked);
        const std::string awaited = plan::level_names(plan, each.awaited);
        const std::string best = plan::level_names(plan, each.best);
        table.row({name, device, asked, awaited, each.takes, each.best_takes, best});
    }
    if (!any)
        return fmt::format("<p>In none of {} would another order of asking let players go on "
                           "sooner.</p>\n",
                           tables::counted(transitions.size(), "transition"));
    return table.html("Transitions that another order of asking would make shorter");
}

} // namespace

std::string order_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                          const Orders& orders) {
    if (orders.editions.empty()) return {};
    std::string text;
    for (const order::EditionOrder& order : orders.editions) {
        text += fmt::format("<h3>Edition {}</h3>\n", xml_text(plan.editions[order.edition].name));
        text += edition_table(plan, records, order) + uses_list(plan, order);
        for (const auto& [edition, svg] : orders.figures) {
            if (edition == order.edition)
                text += figure::figure_html(svg, fmt::format("order{}", edition.value));
        }
    }
    return text + "<h3>Inside transitions</h3>\n" + transitions_table(plan, orders.transitions);
}

} // namespace hestrel::report
