#include "explore/goal.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <cmath>
#include <deque>

namespace hestrel::explore {

using flow::PlayerId;
using plan::Operation;
using plan::WaypointId;

namespace {

/// Where nothing is known of how far it is.
constexpr std::uint32_t one_move = 1;
constexpr std::uint32_t some_moves = 3;
/// No part is farther, so that sums stay small.
constexpr std::uint32_t far_away = 1'000;

/// How many paths lead from each waypoint to any of some.
std::vector<std::uint32_t> paths_to(const plan::Plan& plan, const std::vector<WaypointId>& goals) {
    std::vector<std::vector<WaypointId>> from(plan.waypoints.size());
    for (const plan::Path& path : plan.paths) {
        from[path.to.value].push_back(path.from);
        if (!path.one_way) from[path.from.value].push_back(path.to);
    }
    std::vector<std::uint32_t> paths(plan.waypoints.size(), far_away);
    std::deque<WaypointId> next(goals.begin(), goals.end());
    for (const WaypointId goal : goals) paths[goal.value] = 0;
    for (; !next.empty(); next.pop_front()) {
        for (const WaypointId before : from[next.front().value]) {
            if (paths[before.value] != far_away) continue;
            paths[before.value] = std::min(paths[next.front().value] + 1, far_away - 1);
            next.push_back(before);
        }
    }
    return paths;
}

} // namespace

class Goal::Situation final : public flow::ConditionWorld {
public:
    Situation(const Goal& goal, const Word* row, double memory)
        : goal_(goal), packed_(*goal.packed_), row_(row), control_(packed_.control_of(row)),
          memory_(memory) {}

    [[nodiscard]] std::int64_t fact_now(plan::FactId fact, PlayerId player) const override {
        const Layout& layout = packed_.layout();
        return layout.facts[layout.slots.of(fact, player)].get(row_);
    }
    [[nodiscard]] std::size_t players() const override { return packed_.players().size(); }
    [[nodiscard]] const plan::Group& group(plan::GroupId group) const override {
        return goal_.plan_->groups[group];
    }
    [[nodiscard]] bool shown_now(plan::LevelId level) const override {
        return packed_.levels().is_shown(packed_.level_number(row_), level);
    }
    [[nodiscard]] bool ready_now(plan::LevelId level) const override {
        const std::uint32_t set = packed_.level_number(row_);
        for (plan::LevelId each = level; each; each = packed_.tree()[each].parent) {
            if (!packed_.levels().has_come(set, each)) return false;
        }
        return true;
    }
    [[nodiscard]] bool delivered_now(plan::LevelId) const override { return true; }
    [[nodiscard]] bool queued_now(plan::LevelId level) const override {
        const std::uint32_t set = packed_.level_number(row_);
        return packed_.levels().is_there(set, level) && !packed_.levels().has_come(set, level);
    }
    [[nodiscard]] double memory_now(PlayerId) const override { return memory_; }
    [[nodiscard]] bool veiled_now() const override { return !control_.veils.empty(); }
    [[nodiscard]] double speed_now(PlayerId) const override { return 0; }
    [[nodiscard]] bool at_now(WaypointId waypoint, PlayerId player) const override {
        return of_any(player, [&](const PlayerNow& now) { return now.at == waypoint; });
    }
    [[nodiscard]] bool inside_now(plan::TriggerId trigger, PlayerId player) const override {
        return inside(player, [&](const flow::Zone& zone) { return zone.is_shape_of(trigger); });
    }
    [[nodiscard]] bool inside_now(plan::LevelId level, PlayerId player) const override {
        return inside(player, [&](const flow::Zone& zone) { return zone.is_area_of(level); });
    }
    [[nodiscard]] bool open_now(plan::MenuId menu, PlayerId player) const override {
        return std::any_of(control_.open_menus.begin(), control_.open_menus.end(),
                           [&](const flow::OpenMenu& open) {
                               return open.first == menu &&
                                      (!player || !open.second || open.second == player);
                           });
    }
    [[nodiscard]] bool frozen_now(PlayerId player) const override {
        for (std::uint32_t each = 0; each < players(); ++each) {
            if ((!player || player.value == each) &&
                is_frozen(*goal_.plan_, control_, PlayerId{each}))
                return true;
        }
        return false;
    }

