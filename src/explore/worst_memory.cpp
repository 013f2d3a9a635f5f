// The situations and moves that use most memory, and those with the longest frames.

#include "explore/findings.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <iterator>

namespace hestrel::explore {

using plan::Bytes;

namespace {

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

/// The most of one measure, and whether it was met in moves.
struct Most {
    const std::vector<Measured>& all;
    bool in_moves;
    [[nodiscard]] bool by_move(const Measured& each) const { return in_moves || each.ended; }
};

/// A move begins settled, so it takes no less than that.
Most most_of(const Worst& worst, std::size_t measure, bool during) {
    const auto& settled = worst.worst(measure, false);
    const auto& moves = worst.worst(measure, true);
    const bool more =
        !moves.empty() && (settled.empty() || moves.front().amount >= settled.front().amount);
    return during && more ? Most{moves, true} : Most{settled, false};
}

Way way_to(const Explorer& explorer, const Measured& measured, bool by_move) {
    return explorer.trace_to(measured.situation, by_move ? Way{measured.taken} : Way{});
}

const Effect* last_effect(const Explorer& explorer, const Measured& measured, bool by_move) {
    return by_move ? &explorer.effects()[measured.effect]
                   : explorer.effect_before(measured.situation);
}

/// The levels that are shown at the moment of a move at which frames are longest.
std::vector<plan::LevelId> longest_in(const Explorer& explorer, std::size_t device,
                                      std::vector<plan::LevelId> before, const MoveLog& log) {
    std::vector<plan::LevelId> longest = before;
    plan::Micros most{-1};
    for (const MoveLog::Memory& each : log.memory) {
        if (each.kind == MoveLog::Memory::Kind::launched) before.clear();
        if (each.kind != MoveLog::Memory::Kind::frames) continue;
        std::vector<plan::LevelId> shown;
        const std::vector<plan::LevelId>& less = log.families[each.index + 1];
        std::set_difference(before.begin(), before.end(), less.begin(), less.end(),
                            std::back_inserter(shown));
        const std::vector<plan::LevelId>& more = log.families[each.index];
        shown.insert(shown.end(), more.begin(), more.end());
        std::sort(shown.begin(), shown.end());
        const plan::Micros work = explorer.bounds(device).frame_with(shown);
        if (work <= most) continue;
        most = work;
        longest = std::move(shown);
    }
    return longest;
}

} // namespace

std::vector<WorstFrame> worst_frames(const Explorer& explorer) {
    std::vector<WorstFrame> all;
    const Worst& worst = explorer.worst();
    for (std::size_t i = 0; i < worst.measures().size(); ++i) {
        const Measure& measure = worst.measures()[i];
        if (!measure.frame) continue;
        for (const bool during : {false, true}) {
            const Most most = most_of(worst, i, during);
            for (const Measured& each : most.all) {
                std::vector<plan::LevelId> before =
                    shown_of(explorer.level_sets().levels(each.levels));
                const auto& near = explorer.near_sets()[each.may_be];
                before.insert(before.end(), near.begin(), near.end());
                std::sort(before.begin(), before.end());
                WorstFrame frame{measure.device,
                                 during,
                                 plan::Micros{each.amount},
                                 plan::Micros{measure.most},
                                 {},
                                 each.situation,
                                 way_to(explorer, each, most.by_move(each)),
                                 last_effect(explorer, each, most.by_move(each))};
                frame.levels =
                    costs_of(explorer, measure.device,
                             most.in_moves ? longest_in(explorer, measure.device, before,
                                                        explorer.effects()[each.effect].log)
                                           : before);
                all.push_back(std::move(frame));
            }
        }
    }
    return all;
}

std::vector<WorstUse> worst_memory(const Explorer& explorer) {
    std::vector<WorstUse> all;
    const Worst& worst = explorer.worst();
    const std::size_t devices = explorer.options().devices.size();
    for (std::size_t device = 0; device < devices; ++device) {
        for (const bool during : {false, true}) {
            for (std::size_t i = 0; i < worst.measures().size(); ++i) {
                const Measure& measure = worst.measures()[i];
                if (measure.device != device || measure.frame) continue;
                const Most most = most_of(worst, i, during);
                for (const Measured& each : most.all) {
                    WorstUse use{device,
                                 measure.pool,
                                 during,
                                 Bytes{each.amount},
                                 Bytes{measure.most},
                                 each.situation,
                                 way_to(explorer, each, most.by_move(each)),
                                 last_effect(explorer, each, most.by_move(each))};
                    all.push_back(std::move(use));
                }
            }
        }
    }
    return all;
}

} // namespace hestrel::explore
