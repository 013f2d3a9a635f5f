#include "source/plan_builder.hpp"

#include <algorithm>
#include <type_traits>

namespace hestrel::source {

using plan::LevelId;

PlanBuilder::PlanBuilder(plan::Plan& plan, ReadContext& reading) : plan_(plan), reading_(reading) {
    worlds_.define("main", plan_.worlds.push("main"), {});
    scope_.levels = &plan_.levels;
    scope_.level_called = [this](std::string_view name) { return levels_.find(name); };
}

// --- declaring ---------------------------------------------------------------

void PlanBuilder::declare(const Value& root) {
    const Fields fields = reading_.fields(root, keys::plan);
    const bool main_file = root.place().file == 0;
    std::int64_t version = 1;
    reading_.count(fields["hestrel"], 1, 1, version);
    if (main_file) {
        plan_.place = root.place();
        if (root.is_mapping() && !fields.has("hestrel")) {
            reading_.error("missing-key", root.place(), "a plan needs the key \"hestrel\"");
        }
        reading_.text(fields["name"], plan_.name);
    }
    allow(fields, ThingKind::plan, 0);

    declare_all(fields["devices"], "devices", devices_, plan_.devices, device_bodies_);
    declare_all(fields["kits"], "kits", kits_, plan_.kits, kit_bodies_);
    reading_.named(fields["levels"], "levels",
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       declare_level(name, place, value, {});
                   });
    declare_all(fields["groups"], "groups", groups_, plan_.groups, group_bodies_);
    declare_belongings(fields);
    declare_all(fields["veils"], "veils", veils_, plan_.veils, veil_bodies_);
    declare_all(fields["players"], "players", players_, plan_.players, player_bodies_);
    declare_all(fields["purposes"], "purposes", purposes_, plan_.purposes, purpose_bodies_);
    for (const Value& rule : reading_.list(fields["rules"], "a list of rules"))
        rule_bodies_.push_back(rule);
    declare_all(fields["editions"], "editions", editions_, plan_.editions, edition_bodies_);
    declare_all(fields["routes"], "routes", routes_, plan_.routes, route_bodies_);
    if (fields.has("limits")) limit_bodies_.push_back(fields["limits"]);
}

/// What may stand inside a level as well as outside.
void PlanBuilder::declare_belongings(const Fields& fields) {
    declare_all(fields["waypoints"], "waypoints", waypoints_, plan_.waypoints, waypoint_bodies_);
    declare_all(fields["gates"], "gates", gates_, plan_.gates, gate_bodies_);
    for (const Value& path : reading_.list(fields["paths"], "a list of paths"))
        path_bodies_.emplace_back(path, scope_.level);
    declare_all(fields["triggers"], "triggers", triggers_, plan_.triggers, trigger_bodies_);
    reading_.named(fields["menus"], "menus",
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       declare_menu(name, place, value);
                   });
    declare_all(fields["facts"], "facts", facts_, plan_.facts, fact_bodies_);
    declare_all(fields["lists"], "lists", named_lists_, plan_.named_lists, list_bodies_);
}

template <class Id, class T>
Id PlanBuilder::declare(Names<Id>& names, plan::Table<Id, T>& table, std::string_view name,
                        plan::Place place, ReadContext::Written written) {
    const Id id = table.push({});
    table[id].place = place;
    if constexpr (std::is_base_of_v<plan::Belonging, T>) {
        table[id].home = scope_.level;
        if (scope_.level) {
            table[id].name = reading_.define_inside(names, scope_.level, name, id, place, written);
            return id;
        }
    }
    table[id].name = name;
    reading_.define(names, name, id, place, written);
    return id;
}

template <class Id, class T>
void PlanBuilder::declare_all(const Value& section, std::string_view what, Names<Id>& names,
                              plan::Table<Id, T>& table, std::vector<Body<Id>>& bodies) {
    reading_.named(section, what,
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       bodies.push_back({declare(names, table, name, place), value, scope_.level});
                   });
}

void PlanBuilder::declare_level(std::string_view name, plan::Place place, const Value& value,
                                LevelId parent) {
    const LevelId id = add_level(name, place, parent);
    const Fields fields = reading_.fields(value.is_null() ? Value{} : value, keys::level);
    level_bodies_.emplace_back(id, fields); // before its sublevels, whose world is its own
    reading_.named(fields["sublevels"], "sublevels",
                   [&](std::string_view sublevel, plan::Place where, const Value& body) {
                       declare_level(sublevel, where, body, id);
                   });
    if (fields.has("cells")) declare_cells(fields["cells"], id);
}

