#pragma once
// Which device is worst in which role of a session (docs/model.md section 11), where any device can
// play one or two of them.

#include "walk/record.hpp"

#include <optional>
#include <span>
#include <vector>

namespace hestrel::walk {

/// What came of a session with a device in each role.
struct RoleOutcome {
    std::vector<plan::DeviceId> devices; ///< of all machines
    const Record* worst = nullptr;       ///< of the machine that it went worst for
    plan::Micros waited;                 ///< what any machine waited for others, the longest of all
    plan::MachineId who;                 ///< that one; unset: none waited
    plan::MachineId whom;                ///< for whom
};

/// All of one route: `down` by `across`.
struct RoleMatrix {
    plan::RouteId route;
    plan::MachineId down;
    plan::MachineId across;              ///< unset: only one role can be played by any device
    std::vector<plan::DeviceId> rows;    ///< that play `down`
    std::vector<plan::DeviceId> columns; ///< that play `across`; one, unset, where that is
    std::vector<RoleOutcome> outcomes;   ///< row after row
    std::size_t worst = 0;               ///< of them

    [[nodiscard]] const RoleOutcome& at(std::size_t row, std::size_t column) const {
        return outcomes[row * columns.size() + column];
    }
};

/// Of every session among walks in which any device can play a role.
std::vector<RoleMatrix> role_matrices(const plan::Plan& plan, std::span<const Record> records);

} // namespace hestrel::walk
