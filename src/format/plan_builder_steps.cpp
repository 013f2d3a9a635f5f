#include "format/plan_builder.hpp"

#include <algorithm>
#include <array>

namespace hestrel::format {

using plan::LevelId;

namespace {

constexpr std::array<std::string_view, 3> priorities{"now", "soon", "later"};
constexpr std::array<std::string_view, 2> orders{"load-first", "free-first"};
/// Keys that stand beside the key that names a step, and the steps they may stand beside.
constexpr std::array<std::string_view, 2> takes_priority{"load", "show"};

} // namespace

plan::ListId PlanBuilder::read_steps(const Value& value, plan::StepList list) {
    for (const Value& each : reading_.list(value, "a list of steps")) {
        if (auto step = read_step(each)) list.steps.push_back(std::move(*step));
    }
    return plan_.lists.push(std::move(list));
}

/// The one key of a step that names it; a finding where there is not exactly one.
static std::string_view step_name(Reading& reading, const Value& value, const Fields& fields,
                                  const ObjectKeys& keys,
                                  std::span<const std::string_view> beside) {
    std::string_view name;
    for (const Key& key : keys.keys) {
        if (!fields.has(key.name)) continue;
        if (std::find(beside.begin(), beside.end(), key.name) != beside.end()) continue;
        if (!name.empty()) {
            reading.wrong_value(value, fmt::format("one step can't be both {} and {}; make it two",
                                                   name, key.name));
            return {};
        }
        name = key.name;
    }
    if (name.empty() && value.is_mapping())
        reading.wrong_value(value, "this step says nothing to do");
    return name;
}

std::optional<plan::Step> PlanBuilder::read_step(const Value& value) {
    constexpr std::array<std::string_view, 2> beside{"priority", "at-most"};
    const Fields fields = reading_.fields(value, keys::step);
    const std::string_view name = step_name(reading_, value, fields, keys::step, beside);
    if (name.empty()) return std::nullopt;

    plan::Priority priority = plan::Priority::soon;
    if (const auto word = reading_.word(fields["priority"], priorities)) {
        priority = static_cast<plan::Priority>(*word);
        if (std::find(takes_priority.begin(), takes_priority.end(), name) == takes_priority.end()) {
            reading_.wrong_value(fields["priority"], fmt::format("{} takes no priority", name));
        }
    }
    const bool waits_for_something = name == "wait" && fields["wait"].is_mapping();
    if (fields.has("at-most") && !waits_for_something) {
        reading_.wrong_value(fields["at-most"], "at-most stands beside a wait for something");
    }
    const auto levels = [&] { return reading_.references(fields[name], levels_); };
    plan::Step step{value.place(), {}};
    if (name == "load") {
        step.what = plan::LoadStep{levels(), priority};
    } else if (name == "show") {
        step.what = plan::ShowStep{levels(), priority};
    } else if (name == "hide") {
        step.what = plan::HideStep{levels()};
    } else if (name == "unload") {
        step.what = plan::UnloadStep{levels()};
    } else if (name == "keep-only") {
        step.what = plan::KeepOnlyStep{levels()};
    } else if (name == "wait") {
        step.what = read_wait(fields);
    } else if (name == "switch") {
        step.what = read_switch(fields["switch"]);
    } else {
        const plan::VeilId veil = reading_.reference(fields[name], veils_);
        if (name == "veil") {
            step.what = plan::VeilStep{veil};
        } else {
            step.what = plan::UnveilStep{veil};
        }
    }
    return step;
}

plan::WaitStep PlanBuilder::read_wait(const Fields& fields) {
    plan::WaitStep wait;
    const Value value = fields["wait"];
    if (!value.is_mapping()) {
        wait.time.emplace();
        reading_.time(value, *wait.time);
        return wait;
    }
    const Fields levels = reading_.fields(value, keys::wait);
    if (levels.has("shown") == levels.has("ready")) {
        reading_.wrong_value(value, "a wait is for a time, for levels shown, or for levels ready");
    }
    wait.awaited = levels.has("ready") ? plan::Awaited::ready : plan::Awaited::shown;
    wait.levels = reading_.references(levels[levels.has("ready") ? "ready" : "shown"], levels_);
    if (fields.has("at-most")) {
        wait.at_most.emplace();
        reading_.time(fields["at-most"], *wait.at_most);
    }
    return wait;
}

plan::WaypointId PlanBuilder::entry_of(const Value& value, LevelId level) {
    if (!value || !level) return {};
    const auto& entries = plan_.levels[level].entries;
    std::vector<std::string_view> known;
    for (const plan::Entry& entry : entries) {
        if (entry.name == value.text()) return entry.waypoint;
        known.push_back(entry.name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} has no entry {}{}", plan_.levels[level].name,
                               value.description(), hint(value.text(), known)));
    return {};
}

