// Veils, freezes and menus (docs/model.md section 6).

#include "flow/flow.hpp"

namespace hestrel::flow {

void Flow::raise_veil(plan::VeilId veil, PlayerId who) {
    stage_->veil_told(veil, who, true);
    if (veils_.raise(veil, who, stage_->now())) stage_->veil_changed(veil, true);
}

void Flow::take_veil(plan::VeilId veil, PlayerId who) {
    stage_->veil_told(veil, who, false);
    if (veils_.take(veil, who)) stage_->veil_changed(veil, false);
}

void Flow::freeze(PlayerId who) {
    std::vector<PlayerId> frozen;
    for_players(who, [&](PlayerId player) {
        if (freezes_[player.value]++ == 0) frozen.push_back(player);
    });
    tell_freezes(who, frozen, true);
}

void Flow::thaw(PlayerId who) {
    std::vector<PlayerId> thawed;
    for_players(who, [&](PlayerId player) {
        if (--freezes_[player.value] == 0) thawed.push_back(player);
    });
    tell_freezes(who, thawed, false);
}

/// Those whose machine boots by itself are not held by the game's boot.
void Flow::freeze_for_boot(bool frozen) {
    std::vector<PlayerId> held;
    for_players({}, [&](PlayerId player) {
        if (!stage_->boots_apart(player)) held.push_back(player);
    });
    if (held.size() == setup_.players) return frozen ? freeze({}) : thaw({});
    for (const PlayerId player : held) frozen ? freeze(player) : thaw(player);
}

/// All at once are told of once.
void Flow::tell_freezes(PlayerId who, const std::vector<PlayerId>& changed, bool frozen) {
    if (!who && changed.size() == setup_.players) {
        stage_->freeze_changed({}, frozen);
        return;
    }
    for (const PlayerId player : changed) stage_->freeze_changed(player, frozen);
}

/// A step freezes a player once.
void Flow::freeze_by_step(PlayerId who) {
    if (!who && state_.frozen_by_step.empty()) {
        for_players({}, [&](PlayerId player) { state_.frozen_by_step.insert(player); });
        freeze({});
        return;
    }
    for_players(who, [&](PlayerId player) {
        if (state_.frozen_by_step.insert(player).second) freeze(player);
    });
}

void Flow::thaw_by_step(PlayerId who) {
    if (!who && state_.frozen_by_step.size() == setup_.players) {
        state_.frozen_by_step.clear();
        thaw({});
        return;
    }
    for_players(who, [&](PlayerId player) {
        if (state_.frozen_by_step.erase(player) > 0) thaw(player);
    });
}

void Flow::open(plan::MenuId menu, PlayerId who) {
    if (who ? menu_open(menu, who) : state_.open_menus.contains({menu, who})) return;
    const bool pauses = plan_->menus[menu].pauses;
    std::vector<OpenMenu> before; // those for whom it is open already have it with all others
    for (const OpenMenu& open : state_.open_menus) {
        if (!who && open.first == menu) before.push_back(open);
    }
    state_.open_menus.insert({menu, who});
    stage_->menu_changed(menu, who, true);
    if (pauses) freeze(who);
    for (const OpenMenu& open : before) {
        drop_after(open);
        state_.open_menus.erase(open);
        if (pauses) thaw(open.second);
    }
    begin_after({menu, who});
}

void Flow::close(plan::MenuId menu, PlayerId who) {
    if (!who) {
        std::vector<OpenMenu> all;
        for (const OpenMenu& open : state_.open_menus) {
            if (open.first == menu) all.push_back(open);
        }
        for (const OpenMenu& open : all) close_one(open);
        return;
    }
    if (state_.open_menus.contains({menu, who})) return close_one({menu, who});
    if (!menu_open(menu, who)) return;
    if (setup_.players == 1) return close_one({menu, {}});
    // It stays open for each of the others.
    state_.open_menus.erase({menu, {}});
    drop_after({menu, {}});
    for_players({}, [&](PlayerId player) {
        if (player == who) return;
        state_.open_menus.insert({menu, player});
        begin_after({menu, player});
    });
    stage_->menu_changed(menu, who, false);
    if (plan_->menus[menu].pauses) thaw(who);
}

void Flow::close_one(const OpenMenu& open) {
    if (state_.open_menus.erase(open) == 0) return;
    drop_after(open);
    stage_->menu_changed(open.first, open.second, false);
    if (plan_->menus[open.first].pauses) thaw(open.second);
}

/// A menu's `after` no longer comes; whether it was to.
bool Flow::drop_after(const OpenMenu& open) {
    const auto found = after_alarms_.find(open);
    if (found == after_alarms_.end()) return false;
    alarms_.erase(found->second);
    after_alarms_.erase(found);
    return true;
}

/// A menu's `after` comes so long from now.
void Flow::begin_after(const OpenMenu& open) {
    const auto& after = plan_->menus[open.first].after;
    if (after && !setup_.after_is_told)
        after_alarms_[open] = new_alarm(after->delay, {{}, open.first, open.second});
}

void Flow::press(plan::ItemId item, PlayerId player) {
    const plan::Item& pressed = plan_->items[item];
    const OpenMenu open{pressed.menu, open_for(pressed.menu, player)};
    if (!pressed.stays) {
        close(pressed.menu, open.second);
    } else if (drop_after(open)) {
        // The delay starts anew; what has run already this opening does not come again.
        begin_after(open);
    }
    start(pressed.steps, player);
}

void Flow::start_after(plan::MenuId menu, PlayerId who) {
    const plan::ListId list = plan_->menus[menu].after->steps;
    close(menu, who);
    start(list, who);
}

} // namespace hestrel::flow
