#include "walk/roles.hpp"

#include "plan/lists.hpp"
#include "walk/casts.hpp"
#include "walk/summary.hpp"

#include <algorithm>

namespace hestrel::walk {

using plan::DeviceId;

namespace {

RoleOutcome outcome_of(const plan::Plan& plan, std::span<const Record> session) {
    RoleOutcome outcome;
    outcome.devices = session.front().devices;
    for (const Record& record : session) {
        if (outcome.worst == nullptr || worse(record, *outcome.worst)) outcome.worst = &record;
        if (is_headless(plan, record)) continue; // nobody waits there
        const plan::Micros waited = waited_in(record);
        if (waited <= outcome.waited) continue;
        outcome.waited = waited;
        outcome.who = record.machine;
        outcome.whom = std::max_element(record.waited.begin(), record.waited.end(),
                                        [](const auto& one, const auto& other) {
                                            return one.longest < other.longest;
                                        })
                           ->whom;
    }
    return outcome;
}

bool is_worse(const RoleOutcome& one, const RoleOutcome& other) {
    if (one.worst->verdict != other.worst->verdict)
        return one.worst->verdict > other.worst->verdict;
    return one.waited > other.waited;
}

/// Adds the device that plays a role, in order of appearance.
void add(std::vector<DeviceId>& devices, const RoleOutcome& outcome, plan::MachineId role) {
    const DeviceId device = role ? outcome.devices[role.value] : DeviceId{};
    if (!plan::contains(devices, device)) devices.push_back(device);
}

} // namespace

std::vector<RoleMatrix> role_matrices(const plan::Plan& plan, std::span<const Record> records) {
    std::vector<RoleMatrix> matrices;
    for (const std::span<const Record> session : sessions_in(records)) {
        const plan::RouteId route = session.front().route;
        std::vector<plan::MachineId> roles;
        for (const plan::MachineId id : plan.routes[route].machines.ids()) {
            if (!plan.routes[route].machines[id].device) roles.push_back(id);
        }
        if (roles.empty()) continue;
        if (matrices.empty() || matrices.back().route != route) {
            RoleMatrix& begun = matrices.emplace_back();
            begun.route = route;
            begun.down = roles.front();
            if (roles.size() > 1) begun.across = roles.back();
        }
        RoleMatrix& matrix = matrices.back();
        matrix.outcomes.push_back(outcome_of(plan, session));
        const RoleOutcome& outcome = matrix.outcomes.back();
        add(matrix.rows, outcome, matrix.down);
        add(matrix.columns, outcome, matrix.across);
        if (is_worse(outcome, matrix.outcomes[matrix.worst]))
            matrix.worst = matrix.outcomes.size() - 1;
    }
    return matrices;
}

} // namespace hestrel::walk
