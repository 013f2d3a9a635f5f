// What other programs read: graphs by Boost.Graph, the plan for the game against its schema, traces
// as their format says.

#include "exchange/flow_graph.hpp"
#include "exchange/game_plan.hpp"
#include "exchange/gltf_writer.hpp"
#include "exchange/play_log.hpp"
#include "exchange/trace.hpp"
#include "study/level_ways.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/plan_tables.hpp"

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/graphml.hpp>
#include <boost/graph/graphviz.hpp>
#include <nlohmann/json.hpp>
#include <sstream>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace hestrel;
using nlohmann::json;
using tests::Walked;

namespace {

struct NodeData {
    std::string name;
    std::string title;
};
struct EdgeData {
    std::string list;
    double slack = 0;
};
using FlowOfNames =
    boost::adjacency_list<boost::vecS, boost::vecS, boost::directedS, NodeData, EdgeData>;

/// What another library makes of a graph: each way as "from>to".
std::multiset<std::string> ways_in(const FlowOfNames& graph) {
    std::multiset<std::string> ways;
    for (auto [edge, end] = boost::edges(graph); edge != end; ++edge)
        ways.insert(graph[boost::source(*edge, graph)].name + ">" +
                    graph[boost::target(*edge, graph)].name);
    return ways;
}
FlowOfNames graph_of(const std::string& text, bool graphml) {
    FlowOfNames graph;
    boost::dynamic_properties properties(boost::ignore_other_properties);
    properties.property("name", boost::get(&NodeData::name, graph));
    properties.property("title", boost::get(&NodeData::title, graph));
    properties.property("list", boost::get(&EdgeData::list, graph));
    properties.property("least_slack_s", boost::get(&EdgeData::slack, graph));
    std::istringstream stream(text);
    if (graphml) {
        boost::read_graphml(stream, graph, properties);
    } else {
        REQUIRE(boost::read_graphviz(stream, graph, properties));
    }
    return graph;
}

/// Why a value does not match its schema; empty where it does.
std::string mismatch(const json& schema_text, const json& value) {
    valijson::Schema schema;
    valijson::SchemaParser parser;
    parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schema_text), schema);
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(value), &results))
        return {};
    valijson::ValidationResults::Error error;
    std::string why = "it does not match";
    while (results.popError(error)) {
        why += "\n";
        for (const std::string& part : error.context) why += part;
        why += ": " + error.description;
    }
    return why;
}

std::string random_text(std::uint32_t seed) {
    tests::RandomPlan random(seed, tests::Rich::all);
    return seed % 3 == 0 ? random.with_land() : random.text();
}

constexpr std::string_view walked_plan = R"(
levels:
  hall: {title: 'The "Hall" & more', memory: {a: 40}, entries: {in: w0}}
  quay: {memory: {a: 100}, area: [{min: [20, -1, -1], max: [40, 2, 1]}]}
waypoints: {w0: [0, 0, 0], w1: [30, 0, 0]}
paths: [[w0, w1]]
players: {carrier: {speeds: {walk: 2}}}
triggers: {near: {box: {min: [9, -1, -1], max: [11, 1, 1]}, steps: [{show: [quay]}]}}
editions: {full: {levels: [hall, quay]}}
routes: {r: {start: {level: hall, waypoint: w0}, steps: [{go: w1}]}}
)";

} // namespace

TEST_CASE("export: another library reads the graphs, and finds every way") {
    for (std::uint32_t seed = 0; seed < tests::seeds(20); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        std::multiset<std::string> ways;
        for (const study::LevelWay& way : study::level_ways(plan)) {
            const auto name = [&](plan::LevelId level) {
                return level ? plan.levels[level].name : std::string(".anywhere");
            };
            ways.insert(name(way.from) + ">" + name(way.to));
        }
        const FlowOfNames by_xml = graph_of(exchange::flow_graphml(plan, {}), true);
        CHECK(ways_in(by_xml) == ways);
        CHECK(boost::num_vertices(by_xml) >= plan.levels.size());
        CHECK(ways_in(graph_of(exchange::flow_dot(plan, {}), false)) == ways);
    }
}

TEST_CASE("export: figures and texts of a graph are those of plan and walks") {
    const Walked walked{std::string(walked_plan)};
    const std::vector<walk::Record> records{walked.record};
    for (const bool graphml : {false, true}) {
        CAPTURE(graphml);
        const FlowOfNames graph = graph_of(graphml ? exchange::flow_graphml(walked.plan, records)
                                                   : exchange::flow_dot(walked.plan, records),
                                           graphml);
        std::string title;
        for (auto [node, end] = boost::vertices(graph); node != end; ++node) {
            if (graph[*node].name == "hall") title = graph[*node].title;
        }
        CHECK(title == "The \"Hall\" & more");
        REQUIRE(boost::num_edges(graph) == 1);
        const auto edge = *boost::edges(graph).first;
        CHECK(graph[edge].list == "trigger near");
        // Fired after 4.5 s; 100 MiB/s, the next frame, one frame more: 5.51 s. Needed after 10 s.
        CHECK(graph[edge].slack == Approx(4.49));
    }
    CHECK(tables::level_ways_csv(walked.plan, records) ==
          "from,to,list,switches,least_slack_s,route,device\r\n"
          ",quay,trigger near,no,4.490000,r,box\r\n");
}

