#include "explore/moves.hpp"

#include "plan/firers.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <type_traits>

namespace hestrel::explore {

using flow::PlayerId;
using plan::LevelId;

namespace {

bool asks(const plan::Plan& plan, std::initializer_list<plan::Operation> about) {
    const auto by_game = plan::asked_by_game(plan);
    for (const plan::ConditionId each : plan.conditions.ids()) {
        if (by_game[each] && plan.conditions[each].asks(about)) return true;
    }
    return false;
}
/// Whether a menu is ever opened, or left open, for one player only.
bool opens_for_one(const plan::Plan& plan, plan::MenuId menu) {
    return std::any_of(plan.lists.begin(), plan.lists.end(), [&](const plan::StepList& list) {
        return std::any_of(list.steps.begin(), list.steps.end(), [&](const plan::Step& step) {
            const auto* open = std::get_if<plan::OpenStep>(&step.what);
            const auto* close = std::get_if<plan::CloseStep>(&step.what);
            return (open != nullptr && open->menu == menu && open->who == plan::Who::firer) ||
                   (close != nullptr && close->menu == menu && close->who == plan::Who::firer);
        });
    });
}

} // namespace

Moves::Moves(const plan::Plan& plan, const std::vector<plan::PlayerKindId>& players,
             const Rules& rules, const Reduction& reduction)
    : plan_(&plan), players_(&players), rules_(rules), reduction_(&reduction),
      tree_(plan::level_tree(plan.levels)), asks_for_speed_(asks(plan, {plan::Operation::speed})),
      asks_where_(asks(plan, {plan::Operation::at, plan::Operation::inside})),
      from_(plan.waypoints.size()), of_menu_(plan.menus.size()) {
    list_ways();
    list_items();
    if (rules.pace == Pace::hurried) list_meanwhile(rules.most_running);
    launch_ = static_cast<std::uint32_t>(all_.size());
    all_.push_back({Move::Kind::launch, PlayerId{0}, {}, 0, {}, {}, rules.launch_level, 0});
}

void Moves::list_ways() {
    all_.push_back({Move::Kind::boot, PlayerId{0}, {}, 0, {}, {}, {}, 0});
    for (std::uint32_t player = 0; player < players_->size(); ++player) {
        const plan::PlayerKindId kind = (*players_)[player];
        if (!kind || plan_->players[kind].speeds.empty()) continue; // it can't go anywhere
        const std::size_t speeds = asks_for_speed_ ? plan_->players[kind].speeds.size() : 1;
        for (const plan::PathId path : plan_->paths.ids()) {
            for (const bool forward : {true, false}) {
                if (!forward && plan_->paths[path].one_way) continue;
                const geometry::Leg leg{path, forward};
                from_[geometry::start_of(*plan_, leg)].push_back(
                    static_cast<std::uint32_t>(all_.size()));
                for (std::size_t speed = 0; speed < speeds; ++speed)
                    all_.push_back({Move::Kind::go, PlayerId{player}, leg, speed, {}, {}, {}, 0});
            }
        }
    }
}

void Moves::list_items() {
    const bool apart = plan::tells_players_apart(*plan_);
    for (const plan::MenuId menu : plan_->menus.ids()) {
        for (const plan::ItemId item : plan_->menus[menu].items) {
            const plan::ConditionId when = plan_->items[item].when;
            const bool by_any = opens_for_one(*plan_, menu) ||
                                plan::goes_by_firer(*plan_, plan_->items[item].steps) ||
                                plan::asks_about_one(*plan_, when, apart);
            for (std::uint32_t player = 0; player < (by_any ? players_->size() : 1); ++player) {
                of_menu_[menu].push_back(static_cast<std::uint32_t>(all_.size()));
                all_.push_back({Move::Kind::press, PlayerId{player}, {}, 0, item, menu, {}, 0});
            }
        }
        if (!plan_->menus[menu].after) continue;
        for (std::uint32_t player = 0;
             player < (opens_for_one(*plan_, menu) ? players_->size() : 1); ++player) {
            of_menu_[menu].push_back(static_cast<std::uint32_t>(all_.size()));
            all_.push_back({Move::Kind::after, PlayerId{player}, {}, 0, {}, menu, {}, 0});
        }
    }
}

/// What goes on where players hurry: which of it can, a context says.
void Moves::list_meanwhile(std::size_t most_running) {
    const auto next = [&] { return static_cast<std::uint32_t>(all_.size()); };
    const auto add = [&](Move::Kind kind, LevelId level, std::size_t run) {
        all_.push_back({kind, PlayerId{0}, {}, 0, {}, {}, level, run});
    };
    meanwhile_.arrive = next();
    for (const LevelId level : plan_->levels.ids()) add(Move::Kind::arrive, level, 0);
    meanwhile_.attach = next();
    for (const LevelId level : plan_->levels.ids()) add(Move::Kind::attach, level, 0);
    meanwhile_.wake = next();
    for (std::size_t run = 0; run <= most_running; ++run) add(Move::Kind::wake, {}, run);
    meanwhile_.attach_block = next();
    add(Move::Kind::attach_block, {}, 0);
    meanwhile_.sweep = next();
    add(Move::Kind::sweep, {}, 0);
    meanwhile_.drop = next();
    add(Move::Kind::drop, {}, 0);
}

std::span<const Move> Moves::at_each_speed(std::uint32_t move) const {
    const auto differs = [&](const Move& other) {
        return other.kind != Move::Kind::go || other.player != all_[move].player ||
               other.leg != all_[move].leg;
    };
    const auto first = all_.begin() + move;
    return {first, std::find_if(first + 1, all_.end(), differs)};
}

std::uint32_t Moves::by_player(std::uint32_t move, PlayerId player) const {
    const Move& as = all_[move];
    const auto same = [&](std::uint32_t number) {
        const Move& other = all_[number];
        return other.kind == as.kind && other.player == player && other.leg == as.leg &&
               other.speed == as.speed && other.item == as.item;
    };
    const auto among = [&](const std::vector<std::uint32_t>& moves) {
        const auto found = std::find_if(moves.begin(), moves.end(), same);
        return found == moves.end() ? move : *found;
    };
    switch (as.kind) {
    case Move::Kind::go: {
        for (const std::uint32_t first : from_[geometry::start_of(*plan_, as.leg)]) {
            const auto speed = static_cast<std::uint32_t>(as.speed);
            if (all_[first].player == player && all_[first].leg == as.leg) return first + speed;
        }
        return move;
    }
    case Move::Kind::press:
    case Move::Kind::after: return among(of_menu_[as.menu]);
    default: return move;
    }
}

std::vector<std::uint32_t> Moves::of_player(std::size_t player, plan::WaypointId at) const {
    std::vector<std::uint32_t> moves;
    for (const std::uint32_t move : from_[at]) {
        if (all_[move].player.value == player) moves.push_back(move);
    }
    return moves;
}

std::vector<std::uint32_t> Moves::anywhere(const std::vector<LevelThere>& levels,
                                           const flow::State& control) const {
    std::vector<std::uint32_t> moves;
    if (control.booting) return moves;
    if (control.ended) return {launch_};
    for (const auto& [menu, who] : control.open_menus) {
        for (const std::uint32_t move : of_menu_[menu]) {
            // What comes by itself comes once to a menu that is open for all.
            const PlayerId by = who || all_[move].kind == Move::Kind::press ? who : PlayerId{0};
            if (!by || all_[move].player == by) moves.push_back(move);
        }
    }
    if (rules_.pace == Pace::hurried) add_meanwhile(levels, control, moves);
    if (rules_.quit_anywhere) moves.push_back(launch_);
    return moves;
}

void Moves::add_meanwhile(const std::vector<LevelThere>& levels, const flow::State& control,
                          std::vector<std::uint32_t>& moves) const {
    bool leaves = false;
    const auto add = [&](std::uint32_t move) { moves.push_back(move); };
    for (const LevelThere& there : levels) {
        if (there.pending && reduction_->tells_coming(there.level, control))
            add(meanwhile_.arrive + there.level.value);
        leaves = leaves || there.leaving;
    }
    const Attachable can = attachable(tree_, levels, control, *reduction_);
    for (const LevelId level : can.levels) add(meanwhile_.attach + level.value);
    if (can.block) add(meanwhile_.attach_block);
    for (std::uint32_t run = 0; run < control.runs.size(); ++run) {
        const bool lifts = control.switching && control.switched_by == run &&
                           control.switching->stage == flow::SwitchStage::lifting;
        if (control.runs[run].timed || lifts) add(meanwhile_.wake + run);
    }
    const bool lifts_alone = control.switching && control.switched_by >= control.runs.size() &&
                             control.switching->stage == flow::SwitchStage::lifting;
    if (lifts_alone) add(meanwhile_.wake + static_cast<std::uint32_t>(control.runs.size()));
    if (leaves) add(meanwhile_.sweep);
    if (!control.runs.empty()) add(meanwhile_.drop);
}

} // namespace hestrel::explore
