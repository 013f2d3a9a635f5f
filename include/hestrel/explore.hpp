#pragma once
// What can happen, whatever players do (docs/model.md section 8). Sizes are MiB.

#include <hestrel/plan.hpp>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace hestrel {

struct ExploreOptions {
    std::vector<std::string> devices; ///< whose memory counts; none: all of the plan
    /// Looks at no more situations of an edition.
    std::size_t limit = 10'000'000;
    bool quit_anywhere = false; ///< players switch the game off at any moment, and launch it again
    unsigned jobs = 1;          ///< threads; results are the same for any number
};

/// The most memory that any situation takes of one budget.
struct BudgetUse {
    std::string device;
    std::string pool; ///< empty: in total
    double budget_mib = 0;
    std::optional<double> settled_mib; ///< with everything settled
    std::optional<double> moving_mib;  ///< during any move: no unhurried walk takes more
};

/// What somebody does: "press front-desk.begin", "go quay".
struct Move {
    std::string player; ///< empty: one plays alone, or nobody does it
    std::string move;
};

/// A finding, and the shortest way to it.
struct Found {
    Finding finding;
    /// From the start on. Nothing where it is about what never happens, or about the start.
    std::vector<Move> way;
};

struct Explored {
    std::string edition; ///< "plan" where the plan has none
    std::uint64_t situations = 0;
    std::uint64_t moves = 0;
    std::size_t farthest = 0; ///< moves from the start
    /// False: cut off at the limit. What never happens is then not told, and memory is at least
    /// what is said.
    bool complete = true;
    std::vector<BudgetUse> budgets;
    std::vector<Found> found; ///< errors first
};

/// Explores editions; where none is named, all of the plan.
std::vector<Explored> explore_editions(const Plan& plan,
                                       const std::vector<std::string>& editions = {},
                                       const ExploreOptions& options = {});

} // namespace hestrel
