#include "plan/questions.hpp"

#include "plan/lists.hpp"

namespace hestrel::plan {

std::vector<LevelId> all_looked_at(const Plan& plan, const std::vector<LevelId>& levels,
                                   const std::vector<GroupId>& any_of) {
    std::vector<LevelId> all = levels;
    for (const GroupId group : any_of) append_new(all, plan.groups[group].levels);
    return all;
}

bool needs(const Plan& plan, const Gate& gate, LevelId level) {
    return contains(all_looked_at(plan, gate.needs, gate.any_of), level);
}

LevelId first_of(const std::vector<LevelId>& levels) {
    return levels.empty() ? LevelId{} : levels.front();
}

std::vector<LevelId> levels_of(const StepList& list) {
    if (!list.levels.empty() || !list.level) return list.levels;
    return {list.level};
}

std::vector<LevelId> levels_of(const Plan& plan, const Term& term) {
    if (term.group) return plan.groups[term.group].levels;
    return term.level ? std::vector{term.level} : std::vector<LevelId>{};
}

bool goes_by_distance(const Plan& plan, LevelId level) {
    const Level& of = plan.levels[level];
    return of.near || (of.with_parent && goes_by_distance(plan, of.parent));
}

bool same_place(const Plan& plan, LevelId one, LevelId other) {
    const GroupId variants = plan.levels[one].variants;
    return one == other || (variants && variants == plan.levels[other].variants);
}

const std::string& place_name(const Plan& plan, LevelId level) {
    const GroupId variants = plan.levels[level].variants;
    return variants ? plan.groups[variants].name : plan.levels[level].name;
}

bool has_itself(const Plan& plan, const Level& level, WordId need) {
    return need == plan.way_in ? !level.entries.empty() : contains(level.provides, need);
}

bool has_frame_cost(const Level& level) {
    const Content& content = level.content;
    return content.figures.frame_cost ||
           std::any_of(content.on.begin(), content.on.end(),
                       [](const auto& each) { return each.second.frame_cost.has_value(); });
}

bool has_frame_costs(const Plan& plan) {
    return std::any_of(plan.levels.begin(), plan.levels.end(), has_frame_cost);
}

Micros longest_frame(const Plan& plan, const Device& device) {
    return plan.limits.longest_frame.value_or(device.frame.period);
}

WaypointId first_entry(const Level& level) {
    return level.entries.empty() ? WaypointId{} : level.entries.front().waypoint;
}

LevelId launched_in(const Plan& plan, const Route& route) {
    const bool in_edition = route.edition && !plan.editions[route.edition].levels.empty();
    return in_edition ? plan.editions[route.edition].levels.front() : route.start.level;
}

std::optional<std::size_t> place_led_to(const SwitchStep& step, std::optional<std::size_t> from,
                                        std::size_t count) {
    std::optional<std::size_t> to = step.position;
    if (from && step.target == SwitchStep::Target::next) to = *from + 1;
    if (from && step.target == SwitchStep::Target::back && *from > 0) to = *from - 1;
    return to && *to < count ? to : std::nullopt;
}

bool fits(const Plan& plan, PlayerKindId kind, const std::vector<WordId>& tags) {
    if (tags.empty()) return true;
    if (!kind) return false;
    const std::vector<WordId>& has = plan.players[kind].tags;
    return std::find_first_of(tags.begin(), tags.end(), has.begin(), has.end()) != tags.end();
}

double top_speed(const Plan& plan, const std::vector<WordId>& tags) {
    double top = 0;
    for (const PlayerKindId kind : plan.players.ids()) {
        if (!fits(plan, kind, tags)) continue;
        for (const Speed& speed : plan.players[kind].speeds)
            top = std::max(top, speed.metres_per_second);
    }
    return top;
}

Micros wanted_slack(const Plan& plan) {
    return plan.limits.slack.value_or(Micros{});
}

ListId top_list(const Plan& plan, ListId list) {
    while (plan.lists[list].parent) list = plan.lists[list].parent;
    return list;
}

Table<ConditionId, bool> asked_by_game(const Plan& plan) {
    return asked_by_game(plan, Table<ListId, bool>(plan.lists.size(), true));
}

Table<ConditionId, bool> asked_by_game(const Plan& plan, const Table<ListId, bool>& run) {
    Table<ConditionId, bool> asked(plan.conditions.size(), false);
    const auto add = [&](ConditionId condition) {
        if (condition) asked[condition] = true;
    };
    for (const ListId list : plan.lists.ids()) {
        if (!run[list]) continue;
        for (const Step& step : plan.lists[list].steps) {
            if (const auto* wait = std::get_if<WaitStep>(&step.what)) add(wait->until);
            if (const auto* cases = std::get_if<CaseStep>(&step.what)) {
                for (const Case& each : cases->cases) add(each.when);
            }
        }
    }
    for (const Trigger& trigger : plan.triggers)
        if (!trigger.steps || run[trigger.steps]) add(trigger.when);
    for (const Item& item : plan.items)
        if (!item.steps || run[item.steps]) add(item.when);
    for (const Level& level : plan.levels) {
        if (level.near) add(level.near->when);
    }
    for (const Rule& rule : plan.rules) {
        add(rule.condition);
        add(rule.when);
    }
    return asked;
}

std::vector<EditionId> editions_of(const Plan& plan, EditionId edition) {
    if (edition) return {edition};
    std::vector<EditionId> all;
    for (const EditionId each : plan.editions.ids()) all.push_back(each);
    return all;
}

std::vector<LevelId> switched_to(const Plan& plan, EditionId edition, const SwitchStep& step) {
    if (step.to) return {step.to};
    std::vector<LevelId> to;
    for (const EditionId each : editions_of(plan, edition)) {
        const std::vector<LevelId>& levels = plan.editions[each].levels;
        for (std::size_t i = 0; i < levels.size(); ++i)
            if (!step.position || *step.position == i) to.push_back(levels[i]);
    }
    return to;
}

} // namespace hestrel::plan
