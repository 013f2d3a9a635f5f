#include "explore/worst.hpp"

#include "explore/keys.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

using plan::LevelId;

namespace {

std::int64_t amount_in(const loading::MemoryUse& use, const Measure& of) {
    return (of.pool ? use.pools[of.pool.value] : use.total).count;
}

} // namespace

Worst::Worst(const plan::Plan& plan, const std::vector<plan::DeviceId>& devices,
             const std::vector<Bounds>& bounds, LevelSets& levels, NearSets& near)
    : bounds_(&bounds), levels_(&levels), near_sets_(&near) {
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

/// What all sets of levels hold.
void Worst::learn() {
    const std::size_t count = measures_.size();
    for (auto set =
             static_cast<std::uint32_t>(count == 0 ? levels_->size() : of_levels_.size() / count);
         set < levels_->size(); ++set) {
        const Amounts amounts = held_by(levels_->levels(set));
        of_levels_.insert(of_levels_.end(), amounts.begin(), amounts.end());
    }
}

std::uint32_t Worst::number_of_veils(const std::vector<plan::VeilId>& veils) {
    const std::uint32_t number = veils_.number(key_of(veils), veils);
    if (number < of_veils_.size()) return number;
    Amounts& amounts = of_veils_.emplace_back(measures_.size());
    for (std::size_t i = 0; i < amounts.size(); ++i) {
        if (!measures_[i].frame)
            amounts[i] = amount_in((*bounds_)[measures_[i].device].held_by(veils), measures_[i]);
    }
    return number;
}

/// Whether a move uses more than those that are kept.
bool Worst::is_more(std::uint32_t levels, std::uint32_t veils, std::uint32_t added) const {
    const Added& more = added_[added];
    const std::size_t count = measures_.size();
    for (std::size_t i = 0; i < count; ++i) {
        const std::int64_t held = of_levels_[levels * count + i] + of_veils_[veils][i];
        if (std::max(held + more.beyond[i], more.launched[i]) > least_[i]) return true;
    }
    return false;
}

void Worst::look_elsewhere(std::uint32_t levels, std::uint32_t control, const flow::State& state) {
    now_.levels = levels;
    control_ = control;
    learn();
    const auto [known, fresh] = known_.try_emplace(Word{levels} << 32 | control);
    if (fresh) known->second.veils = number_of_veils(veils_up(state));
    now_.veils = known->second.veils;
    const std::size_t count = measures_.size();
    held_.resize(count);
    for (std::size_t i = 0; i < count; ++i)
        held_[i] = of_levels_[levels * count + i] + of_veils_[now_.veils][i];
    moved_ = &known->second.moved;
    if (fresh) ++changes_;
    if (fresh && near_.empty()) keep_settled();
}

void Worst::keep_settled() {
    const Amounts amounts = settled_now();
    for (std::size_t i = 0; i < amounts.size(); ++i) {
        if (!measures_[i].frame || veils_[now_.veils].empty())
            keep(settled_[i], i, amounts[i], now_);
    }
}

/// With what is on its way as if it were read.
Worst::Amounts Worst::settled_now() {
    Amounts amounts = held_;
    if (levels_->going_on(now_.levels) != 0) {
        const std::vector<LevelThere> there = levels_->levels(now_.levels);
        for (std::size_t i = 0; i < amounts.size(); ++i) {
            if (!measures_[i].frame)
                amounts[i] =
                    amount_in((*bounds_)[measures_[i].device].settled(there, veils_[now_.veils]),
                              measures_[i]);
        }
    }
    if (near_.empty()) return amounts;
    const Amounts more = beside(now_.levels, (*near_sets_)[now_.may_be]);
    for (std::size_t i = 0; i < amounts.size(); ++i) amounts[i] += more[i];
    return amounts;
}

void Worst::measure_move(std::uint32_t added, std::uint32_t taken, std::uint32_t effect) {
    Measured move = now_;
    move.taken = taken;
    move.effect = effect;
    if (added == nothing) {
        *moved_ = true;
        ++changes_;
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

// --- where levels are left out -----------------------------------------------

/// What levels take by themselves.
Worst::Amounts Worst::alone(const std::vector<LevelId>& levels) const {
    std::vector<LevelThere> there;
    for (const LevelId level : levels) there.push_back(shown_there(level));
    Amounts amounts = held_by(there);
    const Amounts none_there = held_by({});
    for (std::size_t i = 0; i < amounts.size(); ++i) amounts[i] -= none_there[i];
    return amounts;
}

/// What they take beside those of a set: a kit that both need is there once.
Worst::Amounts Worst::beside(std::uint32_t levels, const std::vector<LevelId>& near) const {
    std::vector<LevelThere> there = levels_->levels(levels);
    for (const LevelId level : near) there.push_back(shown_there(level));
    Amounts amounts = held_by(there);
    for (std::size_t i = 0; i < amounts.size(); ++i)
        amounts[i] -= of_levels_[levels * amounts.size() + i];
    return amounts;
}

/// While they are asked for, all at once.
void Worst::add_staged(const std::vector<LevelId>& asked, Amounts& amounts) const {
    if (asked.empty()) return;
    for (std::size_t i = 0; i < amounts.size(); ++i) {
        if (!measures_[i].frame && !measures_[i].pool)
            amounts[i] += (*bounds_)[measures_[i].device].staged(asked).count;
    }
}

const Worst::Amounts& Worst::most_alone(std::uint32_t set) {
    while (most_alone_.size() <= set)
        most_alone_.push_back(alone((*near_sets_)[static_cast<std::uint32_t>(most_alone_.size())]));
    return most_alone_[set];
}

const Worst::Amounts& Worst::most_on(std::uint32_t path) {
    while (most_on_.size() <= path) {
        Amounts most(measures_.size());
        for (const NearMoment& moment :
             near_sets_->path(static_cast<std::uint32_t>(most_on_.size())).moments) {
            Amounts then = most_alone(moment.may_be);
            add_staged((*near_sets_)[moment.asked], then);
            for (std::size_t i = 0; i < most.size(); ++i) most[i] = std::max(most[i], then[i]);
        }
        most_on_.push_back(std::move(most));
    }
    return most_on_[path];
}

void Worst::look_at(std::uint32_t situation, std::uint32_t levels, std::uint32_t control,
                    const flow::State& state, const std::vector<NearStand>& near) {
    near_ = near;
    look_at(situation, levels, control, state);
    Key key{levels, control};
    std::vector<std::uint32_t> sets;
    for (const NearStand& each : near) {
        sets.push_back(each.may_be);
        key.push_back(each.may_be);
        key.push_back(each.there);
    }
    const auto [known, fresh] = known_near_.try_emplace(std::move(key));
    if (fresh) known->second.may_be = near_sets_->number(near_sets_->together(sets));
    now_.may_be = known->second.may_be;
    moved_ = &known->second.moved;
    if (fresh) ++changes_;
    if (fresh) keep_settled();
}

/// Whether a move on a path of that number could use more than those that are kept, if nothing were
/// needed twice.
bool Worst::may_be_worse(std::uint32_t added, std::uint32_t number) {
    const NearPath& path = near_sets_->path(number);
    Amounts most = most_on(number);
    for (std::uint32_t player = 0; player < near_.size(); ++player) {
        if (path.mover == flow::PlayerId{player}) continue;
        const Amounts& more = most_alone(near_[player].may_be);
        for (std::size_t i = 0; i < most.size(); ++i) most[i] += more[i];
        if (path.anew) add_staged((*near_sets_)[near_[player].there], most);
    }
    const Added& more = added_[added];
    for (std::size_t i = 0; i < most.size(); ++i) {
        const std::int64_t before = held_[i] + std::max<std::int64_t>(more.beyond[i], 0);
        if (most[i] + std::max(before, more.launched[i]) > least_[i]) return true;
    }
    return false;
}

void Worst::look_at_move(std::uint32_t added, std::uint32_t path_number, std::uint32_t taken,
                         std::uint32_t effect) {
    if (added == nothing && path_number == 0) {
        look_at_move(added, taken, effect);
        return;
    }
    const NearPath& path = near_sets_->path(path_number);
    if (!path.ends && !may_be_worse(added, path_number)) return;
    const Added& more = added_[added];
    std::vector<std::uint32_t> others;
    std::vector<std::uint32_t> asked_by_others;
    for (std::uint32_t player = 0; player < near_.size(); ++player) {
        if (path.mover == flow::PlayerId{player}) continue;
        others.push_back(near_[player].may_be);
        if (path.anew) asked_by_others.push_back(near_[player].there);
    }
    std::vector<NearMoment> moments = path.moments;
    if (moments.empty()) moments.emplace_back();
    for (const NearMoment& moment : moments) {
        std::vector<std::uint32_t> sets = others;
        sets.push_back(moment.may_be);
        const std::vector<LevelId> near = near_sets_->together(sets);
        sets = asked_by_others;
        sets.push_back(moment.asked);
        Amounts staged(measures_.size());
        add_staged(near_sets_->together(sets), staged);
        const Amounts by_themselves = alone(near);
        const Amounts beside_them = path.frees ? by_themselves : beside(now_.levels, near);
        Measured move = now_;
        move.taken = taken;
        move.effect = effect;
        for (std::size_t i = 0; i < held_.size(); ++i) {
            // Frames are looked at wherever anybody comes near, but behind veils.
            const bool quiet = measures_[i].frame && veils_[now_.veils].empty();
            const std::int64_t beyond =
                quiet ? std::max<std::int64_t>(more.beyond[i], 0) : more.beyond[i];
            const std::int64_t amount = staged[i] + std::max(held_[i] + beyond + beside_them[i],
                                                             more.launched[i] + by_themselves[i]);
            if (!path.ends && amount <= least_[i]) continue;
            move.may_be = near_sets_->number(near);
            move.ended = false;
            keep(during_[i], i, amount, move);
            move.ended = true;
            if (path.ends) keep(settled_[i], i, amount - staged[i], move);
        }
    }
}

void Worst::keep(std::vector<Measured>& worst, std::size_t measure, std::int64_t amount,
                 Measured at) {
    at.amount = amount;
    const bool moves = &worst == &during_[measure];
    const bool frame = measures_[measure].frame;
    if (frame && amount <= 0) return; // nothing costs time there
    const bool known = std::any_of(worst.begin(), worst.end(), [&](const Measured& each) {
        return each.levels == at.levels && each.may_be == at.may_be &&
               (moves ? each.amount == amount : each.veils == at.veils);
    });
    if (known) return;
    const auto after = std::upper_bound(
        worst.begin(), worst.end(), at,
        [](const Measured& one, const Measured& other) { return one.amount > other.amount; });
    const std::size_t most = frame ? 1 : worst_kept;
    if (static_cast<std::size_t>(after - worst.begin()) >= most) return;
    worst.insert(after, at);
    ++changes_;
    if (worst.size() > most) worst.pop_back();
    if (moves && worst.size() == most) least_[measure] = worst.back().amount;
}

} // namespace hestrel::explore
