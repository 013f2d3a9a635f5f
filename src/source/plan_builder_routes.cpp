// Rules, limits, editions and routes.

#include "source/plan_builder.hpp"

#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/step_name.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace hestrel::source {

namespace {

constexpr std::int64_t most_counted = 1'000'000;

/// What a rule says, on one line.
std::string text_of_rule(const Fields& fields) {
    std::string text;
    for (const std::string_view key : {"exactly", "at-least", "at-most", "of", "never-together",
                                       "never", "when", "during-switches", "longer-than"}) {
        const Value value = fields[key];
        if (!value) continue;
        text += (text.empty() ? "" : ", ") + std::string(key) + ": ";
        if (value.is_scalar()) {
            text += value.text();
        } else if (value.is_sequence()) {
            std::vector<std::string> names;
            for (const Value& each : value.elements()) names.emplace_back(each.text());
            text += "[" + plan::joined(names) + "]";
        }
    }
    return text;
}

} // namespace

void PlanBuilder::read_rule(const Value& value) {
    using Kind = plan::Rule::Kind;
    constexpr std::array<std::pair<std::string_view, Kind>, 5> kinds{
        {{"exactly", Kind::exactly},
         {"at-least", Kind::at_least},
         {"at-most", Kind::at_most},
         {"never-together", Kind::never_together},
         {"never", Kind::never}}};
    const Fields fields = reading_.fields(value, keys::rule);
    plan::Rule rule;
    rule.place = value.place();
    int said = 0;
    for (const auto& [key, kind] : kinds) {
        if (!fields.has(key)) continue;
        rule.kind = kind;
        ++said;
    }
    if (said != 1 && value.is_mapping()) {
        reading_.wrong_value(
            value, "a rule says one of exactly, at-least, at-most, never-together and never");
    }
    const bool counts = fields.has("exactly") || fields.has("at-least") || fields.has("at-most");
    for (const std::string_view key : {"exactly", "at-least", "at-most"}) {
        reading_.count(fields[key], 0, most_counted, rule.count);
    }
    if (counts != fields.has("of"))
        reading_.wrong_value(value, "`of` says what exactly, at-least or at-most counts");
    const std::vector<plan::WordId> counted = words(fields["of"], "provides");
    if (!counted.empty()) rule.of = counted.front();
    rule.levels = read_all_levels(fields["never-together"]);
    rule.condition = condition(fields["never"]);
    rule.when = condition(fields["when"]);
    reading_.flag(fields["during-switches"], rule.during_switches);
    reading_.flag(fields["settled"], rule.settled);
    if (fields.has("longer-than")) reading_.time(fields["longer-than"], rule.longer_than.emplace());
    if (fields.has("during-switches") && !rule.can_rest())
        reading_.wrong_value(fields["during-switches"],
                             "only rules of exactly and at-least rest during switches");
    rule.text = text_of_rule(fields);
    const plan::RuleId id = plan_.rules.push(std::move(rule));
    allow(fields, ThingKind::rule, id.value);
}

void PlanBuilder::read_purpose(const Value& value, plan::PurposeId id) {
    const Fields fields = reading_.fields(value, keys::purpose);
    allow(fields, ThingKind::purpose, id.value);
    plan_.purposes[id].needs = words(fields["needs"], "needs");
    for (const plan::WordId need : plan_.purposes[id].needs) {
        if (plan_.words[need] == "way-in") plan_.way_in = need;
    }
}

/// What levels' purposes need is judged as rules are, after those of the plan.
void PlanBuilder::add_contents() {
    for (const plan::LevelId id : plan_.levels.ids()) {
        const plan::PurposeId purpose = plan_.levels[id].purpose;
        if (!purpose || plan_.purposes[purpose].needs.empty()) continue;
        plan::Rule rule;
        rule.place = plan_.levels[id].place;
        rule.text = plan_.levels[id].name + " is " + plan_.purposes[purpose].name;
        rule.kind = plan::Rule::Kind::contents;
        rule.levels = {id};
        plan_.rules.push(std::move(rule));
    }
}

