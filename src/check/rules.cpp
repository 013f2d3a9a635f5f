// The table of rules.

#include "check/check.hpp"
#include "check/report.hpp"

#include <array>

namespace hestrel::check {

namespace {

constexpr std::array all_rules{
    Rule{"target-not-in-edition", Evidence::absence, &target_not_in_edition},
    Rule{"position-out-of-edition", Evidence::absence, &position_out_of_edition},
    Rule{"value-without-level", Evidence::presence, &value_without_level},
    Rule{"position-unclear", Evidence::presence, &position_unclear},
    Rule{"trigger-fits-nobody", Evidence::absence, &trigger_fits_nobody},
    Rule{"trigger-brings-own-level", Evidence::absence, &trigger_brings_own_level},
    Rule{"gate-without-load", Evidence::absence, &gate_without_load},
    Rule{"steps-after-own-unload", Evidence::presence, &steps_after_own_unload},
    Rule{"leave-waits", Evidence::presence, &leave_waits},
    Rule{"start-parcel-incomplete", Evidence::absence, &start_parcel_incomplete},
    Rule{"base-over-budget", Evidence::presence, &base_over_budget},
    Rule{"level-over-budget", Evidence::presence, &level_over_budget},
    Rule{"return-without-mark", Evidence::absence, &return_without_mark},
    Rule{"pick-of-nothing", Evidence::absence, &pick_of_nothing},
    Rule{"no-way-there", Evidence::absence, &no_way_there},
    Rule{"lives-too-late", Evidence::absence, &lives_too_late},
    Rule{"gate-from-behind", Evidence::absence, &gate_from_behind},
    Rule{"loaded-never-shown", Evidence::absence, &loaded_never_shown},
    Rule{"never-unloaded", Evidence::absence, &never_unloaded},
    Rule{"persisting-unloaded", Evidence::presence, &persisting_unloaded},
    Rule{"trigger-off-paths", Evidence::absence, &trigger_off_paths},
    Rule{"trigger-too-thin", Evidence::presence, &trigger_too_thin},
    Rule{"way-around", Evidence::absence, &way_around},
    Rule{"switch-before-gate", Evidence::absence, &switch_before_gate},
    Rule{"arrival-in-trigger", Evidence::presence, &arrival_in_trigger},
    Rule{"catch-too-small", Evidence::presence, &catch_too_small},
    Rule{"trigger-too-late", Evidence::presence, &trigger_too_late},
    Rule{"fixed-wait-for-load", Evidence::presence, &fixed_wait_for_load},
    Rule{"switch-without-veil", Evidence::absence, &switch_without_veil},
    Rule{"veil-left-up", Evidence::absence, &veil_left_up},
    Rule{"freeze-without-thaw", Evidence::absence, &freeze_without_thaw},
    Rule{"items-alike", Evidence::absence, &items_alike},
    Rule{"empty-level", Evidence::absence, &empty_level},
    Rule{"size-drift", Evidence::presence, &size_drift},
    Rule{"unbounded-fact", Evidence::absence, &unbounded_fact},
    Rule{"restore-without-save", Evidence::absence, &restore_without_save},
    Rule{"saved-never-set", Evidence::absence, &saved_never_set},
    Rule{"fact-never-read", Evidence::absence, &fact_never_read},
    Rule{"constant-condition", Evidence::presence, &constant_condition},
    Rule{"no-way-in", Evidence::absence, &no_way_in},
    Rule{"entry-outside-area", Evidence::presence, &entry_outside_area},
    Rule{"switch-to-own-level", Evidence::presence, &switch_to_own_level},
    Rule{"areas-coincide", Evidence::absence, &areas_coincide},
    Rule{"variants-alike", Evidence::presence, &variants_alike},
    Rule{"contents-missing", Evidence::absence, &contents_missing},
    Rule{"menu-without-way-out", Evidence::absence, &menu_without_way_out},
    Rule{"next-past-the-end", Evidence::presence, &next_past_the_end},
    Rule{"speed-out-of-reach", Evidence::absence, &speed_out_of_reach},
    Rule{"placed-in-hidden", Evidence::presence, &placed_in_hidden},
    Rule{"entry-unknown-there", Evidence::absence, &entry_unknown_there},
    Rule{"set-never-saved", Evidence::absence, &set_never_saved},
    Rule{"opens-itself", Evidence::presence, &opens_itself},
    Rule{"unused-definition", Evidence::absence, &unused_definition},
};

} // namespace

std::span<const Rule> rules() {
    return all_rules;
}

} // namespace hestrel::check
