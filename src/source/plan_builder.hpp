#pragma once
// The inside of the plan reader: a plan being built from trees. Names are declared first, bodies
// read after, so that the order of sections does not matter.

#include "source/condition_parser.hpp"
#include "source/read_context.hpp"

#include <cstdint>
#include <map>
#include <memory>
#include <span>
#include <vector>

namespace hestrel::source {

/// No level or kit has more.
inline constexpr std::int64_t most_objects = 1'000'000'000;

/// Builds one plan. Used once: `declare` for every file, then `read`, then `measure` for every
/// table.
class PlanBuilder {
public:
    PlanBuilder(plan::Plan& plan, ReadContext& reading);

    /// Defines every name of a file. The trees must outlive the builder.
    void declare(const Value& root);
    /// Reads what the names stand for.
    void read();
    /// Adds a `sizes:` table: its text, the number of its file, and where the plan names it.
    void measure(std::string_view csv, std::uint32_t file, plan::Place named_at);
    /// A step of a player's route; nothing, and findings, where it is none. Once all names are
    /// defined.
    std::optional<plan::RouteStep> read_route_step(const Value& value,
                                                   const plan::RoutePlayer& player);

private:
    template <class Id>
    struct Body {
        Id id;
        Value value;
        plan::LevelId home; ///< the level inside which it stands
    };
    using ThingKind = plan::ThingKind;

    // Declaring (plan_builder.cpp).
    void declare_level(std::string_view name, plan::Place place, const Value& value,
                       plan::LevelId parent);
    plan::LevelId add_level(std::string_view name, plan::Place place, plan::LevelId parent,
                            ReadContext::Written written = ReadContext::Written::yes);
    void declare_belongings(const Fields& fields);
    template <class Id, class T>
    Id declare(Names<Id>& names, plan::Table<Id, T>& table, std::string_view name,
               plan::Place place, ReadContext::Written written = ReadContext::Written::yes);
    template <class Id, class T>
    void declare_all(const Value& section, std::string_view what, Names<Id>& names,
                     plan::Table<Id, T>& table, std::vector<Body<Id>>& bodies);
    void declare_menu(std::string_view name, plan::Place place, const Value& value);
    template <class Id>
    void read_all(const std::vector<Body<Id>>& bodies,
                  void (PlanBuilder::*read_one)(const Value&, Id));
    void read_waypoints_and_spaces();

    // What many sections need (plan_builder.cpp).
    plan::WordId word(std::string_view text, plan::Place place = {});
    /// Words of the designer's own choice, of a kind that renaming knows.
    std::vector<plan::WordId> words(const Value& value, std::string_view kind);
    plan::PoolId pool(std::string_view name, plan::Place place);
    plan::WorldId world(const Value& value);
    plan::WorldId world_called(std::string_view name, plan::Place place);
    void allow(const Fields& fields, ThingKind kind, std::uint32_t index);
    void check_conditions();
    plan::ConditionId condition(const Value& value, Asker asker = Asker::game);
    template <class T>
    std::vector<std::pair<plan::PoolId, T>> by_pool(const Value& value,
                                                    Parsed<T> (*parse)(std::string_view));

    // Devices and content (plan_builder_content.cpp).
    void read_device(const Value& value, plan::DeviceId id);
    void read_makers(const Value& value, plan::Makers& makers);
    void read_frame(const Value& value, plan::FrameTime& frame);
    void read_spread(const Value& value, plan::Spread& spread);
    /// Of a level, which is shown, or of a kit.
    enum class ContentOf : std::uint8_t { level, kit };
    plan::Figures read_figures(const Fields& fields, ContentOf of);
    plan::Content read_content(const Fields& fields, ContentOf of);
    void read_kit(const Value& value, plan::KitId id);
    void check_kit_cycles();
    void read_space(const Fields& fields, plan::LevelId id);
    void read_level(const Fields& fields, plan::LevelId id);
    void read_entries(const Value& value, plan::Level& level);
    void read_near(const Value& value, plan::Level& level);
    std::vector<plan::Box> read_boxes(const Value& value);

    // Cells (plan_builder_cells.cpp).
    void declare_cells(const Value& value, plan::LevelId level);
    void declare_middle(plan::LevelId cell);
    void place_cells(const Fields& fields, plan::GridId id);
    void read_cells(const Fields& fields, plan::GridId id);
    void add_ways(const Fields& fields, plan::GridId id);
    void check_cells();
    template <class Read>
    bool read_pair(const Value& value, std::string_view what, Read read);

