#pragma once
// An edition explored, and all that is said of it.

#include "explore/explorer.hpp"
#include "explore/findings.hpp"

#include <memory>
#include <string>
#include <vector>

namespace hestrel::explore {

struct Explored {
    std::unique_ptr<Explorer> explorer;
    std::vector<WorstUse> worst;
    std::vector<WorstFrame> frames;
    std::vector<Found> found;
};

/// Why a plan's players can't be explored; empty where they can.
std::string too_many_players(const plan::Plan& plan);
/// What there is to explore: editions that have a level to begin in; where the plan has none, one
/// unset for the first route's start; nothing where there are too many players.
std::vector<plan::EditionId> explorable_editions(const plan::Plan& plan);

/// Explores; where players who seem alike turn out to matter, once more with all told apart.
std::unique_ptr<Explorer> explore_all(const plan::Plan& plan, Options options);

/// Explores within `options`, so many moves' ends remembered as fit a quarter of a gigabyte.
Explored explored(const plan::Plan& plan, Options options);

/// The same with players who hurry, at most so many lists running at once; `unhurried` is what was
/// found without hurry, and is not said again.
Explored explored_hurried(const plan::Plan& plan, Options options, const Explored& unhurried);

/// The edition's name; "plan" where it is unset.
std::string edition_name(const plan::Plan& plan, plan::EditionId edition);
std::string edition_name(const Explorer& explorer);

/// The first, and thus the worst, of one device (of the options), budget and kind; null: none.
const WorstUse* worst_of(const std::vector<WorstUse>& worst, std::size_t device, plan::PoolId pool,
                         bool during);

/// What one budget of one device comes to; null: nothing is known of it.
struct BudgetUse {
    std::size_t device = 0; ///< of the options
    plan::PoolId pool;      ///< unset: in total
    plan::Bytes budget;
    const WorstUse* settled = nullptr;
    const WorstUse* during = nullptr;
};
/// Every budget of `worst`, in its order; points into it.
std::vector<BudgetUse> budget_uses(const std::vector<WorstUse>& worst);

} // namespace hestrel::explore
