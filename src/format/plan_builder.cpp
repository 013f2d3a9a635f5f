#include "format/plan_builder.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::format {

using plan::LevelId;

namespace {

constexpr std::uint32_t most_parallel = 1024;
constexpr std::uint32_t most_players = 64;
constexpr std::int64_t most_objects = 1'000'000'000;
constexpr double most_fps = 1000;

} // namespace

PlanBuilder::PlanBuilder(plan::Plan& plan, Reading& reading) : plan_(plan), reading_(reading) {
    worlds_.define("main", plan_.worlds.push("main"), {});
}

// --- declaring
// ---------------------------------------------------------------------------------------

void PlanBuilder::declare(const Value& root) {
    const Fields fields = reading_.fields(root, keys::plan);
    std::int64_t version = 1;
    reading_.count(fields["hestrel"], 1, 1, version);
    if (plan_.name.empty()) reading_.text(fields["name"], plan_.name);

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
    for (const Value& path : reading_.list(fields["paths"], "a list of paths"))
        path_bodies_.push_back(path);
    declare_all("triggers", "triggers", triggers_, plan_.triggers, trigger_bodies_);
    reading_.named(fields["menus"], "menus",
                   [&](std::string_view name, plan::Place place, const Value& value) {
                       declare_menu(name, place, value);
                   });
    declare_all("veils", "veils", veils_, plan_.veils, veil_bodies_);
    declare_all("players", "players", players_, plan_.players, player_bodies_);
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
    const Fields fields = value.is_null() ? Fields{} : reading_.fields(value, keys::level);
    if (value.is_null()) return;
    reading_.named(fields["sublevels"], "sublevels",
                   [&](std::string_view sublevel, plan::Place where, const Value& body) {
                       declare_level(sublevel, where, body, id);
                   });
    level_bodies_.emplace_back(id, fields);
}

void PlanBuilder::declare_menu(std::string_view name, plan::Place place, const Value& value) {
    const plan::MenuId id = plan_.menus.push({});
    plan_.menus[id].name = name;
    plan_.menus[id].place = place;
    reading_.define(menus_, name, id, place);
    const Fields fields = reading_.fields(value, keys::menu);
    Names<plan::ItemId> items("item");
    reading_.named(
        fields["items"], "items",
        [&](std::string_view item_name, plan::Place where, const Value& body) {
            const plan::ItemId item = plan_.items.push({{std::string(item_name), where}, id, {}});
            plan_.menus[id].items.push_back(item);
            reading_.define(items, item_name, item, where);
            item_bodies_.push_back({item, body});
        });
    menu_bodies_.push_back({id, fields["in"]});
}

// --- reading
// -----------------------------------------------------------------------------------------

void PlanBuilder::read() {
    for (const auto& [id, value] : device_bodies_) read_device(value, plan_.devices[id]);
    for (const auto& [id, value] : kit_bodies_) read_kit(value, plan_.kits[id]);
    check_kit_cycles();
    for (const auto& [id, value] : waypoint_bodies_) read_waypoint(value, plan_.waypoints[id]);
    for (const auto& [id, fields] : level_bodies_) read_level(fields, plan_.levels[id]);
    for (const Value& value : path_bodies_) read_path(value);
    for (const auto& [id, value] : veil_bodies_) read_veil(value, plan_.veils[id]);
    for (const auto& [id, value] : menu_bodies_)
        plan_.menus[id].in = reading_.reference(value, levels_);
    for (const auto& [id, value] : item_bodies_) read_item(value, id);
    for (const auto& [id, value] : trigger_bodies_) read_trigger(value, id);
    for (const auto& [id, value] : player_bodies_) read_player(value, plan_.players[id]);
    for (const auto& [id, value] : edition_bodies_) {
        const Fields fields = reading_.fields(value, keys::edition);
        plan_.editions[id].levels = reading_.references(fields["levels"], levels_);
    }
    for (const Value& value : limit_bodies_) {
        const Fields fields = reading_.fields(value, keys::limits);
        reading_.time(fields["walk"], plan_.limits.walk);
    }
    for (const auto& [id, value] : route_bodies_) read_route(value, plan_.routes[id]);
}

