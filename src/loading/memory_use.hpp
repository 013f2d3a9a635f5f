#pragma once
// So much memory, in total and by pool.

#include "plan/plan.hpp"

#include <algorithm>
#include <utility>
#include <vector>

namespace hestrel::loading {

struct MemoryUse {
    plan::Bytes total;              ///< what belongs to no pool included
    std::vector<plan::Bytes> pools; ///< as long as the plan's list of pools

    /// `memory` is by pool, no longer than `pools`. Returns what it comes to.
    plan::Bytes add(const std::vector<plan::Bytes>& memory) { return change(memory, 1); }
    plan::Bytes subtract(const std::vector<plan::Bytes>& memory) { return change(memory, -1); }
    /// Becomes as large as `other` where that is larger: in total, and each pool by itself.
    void raise_to(const MemoryUse& other) {
        total = std::max(total, other.total);
        for (std::size_t pool = 0; pool < pools.size(); ++pool)
            pools[pool] = std::max(pools[pool], other.pools[pool]);
    }

private:
    plan::Bytes change(const std::vector<plan::Bytes>& memory, std::int64_t sign) {
        plan::Bytes sum;
        for (std::size_t pool = 0; pool < memory.size(); ++pool) {
            pools[pool].count += sign * memory[pool].count;
            sum += memory[pool];
        }
        total.count += sign * sum.count;
        return sum;
    }
};

/// Memory as a plan gives it, pool by pool; what it does not name is 0.
inline std::vector<plan::Bytes>
by_pool(std::size_t pools, const std::vector<std::pair<plan::PoolId, plan::Bytes>>& memory) {
    std::vector<plan::Bytes> all(pools);
    for (const auto& [pool, size] : memory) all[pool.value] = size;
    return all;
}

/// What players of these kinds hold together; who is of no kind holds nothing.
inline std::vector<plan::Bytes> players_memory(const plan::Plan& plan,
                                               const std::vector<plan::PlayerKindId>& kinds) {
    std::vector<plan::Bytes> all(plan.pools.size());
    for (const plan::PlayerKindId kind : kinds) {
        if (!kind) continue;
        for (const auto& [pool, size] : plan.players[kind].memory) all[pool.value] += size;
    }
    return all;
}

} // namespace hestrel::loading
