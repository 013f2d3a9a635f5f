#pragma once
// How long what triggers, items and near rules load takes, and how long players need to get to it
// (docs/model.md sections 4 and 5).

#include "loading/isolated.hpp"
#include "plan/plan.hpp"
#include "study/isolated_list.hpp"
#include "study/soonest_need.hpp"
#include "study/study.hpp"
#include "walk/record.hpp"

#include <compare>
#include <optional>
#include <vector>

namespace hestrel::advise {

/// What loads something: a list of steps (a whole one), or the near rule of a level.
struct Cause {
    plan::ListId list;
    plan::LevelId near; ///< set where `list` is not
    auto operator<=>(const Cause&) const = default;
};

using study::IsolatedTimes;

/// The longest that it took on any route.
struct ContendedTime {
    plan::Micros took;  ///< from the firing until shown, or ready where nobody shows it
    plan::Micros asked; ///< from the firing until it was asked for
    plan::RouteId route;
    plan::Micros fired;
};

/// One load on one device.
struct DeviceTime {
    plan::DeviceId device;
    IsolatedTimes isolated;
    std::optional<ContendedTime> contended;
    std::optional<plan::Micros> slack;      ///< soonest need less the longest load; unset: no need
    std::optional<plan::Micros> seen_slack; ///< the least on any route

    /// The time beside other loads where that is longer than isolated; null where none did.
    [[nodiscard]] const ContendedTime* longer_contended() const {
        return contended && contended->took > isolated.shown ? &*contended : nullptr;
    }
    [[nodiscard]] plan::Micros longest() const {
        return longer_contended() != nullptr ? contended->took : isolated.shown;
    }
};

/// What one cause makes of one level.
struct Load {
    Cause cause;
    plan::LevelId level;
    bool shows = true; ///< else it is only loaded
    bool held = false; ///< players wait for it: a switch, or a veil or freeze until it is shown
    bool first = true; ///< of what is late: nothing that players come by before brings it
    double top = 0;    ///< m/s: whoever sets it off runs no faster
    std::optional<study::SoonestNeed> way; ///< from the firing to the soonest need, at top speed
    plan::Micros hidden; ///< no need counts before that: a veil's `min` that the list raises
    std::vector<DeviceTime> times; ///< by device asked about

    /// On a device that was asked about.
    [[nodiscard]] const DeviceTime& on(plan::DeviceId device) const;
    /// From the firing to the first need that counts; unset: there is none within `latest_need`.
    [[nodiscard]] std::optional<plan::Micros> lead() const;
};

/// What is needed later than so many seconds after is not looked for.
constexpr double latest_need = 120;

/// Every level that a trigger, item or near rule loads, in the plan's order. `records` are walks of
/// the plan, whose loads count as contended.
std::vector<Load> load_times(const study::Study& study, const std::vector<plan::DeviceId>& devices,
                             const std::vector<walk::Record>& records);

/// Levels that are there when a list is set off, as far as the plan says; sorted.
std::vector<plan::LevelId> there_when(const study::Study& study, plan::ListId list);

/// The trigger, or item, that a cause belongs to; unset where it is no such thing.
plan::TriggerId trigger_of(const plan::Plan& plan, const Cause& cause);
plan::ItemId item_of(const plan::Plan& plan, const Cause& cause);
/// The tags of which players need one to set it off; none: anybody can.
const std::vector<plan::WordId>& tags_of(const plan::Plan& plan, const Cause& cause);

/// Where players can set off what a cause does: crossing a trigger, standing where a menu can be
/// open, or coming near.
std::vector<study::OnLeg> starts_of(const plan::Plan& plan, const study::Geography& map,
                                    const Cause& cause);

/// The way from there to the soonest need of a level.
/// `asked` (sorted): what comes with it; a gate that waits for one of those holds who comes too
/// soon.
std::optional<study::SoonestNeed> way_of(const plan::Plan& plan, const study::Geography& map,
                                         const Cause& cause, plan::LevelId level,
                                         const std::vector<plan::LevelId>& asked, double top);

/// What comes with a level; sorted.
std::vector<plan::LevelId> family_of(const plan::LevelTree& tree, plan::LevelId level);

} // namespace hestrel::advise
