// Rules about routes, and about what only some players or editions come to.

#include "check/report.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace hestrel::check {

using plan::LevelId;
using plan::ThingKind;
using plan::WaypointId;

void pick_of_nothing(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    std::set<plan::WordId> branches;
    for_steps(plan, [&](const plan::StepList&, std::size_t, const plan::Step& step) {
        const auto* choose = std::get_if<plan::ChooseStep>(&step.what);
        if (choose == nullptr) return;
        for (const plan::Branch& branch : choose->branches) branches.insert(branch.name);
    });
    for (const plan::RouteId id : plan.routes.ids()) {
        for (const plan::RoutePlayer& player : plan.routes[id].players) {
            for (const plan::RouteStep& step : player.steps) {
                const auto* pick = std::get_if<plan::PickStep>(&step.what);
                if (pick == nullptr || branches.contains(pick->branch)) continue;
                report.add(step.place, {ThingKind::route, id.value},
                           "no `choose` of the plan has a branch " + plan.words[pick->branch]);
            }
        }
    }
}

// --- ways of routes ----------------------------------------------------------

namespace {

/// From where a waypoint can be reached along paths, gates aside; itself among them.
class Reach {
public:
    explicit Reach(const Study& study) : study_(study) {}

    const std::vector<bool>& to(WaypointId goal) {
        const auto [found, fresh] = known_.try_emplace(goal);
        if (!fresh) return found->second;
        std::vector<bool>& from = found->second;
        from.assign(study_.plan.waypoints.size(), false);
        std::vector<WaypointId> open{goal};
        from[goal.value] = true;
        while (!open.empty()) {
            const WaypointId at = open.back();
            open.pop_back();
            for (const geometry::Leg leg : study_.map.legs_to[at]) {
                const WaypointId before = geometry::start_of(study_.plan, leg);
                if (from[before.value]) continue;
                from[before.value] = true;
                open.push_back(before);
            }
        }
        return from;
    }

private:
    const Study& study_;
    std::map<WaypointId, std::vector<bool>> known_;
};

} // namespace

void no_way_there(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    Reach reach(study);
    std::vector<WaypointId> placed; // wherever lists may have put a player
    for (const study::Arrival& arrival : study.arrivals) {
        if (arrival.about.kind != ThingKind::edition && arrival.about.kind != ThingKind::route)
            placed.push_back(arrival.at);
    }
    for (const plan::RouteId id : plan.routes.ids()) {
        const plan::Route& route = plan.routes[id];
        const WaypointId launched_at =
            plan::first_entry(plan.levels[plan::launched_in(plan, route)]);
        std::vector<WaypointId> placed_in = placed;
        if (route.start.checkpoint) placed_in.push_back(route.start.checkpoint->at);
        for (const plan::RoutePlayer& player : route.players) {
            WaypointId at = route.start.at; // where it is, if no list places it
            for (const plan::RouteStep& step : player.steps) {
                if (std::holds_alternative<plan::LaunchStep>(step.what)) at = launched_at;
                const auto* go = std::get_if<plan::GoStep>(&step.what);
                if (go == nullptr || !go->to) continue;
                const std::vector<bool>& from = reach.to(go->to);
                const bool walks = at && from[at.value];
                const bool comes_there =
                    walks || std::any_of(placed_in.begin(), placed_in.end(),
                                         [&](WaypointId each) { return each && from[each.value]; });
                if (!comes_there) {
                    report.add(step.place, {ThingKind::route, id.value},
                               at ? "no path leads to " + plan.waypoints[go->to].name + " from " +
                                        plan.waypoints[at].name +
                                        ", or from anywhere that a step places players"
                                  : "players are nowhere here, and no step places them where a "
                                    "path leads to " +
                                        plan.waypoints[go->to].name);
                    break; // what follows is not reached
                }
                at = go->to;
            }
        }
    }
}

// --- past the end ------------------------------------------------------------

void next_past_the_end(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    using Way = plan::SwitchStep::Target;
    const Positions positions(study);
    const auto goes_by_itself = [&](const plan::StepList& list) {
        // One with a condition is thought to know where it stands.
        if (list.owner == plan::OwnerKind::trigger)
            return !plan.triggers[plan::TriggerId{list.index}].when;
        if (list.owner == plan::OwnerKind::item) return !plan.items[plan::ItemId{list.index}].when;
        return true;
    };
    for (const plan::ListId id : plan.lists.ids()) {
        const plan::StepList& list = plan.lists[id];
        for (const plan::Step& step : list.steps) {
            const plan::SwitchStep* switches = switch_of(step);
            if (switches == nullptr || switches->target == Way::named || !goes_by_itself(list))
                continue;
            const bool next = switches->target == Way::next;
            for (const plan::EditionId edition : plan.editions.ids()) {
                const auto& listed = plan.editions[edition].levels;
                if (listed.empty()) continue;
                const std::size_t end = next ? listed.size() - 1 : 0;
                if (std::count(listed.begin(), listed.end(), listed[end]) > 1) continue; // unclear
                const std::vector<LevelId> in = plan::levels_of(list);
                const bool belongs = std::any_of(in.begin(), in.end(), [&](LevelId level) {
                    return contains(plan::subtree_of(study.tree, listed[end]), level);
                });
                if (!belongs && !contains(positions.met(edition, id), end)) continue;
                report.add(step.place, owner_of(list),
                           "in edition " + plan.editions[edition].name + " nothing comes " +
                               (next ? "after " : "before ") + plan.levels[listed[end]].name +
                               ", where this can be met");
                break;
            }
        }
    }
}

