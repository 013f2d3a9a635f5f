#pragma once
// Who waits for which levels, kept up to date level by level so that a wait for thousands is cheap.

#include "flow/stage.hpp"

#include <map>
#include <vector>

namespace hestrel::flow {

/// The waits of all runs for levels to be shown or ready. A run has one wait at a time.
class LevelWaits {
public:
    explicit LevelWaits(std::size_t levels) : watchers_(levels) {}

    /// Starts a wait. True where it is over at once.
    bool start(RunId run, plan::Awaited awaited, const std::vector<plan::LevelId>& levels,
               const Stage& stage);
    void stop(RunId run);

    /// Looks again at every wait that `level` is part of; the runs whose wait is over now.
    std::vector<RunId> look_again(plan::LevelId level, const Stage& stage);

    /// Whether `run` waits for levels and has some missing.
    [[nodiscard]] bool waiting(RunId run) const;
    /// Those levels that `run` still waits for, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> missing(RunId run) const;
    /// All that it waits for, there or not.
    [[nodiscard]] std::vector<plan::LevelId> levels(RunId run) const;
    [[nodiscard]] plan::Awaited awaited(RunId run) const { return waits_.at(run).awaited; }

private:
    struct Wait {
        plan::Awaited awaited = plan::Awaited::shown;
        std::map<plan::LevelId, bool> met;
        std::size_t missing = 0;
    };
    static bool is_met(const Wait& wait, plan::LevelId level, const Stage& stage);

    std::map<RunId, Wait> waits_;
    plan::Table<plan::LevelId, std::vector<RunId>> watchers_;
};

} // namespace hestrel::flow