void PlanBuilder::read_limits(const Value& value) {
    const Fields fields = reading_.fields(value, keys::limits);
    plan::Limits& limits = plan_.limits;
    double headroom = 0;
    if (reading_.quantity(fields["headroom"], &parse_share, "a share", headroom))
        limits.headroom = headroom;
    const auto limit = [&](std::string_view key, std::optional<plan::Micros>& into) {
        if (!fields.has(key)) return;
        into.emplace();
        reading_.time(fields[key], *into);
    };
    limit("gap", limits.gap);
    limit("stall", limits.stall);
    limit("hitch", limits.hitch);
    limit("longest-frame", limits.longest_frame);
    limit("slack", limits.slack);
    limit("others", limits.others);
    reading_.time(fields["walk"], limits.walk);
}

void PlanBuilder::read_edition(const Value& value, plan::EditionId id) {
    plan::Edition& edition = plan_.editions[id];
    const Fields fields = reading_.fields(value, keys::edition);
    allow(fields, ThingKind::edition, id.value);
    const Value levels = fields["levels"];
    const std::vector<Value> listed =
        levels.is_scalar() ? std::vector{levels} : reading_.list(levels, "a list of levels");
    for (const Value& each : listed) {
        Levels read;
        read_level_or_group(each, OneOf::all, read);
        for (const plan::LevelId level : read.levels) {
            edition.levels.push_back(level);
            edition.level_places.push_back(each.place());
        }
    }
    read_parcels(fields["parcels"], edition);
}

void PlanBuilder::read_parcels(const Value& value, plan::Edition& edition) {
    Names<plan::WordId> parcels("parcel", edition.name);
    for (const Value& each : reading_.list(value, "a list of parcels")) {
        if (!each.is_mapping()) {
            reading_.wrong_value(each, fmt::format("expected a parcel {{name: [levels]}}, found {}",
                                                   each.description()));
            continue;
        }
        reading_.named(
            each, "levels", [&](std::string_view name, plan::Place place, const Value& levels) {
                reading_.define(parcels, name, plan::WordId{edition.parcels.size()}, place);
                edition.parcels.push_back({{std::string(name), place}, read_all_levels(levels)});
            });
    }
}

// --- routes ------------------------------------------------------------------

void PlanBuilder::read_route(const Value& value, plan::RouteId id) {
    plan::Route& route = plan_.routes[id];
    const Fields fields = reading_.fields(value, keys::route);
    allow(fields, ThingKind::route, id.value);
    if (!plan_.editions.empty()) route.edition = plan::EditionId{0};
    if (fields.has("edition")) route.edition = reading_.reference(fields["edition"], editions_);
    if (route.edition && !plan_.editions[route.edition].levels.empty()) {
        route.start.level = plan_.editions[route.edition].levels.front();
    }
    read_start(fields["start"], route);
    if (!route.start.level && !fields.has("start")) {
        reading_.error(
            "missing-key", route.place,
            fmt::format(
                "route {} starts nowhere: it needs a start level, or an edition to start in",
                route.name));
    }
    const plan::PlayerKindId first =
        plan_.players.empty() ? plan::PlayerKindId{} : plan::PlayerKindId{0};
    if (value.is_mapping() && fields.has("steps") == fields.has("players")) {
        reading_.error("missing-key", route.place,
                       fmt::format("route {} needs steps, or players with steps", route.name));
    }
    reading_.flag(fields["unhurried"], route.unhurried);
    if (fields.has("players") && fields.has("as")) {
        reading_.wrong_value(fields["as"], "with several players, each says for itself what it is");
    }
    if (!fields.has("players")) {
        plan::RoutePlayer player{{"player", route.place}, first, {}};
        if (fields.has("as")) player.kind = reading_.reference(fields["as"], players_);
        read_route_steps(fields["steps"], player);
        route.players.push_back(std::move(player));
        read_machines(fields, route);
        return;
    }
    reading_.named(fields["players"], "players",
                   [&](std::string_view name, plan::Place place, const Value& body) {
                       plan::RoutePlayer player{{std::string(name), place}, first, {}};
                       const Fields of_player = reading_.fields(body, keys::route_player);
                       if (of_player.has("as"))
                           player.kind = reading_.reference(of_player["as"], players_);
                       read_route_steps(of_player["steps"], player);
                       route.players.push_back(std::move(player));
                   });
    if (route.players.empty()) reading_.wrong_value(fields["players"], "nobody walks this route");
    check_launches(route);
    read_machines(fields, route);
}

