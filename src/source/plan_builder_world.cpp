// Waypoints, paths, triggers, menus, veils, facts and players.

#include "geometry/space.hpp"
#include "plan/names.hpp"
#include "source/plan_builder.hpp"

#include <algorithm>
#include <array>

namespace hestrel::source {

namespace {

constexpr std::uint32_t most_players = 64;
constexpr std::int64_t largest_fact = 1'000'000'000;
constexpr std::array<std::string_view, 3> axes{"x", "y", "z"};

} // namespace

plan::Space PlanBuilder::space() const {
    return scope_.level ? plan_.levels[scope_.level].space : plan::Space{};
}

void PlanBuilder::read_point(const Value& value, plan::Vec3& into) {
    reading_.point(value, into);
    into = geometry::in_world(space(), into);
}

void PlanBuilder::read_turn(const Value& value, double& turn) {
    constexpr double most = 3600;
    reading_.number(value, turn);
    if (turn >= -most && turn <= most) return;
    reading_.wrong_value(value,
                         fmt::format("{} must be from -3600 to 3600 degrees", value.description()));
    turn = 0;
}

void PlanBuilder::read_waypoint(const Value& value, plan::WaypointId id) {
    plan::Waypoint& waypoint = plan_.waypoints[id];
    waypoint.world = waypoint.home ? plan_.levels[waypoint.home].world : plan::WorldId{0};
    if (value.is_sequence()) {
        read_point(value, waypoint.at);
        return;
    }
    const Fields fields = reading_.fields(value, keys::waypoint);
    allow(fields, ThingKind::waypoint, id.value);
    read_point(fields["at"], waypoint.at);
    if (waypoint.home && fields.has("world")) {
        reading_.wrong_value(fields["world"],
                             "what stands inside a level is in that level's world");
    } else if (!waypoint.home) {
        waypoint.world = world(fields["world"]);
    }
}

plan::PathId PlanBuilder::add_path(plan::Path path) {
    if (!path.from || !path.to) return {};
    if (plan_.waypoints[path.from].world != plan_.waypoints[path.to].world) {
        reading_.error("path-across-worlds", path.place,
                       fmt::format("a path can't lead from {} to {}: they are in different worlds",
                                   plan_.waypoints[path.from].name, plan_.waypoints[path.to].name));
        return {};
    }
    return plan_.paths.push(std::move(path));
}

void PlanBuilder::read_path(const Value& value) {
    plan::Path path;
    path.place = value.place();
    path.home = scope_.level;
    if (value.is_sequence()) {
        const std::vector<Value> points = value.elements();
        if (points.size() < 2) {
            reading_.wrong_value(value, "a path needs at least two waypoints");
            return;
        }
        plan::WaypointId last = reading_.reference(points[0], waypoints_);
        for (std::size_t i = 1; i < points.size(); ++i) {
            path.from = last;
            path.to = last = reading_.reference(points[i], waypoints_);
            add_path(path);
        }
        return;
    }
    const Fields fields = reading_.fields(value, keys::path);
    path.from = reading_.reference(fields["from"], waypoints_);
    path.to = reading_.reference(fields["to"], waypoints_);
    for (const Value& corner : reading_.list(fields["via"], "a list of points")) {
        read_point(corner, path.via.emplace_back());
    }
    path.gate = reading_.reference(fields["gate"], gates_);
    reading_.flag(fields["one-way"], path.one_way);
    double speed = 0;
    if (reading_.quantity(fields["speed"], &parse_speed, "a speed in m/s", speed))
        path.speed = speed;
    if (const plan::PathId id = add_path(std::move(path))) allow(fields, ThingKind::path, id.value);
}

void PlanBuilder::read_gate(const Value& value, plan::GateId id) {
    const Fields fields = reading_.fields(value, keys::gate);
    allow(fields, ThingKind::gate, id.value);
    const Levels needs = read_levels(fields["needs"], OneOf::any);
    plan_.gates[id].needs = needs.levels;
    plan_.gates[id].any_of = needs.any_of;
}

// --- shapes and triggers -----------------------------------------------------

plan::Box PlanBuilder::read_box(const Value& value) {
    plan::Box box;
    const Fields fields = reading_.fields(value, keys::box);
    reading_.point(fields["min"], box.min);
    reading_.point(fields["max"], box.max);
    read_turn(fields["turn"], box.turn);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (box.min[axis] <= box.max[axis]) continue;
        reading_.wrong_value(fields["min"],
                             fmt::format("the box has no inside: its min {} {} is above its max {}",
                                         axes.at(axis), box.min[axis], box.max[axis]));
        std::swap(box.min[axis], box.max[axis]);
    }
    return geometry::in_world(space(), box);
}

