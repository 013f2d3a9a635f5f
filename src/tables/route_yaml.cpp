#include "tables/route_yaml.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/json.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::tables {

namespace {

using source::FlowMap;

/// As a scalar between brackets.
std::string quoted(const std::string& text) {
    return source::Json(text).dump();
}

/// To the microsecond: "2.35".
std::string time_yaml(plan::Micros time) {
    std::string text = fmt::format("{:.6f}", plan::in_seconds(time));
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
    return text;
}

/// `{has_key: true, letters: +1, depth: {to: -1}}`.
std::string facts_yaml(const plan::Plan& plan, const std::vector<plan::Assignment>& facts) {
    FlowMap map;
    for (const plan::Assignment& each : facts) {
        const bool word = each.value.kind == plan::ValueKind::word;
        const auto number = static_cast<std::int64_t>(each.value.number);
        const std::string value =
            plan::value_text(plan, each.fact, word ? each.value.word.value : number);
        std::string yaml = word ? source::scalar_yaml(value) : value;
        if (each.adds && number >= 0) yaml = "+" + value;
        if (!each.adds && !word && number < 0) yaml = FlowMap().add("to", value).text();
        map.add(plan.facts[each.fact].name, yaml);
    }
    return map.text();
}

std::string speed_name(const plan::Plan& plan, const plan::RoutePlayer& player, double speed) {
    const auto& speeds = plan.players[player.kind].speeds;
    const auto named = std::find_if(speeds.begin(), speeds.end(), [&](const auto& each) {
        return each.metres_per_second == speed;
    });
    return named == speeds.end() ? std::string() : named->name;
}

/// `quay.steps`: the entry of a level at a waypoint.
std::string entry_yaml(const plan::Plan& plan, const plan::Checkpoint& checkpoint) {
    const plan::Level& level = plan.levels[checkpoint.level];
    const auto entry =
        std::find_if(level.entries.begin(), level.entries.end(),
                     [&](const plan::Entry& each) { return each.waypoint == checkpoint.at; });
    return level.name + "." + entry->name;
}

/// Adds each kind of step under the key that names it.
struct StepWriter {
    const plan::Plan& plan;
    const plan::RoutePlayer& player;
    FlowMap& map;

    void operator()(const plan::GoStep& go) const {
        map.add("go", plan.waypoints[go.to].name);
        const std::string speed = speed_name(plan, player, go.speed);
        if (!speed.empty()) map.add("speed", speed);
        if (go.along) map.add("along", std::to_string(go.along.value));
    }
    void operator()(const plan::PressStep& press) const {
        map.add("press", plan::item_name(plan, press.item));
    }
    void operator()(const plan::PauseStep& pause) const { map.add("pause", time_yaml(pause.time)); }
    void operator()(const plan::PickStep& pick) const {
        map.add("pick", quoted(plan.words[pick.branch]));
    }
    void operator()(const plan::UntilStep& until) const {
        map.add("until", source::scalar_yaml(plan.conditions[until.condition].text));
    }
    void operator()(const plan::RouteSetStep& set) const {
        map.add("set", facts_yaml(plan, set.facts));
    }
    void operator()(const plan::AfterStep& after) const {
        map.add("after", plan.menus[after.menu].name);
    }
    void operator()(const plan::ExpectStep& expect) const {
        if (!expect.condition) {
            map.add("expect", "now");
            return;
        }
        const std::string that = source::scalar_yaml(plan.conditions[expect.condition].text);
        map.add("expect",
                expect.within
                    ? FlowMap().add("that", that).add("within", time_yaml(*expect.within)).text()
                    : that);
    }
    void operator()(const plan::LaunchStep&) const { map.add("launch", "again"); }
};

void add_player(source::BlockYaml& yaml, const plan::Plan& plan, const plan::RoutePlayer& player) {
    if (player.kind) yaml.entry("as", plan.players[player.kind].name);
    if (player.steps.empty()) {
        yaml.entry("steps", "[]");
        return;
    }
    yaml.begin("steps");
    for (const plan::RouteStep& step : player.steps) yaml.element(step_yaml(plan, player, step));
    yaml.end();
}

std::string start_yaml(const plan::Plan& plan, const plan::Start& start) {
    FlowMap map;
    map.add("level", plan.levels[start.level].name);
    if (start.at) map.add("waypoint", plan.waypoints[start.at].name);
    if (!start.facts.empty()) map.add("facts", facts_yaml(plan, start.facts));
    if (start.saved) map.add("saved", facts_yaml(plan, *start.saved));
    if (start.checkpoint) map.add("checkpoint", entry_yaml(plan, *start.checkpoint));
    if (!start.loaded.empty())
        map.add("loaded", source::flow_list(plan::names_in(plan.levels, start.loaded)));
    return map.text();
}

} // namespace

std::string step_yaml(const plan::Plan& plan, const plan::RoutePlayer& player,
                      const plan::RouteStep& step) {
    FlowMap map;
    std::visit(StepWriter{plan, player, map}, step.what);
    if (step.turn > 0) map.add("turn", std::to_string(step.turn));
    return map.text();
}

void add_route(source::BlockYaml& yaml, const plan::Plan& plan, const plan::Route& route) {
    yaml.begin(route.name);
    if (route.edition) yaml.entry("edition", plan.editions[route.edition].name);
    yaml.entry("start", start_yaml(plan, route.start));
    if (route.unhurried) yaml.entry("unhurried", "true");
    if (route.players.size() == 1) {
        add_player(yaml, plan, route.players.front());
    } else {
        yaml.begin("players");
        for (const plan::RoutePlayer& player : route.players) {
            yaml.begin(player.name);
            add_player(yaml, plan, player);
            yaml.end();
        }
        yaml.end();
    }
    yaml.end();
}

} // namespace hestrel::tables
