#include "flow/near_rules.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::LevelId;

std::vector<ZoneId> AskedZones::of(PlayerId player) const {
    std::vector<ZoneId> zones = by_player_[player.value].zones;
    std::sort(zones.begin(), zones.end());
    return zones;
}

void AskedZones::forget() {
    for (Asked& asked : by_player_) {
        for (const ZoneId zone : asked.zones) asked.is_asked[zone.value] = false;
        asked.zones.clear();
    }
}

NearRules::NearRules(const plan::Plan& plan, const Zones& zones, const Flow& flow, NearStage& stage,
                     const std::vector<PlayerId>& players, AskedZones* asked)
    : plan_(&plan), zones_(&zones), flow_(&flow), stage_(&stage), asked_(asked),
      players_(players.size()), row_(plan.levels.size()), zones_of_(plan.levels.size()),
      players_near_(plan.levels.size()), not_far_boxes_(plan.levels.size()),
      acts_(plan.levels.size(), true) {
    for (std::uint32_t slot = 0; slot < players.size(); ++slot) {
        if (slots_.size() <= players[slot].value) slots_.resize(players[slot].value + 1);
        slots_[players[slot].value] = slot;
    }
    for (const LevelId level : plan.levels.ids()) {
        if (!plan.levels[level].near) continue;
        row_[level] = static_cast<std::uint32_t>(levels_.size());
        levels_.push_back(level);
        if (!plan.levels[level].near->when) continue;
        sometimes_[plan.levels[level].near->when].push_back(level);
        acts_[level] = false; // until the boot has ended
    }
    boxes_.resize(levels_.size() * players_);
    for (const ZoneId id : zones.ids()) {
        if (zones[id].is_near()) zones_of_[zones[id].level()].push_back(id);
    }
}

void NearRules::enter(PlayerId player, ZoneId id) {
    const Zone& zone = (*zones_)[id];
    if (!zone.is_near()) return;
    const bool comes = zone.kind == Zone::Kind::near_load && boxes(zone.level(), player) == 0;
    count(player, id, true);
    if (comes) came_near_.insert(zone.level());
}

void NearRules::leave(PlayerId player, ZoneId id) {
    const Zone& zone = (*zones_)[id];
    if (!zone.is_near()) return;
    count(player, id, false);
    if (zone.kind != Zone::Kind::near_unload) return;
    ask_all(zone.level());
    if (not_far_boxes_[zone.level()] == 0) went_far_.insert(zone.level());
}

void NearRules::count(PlayerId player, ZoneId id, bool inside) {
    const Zone& zone = (*zones_)[id];
    if (!zone.is_near()) return;
    const std::uint32_t by = inside ? 1 : static_cast<std::uint32_t>(-1);
    if (zone.kind == Zone::Kind::near_unload) {
        not_far_boxes_[zone.level()] += by;
        return;
    }
    std::uint32_t& within = boxes(zone.level(), player);
    const bool before = within > 0;
    within += by;
    if (before != (within > 0)) players_near_[zone.level()] += by;
}

void NearRules::rejudge() {
    for (const LevelId level : levels_) {
        ask_all(level);
        if (players_near_[level] > 0) came_near_.insert(level);
    }
}

/// Rules whose condition has begun to hold act as if every player had just come; those whose has
/// stopped let their level go, where anybody is not far from it.
bool NearRules::judge_conditions() {
    std::set<LevelId> changed; // in plan order, whichever condition it is
    for (const auto& [condition, levels] : sometimes_) {
        if (flow_->holds(condition, {}) != acts_[levels.front()])
            changed.insert(levels.begin(), levels.end());
    }
    bool any = false;
    for (const LevelId level : changed) {
        const bool acts = !acts_[level];
        acts_[level] = acts;
        ask_all(level);
        if (acts && players_near_[level] > 0) came_near_.insert(level);
        if (!acts && not_far_boxes_[level] > 0) any = let_go_far(level) || any;
    }
    return any;
}

/// True where there was anything to let go.
bool NearRules::let_go_far(LevelId level) {
    if (!stage_->is_asked(level)) return false;
    if (stage_->is_held(level)) {
        stage_->far_refused(level);
        return false;
    }
    stage_->go_far(level);
    return true;
}

bool NearRules::judge() {
    bool any = judge_conditions();
    for (const LevelId level : std::exchange(came_near_, {})) {
        if (players_near_[level] == 0 || !acts_[level]) continue; // gone again
        if (stage_->is_asked(level)) stage_->raise_near(level);
        if (stage_->is_wanted(level)) continue;
        if (stage_->is_refused(level)) {
            stage_->near_refused(level);
            continue;
        }
        any = true;
        stage_->come_near(level);
    }
    for (const LevelId level : std::exchange(went_far_, {})) {
        ask_all(level);
        if (not_far_boxes_[level] == 0 && acts_[level]) any = let_go_far(level) || any;
    }
    return any;
}

void NearRules::launch() {
    for (const auto& [condition, levels] : sometimes_) {
        for (const LevelId level : levels) acts_[level] = false;
    }
    came_near_.clear();
    went_far_.clear();
}

void NearRules::resume_judged() {
    for (const auto& [condition, levels] : sometimes_) {
        const bool acts = flow_->holds(condition, {});
        for (const LevelId level : levels) acts_[level] = acts;
    }
    came_near_.clear();
    went_far_.clear();
}

} // namespace hestrel::flow
