#include "explore/worst.hpp"

#include "explore/keys.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

std::int64_t amount_in(const loading::MemoryUse& use, const Measure& of) {
    return (of.pool ? use.pools[of.pool.value] : use.total).count;
}

} // namespace

Worst::Worst(const plan::Plan& plan, const std::vector<plan::DeviceId>& devices,
             const std::vector<Bounds>& bounds, LevelSets& levels)
    : bounds_(&bounds), levels_(&levels) {
    for (std::size_t device = 0; device < devices.size(); ++device) {
        const plan::Device& about = plan.devices[devices[device]];
        measures_.push_back({device, {}, false, about.memory.total.count});
        for (const auto& [pool, size] : about.memory.pools)
            measures_.push_back({device, pool, false, size.count});
        if (plan::has_frame_costs(plan))
            measures_.push_back({device, {}, true, plan::longest_frame(plan, about).count});
    }
    settled_.resize(measures_.size());
    during_.resize(measures_.size());
    least_.assign(measures_.size(), none);
    UseAdded no_more;
    no_more.most.pools.resize(plan.pools.size());
    number_of(std::vector<UseAdded>(devices.size(), no_more));
}

std::uint32_t Worst::number_of(const std::vector<UseAdded>& added) {
    Added amounts;
    for (const Measure& of : measures_) {
        const UseAdded& use = added[of.device];
        if (of.frame) {
            amounts.beyond.push_back(use.frame ? use.frame->count : none);
            amounts.launched.push_back(use.launched ? use.launched->frame.count : none);
        } else {
            amounts.beyond.push_back(amount_in(use.most, of));
            amounts.launched.push_back(use.launched ? amount_in(*use.launched, of) : none);
        }
    }
    KeyWriter writer;
    writer(amounts.beyond);
    writer(amounts.launched);
    return added_.number(writer.take(), amounts);
}

Worst::Amounts Worst::held_by(const std::vector<LevelThere>& levels) const {
    Amounts amounts;
    loading::MemoryUse use;
    std::size_t device = SIZE_MAX;
    for (const Measure& of : measures_) {
        const Bounds& bounds = (*bounds_)[of.device];
        if (device != of.device) use = bounds.held(levels);
        device = of.device;
        amounts.push_back(of.frame ? bounds.frame_with(shown_of(levels)).count
                                   : amount_in(use, of));
    }
    return amounts;
}

void Worst::look_elsewhere(std::uint32_t levels, std::uint32_t control, const flow::State& state) {
    now_.levels = levels;
    control_ = control;
    const std::vector<plan::VeilId> veils = veils_up(state);
    now_.veils = veils_.number(key_of(veils), veils);
    const std::size_t count = measures_.size();
    for (auto set =
             static_cast<std::uint32_t>(count == 0 ? levels_->size() : of_levels_.size() / count);
         set < levels_->size(); ++set) {
        const Amounts amounts = held_by(levels_->levels(set));
        of_levels_.insert(of_levels_.end(), amounts.begin(), amounts.end());
    }
    held_.assign(of_levels_.begin() + static_cast<std::ptrdiff_t>(levels * count),
                 of_levels_.begin() + static_cast<std::ptrdiff_t>((levels + 1) * count));
    if (!veils.empty()) {
        for (std::size_t i = 0; i < count; ++i) {
            if (!measures_[i].frame)
                held_[i] += amount_in((*bounds_)[measures_[i].device].held_by(veils), measures_[i]);
        }
    }
    const auto [known, fresh] = known_.try_emplace(Word{levels} << 32 | control, false);
    moved_ = &known->second;
    if (!fresh) return;
    const Amounts amounts = settled_now();
    for (std::size_t i = 0; i < count; ++i) {
        if (!measures_[i].frame || veils.empty()) keep(settled_[i], i, amounts[i], now_);
    }
}

/// With what is on its way as if it were read.
Worst::Amounts Worst::settled_now() {
    Amounts amounts = held_;
    if (levels_->going_on(now_.levels) == 0) return amounts;
    const std::vector<LevelThere> there = levels_->levels(now_.levels);
    for (std::size_t i = 0; i < amounts.size(); ++i) {
        if (!measures_[i].frame)
            amounts[i] = amount_in(
                (*bounds_)[measures_[i].device].settled(there, veils_[now_.veils]), measures_[i]);
    }
    return amounts;
}

void Worst::measure_move(std::uint32_t added, std::uint32_t taken, std::uint32_t effect) {
    Measured move = now_;
    move.taken = taken;
    move.effect = effect;
    if (added == nothing) {
        *moved_ = true;
        const Amounts amounts = settled_now();
        for (std::size_t i = 0; i < amounts.size(); ++i) {
            if (!measures_[i].frame) keep(during_[i], i, amounts[i], move);
        }
        return;
    }
    const Added& more = added_[added];
    for (std::size_t i = 0; i < held_.size(); ++i) {
        const std::int64_t amount = std::max(held_[i] + more.beyond[i], more.launched[i]);
        if (amount > least_[i]) keep(during_[i], i, amount, move);
    }
}

void Worst::keep(std::vector<Measured>& worst, std::size_t measure, std::int64_t amount,
                 Measured at) {
    at.amount = amount;
    const bool moves = &worst == &during_[measure];
    const bool frame = measures_[measure].frame;
    if (frame && amount <= 0) return; // nothing costs time there
    const bool known = std::any_of(worst.begin(), worst.end(), [&](const Measured& each) {
        return moves && each.levels == at.levels && each.amount == amount;
    });
    const bool alike = std::any_of(worst.begin(), worst.end(), [&](const Measured& each) {
        return !moves && each.levels == at.levels && each.veils == at.veils;
    });
    if (known || alike) return;
    const auto after = std::upper_bound(
        worst.begin(), worst.end(), at,
        [](const Measured& one, const Measured& other) { return one.amount > other.amount; });
    const std::size_t most = frame ? 1 : worst_kept;
    if (static_cast<std::size_t>(after - worst.begin()) >= most) return;
    worst.insert(after, at);
    if (worst.size() > most) worst.pop_back();
    if (moves && worst.size() == most) least_[measure] = worst.back().amount;
}

} // namespace hestrel::explore