void PlanBuilder::read_machines(const Fields& fields, plan::Route& route) {
    const Value network = fields["network"];
    if (network && !fields.has("machines"))
        reading_.wrong_value(network, "a network is between machines, and this route has none");
    reading_.quantity(reading_.fields(network, keys::network)["delay"], &parse_share,
                      "a share, such as 0.3 or 30%", route.delay_spread);
    if (!fields.has("machines")) return;
    const std::size_t errors_before = reading_.findings().size();
    std::vector<std::pair<Value, plan::MachineId>> bodies;
    reading_.named(fields["machines"], "machines",
                   [&](std::string_view name, plan::Place place, const Value& body) {
                       plan::Machine machine;
                       machine.name = std::string(name);
                       machine.place = place;
                       bodies.emplace_back(body, route.machines.push(std::move(machine)));
                   });
    for (const auto& [body, id] : bodies) read_machine(body, route, id);
    if (reading_.findings().size() == errors_before) check_machines(fields, route);
}

void PlanBuilder::read_machine(const Value& value, plan::Route& route, plan::MachineId id) {
    plan::Machine& machine = route.machines[id];
    const Fields fields = reading_.fields(value, keys::machine);
    const Value device = fields["device"];
    if (device && !(device.is_scalar() && device.text() == "any"))
        machine.device = reading_.reference(device, devices_);
    const Value players = fields["players"];
    for (const Value& each : players.is_scalar() && !players.is_null()
                                 ? std::vector{players}
                                 : reading_.list(players, "a list of players")) {
        const auto found = std::find_if(
            route.players.begin(), route.players.end(),
            [&](const plan::RoutePlayer& player) { return player.name == each.text(); });
        if (found == route.players.end()) {
            std::vector<std::string_view> known;
            for (const plan::RoutePlayer& player : route.players) known.push_back(player.name);
            reading_.error("unknown-name", each.place(),
                           fmt::format("{} has no player {}{}", route.name, each.description(),
                                       reading_.hint(each.text(), known)));
            continue;
        }
        const auto player = static_cast<std::uint32_t>(found - route.players.begin());
        for (const plan::Machine& other : route.machines) {
            if (plan::contains(other.players, player))
                reading_.wrong_value(each,
                                     fmt::format("{} sits at {} already", each.text(), other.name));
        }
        machine.players.push_back(player);
    }
    std::sort(machine.players.begin(), machine.players.end());
    reading_.time(fields["delay"], machine.delay);
    reading_.time(fields["joins"], machine.joins);
    reading_.flag(fields["headless"], machine.headless);
    const bool keeps_game = id.value == 0;
    if (keeps_game && machine.delay.count > 0)
        reading_.wrong_value(fields["delay"], "the first machine keeps the game: it has no delay");
    if (keeps_game && machine.joins.count > 0)
        reading_.wrong_value(fields["joins"],
                             "the first machine keeps the game: it is there first");
    if (!machine.headless) return;
    if (!keeps_game)
        reading_.wrong_value(fields["headless"],
                             "only the first machine can be headless: it keeps the game");
    if (!machine.players.empty())
        reading_.wrong_value(fields["headless"], "nobody can sit at a machine that shows nothing");
}

/// What they are together.
void PlanBuilder::check_machines(const Fields& fields, const plan::Route& route) {
    constexpr std::size_t most_machines = 64;
    const Value machines = fields["machines"];
    if (route.machines.empty()) {
        reading_.wrong_value(machines, "a session has at least one machine");
        return;
    }
    if (route.machines.size() > most_machines)
        reading_.wrong_value(machines, fmt::format("a session has at most {} machines, this one {}",
                                                   most_machines, route.machines.size()));
    for (std::uint32_t player = 0; player < route.players.size(); ++player) {
        const bool sits = std::any_of(
            route.machines.begin(), route.machines.end(),
            [&](const plan::Machine& each) { return plan::contains(each.players, player); });
        if (!sits)
            reading_.wrong_value(machines,
                                 fmt::format("{} sits at no machine", route.players[player].name));
    }
    const auto of_any_device =
        std::count_if(route.machines.begin(), route.machines.end(),
                      [](const plan::Machine& each) { return !each.device; });
    if (of_any_device > 2)
        reading_.wrong_value(
            machines, fmt::format("at most two machines are of any device, not {}", of_any_device));
    if (route.unhurried)
        reading_.wrong_value(fields["unhurried"],
                             "an unhurried route is played on one machine, without machines");
    for (const plan::RoutePlayer& player : route.players) {
        for (const plan::RouteStep& step : player.steps) {
            if (std::holds_alternative<plan::LaunchStep>(step.what))
                reading_.error("wrong-value", step.place,
                               "a session over several machines is not launched again");
        }
    }
}

