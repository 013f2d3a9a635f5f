#pragma once
// What the plan says becomes of levels in a session, laid over what the log says: which of both
// belong together, and by how much they differ.

#include "verify/play.hpp"

#include <compare>
#include <optional>
#include <vector>

namespace hestrel::verify {

/// Times may differ by the larger of both.
struct Tolerance {
    double share = 0.1; ///< of how long it should take
    plan::Micros time = plan::Micros{100'000};
    [[nodiscard]] plan::Micros of(plan::Micros takes) const {
        const auto part = static_cast<std::int64_t>(share * static_cast<double>(takes.count));
        return std::max(time, plan::Micros{part});
    }
};

/// One thing that becomes of a level or kit, as the plan or the log or both say.
struct Outcome {
    enum class What : std::uint8_t { as_planned, later, earlier, missing, unplanned };
    What what = What::as_planned;
    walk::EventKind kind = walk::EventKind::ended;
    std::uint32_t subject = 0;                     ///< piece; a level's is its own number
    std::optional<plan::Micros> planned, measured; ///< since the end of the boot
    std::uint32_t transition = 0;                  ///< that asked for it; 0: the boot, or none
    plan::Micros since;    ///< when that began; unset for what no transition asked for
    std::size_t visit = 0; ///< how often it had come before: by the plan, else by the log
    std::size_t line = 0;  ///< index into the log's events, where it was measured
    std::size_t order = 0; ///< of what is planned: which event of the walk it is
    bool adopted = false;  ///< it came only since the log says so
    bool arrival = false;  ///< with it a level is there for players
    /// By how much it is late, of what both say; in a boot from its own beginning on.
    plan::Micros off;
};

/// What the log and the plan say of one session's levels and kits, by time. Of what the log never
/// tells nothing is said.
std::vector<Outcome> match(const plan::Plan& plan, const Play& play, const Session& session,
                           const walk::Replay& replay, const Tolerance& tolerance);

} // namespace hestrel::verify
