#pragma once
// The inside of check: where rules put what they find, and the rules.

#include "check/check.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/lists.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "plan/texts.hpp"
#include "study/study.hpp"

#include <set>
#include <string>
#include <vector>

namespace hestrel::check {

using plan::among;
using plan::contains;
using plan::first_entry;
using plan::owner_of;
using plan::short_time;
using plan::top_list;
using plan::top_speed;
using study::for_steps;
using study::levels_called;
using study::Study;
using study::switch_of;

/// "a, b and c".
std::string names_of(const plan::Plan& plan, const std::vector<plan::LevelId>& levels);

/// Whether any step before number `index` of a list is such a one: in it, in the lists in which it
/// is a branch or case, or in a branch or case before it.
template <class Such>
bool any_before(const plan::Plan& plan, const plan::StepList& list, std::size_t index,
                const Such& such) {
    for (std::size_t i = 0; i < index; ++i) {
        bool found = such(list.steps[i]);
        plan::for_sublists(list.steps[i], [&](plan::ListId sublist) {
            const plan::StepList& below = plan.lists[sublist];
            for (const plan::Step& step : below.steps) found = found || such(step);
        });
        if (found) return true;
    }
    return list.parent && any_before(plan, plan.lists[list.parent], list.parent_step, such);
}

/// Where rules put what they find.
class Report {
public:
    void set_rule(const Rule& rule) { rule_ = &rule; }
    /// As bad as the rule says.
    void add(plan::Place place, plan::Thing about, std::string message) {
        add(place, about, std::move(message), plan::kind_of(rule_->name).severity);
    }
    void add(plan::Place place, plan::Thing about, std::string message, plan::Severity severity) {
        findings_.push_back({severity, std::string(rule_->name), place, std::move(message), about});
    }
    [[nodiscard]] std::vector<plan::Finding>& findings() { return findings_; }

private:
    const Rule* rule_ = nullptr;
    std::vector<plan::Finding> findings_;
};

/// Where in editions players can be when lists of steps are met, as far as the plan is sure to say:
/// in a level that is switched to, or started in, a list of that level or of none is met at its
/// place; `next` and `back` lead on from there.
class Positions {
public:
    explicit Positions(const Study& study);
    /// Places from which a list can lead on in an edition, in order.
    [[nodiscard]] std::vector<std::size_t> met(plan::EditionId edition, plan::ListId list) const;

private:
    [[nodiscard]] bool is_met_in(plan::ListId list, plan::LevelId level) const;

    const Study* study_;
    plan::Table<plan::ListId, std::set<plan::LevelId>> met_in_; ///< of lists with `next` or `back`
    plan::Table<plan::EditionId, std::vector<bool>> possible_;  ///< by place
};

// The rules, by what they look at.
void target_not_in_edition(const Study& study, Report& report);
void position_out_of_edition(const Study& study, Report& report);
void position_unclear(const Study& study, Report& report);
void next_past_the_end(const Study& study, Report& report);
void start_parcel_incomplete(const Study& study, Report& report);

void trigger_fits_nobody(const Study& study, Report& report);
void trigger_brings_own_level(const Study& study, Report& report);
void trigger_off_paths(const Study& study, Report& report);
void trigger_too_thin(const Study& study, Report& report);
void arrival_in_trigger(const Study& study, Report& report);
void catch_too_small(const Study& study, Report& report);

void no_way_in(const Study& study, Report& report);
void entry_outside_area(const Study& study, Report& report);
void entry_unknown_there(const Study& study, Report& report);
void areas_coincide(const Study& study, Report& report);
void variants_alike(const Study& study, Report& report);
void contents_missing(const Study& study, Report& report);
void lives_too_late(const Study& study, Report& report);
void gate_from_behind(const Study& study, Report& report);
void placed_in_hidden(const Study& study, Report& report);

void pick_of_nothing(const Study& study, Report& report);
void no_way_there(const Study& study, Report& report);
void speed_out_of_reach(const Study& study, Report& report);

void way_around(const Study& study, Report& report);
void switch_before_gate(const Study& study, Report& report);
void trigger_too_late(const Study& study, Report& report);
void fixed_wait_for_load(const Study& study, Report& report);

void gate_without_load(const Study& study, Report& report);
void steps_after_own_unload(const Study& study, Report& report);
void leave_waits(const Study& study, Report& report);
void return_without_mark(const Study& study, Report& report);
void loaded_never_shown(const Study& study, Report& report);
void never_unloaded(const Study& study, Report& report);
void value_without_level(const Study& study, Report& report);
void persisting_unloaded(const Study& study, Report& report);
void switch_without_veil(const Study& study, Report& report);
void veil_left_up(const Study& study, Report& report);
void freeze_without_thaw(const Study& study, Report& report);
void items_alike(const Study& study, Report& report);
void switch_to_own_level(const Study& study, Report& report);
void set_never_saved(const Study& study, Report& report);
void menu_without_way_out(const Study& study, Report& report);
void opens_itself(const Study& study, Report& report);

void base_over_budget(const Study& study, Report& report);
void level_over_budget(const Study& study, Report& report);
void empty_level(const Study& study, Report& report);
void size_drift(const Study& study, Report& report);

void unbounded_fact(const Study& study, Report& report);
void restore_without_save(const Study& study, Report& report);
void saved_never_set(const Study& study, Report& report);
void fact_never_read(const Study& study, Report& report);
void constant_condition(const Study& study, Report& report);
void unused_definition(const Study& study, Report& report);

} // namespace hestrel::check
