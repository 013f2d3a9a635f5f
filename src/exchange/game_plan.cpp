#include "exchange/game_plan.hpp"

#include "exchange/game_steps.hpp"
#include "geometry/ways.hpp"
#include "loading/catalogue.hpp"
#include "plan/names.hpp"
#include "source/embedded.hpp"
#include "source/json.hpp"

#include <string>
#include <vector>

namespace hestrel::exchange {

const std::vector<source::EmbeddedFile>& embedded_game_schema();

namespace {

using source::Json;

Json box_json(const plan::Box& box) {
    return {{"min", box.min}, {"max", box.max}, {"turn", box.turn}};
}

class GamePlanWriter {
public:
    explicit GamePlanWriter(const plan::Plan& plan) : plan_(plan) {
        for (const plan::DeviceId device : plan.devices.ids())
            catalogues_.push(loading::catalogue_for(plan, device));
    }

    Json whole() {
        Json json{{"$schema", game_plan_schema_name},
                  {"version", game_plan_version},
                  {"name", plan_.name}};
        json["worlds"] = std::vector<std::string>(plan_.worlds.begin(), plan_.worlds.end());
        put(json, "devices", plan_.devices, &GamePlanWriter::device);
        put(json, "kits", plan_.kits, &GamePlanWriter::kit);
        put(json, "levels", plan_.levels, &GamePlanWriter::level);
        put(json, "groups", plan_.groups, &GamePlanWriter::group);
        put(json, "waypoints", plan_.waypoints, &GamePlanWriter::waypoint);
        put(json, "gates", plan_.gates, &GamePlanWriter::gate);
        put(json, "paths", plan_.paths, &GamePlanWriter::path);
        put(json, "triggers", plan_.triggers, &GamePlanWriter::trigger);
        put(json, "menus", plan_.menus, &GamePlanWriter::menu);
        put(json, "veils", plan_.veils, &GamePlanWriter::veil);
        put(json, "facts", plan_.facts, &GamePlanWriter::fact);
        put(json, "players", plan_.players, &GamePlanWriter::player);
        put(json, "editions", plan_.editions, &GamePlanWriter::edition);
        return json;
    }

private:
    template <class Id, class T>
    void put(Json& json, const char* key, const plan::Table<Id, T>& table,
             Json (GamePlanWriter::*one)(Id) const) const {
        json[key] = Json::array();
        for (const Id id : table.ids()) json[key].push_back((this->*one)(id));
    }
    /// Null where it is unset.
    template <class Id, class T>
    [[nodiscard]] static Json name_in(const plan::Table<Id, T>& table, Id id) {
        return id ? Json(table[id].name) : Json(nullptr);
    }
    [[nodiscard]] Json words(const std::vector<plan::WordId>& ids) const {
        Json list = Json::array();
        for (const plan::WordId id : ids) list.push_back(plan_.words[id]);
        return list;
    }
    [[nodiscard]] Json levels(const std::vector<plan::LevelId>& ids) const {
        return plan::names_in(plan_.levels, ids);
    }
    [[nodiscard]] Json memory(const std::vector<std::pair<plan::PoolId, plan::Bytes>>& all) const {
        Json json = Json::object();
        for (const auto& [pool, size] : all) json[plan_.pools[pool]] = size.count;
        return json;
    }

