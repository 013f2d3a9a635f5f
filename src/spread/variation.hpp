#pragma once
// What a plan leaves open on one route and its device, and draws of it (docs/model.md section 2);
// of a session, each machine's by itself (section 11).

#include "plan/plan.hpp"
#include "walk/casts.hpp"

#include <cstdint>
#include <optional>
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
        delay,   ///< of one machine of a session: `index`; a factor too
    };
    Kind kind = Kind::read;
    std::uint32_t index = 0;
    double variation = 0;         ///< of a factor: standard deviation over mean
    plan::MachineId machine = {}; ///< whose rate, latency or player; unset: all share one
};
/// "read", "speed:ada", "size:far-shore".
std::string name_of(const plan::Plan& plan, plan::RouteId route, const Uncertain& uncertain);

/// A draw of each uncertain thing, in billionths, so that it is the same number everywhere: of a
/// factor, or of the share of a range from its low end.
using Draws = std::vector<std::int64_t>;

class Variation {
public:
    Variation(const plan::Plan& plan, const walk::Cast& cast);
    Variation(const Variation&) = delete;
    Variation& operator=(const Variation&) = delete;
    ~Variation() = default;

    /// What `apply` changes a copy of, and what of it is walked: the plan, where each machine of a
    /// session has a device of its own.
    [[nodiscard]] const plan::Plan& plan() const { return own_ ? *own_ : *plan_; }
    [[nodiscard]] const walk::Cast& cast() const { return cast_; }

    [[nodiscard]] const std::vector<Uncertain>& uncertain() const { return uncertain_; }
    /// The same seed and trial give the same draws, whatever else is drawn.
    [[nodiscard]] Draws draw(std::uint64_t seed, std::uint64_t trial) const;
    /// Sets what was drawn in `varied`, a copy of `plan()` that nothing else has changed but
    /// earlier calls.
    void apply(const Draws& draws, plan::Plan& varied) const;

private:
    void add_machine(plan::MachineId machine, plan::DeviceId device,
                     const std::vector<std::uint32_t>& players);

    const plan::Plan* plan_;
    std::optional<plan::Plan> own_;
    walk::Cast cast_;
    std::vector<Uncertain> uncertain_;
};

} // namespace hestrel::spread