// --- speeds ------------------------------------------------------------------

namespace {

/// How fast players for whom a condition counts can be, in m/s; 0 is among them.
std::vector<double> speeds_in(const Study& study, const plan::Trigger* trigger,
                              const std::vector<plan::PathId>& paths) {
    const plan::Plan& plan = study.plan;
    std::vector<double> all{0};
    for (const plan::PlayerKindId kind : plan.players.ids()) {
        if (trigger != nullptr && !plan::fits(plan, kind, trigger->tags)) continue;
        for (const plan::Speed& speed : plan.players[kind].speeds) {
            for (const plan::PathId path : paths) {
                const double cap = plan.paths[path].speed.value_or(speed.metres_per_second);
                all.push_back(std::min(speed.metres_per_second, cap));
            }
        }
    }
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    return all;
}

/// The first comparison of the speed with a number that none of these speeds fulfils, if any.
std::optional<std::uint32_t> unreached(const plan::Condition& condition,
                                       const std::vector<double>& speeds) {
    const auto& terms = condition.terms;
    for (std::uint32_t i = 0; i < terms.size(); ++i) {
        const plan::Term& term = terms[i];
        if (term.operation < plan::Operation::equal || term.operation > plan::Operation::at_least)
            continue;
        const plan::Term& left = terms[term.left];
        const plan::Term& right = terms[term.right];
        const bool speed_left =
            left.operation == plan::Operation::speed && right.operation == plan::Operation::value;
        const bool speed_right =
            right.operation == plan::Operation::speed && left.operation == plan::Operation::value;
        if (!speed_left && !speed_right) continue;
        if (std::none_of(speeds.begin(), speeds.end(), [&](double speed) {
                return speed_left ? plan::compares(term.operation, speed, right.value.number)
                                  : plan::compares(term.operation, left.value.number, speed);
            }))
            return i;
    }
    return std::nullopt;
}

} // namespace

void speed_out_of_reach(const Study& study, Report& report) {
    const plan::Plan& plan = study.plan;
    std::vector<plan::PathId> everywhere;
    for (const plan::PathId path : plan.paths.ids()) everywhere.push_back(path);
    // Of all who fire a list, on some paths. Nobody fires a trigger without a shape.
    const auto speeds_of = [&](const plan::StepList& list, const std::vector<plan::PathId>& paths) {
        if (list.owner == plan::OwnerKind::item) return speeds_in(study, nullptr, paths);
        const plan::Trigger& trigger = plan.triggers[plan::TriggerId{list.index}];
        const bool shapeless = std::holds_alternative<std::monostate>(trigger.shape);
        return shapeless ? std::vector<double>{0} : speeds_in(study, &trigger, paths);
    };
    const auto look = [&](plan::ConditionId id, const plan::StepList& list,
                          const std::vector<plan::PathId>& paths) {
        if (!id || !plan.conditions[id].asks({plan::Operation::speed})) return;
        const plan::Condition& condition = plan.conditions[id];
        const std::vector<double> speeds = speeds_of(list, paths);
        const auto term = unreached(condition, speeds);
        if (!term) return;
        std::string top = std::to_string(speeds.back());
        top.erase(top.find_last_not_of('0') + 1);
        if (top.back() == '.') top.pop_back();
        report.add(condition.terms[condition.terms[*term].left].place, owner_of(list),
                   "\"" + condition.text_of(*term) +
                       "\" never holds: no player that it is for is faster than " + top + " m/s");
    };
    for (const plan::TriggerId id : plan.triggers.ids())
        look(plan.triggers[id].when, plan.lists[plan.triggers[id].steps],
             study.map.paths_through(id));
    for (const plan::Item& item : plan.items) look(item.when, plan.lists[item.steps], everywhere);
    for_steps(plan, [&](const plan::StepList& list, std::size_t, const plan::Step& step) {
        const auto* wait = std::get_if<plan::WaitStep>(&step.what);
        if (wait != nullptr &&
            (list.owner == plan::OwnerKind::trigger || list.owner == plan::OwnerKind::item))
            look(wait->until, list, everywhere);
    });
}

} // namespace hestrel::check