    /// Whether it is so of where a player (unset: any) is.
    template <class Such>
    [[nodiscard]] bool of_any(PlayerId player, const Such& such) const {
        for (std::uint32_t each = 0; each < players(); ++each) {
            if ((!player || player.value == each) && such(packed_.player_of(row_, each)))
                return true;
        }
        return false;
    }

private:
    template <class Such>
    [[nodiscard]] bool inside(PlayerId player, const Such& such) const {
        return of_any(player, [&](const PlayerNow& now) {
            return std::any_of(now.standing.inside.begin(), now.standing.inside.end(),
                               [&](flow::ZoneId zone) { return such(packed_.zones()[zone]); });
        });
    }

    const Goal& goal_;
    const Packed& packed_;
    const Word* row_;
    const flow::State& control_;
    double memory_;
};

Goal::Goal(const plan::Plan& plan, plan::ConditionId condition, Packed& packed,
           const std::vector<Bounds>& bounds)
    : plan_(&plan), condition_(&plan.conditions[condition]), packed_(&packed), bounds_(&bounds),
      asks_for_memory_(condition_->asks({Operation::memory})) {
    measure_ways();
    if (asks_for_memory_) measure_levels();
}

void Goal::measure_levels() {
    for (const Bounds& each : *bounds_) {
        const double nothing = plan::in_mebibytes(each.held({}).total);
        for (const plan::LevelId level : plan_->levels.ids()) {
            const LevelThere there = shown_there(level);
            largest_ =
                std::max(largest_, plan::in_mebibytes(each.held({&there, 1}).total) - nothing);
        }
    }
}

void Goal::measure_ways() {
    paths_to_.resize(condition_->terms.size());
    for (std::size_t i = 0; i < condition_->terms.size(); ++i) {
        const plan::Term& term = condition_->terms[i];
        std::vector<WaypointId> goals;
        if (term.operation == Operation::at) goals = {term.waypoint};
        if (term.operation == Operation::inside) {
            for (const WaypointId at : plan_->waypoints.ids()) {
                const auto around = packed_->zones().around(*plan_, at);
                const bool inside = std::any_of(around.begin(), around.end(), [&](flow::ZoneId id) {
                    const flow::Zone& zone = packed_->zones()[id];
                    return term.trigger ? zone.is_shape_of(term.trigger)
                                        : zone.is_area_of(term.level);
                });
                if (inside) goals.push_back(at);
            }
        }
        if (!goals.empty()) paths_to_[i] = paths_to(*plan_, goals);
    }
}

/// MiB with everything settled, by device.
std::vector<double> Goal::measured(const Word* row) {
    std::vector<LevelThere> levels = packed_->levels_of(row);
    std::vector<std::uint32_t> near;
    for (std::size_t player = 0; packed_->folded().any() && player < packed_->players().size();
         ++player)
        near.push_back(packed_->near_player(row, player).may_be);
    for (const plan::LevelId level : packed_->near().together(near))
        levels.push_back(shown_there(level));
    std::vector<double> memory;
    for (const Bounds& each : *bounds_) {
        const Use use = each.settled(levels, veils_up(packed_->control_of(row)));
        memory.push_back(plan::in_mebibytes(use.total));
    }
    return memory;
}

/// The same, known where no level is left out; where it is not asked for, of one device of none.
const std::vector<double>& Goal::memory_in(const Word* row) {
    if (!asks_for_memory_) return not_asked_;
    if (packed_->folded().any()) return here_ = measured(row);
    const Word key = Word{packed_->level_number(row)} << 32 | packed_->control_number(row);
    const auto [known, fresh] = memory_.try_emplace(key);
    if (fresh) known->second = measured(row);
    return known->second;
}

std::uint32_t Goal::missing(const Word* row) {
    std::uint32_t least = far_away;
    for (const double memory : memory_in(row))
        least = std::min(least, missing(Situation(*this, row, memory)));
    return least;
}

std::size_t Goal::holds_on(const Word* row) {
    const std::vector<double>& memory = memory_in(row);
    const auto found = std::find_if(memory.begin(), memory.end(), [&](double each) {
        return flow::holds(*condition_, Situation(*this, row, each), {});
    });
    return found == memory.end() ? 0 : static_cast<std::size_t>(found - memory.begin());
}

std::uint32_t Goal::missing(const Situation& situation) const {
    if (flow::holds(*condition_, situation, {})) return 0;
    std::vector<double> values(condition_->terms.size());
    for (const plan::TermValue& each : flow::leaf_values(*condition_, situation, {}))
        values[each.term] = each.value;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const plan::Term& term = condition_->terms[i];
        if (term.operation == Operation::value) values[i] = plan::as_compared(term.value);
    }
    const auto whole = static_cast<std::uint32_t>(values.size() - 1);
    return std::clamp(missing(values, whole, true, situation), one_move, far_away);
}

