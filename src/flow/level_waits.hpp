#pragma once
// Who waits for which levels, kept up to date level by level so that a wait for thousands is cheap.

#include "flow/stage.hpp"

#include <boost/container/small_vector.hpp>
#include <map>
#include <optional>
#include <vector>

namespace hestrel::flow {

/// The waits of all runs for levels to be shown or ready. A run has one wait at a time.
class LevelWaits {
public:
    explicit LevelWaits(const plan::Plan& plan) : plan_(&plan), watchers_(plan.levels.size()) {}

    /// Starts a wait for all of `levels`, and for any one of each group, on each of `machines`.
    /// True where it is over at once.
    bool start(RunId run, plan::Awaited awaited, const std::vector<plan::LevelId>& levels,
               const std::vector<plan::GroupId>& any_of, const Stage& stage,
               const std::vector<MachineId>& machines = {MachineId{0}});
    void stop(RunId run);
    /// A level counts as if it had come. True where the wait is over by that.
    bool excuse(RunId run, plan::LevelId level);

    /// Looks again at every wait that `level` is part of; the runs whose wait is over now.
    std::vector<RunId> look_again(plan::LevelId level, const Stage& stage);

    /// Whether `run` waits for levels and has some missing.
    [[nodiscard]] bool waiting(RunId run) const;
    /// Those levels that `run` still waits for on the first machine that lacks any, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> missing(RunId run) const;
    /// Those groups of which it waits for any level there.
    [[nodiscard]] std::vector<plan::GroupId> missing_groups(RunId run) const;
    /// The first machine on which anything is missing; unset: none is.
    [[nodiscard]] MachineId lacks(RunId run) const;
    /// Whether it waits for several machines.
    [[nodiscard]] bool of_several(RunId run) const;
    /// The machines that it waits for, and since when each has had all of it; empty: it does not
    /// wait.
    [[nodiscard]] std::vector<Waited> machines(RunId run) const;
    /// All levels that it waits for, there or not, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> levels(RunId run) const;
    [[nodiscard]] plan::Awaited awaited(RunId run) const { return waits_.at(run).awaited; }

private:
    /// One of several machines of a wait, in its order; mostly there is one.
    template <class T>
    using OfEach = boost::container::small_vector<T, 1>;
    struct Watched {
        OfEach<bool> met;
        bool itself = false; ///< and not only as one of a group
    };
    struct AnyOf {
        plan::GroupId group;
        OfEach<std::size_t> there; ///< how many of it are
    };
    struct On {
        MachineId machine;
        std::size_t missing = 0;
        std::optional<plan::Micros> known; ///< since when nothing is
    };
    struct Wait {
        plan::Awaited awaited = plan::Awaited::shown;
        std::map<plan::LevelId, Watched> levels;
        std::vector<AnyOf> any_of;
        OfEach<On> machines;
        [[nodiscard]] bool over() const;
        /// The first of the machines on which anything is missing.
        [[nodiscard]] std::size_t first_lacking() const;
    };
    static bool is_met(const Wait& wait, plan::LevelId level, MachineId on, const Stage& stage);

    void count(Wait& wait, plan::LevelId level, std::size_t machine, bool met) const;

    const plan::Plan* plan_;
    std::map<RunId, Wait> waits_;
    plan::Table<plan::LevelId, std::vector<RunId>> watchers_;
};

} // namespace hestrel::flow