    // Groups of levels, and levels where several may stand (plan_builder_groups.cpp).
    /// What a group that is one-of means where levels are listed.
    enum class OneOf : std::uint8_t {
        all,     ///< each of its levels
        any,     ///< whichever is there
        refused, ///< nothing: only one of them can be
    };
    struct Levels {
        std::vector<plan::LevelId> levels;
        std::vector<plan::GroupId> any_of;
    };
    void read_group(const Value& value, plan::GroupId id);
    void read_variants(const Value& written, plan::GroupId id);
    void check_variants();
    /// A level, or levels of a group; an invalid value and a name that is none become findings.
    void read_level_or_group(const Value& value, OneOf one_of, Levels& into);
    /// A list of such, or one.
    Levels read_levels(const Value& value, OneOf one_of);
    std::vector<plan::LevelId> read_all_levels(const Value& value) {
        return read_levels(value, OneOf::all).levels;
    }
    std::vector<plan::LevelId> read_levels_to_ask_for(const Value& value) {
        return read_levels(value, OneOf::refused).levels;
    }

    // The world (plan_builder_world.cpp).
    void read_waypoint(const Value& value, plan::WaypointId id);
    void read_path(const Value& value);
    plan::PathId add_path(plan::Path path);
    plan::Box read_box(const Value& value);
    plan::Sphere read_sphere(const Value& value);
    plan::Beyond read_beyond(const Value& value);
    plan::Shape read_shape(const Value& value, const Fields& fields);
    /// Reads a point that is written in the space of the level around it.
    void read_point(const Value& value, plan::Vec3& into);
    void read_turn(const Value& value, double& turn);
    /// Of the level whose inside is being read; else that of the world.
    [[nodiscard]] plan::Space space() const;
    std::vector<plan::LevelId> read_in(const Fields& fields, plan::LevelId home);
    static plan::StepList list_of(plan::OwnerKind owner, std::uint32_t index,
                                  const std::vector<plan::LevelId>& in);
    void read_trigger(const Value& value, plan::TriggerId id);
    void read_menu(const Fields& fields, plan::MenuId id, plan::LevelId home);
    void read_item(const Value& value, plan::ItemId id);
    void read_veil(const Value& value, plan::VeilId id);
    void read_fact(const Value& value, plan::FactId id);
    void read_fact_bounds(const Fields& fields, plan::Fact& fact);
    void read_player(const Value& value, plan::PlayerKindId id);
    void read_gate(const Value& value, plan::GateId id);

    // Named lists, levels by a fact (plan_builder_lists.cpp).
    /// What is given to a named list: its text, names in full, and where it is given.
    struct Argument {
        std::string text;
        Spot spot;
    };
    /// A level by a fact, as it stands in a step.
    struct ByFact {
        Value value;        ///< unset: there is none
        bool alone = false; ///< without it the step names no level
    };
    void read_named_lists();
    void read_named_list(const Value& value, plan::NamedListId id);
    void check_named_list(plan::NamedListId id);
    void check_list_cycles();
    void circle_error(std::span<const plan::NamedListId> circle, plan::Place place);
    void read_do(const Value& value, plan::ListId into, std::size_t written);
    bool bind(plan::NamedListId id, plan::Place use, const Value& given,
              std::vector<Argument>& arguments);
    std::optional<std::string> argument_text(const plan::Parameter& parameter,
                                             const std::string& list, const Value& argument);
    void expand(plan::NamedListId id, plan::Place use, const std::vector<Argument>& arguments,
                plan::ListId into, std::size_t written);
    [[nodiscard]] std::size_t values_of(plan::NamedListId id, std::size_t depth);
    bool too_many(std::size_t more, plan::Place place);
    [[nodiscard]] static ByFact find_by_fact(std::string_view name, const Fields& fields);
    void read_by_fact(const Value& step, const ByFact& by, plan::ListId list, std::size_t written);
    [[nodiscard]] plan::Condition equals(plan::FactId fact, const plan::Value& value,
                                         const Value& written) const;

