#pragma once
// What many rules need to know of a plan, worked out once.

#include "check/check.hpp"
#include "geometry/shape_index.hpp"
#include "loading/catalogue.hpp"
#include "plan/level_tree.hpp"

#include <string>
#include <vector>

namespace hestrel::check {

/// What is done to a level anywhere in the plan.
struct Use {
    bool loaded = false;   ///< a `load` names it, or what comes with it
    bool asked = false;    ///< anything at all asks for it
    bool shown = false;    ///< anything wants it shown
    bool unloaded = false; ///< anything can unload it
};

/// The plan, and what follows from it.
struct Context {
    explicit Context(const plan::Plan& of);

    const plan::Plan& plan;
    plan::LevelTree tree;
    plan::Table<plan::LevelId, Use> uses;
    plan::Table<plan::LevelId, std::vector<plan::ListId>>
        shown_by;                                         ///< lists with a step that wants it shown
    plan::Table<plan::LevelId, bool> shown_without_steps; ///< by a start, persisting or near
    plan::Table<plan::EditionId, std::vector<bool>> ships; ///< by edition and level
    std::vector<loading::Catalogue> catalogues;            ///< by device

    /// Paths that could meet a trigger's shape, in plan order.
    [[nodiscard]] std::vector<plan::PathId> paths_near(const plan::Trigger& trigger) const;
    /// Waypoints that could be inside it.
    [[nodiscard]] std::vector<plan::WaypointId> waypoints_near(const plan::Trigger& trigger) const;

    /// Lists of steps whose game can be in `edition`: they belong to no level, or to one that it
    /// ships.
    [[nodiscard]] bool can_run_in(const plan::StepList& list, plan::EditionId edition) const;
    [[nodiscard]] bool ships_level(plan::EditionId edition, plan::LevelId level) const {
        return ships[edition][level.value];
    }

private:
    std::vector<geometry::ShapeIndex> paths_; ///< bounds of paths, by world
    std::vector<geometry::ShapeIndex> waypoints_;
};

/// What a step asks for or wants shown by name, `with` included; empty for every other step.
std::vector<plan::LevelId> levels_called(const plan::Step& step);

/// The switch of a `switch`, `next` or `back`; null for every other step.
const plan::SwitchStep* switch_of(const plan::Step& step);

/// The thing that a list of steps belongs to.
plan::Thing owner_of(const plan::StepList& list);

/// "a, b and c".
std::string names_of(const plan::Plan& plan, const std::vector<plan::LevelId>& levels);

/// Where rules put what they find.
class Report {
public:
    void set_rule(const Rule& rule) { rule_ = &rule; }
    void add(plan::Place place, plan::Thing about, std::string message) {
        findings_.push_back(
            {rule_->severity, std::string(rule_->name), place, std::move(message), about});
    }
    [[nodiscard]] std::vector<plan::Finding>& findings() { return findings_; }

private:
    const Rule* rule_ = nullptr;
    std::vector<plan::Finding> findings_;
};

// The rules, by what they look at.
void target_not_in_edition(const Context& context, Report& report);
void position_out_of_edition(const Context& context, Report& report);
void position_unclear(const Context& context, Report& report);
void start_parcel_incomplete(const Context& context, Report& report);

void trigger_fits_nobody(const Context& context, Report& report);
void trigger_brings_own_level(const Context& context, Report& report);
void trigger_off_paths(const Context& context, Report& report);
void trigger_too_thin(const Context& context, Report& report);

void gate_without_load(const Context& context, Report& report);
void steps_after_own_unload(const Context& context, Report& report);
void leave_waits(const Context& context, Report& report);
void return_without_mark(const Context& context, Report& report);
void loaded_never_shown(const Context& context, Report& report);
void never_unloaded(const Context& context, Report& report);
void persisting_unloaded(const Context& context, Report& report);
void switch_without_veil(const Context& context, Report& report);
void veil_left_up(const Context& context, Report& report);
void freeze_without_thaw(const Context& context, Report& report);

void base_over_budget(const Context& context, Report& report);
void level_over_budget(const Context& context, Report& report);
void empty_level(const Context& context, Report& report);
void size_drift(const Context& context, Report& report);

void unbounded_fact(const Context& context, Report& report);
void restore_without_save(const Context& context, Report& report);
void saved_never_set(const Context& context, Report& report);
void fact_never_read(const Context& context, Report& report);
void constant_condition(const Context& context, Report& report);
void unused_definition(const Context& context, Report& report);

} // namespace hestrel::check
