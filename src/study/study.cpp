#include "study/study.hpp"

#include "geometry/crossing.hpp"
#include "plan/lists.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <iterator>

namespace hestrel::study {

using plan::LevelId;
using plan::ListId;
using plan::ThingKind;

namespace {

void sort_unique(std::vector<LevelId>& levels) {
    std::sort(levels.begin(), levels.end());
    levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
}

void append(std::vector<LevelId>& levels, const std::vector<LevelId>& more) {
    levels.insert(levels.end(), more.begin(), more.end());
}

/// Every definition that findings can be about, in file order.
std::vector<std::pair<plan::Place, plan::Thing>> definitions(const plan::Plan& plan) {
    std::vector<std::pair<plan::Place, plan::Thing>> all;
    const auto add = [&](const auto& table, ThingKind kind) {
        for (const auto id : table.ids()) all.push_back({table[id].place, {kind, id.value}});
    };
    add(plan.devices, ThingKind::device);
    add(plan.kits, ThingKind::kit);
    add(plan.levels, ThingKind::level);
    add(plan.waypoints, ThingKind::waypoint);
    add(plan.gates, ThingKind::gate);
    add(plan.paths, ThingKind::path);
    add(plan.triggers, ThingKind::trigger);
    add(plan.menus, ThingKind::menu);
    add(plan.items, ThingKind::item);
    add(plan.veils, ThingKind::veil);
    add(plan.facts, ThingKind::fact);
    add(plan.players, ThingKind::player);
    add(plan.purposes, ThingKind::purpose);
    add(plan.rules, ThingKind::rule);
    add(plan.editions, ThingKind::edition);
    add(plan.routes, ThingKind::route);
    std::sort(all.begin(), all.end());
    return all;
}

/// What each error stands in: the last definition that begins before it.
std::set<plan::Thing> broken_things(const plan::Plan& plan, std::span<const plan::Finding> errors) {
    std::set<plan::Thing> broken;
    if (errors.empty()) return broken;
    const auto all = definitions(plan);
    for (const plan::Finding& error : errors) {
        const auto after = std::upper_bound(
            all.begin(), all.end(), error.place,
            [](plan::Place place, const auto& each) { return place < each.first; });
        if (after == all.begin()) continue;
        if (std::prev(after)->first.file == error.place.file)
            broken.insert(std::prev(after)->second);
    }
    return broken;
}

} // namespace

Study::Study(const plan::Plan& of, std::span<const plan::Finding> errors)
    : plan(of), tree(plan::level_tree(of.levels)), map(of), uses(of.levels.size()),
      facts(of.facts.size()), effects(of.lists.size()), shown_by(of.levels.size()),
      brought_by(of.levels.size()), shown_without_steps(of.levels.size()),
      ships(of.editions.size()), broken_(broken_things(of, errors)) {
    look_at_lists();
    look_at_starts();
    look_at_facts();
    for (const plan::DeviceId device : plan.devices.ids())
        catalogues.push_back(loading::catalogue_for(plan, device));
    look_at_arrivals();
    arrivals_at.resize(plan.waypoints.size());
    std::vector<plan::WaypointId> origins;
    for (std::size_t i = 0; i < arrivals.size(); ++i) {
        arrivals_at[arrivals[i].at].push_back(i);
        origins.push_back(arrivals[i].at);
    }
    reach = Reach(plan, map, origins);
    look_at_letting_go();
    look_at_crossings();
}

void Study::look_at_letting_go() {
    let_go.assign(plan.levels.size(), false);
    for (const plan::TriggerId id : plan.triggers.ids()) {
        const Effects& effect = effects[plan.triggers[id].steps];
        if (effect.leaves_all) let_go.assign(plan.levels.size(), true);
        for (const LevelId level : effect.unloads) let_go[level] = true;
    }
}

void Study::look_at_crossings() {
    for (const plan::TriggerId id : plan.triggers.ids()) {
        const Effects& effect = effects[plan.triggers[id].steps];
        if (effect.leaves_all || effect.moves_on) crossings.add(plan, map, id);
        for (const LevelId level : effect.asks) crossings.add(plan, map, id, level);
        for (const LevelId level : effect.unloads) crossings.add(plan, map, id, level);
    }
    crossings.sort();
}

void Study::look_at_lists() {
    const auto gives_way_to = [&](LevelId level, Effects& effect) {
        const plan::GroupId variants = plan.levels[level].variants;
        if (!variants) return;
        for (const LevelId other : plan.groups[variants].levels) {
            if (other == level) continue;
            for (const LevelId each : plan::subtree_of(tree, other)) {
                uses[each].unloaded = true;
                effect.unloads.push_back(each);
            }
        }
    };
    const auto look_at = [&](const StepReading& step, ListId list, Effects& effect) {
        const bool only_loads = !step.shows && !step.marks;
        for (const LevelId level : step.called()) {
            for (const LevelId each : plan::asked_with(tree, level)) {
                uses[each].asked = true;
                (only_loads ? uses[each].loaded : uses[each].shown) = true;
                if (!step.marks) effect.asks.push_back(each);
                if (!step.marks) gives_way_to(each, effect);
                if (!step.shows) continue;
                effect.shows.push_back(each);
                shown_by[each].push_back(list);
            }
        }
        if (step.unloads != nullptr) {
            for (const LevelId level : *step.unloads) {
                for (const LevelId each : plan::subtree_of(tree, level)) {
                    uses[each].unloaded = true;
                    effect.unloads.push_back(each);
                }
            }
        }
        if (step.keeps != nullptr) {
            for (const LevelId level : *step.keeps)
                append(effect.keeps, plan::asked_with(tree, level));
        }
        if (step.raises) effect.veils.insert(step.raises);
        if (step.behind) effect.veils.insert(step.behind);
        effect.switches = effect.switches || step.switches != nullptr || step.returns;
        effect.moves_on = effect.moves_on || step.moves_on();
        effect.leaves_all = effect.leaves_all || step.leaves_all();
        return step.switches != nullptr && !step.switches->to;
    };
    bool by_position = false;
    bool leaves_all = false;
    for (const ListId list : plan.lists.ids()) {
        Effects& effect = effects[plan::top_list(plan, list)];
        for (const StepReading& step : read_list(plan.lists[list]))
            by_position = look_at(step, list, effect) || by_position;
        leaves_all = leaves_all || effect.leaves_all;
    }
    for (Effects& effect : effects) {
        sort_unique(effect.asks);
        sort_unique(effect.shows);
        sort_unique(effect.unloads);
        sort_unique(effect.keeps);
    }
    if (leaves_all) {
        for (Use& use : uses) use.unloaded = true;
    }
    for (const plan::TriggerId id : plan.triggers.ids()) {
        if (std::holds_alternative<std::monostate>(plan.triggers[id].shape)) continue;
        for (const LevelId level : effects[plan.triggers[id].steps].asks)
            brought_by[level].push_back(id);
    }
    if (!by_position) return;
    for (const plan::Edition& edition : plan.editions) {
        for (const LevelId level : edition.levels) {
            for (const LevelId each : plan::asked_with(tree, level))
                uses[each].asked = uses[each].shown = true;
        }
    }
}

void Study::look_at_starts() {
    const auto from_the_start = [&](LevelId level) {
        for (const LevelId each : plan::asked_with(tree, level)) {
            uses[each].asked = uses[each].shown = true;
            shown_without_steps[each] = true;
        }
    };
    for (const Start& start : starts()) from_the_start(start.level);
    for (const LevelId id : plan.levels.ids()) {
        if (plan.levels[id].persist) {
            from_the_start(id);
            append(always, plan::asked_with(tree, id));
        }
        if (!plan.levels[id].near) continue;
        from_the_start(id);
        for (const LevelId each : plan::subtree_of(tree, id)) uses[each].unloaded = true;
    }
    sort_unique(always);
    for (const plan::EditionId id : plan.editions.ids()) {
        ships[id].assign(plan.levels.size(), false);
        for (const LevelId level : plan.editions[id].levels) {
            for (const LevelId each : plan::subtree_of(tree, level)) ships[id][each.value] = true;
            for (const LevelId each : plan::ancestors_of(tree, level)) ships[id][each.value] = true;
        }
    }
}

void Study::look_at_facts() {
    const auto assigned = [&](const std::vector<plan::Assignment>& assignments) {
        for (const plan::Assignment& assignment : assignments) {
            facts[assignment.fact].set = true;
            if (assignment.adds) facts[assignment.fact].added_to = true;
        }
    };
    for_steps(plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        if (const auto* set = std::get_if<plan::SetStep>(&step.what)) assigned(set->facts);
    });
    for (const plan::Route& route : plan.routes) {
        for (const plan::RoutePlayer& player : route.players) {
            for (const plan::RouteStep& step : player.steps) {
                if (const auto* set = std::get_if<plan::RouteSetStep>(&step.what))
                    assigned(set->facts);
            }
        }
    }
    for (const plan::Condition& condition : plan.conditions) {
        for (const plan::Term& term : condition.terms) {
            if (term.operation == plan::Operation::fact) facts[term.fact].read = true;
        }
    }
}