    // Steps (plan_builder_steps.cpp).
    plan::ListId read_steps(const Value& value, plan::StepList list);
    /// Adds the steps of a value to a list.
    void read_steps_into(const Value& value, plan::ListId list);
    /// Adds a step, or those of the list that it does, to a list; `written`: as which element of
    /// it.
    void read_step(const Value& value, plan::ListId list, std::size_t written);
    plan::ListId push_sublist(plan::ListId list);
    /// The same, whatever `when` stands beside it.
    void read_step_without_when(const Value& value, plan::ListId list, std::size_t written);
    bool check_beside(std::string_view name, const Fields& fields);
    plan::Who read_who(const Fields& fields, plan::Who otherwise);
    /// What a step does, by the key that names it.
    std::optional<decltype(plan::Step::what)> step_of(std::string_view name, const Fields& fields,
                                                      plan::ListId list, std::size_t index);
    std::optional<decltype(plan::Step::what)> step_of_levels(std::string_view name,
                                                             const Fields& fields);
    plan::WaitStep read_wait(const Fields& fields);
    plan::SwitchStep read_switch(const Value& value, plan::SwitchStep::Target target);
    void read_way_of_switching(const Fields& fields, plan::SwitchStep& step);
    std::optional<plan::ReturnStep> read_return(const Value& value);
    void read_target(const Value& value, plan::SwitchStep& step);
    plan::ChooseStep read_choose(const Value& value, plan::ListId list, std::size_t index);
    std::vector<plan::Assignment> read_assignments(const Value& value);
    std::optional<plan::Assignment> read_assignment(std::string_view name, plan::Place place,
                                                    const Value& value);
    plan::ResetStep read_reset(const Value& value);
    bool only_word(const Value& value, std::string_view key, const ObjectKeys& keys);
    plan::WaypointId entry_of(const Value& value, plan::LevelId level);
    /// `level.entry`; both unset, and a finding, where there is none.
    std::pair<plan::LevelId, plan::WaypointId> level_entry(const Value& value);
    bool read_value(const Value& value, plan::ValueKind kind, plan::Value& into);
    /// A value that a fact can have.
    bool read_value_of(plan::FactId id, const Value& value, plan::Value& into);

    // Rules, editions, limits, routes (plan_builder_routes.cpp).
    void read_purpose(const Value& value, plan::PurposeId id);
    void add_contents();
    void read_rule(const Value& value);
    void read_edition(const Value& value, plan::EditionId id);
    void read_parcels(const Value& value, plan::Edition& edition);
    void read_limits(const Value& value);
    void read_route(const Value& value, plan::RouteId id);
    void check_launches(const plan::Route& route);
    void read_machines(const Fields& fields, plan::Route& route);
    void read_machine(const Value& value, plan::Route& route, plan::MachineId id);
    void check_machines(const Fields& fields, const plan::Route& route);
    void read_start(const Value& value, plan::Route& route);
    void read_start_of_game(const Fields& fields, plan::Start& start);
    std::vector<plan::Assignment> read_start_facts(const Value& value);
    plan::ExpectStep read_expect(const Value& value);
    void read_route_steps(const Value& value, plan::RoutePlayer& player);
    std::optional<plan::ItemId> read_press(const Value& value);
    /// `owner.name`, cut at its dot; nothing, and a finding, where there is none.
    struct Dotted {
        std::string_view owner, name;
        Spot spot_of_name;
    };
    std::optional<Dotted> dotted(const Value& value, std::string_view expected);
    plan::PathId read_along(const Value& value, plan::WaypointId to);
    double read_speed(const Value& value, const plan::RoutePlayer& player, plan::Place place);

    // Measured sizes (plan_builder_sizes.cpp).
    struct SizesCell {
        std::string text;
        plan::Place place;
    };
    /// A row by its columns piece, device, pool, memory, packed and objects.
    struct SizesRow {
        plan::Place place;
        std::array<SizesCell, 6> cells;
    };
    void measure_row(const SizesRow& row);

    plan::Plan& plan_;
    ReadContext& reading_;