plan::Sphere PlanBuilder::read_sphere(const Value& value) {
    plan::Sphere sphere;
    const Fields fields = reading_.fields(value, keys::sphere);
    reading_.point(fields["at"], sphere.at);
    reading_.quantity(fields["radius"], &parse_length, "a distance in m", sphere.radius);
    return geometry::in_world(space(), sphere);
}

plan::Beyond PlanBuilder::read_beyond(const Value& value) {
    plan::Beyond beyond;
    const Fields fields = reading_.fields(value, keys::beyond);
    if (const auto axis = reading_.word(fields["axis"], axes)) beyond.axis = *axis;
    beyond.over = fields.has("over");
    if (value.is_mapping() && fields.has("over") == fields.has("under")) {
        reading_.wrong_value(value, "beyond needs over or under, one of them");
    }
    reading_.quantity(fields[beyond.over ? "over" : "under"], &parse_distance, "a coordinate in m",
                      beyond.limit);
    const auto there = geometry::in_world(space(), beyond);
    if (!there) {
        reading_.wrong_value(value, fmt::format("beyond along {} can't be said in a level that is "
                                                "turned by {} degrees: only by multiples of 90",
                                                axes.at(beyond.axis), space().turn));
    }
    return there.value_or(beyond);
}

plan::Shape PlanBuilder::read_shape(const Value& value, const Fields& fields) {
    const int shapes =
        int{fields.has("box")} + int{fields.has("sphere")} + int{fields.has("beyond")};
    if (shapes > 1) reading_.wrong_value(value, "a trigger has one shape: box, sphere or beyond");
    if (fields.has("box")) return read_box(fields["box"]);
    if (fields.has("sphere")) return read_sphere(fields["sphere"]);
    if (fields.has("beyond")) return read_beyond(fields["beyond"]);
    return {};
}

/// The levels that a trigger or menu belongs to, of one world.
std::vector<plan::LevelId> PlanBuilder::read_in(const Fields& fields, plan::LevelId home) {
    const Value value = fields["in"];
    if (home) {
        if (value) {
            reading_.wrong_value(value, fmt::format("what stands inside {} belongs to it, to no "
                                                    "other",
                                                    plan_.levels[home].name));
        }
        return {home};
    }
    std::vector<plan::LevelId> in = read_all_levels(value);
    std::sort(in.begin(), in.end());
    in.erase(std::unique(in.begin(), in.end()), in.end());
    for (const plan::LevelId level : in) {
        if (plan_.levels[level].world == plan_.levels[in.front()].world) continue;
        reading_.wrong_value(value,
                             fmt::format("{} and {} are in different worlds",
                                         plan_.levels[in.front()].name, plan_.levels[level].name));
        return {in.front()};
    }
    return in;
}

/// The list of something that belongs to levels, still empty.
plan::StepList PlanBuilder::list_of(plan::OwnerKind owner, std::uint32_t index,
                                    const std::vector<plan::LevelId>& in) {
    plan::StepList list;
    list.owner = owner;
    list.index = index;
    if (!in.empty()) list.level = in.front();
    if (in.size() > 1) list.levels = in;
    return list;
}

