#pragma once
// The sharing of a device's read rate: a solver by itself.
//
// All transfers in progress share the rate R equally at every moment (docs/model.md section 4.2).
// Let V(t) be the bytes that a transfer in progress since ever would have got: dV/dt = R / n while
// n are in progress. A transfer of S bytes that starts at V0 ends when V = V0 + S. That moment is
// exact; it is announced at the whole microsecond at or after it, while what the others get in
// between is theirs.
//
// V is kept in fixed point, 2^-32 byte-microseconds-per-second; what division loses in a busy
// period is far below `noise`, the amount within which a transfer counts as ended.

#include "loading/catalogue.hpp"

#include <cstdint>
#include <optional>
#include <set>

namespace hestrel::loading {

/// Transfers in progress on one device.
class Transfers {
public:
    /// The end of a transfer: when, and its place among events at that instant.
    struct End {
        plan::Micros at;
        std::uint64_t order = 0;
        PieceId piece;
    };

    explicit Transfers(plan::ByteRate rate) : rate_(rate) {}

    /// Starts a transfer at `now`. Of transfers that end in the same microsecond, the one with the
    /// lowest `order` ends first; give them in order of start. `advance(now)` must have been
    /// called.
    void start(plan::Micros now, PieceId piece, plan::Bytes size, std::uint64_t order);

    /// Stops a transfer that is in progress or has ended without being taken.
    void give_up(PieceId piece);

    /// Lets time pass up to `now`; what has ended by then waits to be taken.
    void advance(plan::Micros now);

    /// The next end to come, or the first that waits to be taken.
    [[nodiscard]] std::optional<End> next_end() const;

    /// Takes the end that `next_end` names; only after `advance` to its time.
    void take_end();

    [[nodiscard]] bool idle() const { return active_.empty() && ended_.empty(); }

private:
    struct Active {
        plan::Int128 finish; ///< V at its end
        std::uint64_t order;
        PieceId piece;
        bool operator<(const Active& other) const {
            return finish != other.finish ? finish < other.finish : order < other.order;
        }
    };
    struct Ended {
        std::uint64_t order;
        PieceId piece;
        bool operator<(const Ended& other) const { return order < other.order; }
    };

    plan::ByteRate rate_;
    plan::Micros now_;
    plan::Int128 share_ = 0; ///< V now; reset to 0 whenever nothing is in progress
    std::set<Active> active_;
    std::set<Ended> ended_; ///< ended by now_, not taken yet
};

} // namespace hestrel::loading
