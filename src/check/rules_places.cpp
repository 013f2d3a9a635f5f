// Rules about where levels, entries and players are: no way in, entries elsewhere, levels that lie
// in each other, what lies behind what brings it.

#include "check/report.hpp"
#include "geometry/crossing.hpp"
#include "geometry/overlap.hpp"
#include "plan/names.hpp"
#include "study/soonest_need.hpp"
#include "study/together.hpp"
#include "study/trigger_loads.hpp"

#include <algorithm>

namespace hestrel::check {

using geometry::Leg;
using plan::LevelId;
using plan::ThingKind;
using plan::TriggerId;
using plan::WaypointId;
using Crossed = study::ComingFrom::Crossed;

// --- entries -----------------------------------------------------------------

namespace {

/// A level that a switch can lead to, and the edition in which it does; unset: in any.
struct Target {
    LevelId level;
    plan::EditionId edition;
};

/// What a switch leads to: what it names, or what stands at its place in each edition.
std::vector<Target> targets_of(const Study& study, const Positions& positions, plan::ListId list,
                               const plan::SwitchStep& switches) {
    if (switches.to) return {{switches.to, {}}};
    std::vector<Target> targets;
    for (const plan::EditionId edition : study.plan.editions.ids()) {
        const auto& levels = study.plan.editions[edition].levels;
        const auto add = [&](std::optional<std::size_t> from) {
            if (const auto to = plan::place_led_to(switches, from, levels.size()))
                targets.push_back({levels[*to], edition});
        };
        if (!switches.position) {
            for (const std::size_t from : positions.met(edition, list)) add(from);
        } else if (study.can_run_in(study.plan.lists[list], edition)) {
            add({});
        }
    }
    return targets;
}

/// Calls `each(list, step, switch)` for every switch of the plan.
template <class Each>
void for_switches(const Study& study, Each each) {
    for (const plan::ListId id : study.plan.lists.ids()) {
        for (const plan::Step& step : study.plan.lists[id].steps) {
            if (const plan::SwitchStep* switches = switch_of(step)) each(id, step, *switches);
        }
    }
}

} // namespace

void no_way_in(const Study& study, Report& report) {
    const Positions positions(study);
    for_switches(study,
                 [&](plan::ListId id, const plan::Step& step, const plan::SwitchStep& switches) {
                     if (switches.at) return;
                     for (const Target& target : targets_of(study, positions, id, switches)) {
                         const plan::Level& level = study.plan.levels[target.level];
                         if (level.area.empty() || !level.entries.empty()) continue;
                         if (!study.sound({ThingKind::level, target.level.value})) continue;
                         report.add(step.place, owner_of(study.plan.lists[id]),
                                    "players are switched to " + level.name +
                                        ", which has an area and no entry: they are nowhere");
                         return;
                     }
                 });
}

void entry_outside_area(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        for (const plan::Entry& entry : level.entries) {
            if (!entry.waypoint) continue;
            const plan::Waypoint& at = plan.waypoints[entry.waypoint];
            if (at.world != level.world) {
                report.add(entry.place, {ThingKind::level, id.value},
                           "the entry " + entry.name + " leads to " + at.name +
                               ", which is in world " + plan.worlds[at.world] + ", and " +
                               level.name + " is in " + plan.worlds[level.world],
                           plan::Severity::error);
                continue;
            }
            // What comes with a level is part of where it is entered.
            const auto family = plan::asked_with(study.tree, id);
            if (level.area.empty() || std::any_of(family.begin(), family.end(), [&](LevelId each) {
                    return study::stands_in(plan, entry.waypoint, each);
                }))
                continue;
            report.add(entry.place, {ThingKind::level, id.value},
                       "the entry " + entry.name + " leads to " + at.name +
                           ", which lies outside the area of " + level.name);
        }
    }
}

void entry_unknown_there(const Study& study, Report& report) {
    const Positions positions(study);
    const plan::Plan& plan = study.plan;
    for_switches(study, [&](plan::ListId id, const plan::Step& step,
                            const plan::SwitchStep& switches) {
        if (switches.to || !switches.at_word) return;
        for (const Target& target : targets_of(study, positions, id, switches)) {
            const plan::Level& level = plan.levels[target.level];
            if (std::any_of(level.entries.begin(), level.entries.end(),
                            [&](const plan::Entry& each) { return each.word == switches.at_word; }))
                continue;
            report.add(step.place, owner_of(plan.lists[id]),
                       "in edition " + plan.editions[target.edition].name + " this leads to " +
                           level.name + ", which has no entry " + plan.words[switches.at_word] +
                           (level.entries.empty()
                                ? ": players are nowhere then"
                                : ": players come to " + level.entries.front().name + " then"));
            return;
        }
    });
}

