#pragma once
// What walks have in common as long as the plan's places stay as they are: zones, shortest ways,
// and what each piece of way meets. Each is worked out once, when a walk first asks for it.

#include "flow/traveller.hpp"
#include "flow/zones.hpp"
#include "geometry/ways.hpp"
#include "plan/plan.hpp"

#include <map>
#include <optional>
#include <utility>
#include <vector>

namespace hestrel::walk {

/// Can be used for walks of any plan that differs from the one it was made of in nothing that has a
/// place: sizes, speeds, devices, steps. For one thread.
class Ground {
public:
    explicit Ground(const plan::Plan& plan) : zones_(plan), ways_(plan) {}

    [[nodiscard]] const flow::Zones& zones() const { return zones_; }
    /// The shortest way (`geometry::WayFinder`).
    const std::optional<std::vector<geometry::Leg>>& way(plan::WaypointId from,
                                                         plan::WaypointId to) {
        const auto [way, fresh] = known_ways_.try_emplace({from, to});
        if (fresh) way->second = ways_.shortest(from, to);
        return way->second;
    }
    /// What the present piece of a traveller's way meets.
    const std::vector<flow::Met>& met_by(const plan::Plan& plan, const flow::Traveller& traveller) {
        const geometry::Leg leg = traveller.legs[traveller.leg];
        const auto [met, fresh] = known_pieces_.try_emplace(
            {leg.path.value, leg.forward, static_cast<std::uint32_t>(traveller.corner)});
        if (fresh) met->second = flow::met_by(plan, zones_, traveller);
        return met->second;
    }

private:
    struct PieceOfWay {
        std::uint32_t path = 0;
        bool forward = true;
        std::uint32_t corner = 0;
        auto operator<=>(const PieceOfWay&) const = default;
    };
    flow::Zones zones_;
    geometry::WayFinder ways_;
    std::map<std::pair<plan::WaypointId, plan::WaypointId>,
             std::optional<std::vector<geometry::Leg>>>
        known_ways_;
    std::map<PieceOfWay, std::vector<flow::Met>> known_pieces_;
};

} // namespace hestrel::walk
