#include "study/reach.hpp"

#include <algorithm>
#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/dominator_tree.hpp>

namespace hestrel::study {

using geometry::Leg;
using plan::WaypointId;

Ancestry::Ancestry(const std::vector<std::uint32_t>& parents)
    : first_(parents.size(), 0), last_(parents.size(), 0) {
    std::vector<std::vector<std::uint32_t>> children(parents.size());
    std::vector<std::uint32_t> open;
    for (std::uint32_t node = 0; node < parents.size(); ++node) {
        if (parents[node] == none)
            open.push_back(node);
        else
            children[parents[node]].push_back(node);
    }
    // Each node twice: before all below it and, marked, behind them.
    std::uint32_t number = 0;
    std::vector<bool> entered(parents.size(), false);
    while (!open.empty()) {
        const std::uint32_t node = open.back();
        if (entered[node]) {
            last_[node] = number - 1;
            open.pop_back();
            continue;
        }
        entered[node] = true;
        first_[node] = number++;
        open.insert(open.end(), children[node].begin(), children[node].end());
    }
}

Reach::Reach(const plan::Plan& plan, const Geography& map, const std::vector<WaypointId>& origins)
    : waypoints_(static_cast<std::uint32_t>(plan.waypoints.size())) {
    using Graph = boost::adjacency_list<boost::vecS, boost::vecS, boost::bidirectionalS>;
    const std::uint32_t count = 1 + waypoints_ + 2 * static_cast<std::uint32_t>(plan.paths.size());
    Graph graph(count);
    reached_.assign(count, false);
    std::vector<std::uint32_t> before(count, Ancestry::none);
    std::vector<WaypointId> open;
    reached_[0] = true;
    const auto go = [&](std::uint32_t from, std::uint32_t to) {
        boost::add_edge(from, to, graph);
        if (reached_[to]) return false;
        reached_[to] = true;
        before[to] = from;
        return true;
    };
    for (const WaypointId origin : origins) {
        if (go(0, node(origin))) open.push_back(origin);
    }
    for (std::size_t next = 0; next < open.size(); ++next) {
        const WaypointId from = open[next];
        for (const Leg leg : map.legs_from[from]) {
            const WaypointId to = geometry::end_of(plan, leg);
            go(node(from), node(leg));
            if (go(node(leg), node(to))) open.push_back(to);
        }
    }
    shortest_ = Ancestry(before);

    const auto nowhere = boost::graph_traits<Graph>::null_vertex();
    std::vector<Graph::vertex_descriptor> dominators(count, nowhere);
    boost::lengauer_tarjan_dominator_tree(
        graph, boost::vertex(0, graph),
        boost::make_iterator_property_map(dominators.begin(),
                                          boost::get(boost::vertex_index, graph)));
    std::vector<std::uint32_t> above(count, Ancestry::none);
    for (std::uint32_t each = 0; each < count; ++each) {
        if (dominators[each] != nowhere) above[each] = static_cast<std::uint32_t>(dominators[each]);
    }
    always_ = Ancestry(above);
}

bool Reach::avoids(WaypointId waypoint, const std::vector<Leg>& legs) const {
    return leads_to(waypoint) && std::none_of(legs.begin(), legs.end(), [&](Leg leg) {
               return shortest_.is_above(node(leg), node(waypoint));
           });
}

bool Reach::must_take(WaypointId waypoint, const std::vector<Leg>& legs) const {
    return !leads_to(waypoint) || std::any_of(legs.begin(), legs.end(), [&](Leg leg) {
        return always_.is_above(node(leg), node(waypoint));
    });
}

} // namespace hestrel::study
