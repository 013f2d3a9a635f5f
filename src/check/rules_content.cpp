// Rules about sizes, facts and what is defined for nothing.

#include "check/report.hpp"
#include "plan/names.hpp"
#include "study/contents.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::check {

using plan::Bytes;
using plan::LevelId;
using plan::ThingKind;

namespace {

std::string in_mib(Bytes size) {
    return std::to_string(std::llround(plan::in_mebibytes(size))) + " MiB";
}

/// A measured size may differ from the plan's own by this share of it.
constexpr double drift_allowed = 0.1;

} // namespace

void base_over_budget(const Study& study, Report& report) {
    for (const plan::DeviceId id : study.plan.devices.ids()) {
        const plan::Device& device = study.plan.devices[id];
        if (device.memory.base <= device.memory.total) continue;
        report.add(device.place, {ThingKind::device, id.value},
                   "base " + in_mib(device.memory.base) + " is over the budget of " +
                       in_mib(device.memory.total) + " before anything loads");
    }
}

void level_over_budget(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    for (const plan::DeviceId device : plan.devices.ids()) {
        if (!study.sound({ThingKind::device, device.value})) continue;
        // Where the base alone is over, that is the thing to mend.
        if (plan.devices[device].memory.base > plan.devices[device].memory.total) continue;
        const loading::Catalogue& catalogue = study.catalogues[device.value];
        for (const LevelId id : plan.levels.ids()) {
            std::vector<Bytes> pools = catalogue.pieces[catalogue.piece_of(id)].memory;
            for (const loading::PieceId kit : catalogue.levels[id].kits) {
                for (std::size_t pool = 0; pool < pools.size(); ++pool)
                    pools[pool] += catalogue.pieces[kit].memory[pool];
            }
            Bytes total = catalogue.memory.base;
            for (const Bytes size : pools) total += size;
            const auto add = [&](Bytes size, Bytes budget, const std::string& what) {
                if (size <= budget) return;
                report.add(plan.levels[id].place, {ThingKind::level, id.value},
                           plan.levels[id].name + " alone with its kits needs " + in_mib(size) +
                               " of the " + what + in_mib(budget) + " on " +
                               plan.devices[device].name);
            };
            add(total, catalogue.memory.total, "");
            for (const auto& [pool, budget] : catalogue.memory.pools) {
                add(pools[pool.value], budget, plan.pools[pool] + " budget of ");
            }
        }
    }
}

void empty_level(const Study& study, Report& report) {
    for (const LevelId id : study.plan.levels.ids()) {
        const plan::Level& level = study.plan.levels[id];
        const bool holds_something = !level.content.figures.memory.empty() ||
                                     !level.content.on.empty() || !level.content.measured.empty() ||
                                     !level.kits.empty() || !level.sublevels.empty();
        if (holds_something) continue;
        report.add(level.place, {ThingKind::level, id.value},
                   level.name + " holds nothing: no memory, kits or sublevels");
    }
}

void size_drift(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    const auto look = [&](const plan::Content& content, const std::string& name,
                          plan::Thing thing) {
        for (const plan::Measured& row : content.measured) {
            const plan::Figures* own = &content.figures;
            for (const auto& [device, figures] : content.on) {
                if (device == row.device) own = &figures;
            }
            for (const auto& [pool, measured] : row.figures.memory) {
                for (const auto& [planned_pool, planned] : own->memory) {
                    if (planned_pool != pool) continue;
                    const double allowed = drift_allowed * plan::in_mebibytes(planned.high);
                    const bool drifted = plan::in_mebibytes(measured.high) >
                                             plan::in_mebibytes(planned.high) + allowed ||
                                         plan::in_mebibytes(measured.high) <
                                             plan::in_mebibytes(planned.low) - allowed;
                    if (!drifted) continue;
                    report.add(row.place, thing,
                               name + " was measured at " + in_mib(measured.high) + " of " +
                                   plan.pools[pool] + "; the plan says " + in_mib(planned.high));
                }
            }
        }
    };
    for (const LevelId id : plan.levels.ids())
        look(plan.levels[id].content, plan.levels[id].name, {ThingKind::level, id.value});
    for (const plan::KitId id : plan.kits.ids())
        look(plan.kits[id].content, plan.kits[id].name, {ThingKind::kit, id.value});
}

// --- facts -------------------------------------------------------------------

void unbounded_fact(const Study& study, Report& report) {
    for (const plan::FactId id : study.plan.facts.ids()) {
        const plan::Fact& fact = study.plan.facts[id];
        if (!study.facts[id].added_to || fact.range) continue;
        report.add(fact.place, {ThingKind::fact, id.value},
                   "steps add to " + fact.name + ", which has no range");
    }
}

void restore_without_save(const Study& study, Report& report) {
    const plan::Step* restore = nullptr;
    const plan::StepList* where = nullptr;
    bool saved = false;
    for (const plan::StepList& list : study.plan.lists) {
        for (const plan::Step& step : list.steps) {
            saved = saved || std::holds_alternative<plan::SaveStep>(step.what);
            if (restore != nullptr || !std::holds_alternative<plan::RestoreStep>(step.what))
                continue;
            restore = &step;
            where = &list;
        }
    }
    if (restore == nullptr || saved) return;
    report.add(restore->place, owner_of(*where), "there is nothing to restore: nothing ever saves");
}

