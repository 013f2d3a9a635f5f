#pragma once
// What can be known of a plan without simulating it, worked out once for all who ask: rules,
// advice, orders, figures.

#include "loading/catalogue.hpp"
#include "plan/finding.hpp"
#include "plan/level_tree.hpp"
#include "study/coming_from.hpp"
#include "study/geography.hpp"
#include "study/list_reading.hpp"
#include "study/reach.hpp"

#include <set>
#include <span>
#include <vector>

namespace hestrel::study {

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
    std::set<plan::VeilId> veils;       ///< that it raises, those of switches included
    bool switches = false;              ///< by name, position, next or back, or returns
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
struct Study {
    /// `errors`: what the reader found, in file order; what that is about is not sound.
    Study(const plan::Plan& of, std::span<const plan::Finding> errors);

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
    Reach reach;                             ///< from where players may find themselves
    plan::Table<plan::LevelId, bool> let_go; ///< a trigger may unload it, and players walk on
    /// Of triggers that bring a level or let it go, about that level; of those that take everyone
    /// somewhere else or leave all levels, about all.
    Crossings crossings;

    /// Lists of steps whose game can be in `edition`: they belong to no level, or to one that it
    /// ships.
    [[nodiscard]] bool can_run_in(const plan::StepList& list, plan::EditionId edition) const;
    [[nodiscard]] bool ships_level(plan::EditionId edition, plan::LevelId level) const {
        return ships[edition][level.value];
    }
    /// Where the game begins: in the first level of each edition; in a plan without editions, where
    /// routes do, whose starts are else for trying things.
    struct Start {
        plan::LevelId level;
        plan::WaypointId at; ///< unset: nowhere
        plan::Place place;
        plan::Thing about;
    };
    [[nodiscard]] std::vector<Start> starts() const;
    /// Levels that are shown while `level` is, and those that always are. Sorted.
    [[nodiscard]] std::vector<plan::LevelId> there_with(plan::LevelId level) const;
    /// Those that are while any one of several is, whichever; of none, those that always are.
    [[nodiscard]] std::vector<plan::LevelId>
    there_with(const std::vector<plan::LevelId>& any_of) const;
    /// And that are when a list begins.
    [[nodiscard]] std::vector<plan::LevelId> there_with(const plan::StepList& list) const;
    /// Whether it was read without an error.
    [[nodiscard]] bool sound(plan::Thing thing) const { return !broken_.contains(thing); }

private:
    void look_at_lists();
    void look_at_starts();
    void look_at_facts();
    void look_at_arrivals();
    void look_at_letting_go();
    void look_at_crossings();

    std::set<plan::Thing> broken_;
};

/// Calls `each(list, index, step)` for every step of the plan.
template <class Each>
void for_steps(const plan::Plan& plan, Each each) {
    for (const plan::StepList& list : plan.lists) {
        for (std::size_t i = 0; i < list.steps.size(); ++i) each(list, i, list.steps[i]);
    }
}

} // namespace hestrel::study
