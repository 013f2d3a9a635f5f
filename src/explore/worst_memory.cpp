// The situations and moves that use most memory.

#include "explore/findings.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace hestrel::explore {

using plan::Bytes;

namespace {

Bytes used_of(const Use& use, plan::PoolId pool) {
    return pool ? use.pools[pool.value] : use.total;
}

/// The budgets of a device: the total, then the pools that have one.
std::vector<std::pair<plan::PoolId, Bytes>> budgets_of(const plan::Device& device) {
    std::vector<std::pair<plan::PoolId, Bytes>> budgets{{plan::PoolId{}, device.memory.total}};
    for (const auto& [pool, size] : device.memory.pools) budgets.emplace_back(pool, size);
    return budgets;
}

/// Keeps the largest few, and of equal ones the first.
void keep_worst(std::vector<WorstUse>& worst, WorstUse each) {
    const auto after = std::upper_bound(
        worst.begin(), worst.end(), each,
        [](const WorstUse& one, const WorstUse& other) { return one.used > other.used; });
    if (static_cast<std::size_t>(after - worst.begin()) >= worst_kept) return;
    worst.insert(after, std::move(each));
    if (worst.size() > worst_kept) worst.pop_back();
}

} // namespace

std::vector<WorstUse> worst_memory(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    // One of each set of levels and veils; the first comes first.
    std::map<std::pair<std::uint32_t, std::vector<plan::VeilId>>, std::uint32_t> alike;
    std::vector<std::pair<std::uint32_t, std::vector<plan::VeilId>>> order;
    for (const Context& context : explorer.contexts()) {
        const std::pair key(context.levels, veils_up(explorer.control(context.control)));
        if (alike.emplace(key, context.first).second) order.push_back(key);
    }
    std::vector<WorstUse> all;
    for (std::size_t device = 0; device < explorer.options().devices.size(); ++device) {
        const plan::Device& about = plan.devices[explorer.options().devices[device]];
        const auto budgets = budgets_of(about);
        std::vector<std::vector<WorstUse>> settled(budgets.size());
        std::vector<std::vector<WorstUse>> during(budgets.size());
        for (const auto& key : order) {
            const Use use =
                explorer.bounds(device).settled(explorer.level_set(key.first), key.second);
            for (std::size_t i = 0; i < budgets.size(); ++i)
                keep_worst(settled[i], {device,
                                        budgets[i].first,
                                        false,
                                        used_of(use, budgets[i].first),
                                        budgets[i].second,
                                        alike[key],
                                        {}});
        }
        // Of moves that use as much from the same levels, the first.
        std::vector<std::set<std::pair<std::uint32_t, Bytes>>> met(budgets.size());
        for (const Effect& effect : explorer.effects()) {
            const Use& use = explorer.uses(effect)[device];
            for (std::size_t i = 0; i < budgets.size(); ++i) {
                const Bytes used = used_of(use, budgets[i].first);
                if (!met[i].emplace(effect.levels_before, used).second) continue;
                keep_worst(during[i], {device,
                                       budgets[i].first,
                                       true,
                                       used,
                                       budgets[i].second,
                                       effect.first,
                                       {effect.taken}});
            }
        }
        for (auto* list : {&settled, &during}) {
            for (std::vector<WorstUse>& of_budget : *list) {
                for (WorstUse& each : of_budget) {
                    std::vector<std::uint32_t> way = explorer.trace_to(each.situation);
                    way.insert(way.end(), each.way.begin(), each.way.end());
                    each.way = std::move(way);
                    all.push_back(std::move(each));
                }
            }
        }
    }
    return all;
}

} // namespace hestrel::explore