    [[nodiscard]] Json device(plan::DeviceId id) const {
        const plan::Device& device = plan_.devices[id];
        return {{"name", device.name},
                {"memory_bytes", device.memory.total.count},
                {"base_bytes", device.memory.base.count},
                {"pool_bytes", memory(device.memory.pools)}};
    }
    /// What a level or kit takes, by device.
    [[nodiscard]] Json sizes(auto id) const {
        Json json = Json::object();
        for (const plan::DeviceId device : plan_.devices.ids()) {
            const loading::Catalogue& catalogue = catalogues_[device];
            const loading::Piece& piece = catalogue.pieces[catalogue.piece_of(id)];
            Json memory = Json::object();
            for (const plan::PoolId pool : plan_.pools.ids()) {
                if (piece.memory[pool.value].count > 0)
                    memory[plan_.pools[pool]] = piece.memory[pool.value].count;
            }
            json[plan_.devices[device].name] = {
                {"memory_bytes", std::move(memory)},
                {"packed_bytes", piece.packed.count},
                {"objects", piece.objects},
                {"make_s", piece.make ? Json(plan::in_seconds(*piece.make)) : Json(nullptr)}};
        }
        return json;
    }
    [[nodiscard]] Json kit(plan::KitId id) const {
        const plan::Kit& kit = plan_.kits[id];
        return {{"name", kit.name},
                {"needs", plan::names_in(plan_.kits, kit.needs)},
                {"sizes", sizes(id)}};
    }
    [[nodiscard]] Json level(plan::LevelId id) const {
        const plan::Level& level = plan_.levels[id];
        Json json{{"name", level.name},
                  {"title", level.title},
                  {"owner", level.owner},
                  {"world", level.world ? Json(plan_.worlds[level.world]) : Json(nullptr)},
                  {"parent", name_in(plan_.levels, level.parent)},
                  {"with_parent", level.with_parent},
                  {"persist", level.persist},
                  {"sizes", sizes(id)},
                  {"kits", plan::names_in(plan_.kits, level.kits)},
                  {"provides", words(level.provides)},
                  {"purpose", name_in(plan_.purposes, level.purpose)},
                  {"variant_of", name_in(plan_.groups, level.variants)}};
        json["entries"] = Json::array();
        for (const plan::Entry& entry : level.entries)
            json["entries"].push_back(
                {{"name", entry.name}, {"waypoint", plan_.waypoints[entry.waypoint].name}});
        json["area"] = Json::array();
        for (const plan::Box& box : level.area) json["area"].push_back(box_json(box));
        json["seen_from"] = Json::array();
        for (const plan::Box& box : level.seen_from) json["seen_from"].push_back(box_json(box));
        json["near"] = nullptr;
        if (level.near)
            json["near"] = {{"load_m", level.near->load},
                            {"unload_m", level.near->unload},
                            {"when", condition_json(plan_, level.near->when)}};
        json["arrive"] = steps_json(plan_, level.arrive);
        json["leave"] = steps_json(plan_, level.leave);
        return json;
    }
    [[nodiscard]] Json group(plan::GroupId id) const {
        const plan::Group& group = plan_.groups[id];
        return {{"name", group.name}, {"levels", levels(group.levels)}, {"one_of", group.one_of}};
    }
    [[nodiscard]] Json waypoint(plan::WaypointId id) const {
        const plan::Waypoint& waypoint = plan_.waypoints[id];
        return {
            {"name", waypoint.name}, {"world", plan_.worlds[waypoint.world]}, {"at", waypoint.at}};
    }
    [[nodiscard]] Json gate(plan::GateId id) const {
        const plan::Gate& gate = plan_.gates[id];
        Json json{{"name", gate.name}, {"needs", levels(gate.needs)}};
        json["any_of"] = Json::array();
        for (const plan::GroupId group : gate.any_of)
            json["any_of"].push_back(levels(plan_.groups[group].levels));
        return json;
    }
    [[nodiscard]] Json path(plan::PathId id) const {
        const plan::Path& path = plan_.paths[id];
        return {{"from", plan_.waypoints[path.from].name},
                {"to", plan_.waypoints[path.to].name},
                {"via", path.via},
                {"one_way", path.one_way},
                {"speed", path.speed ? Json(*path.speed) : Json(nullptr)},
                {"gate", name_in(plan_.gates, path.gate)}};
    }
    [[nodiscard]] static Json shape(const plan::Shape& shape) {
        if (const auto* box = std::get_if<plan::Box>(&shape)) return {{"box", box_json(*box)}};
        if (const auto* sphere = std::get_if<plan::Sphere>(&shape))
            return {{"sphere", {{"at", sphere->at}, {"radius", sphere->radius}}}};
        if (const auto* beyond = std::get_if<plan::Beyond>(&shape))
            return {{"beyond",
                     {{"axis", std::string(1, "xyz"[beyond->axis])},
                      {beyond->over ? "over" : "under", beyond->limit}}}};
        return nullptr;
    }
    [[nodiscard]] Json trigger(plan::TriggerId id) const {
        const plan::Trigger& trigger = plan_.triggers[id];
        return {{"name", trigger.name},
                {"in", levels(trigger.in)},
                {"world", trigger.world ? Json(plan_.worlds[trigger.world]) : Json(nullptr)},
                {"shape", shape(trigger.shape)},
                {"fires", plan::name_of(trigger.fires)},
                {"for", words(trigger.tags)},
                {"when", condition_json(plan_, trigger.when)},
                {"once", trigger.once},
                {"rearm_s", plan::in_seconds(trigger.rearm)},
                {"steps", steps_json(plan_, trigger.steps)}};
    }
    [[nodiscard]] Json menu(plan::MenuId id) const {
        const plan::Menu& menu = plan_.menus[id];
        Json json{{"name", menu.name}, {"in", levels(menu.in)}, {"pauses", menu.pauses}};
        json["items"] = Json::array();
        for (const plan::ItemId each : menu.items) {
            const plan::Item& item = plan_.items[each];
            json["items"].push_back({{"name", item.name},
                                     {"when", condition_json(plan_, item.when)},
                                     {"stays", item.stays},
                                     {"steps", steps_json(plan_, item.steps)}});
        }
        json["after"] = nullptr;
        if (menu.after)
            json["after"] = {{"delay_s", plan::in_seconds(menu.after->delay)},
                             {"steps", steps_json(plan_, menu.after->steps)}};
        return json;
    }
    [[nodiscard]] Json veil(plan::VeilId id) const {
        const plan::Veil& veil = plan_.veils[id];
        return {{"name", veil.name},
                {"min_s", plan::in_seconds(veil.min)},
                {"memory_bytes", memory(veil.memory)}};
    }
    [[nodiscard]] Json fact(plan::FactId id) const {
        const plan::Fact& fact = plan_.facts[id];
        Json json{{"name", fact.name},
                  {"initial", value_json(plan_, fact.initial)},
                  {"lifetime", plan::name_of(fact.lifetime)},
                  {"of", name_in(plan_.levels, fact.of)},
                  {"of_each_player", fact.of_each}};
        json["range"] = fact.range ? Json{fact.range->first, fact.range->second} : Json(nullptr);
        json["values"] = words(fact.values);
        return json;
    }
    [[nodiscard]] Json player(plan::PlayerKindId id) const {
        const plan::PlayerKind& kind = plan_.players[id];
        Json json{{"name", kind.name},
                  {"tags", words(kind.tags)},
                  {"count", kind.count},
                  {"memory_bytes", memory(kind.memory)}};
        json["speeds"] = Json::array();
        for (const plan::Speed& speed : kind.speeds)
            json["speeds"].push_back(
                {{"name", speed.name}, {"metres_per_second", speed.metres_per_second}});
        return json;
    }
    [[nodiscard]] Json edition(plan::EditionId id) const {
        const plan::Edition& edition = plan_.editions[id];
        Json json{{"name", edition.name}, {"levels", levels(edition.levels)}};
        json["parcels"] = Json::array();
        for (const plan::Parcel& parcel : edition.parcels)
            json["parcels"].push_back({{"name", parcel.name}, {"levels", levels(parcel.levels)}});
        return json;
    }

    const plan::Plan& plan_;
    plan::Table<plan::DeviceId, loading::Catalogue> catalogues_;
};

} // namespace

std::string game_plan_json(const plan::Plan& plan) {
    return source::single_file_text(GamePlanWriter(plan).whole());
}

std::string game_plan_schema() {
    return embedded_game_schema().front().text;
}

} // namespace hestrel::exchange
