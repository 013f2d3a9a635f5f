#include "exchange/flow_graph.hpp"

#include "loading/catalogue.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/dot.hpp"
#include "source/own_mark.hpp"
#include "source/xml.hpp"
#include "tables/plan_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <string_view>
#include <vector>

namespace hestrel::exchange {

namespace {

/// One attribute of all nodes, or of all edges. A value that is empty is left out.
template <class Of>
struct Attribute {
    std::string name;
    std::string_view type; ///< of GraphML
    std::function<std::string(const Of&)> of;
};

struct Node {
    plan::LevelId level; ///< unset: anywhere
};
using Edge = tables::LevelWayRow;

constexpr std::string_view anywhere = ".anywhere"; ///< no level's name begins with a dot

std::string truth(bool yes) {
    return yes ? "1" : "0"; // as XML Schema and DOT both have it
}

class Flow {
public:
    Flow(const plan::Plan& plan, std::span<const walk::Record> records)
        : edges(tables::level_way_rows(plan, records)), plan_(plan), records_(records) {
        for (const plan::DeviceId device : plan.devices.ids())
            catalogues_.push(loading::catalogue_for(plan, device));
        for (const plan::LevelId level : plan.levels.ids()) nodes.push_back({level});
        const bool from_anywhere = std::any_of(edges.begin(), edges.end(),
                                               [](const Edge& edge) { return !edge.way.from; });
        if (from_anywhere) nodes.emplace_back();
    }

    [[nodiscard]] std::string name(plan::LevelId level) const {
        return level ? plan_.levels[level].name : std::string(anywhere);
    }
    [[nodiscard]] std::vector<Attribute<Node>> of_nodes() const {
        std::vector<Attribute<Node>> all;
        const auto add = [&](std::string name, std::string_view type, auto of) {
            all.push_back({std::move(name), type, [this, of](const Node& node) {
                               return node.level ? std::string(of(plan_.levels[node.level]))
                                                 : std::string();
                           }});
        };
        using plan::Level;
        all.push_back({"name", "string", [this](const Node& node) { return name(node.level); }});
        add("title", "string", [](const Level& level) { return level.title; });
        add("owner", "string", [](const Level& level) { return level.owner; });
        add("world", "string", [this](const Level& level) {
            return level.world ? plan_.worlds[level.world] : std::string();
        });
        add("parent", "string", [this](const Level& level) {
            return level.parent ? plan_.levels[level.parent].name : std::string();
        });
        add("persist", "boolean", [](const Level& level) { return truth(level.persist); });
        for (const plan::DeviceId device : plan_.devices.ids()) {
            const loading::Catalogue& catalogue = catalogues_[device];
            const std::string& on = plan_.devices[device].name;
            const auto add_size = [&](const std::string& name, plan::Bytes loading::Piece::*size) {
                all.push_back({name, "double", [&catalogue, size](const Node& node) {
                                   if (!node.level) return std::string();
                                   const auto piece = catalogue.piece_of(node.level);
                                   return tables::mebibytes_text(catalogue.pieces[piece].*size);
                               }});
            };
            add_size("memory_" + on + "_mib", &loading::Piece::unpacked);
            add_size("packed_" + on + "_mib", &loading::Piece::packed);
        }
        add("objects", "long", [](const Level& level) {
            const auto& objects = level.content.figures.objects;
            return objects ? std::to_string(*objects) : std::string();
        });
        add("near_load_m", "double", [](const Level& level) {
            return level.near ? fmt::format("{}", level.near->load) : std::string();
        });
        for (const plan::EditionId edition : plan_.editions.ids()) {
            const auto& levels = plan_.editions[edition].levels;
            all.push_back(
                {"position_" + plan_.editions[edition].name, "long", [&levels](const Node& node) {
                     const auto at = std::find(levels.begin(), levels.end(), node.level);
                     return at == levels.end() ? std::string()
                                               : std::to_string(at - levels.begin());
                 }});
        }
        return all;
    }
    [[nodiscard]] std::vector<Attribute<Edge>> of_edges() const {
        return {{"list", "string",
                 [this](const Edge& edge) { return plan::list_name(plan_, edge.way.list); }},
                {"switches", "boolean", [](const Edge& edge) { return truth(edge.way.switches); }},
                {"least_slack_s", "double",
                 [](const Edge& edge) {
                     return edge.least ? tables::seconds_text(edge.least->slack) : std::string();
                 }},
                {"late", "boolean",
                 [](const Edge& edge) {
                     return edge.least ? truth(edge.least->slack < plan::Micros{}) : std::string();
                 }},
                {"route", "string",
                 [this](const Edge& edge) {
                     return edge.least ? plan_.routes[records_[edge.least->record].route].name
                                       : std::string();
                 }},
                {"device", "string", [this](const Edge& edge) {
                     return edge.least ? walk::device_text(plan_, records_[edge.least->record])
                                       : std::string();
                 }}};
    }

