// Who should keep the game of a session: each machine that could is tried by walking.

#include "advise/advice.hpp"
#include "plan/jobs.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"

#include <algorithm>

namespace hestrel::advise {

using plan::MachineId;
using plan::Micros;

namespace {

/// Somebody sits at it from the beginning.
bool could_keep(const plan::Machine& machine) {
    return !machine.headless && !machine.players.empty() && machine.joins.count == 0;
}

/// The same session with that machine first; a headless one is no more of use. Where only ways to
/// the keeper of before are known, a way between two others leads over it.
walk::Cast let_keep(plan::Plan& plan, const walk::Cast& cast, MachineId keeper) {
    plan::Table<MachineId, plan::Machine>& machines = plan.routes[cast.route].machines;
    const Micros away = machines[keeper].delay;
    plan::Table<MachineId, plan::Machine> order;
    walk::Cast changed{cast.route, {cast.devices[keeper.value]}};
    order.push(plan::Machine(machines[keeper]));
    order[MachineId{0U}].delay = {};
    for (const MachineId id : machines.ids()) {
        if (id == keeper || machines[id].headless) continue;
        const MachineId at = order.push(plan::Machine(machines[id]));
        order[at].delay += away;
        changed.devices.push_back(cast.devices[id.value]);
    }
    machines = std::move(order);
    return changed;
}

} // namespace

std::vector<KeeperTrial> keeper_trials(const plan::Plan& plan,
                                       const std::vector<walk::Record>& records, unsigned jobs) {
    std::vector<KeeperTrial> trials;
    for (const std::span<const walk::Record> session : walk::sessions_in(records)) {
        const walk::Cast cast = walk::cast_of(session.front());
        const auto& machines = plan.routes[cast.route].machines;
        const auto several = std::count_if(machines.begin(), machines.end(), could_keep);
        if (several < 2) continue;
        for (const MachineId id : machines.ids()) {
            if (id.value == 0 || could_keep(machines[id])) trials.push_back({cast, id, {}, {}, {}});
        }
    }
    plan::in_parallel(trials.size(), jobs, [&](std::size_t i) {
        KeeperTrial& trial = trials[i];
        plan::Plan changed = plan;
        const walk::Cast cast =
            trial.keeper.value == 0 ? trial.cast : let_keep(changed, trial.cast, trial.keeper);
        walk::Ground ground(changed);
        for (const walk::Record& record : walk::walk(changed, cast, {}, ground)) {
            trial.verdict = std::max(trial.verdict, record.verdict);
            trial.waiting += record.shares.stalled + record.shares.veiled + walk::gap_time(record);
            if (!walk::is_headless(changed, record)) // nobody waits there
                trial.others += walk::waited_in(record);
        }
    });
    return trials;
}

} // namespace hestrel::advise