void PlanBuilder::read_trigger(const Value& value, plan::TriggerId id) {
    plan::Trigger& trigger = plan_.triggers[id];
    const Fields fields = reading_.fields(value, keys::trigger);
    allow(fields, ThingKind::trigger, id.value);
    trigger.in = read_in(fields, trigger.home);
    trigger.world = trigger.in.empty() ? plan::WorldId{0} : plan_.levels[trigger.in.front()].world;
    trigger.shape = read_shape(value, fields);
    const bool shapeless = std::holds_alternative<std::monostate>(trigger.shape);
    trigger.fires = shapeless ? plan::Fires::when_true : plan::Fires::on_enter;
    if (const auto fires = reading_.word(fields["fires"], plan::firing_names)) {
        trigger.fires = static_cast<plan::Fires>(*fires);
        if (shapeless != (trigger.fires == plan::Fires::when_true)) {
            reading_.wrong_value(fields["fires"],
                                 shapeless
                                     ? "a trigger without a shape fires when-true, and no other way"
                                     : "when-true is for triggers without a shape");
        }
    }
    if (shapeless && value.is_mapping() && !fields.has("when")) {
        reading_.wrong_value(value, "a trigger needs a shape, or a condition to fire by");
    }
    trigger.tags = words(fields["for"], "tag");
    trigger.when = condition(fields["when"]);
    reading_.flag(fields["once"], trigger.once);
    reading_.time(fields["rearm"], trigger.rearm);
    const plan::ListId steps =
        read_steps(fields["steps"], list_of(plan::OwnerKind::trigger, id.value, trigger.in));
    plan_.triggers[id].steps = steps;
}

// --- menus, veils ------------------------------------------------------------

void PlanBuilder::read_menu(const Fields& fields, plan::MenuId id, plan::LevelId home) {
    plan::Menu& menu = plan_.menus[id];
    allow(fields, ThingKind::menu, id.value);
    menu.in = read_in(fields, home);
    reading_.flag(fields["pauses"], menu.pauses);
    if (!fields.has("after")) return;
    const Fields after = reading_.fields(fields["after"], keys::after);
    menu.after = plan::AfterMenu{fields["after"].place(), {}, {}};
    reading_.time(after["delay"], menu.after->delay);
    menu.after->steps =
        read_steps(after["steps"], list_of(plan::OwnerKind::after, id.value, menu.in));
}

void PlanBuilder::read_item(const Value& value, plan::ItemId id) {
    plan::Item& item = plan_.items[id];
    const Fields fields = reading_.fields(value, keys::item);
    allow(fields, ThingKind::item, id.value);
    item.when = condition(fields["when"]);
    reading_.flag(fields["stays"], item.stays);
    item.steps = read_steps(fields["steps"],
                            list_of(plan::OwnerKind::item, id.value, plan_.menus[item.menu].in));
}

void PlanBuilder::read_veil(const Value& value, plan::VeilId id) {
    plan::Veil& veil = plan_.veils[id];
    const Fields fields = reading_.fields(value.is_null() ? Value{} : value, keys::veil);
    allow(fields, ThingKind::veil, id.value);
    reading_.time(fields["min"], veil.min);
    veil.memory = by_pool(fields["memory"], &parse_memory);
}

// --- facts and players -------------------------------------------------------

bool PlanBuilder::read_value(const Value& value, plan::ValueKind kind, plan::Value& into) {
    if (!value) return false;
    if (reading_.parameter(value.text(), {value.place(), value.text()},
                           {plan::ParameterKind::value}))
        return false;
    into.kind = kind;
    switch (kind) {
    case plan::ValueKind::flag: {
        bool flag = false;
        reading_.flag(value, flag);
        into.number = flag ? 1 : 0;
        return true;
    }
    case plan::ValueKind::number: {
        std::int64_t number = 0;
        reading_.count(value, -largest_fact, largest_fact, number);
        into.number = static_cast<double>(number);
        return true;
    }
    case plan::ValueKind::word: break;
    }
    if (!value.is_scalar() || !is_name(value.text())) {
        reading_.wrong_value(value, fmt::format("expected a word, found {}", value.description()));
        return false;
    }
    reading_.mention("value", {}, value.text(), {value.place(), value.text()});
    into.word = word(value.text(), value.place());
    return true;
}