void Study::look_at_arrivals() {
    const auto add = [&](Arrival arrival, const std::vector<LevelId>& called) {
        if (!arrival.at) return;
        for (const LevelId level : called) append(arrival.asked, plan::asked_with(tree, level));
        const std::vector<LevelId> family = arrival.asked;
        for (const LevelId level : family) {
            const ListId arrive = plan.levels[level].arrive;
            if (arrive) append(arrival.asked, effects[arrive].asks);
        }
        if (arrival.list) append(arrival.asked, effects[arrival.list].asks);
        append(arrival.asked, always);
        sort_unique(arrival.asked);
        arrivals.push_back(std::move(arrival));
    };
    for (const Start& start : starts())
        add({start.at, start.place, start.about, {}, start.level, true, {}}, {start.level});
    for (const ListId id : plan.lists.ids()) {
        const plan::StepList& list = plan.lists[id];
        const ListId top = plan::top_list(plan, id);
        for (const plan::Step& step : list.steps) {
            if (const auto* place = std::get_if<plan::PlaceStep>(&step.what)) {
                add({place->at, step.place, plan::owner_of(plan, id).thing, top, {}, false, {}},
                    {place->level});
            } else if (const auto* mark = std::get_if<plan::MarkStep>(&step.what)) {
                // A return leads here: by a place or by a switch, nobody knows yet which.
                add({mark->at, step.place, plan::owner_of(plan, id).thing, {}, {}, false, {}},
                    {mark->level});
            } else if (const plan::SwitchStep* switches = switch_of(step)) {
                if (switches->to) {
                    const auto at =
                        switches->at ? switches->at : plan::first_entry(plan.levels[switches->to]);
                    add({at,
                         step.place,
                         plan::owner_of(plan, id).thing,
                         top,
                         switches->to,
                         true,
                         {}},
                        levels_called(step));
                    continue;
                }
                for (const plan::Edition& edition : plan.editions) {
                    for (std::size_t i = 0; i < edition.levels.size(); ++i) {
                        if (switches->position && *switches->position != i) continue;
                        const LevelId level = edition.levels[i];
                        add({plan::first_entry(plan.levels[level]),
                             step.place,
                             plan::owner_of(plan, id).thing,
                             top,
                             level,
                             true,
                             {}},
                            {level});
                    }
                }
            }
        }
    }
}

