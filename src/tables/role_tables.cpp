#include "tables/role_tables.hpp"

#include "tables/csv.hpp"
#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

std::string role_outcome_text(const plan::Plan& plan, const walk::RoleMatrix& matrix,
                              const walk::RoleOutcome& outcome) {
    const auto& machines = plan.routes[matrix.route].machines;
    std::string text = verdict_name(outcome.worst->verdict);
    if (outcome.worst->verdict != plan::Verdict::fine)
        text += fmt::format(" ({})", machines[outcome.worst->machine].name);
    if (outcome.who)
        text +=
            fmt::format(", {} waits {}", machines[outcome.who].name, short_time(outcome.waited));
    return text;
}

std::string roles_text(const plan::Plan& plan, const walk::RoleMatrix& matrix) {
    const auto& machines = plan.routes[matrix.route].machines;
    std::string text = machines[matrix.down].name;
    if (matrix.across) text += " \\ " + machines[matrix.across].name;
    return text;
}

std::string column_text(const plan::Plan& plan, const walk::RoleMatrix& matrix,
                        std::size_t column) {
    const plan::DeviceId device = matrix.columns[column];
    return device ? plan.devices[device].name : "verdict";
}

std::string roles_csv(const plan::Plan& plan, const std::vector<walk::RoleMatrix>& matrices) {
    Csv csv({"route", "machine", "device", "other_machine", "other_device", "devices", "verdict",
             "worst_machine", "worst_slack_s", "gaps_s", "waited_s", "waits", "waited_for"});
    for (const walk::RoleMatrix& matrix : matrices) {
        const plan::Route& route = plan.routes[matrix.route];
        const auto machine = [&](plan::MachineId id) {
            return id ? std::string_view(route.machines[id].name) : std::string_view();
        };
        for (const walk::RoleOutcome& outcome : matrix.outcomes) {
            const auto device = [&](plan::MachineId role) {
                return role ? std::string_view(plan.devices[outcome.devices[role.value]].name)
                            : std::string_view();
            };
            csv.add(route.name).add(machine(matrix.down)).add(device(matrix.down));
            csv.add(machine(matrix.across)).add(device(matrix.across));
            csv.add(walk::devices_text(plan, outcome.devices));
            csv.add(verdict_name(outcome.worst->verdict)).add(machine(outcome.worst->machine));
            csv.add(walk::worst_slack(*outcome.worst)).add(walk::gap_time(*outcome.worst));
            csv.add(outcome.waited).add(machine(outcome.who)).add(machine(outcome.whom));
            csv.end_row();
        }
    }
    return csv.take();
}

} // namespace hestrel::tables