    std::vector<Node> nodes;
    std::vector<Edge> edges;

private:
    const plan::Plan& plan_;
    std::span<const walk::Record> records_;
    plan::Table<plan::DeviceId, loading::Catalogue> catalogues_;
};

template <class Of>
std::string keys(const std::vector<Attribute<Of>>& attributes, std::string_view of) {
    std::string text;
    for (std::size_t i = 0; i < attributes.size(); ++i)
        text += fmt::format("  <key id=\"{0}{1}\" for=\"{2}\" attr.name=\"{3}\" "
                            "attr.type=\"{4}\"/>\n",
                            of[0], i, of, source::xml_text(attributes[i].name), attributes[i].type);
    return text;
}

template <class Of>
std::string data(const std::vector<Attribute<Of>>& attributes, const Of& of, char kind) {
    std::string text;
    for (std::size_t i = 0; i < attributes.size(); ++i) {
        const std::string value = attributes[i].of(of);
        if (!value.empty())
            text += fmt::format("      <data key=\"{}{}\">{}</data>\n", kind, i,
                                source::xml_text(value));
    }
    return text;
}

/// `[name="value", …]`; numbers and truth values need no quotes.
template <class Of>
std::string dot_attributes(const std::vector<Attribute<Of>>& attributes, const Of& of,
                           const std::string& first) {
    std::string text = first;
    for (const Attribute<Of>& attribute : attributes) {
        const std::string value = attribute.of(of);
        if (value.empty()) continue;
        const bool is_text = attribute.type == "string";
        text += fmt::format("{}{}={}", text.empty() ? "" : ", ", source::dot_data(attribute.name),
                            is_text ? source::dot_data(value) : value);
    }
    return "[" + text + "]";
}

} // namespace

std::string flow_graphml(const plan::Plan& plan, std::span<const walk::Record> records) {
    const Flow flow(plan, records);
    const auto of_nodes = flow.of_nodes();
    const auto of_edges = flow.of_edges();
    std::string text = fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!-- {} -->\n"
                                   "<graphml xmlns=\"http://graphml.graphdrawing.org/xmlns\">\n",
                                   source::own_mark);
    text += keys(of_nodes, "node") + keys(of_edges, "edge");
    text += "  <graph id=\"flow\" edgedefault=\"directed\">\n";
    for (const Node& node : flow.nodes)
        text += fmt::format("    <node id=\"{}\">\n{}    </node>\n", flow.name(node.level),
                            data(of_nodes, node, 'n'));
    for (std::size_t i = 0; i < flow.edges.size(); ++i) {
        const Edge& edge = flow.edges[i];
        text += fmt::format("    <edge id=\"w{}\" source=\"{}\" target=\"{}\">\n{}    </edge>\n", i,
                            flow.name(edge.way.from), flow.name(edge.way.to),
                            data(of_edges, edge, 'e'));
    }
    return text + "  </graph>\n</graphml>\n";
}

std::string flow_dot(const plan::Plan& plan, std::span<const walk::Record> records) {
    const Flow flow(plan, records);
    const auto of_nodes = flow.of_nodes();
    const auto of_edges = flow.of_edges();
    std::string text = fmt::format("// {}\ndigraph flow {{\n  label={};\n  rankdir=LR;\n"
                                   "  node [shape=box];\n",
                                   source::own_mark, source::dot_string(plan.name));
    for (const Node& node : flow.nodes)
        text += fmt::format("  {} {};\n", source::dot_data(flow.name(node.level)),
                            dot_attributes(of_nodes, node, ""));
    for (const Edge& edge : flow.edges)
        text += fmt::format(
            "  {} -> {} {};\n", source::dot_data(flow.name(edge.way.from)),
            source::dot_data(flow.name(edge.way.to)),
            dot_attributes(of_edges, edge,
                           "label=" + source::dot_string(plan::list_name(plan, edge.way.list))));
    return text + "}\n";
}

} // namespace hestrel::exchange