// --- areas -------------------------------------------------------------------

void areas_coincide(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    study::Together together(study);
    const auto pairs = geometry::overlapping(plan);
    for (const auto& [one, other] : pairs) {
        if (together.can_be(one, other)) continue;
        if (!study.uses[one].shown || !study.uses[other].shown) continue;
        const plan::GroupId variants = plan.levels[one].variants;
        if (variants && variants == plan.levels[other].variants) continue; // meant to
        const double least = std::min(geometry::volume_of(plan.levels[one].area),
                                      geometry::volume_of(plan.levels[other].area));
        const double shared =
            geometry::shared_volume(plan.levels[one].area, plan.levels[other].area);
        if (least <= 0 || shared <= least / 2) continue;
        const auto percent = static_cast<int>(std::min(100.0, 100 * shared / least));
        report.add(plan.levels[other].place, {ThingKind::level, other.value},
                   plan.levels[other].name + " shares " + std::to_string(percent) +
                       " % of the smaller area with " + plan.levels[one].name +
                       ", and no step has both at once: a player in one is in the other, too; "
                       "give one its own world");
    }
}

/// Variants of a place that come near at once: the last in plan order wins each time.
void variants_alike(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    const auto alike = [&](const plan::Near& one, const plan::Near& other) {
        const auto text_of = [&](plan::ConditionId when) {
            return when ? std::string_view(plan.conditions[when].text) : std::string_view();
        };
        return one.load == other.load && one.unload == other.unload &&
               text_of(one.when) == text_of(other.when);
    };
    for (const plan::Group& group : plan.groups) {
        if (!group.one_of) continue;
        std::vector<LevelId> told;
        for (const LevelId level : group.levels) {
            const auto& near = plan.levels[level].near;
            const auto before = std::find_if(told.begin(), told.end(), [&](LevelId other) {
                return near && alike(*near, *plan.levels[other].near);
            });
            if (before != told.end()) {
                report.add(plan.levels[level].place, {ThingKind::level, level.value},
                           plan.levels[level].name + " comes near as " + plan.levels[*before].name +
                               " does, another variant of " + group.name +
                               ": the last one always wins");
            }
            if (near) told.push_back(level);
        }
    }
}

// --- what lies behind what ---------------------------------------------------

namespace {

/// A search backwards for any place where players find themselves.
study::ComingFrom search_for_arrivals(const Study& study) {
    study::ComingFrom search(study.plan, study.map);
    search.crossed = [](TriggerId) { return Crossed::nothing; };
    search.standing = [&study](WaypointId waypoint) {
        return study.arrivals_at[waypoint].empty() ? Crossed::nothing : Crossed::found;
    };
    search.surely = [&study](WaypointId waypoint) { return study.reach.leads_to(waypoint); };
    return search;
}

/// Whether players can get to where one of `triggers` is set off, on a way that `search` allows.
bool can_reach_any(const Study& study, study::ComingFrom& search,
                   const std::vector<TriggerId>& triggers) {
    return std::any_of(triggers.begin(), triggers.end(), [&](TriggerId trigger) {
        const auto starts = study::firings_of(study.plan, study.map, trigger);
        if (std::any_of(starts.begin(), starts.end(), [&](const study::OnLeg& start) {
                const bool closed = search.closed && search.closed(start.leg);
                return !closed && search.search(start.leg, start.metres).has_value();
            }))
            return true;
        return std::any_of(study.arrivals.begin(), study.arrivals.end(),
                           [&](const study::Arrival& arrival) {
                               return contains(study.map.around[arrival.at], trigger);
                           });
    });
}

/// Whether only triggers that players walk into bring a level.
bool only_by_walking(const Study& study, LevelId level) {
    const auto& bringers = study.brought_by[level];
    if (bringers.empty() || study.shown_without_steps[level]) return false;
    return std::all_of(study.shown_by[level].begin(), study.shown_by[level].end(),
                       [&](plan::ListId list) {
                           return std::any_of(bringers.begin(), bringers.end(), [&](TriggerId id) {
                               return study.plan.triggers[id].steps == top_list(study.plan, list);
                           });
                       });
}

} // namespace