std::vector<Study::Start> Study::starts() const {
    std::vector<Start> all;
    for (const plan::EditionId id : plan.editions.ids()) {
        const plan::Edition& edition = plan.editions[id];
        if (edition.levels.empty()) continue;
        const LevelId level = edition.levels.front();
        all.push_back({level,
                       plan::first_entry(plan.levels[level]),
                       edition.place,
                       {ThingKind::edition, id.value}});
    }
    if (!plan.editions.empty()) return all;
    for (const plan::RouteId id : plan.routes.ids()) {
        const plan::Route& route = plan.routes[id];
        if (route.start.level)
            all.push_back(
                {route.start.level, route.start.at, route.place, {ThingKind::route, id.value}});
    }
    return all;
}

bool Study::can_run_in(const plan::StepList& list, plan::EditionId edition) const {
    const std::vector<LevelId> in = plan::levels_of(list);
    return in.empty() || std::any_of(in.begin(), in.end(),
                                     [&](LevelId level) { return ships_level(edition, level); });
}

std::vector<LevelId> Study::there_with(LevelId level) const {
    std::vector<LevelId> there = always;
    if (level) append(there, plan::asked_with(tree, level));
    sort_unique(there);
    return there;
}

std::vector<LevelId> Study::there_with(const std::vector<LevelId>& any_of) const {
    std::vector<LevelId> there = there_with(plan::first_of(any_of));
    for (const LevelId level : any_of) {
        const std::vector<LevelId> other = there_with(level);
        std::erase_if(there, [&](LevelId each) { return !plan::among(other, each); });
    }
    return there;
}

std::vector<LevelId> Study::there_with(const plan::StepList& list) const {
    return there_with(plan::levels_of(list));
}

} // namespace hestrel::study
