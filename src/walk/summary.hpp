#pragma once
// Several walks looked at together: which is worst, and the worst of each load on each device.

#include "walk/record.hpp"

#include <map>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::walk {

/// Whether one walk went worse than another: by verdict, then by slack.
bool worse(const Record& one, const Record& other);

/// The walks, worst first; the machines of a session one after another.
std::vector<const Record*> worst_first(const std::vector<Record>& records);

/// All that is wrong with walks on a device, worst first, each once; empty where all is fine.
std::vector<Verdict> faults_on(const std::vector<Record>& records, plan::DeviceId device);

/// The devices that were walked on, in order of first appearance.
std::vector<plan::DeviceId> devices_of(const std::vector<Record>& records);

/// The walks of each device, or machine of a session, that is called alike, in order of first
/// appearance.
std::vector<std::vector<const Record*>> alike_devices(const plan::Plan& plan,
                                                      const std::vector<Record>& records);

/// The worst of one cause and level on one device, over all routes.
struct Worst {
    std::optional<plan::Micros> slack;   ///< the least, of loads that players could outrun
    std::optional<plan::Micros> longest; ///< from the firing until shown, of those, else of all
    plan::Bytes peak;                    ///< the most memory in use until all had settled
};

/// What one cause made of one level.
struct LoadSummary {
    const Transition* cause = nullptr; ///< one of its transitions
    plan::LevelId level;
    std::set<plan::LevelId> cells; ///< of a grid, that loaded as they came near: all in one row
    std::map<plan::DeviceId, Worst> by_device;
    std::optional<plan::Micros> least; ///< slack on any device
};

/// By cause and level, the least slack first, what has none last.
std::vector<LoadSummary> load_summaries(const plan::Plan& plan, const std::vector<Record>& records);

/// A finding that walks have made, and how often.
struct Told {
    const plan::Finding* finding = nullptr;
    std::size_t times = 1;
};

/// What the walks found, each place and name once, the worst first, then in the plan's order.
std::vector<Told> told_findings(const std::vector<Record>& records);

/// What was held at a moment, largest first.
std::vector<loading::Holding> held_at(const Record& record, plan::Micros moment);

} // namespace hestrel::walk
