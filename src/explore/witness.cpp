#include "explore/witness.hpp"

namespace hestrel::explore {

namespace {

/// Goes on once a level is `ready` or `shown`.
plan::UntilStep until(plan::Plan& plan, std::string_view what, plan::LevelId level) {
    plan::Term term;
    term.operation = what == "ready" ? plan::Operation::ready : plan::Operation::shown;
    term.level = level;
    plan::Condition condition;
    condition.text = std::string(what) + "(" + plan.levels[level].name + ")";
    condition.terms = {term};
    return {plan.conditions.push(std::move(condition))};
}

} // namespace

std::string player_name(const Explorer& explorer, std::size_t player) {
    return names_of_players(explorer.plan(), explorer.players())[player];
}

plan::Route route_of(const Explorer& explorer, std::span<const std::uint32_t> taken,
                     std::string name, plan::Plan& plan) {
    const auto& kinds = explorer.players();
    plan::Route route;
    route.name = std::move(name);
    route.edition = explorer.options().edition;
    route.start = explorer.start();
    if (const auto& saved = explorer.options().saved) {
        route.start.checkpoint = saved->checkpoint;
        route.start.saved.emplace();
        for (const plan::FactId fact : plan.facts.ids()) {
            if (plan.facts[fact].lifetime == plan::Lifetime::saved)
                route.start.saved->push_back(
                    flow::assignment_of(plan, fact, saved->facts[fact.value]));
        }
    }
    route.unhurried = explorer.options().pace == Pace::unhurried;
    const std::vector<std::string> names = names_of_players(plan, kinds);
    for (std::size_t player = 0; player < kinds.size(); ++player) {
        plan::RoutePlayer& added = route.players.emplace_back();
        added.kind = kinds[player];
        added.name = names[player];
    }
    geometry::WayFinder ways(plan);
    std::uint32_t turn = 0;
    const auto add = [&](flow::PlayerId player, auto what) {
        if (kinds.size() > 1) ++turn;
        route.players[player.value].steps.push_back({{}, what, turn});
    };
    for (const std::uint32_t number : taken) {
        const MoveTaken& each = explorer.taken(number);
        for (const MoveLog::Taken& branch : each.branches)
            add(branch.player ? branch.player : flow::PlayerId{0},
                plan::PickStep{branch.choose->branches[branch.branch].name});
        const Move& move = explorer.moves()[each.move];
        switch (move.kind) {
        case Move::Kind::boot: break;
        case Move::Kind::go: {
            const plan::WaypointId from = geometry::start_of(plan, move.leg);
            const plan::WaypointId to = geometry::end_of(plan, move.leg);
            const auto& speeds = plan.players[kinds[move.player.value]].speeds;
            plan::GoStep go{to, speeds[move.speed].metres_per_second, {}};
            const auto shortest = ways.shortest(from, to);
            if (!shortest || *shortest != std::vector{move.leg}) go.along = move.leg.path;
            add(move.player, go);
            break;
        }
        case Move::Kind::press: add(move.player, plan::PressStep{move.item}); break;
        case Move::Kind::after:
            if (route.unhurried) add(move.player, plan::AfterStep{move.menu});
            break;
        case Move::Kind::launch: add(flow::PlayerId{0}, plan::LaunchStep{}); break;
        case Move::Kind::arrive: add(move.player, until(plan, "ready", move.level)); break;
        case Move::Kind::attach: add(move.player, until(plan, "shown", move.level)); break;
        case Move::Kind::attach_block:
        case Move::Kind::wake:
        case Move::Kind::sweep:
        case Move::Kind::drop: break; // come by themselves
        }
    }
    return route;
}

} // namespace hestrel::explore
