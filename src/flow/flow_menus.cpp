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
    const auto [opened, fresh] = open_menus_.try_emplace(menu, 0);
    if (!fresh) return;
    stage_->menu_changed(menu, true);
    if (plan_->menus[menu].pauses) freeze();
    if (const auto& after = plan_->menus[menu].after; after && !setup_.after_is_told)
        opened->second = new_alarm(after->delay, {{}, menu});
}

void Flow::close(plan::MenuId menu) {
    const auto found = open_menus_.find(menu);
    if (found == open_menus_.end()) return;
    alarms_.erase(found->second);
    open_menus_.erase(found);
    stage_->menu_changed(menu, false);
    if (plan_->menus[menu].pauses) thaw();
}

void Flow::press(plan::ItemId item, PlayerId player) {
    const plan::Item& pressed = plan_->items[item];
    if (!pressed.stays) {
        close(pressed.menu);
    } else if (const auto& after = plan_->menus[pressed.menu].after) {
        std::uint32_t& alarm = open_menus_.at(pressed.menu);
        // The delay starts anew; what has run already this opening does not come again.
        if (alarm != 0) {
            drop_alarm(alarm);
            alarm = new_alarm(after->delay, {{}, pressed.menu});
        }
    }
    start(pressed.steps, player);
}

void Flow::start_after(plan::MenuId menu) {
    const plan::ListId list = plan_->menus[menu].after->steps;
    close(menu);
    start(list, {});
}

} // namespace hestrel::flow