void lives_too_late(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    study::ComingFrom anyhow = search_for_arrivals(study);
    study::ComingFrom search = search_for_arrivals(study);
    for (const TriggerId id : plan.triggers.ids()) {
        const plan::Trigger& trigger = plan.triggers[id];
        if (trigger.in.empty() || study.map.meetings[id].empty()) continue;
        std::vector<TriggerId> bringers;
        bool by_walking = true;
        for (const LevelId level : trigger.in) {
            by_walking = by_walking && only_by_walking(study, level);
            const auto& by = study.brought_by[level];
            bringers.insert(bringers.end(), by.begin(), by.end());
        }
        if (!by_walking) continue;
        std::sort(bringers.begin(), bringers.end());
        bringers.erase(std::unique(bringers.begin(), bringers.end()), bringers.end());
        if (among(bringers, id)) continue;                     // it brings its own level
        if (!can_reach_any(study, anyhow, bringers)) continue; // nobody gets there at all
        study::Crossings itself;
        itself.add(plan, study.map, id);
        itself.sort();
        search.look_only_at(itself);
        search.crossed = [&](TriggerId crossed) {
            return crossed == id ? Crossed::stops : Crossed::nothing;
        };
        const std::vector<Leg> through = study::legs_past(study, search, {id});
        search.surely = [&](WaypointId waypoint) { return study.reach.avoids(waypoint, through); };
        if (can_reach_any(study, search, bringers)) continue;
        report.add(trigger.place, {ThingKind::trigger, id.value},
                   "this belongs to " + plan::level_names(plan, trigger.in, " and ") +
                       ", which is brought only by what lies behind it (" +
                       plan::joined(plan::names_in(plan.triggers, bringers)) +
                       "): players are past it before it can fire");
    }
}

void gate_from_behind(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    plan::Table<plan::GateId, std::vector<Leg>> through(plan.gates.size());
    for (const plan::PathId path : plan.paths.ids()) {
        if (!plan.paths[path].gate) continue;
        for (const Leg leg : study::legs_of(plan, path))
            through[plan.paths[path].gate].push_back(leg);
    }
    study::ComingFrom anyhow = search_for_arrivals(study);
    study::ComingFrom search = search_for_arrivals(study);
    for (const plan::GateId id : plan.gates.ids()) {
        for (const LevelId level : plan.gates[id].needs) {
            if (!only_by_walking(study, level)) continue;
            const auto& bringers = study.brought_by[level];
            if (!can_reach_any(study, anyhow, bringers)) continue;
            search.closed = [&](Leg leg) { return plan.paths[leg.path].gate == id; };
            search.surely = [&](WaypointId waypoint) {
                return study.reach.avoids(waypoint, through[id]);
            };
            if (can_reach_any(study, search, bringers)) continue;
            report.add(plan.gates[id].place, {ThingKind::gate, id.value},
                       "this waits for " + plan.levels[level].name +
                           ", and all that brings it lies behind the gate itself (" +
                           plan::joined(plan::names_in(plan.triggers, bringers)) + ")");
            break;
        }
    }
}

void placed_in_hidden(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::StepList& list : plan.lists) {
        std::vector<LevelId> asked;
        const auto there = study.there_with(list);
        for (const study::StepReading& step : study::read_list(list)) {
            if (step.switches != nullptr || step.returns) asked.clear(); // it waits for all of it
            if (step.may_do_more) asked.clear();                         // who knows
            if (step.switches == nullptr) {
                for (const LevelId level : step.asks) {
                    for (const LevelId each : plan::asked_with(study.tree, level)) {
                        if (!among(there, each)) asked.push_back(each);
                    }
                }
            }
            if (step.waits != nullptr) {
                if (step.waits->time || step.waits->until) asked.clear(); // who knows
                if (step.waits->awaited == plan::Awaited::shown) {
                    for (const LevelId level :
                         plan::all_looked_at(plan, step.waits->levels, step.waits->any_of))
                        std::erase(asked, level);
                }
            }
            const auto* place = std::get_if<plan::PlaceStep>(&step.step->what);
            if (place == nullptr || !contains(asked, place->level)) continue;
            report.add(step.step->place, owner_of(list),
                       "players are placed in " + plan.levels[place->level].name +
                           ", which these steps ask for and do not wait to be shown");
        }
    }
}

} // namespace hestrel::check
