// The table of rules.

#include "check/check.hpp"
#include "check/report.hpp"

#include <array>

namespace hestrel::check {

namespace {

constexpr std::array all_rules{
    Rule{"target-not-in-edition", Evidence::absence, &target_not_in_edition},
    Rule{"position-out-of-edition", Evidence::absence, &position_out_of_edition},
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
    Rule{"unused-definition", Evidence::absence, &unused_definition},
};

} // namespace

std::span<const Rule> rules() {
    return all_rules;
}

} // namespace hestrel::check