/// When the game is launched again is said by one player.
void PlanBuilder::check_launches(const plan::Route& route) {
    const plan::RoutePlayer* by = nullptr;
    for (const plan::RoutePlayer& player : route.players) {
        for (const plan::RouteStep& step : player.steps) {
            if (!std::holds_alternative<plan::LaunchStep>(step.what)) continue;
            if (by != nullptr && by != &player) {
                reading_.error("wrong-value", step.place,
                               fmt::format("{} launches the game again already: the steps of one "
                                           "player say when",
                                           by->name));
                return;
            }
            by = &player;
        }
    }
}

void PlanBuilder::read_start(const Value& value, plan::Route& route) {
    const Fields fields = reading_.fields(value, keys::start);
    read_start_of_game(fields, route.start);
    if (fields.has("level")) route.start.level = reading_.reference(fields["level"], levels_);
    if (value && !fields.has("level") && !route.start.level)
        reading_.wrong_value(value, "this start names no level");
    if (fields.has("waypoint")) {
        route.start.at = reading_.reference(fields["waypoint"], waypoints_);
        if (fields.has("at"))
            reading_.wrong_value(fields["at"], "a start is at an entry or at a waypoint, not both");
        return;
    }
    if (!route.start.level) return;
    route.start.at = entry_of(fields["at"], route.start.level);
    if (!fields.has("at")) route.start.at = plan::first_entry(plan_.levels[route.start.level]);
}

/// What the game is like there, apart from where players are.
void PlanBuilder::read_start_of_game(const Fields& fields, plan::Start& start) {
    start.facts = read_start_facts(fields["facts"]);
    if (fields.has("saved")) {
        start.saved = read_start_facts(fields["saved"]);
        for (const plan::Assignment& each : *start.saved) {
            const plan::Fact& fact = plan_.facts[each.fact];
            if (fact.lifetime != plan::Lifetime::saved) {
                reading_.error(
                    "wrong-value", each.place,
                    fmt::format("{} is never saved: its lifetime is another", fact.name));
            }
        }
    }
    if (fields.has("checkpoint")) {
        const auto [level, at] = level_entry(fields["checkpoint"]);
        if (level) start.checkpoint = plan::Checkpoint{level, at};
    }
    start.loaded = read_levels_to_ask_for(fields["loaded"]);
}

/// Values as they are: with a sign they are no sums.
std::vector<plan::Assignment> PlanBuilder::read_start_facts(const Value& value) {
    std::vector<plan::Assignment> facts = read_assignments(value);
    for (plan::Assignment& each : facts) {
        each.adds = false;
        const plan::Fact& fact = plan_.facts[each.fact];
        if (fact.initial.kind != plan::ValueKind::number || !fact.range) continue;
        const auto [least, most] = *fact.range;
        if (each.value.number >= static_cast<double>(least) &&
            each.value.number <= static_cast<double>(most))
            continue;
        reading_.error("wrong-value", each.place,
                       fmt::format("{} is from {} to {}, never {}", fact.name, least, most,
                                   each.value.number));
    }
    return facts;
}

void PlanBuilder::read_route_steps(const Value& value, plan::RoutePlayer& player) {
    for (const Value& each : reading_.list(value, "a list of route steps")) {
        if (auto step = read_route_step(each, player)) player.steps.push_back(std::move(*step));
    }
}

double PlanBuilder::read_speed(const Value& value, const plan::RoutePlayer& player,
                               plan::Place place) {
    if (!player.kind || plan_.players[player.kind].speeds.empty()) {
        reading_.error("wrong-value", place,
                       "nobody can go anywhere: the route's player has no speeds");
        return 1;
    }
    const auto& speeds = plan_.players[player.kind].speeds;
    if (!value) return speeds.front().metres_per_second;
    std::vector<std::string_view> known;
    reading_.mention("speed", plan_.players[player.kind].name, value.text(),
                     {value.place(), value.text()});
    for (const plan::Speed& speed : speeds) {
        if (speed.name == value.text()) return speed.metres_per_second;
        known.push_back(speed.name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} has no speed {}{}", plan_.players[player.kind].name,
                               value.description(), reading_.hint(value.text(), known)));
    return 1;
}