LevelId PlanBuilder::add_level(std::string_view name, plan::Place place, LevelId parent,
                               ReadContext::Written written) {
    plan::Level level;
    level.name = name;
    level.place = place;
    level.parent = parent;
    const LevelId id = plan_.levels.push(std::move(level));
    if (parent) plan_.levels[parent].sublevels.push_back(id);
    reading_.define(levels_, name, id, place, written);
    return id;
}

void PlanBuilder::declare_menu(std::string_view name, plan::Place place, const Value& value) {
    const plan::MenuId id = declare(menus_, plan_.menus, name, place);
    const Fields fields = reading_.fields(value, keys::menu);
    Names<plan::ItemId> items("item", reading_.keep(plan_.menus[id].name));
    reading_.named(fields["items"], "items",
                   [&](std::string_view item_name, plan::Place where, const Value& body) {
                       const plan::ItemId item = plan_.items.push({});
                       plan_.items[item].name = item_name;
                       plan_.items[item].place = where;
                       plan_.items[item].menu = id;
                       plan_.menus[id].items.push_back(item);
                       reading_.define(items, item_name, item, where);
                       item_bodies_.push_back({item, body, scope_.level});
                   });
    menu_bodies_.push_back({id, fields, scope_.level});
}

// --- reading -----------------------------------------------------------------

void PlanBuilder::read() {
    for (const auto& [id, fields] : level_bodies_) {
        const InsideLevel inside(scope_, id);
        declare_belongings(fields);
        if (plan_.levels[id].grid) declare_middle(id);
    }
    read_all(device_bodies_, &PlanBuilder::read_device);
    read_all(kit_bodies_, &PlanBuilder::read_kit);
    check_kit_cycles();
    read_waypoints_and_spaces();
    read_all(group_bodies_, &PlanBuilder::read_group);
    read_all(gate_bodies_, &PlanBuilder::read_gate);
    for (const auto& [id, fields] : level_bodies_) {
        const InsideLevel inside(scope_, id);
        read_entries(fields["entries"], plan_.levels[id]);
    }
    read_all(fact_bodies_, &PlanBuilder::read_fact); // before any condition or step
    read_named_lists();
    for (const auto& [id, fields] : level_bodies_) {
        const InsideLevel inside(scope_, id);
        read_level(fields, id);
    }
    for (const auto& [id, fields] : grid_bodies_) {
        const InsideLevel inside(scope_, plan_.grids[id].level);
        place_cells(fields, id);
        read_cells(fields, id);
    }
    if (plan_.grids.size() > 1) check_cells();
    check_variants();
    for (const auto& [value, home] : path_bodies_) {
        const InsideLevel inside(scope_, home);
        read_path(value);
    }
    for (const auto& [id, fields] : grid_bodies_) add_ways(fields, id);
    read_all(purpose_bodies_, &PlanBuilder::read_purpose);
    read_all(veil_bodies_, &PlanBuilder::read_veil);
    read_all(player_bodies_, &PlanBuilder::read_player);
    read_all(edition_bodies_, &PlanBuilder::read_edition);
    for (const auto& [id, fields, home] : menu_bodies_) {
        const InsideLevel inside(scope_, home);
        read_menu(fields, id, home);
    }
    read_all(item_bodies_, &PlanBuilder::read_item);
    read_all(trigger_bodies_, &PlanBuilder::read_trigger);
    for (const Value& value : rule_bodies_) read_rule(value);
    add_contents();
    for (const Value& value : limit_bodies_) read_limits(value);
    read_all(route_bodies_, &PlanBuilder::read_route);
    check_conditions();
    std::sort(
        plan_.todos.begin(), plan_.todos.end(),
        [](const plan::Todo& one, const plan::Todo& other) { return one.place < other.place; });
}

/// Worlds come in the order in which they are first mentioned: by what stands outside of levels,
/// then by levels, in whose space what stands inside is.
void PlanBuilder::read_waypoints_and_spaces() {
    const auto first_inside =
        std::find_if(waypoint_bodies_.begin(), waypoint_bodies_.end(),
                     [](const auto& body) { return static_cast<bool>(body.home); });
    read_all<plan::WaypointId>({waypoint_bodies_.begin(), first_inside},
                               &PlanBuilder::read_waypoint);
    for (const auto& [id, fields] : level_bodies_) read_space(fields, id);
    read_all<plan::WaypointId>({first_inside, waypoint_bodies_.end()}, &PlanBuilder::read_waypoint);
}

