#pragma once
// What a plan leaves open on one device and route, and draws of it (docs/model.md section 2).

#include "plan/plan.hpp"

#include <cstdint>
#include <string>
#include <vector>

namespace hestrel::spread {

/// One thing that varies.
struct Uncertain {
    enum class Kind : std::uint8_t {
        read,    ///< the rate; these four are drawn as a factor, lognormal, 1 on average
        latency, ///< of reads
        unpack,  ///< the rate
        speed,   ///< of one player of the route: `index`
        level,   ///< figures of one level that are ranges; all drawn alike, evenly over each range
        kit,     ///< the same of a kit
    };
    Kind kind = Kind::read;
    std::uint32_t index = 0;
    double variation = 0; ///< of a factor: standard deviation over mean
};
/// "read", "speed:ada", "size:far-shore".
std::string name_of(const plan::Plan& plan, plan::RouteId route, const Uncertain& uncertain);

/// A draw of each uncertain thing, in billionths, so that it is the same number everywhere: of a
/// factor, or of the share of a range from its low end.
using Draws = std::vector<std::int64_t>;

class Variation {
public:
    Variation(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device);

    [[nodiscard]] const std::vector<Uncertain>& uncertain() const { return uncertain_; }
    /// The same seed and trial give the same draws, whatever else is drawn.
    [[nodiscard]] Draws draw(std::uint64_t seed, std::uint64_t trial) const;
    /// Sets what was drawn in `varied`, a copy of the plan that nothing else has changed but
    /// earlier calls.
    void apply(const Draws& draws, plan::Plan& varied) const;

private:
    const plan::Plan* plan_;
    plan::RouteId route_;
    plan::DeviceId device_;
    std::vector<Uncertain> uncertain_;
};

} // namespace hestrel::spread