plan::PathId PlanBuilder::read_along(const Value& value, plan::WaypointId to) {
    if (!value) return {};
    std::int64_t number = -1;
    reading_.count(value, 0, most_counted, number);
    if (number < 0) return {};
    if (static_cast<std::size_t>(number) >= plan_.paths.size()) {
        reading_.wrong_value(value, fmt::format("there is no path {}: the plan has {}, from 0",
                                                number, plan_.paths.size()));
        return {};
    }
    const plan::PathId id{static_cast<std::uint32_t>(number)};
    const plan::Path& path = plan_.paths[id];
    if (to && path.to != to && (path.one_way || path.from != to)) {
        reading_.wrong_value(
            value, fmt::format("path {} does not lead to {}", number, plan_.waypoints[to].name));
        return {};
    }
    return id;
}

std::optional<plan::RouteStep> PlanBuilder::read_route_step(const Value& value,
                                                            const plan::RoutePlayer& player) {
    const Fields fields = reading_.fields(value, keys::route_step);
    const std::string_view name = step_name(reading_, value, fields, keys::route_step);
    if (name.empty()) return std::nullopt;
    plan::RouteStep step{value.place(), {}, 0, {}};
    for (const char* beside : {"speed", "along"}) {
        if (name != "go" && fields.has(beside))
            reading_.wrong_value(fields[beside], fmt::format("{} takes no {}", name, beside));
    }
    std::int64_t turn = 0;
    reading_.count(fields["turn"], 0, most_counted, turn);
    step.turn = static_cast<std::uint32_t>(turn);
    step.when = condition(fields["when"]);
    if (name == "go") {
        const plan::WaypointId to = reading_.reference(fields["go"], waypoints_);
        step.what = plan::GoStep{to, read_speed(fields["speed"], player, value.place()),
                                 read_along(fields["along"], to)};
    } else if (name == "after") {
        step.what = plan::AfterStep{reading_.reference(fields["after"], menus_)};
    } else if (name == "pause") {
        plan::PauseStep pause;
        reading_.time(fields["pause"], pause.time);
        step.what = pause;
    } else if (name == "pick") {
        const std::vector<plan::WordId> picked = words(fields["pick"], "branch");
        if (picked.empty()) return std::nullopt;
        step.what = plan::PickStep{picked.front()};
    } else if (name == "until") {
        step.what = plan::UntilStep{condition(fields["until"], Asker::route)};
    } else if (name == "expect") {
        step.what = read_expect(fields["expect"]);
    } else if (name == "launch") {
        if (!only_word(fields["launch"], name, keys::route_step)) return std::nullopt;
        step.what = plan::LaunchStep{};
    } else if (name == "set") {
        step.what = plan::RouteSetStep{read_assignments(fields["set"])};
    } else {
        const auto item = read_press(fields["press"]);
        if (!item) return std::nullopt;
        step.what = plan::PressStep{*item};
    }
    return step;
}

plan::ExpectStep PlanBuilder::read_expect(const Value& value) {
    plan::ExpectStep expect;
    if (value.is_scalar() && value.text() == "now") return expect;
    if (!value.is_mapping()) {
        expect.condition = condition(value, Asker::route);
        return expect;
    }
    const Fields fields = reading_.fields(value, keys::expect);
    expect.condition = condition(fields["that"], Asker::route);
    if (fields.has("within")) reading_.time(fields["within"], expect.within.emplace());
    return expect;
}

std::optional<plan::ItemId> PlanBuilder::read_press(const Value& value) {
    const auto pressed = dotted(value, "menu.item");
    if (!pressed) return std::nullopt;
    const plan::MenuId menu =
        reading_.lookup(pressed->owner, {value.place(), value.text()}, menus_);
    if (!menu) return std::nullopt;
    const std::string_view wanted = pressed->name;
    reading_.mention("item", pressed->owner, wanted, pressed->spot_of_name);
    std::vector<std::string_view> known;
    for (const plan::ItemId item : plan_.menus[menu].items) {
        if (plan_.items[item].name == wanted) return item;
        known.push_back(plan_.items[item].name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("menu {} has no item \"{}\"{}", plan_.menus[menu].name, wanted,
                               reading_.hint(wanted, known)));
    return std::nullopt;
}

} // namespace hestrel::source