/// What conditions ask about can be so at all.
void PlanBuilder::check_conditions() {
    for (const plan::Condition& condition : plan_.conditions) {
        for (const plan::Term& term : condition.terms) {
            if (term.group) plan_.groups[term.group].listed = true;
            if (term.operation != plan::Operation::inside) continue;
            if (term.trigger &&
                std::holds_alternative<std::monostate>(plan_.triggers[term.trigger].shape)) {
                reading_.error("wrong-value", term.place,
                               fmt::format("in this condition nobody can be inside of trigger {}, "
                                           "which has no shape",
                                           plan_.triggers[term.trigger].name));
            } else if (term.level && plan_.levels[term.level].area.empty()) {
                reading_.error("wrong-value", term.place,
                               fmt::format("in this condition nobody can be inside of level {}, "
                                           "which has no area",
                                           plan_.levels[term.level].name));
            }
        }
    }
}

plan::WordId PlanBuilder::word(std::string_view text, plan::Place place) {
    if (const plan::WordId known = words_.find(text)) return known;
    const plan::WordId id = plan_.words.push(std::string(text));
    words_.define(text, id, place);
    return id;
}

std::vector<plan::WordId> PlanBuilder::words(const Value& value, std::string_view kind) {
    std::vector<plan::WordId> list;
    if (!value) return list;
    const std::vector<Value> all =
        value.is_scalar() ? std::vector{value} : reading_.list(value, "a list of words");
    for (const Value& each : all) {
        if (each.is_scalar() && !each.is_null() && is_name(each.text())) {
            reading_.mention(kind, {}, each.text(), {each.place(), each.text()});
            list.push_back(word(each.text(), each.place()));
        } else {
            reading_.wrong_value(each,
                                 fmt::format("expected a word, found {}", each.description()));
        }
    }
    return list;
}

plan::PoolId PlanBuilder::pool(std::string_view name, plan::Place place) {
    reading_.mention(pools_.kind(), {}, name, {place, name});
    if (const plan::PoolId known = pools_.find(name)) return known;
    const plan::PoolId id = plan_.pools.push(std::string(name));
    pools_.define(name, id, place);
    return id;
}

plan::WorldId PlanBuilder::world(const Value& value) {
    if (!value) return plan::WorldId{0};
    if (!value.is_scalar() || !is_name(value.text())) {
        reading_.wrong_value(
            value, fmt::format("expected a name for a world, found {}", value.description()));
        return plan::WorldId{0};
    }
    // A level's own world has the level's name, whatever that is.
    const LevelId level = levels_.find(value.text());
    const bool is_own = level && level_bodies_[level.value].second["world"].text() == "own";
    reading_.mention(is_own ? levels_.kind() : worlds_.kind(), {}, value.text(),
                     {value.place(), value.text()});
    return world_called(value.text(), value.place());
}

plan::WorldId PlanBuilder::world_called(std::string_view name, plan::Place place) {
    if (const plan::WorldId known = worlds_.find(name)) return known;
    const plan::WorldId id = plan_.worlds.push(std::string(name));
    worlds_.define(name, id, place);
    return id;
}

std::optional<PlanBuilder::Dotted> PlanBuilder::dotted(const Value& value,
                                                       std::string_view expected) {
    if (!value) return std::nullopt;
    const std::string_view text = value.text();
    const std::size_t dot = text.rfind('.');
    if (dot == std::string_view::npos) {
        reading_.wrong_value(value,
                             fmt::format("expected {}, found {}", expected, value.description()));
        return std::nullopt;
    }
    return Dotted{text.substr(0, dot), text.substr(dot + 1), {value.place(), text, dot + 1}};
}

void PlanBuilder::allow(const Fields& fields, ThingKind kind, std::uint32_t index) {
    reading_.named(fields["allow"], "findings",
                   [&](std::string_view name, plan::Place place, const Value& why) {
                       plan::Allowed allowed{{kind, index}, std::string(name), {}, place};
                       reading_.text(why, allowed.why);
                       plan_.allowed.push_back(std::move(allowed));
                   });
    if (!fields.has("todo")) return;
    plan::Todo todo{{kind, index}, {}, fields["todo"].place()};
    reading_.text(fields["todo"], todo.text);
    plan_.todos.push_back(std::move(todo));
}

plan::ConditionId PlanBuilder::condition(const Value& value, Asker asker) {
    auto parsed = parse_condition(
        reading_, {plan_, facts_, levels_, groups_, waypoints_, triggers_, menus_, values_}, value,
        asker);
    return parsed ? plan_.conditions.push(std::move(*parsed)) : plan::ConditionId{};
}

} // namespace hestrel::source