    Scope scope_; ///< where plain names are looked up just now
    Names<plan::WordId> words_{"word"};
    Names<plan::WordId> values_{"value"}; ///< the words that facts can be
    Names<plan::PoolId> pools_{"pool"};
    Names<plan::WorldId> worlds_{"world"};
    Names<plan::DeviceId> devices_{"device"};
    Names<plan::KitId> kits_{"kit"};
    Names<plan::LevelId> levels_{"level"};
    Names<plan::GroupId> groups_{"group"};
    Names<plan::WaypointId> waypoints_{"waypoint", scope_};
    Names<plan::GateId> gates_{"gate", scope_};
    Names<plan::TriggerId> triggers_{"trigger", scope_};
    Names<plan::MenuId> menus_{"menu", scope_};
    Names<plan::VeilId> veils_{"veil"};
    Names<plan::PurposeId> purposes_{"purpose"};
    Names<plan::NamedListId> named_lists_{"list", scope_};
    Names<plan::FactId> facts_{"fact", scope_};
    Names<plan::PlayerKindId> players_{"player"};
    Names<plan::EditionId> editions_{"edition"};
    Names<plan::RouteId> routes_{"route"};

    std::vector<Body<plan::DeviceId>> device_bodies_;
    std::vector<Body<plan::KitId>> kit_bodies_;
    std::vector<std::pair<plan::LevelId, Fields>> level_bodies_;
    std::vector<std::pair<plan::GridId, Fields>> grid_bodies_;
    std::map<plan::LevelId, plan::WaypointId> middles_; ///< of cells whose grid has ways
    std::vector<Body<plan::GroupId>> group_bodies_;
    std::vector<Body<plan::WaypointId>> waypoint_bodies_;
    std::vector<Body<plan::GateId>> gate_bodies_;
    std::vector<std::pair<Value, plan::LevelId>> path_bodies_;
    std::vector<Body<plan::TriggerId>> trigger_bodies_;
    struct MenuBody {
        plan::MenuId id;
        Fields fields;
        plan::LevelId home;
    };
    std::vector<MenuBody> menu_bodies_;
    std::vector<Body<plan::ItemId>> item_bodies_;
    std::vector<Body<plan::VeilId>> veil_bodies_;
    std::vector<Body<plan::PurposeId>> purpose_bodies_;
    std::vector<Body<plan::FactId>> fact_bodies_;
    std::vector<Body<plan::PlayerKindId>> player_bodies_;
    std::vector<Value> rule_bodies_;
    std::vector<Body<plan::EditionId>> edition_bodies_;
    std::vector<Body<plan::RouteId>> route_bodies_;
    std::vector<Value> limit_bodies_;
    std::vector<Body<plan::NamedListId>> list_bodies_;

    /// Where a named list's steps are read from.
    struct ListSource {
        Value steps;
        bool wrong = false; ///< it has findings of its own, which are told
        std::vector<std::pair<plan::NamedListId, plan::Place>> does; ///< other lists, and where
        std::size_t values = 0; ///< that one use comes to; 0: not counted yet
    };
    plan::Table<plan::NamedListId, ListSource> list_sources_;
    plan::NamedListId defines_;            ///< whose own steps are being read
    std::vector<plan::NamedListId> doing_; ///< whose steps are being read for a use, innermost last
    std::vector<std::unique_ptr<YamlTree>>
        copies_;               ///< what the steps of uses and cases are read from
    std::size_t expanded_ = 0; ///< values of these
    bool told_too_many_ = false;
};

template <class Id>
void PlanBuilder::read_all(const std::vector<Body<Id>>& bodies,
                           void (PlanBuilder::*read_one)(const Value&, Id)) {
    for (const auto& [id, value, home] : bodies) {
        const InsideLevel inside(scope_, home);
        (this->*read_one)(value, id);
    }
}

template <class T>
std::vector<std::pair<plan::PoolId, T>> PlanBuilder::by_pool(const Value& value,
                                                             Parsed<T> (*parse)(std::string_view)) {
    std::vector<std::pair<plan::PoolId, T>> sizes;
    reading_.named(value, "memory",
                   [&](std::string_view name, plan::Place place, const Value& size) {
                       T amount{};
                       if (!reading_.quantity(size, parse, "memory in MiB", amount)) return;
                       const plan::PoolId id = pool(name, place);
                       for (const auto& [known, ignored] : sizes) {
                           if (known == id)
                               reading_.error("defined-twice", place,
                                              fmt::format("pool \"{}\" stands here twice", name));
                       }
                       sizes.emplace_back(id, amount);
                   });
    return sizes;
}

} // namespace hestrel::source