plan::PoolId PlanBuilder::pool(std::string_view name) {
    if (const plan::PoolId known = pools_.find(name)) return known;
    const plan::PoolId id = plan_.pools.push(std::string(name));
    pools_.define(name, id, {});
    return id;
}

plan::WorldId PlanBuilder::world(const Value& value) {
    std::string name = "main";
    reading_.text(value, name);
    if (const plan::WorldId known = worlds_.find(name)) return known;
    const plan::WorldId id = plan_.worlds.push(name);
    worlds_.define(value.text(), id, value.place());
    return id;
}

template <class T>
std::vector<std::pair<plan::PoolId, T>> PlanBuilder::by_pool(const Value& value,
                                                             Parsed<T> (*parse)(std::string_view)) {
    std::vector<std::pair<plan::PoolId, T>> sizes;
    reading_.named(value, "memory",
                   [&](std::string_view name, plan::Place place, const Value& size) {
                       T amount{};
                       if (!reading_.quantity(size, parse, "memory in MiB", amount)) return;
                       const plan::PoolId id = pool(name);
                       const bool twice = std::any_of(sizes.begin(), sizes.end(),
                                                      [&](const auto& e) { return e.first == id; });
                       if (twice)
                           reading_.error("defined-twice", place,
                                          fmt::format("pool \"{}\" stands here twice", name));
                       sizes.emplace_back(id, amount);
                   });
    return sizes;
}

void PlanBuilder::read_device(const Value& value, plan::Device& device) {
    const Fields fields = reading_.fields(value, keys::device);
    const Fields memory = reading_.fields(fields["memory"], keys::device_memory);
    reading_.quantity(memory["total"], &parse_memory, "memory in MiB", device.memory.total);
    reading_.quantity(memory["base"], &parse_memory, "memory in MiB", device.memory.base);
    device.memory.pools = by_pool(memory["pools"], &parse_memory);

    const Fields read = reading_.fields(fields["read"], keys::read);
    reading_.quantity(read["rate"], &parse_data_rate, "a data rate in MiB/s", device.read.rate);
    reading_.time(read["latency"], device.read.latency);
    reading_.count(read["parallel"], most_parallel, device.read.parallel);

    if (fields.has("unpack")) {
        const Fields unpack = reading_.fields(fields["unpack"], keys::unpack);
        device.unpack.emplace();
        reading_.quantity(unpack["rate"], &parse_data_rate, "a data rate in MiB/s",
                          device.unpack->rate);
        reading_.count(unpack["workers"], most_parallel, device.unpack->workers);
    }
    read_frame(fields["frame"], device.frame);
    const Fields attach = reading_.fields(fields["attach"], keys::attach);
    reading_.time(attach["fixed"], device.attach.fixed);
    reading_.quantity(attach["per-object"], &parse_time_per_object, "a time",
                      device.attach.per_object);
    const Fields release = reading_.fields(fields["release"], keys::release);
    reading_.time(release["sweep"], device.release.sweep);
    reading_.quantity(release["per-object"], &parse_time_per_object, "a time",
                      device.release.per_object);
}

void PlanBuilder::read_frame(const Value& value, plan::FrameTime& frame) {
    const Fields fields = reading_.fields(value, keys::frame);
    double fps = 1;
    reading_.number(fields["fps"], fps);
    if (fps < 1.0 / 1000 || fps > most_fps) {
        reading_.wrong_value(fields["fps"], fmt::format("{} must be above 0 and at most {}",
                                                        fields["fps"].description(), most_fps));
        fps = 1;
    }
    constexpr double noise = 1e-6;
    frame.period = {static_cast<std::int64_t>(std::ceil(1e6 / fps - noise))};
    reading_.time(fields["base"], frame.base);
    if (frame.base > frame.period) {
        reading_.wrong_value(fields["base"],
                             fmt::format("base {} exceeds the frame's period of {} ms",
                                         fields["base"].description(),
                                         static_cast<double>(frame.period.count) / 1000));
    }
    const auto most_attach = [&](std::string_view key, std::optional<plan::Micros>& into) {
        if (!fields.has(key)) return;
        plan::Micros time{1};
        reading_.time(fields[key], time);
        if (time.count == 0)
            reading_.wrong_value(fields[key], fmt::format("{} of 0 never attaches anything", key));
        into = time;
    };
    most_attach("attach", frame.attach);
    frame.veiled_attach = frame.attach;
    most_attach("veiled-attach", frame.veiled_attach);
}

