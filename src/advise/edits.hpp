#pragma once
// Small changes to a plan: what advice consists of. Each does to a plan that was read what writing
// it into the file would do.

#include "plan/plan.hpp"

#include <cstddef>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace hestrel::advise {

struct SetShape {
    plan::TriggerId trigger;
    plan::Shape shape; ///< of the kind it has
};
struct SetNear {
    plan::LevelId level;
    plan::Near near;
};
struct SetVeilMin {
    plan::VeilId veil;
    plan::Micros min;
};
/// A fixed wait.
struct SetWait {
    plan::ListId list;
    std::size_t step = 0;
    plan::Micros time;
};
/// The names that a `load` or `show` lists, in another order.
struct SetNames {
    plan::ListId list;
    std::size_t step = 0;
    std::vector<plan::LevelId> levels;
};
/// Of a `load` or `show`.
struct SetPriority {
    plan::ListId list;
    std::size_t step = 0;
    plan::Priority priority = plan::Priority::now;
};
/// Of a `switch`, `next` or `back`.
struct SetSwitchOrder {
    plan::ListId list;
    std::size_t step = 0;
    plan::SwitchOrder order = plan::SwitchOrder::free_first;
};
struct SetPersist {
    plan::LevelId level;
    bool persist = true;
};
/// What a level's own content takes on one device.
struct SetFigures {
    plan::LevelId level;
    plan::DeviceId device;
    std::vector<std::pair<plan::PoolId, plan::Bytes>> memory;
    std::optional<plan::Bytes> packed;
    std::optional<plan::Micros> make = {}; ///< at speed 1
};
/// How many makers a device has.
struct SetMakers {
    plan::DeviceId device;
    std::uint32_t workers = 1;
};
/// A new veil, raised first and taken down last by a list.
struct AddVeil {
    plan::ListId list;
    std::string name;
    plan::Micros min;
};
/// An `unload` at the end of a list.
struct AddUnload {
    plan::ListId list;
    plan::LevelId level;
};
/// A `hide` at the end of a list.
struct AddHide {
    plan::ListId list;
    plan::LevelId level;
};
/// A new gate at a new waypoint on a path, for who walks that way; both stand where the path does.
struct AddGate {
    std::string gate;
    std::string waypoint;
    plan::LevelId needs;
    plan::PathId path;
    plan::Vec3 at{};
    std::size_t corner = 0; ///< of the path's `via`, so many are before it
    bool forward = true;    ///< players who come from `from` wait there; else who come from `to`
};

using Edit =
    std::variant<SetShape, SetNear, SetVeilMin, SetWait, SetNames, SetPriority, SetSwitchOrder,
                 SetPersist, SetFigures, SetMakers, AddVeil, AddUnload, AddHide, AddGate>;

/// A copy with all of them, one after the other. What they name must be there.
plan::Plan with(const plan::Plan& plan, const std::vector<Edit>& edits);

} // namespace hestrel::advise
