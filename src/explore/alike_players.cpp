#include "explore/alike_players.hpp"

#include "explore/keys.hpp"

#include <algorithm>
#include <boost/container/small_vector.hpp>
#include <numeric>

namespace hestrel::explore {

AlikePlayers::AlikePlayers(const plan::Plan& plan, const std::vector<plan::PlayerKindId>& kinds,
                           const Layout& layout, Interned<flow::State>& controls, bool told_apart)
    : controls_(&controls), control_(layout.control), players_(kinds.size()) {
    for (const Field& player : layout.players) fields_.push_back({player});
    for (const flow::FactSlot slot : layout.slots.ids()) {
        const plan::Fact& fact = plan.facts[layout.slots.fact(slot)];
        const flow::PlayerId whose = layout.slots.player(slot);
        if (!whose) continue;
        std::vector<Field>& own = fields_[whose.value];
        own.push_back(layout.facts[slot].field);
        if (fact.lifetime == plan::Lifetime::saved) own.push_back(layout.saved[slot].field);
    }
    std::map<plan::PlayerKindId, std::vector<std::uint32_t>> by_kind;
    for (std::uint32_t player = 0; player < kinds.size() && !told_apart; ++player)
        by_kind[kinds[player]].push_back(player);
    for (auto& [kind, alike] : by_kind) {
        if (alike.size() > 1) groups_.push_back(std::move(alike));
    }
}

const std::vector<std::uint32_t>& AlikePlayers::told_by(std::uint32_t control) {
    if (told_.size() <= control) told_.resize(control + 1);
    std::vector<std::uint32_t>& told = told_[control];
    if (!told.empty()) return told;
    // As the control would be if this player were the first, and all others the second.
    std::vector<Key> keys;
    for (std::uint32_t player = 0; player < players_; ++player) {
        std::vector<flow::PlayerId> to(players_, flow::PlayerId{1U});
        to[player] = flow::PlayerId{0U};
        keys.push_back(key_of(renamed((*controls_)[control], to)));
    }
    std::vector<Key> sorted = keys;
    std::sort(sorted.begin(), sorted.end());
    sorted.erase(std::unique(sorted.begin(), sorted.end()), sorted.end());
    for (const Key& key : keys)
        told.push_back(static_cast<std::uint32_t>(
            std::lower_bound(sorted.begin(), sorted.end(), key) - sorted.begin()));
    return told;
}

/// Below 0: the one comes before the other.
int AlikePlayers::compare(const Word* row, const std::vector<std::uint32_t>& told,
                          std::uint32_t one, std::uint32_t other) const {
    if (told[one] != told[other]) return told[one] < told[other] ? -1 : 1;
    for (std::size_t i = 0; i < fields_[one].size(); ++i) {
        const Word left = fields_[one][i].get(row);
        const Word right = fields_[other][i].get(row);
        if (left != right) return left < right ? -1 : 1;
    }
    return 0;
}

namespace {

/// Whether players are told apart at all.
bool tells(const std::vector<std::uint32_t>& told) {
    return std::adjacent_find(told.begin(), told.end(), std::not_equal_to<>()) != told.end();
}

} // namespace

bool AlikePlayers::in_order(const Word* row, const std::vector<std::uint32_t>& told) const {
    return std::all_of(groups_.begin(), groups_.end(), [&](const auto& group) {
        for (std::size_t i = 1; i < group.size(); ++i) {
            if (compare(row, told, group[i - 1], group[i]) > 0) return false;
        }
        return true;
    });
}

std::vector<std::uint32_t> AlikePlayers::unchanged() const {
    std::vector<std::uint32_t> order(players_);
    std::iota(order.begin(), order.end(), 0U);
    return order;
}

std::vector<std::uint32_t> AlikePlayers::order_of(const Word* row,
                                                  const std::vector<std::uint32_t>& told) const {
    std::vector<std::uint32_t> from = unchanged();
    for (const auto& group : groups_) {
        std::vector<std::uint32_t> order = group;
        std::stable_sort(order.begin(), order.end(), [&](std::uint32_t one, std::uint32_t other) {
            return compare(row, told, one, other) < 0;
        });
        for (std::size_t i = 0; i < group.size(); ++i) from[group[i]] = order[i];
    }
    return from;
}

void AlikePlayers::exchange_fields(Word* row, const std::vector<std::uint32_t>& from) const {
    // All players have as many fields as each other one of their group.
    boost::container::small_vector<Word, 64> values;
    boost::container::small_vector<std::size_t, 8> first(players_);
    for (std::uint32_t player = 0; player < players_; ++player) {
        first[player] = values.size();
        if (from[player] == player) continue;
        for (const Field& field : fields_[from[player]]) values.push_back(field.get(row));
    }
    for (std::uint32_t player = 0; player < players_; ++player) {
        if (from[player] == player) continue;
        for (std::size_t i = 0; i < fields_[player].size(); ++i)
            fields_[player][i].set(row, values[first[player] + i]);
    }
}

void AlikePlayers::exchange(Word* row, const std::vector<std::uint32_t>& from) {
    exchange_fields(row, from);
    const auto control = static_cast<std::uint32_t>(control_.get(row));
    if (tells(told_by(control))) control_.set(row, control_after(control, from));
}

bool AlikePlayers::sort_known(Word* row) const {
    const auto control = static_cast<std::uint32_t>(control_.get(row));
    if (control >= told_.size() || told_[control].empty()) return false;
    const std::vector<std::uint32_t>& told = told_[control];
    if (in_order(row, told)) return true;
    const std::vector<std::uint32_t> from = order_of(row, told);
    std::uint32_t after = control;
    if (tells(told)) {
        const auto known = exchanged_.find({control, from});
        if (known == exchanged_.end()) return false;
        after = known->second;
    }
    exchange_fields(row, from);
    control_.set(row, after);
    return true;
}

std::uint32_t AlikePlayers::control_after(std::uint32_t control,
                                          const std::vector<std::uint32_t>& from) {
    const auto known = exchanged_.find({control, from});
    if (known != exchanged_.end()) return known->second;
    std::vector<flow::PlayerId> to(players_);
    for (std::uint32_t player = 0; player < players_; ++player)
        to[from[player]] = flow::PlayerId{player};
    const flow::State state = renamed((*controls_)[control], to);
    const std::uint32_t number = fitting(controls_->number(key_of(state), state), control_);
    exchanged_.emplace(std::pair{control, from}, number);
    return number;
}

std::vector<std::uint32_t> AlikePlayers::same_as(const Word* row, std::uint32_t player) {
    const std::vector<std::uint32_t>& told = told_by_row(row);
    for (const auto& group : groups_) {
        if (std::find(group.begin(), group.end(), player) == group.end()) continue;
        std::vector<std::uint32_t> same;
        for (const std::uint32_t other : group) {
            if (compare(row, told, player, other) == 0) same.push_back(other);
        }
        return same;
    }
    return {player};
}

std::vector<std::uint32_t> AlikePlayers::sort_told(Word* row) {
    std::vector<std::uint32_t> from = unchanged();
    const std::vector<std::uint32_t>& told = told_by_row(row);
    if (in_order(row, told)) return from;
    from = order_of(row, told);
    exchange(row, from);
    return from;
}

} // namespace hestrel::explore
