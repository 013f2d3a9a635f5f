#pragma once
// The inside of the plan reader: a plan being built from trees. Names are declared first, bodies
// read after, so that the order of sections does not matter.

#include "format/reading.hpp"

#include <vector>

namespace hestrel::format {

/// Builds one plan. Used once: `declare` for every tree, then `read`.
class PlanBuilder {
public:
    PlanBuilder(plan::Plan& plan, Reading& reading);

    /// Defines every name of a file.
    void declare(const Value& root);
    /// Reads what the names stand for.
    void read();

private:
    template <class Id>
    struct Body {
        Id id;
        Value value;
    };

    void declare_level(std::string_view name, plan::Place place, const Value& value,
                       plan::LevelId parent);
    void declare_menu(std::string_view name, plan::Place place, const Value& value);

    // Section by section (plan_builder.cpp).
    plan::PoolId pool(std::string_view name);
    plan::WorldId world(const Value& value);
    template <class T>
    std::vector<std::pair<plan::PoolId, T>> by_pool(const Value& value,
                                                    Parsed<T> (*parse)(std::string_view));
    void read_device(const Value& value, plan::Device& device);
    void read_frame(const Value& value, plan::FrameTime& frame);
    plan::Figures read_figures(const Fields& fields);
    plan::Content read_content(const Fields& fields);
    void read_level(const Fields& fields, plan::Level& level);
    void read_kit(const Value& value, plan::Kit& kit);
    void check_kit_cycles();
    void read_waypoint(const Value& value, plan::Waypoint& waypoint);
    void read_path(const Value& value);
    void add_path(plan::Path path);
    void read_box(const Value& value, plan::Box& box);
    void read_trigger(const Value& value, plan::TriggerId id);
    void read_item(const Value& value, plan::ItemId id);
    void read_veil(const Value& value, plan::Veil& veil);
    void read_player(const Value& value, plan::PlayerKind& player);

    // Steps and routes (plan_builder_steps.cpp).
    plan::ListId read_steps(const Value& value, plan::StepList list);
    std::optional<plan::Step> read_step(const Value& value);
    plan::WaitStep read_wait(const Fields& fields);
    plan::SwitchStep read_switch(const Value& value);
    void read_route(const Value& value, plan::Route& route);
    void read_start(const Value& value, plan::Route& route);
    plan::WaypointId entry_of(const Value& value, plan::LevelId level);
    std::optional<plan::RouteStep> read_route_step(const Value& value, const plan::Route& route);
    double read_speed(const Value& value, const plan::Route& route, plan::Place place);

    plan::Plan& plan_;
    Reading& reading_;

    Names<plan::PoolId> pools_{"pool"};
    Names<plan::WorldId> worlds_{"world"};
    Names<plan::DeviceId> devices_{"device"};
    Names<plan::KitId> kits_{"kit"};
    Names<plan::LevelId> levels_{"level"};
    Names<plan::WaypointId> waypoints_{"waypoint"};
    Names<plan::TriggerId> triggers_{"trigger"};
    Names<plan::MenuId> menus_{"menu"};
    Names<plan::VeilId> veils_{"veil"};
    Names<plan::PlayerKindId> players_{"kind of player"};
    Names<plan::EditionId> editions_{"edition"};
    Names<plan::RouteId> routes_{"route"};

    std::vector<Body<plan::DeviceId>> device_bodies_;
    std::vector<Body<plan::KitId>> kit_bodies_;
    std::vector<std::pair<plan::LevelId, Fields>> level_bodies_;
    std::vector<Body<plan::WaypointId>> waypoint_bodies_;
    std::vector<Value> path_bodies_;
    std::vector<Body<plan::TriggerId>> trigger_bodies_;
    std::vector<Body<plan::MenuId>> menu_bodies_;
    std::vector<Body<plan::ItemId>> item_bodies_;
    std::vector<Body<plan::VeilId>> veil_bodies_;
    std::vector<Body<plan::PlayerKindId>> player_bodies_;
    std::vector<Body<plan::EditionId>> edition_bodies_;
    std::vector<Body<plan::RouteId>> route_bodies_;
    std::vector<Value> limit_bodies_;
};

} // namespace hestrel::format
