// The situations and moves that use most memory, and those with the longest frames.

#include "explore/findings.hpp"
#include "plan/questions.hpp"

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

/// Situations with one set of levels and veils.
struct Alike {
    std::uint32_t levels;
    std::vector<plan::VeilId> veils;
    std::uint32_t first; ///< situation
};
/// One of each set; the first comes first.
std::vector<Alike> alike_situations(const Explorer& explorer) {
    std::set<std::pair<std::uint32_t, std::vector<plan::VeilId>>> known;
    std::vector<Alike> order;
    for (const Context& context : explorer.contexts()) {
        const std::vector<plan::VeilId> veils = veils_up(explorer.control(context.control));
        if (known.emplace(context.levels, veils).second)
            order.push_back({context.levels, veils, context.first});
    }
    return order;
}

using Costs = std::vector<std::pair<plan::LevelId, plan::Micros>>;

/// What of these costs time in every frame on a device, the most first.
Costs costs_of(const Explorer& explorer, std::size_t device,
               const std::vector<plan::LevelId>& levels) {
    Costs costs;
    for (const plan::LevelId level : levels) {
        const plan::Micros cost = explorer.bounds(device).frame_cost(level);
        if (cost.count > 0) costs.emplace_back(level, cost);
    }
    std::stable_sort(costs.begin(), costs.end(),
                     [](const auto& one, const auto& other) { return one.second > other.second; });
    return costs;
}

std::vector<plan::LevelId> shown_in(const std::vector<LevelThere>& levels) {
    std::vector<plan::LevelId> shown;
    for (const LevelThere& there : levels) {
        if (there.shown) shown.push_back(there.level);
    }
    return shown;
}

/// The levels that are shown at the moment of a move at which frames are longest.
std::vector<plan::LevelId> longest_in(const Explorer& explorer, std::size_t device,
                                      const MoveLog& log) {
    std::vector<plan::LevelId> longest;
    plan::Micros most;
    for (const MoveLog::Memory& each : log.memory) {
        if (each.kind != MoveLog::Memory::Kind::frames) continue;
        plan::Micros sum;
        for (const plan::LevelId level : log.families[each.index])
            sum += explorer.bounds(device).frame_cost(level);
        if (sum <= most) continue;
        most = sum;
        longest = log.families[each.index];
    }
    return longest;
}

} // namespace

std::vector<WorstFrame> worst_frames(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    std::vector<WorstFrame> all;
    if (!plan::has_frame_costs(plan)) return all;
    const std::vector<Alike> order = alike_situations(explorer);
    for (std::size_t device = 0; device < explorer.options().devices.size(); ++device) {
        const plan::Device& about = plan.devices[explorer.options().devices[device]];
        WorstFrame settled{device, false, {}, plan::longest_frame(plan, about), {}, 0, {}};
        WorstFrame during = settled;
        during.during = true;
        std::optional<std::uint32_t> last;
        for (const Alike& each : order) {
            const Use use =
                explorer.bounds(device).settled(explorer.level_set(each.levels), each.veils);
            if (use.frame <= settled.work) continue;
            settled.work = use.frame;
            settled.levels = costs_of(explorer, device, shown_in(explorer.level_set(each.levels)));
            settled.situation = each.first;
        }
        for (const Effect& effect : explorer.effects()) {
            const Use& use = explorer.uses(effect)[device];
            if (use.frame <= during.work) continue;
            during.work = use.frame;
            during.levels = costs_of(explorer, device, longest_in(explorer, device, effect.log));
            during.situation = effect.first;
            last = effect.taken;
        }
        settled.way = explorer.trace_to(settled.situation);
        if (settled.work.count > 0) all.push_back(settled);
        if (!last) continue;
        during.way = explorer.trace_to(during.situation);
        during.way.push_back(*last);
        all.push_back(during);
    }
    return all;
}

std::vector<WorstUse> worst_memory(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    const std::vector<Alike> order = alike_situations(explorer);
    std::vector<WorstUse> all;
    for (std::size_t device = 0; device < explorer.options().devices.size(); ++device) {
        const plan::Device& about = plan.devices[explorer.options().devices[device]];
        const auto budgets = budgets_of(about);
        std::vector<std::vector<WorstUse>> settled(budgets.size());
        std::vector<std::vector<WorstUse>> during(budgets.size());
        for (const Alike& each : order) {
            const Use use =
                explorer.bounds(device).settled(explorer.level_set(each.levels), each.veils);
            for (std::size_t i = 0; i < budgets.size(); ++i)
                keep_worst(settled[i], {device,
                                        budgets[i].first,
                                        false,
                                        used_of(use, budgets[i].first),
                                        budgets[i].second,
                                        each.first,
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