void PlanBuilder::read_fact(const Value& value, plan::FactId id) {
    plan::Fact& fact = plan_.facts[id];
    const Fields fields = reading_.fields(value, keys::fact);
    allow(fields, ThingKind::fact, id.value);
    const Value initial = fields["initial"];
    plan::ValueKind kind = plan::ValueKind::word;
    if (initial && initial.is_scalar() && initial.is_plain()) {
        if (initial.text() == "true" || initial.text() == "false") kind = plan::ValueKind::flag;
        if (std::holds_alternative<double>(parse_number(initial.text())))
            kind = plan::ValueKind::number;
    }
    read_value(initial, kind, fact.initial);
    fact.initial.kind = kind;
    if (const auto lifetime = reading_.word(fields["lifetime"], plan::lifetime_names)) {
        fact.lifetime = static_cast<plan::Lifetime>(*lifetime);
    }
    fact.of = reading_.reference(fields["of"], levels_);
    if (fact.home && fact.lifetime == plan::Lifetime::level && !fields.has("of"))
        fact.of = fact.home;
    reading_.flag(fields["displayed"], fact.displayed);
    fact.of_each = only_word(fields["of-each"], "of-each", keys::fact);
    if (fields.has("of") && fact.lifetime != plan::Lifetime::level) {
        reading_.wrong_value(fields["of"], "`of` is for facts of lifetime level");
    }
    read_fact_bounds(fields, fact);
}

void PlanBuilder::read_fact_bounds(const Fields& fields, plan::Fact& fact) {
    const plan::ValueKind kind = fact.initial.kind;
    if (fields.has("values")) {
        if (kind != plan::ValueKind::word)
            reading_.wrong_value(fields["values"],
                                 "values are for facts whose initial one is a word");
        fact.values = words(fields["values"], "value");
    }
    if (kind == plan::ValueKind::word && fields["initial"].is_scalar()) {
        const bool listed = std::find(fact.values.begin(), fact.values.end(), fact.initial.word) !=
                            fact.values.end();
        if (fields.has("values") && !listed) {
            reading_.wrong_value(fields["initial"], fmt::format("{} is not one of the values",
                                                                fields["initial"].description()));
        }
        if (!listed && fact.initial.word)
            fact.values.insert(fact.values.begin(), fact.initial.word);
    }
    for (const plan::WordId each : fact.values) {
        if (!values_.find(plan_.words[each])) values_.define(words_.all()[each.value], each, {});
    }
    if (!fields.has("range")) return;
    const std::vector<Value> ends = reading_.list(fields["range"], "a range [least, most]");
    if (kind != plan::ValueKind::number) {
        reading_.wrong_value(fields["range"],
                             "a range is for facts whose initial value is a number");
        return;
    }
    if (ends.size() != 2) {
        if (fields["range"].is_sequence())
            reading_.wrong_value(fields["range"], "expected a range [least, most]");
        return;
    }
    fact.range.emplace(0, 0);
    reading_.count(ends[0], -largest_fact, largest_fact, fact.range->first);
    reading_.count(ends[1], -largest_fact, largest_fact, fact.range->second);
    const auto initial = static_cast<std::int64_t>(fact.initial.number);
    if (fact.range->second < fact.range->first) {
        reading_.wrong_value(fields["range"], "the range's least comes second");
        fact.range.reset();
    } else if (initial < fact.range->first || initial > fact.range->second) {
        reading_.wrong_value(fields["initial"], fmt::format("{} is outside the range",
                                                            fields["initial"].description()));
    }
}

void PlanBuilder::read_player(const Value& value, plan::PlayerKindId id) {
    plan::PlayerKind& player = plan_.players[id];
    const Fields fields = reading_.fields(value, keys::player);
    allow(fields, ThingKind::player, id.value);
    player.tags = words(fields["tags"], "tag");
    reading_.named(
        fields["speeds"], "speeds",
        [&](std::string_view name, plan::Place place, const Value& body) {
            plan::Speed speed{{std::string(name), place}, 0};
            reading_.mention("speed", player.name, name, {place, name}, true);
            if (!reading_.quantity(body, &parse_speed, "a speed in m/s", speed.metres_per_second))
                return;
            player.speeds.push_back(std::move(speed));
        });
    reading_.count(fields["count"], most_players, player.count);
    player.memory = by_pool(fields["memory"], &parse_memory);
}

} // namespace hestrel::source
