#include "loading/ledger.hpp"

namespace hestrel::loading {

using plan::Bytes;
using plan::Micros;

namespace {

constexpr std::size_t holder_kinds = 5;

} // namespace

Ledger::Ledger(const plan::MemoryBudget& budget, std::size_t pools) : open_(holder_kinds) {
    budgets_.push_back({plan::PoolId{}, budget.total});
    for (const auto& [pool, bytes] : budget.pools) budgets_.push_back({pool, bytes});
    current_.pools.resize(pools);
    current_.total = budget.base;
    open_holding({}, Holder::base, 0, budget.base);
}

void Ledger::open_holding(Micros now, Holder holder, std::uint32_t index, Bytes size) {
    auto& open = open_[static_cast<std::size_t>(holder)];
    if (open.size() <= index) open.resize(index + std::size_t{1});
    holdings_.push_back({holder, index, now, Micros::never(), size});
    open[index] = holdings_.size();
}

void Ledger::close_holding(Micros now, Holder holder, std::uint32_t index) {
    std::size_t& open = open_[static_cast<std::size_t>(holder)][index];
    holdings_[open - 1].to = now;
    open = 0;
}

void Ledger::take(Micros now, Holder holder, std::uint32_t index,
                  const std::vector<Bytes>& memory) {
    const Bytes size = current_.add(memory);
    if (holder == Holder::veil) current_.veils += size;
    open_holding(now, holder, index, size);
    changed_ = true;
}

void Ledger::give_back(Micros now, Holder holder, std::uint32_t index,
                       const std::vector<Bytes>& memory) {
    const Bytes size = current_.subtract(memory);
    if (holder == Holder::veil) current_.veils -= size;
    close_holding(now, holder, index);
    changed_ = true;
}

void Ledger::stage(Micros now, PieceId piece, Bytes size) {
    current_.total += size;
    current_.staging += size;
    open_holding(now, Holder::staging, piece.value, size);
    changed_ = true;
}

void Ledger::unstage(Micros now, PieceId piece, Bytes size) {
    current_.total -= size;
    current_.staging -= size;
    close_holding(now, Holder::staging, piece.value);
    changed_ = true;
}

void Ledger::judge(Micros now, Budget& budget, Bytes used) {
    const Bytes over = used - budget.bytes;
    if (over.count <= 0) {
        if (budget.open != 0) overruns_[budget.open - 1].to = now;
        budget.open = 0;
        return;
    }
    if (budget.open == 0) {
        overruns_.push_back({budget.pool, now, Micros::never(), now, over, budget.bytes});
        budget.open = overruns_.size();
        return;
    }
    Overrun& overrun = overruns_[budget.open - 1];
    if (over > overrun.worst_over) {
        overrun.worst_over = over;
        overrun.worst_at = now;
    }
}

void Ledger::look(Micros now) {
    if (!changed_) return;
    changed_ = false;
    current_.at = now;
    rows_.push_back(current_);
    for (Budget& budget : budgets_) {
        judge(now, budget, budget.pool ? current_.pools[budget.pool.value] : current_.total);
    }
}

} // namespace hestrel::loading
