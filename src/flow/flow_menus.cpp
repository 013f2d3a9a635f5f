// Veils, freezes and menus (docs/model.md section 6).

#include "flow/flow.hpp"

namespace hestrel::flow {

void Flow::raise_veil(plan::VeilId veil, PlayerId who) {
    if (veils_.raise(veil, who, stage_->now())) stage_->veil_changed(veil, true);
}

void Flow::take_veil(plan::VeilId veil, PlayerId who) {
    if (veils_.take(veil, who)) stage_->veil_changed(veil, false);
}

void Flow::freeze() {
    if (freezes_++ == 0) stage_->freeze_changed(true);
}

void Flow::thaw() {
    if (--freezes_ == 0) stage_->freeze_changed(false);
}

void Flow::open(plan::MenuId menu) {
    if (!state_.open_menus.insert(menu).second) return;
    stage_->menu_changed(menu, true);
    if (plan_->menus[menu].pauses) freeze();
    if (const auto& after = plan_->menus[menu].after; after && !setup_.after_is_told)
        after_alarms_[menu] = new_alarm(after->delay, {{}, menu});
}

void Flow::close(plan::MenuId menu) {
    if (state_.open_menus.erase(menu) == 0) return;
    drop_after(menu);
    stage_->menu_changed(menu, false);
    if (plan_->menus[menu].pauses) thaw();
}

/// A menu's `after` no longer comes; whether it was to.
bool Flow::drop_after(plan::MenuId menu) {
    const auto found = after_alarms_.find(menu);
    if (found == after_alarms_.end()) return false;
    alarms_.erase(found->second);
    after_alarms_.erase(found);
    return true;
}

void Flow::press(plan::ItemId item, PlayerId player) {
    const plan::Item& pressed = plan_->items[item];
    if (!pressed.stays) {
        close(pressed.menu);
    } else if (const auto& after = plan_->menus[pressed.menu].after) {
        // The delay starts anew; what has run already this opening does not come again.
        if (drop_after(pressed.menu))
            after_alarms_[pressed.menu] = new_alarm(after->delay, {{}, pressed.menu});
    }
    start(pressed.steps, player);
}

void Flow::start_after(plan::MenuId menu) {
    const plan::ListId list = plan_->menus[menu].after->steps;
    close(menu);
    start(list, {});
}

} // namespace hestrel::flow