/// Of one part of it: the sum of what is missing of all that is needed, the least of what will do.
std::uint32_t Goal::missing(const std::vector<double>& values, std::uint32_t number, bool wanted,
                            const Situation& situation) const {
    const plan::Term& term = condition_->terms[number];
    const auto part = [&](std::uint32_t of, bool so) { return missing(values, of, so, situation); };
    switch (term.operation) {
    case Operation::both:
    case Operation::either: {
        const std::uint32_t left = part(term.left, wanted);
        const std::uint32_t right = part(term.right, wanted);
        const bool all = (term.operation == Operation::both) == wanted;
        return all ? std::min(left + right, far_away) : std::min(left, right);
    }
    case Operation::negation: return part(term.left, !wanted);
    default: break;
    }
    if (!plan::is_leaf(term.operation)) return until_compared(values, term, wanted);
    if ((values[number] != 0) == wanted) return 0;
    const bool place = term.operation == Operation::at || term.operation == Operation::inside;
    return place && wanted ? until_there(term, situation) : some_moves;
}

/// A fact is brought nearer by one with each move, memory by a large level.
std::uint32_t Goal::until_compared(const std::vector<double>& values, const plan::Term& term,
                                   bool wanted) const {
    const double left = values[term.left];
    const double right = values[term.right];
    if (plan::compares(term.operation, left, right) == wanted) return 0;
    const bool memory = condition_->terms[term.left].operation == Operation::memory ||
                        condition_->terms[term.right].operation == Operation::memory;
    const bool words = condition_->terms[term.left].value.kind == plan::ValueKind::word ||
                       condition_->terms[term.right].value.kind == plan::ValueKind::word;
    if (words) return some_moves;
    const double steps = std::ceil(std::abs(left - right) / (memory ? largest_ : 1));
    return static_cast<std::uint32_t>(
        std::clamp(steps, double{one_move}, static_cast<double>(far_away)));
}

std::uint32_t Goal::until_there(const plan::Term& term, const Situation& situation) const {
    const std::vector<std::uint32_t>& paths =
        paths_to_[static_cast<std::size_t>(&term - condition_->terms.data())];
    std::uint32_t least = far_away;
    static_cast<void>(situation.of_any({}, [&](const PlayerNow& now) {
        if (now.at && !paths.empty()) least = std::min(least, paths[now.at.value]);
        return false;
    }));
    // Where no path leads there something has to place them.
    return least == far_away ? some_moves * some_moves : std::max(least, one_move);
}

} // namespace hestrel::explore
