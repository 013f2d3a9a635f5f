#pragma once
// What many rules need to know of a plan, worked out once.

#include "check/check.hpp"
#include "check/geography.hpp"
#include "loading/catalogue.hpp"
#include "plan/level_tree.hpp"

#include <set>
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

/// What the plan does with a fact.
struct FactUse {
    bool added_to = false;
    bool set = false;
    bool read = false;
};

/// What a list of steps, with the branches of its `choose` steps, does to levels. Sorted.
struct Effects {
    std::vector<plan::LevelId> asks; ///< with all that comes with them
    std::vector<plan::LevelId> shows;
    std::vector<plan::LevelId> unloads; ///< by `unload`, with all below
    std::vector<plan::LevelId> keeps;   ///< by `keep-only`, with all that stays with them
    bool switches = false;              ///< by name, position, next or back
    bool moves_on = false;              ///< players who fire it find themselves elsewhere
    bool leaves_all = false;            ///< switches, returns or keeps only some
};

/// Where a player may find itself without having walked there.
struct Arrival {
    plan::WaypointId at;
    plan::Place place;       ///< of the step or route that brings it there
    plan::Thing about;       ///< to what that belongs
    plan::ListId list;       ///< in which the step stands, top list of a branch; unset: a route
    plan::LevelId target;    ///< the level gone to; unset: only placed
    bool leaves_all = false; ///< a switch or start: what is not asked for is gone
    std::vector<plan::LevelId> asked; ///< by the step, its list and what arrives. Sorted
};

/// The plan, and what follows from it.
struct Context {
    /// `errors`: what the reader found, in file order; what that is about is not sound.
    Context(const plan::Plan& of, std::span<const plan::Finding> errors);

    const plan::Plan& plan;
    plan::LevelTree tree;
    Geography map;
    plan::Table<plan::LevelId, Use> uses;
    plan::Table<plan::FactId, FactUse> facts;
    plan::Table<plan::ListId, Effects> effects; ///< of whole lists; of a branch: nothing
    plan::Table<plan::LevelId, std::vector<plan::ListId>>
        shown_by; ///< lists with a step that wants it shown
    plan::Table<plan::LevelId, std::vector<plan::TriggerId>> brought_by; ///< with shapes; they ask
    plan::Table<plan::LevelId, bool> shown_without_steps; ///< by a start, persisting or near
    std::vector<plan::LevelId> always;                    ///< persisting, with what comes with them
    plan::Table<plan::EditionId, std::vector<bool>> ships; ///< by edition and level
    std::vector<loading::Catalogue> catalogues;            ///< by device
    std::vector<Arrival> arrivals;
    plan::Table<plan::WaypointId, std::vector<std::size_t>> arrivals_at; ///< indices of those

    /// Lists of steps whose game can be in `edition`: they belong to no level, or to one that it
    /// ships.
    [[nodiscard]] bool can_run_in(const plan::StepList& list, plan::EditionId edition) const;
    [[nodiscard]] bool ships_level(plan::EditionId edition, plan::LevelId level) const {
        return ships[edition][level.value];
    }
    /// Levels that are shown while `level` is, and those that always are. Sorted.
    [[nodiscard]] std::vector<plan::LevelId> there_with(plan::LevelId level) const;
    /// Whether it was read without an error.
    [[nodiscard]] bool sound(plan::Thing thing) const { return !broken_.contains(thing); }

private:
    void look_at_lists();
    void look_at_starts();
    void look_at_facts();
    void look_at_arrivals();

    std::set<plan::Thing> broken_;
};

/// What a step asks for or wants shown by name, `with` included; empty for every other step.
std::vector<plan::LevelId> levels_called(const plan::Step& step);

/// The switch of a `switch`, `next` or `back`; null for every other step.
const plan::SwitchStep* switch_of(const plan::Step& step);

/// The list that a branch belongs to in the end; of any other list itself.
plan::ListId top_list(const plan::Plan& plan, plan::ListId list);

/// The thing that a list of steps belongs to.
plan::Thing owner_of(const plan::StepList& list);

/// "a, b and c".
std::string names_of(const plan::Plan& plan, const std::vector<plan::LevelId>& levels);

/// Whether a player has one of these tags; anybody does where there are none.
bool fits(const plan::PlayerKind& player, const std::vector<plan::WordId>& tags);

/// The highest speed of any player with one of these tags, in m/s; of any at all where there are
/// none. 0 where nobody moves.
double top_speed(const plan::Plan& plan, const std::vector<plan::WordId>& tags);

/// "3.2 s", "120 ms".
std::string time_text(plan::Micros time);

/// Calls `each(list, index, step)` for every step of the plan.
template <class Each>
void for_steps(const plan::Plan& plan, Each each) {
    for (const plan::StepList& list : plan.lists) {
        for (std::size_t i = 0; i < list.steps.size(); ++i) each(list, i, list.steps[i]);
    }
}

template <class T>
bool contains(const std::vector<T>& all, T one) {
    return std::find(all.begin(), all.end(), one) != all.end();
}

/// Whether a sorted list holds `one`.
template <class T>
bool among(const std::vector<T>& sorted, T one) {
    return std::binary_search(sorted.begin(), sorted.end(), one);
}

/// Where rules put what they find.
class Report {
public:
    void set_rule(const Rule& rule) { rule_ = &rule; }
    /// As bad as the rule says.
    void add(plan::Place place, plan::Thing about, std::string message) {
        add(place, about, std::move(message), rule_->severity);
    }
    void add(plan::Place place, plan::Thing about, std::string message, plan::Severity severity) {
        findings_.push_back({severity, std::string(rule_->name), place, std::move(message), about});
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
void arrival_in_trigger(const Context& context, Report& report);
void catch_too_small(const Context& context, Report& report);

void way_around(const Context& context, Report& report);
void switch_before_gate(const Context& context, Report& report);
void trigger_too_late(const Context& context, Report& report);
void fixed_wait_for_load(const Context& context, Report& report);

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
void items_alike(const Context& context, Report& report);

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
