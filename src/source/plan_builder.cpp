#include "source/plan_builder.hpp"

namespace hestrel::source {

using plan::LevelId;

PlanBuilder::PlanBuilder(plan::Plan& plan, ReadContext& reading) : plan_(plan), reading_(reading) {
    worlds_.define("main", plan_.worlds.push("main"), {});
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

    const auto declare_all = [&](std::string_view section, std::string_view what, auto& names,
                                 auto& table, auto& bodies) {
        reading_.named(fields[section], what,
                       [&](std::string_view name, plan::Place place, const Value& value) {
                           const auto id = table.push({});
                           table[id].name = name;
                           table[id].place = place;
                           reading_.define(names, name, id, place);
                           bodies.push_back({id, value});
                       });
    };
    declare_all("devices", "devices", devices_, plan_.devices, device_bodies_);
    declare_all("kits", "kits", kits_, plan_.kits, kit_bodies_);
    reading_.named(fields["levels"], "levels",
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       declare_level(name, place, value, {});
                   });
    declare_all("waypoints", "waypoints", waypoints_, plan_.waypoints, waypoint_bodies_);
    declare_all("gates", "gates", gates_, plan_.gates, gate_bodies_);
    for (const Value& path : reading_.list(fields["paths"], "a list of paths"))
        path_bodies_.push_back(path);
    declare_all("triggers", "triggers", triggers_, plan_.triggers, trigger_bodies_);
    reading_.named(fields["menus"], "menus",
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       declare_menu(name, place, value);
                   });
    declare_all("veils", "veils", veils_, plan_.veils, veil_bodies_);
    declare_all("facts", "facts", facts_, plan_.facts, fact_bodies_);
    declare_all("players", "players", players_, plan_.players, player_bodies_);
    for (const Value& rule : reading_.list(fields["rules"], "a list of rules"))
        rule_bodies_.push_back(rule);
    declare_all("editions", "editions", editions_, plan_.editions, edition_bodies_);
    declare_all("routes", "routes", routes_, plan_.routes, route_bodies_);
    if (fields.has("limits")) limit_bodies_.push_back(fields["limits"]);
}

void PlanBuilder::declare_level(std::string_view name, plan::Place place, const Value& value,
                                LevelId parent) {
    plan::Level level;
    level.name = name;
    level.place = place;
    level.parent = parent;
    const LevelId id = plan_.levels.push(std::move(level));
    if (parent) plan_.levels[parent].sublevels.push_back(id);
    reading_.define(levels_, name, id, place);
    const Fields fields = reading_.fields(value.is_null() ? Value{} : value, keys::level);
    level_bodies_.emplace_back(id, fields); // before its sublevels, whose world is its own
    reading_.named(fields["sublevels"], "sublevels",
                   [&](std::string_view sublevel, plan::Place where, const Value& body) {
                       declare_level(sublevel, where, body, id);
                   });
}

void PlanBuilder::declare_menu(std::string_view name, plan::Place place, const Value& value) {
    const plan::MenuId id = plan_.menus.push({});
    plan_.menus[id].name = name;
    plan_.menus[id].place = place;
    reading_.define(menus_, name, id, place);
    const Fields fields = reading_.fields(value, keys::menu);
    Names<plan::ItemId> items("item", name);
    reading_.named(fields["items"], "items",
                   [&](std::string_view item_name, plan::Place where, const Value& body) {
                       const plan::ItemId item = plan_.items.push({});
                       plan_.items[item].name = item_name;
                       plan_.items[item].place = where;
                       plan_.items[item].menu = id;
                       plan_.menus[id].items.push_back(item);
                       reading_.define(items, item_name, item, where);
                       item_bodies_.push_back({item, body});
                   });
    menu_bodies_.emplace_back(id, fields);
}

// --- reading -----------------------------------------------------------------

void PlanBuilder::read() {
    for (const auto& [id, value] : device_bodies_) read_device(value, id);
    for (const auto& [id, value] : kit_bodies_) read_kit(value, id);
    check_kit_cycles();
    for (const auto& [id, value] : waypoint_bodies_) read_waypoint(value, id);
    for (const auto& [id, value] : gate_bodies_) read_gate(value, id);
    for (const auto& [id, fields] : level_bodies_)
        read_entries(fields["entries"], plan_.levels[id]);
    for (const auto& [id, value] : fact_bodies_)
        read_fact(value, id); // before any condition or step
    for (const auto& [id, fields] : level_bodies_) read_level(fields, id);
    for (const Value& value : path_bodies_) read_path(value);
    for (const auto& [id, value] : veil_bodies_) read_veil(value, id);
    for (const auto& [id, value] : player_bodies_) read_player(value, id);
    for (const auto& [id, value] : edition_bodies_) read_edition(value, id);
    for (const auto& [id, fields] : menu_bodies_) read_menu(fields, id);
    for (const auto& [id, value] : item_bodies_) read_item(value, id);
    for (const auto& [id, value] : trigger_bodies_) read_trigger(value, id);
    for (const Value& value : rule_bodies_) read_rule(value);
    for (const Value& value : limit_bodies_) read_limits(value);
    for (const auto& [id, value] : route_bodies_) read_route(value, id);
    check_conditions();
}

/// What conditions ask about can be so at all.
void PlanBuilder::check_conditions() {
    for (const plan::Condition& condition : plan_.conditions) {
        for (const plan::Term& term : condition.terms) {
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
    reading_.mention(worlds_.kind(), {}, value.text(), {value.place(), value.text()});
    if (const plan::WorldId known = worlds_.find(value.text())) return known;
    const plan::WorldId id = plan_.worlds.push(std::string(value.text()));
    worlds_.define(value.text(), id, value.place());
    return id;
}

std::optional<PlanBuilder::Dotted> PlanBuilder::dotted(const Value& value,
                                                       std::string_view expected) {
    if (!value) return std::nullopt;
    const std::string_view text = value.text();
    const std::size_t dot = text.find('.');
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
}

plan::ConditionId PlanBuilder::condition(const Value& value, Asker asker) {
    auto parsed = parse_condition(
        reading_, {plan_, facts_, levels_, waypoints_, triggers_, menus_, values_}, value, asker);
    return parsed ? plan_.conditions.push(std::move(*parsed)) : plan::ConditionId{};
}

} // namespace hestrel::source
