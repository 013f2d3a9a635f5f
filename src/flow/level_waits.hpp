#pragma once
// Who waits for which levels, kept up to date level by level so that a wait for thousands is cheap.

#include "flow/stage.hpp"

#include <map>
#include <utility>
#include <vector>

namespace hestrel::flow {

/// The waits of all runs for levels to be shown or ready. A run has one wait at a time.
class LevelWaits {
public:
    explicit LevelWaits(const plan::Plan& plan) : plan_(&plan), watchers_(plan.levels.size()) {}

    /// Starts a wait for all of `levels`, and for any one of each group. True where it is over at
    /// once.
    bool start(RunId run, plan::Awaited awaited, const std::vector<plan::LevelId>& levels,
               const std::vector<plan::GroupId>& any_of, const Stage& stage);
    void stop(RunId run);

    /// Looks again at every wait that `level` is part of; the runs whose wait is over now.
    std::vector<RunId> look_again(plan::LevelId level, const Stage& stage);

    /// Whether `run` waits for levels and has some missing.
    [[nodiscard]] bool waiting(RunId run) const;
    /// Those levels that `run` still waits for, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> missing(RunId run) const;
    /// Those groups of which it waits for any level.
    [[nodiscard]] std::vector<plan::GroupId> missing_groups(RunId run) const;
    /// All levels that it waits for, there or not, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> levels(RunId run) const;
    [[nodiscard]] plan::Awaited awaited(RunId run) const { return waits_.at(run).awaited; }

private:
    struct Watched {
        bool met = false;
        bool itself = false; ///< and not only as one of a group
    };
    struct Wait {
        plan::Awaited awaited = plan::Awaited::shown;
        std::map<plan::LevelId, Watched> levels;
        std::vector<std::pair<plan::GroupId, std::size_t>> any_of; ///< with how many are there
        std::size_t missing = 0;
    };
    static bool is_met(const Wait& wait, plan::LevelId level, const Stage& stage);

    void count(Wait& wait, plan::LevelId level, bool met) const;

    const plan::Plan* plan_;
    std::map<RunId, Wait> waits_;
    plan::Table<plan::LevelId, std::vector<RunId>> watchers_;
};

} // namespace hestrel::flow