TEST_CASE("export: the plan for the game matches its schema") {
    const json schema = json::parse(exchange::game_plan_schema());
    for (std::uint32_t seed = 0; seed < tests::seeds(30); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const json game = json::parse(exchange::game_plan_json(plan));
        CHECK(mismatch(schema, game) == "");
        CHECK(game["levels"].size() == plan.levels.size());
        CHECK(game["version"] == exchange::game_plan_version);
        // And it is no schema that takes anything.
        json other = game;
        other["levels"][0]["colour"] = "red";
        CHECK(mismatch(schema, other) != "");
        other = game;
        other["version"] = exchange::game_plan_version + 1;
        CHECK(mismatch(schema, other) != "");
    }
}

TEST_CASE("export: steps and conditions of the plan for the game") {
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels: {hall: {memory: {a: 1.5}, entries: {in: w}}, quay: {memory: {a: 2}}}
waypoints: {w: [0, 0, 0]}
facts: {letters: {initial: 0, range: [0, 9]}}
triggers:
  t:
    when: letters > 2 and not shown(quay)
    steps: [{show: [quay], priority: now}, {wait: {shown: quay}, at-most: 2}, {set: {letters: +1}}]
editions: {full: {levels: [hall, quay]}}
)");
    const json game = json::parse(exchange::game_plan_json(plan));
    const json& trigger = game["triggers"][0];
    CHECK(trigger["when"]["text"] == "letters > 2 and not shown(quay)");
    CHECK(trigger["when"]["is"] == json::parse(R"({"op": "and",
            "left": {"op": ">", "left": {"op": "fact", "fact": "letters"},
                     "right": {"op": "value", "value": 2}},
            "right": {"op": "not", "of": {"op": "shown", "levels": ["quay"]}}})"));
    CHECK(trigger["steps"] ==
          json::parse(R"([{"do": "show", "levels": ["quay"], "priority": "now", "who": "all"},
            {"do": "wait", "until_levels": "shown", "levels": ["quay"], "at_most_s": 2.0,
             "who": "all"},
            {"do": "set", "facts": [{"fact": "letters", "add": 1}]}])"));
    CHECK(game["levels"][0]["sizes"]["box"]["memory_bytes"]["a"] == 1'572'864);
}

TEST_CASE("export: a trace is what its format says") {
    std::size_t events = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(20); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        for (const walk::Record& record : tests::walks_of(plan)) {
            const json trace = json::parse(exchange::trace_json(plan, record));
            CHECK(trace["displayTimeUnit"] == "ms");
            std::set<std::int64_t> named; // tracks
            std::map<std::int64_t, std::int64_t> busy_until;
            std::size_t instants = 0;
            for (const json& event : trace["traceEvents"]) {
                const std::string phase = event["ph"];
                const std::int64_t track = event["tid"];
                CHECK(event["pid"] == 1);
                if (phase == "M") {
                    named.insert(track);
                    continue;
                }
                CHECK(event["ts"].get<std::int64_t>() >= 0);
                if (phase == "C") {
                    for (const json& value : event["args"]) CHECK(value.is_number());
                    continue;
                }
                CHECK(named.contains(track));
                if (phase == "i") {
                    CHECK(event["s"] == "t");
                    ++instants;
                    continue;
                }
                REQUIRE(phase == "X");
                // Stretches of one track come one after another.
                CHECK(event["ts"] >= busy_until[track]);
                CHECK(event["dur"].get<std::int64_t>() >= 0);
                busy_until[track] =
                    event["ts"].get<std::int64_t>() + event["dur"].get<std::int64_t>();
            }
            CHECK(instants == record.events.size());
            events += instants;
        }
    }
    CHECK(events > 1000);
}

TEST_CASE("export: a walk moves players and levels") {
    const Walked walked{std::string(walked_plan)};
    const std::vector<walk::Record> records{walked.record};
    const json world = json::parse(exchange::gltf_json(walked.plan, records));
    REQUIRE(world["animations"].size() == 1);
    CHECK(world["animations"][0]["name"] == "r on box");
    std::map<std::string, std::set<std::string>> moved; // what of which node
    for (const json& channel : world["animations"][0]["channels"])
        moved[world["nodes"][channel["target"]["node"].get<std::size_t>()]["name"]].insert(
            channel["target"]["path"]);
    CHECK(moved.size() == 3);
    CHECK(moved["quay loaded"] == std::set<std::string>{"scale"});
    CHECK(moved["player " + walked.plan.routes[plan::RouteId{0}].players[0].name] ==
          std::set<std::string>{"scale", "translation"});
    CHECK(moved["quay shown"] == std::set<std::string>{"scale"});
    // The boot takes 0.41 s. The quay is absent, loaded from 5.91 s on, shown from 5.92 s on.
    const auto& samplers = world["animations"][0]["samplers"];
    const json& times = world["accessors"][samplers[0]["input"].get<std::size_t>()];
    CHECK(times["count"] == 3);
    CHECK(times["min"][0] == 0);
    CHECK(times["max"][0].get<double>() == Approx(5.92));
    CHECK_FALSE(json::parse(exchange::gltf_json(walked.plan, {})).contains("animations"));
}

TEST_CASE("export: every number of an animation is one") {
    std::size_t animations = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(30); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const std::vector<walk::Record> records = tests::walks_of(plan);
        for (const auto& walk : walk::walks_in(records)) {
            const json world = json::parse(exchange::gltf_json(plan, walk));
            animations += world.value("animations", json::array()).size();
            for (const json& accessor : world.value("accessors", json::array())) {
                CHECK(accessor["count"].get<std::size_t>() > 0);
                for (const char* side : {"min", "max"}) {
                    for (const json& number : accessor[side]) CHECK(number.is_number());
                }
            }
        }
    }
    CHECK(animations > 10);
}
