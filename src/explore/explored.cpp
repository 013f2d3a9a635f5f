#include "explore/explored.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

/// No more players are explored: each adds its place to every situation.
constexpr std::uint64_t most_explored = 16;

} // namespace

std::string too_many_players(const plan::Plan& plan) {
    std::uint64_t players = 0;
    for (const plan::PlayerKind& kind : plan.players) players += kind.count;
    if (players <= most_explored) return {};
    return "explore takes up to " + std::to_string(most_explored) +
           " players; the plan's counts make " + std::to_string(players);
}

std::vector<plan::EditionId> explorable_editions(const plan::Plan& plan) {
    if (!too_many_players(plan).empty()) return {};
    std::vector<plan::EditionId> editions;
    if (plan.editions.empty() && !plan.routes.empty()) editions.emplace_back();
    for (const plan::EditionId edition : plan.editions.ids())
        if (!plan.editions[edition].levels.empty()) editions.push_back(edition);
    return editions;
}

std::unique_ptr<Explorer> explore_all(const plan::Plan& plan, Options options) {
    auto explorer = std::make_unique<Explorer>(plan, options);
    explorer->run();
    if (!explorer->players_matter()) return explorer;
    options.tell_players_apart = true;
    explorer = std::make_unique<Explorer>(plan, std::move(options));
    explorer->run();
    return explorer;
}

namespace {

/// Of several processes the first alone looks for findings.
bool tells(const Explored& explored) {
    return plan::rank_of(explored.explorer->options().team.get()) == 0;
}

Explored measured(const plan::Plan& plan, Options options) {
    Explored explored;
    explored.explorer = explore_all(plan, std::move(options));
    explored.worst = worst_memory(*explored.explorer);
    explored.frames = worst_frames(*explored.explorer);
    return explored;
}

} // namespace

Explored explored(const plan::Plan& plan, Options options) {
    Explored explored = measured(plan, std::move(options));
    if (tells(explored))
        explored.found = findings(*explored.explorer, explored.worst, explored.frames);
    return explored;
}

Explored explored_hurried(const plan::Plan& plan, Options options, const Explored& unhurried) {
    options.pace = Pace::hurried;
    Explored explored = measured(plan, std::move(options));
    if (tells(explored)) explored.found = hurried_findings(explored, unhurried);
    return explored;
}

std::string edition_name(const plan::Plan& plan, plan::EditionId edition) {
    return edition ? plan.editions[edition].name : std::string("plan");
}

std::string edition_name(const Explorer& explorer) {
    return edition_name(explorer.plan(), explorer.options().edition);
}

const WorstUse* worst_of(const std::vector<WorstUse>& worst, std::size_t device, plan::PoolId pool,
                         bool during) {
    const auto found = std::find_if(worst.begin(), worst.end(), [&](const WorstUse& each) {
        return each.device == device && each.pool == pool && each.during == during;
    });
    return found == worst.end() ? nullptr : &*found;
}

std::vector<BudgetUse> budget_uses(const std::vector<WorstUse>& worst) {
    std::vector<BudgetUse> uses;
    for (const WorstUse& each : worst) {
        const bool known = std::any_of(uses.begin(), uses.end(), [&](const BudgetUse& use) {
            return use.device == each.device && use.pool == each.pool;
        });
        if (known) continue;
        uses.push_back({each.device, each.pool, each.budget,
                        worst_of(worst, each.device, each.pool, false),
                        worst_of(worst, each.device, each.pool, true)});
    }
    return uses;
}

} // namespace hestrel::explore