// --- content
// -----------------------------------------------------------------------------------------

plan::Figures PlanBuilder::read_figures(const Fields& fields) {
    plan::Figures figures;
    figures.memory = by_pool(fields["memory"], &parse_memory_range);
    plan::SizeRange packed;
    if (reading_.quantity(fields["packed"], &parse_memory_range, "memory in MiB", packed)) {
        figures.packed = packed;
    }
    if (fields.has("objects")) {
        std::int64_t objects = 0;
        reading_.count(fields["objects"], 0, most_objects, objects);
        figures.objects = objects;
    }
    return figures;
}

plan::Content PlanBuilder::read_content(const Fields& fields) {
    plan::Content content;
    content.figures = read_figures(fields);
    reading_.named(fields["on"], "devices",
                   [&](std::string_view name, plan::Place place, const Value& body) {
                       const plan::DeviceId device = reading_.lookup(name, place, devices_);
                       plan::Figures figures = read_figures(reading_.fields(body, keys::figures));
                       if (device) content.on.emplace_back(device, std::move(figures));
                   });
    return content;
}

void PlanBuilder::read_kit(const Value& value, plan::Kit& kit) {
    if (value.is_null()) return;
    const Fields fields = reading_.fields(value, keys::kit);
    kit.content = read_content(fields);
    kit.needs = reading_.references(fields["needs"], kits_);
}

/// Kits that need each other in a circle: one finding per circle, and the need that closes it is
/// dropped.
void PlanBuilder::check_kit_cycles() {
    enum class Visit : std::uint8_t { not_yet, on_the_way, done };
    plan::Table<plan::KitId, Visit> visits(plan_.kits.size(), Visit::not_yet);
    std::vector<std::pair<plan::KitId, std::size_t>>
        way; // a kit, and which of its needs comes next
    for (const plan::KitId start : plan_.kits.ids()) {
        if (visits[start] != Visit::not_yet) continue;
        visits[start] = Visit::on_the_way;
        way.emplace_back(start, 0);
        while (!way.empty()) {
            auto& [kit, next] = way.back();
            std::vector<plan::KitId>& needs = plan_.kits[kit].needs;
            if (next == needs.size()) {
                visits[kit] = Visit::done;
                way.pop_back();
                continue;
            }
            const plan::KitId needed = needs[next++];
            if (visits[needed] == Visit::not_yet) {
                visits[needed] = Visit::on_the_way;
                way.emplace_back(needed, 0);
            } else if (visits[needed] == Visit::on_the_way) {
                std::string circle;
                const auto first = std::find_if(
                    way.begin(), way.end(), [&](const auto& each) { return each.first == needed; });
                for (auto each = first; each != way.end(); ++each) {
                    circle += plan_.kits[each->first].name + " → ";
                }
                reading_.error("cycle", plan_.kits[kit].place,
                               fmt::format("kits need each other in a circle: {}{}", circle,
                                           plan_.kits[needed].name));
                needs.erase(needs.begin() + static_cast<std::ptrdiff_t>(--next));
            }
        }
    }
}

void PlanBuilder::read_level(const Fields& fields, plan::Level& level) {
    reading_.text(fields["title"], level.title);
    level.content = read_content(fields);
    level.kits = reading_.references(fields["kits"], kits_);
    reading_.flag(fields["persist"], level.persist);
    if (level.parent) {
        level.world = plan_.levels[level.parent].world;
        reading_.flag(fields["with-parent"], level.with_parent);
        if (fields.has("world")) {
            reading_.wrong_value(fields["world"], "a sublevel is in its parent's world");
        }
    } else {
        level.world = world(fields["world"]);
        if (fields.has("with-parent")) {
            reading_.wrong_value(fields["with-parent"],
                                 "with-parent is for sublevels, and this has no parent");
        }
    }
    Names<plan::WaypointId> entries("entry");
    reading_.named(fields["entries"], "entries",
                   [&](std::string_view name, plan::Place place, const Value& at) {
                       const plan::WaypointId waypoint = reading_.reference(at, waypoints_);
                       reading_.define(entries, name, waypoint, place);
                       if (waypoint)
                           level.entries.push_back({{std::string(name), place}, waypoint});
                   });
}