void saved_never_set(const Study& study, Report& report) {
    for (const plan::FactId id : study.plan.facts.ids()) {
        const plan::Fact& fact = study.plan.facts[id];
        if (fact.lifetime != plan::Lifetime::saved || study.facts[id].set) continue;
        report.add(fact.place, {ThingKind::fact, id.value},
                   fact.name + " is saved, but nothing ever sets it");
    }
}

void fact_never_read(const Study& study, Report& report) {
    for (const plan::FactId id : study.plan.facts.ids()) {
        const plan::Fact& fact = study.plan.facts[id];
        if (study.facts[id].read || fact.displayed) continue;
        report.add(fact.place, {ThingKind::fact, id.value}, "no condition reads " + fact.name);
    }
}

void constant_condition(const Study& study, Report& report) {
    for (const plan::Condition& condition : study.plan.conditions) {
        const bool varies =
            std::any_of(condition.terms.begin(), condition.terms.end(), [](const plan::Term& term) {
                return plan::is_leaf(term.operation) && term.operation != plan::Operation::value;
            });
        if (!varies)
            report.add(condition.place, {}, "\"" + condition.text + "\" is always the same");
    }
}

void contents_missing(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    if (plan.purposes.empty()) return;
    for (const study::Contents& contents : study::contents_of(study)) {
        if (contents.missing.empty() || !study.uses[contents.level].shown) continue;
        const plan::Level& level = plan.levels[contents.level];
        std::vector<std::string> missing;
        for (const plan::WordId word : contents.missing) missing.push_back(plan.words[word]);
        report.add(level.place, {ThingKind::level, contents.level.value},
                   level.name + " is " + plan.purposes[level.purpose].name +
                       ", and nothing that can be shown with it provides " +
                       plan::joined(missing, " or "));
    }
}

void unused_definition(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    std::vector<bool> kits(plan.kits.size());
    std::vector<bool> waypoints(plan.waypoints.size());
    std::vector<bool> gates(plan.gates.size());
    std::vector<bool> veils(plan.veils.size());
    std::vector<bool> levels(plan.levels.size());
    std::vector<bool> purposes(plan.purposes.size());
    for (const plan::Level& level : plan.levels) {
        if (level.purpose) purposes[level.purpose.value] = true;
    }
    for (const plan::Kit& kit : plan.kits) {
        for (const plan::KitId needed : kit.needs) kits[needed.value] = true;
    }
    for (const plan::Level& level : plan.levels) {
        for (const plan::KitId kit : level.kits) kits[kit.value] = true;
        for (const plan::Entry& entry : level.entries) waypoints[entry.waypoint.value] = true;
    }
    for (const plan::Path& path : plan.paths) {
        waypoints[path.from.value] = waypoints[path.to.value] = true;
        if (path.gate) gates[path.gate.value] = true;
    }
    for (const plan::Route& route : plan.routes) {
        if (route.start.at) waypoints[route.start.at.value] = true;
        if (route.start.level) levels[route.start.level.value] = true;
        for (const LevelId level : route.start.loaded) levels[level.value] = true;
        if (route.start.checkpoint && route.start.checkpoint->at)
            waypoints[route.start.checkpoint->at.value] = true;
        for (const plan::RoutePlayer& player : route.players) {
            for (const plan::RouteStep& step : player.steps) {
                if (const auto* go = std::get_if<plan::GoStep>(&step.what))
                    waypoints[go->to.value] = true;
            }
        }
    }
    for (const plan::Condition& condition : plan.conditions) {
        for (const plan::Term& term : condition.terms) {
            if (term.waypoint) waypoints[term.waypoint.value] = true;
            for (const LevelId level : plan::levels_of(plan, term)) levels[level.value] = true;
        }
    }
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            const study::StepReading reading = study::read_step(step);
            for (const plan::VeilId veil : {reading.raises, reading.behind}) {
                if (veil) veils[veil.value] = true;
            }
        }
    }
    const auto add = [&](const plan::Named& named, const char* kind, ThingKind thing,
                         std::uint32_t index) {
        report.add(named.place, {thing, index},
                   std::string("nothing uses the ") + kind + " " + named.name);
    };
    const auto look = [&](const auto& table, const std::vector<bool>& used, const char* kind,
                          ThingKind thing) {
        for (const auto id : table.ids()) {
            if (!used[id.value]) add(table[id], kind, thing, id.value);
        }
    };
    look(plan.kits, kits, "kit", ThingKind::kit);
    look(plan.waypoints, waypoints, "waypoint", ThingKind::waypoint);
    look(plan.gates, gates, "gate", ThingKind::gate);
    look(plan.veils, veils, "veil", ThingKind::veil);
    std::vector<bool> lists(plan.named_lists.size());
    for (const plan::ListUse& use : plan.list_uses) lists[use.list.value] = true;
    look(plan.named_lists, lists, "list", ThingKind::list);
    for (const plan::Gate& gate : plan.gates) { // one that waits in vain is its own finding
        for (const LevelId level : plan::all_looked_at(plan, gate.needs, gate.any_of))
            levels[level.value] = true;
    }
    std::vector<bool> groups(plan.groups.size());
    for (const plan::GroupId id : plan.groups.ids())
        groups[id.value] = plan.groups[id].listed || plan.groups[id].one_of;
    look(plan.purposes, purposes, "purpose", ThingKind::purpose);
    look(plan.groups, groups, "group", ThingKind::group);
    for (const LevelId id : plan.levels.ids()) {
        if (!study.uses[id].asked && !levels[id.value])
            add(plan.levels[id], "level", ThingKind::level, id.value);
    }
}

} // namespace hestrel::check
