#include <hestrel/explore.hpp>

#include "library/inside.hpp"

#include "explore/explored.hpp"
#include "tables/explore_tables.hpp"

#include <algorithm>
#include <utility>

namespace hestrel {

namespace {

std::optional<double> mebibytes(const explore::WorstUse* worst) {
    return worst != nullptr ? std::optional(plan::in_mebibytes(worst->used)) : std::nullopt;
}

Explored public_explored(const plan::Plan& plan, const explore::Explored& explored) {
    const explore::Explorer& explorer = *explored.explorer;
    Explored told;
    told.edition = explore::edition_name(explorer);
    told.situations = explorer.situations();
    told.moves = explorer.moves_made();
    told.farthest = explorer.depth();
    told.complete = explorer.complete();
    for (const explore::BudgetUse& use : explore::budget_uses(explored.worst)) {
        told.budgets.push_back({plan.devices[explorer.options().devices[use.device]].name,
                                use.pool ? plan.pools[use.pool] : std::string(),
                                plan::in_mebibytes(use.budget), mebibytes(use.settled),
                                mebibytes(use.during)});
    }
    for (const explore::Found& found : explored.found) {
        Found one{library::public_finding(plan, found.finding), {}};
        if (found.way) {
            for (tables::WayMove& move : tables::way_moves(explorer, *found.way))
                one.way.push_back({std::move(move.player), std::move(move.move)});
        }
        told.found.push_back(std::move(one));
    }
    return told;
}

} // namespace

std::vector<Explored> explore_editions(const Plan& plan, const std::vector<std::string>& editions,
                                       const ExploreOptions& options) {
    const plan::Plan& inside = plan.inside().plan;
    const auto named = library::chosen(inside.editions, editions, "edition");
    if (const std::string why = explore::too_many_players(inside); !why.empty())
        throw std::invalid_argument(why);
    explore::Options exploring;
    exploring.devices = library::chosen(inside.devices, options.devices, "device");
    exploring.most_situations = options.limit;
    exploring.quit_anywhere = options.quit_anywhere;
    exploring.jobs = options.jobs;
    std::vector<Explored> told;
    for (const plan::EditionId edition : explore::explorable_editions(inside)) {
        if (edition && std::find(named.begin(), named.end(), edition) == named.end()) continue;
        exploring.edition = edition;
        told.push_back(public_explored(inside, explore::explored(inside, exploring)));
    }
    return told;
}

} // namespace hestrel