plan::SwitchStep PlanBuilder::read_switch(const Value& value) {
    plan::SwitchStep step;
    const Fields fields = reading_.fields(value, keys::switch_step);
    step.to = reading_.reference(fields["to"], levels_);
    step.at = entry_of(fields["at"], step.to);
    step.with = reading_.references(fields["with"], levels_);
    if (const auto word = reading_.word(fields["order"], orders)) {
        step.order = static_cast<plan::SwitchOrder>(*word);
    }
    step.veil = reading_.reference(fields["veil"], veils_);
    reading_.flag(fields["blocking"], step.blocking);
    reading_.flag(fields["reuse"], step.reuse);
    return step;
}

// --- routes
// ------------------------------------------------------------------------------------------

void PlanBuilder::read_route(const Value& value, plan::Route& route) {
    const Fields fields = reading_.fields(value, keys::route);
    if (!plan_.editions.empty()) route.edition = plan::EditionId{0};
    if (fields.has("edition")) route.edition = reading_.reference(fields["edition"], editions_);
    if (!plan_.players.empty()) route.player = plan::PlayerKindId{0};
    if (fields.has("as")) route.player = reading_.reference(fields["as"], players_);
    if (route.edition && !plan_.editions[route.edition].levels.empty()) {
        route.start_level = plan_.editions[route.edition].levels.front();
    }
    read_start(fields["start"], route);
    if (!route.start_level && !fields.has("start")) {
        reading_.error(
            "missing-key", route.place,
            fmt::format(
                "route {} starts nowhere: it needs a start level, or an edition to start in",
                route.name));
    }
    for (const Value& each : reading_.list(fields["steps"], "a list of route steps")) {
        if (auto step = read_route_step(each, route)) route.steps.push_back(*step);
    }
}

void PlanBuilder::read_start(const Value& value, plan::Route& route) {
    const Fields fields = reading_.fields(value, keys::start);
    if (fields.has("level")) route.start_level = reading_.reference(fields["level"], levels_);
    if (value && !fields.has("level") && !route.start_level) {
        reading_.wrong_value(value, "this start names no level");
    }
    if (fields.has("waypoint")) {
        route.start_at = reading_.reference(fields["waypoint"], waypoints_);
        if (fields.has("at"))
            reading_.wrong_value(fields["at"], "a start is at an entry or at a waypoint, not both");
        return;
    }
    if (!route.start_level) return;
    route.start_at = entry_of(fields["at"], route.start_level);
    const auto& entries = plan_.levels[route.start_level].entries;
    if (!fields.has("at") && !entries.empty()) route.start_at = entries.front().waypoint;
}

double PlanBuilder::read_speed(const Value& value, const plan::Route& route, plan::Place place) {
    if (!route.player || plan_.players[route.player].speeds.empty()) {
        reading_.error("wrong-value", place,
                       "nobody can go anywhere: the route's player has no speeds");
        return 1;
    }
    const auto& speeds = plan_.players[route.player].speeds;
    if (!value) return speeds.front().metres_per_second;
    std::vector<std::string_view> known;
    for (const plan::Speed& speed : speeds) {
        if (speed.name == value.text()) return speed.metres_per_second;
        known.push_back(speed.name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} has no speed {}{}", plan_.players[route.player].name,
                               value.description(), hint(value.text(), known)));
    return 1;
}

std::optional<plan::RouteStep> PlanBuilder::read_route_step(const Value& value,
                                                            const plan::Route& route) {
    constexpr std::array<std::string_view, 1> beside{"speed"};
    const Fields fields = reading_.fields(value, keys::route_step);
    const std::string_view name = step_name(reading_, value, fields, keys::route_step, beside);
    if (name.empty()) return std::nullopt;
    plan::RouteStep step{value.place(), {}};
    if (name != "go" && fields.has("speed")) {
        reading_.wrong_value(fields["speed"], fmt::format("{} takes no speed", name));
    }
    if (name == "go") {
        const plan::WaypointId to = reading_.reference(fields["go"], waypoints_);
        step.what = plan::GoStep{to, read_speed(fields["speed"], route, value.place())};
        return step;
    }
    if (name == "pause") {
        plan::PauseStep pause;
        reading_.time(fields["pause"], pause.time);
        step.what = pause;
        return step;
    }
    const Value press = fields["press"];
    const std::size_t dot = press.text().find('.');
    if (dot == std::string_view::npos) {
        reading_.wrong_value(press,
                             fmt::format("expected menu.item, found {}", press.description()));
        return std::nullopt;
    }
    const plan::MenuId menu = reading_.lookup(press.text().substr(0, dot), press.place(), menus_);
    if (!menu) return std::nullopt;
    const std::string_view wanted = press.text().substr(dot + 1);
    std::vector<std::string_view> known;
    for (const plan::ItemId item : plan_.menus[menu].items) {
        if (plan_.items[item].name == wanted) {
            step.what = plan::PressStep{item};
            return step;
        }
        known.push_back(plan_.items[item].name);
    }
    reading_.error("unknown-name", press.place(),
                   fmt::format("menu {} has no item \"{}\"{}", plan_.menus[menu].name, wanted,
                               hint(wanted, known)));
    return std::nullopt;
}

} // namespace hestrel::format