// --- the world
// ---------------------------------------------------------------------------------------

void PlanBuilder::read_waypoint(const Value& value, plan::Waypoint& waypoint) {
    waypoint.world = plan::WorldId{0};
    if (value.is_sequence()) {
        reading_.point(value, waypoint.at);
        return;
    }
    const Fields fields = reading_.fields(value, keys::waypoint);
    reading_.point(fields["at"], waypoint.at);
    waypoint.world = world(fields["world"]);
}

void PlanBuilder::add_path(plan::Path path) {
    if (!path.from || !path.to) return;
    if (plan_.waypoints[path.from].world != plan_.waypoints[path.to].world) {
        reading_.error("path-across-worlds", path.place,
                       fmt::format("a path can't lead from {} to {}: they are in different worlds",
                                   plan_.waypoints[path.from].name, plan_.waypoints[path.to].name));
        return;
    }
    plan_.paths.push(std::move(path));
}

void PlanBuilder::read_path(const Value& value) {
    plan::Path path;
    path.place = value.place();
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
        reading_.point(corner, path.via.emplace_back());
    }
    reading_.flag(fields["one-way"], path.one_way);
    double speed = 0;
    if (reading_.quantity(fields["speed"], &parse_speed, "a speed in m/s", speed))
        path.speed = speed;
    add_path(std::move(path));
}

void PlanBuilder::read_box(const Value& value, plan::Box& box) {
    const Fields fields = reading_.fields(value, keys::box);
    reading_.point(fields["min"], box.min);
    reading_.point(fields["max"], box.max);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (box.min[axis] <= box.max[axis]) continue;
        reading_.wrong_value(fields["min"],
                             fmt::format("the box has no inside: its min {} {} is above its max {}",
                                         "xyz"[axis], box.min[axis], box.max[axis]));
        std::swap(box.min[axis], box.max[axis]);
    }
}

void PlanBuilder::read_trigger(const Value& value, plan::TriggerId id) {
    plan::Trigger& trigger = plan_.triggers[id];
    const Fields fields = reading_.fields(value, keys::trigger);
    trigger.in = reading_.reference(fields["in"], levels_);
    trigger.world = trigger.in ? plan_.levels[trigger.in].world : plan::WorldId{0};
    read_box(fields["box"], trigger.box);
    trigger.steps = read_steps(fields["steps"], {plan::OwnerKind::trigger, id, {}, trigger.in, {}});
}

void PlanBuilder::read_item(const Value& value, plan::ItemId id) {
    plan::Item& item = plan_.items[id];
    const Fields fields = reading_.fields(value, keys::item);
    item.steps =
        read_steps(fields["steps"], {plan::OwnerKind::item, {}, id, plan_.menus[item.menu].in, {}});
}

void PlanBuilder::read_veil(const Value& value, plan::Veil& veil) {
    if (value.is_null()) return;
    const Fields fields = reading_.fields(value, keys::veil);
    reading_.time(fields["min"], veil.min);
    veil.memory = by_pool(fields["memory"], &parse_memory);
}

void PlanBuilder::read_player(const Value& value, plan::PlayerKind& player) {
    const Fields fields = reading_.fields(value, keys::player);
    reading_.named(
        fields["speeds"], "speeds",
        [&](std::string_view name, plan::Place place, const Value& body) {
            plan::Speed speed{{std::string(name), place}, 0};
            if (!reading_.quantity(body, &parse_speed, "a speed in m/s", speed.metres_per_second))
                return;
            player.speeds.push_back(std::move(speed));
        });
    reading_.count(fields["count"], most_players, player.count);
    player.memory = by_pool(fields["memory"], &parse_memory);
}

} // namespace hestrel::format
