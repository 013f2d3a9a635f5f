#include "flow/veils.hpp"

#include <algorithm>

namespace hestrel::flow {

using plan::Micros;
using plan::VeilId;

Veils::Veils(const plan::Plan& plan, std::size_t players)
    : plan_(&plan), veils_(plan.veils.size()), hiding_(players) {
    for (Now& veil : veils_) veil.for_player.assign(players, false);
}

bool Veils::raise(VeilId veil, PlayerId who, Micros now) {
    Now& state = veils_[veil];
    const bool fresh = state.count == 0;
    for (std::size_t player = 0; player < hiding_.size(); ++player) {
        if ((who && who.value != player) || state.for_player[player]) continue;
        state.for_player[player] = true;
        ++state.count;
        ++hiding_[player];
    }
    if (!fresh || state.count == 0) return false;
    state.raised = now;
    ++up_;
    return true;
}

bool Veils::take(VeilId veil, PlayerId who) {
    Now& state = veils_[veil];
    if (state.count == 0) return false;
    for (std::size_t player = 0; player < hiding_.size(); ++player) {
        if ((who && who.value != player) || !state.for_player[player]) continue;
        state.for_player[player] = false;
        --state.count;
        --hiding_[player];
    }
    if (state.count > 0) return false;
    --up_;
    return true;
}

Micros Veils::left(VeilId veil, Micros now) const {
    if (!up(veil)) return {};
    return std::max(Micros{}, veils_[veil].raised + plan_->veils[veil].min - now);
}

std::vector<std::pair<VeilId, PlayerId>> Veils::all_up() const {
    std::vector<std::pair<VeilId, PlayerId>> all;
    for (const VeilId veil : veils_.ids()) {
        for (std::uint32_t player = 0; player < hiding_.size(); ++player) {
            if (veils_[veil].for_player[player]) all.emplace_back(veil, player);
        }
    }
    return all;
}

void Veils::resume(const std::vector<std::pair<VeilId, PlayerId>>& up, bool just_raised) {
    for (const VeilId veil : veils_.ids()) {
        if (veils_[veil].count > 0) take(veil, {});
        veils_[veil].raised = {};
    }
    for (const auto& [veil, player] : up) {
        raise(veil, player, {});
        if (!just_raised) veils_[veil].raised = Micros{} - plan_->veils[veil].min;
    }
}

} // namespace hestrel::flow
