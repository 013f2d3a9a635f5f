#pragma once
// Who holds how much memory, from when to when (docs/model.md section 4.10).

#include "loading/catalogue.hpp"
#include "loading/memory_use.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::loading {

/// What holds memory.
enum class Holder : std::uint8_t { base, piece, staging, veil, players };

/// Memory held by one holder for a while. `to` is `Micros::never()` while it still holds.
struct Holding {
    Holder holder = Holder::piece;
    std::uint32_t index = 0; ///< the piece (for piece and staging) or the veil
    plan::Micros from;
    plan::Micros to = plan::Micros::never();
    plan::Bytes size;
};

/// Memory at one moment, once all of that instant has run.
struct MemoryRow : MemoryUse {
    plan::Micros at;
    plan::Bytes staging;
    plan::Bytes veils;
};

/// A time over budget. `pool` unset: over the device's total.
struct Overrun {
    plan::PoolId pool;
    plan::Micros from;
    plan::Micros to = plan::Micros::never(); ///< `never` while it lasts
    plan::Micros worst_at;
    plan::Bytes worst_over; ///< by how much, at the worst moment
    plan::Bytes budget;
};

/// One device's memory, by pool and by holder.
class Ledger {
public:
    /// Starts with the device's `base` held.
    Ledger(const plan::MemoryBudget& budget, std::size_t pools);

    /// `memory` is by pool. Taking and giving back the same holder must alternate.
    void take(plan::Micros now, Holder holder, std::uint32_t index,
              const std::vector<plan::Bytes>& memory);
    void give_back(plan::Micros now, Holder holder, std::uint32_t index,
                   const std::vector<plan::Bytes>& memory);
    /// Staging belongs to no pool.
    void stage(plan::Micros now, PieceId piece, plan::Bytes size);
    void unstage(plan::Micros now, PieceId piece, plan::Bytes size);

    /// Looks at memory once all of an instant has run: adds a row where something changed, and
    /// opens, widens or closes overruns.
    void look(plan::Micros now);

    /// What is in use, as of the last look.
    [[nodiscard]] const MemoryRow& now() const { return current_; }
    [[nodiscard]] plan::Bytes total() const { return current_.total; }
    [[nodiscard]] plan::Bytes staging() const { return current_.staging; }
    [[nodiscard]] const std::vector<plan::Bytes>& pools() const { return current_.pools; }
    [[nodiscard]] const std::vector<MemoryRow>& rows() const { return rows_; }
    [[nodiscard]] const std::vector<Holding>& holdings() const { return holdings_; }
    [[nodiscard]] const std::vector<Overrun>& overruns() const { return overruns_; }

private:
    struct Budget {
        plan::PoolId pool;
        plan::Bytes bytes;
        std::size_t open = 0; ///< 1 + index of the overrun that lasts; 0: none
    };
    void open_holding(plan::Micros now, Holder holder, std::uint32_t index, plan::Bytes size);
    void close_holding(plan::Micros now, Holder holder, std::uint32_t index);
    void judge(plan::Micros now, Budget& budget, plan::Bytes used);

    std::vector<Budget> budgets_;
    MemoryRow current_;
    bool changed_ = true;
    std::vector<MemoryRow> rows_;
    std::vector<Holding> holdings_;
    std::vector<std::vector<std::size_t>> open_; ///< by holder and index: 1 + its open holding
    std::vector<Overrun> overruns_;
};

} // namespace hestrel::loading
